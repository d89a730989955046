"""What a repair takes in: findings and panels added while it is open, a cut taken out again, the whole deleted."""

from datetime import date

from django.test import TestCase
from django.urls import reverse
from shapely.geometry import Polygon

from tests.builders import finding, owner, panel, repair, vehicle, worked_out
from yellow_sill.web.logbook.services import add_note
from yellow_sill.web.patch.services import developed, patch_of, stored_values
from yellow_sill.web.repairs.models import Repair


class Extent(TestCase):
    def setUp(self):
        self.owner = owner()
        self.vehicle = vehicle(self.owner)
        self.first = finding(self.vehicle)
        self.repair = repair(self.vehicle, [self.first])
        self.client.force_login(self.owner)

    def press(self, what, number=1, **data):
        url = reverse("cut:extent", args=[self.vehicle.pk, self.repair.number, number])
        return self.client.post(url, {"what": what} | data, follow=True)

    def lines(self):
        return {cut.number: cut.corners for cut in self.repair.cuts.all()}

    def test_a_finding_is_added_and_what_is_drawn_stays(self):
        before = self.lines()
        near = finding(self.vehicle, corners=[(u + 130, v) for u, v in self.first.outline])
        far = finding(self.vehicle, corners=[(u + 700, v) for u, v in self.first.outline])
        elsewhere = finding(self.vehicle, code="L-SILLM")
        self.assertContains(
            self.press("add", add=f"f{near.pk}"), f"Finding {near.number} belongs to cut 1 now"
        )
        self.assertContains(self.client.get(self.repair.get_absolute_url()), "It has grown.")
        self.press("add", add=f"f{far.pk}")
        self.press("add", add=f"f{elsewhere.pk}")
        self.assertEqual([cut.panel.code for cut in self.repair.cuts.all()], ["L-SILL", "L-SILL", "L-SILLM"])
        self.assertEqual(self.lines()[1], before[1])
        for cut in self.repair.cuts.all():  # through to the pattern
            self.assertGreater(developed(cut, stored_values(patch_of(cut))).pattern.area_mm2, 100)
        self.assertContains(self.press("add", add=f"f{far.pk}"), "Nothing was chosen that can be added")
        self.assertContains(self.press("cut", 2), "It was not ticked")
        self.assertContains(self.press("cut", 2, sure="1"), "Cut 2 is out of R-01")
        self.assertNotIn(far, self.repair.findings.all())
        self.assertTrue(type(far).objects.filter(pk=far.pk).exists())

    def test_a_panel_that_a_cut_goes_through_gets_a_cut_of_its_own(self):
        cut = self.repair.cuts.get()
        _, v0, u1, v1 = Polygon(cut.outline).bounds
        wing = panel(self.vehicle, "L-WING")
        type(wing).objects.filter(pk=wing.pk).update(
            outline=[[u1 - 60, v0 - 40], [u1 + 80, v0 - 40], [u1 + 80, v1 + 40], [u1 - 60, v1 + 40]]
        )
        self.assertContains(self.client.get(self.repair.get_absolute_url()), "where the cuts go through it")
        self.assertContains(self.press("add", add=f"p{wing.pk}"), "L-WING has a cut of its own now")
        made = self.repair.cuts.get(panel=wing)
        self.assertGreater(developed(made, stored_values(patch_of(made))).pattern.area_mm2, 100)
        self.assertFalse(
            [
                remark
                for remark in self.repair.cuts.get(number=1).remarks
                if remark["code"] == "CUT-15" and wing.name in remark["what"]
            ]
        )

    def clear(self, **typed):
        typed = {
            "margin_mm": "12",
            "corner_radius_mm": "10",
            "web_mm": "40",
            "version": str(Repair.objects.get().version),
        } | typed
        return self.client.post(
            reverse("cut:clearances", args=[self.vehicle.pk, self.repair.number, 1]), typed, follow=True
        )

    def test_clearances_change_and_the_drawn_line_stays(self):
        drawn = self.repair.cuts.get()
        answer = self.clear(margin_mm="30", corner_radius_mm="25")
        self.assertContains(answer, "The lines stay as they are drawn")
        cut = self.repair.cuts.get()
        self.assertEqual(cut.corners, drawn.corners)
        self.assertLess(Polygon(cut.outline).area, Polygon(drawn.outline).area, "rounder corners")
        (u0, _, u1, v1), (a0, _, a1, b1) = (
            Polygon(line).bounds for line in (cut.proposed_corners, drawn.corners)
        )
        self.assertTrue(u0 < a0 - 10 and u1 > a1 + 10 and v1 > b1 + 10)
        self.assertTrue(
            [
                remark
                for remark in cut.remarks
                if "30" in remark["what"] or "margin" in remark["what"].lower()
            ],
            cut.remarks,
        )
        self.assertGreater(developed(cut, stored_values(patch_of(cut))).pattern.area_mm2, 100)
        self.assertContains(self.clear(margin_mm="500"), "out of range", status_code=422)
        self.assertContains(
            self.clear(margin_mm="8", version="1"), "saved this while you had it open", status_code=409
        )
        self.assertEqual(Repair.objects.get().margin_mm, 30)
        Repair.objects.update(state="cut")
        self.assertContains(self.clear(margin_mm="20"), "is cut already", status_code=422)

    def test_a_stale_page_proposes_nothing_over_what_is_made(self):
        made = worked_out(self.repair.cuts.get()).patch
        for state in ("cut", "signed off", "opened"):
            Repair.objects.update(state=state)
            self.client.post(reverse("cut:propose", args=[self.vehicle.pk, 1]))
            self.assertEqual(patch_of(Repair.objects.get().cuts.get()).pk, made.pk)
        self.repair.cuts.all().delete()
        self.client.post(reverse("cut:propose", args=[self.vehicle.pk, 1]))
        self.assertEqual(self.repair.cuts.count(), 1)

    def test_only_while_it_is_open_and_nothing_is_written_for_it(self):
        self.assertContains(self.press("cut", sure="1"), "only cut")
        add_note(self.repair, text="Looked at it", written_on=date(2026, 2, 14), by="Wren")
        self.assertContains(self.press("repair", sure="1"), "has notes in its log")
        self.repair.notes.all().delete()
        Repair.objects.update(state="cut")
        self.assertContains(self.press("add", add="f1"), "is cut already")
        self.assertNotContains(self.client.get(self.repair.get_absolute_url()), "What this repair takes in")
        Repair.objects.update(state="opened")
        self.assertContains(self.press("repair", sure="1"), "R-01 is deleted")
        self.assertEqual((Repair.objects.count(), self.vehicle.findings.count()), (0, 1))
