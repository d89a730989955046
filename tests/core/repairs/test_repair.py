from datetime import date, timedelta
from unittest import TestCase

from yellow_sill.core.errors import BadField
from yellow_sill.core.repairs.hours import by_kind, minutes
from yellow_sill.core.repairs.next_steps import MOST_OPEN, LooseFinding, OpenRepair, next_steps
from yellow_sill.core.repairs.ribbon import STATES, BadMove, Step, check_move, next_state

DAY = date(2026, 2, 14)


class Ribbon(TestCase):
    def move(self, current, to, day=DAY, note=""):
        check_move(Step(state=current, made_on=DAY, by="Wren"), to, day, note, today=DAY + timedelta(3))

    def test_forward_one_at_a_time_and_back_with_a_reason(self):
        for here, there in zip(STATES, STATES[1:], strict=False):
            self.assertEqual(next_state(here), there)
            self.move(here, there)
        self.move("welded", "cut", note="the membrane was worse")
        self.assertIsNone(next_state("signed off"))

    REFUSED = {
        "skips": (("found", "cut"), "skips: opened"),
        "same": (("cut", "cut"), "already"),
        "back without a reason": (("welded", "cut"), "needs a reason"),
        "in the future": (("cut", "made", DAY + timedelta(9)), "not come yet"),
        "before the last step": (("cut", "made", DAY - timedelta(1)), "step before"),
        "unknown": (("cut", "painted"), "no state"),
    }

    def test_what_cannot_be_is_refused(self):
        for name, (move, words) in self.REFUSED.items():
            with self.subTest(name), self.assertRaises(BadMove) as caught:
                self.move(*move)
            self.assertIn(words, caught.exception.what)


class Hours(TestCase):
    def test_what_people_type(self):
        for typed, expected in {
            "1:30": 90,
            "1h30": 90,
            "1,5": 90,
            "90 min": 90,
            "2": 120,
            "0.25 h": 15,
            " 1 h 05 ": 65,
        }.items():
            with self.subTest(typed):
                self.assertEqual(minutes(typed), expected)

    def test_what_cannot_be_read_is_refused(self):
        for typed in ("", "all day", "0", "25", "1:75", "-2"):
            with self.subTest(typed), self.assertRaises(BadField):
                minutes(typed)

    def test_most_first(self):
        self.assertEqual(by_kind([("weld", 10), ("cut", 30), ("weld", 15)]), [("cut", 30), ("weld", 25)])


class Next(TestCase):
    def test_finish_before_you_open_more(self):
        repairs = [
            OpenRepair(number=n, title=f"R{n}", state=state, since=DAY)
            for n, state in ((1, "opened"), (2, "welded"), (3, "signed off"))
        ]
        findings = [
            LooseFinding(number=1, head="Wing", grade="P"),
            LooseFinding(number=2, head="Floor", grade="H"),
            LooseFinding(number=3, head="Roof", grade=""),
        ]
        steps = next_steps(repairs, findings, most=9)
        self.assertEqual(
            [(s.repair, s.finding) for s in steps], [(2, None), (1, None), (None, 2), (None, 1), (None, 3)]
        )
        many = [OpenRepair(number=n, title="", state="cut", since=DAY) for n in range(MOST_OPEN)]
        self.assertNotIn(
            2, [s.finding for s in next_steps(many, findings, most=9)], "too many areas are open already"
        )
        self.assertEqual(next_steps([], []), [])
