"""What else the shell knows where a cut goes: panels of the same layer, holes on the line, within the margin, in the piece."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Point, box
from shapely.geometry.base import BaseGeometry

from yellow_sill.core.cut.crossed import Lying, crossed, openings_within

PANEL, CUT = box(0, 0, 1000, 300), box(200, 0, 400, 150)


def rim(shape: BaseGeometry) -> list:
    return list(shape.exterior.coords[:-1])


def told(beside=(), holes=(), cut=CUT):
    welded = cut.exterior.difference(PANEL.exterior.buffer(0.1))
    return [(remark.code, remark.what) for remark in crossed(cut, PANEL, welded, beside, holes, 12.0)]


class Crossed(TestCase):
    def test_each_thing_is_told_in_its_own_words(self):
        out = rim(box(300, -50, 500, 75.2))
        for beside, holes, code, words in (
            ([Lying(name="Outrigger", outline=out)], [], "CUT-15", "Goes through 75 cm² of Outrigger too"),
            (
                [Lying(name="Outrigger", outline=rim(box(405, 50, 600, 100)))],
                [],
                "CUT-15",
                "Only 5 mm from Outrigger",
            ),
            ([], [rim(Point(400, 60).buffer(15))], "CUT-16", "The line runs through a hole of 30 mm."),
            ([], [rim(Point(420, 60).buffer(15))], "CUT-16", "Only 5 mm from a hole of 30 mm"),
            ([], [rim(Point(300, 60).buffer(15))], "CUT-17", "A hole of 30 mm goes with the piece."),
            ([], [rim(box(250, 50, 334, 86))], "CUT-17", "An opening of 84 × 36 mm goes with the piece."),
        ):
            [(got, said)] = told(beside, holes)
            self.assertEqual((got, words in said), (code, True), said)

    def test_what_is_cut_out_of_the_other_panel_too_or_only_meets_the_edge_is_no_remark(self):
        out = rim(box(300, -50, 500, 75.2))
        self.assertEqual(
            told([Lying(name="Outrigger", outline=out, without=[rim(box(190, -60, 520, 160))])]), []
        )
        self.assertEqual(
            told(
                [
                    Lying(name="Wing", outline=rim(box(-300, 0, 0, 300))),
                    Lying(name="Floor", outline=rim(box(0, -200, 1000, 1))),
                ]
            ),
            [],
        )
        self.assertEqual(told(holes=[[(0, 0), (1, 1)], rim(Point(700, 200).buffer(20))]), [])

    @given(st.floats(150, 450), st.floats(20, 180), st.floats(4, 30))
    def test_a_hole_in_reach_is_never_passed_over_and_goes_into_the_patch_only_if_it_is_whole(
        self, u, v, radius
    ):
        hole = Point(u, v).buffer(radius)
        line = CUT.exterior.difference(PANEL.exterior.buffer(0.1))
        told_of, made_again = told(holes=[rim(hole), rim(hole)]), openings_within(rim(CUT), [rim(hole)])
        near = line.distance(hole) < 11.9 or CUT.covers(hole)
        self.assertLessEqual(len(told_of), 1)
        self.assertTrue(told_of or not near)
        if made_again:
            self.assertTrue(CUT.buffer(1).covers(hole))
