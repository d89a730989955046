"""The basket: which needs to order from whom and on which day, so that all of it costs least and is there in time; the solver proves its bound."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from typing import Annotated, Any

from pydantic import Field

from ..errors import BadField
from ..records import OneOf, Record
from ..said import Count, Day, Listed, Quoted, Said, joined
from .amount import CURRENCIES, Money

MOST_NEEDS, MOST_OFFERS, MOST_SUPPLIERS = 200, 2000, 40
#: The solver's own measure of work, about seconds; the same work finds the same basket.
EFFORT = 5.0
_Name = Annotated[str, Field(min_length=1, max_length=80)]
_Amount = Annotated[Decimal, Field(ge=0, le=Decimal(1_000_000), max_digits=12, decimal_places=3)]


class BasketNeed(Record):
    """A need: by when it must be there (None: no day), what it weighs, kg."""

    name: _Name
    needed_by: date | None = None
    kg: Annotated[float, Field(ge=0, le=1000)] = 0.0


class BasketOffer(Record):
    """What a supplier asks for a need, tax in it, and how many days it takes."""

    need: _Name
    supplier: _Name
    price: _Amount
    days: Annotated[int, Field(ge=0, le=2000)] = 7


class DiscountDays(Record):
    """Days on which a supplier takes so many per cent less, as the person expects them."""

    first: date
    last: date
    percent: Annotated[Decimal, Field(gt=0, le=100, max_digits=5, decimal_places=2)]


class BasketSupplier(Record):
    """A supplier: carriage by order and by kg, free above an order's worth (None: never), the least that an order must be worth, discount days."""

    name: _Name
    carriage: _Amount = Decimal(0)
    carriage_kg: _Amount = Decimal(0)
    free_above: _Amount | None = None
    minimum: _Amount = Decimal(0)
    discounts: Annotated[list[DiscountDays], Field(max_length=6)] = []


class BasketRequest(Record):
    """The needs, what is offered for each, the suppliers, the currency, and what day it is."""

    needs: Annotated[list[BasketNeed], Field(min_length=1, max_length=MOST_NEEDS)]
    offers: Annotated[list[BasketOffer], Field(max_length=MOST_OFFERS)]
    suppliers: Annotated[list[BasketSupplier], Field(max_length=MOST_SUPPLIERS)]
    currency: Annotated[str, OneOf(CURRENCIES)] = "GBP"
    today: date


@dataclass(frozen=True, slots=True, kw_only=True)
class BasketOrder:
    """One order: from whom, on which day, which needs; goods after discount, carriage."""

    supplier: str
    day: date
    needs: list[str]
    goods: Money
    carriage: Money


@dataclass(frozen=True, slots=True, kw_only=True)
class Basket:
    """The cheapest split found.

    Attributes:
        orders; total; bound: no split costs less; gap: between both, as a share; proved: the bound is met.
        today: what all of it costs if ordered today (None: not possible); saves: by waiting; later: needs that come later by it, with how many days.
        lacking: needs that nobody offers in time, with why.
    """

    orders: list[BasketOrder]
    total: Money
    bound: Money
    gap: float
    proved: bool
    today: Money | None
    saves: Money
    later: dict[str, int]
    lacking: dict[str, Said]
    words: Said


def basket(request: BasketRequest, told: Callable[[float], Any] | None = None) -> Basket:
    """Split the needs over suppliers and days.

    Args: request: see BasketRequest; told: called with how far it is, 0 to 1.
    Returns: as good as proved, or within the gap that is told; the same request gives the same basket.
    Raises: BadField: a need or supplier twice, an offer of a need or by a supplier that there is not, discount days that end before they begin,
        least orders that cannot be met.
    Source: constraint programming (OR-Tools CP-SAT), whole pence; docs/methods.md section 6.
    """
    _require(request)
    offers, lacking = _in_time(request)
    open_ = [need for need in request.needs if need.name not in lacking]
    zero = Money(Decimal(0), request.currency)
    if not open_:
        return Basket(
            orders=[],
            total=zero,
            bound=zero,
            gap=0.0,
            proved=True,
            today=None,
            saves=zero,
            later={},
            lacking=lacking,
            words=_words([], zero, None, zero, {}, lacking, True, 0.0),
        )
    best = _solved(request, open_, offers)
    if best is None:
        raise BadField(
            "No split meets the least orders of the suppliers.",
            "suppliers",
            "Take a supplier's least order out, or add what else you need from there.",
        )
    if told:
        told(0.7)
    orders, cost, bound = best
    first = [(offer, day) for offer, day in offers if day == request.today]
    covered = {offer.need for offer, _ in first} >= {need.name for need in open_}
    now = _solved(request, open_, first) if covered else None
    today = Money.from_minor(now[1], request.currency) if now else None
    total, low = (
        Money.from_minor(cost, request.currency),
        Money.from_minor(min(bound, cost), request.currency),
    )
    gap = 0.0 if cost == 0 else (cost - min(bound, cost)) / cost
    saves = today - total if today and today.amount > total.amount else zero
    later = _later(orders, now[0] if now else [], request) if saves.amount > 0 else {}
    if told:
        told(1.0)
    return Basket(
        orders=orders, total=total, bound=low, gap=round(gap, 5), proved=cost <= bound, today=today, saves=saves, later=later, lacking=lacking,
        words=_words(orders, total, today, saves, later, lacking, cost <= bound, gap),
    )  # fmt: skip


