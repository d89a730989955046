"""Gaps round hung parts: judged, and the hinges' moves found, in simulated worlds beside the plain way of an engineer."""

from functools import cache
from unittest import TestCase

import numpy as np

from yellow_sill.core.errors import BadField
from yellow_sill.core.shell import BODY_TYPES, build_shell
from yellow_sill.core.shell.gaps import GapRequest, judge_gaps, left_beside_right, request_of, round_words
from yellow_sill.core.shell.hung import hung_parts
from yellow_sill.core.shell.lie import Body


@cache
def parts(kind="saloon-2-door-unitary"):
    return {each.code: each for each in hung_parts(Body(build_shell(kind, {}).views))}


def moved(part, upper, lower, along):
    """How a rigid part moves at each of its places when its hinges move, mm."""
    (_, a), (_, b) = part.hinges
    turn = -(upper - lower) / (a[1] - b[1])
    return {
        place.code: (
            lower + (upper - lower) * (place.at[1] - b[1]) / (a[1] - b[1]),
            along + turn * (place.at[0] - (a[0] + b[0]) / 2),
        )
        for place in part.places
    }


def gaps(part, by, rng=None, noise=0.3):
    return {
        place.code: max(
            0.0,
            place.nominal_mm
            - place.normal[0] * by[place.code][0]
            - place.normal[1] * by[place.code][1]
            + (rng.normal(0, noise) if rng else 0.0),
        )
        for place in part.places
    }


def plainly(part, found):
    """What an engineer does by eye: each hinge by half the difference of front and rear at its end, the height by the lower edge."""
    off = {place.code.split("/")[1]: found[place.code] - place.nominal_mm for place in part.places}
    upper, lower = ((off[f"rear-{end}"] - off[f"front-{end}"]) / 2 for end in ("top", "bottom"))
    return upper, lower, -(off["lower-front"] + off["lower-rear"]) / 2


