"""Sources side by side, receipts and statements: known answers, and what must hold of any."""

from datetime import date
from decimal import Decimal
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.bank import (
    MatchRequest,
    StatementRequest,
    amount_typed,
    day_typed,
    match,
    statement,
)
from yellow_sill.core.parts.landed import ChoiceRequest, source_choice
from yellow_sill.core.parts.receipt import ReceiptRequest, receipt, shared

DAY = date(2026, 3, 2)


def choice(**more):
    quotes = [
        {"name": "Lantern Panels", "source": "reproduction", "price": "120", "carriage": "18", "back": "18", "days": 9, "fit_h": 3},
        {"name": "Old Tin Barn", "source": "nos", "price": "210", "tax_in": False, "carriage": "0", "back": "0", "days": 4, "fit_h": 0.5},
    ]  # fmt: skip
    return source_choice(ChoiceRequest.read({"quotes": quotes, "today": DAY, **more}))


class Sources(TestCase):
    def test_landed_by_hand(self):
        first = choice(hour="20").order[0]
        # 120 + 18 carriage = 138; 3 h at 20 = 60; one in eight goes back: 0.12 x (18 + 18) = 4.32.
        self.assertEqual(
            [
                first.name,
                *(each.amount for each in (first.paid, first.worth_hours, first.risk, first.landed)),
            ],
            ["Lantern Panels", Decimal("138.00"), Decimal("60.00"), Decimal("4.32"), Decimal("202.32")],
        )

    def test_what_would_turn_it_turns_it(self):
        """252 against 138 + 4.32 and 2.5 h between: 43.87 an hour is where both cost the same."""
        self.assertIn(
            "Above £\u00a043.87 an hour of your own, Old Tin Barn", " ".join(map(str, choice().turns))
        )
        self.assertEqual(choice(hour="43.80").chosen, "Lantern Panels")
        self.assertEqual(choice(hour="43.90").chosen, "Old Tin Barn")

    def test_in_time_comes_before_cheap(self):
        told = choice(needed_by=date(2026, 3, 8))
        self.assertEqual((told.chosen, told.order[1].in_time), ("Old Tin Barn", False))
        self.assertIn("is there in time", str(told.tips))

    def test_refused(self):
        quote = {"name": "A", "source": "used", "price": "10"}
        for bad in (
            [quote, quote],
            [quote | {"tax_rate": "120"}],
            [quote | {"rate": "0"}],
            [quote | {"currency": "XYZ"}],
        ):
            with self.subTest(bad), self.assertRaises(BadField):
                source_choice(ChoiceRequest.read({"quotes": bad, "today": DAY}))


def told(lines, **more):
    asked = {"currency": "GBP", "lines": lines, **more}
    return receipt(ReceiptRequest.read(asked))


class Receipts(TestCase):
    THREE = ({"item": "Discs", "quantity": "3", "price": "1.15", "tax_rate": "20"},
             {"item": "Book", "price": "9.99", "tax_rate": "0"},
             {"item": "Tips", "quantity": "7", "price": "0.33", "tax_rate": "20"})  # fmt: skip
    CASES = {
        # tax in or on top, by line or by total, more: net, tax, gross
        "in the price, by line": ({}, ("14.80", "0.95", "15.75")),
        "on top, by line": ({"tax_in": False}, ("15.75", "1.15", "16.90")),
        "on top, by total: 5.76 x 1.2": ({"tax_in": False, "rounds": "total"}, ("15.75", "1.15", "16.90")),
        "a tenth off before tax": ({"tax_in": False, "discount": "10"}, ("14.18", "1.03", "15.21")),
        "a tenth off what is to be paid": ({"discount": "10", "discount_after": True}, ("13.30", "0.87", "14.17")),
        "carriage shared": ({"carriage": "5.00"}, ("19.48", "1.27", "20.75")),
    }  # fmt: skip

    def test_worked_cases(self):
        for name, (more, expected) in self.CASES.items():
            with self.subTest(name):
                found = told(list(self.THREE), **more)
                self.assertEqual(
                    tuple(str(each.amount) for each in (found.net, found.tax, found.gross)), expected
                )

    def test_one_that_does_not_add_up_is_asked_not_mended(self):
        found = told(list(self.THREE), printed="15.85")
        self.assertEqual(
            (found.adds_up, found.gross.amount, found.off.amount), (False, Decimal("15.75"), Decimal("0.10"))
        )
        self.assertIsNone(told(list(self.THREE)).adds_up)
        self.assertTrue(told(list(self.THREE), printed="15.75").adds_up)

    lines = st.lists(
        st.fixed_dictionaries({
            "item": st.just("x"), "quantity": st.integers(1, 9).map(str), "price": st.decimals("0.01", 500, places=2).map(str),
            "tax_rate": st.sampled_from(["0", "5", "20"]), "discount": st.sampled_from(["0", "12.5"]),
        }),
        min_size=1, max_size=12,
    )  # fmt: skip

    @given(
        lines,
        st.booleans(),
        st.sampled_from(["line", "total"]),
        st.sampled_from(["0", "7.77"]),
        st.booleans(),
        st.sampled_from(["0", "15"]),
    )
    def test_lines_add_up_and_a_credit_note_mirrors(self, lines, tax_in, rounds, carriage, after, discount):  # fmt: skip
        asked = {"tax_in": tax_in, "rounds": rounds, "carriage": carriage, "discount_after": after, "discount": discount}  # fmt: skip
        one, other = told(lines, **asked), told(lines, credit=True, **asked)
        for name in ("net", "tax", "gross"):
            self.assertEqual(sum(getattr(each, name).amount for each in one.lines), getattr(one, name).amount)
            self.assertEqual(getattr(other, name).amount, -getattr(one, name).amount)
        self.assertEqual(one.net.amount + one.tax.amount, one.gross.amount)
        self.assertEqual(sum(each.amount for each in one.by_rate.values()), one.tax.amount)

    @given(
        st.integers(-100_000, 100_000), st.lists(st.integers(0, 1000).map(Decimal), min_size=1, max_size=30)
    )
    def test_shares_are_within_a_penny_of_fair(self, pence, weights):
        found = [each.minor for each in shared(Money.from_minor(pence, "GBP"), weights)]
        self.assertEqual(sum(found), pence)
        whole = sum(weights)
        for each, weight in zip(found, weights, strict=True):
            if whole:
                self.assertLess(abs(each - pence * weight / whole), 1)


