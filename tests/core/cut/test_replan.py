"""A cut that opening has shown to be too small: seen, drawn anew, and what that adds."""

from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from yellow_sill.core.cut.asked import CutRequest
from yellow_sill.core.cut.lines import cut_lines
from yellow_sill.core.cut.replan import ReplanRequest, replanned

PANEL = {"outline": [[0, 0], [900, 0], [900, 300], [0, 300]], "thickness_mm": 1.0}


def hole(x, y, w, h):
    return [[x, y], [x + w, y], [x + w, y + h], [x, y + h]]


def planned(outline):
    asked = {
        "panel": PANEL,
        "findings": [{"id": 1, "layer": 1, "outline": outline}],
        "margin_mm": 12,
        "corner_radius_mm": 10,
    }
    return cut_lines(CutRequest.read(asked)).cuts[0].outline


def told(line, outline, **more):
    return replanned(
        ReplanRequest.read(
            {
                "panel": PANEL,
                "planned": line,
                "findings": [{"id": 1, "layer": 1, "outline": outline}],
                "margin_mm": 12,
            }
            | more
        )
    )


class Replan(TestCase):
    def test_a_line_that_still_holds_the_rust_is_left_alone(self):
        line = planned(hole(300, 100, 80, 50))
        same = told(line, hole(302, 102, 70, 40))
        self.assertEqual((same.outgrown, same.added_weld_mm, same.outline), (False, 0, line))

    def test_rust_outside_or_a_thin_margin_asks_for_a_new_line(self):
        line = planned(hole(300, 100, 80, 50))
        out, thin = told(line, hole(300, 100, 140, 60)), told(line, hole(300, 100, 87, 50))
        self.assertEqual((out.outgrown, thin.outgrown), (True, True))
        self.assertIn("cm² of rust lie outside", out.words)
        self.assertIn("Only 5 mm of margin", thin.words)
        self.assertGreater(out.added_weld_mm, 120)
        self.assertGreater(out.added_min, 5)
        self.assertGreater(out.added_money, thin.added_money)

    @settings(deadline=None, max_examples=50)
    @given(
        st.tuples(st.floats(100, 600), st.floats(50, 200), st.floats(20, 90), st.floats(20, 60)),
        st.floats(0.6, 3),
        st.booleans(),
    )
    def test_the_new_line_holds_the_rust_and_the_hole_that_is_there(self, box, grow, cut_already):
        x, y, w, h = box
        line = planned(hole(*box))
        now = hole(x - 10 * grow, y, w + 20 * grow, h * grow)
        new = told(line, now, cut_already=cut_already)
        shape = Polygon(new.outline).buffer(0.05)
        self.assertLess(Polygon(now).intersection(Polygon(PANEL["outline"])).difference(shape).area, 0.5)
        if cut_already:
            self.assertLess(Polygon(line).difference(shape.buffer(0.2)).area, 1.0)
