"""The figures of a bend and of a joggle's step: what the sheet gains and loses where it goes round."""

import math
from dataclasses import dataclass

JOGGLE_ANGLE_DEG = 45.0  #: usual slope of a joggling tool's step; a rule of thumb
K_FACTOR = (
    0.42  #: neutral fibre of air-bent mild sheet, share of thickness from the inside; usual 0.33 to 0.5
)


@dataclass(frozen=True, slots=True)
class Bend:
    """The figures of one bend, mm: neutral arc, outside setback, deduction."""

    allowance_mm: float
    setback_mm: float
    deduction_mm: float


def bend_figures(angle_deg: float, inside_radius_mm: float, thickness_mm: float, k_factor: float) -> Bend:
    """Allowance, outside setback and deduction of a bend.

    Args: angle_deg: bent through, 90 = square, above 0 and below 180; radius and thickness in mm; k_factor 0 to 1.
    Source: arc of the neutral fibre and tangents of the outer surface; docs/methods.md section 4.

    >>> b = bend_figures(90, 1.0, 1.0, 0.4); round(b.allowance_mm, 3), round(b.setback_mm, 3), round(b.deduction_mm, 3)
    (2.199, 2.0, 1.801)
    """
    angle = math.radians(angle_deg)
    allowance = angle * (inside_radius_mm + k_factor * thickness_mm)
    setback = (inside_radius_mm + thickness_mm) * math.tan(angle / 2)
    return Bend(allowance, setback, 2 * setback - allowance)


def joggle_angle_deg(
    thickness_mm: float, inside_radius_mm: float, angle_deg: float = JOGGLE_ANGLE_DEG
) -> float:
    """The angle that the two bends of a step one sheet deep really get: the one asked for, or less where the radius is too big for the step.

    >>> round(joggle_angle_deg(1.0, 8.0), 2)
    19.75
    """
    middle = inside_radius_mm + thickness_mm / 2
    most = math.degrees(math.acos(1 - thickness_mm / (2 * middle)))
    return min(angle_deg, most)


def joggle_loss_mm(
    thickness_mm: float, inside_radius_mm: float, k_factor: float, angle_deg: float = JOGGLE_ANGLE_DEG
) -> float:
    """Length lost in a step one sheet deep: the neutral fibre's length less the run it covers.

    Two equal bends through ``angle_deg`` with a straight between. The step's geometry is that of the middle of the sheet, which moves over by one
    sheet; the length is the neutral fibre's. Where the radius is too big for the step, the bends meet without a straight: ``joggle_angle_deg``.

    Source: docs/methods.md section 4.

    >>> round(joggle_loss_mm(0.9, 1.0, 0.4, 30.0), 3)
    0.111
    """
    angle = math.radians(joggle_angle_deg(thickness_mm, inside_radius_mm, angle_deg))
    middle, neutral = inside_radius_mm + thickness_mm / 2, inside_radius_mm + k_factor * thickness_mm
    straight = max(0.0, (thickness_mm - 2 * middle * (1 - math.cos(angle))) / math.sin(angle))
    run = 2 * middle * math.sin(angle) + straight * math.cos(angle)
    return 2 * neutral * angle + straight - run
