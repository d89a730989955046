"""Pressed recesses and beads: how much sheet they draw in, the formers to press them over, and ribs that meet their neighbours'."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..remarks import Remark
from ..said import Mm, Said, joined

#: What a sheet takes where it cannot draw in, a share of length; how far a corner may be drawn by hand over a former, blank over recess (rules of thumb).
STRETCH, DRAW_BY_HAND = 0.15, 1.35
#: Inside radii below so many sheets tear; formers leave the sheet this share more than its thickness; a holding ring is so wide, mm (rules of thumb).
LEAST_SHEETS, CLEARANCE, RING_MM = 3.0, 0.1, 40.0
#: Ribs meet within this, mm.
MEET_MM = 1.0

_Size = Annotated[float, Field(gt=0, le=5000)]


class Recess(Record):
    """A rectangular recess: its size at the upper edge, its corners' radius in plan, depth, wall angle from the sheet, radii inside at bottom and top."""

    length_mm: _Size
    width_mm: _Size
    corner_mm: _Size
    depth_mm: _Size
    wall_deg: Annotated[float, Field(gt=5, le=90)] = 60.0
    bottom_mm: Annotated[float, Field(ge=0, le=200)] = 4.0
    top_mm: Annotated[float, Field(ge=0, le=200)] = 4.0
    draws_in: bool = True


class Beads(Record):
    """A row of round beads across a sheet: how many, their width and height, and the pitch from one to the next on the finished sheet, mm."""

    count: Annotated[int, Field(ge=1, le=60)]
    width_mm: _Size
    height_mm: _Size
    pitch_mm: _Size


class RibLine(Record):
    """A line where a joint may lie: where the old panel's ribs and the new one's cross it, mm along it."""

    name: Annotated[str, Field(min_length=1, max_length=40)]
    old_mm: Annotated[
        list[Annotated[float, Field(ge=-10_000, le=10_000)]], Field(min_length=1, max_length=60)
    ]
    new_mm: Annotated[
        list[Annotated[float, Field(ge=-10_000, le=10_000)]], Field(min_length=1, max_length=60)
    ]


