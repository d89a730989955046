"""A receipt as it is printed, its lines, and its photo or PDF beside it."""

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.formats.paper_pages import page_count, page_picture
from yellow_sill.core.parts.receipt import ReceiptTold
from yellow_sill.web.frame import days
from yellow_sill.web.frame.files import attachment
from yellow_sill.web.frame.meanwhile import both_of, say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.pictures import photo_path, picture_response
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..models import Receipt
from ..money_forms import ReceiptForm, ReceiptLineForm, needs_to_pay
from ..receipt_services import drop_receipt, keep_receipt, lines_of, mirror, receipt_told

#: Empty lines below those that are typed; lines of a receipt at most.
EMPTY, MORE, MOST_LINES = 3, 5, 200


@with_vehicle
def receipt(request: HttpRequest, vehicle: Vehicle, number: int | None = None) -> HttpResponse:
    """A new receipt, or one that is looked at, changed, mirrored or deleted."""
    stored = get_object_or_404(vehicle.receipts, number=number) if number else None
    head, lines = _forms(request, vehicle, stored)
    error, conflict, status, told = None, None, 200, None
    if request.method == "POST" and "more" not in request.POST:
        try:
            if done := _done(request, vehicle, stored, head, lines):
                return done
            status = 422
        except CoreError as refused:
            error, status = refused, 422
            if refused.where in head.fields:
                head.add_error(refused.where, refused.message)
        except ChangedMeanwhile as changed:
            if request.POST.get("what") != "keep":
                say_meanwhile(request, changed, "this receipt", then="say it again")
                return redirect("parts:receipt", vehicle.pk, number)
            status, conflict = 409, both_of(request, head, changed, head.NAMES)
            if not conflict:  # its lines differ
                conflict = [("Lines", "as you typed them", "as somebody stored them meanwhile")]
    told = _told(stored, head, lines)
    sums = iter(told.lines if told else ())
    rows = [(line, next(sums, None) if line["item"].value() else None) for line in lines]
    context = {
        "current_stage": "parts", "receipt": stored, "form": head, "lines": rows, "count": len(lines),
        "error": error, "conflict": conflict, "stored": stored, "told": told,
        "pages": _pages(stored),
        "payments": list(stored.payments.all()) if stored else [],
    }  # fmt: skip
    return render(request, "parts/receipt.html", context, status=status)


def _forms(
    request: HttpRequest, vehicle: Vehicle, stored: Receipt | None
) -> tuple[ReceiptForm, list[ReceiptLineForm]]:
    sent = request.POST.get("what") == "keep"
    start = ReceiptForm.of(stored) if stored else {"currency": vehicle.currency, "day": days.today()}
    head = ReceiptForm(request.POST if sent else None, request.FILES if sent else None, initial=start)
    there = lines_of(stored) if stored else []
    more_lines = MORE if "more" in request.POST else 0
    count = (
        min(MOST_LINES, (whole_number(request.POST.get("count", "")) or 0) + more_lines)
        if sent
        else len(there) + EMPTY
    )
    more = {
        "vehicle": vehicle, "needs": needs_to_pay(vehicle), "repairs": [("", "the vehicle"), *((each.pk, each.code) for each in vehicle.repairs.all())],
    }  # fmt: skip
    lines = [
        ReceiptLineForm(
            request.POST if sent else None, prefix=f"line{n}", initial=ReceiptLineForm.of(there[n]) if n < len(there) else None, **more
        )
        for n in range(count)
    ]  # fmt: skip
    return head, lines


def _done(
    request: HttpRequest,
    vehicle: Vehicle,
    stored: Receipt | None,
    head: ReceiptForm,
    lines: list[ReceiptLineForm],
) -> HttpResponse | None:
    """Where to go once it is done; None where the forms show why not. Raises: CoreError, ChangedMeanwhile."""
    what, by = request.POST.get("what", ""), request.user.get_username()
    if what == "mirror" and stored:
        made = mirror(stored, day=days.today(), by=by)
        messages.success(request, "The credit note holds all of it: correct what came back.")
        return redirect("parts:receipt", vehicle.pk, made.number)
    if what == "drop" and stored:
        drop_receipt(stored, version=whole_number(request.POST.get("version", "")))
        messages.success(
            request, f"The receipt of {stored.supplier} is deleted with its lines; Changes takes that back."
        )
        return redirect("parts:money", vehicle.pk)
    if what != "keep" or not all([head.is_valid(), *(line.is_valid() for line in lines)]):
        return None
    rows = [line.values() for line in lines if line.is_line]
    if not rows:
        raise BadField("There is no line on it.", "lines", "Write down what was bought.")
    kept = keep_receipt(
        vehicle, head.values(), rows, upload=head.cleaned_data["file"], stored_as=stored, version=head.cleaned_data["version"] or 0, by=by,
    )  # fmt: skip
    messages.success(request, f"The receipt of {kept.supplier} is kept.")
    return redirect("parts:receipt", vehicle.pk, kept.number)


def _told(stored: Receipt | None, head: ReceiptForm, lines: list[ReceiptLineForm]) -> ReceiptTold | None:
    """What the receipt comes to: as it is typed where that can be read, else as it is stored."""
    try:
        if head.is_bound:
            rows = [line.values() for line in lines if line.is_valid() and line.is_line]
            clean = head.cleaned_data if head.is_valid() or "despite" in head.errors else None
            return receipt_told(clean, rows) if rows and clean and len(head.errors) <= 1 else None
        if stored:
            rows = [
                {
                    name: getattr(line, name)
                    for name in ("item", "quantity", "unit_price", "tax_rate", "discount")
                }
                for line in lines_of(stored)
            ]
            return receipt_told({name: getattr(stored, name) for name in ReceiptForm.NAMES}, rows)
    except (CoreError, KeyError):
        pass
    return None


def _pages(stored: Receipt | None) -> list[int]:
    """The pages of its PDF or photo that can be shown."""
    if not stored or not stored.file:
        return []
    if not stored.is_pdf:
        return [1]
    try:
        return list(range(1, 1 + page_count(photo_path(stored.file).read_bytes())))
    except (OSError, CoreError):
        return []


@require_GET
@with_vehicle
def page(request: HttpRequest, vehicle: Vehicle, number: int, page: int) -> HttpResponse:
    """A page of its PDF, or its photo, as a picture."""
    stored = get_object_or_404(vehicle.receipts, number=number)
    if not stored.file:
        raise Http404
    if not stored.is_pdf:
        return picture_response(stored.file)
    try:
        picture = page_picture(photo_path(stored.file).read_bytes(), page)
    except (OSError, CoreError):
        raise Http404("That page is not there any more.") from None
    return HttpResponse(
        picture, content_type="image/jpeg", headers={"Cache-Control": "private, max-age=86400"}
    )


@require_GET
@with_vehicle
def paper(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """Its PDF as it came."""
    stored = get_object_or_404(vehicle.receipts, number=number)
    try:
        data = photo_path(stored.file).read_bytes() if stored.is_pdf else b""
    except OSError:
        data = b""
    if not data:
        raise Http404("That file is not there any more.")
    return attachment(data, f"receipt-{stored.number}.pdf", "application/pdf")
