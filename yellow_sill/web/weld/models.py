"""Welds: how a piece is welded in."""

from django.db import models

from yellow_sill.core.weld.tacks import AMBIENT_C, LIMIT_C, PITCH_MM
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.kept import JSONField, SaidJSONField
from yellow_sill.web.frame.models import Versioned


class WeldPlan(Versioned):
    """How the piece is welded in. ``tack_plans`` holds the core's answer for each seam."""

    cut = models.OneToOneField(Cut, on_delete=models.CASCADE, related_name="weld")
    process = models.CharField(max_length=6, default="mig")
    joint = models.CharField(max_length=6, default="butt")
    pitch_mm = models.FloatField(default=PITCH_MM)
    cooling = models.CharField(max_length=6, default="still")
    limit_c = models.FloatField(default=LIMIT_C)
    ambient_c = models.FloatField(default=AMBIENT_C)
    tack_energy_j = models.FloatField(null=True, blank=True)
    cautions = JSONField(default=list)
    cautions_on = models.DateField(null=True, blank=True)
    proved = models.CharField(max_length=300, blank=True)
    tack_plans = SaidJSONField(default=list)
    #: What became of each tack, in the order of the work: seam, place, what, when, by whom.
    events = JSONField(default=list)

    class Meta:
        verbose_name = "weld plan"

    def __str__(self) -> str:
        return f"weld plan for {self.cut}"
