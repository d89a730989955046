"""The strip register: parts kept, found again, put back in order; their boxes and labels."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.core.files.uploadedfile import UploadedFile

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.labels import Label, labels_pdf
from yellow_sill.core.strip.find import FindRequest, find
from yellow_sill.core.strip.register import BURNS, Register, RegisterRequest, in_number_order, register
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.pictures import kept_with
from yellow_sill.web.frame.stages import Lack
from yellow_sill.web.shells.models import Vehicle

from .models import StripPart


def _as_core(part: StripPart) -> dict[str, Any]:
    told = {
        name: getattr(part, name)
        for name in ("number", "name", "after", "state", "box", "shelf", "waits_for")
    }
    return told | {"on": part.refitted_on is not None}


def registered(parts: Iterable[StripPart]) -> Register:
    """The order of refitting and the counts. Raises: BadField for parts that wait for each other."""
    return register(RegisterRequest.read({"parts": [_as_core(part) for part in parts]}))


@one_change
def keep_part(
    vehicle: Vehicle, values: Mapping[str, Any], *, photo: UploadedFile | None, stored: StripPart | None, version: int | None, by: str
) -> StripPart:  # fmt: skip
    """Store a part, a new one where ``stored`` is None. Raises: BadField: parts that would wait for each other, a photo that is none; ChangedMeanwhile."""
    others = [_as_core(part) for part in vehicle.strip_parts.all() if stored is None or part.pk != stored.pk]
    number = stored.number if stored else StripPart.next_number(vehicle=vehicle)
    on = values.get("refitted_on") is not None
    mine = {name: values[name] for name in ("name", "after", "state", "box", "shelf", "waits_for")} | {
        "number": number,
        "on": on,
    }
    register(RegisterRequest.read({"parts": [*others, mine]}))

    def store(file: dict[str, str]) -> StripPart:
        if stored is not None:
            stored.save_as(version, by, **values, **file)
            return stored
        return StripPart.objects.create(
            vehicle=vehicle, number=number, by=by, changed_by=by, **values, **file
        )

    return kept_with(photo, store)


@one_change
def drop_part(part: StripPart, *, version: int | None) -> None:
    """Raises: ChangedMeanwhile; BadField where another waits for it."""
    part.require_version(version)
    waiting = [
        other.name for other in part.vehicle.strip_parts.exclude(pk=part.pk) if part.number in other.after
    ]
    if waiting:
        raise BadField(f"{waiting[0]} goes on after it.", "after", "Change that one first.")
    part.delete()


@one_change
def refit(part: StripPart, *, day: date | None, today: date, by: str) -> None:
    """It is on again; None takes that back. Raises: BadField for a day to come, or a part that is not there."""
    if day and day > today:
        raise BadField("That day has not come yet.", "refitted_on", "Give the day on which it was done.")
    if day and part.state in ("missing", "sold", "scrap"):
        raise BadField("It is not there to go back on.", "refitted_on", "Say first what it is now.")
    part.set_fields(by, refitted_on=day)


def found(parts: Iterable[StripPart], asked: str) -> list[StripPart]:
    """The parts that fit what was asked, the best first."""
    by_number = {part.number: part for part in parts}
    texts = {number: _text(part) for number, part in by_number.items()}
    return [by_number[each.number] for each in find(FindRequest(asked=asked[:200], texts=texts))]


def _text(part: StripPart) -> str:
    ends = " ".join(f"{each['what']} {each['first']} {each['second']}" for each in part.ends)
    fastenings = " ".join(str(each["what"]) for each in part.fastenings)
    return f"{part.name} {part.note} {part.box} {part.shelf} {fastenings} {ends}"[:2000]


@dataclass(frozen=True, slots=True, kw_only=True)
class Box:
    """A box or bag with what is in it."""

    name: str
    shelf: str
    parts: list[StripPart]


def boxes_of(parts: Iterable[StripPart]) -> list[Box]:
    """The boxes by name; what is on again is in none."""
    held: dict[str, list[StripPart]] = {}
    for part in parts:
        if part.box and part.refitted_on is None:
            held.setdefault(part.box, []).append(part)
    return [
        Box(name=name, shelf=next((part.shelf for part in some if part.shelf), ""), parts=some)
        for name, some in sorted(held.items(), key=lambda item: in_number_order(item[0]))
    ]


def labels_of(vehicle: Vehicle, boxes: Iterable[Box], address: str) -> bytes:
    """The labels of boxes as a PDF. Args: address: of a box, its name goes where {box} is."""
    return labels_pdf(
        [
            Label(
                name=box.name,
                shelf=box.shelf,
                vehicle=str(vehicle),
                lines=[f"{part.number}  {part.name}" for part in box.parts],
                code=address.replace("{box}", box.name),
            )
            for box in boxes
        ]
    )


def burning(vehicle: Vehicle) -> list[tuple[str, str, str]]:
    """What of the register burns, for who makes sparks: key, words, where it is; what is on again is on the car."""
    return [
        (f"strip-{part.pk}", f"{part.name}: {BURNS[part.burns]}", "on the car" if part.refitted_on else part.place_words or "nobody knows where")
        for part in vehicle.strip_parts.exclude(burns="")
    ]  # fmt: skip


def missing(vehicle: Vehicle) -> list[Lack]:
    """What the register has as missing, and what waits for somebody's work (chrome, plating, retrimming)."""
    parts = vehicle.strip_parts.select_related("view")
    waits = [
        Lack(
            key=f"strip-work-{part.number}",
            name=f"{part.name}: {part.waits_for}"[:80],
            why="to be refurbished, by the strip register",
            view=part.view,
            at=part.at,
        )
        for part in parts.filter(state="refurbish").exclude(waits_for="")
    ]
    return waits + [
        Lack(
            key=f"strip-{part.number}",
            name=part.name,
            why="missing in the strip register",
            view=part.view,
            at=part.at,
        )
        for part in parts.filter(state="missing")
    ]
