"""Both sides open at once: each piece still in place holds the shape for the next job, so one half stays while the other is renewed."""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass

from ..said import Listed, Said, first_low, joined
from .bodies import panels_of
from .condition import Opening
from .words import NAMES


@dataclass(frozen=True, slots=True, kw_only=True)
class BothSides:
    """A part that is open on the left and on the right at once: its name, what it is open for on either side, and the words for it."""

    name: str
    left: tuple[str, ...]
    right: tuple[str, ...]
    words: str


def both_sides(
    parts: Iterable[str], openings: Sequence[Opening], out: Collection[str] = ()
) -> list[BothSides]:
    """What is open on both sides at once.

    Args: parts: every part of the structure; openings: pieces that are cut out; out: parts that are out whole.
    Returns: one for each part; the words name the better order.

    >>> hole = [[0, 0], [9, 0], [9, 9]]
    >>> from yellow_sill.core.shell.planes import Plane
    >>> cut = lambda panel, why: Opening(panel=panel, plane=Plane("x", "z"), outline=hole, share=0.1, why=why)
    >>> [each.name for each in both_sides(["sill_outer_L", "sill_outer_R"], [cut("L-SILL", "R-01"), cut("R-SILL", "R-02")])]
    ['Outer sill']
    """
    by_panel: dict[str, set[str]] = {}
    for opening in openings:
        by_panel.setdefault(opening.panel, set()).add(opening.why or "a cut")
    known = set(parts)
    found = []
    for left in sorted(part for part in known if part.endswith("_L") and f"{part[:-1]}R" in known):
        why = [
            {each for code in panels_of(part) for each in by_panel.get(code, ())}
            | ({"out"} if part in out else set())
            for part in (left, f"{left[:-1]}R")
        ]
        if all(why):
            here, there = (tuple(sorted(each)) for each in why)
            name = Said(NAMES[left.removesuffix("_L")])
            words = Said(
                "{name}: open on both sides at once ({here} left, {there} right). Do not cut both sides at once.",
                name=name,
                here=Listed(tuple(here)),
                there=Listed(tuple(there)),
            )
            found.append(
                BothSides(name=name, left=here, right=there, words=joined((words, _order(here, there))))
            )
    return found


def _order(left: Sequence[str], right: Sequence[str]) -> str:
    return Said(
        "Close one side ({left} or {right}) before the other is opened: each half that is still in holds the shape for the next.",
        left=left[0],
        right=right[0],
    )


def both_sides_words(found: Sequence[BothSides]) -> str:
    """One sentence or two for all of them; empty where there is none."""
    if not found:
        return ""
    if len(found) == 1:
        return found[0].words
    first = found[0]
    names = joined((first_low(each.name) for each in found), ", ")
    return Said(
        "Open on both sides at once: {names}. Do not cut both sides at once. {order}",
        names=names,
        order=_order(first.left, first.right),
    )
