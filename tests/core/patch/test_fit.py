"""Offer-ups: simulated patches with known misfits, moved, trimmed too far, half measured; filler strips; the school that cuts through both."""

import math
import random
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import LineString, Point, Polygon

from yellow_sill.core.errors import BadField
from yellow_sill.core.patch.filler import LEAST_STRIP_MM
from yellow_sill.core.patch.fit import FitRequest, fit

BOX = [(0, 0), (300, 0), (300, 200), (0, 200)]
EDGES = [{"name": name, "path": [BOX[k], BOX[(k + 1) % 4]]} for k, name in enumerate("ABCD")]


def ask(gaps, **more):
    readings = [{"at": at, "gap_mm": gap} for at, gap in gaps]
    return fit(
        FitRequest.read({"outline": BOX, "edges": EDGES, "gaps": readings, "thickness_mm": 0.9} | more)
    )


def all_round(gap_at, step=50):
    """Readings all round the box."""
    ring = LineString([*BOX, BOX[0]])
    places = [ring.interpolate(s + 25) for s in range(0, 1000, step)]
    return [((p.x, p.y), gap_at(p.x, p.y)) for p in places]


def true_gaps(patch, noise, chance):
    """The gap that a tape would read at places round the opening, to a patch that lies in it: along the normal, below 0 where it laps over."""
    told = []
    for at, _ in all_round(lambda u, v: 0):
        point = Point(at)
        gap = patch.exterior.distance(point) * (-1 if patch.contains(point) else 1)
        told.append((at, round(gap + chance.gauss(0, noise), 2)))
    return told


