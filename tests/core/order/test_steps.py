"""Steps made from repairs, a plan again after something went otherwise, and what holds up what."""

import random
from datetime import timedelta
from unittest import TestCase
from unittest.mock import patch

from hypothesis import given
from hypothesis import strategies as st

from tests.core.order.test_plan import FIRST, PlanTest, slot
from yellow_sill.core.errors import BadField
from yellow_sill.core.order import plan as module_plan
from yellow_sill.core.order import serial
from yellow_sill.core.order.asked import PlanRequest, loop_of
from yellow_sill.core.order.chain import ChainRequest, chain
from yellow_sill.core.order.plan import plan
from yellow_sill.core.order.replan import ReplanRequest, replan
from yellow_sill.core.order.steps import made_steps
from yellow_sill.core.order.work import StepsRequest
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.core.repairs.sheets import SHEET_STATES


def sheet(name, state="planned", behind=(), **minutes):
    return {"name": name, "state": state, "behind": list(behind), "minutes": minutes}


def told(*repairs, **more):
    return made_steps(StepsRequest.read({"repairs": list(repairs), **more}))


def repair(number=1, state="opened", sheets=(), **more):
    return {"number": number, "state": state, "sheets": list(sheets), **more}


WEEKS = [
    slot(7 * week + day, hours, 2 if day == 0 else 1, at)
    for week in range(40)
    for day, hours, at in ((0, 5, 9), (3, 2.5, 18))
]


def garage(seed, count=4):
    """A made-up garage's steps."""
    rng = random.Random(seed)
    repairs = [
        repair(n + 1, rng.choice(STATES[:3]), [sheet("IN"), sheet("OUT", behind=["IN"], weld=rng.choice([60, 140]))][: rng.choice([1, 2])])
        for n in range(count)
    ]  # fmt: skip
    for each in repairs:
        state = "cut" if each["state"] == "cut" else "planned"
        for one in each["sheets"]:
            one["state"] = state
        for one in each["sheets"]:
            one["behind"] = [
                name for name in one["behind"] if name in {other["name"] for other in each["sheets"]}
            ]
    return [step.plain() for step in told(*repairs).steps]


