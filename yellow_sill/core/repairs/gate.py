"""The gates: what a repair's ribbon asks of the measuring room, and of what holds the shell, before it goes on."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from shapely import Polygon, box, unary_union

from ..said import Day, Listed, Quoted, Said, first_low, joined

#: An outline in a panel's plane: (u, v) of each corner, mm.
Outline = Sequence[Sequence[float]]

#: Before a repair reaches this state, a round of this stage is asked for; source: docs/methods.md section 8.
ASKED = {"made": "cut", "welded": "tacked", "dressed": "welded"}
#: An answer about the far side that begins so says that nothing is there.
NOTHING = ("nothing", "none", "clear", "no ")
#: Who looks behind what is marked has looked this far round it; source: docs/methods.md section 8.
LOOKED_ROUND_MM = 60.0
_WHEN = {"cut": "it was cut out", "tacked": "it was fitted", "welded": "it was welded in"}


@dataclass(frozen=True, slots=True, kw_only=True)
class CheckRound:
    """One measuring round as the gate sees it: points near the repair that are out, each with its way, and those nobody can tell."""

    number: int
    stage: str
    taken_on: date
    out: tuple[str, ...]
    unsure: tuple[str, ...]
    told: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Gate:
    """Whether the gate is open, for which stage (``hold`` before a cut), and why in one line; ``round`` is the number of the round that decides."""

    stage: str
    open: bool
    reason: str
    round: int | None


def datum_gate(to: str, rounds: Sequence[CheckRound], since: date) -> Gate | None:
    """What stands before a step forward.

    Args: to: the state wanted; rounds: of this repair and of the whole shell, oldest first; since: when the state before was reached.
    Returns: the gate; None where this step asks for no check.
    """
    stage = ASKED.get(to)
    if stage is None:
        return None
    fresh = [each for each in rounds if each.stage == stage and each.taken_on >= since and each.told]
    if not fresh:
        return Gate(
            stage=stage,
            open=False,
            reason=Said("No datum check since {when}.", when=_WHEN[stage]),
            round=None,
        )
    last = fresh[-1]
    if last.out:
        some = joined(last.out[:3], "; ") + (
            Said(" and {out} more", out=len(last.out) - 3) if len(last.out) > 3 else ""
        )
        return Gate(
            stage=stage,
            open=False,
            reason=Said("Out of tolerance in round {number}: {some}.", number=last.number, some=some),
            round=last.number,
        )
    if last.unsure:
        told = Said(
            "{unsure} cannot be told yet in round {number}: read a few more.",
            unsure=Listed(tuple(last.unsure[:4])),
            number=last.number,
        )
        return Gate(stage=stage, open=False, reason=told, round=last.number)
    return Gate(
        stage=stage,
        open=True,
        reason=Said("Round {number}: {told} points near it are in.", number=last.number, told=last.told),
        round=last.number,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class LookedBehind:
    """What was answered about a panel's far side: in words, on which day, and where: the whole panel, or boxes (u0, v0, u1, v1) in its plane, mm."""

    answer: str
    looked_on: date
    whole: bool
    boxes: tuple[tuple[float, float, float, float], ...] = ()


def marked_boxes(outlines: Sequence[Outline]) -> list[tuple[float, float, float, float]]:
    """Where one has looked who looked behind what is marked on a panel: the box round each outline and ``LOOKED_ROUND_MM`` more, mm."""
    return [
        (
            min(u) - LOOKED_ROUND_MM,
            min(v) - LOOKED_ROUND_MM,
            max(u) + LOOKED_ROUND_MM,
            max(v) + LOOKED_ROUND_MM,
        )
        for u, v in (zip(*o) for o in outlines)
    ]


def not_behind(behind: LookedBehind | None, cuts: Sequence[Outline], changed_on: date | None) -> str:
    """Why an answer about the far side does not count for these cuts, empty where it does.

    Args: behind: the answer, None where nobody has answered; cuts: outlines in the panel's plane, mm; changed_on: when last something changed there.
    """
    if behind is None or not behind.answer.strip():
        return "not answered yet"
    if changed_on and behind.looked_on < changed_on:
        return Said(
            "something changed there on {changed_on}, after the look of {looked_on}: look again",
            changed_on=Day(changed_on),
            looked_on=Day(behind.looked_on),
        )
    if behind.whole:
        return ""
    looked = unary_union([box(*each) for each in behind.boxes])
    if all(looked.covers(Polygon(cut).buffer(-0.5)) for cut in cuts):
        return ""
    return "the cut reaches beyond what was looked at: look again"


@dataclass(frozen=True, slots=True, kw_only=True)
class Ready:
    """One line of what is looked at before a cut: its key, what it is, whether it is so, and how it stands."""

    key: str
    what: str
    ready: bool
    words: str


#: The lines of what is looked at before a cut, in their order.
LINES = ("far side", "losses", "marks", "hold", "datum", "hot work")


