"""The joints of a repair in the order of the work; the settings book; a row for the spot welder; consumables; checks."""

import itertools
from datetime import date
from unittest import TestCase

from hypothesis import given
from hypothesis.strategies import floats, integers, lists, sampled_from

from yellow_sill.core.errors import BadField
from yellow_sill.core.weld.book import BookRequest, SpotRowRequest, book_setting, spot_row
from yellow_sill.core.weld.checks import WeldChecksRequest, weld_checks
from yellow_sill.core.weld.consumables import ConsumablesRequest, ToWeld, bottle_left, consumables, taken_by
from yellow_sill.core.weld.plan import WeldPlanRequest, amounts, row_order, weld_plan


def edge(name, made="butt", **more):
    return {"name": name, "path": [[0, 0], [200, 0]], "made": made} | more


def planned(*sheets, processes=("mig",)):
    return weld_plan(WeldPlanRequest.read({"sheets": list(sheets), "processes": list(processes)})).joints


class Joints(TestCase):
    def test_the_order_is_from_the_inside_out_a_datum_first_and_free_ends_last(self):
        skin = {"name": "skin", "thickness_mm": 1.0, "behind": ["inner"], "edges": [edge("A", free_end=True), edge("B"), edge("C", "row", layers=2), edge("D", fixes_datum=True)]}  # fmt: skip
        joints = planned(skin, {"name": "inner", "thickness_mm": 1.2, "edges": [edge("A")]})
        self.assertEqual([(j.sheet, j.edge) for j in joints], [("inner", "A"), ("skin", "D"), ("skin", "C"), ("skin", "B"), ("skin", "A")])  # fmt: skip
        self.assertEqual([j.number for j in joints], [1, 2, 3, 4, 5])

    def test_a_plug_row_has_the_row_s_welds_and_not_the_butt_line_s(self):
        row = edge("A", "row", layers=2, welds=[[10, 5], [60, 5], [110, 5], [160, 5]])
        (joint,) = planned({"name": "skin", "thickness_mm": 1.0, "edges": [row]})
        self.assertEqual((joint.kind, joint.count, joint.what, joint.hole_mm), ("plug row", 4, "plugs", 8.0))
        self.assertEqual(sorted(n for move in joint.along for n in move.welds), [1, 2, 3, 4])
        self.assertIsNone(joint.gap_ok, "nobody has measured it")

    SPOTS = {
        "both sides known": (True, 2, 1.0, "spot row"),
        "nobody has said": (None, 2, 1.0, "plug row"),
        "out of reach": (False, 2, 1.0, "plug row"),
        "four sheets": (True, 4, 1.0, "plug row"),
        "thick": (True, 2, 2.0, "plug row"),
    }

    def test_spots_only_where_the_arms_are_known_to_reach(self):
        for name, (both, layers, thick, kind) in self.SPOTS.items():
            with self.subTest(name):
                made = edge("A", "row", layers=layers, both_sides=both)
                (joint,) = planned({"name": "s", "thickness_mm": thick, "edges": [made]}, processes=("mig", "spot"))  # fmt: skip
                self.assertEqual(joint.kind, kind)

    def test_braze_where_the_maker_brazed_and_it_is_owned(self):
        made = edge("A", "lap", made_brazed=True)
        for owned, kind in ((("mig",), "lap"), (("mig", "braze"), "braze")):
            (joint,) = planned({"name": "s", "thickness_mm": 1.0, "edges": [made]}, processes=owned)
            self.assertEqual(joint.kind, kind)

    @given(integers(1, 60), sampled_from(["", "first", "last"]))
    def test_a_row_is_made_once_each_and_from_the_middle_to_both_ends(self, count, tight):
        order = row_order(count, tight)
        self.assertEqual(sorted(order), list(range(1, count + 1)))
        if not tight:
            off = [abs(n - (count + 1) / 2) for n in order]
            self.assertEqual(off, sorted(off))

    def test_amounts_and_refusals(self):
        joints = planned({"name": "s", "thickness_mm": 1.0, "edges": [edge("A"), edge("B", "row", layers=2, welds=[[5, 0], [50, 0]])]})  # fmt: skip
        self.assertEqual(
            amounts(joints)["mig"], {"seam_mm": 200.0, "row_mm": 200.0, "plugs": 2, "hole_mm": 8.0}
        )
        for sheets, words in (
            ([{"name": "s", "thickness_mm": 1, "edges": [edge("A"), edge("A")]}], "two edges A"),
            ([{"name": "s", "thickness_mm": 1, "edges": [edge("A", process="tig")]}], "not owned"),
            ([{"name": "s", "thickness_mm": 1, "behind": ["s"]}], "behind itself"),
        ):
            with self.subTest(words), self.assertRaisesRegex(BadField, words):
                planned(*sheets)


