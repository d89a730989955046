"""Plans ranked by what a person wants, what tips the scale, and what would turn it."""

from collections.abc import Callable, Sequence
from dataclasses import replace

from ..said import Said, first_low
from .plans import Option, OptionsRequest
from .rates import Weights

CRITERIA = {
    "money": "money",
    "hours": "hours",
    "originality": "original metal",
    "looks": "looks and distortion",
}
#: What a verdict of the hold adds to a plan's score: it can be braced, but that costs.
HOLD_PENALTY = {"HELD": 0.0, "SOFT": 0.05, "LOOSE": 0.2}
#: So far a price or rate is followed to where the ranking turns.
FARTHEST = 40.0
#: Plans whose weighted criteria differ by less than this are the same.
EVEN = 1e-6


def _measures(option: Option) -> dict[str, float]:
    """The four criteria, each the more the worse."""
    return {
        "money": option.money, "hours": option.hours, "originality": 1 - option.kept,
        "looks": option.pull + 0.5 * option.rust,
    }  # fmt: skip


def shares(plans: Sequence[Option]) -> dict[str, dict[str, float]]:
    """Each figure of each plan, by its name, as a share of the largest among the plans, per cent: for bars that compare them."""
    told = {
        plan.name: {
            "weld": plan.weld_mm["butt"], "spots": sum(plan.release.values()), "plugs": plan.plugs, "hours": plan.hours, "money": plan.money, "kept": plan.kept,
            "pull": plan.pull, "rust": plan.rust,
        }
        for plan in plans
    }  # fmt: skip
    most = {
        what: max((figures[what] for figures in told.values()), default=0.0) or 1.0
        for what in next(iter(told.values()), {})
    }
    return {
        name: {what: round(100 * value / most[what], 1) for what, value in figures.items()}
        for name, figures in told.items()
    }


def ranked(plans: Sequence[Option], weights: Weights) -> list[Option]:
    """Best first; what cannot be had comes last. Each criterion counts by its share of the worst among the plans."""
    worst = {name: max((_measures(plan)[name] for plan in plans), default=0.0) or 1.0 for name in CRITERIA}
    total = sum(getattr(weights, name) for name in CRITERIA) or 1.0
    score = lambda plan: (  # noqa: E731
        sum(getattr(weights, n) * _measures(plan)[n] / worst[n] for n in CRITERIA) / total
        + HOLD_PENALTY.get(plan.hold, 0.0)
    )
    scored = [replace(plan, score=round(score(plan), 4)) for plan in plans]
    return sorted(scored, key=lambda plan: (not plan.possible, plan.score, plan.name))


def tips_of(plans: Sequence[Option], weights: Weights) -> str:
    """One sentence: what the best is better in than the next, and in what it is worse."""
    able = [plan for plan in plans if plan.possible]
    if len(able) < 2:
        return (
            Said("{words} is the only one that can be done.", words=able[0].words)
            if able
            else "None of these can be done as it stands."
        )
    best, next_ = able[:2]
    worst = {name: max(_measures(plan)[name] for plan in plans) or 1.0 for name in CRITERIA}
    gain = {
        name: getattr(weights, name) * (_measures(next_)[name] - _measures(best)[name]) / worst[name]
        for name in CRITERIA
    }
    if max(abs(value) for value in gain.values()) < EVEN:
        return Said("{words} and {next} come out the same.", words=best.words, next=first_low(next_.words))
    most, least = max(gain, key=lambda n: gain[n]), min(gain, key=lambda n: gain[n])
    told = Said(
        "{words} before {next}: it is better in {criteria}",
        words=best.words,
        next=first_low(next_.words),
        criteria=Said(CRITERIA[most]),
    )
    return told + (
        Said(", though worse in {criteria}.", criteria=Said(CRITERIA[least])) if gain[least] < -1e-9 else "."
    )


def turns_of(request: OptionsRequest, plans: Sequence[Option], best: str) -> list[str]:
    """What would change the ranking: the price of the panel, and of an hour."""
    said: list[str] = []
    money = lambda amount: f"{amount:.0f} {request.currency}".strip()  # noqa: E731

    def winner(change: Callable[[Option], Option]) -> str:
        return ranked([change(plan) for plan in plans], request.weights)[0].name

    whole = next((plan for plan in plans if plan.name == "whole" and plan.possible), None)
    if whole is not None:

        def priced(price: float) -> Callable[[Option], Option]:
            return lambda plan: (
                replace(plan, money=plan.money - plan.cost["panel"] + price) if plan.name == "whole" else plan
            )

        price = _turning(
            lambda p: winner(priced(p)) == "whole", 0.0, max(whole.cost["panel"], 10.0) * FARTHEST
        )
        if price is not None:
            said.append(
                Said(
                    "The whole panel wins {below} {money}.",
                    below=Said("below") if best != "whole" else Said("as long as it costs less than"),
                    money=money(price),
                )
            )

    def paid(rate: float) -> Callable[[Option], Option]:
        return lambda plan: replace(plan, money=plan.money - plan.cost["time"] + rate * plan.hours)

    for rate in (10.0, 20.0, 30.0, 45.0, 60.0, 90.0):
        if request.prices.hour < rate and (other := winner(paid(rate))) != best:
            words = first_low(next(plan.words for plan in plans if plan.name == other))
            said.append(
                Said(
                    "With an hour at {money}, {the}{words} {win}.",
                    money=money(rate),
                    the="the " if other in ("whole", "part") else "",
                    words=words,
                    win="win" if words.endswith("s") else "wins",
                )
            )
            break
    return said


def _turning(wins: Callable[[float], bool], low: float, high: float) -> float | None:
    """Where something that wins at a low price stops winning; None where it never or always does."""
    if not wins(low) or wins(high):
        return None
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if wins(middle) else (low, middle)
    return low
