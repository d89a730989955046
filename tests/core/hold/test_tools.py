"""Cut list, access, calibration, comparison with what was measured, a person's own order."""

from unittest import TestCase

import numpy as np

from yellow_sill.core.errors import BadField
from yellow_sill.core.hold.access import blocked_by, in_the_way, openings_of
from yellow_sill.core.hold.asked import HoldRequest
from yellow_sill.core.hold.calibrate import CalibrateRequest, calibrate
from yellow_sill.core.hold.measured import Measured as AsMeasured
from yellow_sill.core.hold.measured import MeasuredRequest, against_measured, hold_measured
from yellow_sill.core.hold.order import OrderRequest, removal_order, walked
from yellow_sill.core.hold.ordered import compared
from yellow_sill.core.hold.tubes import TubesRequest, tubes
from yellow_sill.core.hold.unitary import saloon_structure
from yellow_sill.core.hold.verdict import Judge, hold

STANDS = ["RBL", "RBR", "RHL", "RHR"]
SIDE = ["floor_L", "sill_inner_L", "sill_outer_L", "sill_diaph_L"]


def saloon(out=(), **more):
    values = saloon_structure() | {"stands": STANDS} | more
    for part in out:
        values["parts"][part]["present"] = False
    return values


def cross(**brace):
    """Two boxes 100 square, 1000 apart, and a tube between their middles."""
    box = [[50, -50, 50, 50, "p"], [-50, -50, -50, 50, "p"], [-50, 50, 50, 50, "p"], [-50, -50, 50, -50, "p"]]
    nodes = {
        "A": [0, 0, 0],
        "B": [0, 1000, 0],
        "A1": [-500, 0, 0],
        "A2": [500, 0, 0],
        "B1": [-500, 1000, 0],
        "B2": [500, 1000, 0],
        "C": [600, 600, 0],
    }
    frames = [
        {"id": f"{a}-{b}", "from": a, "to": b, "strips": box}
        for a, b in (("A1", "A"), ("A", "A2"), ("B1", "B"), ("B", "B2"), ("A2", "B2"))
    ]
    return {"nodes": nodes, "parts": {"p": {"thickness_mm": 2}}, "frames": frames, "braces": [brace]}


class CutList(TestCase):
    def test_a_tube_square_to_its_faces_is_as_long_as_they_are_apart(self):
        cut = tubes(TubesRequest.read(cross(**{"from": "A", "to": "B"}))).tubes[0]
        self.assertEqual(
            (cut.between_mm, cut.long_mm, cut.short_mm, cut.mitre_start_deg), (1000, 900, 900, 0)
        )

    def test_a_slanted_one_is_mitred_and_its_points_reach_farther(self):
        answer = tubes(TubesRequest.read(cross(**{"from": "A", "to": "B2", "size_mm": 40, "wall_mm": 3})))
        cut = answer.tubes[0]
        slant = np.arctan2(500, 1000)
        clear = np.hypot(500, 1000) - 100 / np.cos(slant)
        self.assertAlmostEqual(cut.mitre_start_deg, np.degrees(slant), places=1)
        self.assertAlmostEqual(cut.long_mm, clear + 40 * np.tan(slant), places=1)
        self.assertAlmostEqual(answer.bar_mm["40x3"], cut.long_mm + 3, places=1)
        bolted = tubes(TubesRequest.read(cross(**{"from": "A", "to": "B2", "ends": "bolted"}))).tubes[0]
        self.assertEqual(
            (bolted.long_mm, bolted.words), (bolted.short_mm, "Cut square, a bolted tab at each end.")
        )

    def test_faces_that_leave_no_room_are_refused_by_name(self):
        values = cross(**{"from": "A", "to": "B"})
        values["nodes"] |= {"B": [0, 150, 0], "B1": [-500, 150, 0]}
        with self.assertRaises(BadField) as caught:
            tubes(TubesRequest.read(values))
        self.assertIn("A and B only 50 mm", caught.exception.what)


