"""Photos: decoded, written again without the camera's metadata, kept under random names."""

import io
import secrets
import struct
import warnings
from collections.abc import Callable, Container, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import TypeVar

import pillow_heif
from django.apps import apps
from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db import models, transaction
from django.http import FileResponse, Http404
from PIL import Image, ImageOps, UnidentifiedImageError

from yellow_sill.core.errors import BadField
from yellow_sill.home.places import FOLDER_MODE, written
from yellow_sill.web.frame.changes import Kept, changing

MOST_PHOTO_BYTES = 60 * 1024 * 1024
#: A JPEG is decoded at a fraction of its size, so it may have more.
MOST_PIXELS, MOST_JPEG_PIXELS = 60_000_000, 220_000_000
KEPT_SIDE_PX = 2400  #: longest side kept; enough to read a rule in the picture
FORMATS = ("JPEG", "PNG", "WEBP", "HEIF")
#: What a photo is chosen from, as a browser's field says it.
ACCEPT = "image/jpeg,image/png,image/webp,image/heic,image/heif,.heic,.heif"
#: When it was taken and digitised, as a camera writes it (EXIF); where its part is, and that of the place.
_EXIF, _GPS, _TAKEN = 0x8769, 0x8825, (0x9003, 0x9004)
pillow_heif.register_heif_opener()
#: A record that has a photo.
R = TypeVar("R", bound=models.Model)


def photo_path(name: str) -> Path:
    return Path(settings.MEDIA_ROOT) / name


def picture_response(name: str) -> FileResponse:
    """A photo's bytes: always a JPEG that we wrote, never anything a browser would run.

    Raises: Http404 where the file is gone.
    """
    try:
        stream = photo_path(name).open("rb")
    except OSError:
        raise Http404 from None
    return FileResponse(
        stream,
        content_type="image/jpeg",
        headers={"Cache-Control": "private, max-age=86400", "X-Content-Type-Options": "nosniff"},
    )


def cleaned_picture(data: bytes) -> tuple[bytes, int, int]:
    """A picture decoded, turned upright, made no larger than needed and written again as JPEG without metadata.

    Returns: bytes, width, height.
    Raises: BadField for what is no picture of a kind we take, or one too large to decode.
    """
    mend = "Take a JPEG, PNG, WebP or HEIC photo."
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            picture = Image.open(io.BytesIO(data), formats=FORMATS)
            most = MOST_JPEG_PIXELS if picture.format == "JPEG" else MOST_PIXELS
            if picture.width * picture.height > most:
                raise BadField(
                    f"This photo has {picture.width * picture.height / 1e6:.0f} million pixels.",
                    "photo",
                    f"Make it smaller than {most / 1e6:.0f} million.",
                )
            picture.draft("RGB", (KEPT_SIDE_PX, KEPT_SIDE_PX))
            upright = ImageOps.exif_transpose(picture).convert("RGB")
    except UnidentifiedImageError:
        raise BadField("This file is not a photo.", "photo", mend) from None
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError):
        raise BadField(
            "This photo is damaged and cannot be read.", "photo", "Copy it from the camera again."
        ) from None
    upright.info.clear()  # the file's own comment would be written again
    upright.thumbnail((KEPT_SIDE_PX, KEPT_SIDE_PX), Image.Resampling.LANCZOS)
    stream = io.BytesIO()
    upright.save(stream, "JPEG", quality=86, optimize=True)
    return stream.getvalue(), upright.width, upright.height


@dataclass(frozen=True, slots=True, kw_only=True)
class Camera:
    """What a camera wrote into a photo: when it was taken by its own clock (None: it does not say), and whether it wrote down where."""

    at: datetime | None
    knew_where: bool


