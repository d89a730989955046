"""Sheets and joints over the wire: a step of a sheet moves the ribbon past its gates, words of joints, checks, the pull; all in the bundle."""

from datetime import timedelta
from unittest import mock

from django.test import TestCase
from django.urls import reverse

from tests.builders import DAY, finding, owner, panel, repair, repair_page, vehicle, worked_out
from yellow_sill.core.repairs.ribbon import BadMove
from yellow_sill.web.cut.sheet_services import Stepped, sheets_of, step_sheet
from yellow_sill.web.frame.changes import changing
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.patch.services import developed_as_stored
from yellow_sill.web.repairs import services as repair_services
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.services import move_on_ribbon
from yellow_sill.web.shells.change_services import take_back
from yellow_sill.web.weld.check_services import checks_told
from yellow_sill.web.weld.joint_services import joints_of
from yellow_sill.web.weld.models import JointWord, WeldCheck

LATER = DAY + timedelta(20)


def step(cut, to, **more):
    return step_sheet(cut, to, seen=None, made_on=LATER, by="Wren", today=LATER, **more)


class Sheets(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        found = [finding(cls.vehicle), finding(cls.vehicle, "L-SILLI")]
        cls.repair = repair(cls.vehicle, found)
        cls.inner = cls.repair.cuts.order_by("-panel__layer").first()
        cls.skin = cls.repair.cuts.get(panel=panel(cls.vehicle))
        cls.repair.state, cls.repair.state_on = "fitted", DAY
        cls.repair.save()
        cls.repair.steps.create(state="fitted", made_on=DAY, by="Wren")

    def setUp(self):
        self.client.force_login(self.owner)
        self.repair = Repair.objects.get(pk=self.repair.pk)

    def page(self, name="joints"):
        return repair_page(self.repair, name)

    def test_the_ribbon_follows_the_sheet_farthest_behind_and_asks_its_gates(self):
        names = [each.told.name for each in sheets_of(self.repair)]
        self.assertLess(names.index("L-SILLI"), names.index("L-SILL"), "from the inside out")
        for cut in self.repair.cuts.order_by("-panel__layer"):
            step(cut, "tacked", despite="" if cut.pk == self.inner.pk else "bolted")
        for cut in self.repair.cuts.exclude(pk=self.skin.pk).order_by("-panel__layer"):
            self.assertEqual(step(cut, "welded"), "fitted", "the skin is still to be welded")
        with self.assertRaisesRegex(BadMove, "No datum check|not ready to close"):
            step(self.skin, "welded")
        self.assertEqual(Repair.objects.get(pk=self.repair.pk).state, "fitted")
        self.assertEqual(self.skin.sheet_steps.last().state, "tacked", "nothing of it was stored")

    def test_a_patch_is_worked_out_once_and_in_a_change_by_the_line_that_is_about_to_be_stored(self):
        once = developed_as_stored(self.skin)
        self.assertIs(developed_as_stored(Repair.objects.get().cuts.get(pk=self.skin.pk)), once)
        cut = Repair.objects.get().cuts.get(pk=self.skin.pk)
        wider = [[u + 8 * (u > 700), v] for u, v in cut.outline]
        with changing(self.vehicle, by="Wren"):
            cut.outline = wider
            self.assertEqual(developed_as_stored(cut).opening, wider)
            cut.save()
        self.assertEqual(developed_as_stored(self.skin).opening, wider, "a change is seen at once")

    def test_an_outer_sheet_waits_or_has_a_written_reason(self):
        with self.assertRaisesRegex(BadMove, "lies behind it and is not welded yet"):
            step(self.skin, "tacked")
        step(self.skin, "tacked", despite="The inner one is bolted in")
        self.assertEqual(self.skin.sheet_steps.get().despite, "The inner one is bolted in")

    def test_a_repair_moved_as_a_whole_takes_its_sheets_along_and_back(self):
        step(self.inner, "tacked")
        with mock.patch.object(repair_services, "require_gate", lambda *_: ""):
            move_on_ribbon(
                self.repair, "welded", version=None, made_on=LATER, note="", by="Wren", today=LATER
            )
            self.assertEqual(
                {each.told.state for each in sheets_of(Repair.objects.get(pk=self.repair.pk))}, {"welded"}
            )
            move_on_ribbon(
                Repair.objects.get(pk=self.repair.pk),
                "made",
                version=None,
                made_on=LATER,
                note="wrong hand",
                by="Wren",
                today=LATER,
            )
        self.assertEqual(
            {each.told.state for each in sheets_of(Repair.objects.get(pk=self.repair.pk))}, {"made"}
        )

    def test_one_sheet_back_brings_the_ribbon_back(self):
        step(self.inner, "made", note="does not fit after all")
        self.assertEqual(Repair.objects.get(pk=self.repair.pk).state, "made")
        self.assertEqual(self.repair.steps.last().note, "does not fit after all")

    def test_a_slow_hand_does_not_step_what_somebody_else_has_stepped(self):
        step(self.inner, "tacked")
        with self.assertRaises(Stepped):
            step_sheet(self.inner, "tacked", seen="fitted", made_on=LATER, by="Kit", today=LATER)
        sent = {"what": "step", "cut": self.inner.number, "seen": "fitted", "to": "tacked", "made_on": DAY}
        answer = self.client.post(self.page(), sent, follow=True)
        self.assertContains(answer, "since you looked. Nothing of yours is stored")
        self.assertEqual(self.inner.sheet_steps.count(), 1)

    def test_a_signed_off_repair_is_not_stepped(self):
        Repair.objects.filter(pk=self.repair.pk).update(state="signed off")
        with self.assertRaisesRegex(BadMove, "signed off"):
            step(self.inner, "tacked")

    def test_over_the_page(self):
        answer = self.client.get(self.page())
        self.assertContains(answer, "Sheets, from the inside out")
        sent = {
            "what": "step",
            "cut": self.skin.number,
            "seen": "fitted",
            "to": "tacked",
            "made_on": DAY,
            "despite": "",
        }
        refused = self.client.post(self.page(), sent | {"note": "mine"})
        self.assertContains(refused, "lies behind it and is not welded yet", status_code=422)
        self.assertContains(refused, 'value="mine"', status_code=422)
        self.assertEqual(self.client.post(self.page(), sent | {"cut": self.inner.number}).status_code, 302)
        self.assertEqual(self.inner.sheet_steps.get().state, "tacked")

    def test_words_of_a_joint_are_kept_made_taken_back_and_in_the_bundle(self):
        joint = joints_of(self.repair).joints[0]
        here = f"{self.page()}?joint=1"
        sent = {
            "what": "say",
            "version": 0,
            "process": "",
            "both_sides": "yes",
            "from_side": "the cabin",
            "tight_end": "first",
        }
        self.assertEqual(self.client.post(here, sent).status_code, 302)
        word = JointWord.objects.get()
        self.assertEqual(
            (word.both_sides, word.from_side, word.tight_end, word.made_on),
            (True, "the cabin", "first", None),
        )
        stale = self.client.post(here, sent | {"from_side": "outside"})
        self.assertContains(stale, "the cabin", status_code=409)
        number = next(j.told.number for j in joints_of(self.repair).joints if j.at == joint.at)
        self.client.post(f"{self.page()}?joint={number}", {"what": "made", "made_on": DAY, "how": "50 A"})
        self.assertContains(self.client.get(f"{self.page()}?joint={number}"), "50 A")
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        kept = JointWord.objects.get(cut__repair__vehicle=again)
        self.assertEqual((kept.how, kept.made_on, kept.at), ("50 A", DAY, list(word.at)))
        self.client.post(f"{self.page()}?joint={number}", {"what": "unmade"})
        self.assertIsNone(JointWord.objects.get(pk=word.pk).made_on)
        self.assertEqual(JointWord.objects.get(pk=word.pk).from_side, "the cabin", "its words stay")

    def test_the_checks_start_unknown_and_a_pinhole_asks_for_the_lamp_again(self):
        here = f"{repair_page(self.repair, 'checks')}?cut={self.inner.number}"
        self.assertContains(self.client.get(here), "Not done: 4 not known.")
        self.client.post(here, {"what": "lamp", "value": "yes"})
        self.client.post(here, {"what": "pinhole", "at": "720.5 270"})
        self.assertEqual([line.ready for line in checks_told(self.inner).lines][0], False)
        self.client.post(here, {"what": "pinhole", "at": "721 270"})
        check = WeldCheck.objects.get()
        self.assertEqual((check.lamp, check.pinholes), (None, [{"at": [720.5, 270.0], "again": True}]))
        self.client.post(here, {"what": "reading", "at": "730 270", "thickness_mm": "0,5"})
        page = self.client.get(here)
        self.assertContains(page, "OUT")
        for sent, words in (
            ({"what": "reading", "at": "730 270", "thickness_mm": "thin"}, "is not a number"),
            ({"what": "pinhole", "at": "here"}, "not on the drawing"),
            ({"what": "drop_pinhole", "number": 9}, "not there any more"),
            ({"what": "lamp", "value": "maybe"}, "Nobody knows that look"),
        ):
            with self.subTest(words):
                self.assertContains(self.client.post(here, sent), words, status_code=422)
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual(WeldCheck.objects.get(cut__repair__vehicle=again).pinholes, check.pinholes)

    def test_the_pull_is_worked_out_and_a_wrong_figure_is_told(self):
        worked_out(self.inner)
        here = f"{repair_page(self.repair, 'pull')}?cut={self.inner.number}"
        self.assertContains(self.client.get(here), "Straight run")
        sent = {
            "version": self.inner.weld.version,
            "shrink_mm": "0,1",
            "clamps": "8",
            "clear_mm": "",
            "crown_mm": "",
        }
        self.assertEqual(self.client.post(here, sent).status_code, 302)
        self.assertContains(self.client.get(here), "as you measured")
        self.assertContains(
            self.client.post(here, sent | {"clamps": "x"}), "is not a number", status_code=422
        )
        self.assertContains(
            self.client.post(here, sent | {"clamps": "9"}), "Clamps and magnets", status_code=409
        )
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        kept = again.repairs.get().cuts.get(number=self.inner.number).weld.pull
        self.assertEqual(kept, {"shrink_mm": 0.1, "clamps": 8})

    def test_taken_back_whole(self):
        step(self.inner, "tacked")
        last = type(self.inner.sheet_steps.model.objects.first()).history.first()
        take_back(self.vehicle, last.change_number, by="Wren")
        self.assertEqual(self.inner.sheet_steps.count(), 0)

    def test_an_old_plan_with_a_seam_of_its_own_is_still_shown(self):
        weld = worked_out(self.inner).weld
        plan = {name: value for name, value in weld.tack_plans[0].items() if name not in ("paths", "edges")}
        weld.tack_plans = [plan, plan]
        weld.save()
        page = self.client.get(f"{repair_page(self.repair, 'weld')}?cut={self.inner.number}&seam=2")
        self.assertEqual(page.context["seam_number"], 2)
        self.assertContains(page, "Reckoned for a plate without")


class NoCut(TestCase):
    def test_pages_without_a_cut_say_so(self):
        somebody = owner()
        car = vehicle(somebody)
        empty = repair(car, [finding(car)])
        empty.cuts.all().delete()
        self.client.force_login(somebody)
        for name in ("joints", "checks", "pull"):
            with self.subTest(name):
                self.assertContains(self.client.get(repair_page(empty, name)), "cut")
        self.assertContains(
            self.client.get(reverse("protect:protect", args=[car.pk, empty.number])), "no face to protect"
        )
