"""The structure of bodies on a separate ladder chassis: the chassis carries, the body sits on it on its mountings. All dimensions are made up."""

from collections.abc import Mapping

from ..shell import cab, tourer
from ..shell.ladder import KICK, RAIL_DEEP, RAIL_TOP, RAIL_WIDE, Places
from .layout import Layout, handed

#: Nodes of the chassis start with one of these: they go with it.
CHASSIS = ("X", "O")
_RAIL_Z = RAIL_TOP - RAIL_DEEP / 2
#: Rail stations keep this much apart, mm, where a mounting and a crossmember share a place.
_APART_MM = 30.0
_MOUNTS = "FMR"

_CHASSIS_MM = {"chassis_rail_*": 2.5} | {f"chassis_x{k}": 2.0 for k in range(1, 6)}
_CHASSIS_MM |= {
    f"{part}_{m.lower()}_*": t for part, t in (("outrigger", 2.0), ("mount", 2.5)) for m in _MOUNTS
}
_CHASSIS_MEMBERS = """
XAL XAR | 90x80 | all=chassis_x1
XCL XCR | 90x80 | all=chassis_x2
XFL XFR | 90x80 | all=chassis_x3
XGL XGR | 90x80 | all=chassis_x4
XHL XHR | 90x80 | all=chassis_x5
XD* OF* | 84x70 | all=outrigger_f_*
XE* OM* | 84x70 | all=outrigger_m_*
XR* OR* | 84x70 | all=outrigger_r_*
"""
_CHASSIS_HOMES = {f"X{k}*": "chassis_rail_*" for k in "ABCDEFGHR"} | {
    f"O{m}*": f"outrigger_{m.lower()}_*" for m in _MOUNTS
}


def _chassis_nodes(p: Places, mounts: list[float]) -> dict[str, tuple[float, float, float]]:
    """Rail stations and the outriggers' ends, for the right side."""
    wb = p.wheelbase
    at = {
        "XA*": p.nose + 110,
        "XB*": 0.0,
        "XC*": 560.0,
        "XF*": wb - 560,
        "XG*": wb + 250,
        "XH*": p.tail - 110,
    }
    at |= dict(zip(("XD*", "XE*", "XR*"), mounts, strict=True))
    nodes: dict[str, tuple[float, float, float]] = {}
    last = -1e9
    for name, x in sorted(at.items(), key=lambda each: each[1]):
        x = max(x, last + _APART_MM)
        nodes[name] = (
            x,
            p.rail_half - RAIL_WIDE / 2 - (40 if x < 0 else 20 if x < 400 else 0),
            _rail_z(p, x),
        )
        last = x
    return nodes | {f"O{m}*": (x, p.half - 132, _RAIL_Z) for m, x in zip(_MOUNTS, mounts, strict=True)}


def _rail_z(p: Places, x: float) -> float:
    """The middle of the rail, over the axle raised by its kick."""
    away = abs(x - p.wheelbase)
    kick = (
        KICK * min(1.0, max(0.0, (620 - away) / 320))
        if x < p.wheelbase
        else max(60.0, KICK * min(1.0, max(0.0, (520 - away) / 220)))
    )
    return _RAIL_Z + kick


def _with_chassis(
    nodes: Mapping[str, tuple[float, float, float]], mounted: tuple[str, str, str], tub: Layout
) -> Layout:
    """A tub's layout together with the chassis under it. Args: mounted: the tub's node stems over the mountings, from the front."""
    rail = " ".join(name for name in nodes if name.startswith("X"))
    mounts = "\n".join(
        f"O{m}* {stem}* | 50x50 | all=mount_{m.lower()}_*" for m, stem in zip(_MOUNTS, mounted, strict=True)
    )
    return Layout(
        thickness_mm=_CHASSIS_MM | dict(tub.thickness_mm),
        members=f"{rail} | {RAIL_WIDE:g}x{RAIL_DEEP:g} | all=chassis_rail_*{_CHASSIS_MEMBERS}{mounts}\n{tub.members.strip()}",
        sheets=tub.sheets, homes=_CHASSIS_HOMES | dict(tub.homes), checks=f"{tub.checks}; XBL XGR; XBR XGL; XAL XFR; XFL XHR",
        twist=(("XB", "XA", *tub.twist[0]), ("XG", "XH", *tub.twist[1])), bend=("XEL", "XER", *tub.bend),
        stands=("XA", "XB", "XC", "XF", "XG", "XH", *tub.stands), usual_stands=("XC", "XG"),
        paths=tub.paths, passing=tub.passing, engine={"XBL": 70.0, "XBR": 70.0, "XCL": 25.0, "XCR": 25.0}, doors=tub.doors,
    )  # fmt: skip


