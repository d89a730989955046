"""The accepted order of removal and the steps of the repairs: one list, seen from two sides."""

import random
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.core.order.test_steps import repair, sheet, told
from yellow_sill.core.hold.bodies import all_out_first, closes_of, rules_of
from yellow_sill.core.order.asked import loop_of
from yellow_sill.core.repairs.sheets import SHEET_STATES

PARTS = ["sill_outer_L", "sill_diaph_L", "sill_inner_L", "floor_L"]


def removal(action, *sheets, done=False, loose=False):
    return {
        "action": action, "called": action[1:].replace("_", " "), "done": done, "loose": loose,
        "sheets": [{"repair": number, "sheet": name} for number, name in sheets],
    }  # fmt: skip


def by_key(found):
    return {step.key: step for step in found.steps}


def words_of(found):
    return " ".join(str(each) for each in found.unknown)


class OneList(TestCase):
    def test_a_part_is_out_where_its_repair_cuts_and_in_where_that_is_welded(self):
        order = [removal("-a", (1, "A")), removal("+a", (1, "A")), removal("-b", (2, "B")), removal("+b", (2, "B"))]  # fmt: skip
        steps = by_key(told(repair(1, sheets=[sheet("A")]), repair(2, sheets=[sheet("B")]), removal=order))
        self.assertIn("R1:A:weld", steps["R2:B:cut"].after, "left is welded before right is opened")
        self.assertIn("R1:A:weld", steps["R2:B:cut"].trade, "and that is no tie to take off without a word")
        self.assertNotIn("R1:A:weld", steps["R2:B:make"].after, "its patch can be made before")
        self.assertFalse([key for key in steps if key.startswith("R0:")], "nothing is there twice")
        untied = {"key": "R2:B:cut", "untied": [{"key": "R1:A:weld", "why": "on a jig"}]}
        loosened = by_key(
            told(
                repair(1, sheets=[sheet("A")]),
                repair(2, sheets=[sheet("B")]),
                removal=order,
                changed=[untied],
            )
        )
        self.assertNotIn("R1:A:weld", loosened["R2:B:cut"].after)

    def test_a_part_of_no_repair_has_steps_of_its_own_and_a_brace_where_it_leaves_the_shell_loose(self):
        order = [removal("-floor_L", loose=True), removal("+floor_L"), removal("-a", (1, "A"))]
        found = told(repair(1, sheets=[sheet("A")]), removal=order)
        steps = by_key(found)
        self.assertEqual(steps["R0:floor_L:cut"].after, ["R0:floor_L:brace"])
        self.assertEqual(steps["R0:floor_L:tack"].until, "R0:floor_L:check", "nothing stays half tacked")
        self.assertIn("R0:floor_L:weld", steps["R1:A:cut"].after)
        self.assertIn("floor L is in the order of removal and in no repair", words_of(found))
        gone = by_key(told(removal=[order[0] | {"done": True}, order[1]]))
        self.assertNotIn("R0:floor_L:cut", gone)
        self.assertNotIn("R0:floor_L:brace", gone)
        self.assertIn("R0:floor_L:look", gone, "what nobody has said is not done by itself")
        welded = by_key(told(removal=[order[0] | {"done": True}, order[1] | {"done": True}]))
        self.assertEqual([key.rpartition(":")[2] for key in welded], ["dress", "lamp", "prime"])

    def test_an_order_that_is_not_kept_is_told(self):
        sheets = [sheet("IN"), sheet("OUT", "cut", behind=["IN"])]
        order = [removal("-in", (1, "IN")), removal("-out", (1, "OUT"), done=True)]
        words = words_of(told(repair(1, sheets=sheets), removal=order))
        self.assertIn("out is out already; the accepted order of removal has it after in is taken out", words)
        against = [removal("+out", (1, "OUT")), removal("+in", (1, "IN"))]
        found = told(repair(1, "cut", [sheet("IN", "cut"), sheets[1]]), removal=against)
        self.assertIn("it is the other way round in their repair", words_of(found))
        self.assertEqual(loop_of([step.plain() for step in found.steps]), [])

    @given(st.integers(0, 10_000))
    def test_whatever_is_done_no_order_makes_a_ring_and_all_of_it_is_kept(self, seed):
        rng = random.Random(seed)
        state = {part: rng.choice(SHEET_STATES[:6]) for part in PARTS}
        mine = [part for part in PARTS if rng.random() < 0.7]
        sheets = [sheet(part, state[part], weld=rng.choice([20, 200])) for part in mine]
        # Each part in a repair of its own, so that nothing but the order ties them.
        repairs = [repair(n + 1, "opened", [each]) for n, each in enumerate(sheets)]
        actions = all_out_first(PARTS)
        order = []
        for action in actions:
            at = SHEET_STATES.index(state[action[1:]])
            done = at >= SHEET_STATES.index("cut" if action[0] == "-" else "welded")
            there = [(mine.index(action[1:]) + 1, action[1:])] if action[1:] in mine else []
            order.append(removal(action, *there, done=done))
        found = told(*repairs, removal=order)
        self.assertEqual(loop_of([step.plain() for step in found.steps]), [])
        steps = by_key(found)
        reach = {}

        def before(key):
            if key not in reach:
                reach[key] = set(steps[key].after).union(*map(before, steps[key].after))
            return reach[key]

        ends = {}
        for action in actions:
            head = f"R{mine.index(action[1:]) + 1 if action[1:] in mine else 0}:{action[1:]}:"
            kind = "cut" if action[0] == "-" else "weld"
            ends[action] = [key for key in steps if key.startswith(head + kind)][-1:]
        for earlier, later in (*rules_of(PARTS), *closes_of(PARTS)):
            if ends[f"+{earlier}"] and ends[f"+{later}"]:
                self.assertIn(ends[f"+{earlier}"][0], before(ends[f"+{later}"][0]))
