"""The release list: the old spot welds that a repair's cuts take, numbered in order, with tools, and ticked off while drilling."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from itertools import count
from math import dist

from django.db.models import QuerySet

from yellow_sill.core.cut.release import Release
from yellow_sill.core.cut.shared_rows import (
    SAME_MM,
    Released,
    SharedRows,
    met_edge,
    reach_of,
    taken_out,
    unseen_welds,
)
from yellow_sill.core.cut.spots import NewWelds, SpotRow
from yellow_sill.core.errors import BadField
from yellow_sill.core.geometry import bounds_of, widened
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.rule_services import told_rules
from yellow_sill.web.shells.models import Panel

from .around_services import sheet_rows
from .models import Cut, NuggetTick
from .stretch_services import meets_of

#: Round the cuts on the sheet, mm; a ring is at least so large, and so many would lie side by side across the drawing.
ROUND_MM, LEAST_RING_MM, RINGS_ACROSS = 40.0, 7.0, 110


@dataclass(frozen=True, slots=True, kw_only=True)
class Nugget:
    """One old spot weld of the list: where it is (mm; ``flip``: with v turned down), and its tick where it is drilled."""

    number: int
    at: list[float]
    tick: NuggetTick | None

    @property
    def flip(self) -> float:
        return -self.at[1]


@dataclass(frozen=True, slots=True, kw_only=True)
class ReleaseRow:
    """Nuggets of one row that let go in the same way, and what takes their place."""

    row: SpotRow
    release: Release
    new_welds: NewWelds
    new: int
    minutes: float
    nuggets: list[Nugget]

    @property
    def first(self) -> int:
        return self.nuggets[0].number

    @property
    def last(self) -> int:
        return self.nuggets[-1].number


@dataclass(frozen=True, slots=True, kw_only=True)
class PanelRelease:
    """What lets go of one panel: ``unseen`` welds more lie on flanges that nobody has drawn."""

    panel: Panel
    cuts: Sequence[Cut]
    rows: list[ReleaseRow]
    unseen: int

    @property
    def count(self) -> int:
        return sum(len(row.nuggets) for row in self.rows)

    @property
    def done(self) -> int:
        return sum(nugget.tick is not None for row in self.rows for nugget in row.nuggets)

    @property
    def minutes(self) -> int:
        return round(sum(row.minutes for row in self.rows))

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """The part of the panel that its drawing shows, mm."""
        return widened(bounds_of([point for cut in self.cuts for point in cut.outline]), ROUND_MM)

    @property
    def size(self) -> float:
        """How large a nugget is drawn, mm: to be read off a printed sheet."""
        u0, _, u1, _ = self.bounds
        return max(LEAST_RING_MM, (u1 - u0) / RINGS_ACROSS)

    @property
    def near(self) -> QuerySet[Panel]:
        """The other sheets of its layer, drawn faintly."""
        view = self.panel.view
        same = {"layer": self.panel.layer} if view.layered else {}
        return view.panels.filter(**same).exclude(pk=self.panel.pk)


def release_list(repair: Repair) -> list[PanelRelease]:
    """For each panel that is cut: the nuggets that let go with it, each once, by row and how; which are done, minutes; how many nobody has drawn.

    Raises: BadField.
    """
    cuts = list(repair.cuts.without_drawings())
    panels = {cut.panel_id: cut.panel for cut in cuts}
    views = {
        panel.view_id: [each for each in panels.values() if each.view_id == panel.view_id]
        for panel in panels.values()
    }
    told: dict[int, PanelRelease] = {}
    for together in views.values():
        for each in _released(repair, sorted(together, key=lambda panel: panel.layer), cuts):
            told[each.panel.pk] = each
    return [told[pk] for pk in panels]


def _released(repair: Repair, panels: Sequence[Panel], all_cuts: Sequence[Cut]) -> list[PanelRelease]:
    """The same for the panels of one view, the outermost first."""
    processes = told_rules(repair.vehicle)["processes"]
    cuts = {panel.code: [cut for cut in all_cuts if cut.panel_id == panel.pk] for panel in panels}
    out = {code: taken_out([cut.outline for cut in mine]) for code, mine in cuts.items()}
    sheets = [sheet_rows(panel, processes) for panel in panels]
    groups = SharedRows(sheets).released({code: reach_of(shape) for code, shape in out.items()})
    edges = [
        _edge(panel.pk, panel.view.drawing, json.dumps([row.path for row in sheet.rows]))
        for panel, sheet in zip(panels, sheets, strict=True)
    ]
    unseen = unseen_welds([(out[panel.code], edge) for panel, edge in zip(panels, edges, strict=True)])
    done = list(repair.nugget_ticks.filter(panel__in=panels))
    return [
        _listed(
            panel, cuts[panel.code], [group for group in groups if group.code == panel.code], done, unknown
        )
        for panel, (unknown, _) in zip(panels, unseen, strict=True)
    ]


@lru_cache(maxsize=256)
def _edge(panel_id: int, _drawing: tuple, rows: str):
    """A panel's edge where it is a flange on a neighbour without a known row (rows as JSON), as the drawing of that day has it."""
    panel = Panel.objects.select_related("view").get(pk=panel_id)
    return met_edge(panel.outline, [each["path"] for each in meets_of(panel)], json.loads(rows))


def _listed(
    panel: Panel, cuts: Sequence[Cut], groups: Sequence[Released], done: Sequence[NuggetTick], unseen: int
) -> PanelRelease:
    """One panel's part of the list, numbered along its rows."""
    rows: list[ReleaseRow] = []
    number = count(1)
    for group in groups:
        nuggets = [
            Nugget(number=n, at=list(at), tick=_tick_at(at, n, panel, done))
            for at, n in zip(group.at, number, strict=False)
        ]
        rows.append(
            ReleaseRow(
                row=group.row, release=group.release, new_welds=group.plan.new, new=group.new, minutes=group.release.minutes, nuggets=nuggets
            )
        )  # fmt: skip
    return PanelRelease(panel=panel, cuts=cuts, rows=rows, unseen=unseen)


def _tick_at(at: Sequence[float], number: int, panel: Panel, done: Sequence[NuggetTick]) -> NuggetTick | None:
    """The tick of the nugget at a place: cuts may be moved and numbers with them, the drilled hole stays where it is, whichever sheet it was ticked on."""
    return next(
        (
            tick
            for tick in done
            if (
                dist(tick.at, at) < SAME_MM
                if tick.at
                else tick.panel_id == panel.pk and tick.number == number
            )
        ),
        None,
    )


@one_change
def tick_nugget(repair: Repair, panel: Panel, number: int, *, done: bool, by: str, today: date) -> None:
    """Tick a nugget off, or take the tick back. Raises: BadField for one that is not on the list."""
    here = next(each for each in release_list(repair) if each.panel.pk == panel.pk)
    if not 1 <= number <= here.count:
        raise BadField(
            "There is no such nugget on the list.",
            "number",
            "The cut may have been moved: look at the list again.",
        )
    nugget = next(each for row in here.rows for each in row.nuggets if each.number == number)
    if done and nugget.tick is None:
        NuggetTick.objects.create(
            repair=repair, panel=panel, number=number, at=nugget.at, done_on=today, by=by
        )
    elif not done and nugget.tick is not None:
        nugget.tick.delete()