def _require(request: BasketRequest) -> None:
    """Raises: BadField."""
    for what, names in (
        ("needs", [each.name for each in request.needs]),
        ("suppliers", [each.name for each in request.suppliers]),
    ):
        twice = next((name for n, name in enumerate(names) if name in names[:n]), None)
        if twice is not None:
            raise BadField(
                Said("'{name}' is there twice.", name=Quoted(twice)), what, "Give each its own name."
            )
    needs, suppliers = {each.name for each in request.needs}, {each.name for each in request.suppliers}
    for n, offer in enumerate(request.offers):
        if offer.need not in needs or offer.supplier not in suppliers:
            raise BadField(
                Said(
                    "An offer is for {need} by {supplier}, of which one is not here.",
                    need=Quoted(offer.need),
                    supplier=Quoted(offer.supplier),
                ),
                f"offers[{n}]",
                "Add it, or take the offer out.",
            )
    for n, supplier in enumerate(request.suppliers):
        for k, each in enumerate(supplier.discounts):
            if each.last < each.first:
                raise BadField(
                    Said(
                        "Discount days of {supplier} end before they begin.", supplier=Quoted(supplier.name)
                    ),
                    f"suppliers[{n}].discounts[{k}]",
                    "Swap both days.",
                )


def _days(supplier: BasketSupplier, today: date) -> list[date]:
    """The days on which ordering there can pay: today, and the first day of each change of its discount; in between nothing changes."""
    turns = {each.first for each in supplier.discounts} | {
        each.last + timedelta(days=1) for each in supplier.discounts
    }
    return sorted({today} | {day for day in turns if day > today})


_Choice = tuple[BasketOffer, date]


def _in_time(request: BasketRequest) -> tuple[list[_Choice], dict[str, Said]]:
    """Every offer on every day on which it comes in time, and the needs for which there is none."""
    days = {each.name: _days(each, request.today) for each in request.suppliers}
    found: list[_Choice] = []
    lacking: dict[str, Said] = {}
    for need in request.needs:
        mine = [offer for offer in request.offers if offer.need == need.name]
        by = need.needed_by or date.max
        fits = [
            (offer, day)
            for offer in mine
            for day in days[offer.supplier]
            if day <= by and offer.days <= (by - day).days
        ]
        found += fits
        if not mine:
            lacking[need.name] = Said("Nobody has quoted it.")
        elif not fits:
            soonest = request.today + timedelta(days=min(offer.days for offer in mine))
            lacking[need.name] = Said(
                "Nobody has it there by {day}; the soonest is {soonest}.", day=Day(by), soonest=Day(soonest)
            )
    return found, lacking


def _discounted(price: Decimal, supplier: BasketSupplier, day: date, currency: str) -> int:
    """What an offer costs on a day, in pence."""
    percent = max(
        (each.percent for each in supplier.discounts if each.first <= day <= each.last), default=Decimal(0)
    )
    return Money(price * (1 - percent / 100), currency).minor


