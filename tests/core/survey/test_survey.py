from datetime import date, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField, BadOutline
from yellow_sill.core.survey.extent import extent_on_panel, typed_corners
from yellow_sill.core.survey.grading import METHODS, RESULTS, Evidence, Grade, fault_in, grade_of
from yellow_sill.core.survey.layers import Sheet, sheets_at

DAY = date(2026, 2, 14)
PANEL = [(0, 0), (400, 0), (400, 200), (0, 200)]


def look(method, result, days=0, **more):
    return Evidence(method=method, result=result, made_on=DAY + timedelta(days), **more)


class Grading(TestCase):
    CASES = {
        "nothing known": ([], None, "No evidence"),
        "paint only": ([look("seen", "bubbling")], Grade.SURFACE, "bubbles"),
        "a lamp beats a look": (
            [look("seen", "sound"), look("lamp", "light")],
            Grade.HOLED,
            "overrules: it looks sound",
        ),
        "the probe beats the lamp": (
            [look("lamp", "dark"), look("probe", "dents", hits=2, tries=6)],
            Grade.THIN,
            "2 of 6 places",
        ),
        "a gauge closes no hole": (
            [look("probe", "through", hits=3, tries=5), look("gauge", "reading", 3, thickness_mm=1.0)],
            Grade.HOLED,
            "does not close it",
        ),
        "nor does a later probe": (
            [look("probe", "through"), look("probe", "holds", 9)],
            Grade.HOLED,
            "The probe holds: metal beside a hole",
        ),
        "one method, mixed": (
            [look("probe", "holds", hits=4, tries=6), look("probe", "through", hits=2, tries=6)],
            Grade.HOLED,
            "2 of 6 places",
        ),
        "thicker than the sheet": (
            [look("tap", "dull"), look("gauge", "reading", thickness_mm=12)],
            Grade.THIN,
            "was 1.2 mm meant",
        ),
        "nothing but a thick reading": (
            [look("gauge", "reading", thickness_mm=2)],
            None,
            "two sheets or a plate",
        ),
        "agreement is told": (
            [look("probe", "through"), look("lamp", "light")],
            Grade.HOLED,
            "and light shows",
        ),
        "the gauge decides": (
            [look("probe", "holds"), look("gauge", "reading", thickness_mm=0.62)],
            Grade.THIN,
            "38 % less",
        ),
        "a gauge finds it sound": (
            [look("tap", "dull"), look("gauge", "reading", thickness_mm=0.97)],
            Grade.SOUND,
            "3 % less",
        ),
        "pitted by gauge": ([look("gauge", "reading", thickness_mm=0.8)], Grade.PITTED, "20 % less"),
        "later overrules earlier": (
            [look("probe", "holds", 0), look("probe", "through", 3)],
            Grade.HOLED,
            "went through",
        ),
        "the worst of one day": (
            [look("probe", "through"), look("probe", "holds")],
            Grade.HOLED,
            "went through",
        ),
        "filler is never sound": (
            [look("seen", "filler"), look("tap", "rings")],
            Grade.FILLED,
            "never sound",
        ),
        "filler with a hole is a hole": (
            [look("seen", "filler"), look("probe", "through")],
            Grade.HOLED,
            "went through",
        ),
        "the scaler has the last word on filler": (
            [look("seen", "filler"), look("scaler", "survived")],
            Grade.PITTED,
            "needle scaler",
        ),
    }

    def test_worked_cases(self):
        for name, (evidence, grade, words) in self.CASES.items():
            with self.subTest(name):
                graded = grade_of(evidence, 1.0)
                self.assertIs(graded.grade, grade)
                self.assertIn(words, graded.why)

    @given(
        st.lists(
            st.tuples(
                st.sampled_from([(m, r) for m in METHODS for r in RESULTS[m]]),
                st.integers(0, 9),
                st.floats(0, 9),
            ),
            min_size=1,
            max_size=6,
        )
    )
    def test_a_hole_stays_a_hole_whatever_is_found_beside_it(self, looks):
        evidence = [look(m, r, days, thickness_mm=mm if m == "gauge" else None) for (m, r), days, mm in looks]
        self.assertIs(grade_of([*evidence, look("probe", "through", 4)], 1.2).grade, Grade.HOLED)

    @given(
        st.lists(st.sampled_from([(m, r) for m in METHODS for r in RESULTS[m]]), min_size=1, max_size=6),
        st.randoms(),
    )
    def test_the_order_of_telling_changes_nothing(self, pairs, rng):
        evidence = [look(m, r, thickness_mm=0.8 if m == "gauge" else None) for m, r in pairs]
        shuffled = evidence[:]
        rng.shuffle(shuffled)
        self.assertIs(grade_of(evidence, 1.0).grade, grade_of(shuffled, 1.0).grade)

    SIGNS = {
        "a crack carries nothing": (
            [look("sign", "crack"), look("gauge", "reading", thickness_mm=1.0)],
            Grade.HOLED,
            "nothing is carried. ",
        ),
        "rust between sheets beside a probe that holds": (
            [look("sign", "apart"), look("probe", "holds")],
            Grade.THIN,
            "the probe holds",
        ),
        "lead is an old repair": (
            [look("sign", "lead"), look("tap", "rings")],
            Grade.FILLED,
            "lead lies on it",
        ),
        "a milder sign is told beside": (
            [look("sign", "bend"), look("probe", "through")],
            Grade.HOLED,
            "Besides: it is bent",
        ),
        "a mark says nothing of the metal": ([look("sign", "mark")], None, "how old the part is"),
        "two signs, the worse one counts": (
            [look("sign", "bulge"), look("sign", "welds")],
            Grade.THIN,
            "spot welds are broken; it bulges",
        ),
    }

    def test_signs(self):
        for name, (evidence, grade, words) in self.SIGNS.items():
            with self.subTest(name):
                graded = grade_of(evidence, 1.0)
                self.assertIs(graded.grade, grade)
                self.assertIn(words, str(graded.why))

    @given(
        st.lists(st.sampled_from([(m, r) for m in METHODS for r in RESULTS[m]]), max_size=5),
        st.lists(st.sampled_from(list(RESULTS["sign"])), min_size=1, max_size=4),
    )
    def test_a_sign_never_betters_a_grade(self, pairs, signs):
        looks = [look(m, r, thickness_mm=0.8 if m == "gauge" else None) for m, r in pairs]
        order = [None, Grade.SOUND, Grade.SURFACE, Grade.PITTED, Grade.THIN, Grade.FILLED, Grade.HOLED]
        without, shown = (
            grade_of(looks, 1.0).grade,
            grade_of([*looks, *(look("sign", s) for s in signs)], 1.0).grade,
        )
        self.assertGreaterEqual(order.index(shown), order.index(without))

    def test_faults_are_told_in_words(self):
        self.assertIn("Choose one of", fault_in(look("tap", "light")))
        self.assertIn("reading", fault_in(look("gauge", "reading")))
        self.assertIn("places tried second", fault_in(look("probe", "through", hits=5, tries=3)))
        with self.assertRaises(BadField):
            Evidence.read({"method": "guess", "result": "bad", "made_on": "2026-02-14"})


