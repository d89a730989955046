"""What the demo's owner bought in nineteen months: receipts by supplier and currency, credit notes, what was sold on; all made up, to the penny."""

import io
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from reportlab.pdfgen.canvas import Canvas

from yellow_sill.web.parts.bank_services import book_payment, keep_statement, proposals, take_lines, to_pay
from yellow_sill.web.parts.models import Need, PartOrder, Receipt
from yellow_sill.web.parts.money_services import keep_budget, keep_terms
from yellow_sill.web.parts.need_services import taken
from yellow_sill.web.parts.order_services import keep_supplier
from yellow_sill.web.parts.receipt_services import keep_receipt, lines_of, mirror
from yellow_sill.web.parts.trade_services import agree, keep_surplus, make_paper, sell
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .made_up import OWNER
from .pictures import drawn_part, drawn_picture

#: Name, carriage, by the kg, free above, least order, discount days from today (first, last, per cent).
SUPPLIERS = (
    ("Lantern Panels", "18.50", "0", "300", "25", (3, 6, "25")),
    ("Old Tin Barn", "9.00", "0.80", None, "0", None),
    ("North Gate Parts", "30.10", "0", None, "40", None),
    ("Harbour Breakers", "25.00", "1.20", None, "0", None),
    ("Mill Lane Trim", "14.25", "0", "250", "0", None),
)  # fmt: skip
#: Days ago, supplier, currency and rate, tax in the prices, carriage, lines: item, quantity, price, tax, kind, place of its repair or None, number of its need or 0.
RECEIPTS: tuple[tuple[Any, ...], ...] = (
    (576, "Harbour Breakers", "GBP", "1", True, "0", (("Donor shell, left half", 1, "340.00", "0", "part", None, 0), ("Collection by trailer", 1, "60.00", "0", "carriage", None, 0))),
    (560, "Corner Tool Hire", "GBP", "1", True, "0", (("Hoist, weekend", 1, "48.00", "20", "tool", None, 0), ("Trolley jack, 2 t", 1, "74.90", "20", "tool", None, 0))),
    (541, "Plain & Bright", "GBP", "1", False, "6.50", (("Welding mask, self-darkening", 1, "86.00", "20", "tool", None, 0), ("Leather gloves", 2, "11.40", "20", "tool", None, 0), ("Ear muffs", 1, "18.20", "20", "tool", None, 0), ("Respirator with filters", 1, "31.25", "20", "tool", None, 0))),
    (505, "Old Tin Barn", "GBP", "1", True, "9.00", (("Front panel, old stock", 1, "132.00", "20", "part", None, 0), ("Bonnet lock plate", 1, "14.20", "20", "part", None, 0))),
    (474, "North Gate Parts", "EUR", "0.87", True, "35.00", (("Floor edge, left", 1, "64.00", "19", "part", None, 0), ("Floor edge, right", 1, "64.00", "19", "part", None, 0), ("Cross member end", 2, "18.90", "19", "part", None, 0))),
    (433, "Grit Hall", "GBP", "1", False, "0", (("Blasting, bonnet and boot lid", 1, "120.00", "20", "service", None, 0),)),
    (400, "Mill Lane Trim", "SEK", "0.076", True, "120", (("Sound deadening, 4 m²", 1, "480.00", "25", "part", None, 0), ("Contact adhesive, 1 l", 2, "96.00", "25", "consumable", None, 0))),
    (207, "Grit Hall", "GBP", "1", False, "0", (("Blasting of the doors", 1, "79.17", "20", "service", None, 23),)),
    (160, "Harbour Breakers", "GBP", "1", True, "0", (("Battery tray", 1, "22.00", "0", "part", None, 14), ("Bonnet lock spring", 1, "4.00", "0", "part", None, 36))),
    (147, "Old Tin Barn", "GBP", "1", True, "0", (("Outrigger", 1, "61.00", "20", "part", None, 11), ("Grille clips", 6, "3.40", "20", "part", None, 35), ("Number plate lamp", 1, "21.00", "20", "part", None, 34))),
    (131, "Turner's Row", "GBP", "1", True, "0", (("Machining of the brake drums", 2, "32.00", "20", "service", None, 24),)),
    (107, "Harbour Breakers", "GBP", "1", True, "25.00", (("Rear lamp, left", 1, "38.00", "0", "part", None, 33),)),
    (92, "Old Tin Barn", "GBP", "1", True, "0", (("Fuel tank", 1, "185.00", "20", "part", None, 26), ("Door hinge, upper", 1, "34.00", "20", "part", None, 15), ("Door hinge, lower", 1, "34.00", "20", "part", None, 16))),
    (84, "Harbour Breakers", "GBP", "1", True, "0", (("Fuel filler neck", 1, "18.00", "0", "part", None, 27),)),
    (74, "Lantern Panels", "GBP", "1", True, "0", (("Inner sill, left", 1, "92.00", "20", "part", 1, 9), ("Sill end closing piece", 1, "14.50", "20", "part", 1, 10), ("Sill drain plugs", 4, "1.80", "20", "part", 1, 32))),
    (64, "North Gate Parts", "EUR", "0.85", True, "12.00", (("Bump stop, left", 1, "9.20", "19", "part", None, 29), ("Bump stop, right", 1, "9.20", "19", "part", None, 30))),
    (57, "North Gate Parts", "EUR", "0.86", True, "35.00", (("Front wing, left", 1, "231.00", "19", "part", None, 0),)),
    (46, "Lantern Panels", "GBP", "1", True, "0", (("Floor pan repair section", 1, "118.00", "20", "part", None, 12),)),
    (39, "Harbour Breakers", "GBP", "1", True, "30.00", (("Front wing, left, used", 1, "120.00", "0", "part", None, 2),)),
    (21, "Harbour Breakers", "GBP", "1", True, "45.00", (("Rear floor section with seat cross member", 1, "160.00", "0", "part", None, 13),)),
)  # fmt: skip
#: Receipts of a shop that is visited each month: what varies from one visit to the next.
MONTHLY = (
    ("Cutting discs 1.0 mm, box of 25", "18.90", "consumable"), ("Flap discs 60, 5", "11.40", "consumable"), ("Masking film and tape", "7.85", "consumable"),
    ("Wire 0.6 mm, 0.7 kg", "9.95", "consumable"), ("Brake cleaner, 5 l", "16.40", "consumable"), ("Spot-weld drill bits, 3", "14.10", "consumable"),
    ("Contact tips 0.6, 10", "5.60", "consumable"), ("Grinding paper, mixed", "8.25", "consumable"),
)  # fmt: skip
COATS = (
    ("Epoxy primer, 1 l set", "38.00"),
    ("Seam sealer, cartridge", "9.60"),
    ("Cavity wax, 1 l", "12.75"),
    ("Stone guard, 1 l", "14.30"),
)
#: What was sold on: name, asking price, fetched and to whom (None: not yet), note.
SURPLUS = (
    ("Donor door, right", "85.00", ("70.00", 210, "a club member"), "sound, one dent"), ("Donor bonnet", "110.00", ("95.00", 180, "a club member"), "straight"),
    ("Quarter light glass, right", "20.00", None, "bought used, not needed; too late to send it back"), ("Engine hoist", "140.00", None, "2 t, used twice"),
)  # fmt: skip


