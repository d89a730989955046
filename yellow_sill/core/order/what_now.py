"""What can be done now: with these minutes, these hands, this warmth, with or without sparks."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from ..errors import BadField
from ..records import OneOf, Record
from ..said import Count, Listed, Quoted, Said
from .asked import MOST_STEPS, POSITIONS, Key


class OpenStep(Record):
    """A step that is not done, in the order of the plan.

    Attributes:
        waits: names of what must be done before it and is not; ready: when what it waits for has cured or is there (None: now); touches: it is done at the
        shell; least_c: it wants so much warmth, °C (None: any).
    """

    key: Key
    name: Annotated[str, Field(min_length=1, max_length=120)]
    minutes: Annotated[int, Field(ge=1, le=6000)]
    pauses: bool = False
    hands: Literal[1, 2] = 1
    sparks: bool = False
    touches: bool = True
    position: Annotated[str, OneOf(POSITIONS)] = ""
    least_c: Annotated[float, Field(ge=-40, le=60)] | None = None
    waits: Annotated[list[Annotated[str, Field(min_length=1, max_length=120)]], Field(max_length=40)] = []
    ready: datetime | None = None


class NowRequest(Record):
    """The steps, the time, and what there is: minutes, hands, whether sparks may fly, the warmth (None: nobody knows), the shell's position, hands off it."""

    steps: Annotated[list[OpenStep], Field(max_length=MOST_STEPS)]
    now: datetime
    minutes: Annotated[int, Field(ge=1, le=1440)]
    hands: Literal[1, 2] = 1
    sparks: bool = True
    at_c: Annotated[float, Field(ge=-60, le=80)] | None = None
    position: Annotated[str, OneOf(POSITIONS)] = ""
    off_the_shell: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Now:
    """What can be done, in the order of the plan; why not what cannot, by key."""

    can: list[str]
    why_not: dict[str, Said]
    words: Said


def what_now(request: NowRequest) -> Now:
    """Which open steps fit what there is now.

    Args: request: see NowRequest. A step that may pause fits any time; what is not known (the warmth) never counts as fitting.
    Raises: BadField: a time with a zone beside one without.
    """
    can: list[str] = []
    why_not: dict[str, Said] = {}
    for n, step in enumerate(request.steps):
        if step.ready and (step.ready.tzinfo is None) != (request.now.tzinfo is None):
            raise BadField("One time has a zone and another has none.", f"steps[{n}].ready", "Give all of them the same way.")  # fmt: skip
        reasons = _against(step, request)
        if reasons:
            why_not[step.key] = Said("{reasons}", reasons=Listed(tuple(reasons)))
        else:
            can.append(step.key)
    return Now(can=can, why_not=why_not, words=_words(request, can))


def _against(step: OpenStep, request: NowRequest) -> list[Said]:
    """All that speaks against a step now."""
    found: list[Said] = []
    if step.waits:
        found.append(
            Said("it waits for {waits}", waits=Listed(tuple(Quoted(each) for each in step.waits[:3])))
        )
    if step.ready and step.ready > request.now:
        found.append(Said("not before {at}", at=f"{step.ready:%H:%M, %d.%m.%Y}"))
    if step.minutes > request.minutes and not step.pauses:
        found.append(Said("it takes {minutes} min", minutes=step.minutes))
    if step.hands > request.hands:
        found.append(Said("it takes two people"))
    if step.sparks and not request.sparks:
        found.append(Said("it makes sparks"))
    if step.touches and request.off_the_shell:
        found.append(Said("it is done at the shell"))
    if step.position and request.position and step.position != request.position:
        found.append(Said("the shell must stand {position}", position=POSITIONS[step.position]))
    if step.least_c is not None:
        if request.at_c is None:
            found.append(Said("it wants {least:g} °C, and nobody knows how warm it is", least=step.least_c))
        elif request.at_c < step.least_c:
            found.append(Said("it wants {least:g} °C", least=step.least_c))
    return found


def _words(request: NowRequest, can: Sequence[str]) -> Said:
    names = {step.key: step.name for step in request.steps}
    if not can:
        return Said("Nothing fits {minutes} min as it is.", minutes=request.minutes)
    return Said(
        "What fits: {count}, {first} first.",
        count=Count(len(can), "step", "steps"),
        first=Quoted(names[can[0]]),
    )
