"""Taped openings, what is typed for the bench, cards, widths that are dragged."""

import math
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField, BadOutline, CoreError
from yellow_sill.core.patch.around import card_part, grips, lines_near
from yellow_sill.core.patch.opening import EdgeMade, edges_seen, part_of, usual
from yellow_sill.core.patch.own_line import kinds_along, own_line_remarks
from yellow_sill.core.patch.pattern import pattern
from yellow_sill.core.patch.stock import require_stock
from yellow_sill.core.patch.taped import TapedRequest, points_typed, taped
from yellow_sill.core.patch.typed import (
    distances_typed,
    heights_typed,
    hole_line,
    holes_typed,
    marks_typed,
    ribs_typed,
    sections_typed,
)

BOX = [(0.0, 0.0), (300.0, 0.0), (300.0, 200.0), (0.0, 200.0)]


class Taping(TestCase):
    @settings(max_examples=100, deadline=None)
    @given(
        st.floats(-500, 500),
        st.floats(200, 900),
        st.floats(0, 6.28),
        st.sampled_from(["left", "right"]),
        st.integers(5, 60),
    )
    def test_an_outline_taped_from_two_marks_comes_back(self, u, base, turn, side, off):
        way = 1 if side == "left" else -1
        first = (u, 40.0)
        along, across = (math.cos(turn), math.sin(turn)), (-math.sin(turn), math.cos(turn))
        second = (first[0] + base * along[0], first[1] + base * along[1])
        true = [
            (first[0] + s * along[0] + way * h * across[0], first[1] + s * along[1] + way * h * across[1])
            for s, h in (
                (0.2 * base, off),
                (0.8 * base, off),
                (0.8 * base, off + 150),
                (0.2 * base, off + 150),
            )
        ]
        points = [{"first_mm": math.dist(at, first), "second_mm": math.dist(at, second)} for at in true]
        checks = [{"points": [1, 3], "mm": math.dist(true[0], true[2])}]
        told = taped(
            TapedRequest.read({"marks": [first, second], "side": side, "points": points, "checks": checks})
        )
        for at, found in zip(true, told.outline, strict=True):
            self.assertLess(math.dist(at, found), 0.05)
        self.assertNotIn("TAPE-01", [remark.code for remark in told.remarks])
        checks[0]["mm"] += 5
        wrong = taped(
            TapedRequest.read({"marks": [first, second], "side": side, "points": points, "checks": checks})
        )
        self.assertIn("TAPE-01", [remark.code for remark in wrong.remarks])

    def test_refusals_name_the_point(self):
        good = "100 320\n320 100\n360 200\n200 360"
        for text, error, words in (
            ("10 20\n320 100\n360 200", BadField, "Point 1: 10 mm and 20 mm cannot meet"),
            (good + "\n1 to 9: 40", BadField, "no two points 1 and 9"),
            ("100 320\n320", BadField, "'320' is no taped point"),
            ("100 320\n360 200\n320 100\n200 360\n250 250", BadOutline, "crosses itself"),
        ):
            with self.assertRaisesRegex(error, words):
                taped(TapedRequest.read({"marks": [[0, 0], [400, 0]], **points_typed(text)}))
        with self.assertRaisesRegex(BadField, "at one place"):
            taped(TapedRequest.read({"marks": [[5, 5], [5, 5]], **points_typed(good)}))

    def test_a_templated_opening_is_held_against_the_cut(self):
        self.assertEqual(own_line_remarks([(u, v + 2) for u, v in BOX], BOX), [])
        (told,) = own_line_remarks([(0, 0), (300, 0), (300, 230), (0, 200)], BOX)
        self.assertIn("30.0 mm", told.what)
        with self.assertRaisesRegex(BadOutline, "does not lie where the cut is"):
            own_line_remarks([(u + 900, v) for u, v in BOX], BOX)
        kinds = kinds_along(
            [(1, 2), (150, 1), (299, 0), (298, 240), (2, 199)], BOX, {0: "free", 1: "joint", 3: "flange"}
        )
        self.assertEqual(kinds, {0: "free", 1: "free", 2: "joint", 4: "flange"})


