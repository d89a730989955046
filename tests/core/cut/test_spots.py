"""Rows of spot welds: old nuggets, how they are released, what replaces them; and which joint where."""

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString, Polygon, box

from yellow_sill.core.cut.joints import JOINT_WORDS, JointRequest, joint_choice
from yellow_sill.core.cut.shared_rows import SharedRows, SheetRows, unseen_welds
from yellow_sill.core.cut.spots import EDGE_MM, LEAST_PITCH_MM, SpotRequest, spot_rows
from yellow_sill.core.errors import BadField

OUTER, INNER = (
    {"name": "outer sill", "thickness_mm": 1.0, "stays": False},
    {"name": "inner sill", "thickness_mm": 1.2, "stays": True},
)


def row(**changes):
    return {"id": "lower flange", "path": [[0, 0], [600, 0]], "sheets": [OUTER, INNER]} | changes


def plan(*rows, **more):
    return spot_rows(SpotRequest.read({"rows": list(rows), **more}))


class Spots(TestCase):
    def test_nuggets_lie_evenly_between_the_end_margins_and_are_numbered_on(self):
        told = plan(row(), row(id="upper", path=[[0, 100], [0, 300]]))
        self.assertEqual(len(told.rows[0].nuggets), 15)  # (600 - 36) / 40, rounded, and one
        self.assertEqual([told.rows[0].nuggets[0].along_mm, told.rows[0].nuggets[-1].along_mm], [18, 582])
        self.assertEqual(told.rows[1].nuggets[0].number, 16)
        self.assertEqual(told.nuggets, 15 + len(told.rows[1].nuggets))

    def test_a_row_that_closes_on_itself_has_no_two_nuggets_on_one_spot(self):
        ring = [[100, 0], [0, 100], [-100, 0], [0, -100], [100, 0]]
        told = plan(row(path=ring)).rows[0]
        for places in ([tuple(each.at) for each in told.nuggets], [tuple(at) for at in told.new.at]):
            self.assertEqual(len(set(places)), len(places))
        self.assertEqual(len(told.nuggets), round(told.length_mm / 40))
        self.assertGreaterEqual(told.new.count, len(told.nuggets))

    def test_marks_that_were_clicked_count_as_they_are_and_a_wide_gap_is_asked_about(self):
        told = plan(row(marks=[[590, 3], [20, -2], [61, 0], [100, 1], [220, 0], [262, 0]]))
        self.assertEqual([n.along_mm for n in told.rows[0].nuggets], [20, 61, 100, 220, 262, 590])
        self.assertEqual({remark.code for remark in told.remarks}, {"SPOT-01"})
        self.assertAlmostEqual(told.remarks[0].at[0], 160)

    RELEASED = {
        "what goes is on top": ({}, "drill", "this side", 1.0),
        "no drill reaches": ({"drill_here": False}, "grind", "this side", 1.0),
        "what goes is behind, and a drill gets there": (
            {"sheets": [INNER, OUTER], "drill_behind": True},
            "drill",
            "behind",
            1.0,
        ),
        "what goes is behind, out of reach": ({"sheets": [INNER, OUTER]}, "drill through", "this side", 2.2),
        "all goes": ({"sheets": [OUTER, OUTER | {"name": "membrane"}]}, "drill through", "either side", 2.0),
        "the third stays": (
            {"sheets": [OUTER, OUTER | {"name": "membrane"}, INNER]},
            "drill",
            "this side",
            2.0,
        ),
    }

    def test_how_a_row_is_released(self):
        for name, (change, method, side, depth) in self.RELEASED.items():
            with self.subTest(name):
                told = plan(row(**change)).rows[0].release
                self.assertEqual((told.method, told.side, told.depth_mm), (method, side, depth))
                self.assertEqual(told.chisel, method != "drill through")
                self.assertGreater(told.minutes, 10)

    def test_a_resistance_welder_only_where_it_can(self):
        able = {"both_sides": True}
        for change, process in (
            (able, "spot"), ({}, "plug"), (able | {"sheets": [OUTER, INNER, INNER, INNER]}, "plug"), (able | {"sheets": [OUTER, INNER | {"thickness_mm": 2.5}]}, "plug"),
            (able | {"sheets": [OUTER | {"thickness_mm": 0.5}, INNER | {"thickness_mm": 1.5}]}, "plug"),
        ):  # fmt: skip
            self.assertEqual(plan(row(**change), processes=["mig", "spot"]).rows[0].new.process, process)
        self.assertEqual(plan(row(**able)).rows[0].new.process, "plug")
        self.assertEqual(plan(row()).rows[0].new.hole_mm, 8.0)

    @settings(deadline=None)
    @given(st.floats(60, 2500), st.floats(15, 120), st.floats(8, 29), st.sampled_from([0.7, 0.9, 1.2, 2.0]))
    def test_new_welds_are_never_fewer_and_keep_their_distances(self, length, pitch, end, t):
        told = plan(
            row(
                path=[[0, 0], [length, 0]],
                pitch_mm=pitch,
                end_mm=end,
                sheets=[OUTER | {"thickness_mm": t}, INNER],
            )
        )
        old, new = [n.along_mm for n in told.rows[0].nuggets], [at[0] for at in told.rows[0].new.at]
        self.assertGreaterEqual(len(new), len(old))
        self.assertTrue(min(new) >= 0 and max(new) <= length + 0.01)
        if not told.remarks and len(new) > 1:
            self.assertGreaterEqual(np.diff(new).min(), LEAST_PITCH_MM - 0.02)
            self.assertGreaterEqual(min(abs(a - b) for a in new for b in old), 5)
            self.assertGreaterEqual(min(min(new), length - max(new)), EDGE_MM - 0.02)

    def test_what_cannot_be_is_refused_by_name(self):
        for rows, where in (
            ([row(), row()], "rows[1].id"), ([row(path=[[0, 0], [30, 0]])], "rows[0].end_mm"), ([row(path=[[5, 5], [5, 5]])], "rows[0].path"),
            ([row(marks=[[10, 80]])], "rows[0].marks[0]"), ([row(sheets=[INNER, INNER])], "rows[0].sheets"), ([row(pitch_mm=8, path=[[0, 0], [9000, 0]])], "rows[0].pitch_mm"),
        ):  # fmt: skip
            with self.subTest(where), self.assertRaises(BadField) as caught:
                plan(*rows)
            self.assertEqual(caught.exception.where, where)


