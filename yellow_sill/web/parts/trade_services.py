"""What is sold on, and the sheets for a customer."""

from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from typing import Any

from django.core.files.uploadedfile import UploadedFile
from django.db.models import Sum

from yellow_sill.core.errors import BadField
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.customer import CustomerRequest, CustomerSheet, agreed_total, customer_sheet
from yellow_sill.web.cut.hours import planned_hours
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.pictures import kept_with
from yellow_sill.web.shells.models import Vehicle

from .models import CostLine, CustomerPaper, Surplus
from .money_services import coming_of, terms_of


@one_change
def keep_surplus(
    vehicle: Vehicle, values: Mapping[str, Any], *, photo: UploadedFile | None, stored: Surplus | None, version: int | None, by: str
) -> Surplus:  # fmt: skip
    """Store something that can be sold on. Raises: BadField for a photo that is none; ChangedMeanwhile."""

    def store(file: dict[str, str]) -> Surplus:
        if stored is not None:
            stored.save_as(version, by, **values, **file)
            return stored
        number = Surplus.next_number(vehicle=vehicle)
        return Surplus.objects.create(vehicle=vehicle, number=number, by=by, changed_by=by, **values, **file)

    return kept_with(photo, store)


@one_change
def drop_surplus(stored: Surplus, *, version: int | None) -> None:
    """Raises: ChangedMeanwhile; BadField where it is sold."""
    stored.require_version(version)
    if stored.line_id:
        raise BadField("It is sold: its income stands in the ledger.", "line", "Take the sale back first.")
    stored.delete()


@one_change
def sell(stored: Surplus, *, price: Decimal, to: str, day: date, today: date, by: str) -> CostLine:
    """Write down that it was sold: the income enters the ledger. Raises: BadField: sold already, a day to come."""
    if stored.line_id:
        raise BadField("It is sold already.", "line")
    if day > today:
        raise BadField("That day has not come yet.", "sold_on", "Give the day on which it was sold.")
    line = CostLine.objects.create(
        vehicle=stored.vehicle, bought_on=day, supplier=to[:80], item=stored.name, kind="sold", quantity=Decimal(1), unit_price=price, tax_rate=Decimal(0),
        tax_included=True, back=True, by=by, changed_by=by,
    )  # fmt: skip
    stored.set_fields(by, line=line)
    return line


@one_change
def unsell(stored: Surplus, *, by: str) -> None:
    """Take a sale back, with its income. Raises: BadField where it is not sold."""
    line = stored.line
    if line is None:
        raise BadField("It is not sold.", "line")
    stored.set_fields(by, line=None)
    line.delete()


def hours_and_parts(vehicle: Vehicle, paper: str, today: date) -> list[dict[str, Any]]:
    """Each repair as a sheet asks it: a bill what was worked and bought, anything else what is planned, or was worked already where that is more."""
    planned = planned_hours(vehicle)
    worked = dict(vehicle.work_entries.exclude(repair=None).order_by().values_list("repair__number").annotate(all=Sum("minutes")))  # fmt: skip
    parts: dict[int, list[dict[str, Any]]] = {}
    rows = vehicle.cost_lines.exclude(repair=None).order_by("bought_on", "pk")
    for number, item, net in rows.values_list("repair__number", "item", "net_minor"):
        amount = Money.from_minor(net, vehicle.currency).amount
        parts.setdefault(number, []).append({"item": item, "net": str(amount)})
    if paper != "bill":
        for each in coming_of(vehicle, today):
            if each["repair"] and each.get("likely") is not None:
                parts.setdefault(each["repair"], []).append({"item": f"{each['what']} (expected)"[:120], "net": str(each["likely"])})  # fmt: skip
    found = []
    for repair in vehicle.repairs.order_by("number"):
        minutes = worked.get(repair.number, 0)
        if paper != "bill":
            minutes = max(minutes, round(sum(planned.get(repair.number, {}).values())))
        if not minutes and repair.number not in parts:
            continue
        hours = (Decimal(minutes) / 60).quantize(Decimal("0.01"))
        found.append({"code": repair.code, "title": repair.title[:120], "hours": str(hours), "parts": parts.get(repair.number, [])})  # fmt: skip
    return found


