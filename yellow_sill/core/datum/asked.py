"""What an adjustment is asked."""

from typing import Annotated, Literal

from pydantic import Field

from .network import MOST_POINTS, MOST_READINGS, NetworkPoint, NetworkReading, NetworkRecord


class AdjustRequest(NetworkRecord):
    """Points and readings of one measuring round.

    ``heights_from`` "datum": heights are above the datum plane. "level": above a water level or laser of unknown height, the shell
    may stand out of level. ``leave_out_undetermined`` works with what can be worked out instead of refusing.
    """

    points: Annotated[list[NetworkPoint], Field(min_length=1, max_length=MOST_POINTS)]
    readings: Annotated[list[NetworkReading], Field(min_length=1, max_length=MOST_READINGS)]
    confidence: Annotated[float, Field(ge=0.5, le=0.9999)] = 0.95
    heights_from: Literal["datum", "level"] = "datum"
    leave_out_undetermined: bool = False
