"""Hours, notes and photos."""

import io
import secrets
import warnings
from datetime import date
from pathlib import Path

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from PIL import Image, ImageOps, UnidentifiedImageError

from yellow_sill.core.errors import BadField
from yellow_sill.core.repair import hours
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .models import Note, Photo, WorkEntry

MOST_PHOTO_BYTES = 25 * 1024 * 1024
MOST_PIXELS = 60_000_000
KEPT_SIDE_PX = 2400  #: longest side kept; enough to read a rule in the picture
FORMATS = ("JPEG", "PNG", "WEBP")


@transaction.atomic
def add_work(vehicle: Vehicle, repair: Repair | None, *, worked_on: date, kind: str, typed: str, note: str, by: str) -> WorkEntry:
    """Log hours as typed.

    Raises: BadField for a time that cannot be read.
    """
    spent = hours.minutes(typed)
    return WorkEntry.objects.create(vehicle=vehicle, repair=repair, worked_on=worked_on, kind=kind, minutes=spent, typed=typed.strip(), note=note, by=by)


@transaction.atomic
def add_note(repair: Repair, *, written_on: date, text: str, by: str) -> Note:
    return Note.objects.create(repair=repair, written_on=written_on, text=text, by=by)


def photo_path(name: str) -> Path:
    return Path(settings.MEDIA_ROOT) / name


def cleaned_picture(data: bytes) -> tuple[bytes, int, int]:
    """A picture decoded, turned upright, made no larger than needed and written again as JPEG without metadata.

    Returns: bytes, width, height.
    Raises: BadField for what is no picture of a kind we take, or one too large to decode.
    """
    mend = "Take a JPEG, PNG or WebP photo."
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            picture = Image.open(io.BytesIO(data), formats=FORMATS)
            if picture.width * picture.height > MOST_PIXELS:
                raise BadField(f"This photo has {picture.width * picture.height / 1e6:.0f} million pixels.", "photo", "Make it smaller than 60 million.")
            upright = ImageOps.exif_transpose(picture).convert("RGB")
    except UnidentifiedImageError:
        raise BadField("This file is not a photo.", "photo", mend) from None
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError):
        raise BadField("This photo is damaged and cannot be read.", "photo", "Copy it from the camera again.") from None
    upright.thumbnail((KEPT_SIDE_PX, KEPT_SIDE_PX), Image.Resampling.LANCZOS)
    stream = io.BytesIO()
    upright.save(stream, "JPEG", quality=86, optimize=True)
    return stream.getvalue(), upright.width, upright.height


def add_photo(repair: Repair, upload: UploadedFile, *, caption: str, taken_on: date, by: str) -> Photo:
    """Store an uploaded photo under a random name.

    Raises: BadField: too large, not a picture, damaged.
    """
    if upload.size > MOST_PHOTO_BYTES:
        raise BadField(
            f"This file has {upload.size / 1024 / 1024:.0f} MB; a photo may have {MOST_PHOTO_BYTES // 1024 // 1024} MB.", "photo", "Send a smaller picture."
        )
    data, width, height = cleaned_picture(upload.read())
    return keep_photo(repair, data, width, height, caption=caption, taken_on=taken_on, by=by)


def keep_photo(repair: Repair, data: bytes, width: int, height: int, *, caption: str, taken_on: date, by: str) -> Photo:
    """Write a cleaned picture to the photo folder and record it; the file goes again if the record fails."""
    name = f"{secrets.token_hex(16)}.jpg"
    path = photo_path(name)
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(data)
    try:
        with transaction.atomic():
            return Photo.objects.create(repair=repair, file=name, width=width, height=height, caption=caption, taken_on=taken_on, by=by)
    except BaseException:
        path.unlink(missing_ok=True)
        raise


def remove_photo(photo: Photo) -> None:
    with transaction.atomic():
        photo.delete()
        transaction.on_commit(lambda: photo_path(photo.file).unlink(missing_ok=True))
