"""Orders: suppliers with their carriage and discount days, the basket that is asked of the core, orders that are placed and followed."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from decimal import Decimal
from typing import Any

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.basket import BasketRequest, BasketSupplier
from yellow_sill.core.parts.wire import ORDER_STATES, CatalogueItem, OrderTold, require_same_price
from yellow_sill.web.frame import jobs
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.models import Job
from yellow_sill.web.shells.models import Vehicle

from . import catalogue
from .models import Need, NeedQuote, PartOrder, Supplier
from .need_services import as_core, choose, compared, go_on, keep_quote, needs_of, state_of

#: Needs in these states can be ordered; sources that nobody orders.
OPEN, NOT_BOUGHT = ("wanted", "quoted", "returned"), ("made",)
SUPPLIER = ("name", "carriage", "carriage_kg", "free_above", "minimum", "discounts")


@one_change
def keep_supplier(
    vehicle: Vehicle, values: Mapping[str, Any], *, stored: Supplier | None, version: int | None, by: str
) -> Supplier:
    """Store a supplier, a new one where ``stored`` is None. Raises: BadField: a name twice, what no supplier can have, a bad address; ChangedMeanwhile."""
    told = dict(values)
    if told["address"]:
        told["address"] = catalogue.require_address(told["address"])
    for each in told["discounts"]:
        if each["last"] < each["first"]:
            raise BadField("The discount days end before they begin.", "discounts", "First day, last day, per cent.")  # fmt: skip
    BasketSupplier.read({name: told[name] for name in SUPPLIER})
    others = vehicle.suppliers.exclude(pk=stored.pk) if stored else vehicle.suppliers
    if others.filter(name=told["name"]).exists():
        raise BadField("There is a supplier of that name.", "name", "Change that one.")
    if stored is not None:
        stored.save_as(version, by, **told)
        return stored
    number = Supplier.next_number(vehicle=vehicle)
    return Supplier.objects.create(vehicle=vehicle, number=number, by=by, changed_by=by, **told)


@one_change
def drop_supplier(stored: Supplier, *, version: int | None) -> None:
    """Raises: ChangedMeanwhile."""
    stored.require_version(version)
    stored.delete()


def key_of(need: Need) -> str:
    """A need's name in a basket: its number makes it the only one."""
    return f"{need.number} {need.name}"[:80]


def to_order(vehicle: Vehicle) -> list[Need]:
    """The needs that nobody has ordered, with something that can be bought."""
    return [each for each in needs_of(vehicle) if _state(each) in OPEN and any(quote.source not in NOT_BOUGHT for quote in each.quotes.all())]  # fmt: skip


def _state(need: Need) -> str:
    step = state_of(need)
    return step.state if step else "wanted"


def paid_minor(need: Need, quote: NeedQuote, *, carriage: bool) -> Money:
    """What a quote comes to for its need in the own currency, with tax."""
    worth = quote.price * need.quantity + (quote.carriage if carriage else 0)
    return Money(as_core(quote).own(worth), need.vehicle.currency).rounded()


def offers_of(vehicle: Vehicle, needs: Iterable[Need]) -> list[tuple[Need, list[tuple[NeedQuote, Money]]]]:
    """Each need with what can be bought for it, the least to pay first (with its own carriage)."""
    found = []
    for need in needs:
        need.vehicle = vehicle
        offers = [
            (quote, paid_minor(need, quote, carriage=True))
            for quote in need.quotes.all()
            if quote.source not in NOT_BOUGHT
        ]
        found.append((need, sorted(offers, key=lambda each: each[1].amount)))
    return found


