"""Photos: a heap sorted into the work of its days, two of them laid over one another; what happened at a place."""

import random
from datetime import date, datetime, timedelta
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.record.at_point import PointRequest, at_point, ring
from yellow_sill.core.record.heap import HeapRequest, sort_heap
from yellow_sill.core.record.overlay import OverlayRequest, overlay

FIRST = date(2025, 3, 1)


def season(seed):
    """A year of a garage as it truly was: photos with the repair they are of, what was written down of it."""
    rng = random.Random(seed)
    photos, truth, done, states = [], {}, [], []
    open_ = {n: [FIRST + timedelta(days=rng.randint(0, 200)), None] for n in range(1, 7)}
    for n, life in open_.items():
        life[1] = life[0] + timedelta(days=rng.randint(60, 150))
        for k, state in enumerate(("found", "opened", "cut", "welded", "signed off")):
            states.append({"repair": n, "day": life[0] + (life[1] - life[0]) * k / 4, "state": state})
    for week in range(52):
        day = FIRST + timedelta(days=7 * week + rng.choice([0, 0, 3]))
        at = datetime.combine(day, datetime.min.time()) + timedelta(hours=rng.choice([9, 18]))
        under_way = [n for n, (first, last) in open_.items() if first <= day <= last]
        for n in rng.sample(under_way, min(len(under_way), rng.choice([1, 1, 2, 3]))):
            minutes, clocked = rng.randint(30, 150), rng.random() < 0.4
            if rng.random() < 0.85:  # else nobody wrote it down
                times = {"begins": at, "ends": at + timedelta(minutes=minutes)} if clocked else {}
                done.append({"repair": n, "day": day, "minutes": minutes} | times)
            for _ in range(rng.randint(0, 4)):
                key = f"P{len(photos)}"
                taken = at + timedelta(minutes=rng.uniform(0, minutes))
                of = rng.choice(under_way) if rng.random() < 0.04 else n
                for k in range(rng.choice([1, 1, 2, 3])):
                    photos.append({"key": f"{key}-{k}", "at": taken + timedelta(seconds=20 * k)})
                    truth[f"{key}-{k}"] = of
            at += timedelta(minutes=minutes + 20)
    return {"photos": photos, "done": done, "states": states, "today": FIRST + timedelta(days=500)}, truth


def plainly(asked):
    """Twenty lines: the repair with the most minutes on the nearest day on which anything was written down."""
    by_day = {}
    for each in asked["done"]:
        by_day.setdefault(each["day"], []).append((each["minutes"], each["repair"]))
    found = {}
    for photo in asked["photos"]:
        day = photo["at"].date()
        near = min(by_day, key=lambda other: abs((other - day).days), default=None)
        found[photo["key"]] = max(by_day[near])[1] if near else 0
    return found


class HeapTest(TestCase):
    def test_four_hundred_seasons_are_sorted_better_than_by_the_nearest_day(self):
        sure = wrong = plain_wrong = first = plain_first = asked = every = 0
        for seed in range(400):
            request, truth = season(seed)
            plain = plainly(request)
            every += len(truth)
            for each in sort_heap(HeapRequest.read(request)).photos:
                true = truth[each.key]
                if each.sure:
                    sure, wrong, plain_wrong = (
                        sure + 1,
                        wrong + (each.repair != true),
                        plain_wrong + (plain[each.key] != true),
                    )
                else:
                    asked, plain_first = asked + 1, plain_first + (plain[each.key] == true)
                    first += bool(each.likely) and each.likely[0].repair == true
        self.assertGreater(sure / every, 0.5)
        self.assertLess(
            wrong / sure, 0.05, "four in a hundred were of something else than what was worked on"
        )
        self.assertLess(4 * wrong, plain_wrong)
        self.assertGreaterEqual(first, plain_first, "nor is what it offers first behind")

    def test_what_a_camera_cannot_know_is_asked_about(self):
        at = datetime(2025, 3, 1, 10)
        done = [{"repair": 2, "day": FIRST, "minutes": 60}]
        photos = [
            {"key": "none"}, {"key": "ahead", "at": at + timedelta(days=900)}, {"key": "unset", "at": datetime(1980, 1, 1)},
            {"key": "good", "at": at}, {"key": "next", "at": at + timedelta(days=1)}, {"key": "far", "at": at + timedelta(days=60)},
        ]  # fmt: skip
        told = {
            each.key: each
            for each in sort_heap(
                HeapRequest.read({"photos": photos, "done": done, "today": date(2025, 9, 1)})
            ).photos
        }
        self.assertEqual([key for key, each in told.items() if each.sure], ["good"])
        self.assertEqual([told[key].day for key in ("none", "ahead", "unset")], [None] * 3)
        self.assertIn("ahead", told["ahead"].why)
        self.assertIn("not set", told["unset"].why)
        self.assertEqual([one.repair for one in told["next"].likely], [2])
        self.assertEqual(list(told["far"].likely), [])

    def test_a_repair_that_is_signed_off_or_changed_that_day_is_not_told_as_sure(self):
        day = FIRST + timedelta(days=10)
        photo = {"key": "p", "at": datetime(2025, 3, 11, 10)}
        asked = {"photos": [photo], "done": [{"repair": 1, "day": day}], "today": date(2025, 9, 1)}
        states = [{"repair": 1, "day": FIRST, "state": "found"}, {"repair": 1, "day": day, "state": "cut"}]
        one = sort_heap(HeapRequest.read(asked | {"states": states})).photos[0]
        self.assertEqual(
            (one.sure, one.repair, one.stage), (True, 1, ""), "before or after the cut: nobody knows"
        )
        over = [{"repair": 1, "day": FIRST, "state": "signed off"}]
        self.assertFalse(sort_heap(HeapRequest.read(asked | {"states": over})).photos[0].sure)


