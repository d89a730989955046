"""The shape of a panel from a few measured sections: flat, bent one way, conical, crowned or saddle; what must be stretched or shrunk, and with what."""

import math
from dataclasses import dataclass
from typing import cast

import numpy as np

from ..errors import BadField
from ..said import Said
from .flatten import area_strain, flattened, triangles_of
from .shape_read import DEGREE, ShapeRequest, readings_of

#: What deviates less from a plane is flat, mm (rule of thumb).
FLAT_MM = 1.0
#: The shape is worked out on a grid of so many corners a side.
CORNERS = 20
#: So many draws of the readings tell how sure it is; a curve that changes along its length by more than this share is conical.
DRAWS, TAPERS = 80, 0.25
#: Fewer readings tell no bend both ways.
LEAST_READINGS = 5
#: Rings of strain that are drawn at most.
LEVELS = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class ShapeEdge:
    """One edge of the panel: its length in the shape, on the least-strained flat, and what it must gain (below 0: lose), mm."""

    name: str
    shape_mm: float
    flat_mm: float
    gain_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ShapeRing:
    """A line of equal strain on the panel: the share of area to gain (below 0: to lose), and its places along u and v, mm."""

    strain: float
    path: list[tuple[float, float]]


@dataclass(frozen=True, slots=True, kw_only=True)
class ShapeTold:
    """A panel's shape told.

    Attributes:
        kind: flat, bent, conical, crowned or saddle; sure: share of draws of the readings that say the same; radii_mm: along u and v, None where straight.
        crown_gain: more area than its rim closes in when flat, a share (of a cap: (2 rise / chord)²); strain: u, v, share, on a grid; most, least: of it.
        rings: lines of equal strain; size_mm: the panel along u and v, mm; edges.
        pieces: that it must be made of so that each stays within the limit; tools, first, words; templates: sections to check it by, along and height.
    """

    kind: str
    sure: float
    radii_mm: tuple[float | None, float | None]
    crown_gain: float
    strain: list[tuple[float, float, float]]
    rings: list[ShapeRing]
    size_mm: tuple[float, float]
    most: float
    least: float
    edges: list[ShapeEdge]
    pieces: int
    tools: list[str]
    first: str
    words: str
    templates: list[list[tuple[float, float]]]


#: What each kind is called, and which tools make it.
KINDS = {
    "flat": ("Flat", ()),
    "bent": ("Bent one way: nothing is stretched", ("roll", "folder, a little at a time")),
    "conical": ("Bent to a cone: nothing is stretched", ("roll, set at a slant",)),
    "crowned": (
        "Crowned: its middle is stretched, or its edges shrunk",
        ("mallet and bag", "shrinker along the edges", "planishing"),
    ),
    "saddle": ("A saddle: its edges are stretched", ("stretcher along the edges", "planishing")),
}


def shape_check(request: ShapeRequest) -> ShapeTold:
    """What shape a panel has, how sure that is, and what making it asks of the sheet.

    A polynomial surface is fitted to the heights; its Gaussian curvature over the panel, beside its scatter in draws of the readings, tells whether bending
    alone makes it. It is laid flat with the least strain, as rigid as possible.

    Args: request: see ShapeRequest.
    Raises: BadField: nothing or too much given, sections that contradict each other where they cross, too few readings.
    Source: Liu et al. (2008); Gauss; docs/methods.md section 4.
    """
    fit, grid_u, grid_v, kind = read_shape(request)
    u, v = fit.u, fit.v
    rng, same = np.random.default_rng(1), 0
    for _ in range(DRAWS):
        drawn = fit.coefficients + fit.scatter(request.reading_mm, rng)
        same += _kind(fit, drawn, grid_u, grid_v) == kind
    places = np.column_stack([grid_u.ravel(), grid_v.ravel(), fit.at(grid_u, grid_v).ravel()])
    triangles = triangles_of(CORNERS, CORNERS)
    flat = flattened(places, triangles)
    strain = area_strain(places, flat, triangles)
    most, least = float(strain.max()), float(strain.min())
    worst = max(abs(most), abs(least))
    pieces = (
        1
        if kind in ("flat", "bent", "conical")
        else max(1, math.ceil(math.sqrt(worst / request.strain_limit) - 1e-9))
    )
    edges = _edges(places, flat)
    return ShapeTold(
        kind=kind,
        sure=round(same / DRAWS, 2),
        radii_mm=_radii(fit, u, v),
        crown_gain=round(_crown_gain(fit, u, v), 5),
        strain=[
            (round(float(a), 1), round(float(b), 1), round(float(s), 5))
            for (a, b, _), s in zip(places[::7], strain[::7], strict=True)
        ],
        rings=_rings(grid_u[0], grid_v[:, 0], strain) if kind in ("crowned", "saddle") else [],
        size_mm=(round(float(np.ptp(u)), 1), round(float(np.ptp(v)), 1)),
        most=round(most, 5),
        least=round(least, 5),
        edges=edges,
        pieces=pieces,
        tools=list(KINDS[kind][1]),
        first=_first(strain) if kind in ("crowned", "saddle") else "",
        words=_words(kind, same / DRAWS, worst, pieces, request.strain_limit),
        templates=_templates(fit, u, v),
    )


