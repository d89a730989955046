"""What a board sends, JSON objects and corners, checked before anything is done with them; and what it is answered."""

import json

from django.http import HttpRequest, JsonResponse

from yellow_sill.core.errors import BadField

from .units import spoken


def json_body(request: HttpRequest) -> dict:
    """The JSON object a board sends.

    Raises: BadField.
    """
    try:
        values = json.loads(request.body)
    except (ValueError, RecursionError):
        raise BadField("The board sent something that cannot be read.", "$", "Reload the page.") from None
    if not isinstance(values, dict):
        raise BadField("The board sent something that cannot be read.", "$", "Reload the page.")
    return values


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
