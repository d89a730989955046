"""A box that is about to close: inner faces that are not finished, tools that will not reach any more, and where poured water goes."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Listed, Said, joined

#: Where water that leaves a box goes.
OUTSIDE = "outside"
#: Wax for a square metre of inner face, litres (rule of thumb: a tenth of a millimetre, half of it lost).
WAX_L_PER_M2 = 0.2
_Name = Annotated[str, Field(min_length=1, max_length=60)]


class InnerFace(Record):
    """A face inside: ``finished`` None where nobody has said; its area for the wax, m²."""

    name: _Name
    finished: bool | None = None
    area_m2: Annotated[float, Field(ge=0, le=100)] = 0.0


class Reach(Record):
    """Something that must still be done inside: with which tool, and whether that reaches once the box is closed (None: not known)."""

    what: _Name
    tool: _Name
    reaches: bool | None = None


class Pocket(Record):
    """A low place: where water goes on from it, by holes, gaps or seams left open on purpose; ``outside`` is out. ``litres``: what it holds."""

    name: _Name
    to: Annotated[list[_Name], Field(max_length=20)] = []
    litres: Annotated[float, Field(ge=0, le=1000)] = 0.0


class ClosingRequest(Record):
    """The box, its inner faces, what must still be done in it, its pockets and where water is poured in."""

    box: _Name
    faces: Annotated[list[InnerFace], Field(max_length=200)] = []
    still: Annotated[list[Reach], Field(max_length=100)] = []
    pockets: Annotated[list[Pocket], Field(max_length=200)] = []
    poured: Annotated[list[_Name], Field(max_length=50)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class ClosingItem:
    """One line of the list: ``ready`` None where it is not known."""

    what: Said | str
    ready: bool | None
    mend: Said | str


@dataclass(frozen=True, slots=True, kw_only=True)
class Closing:
    """The list of a box: ``ready`` only where every line is; ``water``: for each place the way out, pocket by pocket; wax for all faces, litres."""

    ready: bool
    items: list[ClosingItem]
    water: dict[str, list[str]]
    wax_litres: float
    words: Said | str


def closing_check(request: ClosingRequest) -> Closing:
    """What must be seen to before a box closes.

    Water goes from a pocket wherever it can; a pocket from which no way leads out holds it, also where ways run in a circle.

    Args: request: see ClosingRequest.
    Raises: BadField: a pocket twice, a way to a pocket that there is not, water poured where there is none.
    Source: shortest ways in a graph; docs/methods.md section 10.
    """
    ways = _ways(request)
    items = [_face(face) for face in request.faces] + [_reach(each) for each in request.still]
    if not request.faces:
        items.append(
            ClosingItem(
                what="Its inner faces are not listed.",
                ready=None,
                mend="Look in with a lamp and write them down.",
            )
        )
    water: dict[str, list[str]] = {}
    for place in request.poured or [pocket.name for pocket in request.pockets]:
        water[place], item = _water(place, ways, request.pockets)
        items.append(item)
    if not request.pockets:
        items.append(
            ClosingItem(
                what="Where water leaves it is not known.",
                ready=None,
                mend="Pour a little in and watch where it comes out.",
            )
        )
    ready = all(item.ready is True for item in items)
    wax = round(WAX_L_PER_M2 * sum(face.area_m2 for face in request.faces), 2)
    return Closing(
        ready=ready, items=items, water=water, wax_litres=wax, words=_words(request.box, items, ready)
    )


def _ways(request: ClosingRequest) -> dict[str, list[str]]:
    """Raises: BadField."""
    ways: dict[str, list[str]] = {}
    for number, pocket in enumerate(request.pockets):
        if pocket.name in ways or pocket.name == OUTSIDE:
            raise BadField(
                Said("'{name}' is there twice.", name=pocket.name),
                f"pockets[{number}].name",
                "Give each pocket its own name.",
            )
        ways[pocket.name] = pocket.to
    known = {*ways, OUTSIDE}
    for number, pocket in enumerate(request.pockets):
        if lost := [name for name in pocket.to if name not in known]:
            raise BadField(
                Said("{pocket} drains into {lost}, which is no pocket here.", pocket=pocket.name, lost=lost[0]), f"pockets[{number}].to",
                Said("There are: {names}.", names=Listed(tuple(sorted(known)))),
            )  # fmt: skip
    for number, place in enumerate(request.poured):
        if place not in ways:
            raise BadField(
                Said("Water is poured into {place}, which is no pocket here.", place=place),
                f"poured[{number}]",
                "Pour it into a pocket.",
            )
    return ways


def _water(
    place: str, ways: dict[str, list[str]], pockets: Sequence[Pocket]
) -> tuple[list[str], ClosingItem]:
    """The shortest way out of a pocket, and the line that tells it."""
    paths, seen = [[place]], {place}
    circle = False
    while paths:
        path = paths.pop(0)
        for following in ways.get(path[-1], []):
            if following == OUTSIDE:
                way = [*path, OUTSIDE]
                return way, ClosingItem(
                    what=Said("Water from {place} leaves: {way}.", place=place, way=joined(way, " → ")),
                    ready=True,
                    mend="",
                )
            if following in seen:
                circle = circle or following in path
                continue
            seen.add(following)
            paths.append([*path, following])
    litres = next((pocket.litres for pocket in pockets if pocket.name == place), 0.0)
    holds = Said(", {litres:g} l of it", litres=litres) if litres else ""
    what = Said(
        "Water stays in {place}{holds}: {why}.",
        place=place,
        holds=holds,
        why=Said("it runs in a circle" if circle else "no way leads out"),
    )
    return [], ClosingItem(
        what=what, ready=False, mend="Drill a drain at the lowest place, or leave a seam open on purpose."
    )


def _face(face: InnerFace) -> ClosingItem:
    if face.finished is None:
        return ClosingItem(
            what=Said("{face}: nobody has said whether it is finished.", face=face.name),
            ready=None,
            mend="Look, with a lamp.",
        )
    if not face.finished:
        return ClosingItem(
            what=Said("{face} is not finished.", face=face.name),
            ready=False,
            mend="Prime and paint it before the box closes.",
        )
    return ClosingItem(what=Said("{face} is finished.", face=face.name), ready=True, mend="")


def _reach(each: Reach) -> ClosingItem:
    if each.reaches:
        return ClosingItem(
            what=Said("{what}: the {tool} still reaches it afterwards.", what=each.what, tool=each.tool),
            ready=True,
            mend="",
        )
    why = "will not reach it any more" if each.reaches is False else "may not reach it any more"
    ready = False if each.reaches is False else None
    return ClosingItem(
        what=Said("{what}: the {tool} {why}.", what=each.what, tool=each.tool, why=Said(why)),
        ready=ready,
        mend="Do it first.",
    )


def _words(box: str, items: Sequence[ClosingItem], ready: bool) -> Said:
    if ready:
        return Said("{box} may close.", box=box)
    open_ = sum(item.ready is False for item in items)
    unknown = sum(item.ready is None for item in items)
    parts = [Said("{count} open", count=open_)] if open_ else []
    parts += [Said("{count} not known", count=unknown)] if unknown else []
    return Said("{box} is not ready to close: {parts}.", box=box, parts=joined(parts, ", "))
