"""The sheets of a repair: the ribbon is never ahead of any, work goes from the inside out, nothing is skipped."""

from datetime import date
from unittest import TestCase

from hypothesis import given
from hypothesis.strategies import integers, lists, permutations, sampled_from

from yellow_sill.core.errors import BadField
from yellow_sill.core.repairs.ribbon import STATES, BadMove
from yellow_sill.core.repairs.sheets import (
    AS_RIBBON,
    SHEET_STATES,
    SheetIs,
    SheetsRequest,
    check_sheet_step,
    inside_out,
    ribbon_of,
    sheet_state_of,
    sheets_told,
)

DAY = date(2026, 3, 7)


def sheet(name: str, state: str = "fitted", behind=(), since: date | None = DAY) -> SheetIs:
    return SheetIs(name=name, state=state, behind=list(behind), since=since)


class Sheets(TestCase):
    @given(lists(sampled_from(SHEET_STATES), min_size=1, max_size=8), integers(0, 7))
    def test_the_ribbon_is_never_ahead_of_any_sheet_and_never_falls_back_when_one_goes_on(self, states, at):
        told = STATES.index(ribbon_of(states))
        self.assertEqual(told, min(STATES.index(AS_RIBBON[state]) for state in states))
        at %= len(states)
        further = [*states]
        further[at] = SHEET_STATES[min(SHEET_STATES.index(states[at]) + 1, len(SHEET_STATES) - 1)]
        self.assertGreaterEqual(STATES.index(ribbon_of(further)), told)

    @given(permutations(range(5)))
    def test_every_sheet_comes_after_all_that_lie_behind_it(self, order):
        sheets = [sheet(f"S{n}", behind=[f"S{k}" for k in range(n)]) for n in order]
        self.assertEqual([each.name for each in inside_out(sheets)], [f"S{n}" for n in range(5)])

    def test_a_repair_moved_as_a_whole_leaves_its_sheets_where_the_ribbon_is(self):
        for state in STATES[1:-1]:
            with self.subTest(state):
                self.assertEqual(ribbon_of([sheet_state_of(state)]), state)

    def test_what_is_told(self):
        told = sheets_told(SheetsRequest(sheets=[sheet("skin", behind=["inner"]), sheet("inner", "tacked")]))
        self.assertEqual([step.sheet for step in told.order], ["inner", "skin"])
        self.assertEqual(
            (told.ribbon, told.order[1].to, told.order[1].waits_for), ("fitted", "tacked", ["inner"])
        )
        self.assertEqual(str(told.words), "Fitted; next inner: welded.")

    REFUSED = {
        "unknown": ("nowhere", {}, "never 'nowhere'"),
        "the same": ("fitted", {}, "is fitted already"),
        "skipped": ("dressed", {}, "skips: tacked, welded"),
        "back without a word": ("cut", {}, "needs a reason"),
        "a day to come": ("tacked", {"made_on": date(2026, 3, 9)}, "not come yet"),
        "before the last step": ("tacked", {"made_on": date(2026, 3, 6)}, "was on 7 Mar 2026"),
        "over what lies behind": ("tacked", {"behind": ["inner"]}, "inner lies behind it"),
    }

    def test_refusals(self):
        for name, (to, more, words) in self.REFUSED.items():
            with self.subTest(name), self.assertRaisesRegex(BadMove, words):
                self.step(to, **more)
        with self.assertRaisesRegex(BadField, "twice"):
            inside_out([sheet("a"), sheet("a")])
        with self.assertRaisesRegex(BadField, "behind itself"):
            inside_out([sheet("a", behind=["b"]), sheet("b", behind=["a"])])

    def step(self, to, *, behind=(), made_on=DAY, despite="", note=""):
        mine = sheet("skin", behind=behind)
        return check_sheet_step(
            mine, to, sheets=[mine, sheet("inner", "fitted")], made_on=made_on, today=date(2026, 3, 8), note=note, despite=despite
        )  # fmt: skip

    def test_a_written_reason_is_kept(self):
        self.assertEqual(
            self.step("tacked", behind=["inner"], despite=" inner is bolted in "), "inner is bolted in"
        )
        self.assertEqual(self.step("tacked"), "")
        self.assertEqual(self.step("cut", note="wrong hand"), "")
