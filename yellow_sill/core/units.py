"""Lengths as people type and read them: millimetres, or inches with fractions. Stored is always the millimetre."""

import re
import unicodedata
from fractions import Fraction

from .errors import BadField
from .said import Said

INCH_MM = 25.4
UNITS = ("mm", "in")
#: Finest fraction of an inch that is written for a size, and for a reading or what it is off; a steel rule has 64ths.
FINEST, FINEST_READ = 32, 64
_NUMBER = r"\d+(?:[.,]\d+)?"
_MM = re.compile(rf"^([-+]?)({_NUMBER}|[.,]\d+)\s*(mm|cm|m)?$", re.IGNORECASE)
_FRACTION = r"(\d{1,3})\s*/\s*(\d{1,3})"
_FEET = rf"(?:({_NUMBER})\s*(?:'|ft)\s*)?"
_INCH = re.compile(
    rf"""^([-+]?){_FEET}(?:({_NUMBER}|[.,]\d+)(?:(?:\s+|-|\s*\+\s*){_FRACTION})?|{_FRACTION})?\s*("|''|in|inch)?$""",
    re.IGNORECASE,
)
_PER = {"mm": 1.0, "cm": 10.0, "m": 1000.0}
#: ``1 m 25 cm``, ``2 m 3 cm 4 mm``: metric lengths in parts, each smaller than the one before.
_PARTS = re.compile(
    rf"^([-+]?)(?:(\d+)\s*m)?\s*(?:({_NUMBER})\s*cm)?\s*(?:({_NUMBER})\s*mm)?$", re.IGNORECASE
)
#: ``1.250,5`` and ``1,250.5``: groups of thousands, then the other sign before the decimals.
_GROUPED = re.compile(
    r"^([-+]?[1-9]\d{0,2}(?:([., ])\d{3})+)(?:([.,])(\d+))?(?=\s*(?:[a-z]|$))", re.IGNORECASE
)
#: ``1,250`` may be one and a quarter, or a thousand and more.
_TWO_MEANINGS = re.compile(r"^[-+]?[1-9]\d{0,2},\d{3}(?!\d|,)")
#: How people and their keyboards write feet, inches and fractions.
_AS_TYPED = str.maketrans(
    "\u2032\u2019\u2018\u00b4\u2033\u201d\u201c\u2044\u2215\u2013\u2212", 4 * "'" + 3 * '"' + "//--"
)
_VULGAR = re.compile("[\u00bc-\u00be\u2150-\u215e]")


def parse_length(text: str, unit: str = "mm") -> float:
    """A length as typed, in mm.

    Args: text: ``12,5``, ``12.5 mm``, ``3 cm``, ``10 1/4"``, ``3/8``, ``1' 2 1/2"``, ``10.25 in``, ``10¼"``,
            ``5'-6 1/2"``, ``1 m 25 cm``, ``1.250,5 mm``; a bare number is in ``unit``, a fraction in inches.
    Returns: mm.
    Raises: BadField for what is no length, or has two meanings (``1,250``).

    >>> parse_length("12,5 mm"), parse_length('10 1/4"'), parse_length("3/8"), parse_length("10.25", "in"), parse_length("1' 2\\"")
    (12.5, 260.35, 9.525, 260.35, 355.6)
    """
    words = _plain(str(text))
    parts = _PARTS.match(words)
    if parts and sum(part is not None for part in parts.groups()[1:]) > 1:
        value = sum(
            float((part or "0").replace(",", ".")) * per
            for part, per in zip(parts.groups()[1:], (1000.0, 10.0, 1.0), strict=True)
        )
        return -value if parts[1] == "-" else value
    metric = _MM.match(words)
    if metric and (metric[3] or unit == "mm"):
        value = float(metric[2].replace(",", ".")) * _PER[(metric[3] or "mm").lower()]
        return -value if metric[1] == "-" else value
    inch = _INCH.match(words)
    if not inch or not any(inch.group(i) for i in (2, 3, 6)):
        raise BadField(
            Said("'{words}' is no length.", words=words[:24]),
            "length",
            'Type it like 12.5, 12,5 mm, 10 1/4" or 3/8.',
        )
    sign, feet, whole, over, under, alone, below, _mark = inch.groups()
    over, under = over or alone, under or below
    if under and int(under) == 0:
        raise BadField(
            Said("'{words}' divides by nothing.", words=words[:24]), "length", "Type a fraction like 3/8."
        )
    if over and whole and not whole.isdigit():
        raise BadField(
            Said("'{words}' mixes decimals and a fraction.", words=words[:24]),
            "length",
            'Type it like 10 1/4" or 10.25 in.',
        )
    inches = (
        12 * float((feet or "0").replace(",", "."))
        + float((whole or "0").replace(",", "."))
        + (Fraction(int(over), int(under)) if over else 0)
    )
    value = round(float(inches) * INCH_MM, 6)
    return -value if sign == "-" else value


