"""What the order of work is asked in the benches: sixty steps in thirty slots, three hundred in two hundred, a plan again, a finish."""

import random
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

#: The sixty steps of each made-up garage stay within this of what cannot be beaten, as the median over so many garages.
WITHIN, GARAGES = 0.05, 5
FIRST = datetime(2026, 3, 7)  # noqa: DTZ001 - slots have no zone: they are the garage's own time


def garage(repairs: int, per: int, slots: int, seed: int) -> dict[str, Any]:
    """Repairs of some steps each, one after another, half of which may pause; Saturdays of four hours and two evenings a week."""
    rng, steps = random.Random(seed), []
    for repair in range(1, repairs + 1):
        for n in range(per):
            sparks = n % 5 == 2
            steps.append({
                "key": f"{repair}.{n}", "name": f"Step {n}", "repair": repair, "minutes": rng.choice([20, 30, 40, 45, 60, 90]), "sparks": sparks,
                "after": [f"{repair}.{n - 1}"] if n else [], "cure_h": 16 if n % 6 == 4 else 0, "hands": 2 if rng.random() < 0.05 else 1,
                "pauses": not sparks and rng.random() < 0.6,
            })  # fmt: skip
    times = []
    for n in range(slots):
        week, k = divmod(n, 3)
        begins = FIRST + timedelta(days=7 * week + (0, 3, 5)[k], hours=(9, 18, 18)[k])
        times.append({"begins": begins, "ends": begins + timedelta(minutes=(240, 120, 90)[k]), "hands": 2 if k == 0 else 1})  # fmt: skip
    return {"steps": steps, "slots": times}


def order_work() -> list[tuple[str, Callable[[], object], float]]:
    """Name, what is called, limit in ms."""
    from yellow_sill.core.order.asked import PlanRequest, rooms_of
    from yellow_sill.core.order.finish import FinishRequest, finish
    from yellow_sill.core.order.plan import plan
    from yellow_sill.core.order.replan import ReplanRequest, replan
    from yellow_sill.core.order.serial import Serial

    sixty = [PlanRequest.read(garage(6, 10, 30, seed)) for seed in range(GARAGES)]
    many = PlanRequest.read(garage(20, 15, 200, 1))
    serial = Serial(sixty[0], rooms_of(sixty[0].slots))
    told = [plan(each) for each in sixty]
    gap = sorted(each.gap for each in told)[GARAGES // 2]
    if gap > WITHIN:
        raise SystemExit(f"Plans of sixty steps are {100 * gap:.1f} % above what cannot be beaten.")
    was = {each.key: each.begins for each in told[0].placed}
    longer = [step.model_copy(update={"minutes": step.minutes * 2}) if n == 5 and step.pauses else step for n, step in enumerate(sixty[0].steps)]  # fmt: skip
    again = ReplanRequest(steps=longer, slots=sixty[0].slots, was=was)
    spread = [{"key": str(n), "name": "Step", "minutes": 60, "late_minutes": 100, "cure_h": 16 if n % 6 == 0 else 0, "after": [str(n - 1)] if n else []} for n in range(300)]  # fmt: skip
    ends = FinishRequest.read(
        {"steps": spread, "slots": garage(1, 1, 12, 1)["slots"], "had": 40, "missed": 7}
    )
    return [
        (f"plan, 60 steps, 30 slots ({100 * gap:.1f} % above bound)", lambda: plan(sixty[0]), 5000),
        ("plan, 60 steps: the first that goes", lambda: serial.plan(serial.tails), 1000),
        ("plan again, 60 steps", lambda: replan(again), 3000),
        ("plan, 300 steps, 200 slots", lambda: plan(many), 20_000),
        ("finish, 300 steps, 2,000 draws", lambda: finish(ends), 1000),
    ]
