from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.terms import PAIRS, american
from yellow_sill.core.units import exact_length, format_length, parse_length


class Units(TestCase):
    TYPED = {
        "12,5 mm": ("mm", 12.5), "12.5": ("mm", 12.5), ".5": ("mm", 0.5), "3cm": ("in", 30), "-4": ("mm", -4), "158 MM": ("in", 158),
        '10 1/4"': ("mm", 260.35), "3/8": ("mm", 9.525), "10-1/4": ("in", 260.35), "2 in": ("mm", 50.8), "1' 2 1/2\"": ("mm", 368.3), "10.25": ("in", 260.35), "-1/2": ("in", -12.7),
        "6 ft": ("mm", 1828.8), '10¼"': ("mm", 260.35), "6′ 2 3⁄16″": ("mm", 1884.3625), "10 1/4 inches": ("mm", 260.35), "5'-6 1/2\"": ("mm", 1689.1),
        "1 m 25 cm": ("in", 1250), "1.250,5 mm": ("mm", 1250.5), "1,250.5": ("mm", 1250.5), "1 250 mm": ("mm", 1250), "0,125": ("mm", 0.125), "487.125": ("mm", 487.125),
        "½ in": ("mm", 12.7), "5 feet 6 inches": ("mm", 1676.4), "5' 6''": ("mm", 1676.4),
    }  # fmt: skip

    def test_what_people_type(self):
        for text, (unit, mm) in self.TYPED.items():
            with self.subTest(text):
                self.assertAlmostEqual(parse_length(text, unit), mm, places=5)

    def test_what_is_no_length_is_refused(self):
        for text in (
            "",
            "thick",
            "1/0",
            "1.5 1/2",
            "3/",
            "/8",
            "1 2 3",
            "nan",
            "1e5",
            '"',
            "12 stone",
            "--4",
        ):
            for unit in ("mm", "in"):
                with self.subTest(text), self.assertRaises(BadField):
                    parse_length(text, unit)

    def test_a_length_with_two_meanings_is_asked_about(self):
        for text in ("1,250", "-12,125 mm", "999,000"):
            with self.subTest(text), self.assertRaisesRegex(BadField, "two meanings"):
                parse_length(text)

    @given(st.floats(-20_000, 20_000))
    def test_out_and_in_again(self, mm):
        for unit, slack in (("mm", 0.06), ("in", 0.002)):
            self.assertAlmostEqual(parse_length(exact_length(mm, unit), unit), mm, delta=slack)
        self.assertAlmostEqual(parse_length(format_length(mm, "in"), "in"), mm, delta=25.4 / 64 + 1e-6)


class Terms(TestCase):
    def test_every_pair_both_ways_of_capitals(self):
        for british, other in PAIRS.items():
            with self.subTest(british):
                self.assertEqual(american(f"the {british} here"), f"the {other} here")
                capital = british[0].upper() + british[1:]
                self.assertEqual(american(capital), other[0].upper() + other[1:])
        self.assertEqual(
            american("windscreens, swings, L-SILL, Yellow Sill"), "windshields, swings, L-SILL, Yellow Sill"
        )
