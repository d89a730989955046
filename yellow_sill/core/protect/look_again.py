"""When the wax in a box is to be looked at next."""

from dataclasses import dataclass
from datetime import date
from typing import Annotated

from pydantic import Field

from ..days import months_later
from ..records import Record
from ..said import Day, Quoted, Said

#: Fresh wax is looked at after its first winter, then every other year (rules of thumb; the tin has the last word).
FIRST_MONTHS, THEN_MONTHS = 12, 24
_Name = Annotated[str, Field(min_length=1, max_length=120)]


class WaxedBox(Record):
    """A box: its name, and the days on which wax went into it or somebody looked at it (none: nobody has written it down)."""

    name: _Name
    waxed: Annotated[list[date], Field(max_length=200)] = []


class LookAgainRequest(Record):
    """Boxes, and what day it is."""

    boxes: Annotated[list[WaxedBox], Field(max_length=1000)]
    today: date


@dataclass(frozen=True, slots=True, kw_only=True)
class LookAgain:
    """A box: when it is to be looked at (None: nobody knows what is in it), whether that is past, and in words."""

    name: str
    on: date | None
    due: bool
    words: Said


def look_again(request: LookAgainRequest) -> list[LookAgain]:
    """When each box is to be looked at next, the first due first; what nobody waxed, as far as is written down, before all.

    Args: request: see LookAgainRequest. Source: rules of thumb; docs/methods.md section 10.
    """
    found = [_one(box, request.today) for box in request.boxes]
    return sorted(found, key=lambda each: (each.on is not None, each.on or date.min, each.name))


def _one(box: WaxedBox, today: date) -> LookAgain:
    if not box.waxed:
        words = Said("No wax in {name} is written down: look into it.", name=Quoted(box.name))
        return LookAgain(name=box.name, on=None, due=True, words=words)
    last, days = max(box.waxed), sorted(set(box.waxed))
    on = months_later(last, FIRST_MONTHS if len(days) == 1 else THEN_MONTHS)
    words = (
        Said(
            "{name}: waxed {last}, to be looked at since {on}.",
            name=Quoted(box.name),
            last=Day(last),
            on=Day(on),
        )
        if on <= today
        else Said(
            "{name}: waxed {last}, look into it by {on}.", name=Quoted(box.name), last=Day(last), on=Day(on)
        )
    )
    return LookAgain(name=box.name, on=on, due=on <= today, words=words)
