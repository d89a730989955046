"""Cavities: the closed boxes of a shell, told from the sheets that enclose them: faces, volume, openings, drains, and pockets that hold water."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from shapely import contains_xy
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from ..errors import BadField
from ..said import Mm, Said
from .cavity_records import (
    BETWEEN,
    MEMBERS,
    Between,
    Cavity,
    CavityRequest,
    CavitySaid,
    Face,
    Opening,
    OwnCavity,
)
from .hollow import CELL_MM, DRIES_MM, RISE_MM, Hole, Hollow, holes_of, litres, places
from .lie import BOXES, Body, Lying, stem
from .model import side_of
from .reach import Reach

#: An opening within this above the lowest place beside it lets water out, mm.
DRAIN_MM = 45.0
#: Boxes across the car by the start of their codes, and how deep they are, mm (rule of thumb).
FLAT_BOXES = {"CHX": 80.0, "XM": 60.0, "OUT": 70.0}
#: A hollow whose lowest place lies within this above another runs into it, mm.
RUNS_INTO_MM = 30.0
#: Less of a box than this is not a cavity, mm².
LEAST_MM2 = 2_000.0
#: Of a person's own two faces so much of the smaller one must lie over the other.
OVER_SHARE = 0.5
#: Sheets whose place across the car their own plan tells: left and right are not taken as alike.
BY_PLAN = ("ARCHI", "IWING")
#: The views of doors that hang in a side.
DOOR_VIEWS = ("door-left", "door-right", "rear-door-left", "rear-door-right")


def cavities(request: CavityRequest) -> list[Cavity]:
    """The cavities of a shell. Raises: BadField for a person's own one that is not closed by its two sheets."""
    return cavities_of(Body(request.views), request.said, request.own)


def cavities_of(body: Body, said: Iterable[CavitySaid] = (), own: Iterable[OwnCavity] = ()) -> list[Cavity]:
    """Every cavity that a body's drawn sheets enclose.

    Between two sheets of a side it is where they lie over each other, as deep as they lie apart; a member's box is as wide as its plan shows.
    Water is filled to the lowest way out: an opening, or over a rise of the floor to one.

    Args: body: the shell; said, own: what a person corrected and added.
    Returns: the cavities, left before right.
    Raises: BadField for a person's own one that is open.
    Source: docs/methods.md, "Where sheets lie"; water by the least way out, as in priority flooding.
    """
    told = {each.code: each for each in said}
    boxes: list[_Box] = []
    open_ones: list[Cavity] = []
    for hand in ("L-", "R-"):
        for spec in BETWEEN:
            made = _between(body, hand, spec)
            if isinstance(made, Cavity):
                open_ones.append(made)
            elif made is not None:
                boxes.append(made)
        boxes += [made for member in BOXES if (made := _member(body, hand + member)) is not None]
    boxes += [made for code, deep in _flat_boxes(body) if (made := _flat(body, code, deep)) is not None]
    boxes += [_own(body, each) for each in own]
    holes = {view.name: holes_of(view) for view in body.views if any(box.view == view.name for box in boxes)}
    found = [_told(box, holes[box.view], _below(box, boxes), told.get(box.code)) for box in boxes]
    return sorted([*found, *open_ones], key=lambda each: each.side)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Box:
    """A cavity before its water: sheets that may have holes, faces, the hollow, what a middle sheet leaves on either side of it."""

    code: str
    name: str
    view: str
    sheets: list[Lying]
    faces: list[Face]
    hollow: Hollow
    parts_l: list[float]
    words: list[str]

    @property
    def side(self) -> str:
        own = "left" if self.sheets and self.sheets[0].left else "centre"
        return {"L-": "left", "R-": "right"}.get(self.code[:2], own)


def own_cavity(body: Body, own: OwnCavity) -> Cavity:
    """A person's own cavity. Raises: BadField: a sheet that is not there, or two that leave it open."""
    box = _own(body, own)
    return _told(box, holes_of(next(view for view in body.views if view.name == box.view)), [], None)


def _own(body: Body, own: OwnCavity) -> _Box:
    outer, inner = (_side_sheet(body, code) for code in (own.outer, own.inner))
    if outer is None or inner is None:
        where, code = ("outer", own.outer) if outer is None else ("inner", own.inner)
        raise BadField(
            Said("There is no sheet {code} on a side of this shell.", code=code), where, "Choose one that is drawn."
        )  # fmt: skip
    box = None
    if outer.shape.intersection(inner.shape).area >= OVER_SHARE * min(outer.shape.area, inner.shape.area):
        box = _closed(body, own.code, own.name, [outer], [inner], [])
    if box is None:
        raise BadField(
            Said("{outer} and {inner} do not lie over one another: what is between them is open.", outer=own.outer, inner=own.inner), "inner",
            "Choose the two sheets that close it, one before the other.",
        )  # fmt: skip
    return box


