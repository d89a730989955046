"""The structure of a unitary saloon: its nodes, members, sheets and which parts they are made of. All dimensions are made up.

Words: a member line reads ``nodes | width x height | wall=part ...`` with the walls out, inn, top, bot; ``all`` for all four. ``*`` stands for L
and R. Width runs outboard (forward on cross members), height upwards (rearward on posts).
"""

from dataclasses import dataclass

import numpy as np

from .elements import axes_of

#: Nodes as laid out, mm: x from the rail's tip aft, y off the centre line, z up. ``*`` nodes exist left (y below 0) and right.
NODES = {
    "FR*": (60, 400, 340), "FM*": (650, 400, 340), "TW*": (650, 540, 720), "FW*": (60, 540, 640), "RB*": (1120, 400, 240), "AB*": (1180, 640, 200),
    "AT*": (1180, 630, 820), "HF*": (1560, 520, 1280), "SM*": (1680, 640, 200), "BB*": (2200, 640, 200), "BW*": (2220, 640, 820), "BT*": (2180, 530, 1300),
    "SE*": (2470, 640, 200), "RH*": (2470, 450, 240), "RK*": (2950, 450, 430), "CB*": (3020, 600, 840), "HR*": (2720, 510, 1250), "RR*": (3640, 450, 400),
    "QR*": (3640, 590, 760), "KC": (1180, 0, 820), "TF": (1180, 0, 330), "TM": (1680, 0, 300), "TR": (2200, 0, 300), "HC": (2470, 0, 300), "RC": (3640, 0, 400),
}  # fmt: skip
THICKNESS_MM = {
    "sill_outer_*": 0.9, "sill_diaph_*": 0.9, "sill_inner_*": 1.2, "floor_*": 0.9, "tunnel": 1.0, "seat_xm_*": 1.2, "toe_xm_*": 1.2, "heelboard": 1.0,
    "bulkhead": 0.9, "scuttle": 0.9, "apost_outer_*": 0.9, "apost_inner_*": 1.2, "screen_pillar_*": 1.0, "bpost_outer_*": 0.9, "bpost_inner_*": 0.9,
    "cantrail_*": 0.8, "header_front": 0.8, "header_rear": 0.8, "roof": 0.8, "cpost_*": 0.8, "waist_*": 0.8, "quarter_*": 0.8, "front_panel": 0.8,
    "boot_floor": 0.8, "seat_pan": 0.8, "seat_back": 0.8, "shelf": 0.8, "rear_panel": 0.8, "wheelarch_*": 0.9, "front_rail_*": 1.6, "inner_wing_*": 0.9,
    "front_xm": 1.2, "slam": 1.0, "rear_rail_*": 1.4, "rear_xm": 1.0,
}  # fmt: skip
MEMBERS = """
AB* SM* BB* SE* | 110x140 | sill
AB* AT* | 80x130 | out=apost_outer_* top=apost_outer_* bot=apost_outer_* inn=apost_inner_*
AT* HF* | 45x50 | all=screen_pillar_*
BB* BW* | 70x110 | out=bpost_outer_* top=bpost_outer_* bot=bpost_outer_* inn=bpost_inner_*
BW* BT* | 40x65 | out=bpost_outer_* top=bpost_outer_* bot=bpost_outer_* inn=bpost_inner_*
HF* BT* HR* | 45x45 | all=cantrail_*
HFL HFR | 50x35 | all=header_front
HRL HRR | 50x35 | all=header_rear
BTL BTR | 60x20 | out=roof inn=roof bot=roof
CB* HR* | 50x80 | all=cpost_*
BW* CB* | 45x50 | all=waist_*
CB* QR* | 45x45 | all=quarter_*
RK* CB* | 50x60 | all=wheelarch_*
RR* QR* | 50x50 | out=quarter_* bot=rear_panel
CBL CBR | 60x40 | all=shelf
QRL QRR | 40x40 | out=rear_panel inn=rear_panel top=rear_panel
RRL RC RRR | 50x60 | out=rear_xm inn=rear_xm bot=rear_xm top=boot_floor
RKL RKR | 60x60 | out=seat_pan inn=seat_pan bot=seat_pan top=boot_floor
RH* RK* | 65x85 | out=rear_rail_* inn=rear_rail_* bot=rear_rail_* top=seat_pan
RK* RR* | 65x85 | out=rear_rail_* inn=rear_rail_* bot=rear_rail_* top=boot_floor
SEL RHL HC RHR SER | 80x90 | all=heelboard
TF TM TR HC | 220x150 | out=tunnel inn=tunnel top=tunnel
SML TM | 80x60 | out=seat_xm_L inn=seat_xm_L top=seat_xm_L bot=floor_L | sill_inner_L
TM SMR | 80x60 | out=seat_xm_R inn=seat_xm_R top=seat_xm_R bot=floor_R | sill_inner_R
ABL RBL TF | 80x80 | out=toe_xm_L inn=toe_xm_L top=toe_xm_L bot=floor_L
TF RBR ABR | 80x80 | out=toe_xm_R inn=toe_xm_R top=toe_xm_R bot=floor_R
ATL KC ATR | 140x90 | all=scuttle
FR* FM* RB* | 60x100 | out=inner_wing_* inn=front_rail_* top=front_rail_* bot=front_rail_*
FM* TW* | 60x90 | all=inner_wing_*
FW* TW* AT* | 40x45 | all=inner_wing_*
FRL FRR | 60x80 | all=front_xm
FWL FWR | 50x40 | out=slam inn=slam top=slam
FR* FW* | 40x40 | out=inner_wing_* bot=front_panel
"""
SHEETS = """
floor_* | AB* SM* TM TF; SM* BB* TR TM; BB* SE* RH*; BB* RH* TR | sill_inner_*
floor_* | RH* HC TR; AB* TF RB*
bulkhead | ABL RBL ATL; ABR RBR ATR; RBL TF KC ATL; RBR TF KC ATR
inner_wing_* | FR* FM* TW* FW*; FM* RB* AT* TW*
front_panel | FRL FRR FWR FWL
roof | HFL HFR BTR BTL; BTL BTR HRR HRL
quarter_* | BB* SE* BW*; SE* CB* BW*; CB* QR* RR* RK*
wheelarch_* | SE* RK* CB*; SE* RH* RK*
seat_pan | RHL HC RKL; HC RHR RKR; HC RKR RKL
seat_back | RKL RKR CBR CBL
boot_floor | RKL RRL RC; RKR RRR RC; RKL RKR RC
rear_panel | RRL RC QRL; RRR RC QRR; RC QRR QRL
"""
#: Parts of which one must be in for a node to count as a datum.
HOMES = {
    "FR*": "front_rail_*", "FM*": "front_rail_*", "TW*": "inner_wing_*", "FW*": "inner_wing_*", "RB*": "front_rail_* toe_xm_*",
    "AB*": "apost_outer_* apost_inner_*", "AT*": "apost_outer_* apost_inner_*", "HF*": "screen_pillar_* header_front", "SM*": "sill_inner_* sill_outer_*",
    "BB*": "bpost_outer_* bpost_inner_*", "BW*": "bpost_outer_* bpost_inner_*", "BT*": "bpost_outer_* bpost_inner_* cantrail_*",
    "SE*": "heelboard sill_inner_* sill_outer_*", "RH*": "rear_rail_* heelboard", "RK*": "rear_rail_*", "CB*": "cpost_* shelf", "HR*": "header_rear cpost_*",
    "RR*": "rear_rail_* rear_xm", "QR*": "quarter_*", "KC": "scuttle", "TF": "tunnel", "TM": "tunnel", "TR": "tunnel", "HC": "heelboard", "RC": "rear_xm",
}  # fmt: skip
CHECKS = "ATL BBL; ABL BWL; ATL BWL; ATR BBR; ABR BWR; ATR BWR; ABL SEL; ABR SER; ABL BBR; ABR BBL; BBL BBR; ABL ABR; FRL RBR; RHL RRR; ATL HFR; CBL QRR"
#: Pairs for the two stiffnesses, the first that is in counts.
TWIST = [["TW", "FM", "RB"], ["RK", "RH", "SE"]]
BEND = ["ATL", "ATR", "BWL", "BWR"]
#: Posts: their height runs rearward.
_STEEP = 0.85