TOURER_TUB = Layout(
    thickness_mm={
        "sill_outer_*": 1.2, "sill_diaph_*": 1.2, "sill_inner_*": 1.2, "floor_*": 1.0, "tunnel": 1.0, "toe_*": 1.0, "seat_xm_*": 1.2, "rear_floor": 1.0,
        "bulkhead": 1.0, "scuttle": 1.0, "scuttle_side_*": 1.0, "footwell_*": 1.0, "apost_outer_*": 1.2, "apost_inner_*": 1.6, "bpost_outer_*": 1.2,
        "lock_post_*": 1.6, "quarter_*": 1.0, "quarter_inner_*": 0.9, "wheelarch_*": 1.0, "boot_floor": 1.0, "rear_panel": 1.0,
    },
    members="""
BK* AB* SM* BB* SE* | 90x86 | sill
AB* AT* | 80x90 | out=apost_outer_* top=apost_outer_* bot=apost_outer_* inn=apost_inner_*
BK* BH* | 60x60 | out=footwell_* top=footwell_* bot=bulkhead inn=footwell_*
BH* AT* | 60x90 | out=scuttle_side_* top=scuttle inn=scuttle_side_* bot=scuttle_side_*
BHL KC BHR | 130x110 | all=scuttle
BB* BT* | 70x90 | out=bpost_outer_* top=bpost_outer_* bot=lock_post_* inn=lock_post_*
BT* DQ* QR* | 45x60 | out=quarter_* top=quarter_* inn=quarter_inner_* bot=quarter_inner_*
SE* DQ* | 60x60 | all=wheelarch_*
RH* RR* | 50x60 | out=boot_floor inn=boot_floor bot=boot_floor
RR* QR* | 50x60 | out=quarter_* bot=rear_panel inn=quarter_inner_*
QRL QRR | 50x40 | out=rear_panel inn=rear_panel top=rear_panel
RRL RRR | 60x50 | out=boot_floor inn=boot_floor bot=boot_floor
SEL RHL HC RHR SER | 80x80 | all=rear_floor
TF TM TR HC | 220x120 | out=tunnel inn=tunnel top=tunnel
SML TM | 70x60 | out=seat_xm_L inn=seat_xm_L top=seat_xm_L bot=floor_L | sill_inner_L
TM SMR | 70x60 | out=seat_xm_R inn=seat_xm_R top=seat_xm_R bot=floor_R | sill_inner_R
BKL TF | 80x80 | out=toe_L inn=toe_L top=toe_L bot=floor_L
TF BKR | 80x80 | out=toe_R inn=toe_R top=toe_R bot=floor_R
""",
    sheets="""
floor_* | BK* SM* TM TF; SM* BB* TR TM; BB* SE* RH*; BB* RH* TR; RH* HC TR | sill_inner_*
bulkhead | BKL TF KC BHL; BKR TF KC BHR
footwell_* | BK* AB* AT* BH*
quarter_* | BB* SE* BT*; SE* DQ* BT*; DQ* QR* RR*
wheelarch_* | SE* RH* DQ*; RH* RR* DQ*
boot_floor | RHL HC RRL; HC RHR RRR; HC RRR RRL; RRL RC QRL; RRR RC QRR; RRL RRR RC
rear_panel | RC QRR QRL
""",
    homes={
        "BK*": "toe_* footwell_*", "BH*": "scuttle footwell_*", "KC": "scuttle", "AB*": "apost_outer_* apost_inner_*", "AT*": "apost_outer_* apost_inner_*",
        "SM*": "sill_inner_* sill_outer_*", "BB*": "bpost_outer_* lock_post_*",
        "BT*": "bpost_outer_* lock_post_*", "SE*": "rear_floor sill_inner_* sill_outer_*",
        "RH*": "rear_floor", "HC": "rear_floor", "DQ*": "quarter_* quarter_inner_*", "QR*": "quarter_* rear_panel",
        "RR*": "boot_floor", "RC": "boot_floor rear_panel",
        "TF": "tunnel", "TM": "tunnel", "TR": "tunnel",
    },
    checks="AT* BB*; AB* BT*; AT* BT*; AB* SE*; ABL BBR; ABR BBL; BBL BBR; ABL ABR; BTL BTR; RHL RRR; DQL QRR",
    twist=(("AB", "BK"), ("SE", "RH", "RR")), bend=("SML", "SMR"), stands=("BK", "SM", "BB", "RH", "RR"), usual_stands=("BK", "RR"),
    paths="AB* AT* | A-post, from the sill to the door's hinges; BB* BT* | B-post, from the sill to the lock",
    doors={"ATL": 9.0, "ATR": 9.0, "ABL": 9.0, "ABR": 9.0},
)  # fmt: skip


