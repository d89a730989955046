"""Statements of simulated garages, whose truth is known, beside the plain rule: the same amount, the nearest day."""

from datetime import date, timedelta
from decimal import Decimal
from random import Random
from unittest import TestCase

from yellow_sill.core.parts.bank import MatchRequest, match

FIRMS = (
    "Lantern Panels",
    "Old Tin Barn",
    "Copper Yard",
    "Harbour Supplies",
    "North Gate Plating",
    "Mill Lane Trim",
)
FIRST = date(2026, 3, 1)


def season(random):
    """Receipts, a statement on which some are paid (named in full, in part or not at all, days later, one in six with a fee), and who paid which."""
    receipts, lines, truth = [], [], {}
    for n in range(random.randint(5, 40)):
        day, firm = FIRST + timedelta(days=random.randint(0, 90)), random.choice(FIRMS)
        amount = Decimal(random.choice([999, 1499, 2500, 4999, random.randint(200, 90_000)])) / 100
        receipts.append({"key": f"r{n}", "day": day, "amount": amount, "supplier": firm})
        if random.random() < 0.15:
            continue
        fee = random.choice([0, 0, 0, 0, 0, 1]) * (amount * Decimal("0.006")).quantize(Decimal("0.01"))
        short = random.choice(
            [f"{firm.upper()[:12]} REF", f"CARD {firm.split()[0].upper()}", "PAYMENT THANK YOU"]
        )
        text = firm.upper() if random.random() < 0.7 else short
        paid = day + timedelta(days=random.randint(0, random.choice([2, 5, 14])))
        lines.append({"key": f"l{n}", "day": paid, "amount": amount + fee, "text": text})
        truth[f"l{n}"] = f"r{n}"
    for n in range(random.randint(0, 15)):
        amount = Decimal(random.choice([999, 1499, 2500, random.randint(200, 90_000)])) / 100
        day = FIRST + timedelta(days=random.randint(0, 100))
        lines.append(
            {"key": f"x{n}", "day": day, "amount": amount, "text": random.choice(["FUEL", "GROCER", "RENT"])}
        )
    random.shuffle(lines)
    return receipts, lines, truth


def plain(receipts, lines):
    free, found = {each["key"]: each for each in receipts}, {}
    for line in lines:
        near = [
            each
            for each in free.values()
            if each["amount"] == line["amount"] and abs((each["day"] - line["day"]).days) <= 21
        ]
        if near:
            best = min(near, key=lambda each: abs((each["day"] - line["day"]).days))
            found[line["key"]] = best["key"]
            del free[best["key"]]
    return found


class Simulated(TestCase):
    def test_what_is_sure_is_so_and_the_plain_rule_is_never_ahead_in_all(self):
        random = Random(1)
        right = wrong = plain_right = plain_wrong = sure = sure_wrong = 0
        for _ in range(250):
            receipts, lines, truth = season(random)
            look = {
                each["key"]: (each["amount"], each["supplier"], each["day"]) for each in receipts
            }  # alike ones are interchangeable
            so = lambda line, receipt: line in truth and look[receipt] == look[truth[line]]  # noqa: B023
            told = match(MatchRequest.read({"lines": lines, "receipts": receipts}))
            right += sum(so(each.line, each.receipt) for each in told)
            wrong += sum(not so(each.line, each.receipt) for each in told)
            sure += sum(each.sure for each in told)
            sure_wrong += sum(each.sure and not so(each.line, each.receipt) for each in told)
            rule = plain(receipts, lines)
            plain_right += sum(so(*pair) for pair in rule.items())
            plain_wrong += sum(not so(*pair) for pair in rule.items())
        self.assertGreater(right, 1.3 * plain_right)
        self.assertLess(wrong, plain_wrong / 2)
        self.assertGreater(sure, right / 2)
        self.assertLess(sure_wrong, sure / 500)