def read_shape(request: ShapeRequest) -> tuple["_Surface", np.ndarray, np.ndarray, str]:
    """The surface through the readings, the grid it is looked at on, and what kind it is. Raises: BadField as ``shape_check``."""
    u, v, z = readings_of(request)
    fit = _Surface(u, v, z)
    grid_u, grid_v = np.meshgrid(
        np.linspace(u.min(), u.max(), CORNERS), np.linspace(v.min(), v.max(), CORNERS)
    )
    return fit, grid_u, grid_v, _kind(fit, fit.coefficients, grid_u, grid_v)


class _Surface:
    """A polynomial in u and v, scaled to -1 to 1, fitted by least squares; of so high a degree each way as the readings carry."""

    def __init__(self, u: np.ndarray, v: np.ndarray, z: np.ndarray) -> None:
        if np.ptp(u) < 5 or np.ptp(v) < 5:
            raise BadField("The readings lie on one line.", "sections", "Measure across it too.")
        if len(z) < LEAST_READINGS:
            raise BadField("So few readings tell no shape.", "sections", "Five at least, three each way.")
        self.u, self.v = u, v
        self.middle = (u.min() + u.max()) / 2, (v.min() + v.max()) / 2
        self.half = np.ptp(u) / 2, np.ptp(v) / 2
        most = [min(DEGREE, len(np.unique(np.round(w / (np.ptp(w) / 40)))) - 1) for w in (u, v)]
        powers = [(i, j) for i in range(most[0] + 1) for j in range(most[1] + 1) if i + j <= max(most)]
        # few readings: squares before the twist, so that a bend either way is never left out
        few = max(5, len(z) // 2, min(6, len(z) - 2))
        while len(powers) > (few if len(z) < 20 else len(z) - 8):
            powers.pop(max(range(len(powers)), key=lambda k: (sum(powers[k]), min(powers[k]))))
        self.powers = powers
        design = self._design(*self._scaled(u, v))
        if np.linalg.matrix_rank(design, tol=1e-8 * len(z)) < len(powers):
            keep = [
                k for k, (i, j) in enumerate(powers) if i == 0 or j == 0
            ]  # two sections: no term that needs both at once
            self.powers = [powers[k] for k in keep]
            design = self._design(*self._scaled(u, v))
        self.coefficients, *_ = np.linalg.lstsq(design, z, rcond=None)
        self._spread = np.linalg.pinv(design)

    def _scaled(self, u: np.ndarray, v: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        return (u - self.middle[0]) / self.half[0], (v - self.middle[1]) / self.half[1]

    def _design(self, a: np.ndarray, b: np.ndarray, du: int = 0, dv: int = 0) -> np.ndarray:
        term = lambda x, p, d: math.perm(p, d) * x ** (p - d) if p >= d else np.zeros_like(x)  # noqa: E731
        return np.column_stack([term(a.ravel(), i, du) * term(b.ravel(), j, dv) for i, j in self.powers])

    def at(
        self, u: np.ndarray, v: np.ndarray, du: int = 0, dv: int = 0, coefficients: np.ndarray | None = None
    ) -> np.ndarray:
        """The height, or one of its derivatives, at places."""
        a, b = self._scaled(u, v)
        found = self._design(a, b, du, dv) @ (self.coefficients if coefficients is None else coefficients)
        return (found / self.half[0] ** du / self.half[1] ** dv).reshape(u.shape)

    def scatter(self, reading_mm: float, rng: np.random.Generator) -> np.ndarray:
        """What one draw of the readings' errors does to the coefficients."""
        return self._spread @ rng.normal(0, reading_mm, self._spread.shape[1])


def _curvatures(
    fit: _Surface, c: np.ndarray, u: np.ndarray, v: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Gaussian curvature, and the normal curvatures along u and v, 1 / mm."""
    zu, zv = fit.at(u, v, 1, 0, c), fit.at(u, v, 0, 1, c)
    zuu, zvv, zuv = fit.at(u, v, 2, 0, c), fit.at(u, v, 0, 2, c), fit.at(u, v, 1, 1, c)
    w = 1 + zu**2 + zv**2
    return (zuu * zvv - zuv**2) / w**2, zuu / np.sqrt(w) / (1 + zu**2), zvv / np.sqrt(w) / (1 + zv**2)


def _kind(fit: _Surface, c: np.ndarray, u: np.ndarray, v: np.ndarray) -> str:
    """What a surface is: by how far it leaves a plane, and by the rise that its Gaussian curvature makes over the panel."""
    z = fit.at(u, v, 0, 0, c)
    plane = np.column_stack([np.ones(u.size), u.ravel(), v.ravel()])
    left = z.ravel() - plane @ np.linalg.lstsq(plane, z.ravel(), rcond=None)[0]
    if np.ptp(left) / 2 < FLAT_MM:
        return "flat"
    gauss, along, across = _curvatures(fit, c, u, v)
    mean = float(gauss.mean())
    span = math.sqrt(np.ptp(u) * np.ptp(v))
    rise = math.sqrt(abs(mean)) * span**2 / 8  # of a cap with that curvature over a square as large
    bend = (
        max(float(np.abs(along).mean()) * np.ptp(u) ** 2, float(np.abs(across).mean()) * np.ptp(v) ** 2) / 8
    )
    other = abs(mean) * span**4 / 64 / max(bend, 1e-9)  # the rise the other way that goes with it
    if other < max(FLAT_MM, 0.03 * bend) or rise < FLAT_MM:
        stronger = (
            along
            if np.abs(along).mean() * np.ptp(u) ** 2 > np.abs(across).mean() * np.ptp(v) ** 2
            else across
        )
        lines = stronger.mean(axis=1) if stronger is along else stronger.mean(axis=0)
        taper = abs(lines[-1] - lines[0]) / max(abs(lines).max(), 1e-12)
        return "conical" if taper > TAPERS else "bent"
    return "crowned" if mean > 0 else "saddle"


def _radii(fit: _Surface, u: np.ndarray, v: np.ndarray) -> tuple[float | None, float | None]:
    """The radii along u and v in the middle; None beyond 20 m."""
    middle = np.array([fit.middle[0]]), np.array([fit.middle[1]])
    _, along, across = _curvatures(fit, fit.coefficients, *middle)
    told = [
        None if abs(float(k[0])) < 1 / 20_000 else round(1 / abs(float(k[0])), 0) for k in (along, across)
    ]
    return told[0], told[1]


def _crown_gain(fit: _Surface, u: np.ndarray, v: np.ndarray) -> float:
    """How much more area the largest circle of the panel has than a flat disc with a rim as long; of a cap (2 rise / chord)²."""
    radius = min(fit.half)
    r, t = np.meshgrid((np.arange(40) + 0.5) / 40 * radius, np.arange(96) / 96 * 2 * math.pi)
    x, y = fit.middle[0] + r * np.cos(t), fit.middle[1] + r * np.sin(t)
    area = float(
        (np.sqrt(1 + fit.at(x, y, 1, 0) ** 2 + fit.at(x, y, 0, 1) ** 2) * r).sum()
        * radius
        / 40
        * 2
        * math.pi
        / 96
    )
    t = np.arange(721) / 720 * 2 * math.pi
    x, y = fit.middle[0] + radius * np.cos(t), fit.middle[1] + radius * np.sin(t)
    rim = np.column_stack([x, y, fit.at(x, y)])
    length = float(np.linalg.norm(np.diff(rim, axis=0), axis=1).sum())
    return area / (length**2 / (4 * math.pi)) - 1


def _edges(places: np.ndarray, flat: np.ndarray) -> list[ShapeEdge]:
    n = CORNERS
    runs = {
        "first along": range(n),
        "last along": range(n * (n - 1), n * n),
        "first across": range(0, n * n, n),
        "last across": range(n - 1, n * n, n),
    }
    found = []
    for name, run in runs.items():
        full, laid = (
            float(np.linalg.norm(np.diff(points[list(run)], axis=0), axis=1).sum())
            for points in (places, flat)
        )
        found.append(
            ShapeEdge(
                name=name, shape_mm=round(full, 1), flat_mm=round(laid, 1), gain_mm=round(full - laid, 2)
            )
        )
    return found


def _rings(us: np.ndarray, vs: np.ndarray, strain: np.ndarray) -> list[ShapeRing]:
    """Lines of equal strain at round figures, on the grid (contourpy)."""
    from contourpy import contour_generator

    field = strain.reshape(CORNERS, CORNERS)
    step = next(s for s in (0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.5) if np.ptp(field) / s <= LEVELS)
    contours = contour_generator(us - us[0], vs - vs[0], field)
    levels = np.arange(math.ceil(field.min() / step), math.floor(field.max() / step) + 1) * step
    return [
        ShapeRing(
            strain=round(float(level), 4), path=[(round(float(a), 1), round(float(b), 1)) for a, b in line]
        )
        for level in levels
        for line in cast(list[np.ndarray], contours.lines(level))
        if len(line) > 3
    ]


def _first(strain: np.ndarray) -> str:
    """Which end is the most strained."""
    field = np.abs(strain.reshape(CORNERS, CORNERS))
    ends = {"low u": field[:, :5], "high u": field[:, -5:], "low v": field[:5], "high v": field[-5:]}
    means = {name: float(part.mean()) for name, part in ends.items()}
    most = max(means, key=lambda name: means[name])
    opposite = ("high" if most.startswith("low") else "low") + most[most.index(" ") :]
    return most if means[most] > 1.15 * means[opposite] else ""


def _templates(fit: _Surface, u: np.ndarray, v: np.ndarray) -> list[list[tuple[float, float]]]:
    """Sections to check the panel by: at a quarter, the middle and three quarters of each direction, heights above their own chord."""
    found = []
    for axis in (0, 1):
        along = np.linspace(fit.middle[axis] - fit.half[axis], fit.middle[axis] + fit.half[axis], 25)
        for share in (-0.5, 0.0, 0.5):
            at = np.full(25, fit.middle[1 - axis] + share * fit.half[1 - axis])
            z = fit.at(along, at) if axis == 0 else fit.at(at, along)
            chord = np.interp(along, [along[0], along[-1]], [z[0], z[-1]])
            found.append(
                [
                    (round(float(s - along[0]), 1), round(float(h), 2))
                    for s, h in zip(along, z - chord, strict=True)
                ]
            )
    return found


def _words(kind: str, sure: float, worst: float, pieces: int, limit: float) -> str:
    what = Said("{kind}, {sure:.0f} % sure.", kind=Said(KINDS[kind][0]), sure=100 * sure)
    if kind in ("flat", "bent", "conical"):
        return what
    if pieces == 1:
        return Said(
            "{what} At most {worst:.1f} % of area is to be gained or lost: one piece.",
            what=what,
            worst=100 * worst,
        )
    return Said("{what} {worst:.1f} % of area is to be gained or lost at most, {limit:.0f} % are made by hand: part it into {pieces}.",
                what=what, worst=100 * worst, limit=100 * limit, pieces=pieces)  # fmt: skip
