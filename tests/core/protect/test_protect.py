"""Clocks by temperature, rules of protection, closing a box: known answers, thousands of made-up coats and boxes, refusals."""

import random
from datetime import datetime, timedelta
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.protect.check import RULES, ProtectRequest, protect_check
from yellow_sill.core.protect.clocks import ClockRequest, clock
from yellow_sill.core.protect.closing import OUTSIDE, ClosingRequest, closing_check
from yellow_sill.core.protect.products import STARTING_SET, Hours, Product, hours_at, require_product

NOON = datetime(2026, 11, 2, 12)
EPOXY = next(each for each in STARTING_SET if each.kind == "epoxy primer")


def after(hours, at_c=20.0, product=EPOXY, warmth=None):
    warmth = warmth or [{"since": NOON, "at_c": at_c}]
    return clock(ClockRequest.read({"product": product.model_dump(), "put_on": NOON.isoformat(), "now": (NOON + timedelta(hours=hours)).isoformat(),
                                    "warmth": [{**each, "since": each["since"].isoformat()} for each in warmth]}))  # fmt: skip


def face(**values):
    return {"name": "inner sill, inside", "surface": "cavity"} | values


def rules(*faces, **more):
    return [broken.code for broken in protect_check(ProtectRequest.read({"faces": list(faces), **more}))]


class Clocks(TestCase):
    def test_hours_halve_for_ten_degrees_and_follow_the_tin_between_its_points(self):
        tin = [Hours(at_c=10, hours=16), Hours(at_c=20, hours=4)]
        for at_c, hours in ((10, 16), (20, 4), (15, 8), (30, 2), (0, 32)):
            self.assertAlmostEqual(hours_at(tin, at_c), hours, places=6)

    def test_an_epoxy_goes_from_wet_to_open_to_closed_to_cured(self):
        for hours, state in ((1, "wet"), (3, "open"), (71, "open"), (73, "closed"), (169, "cured")):
            self.assertEqual(after(hours).state, state)
        self.assertEqual(after(1).opens_at, NOON + timedelta(hours=2))
        self.assertEqual(after(1, at_c=10).opens_at, NOON + timedelta(hours=4))
        self.assertAlmostEqual(after(84).share, 0.5, places=3)

    def test_too_cold_it_stands_still_and_says_so(self):
        told = after(500, at_c=2)
        self.assertEqual((told.state, told.cold, told.cured_at, told.share), ("wet", True, None, 0))
        self.assertIn("does not cure below 5 °C", str(told.words))
        night = [
            {"since": NOON, "at_c": 20},
            {"since": NOON + timedelta(hours=1), "at_c": 0},
            {"since": NOON + timedelta(hours=10), "at_c": 20},
        ]
        self.assertEqual(after(10.5, warmth=night).opens_at, NOON + timedelta(hours=11))

    @settings(max_examples=150, deadline=None)
    @given(st.integers(0, 10**6))
    def test_it_is_what_an_hour_by_hour_count_says(self, seed):
        """Beside the plain method: shares of the cure added up minute by minute."""
        chance = random.Random(seed)
        warmth = [
            {"since": NOON + timedelta(hours=at), "at_c": chance.choice([0, 8, 12, 20, 27])}
            for at in sorted({0, *(chance.randrange(1, 90) for _ in range(4))})
        ]
        now = chance.uniform(1, 150)
        told = after(now, warmth=warmth)
        gone, step = 0.0, 1 / 20
        for k in range(int(now / step)):
            at = NOON + timedelta(hours=(k + 0.5) * step)
            warm = [each["at_c"] for each in warmth if each["since"] <= at][-1]
            gone += step / hours_at(EPOXY.cured, warm) if warm >= EPOXY.least_c else 0
        self.assertAlmostEqual(told.share, min(1, gone), delta=0.003)
        self.assertEqual(
            told.cold,
            warmth[-1]["at_c"] < 5
            if told.state != "cured" and warmth[-1]["since"] <= NOON + timedelta(hours=now)
            else told.cold,
        )

    def test_refusals(self):
        base = {
            "product": EPOXY.model_dump(),
            "put_on": NOON.isoformat(),
            "now": NOON.isoformat(),
            "warmth": [{"since": NOON.isoformat(), "at_c": 20}],
        }
        for change, words in (
            ({"now": (NOON - timedelta(hours=1)).isoformat()}, "a clock was set back"),
            ({"warmth": [{"since": (NOON + timedelta(hours=1)).isoformat(), "at_c": 20}]}, "is not known"),
            ({"warmth": [{"since": NOON.isoformat(), "at_c": -90}]}, "must be -40.0 or more"),
            ({"now": NOON.isoformat() + "+00:00"}, "has a zone"),
            ({"now": "9999-12-31T00:00:00"}, "9999 is no year"),
            (
                {"product": EPOXY.model_dump() | {"closes": [{"at_c": 20, "hours": 1}]}},
                "ends before it opens",
            ),
            ({"product": EPOXY.model_dump() | {"over": ["epoxy primer"]}}, "goes over itself only"),
            (
                {
                    "product": EPOXY.model_dump()
                    | {"opens": [{"at_c": 20, "hours": 1}, {"at_c": 20, "hours": 2}]}
                },
                "given twice",
            ),
        ):
            with self.assertRaisesRegex(BadField, words):
                clock(ClockRequest.read(base | change))
        for product in STARTING_SET:
            require_product(product)


