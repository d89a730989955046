import math
import random
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.affinity import rotate
from shapely.geometry import Polygon

from yellow_sill.core.cut.asked import CutFinding, CutRequest
from yellow_sill.core.cut.check import check_cut
from yellow_sill.core.cut.lines import cut_lines, shaped_cut
from yellow_sill.core.errors import BadField, BadOutline
from yellow_sill.core.shell.duties import patch_remarks

PANEL = [[0, 0], [600, 0], [600, 300], [0, 300]]


def square(x, y, side=30):
    return [[x, y], [x + side, y], [x + side, y + side], [x, y + side]]


def request(*outlines, **changes):
    findings = [{"id": i, "layer": 1, "outline": outline} for i, outline in enumerate(outlines, start=1)]
    return CutRequest.read({"panel": {"outline": PANEL, "thickness_mm": 1.0}, "findings": findings} | changes)


def blob(seed, x, y, radius):
    rng = random.Random(seed)
    return [
        [x + radius * rng.uniform(0.6, 1) * math.cos(i), y + radius * rng.uniform(0.6, 1) * math.sin(i)]
        for i in (0, 0.9, 1.7, 2.6, 3.5, 4.4, 5.4)
    ]


class CutLines(TestCase):
    def test_one_hole_worked_by_hand(self):
        """A 30 mm square with 12 mm of margin: 54 mm square, corners of 10; weld = 4 * 54 - 8 * 10 + 2 pi 10."""
        [cut] = cut_lines(request(square(100, 100))).cuts
        self.assertEqual(cut.bounding_box_mm, [88, 88, 142, 142])
        self.assertAlmostEqual(cut.weld_length_mm, 4 * 54 - 80 + 20 * math.pi, delta=0.5)
        self.assertAlmostEqual(cut.area_mm2, 54 * 54 - (4 - math.pi) * 100, delta=3)
        self.assertEqual(cut.corners, [[88, 88], [142, 88], [142, 142], [88, 142]])

    def test_the_panels_edge_is_not_welded(self):
        [cut] = cut_lines(request(square(100, 0))).cuts
        self.assertEqual(cut.bounding_box_mm[1], 0)
        self.assertAlmostEqual(cut.perimeter_mm - cut.weld_length_mm, 54, delta=0.1)

    def test_holes_nearer_than_the_web_become_one(self):
        near = cut_lines(request(square(100, 100), square(190, 100))).cuts  # 60 apart, 36 between the cuts
        self.assertEqual([cut.findings for cut in near], [[1, 2]])
        far = cut_lines(request(square(100, 100), square(400, 100))).cuts
        self.assertEqual([cut.findings for cut in far], [[1], [2]])
        two = [{"id": i, "layer": i, "outline": square(100, 100)} for i in (1, 2)]
        self.assertEqual(
            len(cut_lines(request(square(100, 100), findings=two)).cuts), 2, "layers are cut apart"
        )

    def test_a_slanting_hole_turns_the_rectangle(self):
        slit = [[100, 100], [240, 240], [230, 250], [90, 110]]
        straight = Polygon(slit).envelope.buffer(12, join_style="mitre").area
        [cut] = cut_lines(request(slit, corner_radius_mm=0)).cuts
        self.assertLess(cut.area_mm2, 0.35 * straight)
        self.assertAlmostEqual(cut.area_mm2, (math.hypot(140, 140) + 24) * (math.hypot(10, 10) + 24), delta=1)

    def test_the_rectangle_wastes_least_metal_also_where_the_panel_ends_it(self):
        slope = [[0, 0], [600, 0], [600, 200], [0, 400]]  # its upper edge falls by 1 in 3
        rust = [[250, 270], [330, 262], [345, 270], [260, 300]]
        [cut] = cut_lines(
            request(rust, corner_radius_mm=0, panel={"outline": slope, "thickness_mm": 1.0})
        ).cuts
        panel = Polygon(slope)
        for tenth in range(0, 900, 3):
            around = rotate(
                rotate(Polygon(rust), -tenth / 10, origin=(0, 0)).envelope.buffer(12, join_style="mitre"),
                tenth / 10,
                origin=(0, 0),
            )
            self.assertLessEqual(cut.area_mm2, around.intersection(panel).area + 0.05, tenth)

    def test_rust_beyond_the_edge_is_told_and_what_lies_beside_is_refused(self):
        plan = cut_lines(request(square(585, 100)))
        self.assertEqual(plan.warnings[0].code, "CUT-01")
        with self.assertRaises(BadOutline):
            cut_lines(request(square(700, 100)))

    def test_a_thin_strip_left_standing_is_told(self):
        remarks = cut_lines(request(square(100, 20))).warnings  # 8 mm stay below the cut
        self.assertEqual([remark.code for remark in remarks], ["CUT-03"])
        self.assertAlmostEqual(remarks[0].at[1], 4, delta=1)

    def test_bad_input_is_refused_with_its_path(self):
        for changes, where in (
            ({"margin_mm": -1}, "margin_mm"),
            ({"style": "wavy"}, "style"),
            ({"colour": "red"}, "colour"),
            ({"findings": []}, "findings"),
            ({"panel": {"outline": PANEL, "thickness_mm": 0}}, "panel.thickness_mm"),
            (
                {"findings": [{"id": 1, "layer": 1, "outline": [[0, 0], [1, "x"], [2, 2]]}]},
                "findings[0].outline[1][1]",
            ),
        ):
            with self.subTest(where), self.assertRaises(BadField) as caught:
                cut_lines(request(square(100, 100), **changes))
            self.assertEqual(caught.exception.where, where)

    @settings(max_examples=40, deadline=None)
    @given(
        st.lists(
            st.tuples(st.integers(0, 99), st.floats(30, 570), st.floats(30, 270), st.floats(4, 40)),
            min_size=1,
            max_size=8,
        ),
        st.sampled_from(["rectangle", "hull"]),
        st.sampled_from([0, 6, 10, 20]),
    )
    def test_what_must_hold_for_any_rust(self, blobs, style, radius):
        """All rust with its margin lies inside, cuts keep the web, corners keep the radius away from the panel's edge."""
        outlines = [blob(*each) for each in blobs]
        plan = cut_lines(request(*outlines, style=style, corner_radius_mm=radius))
        panel, cuts = Polygon(PANEL), [Polygon(cut.outline) for cut in plan.cuts]
        for number, outline in enumerate(outlines, start=1):
            grown = Polygon(outline).buffer(12).intersection(panel)
            holding = max(
                (shape for cut, shape in zip(plan.cuts, cuts, strict=True) if number in cut.findings),
                key=lambda s: s.intersection(grown).area,
            )
            self.assertLess(grown.difference(holding.buffer(0.002)).area, 0.01)
        for i, cut in enumerate(cuts):
            self.assertTrue(panel.buffer(0.01).covers(cut))
            self.assertTrue(all(cut.distance(other) >= 40 - 0.01 for other in cuts[:i]))
            if radius and panel.buffer(-0.1).covers(cut):
                self.assertLess(cut.difference(cut.buffer(-radius + 0.2).buffer(radius)).area, 0.5)


