"""What shape a panel has: known surfaces, the angle-deficit identity, and simulated panels beside the plain way."""

import math
from unittest import TestCase

import numpy as np

from yellow_sill.core.errors import BadField
from yellow_sill.core.patch.flatten import angle_deficits, area_strain, flattened, triangles_of
from yellow_sill.core.patch.shape import read_shape, shape_check
from yellow_sill.core.patch.shape_read import ShapeRequest


def grid(height, n=9, m=9, step=45.0, noise=None):
    rows = [
        [height(j * step, i * step) + (noise.normal(0, 0.5) if noise else 0) for j in range(n)]
        for i in range(m)
    ]
    return ShapeRequest.read({"heights": rows, "step_mm": [step, step]})


def cap(radius, at=(180.0, 180.0), sign=1):
    return lambda u, v: sign * (math.sqrt(radius**2 - (u - at[0]) ** 2 - (v - at[1]) ** 2) - radius)


def surface(height, n=20, size=380.0):
    v, u = np.meshgrid(np.linspace(0, size, n), np.linspace(0, size, n), indexing="ij")
    return np.column_stack([u.ravel(), v.ravel(), np.vectorize(height)(u, v).ravel()])


class Flattening(TestCase):
    def test_what_is_only_bent_comes_flat_without_strain(self):
        triangles = triangles_of(20, 20)
        cone = lambda u, v: -(((u - 190) ** 2) / (2 * (500 + 1.5 * v)))
        for height, most in (
            (lambda u, v: -((u - 190) ** 2) / 1200, 0.0006),
            (lambda u, v: 0.2 * u + 0.1 * v, 1e-9),
            (cone, 0.003),
        ):
            places = surface(height)
            strain = area_strain(places, flattened(places, triangles), triangles)
            self.assertLess(np.abs(strain).max(), most)

    def test_a_cap_is_stretched_in_its_middle_and_a_saddle_at_its_edges(self):
        triangles = triangles_of(20, 20)
        middle = [i * 20 + j for i in (9, 10) for j in (9, 10)]
        for sign, height in (
            (1, cap(900, (190, 190))),
            (-1, lambda u, v: ((u - 190) ** 2 - (v - 190) ** 2) / 1800),
        ):
            places = surface(height)
            strain = area_strain(places, flattened(places, triangles), triangles)
            self.assertGreater(sign * strain[middle].mean(), 0.001)
            self.assertLess(sign * strain[[10, 200, 219, 390]].mean(), -0.001)

    def test_angle_deficits_sum_to_the_curvature(self):
        """Over a cap of radius r each inner corner lacks K times the area round it (Gauss and Bonnet)."""
        triangles, inside = triangles_of(20, 20), np.zeros((20, 20), bool)
        inside[1:-1, 1:-1] = True
        radius, cell = 900.0, 20.0
        total = angle_deficits(surface(cap(radius, (190, 190))), triangles, inside.ravel()).sum()
        area = sum((cell**2) * radius / math.sqrt(radius**2 - (u - 190) ** 2 - (v - 190) ** 2) for u in np.arange(20, 361, 20) for v in np.arange(20, 361, 20))  # fmt: skip
        self.assertAlmostEqual(total, area / radius**2, delta=0.01 * area / radius**2)
        self.assertAlmostEqual(angle_deficits(surface(lambda u, v: -(u**2) / 900), triangles, inside.ravel()).sum(), 0, delta=1e-9)  # fmt: skip


