"""Structures of every body type, their condition from survey and work, and a person's own panels."""

from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.hold.asked import HoldRequest
from yellow_sill.core.hold.bodies import (
    BODIES,
    ON_CHASSIS,
    body_layout,
    panels_of,
    stand_places,
    usual_stands,
    vehicle_structure,
)
from yellow_sill.core.hold.condition import Spot, cut_to, loss_of
from yellow_sill.core.hold.layout import structure_of_layout
from yellow_sill.core.hold.own_panels import Tie, counted, tied
from yellow_sill.core.hold.verdict import Judge, hold
from yellow_sill.core.hold.ways import usual_orders, usual_ways
from yellow_sill.core.hold.words import NAMES, node_name, part_name
from yellow_sill.core.shell.body_types import BODY_TYPES, build_shell


def standing(body, *, on_chassis=True, dimensions=None, **more):
    layout, nodes = body_layout(body, dimensions or {}, on_chassis=on_chassis)
    return structure_of_layout(layout, nodes) | {"stands": usual_stands(layout)} | more


EVERY = [(body, on) for body in BODIES for on in ((True, False) if body in ON_CHASSIS else (True,))]


class Bodies(TestCase):
    def test_every_body_type_has_one_and_it_holds_whole(self):
        self.assertEqual(set(BODIES), set(BODY_TYPES))
        for body, on in EVERY:
            with self.subTest(body, on_chassis=on):
                held = hold(HoldRequest.read(standing(body, on_chassis=on)))
                self.assertEqual(
                    (held.verdict, held.mechanisms, held.floating, held.idle), ("HELD", 0, [], [])
                )
                self.assertTrue(1 < held.twist_knm_per_deg < 20)
                self.assertEqual(max(node.give_mm for node in held.nodes.values()) < 2, True)

    def test_parts_are_panels_of_the_drawn_shell_and_everything_has_a_name(self):
        for body, on in EVERY:
            drawn = {panel.code for view in build_shell(body, {}).views for panel in view.panels}
            values = standing(body, on_chassis=on)
            self.assertGreater(len(counted(values["parts"]) & drawn), 20, body)
            for part in values["parts"]:
                self.assertNotEqual(part_name(part), part)
                if body in ON_CHASSIS:
                    self.assertLessEqual(set(panels_of(part)), drawn | {"BULK", "L-CANT", "R-CANT"}, part)
            for node in values["nodes"]:
                self.assertNotEqual(node_name(node), node)
            layout, nodes = body_layout(body, {}, on_chassis=on)
            self.assertLessEqual(set(stand_places(layout)), set(nodes))
        self.assertGreater(len(NAMES), 50)

    def test_left_and_right_answer_alike(self):
        for body, on in EVERY:
            values = standing(body, on_chassis=on)
            judge, got = Judge(request := HoldRequest.read(values)), []
            for part in ("sill_outer_L", "sill_outer_R"):
                got.append(
                    judge.judge(
                        {n: p.model_copy(update={"present": n != part}) for n, p in request.parts.items()},
                        [],
                        modes=False,
                    ).j
                )
            self.assertAlmostEqual(*got, places=3)

    def test_the_chassis_carries_and_without_a_mount_the_body_hangs_softer(self):
        values = standing("tourer-ladder-chassis")
        values["parts"]["mount_r_L"]["present"] = False
        less = hold(HoldRequest.read(values))
        self.assertGreater(less.j, hold(HoldRequest.read(standing("tourer-ladder-chassis"))).j)
        off = vehicle_structure("tourer-ladder-chassis", {}, on_chassis=False)
        self.assertFalse(
            [name for name in off["parts"] if name.startswith(("chassis", "mount", "outrigger"))]
        )

    @settings(max_examples=25, deadline=None)
    @given(st.sampled_from(BODIES), st.data())
    def test_any_size_that_can_be_drawn_has_a_structure_that_holds(self, body, data):
        sizes = {
            d.name: data.draw(st.floats(d.least_mm, d.most_mm), d.name) for d in BODY_TYPES[body].dimensions
        }
        try:
            build_shell(body, sizes)
        except BadField:
            return
        held = hold(HoldRequest.read(standing(body, dimensions=sizes, modes=False)))
        self.assertEqual((held.verdict, held.floating), ("HELD", []))

    def test_ways_and_orders_are_of_the_body(self):
        for body, on in EVERY:
            values = standing(body, on_chassis=on)
            for way in usual_ways(values["nodes"], values["parts"]):
                self.assertLessEqual({name for pair in way.braces for name in pair}, set(values["nodes"]))
                self.assertLessEqual(set(way.out), set(values["parts"]))
            self.assertEqual(len(usual_orders(values["nodes"], values["parts"])), 4)
        self.assertEqual(usual_orders(["ATL"], []), [])


class Condition(TestCase):
    def test_readings_overrule_the_grade_but_not_a_hole(self):
        for grade, left, lost in (
            ("T", None, 0.45),
            ("T", 0.8, 0.2),
            ("S", 0.5, 0.5),
            ("P", 1.1, 0.0),
            ("H", 0.9, 0.85),
            ("F", 0.2, 0.8),
        ):
            self.assertAlmostEqual(
                loss_of([Spot(panel="L-SILL", grade=grade, share=0.1, left=left)]),
                2 * 0.1 * lost,
                msg=f"{grade} {left}",
            )

    def test_a_panel_is_cut_from_its_nearer_end(self):
        upright = [[0, 0], [10, 0], [10, 100], [0, 100]]
        self.assertEqual(sorted(v for _, v in cut_to(upright, (5, 80))), [80, 80, 100, 100])
        for nowhere in ((5, -30), (5, 0), (5, 130)):
            with self.assertRaises(BadField):
                cut_to(upright, nowhere)

    def test_a_panel_of_ones_own_counts_when_it_is_tied_and_is_refused_where_it_cannot_be(self):
        whole = standing("saloon-2-door-unitary")
        before = hold(HoldRequest.read(whole))
        for nodes in (("FWL", "ATL"), ("FWL", "ATL", "RBL"), ("FWL", "TWL", "RBL", "FML")):
            after = hold(HoldRequest.read(tied(whole, [Tie(panel="X-1", thickness_mm=2.0, nodes=nodes)])))
            self.assertGreater(after.twist_knm_per_deg, before.twist_knm_per_deg)
        for panel, nodes in (
            ("X-1", ("FWL",)),
            ("X-1", ("FWL", "FWL")),
            ("X-1", ("FWL", "XX")),
            ("L-SILL", ("FWL", "ATL")),
        ):
            with self.assertRaises(BadField):
                tied(whole, [Tie(panel=panel, thickness_mm=2.0, nodes=nodes)])
        self.assertEqual(part_name("panel_X-1"), "Own panel X-1")
