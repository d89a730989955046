import datetime
from decimal import Decimal

from django import forms
from django.template import Context, Template
from django.test import SimpleTestCase, TestCase
from django.urls import reverse

from tests.builders import finding, owner, repair, vehicle
from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import DateField, NumberField
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.stages import stages
from yellow_sill.web.parts.forms import CommaDecimalField
from yellow_sill.web.shells.drawing import path_d


class Fields(SimpleTestCase):
    TAKEN = {"0.8": 0.8, "0,8": 0.8, " 12 mm ": 12.0, "1e1": 10.0}
    REFUSED = ("wide", "nan", "inf", "-1", "501", "1e999")

    def test_a_length_is_shown_in_inches_whether_it_is_stored_whole_or_not(self):
        held = units.unit.set("in")
        try:
            field = NumberField(least=0, most=2000)
            shown = [field.prepare_value(value) for value in (560, 560.0, "22 1/16", None)]
            self.assertEqual(shown, ["22.0472", "22.0472", "22 1/16", None])
            self.assertEqual(NumberField(least=0, most=9, unit="").prepare_value(3), "3")
        finally:
            units.unit.reset(held)

    def test_numbers_as_a_garage_types_them(self):
        field = NumberField(least=0, most=500)
        for typed, expected in self.TAKEN.items():
            with self.subTest(typed):
                self.assertEqual(field.clean(typed), expected)
        for typed in self.REFUSED:
            with self.subTest(typed), self.assertRaises(forms.ValidationError):
                field.clean(typed)

    def test_money_as_people_type_it(self):
        field = CommaDecimalField(max_digits=12, decimal_places=4)
        for typed, expected in {
            "12,50": "12.50",
            "1 200,5": "1200.5",
            "1,200.50": "1200.50",
            "9": "9",
        }.items():
            with self.subTest(typed):
                self.assertEqual(field.clean(typed), Decimal(expected))

    def test_days(self):
        field = DateField()
        for typed in ("2026-02-14", "14.02.2026", "14/02/2026", "14 Feb 2026"):
            with self.subTest(typed):
                self.assertEqual(field.clean(typed), datetime.date(2026, 2, 14))
        for typed in ("2126-01-01", "1026-01-01", "yesterday"):
            with self.subTest(typed), self.assertRaises(forms.ValidationError):
                field.clean(typed)


class Figures(SimpleTestCase):
    CASES = {
        "{{ 158.4|mm }}": "158",
        "{{ 0.75|mm:1 }}": "0.8",
        "{{ 12.0|figure }}": "12",
        "{{ 0.80|figure }}": "0.8",
        "{{ 95|clock }}": "1 h 35",
        "{{ 8612|cm2 }}": "86.1",
    }

    def test_how_figures_are_written(self):
        for template, expected in self.CASES.items():
            with self.subTest(template):
                self.assertEqual(Template("{% load figures %}" + template).render(Context()), expected)

    def test_v_up_is_turned_to_y_down(self):
        self.assertEqual(path_d([(1, 2), (3.5, -4)], True), "M1 -2L3.5 4Z")


class Frame(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)

    def test_the_rail_holds_only_what_is_built_and_each_link_leads_somewhere(self):
        self.client.force_login(self.owner)
        self.assertEqual(
            [stage.label for stage in stages() if stage.label],
            ["Today", "Survey", "Datums", "Hold", "Repairs", "Parts", "Strip", "Plan", "Logbook", "Record"],
        )
        for stage in filter(lambda stage: stage.label, stages()):
            answer = self.client.get(reverse(stage.url_name, args=[self.vehicle.pk]), follow=True)
            self.assertContains(answer, 'aria-current="page"', count=1)

    def test_a_record_counts_its_saves(self):
        found = finding(self.vehicle)
        found.save_as(1, "Wren", note="first")
        with self.assertRaises(ChangedMeanwhile) as caught:
            found.save_as(1, "Robin", note="second")
        self.assertEqual(
            (caught.exception.stored.note, caught.exception.stored.changed_by), ("first", "Wren")
        )
        found.save_as(None, "Robin", note="whatever it is")
        self.assertEqual(found.version, 3)

    def test_what_a_panel_is_stands_on_the_board(self):
        self.client.force_login(self.owner)
        page = self.client.get(reverse("survey:board", args=[self.vehicle.pk, "left"]))
        self.assertContains(page, "<title>L-SILL: Outer sill, left, outer, 1 mm, mirror of R-SILL</title>")
        self.assertContains(page, "Panels in this view and layer")

    def test_names_and_addresses_cannot_carry_markup(self):
        self.client.force_login(self.owner)
        found = finding(self.vehicle, title="<script>alert(1)</script>")
        repair(self.vehicle, [found])
        for url in (
            found.get_absolute_url(),
            reverse("today:today", args=[self.vehicle.pk]),
            reverse("repairs:repairs", args=[self.vehicle.pk]),
            reverse("logbook:record", args=[self.vehicle.pk, 1]),
        ):
            self.assertNotContains(self.client.get(url), "<script>alert")
