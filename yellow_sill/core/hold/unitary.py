"""The structure of unitary bodies, saloon and estate: nodes, members, sheets and which parts they are made of. All dimensions are made up."""

from dataclasses import replace

from .layout import Layout, handed, structure_of_layout

#: Nodes as laid out, mm: x from the rail's tip aft, y off the centre line, z up. ``*`` nodes exist left (y below 0) and right.
NODES = {
    "FR*": (60, 400, 340), "FM*": (650, 400, 340), "TW*": (650, 540, 720), "FW*": (60, 540, 640), "RB*": (1120, 400, 240), "AB*": (1180, 640, 200),
    "AT*": (1180, 630, 820), "HF*": (1560, 520, 1280), "SM*": (1680, 640, 200), "BB*": (2200, 640, 200), "BW*": (2220, 640, 820), "BT*": (2180, 530, 1300),
    "SE*": (2470, 640, 200), "RH*": (2470, 450, 240), "RK*": (2950, 450, 430), "CB*": (3020, 600, 840), "HR*": (2720, 510, 1250), "RR*": (3640, 450, 400),
    "QR*": (3640, 590, 760), "KC": (1180, 0, 820), "TF": (1180, 0, 330), "TM": (1680, 0, 300), "TR": (2200, 0, 300), "HC": (2470, 0, 300), "RC": (3640, 0, 400),
}  # fmt: skip
_THICKNESS_MM = {
    "sill_outer_*": 0.9, "sill_diaph_*": 0.9, "sill_inner_*": 1.2, "floor_*": 0.9, "tunnel": 1.0, "seat_xm_*": 1.2, "toe_xm_*": 1.2, "heelboard": 1.0,
    "bulkhead": 0.9, "scuttle": 0.9, "apost_outer_*": 0.9, "apost_inner_*": 1.2, "screen_pillar_*": 1.0, "bpost_outer_*": 0.9, "bpost_inner_*": 0.9,
    "cantrail_*": 0.8, "header_front": 0.8, "header_rear": 0.8, "roof": 0.8, "cpost_*": 0.8, "waist_*": 0.8, "quarter_*": 0.8, "front_panel": 0.8,
    "boot_floor": 0.8, "seat_pan": 0.8, "seat_back": 0.8, "shelf": 0.8, "rear_panel": 0.8, "wheelarch_*": 0.9, "front_rail_*": 1.6, "inner_wing_*": 0.9,
    "front_xm": 1.2, "slam": 1.0, "rear_rail_*": 1.4, "rear_xm": 1.0,
}  # fmt: skip
_MEMBERS = """
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
_SHEETS = """
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
_HOMES = {
    "FR*": "front_rail_*", "FM*": "front_rail_*", "TW*": "inner_wing_*", "FW*": "inner_wing_*", "RB*": "front_rail_* toe_xm_*",
    "AB*": "apost_outer_* apost_inner_*", "AT*": "apost_outer_* apost_inner_*", "HF*": "screen_pillar_* header_front", "SM*": "sill_inner_* sill_outer_*",
    "BB*": "bpost_outer_* bpost_inner_*", "BW*": "bpost_outer_* bpost_inner_*", "BT*": "bpost_outer_* bpost_inner_* cantrail_*",
    "SE*": "heelboard sill_inner_* sill_outer_*", "RH*": "rear_rail_* heelboard", "RK*": "rear_rail_*", "CB*": "cpost_* shelf", "HR*": "header_rear cpost_*",
    "RR*": "rear_rail_* rear_xm", "QR*": "quarter_*", "KC": "scuttle", "TF": "tunnel", "TM": "tunnel", "TR": "tunnel", "HC": "heelboard", "RC": "rear_xm",
}  # fmt: skip
SALOON = Layout(
    thickness_mm=_THICKNESS_MM, members=_MEMBERS, sheets=_SHEETS, homes=_HOMES,
    checks="ATL BBL; ABL BWL; ATL BWL; ATR BBR; ABR BWR; ATR BWR; ABL SEL; ABR SER; ABL BBR; ABR BBL; BBL BBR; ABL ABR; FRL RBR; RHL RRR; ATL HFR; CBL QRR",
    twist=(("TW", "FM", "RB"), ("RK", "RH", "SE")), bend=("ATL", "ATR", "BWL", "BWR"),
    stands=("FM", "RB", "SE", "RH", "RK", "RR"), usual_stands=("RB", "RH"),
    paths="AB* AT* | A-post, from the sill to the door's hinges; AT* HF* | screen pillar, from the scuttle to the roof; "
    "BB* BW* BT* | B-post, from the sill to the roof; CB* HR* | C-post, from the arch to the roof",
    engine={"FML": 55.0, "FMR": 55.0, "TF": 45.0}, doors={"ATL": 12.0, "ATR": 12.0, "ABL": 12.0, "ABR": 12.0},
)  # fmt: skip

