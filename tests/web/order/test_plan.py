"""The plan over the wire: slots laid out, a plan asked for and taken, a step put elsewhere, a day worked through, its hours, the bundle."""

import io
import re
from datetime import datetime, time, timedelta
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.urls import reverse
from django.utils import timezone
from pypdf import PdfReader

from tests.builders import DAY, finding, owner, repair, vehicle
from yellow_sill.core.errors import BadField
from yellow_sill.core.order import serial
from yellow_sill.web.cut.models import SheetStep
from yellow_sill.web.frame import days, jobs
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.order.day_services import shopping
from yellow_sill.web.order.models import StepWord, TakenPlan, WorkSlot, WorkTime
from yellow_sill.web.order.plan_services import asked_of, plan_of, slots_had, standing
from yellow_sill.web.order.slot_services import add_slots, keep_limits, rhythm
from yellow_sill.web.order.step_services import add_step, steps_of
from yellow_sill.web.parts.models import Need
from yellow_sill.web.shells.models import Access, Role

NOON = datetime.combine(DAY, time(12))


@patch.object(serial, "LEAST_TRIES", 5)
@patch.object(serial, "MOST_TRIES", 5)
class PlanCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.repair = repair(cls.vehicle, [finding(cls.vehicle)])
        cls.page = reverse("order:plan", args=[cls.vehicle.pk])
        cls.work = reverse("order:work", args=[cls.vehicle.pk])
        cls.today = reverse("today:today", args=[cls.vehicle.pk])

    def setUp(self):
        self.client.force_login(self.owner)
        for name, value in (("now", NOON), ("today", DAY)):
            patched = patch.object(days, name, lambda value=value: value)
            patched.start()
            self.addCleanup(patched.stop)

    def post(self, query="", **values):
        return self.client.post(self.page + query, values)

    def planned(self):
        """Ten Saturdays, and the plan of the repair in them."""
        add_slots(self.vehicle, rhythm(DAY, 5, 10), time(13), time(18), hands=1, note="", by="Wren Askew")
        find = self.post(what="ask")["Location"].partition("?")[2]
        jobs.work_off()
        self.assertContains(self.client.get(f"{self.page}?{find}"), "Take this plan")
        self.assertEqual(self.post(f"?{find}", what="take").status_code, 302)
        return plan_of(self.vehicle)


class Slots(PlanCase):
    def test_a_rhythm_is_laid_out_and_what_cannot_be_is_told_beside_it(self):
        every = {"what": "rhythm", "weekday": "5", "begins": "9", "ends": "13:30", "weeks": "4", "hands": "2"}
        self.post(**every)
        self.assertEqual([slot.day.weekday() for slot in WorkSlot.objects.all()], [5] * 4)
        for values, told in (
            (every, "A slot begins then already."), (every | {"begins": "12", "ends": "15"}, "lie over one another"),
            (every | {"begins": "22", "ends": "2"}, "make two slots"), (every | {"begins": "half nine"}, "Type a time like 9:30."),
            (every | {"weeks": "900"}, "104"),
        ):  # fmt: skip
            answer = self.post(**values)
            self.assertContains(answer, told, status_code=422)
            self.assertContains(answer, f'value="{values["begins"]}"', status_code=422)
        self.assertEqual(WorkSlot.objects.count(), 4)

    def test_a_slot_over_the_change_of_the_clocks_is_refused(self):
        with timezone.override("Europe/London"), self.assertRaisesRegex(BadField, "clocks are changed"):
            add_slots(
                self.vehicle,
                [datetime(2026, 3, 29).date()],
                time(0, 30),
                time(4),
                hands=1,
                note="",
                by="Wren",
            )

    def test_a_slot_is_changed_missed_and_deleted_and_two_do_not_overwrite_each_other(self):
        add_slots(self.vehicle, rhythm(DAY, 5, 2), time(9), time(13), hands=1, note="", by="Wren")
        slot = WorkSlot.objects.last()
        values = {
            "what": "slot",
            "version": "1",
            "day": slot.day,
            "begins": "10:00",
            "ends": "13:00",
            "hands": "2",
            "note": "Teal helps",
        }
        self.assertEqual(self.post(f"?slot={slot.pk}", **values).status_code, 302)
        self.assertContains(
            self.post(f"?slot={slot.pk}", **values | {"note": "alone"}), "Teal helps", status_code=409
        )
        self.post(f"?slot={slot.pk}", what="missed")
        self.assertTrue(WorkSlot.objects.get(pk=slot.pk).missed)
        self.post(f"?slot={slot.pk}", what="unslot", version="3")
        self.assertFalse(WorkSlot.objects.filter(pk=slot.pk).exists())

    def test_limits_above_the_rule_want_a_reason(self):
        values = {"what": "limits", "open_areas": "5", "bare_days": "14", "latest_spark": "20:00", "why": ""}
        self.assertContains(self.post(**values), "wants a reason", status_code=422)
        self.post(**values | {"why": "Both floors are open together."})
        self.assertEqual(self.vehicle.order_limits.open_areas, 5)
        self.assertEqual(asked_of_open_areas(self.vehicle), 5)


