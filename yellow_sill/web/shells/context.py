"""What a page says to somebody who does not own the vehicle it is about."""

from django.http import HttpRequest

from .access import MAY, openings
from .models import Role


def role(request: HttpRequest) -> dict:
    """``role``: its word and what it may do, ``openings``: the addresses that take its forms; nothing for an owner."""
    held = getattr(request, "role", Role.OWNER)
    if held not in MAY:
        return {}
    return {
        "role": {
            "word": Role(held).name.capitalize(),
            "may": MAY[Role(held)],
            "owner": request.vehicle.owner.get_username(),
        },
        "openings": openings(held),
    }
