"""What was measured of a panel's shape: sections in two directions, a grid of heights, or two radii."""

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Mm, Said

#: A height is this sure, mm; what the hand makes of mild sheet in one piece, a share of area (rules of thumb).
READING_MM, BY_HAND = 0.5, 0.06
#: Heights are followed by polynomials up to this degree each way.
DEGREE = 4
_Height = Annotated[float, Field(ge=-2000, le=2000)]
_Size = Annotated[float, Field(gt=1, le=5000)]


class Section(Record):
    """Heights above one straight base along a line: ``axis`` it runs along, ``at_mm`` where it lies on the other; ``points``: along, height, mm."""

    axis: Literal["u", "v"]
    at_mm: Annotated[float, Field(ge=-100, le=5000)]
    points: Annotated[
        list[tuple[Annotated[float, Field(ge=-100, le=5000)], _Height]], Field(min_length=2, max_length=100)
    ]


class Radii(Record):
    """A panel by its size and its two radii; ``other_mm`` None where it is straight across; ``saddle``: the two bend to opposite sides."""

    length_mm: _Size
    width_mm: _Size
    radius_mm: Annotated[float, Field(gt=1, le=1e6)]
    other_mm: Annotated[float, Field(gt=1, le=1e6)] | None = None
    saddle: bool = False


class ShapeRequest(Record):
    """A panel's shape: ``sections`` in two directions, a grid of ``heights`` (rows along u, ``step_mm`` apart along u and v), or ``radii``."""

    sections: Annotated[list[Section], Field(max_length=60)] = []
    heights: Annotated[
        list[Annotated[list[_Height], Field(min_length=2, max_length=60)]], Field(max_length=60)
    ] = []
    step_mm: tuple[_Size, _Size] = (50.0, 50.0)
    radii: Radii | None = None
    reading_mm: Annotated[float, Field(gt=0, le=20)] = READING_MM
    strain_limit: Annotated[float, Field(gt=0, le=0.6)] = BY_HAND


def readings_of(request: ShapeRequest) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Every height with its place. Raises: BadField."""
    given = [bool(request.sections), bool(request.heights), request.radii is not None]
    if sum(given) != 1:
        raise BadField("Give sections, or a grid of heights, or radii: one of them.", "sections")
    if request.radii is not None:
        return _of_radii(request.radii)
    if request.heights:
        rows, lengths = len(request.heights), {len(row) for row in request.heights}
        if rows < 2 or len(lengths) != 1:
            raise BadField(
                "Every row of heights needs as many as the first, and there must be two rows.",
                "heights",
                "Fill in what is missing.",
            )
        du, dv = request.step_mm
        v, u = np.meshgrid(np.arange(rows) * dv, np.arange(lengths.pop()) * du, indexing="ij")
        return u.ravel(), v.ravel(), np.array(request.heights, float).ravel()
    return _of_sections(request)


def _of_radii(radii: Radii) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    half = radii.length_mm / 2, radii.width_mm / 2
    if half[0] >= radii.radius_mm or (radii.other_mm is not None and half[1] >= radii.other_mm):
        raise BadField(
            "A panel cannot reach beyond the centre of its own curve.",
            "radii.radius_mm",
            "Check the radius against the size.",
        )
    u, v = np.meshgrid(np.linspace(-half[0], half[0], 15), np.linspace(-half[1], half[1], 15))
    z = np.sqrt(radii.radius_mm**2 - u**2) - radii.radius_mm
    if radii.other_mm is not None:
        across = np.sqrt(radii.other_mm**2 - v**2) - radii.other_mm
        z = z - across if radii.saddle else z + across
    return (u + half[0]).ravel(), (v + half[1]).ravel(), z.ravel()


def _of_sections(request: ShapeRequest) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Raises: BadField for sections of one direction only, or that contradict each other where they cross."""
    sections = request.sections
    if {section.axis for section in sections} != {"u", "v"}:
        raise BadField(
            "Sections of one direction do not tell a shape.", "sections", "Measure at least one across."
        )
    limit = max(1.5, 4 * math.sqrt(2) * request.reading_mm)
    for i, one in enumerate(sections):
        for j, other in enumerate(sections[:i]):
            if one.axis == other.axis:
                continue
            a, b = _height_at(one, other.at_mm), _height_at(other, one.at_mm)
            if a is not None and b is not None and abs(a - b) > limit:
                what = Said(
                    "Sections {i} and {j} contradict each other where they cross: {a} and {b} high.",
                    i=j + 1,
                    j=i + 1,
                    a=Mm(b, 1),
                    b=Mm(a, 1),
                )
                raise BadField(what, f"sections[{i}].points", "Measure both again from one straight base.")
    told = [
        ((along, s.at_mm) if s.axis == "u" else (s.at_mm, along), height)
        for s in sections
        for along, height in s.points
    ]
    u, v = np.array([place for place, _ in told]).T
    return u, v, np.array([height for _, height in told])


def _height_at(section: Section, at: float) -> float | None:
    points = sorted(section.points)
    along = [p[0] for p in points]
    if not along[0] - 1 <= at <= along[-1] + 1:
        return None
    if len(points) > 2:
        degree = min(DEGREE, len(points) - 1)
        return float(np.polyval(np.polyfit(along, [p[1] for p in points], degree), at))
    return float(np.interp(at, along, [p[1] for p in points]))