class StepsTest(TestCase):
    def test_a_sheet_goes_from_the_inside_out_and_a_tack_is_not_left_unchecked(self):
        found = {
            step.key: step for step in told(repair(sheets=[sheet("OUT", behind=["IN"]), sheet("IN")])).steps
        }
        self.assertIn("R1:OUT:cut", found["R1:IN:cut"].after, "what lies in front is cut first")
        self.assertIn("R1:IN:weld", found["R1:OUT:tack"].after, "what lies behind is welded first")
        self.assertEqual(found["R1:OUT:tack"].until, "R1:OUT:check")
        self.assertEqual(
            found["R1:OUT:treat"].within_h, {"R1:OUT:look": 336.0}, "no metal is bare for longer"
        )
        self.assertTrue(all(step.guess for step in found.values() if step.kind in ("make", "weld")))
        self.assertEqual(list(found)[-1], "R1:sign")

    def test_what_is_done_is_no_step_and_long_welding_is_runs(self):
        found = told(repair(state="fitted", sheets=[sheet("A", "tacked", weld=200)])).steps
        self.assertEqual(found[0].name, "Datum check, A tacked", "nobody has said that it was made")
        self.assertEqual([step.name for step in found[1:5]], [f"Weld A, run {n} of 4" for n in range(1, 5)])
        self.assertEqual(sum(step.minutes for step in found[1:5]), 160, "four fifths of it: the tacks are in")
        cut = [step.key for step in told(repair(state="cut", sheets=[sheet("A", "cut")])).steps]
        self.assertEqual(cut[:2], ["R1:A:look", "R1:A:treat"], "nor that bare edges were treated")
        self.assertEqual(told(repair(state="signed off")).steps, [])
        self.assertNotIn("brace", " ".join(step.key for step in told(repair()).steps))
        self.assertIn(
            "R1:brace", told(repair(loose=True)).steps[3].after, "loose without it: the round, then the cut"
        )

    def test_what_is_not_opened_yet_takes_longer_and_spreads_wider(self):
        known = {step.key: step for step in told(repair(sheets=[sheet("A", make=100)])).steps}["R1:A:make"]
        grown = {step.key: step for step in told(repair(state="found", grows=4, grows_late=9, sheets=[sheet("A", make=100)])).steps}["R1:A:make"]  # fmt: skip
        self.assertEqual((known.minutes, grown.minutes), (100, 200))
        self.assertAlmostEqual(
            grown.late_minutes / grown.minutes, 1.5 * known.late_minutes / known.minutes, delta=0.02
        )

    def test_what_nobody_knows_is_not_planned(self):
        known = {"name": "Sill", "there": FIRST, "there_late": FIRST + timedelta(days=20)}
        found = told(
            repair(1, sheets=[sheet("A")], waits=[{"name": "Wing"}]),
            repair(2, sheets=[sheet("B")], waits=[known]),
        )
        self.assertIn("R1:A:fit", [step.key for step in found.unplanned])
        self.assertIn("R1:sign", [step.key for step in found.unplanned], "nor what comes after it")
        self.assertIn("R1:A:make", [step.key for step in found.steps])
        steps = {step.key: step for step in found.steps}
        came = steps["R2:came-1"]
        self.assertEqual((came.not_before, came.there_late), (FIRST, FIRST + timedelta(days=20)))
        self.assertIn("R2:came-1", steps["R2:B:fit"].after, "it is looked over before it is fitted")
        self.assertEqual((came.repair, came.plain().area), (2, 0), "a parcel opens no area")
        self.assertTrue(any("nobody knows when it comes" in words for words in found.unknown))

    def test_others_work_is_booked_brought_and_fetched_and_what_is_here_only_looked_over(self):
        waits = {"name": "Panel pressed", "number": 7, "outside": True, "there": FIRST, "away_h": 240}
        keys = lambda **more: {
            step.key: step for step in told(repair(sheets=[sheet("A")], waits=[waits | more])).steps
        }
        found = keys(ordered=False)
        self.assertEqual(found["R1:collect-7"].after, ["R1:deliver-7"])
        self.assertEqual((found["R1:deliver-7"].after, found["R1:deliver-7"].cure_h), (["R1:book-7"], 240))
        self.assertIn("R1:collect-7", found["R1:A:fit"].after)
        with_them = [key for key in keys(ordered=True) if key.endswith("-7")]
        self.assertEqual(with_them, ["R1:collect-7"], "it is with them")
        bought = keys(outside=False, ordered=False)
        self.assertEqual((bought["R1:came-7"].after, bought["R1:order-7"].cure_h), (["R1:order-7"], 240))
        alone = {step.key: step.after for step in told(outside=[waits]).steps}
        self.assertEqual(alone, {"R0:collect-7": []}, "no repair's, all the same")
        here = keys(here=True)
        self.assertEqual(here["R1:came-7"].not_before, None)
        self.assertNotIn("R1:deliver-7", here)

    def test_a_box_is_painted_and_looked_into_before_it_closes(self):
        def after(state, key):
            sheets = [
                sheet("IN", "welded" if state == "tacked" else state),
                sheet("OUT", state, ["IN"]) | {"closes": True},
            ]
            steps = told(
                repair(state="cut" if state == "cut" else "opened", position="stands", sheets=sheets)
            ).steps
            return next(step for step in steps if step.key == key).after, {step.key: step for step in steps}

        tack, steps = after("planned", "R1:OUT:tack")
        self.assertEqual(tack, ["R1:OUT:closing"])
        self.assertEqual(steps["R1:OUT:closing"].after, ["R1:OUT:inside"])
        self.assertEqual(steps["R1:OUT:inside"].after, ["R1:OUT:fit", "R1:IN:weld"])
        self.assertGreater(steps["R1:OUT:inside"].cure_h, 0)
        self.assertNotIn("R1:IN:closing", steps)
        self.assertEqual((steps["R1:OUT:weld"].position, steps["R1:OUT:make"].position), ("stands", ""))
        check, _ = after("tacked", "R1:OUT:check")
        self.assertEqual(check, ["R1:OUT:closing"], "tacked already: before it is welded shut")
        self.assertEqual(steps["R1:mark"].after, ["R1:save"], "what sits on the metal is saved first")

    def test_a_persons_word_counts_and_a_tie_of_the_trade_wants_a_reason(self):
        one = repair(sheets=[sheet("A")])
        found = told(one, changed=[{"key": "R1:A:make", "minutes": 200, "parts": 2}, {"key": "own-1", "own": True, "name": "Sweep", "after": ["R1:A:make"]}, {"key": "R1:mark", "done": True}])  # fmt: skip
        steps = {step.key: step for step in found.steps}
        self.assertEqual([steps[f"R1:A:make/{n}"].minutes for n in (1, 2)], [100, 100])
        self.assertEqual((steps["own-1"].after, steps["R1:A:fit"].after[1]), (["R1:A:make/2"], "R1:A:make/2"))
        self.assertEqual((found.done, steps["R1:round"].after), (["R1:mark"], []))
        untie = {"key": "R1:A:weld-1", "untied": [{"key": "R1:A:check"}]}
        with self.assertRaisesMessage("by the order of the trade"):
            told(one, changed=[untie])
        untie["untied"][0]["why"] = "It was measured on the bench."
        self.assertEqual(
            {step.key: step.after for step in told(one, changed=[untie]).steps}["R1:A:weld-1"], []
        )

    def assertRaisesMessage(self, part):
        return self.assertRaisesRegex(BadField, part)

    @given(
        st.lists(
            st.tuples(st.sampled_from(STATES), st.lists(st.sampled_from(SHEET_STATES), max_size=3)),
            min_size=1,
            max_size=4,
        )
    )
    def test_whatever_the_states_there_is_no_ring_and_every_tie_is_there(self, states):
        repairs = [
            repair(
                n + 1,
                state,
                [sheet(f"S{k}", each, [f"S{k - 1}"] if k else []) for k, each in enumerate(sheets)],
            )
            for n, (state, sheets) in enumerate(states)
        ]
        steps = told(*repairs).steps
        keys = {step.key for step in steps}
        self.assertEqual(len(keys), len(steps))
        self.assertEqual(loop_of([step.plain() for step in steps]), [])
        for step in steps:
            self.assertLessEqual({*step.after, *step.within_h, *filter(None, [step.until])}, keys)
            self.assertGreaterEqual(step.late_minutes, step.minutes)


