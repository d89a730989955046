"""The vehicle as a bundle and back: a loop over what the rooms put in, and the zip with its photos."""

import secrets
from typing import IO

from django.db import DataError, IntegrityError

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.bundle import FORMAT, read_bundle, write_bundle
from yellow_sill.core.formats.bundle_base import BadBundle
from yellow_sill.core.formats.bundle_checks import photos_of
from yellow_sill.core.formats.bundle_parts import Bundle
from yellow_sill.core.formats.bundle_shell import VehiclePart, ViewPart
from yellow_sill.core.formats.bundle_survey import PanelNotesPart
from yellow_sill.core.formats.paper_pages import page_count
from yellow_sill.core.parts.amount import CURRENCIES
from yellow_sill.core.shell.file import PanelPart
from yellow_sill.web.frame.bundles import Storing, gathered, hooks, part
from yellow_sill.web.frame.changes import building
from yellow_sill.web.frame.pictures import cleaned_picture, is_plain_jpeg, photo_path, stored
from yellow_sill.web.shells.models import Panel, ShellView, Vehicle


def bundle_of(vehicle: Vehicle) -> Bundle:
    """Everything stored about a vehicle."""
    views = vehicle.views.prefetch_related("panels", "looked_regions").order_by("place")
    return Bundle(
        format=FORMAT,
        vehicle=part(VehiclePart, vehicle, views=[_view_part(view) for view in views]),
        panel_notes=[_panel_notes(panel) for panel in _noted_panels(vehicle)],
        **gathered("vehicle", vehicle),
    )


def _view_part(view: ShellView) -> ViewPart:
    panels = [part(PanelPart, panel) for panel in view.panels.all()]
    return part(ViewPart, view, panels=panels, **gathered("view", view))


def _noted_panels(vehicle: Vehicle):
    noted = {pk for say in hooks("noted") for pk in say(vehicle)}
    return (
        Panel.objects.filter(pk__in=noted)
        .select_related("view")
        .prefetch_related("items", "surroundings")
        .order_by("view__place", "layer", "code")
    )


def _panel_notes(panel: Panel) -> PanelNotesPart:
    return PanelNotesPart(view=panel.view.name, panel=panel.code, **gathered("panel", panel))


def export_vehicle(vehicle: Vehicle) -> bytes:
    """The vehicle as a zip.

    Raises: BadBundle where a photo is missing on this machine.
    """
    bundle = bundle_of(vehicle)
    photos = {}
    for owner, photo in photos_of(bundle):
        try:
            photos[photo.file] = photo_path(photo.file).read_bytes()
        except OSError:
            what = f"A photo of {owner} ('{photo.caption or photo.file}') is missing on this machine."
            raise BadBundle(
                what, "photos", "Restore the latest backup, or delete that photo, then export again."
            ) from None
    return write_bundle(bundle, photos)


def import_vehicle(data: bytes | IO[bytes], owner) -> Vehicle:
    """Store the vehicle of a bundle as a new one of this owner; all of it or nothing.

    Raises: BadBundle.
    """
    bundle, photos = read_bundle(data)
    if bundle.vehicle.currency not in CURRENCIES:
        raise BadBundle(
            f"No currency '{bundle.vehicle.currency}' is known.", "vehicle.json: vehicle.currency"
        )
    written: list = []
    names: dict[str, str] = {}
    sizes: dict[str, tuple[int, int]] = {}
    try:
        for old, picture in photos.items():
            # Our own export is stored byte for byte; whatever is not a plain JPEG of ours is written afresh.
            kept = _checked_picture(picture, old)
            names[old] = old if not photo_path(old).exists() else f"{secrets.token_hex(16)}{old[-4:]}"
            path = photo_path(names[old])
            written.append(path)
            stored(path, kept[0])
            sizes[old] = kept[1:]
        with building():
            return _store(bundle, owner, names, sizes)
    except BaseException as error:
        for path in written:
            path.unlink(missing_ok=True)
        if isinstance(
            error, (IntegrityError, DataError, OverflowError, ArithmeticError)
        ):  # two of one number, or a figure that no column holds
            raise BadBundle(
                "This bundle contradicts itself: it cannot be stored as it is.",
                "vehicle.json",
                "Export it again from where it came.",
            ) from error
        raise


def _checked_picture(picture: bytes, name: str) -> tuple[bytes, int, int]:
    """A photo as it may be kept, its width and height; a PDF as it is, once it is known to be one."""
    try:
        if name.endswith(".pdf"):
            page_count(picture)
            return picture, 0, 0
        cleaned, width, height = cleaned_picture(picture)
    except BadField as error:
        raise BadBundle(error.what, f"photos/{name}", error.mend) from None
    return (picture if is_plain_jpeg(picture) else cleaned), width, height


def _store(bundle: Bundle, owner, names: dict[str, str], sizes: dict[str, tuple[int, int]]) -> Vehicle:
    by = owner.get_username()
    vehicle = Vehicle.objects.create(
        owner=owner, changed_by=by, **bundle.vehicle.model_dump(exclude={"views"})
    )
    storing = Storing(vehicle=vehicle, by=by, names=names, sizes=sizes)
    for place, told in enumerate(bundle.vehicle.views):
        view = ShellView.objects.create(
            vehicle=vehicle, place=place, **told.model_dump(mode="json", exclude={"panels", "looked"})
        )
        for panel in Panel.objects.bulk_create(
            Panel(view=view, **panel.model_dump(mode="json")) for panel in told.panels
        ):
            storing.panels[told.name, panel.code] = panel
        for store in hooks("store_view"):
            store(storing, view, told)
    for notes in bundle.panel_notes:
        for store in hooks("store_panel"):
            store(storing, storing.panels[notes.view, notes.panel], notes)
    for store in hooks("store"):
        store(storing, bundle)
    return vehicle
