import itertools
import math
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.datum.builders import BODY, TRUSTED, a_round, adjusted, request
from yellow_sill.core.datum.adjust import adjust
from yellow_sill.core.datum.level import LevelRequest, level
from yellow_sill.core.datum.next_reading import NextReadingRequest, next_reading
from yellow_sill.core.datum.shape import ShapeRequest, shape
from yellow_sill.core.datum.sight import Bar, Sheet, in_reach, reach
from yellow_sill.core.datum.starting_set import starting_points
from yellow_sill.core.datum.transfer import TransferRequest, transfer
from yellow_sill.core.datum.walk import planned_round, points_near, reading_key
from yellow_sill.core.errors import CoreError
from yellow_sill.core.hold.bodies import vehicle_structure
from yellow_sill.core.hold.sight import plates_and_bars
from yellow_sill.core.shell import BODY_TYPES


def shaped(change, **more):
    points = [
        {
            "id": n,
            "nominal": p,
            "place": [float(a) for a in change(*p)],
            "covariance_mm2": np.diag([0.01] * 3).tolist(),
        }
        for n, p in BODY.items()
    ]
    return shape(ShapeRequest.read({"points": points} | more))


class Shape(TestCase):
    CASES = {  # word: what is done to a straight body, the value expected
        "Roll": (lambda x, y, z: (x, y, z + 0.004 * y), 4.0),
        "Pitch": (lambda x, y, z: (x, y, z - 0.003 * x), -3.0),
        "Sag": (lambda x, y, z: (x, y, z - 5 * (1 - ((x - 1285) / 1755) ** 2)), -5.0),
        "Sway": (lambda x, y, z: (x, y + 6 * (1 - ((x - 1285) / 1755) ** 2), z), 6.0),
        "Lozenge": (lambda x, y, z: (x + 0.01 * y, y, z), 4 * 0.01 * 3510 * 416 / math.hypot(3510, 832)),
    }

    def test_each_word_alone(self):
        for name, (change, expected) in self.CASES.items():
            with self.subTest(name):
                told = {each.name: each for each in shaped(change).measures}
                self.assertAlmostEqual(told[name].value, expected, delta=abs(expected) * 0.04)
                self.assertTrue(told[name].real)
                others = (
                    {"Roll", "Pitch", "Twist", "Sag", "Sway", "Lozenge"}
                    - {name}
                    - ({"Pitch"} if name == "Sag" else set())
                )
                for other in others:
                    self.assertLess(abs(told[other].value), 0.35, other)

    def test_twist_asymmetry_and_faces(self):
        told = shaped(lambda x, y, z: (x, y, z + 4e-6 * x * y))
        twist = next(each for each in told.measures if each.name == "Twist")
        self.assertAlmostEqual(
            twist.value, 4e-6 * 1000 * np.mean([2 * p[1] for p in BODY.values() if p[1] > 0]), places=3
        )
        still = shaped(lambda x, y, z: (x, y, z))
        self.assertFalse(any(each.real for each in [*still.measures, *still.asymmetry]))
        one = shaped(
            lambda x, y, z: (x + 4 * (x == 760 and y > 0), y, z),
            faces=[
                {"id": "Bay", "points": ["1L", "1R", "4R", "4L"], "opening": True},
                {"id": "Floor", "points": ["4L", "4R", "6R"]},
            ],
        )
        self.assertEqual([each.name for each in one.asymmetry if each.real], ["4L 4R"])
        self.assertIn("4.0 aft", next(each.words for each in one.asymmetry if each.real))
        self.assertGreater(one.squareness[0].value, 2)
        self.assertEqual(len(one.squareness), 3)

    def test_bad_faces_and_pairs_are_named(self):
        for more, words in (
            ({"faces": [{"id": "F", "points": ["1L", "1R", "9Z"]}]}, "no point 9Z"),
            ({"faces": [{"id": "F", "points": ["1L", "1R", "2L"], "opening": True}]}, "four corners"),
            ({"faces": [{"id": "F", "points": ["1L", "1L", "2L"]}]}, "named twice"),
            ({"pairs": [["1L", "2L"]]}, "both sides"),
        ):
            with self.subTest(words), self.assertRaisesRegex(CoreError, words):
                shaped(lambda x, y, z: (x, y, z), **more)


