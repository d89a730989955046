"""What is wanted: needs kept, quoted, chosen, taken from state to state, and what the strip register lacks."""

from collections.abc import Iterable, Mapping
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from django.core.files.uploadedfile import UploadedFile
from django.urls import reverse
from django.utils import timezone

from yellow_sill.core.errors import BadField
from yellow_sill.core.parts.landed import ChoiceRequest, Quote, SourceChoice, source_choice
from yellow_sill.core.parts.needs import NeedsRequest, NeedsTold, needs_told, require_move
from yellow_sill.web.cut.hours import pace_of
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.once import once
from yellow_sill.web.frame.pictures import kept_with
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.frame.stages import Alert, Lack, told
from yellow_sill.web.shells.models import Vehicle

from .models import ArrivalCheck, Need, NeedQuote, NeedStep


@one_change
def keep_need(
    vehicle: Vehicle, values: Mapping[str, Any], *, photo: UploadedFile | None, stored: Need | None, version: int | None, today: date, by: str
) -> Need:  # fmt: skip
    """Store a need, a new one where ``stored`` is None. Raises: BadField for a photo that is none; ChangedMeanwhile."""

    def store(file: dict[str, str]) -> Need:
        if stored is not None:
            stored.save_as(version, by, **values, **file)
            return stored
        number = Need.next_number(vehicle=vehicle)
        made = Need.objects.create(vehicle=vehicle, number=number, by=by, changed_by=by, **values, **file)
        NeedStep.objects.create(need=made, state="wanted", made_on=today, by=by)
        return made

    return kept_with(photo, store)


@one_change
def drop_need(need: Need, *, version: int | None) -> None:
    """Raises: ChangedMeanwhile."""
    need.require_version(version)
    need.delete()


def state_of(need: Need) -> NeedStep | None:
    """The last step of a need; None where none is stored."""
    steps = list(need.steps.all())
    return steps[-1] if steps else None


def last_check(need: Need) -> ArrivalCheck | None:
    """The check that counts: the last one of what is here; None where nobody has checked what came last, or another was ordered since."""
    begun = max(
        (n for n, step in enumerate(need.steps.all()) if step.state in ("ordered", "arrived")), default=-1
    )
    checks = list(need.checks.all())
    return checks[-1] if checks and checks[-1].after > begun else None


@one_change
def go_on(need: Need, state: str, *, day: date, today: date, why: str, by: str) -> None:
    """Raises: BadField: a day to come or before the last step, a step that needs a reason."""
    last = state_of(need)
    if day > today:
        raise BadField("That day has not come yet.", "made_on", "Give the day on which it happened.")
    if last and day < last.made_on:
        raise BadField(f"It was {last.get_state_display()} on {last.made_on:%d.%m.%Y}, after that day.", "made_on", "Give a later day.")  # fmt: skip
    require_move(
        last.state if last else "wanted",
        state,
        why,
        quotes=need.quotes.count(),
        chosen=taken(need) is not None,
        check=check.verdict if (check := last_check(need)) else "",
    )
    NeedStep.objects.create(need=need, state=state, made_on=day, why=why.strip(), by=by)


@one_change
def go_back(need: Need, step: int) -> None:
    """Take the last step back, where it is still the one that was seen; the first stays. Raises: BadField."""
    steps = list(need.steps.all())
    if len(steps) < 2:
        raise BadField("A need begins with being wanted.", "state", "Delete the need instead.")
    if steps[-1].pk != step:
        raise BadField("It has gone on meanwhile.", "state", "Look at the page again.")
    steps[-1].delete()


@one_change
def keep_quote(
    need: Need, values: Mapping[str, Any], *, stored: NeedQuote | None, version: int | None, by: str
) -> NeedQuote:
    """Store a quote, a new one where ``stored`` is None. Raises: BadField: a name twice, what no quote can have; ChangedMeanwhile."""
    Quote.read({name: values[name] for name in Quote.model_fields if name in values})
    others = [each for each in need.quotes.all() if stored is None or each.pk != stored.pk]
    if any(each.name == values["name"] for each in others):
        raise BadField("There is a quote of that name.", "name", "Give it another, such as with its day.")
    if stored is not None:
        stored.save_as(version, by, **values)
        return stored
    number = NeedQuote.next_number(need=need)
    return NeedQuote.objects.create(need=need, number=number, by=by, changed_by=by, **values)


@one_change
def drop_quote(quote: NeedQuote, *, version: int | None) -> None:
    """Raises: ChangedMeanwhile; BadField for the one that is chosen."""
    quote.require_version(version)
    if quote.need.chosen == quote.number:
        raise BadField("It is the chosen one.", "chosen", "Choose another first.")
    quote.delete()


