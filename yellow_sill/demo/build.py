"""The demo vehicle: a 1967 'Marrick Dunlin' two-door saloon, body no. D2-04417. Made up, like everything in it."""

import io
import math
import random
from datetime import date, timedelta
from decimal import Decimal

from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image, ImageDraw, ImageFilter
from shapely.geometry import Polygon, box

from yellow_sill.core.survey.thickness import grid_cells
from yellow_sill.web.cut.around_services import keep_surrounding
from yellow_sill.web.cut.gate_services import say_nothing_lost
from yellow_sill.web.cut.layer_services import stacks_of
from yellow_sill.web.cut.option_services import choose_option, own_plan
from yellow_sill.web.cut.release_services import release_list, tick_nugget
from yellow_sill.web.cut.services import move_cut, replan_of, take_new_line
from yellow_sill.web.frame.changes import building
from yellow_sill.web.logbook.services import add_note, add_photo, add_work
from yellow_sill.web.parts.services import add_cost
from yellow_sill.web.patch.services import patch_of, save_patch, stored_values
from yellow_sill.web.patch.transfer_services import keep_transfer
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.services import move_on_ribbon, open_repair
from yellow_sill.web.shells.models import Panel, Vehicle
from yellow_sill.web.shells.services import create_vehicle
from yellow_sill.web.survey.coverage_services import mark_looked
from yellow_sill.web.survey.grid_services import keep_reading
from yellow_sill.web.survey.models import Finding
from yellow_sill.web.survey.panel_services import add_item, answer_far_side
from yellow_sill.web.survey.photo_services import add_survey_photo, keep_trace
from yellow_sill.web.survey.services import create_finding, look_again, overrule
from yellow_sill.web.weld.services import save_weld, tick_cautions, weld_of

from .datums import BRACED_SHARE, measure, take_round
from .hold import brace

OWNER = "Wren Askew"
DIMENSIONS = {
    "wheelbase": 2400, "overall_length": 3980, "front_overhang": 650, "width": 1564, "height": 1345, "waist_height": 888, "sill_length": 1392, "door_length": 1066,
}  # fmt: skip

