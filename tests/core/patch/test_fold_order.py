"""The order of folding: known parts, every order tried on small ones, random parts beside the plain rule."""

import math
from itertools import permutations
from unittest import TestCase

import numpy as np

from yellow_sill.core.errors import BadField
from yellow_sill.core.patch.fold_order import FoldOrderRequest, fold_order
from yellow_sill.core.patch.folding import AROUND, OVER, Search
from yellow_sill.core.patch.layout import laid_out
from yellow_sill.core.patch.tools import Solid, Tool, fingers_for

FOLDER = [{}]


def box(w, h):
    return [{"to": [w, 0]}, {"to": [w, h]}, {"to": [0, h]}, {"to": [0, 0]}]


def ask(runs, w=200, h=120, tools=FOLDER, **more):
    part = {"outline": box(w, h), "thickness_mm": 1.0, "inside_radius_mm": 1.0, "runs": runs} | more
    return FoldOrderRequest.read({"part": part, "tools": tools})


def run(name, on, legs, kind="flange", **more):
    return {"name": name, "on": [on], "legs_mm": legs, "kind": kind} | more


def order(*asked, **more):
    return fold_order(ask(*asked, **more))


def cost_of(search, path):
    """What an order costs, step by step; infinite where a step cannot be made."""
    mask, total, last, held = 0, 0.0, None, None
    for k in path:
        way = search.best(mask, k)
        if way is None:
            return math.inf
        total += way.cost + (
            OVER if last is not None and search.bends[last].spec.up != search.bends[k].spec.up else 0
        )
        total += AROUND / 4 if held is not None and held != way.held else 0
        mask, last, held = mask | 1 << k, k, way.held
    return total


def random_part(rng):
    runs = []
    for edge in "ABCD":
        if rng.random() < 0.7:
            kind = rng.choice(["flange", "return", "z"])
            legs = [float(rng.uniform(12, 60))] + ([float(rng.uniform(10, 25))] if kind != "flange" else [])
            runs.append(run(f"{edge}1", edge, legs, str(kind), direction=str(rng.choice(["up", "down"]))))
    return runs[:3] or [run("A1", "A", [20])]


