"""The zip of a bundle, looked over before anything in it is decoded: sizes, counts, names; its photos read one by one."""

import io
import zipfile
import zlib
from collections import Counter
from collections.abc import Iterator, Mapping
from typing import IO

from ..said import Said
from .bundle_base import BadBundle

MOST_FILES = 5000
MOST_BYTES = 2_000_000_000  #: unpacked, all files together
MOST_JSON_BYTES = 40_000_000
MOST_PHOTO_BYTES = 25_000_000
#: So many values vehicle.json may hold: twenty times what the longest rebuild has, and what a computer of today holds with ease.
MOST_VALUES = 1_500_000
#: What a zip that was cut short, scrambled or locked may raise while it is read.
DAMAGED = (zipfile.BadZipFile, zlib.error, EOFError, OSError, RuntimeError, NotImplementedError)


class BundlePhotos(Mapping[str, bytes]):
    """The pictures of a bundle by file name, each read from the zip when it is asked for."""

    def __init__(self, archive: zipfile.ZipFile, files: Mapping[str, str]) -> None:
        """Args: files: what each picture is of, in words, by its file name."""
        self._archive, self._files = archive, files

    def __len__(self) -> int:
        return len(self._files)

    def __iter__(self) -> Iterator[str]:
        return iter(self._files)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Mapping) and dict(self) == dict(other)

    __hash__ = None  # type: ignore[assignment]

    def __getitem__(self, file: str) -> bytes:
        """Raises: KeyError; BadBundle for a damaged one."""
        if file not in self._files:
            raise KeyError(file)
        name = f"photos/{file}"
        try:
            return self._archive.read(name)
        except DAMAGED:
            raise BadBundle(
                "A photo in this zip is damaged.", name, "Copy the bundle again from where it was exported."
            ) from None

    def require_all(self) -> None:
        """Raises: BadBundle naming a picture that is missing or larger than a photo is."""
        sizes = {member.filename: member.file_size for member in self._archive.infolist()}
        for file, what in self._files.items():
            name = f"photos/{file}"
            if name not in sizes:
                raise BadBundle(
                    Said("A photo of {what} is missing.", what=what), name, "Export the bundle again."
                )
            if sizes[name] > MOST_PHOTO_BYTES:
                raise BadBundle(
                    "A photo in this zip is larger than 25 MB.", name, "It cannot be one of ours."
                )


def opened(data: bytes | IO[bytes]) -> zipfile.ZipFile:
    """A bundle's zip, its list of files looked over. Raises: BadBundle."""
    try:
        archive = zipfile.ZipFile(io.BytesIO(data) if isinstance(data, bytes) else data)
        members = archive.infolist()
    except (zipfile.BadZipFile, ValueError, OSError):
        raise BadBundle(
            "This file is no bundle: it is not a zip.", "bundle", "Choose the .zip that was exported."
        ) from None
    if len(members) > MOST_FILES or sum(member.file_size for member in members) > MOST_BYTES:
        raise BadBundle("This bundle is larger than 2 GB unpacked.", "bundle", "It cannot be one of ours.")
    names = [member.filename for member in members]
    if len(set(names)) < len(names):
        twice = Counter(names).most_common(1)[0][0]
        raise BadBundle(
            Said("'{twice}' is in this zip twice.", twice=twice[:60]),
            "bundle",
            "Nobody can say which of them counts: export it again.",
        )
    if "vehicle.json" not in names:
        raise BadBundle(
            "There is no vehicle.json in this zip.", "bundle", "Choose the .zip that was exported."
        )
    if archive.getinfo("vehicle.json").file_size > MOST_JSON_BYTES:
        raise BadBundle("vehicle.json has more than 40 MB.", "vehicle.json", "It cannot be one of ours.")
    return archive


def vehicle_json(archive: zipfile.ZipFile) -> bytes:
    """The text of vehicle.json, not too long to be decoded. Raises: BadBundle."""
    try:
        text = archive.read("vehicle.json")
    except DAMAGED:
        raise BadBundle(
            "This zip is damaged.", "bundle", "Copy it again from where it was exported."
        ) from None
    if sum(text.count(sign) for sign in (b",", b"[", b"{")) > MOST_VALUES:
        raise BadBundle(
            Said("vehicle.json holds more than {most} values.", most=MOST_VALUES),
            "vehicle.json",
            "It cannot be one of ours.",
        )
    if b"\\u0000" in text:
        raise BadBundle(
            "A text in vehicle.json has a sign that no text has (NUL).",
            "vehicle.json",
            "Take it out, or export the bundle again.",
        )
    return text