@dataclass(frozen=True, slots=True, kw_only=True)
class Lump:
    """Something heavy that may be in or out."""

    name: str
    loads: dict[str, float]


ENGINE = Lump(name="Engine and gearbox", loads={"FML": 55.0, "FMR": 55.0, "TF": 45.0})
DOORS = Lump(name="Doors", loads={"ATL": 12.0, "ATR": 12.0, "ABL": 12.0, "ABR": 12.0})


def _sides(text: str) -> list[str]:
    return [text.replace("*", side) for side in "LR"] if "*" in text else [text]


def saloon_nodes() -> dict[str, list[float]]:
    """The nodes by name, as laid out."""
    nodes = {}
    for name, (x, y, z) in NODES.items():
        for each in _sides(name):
            side = -1 if each[-1] == "L" and "*" in name else 1
            nodes[each] = [float(x), float(side * y), float(z)]
    return nodes


def saloon_structure(nodes: dict[str, list[float]] | None = None) -> dict:
    """The whole structure as plain values for ``HoldRequest``: nodes, parts, frames, sheets, home, checks, twist, bend.

    Args: nodes: places in a vehicle's own axes; as laid out by default.
    """
    nodes = nodes or saloon_nodes()
    parts = {each: {"thickness_mm": t} for name, t in THICKNESS_MM.items() for each in _sides(name)}
    frames = [frame for line in MEMBERS.strip().splitlines() for each in _sides(line) for frame in _frames(each, nodes)]
    return {
        "nodes": nodes,
        "parts": parts,
        "frames": frames,
        "sheets": [sheet for line in SHEETS.strip().splitlines() for each in _sides(line) for sheet in _sheets(each)],
        "home": {node: parts_.split() for name, told in HOMES.items() for node, parts_ in zip(_sides(name), _both(told, name), strict=True)},
        "checks": [pair.split() for pair in CHECKS.split("; ")],
        "twist": [[[f"{name}L", f"{name}R"] for name in group] for group in TWIST],
        "bend": list(BEND),
    }


