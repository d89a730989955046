"""When it will be done, and what can be done now: known answers, what makes it later never makes it sooner, what is unknown never fits."""

from datetime import date, datetime, timedelta
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.order.finish import FinishRequest, finish
from yellow_sill.core.order.what_now import NowRequest, what_now

SATURDAY = {"begins": datetime(2026, 3, 7, 9), "ends": datetime(2026, 3, 7, 13)}


def told(steps, **more):
    usual = {"slots": [SATURDAY], "had": 1000, "missed": 0}
    return finish(FinishRequest.read(usual | {"steps": [{"key": f"s{n}", "name": f"Step {n}"} | each for n, each in enumerate(steps)]} | more))  # fmt: skip


class FinishTest(TestCase):
    def test_what_is_certain_is_told_to_the_day(self) -> None:
        """Ten hours in Saturdays of four: the third. A cure of 50 h costs nothing between two Saturdays; a part on a Sunday moves it to the next."""
        third, fourth = date(2026, 3, 21), date(2026, 3, 28)
        self.assertEqual(told([{"minutes": 300}, {"minutes": 300}]).likely, third)
        self.assertEqual(
            told([{"minutes": 240, "cure_h": 50}, {"minutes": 300, "after": ["s0"]}]).likely, third
        )
        self.assertEqual(told([{"minutes": 60, "there": date(2026, 3, 22)}]).likely, fourth)
        self.assertEqual(
            told([{"minutes": 240, "cure_h": 24 * 8}, {"minutes": 60, "after": ["s0"]}]).likely, third
        )
        waits = [{"minutes": 60, "cure_h": 24 * 8}, {"minutes": 60, "after": ["s0"]}, {"minutes": 180}]
        self.assertEqual(told(waits).likely, third, "while one cures the other is worked on")

    @settings(max_examples=40, deadline=None)
    @given(
        st.lists(st.tuples(st.integers(10, 900), st.floats(1, 3)), min_size=1, max_size=6),
        st.integers(0, 20),
        st.integers(1, 400),
    )
    def test_more_never_reads_sooner(self, rows, missed, more) -> None:
        steps = [{"minutes": minutes, "late_minutes": round(minutes * share) + 1} for minutes, share in rows]
        first = told(steps, had=40, missed=missed)
        longer = [*steps[:-1], {key: value + more for key, value in steps[-1].items()}]
        self.assertLessEqual(first.likely, first.late)
        self.assertLessEqual(first.late, told(longer, had=40, missed=missed).late + timedelta(days=7))
        self.assertLessEqual(first.likely, told(steps, had=40, missed=missed + 20).likely)

    def test_what_moves_it_most_is_named(self) -> None:
        found = told([{"minutes": 300, "late_minutes": 310}, {"minutes": 900, "late_minutes": 2400}])
        self.assertEqual((found.delays[0].name, found.delays[0].share > 0.8), ("Step 1", True))
        self.assertIn("Step 1", found.words)

    def test_refused(self) -> None:
        for steps, more, what in (
            ([{"minutes": 60}], {"had": 3, "missed": 4}, "More slots were missed"), ([{"minutes": 60, "late_minutes": 50}], {}, "late is less"),
            ([{"minutes": 60, "there_late": date(2026, 3, 9)}], {}, "comes late before"), ([{"minutes": 60, "after": ["s1"]}, {"minutes": 60}], {}, "before what it waits for"), ([{"minutes": 6000}] * 100, {}, "longer than anybody can tell"),
        ):  # fmt: skip
            with self.assertRaisesRegex(BadField, what):
                told(steps, **more)


class NowTest(TestCase):
    STEPS = [
        {"key": "wax", "name": "Wax the sill", "minutes": 40, "least_c": 10}, {"key": "sort", "name": "Sort the bolts", "minutes": 300, "touches": False, "pauses": True},
        {"key": "weld", "name": "Weld the arch", "minutes": 30, "sparks": True, "position": "left"}, {"key": "turn", "name": "Turn it", "minutes": 30, "hands": 2},
        {"key": "paint", "name": "Paint", "minutes": 30, "waits": ["Seal the seam"]}, {"key": "coat", "name": "Coat", "minutes": 30, "ready": datetime(2026, 3, 7, 20)},
    ]  # fmt: skip

    def now(self, **more):
        return what_now(
            NowRequest.read({"steps": self.STEPS, "now": datetime(2026, 3, 7, 19), "minutes": 45} | more)
        )

    def test_what_fits(self) -> None:
        for more, can in (
            ({}, ["sort", "weld"]), ({"at_c": 12}, ["wax", "sort", "weld"]), ({"at_c": 5}, ["sort", "weld"]), ({"sparks": False}, ["sort"]),
            ({"off_the_shell": True}, ["sort"]), ({"position": "wheels"}, ["sort"]), ({"hands": 2}, ["sort", "weld", "turn"]), ({"minutes": 20}, ["sort"]),
            ({"now": datetime(2026, 3, 7, 21)}, ["sort", "weld", "coat"]),
        ):  # fmt: skip
            found = self.now(**more)
            self.assertEqual(found.can, can, more)
            self.assertEqual(set(found.can) | set(found.why_not), {each["key"] for each in self.STEPS})
        self.assertIn("nobody knows how warm it is", self.now().why_not["wax"])
        self.assertIn("Seal the seam", self.now().why_not["paint"])
        with self.assertRaisesRegex(BadField, "has a zone"):
            self.now(now="2026-03-07T19:00:00Z")