def tourer_body(sizes: Mapping[str, float], *, on_chassis: bool) -> tuple[Layout, dict[str, list[float]]]:
    """An open tourer's layout and its nodes. Raises: BadField for dimensions that cannot go together."""
    p = tourer.places(dict(sizes))
    mounts = tourer.mounts(p)
    h, w, deck = p.half, p.waist, p.waist - 60
    low, mid = max(p.sill_bottom + 20, RAIL_TOP - 12), (p.sill_bottom + p.sill_top) / 2
    tub = {
        "BK*": (mounts[0], h - 132, low), "BH*": (p.bulkhead + 20, h * 0.86, w), "KC": (p.bulkhead, 0, w), "AB*": (p.door_front - 36, h - 90, mid),
        "AT*": (p.door_front - 36, h - 60, w - 12), "SM*": (mounts[1], h - 132, low), "BB*": (p.door_rear + 34, h - 90, mid),
        "BT*": (p.door_rear + 34, h - 60, w - 70),
        "SE*": (p.rear_arch_front - 10, h - 90, mid), "RH*": (p.rear_arch_front + 30, h - 236, mid + 40), "HC": (p.rear_arch_front + 30, 0, mid + 60),
        "DQ*": (p.wheelbase, h - 60, deck - 10), "RR*": (mounts[2], h - 132, low + 40), "QR*": (p.tail - 50, h * 0.66, deck - 240),
        "RC": (p.tail - 50, 0, low + 60),
        "TF": (mounts[0], 0, low + 60), "TM": (mounts[1], 0, low + 60), "TR": (p.door_rear + 34, 0, low + 60),
    }  # fmt: skip
    return _together(p, mounts, tub, ("BK", "SM", "RR"), TOURER_TUB, on_chassis)


