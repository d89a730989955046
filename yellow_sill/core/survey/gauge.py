"""When the readings of an ultrasonic thickness gauge can be trusted; its lines are those of ``core/device_lines.py``."""

from collections.abc import Iterable

from ..device_lines import GAUGE, settled
from ..errors import CoreError
from ..said import Mm, Said

#: A reading above this share of the nominal thickness is not one sheet; below the other no echo of this sheet.
MAD_ABOVE, MAD_BELOW_MM = 1.35, 0.15


class MadReading(CoreError):
    """A steady reading that cannot be this sheet."""

    code = "GAUGE-MAD"


def settled_thickness(lines: Iterable[str], nominal_mm: float) -> float:
    """The thickness once it holds still.

    Args: lines: as they come; nominal_mm: of the sheet.
    Returns: the median of the agreeing readings, mm.
    Raises: LostReading where none settles, MadReading where it settles on what cannot be this sheet.
    """
    thickness_mm = settled(GAUGE, lines)
    if thickness_mm > MAD_ABOVE * nominal_mm:
        text = Said(
            "The gauge reads {thickness_mm} on a {nominal_mm} sheet.",
            thickness_mm=Mm(thickness_mm, 2),
            nominal_mm=Mm(nominal_mm),
        )
        raise MadReading(
            text,
            "gauge",
            "That is a double echo, paint or two sheets. Scrape the paint off and turn the probe.",
        )
    if thickness_mm < MAD_BELOW_MM:
        raise MadReading(
            Said("The gauge reads {thickness_mm}.", thickness_mm=Mm(thickness_mm, 2)),
            "gauge",
            "It cannot see sheet as thin as that: probe it, and type 0 where it is through.",
        )
    return round(thickness_mm, 2)
