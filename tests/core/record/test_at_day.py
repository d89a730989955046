"""The shell as it stood: what was known and done by a day, and nothing more."""

from datetime import date, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.record.at_day import SEEN, ShellOnRequest, shell_on
from yellow_sill.core.repairs.sheets import SHEET_STATES

FIRST = date(2026, 1, 1)
SQUARE = [[0, 0], [10, 0], [10, 10]]
days = st.integers(0, 60).map(lambda n: FIRST + timedelta(days=n))


def asked(day, findings=(), sheets=()):
    return ShellOnRequest.read({"day": day, "findings": list(findings), "sheets": list(sheets)})


class AtDay(TestCase):
    def test_a_finding_goes_with_the_piece_that_held_it(self):
        found = {"number": 1, "outline": SQUARE, "found_on": FIRST, "repairs": [2]}
        steps = [
            (FIRST + timedelta(days=n), state) for n, state in ((10, "cut"), (20, "tacked"), (30, "welded"))
        ]
        sheet = {"repair": 2, "outline": SQUARE, "steps": steps, "coats": [FIRST + timedelta(days=35)]}
        for day, findings, seen in (
            (-1, 0, []),
            (0, 1, []),
            (10, 0, ["out"]),
            (25, 0, ["tacked"]),
            (34, 0, ["new"]),
            (35, 0, ["coated"]),
        ):
            told = shell_on(asked(FIRST + timedelta(days=day), [found], [sheet]))
            self.assertEqual((len(told.findings), [each.seen for each in told.sheets]), (findings, seen), day)
        self.assertEqual(
            str(shell_on(asked(FIRST - timedelta(days=1))).words), "Nothing was known and nothing done yet."
        )

    @given(
        st.lists(st.tuples(days, st.sampled_from(SHEET_STATES)), max_size=6), days, st.lists(days, max_size=3)
    )
    def test_what_came_later_changes_nothing(self, steps, day, coats):
        steps = sorted(steps, key=lambda step: step[0])
        whole = shell_on(
            asked(day, sheets=[{"repair": 1, "outline": SQUARE, "steps": steps, "coats": coats}])
        )
        until = {
            "repair": 1,
            "outline": SQUARE,
            "steps": [each for each in steps if each[0] <= day],
            "coats": [each for each in coats if each <= day],
        }
        self.assertEqual(whole, shell_on(asked(day, sheets=[until])))
        last = until["steps"][-1][1] if until["steps"] else "planned"
        self.assertEqual(
            bool(whole.sheets), bool(SEEN[last]), "a sheet that went back to planned is whole again"
        )
