import math
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import CoreError
from yellow_sill.core.survey.rectify import RectifyRequest, picture_points, placed, rectify

CARD = [[0, 0], [85.6, 0], [85.6, 54], [0, 54]]
HOLE = [[20, 70], [60, 70], [60, 100], [20, 100]]


def seen(points, turn=0.3, tilt=0.0004, scale=4.0):
    """What a camera makes of points of a plane, mm to pixels."""
    c, s = math.cos(turn) * scale, math.sin(turn) * scale
    camera = np.array([[c, -s, 300.0], [s, c, 200.0], [tilt, tilt / 2, 1.0]])
    flat = np.column_stack([np.array(points, float), np.ones(len(points))]) @ camera.T
    return (flat[:, :2] / flat[:, 2:]).tolist()


def request(**changes):
    return RectifyRequest.read(
        {"reference": seen(CARD), "size_mm": [85.6, 54], "trace": seen(HOLE)} | changes
    )


class Rectifying(TestCase):
    @given(st.floats(-3, 3), st.floats(-0.002, 0.002), st.floats(2, 12))
    def test_whatever_the_camera_did_the_hole_keeps_its_size(self, turn, tilt, scale):
        told = rectify(request(reference=seen(CARD, turn, tilt, scale), trace=seen(HOLE, turn, tilt, scale)))
        self.assertAlmostEqual(told.area_mm2, 1200, delta=0.2)
        for value, expected in zip(told.bounding_box_mm, (20, 70, 60, 100), strict=True):
            self.assertAlmostEqual(value, expected, delta=0.02)

    @given(st.floats(-3, 3), st.floats(-0.002, 0.002))
    def test_a_trace_is_never_mirrored_whichever_way_round_the_corners_were_clicked(self, turn, tilt):
        flag = [[20, 70], [60, 70], [60, 80], [30, 80], [30, 120], [20, 120]]  # no mirror image of itself
        card, trace = seen(CARD, turn, tilt), seen(flag, turn, tilt)
        marks = seen([[20, 70], [20, 120]], turn, tilt)
        laid = []
        for corners, size in (
            (card, [85.6, 54]),
            ([card[0], card[3], card[2], card[1]], [54, 85.6]),
            ([card[2], card[1], card[0], card[3]], [54, 85.6]),
        ):
            asked = {"reference": corners, "size_mm": size}
            told = rectify(request(**asked, trace=trace))
            points = picture_points(corners, size, None, marks)
            laid.append(placed(told.outline_mm, points, [[500, 400], [500, 350]], "drawn")[0])
        for other in laid[1:]:
            np.testing.assert_allclose(other, laid[0], atol=0.05)
        self.assertAlmostEqual(max(u for u, _ in laid[0]), 540, delta=0.1)

    @given(st.floats(0, 6.28), st.floats(40, 74))
    def test_what_lies_before_the_camera_is_taken_however_flat_and_what_lies_beyond_the_horizon_never(
        self, turn, tilt_deg
    ):
        """A camera 900 mm from the card looks at the plane at a slant; the picture's corner may lie beyond the horizon."""
        a = math.radians(tilt_deg)
        c, s = math.cos(turn), math.sin(turn)

        def camera(x, y):
            across, along = c * (x - 40) - s * (y - 30), s * (x - 40) + c * (y - 30)
            depth = 900 + along * math.sin(a)
            return [2000 * across / depth + 1500, 2000 * along * math.cos(a) / depth + 100]

        card, hole = [camera(*p) for p in CARD], [camera(*p) for p in HOLE]
        told = rectify(request(reference=card, trace=hole))
        self.assertAlmostEqual(told.area_mm2, 1200, delta=1)
        horizon = 100 + 2000 * math.cos(a) / math.sin(a)
        beyond = [[1500, horizon + 50], [1700, horizon + 60], [1600, horizon + 200]]
        with self.assertRaisesRegex(CoreError, "beyond the horizon"):
            rectify(request(reference=card, trace=beyond))

    def test_four_points_with_taped_distances_do_as_well(self):
        diagonal = math.hypot(85.6, 54)
        told = rectify(request(size_mm=None, distances_mm=[85.6, 54, 85.6, 54, diagonal]))
        self.assertAlmostEqual(told.area_mm2, 1200, delta=0.2)

    def test_a_small_or_flat_card_is_told(self):
        self.assertEqual(rectify(request()).warnings, [])
        small = rectify(request(reference=seen(CARD, scale=0.4), trace=seen(HOLE, scale=0.4)))
        self.assertLessEqual({"RECT-01", "RECT-03"}, {remark.code for remark in small.warnings})
        self.assertGreater(small.scale_error_pct, rectify(request()).scale_error_pct)
        flat = rectify(
            request(
                reference=[[0, 0], [300, 100], [300, 200], [0, 300]],
                trace=[[100, 120], [200, 120], [200, 180]],
            )
        )
        self.assertIn("RECT-02", {remark.code for remark in flat.warnings})

    REFUSED = {
        "corners in one line": {"reference": [[0, 0], [10, 0], [20, 0], [30, 0]]},
        "corners crossed": {"reference": [[0, 0], [90, 60], [90, 0], [0, 60]]},
        "neither size nor distances": {"size_mm": None},
        "both": {"distances_mm": [1, 1, 1, 1, 1]},
        "distances that make no triangle": {"size_mm": None, "distances_mm": [10, 10, 10, 10, 500]},
        "a trace that crosses itself": {"trace": [[0, 0], [50, 50], [50, 0], [0, 50]]},
        "three corners": {"reference": [[0, 0], [1, 0], [1, 1]]},
        "a size of nothing": {"size_mm": [0, 54]},
        "not a number": {"trace": [[0, 0], [math.nan, 1], [2, 2]]},
    }

    def test_what_cannot_be_is_refused(self):
        for name, changes in self.REFUSED.items():
            with self.subTest(name), self.assertRaises(CoreError):
                rectify(request(**changes))

    def test_laid_on_the_panel_by_two_points(self):
        outline, off = placed(HOLE, [[0, 0], [100, 0]], [[500, 300], [500, 402]], "drawn")
        self.assertEqual(off, 2.0)
        # 100 mm along the card runs up the panel now; the picture's second axis runs down, so it lies to the right
        self.assertEqual(
            [[round(u), round(v)] for u, v in outline], [[570, 321], [570, 361], [600, 361], [600, 321]]
        )
        behind, _ = placed(HOLE, [[0, 0], [100, 0]], [[500, 300], [500, 402]], "behind")
        self.assertEqual(
            [[round(u), round(v)] for u, v in behind], [[430, 321], [430, 361], [400, 361], [400, 321]]
        )
        for marks, said in (([[0, 0], [0, 1]], "drawn"), ([[0, 0], [100, 0]], "")):
            with self.assertRaises(CoreError):
                placed(HOLE, marks, [[0, 0], [90, 0]], said)
