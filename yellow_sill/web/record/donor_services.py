"""Donors: another person's bundle kept as what it says of its panels, beside what is wanted here."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import date
from typing import IO, Any

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.bundle import read_bundle
from yellow_sill.core.formats.donor import BAD, GRADES, donor_panels
from yellow_sill.core.said import Said
from yellow_sill.core.survey.grading import Grade
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.parts.models import Need
from yellow_sill.web.parts.need_services import keep_need
from yellow_sill.web.shells.models import Panel, Vehicle

from .models import Donor


def bring_donor(vehicle: Vehicle, data: IO[bytes], *, note: str, today: date, by: str) -> Donor:
    """Keep what a bundle says of its panels; nothing else of it is taken. Raises: BadBundle; BadField where it is here already."""
    bundle, _ = read_bundle(data)
    told = bundle.vehicle
    panels = [asdict(panel) for panel in donor_panels(bundle)]
    name = f"{told.make} {told.model} {told.year or ''}".strip()
    values: dict[str, Any] = {
        "name": name,
        "body_no": told.body_no,
        "body_type": told.body_type,
        "panels": panels,
    }
    return _kept(vehicle, values, note=note, today=today, by=by)


@one_change
def _kept(vehicle: Vehicle, values: Mapping[str, Any], *, note: str, today: date, by: str) -> Donor:
    same = Donor.objects.filter(vehicle=vehicle, name=values["name"], body_no=values["body_no"]).first()
    if same is not None and same.panels == values["panels"]:
        raise BadField(
            Said("{name} is here already, with the same panels.", name=same.name),
            "bundle",
            "Nothing was changed.",
        )
    return Donor.objects.create(vehicle=vehicle, **values, note=note, brought_on=today, by=by)


@one_change
def drop_donor(donor: Donor) -> None:
    """Take a donor out; what was wanted from it stays."""
    donor.delete()


@dataclass(frozen=True, slots=True, kw_only=True)
class Beside:
    """A panel of a donor beside the same here: the worst grade found here ("": none), whether that wants metal, the number of its need (0: none)."""

    panel: dict[str, Any]
    here: str
    needed: bool
    wanted: int

    @property
    def here_word(self) -> str:
        return Grade(self.here).word.lower() if self.here else ""

    @property
    def there_word(self) -> str:
        return Grade(self.panel["grade"]).word.lower() if self.panel["grade"] else ""


def beside(vehicle: Vehicle, donor: Donor) -> list[Beside]:
    """The donor's panels that this shell has too, what is bad here and sound there first."""
    here: dict[str, str] = {}
    for code, grade, overruled in vehicle.findings.values_list("panel__code", "grade", "overruled_to"):
        here[code] = max(here.get(code, ""), overruled or grade, key=GRADES.index)
    codes = set(Panel.objects.filter(view__vehicle=vehicle).values_list("code", flat=True))
    wanted = dict(vehicle.needs.exclude(variant="").values_list("variant", "number"))
    rank = {"sound": 0, "worn": 1, "not known": 2, "bad": 3}
    found = [
        Beside(panel=panel, here=here.get(panel["code"], ""), needed=here.get(panel["code"], "") in BAD, wanted=wanted.get(_variant(donor, panel["code"]), 0))
        for panel in donor.panels if panel["code"] in codes
    ]  # fmt: skip
    return sorted(found, key=lambda each: (not each.needed, rank[each.panel["verdict"]], each.panel["code"]))


def _variant(donor: Donor, code: str) -> str:
    return f"{code} of donor {donor.pk}"


@one_change
def want_from(vehicle: Vehicle, donor: Donor, code: str, *, today: date, by: str) -> Need:
    """Want a panel of a donor. Raises: BadField: it has none of that code, it is wanted already."""
    panel = next((each for each in donor.panels if each["code"] == code), None)
    if panel is None:
        raise BadField(
            Said("{name} has no panel {code}.", name=donor.name, code=code), "code", "Reload the page."
        )
    if vehicle.needs.filter(variant=_variant(donor, code)).exists():
        raise BadField(Said("{code} is wanted from it already.", code=code), "code", "Look under Parts.")
    told = f"From the donor {donor.name} {donor.body_no}, {panel['verdict']} as its owner found it"
    values = {"name": panel["name"][:80], "variant": _variant(donor, code), "note": told[:500]}
    return keep_need(vehicle, values, photo=None, stored=None, version=None, today=today, by=by)
