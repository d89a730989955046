"""Welding and protection of the demo: the sill end in the middle of its welding, a settings book, a bottle, coats and their clocks, a box about to close."""

from datetime import date, datetime, timedelta
from typing import Any

from django.utils import timezone

from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.sheet_services import step_sheet
from yellow_sill.web.protect.closing_services import box_of, keep_box
from yellow_sill.web.protect.face_services import put_coat, say_face
from yellow_sill.web.protect.product_services import keep_product, say_warmth
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.weld.book_services import keep_coupon
from yellow_sill.web.weld.hot_services import begin, end_watch, last_spark, to_move
from yellow_sill.web.weld.joint_services import joint_made, joints_of, say_joint
from yellow_sill.web.weld.services import weld_of
from yellow_sill.web.weld.shop_services import keep_shop, read_bottle
from yellow_sill.web.weld.step_services import record_tack

from .made_up import OWNER

#: Tried on scrap: sheets, joint, dials, what became of it, days ago.
COUPONS: tuple[dict[str, Any], ...] = (
    {"process": "mig", "joint": "butt", "thicknesses_mm": [1.0], "gap_mm": 0.8, "wire_mm": 0.6, "dials": {"Current": "42 A", "Feed": "3.0 m/min", "Tack": "0.8 s"}, "result": "held", "note": "Bent flat both ways, no crack", "ago": 178},
    {"process": "mig", "joint": "plug", "thicknesses_mm": [1.0, 1.2], "gap_mm": None, "wire_mm": 0.6, "dials": {"Current": "58 A", "Feed": "4.1 m/min", "Tack": "1.5 s"}, "result": "held", "note": "Peeled: the plug tore out of the lower sheet", "ago": 68},
    {"process": "mig", "joint": "butt", "thicknesses_mm": [1.2], "gap_mm": 1.0, "wire_mm": 0.6, "dials": {"Current": "58 A", "Feed": "4.2 m/min", "Tack": "0.8 s"}, "result": "blew", "note": "Two of five through", "ago": 66},
    {"process": "mig", "joint": "butt", "thicknesses_mm": [1.2], "gap_mm": 1.0, "wire_mm": 0.6, "dials": {"Current": "50 A", "Feed": "3.6 m/min", "Tack": "0.7 s"}, "result": "held", "note": "Full, flat behind", "ago": 66},
)  # fmt: skip
#: Tacks of the inner sill that are behind, and the one that blew through.
TACKS, BLOWN = 13, 6
#: The converter was put on so many hours ago, at this temperature its tin says 48 h.
CONVERTED_H = 31


def shop(vehicle: Vehicle, today: date) -> None:
    """Coupons, stock, a bottle, products, and how warm the garage is."""
    for row in COUPONS:
        values = {name: value for name, value in row.items() if name != "ago"} | {
            "made_on": today - timedelta(row["ago"])
        }
        keep_coupon(vehicle, values, photo=None, stored=None, version=None, by=OWNER)
    stock = {"wire": 0.6, "discs": 6.0, "drill bits": 2.0, "contact tips": 3.0}
    keep_shop(
        vehicle, {"stock": stock, "welder": {}, "bottle_l": 800.0, "full_bar": 200.0}, version=None, by=OWNER
    )
    for bar, ago in ((200, 178), (64, 60), (21, 2)):
        read_bottle(vehicle, bar, on=today - timedelta(ago), today=today, by=OWNER)
    now = timezone.now()
    for at_c, days in ((14.0, 190), (20.0, 3)):
        say_warmth(vehicle, at_c, since=now - timedelta(days=days), now=now, by=OWNER)
    tin = {
        "name": "Grey epoxy, two-part", "kind": "epoxy primer", "over": ["bare", "weld-through primer", "converter", "epoxy primer"],
        "opens": [{"at_c": 10.0, "hours": 8.0}, {"at_c": 20.0, "hours": 3.0}], "closes": [{"at_c": 20.0, "hours": 96.0}],
        "cured": [{"at_c": 20.0, "hours": 168.0}], "least_c": 8.0, "litre_m2": 7.0, "burns_c": 200.0, "weld_through": False, "isocyanate": False,
        "shelf_months": 24, "bought_on": today - timedelta(70), "litres": 0.9,
    }  # fmt: skip
    keep_product(vehicle, tin, stored=None, version=None, by=OWNER)


