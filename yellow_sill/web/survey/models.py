"""Findings, the inspections that saw them, what was looked at, and what is known of each panel."""

from functools import cache

from django.db import models
from django.urls import reverse

from yellow_sill.core.survey.grading import EVIDENCE_WORDS, METHOD_WORDS, RESULTS, SIGN, Evidence, Grade
from yellow_sill.core.survey.growth import STAGE_WORDS, STAGES
from yellow_sill.core.survey.old_repairs import KINDS, TESTS, VERDICTS
from yellow_sill.core.survey.rectify import SEEN_FROM
from yellow_sill.core.survey.thickness import PITCH_MM
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField, SaidField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.shells.models import Panel, ShellView, Vehicle


@cache
def _address(vehicle_id: int) -> str:
    """Where a vehicle's findings live; boards ask for hundreds of them at once."""
    return reverse("survey:finding", args=[vehicle_id, 0]).removesuffix("0/")


def finding_address(vehicle_id: int, number: int) -> str:
    return f"{_address(vehicle_id)}{number}/"


class Finding(Versioned):
    """Bad metal, or an old repair, on one panel. Outline, grade and reason are those of the latest inspection.

    ``grade`` follows from all evidence by the rules of the core, unless ``overruled_to`` says otherwise.
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="findings")
    number = models.PositiveIntegerField()
    panel = models.ForeignKey(Panel, on_delete=models.PROTECT, related_name="findings")
    title = models.CharField(max_length=80, blank=True)
    outline = JSONField()
    outline_typed = models.TextField(blank=True)
    area_mm2 = models.FloatField()
    bounds_mm = JSONField()
    grade = models.CharField(max_length=1, blank=True)
    why = SaidField(blank=True)
    note = models.TextField(blank=True)
    found_on = models.DateField()
    found_by = models.CharField(max_length=150)
    overruled_to = models.CharField(max_length=1, blank=True)
    overruled_reason = models.TextField(max_length=1000, blank=True)
    old_kind = models.CharField("previous repair", max_length=10, blank=True, choices=list(KINDS.items()))
    old_test = models.CharField(max_length=10, blank=True, choices=list(TESTS.items()))
    old_verdict = models.CharField(max_length=4, blank=True, choices=list(VERDICTS.items()))
    grid_pitch_mm = models.FloatField(default=PITCH_MM)

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
    def methods(self) -> list[str]:
        """How it was looked at so far, each method once."""
        return list(dict.fromkeys(item.method for item in self.evidence.all()))

    @property
    def grade_word(self) -> str:
        return Grade(self.grade).word if self.grade else "Not graded"


class Inspection(Kept):
    """One look at a finding on one day: at which stage, how far it went then; the methods used are its evidence."""

    finding = models.ForeignKey(Finding, on_delete=models.CASCADE, related_name="inspections")
    stage = models.CharField(
        max_length=10, choices=[(stage, STAGE_WORDS[stage]) for stage in STAGES], default=STAGES[0]
    )
    made_on = models.DateField()
    made_by = models.CharField(max_length=150)
    outline = JSONField()
    area_mm2 = models.FloatField()
    perimeter_mm = models.FloatField()

    class Meta:
        ordering = ["made_on", "pk"]

    def __str__(self) -> str:
        return f"{self.get_stage_display()}, {self.made_on}"


class EvidenceItem(Kept):
    """What one method showed at one inspection."""

    finding = models.ForeignKey(Finding, on_delete=models.CASCADE, related_name="evidence")
    inspection = models.ForeignKey(Inspection, on_delete=models.CASCADE, related_name="evidence")
    method = models.CharField(max_length=10)
    result = models.CharField(max_length=12)
    hits = models.PositiveSmallIntegerField(null=True, blank=True)
    tries = models.PositiveSmallIntegerField(null=True, blank=True)
    thickness_mm = models.FloatField(null=True, blank=True)
    made_on = models.DateField()
    made_by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "evidence"
        ordering = ["made_on", "pk"]

    def __str__(self) -> str:
        shown = RESULTS[SIGN][self.result][1] if self.method == SIGN else self.result
        return f"{EVIDENCE_WORDS[self.method]}: {shown}"

    def record(self) -> Evidence:
        """This look as the core reads it."""
        return Evidence(
            method=self.method,
            result=self.result,
            made_on=self.made_on,
            hits=self.hits,
            tries=self.tries,
            thickness_mm=self.thickness_mm,
        )


class GridReading(Kept):
    """A thickness reading in one cell of a finding's grid; a later reading of the cell replaces the earlier."""

    finding = models.ForeignKey(Finding, on_delete=models.CASCADE, related_name="readings")
    column = models.IntegerField()
    row = models.IntegerField()
    thickness_mm = models.FloatField()
    by_gauge = models.BooleanField(default=False)
    read_on = models.DateField()
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "thickness reading"
        ordering = ["-row", "column"]
        constraints = [
            models.UniqueConstraint(fields=["finding", "column", "row"], name="one_reading_a_cell")
        ]

    def __str__(self) -> str:
        return f"{self.thickness_mm:g} mm"


