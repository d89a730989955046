"""Hours and costs from a table that somebody kept: each row read, or refused with its reason; what is here already is told."""

import hashlib
import re
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field

from ..errors import BadField
from ..parts.bank import Unread, amount_typed, day_typed, mark_of
from ..parts.lines import COST_KINDS
from ..records import Record
from ..repairs.hours import KIND_WORDS, minutes
from ..said import Count, Day, Quoted, Said, joined

MOST_ROWS = 20_000
#: The longest words of each field.
MOST = {"note": 300, "supplier": 80, "item": 120}
#: What a table must tell, and what it may tell besides.
NEEDS = {"hours": ("day", "time"), "costs": ("day", "item", "amount")}
MAY = {"hours": ("kind", "repair", "note"), "costs": ("supplier", "quantity", "kind", "repair")}
_Column = Annotated[int, Field(ge=0, le=200)]


class TableRequest(Record):
    """A table.

    Attributes:
        what: hours or costs; rows: as texts; columns: which column holds what, from 0 (see NEEDS and MAY); heading: the first row names them;
        months_first: how days are written; in_minutes: a bare number of a time is minutes, not hours;
        kind: of rows that tell none ("": they are refused); repairs: numbers of those that there are;
        here: keys of what is written down already, each as often as it is; today: nothing is later.
    """

    what: Literal["hours", "costs"]
    rows: Annotated[list[Annotated[list[str], Field(max_length=200)]], Field(max_length=MOST_ROWS)]
    columns: dict[Annotated[str, Field(max_length=12)], _Column]
    heading: bool = True
    months_first: bool = False
    in_minutes: bool = False
    kind: Annotated[str, Field(max_length=12)] = ""
    repairs: Annotated[list[int], Field(max_length=5000)] = []
    here: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=100_000)] = []
    today: date


@dataclass(frozen=True, slots=True, kw_only=True)
class TableRow:
    """A row as it reads: its number from 1, whether the same is here already; hours have minutes and a note, costs the rest; repair 0: the whole vehicle."""

    row: int
    key: str
    known: bool
    day: date
    kind: str
    repair: int
    minutes: int = 0
    typed: str = ""
    note: str = ""
    supplier: str = ""
    item: str = ""
    quantity: Decimal = Decimal(1)
    price: Decimal = Decimal(0)
    back: bool = False

    @property
    def kind_words(self) -> str:
        """Its kind as people read it."""
        return KIND_WORDS.get(self.kind) or COST_KINDS[self.kind]


@dataclass(frozen=True, slots=True, kw_only=True)
class TableTold:
    """All rows that can be read, those that cannot with their reasons, and both in words."""

    rows: list[TableRow]
    unread: list[Unread]
    words: Said


def read_table(request: TableRequest) -> TableTold:
    """Read a table of hours or costs.

    Args: request: see TableRequest.
    Returns: every row, read or refused; a row that is here already as often as the table has it is ``known``.
    Raises: BadField: a column that the table must have and was not chosen, a kind that there is not.
    """
    for name in NEEDS[request.what]:
        if name not in request.columns:
            raise BadField(Said("Nobody has said which column is the {name}.", name=name), name, "Choose it.")
    kinds = KIND_WORDS if request.what == "hours" else COST_KINDS
    if request.kind and request.kind not in kinds:
        raise BadField(
            Said("There is no kind '{kind}'.", kind=Quoted(request.kind)), "kind", "Choose another."
        )
    reader = _Reader(request, kinds)
    rows, unread = list[TableRow](), list[Unread]()
    left: dict[str, int] = {}
    for key in request.here:
        left[key] = left.get(key, 0) + 1
    for number, row in enumerate(request.rows, start=1):
        if (number == 1 and request.heading) or not any(cell.strip() for cell in row):
            continue
        try:
            told = reader.hours(row) if request.what == "hours" else reader.costs(row)
        except BadField as error:
            unread.append(Unread(row=number, why=Said("{what}", what=error.what)))
            continue
        key = key_of(told)
        known = left.get(key, 0) > 0
        left[key] = left.get(key, 0) - 1
        rows.append(TableRow(row=number, key=key, known=known, **told))  # type: ignore[arg-type]
    new = sum(not each.known for each in rows)
    said = [Said("{rows} new", rows=Count(new, "row", "rows"))]
    if new < len(rows):
        said.append(Said("{count} here already", count=len(rows) - new))
    if unread:
        said.append(Said("{count} cannot be read", count=len(unread)))
    return TableTold(rows=rows, unread=unread, words=joined(said, ", "))


def key_of(told: Mapping[str, object]) -> str:
    """What a row is known by, from its fields.

    Args: told: day, repair and kind; minutes and note of hours, supplier, item, quantity, price and back of costs.
    """
    names = ("day", "repair", "kind", "minutes", "note", "supplier", "item", "quantity", "price", "back")
    plain = [
        f"{value.normalize():f}" if isinstance(value, Decimal) else str(value)
        for name in names
        if (value := told.get(name)) is not None
    ]
    return hashlib.sha256("|".join(plain).casefold().encode()).hexdigest()[:20]


