"""The ledger: what was spent, what is ordered, what it will cost to finish, by repair, supplier, kind and month, beside the budget and the hours."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Annotated

from pydantic import Field

from ..errors import BadField
from ..records import OneOf, Record
from ..said import Quoted, Said, joined
from .amount import CURRENCIES, Money, to_minor
from .forecast import Band, Uncertain, band
from .landed import Amount
from .lines import Sum, from_minor, running

MOST_LINES = 30_000
_Name = Annotated[str, Field(max_length=120)]
_Kind = Annotated[str, Field(min_length=1, max_length=20)]
_Repair = Annotated[int, Field(ge=0, le=100_000)]
Signed = Annotated[
    Decimal, Field(ge=Decimal(-100_000_000), le=Decimal(100_000_000), max_digits=16, decimal_places=4)
]


class LedgerLine(Record):
    """A line of cost in the own currency, tax out and in; below 0 for what came back (a credit note, something sold). ``repair`` 0: the vehicle."""

    day: date
    repair: _Repair = 0
    supplier: _Name = ""
    kind: _Kind
    net: Signed
    gross: Signed


class Coming(Record):
    """A cost still to come.

    Attributes:
        ordered: it is committed; low, likely, high: with tax: one time in ten it is less, as likely as not, one time in ten it is more. None: nobody knows.
    """

    what: Annotated[str, Field(min_length=1, max_length=120)]
    repair: _Repair = 0
    kind: _Kind = "part"
    ordered: bool = False
    low: Amount | None = None
    likely: Amount | None = None
    high: Amount | None = None


class BudgetAsked(Record):
    """What may be spent on an area: some repairs, or kinds of cost, whichever of them names a line first."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    amount: Amount
    repairs: Annotated[list[_Repair], Field(max_length=1000)] = []
    kinds: Annotated[list[_Kind], Field(max_length=40)] = []


class LedgerRequest(Record):
    """All lines, the minutes that were logged, what an hour of one's own is worth (0: not counted), what is to come, the budget by area.

    ``in_hand``: by kind, what lies in the garage, paid already: so much less of that kind is still to come.
    """

    currency: Annotated[str, OneOf(CURRENCIES)] = "GBP"
    lines: Annotated[list[LedgerLine], Field(max_length=MOST_LINES)]
    minutes: Annotated[int, Field(ge=0, le=100_000_000)] = 0
    hour: Amount = Decimal(0)
    coming: Annotated[list[Coming], Field(max_length=5000)] = []
    budgets: Annotated[list[BudgetAsked], Field(max_length=60)] = []
    in_hand: dict[_Kind, Amount] = {}


@dataclass(frozen=True, slots=True, kw_only=True)
class Group:
    """Lines that have something in common, and their sum."""

    name: str
    count: int
    sum: Sum


@dataclass(frozen=True, slots=True, kw_only=True)
class BudgetTold:
    """An area beside its budget: spent, ordered, what is likely still to come; ``over``: by how much it will likely be above (below 0: left)."""

    name: str
    amount: Money
    spent: Money
    committed: Money
    to_come: Money
    over: Money
    words: Said


@dataclass(frozen=True, slots=True, kw_only=True)
class Ledger:
    """What it costs.

    Attributes:
        total: all lines, with what came back; spent, back: the two apart, with tax; committed: ordered and not paid; to_come: what else is known.
        finish: of all of it, four times in five between low and high; unknown: what has no price and is not in it.
        hours, labour, with_labour: logged, what they are worth, total with them; per_hour: what an hour in the garage cost (None without any).
        steps: spent up to the last day of each month.
    """

    total: Sum
    spent: Money
    back: Money
    committed: Money
    to_come: Band
    finish: Band
    unknown: list[str]
    hours: float
    labour: Money
    with_labour: Money
    per_hour: Money | None
    by_repair: list[Group]
    by_supplier: list[Group]
    by_kind: list[Group]
    by_month: list[Group]
    steps: list[tuple[date, Money]]
    budgets: list[BudgetTold]
    unbudgeted: Money
    words: Said


