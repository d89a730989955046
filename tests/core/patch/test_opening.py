"""The opening as a person sees it: rounded corners, lips of many pieces, gaps and laps; and the part folding."""

import math
import random
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon, box

from yellow_sill.core.errors import BadField
from yellow_sill.core.patch.card import bench_card, may_bend, sizes_judged
from yellow_sill.core.patch.edges import PatchRequest
from yellow_sill.core.patch.flat import develop
from yellow_sill.core.patch.fold_order import FoldOrderRequest, fold_order
from yellow_sill.core.patch.opening import EdgeMade, EdgeSaid, by_name, edges_seen, part_of, usual
from yellow_sill.core.patch.pattern import pattern
from yellow_sill.core.patch.play import PICTURES, play


def rounded(w=100.0, h=60.0, r=10.0):
    shape = box(0, 0, w, h).buffer(-r).buffer(r, quad_segs=8)
    points = list(shape.exterior.coords)[:-1]
    return points if shape.exterior.is_ccw else points[::-1]


def arch(w=200.0, h=120.0, r=80.0):
    """A panel's edge with a wheel arch in it: an opening whose lower edge is a free lip of 5 degrees a chord."""
    lip = [
        (w / 2 + r * math.cos(a), -20 + r * math.sin(a))
        for a in (math.radians(d) for d in range(165, 14, -5))
    ]
    return [(0.0, 0.0), *lip, (w, 0.0), (w, h), (0.0, h)]


class Seen(TestCase):
    def test_rounded_corners_have_no_name_and_a_lip_is_one_edge(self):
        seen, whole = edges_seen(rounded())
        self.assertEqual(
            [(edge.name, edge.length_mm) for edge in seen], [("A", 80), ("B", 40), ("C", 80), ("D", 40)]
        )
        self.assertEqual(sum(edge.centre is not None for edge in whole), 4)
        points = arch()
        count = len(points)
        kinds = {i: "free" if 1 <= i < count - 4 else "joint" for i in range(count)}
        seen, _ = edges_seen(points, kinds)
        lips = [edge for edge in seen if edge.kind == "free"]
        self.assertEqual((len(lips), lips[0].curved, len(lips[0].pieces)), (1, True, 1))
        self.assertAlmostEqual(lips[0].length_mm, 80 * math.radians(150), delta=0.2)
        self.assertEqual(
            {edge.name: usual(seen)[edge.name].treatment for edge in lips}, {lips[0].name: "free"}
        )

    @settings(max_examples=40, deadline=None)
    @given(
        st.integers(0, 10**6),
        st.floats(180, 420),
        st.integers(5, 17),
        st.floats(0.3, 1.0),
        st.sampled_from([0, 0.3]),
        st.sampled_from([0, 0.9]),
    )
    def test_a_traced_lip_is_flanged_folded_and_played_or_refused_by_name(
        self, seed, radius, chords, span, shake, gap
    ):
        """However a lip along an arch was traced, its flange goes all the way from the pattern to the play."""
        chance = random.Random(seed)
        angles = [0.6 + span * k / chords for k in range(chords, -1, -1)]
        lip = [
            (radius * math.cos(a) + chance.gauss(0, shake), radius * math.sin(a) + chance.gauss(0, shake))
            for a in angles
        ]
        ends = [[c * (1 + chance.uniform(60, 150) / radius) for c in at] for at in (lip[-1], lip[0])]
        points = [*lip, *ends]
        kinds = {i: "free" if i < chords else "joint" for i in range(len(points))}
        seen, _ = edges_seen(points, kinds)
        made = {edge.name: EdgeMade(treatment="flange", legs_mm=[12]) for edge in seen if edge.kind == "free"}
        try:
            part = part_of(points, made, kinds=kinds, thickness_mm=0.9, gap_mm=gap)
            pattern(part)
            order = fold_order(FoldOrderRequest(part=part))
        except BadField as refused:
            self.assertRegex(refused.message, r"[A-Z]\d? ")
            return
        self.assertLessEqual(len(order.steps), 2, "a lip of many pieces is no row of folds")
        self.assertTrue(play(part).stages)

    @settings(max_examples=60, deadline=None)
    @given(st.floats(60, 400), st.floats(40, 300), st.floats(3, 18), st.floats(0, 1.5))
    def test_butted_all_round_it_is_the_opening_less_its_gap(self, w, h, r, gap):
        points = rounded(w, h, r)
        flat = pattern(part_of(points, {}, thickness_mm=1, gap_mm=gap))
        true = (w - 2 * gap) * (h - 2 * gap) - (4 - math.pi) * (r - gap) ** 2
        self.assertAlmostEqual(flat.area_mm2, true, delta=0.3)
        self.assertEqual(sum(piece.centre is not None for piece in flat.outline), 4)
        plain = develop(PatchRequest.read({"outline": points, "thickness_mm": 1, "gap_mm": gap}))
        self.assertAlmostEqual(flat.area_mm2, plain.area_mm2, delta=0.02 * r * r + 0.5)

    def test_laps_flanges_and_corners_come_to_the_part(self):
        points = [(0, 0), (100, 0), (100, 60), (0, 60)]
        made = {"A": EdgeMade(treatment="lap", legs_mm=[12]), "B": EdgeMade(treatment="flange", legs_mm=[20]), "C": EdgeMade(treatment="return", legs_mm=[20, 8], corner="mitre")}  # fmt: skip
        seen, _ = edges_seen(points)
        names = {edge.name: edge.middle for edge in seen}
        flat = pattern(part_of(points, made, thickness_mm=1, gap_mm=0.5, inside_radius_mm=1, k_factor=0.4))
        self.assertEqual({bend.name for bend in flat.bends}, {"B1", "C1", "C1.2"})
        x0, y0, x1, y1 = flat.bounding_box_mm
        self.assertEqual(names["A"], (50.0, 0.0))
        self.assertAlmostEqual(y0, -12)
        self.assertAlmostEqual(x0, 0.5)
        self.assertAlmostEqual(x1, 100 + 20 - (4 - 2.1991), delta=0.001)
        self.assertAlmostEqual(y1, 60 + 28 - 2 * (4 - 2.1991), delta=0.001)
        self.assertEqual([remark.code for remark in flat.warnings], [])

    def test_what_was_said_of_a_place_stays_with_it_when_the_line_moves(self):
        said = [
            EdgeSaid(at=(50, 0), treatment="flange", legs_mm=[20]),
            EdgeSaid(at=(50, 200), treatment="lap", legs_mm=[9]),
        ]
        for points in (rounded(), rounded(w=104, h=58), [(0, 2), (100, -3), (104, 70), (0, 60)]):
            found, lost = by_name(edges_seen(points)[0], said)
            self.assertEqual([made.treatment for made in found.values()], ["flange"])
            self.assertEqual([each.treatment for each in lost], ["lap"])

    def test_refusals_name_the_edge(self):
        points = rounded()
        for made, words in (
            ({"K": EdgeMade()}, "no edge K"), ({"A": EdgeMade(treatment="lap")}, "A needs 1 size"), ({"A": EdgeMade(treatment="return", legs_mm=[9])}, "A needs 2 size"),
        ):  # fmt: skip
            with self.assertRaisesRegex(BadField, words):
                part_of(points, made, thickness_mm=1)
        with self.assertRaisesRegex(BadField, "leaves nothing"):
            pattern(part_of([(0, 0), (10, 0), (10, 8), (0, 8)], {}, thickness_mm=1, gap_mm=5))