CAB_TUB = Layout(
    thickness_mm={
        "sill_outer_*": 1.2, "sill_diaph_*": 1.5, "sill_inner_*": 1.2, "floor_*": 1.0, "tunnel": 1.0, "toe_*": 1.0, "seat_xm_*": 1.2, "bulkhead": 1.0,
        "scuttle": 1.0, "footwell_*": 1.0, "apost_outer_*": 1.2, "apost_inner_*": 1.6, "cantrail_*": 1.2, "header_front": 1.0, "bpost_inner_*": 1.0,
        "lock_post_*": 1.5, "cab_side_*": 1.0, "corner_*": 1.0, "corner_gusset_*": 1.2, "back": 1.0, "roof": 0.9,
    },
    members="""
BK* AB* SM* BB* CR* | 90x96 | sill
AB* AT* | 80x90 | out=apost_outer_* top=apost_outer_* bot=apost_outer_* inn=apost_inner_*
AT* HF* | 50x60 | all=apost_outer_*
HF* BT* CT* | 45x45 | all=cantrail_*
HFL HFR | 50x40 | all=header_front
CTL CTR | 60x40 | out=roof inn=roof bot=back
BB* BW* | 60x84 | out=cab_side_* top=lock_post_* bot=lock_post_* inn=bpost_inner_*
BW* BT* | 50x70 | out=cab_side_* top=lock_post_* bot=lock_post_* inn=bpost_inner_*
CR* CW* | 70x70 | out=corner_* top=back bot=corner_gusset_* inn=corner_gusset_*
CW* CT* | 60x60 | out=cab_side_* top=back bot=cab_side_* inn=back
BW* CW* | 45x50 | out=cab_side_* top=cab_side_* bot=cab_side_*
CRL BC CRR | 60x60 | out=back inn=back top=back bot=back
CWL CWR | 50x40 | all=back
ATL KC ATR | 120x90 | all=scuttle
TF TM BC | 240x120 | out=tunnel inn=tunnel top=tunnel
SML TM | 70x60 | out=seat_xm_L inn=seat_xm_L top=seat_xm_L bot=floor_L | sill_inner_L
TM SMR | 70x60 | out=seat_xm_R inn=seat_xm_R top=seat_xm_R bot=floor_R | sill_inner_R
BKL TF | 80x80 | out=toe_L inn=toe_L top=toe_L bot=floor_L
TF BKR | 80x80 | out=toe_R inn=toe_R top=toe_R bot=floor_R
""",
    sheets="""
floor_* | BK* SM* TM TF; SM* BB* BC TM; BB* CR* BC | sill_inner_*
bulkhead | BKL TF KC ATL; BKR TF KC ATR
footwell_* | BK* AB* AT*
cab_side_* | BB* CR* CW* BW*
roof | HFL HFR BTR BTL; BTL BTR CTR CTL
back | CRL BC CWL; CRR BC CWR; BC CWR CWL
""",
    homes={
        "BK*": "toe_* footwell_*", "KC": "scuttle", "AB*": "apost_outer_* apost_inner_*", "AT*": "apost_outer_* apost_inner_*",
        "HF*": "apost_outer_* header_front",
        "SM*": "sill_inner_* sill_outer_*", "BB*": "lock_post_* bpost_inner_*", "BW*": "lock_post_* bpost_inner_*", "BT*": "lock_post_* cantrail_*",
        "CR*": "corner_* back", "CW*": "back cab_side_*", "CT*": "back cantrail_*", "BC": "back", "TF": "tunnel", "TM": "tunnel",
    },
    checks="AT* BB*; AB* BW*; AT* BW*; HF* BB*; ABL BBR; ABR BBL; BBL BBR; ABL ABR; CRL CWR; CRR CWL; HFL CTR",
    twist=(("AB", "BK"), ("CR", "CW")), bend=("SML", "SMR"), stands=("BK", "SM", "BB", "CR"), usual_stands=("BK", "CR"),
    paths="AB* AT* | A-post, from the sill to the door's hinges; AT* HF* | screen pillar, from the scuttle to the roof; "
    "BB* BW* BT* | B-post, from the sill to the roof; CR* CW* CT* | back corner, from the floor to the roof",
    doors={"ATL": 13.0, "ATR": 13.0, "ABL": 13.0, "ABR": 13.0},
)  # fmt: skip


def cab_body(sizes: Mapping[str, float], *, on_chassis: bool) -> tuple[Layout, dict[str, list[float]]]:
    """A light truck cab's layout and its nodes. Raises: BadField for dimensions that cannot go together."""
    p = cab.places(dict(sizes))
    mounts = cab.mounts(p)
    h, w, top, d0, d1, back = p.half, p.waist, p.top, p.door_front, p.door_rear, p.body_rear
    low, mid = max(p.sill_bottom + 20, RAIL_TOP - 12), (p.sill_bottom + p.sill_top) / 2
    tub = {
        "BK*": (mounts[0], h - 132, low), "KC": (d0 - 80, 0, w - 20), "AB*": (d0 - 36, h - 90, mid), "AT*": (d0 - 60, h - 60, w - 12),
        "HF*": (d0 + 190, h - 150, top - 60), "SM*": (mounts[1], h - 132, low), "BB*": (d1 + 40, h - 90, mid), "BW*": (d1 + 40, h - 60, w),
        "BT*": (d1 + 10, h - 140, top - 90), "CR*": (mounts[2], h - 132, low), "CW*": (back - 25, h - 80, w), "CT*": (back - 70, h - 160, top - 60),
        "BC": (back - 40, 0, low + 40), "TF": (mounts[0], 0, low + 60), "TM": (mounts[1], 0, low + 60),
    }  # fmt: skip
    return _together(p, mounts, tub, ("BK", "SM", "CR"), CAB_TUB, on_chassis)


def _together(
    p: Places, mounts: list[float], tub: dict, mounted: tuple[str, str, str], layout: Layout, on_chassis: bool
) -> tuple[Layout, dict[str, list[float]]]:
    if not on_chassis:
        return layout, handed(tub)
    chassis = _chassis_nodes(p, mounts)
    return _with_chassis(chassis, mounted, layout), handed(chassis | tub)