#: (view, panel, name, corners, evidence as (method, result, hits, tries, mm), days ago)
FINDINGS = [
    ("left", "L-WING", "Wing, lower rear corner", [(478, 256), (548, 244), (622, 252), (640, 292), (612, 352), (560, 366), (520, 330), (482, 312)], [("seen", "pitted", None, None, None), ("tap", "rings", 3, 3, None), ("gauge", "reading", None, None, 0.74)], 210),
    ("left", "L-WING", "Wing, behind the lamp", [(-596, 566), (-520, 560), (-470, 600), (-478, 660), (-540, 682), (-590, 640)], [("seen", "bubbling", None, None, None)], 209),
    ("left", "L-SILL", "Sill end, front", [(698, 300), (708, 274), (746, 262), (792, 264), (830, 276), (844, 300), (832, 324), (794, 334), (766, 328), (744, 336), (716, 334), (700, 320)], [("probe", "through", 3, 5, None), ("tap", "dull", 2, 5, None), ("lamp", "light", None, None, None)], 208),
    ("left", "L-QTR", "Rear arch lip", [(2436, 624), (2520, 606), (2620, 552), (2690, 500), (2722, 520), (2690, 580), (2600, 648), (2500, 682), (2440, 676)], [("tap", "dull", 4, 6, None), ("probe", "dents", 2, 6, None)], 208),
    ("left", "L-QTR", "Quarter, lower rear corner", [(2800, 326), (2900, 348), (3060, 374), (3130, 385), (3140, 440), (3110, 476), (2980, 482), (2860, 466), (2800, 430)], [("seen", "filler", None, None, None)], 207),
    ("left", "L-QTR", "Below the rear screen", [(2720, 852), (2790, 862), (2860, 866), (2900, 850), (2840, 836), (2740, 832)], [("seen", "pitted", None, None, None)], 207),
    ("left", "L-APOST", "A-post foot", [(688, 392), (716, 386), (738, 396), (742, 428), (722, 440), (696, 424)], [("probe", "dents", 2, 4, None), ("gauge", "reading", None, None, 0.62)], 206),
    ("left", "L-SILLM", "Sill membrane, front", [(710, 240), (780, 236), (828, 244), (834, 256), (788, 258), (730, 256)], [("probe", "through", 1, 4, None)], 180),
    ("left", "L-SILLI", "Inner sill behind the hole", [(640, 226), (720, 222), (800, 230), (806, 262), (740, 270), (650, 262)], [("probe", "dents", 2, 3, None)], 150),
    ("right", "R-SILL", "Sill end, front", [(-836, 292), (-800, 262), (-742, 254), (-700, 264), (-690, 300), (-716, 330), (-780, 336), (-826, 322)], [("probe", "dents", 3, 6, None), ("tap", "dull", 3, 6, None)], 120),
    ("right", "R-SILL", "Sill, rear end", [(-2016, 240), (-1940, 236), (-1880, 246), (-1884, 286), (-1960, 300), (-2020, 290)], [("probe", "through", 1, 5, None)], 119),
    ("right", "R-WING", "Wing top, inner seam", [(-330, 812), (-180, 806), (-20, 812), (60, 820), (40, 800), (-150, 788), (-320, 796)], [], 60),
    ("underside", "L-FLOOR", "Floor pan, front outer corner", [(760, 540), (880, 534), (990, 560), (1000, 640), (900, 662), (770, 656)], [("scaler", "broke", 2, None, None), ("lamp", "light", None, None, None)], 100),
    ("underside", "R-FLOOR", "Floor pan, under the pedals", [(740, -600), (860, -610), (900, -560), (840, -520), (750, -530)], [("scaler", "survived", None, None, None), ("gauge", "reading", None, None, 0.71)], 99),
    ("underside", "L-RAIL", "Rail at the front hanger", [(1700, 468), (1760, 466), (1766, 520), (1704, 524)], [("gauge", "reading", None, None, 1.05)], 98),
    ("underside", "BOOT", "Boot floor, spare wheel well", [(2900, -60), (2990, -80), (3060, -40), (3040, 20), (2940, 30)], [("seen", "stain", None, None, None), ("tap", "rings", None, None, None)], 97),
    ("right", "R-SILL", "Sill, above the jacking point", [(-1052, 300), (-1032, 288), (-972, 286), (-952, 300), (-960, 324), (-1000, 332), (-1040, 322)], [("probe", "dents", 2, 4, None), ("tap", "dull", 3, 4, None)], 119),
]  # fmt: skip

#: (repair index or None, days ago, supplier, item, kind, quantity, unit price, rate, included)
COSTS = [
    (None, 230, "Corner Tool Hire", "Axle stands, pair, 3 t", "tool", "2", "34.50", "20", True),
    (None, 226, "Harbour Gas", "Shield gas, 10 l, deposit and fill", "consumable", "1", "92.00", "20", False),
    (None, 225, "Fallow & Pike", "Welding wire 0.6 mm, 5 kg", "consumable", "1", "31.80", "20", True),
    (0, 190, "Sheet & Section Depot", "Sheet 1.0 mm, 1000 x 500", "steel", "2", "14.20", "20", False),
    (0, 188, "Fallow & Pike", "Cutting discs 1.0 mm, box of 25", "consumable", "1", "18.90", "20", True),
    (0, 176, "Fallow & Pike", "Flap discs 60, 5", "consumable", "2", "11.40", "20", True),
    (0, 172, "Coat Cellar", "Epoxy primer, 1 l set", "coating", "1", "38.00", "20", False),
    (0, 168, "Coat Cellar", "Cavity wax, 1 l", "coating", "2", "12.75", "20", True),
    (1, 80, "Sheet & Section Depot", "Sheet 1.2 mm, 500 x 500", "steel", "1", "11.60", "20", False),
    (1, 62, "Fallow & Pike", "Spot-weld cutter, 8 mm", "tool", "1", "16.95", "20", True),
    (1, 40, "Harbour Gas", "Shield gas, refill", "consumable", "1", "46.00", "20", False),
    (2, 24, "Old Yard Panels", "Repair section, rear arch lip, left", "part", "1", "128.00", "0", True),
    (None, 12, "Coat Cellar", "Weld-through primer, 400 ml", "coating", "2", "13.60", "20", True),
]  # fmt: skip

