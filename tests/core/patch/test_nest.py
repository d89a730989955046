"""Nests: nothing lost, nothing over another, the kerf and the margin kept, never behind rows of boxes."""

import random
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from yellow_sill.core.errors import BadField, BadOutline
from yellow_sill.core.patch.nest import nest
from yellow_sill.core.patch.nest_stock import NestRequest

SHEET = {"name": "S1", "thickness_mm": 1.0, "length_mm": 1000, "width_mm": 500}


def box(name, u, v, **more):
    return {"name": name, "outline": [[0, 0], [u, 0], [u, v], [0, v]], "thickness_mm": 1.0} | more


def ask(parts, stock, **more):
    return nest(NestRequest.read({"parts": parts, "stock": stock, "rounds": 1} | more))


def made_up(seed):
    """Patterns, sheets and offcuts at random."""
    chance = random.Random(seed)
    parts = []
    for number in range(chance.randrange(2, 16)):
        u, v = chance.uniform(60, 520), chance.uniform(50, 330)
        outline = chance.choice(
            [
                [[0, 0], [u, 0], [u, v], [0, v]],
                [[0, 0], [u, 0], [u, v * 0.45], [u * 0.4, v * 0.5], [u * 0.4, v], [0, v]],
                [[0, 0], [u, 0], [u * 0.8, v], [u * 0.15, v * 0.9]],
                [[0, 0], [u * 0.5, v * 0.15], [u, 0], [u * 0.9, v * 0.6], [u * 0.5, v], [u * 0.1, v * 0.7]],
            ]
        )
        grain = chance.choice(["any", "any", "along", "across"])
        parts.append(
            box(f"P{number}", 1, 1, grain=grain, both_faces=chance.random() < 0.2) | {"outline": outline}
        )
    stock = [
        SHEET | {"name": f"S{i}", "length_mm": chance.choice([1000, 2000])}
        for i in range(chance.randrange(1, 3))
    ]
    for number in range(chance.randrange(0, 3)):
        u, v = chance.uniform(200, 700), chance.uniform(150, 500)
        outline = [[0, 0], [u, 0], [u, v * 0.6], [u * 0.5, v], [0, v]]
        stock.append({"name": f"O{number}", "thickness_mm": 1.0, "outline": outline})
    return {
        "parts": parts,
        "stock": stock,
        "kerf_mm": chance.choice([0, 2, 3]),
        "margin_mm": chance.choice([5, 10]),
    }


def rows_of_boxes(asked):
    """What an engineer writes in twenty lines: bounding boxes in rows, tallest first, sheet after sheet; the area placed."""
    kerf, margin = asked["kerf_mm"], asked["margin_mm"]
    left = []
    for part in asked["parts"]:
        u, v = (max(at[k] for at in part["outline"]) - min(at[k] for at in part["outline"]) for k in (0, 1))
        if part["grain"] == "across" or (part["grain"] == "any" and v > u):
            u, v = v, u
        left.append((v, u, Polygon(part["outline"]).area))
    left.sort(reverse=True)
    placed = 0
    for sheet in asked["stock"]:
        if "outline" in sheet:
            continue
        length, width, at_u, at_v, high, rest = (
            sheet["length_mm"] - 2 * margin,
            sheet["width_mm"] - 2 * margin,
            0,
            0,
            0,
            [],
        )
        for v, u, area in left:
            if at_u and at_u + u > length:
                at_u, at_v, high = 0, at_v + high + kerf, 0
            if at_u + u <= length and (at_v + v <= width if not high else v <= high):
                at_u, high, placed = at_u + u + kerf, max(high, v), placed + area
            else:
                rest.append((v, u, area))
        left = rest
    return placed


