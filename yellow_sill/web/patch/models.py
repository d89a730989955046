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
    #: How each edge is made, by a place on it; ``sides`` is how it was kept before, read where nothing else was stored.
    made = JSONField(default=list)
    sides = JSONField(default=dict)
    mirror_hand = models.BooleanField(default=False)

    def __str__(self) -> str:
        return f"patch for {self.cut}"


class BenchWork(Versioned):
    """What was done and measured on the bench for the patch of a cut; ``of``: the card's mark of the pattern that it was ticked for."""

    cut = models.OneToOneField(Cut, on_delete=models.CASCADE, related_name="bench_work")
    #: Steps done, by key: who and when. Sizes measured, by key, mm, and as typed.
    ticks = JSONField(default=dict)
    measured_mm = JSONField(default=dict)
    typed = JSONField(default=dict)
    of = models.CharField(max_length=16, blank=True)

    def __str__(self) -> str:
        return f"bench work for {self.cut}"
