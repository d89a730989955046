"""Growth, coverage, where to look, thickness, gauge, old repairs."""

import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon

from yellow_sill.core.device_lines import GAUGE, TAPE, LostReading, device_line, read_line, settled
from yellow_sill.core.errors import BadField, BadOutline
from yellow_sill.core.shell import BODY_TYPES, build_shell
from yellow_sill.core.survey.coverage import CoverageRequest, best_views, coverage, region_outline
from yellow_sill.core.survey.gauge import MadReading, settled_thickness
from yellow_sill.core.survey.grading import (
    Grade,
    GradeRequest,
    Grading,
    graded,
    overruled,
    with_least_reading,
    with_old_repair,
)
from yellow_sill.core.survey.growth import PRIOR_RATIO, GrowthRequest, growth_forecast
from yellow_sill.core.survey.old_repairs import old_repair
from yellow_sill.core.survey.thickness import check_reading, grid_cells, loss_pct, summary
from yellow_sill.core.survey.where_next import BY_BODY, USUAL, Sheet, look_next


def extent(stage, area):
    return {"stage": stage, "area_mm2": area, "perimeter_mm": 4 * math.sqrt(area)}


def forecast(*ratios, closed=1, area=10_000):
    opened = [
        {"id": i, "extents": [extent("seen", area), extent("opened", area * ratio)]}
        for i, ratio in enumerate(ratios)
    ]
    return growth_forecast(
        GrowthRequest.read(
            {"findings": opened + [{"id": f"c{i}", "extents": [extent("seen", area)]} for i in range(closed)]}
        )
    )


class Growth(TestCase):
    def test_without_cases_it_is_the_prior(self):
        told = forecast()
        self.assertEqual(told.cases, 0)
        self.assertAlmostEqual(told.ratio.p50, PRIOR_RATIO, delta=0.06)
        self.assertEqual(told.area_mm2.now, 10_000)

    def test_three_cases_do_not_shout_and_thirty_do(self):
        three, thirty = forecast(4, 4.2, 3.8), forecast(*[4, 4.2, 3.8] * 10)
        self.assertTrue(PRIOR_RATIO < three.ratio.p50 < 3.2, three.ratio)
        self.assertAlmostEqual(thirty.ratio.p50, 4, delta=0.45)

    def test_what_is_opened_is_known_and_nothing_shrinks(self):
        told = forecast(1.5)
        self.assertEqual([(f.known, f.area_mm2.p50) for f in told.findings][0], (True, 15_000))
        self.assertGreaterEqual(told.findings[1].area_mm2.p50, 10_000)

    @given(st.lists(st.floats(0.6, 6), max_size=12), st.integers(0, 30))
    def test_likely_is_never_above_the_cautious_figure(self, ratios, closed):
        told = forecast(*ratios, closed=closed)
        for each in (told.area_mm2, told.weld_mm, told.hours, *(f.area_mm2 for f in told.findings)):
            self.assertLessEqual(each.p50, each.p80)
            self.assertLessEqual(each.now, each.p50 + 1)
        self.assertEqual(told, forecast(*ratios, closed=closed), "the same survey gives the same forecast")

    def test_outlines_out_of_order_are_refused(self):
        with self.assertRaises(BadField):
            growth_forecast(
                GrowthRequest.read(
                    {"findings": [{"id": 1, "extents": [extent("opened", 9), extent("seen", 9)]}]}
                )
            )


SQUARE = [[0, 0], [100, 0], [100, 100], [0, 100]]


