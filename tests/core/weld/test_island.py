"""Heat with edges: against the endless plate far from them, against images near one, energy kept, an island hotter until it is bridged."""

from unittest import TestCase

import numpy as np

from yellow_sill.core.errors import BadField
from yellow_sill.core.weld.heat import Plate, plate_c
from yellow_sill.core.weld.island import Grid, IslandRequest, imaged_c, island_heat

PLATE = Plate(thickness_mm=0.9, energy_j=300, cooling="still", ambient_c=20)
BOX = [(0, 0), (200, 0), (200, 150), (0, 150)]


def open_grid(size=300.0, cell=3.0, loss=PLATE.loss_per_s):
    return Grid((-size / 2, -size / 2, size / 2, size / 2), cell, 0.9, loss, 20.0)


def tacks(count, apart_s=6.0):
    """Tacks round the box, each far from the last."""
    ring = (
        [(200 * k / 13, 0) for k in range(13)]
        + [(200, 150 * k / 9) for k in range(9)]
        + [(200 - 200 * k / 13, 150) for k in range(13)]
        + [(0, 150 - 150 * k / 9) for k in range(9)]
    )
    order = [ring[(k * 17) % len(ring)] for k in range(count)]
    return [{"at": at, "start_s": k * apart_s} for k, at in enumerate(order)]


def ask(count=30, **more):
    return island_heat(
        IslandRequest.read({"patch": BOX, "tacks": tacks(count), "thickness_mm": 0.9, "energy_j": 300} | more)
    )


class Fields(TestCase):
    def test_far_from_edges_it_is_the_endless_plate(self):
        for wait, off in ((10, 0), (10, 21), (25, 30), (60, 45)):
            one = open_grid()
            one.put((1.5, 1.5), 300)
            one.run(wait)
            i, j = one._cell((1.5 + off, 1.5))
            true = plate_c(
                PLATE, np.array([[1.5 + off, 1.5]]), np.array([[1.5, 1.5]]), np.array([0.0]), wait
            )[0]
            self.assertAlmostEqual(20 + one.rise[i, j], true, delta=0.06 * (true - 20) + 0.3)

    def test_near_an_edge_it_is_the_image(self):
        grid = open_grid()
        uu, _ = grid.middles
        grid.steel &= uu > 0
        grid.right &= grid.steel[:, 1:] & grid.steel[:, :-1]
        grid.above &= grid.steel[1:] & grid.steel[:-1]
        source, edge = (10.5, 1.5), ((0.0, -50.0), (0.0, 50.0))
        grid.put(source, 300)
        grid.run(20)
        for place in ((1.5, 1.5), (4.5, 16.5), (25.5, 1.5)):
            true = imaged_c(PLATE, place, [source], [0.0], 20.0, [edge])
            self.assertAlmostEqual(20 + grid.rise[grid._cell(place)], true, delta=0.06 * (true - 20) + 0.3)
            self.assertGreater(
                true, plate_c(PLATE, np.array([place]), np.array([source]), np.array([0.0]), 20.0)[0]
            )

    def test_no_heat_is_lost_but_over_the_surface_and_no_step_is_too_long(self):
        grid = open_grid(loss=0.0)
        grid.put((1.5, 1.5), 300)
        grid.run(200)
        self.assertAlmostEqual(grid.kept_j, 300, places=4)
        grid._step(500.0)
        self.assertAlmostEqual(grid.kept_j, 300, places=4)
        self.assertLess(float(np.abs(grid.rise).max()), 1000)

    def test_two_edges_square_on_each_other_have_three_images(self):
        corner = [((0.0, -9.0), (0.0, 9.0)), ((-9.0, 0.0), (9.0, 0.0))]
        at = imaged_c(PLATE, (0, 0), [(10, 10)], [0.0], 15.0, corner)
        free = plate_c(PLATE, np.array([[0.0, 0.0]]), np.array([[10.0, 10.0]]), np.array([0.0]), 15.0)[0]
        self.assertAlmostEqual(at - 20, 4 * (free - 20), places=6)
        with self.assertRaisesRegex(BadField, "for one edge, or for two"):
            imaged_c(PLATE, (0, 0), [(10, 10)], [0.0], 15.0, corner * 2)


class Islands(TestCase):
    def test_an_island_is_hotter_than_an_endless_plate_and_cooler_blown(self):
        told = ask()
        self.assertGreater(told.hottest_c, max(told.endless_c) * 0.9)
        self.assertGreater(sum(told.before_c[5:]), sum(told.endless_c[5:]))
        self.assertLess(ask(cooling="blown").hottest_c, told.hottest_c)
        self.assertEqual(ask(backing=True).before_c, ask(cooling="blown").before_c)
        self.assertTrue(ask(limit_c=25).over)

    def test_a_panel_that_ends_beside_the_seam_keeps_the_heat(self):
        near = [(-12, -12), (212, -12), (212, 162), (-12, 162)]
        self.assertGreater(ask(panel=near).hottest_c, ask().hottest_c)

    def test_a_patch_that_is_alike_on_both_sides_is_heated_alike(self):
        both = [
            {"at": at, "start_s": 30.0 * k} for k, at in enumerate(((0, 75), (200, 75), (100, 0), (100, 150)))
        ]
        told = island_heat(
            IslandRequest.read({"patch": BOX, "tacks": both, "thickness_mm": 0.9, "energy_j": 300})
        )
        mirrored = [{"at": (200 - tack["at"][0], tack["at"][1]), "start_s": tack["start_s"]} for tack in both]
        other = island_heat(
            IslandRequest.read(
                {
                    "patch": [(200 - u, v) for u, v in BOX],
                    "tacks": mirrored,
                    "thickness_mm": 0.9,
                    "energy_j": 300,
                }
            )
        )
        for one, two in zip(told.before_c, other.before_c, strict=True):
            self.assertAlmostEqual(one, two, delta=0.6)

    def test_a_tack_a_week_later_finds_cold_steel(self):
        late = [{"at": (0, 75), "start_s": 0}, {"at": (200, 75), "start_s": 600_000}]
        told = island_heat(
            IslandRequest.read({"patch": BOX, "tacks": late, "thickness_mm": 0.9, "energy_j": 300})
        )
        self.assertEqual(told.before_c, [20.0, 20.0])

    def test_refusals(self):
        for tack, words in (
            ([{"at": (0, 0), "start_s": 9}, {"at": (9, 0), "start_s": 3}], "not in the order"),
            ([{"at": (90, 70), "start_s": 0}], "Tack 1 lies off the gap"),
        ):
            with self.assertRaisesRegex(BadField, words):
                island_heat(
                    IslandRequest.read({"patch": BOX, "tacks": tack, "thickness_mm": 0.9, "energy_j": 300})
                )
