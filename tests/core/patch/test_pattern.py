"""The flat pattern in full: known answers by hand, and random trees of folds that, folded again, have their finished sizes."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.patch.faces import setback
from yellow_sill.core.patch.folded import Frame, frames, profile
from yellow_sill.core.patch.layout import laid_out
from yellow_sill.core.patch.part import PartRequest
from yellow_sill.core.patch.pattern import pattern
from yellow_sill.core.patch.proved import BendTest, k_from_test

BASE = Frame(np.zeros(3), np.array([1.0, 0, 0]), np.array([0, -1.0, 0]), np.array([0, 0, 1.0]))


def box(w, h):
    return [{"to": [w, 0]}, {"to": [w, h]}, {"to": [0, h]}, {"to": [0, 0]}]


def part(w=200.0, h=120.0, runs=(), **more):
    return PartRequest.read({"outline": box(w, h), "thickness_mm": 1.0, "inside_radius_mm": 1.0, "runs": list(runs)} | more)  # fmt: skip


def run(name, on, legs, kind="flange", **more):
    return {"name": name, "on": [on] if isinstance(on, str) else on, "legs_mm": legs, "kind": kind} | more


def codes(flat):
    return [remark.code for remark in flat.warnings]


def meets_mm(frame, other, at, t):
    """How far along ``frame``'s y the surface of ``other`` (at n = t) is crossed by the line on its own surface (n = at)."""
    foot, plane = frame.at(0, 0, at), other.at(0, 0, t)
    return float((plane - foot) @ other.n / (frame.y @ other.n))


def measured(made, face, found, t, how):
    """A leg's size in space: between the surfaces (outer or inner) of what it stands on and of what stands on it, along itself."""
    spec, frame = face.spec, found[face.name]
    below = found[face.parent.name] if face.parent else BASE
    side = {"outside": -1, "inside": 1}[how] * (1 if spec.up else -1) * t / 2
    start = meets_mm(frame, below, side, side)
    child = next((each for each in face.children if each.side == "tip"), None)
    if child is None:
        return face.flat - start
    side = {"outside": -1, "inside": 1}[how] * (1 if child.spec.up else -1) * t / 2
    return meets_mm(frame, found[child.name], side, side) - start


RUNS = st.fixed_dictionaries(
    {
        "kind": st.sampled_from(["flange", "return", "z"]),
        "count": st.integers(2, 4),
        "legs": st.lists(st.floats(9, 40), min_size=4, max_size=4),
        "angles": st.lists(st.floats(15, 135), min_size=4, max_size=4),
        "measured": st.sampled_from(["outside", "inside"]),
        "inside_radius_mm": st.floats(0, 3),
        "direction": st.sampled_from(["up", "down"]),
        "k_factor": st.one_of(st.none(), st.floats(0.3, 0.5)),
    }
)


