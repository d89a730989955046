"""The second demo vehicle: a pick-up with its bed, a chassis rail gone on all four plates, and the gaps of the first one. Made up."""

from datetime import date, timedelta

from yellow_sill.web.shells.gap_services import keep_gaps, start_round
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.shells.services import create_vehicle

from .findings import stored_finding

#: (view, panel, name, corners, evidence as (method, result, hits, tries, mm), days ago)
FINDINGS = [
    ("left", "L-CHRAIL", "Rail over the axle, outer web", [(2330, 470), (2420, 490), (2470, 520), (2450, 550), (2370, 530), (2320, 500)], [("scaler", "broke", 3, None, None)], 40),
    ("inside-left", "L-CHRAILI", "Rail over the axle, inner web", [(-2440, 500), (-2360, 480), (-2340, 510), (-2420, 540)], [("probe", "dents", 2, 5, None)], 40),
    ("underside", "L-CHRAILB", "Rail over the axle, bottom plate", [(2300, 346), (2480, 346), (2490, 404), (2310, 404)], [("scaler", "broke", 4, None, None), ("sign", "edge", None, None, None)], 40),
    ("chassis", "L-CHRAILT", "Rail under the bed, top plate", [(2380, -402), (2500, -402), (2500, -348), (2380, -348)], [("seen", "pitted", None, None, None), ("gauge", "reading", None, None, 1.7)], 39),
    ("left", "L-CABCORNER", "Cab corner", [(1600, 520), (1700, 510), (1800, 516), (1806, 580), (1720, 610), (1620, 590)], [("probe", "through", 2, 4, None)], 38),
    ("top", "BEDF", "Bed floor, front edge", [(1930, -200), (2040, -220), (2060, 40), (1950, 60)], [("seen", "stain", None, None, None), ("tap", "dull", 3, 6, None)], 38),
    ("door-left", "L-DOOR", "Door bottom", [(760, 596), (900, 592), (1040, 596), (1030, 640), (860, 652)], [("probe", "dents", 2, 6, None), ("sign", "apart", None, None, None)], 37),
]  # fmt: skip

#: Rounds of the first vehicle's gaps: what for, days ago, gaps by part and place, mm.
ROUNDS = [
    ("Before cutting", 205, {
        "L-DOOR": {"front-top": 4.6, "front-bottom": 4.2, "rear-top": 3.2, "rear-bottom": 4.4, "lower-front": 4.8, "lower-rear": 7.1},
        "R-DOOR": {"front-top": 4.5, "front-bottom": 4.4, "rear-top": 4.6, "rear-bottom": 4.7, "lower-front": 4.4, "lower-rear": 4.9},
        "BONNET": {"left-front": 4.0, "left-rear": 4.2, "right-front": 5.6, "right-rear": 5.4},
    }),
    ("After the left sill", 30, {
        "L-DOOR": {"front-top": 6.2, "front-bottom": 4.4, "rear-top": 2.3, "rear-bottom": 4.2, "lower-front": 4.6, "lower-rear": 3.1},
        "R-DOOR": {"front-top": 4.5, "front-bottom": 4.4, "rear-top": 4.6, "rear-bottom": 4.7, "lower-front": 4.4, "lower-rear": 4.8},
    }),
]  # fmt: skip


def gaps(vehicle: Vehicle, today: date, owner: str) -> None:
    """The rounds of gaps of the first vehicle."""
    for name, ago, parts in ROUNDS:
        round_ = start_round(vehicle, name=name, taken_on=today - timedelta(ago), note="", by=owner)
        told = {f"{code}/{place}": mm for code, places in parts.items() for place, mm in places.items()}
        keep_gaps(
            round_, version=None, gaps_mm=told, typed={code: f"{mm:g}" for code, mm in told.items()}, by=owner
        )


def pickup(owner, today: date) -> Vehicle:
    """A pick-up cab with its bed, surveyed a little."""
    vehicle = create_vehicle(
        owner=owner, body_type="pickup-ladder-chassis", dimensions_mm={}, steering="left", make="Orrin", model="Packhorse", year=1958, body_no="PH-0771", currency="GBP",
    )  # fmt: skip
    for row in FINDINGS:
        stored_finding(vehicle, row, today, owner.get_username())
    return vehicle