class Orders(TestCase):
    def test_a_tray_keeps_its_fingers_between_its_walls(self):
        told = order([run(f"{edge}1", edge, [30]) for edge in "ABCD"])
        self.assertEqual((len(told.steps), told.blocked, told.turns_over), (4, [], 0))
        walls = {step.bend: step.fingers_mm for step in told.steps}
        self.assertEqual([walls[told.steps[0].bend], walls[told.steps[1].bend]], [[], []])
        for step in told.steps[2:]:
            self.assertLess(sum(step.fingers_mm), step.room_mm)
            self.assertGreaterEqual(sum(step.fingers_mm), 100)

    def test_lips_go_before_the_walls_they_stand_on(self):
        names = [
            step.bend
            for step in order([run("A1", "A", [30, 12], "return"), run("C1", "C", [30, 12], "return")]).steps
        ]
        self.assertLess(names.index("A1.2"), names.index("A1"))
        self.assertLess(names.index("C1.2"), names.index("C1"))

    def test_both_ways_turn_the_sheet_over_once(self):
        runs = [run("A1", "A", [20]), run("C1", "C", [20], direction="down")]
        self.assertEqual(order(runs).turns_over, 1)

    def test_a_box_deeper_than_the_fingers_is_named_with_its_mend(self):
        told = order([run(f"{edge}1", edge, [30]) for edge in "AB"], tools=[{"throat_mm": 25}])
        self.assertEqual(len(told.blocked), 1)
        self.assertIn("meets the beam", told.blocked[0].why)
        self.assertTrue(any("taller" in mend for mend in told.blocked[0].mends))
        self.assertTrue(any("a piece of its own" in mend for mend in told.blocked[0].mends))
        long = order([run("A1", "A", [30])], w=1200, tools=[{"longest_mm": 1000}])
        self.assertIn("1200 mm long", long.blocked[0].why)
        self.assertTrue(any("Split the part" in mend for mend in long.blocked[0].mends))
        self.assertIn("A1 cannot", long.words)
        few = order([run(f"{edge}1", edge, [30]) for edge in "ABCD"], tools=[{"fingers_mm": [20]}])
        self.assertIn("the fingers make up 20 mm", few.blocked[0].why)
        steep = order([run("A1", "A", [30], angles_deg=[150])])
        self.assertIn("135", steep.blocked[0].why)

    def test_other_tools_take_what_the_folder_cannot(self):
        told = order([run("A1", "A", [30, 12], "z")], tools=[{}, {"kind": "angle irons", "fingers_mm": [], "foot_mm": 25, "nose_deg": 90, "throat_mm": 25}])  # fmt: skip
        self.assertEqual((len(told.steps), told.blocked), (2, []))
        hem = order([run("A1", "A", [10], "closed hem")])
        self.assertIn("flat with the mallet", hem.steps[0].words)
        step = order([run("A1", "A", [12], "joggle"), run("B1", "B", [20])])
        self.assertEqual((step.otherwise, [each.bend for each in step.steps]), (["A1", "A1.2"], ["B1"]))
        self.assertIn("Nothing", order([]).words)

    def test_on_small_parts_no_order_is_cheaper_and_none_is_missed(self):
        rng, plainly = np.random.default_rng(11), 0
        for _ in range(60):
            request = ask(random_part(rng), w=float(rng.uniform(60, 300)), h=float(rng.uniform(60, 300)), tools=[{}, {"kind": "edge", "fingers_mm": [], "nose_deg": 90, "throat_mm": 25, "foot_mm": 40}])  # fmt: skip
            told, search = fold_order(request), Search(laid_out(request.part), request.tools)
            if len(search.bends) > 5:
                continue
            costs = {path: cost_of(search, path) for path in permutations(range(len(search.bends)))}
            cheapest = min(costs.values())
            index = {face.name: k for k, face in enumerate(search.bends)}
            made = cost_of(search, [index[step.bend] for step in told.steps])
            self.assertEqual(bool(told.blocked), math.isinf(cheapest))
            if not told.blocked:
                self.assertAlmostEqual(made, cheapest, delta=1e-3)
            # the plain rule: outermost first, then the longest
            plain = sorted(range(len(search.bends)), key=lambda k: (-len(search.above(search.bends[k])), -(search.bends[k].root[1] - search.bends[k].root[0])))  # fmt: skip
            plainly += math.isfinite(costs[tuple(plain)])
            self.assertLessEqual(made if told.steps else 0, costs[tuple(plain)] + 1e-3)
        self.assertGreater(plainly, 5, "the plain rule gets some of them too")

    def test_fingers_and_solids(self):
        self.assertEqual(fingers_for([25, 50], 20, 18), None)
        self.assertEqual(sum(fingers_for([25, 50, 75, 100, 125, 150], 333, 330) or []), 325)
        cube = Solid("cube", ((-1, 0, 0), (1, 0, 10), (0, -1, 0), (0, 1, 10)), True)
        self.assertEqual(cube.reach([(0, 5, -5), (40, 5, -5), (40, 5, 5), (0, 5, 5)]), (0, 40))
        self.assertIsNone(cube.reach([(0, 15, -5), (40, 15, -5), (40, 15, 5)]))
        slanted = cube.reach([(0, -10, 5), (100, 20, 5), (100, 20, 6)])
        self.assertAlmostEqual(slanted[0], 100 / 3, delta=1e-6)

    def test_too_many_bends_are_refused(self):
        runs = [run(f"{edge}1", edge, [30, 15, 9, 9], "return", angles_deg=[20]) for edge in "ABCD"]
        with self.assertRaisesRegex(BadField, "16 bends are more"):
            order(runs)
        with self.assertRaises(BadField):
            Tool.read({"kind": "press"})
