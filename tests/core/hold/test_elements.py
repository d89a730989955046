import math
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_sill.core.hold.elements import FRAME_SHARE, SHEET_SHARE, axes_of, brace, member, sheet
from yellow_sill.core.hold.ground import rigid_modes
from yellow_sill.core.hold.section import E_MPA, G_MPA, POISSON, Section, Strip, section_of


def box(b=60.0, h=40.0, t=1.0):
    y, z = b / 2, h / 2
    return [Strip(y, -z, y, z, t), Strip(y, z, -y, z, t), Strip(-y, z, -y, -z, t), Strip(-y, -z, y, -z, t)]


def held_at_start(k, load):
    return np.linalg.solve(k[6:, 6:], load)


class Sections(TestCase):
    def test_a_closed_box_and_the_same_box_slit(self):
        closed, b, h, t = section_of(box()), 60.0, 40.0, 1.0
        self.assertAlmostEqual(closed.area, 2 * (b + h) * t)
        self.assertAlmostEqual(
            closed.j, 4 * (b * h) ** 2 / (2 * (b + h) / t) + 2 * (b + h) * t**3 / 3, places=4
        )
        self.assertAlmostEqual(
            closed.iz, 2 * (h * t * (b / 2) ** 2) + 2 * t * b**3 / 12 + 2 * h * t**3 / 12, places=4
        )
        walls = box()
        slit = section_of([Strip(w.y1, w.z1, w.y2, w.z2, w.t, slit=i == 0) for i, w in enumerate(walls)])
        self.assertAlmostEqual(slit.j, 2 * (b + h) * t**3 / 3, places=6)
        self.assertAlmostEqual(slit.area, closed.area)
        self.assertLess(section_of(walls[:3]).j, closed.j / 500, "a wall out, and it twists like paper")

    def test_two_cells_share_their_wall(self):
        a, t = 50.0, 1.0
        walls = [
            Strip(0, 0, a, 0, t),
            Strip(a, 0, a, a, t),
            Strip(a, a, 0, a, t),
            Strip(0, a, 0, 0, t),
            Strip(a, 0, 2 * a, 0, t),
            Strip(2 * a, 0, 2 * a, a, t),
            Strip(2 * a, a, a, a, t),
        ]
        # two equal cells: the middle wall carries nothing, so it is the box round both
        self.assertAlmostEqual(
            section_of(walls).j, 4 * (2 * a * a) ** 2 / (6 * a / t) + 7 * a * t**3 / 3, places=3
        )

    def test_warping_of_a_channel_in_closed_form(self):
        b, h, t = 40.0, 80.0, 1.5
        channel = section_of(
            [Strip(b, h / 2, 0, h / 2, t), Strip(0, h / 2, 0, -h / 2, t), Strip(0, -h / 2, b, -h / 2, t)]
        )
        self.assertAlmostEqual(
            channel.cw / (t * b**3 * h**2 / 12 * (3 * b + 2 * h) / (6 * b + h)), 1, places=6
        )
        self.assertGreater(channel.torsion(400), channel.j)
        self.assertEqual(section_of([]).area, 0)

    @given(st.floats(-3, 3))
    def test_turning_a_section_changes_neither_its_principal_moments_nor_its_twist(self, turn):
        c, s = math.cos(turn), math.sin(turn)
        walls = [Strip(30, -20, 30, 20, 1), Strip(30, 20, -25, 20, 1.4), Strip(-25, 20, -25, -5, 0.8)]
        turned = section_of(
            [
                Strip(c * w.y1 - s * w.z1, s * w.y1 + c * w.z1, c * w.y2 - s * w.z2, s * w.y2 + c * w.z2, w.t)
                for w in walls
            ]
        )
        plain = section_of(walls)
        np.testing.assert_allclose(sorted([turned.iy, turned.iz]), sorted([plain.iy, plain.iz]), rtol=1e-9)
        np.testing.assert_allclose([turned.j, turned.cw], [plain.j, plain.cw], rtol=1e-6)


