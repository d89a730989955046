"""Plans: small ones against every order tried by hand, each rule kept in simulated garages, what contradicts what, refusals in words."""

import itertools
import random
from datetime import datetime, timedelta
from unittest import TestCase

from yellow_sill.core.errors import BadField
from yellow_sill.core.order.asked import PlanRequest, goes_on, rooms_of
from yellow_sill.core.order.judge import broken
from yellow_sill.core.order.plan import plan
from yellow_sill.core.weld.cautions import FIRE_WATCH_MIN

FIRST = datetime(2026, 3, 7, 9, 0)


def slot(day, hours=4.0, hands=1, at=9):
    begins = FIRST.replace(hour=at) + timedelta(days=day)
    return {"begins": begins, "ends": begins + timedelta(hours=hours), "hands": hands}


def step(key, minutes, **more):
    return {"key": key, "name": f"Step {key}", "minutes": minutes, **more}


def asked(steps, slots, **more):
    return PlanRequest.read({"steps": steps, "slots": slots, **more})


def earliest(order, request):
    """The finish, min on the clock, of steps done in an order, each as soon as it may be; None where a slot is missing."""
    rooms, now, ends = rooms_of(request.slots), 0, {}
    by_key = {each.key: each for each in request.steps}
    first = min(each.begins for each in request.slots)
    for key in order:
        each = by_key[key]
        ready = max([0, *(ends[other] + round(by_key[other].cure_h * 60) for other in each.after)])
        if each.not_before:
            ready = max(ready, int((each.not_before - first).total_seconds() // 60))
        for room in rooms:
            start = max(now, room.worked, room.worked + ready - room.clock)
            until = room.worked + room.long - (FIRE_WATCH_MIN if each.sparks else 0)
            if room.hands >= each.hands and start + each.minutes <= until and start < room.worked + room.long:
                now = start + each.minutes
                ends[key] = now - room.worked + room.clock
                break
        else:
            return None
    return max(ends.values())


def least(request):
    """The soonest finish over all orders that the ties allow."""
    ties = {each.key: set(each.after) for each in request.steps}
    found = [
        last for order in itertools.permutations(ties)
        if all(ties[key] <= set(order[:n]) for n, key in enumerate(order)) and (last := earliest(order, request)) is not None
    ]  # fmt: skip
    return min(found) if found else None


class PlanTest(TestCase):
    def kept(self, request, told):
        """Every rule of the request, looked at on the plan."""
        at = {each.key: each for each in told.placed}
        self.assertEqual(
            broken(request.steps, request.slots, {key: each.pieces for key, each in at.items()}), []
        )
        pieces = sorted(piece for each in told.placed for piece in each.pieces)
        for one, other in itertools.pairwise(pieces):
            self.assertLessEqual(one[1], other[0])
        for each in request.steps:
            mine = at[each.key]
            self.assertEqual(
                sum((b - a for a, b in mine.pieces), timedelta()), timedelta(minutes=each.minutes)
            )
            if not goes_on(each):
                self.assertEqual(len(mine.pieces), 1)
            for begins, ends in mine.pieces:
                inside = [
                    s
                    for s in request.slots
                    if s.begins <= begins and ends <= s.ends and s.hands >= each.hands
                ]
                self.assertTrue(inside)
                if each.sparks:
                    self.assertLessEqual(ends, inside[0].ends - timedelta(minutes=FIRE_WATCH_MIN))
            for key in each.after:
                cure = next(other.cure_h for other in request.steps if other.key == key)
                self.assertGreaterEqual(mine.begins, at[key].ends + timedelta(hours=cure))
            for key, hours in each.within_h.items():
                self.assertLessEqual(mine.begins, at[key].ends + timedelta(hours=hours))
            if each.not_before:
                self.assertGreaterEqual(mine.begins, each.not_before)

    def test_no_order_of_small_garages_is_done_sooner(self):
        """The plan beside every order, and beside the plain way (as they come): 25 garages."""
        rng, plain_behind = random.Random(5), 0
        for _ in range(25):
            count = rng.randint(3, 6)
            steps = []
            for n in range(count):
                after = [f"s{k}" for k in range(n) if rng.random() < 0.3]
                steps.append(step(f"s{n}", rng.choice([30, 60, 90, 150]), after=after, sparks=rng.random() < 0.3, cure_h=rng.choice([0, 0, 0, 20]),
                                  hands=2 if rng.random() < 0.15 else 1))  # fmt: skip
            request = asked(
                steps,
                [slot(day, rng.choice([2.5, 4, 6]), rng.choice([1, 2])) for day in range(0, 21, 3)]
                + [slot(24, 8, 2)],
            )
            told, best = plan(request), least(request)
            self.assertEqual(told.possible, best is not None)
            if best is None:
                continue
            self.kept(request, told)
            first = min(each.begins for each in request.slots)
            self.assertEqual(told.finish, first + timedelta(minutes=best))
            self.assertTrue(told.proved)
            plain = earliest([each.key for each in request.steps], request)
            plain_behind += plain is None or plain > best
        self.assertGreater(plain_behind, 3)

    def test_rules_are_kept_in_larger_garages(self):
        rng = random.Random(8)
        for _ in range(3):
            steps = []
            for repair in range(1, 5):
                keys = [f"{repair}.{n}" for n in range(5)]
                for n, key in enumerate(keys):
                    steps.append(step(key, rng.choice([20, 45, 80, 200]), repair=repair, after=keys[n - 1 : n] if n else [], sparks=n == 2,
                                      pauses=n == 4, cure_h=16 if n == 3 else 0, position=rng.choice(["", "wheels", "left"])))  # fmt: skip
            request = asked(
                steps,
                [slot(7 * week + day, 5, 2 if day else 1) for week in range(10) for day in (0, 3)],
                open_areas=2,
            )
            told = plan(request)
            self.assertTrue(told.possible, told.words)
            self.kept(request, told)
            spans = {
                repair: (min(e.begins for e in told.placed if e.key.startswith(f"{repair}.")), max(e.ends for e in told.placed if e.key.startswith(f"{repair}.")))
                for repair in range(1, 5)
            }  # fmt: skip
            for at in (begun for begun, _ in spans.values()):
                self.assertLessEqual(sum(begun <= at < ended for begun, ended in spans.values()), 2)
            self.assertLessEqual(told.bound, told.finish)

    def test_a_recoat_window_and_a_safe_state_are_met(self):
        steps = [
            step("prime", 60, cure_h=2),
            step("seal", 60, after=["prime"], within_h={"prime": 30}),
            step("tack", 100),
            step("weld", 100, after=["tack"]),
        ]
        steps[2]["until"] = "weld"
        request = asked(steps, [slot(0, 4), slot(1, 4), slot(7, 4)])
        told = plan(request)
        self.kept(request, told)
        at = {each.key: each for each in told.placed}
        self.assertEqual(at["tack"].begins.date(), at["weld"].begins.date())

    def test_what_contradicts_what(self):
        steps = [
            step("prime", 60),
            step("seal", 60, after=["prime"], within_h={"prime": 4}, not_before=FIRST + timedelta(days=7)),
            step("early", 30, after=["prime"]),
            step("late", 220, after=["early"], until="seal"),
        ]
        told = plan(asked(steps[:2], [slot(0, 2), slot(7, 1.5), slot(14, 0.9)]))
        self.assertFalse(told.possible)
        said = " ".join(told.contradict)
        self.assertIn("the window of Step seal", said)
        self.assertIn("Step seal not before 14 Mar 2026", said)
        tight = plan(asked([step("a", 100), step("b", 100)], [slot(0, 3)]))
        self.assertIn("the slots until 7 Mar 2026", tight.words)

    def test_refused(self):
        fine = [step("a", 60)]
        ring = [step("a", 60, after=["c"]), step("b", 60, after=["a"]), step("c", 60, after=["b"])]
        night = {"begins": FIRST.replace(hour=22), "ends": FIRST + timedelta(hours=16)}
        for steps, slots, what in (
            (fine, [night], "past midnight"), (fine, [slot(0), slot(0, at=11)], "lie over one another"), (fine, [slot(0, -1)], "ends before it begins"),
            (ring, [slot(0)], "Step a, Step c and Step b|in a ring"), ([step("a", 300)], [slot(0)], "the longest slot for it has 240"),
            ([step("a", 200, sparks=True)], [slot(0)], "has 180"), ([step("a", 60, hands=2)], [slot(0)], "takes two people"),
            ([step("a", 60), step("a", 5)], [slot(0)], "two steps 'a'"), ([step("a", 60, after=["x"])], [slot(0)], "which there is not"),
            ([step("a", 60), step("b", 5, within_h={"a": 3})], [slot(0)], "does not wait for it"), ([step("a", 60, cure_h=10_000)], [slot(0)], "2000"),
        ):  # fmt: skip
            with self.subTest(what), self.assertRaisesRegex(BadField, what):
                plan(asked(steps, slots))
