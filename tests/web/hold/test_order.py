"""The order of removal on its page: tried, searched for outside the request, accepted, gone through; and the usual ways."""

from unittest import mock

from django.urls import reverse

from tests.web.hold.test_hold import SIDE, HoldCase
from yellow_sill.web.frame import jobs
from yellow_sill.web.hold.models import HoldSetup, WorkOrder

GOOD = [
    "-floor_L",
    "-sill_inner_L",
    "+sill_inner_L",
    "+floor_L",
    "-sill_outer_L",
    "-sill_diaph_L",
    "+sill_diaph_L",
    "+sill_outer_L",
]


class OrderOfRemoval(HoldCase):
    def setUp(self):
        super().setUp()
        self.order = reverse("hold:order", args=[self.vehicle.pk])

    def post(self, name, *args, **data):
        return self.client.post(reverse(f"hold:{name}", args=[self.vehicle.pk, *args]), data)

    def test_everything_out_first_is_tried_at_first_and_one_press_moves_a_step(self):
        page = self.client.get(self.order, {"job": SIDE})
        self.assertEqual(page.context["own"].order.worst_verdict, "LOOSE")
        better = self.client.get(self.order, {"job": SIDE, "step": GOOD})
        self.assertEqual(better.context["own"].order.worst_verdict, "HELD")
        self.assertEqual(better.context["rows"][0].down[:2], GOOD[1::-1])

    def test_what_cannot_be_is_refused_at_its_step_and_the_order_stays(self):
        wrong = [GOOD[1], GOOD[0], *GOOD[2:]]
        page = self.client.get(self.order, {"job": SIDE, "step": wrong})
        self.assertContains(page, "cannot be done as step 1", status_code=422)
        self.assertContains(
            page, "one step later", status_code=422
        )  # the list is still there, to put it right
        self.assertEqual(page.context["wrong_step"], 0)
        self.assertEqual([row.action for row in page.context["rows"]], wrong)
        self.assertContains(
            self.client.get(self.order, {"job": SIDE, "step": GOOD[:4]}),
            "is not new at the end",
            status_code=422,
        )
        for parts, words in ((SIDE[:1], "Tick 2 to 12 parts"), ([*SIDE, "bonnet"], "no part")):
            refused = self.client.get(self.order, {"job": parts})
            self.assertContains(refused, words, status_code=422)
            self.assertContains(refused, 'value="floor_L" checked', status_code=422)

    def test_a_search_runs_by_itself_and_its_order_is_better(self):
        found = self.post("find", job=SIDE)
        key = found.url.partition("find=")[2]
        waiting = self.client.get(found.url)
        self.assertContains(waiting, "It waits for another")
        jobs.work_off()
        self.assertEqual(
            self.client.get(reverse("hold:progress", args=[self.vehicle.pk, key])).json(),
            {"share": mock.ANY, "done": True, "fault": ""},
        )
        page = self.client.get(found.url)
        self.assertEqual(page.context["found"].worst_verdict, "HELD")
        self.assertContains(page, "Yours is at its worst at step")
        self.assertContains(page, "best there is, by exact search")
        self.assertIsNone(jobs.find(self.vehicle.pk + 1, key))
        self.assertEqual(self.post("find", job=SIDE).url, found.url)
        self.assertTrue(jobs.find(self.vehicle.pk, key).done, "the same is not searched for twice")

    def test_a_search_may_be_stopped_and_a_lost_one_is_told(self):
        key = self.post("find", job=SIDE).url.partition("find=")[2]
        self.assertEqual(self.post("stop", key, job=SIDE).status_code, 302)
        jobs.work_off()
        self.assertEqual(jobs.find(self.vehicle.pk, key).fault, "Stopped.")
        self.assertContains(self.client.get(self.order, {"job": SIDE, "find": key}), "Stopped.")
        self.assertContains(
            self.client.get(self.order, {"job": SIDE, "find": "unknown"}), "is not kept any more"
        )

    def test_an_accepted_order_is_gone_through_and_the_shell_with_it(self):
        self.assertContains(
            self.post("accept", job=SIDE, step=[GOOD[1], *GOOD]), "cannot be done", status_code=422
        )
        self.post("accept", job=SIDE, step=GOOD, version="0")
        late = self.post("accept", job=SIDE, step=GOOD, version="0")
        self.assertContains(late, "Another order was accepted", status_code=409)
        page = self.client.get(self.order)
        self.assertEqual(
            (page.context["ahead"].now.verdict, page.context["ahead"].after.verdict), ("HELD", "HELD")
        )
        for _ in range(3):
            self.post("done")
        setup = HoldSetup.objects.get()
        self.assertEqual((setup.out, setup.new), (["floor_L"], ["sill_inner_L"]))
        self.post("done", undo="1")
        self.assertEqual(HoldSetup.objects.get().out, ["floor_L", "sill_inner_L"])
        self.post("done", version="1")
        self.assertEqual(
            sum(bool(step["done_on"]) for step in WorkOrder.objects.get().steps), 2
        )  # an old page records nothing
        self.assertContains(self.client.get(self.order), "changed this list meanwhile")

    def test_the_usual_ways_come_out_as_they_do(self):
        page = self.client.get(reverse("hold:ways", args=[self.vehicle.pk]), {"orders": "1"})
        verdicts = [row.held.verdict for row in page.context["rows"]]
        self.assertEqual(
            verdicts, ["HELD", "HELD", "HELD", "LOOSE", "LOOSE", "HELD", "LOOSE", "LOOSE", "HELD"]
        )
        self.assertEqual(
            [each.order.worst_verdict for each in page.context["orders"]],
            ["LOOSE", "LOOSE", "HELD", "HELD"],
        )
        for row in (page.context["rows"][3], page.context["rows"][5]):
            self.assertEqual(self.client.get(row.url).context["held"].verdict, row.held.verdict)
