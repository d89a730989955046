"""Suppliers and orders, what is sold on, and the sheets for a customer."""

from decimal import Decimal

from django.db import models

from yellow_sill.core.parts.customer import PAPERS
from yellow_sill.web.frame.kept import JSONField
from yellow_sill.web.frame.models import Versioned
from yellow_sill.web.shells.models import Vehicle

from .money import CostLine, _amount, _percent


class Supplier(Versioned):
    """From whom one orders: the core's ``BasketSupplier``; ``address``: of its catalogue, where it has one that answers."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="suppliers")
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=80)
    carriage = _amount(default=Decimal(0))
    carriage_kg = _amount(default=Decimal(0))
    free_above = _amount(null=True, blank=True)
    minimum = _amount(default=Decimal(0))
    discounts = JSONField(default=list, blank=True)
    address = models.CharField(max_length=200, blank=True)
    note = models.CharField(max_length=300, blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "name"], name="one_name_a_supplier")]

    def __str__(self) -> str:
        return self.name


class PartOrder(Versioned):
    """An order: to whom, when, under which number of theirs; its needs are those that name it."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="part_orders")
    number = models.PositiveIntegerField()
    supplier = models.CharField(max_length=80)
    ordered_on = models.DateField()
    reference = models.CharField(max_length=60, blank=True)
    state = models.CharField(max_length=10, blank=True)
    expected = models.DateField(null=True, blank=True)
    told = models.CharField(max_length=300, blank=True)
    note = models.CharField(max_length=300, blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "order"
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_an_order")]

    def __str__(self) -> str:
        return f"{self.number} {self.supplier}"


class Surplus(Versioned):
    """Something that can be sold on, with its asking price; ``line``: the income, once it is sold."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="surplus")
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=80)
    asking = _amount(null=True, blank=True)
    note = models.CharField(max_length=300, blank=True)
    line = models.ForeignKey(CostLine, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    by = models.CharField(max_length=150)
    file = models.CharField(max_length=80, blank=True)

    class Meta:
        verbose_name = "surplus"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_surplus")]

    def __str__(self) -> str:
        return self.name


class CustomerPaper(Versioned):
    """An estimate, variation or bill as it was given out: terms and repairs as they were then (the core's ``CustomerRequest``), and who agreed."""

    vehicle = models.ForeignKey(Vehicle, on_delete=models.CASCADE, related_name="papers")
    number = models.PositiveIntegerField()
    paper = models.CharField(max_length=9, choices=list(PAPERS.items()))
    made_on = models.DateField()
    customer = models.CharField(max_length=120, blank=True)
    charge = _amount()
    mark_up = models.DecimalField(max_digits=7, decimal_places=2, default=Decimal(0))
    tax_rate = _percent(default=Decimal(20))
    repairs = JSONField(default=list)
    note = models.CharField(max_length=500, blank=True)
    agreed_on = models.DateField(null=True, blank=True)
    agreed_by = models.CharField(max_length=120, blank=True)
    by = models.CharField(max_length=150)

    class Meta:
        verbose_name = "customer's sheet"
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["vehicle", "number"], name="one_number_a_paper")]

    def __str__(self) -> str:
        return f"{self.get_paper_display()} {self.number}"
