import math
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon, box

from yellow_sill.core.errors import BadField, BadOutline, CoreError
from yellow_sill.core.patch.bends import bend_figures, joggle_loss_mm
from yellow_sill.core.patch.edges import PatchRequest
from yellow_sill.core.patch.flat import develop
from yellow_sill.core.patch.sides import sides_of, treatments
from yellow_sill.core.patch.tiles import MARGIN_MM, OVERLAP_MM, tiling

SQUARE = [[0, 0], [100, 0], [100, 80], [0, 80]]


def flange(edge, width=20, **more):
    return {
        "edge": edge,
        "treatment": "flange",
        "width_mm": width,
        "angle_deg": 90,
        "inside_radius_mm": 1,
    } | more


def flat(*edges, **changes):
    return develop(
        PatchRequest.read(
            {"outline": SQUARE, "thickness_mm": 1.0, "gap_mm": 0.5, "k_factor": 0.4, "edges": list(edges)}
            | changes
        )
    )


def codes(pattern):
    return sorted({remark.code for remark in pattern.warnings})


class Bends(TestCase):
    CASES = {
        # angle, radius, thickness, k: allowance, setback, deduction
        "square, R 1, 1.0 mm": ((90, 1, 1, 0.4), (math.pi / 2 * 1.4, 2.0, 4 - math.pi / 2 * 1.4)),
        "half square": ((45, 2, 1.5, 0.33), (math.pi / 4 * 2.495, 3.5 * math.tan(math.pi / 8), None)),
        "sharp inside": ((90, 0, 1, 0.5), (math.pi / 4, 1.0, 2 - math.pi / 4)),
    }

    def test_figures_from_the_formulas(self):
        for name, (given_, (allowance, setback, deduction)) in self.CASES.items():
            with self.subTest(name):
                figures = bend_figures(*given_)
                self.assertAlmostEqual(figures.allowance_mm, allowance, places=9)
                self.assertAlmostEqual(figures.setback_mm, setback, places=9)
                self.assertAlmostEqual(
                    figures.deduction_mm,
                    2 * setback - allowance if deduction is None else deduction,
                    places=9,
                )

    def test_a_joggle_eats_length(self):
        """0.9 mm, R 1, k 0.4, 30 degrees, by hand: middle 1.45, straight 1.0229, run 2.3359, neutral fibre 2.4471."""
        self.assertAlmostEqual(joggle_loss_mm(0.9, 1.0, 0.4, 30), 0.1112, places=4)
        self.assertGreater(joggle_loss_mm(1.0, 8.0, 0.4), 0)  # radius too big for the step: the bends meet
        wide = {"edge": 0, "treatment": "joggle", "width_mm": 15}
        told = flat(wide | {"inside_radius_mm": 8})
        self.assertIn("bent through 19.7°, not 45°", told.warnings[0].what)
        with self.assertRaisesRegex(CoreError, "cannot be bent through 95"):
            flat(wide | {"angle_deg": 95})


