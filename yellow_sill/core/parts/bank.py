"""A bank statement: read from a table with the columns that a person chose, matched to receipts; nothing is booked without a yes."""

import hashlib
import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Annotated

import numpy as np
from pydantic import Field
from rapidfuzz import fuzz, utils
from scipy.optimize import linear_sum_assignment

from ..errors import BadField
from ..records import Record
from ..said import Quoted, Said
from .amount import CURRENCIES

#: A payment is booked so many days before or after its receipt at most; a match counts from this score on.
MOST_DAYS, LEAST_SCORE = 21, 0.55
#: How much amount, day and name count in a match.
SHARES = {"amount": 0.5, "day": 0.2, "name": 0.3}
MOST_LINES = 20_000
_DAYS = (
    "%Y-%m-%d",
    "%d.%m.%Y",
    "%d/%m/%Y",
    "%d.%m.%y",
    "%d/%m/%y",
    "%Y%m%d",
    "%d %b %Y",
    "%d-%m-%Y",
)


class Columns(Record):
    """Which column holds what, from 0.

    Attributes:
        credit: where money in stands in a column of its own; out_above: whether money out is written above 0, as on a card's statement;
        months_first: how days are written.
    """

    day: Annotated[int, Field(ge=0, le=200)]
    amount: Annotated[int, Field(ge=0, le=200)]
    text: Annotated[int, Field(ge=0, le=200)]
    credit: Annotated[int, Field(ge=0, le=200)] | None = None
    out_above: bool = False
    months_first: bool = False


class StatementRequest(Record):
    """A statement's rows as texts, the columns, whether the first row is a heading."""

    rows: Annotated[list[Annotated[list[str], Field(max_length=200)]], Field(max_length=MOST_LINES)]
    columns: Columns
    heading: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Paid:
    """A line of a statement: money out above 0, money in below; ``key`` tells it again in another file."""

    key: str
    day: date
    amount: Decimal
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Unread:
    """A row that could not be read: its number from 1, and why."""

    row: int
    why: Said


@dataclass(frozen=True, slots=True, kw_only=True)
class Statement:
    lines: list[Paid]
    unread: list[Unread]


def amount_typed(text: str, mark: str = "") -> Decimal:
    """An amount as people and banks write it: 1.234,56 and 1,234.56, a sign before or after, brackets for below 0, a currency beside it.

    Args: text; mark: the decimal mark, "," or ".", where it is known.
    Raises: BadField for what is none, or could be two: '1,234' may be one and a bit or twelve hundred and more.

    >>> [str(amount_typed(text)) for text in ("1.234,56", "1,234.56 GBP", "-12,5", "(3.00)", "1 200", "7.50-", "1'234.50")]
    ['1234.56', '1234.56', '-12.5', '-3.00', '1200', '-7.50', '1234.50']
    """
    plain = _unsigned(text)
    found = re.fullmatch(r"([-+(]?)([0-9][0-9.,]*|[.,][0-9]+)([-+)]?)", plain)
    if found is None:
        raise _no_amount(text)
    before, digits, after = found.groups()
    if (before == "(") != (after == ")") or (before in "+-" and before and after):
        raise _no_amount(text)
    value = _digits(digits, mark, text)
    return -value if before in ("-", "(") or after == "-" else value


def _no_amount(text: str) -> BadField:
    return BadField(
        Said("'{text}' is no amount.", text=Quoted(text.strip()[:20])),
        "amount",
        "Type it like 12.50 or 12,50.",
    )


def _unsigned(text: str) -> str:
    """A text without spaces, the marks between thousands that are no points, and a currency before or after."""
    plain = re.sub(r"[\s\u00a0\u202f'’]", "", text).replace("−", "-")
    names = sorted({*CURRENCIES, *(sign for _, sign in CURRENCIES.values())}, key=len, reverse=True)
    some = "|".join(re.escape(name) for name in names)
    plain = re.sub(rf"^([-+(]?)(?:{some})", r"\1", plain)
    return re.sub(rf"(?:{some})([-+)]?)$", r"\1", plain)