class Looked(TestCase):
    def test_shares_by_panel_layer_and_whole(self):
        panels = [
            {
                "code": "A",
                "layer": 1,
                "outline": SQUARE,
                "looked": [[[-50, 0], [50, 0], [50, 100], [-50, 100]], [[0, 0], [50, 0], [50, 50], [0, 50]]],
            },
            {"code": "B", "layer": 2, "outline": SQUARE, "holes": [[[25, 25], [75, 25], [75, 75], [25, 75]]]},
        ]
        told = coverage(CoverageRequest.read({"panels": panels}))
        self.assertEqual(
            [p.share for p in told.panels],
            [0.5, 0.0],
            "overlapping regions count once, and only on the panel",
        )
        self.assertEqual(told.layers, {"1": 0.5, "2": 0.0})
        self.assertAlmostEqual(told.share, 5000 / 17500, places=3)
        self.assertAlmostEqual(Polygon(told.panels[0].unknown[0][0]).area, 5000, delta=2)
        self.assertEqual(len(told.panels[1].unknown[0]), 2, "a hole stays a hole")

    @given(
        st.lists(
            st.tuples(st.floats(-40, 120), st.floats(-40, 120), st.floats(4, 90), st.floats(4, 90)),
            max_size=8,
        )
    )
    def test_known_and_unknown_make_the_whole(self, boxes):
        regions = [region_outline([[x, y], [x + w, y + h]]) for x, y, w, h in boxes]
        [told] = coverage(
            CoverageRequest.read({"panels": [{"code": "A", "outline": SQUARE, "looked": regions}]})
        ).panels
        unknown = sum(Polygon(part[0], part[1:]).area for part in told.unknown)
        self.assertAlmostEqual(
            told.looked_mm2 + unknown, told.area_mm2, delta=600
        )  # slivers, up to 2 mm by 100, are left out
        self.assertTrue(0 <= told.share <= 1)

    def test_the_best_view_of_a_sheet_counts(self):
        seen = coverage(
            CoverageRequest.read(
                {
                    "panels": [
                        {"code": "A", "outline": SQUARE, "looked": [SQUARE]},
                        {"code": "A", "outline": SQUARE},
                    ]
                }
            )
        ).panels
        self.assertEqual([cover.share for cover in best_views((cover.code, cover) for cover in seen)], [1.0])

    def test_a_region_is_two_corners_or_an_outline(self):
        self.assertEqual(Polygon(region_outline([[40, 60], [10, 20]])).area, 1200)
        for bad in ([[1, 1], [1, 1]], [[0, 0]], [[0, 0], [9, 9], [9, 0], [0, 9]]):
            with self.subTest(bad), self.assertRaises(BadOutline):
                region_outline(bad)

    def test_where_to_look_next(self):
        sheets = [
            Sheet(code="ROOF", name="Roof", share=0.0),
            Sheet(code="R-SILL", name="Sill", share=0.2, mirror_grades=("S", "H")),
            Sheet(code="L-SILL", name="Sill", share=0.95),
            Sheet(code="L-TOE", name="Toe board", share=0.0),
        ]
        told = look_next("saloon-2-door-unitary", sheets)
        self.assertEqual([place.code for place in told], ["R-SILL", "L-TOE", "ROOF"])
        self.assertIn("the other side is holed", told[0].why)
        self.assertIn("80 % unknown", told[0].why)
        self.assertLessEqual(set(BY_BODY), set(BODY_TYPES))
        drawn = {
            p.code.removeprefix("L-").removeprefix("R-")
            for kind in BODY_TYPES
            for view in build_shell(kind, {}, "left").views
            for p in view.panels
        }
        self.assertEqual(drawn, set(USUAL), "every sheet that is drawn has its weight, and no other")


