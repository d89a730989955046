"""The ledger: added up by hand, forecast beside the plain ways over thousands of simulated rebuilds, budgets."""

import math
import random
from decimal import Decimal
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.forecast import TENTH, TOGETHER, Uncertain, band
from yellow_sill.core.parts.ledger import LedgerRequest, ledger

LINES = [
    {"day": "2026-01-10", "repair": 2, "supplier": "Lantern", "kind": "part", "net": "100", "gross": "120"},
    {"day": "2026-02-03", "supplier": "Kettle", "kind": "consumable", "net": "40", "gross": "48"},
    {"day": "2026-02-20", "repair": 2, "supplier": "Lantern", "kind": "part", "net": "-20", "gross": "-24"},
]


def asked(**more) -> LedgerRequest:
    return LedgerRequest.read({"lines": LINES} | more)


def pounds(amount: str | float) -> Money:
    return Money(Decimal(str(amount)), "GBP").rounded()


class LedgerTest(TestCase):
    def test_sums_by_hand(self) -> None:
        told = ledger(asked(minutes=600, hour="20"))
        self.assertEqual((told.total.net, told.total.tax, told.total.gross), (pounds(120), pounds(24), pounds(144)))  # fmt: skip
        self.assertEqual((told.spent, told.back), (pounds(168), pounds(24)))
        self.assertEqual((told.labour, told.with_labour, told.per_hour), (pounds(200), pounds(344), pounds("14.4")))  # fmt: skip
        self.assertEqual([(each.name, each.sum.gross) for each in told.by_supplier], [("Lantern", pounds(96)), ("Kettle", pounds(48))])  # fmt: skip
        self.assertEqual([(f"{day}", total) for day, total in told.steps], [("2026-01-10", pounds(120)), ("2026-02-20", pounds(144))])  # fmt: skip
        self.assertIsNone(ledger(asked()).per_hour)

    def test_what_has_no_price_is_told_and_not_counted(self) -> None:
        told = ledger(asked(coming=[{"what": "Wing", "ordered": True, "likely": "150"}, {"what": "Seal"}]))
        self.assertEqual((told.committed, told.finish.likely, told.unknown), (pounds(150), pounds(294), ["Seal"]))  # fmt: skip
        self.assertIn("Seal", told.words)

    def test_a_budget_counts_its_repairs_first(self) -> None:
        told = ledger(asked(
            budgets=[{"name": "Parts", "amount": "30", "kinds": ["part"]}, {"name": "Sill", "amount": "100", "repairs": [2]}],
            coming=[{"what": "Skin", "repair": 2, "likely": "40"}],
        ))  # fmt: skip
        parts, sill = told.budgets
        self.assertEqual((parts.spent, parts.over), (pounds(0), pounds(-30)))
        self.assertEqual((sill.spent, sill.to_come, sill.over), (pounds(96), pounds(40), pounds(36)))
        self.assertEqual(told.unbudgeted, pounds(48))

    def test_what_lies_in_the_garage_is_not_bought_again(self) -> None:
        coming = [
            {"what": "Steel", "repair": 2, "kind": "steel", "low": "30", "likely": "40", "high": "60"},
            {"what": "Gas", "kind": "consumable", "likely": "10"},
        ]
        for worth, rest in (("0", 50), ("10", 40), ("90", 10)):
            told = ledger(
                asked(
                    coming=coming,
                    in_hand={"steel": worth},
                    budgets=[{"name": "A", "amount": "0", "repairs": [2]}],
                )
            )
            self.assertAlmostEqual(float(told.to_come.likely.amount), rest, delta=2.5)
            self.assertEqual(told.budgets[0].to_come, pounds(rest - 10))
            self.assertLessEqual(told.to_come.low.amount, told.to_come.high.amount)

    def test_refused(self) -> None:
        for more, what in (
            ({"budgets": [{"name": "A", "amount": "1"}] * 2}, "same name"),
            ({"coming": [{"what": "Wing", "low": "9", "likely": "5"}]}, "backwards"),
            ({"coming": [{"what": "Wing", "low": "9"}]}, "likely costs is not said"),
        ):
            with self.assertRaisesRegex(BadField, what):
                ledger(asked(**more))

    @given(st.lists(st.tuples(st.integers(0, 3), st.sampled_from(["part", "steel"]), st.integers(-99999, 99999)), max_size=40))  # fmt: skip
    def test_every_grouping_adds_up_to_the_whole(self, rows) -> None:
        lines = [
            {"day": f"2026-0{1 + n % 9}-11", "repair": repair, "supplier": f"S{repair}", "kind": kind, "net": str(Decimal(pence) / 120),
             "gross": str(Decimal(pence) / 100)}
            for n, (repair, kind, pence) in enumerate(rows)
        ]  # fmt: skip
        for each in lines:
            each["net"] = str(Decimal(each["net"]).quantize(Decimal("0.0001")))
        told = ledger(LedgerRequest.read({"lines": lines, "budgets": [{"name": "A", "amount": "5", "repairs": [1], "kinds": ["steel"]}]}))  # fmt: skip
        zero = pounds(0)
        for groups in (told.by_repair, told.by_supplier, told.by_kind, told.by_month):
            self.assertEqual(sum((each.sum.gross for each in groups), zero), told.total.gross)
        self.assertEqual(told.budgets[0].spent + told.unbudgeted, told.total.gross)
        if told.steps:
            self.assertEqual(told.steps[-1][1], told.total.gross)


