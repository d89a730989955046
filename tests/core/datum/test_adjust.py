import math
import random
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.datum.builders import BODY, TRUSTED, a_round, adjusted, moved, request, values
from yellow_sill.core.datum.adjust import adjust
from yellow_sill.core.datum.compare import compare
from yellow_sill.core.datum.network import Undetermined
from yellow_sill.core.datum.slips import doubt, spread_words
from yellow_sill.core.datum.verdicts import verdict
from yellow_sill.core.errors import BadField, CoreError

NOSE = moved(a1L=(1, -6, -7), a2L=(1, -5, -6), a1R=(0, -4, 1))


def found(result, name):
    return next(point for point in result.points if point.id == name)


class ExactNetworks(TestCase):
    def test_every_kind_of_reading_leads_back_to_the_true_places(self):
        nominal = {
            "A": [0, 0, 0],
            "B": [1000, 0, 0],
            "C": [0, 800, 0],
            "D": [500, 400, 600],
            "E": [900, 700, 300],
        }
        places = nominal | {"D": [506, 393, 604], "E": [895, 703, 296]}
        asked = [
            ("distance", "AD"),
            ("plumb", "BD"),
            ("angle", "ADC"),
            ("height_difference", "AD"),
            ("offset_y", "E"),
            ("height", "E"),
            ("distance", "DE"),
            ("distance", "BE"),
        ]
        readings = [
            {"id": f"{k} {e}", "kind": k, "points": list(e), "value": values(places, k, e), "sigma_mm": 1}
            for k, e in asked
        ]
        result = adjusted(readings=readings, nominal=nominal, trusted="ABC", trust=0.01)
        for name in "DE":
            self.assertLess(math.dist(found(result, name).place, places[name]), 1e-3)
        self.assertEqual((found(result, "A").length_mm, found(result, "A").verdict), (0, "held"))
        self.assertEqual(result.sigma_zero.redundancy, 2)
        self.assertAlmostEqual(sum(reading.redundancy for reading in result.readings), 2, places=3)
        self.assertAlmostEqual(sum(point.redundancy for point in result.points), 2, places=2)

    def test_two_distances_at_right_angles_and_a_height_in_closed_form(self):
        nominal = {"A": [0, 0, 0], "B": [1000, 0, 0], "C": [0, 1000, 0], "P": [1000, 1000, 0]}
        readings = [{"id": "b", "kind": "distance", "points": ["B", "P"], "value": 1002, "sigma_mm": 1}, {"id": "c", "kind": "distance", "points": ["C", "P"], "value": 999, "sigma_mm": 2},
                    {"id": "h", "kind": "height", "points": ["P"], "value": 0, "sigma_mm": 0.5}]  # fmt: skip
        point = found(adjusted(readings=readings, nominal=nominal, trusted="ABC", trust=0.01), "P")
        self.assertAlmostEqual(point.dx_mm, -1, delta=0.01)
        self.assertAlmostEqual(point.dy_mm, 2, delta=0.01)
        for axis, sigma in zip(point.ellipsoid.half_axes_mm, (2, 1, 0.5), strict=True):
            self.assertAlmostEqual(axis, sigma, delta=0.01)
        self.assertEqual(
            (abs(round(point.ellipsoid.directions[0][0])), point.verdict), (1, "cannot tell yet")
        )

    @settings(deadline=None, max_examples=15)
    @given(st.floats(-3, 3), st.floats(-400, 400), st.integers(0, 99))
    def test_turning_and_shifting_everything_changes_no_length(self, turn, shift, seed):
        c, s = math.cos(turn), math.sin(turn)
        turned = lambda places: {
            n: [c * x - s * y + shift, s * x + c * y, z - shift] for n, (x, y, z) in places.items()
        }
        rounds = [reading for reading in a_round(NOSE, seed) if reading["kind"] == "distance"]
        before, after = (adjusted(readings=rounds, nominal=nominal) for nominal in (BODY, turned(BODY)))
        for a, b in zip(before.points, after.points, strict=True):
            self.assertAlmostEqual(a.length_mm, b.length_mm, delta=1e-3)
            np.testing.assert_allclose(a.ellipsoid.half_axes_mm, b.ellipsoid.half_axes_mm, atol=1e-3)
        self.assertAlmostEqual(before.sigma_zero.value, after.sigma_zero.value, places=3)

    def test_a_level_plane_of_any_height_and_tilt_is_found_and_changes_no_place(self):
        readings = a_round(NOSE, level=(812.0, 4.0, -6.5))
        result = adjusted(readings=readings, heights_from="level")
        self.assertAlmostEqual(result.level.roll_mm_per_m, 6.5, places=2)
        self.assertAlmostEqual(result.level.pitch_mm_per_m, -4.0, places=2)
        self.assertLess(math.dist(found(result, "1L").place, NOSE["1L"]), 0.01)

    def test_uncertainty_is_what_repeated_rounds_scatter(self):
        rng = random.Random(4)  # trusted points have an error of their own
        rounds = [
            {name: [v + rng.gauss(0, 0.5 * (name in TRUSTED)) for v in place] for name, place in NOSE.items()}
            for _ in range(30)
        ]
        results = [adjusted(NOSE, a_round(places, seed)) for seed, places in enumerate(rounds)]
        off = np.array(
            [
                [np.array(found(result, name).place) - NOSE[name] for name in NOSE if name not in TRUSTED]
                for result in results
            ]
        )
        said = np.array([found(results[0], name).sigma_mm for name in NOSE if name not in TRUSTED])
        self.assertAlmostEqual(float(np.mean(off.std(axis=0) / said)), 1.0, delta=0.1)
        blamed = sum(bool(result.gross_errors) for result in results)
        self.assertLessEqual(blamed, 1, "one good round in 200 may be blamed")


