"""What a round can be about besides the whole shell: later stages put their subjects here when their apps start."""

from collections.abc import Callable
from dataclasses import dataclass

from yellow_sill.web.shells.models import Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class Subject:
    """Something a round is taken for: its code as shown, its name, and the box round it (from and to along some of x, y, z, mm)."""

    code: str
    title: str
    box: dict[str, tuple[float, float]]


_sources: list[Callable[[Vehicle], list[Subject]]] = []


def add_subjects(source: Callable[[Vehicle], list[Subject]]) -> None:
    _sources.append(source)


def subjects(vehicle: Vehicle) -> list[Subject]:
    return [subject for source in _sources for subject in source(vehicle)]


def subject(vehicle: Vehicle, code: str) -> Subject | None:
    return next((each for each in subjects(vehicle) if each.code == code), None)
