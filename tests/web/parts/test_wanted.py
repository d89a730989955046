"""What is wanted, over the wire: quoted thrice, taken, ordered, come wrong, sent back, bought used, checked and fitted; refused, taken back, in the bundle."""

from datetime import timedelta

from django.test import TestCase
from django.urls import reverse

from tests.builders import finding, owner, picture, repair, vehicle
from yellow_sill.core.repairs.ribbon import BadMove
from yellow_sill.web.cut.models import PanelChoice
from yellow_sill.web.frame import days
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.parts.arrival_services import require_fitting_part
from yellow_sill.web.parts.models import CostLine, Need, NeedQuote
from yellow_sill.web.shells.change_services import changes, take_back
from yellow_sill.web.strip.models import StripPart

NEED = {
    "what": "keep",
    "name": "Outer sill",
    "quantity": "1",
    "hand": "left",
    "sizes": "1,480 mm",
    "at": "1300 250",
}
QUOTE = {"what": "quote", "name": "Lantern Panels", "source": "reproduction", "price": "1.148,00", "currency": "GBP", "rate": "1", "tax_rate": "20",
         "tax_in": "no", "carriage": "18.50", "days": "9", "fit_h": "3,5", "hours": "0", "lacks": "drain tube\nseal"}  # fmt: skip


