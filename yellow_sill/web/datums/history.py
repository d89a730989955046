"""A point's deviation over the years of the rebuild, as a small plot."""

from typing import Any

from yellow_sill.core.datum.drawn import flag_of
from yellow_sill.web.shells.models import Vehicle

from .models import DatumPoint
from .round_services import fit_of

WIDE, HIGH = 330.0, 96.0


def history(vehicle: Vehicle, point: DatumPoint) -> dict[str, Any] | None:
    """The point in every round that fixes it, oldest first, with SVG places in a field of 330 by 96; None without one."""
    rows = []
    for round_ in vehicle.rounds.all():
        result = fit_of(round_).result
        found = next((each for each in result.points if each.id == point.code), None) if result else None
        if found:
            sure = found.unsure_mm
            rows.append(
                {
                    "round": round_,
                    "found": found,
                    "sure": sure,
                    "flag": flag_of(found.verdict, found.length_mm, found.tolerance_mm),
                }
            )
    if not rows:
        return None
    first, last = rows[0]["round"].taken_on.toordinal(), rows[-1]["round"].taken_on.toordinal()
    most = max(point.tolerance_mm * 1.3, *(row["found"].length_mm + row["sure"] for row in rows))
    up = lambda mm: round(HIGH - HIGH * min(mm, most) / most, 1)  # noqa: E731
    for place, row in enumerate(rows):
        days = row["round"].taken_on.toordinal() - first
        share = days / (last - first) if last > first else (place / max(1, len(rows) - 1))
        row |= {"x": round(10 + (WIDE - 20) * share, 1), "y": up(row["found"].length_mm)}
        row |= {
            "top": up(row["found"].length_mm + row["sure"]),
            "low": up(max(0.0, row["found"].length_mm - row["sure"])),
        }
    for before, row in zip([None, *rows], rows, strict=False):
        row["named"] = before is None or row["x"] - before["x"] > 14
    line = "M" + "L".join(f"{row['x']} {row['y']}" for row in rows)
    return {
        "rows": rows,
        "line": line,
        "tolerance_y": up(point.tolerance_mm),
        "wide": WIDE,
        "high": HIGH,
        "most": round(most, 1),
    }
