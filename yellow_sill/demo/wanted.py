"""What the demo's owner wants: some on the way, one late, one that came of the wrong hand and went back, one quoted thrice; all made up."""

from datetime import date, timedelta
from typing import Any

from yellow_sill.web.parts.arrival_services import keep_check
from yellow_sill.web.parts.models import Need
from yellow_sill.web.parts.need_services import choose, go_on, keep_need, keep_quote
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .made_up import OWNER

#: Name, hand, place on the left side (mm) or None, needed in so many days or None, variant, sizes, whether for the sill,
#: quotes (from whom, source, price, more), which is taken (0: none) and why, steps (state, days ago, why), checks of what came by days ago.
NEEDS: tuple[tuple[Any, ...], ...] = (
    ("Outer sill", "left", (1300, 250), 21, "two-door body", "1,480 mm from arch to wing, two drain holes", True, (
        ("Lantern Panels", "reproduction", "148.00", {"carriage": "18.50", "days": 9, "fit_h": 3.5, "back": "18.50", "back_in": 30}),
        ("Old Tin Barn", "nos", "262.00", {"carriage": "0", "days": 4, "fit_h": 0.5, "grade": "shelf rust", "back": "0"}),
        ("Cut from sheet myself", "made", "41.00", {"days": 2, "hours": 9, "back": "0"})), 0, "", (("quoted", 4, ""),)),
    ("Front wing", "left", (150, 620), 40, "early lamp ring", "bolt row of nine", False, (
        ("North Gate Parts", "reproduction", "231.00", {"currency": "EUR", "rate": "0.86", "carriage": "35", "days": 8, "back": "35", "back_in": 11}),
        ("Harbour Breakers", "used", "120.00", {"carriage": "30", "days": 5, "lacks": ["splash plate bracket"]})), 2, "the first one came of the wrong hand",
        (("quoted", 60, ""), ("ordered", 58, ""), ("arrived", 44, ""), ("returned", 42, "it was a right one"), ("quoted", 41, ""), ("ordered", 40, ""), ("arrived", 33, "")),
        {44: {"came": "right", "sizes": [{"what": "Length", "wanted": 1120, "came": 1120.5}]},
         32: {"came": "left", "sizes": [{"what": "Length", "wanted": 1120, "came": 1121}, {"what": "Height at the lamp", "wanted": 410, "came": 413}], "ribs_off": 1.0,
              "bow": 1.5, "missing": ["splash plate bracket"], "coating": "transport"}}),
    ("Mud flap", "left", (600, 300), None, "", "", False, (), 0, "", ()),
    ("Rear arch repair section", "left", (2650, 560), 60, "", "radius 340 mm", False, (
        ("Lantern Panels", "reproduction", "74.00", {"carriage": "12", "days": 9, "late_days": 16}),), 1, "", (("quoted", 25, ""), ("ordered", 24, ""))),
    ("Door seal", "left", (1200, 640), 12, "", "4.2 m", False, (("Mill Lane Trim", "reproduction", "506.00", {"currency": "SEK", "rate": "0.075"}),), 0, "", ()),
    ("Powder coat of the subframe", "", None, 90, "", "1,100 x 700 mm", False, (("North Gate Plating", "refurbished", "180.00", {"days": 14}),), 1, "", (("quoted", 12, ""), ("ordered", 9, ""))),
    ("Jacking point", "left", (980, 190), None, "", "3 mm plate", True, (("Cut from sheet myself", "made", "6.00", {"days": 1, "hours": 2.5}),), 1, "",
        (("quoted", 120, ""), ("ordered", 119, ""), ("arrived", 118, ""), ("checked", 118, "cut by myself to the drawing"), ("fitted", 95, ""))),
)  # fmt: skip


