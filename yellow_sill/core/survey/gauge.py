"""The line an ultrasonic thickness gauge sends, and when its readings can be trusted.

A line is ``T <number> <millimetres or ----> <echo 0 to 9> *<check>``, ended by a line feed. The check is the exclusive or of all
bytes before the star, two hexadecimal digits. ``----`` says that no echo came back. Example: ``T 00042 0.874 7 *70``.
"""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from functools import reduce
from statistics import median

from ..errors import CoreError

#: So many readings in a row must agree within this before one is taken.
AGREEING, AGREE_MM = 3, 0.03
LEAST_ECHO = 4
#: A reading above this share of the nominal thickness is not one sheet; below the other no echo of this sheet.
MAD_ABOVE, MAD_BELOW_MM = 1.35, 0.15
MOST_LINES = 60
_LINE = re.compile(r"T (\d{1,8}) (\d{1,2}\.\d{2,4}|----) ([0-9]) $")


class LostReading(CoreError):
    """The gauge lost its echo, or says nothing that can be read."""

    code = "GAUGE-LOST"


class MadReading(CoreError):
    """A steady reading that cannot be this sheet."""

    code = "GAUGE-MAD"


@dataclass(frozen=True, slots=True, kw_only=True)
class GaugeLine:
    number: int
    thickness_mm: float | None
    echo: int


def check_sum(text: str) -> str:
    """Exclusive or of the bytes, as two hexadecimal digits.

    >>> check_sum("T 00042 0.874 7 ")
    '70'
    """
    return f"{reduce(lambda a, b: a ^ b, text.encode('ascii', 'replace'), 0):02X}"


def gauge_line(number: int, thickness_mm: float | None, echo: int) -> str:
    """A line as the gauge sends it, without the line feed."""
    text = f"T {number:05d} {'----' if thickness_mm is None else f'{thickness_mm:.3f}'} {echo} "
    return f"{text}*{check_sum(text)}"


def read_line(line: str) -> GaugeLine | None:
    """One line of the gauge; None for one that was damaged on its way."""
    text, star, check = line.strip().rpartition("*")
    match = _LINE.match(text)
    if not star or not match or check != check_sum(text):
        return None
    return GaugeLine(number=int(match[1]), thickness_mm=None if match[2] == "----" else float(match[2]), echo=int(match[3]))


def settled(lines: Iterable[str], nominal_mm: float) -> float:
    """The reading once it holds still.

    Args: lines: as they come; at most MOST_LINES are looked at. nominal_mm: of the sheet.
    Returns: the median of the agreeing readings, mm.
    Raises: LostReading where none settles, MadReading where it settles on what cannot be this sheet.
    """
    held: list[float] = []
    damaged = dropped = seen = 0
    for line in lines:
        seen += 1
        reading = read_line(line)
        if reading is None:
            damaged += 1
        elif reading.thickness_mm is None or reading.echo < LEAST_ECHO:
            dropped += 1
            held = []
        else:
            held = [*held[-(AGREEING - 1) :], reading.thickness_mm]
            if len(held) == AGREEING and max(held) - min(held) <= AGREE_MM:
                return _sane(median(held), nominal_mm)
        if seen >= MOST_LINES:
            break
    if seen == 0:
        raise LostReading("The gauge says nothing.", "gauge", "Is it switched on and connected?")
    if damaged > seen / 2:
        raise LostReading("What the gauge sends cannot be read.", "gauge", "Check its cable and its speed setting.")
    if dropped > seen / 3:
        raise LostReading("The gauge lost its echo.", "gauge", "Wet the spot with gel, press the probe flat and hold it still.")
    raise LostReading("The readings do not hold still.", "gauge", "Clean the spot to bright metal and hold the probe still.")


def _sane(thickness_mm: float, nominal_mm: float) -> float:
    if thickness_mm > MAD_ABOVE * nominal_mm:
        text = f"The gauge reads {thickness_mm:.2f} mm on a {nominal_mm:g} mm sheet."
        raise MadReading(text, "gauge", "That is a double echo, paint or two sheets. Scrape the paint off and turn the probe.")
    if thickness_mm < MAD_BELOW_MM:
        raise MadReading(f"The gauge reads {thickness_mm:.2f} mm.", "gauge", "It cannot see sheet as thin as that: probe it, and type 0 where it is through.")
    return round(thickness_mm, 2)
