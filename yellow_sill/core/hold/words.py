"""Parts, places and verdicts in the garage's words."""

from typing import Any

from ..said import Listed, Mm, Said, first_up, joined
from .braces import BracePlan
from .verdict import RATIO, SCORE_MM, Held

NAMES = {
    "sill_outer": "Outer sill", "sill_diaph": "Sill diaphragm", "sill_inner": "Inner sill", "floor": "Floor", "tunnel": "Tunnel",
    "seat_xm": "Seat crossmember", "toe_xm": "Toe board crossmember", "heelboard": "Heelboard", "bulkhead": "Bulkhead", "scuttle": "Scuttle",
    "apost_outer": "A-post, outer", "apost_inner": "A-post, inner", "screen_pillar": "Screen pillar", "bpost_outer": "B-post, outer",
    "bpost_inner": "B-post, inner", "cantrail": "Cant rail", "header_front": "Screen header", "header_rear": "Rear header", "roof": "Roof skin",
    "cpost": "C-post", "cpost_box": "C-post", "waist": "Waist rail", "quarter": "Rear quarter", "front_panel": "Front panel", "boot_floor": "Boot floor",
    "seat_pan": "Rear seat pan", "seat_back": "Seat back panel", "shelf": "Parcel shelf", "rear_panel": "Rear panel", "wheelarch": "Rear wheel arch",
    "front_rail": "Chassis leg, front", "inner_wing": "Inner wing", "front_xm": "Front crossmember", "slam": "Bonnet slam panel",
    "rear_rail": "Chassis rail, rear", "rear_xm": "Rear crossmember", "dpost": "D-post", "toe": "Toe board", "rear_floor": "Rear floor",
    "scuttle_side": "Scuttle side", "footwell": "Footwell side", "lock_post": "Lock post", "quarter_inner": "Quarter inner",
    "cab_side": "Cab side behind the door",
    "corner": "Cab corner", "corner_gusset": "Corner gusset", "back": "Back panel", "chassis_rail": "Chassis rail",
    "chassis_x1": "Chassis crossmember 1", "chassis_x2": "Chassis crossmember 2", "chassis_x3": "Chassis crossmember 3", "chassis_x4": "Chassis crossmember 4",
    "chassis_x5": "Chassis crossmember 5", "outrigger_f": "Outrigger, front", "outrigger_m": "Outrigger, middle", "outrigger_r": "Outrigger, rear",
    "mount_f": "Body mount, front", "mount_m": "Body mount, middle", "mount_r": "Body mount, rear",
}  # fmt: skip
NODE_NAMES = {
    "FR": "front rail tip", "FM": "front rail at the axle", "TW": "wing top at the axle", "FW": "wing top, front", "RB": "front rail at the toe board",
    "AB": "A-post foot", "AT": "A-post top", "HF": "screen header corner", "SM": "middle of the sill", "BB": "B-post foot", "BW": "B-post at the waist",
    "BT": "B-post top", "SE": "rear end of the sill", "RH": "rear rail at the heelboard", "RK": "rear rail over the axle", "CB": "C-post foot",
    "HR": "rear header corner", "RR": "rear rail end", "QR": "quarter, rear", "KC": "middle of the scuttle", "TF": "tunnel, front", "TM": "tunnel, middle",
    "TR": "tunnel, rear", "HC": "middle of the heelboard", "RC": "middle of the rear panel", "DT": "top of the D-post", "BK": "floor at the front body mount",
    "BH": "scuttle corner", "DQ": "quarter over the axle", "CR": "back corner of the cab, foot",
    "CW": "back corner of the cab, waist",
    "CT": "back corner of the roof", "BC": "middle of the back panel", "XA": "chassis rail tip", "XB": "chassis rail at the front axle",
    "XC": "chassis rail at crossmember 2", "XD": "chassis rail at the front mount", "XE": "chassis rail at the middle mount",
    "XF": "chassis rail at crossmember 3",
    "XG": "chassis rail over the rear axle", "XH": "chassis rail end", "XR": "chassis rail at the rear mount",
    "OF": "front outrigger", "OM": "middle outrigger",
    "OR": "rear outrigger",
}  # fmt: skip
_SIDES = {"L": "left", "R": "right"}


