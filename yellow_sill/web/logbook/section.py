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
        "photos": _photos(repair.photos.select_related("view")),
    }


def _store_hours(storing: Storing, repair: Repair | None, told: list[WorkPart]) -> None:
    WorkEntry.objects.bulk_create(
        WorkEntry(vehicle=storing.vehicle, repair=repair, **entry.model_dump()) for entry in told
    )


def _store_repair(storing: Storing, repair: Repair, told: Any) -> None:
    _store_hours(storing, repair, told.work)
    Note.objects.bulk_create(Note(repair=repair, **note.model_dump()) for note in told.notes)
    _store_photos(storing, repair, told.photos)


def _photos(photos: Any) -> list[PhotoPart]:
    return [part(PhotoPart, photo, view=photo.view.name if photo.view else "") for photo in photos]


def _store_photos(storing: Storing, repair: Repair | None, told: list[PhotoPart]) -> None:
    views = {view.name: view for view in storing.vehicle.views.only("name", "vehicle")}
    for photo in told:
        width, height = storing.sizes[photo.file]
        values = photo.model_dump() | {"file": storing.names[photo.file], "view": views.get(photo.view)}
        Photo.objects.create(vehicle=storing.vehicle, repair=repair, width=width, height=height, **values)


def _store(storing: Storing, bundle: Any) -> None:
    _store_hours(storing, None, bundle.work)
    _store_photos(storing, None, bundle.photos)


SECTION = Section(
    vehicle=lambda vehicle: {
        "work": _hours(vehicle.work_entries.filter(repair=None)),
        "photos": _photos(vehicle.photos.filter(repair=None).select_related("view")),
    },
    repair=_repair,
    store=_store,
    store_repair=_store_repair,
    along=("work_entries", "notes", "photos__view"),
)
