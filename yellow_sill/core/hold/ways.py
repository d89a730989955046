"""The usual ways to renew sills and floors, as states to be compared on a person's own shell: what is out, and which braces are in."""

from collections.abc import Collection
from dataclasses import dataclass

from ..said import Said


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """One state: in words, the parts that are out, the braces ([from, to]); ``naive`` is what people do who have not asked."""

    title: str
    out: tuple[str, ...]
    braces: tuple[tuple[str, str], ...] = ()
    naive: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class WayOrder:
    """One order to renew both sides in, as steps for ``removal_order``; braced or not."""

    title: str
    steps: tuple[str, ...]
    braces: tuple[tuple[str, str], ...] = ()


_SIDE = ("floor_*", "sill_inner_*", "sill_outer_*", "sill_diaph_*")


def _of(side: str, *stems: str) -> tuple[str, ...]:
    return tuple(stem.replace("*", side) for stem in stems)


def _post(nodes: Collection[str]) -> str:
    """The upper end of the B-post that a door's brace reaches: at the waist, or its top where it ends there."""
    return "BW" if "BWL" in nodes else "BT"


def door_braces(nodes: Collection[str], side: str) -> tuple[tuple[str, str], ...]:
    """An X and a bar across a door opening."""
    top = _post(nodes)
    return ((f"AT{side}", f"BB{side}"), (f"AB{side}", f"{top}{side}"), (f"AT{side}", f"{top}{side}"))


def cross_braces(nodes: Collection[str], *, both: bool) -> tuple[tuple[str, str], ...]:
    """Ties across the cabin: they hold the B-post's foot sideways, which no brace in a door's plane does."""
    top = _post(nodes)
    one = ((f"{top}L", f"{top}R"), ("BBL", f"{top}R"))
    return (*one, ("BBR", f"{top}L"), ("ATL", "ATR")) if both else one


def usual_ways(nodes: Collection[str], parts: Collection[str]) -> list[Way]:
    """States of a body with sills and posts; empty for one without.

    Args: nodes, parts: names of the structure.
    """
    if not {"ATL", "ABL", "BBL"} <= set(nodes) or not set(_of("L", *_SIDE)) <= set(parts):
        return []
    left, both = _of("L", *_SIDE), (*_of("L", *_SIDE), *_of("R", *_SIDE))
    sills = tuple(part for part in both if not part.startswith("floor"))
    door, doors = door_braces(nodes, "L"), (*door_braces(nodes, "L"), *door_braces(nodes, "R"))
    return [
        Way(title=Said("Left floor out"), out=left[:1]),
        Way(title=Said("Left floor and inner sill out"), out=left[:2]),
        Way(title=Said("The same, left door braced"), out=left[:2], braces=door),
        Way(title=Said("Whole left side out: floor, inner and outer sill"), out=left, naive=True),
        Way(title=Said("The same, left door braced"), out=left, braces=door),
        Way(
            title=Said("The same, door braced and tied across"),
            out=left,
            braces=(*door, *cross_braces(nodes, both=False)),
        ),
        Way(title=Said("Both sills at once"), out=sills, naive=True),
        Way(title=Said("Both sills and floors at once"), out=both, naive=True),
        Way(
            title=Said("The same, both doors braced and tied across"),
            out=both,
            braces=(*doors, *cross_braces(nodes, both=True)),
        ),
    ]


def usual_orders(nodes: Collection[str], parts: Collection[str]) -> list[WayOrder]:
    """Orders to renew both floors and sills in; empty where ``usual_ways`` is."""
    if not usual_ways(nodes, parts):
        return []
    left, right = _of("L", *_SIDE), _of("R", *_SIDE)
    braces = (*door_braces(nodes, "L"), *door_braces(nodes, "R"), *cross_braces(nodes, both=True))
    at_once = (*_out(left), *_out(right), *_new(left), *_new(right))
    by_side = (*_out(left), *_new(left), *_out(right), *_new(right))
    inner_first = tuple(step for side in (left, right) for step in (*_out(side[:2]), *_new(side[:2])))
    outers_last = tuple(step for side in (left, right) for step in (*_out(side[2:]), *_new(side[2:])))
    return [
        WayOrder(title=Said("Everything out at once"), steps=at_once),
        WayOrder(title=Said("One whole side at a time"), steps=by_side),
        WayOrder(
            title=Said("Floor and inner sill side by side, outer sills last"),
            steps=(*inner_first, *outers_last),
        ),
        WayOrder(title=Said("The same, braced"), steps=(*inner_first, *outers_last), braces=braces),
    ]


def _out(parts: tuple[str, ...]) -> list[str]:
    return [f"-{part}" for part in parts]


def _new(parts: tuple[str, ...]) -> list[str]:
    """Back in, the undermost first."""
    return [f"+{part}" for part in (*parts[1:2], *parts[:1], *parts[3:], *parts[2:3])]
