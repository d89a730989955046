"""What work has done to the metal: later stages put their sources here when their apps start."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date

from yellow_sill.core.hold.condition import Opening
from yellow_sill.web.shells.models import Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """Pieces that are cut out, and the findings whose rust is gone (their numbers)."""

    openings: tuple[Opening, ...] = ()
    mended: frozenset[int] = frozenset()


_sources: list[Callable[[Vehicle, date | None], Work]] = []


def add_works(source: Callable[[Vehicle, date | None], Work]) -> None:
    """Put in a source: it tells of a vehicle what is done now, or was at the end of a day."""
    _sources.append(source)


def works(vehicle: Vehicle, day: date | None = None) -> Work:
    """Everything all stages tell, now or at the end of a day."""
    told: Iterable[Work] = [source(vehicle, day) for source in _sources]
    return Work(
        openings=tuple(o for work in told for o in work.openings),
        mended=frozenset(n for work in told for n in work.mended),
    )
