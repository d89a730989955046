import io
import json

from django.test import TestCase
from django.urls import reverse
from pypdf import PdfReader

from tests.builders import SILL_HOLE, finding, owner, repair, repair_page, vehicle, worked_out
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.patch.card_services import card_of
from yellow_sill.web.patch.models import BenchWork, Patch
from yellow_sill.web.patch.services import edges_of, patch_of, save_patch, stored_values
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.services import open_repair
from yellow_sill.web.weld.models import WeldPlan
from yellow_sill.web.weld.services import weld_of


class RepairCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.finding = finding(cls.vehicle)
        cls.repair = repair(cls.vehicle, [cls.finding])
        cls.cut = cls.repair.cuts.get()

    def setUp(self):
        self.client.force_login(self.owner)

    def url(self, name, *more):
        return repair_page(self.repair, name, *more)

    def ask(self, url, values):
        return self.client.post(
            url, json.dumps(values), content_type="application/json", headers={"Accept": "application/json"}
        )


class Opening(RepairCase):
    def test_a_repair_opens_on_the_ribbon_with_a_cut_for_each_panel(self):
        behind = finding(
            self.vehicle,
            "L-SILLM",
            corners=[(710, 236), (834, 236), (834, 258), (710, 258)],
            title="Membrane",
        )
        typed = {
            "findings": ["1", str(behind.number)],
            "style": "rectangle",
            "margin_mm": "14",
            "corner_radius_mm": "10",
            "web_mm": "40",
            "opened_on": "2026-03-01",
        }
        answer = self.client.post(
            reverse("repairs:new", args=[self.vehicle.pk]), typed | {"title": "", "again": "1"}, follow=True
        )
        made = Repair.objects.get(number=2)
        self.assertContains(answer, "R-02 is open")
        self.assertEqual([step.state for step in made.steps.all()], ["found", "opened"])
        self.assertEqual([cut.panel.code for cut in made.cuts.all()], ["L-SILL", "L-SILLM"])
        self.assertEqual(
            {remark["code"] for cut in made.cuts.all() for remark in cut.remarks}
            - {"CUT-03", "CUT-16", "CUT-17"},
            {"CUT-14"},
            "the weld flange before the membrane is not cut",
        )
        self.assertContains(
            self.client.get(f"{reverse('cut:cut', args=[self.vehicle.pk, 2])}?cut=2"), "Sill membrane"
        )

    def test_a_finding_that_is_mended_already_opens_again_only_when_a_person_says_so(self):
        mended = finding(self.vehicle)
        repair(self.vehicle, [mended])
        url = reverse("repairs:new", args=[self.vehicle.pk])
        typed = {
            "findings": [mended.number],
            "style": "rectangle",
            "margin_mm": "12",
            "corner_radius_mm": "10",
            "web_mm": "40",
            "opened_on": "2026-03-01",
        }
        before = Repair.objects.count()
        asked = self.client.post(url, typed | {"title": "Once more"})
        self.assertContains(asked, "Mended already: finding", status_code=422)
        self.assertContains(asked, 'name="again"', status_code=422)
        self.assertContains(asked, 'value="Once more"', status_code=422)
        self.client.post(url, typed | {"again": "1"})
        self.assertEqual(Repair.objects.count(), before + 1)

    def test_what_cannot_be_opened(self):
        url = reverse("repairs:new", args=[self.vehicle.pk])
        typed = {
            "findings": ["1"],
            "style": "rectangle",
            "margin_mm": "12",
            "corner_radius_mm": "10",
            "web_mm": "40",
            "opened_on": "2026-03-01",
            "title": "Kept",
        }
        for changes, words in (
            ({"findings": []}, "at least one finding"),
            ({"margin_mm": "-3"}, "out of range"),
            ({"margin_mm": "wide"}, "is not a number"),
            ({"findings": ["99"]}, "99"),
        ):
            with self.subTest(words):
                answer = self.client.post(url, typed | changes)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, 'value="Kept"', status_code=422)

    def test_a_page_without_findings_says_what_to_do(self):
        bare = vehicle(self.owner)
        self.assertContains(self.client.get(reverse("repairs:new", args=[bare.pk])), "no finding to mend")
        self.assertContains(self.client.get(reverse("repairs:repairs", args=[bare.pk])), "No repair is open")


