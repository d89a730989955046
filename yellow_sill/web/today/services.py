"""What Today shows: open work, the next step, money so far."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from django.db.models import Sum

from yellow_sill.core.errors import CoreError
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.lines import Sum as MoneySum
from yellow_sill.core.repairs.hours import clock
from yellow_sill.core.repairs.next_steps import LooseFinding, NextStep, OpenRepair, next_steps
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.web.cut.gate_services import OUT
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.sheet_services import in_hand
from yellow_sill.web.hold.order_services import NextStep as NextRemoval
from yellow_sill.web.hold.order_services import ahead, work_order_of
from yellow_sill.web.order.day_services import DayStep
from yellow_sill.web.parts.services import spent_over_time, sums
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Panel, ShellView, Vehicle, sheet_name
from yellow_sill.web.survey.models import Finding


@dataclass(frozen=True, slots=True, kw_only=True)
class Located:
    """A next step with its repair or finding, its page, and where it lies: view and outline; None where that is not known."""

    step: NextStep
    view: ShellView | None
    outline: list | None
    url: str = ""
    repair: Repair | None = None
    finding: Finding | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """Open repairs, findings that no repair mends (the first of them, and how many), and the next steps."""

    open_repairs: list[Repair]
    finding_count: int
    loose: list
    loose_count: int
    steps: list[Located]


@dataclass(frozen=True, slots=True, kw_only=True)
class Bar:
    """A kind of cost, its amount, and its bar in share of the dearest, px."""

    word: str
    amount: Money
    width: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Spending:
    """The line of money spent as SVG path data in a field 352 by 190, where it ends, and its labels with their places, px."""

    d: str
    end: tuple[float, float]
    levels: list[tuple[float, str]]
    days: list[tuple[float, str]]


@dataclass(frozen=True, slots=True, kw_only=True)
class MoneySoFar:
    total: MoneySum
    by_kind: list[tuple[str, Money]]
    chart: Spending | None
    bars: list[Bar]


def plan(vehicle: Vehicle, day: Sequence[DayStep] = ()) -> Plan:
    """Open repairs, loose findings and the next steps with their findings' or repairs' records.

    Args: day: what the plan has for the slot that is on or next; without it the next steps follow from the ribbons.
    """
    repairs = list(vehicle.repairs.all())
    findings = list(
        vehicle.findings.values_list(
            "pk",
            "number",
            "title",
            "grade",
            "panel__name",
            "panel__named_by_hand",
            "panel__view__title",
            named=True,
        )
    )
    mended = set(
        Repair.findings.through.objects.filter(repair__vehicle=vehicle).values_list("finding_id", flat=True)
    )
    loose = [finding for finding in findings if finding.pk not in mended]
    hands = {repair.number: hand for repair in repairs if repair.state in OUT and (hand := _in_hand(repair))}
    steps = next_steps(
        [
            OpenRepair(
                number=r.number,
                title=r.title,
                state=r.state,
                since=r.state_on,
                sheet=hands[r.number][1:] if r.number in hands else None,
            )
            for r in repairs
        ],
        [LooseFinding(number=f.number, head=f.title or sheet_name(f), grade=f.grade) for f in loose],
    )
    numbers = [step.finding for step in steps if step.finding is not None]
    by_repair: dict[int | None, Repair] = {repair.number: repair for repair in repairs}
    by_finding: dict[int | None, Finding] = {
        finding.number: finding
        for finding in vehicle.findings.filter(number__in=numbers)
        .select_related("panel__view")
        .defer("panel__view__features", "panel__view__silhouette")
    }
    return Plan(
        open_repairs=[repair for repair in repairs if repair.state != STATES[-1]],
        finding_count=len(findings),
        loose=loose[:8],
        loose_count=len(loose),
        steps=_in_slot(vehicle, day, by_repair, hands) if day else [_located(step, by_repair, by_finding, hands) for step in steps],
    )  # fmt: skip


def _in_slot(
    vehicle: Vehicle,
    day: Sequence[DayStep],
    by_repair: dict[int | None, Repair],
    hands: dict[int, tuple[Cut, str, str]],
) -> list[Located]:
    """The places of a slot's work, one a repair or panel, in its order; what has no place is there without."""
    places: dict[tuple[int, str], DayStep] = {}
    for each in day:
        places.setdefault((each.step.repair, each.step.panel), each)
    codes = [panel for _, panel in places if panel]
    rows = Panel.objects.filter(view__vehicle=vehicle, code__in=codes).select_related("view") if codes else ()
    panels: dict[str, Panel] = {}
    for panel in rows:
        panels.setdefault(panel.code, panel)
    found = []
    for (number, code), each in places.items():
        step = NextStep(what=each.step.name, why="in this slot", repair=number or None)
        at = panels.get(code)
        if at is not None:
            found.append(
                Located(
                    step=step,
                    repair=by_repair.get(number or None),
                    view=at.view,
                    outline=at.outline,
                    url=each.url,
                )
            )
        elif number in by_repair:
            found.append(_located(step, by_repair, {}, hands))
        else:
            found.append(Located(step=step, view=None, outline=None, url=each.url))
    return found