FLATS = {"2L": [-210, -376], "2R": [-210, 376], "8L": [1840, -486], "8R": [1840, 486]}
STANDS = {"LF": [560, -348], "RF": [560, 348], "LR": [1660, -492], "RR": [1660, 492]}


def stood(heights, names=tuple(STANDS), **more):
    flats = [{"id": n, "xy": xy, "height_mm": h} for (n, xy), h in zip(FLATS.items(), heights, strict=True)]
    return level(
        LevelRequest.read(
            {
                "flats": flats,
                "stands": [{"id": n, "xy": STANDS[n]} for n in names],
                "packers_mm": [1, 2, 3, 5, 10, 20],
            }
            | more
        )
    )


class Levelling(TestCase):
    @settings(deadline=None, max_examples=40)
    @given(st.floats(-12, 12), st.floats(-8, 8), st.sampled_from([tuple(STANDS), ("LF", "RF", "RR")]))
    def test_any_tilt_comes_level_within_the_steps_and_nothing_is_lowered(self, roll, pitch, stands):
        told = stood([700 + roll * y / 1000 + pitch * x / 1000 for x, y in FLATS.values()], stands)
        self.assertLess(told.off_level_mm, 1.5)
        self.assertTrue(all(each.add_mm >= 0 for each in told.stands))
        for each in told.stands:
            self.assertAlmostEqual(sum(each.packers_mm), each.height_mm)
        self.assertAlmostEqual(told.twist_mm, 0, delta=1e-6)
        self.assertAlmostEqual(told.tilt_before[0], -roll, delta=1e-3)
        self.assertLessEqual(sum(each.carries for each in told.stands), 4)
        self.assertGreaterEqual(sum(each.carries for each in told.stands), 3)

    def test_twist_stays_in_the_shell_and_is_told(self):
        twisted = stood([700 - 3, 700 + 3, 700 + 3, 700 - 3])
        self.assertAlmostEqual(abs(twisted.twist_mm), 12, delta=1)
        self.assertIn("in the shell, not in the floor", " ".join(twisted.words))
        self.assertLessEqual(max(each.add_mm for each in twisted.stands), 1, "nothing is racked to hide it")
        pressed = stood([700 - 3, 700 + 3, 700 + 3, 700 - 3], rigid=False)
        self.assertLess(max(abs(flat.height_mm) for flat in pressed.flats), 2)
        self.assertIn("comes back", " ".join(pressed.words))

    def test_the_light_stand_is_the_one_with_air(self):
        told = stood([700, 708, 700, 708], packers_mm=[5])
        light = [each for each in told.stands if not each.carries]
        self.assertEqual(told.light_stand, light[0].stand if light else None)
        packed = level(
            LevelRequest.read(
                {
                    "flats": [{"id": n, "xy": xy, "height_mm": 700} for n, xy in FLATS.items()],
                    "stands": [{"id": n, "xy": xy, "packed_mm": 20} for n, xy in STANDS.items()],
                    "packers_mm": [20],
                }
            )
        )
        self.assertIn("nothing to add", packed.words[0])

    def test_what_cannot_be_levelled_is_refused(self):
        for words, changes in {
            "flats lie in one line": {
                "flats": [{"id": str(i), "xy": [i * 500, 0], "height_mm": 1} for i in range(3)]
            },
            "stands lie in one line": {"stands": [{"id": str(i), "xy": [i * 500, 0]} for i in range(3)]},
            "there twice": {"stands": [{"id": "A", "xy": xy} for xy in STANDS.values()]},
            "shell tips": {"load_xy": [-2000, 0]},
            "it reaches 4 mm": {"stands": [{"id": n, "xy": xy, "most_mm": 4} for n, xy in STANDS.items()]},
            "At least 3": {"stands": []},
        }.items():
            with self.subTest(words), self.assertRaisesRegex(CoreError, words):
                stood([700, 730, 700, 730], **changes)


