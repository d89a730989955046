"""The hold stage: strip, board, what is tried and kept, gate before a cut, bundle."""

from datetime import timedelta

from django.test import TestCase
from django.urls import reverse
from django.utils import timezone

from tests.builders import DAY, finding, owner, repair, vehicle
from yellow_sill.core.formats.bundle_hold import HoldSetupPart
from yellow_sill.core.hold.condition import Opening
from yellow_sill.core.repairs.gate import LINES
from yellow_sill.core.repairs.ribbon import BadMove
from yellow_sill.web.cut.gate_services import openings_of, readiness
from yellow_sill.web.hold import services, setups
from yellow_sill.web.hold.models import HoldSetup
from yellow_sill.web.hold.works import works
from yellow_sill.web.logbook.bundle import bundle_of, export_vehicle, import_vehicle
from yellow_sill.web.repairs.models import Repair, RibbonStep
from yellow_sill.web.repairs.services import move_on_ribbon
from yellow_sill.web.survey.panel_services import answer_far_side

SIDE = ["floor_L", "sill_inner_L", "sill_outer_L", "sill_diaph_L"]
TRY = {"try": "1", "out": SIDE, "stand": ["RBL", "RBR", "RHL", "RHR"], "tube": "25x2", "ends": "welded"}


class HoldCase(TestCase):
    """A saloon, its owner signed in, and a way to keep what is tried."""

    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)

    def setUp(self):
        self.client.force_login(self.owner)
        self.url = reverse("hold:hold", args=[self.vehicle.pk])

    def keep(self, **changes):
        return self.client.post(reverse("hold:keep", args=[self.vehicle.pk]), TRY | {"since": "0"} | changes)