class Cutting(RepairCase):
    def corners(self, by):
        return [[u + by, v] for u, v in self.cut.corners]

    def test_a_moved_line_is_checked_as_it_moves(self):
        moved = self.ask(self.url("check", 1), {"corners": self.corners(25)}).json()
        self.assertTrue(moved["leaves_rust"])
        rust = next(r for r in moved["remarks"] if r["code"] == "CUT-10")
        self.assertLess(abs(rust["at"][0] - 703), 10)
        still = self.ask(self.url("check", 1), {"corners": self.cut.corners}).json()
        self.assertFalse(still["leaves_rust"])
        crossing = self.ask(self.url("check", 1), {"corners": [[0, 0], [50, 50], [50, 0], [0, 50]]})
        self.assertEqual(crossing.status_code, 422)

    def test_a_kept_line_is_stored_and_its_tacks_follow(self):
        before = worked_out(self.cut).weld.tack_plans[0]["seam_mm"]
        wider = "\n".join(f"{u - 20 if u < 770 else u:g}, {v:g}" for u, v in self.cut.corners)
        self.client.post(self.url("move", 1), {"corners": wider, "version": "1"})
        self.cut.refresh_from_db()
        self.assertTrue(self.cut.moved)
        self.assertAlmostEqual(WeldPlan.objects.get().tack_plans[0]["seam_mm"], before + 40, delta=0.5)

    def test_refused_and_overtaken_lines_come_back_as_typed(self):
        answer = self.client.post(self.url("move", 1), {"corners": "700, 200\n800", "version": "1"})
        self.assertContains(answer, "Line 2 is not a corner", status_code=422)
        self.assertContains(answer, "700, 200\n800", status_code=422)
        good = "\n".join(f"{u:g}, {v:g}" for u, v in self.corners(2))
        self.client.post(self.url("move", 1), {"corners": good, "version": "1"})
        answer = self.client.post(self.url("move", 1), {"corners": good, "version": "1"})
        self.assertContains(answer, "saved this while you had it open", status_code=409)

    def test_a_repair_without_cuts_offers_to_propose_them(self):
        self.repair.cuts.all().delete()
        for name in ("cut", "patch", "weld"):
            self.assertContains(self.client.get(self.url(name)), "Propose the cut")
        self.client.post(self.url("propose"))
        self.assertEqual(self.repair.cuts.count(), 1)