#: (finding's place, stage, how much larger all round in mm, days ago, looks): the same holes after stripping, opening, cutting
LATER = [
    (2, "stripped", 3, 81, [("scaler", "broke", 3, None)]), (4, "opened", 14, 191, [("seen", "filler", None, None)]), (3, "stripped", 5, 24, [("tap", "dull", 5, 6)]),
]  # fmt: skip
#: What opening the sill end showed, after its ways had been compared: the skin a little worse, the membrane a good deal.
SILL_OPENED = [
    (2, "opened", 5, 66, [("seen", "hole", None, None)]),
    (7, "opened", 16, 64, [("probe", "through", 3, 4)]),
]
#: What its cuts meet and the drawing does not show: (panel, kind, name, places in the left view)
SILL_AROUND = [
    ("L-SILL", "keep-out", "Jacking point and its box", [(900, 234), (948, 234), (948, 280), (900, 280)]),
    ("L-SILLM", "fitting", "Handbrake cable guide", [(762, 238), (800, 238), (800, 254), (762, 254)]),
    ("L-SILLI", "row", "Row to the floor flange", [(560 + 38 * i, 212) for i in range(14)]),
]  # fmt: skip
#: A plan of the owner's own for the sill's skin: up to the jacking point.
TO_THE_JACK = [(640, 352), (884, 352), (884, 200), (640, 200)]
#: (view, layer, opposite corners, method, days ago)
LOOKED = [
    ("left", 1, (-650, 200, 1250, 900), "probe", 208), ("left", 1, (1900, 300, 3340, 910), "tap", 207), ("left", 1, (1700, 360, 1940, 1300), "seen", 207),
    ("right", 1, (-2100, 200, -600, 420), "probe", 119), ("right", 1, (-3340, 300, -2380, 900), "tap", 119), ("underside", 1, (700, 90, 1850, 780), "probe", 98),
    ("underside", 1, (1600, -560, 3240, 560), "seen", 98), ("left", 2, (400, 204, 1300, 360), "lamp", 66), ("left", 3, (600, 204, 1400, 400), "probe", 64),
]  # fmt: skip
#: (panel, what is behind, how it was looked at, what goes with it)
FAR_SIDES = [
    ("L-SILL", "Sill membrane 40 mm in; nothing fixed to the skin", "lamp", [("salvage", "Two rubber plugs of the drain slots")]),
    ("L-SILLM", "Handbrake cable guide and one bracket, spot-welded", "seen", [("behind", "Handbrake cable guide"), ("salvage", "Bracket of the cable guide, two M6 nuts")]),
    ("L-SILLI", "Carpet glue and one clip of the wiring, all out; bare metal, looked with lamp from the seat", "lamp", [("salvage", "Wiring clip, one")]),
    ("L-QTR", "Nothing there at the lower corner, looked with lamp from the boot", "lamp", [("lacking", "The new arch section has no drain slots"), ("missing", "Rubber grommet of the tail lamp lead")]),
]  # fmt: skip

