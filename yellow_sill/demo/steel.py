"""Steel of the demo: a sheet and an offcut, four open patterns laid on them, the quarter's fit log with its filler strip, sums of the bench."""

import json
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from yellow_sill.core.calc import calculate
from yellow_sill.core.geometry import Xy
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.patch.fit_services import keep_offer, opening_of
from yellow_sill.web.patch.stock_services import add_sheet, keep_plan, nest_request
from yellow_sill.web.patch.sum_services import keep_sum
from yellow_sill.web.shells.models import Vehicle

from .made_up import OWNER

#: Four patterns that wait: two sheets of the sill end, the arch lip, the floor.
OPEN = ("R-02.2", "R-02.3", "R-03.1", "R-05.1")
STOCK = (
    {"thickness_mm": 1.2, "length_mm": 1000.0, "width_mm": 500.0, "outline": [], "price": Decimal("21.60"), "supplier": "Sheet & Section Depot", "place": "rack, left"},
    {"thickness_mm": 0.9, "outline": [[0, 0], [760, 0], [760, 330], [430, 330], [430, 480], [0, 480]], "price": Decimal("6.10"), "place": "behind the door"},
)  # fmt: skip
SUMS: tuple[tuple[str, str, dict[str, Any]], ...] = (
    ("pressed", "Floor patch: recess and two ribs", {
        "thickness_mm": 0.9, "recess_length_mm": 120.0, "recess_width_mm": 70.0, "recess_corner_mm": 18.0, "recess_depth_mm": 6.0, "recess_wall_deg": 45.0,
        "beads_count": 2.0, "beads_width_mm": 18.0, "beads_height_mm": 5.0, "beads_pitch_mm": 60.0, "ribs": "front edge: old 30 90 new 32 91\nrear edge: old 30 90 new 36 97",
    }),
    ("shape", "Roof corner beside the gutter", {
        "heights": "0 3 5 3 0\n4 8 10 8 4\n5 10 12 10 5\n4 8 10 8 4\n0 3 5 3 0", "step_u_mm": 60.0, "step_v_mm": 50.0, "reading_mm": 0.5, "limit_percent": 6.0,
    }),
    ("jig", "Spring hangers, rear", {
        "marks": "hanger left: 2890, -505, 290 bolt 10\nhanger right: 2890, 505, 290 bolt 10\nrail hole: 2310, 0, 340", "made_of": "tube", "foot_mm": 40.0,
        "measured": "hanger left - hanger right: 1010.5",
    }),
)  # fmt: skip


def steel(vehicle: Vehicle, today: date) -> None:
    """A sheet, an offcut, and the plan that lays four patterns on them."""
    sheets = [add_sheet(vehicle, dict(values), by=OWNER) for values in STOCK]
    how = {"kerf_mm": 2.0, "margin_mm": 5.0, "keep_mm": 60.0, "turn_deg": 30, "rounds": 1}
    asked = nest_request(vehicle, {name: {} for name in OPEN}, sheets, how)
    told = json.loads(json.dumps(calculate("nest", asked.model_dump(mode="json"))))
    keep_plan(vehicle, asked, told, today=today, by=OWNER)


def sums(vehicle: Vehicle) -> None:
    for kind, title, typed in SUMS:
        keep_sum(vehicle, kind, title, typed, stored=None, version=None, by=OWNER)


def fitted(cut: Cut, on: date) -> None:
    """The quarter's patch: at the first offer a corner was trimmed too far, at the second it fits."""
    long = max(opening_of(cut).edges, key=lambda edge: _length(edge["path"]))
    first = [_reading(at, 0.5) for at in _round(cut)]
    near = _middle(long["path"])
    for reading in first:
        if abs(reading["at"][0] - near[0]) + abs(reading["at"][1] - near[1]) < 45:
            reading |= {"gap_mm": 3.5, "typed": "3.5"}
    first[2] |= {"gap_mm": -1.0, "typed": "-1"}
    shared = {"process": "mig", "school": "template"}
    notes = (
        ("Trimmed too far in the middle of the long edge: a strip goes in", first),
        ("With the strip tacked in", [_reading(at, 0.6) for at in _round(cut)]),
    )
    for number, (note, gaps) in enumerate(notes):
        keep_offer(
            cut,
            shared | {"note": note, "gaps": gaps},
            stored=None,
            version=None,
            today=on + timedelta(number),
            by=OWNER,
        )


def _reading(at: Xy, gap: float) -> dict[str, Any]:
    return {"at": [round(at[0], 2), round(at[1], 2)], "gap_mm": gap, "typed": f"{gap:g}"}


def _length(path: list) -> float:
    return sum(((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5 for a, b in zip(path, path[1:], strict=False))


def _middle(path: list) -> Xy:
    return _along(path, 0.5)


def _along(path: list, share: float) -> Xy:
    """The place at a share of a line's length."""
    left = share * _length(path)
    for a, b in zip(path, path[1:], strict=False):
        step = _length([a, b])
        if left <= step:
            part = left / step if step else 0.0
            return a[0] + part * (b[0] - a[0]), a[1] + part * (b[1] - a[1])
        left -= step
    return path[-1][0], path[-1][1]


def _round(cut: Cut) -> list[Xy]:
    """Places all round the butted edges, at most 50 mm apart."""
    found = []
    for edge in opening_of(cut).edges:
        count = max(1, round(_length(edge["path"]) / 45))
        found += [_along(edge["path"], (k + 0.5) / count) for k in range(count)]
    return found
