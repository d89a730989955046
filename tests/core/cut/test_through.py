"""Cuts through sheets behind one another: windows that open the way, plans over every sheet, and the live check of a moved line."""

from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon
from shapely.ops import unary_union

from yellow_sill.core.cut.around import Around
from yellow_sill.core.cut.check import check_cut
from yellow_sill.core.cut.options import cut_options
from yellow_sill.core.cut.plans import OptionsRequest
from yellow_sill.core.cut.through import ThroughRequest, cuts_through
from yellow_sill.core.errors import BadField

OUTER = [[0, 0], [1400, 0], [1400, 150], [0, 150]]
INNER = [[-200, 20], [1500, 20], [1500, 300], [-200, 300]]
SHEETS = [
    {"name": "inner", "thickness_mm": 1.0, "stays": False},
    {"name": "floor", "thickness_mm": 0.9, "stays": True},
]


def hole(x, y, w=50, h=40):
    return [[x, y], [x + w, y], [x + w, y + h], [x, y + h]]


def sheet(name, outline, *holes, **more):
    findings = [{"id": i, "layer": 1, "outline": each} for i, each in enumerate(holes)]
    return {"name": name, "panel": {"outline": outline, "thickness_mm": 1.0}, "findings": findings} | more


def through(*sheets, **more):
    return cuts_through(
        ThroughRequest.read({"sheets": list(sheets), "margin_mm": 10, "step_mm": 20} | more)
    ).sheets


def outlines(cuts):
    return unary_union([Polygon(cut.outline) for cut in cuts])


class CutsThrough(TestCase):
    def test_an_outer_sheet_is_opened_for_what_lies_behind_as_far_as_it_reaches(self):
        outer, middle, inner = through(
            sheet("outer", OUTER, hole(100, 60)),
            sheet("middle", OUTER),
            sheet("inner", INNER, hole(600, 120)),
        )
        self.assertEqual([cut.window_of for cut in outer.cuts], [[], ["middle"]])
        self.assertEqual([cut.window_of for cut in middle.cuts], [["inner"]])
        for near, far in ((middle, inner), (outer, middle)):
            wanted = outlines(far.cuts).buffer(20, join_style="mitre").intersection(Polygon(OUTER))
            self.assertLess(
                wanted.difference(outlines(near.cuts).buffer(0.02)).area, 350
            )  # what rounded corners leave
            self.assertLess(
                outlines(far.cuts)
                .intersection(Polygon(OUTER))
                .difference(outlines(near.cuts).buffer(0.02))
                .area,
                0.1,
            )

    def test_a_sheet_that_does_not_lie_over_it_stays_whole(self):
        aside = [[0, 400], [1400, 400], [1400, 500], [0, 500]]
        outer, between, inner = through(
            sheet("outer", OUTER), sheet("aside", aside), sheet("inner", INNER, hole(600, 60))
        )
        self.assertEqual((len(outer.cuts), between.cuts, len(inner.cuts)), (1, [], 1))
        for sheets, where in (
            ([sheet("a", OUTER), sheet("a", INNER, hole(9, 60))], "sheets[1].name"),
            ([sheet("a", OUTER)], "sheets"),
        ):
            with self.assertRaises(BadField) as caught:
                through(*sheets)
            self.assertEqual(caught.exception.where, where)

    @settings(deadline=None, max_examples=40)
    @given(
        st.lists(
            st.tuples(st.integers(0, 2), st.floats(0, 1300), st.floats(25, 100)), min_size=1, max_size=6
        ),
        st.floats(0, 25),
        st.floats(0, 40),
    )
    def test_nothing_rusty_stays_and_every_step_is_kept(self, places, margin, step):
        sheets = [
            sheet(name, OUTER, *[hole(x, y) for at, x, y in places if at == i])
            for i, name in enumerate(("outer", "middle", "inner"))
        ]
        told = through(*sheets, margin_mm=margin, step_mm=step)
        for i, each in enumerate(told):
            rust = unary_union([Polygon(hole(x, y)) for at, x, y in places if at == i])
            cut = outlines(each.cuts)
            self.assertLess(rust.intersection(Polygon(OUTER)).difference(cut.buffer(0.02)).area, 0.5)
            self.assertLess(cut.difference(Polygon(OUTER).buffer(0.02)).area, 0.5)
            if i:
                self.assertLess(cut.difference(outlines(told[i - 1].cuts).buffer(0.02)).area, 0.5)


