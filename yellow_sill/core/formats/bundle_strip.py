"""The strip register in a bundle."""

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from ..records import Coordinate, Record
from .bundle_base import Name, Number

_Word = Annotated[str, Field(max_length=120)]


class FasteningPart(Record):
    what: _Word
    count: _Word = ""


class EndPart(Record):
    what: _Word
    first: _Word = ""
    second: _Word = ""


class StripPartPart(Record):
    """A part that came off; ``repair`` and ``cut``: numbers of the cut that would lose it, 0 for none; ``view`` "": not on a drawing."""

    number: Number
    name: Annotated[str, Field(min_length=1, max_length=80)]
    view: Annotated[str, Field(max_length=20)] = ""
    at: Annotated[list[Coordinate], Field(max_length=2)] = []
    removed_on: date
    fastenings: Annotated[list[FasteningPart], Field(max_length=60)] = []
    ends: Annotated[list[EndPart], Field(max_length=60)] = []
    box: Annotated[str, Field(max_length=40)] = ""
    shelf: Annotated[str, Field(max_length=40)] = ""
    hinge_marked: bool | None = None
    burns: Literal["", "foam", "trim", "deadening", "fuel", "wax"] = ""
    state: Literal["", "good", "refurbish", "missing", "sold", "scrap"] = ""
    waits_for: Annotated[str, Field(max_length=200)] = ""
    after: Annotated[list[int], Field(max_length=60)] = []
    repair: Annotated[int, Field(ge=0)] = 0
    cut: Annotated[int, Field(ge=0)] = 0
    refitted_on: date | None = None
    note: Annotated[str, Field(max_length=500)] = ""
    by: Name
    file: Annotated[str, Field(max_length=80)] = ""

    @property
    def caption(self) -> str:
        """What its photo shows."""
        return self.name
