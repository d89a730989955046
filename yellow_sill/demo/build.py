"""The demo vehicle: a 1967 'Marrick Dunlin' two-door saloon, body no. D2-04417. Made up, like everything in it."""

import random
from datetime import date, timedelta
from decimal import Decimal

from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from shapely.geometry import Polygon, box

from yellow_sill.core.survey.thickness import grid_cells
from yellow_sill.web.cut.around_services import keep_surrounding
from yellow_sill.web.cut.gate_services import say_nothing_lost
from yellow_sill.web.cut.hours import DONE_AT, say_pace
from yellow_sill.web.cut.layer_services import stacks_of
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.option_services import choose_option, own_plan
from yellow_sill.web.cut.release_services import release_list, tick_nugget
from yellow_sill.web.cut.services import move_cut, replan_of, take_new_line
from yellow_sill.web.frame.changes import building
from yellow_sill.web.logbook.services import add_note, add_photo, add_work
from yellow_sill.web.parts.services import add_cost
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
from yellow_sill.web.survey.services import look_again, overrule
from yellow_sill.web.weld.services import save_weld, tick_cautions, weld_of

from .calendar import calendar
from .datums import BRACED_SHARE, measure, take_round
from .findings import stored_finding
from .hold import brace
from .made_up import (
    CLOSED_LATER,
    COSTS,
    DIMENSIONS,
    FAR_SIDES,
    FINDINGS,
    HOT_WORK_LATER,
    LATER,
    LOOKED,
    MEASURED_AFTER,
    OWNER,
    SILL_AROUND,
    SILL_OPENED,
    SKIN_ONLY,
    TO_THE_JACK,
    TRANSFERS,
    WORK,
)
from .money_lines import money
from .patches import made, on_the_bench
from .photos import add_photos
from .pickup import gaps, pickup
from .pictures import CARD_TRACE, drawn_picture, picture_with_card
from .steel import fitted, steel, sums
from .stripped import stripped
from .wanted import wanted
from .welding import in_the_middle, shop


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
        steering="right",
    )
    gaps(vehicle, today, OWNER)
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
    money(vehicle, repairs, today)
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
    for kind in DONE_AT:
        say_pace(vehicle, kind, True, by=OWNER)
    calendar(vehicle, today)
    add_photos(vehicle, repairs[0], today)
    pickup(owner, today)
    vehicle.save()  # the one that was open last
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
    plated = row[2] == "Quarter, lower rear corner"
    old = {"old_kind": "over-plate", "old_test": "none", "old_verdict": "undo"} if plated else None
    return stored_finding(vehicle, row, today, OWNER, old)


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
    _along_the_ribbon(quarter, sill, today)
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
    for repair, ago in ((quarter, 175), (sill, 62)):
        for cut in repair.cuts.all():
            _made_and_welded(cut, repair is quarter, today - timedelta(ago))
    for cut in arch.cuts.all():
        made(cut)
    on_the_bench(sill.cuts.get(panel__code="L-SILLM"))
    _told(quarter, sill, today)
    right = [findings[9], findings[16]]
    open_repair(
        vehicle, right, title="Sill end, right", opened_on=today - timedelta(9), **usual | {"web_mm": 110.0}
    )
    floor = open_repair(
        vehicle, [findings[12]], title="Floor pan, front left corner", opened_on=today - timedelta(6), **usual
    )
    for cut in floor.cuts.all():
        made(cut)
    fitted(quarter.cuts.first(), today - timedelta(177))
    steel(vehicle, today - timedelta(3))
    sums(vehicle)
    shop(vehicle, today)
    stripped(vehicle, sill, today)
    wanted(vehicle, sill, today)
    in_the_middle(sill, today)
    return [quarter, sill, arch]


#: How the quarter went along its ribbon, days ago.
QUARTER_STEPS = (
    (190, "cut"),
    (182, "made"),
    (176, "fitted"),
    (175, "welded"),
    (170, "dressed"),
    (168, "protected"),
    (160, "signed off"),
)


def _along_the_ribbon(quarter: Repair, sill: Repair, today: date) -> None:
    """The quarter is done, the sill is out."""
    say_nothing_lost(quarter, undo=False, by=OWNER, today=today - timedelta(190))
    for repair, steps in ((quarter, QUARTER_STEPS), (sill, ((62, "cut"),))):
        for ago, state in steps:
            why = {
                "cut": {
                    "datum": SKIN_ONLY if repair is quarter else MEASURED_AFTER,
                    "hot work": HOT_WORK_LATER,
                },
                "welded": {"tacked": SKIN_ONLY, "closing": CLOSED_LATER},
            }.get(state, SKIN_ONLY)
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


def _made_and_welded(cut: Cut, proved: bool, on: date) -> None:
    """A patch and a weld plan. Args: proved: the setting was tried on scrap; on: the day of the cautions."""
    made(cut)
    weld = weld_of(cut)
    words = "2 tacks on 1.0 mm scrap, 42 A, no burn-through" if proved else ""
    plan = {
        "process": "mig",
        "joint": "butt",
        "pitch_mm": 25.0,
        "cooling": "blown",
        "limit_c": 60.0,
        "ambient_c": 8.0,
        "tack_energy_j": None,
        "proved": words,
    }
    save_weld(weld, plan, version=None, by=OWNER)
    tick_cautions(
        weld,
        ["watch", "extinguisher", "tank", "foam", "battery"],
        on,
    )


def _told(quarter: Repair, sill: Repair, today: date) -> None:
    """Notes and photos."""
    add_note(
        quarter,
        written_on=today - timedelta(182),
        text="First patch bent to the wrong hand: drew it from outside, fitted it from inside. Card template now says OUTSIDE.",
        about="mistake",
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