class Shapes(TestCase):
    def test_known_surfaces(self):
        told = shape_check(grid(cap(1000)))
        rise = 1000 - math.sqrt(1000**2 - 180**2)
        self.assertEqual((told.kind, told.sure, told.pieces), ("crowned", 1.0, 1))
        self.assertAlmostEqual(told.crown_gain, (2 * rise / 360) ** 2, delta=2e-4)
        self.assertAlmostEqual(told.radii_mm[0], 1000, delta=25)
        self.assertTrue(all(edge.gain_mm < -0.5 for edge in told.edges), "its edges must lose")
        self.assertIn("shrinker along the edges", told.tools)
        self.assertAlmostEqual(max(h for _, h in told.templates[1]), rise, delta=0.3)
        bowl = shape_check(grid(cap(1000, sign=-1)))
        self.assertEqual(bowl.kind, "crowned")
        saddle = shape_check(ShapeRequest.read({"radii": {"length_mm": 400, "width_mm": 300, "radius_mm": 700, "other_mm": 700, "saddle": True}}))  # fmt: skip
        self.assertEqual((saddle.kind, all(edge.gain_mm > 0.5 for edge in saddle.edges)), ("saddle", True))
        bent = shape_check(
            ShapeRequest.read({"radii": {"length_mm": 400, "width_mm": 300, "radius_mm": 700}})
        )
        self.assertEqual((bent.kind, bent.radii_mm[1], bent.pieces), ("bent", None, 1))
        self.assertLess(abs(bent.crown_gain), 2e-3)
        deep = shape_check(grid(cap(260)))
        self.assertGreater(deep.pieces, 1)
        self.assertIn("part it into", deep.words)
        tail = shape_check(grid(lambda u, v: -((u - 180) ** 2 + (v - 180) ** 2) * (0.3 + v / 250) / 2600))
        self.assertEqual((tail.kind, tail.first), ("crowned", "high v"))

    def test_sections_in_two_directions_tell_it_too(self):
        across = lambda at: [(s, cap(1000)(s, at)) for s in range(0, 361, 60)]
        along = lambda at: [(s, cap(1000)(at, s)) for s in range(0, 361, 60)]
        sections = [{"axis": "u", "at_mm": at, "points": across(at)} for at in (0, 180, 360)] + [{"axis": "v", "at_mm": 180, "points": along(180)}]  # fmt: skip
        self.assertEqual(shape_check(ShapeRequest.read({"sections": sections})).kind, "crowned")
        sections[-1]["points"] = [(s, h + 6) for s, h in sections[-1]["points"]]
        with self.assertRaisesRegex(BadField, "Sections 1 and 4 contradict|Sections 3 and 4 contradict"):
            shape_check(ShapeRequest.read({"sections": sections}))

    def test_simulated_panels_are_told_no_worse_than_by_two_sections(self):
        """The plain way: rise over chord of the two middle sections; both above 1.5 mm is crowned or a saddle by their signs, one is bent, none is flat."""
        rng, mine, plain, count = np.random.default_rng(8), 0, 0, 1200
        for _ in range(count):
            true = str(rng.choice(["flat", "bent", "crowned", "saddle"]))
            a, b = rng.uniform(4, 40), rng.uniform(4, 40)
            tilt, turn = rng.uniform(-0.05, 0.05), rng.uniform(0, math.pi) if true == "bent" else 0.0

            def height(u, v, true=true, a=a, b=b, tilt=tilt, turn=turn):
                x, y = (u - 180) / 180, (v - 180) / 180
                x, y = x * math.cos(turn) + y * math.sin(turn), y * math.cos(turn) - x * math.sin(turn)
                bent = {
                    "flat": 0.0,
                    "bent": -a * x * x,
                    "crowned": -a * x * x - b * y * y,
                    "saddle": -a * x * x + b * y * y,
                }[true]
                return bent + tilt * u

            request = grid(height, noise=rng)
            found = read_shape(request)[3]
            mine += found == true or {found, true} == {"bent", "conical"}
            rows = np.array(request.heights)
            rises = [line[4] - (line[0] + line[-1]) / 2 for line in (rows[4], rows[:, 4])]
            big = [abs(rise) > 1.5 for rise in rises]
            told = (
                "flat"
                if not any(big)
                else "bent"
                if not all(big)
                else "crowned"
                if rises[0] * rises[1] > 0
                else "saddle"
            )
            plain += told == true
        self.assertGreater(mine / count, 0.93)
        self.assertGreaterEqual(mine, plain)

    def test_refusals(self):
        for request, words in (
            ({}, "one of them"), ({"heights": [[0, 1], [0, 1, 2]]}, "as many as the first"), ({"sections": [{"axis": "u", "at_mm": 0, "points": [[0, 0], [9, 1]]}]}, "one direction"),
            ({"radii": {"length_mm": 400, "width_mm": 300, "radius_mm": 150}}, "beyond the centre"), ({"heights": [[0, 1], [0, 2]], "radii": {"length_mm": 4, "width_mm": 3, "radius_mm": 15}}, "one of them"),
        ):  # fmt: skip
            with self.assertRaisesRegex(BadField, words):
                shape_check(ShapeRequest.read(request))