class Folded(TestCase):
    @settings(max_examples=250, deadline=None)
    @given(st.dictionaries(st.sampled_from("ABCD"), RUNS, min_size=1), st.floats(0.6, 2.5), RUNS, st.sampled_from(["slot", "mitre", "round"]))  # fmt: skip
    def test_a_random_tree_folded_again_has_its_finished_sizes(self, edges, t, lip, corner):
        runs = []
        for edge, drawn in edges.items():
            count = {"flange": 1, "z": 2}.get(drawn["kind"], drawn["count"])
            rest = {key: drawn[key] for key in ("measured", "inside_radius_mm", "direction", "k_factor")}
            runs.append(run(f"{edge}1", edge, drawn["legs"][:count], drawn["kind"], angles_deg=drawn["angles"][:count], **rest))  # fmt: skip
        first = runs[0]["name"]
        runs.append(run("lip", f"{first}.finish", [lip["legs"][0]], angles_deg=[lip["angles"][0]], direction=lip["direction"]))  # fmt: skip
        request = part(300.0, 260.0, runs, thickness_mm=t, corners=[{"after": "A", "kind": corner}])
        try:
            made = laid_out(request)
        except BadField as error:
            assume("all bend" not in error.message and "no room" not in error.message)
            raise
        found = frames(made)
        for face in made.faces:
            spec = face.spec
            if spec.angle < math.radians(170):
                self.assertAlmostEqual(measured(made, face, found, t, spec.measured), spec.leg_mm, delta=0.01, msg=spec.name)  # fmt: skip
            axis = meets_mm(found[face.name], found[face.parent.name] if face.parent else BASE, 0, 0)
            self.assertAlmostEqual(-axis, (spec.radius_mm + t / 2) * math.tan(spec.angle / 2), delta=1e-6)
        for edge, (u, v) in {"A": (0, -1), "B": (1, 0), "C": (0, 1), "D": (-1, 0)}.items():
            if edge in edges:  # the mould line of a fold on the base lies on the outline
                face = made.face(f"{edge}1")
                side = (-1 if face.spec.up else 1) * t / 2
                frame = found[face.name]
                at = frame.at(0, meets_mm(frame, BASE, side, side), side)
                reach = {"A": 0, "B": 300, "C": 260, "D": 0}[edge]
                self.assertAlmostEqual(float(at[0] * u + at[1] * v), reach, delta=0.01)

    def test_the_neutral_fibre_keeps_its_length_while_a_bend_closes(self):
        made = laid_out(part(runs=[run("A1", "A", [30])]))
        face = made.face("A1")
        for share in (0.1, 0.5, 0.9, 1.0):
            frame = frames(made, {"A1": share})["A1"]
            angle = face.spec.angle * share
            neutral = face.allowance / angle
            self.assertAlmostEqual(-frame.origin[1] - 0, (neutral + (0.5 - face.spec.k)) * math.sin(angle) - face.inset, delta=1e-9)  # fmt: skip
        self.assertAlmostEqual(face.allowance / face.spec.angle - face.spec.k * 1.0, 1.0, delta=1e-9)