#: What the cut in the sill membrane takes with it, measured to metal that stays; places in the left view.
TRANSFERS = [
    {"name": "Cable guide bracket", "kind": "edge", "first_name": "jacking tube, centre", "second_name": "hinge box, front corner", "first_at": [918.0, 256.0],
     "second_at": [640.0, 356.0], "apart_mm": None, "way": "distances", "first_mm": 142.0, "second_mm": 176.0, "near": [778.0, 246.0]},
    {"name": "M6 nut", "kind": "nut", "first_name": "jacking tube, centre", "second_name": "hinge box, front corner", "first_at": [918.0, 256.0],
     "second_at": [640.0, 356.0], "apart_mm": 295.5, "way": "offset", "first_mm": 85.5, "second_mm": 45.5, "near": [822.0, 242.0]},
]  # fmt: skip
HOT_WORK_LATER = "Watch and extinguisher were there, ticked on the sheet afterwards"
MEASURED_AFTER = "Brace in first; the round is taken the day after"
SKIN_ONLY = "Skin behind the arch only: it holds nothing, and no datum is near"

WORK = [
    (0, 190, "cut", "1:45", "Filler off, over-plate beneath it"), (0, 189, "cut", "2.5", ""), (0, 182, "make", "3", "Two tries, first one the wrong hand"),
    (0, 176, "fit", "1:30", ""), (0, 175, "weld", "3:15", "Blown with air between passes"), (0, 170, "dress", "2", ""), (0, 168, "protect", "1:30", "Epoxy, then wax"),
    (1, 80, "strip", "2", "Sound deadening off, tested it first"), (1, 62, "cut", "3.5", "Membrane worse than the skin"), (1, 44, "make", "2:15", ""),
    (2, 24, "strip", "1", ""), (None, 230, "survey", "5", "Left side"), (None, 120, "survey", "3:30", "Right side"), (None, 98, "survey", "4", "Underside"),
]  # fmt: skip


def build(today: date) -> Vehicle:
    """Make the owner and the demo vehicle, dated back from today, in one go: the demo begins without changes to take back."""
    with building():
        return _built(today)


def _built(today: date) -> Vehicle:
    owner = get_user_model().objects.create_user(OWNER)
    owner.set_unusable_password()
    owner.save()
    vehicle = create_vehicle(
        owner=owner,
        body_type="saloon-2-door-unitary",
        dimensions_mm=DIMENSIONS,
        make="Marrick",
        model="Dunlin",
        year=1967,
        body_no="D2-04417",
        currency="GBP",
    )
    findings = [_finding(vehicle, row, today) for row in FINDINGS]
    _survey(vehicle, findings, today)
    measure(vehicle, today, OWNER)
    brace(vehicle, today, OWNER)
    repairs = _repairs(vehicle, findings, today)
    for place, ago, supplier, item, kind, quantity, price, rate, included in COSTS:
        values = {
            "bought_on": today - timedelta(ago), "supplier": supplier, "item": item, "kind": kind, "quantity": Decimal(quantity),
            "unit_price": Decimal(price), "tax_rate": Decimal(rate), "tax_included": included,
        }  # fmt: skip
        add_cost(vehicle, None if place is None else repairs[place], values, by=OWNER)
    for place, ago, kind, typed, note in WORK:
        add_work(
            vehicle,
            None if place is None else repairs[place],
            worked_on=today - timedelta(ago),
            kind=kind,
            typed=typed,
            note=note,
            by=OWNER,
        )
    return vehicle


def _look_again(findings: list[Finding], looks_later: list[tuple], today: date) -> None:
    """The same rust, seen again after stripping or opening: larger."""
    for place, stage, grow, ago, looks in looks_later:
        finding = findings[place]
        below = box(-9000, -9000, 9000, finding.bounds_mm[3])  # rust grows downwards, where the water stands
        edge = (
            Polygon(finding.outline)
            .buffer(grow, join_style="mitre")
            .intersection(Polygon(finding.panel.outline))
            .intersection(below)
            .simplify(4)
        )
        evidence = [
            {"method": m, "result": r, "hits": h, "tries": t, "made_on": today - timedelta(ago)}
            for m, r, h, t in looks
        ]
        corners = [(round(u), round(v)) for u, v in list(edge.exterior.coords)[:-1]]
        findings[place] = look_again(
            finding,
            version=None,
            stage=stage,
            made_on=today - timedelta(ago),
            corners=corners,
            typed="",
            evidence=evidence,
            by=OWNER,
        )


