"""What work has done to the metal: later stages say."""

from dataclasses import dataclass
from datetime import date

from yellow_sill.core.hold.condition import Opening
from yellow_sill.web.frame.stages import told
from yellow_sill.web.shells.models import Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """Pieces that are cut out, and the findings whose rust is gone (their numbers)."""

    openings: tuple[Opening, ...] = ()
    mended: frozenset[int] = frozenset()


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetOn:
    """A sheet of a repair that is not signed off: its repair by number and code, what it is called there, its panel, its state and the day since,
    the piece that is cut out of it."""

    repair: int
    code: str
    sheet: str
    panel: str
    state: str
    since: date
    opening: Opening


def sheets_on(vehicle: Vehicle) -> list[SheetOn]:
    """The sheets of all repairs that are open."""
    return [each for say in told("sheets") for each in say(vehicle)]


def works(vehicle: Vehicle, day: date | None = None) -> Work:
    """Everything all stages tell, now or at the end of a day."""
    done: list[Work] = [say(vehicle, day) for say in told("works")]
    return Work(
        openings=tuple(o for work in done for o in work.openings),
        mended=frozenset(n for work in done for n in work.mended),
    )
