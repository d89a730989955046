"""What the demo's owner wants: some on the way, one late, one that came of the wrong hand and went back, one quoted thrice; all made up."""

from datetime import date, timedelta
from typing import Any

from yellow_sill.web.parts.need_services import choose, go_on, keep_need, keep_quote
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .made_up import OWNER

#: Name, hand, place on the left side (mm) or None, needed in so many days or None, variant, sizes, whether for the sill,
#: quotes (from whom, source, price, more), which is taken (0: none) and why, steps (state, days ago, why).
NEEDS: tuple[tuple[Any, ...], ...] = (
    ("Outer sill", "left", (1300, 250), 21, "two-door body", "1,480 mm from arch to wing, two drain holes", True, (
        ("Lantern Panels", "reproduction", "148.00", {"carriage": "18.50", "days": 9, "fit_h": 3.5, "back": "18.50", "back_in": 30}),
        ("Old Tin Barn", "nos", "262.00", {"carriage": "0", "days": 4, "fit_h": 0.5, "grade": "shelf rust", "back": "0"}),
        ("Cut from sheet myself", "made", "41.00", {"days": 2, "hours": 9, "back": "0"})), 0, "", (("quoted", 4, ""),)),
    ("Front wing", "left", (150, 620), 40, "early lamp ring", "bolt row of nine", False, (
        ("North Gate Parts", "reproduction", "231.00", {"currency": "EUR", "rate": "0.86", "carriage": "35", "days": 8, "back": "35", "back_in": 11}),
        ("Harbour Breakers", "used", "120.00", {"carriage": "30", "days": 5, "lacks": ["splash plate bracket"]})), 2, "the first one came of the wrong hand",
        (("quoted", 60, ""), ("ordered", 58, ""), ("arrived", 44, ""), ("returned", 42, "it was a right one"), ("quoted", 41, ""), ("ordered", 40, ""), ("arrived", 33, ""))),
    ("Mud flap", "left", (600, 300), None, "", "", False, (), 0, "", ()),
    ("Rear arch repair section", "left", (2650, 560), 60, "", "radius 340 mm", False, (
        ("Lantern Panels", "reproduction", "74.00", {"carriage": "12", "days": 9, "late_days": 16}),), 1, "", (("quoted", 25, ""), ("ordered", 24, ""))),
    ("Door seal", "left", (1200, 640), 12, "", "4.2 m", False, (("Mill Lane Trim", "reproduction", "506.00", {"currency": "SEK", "rate": "0.075"}),), 0, "", ()),
    ("Powder coat of the subframe", "", None, 90, "", "1,100 x 700 mm", False, (("North Gate Plating", "refurbished", "180.00", {"days": 14}),), 1, "", (("quoted", 12, ""), ("ordered", 9, ""))),
    ("Jacking point", "left", (980, 190), None, "", "3 mm plate", True, (("Cut from sheet myself", "made", "6.00", {"days": 1, "hours": 2.5}),), 1, "",
        (("quoted", 120, ""), ("ordered", 119, ""), ("arrived", 118, ""), ("checked", 118, ""), ("fitted", 95, ""))),
)  # fmt: skip


def wanted(vehicle: Vehicle, sill: Repair, today: date) -> None:
    """Every need with its quotes, the one that was taken and its steps."""
    left = vehicle.views.get(name="left")
    for name, hand, at, needed, variant, sizes, for_sill, quotes, take, reason, steps in NEEDS:
        values = {
            "name": name, "hand": hand, "variant": variant, "sizes": sizes, "needed_by": today + timedelta(needed) if needed else None,
            "view": left if at else None, "at": [float(each) for each in at or ()], "repair": sill if for_sill else None,
        }  # fmt: skip
        first = max((ago for _, ago, _ in steps), default=2) + 3
        need = keep_need(
            vehicle, values, photo=None, stored=None, version=None, today=today - timedelta(first), by=OWNER
        )
        for who, source, price, more in quotes:
            told = {key: value for key, value in more.items() if key != "back_in"}
            told |= {"back_until": today + timedelta(more["back_in"])} if "back_in" in more else {}
            keep_quote(
                need,
                {"name": who, "source": source, "price": price, "currency": "GBP"} | told,
                stored=None,
                version=None,
                by=OWNER,
            )
        if take:
            choose(need, take, reason, best=quotes[take - 1][0] if not reason else "", by=OWNER)
        for state, ago, why in steps:
            day = today - timedelta(ago)
            go_on(need, state, day=day, today=today, why=why, by=OWNER)