class _Reader:
    """Rows by the columns of a request."""

    def __init__(self, request: TableRequest, kinds: Mapping[str, str]) -> None:
        self.request = request
        self.kinds = {word.casefold(): key for key, words in kinds.items() for word in (key, words)}
        at = request.columns.get("amount")
        self.mark = mark_of([row[at] for row in request.rows if at < len(row)]) if at is not None else ""

    def hours(self, row: Sequence[str]) -> dict[str, object]:
        """Raises: BadField."""
        typed = self._cell(row, "time")
        if self.request.in_minutes and re.fullmatch(r"\d+", typed):
            typed = f"{typed} min"
        return self._any(row) | {
            "minutes": minutes(typed),
            "typed": typed[:20],
            "note": self._words(row, "note"),
        }

    def costs(self, row: Sequence[str]) -> dict[str, object]:
        """Raises: BadField."""
        amount = amount_typed(self._cell(row, "amount"), self.mark)
        quantity = self._cell(row, "quantity")
        many = amount_typed(quantity) if quantity else Decimal(1)
        if not 0 < many < 10**7 or not many == round(many, 3):
            raise BadField(Said("'{text}' is no quantity.", text=Quoted(quantity[:20])), "quantity")
        if abs(amount) >= 10**8 or amount != round(amount, 4):
            raise BadField(
                Said("'{text}' is no amount.", text=Quoted(self._cell(row, "amount")[:20])), "amount"
            )
        item = self._words(row, "item")
        if not item:
            raise BadField("It does not say what was bought.", "item")
        return self._any(row) | {
            "supplier": self._words(row, "supplier") or "–", "item": item, "quantity": many, "price": abs(amount), "back": amount < 0
        }  # fmt: skip

    def _any(self, row: Sequence[str]) -> dict[str, object]:
        day = day_typed(self._cell(row, "day"), self.request.months_first)
        if day > self.request.today:
            raise BadField(Said("{day} is still to come.", day=Day(day)), "day")
        return {"day": day, "kind": self._kind(row), "repair": self._repair(row)}

    def _kind(self, row: Sequence[str]) -> str:
        typed = self._cell(row, "kind")
        found = self.kinds.get(typed.casefold(), "") if typed else ""
        if found or self.request.kind:
            return found or self.request.kind
        words = (
            Said("'{text}' is no kind that is known.", text=Quoted(typed[:30]))
            if typed
            else Said("It has no kind.")
        )
        raise BadField(words, "kind")

    def _repair(self, row: Sequence[str]) -> int:
        typed = self._cell(row, "repair")
        if not typed:
            return 0
        match = re.fullmatch(r"[Rr]?[-\s]?0*(\d{1,6})", typed)
        number = int(match[1]) if match else -1
        if number not in self.request.repairs:
            raise BadField(Said("There is no repair '{text}'.", text=Quoted(typed[:20])), "repair")
        return number

    def _words(self, row: Sequence[str], name: str) -> str:
        text = " ".join(self._cell(row, name).split())
        if len(text) > MOST[name]:
            raise BadField(
                Said(
                    "The {name} has {count} characters; {most} can be kept.",
                    name=name,
                    count=len(text),
                    most=MOST[name],
                ),
                name,
            )
        return text

    def _cell(self, row: Sequence[str], name: str) -> str:
        at = self.request.columns.get(name)
        return row[at].strip() if at is not None and at < len(row) else ""


#: What a column is often called.
_NAMES = {
    "day": ("day", "date", "datum", "when"), "time": ("time", "hours", "minutes", "duration", "h"), "kind": ("kind", "type", "category", "what kind"),
    "repair": ("repair", "job", "for"), "note": ("note", "what", "description", "work", "done"), "supplier": ("supplier", "from", "shop", "vendor"),
    "item": ("item", "what", "description", "part", "article"), "quantity": ("quantity", "qty", "number", "pieces"),
    "amount": ("amount", "price", "cost", "total", "sum", "gross"),
}  # fmt: skip


def columns_by_heading(what: str, heading: Sequence[str]) -> dict[str, int]:
    """Which column may hold what by what it is called; each column once, and only where its name says so.

    >>> columns_by_heading("hours", ["Date", "Hours", "What"])
    {'day': 0, 'time': 1, 'note': 2}
    """
    plain = [re.sub(r"[^a-z ]", "", name.casefold()).strip() for name in heading]
    found: dict[str, int] = {}
    for same in (lambda word, name: word == name, lambda word, name: word in name.split()):
        _take(found, same, (*NEEDS[what], *MAY[what]), plain)
    return dict(sorted(found.items(), key=lambda each: each[1]))


def _take(
    found: dict[str, int], same: Callable[[str, str], bool], wanted: Collection[str], plain: Sequence[str]
) -> None:
    for name in wanted:
        at = next(
            (
                n
                for n, each in enumerate(plain)
                if n not in found.values() and any(same(word, each) for word in _NAMES[name])
            ),
            None,
        )
        if name not in found and at is not None:
            found[name] = at
