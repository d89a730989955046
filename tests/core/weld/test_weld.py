import math
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString, box

from yellow_sill.core.errors import BadField, BadOutline
from yellow_sill.core.weld.field import HeatField
from yellow_sill.core.weld.heat import Plate, isotherms, plate_c
from yellow_sill.core.weld.seam import seams_of
from yellow_sill.core.weld.settings import JOINTS, PROCESSES, starting_setting
from yellow_sill.core.weld.tacks import TackRequest, pass_list, tack_order

PLATE = Plate(thickness_mm=1.0, energy_j=300.0, cooling="still", ambient_c=15.0)
RING = [list(p) for p in box(0, 0, 160, 90).buffer(-12).buffer(12, quad_segs=8).exterior.coords[:-1]]


def order(**changes):
    return tack_order(
        TackRequest.read({"path": RING, "closed": True, "thickness_mm": 1.0, "tack_energy_J": 400} | changes)
    )


class Heat(TestCase):
    def test_the_line_source_by_hand(self):
        """300 J in 1 mm steel, 10 mm away after 5 s, without loss: Q / (4 pi k t s) exp(-r2 / 4 a s)."""
        a = 0.050 / (7.85e-6 * 490)
        expected = (
            300
            / (4 * math.pi * 0.050 * 1.0 * 5)
            * math.exp(-100 / (4 * a * 5))
            * math.exp(-2 * 12e-6 / (7.85e-6 * 490) * 5)
        )
        self.assertAlmostEqual(float(PLATE.rise(np.array([[100.0]]), np.array([5.0]))[0]), expected, places=6)

    def test_heat_is_kept_when_nothing_is_lost(self):
        """Integrated over the plate the rise times rho c t gives back the energy; the loss takes its share."""
        step = 1.0
        xs = np.arange(-150, 150, step)
        grid = np.stack(np.meshgrid(xs, xs), -1).reshape(-1, 2)
        rise = plate_c(PLATE, grid, np.array([[0.0, 0.0]]), np.array([0.0]), 20.0) - 15.0
        kept = rise.sum() * step**2 * 7.85e-6 * 490 * 1.0
        self.assertAlmostEqual(kept, 300 * math.exp(-PLATE.loss_per_s * 20), delta=0.5)

    def test_contours_close_round_the_hot_place(self):
        warm, blue = isotherms(
            PLATE, [(0, 0)], [0.0], 1.0, {"hand-warm": 45.0, "blue": 310.0}, (-40, -40, 40, 40)
        )
        self.assertEqual((warm.name, blue.name), ("hand-warm", "blue"))
        for region in (warm, blue):
            radii = [math.hypot(x, y) for x, y in region.rings[0]]
            there = 15 + float(PLATE.rise(np.array([[np.mean(radii) ** 2]]), np.array([1.0]))[0])
            self.assertAlmostEqual(there, region.temperature_c, delta=6)


