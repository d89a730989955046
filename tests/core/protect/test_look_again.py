"""When the wax in a box is to be looked at next."""

from datetime import date, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.protect.look_again import LookAgainRequest, look_again


class LookAgainTest(TestCase):
    @given(st.lists(st.integers(0, 4000), max_size=5), st.integers(0, 6000))
    def test_more_wax_never_brings_a_look_forward_and_nothing_written_is_never_in_order(self, days, today):
        first = date(2010, 1, 31)
        ask = lambda waxed: look_again(
            LookAgainRequest(
                boxes=[{"name": "Sill", "waxed": [first + timedelta(day) for day in waxed]}],
                today=first + timedelta(today),
            )
        )[0]
        told = ask(days)
        if not days:
            self.assertEqual((told.on, told.due), (None, True))
            return
        self.assertEqual(told.due, told.on <= first + timedelta(today))
        self.assertGreaterEqual(ask([*days, max(days) + 1]).on, told.on)

    def test_what_nobody_waxed_comes_first_then_what_is_due(self):
        boxes = [
            {"name": "A", "waxed": ["2026-05-31"]},
            {"name": "B"},
            {"name": "C", "waxed": ["2024-01-01", "2024-02-29"]},
        ]
        told = look_again(LookAgainRequest.read({"boxes": boxes, "today": "2026-11-29"}))
        self.assertEqual(
            [(each.name, each.on, each.due) for each in told],
            [("B", None, True), ("C", date(2026, 2, 28), True), ("A", date(2027, 5, 31), False)],
        )