#: Estate: the roof runs on to a tailgate; no shelf and no seat back close the box behind the seats.
ESTATE_NODES = NODES | {"DT*": (3500, 505, 1235)}
_GONE = (
    "CBL CBR",
    "QRL QRR",
    "HRL HRR",
    "HF* BT*",
    "RR* QR*",
    "RRL RC RRR",
    "seat_back",
    "roof",
    "rear_panel",
)
_kept = lambda table: "\n".join(line for line in table.strip().splitlines() if not line.startswith(_GONE))  # noqa: E731
ESTATE = replace(
    SALOON,
    thickness_mm={name: t for name, t in _THICKNESS_MM.items() if name not in ("shelf", "seat_back")} | {"dpost_*": 0.9},
    members=_kept(_MEMBERS) + """
HF* BT* HR* DT* | 45x45 | all=cantrail_*
HRL HRR | 60x20 | out=roof inn=roof bot=roof
DTL DTR | 50x40 | all=header_rear
RR* QR* | 60x70 | out=dpost_* top=dpost_* inn=dpost_* bot=rear_panel
QR* DT* | 60x60 | all=dpost_*
RRL RC RRR | 60x90 | out=rear_panel inn=rear_xm bot=rear_xm top=boot_floor
""",
    sheets=_kept(_SHEETS) + """
roof | HFL HFR BTR BTL; BTL BTR HRR HRL; HRL HRR DTR DTL
rear_panel | RR* RC QR*
""",
    homes=_HOMES | {"CB*": "cpost_* quarter_*", "HR*": "cantrail_* cpost_*", "QR*": "quarter_* dpost_*", "DT*": "dpost_* header_rear"},
    checks=SALOON.checks.replace("CBL QRR", "DTL QRR; DTR QRL; QRL QRR"), paths=f"{SALOON.paths}; QR* DT* | D-post, from the quarter to the roof",
)  # fmt: skip

#: Rear-engined saloon: the bay behind the axle has no floor, its rails and crossmember carry the engine, a luggage tub lies before the bulkhead.
REAR_ENGINE = replace(
    SALOON,
    members=_MEMBERS.replace("bot=rear_rail_* top=boot_floor", "bot=rear_rail_* top=rear_rail_*")
    .replace("bot=rear_xm top=boot_floor", "bot=rear_xm top=rear_xm")
    .replace("bot=seat_pan top=boot_floor", "bot=seat_pan top=seat_pan"),
    sheets="\n".join(line for line in _SHEETS.strip().splitlines() if not line.startswith("boot_floor")),
    engine={"RRL": 60.0, "RRR": 60.0, "RKL": 20.0, "RKR": 20.0},
)

#: Roadster: nothing above the waist carries.
ROADSTER_NODES = {name: at for name, at in NODES.items() if name not in ("HF*", "BT*", "HR*")}
ROADSTER = replace(SALOON, homes=_HOMES | {"CB*": "wheelarch_* shelf"})

#: Four-door saloon: a rear door where the quarter's front was; the C-post is a box of its own, and the doors are four.
_c_post = lambda text: text.replace("cpost_*", "cpost_box_*")  # noqa: E731
FOUR_DOOR = replace(
    SALOON,
    thickness_mm={_c_post(name): t for name, t in _THICKNESS_MM.items() if name != "waist_*"},
    members=_c_post("\n".join(line for line in _MEMBERS.strip().splitlines() if not line.startswith("BW* CB*"))),
    sheets=_SHEETS.replace("quarter_* | BB* SE* BW*; SE* CB* BW*; CB* QR* RR* RK*", "quarter_* | CB* QR* RR* RK*"),
    homes={node: _c_post(told) for node, told in _HOMES.items()},
    doors=dict(SALOON.doors) | {"BWL": 10.0, "BWR": 10.0, "BBL": 10.0, "BBR": 10.0},
)  # fmt: skip


def saloon_nodes() -> dict[str, list[float]]:
    """The nodes by name, as laid out."""
    return handed(NODES)


def saloon_structure() -> dict:
    """The saloon as laid out, as plain values for ``HoldRequest``."""
    return structure_of_layout(SALOON, saloon_nodes())