class Order(TestCase):
    def test_corners_first_then_pitch_then_between_until_closed(self):
        plan = order()
        first = [tack for tack in plan.tacks if tack.pass_number == 1]
        self.assertEqual(len(first), 4)
        for tack in first:
            self.assertGreater(min(abs(tack.at[0] - 80), 1e9), 60)
        self.assertLessEqual(plan.spacing_mm, 7.0)
        second = sorted(t.s_mm for t in plan.tacks if t.pass_number <= 2)
        gaps = [b - a for a, b in zip(second, second[1:], strict=False)]
        self.assertLessEqual(max(gaps), 25.001)
        numbers = [t.pass_number for t in plan.tacks]
        self.assertEqual(numbers, sorted(numbers))
        self.assertEqual(
            [
                p.name
                for p in pass_list(
                    [{"n": t.n, "pass": t.pass_number, "wait_s": t.wait_s} for t in plan.tacks]
                )
            ][0],
            "Corners and ends",
        )

    def test_no_tack_where_the_plate_is_too_hot_and_the_straight_run_is_hotter(self):
        for energy, limit in ((300, 60), (600, 60), (900, 45), (900, 120)):
            with self.subTest(energy=energy, limit=limit):
                plan = order(tack_energy_J=energy, limit_C=limit)
                self.assertLessEqual(max(t.plate_C_before for t in plan.tacks), limit + 0.05)
                self.assertGreater(plan.straight_run.hottest_before_tack_C, 2 * limit)
                self.assertLess(plan.straight_run.total_min, plan.total_min)

    def test_the_temperature_told_is_the_models(self):
        plan = order(tack_energy_J=700)
        plate = Plate(thickness_mm=1.0, energy_j=700.0, cooling="still", ambient_c=15.0)
        at, starts = np.array([t.at for t in plan.tacks]), np.array([t.start_s for t in plan.tacks])
        for n in (7, 30, len(at) - 1):
            self.assertAlmostEqual(
                plate_c(plate, at[n : n + 1], at, starts, starts[n])[0],
                plan.tacks[n].plate_C_before,
                delta=1.0,
            )

    def test_what_the_order_is_chosen_by_is_the_models_temperature_too(self):
        """Old tacks are interpolated between the times of a span: 900 tacks with pauses, against the formula."""
        rng = np.random.default_rng(7)
        points = rng.uniform(0, 900, (1200, 2)).astype(np.float32)
        squared = ((points[:, None] - points[None]) ** 2).sum(-1)
        for cooling, thickness in (("still", 1.0), ("still", 3.0), ("blown", 0.7)):
            plate = Plate(thickness_mm=thickness, energy_j=300.0, cooling=cooling, ambient_c=15.0)
            field, now, worst = HeatField(squared, plate), 0.0, 0.0
            field.tack(0, now)
            field.begin(np.arange(1, 1200))
            for _ in range(900):
                now += float(rng.choice([4.8, 4.8, 4.8, 30.0]))
                field.tack(field.take(int(rng.integers(len(field.places)))), now)
                told = field.rise(now + 4.8)
                at = int(rng.integers(len(told)))
                worst = max(worst, abs(told[at] - field.exact(at, now + 4.8)))
            self.assertEqual(
                len(set(field.order[:901]) | set(field.places)), 1200, "every place is one or the other"
            )
            self.assertLess(worst, 0.05, (cooling, thickness))

    def test_blowing_is_quicker_or_cooler(self):
        still, blown = (
            order(tack_energy_J=900, limit_C=40),
            order(tack_energy_J=900, limit_C=40, cooling="blown"),
        )
        self.assertLess(blown.total_min, still.total_min)

    @settings(max_examples=20, deadline=None)
    @given(
        st.lists(st.tuples(st.floats(0, 400), st.floats(0, 400)), min_size=2, max_size=6),
        st.floats(10, 60),
        st.floats(100, 900),
    )
    def test_every_place_once_and_on_the_seam(self, path, pitch, energy):
        line = LineString(path)
        if line.length < 20:
            return
        plan = order(path=path, closed=False, pitch_mm=pitch, tack_energy_J=energy)
        self.assertEqual(len({t.s_mm for t in plan.tacks}), len(plan.tacks))
        self.assertLessEqual(max(line.distance(LineString([t.at, t.at])) for t in plan.tacks), 0.02)
        self.assertTrue({0.0, round(line.length, 2)} <= {t.s_mm for t in plan.tacks})
        self.assertEqual([t.n for t in plan.tacks], list(range(1, len(plan.tacks) + 1)))

    def test_bad_seams_are_refused(self):
        for changes, kind in (
            ({"path": [[0, 0], [3, 0]], "closed": False}, BadOutline),
            ({"limit_C": 10}, BadField),
            ({"path": [[0, 0], [19_000, 0]]}, BadField),
        ):
            with self.subTest(changes), self.assertRaises(kind):
                order(**changes)


class SettingsAndSeams(TestCase):
    def test_every_process_gives_a_setting_or_says_why_not(self):
        for process in PROCESSES:
            for joint in JOINTS:
                with self.subTest(process=process, joint=joint):
                    try:
                        setting = starting_setting(process, joint, 1.0)
                        self.assertIn("Prove on scrap", setting.notes[0])
                        self.assertGreater(setting.tack_energy_j, 50)
                    except BadField as refused:
                        self.assertEqual(refused.where, "joint")
                        self.assertTrue(refused.mend)

    def test_gaps_and_ranges(self):
        self.assertEqual(starting_setting("mig", "butt", 0.8).gap_mm, 0.8)
        self.assertEqual(starting_setting("mig", "butt", 2.0).gap_mm, 1.0)
        self.assertEqual(starting_setting("tig", "butt", 1.0).gap_mm, 0)
        for bad in (("mig", "butt", 9.0), ("glue", "butt", 1.0), ("mig", "bow", 1.0)):
            with self.assertRaises(BadField):
                starting_setting(*bad)

    def test_a_seam_leaves_out_the_panels_edge(self):
        panel = [(0, 0), (200, 0), (200, 100), (0, 100)]
        [closed] = seams_of([(50, 30), (90, 30), (90, 70), (50, 70)], panel)
        self.assertTrue(closed.closed)
        [opened] = seams_of([(50, 0), (90, 0), (90, 70), (50, 70)], panel)
        self.assertFalse(opened.closed)
        self.assertAlmostEqual(opened.length_mm, 180, delta=0.2)
        self.assertEqual(len(seams_of([(50, 0), (90, 0), (90, 100), (50, 100)], panel)), 2)