class Fits(TestCase):
    def test_verdicts(self):
        for gaps, more, fits, words in (
            (all_round(lambda u, v: 0.5), {}, True, "It fits all round"),
            (all_round(lambda u, v: 0.5), {"process": "tig"}, False, "Metal is missing at 4 places"),
            (all_round(lambda u, v: -1.0), {"wanted_mm": 0.5}, False, "Trim at 4 places, 1.5 mm at most"),
            (all_round(lambda u, v: 0.5)[:10], {}, None, "nothing was tapped: not known"),
            ([], {}, None, "Nothing is tapped yet"),
        ):
            told = ask(gaps, **more)
            self.assertEqual(told.fits, fits, words)
            self.assertIn(words, str(told.words))

    def test_a_reading_says_nothing_round_a_corner(self):
        told = ask([((150, 0), 0.4)])
        known = {stretch.edge for stretch in told.stretches if stretch.verdict != "unknown"}
        self.assertEqual((known, told.measured), ({"A"}, 0.125))

    def test_a_patch_that_lies_askew_is_moved_before_it_is_trimmed(self):
        """200 patches, right in size, laid askew: after the move that is told every true gap is right, and nothing is trimmed for nothing."""
        chance = random.Random(4)
        cut_without = cut_with = 0
        for _ in range(200):
            u, v, turn = chance.uniform(-3, 3), chance.uniform(-3, 3), chance.uniform(-0.5, 0.5)
            right = Polygon(BOX).buffer(-0.45, join_style="mitre")
            laid = affinity.translate(affinity.rotate(right, turn), u, v)
            told = ask(true_gaps(laid, 0.05, chance))
            if told.move:
                laid = affinity.translate(
                    affinity.rotate(laid, told.move.turn_deg, origin=(150, 100)),
                    told.move.right_mm,
                    told.move.up_mm,
                )
            after = [gap for _, gap in true_gaps(laid, 0, chance)]
            self.assertLess(max(after), 0.9 + 0.3)
            self.assertGreater(min(after), -0.35)
            cut_with += sum(
                stretch.length_mm for stretch in told.stretches if stretch.verdict in ("laps", "wide")
            )
            plain = affinity.translate(affinity.rotate(right, turn), u, v)
            cut_without += sum(50 for _, gap in true_gaps(plain, 0, chance) if not -0.1 <= gap <= 1.0)
        self.assertLess(cut_with, 0.02 * cut_without)

    def test_a_patch_is_not_moved_towards_what_nobody_has_measured(self):
        gaps = [(at, gap) for at, gap in all_round(lambda u, v: 2.0 if v == 0 else 0.5) if at[1] < 199]
        self.assertIsNone(ask(gaps).move)
        self.assertIsNotNone(ask(all_round(lambda u, v: 1.4 if v == 0 else 0.1 if v == 200 else 0.5)).move)

    def test_a_patch_is_not_moved_out_of_the_line_of_its_free_edge(self):
        gaps = [(at, gap) for at, gap in all_round(lambda u, v: 1.4 if v == 200 else 0.4) if at[1] > 0]
        three = {"edges": EDGES[1:]}
        self.assertGreater(ask(gaps, **three).move.up_mm, 0.5)
        told = ask(gaps, kept=EDGES[:1], **three)
        self.assertLessEqual(told.move.up_mm if told.move else 0, 0.3)
        self.assertTrue(told.fillers)

    @settings(max_examples=60, deadline=None)
    @given(st.integers(0, 3), st.floats(60, 140), st.floats(2, 9), st.integers(0, 10**6))
    def test_what_was_trimmed_too_far_is_found_where_it_is_and_nowhere_else(self, edge, along, deep, seed):
        chance = random.Random(seed)
        (u0, v0), (u1, v1) = EDGES[edge]["path"]
        far = math.dist((u0, v0), (u1, v1))
        middle = (u0 + (u1 - u0) * along / far, v0 + (v1 - v0) * along / far)
        gap = lambda u, v: (deep if math.dist((u, v), middle) < 40 else 0.4) + chance.gauss(0, 0.03)
        told = ask(all_round(gap, 20))
        self.assertIs(told.fits, False)
        for stretch in told.stretches:
            if stretch.verdict == "wide":
                at = LineString(stretch.path).interpolate(0.5, normalized=True)
                self.assertLess(math.dist((at.x, at.y), middle), 45)
        for strip in told.fillers:
            shape = Polygon(strip.outline)
            self.assertTrue(shape.is_valid)
            self.assertTrue(Polygon(BOX).buffer(0.01).contains(shape))
            self.assertGreaterEqual(strip.width_mm, LEAST_STRIP_MM - 0.01)
            self.assertGreater(strip.cut_back_mm, deep - 0.3)
        self.assertTrue(told.fillers)

    def test_a_strip_fills_what_is_missing_less_both_gaps(self):
        told = ask(all_round(lambda u, v: 15.0 if v == 0 else 0.1), wanted_mm=0.8, process="tig")
        strip = next(each for each in told.fillers if each.name.startswith("A"))
        self.assertEqual((strip.cut_back_mm, strip.width_mm), (15.0, 13.4))
        us, vs = zip(*strip.outline, strict=True)
        self.assertAlmostEqual(min(vs), 0.8, places=1)
        self.assertAlmostEqual(max(vs), 14.2, places=1)
        self.assertAlmostEqual(max(us) - min(us), 300, delta=1)

    def test_both_sheets_are_cut_through_three_tacks_at_a_time_far_from_the_last(self):
        goes = ask([], school="overlay").goes
        self.assertEqual(sum(len(go.tacks) for go in goes), 3 * len(goes))
        self.assertAlmostEqual(sum(LineString(go.path).length for go in goes), 1000, delta=1)
        for one, following in zip(goes[: len(goes) // 2], goes[1:], strict=False):
            self.assertGreater(math.dist(one.path[3], following.path[3]), 90)
        self.assertEqual(ask([]).goes, [])

    def test_a_place_that_lies_on_no_edge_is_refused(self):
        with self.assertRaisesRegex(BadField, "Place 1 lies on no edge"):
            ask([((150, 100), 0.4)])