def _in_hand(repair: Repair) -> tuple[Cut, str, str] | None:
    try:
        return in_hand(repair)
    except CoreError:
        return None


def _located(
    step: NextStep,
    by_repair: dict[int | None, Repair],
    by_finding: dict[int | None, Finding],
    hands: dict[int, tuple[Cut, str, str]],
) -> Located:
    if step.repair is not None:
        repair = by_repair[step.repair]
        cut = hands[step.repair][0] if step.repair in hands else repair.cuts.without_drawings().first()
        return Located(
            step=step,
            repair=repair,
            view=cut.panel.view if cut else None,
            outline=cut.outline if cut else None,
        )
    finding = by_finding[step.finding]
    return Located(step=step, finding=finding, view=finding.panel.view, outline=finding.outline)


def order_ahead(vehicle: Vehicle) -> NextRemoval | None:
    """The next step of the accepted order of removal, with the verdict before and after; None without one, or where nothing can be told."""
    order = work_order_of(vehicle)
    try:
        return ahead(vehicle, order) if order else None
    except CoreError:
        return None


def money(vehicle: Vehicle, today: date, most: int) -> MoneySoFar:
    """Money so far, with the steps for the chart. Args: most: so many bars have room."""
    facts = sums(vehicle, vehicle.cost_lines.all())
    by_kind = [(word, amount.gross) for word, amount in facts.by_kind]
    return MoneySoFar(
        total=facts.total,
        by_kind=by_kind,
        chart=chart(spent_over_time(vehicle), today),
        bars=bars(by_kind, most),
    )


#: So many bars have room beside the chart, and where a slot is shown above it.
MOST_BARS, FEW_BARS = 6, 4


def bars(by_kind: list[tuple[str, Money]], most: int) -> list[Bar]:
    """Bars of the kinds in share of the dearest, for the drawing; what has no room among ``most`` is one."""
    if len(by_kind) > most:
        head, rest = by_kind[: most - 1], by_kind[most - 1 :]
        by_kind = [*head, ("Everything else", sum((amount for _, amount in rest[1:]), rest[0][1]))]
    dearest = float(by_kind[0][1].amount) if by_kind else 1.0
    return [
        Bar(word=word, amount=amount, width=round(max(0.0, 130 * float(amount.amount) / (dearest or 1.0)), 1))
        for word, amount in by_kind
    ]


def chart(steps: list, today: date) -> Spending | None:
    """The step line of money spent; None before anything is."""
    if not steps:
        return None
    first = steps[0][0].toordinal()
    days = max(today.toordinal() - first, 30)
    most = float(steps[-1][1].amount) or 1.0
    top = next(size * 10**power for power in range(0, 12) for size in (1, 2, 5) if size * 10**power >= most)
    x = lambda day: round(352 * (day.toordinal() - first) / days, 1)  # noqa: E731
    y = lambda amount: round(190 - 190 * float(amount) / top, 1)  # noqa: E731
    d = "M0 190" + "".join(f"H{x(day)}V{y(sum_.amount)}" for day, sum_ in steps) + f"H{x(today)}"
    months = [first + round(days * i / 4) for i in range(5)]
    return Spending(
        d=d,
        end=(x(today), y(steps[-1][1].amount)),
        levels=[(y(top * share), f"{top * share:,.0f}".replace(",", "\u202f")) for share in (0, 0.5, 1)],
        days=[(round(352 * i / 4, 1), f"{date.fromordinal(day):%b %y}") for i, day in enumerate(months)],
    )


def hours(vehicle: Vehicle) -> str:
    return clock(vehicle.work_entries.aggregate(spent=Sum("minutes"))["spent"] or 0)
