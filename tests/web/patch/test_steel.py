"""Steel in stock, plans, what a cutting does; bench sums; offer-ups; templated openings, each through its pages."""

import io
import json

import ezdxf
from django.test import TestCase, override_settings
from django.urls import reverse
from ezdxf import bbox
from pypdf import PdfReader

from tests.builders import finding, owner, repair, repair_page, vehicle, worked_out
from yellow_sill.web.frame import jobs
from yellow_sill.web.frame.models import Job
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.patch.fit_services import opening_of
from yellow_sill.web.patch.models import BenchSum, CuttingPlan, FitOffer, Patch, StockSheet
from yellow_sill.web.patch.services import developed, patch_of, save_patch, stored_values
from yellow_sill.web.shells.change_services import changes, take_back


class BenchCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.repair = repair(cls.vehicle, [finding(cls.vehicle)])
        cls.cut = worked_out(cls.repair.cuts.get())

    def setUp(self):
        self.client.force_login(self.owner)

    def at(self, name, *more):
        return reverse(f"patch:{name}", args=[self.vehicle.pk, *more])

    def sheet(self, **values):
        typed = {"what": "sheet", "thickness_mm": "1", "length_mm": "1000", "width_mm": "500"} | values
        return self.client.post(self.at("stock"), typed, follow=True)


