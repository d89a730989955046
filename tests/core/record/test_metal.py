"""The metal map: shares of rectangles that can be reckoned by hand, and what may never happen."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.record.metal import WHAT, MapRequest, metal_map
from yellow_sill.core.repairs.sheets import SHEET_STATES


def box(u0, v0, u1, v1):
    return [[u0, v0], [u1, v0], [u1, v1], [u0, v1]]


def told(sheets, pieces=(), old=()):
    return metal_map(MapRequest.read({"sheets": list(sheets), "pieces": list(pieces), "old": list(old)}))


def sheet(code="A", view="left", size=100, looked=1.0, **more):
    return {"code": code, "view": view, "outline": box(0, 0, size, size), "looked": looked, **more}


def piece(state, outline, code="A", view="left"):
    return {"repair": 1, "code": code, "view": view, "outline": outline, "state": state}


class Metal(TestCase):
    def test_shares_by_hand(self):
        pieces = [piece("welded", box(0, 0, 50, 20)), piece("cut", box(90, 0, 120, 10))]
        old = [{"number": 3, "code": "A", "view": "left", "outline": box(0, 90, 100, 100)}]
        found = told([sheet(looked=0.9)], pieces, old)
        shares = found.sheets[0].shares
        self.assertEqual(
            shares, {"original": 0.69, "old repair": 0.1, "new": 0.1, "out": 0.01, "not looked at": 0.1}
        )
        # Of 400 mm of edge the new piece takes 50 + 20 and the hole 10 + 10, each 1.5 mm longer at a free end.
        self.assertAlmostEqual(found.sheets[0].seam_original, 1 - (70 + 3 + 20 + 3) / 400, delta=0.001)
        self.assertAlmostEqual(found.original, 0.69 / 0.9, places=4)

    def test_a_sheet_that_two_views_show_is_one(self):
        twice = [sheet(size=100), sheet(view="floor", size=200)]
        self.assertEqual([(each.view, each.area_mm2) for each in told(twice).sheets], [("floor", 40000)])
        mine = told(twice, [piece("dressed", box(0, 0, 10, 10))])
        self.assertEqual([(each.view, each.shares["new"]) for each in mine.sheets], [("left", 0.01)])
        with self.assertRaises(BadField):
            told(twice, [piece("cut", box(0, 0, 1, 1), code="Z")])

    def test_what_nobody_looked_at_is_not_called_original(self):
        found = told([sheet(looked=0.0)])
        self.assertIsNone(found.original)
        self.assertIsNone(found.seams_original)
        self.assertEqual(found.shares["not looked at"], 1)
        self.assertIn("nobody has looked", " ".join(map(str, found.words)))

    @given(
        st.lists(
            st.tuples(st.sampled_from(SHEET_STATES), st.integers(-20, 90), st.integers(-20, 90), st.integers(1, 80), st.integers(1, 80)), max_size=6
        ),
        st.floats(0, 1), st.integers(0, 5),
    )  # fmt: skip
    def test_all_of_it_is_told_once_and_more_cut_is_never_more_original(self, drawn, looked, fewer):
        pieces = [piece(state, box(u, v, u + w, v + h)) for state, u, v, w, h in drawn]
        found = told([sheet(looked=looked)], pieces)
        self.assertAlmostEqual(sum(found.sheets[0].shares.values()), 1, delta=0.001)
        self.assertTrue(all(share >= 0 for share in found.sheets[0].shares.values()))
        self.assertEqual(set(found.shares), set(WHAT))
        less = told([sheet(looked=looked)], pieces[:fewer])
        self.assertLessEqual(found.shares["original"], less.shares["original"] + 0.0002)
        self.assertLessEqual(found.sheets[0].seam_original, less.sheets[0].seam_original + 0.0002)