class Typed(TestCase):
    def test_lines_are_read_as_they_stand_on_the_bench(self):
        self.assertEqual(heights_typed("0 4,5 0\n 1 6 1 "), [[0, 4.5, 0], [1, 6, 1]])
        (along, across) = sections_typed("along at 0: 0/0 150/12 300/0\nAcross at 150: 0/0; 200/0")
        self.assertEqual(
            (along["axis"], along["points"][1], across["axis"], across["at_mm"]), ("u", (150, 12), "v", 150)
        )
        self.assertEqual(ribs_typed("sill: old 0 80 new 3 82")[0]["new_mm"], [3, 82])
        mark = marks_typed("hanger left: 2890, -505, 290 bolt 10")[0]
        self.assertEqual((mark["name"], mark["at"], mark["bolt_mm"]), ("hanger left", [2890, -505, 290], 10))
        self.assertEqual(distances_typed("a b - c: 101,5")[0], {"first": "a b", "second": "c", "mm": 101.5})
        self.assertEqual(heights_typed("1 2", unit="in"), [[25.4, 50.8]])

    @given(
        st.sampled_from(["", "A", "C"]), st.sampled_from(["hole", "slot", "stud", "captive nut", "drain"]), st.floats(1, 90).map(lambda x: round(x, 2)),
        st.tuples(st.floats(-999, 999), st.floats(-999, 999)).map(lambda at: [round(x, 2) for x in at]), st.sampled_from(["", "bung"]),
    )  # fmt: skip
    def test_a_hole_written_is_read_back(self, face, kind, across, at, name):
        hole = (
            {"kind": kind, "at": at, "diameter_mm": across}
            | ({"length_mm": across + 9, "angle_deg": 30} if kind == "slot" else {})
            | ({"name": name} if name else {})
        )
        ((again, told),) = holes_typed(hole_line(face, hole, lambda value: f"{round(value, 3):g}"))
        self.assertEqual(again, face)
        for key, value in hole.items():
            self.assertEqual(told[key], value) if isinstance(value, str) else self.assertTrue(
                all(abs(x - y) < 0.05 for x, y in zip(told[key], value, strict=True))
                if isinstance(value, list)
                else abs(told[key] - value) < 0.05
            )

    def test_what_cannot_be_read_is_named_with_its_line(self):
        for read, text, words in (
            (heights_typed, "0 x 1", "'x' in the line '0 x 1' is no length"),
            (sections_typed, "0/0 5/1", "is no section"),
            (sections_typed, "along at 0: 5", "'5' in the line"),
            (ribs_typed, "old 3", "tells no ribs"),
            (marks_typed, "hanger 1 2 3", "is no mark"),
            (marks_typed, "hanger: 1, 2", "is no mark"),
            (distances_typed, "a b: 9", "is no distance"),
            (holes_typed, "A drain 8", "is no hole"),
            (heights_typed, "1 2\n" * 101, "More than 100 lines"),
        ):
            with self.assertRaisesRegex(CoreError, words):
                read(text)


class Round(TestCase):
    def made(self, **more):
        return part_of(
            BOX,
            {
                "A": EdgeMade(treatment="return", legs_mm=[20, 10]),
                "C": EdgeMade(treatment="lap", legs_mm=[15]),
            },
            thickness_mm=1.0,
            **more,
        )

    def test_a_card_is_as_long_as_its_legs_and_no_bend_takes_any(self):
        card = pattern(card_part(self.made()))
        vs = [v for _, v in card.corners]
        self.assertAlmostEqual(max(vs) - min(vs), 200 + 20 + 10 + 15, delta=0.1)
        steel = [v for _, v in pattern(self.made()).corners]
        self.assertLess(max(steel) - min(steel), 243)

    def test_a_width_is_dragged_outward_at_the_rim(self):
        seen, _ = edges_seen(BOX)
        made = usual(seen) | {
            "A": EdgeMade(treatment="return", legs_mm=[20, 10]),
            "C": EdgeMade(treatment="lap", legs_mm=[15]),
        }
        found = {grip.edge: grip for grip in grips(seen, made, pattern(self.made()).corners)}
        self.assertEqual({edge: grip.size for edge, grip in found.items()}, {"A": "second", "C": "leg"})
        for grip in found.values():
            inside = 1 if grip.at[1] > 100 else -1
            self.assertAlmostEqual(grip.out[1], inside, places=3)

    def test_ribs_are_shown_near_the_opening_only(self):
        near = lines_near([[(-500, 100), (800, 100)], [(0, 900), (300, 900)]], BOX)
        self.assertEqual(near, [[(-60.0, 100.0), (360.0, 100.0)]])

    def test_a_piece_of_stock_has_one_size(self):
        require_stock({"length_mm": 2000, "width_mm": 1000})
        require_stock({"outline": BOX})
        for values, words in (
            ({}, "no size"),
            ({"length_mm": 2000}, "no size"),
            ({"length_mm": 2000, "width_mm": 5}, "No sheet has that size"),
            ({"length_mm": 9, "width_mm": 9, "outline": BOX}, "and an outline"),
            ({"outline": [(0, 0), (9, 9), (9, 0), (0, 9)]}, "crosses itself"),
        ):
            with self.assertRaisesRegex(CoreError, words):
                require_stock(values)
