"""The plan as it is drawn: weeks as rows, slots as bars to one scale, steps in them, cures and deliveries as thin bars; and one slot as a ruled bar."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta

from .asked import Slot

#: Between two slots of a week, px; so many thin bars lie one under another, so far apart, px.
GAP_PX, LANES, LANE_PX = 16.0, 3, 5.0
#: A week's slots with its thin bars are so high, px; the lines of its repairs lie below, so far apart, px.
ROW_PX, LINE_PX = 62.0, 13.0
#: A week that is shorter is drawn as if it held so many minutes, so that an evening does not fill the sheet.
LEAST_WEEK_MIN = 360
#: A mark of the ruler stands every so many minutes, a figure every so many.
TICK_MIN, FIGURE_MIN = 5, 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Drawn:
    """A step as it is drawn: when it is worked on (pieces: from, to), how long it cures then, whether it makes sparks, whether it is next."""

    key: str
    name: str
    repair: int
    pieces: Sequence[tuple[datetime, datetime]]
    cure_h: float = 0.0
    sparks: bool = False
    next: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class PieceBar:
    """A piece of a step in a slot, px; its label is left out where it has no room."""

    key: str
    name: str
    label: str
    x: float
    width: float
    sparks: bool
    next: bool


@dataclass(slots=True, kw_only=True)
class SlotBar:
    """A slot, px, with its steps; ``watch``: where the fire watch begins, how wide it is; ``key``: what the slot is known by."""

    slot: Slot
    key: int
    x: float
    width: float
    watch: float
    watch_width: float
    pieces: list[PieceBar] = field(default_factory=list)

    @property
    def label(self) -> str:
        """Its day and times, and that somebody helps."""
        begins, ends = self.slot.begins, self.slot.ends
        two = ", two" if self.slot.hands > 1 else ""
        return f"{begins:%a} {begins.day}, {begins.hour}:{begins:%M}–{ends.hour}:{ends:%M}{two}"


@dataclass(frozen=True, slots=True, kw_only=True)
class ThinBar:
    """A cure, or a delivery (width 0), px: how far down, whether it goes on in the next week."""

    name: str
    x: float
    y: float
    width: float
    on: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class RepairLine:
    """A repair's way through a week, px: from its first step to its last; ``before``, ``on``: it was open before, it is open after."""

    repair: int
    x: float
    y: float
    width: float
    before: bool
    on: bool

    @property
    def label(self) -> str:
        return f"R-{self.repair:02d}"


@dataclass(slots=True, kw_only=True)
class WeekRow:
    """A week: its Monday, its slots, what cures and comes meanwhile, its repairs' lines, how many areas are open in it at most, how high it is, px."""

    monday: date
    slots: list[SlotBar] = field(default_factory=list)
    thin: list[ThinBar] = field(default_factory=list)
    repairs: list[RepairLine] = field(default_factory=list)
    open: int = 0
    height: float = ROW_PX


def monday_of(at: datetime) -> date:
    return at.date() - timedelta(days=at.weekday())


def weeks(
    slots: Sequence[tuple[int, Slot]],
    steps: Sequence[Drawn],
    comes: Sequence[tuple[str, datetime]] = (),
    *,
    width: float,
) -> list[WeekRow]:
    """The weeks that have slots, in order.

    Args: slots: each with what it is known by; comes: deliveries, what and when; width: of a row, px.
    """
    keys = {slot.begins: key for key, slot in slots}
    ordered = sorted((slot for _, slot in slots), key=lambda slot: slot.begins)
    by_week: dict[date, list[Slot]] = {}
    for slot in ordered:
        by_week.setdefault(monday_of(slot.begins), []).append(slot)
    if not by_week:
        return []
    most = max(LEAST_WEEK_MIN, *(sum(_long(slot) for slot in week) for week in by_week.values()))
    wide = max(len(week) for week in by_week.values())
    scale = (width - GAP_PX * (wide - 1)) / most
    rows, spans = [], _spans(steps)
    for monday, week in sorted(by_week.items()):
        row, x = WeekRow(monday=monday), 0.0
        for slot in week:
            row.slots.append(bar_of(slot, steps, x=x, scale=scale, key=keys[slot.begins]))
            x += _long(slot) * scale + GAP_PX
        _thin(row, steps, comes)
        row.open = _open(week, spans)
        _lines(row, spans)
        rows.append(row)
    return rows


def bar_of(slot: Slot, steps: Iterable[Drawn], *, x: float, scale: float, key: int = 0) -> SlotBar:
    """One slot to scale with what is worked on in it. Args: x: where it begins, px; scale: px a minute."""
    wide, watch = _long(slot) * scale, min(_long(slot), slot.watch_min) * scale
    bar = SlotBar(
        slot=slot, key=key, x=round(x, 1), width=round(wide, 1), watch=round(x + wide - watch, 1), watch_width=round(watch, 1)
    )  # fmt: skip
    for step in steps:
        for begins, ends in step.pieces:
            if slot.begins <= begins < slot.ends:
                wide = (ends - begins).total_seconds() / 60 * scale
                bar.pieces.append(
                    PieceBar(
                        key=step.key, name=step.name, label=_label(step, wide), x=round(x + (begins - slot.begins).total_seconds() / 60 * scale, 1),
                        width=round(wide, 1), sparks=step.sparks, next=step.next,
                    )
                )  # fmt: skip
    bar.pieces.sort(key=lambda piece: piece.x)
    return bar


