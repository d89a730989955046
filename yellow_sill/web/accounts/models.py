"""How the owner wants to read: unit of length, words of the trade."""

from django.conf import settings
from django.db import models

from yellow_sill.core.units import UNITS

DEGREES = ("C", "F")


class Preferences(models.Model):
    """One person's display settings. Everything is stored in millimetres and written in British terms."""

    user = models.OneToOneField(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="preferences"
    )
    unit = models.CharField(max_length=2, choices=[(unit, unit) for unit in UNITS], default="mm")
    degrees = models.CharField(max_length=1, choices=[(each, f"°{each}") for each in DEGREES], default="C")
    american_terms = models.BooleanField(default=False)

    def __str__(self) -> str:
        return f"{self.unit}, °{self.degrees}, {'American' if self.american_terms else 'British'}"