class Steel(BenchCase):
    def test_from_a_sheet_to_a_cut_pattern_with_its_cost_and_its_offcut_and_back(self):
        self.assertContains(self.sheet(price="20", supplier="Depot"), "S1 is in stock")
        page = self.client.get(self.at("stock"))
        self.assertContains(page, "R-01.1")
        self.assertNotContains(page, "checked", msg_prefix="nothing is ticked by itself")
        typed = {
            "kerf_mm": "2",
            "margin_mm": "5",
            "keep_mm": "60",
            "turn_deg": "90",
            "take_R-01.1": "on",
            "from_S1": "on",
        }
        asked = self.client.post(self.at("nest"), typed)
        jobs.work_off()
        found = self.client.get(asked.url)
        self.assertContains(found, "1 pattern on S1")
        key = asked.url.split("find=")[1]
        plan_page = self.client.post(self.at("keep_plan", key), follow=True)
        self.assertContains(plan_page, "Cutting plan 1")
        plan = CuttingPlan.objects.get()
        for form in ("svg", "dxf", "pdf"):
            self.assertEqual(self.client.get(self.at("plan_file", 1, form)).status_code, 200)
        paper = PdfReader(io.BytesIO(self.client.get(self.at("plan_file", 1, "pdf")).content))
        self.assertIn("R-01.1", paper.pages[0].extract_text())
        cut = self.client.post(
            self.at("plan", 1), {"what": "cut", "version": plan.version, "rest": "0.0"}, follow=True
        )
        self.assertContains(cut, "the offcuts you ticked are in it")
        old, rest = StockSheet.objects.order_by("number")
        self.assertEqual((old.gone, rest.name, rest.from_plan), (True, "O2", 1))
        (line,) = self.vehicle.cost_lines.all()
        self.assertEqual((line.repair, line.kind, line.supplier), (self.repair, "steel", "Depot"))
        self.assertEqual(line.unit_price + rest.price, 20, "nothing of the price is lost")
        again = self.client.post(self.at("plan", 1), {"what": "cut", "version": plan.version + 1})
        self.assertContains(again, "cut already", status_code=422)
        self.assertContains(
            self.client.post(self.at("plan", 1), {"what": "drop", "version": plan.version + 1}),
            "it stays in the record",
            status_code=422,
        )
        take_back(self.vehicle, next(change.revision for change in changes(self.vehicle)), by="Wren")
        self.assertFalse(CuttingPlan.objects.get().cut_on)
        self.assertEqual(
            [sheet.gone for sheet in StockSheet.objects.all()],
            [False],
            "the sheet is whole again, its offcut gone",
        )
        self.assertFalse(self.vehicle.cost_lines.exists())

    def test_a_plan_says_when_its_pattern_has_changed(self):
        self.sheet()
        self.client.post(
            self.at("nest"),
            {
                "kerf_mm": "2",
                "margin_mm": "5",
                "keep_mm": "60",
                "turn_deg": "90",
                "take_R-01.1": "on",
                "from_S1": "on",
            },
        )
        jobs.work_off()
        self.client.post(self.at("keep_plan", Job.objects.get().fingerprint))
        self.assertNotContains(self.client.get(self.at("plan", 1)), "has changed since")
        patch = patch_of(self.cut)
        save_patch(patch, stored_values(patch) | {"gap_mm": 0.2}, version=None, by="Wren")
        self.assertContains(self.client.get(self.at("plan", 1)), "R-01.1: the pattern has changed since")
        StockSheet.objects.all().delete()
        answer = self.client.post(self.at("plan", 1), {"what": "cut", "version": 1})
        self.assertContains(answer, "S1 is not in stock any more", status_code=422)

    def test_what_does_not_fit_is_told_in_the_readers_units(self):
        self.sheet(length_mm="120", width_mm="90")
        asked = self.client.post(
            self.at("nest"),
            {
                "kerf_mm": "2",
                "margin_mm": "5",
                "keep_mm": "60",
                "turn_deg": "90",
                "take_R-01.1": "on",
                "from_S1": "on",
            },
        )
        jobs.work_off()
        self.assertContains(self.client.get(asked.url), "R-01.1 is larger than every piece in stock, S1 too")
        self.client.post(
            self.at("nest"),
            {"kerf_mm": "2", "margin_mm": "5", "keep_mm": "60", "turn_deg": "90", "take_R-01.1": "on"},
        )
        jobs.work_off()
        self.client.post(reverse("accounts:display"), {"unit": "in", "next": "/"})
        page = f"{self.at('stock')}?find={Job.objects.order_by('pk').last().fingerprint}"
        self.assertContains(self.client.get(page), "1 sheet of 78 3/4 in × 39 3/8 in, 1.00 mm thick")

    def test_refusals_stand_beside_their_field_and_keep_what_was_typed(self):
        for typed, words in (
            ({"length_mm": "0"}, "20"),
            ({"length_mm": "", "width_mm": ""}, "It has no size"),
            ({"outline": "0,0\n9,9\n9,0\n0,9", "length_mm": "", "width_mm": ""}, "crosses itself"),
            ({"thickness_mm": "-1"}, "0.3"),
        ):
            answer = self.sheet(**typed, place="rack by the door")
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, "rack by the door", status_code=422)
        self.assertFalse(StockSheet.objects.exists())
        usual = {"kerf_mm": "2", "margin_mm": "5", "keep_mm": "60", "turn_deg": "90"}
        self.assertContains(self.client.post(self.at("nest"), usual), "No pattern is ticked", status_code=422)

    def test_a_piece_that_was_cut_meanwhile_is_not_put_in_again(self):
        self.sheet()
        StockSheet.objects.update(cut_by_plan=1)
        answer = self.sheet(sheet="1", version="1", place="by the window")
        self.assertContains(answer, "by the window", status_code=404)
        self.assertEqual(StockSheet.objects.count(), 1)

    def test_two_changes_of_a_sheet_are_both_shown(self):
        self.sheet()
        self.sheet(sheet="1", version="1", place="left")
        answer = self.sheet(sheet="1", version="1", place="right")
        self.assertContains(answer, "left", status_code=409)
        self.assertEqual(StockSheet.objects.get().place, "left")