class Patching(RepairCase):
    def typed(self, **changes):
        sides = {
            f"{key}_{name}": value
            for name in "ABCD"
            for key, value in (
                ("treatment", "butt"),
                ("leg", ""),
                ("second", ""),
                ("angle", ""),
                ("radius", ""),
                ("direction", "up"),
            )
        }
        return (
            {
                "version": "0",
                "thickness_mm": "1,0",
                "gap_mm": "0.8",
                "k_factor": "0.42",
                "trim_allowance_mm": "0",
            }
            | sides
            | changes
        )

    def test_a_flange_on_one_side_is_developed_and_downloaded(self):
        self.client.get(self.url("patch"))
        answer = self.client.post(
            self.url("patch"),
            self.typed(treatment_A="flange", leg_A="20", angle_A="90", radius_A="1"),
            follow=True,
        )
        self.assertContains(answer, "90° up, R 1")
        for form, start in (("svg", b"<svg"), ("dxf", b"  0\n"), ("pdf", b"%PDF")):
            with self.subTest(form):
                file = self.client.get(self.url("pattern", 1, form))
                self.assertTrue(file.content.startswith(start))
                self.assertIn("attachment", file["Content-Disposition"])
        letter = PdfReader(
            io.BytesIO(self.client.get(self.url("pattern", 1, "pdf") + "?paper=Letter&hand=mirror").content)
        )
        self.assertIn("mirror hand", letter.pages[1].extract_text())
        self.assertContains(
            self.client.get(self.url("pattern", 1, "pdf") + "?paper=A9"), "No paper", status_code=422
        )
        self.assertEqual(self.client.get(self.url("pattern", 1, "exe")).status_code, 404)

    def test_the_preview_changes_nothing_stored(self):
        self.client.get(self.url("patch"))
        shown = self.client.post(
            self.url("preview", 1),
            self.typed(treatment_B="lap", leg_B="12", mirror_hand="on"),
            headers={"Accept": "application/json"},
        ).json()
        self.assertLess(max(u for u, _ in shown["board"]["flat"]), 0)
        self.cut.refresh_from_db()
        self.assertFalse(Patch.objects.exists())

    REFUSED = {
        "lap without width": ({"treatment_A": "lap"}, "needs its width"),
        "all bend": ({"treatment_A": "flange", "leg_A": "1", "angle_A": "90", "radius_A": "1"}, "all bend"),
        "impossible angle": ({"treatment_A": "flange", "leg_A": "20", "angle_A": "200"}, "out of range"),
        "no thickness": ({"thickness_mm": "0"}, "out of range"),
    }

    def test_what_cannot_be_made_is_refused_and_kept(self):
        self.client.get(self.url("patch"))
        for name, (changes, words) in self.REFUSED.items():
            with self.subTest(name):
                self.assertContains(
                    self.client.post(self.url("patch"), self.typed(gap_mm="0.75") | changes),
                    words,
                    status_code=422,
                )
                self.assertContains(
                    self.client.post(self.url("patch"), self.typed(gap_mm="0.75") | changes),
                    'value="0.75"',
                    status_code=422,
                )
                self.assertEqual(
                    self.client.post(self.url("preview", 1), self.typed() | changes).status_code, 422
                )

    def test_two_people_saving_one_pattern(self):
        self.client.get(self.url("patch"))
        self.client.post(self.url("patch"), self.typed(gap_mm="0.6"))
        self.assertContains(
            self.client.post(self.url("patch"), self.typed(gap_mm="0.9")), "saved this while", status_code=409
        )

    def test_two_people_saving_one_pattern_differ_in_a_hole(self):
        self.client.get(self.url("patch"))
        outline = [edge.middle for edge in edges_of(self.cut)]
        u, v = (sum(at[i] for at in outline) / len(outline) for i in (0, 1))
        self.client.post(self.url("patch"), self.typed(gap_mm="0.6"))
        answer = self.client.post(self.url("patch"), self.typed(holes=f"base: drain 8 at {u:.0f}, {v:.0f}"))
        self.assertContains(answer, "1 hole", status_code=409)


class Bench(RepairCase):
    def test_a_bend_waits_for_sizes_that_are_right_and_what_is_done_stays(self):
        told = {"at": [0, 0], "treatment": "flange", "legs_mm": [20]}
        edge = edges_of(self.cut)[0]
        patch = patch_of(self.cut)
        save_patch(
            patch,
            stored_values(patch) | {"made": [told | {"at": list(edge.middle)}]},
            version=None,
            by="Wren",
        )
        page = self.client.get(self.url("card"))
        self.assertContains(page, "not measured: measure each a second time")
        bend = f"bend {edge.name}1"
        self.client.post(self.url("card"), {"step": bend})
        self.assertFalse(BenchWork.objects.exists(), "a bend before its sizes")
        self.client.post(self.url("card"), {"step": "deburr"})
        sizes = {size.key: str(size.should_mm) for size in card_of(self.cut).card.sizes}
        wrong = sizes | {"what": "sizes", "wide": "12,5"}
        self.assertContains(self.client.post(self.url("card"), wrong, follow=True), "Stop: ")
        self.assertContains(self.client.post(self.url("card"), {"step": bend}, follow=True), "bend nothing")
        bad = self.client.post(self.url("card"), sizes | {"what": "sizes", "high": "tall"})
        self.assertContains(bad, 'value="tall"', status_code=422)
        self.client.post(self.url("card"), sizes | {"what": "sizes"})
        self.client.post(self.url("card"), {"step": bend})
        work = BenchWork.objects.get()
        self.assertEqual(
            (set(work.ticks), work.ticks["deburr"]["by"]), ({"deburr", bend}, self.owner.username)
        )
        there = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual(BenchWork.objects.get(cut__repair__vehicle=there).measured_mm, work.measured_mm)
        self.client.post(self.url("card"), {"step": bend, "undo": "1"})
        self.assertEqual(set(BenchWork.objects.get(pk=work.pk).ticks), {"deburr"})
        save_patch(
            patch_of(self.cut), stored_values(patch_of(self.cut)) | {"gap_mm": 0.3}, version=None, by="Wren"
        )
        self.assertContains(self.client.get(self.url("card")), "The pattern has changed since")
        self.client.post(self.url("card"), {"what": "anew"})
        self.assertEqual(BenchWork.objects.get(pk=work.pk).ticks, {})


