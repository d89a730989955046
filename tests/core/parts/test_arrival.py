"""What came, against the car: known cases, nothing unknown reads as fitting, more that is off never reads better; customer sheets."""

import math
import random
from decimal import Decimal
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.arrival import ORDER, ArrivalRequest, arrival, place_from
from yellow_sill.core.parts.customer import CustomerRequest, customer_sheet
from yellow_sill.core.parts.wire import require_same_price

GOOD = {
    "hand": "left", "came": "left", "sizes": [{"what": "Length", "wanted": 1480, "came": 1480.5}], "marks": 900,
    "holes": [{"what": "Drain", "wanted": [300, 650], "came": [300, 650.5]}], "ribs_off": 1, "bow": 1, "missing": [], "coating": "weld-through",
    "today": "2026-03-02",
}  # fmt: skip


def told(**more):
    return arrival(ArrivalRequest.read(GOOD | more))


class ArrivalTest(TestCase):
    def test_known_cases(self) -> None:
        for more, verdict, hours in (
            ({}, "fits", 0.0),
            ({"came": "right"}, "back", 0.0),
            ({"sizes": [{"what": "Length", "wanted": 1480, "came": 1490}]}, "mend", 0.4),
            ({"sizes": [{"what": "Length", "wanted": 1480, "came": 1477}]}, "mend", 1.5),
            ({"sizes": [{"what": "Length", "wanted": 1480, "came": 1470}]}, "back", 0.0),
            ({"holes": [{"what": "Drain", "wanted": [500, 700], "came": [502, 700]}]}, "mend", 0.2),
            ({"coating": "transport", "missing": ["nut"]}, "mend", 2.25),
            (
                {"marks": None, "holes": [{"what": "Drain", "wanted": [-20, 40], "came": [-20, 52]}]},
                "mend",
                0.6,
            ),
            ({"bow": 30}, "back", 0.0),
            ({"ribs_off": 5, "fit_factor": 2}, "mend", 4.0),
        ):
            found = told(**more)
            self.assertEqual((found.verdict, found.hours), (verdict, hours), more)

    def test_what_nobody_looked_at_never_fits(self) -> None:
        for more in ({"came": ""}, {"hand": ""}, {"sizes": []}, {"ribs_off": None}, {"bow": None}, {"missing": None}, {"coating": ""}):  # fmt: skip
            self.assertEqual(told(**more).verdict, "unknown", more)

    def test_the_days_left_are_counted(self) -> None:
        self.assertIn("8 days left", told(came="right", back_until="2026-03-10").words)
        self.assertIn("no longer go back", told(came="right", back_until="2026-03-01").words)
        self.assertIn("not known", told(came="right").words)
        self.assertIn("sending it back costs", told(coating="transport", hour="30", back="18").words)

    def test_refused(self) -> None:
        for more, what in (
            ({"holes": [{"what": "Drain", "wanted": [-1, 200]}]}, "above 0"),
            ({"holes": [{"what": "Drain", "wanted": [100, 200]}]}, "do not meet"),
        ):
            with self.assertRaisesRegex(BadField, what):
                told(**more)

    @given(
        st.fixed_dictionaries({
            "came": st.sampled_from(["left", "right"]), "ribs_off": st.floats(0, 20), "bow": st.floats(0, 20),
            "missing": st.lists(st.sampled_from(["a", "b"]), unique=True), "coating": st.sampled_from(["bare", "transport", "wax"]),
        }), st.sampled_from(["ribs_off", "bow", "missing"]), st.floats(0, 30),
    )  # fmt: skip
    def test_more_that_is_off_never_reads_better(self, shown, what, more) -> None:
        worse = shown | {what: [*shown[what], "c"] if what == "missing" else shown[what] + more}
        first, second = told(**shown), told(**worse)
        self.assertGreaterEqual(ORDER.index(second.verdict), ORDER.index(first.verdict))
        unseen = told(**(shown | {what: None}))
        self.assertIn(unseen.verdict, ("unknown", "back"))

    def test_a_hole_is_found_by_tape_as_far_off_as_it_is(self) -> None:
        """Simulated tapes with a slip of half a millimetre: the found shift beside the plain difference of the two readings."""
        rng, ours, plain = random.Random(4), 0.0, 0.0
        for _ in range(3000):
            marks, at = rng.uniform(300, 1500), (rng.uniform(100, 900), rng.uniform(80, 500))
            way, shift = rng.uniform(0, 2 * math.pi), rng.uniform(0, 15)
            moved = (at[0] + shift * math.cos(way), at[1] + shift * math.sin(way))
            tape = lambda p: (math.hypot(*p) + rng.gauss(0, 0.25), math.dist(p, (marks, 0)) + rng.gauss(0, 0.25))  # noqa: B023  # fmt: skip
            wanted, came = tape(at), tape(moved)
            ours += abs(math.dist(place_from(marks, wanted), place_from(marks, came)) - shift)
            plain += abs(max(abs(a - b) for a, b in zip(wanted, came, strict=True)) - shift)
        self.assertLess(ours, plain)
        self.assertLess(ours / 3000, 1.5)


class CustomerTest(TestCase):
    ASKED = {
        "paper": "bill", "hour": "40", "mark_up": "10",
        "repairs": [{"code": "R-02", "hours": "6.5", "parts": [{"item": "Sill", "net": "100.05"}, {"item": "Returned", "net": "-20"}]}],
    }  # fmt: skip

    def told(self, **more):
        return customer_sheet(CustomerRequest.read(self.ASKED | more))

    def test_by_hand(self) -> None:
        """260.00 + 110.06 (110.055) - 22.00 = 348.06, tax 69.61."""
        found = self.told(agreed="417.67")
        self.assertEqual([str(each.amount) for each in (found.total.net, found.total.tax, found.total.gross)], ["348.06", "69.61", "417.67"])  # fmt: skip
        self.assertTrue(found.may_ask)

    def test_a_bill_above_what_was_agreed_may_not_be_asked_for(self) -> None:
        self.assertFalse(self.told(agreed="417.66").may_ask)
        self.assertFalse(self.told().may_ask)
        self.assertTrue(self.told(paper="estimate").may_ask)
        with self.assertRaisesRegex(BadField, "twice"):
            self.told(repairs=self.ASKED["repairs"] * 2)

    def test_another_price_than_the_quoted_one_orders_nothing(self) -> None:
        require_same_price(Money(Decimal("10"), "GBP"), Money(Decimal("10.001"), "GBP"))
        with self.assertRaisesRegex(BadField, "costs £"):
            require_same_price(Money(Decimal("10"), "GBP"), Money(Decimal("11"), "GBP"))