class Plans(TestCase):
    def plans(self, **more):
        behind = [
            sheet(
                "inner",
                INNER,
                hole(120, 60),
                rows=[{"id": "lower", "path": [[-200, 45], [1500, 45]], "sheets": SHEETS}],
            )
        ]
        asked = {
            "panel": {"outline": OUTER, "thickness_mm": 1.0},
            "findings": [{"id": 9, "layer": 1, "outline": hole(100, 60)}],
            "margin_mm": 10,
            "behind": behind,
        }
        return cut_options(OptionsRequest.read(asked | more))

    def test_every_plan_counts_the_sheets_behind_and_opens_the_way_to_them(self):
        told = self.plans(whole={"price": 80, "days": 3})
        for option in told.options:
            inner, front = (
                unary_union([Polygon(o) for o in option.inner[0].outlines]),
                unary_union([Polygon(o) for o in option.outlines]),
            )
            self.assertLess(
                inner.intersection(Polygon(OUTER)).difference(front.buffer(0.02)).area, 0.1, option.name
            )
            self.assertGreaterEqual(option.pieces, 2)
            self.assertGreater(sum(option.release.values()), 0)
            self.assertLess(option.kept, 1)

    def test_a_plan_of_ones_own_must_let_a_person_reach_what_lies_behind(self):
        told = self.plans(
            own=[
                {"name": "small", "outlines": [hole(90, 50, 70, 60)]},
                {"name": "large", "outlines": [hole(60, 20, 180, 120)]},
            ]
        )
        reasons = {option.name: option.why_not for option in told.options}
        self.assertEqual(
            (reasons["small"], reasons["large"]), ("The sheet behind cannot be reached through it.", "")
        )


class Moved(TestCase):
    AROUND = Around.read(
        {
            "rows": [
                {
                    "name": "lower flange",
                    "path": [[0, 16], [1400, 16]],
                    "pitch_mm": 30,
                    "survives": "the floor",
                }
            ],
            "curves": [{"name": "the wheel arch", "path": [[300, 0], [300, 150]]}],
            "keep_outs": [{"name": "the number", "outline": hole(500, 60, 60, 20)}],
        }
    )

    def codes(self, corners, **more):
        checked = check_cut(
            corners, OUTER, [], margin_mm=10, radius_mm=5, web_mm=40, around=self.AROUND, **more
        )
        return checked, [remark.code for remark in checked.remarks]

    def test_a_line_along_a_row_square_across_a_curve_or_through_a_keep_out_is_told_while_it_moves(self):
        for corners, codes in (
            (hole(600, 60, 120, 50), []), (hole(600, 12, 200, 100), ["CUT-22"]), (hole(200, 60, 200, 50), ["CUT-23", "CUT-23"]), (hole(480, 60, 90, 50), ["CUT-20"]),
        ):  # fmt: skip
            self.assertEqual(self.codes(corners)[1], codes, corners)
        checked, _ = self.codes(hole(600, 0, 200, 100))
        [released] = checked.met.releases
        self.assertEqual((released.row, released.count, released.survives), ("lower flange", 7, "the floor"))

    def test_a_closed_panel_in_front_is_told_with_what_is_known_of_it(self):
        for elsewhere, words in ((False, "not cut here"), (True, "cut in another view")):
            front = [("Skin", hole(500, 0, 300, 200), [], elsewhere)]
            told = self.codes(hole(600, 60, 120, 50), in_front=front)[0].remarks
            self.assertEqual([each.code for each in told], ["CUT-14"])
            self.assertIn(words, told[0].what)

    def test_a_window_too_small_for_the_cut_behind_is_told(self):
        behind = [hole(620, 70, 60, 40)]
        for corners, words in (
            (hole(600, 40, 120, 100), []), (hole(610, 40, 120, 100), ["Only 10 mm beside the cut behind; 20 mm are wanted."]),
            (hole(640, 40, 120, 100), ["The cut behind cannot be reached here."]),
        ):  # fmt: skip
            checked, _ = self.codes(corners, behind=behind, step_mm=20)
            self.assertEqual([remark.what for remark in checked.remarks if remark.code == "CUT-13"], words)