class Nests(TestCase):
    @settings(max_examples=25, deadline=None)
    @given(st.integers(0, 10**6))
    def test_every_pattern_is_once_somewhere_and_keeps_its_distances(self, seed):
        asked = made_up(seed)
        told = ask(**asked)
        outlines = {part["name"]: Polygon(part["outline"]) for part in asked["parts"]}
        names = [lost.part for lost in told.unplaced]
        for sheet in told.sheets:
            piece, shapes = Polygon(sheet.outline), [Polygon(each.outline) for each in sheet.placed]
            rests = [Polygon(each) for each in sheet.rests]
            names += [each.part for each in sheet.placed]
            for number, shape in enumerate(shapes):
                self.assertTrue(piece.contains(shape))
                self.assertGreater(piece.exterior.distance(shape), asked["margin_mm"] - 0.05)
                self.assertAlmostEqual(shape.area, outlines[sheet.placed[number].part].area, delta=8)
                for other in shapes[:number]:
                    self.assertLess(shape.intersection(other).area, 0.02 * shape.length)
                    self.assertGreater(shape.distance(other), asked["kerf_mm"] - 0.05)
                for rest in rests:
                    self.assertLess(rest.intersection(shape).area, 0.02 * shape.length)
            self.assertAlmostEqual(
                sheet.used_mm2 + sheet.scrap_mm2 + sum(rest.area for rest in rests), piece.area, delta=20
            )
            self.assertLessEqual(sheet.least_mm, sheet.length_mm)
        self.assertEqual(sorted(names), sorted(outlines))
        self.assertGreaterEqual(told.placed_mm2, rows_of_boxes(asked) - 20)
        self.assertLessEqual((told.placed_mm2, told.least_mm2), (told.most_mm2, told.begun_mm2))
        self.assertEqual(told, ask(**asked))

    def test_the_engine_shortens_a_sheet_and_gives_the_same_layout_again(self):
        wedges = ((184, 136), (215, 150), (276, 235), (270, 217), (351, 173))
        parts = [box(f"P{u}", 1, 1) | {"outline": [[0, 0], [u, 0], [0, v]]} for u, v in wedges]
        parts += [box("Q", 180, 90), box("R", 210, 130)]
        quick, told = ask(parts, [SHEET]), ask(parts, [SHEET], rounds=8)
        self.assertLess(told.sheets[0].length_mm, quick.sheets[0].length_mm)
        self.assertFalse(told.unplaced)
        self.assertEqual(told, ask(parts, [SHEET], rounds=8))

    def test_an_exact_fit_fits_and_a_tenth_more_does_not(self):
        self.assertFalse(ask([box("A", 990, 244), box("B", 990, 244)], [SHEET]).unplaced)
        self.assertEqual(len(ask([box("A", 990, 244), box("B", 990, 244.1)], [SHEET]).unplaced), 1)
        self.assertFalse(ask([box("A", 244, 990)], [SHEET]).unplaced)
        self.assertEqual(len(ask([box("A", 244, 990, grain="along")], [SHEET]).unplaced), 1)

    def test_an_offcut_is_begun_before_a_sheet_and_no_sheet_without_need(self):
        offcut = {"name": "O1", "thickness_mm": 1.0, "outline": [[0, 0], [400, 0], [400, 300], [0, 300]]}
        told = ask([box("A", 300, 200)], [SHEET | {"price": 20}, offcut | {"price": 3}])
        self.assertEqual([sheet.stock for sheet in told.sheets], ["O1"])
        only = told.sheets[0]
        self.assertAlmostEqual(only.cost, 3 * (only.used_mm2 + only.scrap_mm2) / 120_000, delta=0.01)
        self.assertEqual(only.placed[0].cost, only.cost)
        both = ask([box("A", 300, 200), box("B", 700, 400)], [SHEET, SHEET | {"name": "S2"}, offcut])
        self.assertEqual(len(both.sheets), 2)

    def test_a_hand_is_kept_unless_both_faces_serve(self):
        left = [[0, 0], [200, 0], [200, 60], [60, 60], [60, 290], [0, 290]]
        tight = {
            "name": "O",
            "thickness_mm": 1.0,
            "outline": [
                [210 - u, v] for u, v in [[-10, -10], [210, -10], [210, 70], [70, 70], [70, 300], [-10, 300]]
            ],
        }
        part = box("A", 1, 1) | {"outline": left}
        self.assertTrue(ask([part], [tight]).unplaced)
        turned = ask([part | {"both_faces": True}], [tight])
        self.assertTrue(turned.sheets[0].placed[0].flipped)

    def test_what_does_not_fit_says_why_and_what_to_buy(self):
        for parts, stock, why, buy in (
            ([box("A", 1200, 90)], [SHEET], "larger than every piece", ""),
            (
                [box("A", 200, 90, thickness_mm=0.8)],
                [SHEET],
                "wants 0.80 mm; in stock is 1.00 mm",
                "1 sheet of 2000 mm × 1000 mm",
            ),
            ([box("A", 200, 90)], [], "no such sheet is in stock", "1 sheet"),
            ([box("A", 200, 90, coating="zinc")], [SHEET], "coated as A asks", "zinc"),
            (
                [box("A", 900, 400), box("B", 900, 400)],
                [SHEET],
                "No room is left for",
                "1 sheet of 1000 mm × 500 mm",
            ),
        ):
            told = ask(parts, stock)
            self.assertIn(why, str(told.unplaced[-1].why))
            self.assertIn(buy, " ".join(map(str, told.buy)))

    def test_a_piece_that_the_margins_eat_is_no_stock(self):
        told = ask([box("A", 200, 90)], [SHEET | {"length_mm": 1e-9}])
        self.assertEqual((told.sheets, len(told.unplaced)), ([], 1))
        self.assertIn("2000 mm × 1000 mm", str(told.buy[0]))

    def test_refusals(self):
        crossing = box("A", 1, 1) | {"outline": [[0, 0], [100, 100], [100, 0], [0, 100]]}
        for parts, stock, error, words in (
            ([box("A", 9, 9), box("A", 8, 8)], [SHEET], BadField, "'A' is there twice"),
            ([box("A", 9, 9)], [{"name": "S", "thickness_mm": 1.0}], BadField, "has no size"),
            ([crossing], [SHEET], BadOutline, "crosses itself"),
            ([box("A", 9, 9)], [SHEET | {"length_mm": -5}], BadField, "must be above 0"),
        ):
            with self.assertRaisesRegex(error, words):
                ask(parts, stock)
