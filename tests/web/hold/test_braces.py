"""Braces in the real world, a person's own panels, bodies on and off their chassis, and worked out beside measured."""

from datetime import timedelta

from django.urls import reverse

from tests.builders import DAY, finding, repair, vehicle
from tests.web.hold.test_hold import SIDE, TRY, HoldCase
from yellow_sill.core.repairs.ribbon import BadMove
from yellow_sill.demo.datums import TRUSTED, take_round
from yellow_sill.web.cut.gate_services import hold_along, readiness
from yellow_sill.web.hold import services, setups
from yellow_sill.web.hold.models import HoldSetup, HoldState
from yellow_sill.web.repairs.services import asked_before, move_on_ribbon
from yellow_sill.web.survey.panel_services import answer_far_side


class Braces(HoldCase):
    def setUp(self):
        super().setUp()
        self.braces = reverse("hold:braces", args=[self.vehicle.pk])

    def test_the_cut_list_has_a_tube_for_each_brace_and_says_when_one_must_stay(self):
        self.keep(brace=["BBL-ATR", "ATL-BBL"])
        page = self.client.get(self.braces)
        tie, door = page.context["rows"]
        self.assertTrue(tie.too_early)
        self.assertEqual((tie.without.verdict, door.too_early), ("LOOSE", False))
        self.assertContains(page, "Must stay: LOOSE without it")
        self.assertIn("the left door opening", door.access)
        self.assertLess(door.cut.long_mm, door.cut.between_mm)

    def test_one_that_holds_is_taken_out_only_when_asked_twice(self):
        self.keep(brace=["BBL-ATR"])
        early = self.client.post(self.braces, {"pair": "BBL-ATR", "remove": "1", "version": "1"})
        self.assertContains(early, "Too early to take it out", status_code=409)
        self.assertEqual(len(HoldSetup.objects.get().braces), 1)
        self.client.post(self.braces, {"pair": "BBL-ATR", "remove": "1", "despite": "1", "version": "1"})
        self.assertEqual(HoldSetup.objects.get().braces, [])

    def test_the_board_warns_when_a_try_leaves_out_what_holds(self):
        self.keep(brace=["BBL-ATR"])
        self.assertContains(self.client.get(self.url, TRY), "Too early to take out:")
        self.assertNotContains(
            self.client.get(self.url, TRY | {"out": ["floor_L"]}), "Too early to take out:"
        )
        self.assertNotContains(
            self.client.get(self.url, TRY | {"brace": "BBL-ATR"}), "Too early to take out:"
        )

    def test_tube_ends_and_day_are_kept_and_refused_beside_the_brace(self):
        self.keep(brace=["BBL-ATR"])
        ask = {"pair": "BBL-ATR", "tube": "40x3", "ends": "bolted", "fitted_on": "2026-01-02", "version": "1"}
        for change, words, status in (
            ({"fitted_on": "yesterday"}, "This is not a day", 422), ({"fitted_on": "2999-01-01"}, "yet to come", 422), ({"tube": "1x9"}, "no such tube", 422),
            ({"pair": "ATL-ATR"}, "no such brace", 422), ({"version": "9"}, "kept another setup", 409),
        ):  # fmt: skip
            self.assertContains(self.client.post(self.braces, ask | change), words, status_code=status)
        self.assertContains(
            self.client.post(self.braces, ask | {"fitted_on": "soon"}),
            "<option selected>40x3</option>",
            status_code=422,
        )
        self.client.post(self.braces, ask)
        self.assertEqual(
            HoldSetup.objects.get().braces,
            [{"start": "BBL", "end": "ATR", "tube": "40x3", "ends": "bolted", "fitted_on": "2026-01-02"}],
        )

    def test_a_panel_of_ones_own_counts_once_it_is_tied_to_two_places(self):
        self.assertIn("L-WING", [code for code, _ in self.client.get(self.braces).context["uncounted"]])
        tie = {"tie": "L-WING", "version": "0", "place0": "FWL"}
        refused = self.client.post(self.braces, tie)
        self.assertContains(refused, "2 to 4 different places", status_code=422)
        self.assertContains(refused, '<option value="FWL" selected>', status_code=422)
        self.assertContains(
            self.client.post(self.braces, {"tie": "NONE", "place0": "FWL"}), "no such panel", status_code=422
        )
        self.assertContains(
            self.client.post(self.braces, tie | {"tie": "L-SILL", "place1": "ATL"}),
            "counts already",
            status_code=422,
        )
        before = services.held_of(services.facts_now(self.vehicle))
        self.client.post(self.braces, tie | {"place1": "ATL", "place2": "RBL"})
        after = services.held_of(services.facts_now(self.vehicle))
        self.assertGreater(after.twist_knm_per_deg, before.twist_knm_per_deg)
        self.client.post(self.braces, {"tie": "L-WING", "untie": "1"})
        self.assertEqual(HoldSetup.objects.get().ties, [])

    def test_a_body_on_a_chassis_stands_on_it_or_by_itself(self):
        for body in ("tourer-ladder-chassis", "cab-ladder-chassis", "estate-3-door-unitary"):
            other = vehicle(self.owner)
            type(other).objects.filter(pk=other.pk).update(body_type=body, dimensions_mm={})
            url = reverse("hold:hold", args=[other.pk])
            page = self.client.get(url)
            self.assertEqual(page.context["held"].verdict, "HELD", body)
            self.assertContains(page, "ys-hold-link")
            off = self.client.get(url, {"try": "1", "off_chassis": "1", "brace": "XBL-ATL", "stand": "XCL"})
            self.assertEqual(off.context["held"].verdict, "HELD", body)
            if not body.startswith("estate"):
                self.assertContains(page, "Body off its chassis")
                self.assertLess(len(off.context["hold_data"].nodes), len(page.context["hold_data"].nodes))


