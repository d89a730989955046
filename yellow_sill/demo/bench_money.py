"""What parts and money are asked in the benches: a basket of 40 needs at six suppliers, a year's statement against its receipts."""

import random
from collections.abc import Callable
from datetime import date, timedelta
from typing import Any

_TODAY = date(2026, 11, 2)


def money_work() -> list[tuple[str, Callable[[], object], float]]:
    """Basket and bank: name, what is called, limit in ms."""
    from yellow_sill.core.calc import calculate

    asked, bank, book = basket_of_40(), year_of_500(), ledger_of_2000()
    return [
        ("ledger, 2,000 lines", lambda: calculate("ledger", book), 50),
        ("basket, 40 needs at six suppliers", lambda: _within(calculate("basket", asked)), 5000),
        ("bank_match, 500 lines, 2,000 receipts", lambda: calculate("bank_match", bank), 500),
    ]


def _within(found: Any) -> None:
    if found["gap"] > 0.01:
        raise SystemExit(f"The basket is only known to be within {100 * found['gap']:.1f} % of the least.")


def basket_of_40() -> dict[str, Any]:
    """Forty needs, most of them offered by several of six suppliers with carriage, free carriage, least orders and discount days."""
    rng = random.Random(12)
    suppliers = [
        {
            "name": f"Supplier {k}",
            "carriage": rng.choice([6, 9.5, 14]),
            "carriage_kg": rng.choice([0, 0.8, 1.4]),
            "free_above": rng.choice([None, 150, 300]),
            "minimum": rng.choice([0, 25]),
            "discounts": [{"first": "2026-11-27", "last": "2026-11-30", "percent": 25}] if k % 2 else [],
        }
        for k in range(6)
    ]
    needs, offers = [], []
    for n in range(40):
        by = None if n % 3 else str(_TODAY + timedelta(days=rng.randint(15, 90)))
        needs.append({"name": f"Need {n}", "needed_by": by, "kg": rng.choice([0.2, 1, 6])})
        usual = rng.randint(400, 18_000)
        offers += [
            {
                "need": f"Need {n}",
                "supplier": f"Supplier {k}",
                "price": round(usual * rng.uniform(0.8, 1.25)) / 100,
                "days": rng.randint(2, 14),
            }
            for k in rng.sample(range(6), rng.randint(2, 6))
        ]
    return {"needs": needs, "offers": offers, "suppliers": suppliers, "today": str(_TODAY)}


def ledger_of_2000() -> dict[str, Any]:
    """Two thousand lines of nine repairs and twenty suppliers, sixty costs to come, eight budgets."""
    rng = random.Random(3)
    lines = [
        {
            "day": _TODAY - timedelta(days=n % 600), "repair": n % 9, "supplier": f"Supplier {n % 20}", "kind": rng.choice(["part", "tool", "steel", "consumable"]),
            "net": str(rng.randint(100, 90_000) / 100), "gross": str(rng.randint(100, 90_000) / 100),
        }
        for n in range(2000)
    ]  # fmt: skip
    coming = [
        {
            "what": f"Need {n}",
            "repair": n % 9,
            "low": "50",
            "likely": "80",
            "high": "140",
            "ordered": n % 3 == 0,
        }
        for n in range(60)
    ]
    budgets = [
        {"name": f"Area {n}", "amount": "1000", "repairs": [n], "kinds": ["tool"] if n == 7 else []}
        for n in range(1, 9)
    ]
    return {"lines": lines, "coming": coming, "budgets": budgets, "minutes": 60_000, "hour": "15"}


def year_of_500() -> dict[str, Any]:
    """Five hundred payments, among them 400 of 2,000 receipts."""
    rng = random.Random(7)
    names = [
        f"{a} {b}"
        for a in ("Lantern", "Old Tin", "Copper", "Harbour", "North")
        for b in ("Panels", "Barn", "Supplies")
    ]
    receipts = [
        {
            "key": f"r{n}",
            "day": str(_TODAY + timedelta(days=rng.randint(-360, 0))),
            "amount": str(rng.randint(300, 60_000) / 100),
            "supplier": rng.choice(names),
        }
        for n in range(2000)
    ]
    lines = [
        {
            "key": f"l{n}",
            "day": str(date.fromisoformat(each["day"]) + timedelta(days=rng.randint(0, 5))),
            "amount": each["amount"],
            "text": f"{each['supplier'].upper()} CARD {n}",
        }
        for n, each in enumerate(receipts[:400])
    ]
    lines += [
        {
            "key": f"x{n}",
            "day": str(_TODAY),
            "amount": str(rng.randint(300, 60_000) / 100),
            "text": "SOMETHING ELSE",
        }
        for n in range(100)
    ]
    return {"lines": lines, "receipts": receipts}