class Elements(TestCase):
    SECTION = Section(200.0, 4e4, 9e4, 0.0, 6e4, 0.0)

    def test_a_cantilever_in_every_direction(self):
        length = 800.0
        k = member(
            self.SECTION, *axes_of(np.zeros(3), np.array([length, 0, 0])), length, (False, False), share=1.0
        )
        for freedom, stiffness in (
            (0, E_MPA * 200 / length),
            (1, 3 * E_MPA * 9e4 / length**3),
            (2, 3 * E_MPA * 4e4 / length**3),
            (3, G_MPA * 6e4 / length),
        ):
            load = np.zeros(6)
            load[freedom] = 1
            self.assertAlmostEqual(held_at_start(k, load)[freedom] * stiffness, 1, places=9)

    def test_a_soft_joint_gives_what_its_spring_gives(self):
        length, ei = 800.0, E_MPA * 9e4
        k = member(
            self.SECTION, *axes_of(np.zeros(3), np.array([length, 0, 0])), length, (True, False), share=1.0
        )
        spring = 3 * ei / length * 0.6 / 0.4
        self.assertAlmostEqual(
            held_at_start(k, np.eye(6)[1])[1], length**3 / (3 * ei) + length**2 / spring, places=9
        )

    def test_a_portal_sways_as_the_books_say(self):
        """Clamped feet, load H at the corner: sway = H h^3 / (12 E I) (3 k + 2) / (6 k + 1) / 2 ... with k = I_b h / (I l); Kleinlogel."""
        h, span, i = 1000.0, 1500.0, 5e4
        tube, rigid = (
            Section(1e6, i, i, 0.0, 1e5, 0.0),
            np.array([[0, 0, 0], [0, 0, h], [span, 0, h], [span, 0, 0]], float),
        )
        k = np.zeros((24, 24))
        for a, b in ((0, 1), (1, 2), (2, 3)):
            rows = np.r_[6 * a : 6 * a + 6, 6 * b : 6 * b + 6]
            k[np.ix_(rows, rows)] += member(
                tube, *axes_of(rigid[a], rigid[b]), 1.0, (False, False), share=1.0
            )
        load = np.zeros(12)
        load[0] = 100.0
        sway = np.linalg.solve(k[6:18, 6:18], load)[0]
        ratio = h / span  # beam to post stiffness, equal sections
        self.assertAlmostEqual(
            sway / (100 * h**3 / (12 * E_MPA * i) * (3 * ratio + 2) / (6 * ratio + 1)), 1, places=3
        )

    def test_the_patch_test_of_the_sheet(self):
        corners = np.array([[0, 0, 0], [100, 10, 0], [110, 90, 0], [-5, 80, 0], [45, 50, 0]], float)
        k = np.zeros((30, 30))
        for three in ((0, 1, 4), (1, 2, 4), (2, 3, 4), (3, 0, 4)):
            rows = np.concatenate([np.arange(6 * i, 6 * i + 6) for i in three])
            k[np.ix_(rows, rows)] += sheet(corners[list(three)], 1.0)
        strain = np.array([[1e-4, 3e-4], [1e-4, -2e-4]])
        moved = np.zeros((5, 6))
        moved[:, :2] = corners[:, :2] @ strain.T
        moved[:, 5] = (strain[1, 0] - strain[0, 1]) / 2
        inner = (k @ moved.ravel()).reshape(5, 6)[4]
        np.testing.assert_allclose(inner, 0, atol=1e-9)
        shear = strain[0, 1] + strain[1, 0]
        ex, ey = strain[0, 0], strain[1, 1]
        energy = (
            0.5
            * SHEET_SHARE
            * (E_MPA / (1 - POISSON**2) * (ex**2 + ey**2 + 2 * POISSON * ex * ey) + G_MPA * shear**2)
        )
        x, y = corners[:4, 0], corners[:4, 1]
        area = 0.5 * abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))
        self.assertAlmostEqual(0.5 * moved.ravel() @ k @ moved.ravel() / (energy * area), 1, places=9)

    @settings(deadline=None)
    @given(st.integers(0, 5), st.floats(-900, 900), st.floats(-900, 900))
    def test_moving_as_a_whole_costs_nothing(self, which, y, z):
        places = np.array([[0, 0, 0], [700, y, z], [300, 500, 100]], float)
        way, turn = np.eye(6)[which][:3], np.eye(6)[which][3:]
        modes = np.hstack([way + np.cross(turn, places), np.tile(turn, (3, 1))]).ravel()
        shifts = rigid_modes(places)
        self.assertLess(
            abs(
                shifts @ (shifts.T @ (way + np.cross(turn, places)).ravel())
                - (way + np.cross(turn, places)).ravel()
            ).max(),
            1e-6,
        )
        for k, nodes in (
            (sheet(places, 0.9), 3),
            (member(self.SECTION, *axes_of(places[0], places[1]), 900, (True, True)), 2),
            (brace(places[0], places[1], 25, 2, "welded", "seam"), 2),
            (brace(places[0], places[1], 25, 2, "bolted", "seam"), 2),
        ):
            part = modes[: 6 * nodes]
            self.assertLess(abs(k @ part).max(), 1e-6 * abs(k).max())
            self.assertLess(abs(k - k.T).max(), 1e-6 * abs(k).max())

    def test_a_brace_is_no_stiffer_than_its_anchors(self):
        ends = np.zeros(3), np.array([1000.0, 0, 0])
        along = lambda **more: brace(
            *ends, **({"size_mm": 25, "wall_mm": 2, "ends": "welded", "anchor": "seam"} | more)
        )[6, 6]
        self.assertAlmostEqual(along(), 1 / (1000 / (E_MPA * (25**2 - 21**2)) + 2 / 10e3), places=3)
        self.assertGreater(along(), along(anchor="sheet"))
        self.assertGreater(along(), along(ends="bolted"))
        self.assertEqual(FRAME_SHARE, 0.6)


