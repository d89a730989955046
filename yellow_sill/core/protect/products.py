"""Products that protect metal, as data: what each may go over, when the next coat may go on, when it has cured, by temperature."""

import math
from collections.abc import Iterable, Sequence
from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from ..days import months_later
from ..errors import BadField
from ..records import Record
from ..said import DegC, Said

#: Kinds of products, without brands. "old primer": one that nobody knows; "bare": metal with nothing on it.
Kind = Literal[
    "weld-through primer",
    "epoxy primer",
    "etch primer",
    "converter",
    "seam sealer",
    "colour",
    "stone guard",
    "cavity wax",
    "underbody wax",
    "old primer",
]
WAXES = ("cavity wax", "underbody wax")
#: A cure takes twice as long where it is so much colder, °C (rule of thumb, unless the tin says otherwise).
HALVED_PER_C = 10.0
_Hours = Annotated[float, Field(gt=0, le=10_000)]
_Temp = Annotated[float, Field(ge=-40, le=60)]


class Hours(Record):
    """So many hours at a temperature, as the tin says."""

    at_c: _Temp
    hours: _Hours


class Product(Record):
    """A product that a person owns.

    Attributes:
        name, kind; over: what it may go over (kinds, and bare); least_c: below it does not cure.
        opens, closes: when the next coat may go on and by when it must (empty: it never closes); cured: when it is through.
        litre_m2: what a litre covers; burns_c: what it stands behind a weld; weld_through: whether a weld may go through it, and after how many hours.
        isocyanate: whether supplied air is needed; shelf_months.
    """

    name: Annotated[str, Field(min_length=1, max_length=60)]
    kind: Kind
    over: Annotated[list[Annotated[str, Field(max_length=40)]], Field(min_length=1, max_length=12)]
    opens: Annotated[list[Hours], Field(min_length=1, max_length=8)]
    closes: Annotated[list[Hours], Field(max_length=8)] = []
    cured: Annotated[list[Hours], Field(min_length=1, max_length=8)]
    least_c: _Temp = 5.0
    litre_m2: Annotated[float, Field(gt=0, le=100)] = 8.0
    burns_c: Annotated[float, Field(gt=0, le=1000)] = 200.0
    weld_through: bool = False
    isocyanate: bool = False
    shelf_months: Annotated[int, Field(gt=0, le=600)] = 24


def hours_at(points: Sequence[Hours], temperature_c: float) -> float:
    """How long something takes at a temperature, h.

    Between two points that the tin gives it changes by equal shares a degree; beyond them it halves for each 10 °C more.

    Args: points: at least one.
    Raises: BadField for one temperature given twice.
    Source: rule of thumb (Arrhenius near room temperature); docs/methods.md section 10.
    """
    told = sorted(points, key=lambda point: point.at_c)
    for one, following in zip(told, told[1:], strict=False):
        if one.at_c == following.at_c:
            raise BadField(
                Said("{at} is given twice.", at=DegC(one.at_c)), "hours", "Give each temperature once."
            )
        if one.at_c <= temperature_c <= following.at_c:
            share = (temperature_c - one.at_c) / (following.at_c - one.at_c)
            return math.exp((1 - share) * math.log(one.hours) + share * math.log(following.hours))
    near = told[0] if temperature_c < told[0].at_c else told[-1]
    return near.hours * 2 ** ((near.at_c - temperature_c) / HALVED_PER_C)


def require_product(product: Product) -> None:
    """That a product's window opens before it closes, and that it does not go over itself alone.

    Raises: BadField.
    """
    for at in {point.at_c for point in [*product.opens, *product.closes]}:
        if product.closes and hours_at(product.opens, at) >= hours_at(product.closes, at):
            raise BadField(
                Said(
                    "At {at} the recoat window of {name} ends before it opens.",
                    at=DegC(at),
                    name=product.name,
                ),
                "closes",
                "Look at the tin again.",
            )
    if product.over == [product.kind]:
        raise BadField(
            Said("{name} goes over itself only: over what does the first coat go?", name=product.name), "over", "Add bare, or another kind."
        )  # fmt: skip


def _usual(
    name: str,
    kind: str,
    over: str,
    burns_c: float,
    opens: float,
    closes: float | None,
    cured: float,
    **more: bool,
) -> Product:
    """A generic product with its hours at 20 °C."""
    at20 = lambda hours: [{"at_c": 20, "hours": hours}] if hours else []  # noqa: E731
    times = {"opens": at20(opens), "closes": at20(closes), "cured": at20(cured)}
    return Product.read(
        {"name": name, "kind": kind, "over": over.split(", "), "burns_c": burns_c, **times, **more}
    )


#: Generic kinds to begin with: usual figures at 20 °C, to be replaced by what the tin says (rules of thumb).
STARTING_SET = [
    _usual("Weld-through primer", "weld-through primer", "bare", 400, 0.5, None, 24, weld_through=True),
    _usual("Etch primer", "etch primer", "bare", 200, 0.5, 24, 24),
    _usual(
        "Epoxy primer, two-part",
        "epoxy primer",
        "bare, weld-through primer, converter, epoxy primer",
        200,
        2,
        72,
        168,
    ),
    _usual("Rust converter", "converter", "bare", 150, 24, None, 48),
    _usual("Seam sealer", "seam sealer", "epoxy primer, colour", 120, 1, None, 24),
    _usual(
        "Colour, two-part", "colour", "epoxy primer, seam sealer, colour", 180, 1, 24, 168, isocyanate=True
    ),
    _usual("Stone guard", "stone guard", "epoxy primer, seam sealer", 120, 2, None, 48),
    _usual(
        "Cavity wax",
        "cavity wax",
        "bare, epoxy primer, weld-through primer, colour, cavity wax, old primer",
        80,
        12,
        None,
        48,
    ),
    _usual(
        "Underbody wax", "underbody wax", "epoxy primer, colour, stone guard, underbody wax", 80, 12, None, 48
    ),
]


def shelf_ends(bought_on: date | None, months: int) -> date | None:
    """The day on which a product's shelf life ends; None where nobody has said when it was bought.

    >>> shelf_ends(date(2026, 11, 30), 3)
    datetime.date(2027, 2, 28)
    """
    return None if bought_on is None else months_later(bought_on, months)


def by_kind(owned: Iterable[Product]) -> dict[str, Product]:
    """The product of each kind: the last of those owned, else the usual one."""
    return {each.kind: each for each in (*STARTING_SET, *owned)}
