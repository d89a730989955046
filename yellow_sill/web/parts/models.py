"""What is wanted with its quotes and steps, and lines of cost."""

from decimal import Decimal

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from yellow_sill.core.parts.amount import CURRENCIES, Money
from yellow_sill.core.parts.landed import SOURCES
from yellow_sill.core.parts.lines import Line, line_sum
from yellow_sill.core.parts.needs import STATES
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import ShellView, Vehicle

KINDS = [
    ("steel", "Steel"),
    ("part", "Part"),
    ("consumable", "Gas, wire, discs"),
    ("coating", "Primer, sealer, wax"),
    ("tool", "Tool"),
    ("service", "Work by others"),
]


class CostLine(Versioned):
    """One line of a receipt, for a repair or for the vehicle as a whole."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="cost_lines")
    repair = models.ForeignKey(
        Repair, on_delete=models.CASCADE, related_name="cost_lines", null=True, blank=True
    )
    bought_on = models.DateField()
    supplier = models.CharField(max_length=80)
    item = models.CharField(max_length=120)
    kind = models.CharField(max_length=12, choices=KINDS, default="consumable")
    quantity = models.DecimalField(
        max_digits=10, decimal_places=3, default=1, validators=[MinValueValidator(Decimal("0.001"))]
    )
    unit_price = models.DecimalField(max_digits=12, decimal_places=4, validators=[MinValueValidator(0)])
    tax_rate = models.DecimalField(
        max_digits=5, decimal_places=2, default=20, validators=[MinValueValidator(0), MaxValueValidator(100)]
    )
    tax_included = models.BooleanField(default=True)
    by = models.CharField(max_length=150)
    net_minor = models.BigIntegerField(
        editable=False
    )  # the core's sums of this line in pence, kept so that SQL can add them
    gross_minor = models.BigIntegerField(editable=False)

    class Meta:
        verbose_name = "cost"
        ordering = ["-bought_on", "-pk"]
        indexes = [models.Index(fields=["vehicle", "-bought_on"])]

    def __str__(self) -> str:
        return self.item

    def save(self, *args, **kwargs) -> None:
        total = line_sum(self.line(self.vehicle.currency))
        self.net_minor, self.gross_minor = total.net.minor, total.gross.minor
        super().save(*args, **kwargs)

    def line(self, currency: str) -> Line:
        """This line as the core reads it."""
        return Line(
            supplier=self.supplier,
            item=self.item,
            kind=self.kind,
            quantity=self.quantity,
            unit_price=Money(self.unit_price, currency),
            tax_rate=self.tax_rate,
            tax_included=self.tax_included,
        )


HANDS = {"": "either, or nobody has said", "left": "left", "right": "right"}


class Need(Versioned):
    """A thing that is wanted.

    ``view``, ``at``: its place on the shell; ``variant``: year, body, which of two systems; ``sizes``: as typed; ``chosen``: number of the quote that
    was taken, with its reason; ``file``: a photo or sketch. Its state is that of its last step.
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="needs")
    repair = models.ForeignKey(Repair, on_delete=models.SET_NULL, related_name="needs", null=True, blank=True)
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=80)
    quantity = models.DecimalField(max_digits=10, decimal_places=3, default=1)
    hand = models.CharField(max_length=5, blank=True, choices=list(HANDS.items()))
    variant = models.CharField(max_length=200, blank=True)
    sizes = models.CharField(max_length=200, blank=True)
    needed_by = models.DateField(null=True, blank=True)
    view = models.ForeignKey(ShellView, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    at = JSONField(default=list, blank=True)
    note = models.CharField(max_length=500, blank=True)
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
    rate = models.DecimalField(max_digits=12, decimal_places=6, default=1)
    tax_rate = models.DecimalField(max_digits=7, decimal_places=4, default=20)
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
    note = models.CharField(max_length=300, blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "quote"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["need", "number"], name="one_number_a_quote")]

    def __str__(self) -> str:
        return self.name
