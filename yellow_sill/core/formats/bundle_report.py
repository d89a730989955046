"""What is wrong with a bundle, all of it at once: a line each."""

from collections.abc import Callable, Iterator
from functools import partial
from typing import IO

from pydantic import ValidationError

from ..errors import CoreError
from ..records import faults
from .bundle import vehicle_of
from .bundle_base import BadBundle
from .bundle_checks import link_checks, photos_of
from .bundle_zip import BundlePhotos, opened, vehicle_json

#: So many faults are told; what comes after is mostly the same.
MOST_TOLD = 200


def bundle_faults(data: bytes | IO[bytes]) -> list[str]:
    """Everything that is wrong with a bundle, each as 'place: what, how to mend it'; none where it can be taken in.

    Args: data: the zip, or a file that can be sought.
    """
    found: list[str] = []
    for fault in _all(data):
        if len(found) == MOST_TOLD:
            found.append(f"and more: only the first {MOST_TOLD} are told")
            break
        line = f"{fault.where}: {fault.what} {fault.mend}".strip()
        if line not in found:
            found.append(line)
    return found


def _all(data: bytes | IO[bytes]) -> Iterator[CoreError]:
    try:
        archive = opened(data)
        bundle = vehicle_of(vehicle_json(archive))
    except ValidationError as error:
        yield from (BadBundle(fault.what, f"vehicle.json: {fault.where}") for fault in faults(error))
        return
    except CoreError as error:
        yield error
        return
    for check in link_checks(bundle):
        yield from _fault(check)
    for photo, what in {photo.file: what for what, photo in photos_of(bundle)}.items():
        one = BundlePhotos(archive, {photo: what})
        yield from _fault(one.require_all) or _fault(partial(_whole, one, photo))


def _whole(photos: BundlePhotos, name: str) -> None:
    """Raises: BadBundle: a picture that cannot be read, or is none."""
    data = photos[name]
    if (
        data[:2] != b"\xff\xd8"
        and data[:5] != b"%PDF-"
        and data[:8] != b"\x89PNG\r\n\x1a\n"
        and data[8:12] != b"WEBP"
    ):
        raise BadBundle("This is no picture.", f"photos/{name}", "Export the bundle again.")


def _fault(check: Callable[[], object]) -> list[CoreError]:
    try:
        check()
    except CoreError as error:
        return [error]
    return []
