"""Where each sheet lies in space: what its own view leaves open, told from the body's form, from other views of it, and from its kind."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

import numpy as np
from shapely import polygons, prepare
from shapely.geometry.base import BaseGeometry

from ..geometry import sound
from ..said import drawn_name
from .form import DrawnView, Form, plane_of
from .planes import Plane
from .reach import Reach

Seen = Literal["side", "plan", "end"]

#: How far behind the skin a sheet of the side lies, mm, by the code without its side; rules of thumb, corrected by a section that was taped.
INSET_MM = {
    "SILLM": 52.0, "SILLI": 104.0, "SFL": 58.0, "APOSTM": 34.0, "PILLM": 22.0, "BPOSTM": 40.0, "BPOSTI": 88.0, "CANTM": 18.0, "CANTI": 46.0,
    "ARCHO": 46.0, "SPLASH": 70.0, "QCLOSE": 90.0, "SCUTM": 60.0, "SCUTI": 110.0, "KICK": 98.0, "BSIDE": 130.0, "QIN": 110.0, "APFL": 26.0,
    "QWFL": 14.0, "CPOSTM": 40.0, "CPOSTI": 84.0, "CORNERM": 40.0, "DOORW": 8.0, "DOORH": 14.0, "DOORK": 14.0, "DOORB": 10.0, "DOORI": 62.0,
    "BEDA": 90.0, "BEDI": 44.0,
}  # fmt: skip
#: The same for any other sheet, by its layer.
LAYER_INSET_MM = {1: 0.0, 2: 40.0, 3: 100.0}
#: Members that are closed boxes; their walls are sheets of their own: web outside, web inside (I), bottom (B), top (T).
BOXES = ("LEG", "RAIL", "CHRAIL")
#: Flat sheets of the floor: how far above the floor pan they lie, mm.
ABOVE_FLOOR_MM = {"SEAT": 110.0, "KICKUP": 150.0, "BOOT": 190.0, "DROP": 60.0, "BEDF": 330.0}
#: What hangs beneath the floor pan: how far below it, mm.
BELOW_FLOOR_MM = {
    "XMF": 60.0, "OUTR": 70.0, "OUTRR": 70.0, "HANGF": 70.0, "HANGR": -60.0, "JACK": 30.0, "JACKR": 30.0,
}  # fmt: skip
#: A tunnel stands so high above the floor, a toe board's front so much above its rear, a tower so far below the inner wing, mm.
TUNNEL_MM, TOE_MM, FLOOR_ABOVE_SILL_MM, TOWER_MM = 190.0, 180.0, 16.0, 60.0
#: A sheet seen from the side and from above is drawn from the side where it is steeper than this.
STEEP = 1.0
#: From above nothing is seen of a sheet of the side below this share of its height.
UPPER = 0.3
#: and nothing of what would lie farther above its own edge, mm.
EDGE_MM = 15.0
#: Sheets of the side lower than this are all upper part, mm.
TALL_MM = 280.0


def stem(code: str) -> str:
    """A panel's code without its side.

    >>> stem("L-SILL"), stem("ROOF")
    ('SILL', 'ROOF')
    """
    return code[2:] if code[:2] in ("L-", "R-") else code


def box_of(code: str) -> str:
    """The member whose wall a sheet is, by the code of its outer web; "" for none.

    >>> box_of("L-CHRAILB"), box_of("L-LEG"), box_of("L-SILL")
    ('L-CHRAIL', 'L-LEG', '')
    """
    side, name = code[: len(code) - len(stem(code))], stem(code)
    return next((side + box for box in BOXES if name in (box, *(box + wall for wall in "IBT"))), "")


@dataclass(frozen=True, kw_only=True, eq=False)
class Lying:
    """One outline of a sheet, in shell axes, with the view it is drawn in.

    Attributes: seen: along which axis (side: y, plan: z, end: x); drawn: the outline and its holes as the view draws them, mm;
        turn: 1 or -1 for each of its axes, from the drawing to the shell.
    """

    code: str
    name: str
    named_by_hand: bool
    view: str
    layer: int
    layered: bool
    thickness_mm: float
    seen: Seen
    drawn: tuple[Sequence[Sequence[float]], ...]
    turn: np.ndarray

    @cached_property
    def rings(self) -> tuple[np.ndarray, ...]:
        """The outline and its holes in the view's two shell axes, (n, 2) each, mm."""
        return tuple(np.asarray(each, float) * self.turn for each in self.drawn)

    @cached_property
    def shape(self) -> BaseGeometry:
        """The outline as an area, its windows closed."""
        shape = sound(polygons(self.rings[0]))
        prepare(shape)
        return shape

    @cached_property
    def corners(self) -> bytes:
        """The outline's corners in an order of their own: the same for two sides that mirror each other."""
        ring = np.round(self.rings[0], 1) + 0.0
        return np.sort(ring[:, 0] + 1j * ring[:, 1]).tobytes()

    @property
    def named(self) -> str:
        """Its name to say: a person's own words, or ours as a message."""
        return self.name if self.named_by_hand else drawn_name(self.name)

    @property
    def left(self) -> bool:
        return self.code.startswith("L-") or (self.seen == "side" and self.view.endswith("left"))