class Extents(TestCase):
    REFUSED = {
        "two corners": ([(0, 0), (10, 0)], "three corners"),
        "one spot": ([(5, 5)] * 6, "three corners"),
        "a bow tie": ([(10, 10), (90, 90), (90, 10), (10, 90)], "crosses itself"),
        "no area": ([(10, 10), (50, 10), (90, 10)], "no area"),
        "not a number": ([(float("nan"), 0), (10, 0), (10, 10)], "not a number"),
        "too many corners": ([(i % 300, i % 7) for i in range(10_000)], "More than 2000"),
        "another garage": ([(0, 0), (90_000, 0), (0, 50)], "20 m"),
        "over the edge": ([(380, 50), (430, 50), (430, 90)], "leaves the panel"),
        "beside the panel": ([(-2.5, 50), (-1, 50), (-1, 90)], "beside the panel"),
    }

    def test_outlines_that_cannot_be_are_refused(self):
        for name, (corners, words) in self.REFUSED.items():
            with self.subTest(name), self.assertRaises(BadOutline) as caught:
                extent_on_panel(corners, PANEL, "Outer sill")
            self.assertIn(words, caught.exception.what)

    def test_a_blunt_finger_snaps_to_the_edge(self):
        extent = extent_on_panel([(350, 50), (402, 50), (402, 90), (350, 90)], PANEL, "Outer sill")
        self.assertEqual(extent.bounds_mm, (350, 50, 400, 90))
        self.assertEqual(extent.area_mm2, 2000)

    def test_the_place_of_a_fault_is_told(self):
        with self.assertRaises(BadOutline) as caught:
            extent_on_panel([(380, 50), (430, 50), (430, 90)], PANEL, "Outer sill")
        self.assertGreater(caught.exception.at[0], 400)

    def test_typed_corners(self):
        for text in (
            "684, 292\n700, 264\n742, 256",
            "684 292\n700 264\n742 256",
            "684;292\n700;264\n\n742;256",
            "684,0 292\n700,0 264\n742 256,0",
        ):
            with self.subTest(text):
                self.assertEqual(typed_corners(text), [(684, 292), (700, 264), (742, 256)])
        with self.assertRaises(BadOutline) as caught:
            typed_corners("684, 292\nabout here")
        self.assertIn("Line 2", caught.exception.what)

    def test_the_sheets_behind_a_spot(self):
        spot = [(100, 50), (140, 50), (140, 90), (100, 90)]
        sheets = [
            Sheet(code="SKIN", layer=1, thickness_mm=1.0, outline=PANEL, rust=[spot]),
            Sheet(
                code="INNER",
                layer=3,
                thickness_mm=1.2,
                outline=PANEL,
                rust=[[(300, 20), (320, 20), (320, 40)]],
            ),
            Sheet(
                code="NEXT", layer=3, thickness_mm=2.0, outline=[(130, 0), (200, 0), (200, 200), (130, 200)]
            ),
        ]
        self.assertEqual(
            [(s.code, s.rusty_here) for s in sheets_at(spot, sheets)], [("SKIN", True), ("INNER", False)]
        )
