import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString, Polygon

from yellow_sill.core.shell.curves import ellipse, filleted, rect, slot, spline, walk
from yellow_sill.core.shell.stations import piecewise


class Curves(TestCase):
    def test_a_spline_goes_through_its_points(self):
        knots = [(0, 0), (100, 40), (180, 20), (300, 90)]
        curve = LineString(spline(knots))
        for knot in knots:
            self.assertLess(curve.distance(LineString([knot, knot])), 1e-6)
        self.assertEqual(spline(knots[:2]), knots[:2])

    def test_fillets_touch_both_sides(self):
        corner = filleted([(0, 0), (100, 0, 20), (100, 100)], closed=False)
        self.assertAlmostEqual(LineString(corner).length, 80 + 80 + math.pi * 10, delta=0.2)
        self.assertAlmostEqual(Polygon(rect(0, 0, 50, 30, 5)).area, 1500 - (4 - math.pi) * 25, delta=0.5)

    def test_a_radius_too_large_is_fitted(self):
        tight = Polygon(filleted([(0, 0, 90), (30, 0, 90), (30, 30, 90), (0, 30, 90)]))
        self.assertTrue(tight.is_valid)
        self.assertLess(tight.area, 900)

    def test_round_things_are_round(self):
        self.assertAlmostEqual(Polygon(ellipse(0, 0, 10, 20, pieces=200)).area, math.pi * 200, delta=0.5)
        self.assertAlmostEqual(Polygon(slot(0, 0, 40, 0, 10)).area, 400 + math.pi * 25, delta=0.6)

    def test_spot_welds_stand_at_their_pitch(self):
        row = walk([(0, 0), (100, 0)], 25, inset=10)
        self.assertEqual([round(u, 3) for u, _ in row], [10, 36.667, 63.333, 90])


class Stations(TestCase):
    def test_by_hand(self):
        move = piecewise((0, 100, 200), (0, 150, 200))
        self.assertEqual(
            [move(value) for value in (-10, 0, 50, 100, 150, 200, 210)], [-10, 0, 75, 150, 175, 200, 210]
        )

    @given(
        st.lists(st.floats(1, 500), min_size=2, max_size=6),
        st.lists(st.floats(1, 500), min_size=6, max_size=6),
        st.floats(-900, 4000),
        st.floats(0.01, 900),
    )
    def test_what_lies_farther_back_stays_farther_back(self, steps, other, value, further):
        reference, actual = [0.0], [0.0]
        for a, b in zip(steps, other, strict=False):
            reference.append(reference[-1] + a)
            actual.append(actual[-1] + b)
        move = piecewise(tuple(reference), tuple(actual))
        self.assertLess(move(value), move(value + further))