def in_the_middle(sill: Repair, today: date) -> None:
    """The sill end: its inner sheet half welded, its inside painted, the converter on its run."""
    days = {"made": 8, "fitted": 4}
    for sheet in ("L-SILLI", "L-SILLM"):
        cut = sill.cuts.get(panel__code=sheet)
        for state, ago in days.items():
            step_sheet(cut, state, seen=None, made_on=today - timedelta(ago), by=OWNER, today=today)
    inner = sill.cuts.get(panel__code="L-SILLI")
    _hot(sill.vehicle)
    _tacks(inner)
    _joints(sill, today)
    _coats(sill, inner, today)


def _hot(vehicle: Vehicle) -> None:
    """Yesterday's session, watched to its end."""
    start = timezone.now() - timedelta(days=1, hours=3)
    moved = [each.key for each in to_move(vehicle)]
    ticks = ["watch", "extinguisher", "tank", "foam", "fume", "battery"]
    work = begin(vehicle, ticks, moved, now=start, by=OWNER)
    last_spark(work, now=start + timedelta(minutes=38), by=OWNER)
    end_watch(work, watched_by=OWNER, note="", now=start + timedelta(minutes=104), by=OWNER)


def _tacks(cut: Cut) -> None:
    """Thirteen tacks, one of them blown through and put right."""
    weld = weld_of(cut)
    planned = weld.tack_plans[0]["tacks"]
    at = datetime.now() - timedelta(days=1, hours=3)  # noqa: DTZ005 - the garage's own clock
    for n in range(1, min(TACKS, len(planned)) + 1):
        at += timedelta(seconds=11 + planned[n - 1]["wait_s"])
        record_tack(cut, 0, n, "blown" if n == BLOWN else "done", now=at, by=OWNER)
    record_tack(cut, 0, BLOWN, "again", now=at + timedelta(seconds=40), by=OWNER)


def _joints(sill: Repair, today: date) -> None:
    """What is known of the inner sheet's joints; its plug row is made."""
    for joint in joints_of(sill).joints:
        if joint.sheet.told.name != "L-SILLI":
            continue
        if joint.told.kind == "plug row":
            joint_made(
                joint.sheet.cut,
                joint.at,
                made_on=today - timedelta(1),
                how="58 A, 1.5 s, as coupon 2",
                by=OWNER,
                today=today,
            )
        else:
            word = {
                "process": "",
                "both_sides": True,
                "from_side": "the cabin",
                "fixes_datum": False,
                "made_brazed": False,
                "tight_end": "",
            }
            say_joint(joint.sheet.cut, joint.at, word, version=None, by=OWNER)


def _coats(sill: Repair, inner: Cut, today: date) -> None:
    """The inner sheet's inside is painted, the membrane's converter runs, the skin's inside is bare; a pocket holds water."""
    now = timezone.now()
    say_face(
        inner,
        "outer",
        surface="cavity",
        metal="bright",
        bared_on=today - timedelta(9),
        version=None,
        by=OWNER,
        today=today,
    )
    put_coat(
        sill,
        inner,
        ["outer"],
        "Grey epoxy, two-part",
        put_on=now - timedelta(days=2, hours=20),
        note="before it was offered up",
        now=now,
        by=OWNER,
    )
    membrane = sill.cuts.get(panel__code="L-SILLM")
    say_face(
        membrane,
        "inner",
        surface="cavity",
        metal="tight rust",
        bared_on=today - timedelta(9),
        version=None,
        by=OWNER,
        today=today,
    )
    put_coat(
        sill,
        membrane,
        ["inner"],
        "Rust converter",
        put_on=now - timedelta(hours=CONVERTED_H),
        note="",
        now=now,
        by=OWNER,
    )
    skin = sill.cuts.get(panel__code="L-SILL")
    say_face(
        skin,
        "inner",
        surface="cavity",
        metal="bright",
        bared_on=today - timedelta(9),
        version=None,
        by=OWNER,
        today=today,
    )
    _box(sill)


def _box(sill: Repair) -> None:
    """What is known of the box that the skin will close."""
    box = box_of(sill, timezone.now())
    assert box is not None
    pockets = [
        {"name": "behind the jacking point", "to": [], "litres": 0.3},
        {"name": "front end", "to": ["drain at the front"], "litres": 0.1},
        {"name": "drain at the front", "to": ["outside"], "litres": 0.0},
    ]
    still = [
        {"what": "Dress the membrane's seam from behind", "tool": "dolly", "reaches": False},
        {"what": "Wax the front end", "tool": "lance", "reaches": True},
    ]
    cavity = box.cavity.code if box.cavity else ""
    keep_box(
        sill, {"cavity": cavity, "pockets": pockets, "poured": [], "still": still}, version=None, by=OWNER
    )