_side = st.integers(400, 6000)


class OverlayTest(TestCase):
    @given(st.integers(0, 10**6), st.sampled_from([2, 3, 4]))
    def test_a_known_way_is_found_again_from_its_points(self, seed, count):
        rng = np.random.default_rng(seed)
        size = rng.integers(800, 5000, 2)
        turn, scale = rng.uniform(-0.5, 0.5), rng.uniform(0.5, 2)
        true = np.array([[scale * np.cos(turn), -scale * np.sin(turn), rng.uniform(-200, 200)], [scale * np.sin(turn), scale * np.cos(turn), rng.uniform(-200, 200)], [0, 0, 1]])  # fmt: skip
        if count > 2:
            true[:2, :2] = true[:2, :2] @ (np.eye(2) + rng.uniform(-0.15, 0.15, (2, 2)))
        if count > 3:
            true[2, :2] = rng.uniform(-0.15, 0.15, 2) / size
        after = (
            np.array([[0.15, 0.2], [0.85, 0.75], [0.8, 0.15], [0.2, 0.85]]) + rng.uniform(-0.08, 0.08, (4, 2))
        )[:count] * size
        before = np.column_stack([after, np.ones(count)]) @ true.T
        before = before[:, :2] / before[:, 2:]
        told = overlay(OverlayRequest.read({"before_px": [int(x) for x in size], "after_px": [int(x) for x in size], "pairs": [{"before": list(map(float, b)), "after": list(map(float, a))} for b, a in zip(before, after, strict=True)]}))  # fmt: skip
        corners = np.array([[0, 0, 1], [size[0], size[1], 1]])
        found, meant = corners @ np.array(told.matrix).T, corners @ true.T
        np.testing.assert_allclose(found[:, :2] / found[:, 2:], meant[:, :2] / meant[:, 2:], atol=0.05)
        self.assertTrue(0 <= told.shared <= 1)

    def test_points_that_say_nothing_or_turn_the_picture_over_are_refused(self):
        pair = lambda *at: {"before": at[:2], "after": at[2:]}
        for pairs, words in (
            ([pair(10, 10, 500, 500), pair(300, 300, 502, 503)], "lie on one another in the later photo"),
            ([pair(0, 0, 0, 0), pair(100, 100, 100, 100), pair(300, 301, 300, 301)], "in one line"),
            ([pair(0, 0, 600, 0), pair(600, 0, 0, 0), pair(0, 400, 600, 400)], "turned over"),
            (
                [pair(0, 0, 0, 0), pair(600, 0, 600, 0), pair(600, 400, 0, 400), pair(0, 400, 600, 400)],
                "turned over|torn",
            ),
            ([pair(10, 10, 10, 10), pair(600, 400, 30, 30)], "far larger"),
        ):
            with self.subTest(words), self.assertRaisesRegex(BadField, words):
                overlay(
                    OverlayRequest.read({"before_px": [640, 480], "after_px": [640, 480], "pairs": pairs})
                )


class PlaceTest(TestCase):
    def test_what_is_there_is_found_beside_measuring_every_edge(self):
        """Random outlines beside the plain way: the nearest of many points along every edge, or a crossing count of a line to the left."""
        rng = np.random.default_rng(5)
        for _ in range(200):
            things = [{"key": f"t{n}", "outline": (rng.uniform(-900, 900, 2) + ring((0, 0), rng.uniform(20, 200))[:: int(rng.integers(4, 16))]).tolist()} for n in range(6)]  # fmt: skip
            at = [float(each) for each in rng.uniform(-900, 900, 2)]
            told = at_point(PointRequest.read({"at": at, "things": things}))
            for thing in things:
                corners = np.array(thing["outline"])
                ends = np.roll(corners, -1, axis=0)
                along = corners[:, None] + (ends - corners)[:, None] * np.linspace(0, 1, 200)[None, :, None]
                near = float(np.linalg.norm(along - at, axis=2).min())
                crosses = sum((a[1] > at[1]) != (b[1] > at[1]) and at[0] < a[0] + (at[1] - a[1]) / (b[1] - a[1]) * (b[0] - a[0]) for a, b in zip(corners, ends, strict=True))  # fmt: skip
                far = 0.0 if crosses % 2 else near
                if abs(far - 120) > 2:
                    self.assertEqual(thing["key"] in told.keys, far < 120)
            self.assertEqual(told.off_mm, sorted(told.off_mm))
