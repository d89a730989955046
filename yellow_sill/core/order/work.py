"""What the steps of the work are made from: repairs with their sheets, what they wait for, the pace, what a person changed; and a step itself."""

import math
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta
from typing import Annotated, Literal

from pydantic import Field

from ..errors import BadField
from ..parts.forecast import FIFTH
from ..records import OneOf, Record
from ..repairs.hours import KINDS
from ..repairs.ribbon import STATES
from ..repairs.sheets import SHEET_STATES
from ..said import Said
from ..weld.cautions import FIRE_WATCH_MIN
from .asked import MOST_STEPS, POSITIONS, Hours, Key, Minutes, Step

#: Rules of thumb, min, where nothing was worked out; docs/methods.md section 6.
THUMB_MIN = {"cut": 45, "make": 90, "fit": 45, "weld": 60, "dress": 45, "protect": 40}
#: Minutes of what is no sheet's own: opening up, marks, a measuring round, a brace, a look, a lamp, a bare edge, sealer, wax, the last look.
OPEN_MIN, MARK_MIN, ROUND_MIN, BRACE_MIN, LOOK_MIN, LAMP_MIN, TREAT_MIN, SEAL_MIN, WAX_MIN, SIGN_MIN = 45, 25, 30, 60, 10, 10, 20, 25, 30, 15  # fmt: skip
#: And of saving fittings, painting inside a box, the check before it closes, looking over what came, a call that orders or books, a way there or back.
SAVE_MIN, INSIDE_MIN, CLOSING_MIN, CAME_MIN, BOOK_MIN, AWAY_MIN = 20, 30, 15, 15, 15, 60
#: The share of the weld minutes that goes into the tacks; a run of welding or dressing is split into parts no longer than this, min.
TACKS, PART_MIN = 0.2, 45
#: How far minutes spread (log) before anything is logged, shrunk by the jobs behind a kind: as much as so many jobs.
SPREAD, SPREAD_JOBS = 0.45, 3.0
MOST_MIN = 6000
#: So many steps an order of removal has at most.
MOST_REMOVAL = 60
#: How many areas may be open, how long metal may be bare, h, and until when sparks may fly, before somebody says why it is more.
OPEN_AREAS, LONGEST_BARE_H, LATEST_SPARK = 3, 336.0, time(20)
_Name = Annotated[str, Field(min_length=1, max_length=120)]


class Coming(Record):
    """Something a repair waits for.

    Attributes:
        name, number: what, by its number (0: none); there, there_late: when it is there, as likely as not and once in five (None: nobody knows);
        ordered: it is ordered, or booked and with them; here: it has come and nobody has looked at it;
        outside: somebody else's work, to be brought there and fetched; away_h: so long they keep it, h (None: nobody knows).
    """

    name: _Name
    number: Annotated[int, Field(ge=0, le=100_000)] = 0
    there: datetime | None = None
    there_late: datetime | None = None
    ordered: bool = True
    here: bool = False
    outside: bool = False
    away_h: Hours | None = None