def money(vehicle: Vehicle, repairs: list[Repair], today: date) -> None:
    """The whole ledger, with suppliers, budget, terms, a bank statement, surplus and an agreed estimate."""
    _suppliers(vehicle, today)
    _orders(vehicle)
    needs = {each.number: each.pk for each in vehicle.needs.all()}
    kept = [_receipt(vehicle, repairs, needs, today, *row) for row in RECEIPTS]
    for month in range(18):
        _shop(vehicle, repairs, today, month)
    wing, lamp = (next(each for each in kept if each.lines.filter(item__startswith=item).exists()) for item in ("Front wing, left", "Rear lamp"))  # fmt: skip
    mirror(wing, day=today - timedelta(36), by=OWNER)
    mirror(lamp, day=today - timedelta(94), by=OWNER)
    _surplus(vehicle, today)
    _set_aside(vehicle)
    _statement(vehicle, today)
    estimate = make_paper(vehicle, "estimate", ["R-02", "R-03"], customer="Ida Marlow", note="Sill end and rear arch, left.", today=today, by=OWNER)  # fmt: skip
    agree(estimate, "Ida Marlow", day=today, today=today, version=None, by=OWNER)


def _orders(vehicle: Vehicle) -> None:
    """What was ordered on one day from one supplier is one order."""
    found: dict[tuple[date, str], list[Need]] = {}
    for need in vehicle.needs.prefetch_related("steps", "quotes"):
        quote = taken(need)
        ordered = [step.made_on for step in need.steps.all() if step.state == "ordered"]
        if quote and ordered and quote.source != "made":
            found.setdefault((ordered[-1], quote.name), []).append(need)
    for number, ((day, supplier), needs) in enumerate(
        sorted(found.items(), key=lambda each: each[0]), start=1
    ):
        order = PartOrder.objects.create(
            vehicle=vehicle, number=number, supplier=supplier, ordered_on=day, by=OWNER, changed_by=OWNER
        )
        for need in needs:
            need.set_fields(OWNER, order=order)