def _digits(digits: str, mark: str, text: str) -> Decimal:
    """The figure of digits with points and commas. Raises: BadField."""
    marks = re.findall(r"[.,]", digits)
    if not mark and len(set(marks)) == 2:
        mark = marks[-1]
    elif not mark and len(marks) == 1:
        whole, _, rest = digits.partition(marks[0])
        if len(rest) == 3 and 1 <= len(whole) <= 3 and not whole.startswith("0"):
            raise BadField(
                Said("'{text}' could be two amounts.", text=Quoted(text.strip()[:20])),
                "amount",
                "Type it with its decimals, such as 1234.00.",
            )
        mark = marks[0]
    elif not mark:
        mark = "," if "." in marks else "."
    other = "," if mark == "." else "."
    whole, _, rest = digits.partition(mark)
    if (
        mark in rest
        or other in rest
        or (other in whole and not re.fullmatch(rf"\d{{1,3}}(?:{re.escape(other)}\d{{3}})+", whole))
    ):
        raise _no_amount(text)
    return (
        Decimal(f"{whole.replace(other, '') or '0'}.{rest or '0'}")
        if rest
        else Decimal(whole.replace(other, "") or "0")
    )


def mark_of(texts: Sequence[str]) -> str:
    """The decimal mark that a column of amounts shows without doubt: "," or "."; "" where none does, or both do."""
    found = set()
    for text in texts:
        if match_ := re.search(r"([.,])(\d+)[-+)]?$", _unsigned(text)):
            mark, rest = match_.groups()
            if len(rest) != 3 or ("," if mark == "." else ".") in text:
                found.add(mark)
    return found.pop() if len(found) == 1 else ""


def day_typed(text: str, months_first: bool = False) -> date:
    """A day as banks write it. Raises: BadField."""
    forms = ("%m/%d/%Y", "%m/%d/%y", "%Y-%m-%d") if months_first else _DAYS
    for form in forms:
        try:
            found = datetime.strptime(text.strip()[:20], form).date()  # noqa: DTZ007 - a day has no zone
        except ValueError:
            continue
        if 1990 <= found.year <= 2190:
            return found
    raise BadField(
        Said("'{text}' is no day.", text=Quoted(text.strip()[:20])),
        "day",
        "Choose another column, or how days are written.",
    )


def statement(request: StatementRequest) -> Statement:
    """The lines of a statement; rows that cannot be read are told and not left out unseen.

    Args: request: see StatementRequest.
    """
    lines, unread = [], []
    columns = request.columns
    marks = {
        at: mark_of([row[at] for row in request.rows if at < len(row)])
        for at in (columns.amount, columns.credit)
        if at is not None
    }
    seen: dict[str, int] = {}
    for number, row in enumerate(request.rows, start=1):
        if (number == 1 and request.heading) or not any(cell.strip() for cell in row):
            continue
        try:
            day, amount, text = _row(row, columns, marks)
        except BadField as error:
            unread.append(Unread(row=number, why=Said("{what}", what=error.what)))
            continue
        plain = f"{day.isoformat()}|{amount.normalize():f}|{text}"
        seen[plain] = seen.get(plain, 0) + 1
        key = hashlib.sha256(f"{plain}|{seen[plain]}".encode()).hexdigest()[:20]
        lines.append(Paid(key=key, day=day, amount=amount, text=text))
    return Statement(lines=lines, unread=unread)


def _row(row: Sequence[str], columns: Columns, marks: dict[int, str]) -> tuple[date, Decimal, str]:
    """Day, amount (out above 0) and text of a row. Raises: BadField."""

    def cell(at: int | None) -> str:
        return row[at].strip() if at is not None and at < len(row) else ""

    def amount(at: int) -> Decimal:
        return amount_typed(cell(at), marks[at])

    day = day_typed(cell(columns.day), columns.months_first)
    if columns.credit is None:
        out = amount(columns.amount) * (1 if columns.out_above else -1)
    else:
        out = abs(amount(columns.amount)) if cell(columns.amount) else -abs(amount(columns.credit))
    return day, out, " ".join(cell(columns.text).split())[:200]


