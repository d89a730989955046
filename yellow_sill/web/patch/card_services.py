"""The bench card of a patch: ticked step by step, its sizes measured a second time before the first bend."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from yellow_sill.core.errors import BadField
from yellow_sill.core.patch.card import BenchCard, CardStep, SizeJudged, bench_card, may_bend, sizes_judged
from yellow_sill.core.patch.fold_order import FoldOrderRequest, fold_order
from yellow_sill.core.said import Said
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.changes import one_change

from .models import BenchWork
from .services import developed, patch_of, stored_values


@dataclass(frozen=True, slots=True, kw_only=True)
class StepRow:
    """A step with its tick (who, when) and whether it may be done now."""

    step: CardStep
    tick: Mapping[str, str] | None
    waits: bool

    @property
    def on(self) -> date | None:
        return date.fromisoformat(self.tick["on"]) if self.tick else None


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """The card as it stands: why bending waits ("" where it does not), whether it was ticked for another pattern."""

    card: BenchCard
    sizes: list[SizeJudged]
    rows: list[StepRow]
    waits: str
    other: bool
    work: BenchWork

    @property
    def done(self) -> int:
        return sum(row.tick is not None for row in self.rows)


def work_of(cut: Cut) -> BenchWork:
    """What was done for a cut's patch; unsaved where nobody has done anything."""
    return BenchWork.objects.filter(cut=cut).first() or BenchWork(cut=cut, version=0)


def card_of(cut: Cut) -> Card:
    """The bench card of a cut's stored patch. Raises: CoreError."""
    patch, work = patch_of(cut), work_of(cut)
    result = developed(cut, stored_values(patch))
    order = fold_order(FoldOrderRequest(part=result.part))
    card = bench_card(result.part, result.pattern, order, result.rims, patch.gap_mm, patch.trim_allowance_mm)
    sizes = sizes_judged(card, work.measured_mm)
    waits = may_bend(sizes)
    rows = [
        StepRow(step=step, tick=work.ticks.get(step.key), waits=step.bends and bool(waits))
        for step in card.steps
    ]
    other = bool(work.of) and work.of != card.of
    return Card(card=card, sizes=sizes, rows=rows, waits=waits, other=other, work=work)


@one_change
def tick_step(cut: Cut, key: str, *, done: bool, by: str) -> None:
    """Tick a step of the card, or take its tick back. Raises: BadField for a step that the card has not, a bend before its sizes are right; CoreError."""
    told = card_of(cut)
    row = next((row for row in told.rows if row.step.key == key), None)
    if row is None and done:
        raise BadField("The card has no such step any more.", "step", "Look at it again.")
    if row is not None and done and row.waits:
        raise BadField(told.waits, "step")
    ticks = {name: tick for name, tick in told.work.ticks.items() if name != key}
    if done:
        ticks[key] = {"by": by, "on": days.today().isoformat()}
    _store(told, by, ticks=ticks, of=told.card.of)


@one_change
def keep_sizes(cut: Cut, measured: Mapping[str, float | None], typed: Mapping[str, str], *, by: str) -> None:
    """Store what was measured; a size left empty is not measured. Raises: CoreError."""
    told = card_of(cut)
    kept = {key: value for key, value in measured.items() if value is not None}
    for key, value in kept.items():
        if not 0 < value <= 10_000:
            raise BadField(Said("{value:g} mm is no size of this sheet.", value=value), key, "Read it again.")
    _store(told, by, measured_mm=kept, typed={key: typed[key] for key in kept}, of=told.card.of)


def shown_sizes(work: BenchWork) -> dict[str, str]:
    """What was measured, for the fields: as typed where that means the same in the person's unit now."""
    return {key: units.as_typed(work.typed.get(key), value) for key, value in work.measured_mm.items()}


@one_change
def begin_anew(cut: Cut, *, by: str) -> None:
    """Nothing is ticked or measured: another sheet is begun, or another pattern."""
    told = card_of(cut)
    _store(told, by, ticks={}, measured_mm={}, typed={}, of=told.card.of)


def _store(told: Card, by: str, **values) -> None:
    work = told.work
    if work.pk is None:
        BenchWork.objects.create(cut=work.cut, changed_by=by, **values)
    else:
        work.save_as(None, by, **values)
