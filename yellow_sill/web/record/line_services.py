"""The time line: everything that has a day, and the shell as it stood then."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from itertools import groupby

from django.db.models import Prefetch

from yellow_sill.core.errors import CoreError
from yellow_sill.core.record.at_day import FoundOn, SheetLife, ShellOn, ShellOnRequest, shell_on
from yellow_sill.core.record.at_point import NEAR_MM, PlacedThing, PointRequest, at_point
from yellow_sill.core.record.finder import Entry
from yellow_sill.core.repairs.sheets import sheet_state_of
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.hold.brace_services import brace_lines
from yellow_sill.web.hold.setups import setup_on
from yellow_sill.web.protect.models import Coat
from yellow_sill.web.shells.models import ShellView, Vehicle

from .find_services import Hit, hits_of
from .index import by_day
from .kinds import KINDS

#: So many entries are shown at once.
MOST_ENTRIES = 60
#: The kinds of records that have a place of their own.
PLACED = frozenset(kind.model for kind in KINDS.values() if kind.placed)


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """What of the time line is asked for: until which day (None: today), of which kind, repair, panel; at which place of a view, mm (None: anywhere);
    from how many entries on."""

    until: date | None = None
    kind: str = ""
    repair: int = 0
    panel: str = ""
    at: tuple[float, float] | None = None
    view: int = 0
    begin: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class DayTold:
    """A day of the time line with what happened on it."""

    day: date
    hits: list[Hit]


@dataclass(frozen=True, slots=True, kw_only=True)
class LineTold:
    """The days that are shown, how many entries there are in all, what there is to choose from: kinds, panels, days; where the next
    page begins (0: nowhere)."""

    days: list[DayTold]
    count: int
    kinds: list[str]
    panels: list[str]
    all_days: list[date]
    following: int


def line_of(vehicle: Vehicle, asked: Asked) -> LineTold:
    """The time line, the newest first."""
    every = by_day(vehicle)
    there = _there(vehicle, asked) if asked.at else None
    mine = [
        each for each in every.entries
        if (asked.until is None or (each.day is not None and each.day <= asked.until)) and (not asked.kind or each.kind == asked.kind)
        and (not asked.repair or each.repair == asked.repair) and (not asked.panel or each.panel == asked.panel)
        and (there is None or there.has(each))
    ]  # fmt: skip
    shown = mine[asked.begin : asked.begin + MOST_ENTRIES]
    hits = hits_of(vehicle, shown)
    days = [
        DayTold(day=day, hits=list(group))
        for day, group in groupby(hits, key=lambda hit: hit.entry.day)
        if day is not None
    ]
    return LineTold(
        days=days, count=len(mine), kinds=every.kinds, panels=every.panels, all_days=every.days,
        following=asked.begin + len(shown) if asked.begin + len(shown) < len(mine) else 0,
    )  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class There:
    """What lies at a place: keys of entries, and the repairs that cut it, by number."""

    keys: frozenset[str]
    repairs: frozenset[int]

    def has(self, entry: Entry) -> bool:
        """Whether an entry belongs there: itself, or as a word of a repair that has no place of its own."""
        return entry.key in self.keys or (
            entry.repair in self.repairs and entry.key.partition(":")[0] not in PLACED
        )


def _there(vehicle: Vehicle, asked: Asked) -> There:
    """Raises: CoreError."""
    assert asked.at is not None
    things = [
        PlacedThing.model_construct(key=key, outline=outline)
        for key, outline in placed_in(vehicle, asked.view)
    ]
    found = at_point(PointRequest.model_construct(at=asked.at, near_mm=NEAR_MM, things=things))
    cuts = [int(key.partition(":")[2]) for key in found.keys if key.startswith("cut.Cut:")]
    repairs = Cut.objects.filter(pk__in=cuts).values_list("repair__number", flat=True)
    return There(keys=frozenset(found.keys), repairs=frozenset(repairs))


@by_revision(
    24,
    "survey",
    "repairs",
    "cut",
    "patch",
    "shells",
    "logbook",
    "strip",
    "parts",
    "protect",
    "weld",
    "datums",
    "hold",
)
def placed_in(vehicle: Vehicle, view: int) -> list[tuple[str, list]]:
    """Everything that has a place of its own in a view: its key and its outline, mm."""
    found: list[tuple[str, list]] = []
    for kind in KINDS.values():
        if not kind.placed:
            continue
        for row in kind.of(vehicle.pk):
            place = kind.at(row)
            if place and place[0] == view and place[1]:
                found.append((f"{kind.model}:{row.pk}", place[1]))
    cuts = Cut.objects.filter(repair__vehicle=vehicle, panel__view=view).without_drawings()
    return found + [(f"cut.Cut:{cut.pk}", cut.outline) for cut in cuts]


@dataclass(frozen=True, slots=True, kw_only=True)
class AtDay:
    """The shell at the end of a day in one view: what stood how, and the braces as lines in the view, mm."""

    day: date
    told: ShellOn
    braces: Sequence[tuple[Sequence[float], Sequence[float]]]


def shell_at(vehicle: Vehicle, view: ShellView, day: date) -> AtDay:
    """The shell as it stood at the end of a day. Raises: CoreError."""
    try:
        braces = brace_lines(vehicle, setup_on(vehicle, day), view.plane)
    except CoreError:
        braces = []
    found, sheets = _lives(vehicle, view.pk)
    told = shell_on(ShellOnRequest(day=day, findings=found, sheets=sheets, braces=len(braces)))
    return AtDay(day=day, told=told, braces=braces)


@by_revision(24, "survey", "repairs", "cut", "protect", "shells")
def _lives(vehicle: Vehicle, view: int) -> tuple[list[FoundOn], list[SheetLife]]:
    """Findings and sheets of a view with their days."""
    found = [
        FoundOn.model_construct(
            number=each.number, outline=each.outline, grade=each.overruled_to or each.grade, found_on=each.found_on,
            repairs=[repair.number for repair in each.repairs.all()],
        )
        for each in vehicle.findings.filter(panel__view=view).prefetch_related("repairs")
    ]  # fmt: skip
    cuts = (
        Cut.objects.filter(repair__vehicle=vehicle, panel__view=view)
        .select_related("repair", "panel")
        .prefetch_related(
            "sheet_steps", "repair__steps", Prefetch("faces__coats", Coat.objects.order_by("put_on"))
        )
    )
    return found, [_life(cut) for cut in cuts]


def _life(cut: Cut) -> SheetLife:
    own = [(step.made_on, step.state) for step in cut.sheet_steps.all()]
    first = min((day for day, _ in own), default=date.max)
    ribbon = [
        (step.made_on, sheet_state_of(step.state)) for step in cut.repair.steps.all() if step.made_on < first
    ]
    return SheetLife.model_construct(
        repair=cut.repair.number, panel=cut.panel.code, outline=cut.outline, steps=[*ribbon, *own],
        coats=[coat.put_on.date() for face in cut.faces.all() for coat in face.coats.all()],
    )  # fmt: skip
