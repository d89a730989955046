"""The calendar: slots, what a person says of the steps, the plan that was taken, time that was worked, limits."""

from datetime import datetime

from django.db import models

from yellow_sill.core.order.work import LATEST_SPARK, LONGEST_BARE_H, OPEN_AREAS
from yellow_sill.core.repairs.hours import KIND_WORDS
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.logbook.models import WorkEntry
from yellow_sill.web.shells.models import Vehicle


class WorkSlot(Versioned):
    """Time that a person has, by the garage's own clock: a day, from, to, how many hands; ``missed``: it went by unused."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="work_slots")
    day = models.DateField()
    begins = models.TimeField()
    ends = models.TimeField()
    hands = models.PositiveSmallIntegerField(default=1)
    missed = models.BooleanField(default=False)
    note = models.CharField(max_length=120, blank=True)

    class Meta:
        verbose_name = "slot"
        ordering = ["day", "begins"]
        constraints = [
            models.UniqueConstraint(fields=["vehicle", "day", "begins"], name="one_slot_a_beginning")
        ]

    def __str__(self) -> str:
        return f"{self.day:%d.%m.%Y} {self.begins:%H:%M}"

    @property
    def begins_at(self) -> datetime:
        return datetime.combine(self.day, self.begins)

    @property
    def ends_at(self) -> datetime:
        return datetime.combine(self.day, self.ends)


class StepWord(Versioned):
    """What a person says of a step (the core's ``Changed`` besides its key); of an own step all of it."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="step_words")
    key = models.CharField(max_length=60)
    said = JSONField(default=dict)

    class Meta:
        verbose_name = "word on a step"
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "key"], name="one_word_a_step")]

    def __str__(self) -> str:
        return self.said.get("name") or self.key


class TakenPlan(Versioned):
    """The plan that was taken: [{key, name, repair, begins, ends, pieces, cure_h, sparks}]; ``told``: its finish and the bound of that."""

    vehicle = models.OneToOneField(Vehicle, on_delete=models.CASCADE, related_name="taken_plan")
    placed = JSONField(default=list)
    told = JSONField(default=dict)
    taken_on = models.DateField()

    class Meta:
        verbose_name = "plan"

    def __str__(self) -> str:
        return f"{len(self.placed)} steps"


class WorkTime(Kept):
    """Time on a step: since when it runs, and once it was stopped how many minutes it was and the hours they went into."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="work_times")
    key = models.CharField(max_length=60)
    name = models.CharField(max_length=120)
    repair = models.PositiveIntegerField(default=0)
    kind = models.CharField(max_length=10, choices=list(KIND_WORDS.items()))
    begun_at = models.DateTimeField()
    minutes = models.PositiveIntegerField(null=True, blank=True)
    entry = models.ForeignKey(WorkEntry, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "time on a step"
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name


class OrderLimits(Versioned):
    """How many areas may be open, how long metal may be bare, h, until when sparks may fly, and why that is more than the rule."""

    vehicle = models.OneToOneField(Vehicle, on_delete=models.CASCADE, related_name="order_limits")
    open_areas = models.PositiveSmallIntegerField(default=OPEN_AREAS)
    longest_bare_h = models.FloatField(default=LONGEST_BARE_H)
    latest_spark = models.TimeField(default=LATEST_SPARK)
    why = models.CharField(max_length=300, blank=True)

    class Meta:
        verbose_name = "limits of the plan"

    def __str__(self) -> str:
        return f"{self.open_areas} areas"


class CalendarAddress(models.Model):
    """The secret end of the address under which a calendar program reads the slots; it is a key, so no history and no bundle keeps it."""

    vehicle = models.OneToOneField(Vehicle, on_delete=models.CASCADE, related_name="calendar_address")
    token = models.CharField(max_length=48, unique=True)

    def __str__(self) -> str:
        return str(self.vehicle)