@dataclass(frozen=True, slots=True, kw_only=True)
class Tick:
    """A mark of a slot's ruler, px; long ones have a figure."""

    x: float
    figure: str


def ticks(slot: Slot, *, scale: float) -> list[Tick]:
    """The ruler of a slot in five-minute marks, a figure on the hour."""
    found = []
    at = slot.begins
    if behind := (at.minute % TICK_MIN) * 60 + at.second:
        at += timedelta(minutes=TICK_MIN) - timedelta(seconds=behind)
    while at <= slot.ends:
        x = round((at - slot.begins).total_seconds() / 60 * scale, 1)
        found.append(Tick(x=x, figure=f"{at:%H:%M}" if at.minute % FIGURE_MIN == 0 else ""))
        at += timedelta(minutes=TICK_MIN)
    return found


def _long(slot: Slot) -> float:
    return (slot.ends - slot.begins).total_seconds() / 60


def _label(step: Drawn, wide: float) -> str:
    code = f"R-{step.repair:02d}" if step.repair else ""
    if step.repair and wide < 34:
        return str(step.repair) if wide >= 8 + 7 * len(str(step.repair)) else ""
    if code and wide < 90:
        return code
    words = step.name
    room = int(wide / 6.4)
    if room < 6:
        return ""
    return words if len(words) <= room else f"{words[: room - 1].rstrip()}…"


def _at(row: WeekRow, at: datetime) -> float:
    """Where a moment lies in a week's row, px; between two slots it is in the gap."""
    here = row.slots[0].x
    for bar in row.slots:
        if at < bar.slot.begins:
            return max(here, bar.x - GAP_PX / 2)
        here = bar.x + bar.width
        if at <= bar.slot.ends:
            return round(bar.x + (at - bar.slot.begins) / (bar.slot.ends - bar.slot.begins) * bar.width, 1)
    return round(here, 1)


def _thin(row: WeekRow, steps: Iterable[Drawn], comes: Iterable[tuple[str, datetime]]) -> None:
    first = datetime.combine(
        row.monday, datetime.min.time()
    )  # slots have no zone: they are the garage's own time
    last = first + timedelta(days=7)
    ends = [0.0] * LANES
    bars = [
        (step.name, step.pieces[-1][1], step.pieces[-1][1] + timedelta(hours=step.cure_h))
        for step in steps if step.cure_h and step.pieces
    ] + [(name, at, at) for name, at in comes]  # fmt: skip
    for name, begins, until in sorted(bars, key=lambda bar: bar[1]):
        if until < first or begins >= last:
            continue
        x = _at(row, max(begins, first))
        right = row.slots[-1].x + row.slots[-1].width if until >= last else _at(row, until)
        lane = next((n for n in range(LANES) if ends[n] <= x), LANES - 1)
        ends[lane] = max(right, x + 8)
        row.thin.append(
            ThinBar(name=name, x=x, y=LANE_PX * lane, width=round(max(0.0, right - x), 1), on=until >= last)
        )


def _spans(steps: Iterable[Drawn]) -> dict[int, tuple[datetime, datetime]]:
    """From the first to the last step that the plan has of each repair, in the order in which they begin."""
    spans: dict[int, tuple[datetime, datetime]] = {}
    for step in steps:
        if step.repair and step.pieces:
            begins, ends = step.pieces[0][0], step.pieces[-1][1]
            was = spans.get(step.repair, (begins, ends))
            spans[step.repair] = (min(was[0], begins), max(was[1], ends))
    return dict(sorted(spans.items(), key=lambda each: each[1]))


def _lines(row: WeekRow, spans: dict[int, tuple[datetime, datetime]]) -> None:
    first = datetime.combine(row.monday, datetime.min.time())
    last = first + timedelta(days=7)
    right = row.slots[-1].x + row.slots[-1].width
    for repair, (begins, ends) in spans.items():
        if ends <= first or begins >= last:
            continue
        x = 0.0 if begins < first else _at(row, begins)
        until = right if ends >= last else _at(row, ends)
        y = ROW_PX + 6 + LINE_PX * len(row.repairs)
        row.repairs.append(
            RepairLine(repair=repair, x=x, y=y, width=round(max(2.0, until - x), 1), before=begins < first, on=ends >= last)
        )  # fmt: skip
    row.height = ROW_PX + LINE_PX * len(row.repairs)


def _open(week: Sequence[Slot], spans: dict[int, tuple[datetime, datetime]]) -> int:
    """How many repairs are open at once at most."""
    moments = [begins for begins, _ in spans.values()] + [slot.begins for slot in week]
    first, last = week[0].begins, week[-1].ends
    return max(
        (
            sum(begins <= moment < ends for begins, ends in spans.values())
            for moment in moments
            if first <= moment <= last
        ),
        default=0,
    )
