"""How a shell stands while it is worked on, what it was before, the order it is taken apart in, and what a dial said of it."""

from django.db import models

from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.shells.models import Vehicle


class HoldSetup(Versioned):
    """Stands, braces, what is out or new beside the repairs, what hangs on the shell.

    ``stands``: names of nodes, None for the usual ones; ``braces``: [{start, end, tube, ends, fitted_on}]; ``tube``, ``ends``: of the next one;
    ``cuts``: [[view, panel, u, v]], panels cut to a place; ``ties``: [{panel, nodes}], a person's own panels; ``softness``: see the core's calibrate.
    """

    vehicle = models.OneToOneField(Vehicle, on_delete=models.CASCADE, related_name="hold_setup")
    stands = JSONField(null=True, default=None)
    braces = JSONField(default=list)
    tube = models.CharField(max_length=8, default="25x2")
    ends = models.CharField(max_length=8, default="welded")
    out = JSONField(default=list)
    new = JSONField(default=list)
    cuts = JSONField(default=list)
    engine_in = models.BooleanField(default=False)
    doors_on = models.BooleanField(default=False)
    on_chassis = models.BooleanField(default=True)
    ties = JSONField(default=list)
    softness = models.FloatField(default=1.0)

    class Meta:
        verbose_name = "way the shell stands"

    def __str__(self) -> str:
        return f"{len(self.braces)} braces, {len(self.out)} parts out"


class HoldState(models.Model):
    """How the shell stood from a day on; never changed afterwards."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="hold_states")
    made_on = models.DateField()
    by = models.CharField(max_length=150)
    setup = JSONField()

    class Meta:
        ordering = ["made_on", "pk"]

    def __str__(self) -> str:
        return f"from {self.made_on}"


class DialReading(Kept):
    """A weight hung on a node and what a dial said; ``softness`` is what the shell was taken for from then on."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="dial_readings")
    node = models.CharField(max_length=8)
    kg = models.FloatField()
    read_mm = models.FloatField()
    predicted_mm = models.FloatField()
    softness = models.FloatField()
    made_on = models.DateField()
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "dial reading"
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.kg:g} kg, {self.read_mm:g} mm"


class WorkOrder(Versioned):
    """The order in which whole parts come out and go in new: [{action, done_on}], action as the core writes it (- out, + new in).

    ``despite``: why it was accepted although a step leaves the shell LOOSE; a step that was done into LOOSE keeps its own.
    """

    vehicle = models.OneToOneField(Vehicle, on_delete=models.CASCADE, related_name="work_order")
    steps = JSONField(default=list)
    accepted_on = models.DateField()
    despite = models.CharField(max_length=300, blank=True)

    class Meta:
        verbose_name = "order of removal"

    def __str__(self) -> str:
        return f"{len(self.steps)} steps"
