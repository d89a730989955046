"""Tack by tack over the wire: stored as it happens, shown again after a reload, put right, taken back, in the bundle."""

import json
from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from tests.builders import finding, owner, repair, repair_page, vehicle, worked_out
from yellow_sill.core.errors import BadField
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.shells.models import Access, Role
from yellow_sill.web.weld.models import WeldPlan
from yellow_sill.web.weld.services import save_weld, weld_of
from yellow_sill.web.weld.step_services import progress_of


class Steps(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.repair = repair(cls.vehicle, [finding(cls.vehicle)])
        cls.cut = worked_out(cls.repair.cuts.get())

    def setUp(self):
        self.client.force_login(self.owner)

    def say(self, what, tack, seam=0):
        return self.client.post(repair_page(self.repair, "steps", 1), json.dumps({"seam": seam, "tack": tack, "what": what}), content_type="application/json",
                                headers={"Accept": "application/json"})  # fmt: skip

    def test_a_course_is_there_after_a_reload_and_in_the_bundle(self):
        for what, tack in (("done", 1), ("done", 2), ("blown", 3)):
            going = self.say(what, tack).json()["going"]
        self.assertEqual(
            (going["reached"], going["made"], going["again"]), (3, [1, 2], [{"tack": 3, "what": "blown"}])
        )
        page = self.client.get(repair_page(self.repair, "weld"))
        self.assertEqual(page.context["board"].going["reached"], 3)
        self.assertContains(page, "1 tack is to be put right")
        self.assertEqual(self.say("again", 3).json()["going"]["made"], [1, 2, 3])
        self.assertEqual(self.say("back", 0).json()["going"]["again"], [{"tack": 3, "what": "blown"}])
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual(
            again.repairs.get().cuts.get().weld.events, WeldPlan.objects.get(cut=self.cut).events
        )

    def test_what_was_done_stays_by_its_place_when_the_tacks_are_worked_out_anew(self):
        self.say("done", 1)
        weld = weld_of(self.cut)
        settings = ("process", "joint", "cooling", "limit_c", "ambient_c", "tack_energy_j", "proved")
        save_weld(
            weld, {name: getattr(weld, name) for name in settings} | {"pitch_mm": 40}, version=None, by="Wren"
        )
        told = progress_of(weld_of(self.cut), 0, timezone.localtime().replace(tzinfo=None))
        self.assertEqual(len(told.made) + told.elsewhere, 1, "it is one of the new ones, or it is told")

    def test_a_stop_ends_the_wait(self):
        self.say("done", 1)
        weld = weld_of(self.cut)
        later = timezone.localtime().replace(tzinfo=None) + timedelta(hours=1)
        self.assertEqual(progress_of(weld, 0, later).wait_s, 0)

    def test_refusals_store_nothing(self):
        for what, tack, seam, words in (
            ("done", 9999, 0, "no such tack"),
            ("done", 1, 7, "no such seam"),
            ("welded", 1, 0, "Nobody knows that word"),
            ("again", 1, 0, "Tack 1 was not wrong"),
            ("back", 1, 0, "Nothing of this seam"),
            ("done", "x", 0, "cannot be read"),
        ):
            with self.subTest(words):
                answer = self.say(what, tack, seam)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, answer.json()["error"]["what"])
        self.assertEqual(weld_of(self.cut).events, [])
        with self.assertRaises(BadField):
            progress_of(WeldPlan(cut=self.cut, tack_plans=weld_of(self.cut).tack_plans, events=[{"seam": 0, "at": [0, 0], "what": "done", "when": "2099-01-01T00:00:00"}]), 0,
                        timezone.localtime().replace(tzinfo=None))  # fmt: skip

    def test_a_helper_may_and_a_viewer_may_not(self):
        for role, status in ((Role.HELPER, 200), (Role.VIEWER, 403)):
            somebody = owner(f"Somebody {role}")
            Access.objects.create(vehicle=self.vehicle, user=somebody, role=role)
            self.client.force_login(somebody)
            self.assertEqual(self.say("done", 1).status_code, status)
