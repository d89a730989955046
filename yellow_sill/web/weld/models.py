"""Welds: how a piece is welded in."""

from django.db import models

from yellow_sill.core.weld.tacks import AMBIENT_C, LIMIT_C, PITCH_MM
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.kept import JSONField, SaidJSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.shells.models import Vehicle


class WeldPlan(Versioned):
    """How the piece is welded in. ``tack_plans`` holds the core's answer for each seam."""

    cut = models.OneToOneField(Cut, on_delete=models.CASCADE, related_name="weld")
    process = models.CharField(max_length=6, default="mig")
    joint = models.CharField(max_length=6, default="butt")
    pitch_mm = models.FloatField(default=PITCH_MM)
    cooling = models.CharField(max_length=6, default="still")
    backing = models.BooleanField(default=False)
    limit_c = models.FloatField(default=LIMIT_C)
    ambient_c = models.FloatField(default=AMBIENT_C)
    tack_energy_j = models.FloatField(null=True, blank=True)
    cautions = JSONField(default=list)
    cautions_on = models.DateField(null=True, blank=True)
    proved = models.CharField(max_length=300, blank=True)
    tack_plans = SaidJSONField(default=list)
    #: What the person knows of the pull: shrink_mm, clamps, clear_mm, crown_mm; what is lacking is as usual.
    pull = JSONField(default=dict, blank=True)
    #: What became of each tack, in the order of the work: seam, place, what, when, by whom.
    events = JSONField(default=list)

    class Meta:
        verbose_name = "weld plan"

    def __str__(self) -> str:
        return f"weld plan for {self.cut}"


class JointWord(Versioned):
    """What a person said of one joint, by a place on its edge: process, access, order; and that it was made: when, how, by whom.

    ``both_sides`` None: nobody has said. ``made_on`` None: not made yet.
    """

    cut = models.ForeignKey(Cut, on_delete=models.CASCADE, related_name="joint_words")
    at = JSONField()
    process = models.CharField(max_length=5, blank=True)
    both_sides = models.BooleanField(null=True, blank=True)
    from_side = models.CharField(max_length=60, blank=True)
    fixes_datum = models.BooleanField(default=False)
    made_brazed = models.BooleanField(default=False)
    tight_end = models.CharField(max_length=5, blank=True)
    made_on = models.DateField(null=True, blank=True)
    made_by = models.CharField(max_length=150, blank=True)
    how = models.CharField(max_length=300, blank=True)

    class Meta:
        verbose_name = "word of a joint"
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"joint of {self.cut}"


class WeldCheck(Versioned):
    """What was looked at on a welded sheet; ``lamp``, ``back_seen`` None: nobody has said. ``pinholes``: at, again; ``readings``: at, thickness_mm."""

    cut = models.OneToOneField(Cut, on_delete=models.CASCADE, related_name="weld_check")
    lamp = models.BooleanField(null=True, blank=True)
    back_seen = models.BooleanField(null=True, blank=True)
    pinholes = JSONField(default=list)
    readings = JSONField(default=list)

    class Meta:
        verbose_name = "check of a weld"

    def __str__(self) -> str:
        return f"check of {self.cut}"


class Coupon(Versioned):
    """A joint tried on scrap on this machine: its sheets, what the dials stood at, what became of it."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="coupons")
    number = models.PositiveIntegerField()
    process = models.CharField(max_length=5)
    joint = models.CharField(max_length=6)
    thicknesses_mm = JSONField(default=list)
    gap_mm = models.FloatField(null=True, blank=True)
    wire_mm = models.FloatField(null=True, blank=True)
    dials = JSONField(default=dict)
    result = models.CharField(max_length=6)
    note = models.CharField(max_length=300, blank=True)
    made_on = models.DateField()
    by = models.CharField(max_length=150)
    file = models.CharField(max_length=80, blank=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_coupon")]

    def __str__(self) -> str:
        return f"coupon {self.number}"


class WeldShop(Versioned):
    """What there is to weld with beside the vehicle: the resistance welder's arms, the stock by kind, the gas bottle and its gauge.

    ``stock``: amounts by kind, in the kind's unit; a kind that is lacking was never looked at. ``readings``: bar, on, by, in order.
    """

    vehicle = models.OneToOneField(Vehicle, on_delete=models.CASCADE, related_name="weld_shop")
    welder = JSONField(default=dict)
    stock = JSONField(default=dict)
    bottle_l = models.FloatField(null=True, blank=True)
    full_bar = models.FloatField(null=True, blank=True)
    readings = JSONField(default=list)

    class Meta:
        verbose_name = "stock of consumables"

    def __str__(self) -> str:
        return f"weld shop of {self.vehicle}"


class HotWork(Versioned):
    """One session with sparks: what was seen to before, what was moved out of reach, the last spark, who watched until when."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="hot_works")
    number = models.PositiveIntegerField()
    begun_at = models.DateTimeField()
    begun_by = models.CharField(max_length=150)
    ticks = JSONField(default=list)
    moved = JSONField(default=list)
    last_spark_at = models.DateTimeField(null=True, blank=True)
    watched_by = models.CharField(max_length=150, blank=True)
    watch_ended_at = models.DateTimeField(null=True, blank=True)
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        verbose_name = "hot work"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_hot_work")]

    def __str__(self) -> str:
        return f"hot work {self.number}"