def part_name(part: str) -> str:
    """A part as the garage calls it.

    >>> part_name("sill_inner_L")
    'Inner sill, left'
    """
    if part.startswith("panel_"):
        return Said("Own panel {part}", part=part.removeprefix("panel_"))
    stem, _, hand = part.rpartition("_")
    if hand in _SIDES and stem in NAMES:
        return Said("{part}, {side}", part=Said(NAMES[stem]), side=Said(_SIDES[hand]))
    return Said(NAMES[part]) if part in NAMES else part


def node_name(node: str) -> str:
    """A node as the garage calls it.

    >>> node_name("BWL")
    'left B-post at the waist'
    """
    if node[:-1] in NODE_NAMES:
        return Said("{side} {place}", side=Said(_SIDES[node[-1]]), place=Said(NODE_NAMES[node[:-1]]))
    return Said(NODE_NAMES[node])


def between(start: str, end: str) -> Said:
    """Two nodes as the garage says them: ``left A-post foot to left B-post top``."""
    return Said("{start} to {end}", start=node_name(start), end=node_name(end))


def said_plainly(sentence: str) -> str:
    """A message of the core with places named in words instead of codes.

    >>> said_plainly(Said("Tie {worst} sideways, or put a part back first.", worst="BBL"))
    'Tie the left B-post foot sideways, or put a part back first.'
    """
    if not isinstance(sentence, Said):
        return sentence
    return Said(sentence.template, **{name: _plain(value) for name, value in sentence.values.items()})


def _plain(value: Any) -> Any:
    if isinstance(value, Said):
        return said_plainly(value)
    if isinstance(value, Listed):
        return Listed(tuple(_plain(each) for each in value.values), value.between)
    known = isinstance(value, str) and (
        value in NODE_NAMES or (value[:-1] in NODE_NAMES and value[-1:] in _SIDES)
    )
    return Said("the {place}", place=node_name(value)) if known else value


def reason(held: Held) -> str:
    """Why a verdict, in one short line."""
    if held.floating:
        return Said("{place}: hangs on nothing.", place=first_up(node_name(held.floating[0])))
    if held.mechanisms:
        return "A piece can swing freely."
    if held.lost:
        return Said(
            "Gone: {lost}{more}.",
            lost=Said(held.lost[0]),
            more=Said(", and {lost} more", lost=len(held.lost) - 1) if len(held.lost) > 1 else "",
        )
    low, what = min((held.twist_ratio, "twist"), (held.bend_ratio, "bend"))
    if held.score_mm >= SCORE_MM and held.verdict != "HELD":
        return Said(
            "{place}: 20 kg moves it {extra_give_mm} more.",
            place=first_up(node_name(held.worst_node)),
            extra_give_mm=Mm(held.extra_give_mm, 1),
        )
    if low < RATIO:
        return Said("{low:.0f} % of its stiffness in {what} is left.", low=low * 100, what=what)
    return Said("{low:.0f} % of its stiffness is left.", low=low * 100)


def cure(plan: BracePlan) -> str:
    """What would hold the shell, in one sentence."""
    if not plan.sequence:
        return (
            "It is held as it is."
            if plan.verdict == "HELD"
            else "No place for a brace was found: put a part back first."
        )
    told = joined(
        (between(each.start, each.end) for each in plan.sequence),
        "; ",
    )
    if plan.held_after is None:
        return Said("Braces alone do not hold it ({told} help most): put a part back first.", told=told)
    one = len(plan.sequence) == 1
    return Said(
        "{words} it: {told}.",
        words=Said("One brace holds") if one else Said("{sequence} braces hold", sequence=len(plan.sequence)),
        told=told,
    )


def head_words(held: Held) -> str:
    """How sure the verdict is, as a headline."""
    sure, _, why = held.sure.partition(": ")
    head = (
        Said("{sure} {verdict}", sure=Said(sure), verdict=Said(held.verdict.lower()))
        if sure in ("plainly", "narrowly")
        else Said(sure)
    )
    return first_up(Said("{head}: {why}", head=head, why=Said(why)) if why else head)