@one_change
def choose(need: Need, number: int, reason: str, *, best: str, by: str) -> None:
    """Take a quote. Args: best: the name of the one that costs least on the car. Raises: BadField: no such quote, another one without a reason."""
    quote = next((each for each in need.quotes.all() if each.number == number), None)
    if quote is None:
        raise BadField("That quote is not there any more.", "chosen", "Choose another.")
    if quote.name != best and not reason.strip():
        raise BadField("Another one costs less on the car.", "reason", "Say why this one is taken.")
    need.set_fields(by, chosen=number, reason=reason.strip()[:300])


def taken(need: Need) -> NeedQuote | None:
    """The quote that was chosen."""
    return next((each for each in need.quotes.all() if each.number == need.chosen), None)


def own_fit_factor(vehicle: Vehicle) -> float:
    """How much longer fitting takes this person than the rates say, by the log; 1 without a job."""
    logged = pace_of(vehicle).get("fit")
    return logged.shrunk if logged and logged.jobs else 1.0


def as_core(quote: NeedQuote) -> Quote:
    """A quote as the core takes it."""
    return Quote(**{name: getattr(quote, name) for name in Quote.model_fields})


def compared(need: Need, *, hour: Decimal, today: date, fit_factor: float = 1.0) -> SourceChoice | None:
    """The quotes of a need side by side; None without any. Args: fit_factor: the own one on hours of fitting. Raises: BadField."""
    quotes = [as_core(each) for each in need.quotes.all()]
    if not quotes:
        return None
    request = ChoiceRequest.read({
        "quotes": [each.model_dump() for each in quotes], "currency": need.vehicle.currency, "quantity": need.quantity, "hour": hour, "fit_factor": fit_factor,
        "needed_by": need.needed_by, "today": today,
    })  # fmt: skip
    return source_choice(request)


@once
def needs_of(vehicle: Vehicle) -> list[Need]:
    """The needs with their steps and quotes."""
    return list(vehicle.needs.select_related("repair").prefetch_related("steps", "quotes", "checks"))


def late_today(vehicle: Vehicle, now: datetime) -> list[Alert]:
    """What should have been ordered or should have come by now."""
    return _late(vehicle, timezone.localdate(now))


@by_revision(4, "parts")
def _late(vehicle: Vehicle, today: date) -> list[Alert]:
    needs = needs_of(vehicle)
    return [
        Alert(
            words=f"{each.name}: {each.words}",
            url=reverse("parts:need", args=[vehicle.pk, need.number]),
            urgent=True,
        )
        for need, each in zip(needs, told_of(needs, today).needs, strict=True)
        if each.late or each.soon
    ]


def told_of(needs: Iterable[Need], today: date) -> NeedsTold:
    """How far each need is and what presses, in the order given. Args: needs: with steps and quotes read along."""
    asked = []
    for need in needs:
        step, quote = state_of(need), taken(need)
        lead = quote or min(need.quotes.all(), key=lambda each: each.days, default=None)
        asked.append({
            "name": need.name, "state": step.state if step else "wanted", "since": step.made_on if step else today, "needed_by": need.needed_by,
            "days": lead.days if lead else None, "late_days": lead.late_days if lead else None, "back_until": quote.back_until if quote else None,
        })  # fmt: skip
    return needs_told(NeedsRequest.read({"needs": asked, "today": today}))


def lacking(vehicle: Vehicle) -> list[Lack]:
    """What other stages know to be missing or to be bought and nobody wants yet."""
    wanted = {
        each for name, hand in vehicle.needs.values_list("name", "hand") for each in (name, f"{name}, {hand}")
    }
    return [each for say in told("lacks") for each in say(vehicle) if each.name not in wanted]


@one_change
def put_at(need: Need, view: Any, at: list[float], *, by: str) -> None:
    """Say where on the shell a need belongs. Raises: BadField without a place."""
    if not at:
        raise BadField("No place is tapped.", "at", "Tap on the drawing where it belongs.")
    need.set_fields(by, view=view, at=at)


@one_change
def want_missing(vehicle: Vehicle, key: str, *, today: date, by: str) -> Need:
    """Want what is missing, at its place. Raises: BadField where it is not missing any more, or wanted already."""
    found = next((each for each in lacking(vehicle) if each.key == key), None)
    if found is None:
        raise BadField("It is not missing any more, or wanted already.", "name", "Look at the page again.")
    values = {"name": found.name, "view": found.view, "at": found.at, "repair": found.repair}
    return keep_need(vehicle, values, photo=None, stored=None, version=None, today=today, by=by)