class Thickness(TestCase):
    def test_the_grid_keeps_its_cells_when_the_outline_grows(self):
        small, large = (
            grid_cells(SQUARE, 20),
            grid_cells([[-30, -10], [130, -10], [130, 110], [-30, 110]], 20),
        )
        self.assertEqual(len(small), 25)
        self.assertLess(set(small), set(large))
        self.assertEqual(len(grid_cells([[3, 3], [6, 3], [6, 6]], 20)), 1, "a pinhole has its cell")
        for pitch in (1, 500, 5):
            with self.subTest(pitch), self.assertRaises(BadField):
                grid_cells([[0, 0], [900, 0], [900, 900], [0, 900]], pitch)

    def test_loss_and_summary(self):
        self.assertEqual((loss_pct(0.75, 1.0), loss_pct(1.02, 1.0)), (25.0, -2.0))
        told = summary({(0, 0): 0.9, (1, 0): 0.6}, [(0, 0), (1, 0), (2, 0)], 1.0)
        self.assertEqual(
            (told.count, told.cells, told.worst_loss_pct, told.worst_cell, told.mean_loss_pct),
            (2, 3, 40.0, (1, 0), 25.0),
        )
        self.assertIsNone(summary({}, [], 1.0))
        for bad in (-0.1, 25, math.nan):
            with self.subTest(bad), self.assertRaises(BadField):
                check_reading(bad)

    @given(st.integers(0, 99_999), st.one_of(st.none(), st.floats(0.1, 20)), st.integers(0, 9))
    def test_a_line_of_the_gauge_survives_and_a_damaged_one_is_known(self, number, mm, echo):
        line = device_line(GAUGE, number, mm, echo)
        read = read_line(GAUGE, line + "\r\n")
        self.assertEqual((read.number, read.quality), (number, echo))
        self.assertIsNone(read_line(GAUGE, line[:5] + "9" + line[5:]))
        self.assertIsNone(read_line(TAPE, line), "another device's line")

    def test_a_reading_settles_or_is_refused(self):
        lines = lambda *values, echo=7: [device_line(GAUGE, i, value, echo) for i, value in enumerate(values)]
        self.assertEqual(settled_thickness(lines(0.9, None, 0.82, 0.83, 0.82, 9.9), 1.0), 0.82)
        tape = [device_line(TAPE, i, value, 7) for i, value in enumerate((1741.0, 1742.3, 1742.1, 1742.2))]
        self.assertEqual(settled(TAPE, tape), 1742.2)
        for bad, error in (
            ([], LostReading),
            (lines(*[None] * 30), LostReading),
            (lines(0.8, 0.8, 0.8, echo=2), LostReading),
            (["rubbish"] * 9, LostReading),
            (lines(0.5, 0.9, 0.6, 1.0) * 9, LostReading),
            (lines(2.0, 2.0, 2.01), MadReading),
            (lines(0.1, 0.1, 0.1), MadReading),
        ):
            with self.subTest(bad[:1]), self.assertRaises(error):
                settled_thickness(bad, 1.0)


class OldRepairsAndOverruling(TestCase):
    def test_what_may_stay(self):
        self.assertEqual(old_repair("brazed", "passed", "keep").verdict, "keep")
        self.assertEqual(old_repair("brazed", "none", "").verdict, "undo")
        for kind, test, verdict, words in (
            ("brazed", "none", "keep", "passed a test"),
            ("over-plate", "passed", "keep", "hides"),
            ("glued", "none", "", "not known"),
            ("brazed", "maybe", "", "not known"),
        ):
            with self.subTest(kind + test), self.assertRaises(BadField) as caught:
                old_repair(kind, test, verdict)
            self.assertIn(words, caught.exception.message)

    def test_an_old_repair_is_filled_until_it_is_off(self):
        self.assertEqual(with_old_repair(Grading(grade=Grade.SOUND, why="Sound."), "x").grade, Grade.FILLED)
        self.assertEqual(with_old_repair(Grading(grade=Grade.HOLED, why="Holed."), "x").grade, Grade.HOLED)

    def test_the_thinnest_reading_may_worsen_a_grade_but_closes_no_hole(self):
        surface, holed = (
            Grading(grade=Grade.SURFACE, why="Surface: the probe holds."),
            Grading(grade=Grade.HOLED, why="Holed: the probe went through."),
        )
        self.assertEqual(with_least_reading(surface, 0.6, 1.0).grade, Grade.THIN)
        told = with_least_reading(holed, 0.77, 1.0)
        self.assertEqual(
            (told.grade, told.why),
            (
                Grade.HOLED,
                "Holed: the probe went through. At its thinnest the gauge reads 0.77 mm, 23 % less than 1 mm.",
            ),
        )
        self.assertEqual(
            with_least_reading(Grading(grade=None, why="No evidence yet."), 0.95, 1.0).grade, Grade.SOUND
        )

    def test_a_person_may_overrule_with_a_reason(self):
        thin = Grading(grade=Grade.THIN, why="Thin: the probe dents it.")
        self.assertEqual(
            overruled(thin, "S", "dent is old").why,
            "Surface, overruled: dent is old. The evidence says thin.",
        )
        for to, reason in (("S", " "), ("T", "same"), ("Q", "unknown")):
            with self.subTest(to), self.assertRaises(BadField):
                overruled(thin, to, reason)
        looks = [{"method": "probe", "result": "through", "made_on": "2026-02-14"}]
        self.assertEqual(graded(GradeRequest.read({"thickness_mm": 1, "evidence": looks})).grade, Grade.HOLED)
        with self.assertRaises(BadField):
            graded(
                GradeRequest.read(
                    {
                        "thickness_mm": 1,
                        "evidence": [{"method": "tap", "result": "sings", "made_on": "2026-02-14"}],
                    }
                )
            )