class Sums(BenchCase):
    TYPED = {
        "shape": {"title": "Corner", "heights": "0 9 0\n6 15 6\n0 9 0", "step_u_mm": "150", "step_v_mm": "150", "reading_mm": "0.5", "limit_percent": "6"},
        "pressed": {"title": "Recess", "thickness_mm": "1", "recess_length_mm": "200", "recess_width_mm": "120", "recess_corner_mm": "25", "recess_depth_mm": "8"},
        "jig": {"title": "Hangers", "marks": "a: 0, 0, 0\nb: 400, 0, 0\nc: 400, 300, 0", "made_of": "plate", "foot_mm": "40"},
    }  # fmt: skip

    def test_each_is_worked_out_kept_and_taken_as_files(self):
        for kind, sheet, words in (
            ("shape", "templates", "Crowned"),
            ("pressed", "formers", "draws in"),
            ("jig", "jig", "mm"),
        ):
            with self.subTest(kind):
                page = f"{self.at('sums')}?kind={kind}"
                self.assertContains(self.client.post(page, self.TYPED[kind] | {"what": "try"}), words)
                self.assertFalse(BenchSum.objects.filter(kind=kind).exists(), "trying stores nothing")
                kept = self.client.post(page, self.TYPED[kind] | {"what": "keep"}, follow=True)
                self.assertContains(kept, words)
                number = BenchSum.objects.get(kind=kind).number
                drawn = ezdxf.read(
                    io.StringIO(self.client.get(self.at("sum_file", number, sheet, "dxf")).content.decode())
                )
                self.assertTrue(len(drawn.modelspace()))
                self.assertTrue(
                    self.client.get(self.at("sum_file", number, sheet, "pdf")).content.startswith(b"%PDF")
                )
                self.assertEqual(
                    self.client.get(self.at("sum_file", number, "nothing", "pdf")).status_code, 404
                )

    def test_a_drill_template_is_true(self):
        self.client.post(f"{self.at('sums')}?kind=jig", self.TYPED["jig"] | {"what": "keep"})
        drawn = ezdxf.read(
            io.StringIO(self.client.get(self.at("sum_file", 1, "jig", "dxf")).content.decode())
        )
        centres = sorted(
            (round(c.dxf.center.x, 1), round(c.dxf.center.y, 1)) for c in drawn.modelspace().query("CIRCLE")
        )
        far = sorted(
            round(((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5)
            for i, a in enumerate(centres)
            for b in centres[:i]
        )
        self.assertEqual(far, [300, 400, 500])

    def test_formers_are_as_large_as_told(self):
        kept = self.client.post(
            f"{self.at('sums')}?kind=pressed", self.TYPED["pressed"] | {"what": "keep"}, follow=True
        )
        formers = kept.context["told"].recess.formers
        drawn = ezdxf.read(
            io.StringIO(self.client.get(self.at("sum_file", 1, "formers", "dxf")).content.decode())
        )
        box = bbox.extents(drawn.modelspace().query("LWPOLYLINE"))
        self.assertAlmostEqual(box.size.x, sum(each.length_mm for each in formers) + 60, delta=0.1)
        self.assertAlmostEqual(box.size.y, max(each.width_mm for each in formers), delta=0.1)

    def test_refusals_keep_every_word(self):
        for kind, changed, words in (
            ("shape", {"heights": "0 9 1\n1 2"}, "as many as the first"),
            ("shape", {"sections": "along at 0: 0/0 9/9"}, "one of them"),
            ("shape", {"heights": "", "radius_mm": "900"}, "Type both"),
            ("pressed", {"recess_corner_mm": ""}, "Type it"),
            ("pressed", {"recess_depth_mm": "190"}, "The walls meet"),
            ("jig", {"marks": "a: 0, 0, 0\na: 400, 0, 0"}, "one name"),
            ("jig", {"marks": "a 0 0 0"}, "is no mark"),
            ("jig", {"measured": "a - z: 5"}, "No two marks"),
        ):
            with self.subTest(words):
                answer = self.client.post(
                    f"{self.at('sums')}?kind={kind}", self.TYPED[kind] | changed | {"what": "keep"}
                )
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, self.TYPED[kind]["title"], status_code=422)
        self.assertFalse(BenchSum.objects.exists())

    def test_a_gauge_number_alone_is_asked_about(self):
        page = f"{self.at('sums')}?kind=gauge&text="
        self.assertContains(
            self.client.get(page + "18+gauge"), "Write &#x27;18 us&#x27; or &#x27;18 swg&#x27;"
        )
        self.assertContains(self.client.get(page + "18+swg"), "1.22 mm")

    def test_what_was_typed_in_inches_stays_so_when_millimetres_are_shown(self):
        self.client.post(reverse("accounts:display"), {"unit": "in", "next": "/"})
        self.client.post(
            f"{self.at('sums')}?kind=jig",
            self.TYPED["jig"]
            | {"marks": "a: 0, 0, 0\nb: 10, 0, 0", "made_of": "tube", "foot_mm": "1", "what": "keep"},
        )
        self.client.post(reverse("accounts:display"), {"unit": "mm", "next": "/"})
        self.assertContains(self.client.get(f"{self.at('sums')}?sum=1"), "254.0")


class Fit(BenchCase):
    def page(self):
        return f"{repair_page(self.repair, 'fit')}?cut=1"

    def places(self):
        found = []
        for edge in opening_of(self.cut).edges:
            for (u0, v0), (u1, v1) in zip(edge["path"], edge["path"][1:], strict=False):
                found += [f"{u0 + (u1 - u0) * s} {v0 + (v1 - v0) * s}" for s in (0.1, 0.35, 0.65, 0.9)]
        return found

    def offer(self, gaps, **more):
        typed = {
            "what": "offer",
            "process": "mig",
            "school": "template",
            "note": "first go",
            "at": self.places(),
            "gap": gaps,
        }
        return self.client.post(self.page() + "&offer=new", typed | more, follow=True)

    def test_an_offer_is_judged_kept_and_moves_the_ribbon_only_when_it_fits(self):
        count = len(self.places())
        answer = self.offer(["0.5"] * (count - 1) + ["4"])
        self.assertContains(answer, "Metal is missing")
        self.assertContains(answer, "Strip ")
        offer = FitOffer.objects.get()
        name = next(iter(answer.context["told"].fillers)).name
        strip = self.client.get(repair_page(self.repair, "strip", 1, 1, name, "pdf"))
        self.assertTrue(strip.content.startswith(b"%PDF"))
        self.repair.state = "made"
        self.repair.save()
        self.repair.steps.create(state="made", made_on="2026-11-01", by="Wren")
        refused = self.client.post(self.page(), {"what": "fitted", "version": self.repair.version})
        self.assertContains(refused, "Metal is missing", status_code=422)
        fits = self.offer(["0.5"] * count)
        self.assertContains(fits, "It fits all round")
        self.assertContains(fits, "record it as fitted")
        self.assertEqual(FitOffer.objects.count(), 2)
        self.assertEqual(offer.note, "first go")

    def test_what_was_typed_in_millimetres_is_not_read_as_inches(self):
        self.offer(["0.5", "-1"] + [""] * (len(self.places()) - 2))
        self.client.post(reverse("accounts:display"), {"unit": "in", "next": "/"})
        rows = self.client.get(self.page()).context["rows"]
        self.assertNotIn("0.5", [text for _, text, _ in rows])
        typed = {
            "what": "offer",
            "process": "mig",
            "school": "template",
            "note": "",
            "at": [at for at, *_ in rows],
            "gap": [text for _, text, _ in rows],
            "version": 1,
        }
        self.client.post(f"{self.page()}&offer=1", typed)
        for gap, true in zip(FitOffer.objects.get().gaps, (0.5, -1), strict=True):
            self.assertAlmostEqual(gap["gap_mm"], true, delta=0.02)

    def test_an_offer_that_is_gone_meanwhile_does_not_take_anothers_place(self):
        self.offer(["0.5"] * len(self.places()))
        self.offer(["0.7"] * len(self.places()))
        page = self.client.get(self.page())
        self.assertContains(page, "offer=2")
        FitOffer.objects.get(number=2).delete()
        typed = {
            "what": "offer",
            "process": "mig",
            "school": "template",
            "note": "mine",
            "at": self.places(),
            "gap": ["0.9"] * len(self.places()),
            "version": 1,
        }
        answer = self.client.post(f"{self.page()}&offer=2", typed)
        self.assertContains(answer, "mine", status_code=404)
        self.assertEqual({gap["gap_mm"] for gap in FitOffer.objects.get().gaps}, {0.5})

    def test_half_measured_is_not_known(self):
        answer = self.offer(["0.5"] + [""] * (len(self.places()) - 1))
        self.assertContains(answer, "not known")
        self.assertNotContains(answer, "record it as fitted")

    def test_a_gap_that_cannot_be_read_is_told_beside_it_and_nothing_is_lost(self):
        answer = self.offer(["o.5", "0.7"] + [""] * (len(self.places()) - 2))
        self.assertContains(answer, "o.5", status_code=422)
        self.assertContains(answer, "0.7", status_code=422)
        self.assertContains(answer, "first go", status_code=422)
        self.assertFalse(FitOffer.objects.exists())


class Openings(BenchCase):
    def test_a_templated_opening_fills_the_pattern_and_is_taken_back(self):
        page = f"{repair_page(self.repair, 'opening')}?cut=1"
        wider = [[u * 1.0 + (3 if u > 760 else 0), v] for u, v in self.cut.outline]
        text = "\n".join(f"{u}, {v}" for u, v in wider)
        self.assertContains(self.client.post(page, {"what": "try", "corners": text}), "As the drawing counts")
        self.assertFalse(Patch.objects.get().opening, "showing stores nothing")
        self.client.post(page, {"what": "keep", "corners": text, "version": "1"})
        patch = Patch.objects.get()
        self.assertEqual(developed(self.cut, stored_values(patch)).opening, patch.opening)
        self.assertContains(
            self.client.get(f"{repair_page(self.repair, 'patch')}?cut=1"), "The opening is as templated"
        )
        data = export_vehicle(self.vehicle)
        self.assertEqual(
            import_vehicle(data, self.owner).repairs.get().cuts.get().patch.opening, patch.opening
        )
        self.client.post(page, {"what": "drop", "version": patch.version})
        self.assertEqual(Patch.objects.get(cut=self.cut).opening, [])

    def test_refusals(self):
        page = f"{repair_page(self.repair, 'opening')}?cut=1"
        for typed, words in (
            ({}, "one of them"),
            ({"corners": "0, 0\n50, 0\n50, 50"}, "does not lie where the cut is"),
            ({"taped": "100 200\n300 400\n500 600"}, "Taped points need both marks"),
            ({"taped": "1 2\n3 4\n5 6", "first": "700, 300", "second": "900, 300"}, "cannot meet"),
            ({"corners": "0, 0\nx, 1"}, "x"),
        ):
            with self.subTest(words):
                self.assertContains(
                    self.client.post(page, typed | {"what": "keep", "version": "1"}), words, status_code=422
                )


class Holes(BenchCase):
    def test_holes_typed_on_an_edge_and_on_the_base_are_kept_and_shown_again(self):
        page = f"{repair_page(self.repair, 'patch')}?cut=1"
        form = self.client.get(page).context["form"]
        edge = max(form.seen, key=lambda each: each.length_mm).name
        u, v = form.view.in_shell(
            [[sum(at[k] for at in self.cut.outline) / len(self.cut.outline) for k in (0, 1)]]
        )[0]
        typed = {name: form[name].value() for name in form.fields if form[name].value() is not None}
        typed |= {
            f"treatment_{edge}": "flange",
            f"leg_{edge}": "25",
            "holes": f"{edge}: drain 6 at 40, 12\nbase: slot 8 x 20 at {u:.1f}, {v:.1f}",
        }
        answer = self.client.post(page, typed)
        self.assertEqual(answer.status_code, 302, answer.context and answer.context["form"].errors)
        patch = Patch.objects.get()
        flat = developed(self.cut, stored_values(patch)).pattern
        self.assertEqual(sorted(hole.kind for hole in flat.holes), ["drain", "slot"])
        self.assertIn(f"{edge}: drain 6 at 40, 12", self.client.get(page).context["form"]["holes"].value())
        card = self.client.get(repair_page(self.repair, "pattern", 1, "pdf") + "?card=1")
        self.assertIn("card template", PdfReader(io.BytesIO(card.content)).pages[0].extract_text())
        wrong = self.client.post(page, typed | {"holes": "Q: drain 6 at 1, 1", "version": patch.version})
        self.assertContains(wrong, "There is no edge Q", status_code=422)


@override_settings(MEDIA_ROOT="/nonexistent")
class Bundles(BenchCase):
    def test_the_bench_goes_out_and_comes_back_the_same(self):
        self.sheet(price="20", coating="zinc")
        self.client.post(f"{self.at('sums')}?kind=jig", Sums.TYPED["jig"] | {"what": "keep"})
        CuttingPlan.objects.create(
            vehicle=self.vehicle, number=1, asked={"kerf_mm": 2}, told={"sheets": []}, made_on="2026-11-01"
        )
        FitOffer.objects.create(
            cut=self.cut,
            number=1,
            offered_on="2026-11-01",
            gaps=[{"at": [1.0, 2.0], "gap_mm": -0.5, "typed": "-.5"}],
            by="Wren",
        )
        data = export_vehicle(self.vehicle)
        again = import_vehicle(data, self.owner)
        self.assertEqual(export_vehicle(again), data)
        self.assertEqual(
            json.loads(json.dumps(again.bench_sums.get().typed)),
            BenchSum.objects.get(vehicle=self.vehicle).typed,
        )