class NextReading(TestCase):
    def asked(self, readings, **more):
        points = [point.model_dump() for point in request().points]
        return next_reading(NextReadingRequest.read({"points": points, "readings": readings} | more))

    def test_each_proposal_is_the_best_of_all_when_tried_out(self):
        readings = [r for r in a_round(BODY) if "1L" not in r["points"]] + [
            r for r in a_round(BODY) if r["id"] in ("height 1L", "distance 2L 1L", "distance 3L 1L")
        ]
        told = self.asked(
            readings,
            candidates=[
                {"kind": "distance", "points": ["1L", other], "sigma_mm": 1}
                for other in BODY
                if other != "1L"
            ],
            wanted=1,
        )
        worst = {}
        for other in BODY:
            if other != "1L":
                more = {
                    "id": "new",
                    "kind": "distance",
                    "points": ["1L", other],
                    "value": math.dist(BODY["1L"], BODY[other]),
                    "sigma_mm": 1,
                }
                worst[other] = max(
                    p.ellipsoid.half_axes_mm[0] for p in adjusted(readings=[*readings, more]).points
                )
        best = told.readings[0]
        self.assertAlmostEqual(best.worst_after_mm, min(worst.values()), delta=0.01)
        self.assertAlmostEqual(
            worst[next(name for name in best.points if name != "1L")], min(worst.values()), delta=0.01
        )

    def test_it_never_gets_worse_and_reads_nothing_twice(self):
        told = self.asked(a_round(BODY)[:20], wanted=5)
        sizes = [told.worst_before_mm, *(each.worst_after_mm for each in told.readings)]
        self.assertEqual(sizes, sorted(sizes, reverse=True))
        taken = {reading_key(r["kind"], r["points"]) for r in a_round(BODY)[:20]}
        self.assertFalse(taken & {reading_key(each.kind, each.points) for each in told.readings})
        with self.assertRaisesRegex(CoreError, "no point"):
            self.asked([], candidates=[{"kind": "height", "points": ["X"], "sigma_mm": 1}])

    def test_the_worst_point_comes_first_and_what_nothing_reaches_is_said(self):
        readings = [r for r in a_round(BODY) if not {"4L", "1R"} & set(r["points"])]
        readings += [r for r in a_round(BODY) if r["id"] in ("distance 3R 1R", "distance 5R 1R", "height 1R")]
        told = self.asked(readings, wanted=3)
        self.assertTrue(all("4L" in each.points and each.helps == "4L" for each in told.readings[:2]))
        walled = self.asked(
            readings, candidates=[{"kind": "height", "points": ["1R"], "sigma_mm": 1}], wanted=3
        )
        self.assertIn("4L", [each.point for each in walled.unreached])
        self.assertIn("not fixed", walled.unreached[0].why)

    def test_sheets_rails_and_posts_stand_in_the_way(self):
        structure = vehicle_structure("saloon-2-door-unitary", {})
        plates, bars = plates_and_bars(structure)
        ids = [point.code for point in starting_points("saloon-2-door-unitary", {})]
        places = np.array([point.nominal for point in starting_points("saloon-2-door-unitary", {})])
        seen = reach(places, plates=plates, bars=bars)
        named = {frozenset((ids[i], ids[k])): wall for (i, k), wall in seen.hidden.items()}
        self.assertEqual(named[frozenset(("5L", "11R"))], "the right floor")
        self.assertEqual(named[frozenset(("10L", "13R"))], "the seat back")
        free = {frozenset((ids[i], ids[k])) for i, k in seen.pairs}
        self.assertLessEqual(
            {frozenset(pair) for pair in (("1L", "1R"), ("2L", "9R"), ("11L", "12L"), ("11L", "12R"))}, free
        )
        post = Bar(name="the post", start=[500, -100, 0], end=[500, -100, 900], radius_mm=40)
        across = np.array([[0, -100, 700], [1000, -90, 700], [1000, 400, 700]], float)
        self.assertEqual(reach(across, bars=[post]).hidden, {(0, 1): "the post"})

    def test_no_tape_goes_through_the_floor(self):
        places = np.array([[0, 0, 700], [800, 0, 700], [800, 0, 100], [0, 900, 100]], float)
        floor = Sheet(
            axis="z",
            at_mm=330,
            outlines=[[(300, -400), (1500, -400), (1500, 400), (300, 400)]],
            holes=[[(700, -50), (900, -50), (900, 50), (700, 50)]],
        )
        pairs = in_reach(places, [floor])
        self.assertNotIn((0, 2), pairs, "through the floor")
        self.assertLessEqual(
            {(0, 1), (1, 2), (2, 3), (0, 3)}, set(pairs), "above, through a hole, beneath, beside"
        )
        self.assertNotIn((0, 1), in_reach(places, [], 500))


