"""Hung parts: doors, bonnet, lids, tailgates, and wings, front panel and bed sides that may be bolted on; where the gaps round them are measured."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from shapely import contains_xy

from ..said import Said
from .lids import LIDS
from .lie import Body, Lying, stem
from .model import side_of
from .reach import crossings

#: A gap as makers meant it, mm (rule of thumb; the person changes it): doors, lids.
DOOR_MM, LID_MM = 4.5, 5.0
#: Where along an edge its two places lie, share of its length from its lower or front end.
ENDS = (0.15, 0.85)
#: Hung parts themselves and what lies under their edges are nobody's neighbours.
NOT_BESIDE = ("DOOR", "DOORW", "DOORR", "DOORRW", "APFL", "BONNET", "LID", "TGATE")


@dataclass(frozen=True, slots=True, kw_only=True)
class GapPlace:
    """A place where a gap is measured.

    Attributes:
        code: such as ``L-DOOR/rear-top``; name: in words; edge: the two places of one edge bear the same; beside: the neighbour's code.
        at: on the drawing of the view, shell axes, mm; normal: from the part to its neighbour; nominal_mm.
    """

    code: str
    name: str
    edge: str
    beside: str
    at: tuple[float, float]
    normal: tuple[float, float]
    nominal_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HungPart:
    """A part that hangs on hinges.

    Attributes:
        code, name; view: that draws it; side: left, right or "" ; axes: the two shell axes of its drawing.
        hinges: names and places of two, or of two groups of bolts; None where nothing can be moved or nobody said how the part is held; each moves along the
            first axis, both together along the second.
        ways: words for moves below and above zero along the two axes.
        held: how it may be held: HINGED or BOLTED; turned: whether its bolts move along the second axis, and all together along the first.
    """

    code: str
    name: str
    view: str
    side: str
    axes: tuple[str, str]
    hinges: tuple[tuple[str, tuple[float, float]], tuple[str, tuple[float, float]]] | None
    ways: tuple[tuple[str, str], tuple[str, str]]
    places: tuple[GapPlace, ...]
    held: tuple[str, str] | tuple[()] = ()
    turned: bool = False


#: How a part may be held; a person says which.
HINGED, BOLTED = ("front", "rear"), ("bolts", "welds")
#: Skins that some cars carry on bolts and others welded, by code without side: nobody knows which until a person says so.
SKINS = ("WING", "BEDS")
#: How a move along each shell axis is called, below and above zero.
WAYS = {"x": ("forward", "aft"), "y": ("left", "right"), "z": ("down", "up")}


def hung_parts(body: Body, hinged_at: Mapping[str, str] | None = None) -> list[HungPart]:
    """The hung parts of a shell, told from its drawings.

    Args: body: the shell; hinged_at: by code, what a person said: one of HINGED, the edge that the hinges are on, or one of BOLTED.
    """
    said = hinged_at or {}
    found: list[HungPart] = []
    for hand, side in (("L-", "left"), ("R-", "right")):
        for name in ("DOOR", "DOORR"):
            sheet = body.drawn(hand + name, "side")
            if sheet is not None:
                found.append(_door(body, sheet, side, said.get(sheet.code, "front")))
        for name in SKINS:
            sheet = body.drawn(hand + name, "side", side)
            if sheet is not None and (part := _skin(body, sheet, side, said.get(sheet.code, ""))).places:
                found.append(part)
    for code, usual in LIDS:
        sheet = body.drawn(code, "plan", "top")
        if sheet is not None:
            found.append(_lid(body, sheet, said.get(code, usual)))
    gate = body.drawn("TGATE", "end", "rear")
    if gate is not None:
        found.append(_tailgate(body, gate))
    nose = body.drawn("NOSE", "end", "front")
    if (
        nose is not None
        and nose.view == "front"
        and (part := _nose(body, nose, said.get(nose.code, ""))).places
    ):
        found.append(part)
    return found


#: What doors are called as a whole, by the code of their skin without its side.
NAMES = {"DOOR": "Door", "DOORR": "Rear door", "WING": "Front wing", "BEDS": "Bed side"}


def _named(sheet: Lying) -> str:
    if sheet.named_by_hand:
        return sheet.name
    if sheet.code[:2] in ("L-", "R-"):
        return Said("{name}, {side}", name=Said(NAMES[stem(sheet.code)]), side=Said(side_of(sheet.code)))
    return Said(sheet.name)


def _beside(body: Body, sheet: Lying, at: tuple[float, float], normal: tuple[float, float]) -> str:
    """The sheet that lies over the gap from a place, in the views that draw the same plane."""
    for away in (8.0, 20.0, 40.0):
        u, v = at[0] + normal[0] * away, at[1] + normal[1] * away
        for other in body.lying:
            if other.seen != sheet.seen or other.layer != 1 or stem(other.code) in NOT_BESIDE:
                continue
            if (sheet.seen == "side" and other.left != sheet.left) or (
                sheet.seen == "end" and other.view != sheet.view
            ):
                continue
            u0, v0, u1, v1 = _box(other)
            if u0 <= u <= u1 and v0 <= v <= v1 and contains_xy(other.shape, u, v):
                return other.code
    return ""


def _places(
    body: Body,
    sheet: Lying,
    edges: Iterable[tuple[str, str, tuple[float, float], tuple[tuple[str, tuple[float, float]], ...]]],
    nominal: float,
) -> tuple[GapPlace, ...]:
    """Places from edges: key, words, outward normal, and the two ends with their words and places."""
    found = []
    for key, words, normal, ends in edges:
        for end, at in ends:
            found.append(
                GapPlace(
                    code=f"{sheet.code}/{key}-{end}", name=Said("{edge}, {end}", edge=Said(words), end=Said(end)), edge=f"{sheet.code}/{key}",
                    beside=_beside(body, sheet, at, normal), at=(round(at[0], 1), round(at[1], 1)), normal=normal, nominal_mm=nominal,
                )
            )  # fmt: skip
    return tuple(found)


def _door(body: Body, sheet: Lying, side: str, hinged: str) -> HungPart:
    u0, v0, u1, v1 = _box(sheet)
    low, high = (v0 + share * (v1 - v0) for share in ENDS)
    fore, aft = (u0 + share * (u1 - u0) for share in (0.2, 0.8))
    reach = lambda v, first: _edge(sheet, 1, v)[0 if first else 1]
    under = lambda u: _edge(sheet, 0, u)[0]
    edges = (
        ("front", "Front edge", (-1.0, 0.0), (("top", (reach(high, True), high)), ("bottom", (reach(low, True), low)))),
        ("rear", "Rear edge", (1.0, 0.0), (("top", (reach(high, False), high)), ("bottom", (reach(low, False), low)))),
        ("lower", "Lower edge", (0.0, -1.0), (("front", (fore, under(fore))), ("rear", (aft, under(aft))))),
    )  # fmt: skip
    at = u0 if hinged == "front" else u1
    hinges = (("Upper hinge", (at, v0 + 0.75 * (v1 - v0))), ("Lower hinge", (at, v0 + 0.22 * (v1 - v0))))
    return HungPart(
        code=sheet.code, name=_named(sheet), view=sheet.view, side=side, axes=("x", "z"), hinges=hinges, ways=(WAYS["x"], WAYS["z"]),
        places=_places(body, sheet, edges, DOOR_MM), held=HINGED,
    )  # fmt: skip


def _box(sheet: Lying) -> tuple[float, float, float, float]:
    (u0, v0), (u1, v1) = sheet.rings[0].min(axis=0).tolist(), sheet.rings[0].max(axis=0).tolist()
    return u0, v0, u1, v1


def _edge(sheet: Lying, axis: int, at: float) -> tuple[float, float]:
    spans = crossings(sheet.rings[:1], axis, at)
    return (spans[0][0], spans[-1][1]) if spans else (0.0, 0.0)


def _lid(body: Body, sheet: Lying, hinged: str) -> HungPart:
    u0, v0, u1, v1 = _box(sheet)
    fore, aft = u0 + 0.2 * (u1 - u0), u0 + 0.8 * (u1 - u0)
    out = 0.35 * (v1 - v0)
    middle = (v0 + v1) / 2
    front = lambda v: _edge(sheet, 1, v)
    wide = lambda u: _edge(sheet, 0, u)
    edges = (
        ("front", "Front edge", (-1.0, 0.0), (("left", (front(middle - out)[0], middle - out)), ("right", (front(middle + out)[0], middle + out)))),
        ("left", "Left edge", (0.0, -1.0), (("front", (fore, wide(fore)[0])), ("rear", (aft, wide(aft)[0])))),
        ("right", "Right edge", (0.0, 1.0), (("front", (fore, wide(fore)[1])), ("rear", (aft, wide(aft)[1])))),
        ("rear", "Rear edge", (1.0, 0.0), (("left", (front(middle - out)[1], middle - out)), ("right", (front(middle + out)[1], middle + out)))),
    )  # fmt: skip
    at = u0 if hinged == "front" else u1
    hinges = (("Left hinge", (at, middle - out)), ("Right hinge", (at, middle + out)))
    return HungPart(
        code=sheet.code, name=_named(sheet), view=sheet.view, side="", axes=("x", "y"), hinges=hinges, ways=(WAYS["x"], WAYS["y"]),
        places=_places(body, sheet, edges, LID_MM), held=HINGED,
    )  # fmt: skip


def _tailgate(body: Body, sheet: Lying) -> HungPart:
    y0, z0, y1, z1 = _box(sheet)
    low, high = z0 + 0.2 * (z1 - z0), z0 + 0.85 * (z1 - z0)
    edges = (
        ("left", "Left edge", (-1.0, 0.0), (("top", (y0, high)), ("bottom", (y0, low)))),
        ("right", "Right edge", (1.0, 0.0), (("top", (y1, high)), ("bottom", (y1, low)))),
    )
    return HungPart(
        code=sheet.code, name=_named(sheet), view=sheet.view, side="", axes=("y", "z"), hinges=None, ways=(WAYS["y"], WAYS["z"]),
        places=_places(body, sheet, edges, LID_MM),
    )  # fmt: skip


def _met(places: tuple[GapPlace, ...], only: str = "") -> tuple[GapPlace, ...]:
    """The places over whose gap a neighbour lies; ``only``: one of this code without side."""
    return tuple(each for each in places if each.beside and only in ("", stem(each.beside)))


def _skin(body: Body, sheet: Lying, side: str, held: str) -> HungPart:
    """A wing or a bed's side: its front and rear edges. Shims under the upper and the lower bolts move it."""
    u0, v0, u1, v1 = _box(sheet)
    low, high = (v0 + share * (v1 - v0) for share in (0.45, 0.85))
    ends = lambda v: _edge(sheet, 1, v)
    edges = tuple(
        (key, words, (sign, 0.0), (("top", (ends(high)[k], high)), ("bottom", (ends(low)[k], low))))
        for k, key, words, sign in ((0, "front", "Front edge", -1.0), (1, "rear", "Rear edge", 1.0))
    )
    middle = (u0 + u1) / 2
    bolts = (("Upper bolts", (middle, high)), ("Lower bolts", (middle, low)))
    return HungPart(
        code=sheet.code, name=_named(sheet), view=sheet.view, side=side, axes=("x", "z"), hinges=bolts if held == "bolts" else None,
        ways=(WAYS["x"], WAYS["z"]), places=_met(_places(body, sheet, edges, LID_MM)), held=BOLTED,
    )  # fmt: skip


def _nose(body: Body, sheet: Lying, held: str) -> HungPart:
    """The front panel between the wings: its bolts left and right lift it, both together move it across."""
    y0, z0, y1, z1 = _box(sheet)
    low, high = z0 + 0.25 * (z1 - z0), z0 + 0.75 * (z1 - z0)
    across = lambda z: _edge(sheet, 1, z)
    edges = tuple(
        (key, words, (sign, 0.0), (("top", (across(high)[k], high)), ("bottom", (across(low)[k], low))))
        for k, key, words, sign in ((0, "left", "Left edge", -1.0), (1, "right", "Right edge", 1.0))
    )
    bolts = (("Left bolts", (y0, (z0 + z1) / 2)), ("Right bolts", (y1, (z0 + z1) / 2)))
    return HungPart(
        code=sheet.code, name=_named(sheet), view=sheet.view, side="", axes=("y", "z"), hinges=bolts if held == "bolts" else None,
        ways=(WAYS["z"], WAYS["y"]), places=_met(_places(body, sheet, edges, LID_MM), "WING"), held=BOLTED, turned=True,
    )  # fmt: skip
