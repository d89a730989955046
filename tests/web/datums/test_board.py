"""The datum board, the stands, the gate and transfer marks."""

import io
from datetime import date, timedelta

from django.urls import reverse
from pypdf import PdfReader

from tests.builders import DAY, finding, panel, repair
from tests.web.datums.test_datums import DatumCase
from yellow_sill.core.repairs.gate import LINES
from yellow_sill.demo.datums import TRUSTED
from yellow_sill.web.cut.models import TransferMark
from yellow_sill.web.datums.models import DatumPoint, Round, StandSet
from yellow_sill.web.datums.round_services import fit_of
from yellow_sill.web.repairs.models import RibbonStep
from yellow_sill.web.repairs.services import move_on_ribbon
from yellow_sill.web.survey.panel_services import answer_far_side


class Board(DatumCase):
    def test_a_round_with_a_swapped_reading_is_found_shown_and_compared(self):
        found, braced = self.a_round("found"), self.a_round("braced", 0.4, DAY + timedelta(9))
        page = self.client.get(self.url("board", "underside") + f"?round={found.number}")
        for words in (
            "Two digits are swapped: 2850 mm was meant as 2805 mm",
            "Must go",
            "points are out",
            "To the level it stands",
        ):
            self.assertContains(page, words)
        drawn = {point.code: point for point in page.context["board"].points}
        self.assertEqual(drawn["1L"].flag, "out")
        self.assertEqual(len(page.context["board"].strips), 2)
        self.assertAlmostEqual(
            page.context["board"].diagonals.differ,
            abs(page.context["board"].diagonals.lines[0].mm - page.context["board"].diagonals.lines[1].mm),
            delta=0.11,
        )
        compared = self.client.get(
            self.url("board", "left") + f"?round={braced.number}&against={found.number}"
        )
        self.assertContains(compared, "moved</b> from round")
        self.assertIn("1L", [move.id for move in compared.context["moves"] if move.real])
        for name, *args in (
            ("turntable",),
            ("rounds",),
            ("point", "1L"),
            ("board", "front"),
            ("board", "rear"),
            ("board", "floor"),
            ("board", "right"),
        ):
            self.assertEqual(self.client.get(self.url(name, *args)).status_code, 200)
        self.assertContains(self.client.get(self.url("point", "1L")), "Off nominal over the rebuild")
        self.assertContains(self.client.get(reverse("today:today", args=[self.vehicle.pk])), "out</i>")
        self.client.post(reverse("accounts:display"), {"unit": "in"})
        self.assertContains(
            self.client.get(self.url("board", "underside") + f"?round={found.number}"), "off nominal in in"
        )
        self.assertContains(
            self.client.post(self.url("delete_round", found.number), follow=True), "has readings"
        )
        right = {"stage": "welded", "taken_on": "2026-02-15", "version": found.version}
        fix = lambda **more: self.client.post(
            self.url("correct_round", found.number), right | more, follow=True
        )
        self.assertContains(fix(taken_on="2999-01-01"), "not come yet")
        self.assertContains(fix(), "welded, 15 Feb 2026")
        self.assertContains(
            fix(stage="cut"),
            f"changed round {found.number} meanwhile: the stage is welded now, you wanted cut",
        )
        found.refresh_from_db()
        self.assertEqual((found.stage, found.readings.exists()), ("welded", True))

    def test_without_trust_it_says_that_the_frame_is_a_best_fit(self):
        self.vehicle.datum_points.update(trusted=False)
        for point in self.vehicle.datum_points.all():
            point.save()
        made = self.a_round()
        self.assertContains(
            self.client.get(self.url("board", "underside") + f"?round={made.number}"),
            "No point is trusted: the frame is the best fit",
        )

    def test_bad_rounds_are_refused_beside_their_field(self):
        values = {
            "stage": "found",
            "about": "",
            "taken_on": "2026-02-14",
            "tape_sigma_mm": "1",
            "height_sigma_mm": "0.7",
        }
        self.assertContains(
            self.client.post(self.url("rounds"), values | {"tape_sigma_mm": "0"}),
            "out of range",
            status_code=422,
        )
        self.assertContains(
            self.client.post(self.url("rounds"), values | {"stage": ""}), "at which stage", status_code=422
        )
        self.assertContains(
            self.client.post(self.url("rounds"), values | {"about": "R-09"}), "valid choice", status_code=422
        )
        self.assertContains(
            self.client.post(self.url("rounds"), values | {"taken_on": "2999-01-01"}),
            "not come yet",
            status_code=422,
        )
        self.client.post(self.url("rounds"), values)
        self.assertEqual(Round.objects.get().stage, "found")
        self.vehicle.datum_points.all().delete()
        self.assertContains(self.client.get(self.url("rounds")), "fewer than three points")


