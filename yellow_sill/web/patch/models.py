"""Patches: how the piece for a cut is made."""

from django.db import models

from yellow_sill.core.patch.bends import K_FACTOR
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned


class Patch(Versioned):
    """How the piece for a cut is made."""

    cut = models.OneToOneField(Cut, on_delete=models.CASCADE, related_name="patch")
    thickness_mm = models.FloatField()
    gap_mm = models.FloatField(default=0.8)
    k_factor = models.FloatField(default=K_FACTOR)
    trim_allowance_mm = models.FloatField(default=0)
    sides = JSONField(default=dict)
    mirror_hand = models.BooleanField(default=False)

    def __str__(self) -> str:
        return f"patch for {self.cut}"
