"""Cut lines through layers, and what they meet: seams, rows of spot welds, keep-outs, fittings, curves, marks."""

from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon
from shapely.ops import unary_union

from yellow_sill.core.cut.asked import CutRequest
from yellow_sill.core.cut.lines import cut_lines
from yellow_sill.core.errors import BadOutline

PANEL = [[0, 0], [1000, 0], [1000, 400], [0, 400]]


def hole(x, y, w=60, h=40):
    return [[x, y], [x + w, y], [x + w, y + h], [x, y + h]]


def plan(*findings, around=None, **more):
    told = [{"id": i, "layer": layer, "outline": outline} for i, (layer, outline) in enumerate(findings)]
    asked = {"panel": {"outline": PANEL, "thickness_mm": 1}, "findings": told, "around": around or {}}
    return cut_lines(CutRequest.read(asked | {"margin_mm": 10, "corner_radius_mm": 10} | more))


def line(name, kind, *path):
    return {"name": name, "kind": kind, "path": [list(p) for p in path]}


class Around(TestCase):
    def test_a_side_near_a_seam_ends_on_it_and_says_why(self):
        seam = line("sill seam", "seam", (0, 100), (1000, 100))
        cut = plan(
            (1, hole(200, 130)), around={"lines": [seam, line("far", "swage", (0, 20), (1000, 20))]}
        ).cuts[0]
        self.assertAlmostEqual(cut.bounding_box_mm[1], 100, places=3)
        self.assertEqual([(e.on, e.kind) for e in cut.met.ended_on], [("sill seam", "seam")])
        self.assertAlmostEqual(cut.met.ended_on[0].moved_mm, 20, delta=0.2)
        self.assertIn("hides the weld", cut.met.ended_on[0].why)
        for away in (
            line("steep", "seam", (0, 20), (1000, 260)),
            line("inside", "seam", (0, 150), (1000, 150)),
            line("short", "seam", (0, 110), (220, 110)),
        ):
            self.assertEqual(plan((1, hole(200, 130)), around={"lines": [away]}).cuts[0].met.ended_on, [])

    def test_a_side_along_a_row_of_spot_welds_takes_the_flange(self):
        row = {"name": "lower flange", "path": [[0, 116], [1000, 116]]}
        cut = plan((1, hole(200, 130)), around={"rows": [row]}).cuts[0]
        self.assertAlmostEqual(cut.bounding_box_mm[1], 106, places=3)
        self.assertEqual((cut.met.ended_on[0].kind, cut.met.takes_rows), ("row", ["lower flange"]))
        crossing = {"name": "post", "path": [[230, 0], [230, 400]]}
        met = plan((1, hole(200, 130)), around={"rows": [crossing]}).cuts[0].met
        self.assertEqual((met.ended_on, met.takes_rows), ([], ["post"]))
        self.assertEqual(
            plan((1, hole(200, 130)), around={"rows": [row], "row_clear_mm": 3}).cuts[0].met.ended_on, []
        )

    def test_keep_outs_fittings_and_marks_are_named(self):
        around = {
            "keep_outs": [
                {"name": "the number stamping", "outline": hole(255, 140, 40, 10)},
                {"name": "far", "outline": hole(700, 300)},
            ],
            "fittings": [
                {"name": "cable guide", "outline": hole(150, 150, 60, 8)},
                {"name": "clip", "outline": hole(220, 140, 10, 10)},
            ],
            "transfer_marks": [{"name": "T1 stud", "at": [230, 150]}, {"name": "T2", "at": [600, 150]}],
        }
        told = plan((1, hole(200, 130)), around=around)
        met = told.cuts[0].met
        self.assertEqual(
            (met.crosses, met.behind, met.marks),
            (["the number stamping"], ["cable guide", "clip"], ["T1 stud"]),
        )
        self.assertEqual([remark.code for remark in told.warnings], ["CUT-20", "CUT-21"])
        self.assertIn("must stay", told.warnings[0].what)

    def test_a_joint_square_across_a_curve_is_slanted(self):
        curve = {"name": "wheel arch lip", "path": [[0, 150], [1000, 150]]}
        plain, cut = (
            plan((1, hole(200, 130))).cuts[0],
            plan((1, hole(200, 130)), around={"curves": [curve]}).cuts[0],
        )
        self.assertEqual(cut.met.slanted, ["wheel arch lip"] * 2)
        self.assertTrue(Polygon(cut.outline).buffer(0.01).covers(Polygon(plain.outline)))
        self.assertGreater(cut.area_mm2, plain.area_mm2)

    def test_a_side_stays_where_moving_it_would_crowd_the_next_cut(self):
        seam = line("seam", "seam", (285, 0), (285, 400))
        near = plan((1, hole(200, 130)), (1, hole(400, 130)), around={"lines": [seam]}, web_mm=110)
        self.assertEqual(len(near.cuts), 2)
        gap = Polygon(near.cuts[0].outline).distance(Polygon(near.cuts[1].outline))
        self.assertGreaterEqual(gap, 110 - 0.01)
        self.assertEqual(len(plan((1, hole(200, 130)), around={"lines": [seam]}).cuts[0].met.ended_on), 1)

    def test_the_outer_window_is_bigger_by_the_step_and_told_as_one(self):
        told = plan(
            ("inner", hole(200, 130)),
            ("outer", hole(700, 130)),
            layer_order=["outer", "middle", "inner"],
            step_mm=20,
        )
        self.assertEqual(
            [(c.layer, c.window_of, c.findings) for c in told.cuts],
            [("outer", ["middle"], []), ("outer", [], [1]), ("middle", ["inner"], []), ("inner", [], [0])],
        )
        inner, middle, outer = (Polygon(told.cuts[i].outline) for i in (3, 2, 0))
        self.assertTrue(middle.buffer(0.01).covers(inner.buffer(20)))
        self.assertTrue(outer.buffer(0.01).covers(middle.buffer(20)))

    def test_what_has_no_length_or_crosses_itself_is_refused_by_name(self):
        for around, where in (
            ({"lines": [line("dot", "seam", (5, 5), (5, 5))]}, "around.lines[0].path"),
            (
                {"keep_outs": [{"name": "bow", "outline": [[0, 0], [9, 9], [9, 0], [0, 9]]}]},
                "around.keep_outs[0].outline",
            ),
        ):
            with self.assertRaises(BadOutline) as caught:
                plan((1, hole(200, 130)), around=around)
            self.assertEqual(caught.exception.where, where)

    @settings(deadline=None, max_examples=60)
    @given(
        st.lists(st.tuples(st.sampled_from(["outer", "inner"]), st.floats(20, 900), st.floats(20, 330), st.floats(8, 80), st.floats(8, 60)), min_size=1, max_size=5),
        st.lists(st.tuples(st.booleans(), st.floats(0, 1000)), max_size=4), st.floats(0, 30), st.floats(0, 30),
    )  # fmt: skip
    def test_whatever_is_round_it_no_rust_stays_nothing_off_the_panel_goes_and_the_step_is_kept(
        self, holes, lines, margin, step
    ):
        around = {
            "lines": [
                line(f"l{i}", "swage", *(((0, v * 0.4), (1000, v * 0.4)) if flat else ((v, 0), (v, 400))))
                for i, (flat, v) in enumerate(lines[:2])
            ],
            "rows": [
                {"name": f"r{i}", "path": [[0, v * 0.4], [1000, v * 0.4]] if flat else [[v, 0], [v, 400]]}
                for i, (flat, v) in enumerate(lines[2:])
            ],
        }
        told = plan(
            *((layer, hole(*box)) for layer, *box in holes),
            around=around,
            margin_mm=margin,
            step_mm=step,
            layer_order=["outer", "inner"],
        )
        panel = Polygon(PANEL)
        cuts = {
            layer: unary_union([Polygon(c.outline) for c in told.cuts if c.layer == layer])
            for layer in ("outer", "inner")
        }
        for layer, *box in holes:
            rust = Polygon(hole(*box)).intersection(panel)
            self.assertLess(rust.difference(cuts[layer].buffer(0.05)).area, 0.5)
        for cut in cuts.values():
            self.assertLess(cut.difference(panel.buffer(0.05)).area, 0.5)
        self.assertLess(
            cuts["inner"].buffer(step).intersection(panel).difference(cuts["outer"].buffer(0.1)).area, 1.0
        )
