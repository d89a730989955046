"""A repair: the findings it mends and its way along the ribbon; the rules that its work is planned by."""

from django.db import models
from django.urls import reverse

from yellow_sill.core.cut.around import ROW_CLEAR_MM, SNAP_MM, STEP_MM
from yellow_sill.core.cut.asked import CORNER_RADIUS_MM, MARGIN_MM, WEB_MM
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.survey.models import Finding


class Repair(Versioned):
    """One numbered repair. ``state`` repeats the last step, so that lists need no search.

    ``nothing_lost``: who said, and on which day, that nothing goes with its pieces: {on, by, cuts}; it is said of the cuts as they were then.
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="repairs")
    number = models.PositiveIntegerField()
    title = models.CharField(max_length=80)
    findings = models.ManyToManyField(Finding, related_name="repairs")
    _history_m2m_fields = [findings]
    state = models.CharField(max_length=12)
    state_on = models.DateField()
    style = models.CharField(max_length=10, default="rectangle")
    margin_mm = models.FloatField(default=MARGIN_MM)
    corner_radius_mm = models.FloatField(default=CORNER_RADIUS_MM)
    web_mm = models.FloatField(default=WEB_MM)
    nothing_lost = JSONField(default=dict, blank=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_repair_a_number")]

    def __str__(self) -> str:
        return self.code

    @property
    def code(self) -> str:
        return f"R-{self.number:02d}"

    def get_absolute_url(self) -> str:
        return reverse("cut:cut", args=[self.vehicle_id, self.number])


class PlanRules(Versioned):
    """A vehicle's own rates, prices, weights and clearances for planning; what a record here lacks is as usual (the core's defaults).

    ``own_pace``: by kind of work whether it is reckoned with the pace that the log shows; a kind that is lacking: nobody was asked yet.
    """

    vehicle = models.OneToOneField(Vehicle, on_delete=models.CASCADE, related_name="plan_rules")
    margin_mm = models.FloatField(default=MARGIN_MM)
    corner_radius_mm = models.FloatField(default=CORNER_RADIUS_MM)
    web_mm = models.FloatField(default=WEB_MM)
    step_mm = models.FloatField(default=STEP_MM)
    row_clear_mm = models.FloatField(default=ROW_CLEAR_MM)
    snap_mm = models.FloatField(default=SNAP_MM)
    rates = JSONField(default=dict)
    prices = JSONField(default=dict)
    weights = JSONField(default=dict)
    processes = JSONField(default=list)
    own_pace = JSONField(default=dict)

    class Meta:
        verbose_name = "rules for planning"

    def __str__(self) -> str:
        return f"rules of {self.vehicle}"


class RibbonStep(Kept):
    """One recorded step along the ribbon, forward or back; never changed afterwards."""

    repair = models.ForeignKey(Repair, on_delete=models.CASCADE, related_name="steps")
    state = models.CharField(max_length=12)
    made_on = models.DateField()
    by = models.CharField(max_length=150)
    note = models.CharField(max_length=300, blank=True)
    despite = models.CharField("gone on without the check because", max_length=2000, blank=True)

    class Meta:
        verbose_name = "step of a repair"
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.state

    @property
    def despite_words(self) -> str:
        return "before all was ready" if self.state == "cut" else "without a passed datum check"