class Access(TestCase):
    def test_a_door_brace_is_in_the_way_of_the_door_and_a_tie_of_the_floor(self):
        request = HoldRequest.read(saloon())
        self.assertEqual(
            set(openings_of(request)), {"the left door opening", "the right door opening", "the engine bay"}
        )
        self.assertEqual(in_the_way(request, "ATL", "BBL", ["floor_L"]), ["the left door opening"])
        self.assertEqual(in_the_way(request, "SML", "TR", ["floor_L"]), ["floor_L"])
        self.assertEqual(in_the_way(request, "ATL", "ATR", ["floor_L", "floor_R"]), [])

    def test_a_brace_blocks_the_part_it_ends_on(self):
        request = HoldRequest.read(saloon(["bpost_inner_L"], braces=[{"from": "BBL", "to": "ATR"}]))
        self.assertEqual(blocked_by(request, request.braces[0], "bpost_outer_L"), "ends on it")
        self.assertEqual(blocked_by(request, request.braces[0], "roof"), "")


class Calibrate(TestCase):
    def test_a_shell_so_much_softer_is_found_again_from_one_reading(self):
        for softness in (0.5, 1.0, 2.2):
            real = hold(HoldRequest.read(saloon(softness=softness)))
            told = calibrate(CalibrateRequest.read(saloon(node="FRL", kg=200 / 9.81, read_mm=down(softness))))
            self.assertAlmostEqual(told.softness, softness, places=2)
            self.assertAlmostEqual(real.twist_ratio, 1, places=3)

    def test_what_no_shell_gives_is_refused(self):
        for change, where in (
            ({"read_mm": 0}, "read_mm"),
            ({"read_mm": 1e-4}, "read_mm"),
            ({"read_mm": 99}, "read_mm"),
            ({"node": "XX"}, "node"),
        ):
            with self.assertRaises(BadField) as caught:
                calibrate(CalibrateRequest.read(saloon(node="FRL", read_mm=1) | change))
            self.assertEqual(caught.exception.where, where)
        with self.assertRaises(BadField):
            calibrate(CalibrateRequest.read(saloon(["quarter_L"], node="QRL", read_mm=1)))


def down(softness):
    """How far 200 N pull the left rail's tip down."""
    judge = Judge(HoldRequest.read(saloon(softness=softness)))
    at = judge.structure.index["FRL"]
    from yellow_sill.core.hold.state import held_compliance

    return (
        200
        * held_compliance(judge.structure, judge.structure.assemble(judge.request.parts, ()))[
            6 * at + 2, 6 * at + 2
        ]
    )


