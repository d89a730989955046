from datetime import date
from unittest import TestCase

from yellow_sill.core.cut.lost import lost_in_cut, on_pattern
from yellow_sill.core.datum.transfer import TransferRequest
from yellow_sill.core.errors import BadField
from yellow_sill.core.repairs.gate import CheckRound, datum_gate

CUT_ON = date(2026, 2, 14)


def check(**changes):
    values = {"number": 4, "stage": "cut", "taken_on": CUT_ON, "out": (), "unsure": (), "told": 6} | changes
    return CheckRound(**values)


class DatumGate(TestCase):
    CASES = {  # name: rounds, open, word of the reason
        "nothing taken": ([], False, "No datum check since it was cut out"),
        "taken before the cut": ([check(taken_on=date(2026, 2, 13))], False, "No datum check"),
        "of another stage": ([check(stage="tacked")], False, "No datum check"),
        "tells nothing near": ([check(told=0)], False, "No datum check"),
        "in": ([check()], True, "6 points near it are in"),
        "out": ([check(out=("2L 5.4 left",))], False, "Out of tolerance in round 4: 2L 5.4 left"),
        "many out": ([check(out=("1L", "2L", "3L", "4L", "5L"))], False, "and 2 more"),
        "cannot tell": ([check(unsure=("2L",))], False, "read a few more"),
        "the last one counts": ([check(out=("2L",)), check(number=5)], True, "Round 5"),
    }

    def test_when_it_opens(self):
        for name, (rounds, is_open, words) in self.CASES.items():
            with self.subTest(name):
                gate = datum_gate("made", rounds, CUT_ON)
                self.assertEqual(gate.open, is_open)
                self.assertIn(words, gate.reason)

    def test_other_steps_ask_for_nothing(self):
        for state in ("opened", "cut", "fitted", "protected", "signed off"):
            self.assertIsNone(datum_gate(state, [], CUT_ON))
        self.assertEqual(
            (datum_gate("welded", [], CUT_ON).stage, datum_gate("dressed", [], CUT_ON).stage),
            ("tacked", "welded"),
        )


class Lost(TestCase):
    CUT = [[0, 0], [200, 0], [200, 100], [0, 100]]

    def asked(self, **changes):
        marks = [{"id": "A", "xy": [-50, 50]}, {"id": "B", "xy": [100, 160]}]
        return TransferRequest.read({"marks": marks, "distances_mm": [150, 110], "near": [100, 50]} | changes)

    def test_a_stud_comes_back_where_it_was_and_the_taped_base_corrects_the_drawing(self):
        self.assertEqual([round(v) for v in lost_in_cut(self.asked(), self.CUT).at], [100, 50])
        longer = lost_in_cut(self.asked(apart_mm=190), self.CUT)
        self.assertNotEqual(longer.at, [100, 50])
        self.assertEqual(on_pattern([100, 50], [[-10, -20], [210, -20], [210, 110]], True).right_mm, 110)

    def test_marks_on_metal_that_goes_and_things_outside_are_refused(self):
        for changes, words in (
            (
                {"marks": [{"id": "A", "xy": [50, 50]}, {"id": "B", "xy": [100, 160]}]},
                "A lies on metal that goes",
            ),
            ({"near": [0, 300]}, "outside the cut"),
        ):
            with self.subTest(words), self.assertRaisesRegex(BadField, words):
                lost_in_cut(self.asked(**changes), self.CUT)
