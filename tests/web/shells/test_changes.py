"""Changes: each is told with what was before, and can be taken back from where it was made."""

import io
import random
import zipfile
from contextlib import ExitStack
from datetime import timedelta
from decimal import Decimal
from threading import Thread
from unittest import mock

from django.apps import apps
from django.db import connection
from django.db.models import CASCADE, ForeignKey
from django.test import TestCase, TransactionTestCase
from django.urls import reverse
from django.utils import timezone

from tests.builders import DAY, SILL_HOLE, finding, owner, picture, repair, vehicle, worked_out
from yellow_sill.core.cut.check import check_cut
from yellow_sill.core.cut.through import cuts_through
from yellow_sill.core.errors import BadField
from yellow_sill.core.survey.coverage import panel_cover
from yellow_sill.core.weld.tacks import tack_order
from yellow_sill.web.cut.extent_services import add_to_repair, change_clearances, take_cut_out
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.services import move_cut, propose_cuts
from yellow_sill.web.frame.changes import Kept, changing, is_storing, one_change
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.pictures import photo_path, sweep
from yellow_sill.web.logbook.bundle import export_vehicle
from yellow_sill.web.logbook.services import add_note, add_photo, add_work, as_written, change_note
from yellow_sill.web.parts.services import add_cost, change_cost
from yellow_sill.web.patch.services import patch_of, save_patch, stored_values
from yellow_sill.web.shells.change_services import changes, take_back
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.survey.coverage_services import mark_looked
from yellow_sill.web.survey.models import Finding
from yellow_sill.web.survey.services import look_again, update_finding
from yellow_sill.web.weld.models import WeldPlan
from yellow_sill.web.weld.services import save_weld, weld_of
from yellow_sill.web.weld.step_services import progress_of, record_tack


def told(mended) -> bytes:
    """Everything a vehicle's bundle tells of it."""
    with zipfile.ZipFile(io.BytesIO(export_vehicle(mended))) as bundle:
        return bundle.read("vehicle.json")


COST = {
    "bought_on": DAY,
    "supplier": "Fallow",
    "item": "Discs",
    "kind": "tool",
    "quantity": Decimal(2),
    "unit_price": Decimal(3),
    "tax_rate": Decimal(20),
}