def basket_values(vehicle: Vehicle, today: date) -> dict[str, Any] | None:
    """What the basket is asked: a supplier that is written down has its own carriage, any other one the carriage of its dearest quote. None: nothing open."""
    needs = to_order(vehicle)
    known = {each.name: each for each in vehicle.suppliers.all()}
    offers: list[dict[str, Any]] = []
    suppliers: dict[str, dict[str, Any]] = {
        name: {field: getattr(each, field) for field in SUPPLIER} for name, each in known.items()
    }
    for need in needs:
        need.vehicle = vehicle
        for quote in need.quotes.all():
            if quote.source in NOT_BOUGHT:
                continue
            if quote.name not in known:
                carriage = Money(as_core(quote).own(quote.carriage), vehicle.currency).rounded().amount
                there = suppliers.setdefault(quote.name, {"name": quote.name, "carriage": Decimal(0)})
                there["carriage"] = max(there["carriage"], carriage)
            offers.append({
                "need": key_of(need), "supplier": quote.name, "price": paid_minor(need, quote, carriage=False).amount, "days": quote.days,
            })  # fmt: skip
    if not offers:
        return None
    used = {each["supplier"] for each in offers}
    return BasketRequest.read({
        "needs": [{"name": key_of(each), "needed_by": each.needed_by, "kg": each.kg} for each in needs], "offers": offers,
        "suppliers": [each for name, each in suppliers.items() if name in used], "currency": vehicle.currency, "today": today,
    }).model_dump(mode="json")  # fmt: skip


def ask_basket(vehicle: Vehicle, today: date) -> Job:
    """Have the basket worked out beside the pages. Raises: BadField where nothing can be ordered."""
    values = basket_values(vehicle, today)
    if values is None:
        raise BadField(
            "Nothing can be ordered: no open need has a quote of something to buy.", "basket", "Write quotes down first."
        )  # fmt: skip
    return jobs.ask("basket", vehicle.pk, values)


@one_change
def place_order(
    vehicle: Vehicle, supplier: str, keys: Sequence[str], *, why: str, by_wire: bool, today: date, by: str
) -> PartOrder:
    """Order needs from one supplier: the quote is taken, each goes on to ordered.

    With ``by_wire`` each is asked of the supplier's catalogue first, at the quoted price; what the supplier took is ordered, even where it refuses
    a later one: that is told in the order then.
    Raises: BadField: a need that is not open any more or has no quote of this supplier, another price than the quoted one; NoAnswer.
    """
    open_ = {key_of(each): each for each in to_order(vehicle)}
    picked: list[tuple[Need, NeedQuote]] = []
    for key in keys:
        need = open_.get(key)
        quote = next((each for each in need.quotes.all() if each.name == supplier), None) if need else None
        if need is None or quote is None:
            raise BadField(f"'{key}' is not to be ordered from {supplier} any more.", "basket", "Have the basket worked out again.")  # fmt: skip
        picked.append((need, quote))
    if not picked:
        raise BadField("Nothing is ticked.", "basket", "Tick what is ordered.")
    number = PartOrder.next_number(vehicle=vehicle)
    told: dict[str, Any] = {}
    if by_wire:
        picked, told = _wired(vehicle, supplier, picked, number)
    order = PartOrder.objects.create(
        vehicle=vehicle, number=number, supplier=supplier, ordered_on=today, note=why[:300], by=by, changed_by=by, **told
    )  # fmt: skip
    for need, quote in picked:
        best = compared(need, hour=Decimal(0), today=today)
        choose(
            need,
            quote.number,
            why or f"as the basket proposes, order {number}",
            best=best.chosen if best else "",
            by=by,
        )
        need.set_fields(by, order=order)
        step = state_of(need)
        usual = step is not None and step.state == "quoted"
        go_on(need, "ordered", day=today, today=today, why="" if usual else f"order {number} to {supplier}", by=by)  # fmt: skip
    return order