class HungParts(TestCase):
    def test_every_body_has_its_hung_parts_with_neighbours(self):
        for kind in BODY_TYPES:
            found = parts(kind)
            self.assertLessEqual({"L-DOOR", "R-DOOR", "BONNET"}, set(found), kind)
            known = [place.beside for part in found.values() for place in part.places]
            self.assertGreater(sum(map(bool, known)) / len(known), 0.7, kind)
        self.assertIsNone(parts("pickup-ladder-chassis")["TGATE"].hinges)
        rear = hung_parts(Body(build_shell("saloon-2-door-unitary", {}).views), {"L-DOOR": "rear"})[0]
        self.assertGreater(rear.hinges[0][1][0], parts()["L-DOOR"].hinges[0][1][0])

    def test_moves_leave_the_gaps_better_than_the_plain_way(self):
        rng = np.random.default_rng(9)
        part = parts()["L-DOOR"]
        mine, plain, inside = [], [], 0
        for _ in range(800):
            true = rng.normal(0, (1.2, 1.2, 0.8))
            found = gaps(part, moved(part, *true), rng)
            told = judge_gaps(request_of(part, found))
            by = [move.by_mm if move.words else 0.0 for move in told.moves]
            inside += sum(
                abs(-move.by_mm - t) <= 1.96 * move.sigma_mm for move, t in zip(told.moves, true, strict=True)
            )
            for made, kept in ((by, mine), (plainly(part, found), plain)):
                left = moved(part, *(true + np.array(made)))
                kept.append(
                    np.sqrt(
                        np.mean(
                            [
                                (n * left[p.code][0] + m * left[p.code][1]) ** 2
                                for p in part.places
                                for n, m in [p.normal]
                            ]
                        )
                    )
                )
        self.assertLessEqual(np.median(mine), np.median(plain))
        self.assertLessEqual(np.percentile(mine, 95), np.percentile(plain, 95))
        self.assertGreater(inside / 2400, 0.85, "stated errors are counted against the truth")

    def test_even_wedge_and_what_no_hinge_mends(self):
        part = parts()["L-DOOR"]
        even = judge_gaps(request_of(part, gaps(part, moved(part, 0, 0, 0))))
        self.assertEqual(({edge.verdict for edge in even.edges}, even.out), ({"even"}, []))
        self.assertIn("Even all round", even.words)
        some = judge_gaps(request_of(part, {"L-DOOR/rear-top": 4.5, "L-DOOR/rear-bottom": 4.4}))
        self.assertEqual([edge.verdict for edge in some.edges], ["", "even", ""])
        self.assertIn("4 are not measured", some.words)
        self.assertIn("Nobody has measured", judge_gaps(request_of(part, {})).words)
        squeezed = {
            place.code: place.nominal_mm - (3 if "front" in place.code or "rear" in place.code else 0)
            for place in part.places
        }
        told = judge_gaps(request_of(part, squeezed))
        self.assertIn("the opening", told.words)
        wedge = judge_gaps(request_of(part, gaps(part, moved(part, 2.5, 0, 0))))
        self.assertIn("wedge", {edge.verdict for edge in wedge.edges})
        self.assertIn("Upper hinge", wedge.words)

    def test_a_bolted_skin_is_moved_only_where_somebody_said_that_it_is_bolted(self):
        body = Body(build_shell("pickup-ladder-chassis", {}).views)
        unknown = {each.code: each for each in hung_parts(body)}
        bolted = {each.code: each for each in hung_parts(body, {"L-WING": "bolts", "NOSE": "bolts", "L-BEDS": "welds"})}  # fmt: skip
        self.assertEqual([unknown["L-WING"].hinges, bolted["L-BEDS"].hinges], [None, None])
        wing, nose = bolted["L-WING"], bolted["NOSE"]
        far = {p.code: p.nominal_mm + (3 if p.code.endswith("rear-top") else -3 if p.code.endswith("front-top") else 0) for p in wing.places}  # fmt: skip
        self.assertIn("Upper bolts 3.0 mm aft", judge_gaps(request_of(wing, far)).words)
        self.assertNotIn("Move", judge_gaps(request_of(unknown["L-WING"], far)).words)
        right = {p.code: p.nominal_mm + (2 if "/left" in p.code else -2) for p in nose.places}
        self.assertIn("all bolts 2.0 mm left", judge_gaps(request_of(nose, right)).words)

    def test_a_round_tells_what_changed_since_the_one_before_beyond_its_readings(self):
        part = parts()["L-DOOR"]
        rng, false = np.random.default_rng(3), 0
        told = lambda now, then: round_words([(part, judge_gaps(request_of(part, now)))], now, then, "First")
        for _ in range(300):
            then, now = (gaps(part, moved(part, 0, 0, 0), rng) for _ in "ab")
            false += "None of 6 changed" not in told(now, then)
        self.assertLess(false / 300, 0.32, "of six gaps one in twenty differs by chance")
        now = gaps(part, moved(part, 0, 0, 0)) | {"L-DOOR/rear-top": 9.5}
        words = told(now, gaps(part, moved(part, 0, 0, 0)))
        self.assertIn("1 changed since First, most Door, left: Rear edge, top, wider by 5.0 mm", words)
        self.assertIn("Nobody", told({}, None))

    def test_left_beside_right_and_refusals(self):
        found = left_beside_right(
            list(parts().values()),
            {"L-DOOR/rear-top": 4.0, "R-DOOR/rear-top": 6.0, "L-DOOR/rear-bottom": 4.0},
        )
        told = {each.name: each.alike for each in found}
        self.assertEqual((told["Door: Rear edge, top"], told["Door: Rear edge, bottom"]), (False, None))
        place = {"edge": "a", "at": [0, 0], "normal": [1, 0], "nominal_mm": 4, "gap_mm": 4}
        request = {
            "places": [place | {"code": str(i)} for i in range(3)],
            "hinges": [["Upper hinge", [0, 5]], ["Lower hinge", [9, 5]]],
        }
        with self.assertRaises(BadField):
            judge_gaps(GapRequest.read(request))