class Rules(TestCase):
    def test_each_rule_is_broken_by_what_breaks_it_and_kept_by_its_mend(self):
        primer, epoxy, wax = (
            {"kind": "weld-through primer"},
            {"kind": "epoxy primer", "cured": True},
            {"kind": "cavity wax"},
        )
        for code, wrong, right in (
            ("PROT-01", face(surface="mating", weld_to_come=True), face(surface="mating", weld_to_come=True, coats=[primer])),
            ("PROT-02", face(surface="seam", weld_to_come=True, coats=[{"kind": "old primer"}]), face(surface="seam", weld_to_come=True, coats=[primer])),
            ("PROT-03", face(metal="holed", coats=[{"kind": "converter"}]), face(metal="tight rust", coats=[{"kind": "converter"}])),
            ("PROT-04", face(metal="bright", coats=[{"kind": "converter"}]), face(metal="bright", coats=[epoxy])),
            ("PROT-05", face(coats=[{"kind": "converter"}, epoxy]), face(coats=[{"kind": "converter", "cured": True}, epoxy])),
            ("PROT-06", face(surface="seam", coats=[{"kind": "seam sealer"}]), face(surface="seam", coats=[epoxy, {"kind": "seam sealer"}])),
            ("PROT-07", face(weld_to_come=True, coats=[epoxy, wax]), face(coats=[epoxy, wax])),
            ("PROT-08", face(coats=[{"kind": "etch primer"}, epoxy]), face(coats=[primer, epoxy])),
            ("PROT-09", face(coats=[epoxy, {"kind": "epoxy primer", "in_window": False}]), face(coats=[epoxy, {"kind": "epoxy primer", "in_window": True}])),
            ("PROT-10", face(coats=[epoxy], behind_weld_c=350), face(coats=[epoxy], behind_weld_c=90)),
            ("PROT-11", face(closes=True), face(closes=True, coats=[epoxy])),
        ):  # fmt: skip
            with self.subTest(code):
                self.assertIn(code, rules(wrong))
                self.assertNotIn(code, rules(right))
        self.assertEqual(len(RULES), 11)

    def test_what_is_not_known_is_not_taken_as_cured(self):
        told = protect_check(
            ProtectRequest.read({"faces": [face(coats=[{"kind": "converter"}, {"kind": "epoxy primer"}])]})
        )
        self.assertIn("is not known to have cured", str(told[0].what))

    def test_a_reason_is_told_beside_the_rule_and_an_unknown_number_refused(self):
        (told,) = protect_check(
            ProtectRequest.read(
                {"faces": [face(closes=True, overruled={"PROT-11": "Waxed by lance next week"})]}
            )
        )
        self.assertEqual(told.overruled, "Waxed by lance next week")
        with self.assertRaisesRegex(BadField, "There is no rule PROT-77"):
            rules(face(overruled={"PROT-77": "x"}))
        with self.assertRaisesRegex(BadField, "is there twice"):
            rules(face(), face())

    def test_a_persons_own_product_counts_before_the_usual_one(self):
        own = Product.model_validate(EPOXY.model_dump() | {"weld_through": True})
        bad = face(surface="mating", weld_to_come=True, coats=[{"kind": "epoxy primer"}])
        self.assertEqual(rules(bad), ["PROT-02"])
        self.assertEqual(rules(bad, products=[own.model_dump()]), [])


