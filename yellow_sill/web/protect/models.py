"""Protection: the products a garage owns, how warm it was, the faces of each sheet with their coats, and the boxes that close."""

from django.db import models

from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle


class OwnProduct(Versioned):
    """A product as its tin says: see the core's ``Product``; ``litres``: what is left of it, None where nobody has looked; ``bought_on``."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="products")
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=24)
    over = JSONField(default=list)
    opens = JSONField(default=list)
    closes = JSONField(default=list)
    cured = JSONField(default=list)
    least_c = models.FloatField(default=5.0)
    litre_m2 = models.FloatField(default=8.0)
    burns_c = models.FloatField(default=200.0)
    weld_through = models.BooleanField(default=False)
    isocyanate = models.BooleanField(default=False)
    shelf_months = models.PositiveIntegerField(default=24)
    bought_on = models.DateField(null=True, blank=True)
    litres = models.FloatField(null=True, blank=True)

    class Meta:
        verbose_name = "product"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_product")]

    def __str__(self) -> str:
        return self.name


class GarageWarmth(Kept):
    """From a moment on the garage has been so warm."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="warmths")
    since = models.DateTimeField()
    at_c = models.FloatField()
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "temperature of the garage"
        ordering = ["since", "pk"]

    def __str__(self) -> str:
        return f"{self.at_c:g} °C"


class Face(Versioned):
    """What is said of one face of a sheet: ``key`` is outer, inner, or the name of an edge that closes on another sheet.

    ``metal`` "" and ``bared_on`` None: nobody has said. ``overruled``: why a rule does not count here, by its number.
    """

    cut = models.ForeignKey(Cut, on_delete=models.CASCADE, related_name="faces")
    key = models.CharField(max_length=20)
    surface = models.CharField(max_length=10, blank=True)
    metal = models.CharField(max_length=12, blank=True)
    bared_on = models.DateField(null=True, blank=True)
    overruled = JSONField(default=dict)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["cut", "key"], name="one_face_a_key")]

    def __str__(self) -> str:
        return f"{self.key} of {self.cut}"


class Coat(Kept):
    """A coat that was put on a face: the product as its tin said then, when, by whom."""

    face = models.ForeignKey(Face, on_delete=models.CASCADE, related_name="coats")
    product = JSONField(default=dict)
    put_on = models.DateTimeField()
    by = models.CharField(max_length=150)
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["put_on", "pk"]

    def __str__(self) -> str:
        return str(self.product.get("name", "coat"))


class BoxWord(Versioned):
    """What a person says of the box that a repair closes: its pockets with their ways, where water was poured, what is still to be done inside."""

    repair = models.OneToOneField(Repair, on_delete=models.CASCADE, related_name="box_word")
    cavity = models.CharField(max_length=24, blank=True)
    pockets = JSONField(default=list)
    poured = JSONField(default=list)
    still = JSONField(default=list)

    class Meta:
        verbose_name = "box that closes"

    def __str__(self) -> str:
        return f"box of {self.repair}"