def _suppliers(vehicle: Vehicle, today: date) -> None:
    for name, carriage, kg, free, least, sale in SUPPLIERS:
        discounts = []
        if sale:
            first, last = (str(today + timedelta(days)) for days in sale[:2])
            discounts = [{"first": first, "last": last, "percent": sale[2]}]
        values = {
            "name": name, "carriage": Decimal(carriage), "carriage_kg": Decimal(kg), "free_above": Decimal(free) if free else None, "minimum": Decimal(least),
            "discounts": discounts, "address": "", "note": "",
        }  # fmt: skip
        keep_supplier(vehicle, values, stored=None, version=None, by=OWNER)


def receipt_head(ago: int, supplier: str, today: date, **more: Any) -> dict[str, Any]:
    usual = {
        "currency": "GBP", "rate": Decimal(1), "tax_in": True, "rounds": "line", "discount": Decimal(0), "discount_after": False, "carriage": Decimal(0),
        "printed": None, "credit": False, "despite": "", "note": "", "reference": "",
    }  # fmt: skip
    return usual | {"day": today - timedelta(ago), "supplier": supplier} | more


def receipt_line(
    item: str, quantity: Any, price: str, tax: str, kind: str, repair: Repair | None, need: int | None
) -> dict[str, Any]:
    return {
        "item": item, "quantity": Decimal(quantity), "unit_price": Decimal(price), "tax_rate": Decimal(tax), "discount": Decimal(0), "kind": kind,
        "repair_id": repair.pk if repair else None, "need_id": need,
    }  # fmt: skip


def _receipt(
    vehicle: Vehicle, repairs: list[Repair], needs: dict[int, int], today: date, ago: int, supplier: str, currency: str, rate: str, tax_in: bool, carriage: str,
    lines: Any,
) -> Receipt:  # fmt: skip
    rows = [
        receipt_line(item, quantity, price, tax, kind, None if place is None else repairs[place], needs.get(need)) for item, quantity, price, tax, kind, place, need in lines
    ]  # fmt: skip
    head = receipt_head(ago, supplier, today, currency=currency, rate=Decimal(rate), tax_in=tax_in, carriage=Decimal(carriage), reference=f"{supplier[:2].upper()}-{7000 + ago}")  # fmt: skip
    upload = None
    if ago == 39:
        upload = SimpleUploadedFile("receipt.jpg", drawn_picture(39), "image/jpeg")
    if ago == 74:
        upload = SimpleUploadedFile("receipt.pdf", _printed(supplier, rows), "application/pdf")
    return keep_receipt(vehicle, head, rows, upload=upload, stored_as=None, version=None, by=OWNER)


def _printed(supplier: str, rows: list[dict[str, Any]]) -> bytes:
    """A receipt as a made-up firm prints it."""
    stream = io.BytesIO()
    page = Canvas(stream, pagesize=(300, 400))
    page.setFont("Helvetica-Bold", 16)
    page.drawString(30, 350, supplier)
    page.setFont("Courier", 10)
    for n, row in enumerate(rows):
        page.drawString(
            30,
            310 - 18 * n,
            f"{row['quantity']} x {row['item'][:24]:<24} {row['quantity'] * row['unit_price']:>8.2f}",
        )
    total = sum(row["quantity"] * row["unit_price"] for row in rows)
    page.drawString(30, 300 - 18 * len(rows), f"{'to pay':<28} {total:>8.2f}")
    page.save()
    return stream.getvalue()