class Stands(DatumCase):
    def values(self, **changes):
        rows = {}
        for i, (name, x, y) in enumerate(
            (("LF", 560, -348), ("RF", 560, 348), ("LR", 1660, -492), ("RR", 1660, 492))
        ):
            rows |= {
                f"s-{i}-id": name,
                f"s-{i}-x_mm": x,
                f"s-{i}-y_mm": y,
                f"s-{i}-packed_mm": "0",
                f"s-{i}-most_mm": "100",
            }
        return (
            rows
            | {
                "s-TOTAL_FORMS": "4",
                "s-INITIAL_FORMS": "4",
                "packers": "1 2 3 5 10",
                "rigid": "on",
                "flat": list(TRUSTED),
            }
            | changes
        )

    def test_packers_are_worked_out_put_in_and_asked_for_again_only_after_new_heights(self):
        self.assertContains(self.client.get(self.url("stands")), "Read the heights")
        self.a_round("found")
        page = self.client.post(self.url("stands"), self.values(), follow=True)
        result = page.context["result"]
        self.assertEqual(result.tilt_before[0] > 5, True)
        self.assertGreater(sum(each.add_mm for each in result.stands if each.stand[0] == "R"), 4)
        self.assertContains(page, "In this order")
        stored = StandSet.objects.get()
        self.client.post(self.url("stands"), self.values(packed="1", version=stored.version))
        stored.refresh_from_db()
        self.assertEqual([s["packed_mm"] for s in stored.stands], [each.height_mm for each in result.stands])
        self.assertContains(self.client.get(self.url("stands")), "These packers went in after round 1")
        packed = {f"s-{i}-packed_mm": s["packed_mm"] for i, s in enumerate(stored.stands)}
        self.assertContains(
            self.client.post(self.url("stands"), self.values(packed="1", version=stored.version, **packed)),
            "Packers went in after",
            status_code=422,
        )

    def test_bad_stands_are_refused_in_words(self):
        self.a_round("found")
        for changes, words in (
            ({"packers": "1 x"}, "is no length"), ({"packers": "999"}, "is no packer"), ({"s-0-x_mm": ""}, "Where does LF stand"), ({"s-0-x_mm": "far"}, "is not a number"),
        ):  # fmt: skip
            self.assertContains(
                self.client.post(self.url("stands"), self.values(**changes)), words, status_code=422
            )
        self.assertContains(
            self.client.post(self.url("stands"), self.values(flat=["7L"]), follow=True), "Three flats or more"
        )
        stale = self.client.post(self.url("stands"), self.values(version="0"))
        self.assertContains(stale, "saved this while", status_code=409)