def asked_of_open_areas(of):
    add_slots(of, rhythm(DAY, 5, 2), time(13), time(17), hands=1, note="", by="Wren")
    return asked_of(of, NOON)[0]["open_areas"]


class Plans(PlanCase):
    def test_nothing_to_plan_is_told(self):
        self.assertContains(self.post(what="ask"), "There is no slot to come", status_code=422)

    def test_a_plan_is_taken_and_a_step_put_elsewhere_is_told_before_it_is_stored(self):
        plan = self.planned()
        keys = [each["key"] for each in plan.placed]
        self.assertEqual(keys[:2], ["R1:save", "R1:mark"])
        self.assertEqual(set(keys), {step.key for step in steps_of(self.vehicle, DAY).steps})
        third = WorkSlot.objects.all()[2]
        proposal = self.client.get(f"{self.page}?step=R1:mark&into={third.pk}")
        self.assertContains(proposal, "Put it there")
        self.assertContains(proposal, "in another slot")
        self.assertEqual(plan_of(self.vehicle).version, plan.version, "nothing is stored by looking")
        self.post(f"?step=R1:mark&into={third.pk}", what="again", version=plan.version)
        moved = plan_of(self.vehicle)
        begins = {each["key"]: each["begins"][:10] for each in moved.placed}
        self.assertEqual(begins["R1:mark"], third.day.isoformat())
        self.assertTrue(standing(self.vehicle, moved, NOON).holds)
        stale = self.post(f"?step=R1:round&into={third.pk}", what="again", version=plan.version)
        self.assertEqual(stale.status_code, 302)
        self.assertEqual(plan_of(self.vehicle).version, moved.version, "an old page changes nothing")

    def test_what_holds_it_up_is_told_in_sentences(self):
        self.planned()
        shown = self.client.get(f"{self.page}?step=R1:L-SILL:weld")
        self.assertContains(shown, "What holds it up")
        self.assertContains(self.client.get(self.page), "What sets the finish")

    def test_a_late_part_makes_the_plan_stand_behind_and_what_nobody_knows_is_in_no_plan(self):
        self.planned()
        need = Need.objects.create(
            vehicle=self.vehicle, repair=self.repair, number=1, name="Sill end", by="Wren"
        )
        told = steps_of(self.vehicle, DAY)
        self.assertIn("R1:L-SILL:fit", [step.key for step in told.unplanned])
        self.assertContains(self.client.get(self.page), "nobody knows when it comes")
        usual = {
            "name": "Depot",
            "source": "reproduction",
            "price": 80,
            "currency": "GBP",
            "days": 21,
            "late_days": 40,
            "by": "Wren",
        }
        need.quotes.create(number=1, **usual)
        self.assertContains(self.client.get(self.page), "The plan is behind.")
        self.post(what="again", version=plan_of(self.vehicle).version)
        fit = next(each for each in plan_of(self.vehicle).placed if each["key"] == "R1:L-SILL:fit")
        self.assertGreaterEqual(fit["begins"][:10], (DAY + timedelta(days=21)).isoformat())
        self.assertEqual(shopping(self.vehicle, NOON), [])
        before = datetime.fromisoformat(fit["begins"]) - timedelta(hours=5)
        self.assertEqual(shopping(self.vehicle, before), ["Sill end, for R-01"])

    def test_no_sparks_after_the_latest_one(self):
        add_slots(self.vehicle, [DAY], time(18), time(22), hands=1, note="", by="Wren")
        self.assertEqual(asked_of(self.vehicle, NOON)[0]["slots"][0]["watch_min"], 120, "until eight")
        late = {
            "open_areas": 3,
            "longest_bare_h": 336.0,
            "latest_spark": time(21, 30),
            "why": "Nobody lives there.",
        }
        keep_limits(self.vehicle, late, version=None, by="Wren")
        self.assertEqual(
            asked_of(self.vehicle, NOON)[0]["slots"][0]["watch_min"], 60, "the fire watch all the same"
        )

    def test_a_persons_word_on_a_step_and_a_step_of_their_own(self):
        keys = [each["key"] for each in self.planned().placed]
        weld = next(key for key in keys if ":weld" in key)
        word = {
            "what": "word",
            "minutes": "200",
            "after": ["R1:mark"],
            "untied": "R1:L-SILL:check",
            "why": "",
        }
        self.assertContains(self.post(f"?step={weld}", **word), "order of the trade", status_code=422)
        self.assertFalse(StepWord.objects.exists(), "nothing of a refused word is kept")
        self.post("?step=R1:L-SILL:make", what="word", minutes="200")
        self.assertEqual(StepWord.objects.get().said, {"minutes": 200})
        ring = self.post("?step=R1:mark", what="word", after=["R1:round"])
        self.assertContains(ring, "in a ring", status_code=422)
        made = next(each for each in steps_of(self.vehicle, DAY).steps if each.key == "R1:L-SILL:make")
        self.assertEqual((made.minutes, made.position), (200, ""))
        self.post("?step=R1:L-SILL:fit", what="word", position="left", whole="on")
        stands = {each.key: each.position for each in steps_of(self.vehicle, DAY).steps}
        self.assertEqual((stands["R1:seal"], stands["R1:L-SILL:make"]), ("left", ""), "a bench has no side")
        self.post("?step=R1:seal", what="word", position="any")
        stands = {each.key: each.position for each in steps_of(self.vehicle, DAY).steps}
        self.assertEqual((stands["R1:seal"], stands["R1:wax"]), ("", "left"))
        self.post(what="own", name="Order the gas", kind="fetch", minutes="20")
        self.assertIn("own-1", [step.key for step in steps_of(self.vehicle, DAY).steps])
        self.post("?step=own-1", what="unword")
        self.post(what="own", name="Sweep", kind="clean", minutes="20")
        self.assertEqual(StepWord.objects.last().key, "own-2", "a number is given once")

    def test_it_all_goes_into_a_bundle_and_back(self):
        self.planned()
        self.post("?step=R1:L-SILL:make", what="word", minutes="200")
        self.client.post(self.work, {"what": "start", "step": "R1:mark"})
        self.client.post(self.work, {"what": "pause", "minutes": "25"})
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual(again.taken_plan.placed, TakenPlan.objects.get(vehicle=self.vehicle).placed)
        self.assertEqual(again.step_words.get().said, {"minutes": 200})
        self.assertEqual((again.work_slots.count(), again.work_times.get().minutes), (10, 25))


