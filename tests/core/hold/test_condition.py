"""A vehicle's structure from its sizes, and its state from survey and repairs."""

import unittest

from yellow_sill.core.errors import BadField
from yellow_sill.core.hold.asked import HoldRequest
from yellow_sill.core.hold.bodies import BODIES, panels_of, vehicle_structure
from yellow_sill.core.hold.condition import MOST_LOSS, Opening, Spot, carried, loss_of, with_condition
from yellow_sill.core.hold.sides import both_sides
from yellow_sill.core.hold.verdict import Judge, hold
from yellow_sill.core.hold.words import head_words, node_name, part_name, reason, said_plainly
from yellow_sill.core.repairs.gate import hold_gate
from yellow_sill.core.shell import build_shell
from yellow_sill.core.shell.planes import Plane

STANDS = ["RBL", "RBR", "RHL", "RHR"]
SHELL = build_shell(BODIES[0], {})


def structure(**sizes):
    return vehicle_structure(BODIES[0], SHELL.dimensions_mm | sizes)


def opening(panel, x0, x1, share=0.2, axes=("x", "z"), across=(200, 400)):
    low, high = across
    return Opening(
        panel=panel,
        plane=Plane(*axes),
        outline=[[x0, low], [x1, low], [x1, high], [x0, high]],
        share=share,
        why="R-01",
    )


def state(*, out=(), spots=(), openings=()):
    values = with_condition(structure(), spots, openings) | {"stands": STANDS}
    for name in out:
        values["parts"][name]["present"] = False
    return HoldRequest.read(values)


class Bodies(unittest.TestCase):
    def test_every_panel_of_the_map_is_on_the_drawing_and_the_structure_follows_the_sizes(self):
        codes = {panel.code for view in SHELL.views for panel in view.panels}
        usual, longer = structure(), structure(sill_length=SHELL.dimensions_mm["sill_length"] + 40)
        self.assertLessEqual({code for part in usual["parts"] for code in panels_of(part)}, codes)
        span = lambda told: told["nodes"]["SEL"][0] - told["nodes"]["ABL"][0]
        self.assertGreater(span(longer), span(usual) + 30)
        self.assertEqual(usual["nodes"]["BBL"][1], -usual["nodes"]["BBR"][1])
        self.assertIsNone(vehicle_structure("drawn-by-hand", {}))

    def test_sizes_that_cannot_be_are_refused_by_name(self):
        with self.assertRaises(BadField) as caught:
            structure(door_length=3000)
        self.assertEqual(caught.exception.where, "door_length")


class Condition(unittest.TestCase):
    def test_rust_counts_by_grade_and_share_and_never_takes_everything(self):
        light, heavy = (loss_of([Spot(panel="L-SILL", grade=grade, share=0.1)]) for grade in "PH")
        self.assertEqual((light, heavy), (0.03, 0.17))
        self.assertEqual(loss_of([Spot(panel="L-SILL", grade="H", share=1.0)] * 3), MOST_LOSS)
        self.assertEqual(
            state(spots=[Spot(panel="R-SILL", grade="H", share=0.1)]).parts["sill_outer_R"].loss, 0.17
        )

    def test_a_cut_takes_its_length_out_of_the_members_it_crosses_and_of_no_others(self):
        cut = state(openings=[opening("L-SILL", 900, 1100), opening("L-SILL", 1000, 1180)]).parts[
            "sill_outer_L"
        ]
        span = structure()["nodes"]["SML"][0] - structure()["nodes"]["ABL"][0]
        self.assertAlmostEqual(cut.along["ABL-SML"], 1 - 280 / span, places=3)
        self.assertEqual(cut.along["BBL-SEL"], 1.0)
        share = carried(state(openings=[opening("L-SILL", 900, 1180)]))
        self.assertLess(share["ABL-SML"], 1)
        self.assertEqual(share["ABR-SMR"], 1)

    def test_only_metal_that_a_cut_touches_counts(self):
        node = structure()["nodes"]["CBL"]
        above, at = (opening("L-QTR", 2450, 2700, across=(z, z + 145)) for z in (545, node[2] - 60))
        self.assertEqual(
            state(openings=[above]).parts["quarter_L"].along["CBL-QRL"],
            1.0,
            "the arch lip lies far under the waist",
        )
        self.assertLess(state(openings=[at]).parts["quarter_L"].along["CBL-QRL"], 0.8)
        floor = opening("L-FLOOR", 760, 860, axes=("x", "y"), across=(-600, -500))
        self.assertEqual(
            state(openings=[floor]).parts["floor_L"].along["SML-TM"],
            1.0,
            "a hole under the pedals leaves the seat crossmember alone",
        )

    def test_both_sides_open_at_once_are_told_with_the_better_order(self):
        left, right = opening("L-SILL", 900, 1100), opening("R-SILL", -1100, -900)
        parts = structure()["parts"]
        self.assertEqual(both_sides(parts, [left]), [])
        [told] = both_sides(parts, [left, right])
        self.assertIn("Do not cut both sides at once", told.words)
        self.assertEqual(
            [each.name for each in both_sides(parts, [left], out=["sill_outer_R"])], ["Outer sill"]
        )

    def test_a_cut_through_the_whole_sill_is_softer_than_through_its_skin_and_the_baseline_stays_whole(self):
        whole = Judge(state()).base.twist_knm_deg
        last = -1.0
        for panels in (["L-SILL"], ["L-SILL", "L-SILLI"], ["L-SILL", "L-SILLM", "L-SILLI"]):
            held = hold(state(openings=[opening(panel, 900, 1500) for panel in panels]))
            self.assertGreater(1 - held.twist_ratio, last)
            last = 1 - held.twist_ratio
        self.assertAlmostEqual(
            Judge(state(openings=[opening("L-SILL", 900, 1500)])).base.twist_knm_deg, whole, places=6
        )

    def test_words_name_places_and_the_verdict(self):
        sides = [f"{part}_L" for part in ("floor", "sill_inner", "sill_outer", "sill_diaph")]
        loose, held = hold(state(out=sides)), hold(state())
        self.assertEqual(
            (loose.verdict, head_words(loose), head_words(held)), ("LOOSE", "Plainly loose", "Plainly held")
        )
        self.assertRegex(reason(loose), r"^Left B-post foot: 20 kg moves it \d+\.\d mm more\.$")
        self.assertIn("the left B-post foot", " ".join(said_plainly(each) for each in loose.sentences))
        self.assertEqual(
            (part_name("roof"), part_name("sill_outer_R"), node_name("KC")),
            ("Roof skin", "Outer sill, right", "middle of the scuttle"),
        )
        shut, open_ = hold_gate("HELD", "LOOSE", "Why."), hold_gate("HELD", "SOFT", "Why.")
        self.assertEqual((shut.open, open_.open), (False, True))
        self.assertIn("Brace it first", shut.reason)
