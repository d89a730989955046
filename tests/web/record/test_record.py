"""The record over the wire: everything typed is found with its page and place, told on its day, and the shell as it stood."""

from datetime import timedelta
from unittest.mock import patch

from django.apps import apps
from django.db.models import CharField, TextField
from django.test import TestCase
from django.urls import reverse

from tests.builders import DAY, finding, owner, repair, vehicle
from yellow_sill.web.cut.models import SheetStep
from yellow_sill.web.frame import days
from yellow_sill.web.frame.changes import Kept
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.logbook.services import add_note, add_work, as_written, change_note
from yellow_sill.web.record import index
from yellow_sill.web.record.find_services import find_in
from yellow_sill.web.record.kinds import KINDS, NOT_FOUND
from yellow_sill.web.shells.change_services import changes, take_back
from yellow_sill.web.shells.models import Access, Role

#: Fields that hold no words of what was done.
BESIDE = {"by", "changed_by", "made_by", "file"}


class RecordCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.found = finding(cls.vehicle, title="Sill end, front")
        cls.repair = repair(cls.vehicle, [cls.found])

    def setUp(self):
        index._held.clear()
        self.client.force_login(self.owner)
        patched = patch.object(days, "today", lambda: DAY + timedelta(days=40))
        patched.start()
        self.addCleanup(patched.stop)

    def page(self, name, **asked):
        return self.client.get(reverse(f"record:{name}", args=[self.vehicle.pk]), asked)

    def heads(self, typed):
        return [hit.entry.head for hit in find_in(self.vehicle, typed)[1]]


class Finding(RecordCase):
    def test_every_kind_that_is_kept_is_found_or_it_is_said_why_not(self):
        kept = {model._meta.label for model in apps.get_models() if issubclass(model, Kept)}
        typed = lambda field: (
            isinstance(field, CharField | TextField) and not field.choices and field.name not in BESIDE
        )
        wordless = {
            label for label in kept - KINDS.keys() - NOT_FOUND.keys()
            if not any(typed(field) for field in apps.get_model(label)._meta.concrete_fields)
        }  # fmt: skip
        self.assertEqual(kept - KINDS.keys() - NOT_FOUND.keys(), wordless)
        self.assertFalse(KINDS.keys() & NOT_FOUND.keys())
        self.assertLessEqual(KINDS.keys() | NOT_FOUND.keys(), kept)

    def test_what_was_typed_is_found_with_its_page_and_its_place(self):
        add_note(self.repair, written_on=DAY, text="Drilled through the Türgriff by mistake", by="Wren")
        answer = self.page("find", q="turgriff")
        self.assertContains(answer, "<mark>Türgriff</mark>")
        (hit,) = answer.context["hits"]
        self.assertEqual(self.client.get(hit.url).status_code, 200)
        self.assertIsNotNone(hit.place, "a note lies where its repair is")
        self.assertEqual(len(answer.context["tags"]), 1)
        self.assertIn("F-1 Sill end, front", self.heads("rocker end"))
        self.assertContains(self.page("find", q="nowhere"), "Nothing that was written down has this word")
        self.assertContains(self.page("find", q="sill", kind="panels"), 'aria-current="true">panels')
        self.assertEqual(self.page("find").context["hits"], [])

    def test_the_index_follows_every_change_and_those_that_are_taken_back(self):
        self.assertEqual(self.heads("quoin"), [])
        note = add_note(self.repair, written_on=DAY, text="A quoin", by="Wren")
        self.assertEqual(self.heads("quoin"), ["R-01: A quoin"])
        change_note(note, {"written_on": DAY, "text": "A quaint one"}, was=as_written(note))
        self.assertEqual((self.heads("quoin"), self.heads("quaint")), ([], ["R-01: A quaint one"]))
        take_back(self.vehicle, changes(self.vehicle)[0].revision, by="Wren")
        self.assertEqual((self.heads("quoin"), self.heads("quaint")), (["R-01: A quoin"], []))
        other = vehicle(self.owner)
        self.assertEqual(find_in(other, "quoin")[1], [], "each vehicle has its own words")
        note.delete()
        self.assertEqual(self.heads("quoin"), [])


