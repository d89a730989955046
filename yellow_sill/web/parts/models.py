"""Lines of cost. Orders, options and stock come with the parts stage."""

from decimal import Decimal

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.lines import Line, line_sum
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

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
