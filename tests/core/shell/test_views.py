"""The views from above and of the doors, for any dimensions that a body type takes."""

from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon, box
from shapely.ops import unary_union

from yellow_sill.core.errors import BadField
from yellow_sill.core.shell import BODY_TYPES, build_shell, drawn_views
from yellow_sill.core.shell.body_types import checked_sizes


def some_shell(kind, shares):
    """A body of taped sizes somewhere in their ranges; sizes that do not go together are left at the usual."""
    sizes = {}
    for dimension, share in zip(kind.dimensions, shares, strict=False):
        tried = sizes | {
            dimension.name: round(dimension.least_mm + share * (dimension.most_mm - dimension.least_mm))
        }
        try:
            checked_sizes(kind.name, tried)
        except BadField:
            continue
        sizes = tried
    return build_shell(kind.name, sizes)


class MoreViews(TestCase):
    @given(st.sampled_from(list(BODY_TYPES.values())), st.lists(st.floats(0, 1), min_size=11, max_size=11))
    @settings(max_examples=15, deadline=None)
    def test_from_above_sheets_meet_and_do_not_lie_on_each_other_and_both_sides_are_alike(self, kind, shares):
        drawn = some_shell(kind, shares)
        views = {view.name: view for view in drawn.views}
        top = {panel.code: Polygon(panel.outline, panel.holes) for panel in views["top"].panels}
        whole = unary_union(list(top.values()))
        self.assertLess(
            sum(each.area for each in top.values()) - whole.area, 0.01 * whole.area, "nothing counts twice"
        )
        u0, v0, u1, v1 = views["top"].bounds
        self.assertAlmostEqual(u1 - u0, drawn.dimensions_mm["overall_length"], delta=41)
        self.assertAlmostEqual(v0, -v1, delta=0.3)
        for code, shape in top.items():
            self.assertTrue(shape.is_valid and shape.area > 1000, code)
            if code.startswith("L-"):
                self.assertAlmostEqual(
                    shape.area, top[f"R-{code[2:]}"].area, delta=max(40, 0.002 * shape.area)
                )

    @given(st.sampled_from(list(BODY_TYPES.values())), st.lists(st.floats(0, 1), min_size=11, max_size=11))
    @settings(max_examples=15, deadline=None)
    def test_a_door_closes_its_opening_and_all_of_it_lies_in_the_door(self, kind, shares):
        views = {view.name: view for view in some_shell(kind, shares).views}
        door, top = views["door-left"], {panel.code: Polygon(panel.outline) for panel in views["top"].panels}
        skin = {panel.code: Polygon(panel.outline) for panel in door.panels}["L-DOOR"]
        along, above = skin.bounds, top["L-DOOR"].bounds
        self.assertLess(
            abs(along[0] - above[0]) + abs(along[2] - above[2]), 90, "one sheet, seen from two sides"
        )
        room = box(*door.bounds).buffer(0.2)
        for panel in door.panels:
            shape = Polygon(panel.outline, panel.holes)
            self.assertTrue(shape.is_valid and room.covers(shape), panel.code)
        for feature in door.features:
            self.assertTrue(
                all(room.buffer(2).covers(box(u, v, u, v)) for u, v in feature.points), feature.kind
            )

    def test_views_are_named_once_and_of_an_unknown_body_there_are_none(self):
        for kind in BODY_TYPES:
            names = [name for name, _ in drawn_views(kind)]
            self.assertLessEqual({"top", "door-left", "door-right"}, set(names))
            self.assertEqual(len(names), len(set(names)))
        self.assertEqual(drawn_views("hovercraft"), ())
