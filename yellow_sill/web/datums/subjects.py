"""What a round can be about besides the whole shell: later stages say."""

from dataclasses import dataclass

from yellow_sill.web.frame.stages import told
from yellow_sill.web.shells.models import Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class Subject:
    """Something a round is taken for: its code as shown, its name, and the box round it (from and to along some of x, y, z, mm)."""

    code: str
    title: str
    box: dict[str, tuple[float, float]]


def subjects(vehicle: Vehicle) -> list[Subject]:
    return [subject for say in told("subjects") for subject in say(vehicle)]


def subject(vehicle: Vehicle, code: str) -> Subject | None:
    return next((each for each in subjects(vehicle) if each.code == code), None)