def _both(told: str, name: str) -> list[str]:
    return [told.replace("*", side) for side in "LR"] if "*" in name else [told]


def _frames(line: str, nodes: dict[str, list[float]]) -> list[dict]:
    names, size, walls, *needs = [part.strip() for part in line.split("|")]
    chain = names.split()
    wide, high = (float(v) for v in size.split("x"))
    member = "-".join(chain)
    return [
        {
            "id": f"{a}-{b}",
            "from": a,
            "to": b,
            "member": member,
            "strips": _strips(np.array(nodes[a]), np.array(nodes[b]), wide, high, walls, a),
            "needs": needs[0].split() if needs else [],
        }
        for a, b in zip(chain, chain[1:], strict=False)
    ]


def _strips(start: np.ndarray, end: np.ndarray, wide: float, high: float, walls: str, name: str) -> list[list]:
    """The walls of a member in its own plane, with outboard and upwards turned to where they lie."""
    axes, _ = axes_of(start, end)
    steep, across = abs(axes[0][2]) > _STEEP, abs(axes[0][1]) > 0.7
    side = np.sign((start + end)[1]) or 1.0
    out = np.array([-1.0, 0, 0]) if across else np.array([0, side, 0])
    up = np.array([1.0, 0, 0]) if steep else np.array([0, 0, 1.0])
    sy, sz = (1.0 if axes[1] @ out >= 0 else -1.0), (1.0 if axes[2] @ up >= 0 else -1.0)
    y, z = sy * wide / 2, sz * high / 2
    if walls == "sill":
        hand = name[-1]
        outer, inner = f"sill_outer_{hand}", f"sill_inner_{hand}"
        return [
            [y, -z, y, z, outer], [0, z, y, z, outer], [0, -z, y, -z, outer], [-y, -z, -y, z, inner], [0, z, -y, z, inner], [0, -z, -y, -z, inner],
            [0, -z, 0, z, f"sill_diaph_{hand}"],
        ]  # fmt: skip
    where = {"out": (y, -z, y, z), "inn": (-y, -z, -y, z), "top": (-y, z, y, z), "bot": (-y, -z, y, -z)}
    told = dict(wall.split("=") for wall in walls.split())
    if "all" in told:
        told = dict.fromkeys(where, told["all"])
    return [[*where[wall], part] for wall, part in told.items()]


def _sheets(line: str) -> list[dict]:
    part, faces, *needs = [each.strip() for each in line.split("|")]
    return [{"part": part, "nodes": face.split(), "needs": needs[0].split() if needs else []} for face in faces.split(";")]