def ledger(request: LedgerRequest) -> Ledger:
    """Sums, forecast and budget of a vehicle. Lines are added up in whole pence, so that totals add up by hand.

    Args: request: see LedgerRequest.
    Raises: BadField: two budgets of one name, a cost to come whose low is above its likely or its likely above its high.
    Source: docs/methods.md section 6.
    """
    _require(request)
    digits = CURRENCIES[request.currency][0]
    pence = [(line, to_minor(line.net, digits), to_minor(line.gross, digits)) for line in request.lines]
    total = from_minor(sum(net for _, net, _ in pence), sum(gross for _, _, gross in pence), request.currency)
    spent = sum(gross for _, _, gross in pence if gross > 0)
    ordered, open_, unknown = _parted(request)
    zero = Money(Decimal(0), request.currency)
    committed = sum((each.likely for each in ordered), zero).rounded()
    to_come = band([*open_], request.currency)
    sure = total.gross + committed
    finish = Band(low=sure + to_come.low, likely=sure + to_come.likely, high=sure + to_come.high)
    hours = request.minutes / 60
    labour = Money(request.hour * request.minutes / 60, request.currency).rounded()
    budgets, unbudgeted = _budgets(request, pence)
    return Ledger(
        total=total, spent=Money.from_minor(spent, request.currency), back=Money.from_minor(spent - total.gross.minor, request.currency),
        committed=committed, to_come=to_come, finish=finish, unknown=unknown, hours=round(hours, 2), labour=labour, with_labour=total.gross + labour,
        per_hour=(total.gross / Decimal(request.minutes) * Decimal(60)).rounded() if request.minutes else None,
        by_repair=_groups(request, [str(line.repair) for line in request.lines], pence),
        by_supplier=_groups(request, [line.supplier for line in request.lines], pence),
        by_kind=_groups(request, [line.kind for line in request.lines], pence),
        by_month=sorted(_groups(request, [line.day.isoformat()[:7] for line in request.lines], pence), key=lambda each: each.name),
        steps=_steps(request, pence), budgets=budgets, unbudgeted=unbudgeted, words=_words(total, committed, finish, unknown),
    )  # fmt: skip


def _require(request: LedgerRequest) -> None:
    names = [each.name for each in request.budgets]
    if len(set(names)) < len(names):
        raise BadField("Two budgets bear the same name.", "budgets", "Give each its own.")
    for each in request.coming:
        known = [value for value in (each.low, each.likely, each.high) if value is not None]
        if each.likely is None and known:
            raise BadField(
                Said("What '{what}' likely costs is not said.", what=Quoted(each.what)),
                "coming",
                "Say it, or leave all three open.",
            )
        if known != sorted(known):
            raise BadField(
                Said("What '{what}' costs runs backwards.", what=Quoted(each.what)),
                "coming",
                "The low one is the least, the high one the most.",
            )


def still_to_buy(request: LedgerRequest) -> dict[str, Decimal]:
    """The share of each kind that is still to be bought, once what is in hand is used up: 0 to 1."""
    found = {}
    for kind, worth in request.in_hand.items():
        whole = sum(
            (each.likely or Decimal(0) for each in request.coming if each.kind == kind and not each.ordered),
            Decimal(0),
        )
        if whole:
            found[kind] = max(Decimal(0), 1 - worth / whole)
    return found


def _parted(request: LedgerRequest) -> tuple[list[Uncertain], list[Uncertain], list[str]]:
    """What is ordered, what else is to come, and what of both has no price."""
    ordered: list[Uncertain] = []
    open_: list[Uncertain] = []
    unknown: list[str] = []
    left = still_to_buy(request)
    for each in request.coming:
        if each.likely is None:
            unknown.append(each.what)
            continue
        share = Decimal(1) if each.ordered else left.get(each.kind, Decimal(1))
        told = Uncertain(
            low=Money((each.likely if each.low is None else each.low) * share, request.currency),
            likely=Money(each.likely * share, request.currency),
            high=Money((each.likely if each.high is None else each.high) * share, request.currency),
        )
        (ordered if each.ordered else open_).append(told)
    return ordered, open_, unknown


#: A line with its net and gross in the smallest unit of the currency.
Pence = Sequence[tuple[LedgerLine, int, int]]