class GateAndMarks(DatumCase):
    def setUp(self):
        super().setUp()
        self.repair = repair(self.vehicle, [finding(self.vehicle)])
        answer_far_side(
            panel(self.vehicle), version=None, answer="nothing", method="lamp", answered_on=DAY, by="Wren"
        )
        self.log = reverse("logbook:log", args=[self.vehicle.pk, 1])
        self.step(
            "cut",
            **{f"despite-{key.replace(' ', '-')}": "Only to have something to measure" for key in LINES},
        )

    def step(self, state, **more):
        return self.client.post(
            self.log,
            {
                "what": "step",
                "step-state": state,
                "step-made_on": DAY.isoformat(),
                **{f"step-{k}": v for k, v in more.items()},
            },
        )

    def test_the_ribbon_stops_without_a_check_out_of_tolerance_or_unsure_and_goes_on_with_a_reason(self):
        self.assertContains(self.client.get(self.log), "No datum check since it was cut out")
        self.assertContains(self.step("made"), "No datum check", status_code=422)
        self.a_round("cut", about="R-01", count=20)
        self.assertContains(self.step("made"), "No datum check", status_code=422)
        self.vehicle.datum_points.update(
            tolerance_mm=8
        )  # some lie 2 to 3 mm off, which noise may carry over 3
        made = self.a_round("cut", 0.5, about="R-01")
        self.assertLess(len(made.plan), 140)
        self.assertContains(self.client.get(self.log), "points near it are in")
        DatumPoint.objects.get(code="11L").save_as(None, "Wren", z_mm=740.0)
        self.assertContains(self.step("made"), "Out of tolerance", status_code=422)
        self.assertContains(self.step("made"), "11L", status_code=422)
        self.step("made", despite="The hinge bolt is the old, bent one")
        self.assertEqual(RibbonStep.objects.last().despite, "The hinge bolt is the old, bent one")
        record = self.client.get(reverse("logbook:record", args=[self.vehicle.pk, 1]))
        self.assertContains(record, "without a passed datum check: The hinge bolt")
        self.assertContains(record, "Datum checks")
        move_on_ribbon(
            self.repair, "fitted", version=None, made_on=DAY, note="", by="Wren", today=date.today()
        )
        self.assertContains(self.step("welded"), "No datum check since it was fitted", status_code=422)

    def marks(self, **changes):
        values = {
            "name": "Stud", "kind": "stud", "first_name": "hinge bolt", "second_name": "drain", "first_at": "600, 420", "second_at": "900, 420", "near": "760, 300",
            "apart_mm": "", "way": "distances", "first_mm": "200", "second_mm": "184.4",
        }  # fmt: skip
        return self.client.post(
            reverse("patch:transfer", args=[self.vehicle.pk, 1]), values | changes, follow=True
        )

    def test_a_lost_stud_is_measured_given_back_and_drawn_on_the_pattern(self):
        self.assertContains(self.marks(), "is kept, sure to")
        mark = TransferMark.objects.get()
        self.assertAlmostEqual(mark.at[0], 760, delta=1)
        self.assertAlmostEqual(mark.at[1], 300, delta=1)
        page = self.client.get(reverse("patch:patch", args=[self.vehicle.pk, 1]))
        self.assertEqual(page.context["board"].transfers[0].name, "T1")
        pattern = lambda form: (
            self.client.get(reverse("patch:pattern", args=[self.vehicle.pk, 1, 1, form])).content
        )
        self.assertIn(b">T1<", pattern("svg"))
        self.assertIn("T1 Stud", PdfReader(io.BytesIO(pattern("pdf"))).pages[0].extract_text())
        self.assertContains(
            self.client.get(reverse("logbook:record", args=[self.vehicle.pk, 1])), "hinge bolt"
        )
        self.assertContains(self.marks(way="offset", first_mm="160", second_mm="-120"), "T2")
        edit = reverse("patch:transfer", args=[self.vehicle.pk, 1]) + "?mark=1"
        self.assertContains(self.client.get(edit), "Change T1")
        first = TransferMark.objects.get(number=1)
        typed = {
            "name": "Stud, upper",
            "kind": "stud",
            "first_name": "hinge bolt",
            "second_name": "drain",
            "first_at": "600, 420",
            "second_at": "900, 420",
        }
        typed |= {
            "near": "760, 300",
            "apart_mm": "",
            "way": "distances",
            "first_mm": "200",
            "second_mm": "184.4",
            "version": str(first.version),
        }
        self.assertContains(self.client.post(edit, typed, follow=True), "T1 Stud, upper is kept")
        self.assertContains(self.client.post(edit, typed, follow=True), "Stored already, just so")
        self.assertContains(
            self.client.post(edit, typed | {"name": "Stud, lower"}),
            "saved this while you had it open",
            status_code=409,
        )
        self.client.post(reverse("patch:delete_transfer", args=[self.vehicle.pk, 1, 1, 2]))
        self.assertEqual(TransferMark.objects.count(), 1)

    def test_marks_that_cannot_be_are_refused_and_doubtful_ones_told(self):
        for changes, words in (
            ({"first_mm": "50", "second_mm": "50"}, "shorter than"),
            ({"first_at": "760, 300"}, "lies on metal that goes"),
            ({"near": "760, 560"}, "outside the cut"),
            ({"first_at": "over there"}, "is not a corner"),
            ({"second_at": "600, 420"}, "are one spot"),
            ({"first_mm": "-3"}, "above 0"),
        ):
            self.assertContains(self.marks(**changes), words, status_code=422)
        self.assertEqual(TransferMark.objects.count(), 0)
        self.assertContains(
            self.marks(first_at="600, 310", second_at="900, 310", first_mm="160", second_mm="141.2"),
            "nearly in line",
        )

    def test_a_repairs_round_is_offered_and_only_takes_what_is_near(self):
        self.assertContains(
            self.client.get(self.url("rounds") + "?about=R-01&stage=cut"), '<option value="R-01" selected>'
        )
        made = self.a_round("tacked", about="R-01")
        self.assertIsNotNone(fit_of(made).result)
        self.assertIn("11L", {code for _, codes in made.plan for code in codes})
        self.assertNotIn("8R", {code for _, codes in made.plan for code in codes})
