"""Recesses, beads and ribs: known answers, formers that leave the sheet its room, ribs that meet as near as can be."""

import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.patch.pressed import PressedRequest, bead_and_recess

RECESS = {
    "length_mm": 200,
    "width_mm": 120,
    "corner_mm": 25,
    "depth_mm": 12,
    "wall_deg": 45,
    "bottom_mm": 4,
    "top_mm": 4,
}


def press(t=1.0, **asked):
    return bead_and_recess(PressedRequest.read({"thickness_mm": t} | asked))


class Pressed(TestCase):
    def test_a_recess_worked_by_hand(self):
        """45 degrees, radii 4 and 4 in 1 mm sheet: 9 of radius in all; straight (12 - 9 (1 - cos)) / sin = 13.243."""
        told = press(recess=RECESS).recess
        c = math.cos(math.pi / 4)
        straight = (12 - 9 * (1 - c)) / c
        self.assertAlmostEqual(told.wall_mm, 9 * math.pi / 4 + straight, delta=0.01)
        self.assertAlmostEqual(told.run_mm, 9 * c + straight * c, delta=0.01)
        self.assertAlmostEqual(told.draw_in_mm, told.wall_mm - told.run_mm, delta=0.011)
        self.assertAlmostEqual(told.draw_ratio, math.sqrt(1 + 24 / 25), delta=0.001)
        male, female, ring = told.formers
        self.assertAlmostEqual(male.length_mm, 200 - 2 * told.run_mm, delta=0.1)
        self.assertGreater(female.hole_mm[0], 200 + 2 * 1.0 * c, "room for the sheet")
        self.assertGreater(ring.hole_mm[0], female.hole_mm[0])

    def test_what_the_sheet_does_not_take_is_named(self):
        for changes, code in (
            ({"bottom_mm": 2}, "PRESS-01"), ({"depth_mm": 2, "wall_deg": 80}, "PRESS-02"), ({"draws_in": False, "depth_mm": 40, "wall_deg": 75}, "PRESS-03"),
            ({"depth_mm": 30, "corner_mm": 12, "wall_deg": 80}, "PRESS-04"),
        ):  # fmt: skip
            self.assertIn(
                code, [each.code for each in press(recess=RECESS | changes).recess.remarks], changes
            )
        self.assertEqual(press(recess=RECESS | {"depth_mm": 6}).recess.remarks, [])

    @given(st.floats(1, 30), st.floats(10, 89), st.floats(0, 10), st.floats(0, 10), st.floats(0.6, 2))
    def test_a_wall_is_never_shorter_than_the_straight_line_and_rises_by_its_depth(
        self, depth, wall, bottom, top, t
    ):
        try:
            told = press(
                t, recess=RECESS | {"depth_mm": depth, "wall_deg": wall, "bottom_mm": bottom, "top_mm": top}
            ).recess
        except BadField as error:
            self.assertIn("walls meet", error.message)
            return
        self.assertGreaterEqual(told.wall_mm + 0.02, math.hypot(told.run_mm, depth))
        middle, angle = bottom + top + t, math.radians(told.wall_deg)
        straight = told.wall_mm - middle * angle
        self.assertAlmostEqual(middle * (1 - math.cos(angle)) + straight * math.sin(angle), depth, delta=0.12)

    def test_beads_from_the_middle_outwards(self):
        told = press(beads={"count": 5, "width_mm": 20, "height_mm": 10, "pitch_mm": 60})
        takes = 10 * math.pi - 20
        self.assertAlmostEqual(told.bead_takes_mm, takes, delta=0.001)
        self.assertEqual([bead.number for bead in told.beads], [3, 2, 4, 1, 5])
        self.assertAlmostEqual(told.beads[-1].flat_mm, 120 + 2 * takes, delta=0.01)
        self.assertIn("Each bead takes 11.42 mm, all 57.1 mm", told.words)

    @given(st.lists(st.tuples(st.floats(-500, 500), st.floats(-8, 8)), min_size=1, max_size=6))
    def test_the_shift_leaves_the_least_greatest_miss(self, pairs):
        old = sorted(40.0 * i for i in range(len(pairs)))
        new = [at + off for at, (_, off) in zip(old, pairs, strict=True)]
        [told] = press(ribs=[{"name": "sill", "old_mm": old, "new_mm": new}]).ribs
        best = min(
            max(abs(n + s / 20 - o) for n, o in zip(sorted(new), old, strict=True)) for s in range(-200, 201)
        )
        self.assertLessEqual(max(map(abs, told.off_mm)), best + 0.011)

    def test_the_best_line_comes_first_and_nonsense_is_refused(self):
        lines = [
            {"name": "high", "old_mm": [0, 80, 160], "new_mm": [3, 79, 168]},
            {"name": "low", "old_mm": [0, 80], "new_mm": [5, 85.4]},
        ]
        told = press(ribs=lines)
        self.assertEqual([(line.name, line.meet) for line in told.ribs], [("low", True), ("high", False)])
        self.assertIn("meet best on low", told.words)
        for asked, words in (
            ({}, "Give a recess"), ({"recess": RECESS | {"depth_mm": 300, "wall_deg": 45}}, "walls meet"), ({"recess": RECESS | {"corner_mm": 80}}, "more than half"),
            ({"beads": {"count": 2, "width_mm": 20, "height_mm": 15, "pitch_mm": 60}}, "half round"), ({"beads": {"count": 2, "width_mm": 20, "height_mm": 5, "pitch_mm": 10}}, "overlap"),
            ({"ribs": [{"name": "x", "old_mm": [1, 2], "new_mm": [1]}]}, "2 ribs, the new one 1"),
        ):  # fmt: skip
            with self.assertRaisesRegex(BadField, words):
                press(**asked)
