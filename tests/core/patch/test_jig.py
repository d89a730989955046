"""Jigs: just the bars that hold, plates, checks two a mark."""

from unittest import TestCase

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.patch.jig import JigRequest, jig

FLAT = {"a": (0, 0, 0), "b": (400, 0, 0), "c": (400, 300, 0), "d": (0, 300, 0)}


def ask(marks, **more):
    return jig(JigRequest.read({"marks": [{"name": name, "at": at} for name, at in marks.items()]} | more))


def stiffness(places, bars, names):
    """The rank of a frame's rigidity matrix, worked out anew."""
    rows = []
    for bar in bars:
        i, j = names.index(bar.first), names.index(bar.second)
        row = np.zeros((len(places), places.shape[1]))
        row[i], row[j] = places[i] - places[j], places[j] - places[i]
        rows.append(row.ravel())
    return np.linalg.matrix_rank(np.array(rows), tol=1e-3)


class Jigs(TestCase):
    def test_four_marks_in_a_plane_take_four_sides_and_a_diagonal(self):
        told = ask(FLAT)
        self.assertEqual(
            (told.flat, sorted(bar.holes_mm for bar in told.bars)), (True, [300, 300, 400, 400, 500])
        )
        self.assertEqual(told.bars[0].cut_mm, 260)
        self.assertEqual(len(ask({"a": (0, 0, 0), "b": (400, 0, 0)}).bars), 1)
        self.assertIn("5 bars, 1700 mm of tube", told.words)

    @settings(max_examples=80, deadline=None)
    @given(st.lists(st.tuples(*[st.integers(-900, 900)] * 3), min_size=4, max_size=7, unique=True))
    def test_a_frame_holds_and_no_bar_is_one_too_many(self, at):
        places = np.array(at, float)
        assume(min(np.linalg.norm(p - q) for i, p in enumerate(places) for q in places[:i]) > 60)
        spread = np.linalg.svd(places - places.mean(axis=0), compute_uv=False)
        assume(spread[2] > 60)
        names = [f"m{i}" for i in range(len(at))]
        told = ask(dict(zip(names, at, strict=True)))
        self.assertEqual(
            (len(told.bars), stiffness(places, told.bars, names)), (3 * len(at) - 6, 3 * len(at) - 6)
        )
        longest = max(told.bars, key=lambda bar: bar.holes_mm)
        self.assertLess(
            stiffness(places, [bar for bar in told.bars if bar is not longest], names), 3 * len(at) - 6
        )
        for name in names:
            self.assertGreaterEqual(sum(name in (check.first, check.second) for check in told.checks), 2)

    def test_a_plate_has_its_holes_as_far_apart_as_the_marks(self):
        tilted = {name: (x, y, 0.4 * x + (2 if name == "c" else 0)) for name, (x, y, _) in FLAT.items()}
        told = ask(tilted, made_of="plate")
        at = {hole.mark: np.array(hole.at) for hole in told.holes}
        for one, other in (("a", "b"), ("a", "c"), ("b", "d")):
            true = np.linalg.norm(np.array(tilted[one]) - np.array(tilted[other]))
            self.assertAlmostEqual(np.linalg.norm(at[one] - at[other]), true, delta=0.3)
        self.assertEqual(min(hole.packer_mm for hole in told.holes), 0)
        self.assertTrue(all(hole.at[0] >= 40 and hole.at[1] >= 40 for hole in told.holes))

    def test_what_is_measured_again_is_judged_and_mirrors_are_told(self):
        both = {"left": (100, -500, 300), "right": (100, 500, 300), "middle": (600, 0, 320)}
        self.assertEqual(ask(both).mirrored, [("left", "right")])
        good = ask(FLAT, measured=[{"first": "b", "second": "a", "mm": 401}])
        self.assertEqual({check.right for check in good.checks}, {True, None})
        bad = ask(FLAT, measured=[{"first": "a", "second": "b", "mm": 404}])
        self.assertIn("Out: a to b by 4.0 mm", bad.words)

    def test_refusals(self):
        line = {"a": (0, 0, 0), "b": (300, 0, 0), "c": (700, 0, 0)}
        for marks, more, words in (
            (line, {}, "one line"), ({"a": (0, 0, 0), "b": (10, 0, 0)}, {}, "too near"), (FLAT | {"e": (200, 150, 200)}, {"made_of": "plate"}, "off the plane"),
            (FLAT, {"measured": [{"first": "a", "second": "x", "mm": 9}]}, "No two marks"),
        ):  # fmt: skip
            with self.assertRaisesRegex(BadField, words):
                ask(marks, **more)
        with self.assertRaisesRegex(BadField, "one name"):
            jig(JigRequest.read({"marks": [{"name": "a", "at": [0, 0, 0]}, {"name": "a", "at": [90, 0, 0]}]}))