#: A check of what came that nothing is wrong with.
FINE = {
    "came": "",
    "sizes": [{"what": "Length", "wanted": 400, "came": 400.5}],
    "ribs": False,
    "bow": 0.5,
    "missing": [],
    "coating": "electrocoat",
}
#: Many small needs: name, hand, place on the left side or None, whose quote, source, price, state, days since, more of the quote.
MORE: tuple[tuple[Any, ...], ...] = (
    ("Front wing", "right", None, "Lantern Panels", "reproduction", "238.00", "quoted", 20, {"fit_h": 3}),
    ("Inner sill", "left", (1300, 260), "Lantern Panels", "reproduction", "92.00", "fitted", 60, {}),
    ("Sill end closing piece", "left", (2150, 240), "Lantern Panels", "reproduction", "14.50", "fitted", 58, {}),
    ("Outrigger", "left", (900, 210), "Old Tin Barn", "nos", "61.00", "fitted", 140, {"grade": "shelf rust"}),
    ("Floor pan repair section", "left", (1300, 300), "Lantern Panels", "reproduction", "118.00", "checked", 35, {"fit_h": 4}),
    ("Rear floor section with seat cross member", "", (2200, 330), "Harbour Breakers", "donor", "160.00", "arrived", 15, {"carriage": "45", "fit_h": 6}),
    ("Battery tray", "", (-250, 700), "Harbour Breakers", "used", "22.00", "fitted", 150, {}),
    ("Door hinge, upper", "left", (720, 760), "Old Tin Barn", "nos", "34.00", "checked", 80, {}),
    ("Door hinge, lower", "left", (720, 420), "Old Tin Barn", "nos", "34.00", "checked", 80, {}),
    ("Door skin", "left", (1150, 560), "North Gate Parts", "reproduction", "146.00", "quoted", 18, {"currency": "EUR", "rate": "0.86", "carriage": "38"}),
    ("Windscreen rubber", "", (700, 1000), "Mill Lane Trim", "reproduction", "640.00", "ordered", 11, {"currency": "SEK", "rate": "0.075", "days": 12}),
    ("Rear window rubber", "", (2300, 1050), "Mill Lane Trim", "reproduction", "590.00", "ordered", 11, {"currency": "SEK", "rate": "0.075", "days": 12}),
    ("Carpet set", "", None, "Mill Lane Trim", "reproduction", "3250.00", "wanted", 9, {"currency": "SEK", "rate": "0.075"}),
    ("Headlining", "", None, "Mill Lane Trim", "reproduction", "1480.00", "wanted", 9, {"currency": "SEK", "rate": "0.075"}),
    ("Chrome of the bumpers", "", (-620, 430), "Bright Bay Plating", "refurbished", "420.00", "ordered", 40, {"days": 60, "late_days": 90}),
    ("Blasting of the doors", "", (1150, 560), "Grit Hall", "made by others", "95.00", "fitted", 200, {}),
    ("Machining of the brake drums", "", (2650, 300), "Turner's Row", "made by others", "64.00", "fitted", 110, {}),
    ("Seat frames recovered", "", None, "Mill Lane Trim", "refurbished", "8200.00", "quoted", 30, {"currency": "SEK", "rate": "0.074", "days": 42}),
    ("Fuel tank", "", (2900, 380), "Old Tin Barn", "nos", "185.00", "checked", 70, {}),
    ("Fuel filler neck", "", (2850, 620), "Harbour Breakers", "used", "18.00", "checked", 70, {}),
    ("Brake pipe set", "", None, "North Gate Parts", "reproduction", "58.00", "arrived", 50, {"currency": "EUR", "rate": "0.85", "carriage": "12"}),
    ("Bump stop", "left", (2600, 420), "North Gate Parts", "reproduction", "9.20", "checked", 50, {"currency": "EUR", "rate": "0.85"}),
    ("Bump stop", "right", None, "North Gate Parts", "reproduction", "9.20", "checked", 50, {"currency": "EUR", "rate": "0.85"}),
    ("Captive nuts, M8", "", None, "Fallow & Pike", "reproduction", "0.42", "fitted", 90, {}),
    ("Sill drain plugs", "", (1100, 210), "Lantern Panels", "reproduction", "1.80", "checked", 60, {}),
    ("Rear lamp, left", "left", (3150, 640), "Harbour Breakers", "used", "38.00", "returned", 100, {}),
    ("Number plate lamp", "", None, "Old Tin Barn", "nos", "21.00", "checked", 95, {}),
    ("Grille clips", "", (-690, 560), "Old Tin Barn", "nos", "3.40", "checked", 95, {}),
    ("Bonnet lock spring", "", (-560, 740), "Harbour Breakers", "used", "4.00", "fitted", 130, {}),
    ("Wiper spindle", "left", (420, 900), "North Gate Parts", "reproduction", "27.00", "wanted", 14, {"currency": "EUR", "rate": "0.86"}),
    ("Heelboard repair piece", "", (2050, 340), "Cut from sheet myself", "made", "9.00", "quoted", 12, {"hours": 3}),
    ("Sill trim strip", "left", (1300, 330), "Old Tin Barn", "nos", "47.00", "quoted", 6, {}),
    ("Quarter light glass", "right", None, "Harbour Breakers", "used", "25.00", "sold", 55, {}),
)  # fmt: skip
#: The way to each state, and how many days one step of it takes.
WAY, STEP_DAYS = ("quoted", "ordered", "arrived", "checked", "fitted"), 7


