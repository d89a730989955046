from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from tests.builders import BODY, shell
from yellow_sill.core.errors import BadField
from yellow_sill.core.shell import build_shell, side_of


def view(drawn, name):
    return next(v for v in drawn.views if v.name == name)


class Saloon(TestCase):
    def test_the_drawing_has_the_size_that_was_taped(self):
        drawn = build_shell(BODY, {"wheelbase": 2500, "overall_length": 4150, "front_overhang": 700, "width": 1600, "height": 1400})
        u0, _, u1, v1 = view(drawn, "left").bounds
        self.assertAlmostEqual(u1 - u0, 4150, delta=12)  # the front panel is set back a little at its widest
        self.assertAlmostEqual(v1, 1400, delta=4)
        under = view(drawn, "underside").bounds
        self.assertAlmostEqual(under[3] - under[1], 1600, delta=6)

    def test_every_panel_is_a_sound_polygon_with_a_name_a_side_and_a_mirror(self):
        for drawn in shell().views:
            codes = {p.code for p in drawn.panels}
            self.assertEqual(len(codes), len(drawn.panels))
            for p in drawn.panels:
                with self.subTest(view=drawn.name, panel=p.code):
                    self.assertTrue(Polygon(p.outline, p.holes).is_valid)
                    self.assertGreater(Polygon(p.outline).area, 100)
                    self.assertTrue(p.name and 0.5 < p.thickness_mm < 4)
                    self.assertEqual(p.mirror_code, "" if side_of(p.code) == "centre" else {"L": "R", "R": "L"}[p.code[0]] + p.code[1:])

    def test_neighbours_share_their_seam(self):
        skins = {p.code: Polygon(p.outline) for p in view(shell(), "left").panels}
        for a, b in (("L-WING", "L-APOST"), ("L-SILL", "L-APOST"), ("L-QTR", "L-SILL"), ("L-QTR", "L-BPOST")):
            with self.subTest(f"{a} and {b}"):
                self.assertLess(skins[a].distance(skins[b]), 0.5)
                self.assertLess(skins[a].intersection(skins[b]).area, 60)

    def test_the_right_side_mirrors_the_left(self):
        left = {p.code[2:]: p for p in view(shell(), "left").panels if p.code[:2] == "L-"}
        right = {p.code[2:]: p for p in view(shell(), "right").panels if p.code[:2] == "R-"}
        self.assertEqual(left.keys(), right.keys())
        self.assertAlmostEqual(Polygon(left["SILL"].outline).area, Polygon(right["SILL"].outline).area, delta=1)
        self.assertAlmostEqual(min(u for u, _ in left["SILL"].outline), -max(u for u, _ in right["SILL"].outline), delta=0.2)

    REFUSED = {
        "out of range": ({"wheelbase": 1000}, "wheelbase"),
        "door longer than the room for it": ({"door_length": 1400}, "door_length"),
        "sill into the front arch": ({"sill_length": 1800}, "sill_length"),
        "no windows left": ({"waist_height": 1050, "height": 1150}, "waist_height"),
        "tail cut off": ({"overall_length": 3200}, "overall_length"),
        "unknown name": ({"wingspan": 3}, "wingspan"),
    }

    def test_dimensions_that_cannot_be_are_refused_by_name(self):
        for name, (dimensions, where) in self.REFUSED.items():
            with self.subTest(name), self.assertRaises(BadField) as caught:
                build_shell(BODY, dimensions)
            self.assertEqual(caught.exception.where, where)
        with self.assertRaises(BadField):
            build_shell("hovercraft", {})

    @settings(max_examples=3, deadline=None)
    @given(st.integers(2350, 2550), st.integers(-40, 40), st.integers(1500, 1700))
    def test_any_vehicle_of_the_kind_gives_sound_panels(self, wheelbase, longer, width):
        sizes = {
            "wheelbase": wheelbase,
            "overall_length": wheelbase + 1580,
            "door_length": wheelbase - 1334 + longer,
            "sill_length": wheelbase - 1008,
            "width": width,
        }
        for drawn in build_shell(BODY, sizes).views:
            self.assertTrue(all(Polygon(p.outline).is_valid for p in drawn.panels))
