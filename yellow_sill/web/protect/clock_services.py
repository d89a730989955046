"""Clocks that run: for the strip, for the page of the day, whatever was on when nobody looked."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.urls import reverse

from yellow_sill.core.errors import CoreError
from yellow_sill.core.protect.clocks import ClockRequest, clock
from yellow_sill.core.protect.systems import PutOn
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.frame.stages import Alert
from yellow_sill.web.shells.models import Vehicle

from .models import Coat, Face
from .product_services import warmth_of

#: In the strip stands what runs out within this; as many of them at most.
SOON, MOST = timedelta(days=1), 1


@dataclass(frozen=True, slots=True, kw_only=True)
class Running:
    """A clock: the face and product in words, its page, and when it opens, closes and has cured."""

    face: str
    product: str
    url: str
    put_on: datetime
    opens_at: datetime | None
    closes_at: datetime | None
    cured_at: datetime | None
    cold: bool
    known: bool


@by_revision(8, "protect", "cut", "repairs")
def clocks_of(vehicle: Vehicle) -> tuple[Running, ...]:
    """The clocks of the last coat of every face. How warm it is now counts for what is to come."""
    warmth = warmth_of(vehicle)
    faces = Face.objects.filter(cut__repair__vehicle=vehicle).select_related("cut__repair", "cut__panel").prefetch_related("coats")  # fmt: skip
    found = []
    for face in faces:
        coats = list(face.coats.all())
        if coats:
            found.append(_running(vehicle, face, coats[-1], warmth))
    return tuple(found)


def _running(vehicle: Vehicle, face: Face, coat: Coat, warmth: list) -> Running:
    repair, cut = face.cut.repair, face.cut
    page = f"{reverse('protect:protect', args=[vehicle.pk, repair.number])}?face={cut.number}-{face.key}"
    told = None
    try:
        put = PutOn.read({"product": coat.product, "at": coat.put_on})
        told = clock(ClockRequest.read({"product": put.product.model_dump(), "put_on": coat.put_on, "warmth": warmth, "now": coat.put_on}))  # fmt: skip
    except CoreError:
        pass  # how warm it was is not known
    return Running(
        face=f"{repair.code} {cut.panel.code} {SIDES.get(face.key, face.key)}", product=str(coat.product.get("name", "")), url=page, put_on=coat.put_on,
        opens_at=told.opens_at if told else None, closes_at=told.closes_at if told else None, cured_at=told.cured_at if told else None,
        cold=bool(told and told.cold), known=told is not None,
    )  # fmt: skip


SIDES = {"outer": "outside", "inner": "inside"}


def alerts(vehicle: Vehicle, now: datetime) -> Iterable[Alert]:
    """What runs out within the day, the soonest first: windows that close, then coats that open or are through."""
    found = []
    for each in clocks_of(vehicle):
        if each.closes_at and now < each.closes_at <= now + SOON:
            words = f"{each.face}: {each.product} must be coated over within"
            found.append(
                (0, each.closes_at, Alert(words=words, url=each.url, until=each.closes_at, urgent=True))
            )
        elif each.opens_at and now < each.opens_at <= now + SOON:
            words = f"{each.face}: {each.product} opens in"
            found.append((1, each.opens_at, Alert(words=words, url=each.url, until=each.opens_at)))
        elif each.cured_at and now < each.cured_at <= now + SOON:
            words = f"{each.face}: {each.product} is through in"
            found.append((1, each.cured_at, Alert(words=words, url=each.url, until=each.cured_at)))
    return [alert for *_, alert in sorted(found, key=lambda row: row[:2])[:MOST]]


def running_today(vehicle: Vehicle, now: datetime) -> Iterable[Alert]:
    """Every clock that still runs, and every coat of which nobody knows how warm it was."""
    found = []
    for each in clocks_of(vehicle):
        if not each.known:
            found.append(
                Alert(
                    words=f"{each.face}: {each.product}, how warm it was is not known",
                    url=each.url,
                    urgent=True,
                )
            )
        elif each.cured_at is None:
            found.append(
                Alert(
                    words=f"{each.face}: {each.product} does not cure, it is too cold",
                    url=each.url,
                    urgent=True,
                )
            )
        elif each.opens_at and each.opens_at > now:
            found.append(
                Alert(words=f"{each.face}: {each.product}, next coat in", url=each.url, until=each.opens_at)
            )
        elif each.closes_at and each.closes_at > now:
            found.append(
                Alert(
                    words=f"{each.face}: {each.product}, next coat now, for",
                    url=each.url,
                    until=each.closes_at,
                )
            )
        elif each.cured_at > now:
            found.append(
                Alert(words=f"{each.face}: {each.product}, through in", url=each.url, until=each.cured_at)
            )
    return sorted(found, key=lambda alert: (alert.until is not None, alert.until or now))
