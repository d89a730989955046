"""Photos: a heap of them taken in and sorted by what was done on their days; what each shows, and from where."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from hashlib import sha256
from typing import Any

from django.core.files.uploadedfile import UploadedFile
from django.utils import timezone

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.record.heap import (
    NEAR_DAYS,
    CameTo,
    DidOn,
    Heap,
    HeapPhoto,
    HeapRequest,
    SortedPhoto,
    sort_heap,
)
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.core.said import Count, Said, joined
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.pictures import MOST_PHOTO_BYTES, camera_of, cleaned_picture, kept, removed
from yellow_sill.web.logbook.models import Photo
from yellow_sill.web.logbook.services import WrittenMeanwhile
from yellow_sill.web.repairs.models import Repair, RibbonStep
from yellow_sill.web.shells.models import Vehicle

#: What a person says of a photo, and what a change of it is told from.
SAID = ("repair_id", "caption", "taken_on", "stage", "view_id", "at", "subject", "subject_of", "seen_from")
#: So many photos are sorted at once.
MOST_AT_ONCE = 5000


@dataclass(slots=True, kw_only=True)
class Taken:
    """What became of photos that were sent: taken in, here already, refused (file and why), how many knew where they were taken."""

    new: int = 0
    known: int = 0
    knew_where: int = 0
    refused: list[tuple[str, CoreError]]

    @property
    def words(self) -> Said:
        said = [Said("{photos} taken in", photos=Count(self.new, "photo", "photos"))]
        if self.known:
            said.append(Said("{photos} here already", photos=Count(self.known, "photo", "photos")))
        if self.refused:
            said.append(Said("{photos} refused", photos=Count(len(self.refused), "photo", "photos")))
        if self.knew_where:
            said.append(
                Said("where it was taken stood in {photos} and was thrown away", photos=self.knew_where)
            )
        return joined(said, ", ")


def mark_of(data: bytes) -> str:
    """What a file is known by, whatever it is called."""
    return sha256(data).hexdigest()[:40]


def known_of(vehicle: Vehicle, marks: Iterable[str]) -> list[str]:
    """Which files are here already, by their marks."""
    return list(
        vehicle.photos.filter(came_as__in=list(marks)[:MOST_AT_ONCE])
        .exclude(came_as="")
        .values_list("came_as", flat=True)
    )


def take_in(vehicle: Vehicle, uploads: Iterable[UploadedFile], *, by: str) -> Taken:
    """Store photos as they came, each by itself, so that what was stored stays where the next is refused; to be sorted."""
    told = Taken(refused=[])
    for upload in uploads:
        try:
            _take_one(vehicle, upload, told, by)
        except CoreError as error:
            told.refused.append((upload.name or "", error))
    return told


def _take_one(vehicle: Vehicle, upload: UploadedFile, told: Taken, by: str) -> None:
    """Raises: BadField."""
    if upload.size > MOST_PHOTO_BYTES:
        raise BadField(
            Said("This file has {mb} MB; a photo may have {most} MB.", mb=round(upload.size / 1024 / 1024), most=MOST_PHOTO_BYTES // 1024 // 1024),
            "photo", "Send a smaller picture.",
        )  # fmt: skip
    data = upload.read()
    mark = mark_of(data)
    if vehicle.photos.filter(came_as=mark).exists():
        told.known += 1
        return
    camera = camera_of(data)
    picture, width, height = cleaned_picture(data)
    values = {
        "width": width, "height": height, "came_as": mark, "by": by, "sorted_by": "",
        "taken_at": camera.at.isoformat() if camera.at else "",
    }  # fmt: skip
    kept(picture, lambda name: Photo.objects.create(vehicle=vehicle, file=name, **values))
    told.new += 1
    told.knew_where += camera.knew_where


def heap_of(vehicle: Vehicle, photos: Sequence[Photo], today: date) -> Heap:
    """Where photos belong by what was done on their days, beside all others of these days. Raises: CoreError."""
    numbers = dict(vehicle.repairs.values_list("pk", "number"))
    days = {photo.taken_at[:10] for photo in photos if photo.taken_at}
    near = {
        date.fromisoformat(day) + timedelta(days=off)
        for day in days
        for off in range(-NEAR_DAYS, NEAR_DAYS + 1)
    }
    clocks = {}
    for time in vehicle.work_times.exclude(entry=None).exclude(minutes=None):
        begun = timezone.localtime(time.begun_at).replace(tzinfo=None)
        clocks[time.entry_id] = (begun, begun + timedelta(minutes=time.minutes or 0))
    hours = vehicle.work_entries.order_by("worked_on", "pk").values_list(
        "pk", "repair", "worked_on", "minutes"
    )
    done = [
        DidOn.model_construct(
            repair=numbers.get(repair, 0), day=day, minutes=minutes, begins=clocks.get(pk, (None, None))[0], ends=clocks.get(pk, (None, None))[1]
        )
        for n, (pk, repair, day, minutes) in enumerate(hours)
        if day in near or not n  # the first tells since when there is anything
    ]  # fmt: skip
    steps = (
        RibbonStep.objects.filter(repair__vehicle=vehicle)
        .order_by("pk")
        .values_list("repair__number", "made_on", "state")
    )
    states = [CameTo.model_construct(repair=repair, day=day, state=state) for repair, day, state in steps]
    asked = [HeapPhoto.model_construct(key=str(photo.pk), at=_clock(photo.taken_at)) for photo in photos]
    others = vehicle.photos.exclude(taken_at="").exclude(sorted_by="").values_list("pk", "taken_at")
    asked += [HeapPhoto.model_construct(key=str(pk), at=_clock(at)) for pk, at in others if at[:10] in days]
    return sort_heap(HeapRequest.model_construct(photos=asked, done=done, states=states, today=today))


def _clock(told: str) -> datetime | None:
    return datetime.fromisoformat(told) if told else None


def to_sort(vehicle: Vehicle) -> list[Photo]:
    """Photos of which nobody has said where they belong, by their clock, those without one last."""
    rows = vehicle.photos.filter(sorted_by="").order_by("taken_at", "pk")[:MOST_AT_ONCE]
    return sorted(rows, key=lambda photo: (not photo.taken_at, photo.taken_at, photo.pk))


@one_change
def sort_by_day(vehicle: Vehicle, *, today: date, by: str) -> Said:
    """Put every photo that is sure to the repair of its day; the rest stays to be asked about, its day said where it is known."""
    photos = to_sort(vehicle)
    if not photos:
        return Said("No photo is left to be sorted.")
    heap = heap_of(vehicle, photos, today)
    repairs = {repair.number: repair for repair in vehicle.repairs.all()}
    for photo, told in zip(photos, heap.photos, strict=False):
        if told.sure and told.repair in repairs:
            photo.repair, photo.stage, photo.sorted_by = repairs[told.repair], told.stage, "day"
        if photo.taken_on != told.day or told.sure:
            photo.taken_on = told.day
            photo.save()
    sure = sum(bool(photo.sorted_by) for photo in photos)
    return Said(
        "{sure} put to what was done on their day; {asked} to be asked about.",
        sure=sure,
        asked=len(photos) - sure,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """A photo that is asked about, with what it may be of."""

    photo: Photo
    told: SortedPhoto
    likely: list[tuple[Repair, str]]


def asked_about(vehicle: Vehicle, today: date, most: int) -> tuple[int, list[Asked]]:
    """How many photos are to be sorted, and the first of them with what each may be of."""
    photos = to_sort(vehicle)
    if not photos:
        return 0, []
    repairs = {repair.number: repair for repair in vehicle.repairs.all()}
    heap = heap_of(vehicle, photos[: 4 * most], today)
    return len(photos), [
        Asked(
            photo=photo, told=told,
            likely=[(repairs[each.repair], each.stage) for each in told.likely if each.repair in repairs]
            or ([(repairs[told.repair], told.stage)] if told.repair in repairs else []),
        )
        for photo, told in list(zip(photos, heap.photos, strict=False))[:most]
    ]  # fmt: skip


def as_said(photo: Photo) -> str:
    """What is said of a photo now, as one short mark."""
    return sha256(repr([getattr(photo, name) for name in SAID]).encode()).hexdigest()[:16]


@one_change
def say_of_photo(photo: Photo, values: Mapping[str, Any], *, was: str | None) -> None:
    """Store what a person says of a photo; it is sorted by hand then.

    Args: was: the mark of what the person saw; None: they were asked about it just now. Raises: WrittenMeanwhile; BadField.
    """
    stored = Photo.objects.select_related("repair").get(pk=photo.pk)
    if was is not None and was != as_said(stored):
        raise WrittenMeanwhile
    if values.get("subject") and not values.get("subject_of"):
        raise BadField(
            "Say which.",
            "subject_of",
            "The panel's code, the finding's number, the part's number or the box.",
        )
    if values.get("stage") and not values.get("repair", stored.repair):
        raise BadField("A stage is of a repair.", "stage", "Choose the repair first.")
    for name, value in values.items():
        setattr(photo, name, value)
    photo.sorted_by = "hand"
    photo.save()


def drop_photo(photo: Photo) -> None:
    """Take a photo out; Changes brings it back."""
    removed(photo)


def shown_photos(vehicle: Vehicle, *, repair: int = 0, stage: str = "", view: int | None = None) -> Any:
    """Photos that were sorted, the newest first; of a repair, a stage, or with a place in a view."""
    rows = vehicle.photos.exclude(sorted_by="").select_related("repair").order_by("-taken_on", "-pk")
    if repair:
        rows = rows.filter(repair__number=repair)
    if stage in STATES:
        rows = rows.filter(stage=stage)
    if view is not None:
        rows = rows.filter(view=view)
    return rows
