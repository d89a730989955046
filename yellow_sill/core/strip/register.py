"""The strip register: what came off, where it is kept, what it waits for, and in which order it goes back."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Count, Listed, Quoted, Said, joined

#: What a part is, in words; what burns is told before hot work.
STATES = {
    "": "nobody has looked",
    "good": "good",
    "refurbish": "to refurbish",
    "missing": "missing",
    "sold": "sold",
    "scrap": "not used again",
}
BURNS = {
    "": "",
    "foam": "foam",
    "trim": "trim",
    "deadening": "sound deadening",
    "fuel": "fuel or its lines",
    "wax": "wax or sealer",
}
#: Only these go back; what is missing is waited for.
GOES_BACK = ("", "good", "refurbish", "missing")
MOST = 3000
_Name = Annotated[str, Field(min_length=1, max_length=80)]


class Removed(Record):
    """A part that came off.

    Attributes:
        number: in the order of removal; after: numbers of parts that must be on again before it; state: see STATES; box, shelf: where it is, "" unknown.
        waits_for: what it waits for before it can go back; on: whether it is on again.
    """

    number: Annotated[int, Field(ge=1)]
    name: _Name
    after: Annotated[list[int], Field(max_length=60)] = []
    state: Literal["", "good", "refurbish", "missing", "sold", "scrap"] = ""
    box: Annotated[str, Field(max_length=40)] = ""
    shelf: Annotated[str, Field(max_length=40)] = ""
    waits_for: Annotated[str, Field(max_length=200)] = ""
    on: bool = False


class RegisterRequest(Record):
    """Every part that came off."""

    parts: Annotated[list[Removed], Field(max_length=MOST)]


@dataclass(frozen=True, slots=True, kw_only=True)
class Refit:
    """A part in the order of refitting: numbers that must be on before, which of them are not, and why it cannot go on yet (empty: it can)."""

    number: int
    name: str
    needs: list[int]
    open: list[int]
    why_not: Said | str


@dataclass(frozen=True, slots=True, kw_only=True)
class Register:
    """The order of refitting; how many are off, missing, to refurbish, without a place; what can go on now."""

    order: list[Refit]
    off: int
    missing: int
    refurbish: int
    unplaced: list[int]
    ready: list[int]
    words: Said


def register(request: RegisterRequest) -> Register:
    """In which order what came off goes back: the last off first, but nothing before what it sits on.

    Args: request: see RegisterRequest.
    Raises: BadField: a number twice, a part after one that there is not, parts that wait for each other (named in their order).
    """
    by_number = _by_number(request.parts)
    order = _order(request.parts, by_number)
    told = [_refit(part, by_number) for part in order if not part.on and part.state in GOES_BACK]
    off = [part for part in request.parts if not part.on and part.state not in ("sold", "scrap")]
    unplaced = [part.number for part in off if part.state != "missing" and not (part.box or part.shelf)]
    missing, refurbish = (sum(part.state == state for part in off) for state in ("missing", "refurbish"))
    ready = [each.number for each in told if not each.why_not]
    return Register(
        order=told, off=len(off), missing=missing, refurbish=refurbish, unplaced=unplaced, ready=ready,
        words=_words(len(off), missing, refurbish, len(unplaced)),
    )  # fmt: skip


def in_number_order(name: str) -> tuple[tuple[int, int, str], ...]:
    """A key that sorts names with numbers as people do.

    >>> sorted(["B10", "B2", "Bag 4"], key=in_number_order)
    ['B2', 'B10', 'Bag 4']
    """
    parts = re.findall(r"\d{1,9}|\D+", name)
    return tuple((0, int(part), "") if part.isdecimal() else (1, 0, part.casefold()) for part in parts)


def _by_number(parts: Sequence[Removed]) -> dict[int, Removed]:
    """Raises: BadField."""
    found: dict[int, Removed] = {}
    for place, part in enumerate(parts):
        if part.number in found:
            raise BadField(
                Said("Part {number} is there twice.", number=part.number),
                f"parts[{place}].number",
                "Number them as they come off.",
            )
        found[part.number] = part
    for place, part in enumerate(parts):
        if lost := [number for number in part.after if number not in found]:
            raise BadField(
                Said(
                    "{name} goes on after part {number}, which there is not.",
                    name=Quoted(part.name),
                    number=lost[0],
                ),
                f"parts[{place}].after",
                "Choose one of the register.",
            )
    return found


def _order(parts: Sequence[Removed], by_number: dict[int, Removed]) -> list[Removed]:
    """Each part after all that it sits on; else the last off first. Raises: BadField for parts that wait for each other."""
    left = sorted(parts, key=lambda part: -part.number)
    placed: set[int] = set()
    order: list[Removed] = []
    while left:
        following = next((part for part in left if all(number in placed for number in part.after)), None)
        if following is None:
            raise BadField(
                Said(
                    "These wait for each other: {names}.",
                    names=Listed(tuple(Quoted(name) for name in _circle(left, by_number)), " → "),
                ),
                "parts",
                "Say of one of them that it goes on first.",
            )
        left.remove(following)
        placed.add(following.number)
        order.append(following)
    return order


def _circle(left: Sequence[Removed], by_number: dict[int, Removed]) -> list[str]:
    """The names of parts that wait for each other, in their order, the first again at the end."""
    open_ = {part.number for part in left}
    way = [left[0].number]
    while True:
        following = next(number for number in by_number[way[-1]].after if number in open_)
        if following in way:
            ring = [*way[way.index(following) :], following]
            return [by_number[number].name for number in ring]
        way.append(following)


def _refit(part: Removed, by_number: dict[int, Removed]) -> Refit:
    open_ = [
        number for number in part.after if not by_number[number].on and by_number[number].state in GOES_BACK
    ]
    why: list[str] = []
    if part.state == "missing":
        why.append("It is missing.")
    if part.state == "refurbish":
        why.append("It is still to be refurbished.")
    if part.waits_for:
        why.append(Said("It waits for {what}.", what=Quoted(part.waits_for)))
    if open_:
        why.append(
            Said(
                "First {names}.", names=Listed(tuple(Quoted(by_number[number].name) for number in open_[:3]))
            )
        )
    return Refit(
        number=part.number,
        name=part.name,
        needs=list(part.after),
        open=open_,
        why_not=joined(why) if why else "",
    )


def _words(off: int, missing: int, refurbish: int, unplaced: int) -> Said:
    parts: list[str] = [Said("{count} off", count=Count(off, "part", "parts"))]
    parts += [Said("{count} missing", count=missing)] if missing else []
    parts += [Said("{count} to refurbish", count=refurbish)] if refurbish else []
    parts += [Said("of {count} nobody knows where they are", count=unplaced)] if unplaced else []
    return Said("{parts}.", parts=joined(parts, ", "))
