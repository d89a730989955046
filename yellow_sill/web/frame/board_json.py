"""What a board sends, JSON objects and corners, checked before anything is done with them; and what it is answered."""

import json
from typing import Any

from django.http import HttpRequest, JsonResponse, RawPostDataException

from yellow_sill.core.errors import BadField

from .units import spoken

#: No figure that a page sends is larger; beyond it whole numbers are not exact.
LARGEST = 2.0**53


def json_body(request: HttpRequest) -> dict:
    """The JSON object a board sends.

    Raises: BadField.
    """
    try:
        values = json.loads(request.body)
        if not isinstance(values, dict) or not _plain(values):
            raise ValueError
    except (
        ValueError,
        RecursionError,
        RawPostDataException,
    ):  # the last: a form was sent where a board speaks
        raise BadField("The board sent something that cannot be read.", "$", "Reload the page.") from None
    return values


def _plain(value: Any) -> bool:
    """Whether values are such as a page of ours sends: finite figures of a size that counts, texts that can be stored."""
    if isinstance(value, dict):
        return all(_plain(name) and _plain(each) for name, each in value.items())
    if isinstance(value, list):
        return all(_plain(each) for each in value)
    if isinstance(value, str):
        return _can_be_stored(value)
    return value is None or isinstance(value, bool) or abs(value) <= LARGEST  # not so for NaN


def _can_be_stored(text: str) -> bool:
    """Without half a sign or one that no text has."""
    return "\x00" not in text and not any("\ud800" <= sign <= "\udfff" for sign in text)


def corner_list(value) -> list[tuple[float, float]]:
    """Corners from JSON as pairs of numbers.

    Raises: BadField.
    """
    try:
        return [(float(u), float(v)) for u, v in value or []]
    except (TypeError, ValueError):
        raise BadField(
            "A corner is not a pair of numbers.", "corners", "Type it in millimetres, such as 684, 292."
        ) from None


def answer(values: dict, status: int = 200) -> JsonResponse:
    """Values for a script of ours, messages in the person's units and terms."""
    return JsonResponse(spoken(values), status=status)
