"""Parts, places and verdicts in the garage's words."""

from collections.abc import Mapping

from .unitary import saloon_nodes
from .verdict import RATIO, SCORE_MM, Held

NAMES = {
    "sill_outer": "Outer sill", "sill_diaph": "Sill diaphragm", "sill_inner": "Inner sill", "floor": "Floor", "tunnel": "Tunnel",
    "seat_xm": "Seat crossmember", "toe_xm": "Toe board crossmember", "heelboard": "Heelboard", "bulkhead": "Bulkhead", "scuttle": "Scuttle",
    "apost_outer": "A-post, outer", "apost_inner": "A-post, inner", "screen_pillar": "Screen pillar", "bpost_outer": "B-post, outer",
    "bpost_inner": "B-post, inner", "cantrail": "Cant rail", "header_front": "Screen header", "header_rear": "Rear header", "roof": "Roof skin",
    "cpost": "C-post", "waist": "Waist rail", "quarter": "Rear quarter", "front_panel": "Front panel", "boot_floor": "Boot floor",
    "seat_pan": "Rear seat pan", "seat_back": "Seat back panel", "shelf": "Parcel shelf", "rear_panel": "Rear panel", "wheelarch": "Rear wheel arch",
    "front_rail": "Chassis leg, front", "inner_wing": "Inner wing", "front_xm": "Front crossmember", "slam": "Bonnet slam panel",
    "rear_rail": "Chassis rail, rear", "rear_xm": "Rear crossmember",
}  # fmt: skip
NODE_NAMES = {
    "FR": "front rail tip", "FM": "front rail at the axle", "TW": "wing top at the axle", "FW": "wing top, front", "RB": "front rail at the toe board",
    "AB": "A-post foot", "AT": "A-post top", "HF": "screen header corner", "SM": "middle of the sill", "BB": "B-post foot", "BW": "B-post at the waist",
    "BT": "B-post top", "SE": "rear end of the sill", "RH": "rear rail at the heelboard", "RK": "rear rail over the axle", "CB": "C-post foot",
    "HR": "rear header corner", "RR": "rear rail end", "QR": "quarter, rear", "KC": "middle of the scuttle", "TF": "tunnel, front", "TM": "tunnel, middle",
    "TR": "tunnel, rear", "HC": "middle of the heelboard", "RC": "middle of the rear panel",
}  # fmt: skip
_SIDES = {"L": "left", "R": "right"}


def part_name(part: str) -> str:
    """A part as the garage calls it.

    >>> part_name("sill_inner_L")
    'Inner sill, left'
    """
    stem, _, hand = part.rpartition("_")
    return f"{NAMES[stem]}, {_SIDES[hand]}" if hand in _SIDES else NAMES[part]


def node_name(node: str) -> str:
    """A node as the garage calls it.

    >>> node_name("BWL")
    'left B-post at the waist'
    """
    return f"{_SIDES[node[-1]]} {NODE_NAMES[node[:-1]]}" if node[:-1] in NODE_NAMES else NODE_NAMES[node]


def said_plainly(sentence: str) -> str:
    """A sentence of the core with places named in words instead of codes."""
    names = {node: node_name(node) for node in saloon_nodes()}
    return " ".join(_plain(word, names) for word in sentence.split(" "))


def _plain(word: str, names: Mapping[str, str]) -> str:
    bare = word.rstrip(",.:")
    return f"the {names[bare]}{word[len(bare) :]}" if bare in names else word


def reason(held: Held) -> str:
    """Why a verdict, in one short line."""
    if held.floating:
        return f"{_first_up(node_name(held.floating[0]))}: hangs on nothing."
    if held.mechanisms:
        return "A piece can swing freely."
    low, what = min((held.twist_ratio, "twist"), (held.bend_ratio, "bend"))
    if held.score_mm >= SCORE_MM and held.verdict != "HELD":
        return f"{_first_up(node_name(held.worst_node))}: 20 kg moves it {held.extra_give_mm:.1f} mm more."
    if low < RATIO:
        return f"{low * 100:.0f} % of its stiffness in {what} is left."
    return f"{low * 100:.0f} % of its stiffness is left."


def head_words(held: Held) -> str:
    """How sure the verdict is, as a headline."""
    sure, _, why = held.sure.partition(": ")
    head = f"{sure} {held.verdict.lower()}" if sure in ("plainly", "narrowly") else sure
    return _first_up(f"{head}: {why}" if why else head)


def _first_up(words: str) -> str:
    return words[0].upper() + words[1:]