def _side_sheet(body: Body, code: str) -> Lying | None:
    return body.drawn(code, "side", "left", "right", *DOOR_VIEWS)


def _shape(sheets: Sequence[Lying]) -> BaseGeometry:
    """Sheets' outlines taken together, their windows closed."""
    return sheets[0].shape if len(sheets) == 1 else unary_union([sheet.shape for sheet in sheets])


def _among(body: Body, hand: str, names: Sequence[str]) -> list[Lying]:
    """The sheets of some codes; one on the centre line as the view of this side shows it."""
    found = [_side_sheet(body, hand + name) or body.drawn(name, "side", side_of(hand)) for name in names]
    return [sheet for sheet in found if sheet is not None]


def _named(spec: Between, hand: str) -> str:
    return Said("{name}, {side}", name=Said(spec.name), side=Said(side_of(hand)))


def _between(body: Body, hand: str, spec: Between) -> _Box | Cavity | None:
    """What lies between two sheets; open where its inner sheet is not drawn, none where it has no outer one."""
    outer, middle, inner = (_among(body, hand, names) for names in (spec.outer, spec.middle, spec.inner))
    if not outer:
        return None
    views = {sheet.view for sheet in inner} & {sheet.view for sheet in outer}
    view = next(iter(sorted(views, key=lambda name: name.startswith("inside-"))), outer[0].view)
    outer, middle, inner = (
        [each for each in sheets if each.view == view] for sheets in (outer, middle, inner)
    )
    if not inner:
        first = [each for each in outer if stem(each.code) == spec.outer[0]]
        return _open(hand, spec, first, middle) if first and middle else None
    return _closed(body, hand + spec.code, _named(spec, hand), outer, inner, middle)


def _open(hand: str, spec: Between, outer: list[Lying], middle: list[Lying]) -> Cavity:
    """A cavity whose inner sheet nobody drew, or that somebody deleted."""
    words = Said(
        "Open: no sheet {code} closes it on the inside, so what it holds cannot be told.", code=hand + spec.inner[0]
    )  # fmt: skip
    nothing = np.empty(0)
    hollow = Hollow(_shape(outer), nothing, nothing, nothing)
    return Cavity(
        code=hand + spec.code, name=_named(spec, hand), side=side_of(hand), view=outer[0].view,
        faces=[_face(each, "outer") for each in outer] + [_face(each, "middle") for each in middle], length_mm=hollow.length_mm,
        outline=hollow.outline, volume_l=None, by_hand=False, parts_l=[], words=[words],
    )  # fmt: skip


def _face(sheet: Lying, lies: str) -> Face:
    return Face(code=sheet.code, name=sheet.named, lies=lies)


class _Layer:
    """Some sheets of one depth, asked at places of the side: which of them cover a place, and how far from the centre line."""

    def __init__(
        self,
        body: Body,
        sheets: Sequence[Lying],
        at: tuple[np.ndarray, np.ndarray],
        skin: np.ndarray,
        *,
        closes: bool = True,
    ) -> None:
        """Args: skin: how far the skin lies there; closes: whether the sheets together cover all places."""
        self.sheets, (u, v) = list(sheets), at
        if closes and len(sheets) == 1:
            self.covers = np.ones((1, len(u)), bool)
        else:
            self.covers = np.array([contains_xy(each.shape, u, v) for each in sheets]).reshape(
                len(sheets), -1
            )
        self._far = np.array([np.abs(body.across(each, u, v, skin)) for each in sheets]).reshape(
            len(sheets), -1
        )

    def outermost(self) -> np.ndarray:
        return np.where(self.covers, self._far, -np.inf).max(axis=0)

    def innermost(self) -> np.ndarray:
        return np.where(self.covers, self._far, np.inf).min(axis=0)

    def there(self) -> list[Lying]:
        """Those that cover a good part of the places."""
        least = LEAST_MM2 / 4 / (CELL_MM * RISE_MM)
        return [each for each, covers in zip(self.sheets, self.covers, strict=True) if covers.sum() > least]