class Transfer(TestCase):
    MARKS = [{"id": "A", "xy": [0, 0]}, {"id": "B", "xy": [300, 0]}]

    def found(self, **more):
        return transfer(TransferRequest.read({"marks": self.MARKS} | more))

    @given(st.floats(-400, 700), st.floats(5, 500), st.booleans())
    def test_two_distances_or_an_offset_lead_back_to_the_mark(self, x, y, left):
        y = y if left else -y
        distances = [math.hypot(x, y), math.hypot(x - 300, y)]
        told = self.found(distances_mm=distances, side="left" if left else "right")
        np.testing.assert_allclose(told.at, [x, y], atol=0.3)
        np.testing.assert_allclose(told.other, [x, -y], atol=0.3)
        offset = self.found(along_mm=told.along_mm, across_mm=told.across_mm)
        np.testing.assert_allclose(offset.at, told.at, atol=0.02)
        np.testing.assert_allclose(offset.distances_mm, distances, atol=0.3)

    def test_the_error_grows_as_the_arms_flatten(self):
        square, flat = (
            self.found(distances_mm=[212.1, 212.1], side="left"),
            self.found(distances_mm=[152, 152], side="left"),
        )
        self.assertAlmostEqual(square.error_mm, 0.5, places=2)
        self.assertEqual(square.remarks, [])
        self.assertGreater(flat.error_mm, 2)
        self.assertIn("nearly in line", flat.remarks[0].what)

    def test_what_does_not_meet_is_refused(self):
        for words, more in {
            "shorter than": {"distances_mm": [100, 150], "side": "left"},
            "differ by more": {"distances_mm": [500, 100], "side": "left"},
            "On which side": {"distances_mm": [200, 200]},
            "Give two distances": {},
            "one spot": {"marks": [self.MARKS[0]] * 2, "distances_mm": [1, 1], "side": "left"},
        }.items():
            with self.subTest(words), self.assertRaisesRegex(CoreError, words):
                self.found(**more)


class Rounds(TestCase):
    def test_the_planned_round_of_every_body_type_fixes_every_point(self):
        for body_type, held in itertools.product(BODY_TYPES, (True, False)):
            points = starting_points(body_type, {})
            nominal = np.array([point.nominal for point in points])
            plan = planned_round([point.code for point in points], nominal)
            self.assertEqual(len({reading_key(each.kind, each.points) for each in plan}), len(plan))
            places = {point.code: list(point.nominal) for point in points}
            readings = [
                {
                    "id": reading_key(each.kind, each.points),
                    "kind": each.kind,
                    "points": each.points,
                    "value": each.nominal or places[each.points[0]][2],
                    "sigma_mm": 1,
                }
                for each in plan
            ]
            result = adjust(
                request(
                    readings=readings,
                    nominal=places,
                    trusted=("2L", "2R", "8L") if held else (),
                    heights_from="level",
                )
            )
            self.assertFalse(result.undetermined)
            self.assertLess(max(p.ellipsoid.half_axes_mm[0] for p in result.points), 5, body_type)
            self.assertGreater(result.sigma_zero.redundancy, 15)
            self.assertEqual({point.mirror_code for point in points}, {point.code for point in points})

    def test_a_repairs_round_takes_what_is_near_and_what_holds(self):
        near = points_near(
            list(BODY), np.array(list(BODY.values())), {"x": (700, 850), "z": (200, 340)}, TRUSTED, count=4
        )
        self.assertLessEqual({"4L", "4R", *TRUSTED}, set(near))
        self.assertLess(len(near), len(BODY))
