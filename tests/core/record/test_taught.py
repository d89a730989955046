"""What the shell taught: sums by hand, and nothing said where nothing is known."""

from datetime import date
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.record.taught import TaughtRequest, taught
from yellow_sill.core.repairs.hours import KINDS


def told(**asked):
    return taught(TaughtRequest.read(asked))


def job(kind, planned, spent, day, repair=1):
    return {"repair": repair, "kind": kind, "planned": planned, "spent": spent, "ended": day}


class TaughtTest(TestCase):
    def test_by_hand(self):
        found = told(
            jobs=[job("weld", 100, 180, "2026-02-03"), job("weld", 60, 100, "2026-02-20", 2), job("cut", 50, 52, "2026-08-01"), job("fit", 30, 0, "2026-08-01")],
            hours=[{"day": "2026-02-03", "kind": "weld", "minutes": 280}, {"day": "2026-08-01", "kind": "cut", "minutes": 52}],
            opened=[{"first_mm2": 100, "then_mm2": 200}, {"first_mm2": 100, "then_mm2": 800}], forecast=3.5, settings=[("mig", True), ("mig", False)],
        )  # fmt: skip
        self.assertEqual(
            [(each.kind, each.times, each.jobs) for each in found.kinds],
            [("cut", 1.04, 1), ("weld", 1.75, 2)],
        )
        self.assertEqual(str(found.kinds_words), "weld took 1.8 times as long as planned, over 2 repairs.")
        self.assertEqual(found.went, [("weld", 280), ("cut", 52)])
        self.assertIn("5 h 32", str(found.went_words))
        self.assertEqual(found.grew, 4.0, "the geometric mean of 2 and 8")
        self.assertIn("forecast for what is still closed says 3.5", str(found.grew_words))
        self.assertEqual(
            [(each.begins, each.times) for each in found.quarters],
            [(date(2026, 1, 1), 1.75), (date(2026, 7, 1), 1.04)],
        )
        self.assertIn("You have become quicker", str(found.quarters_words))
        self.assertEqual(str(found.settings_words), "1 of 2 settings that were tried on scrap held.")

    def test_nothing_is_made_up(self):
        found = told()
        for words in (
            found.kinds_words,
            found.went_words,
            found.grew_words,
            found.quarters_words,
            found.settings_words,
        ):
            self.assertRegex(str(words), "yet")
        self.assertIsNone(found.grew)

    @given(st.lists(st.tuples(st.sampled_from(KINDS), st.floats(1, 900), st.floats(1, 900)), max_size=12))
    def test_every_job_counts_once(self, jobs):
        found = told(
            jobs=[job(kind, planned, spent, "2026-05-01", n) for n, (kind, planned, spent) in enumerate(jobs)]
        )
        self.assertEqual(sum(each.jobs for each in found.kinds), len(jobs))
        self.assertAlmostEqual(
            sum(each.spent for each in found.kinds), sum(spent for _, _, spent in jobs), places=3
        )
        for each in found.kinds:
            ratios = [spent / planned for kind, planned, spent in jobs if kind == each.kind]
            self.assertLessEqual(min(ratios) - 0.01, each.times)
            self.assertLessEqual(each.times, max(ratios) + 0.01)
