"""What work has done to the metal: later stages put their sources here when their apps start."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from yellow_sill.core.hold.condition import Opening
from yellow_sill.web.shells.models import Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """Pieces that are cut out now, and the findings whose rust is gone (their numbers)."""

    openings: tuple[Opening, ...] = ()
    mended: frozenset[int] = frozenset()


_sources: list[Callable[[Vehicle], Work]] = []


def add_works(source: Callable[[Vehicle], Work]) -> None:
    _sources.append(source)


def works(vehicle: Vehicle) -> Work:
    """Everything all stages tell."""
    told: Iterable[Work] = [source(vehicle) for source in _sources]
    return Work(openings=tuple(o for work in told for o in work.openings), mended=frozenset(n for work in told for n in work.mended))