class Frames(TestCase):
    def test_too_few_trusted_points_give_a_best_fit_and_say_so(self):
        for trusted, words in (((), "No point is trusted"), (("5L", "5R"), "cannot hold the frame")):
            result = adjusted(NOSE, trusted=trusted, heights_from="level")
            self.assertEqual(result.frame, "best fit")
            self.assertIn(words, result.frame_words)
            off = np.array([[p.dx_mm, p.dy_mm, p.dz_mm] for p in result.points])
            self.assertLess(np.abs(off[:, :2].mean(axis=0)).max(), 0.01)
        self.assertEqual(adjusted(NOSE).frame, "trusted points")
        two_and_heights = adjusted(NOSE, trusted=("5L", "8R"))
        self.assertEqual(
            two_and_heights.frame, "trusted points", "heights hold the roll that two points leave open"
        )

    def test_what_is_not_determined_is_refused_by_name_or_left_out(self):
        nominal = BODY | {"D7 right": [1200, 700, 800]}
        one = {"id": "x", "kind": "distance", "points": ["5R", "D7 right"], "value": 700, "sigma_mm": 1}
        cases = {
            "only one distance reaches it": [one],
            "no reading reaches it": [],
            "only two distances reach it, and nothing fixes": [
                one,
                one | {"id": "y", "points": ["7L", "D7 right"]},
            ],
            "nothing fixes it along the shell": [
                {"id": "z", "kind": "height", "points": ["D7 right"], "value": 800, "sigma_mm": 1},
                {"id": "o", "kind": "offset_y", "points": ["D7 right"], "value": 700, "sigma_mm": 1},
            ],
        }
        for words, more in cases.items():
            with self.subTest(words), self.assertRaisesRegex(Undetermined, f"D7 right: .*{words}"):
                adjusted(readings=a_round(BODY) + more, nominal=nominal)
        left = adjusted(readings=[*a_round(BODY), one], nominal=nominal, leave_out_undetermined=True)
        self.assertEqual(
            [(each.id, each.why) for each in left.undetermined],
            [("D7 right", "only one distance reaches it")],
        )
        self.assertNotIn("x", [reading.id for reading in left.readings])
        with self.assertRaises(Undetermined):
            adjusted(readings=[one], nominal=nominal, leave_out_undetermined=True)

    def test_a_mirrored_place_is_resolved_towards_nominal_and_told(self):
        nominal = {
            "A": [0, 0, 0],
            "B": [1000, 0, 0],
            "C": [0, 1000, 20],
            "D": [1000, 1000, 0],
            "P": [400, 500, 30],
        }
        places = nominal | {"P": [400, 500, -28]}
        readings = [
            {
                "id": name,
                "kind": "distance",
                "points": [name, "P"],
                "value": values(places, "distance", (name, "P")),
                "sigma_mm": 1,
            }
            for name in "ABD"
        ]
        result = adjusted(readings=readings, nominal=nominal, trusted="ABCD")
        self.assertAlmostEqual(found(result, "P").place[2], 28, delta=0.5)
        self.assertEqual([remark.code for remark in result.remarks if remark.where == "P"], ["DATUM-01"])

    def test_verdicts(self):
        for length, tolerance, unsure, expected in (
            (1, 3, 1, "in"),
            (3.5, 3, 1, "out"),
            (1, 3, 4, "cannot tell yet"),
            (9, 3, 4, "out"),
        ):
            self.assertEqual(verdict(length, tolerance, unsure), expected)
        self.assertEqual({p.id for p in adjusted(NOSE).points if p.verdict == "out"}, {"1L", "2L", "1R"})