def _survey(vehicle: Vehicle, findings: list[Finding], today: date) -> None:
    """What two years of looking leave behind: later looks, regions looked at, far sides, fittings, readings, a photo with a card."""
    _look_again(findings, LATER, today)
    overrule(
        findings[5],
        version=None,
        to="S",
        reason="The pits are in the primer, bright metal under them",
        by=OWNER,
    )
    for name, layer, region, method, ago in LOOKED:
        view = vehicle.views.get(name=name)
        mark_looked(
            view, layer, [region[:2], region[2:]], method=method, made_on=today - timedelta(ago), by=OWNER
        )
    _far_sides(vehicle, FAR_SIDES[3:], today - timedelta(191))
    rng = random.Random(4)
    arch = findings[3]
    for cell in grid_cells(arch.outline, arch.grid_pitch_mm)[::2]:
        keep_reading(
            arch,
            cell,
            round(rng.triangular(0.45, 0.9, 0.66), 2),
            by=OWNER,
            read_on=today - timedelta(23),
            by_gauge=True,
        )
    findings[3] = Finding.objects.get(pk=arch.pk)
    floor = findings[12]
    picture = SimpleUploadedFile("card.jpg", picture_with_card(9), "image/jpeg")
    photo = add_survey_photo(
        floor.panel,
        floor,
        picture,
        caption="Floor corner with the card",
        taken_on=today - timedelta(100),
        by=OWNER,
    )
    keep_trace(photo, CARD_TRACE)


def _far_sides(vehicle: Vehicle, rows: list[tuple], day: date) -> None:
    """What is fixed behind, answered round what is marked by then, and what goes with it."""
    for code, answer, method, items in rows:
        panel = vehicle_panel(vehicle, code)
        answer_far_side(panel, version=None, answer=answer, method=method, answered_on=day, by=OWNER)
        for kind, text in items:
            add_item(panel, kind=kind, text=text, by=OWNER)


def _finding(vehicle: Vehicle, row: tuple, today: date) -> Finding:
    view, code, title, corners, evidence, ago = row
    panel = Panel.objects.get(view__vehicle=vehicle, view__name=view, code=code)
    day = today - timedelta(ago)
    looks = [
        {"method": m, "result": r, "hits": h, "tries": t, "thickness_mm": mm, "made_on": day}
        for m, r, h, t, mm in evidence
    ]
    old = (
        {"old_kind": "over-plate", "old_test": "none", "old_verdict": "undo"}
        if title == "Quarter, lower rear corner"
        else None
    )
    return create_finding(
        vehicle, panel, corners=corners, evidence=looks, title=title, found_on=day, by=OWNER, old=old
    )


