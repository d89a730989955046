"""The bundle: a whole vehicle as one zip. This module is its published format; ``bundle_schema`` is its JSON Schema.

vehicle.json holds everything; findings.csv and costs.csv repeat what a spreadsheet wants; photos/ holds the pictures.
"""

import io
import json
import zipfile
import zlib
from collections import Counter
from collections.abc import Container, Mapping
from typing import Any

from pydantic import ValidationError

from ..errors import BadField
from ..records import first_fault, once
from ..said import Said
from .bundle_base import BadBundle
from .bundle_checks import check_links, photos_of
from .bundle_parts import Bundle
from .bundle_tables import costs_csv, findings_csv

FORMAT = "yellow-sill.bundle/1"
MOST_FILES = 5000
MOST_BYTES = 2_000_000_000  #: unpacked, all files together
MOST_JSON_BYTES = 100_000_000
_FIXED_TIME = (2000, 1, 1, 0, 0, 0)  #: so that the same vehicle gives the same bytes


def bundle_schema() -> dict[str, Any]:
    """The JSON Schema of vehicle.json."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **Bundle.model_json_schema()}


def write_bundle(bundle: Bundle, photos: Mapping[str, bytes]) -> bytes:
    """Pack a bundle.

    Args: bundle: the vehicle; photos: the pictures' bytes by the file name in PhotoPart.
    Returns: the zip. The same vehicle gives the same bytes.
    """
    stream = io.BytesIO()
    currency = bundle.vehicle.currency
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:

        def add(name: str, data: str | bytes, compress: int = zipfile.ZIP_DEFLATED) -> None:
            info = zipfile.ZipInfo(name, _FIXED_TIME)
            info.compress_type, info.external_attr = compress, 0o644 << 16
            archive.writestr(info, data)

        add("vehicle.json", json.dumps(bundle.model_dump(mode="json"), ensure_ascii=False, indent=1))
        add("schema.json", json.dumps(bundle_schema(), indent=1))
        add("findings.csv", "\ufeff" + findings_csv(bundle))
        add("costs.csv", "\ufeff" + costs_csv(bundle, currency))
        for name in sorted(photos):
            add(f"photos/{name}", photos[name], zipfile.ZIP_STORED)
    return stream.getvalue()


#: What a zip that was cut short, scrambled or locked may raise while it is read.
DAMAGED = (zipfile.BadZipFile, zlib.error, EOFError, OSError, RuntimeError, NotImplementedError)


def read_bundle(data: bytes) -> tuple[Bundle, dict[str, bytes]]:
    """Unpack and check a bundle.

    Returns: the vehicle and its pictures by file name.
    Raises: BadBundle: no zip, too large, not our format, a value out of range (with its path), a missing photo or panel.
    """
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
        members = archive.infolist()
    except (zipfile.BadZipFile, ValueError, OSError):
        raise BadBundle(
            "This file is no bundle: it is not a zip.", "bundle", "Choose the .zip that was exported."
        ) from None
    if len(members) > MOST_FILES or sum(member.file_size for member in members) > MOST_BYTES:
        raise BadBundle("This bundle is larger than 2 GB unpacked.", "bundle", "It cannot be one of ours.")
    names = {member.filename: member for member in members}
    if len(names) < len(members):
        twice = Counter(member.filename for member in members).most_common(1)[0][0]
        raise BadBundle(
            Said("'{twice}' is in this zip twice.", twice=twice[:60]),
            "bundle",
            "Nobody can say which of them counts: export it again.",
        )
    if "vehicle.json" not in names or names["vehicle.json"].file_size > MOST_JSON_BYTES:
        raise BadBundle(
            "There is no vehicle.json in this zip.", "bundle", "Choose the .zip that was exported."
        )
    bundle = _vehicle(archive)
    check_links(bundle)
    return bundle, {
        photo.file: _photo(archive, f"photos/{photo.file}", what, names) for what, photo in photos_of(bundle)
    }


def _vehicle(archive: zipfile.ZipFile) -> Bundle:
    """Raises: BadBundle: not JSON, a key twice, a value out of range (with its path), a damaged zip."""
    try:
        text = archive.read("vehicle.json")
        json.loads(text, object_pairs_hook=once)
        return Bundle.model_validate_json(text)
    except BadField as error:
        raise BadBundle(
            error.what, "vehicle.json", "The file was changed by hand: take one of them out."
        ) from None
    except (ValueError, RecursionError) as error:
        if not isinstance(error, ValidationError):
            raise BadBundle(
                "vehicle.json is not JSON.",
                "vehicle.json",
                "The file was changed or comes from a newer version.",
            ) from None
        fault = first_fault(error)
        raise BadBundle(
            fault.what, f"vehicle.json: {fault.where}", "The file was changed or comes from a newer version."
        ) from None
    except DAMAGED:
        raise BadBundle(
            "This zip is damaged.", "bundle", "Copy it again from where it was exported."
        ) from None


def _photo(archive: zipfile.ZipFile, name: str, what: str, names: Container[str]) -> bytes:
    """One picture. Args: what: what it is of, in words; names: what lies in the zip. Raises: BadBundle."""
    if name not in names:
        raise BadBundle(Said("A photo of {what} is missing.", what=what), name, "Export the bundle again.")
    try:
        return archive.read(name)
    except DAMAGED:
        raise BadBundle(
            "A photo in this zip is damaged.", name, "Copy the bundle again from where it was exported."
        ) from None