def sheet_of(paper: CustomerPaper, agreed: Decimal | None) -> CustomerSheet:
    """What a paper asks, beside what was agreed. Raises: BadField."""
    return customer_sheet(
        CustomerRequest.read({
            "paper": paper.paper, "currency": paper.vehicle.currency, "hour": paper.charge, "mark_up": paper.mark_up, "tax_rate": paper.tax_rate,
            "agreed": agreed, "repairs": paper.repairs,
        })
    )  # fmt: skip


def agreed_before(paper: CustomerPaper) -> Decimal | None:
    """With tax, what the customer agreed to before this paper for its repairs: for each the last sheet that has it; None for nothing."""
    codes = {each["code"] for each in paper.repairs}
    nets: dict[str, Money] = {}
    earlier = paper.vehicle.papers.filter(
        number__lt=paper.number, paper__in=("estimate", "variation")
    ).exclude(agreed_on=None)
    for each in earlier.order_by("number"):
        nets |= {told.code: told.sum for told in sheet_of(each, None).repairs if told.code in codes}
    whole = agreed_total(list(nets.values()), paper.tax_rate)
    return whole.amount if whole else None


@one_change
def make_paper(
    vehicle: Vehicle, paper: str, codes: list[str], *, customer: str, note: str, today: date, by: str
) -> CustomerPaper:
    """Write an estimate, a variation or a bill over some repairs, as everything stands now. Raises: BadField: no terms, no repair."""
    terms = terms_of(vehicle)
    if not terms.charge:
        raise BadField(
            "What a customer's hour costs is not said.", "charge", "Say it with the terms on the money page."
        )
    repairs = [each for each in hours_and_parts(vehicle, paper, today) if each["code"] in codes]
    if not repairs:
        raise BadField("No repair is chosen.", "repairs", "Tick the repairs that the sheet is for.")
    number = CustomerPaper.next_number(vehicle=vehicle)
    made = CustomerPaper.objects.create(
        vehicle=vehicle, number=number, paper=paper, made_on=today, customer=customer, charge=terms.charge, mark_up=terms.mark_up,
        tax_rate=terms.tax_rate, repairs=repairs, note=note, by=by, changed_by=by,
    )  # fmt: skip
    sheet_of(made, None)
    return made


@one_change
def agree(paper: CustomerPaper, who: str, *, day: date, today: date, version: int | None, by: str) -> None:
    """Write down who agreed to it, and when. Raises: BadField: nobody, a day to come or before it was made, a bill; ChangedMeanwhile."""
    paper.require_version(version)
    if paper.paper == "bill":
        raise BadField("A bill is not agreed to; it is paid.", "agreed_by")
    if not who.strip():
        raise BadField("Who agreed is not said.", "agreed_by", "Type the name.")
    if day > today or day < paper.made_on:
        raise BadField("It cannot have been agreed on that day.", "agreed_on", "From the day of the sheet until today.")  # fmt: skip
    paper.set_fields(by, agreed_by=who.strip()[:120], agreed_on=day)


@one_change
def disagree(paper: CustomerPaper, *, version: int | None, by: str) -> None:
    """Take an agreement back. Raises: ChangedMeanwhile."""
    paper.require_version(version)
    paper.set_fields(by, agreed_by="", agreed_on=None)


@one_change
def drop_paper(paper: CustomerPaper, *, version: int | None) -> None:
    """Raises: BadField for one that was agreed to; ChangedMeanwhile."""
    paper.require_version(version)
    if paper.agreed_on:
        raise BadField("It was agreed to.", "agreed_on", "Take the agreement back first.")
    paper.delete()
