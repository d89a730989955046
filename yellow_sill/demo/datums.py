"""The demo vehicle's measuring rounds: made-up deviations, readings with noise, one with two digits swapped."""

import math
import random
from datetime import date, timedelta

from yellow_sill.web.datums.models import Round
from yellow_sill.web.datums.plan_services import open_round
from yellow_sill.web.datums.reading_services import keep_reading
from yellow_sill.web.datums.stand_services import (
    USUAL_PACKERS_MM,
    flats_of,
    keep_stands,
    levelled,
    packers_in,
)
from yellow_sill.web.shells.models import Vehicle

TRUSTED = ("6L", "6R", "7L", "7R", "9L", "9R", "10L", "10R")
#: How far each point lies off its nominal place, mm: the nose hangs low on the left and leans left.
OFF = {
    "1L": (1.4, -6.2, -7.4), "1R": (-0.4, -4.4, 0.8), "2L": (1.1, -5.4, -6.8), "2R": (0.5, -3.8, 0.6), "3L": (-0.8, -4.7, -5.1), "3R": (0.4, -3.2, 0.4),
    "4L": (1.1, -2.6, -2.4), "4R": (0.2, -2.0, 0.2), "5L": (0.4, -1.3, -1.9), "5R": (-0.3, -1.0, 0.1), "8L": (-1.6, 0.9, 0.6), "8R": (1.9, 0.6, -0.3), "11L": (0.6, -1.2, -1.6), "11R": (-0.2, -0.8, 0.3),
    "12L": (0.4, -0.6, -0.7), "12R": (0.2, 0.3, 0.2), "13L": (0.8, -1.9, -1.1), "13R": (0.3, -1.4, 0.4), "14L": (0.2, -0.5, 0.3), "14R": (-0.3, 0.2, 0.4),
}  # fmt: skip
#: How each pair stood off that with the engine in and no stand under the nose, mm (y as the right one goes): half as soft again as worked out.
HEAVY = {
    "1": (-0.2, 0.0, -3.0), "2": (-0.1, 0.2, -2.5), "3": (-1.0, 0.3, -2.1), "4": (-0.1, 0.2, -1.6), "5": (0.1, 0.0, -0.4), "11": (-1.0, 0.0, -0.5),
    "12": (0.0, 0.2, 0.0), "13": (-0.4, 0.0, -1.4), "14": (-0.5, 0.0, -0.2),
}  # fmt: skip
#: The part of the nose's deviation that is left once it was pulled back and braced.
BRACED_SHARE = 0.55
NOSE = ("1L", "1R", "2L", "2R", "3L", "3R", "4L", "4R")
#: (stage, days ago, height of the level plane, its rise along x and y in mm per m, share of the nose's deviation, note)
ROUNDS = [
    (
        "found",
        205,
        -118.0,
        3.1,
        -6.4,
        1.0,
        "On four stands under the cabin as it came in, engine and doors in",
    ),
    (
        "levelled",
        203,
        -141.0,
        0.2,
        -0.3,
        1.0,
        "Engine and doors out, stands out to the ends, packers in by round 1",
    ),
    (
        "braced",
        84,
        -136.0,
        0.1,
        0.2,
        BRACED_SHARE,
        "Nose pulled up with the jack, door aperture and engine bay braced",
    ),
]
#: The reading of the first round that was written down with two digits swapped: it was 2805.
SILLY = ("distance", ("2L", "9R"), 2850.0)
STANDS = [("LF", 560, -348), ("RF", 560, 348), ("LR", 1660, -492), ("RR", 1660, 492)]
TAPE_NOISE_MM, HEIGHT_NOISE_MM = 0.4, 0.25
SURE_TO = {"tape_sigma_mm": 0.5, "height_sigma_mm": 0.3}  #: a steel tape under a steady pull, a laser level


def measure(vehicle: Vehicle, today: date, by: str) -> None:
    """Trust the points behind the toe board, take the rounds, put the stands in."""
    for point in vehicle.datum_points.filter(code__in=TRUSTED):
        point.save_as(None, by, trusted=True)
    stands = [{"id": name, "x_mm": x, "y_mm": y, "packed_mm": 0.0, "most_mm": 100.0} for name, x, y in STANDS]
    kept = keep_stands(
        vehicle,
        {"stands": stands, "packers_mm": list(USUAL_PACKERS_MM), "packers_typed": "1 2 3 5 10 20"},
        version=None,
        by=by,
    )
    for stage, ago, *level, share, note in ROUNDS:
        made = take_round(vehicle, stage, today - timedelta(ago), level, share, note, by=by)
        if stage == "found":
            flats = flats_of(made, list(vehicle.datum_points.all()))
            packers_in(kept, levelled(kept, flats, TRUSTED), made, version=None, by=by)


def take_round(
    vehicle: Vehicle,
    stage: str,
    day: date,
    level: list[float],
    share: float,
    note: str,
    *,
    by: str,
    about: str = "",
) -> Round:
    """One round with every reading of its plan, as it would be typed."""
    rng = random.Random(f"{stage}{about} 4")
    made = open_round(vehicle, stage=stage, about=about, taken_on=day, by=by, note=note, **SURE_TO)
    places = {
        p.code: [
            n + d * (share if p.code in NOSE else 1.0)
            for n, d in zip(p.nominal, OFF.get(p.code, (0.0, 0.0, 0.0)), strict=True)
        ]
        for p in vehicle.datum_points.all()
    }
    if stage == "found":
        for number, heavy in HEAVY.items():
            for code, way in ((f"{number}R", 1), (f"{number}L", -1)):
                places[code] = [
                    at + off
                    for at, off in zip(places[code], (heavy[0], way * heavy[1], heavy[2]), strict=True)
                ]
    for kind, codes in made.plan:
        a = places[codes[0]]
        if kind == "height":
            value = (
                a[2] + level[0] + (level[1] * a[0] + level[2] * a[1]) / 1000 + rng.gauss(0, HEIGHT_NOISE_MM)
            )
        elif kind == "offset_y":
            value = abs(a[1]) + rng.gauss(0, HEIGHT_NOISE_MM) * (1 if a[1] > 0 else -1)
        else:
            value = math.dist(a, places[codes[1]]) + rng.gauss(0, TAPE_NOISE_MM)
        value = round(value * 2) / 2
        if stage == "found" and (kind, tuple(codes)) == SILLY[:2]:
            value = SILLY[2]
        keep_reading(made, kind, codes, f"{value:g}", by=by)
    return made