class Changes(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.found = finding(cls.vehicle, note="as I saw it")
        cls.repair = repair(cls.vehicle, [cls.found])

    def setUp(self):
        self.client.force_login(self.owner)
        self.page = reverse("shells:changes", args=[self.vehicle.pk])

    def last(self, of=None):
        return changes(self.vehicle, of)[0]

    def test_a_change_of_whatever_is_kept_is_one_of_its_vehicle(self):
        """What leads to no vehicle would be stored untold, and its page would not be sent again."""

        def leads(kind):
            ways = [
                key
                for key in kind._meta.concrete_fields
                if isinstance(key, ForeignKey) and key.remote_field.on_delete is CASCADE
            ]
            return kind is Vehicle or any(leads(key.related_model) for key in ways)

        kinds = [kind for kind in apps.get_models() if issubclass(kind, Kept)]
        self.assertGreater(len(kinds), 30)
        self.assertEqual([kind.__name__ for kind in kinds if not leads(kind)], [])

    def test_a_moved_line_comes_back_with_its_tacks_and_an_old_page_does_not_pass(self):
        cut = self.repair.cuts.get()
        save_weld(weld_of(cut), {"process": "mig", "joint": "butt"}, version=None, by="Wren")
        before, tacks = told(self.vehicle), cut.weld.tack_plans
        wider = [[x + (8 if x > 700 else 0), y] for x, y in cut.corners]
        move_cut(cut, wider, version=cut.version, by="Wren")
        self.assertNotEqual(told(self.vehicle), before)
        self.assertNotEqual(Cut.objects.get().weld.tack_plans, tacks)
        seen = self.client.get(f"{self.page}?of=cut.cut.{cut.pk}")
        self.assertContains(seen, "Wren")
        self.assertContains(seen, "corners: 4 values → 4 values")
        made = self.last((Cut, cut.pk))
        answer = self.client.post(
            self.page, {"revision": made.revision, "of": f"cut.cut.{cut.pk}"}, follow=True
        )
        self.assertContains(answer, "Taken back: changed cut 1")
        self.assertEqual(told(self.vehicle), before)
        with self.assertRaises(ChangedMeanwhile):
            move_cut(Cut.objects.get(), wider, version=cut.version, by="Robin")
        again = self.last((Cut, cut.pk))
        take_back(self.vehicle, again.revision, by="Wren")
        self.assertEqual(Cut.objects.get().corners, wider, "what was taken back can be taken back again")

    def test_all_is_worked_out_before_anything_is_locked(self):
        mended, locked = self.repair, []
        save_weld(weld_of(mended.cuts.get()), {"process": "mig", "joint": "butt"}, version=None, by="Wren")
        cut = mended.cuts.get()
        wider = [[x + (8 if x > 700 else 0), y] for x, y in cut.corners]
        other = finding(self.vehicle, corners=[[x + 300, y] for x, y in SILL_HOLE])
        view = other.panel.view
        rates = {"margin_mm": 12.0, "corner_radius_mm": 8.0, "web_mm": 30.0}
        deeds = {
            "a moved line": lambda: move_cut(cut, wider, version=cut.version, by="Wren"),
            "a finding more": lambda: add_to_repair(mended, f"f{other.pk}", by="Wren"),
            "clearances": lambda: change_clearances(mended, version=None, by="Wren", **rates),
            "a cut less": lambda: take_cut_out(mended.cuts.get(number=2)),
            "a repair opened": lambda: repair(self.vehicle, [other]),
            "a region looked at": lambda: mark_looked(
                view, 1, [[600, 200], [900, 400]], method="lamp", made_on=DAY, by="Wren"
            ),
        }
        worked = {
            "yellow_sill.web.cut.services.check_cut": check_cut,
            "yellow_sill.web.cut.services.cuts_through": cuts_through,
            "yellow_sill.web.weld.services.tack_order": tack_order,
            "yellow_sill.web.survey.coverage_services.panel_cover": panel_cover,
        }
        with ExitStack() as stack:
            for name, work in worked.items():
                seen = lambda *args, work=work, **more: (locked.append(is_storing()), work(*args, **more))[1]
                stack.enter_context(mock.patch(name, seen))
            for name, deed in deeds.items():
                with self.subTest(name):
                    locked.clear()
                    deed()
                    self.assertTrue(locked)
                    self.assertFalse(any(locked), "two devices wait for one another only while it is stored")

    def test_a_deleted_finding_is_there_again_with_all_its_looks(self):
        found = finding(self.vehicle, title="Wing nuts, a boot")
        before = told(self.vehicle)
        self.client.post(reverse("survey:delete", args=[self.vehicle.pk, 2]))
        self.assertFalse(Finding.objects.filter(pk=found.pk).exists())
        answer = self.client.post(self.page, {"revision": self.last().revision}, follow=True)
        self.assertContains(answer, "Taken back: deleted")
        self.assertEqual(told(self.vehicle), before)
        self.assertEqual(Finding.objects.get(number=2).pk, found.pk)

    def test_a_corrected_finding_keeps_who_looked_and_what_was_not_touched(self):
        found = finding(self.vehicle, by="Somebody Else")
        look, seen, before = found.inspections.get(), found.evidence.get(), told(self.vehicle)
        probe = seen.record().model_dump()
        tap = {"method": "tap", "result": "dull", "made_on": DAY}
        for evidence, kinds in (
            ([probe], [("Changed", "finding")]),
            ([probe, tap], [("Added", "evidence"), ("Changed", "finding")]),
        ):
            update_finding(
                Finding.objects.get(pk=found.pk), version=None, panel=found.panel, corners=SILL_HOLE, typed="",
                evidence=evidence, title=f"Boot {len(evidence)}", note="", found_on=DAY, by="Wren Askew",
            )  # fmt: skip
            self.assertEqual([(each.verb, each.kind) for each in self.last().records], kinds)
            self.assertEqual((found.inspections.get(), found.evidence.first()), (look, seen))
            self.assertEqual(found.inspections.get().made_by, "Somebody Else")
        for _ in range(2):
            take_back(
                self.vehicle,
                next(c.revision for c in changes(self.vehicle) if not c.undone and not c.back_of),
                by="W",
            )
        self.assertEqual(told(self.vehicle), before)

    def test_a_cost_and_a_photo_that_were_deleted(self):
        line = add_cost(self.vehicle, self.repair, COST, by="Wren")
        photo = add_photo(self.repair, picture(), caption="c", taken_on=DAY, by="Wren")
        before = told(self.vehicle)
        self.client.post(reverse("parts:cost", args=[self.vehicle.pk, 1, line.pk]), {"delete": "yes"})
        self.client.post(reverse("logbook:delete_photo", args=[self.vehicle.pk, 1, photo.pk]))
        self.assertNotEqual(told(self.vehicle), before)
        for made in changes(self.vehicle)[:2]:
            take_back(self.vehicle, made.revision, by="Wren")
        self.assertEqual(told(self.vehicle), before)
        self.assertTrue(photo_path(photo.file).is_file())
        photo.delete()
        self.assertNotIn(
            photo.file, sweep(timezone.now()), "what was deleted just now can be taken back for a month"
        )
        type(photo).history.update(history_date=timezone.now() - timedelta(days=40))
        photo_path(photo.file).touch()
        self.assertIn(photo.file, sweep(timezone.now() + timedelta(days=31)))

    def test_what_was_changed_since_is_not_run_over(self):
        note = add_note(self.repair, written_on=DAY, text="first", by="Wren")
        change_note(note, {"written_on": DAY, "text": "second"}, was=as_written(note))
        first = self.last((type(note), note.pk))
        note.refresh_from_db()
        change_note(note, {"written_on": DAY, "text": "third"}, was=as_written(note))
        with self.assertRaisesMessage(BadField, "was changed again since"):
            take_back(self.vehicle, first.revision, by="Robin")
        note.refresh_from_db()
        self.assertEqual(note.text, "third")
        answer = self.client.post(self.page, {"revision": first.revision}, follow=True)
        self.assertContains(answer, "Take that change back first.")
        answer = self.client.post(self.page, {"revision": "99999"}, follow=True)
        self.assertContains(answer, "There is no such change.")

    def test_what_has_lost_its_place_is_refused_in_words(self):
        found = finding(self.vehicle)
        self.client.post(reverse("survey:delete", args=[self.vehicle.pk, found.number]))
        gone = self.last().revision
        other = finding(self.vehicle)
        self.assertEqual(other.number, found.number, "the number is given again")
        answer = self.client.post(self.page, {"revision": gone}, follow=True)
        self.assertContains(answer, "Something else stands in the place of")
        self.assertEqual(Finding.objects.get(number=found.number).pk, other.pk)
        note = add_note(self.repair, written_on=DAY, text="on a repair", by="Wren")
        note.delete()
        lost = self.last().revision
        with changing(self.vehicle, by="Wren"):
            self.repair.delete()
        answer = self.client.post(self.page, {"revision": lost}, follow=True)
        self.assertContains(answer, "hung on is gone by now")

    def test_what_was_typed_for_something_deleted_meanwhile_is_shown(self):
        note = add_note(self.repair, written_on=DAY, text="first", by="Wren")
        address = reverse("logbook:note", args=[self.vehicle.pk, note.pk])
        note.delete()
        answer = self.client.post(
            address, {"text": "Two hours <b>lost</b>", "written_on": "2026-02-14", "was": ""}
        )
        self.assertContains(answer, "It was deleted while you had it open", status_code=404)
        self.assertContains(answer, "Two hours &lt;b&gt;lost&lt;/b&gt;", status_code=404)
        self.assertContains(answer, self.page, status_code=404)
        board = self.client.post(
            reverse("cut:check", args=[self.vehicle.pk, 1, 99]),
            {},
            content_type="application/json",
            headers={"Accept": "application/json"},
        )
        self.assertIn("deleted while you had it open", board.json()["error"]["what"])
        self.client.logout()
        self.assertNotContains(
            self.client.post("/nowhere/", {"text": "sent by a stranger"}),
            "sent by a stranger",
            status_code=404,
        )

    def test_a_stranger_sees_nothing_and_an_address_of_elsewhere_tells_nothing(self):
        other = vehicle(owner("Robin"))
        cut = repair(other, [finding(other)]).cuts.get()
        with changing(other, by="Robin"):
            cut.save_as(None, "Robin", area_mm2=1.0)
        self.assertEqual(self.client.get(reverse("shells:changes", args=[other.pk])).status_code, 404)
        for asked in (f"cut.cut.{cut.pk}", "cut.cut.x", "auth.user.1", "a.b.1", "nonsense"):
            with self.subTest(asked):
                self.assertContains(
                    self.client.get(f"{self.page}?of={asked}"), "Nothing of this was changed yet"
                )

    def test_a_record_made_again_under_its_number_refuses_the_old_page(self):
        old = self.repair.cuts.get().version
        propose_cuts(self.repair, by="Wren")
        again = self.repair.cuts.get()
        self.assertGreater(again.version, old)
        with self.assertRaises(ChangedMeanwhile):
            again.save_as(old, "Robin", area_mm2=1.0)

    def test_any_run_of_changes_is_taken_back_to_the_last_letter(self):
        """The core of it: whatever is done in whatever order, taking all of it back gives the vehicle as it was."""
        for seed in range(3):
            dice = random.Random(seed)
            before, start = told(self.vehicle), changes(self.vehicle)
            known = start[0].revision if start else 0
            for _ in range(dice.randint(2, 7)):
                self._anything(dice)
            for made in changes(self.vehicle):
                if made.revision > known:
                    take_back(self.vehicle, made.revision, by="Wren")
            with self.subTest(seed):
                self.assertEqual(told(self.vehicle), before)

    def _anything(self, dice: random.Random) -> None:
        cut, lines = self.repair.cuts.first(), list(self.repair.cost_lines.all())
        what = dice.choice(
            ["move", "cost", "change", "drop", "work", "note", "patch", "weld", "look", "propose"]
        )
        if what == "move" and cut:
            wider = [[x + dice.uniform(0, 9) * (x > 700), y] for x, y in cut.corners]
            move_cut(cut, wider, version=None, by="Wren")
        elif what == "cost":
            add_cost(self.vehicle, self.repair, COST, by="Wren")
        elif what == "change" and lines:
            change_cost(dice.choice(lines), COST | {"item": f"{dice.random()}"}, version=None, by="Wren")
        elif what == "drop" and lines:
            dice.choice(lines).delete()
        elif what == "work":
            add_work(self.vehicle, self.repair, worked_on=DAY, kind="weld", typed="1 h", note="", by="Wren")
        elif what == "note":
            add_note(self.repair, written_on=DAY, text=f"{dice.random()}", by="Wren")
        elif what == "patch" and cut:
            values = stored_values(patch_of(cut)) | {"gap_mm": round(dice.uniform(0, 2), 2)}
            save_patch(patch_of(cut), values, version=None, by="Wren")
        elif what == "weld" and cut:
            save_weld(
                weld_of(cut),
                {"process": "mig", "joint": "butt", "pitch_mm": dice.uniform(20, 60)},
                version=None,
                by="Wren",
            )
        elif what == "look":
            look_again(
                Finding.objects.get(pk=self.found.pk), version=None, stage="opened", made_on=DAY,
                corners=[(x + dice.uniform(0, 5), y) for x, y in SILL_HOLE], typed="", evidence=[], by="Wren",
            )  # fmt: skip
        elif what == "propose":
            propose_cuts(self.repair, by="Wren")


class TwoAtOnce(TransactionTestCase):
    def test_a_change_whose_reads_have_grown_old_is_worked_out_again(self):
        mended = vehicle(owner())
        tried = []

        def meanwhile() -> None:
            add_cost(mended, None, COST, by="Robin")
            connection.close()

        @one_change
        def renamed(*, by: str) -> None:
            """Reads how much was bought, thinks for a while, and writes it down."""
            tried.append(mended.cost_lines.count())
            if len(tried) == 1:
                other = Thread(target=meanwhile)
                other.start()
                other.join()
            mended.set_fields(by, model=f"{mended.cost_lines.count()} things bought")

        renamed(by="Wren")
        mended.refresh_from_db()
        self.assertEqual((tried, mended.model), ([0, 1], "1 things bought"))
        self.assertEqual([change.by for change in changes(mended)], ["Wren", "Robin"])

    def test_a_tack_that_could_not_be_stored_at_first_is_stored_once(self):
        mended = vehicle(owner())
        cut = worked_out(repair(mended, [finding(mended)]).cuts.get())
        at_once = [COST]

        def meanwhile(cost):
            add_cost(mended, None, cost, by="Robin")
            connection.close()

        def thinks(*given):
            if at_once:
                other = Thread(target=meanwhile, args=[at_once.pop()])
                other.start()
                other.join()
            return progress_of(*given)

        record_tack(cut, 0, 1, "done", now=timezone.now(), by="Wren")
        with mock.patch("yellow_sill.web.weld.step_services.progress_of", thinks):
            record_tack(Cut.objects.get(), 0, 2, "blown", now=timezone.now(), by="Wren")
        self.assertEqual(at_once, [])
        self.assertEqual([each["what"] for each in WeldPlan.objects.get().events], ["done", "blown"])
