"""Receipts: their lines with the shares of discount, carriage and tax, credit notes, and the photo or PDF beside them."""

from collections.abc import Callable, Mapping, Sequence
from datetime import date
from typing import Any

from django.core.files.uploadedfile import UploadedFile

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.paper_pages import page_count, require_size
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.receipt import ReceiptRequest, ReceiptTold, receipt, shared
from yellow_sill.core.said import Said
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.pictures import kept, kept_with
from yellow_sill.web.shells.models import Vehicle

from .models import CostLine, Receipt

#: The head of a receipt as the core takes it.
HEAD = ("currency", "tax_in", "rounds", "discount", "discount_after", "carriage", "printed", "credit")
#: A line as it is typed.
LINE = ("item", "quantity", "unit_price", "tax_rate", "discount", "kind", "repair_id", "need_id")


def receipt_told(head: Mapping[str, Any], lines: Sequence[Mapping[str, Any]]) -> ReceiptTold:
    """What a receipt comes to. Raises: BadField."""
    return receipt(
        ReceiptRequest.read({name: head[name] for name in HEAD} | {
            "lines": [
                {"item": each["item"], "quantity": each["quantity"], "price": each["unit_price"], "tax_rate": each["tax_rate"], "discount": each["discount"]}
                for each in lines
            ]
        })
    )  # fmt: skip


@one_change
def keep_receipt(
    vehicle: Vehicle, head: Mapping[str, Any], lines: Sequence[Mapping[str, Any]], *, upload: UploadedFile | None, stored_as: Receipt | None,
    version: int | None, by: str,
) -> Receipt:  # fmt: skip
    """Store a receipt with all of its lines, a new one where ``stored_as`` is None.

    Raises: BadField: no line, it does not add up as printed and nobody has said why it stands, a file that is neither photo nor PDF; ChangedMeanwhile.
    """
    if not lines:
        raise BadField("There is no line on it.", "lines", "Write down what was bought.")
    if head["rate"] == 0:
        raise BadField("A rate of 0 makes it worth nothing.", "rate", "Type the rate of its day.")
    told = receipt_told(head, lines)
    if told.adds_up is False and not head["despite"].strip():
        raise BadField(
            Said("{words}", words=told.words), "despite", "Look again, or say why it stands as it is."
        )

    def store(file: dict[str, str]) -> Receipt:
        values = {**head, **file}
        if stored_as is None:
            number = Receipt.next_number(vehicle=vehicle)
            made = Receipt.objects.create(vehicle=vehicle, number=number, by=by, changed_by=by, **values)
        else:
            made = stored_as
            made.save_as(version, by, **values)
        store_lines(made, lines, told, by)
        return made

    if upload:
        upload.seek(0)  # where the service begins again, it is read again
        begins = upload.read(5)
        upload.seek(0)
        if begins == b"%PDF-":
            return _with_pdf(upload, store)
    return kept_with(upload, store)


def _with_pdf(upload: UploadedFile, record: Callable[[dict[str, str]], Receipt]) -> Receipt:
    """Keep a PDF as it came, beside its record. Raises: BadField."""
    require_size(upload.size)
    data = upload.read()
    page_count(data)
    return kept(data, lambda name: record({"file": name}), ".pdf")


def store_lines(made: Receipt, lines: Sequence[Mapping[str, Any]], told: ReceiptTold, by: str) -> None:
    """Store the lines of a receipt: those that stand keep their key; each takes its share of the receipt in the vehicle's own currency."""
    own = made.vehicle.currency
    sign = -1 if made.credit else 1  # a credit note is given out as its receipt is, to the penny
    nets, grosses = (
        shared(
            Money(sign * whole.amount * made.rate, own),
            [abs(getattr(each, what).amount) for each in told.lines],
        )
        for what, whole in (("net", told.net), ("gross", told.gross))
    )
    there = {line.pk: line for line in made.lines.all()}
    kept: set[int] = set()
    for each, net, gross in zip(lines, nets, grosses, strict=True):
        line = there.get(each.get("pk") or 0) or CostLine(vehicle=made.vehicle, receipt=made, by=by)
        for name in LINE:
            setattr(line, name, each[name])
        line.bought_on, line.supplier, line.currency, line.rate = (
            made.day,
            made.supplier,
            made.currency,
            made.rate,
        )
        line.tax_included, line.back, line.receipt = made.tax_in, made.credit, made
        line.net_minor, line.gross_minor, line.changed_by = sign * net.minor, sign * gross.minor, by
        if line.pk:
            line.version += 1
        line.save()
        kept.add(line.pk)
    for pk, line in there.items():
        if pk not in kept:
            line.delete()


@one_change
def mirror(receipt_: Receipt, *, day: date, by: str) -> Receipt:
    """A credit note over all of a receipt, at its rate, to be corrected where only a part came back. Raises: BadField for what is one itself."""
    if receipt_.credit:
        raise BadField("It is a credit note itself.", "credit")
    head = {
        name: getattr(receipt_, name)
        for name in ("supplier", "reference", "currency", "rate", "tax_in", "rounds", "discount", "discount_after", "carriage", "printed", "despite", "note")
    }  # fmt: skip
    lines = [{name: getattr(line, name) for name in LINE} for line in lines_of(receipt_)]
    head |= {"day": day, "credit": True, "mirrors": receipt_}
    return keep_receipt(receipt_.vehicle, head, lines, upload=None, stored_as=None, version=None, by=by)


def lines_of(receipt_: Receipt) -> list[CostLine]:
    """The lines of a receipt in their order."""
    return sorted(receipt_.lines.all(), key=lambda line: line.pk)


@one_change
def drop_receipt(receipt_: Receipt, *, version: int | None) -> None:
    """Raises: ChangedMeanwhile. Its file stays for a while, so that this can be taken back."""
    receipt_.require_version(version)
    receipt_.delete()
