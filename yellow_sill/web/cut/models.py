"""Cuts: where a panel is cut and why so, what is round it, how it is released, what goes with the piece."""

from django.db import models

from yellow_sill.core.cut.lost import LOST_KINDS
from yellow_sill.core.cut.rows import PITCH_MM as SPOT_PITCH_MM
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField, SaidField, SaidJSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Panel
from yellow_sill.web.survey.models import Finding


class Cuts(models.QuerySet):
    """Cuts as they are asked for."""

    def without_drawings(self) -> "Cuts":
        """With their panels and views, but for the views' drawings, which are large."""
        return self.select_related("panel__view").defer("panel__view__features", "panel__view__silhouette")


class Cut(Versioned):
    """One cut in one panel. ``corners`` are the person's, ``outline`` is what the core makes of them.

    ``said``: what a person said of stretches of the outline, [{at, kind}], beside what the shell says.
    """

    objects = Cuts.as_manager()

    repair = models.ForeignKey(Repair, on_delete=models.CASCADE, related_name="cuts")
    number = models.PositiveSmallIntegerField()
    panel = models.ForeignKey(Panel, on_delete=models.PROTECT, related_name="cuts")
    findings = models.ManyToManyField(Finding, related_name="cuts")
    _history_m2m_fields = [findings]
    proposed_corners = JSONField()
    corners = JSONField()
    outline = JSONField()
    weld_length_mm = models.FloatField()
    area_mm2 = models.FloatField()
    remarks = SaidJSONField(default=list)
    said = JSONField(default=list)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["repair", "number"], name="one_cut_a_number")]

    def __str__(self) -> str:
        return f"cut {self.number}"

    @property
    def moved(self) -> bool:
        return self.corners != self.proposed_corners


class SheetStep(Kept):
    """One recorded step of one sheet, forward or back; never changed afterwards. A sheet without any is as far as its repair."""

    cut = models.ForeignKey(Cut, on_delete=models.CASCADE, related_name="sheet_steps")
    state = models.CharField(max_length=12)
    made_on = models.DateField()
    by = models.CharField(max_length=150)
    note = models.CharField(max_length=300, blank=True)
    despite = models.CharField("gone on before what lies behind because", max_length=2000, blank=True)

    class Meta:
        verbose_name = "step of a sheet"
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.state


class PanelChoice(Versioned):
    """Which way a panel of a repair is renewed and why; ``options`` keeps the ways it was compared with (the core's Option, without outlines)."""

    repair = models.ForeignKey(Repair, on_delete=models.CASCADE, related_name="choices")
    panel = models.ForeignKey(Panel, on_delete=models.CASCADE, related_name="choices")
    chosen = models.CharField(max_length=60)
    words = SaidField()
    why = models.CharField(max_length=300)
    tips = SaidField()
    turns = SaidJSONField(default=list)
    options = SaidJSONField(default=list)
    priced = JSONField(default=dict)
    decided_on = models.DateField()

    class Meta:
        verbose_name = "chosen way"
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["repair", "panel"], name="one_choice_a_panel")]

    def __str__(self) -> str:
        return f"{self.words}: {self.why}"


class Surrounding(Versioned):
    """Something that cuts of a panel meet and the drawing does not show: a row of spot welds, a line to end on, what must stay, what is behind.

    ``points`` are its path or outline in the panel's plane, mm; for a row with ``marked`` each is an old spot weld.
    """

    KINDS = {
        "row": "Row of spot welds", "seam": "Seam to end on", "swage": "Swage or fold to end on", "flange": "Flange to end on",
        "curve": "Curve that must stay true", "keep-out": "Metal that must stay", "fitting": "Fitting behind",
    }  # fmt: skip
    OUTLINES = ("keep-out", "fitting")

    panel = models.ForeignKey(Panel, on_delete=models.CASCADE, related_name="surroundings")
    kind = models.CharField(max_length=8, choices=list(KINDS.items()))
    name = models.CharField(max_length=60)
    points = JSONField()
    marked = models.BooleanField(default=False)
    pitch_mm = models.FloatField(default=SPOT_PITCH_MM)
    survives = models.CharField(max_length=60, blank=True)
    drill_here = models.BooleanField(default=True)
    drill_behind = models.BooleanField(default=False)
    both_sides = models.BooleanField(default=False)

    class Meta:
        verbose_name = "thing round a panel"
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["panel", "name"], name="one_surrounding_a_name_and_panel")
        ]

    def __str__(self) -> str:
        return self.name


class OwnPlan(Versioned):
    """A plan of the person's own for a panel: the outlines to cut out of it, compared with the usual ones."""

    repair = models.ForeignKey(Repair, on_delete=models.CASCADE, related_name="own_plans")
    panel = models.ForeignKey(Panel, on_delete=models.CASCADE, related_name="own_plans")
    name = models.CharField(max_length=60)
    outlines = JSONField()

    class Meta:
        verbose_name = "own plan"
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["repair", "panel", "name"], name="one_own_plan_a_name_and_panel")
        ]

    def __str__(self) -> str:
        return self.name


class CutGrowth(Kept):
    """A cut that had to be drawn larger than planned, and what that added; never changed afterwards."""

    repair = models.ForeignKey(Repair, on_delete=models.CASCADE, related_name="growths")
    panel = models.ForeignKey(Panel, on_delete=models.CASCADE, related_name="+")
    cut_number = models.PositiveSmallIntegerField()
    planned = JSONField()
    outline = JSONField()
    added_weld_mm = models.FloatField()
    added_area_mm2 = models.FloatField()
    added_min = models.FloatField()
    added_money = models.FloatField()
    words = SaidField()
    made_on = models.DateField()
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "growth of a cut"
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"cut {self.cut_number}: {self.words}"


class NuggetTick(Kept):
    """An old spot weld that is drilled: its place in the panel's plane, mm, and its number on the release list of that day."""

    repair = models.ForeignKey(Repair, on_delete=models.CASCADE, related_name="nugget_ticks")
    panel = models.ForeignKey(Panel, on_delete=models.CASCADE, related_name="+")
    number = models.PositiveSmallIntegerField()
    at = JSONField(default=list)
    done_on = models.DateField()
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "drilled spot weld"
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"nugget {self.number}"


class TransferMark(Versioned):
    """Something on the metal that goes, fixed to two marks on the metal that stays; places are in the panel's plane, mm.

    ``first_mm`` and ``second_mm`` are the two distances, or the offset along and across, by ``way``.
    """

    WAYS = {"distances": "Two tape distances", "offset": "Along and across the line"}

    cut = models.ForeignKey(Cut, on_delete=models.CASCADE, related_name="transfer_marks")
    number = models.PositiveSmallIntegerField()
    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=6, choices=list(LOST_KINDS.items()))
    first_name = models.CharField(max_length=40)
    second_name = models.CharField(max_length=40)
    first_at = JSONField()
    second_at = JSONField()
    apart_mm = models.FloatField(null=True, blank=True)
    way = models.CharField(max_length=9, choices=list(WAYS.items()), default="distances")
    first_mm = models.FloatField()
    second_mm = models.FloatField()
    near = JSONField()
    at = JSONField()
    error_mm = models.FloatField()
    remarks = SaidJSONField(default=list)
    measured_on = models.DateField()
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "transfer mark"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["cut", "number"], name="one_transfer_a_number")]

    def __str__(self) -> str:
        return f"T{self.number} {self.name}"
