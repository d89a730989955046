"""The dossier of a vehicle: made outside the request, kept, given out, read under an address that ends."""

import secrets
import shutil
from collections.abc import Callable
from datetime import date, datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from django.conf import settings
from django.utils import timezone
from django.utils.translation import get_language, override

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.dossier import not_printed, write_folder, write_pdf
from yellow_sill.web.frame import jobs, units
from yellow_sill.web.frame.models import Job
from yellow_sill.web.frame.pictures import KEPT_DAYS, swept
from yellow_sill.web.frame.revision import revision_of
from yellow_sill.web.logbook.bundle import export_vehicle
from yellow_sill.web.shells.models import Vehicle

from .dossier_sections import Choices, sheet_of
from .models import Dossier

#: So many dossiers of a vehicle are kept; a link is open for so many days at most.
MOST_KEPT, MOST_DAYS = 20, 366
#: The share of the work that the repairs are; the rest is the file itself.
_GATHER = 0.8


def ask_dossier(vehicle: Vehicle, choices: Choices, *, by: str) -> Job:
    """Have a dossier made. Raises: BadField: nothing chosen; a bundle, which holds everything, beside something that is left out."""
    if not choices.repairs:
        raise BadField("Choose at least one repair.", "repairs", "A dossier tells what was done.")
    if choices.bundle and not (choices.money and choices.names):
        raise BadField(
            "The bundle holds all money and all names.", "bundle", "Leave it out, or leave both in."
        )
    asked = {
        "repairs": sorted(choices.repairs), "money": choices.money, "names": choices.names, "photos": choices.photos, "form": choices.form,
        "bundle": choices.bundle, "others": choices.others, "by": by, "revision": revision_of(vehicle.pk), "unit": units.unit.get(), "language": get_language(),
        "asked": secrets.token_hex(4),
    }  # fmt: skip
    return jobs.ask("dossier", vehicle.pk, asked)


@jobs.here("dossier")
def make(vehicle_id: int, asked: dict[str, Any], progress: Callable[[float], None]) -> dict[str, Any]:
    """Make a dossier and keep it. Raises: CoreError."""
    units.unit.set(asked["unit"])
    vehicle = Vehicle.objects.get(pk=vehicle_id)
    names = ("money", "names", "photos", "form", "bundle", "others")
    choices = Choices(
        repairs=tuple(asked["repairs"]), **{name: asked[name] for name in names if name in asked}
    )
    folder().mkdir(parents=True, exist_ok=True)
    with override(asked["language"]), TemporaryDirectory(dir=folder()) as aside:
        sheet = sheet_of(
            vehicle, choices, today=timezone.localdate(), progress=lambda share: progress(_GATHER * share),
            keep=lambda data: _put_aside(Path(aside), data),
        )  # fmt: skip
        bundle = export_vehicle(vehicle) if choices.bundle else None
        progress(_GATHER)
        written = Path(aside) / "dossier"
        write = write_pdf if choices.form == "pdf" else write_folder
        code, size = write(sheet, written, bundle), written.stat().st_size
        file = f"{secrets.token_hex(16)}.{'pdf' if choices.form == 'pdf' else 'zip'}"
        written.replace(folder() / file)
    made = Dossier.objects.create(
        vehicle=vehicle, made_at=timezone.now(), by=asked["by"], form=choices.form, file=file, size=size, code=code,
        told=str(choices.told()),
    )  # fmt: skip
    for old in Dossier.objects.filter(vehicle=vehicle, token="")[MOST_KEPT:]:
        forget(old)
    return {"dossier": made.pk, "code": made.code, "left_out": not_printed(sheet)}


def _put_aside(aside: Path, data: bytes) -> Path:
    path = aside / secrets.token_hex(8)
    path.write_bytes(data)
    return path


def folder() -> Path:
    """Where the files of dossiers lie."""
    return Path(settings.DATA) / "dossiers"


def sweep_dossiers(now: datetime) -> int:
    """Take away what belongs to no dossier: of vehicles that are gone long enough, of work that broke off. Returns: how much that was."""
    known, since = set(Dossier.objects.values_list("file", flat=True)), now - timedelta(days=KEPT_DAYS)
    aside = [path for path in folder().iterdir() if path.is_dir()] if folder().is_dir() else []
    for path in aside:
        shutil.rmtree(path, ignore_errors=True)
    return len(aside) + len(swept(folder(), known, since))


def file_of(dossier: Dossier) -> Path:
    return folder() / dossier.file


def forget(dossier: Dossier) -> None:
    """Delete a dossier with its file."""
    file_of(dossier).unlink(missing_ok=True)
    dossier.delete()


def open_link(dossier: Dossier, until: date, *, today: date) -> None:
    """Let a dossier be read without signing in until the end of a day. Raises: BadField."""
    if not today <= until <= today + timedelta(days=MOST_DAYS):
        raise BadField("Choose a day from today on, within a year.", "until", "It ends by itself then.")
    dossier.token, dossier.until = dossier.token or secrets.token_urlsafe(24), until
    dossier.save(update_fields=["token", "until"])


def close_link(dossier: Dossier) -> None:
    """Take the address back; the same one never opens again."""
    dossier.token, dossier.until = "", None
    dossier.save(update_fields=["token", "until"])


def read_by(token: str, today: date) -> Dossier | None:
    """The dossier that an address opens today; None for no such address, one that has ended or was taken back."""
    return Dossier.objects.filter(token=token, until__gte=today).first() if token else None