def _closed(
    body: Body, code: str, name: str, outer: list[Lying], inner: list[Lying], middle: list[Lying]
) -> _Box | None:
    found = _depths(body, outer, inner, middle)
    if found is None:
        return None
    hollow, parts, there = found
    faces = [_face(each, "outer") for each in outer if stem(each.code) in there]
    faces += [_face(each, "middle") for each in middle] + [_face(each, "inner") for each in inner]
    return _Box(
        code=code, name=name, view=inner[0].view, sheets=[*outer, *inner], faces=faces, hollow=hollow, parts_l=parts, words=[]
    )  # fmt: skip


def _depths(
    body: Body, outer: list[Lying], inner: list[Lying], middle: list[Lying]
) -> tuple[Hollow, list[float], set[str]] | None:
    """The hollow between sheets, what lies on either side of a dividing one, and which outer sheets cover it; worked out once for two sides alike."""
    alike = tuple((stem(each.code), each.thickness_mm, each.corners) for each in (*outer, *inner, *middle))
    own = any(stem(each.code) in BY_PLAN for each in (*outer, *inner, *middle))
    if not own and alike in body.hollows:
        return body.hollows[alike]
    over = _shape(outer).intersection(_shape(inner))
    if over.area < LEAST_MM2:
        return None
    u, v = places(over)
    skin = body.form.half(u, v)
    before, behind = _Layer(body, outer, (u, v), skin), _Layer(body, inner, (u, v), skin)
    outside = before.outermost()
    sheet = (outer[0].thickness_mm + inner[0].thickness_mm) / 2
    apart = outside - behind.innermost()
    deep = np.maximum(0.0, np.where(np.isfinite(apart), apart, 0.0) - sheet)
    parts: list[float] = []
    if middle:
        first = outside - _Layer(body, middle, (u, v), skin, closes=False).innermost()
        first = np.clip(np.where(np.isfinite(first), first, deep), 0, deep)
        parts = [litres(first, over.area), litres(deep - first, over.area)]
    found = Hollow(over, u, v, deep), parts, {stem(each.code) for each in before.there()}
    if not own:
        body.hollows[alike] = found
    return found


def _member(body: Body, code: str) -> _Box | None:
    """The box of a member: its side outline, as wide as its plan shows."""
    web = body.drawn(code, "side", "left", "right")
    plan = body.drawn(code + "B", "plan", "underside") or body.drawn(code, "plan", "underside")
    if web is None or plan is None:
        return None
    reach = Reach(plan.rings[:1])
    u, v = places(web.shape)
    inside = (u >= reach.start) & (u <= reach.end)
    width = np.where(inside, np.abs(reach.most(u) - reach.least(u)) - 2 * web.thickness_mm, 0.0)
    walls = {code: "outer", code + "I": "inner", code + "B": "bottom", code + "T": "top"}
    faces = [
        _face(found, lies)
        for each, lies in walls.items()
        if (found := body.drawn(each, "side") or body.drawn(each, "plan")) is not None
    ]
    name = Said(
        "{name}, {side}",
        name=Said(MEMBERS[stem(code)]),
        side=Said(side_of(code)),
    )
    words: list[str] = (
        [] if len(faces) > 2 else [Said("Only its outer web is drawn: the other walls are taken as closed.")]
    )
    return _Box(
        code=code + "BOX", name=name, view=web.view, sheets=[web], faces=faces, hollow=Hollow(web.shape, u, v, np.maximum(0.0, width)), parts_l=[], words=words
    )  # fmt: skip


def _flat_boxes(body: Body) -> list[tuple[str, float]]:
    """Crossmembers and outriggers that an underside shows, and how deep such boxes are, mm."""
    found = dict.fromkeys(each.code for each in body.lying if each.view == "underside")
    return [
        (code, deep) for code in found for start, deep in FLAT_BOXES.items() if stem(code).startswith(start)
    ]


def _flat(body: Body, code: str, deep: float) -> _Box | None:
    """The box of a crossmember or outrigger: its plan, as deep as such members are; how water stands in it no plan tells."""
    sheet = body.drawn(code, "plan", "underside")
    if sheet is None or sheet.view != "underside":
        return None
    u, v = places(sheet.shape)
    hollow = Hollow(sheet.shape, u, v, np.full(len(u), deep - 2 * sheet.thickness_mm))
    name = sheet.named
    words: list[str] = [
        Said("Only its bottom is drawn: it is taken as a closed box {deep} deep.", deep=Mm(deep, 0))
    ]
    return _Box(
        code=code + "BOX", name=name, view="underside", sheets=[], faces=[_face(sheet, "bottom")], hollow=hollow, parts_l=[], words=words
    )  # fmt: skip


