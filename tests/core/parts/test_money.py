from datetime import date
from decimal import Decimal
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.parts.amount import CURRENCIES, Money
from yellow_sill.core.parts.lines import Line, from_minor, line_sum, running


def line(quantity="1", price="12.50", rate="20", included=True, currency="GBP", **more):
    values = {"supplier": "A", "item": "Discs", "kind": "consumable"} | more
    return Line(
        quantity=Decimal(quantity),
        unit_price=Money(Decimal(price), currency),
        tax_rate=Decimal(rate),
        tax_included=included,
        **values,
    )


class Sums(TestCase):
    CASES = {
        # quantity, price, rate, included, currency: net, tax, gross
        "tax in the price": (("1", "12.00", "20", True, "GBP"), ("10.00", "2.00", "12.00")),
        "tax on top": (("3", "14.20", "20", False, "GBP"), ("42.60", "8.52", "51.12")),
        "no tax": (("1", "128", "0", True, "GBP"), ("128.00", "0.00", "128.00")),
        "half a penny goes up": (("1", "0.125", "0", True, "GBP"), ("0.13", "0.00", "0.13")),
        "yen has no decimals": (("1", "1050", "10", True, "JPY"), ("955", "95", "1050")),
        "dinar has three": (("1", "1.2345", "5", False, "KWD"), ("1.235", "0.061", "1.296")),
    }

    def test_worked_cases(self):
        for name, (given_, expected) in self.CASES.items():
            with self.subTest(name):
                found = line_sum(line(*given_))
                self.assertEqual(
                    [part.amount for part in (found.net, found.tax, found.gross)],
                    [Decimal(each) for each in expected],
                )

    @given(
        st.decimals(0, 9999, places=4),
        st.decimals(0, 100, places=2),
        st.booleans(),
        st.sampled_from(sorted(CURRENCIES)),
    )
    def test_net_and_tax_make_the_gross_and_survive_minor_units(self, price, rate, included, currency):
        found = line_sum(line("3", str(price), str(rate), included, currency))
        self.assertEqual(found.net + found.tax, found.gross)
        self.assertEqual(from_minor(found.net.minor, found.gross.minor, currency), found)

    def test_running_totals(self):
        steps = running(
            [(date(2026, 2, 3), Money(Decimal(5), "GBP")), (date(2026, 1, 9), Money(Decimal(2), "GBP"))],
            "GBP",
        )
        self.assertEqual([str(amount) for _, amount in steps], ["£\u00a02.00", "£\u00a07.00"])

    def test_currencies_do_not_mix(self):
        with self.assertRaises(BadField):
            Money(Decimal(1), "GBP") + Money(Decimal(1), "EUR")
        with self.assertRaises(BadField):
            Money(Decimal(1), "XXX")
