"""The gates: what a repair's ribbon asks of the measuring room, and of what holds the shell, before it goes on."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

#: Before a repair reaches this state, a round of this stage is asked for; source: docs/methods.md section 8.
ASKED = {"made": "cut", "welded": "tacked", "dressed": "welded"}
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


def hold_gate(before: str, after: str, why: str, cure: str = "") -> Gate:
    """What stands before a cut: the shell must not get loose by it.

    Args: before, after: HELD, SOFT or LOOSE as it stands and with the pieces out; why: the reason for the latter, in one line; cure: what would hold it.
    """
    if after == "LOOSE":
        return Gate(stage="hold", open=False, reason=f"LOOSE with the piece out, {before} now. {why} {cure or 'Brace it first.'}", round=None)
    return Gate(stage="hold", open=True, reason=f"{before} now, {after} with the piece out. {why}", round=None)