class Joints(TestCase):
    CHOSEN = {
        "a skin that is seen": ({"visible": True}, "butt", "mig"),
        "the same, TIG at hand": ({"visible": True, "processes": ["mig", "tig"]}, "butt", "tig"),
        "a floor": ({}, "butt", "mig"),
        "a flange from one side": ({"on_flange": True, "layers": 2}, "plug row", "mig"),
        "a flange from both": (
            {"on_flange": True, "layers": 2, "both_sides": True, "processes": ["mig", "spot"]},
            "spot row",
            "spot",
        ),
        "four sheets": (
            {"on_flange": True, "layers": 4, "both_sides": True, "processes": ["mig", "spot"]},
            "plug row",
            "mig",
        ),
        "two sheets inside": ({"layers": 2}, "joggle", "mig"),
        "two thick ones": ({"layers": 2, "thickness_mm": 2.0}, "lap", "mig"),
        "thin and unseen": ({"thickness_mm": 0.6}, "joggle", "mig"),
        "the maker brazed it": ({"made_brazed": True, "processes": ["mig", "braze"]}, "braze", "braze"),
        "brazed, nothing to braze with": ({"made_brazed": True}, "butt", "mig"),
        "nothing suits": ({"processes": ["spot"]}, "lap", "spot"),
    }

    def test_which_joint_where(self):
        for name, (change, joint, process) in self.CHOSEN.items():
            with self.subTest(name):
                told = joint_choice(JointRequest.read({"thickness_mm": 0.9} | change))
                self.assertEqual((told.chosen, told.process), (joint, process))
                self.assertEqual({each.joint for each in told.joints}, set(JOINT_WORDS))
                self.assertTrue(all(each.why and each.watch for each in told.joints))

    def test_where_water_runs_every_joint_rusts_sooner(self):
        dry, wet = (
            joint_choice(JointRequest.read({"thickness_mm": 0.9, "drains_here": wet})).joints
            for wet in (False, True)
        )
        for one in dry:
            self.assertGreater(next(each.rust_trap for each in wet if each.joint == one.joint), one.rust_trap)