class Patterns(TestCase):
    def test_butt_edges_are_set_back_by_the_gap(self):
        pattern = flat()
        self.assertEqual(pattern.bounding_box_mm, [0.5, 0.5, 99.5, 79.5])
        self.assertAlmostEqual(pattern.area_mm2, 99 * 79)
        self.assertAlmostEqual(pattern.mass_kg, 99 * 79 * 7.85e-6, places=5)

    def test_a_flange_reaches_its_width_less_the_deduction(self):
        pattern = flat(flange(0))
        deduction = 4 - math.pi / 2 * 1.4
        self.assertAlmostEqual(pattern.bounding_box_mm[1], -(20 - deduction), places=3)
        [bend] = pattern.bend_lines
        self.assertAlmostEqual(bend.start[1], deduction / 2, places=3)
        self.assertEqual((bend.edge, bend.angle_deg), (0, 90))
        self.assertAlmostEqual(pattern.area_mm2, 99 * 79.5 + 99 * (20 - deduction), places=1)

    def test_a_lap_adds_its_width_and_a_joggle_its_step(self):
        pattern = flat(
            {"edge": 1, "treatment": "lap", "width_mm": 12},
            {"edge": 3, "treatment": "joggle", "width_mm": 12, "inside_radius_mm": 1},
        )
        self.assertAlmostEqual(pattern.bounding_box_mm[2], 112)
        self.assertAlmostEqual(pattern.bounding_box_mm[0], -12.1281, places=3)
        self.assertEqual(pattern.step_lines[0].edge, 3)

    def test_the_trim_allowance_goes_all_round(self):
        self.assertEqual(flat(trim_allowance_mm=3).bounding_box_mm, [-2.5, -2.5, 102.5, 82.5])

    def test_corners_of_two_flanges_are_relieved(self):
        pattern = flat(*(flange(edge) for edge in range(4)))
        shape = Polygon(pattern.flat_outline)
        self.assertTrue(shape.is_valid)
        for x, y in ((0, 0), (100, 0), (100, 80), (0, 80)):
            self.assertFalse(
                shape.intersects(box(x - 1.9, y - 1.9, x + 1.9, y + 1.9)), "the bend zones must not meet"
            )
        self.assertEqual(codes(pattern), [])

    def test_an_inward_corner_is_slit(self):
        ell = [[0, 0], [100, 0], [100, 40], [50, 40], [50, 90], [0, 90]]
        pattern = flat(flange(2, 15), flange(3, 15), outline=ell)
        self.assertFalse(Polygon(pattern.flat_outline).buffer(-0.2).intersects(box(57, 47, 57.1, 47.1)))

    WARNED = {
        "narrower than 4 t + R": ((flange(0, 4),), {}, ["FLAT-01"]),
        "folded beyond square, neighbours collide": (
            (flange(0, angle_deg=120), flange(1, angle_deg=120)),
            {},
            ["FLAT-04"],
        ),
        "folded over, opposite ones collide": (
            (flange(0, 60, angle_deg=150), flange(2, 60, angle_deg=150)),
            {},
            ["FLAT-04"],
        ),
        "one up, one down is well": (
            (flange(0, angle_deg=120), flange(1, angle_deg=120, direction="down")),
            {},
            [],
        ),
        "along a curve": (
            (flange(0), flange(1)),
            {"outline": [[0, 0], [60, 0], [100, 8], [100, 80], [0, 80]]},
            ["FLAT-05"],
        ),
        "into the piece itself": (
            (flange(3, 45),),
            {"outline": [[0, 0], [100, 0], [100, 80], [70, 80], [70, 20], [30, 20], [30, 80], [0, 80]]},
            ["FLAT-02"],
        ),
    }

    def test_what_cannot_be_folded_is_told(self):
        for name, (edges, changes, expected) in self.WARNED.items():
            with self.subTest(name):
                self.assertEqual(codes(flat(*edges, **changes)), expected)

    REFUSED = {
        "clockwise": ({"outline": SQUARE[::-1]}, BadOutline, "clockwise"),
        "bow tie": ({"outline": [[0, 0], [100, 80], [100, 0], [0, 80]]}, BadOutline, "crosses"),
        "no such edge": ({"edges": [flange(9)]}, BadField, "no edge 9"),
        "edge twice": ({"edges": [flange(1), flange(1)]}, BadField, "twice"),
        "lap without width": ({"edges": [{"edge": 0, "treatment": "lap"}]}, BadField, "width"),
        "hem": ({"edges": [flange(0, angle_deg=180)]}, BadField, "170"),
        "all bend": ({"edges": [flange(0, 1.5)]}, BadField, "all bend"),
        "the gap eats it": ({"outline": [[0, 0], [30, 0], [0, 30]], "gap_mm": 19}, BadOutline, "gap"),
        "infinite": ({"thickness_mm": float("inf")}, BadField, "finite"),
    }

    def test_what_cannot_be_made_is_refused(self):
        for name, (changes, kind, words) in self.REFUSED.items():
            with self.subTest(name), self.assertRaises(kind) as caught:
                flat(**changes)
            self.assertIn(words, caught.exception.message)

    @settings(max_examples=40, deadline=None)
    @given(st.floats(10, 170), st.floats(0, 6), st.floats(0.6, 3), st.floats(0.3, 0.5), st.floats(40, 90))
    def test_neutral_fibre_keeps_its_length(self, angle, radius, thickness, k, width):
        """Flat reach beyond the tangent line = arc of the neutral fibre + the straight leg left after the setback."""
        figures = bend_figures(angle, radius, thickness, k)
        if width - figures.setback_mm > 1 and width > figures.deduction_mm and figures.setback_mm < 90:
            pattern = flat(
                flange(0, width, angle_deg=angle, inside_radius_mm=radius), thickness_mm=thickness, k_factor=k
            )
            tangent = figures.setback_mm
            self.assertAlmostEqual(
                -pattern.bounding_box_mm[1] + tangent,
                figures.allowance_mm + width - figures.setback_mm,
                delta=0.01,
            )