class Closing(TestCase):
    def ask(self, **values):
        return closing_check(
            ClosingRequest.read(
                {
                    "box": "Sill, left",
                    "faces": [{"name": "membrane", "finished": True}],
                    "pockets": [{"name": "front", "to": [OUTSIDE]}],
                }
                | values
            )
        )

    def test_ready_only_where_every_line_is_known_and_right(self):
        self.assertTrue(self.ask().ready)
        for change in (
            {"faces": []},
            {"faces": [{"name": "membrane"}]},
            {"faces": [{"name": "membrane", "finished": False}]},
            {"pockets": []},
            {"pockets": [{"name": "front"}]},
            {"still": [{"what": "plug welds of the flange", "tool": "spot arms"}]},
            {"still": [{"what": "dressing the seam", "tool": "dolly", "reaches": False}]},
        ):
            self.assertFalse(self.ask(**change).ready, change)

    def test_water_finds_the_shortest_way_out_and_a_circle_holds_it(self):
        chain = [
            {"name": "rear", "to": ["middle"]},
            {"name": "middle", "to": ["front", "rear"]},
            {"name": "front", "to": [OUTSIDE]},
        ]
        self.assertEqual(
            self.ask(pockets=chain, poured=["rear"]).water, {"rear": ["rear", "middle", "front", OUTSIDE]}
        )
        circle = [{"name": "a", "to": ["b"], "litres": 0.4}, {"name": "b", "to": ["a"]}]
        told = self.ask(pockets=circle, poured=["a"])
        self.assertEqual((told.ready, told.water), (False, {"a": []}))
        self.assertIn("Water stays in a, 0.4 l of it: it runs in a circle", str(told.items[1].what))

    @settings(max_examples=150, deadline=None)
    @given(st.integers(0, 10**6))
    def test_one_way_less_never_lets_more_water_out(self, seed):
        chance = random.Random(seed)
        names = [f"p{k}" for k in range(chance.randrange(1, 9))]
        pockets = [
            {
                "name": name,
                "to": chance.sample([*names, OUTSIDE], chance.randrange(0, 3) if len(names) > 1 else 1),
            }
            for name in names
        ]
        with_all = self.ask(pockets=pockets)
        some = chance.choice(pockets)
        fewer = self.ask(
            pockets=[{**each, "to": each["to"][1:]} if each is some else each for each in pockets]
        )
        for name in names:
            if fewer.water[name]:
                self.assertTrue(with_all.water[name])
                self.assertLessEqual(len(with_all.water[name]), len(fewer.water[name]))

    def test_refusals(self):
        for change, words in (
            ({"pockets": [{"name": "a", "to": ["z"]}]}, "drains into z"),
            ({"pockets": [{"name": "a"}, {"name": "a"}]}, "is there twice"),
            ({"poured": ["roof"]}, "poured into roof"),
        ):
            with self.assertRaisesRegex(BadField, words):
                self.ask(**change)