class Hold(HoldCase):
    def test_the_strip_shows_three_states_on_every_page_and_the_one_that_is(self):
        strip = lambda: self.client.get(reverse("survey:survey", args=[self.vehicle.pk]), follow=True)
        self.assertContains(strip(), "Nobody has looked it over yet")
        finding(self.vehicle)
        self.assertContains(strip(), 'class="on held"')
        self.keep()
        page = self.client.get(reverse("datums:datums", args=[self.vehicle.pk]), follow=True)
        self.assertContains(page, 'class="on loose"')
        self.assertContains(page, "Left B-post foot: 20 kg moves it")
        for word in ("HELD", "SOFT", "LOOSE"):
            self.assertContains(page, word)

    def test_trying_keeps_nothing_and_says_what_it_was(self):
        page = self.client.get(self.url, TRY)
        self.assertContains(page, "Plainly loose")
        self.assertContains(page, "It was HELD as kept")
        self.assertFalse(HoldSetup.objects.exists())

    def test_advice_offers_a_brace_and_with_it_the_shell_is_held(self):
        page = self.client.get(self.url, TRY | {"advise": "1"})
        best = page.context["plan"].sequence[0]
        held = self.client.get(self.url, TRY | {"brace": f"{best.start}-{best.end}"}).context["held"]
        self.assertAlmostEqual(held.j, best.j, delta=0.01)
        self.assertEqual(page.context["offers"][0][3], held.verdict)
        self.assertContains(
            self.client.get(self.url, TRY | {"brace": "ATL-BBL", "advise": "1"}), "in the way of"
        )

    def test_a_part_may_be_new_and_a_panel_cut_to_a_place(self):
        renewed = self.client.get(self.url, TRY | {"out": SIDE[:2], "new": ["sill_outer_L"]}).context["setup"]
        self.assertEqual((renewed.out, renewed.new), (tuple(SIDE[:2]), ("sill_outer_L",)))
        whole = self.client.get(self.url, TRY | {"out": []}).context["held"]
        cut = self.client.get(self.url, TRY | {"out": ["sill_inner_L"], "cut": "left:L-SILL:900:300"})
        self.assertGreater(cut.context["held"].j, whole.j)
        self.assertContains(cut, "L-SILL, left view")
        for bad in ("left:NOWHERE:900:300", "left:L-SILL", "left:L-SILL:-5000:300"):
            self.assertEqual(self.client.get(self.url, TRY | {"cut": bad}).status_code, 422, bad)

    def test_each_view_shows_its_members_and_keeps_what_is_tried(self):
        page = self.client.get(self.url, TRY | {"view": "left", "layer": "3"})
        ends = {name for member in page.context["hold_data"].members for name in member.ends}
        self.assertIn("ABL", ends)
        self.assertNotIn("ABR", ends)
        self.assertContains(page, "&amp;out=sill_inner_L")
        self.assertContains(page, 'data-panel="L-SILLI"')

    def test_what_is_kept_is_kept_and_a_second_tab_does_not_overwrite_it_unseen(self):
        self.assertRedirects(self.keep(), self.url)
        self.assertEqual(HoldSetup.objects.get().out, SIDE)
        self.keep(since="1", out=["roof"])
        late = self.keep(since="1", brace="ATL-BBL")
        self.assertContains(late, "another setup while you had this open", status_code=409)
        self.assertContains(late, 'value="ATL-BBL-25x2-welded"', status_code=409)
        self.assertEqual(self.keep(out=["shelf"]).status_code, 409)  # opened before anything was kept
        self.assertEqual(HoldSetup.objects.get().out, ["roof"])
        trying = self.client.get(
            self.url, TRY | {"since": "1"}
        )  # begun before, tried on after: the page says so, and a press on Keep is refused
        self.assertContains(trying, "another setup while you had this open")
        self.assertContains(trying, 'name="since" value="1"')
        self.assertContains(late, 'name="since" value="2"', status_code=409)

    def test_a_shell_from_elsewhere_with_impossible_sizes_breaks_no_page(self):
        type(self.vehicle).objects.filter(pk=self.vehicle.pk).update(dimensions_mm={"wheelbase": 20.0})
        self.assertContains(self.client.get(self.url), "the drawing takes 1700 to 3300", status_code=422)
        self.assertContains(
            self.client.get(reverse("hold:order", args=[self.vehicle.pk])),
            "the drawing takes",
            status_code=422,
        )
        self.assertContains(
            self.client.get(reverse("repairs:repairs", args=[self.vehicle.pk])), "the drawing takes"
        )

    def test_what_cannot_be_is_refused_beside_it_and_nothing_typed_is_lost(self):
        for changes, words in (
            ({"stand": ["RBL", "RBR"]}, "do not make a plane"), ({"out": ["bonnet"]}, "no part bonnet"), ({"tube": "1x9"}, "no such tube"),
            ({"brace": "ATL-XX"}, "no node XX"), ({"brace": "ATL-ATL"}, "no length"),
        ):  # fmt: skip
            page = self.client.get(self.url, TRY | changes)
            self.assertContains(page, words, status_code=422)
            self.assertContains(page, 'name="try"', status_code=422)
            self.assertContains(self.keep(**changes), words, status_code=422)
        self.assertFalse(HoldSetup.objects.exists())

    def test_a_body_without_a_structure_says_so_and_has_no_block_in_the_strip(self):
        other = vehicle(self.owner)
        type(other).objects.filter(pk=other.pk).update(body_type="drawn-by-hand")
        page = self.client.get(reverse("hold:hold", args=[other.pk]))
        self.assertContains(page, "No structure for this body")
        self.assertNotContains(page, "ys-hold-link")

    def test_a_stranger_sees_nothing(self):
        self.client.force_login(owner("Tam Oakes"))
        self.assertEqual(self.client.get(self.url).status_code, 404)
        self.assertEqual(self.keep().status_code, 404)

    def test_a_repair_takes_its_piece_out_and_its_rust_with_it_until_it_is_welded(self):
        made = repair(self.vehicle, [finding(self.vehicle)])
        setup = setups.Setup.of(setups.setup_of(self.vehicle))
        before = services.request_of(services.facts_of(self.vehicle, setup)).parts["sill_outer_L"]
        self.assertGreater(before.loss, 0)
        self.assertEqual(before.remain, 1)
        line = next(line for line in readiness(made, DAY)[0] if line.key == "hold")
        self.assertTrue(line.ready)
        self.assertIn("with the piece out", line.words)
        made.state = "cut"
        made.save()
        after = services.request_of(services.facts_of(self.vehicle, setup)).parts["sill_outer_L"]
        self.assertEqual(after.loss, 0)
        self.assertLess(after.remain, 1)
        made.state = "welded"
        made.save()
        self.assertEqual(works(self.vehicle).openings, ())

    def test_a_piece_that_is_out_is_told_although_the_clock_was_set_back(self):
        first, second = (
            repair(self.vehicle, [finding(self.vehicle, code=code)]) for code in ("L-SILLM", "L-SILL")
        )
        Repair.objects.filter(pk=first.pk).update(changed_at=timezone.now() + timedelta(days=400))
        self.assertEqual(works(self.vehicle).openings, ())
        second.save_as(None, "Wren", state="cut")
        self.assertEqual([opening.why for opening in works(self.vehicle).openings], [second.code])

    def test_a_cut_that_leaves_the_shell_loose_needs_braces_or_a_written_reason(self):
        self.keep(out=SIDE[:3])
        made = repair(self.vehicle, [finding(self.vehicle, code="L-SILLM")])
        self.assertIsInstance(openings_of(made)[0], Opening)
        answer_far_side(
            made.cuts.get().panel, version=None, answer="nothing", method="lamp", by="Wren", answered_on=DAY
        )
        move = lambda **more: move_on_ribbon(
            made, "cut", version=None, made_on=DAY, note="", by="Wren", today=DAY, **more
        )
        with self.assertRaises(BadMove) as caught:
            move()
        self.assertEqual(caught.exception.where, "despite")
        page = self.client.get(reverse("logbook:log", args=[self.vehicle.pk, made.number]))
        self.assertContains(page, "LOOSE with the piece out")
        move(despite=dict.fromkeys(LINES, "Clamped to the jig, both ends"))
        self.assertEqual(RibbonStep.objects.last().despite_words, "before all was ready")

    def test_the_bundle_carries_how_the_shell_stands(self):
        self.keep(brace="ATL-BBL", engine="1")
        bundle = bundle_of(self.vehicle)
        self.assertEqual([(brace.start, brace.end) for brace in bundle.hold_setup.braces], [("ATL", "BBL")])
        self.assertTrue(bundle.hold_setup.engine_in)
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual(bundle_of(again).hold_setup, bundle.hold_setup)
        self.assertEqual(bundle_of(again).hold.states, bundle.hold.states)
        old = HoldSetupPart.read(
            {
                "stands": [],
                "braces": [["ATL", "BBL"]],
                "tube": "30x2",
                "ends": "bolted",
                "out": [],
                "engine_in": False,
                "doors_on": False,
            }
        )
        self.assertEqual((old.braces[0].tube, old.braces[0].ends), ("30x2", "bolted"))
