"""How far a seam is: tacks made, missed and blown through, which is next, and how long to wait for it as things really went."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ..cut.asked import Thickness
from ..days import require_one_zone
from ..errors import BadField
from ..records import Corners, Point, Record
from ..said import Count, Said, joined
from .heat import Plate, plate_c
from .island import IslandRequest, field_after

#: An event belongs to the tack within this of its place, mm: a plan may have been worked out anew since.
SAME_MM = 3.0
#: A wait is told to this, s; longer than this nobody waits.
STEP_S, LONGEST_S = 0.5, 900.0
#: What can become of a tack, and what puts it right.
HOW = ("done", "missed", "blown", "again")
MOST_TACKS, MOST_EVENTS = 4000, 12_000


class TackEvent(Record):
    """What became of a tack: where it was, what, and when. ``again``: one that was missed or blown through is put right."""

    at: Point
    what: Literal["done", "missed", "blown", "again"]
    when: datetime


class ProgressRequest(Record):
    """A seam's tacks in the order of the plan, the plate, what was done so far in order, and what time it is.

    ``patch``, ``panel``, ``holes``, ``backing``: as for ``island_heat``; without a patch the plate is endless.
    """

    tacks: Annotated[list[Point], Field(min_length=1, max_length=MOST_TACKS)]
    thickness_mm: Thickness
    energy_j: Annotated[float, Field(gt=0, le=20_000)]
    cooling: Literal["still", "blown"] = "still"
    ambient_c: Annotated[float, Field(ge=-40, le=60)] = 20.0
    limit_c: Annotated[float, Field(gt=0, le=400)] = 90.0
    events: Annotated[list[TackEvent], Field(max_length=MOST_EVENTS)] = []
    now: datetime
    patch: Corners | None = None
    panel: Corners | None = None
    holes: Annotated[list[Corners], Field(max_length=60)] = []
    backing: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Again:
    """A tack that must be put right: its number, and what went wrong (missed, blown)."""

    tack: int
    what: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Progress:
    """How far a seam is.

    Attributes:
        made: numbers of the tacks that hold; again: those to be put right; reached: how many at the beginning of the order are behind;
            next: its number, or None.
        wait_s: until the plate at the next one is below the limit, from now; plate_c: what it has there now; None without a next one.
        elsewhere: events that belong to no tack of this plan; closed: every tack holds.
    """

    made: list[int]
    again: list[Again]
    reached: int
    next: int | None
    wait_s: float | None
    plate_c: float | None
    elsewhere: int
    closed: bool
    words: Said


def progress(request: ProgressRequest) -> Progress:
    """Where the work stands after what was done, and how long to wait.

    Args: request: see ProgressRequest.
    Raises: BadField: times with and without a zone, an event from the future (a clock set back), a tack put right that was not wrong.
    Source: the plate's heat as in ``tacks`` from the real times; docs/methods.md section 5.
    """
    places = np.array(request.tacks, float)
    state, wrong, elsewhere = _gone_through(request, places)
    again = [Again(tack=n + 1, what=what) for n, what in sorted(wrong.items())]
    made = sorted(n + 1 for n in state if n not in wrong)
    order = range(len(places))
    following = next((n for n in order if n not in state), None)
    reached = following if following is not None else len(places)
    wait = warmth = None
    aim = following if following is not None else (again[0].tack - 1 if again else None)
    if aim is not None:
        wait, warmth = _wait(request, places[aim])
    closed = following is None and not again
    return Progress(
        made=made,
        again=again,
        reached=reached,
        next=None if following is None else following + 1,
        wait_s=wait,
        plate_c=warmth,
        elsewhere=elsewhere,
        closed=closed,
        words=_words(len(places), made, again, elsewhere, closed),
    )


def _gone_through(request: ProgressRequest, places: np.ndarray) -> tuple[set[int], dict[int, str], int]:
    """Tacks that were tried, those that are wrong by now, and how many events belong to none. Raises: BadField."""
    tried: set[int] = set()
    wrong: dict[int, str] = {}
    elsewhere = 0
    for number, event in enumerate(request.events):
        where = f"events[{number}]"
        require_one_zone([(f"{where}.when", event.when)], request.now)
        if event.when > request.now:
            raise BadField(
                "It was done after now: a clock was set back.", f"{where}.when", "Check the clock."
            )
        off = np.hypot(*(places - np.array(event.at)).T)
        tack = int(off.argmin())
        if off[tack] > SAME_MM:
            elsewhere += 1
            continue
        if event.what == "again":
            if tack not in wrong:
                raise BadField(
                    Said("Tack {n} was not wrong.", n=tack + 1), where, "Say first what went wrong."
                )
            del wrong[tack]
            continue
        tried.add(tack)
        if event.what == "done":
            wrong.pop(tack, None)
        else:
            wrong[tack] = event.what
    return tried, wrong, elsewhere


def _wait(request: ProgressRequest, at: np.ndarray) -> tuple[float, float]:
    """How long until the plate at a place is below the limit, s, and what it has there now, °C."""
    plate = Plate(
        thickness_mm=request.thickness_mm, energy_j=request.energy_j, cooling=request.cooling, ambient_c=request.ambient_c
    )  # fmt: skip
    hot = [event for event in request.events if event.what != "missed"]
    if not hot:
        return 0.0, request.ambient_c
    if request.patch is not None:
        return _wait_in_patch(request, request.patch, hot, at)
    made = np.array([event.at for event in hot], float)
    ages = np.array([(request.now - event.when).total_seconds() for event in hot])

    def there(later: float) -> float:
        return float(plate_c(plate, at[None, :], made, -ages, later + 1e-3)[0])

    now = there(0.0)
    if now <= request.limit_c:
        return 0.0, round(now, 1)
    if request.ambient_c >= request.limit_c or there(LONGEST_S) > request.limit_c:
        return LONGEST_S, round(now, 1)
    low, high = 0.0, LONGEST_S
    while high - low > STEP_S / 2:
        middle = (low + high) / 2
        low, high = (middle, high) if there(middle) > request.limit_c else (low, middle)
    return round(high / STEP_S + 0.5) * STEP_S, round(now, 1)


def _wait_in_patch(
    request: ProgressRequest, outline: Corners, hot: Sequence[TackEvent], at: np.ndarray
) -> tuple[float, float]:  # fmt: skip
    """The same with the gap, edges and holes as barriers; what was made long ago has cooled. Raises: BadOutline."""
    young = [each for each in hot if (request.now - each.when).total_seconds() <= COLD_S]
    first = young[0].when if young else request.now
    starts = [(each.when - first).total_seconds() for each in young]
    values: dict[str, Any] = {
        "patch": outline, "panel": request.panel, "holes": request.holes, "thickness_mm": request.thickness_mm, "energy_j": request.energy_j,
        "cooling": request.cooling, "backing": request.backing, "ambient_c": request.ambient_c, "limit_c": request.limit_c,
        "tacks": [{"at": each.at, "start_s": max(0.0, start)} for each, start in zip(young, starts, strict=True)] or [{"at": hot[-1].at, "start_s": 0.0}],
    }  # fmt: skip
    if not young:
        return 0.0, request.ambient_c
    place = (float(at[0]), float(at[1]))
    bridged = [each.at for each in hot if each not in young]
    field = field_after(
        IslandRequest.read(values), max(0.0, (request.now - first).total_seconds() - starts[-1]), bridged
    )
    now = field.at(place)
    if now <= request.limit_c:
        return 0.0, round(now, 1)
    if request.ambient_c >= request.limit_c:
        return LONGEST_S, round(now, 1)
    return min(field.wait(place, request.limit_c), LONGEST_S), round(now, 1)


#: A tack has cooled after this, s; its heat is not followed any more.
COLD_S = 1800.0
#: Between two tacks that were made one after the other nobody takes longer, s: the rest was a pause.
PAUSE_S = 60.0


def pace_s(when: Sequence[datetime]) -> float | None:
    """How long this person takes from one tack to the next, s: the middle of what was taken without a pause; None from fewer than five.

    >>> from datetime import timedelta
    >>> start = datetime(2026, 5, 2, 10)
    >>> pace_s([start + timedelta(seconds=each) for each in (0, 9, 18, 30, 39, 400, 409)])
    9.0
    """
    times = sorted(when)
    gaps = sorted((b - a).total_seconds() for a, b in zip(times, times[1:], strict=False))
    usual = [gap for gap in gaps if 0 < gap <= PAUSE_S]
    return round(float(np.median(usual)), 1) if len(usual) >= 5 else None


def _words(count: int, made: Sequence[int], again: Sequence[Again], elsewhere: int, closed: bool) -> Said:
    if closed:
        return Said(
            "The seam is closed: {count} hold. Look for pinholes with a lamp behind it.",
            count=Count(count, "tack", "tacks"),
        )
    parts: list[str] = [Said("{made} of {count} hold.", made=len(made), count=Count(count, "tack", "tacks"))]
    if again:
        parts.append(Said("{count} to be put right.", count=Count(len(again), "tack is", "tacks are")))
    if elsewhere:
        parts.append(
            Said("{count} made before lie on no tack of this plan.", count=Count(elsewhere, "tack", "tacks"))
        )
    return joined(parts)
