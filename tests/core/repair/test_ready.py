"""What is looked at before a cut, line by line, and the gate that follows from it."""

from datetime import date
from unittest import TestCase

from yellow_sill.core.repair.gate import before_cut, hold_gate, ready_gate

ALL = {"far_sides": {"L-SILL": "Nothing there, lamp"}, "listed": {"L-SILL": 0}, "marks": 0, "hold": None, "last_round": (3, date(2026, 2, 14)), "hot_work": []}


def lines(**changes):
    return {line.key: line for line in before_cut(**(ALL | changes))}


class BeforeTheCut(TestCase):
    OPEN = {
        "nobody looked behind": ({"far_sides": {"L-SILL": ""}}, ["far side"]),
        "something is there and nothing is listed": ({"far_sides": {"L-SILL": "Cable guide"}}, ["losses"]),
        "listed, but no mark taken": ({"far_sides": {"L-SILL": "Cable guide"}, "listed": {"L-SILL": 2}}, ["marks"]),
        "no round": ({"last_round": None}, ["datum"]),
        "hot work": ({"hot_work": ["fire watch"]}, ["hot work"]),
        "loose": ({"hold": hold_gate("HELD", "LOOSE", "B-post foot.", "One brace holds it.")}, ["hold"]),
        "all is well": ({"hold": hold_gate("HELD", "HELD", "Fine.")}, []),
    }

    def test_each_line_is_open_for_its_own_reason(self):
        for name, (change, wanted) in self.OPEN.items():
            with self.subTest(name):
                told = lines(**change)
                self.assertEqual([key for key, line in told.items() if not line.ready], wanted)
                gate = ready_gate(list(told.values()), change.get("hold"))
                self.assertEqual(gate.open, not wanted)
                self.assertEqual(gate.stage, "hold" if "hold" in change else "before")
                self.assertTrue(all(line.words for line in told.values()))

    def test_the_hold_is_said_first_with_its_cure(self):
        loose = hold_gate("HELD", "LOOSE", "B-post foot.", "One brace holds it.")
        gate = ready_gate(before_cut(**(ALL | {"hold": loose, "last_round": None})), loose)
        self.assertIn("One brace holds it.", gate.reason)
        self.assertEqual(lines(far_sides={"L-SILL": "Cable", "L-SILLM": ""})["far side"].words, "L-SILL: Cable; L-SILLM: not answered yet")
