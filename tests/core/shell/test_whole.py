"""Sheets in space: sections, cavities, edges and curves of drawn bodies, and of boxes whose answer is known."""

import math
from functools import cache
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis.strategies import floats, integers, sampled_from
from shapely.geometry import LineString, Polygon

from yellow_sill.core.errors import BadField
from yellow_sill.core.shell import BODY_TYPES, build_shell
from yellow_sill.core.shell.apart import pulled_apart
from yellow_sill.core.shell.cavities import cavities_of, looks_into, own_cavity
from yellow_sill.core.shell.cavity_records import CavitySaid, OwnCavity, lies_on
from yellow_sill.core.shell.curvature import CurveSaid, zones_of
from yellow_sill.core.shell.edges import EdgeSaid, edges_of, lengths_of, runs_by
from yellow_sill.core.shell.lie import Body, box_of
from yellow_sill.core.shell.model import Feature, Panel, View
from yellow_sill.core.shell.sections import behind_one_another, extent, labels, section, traced

SALOON = "saloon-2-door-unitary"


@cache
def body(kind=SALOON):
    return Body(build_shell(kind, {}, "left").views)


def view(kind=SALOON, name="left"):
    return next(each for each in body(kind).views if each.name == name)


def rect(u0, v0, u1, v1):
    return [[u0, v0], [u1, v0], [u1, v1], [u0, v1]]


def panel(code, outline, layer=1, **more):
    return Panel(
        code=code, name=code, mirror_code="", layer=layer, thickness_mm=1.0, tone=1, outline=outline, **more
    )


def plane(name, axes, panels, features=(), *, layered=True):
    points = np.array([p for each in panels for p in each.outline])
    bounds = [*points.min(axis=0).tolist(), *points.max(axis=0).tolist()]
    return View(
        name=name, title=name, u_axis=axes[0], v_axis=axes[1], bounds=bounds, silhouette=[[rect(*bounds)]], layered=layered, panels=list(panels),
        features=list(features),
    )  # fmt: skip


def sill(long=1000.0, high=150.0, features=(), **more):
    """A sill 104 mm deep between two plain sheets, in a body 1,560 mm wide."""
    outline = rect(0, 200, long, 200 + high)
    side = plane(
        "left", ("x", "z"), [panel("L-SILL", outline, **more), panel("L-SILLI", outline, layer=3)], features
    )
    front = plane("front", ("-y", "z"), [panel("NOSE", rect(-780, 100, 780, 1300))], layered=False)
    return Body([side, front])


class Sections(TestCase):
    def test_a_sill_is_met_from_the_outside_in(self):
        found = section(body(), "x", 1300)
        left = [each.code for each in found.sheets if each.side == "left" and 200 < each.span_mm[1] < 380]
        order = [code for code in dict.fromkeys(left) if code in ("L-SILL", "L-SILLM", "L-SILLI")]
        self.assertEqual(order, ["L-SILL", "L-SILLM", "L-SILLI"])
        self.assertEqual(
            [each.code for each in labels(found)], list(dict.fromkeys(each.code for each in found.sheets))
        )
        here = [each.code for each in behind_one_another(found, [-760, 300], "y")]
        self.assertLess(here.index("L-SILL"), here.index("L-SILLM"))

    def test_a_chassis_rail_is_a_box_of_four_plates(self):
        for kind, codes in (("cab-ladder-chassis", "L-CHRAIL"), (SALOON, "L-LEG")):
            met = {each.code for each in section(body(kind), "x", 100).sheets}
            self.assertLessEqual({codes, f"{codes}I", f"{codes}B", f"{codes}T"}, met, kind)
        self.assertEqual({box_of(code) for code in ("L-RAILB", "R-LEGT", "L-SILL")}, {"L-RAIL", "R-LEG", ""})

    @settings(max_examples=25, deadline=None)
    @given(kind=sampled_from(sorted(BODY_TYPES)), axis=sampled_from("xyz"), share=floats(0.02, 0.98))
    def test_both_sides_are_cut_alike_and_inside_the_body(self, kind, axis, share):
        low, high = extent(body(kind), axis)
        found = section(body(kind), axis, low + share * (high - low))
        if axis != "y":
            left, right = (
                {each.code[2:] for each in found.sheets if each.code.startswith(hand)}
                for hand in ("L-", "R-")
            )
            self.assertEqual(left, right)
        if "y" in found.shows:
            across = found.shows.index("y")
            widest = max(
                (abs(p[across]) for each in found.sheets for line in each.lines for p in line), default=0.0
            )
            self.assertLessEqual(widest, body(kind).form.widest_mm + 2)

    def test_a_cut_beside_the_shell_says_how_far_it_reaches(self):
        with self.assertRaises(BadField) as caught:
            section(body(), "x", 9000)
        self.assertIn("The shell reaches from", caught.exception.message)

    def test_the_line_of_a_cut_on_a_view_follows_its_axes(self):
        top = view(name="underside")
        self.assertEqual([p[0] for p in traced(_plane(top), "x", 500, top.bounds)], [500, 500])
        self.assertEqual([p[1] for p in traced(_plane(top), "y", 300, top.bounds)], [-300, -300])
        self.assertEqual(len(pulled_apart(view().bounds)[0]), 3)