class Day(PlanCase):
    def deed(self, what, step="", **more):
        return self.client.post(self.work, {"what": what, "step": step, **more}, follow=True)

    def test_a_day_is_worked_through_and_its_hours_are_in_the_log(self):
        self.planned()
        self.assertContains(self.client.get(self.today), "R-01 Look behind, take transfer marks")
        self.deed("start", "R1:mark")
        self.assertContains(self.deed("start", "R1:mark"), "Its time runs already.")
        WorkTime.objects.update(begun_at=timezone.now() - timedelta(minutes=35))
        self.assertContains(self.deed("done", "R1:mark"), "is done")
        entry = self.vehicle.work_entries.get()
        self.assertEqual((entry.minutes, entry.kind, entry.repair), (35, "survey", self.repair))
        self.assertNotIn("R1:mark", [step.key for step in steps_of(self.vehicle, DAY).steps])
        self.deed("start", "R1:round")
        self.deed("pause", minutes="20")
        left = next(step.minutes for step in steps_of(self.vehicle, DAY).steps if step.key == "R1:round")
        self.assertEqual(left, 10, "twenty of its thirty are worked")
        self.deed("longer", "R1:round", left="90")
        left = next(step.minutes for step in steps_of(self.vehicle, DAY).steps if step.key == "R1:round")
        self.assertEqual(left, 90)
        self.assertContains(self.client.get(self.today), "The plan is behind.")
        self.post(what="again", version=plan_of(self.vehicle).version)
        self.assertTrue(standing(self.vehicle, plan_of(self.vehicle), NOON).holds)

    def test_a_step_that_the_ribbon_refuses_stays_open(self):
        self.planned()
        told = self.deed("done", "R1:L-SILL:cut")
        self.assertContains(told, "is not written down as done yet")
        self.assertContains(told, reverse("logbook:log", args=[self.vehicle.pk, 1]))
        self.repair.refresh_from_db()
        self.assertEqual(self.repair.state, "opened")
        self.assertFalse(SheetStep.objects.exists(), "nothing half is stored")

    def test_what_was_put_on_cures_though_its_step_is_done(self):
        said = {"kind": "protect", "minutes": 20}
        first = add_step(
            self.vehicle, said | {"name": "Prime the brackets", "cure_h": 10}, today=DAY, by="Wren"
        )
        last = add_step(self.vehicle, said | {"name": "Paint them", "after": [first]}, today=DAY, by="Wren")
        self.deed("done", first)
        waiting = next(step for step in steps_of(self.vehicle, DAY).steps if step.key == last)
        self.assertEqual(waiting.after, [])
        self.assertGreater(waiting.not_before, timezone.localtime().replace(tzinfo=None) + timedelta(hours=9))

    def test_a_time_that_runs_can_be_stopped_without_a_plan_and_a_slot_gone_by_is_asked_about(self):
        self.deed("start", "R1:mark")
        self.assertContains(self.client.get(self.today), "Pause it")
        add_slots(self.vehicle, [DAY - timedelta(days=7)], time(9), time(13), hands=1, note="", by="Wren")
        self.assertContains(self.client.get(self.page), "Gone by, and nothing written down")
        self.post(f"?slot={WorkSlot.objects.get().pk}", what="missed")
        self.assertEqual(slots_had(self.vehicle, NOON), (1, 1))

    def test_a_clock_that_ran_on_is_asked_about_and_a_slip_is_forgotten(self):
        self.planned()
        self.deed("start", "R1:mark")
        WorkTime.objects.update(begun_at=timezone.now() - timedelta(days=3))
        self.assertContains(self.deed("pause"), "Say how many minutes it really was")
        self.deed("pause", minutes="40 min")
        self.assertEqual(self.vehicle.work_entries.get().minutes, 40)
        self.deed("start", "R1:round")
        self.deed("slip")
        self.assertEqual(WorkTime.objects.count(), 1)
        for what, more, words in (
            ("pause", {}, "No time runs."),
            ("longer", {"left": "soon"}, "is not a time"),
            ("done", {}, "done, or its sheet"),
        ):
            self.assertContains(self.deed(what, "R9:none" if what == "done" else "R1:round", **more), words)

    def test_a_helper_runs_the_clock_but_takes_no_ribbon_on(self):
        self.planned()
        helper = owner("Teal")
        Access.objects.create(vehicle=self.vehicle, user=helper, role=Role.HELPER)
        self.client.force_login(helper)
        self.assertEqual(self.client.post(self.work, {"what": "start", "step": "R1:mark"}).status_code, 302)
        self.assertEqual(self.client.post(self.work, {"what": "done", "step": "R1:mark"}).status_code, 403)


