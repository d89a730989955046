"""The strip register of the demo: sixty made-up parts in eleven boxes, two missing, some that burn, one that a cut would lose."""

from datetime import date, timedelta
from typing import Any

from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.strip.services import keep_part

from .made_up import OWNER

#: Boxes: name, shelf, days ago, and what is in each: name, place on the left side (mm) or None, fastenings, more.
BOXES: tuple[tuple[str, str, int, tuple[tuple[Any, ...], ...]], ...] = (
    ("B1", "rack, top", 205, (
        ("Front bumper", (-640, 420), "M10 x 25 bolt; 4"), ("Bumper iron, left", (-560, 400), "M8 x 20 bolt; 2"), ("Bumper iron, right", None, "M8 x 20 bolt; 2"),
        ("Number plate lamp", None, "self-tapping screw; 2"), ("Grille", (-690, 560), "M5 x 12 screw; 6"))),
    ("B2", "rack, top", 204, (
        ("Headlamp, left", (-640, 600), "M5 x 16 screw; 3", {"ends": [{"what": "lamp plug", "first": "L1", "second": "L2"}]}), ("Headlamp, right", None, "M5 x 16 screw; 3"),
        ("Turn signal, left", (-670, 500), "M4 x 12 screw; 2"), ("Horn", (-600, 480), "M8 nut; 1"), ("Headlamp rim, left", None, "spring clip; 3", {"state": "refurbish", "waits_for": "chrome"}))),
    ("B3", "rack, middle", 203, (
        ("Bonnet hinge, left", (330, 840), "M8 x 20 bolt; 2", {"hinge_marked": True}), ("Bonnet hinge, right", None, "M8 x 20 bolt; 2", {"hinge_marked": True}),
        ("Bonnet stay", (300, 800), "clevis pin; 1"), ("Bonnet lock", (-560, 740), "M6 x 16 bolt; 3"), ("Washer bottle", None, "strap; 1"))),
    ("Bag 4", "rack, middle", 201, (
        ("Bracket of the jacking point, left", (980, 190), "M6 x 16 bolt; 2"), ("Jacking point cap, left", (990, 180), "press fit; 1"), ("Drain plug, sill", (1100, 210), "rubber; 2"),
        ("Wiring clip, sill", (1250, 250), "push clip; 6"), ("Handbrake cable guide", (1500, 240), "M6 nut; 2"))),
    ("B5", "shelf 2", 200, (
        ("Door card, left", (1200, 600), "trim clip; 14", {"burns": "trim"}), ("Door card, right", None, "trim clip; 14", {"burns": "trim"}), ("Armrest, left", None, "M6 x 40 screw; 2"),
        ("Window winder, left", None, "pin; 1"), ("Door mirror", (820, 880), "M5 x 16 screw; 2"), ("Door seal, left", None, "adhesive", {"state": "scrap", "burns": "trim"}))),
    ("B6", "shelf 2", 199, (
        ("Seat, front left", (1300, 480), "M8 x 25 bolt; 4", {"burns": "foam"}), ("Seat, front right", None, "M8 x 25 bolt; 4", {"burns": "foam"}), ("Seat rail, left", None, "M8 nut; 4"),
        ("Seat belt, front left", None, "7/16 UNF bolt; 2"), ("Rear seat back", None, "hook; 4", {"burns": "foam"}))),
    ("B7", "shelf 3", 198, (
        ("Carpet, front", None, "press stud; 8", {"burns": "trim"}), ("Sound deadening, floor", None, "bitumen", {"burns": "deadening", "state": "scrap"}), ("Underlay", None, "", {"burns": "foam"}),
        ("Sill tread, left", (1300, 330), "self-tapping screw; 6"), ("Sill tread, right", None, "self-tapping screw; 6"))),
    ("B8", "shelf 3", 190, (
        ("Fuel pipe, front", None, "P-clip; 6", {"burns": "fuel", "ends": [{"what": "fuel pipe", "first": "F1 pump", "second": "F2 tank"}]}), ("Fuel pump", None, "M8 nut; 2", {"burns": "fuel"}),
        ("Brake pipe, rear", None, "P-clip; 5", {"ends": [{"what": "brake pipe", "first": "P1", "second": "P2"}]}), ("Heater hose", None, "hose clip; 2", {"ends": [{"what": "heater hose", "first": "H1", "second": "H2"}]}),
        ("Washer tube", None, ""))),
    ("B9", "under the bench", 188, (
        ("Rear lamp, left", (3180, 640), "M5 nut; 3"), ("Rear lamp, right", None, "M5 nut; 3"), ("Boot lock", (3220, 760), "M6 x 16 bolt; 2"), ("Boot hinge, left", (2750, 880), "M8 x 20 bolt; 2", {"hinge_marked": True}),
        ("Boot seal", None, "press fit", {"state": "scrap", "burns": "trim"}))),
    ("B10", "under the bench", 150, (
        ("Front wing, left", (150, 620), "M6 x 16 bolt; 9"), ("Wing bolts, left", None, "M6 x 16 bolt; 9"), ("Splash plate, left", (450, 420), "M6 x 16 bolt; 5", {"state": "refurbish", "waits_for": "blasting"}),
        ("Mud flap, left", None, "self-tapping screw; 3", {"state": "missing", "box": "", "shelf": ""}), ("Wing piping", None, "", {"state": "missing", "box": "", "shelf": ""}))),
    ("B11", "shelf 1", 95, (
        ("Quarter window, left", (2200, 980), "seal; 1"), ("Quarter trim, left", (2300, 700), "trim clip; 6", {"burns": "trim"}), ("Rear arch liner, left", (2650, 560), "M6 nut; 4"),
        ("Filler cap", (2900, 760), "hinge; 1", {"burns": "fuel"}), ("Filler neck hose", None, "hose clip; 2", {"burns": "fuel"}), ("Parcel shelf", None, "trim clip; 6", {"burns": "trim"}),
        ("Roof lining", (1700, 1250), "adhesive", {"burns": "trim", "state": "refurbish", "waits_for": "retrimming"}), ("Interior lamp", None, "clip; 2"), ("Sun visor, left", None, "M5 x 12 screw; 3"))),
)  # fmt: skip
#: What sits on what: a part's name, and the name of what must be on before it.
AFTER = {
    "Front bumper": "Bumper iron, left", "Grille": "Front wing, left", "Splash plate, left": "Front wing, left", "Headlamp rim, left": "Headlamp, left", "Headlamp, left": "Front wing, left",
    "Seat, front left": "Carpet, front", "Sill tread, left": "Carpet, front", "Carpet, front": "Underlay", "Parcel shelf": "Rear seat back",
}  # fmt: skip


def stripped(vehicle: Vehicle, sill: Repair, today: date) -> None:
    """Every part with its box, in the order in which it came off; then what sits on what."""
    left = vehicle.views.get(name="left")
    made: dict[str, Any] = {}
    for box, shelf, ago, parts in BOXES:
        for name, at, fastening, *more in parts:
            what, _, count = fastening.partition("; ")
            values = {
                "name": name, "view": left if at else None, "at": list(at) if at else [], "removed_on": today - timedelta(ago),
                "fastenings": [{"what": what, "count": count}] if what else [], "ends": [], "box": box, "shelf": shelf, "hinge_marked": None, "burns": "", "state": "good",
                "waits_for": "", "after": [], "cut_id": None, "refitted_on": None, "note": "",
            } | (more[0] if more else {})  # fmt: skip
            if name == "Bracket of the jacking point, left":
                values["cut_id"] = sill.cuts.get(panel__code="L-SILL").pk
            made[name] = keep_part(vehicle, values, photo=None, stored=None, version=None, by=OWNER)
    for name, before in AFTER.items():
        part = made[name]
        part.set_fields(OWNER, after=[made[before].number])
