"""What is looked at after welding: pinholes against a lamp, the back, what the grinder left, the datum."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from ..cut.asked import Thickness
from ..records import Point, Record
from ..said import Count, Mm, Said, joined

#: Of the sheet so much must be left after grinding, as a share (rule of thumb).
LEAST_SHARE = 0.8
#: A pinhole that is found again within this of one that was done counts as the same, mm.
SAME_MM = 4.0
MOST = 2000


class Pinhole(Record):
    """A place where light came through; ``again``: whether it was welded again and the lamp held behind it once more."""

    at: Point
    again: bool = False


class DressedReading(Record):
    """A thickness on the dressed weld, by the gauge."""

    at: Point
    thickness_mm: Annotated[float, Field(gt=0, le=20)]


class WeldChecksRequest(Record):
    """A welded sheet: lamp held behind it or not (None: nobody has said), pinholes, whether the back was seen, readings, whether its datum check passed."""

    thickness_mm: Thickness
    lamp: bool | None = None
    pinholes: Annotated[list[Pinhole], Field(max_length=MOST)] = []
    back_seen: bool | None = None
    readings: Annotated[list[DressedReading], Field(max_length=MOST)] = []
    datum: bool | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Checked:
    """One line: whether it is well (None: not known), how it stands, what to do."""

    key: str
    what: str
    ready: bool | None
    words: Said | str
    mend: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WeldChecks:
    """The lines; ``thin``: numbers of the readings that are below the limit; ``limit_mm``."""

    lines: list[Checked]
    thin: list[int]
    limit_mm: float
    ready: bool
    words: Said


def weld_checks(request: WeldChecksRequest) -> WeldChecks:
    """How a welded sheet stands; nothing is well that nobody looked at.

    Args: request: see WeldChecksRequest.
    Raises: nothing of its own.
    Source: rules of thumb, docs/methods.md section 5.
    """
    limit = round(LEAST_SHARE * request.thickness_mm, 3)
    thin = [
        number for number, each in enumerate(request.readings, start=1) if each.thickness_mm < limit - 1e-9
    ]
    lines = [_lamp(request), _back(request), _dressed(request, thin, limit), _datum(request)]
    open_, unknown = (sum(line.ready is state for line in lines) for state in (False, None))
    parts: list[str] = [Said("{count} open", count=open_)] if open_ else []
    parts += [Said("{count} not known", count=unknown)] if unknown else []
    words = (
        Said("Not done: {parts}.", parts=joined(parts, ", "))
        if parts
        else Said("The weld is looked through.")
    )
    return WeldChecks(lines=lines, thin=thin, limit_mm=limit, ready=not parts, words=words)


def _lamp(request: WeldChecksRequest) -> Checked:
    open_ = sum(not each.again for each in request.pinholes)
    mend = "Hold a lamp behind it in the dark; mark every point of light and weld it again."
    if open_:
        words = Said(
            "{count} still open of {all}.",
            count=Count(open_, "pinhole", "pinholes"),
            all=len(request.pinholes),
        )
        return Checked(key="lamp", what="Lamp test", ready=False, words=words, mend=mend)
    if request.lamp is not True:
        unseen = "No light was held behind it yet." if request.lamp is None else "Light still comes through."
        return Checked(key="lamp", what="Lamp test", ready=request.lamp, words=unseen, mend=mend)
    words = Said("No light; {count} welded again.", count=Count(len(request.pinholes), "pinhole", "pinholes"))
    return Checked(key="lamp", what="Lamp test", ready=True, words=words, mend="")


def _back(request: WeldChecksRequest) -> Checked:
    told = {
        True: ("Seen: the bead is through.", ""),
        False: ("Seen, and not through all along.", "Weld the cold stretches again."),
        None: ("Nobody has seen the back.", "Mirror or camera through the nearest hole."),
    }[request.back_seen]
    return Checked(key="back", what="Back side", ready=request.back_seen, words=told[0], mend=told[1])


def _dressed(request: WeldChecksRequest, thin: Sequence[int], limit: float) -> Checked:
    what = "Dressed thickness"
    if not request.readings:
        return Checked(
            key="dressed",
            what=what,
            ready=None,
            words="Nobody has read it.",
            mend="Read it with the gauge every 50 mm along the bead.",
        )
    least = min(each.thickness_mm for each in request.readings)
    if thin:
        words = Said(
            "{least} at the least, {limit} is the limit: {count} below it.",
            least=Mm(least, 2),
            limit=Mm(limit, 2),
            count=Count(len(thin), "reading", "readings"),
        )
        return Checked(
            key="dressed",
            what=what,
            ready=False,
            words=words,
            mend="Too thin: weld it up, or cut it out and fit it again.",
        )
    words = Said(
        "{least} at the least of {count}.",
        least=Mm(least, 2),
        count=Count(len(request.readings), "reading", "readings"),
    )
    return Checked(key="dressed", what=what, ready=True, words=words, mend="")


def _datum(request: WeldChecksRequest) -> Checked:
    told = {
        True: ("In.", ""),
        False: ("Out of tolerance.", "See the round."),
        None: ("No round since it was welded.", "Take a round at stage 'welded'."),
    }[request.datum]
    return Checked(key="datum", what="Datum check", ready=request.datum, words=told[0], mend=told[1])
