"""Refusals of the services that no other test meets, in words, and that they leave what is stored alone."""

import io
from datetime import timedelta

from django.core.exceptions import ValidationError
from django.test import SimpleTestCase
from django.urls import reverse
from PIL import Image

from tests.builders import DAY, finding, owner, panel, repair, vehicle
from tests.web.datums.test_datums import STRAIGHT
from tests.web.test_rooms import RoomCase
from yellow_sill.core.cut.plans import MOST_OWN
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.demo.datums import take_round
from yellow_sill.web.cut.around_services import keep_surrounding
from yellow_sill.web.cut.models import OwnPlan
from yellow_sill.web.cut.option_services import own_plan
from yellow_sill.web.datums.book_services import change_point
from yellow_sill.web.datums.forms import StandsForm
from yellow_sill.web.datums.plan_services import open_round
from yellow_sill.web.datums.reading_services import keep_reading
from yellow_sill.web.frame.fields import length_typed
from yellow_sill.web.frame.pictures import cleaned_picture, is_plain_jpeg
from yellow_sill.web.hold.measure_services import measured_change
from yellow_sill.web.hold.order_services import accept_order, step_done
from yellow_sill.web.hold.services import keep_setup, setup_of
from yellow_sill.web.hold.setups import Setup
from yellow_sill.web.repairs.services import open_repair
from yellow_sill.web.shells.correct_services import drop_bracket
from yellow_sill.web.survey.coverage_services import mark_looked
from yellow_sill.web.survey.services import look_again