def _repairs(vehicle: Vehicle, findings: list[Finding], today: date) -> list[Repair]:
    usual = {"margin_mm": 12.0, "corner_radius_mm": 10.0, "web_mm": 40.0, "by": OWNER}
    quarter = open_repair(
        vehicle, [findings[4]], title="Quarter, lower rear corner", opened_on=today - timedelta(192), **usual
    )
    sill = _sill_end(vehicle, findings, today, usual)
    arch = open_repair(
        vehicle,
        [findings[3]],
        title="Rear arch lip, left",
        opened_on=today - timedelta(24),
        style="hull",
        **usual,
    )
    _far_sides(vehicle, FAR_SIDES[:3], today - timedelta(63))
    for values in TRANSFERS:
        keep_transfer(
            sill.cuts.get(panel__code="L-SILLM"),
            values,
            mark=None,
            version=None,
            measured_on=today - timedelta(63),
            by=OWNER,
        )
    say_nothing_lost(quarter, undo=False, by=OWNER, today=today - timedelta(190))
    for repair, steps in (
        (
            quarter,
            (
                (190, "cut"),
                (182, "made"),
                (176, "fitted"),
                (175, "welded"),
                (170, "dressed"),
                (168, "protected"),
                (160, "signed off"),
            ),
        ),
        (sill, ((62, "cut"),)),
    ):
        for ago, state in steps:
            why = (
                {"datum": SKIN_ONLY if repair is quarter else MEASURED_AFTER, "hot work": HOT_WORK_LATER}
                if state == "cut"
                else SKIN_ONLY
            )
            move_on_ribbon(
                repair,
                state,
                version=None,
                made_on=today - timedelta(ago),
                note="",
                by=OWNER,
                today=today,
                despite=why,
            )
    take_round(
        vehicle,
        "cut",
        today - timedelta(61),
        [-136.0, 0.1, 0.2],
        BRACED_SHARE,
        "Sill end out, brace in",
        by=OWNER,
        about=sill.code,
    )
    for repair in (quarter, sill):
        for cut in repair.cuts.all():
            patch = patch_of(cut)
            values = stored_values(patch)
            if cut.panel.code == "L-SILL":
                values |= {
                    "gap_mm": 0.8,
                    "sides": {"A": {"treatment": "joggle", "width_mm": 14.0, "inside_radius_mm": 1.0}},
                }
            save_patch(patch, values, version=None, by=OWNER)
            weld = weld_of(cut)
            proved = "2 tacks on 1.0 mm scrap, 42 A, no burn-through" if repair is quarter else ""
            plan = {
                "process": "mig",
                "joint": "butt",
                "pitch_mm": 25.0,
                "cooling": "blown",
                "limit_c": 60.0,
                "ambient_c": 8.0,
                "tack_energy_j": None,
                "proved": proved,
            }
            save_weld(weld, plan, version=None, by=OWNER)
            tick_cautions(
                weld,
                ["watch", "extinguisher", "tank", "foam", "battery"],
                today - timedelta(62 if repair is sill else 175),
            )
    add_note(
        quarter,
        written_on=today - timedelta(182),
        text="First patch bent to the wrong hand: drew it from outside, fitted it from inside. Card template now says OUTSIDE.",
        by=OWNER,
    )
    add_note(
        sill,
        written_on=today - timedelta(62),
        text="Two brackets behind the membrane, handbrake cable guide among them. Measured to the jacking tube before cutting.",
        by=OWNER,
    )
    for repair, ago, caption, seed in (
        (quarter, 191, "Over-plate off: as it was found", 3),
        (quarter, 174, "Welded, before dressing", 5),
        (sill, 63, "Sill end, skin cut away", 8),
    ):
        picture = SimpleUploadedFile("drawn.jpg", drawn_picture(seed), "image/jpeg")
        add_photo(repair, picture, caption=caption, taken_on=today - timedelta(ago), by=OWNER)
    right = [findings[9], findings[16]]
    open_repair(
        vehicle, right, title="Sill end, right", opened_on=today - timedelta(9), **usual | {"web_mm": 110.0}
    )
    return [quarter, sill, arch]


def _sill_end(vehicle: Vehicle, findings: list[Finding], today: date, usual: dict) -> Repair:
    """The left sill end, three sheets deep: planned, compared, chosen; opened and found worse; drawn anew, its old spot welds drilled."""
    mended = [findings[2], findings[7], findings[8]]
    sill = open_repair(
        vehicle,
        mended,
        title="Sill end, left",
        opened_on=today - timedelta(82),
        **usual | {"corner_radius_mm": 14.0, "margin_mm": 14.0},
    )
    for code, kind, name, places in SILL_AROUND:
        panel = vehicle_panel(vehicle, code)
        row = {
            "marked": kind == "row",
            "pitch_mm": 38.0,
            "survives": "Floor pan" if kind == "row" else "",
            "drill_here": True,
            "drill_behind": False,
            "both_sides": False,
        }
        keep_surrounding(
            panel, {"kind": kind, "name": name, "points": places} | row, own=None, version=None, by=OWNER
        )
    skin = sill.cuts.get(panel__code="L-SILL")
    move_cut(skin, TO_THE_JACK, version=None, by=OWNER)
    own_plan(sill, skin.panel, "Up to the jacking point", by=OWNER)
    choose_option(
        sill, stacks_of(sill)[0], "merged", {"whole": {"price": 95, "days": 14}, "prices": {"hour": 15}},
        why="Only the front end is gone, the rest is original and sound", version=None, by=OWNER, today=today - timedelta(81),
    )  # fmt: skip
    _look_again(findings, SILL_OPENED, today)
    for cut in sill.cuts.order_by("-panel__layer"):
        cut.repair = sill
        if (told := replan_of(cut)) and told.outgrown:
            take_new_line(cut, version=None, by=OWNER, today=today - timedelta(64))
    for panel in release_list(sill):
        for number in range(1, panel.count + 1):
            tick_nugget(sill, panel.panel, number, done=True, by=OWNER, today=today - timedelta(63))
    return sill


