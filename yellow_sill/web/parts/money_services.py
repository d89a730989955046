"""The ledger of a vehicle: its lines, what is ordered, what its work still costs, the budget, the hours and the terms."""

from collections import Counter
from collections.abc import Iterable, Mapping
from datetime import date
from decimal import Decimal
from typing import Any

from django.db.models import Sum

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.ledger_tables import CostRow
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.forecast import quoted_cost
from yellow_sill.core.parts.ledger import BudgetAsked, Ledger, LedgerLine, LedgerRequest, ledger
from yellow_sill.web.frame import days
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.frame.stages import told
from yellow_sill.web.shells.models import Vehicle

from .forms import plain
from .models import KINDS, Budget, CostLine, Need, Terms
from .need_services import compared, needs_of, state_of, taken
from .services import with_sums

#: States of a need in which its quote is committed and not paid; in which it is still to be bought.
ORDERED, TO_BUY = ("ordered", "arrived", "checked", "fitted"), ("wanted", "quoted", "returned")
#: What a filter of the ledger may ask for.
FILTERS = ("repair", "supplier", "kind", "month")


def terms_of(vehicle: Vehicle) -> Terms:
    """What was agreed with oneself: nothing counts where nobody has said."""
    return Terms.objects.filter(vehicle=vehicle).first() or Terms(vehicle=vehicle, version=0)


@one_change
def keep_terms(vehicle: Vehicle, values: Mapping[str, Any], *, version: int | None, by: str) -> Terms:
    """Raises: ChangedMeanwhile."""
    stored = Terms.objects.filter(vehicle=vehicle).first()
    if stored is None:
        return Terms.objects.create(vehicle=vehicle, changed_by=by, **values)
    stored.save_as(version or 0, by, **values)
    return stored


def _landed(need: Need, today: date, *, ordered: bool) -> tuple[Decimal, Decimal, Decimal] | None:
    """What a need is likely to cost to pay: the quote taken, else the range of all quotes; None without any."""
    told_of = compared(need, hour=Decimal(0), today=today)
    if told_of is None:
        return None
    chosen = taken(need)
    taken_at = next((each.paid for each in told_of.order if chosen and each.name == chosen.name), None)
    cost = quoted_cost([each.paid for each in told_of.order], taken_at, ordered=ordered)
    return (cost.low.amount, cost.likely.amount, cost.high.amount) if cost else None


def coming_of(vehicle: Vehicle, today: date) -> list[dict[str, Any]]:
    """Every cost that is still to come: needs that no line has paid, and what the stages expect of their work."""
    paid = set(vehicle.cost_lines.exclude(need=None).values_list("need_id", flat=True))
    found = []
    for need in needs_of(vehicle):
        step = state_of(need)
        state = step.state if step else "wanted"
        if need.pk in paid or state not in ORDERED + TO_BUY:
            continue
        need.vehicle = vehicle
        row: dict[str, Any] = {"what": need.name, "repair": need.repair.number if need.repair else 0}
        if price := _landed(need, today, ordered=state in ORDERED):
            row |= dict(zip(("low", "likely", "high"), price, strict=True))
        found.append(row | {"kind": "part", "ordered": state in ORDERED})
    for say in told("expects"):
        found += [
            {"what": each.what[:120], "repair": each.repair, "kind": each.kind, "low": each.low, "likely": each.likely, "high": each.high}
            for each in say(vehicle)
        ]  # fmt: skip
    return found


def budgets_asked(vehicle: Vehicle) -> list[BudgetAsked]:
    """The budgets as the core takes them."""
    return [
        BudgetAsked(name=each.name, amount=each.amount, repairs=each.repairs, kinds=each.kinds)
        for each in vehicle.budgets.all()
    ]


@by_revision(4)
def ledger_of(vehicle: Vehicle, today: date, *, hour: Decimal) -> Ledger:
    """The whole ledger. Args: hour: what one of one's own is worth. Raises: BadField."""
    penny = Money.from_minor(1, vehicle.currency).amount
    rows = vehicle.cost_lines.order_by("bought_on", "pk").values_list(
        "bought_on", "repair__number", "supplier", "kind", "net_minor", "gross_minor"
    )
    lines = [
        LedgerLine.model_construct(
            day=day, repair=repair or 0, supplier=supplier, kind=kind, net=net * penny, gross=gross * penny
        )
        for day, repair, supplier, kind, net, gross in rows
    ]  # fmt: skip - they were looked at when they were stored
    minutes = vehicle.work_entries.aggregate(spent=Sum("minutes"))["spent"] or 0
    in_hand: dict[str, Decimal] = {}
    for say in told("in_hand"):
        for kind, worth in say(vehicle):
            in_hand[kind] = in_hand.get(kind, Decimal(0)) + worth
    request = LedgerRequest.read({
        "in_hand": in_hand,
        "currency": vehicle.currency, "lines": [], "minutes": minutes, "hour": hour, "coming": coming_of(vehicle, today),
        "budgets": [each.model_dump() for each in budgets_asked(vehicle)],
    })  # fmt: skip
    return ledger(request.model_copy(update={"lines": lines}))