class Measured(HoldCase):
    def setUp(self):
        super().setUp()
        self.measured = reverse("hold:measured", args=[self.vehicle.pk])

    def test_a_dial_rescales_the_shell_and_what_it_cannot_have_read_is_refused(self):
        before = services.held_of(services.facts_now(self.vehicle))
        for read, words in (
            ("0", "more than nothing"),
            ("0.001", "Is the dial"),
            ("90", "softest shell"),
            ("abc", "not a"),
        ):
            self.assertContains(
                self.client.post(self.measured, {"node": "FRL", "kg": "20", "read_mm": read}),
                words,
                status_code=422,
            )
        self.assertFalse(HoldSetup.objects.exists())
        told = services.held_of(services.facts_now(self.vehicle))
        give = told.nodes["FRL"].give_mm
        self.client.post(self.measured, {"node": "FRL", "kg": "20", "read_mm": f"{1.6 * give:.3f}"})
        soft = HoldSetup.objects.get().softness
        self.assertGreater(soft, 1.2)
        after = services.held_of(services.facts_now(self.vehicle))
        self.assertLess(after.twist_knm_per_deg, before.twist_knm_per_deg / 1.2)
        self.assertContains(self.client.get(self.measured), "times as soft as planned")
        self.client.post(self.measured, {"planned": "1"})
        self.assertEqual(HoldSetup.objects.get().softness, 1)

    def test_what_was_kept_on_a_day_is_what_a_round_of_that_day_is_compared_with(self):
        self.keep(out=SIDE)
        HoldState.objects.update(made_on=DAY)
        self.assertEqual(setups.setup_on(self.vehicle, DAY).out, tuple(SIDE))
        self.assertEqual(setups.setup_on(self.vehicle, DAY - timedelta(days=1)).out, ())
        self.assertContains(self.client.get(self.measured), "Take a round before and one after")

    def test_two_rounds_are_laid_beside_the_states_of_their_days(self):
        self.vehicle.datum_points.filter(code__in=TRUSTED).update(trusted=True)
        first, second = DAY - timedelta(days=9), DAY
        for day in (first, second):
            take_round(self.vehicle, "found", day, [-118.0, 0.0, 0.0], 1.0, "", by="Wren")
        self.keep(out=SIDE, brace="ATL-BBL", engine="1")
        HoldState.objects.update(made_on=DAY - timedelta(days=1))
        page = self.client.get(self.measured, {"before": "1", "after": "2"})
        self.assertContains(page, "Floor, left out; ")
        self.assertContains(page, "brace in: left A-post top to left B-post foot; engine in")
        told = page.context["told"]
        self.assertGreater(told.told, 10)
        self.assertEqual(told.agree + sum(point.agree is False for point in told.points), told.told)
        self.assertEqual(
            self.client.get(self.measured, {"before": "2", "after": "1"}).context["told"].told, told.told
        )


class BeforeAndAfter(HoldCase):
    def test_a_repair_tells_now_out_and_new_in_on_each_of_its_pages(self):
        made = repair(self.vehicle, [finding(self.vehicle)])
        now, out, new = hold_along(made)
        self.assertLessEqual(new.held.j, now.held.j)
        self.assertGreaterEqual(out.held.j, new.held.j)
        for url in (made.get_absolute_url(), reverse("logbook:log", args=[self.vehicle.pk, made.number])):
            page = self.client.get(url)
            for words in ("Now", "Piece out", "New in"):
                self.assertContains(page, words)

    def test_a_shut_gate_says_what_would_cure_it(self):
        self.keep(out=SIDE[:3])
        made = repair(self.vehicle, [finding(self.vehicle, code="L-SILLM")])
        answer_far_side(
            made.cuts.get().panel, version=None, answer="nothing", method="lamp", by="Wren", answered_on=DAY
        )
        _, gate = asked_before(made, "cut", DAY)
        self.assertRegex(gate.reason, "holds? it: .* to ")
        with self.assertRaises(BadMove):
            move_on_ribbon(made, "cut", version=None, made_on=DAY, note="", by="Wren", today=DAY)
        self.keep(since="1", out=SIDE[:3], brace=["BBL-ATR", "ATL-BBL"])
        self.assertTrue(next(line for line in readiness(made, DAY)[0] if line.key == "hold").ready)
