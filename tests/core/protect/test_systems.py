"""Faces by their systems, what may come next, cans, wax: known answers and made-up faces; what nobody said stays unknown."""

from datetime import datetime, timedelta
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_sill.core.errors import BadField
from yellow_sill.core.protect.cavity import WaxRequest, cavity_wax
from yellow_sill.core.protect.closing import OUTSIDE
from yellow_sill.core.protect.drains import openings_along, pockets_of
from yellow_sill.core.protect.products import STARTING_SET, WAXES
from yellow_sill.core.protect.seen import coats_seen
from yellow_sill.core.protect.systems import SYSTEMS, CansRequest, FaceRequest, cans_needed, face_told
from yellow_sill.core.shell.cavity_records import Cavity, Face, Opening, Pocket

NOON = datetime(2026, 11, 2, 12)
WARM = [{"since": NOON - timedelta(days=90), "at_c": 20}]
BY_KIND = {each.kind: each.model_dump() for each in STARTING_SET}


def told(*coats, surface="cavity", warmth=None, **more):
    put = [{"product": BY_KIND[kind], "at": NOON - timedelta(hours=hours)} for kind, hours in coats]
    asked = {
        "surface": surface,
        "coats": put,
        "warmth": WARM if warmth is None else warmth,
        "now": NOON,
    } | more
    return face_told(FaceRequest.read(asked))


class Faces(TestCase):
    def test_what_nobody_said_is_not_known(self):
        plain = told()
        self.assertEqual((plain.state, plain.finished, plain.clock), ("unknown", None, None))
        bare = told(bared_on=NOON - timedelta(days=3))
        self.assertEqual(
            (bare.state, bare.finished, bare.bare_days, str(bare.words)),
            ("bare", False, 3, "Bare for 3 days."),
        )
        cold = told(("epoxy primer", 30), warmth=[])
        self.assertEqual((cold.state, cold.finished, cold.clock), ("primed", None, None))

    @settings(max_examples=200, deadline=None)
    @given(st.sampled_from(sorted(SYSTEMS)), st.integers(0, 3), st.floats(0.1, 500))
    def test_a_face_is_finished_only_with_its_whole_system_on_and_dry(self, surface, count, hours):
        system = SYSTEMS[surface][:count]
        face = told(
            *((kind, hours + 200 * (len(system) - n)) for n, kind in enumerate(system)), surface=surface
        )
        whole = all(kind in system or kind in WAXES for kind in SYSTEMS[surface])
        if not whole or not system:
            self.assertNotEqual(face.finished, True)
        elif hours > 24:
            self.assertTrue(face.finished)

    def test_what_may_come_next(self):
        after = {each.kind: each for each in told(("converter", 30)).next}
        self.assertEqual(
            after["epoxy primer"].from_at, NOON + timedelta(hours=18), "a converter must be through"
        )
        self.assertIn("Not over converter", str(after["colour"].why_not))
        wax = {each.kind: each for each in told(("epoxy primer", 30), weld_to_come=True).next}["cavity wax"]
        self.assertIn("last weld", str(wax.why_not))
        late = {each.kind: each for each in told(("epoxy primer", 90)).next}["colour"]
        self.assertIn("window has ended", str(late.why_not))
        self.assertEqual(told(("epoxy primer", 30)).next[0].kind, "cavity wax", "its system comes first")

    def test_refusals(self):
        with self.assertRaisesRegex(BadField, "under one that is older"):
            told(("epoxy primer", 3), ("colour", 5))
        with self.assertRaisesRegex(BadField, "bared after now"):
            told(bared_on=NOON + timedelta(hours=1))
        with self.assertRaisesRegex(BadField, "clock was set back"):
            told(("epoxy primer", -5), warmth=[])

    def test_coats_as_the_rules_see_them(self):
        put = [
            {"product": BY_KIND[kind], "at": NOON - timedelta(hours=hours)}
            for kind, hours in (("epoxy primer", 100), ("colour", 20))
        ]
        epoxy, colour = coats_seen(put, WARM, NOON)
        self.assertEqual(
            (epoxy.cured, colour.in_window, colour.cured), (False, False, False), "80 h is past 72"
        )
        self.assertEqual([coat.cured for coat in coats_seen(put, [], NOON)], [None, None])

    def test_cans(self):
        asked = {
            "faces": [
                {"area_m2": 0.8, "left": ["epoxy primer", "colour"]},
                {"area_m2": 0.2, "left": ["epoxy primer"]},
            ],
            "stock": {"epoxy primer": 0.1},
        }
        cans = {can.kind: can for can in cans_needed(CansRequest.read(asked))}
        self.assertEqual((cans["epoxy primer"].litres, cans["epoxy primer"].lacking), (0.15, 0.05))
        self.assertEqual(
            (cans["colour"].in_stock, cans["colour"].lacking, cans["colour"].isocyanate), (None, None, True)
        )


class Wax(TestCase):
    def wax(self, *openings, length=1400.0, **more):
        named = [
            {"name": f"bung {n}", "at_mm": at, "across_mm": across} for n, (at, across) in enumerate(openings)
        ]
        return cavity_wax(
            WaxRequest.read({"name": "Sill", "length_mm": length, "area_m2": 0.5, "openings": named} | more)
        )

    @settings(max_examples=200, deadline=None)
    @given(st.lists(st.tuples(st.floats(0, 4000), st.floats(1, 40)), max_size=6))
    def test_what_is_missed_is_what_no_pass_covers(self, openings):
        plan = self.wax(*openings, length=4000.0)
        for at in range(5, 4000, 97):
            reached = any(step.first_mm <= at <= step.last_mm for step in plan.steps)
            missed = any(a + 1.1 < at < b - 1.1 for a, b in plan.missed_mm)
            self.assertFalse(reached and missed)
            if not reached:
                self.assertTrue(any(a - 1.1 <= at <= b + 1.1 for a, b in plan.missed_mm))

    def test_words_and_refusals(self):
        self.assertIn("no opening is known", str(self.wax().words))
        self.assertIn("no lance goes through", str(self.wax((200.0, 2.0)).words))
        self.assertEqual(self.wax((700.0, 20.0)).litres, 0.1)
        with self.assertRaisesRegex(BadField, "beyond the end"):
            self.wax((1500.0, 20.0))

    def test_a_cavity_of_the_drawing(self):
        opening = Opening(
            face="L-SILL", at=[900.0, 200.0], area_mm2=314.16, low_mm=200, drain=True, by_hand=False
        )
        pocket = Pocket(
            from_mm=600, to_mm=650, deep_mm=9, holds_l=0.2, outline=[[600, 200], [650, 200], [650, 209]]
        )
        box = Cavity(
            code="SILL-L",
            name="Sill",
            side="L",
            view="left",
            faces=[Face(code="L-SILL", name="Sill", lies="outer")],
            length_mm=1400,
            outline=[[[500, 200], [1900, 200], [1900, 300]]],
            volume_l=20.0,
            by_hand=False,
            parts_l=[],
            openings=[opening],
            pockets=[pocket],
            drained=True,
        )
        self.assertEqual(openings_along(box), [{"name": "L-SILL 1", "at_mm": 400.0, "across_mm": 20.0}])
        self.assertEqual([each["to"] for each in pockets_of(box)], [[], [OUTSIDE]])