class Flat(TestCase):
    def test_a_channel_worked_by_hand(self):
        """Web 100, legs 30 outside, t 1, R 1, K 0.4: allowance 2.1991, setback 2; flat 30 + 100 + 30 - 2 (4 - 2.1991)."""
        flat = pattern(part(200, 100, [run("legs", ["A", "C"], [30], "channel")], k_factor=0.4))
        x0, y0, x1, y1 = flat.bounding_box_mm
        self.assertAlmostEqual(y1 - y0, 160 - 2 * (4 - math.pi / 2 * 1.4), delta=1e-3)
        self.assertEqual((x0, x1, [bend.name for bend in flat.bends]), (0, 200, ["legsa", "legsb"]))
        self.assertAlmostEqual(flat.mass_kg, flat.area_mm2 * 7.85e-6, delta=1e-4)

    def test_hems_joggles_and_tapers(self):
        hem = pattern(part(runs=[run("A1", "A", [10], "closed hem")]))
        bend = math.pi * 0.33
        self.assertAlmostEqual(-hem.bounding_box_mm[1], bend + 10 - 1 - 1, delta=1e-3)
        step = pattern(part(runs=[run("A1", "A", [12], "joggle", direction="down")]))
        made = laid_out(part(runs=[run("A1", "A", [12], "joggle", direction="down")]))
        lap = frames(made)["A1.2"]
        self.assertAlmostEqual(float(lap.origin[2]), -1.0, delta=1e-9)
        self.assertEqual(len(step.bends), 2)
        leaning = pattern(part(runs=[run("A1", "A", [30], start_taper_deg=45)]))
        plain = pattern(part(runs=[run("A1", "A", [30])]))
        self.assertAlmostEqual(plain.area_mm2 - leaning.area_mm2, 28**2 / 2, delta=0.1)

    def test_an_arc_stays_an_arc_and_its_flange_lies_as_far_out_as_its_blank(self):
        outline = [
            {"to": [200, 0]},
            {"to": [200, 100]},
            {"to": [0, 100], "centre": [100, 100]},
            {"to": [0, 0]},
        ]
        flat = pattern(PartRequest.read({"outline": outline, "thickness_mm": 1, "inside_radius_mm": 1, "k_factor": 0.4, "runs": [run("rim", "C", [15])]}))  # fmt: skip
        arcs = [piece for piece in flat.outline if piece.centre]
        deduction = 2 * 2 - math.pi / 2 * 1.4
        self.assertEqual([piece.centre for piece in arcs], [(100.0, 100.0)])
        self.assertAlmostEqual(math.dist(arcs[0].to, (100, 100)), 100 + 15 - deduction, delta=0.005)
        self.assertEqual(codes(flat), ["FLAT-05"])
        self.assertIn("shrunk by 13 %", flat.warnings[0].what)
        made = laid_out(PartRequest.read({"outline": outline, "thickness_mm": 1, "inside_radius_mm": 1, "runs": [run("rim", "C", [15])]}))  # fmt: skip
        out, up = profile(made, made.face("rim"))[-1]
        self.assertAlmostEqual(out - made.face("rim").inset, -0.5, delta=1e-6)
        self.assertAlmostEqual(up, 15 - 0.5, delta=1e-6)

    def test_box_corners(self):
        sides = [run(f"{edge}1", edge, [30]) for edge in "ABCD"]
        for kind in ("slot", "round", "mitre", "tab"):
            corners = [{"after": edge, "kind": kind} for edge in "ABCD"]
            flat = pattern(part(runs=sides, corners=corners))
            self.assertEqual(codes(flat), [], kind)
            self.assertEqual(
                sum(piece.centre is not None for piece in flat.outline) >= 4, kind == "round", kind
            )
            self.assertEqual(len(flat.bends), 8 if kind == "tab" else 4)
        made = laid_out(part(runs=sides, corners=[{"after": "A", "kind": "mitre"}]))
        found = frames(made)
        one = found["A1"].at(max(x for x, _ in made.face("A1").outline), 10.0, 0.5)
        other = found["B1"].at(min(x for x, _ in made.face("B1").outline), 10.0, 0.5)
        self.assertLess(float(np.linalg.norm(one - other)), 0.01, "mitred walls meet at their inner edges")

    def test_holes_arrive_where_they_belong(self):
        hole = {"at": [50, 18], "diameter_mm": 6, "kind": "drain"}
        flat = pattern(
            part(runs=[run("A1", "A", [30], holes=[hole])], holes=[{"at": [20, 60], "diameter_mm": 8}])
        )
        low, here = flat.holes[1], flat.holes[0]
        self.assertEqual(here.at, (20.0, 60.0))
        self.assertAlmostEqual(low.at[0], 50)
        self.assertAlmostEqual(low.at[1], 2 - math.pi / 2 * 1.4 - (18 - 2), delta=1e-3)
        near = pattern(part(runs=[run("A1", "A", [30], holes=[hole | {"at": [50, 6]}])]))
        self.assertEqual(codes(near), ["FLAT-07"])
        off = pattern(part(holes=[hole | {"at": [199, 60]}]))
        self.assertEqual(codes(off), ["FLAT-07"])
        other = pattern(part(runs=[run("A1", "A", [30], holes=[hole])], mirror_hand=True))
        self.assertAlmostEqual(other.holes[0].at[0], -50)
        self.assertAlmostEqual(Polygon(other.corners).area, pattern(part(runs=[run("A1", "A", [30])])).area_mm2, delta=0.1)  # fmt: skip

    def test_what_cannot_be_is_named_with_its_mend(self):
        short = pattern(part(runs=[run("A1", "A", [4])]))
        self.assertEqual(codes(short), ["FLAT-01"])
        inward = [run("A1", "A", [30, 80], "return"), run("C1", "C", [30, 80], "return")]
        self.assertEqual(
            codes(pattern(part(200, 120, inward))), [], "two lips over one another at one height only touch"
        )
        cross = [run("A1", "A", [30, 90], "return", angles_deg=[90, 80]), run("C1", "C", [42, 70], "return")]
        self.assertIn("FLAT-04", codes(pattern(part(200, 120, cross))))
        far = [{"to": [100, 0]}, {"to": [100, 60]}, {"to": [60, 60]}, {"to": [60, 20]}, {"to": [40, 20]}, {"to": [40, 60]}, {"to": [0, 60]}, {"to": [0, 0]}]  # fmt: skip
        into = pattern(PartRequest.read({"outline": far, "thickness_mm": 1, "runs": [run("d1", "D", [30])]}))  # fmt: skip
        self.assertIn("FLAT-02", codes(into))
        slotted = pattern(part(runs=[run("A1", "A", [30], from_mm=60, to_mm=120)]))
        self.assertEqual((codes(slotted), len(slotted.corners)), ([], 12))

    REFUSED = {
        "angle over 180": (run("A1", "A", [30], angles_deg=[190]), "No sheet is bent"),
        "nearly folded back": (run("A1", "A", [30], angles_deg=[175]), "it is a hem"),
        "twenty returns": (run("A1", "A", [20] * 20, "return"), "20 bends in a row"),
        "one return": (run("A1", "A", [20], "return"), "leg(s) are needed"),
        "channel on one edge": (run("A1", "A", [20], "channel"), "1 edge(s) are named"),
        "no such edge": (run("A1", "K", [20]), "no edge of this part"),
        "all bend": (run("A1", "A", [1.5]), "all bend"),
        "hem all fold": (run("A1", "A", [1.0], "closed hem"), "all fold"),
        "angles": (run("A1", "A", [30, 20], "return", angles_deg=[90, 90, 90]), "one angle"),
        "steep joggle": (run("A1", "A", [30], "joggle", angles_deg=[90]), "joggle"),
        "beyond the edge": (run("A1", "A", [30], from_mm=100, to_mm=300), "does not fit"),
        "an edge's name": (run("B", "A", [30]), "is an edge already"),
        "tapers that meet": (run("A1", "A", [150], start_taper_deg=40, finish_taper_deg=40), "no room"),
    }

    def test_bad_input_is_refused_with_a_sentence_at_its_place(self):
        for name, (told, words) in self.REFUSED.items():
            with self.subTest(name), self.assertRaises(BadField) as caught:
                laid_out(part(runs=[told]))
            self.assertIn(words, caught.exception.message)
            self.assertTrue(caught.exception.where.startswith("runs[0]"), name)
        thick = {"thickness_mm": 2.0, "runs": [run("A1", "A", [20], "closed hem")]}
        twice = {"runs": [run("A1", "A", [20]), run("A1", "B", [20])]}
        both = {"runs": [run("A1", "A", [20], from_mm=0, to_mm=80), run("A2", "A", [20], from_mm=60)]}
        eaten = {"outline": box(3, 120), "runs": [run("B1", "B", [20]), run("D1", "D", [20])]}
        tab = {"runs": [run("A1", "A", [20]), run("B1", "B", [20], angles_deg=[60])], "corners": [{"after": "A", "kind": "tab"}]}  # fmt: skip
        arc = {
            "outline": [
                {"to": [100, 0]},
                {"to": [100, 50]},
                {"to": [0, 50], "centre": [52, 50]},
                {"to": [0, 0]},
            ]
        }
        crossed = {"outline": [{"to": [100, 0]}, {"to": [0, 50]}, {"to": [100, 50]}, {"to": [0, 0]}]}
        clockwise = {"outline": [{"to": [0, 50]}, {"to": [100, 50]}, {"to": [100, 0]}, {"to": [0, 0]}]}
        for more, words in (
            (thick, "too thick"), (twice, "name of two runs"), (both, "overlap"), (eaten, "eat the base|leave nothing"), (tab, "lapped tab"), (arc, "does not meet"),
            (crossed, "crosses itself"), (clockwise, "clockwise"),
        ):  # fmt: skip
            with self.assertRaisesRegex(CoreError, words):
                laid_out(part(**more))

    def test_setbacks_and_k_from_a_test_bend(self):
        spec = laid_out(part(runs=[run("A1", "A", [30])])).face("A1").spec
        self.assertEqual(
            [round(setback(spec, 1.0, how), 6) for how in ("outside", "inside", "tangent")], [2, 1, 0]
        )
        told = k_from_test(BendTest(flat_mm=58.199, first_leg_mm=30, second_leg_mm=30, thickness_mm=1, inside_radius_mm=1))  # fmt: skip
        self.assertAlmostEqual(told.k_factor, 0.4, delta=0.001)
        for flat in (50.0, 60.5):
            with self.assertRaisesRegex(BadField, "neutral fibre"):
                k_from_test(
                    BendTest(
                        flat_mm=flat, first_leg_mm=30, second_leg_mm=30, thickness_mm=1, inside_radius_mm=1
                    )
                )