def camera_of(data: bytes) -> Camera:
    """What a camera wrote into a photo; nothing of what cannot be read."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            told = Image.open(io.BytesIO(data), formats=FORMATS).getexif()
            said = told.get_ifd(_EXIF)
            where = bool(told.get_ifd(_GPS))
    except (OSError, SyntaxError, ValueError, TypeError, struct.error, Image.DecompressionBombError):
        return Camera(at=None, knew_where=False)
    return Camera(at=next(filter(None, (_clock(said.get(tag)) for tag in _TAKEN)), None), knew_where=where)


def _clock(told: object) -> datetime | None:
    try:
        return datetime.strptime(str(told).strip("\0 "), "%Y:%m:%d %H:%M:%S")  # noqa: DTZ007
    except ValueError:
        return None


def thumbnail(name: str, longest_px: int) -> bytes | None:
    """A photo small; None where its file is missing or damaged."""
    try:
        with Image.open(photo_path(name)) as picture:
            return small_jpeg(picture, longest_px)
    except OSError:
        return None


def thumbnails(names: Sequence[str], longest_px: int) -> list[bytes | None]:
    """Many photos small, two at a time; None for each whose file is missing or damaged."""
    with ThreadPoolExecutor(2) as both:  # decoding and encoding leave Python's lock to others
        return list(both.map(lambda name: thumbnail(name, longest_px), names))


def small_jpeg(picture: Image.Image, longest_px: int) -> bytes:
    """A picture made small in place, as a JPEG. Raises: OSError where its file is damaged."""
    picture.thumbnail((longest_px, longest_px), reducing_gap=1.0)  # a JPEG is decoded small at once
    stream = io.BytesIO()
    picture.convert("RGB").save(stream, "JPEG", quality=80)
    return stream.getvalue()


def is_plain_jpeg(data: bytes) -> bool:
    """Whether a JPEG holds nothing but its picture: no comment, no camera's or editor's part, nothing after its end."""
    at = 2
    if data[:2] != b"\xff\xd8":
        return False
    while at + 4 <= len(data) and data[at] == 0xFF:
        marker = data[at + 1]
        if marker == 0xDA:  # the picture itself, to the end
            return data.endswith(b"\xff\xd9") and b"\xff\xd9" not in data[at:-2].replace(b"\xff\x00", b"")
        if marker == 0xFE or 0xE1 <= marker <= 0xEF:
            return False
        at += 2 + int.from_bytes(data[at + 2 : at + 4], "big")
    return False


def read_upload(upload: UploadedFile) -> tuple[bytes, int, int]:
    """An uploaded picture, cleaned.

    Returns: bytes, width, height.
    Raises: BadField: too large, not a picture, damaged.
    """
    if upload.size > MOST_PHOTO_BYTES:
        raise BadField(
            f"This file has {upload.size / 1024 / 1024:.0f} MB; a photo may have {MOST_PHOTO_BYTES // 1024 // 1024} MB.",
            "photo",
            "Send a smaller picture.",
        )
    return cleaned_picture(upload.read())


def stored(path: Path, data: bytes) -> None:
    """A photo's file, whole and on the disk itself before anything is told of it. Raises: OSError, and leaves no half of it."""
    path.parent.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
    written(path, data)


def kept(data: bytes, record: Callable[[str], R], suffix: str = ".jpg") -> R:
    """Write a cleaned picture, or a paper, to the photo folder and record it by its new name; the file goes again if the record fails."""
    name = f"{secrets.token_hex(16)}{suffix}"
    path = photo_path(name)
    stored(path, data)
    try:
        with transaction.atomic():
            return record(name)
    except BaseException:
        path.unlink(missing_ok=True)
        raise


def kept_with(upload: UploadedFile | None, record: Callable[[dict[str, str]], R]) -> R:
    """Store a record together with its photo, where one was sent. Args: record: stores it with these fields of its own. Raises: BadField."""
    if not upload:
        return record({})
    return kept(read_upload(upload)[0], lambda name: record({"file": name}))


def removed(photo: models.Model, *, by: str = "") -> None:
    """Delete a photo's record. Its file stays, so that this can be taken back; ``sweep`` takes away what nobody has missed."""
    with changing(by=by):
        photo.delete()


#: A photo's file is kept so long after its record is gone, days.
KEPT_DAYS = 30


def sweep(now: datetime) -> list[str]:
    """Take away the files of photos whose records have been gone long enough. Returns: their names."""
    known, since = set(), now - timedelta(days=KEPT_DAYS)
    for model in apps.get_models():
        if issubclass(model, Kept) and any(field.name == "file" for field in model._meta.fields):
            known |= set(model._base_manager.values_list("file", flat=True))
            known |= set(model.history.filter(history_date__gte=since).values_list("file", flat=True))
    return swept(photo_path(""), known, since)


def swept(folder: Path, known: Container[str], since: datetime) -> list[str]:
    """Take away the files of a folder that no record knows and that are older than a time. Returns: their names."""
    gone = []
    for path in folder.iterdir() if folder.is_dir() else ():
        if path.is_file() and path.name not in known and path.stat().st_mtime < since.timestamp():
            path.unlink()
            gone.append(path.name)
    return gone