class SheetWork(Record):
    """A sheet of a repair: see ``SheetIs``; what it is called where that is not its name; minutes by kind of work that were worked out (a kind that is
    lacking is reckoned by rule of thumb); closes: once it is on, nobody reaches the inside of a box any more."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    called: Annotated[str, Field(max_length=120)] = ""
    state: Annotated[str, OneOf(SHEET_STATES)]
    behind: Annotated[list[str], Field(max_length=20)] = []
    closes: bool = False
    minutes: dict[Annotated[str, OneOf(KINDS)], Annotated[float, Field(ge=0, le=MOST_MIN)]] = {}


class RepairWork(Record):
    """A repair.

    Attributes:
        number (0: none, for parts that no repair has), state, sheets; waits: what it waits for; loose: its cut leaves the shell loose until a
        brace is in; position: how the shell must stand for what is done at it;
        grows, grows_late: how many times as large the bad metal will be once it is opened, as likely as not and exceeded once in five (1: it is known).
    """

    number: Annotated[int, Field(ge=0, le=100_000)]
    state: Annotated[str, OneOf(STATES)]
    sheets: Annotated[list[SheetWork], Field(max_length=40)] = []
    waits: Annotated[list[Coming], Field(max_length=40)] = []
    loose: bool = False
    position: Annotated[str, OneOf(POSITIONS)] = ""
    grows: Annotated[float, Field(ge=1, le=100)] = 1.0
    grows_late: Annotated[float, Field(ge=1, le=100)] = 1.0


class SheetAt(Record):
    """A sheet of a repair, by its number and its name."""

    repair: Annotated[int, Field(ge=1, le=100_000)]
    sheet: Annotated[str, Field(min_length=1, max_length=60)]


class RemovalStep(Record):
    """A step of the accepted order of removal.

    Attributes:
        action: as ``removal_order`` writes it, - (out) or + (new in) before the part; called: the part in words; done: it is done;
        sheets: the sheets of repairs that are on this part; loose: the shell is loose after it, until a brace is in.
    """

    action: Annotated[str, Field(pattern=r"^[-+].{1,60}$")]
    called: Annotated[str, Field(min_length=1, max_length=120)]
    done: bool = False
    sheets: Annotated[list[SheetAt], Field(max_length=60)] = []
    loose: bool = False

    @property
    def part(self) -> str:
        return self.action[1:]

    @property
    def out(self) -> bool:
        return self.action[0] == "-"


class Pace(Record):
    """What the log says of a kind of work: what rule-of-thumb minutes are multiplied by, and how many jobs stand behind it."""

    factor: Annotated[float, Field(gt=0, le=20)] = 1.0
    jobs: Annotated[int, Field(ge=0, le=10_000)] = 0


class Untied(Record):
    """A tie of the trade that a person took off, and why."""

    key: Key
    why: Annotated[str, Field(max_length=300)] = ""


class Changed(Record):
    """What a person says of a step: of a made one by its key what differs, of an own one all of it. None: as it was made.

    Attributes:
        own: it is a step of their own; panel: where it is, by a panel's code; after: keys it waits for besides; untied: see ``Untied``;
        parts: it is split into so many; done: it is done;
        holds, holds_until: which steps wait until when for what was put on in it to cure.
    """

    key: Key
    own: bool = False
    name: Annotated[str, Field(max_length=120)] | None = None
    repair: Annotated[int, Field(ge=0, le=100_000)] = 0
    panel: Annotated[str, Field(max_length=20)] | None = None
    kind: Annotated[str, OneOf(KINDS)] | None = None
    minutes: Minutes | None = None
    late_minutes: Minutes | None = None
    hands: Literal[1, 2] | None = None
    sparks: bool | None = None
    position: Annotated[str, OneOf(POSITIONS)] | None = None
    pauses: bool | None = None
    cure_h: Hours | None = None
    not_before: datetime | None = None
    after: Annotated[list[Key], Field(max_length=40)] = []
    untied: Annotated[list[Untied], Field(max_length=40)] = []
    parts: Annotated[int, Field(ge=1, le=12)] = 1
    done: bool = False
    holds: Annotated[list[Key], Field(max_length=40)] = []
    holds_until: datetime | None = None


class StepsRequest(Record):
    """All repairs, the pace of each kind, what a person changed.

    Attributes:
        outside: others' work that is no repair's; removal: the accepted order of removal; spent: minutes that were worked on steps already, by key;
        cure_h: hours by what was put on (treat, prime, seal); longest_bare_h: of bare metal.
    """

    repairs: Annotated[list[RepairWork], Field(max_length=300)] = []
    outside: Annotated[list[Coming], Field(max_length=300)] = []
    removal: Annotated[list[RemovalStep], Field(max_length=MOST_REMOVAL)] = []
    pace: dict[Annotated[str, OneOf(KINDS)], Pace] = {}
    changed: Annotated[list[Changed], Field(max_length=MOST_STEPS)] = []
    spent: dict[Key, Annotated[int, Field(ge=0, le=100_000)]] = {}
    cure_h: dict[Annotated[str, OneOf(("treat", "prime", "seal"))], Hours] = {}
    longest_bare_h: Annotated[float, Field(ge=1, le=2000)] = LONGEST_BARE_H


#: A step that has taken all its minutes and is not done is taken to want so many more, min.
LEAST_LEFT_MIN = 10
#: Cures, h, where no product says otherwise.
CURE_H = {"treat": 24.0, "prime": 16.0, "seal": 12.0}


@dataclass(slots=True, kw_only=True)
class MadeStep:
    """A step: as ``Step``, with its sheet, its panel where it is no repair's, its kind, minutes exceeded once in five, whether they are a guess,
    what it brings its sheet or repair to, whether its repair is not open by it (``apart``),
    what it waits for from elsewhere and whether nobody knows when that comes (``never``)."""

    key: str
    name: str
    repair: int
    kind: str
    minutes: int
    late_minutes: int
    sheet: str = ""
    panel: str = ""
    to: str = ""
    guess: bool = False
    own: bool = False
    hands: int = 1
    sparks: bool = False
    position: str = ""
    touches: bool = True
    apart: bool = False
    after: list[str] = field(default_factory=list)
    trade: list[str] = field(default_factory=list)
    cure_h: float = 0.0
    within_h: dict[str, float] = field(default_factory=dict)
    pauses: bool = False
    until: str = ""
    not_before: datetime | None = None
    there_late: datetime | None = None
    waits: str = ""
    never: bool = False

    @property
    def said(self) -> str:
        """Its name with the number of its repair."""
        return f"R-{self.repair:02d} {self.name}"[:120] if self.repair else self.name

    def plain(self) -> Step:
        """The step as a plan asks for it."""
        return Step(
            key=self.key, name=self.said, repair=self.repair, minutes=self.minutes, hands=2 if self.hands == 2 else 1, sparks=self.sparks,
            position=self.position, after=self.after, cure_h=self.cure_h, within_h=self.within_h, pauses=self.pauses, until=self.until,
            not_before=self.not_before, apart=self.apart,
        )  # fmt: skip


def late_of(minutes: float, pace: Pace | None) -> int:
    """Minutes exceeded once in five."""
    spread = SPREAD / math.sqrt(1 + (pace.jobs if pace else 0) / SPREAD_JOBS)
    return min(MOST_MIN, math.ceil(minutes * math.exp(FIFTH * spread)))


def comes(
    state: str, since: date, days: int | None, late_days: int | None, today: date
) -> tuple[date | None, date | None, bool]:
    """When a need is there: likely, once in five, and whether it is ordered; None and None where nobody knows.

    Args: state: of the need; since: the day of it; days, late_days: of the quote that was taken, or of the shortest.
    Source: what was ordered counts from its order, anything else as if it were ordered today; docs/methods.md section 6.
    """
    if state == "arrived":
        return today, today, True
    if days is None:
        return None, None, state == "ordered"
    begins = since if state == "ordered" else today
    likely = max(today, begins + timedelta(days=days))
    late = max(likely, begins + timedelta(days=late_days if late_days is not None else 2 * days))
    return likely, late, state == "ordered"


def require_limits(open_areas: int, longest_bare_h: float, latest_spark: time, why: str) -> None:
    """Raises: BadField: a limit above the rule without a reason."""
    above = open_areas > OPEN_AREAS or longest_bare_h > LONGEST_BARE_H or latest_spark > LATEST_SPARK
    if above and not why.strip():
        raise BadField(
            Said("More than {areas} open areas, metal bare for more than {days} days, or sparks after {spark} wants a reason.", areas=OPEN_AREAS,
                 days=round(LONGEST_BARE_H / 24), spark=f"{LATEST_SPARK:%H:%M}"),
            "why", "Write why; the record keeps it.",
        )  # fmt: skip


def watch_of(begins: datetime, ends: datetime, latest_spark: time) -> int:
    """How long before its end no sparks fly any more in a slot, min: the fire watch, or longer where it goes on after the latest spark."""
    late = (ends - max(begins, datetime.combine(ends.date(), latest_spark))).total_seconds() / 60
    return max(FIRE_WATCH_MIN, math.ceil(late))
