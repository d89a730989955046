"""The datum book of a vehicle, its measuring rounds and their readings, and the stands it is on."""

from django.db import models
from django.urls import reverse

from yellow_sill.core.datum.network import KIND_WORDS, TOLERANCE_MM, TRUST_SIGMA_MM
from yellow_sill.core.datum.next_reading import HEIGHT_SIGMA_MM, TAPE_SIGMA_MM
from yellow_sill.core.datum.starting_set import POINT_KINDS, SOURCES
from yellow_sill.core.datum.walk import STAGES
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.shells.models import Vehicle


class DatumPoint(Versioned):
    """A place on the shell that can be found again, and where it belongs."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="datum_points")
    code = models.CharField(max_length=12)
    place = models.PositiveSmallIntegerField()
    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=6, choices=list(POINT_KINDS.items()), default="hole")
    how = models.CharField("how to find it", max_length=200, blank=True)
    x_mm = models.FloatField()
    y_mm = models.FloatField()
    z_mm = models.FloatField()
    typed = JSONField(default=list)
    source = models.CharField(max_length=8, choices=list(SOURCES.items()), default="drawing")
    source_note = models.CharField(max_length=200, blank=True)
    tolerance_mm = models.FloatField(default=TOLERANCE_MM)
    trusted = models.BooleanField(default=False)
    trust_sigma_mm = models.FloatField(default=TRUST_SIGMA_MM)
    mirror_code = models.CharField(max_length=12, blank=True)

    class Meta:
        verbose_name = "datum point"
        ordering = ["place", "pk"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "code"], name="one_point_a_code")]

    def __str__(self) -> str:
        return self.code

    def get_absolute_url(self) -> str:
        return reverse("datums:point", args=[self.vehicle_id, self.code])

    @property
    def nominal(self) -> list[float]:
        """Where it belongs: x, y, z, mm."""
        return [self.x_mm, self.y_mm, self.z_mm]


class Round(Versioned):
    """One measuring round at a stage of the rebuild; ``about`` is the repair it was taken for, empty for the whole shell.

    ``plan`` lists the readings to take in walking order as [kind, codes].
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="rounds")
    number = models.PositiveIntegerField()
    stage = models.CharField(max_length=10, choices=list(STAGES.items()))
    about = models.CharField(max_length=12, blank=True)
    taken_on = models.DateField()
    by = models.CharField(max_length=150)
    note = models.TextField(max_length=2000, blank=True)
    tape_sigma_mm = models.FloatField(default=TAPE_SIGMA_MM)
    height_sigma_mm = models.FloatField(default=HEIGHT_SIGMA_MM)
    plan = JSONField(default=list)

    class Meta:
        verbose_name = "measuring round"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_round_a_number")]

    def __str__(self) -> str:
        return f"Round {self.number}, {self.get_stage_display().lower()}"

    def get_absolute_url(self) -> str:
        return reverse("datums:round", args=[self.vehicle_id, self.number])


class Reading(Kept):
    """One reading as it was typed or taken; repeats are readings of their own. Struck ones stay, with the reason."""

    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="readings")
    kind = models.CharField(max_length=18, choices=list(KIND_WORDS.items()))
    first = models.ForeignKey(DatumPoint, on_delete=models.RESTRICT, related_name="+")
    second = models.ForeignKey(DatumPoint, on_delete=models.RESTRICT, related_name="+", null=True)
    third = models.ForeignKey(DatumPoint, on_delete=models.RESTRICT, related_name="+", null=True)
    value = models.FloatField()
    typed = models.CharField(max_length=40)
    by = models.CharField(max_length=150)
    made_at = models.DateTimeField()
    device = models.CharField(max_length=6, blank=True)
    struck_why = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.get_kind_display()} {self.value:g}"

    @property
    def codes(self) -> list[str]:
        return [point.code for point in (self.first, self.second, self.third) if point is not None]


class StandSet(Versioned):
    """The stands under a shell and the packers at hand: stands are [{id, x_mm, y_mm, packed_mm, most_mm}].

    ``log`` keeps what went in by which round's heights: [{round, by, before: {stand: mm}, after: {stand: mm}}].
    """

    vehicle = models.OneToOneField(Vehicle, on_delete=models.CASCADE, related_name="stand_set")
    stands = JSONField(default=list)
    packers_mm = JSONField(default=list)
    packers_typed = models.CharField(max_length=120, blank=True)
    rigid = models.BooleanField(default=True)
    log = JSONField(default=list)

    class Meta:
        verbose_name = "stands"

    def __str__(self) -> str:
        return f"{len(self.stands)} stands"