def wanted(vehicle: Vehicle, sill: Repair, today: date) -> None:
    """Every need with its quotes, the one that was taken, its steps and its checks."""
    for row in (*NEEDS, *map(_small, MORE)):
        _want(vehicle, sill, today, *row)


def _small(row: tuple[Any, ...]) -> tuple[Any, ...]:
    """A small need as those of NEEDS are written."""
    name, hand, at, whom, source, price, state, ago, more = row
    last = "arrived" if state in ("returned", "sold") else state
    way = WAY[: 1 + WAY.index(last)] if last in WAY else ()
    first = ago + STEP_DAYS * (len(way) - 1 + (state != last))
    steps = [
        (
            each,
            first - STEP_DAYS * n,
            "as it was said on the telephone" if each == "checked" and source == "made by others" else "",
        )
        for n, each in enumerate(way)
    ]
    if state != last and state in ("returned", "sold"):
        steps.append(
            (state, ago, "too late to send it back: sold on" if state == "sold" else "the lens was cracked")
        )
    check = {
        days: FINE | {"came": hand if hand in ("left", "right") else ""}
        for each, days, _ in steps
        if each == "arrived" and source != "made by others" and state not in ("arrived",)
    }
    taken = 1 if len(steps) > 1 else 0
    quotes = ((whom, source, price, more),) if state != "wanted" or more.get("currency") else ()
    return name, hand or "none", at, None, "", "", False, quotes, taken, "", tuple(steps), check


def _want(
    vehicle: Vehicle, sill: Repair, today: date, name: str, hand: str, at: Any, needed: int | None, variant: str, sizes: str, for_sill: bool,
    quotes: Any, take: int, reason: str, steps: Any, checks: Any = (),
) -> None:  # fmt: skip
    values = {
        "name": name, "hand": hand, "variant": variant, "sizes": sizes, "needed_by": today + timedelta(needed) if needed else None,
        "view": vehicle.views.get(name="left") if at else None, "at": [float(each) for each in at or ()], "repair": sill if for_sill else None,
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
        if state == "checked" and not dict(checks) and not why:
            why = "laid beside the old one"
        go_on(_fresh(need), state, day=day, today=today, why=why, by=OWNER)
        for on, asked in dict(checks).items():
            if state == "arrived" and on <= ago < on + 2:
                keep_check(_fresh(need), EMPTY | asked, note="", today=today - timedelta(on), by=OWNER)


#: What nobody looked at.
EMPTY: dict[str, Any] = {
    "came": "",
    "sizes": [],
    "marks": None,
    "holes": [],
    "ribs": True,
    "ribs_off": None,
    "bow": None,
    "missing": None,
    "coating": "",
}


def _fresh(need: Need) -> Need:
    """The need with the steps and checks that are stored by now."""
    return Need.objects.get(pk=need.pk)
