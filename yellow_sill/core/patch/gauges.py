"""Sheet thickness and what it is called: millimetres, American and British gauge side by side."""

import re
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Mm, Said

#: Gauge numbers of steel sheet in mm. American: manufacturers' standard gauge (0.0598 in is 16); British: standard wire gauge.
AMERICAN_MM = {
    10: 3.416, 11: 3.038, 12: 2.657, 13: 2.278, 14: 1.897, 15: 1.709, 16: 1.519, 17: 1.367, 18: 1.214, 19: 1.062, 20: 0.912, 21: 0.836, 22: 0.759, 23: 0.683,
    24: 0.607, 25: 0.531, 26: 0.455,
}  # fmt: skip
BRITISH_MM = {
    10: 3.251, 11: 2.946, 12: 2.642, 13: 2.337, 14: 2.032, 15: 1.829, 16: 1.626, 17: 1.422, 18: 1.219, 19: 1.016, 20: 0.914, 21: 0.813, 22: 0.711, 23: 0.610,
    24: 0.559, 25: 0.508, 26: 0.457,
}  # fmt: skip
#: Sheets that are sold in mm.
SOLD_MM = (0.6, 0.7, 0.8, 0.9, 1.0, 1.2, 1.5, 2.0, 2.5, 3.0, 4.0)
#: A reading is this sure, mm; rust and paint make it worse.
READING_MM = 0.03


class GaugeRequest(Record):
    """A thickness as it was measured, mm, or as a text has it: '1.2', '18 swg', '20 gauge US', '3/64 in'."""

    thickness_mm: Annotated[float, Field(gt=0.2, le=6)] | None = None
    text: Annotated[str, Field(max_length=40)] = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class GaugeTold:
    """What to buy: sheets sold in mm, thickest last; gauge numbers, each with its mm; words."""

    thickness_mm: float
    buy_mm: float
    also_mm: float | None
    american: tuple[int, float]
    british: tuple[int, float]
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class GaugeRow:
    """A gauge number in both countries: thickness, mm, and its share of the thickest listed, per cent."""

    number: int
    american_mm: float
    british_mm: float
    american_share: float
    british_share: float


def gauge_rows() -> list[GaugeRow]:
    """All gauge numbers that both tables list, thickest first."""
    most = max(*AMERICAN_MM.values(), *BRITISH_MM.values())
    return [
        GaugeRow(
            number=number,
            american_mm=AMERICAN_MM[number],
            british_mm=BRITISH_MM[number],
            american_share=round(100 * AMERICAN_MM[number] / most, 1),
            british_share=round(100 * BRITISH_MM[number] / most, 1),
        )
        for number in sorted(set(AMERICAN_MM) & set(BRITISH_MM))
    ]


def gauge(request: GaugeRequest) -> GaugeTold:
    """What a measured or named thickness is, and what to buy.

    The sheet to buy is the one sold nearest; where the reading lies between two within its sureness, the thicker, and the other is named.

    Args: request: a thickness or a text.
    Raises: BadField: neither or both given, a text that nobody can read, a gauge number without whose it is, one that is not listed.
    Source: published gauge tables; docs/methods.md section 4.
    """
    if (request.thickness_mm is None) == (not request.text.strip()):
        raise BadField("Give a thickness in mm, or a text such as '18 swg'.", "thickness_mm")
    thickness = request.thickness_mm if request.thickness_mm is not None else _read(request.text)
    near = sorted(SOLD_MM, key=lambda sold: abs(sold - thickness))
    buy, other = near[0], near[1]
    unsure = abs(abs(buy - thickness) - abs(other - thickness)) <= 2 * READING_MM
    if unsure and other > buy:
        buy, other = other, buy
    american, british = (
        min(table.items(), key=lambda row: abs(row[1] - thickness)) for table in (AMERICAN_MM, BRITISH_MM)
    )
    words = Said(
        "{thickness}: buy {buy}. American {us} gauge is {us_mm}, British {uk} gauge is {uk_mm}.", thickness=Mm(thickness, 2), buy=Mm(buy, 1), us=american[0],
        us_mm=Mm(american[1], 2), uk=british[0], uk_mm=Mm(british[1], 2),
    )  # fmt: skip
    return GaugeTold(
        thickness_mm=thickness,
        buy_mm=buy,
        also_mm=other if unsure else None,
        american=american,
        british=british,
        words=words,
    )


def _read(text: str) -> float:
    """The thickness that a text means, mm. Raises: BadField."""
    words = text.strip().lower().replace(",", ".")
    if found := re.fullmatch(r"(\d+(?:\.\d+)?)\s*(?:mm)?", words):
        value = float(found[1])
        if value >= 10 or ("." not in words and "mm" not in words and value > 6):
            raise _whose(int(value))
        return value
    if found := re.fullmatch(r"(\d+)/(\d+)\s*(?:in|inch|\")?", words):
        if int(found[2]) == 0:
            raise _unread(text)
        return round(25.4 * int(found[1]) / int(found[2]), 3)
    if found := re.fullmatch(r"(0?\.\d+)\s*(?:in|inch|\")", words):
        return round(25.4 * float(found[1]), 3)
    found = re.fullmatch(
        r"(\d+)\s*(swg|msg|uk|us|gauge|gage|ga|g)\.?\s*(uk|us|british|american|swg|msg)?", words
    )
    if not found:
        raise _unread(text)
    number, whose = int(found[1]), {found[2], found[3]} & {"swg", "msg", "uk", "us", "british", "american"}
    if not whose:
        raise _whose(number)
    table = BRITISH_MM if whose & {"swg", "uk", "british"} else AMERICAN_MM
    if number not in table:
        raise BadField(
            Said("{number} gauge is not listed.", number=number),
            "text",
            "Numbers 10 to 26 are; or measure it in mm.",
        )
    return table[number]


def _unread(text: str) -> BadField:
    return BadField(
        Said("'{text}' is no thickness that can be read.", text=text[:20]),
        "text",
        "Write mm, or '18 swg', or '18 gauge US'.",
    )


def _whose(number: int) -> BadField:
    """A gauge number alone means two thicknesses: it is asked, never guessed."""
    if number not in AMERICAN_MM:
        return BadField(
            Said("{number} gauge is not listed.", number=number),
            "text",
            "Numbers 10 to 26 are; or measure it in mm.",
        )
    words = Said(
        "{number} gauge is {us} in America and {uk} in Britain.",
        number=number,
        us=Mm(AMERICAN_MM[number], 2),
        uk=Mm(BRITISH_MM[number], 2),
    )
    return BadField(
        words, "text", Said("Write '{number} us' or '{number} swg', or measure it.", number=number)
    )