def _wired(
    vehicle: Vehicle, supplier: str, rows: list[tuple[Need, NeedQuote]], number: int
) -> tuple[list[tuple[Need, NeedQuote]], dict[str, Any]]:
    """Send an order; what of it the supplier took, and the fields that it told. Raises: BadField, NoAnswer: nothing was taken."""
    stored = vehicle.suppliers.filter(name=supplier).first()
    if stored is None or not stored.address:
        raise BadField(f"{supplier} has no catalogue that answers.", "basket", "Order by hand, and write it down.")  # fmt: skip
    for need, quote in rows:
        if need.quantity != need.quantity.to_integral_value():
            raise BadField(f"{need.name}: a catalogue takes whole numbers.", "basket", "Order it by hand.")
        if not quote.ref:
            raise BadField(f"The quote for {need.name} is not from the catalogue.", "basket", "Look it up there first.")  # fmt: skip
        now = catalogue.item(stored.address, quote.ref)
        require_same_price(Money(quote.price, quote.currency), Money(now.price, now.currency))
    taken_rows: list[tuple[Need, NeedQuote]] = []
    answers: list[OrderTold] = []
    refused = ""
    for need, quote in rows:
        mine = f"{vehicle.pk}-{number}-{need.number}-{quote.version}"
        try:
            answers.append(
                catalogue.place(
                    stored.address, ref=quote.ref, quantity=need.quantity, price=quote.price, mine=mine
                )
            )
        except CoreError as error:
            if not answers:
                raise
            refused = f"{need.name} was not taken: {error.what}"
            break
        taken_rows.append((need, quote))
    last = max(answers, key=lambda each: each.expected or date.min)
    words = [each.words for each in answers if each.words] + [refused]
    return taken_rows, {
        "reference": " ".join(each.order for each in answers)[:60], "state": last.state, "expected": last.expected,
        "told": "; ".join(each for each in words if each)[:300],
    }  # fmt: skip


@one_change
def ask_how_far(order: PartOrder, *, by: str) -> str:
    """Ask the supplier how far an order is and write it down; what it says in words. Raises: NoAnswer, BadField."""
    stored = order.vehicle.suppliers.filter(name=order.supplier).first()
    if stored is None or not stored.address or not order.reference:
        raise BadField("This order was not sent to a catalogue.", "order", "Ask them by telephone.")
    answers = [catalogue.how_far(stored.address, each) for each in order.reference.split()]
    slowest = min(answers, key=lambda each: list(ORDER_STATES).index(each.state))
    refs = {taken.ref for need in order.needs.all() if (taken := _quote_of(need, order.supplier))}
    wrong = [each.delivered for each in answers if each.delivered and each.delivered not in refs]
    words = "; ".join(dict.fromkeys(each.words for each in answers if each.words))
    if wrong:
        words = f"{words}; packed was {', '.join(wrong)}, which was not ordered".strip("; ")
    order.set_fields(by, state=slowest.state, expected=slowest.expected, told=words[:300])
    return f"{ORDER_STATES[slowest.state]}{f': {words}' if words else ''}"


def _quote_of(need: Need, supplier: str) -> NeedQuote | None:
    return next((each for each in need.quotes.all() if each.name == supplier), None)


@one_change
def quote_from(
    need: Need, supplier: Supplier, found: CatalogueItem, rate: Decimal, *, today: date, by: str
) -> NeedQuote:
    """Write an article of a catalogue down as a quote; what that supplier quoted before is replaced.

    Raises: BadField: the wrong hand, what no quote can have; ChangedMeanwhile.
    """
    if need.side and found.hand and found.hand != need.side:
        raise BadField(
            f"That is a {found.hand} one; a {need.side} one is wanted.", "ref", "Take the other hand."
        )
    old = _quote_of(need, supplier.name)
    values = {
        "name": supplier.name, "source": found.source, "price": found.price, "currency": found.currency, "rate": rate, "carriage": found.carriage,
        "days": found.days, "late_days": found.late_days, "ref": found.ref, "tax_in": True, "lacks": old.lacks if old else [],
        "note": f"{found.name} {found.hand}, {found.stock} in stock on {today:%d.%m.%Y}"[:300],
    }  # fmt: skip
    return keep_quote(need, values, stored=old, version=None, by=by)
