import re

from django.test import TestCase
from django.urls import reverse

from tests.builders import DAY, SILL_HOLE, finding, owner, panel, repair, vehicle
from yellow_sill.web.survey.models import Finding
from yellow_sill.web.survey.table_services import import_findings

CORNERS = "\n".join(f"{u}, {v}" for u, v in SILL_HOLE)


class SurveyCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)

    def setUp(self):
        self.client.force_login(self.owner)

    def typed(self, **changes):
        return {
            "panel": "L-SILL",
            "title": "Sill end",
            "corners": CORNERS,
            "found_on": "2026-02-14",
            "probe_result": "through",
            "probe_hits": "3",
            "probe_tries": "5",
        } | changes

    def draw(self, view="left", **changes):
        return self.client.post(reverse("survey:new", args=[self.vehicle.pk, view]), self.typed(**changes))


class Drawing(SurveyCase):
    def test_a_finding_is_graded_and_its_reason_told(self):
        answer = self.draw(lamp_result="light")
        found = Finding.objects.get()
        self.assertRedirects(answer, found.get_absolute_url())
        self.assertEqual((found.grade, found.outline_typed), ("H", CORNERS))
        page = self.client.get(found.get_absolute_url())
        for words in (
            "went through at 3 of 5 places and light shows",
            "146×72",
            "698 to 844",
            "Nothing recorded on Outer sill, right",
            "L-SILLM",
        ):
            self.assertContains(page, words)

    def test_one_method_may_find_two_things_and_a_reading_thicker_than_the_sheet_is_asked_about(self):
        mixed = {
            "probe_result": "holds",
            "probe_hits": "4",
            "probe_tries": "6",
            "probe_also_result": "through",
            "probe_also_hits": "2",
        }
        self.draw(**mixed)
        found = Finding.objects.get()
        self.assertEqual((found.grade, found.evidence.count()), ("H", 2))
        self.assertContains(
            self.client.get(found.get_absolute_url() + "?edit"), 'name="probe_also_hits" value="2"'
        )
        twin = self.draw(**mixed)  # Back, and Store again
        self.assertContains(twin, "Finding 1 has this very outline already", status_code=422)
        self.assertContains(twin, 'value="Sill end"', status_code=422)
        thick = mixed | {
            "gauge_result": "reading",
            "gauge_mm": "12",
            "corners": "\n".join(f"{u + 1}, {v}" for u, v in SILL_HOLE),
        }
        asked = self.draw(**thick)
        self.assertContains(asked, "The gauge reads 12 mm on", status_code=422)
        self.assertContains(asked, 'name="gauge_sure"', status_code=422)
        self.assertRedirects(self.draw(**thick, gauge_sure="on"), f"{found.get_absolute_url()[:-2]}2/")

    def test_signs_are_kept_and_stay_ticked_when_it_is_corrected(self):
        self.draw(probe_result="holds", probe_hits="", probe_tries="", signs=["apart", "screwed"])
        found = Finding.objects.get()
        self.assertEqual((found.grade, found.evidence.count()), ("F", 3))
        self.assertContains(self.client.get(found.get_absolute_url()), "rust has forced the sheets apart")
        page = self.client.get(found.get_absolute_url() + "?edit").content.decode()
        ticked = re.findall(r'name="signs" value="(\w+)"[^>]*checked', page)
        self.assertEqual(ticked, ["apart", "screwed"])
        sent = self.typed(
            probe_result="holds", probe_hits="", probe_tries="", signs=["apart"], version=found.version
        )
        self.client.post(found.get_absolute_url() + "?edit", sent)
        found.refresh_from_db()
        self.assertEqual((found.grade, found.evidence.count()), ("T", 2))
        self.assertContains(self.draw(signs=["ghosts"]), "ghosts", status_code=422)
        told = import_findings(
            self.vehicle,
            'view,panel,name,corners,evidence\nleft,L-SILL,Crack,"700 280 | 720 280 | 720 300 | 700 300",sign crack',
            by="Wren",
            today=DAY,
            confirmed=True,
        )
        self.assertEqual((told.refused, Finding.objects.last().grade), ([], "H"))

    def test_the_outline_of_the_other_side_is_taken_over_without_what_was_found_there(self):
        self.draw()
        found = Finding.objects.get()
        address = (
            reverse("survey:new", args=[self.vehicle.pk, "right"]) + f"?panel=R-SILL&mirror={found.number}"
        )
        self.assertContains(self.client.get(found.get_absolute_url()), f"mirror={found.number}")
        form = self.client.get(address).context["form"]
        self.assertEqual(form.initial["corners"], CORNERS, "both sides are typed in the shell's own axes")
        self.client.post(address, {"panel": "R-SILL", "corners": CORNERS, "found_on": "2026-02-14"})
        other = Finding.objects.last()
        self.assertEqual((other.panel.code, other.grade, other.area_mm2), ("R-SILL", "", found.area_mm2))
        top = finding(
            self.vehicle, "L-WING", "top", corners=[(0, -700), (60, -700), (60, -660), (0, -660)], evidence=[]
        )
        shown = self.client.get(top.get_absolute_url()).content.decode()
        self.assertRegex(shown, r"Left of centre</dt>\s*<dd[^>]*>660 to 700")
        taken = self.client.get(
            reverse("survey:new", args=[self.vehicle.pk, "top"]) + f"?mirror={top.number}"
        )
        self.assertEqual(taken.context["form"].initial["corners"].splitlines()[0], "0, 700")
        self.assertNotIn(
            "corners",
            self.client.get(reverse("survey:new", args=[self.vehicle.pk, "front"]) + f"?mirror={top.number}")
            .context["form"]
            .initial,
        )

    def test_the_right_side_is_typed_in_the_shells_own_axes(self):
        self.draw("right", panel="R-SILL", corners=CORNERS)
        found = Finding.objects.get()
        self.assertEqual(max(u for u, _ in found.outline), -698)
        self.assertContains(self.client.get(found.get_absolute_url()), "698 to 844")
        self.assertContains(self.client.get(found.get_absolute_url() + "?edit"), "698, 300")

    REFUSED = {
        "two corners": ({"corners": "698, 300\n708, 274"}, "three corners"),
        "crossing": ({"corners": "690, 280\n800, 330\n800, 280\n690, 330"}, "crosses itself"),
        "leaves its panel": ({"corners": "690, 280\n800, 280\n800, 700"}, "leaves the panel"),
        "not numbers": ({"corners": "690, nan\n800, 280\n800, 330"}, "Line 1 is not a corner"),
        "10,000 corners": (
            {"corners": "\n".join(f"{700 + i % 90}, {260 + i % 60}" for i in range(6000))},
            "More than 2000",
        ),
        "nothing drawn": ({"corners": ""}, "Draw the outline"),
        "no panel": ({"panel": ""}, "Choose the panel"),
        "in the future": ({"found_on": "2126-01-01"}, "not come yet"),
        "hits above tries": ({"probe_hits": "6"}, "places tried second"),
        "gauge without reading": ({"gauge_result": "reading"}, "needs its reading"),
        "reading in words": ({"gauge_result": "reading", "gauge_mm": "thin"}, "is not a number"),
    }

    def test_bad_input_is_answered_beside_the_field_and_nothing_is_lost(self):
        for name, (changes, words) in self.REFUSED.items():
            with self.subTest(name):
                answer = self.draw(**changes)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, 'value="Sill end"', status_code=422)
        self.assertEqual(Finding.objects.count(), 0)

    def test_the_board_asks_while_one_draws(self):
        url = reverse("survey:check", args=[self.vehicle.pk])
        ask = lambda **values: self.client.post(
            url,
            {"view": "left", "panel": "L-SILL"} | values,
            content_type="application/json",
            headers={"Accept": "application/json"},
        )
        good = ask(corners=SILL_HOLE, evidence=[{"method": "tap", "result": "dull"}]).json()
        self.assertEqual((good["grade"], good["size_mm"]), ("T", [146.0, 72.0]))
        self.assertIsNone(ask(corners=SILL_HOLE[:2]).json()["size_mm"])
        bad = ask(corners=[[690, 280], [800, 280], [800, 700]])
        self.assertEqual(bad.status_code, 422)
        self.assertIn("Look near x", bad.json()["error"]["mend"])
        for values in (
            {"corners": [[1]]},
            {"corners": "x"},
            {"corners": SILL_HOLE, "evidence": [{"method": "guess"}]},
        ):
            self.assertEqual(ask(**values).status_code, 422)
        self.assertEqual(
            self.client.post(
                url, "[1", content_type="application/json", headers={"Accept": "application/json"}
            ).status_code,
            422,
        )


