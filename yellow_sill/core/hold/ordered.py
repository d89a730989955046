"""An order of taking apart as it was found: its steps, its worst moment, and the words for it."""

from dataclasses import dataclass

from ..said import Mm, Said

#: An order is as good as another within this much of J.
AS_GOOD = 0.02


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderStep:
    """One step: the job, out or in, J after it and its verdict."""

    action: str
    j: float
    verdict: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Order:
    """An order with its states: the worst J, and the movement locked in when all is done and the braces are off, mm."""

    steps: list[OrderStep]
    worst_j: float
    worst_verdict: str
    locked_in_mm: float
    locked_in_check: list[str]
    locked_in_check_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderPlan:
    """The order found, how near it is to the best possible, and the person's own beside it."""

    found: Order
    own: Order | None
    lower_bound: float
    proved: str
    states_solved: int
    start_j: float
    sentences: list[str]
    limits: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Walked:
    """A person's own order gone through: its states, the state it starts from, and the bound that no order beats."""

    order: Order
    start_j: float
    start_verdict: str
    lower_bound: float


def compared(own: Order, found: Order) -> list[str]:
    """Where the person's own order is at its worst, and the steps at which it is worse than the one found."""
    if own.worst_j - found.worst_j < AS_GOOD:
        return ["Yours is as good as the one found."]
    worst = max(range(len(own.steps)), key=lambda i: own.steps[i].j)
    said: list[str] = [
        Said(
            "Yours is at its worst at step {worst} ({verdict}); the one found is never worse than {worst_verdict}.",
            worst=worst + 1,
            verdict=own.steps[worst].verdict,
            worst_verdict=found.worst_verdict,
        )
    ]
    for number, (mine, best) in enumerate(zip(own.steps, found.steps, strict=True), start=1):
        if mine.verdict != best.verdict and mine.j > best.j:
            said.append(
                Said(
                    "At step {number} yours is {verdict}, the one found {verdict2}.",
                    number=number,
                    verdict=mine.verdict,
                    verdict2=best.verdict,
                )
            )
    return said[:5]


def order_sentences(found: Order, own: Order | None, proved: str) -> list[str]:
    said: list[str] = [
        Said(
            "The worst moment of this order is {worst_verdict} (J {worst_j:.2f}); it is {proved}.",
            worst_verdict=found.worst_verdict,
            worst_j=found.worst_j,
            proved=proved,
        )
    ]
    if own is not None:
        said.append(
            Said(
                "Your own order's worst is {worst_verdict} (J {worst_j:.2f}).",
                worst_verdict=own.worst_verdict,
                worst_j=own.worst_j,
            )
        )
        said += compared(own, found)
    if found.locked_in_mm >= 0.2:
        said.append(
            Said(
                "When all is done and the braces are off, {locked_in_mm} stay bent.",
                locked_in_mm=Mm(found.locked_in_mm, 1),
            )
        )
    return said
