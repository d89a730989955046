"""What can be done with the minutes, hands and warmth that there are now."""

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from yellow_sill.core.order.what_now import Now, NowRequest, what_now
from yellow_sill.core.order.work import MadeStep
from yellow_sill.core.said import Said
from yellow_sill.web.protect.product_services import products_at_hand
from yellow_sill.web.shells.models import Vehicle

from .plan_services import plan_of
from .step_services import steps_of


def can_now(vehicle: Vehicle, asked: Mapping[str, Any], now: datetime) -> tuple[Now, dict[str, MadeStep]]:
    """The open steps that fit, in the order of the plan, and all steps by key.

    Args: asked: minutes, hands, sparks, at_c, off_the_shell. Raises: CoreError.
    """
    told = steps_of(vehicle, now.date())
    plan = plan_of(vehicle)
    at = {each["key"]: each["begins"] for each in (plan.placed if plan else [])}
    steps = sorted(told.steps, key=lambda step: at.get(step.key, "9"))
    names = {step.key: step.said for step in steps}
    least = max((product.least_c for product in products_at_hand(vehicle)), default=5.0)
    open_ = [
        {
            "key": step.key, "name": step.said, "minutes": step.minutes, "pauses": step.pauses, "hands": step.hands, "sparks": step.sparks,
            "touches": step.touches, "position": step.position, "least_c": least if step.kind == "protect" else None,
            "waits": [names[key] for key in step.after if key in names], "ready": step.not_before,
        }
        for step in steps
    ]  # fmt: skip
    found = what_now(NowRequest.read({"steps": open_, "now": now, **asked}))
    return found, {step.key: step for step in steps}


def reasons(found: Now, steps: Mapping[str, MadeStep]) -> list[tuple[MadeStep, Said]]:
    """The steps that wait for nothing else and do not fit, with why not."""
    return [
        (steps[key], why)
        for key, why in found.why_not.items()
        if not any(other in steps for other in steps[key].after)
    ]