class AnyPatch(TestCase):
    TREATMENTS = ("butt", "lap", "joggle", "flange")

    @settings(max_examples=60, deadline=None)
    @given(
        st.lists(st.tuples(st.floats(0, 200), st.floats(0, 200)), min_size=3, max_size=7, unique=True),
        st.lists(
            st.tuples(
                st.sampled_from(TREATMENTS),
                st.floats(6, 40),
                st.floats(20, 150),
                st.sampled_from(("up", "down")),
            ),
            min_size=7,
            max_size=7,
        ),
        st.floats(0.6, 2.0),
    )
    def test_whatever_is_asked_gives_a_sheet_that_can_be_cut_or_a_refusal(self, points, asked, thickness):
        hull = Polygon(points).convex_hull
        if hull.geom_type != "Polygon" or hull.area < 400:
            return
        outline = [list(p) for p in (hull if hull.exterior.is_ccw else hull.reverse()).exterior.coords[:-1]]
        edges = [
            {
                "edge": i,
                "treatment": treatment,
                "width_mm": width,
                "angle_deg": angle,
                "inside_radius_mm": thickness,
                "direction": direction,
            }
            for i, (treatment, width, angle, direction) in zip(range(len(outline)), asked, strict=False)
        ]
        try:
            pattern = develop(
                PatchRequest.read(
                    {"outline": outline, "thickness_mm": thickness, "gap_mm": 0.5, "edges": edges}
                )
            )
        except (BadField, BadOutline) as refused:
            self.assertTrue(refused.what)
            return
        flat = Polygon(pattern.flat_outline)
        self.assertTrue(flat.is_valid and flat.exterior.is_ccw)
        self.assertAlmostEqual(flat.area, pattern.area_mm2, delta=0.02 * flat.area)
        self.assertEqual(len(pattern.bend_lines), sum(edge["treatment"] == "flange" for edge in edges))
        for bend in pattern.bend_lines:
            middle = [(a + b) / 2 for a, b in zip(bend.start, bend.end, strict=True)]
            self.assertTrue(
                flat.buffer(0.1).intersects(box(*middle, *middle).buffer(0.01)),
                "a bend line lies on the sheet",
            )


class SidesAndTiles(TestCase):
    def test_a_rounded_rectangle_has_four_sides_and_four_corners(self):
        outline = [
            list(p)
            for p in box(0, 0, 200, 100).buffer(-12).buffer(12, quad_segs=8).exterior.coords[::-1][:-1]
        ]
        sides = sides_of(outline)
        straight = [side for side in sides if not side.curved]
        self.assertEqual(sorted(round(side.length_mm) for side in straight), [76, 76, 176, 176])
        self.assertEqual(sum(len(side.edges) for side in sides), len(outline))
        chosen = {side.name: {"treatment": "lap", "width_mm": 10} for side in straight}
        self.assertEqual(
            {spec.treatment for spec in treatments(sides, chosen)}, {"lap"}, "corners follow both neighbours"
        )
        chosen[straight[0].name] = {"treatment": "butt"}
        butts = sum(spec.treatment == "butt" for spec in treatments(sides, chosen))
        self.assertGreater(butts, 1, "a corner between two treatments is a butt edge")

    def test_sheets_cover_the_pattern_and_overlap(self):
        for paper in ("A4", "Letter"):
            with self.subTest(paper):
                sheets = tiling((0, 0, 430, 310), paper)
                covered = box(0, 0, 0, 0)
                for tile in sheets.tiles:
                    covered = covered.union(box(tile.x0, tile.y0, tile.x1, tile.y1))
                    self.assertLessEqual(tile.x1 - tile.x0, sheets.width_mm - 2 * MARGIN_MM)
                self.assertTrue(covered.covers(box(0, 0, 430, 310)))
                first, second = sheets.tiles[0], sheets.tiles[1]
                self.assertAlmostEqual(first.x1 - second.x0, OVERLAP_MM)
        for bounds, paper in (((0, 0, 100, 100), "A9"), ((0, 0, 9000, 9000), "A4")):
            with self.assertRaises(BadField):
                tiling(bounds, paper)