class Line(RecordCase):
    def test_everything_is_told_on_its_day_and_can_be_narrowed(self):
        add_work(
            self.vehicle,
            self.repair,
            worked_on=DAY + timedelta(days=3),
            kind="weld",
            typed="1:30",
            note="gusset",
            by="Wren",
        )
        add_work(
            self.vehicle,
            None,
            worked_on=DAY + timedelta(days=5),
            kind="clean",
            typed="20",
            note="swept",
            by="Wren",
        )
        answer = self.page("line")
        told = answer.context["told"]
        self.assertEqual(
            [each.day for each in told.days][:2], [DAY + timedelta(days=5), DAY + timedelta(days=3)]
        )
        self.assertContains(answer, "swept")
        mine = self.page("line", repair="1")
        self.assertNotContains(mine, "swept")
        self.assertContains(mine, "gusset")
        until = self.page("line", day=DAY.isoformat())
        self.assertNotContains(until, "gusset")
        self.assertEqual(self.page("line", kind="hours").context["told"].count, 2)
        self.assertContains(self.page("line", panel="R-ROOF"), "Nothing of that kind")
        for odd in ({"day": "tomorrow"}, {"from": "-3"}, {"repair": "x"}, {"view": "none"}):
            self.assertEqual(self.page("line", **odd).status_code, 200)

    def test_the_shell_is_drawn_as_it_stood(self):
        cut = self.repair.cuts.get()
        view = cut.panel.view.name
        SheetStep.objects.create(cut=cut, state="cut", made_on=DAY + timedelta(days=10), by="Wren")
        self.vehicle.set_fields("Wren", model="Dunlin two")
        before = self.page("at", day=(DAY + timedelta(days=9)).isoformat(), view=view).json()
        after = self.page("at", day=(DAY + timedelta(days=10)).isoformat(), view=view).json()
        self.assertIn("fd-", before["svg"])
        self.assertNotIn("at-out", before["svg"])
        self.assertIn("at-out", after["svg"])
        self.assertNotIn("fd-", after["svg"])
        self.assertIn("1 piece out", after["words"])

    def test_who_may_only_look_may_look(self):
        viewer = owner("Sorrel")
        self.client.force_login(viewer)
        self.assertEqual(self.page("line").status_code, 404)
        Access.objects.create(vehicle=self.vehicle, user=viewer, role=Role.VIEWER)
        self.assertEqual(self.page("line").status_code, 200)


class Map(RecordCase):
    def test_the_map_tells_what_is_new_and_who_may_say_what_counts(self):
        cut = self.repair.cuts.get()
        SheetStep.objects.create(cut=cut, state="welded", made_on=DAY, by="Wren")
        answer = self.page("metal", view=cut.panel.view.name)
        self.assertContains(answer, "R-01")
        told = next(each for each in answer.context["told"].sheets if each.code == cut.panel.code)
        self.assertGreater(told.shares["new"], 0)
        self.assertContains(answer, "nobody has looked")
        there = reverse("record:metal", args=[self.vehicle.pk])
        self.client.post(there, {"code": cut.panel.code, "rank": "show"})
        self.assertIn("show", self.page("metal").context["told"].by_rank)
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual([str(each) for each in again.panel_ranks.all()], [f"{cut.panel.code} is on show"])
        self.client.post(there, {"code": cut.panel.code, "rank": ""})
        self.assertFalse(self.vehicle.panel_ranks.exists())
        for values, words in (
            ({"code": "none", "rank": "show"}, "no such sheet"),
            ({"code": cut.panel.code, "rank": "shiny"}, "on show, visible or"),
        ):
            self.assertContains(self.client.post(there, values), words, status_code=422)


class WhatItTaught(RecordCase):
    def test_nothing_is_known_at_first_and_then_what_was_done(self):
        first = self.page("taught")
        for words in (
            "Nothing that was planned is done",
            "No hours are written down",
            "None is written down",
        ):
            self.assertContains(first, words)
        add_work(self.vehicle, self.repair, worked_on=DAY, kind="cut", typed="3:00", note="", by="Wren")
        add_note(
            self.repair, written_on=DAY, text="Card template says OUTSIDE now", about="learnt", by="Wren"
        )
        self.repair.state = "cut"
        self.repair.save()
        answer = self.page("taught")
        self.assertEqual([(each.kind, each.spent) for each in answer.context["told"].kinds], [("cut", 180.0)])
        self.assertContains(answer, "Card template says OUTSIDE now")
        self.assertContains(answer, "3 h 00, planned")