class Welding(RepairCase):
    def typed(self, **changes):
        return {
            "version": "0",
            "process": "mig",
            "joint": "butt",
            "pitch_mm": "25",
            "cooling": "still",
            "limit_c": "60",
            "ambient_c": "15",
            "tack_energy_j": "",
            "proved": "",
        } | changes

    def test_the_sheet_shows_a_setting_to_prove_and_the_order(self):
        page = self.client.get(self.url("weld"))
        for words in (
            "Prove on scrap",
            "Corners and ends",
            "Close the gaps",
            "Straight run",
            "Fire watch",
            "Never under a shell",
        ):
            self.assertContains(page, words)
        heat = self.client.get(self.url("heat", 1) + "?seam=0&step=3").json()
        self.assertEqual([level["name"] for level in heat["levels"]][0], "hand-warm")
        self.assertTrue(any(level["name"] == "straw" and level["rings"] for level in heat["levels"]))
        for query in ("?seam=0&step=9999", "?seam=7&step=1", "?seam=x&step=y"):
            self.assertEqual(
                self.client.get(
                    self.url("heat", 1) + query, headers={"Accept": "application/json"}
                ).status_code,
                422,
            )

    def test_cautions_are_remembered(self):
        self.client.get(self.url("weld"))
        answer = self.ask(self.url("cautions", 1), {"keys": ["watch", "nonsense", "tank"]}).json()
        self.assertEqual(answer, {"keys": ["watch", "tank"], "ready": False})
        self.assertTrue(
            self.ask(
                self.url("cautions", 1),
                {"keys": ["watch", "extinguisher", "tank", "foam", "fume", "battery"]},
            ).json()["ready"]
        )
        self.assertNotContains(self.client.get(self.url("weld")), "Tick again on the day")
        WeldPlan.objects.update(cautions_on="2026-01-05")
        tomorrow = self.client.get(self.url("weld"))
        self.assertContains(tomorrow, "Last ticked 5 Jan 2026")
        self.assertFalse(tomorrow.context["board"].ready)

    def test_settings_are_refused_with_the_reason(self):
        self.client.get(self.url("weld"))
        for changes, words in (
            ({"process": "spot"}, "two sheets lying"),
            ({"limit_c": "20", "ambient_c": "30"}, "never cools"),
            ({"pitch_mm": "1"}, "out of range"),
        ):
            with self.subTest(words):
                self.assertContains(
                    self.client.post(self.url("weld"), self.typed(**changes)), words, status_code=422
                )
        answer = self.client.post(
            self.url("weld"),
            self.typed(tack_energy_j="800", cooling="blown", proved="1.0 mm scrap"),
            follow=True,
        )
        self.assertContains(answer, "worked out again")
        self.assertContains(
            self.client.post(self.url("weld"), self.typed()), "saved this while", status_code=409
        )

    def test_a_cut_that_ends_at_the_panels_edge_has_open_seams(self):
        edge = finding(self.vehicle, corners=[(900, 222), (960, 222), (960, 260), (900, 260)])
        made = open_repair(
            self.vehicle,
            [edge],
            title="",
            opened_on=edge.found_on,
            margin_mm=12,
            corner_radius_mm=10,
            web_mm=40,
            by="Wren",
        )
        plan = weld_of(made.cuts.get())
        self.assertFalse(plan.tack_plans[0]["closed"])
        self.assertGreater(len(SILL_HOLE), 3)
