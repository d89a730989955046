"""Builders: a test names only what it is about."""

import io
from datetime import date
from functools import cache
from unittest import mock

from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import NoReverseMatch, reverse
from PIL import Image

from yellow_sill.core.shell import Shell, build_shell
from yellow_sill.web.patch.services import patch_of, save_patch, stored_values
from yellow_sill.web.repairs.services import open_repair
from yellow_sill.web.shells import services as shell_services
from yellow_sill.web.shells.models import Panel
from yellow_sill.web.survey.services import create_finding
from yellow_sill.web.weld.services import save_weld, weld_of

DAY = date(2026, 2, 14)
BODY = "saloon-2-door-unitary"
SILL_HOLE = [(698, 300), (708, 274), (746, 262), (830, 276), (844, 300), (794, 334), (716, 334)]


@cache
def shell() -> Shell:
    """The usual saloon, drawn once for all tests."""
    return build_shell(BODY, {})


def owner(name: str = "Wren Askew"):
    return get_user_model().objects.create_user(name, password="brazing-rod-77")


def vehicle(of, **changes):
    plate = {
        "make": "Marrick",
        "model": "Dunlin",
        "year": 1967,
        "body_no": "D2-04417",
        "currency": "GBP",
    } | changes
    with mock.patch.object(shell_services, "build_shell", lambda *_: shell()):
        return shell_services.create_vehicle(owner=of, body_type=BODY, dimensions_mm={}, **plate)


def panel(of, code: str = "L-SILL", view: str = "left") -> Panel:
    return Panel.objects.get(view__vehicle=of, view__name=view, code=code)


def finding(of, code: str = "L-SILL", view: str = "left", **changes):
    values = {
        "corners": SILL_HOLE, "evidence": [{"method": "probe", "result": "through", "hits": 3, "tries": 5, "made_on": DAY}],
        "title": "Sill end, front", "found_on": DAY, "by": "Wren Askew",
    } | changes  # fmt: skip
    return create_finding(of, panel(of, code, view), **values)


def repair(of, findings, **changes):
    values = {
        "title": "",
        "opened_on": DAY,
        "by": "Wren Askew",
        "margin_mm": 12.0,
        "corner_radius_mm": 10.0,
        "web_mm": 40.0,
    } | changes
    return open_repair(of, findings, **values)


def picture(
    name: str = "drawn.jpg", size=(60, 40), kind: str = "JPEG", exif: bool = False
) -> SimpleUploadedFile:
    stream, image = io.BytesIO(), Image.new("RGB", size, (150, 90, 60))
    extra = {}
    if exif:
        data = Image.Exif()
        data[0x010E] = "where it was taken"
        extra["exif"] = data
    image.save(stream, kind, **extra)
    return SimpleUploadedFile(name, stream.getvalue())


def worked_out(cut):
    """The cut with its patch and its weld plan stored, as usual."""
    patch, weld = patch_of(cut), weld_of(cut)
    save_patch(patch, stored_values(patch), version=None, by="Wren")
    settings = ("process", "joint", "pitch_mm", "cooling", "limit_c", "ambient_c", "tack_energy_j", "proved")
    save_weld(weld, {name: getattr(weld, name) for name in settings}, version=None, by="Wren")
    return cut


def repair_page(repair, name: str, *more) -> str:
    """The address of one of a repair's pages or deeds, whichever room it belongs to."""
    for room in ("cut", "patch", "weld"):
        try:
            return reverse(f"{room}:{name}", args=[repair.vehicle_id, repair.number, *more])
        except NoReverseMatch:
            continue
    raise AssertionError(name)