@patch.object(serial, "LEAST_TRIES", 30)
@patch.object(serial, "MOST_TRIES", 30)
@patch.object(module_plan, "MOST_PROVED", 0)
class AgainTest(TestCase):
    def was(self, told_plan):
        return {each.key: each.begins for each in told_plan.placed}

    def again(self, steps, slots, was, **more):
        return replan(ReplanRequest(steps=steps, slots=slots, was=was, **more))

    def test_nothing_moves_where_nothing_changed_and_an_overrun_moves_fewer_than_a_new_plan(self):
        """120 made-up garages in which one step takes up to three times as long, beside planning anew."""
        rng, fewer, more = random.Random(3), 0, 0
        for seed in range(120):
            steps = garage(seed, 1 + seed % 2)
            request = PlanRequest.read({"steps": [step.model_dump() for step in steps], "slots": WEEKS})
            first = plan(request)
            was = self.was(first)
            same = self.again(steps, request.slots, was)
            self.assertEqual((same.moved, same.new), ([], []), seed)
            late = rng.choice([step for step in steps if step.pauses])
            steps = [
                step.model_copy(update={"minutes": late.minutes * 3}) if step is late else step
                for step in steps
            ]
            again = self.again(steps, request.slots, was)
            self.assertTrue(again.plan.possible)
            PlanTest().kept(PlanRequest(steps=steps, slots=request.slots), again.plan)
            anew = plan(PlanRequest(steps=steps, slots=request.slots))
            day = lambda at: at.date()
            moved_anew = sum(day(was[each.key]) != day(each.begins) for each in anew.placed)
            fewer += len(again.moved) < moved_anew
            more += len(again.moved) > moved_anew
        self.assertGreater(fewer, 3 * more)

    def test_a_step_is_put_elsewhere_and_what_cannot_be_is_told(self):
        steps = garage(1, 2)
        request = PlanRequest.read({"steps": [step.model_dump() for step in steps], "slots": WEEKS})
        was = self.was(plan(request))
        third = request.slots[4].begins
        first = min(was, key=lambda key: was[key])
        there = self.again(steps, request.slots, was, put=[{"key": first, "slot": third}])
        self.assertGreaterEqual(self.was(there.plan)[first], third)
        last = max(was, key=lambda key: was[key])
        early = self.again(steps, request.slots, was, put=[{"key": last, "slot": request.slots[0].begins}])
        self.assertIn("does not go there", early.instead[0])
        with self.assertRaisesRegex(BadField, "no such slot"):
            self.again(steps, request.slots, was, put=[{"key": last, "slot": FIRST + timedelta(hours=1)}])

    def test_the_chain_goes_back_to_a_beginning_and_every_link_ends_before_the_next(self):
        for seed in range(20):
            steps = garage(seed, 2)
            request = PlanRequest.read({"steps": [step.model_dump() for step in steps], "slots": WEEKS})
            placed = {each.key: {"begins": each.begins, "ends": each.ends} for each in plan(request).placed}
            found = chain(ChainRequest(steps=steps, slots=request.slots, placed=placed))
            self.assertEqual(found.key, max(placed, key=lambda key: placed[key]["ends"]))
            self.assertIn(found.links[0].kind, ("start", "part"))
            for one, other in zip(found.links, found.links[1:], strict=False):
                self.assertEqual(other.by, one.key)
                self.assertLessEqual(placed[one.key]["ends"], placed[other.key]["begins"])
        self.assertEqual(
            set(chain(ChainRequest(steps=steps, slots=request.slots, placed=placed, key=steps[0].key)).back),
            set(steps[0].after),
        )
