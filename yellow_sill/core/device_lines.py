"""The lines our measuring devices send: a thickness gauge (T), a digital tape (D), a laser level's receiver (H).

A line is ``<letter> <number> <millimetres or ----> <quality 0 to 9> *<check>``, ended by a line feed. The check is the exclusive or
of all bytes before the star, two hexadecimal digits. ``----`` says that nothing was read. Example: ``T 00042 0.874 7 *70``.
"""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from functools import reduce
from statistics import median

from .errors import CoreError
from .said import Said


class LostReading(CoreError):
    """The device lost what it measures, or says nothing that can be read."""

    code = "GAUGE-LOST"


@dataclass(frozen=True, slots=True, kw_only=True)
class Device:
    """One kind of device: its letter, name, decimals of a millimetre, when readings in a row agree, and its own troubles."""

    letter: str
    name: str
    decimals: int
    agree_mm: float
    lost: str
    lost_mend: str
    restless_mend: str


GAUGE = Device(
    letter="T", name="gauge", decimals=3, agree_mm=0.03, lost="The gauge lost its echo.",
    lost_mend="Wet the spot with gel, press the probe flat and hold it still.", restless_mend="Clean the spot to bright metal and hold the probe still.",
)  # fmt: skip
TAPE = Device(
    letter="D", name="tape", decimals=1, agree_mm=0.6, lost="The tape is not held at both ends.",
    lost_mend="Hook it on, pull it straight and hold it.", restless_mend="Hold both ends still for a second.",
)  # fmt: skip
LEVEL = Device(
    letter="H", name="level", decimals=1, agree_mm=0.6, lost="The receiver does not see the laser's plane.",
    lost_mend="Move it up or down the rule until it beeps.", restless_mend="Stand the rule upright and hold it still.",
)  # fmt: skip
DEVICES = {device.name: device for device in (GAUGE, TAPE, LEVEL)}

#: So many readings in a row must agree before one is taken.
AGREEING = 3
LEAST_QUALITY = 4
MOST_LINES = 60
_LINE = re.compile(r"([A-Z]) (\d{1,8}) (-?\d{1,5}\.\d{1,4}|----) ([0-9]) $")


@dataclass(frozen=True, slots=True, kw_only=True)
class DeviceLine:
    number: int
    value_mm: float | None
    quality: int


def check_sum(text: str) -> str:
    """Exclusive or of the bytes, as two hexadecimal digits.

    >>> check_sum("T 00042 0.874 7 ")
    '70'
    """
    return f"{reduce(lambda a, b: a ^ b, text.encode('ascii', 'replace'), 0):02X}"


def device_line(device: Device, number: int, value_mm: float | None, quality: int) -> str:
    """A line as the device sends it, without the line feed."""
    text = f"{device.letter} {number:05d} {'----' if value_mm is None else f'{value_mm:.{device.decimals}f}'} {quality} "
    return f"{text}*{check_sum(text)}"


def read_line(device: Device, line: str) -> DeviceLine | None:
    """One line of a device; None for one that was damaged on its way or comes from another kind of device."""
    text, star, check = line.strip().rpartition("*")
    match = _LINE.match(text)
    if not star or not match or match[1] != device.letter or check != check_sum(text):
        return None
    return DeviceLine(
        number=int(match[2]), value_mm=None if match[3] == "----" else float(match[3]), quality=int(match[4])
    )


def settled(device: Device, lines: Iterable[str]) -> float:
    """The reading once it holds still.

    Args: lines: as they come; at most MOST_LINES are looked at.
    Returns: the median of the agreeing readings, mm.
    Raises: LostReading where none settles.
    """
    held: list[float] = []
    damaged = dropped = seen = 0
    for line in lines:
        seen += 1
        reading = read_line(device, line)
        if reading is None:
            damaged += 1
        elif reading.value_mm is None or reading.quality < LEAST_QUALITY:
            dropped += 1
            held = []
        else:
            held = [*held[-(AGREEING - 1) :], reading.value_mm]
            if len(held) == AGREEING and max(held) - min(held) <= device.agree_mm:
                return median(held)
        if seen >= MOST_LINES:
            break
    if seen == 0:
        raise LostReading(
            Said("The {name} says nothing.", name=device.name),
            device.name,
            "Is it switched on and connected?",
        )
    if damaged > seen / 2:
        raise LostReading(
            Said("What the {name} sends cannot be read.", name=device.name),
            device.name,
            "Check its cable and its speed setting.",
        )
    if dropped > seen / 3:
        raise LostReading(device.lost, device.name, device.lost_mend)
    raise LostReading("The readings do not hold still.", device.name, device.restless_mend)