class Card(TestCase):
    def card(self, **made):
        plan = {
            "A": EdgeMade(treatment="return", legs_mm=[20, 8]),
            "B": EdgeMade(treatment="joggle", legs_mm=[12]),
        } | made
        part = part_of(
            [(0, 0), (100, 0), (100, 60), (0, 60)], plan, thickness_mm=1, inside_radius_mm=1, k_factor=0.4
        )
        return bench_card(part, pattern(part), fold_order(FoldOrderRequest(part=part)), [], 0.8, 0.0)

    def test_sizes_are_those_of_the_sheet_and_bending_waits_for_them(self):
        card = self.card()
        sizes = {size.key: size.should_mm for size in card.sizes}
        self.assertAlmostEqual(
            sizes["A1"], 16 + 2.1991, delta=0.06
        )  # 20 less both setbacks, and half an allowance at each end
        self.assertAlmostEqual(sizes["A1.2"], 6 + 2.1991 / 2, delta=0.06)
        keys = [step.key for step in card.steps]
        self.assertLess(keys.index("deburr"), keys.index("bend A1.2"))
        self.assertLess(keys.index("bend A1.2"), keys.index("bend A1"))
        self.assertIn("by hand B1", keys)
        self.assertIn("2 mm outside", next(step.words for step in card.steps if step.key == "cut"))
        self.assertIn("not measured", may_bend(sizes_judged(card, {})))
        self.assertEqual(may_bend(sizes_judged(card, sizes)), "")
        self.assertIn(
            "Stop: The sheet over all, along is off by -1.0 mm",
            may_bend(sizes_judged(card, sizes | {"wide": sizes["wide"] - 1})),
        )
        self.assertEqual(may_bend(sizes_judged(card, {key: size + 0.5 for key, size in sizes.items()})), "")
        other = self.card(A=EdgeMade(treatment="return", legs_mm=[21, 8]))
        self.assertEqual((card.of, card.of == other.of), (self.card().of, False))


class Playing(TestCase):
    def test_a_part_folds_from_the_flat_to_its_finished_height(self):
        points = [(0, 0), (100, 0), (100, 60), (0, 60)]
        made = {
            "A": EdgeMade(treatment="return", legs_mm=[20, 8]),
            "B": EdgeMade(treatment="flange", legs_mm=[15]),
        }
        told = play(part_of(points, made, thickness_mm=1, inside_radius_mm=1))
        self.assertEqual([stage.bend for stage in told.stages], [step.bend for step in told.order.steps])
        self.assertEqual({len(stage.pictures) for stage in told.stages}, {PICTURES})
        flat = [at[2] for shape in told.flat for at in shape.outline]
        self.assertEqual((min(flat), max(flat)), (0, 0))
        area = sum(Polygon([at[:2] for at in shape.outline]).area for shape in told.flat)
        self.assertAlmostEqual(
            area, pattern(part_of(points, made, thickness_mm=1, inside_radius_mm=1)).area_mm2, delta=8
        )
        done = [at[2] for shape in told.stages[-1].pictures[-1] for at in shape.outline]
        self.assertAlmostEqual(max(done), 20 - 1, delta=0.1)

    def test_a_curved_flange_stands_up_all_along_its_arc(self):
        points = arch()
        kinds = {i: "free" if 1 <= i < len(points) - 4 else "joint" for i in range(len(points))}
        lip = next(edge.name for edge in edges_seen(points, kinds)[0] if edge.kind == "free")
        told = play(
            part_of(points, {lip: EdgeMade(treatment="flange", legs_mm=[12])}, kinds=kinds, thickness_mm=1)
        )
        last = [shape for shape in told.stages[-1].pictures[-1] if shape.face == f"{lip}1"]
        self.assertAlmostEqual(max(at[2] for shape in last for at in shape.outline), 11.5, delta=0.1)
        self.assertIn("its rim worked at the marks", told.stages[-1].words)
