"""How a sheet is curved: flat, bent one way, or crowned, zone by zone, read off the body's form or said by a person."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from shapely import box, contains_xy
from shapely.geometry import Polygon
from shapely.ops import unary_union

from ..errors import BadField
from ..geometry import polygons_of, ring, sound
from ..records import Record
from ..said import Mm, Said
from .file import ViewPart
from .lie import Body, Lying, stem

KINDS = {"flat": "Flat", "bent": "Bent one way", "crowned": "Crowned", "unknown": "Not known"}
Kind = Literal["flat", "bent", "crowned"]
#: A sheet with a greater radius than this is flat to work on, mm (rule of thumb).
FLAT_MM = 5000.0
#: The form is read at places this far apart; over this length a curve is taken, mm.
CELL_MM, OVER_MM = 40.0, 90.0
#: Zones smaller than this share of the sheet go unnamed.
LEAST_SHARE = 0.04
#: Sheets whose drawing tells their form: skins, and these inside ones; by code without side.
TOLD = ("TUN",)
#: Sheets that are flat between their pressings; by code without side.
FLAT = (
    "FLOOR", "TOE", "BULK", "SILLM", "LEG", "LEGI", "LEGB", "LEGT", "CHRAIL", "CHRAILI", "CHRAILB", "CHRAILT", "RAILI", "BEDF", "SEATB", "BACK", "SFL",
    "CHX1", "CHX2", "CHX3", "CHX4", "CHX5",
)  # fmt: skip


class CurveSaid(Record):
    """What a person said of a sheet's curve: its kind, and the radii along and across it where they were taken, mm."""

    kind: Kind
    radius_mm: Annotated[float, Field(gt=0, le=100_000)] | None = None
    other_radius_mm: Annotated[float, Field(gt=0, le=100_000)] | None = None


class CurveRequest(Record):
    """A shell's views, a sheet by the view that shows it and its code, and what a person said of it."""

    views: Annotated[list[ViewPart], Field(min_length=1, max_length=30)]
    view: Annotated[str, Field(max_length=30)]
    code: Annotated[str, Field(max_length=20)]
    said: CurveSaid | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Zone:
    """A part of a sheet that is curved alike: its share of the sheet, its radii (None: flat that way, or not known), its outlines in shell axes."""

    kind: str
    share: float
    radius_mm: float | None
    other_radius_mm: float | None
    outlines: list[list[list[float]]]
    by_hand: bool

    @property
    def words(self) -> str:
        """The zone in one line."""
        what = Said(KINDS[self.kind])
        if self.radius_mm is None:
            return what
        radius = Said("{what}, radius {radius}", what=what, radius=Mm(self.radius_mm, 0))
        if self.other_radius_mm is None:
            return radius
        return Said("{what} and {radius} across it", what=radius, radius=Mm(self.other_radius_mm, 0))


def curvature(request: CurveRequest) -> list[Zone]:
    """The zones of one sheet. Raises: BadField where the shell has no such sheet in that view."""
    return zones_of(Body(request.views), request.view, request.code, request.said)


def zones_of(body: Body, view: str, code: str, said: CurveSaid | None = None) -> list[Zone]:
    """How a sheet is curved, the largest zone first.

    A skin's form follows from the silhouettes of the body's views; what hides inside is flat where it is known to be, else it is not known.

    Args: body: the shell; view, code: the sheet; said: by hand, which goes before.
    Raises: BadField where that view has no such sheet.
    Source: principal curvatures of z = f(x, y), do Carmo 1976, section 3.3; docs/methods.md.
    """
    sheet = body.in_view(view, code)
    if sheet is None:
        raise BadField(Said("This view has no sheet {code}.", code=code), "code", "Choose one that is drawn.")
    whole = [ring(sheet.rings[0].tolist(), 1)]
    if said is not None:
        return [Zone(kind=said.kind, share=1.0, radius_mm=said.radius_mm, other_radius_mm=said.other_radius_mm, outlines=whole, by_hand=True)]  # fmt: skip
    name = stem(code)
    told = (sheet.layer == 1 and not view.startswith("inside-")) or name in TOLD
    zones = _read(body, sheet) if told and sheet.seen != "end" and name not in FLAT else []
    kind = "flat" if name in FLAT else "unknown"
    return zones or [Zone(kind=kind, share=1.0, radius_mm=None, other_radius_mm=None, outlines=whole, by_hand=False)]  # fmt: skip