def _shop(vehicle: Vehicle, repairs: list[Repair], today: date, month: int) -> None:
    """A month's visit: consumables from one shop, every other month coats from another, gas every fourth."""
    ago = 560 - 31 * month
    repair = repairs[month % 2] if ago < 200 else None
    picks = [MONTHLY[(month * 3 + n) % len(MONTHLY)] for n in range(4)]
    rows = [
        receipt_line(item, 1 + (month + n) % 2, price, "20", kind, repair, None)
        for n, (item, price, kind) in enumerate(picks)
    ]
    keep_receipt(vehicle, receipt_head(ago, "Fallow & Pike", today, discount=Decimal(5 if month % 6 == 0 else 0)), rows, upload=None, stored_as=None, version=None, by=OWNER)  # fmt: skip
    if month % 2 == 0:
        item, price = COATS[month // 2 % len(COATS)]
        rows = [receipt_line(item, 1, price, "20", "coating", repair, None)]
        keep_receipt(vehicle, receipt_head(ago - 9, "Coat Cellar", today, tax_in=False, carriage=Decimal("4.95")), rows, upload=None, stored_as=None, version=None, by=OWNER)  # fmt: skip
    if month % 4 == 1:
        rows = [receipt_line("Shield gas, refill", 1, "46.00", "20", "consumable", None, None)]
        keep_receipt(vehicle, receipt_head(ago - 4, "Harbour Gas", today, tax_in=False), rows, upload=None, stored_as=None, version=None, by=OWNER)  # fmt: skip


def _surplus(vehicle: Vehicle, today: date) -> None:
    for n, (name, asking, sold, note) in enumerate(SURPLUS):
        photo = SimpleUploadedFile("it.jpg", drawn_part(name), "image/jpeg") if n < 2 else None
        thing = keep_surplus(vehicle, {"name": name, "asking": Decimal(asking), "note": note}, photo=photo, stored=None, version=None, by=OWNER)  # fmt: skip
        if sold:
            price, ago, to = sold
            sell(thing, price=Decimal(price), to=to, day=today - timedelta(ago), today=today, by=OWNER)


def _set_aside(vehicle: Vehicle) -> None:
    terms = {"hour": Decimal(15), "charge": Decimal(48), "mark_up": Decimal(12), "tax_rate": Decimal(20)}
    keep_terms(vehicle, terms, version=None, by=OWNER)
    for name, amount, numbers, kinds in (
        ("Sill, left", "500", [2], []), ("Quarter, left", "350", [1], []), ("Parts for everything else", "2400", [], ["part", "service", "carriage"]),
        ("What is used up", "1000", [], ["consumable", "coating", "steel"]), ("Tools", "320", [], ["tool"]),
    ):  # fmt: skip
        keep_budget(vehicle, {"name": name, "amount": Decimal(amount), "repairs": numbers, "kinds": kinds}, stored=None, version=None, by=OWNER)  # fmt: skip


def _statement(vehicle: Vehicle, today: date) -> None:
    """Three months of the bank: most of what was bought, some of it booked, a few payments that are not of the vehicle."""
    since = today - timedelta(100)
    rows = [["Booked", "Text", "Amount"]]
    for receipt in vehicle.receipts.filter(day__gte=since).order_by("day"):
        whole = sum(line.gross_minor for line in lines_of(receipt))
        rows.append([f"{receipt.day + timedelta(2):%d.%m.%Y}", f"CARD {receipt.supplier.upper()}", f"{-whole / 100:.2f}".replace(".", ",")])  # fmt: skip
    rows += [[f"{today - timedelta(30):%d.%m.%Y}", "GROCER CORNER STREET", "-48,20"], [f"{today - timedelta(18):%d.%m.%Y}", "CARD PLAIN & BRIGHT", "-23,75"]]  # fmt: skip
    stored = keep_statement(vehicle, "statement.csv", rows, by=OWNER)
    columns = {"day": 0, "amount": 2, "text": 1, "credit": None, "out_above": False, "months_first": False}
    take_lines(stored, columns, True, version=None, by=OWNER)
    lines = list(vehicle.bank_lines.order_by("day", "pk"))
    found = proposals(vehicle, lines, to_pay(vehicle, [line.day for line in lines]))
    for line in lines[:9]:
        if line.pk in found and found[line.pk].sure:
            book_payment(line, found[line.pk].receipt, by=OWNER)
