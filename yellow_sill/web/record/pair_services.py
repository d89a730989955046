"""Before and after: two photos of one place, laid over one another by points that were tapped in both."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from PIL import Image

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.record.overlay import Overlay, OverlayRequest, inverse_of, overlay
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.pictures import photo_path, small_jpeg
from yellow_sill.web.logbook.models import Photo
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .models import PhotoPair

Points = Sequence[Sequence[float]]
#: Photos whose places are no further apart than this show one place, mm.
ONE_PLACE_MM = 250.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Pairing:
    """A repair's photos in order, the two that are laid over one another (None: there are none), the pair that was kept of them."""

    photos: list[Photo]
    before: Photo | None
    after: Photo | None
    kept: PhotoPair | None


def lay(before: Photo, after: Photo, points: Points) -> Overlay:
    """How the later photo lies over the earlier one. Raises: BadField."""
    if before.pk == after.pk:
        raise BadField("Before and after are the same photo.", "after", "Choose another.")
    return overlay(OverlayRequest.read({
        "before_px": [before.width, before.height], "after_px": [after.width, after.height],
        "pairs": [{"before": list(point[:2]), "after": list(point[2:4])} for point in points],
    }))  # fmt: skip


def in_order(repair: Repair) -> list[Photo]:
    """A repair's photos from found to protected, those of which the stage is not known by their day."""
    rank = {state: n for n, state in enumerate(STATES)}
    day = lambda photo: (photo.taken_on is None, photo.taken_on, photo.taken_at, photo.pk)  # noqa: E731
    photos = sorted(repair.photos.all(), key=day)
    known = [photo for photo in photos if photo.stage]
    if len(known) == len(photos):
        return sorted(photos, key=lambda photo: rank[photo.stage])
    return photos


def pairing(repair: Repair, before: int | None, after: int | None) -> Pairing:
    """The two photos that were asked for, else those that were kept last, else the first and the last of one place and direction."""
    photos = in_order(repair)
    by_key = {photo.pk: photo for photo in photos}
    pairs = list(PhotoPair.objects.filter(before__in=by_key, after__in=by_key).order_by("-pk"))
    one, other = by_key.get(before or 0), by_key.get(after or 0)
    if one is None or other is None or one is other:
        one, other = (
            (by_key[pairs[0].before_id], by_key[pairs[0].after_id]) if pairs else _first_and_last(photos)
        )
    kept = next(
        (pair for pair in pairs if one and other and (pair.before_id, pair.after_id) == (one.pk, other.pk)),
        None,
    )
    return Pairing(photos=photos, before=one, after=other, kept=kept)


def _first_and_last(photos: Sequence[Photo]) -> tuple[Photo | None, Photo | None]:
    """The two furthest apart in the work that show one place from one side; else the first and the last."""
    for one in photos:
        for other in reversed(photos):
            if other is not one and one.seen_from and one.seen_from == other.seen_from and _near(one, other):
                return one, other
    return (photos[0], photos[-1]) if len(photos) > 1 else (None, None)


def _near(one: Photo, other: Photo) -> bool:
    if not one.at or not other.at or one.view_id != other.view_id:
        return False
    return all(abs(a - b) <= ONE_PLACE_MM for a, b in zip(one.at, other.at, strict=True))


@one_change
def keep_pair(vehicle: Vehicle, before: Photo, after: Photo, points: Points, *, by: str) -> PhotoPair:
    """Keep how two photos were laid over one another. Raises: BadField."""
    lay(before, after, points)
    values: dict[str, Any] = {
        "points": [[round(float(value), 1) for value in point[:4]] for point in points],
        "by": by,
    }
    stored = PhotoPair.objects.filter(before=before, after=after).first()
    if stored is None:
        return PhotoPair.objects.create(vehicle=vehicle, before=before, after=after, **values)
    stored.points, stored.by = values["points"], by
    stored.save()
    return stored


def laid_pictures(repair: Repair, longest_px: int) -> list[tuple[bytes, str]]:
    """The pairs of a repair that were kept, each as the earlier photo and the later one seen as from the earlier's place.

    A pair of which a file is gone is left out.
    """
    found: list[tuple[bytes, str]] = []
    pairs = PhotoPair.objects.filter(before__repair=repair).select_related("before", "after")
    for pair in pairs:
        try:
            matrix = inverse_of(lay(pair.before, pair.after, pair.points).matrix)
            with (
                Image.open(photo_path(pair.before.file)) as before,
                Image.open(photo_path(pair.after.file)) as after,
            ):
                laid = after.convert("RGB").transform(
                    before.size,
                    Image.Transform.PERSPECTIVE,
                    matrix,
                    Image.Resampling.BILINEAR,
                    fillcolor="white",
                )
                both = [small_jpeg(before, longest_px), small_jpeg(laid, longest_px)]
        except (OSError, CoreError):
            continue
        found += [
            (both[0], f"Before: {pair.before.stage} {pair.before.caption}"),
            (both[1], f"After: {pair.after.stage} {pair.after.caption}"),
        ]
    return found
