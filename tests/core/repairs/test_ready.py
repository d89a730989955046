"""What is looked at before a cut, line by line, and the gate that follows from it."""

from datetime import date
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.repairs.gate import (
    LINES,
    Before,
    LookedBehind,
    before_cut,
    hold_gate,
    marked_boxes,
    not_behind,
    ready_gate,
)

DAY = date(2026, 2, 14)
ALL = {
    "far_sides": {"L-SILL": "Nothing there, lamp"}, "not_looked": {"L-SILL": ""}, "listed": {"L-SILL": 0}, "nothing_lost": "Wren, 14 Feb 2026", "marks": 0,
    "hold": None, "last_round": (3, DAY), "since": DAY, "hot_work": [],
}  # fmt: skip
CUT = [(0, 0), (200, 0), (200, 100), (0, 100)]


def lines(**changes):
    return {line.key: line for line in before_cut(Before(**(ALL | changes)))}


class BeforeTheCut(TestCase):
    OPEN = {
        "nobody looked behind": (
            {"far_sides": {"L-SILL": ""}, "not_looked": {"L-SILL": "not answered yet"}},
            ["far side"],
        ),
        "looked elsewhere": ({"not_looked": {"L-SILL": "look again"}}, ["far side"]),
        "something is there and nothing is listed": (
            {"far_sides": {"L-SILL": "Cable guide"}, "nothing_lost": ""},
            ["losses", "marks"],
        ),
        "nothing listed and nobody said so": ({"nothing_lost": ""}, ["losses", "marks"]),
        "listed, but no mark taken": (
            {"far_sides": {"L-SILL": "Cable guide"}, "listed": {"L-SILL": 2}, "nothing_lost": ""},
            ["marks"],
        ),
        "no round": ({"last_round": None}, ["datum"]),
        "a round before the repair was opened": ({"since": date(2026, 4, 14)}, ["datum"]),
        "hot work": ({"hot_work": ["fire watch"]}, ["hot work"]),
        "loose": ({"hold": hold_gate("HELD", "LOOSE", "B-post foot.", "One brace holds it.")}, ["hold"]),
        "all is well": ({"hold": hold_gate("HELD", "HELD", "Fine.")}, []),
    }

    def test_each_line_is_open_for_its_own_reason(self):
        for name, (change, wanted) in self.OPEN.items():
            with self.subTest(name):
                told = lines(**change)
                self.assertEqual([key for key in LINES if key in told and not told[key].ready], wanted)
                gate = ready_gate(list(told.values()), change.get("hold"))
                self.assertEqual(gate.open, not wanted)
                self.assertEqual(gate.stage, "hold" if "hold" in change else "before")
                self.assertTrue(all(line.words for line in told.values()))

    def test_where_nobody_did_or_said_anything_nothing_is_ready(self):
        told = lines(
            far_sides={"L-SILL": ""},
            not_looked={"L-SILL": "not answered yet"},
            nothing_lost="",
            last_round=None,
            hot_work=["fire watch"],
        )
        self.assertFalse(any(line.ready for line in told.values()))

    def test_the_hold_is_said_first_with_its_cure(self):
        loose = hold_gate("HELD", "LOOSE", "B-post foot.", "One brace holds it.")
        gate = ready_gate(list(lines(hold=loose, last_round=None).values()), loose)
        self.assertIn("One brace holds it.", gate.reason)
        told = lines(far_sides={"L-SILL": "Cable", "L-SILLM": ""}, not_looked={"L-SILLM": "not answered yet"})
        self.assertEqual(told["far side"].words, "L-SILL: Cable; L-SILLM: not answered yet")


class BehindACut(TestCase):
    def test_an_answer_has_a_place_and_a_day(self):
        looked = LookedBehind(answer="nothing", looked_on=DAY, whole=False, boxes=tuple(marked_boxes([CUT])))
        moved = [[(u + 61, v) for u, v in CUT]]
        self.assertEqual(not_behind(looked, [CUT], DAY), "")
        self.assertIn("beyond", not_behind(looked, moved, None))
        self.assertEqual(
            not_behind(LookedBehind(answer="nothing", looked_on=DAY, whole=True), moved, None), ""
        )
        self.assertIn("look again", not_behind(looked, [CUT], date(2026, 2, 15)))
        self.assertEqual(not_behind(None, [CUT], None), "not answered yet")
        self.assertIn(
            "beyond", not_behind(LookedBehind(answer="nothing", looked_on=DAY, whole=False), [CUT], None)
        )

    @given(st.floats(-300, 300), st.floats(-300, 300), st.floats(1, 3))
    def test_a_cut_that_reaches_further_never_reads_better(self, du, dv, grown):
        looked = LookedBehind(answer="nothing", looked_on=DAY, whole=False, boxes=tuple(marked_boxes([CUT])))
        cut = [(u + du, v + dv) for u, v in CUT]
        larger = [(100 + du + (u - 100) * grown, 50 + dv + (v - 50) * grown) for u, v in CUT]
        self.assertFalse(not_behind(looked, [cut], None) and not not_behind(looked, [larger], None))