class AgainstAnIndependentLibrary(TestCase):
    def test_a_skew_frame_in_space_moves_the_same(self):
        """Round tubes, so that the two libraries' local axes do not matter; ours is z up, theirs y up: x, z, -y."""
        from Pynite import FEModel3D

        rng = np.random.default_rng(7)
        places = np.vstack(
            [
                rng.uniform(-50, 50, (4, 3)) + [[0, 0, 0], [1000, 0, 0], [1000, 800, 0], [0, 800, 0]],
                rng.uniform(-80, 80, (4, 3)) + [[0, 0, 900], [1000, 0, 900], [1000, 800, 900], [0, 800, 900]],
            ]
        )
        pairs = [(0, 4), (1, 5), (2, 6), (3, 7), (4, 5), (5, 6), (6, 7), (7, 4), (0, 5), (4, 6)]
        tube = Section(250.0, 6e4, 6e4, 0.0, 1.2e5, 0.0)
        k = np.zeros((48, 48))
        theirs = FEModel3D()
        theirs.add_material("steel", E_MPA, G_MPA, POISSON, 0.0)
        theirs.add_section("tube", 250.0, 6e4, 6e4, 1.2e5)
        for i, (x, y, z) in enumerate(places):
            theirs.add_node(f"N{i}", x, z, -y)
        for a, b in pairs:
            rows = np.r_[6 * a : 6 * a + 6, 6 * b : 6 * b + 6]
            k[np.ix_(rows, rows)] += member(
                tube, *axes_of(places[a], places[b]), 1.0, (False, False), share=1.0
            )
            theirs.add_member(f"M{a}{b}", f"N{a}", f"N{b}", "steel", "tube")
        for i in range(4):
            theirs.def_support(f"N{i}", True, True, True, True, True, True)
        load = np.zeros(48)
        load[[6 * 6, 6 * 6 + 1, 6 * 7 + 2]] = 300.0, -200.0, -500.0
        for node, way, force in (("N6", "FX", 300.0), ("N6", "FZ", 200.0), ("N7", "FY", -500.0)):
            theirs.add_node_load(node, way, force)
        theirs.analyze_linear()
        ours = np.zeros(48)
        ours[24:] = np.linalg.solve(k[24:, 24:], load[24:])
        for i in range(4, 8):
            node = theirs.nodes[f"N{i}"]
            there = [next(iter(value.values())) for value in (node.DX, node.DZ, node.DY)]
            np.testing.assert_allclose(ours[6 * i : 6 * i + 3], [there[0], -there[1], there[2]], rtol=1e-8)
