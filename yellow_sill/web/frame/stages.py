"""The plug of a stage: what each room tells the rooms before it, and the pages that go over all of them.

A room puts one ``Stage`` here when its app starts. Earlier rooms, the rail, the gates and the record go over the stages and
know none of them by name.
"""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from .bundles import Section


@dataclass(frozen=True, slots=True, kw_only=True)
class Tab:
    """One page of a repair: ``of_cut`` where it shows one cut, ``cuts`` where the others are offered beside it, ``board`` where it is drawn."""

    place: int
    key: str
    label: str
    url_name: str
    of_cut: bool = False
    cuts: bool = False
    board: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Piece:
    """Something a repair takes out: the repair's number, the view it is drawn in (its key), the outline there, mm."""

    repair: int
    view_id: int
    outline: list


@dataclass(frozen=True, slots=True, kw_only=True)
class Alert:
    """Something that runs by the clock: what it is in a sentence, the page of it, when it ends (None: it only stands), whether it presses."""

    words: str
    url: str
    until: datetime | None = None
    urgent: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Lack:
    """What must come from elsewhere: a key, what it is, why it is wanted, its view and place (mm) there, and the repair that needs it."""

    key: str
    name: str
    why: str
    view: Any = None
    at: list[float]
    repair: Any = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Expected:
    """A cost still to come: what, the repair's number (0: the vehicle), the kind of cost, low, likely and high with tax (None: nobody knows)."""

    what: str
    repair: int = 0
    kind: str
    low: Any = None
    likely: Any = None
    high: Any = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Stage:
    """One stage of work. What it has nothing to say of stays None.

    Attributes:
        place, key, label, url_name, tally: its button on the rail, in working order, and the few characters under it; no label, no button.
        tabs: its pages of a repair.
        benches: its pages of a vehicle that stand beside the repairs: what a link says, the page's name.
        hold: what holds a vehicle's shell.
        subjects: what a measuring round of a vehicle can be taken for.
        works: what it has done to a vehicle's metal, now or at the end of a day.
        sheets: the sheets of a vehicle's open repairs.
        gates: what is asked before a repair reaches a state on a day; None where it asks nothing.
        forbids: refuses a repair's step to a state on a day, whatever reason is given. Raises: BadMove.
        follows: does what a repair's step to a state on a day, by somebody, means for it; called once the step is stored.
        alerts: what every page of a vehicle tells at its top at a moment (see ``Alert``).
        today: what the page of the day tells of it at a moment (see ``Alert``).
        burns: what of it burns, for who makes sparks: key, words, where it is.
        lacks: what of a vehicle it knows to be missing or to be bought (see ``Lack``).
        expects: what of a vehicle's work it knows to cost money still (see ``Expected``).
        in_hand: the kind of cost and the worth of what lies in the garage of it, paid already.
        facts: what it knows for the gates of others, by name, of a repair on a day.
        hours: (repair's number, kind, minutes) that were logged for a vehicle.
        books: enters what a repair has cost (vehicle, repair or None, item, price with tax, supplier, day, by).
        keeps: words for what it has written down of a repair, which therefore is not deleted.
        bundle: its section of the bundle.
        pieces: what a vehicle's repairs take out of its shell, for overviews.
    """

    place: int
    key: str
    label: str = ""
    url_name: str = ""
    tally: Callable[[Any], str] = lambda vehicle: ""
    tabs: tuple[Tab, ...] = ()
    benches: tuple[tuple[str, str], ...] = ()
    hold: Callable[[Any], Any] | None = None
    subjects: Callable[[Any], list] | None = None
    works: Callable[[Any, date | None], Any] | None = None
    sheets: Callable[[Any], Iterable[Any]] | None = None
    gates: Callable[[Any, str, date], Any] | None = None
    forbids: Callable[[Any, str, date], None] | None = None
    follows: Callable[[Any, str, date, str], None] | None = None
    alerts: Callable[[Any, datetime], Iterable["Alert"]] | None = None
    today: Callable[[Any, datetime], Iterable["Alert"]] | None = None
    burns: Callable[[Any], Iterable[tuple[str, str, str]]] | None = None
    lacks: Callable[[Any], Iterable["Lack"]] | None = None
    expects: Callable[[Any], Iterable["Expected"]] | None = None
    in_hand: Callable[[Any], Iterable[tuple[str, Any]]] | None = None
    facts: Callable[[Any, date], dict[str, Any]] | None = None
    hours: Callable[[Any], Iterable[tuple[int, str, int]]] | None = None
    books: Callable[[Any, Any, str, Any, str, date, str], None] | None = None
    keeps: Callable[[Any], str] | None = None
    pieces: Callable[[Any], Iterable["Piece"]] | None = None
    bundle: Section | None = None


_stages: dict[str, Stage] = {}


def add_stage(stage: Stage) -> None:
    _stages[stage.key] = stage


def stages() -> list[Stage]:
    """All built stages in working order."""
    return sorted(_stages.values(), key=lambda stage: stage.place)


def told(what: str) -> Iterator[Callable]:
    """What the stages have to say of one thing, in working order."""
    return (say for stage in stages() if (say := getattr(stage, what)) is not None)


def benches() -> list[tuple[str, str]]:
    """The pages of a vehicle that stand beside its repairs."""
    return [bench for stage in stages() for bench in stage.benches]


def tabs() -> list[Tab]:
    """The pages of a repair, in the order of the work."""
    return sorted((tab for stage in stages() for tab in stage.tabs), key=lambda tab: tab.place)
