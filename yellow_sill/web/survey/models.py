"""Findings and the evidence for them."""

from functools import cache

from django.db import models
from django.urls import reverse

from yellow_sill.core.survey.grading import METHOD_WORDS, Evidence, Grade
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.shells.models import Panel, Vehicle


@cache
def _address(vehicle_id: int) -> str:
    """Where a vehicle's findings live; boards ask for hundreds of them at once."""
    return reverse("survey:finding", args=[vehicle_id, 0]).removesuffix("0/")


def finding_address(vehicle_id: int, number: int) -> str:
    return f"{_address(vehicle_id)}{number}/"


class Finding(Versioned):
    """Bad metal on one panel. Grade and reason come from the core and follow the evidence."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="findings")
    number = models.PositiveIntegerField()
    panel = models.ForeignKey(Panel, on_delete=models.PROTECT, related_name="findings")
    title = models.CharField(max_length=80, blank=True)
    outline = models.JSONField()
    outline_typed = models.TextField(blank=True)
    area_mm2 = models.FloatField()
    bounds_mm = models.JSONField()
    grade = models.CharField(max_length=1, blank=True)
    why = models.TextField(blank=True)
    note = models.TextField(blank=True)
    found_on = models.DateField()
    found_by = models.CharField(max_length=150)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_finding_a_number")]

    def __str__(self) -> str:
        return f"Finding {self.number}"

    def get_absolute_url(self) -> str:
        return finding_address(self.vehicle_id, self.number)

    @property
    def head(self) -> str:
        return self.title or self.panel.name

    @property
    def grade_word(self) -> str:
        return Grade(self.grade).word if self.grade else "Not graded"


class EvidenceItem(models.Model):
    """One look at a finding."""

    finding = models.ForeignKey(Finding, on_delete=models.CASCADE, related_name="evidence")
    method = models.CharField(max_length=10)
    result = models.CharField(max_length=12)
    hits = models.PositiveSmallIntegerField(null=True, blank=True)
    tries = models.PositiveSmallIntegerField(null=True, blank=True)
    thickness_mm = models.FloatField(null=True, blank=True)
    made_on = models.DateField()
    made_by = models.CharField(max_length=150)

    class Meta:
        ordering = ["made_on", "pk"]

    def __str__(self) -> str:
        return f"{METHOD_WORDS[self.method]}: {self.result}"

    def record(self) -> Evidence:
        """This look as the core reads it."""
        return Evidence(method=self.method, result=self.result, made_on=self.made_on, hits=self.hits, tries=self.tries, thickness_mm=self.thickness_mm)
