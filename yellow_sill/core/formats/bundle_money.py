"""Money in a bundle: receipts, bank, budget and terms; suppliers, orders, what is sold on, a customer's sheets."""

from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import Field

from ..parts.amount import CURRENCIES
from ..parts.basket import DiscountDays
from ..parts.customer import PAPERS, RepairAsked
from ..parts.landed import Amount, Rate
from ..parts.ledger import Signed
from ..parts.receipt import Price
from ..records import OneOf, Record
from .bundle_base import Name, Number
from .bundle_record import CostKind, PaymentKey

#: A receipt's photo or PDF.
PAPER_FILE = r"^[0-9a-f]{32}\.(jpg|pdf)$"
_Text = Annotated[str, Field(max_length=300)]
_Short = Annotated[str, Field(max_length=120)]
_Repair = Annotated[int, Field(ge=0)]


class ReceiptLinePart(Record):
    """A line of a receipt; ``repair``, ``need``: numbers, 0 for none."""

    item: Annotated[str, Field(min_length=1, max_length=120)]
    quantity: Annotated[Decimal, Field(gt=0, max_digits=10, decimal_places=3)]
    unit_price: Price
    tax_rate: Annotated[Decimal, Field(ge=0, le=100, max_digits=5, decimal_places=2)]
    discount: Rate = Decimal(0)
    kind: CostKind
    repair: _Repair = 0
    need: _Repair = 0


class ReceiptPart(Record):
    """A receipt; ``mirrors``: the number of the one that it takes back, 0 for none."""

    number: Number
    day: date
    supplier: Annotated[str, Field(max_length=80)]
    reference: Annotated[str, Field(max_length=60)] = ""
    currency: Annotated[str, OneOf(CURRENCIES)]
    rate: Annotated[Decimal, Field(gt=0, le=100_000, max_digits=12, decimal_places=6)] = Decimal(1)
    tax_in: bool = True
    rounds: Literal["line", "total"] = "line"
    discount: Rate = Decimal(0)
    discount_after: bool = False
    carriage: Amount = Decimal(0)
    printed: Signed | None = None
    credit: bool = False
    mirrors: _Repair = 0
    despite: _Text = ""
    note: _Text = ""
    by: Name
    file: Annotated[str, Field(pattern=PAPER_FILE)] | Literal[""] = ""
    paid_by: Annotated[list[PaymentKey], Field(max_length=20)] = []
    lines: Annotated[list[ReceiptLinePart], Field(min_length=1, max_length=2000)]

    @property
    def caption(self) -> str:
        """What its picture shows."""
        return f"receipt of {self.supplier}"


class BankLinePart(Record):
    key: PaymentKey
    day: date
    amount: Signed
    text: Annotated[str, Field(max_length=200)]
    state: Literal["open", "booked", "left"] = "open"


class StatementPart(Record):
    """A statement: of its payments those that were booked; its rows are the purse of whoever brought it in, and stay there."""

    number: Number
    name: _Short
    rows: Annotated[list[Annotated[list[str], Field(max_length=200)]], Field(max_length=20_000)] = []
    columns: dict[str, Any] = {}
    heading: bool = True
    by: Name
    lines: Annotated[list[BankLinePart], Field(max_length=20_000)] = []


class BudgetPart(Record):
    number: Number
    name: Annotated[str, Field(min_length=1, max_length=60)]
    amount: Amount
    repairs: Annotated[list[_Repair], Field(max_length=1000)] = []
    kinds: Annotated[list[CostKind], Field(max_length=40)] = []
    by: Name


class TermsPart(Record):
    hour: Amount = Decimal(0)
    charge: Amount = Decimal(0)
    mark_up: Annotated[Decimal, Field(ge=-100, le=1000, max_digits=7, decimal_places=2)] = Decimal(0)
    tax_rate: Rate = Decimal(20)


class SupplierPart(Record):
    number: Number
    name: Annotated[str, Field(min_length=1, max_length=80)]
    carriage: Amount = Decimal(0)
    carriage_kg: Amount = Decimal(0)
    free_above: Amount | None = None
    minimum: Amount = Decimal(0)
    discounts: Annotated[list[DiscountDays], Field(max_length=6)] = []
    address: Annotated[str, Field(max_length=200)] = ""
    note: _Text = ""
    by: Name


class OrderPart(Record):
    number: Number
    supplier: Annotated[str, Field(max_length=80)]
    ordered_on: date
    reference: Annotated[str, Field(max_length=60)] = ""
    state: Annotated[str, Field(max_length=10)] = ""
    expected: date | None = None
    told: _Text = ""
    note: _Text = ""
    by: Name


class SurplusPart(Record):
    number: Number
    name: Annotated[str, Field(min_length=1, max_length=80)]
    asking: Amount | None = None
    note: _Text = ""
    by: Name
    file: Annotated[str, Field(max_length=80)] = ""

    @property
    def caption(self) -> str:
        """What its photo shows."""
        return self.name


class PaperPart(Record):
    """A customer's sheet as it was given out."""

    number: Number
    paper: Annotated[str, OneOf(PAPERS)]
    made_on: date
    customer: _Short = ""
    charge: Amount
    mark_up: Annotated[Decimal, Field(ge=-100, le=1000, max_digits=7, decimal_places=2)] = Decimal(0)
    tax_rate: Rate = Decimal(20)
    repairs: Annotated[list[RepairAsked], Field(min_length=1, max_length=400)]
    note: Annotated[str, Field(max_length=500)] = ""
    agreed_on: date | None = None
    agreed_by: _Short = ""
    by: Name


class MoneyPart(Record):
    """All of it."""

    receipts: Annotated[list[ReceiptPart], Field(max_length=10_000)] = []
    statements: Annotated[list[StatementPart], Field(max_length=500)] = []
    budgets: Annotated[list[BudgetPart], Field(max_length=60)] = []
    terms: TermsPart | None = None
    suppliers: Annotated[list[SupplierPart], Field(max_length=500)] = []
    orders: Annotated[list[OrderPart], Field(max_length=3000)] = []
    surplus: Annotated[list[SurplusPart], Field(max_length=3000)] = []
    papers: Annotated[list[PaperPart], Field(max_length=1000)] = []