class Statements(TestCase):
    def test_amounts(self):
        good = {"1.234,56": "1234.56", "1,234.56": "1234.56", "£12.50": "12.50", "-€ 3,20": "-3.20", "12 EUR": "12", "1.234.567": "1234567",
                "0,125": "0.125", ".5": "0.5", "1\u202f234,5": "1234.5", "−7": "-7"}  # fmt: skip
        for text, expected in good.items():
            with self.subTest(text):
                self.assertEqual(amount_typed(text), Decimal(expected))
        self.assertEqual(
            (amount_typed("1,234", "."), amount_typed("1,234", ",")), (Decimal(1234), Decimal("1.234"))
        )
        for text in (
            "",
            "twelve",
            "1e5",
            "1,2,3",
            "12.34.5",
            "1,234",
            "--5",
            "(5",
            "5 apples",
            "=1+1",
            "nan",
            "٣",
        ):
            with self.subTest(text), self.assertRaises(BadField):
                amount_typed(text)

    @given(st.decimals(-99_999, 99_999, places=2), st.sampled_from([",.", ".,", " ,", "'."]))
    def test_amounts_as_banks_write_them_are_read_back(self, amount, marks):
        text = f"{amount:,.2f}".replace(",", "T").replace(".", marks[1]).replace("T", marks[0])
        self.assertEqual(amount_typed(text), amount)

    def test_days_are_not_guessed(self):
        self.assertEqual(day_typed("03/04/2026"), date(2026, 4, 3))
        self.assertEqual(day_typed("03/04/2026", months_first=True), date(2026, 3, 4))
        for text, first in (
            ("03/25/2026", False),
            ("25/03/2026", True),
            ("31.02.2026", False),
            ("1.1.0026", False),
        ):
            with self.subTest(text), self.assertRaises(BadField):
                day_typed(text, first)

    ROWS = [["Day", "Text", "Out"], ["02.03.2026", "Lantern  Panels", "-1.234"], ["03.03.2026", "Fee", "-2,50"], ["", "", ""],
            ["never", "x", "-1,00"], ["03.03.2026", "Fee", "-2,50"]]  # fmt: skip

    def test_rows_that_cannot_be_read_are_told(self):
        """The column shows its decimal mark elsewhere, so '1.234' is no guess; the same line twice is two lines, in every reading of the file."""
        asked = {"rows": self.ROWS, "columns": {"day": 0, "text": 1, "amount": 2}}
        found, again = (statement(StatementRequest.read(asked)) for _ in range(2))
        self.assertEqual(
            [each.amount for each in found.lines], [Decimal(1234), Decimal("2.50"), Decimal("2.50")]
        )
        self.assertEqual([(each.row, str(each.why)) for each in found.unread], [(5, "'never' is no day.")])
        self.assertEqual(len({each.key for each in found.lines}), 3)
        self.assertEqual(found, again)
        lone = asked | {"rows": self.ROWS[:2]}
        self.assertEqual(
            str(statement(StatementRequest.read(lone)).unread[0].why), "'-1.234' could be two amounts."
        )

    def test_matches_are_proposed_each_once(self):
        lines = [
            ("a", DAY, "138.00", "LANTERN PANELS LTD REF 77"),
            ("b", DAY, "9.99", "BOOKS"),
            ("c", DAY, "138.00", "POST OFFICE"),
        ]
        receipts = [("r", DAY, "138.00", "Lantern Panels"), ("s", date(2026, 1, 2), "9.99", "Books")]
        told = match(MatchRequest.read({
            "lines": [dict(zip(("key", "day", "amount", "text"), each, strict=True)) for each in lines],
            "receipts": [dict(zip(("key", "day", "amount", "supplier"), each, strict=True)) for each in receipts],
        }))  # fmt: skip
        self.assertEqual([(each.line, each.receipt, each.sure) for each in told], [("a", "r", True)])
