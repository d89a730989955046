"""What every page of the frame needs."""

from dataclasses import dataclass

from django.conf import settings
from django.http import HttpRequest
from django.urls import reverse
from django.utils import timezone
from django.utils.functional import SimpleLazyObject
from django.utils.translation import get_language

from . import units
from .stages import Alert, stages, told
from .strip import STATES, hold_of


@dataclass(frozen=True, slots=True, kw_only=True)
class RailStage:
    """A stage on the rail: where its button goes, and what it counts."""

    key: str
    label: str
    url: str
    tally: str


def frame(request: HttpRequest) -> dict:
    """``rail`` and ``vehicle`` where a vehicle is open, and whether this is the demo."""
    vehicle = getattr(request, "vehicle", None)

    def rail() -> list[RailStage]:
        if vehicle is None:
            return []
        return [
            RailStage(
                key=stage.key,
                label=stage.label,
                url=reverse(stage.url_name, args=[vehicle.pk]),
                tally=stage.tally(vehicle),
            )
            for stage in stages()
            if stage.label
        ]

    def alerts() -> list[Alert]:
        now = timezone.now()
        return [alert for say in told("alerts") for alert in say(vehicle, now)] if vehicle is not None else []

    return {
        "vehicle": vehicle,
        "alerts": SimpleLazyObject(alerts),
        "rail": SimpleLazyObject(rail),
        "hold": hold_of(vehicle) if vehicle is not None else None,
        "hold_states": STATES,
        "is_demo": settings.DEMO,
        "length_unit": units.unit.get(),
        "degrees_unit": units.degrees.get(),
        "american": get_language() == units.AMERICAN,
    }
