"""The order of removal and the plan know each other: one list of the work, recorded in one place."""

from datetime import time

from django.urls import reverse

from tests.builders import DAY
from tests.web.order.test_plan import PlanCase
from yellow_sill.web.cut.models import SheetStep
from yellow_sill.web.hold.models import HoldSetup, WorkOrder
from yellow_sill.web.hold.order_services import accept_order
from yellow_sill.web.order.slot_services import add_slots, rhythm
from yellow_sill.web.order.step_services import steps_of

ORDER = ["-sill_outer_L", "+sill_outer_L", "-sill_outer_R", "+sill_outer_R"]


class OneList(PlanCase):
    def setUp(self):
        super().setUp()
        parts = ["sill_outer_L", "sill_outer_R"]
        accept_order(self.vehicle, parts, ORDER, version=None, by="Wren", today=DAY, despite="on a jig")
        self.order = reverse("hold:order", args=[self.vehicle.pk])

    def steps(self):
        return {step.key: step for step in steps_of(self.vehicle, DAY).steps}

    def done(self, key):
        return self.client.post(self.work, {"what": "done", "step": key}, follow=True)

    def test_what_a_repair_does_is_recorded_there_and_the_order_follows(self):
        steps = self.steps()
        self.assertEqual(steps["R0:sill_outer_R:cut"].name, "Release and cut out Outer sill, right")
        self.assertIn("R1:L-SILL:weld", steps["R0:sill_outer_R:cut"].after)
        page = self.client.get(self.order)
        self.assertContains(page, "This is work of")
        self.assertNotContains(page, ">Done</button>")
        answer = self.client.post(reverse("hold:done", args=[self.vehicle.pk]), follow=True)
        self.assertContains(answer, "Take out: Outer sill, left: that is R-01.")
        self.assertEqual([step["done_on"] for step in WorkOrder.objects.get().steps], [None] * 4)
        cut = self.repair.cuts.get()
        for state in ("cut", "made"):
            SheetStep.objects.create(cut=cut, state=state, made_on=DAY, by="Wren")
        rows = self.client.get(self.order).context["done_rows"]
        self.assertEqual([row.done_on for row in rows], [DAY, None, None, None])
        self.assertEqual([row.repairs for row in rows][:2], [[(1, "R-01")]] * 2)
        self.assertNotIn("R1:L-SILL:cut", self.steps())

    def test_a_part_of_no_repair_is_done_in_the_plan_and_the_shell_goes_with_it(self):
        self.assertContains(self.done("R0:sill_outer_R:cut"), "has another step next")
        self.assertIn("R0:sill_outer_R:cut", self.steps(), "and the step stays open")
        WorkOrder.objects.update(steps=[{"action": action, "done_on": None} for action in ORDER[2:]])
        keys = [key for key in self.steps() if key.startswith("R0:")]
        for key in keys:
            with self.subTest(key):
                self.assertContains(self.done(key), "is done.")
        setup = HoldSetup.objects.get()
        self.assertEqual((setup.out, setup.new), ([], ["sill_outer_R"]))
        self.assertEqual([key for key in self.steps() if key.startswith("R0:")], [])
        self.client.post(reverse("hold:done", args=[self.vehicle.pk]), {"undo": "1"})
        self.assertEqual(HoldSetup.objects.get().out, ["sill_outer_R"])

    def test_a_step_of_ones_own_has_a_place_and_a_name_that_can_be_changed(self):
        add_slots(self.vehicle, rhythm(DAY, 5, 2), time(13), time(18), hands=1, note="", by="Wren")
        own = {"what": "own", "name": "Free the drains", "kind": "clean", "minutes": "20", "panel": "R-FLOOR"}
        key = self.post(**own)["Location"].partition("step=")[2]
        self.assertEqual(self.steps()[key].panel, "R-FLOOR")
        self.post(f"?step={key}", what="word", name="Free all drains", panel="L-FLOOR", minutes="25")
        step = self.steps()[key]
        self.assertEqual((step.name, step.panel, step.minutes), ("Free all drains", "L-FLOOR", 25))
        refused = self.post(f"?step={key}", what="word", name="", minutes="25")
        self.assertEqual(refused.status_code, 422)

    def test_minutes_that_cannot_be_read_stay_in_their_field(self):
        self.planned()
        answer = self.client.post(
            self.work, {"what": "longer", "step": "R1:mark", "left": "a while"}, follow=True
        )
        self.assertContains(answer, "is not a time")
        self.assertContains(answer, 'value="a while"')
        self.assertContains(answer, "Type the")
