"""How far a need is, and what presses."""

from datetime import date, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.parts.needs import STATES, USUAL, NeedsRequest, needs_told, require_move

TODAY = date(2026, 3, 10)


def told(**need):
    return needs_told(
        NeedsRequest.read({"needs": [{"name": "Sill", "since": TODAY} | need], "today": TODAY})
    ).needs[0]


class Needs(TestCase):
    CASES = {
        # what is asked: late, words
        "no day": ({}, (False, "")),
        "lead time not known": ({"needed_by": "2026-03-20"}, (False, "Needed by 20 Mar 2026; how long it takes is not known.")),
        "in time": ({"needed_by": "2026-03-20", "days": 9}, (False, "To be ordered by 11 Mar 2026 for 20 Mar 2026.")),
        "a day late": ({"needed_by": "2026-03-20", "days": 11}, (True, "Ordered today it comes 1 day after 20 Mar 2026.")),
        "past": ({"needed_by": "2026-03-09", "days": 1}, (True, "It was needed by 9 Mar 2026.")),
        "on the way": ({"state": "ordered", "days": 5}, (False, "Expected on 15 Mar 2026.")),
        "slow": ({"state": "ordered", "since": "2026-03-02", "days": 5}, (False, "Expected on 7 Mar 2026, by 12 Mar 2026 at the latest.")),
        "late": ({"state": "ordered", "since": "2026-03-02", "days": 5, "late_days": 7}, (True, "It should have come by 9 Mar 2026.")),
        "can go back": ({"state": "arrived", "back_until": "2026-03-11"}, (False, "It can go back until 11 Mar 2026: 1 day left.")),
        "too late to go back": ({"state": "arrived", "back_until": "2026-03-09"}, (False, "Since 9 Mar 2026 it can no longer go back.")),
    }  # fmt: skip

    def test_what_presses(self):
        for name, (asked, expected) in self.CASES.items():
            with self.subTest(name):
                found = told(**asked)
                self.assertEqual((found.late, str(found.words)), expected)

    @given(
        st.sampled_from(list(STATES)),
        st.sampled_from(list(STATES)),
        st.sampled_from(["", "  ", "because"]),
        st.integers(0, 2),
        st.booleans(),
    )
    def test_nothing_is_passed_over_in_silence(self, now, to, why, quotes, chosen):
        try:
            require_move(now, to, why, quotes=quotes, chosen=chosen)
        except BadField:
            return
        self.assertNotEqual(now, to)
        if not why.strip():
            self.assertIn(to, USUAL[now])
            self.assertFalse((to == "quoted" and not quotes) or (to == "ordered" and not chosen))

    @given(st.integers(0, 60), st.integers(0, 60), st.integers(0, 60))
    def test_more_days_never_read_better(self, since, days, late):
        ask = lambda n: (
            told(state="ordered", since=TODAY - timedelta(since + n), days=days, late_days=days + late).late
        )
        self.assertLessEqual(ask(0), ask(1))