class Given(PlanCase):
    def page_of(self, name, *more):
        return reverse(f"order:{name}", args=[self.vehicle.pk, *more])

    def test_the_card_and_the_wall_are_paper_that_says_what_the_plan_says(self):
        self.assertEqual(self.client.get(self.page_of("card")).status_code, 404)
        self.planned()
        card = PdfReader(io.BytesIO(self.client.get(self.page_of("card")).content)).pages[0].extract_text()
        self.assertIn("R-01 Look behind, take transfer marks", card)
        self.assertIn("13:20-13:45", card)
        for sheet in ("a3", "a4"):
            page = PdfReader(io.BytesIO(self.client.get(self.page_of("wall", sheet)).content)).pages[0]
            self.assertIn("as likely as not", page.extract_text())
        self.assertEqual(self.client.get(self.page_of("wall", "a9")).status_code, 404)

    def test_a_calendar_program_reads_the_secret_address_until_it_ends(self):
        self.planned()
        self.client.post(self.page_of("calendars"), {"what": "address"})
        shown = self.client.get(self.page_of("calendars"))
        address = re.search(r"/calendar/[\w-]+\.ics", shown.content.decode())[0]
        self.client.logout()
        read = self.client.get(address)
        self.assertContains(read, "R-01 Look behind")
        self.assertEqual(read.content.count(b"BEGIN:VEVENT"), 10)
        self.assertEqual(self.client.get("/calendar/guess.ics").status_code, 404)
        self.client.force_login(self.owner)
        self.client.post(self.page_of("calendars"), {"what": "end"})
        self.assertEqual(self.client.get(address).status_code, 404)

    def test_a_calendar_is_taken_in_once_and_a_bomb_is_told_beside_the_file(self):
        self.planned()
        given = self.client.get(self.page_of("ics")).content
        WorkSlot.objects.all()[0].delete()
        for _ in range(2):
            sent = {"what": "take", "weeks": "12", "file": SimpleUploadedFile("a.ics", given)}
            self.assertEqual(self.client.post(self.page_of("calendars"), sent).status_code, 302)
            self.assertEqual(WorkSlot.objects.count(), 10)
        bomb = given.replace(b"END:VEVENT", b"RRULE:FREQ=SECONDLY\r\nEND:VEVENT")
        sent = {"what": "take", "weeks": "12", "file": SimpleUploadedFile("b.ics", bomb)}
        told = self.client.post(self.page_of("calendars"), sent)
        self.assertContains(told, "many times a day", status_code=422)

    def test_what_fits_now_is_listed_and_nonsense_is_told(self):
        self.planned()
        usual = {"minutes": "30", "hands": "1", "sparks": "no", "off_the_shell": "no"}
        self.assertContains(self.client.get(self.page_of("now"), usual), "R-01 Save what is on the metal")
        self.assertContains(self.client.get(self.page_of("now"), usual | {"minutes": "soon"}), "whole number")

    def test_what_if_stands_beside_as_it_is_and_changes_nothing(self):
        plan = self.planned()
        shown = self.client.get(
            self.page_of("what_if"), {"without_weekday": "5", "first": DAY, "last": DAY + timedelta(days=8)}
        )
        self.assertContains(shown, "days later")
        self.assertContains(shown, "As it would be")
        for asked, words in (
            ({"without_weekday": "5"}, "No slot would be left."), ({"helped": ""}, "Nothing is tried yet."),
            ({"late_repair": "1", "late_weeks": "3"}, "waits for nothing"), ({"helped": "yes", "first": DAY, "last": "2020-01-01"}, "wrong way round"),
        ):  # fmt: skip
            self.assertContains(self.client.get(self.page_of("what_if"), asked), words)
        self.assertEqual(plan_of(self.vehicle).version, plan.version)