class Checking(TestCase):
    RUST = CutFinding(id=3, layer=1, outline=square(100, 100))

    def check(self, corners, others=()):
        return check_cut(corners, PANEL, [self.RUST], others, margin_mm=12, radius_mm=10, web_mm=40)

    def test_a_good_line_has_nothing_said_against_it(self):
        checked = self.check(square(88, 88, 54))
        self.assertEqual(checked.remarks, [])
        self.assertAlmostEqual(checked.least_margin_mm, 12, delta=0.05)

    def test_a_sheet_that_bears_a_belt_or_a_spring_has_stricter_rules(self):
        how = {"margin_mm": 12, "radius_mm": 10, "web_mm": 40}
        for sheet, codes in (
            ("L-SILLI", ["CUT-18"]),
            ("L-SILL", []),
            ("L-DOORH", []),
            ("L-CHRAILB", ["CUT-18"]),
        ):
            told = check_cut(square(88, 88, 54), PANEL, [self.RUST], sheet=sheet, **how).remarks
            self.assertEqual([remark.code for remark in told], codes, sheet)
        whole = check_cut(PANEL, PANEL, [self.RUST], sheet="L-SILLI", **how).remarks
        self.assertNotIn("CUT-18", [remark.code for remark in whole], "no joint, where it is renewed whole")
        lapped = patch_remarks("L-CHRAIL", ["butt", "lap"], 2.0, 2.5)
        self.assertEqual([each.code for each in lapped], ["FLAT-20", "FLAT-21"])
        self.assertEqual(patch_remarks("L-SILLI", ["butt", "flange"], 1.2, 1.2), [])
        self.assertEqual(patch_remarks("L-SILL", ["lap"], 0.8, 1.2), [])

    CASES = {
        "rust stays outside": (square(115, 88, 54), (), "CUT-10"),
        "margin too thin": (square(95, 88, 54), (), "CUT-11"),
        "next cut too near": (square(88, 88, 54), (square(160, 88, 60),), "CUT-12"),
        "overlaps the next": (square(88, 88, 54), (square(120, 88, 60),), "CUT-12"),
    }

    def test_what_is_wrong_is_said_where_it_happens(self):
        for name, (corners, others, code) in self.CASES.items():
            with self.subTest(name):
                remark = next(r for r in self.check(corners, others).remarks if r.code == code)
                self.assertLess(Polygon(square(100, 100)).distance(Polygon(square(*remark.at, 1))), 60)

    def test_corners_that_make_no_cut_are_refused(self):
        for name, corners in {
            "bow tie": [[0, 0], [90, 90], [90, 0], [0, 90]],
            "beside": square(900, 10),
            "too narrow": [[50, 50], [250, 50], [250, 58], [50, 58]],
        }.items():
            with self.subTest(name), self.assertRaises(BadOutline):
                shaped_cut(corners, PANEL, 10)

    def test_an_edge_that_divides_a_cut_is_told(self):
        notched = [[0, 0], [600, 0], [600, 300], [320, 300], [320, 100], [280, 100], [280, 300], [0, 300]]
        with self.assertRaises(BadOutline) as caught:
            shaped_cut([[200, 150], [400, 150], [400, 250], [200, 250]], notched, 10)
        self.assertIn("two pieces", caught.exception.what)