class PressedRequest(Record):
    """A recess, a row of beads, ribs that must meet, or any of them, in a sheet of a thickness, mm."""

    thickness_mm: Annotated[float, Field(gt=0, le=6)]
    recess: Recess | None = None
    beads: Beads | None = None
    ribs: Annotated[list[RibLine], Field(max_length=40)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class Former:
    """A former to cut from plate or board: a rectangle with rounded corners; an opening where ``hole_mm`` is given (length, width, corner)."""

    name: str
    length_mm: float
    width_mm: float
    corner_mm: float
    hole_mm: tuple[float, float, float] | None


@dataclass(frozen=True, slots=True, kw_only=True)
class RecessTold:
    """A recess worked out: what one wall takes (run on the sheet, length of sheet), what is added at each edge of the blank, strain where nothing draws in,
    draw ratio at the corners, wall angle as made, formers, remarks PRESS-01 to 04.
    """

    run_mm: float
    wall_mm: float
    draw_in_mm: float
    wall_deg: float
    strain: float
    draw_ratio: float
    formers: list[Former]
    remarks: list[Remark]


@dataclass(frozen=True, slots=True, kw_only=True)
class BeadTold:
    """A bead in the order of pressing: its number in the row, where its middle lies on the finished sheet and on the flat, from the row's middle, mm."""

    number: int
    finished_mm: float
    flat_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class RibsTold:
    """A line's ribs: the shift of the new panel that brings them nearest, what each is off by after it, and whether they meet."""

    name: str
    shift_mm: float
    off_mm: list[float]
    meet: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class PressedTold:
    """Everything asked: the recess, what each bead takes and all of them, beads in order, ribs line by line, the best line first, words."""

    recess: RecessTold | None
    bead_takes_mm: float
    beads_take_mm: float
    beads: list[BeadTold]
    ribs: list[RibsTold]
    words: str


def bead_and_recess(request: PressedRequest) -> PressedTold:
    """What pressing asks of the sheet.

    A wall is two arcs with a straight between; its sheet is longer than its run, and that much draws in, or is stretched where nothing can. At a
    rounded corner the sheet comes from a ring of the same area, which must be shrunk. A round bead takes its arc less its width.

    Args: request: see PressedRequest.
    Raises: BadField: nothing asked, a recess whose walls meet, beads that overlap or are higher than half round.
    Source: lengths of arcs; equal areas of a drawn cup; docs/methods.md section 4.
    """
    if request.recess is None and request.beads is None and not request.ribs:
        raise BadField("Give a recess, a row of beads, or ribs.", "recess")
    t = request.thickness_mm
    recess = _recess(request.recess, t) if request.recess else None
    takes, beads = _beads(request.beads) if request.beads else (0.0, [])
    ribs = sorted((_ribs(line) for line in request.ribs), key=lambda told: max(map(abs, told.off_mm)))
    whole = takes * len(beads)
    return PressedTold(
        recess=recess, bead_takes_mm=round(takes, 3), beads_take_mm=round(whole, 2), beads=beads, ribs=ribs, words=_words(recess, takes, beads, ribs),
    )  # fmt: skip


def _wall(recess: Recess, t: float) -> tuple[float, float, float]:
    """Run, length of sheet (its middle) and angle of a wall; radii too big for the depth make it less steep."""
    middle = recess.bottom_mm + recess.top_mm + t
    angle = math.radians(recess.wall_deg)
    straight = (recess.depth_mm - middle * (1 - math.cos(angle))) / math.sin(angle)
    if straight < 0:
        angle, straight = math.acos(1 - recess.depth_mm / middle), 0.0
    return middle * math.sin(angle) + straight * math.cos(angle), middle * angle + straight, angle


def _recess(recess: Recess, t: float) -> RecessTold:
    run, wall, angle = _wall(recess, t)
    short = min(recess.length_mm, recess.width_mm)
    if 2 * run >= short - 2 * t:
        raise BadField(
            Said("The walls meet: each takes {run} of {short}.", run=Mm(run, 1), short=Mm(short, 1)),
            "recess.depth_mm",
            "Make it shallower, steeper or wider.",
        )
    if recess.corner_mm > short / 2 + 1e-9:
        raise BadField(
            "The corners' radius is more than half the recess.",
            "recess.corner_mm",
            "Make it smaller; half is a round end.",
        )
    draw = wall - run
    strain = 2 * draw / short if not recess.draws_in else 0.0
    ratio = math.sqrt(1 + 2 * recess.depth_mm / recess.corner_mm)
    gap = t * (1 + CLEARANCE)
    male = (
        recess.length_mm - 2 * run,
        recess.width_mm - 2 * run,
        max(recess.corner_mm - run, recess.bottom_mm),
    )
    female = (
        recess.length_mm + 2 * gap * math.sin(angle),
        recess.width_mm + 2 * gap * math.sin(angle),
        recess.corner_mm + gap,
    )
    outside = (
        round(female[0] + 2 * RING_MM, 1),
        round(female[1] + 2 * RING_MM, 1),
        round(female[2] + RING_MM, 1),
    )
    ring = female[0] + 2 * recess.top_mm, female[1] + 2 * recess.top_mm, female[2] + recess.top_mm
    formers = [
        _former("male", _rounded(*male)),
        _former("female", outside, _rounded(*female)),
        _former("holding ring", outside, _rounded(*ring)),
    ]
    return RecessTold(
        run_mm=round(run, 2), wall_mm=round(wall, 2), draw_in_mm=round(draw, 2), wall_deg=round(math.degrees(angle), 1), strain=round(strain, 4),
        draw_ratio=round(ratio, 3), formers=formers, remarks=_remarks(recess, t, angle, strain, ratio),
    )  # fmt: skip


def _former(
    name: str, size: tuple[float, float, float], hole: tuple[float, float, float] | None = None
) -> Former:
    return Former(name=name, length_mm=size[0], width_mm=size[1], corner_mm=size[2], hole_mm=hole)


def _rounded(length: float, width: float, corner: float) -> tuple[float, float, float]:
    return round(length, 1), round(width, 1), round(corner, 1)


def _remarks(recess: Recess, t: float, angle: float, strain: float, ratio: float) -> list[Remark]:
    """PRESS-01 a radius too sharp, PRESS-02 walls less steep than asked, PRESS-03 a sheet that tears, PRESS-04 a corner that wrinkles or tears."""
    told = []
    least = LEAST_SHEETS * t
    sharp = min(recess.bottom_mm, recess.top_mm)
    if sharp < least:
        told.append(
            _remark(
                "PRESS-01",
                Said(
                    "An inside radius of {sharp} cuts the sheet; {least} (3 t) are wanted.",
                    sharp=Mm(sharp, 1),
                    least=Mm(least, 1),
                ),
                "Round the former more.",
            )
        )
    if math.degrees(angle) < recess.wall_deg - 0.1:
        words = Said(
            "With these radii the walls stand at {angle:.0f}°, not {asked:g}°.",
            angle=math.degrees(angle),
            asked=recess.wall_deg,
        )
        told.append(_remark("PRESS-02", words, "Make it deeper, or the radii smaller."))
    if strain > STRETCH:
        words = Said(
            "Held all round it is stretched by {strain:.0f} %; {limit:.0f} % tear it.",
            strain=100 * strain,
            limit=100 * STRETCH,
        )
        told.append(
            _remark(
                "PRESS-03",
                words,
                "Let the sheet draw in, make it shallower, or press it in steps with the sheet annealed.",
            )
        )
    if ratio > DRAW_BY_HAND:
        depth = recess.corner_mm * (DRAW_BY_HAND**2 - 1) / 2
        words = Said(
            "At its corners the sheet is drawn {ratio:.2f} to 1; beyond {limit:g} it wrinkles or tears by hand.",
            ratio=ratio,
            limit=DRAW_BY_HAND,
        )
        told.append(
            _remark(
                "PRESS-04",
                words,
                Said(
                    "Not deeper than {depth} with these corners, a bigger radius, or corners cut and welded.",
                    depth=Mm(depth, 1),
                ),
            )
        )
    return told


def _remark(code: str, what: str, mend: str) -> Remark:
    return Remark(code=code, where="recess", what=what, mend=mend, at=None)


def bead_length_mm(width_mm: float, height_mm: float) -> float:
    """The arc of a round bead.

    >>> round(bead_length_mm(20, 10), 3), round(bead_length_mm(20, 1), 3)
    (31.416, 20.133)
    """
    radius = (width_mm**2 / 4 + height_mm**2) / (2 * height_mm)
    return 2 * radius * math.asin(min(1.0, width_mm / (2 * radius)))


def _beads(beads: Beads) -> tuple[float, list[BeadTold]]:
    """What a bead takes, and the beads from the middle outwards."""
    if beads.height_mm > beads.width_mm / 2 + 1e-9:
        raise BadField(
            Said(
                "A bead {height} high and {width} wide is more than half round.",
                height=Mm(beads.height_mm),
                width=Mm(beads.width_mm),
            ),
            "beads.height_mm",
            "Make it lower or wider.",
        )
    if beads.count > 1 and beads.pitch_mm < beads.width_mm:
        raise BadField(
            Said(
                "Beads {width} wide overlap at a pitch of {pitch}.",
                width=Mm(beads.width_mm),
                pitch=Mm(beads.pitch_mm),
            ),
            "beads.pitch_mm",
            "Set them farther apart.",
        )
    takes = bead_length_mm(beads.width_mm, beads.height_mm) - beads.width_mm
    middle = (beads.count - 1) / 2
    row = [
        BeadTold(
            number=k + 1,
            finished_mm=round((k - middle) * beads.pitch_mm, 2),
            flat_mm=round((k - middle) * (beads.pitch_mm + takes), 2),
        )
        for k in range(beads.count)
    ]
    return takes, sorted(row, key=lambda bead: (abs(bead.finished_mm), bead.finished_mm))


def _ribs(line: RibLine) -> RibsTold:
    """The shift of the new panel that brings its ribs nearest to the old ones, by the middle of what they are off by. Raises: BadField for other numbers."""
    if len(line.old_mm) != len(line.new_mm):
        raise BadField(
            Said("On {name} the old panel has {old} ribs, the new one {new}.", name=line.name, old=len(line.old_mm), new=len(line.new_mm)), "ribs",
            "Look again; leave out ribs that end before this line.",
        )  # fmt: skip
    off = np.sort(line.new_mm) - np.sort(line.old_mm)
    shift = -(float(off.max()) + float(off.min())) / 2  # the least greatest miss
    left = off + shift
    return RibsTold(
        name=line.name,
        shift_mm=round(shift, 2),
        off_mm=[round(float(each), 2) for each in left],
        meet=bool(np.abs(left).max() <= MEET_MM),
    )


def _words(
    recess: RecessTold | None, takes: float, beads: Sequence[BeadTold], ribs: Sequence[RibsTold]
) -> str:
    told = []
    if recess:
        told.append(
            Said(
                "The recess draws in {draw} at each edge: add that to the blank.",
                draw=Mm(recess.draw_in_mm, 1),
            )
        )
    if beads:
        told.append(
            Said(
                "Each bead takes {takes}, all {whole}: from the middle outwards.",
                takes=Mm(takes, 2),
                whole=Mm(takes * len(beads), 1),
            )
        )
    if ribs:
        worst = max(map(abs, ribs[0].off_mm))
        told.append(
            Said(
                "Ribs meet best on {name}: off by {worst} at most after moving the panel by {shift}.",
                name=ribs[0].name,
                worst=Mm(worst, 1),
                shift=Mm(ribs[0].shift_mm, 1),
            )
        )
    return joined(told)
