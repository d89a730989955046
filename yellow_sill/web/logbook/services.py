"""Hours, notes and photos."""

from collections.abc import Mapping
from datetime import date
from hashlib import sha256
from typing import Any

from django.core.files.uploadedfile import UploadedFile

from yellow_sill.core.repairs import hours
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.pictures import kept, read_upload
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .models import Note, Photo, WorkEntry


@one_change
def add_work(
    vehicle: Vehicle, repair: Repair | None, *, worked_on: date, kind: str, typed: str, note: str, by: str
) -> WorkEntry:
    """Log hours as typed.

    Raises: BadField for a time that cannot be read.
    """
    spent = hours.minutes(typed)
    return WorkEntry.objects.create(
        vehicle=vehicle,
        repair=repair,
        worked_on=worked_on,
        kind=kind,
        minutes=spent,
        typed=typed.strip(),
        note=note,
        by=by,
    )


class WrittenMeanwhile(Exception):
    """Somebody changed the entry since the form was opened."""


def as_written(entry: WorkEntry | Note) -> str:
    """What an entry says now, as one short mark."""
    told = (
        (entry.worked_on, entry.kind, entry.typed, entry.note)
        if isinstance(entry, WorkEntry)
        else (entry.written_on, entry.text, entry.about)
    )
    return sha256(repr(told).encode()).hexdigest()[:16]


@one_change
def change_work(entry: WorkEntry, values: Mapping[str, Any], *, was: str) -> None:
    """Correct logged hours. Args: was: the mark of what the person saw. Raises: WrittenMeanwhile; BadField for a time that cannot be read."""
    if was != as_written(WorkEntry.objects.get(pk=entry.pk)):
        raise WrittenMeanwhile
    entry.minutes, entry.typed = hours.minutes(values["typed"]), values["typed"].strip()
    entry.worked_on, entry.kind, entry.note = values["worked_on"], values["kind"], values["note"]
    entry.save()


@one_change
def change_note(entry: Note, values: Mapping[str, Any], *, was: str) -> None:
    """Correct a note. Raises: WrittenMeanwhile."""
    if was != as_written(Note.objects.get(pk=entry.pk)):
        raise WrittenMeanwhile
    entry.written_on, entry.text = values["written_on"], values["text"]
    entry.about = values.get("about", entry.about)
    entry.save()


@one_change
def add_note(repair: Repair, *, written_on: date, text: str, about: str = "", by: str) -> Note:
    return Note.objects.create(repair=repair, written_on=written_on, text=text, about=about, by=by)


def add_entry(repair: Repair, what: str, values: Mapping[str, Any], *, by: str) -> WorkEntry | Note | Photo:
    """Store what a form of a repair's log says. Args: what: ``work``, ``note`` or ``photo``. Raises: BadField."""
    if what == "work":
        return add_work(repair.vehicle, repair, by=by, **values)
    if what == "photo":
        return add_photo(
            repair, values["photo"], caption=values["caption"], taken_on=values["taken_on"], by=by
        )
    return add_note(repair, by=by, **values)


def add_photo(of: Repair | Vehicle, upload: UploadedFile, *, caption: str, taken_on: date, by: str) -> Photo:
    """Store an uploaded photo of a repair, or of the vehicle and no repair.

    Raises: BadField: too large, not a picture, damaged.
    """
    data, width, height = read_upload(upload)
    vehicle, repair = (of.vehicle, of) if isinstance(of, Repair) else (of, None)
    return kept(
        data,
        lambda name: Photo.objects.create(
            vehicle=vehicle,
            repair=repair,
            file=name,
            width=width,
            height=height,
            caption=caption,
            taken_on=taken_on,
            by=by,
        ),
    )
