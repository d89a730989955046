"""Amounts of money: a decimal and a currency code, rounded half up to the currency's own decimals."""

from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from ..errors import BadField
from ..said import Listed, Said

#: Currencies on offer with their decimals and sign (ISO 4217).
CURRENCIES = {
    "GBP": (2, "£"), "EUR": (2, "€"), "USD": (2, "$"), "CHF": (2, "CHF"), "SEK": (2, "kr"), "NOK": (2, "kr"), "DKK": (2, "kr"),
    "AUD": (2, "A$"), "NZD": (2, "NZ$"), "CAD": (2, "C$"), "PLN": (2, "zł"), "CZK": (2, "Kč"), "HUF": (2, "Ft"), "JPY": (0, "¥"),
    "ZAR": (2, "R"), "KWD": (3, "KD"),
}  # fmt: skip


def to_minor(amount: Decimal, digits: int) -> int:
    """An amount in the smallest unit of a currency with so many decimals, rounded half up.

    >>> to_minor(Decimal("1.005"), 2), to_minor(Decimal("-1.005"), 2)
    (101, -101)
    """
    return int(amount.scaleb(digits).to_integral_value(ROUND_HALF_UP))


@dataclass(frozen=True, slots=True)
class Money:
    """An amount; sums keep all decimals, ``rounded`` gives what is paid."""

    amount: Decimal
    currency: str

    def __post_init__(self) -> None:
        if self.currency not in CURRENCIES:
            raise BadField(
                Said("No currency '{currency}' is known.", currency=self.currency),
                "currency",
                Said("Choose one of: {currencies}.", currencies=Listed(tuple(CURRENCIES))),
            )

    def __add__(self, other: "Money") -> "Money":
        if other.currency != self.currency:
            raise BadField(
                Said(
                    "{currency} and {currency2} cannot be added.",
                    currency=self.currency,
                    currency2=other.currency,
                ),
                "currency",
                "Enter both in one currency.",
            )
        return Money(self.amount + other.amount, self.currency)

    def __sub__(self, other: "Money") -> "Money":
        return self + other * Decimal(-1)

    def __mul__(self, factor: Decimal) -> "Money":
        return Money(self.amount * factor, self.currency)

    def __truediv__(self, divisor: Decimal) -> "Money":
        return Money(self.amount / divisor, self.currency)

    def rounded(self) -> "Money":
        step = Decimal(1).scaleb(-CURRENCIES[self.currency][0])
        return Money(self.amount.quantize(step, ROUND_HALF_UP), self.currency)

    @property
    def minor(self) -> int:
        """The rounded amount in the currency's smallest unit, such as pence; exact to add up anywhere."""
        return to_minor(self.amount, CURRENCIES[self.currency][0])

    @classmethod
    def from_minor(cls, minor: int, currency: str) -> "Money":
        return cls(Decimal(minor).scaleb(-CURRENCIES[currency][0]), currency)

    def __str__(self) -> str:
        digits, sign = CURRENCIES[self.currency]
        shown = self.rounded().amount
        minus = "\u2212" if shown < 0 else ""
        return f"{minus}{sign}\u00a0{abs(shown):,.{digits}f}".replace(",", "\u202f")
