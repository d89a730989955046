from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from tests.builders import BODY, shell
from yellow_sill.core.errors import BadField
from yellow_sill.core.shell import BODY_TYPES, build_shell, ranges, side_of
from yellow_sill.core.shell.body_types import checked_sizes


def view(drawn, name):
    return next(v for v in drawn.views if v.name == name)


class Saloon(TestCase):
    def test_the_drawing_has_the_size_that_was_taped(self):
        drawn = build_shell(
            BODY,
            {"wheelbase": 2500, "overall_length": 4150, "front_overhang": 700, "width": 1600, "height": 1400},
        )
        u0, _, u1, v1 = view(drawn, "left").bounds
        self.assertAlmostEqual(u1 - u0, 4150, delta=12)  # the front panel is set back a little at its widest
        self.assertAlmostEqual(v1, 1400, delta=4)
        under = view(drawn, "underside").bounds
        self.assertAlmostEqual(under[3] - under[1], 1600, delta=6)

    def test_the_underside_marks_both_axles_a_wheelbase_apart(self):
        marks = [f.points for f in view(shell(), "underside").features if f.kind == "centre"]
        across = {p[0][0] for p in marks if len(p) == 2 and p[0][0] == p[1][0]}
        self.assertEqual(across, {0.0, shell().dimensions_mm["wheelbase"]})

    def test_every_panel_is_a_sound_polygon_with_a_name_a_side_and_a_mirror(self):
        for drawn in shell().views:
            codes = {p.code for p in drawn.panels}
            self.assertEqual(len(codes), len(drawn.panels))
            for p in drawn.panels:
                with self.subTest(view=drawn.name, panel=p.code):
                    self.assertTrue(Polygon(p.outline, p.holes).is_valid)
                    self.assertGreater(Polygon(p.outline).area, 100)
                    self.assertTrue(p.name and 0.5 < p.thickness_mm < 4)
                    self.assertEqual(
                        p.mirror_code,
                        "" if side_of(p.code) == "centre" else {"L": "R", "R": "L"}[p.code[0]] + p.code[1:],
                    )

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
        self.assertAlmostEqual(
            Polygon(left["SILL"].outline).area, Polygon(right["SILL"].outline).area, delta=1
        )
        self.assertAlmostEqual(
            min(u for u, _ in left["SILL"].outline), -max(u for u, _ in right["SILL"].outline), delta=0.2
        )

    def test_every_body_type_has_all_its_views_layers_welds_and_mirrors(self):
        for kind in BODY_TYPES.values():
            drawn = build_shell(kind.name, {})
            views = {v.name: v for v in drawn.views}
            self.assertLessEqual({"left", "right", "underside", "front", "rear"}, set(views))
            self.assertTrue(8 <= len(kind.dimensions) <= 12)
            codes = {p.code for v in drawn.views for p in v.panels}
            for v in drawn.views:
                with self.subTest(kind.name, view=v.name):
                    self.assertEqual(len({p.code for p in v.panels}), len(v.panels))
                    for p in v.panels:
                        self.assertTrue(Polygon(p.outline, p.holes).is_valid, p.code)
                        self.assertIn(p.mirror_code, codes | {""}, p.code)
                    self.assertTrue(any(f.kind == "weld" for f in v.features) or v.name == "floor")
            self.assertEqual({p.layer for p in views["left"].panels}, {1, 2, 3})
            self.assertIn("hole", {f.kind for f in views["left"].features}, "drains")
            stems = {code.split("-", 1)[-1] for code in codes}
            self.assertLessEqual(
                {"SILL", "SILLM", "SILLI", "APOSTM", "BPOSTM"}, stems, "metal is doubled in sill and posts"
            )

    LADDER = {
        "door into the arch": ("tourer-ladder-chassis", {"door_front": 700, "overall_length": 2700}, None),
        "no tail left": ("tourer-ladder-chassis", {"overall_length": 2900}, "overall_length"),
        "door into the rear arch": ("tourer-ladder-chassis", {"door_length": 1050}, "door_length"),
        "rails wider than the body": (
            "tourer-ladder-chassis",
            {"rail_width": 1000, "width": 1200},
            "rail_width",
        ),
        "cab shorter than its door": ("cab-ladder-chassis", {"cab_rear": 1500}, "cab_rear"),
        "no windows": ("cab-ladder-chassis", {"height": 1450, "waist_height": 1150}, "height"),
        "rear wheel in the cab": ("cab-ladder-chassis", {"wheelbase": 2200}, "wheelbase"),
    }

    def test_bodies_on_a_chassis_refuse_what_does_not_fit_by_name(self):
        for name, (kind, dimensions, where) in self.LADDER.items():
            with self.subTest(name), self.assertRaises(BadField) as caught:
                build_shell(kind, dimensions)
            if where:
                self.assertEqual(caught.exception.where, where)
            self.assertTrue(caught.exception.mend)

    REFUSED = {
        "out of range": ({"wheelbase": 1000}, "wheelbase"),
        "door longer than the room for it": ({"door_length": 1450}, "door_length"),
        "sill into the front arch": ({"sill_length": 1800}, "sill_length"),
        "no windows left": ({"waist_height": 1050, "height": 1200}, "waist_height"),
        "tail cut off": ({"overall_length": 2900}, "overall_length"),
        "unknown name": ({"wingspan": 3}, "wingspan"),
    }

    def test_dimensions_that_cannot_be_are_refused_by_name(self):
        for name, (dimensions, where) in self.REFUSED.items():
            with self.subTest(name), self.assertRaises(BadField) as caught:
                build_shell(BODY, dimensions)
            self.assertEqual(caught.exception.where, where)
        with self.assertRaises(BadField):
            build_shell("hovercraft", {})

    SHORT_AND_LONG = {
        "1840": {
            "wheelbase": 1840,
            "overall_length": 3050,
            "front_overhang": 590,
            "sill_length": 1050,
            "door_length": 780,
            "tyre_height": 500,
        },
        "2036": {
            "wheelbase": 2036,
            "overall_length": 3050,
            "front_overhang": 540,
            "sill_length": 1200,
            "door_length": 900,
            "tyre_height": 500,
        },
        "4.85 m": {
            "wheelbase": 2800,
            "overall_length": 4850,
            "front_overhang": 800,
            "sill_length": 1700,
            "door_length": 1300,
            "tyre_height": 660,
        },
    }

    def test_short_and_long_shells_are_drawn_with_round_wheels(self):
        for name, sizes in self.SHORT_AND_LONG.items():
            with self.subTest(name):
                left = view(build_shell(BODY, sizes), "left")
                self.assertAlmostEqual(left.bounds[2] - left.bounds[0], sizes["overall_length"], delta=16)
                for line in (f for f in left.features if f.kind == "tyre"):
                    across, up = (max(axis) - min(axis) for axis in zip(*line.points, strict=True))
                    self.assertAlmostEqual(across, up, delta=3)
                    self.assertAlmostEqual(max(v for _, v in line.points), sizes["tyre_height"], delta=3)

    @settings(max_examples=40, deadline=None)
    @given(st.sampled_from(list(BODY_TYPES)), st.randoms(use_true_random=False))
    def test_whatever_lies_in_the_stated_ranges_can_be_drawn_and_nothing_beyond(self, kind, chance):
        """One dimension after the other is taken anywhere in the range that the others leave it, its ends included."""
        dimensions = BODY_TYPES[kind].dimensions
        sizes = {d.name: d.usual_mm for d in dimensions}
        for d in chance.sample(dimensions, len(dimensions)):
            least, most = ranges(kind, sizes)[d.name]
            for beyond in (least - 1, most + 1):
                with self.assertRaises(BadField) as caught:
                    checked_sizes(kind, sizes | {d.name: beyond})
                self.assertTrue(caught.exception.where in sizes and caught.exception.mend)
            sizes[d.name] = min(most, least + (most - least) * chance.choice((0, 1, chance.random())))
        drawn = build_shell(kind, sizes)
        for v in drawn.views:
            for p in v.panels:
                self.assertTrue(
                    Polygon(p.outline, p.holes).is_valid and Polygon(p.outline).area > 50,
                    f"{v.name} {p.code}",
                )
        left, right = view(drawn, "left"), view(drawn, "right")
        areas = {p.code: Polygon(p.outline).area for p in [*left.panels, *right.panels]}
        for p in left.panels:
            if p.mirror_code:
                self.assertAlmostEqual(
                    areas[p.code] / areas[p.mirror_code], 1, places=3
                )  # corners stand on a 0.1 mm grid