def _read(body: Body, sheet: Lying) -> list[Zone]:
    """The zones of a sheet by the form of the body, the largest first; none where the form tells nothing."""
    u0, v0, u1, v1 = sheet.shape.bounds
    u, v = np.meshgrid(np.arange(u0 + CELL_MM / 2, u1, CELL_MM), np.arange(v0 + CELL_MM / 2, v1, CELL_MM))
    inside = contains_xy(sheet.shape, u.ravel(), v.ravel())
    u, v = u.ravel()[inside], v.ravel()[inside]
    if not len(u):
        u, v = np.array([(u0 + u1) / 2]), np.array([(v0 + v1) / 2])
    least, most = _principal(body, sheet, u, v)
    bent = np.abs(most) > 1 / FLAT_MM
    crowned = bent & (np.abs(least) > 1 / FLAT_MM)
    kinds = np.where(crowned, "crowned", np.where(bent, "bent", "flat"))
    known = np.isfinite(most)
    zones = []
    for kind in ("flat", "bent", "crowned"):
        here = (kinds == kind) & known
        share = float(here.sum()) / len(u)
        if share >= LEAST_SHARE:
            zones.append(_zone(kind, share, sheet, u[here], v[here], most[here], least[here]))
    return sorted(zones, key=lambda zone: -zone.share)


def _zone(
    kind: str, share: float, sheet: Lying, u: np.ndarray, v: np.ndarray, most: np.ndarray, least: np.ndarray
) -> Zone:
    half = CELL_MM / 2 + 0.5
    cells = unary_union([box(a - half, b - half, a + half, b + half) for a, b in zip(u, v, strict=True)])
    metal = sound(Polygon(sheet.rings[0], sheet.rings[1:]))
    outlines = [ring(part.exterior.coords, 0) for part in polygons_of(cells.intersection(metal))]
    radius = None if kind == "flat" else _rounded(most)
    return Zone(
        kind=kind, share=round(share, 2), radius_mm=radius, other_radius_mm=_rounded(least) if kind == "crowned" else None, outlines=outlines, by_hand=False
    )  # fmt: skip


def _rounded(curvature_: np.ndarray) -> float:
    """The usual radius of some curvatures, to two figures: the drawing tells no more."""
    radius = 1 / float(np.median(np.abs(curvature_)))
    step = 10 ** max(1, int(np.floor(np.log10(radius))) - 1)
    return float(round(radius / step) * step)


def _principal(body: Body, sheet: Lying, u: np.ndarray, v: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The principal curvatures at places of a sheet, 1/mm: the lesser and the greater by size."""
    d = OVER_MM
    at = lambda du, dv: np.asarray(body.third(sheet, u + du * d, v + dv * d), float)
    middle, right, left, up, down = at(0, 0), at(1, 0), at(-1, 0), at(0, 1), at(0, -1)
    fu, fv = (right - left) / (2 * d), (up - down) / (2 * d)
    fuu, fvv = (right - 2 * middle + left) / d**2, (up - 2 * middle + down) / d**2
    fuv = (at(1, 1) - at(1, -1) - at(-1, 1) + at(-1, -1)) / (4 * d**2)
    e, f, g = 1 + fu**2, fu * fv, 1 + fv**2
    root = np.sqrt(1 + fu**2 + fv**2)
    gauss = (fuu * fvv - fuv**2) / (root**4)
    mean = (e * fvv - 2 * f * fuv + g * fuu) / (2 * root**3)
    spread = np.sqrt(np.maximum(0.0, mean**2 - gauss))
    a, b = mean + spread, mean - spread
    swap = np.abs(a) < np.abs(b)
    return np.where(swap, a, b), np.where(swap, b, a)


def shares(zones: Iterable[Zone]) -> dict[str, float]:
    """How much of a sheet is of each kind, 0 to 1."""
    told: Sequence[Zone] = list(zones)
    return {kind: round(sum(each.share for each in told if each.kind == kind), 2) for kind in KINDS}