class Refused(RoomCase):
    def refuses(self, words, work, *args, error=CoreError, **values):
        with self.subTest(words), self.assertRaisesRegex(error, words):
            work(*args, **values)

    def test_of_the_survey_and_the_shell(self):
        view, found = self.vehicle.views.get(name="left"), finding(self.vehicle)
        self.refuses(
            "how it was looked at",
            mark_looked,
            view,
            1,
            [(0, 0), (9, 9)],
            method="squint",
            made_on=DAY,
            by="Wren",
        )
        self.refuses(
            "no such stage",
            look_again,
            found,
            version=None,
            stage="guessed",
            made_on=DAY,
            corners=found.outline,
            typed="",
            evidence=[],
            by="Wren",
        )
        self.refuses("no such bracket", drop_bracket, view, 99, version=None, by="Wren")
        self.refuses("cannot be measured", length_typed, "1e12", "mm", error=ValidationError)
        self.assertEqual(self.vehicle.findings.get().version, found.version)

    def test_of_the_measuring_room(self):
        asked = {"taken_on": DAY, "tape_sigma_mm": 1.0, "height_sigma_mm": 0.7, "note": "", "by": "Wren"}
        self.refuses("no such stage", open_round, self.vehicle, stage="soon", about="", **asked)
        self.refuses("no R-09", open_round, self.vehicle, stage="found", about="R-09", **asked)
        made = open_round(self.vehicle, stage="found", about="", **asked)
        for kind, codes, text, words in (
            ("height", ["2L"], "99999", "off every shell"), ("distance", ["2L", "9R"], "99999", "no distance"), ("angle", ["1L", "2L", "9R"], "181", "no angle"),
            ("distance", ["2L", "9R"], "far", "no length"),
        ):  # fmt: skip
            self.refuses(words, keep_reading, made, kind, codes, text, by="Wren")
        self.assertEqual(made.readings.count(), 0)
        first, second = self.vehicle.datum_points.all()[:2]
        self.refuses(
            f"a point {second.code} already",
            change_point,
            first,
            {"code": second.code},
            version=None,
            by="Wren",
        )
        form = StandsForm({"packers": " ".join(str(i + 1) for i in range(30)), "rigid": "on"})
        self.assertFalse(form.is_valid())
        self.assertIn("thicknesses are taken", form.errors["packers"][0])
        self.vehicle.datum_points.all().delete()
        self.refuses("fewer than three points", open_round, self.vehicle, stage="found", about="", **asked)
        self.assertEqual(list(self.vehicle.rounds.values_list("pk", flat=True)), [made.pk])

    def test_of_what_cuts_meet_and_plans_of_ones_own(self):
        self.refuses(
            "at least one finding",
            open_repair,
            self.vehicle,
            [],
            title="",
            opened_on=DAY,
            by="Wren",
            margin_mm=12,
            corner_radius_mm=10,
            web_mm=40,
        )
        made, sill = repair(self.vehicle, [finding(self.vehicle)]), panel(self.vehicle)
        thing = {
            "kind": "seam",
            "name": "Seam",
            "points": [(700, 300)],
            "pitch_mm": 40.0,
            "survives": "",
            "marked": False,
        }
        self.refuses("two places at least", keep_surrounding, sill, thing, own=None, version=None, by="Wren")
        self.refuses(
            "mm off L-SILL",
            keep_surrounding,
            sill,
            thing | {"points": [(0, 2000), (90, 2000)]},
            own=None,
            version=None,
            by="Wren",
        )
        self.assertEqual(sill.surroundings.count(), 0)
        self.refuses("Nothing is drawn", own_plan, made, panel(self.vehicle, "L-QTR"), "Mine", by="Wren")
        for i in range(MOST_OWN):
            own_plan(made, sill, f"Plan {i}", by="Wren")
        for name, words in (
            ("Plan 1", "already"),
            (" ", "Give your plan a name"),
            ("Merged patches", "already"),
            ("One more", f"{MOST_OWN} plans"),
        ):
            self.refuses(words, own_plan, made, sill, name, by="Wren")
        self.assertEqual(OwnPlan.objects.count(), MOST_OWN)

    def test_of_the_order_of_work(self):
        asked = {"version": None, "by": "Wren", "today": DAY}
        self.refuses("No order of work", step_done, self.vehicle, undo=False, **asked)
        steps = ["-floor_L", "+floor_L", "-sill_outer_L", "+sill_outer_L"]
        accept_order(self.vehicle, ["floor_L", "sill_outer_L"], steps, **asked)
        self.refuses("no step to take back", step_done, self.vehicle, undo=True, **asked)
        for _ in steps:
            step_done(self.vehicle, undo=False, **asked)
        self.refuses("Every step is done", step_done, self.vehicle, undo=False, **asked)

    def test_an_order_into_loose_needs_a_reason_when_accepted_and_when_done(self):
        asked = {"version": None, "by": "Wren", "today": DAY}
        sills = [f"{part}_L" for part in ("sill_outer", "sill_diaph", "floor", "sill_inner")]
        steps = [
            *(f"-{part}" for part in sills),
            *(f"+{part}" for part in ("sill_inner_L", "floor_L", "sill_diaph_L", "sill_outer_L")),
        ]
        self.refuses("leaves the shell LOOSE", accept_order, self.vehicle, sills, steps, **asked)
        url = reverse("hold:accept", args=[self.vehicle.pk])
        page = self.client.post(url, {"job": sills, "step": steps, "version": "0"})
        self.assertContains(page, "write why it is done all the same", status_code=422)
        order = accept_order(self.vehicle, sills, steps, despite="Bare shell on the jig", **asked)
        self.assertEqual(order.despite, "Bare shell on the jig")
        for _ in range(4):
            try:
                step_done(self.vehicle, undo=False, **asked)
            except BadField as error:
                self.assertIn("LOOSE", error.what)
                page = self.client.get(reverse("hold:order", args=[self.vehicle.pk]))
                self.assertContains(page, "Where does a brace help, with this step done?")
                self.assertContains(page, "out=sill_outer_L&amp;out=sill_diaph_L")
                step_done(self.vehicle, undo=False, despite="On the jig", **asked)
        order.refresh_from_db()
        self.assertIn("On the jig", [step.get("despite") for step in order.steps])

    def test_rounds_on_and_off_the_chassis_are_not_compared(self):
        rounds = [
            take_round(self.vehicle, stage, DAY + timedelta(i), STRAIGHT, 0.2, "", by="Wren")
            for i, stage in ((0, "found"), (9, "braced"))
        ]
        kept = Setup.of(setup_of(self.vehicle))
        keep_setup(self.vehicle, kept, version=None, by="Wren", today=DAY)
        self.vehicle.body_type, self.vehicle.dimensions_mm = "cab-ladder-chassis", {}
        off = Setup.read(kept.stored() | {"on_chassis": False})
        keep_setup(self.vehicle, off, version=None, by="Wren", today=DAY + timedelta(5))
        self.refuses("on its chassis in one round", measured_change, self.vehicle, *rounds, error=BadField)


class NothingDrawn(RoomCase):
    def test_a_repair_whose_findings_lie_on_a_panel_without_a_structure_still_opens_every_tab(self):
        other = vehicle(owner("Robin"), body_no="X")
        type(other).objects.filter(pk=other.pk).update(body_type="home-made")
        self.client.force_login(other.owner)
        made = repair(other, [finding(other)])
        for name in (
            "cut:options",
            "cut:cut",
            "cut:around",
            "cut:release",
            "weld:weld",
            "logbook:log",
            "logbook:record",
            "hold:hold",
        ):
            with self.subTest(name):
                args = [other.pk] if name == "hold:hold" else [other.pk, made.number]
                self.assertEqual(self.client.get(reverse(name, args=args)).status_code, 200)


class Pictures(SimpleTestCase):
    def test_no_comment_of_a_camera_or_person_survives(self):
        stream = io.BytesIO()
        Image.new("RGB", (40, 30), (90, 90, 90)).save(
            stream, "JPEG", comment=b"taken at home", exif=Image.Exif()
        )
        self.assertFalse(is_plain_jpeg(stream.getvalue()))
        clean, *_ = cleaned_picture(stream.getvalue())
        self.assertNotIn(b"taken at home", clean)
        self.assertTrue(is_plain_jpeg(clean))
        self.assertFalse(is_plain_jpeg(clean + b"more"))
        self.assertFalse(is_plain_jpeg(b"GIF89a"))
