"""What is wanted with its quotes and steps, and what came of it, held against the car."""

from decimal import Decimal

from django.db import models

from yellow_sill.core.parts.amount import CURRENCIES
from yellow_sill.core.parts.arrival import VERDICTS
from yellow_sill.core.parts.landed import SOURCES
from yellow_sill.core.parts.needs import STATES
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import ShellView, Vehicle

HANDS = {"": "either, or nobody has said", "left": "left", "right": "right", "none": "has no hand"}


class Need(Versioned):
    """A thing that is wanted.

    ``view``, ``at``: its place on the shell; ``variant``: year, body, which of two systems; ``sizes``: as typed; ``chosen``: number of the quote that
    was taken, with its reason; ``file``: a photo or sketch. Its state is that of its last step.
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="needs")
    repair = models.ForeignKey(Repair, on_delete=models.SET_NULL, related_name="needs", null=True, blank=True)
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=80)
    quantity = models.DecimalField(max_digits=10, decimal_places=3, default=Decimal(1))
    hand = models.CharField(max_length=5, blank=True, choices=list(HANDS.items()))
    variant = models.CharField(max_length=200, blank=True)
    sizes = models.CharField(max_length=200, blank=True)
    kg = models.FloatField(default=0)
    needed_by = models.DateField(null=True, blank=True)
    view = models.ForeignKey(ShellView, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    at = JSONField(default=list, blank=True)
    note = models.CharField(max_length=500, blank=True)
    order = models.ForeignKey(
        "parts.PartOrder", on_delete=models.SET_NULL, null=True, blank=True, related_name="needs"
    )
    chosen = models.PositiveIntegerField(null=True, blank=True)
    reason = models.CharField(max_length=300, blank=True)
    by = models.CharField(max_length=150)
    file = models.CharField(max_length=80, blank=True)

    class Meta:
        verbose_name = "need"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_need")]

    def __str__(self) -> str:
        return self.name

    @property
    def side(self) -> str:
        """Left or right, where it has a hand and somebody has said which."""
        return self.hand if self.hand in ("left", "right") else ""


class NeedStep(Kept):
    """One step of a need, forward or back; ``why``: where it was not the usual one."""

    need = models.ForeignKey(Need, on_delete=models.CASCADE, related_name="steps")
    state = models.CharField(max_length=8, choices=list(STATES.items()))
    made_on = models.DateField()
    why = models.CharField(max_length=300, blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "step of a need"
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.state


class NeedQuote(Versioned):
    """What somebody asks for a need: see the core's ``Quote``."""

    need = models.ForeignKey(Need, on_delete=models.CASCADE, related_name="quotes")
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=80)
    source = models.CharField(max_length=14, choices=list(SOURCES.items()))
    price = models.DecimalField(max_digits=14, decimal_places=4)
    currency = models.CharField(max_length=3, choices=[(code, code) for code in CURRENCIES])
    rate = models.DecimalField(max_digits=12, decimal_places=6, default=Decimal(1))
    tax_rate = models.DecimalField(max_digits=7, decimal_places=4, default=Decimal(20))
    tax_in = models.BooleanField(default=True)
    carriage = models.DecimalField(max_digits=14, decimal_places=4, default=0)
    back = models.DecimalField(max_digits=14, decimal_places=4, null=True, blank=True)
    back_until = models.DateField(null=True, blank=True)
    days = models.PositiveIntegerField(default=7)
    late_days = models.PositiveIntegerField(null=True, blank=True)
    fit_h = models.FloatField(null=True, blank=True)
    hours = models.FloatField(default=0)
    lacks = JSONField(default=list)
    grade = models.CharField(max_length=40, blank=True)
    ref = models.CharField(max_length=40, blank=True)
    note = models.CharField(max_length=300, blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "quote"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["need", "number"], name="one_number_a_quote")]

    def __str__(self) -> str:
        return self.name


class ArrivalCheck(Kept):
    """What came, held against the car once: what was looked at (the core's ``ArrivalRequest``, as typed) and its verdict.

    ``after``: how many steps the need had then, which tells one arrival from the next.
    """

    need = models.ForeignKey(Need, on_delete=models.CASCADE, related_name="checks")
    checked_on = models.DateField()
    after = models.PositiveIntegerField()
    asked = JSONField()
    verdict = models.CharField(max_length=8, choices=list(VERDICTS.items()))
    hours = models.FloatField(default=0)
    note = models.CharField(max_length=300, blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "check of what came"
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.get_verdict_display()