class LookedRegion(Kept):
    """A region of one view and layer that was looked at, and how."""

    view = models.ForeignKey(ShellView, on_delete=models.CASCADE, related_name="looked_regions")
    layer = models.PositiveSmallIntegerField()
    outline = JSONField()
    method = models.CharField(max_length=10)
    made_on = models.DateField()
    made_by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "region looked at"
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{METHOD_WORDS[self.method]}, {self.made_on}"


class PanelCover(models.Model):
    """How much of a panel was looked at; worked out anew whenever a region or finding on it changes."""

    panel = models.OneToOneField(Panel, on_delete=models.CASCADE, related_name="cover")
    area_mm2 = models.FloatField()
    looked_mm2 = models.FloatField()
    unknown = JSONField()

    def __str__(self) -> str:
        return f"{self.panel.code}: {self.looked_mm2:.0f} of {self.area_mm2:.0f} mm²"


class FarSide(Versioned):
    """What is fixed behind a panel: the answer that a repair needs before it is cut. 'Nothing there' is an answer.

    It has a place: the whole panel, or ``boxes`` in the panel's plane (u0, v0, u1, v1) round what was marked when it was given.
    """

    panel = models.OneToOneField(Panel, on_delete=models.CASCADE, related_name="far_side")
    answer = models.TextField(max_length=2000)
    method = models.CharField(max_length=10)
    answered_on = models.DateField()
    by = models.CharField(max_length=150)
    whole = models.BooleanField(default=False)
    boxes = JSONField(default=list)

    class Meta:
        verbose_name = "far side"

    def __str__(self) -> str:
        return self.answer[:60]

    @property
    def where_words(self) -> str:
        return (
            "the whole panel"
            if self.whole
            else "round what was marked"
            if self.boxes
            else "nobody said where"
        )


class PanelItem(Kept):
    """Something that goes with a panel: fixed behind it, to be saved from it, lacking on the new part, missing from the vehicle."""

    KINDS = {
        "behind": "Fixed behind",
        "salvage": "Save from the old metal",
        "lacking": "The new part lacks it",
        "missing": "Missing from the vehicle",
    }

    panel = models.ForeignKey(Panel, on_delete=models.CASCADE, related_name="items")
    kind = models.CharField(max_length=10, choices=list(KINDS.items()))
    text = models.CharField(max_length=200)
    done = models.BooleanField(default=False)
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "note on a panel"
        ordering = ["kind", "pk"]

    def __str__(self) -> str:
        return self.text


class SurveyPhoto(Kept):
    """A photo of a finding or panel, with what was traced on it: in pixels, and in millimetres where a card lay beside it."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="survey_photos")
    finding = models.ForeignKey(
        Finding, on_delete=models.CASCADE, related_name="photos", null=True, blank=True
    )
    panel = models.ForeignKey(Panel, on_delete=models.CASCADE, related_name="photos")
    file = models.CharField(max_length=80, unique=True)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    caption = models.CharField(max_length=200, blank=True)
    taken_on = models.DateField()
    by = models.CharField(max_length=150)
    trace = JSONField(default=list)
    reference = JSONField(default=list)
    size_mm = JSONField(null=True)
    distances_mm = JSONField(null=True)
    marks = JSONField(default=list)
    on_panel = JSONField(default=list)
    seen_from = models.CharField(
        max_length=8, blank=True, choices=list(SEEN_FROM.items())
    )  #: empty: nobody has said

    class Meta:
        verbose_name = "photo"
        ordering = ["taken_on", "pk"]

    def __str__(self) -> str:
        return self.caption or self.file


class SurveyImport(models.Model):
    """A table that was taken in, so that it can be taken back: findings made (numbers), and what changed ones were before.

    ``changed``: [{number, title, note, inspection}], the inspection that was added (None where only words changed).
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="survey_imports")
    made_at = models.DateTimeField(auto_now_add=True)
    by = models.CharField(max_length=150)
    made = JSONField(default=list)
    changed = JSONField(default=list)
    undone = models.BooleanField(default=False)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{len(self.made)} new, {len(self.changed)} changed"
