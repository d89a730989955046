"""The basket beside every split there is."""

from datetime import date, timedelta
from decimal import Decimal
from itertools import product
from random import Random
from unittest import TestCase

from yellow_sill.core.errors import BadField
from yellow_sill.core.parts.basket import BasketRequest, basket, carriage_minor

TODAY = date(2026, 11, 2)


def garage(random):
    """A few needs, offers and suppliers with carriage by order and weight, free carriage, least orders, discount days."""
    needs = [
        {"name": f"n{n}", "kg": random.choice([0, 0.5, 4]), "needed_by": random.choice([None, TODAY + timedelta(days=random.randint(5, 60))])}
        for n in range(random.randint(1, 4))
    ]  # fmt: skip
    suppliers = []
    for k in range(random.randint(1, 3)):
        first = TODAY + timedelta(days=random.randint(-3, 25))
        days = [
            {
                "first": first,
                "last": first + timedelta(days=random.randint(0, 6)),
                "percent": random.choice([5, 25]),
            }
        ]
        suppliers.append({
            "name": f"s{k}", "carriage": random.choice([0, 7.5, 12]), "carriage_kg": random.choice([0, 0, 1.2]), "minimum": random.choice([0, 20, 45]),
            "free_above": random.choice([None, 60]), "discounts": random.choice([[], days]),
        })  # fmt: skip
    offers = [
        {"need": need["name"], "supplier": supplier["name"], "price": random.randint(200, 6000) / 100, "days": random.randint(1, 20)}
        for need in needs for supplier in suppliers if random.random() < 0.8
    ]  # fmt: skip
    return BasketRequest.read({"needs": needs, "suppliers": suppliers, "offers": offers, "today": TODAY})


def every_split(request, lacking):
    """The least that any split costs, day by day over two months: what an engineer would write in twenty lines."""
    suppliers, kg = (
        {each.name: each for each in request.suppliers},
        {each.name: each.kg for each in request.needs},
    )
    open_ = [need for need in request.needs if need.name not in lacking]
    days = [TODAY + timedelta(days=n) for n in range(36)]

    def percent(supplier, day):
        return max(
            (each.percent for each in suppliers[supplier].discounts if each.first <= day <= each.last),
            default=Decimal(0),
        )

    turns = {
        name: [
            day
            for day in days
            if day == TODAY or percent(name, day) != percent(name, day - timedelta(days=1))
        ]
        for name in suppliers
    }
    choices = [
        [(offer, day) for offer in request.offers if offer.need == need.name for day in turns[offer.supplier]
         if need.needed_by is None or day + timedelta(days=offer.days) <= need.needed_by]
        for need in open_
    ]  # fmt: skip
    best = None
    for split in product(*choices):
        orders = {}
        for offer, day in split:
            price = int(
                (offer.price * (1 - percent(offer.supplier, day) / 100) * 100).quantize(
                    Decimal(1), "ROUND_HALF_UP"
                )
            )
            orders.setdefault((offer.supplier, day), []).append((price, kg[offer.need]))
        if any(
            sum(price for price, _ in some) < suppliers[name].minimum * 100
            for (name, _), some in orders.items()
        ):
            continue
        cost = sum(
            sum(price for price, _ in some) + carriage_minor(suppliers[name], sum(price for price, _ in some), [each for _, each in some], "GBP")
            for (name, _), some in orders.items()
        )  # fmt: skip
        best = cost if best is None else min(best, cost)
    return best


class Baskets(TestCase):
    def test_no_split_costs_less(self):
        random, solved, none = Random(5), 0, 0
        for case in range(160):
            request = garage(random)
            with self.subTest(case):
                try:
                    found = basket(request)
                except BadField:
                    none += 1
                    lacking = {
                        need.name
                        for need in request.needs
                        if not any(offer.need == need.name for offer in request.offers)
                    }
                    soon = {offer.need for offer in request.offers for need in request.needs if need.name == offer.need
                            and (need.needed_by is None or TODAY + timedelta(days=offer.days) <= need.needed_by)}  # fmt: skip
                    self.assertIsNone(
                        every_split(request, lacking | {need.name for need in request.needs} - soon)
                    )
                    continue
                solved += 1
                told = sorted(name for order in found.orders for name in order.needs) + sorted(found.lacking)
                self.assertEqual(sorted(told), sorted(need.name for need in request.needs))
                self.assertTrue(found.proved)
                self.assertEqual(
                    found.total.minor, sum(order.goods.minor + order.carriage.minor for order in found.orders)
                )
                self.assertEqual(
                    found.total.minor, every_split(request, found.lacking) if found.orders else 0
                )
        self.assertGreater(solved, 80)
        self.assertGreater(none, 3)

    NEEDS = ({"name": "Sill", "needed_by": date(2026, 12, 20)}, {"name": "Seal"})
    FIRM = {
        "name": "Lantern",
        "carriage": "8",
        "discounts": [{"first": date(2026, 11, 27), "last": date(2026, 11, 30), "percent": "25"}],
    }
    OFFERS = (
        {"need": "Sill", "supplier": "Lantern", "price": "100", "days": 10},
        {"need": "Seal", "supplier": "Lantern", "price": "20", "days": 10},
    )

    def ask(self, **more):
        asked = {
            "needs": list(self.NEEDS),
            "suppliers": [self.FIRM],
            "offers": list(self.OFFERS),
            "today": TODAY,
            **more,
        }
        return basket(BasketRequest.read(asked))

    def test_waiting_says_what_it_saves_and_what_it_holds_up(self):
        found = self.ask()
        self.assertEqual(
            [str(each.amount) for each in (found.total, found.today, found.saves)],
            ["98.00", "128.00", "30.00"],
        )
        self.assertEqual(found.later, {"Seal": 25, "Sill": 25})
        self.assertEqual(
            str(found.words),
            "1 order for £\u00a098.00: no split costs less. Waiting saves £\u00a030.00. It holds up Seal by 25 days, Sill by 25 days.",
        )

    def test_what_nobody_has_in_time_is_told(self):
        found = self.ask(
            needs=[self.NEEDS[0] | {"needed_by": date(2026, 11, 8)}, self.NEEDS[1], {"name": "Badge"}]
        )
        self.assertEqual(sorted(found.lacking), ["Badge", "Sill"])
        self.assertIn("the soonest is 12 Nov 2026", str(found.lacking["Sill"]))

    def test_refused(self):
        backwards = self.FIRM | {
            "discounts": [{"first": "2026-11-30", "last": "2026-11-27", "percent": "25"}]
        }
        bad = ({"needs": [self.NEEDS[0]] * 2}, {"suppliers": [backwards]}, {"offers": [self.OFFERS[0] | {"supplier": "Nobody"}]},
               {"suppliers": [self.FIRM | {"minimum": "500"}]})  # fmt: skip
        for each in bad:
            with self.subTest(each), self.assertRaises(BadField):
                self.ask(**each)
