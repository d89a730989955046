"""What uncertain costs come to together: low, likely and high of a sum, from low, likely and high of its parts."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from .amount import Money

#: One time in ten less than low, one time in ten more than high: so many standard deviations of a normal from its middle.
TENTH = 1.2815515655
#: Exceeded once in five: so many standard deviations of a normal above its middle.
FIFTH = 0.8416212336
#: How far the parts run together (prices, rust that goes farther than seen), as the correlation of any two; rule of thumb.
TOGETHER = 0.25


@dataclass(frozen=True, slots=True, kw_only=True)
class Uncertain:
    """A cost that is not known for sure: one time in ten below low, as likely as not below likely, one time in ten above high."""

    low: Money
    likely: Money
    high: Money


#: What uncertain costs come to together, told in the same way.
Band = Uncertain


def band(parts: Sequence[Uncertain], currency: str) -> Band:
    """Low, likely and high of the sum of parts, rounded.

    Lows are not added to lows, as it seldom goes all one way; neither are the parts taken for independent.

    Args: parts: in ``currency``; none gives 0.
    Source: mean by 0.3, 0.4, 0.3 of low, likely, high (Swanson's rule); any two parts correlated by TOGETHER; the sum taken for lognormal with the
        same mean and variance (Fenton and Wilkinson); docs/methods.md section 6.
    """
    zero = Money(Decimal(0), currency)
    mean = sum((part.low * Decimal("0.3") + part.likely * Decimal("0.4") + part.high * Decimal("0.3") for part in parts), zero)  # fmt: skip
    spreads = [_spread(part) for part in parts]
    alone = sum(spread**2 for spread in spreads)
    variance = alone + TOGETHER * (sum(spreads) ** 2 - alone)
    middle = float(mean.amount)
    if variance <= 0 or middle <= 0:
        likely = sum((part.likely for part in parts), zero).rounded()
        return Band(low=likely, likely=likely, high=likely)
    log = math.sqrt(math.log1p(variance / middle**2))
    centre = middle * math.exp(-(log**2) / 2)

    def money(sigmas: float) -> Money:
        return Money(Decimal(str(round(centre * math.exp(sigmas * log), 4))), currency).rounded()

    return Band(low=money(-TENTH), likely=money(0), high=money(TENTH))


#: Steel and consumables of work whose extent is known still vary by so much either way; rule of thumb.
KNOWN_LOW, KNOWN_HIGH = 0.9, 1.25


def work_cost(planned: float, currency: str, *, ratio: tuple[float, float] | None) -> Uncertain:
    """What work will cost that was planned for an extent as it is seen now.

    Args: planned: in the currency; ratio: what is not opened yet is likely multiplied by, as likely as not and exceeded once in five; None: it is open.
    Source: the survey's forecast of growth (docs/methods.md section 2), its spread taken for lognormal; what is open by KNOWN_LOW, KNOWN_HIGH.
    """
    middle, low, high = 1.0, KNOWN_LOW, KNOWN_HIGH
    if ratio is not None:
        middle = max(1.0, ratio[0])
        spread = math.log(max(ratio[1], middle) / middle) / FIFTH
        low, high = (
            max(1.0, middle * math.exp(-TENTH * spread)) * KNOWN_LOW,
            middle * math.exp(TENTH * spread) * KNOWN_HIGH,
        )

    def money(factor: float) -> Money:
        return Money(Decimal(str(round(planned * factor, 4))), currency).rounded()

    return Uncertain(low=money(low), likely=money(middle), high=money(high))


#: What is quoted and not ordered still changes until then; rule of thumb.
QUOTE_LOW, QUOTE_HIGH = 0.95, 1.2


def quoted_cost(paid: Sequence[Money], taken: Money | None, *, ordered: bool) -> Uncertain | None:
    """What a need will cost by what was quoted for it; None where nothing was.

    Args: paid: each quote with tax and carriage, the one that costs least on the car first; taken: the one that was chosen; ordered: it is ordered at that.
    Source: from the least to the dearest of the quotes, or of the one taken, by QUOTE_LOW and QUOTE_HIGH; docs/methods.md section 6.
    """
    if taken is None and not paid:
        return None
    likely = taken or paid[0]
    if ordered:
        return Uncertain(low=likely, likely=likely, high=likely)
    amounts = sorted([likely] if taken else paid, key=lambda each: each.amount)
    return Uncertain(
        low=(amounts[0] * Decimal(str(QUOTE_LOW))).rounded(),
        likely=likely,
        high=(amounts[-1] * Decimal(str(QUOTE_HIGH))).rounded(),
    )


def _spread(part: Uncertain) -> float:
    """Standard deviation of a part: of the lognormal through its low and high where both are above 0."""
    low, likely, high = (float(each.amount) for each in (part.low, part.likely, part.high))
    if low <= 0 or likely <= 0 or high <= low:
        return max(0.0, high - low) / (2 * TENTH)
    log = math.log(high / low) / (2 * TENTH)
    return math.sqrt(low * high) * math.exp(log**2 / 2) * math.sqrt(math.expm1(log**2))
