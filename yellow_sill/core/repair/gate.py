"""The gates: what a repair's ribbon asks of the measuring room, and of what holds the shell, before it goes on."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

#: Before a repair reaches this state, a round of this stage is asked for; source: docs/methods.md section 8.
ASKED = {"made": "cut", "welded": "tacked", "dressed": "welded"}
#: An answer about the far side that begins so says that nothing is there.
NOTHING = ("nothing", "none", "clear", "no ")
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
        return Gate(stage=stage, open=False, reason=f"No datum check since {_WHEN[stage]}.", round=None)
    last = fresh[-1]
    if last.out:
        some = "; ".join(last.out[:3]) + (f" and {len(last.out) - 3} more" if len(last.out) > 3 else "")
        return Gate(stage=stage, open=False, reason=f"Out of tolerance in round {last.number}: {some}.", round=last.number)
    if last.unsure:
        told = f"{', '.join(last.unsure[:4])} cannot be told yet in round {last.number}: read a few more."
        return Gate(stage=stage, open=False, reason=told, round=last.number)
    return Gate(stage=stage, open=True, reason=f"Round {last.number}: {last.told} points near it are in.", round=last.number)


@dataclass(frozen=True, slots=True, kw_only=True)
class Ready:
    """One line of what is looked at before a cut: its key, what it is, whether it is so, and how it stands."""

    key: str
    what: str
    ready: bool
    words: str


def before_cut(
    far_sides: Mapping[str, str], listed: Mapping[str, int], marks: int, hold: Gate | None, last_round: tuple[int, date] | None, hot_work: Sequence[str]
) -> list[Ready]:
    """What is looked at before a cut, each in one line.

    Args:
        far_sides: by panel, what was answered about its far side, empty where nobody has; listed: by panel, how many things its list of losses holds.
        marks: transfer marks taken; hold: the hold's gate, None where nobody can tell; last_round: the last measuring round and its day.
        hot_work: what is still to be done before sparks fly.
    """
    behind = {code for code, answer in far_sides.items() if answer and not answer.strip().lower().startswith(NOTHING)}
    unlisted = sorted(code for code in behind if not listed.get(code))
    things = sum(listed.values())
    saved = f"{things} on the list." if things else "Nothing to save."
    lines = [
        Ready(
            key="far side", what="Far side looked at", ready=all(far_sides.values()),
            words="; ".join(f"{code}: {answer or 'not answered yet'}" for code, answer in sorted(far_sides.items())),
        ),
        Ready(
            key="losses", what="What is lost is listed", ready=not unlisted,
            words=f"Something is behind {', '.join(unlisted)}, but nothing is on its list." if unlisted else saved,
        ),
        Ready(
            key="marks", what="Transfer marks taken", ready=bool(marks) or not things,
            words=f"{marks} taken." if marks else "None taken, though something will be lost." if things else "Nothing to transfer.",
        ),
        Ready(
            key="datum", what="Datum check taken", ready=last_round is not None,
            words=f"Round {last_round[0]}, {last_round[1]:%d %b %Y}." if last_round else "No measuring round yet: nobody will know what moved.",
        ),
        Ready(key="hot work", what="Hot work ready", ready=not hot_work, words=f"Not yet: {', '.join(hot_work)}." if hot_work else "All ticked."),
    ]  # fmt: skip
    if hold is not None:
        lines.insert(3, Ready(key="hold", what="Hold looked at", ready=hold.open, words=hold.reason))
    return lines


def ready_gate(lines: Sequence[Ready], hold: Gate | None) -> Gate:
    """The gate before a cut from its lines: the hold decides first, then whatever is not ready."""
    if hold is not None and not hold.open:
        return hold
    waiting = [line.what[0].lower() + line.what[1:] for line in lines if not line.ready]
    if waiting:
        return Gate(stage="before", open=False, reason=f"Not so yet: {'; '.join(waiting)}.", round=None)
    return hold or Gate(stage="before", open=True, reason="All is ready.", round=None)


def hold_gate(before: str, after: str, why: str, cure: str = "", both_sides: str = "") -> Gate:
    """What stands before a cut: the shell must not get loose by it.

    Args: before, after: HELD, SOFT or LOOSE as it stands and with the pieces out; why: the reason for the latter, in one line; cure: what would hold it;
        both_sides: what would then be open on both sides at once, in words.
    """
    why = f"{why} {both_sides}".strip()
    if after == "LOOSE":
        return Gate(stage="hold", open=False, reason=f"LOOSE with the piece out, {before} now. {why} {cure or 'Brace it first.'}", round=None)
    return Gate(stage="hold", open=True, reason=f"{before} now, {after} with the piece out. {why}", round=None)
