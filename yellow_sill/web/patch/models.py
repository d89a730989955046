"""Patches: how the piece for a cut is made."""

from django.db import models

from yellow_sill.core.patch.bends import K_FACTOR
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.shells.models import Vehicle


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
    #: The opening as it was templated or taped, in place of the cut's line; empty: the cut's line counts.
    opening = JSONField(default=list)
    #: Holes on the base; those of an edge are with the edge.
    holes = JSONField(default=list)

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


class StockSheet(Versioned):
    """A sheet (length along its rolling direction, width) or an offcut (its outline) that lies in the garage; ``gone`` once it was cut up."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="stock_sheets")
    number = models.PositiveIntegerField()
    thickness_mm = models.FloatField()
    length_mm = models.FloatField(null=True, blank=True)
    width_mm = models.FloatField(null=True, blank=True)
    outline = JSONField(default=list)
    coating = models.CharField(max_length=40, blank=True)
    price = models.DecimalField(max_digits=10, decimal_places=2, null=True, blank=True)
    supplier = models.CharField(max_length=80, blank=True)
    place = models.CharField(max_length=60, blank=True)
    #: The plan that left this offcut, and the one that cut this piece up; 0: none.
    from_plan = models.PositiveIntegerField(default=0)
    cut_by_plan = models.PositiveIntegerField(default=0)

    class Meta:
        verbose_name = "sheet in stock"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_sheet")]

    def __str__(self) -> str:
        return self.name

    @property
    def name(self) -> str:
        return f"{'O' if self.outline else 'S'}{self.number}"

    @property
    def gone(self) -> bool:
        return bool(self.cut_by_plan)


class CuttingPlan(Versioned):
    """Patterns laid out on stock: what was asked and the layout as it was found, kept and never worked out anew."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="cutting_plans")
    number = models.PositiveIntegerField()
    asked = JSONField(default=dict)
    told = JSONField(default=dict)
    #: Which patch each pattern of the plan is: repair's number, cut's number, mirror hand; by the pattern's name.
    patches = JSONField(default=dict)
    made_on = models.DateField()
    cut_on = models.DateField(null=True, blank=True)

    class Meta:
        verbose_name = "cutting plan"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_plan")]

    def __str__(self) -> str:
        return f"cutting plan {self.number}"


class FitOffer(Versioned):
    """One offer-up of a patch to its opening: gaps and overlaps where they were tapped, and what was seen."""

    cut = models.ForeignKey(Cut, on_delete=models.CASCADE, related_name="fit_offers")
    number = models.PositiveIntegerField()
    offered_on = models.DateField()
    school = models.CharField(max_length=8, default="template")
    process = models.CharField(max_length=5, default="mig")
    #: Places on the outline with what was measured there, mm (below 0: it laps over), and as it was typed.
    gaps = JSONField(default=list)
    note = models.TextField(blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "offer-up"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["cut", "number"], name="one_number_an_offer")]

    def __str__(self) -> str:
        return f"offer-up {self.number}"

    @property
    def process_words(self) -> str:
        return {"mig": "MIG", "tig": "TIG", "braze": "brazing", "spot": "spot welds"}[self.process]


class BenchSum(Versioned):
    """A sum of the bench that stands by itself: a panel's shape, a pressed recess, a jig; what was typed, under a title."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="bench_sums")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=8)
    title = models.CharField(max_length=80)
    typed = JSONField(default=dict)

    class Meta:
        verbose_name = "bench sum"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_sum")]

    def __str__(self) -> str:
        return self.title