class Wanted(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.repair = repair(cls.vehicle, [finding(cls.vehicle)])
        cls.all = reverse("parts:wanted", args=[cls.vehicle.pk])
        cls.page = reverse("parts:need", args=[cls.vehicle.pk, 1])
        cls.arrival = reverse("parts:arrival", args=[cls.vehicle.pk, 1])

    def setUp(self):
        self.client.force_login(self.owner)

    def step(self, state, why="", **more):
        sent = {"what": "step", "state": state, "made_on": days.today().isoformat(), "why": why, **more}
        return self.client.post(self.page, sent)

    def check(self, **more):
        usual = {
            "what": "check",
            "sizes": "length, 1480, 1480.5",
            "has_ribs": "no",
            "bow": "1",
            "looked": "yes",
            "coating": "bare",
        }
        self.assertEqual(self.client.post(self.arrival, usual | more).status_code, 302)

    def opened(self):
        """The repair as it stands before its cut."""
        self.repair.refresh_from_db()
        self.repair.state = "opened"
        return self.repair

    def states(self):
        return [each.state for each in self.vehicle.needs.get().steps.all()]

    def test_from_wanted_to_fitted_by_way_of_a_wrong_one(self):
        self.assertEqual(
            self.client.post(self.all, NEED | {"photo": picture(), "repair": self.repair.pk}).status_code, 302
        )
        need = Need.objects.get()
        self.assertEqual(
            (need.at, need.view.name, need.repair, self.states()),
            ([1300.0, 250.0], "left", self.repair, ["wanted"]),
        )
        self.assertContains(self.step("quoted"), "quote is written down", status_code=422)
        for more in ({}, {"name": "Old Tin Barn", "source": "nos", "price": "1,262.00", "tax_in": "yes", "carriage": "0", "fit_h": ""},
                     {"name": "Harbour Breakers", "source": "used", "price": "300", "currency": "EUR", "rate": "0.86"}):  # fmt: skip
            self.assertEqual(self.client.post(self.page, QUOTE | more).status_code, 302)
        shown = self.client.get(self.page, {"hour": "20"})
        self.assertContains(shown, "1\u202f399.80")  # 1148 x 1.2 = 1377.60, carriage 18.50 x 1.2 = 22.20
        self.assertContains(shown, "drain tube")
        self.assertEqual(NeedQuote.objects.get(number=1).lacks, ["drain tube", "seal"])
        for left in (2, 3):
            take_back(self.vehicle, changes(self.vehicle)[0].revision, by=self.owner.username)
            self.assertEqual(need.quotes.count(), left)
        self.step("quoted")
        self.assertContains(self.step("ordered"), "No quote is chosen", status_code=422)
        wrong = {"what": "choose", "number": "1", "reason": ""}
        self.assertContains(self.client.post(self.page, wrong), "Another one costs less", status_code=422)
        self.client.post(self.page, wrong | {"reason": "known to fit"})
        for state in ("ordered", "arrived"):
            self.step(state)
        self.assertContains(self.step("checked"), "held it against the car", status_code=422)
        self.check(came="right")
        self.assertContains(self.client.get(self.arrival), "It goes back")
        self.assertContains(self.step("checked"), "By its check", status_code=422)
        with self.assertRaisesRegex(BadMove, "What came does not fit: 1 Outer sill"):
            require_fitting_part(self.opened(), "cut", days.today())
        for state in ("returned", "quoted"):
            self.step(state)
        self.client.post(self.page, {"what": "choose", "number": "3"})
        for state in ("ordered", "arrived"):
            self.assertEqual(self.step(state).status_code, 302)
        self.check(sizes="length, 1480", came="left")
        self.assertContains(self.client.get(self.arrival), "Still open: length")
        self.check(came="left")
        require_fitting_part(self.opened(), "cut", days.today())
        for state in ("checked", "fitted"):
            self.assertEqual(self.step(state).status_code, 302)
        CostLine.objects.create(
            vehicle=self.vehicle, bought_on=days.today(), item="Sill, used", unit_price=300, need=need, by="W"
        )
        self.assertContains(self.client.get(self.page), "Paid:")
        way = "wanted quoted ordered arrived returned quoted ordered arrived checked fitted"
        self.assertEqual(self.states(), way.split())
        self.assertEqual(Need.objects.get().reason, "")
        self.assertContains(self.client.get(self.all, {"state": "fitted"}), "Outer sill")
        self.in_the_bundle(need)

    def in_the_bundle(self, need):
        again = import_vehicle(export_vehicle(self.vehicle), self.owner).needs.get()
        self.assertEqual([each.state for each in again.steps.all()], self.states())
        self.assertEqual(
            [(each.name, each.price, each.lacks) for each in again.quotes.all()],
            [(each.name, each.price, each.lacks) for each in need.quotes.all()],
        )
        self.assertEqual(
            (again.chosen, again.at, again.repair.number, bool(again.file)), (3, [1300.0, 250.0], 1, True)
        )
        self.assertEqual(
            self.client.get(reverse("parts:photo", args=[self.vehicle.pk, 1]))["Content-Type"], "image/jpeg"
        )

    def test_no_state_is_passed_over_without_a_reason_and_each_can_be_taken_back(self):
        self.client.post(self.all, NEED)
        self.assertContains(self.step("fitted"), "not the usual way", status_code=422)
        self.assertEqual(self.step("fitted", "it was in the shed").status_code, 302)
        last = Need.objects.get().steps.last()
        self.client.post(self.page, {"what": "unstep", "step": last.pk})
        self.assertEqual(self.states(), ["wanted"])
        self.assertContains(
            self.client.post(self.page, {"what": "unstep", "step": last.pk}),
            "begins with being wanted",
            status_code=422,
        )
        tomorrow = (days.today() + timedelta(1)).isoformat()
        self.assertContains(
            self.step("quoted", "by phone", made_on=tomorrow), "has not come yet", status_code=422
        )
        before = (days.today() - timedelta(1)).isoformat()
        self.assertContains(
            self.step("quoted", "by phone", made_on=before), "Give a later day", status_code=422
        )

    def test_bad_quotes_are_told_and_what_was_typed_stays(self):
        self.client.post(self.all, NEED)
        for bad, words in (({"price": "1,234"}, "could be two amounts"), ({"price": "twelve"}, "is no amount"), ({"tax_rate": "120"}, "less than or equal to 100"),
                           ({"rate": "0"}, "greater than or equal"), ({"source": ""}, "required"), ({"name": ""}, "required")):  # fmt: skip
            with self.subTest(bad):
                answer = self.client.post(self.page, QUOTE | bad | {"note": "asked twice"})
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, "asked twice", status_code=422)
        self.client.post(self.page, QUOTE)
        self.assertContains(self.client.post(self.page, QUOTE), "a quote of that name", status_code=422)
        self.client.post(self.page, {"what": "choose", "number": "1"})
        held = self.client.post(f"{self.page}?quote=1", {"what": "unquote", "version": "1"})
        self.assertContains(held, "It is the chosen one", status_code=422)
        stale = self.client.post(f"{self.page}?quote=1", QUOTE | {"version": "0", "price": "99.00"})
        self.assertContains(stale, "99.00", status_code=409)

    def test_a_chosen_way_that_needs_a_panel_is_told_until_it_is_wanted(self):
        panel = self.repair.cuts.get().panel
        way = {
            "repair": self.repair,
            "panel": panel,
            "words": "Whole panel",
            "why": "thin all over",
            "tips": "",
            "decided_on": days.today(),
        }
        choice = PanelChoice.objects.create(chosen="whole", changed_by="x", **way)
        self.assertContains(self.client.get(self.all), "chosen for R-01")
        self.client.post(self.all, {"what": "missing", "key": f"way-{choice.pk}"})
        need = Need.objects.get()
        self.assertEqual(
            (need.name, need.repair, need.view), (f"{panel.name}, whole panel", self.repair, panel.view)
        )
        self.assertNotContains(self.client.get(self.all), "Known to be lacking")

    def test_what_the_strip_register_misses_is_wanted_at_its_place(self):
        view = self.vehicle.views.get(name="left")
        part = StripPart.objects.create(
            vehicle=self.vehicle, number=4, name="Mud flap", state="missing", removed_on="2026-01-01", view=view, at=[600, 300], by="x", changed_by="x"
        )  # fmt: skip
        self.assertContains(self.client.get(self.all), "Known to be lacking")
        self.client.post(self.all, {"what": "missing", "key": "strip-4"})
        self.assertEqual((Need.objects.get().name, Need.objects.get().at), (part.name, [600, 300]))
        self.assertNotContains(self.client.get(self.all), "Known to be lacking")
        twice = self.client.post(self.all, {"what": "missing", "key": "strip-4"})
        self.assertContains(twice, "wanted already", status_code=422)
        self.client.post(f"{self.all}?place=1&view=left", {"what": "place", "at": "700 310"})
        self.assertEqual(Need.objects.get().at, [700.0, 310.0])
        nowhere = self.client.post(f"{self.all}?place=1", {"what": "place", "at": "here"})
        self.assertContains(nowhere, "not on the drawing", status_code=422)
        self.client.post(self.page, {"what": "drop", "version": Need.objects.get().version})
        self.assertFalse(Need.objects.exists())