class Measured(TestCase):
    def setUp(self):
        self.before, self.after = saloon(), saloon(SIDE, lumps=[])
        self.before["lumps"] = self.after["lumps"] = [
            {"node": node, "kg": 55} for node in ("FML", "FMR", "TF")
        ]
        first, second = (Judge(HoldRequest.read(v)) for v in (self.before, self.after))
        moves = [judge.solved(judge.request.parts, ()).moved for judge in (first, second)]
        self.change = moves[1] - moves[0]
        self.names = list(first.structure.index)

    def asked(self, factor, noise=0.2):
        points = {name: saloon()["nodes"][name] for name in ("ATL", "BWL", "FRL", "RRL", "RRR", "RHR", "RBR")}
        moved = {name: (factor * self.change[self.names.index(name), :3]).tolist() for name in points}
        measured = [{"id": name, "moved_mm": moved[name], "noise_mm": noise} for name in points]
        return {"before": self.before, "after": self.after, "points": points, "measured": measured}

    def test_the_factor_between_measured_and_worked_out_is_found(self):
        told = hold_measured(MeasuredRequest.read(self.asked(1.4)))
        self.assertAlmostEqual(told.factor, 1.4, places=1)
        self.assertEqual(told.agree, told.told)

    def test_a_point_that_moved_otherwise_is_named_and_noise_is_called_noise(self):
        asked = self.asked(1.0)
        asked["measured"][2]["moved_mm"] = [0, 0, -9.0]
        told = hold_measured(MeasuredRequest.read(asked))
        self.assertEqual((told.points[0].id, told.points[0].agree), ("FRL", False))
        self.assertIn("FRL moved", told.sentences[-1])
        self.assertIsNone(hold_measured(MeasuredRequest.read(self.asked(1.0, noise=50))).factor)

    def test_a_tilt_of_the_frame_is_no_movement(self):
        asked = self.asked(1.0) | {"frame": ["RRL", "RRR", "RHR", "RBR"]}
        for each in asked["measured"]:
            x, y, _ = asked["points"][each["id"]]
            each["moved_mm"] = [
                v + w for v, w in zip(each["moved_mm"], (0.3, -0.2, 0.001 * x + 0.002 * y), strict=True)
            ]
        flat = hold_measured(MeasuredRequest.read(self.asked(1.0) | {"frame": asked["frame"]}))
        self.assertEqual([p.predicted_mm for p in sorted(flat.points, key=lambda p: p.id)],
                         [p.predicted_mm for p in sorted(hold_measured(MeasuredRequest.read(asked)).points, key=lambda p: p.id)])  # fmt: skip

    def test_the_factor_is_as_sure_as_it_says_when_the_frame_itself_was_off(self):
        """A tilt of the frame moves all far points together. Over simulated rounds 95 % of the stated ranges hold the truth; the plain ratio's do not."""
        rng, truth = np.random.default_rng(7), 1.5
        nodes, frame = saloon()["nodes"], ["RRL", "RRR", "RHL", "RHR"]
        names = ["FRL", "FRR", "FML", "FMR", "TWL", "TWR", "ATL", "ATR"]
        alive, places = np.ones(len(self.names), bool), np.array([nodes[name] for name in self.names], float)
        droop = np.zeros_like(self.change)
        droop[:, 2] = (np.clip(1500 - places[:, 0], 0, None) / 1000) ** 2
        compared = lambda moved, noise: against_measured(
            self.names, places, alive, droop, nodes, frame,
            [AsMeasured(id=n, moved_mm=list(m), noise_mm=float(e)) for n, m, e in zip(names, moved, noise, strict=True)],
        )  # fmt: skip
        told = {
            point.id: np.array(point.predicted_mm) for point in compared(np.zeros((8, 3)), np.ones(8)).points
        }
        predicted = np.array([told[name] for name in names])
        away = np.array([nodes[name][0] for name in names]) - np.mean([nodes[name][0] for name in frame])
        size = np.abs(predicted).max()
        spot, tilt = 0.06 * size, 0.2 * size / np.abs(away).max()
        noise = 1.96 * np.hypot(spot, tilt * away)
        found, plain = [], []
        for _ in range(400):
            moved = truth * predicted + rng.normal(0, spot, (8, 3))
            moved[:, 2] += rng.normal(0, tilt) * away
            one, weight = compared(moved, noise), (1.96 / noise[:, None]) ** 2
            found.append(one.factor is not None and abs(one.factor - truth) <= 1.96 * one.factor_sigma)
            top, bottom = (weight * moved * predicted).sum(), (weight * predicted**2).sum()
            plain.append(abs(top / bottom - truth) <= 1.96 * bottom**-0.5)
        self.assertGreater(np.mean(found), 0.93)
        self.assertLess(np.mean(plain), 0.93)

    def test_states_of_two_shells_and_points_without_a_place_are_refused(self):
        other = saloon()
        other["nodes"]["EXTRA"] = [0, 0, 0]
        for change in ({"after": other}, {"measured": [{"id": "Z", "moved_mm": [0, 0, 0], "noise_mm": 1}]}):
            with self.assertRaises(BadField):
                hold_measured(MeasuredRequest.read(self.asked(1.0) | change))
        far = hold_measured(
            MeasuredRequest.read(
                self.asked(1.0)
                | {
                    "points": {"P": [0, 3000, 0]},
                    "measured": [{"id": "P", "moved_mm": [1, 0, 0], "noise_mm": 1}],
                }
            )
        )
        self.assertIsNone(far.points[0].agree)


class OwnOrder(TestCase):
    def test_a_persons_own_order_is_laid_beside_the_one_found_step_by_step(self):
        jobs, rules = (
            [{"id": part, "parts": [part]} for part in SIDE],
            [["sill_inner_L", "floor_L"], ["sill_diaph_L", "sill_outer_L"]],
        )
        own = [f"-{part}" for part in SIDE] + ["+sill_inner_L", "+floor_L", "+sill_diaph_L", "+sill_outer_L"]
        request = OrderRequest.read(saloon(jobs=jobs, rules=rules, own_order=own))
        mine, plan = walked(Judge(request), request), removal_order(request)
        self.assertEqual(mine.order, plan.own)
        self.assertGreaterEqual(plan.found.worst_j, mine.lower_bound)
        self.assertIn("Yours is at its worst at step", compared(mine.order, plan.found)[0])
        self.assertEqual(compared(plan.found, plan.found), ["Yours is as good as the one found."])
        with self.assertRaises(BadField):
            walked(Judge(request), request.model_copy(update={"own_order": own[:-1]}))