def seen_of(plane: Plane) -> Seen:
    axes = set(plane.axes)
    return "plan" if axes == {"x", "y"} else "side" if axes == {"x", "z"} else "end"


class Body:
    """Every sheet of a shell with its place in space. Args: views: of a drawn shell, a shell file or a stored vehicle."""

    def __init__(self, views: Sequence[DrawnView]) -> None:
        self.views = list(views)
        #: Hollows between sheets, by the sheets' outlines.
        self.hollows: dict[Any, Any] = {}
        self.form = Form(views)

    @cached_property
    def lying(self) -> list[Lying]:
        """Every outline of every view, as it is drawn; what nobody drew cannot be told."""
        found = []
        for view in self.views:
            plane = plane_of(view)
            turn, seen = np.array(plane.signs, float), seen_of(plane)
            for panel in view.panels:
                found.append(
                    Lying(
                        code=panel.code,
                        name=panel.name,
                        named_by_hand=bool(getattr(panel, "named_by_hand", False)),
                        view=view.name,
                        layer=panel.layer,
                        layered=view.layered,
                        thickness_mm=panel.thickness_mm,
                        seen=seen,
                        drawn=(panel.outline, *panel.holes),
                        turn=turn,
                    )
                )
        return found

    def in_view(self, view: str, code: str) -> Lying | None:
        """The outline of a sheet as one view draws it."""
        return next((each for each in self.lying if each.view == view and each.code == code), None)

    @cached_property
    def _by_code(self) -> dict[tuple[str, str], list[Lying]]:
        found: dict[tuple[str, str], list[Lying]] = {}
        for each in self.lying:
            found.setdefault((each.code, each.seen), []).append(each)
        return found

    def drawn(self, code: str, seen: Seen, *views: str) -> Lying | None:
        """The outline of a sheet in a kind of view, from the first of some views where more than one shows it."""
        among = self._by_code.get((code, seen), [])
        return next(
            (each for name in views for each in among if each.view == name), among[0] if among else None
        )

    @cached_property
    def _kept(self) -> dict[tuple[str, str], Reach | None]:
        return {}

    def _reaches(self, code: str, seen: Any) -> Reach | None:
        key = (code, seen)
        if key not in self._kept:
            found = self.drawn(code, seen)
            self._kept[key] = Reach(found.rings[:1]) if found is not None else None
        return self._kept[key]

    @cached_property
    def floor_mm(self) -> float:
        """How high the floor pan lies: just above the sills' lower edge, or on a chassis' rails where that is higher."""
        sill = self._reaches("L-SILL", "side") or self._reaches("R-SILL", "side")
        low = float(sill.low.min()) if sill is not None else 220.0
        rail = self._reaches("L-CHRAIL", "side") or self._reaches("R-CHRAIL", "side")
        on_rail = float(np.median(rail.high)) + 10 if rail is not None else -np.inf
        return max(low + FLOOR_ABOVE_SILL_MM, on_rail)

    def third(self, sheet: Lying, a: Any, b: Any) -> Any:
        """The coordinate that a sheet's view leaves open, mm. Args: a, b: the view's two shell axes, mm, arrays of one shape."""
        if sheet.seen == "side":
            return self.across(sheet, a, b)
        return self.height(sheet, a, b) if sheet.seen == "plan" else self.along(sheet, a, b)

    def across(self, sheet: Lying, x: Any, z: Any, skin: Any = None) -> Any:
        """How far from the centre line a sheet of the side lies, mm (signed: left is below zero).

        Args: x, z: mm, arrays of one shape; skin: how far the skin lies there, where it is known already.
        """
        x, z = np.asarray(x, float), np.asarray(z, float)
        sign, name = (-1.0 if sheet.left else 1.0), stem(sheet.code)
        box = box_of(sheet.code)
        if box:
            plan = self._reaches(f"{box}B", "plan") or self._reaches(box, "plan")
            if plan is not None:
                outer = np.maximum(np.abs(plan.least(x)), np.abs(plan.most(x)))
                inner = np.minimum(np.abs(plan.least(x)), np.abs(plan.most(x)))
                return sign * (inner if name.endswith("I") and name[:-1] in BOXES else outer)
        plan = self._reaches(sheet.code, "plan")
        if name == "ARCHI" and plan is not None:
            return sign * np.minimum(np.abs(plan.least(x)), np.abs(plan.most(x)))
        skin = self.form.half(x, z) if skin is None else skin
        if name == "IWING":
            return sign * self._inner_wing(sheet, x, z, skin)
        inset: Any = INSET_MM.get(
            name.replace("DOORR", "DOOR"), LAYER_INSET_MM.get(sheet.layer if sheet.layered else 1, 0.0)
        )
        if name in ("SILLM", "SILLI"):
            sill = self._reaches(sheet.code[:2] + "SILL", "side")
            if sill is not None:  # its lower edge turns out to the flange
                inset = np.where(z < sill.least(x), INSET_MM["SFL"], inset)
        return sign * np.maximum(0.0, skin - inset)

    def _inner_wing(self, sheet: Lying, x: np.ndarray, z: np.ndarray, skin: np.ndarray) -> np.ndarray:
        """An inner wing leans out from the member it stands on to the wing's upper edge."""
        hand = sheet.code[:2]
        foot = next(
            (
                reach
                for code in ("LEGB", "LEG", "CHRAILB", "CHRAIL")
                if (reach := self._reaches(hand + code, "plan"))
            ),
            None,
        )
        low = np.maximum(np.abs(foot.least(x)), np.abs(foot.most(x))) if foot is not None else 0.55 * skin
        own = self._reaches(sheet.code, "side")
        if own is None:
            return low
        start, end = own.least(x), own.most(x)
        share = np.clip((z - start) / np.maximum(1.0, end - start), 0, 1)
        return low + share * np.maximum(0.0, skin - 200.0 - low)

    def height(self, sheet: Lying, x: Any, y: Any) -> Any:
        """How high a sheet of a plan lies, mm. Args: x, y: mm, arrays of one shape."""
        x, y = np.asarray(x, float), np.asarray(y, float)
        name, floor = stem(sheet.code), np.full_like(x, self.floor_mm)
        box = box_of(sheet.code)
        side = self._reaches(box, "side") if box else None
        if side is not None:
            return side.most(x) if name.endswith("T") else side.least(x)
        own = self._reaches(sheet.code, "side") or self._reaches("L-" + name, "side")
        if name in ("ARCHI", "BEDA", "BEDH"):
            return own.most(x) if own is not None else floor
        if sheet.view in ("top", "engine-bay") and sheet.layer == 1 and name != "BEDF":
            skin = self.form.top(x, y)
            if own is None:
                return skin
            low, high = own.least(x), own.most(x)
            least = np.where(high - low > TALL_MM, low + UPPER * (high - low), low - TALL_MM)
            seen = (skin >= least) & (skin <= high + EDGE_MM)
            return np.where(seen, np.minimum(skin, high), np.nan)
        if name == "TOWER" and (wing := self._reaches(sheet.code[:2] + "IWING", "side")) is not None:
            return wing.most(x) - TOWER_MM
        if name == "TUN":
            wide = self._reaches(sheet.code, "plan")
            half = np.maximum(1.0, wide.most(x)) if wide is not None else np.full_like(x, 150.0)
            return floor + TUNNEL_MM * (1 - np.clip(np.abs(y) / half, 0, 1) ** 6)
        if name == "TOE":
            front, rear = float(sheet.rings[0][:, 0].min()), float(sheet.rings[0][:, 0].max())
            return floor + TOE_MM * (rear - x) / max(1.0, rear - front)
        if name == "SILL":
            return own.least(x) if own is not None else floor - FLOOR_ABOVE_SILL_MM
        if name.startswith(("CHX", "OUT", "MOUNT")) and self._reaches("L-CHRAIL", "side") is not None:
            return self._reaches("L-CHRAIL", "side").least(x)  # type: ignore[union-attr]
        end = self.drawn(sheet.code, "end", "boot", "rear")
        if end is not None and name in ("BOOT", "BEDF"):
            return np.full_like(x, float(end.rings[0][:, 1].min() + end.rings[0][:, 1].max()) / 2)
        level = floor + ABOVE_FLOOR_MM.get(name, 0.0) - BELOW_FLOOR_MM.get(name, 0.0)
        rail = self._reaches("L-RAIL", "side")
        if rail is not None and name in ("SEAT", "KICKUP", "BOOT"):  # these floors lie on the rails
            on = (x >= rail.start) & (x <= rail.end)
            return np.where(on, np.maximum(level, rail.most(x)), level)
        return level

    def along(self, sheet: Lying, y: Any, z: Any) -> Any:
        """How far aft a sheet of an end view lies, mm. Args: y, z: mm, arrays of one shape."""
        y, z = np.asarray(y, float), np.asarray(z, float)
        name = stem(sheet.code)
        if name in ("BULK", "SCUTTLE", "DASH", "PEDALM"):
            for code, seen in (("L-TOE", "plan"), ("R-TOE", "plan"), ("L-KICK", "side")):
                reach = self._reaches(code, seen)
                if reach is not None:
                    return np.full_like(z, reach.start)
        if name in ("SEATB", "SHELF") and (floor := self._reaches("BOOT", "plan")) is not None:
            return np.full_like(z, floor.start)
        own = self.drawn(sheet.code, "side", "left")
        if own is not None:
            reach = Reach(own.rings[:1], axis=1)
            return reach.least(z) if sheet.view == "front" else reach.most(z)
        plan = self.drawn(sheet.code, "plan", "top", "underside")
        if plan is not None:
            reach = Reach(plan.rings[:1], axis=1)
            return reach.least(y) if sheet.view == "front" else reach.most(y)
        side = self.form.side
        ends = (side.start, side.end) if side is not None else (0.0, 0.0)
        return np.full_like(z, ends[0] if sheet.view == "front" else ends[1])


def plates(codes: Iterable[str]) -> list[str]:
    """Of some codes, those that are walls of a box."""
    return [code for code in codes if box_of(code)]