@dataclass(frozen=True, slots=True, kw_only=True)
class Before:
    """What is known before a cut.

    ``far_sides``: by panel, the answer about its far side; ``not_looked``: by panel, why that answer does not count (empty: it does); ``listed``: by panel,
    how many things its list of losses holds; ``nothing_lost``: who said on which day that nothing goes with these pieces, empty where nobody did;
    ``marks``: transfer marks taken; ``hold``: the hold's gate, None where nobody can tell; ``last_round``: the last measuring round and its day;
    ``since``: from which day on a round counts; ``hot_work``: what is still to be done before sparks fly, on the day of the cut.
    """

    far_sides: Mapping[str, str]
    not_looked: Mapping[str, str]
    listed: Mapping[str, int]
    nothing_lost: str
    marks: int
    hold: Gate | None
    last_round: tuple[int, date] | None
    since: date
    hot_work: Sequence[str]


def before_cut(known: Before) -> list[Ready]:
    """What is looked at before a cut, each in one line; nothing is ready that nobody has done or said."""
    behind = {
        code
        for code, answer in known.far_sides.items()
        if answer and not answer.strip().lower().startswith(NOTHING)
    }
    unlisted = sorted(code for code in behind if not known.listed.get(code))
    things = sum(known.listed.values())
    looked = [
        _looked_words(code, answer, known.not_looked.get(code, ""))
        for code, answer in sorted(known.far_sides.items())
    ]
    if known.nothing_lost:
        losses: str = Said(
            "Nothing goes with these pieces: {nothing_lost}.", nothing_lost=Quoted(known.nothing_lost)
        )
        marks = "Nothing to transfer."
    else:
        losses = (
            Said("{things} on the list.", things=things)
            if things
            else "Nothing is listed, and nobody has said that nothing is lost."
        )
        losses = (
            Said(
                "Something is behind {unlisted}, but nothing is on its list.",
                unlisted=Listed(tuple(unlisted)),
            )
            if unlisted
            else losses
        )
        marks = "None taken, though something will be lost." if things else "None taken."
    if known.marks:
        marks = Said("{marks} taken.", marks=known.marks)
    return [
        Ready(key="far side", what="Far side looked at", ready=not any(known.not_looked.get(code) for code in known.far_sides), words=joined(looked, "; ")),
        Ready(key="losses", what="What is lost is listed", ready=bool(known.nothing_lost or (things and not unlisted)), words=losses),
        Ready(
            key="marks", what="Transfer marks taken", ready=bool(known.marks or known.nothing_lost), words=marks
        ),
        *([Ready(key="hold", what="Hold looked at", ready=known.hold.open, words=known.hold.reason)] if known.hold is not None else []),
        _datum_line(known.last_round, known.since),
        Ready(
            key="hot work", what="Hot work ready", ready=not known.hot_work,
            words=Said("Not yet on the day: {hot_work}.", hot_work=Listed(tuple(known.hot_work))) if known.hot_work else "All ticked on the day.",
        ),
    ]  # fmt: skip


def _looked_words(code: str, answer: str, why: str) -> str:
    if answer and why:
        return Said("{code}: {answer} ({why})", code=code, answer=Quoted(answer), why=why)
    return Said("{code}: {words}", code=code, words=Quoted(answer) if answer else why)


def _datum_line(last_round: tuple[int, date] | None, since: date) -> Ready:
    words: str = "No measuring round yet: nobody will know what moved."
    ready = False
    if last_round:
        number, day = last_round
        ready = day >= since
        words = Said("Round {number}, {day}", number=number, day=Day(day)) + (
            "."
            if ready
            else Said(
                ": before {since}, when this repair was opened or metal was last worked on.", since=Day(since)
            )
        )
    return Ready(key="datum", what="Datum check taken", ready=ready, words=words)


def ready_gate(lines: Sequence[Ready], hold: Gate | None) -> Gate:
    """The gate before a cut from its lines: the hold decides first, then whatever is not ready."""
    if hold is not None and not hold.open:
        return hold
    waiting = [first_low(line.what) for line in lines if not line.ready]
    if waiting:
        return Gate(
            stage="before",
            open=False,
            reason=Said("Not so yet: {waiting}.", waiting=Listed(tuple(waiting), "; ")),
            round=None,
        )
    return hold or Gate(stage="before", open=True, reason="All is ready.", round=None)


def hold_gate(before: str, after: str, why: str, cure: str = "", both_sides: str = "") -> Gate:
    """What stands before a cut: the shell must not get loose by it.

    Args: before, after: HELD, SOFT or LOOSE as it stands and with the pieces out; why: the reason for the latter, in one line; cure: what would hold it;
        both_sides: what would then be open on both sides at once, in words.
    """
    why = joined((why, both_sides))
    if after == "LOOSE":
        return Gate(
            stage="hold",
            open=False,
            reason=Said(
                "LOOSE with the piece out, {before} now. {why} {cure}",
                before=before,
                why=why,
                cure=cure or Said("Brace it first."),
            ),
            round=None,
        )
    return Gate(
        stage="hold",
        open=True,
        reason=Said("{before} now, {after} with the piece out. {why}", before=before, after=after, why=why),
        round=None,
    )