def _plain(text: str) -> str:
    """What was typed with plain signs: ``10¼"`` as ``10 1/4"``, ``6′ 2 3⁄16″`` as ``6' 2 3/16"``, ``1.250,5`` as ``1250.5``.

    Raises: BadField where a length has two meanings.
    """
    typed = _VULGAR.sub(lambda sign: " " + unicodedata.normalize("NFKC", sign[0]) + " ", text)
    words = " ".join(typed.translate(_AS_TYPED).replace("''", '"').split())
    words = re.sub(r"(?<=\d)\s*-\s*(?=\d+\s*/)", " ", words)  # 6-1/2
    words = re.sub(r"(?<=')\s*-\s*(?=\d)", " ", words)  # 5'-6 1/2"
    words = re.sub(r"\s+(?=\")", "", words)
    words = re.sub(r"\b(?:inches|ins)\b\.?", "in", words, flags=re.IGNORECASE)
    words = re.sub(r"\b(?:feet|foot)\b\.?", "ft", words, flags=re.IGNORECASE)
    grouped = _GROUPED.match(words)
    if grouped and grouped[2] != grouped[3]:
        if grouped[3] is None and grouped[2] == ".":
            return words  # a point is the decimal sign, as this program writes it
        if grouped[3] is None and _TWO_MEANINGS.match(words):
            raise BadField(
                Said("'{words}' has two meanings.", words=words[:24]),
                "length",
                "Type 1250 for a thousand and more, or 1.25 for one and a bit.",
            )
        whole = re.sub(r"[., ]", "", grouped[1])
        return whole + (f".{grouped[4]}" if grouped[4] else "") + words[grouped.end() :]
    return words


def format_length(value_mm: float, unit: str = "mm", digits: int = 0) -> str:
    """A length to read: mm with so many decimals; inches as a fraction, or as decimals where the mm have some.

    >>> format_length(158.2), format_length(260.35, "in"), format_length(9.525, "in"), format_length(-25.4, "in"), format_length(0.8, "in", 1)
    ('158', '10 1/4', '3/8', '-1', '0.031')
    """
    if unit == "mm":
        return f"{value_mm:.{digits}f}"
    return f"{value_mm / INCH_MM:.{digits + 2}f}" if digits else _in_fractions(value_mm, FINEST)


def format_reading(value_mm: float, unit: str = "mm") -> str:
    """A reading, or by how much a place is off: mm with one decimal, or inches as a rule or tape shows them.

    >>> format_reading(4.3), format_reading(4.3, "in"), format_reading(2805.1, "in"), format_reading(0.1, "in")
    ('4.3', '11/64', '110 7/16', '0')
    """
    return f"{value_mm:.1f}" if unit == "mm" else _in_fractions(value_mm, FINEST_READ)


def _in_fractions(value_mm: float, finest: int) -> str:
    parts = round(abs(value_mm) / INCH_MM * finest)
    whole, rest = divmod(parts, finest)
    sign = "-" if value_mm < 0 and parts else ""
    fraction = str(Fraction(rest, finest)) if rest else ""
    return sign + " ".join(part for part in (str(whole) if whole or not rest else "", fraction) if part)


def exact_length(value_mm: float, unit: str = "mm") -> str:
    """A length for a field that will be read back: short, and the same to a hundredth of a millimetre.

    >>> exact_length(12.0), exact_length(12.0, "in"), exact_length(260.35, "in")
    ('12', '0.4724', '10.25')
    """
    value, digits = (value_mm, 3) if unit == "mm" else (value_mm / INCH_MM, 4)
    return f"{round(value, digits) + 0.0:.{digits}f}".rstrip("0").rstrip(".")
