"""Hours, notes and photos of repairs in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_record import NotePart, PhotoPart, WorkPart
from yellow_sill.web.frame.bundles import Section, Storing, oldest_first, part
from yellow_sill.web.repairs.models import Repair

from .models import Note, Photo, WorkEntry


def _hours(entries: Any) -> list[WorkPart]:
    return [part(WorkPart, entry) for entry in oldest_first(entries)]


def _repair(repair: Repair) -> dict[str, Any]:
    return {
        "work": _hours(repair.work_entries.all()),
        "notes": [part(NotePart, note) for note in oldest_first(repair.notes.all())],
        "photos": [part(PhotoPart, photo) for photo in repair.photos.all()],
    }


def _store_hours(storing: Storing, repair: Repair | None, told: list[WorkPart]) -> None:
    WorkEntry.objects.bulk_create(
        WorkEntry(vehicle=storing.vehicle, repair=repair, **entry.model_dump()) for entry in told
    )


def _store_repair(storing: Storing, repair: Repair, told: Any) -> None:
    _store_hours(storing, repair, told.work)
    Note.objects.bulk_create(Note(repair=repair, **note.model_dump()) for note in told.notes)
    for photo in told.photos:
        width, height = storing.sizes[photo.file]
        values = photo.model_dump() | {"file": storing.names[photo.file]}
        Photo.objects.create(repair=repair, width=width, height=height, **values)


SECTION = Section(
    vehicle=lambda vehicle: {"work": _hours(vehicle.work_entries.filter(repair=None))},
    repair=_repair,
    store=lambda storing, bundle: _store_hours(storing, None, bundle.work),
    store_repair=_store_repair,
    along=("work_entries", "notes", "photos"),
)
