"""What parts put on paper: an order, what is wanted for a breaker or a forum, a customer's sheet."""

from collections.abc import Iterable
from decimal import Decimal

from yellow_sill.core.formats.record_pdf import RecordSheet, Section, record_pdf
from yellow_sill.core.formats.sketch import Sketch
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.customer import NO_TAX_PAPER, CustomerSheet
from yellow_sill.web.frame.pictures import photo_path
from yellow_sill.web.shells.models import Vehicle

from .forms import plain
from .models import CustomerPaper, Need, PartOrder
from .need_services import taken
from .order_services import paid_minor

#: Half the size of the cross that marks a place, mm on the shell.
CROSS_MM = 70.0
#: Work that is given to somebody is on no page for breakers.
NOT_FOUND = {"made", "made by others", "refurbished"}


def to_find(need: Need) -> bool:
    """Whether somebody else may have it lying: not what is only made or given away to be worked on."""
    sources = {quote.source for quote in need.quotes.all()}
    return not sources or bool(sources - NOT_FOUND)


def _count(need: Need) -> str:
    return plain(need.quantity)


def _facts(need: Need) -> list[tuple[str, str]]:
    """What a need says of itself, without who wants it."""
    rows = [
        ("How many", _count(need)), ("Hand", need.get_hand_display() if need.hand else "either, or not said"), ("Year, body", need.variant),
        ("Sizes", need.sizes),
    ]  # fmt: skip
    return [(label, text) for label, text in rows if text]


def _photo(need: Need) -> list[tuple[bytes | None, str]]:
    if not need.file:
        return []
    path = photo_path(need.file)
    return [(path.read_bytes() if path.is_file() else None, need.name)]


def _place(need: Need) -> list[tuple[str, Sketch]]:
    """Where it belongs, as a sketch of that side of the shell with a cross at its place."""
    if not need.at or need.view is None:
        return []
    sketch = Sketch()
    for panel in need.view.panels.filter(layer=1):
        sketch.stroke("panel", panel.outline, closed=True)
    u, v = need.at
    for way in (-1, 1):
        sketch.stroke("cut", [(u - CROSS_MM, v - way * CROSS_MM), (u + CROSS_MM, v + way * CROSS_MM)])
    return [(f"{need.view.title}: where it belongs", sketch)]


def order_paper(order: PartOrder) -> bytes:
    """An order sheet: what, how many, at which price, and what it comes to."""
    vehicle = order.vehicle
    table, whole = [["", "What", "How many", "Price of one", "With tax"]], Money(Decimal(0), vehicle.currency)
    for need in order.needs.prefetch_related("quotes"):
        need.vehicle = vehicle
        quote = taken(need)
        worth = paid_minor(need, quote, carriage=False) if quote else None
        whole = whole + worth if worth else whole
        name = f"{need.name}{f', {need.side}' if need.side else ''}{f' (ref. {quote.ref})' if quote and quote.ref else ''}"
        price = f"{plain(quote.price)} {quote.currency}" if quote else ""
        table.append([str(need.number), name, _count(need), price, str(worth) if worth else ""])
    table.append(["", "Together, without carriage", "", "", str(whole)])
    facts = [
        (need.name, "; ".join(f"{label}: {text}" for label, text in _facts(need)[1:])) for need in order.needs.all() if _facts(need)[1:]
    ]  # fmt: skip
    sections = [Section(head=f"To {order.supplier}", table=table)]
    if facts:
        sections.append(Section(head="So that it is the right one", rows=facts))
    sections.append(
        Section(
            head="Please say",
            rows=[("Before it leaves", "whether hand, year and body are these, and what it comes without.")],
        )
    )
    cells = [
        ("Order", str(order.number)),
        ("Day", f"{order.ordered_on:%d.%m.%Y}"),
        ("Vehicle", vehicle.model),
    ]
    return record_pdf(RecordSheet(title=f"Order {order.number}", cells=cells, sections=sections, foot=""))


def wanted_paper(vehicle: Vehicle, needs: Iterable[Need]) -> bytes:
    """What is wanted, to send to a breaker or a forum: sizes, variant, sketch; nobody's name, no price, no number of the body."""
    sections = [
        Section(head=f"{need.number}  {need.name}", rows=_facts(need), photos=_photo(need), drawings=_place(need)) for need in needs
    ]  # fmt: skip
    if not sections:
        sections = [Section(head="Nothing is wanted", rows=[("", "Every need is ordered or here.")])]
    cells = [
        ("For", f"{vehicle.make} {vehicle.model}".strip()),
        ("Built", str(vehicle.year or "")),
        ("Pieces", str(len(sections))),
    ]
    return record_pdf(RecordSheet(title="Wanted", cells=cells, sections=sections, foot=""))


def customer_paper(paper: CustomerPaper, told: CustomerSheet) -> bytes:
    """An estimate, variation or bill on paper; says of itself that it is not a tax document."""
    sections = []
    for each in told.repairs:
        table = [["What", "Hours", "Net"], ["Work", f"{each.hours:.2f}", str(each.labour)]]
        table += [[item, "", str(price)] for item, price in each.parts]
        table.append(["Together", "", str(each.sum)])
        sections.append(Section(head=f"{each.code}  {each.title}", table=table))
    whole = [["All of it", "", ""], ["Net", "", str(told.total.net)], [f"Tax, {plain(paper.tax_rate)} %", "", str(told.total.tax)],
             ["To pay", "", str(told.total.gross)]]  # fmt: skip
    sections.append(Section(head="Together", table=whole))
    rows = [
        ("For", paper.customer),
        ("Note", paper.note),
        ("Agreed", f"{paper.agreed_by}, {paper.agreed_on:%d.%m.%Y}" if paper.agreed_on else ""),
    ]
    if shown := [(label, text) for label, text in rows if text]:
        sections.append(Section(head="To be known", rows=shown))
    if not paper.agreed_on and paper.paper != "bill":
        sections.append(Section(head="Agreed", rows=[("Day, name", "_" * 40)]))
    title = f"{paper.get_paper_display()} {paper.number}"
    cells = [
        ("Vehicle", paper.vehicle.model),
        ("Body no.", paper.vehicle.body_no or "–"),
        ("Day", f"{paper.made_on:%d.%m.%Y}"),
    ]
    return record_pdf(RecordSheet(title=title, cells=cells, sections=sections, foot=NO_TAX_PAPER))
