"""The records of parts and money."""

from .money import KINDS, BankLine, BankStatement, Budget, CostLine, Receipt, Terms
from .needs import HANDS, ArrivalCheck, Need, NeedQuote, NeedStep
from .trade import CustomerPaper, PartOrder, Supplier, Surplus

__all__ = [
    "HANDS", "KINDS", "ArrivalCheck", "BankLine", "BankStatement", "Budget", "CostLine", "CustomerPaper", "Need", "NeedQuote", "NeedStep", "PartOrder",
    "Receipt", "Supplier", "Surplus", "Terms",
]  # fmt: skip
