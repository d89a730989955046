"""K from the person's own test bend."""

import math
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Mm, Said

_Size = Annotated[float, Field(gt=0, le=2000)]


class BendTest(Record):
    """A strip of known length, bent once. Legs to the outside mould point, mm; the angle bent through."""

    flat_mm: _Size
    first_leg_mm: _Size
    second_leg_mm: _Size
    thickness_mm: Annotated[float, Field(gt=0, le=20)]
    inside_radius_mm: Annotated[float, Field(ge=0, le=200)]
    angle_deg: Annotated[float, Field(gt=0, le=170)] = 90.0


@dataclass(frozen=True, slots=True, kw_only=True)
class BendProved:
    """What a test bend tells: K, the bend's allowance and deduction in mm; per_mm: how much K moves with a millimetre of leg misread."""

    k_factor: float
    allowance_mm: float
    deduction_mm: float
    per_mm: float


def k_from_test(request: BendTest) -> BendProved:
    """The neutral fibre's place from two legs and the flat length they were bent from.

    Args: request: see BendTest.
    Raises: BadField where K would lie outside 0 to 1: a size was misread.
    Source: deduction = both outside legs less the flat length; docs/methods.md section 4.
    """
    angle, t = math.radians(request.angle_deg), request.thickness_mm
    deduction = request.first_leg_mm + request.second_leg_mm - request.flat_mm
    allowance = 2 * (request.inside_radius_mm + t) * math.tan(angle / 2) - deduction
    k = (allowance / angle - request.inside_radius_mm) / t
    if not 0 <= k <= 1:
        raise BadField(
            Said(
                "That gives K = {k:.2f}; the neutral fibre lies inside the sheet, 0 to 1. Legs of {first} and {second} do not come from {flat}.",
                k=k, first=Mm(request.first_leg_mm), second=Mm(request.second_leg_mm), flat=Mm(request.flat_mm),
            ),
            "first_leg_mm", "Measure both legs to the outside, the inside radius with a gauge, and the strip before bending.",
        )  # fmt: skip
    return BendProved(
        k_factor=round(k, 4),
        allowance_mm=round(allowance, 4),
        deduction_mm=round(deduction, 4),
        per_mm=round(1 / (angle * t), 3),
    )
