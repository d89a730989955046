"""The bundle: a whole vehicle as one zip. This module is its published format; ``bundle_schema`` is its JSON Schema.

vehicle.json holds everything; findings.csv and costs.csv repeat what a spreadsheet wants; photos/ holds the pictures.
"""

import io
import json
import zipfile
from collections.abc import Mapping
from typing import IO, Any

from pydantic import ValidationError

from ..errors import BadField
from ..records import first_fault, once, require_keys
from .bundle_base import BadBundle
from .bundle_checks import check_links, photos_of
from .bundle_old import brought_up
from .bundle_parts import Bundle
from .bundle_tables import costs_csv, findings_csv
from .bundle_zip import BundlePhotos, opened, vehicle_json

FORMAT = "yellow-sill.bundle/2"
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


def read_bundle(data: bytes | IO[bytes]) -> tuple[Bundle, BundlePhotos]:
    """Unpack and check a bundle.

    Args: data: the zip, or a file that can be sought; it must stay open while its pictures are read.
    Returns: the vehicle, and its pictures by file name, read one by one.
    Raises: BadBundle: no zip, too large, not our format, a value out of range (with its path), a missing photo or panel.
    """
    archive = opened(data)
    bundle = _vehicle(vehicle_json(archive))
    check_links(bundle)
    photos = BundlePhotos(archive, {photo.file: what for what, photo in photos_of(bundle)})
    photos.require_all()
    return bundle, photos


#: What mends a vehicle.json that is not as we write it.
CHANGED = "The file was changed or comes from a newer version."


def vehicle_of(text: bytes) -> Bundle:
    """What vehicle.json tells. Raises: BadBundle: not JSON, a key twice or unknown; ValidationError: values out of range."""
    try:
        told = json.loads(text, object_pairs_hook=once)
        today = brought_up(told)
        require_keys(Bundle, today)
        return Bundle.model_validate_json(text if today is told else json.dumps(today))
    except BadField as error:
        where = "vehicle.json" if error.where == "file" else f"vehicle.json: {error.where}"
        raise BadBundle(error.what, where, error.mend or CHANGED) from None
    except ValidationError:
        raise
    except (ValueError, RecursionError):
        raise BadBundle("vehicle.json is not JSON.", "vehicle.json", CHANGED) from None


def _vehicle(text: bytes) -> Bundle:
    """Raises: BadBundle: as ``vehicle_of``, or the first value out of range, with its path."""
    try:
        return vehicle_of(text)
    except ValidationError as error:
        fault = first_fault(error)
        raise BadBundle(fault.what, f"vehicle.json: {fault.where}", CHANGED) from None