def coupon(number, sheets, result="held", day=1, **more):
    return {"number": number, "process": "mig", "joint": "butt", "thicknesses_mm": sheets, "result": result, "made_on": date(2026, 3, day), "dials": {"Current": "50 A"}} | more  # fmt: skip


def setting(sheets, *coupons, since=()):
    asked = {"process": "mig", "joint": "butt", "thicknesses_mm": sheets, "coupons": list(coupons), "since": list(since)}  # fmt: skip
    return book_setting(BookRequest.read(asked))


class Book(TestCase):
    @given(lists(sampled_from([0.8, 0.9, 1.0, 1.2, 1.5]), min_size=1, max_size=3), lists(sampled_from([0.8, 0.9, 1.0, 1.2, 1.5]), min_size=1, max_size=3))  # fmt: skip
    def test_a_coupon_of_other_sheets_is_never_offered_as_proved(self, tried, wanted):
        told = setting(wanted, coupon(1, tried))
        same = tried in (wanted, wanted[::-1])
        self.assertEqual(told.proved, 1 if same else None)
        self.assertEqual(told.near, [] if same else [1])
        self.assertEqual(bool(told.dials), same)

    def test_the_last_that_held_counts_until_one_failed_at_the_same_dials(self):
        first, second = coupon(1, [1.0]), coupon(2, [1.0], day=4, dials={"Current": "44 A"})
        self.assertEqual(setting([1.0], first, second).proved, 2)
        self.assertIsNone(setting([1.0], first, coupon(3, [1.0], "failed", day=5)).proved)
        self.assertEqual(setting([1.0], first, coupon(3, [1.0], "failed", day=5, dials={"Current": "60 A"})).proved, 1)  # fmt: skip

    def test_what_went_wrong_turns_the_setting_and_says_why(self):
        blew = {"what": "blew", "on": date(2026, 3, 9)}
        plain, turned = setting([1.0]), setting([1.0], since=[blew])
        self.assertLess(turned.start.tack_energy_j, plain.start.tack_energy_j)
        self.assertEqual((turned.shift, str(turned.reasons[0])), (-0.06, "1 tack was blown through since: colder, or shorter."))  # fmt: skip
        self.assertEqual(setting([1.0], since=[blew] * 9).shift, -0.18)
        self.assertIn("another fault", str(setting([1.0], since=[blew] * 9).reasons[-1]))
        self.assertEqual(
            setting([1.0], coupon(1, [1.0], day=20), since=[blew]).shift, 0, "it was proved since"
        )

    def test_a_row_for_the_arms(self):
        places = [{"number": 1, "in_mm": 15, "behind_free": True, "gap_mm": 0}, {"number": 2, "in_mm": 140, "behind_free": True, "gap_mm": 0},
                  {"number": 3, "in_mm": 15, "behind_free": False}, {"number": 4, "in_mm": 15, "behind_free": True, "gap_mm": 1.0}, {"number": 5, "in_mm": 15}]  # fmt: skip
        asked = {"welder": {"reach_mm": 120}, "thicknesses_mm": [0.9, 1.2], "places": places}
        told = spot_row(SpotRowRequest.read(asked))
        self.assertEqual((told.spotted, [each.number for each in told.refused], told.unknown), ([1], [2, 3, 4], [5]))  # fmt: skip
        thick = spot_row(SpotRowRequest.read(asked | {"thicknesses_mm": [1.5, 2.0]}))
        self.assertEqual((thick.spotted, thick.unknown), ([], []), "the stack itself is too thick")
        with self.assertRaisesRegex(BadField, "twice"):
            spot_row(SpotRowRequest.read(asked | {"places": places[:1] * 2}))
        with self.assertRaisesRegex(BadField, "missing"):
            BookRequest.read({"process": "mig", "joint": "butt", "thicknesses_mm": [1], "coupons": [{k: v for k, v in coupon(1, [1.0]).items() if k != "thicknesses_mm"}]})  # fmt: skip


