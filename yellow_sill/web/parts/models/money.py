"""Lines of cost, receipts, the bank, the budget, and what is sold on."""

from decimal import Decimal

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from yellow_sill.core.parts.amount import CURRENCIES, Money
from yellow_sill.core.parts.lines import COST_KINDS, Line, line_sum
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .needs import Need

KINDS = list(COST_KINDS.items())
_CODES = [(code, code) for code in CURRENCIES]


def _amount(**more) -> models.DecimalField:
    return models.DecimalField(max_digits=14, decimal_places=4, **more)


def _rate() -> models.DecimalField:
    return models.DecimalField(max_digits=12, decimal_places=6, default=Decimal(1))


def _percent(**more) -> models.DecimalField:
    return models.DecimalField(max_digits=7, decimal_places=4, **more)


class Receipt(Versioned):
    """The head of a receipt as it is printed: see the core's ``ReceiptRequest``.

    ``rate``: so many of the own currency for one of its; ``mirrors``: the receipt that a credit note takes back; ``despite``: why it stands although
    it does not add up; ``file``: its photo (.jpg) or PDF.
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="receipts")
    number = models.PositiveIntegerField()
    day = models.DateField()
    supplier = models.CharField(max_length=80)
    reference = models.CharField(max_length=60, blank=True)
    currency = models.CharField(max_length=3, choices=_CODES)
    rate = _rate()
    tax_in = models.BooleanField(default=True)
    rounds = models.CharField(
        max_length=5, choices=[("line", "by line"), ("total", "on the total")], default="line"
    )
    discount = _percent(default=Decimal(0))
    discount_after = models.BooleanField(default=False)
    carriage = _amount(default=Decimal(0))
    printed = _amount(null=True, blank=True)
    credit = models.BooleanField(default=False)
    mirrors = models.ForeignKey(
        "self", on_delete=models.SET_NULL, null=True, blank=True, related_name="credits"
    )
    despite = models.CharField(max_length=300, blank=True)
    note = models.CharField(max_length=300, blank=True)
    by = models.CharField(max_length=150)
    file = models.CharField(max_length=80, blank=True)

    class Meta:
        ordering = ["-day", "-number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_receipt")]

    def __str__(self) -> str:
        return f"{self.supplier} {self.reference}".strip()

    @property
    def is_pdf(self) -> bool:
        return self.file.endswith(".pdf")


class CostLine(Versioned):
    """One line of a receipt, for a repair or for the vehicle as a whole.

    ``currency``: "" is the vehicle's own; ``rate``: of the day, as typed; ``back``: it came back (credit, sold on); ``receipt``: whose line it is, where
    it is not a line by itself: its sums are that receipt's shares then.
    """

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="cost_lines")
    repair = models.ForeignKey(
        Repair, on_delete=models.CASCADE, related_name="cost_lines", null=True, blank=True
    )
    bought_on = models.DateField()
    supplier = models.CharField(max_length=80)
    item = models.CharField(max_length=120)
    kind = models.CharField(max_length=12, choices=KINDS, default="consumable")
    quantity = models.DecimalField(
        max_digits=10, decimal_places=3, default=Decimal(1), validators=[MinValueValidator(Decimal("0.001"))]
    )
    unit_price = models.DecimalField(max_digits=12, decimal_places=4, validators=[MinValueValidator(0)])
    tax_rate = models.DecimalField(
        max_digits=5,
        decimal_places=2,
        default=Decimal(20),
        validators=[MinValueValidator(0), MaxValueValidator(100)],
    )
    tax_included = models.BooleanField(default=True)
    currency = models.CharField(max_length=3, choices=_CODES, blank=True)
    rate = _rate()
    discount = _percent(default=Decimal(0), validators=[MinValueValidator(0), MaxValueValidator(100)])
    back = models.BooleanField(default=False)
    receipt = models.ForeignKey(
        Receipt, on_delete=models.CASCADE, null=True, blank=True, related_name="lines"
    )
    need = models.ForeignKey(
        Need, on_delete=models.SET_NULL, null=True, blank=True, related_name="cost_lines"
    )
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
        if self.receipt_id is None:
            total, sign = line_sum(self.line(self.vehicle.currency)), -1 if self.back else 1
            self.net_minor, self.gross_minor = sign * total.net.minor, sign * total.gross.minor
        super().save(*args, **kwargs)

    def line(self, currency: str) -> Line:
        """This line as the core reads it, in the vehicle's own currency."""
        return Line(
            supplier=self.supplier,
            item=self.item,
            kind=self.kind,
            quantity=self.quantity,
            unit_price=Money(self.unit_price * self.rate * (100 - self.discount) / 100, currency),
            tax_rate=self.tax_rate,
            tax_included=self.tax_included,
        )


class Budget(Versioned):
    """What may be spent on an area: numbers of repairs, kinds of cost (see the core's ``BudgetAsked``)."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="budgets")
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=60)
    amount = _amount()
    repairs = JSONField(default=list, blank=True)
    kinds = JSONField(default=list, blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_budget")]

    def __str__(self) -> str:
        return self.name


class Terms(Versioned):
    """What an hour is worth to oneself and is charged at, and the mark-up and tax that a customer pays."""

    vehicle = models.OneToOneField(Vehicle, on_delete=models.CASCADE, related_name="terms")
    hour = _amount(default=Decimal(0))
    charge = _amount(default=Decimal(0))
    mark_up = models.DecimalField(max_digits=7, decimal_places=2, default=Decimal(0))
    tax_rate = _percent(default=Decimal(20))

    class Meta:
        verbose_name = "terms"

    def __str__(self) -> str:
        return "Terms"


class BankStatement(Versioned):
    """A statement as it came: its rows as texts, and the columns once they are chosen (the core's ``Columns``)."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="statements")
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=120)
    rows = JSONField()
    columns = JSONField(default=dict, blank=True)
    heading = models.BooleanField(default=True)
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "bank statement"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_statement")]

    def __str__(self) -> str:
        return self.name


class BankLine(Kept):
    """A payment on a statement, told again in any other by its key; ``receipt`` or ``line``: what it paid, once somebody has said so."""

    class State(models.TextChoices):
        OPEN = "open", "open"
        BOOKED = "booked", "booked"
        LEFT = "left", "not of this vehicle"

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="bank_lines")
    statement = models.ForeignKey(BankStatement, on_delete=models.CASCADE, related_name="lines")
    key = models.CharField(max_length=40)
    day = models.DateField()
    amount = _amount()
    text = models.CharField(max_length=200)
    state = models.CharField(max_length=6, choices=State, default=State.OPEN)
    receipt = models.ForeignKey(
        Receipt, on_delete=models.SET_NULL, null=True, blank=True, related_name="payments"
    )
    line = models.ForeignKey(
        CostLine, on_delete=models.SET_NULL, null=True, blank=True, related_name="payments"
    )

    class Meta:
        verbose_name = "payment"
        ordering = ["-day", "-pk"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "key"], name="one_key_a_payment")]

    def __str__(self) -> str:
        return self.text