def vehicle_panel(vehicle: Vehicle, code: str) -> Panel:
    return Panel.objects.get(view__vehicle=vehicle, view__name="left", code=code)


#: Where the drawn card and hole of ``picture_with_card`` are, and where two marks lie on the floor pan.
CARD_TRACE = {
    "reference": [[566, 60], [868, 72], [862, 284], [560, 268]], "size_mm": [148.0, 105.0], "distances_mm": None,
    "trace": [[250, 260], [320, 210], [430, 215], [500, 270], [490, 360], [410, 420], [300, 400], [245, 330]], "marks": [[180, 560], [720, 560]], "on_panel": [[770, 540], [1043, 540]], "seen_from": "drawn",
}  # fmt: skip


def picture_with_card(seed: int) -> bytes:
    """A made-up photo of a hole with a white card beside it."""
    with Image.open(io.BytesIO(drawn_picture(seed))) as image:
        draw = ImageDraw.Draw(image)
        draw.polygon([tuple(p) for p in CARD_TRACE["reference"]], fill=(238, 238, 232), outline=(30, 30, 30))
        draw.polygon([tuple(p) for p in CARD_TRACE["trace"]], fill=(40, 32, 28))
        for u, v in CARD_TRACE["marks"]:
            draw.ellipse([u - 7, v - 7, u + 7, v + 7], fill=(20, 20, 20))
        stream = io.BytesIO()
        image.save(stream, "JPEG", quality=86)
        return stream.getvalue()


def drawn_picture(seed: int, width: int = 900, height: int = 640) -> bytes:
    """A made-up picture: a grey panel, a swage and a rusty hole, drawn and not photographed."""
    rng = random.Random(seed)
    image = Image.new("RGB", (width, height), (176, 184, 188))
    draw = ImageDraw.Draw(image)
    for y in range(height):
        shade = 150 + int(50 * y / height)
        draw.line([(0, y), (width, y)], fill=(shade, shade + 6, shade + 8))
    draw.rectangle([0, height * 0.62, width, height * 0.65], fill=(128, 136, 140))
    for size, colour in ((210, (150, 96, 70)), (160, (120, 66, 44)), (95, (44, 34, 30))):
        points = []
        for i in range(26):
            r = size * rng.uniform(0.7, 1.1)
            step = i / 26 * 6.2832
            points.append(
                (width * 0.45 + r * 1.3 * math.cos(step), height * 0.45 + r * 0.8 * math.cos(step - 1.5708))
            )
        draw.polygon(points, fill=colour)
    for _ in range(420):
        x, y, r = rng.uniform(0, width), rng.uniform(0, height), rng.uniform(1, 4)
        draw.ellipse(
            [x - r, y - r, x + r, y + r], fill=(140, 90, 66) if rng.random() < 0.5 else (190, 197, 200)
        )
    stream = io.BytesIO()
    image.filter(ImageFilter.GaussianBlur(2)).save(stream, "JPEG", quality=85)
    return stream.getvalue()