@one_change
def keep_budget(
    vehicle: Vehicle, values: Mapping[str, Any], *, stored: Budget | None, version: int | None, by: str
) -> Budget:
    """Store a budget, a new one where ``stored`` is None. Raises: BadField: a name twice, nothing that it covers; ChangedMeanwhile."""
    others = vehicle.budgets.exclude(pk=stored.pk) if stored else vehicle.budgets
    if others.filter(name=values["name"]).exists():
        raise BadField("There is a budget of that name.", "name", "Give it another, or change that one.")
    if not values["repairs"] and not values["kinds"]:
        raise BadField(
            "It covers nothing yet.", "kinds", "Choose the repairs or the kinds of cost that it is for."
        )
    if stored is not None:
        stored.save_as(version, by, **values)
        return stored
    number = Budget.next_number(vehicle=vehicle)
    return Budget.objects.create(vehicle=vehicle, number=number, by=by, changed_by=by, **values)


@one_change
def drop_budget(budget: Budget, *, version: int | None) -> None:
    """Raises: ChangedMeanwhile."""
    budget.require_version(version)
    budget.delete()


def filtered(vehicle: Vehicle, asked: Mapping[str, str]) -> Any:
    """The lines that a filter asks for, newest first; what it cannot read it leaves out. Args: asked: by FILTERS."""
    lines = vehicle.cost_lines.select_related("repair", "receipt")
    if asked.get("kind") in dict(KINDS):
        lines = lines.filter(kind=asked["kind"])
    if supplier := asked.get("supplier"):
        lines = lines.filter(supplier=supplier)
    if (repair := asked.get("repair", "")).isdecimal() and len(repair) < 9:
        lines = lines.filter(repair__number=int(repair)) if int(repair) else lines.filter(repair=None)
    if len(month := asked.get("month", "")) == 7:
        lines = lines.filter(bought_on__startswith=month)
    return lines


def table_of(vehicle: Vehicle, lines: Any) -> list[list[Any]]:
    """Lines by the columns of the table."""
    return [
        [
            f"{line.bought_on:%Y-%m-%d}", line.repair.code if line.repair else "", line.supplier, line.item, line.kind, plain(line.quantity),
            plain(line.unit_price), line.currency or vehicle.currency, plain(line.rate), plain(line.tax_rate), "yes" if line.tax_included else "no",
            plain(line.discount), "yes" if line.back else "no", sum_.net.amount, sum_.tax.amount, sum_.gross.amount,
        ]
        for line, sum_ in with_sums(vehicle, lines)
    ]  # fmt: skip


@one_change
def keep_line(
    vehicle: Vehicle, values: Mapping[str, Any], *, stored: CostLine | None, version: int | None, by: str
) -> CostLine:
    """Store a line by itself, a new one where ``stored`` is None. Raises: BadField: one of a receipt; ChangedMeanwhile."""
    if stored is None:
        return CostLine.objects.create(vehicle=vehicle, by=by, changed_by=by, **values)
    if stored.receipt_id is not None:
        raise BadField(
            "It stands on a receipt.", "item", "Change it there, so that the receipt still adds up."
        )
    stored.save_as(version, by, **values)
    return stored


@one_change
def drop_line(line: CostLine, *, version: int | None) -> None:
    """Raises: BadField for one of a receipt; ChangedMeanwhile."""
    line.require_version(version)
    if line.receipt_id is not None:
        raise BadField(
            "It stands on a receipt.", "item", "Take it off there, so that the receipt still adds up."
        )
    line.delete()


def new_rows(
    vehicle: Vehicle, rows: Iterable[tuple[int, CostRow]]
) -> tuple[list[tuple[int, CostRow]], list[tuple[int, str]]]:
    """Rows of a table apart: those to store, and those that are there already or name a repair that there is not, with why."""
    there: Counter = Counter(
        (day, supplier, item, price.normalize())
        for day, supplier, item, price in vehicle.cost_lines.values_list("bought_on", "supplier", "item", "unit_price")
    )  # fmt: skip
    numbers = set(vehicle.repairs.values_list("number", flat=True))
    fresh, left = [], []
    for number, row in rows:
        key = (row.day, row.supplier, row.item, row.unit_price.normalize())
        if row.repair and row.repair not in numbers:
            left.append((number, f"There is no repair R-{row.repair:02d}."))
        elif row.day > days.today():
            left.append((number, "That day has not come yet."))
        elif there[key] > 0:
            there[key] -= 1
            left.append((number, "It is there already: the same day, supplier, item and price."))
        else:
            fresh.append((number, row))
    return fresh, left


@one_change
def take_rows(vehicle: Vehicle, rows: Iterable[tuple[int, CostRow]], *, by: str) -> int:
    """Store the rows of a table that are new; how many. One change, which can be taken back as one."""
    fresh, _ = new_rows(vehicle, rows)
    repairs = {each.number: each for each in vehicle.repairs.all()}
    for _, row in fresh:
        CostLine.objects.create(
            vehicle=vehicle, repair=repairs.get(row.repair), bought_on=row.day, supplier=row.supplier, item=row.item, kind=row.kind, quantity=row.quantity,
            unit_price=row.unit_price, currency=row.currency, rate=row.rate, tax_rate=row.tax_rate, tax_included=row.tax_included, discount=row.discount,
            back=row.came_back, by=by, changed_by=by,
        )  # fmt: skip
    return len(fresh)