def _solved(
    request: BasketRequest, needs: Sequence[BasketNeed], offers: Sequence[_Choice]
) -> tuple[list[BasketOrder], int, int] | None:
    """Orders, cost and bound in pence; None where no split meets the least orders."""
    from ortools.sat.python import cp_model

    model, currency = cp_model.CpModel(), request.currency
    suppliers = {each.name: each for each in request.suppliers}
    kg = {need.name: need.kg for need in needs}
    take = [
        (
            offer,
            day,
            _discounted(offer.price, suppliers[offer.supplier], day, currency),
            model.new_bool_var(""),
        )
        for offer, day in offers
    ]
    for need in needs:
        model.add_exactly_one(x for offer, _, _, x in take if offer.need == need.name)
    terms: list[Any] = [cost * x for _, _, cost, x in take]
    for name, supplier in suppliers.items():
        per_kg = {
            offer.need: Money(supplier.carriage_kg * Decimal(str(kg.get(offer.need, 0.0))), currency).minor
            for offer, *_ in take
            if offer.supplier == name
        }
        for day in sorted({at for offer, at in offers if offer.supplier == name}):
            mine = [(offer, cost, x) for offer, at, cost, x in take if offer.supplier == name and at == day]
            used, worth = model.new_bool_var(""), sum(cost * x for _, cost, x in mine)
            model.add_max_equality(used, [x for *_, x in mine])
            if supplier.minimum:
                model.add(worth >= Money(supplier.minimum, currency).minor).only_enforce_if(used)
            most = Money(supplier.carriage, currency).minor + sum(per_kg.values())
            carriage = model.new_int_var(0, max(most, 0), "")
            asked = Money(supplier.carriage, currency).minor * used + sum(
                per_kg[offer.need] * x for offer, _, x in mine
            )
            if supplier.free_above is None:
                model.add(carriage == asked)
            else:
                free = model.new_bool_var("")
                model.add(worth >= Money(supplier.free_above, currency).minor).only_enforce_if(free)
                model.add(carriage >= asked).only_enforce_if(free.negated())
            terms.append(carriage)
    model.minimize(sum(terms))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers, solver.parameters.random_seed = 1, 1
    solver.parameters.max_deterministic_time = EFFORT
    status = solver.solve(model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    chosen = [(offer, day, cost) for offer, day, cost, x in take if solver.value(x)]
    orders, total = _orders(request, chosen, kg)
    return orders, total, max(0, round(solver.best_objective_bound))


def _orders(
    request: BasketRequest, chosen: Sequence[tuple[BasketOffer, date, int]], kg: dict[str, float]
) -> tuple[list[BasketOrder], int]:
    """The orders of a choice, and what they come to, in pence."""
    suppliers, currency = {each.name: each for each in request.suppliers}, request.currency
    groups: dict[tuple[date, str], list[tuple[BasketOffer, int]]] = {}
    for offer, day, cost in chosen:
        groups.setdefault((day, offer.supplier), []).append((offer, cost))
    orders, total = [], 0
    for (day, name), some in sorted(groups.items()):
        supplier, worth = suppliers[name], sum(cost for _, cost in some)
        carriage = carriage_minor(supplier, worth, [kg.get(offer.need, 0.0) for offer, _ in some], currency)
        total += worth + carriage
        orders.append(
            BasketOrder(
                supplier=name,
                day=day,
                needs=sorted(offer.need for offer, _ in some),
                goods=Money.from_minor(worth, currency),
                carriage=Money.from_minor(carriage, currency),
            )
        )
    return orders, total


def carriage_minor(supplier: BasketSupplier, worth: int, kgs: Sequence[float], currency: str) -> int:
    """What a supplier asks for carrying an order of so many pence, in pence."""
    if supplier.free_above is not None and worth >= Money(supplier.free_above, currency).minor:
        return 0
    return Money(supplier.carriage, currency).minor + sum(
        Money(supplier.carriage_kg * Decimal(str(kg)), currency).minor for kg in kgs
    )


def _later(
    orders: Sequence[BasketOrder], now: Sequence[BasketOrder], request: BasketRequest
) -> dict[str, int]:
    """Needs that come later than if all were ordered today, with how many days."""
    days = {(offer.need, offer.supplier): offer.days for offer in request.offers}

    def arrives(some: Sequence[BasketOrder]) -> dict[str, date]:
        return {
            need: order.day + timedelta(days=days[need, order.supplier])
            for order in some
            for need in order.needs
        }

    mine, other = arrives(orders), arrives(now)
    return {
        need: (day - other[need]).days
        for need, day in sorted(mine.items())
        if need in other and day > other[need]
    }


def _words(
    orders: Sequence[BasketOrder],
    total: Money,
    today: Money | None,
    saves: Money,
    later: dict[str, int],
    lacking: dict[str, Said],
    proved: bool,
    gap: float,
) -> Said:
    parts: list[str] = []
    if orders:
        sure = (
            Said("no split costs less") if proved else Said("within {gap:.1f} % of the least", gap=100 * gap)
        )
        parts.append(
            Said(
                "{orders} for {total}: {sure}.",
                orders=Count(len(orders), "order", "orders"),
                total=Quoted(str(total)),
                sure=sure,
            )
        )
    if saves.amount > 0 and today:
        parts.append(Said("Waiting saves {saves}.", saves=Quoted(str(saves))))
    if later:
        held = Listed(
            tuple(
                Said("{need} by {days} days", need=Quoted(need), days=days)
                for need, days in list(later.items())[:3]
            )
        )
        parts.append(Said("It holds up {held}.", held=held))
    if lacking:
        parts.append(
            Said("Nothing in time for {needs}.", needs=Listed(tuple(Quoted(need) for need in lacking)))
        )
    return joined(parts) if parts else Said("There is nothing to order.")
