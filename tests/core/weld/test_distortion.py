"""How far welding pulls: symmetry, direction, restraint; the found order beside a straight run over simulated patches."""

import math
import random
from unittest import TestCase

import numpy as np

from yellow_sill.core.errors import BadField
from yellow_sill.core.weld.distortion import DistortionRequest, across_mm, distortion, tendon_n
from yellow_sill.core.weld.orders import along_edge, drawn_edge, folds_within
from yellow_sill.demo.bench_weld import behind

PATCH = [[0, 0], [200, 0], [200, 120], [0, 120]]
ROUND = [[0, 0], [100, 0], [200, 0], [200, 60], [200, 120], [100, 120], [0, 120], [0, 60]]


def pulled(*orders, patch=PATCH, tacks=ROUND, **more):
    named = [{"name": f"order {n}", "tacks": order} if isinstance(order, list) else order for n, order in enumerate(orders)]  # fmt: skip
    asked = {"patch": patch, "tacks": tacks, "orders": named, "thickness_mm": 1.0, "energy_j": 430.0} | more
    return distortion(DistortionRequest.read(asked))


class Distorted(TestCase):
    def test_one_tack_pulls_its_edge_towards_the_panel(self):
        for tack, axis, sign in ((2, 1, -1), (4, 0, 1), (6, 1, 1), (8, 0, -1)):
            with self.subTest(tack):
                told = distortion(DistortionRequest.read({
                    "patch": PATCH, "tacks": [ROUND[tack - 1]], "orders": [{"name": "one", "tacks": [1]}], "thickness_mm": 1.0, "energy_j": 430.0, "clamps": 0,
                })).orders[0]  # fmt: skip
                self.assertGreater(sign * told.edge[0][axis], 0.02)
                self.assertLess(abs(told.edge[0][1 - axis]), 1e-3)

    def test_a_mirrored_order_gives_the_mirrored_answer(self):
        order = [1, 5, 3, 7, 2, 6, 4, 8]
        mirrored = {1: 3, 2: 2, 3: 1, 4: 8, 5: 7, 6: 6, 7: 5, 8: 4}
        one, other = pulled(order, [mirrored[n] for n in order]).orders
        self.assertAlmostEqual(one.moved_mm[0], -other.moved_mm[0], places=3)
        self.assertAlmostEqual(one.moved_mm[1], other.moved_mm[1], places=3)
        self.assertAlmostEqual(one.turned_deg, -other.turned_deg, places=3)
        self.assertAlmostEqual(one.inside.pressed_mpa, other.inside.pressed_mpa, places=1)

    def test_more_clamps_move_it_less_and_leave_more_in_it(self):
        order = list(range(1, 9))
        told = [pulled(order, clamps=clamps).orders[0] for clamps in (0, 6, 30, 100)]
        moved, stretched = [each.most_mm for each in told], [-each.inside.pressed_mpa for each in told]
        self.assertEqual(moved, sorted(moved, reverse=True))
        self.assertGreater(stretched[-1], stretched[0])

    def test_folds_and_crown_let_go_later_and_heat_lays_more_along_the_seam(self):
        order = list(range(1, 9))
        flat = pulled(order).orders[0].inside.buckles_mpa
        self.assertGreater(pulled(order, folds=[[[0, 60], [200, 60]]]).orders[0].inside.buckles_mpa, 2 * flat)
        self.assertGreater(pulled(order, crown_mm=2000).orders[0].inside.buckles_mpa, flat)
        hot = {"name": "hot", "tacks": order, "rise_k": [120.0] * 8}
        cold, warm = pulled(order, hot).orders
        self.assertGreater(warm.inside.pressed_mpa, cold.inside.pressed_mpa)
        self.assertEqual(tendon_n(430, 7, 1.0, 1e9), 200 * 430 / 7, "never above a continuous run's")

    def test_what_was_measured_counts(self):
        order = list(range(1, 9))
        rule = across_mm(DistortionRequest.read({"patch": PATCH, "tacks": ROUND, "orders": [{"name": "a", "tacks": order}], "thickness_mm": 1, "energy_j": 430}))  # fmt: skip
        self.assertAlmostEqual(rule, 0.8 * 12e-6 / (7.85e-6 * 490) * 430 / 7, places=6)
        self.assertLess(pulled(order, shrink_mm=0.05).orders[0].most_mm, pulled(order).orders[0].most_mm)
        self.assertIn("as you measured", str(pulled(order, shrink_mm=0.05).limits))

    def test_the_gap_closes_ahead_of_a_straight_run_and_the_sheets_jam(self):
        ring = [[200 * s, 0] for s in np.linspace(0, 1, 21)] + [[200, 120], [0, 120]]
        run = pulled(
            list(range(1, 24)), tacks=[list(map(float, at)) for at in ring], gap_mm=0.3, clamps=0
        ).orders[0]
        self.assertTrue(run.closes)
        self.assertLess(run.most_mm, 3.0, "they jam and do not go on through each other")

    def test_refusals(self):
        for orders, more, words in (
            ([[1, 2, 3]], {}, "each of the 8 tacks once"),
            ([[1, 1, 2, 3, 4, 5, 6, 7]], {}, "each of the 8 tacks once"),
            ([{"name": "a", "tacks": list(range(1, 9)), "rise_k": [1.0]}], {}, "8 tacks have 1 temperatures"),
            ([[1]], {"tacks": [[100, 60]]}, "off the patch"),
        ):
            with self.subTest(words), self.assertRaisesRegex(BadField, words):
                pulled(*orders, **more)

    def test_the_found_order_never_moves_an_edge_more_than_a_straight_run(self):
        """A sample of what ``bench`` runs over hundreds of simulated patches."""
        rng = random.Random(11)
        self.assertEqual(behind(rng, 25), [])


class Orders(TestCase):
    def test_places_along_the_edge_and_folds_within(self):
        places, numbers = along_edge(PATCH, [[200, 60], [50, 0], [0, 60]])
        self.assertEqual((places, numbers), ([[50, 0], [200, 60], [0, 60]], [2, 1, 3]))
        self.assertEqual(folds_within([[[100, -50], [100, 300]], [[500, 0], [600, 0]]], PATCH), [[[100.0, 0.0], [100.0, 120.0]]])  # fmt: skip

    def test_a_drawn_edge_is_parted_where_nothing_is_welded(self):
        row = [[10.0 * n, 0.0] for n in range(11)]
        self.assertEqual(len(drawn_edge(row, [[0, 1]] * 11, 2)), 1)
        closed = [[math.cos(a), math.sin(a)] for a in np.linspace(0, 6, 24)]
        (ring,) = drawn_edge(closed, [[0, 0]] * 24, 1)
        self.assertEqual(ring[0], ring[-1])
        parted = drawn_edge(row + [[10.0 * n, 90.0] for n in range(10, -1, -1)], [[0, 0]] * 22, 1)
        self.assertEqual([len(run) for run in parted], [11, 11])