def _plane(view_):
    from yellow_sill.core.shell.form import plane_of

    return plane_of(view_)


class Cavities(TestCase):
    @settings(max_examples=30, deadline=None)
    @given(long=floats(300, 2500), high=floats(60, 400))
    def test_a_plain_box_holds_length_times_height_times_depth(self, long, high):
        (found,) = cavities_of(sill(long, high))
        self.assertAlmostEqual(found.volume_l, long * high * 103 / 1e6, delta=0.06 + 0.01 * found.volume_l)
        self.assertIsNone(found.drained, "no opening is known: nobody says that it drains")

    def test_water_stands_up_to_the_lowest_way_out(self):
        for low, deep in ((202, 0), (230, 30), (320, 120)):
            hole = Feature(kind="hole", points=rect(500, low, 520, low + 10), layer=1, closed=True)
            (found,) = cavities_of(sill(features=[hole]))
            self.assertAlmostEqual(max((p.deep_mm for p in found.pockets), default=0), deep, delta=3)
            self.assertEqual(found.drained, low - 200 <= 45)
            self.assertEqual(any("No drain is known" in word for word in found.words), not found.drained)
        said = CavitySaid(code="L-SILL", volume_l=9.0, drains=[(300, 201)])
        (told,) = cavities_of(sill(features=[hole]), [said])
        self.assertEqual((told.volume_l, told.by_hand, told.pockets, told.drained), (9.0, True, [], True))
        (stopped,) = cavities_of(sill(features=[hole]), [CavitySaid(code="L-SILL", stopped=[(510, 325)])])
        self.assertEqual(stopped.openings, [])

    @settings(max_examples=30, deadline=None)
    @given(first=integers(205, 340), second=integers(205, 340), at=integers(40, 900))
    def test_one_more_opening_never_leaves_more_water(self, first, second, at):
        holes = [
            Feature(kind="hole", points=rect(u, v, u + 9, v + 9), layer=1, closed=True)
            for u, v in ((500, first), (at, second))
        ]
        deepest = [
            max((p.deep_mm for p in cavities_of(sill(features=holes[:n]))[0].pockets), default=0)
            for n in (1, 2)
        ]
        self.assertLessEqual(deepest[1], deepest[0])

    def test_every_body_has_sills_posts_and_rails_and_says_what_is_open(self):
        for kind in BODY_TYPES:
            found = {each.code: each for each in cavities_of(body(kind))}
            self.assertLessEqual({"L-SILL", "R-SILL", "L-APOST", "L-DOOR"}, set(found), kind)
            for code, each in found.items():
                if code.startswith("L-") and each.volume_l is not None:
                    self.assertGreater(each.volume_l, 0.2, code)
                    self.assertAlmostEqual(each.volume_l, found["R-" + code[2:]].volume_l, delta=0.3)
        tourer = {each.code: each for each in cavities_of(body("tourer-ladder-chassis"))}
        self.assertIsNone(tourer["L-BPOST"].volume_l)
        self.assertIn("Open: no sheet L-BPOSTI", tourer["L-BPOST"].words[0])
        into = looks_into(cavities_of(body()))
        self.assertIn("L-SILL", into["L-SILLM"])

    def test_a_persons_own_cavity_must_be_closed(self):
        own = lambda outer, inner: own_cavity(
            body(), OwnCavity(code="OWN1", name="Pocket", outer=outer, inner=inner)
        )
        made = own("L-QTR", "L-QIN")
        self.assertTrue(lies_on(made, [2100, 700]) and not lies_on(made, [0, 0]))
        for outer, inner, words in (("L-WING", "L-BSIDE", "is open"), ("L-WING", "L-NIX", "no sheet L-NIX")):
            with self.assertRaises(BadField) as caught:
                own(outer, inner)
            self.assertIn(words, caught.exception.message)