class GrossErrors(TestCase):
    def wrong(self, changes, seed=3, **more):
        readings = a_round(NOSE, seed)
        for reading in readings:
            if reading["id"] in changes:
                reading["value"] = changes[reading["id"]](reading["value"])
        return adjusted(readings=readings, **more)

    def test_swapped_digits_are_found_one_by_one_and_explained(self):
        def swap(value):
            text = f"{value:.0f}"
            return float(text[:-3] + text[-2] + text[-3] + text[-1])

        names = ["distance 5L 2R", "distance 6R 3R", "height 3L"]
        result = self.wrong(dict.fromkeys(names, swap))
        self.assertEqual({error.reading for error in result.gross_errors}, set(names))
        for error in result.gross_errors:
            true = values(NOSE, error.kind, error.points)
            self.assertEqual((error.explanation, error.set_aside), ("transposed", True))
            self.assertAlmostEqual(error.meant, true, delta=3)
            self.assertAlmostEqual(error.should_be, true, delta=3)
            self.assertIn("swapped", error.words)
        self.assertTrue(result.sigma_zero.passed)
        self.assertLess(math.dist(found(result, "2L").place, NOSE["2L"]), 3)

    def test_a_wrong_pair_a_tape_held_at_100_and_a_plain_blunder(self):
        pair = self.wrong({"distance 6L 4R": lambda _: values(NOSE, "distance", ("6R", "4R"))}).gross_errors[
            0
        ]
        self.assertEqual(
            (pair.explanation, pair.meant_points, pair.reading),
            ("wrong_pair", ["6R", "4R"], "distance 6L 4R"),
        )
        whole = self.wrong({"distance 6L 4R": lambda value: value - 100}).gross_errors[0]
        self.assertEqual(whole.explanation, "whole")
        self.assertIn("100 mm too short", whole.words)
        blunder = self.wrong({"distance 6L 4R": lambda value: value + 33.3}).gross_errors[0]
        self.assertEqual(blunder.explanation, "unknown")
        self.assertAlmostEqual(blunder.by, 33.3, delta=5)

    def test_readings_that_cannot_be_told_apart_are_not_thrown_away(self):
        nominal = {"A": [0, 0, 0], "B": [1000, 0, 0], "C": [0, 1000, 0], "P": [1000, 1000, 0]}
        values_ = {"A": 1414.2, "B": 1026.0, "C": 1000}
        readings = [
            {"id": name, "kind": "distance", "points": [name, "P"], "value": value, "sigma_mm": 1}
            for name, value in values_.items()
        ]
        readings.append({"id": "h", "kind": "height", "points": ["P"], "value": 0, "sigma_mm": 1})
        result = adjusted(readings=readings, nominal=nominal, trusted="ABC")
        [error] = result.gross_errors
        self.assertEqual((error.set_aside, len(error.among)), (True, 2))
        self.assertIn("cannot all be right", error.words)
        self.assertGreater(
            found(result, "P").unsure_mm, 26, "what follows from the other explanation lies inside"
        )

    def test_the_smallest_error_stated_is_about_the_smallest_found(self):
        name = "distance 5L 2R"
        noticed = next(r.noticed_from for r in self.wrong({}).readings if r.id == name)
        hits = sum(
            any(e.reading == name for e in self.wrong({name: lambda v: v + noticed}, seed).gross_errors)
            for seed in range(20)
        )
        self.assertGreaterEqual(hits, 10)
        self.assertFalse(
            any(e.reading == name for e in self.wrong({name: lambda v: v + 0.3 * noticed}, 3).gross_errors)
        )

    def test_a_trusted_point_that_moved_is_suspected(self):
        result = adjusted(readings=a_round(moved(a8R=(0, 0, 25)), 5))
        self.assertIn("8R", [remark.where for remark in result.remarks if remark.code == "DATUM-02"])


