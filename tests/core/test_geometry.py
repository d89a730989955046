from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import GeometryCollection, LineString, MultiPolygon, Point, Polygon, box

from yellow_sill.core import geometry
from yellow_sill.core.errors import BadField, BadOutline, CoreError
from yellow_sill.core.records import json_path


class Outlines(TestCase):
    def test_repeats_are_dropped_and_order_is_kept(self):
        shape = geometry.outline_polygon([(0, 0), (0, 0), (10, 0), (10, 10), (0, 0)], "x")
        self.assertEqual(list(shape.exterior.coords), [(0, 0), (10, 0), (10, 10), (0, 0)])

    def test_the_place_of_a_crossing_is_told(self):
        with self.assertRaises(BadOutline) as caught:
            geometry.outline_polygon([(0, 0), (100, 80), (100, 0), (0, 60)], "edge")
        self.assertAlmostEqual(caught.exception.at[0], 100 * 60 / (80 + 60), delta=0.1)

    def test_parts_and_rings(self):
        parts = geometry.polygons_of(
            GeometryCollection(
                [Point(0, 0), LineString([(0, 0), (1, 1)]), box(0, 0, 1, 1), MultiPolygon([box(5, 5, 9, 9)])]
            )
        )
        self.assertEqual([part.area for part in parts], [16, 1])
        self.assertTrue(geometry.largest(Point(0, 0)).is_empty)
        self.assertEqual(geometry.ring([(0, -0.0), (1.23456, 2), (0, 0)]), [[0.0, 0.0], [1.235, 2.0]])
        self.assertTrue(geometry.sound(Polygon([(0, 0), (10, 10), (10, 0), (0, 10)])).is_valid)

    def test_bounds(self):
        bounds = geometry.bounds_of([(3, 9), (-1, 4), (7, 5)])
        self.assertEqual(
            (bounds, geometry.middle_of(bounds), geometry.size_of(bounds), geometry.widened(bounds, 1)),
            ([-1, 4, 7, 9], [3, 6.5], (8, 5), (-2, 3, 8, 10)),
        )

    TURNS = {
        "left": ((0, 0), (10, 0), (10, 10), 90),
        "right": ((0, 0), (10, 0), (10, -10), -90),
        "straight": ((0, 0), (10, 0), (20, 0), 0),
    }

    def test_turns(self):
        for name, (a, b, c, expected) in self.TURNS.items():
            with self.subTest(name):
                self.assertAlmostEqual(geometry.turn_deg(a, b, c), expected)

    @settings(max_examples=25, deadline=None)
    @given(
        st.lists(st.tuples(st.integers(0, 300), st.integers(0, 300)), min_size=3, max_size=8, unique=True),
        st.floats(1, 15),
    )
    def test_rounding_leaves_no_corner_sharper_than_the_radius(self, points, radius):
        shape = Polygon(points).convex_hull
        if shape.geom_type != "Polygon" or shape.buffer(-1.2 * radius).is_empty:
            return
        soft = geometry.rounded(shape, radius)
        self.assertTrue(shape.buffer(0.01).covers(soft))
        self.assertLess(soft.area - soft.buffer(-radius + 0.1).buffer(radius).area, 0.02 * radius**2 + 0.5)


class Errors(TestCase):
    def test_an_error_says_what_where_and_how_to_mend(self):
        error = BadField("Two marks.", "left side", "Measure one more.")
        self.assertEqual(str(error), "left side: Two marks. Measure one more.")
        again = type(error)(*error.args)
        self.assertEqual((again.what, again.where, again.mend), (error.what, error.where, error.mend))
        self.assertIsInstance(error, CoreError)

    def test_paths(self):
        self.assertEqual(
            [json_path(parts) for parts in ((), ("a",), ("a", 2, "b"), (0, 1))],
            ["$", "a", "a[2].b", "[0][1]"],
        )
