"""Flanges along a curve, and what a thickness is called."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.patch.curved import CurvedFlangeRequest, curved_flange
from yellow_sill.core.patch.gauges import AMERICAN_MM, BRITISH_MM, SOLD_MM, GaugeRequest, gauge
from yellow_sill.core.patch.zones import zones_along


def flange(**more):
    told = {"height_mm": 20, "radius_mm": 200, "angle_deg": None if "length_mm" in more else 90}
    return curved_flange(CurvedFlangeRequest.read(told | more))


class Curved(TestCase):
    def test_known_answers_for_both_senses_and_both_ways(self):
        """r 200, h 20, a quarter: the fold is 100 pi long; its rim lay at 220 or at 180."""
        fold = 100 * math.pi
        for sense, way, before, after, deed in (
            ("out", "folded", fold * 1.1, fold, "shrink"), ("in", "folded", fold * 0.9, fold, "stretch"), ("out", "angle", fold, fold * 1.1, "stretch"),
            ("in", "angle", fold, fold * 0.9, "shrink"),
        ):  # fmt: skip
            told = flange(sense=sense, way=way)
            [zone] = told.zones
            self.assertAlmostEqual(zone.before_mm, before, delta=0.001)
            self.assertAlmostEqual(zone.after_mm, after, delta=0.001)
            self.assertAlmostEqual(zone.strain, after / before - 1, delta=1e-5)
            self.assertEqual(zone.deed, deed)
            self.assertEqual(zone.blank_radius_mm, None if way == "angle" else 220 if sense == "out" else 180)
            self.assertAlmostEqual(sum(mark.gain_mm for mark in told.marks), after - before, delta=0.02)
            self.assertTrue(all(mark.end_mm - mark.start_mm <= 25.05 for mark in told.marks))

    @given(
        st.floats(30, 450),
        st.floats(0.02, 0.9),
        st.sampled_from(["out", "in"]),
        st.sampled_from(["folded", "angle"]),
        st.floats(0.02, 0.5),
    )
    def test_the_highest_flange_is_the_one_that_strains_to_the_limit(self, radius, share, sense, way, limit):
        how = {
            "radius_mm": radius,
            "sense": sense,
            "way": way,
            "strain_limit": limit,
            "length_mm": radius / 3,
            "per_bite_mm": 5,
        }
        highest = flange(height_mm=max(0.5, share * radius * 0.5), **how).zones[0].highest_mm
        if highest < radius:
            self.assertAlmostEqual(abs(flange(height_mm=highest, **how).worst_strain), limit, delta=0.002)
        for height in (highest * 0.95, min(highest * 1.06, radius * 0.99)):
            told = flange(height_mm=height, **how)
            self.assertEqual(told.within, abs(told.worst_strain) <= limit)

    def test_a_free_edge_is_read_zone_by_zone(self):
        arc = [(150 * math.cos(a), 150 * math.sin(a)) for a in np.linspace(-math.pi / 2, 0, 60)]
        path = [(-200.0, -150.0), *arc, (150.0, 160.0)]
        zones = zones_along(path)
        self.assertEqual(len(zones), 3)
        self.assertEqual([bend == 0 for _, bend in zones], [True, False, True])
        self.assertAlmostEqual(1 / zones[1][1], 150, delta=6)
        self.assertAlmostEqual(zones[1][0], 75 * math.pi, delta=20)
        self.assertAlmostEqual(sum(length for length, _ in zones), 200 + 75 * math.pi + 160, delta=1.5)
        told = flange(radius_mm=None, angle_deg=None, path=path)
        self.assertEqual([zone.deed for zone in told.zones], ["", "shrink", ""])
        back = flange(radius_mm=None, angle_deg=None, path=path[::-1])
        self.assertEqual([zone.deed for zone in back.zones], ["", "stretch", ""])
        straight = flange(radius_mm=None, angle_deg=None, path=[(0, 0), (100, 0), (300, 0.01)])
        self.assertIn("nothing is to be shrunk", straight.words)

    def test_simulated_traced_edges_are_read_no_worse_than_by_one_circle(self):
        """A hand traces an arc between two straights 5 mm apart and 0.4 mm sure; the plain way fits one circle through first, middle and last of the arc."""
        rng, mine, plain = np.random.default_rng(4), [], []
        for _ in range(400):
            radius, turn = rng.uniform(60, 600), rng.uniform(0.6, 2.2)
            arc = np.array(
                [(radius * math.cos(a), radius * math.sin(a)) for a in np.arange(0, turn, 5 / radius)]
            )
            lead = np.array([(radius, y) for y in np.arange(-120, 0, 5)])
            way = np.array([-math.sin(turn), math.cos(turn)])
            tail = np.array([arc[-1] + way * s for s in np.arange(5, 120, 5)])
            path = np.vstack([lead, arc, tail]) + rng.normal(0, 0.4, (len(lead) + len(arc) + len(tail), 2))
            true = radius * turn * (1 + 15 / radius) - radius * turn
            told = flange(height_mm=15, radius_mm=None, angle_deg=None, path=path.tolist(), per_bite_mm=5)
            mine.append(abs((told.before_mm - told.after_mm) - true))
            a, b, c = path[len(lead)], path[len(lead) + len(arc) // 2], path[len(lead) + len(arc) - 1]
            sides = math.dist(a, b), math.dist(b, c), math.dist(c, a)
            area = abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / 2
            fitted = math.prod(sides) / (4 * area)
            swept = 2 * math.asin(min(1.0, sides[2] / 2 / fitted))
            plain.append(abs(15 * (swept if turn < math.pi else 2 * math.pi - swept) - true))
        self.assertLess(np.median(mine), 0.06 * 15 * 1.4)
        self.assertLessEqual(np.percentile(mine, 90), max(np.percentile(plain, 90), 1.5))

    def test_refusals(self):
        for more, words in (
            ({"height_mm": 200}, "does not go round"), ({"height_mm": 250, "sense": "in"}, "does not go round"), ({"radius_mm": None}, "an arc's radius, or"),
            ({"angle_deg": None}, "the arc's angle, or"), ({"length_mm": 1300}, "longer than its circle"), ({"per_bite_mm": 0.001}, "passes of the tool"),
        ):  # fmt: skip
            with self.assertRaisesRegex(BadField, words):
                flange(**more)
        with self.assertRaisesRegex(BadField, "no length"):
            zones_along([(0, 0), (0, 0), (0, 0)])


class Gauges(TestCase):
    def test_both_gauges_stand_side_by_side(self):
        told = gauge(GaugeRequest(thickness_mm=0.91))
        self.assertEqual((told.buy_mm, told.american, told.british), (0.9, (20, 0.912), (20, 0.914)))
        self.assertIn("American 20 gauge is 0.91 mm, British 20 gauge is 0.91 mm", told.words)
        between = gauge(GaugeRequest(thickness_mm=0.85))
        self.assertEqual((between.buy_mm, between.also_mm), (0.9, 0.8))
        for text, mm in (("18 swg", 1.219), ("16 gauge US", 1.519), ("16 ga british", 1.626), ("0,8", 0.8), ("1.2 mm", 1.2), ("3/64 in", 1.191), ("0.036 in", 0.914)):  # fmt: skip
            self.assertAlmostEqual(gauge(GaugeRequest(text=text)).thickness_mm, mm, msg=text)

    def test_a_number_alone_is_asked_about_and_nonsense_refused(self):
        for text, words in (
            ("18 gauge", "1.21 mm in America and 1.22 mm in Britain"), ("18", "in America"), ("40 gauge", "not listed"), ("41 swg", "not listed"),
            ("thick", "no thickness"), ("1/0", "no thickness"), ("", "Give a thickness"),
        ):  # fmt: skip
            with self.assertRaisesRegex(BadField, words):
                gauge(GaugeRequest(text=text))

    @given(st.floats(0.3, 4.5))
    def test_the_sheet_to_buy_is_never_farther_off_than_the_next_one(self, thickness):
        told = gauge(GaugeRequest(thickness_mm=thickness))
        nearest = min(abs(sold - thickness) for sold in SOLD_MM)
        self.assertLessEqual(abs(told.buy_mm - thickness) - nearest, 0.1 + 1e-9)
        self.assertTrue(told.american[0] in AMERICAN_MM and told.british[0] in BRITISH_MM)
