"""Two-door unitary saloon: the stations that carry the reference drawing to a vehicle's own dimensions."""

from collections.abc import Callable

from ..errors import BadField
from . import ends, saloon_plan, saloon_side
from .estate import EstateLines
from .model import View
from .saloon_reference import REFERENCE as R
from .saloon_side import SideLines
from .stations import Stretch, piecewise

#: A part of the shell may shrink or grow by this much between stations before the drawing stops being true.
LEAST_STRETCH, MOST_STRETCH = 0.55, 1.7

#: Everything below this height (wheels, arches, sill) keeps its heights whatever the waist and the roof do.
FIXED_BELOW_MM = 650.0


def estate_views(sizes: dict[str, float]) -> list[View]:
    """All views of an estate or hatch: the saloon's, with a long roof and a tailgate. Raises: BadField."""
    return saloon_views(sizes, EstateLines())


def saloon_views(sizes: dict[str, float], lines: SideLines | None = None) -> list[View]:
    """Left, right, underside, front, rear and inside floor of a saloon, or of what differs from it in some lines.

    Args: sizes: every dimension of the body type by name, mm.
    Returns: the views.
    Raises: BadField where dimensions cannot go together.
    """
    along, plan_across, height = stretches(sizes)
    side = Stretch(along, height)
    lines = lines or SideLines()
    left, right = saloon_side.draw("L", lines), saloon_side.draw("R", lines)
    under, floor, end = saloon_plan.draw(), saloon_plan.draw(inside=True), Stretch(plan_across, height)
    return [
        left.view("left", "Left side", ("x", "z"), side, (1, 1), layered=True),
        right.view("right", "Right side", ("-x", "z"), side, (-1, 1), layered=True),
        under.view("underside", "Underside", ("x", "-y"), Stretch(along, plan_across), (1, -1), layered=False),
        ends.front().view("front", "Front", ("-y", "z"), end, (-1, 1), layered=False),
        ends.rear(lines.estate).view("rear", "Rear", ("y", "z"), end, (1, 1), layered=False),
        floor.view("floor", "Inside floor", ("x", "y"), Stretch(along, plan_across), (1, 1), layered=False),
    ]


Along = Callable[[float], float]


def stretches(sizes: dict[str, float]) -> tuple[Along, Along, Along]:
    """Maps of x, y and z from the reference body to a vehicle, mm to mm. Raises: BadField."""
    across = piecewise((0.0, R.half_width), (0.0, sizes["width"] / 2))
    return _along(sizes), lambda y: across(y) if y >= 0 else -across(-y), _upwards(sizes)


def _along(sizes: dict[str, float]):
    wheelbase, front = sizes["wheelbase"], sizes["front_overhang"]
    rear = sizes["overall_length"] - wheelbase - front
    sill_end = wheelbase - R.arch_clear
    sill_front = sill_end - sizes["sill_length"]
    door_front = sill_front + (R.door_front - R.sill_front)
    door_rear = door_front + sizes["door_length"]
    stations = (
        # station in the reference body, in this one, and what is too tight or too long before it
        (R.nose, -front, "", ""),
        (-R.front_clear, -R.front_clear, "front_overhang", "The front overhang and the front wheel arch"),
        (R.front_clear, R.front_clear, "", ""),
        (R.sill_front, sill_front, "sill_length", "The wing between the front arch and the sill"),
        (R.door_front, door_front, "", ""),
        (R.door_rear, door_rear, "door_length", "The door"),
        (R.post_rear, door_rear + R.post_rear - R.door_rear, "", ""),
        (R.sill_end, sill_end, "door_length", "The quarter between the door and the rear arch"),
        (R.wheelbase + R.arch_clear, wheelbase + R.arch_clear, "", ""),
        (R.tail, wheelbase + rear, "overall_length", "The tail behind the rear arch"),
    )
    for (ref0, own0, *_), (ref1, own1, name, what) in zip(stations, stations[1:], strict=False):
        share = (own1 - own0) / (ref1 - ref0)
        if name and not LEAST_STRETCH <= share <= MOST_STRETCH:
            room = "does not fit" if own1 <= own0 else f"would be {own1 - own0:.0f} mm long"
            raise BadField(
                f"{what} {room} with these dimensions; {(ref1 - ref0) * LEAST_STRETCH:.0f} to {(ref1 - ref0) * MOST_STRETCH:.0f} mm can be drawn.",
                name,
                "Tape wheelbase, sill, door and overall length again.",
            )
    return piecewise(tuple(s[0] for s in stations), tuple(s[1] for s in stations))


def _upwards(sizes: dict[str, float]):
    waist, height = sizes["waist_height"], sizes["height"]
    share = (height - waist) / (R.height - R.waist)
    if not LEAST_STRETCH <= share <= MOST_STRETCH:
        raise BadField(
            f"Between waist and roof {height - waist:.0f} mm are left for the windows; "
            f"{(R.height - R.waist) * LEAST_STRETCH:.0f} to {(R.height - R.waist) * MOST_STRETCH:.0f} mm can be drawn.",
            "waist_height",
            "Tape the waist and the roof again, both above the same datum.",
        )
    return piecewise((FIXED_BELOW_MM, R.waist, R.height), (FIXED_BELOW_MM, waist, height))