class BookedReceipt(Record):
    """A receipt that waits for its payment: its key, day, what was paid (a credit note below 0), from whom."""

    key: Annotated[str, Field(min_length=1, max_length=60)]
    day: date
    amount: Annotated[Decimal, Field(max_digits=16, decimal_places=4)]
    supplier: Annotated[str, Field(max_length=80)]


class PaidLine(Record):
    """A line of a statement."""

    key: Annotated[str, Field(min_length=1, max_length=60)]
    day: date
    amount: Annotated[Decimal, Field(max_digits=16, decimal_places=4)]
    text: Annotated[str, Field(max_length=200)]


class MatchRequest(Record):
    """Lines and receipts that are not matched yet."""

    lines: Annotated[list[PaidLine], Field(max_length=MOST_LINES)]
    receipts: Annotated[list[BookedReceipt], Field(max_length=MOST_LINES)]


@dataclass(frozen=True, slots=True, kw_only=True)
class Match:
    """A line and the receipt it may pay: how sure (0 to 1); ``sure``: amount, day and name all speak for it and no other comes near."""

    line: str
    receipt: str
    score: float
    sure: bool


def match(request: MatchRequest) -> list[Match]:
    """Which line may pay which receipt, each once; proposals only.

    Args: request: see MatchRequest.
    Source: amount to the penny or within a hundredth, day within three weeks, likeness of names; assignment of least cost (docs/methods.md section 6).
    """
    if not request.lines or not request.receipts:
        return []
    by_amount: dict[int, list[int]] = {}
    for n, each in enumerate(request.receipts):
        by_amount.setdefault(int(each.amount), []).append(n)
    names = [utils.default_process(each.supplier) for each in request.receipts]
    scores: dict[tuple[int, int], float] = {}
    for i, line in enumerate(request.lines):
        text = utils.default_process(line.text)
        near = int(abs(line.amount) / 98) + 2
        for whole in range(int(line.amount) - near, int(line.amount) + near + 1):
            for k in by_amount.get(whole, []):
                if (score := _score(line, request.receipts[k], text, names[k])) >= LEAST_SCORE:
                    scores[i, k] = score
    if not scores:
        return []
    rows, columns = sorted({i for i, _ in scores}), sorted({k for _, k in scores})
    table = np.zeros((len(rows), len(columns)))
    at_row, at_column = {i: n for n, i in enumerate(rows)}, {k: n for n, k in enumerate(columns)}
    for (i, k), score in scores.items():
        table[at_row[i], at_column[k]] = score
    found = []
    for a, b in zip(*linear_sum_assignment(-table), strict=True):
        if table[a, b] < LEAST_SCORE:
            continue
        rivals = max(
            float(np.delete(table[a], b).max(initial=0.0)), float(np.delete(table[:, b], a).max(initial=0.0))
        )
        score = float(table[a, b])
        found.append(
            Match(
                line=request.lines[rows[a]].key,
                receipt=request.receipts[columns[b]].key,
                score=round(score, 3),
                sure=bool(score >= 0.85 and score - rivals >= 0.1),
            )
        )
    return sorted(found, key=lambda each: (-each.score, each.line))


def _score(line: PaidLine, receipt: BookedReceipt, text: str, name: str) -> float:
    """How well a line fits a receipt, 0 to 1."""
    off = abs(line.amount - receipt.amount)
    days = abs((line.day - receipt.day).days)
    if days > MOST_DAYS or off > abs(receipt.amount) / 100 or (line.amount < 0) != (receipt.amount < 0):
        return 0.0
    amount = 1.0 if off == 0 else 0.4
    like = fuzz.partial_token_set_ratio(name, text) / 100 if name else 0.0
    return SHARES["amount"] * amount + SHARES["day"] * (1 - days / (MOST_DAYS + 1)) + SHARES["name"] * like
