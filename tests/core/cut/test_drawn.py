"""What a drawing tells of a panel's surroundings, and what a repair takes in: known answers, and what must hold for any drawing."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.cut.drawn import (
    MOST_RUN_MM,
    DrawnSheet,
    behind_of,
    lines_on,
    meeting,
    off_panel_mm,
    rows_on,
    sheets_of_row,
)
from yellow_sill.core.cut.extent import cut_for, taken_of
from yellow_sill.core.cut.joints import place_of_joint
from yellow_sill.core.cut.stacks import RustySheet, holes_on, next_behind, stacked
from yellow_sill.core.outlines import area_of, share_covered, touching
from yellow_sill.core.shell.body_lines import floor_line, half_width, side_line


def box(x, y=0.0, wide=100.0, high=50.0):
    return [[x, y], [x + wide, y], [x + wide, y + high], [x, y + high]]


def sheet(code, layer, x=0.0, wide=100.0):
    return DrawnSheet(code=code, name=code, layer=layer, thickness_mm=1.0, outline=box(x, wide=wide))


class Drawing(TestCase):
    def test_rows_are_cut_where_they_leave_the_panel_or_turn_back(self):
        row = [[20 * i, 5] for i in range(12)]
        self.assertEqual(
            [len(run) for run in rows_on(box(0), [row])], [6], "twelve millimetres beside it count"
        )
        jump = [[0, 5], [20, 5], [40, 5], [40 + MOST_RUN_MM + 1, 5], [175, 5], [190, 5]]
        self.assertEqual([len(run) for run in rows_on(box(0, wide=300), [jump])], [3, 3])
        self.assertEqual(rows_on(box(500), [row]), [])

    def test_the_sheet_under_most_of_a_row_is_the_one_that_meets_there(self):
        row = [[10, 5], [30, 5], [50, 5], [70, 5]]
        told = sheets_of_row(
            sheet("A", 1), row, [sheet("B", 2, 40), sheet("C", 2, -40, 120), sheet("D", 3, 900)]
        )
        self.assertEqual([code for code, _ in told], ["A", "C"])
        self.assertEqual([each["stays"] for _, each in told], [False, True])
        self.assertEqual(sheets_of_row(sheet("A", 1), row, [])[1][1]["name"], "the sheet behind")

    def test_neighbours_lines_and_what_lies_behind(self):
        self.assertEqual(meeting(box(0), [box(100), box(101), box(400), box(0, 50)]), [0, 1, 3])
        self.assertEqual(behind_of(sheet("A", 1), [sheet("B", 2), sheet("C", 1), sheet("D", 3, 300)]), [0])
        self.assertEqual(
            lines_on(box(0), [("swage", [[-9, 20], [9, 20]]), ("swage", [[0, 90], [9, 90]])])[0][1],
            [[-9, 20], [9, 20]],
        )
        self.assertEqual(
            (
                off_panel_mm([[130, 0], [150, 0]], False, box(0)),
                off_panel_mm(box(10, 10, 5, 5), True, box(0)),
            ),
            (30, 0),
        )

    def test_holes_stacks_and_cuts_behind(self):
        self.assertEqual(len(holes_on(box(0), [box(10, 10, 5, 5), box(300), [[1, 1], [2, 2]]])), 1)
        flat = [RustySheet(view=1, layer=None, rust=[box(0)]), RustySheet(view=1, layer=None, rust=[box(0)])]
        self.assertEqual(
            stacked(flat, 12, 40), [[0], [1]], "a view without layers has nothing behind anything"
        )
        self.assertEqual(next_behind(box(0), [(3, box(10)), (2, box(20)), (2, box(900))]), [1])

    def test_what_a_repair_takes_in(self):
        (taken,) = taken_of(box(0), [box(50, 10, 200, 20)])
        self.assertAlmostEqual(area_of(taken), 1000, delta=10, msg="its corners may be rounded by the sliver")
        self.assertEqual((taken_of(box(0), []), taken_of(box(0), [box(98, 0, 50, 2)])), ([], []))
        self.assertEqual(cut_for(box(0), [box(160), box(130), box(900)], 12, 40), 1)
        self.assertIsNone(cut_for(box(0), [box(160)], 12, 40))

    def test_the_place_of_a_joint(self):
        skin = place_of_joint("Outer sill, left", 1, box(0), [box(50)])
        self.assertEqual((skin["visible"], skin["closed_section"], skin["layers"]), (True, True, 1))
        flange = place_of_joint("Sill weld flange", 1, box(0), [box(400)])
        self.assertEqual(
            (flange["on_flange"], flange["visible"], flange["closed_section"]), (True, False, False)
        )

    def test_the_body_in_space_is_as_wide_as_its_front(self):
        front = [[[[-600, 0], [600, 0], [500, 1000], [-500, 1000]]]]
        self.assertAlmostEqual(half_width(front)(900), 510, delta=3)
        self.assertEqual(half_width(None)(500), 780)
        left, right = (side_line(box(0, 100), left, lambda z: 600.0) for left in (True, False))
        self.assertEqual(({y for _, y, _ in left}, {y for _, y, _ in right}), ({-600}, {600}))
        self.assertEqual({z for *_, z in floor_line(box(0))}, {240})

    @given(st.lists(st.floats(-500, 500), min_size=1, max_size=6), st.floats(-500, 500))
    def test_what_touches_is_what_shares_metal_or_an_edge(self, places, x):
        others = [box(each) for each in places]
        for i, other in enumerate(others):
            shared = share_covered(box(x), other)
            self.assertTrue(0 <= shared <= 1)
            if shared:
                self.assertIn(i, touching([box(x)], others))