def _below(box: _Box, boxes: Sequence[_Box]) -> list[tuple[str, float, float]]:
    """The cavities that this one stands on: name, place along the view and height of the way down."""
    spec = next((each for each in BETWEEN if each.code == stem(box.code)), None)
    mine = box.hollow.columns
    found = []
    for other in boxes:
        if (
            spec is None
            or stem(other.code) not in spec.into
            or (other.view, other.side) != (box.view, box.side)
        ):
            continue
        theirs = other.hollow.columns
        if not len(mine.at) or not len(theirs.at):
            continue
        over = (mine.at >= theirs.at[0]) & (mine.at <= theirs.at[-1])
        roof = np.interp(mine.at, theirs.at, theirs.roof)
        over &= mine.floor <= roof + RUNS_INTO_MM
        if over.any():
            place = int(np.argmin(np.where(over, mine.floor, np.inf)))
            found.append((other.name, float(mine.at[place]), float(mine.floor[place])))
    return found


def _told(
    box: _Box, holes: Sequence[Hole], below: Sequence[tuple[str, float, float]], said: CavitySaid | None
) -> Cavity:
    """A box with its openings and its water."""
    openings = _openings(box, holes, said)
    ways = [(each.at[0], each.low_mm) for each in openings] + [(u, height) for _, u, height in below]
    upright = bool(box.sheets)  # a plan does not tell how high water stands
    pockets = box.hollow.pockets(ways) if ways and upright else []
    drained = any(each.drain for each in openings) or bool(below) if ways else None
    words = list(box.words)
    words += [Said("What runs into it runs on into: {name}.", name=name) for name, _, _ in below[:1]]
    if drained is None:
        words.append(Said("No opening is known: whether water leaves it, nobody has looked."))
    elif not drained:
        words.append(
            Said(
                "No drain is known low down. Look for one: without it, water stands up to the lowest opening."
            )
        )
    elif not pockets and upright:
        words.append(Said("Water leaves it: nothing stands deeper than {deep}.", deep=Mm(DRIES_MM)))
    words += [
        Said("Water stands {deep} deep from {start} to {end}.", deep=Mm(each.deep_mm, 0), start=Mm(each.from_mm, 0, bare=True), end=Mm(each.to_mm, 0))
        for each in pockets
    ]  # fmt: skip
    own_volume = said.volume_l if said is not None else None
    return Cavity(
        code=box.code, name=box.name, side=box.side, view=box.view, faces=box.faces, length_mm=box.hollow.length_mm, outline=box.hollow.outline,
        volume_l=box.hollow.volume_l if own_volume is None else own_volume, by_hand=own_volume is not None, parts_l=box.parts_l,
        openings=openings, pockets=pockets, drained=drained, words=words,
    )  # fmt: skip


def _openings(box: _Box, holes: Sequence[Hole], said: CavitySaid | None) -> list[Opening]:
    """Holes of the faces, as drawn and as said, without those that are stopped up."""
    codes = {sheet.layer: sheet.code for sheet in reversed(box.sheets)}
    mine = [(codes[hole.layer], hole, False) for hole in holes if hole.layer in codes]
    mine += [(sheet.code, Hole.of(each), False) for sheet in box.sheets for each in sheet.rings[1:]]
    if said is not None:
        mine += [("", Hole(u, v, v, 100.0), True) for u, v in said.drains]
    if not mine:
        return []
    inside = box.hollow.holds([hole.u for _, hole, _ in mine], [hole.v for _, hole, _ in mine])
    stopped = said.stopped if said is not None else ()
    floor = box.hollow.columns.floor_at if len(box.hollow.columns.at) else lambda _: np.inf
    return [
        Opening(
            face=face, at=[round(hole.u, 1), round(hole.v, 1)], area_mm2=round(hole.area, 0), low_mm=round(hole.low, 1),
            drain=by_hand or hole.low - floor(hole.u) <= DRAIN_MM, by_hand=by_hand,
        )
        for (face, hole, by_hand), in_ in zip(mine, inside, strict=True)
        if in_ and not any((hole.u - a) ** 2 + (hole.v - b) ** 2 <= DRAIN_MM**2 / 4 for a, b in stopped)
    ]  # fmt: skip


def looks_into(found: Iterable[Cavity]) -> dict[str, list[str]]:
    """Which cavities each sheet looks into, by the sheet's code."""
    out: dict[str, list[str]] = {}
    for cavity in found:
        for face in cavity.faces:
            out.setdefault(face.code, []).append(cavity.code)
    return out