class Consumed(TestCase):
    def test_worked_by_hand(self):
        took = taken_by(ToWeld(repair="R-01", thickness_mm=1.0, seam_mm=700.0))
        self.assertAlmostEqual(took["gas"], 100 * (0.8 + 1.0) / 60 * 9.0, places=6)
        self.assertAlmostEqual(took["wire"], 2.5 * 700 * 7.85e-6 * 1.1, places=6)

    @given(lists(floats(0, 3000), min_size=1, max_size=6), floats(0, 300))
    def test_a_thing_ends_in_the_first_repair_that_its_stock_does_not_cover(self, seams, litres):
        work = [
            {"repair": f"R-{n:02d}", "thickness_mm": 1.0, "seam_mm": seam} for n, seam in enumerate(seams)
        ]
        told = consumables(
            ConsumablesRequest.read({"work": work, "stock": [{"kind": "gas", "amount": litres}]})
        )
        gas = next(each for each in told.things if each.kind == "gas")
        so_far = list(itertools.accumulate(taken_by(ToWeld.read(each))["gas"] for each in work))
        short = next(
            (each["repair"] for each, sum_ in zip(work, so_far, strict=True) if sum_ > litres + 1e-9), None
        )
        self.assertEqual(gas.ends_in, short)
        unknown = consumables(ConsumablesRequest.read({"work": work})).things
        self.assertTrue(all(each.ends_in is None and each.in_stock is None for each in unknown), "nobody has looked")  # fmt: skip

    def test_bottle_and_refusals(self):
        self.assertEqual(bottle_left([200, 90], litres=2000, full_bar=200), 900.0)
        with self.assertRaisesRegex(BadField, "more than a full bottle"):
            bottle_left([240], litres=2000, full_bar=200)
        with self.assertRaisesRegex(BadField, "twice"):
            consumables(ConsumablesRequest.read({"stock": [{"kind": "gas"}, {"kind": "gas"}]}))


class Checks(TestCase):
    def told(self, **more):
        return weld_checks(WeldChecksRequest.read({"thickness_mm": 1.0} | more))

    def test_nothing_is_ready_that_nobody_looked_at(self):
        told = self.told()
        self.assertEqual([line.ready for line in told.lines], [None] * 4)
        self.assertFalse(told.ready)

    def test_each_line(self):
        well = {
            "lamp": True,
            "back_seen": True,
            "readings": [{"at": [0, 0], "thickness_mm": 0.8}],
            "datum": True,
        }
        self.assertTrue(self.told(**well).ready, "80 % of the sheet is enough")
        for name, more in {
            "a pinhole": {"pinholes": [{"at": [0, 0]}]},
            "too thin": {"readings": [{"at": [0, 0], "thickness_mm": 0.79}]},
            "cold": {"back_seen": False},
            "light": {"lamp": False},
            "out": {"datum": False},
        }.items():
            with self.subTest(name):
                told = self.told(**well | more)
                self.assertEqual([line.ready for line in told.lines].count(False), 1)
        self.assertEqual(
            self.told(readings=[{"at": [0, 0], "thickness_mm": t} for t in (0.9, 0.5)]).thin, [2]
        )
