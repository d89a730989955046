"""Coats as the rules look at them: whether each had cured when the next went on, and went on in time; areas of faces."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

from ..errors import BadField
from ..outlines import area_of, length_of
from .check import Coat
from .clocks import Clock, ClockRequest, clock
from .systems import PutOn

#: Two flanges lie on each other so far in, mm.
FLANGE_MM = 20.0


def coats_seen(
    coats: Sequence[Mapping[str, Any]], warmth: Sequence[Mapping[str, Any]], now: datetime
) -> list[Coat]:
    """Coats for the rules, from the metal outwards; what no temperature tells is not known.

    Args: coats: ``product`` and ``at`` of each; warmth: as for ``clock``; now.
    Returns: of each whether it had cured when the next went on (the last: by now), and whether it went on within the window beneath.
    Raises: BadField for what is no coat.
    """
    told = [PutOn.read(dict(each)) for each in coats]
    found = []
    for number, coat in enumerate(told):
        until = told[number + 1].at if number + 1 < len(told) else now
        mine = _clock(coat, warmth, until)
        in_window: bool | None = None
        if number:
            beneath = _clock(told[number - 1], warmth, coat.at)
            in_window = _in_window(beneath, coat.at) if beneath else None
        found.append(
            Coat(
                kind=coat.product.kind,
                cured=None if mine is None else mine.state == "cured",
                in_window=in_window,
            )
        )
    return found


def _clock(coat: PutOn, warmth: Sequence[Mapping[str, Any]], now: datetime) -> Clock | None:
    try:
        return clock(
            ClockRequest.read(
                {"product": coat.product.model_dump(), "put_on": coat.at, "warmth": list(warmth), "now": now}
            )
        )
    except BadField:
        return None  # how warm it was is not known


def _in_window(beneath: Clock, at: datetime) -> bool | None:
    """Whether a coat went on within the window of the one beneath; None where that was still wet."""
    if beneath.closes_at is not None and at > beneath.closes_at:
        return False
    return None if beneath.opens_at is None or at < beneath.opens_at else True


def face_area_m2(outline: Sequence[Sequence[float]]) -> float:
    """The area of a sheet's face, m²."""
    return round(area_of(outline) / 1e6, 4)


def edge_area_m2(path: Sequence[Sequence[float]]) -> float:
    """The area of a flange along an edge, m²."""
    return round(length_of(path) * FLANGE_MM / 1e6, 5)