class ForecastTest(TestCase):
    """Simulated rebuilds: parts with a true spread that run together; how often the truth lies in the band, beside two plain ways."""

    def test_four_times_in_five_the_truth_is_in_the_band(self) -> None:
        rng = random.Random(12)
        held = {"band": 0, "lows and highs added": 0, "a tenth either way": 0}
        wide, plainly_wide, below, cases = 0.0, 0.0, 0, 4000
        for _ in range(cases):
            parts, truth, shared = [], 0.0, rng.gauss(0, 1)
            for _ in range(rng.randint(2, 30)):
                middle, log = rng.uniform(20, 400), rng.uniform(0.05, 0.6)
                ends = (middle * math.exp(side * TENTH * log) for side in (-1, 1))
                low, high = map(pounds, ends)
                parts.append(Uncertain(low=low, likely=pounds(middle), high=high))
                own = math.sqrt(TOGETHER) * shared + math.sqrt(1 - TOGETHER) * rng.gauss(0, 1)
                truth += middle * math.exp(log * own)
            told = band(parts, "GBP")
            likely, low, high = (
                float(sum((getattr(each, what).amount for each in parts), Decimal(0)))
                for what in ("likely", "low", "high")
            )
            held["band"] += float(told.low.amount) <= truth <= float(told.high.amount)
            held["lows and highs added"] += low <= truth <= high
            held["a tenth either way"] += 0.9 * likely <= truth <= 1.1 * likely
            wide, plainly_wide = wide + float((told.high - told.low).amount), plainly_wide + high - low
            below += truth <= float(told.likely.amount)
        off = {name: abs(count / cases - 0.8) for name, count in held.items()}
        self.assertEqual(min(off, key=off.__getitem__), "band", held)
        self.assertLess(off["band"], 0.03)
        self.assertLess(wide, 0.75 * plainly_wide)
        self.assertAlmostEqual(below / cases, 0.5, delta=0.04)

    def test_known_for_sure(self) -> None:
        sure = Uncertain(low=pounds(7), likely=pounds(7), high=pounds(7))
        self.assertEqual(band([sure, sure], "GBP"), Uncertain(low=pounds(14), likely=pounds(14), high=pounds(14)))  # fmt: skip
        self.assertEqual(band([], "GBP").high, pounds(0))
