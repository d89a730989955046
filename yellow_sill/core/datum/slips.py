"""What a silly reading probably was: two digits swapped, the wrong pair of points, a tape held at the 100."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import BadField
from ..said import Mm, Said
from ..units import format_reading

#: A slip explains a reading when it brings it within so many standard errors of what it should be, and never below the least.
WITHIN_SIGMA, WITHIN_LEAST_MM = 2.5, 1.5
#: Whole amounts by which a tape is misread or held wrong, mm; source: docs/methods.md section 7.
WHOLE_SLIPS_MM = (10, 50, 100, 200, 500, 1000)
#: The other end of a wrong pair is one of so many nearest neighbours, or the point on the other side.
NEIGHBOURS = 3
#: A reading farther off than this from the last is asked about, mm; nearer, it may well have moved.
ASK_ABOVE_MM = 15.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Slip:
    """How a wrong value came about: ``kind`` is transposed, wrong_pair, whole or unknown; ``value`` is what it was meant to be, mm."""

    kind: str
    words: str
    value: float
    points: list[str]


def swapped(value: float) -> list[float]:
    """The values that two neighbouring digits in the wrong order make of a reading of whole or tenth millimetres.

    >>> swapped(1742), swapped(931.4)
    ([7142.0, 1472.0, 1724.0], [391.4, 913.4, 934.1])
    """
    text = f"{abs(value):.1f}".removesuffix(".0")
    places = [i for i, c in enumerate(text) if c != "."]
    out = []
    for i, k in zip(places, places[1:], strict=False):
        if text[i] != text[k]:
            digits = list(text)
            digits[i], digits[k] = digits[k], digits[i]
            out.append(float("".join(digits)) * (-1 if value < 0 else 1))
    return out


def likely_slip(value: float, should_be: float, sigma_mm: float) -> Slip | None:
    """Swapped digits or a whole amount that turn a value into what it should be.

    Args: value: as read; should_be: as the rest says; sigma_mm: of their difference.
    """
    within = max(WITHIN_SIGMA * sigma_mm, WITHIN_LEAST_MM)
    meant = min(swapped(value), key=lambda each: abs(each - should_be), default=None)
    if meant is not None and abs(meant - should_be) <= within:
        return Slip(
            kind="transposed",
            words=Said(
                "Two digits are swapped: {value} was meant as {meant}.", value=Mm(value), meant=Mm(meant)
            ),
            value=meant,
            points=[],
        )
    for whole in WHOLE_SLIPS_MM:
        for sign in (1, -1):
            if abs(value + sign * whole - should_be) <= within and abs(value - should_be) > 2 * within:
                words = Said(
                    "It is {whole} too {short}: was the tape held or read {whole} off?",
                    whole=Mm(whole),
                    short="short" if sign > 0 else "long",
                )
                return Slip(kind="whole", words=words, value=value + sign * whole, points=[])
    return None


def mirror_of(nominal: np.ndarray, apart_mm: float = 5.0) -> list[int]:
    """For each point the index of the one on the other side (same x and z, y turned round); itself where there is none.

    Args: nominal: n x 3, mm.
    """
    turned = nominal * [1, -1, 1]
    gap = np.linalg.norm(nominal[:, None] - turned[None], axis=2)
    nearest = gap.argmin(axis=0)
    return [int(k) if gap[k, i] <= apart_mm else i for i, k in enumerate(nearest)]


def wrong_pairs(ends: Sequence[int], nominal: np.ndarray) -> Iterable[tuple[int, ...]]:
    """The points a person takes for these: those of the other side, or a neighbour in place of one."""
    mirror = mirror_of(nominal)
    tried = {tuple(ends), tuple(reversed(ends))}
    swaps = [tuple(mirror[i] for i in ends)]
    for k, i in enumerate(ends):
        near = np.argsort(np.linalg.norm(nominal - nominal[i], axis=1))[1 : NEIGHBOURS + 1]
        swaps += [tuple(ends[:k]) + (int(other),) + tuple(ends[k + 1 :]) for other in (mirror[i], *near)]
    for pair in swaps:
        if len(set(pair)) == len(pair) and pair not in tried:
            tried |= {pair, tuple(reversed(pair))}
            yield pair


def doubt(value: float, expected: float, last: float | None, unit: str = "mm") -> str:
    """What to ask about a reading just typed, or nothing.

    Args:
        value: as typed, mm; expected: from the nominal places, mm; last: the same reading in the last round or before, if any.
        unit: what the person types in; swapped digits are only looked for in millimetres.
    Returns: a question such as 'That differs by 18 mm from last time: typed 1742, meant 1724?'.
    """
    against, when = (last, "from last time") if last is not None else (expected, "from the drawing")
    off = value - against
    if abs(off) <= ASK_ABOVE_MM:
        return ""
    if unit != "mm":
        told = [format_reading(each, unit) for each in (abs(off), value, against)]
        return Said(
            "That differs by {told} {unit} {when}: typed {told2}, {told3} expected. Right pair?",
            told=told[0],
            unit=unit,
            when=when,
            told2=told[1],
            told3=told[2],
        )
    slip = likely_slip(value, against, 2.0) or likely_slip(value, against, 6.0)
    meant = (
        Said(": typed {value:g}, meant {value2:g}?", value=value, value2=slip.value)
        if slip
        else Said(": typed {value:g}, {against:.0f} expected. Right pair?", value=value, against=against)
    )
    return Said("That differs by {off} {when}{meant}", off=Mm(abs(off), 0), when=when, meant=meant)


def averaged(values: Sequence[float], sigma_mm: float) -> tuple[float, float]:
    """Repeat readings as one: their mean and its standard error.

    Raises: BadField where there is none.
    """
    if not values:
        raise BadField("There is no reading to average.", "values")
    return float(np.mean(values)), sigma_mm / float(np.sqrt(len(values)))


#: Repeats of one reading further apart than so many standard errors are told.
REPEATS_APART = 4.0


def spread_words(values: Sequence[float], sigma_mm: float) -> str:
    """A word on repeats that do not agree, or nothing."""
    apart = max(values) - min(values)
    return (
        Said("Repeats lie {apart} apart: read it once more, and strike the odd one.", apart=Mm(apart, 1))
        if apart > max(REPEATS_APART * sigma_mm, 2.0)
        else ""
    )