class Changing(SurveyCase):
    def test_later_evidence_is_added_and_the_grade_follows(self):
        found = finding(self.vehicle)
        again = found.get_absolute_url() + "?again"
        self.assertContains(self.client.get(again), "Look again at 1")
        self.client.post(
            again,
            self.typed(
                version="1", found_on="2026-03-01", stage="stripped", probe_result="dents", probe_hits="1"
            ),
        )
        found.refresh_from_db()
        self.assertEqual(
            (found.grade, found.version, found.evidence.count()),
            ("H", 2, 2),
            "a dent beside the hole does not close it",
        )
        for changes, words in (
            ({"stage": "seen"}, "same stage or a later one"),
            ({"stage": "opened", "found_on": "2026-02-20"}, "that day or a later one"),
        ):
            answer = self.client.post(again, self.typed(version="2", found_on="2026-03-02") | changes)
            self.assertContains(answer, words, status_code=422)
        larger = "690, 300\n700, 264\n746, 256\n836, 270\n850, 304\n800, 340\n710, 340"
        self.client.post(
            again,
            self.typed(
                version="2",
                found_on="2026-03-04",
                stage="opened",
                corners=larger,
                probe_result="",
                probe_hits="",
                probe_tries="",
            ),
        )
        page = self.client.get(found.get_absolute_url())
        self.assertContains(page, "now survey what is behind")
        self.assertContains(page, "panel=L-SILLM")
        first, _, opened = found.inspections.all()
        self.assertLess(first.area_mm2, opened.area_mm2)
        # a correction changes the latest look only
        self.client.post(
            found.get_absolute_url(),
            self.typed(
                version="3",
                found_on="2026-03-04",
                stage="opened",
                probe_result="",
                probe_hits="",
                probe_tries="",
                tap_result="dull",
            ),
        )
        found.refresh_from_db()
        self.assertEqual([e.method for e in found.evidence.all()], ["probe", "probe", "tap"])
        self.assertEqual(found.inspections.count(), 3)

    def test_two_people_saving_the_same_finding_see_both(self):
        found = finding(self.vehicle)
        self.client.post(found.get_absolute_url(), self.typed(version="1", title="First"))
        answer = self.client.post(found.get_absolute_url(), self.typed(version="1", title="Second"))
        self.assertContains(answer, "saved this while you had it open", status_code=409)
        self.assertContains(answer, "<td>First</td>", status_code=409)
        self.assertContains(answer, 'name="version" value="2"', status_code=409)
        self.assertEqual(Finding.objects.get().title, "First")
        self.client.post(found.get_absolute_url(), self.typed(version="2", title="Second"))
        self.assertEqual(Finding.objects.get().title, "Second")

    def test_a_finding_that_is_mended_stays(self):
        found, loose = finding(self.vehicle), finding(self.vehicle)
        repair(self.vehicle, [found])
        self.client.post(reverse("survey:delete", args=[self.vehicle.pk, loose.number]))
        answer = self.client.post(reverse("survey:delete", args=[self.vehicle.pk, found.number]), follow=True)
        self.assertContains(answer, "is mended by R-01")
        self.assertEqual(list(Finding.objects.all()), [found])

    def test_numbers_are_never_given_twice_while_the_higher_one_lives(self):
        self.assertEqual([finding(self.vehicle).number for _ in range(3)], [1, 2, 3])
        self.assertEqual(panel(self.vehicle).layer_name, "outer")
