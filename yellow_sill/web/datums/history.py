"""A point's deviation over the years of the rebuild, as a small plot."""

from dataclasses import dataclass

from yellow_sill.core.datum.drawn import flag_of
from yellow_sill.core.datum.results import PointResult
from yellow_sill.web.shells.models import Vehicle

from .models import DatumPoint, Round
from .round_services import fit_of

WIDE, HIGH = 330.0, 96.0
#: Days nearer to each other than this on the plot are not both named, px.
NAMED_APART = 14.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Dot:
    """The point in one round: its flag, its uncertainty (mm), where it stands on the plot (px) and whether its day is named."""

    round: Round
    found: PointResult
    sure: float
    flag: str
    x: float
    y: float
    top: float
    low: float
    named: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class PointHistory:
    """The dots of the plot, oldest first, the line through them as SVG path data, where the tolerance lies (px), and the most it shows (mm)."""

    rows: list[Dot]
    line: str
    tolerance_y: float
    most: float
    wide: float = WIDE
    high: float = HIGH


def history(vehicle: Vehicle, point: DatumPoint) -> PointHistory | None:
    """The point in every round that fixes it; None without one."""
    told = []
    for round_ in vehicle.rounds.all():
        result = fit_of(round_).result
        found = next((each for each in result.points if each.id == point.code), None) if result else None
        if found:
            told.append((round_, found))
    if not told:
        return None
    first, last = (round_.taken_on.toordinal() for round_ in (told[0][0], told[-1][0]))
    most = max(point.tolerance_mm * 1.3, *(found.length_mm + found.unsure_mm for _, found in told))
    up = lambda mm: round(HIGH - HIGH * min(mm, most) / most, 1)  # noqa: E731
    rows: list[Dot] = []
    for place, (round_, found) in enumerate(told):
        days = round_.taken_on.toordinal() - first
        share = days / (last - first) if last > first else (place / max(1, len(told) - 1))
        x = round(10 + (WIDE - 20) * share, 1)
        rows.append(
            Dot(
                round=round_,
                found=found,
                sure=found.unsure_mm,
                flag=flag_of(found.verdict, found.length_mm, found.tolerance_mm),
                x=x,
                y=up(found.length_mm),
                top=up(found.length_mm + found.unsure_mm),
                low=up(max(0.0, found.length_mm - found.unsure_mm)),
                named=not rows or x - rows[-1].x > NAMED_APART,
            )
        )
    line = "M" + "L".join(f"{row.x} {row.y}" for row in rows)
    return PointHistory(rows=rows, line=line, tolerance_y=up(point.tolerance_mm), most=round(most, 1))