class SharedBySheets(TestCase):
    """A row that three sheets share: the sill, its membrane, the inner sill; each panel's drawing shows it."""

    SHEETS = ("S", 1.0), ("M", 1.2), ("I", 0.8)

    def rows(self):
        told = []
        for k, (code, _) in enumerate(self.SHEETS):
            sheets = [
                {"name": c, "code": c, "thickness_mm": t, "stays": i > 0}
                for i, (c, t) in enumerate(self.SHEETS[k:])
            ]
            sheets = (
                sheets
                if len(sheets) > 1
                else [*sheets, {"name": "floor", "thickness_mm": 0.9, "stays": True}]
            )
            marks = [[40.0 * i + 0.5 * k, 0.4 * k] for i in range(8)]  # each drawing is a little off
            asked = SpotRequest.read(
                {"rows": [{"id": "row", "path": marks, "marks": marks, "sheets": sheets}]}
            )
            told.append(SheetRows(code=code, rows=asked.rows, plans=spot_rows(asked).rows))
        return SharedRows(told)

    def test_one_nugget_is_one_thing_and_its_depth_follows_from_what_goes_just_there(self):
        whole, half = box(-10, -20, 300, 20), box(-10, -20, 130, 20)
        for gone, wanted in (
            ({"S": whole}, [("S", 8, "drill", 1.0, ["M", "I"])]),
            ({"S": whole, "M": whole}, [("S", 8, "drill", 2.2, ["I"])]),
            ({"S": whole, "M": half}, [("S", 4, "drill", 2.2, ["I"]), ("S", 4, "drill", 1.0, ["M", "I"])]),
            ({"S": whole, "M": whole, "I": half}, [("S", 4, "drill through", 3.0, []), ("S", 4, "drill", 2.2, ["I"])]),
            ({"M": half}, [("M", 4, "drill through", 3.0, ["S", "I"])]),
            ({}, []),
        ):  # fmt: skip
            told = [
                (g.code, len(g.at), g.release.method, g.release.depth_mm, g.release.stays)
                for g in self.rows().released(gone)
            ]
            self.assertEqual(sorted(told), sorted(wanted), list(gone))

    @given(st.lists(st.tuples(st.floats(-20, 300), st.floats(0, 300)), min_size=3, max_size=3))
    def test_no_nugget_is_counted_twice_and_a_further_cut_never_loses_one(self, spans):
        gone = {code: box(a, -20, a + w, 20) for (code, _), (a, w) in zip(self.SHEETS, spans, strict=True)}
        count = lambda some: sum(len(group.at) for group in self.rows().released(some))
        self.assertLessEqual(count(gone), 8)
        self.assertGreaterEqual(count(gone), max(count({code: shape}) for code, shape in gone.items()))
        self.assertEqual(
            len({tuple(at) for group in self.rows().released(gone) for at in group.at}), count(gone)
        )

    def test_a_flange_that_two_sheets_share_has_its_unseen_welds_once(self):
        edge = LineString([(0, 0), (300, 0)])
        told = unseen_welds([(box(0, -50, 300, 50), edge), (box(0, -50, 300, 50), edge), (Polygon(), edge)])
        self.assertEqual([count for count, _ in told], [11, 0, 0])