def _groups(request: LedgerRequest, names: Sequence[str], pence: Pence) -> list[Group]:
    """Lines by what they have in common, dearest first. Args: names: of the group of each line."""
    counts: dict[str, int] = {}
    nets: dict[str, int] = {}
    grosses: dict[str, int] = {}
    for name, (_, net, gross) in zip(names, pence, strict=True):
        counts[name] = counts.get(name, 0) + 1
        nets[name] = nets.get(name, 0) + net
        grosses[name] = grosses.get(name, 0) + gross
    ordered = sorted(counts, key=lambda name: (-grosses[name], name))
    return [
        Group(name=name, count=counts[name], sum=from_minor(nets[name], grosses[name], request.currency))
        for name in ordered
    ]


def _steps(request: LedgerRequest, pence: Pence) -> list[tuple[date, Money]]:
    months: dict[tuple[int, int], list] = {}
    for line, _, gross in pence:
        month = months.setdefault((line.day.year, line.day.month), [line.day, 0])
        month[0] = max(month[0], line.day)
        month[1] += gross
    return running(
        ((day, Money.from_minor(gross, request.currency)) for day, gross in months.values()), request.currency
    )


def area_of(budgets: Sequence[BudgetAsked], repair: int, kind: str) -> int | None:
    """Which budget a cost belongs to: the first that names its repair, else the first that names its kind; None for none."""
    if repair:
        for place, each in enumerate(budgets):
            if repair in each.repairs:
                return place
    return next((place for place, each in enumerate(budgets) if kind in each.kinds), None)


def _budgets(request: LedgerRequest, pence: Pence) -> tuple[list[BudgetTold], Money]:
    spent = [0] * (len(request.budgets) + 1)  # the last: of no budget
    committed, to_come = [Decimal(0)] * len(spent), [Decimal(0)] * len(spent)
    places: dict[tuple[int, str], int] = {}
    left = still_to_buy(request)

    def place(repair: int, kind: str) -> int:
        if (repair, kind) not in places:
            found = area_of(request.budgets, repair, kind)
            places[repair, kind] = len(request.budgets) if found is None else found
        return places[repair, kind]

    for line, _, gross in pence:
        spent[place(line.repair, line.kind)] += gross
    for cost in request.coming:
        into = committed if cost.ordered else to_come
        share = Decimal(1) if cost.ordered else left.get(cost.kind, Decimal(1))
        into[place(cost.repair, cost.kind)] += (cost.likely or 0) * share
    money = lambda amount: Money(amount, request.currency).rounded()  # noqa: E731
    told = []
    for n, each in enumerate(request.budgets):
        paid, ordered, rest = (
            Money.from_minor(spent[n], request.currency),
            money(committed[n]),
            money(to_come[n]),
        )
        over = paid + ordered + rest - money(each.amount)
        if over.amount > 0:
            words = Said("{over} above what was set aside, as it stands.", over=str(over))
        else:
            words = Said("{left} left, as it stands.", left=str(over * Decimal(-1)))
        told.append(
            BudgetTold(
                name=each.name,
                amount=money(each.amount),
                spent=paid,
                committed=ordered,
                to_come=rest,
                over=over,
                words=words,
            )
        )
    return told, Money.from_minor(spent[-1], request.currency)


def _words(total: Sum, committed: Money, finish: Band, unknown: Sequence[str]) -> Said:
    parts: list[str] = [Said("{total} spent, {committed} ordered.", total=str(total.gross), committed=str(committed))]  # fmt: skip
    if finish.low.amount == finish.high.amount:
        parts.append(Said("{likely} to finish, by what has a price.", likely=str(finish.likely)))
    else:
        parts.append(
            Said(
                "To finish: about {likely}; four times in five between {low} and {high}.",
                likely=str(finish.likely),
                low=str(finish.low),
                high=str(finish.high),
            )
        )
    if unknown:
        parts.append(
            Said(
                "Not in it, for want of a price: {count}, such as {what}.",
                count=len(unknown),
                what=Quoted(unknown[0]),
            )
        )
    return joined(parts)