class Edges(TestCase):
    def test_a_sill_knows_its_flange_its_seams_and_its_neighbours(self):
        found = edges_of(view(), "L-SILL")
        flange = max((each for each in found if each.kind == "flange"), key=lambda each: each.length_mm)
        self.assertEqual(flange.meets, ["L-SFL", "L-SILLM"])
        self.assertEqual(flange.pitch_mm, 42)
        self.assertIn(["L-WING"], [each.meets for each in found if each.kind == "butt"])
        arch = [each for each in edges_of(view(), "L-WING") if each.kind == "return"]
        self.assertTrue(
            any(
                each.length_mm > 900 and 10 <= each.height_mm <= 20 and each.direction == "in"
                for each in arch
            )
        )
        self.assertEqual(
            {each.kind for each in edges_of(view(name="top"), "BONNET")}, {"hem"}, "a gap lies round it"
        )

    @settings(max_examples=30, deadline=None)
    @given(kind=sampled_from(sorted(BODY_TYPES)), place=integers(0, 400))
    def test_the_stretches_go_once_round_every_sheet(self, kind, place):
        drawn = build_shell(kind, {}).views
        shown = drawn[place % len(drawn)]
        sheet = shown.panels[place % len(shown.panels)]
        found = edges_of(shown, sheet.code)
        around = Polygon(sheet.outline).exterior.length
        self.assertAlmostEqual(sum(each.length_mm for each in found), around, delta=0.5 + 0.001 * around)
        self.assertAlmostEqual(sum(lengths_of(found).values()), around, delta=4)
        for each in found:
            self.assertTrue(each.words)
            if each.length_mm > 1:
                self.assertLess(Polygon(sheet.outline).exterior.distance(LineString(each.path)), 1)

    def test_what_a_person_says_goes_before_the_drawing(self):
        first = edges_of(view(), "L-SILL")[0]
        said = EdgeSaid(at=tuple(first.middle), kind="braze", meets=["L-QTR"])
        told = edges_of(view(), "L-SILL", [said])
        self.assertEqual([(each.kind, each.meets) for each in told if each.by_hand], [("braze", ["L-QTR"])])
        self.assertTrue(runs_by(told[0], first.middle))
        with self.assertRaises(BadField):
            edges_of(view(), "L-NIX")


class Curves(TestCase):
    def test_a_tube_is_bent_one_way_and_its_radius_is_found(self):
        for radius in (400.0, 900.0):
            half = [
                [radius * math.sin(a), 200 + radius * (1 - math.cos(a))]
                for a in np.linspace(0, math.pi / 2, 60)
            ]
            front = plane(
                "front", ("-y", "z"), [panel("NOSE", rect(-radius, 200, radius, 200 + radius))], layered=False
            )
            front.silhouette[0][0][:] = [*half, *[[-y, z] for y, z in reversed(half)]]
            side = plane(
                "left",
                ("x", "z"),
                [
                    panel("L-QTR", rect(200, 200 + radius * 0.5, 1800, 200 + radius * 0.9)),
                    panel("L-SILL", rect(0, 190, 2000, 200)),
                ],
            )
            top = plane("top", ("x", "y"), [panel("ROOF", rect(0, -radius, 2000, radius))], layered=False)
            zones = zones_of(Body([side, front, top]), "left", "L-QTR")
            self.assertEqual(zones[0].kind, "bent")
            self.assertAlmostEqual(zones[0].radius_mm, radius, delta=0.2 * radius)

    def test_what_is_not_known_is_said_to_be_unknown(self):
        kinds = lambda view_, code, said=None: [zone.kind for zone in zones_of(body(), view_, code, said)]
        self.assertEqual(kinds("left", "L-SILLI"), ["unknown"])
        self.assertEqual(kinds("floor", "L-FLOOR"), ["flat"])
        self.assertIn("crowned", kinds("left", "L-WING"))
        self.assertEqual(kinds("left", "L-SILLI", CurveSaid(kind="bent", radius_mm=120)), ["bent"])
        for kind in BODY_TYPES:
            for zone in zones_of(body(kind), "left", "L-WING"):
                self.assertTrue(zone.words and 0 < zone.share <= 1)
        with self.assertRaises(BadField):
            zones_of(body(), "left", "L-NIX")
