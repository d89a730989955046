"""How far a seam is: any course of tacks done, missed, blown through and put right; waits as things really went; refusals."""

import random
from datetime import datetime, timedelta
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.weld.progress import ProgressRequest, progress

NOON = datetime(2026, 11, 2, 12)
TACKS = [[0, 0], [200, 0], [100, 0], [300, 0], [50, 0], [250, 0]]


def ask(events=(), now_s=0.0, **more):
    told = [
        {
            "at": TACKS[tack - 1] if isinstance(tack, int) else tack,
            "what": what,
            "when": (NOON + timedelta(seconds=at)).isoformat(),
        }
        for tack, what, at in events
    ]
    now = (NOON + timedelta(seconds=now_s)).isoformat()
    return progress(
        ProgressRequest.read(
            {"tacks": TACKS, "thickness_mm": 0.9, "energy_j": 300, "events": told, "now": now} | more
        )
    )


class Seams(TestCase):
    def test_a_course_with_a_blow_through(self):
        self.assertEqual((ask().next, ask().wait_s, ask().reached), (1, 0, 0))
        events = [(1, "done", 0), (2, "blown", 10), (3, "missed", 20)]
        told = ask(events, 30)
        self.assertEqual(
            (told.made, [(each.tack, each.what) for each in told.again], told.next),
            ([1], [(2, "blown"), (3, "missed")], 4),
        )
        self.assertIn("1 of 6 tacks hold. 2 tacks are to be put right", str(told.words))
        rest = [(4, "done", 40), (5, "done", 50), (6, "done", 60), (2, "again", 70)]
        self.assertFalse(ask(events + rest, 80).closed, "one is still to be put right")
        self.assertTrue(ask([*events, *rest, (3, "done", 75)], 80).closed)

    def test_the_wait_is_what_the_plate_needs_and_a_stop_ends_it(self):
        near = {"tacks": [[0, 0], [12, 0]]}
        hot = progress(ProgressRequest.read({**near, "thickness_mm": 0.9, "energy_j": 900, "limit_c": 60, "now": (NOON + timedelta(seconds=2)).isoformat(),
                                             "events": [{"at": [0, 0], "what": "done", "when": NOON.isoformat()}]}))  # fmt: skip
        self.assertGreater(hot.plate_c, 60)
        self.assertGreater(hot.wait_s, 1)
        later = progress(ProgressRequest.read({**near, "thickness_mm": 0.9, "energy_j": 900, "limit_c": 60, "now": (NOON + timedelta(seconds=2 + hot.wait_s)).isoformat(),
                                               "events": [{"at": [0, 0], "what": "done", "when": NOON.isoformat()}]}))  # fmt: skip
        self.assertLessEqual(later.plate_c, 60)
        self.assertEqual(later.wait_s, 0)

    @settings(max_examples=120, deadline=None)
    @given(st.integers(0, 10**6))
    def test_whatever_happens_a_tack_holds_or_is_to_be_put_right_or_is_to_come(self, seed):
        chance = random.Random(seed)
        events, wrong = [], set()
        for at in range(chance.randrange(0, 14)):
            what = chance.choice(["done", "done", "missed", "blown", "again"])
            tack = chance.choice(sorted(wrong)) if what == "again" and wrong else chance.randrange(1, 7)
            what = "done" if what == "again" and not wrong else what
            events.append((tack, what, at * 9))
            wrong = wrong - {tack} if what in ("done", "again") else wrong | {tack}
            told = ask(events, 200)
            made, again = set(told.made), {each.tack for each in told.again}
            self.assertEqual(again, wrong)
            self.assertFalse(made & again)
            self.assertLessEqual(made | again, set(range(1, 7)))
            self.assertTrue(told.next is None or told.next not in made | again)
            self.assertEqual(told.closed, len(made) == 6)
            self.assertGreaterEqual(told.wait_s if told.wait_s is not None else 0, 0)

    def test_tacks_of_another_plan_are_told_and_warm_the_plate_all_the_same(self):
        told = ask([([100, 40], "done", 0)], 1)
        self.assertEqual((told.elsewhere, told.made), (1, []))
        self.assertIn("on no tack of this plan", str(told.words))

    def test_refusals(self):
        for events, now, words in (
            ([(1, "done", 60)], 0, "a clock was set back"),
            ([(1, "again", 0)], 9, "Tack 1 was not wrong"),
            ([(1, "welded", 0)], 9, "must be one of"),
        ):
            with self.assertRaisesRegex(BadField, words):
                ask(events, now)
        with self.assertRaisesRegex(BadField, "At most 4000"):
            ask(tacks=[[0, 0]] * 10_000)