class BadInput(TestCase):
    REFUSED = {
        "a point nobody knows": ({"points": ["5L", "9Z"]}, "bad: there is no point 9Z"),
        "to itself": ({"points": ["5L", "5L"]}, "bad: it goes from 5L to itself"),
        "too few points": ({"points": ["5L"]}, "bad: a distance joins 2 points, 1 given"),
        "no distance": ({"value": -3}, "bad: -3 mm is no distance"),
        "no angle": ({"kind": "angle", "points": ["5L", "5R", "7L"], "value": 200}, "bad: 200° is no angle"),
        "an id twice": ({"id": "height 1L"}, "Two readings bear the name height 1L"),
        "no error": ({"sigma_mm": 0}, "Reading bad: This must be 0.01 or more"),
        "no number": ({"value": math.nan}, "Reading bad: This must be a finite"),
    }

    def test_every_refusal_names_the_reading(self):
        usual = {"id": "bad", "kind": "distance", "points": ["5L", "1R"], "value": 2000, "sigma_mm": 1}
        for name, (changes, words) in self.REFUSED.items():
            with self.subTest(name), self.assertRaises(CoreError) as caught:
                adjusted(readings=[*a_round(BODY), usual | changes])
            self.assertIn(words, str(caught.exception))
            self.assertIn("readings[", caught.exception.where)
        with self.assertRaises(BadField):
            adjust(
                request().read(
                    {
                        "points": [{"id": "A", "nominal": [0, 0, 0]}] * 2,
                        "readings": [
                            {"id": "h", "kind": "height", "points": ["A"], "value": 1, "sigma_mm": 1}
                        ],
                    }
                )
            )


class BetweenRounds(TestCase):
    def test_what_moved_is_told_from_noise(self):
        before, after = (
            adjusted(NOSE, a_round(NOSE, 1)),
            adjusted(readings=a_round(NOSE | {"3R": [4, 499, 735]}, 2)),
        )
        told = compare(before, after)
        self.assertEqual([each.id for each in told if each.real], ["3R"])
        self.assertIn("aft", told[0].words)
        self.assertGreater(told[0].length_mm, 2 * told[0].noise_mm)

    def test_a_typed_reading_is_doubted_in_words(self):
        self.assertEqual(
            doubt(1742, 1725, 1724), "That differs by 18 mm from last time: typed 1742, meant 1724?"
        )
        self.assertIn("40 mm from the drawing", doubt(1764, 1724, None))
        self.assertEqual(doubt(1730, 1724, 1726), "")
        self.assertIn("lie 6.0 mm apart", spread_words([1720, 1726], 1.0))
        self.assertEqual(spread_words([1724, 1725], 1.0), "")
