"""A page that has not changed is not sent again; one that has is, whatever changed it."""

from django.test import TestCase
from django.urls import reverse

from tests.builders import DAY, finding, owner, repair, vehicle
from yellow_sill.core.errors import BadField
from yellow_sill.web.accounts.models import Preferences
from yellow_sill.web.frame.changes import changing
from yellow_sill.web.frame.revision import by_revision, revision_of
from yellow_sill.web.logbook.services import add_note, add_work
from yellow_sill.web.shells.change_services import take_back


class Unchanged(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.repair = repair(cls.vehicle, [finding(cls.vehicle)])

    def setUp(self):
        self.client.force_login(self.owner)
        self.page = reverse("logbook:log", args=[self.vehicle.pk, self.repair.number])

    def again(self, first, page=""):
        return self.client.get(page or self.page, headers={"If-None-Match": first.headers["ETag"]})

    def test_a_page_is_sent_again_only_when_something_of_it_changed(self):
        first = self.client.get(self.page)
        self.assertIn("no-cache", first.headers["Cache-Control"])
        same = self.again(first)
        self.assertEqual((same.status_code, same.content), (304, b""))
        self.assertNotIn("Content-Security-Policy", same.headers, "the page keeps the nonce it came with")
        self.assertEqual(
            self.again(first, reverse("repairs:repairs", args=[self.vehicle.pk])).status_code, 200
        )

        add_note(self.repair, written_on=DAY, text="the seam sealer hid a drain", by="Wren")
        changed = self.again(first)
        self.assertContains(changed, "the seam sealer hid a drain")
        self.assertEqual(self.again(changed).status_code, 304)

        wanted = Preferences.objects.create(user=self.owner, unit="in", american_terms=True)
        inches = self.again(changed)
        self.assertEqual(inches.status_code, 200, "in other units")
        self.assertEqual(self.again(inches).status_code, 304)
        Preferences.objects.filter(pk=wanted.pk).update(unit="mm", american_terms=False)
        self.assertEqual(self.again(inches).status_code, 200, "and back again")
        self.assertEqual(self.again(changed).status_code, 304)
        self.client.force_login(owner("Linnet"))
        self.assertEqual(self.again(changed).status_code, 404, "somebody else's")

    def test_what_a_page_has_to_say_is_said_and_said_once(self):
        typed = {"worked_on": DAY, "kind": "survey", "typed": "1h"}
        stored = self.client.post(reverse("logbook:hours", args=[self.vehicle.pk]), typed)
        self.assertEqual(stored.headers["Vehicle-Revision"], str(self.now()))
        told = self.client.get(self.page)
        self.assertContains(told, "The hours are written down")
        self.assertNotIn("ETag", told.headers)
        self.assertEqual(self.again(self.client.get(self.page)).status_code, 304)

    def test_an_open_page_asks_whether_something_changed_elsewhere(self):
        ask = reverse("shells:revision", args=[self.vehicle.pk])
        self.assertContains(self.client.get(self.page), f'data-revision="{self.now()}"')
        before = self.client.get(ask).json()["revision"]
        add_work(self.vehicle, self.repair, worked_on=DAY, kind="weld", typed="1h", note="", by="Wren")
        self.assertEqual(self.client.get(ask).json()["revision"], before + 1)

    def now(self) -> int:
        self.vehicle.refresh_from_db()
        return self.vehicle.revision


class Remembered(TestCase):
    def test_nothing_is_remembered_of_a_change_that_is_not_whole(self):
        mended = vehicle(owner())
        told = repair(mended, [finding(mended)])

        @by_revision(4)
        def notes(of) -> int:
            return told.notes.count()

        def note() -> None:
            add_note(told, written_on=DAY, text="rust", by="Wren")

        self.assertEqual(notes(mended), 0)
        with changing(mended, by="Wren"):
            note()
            self.assertEqual(notes(mended), 1)
            note()
            self.assertEqual(notes(mended), 2)
        self.assertEqual(notes(mended), 2)
        note()
        self.assertEqual(notes(mended), 3)
        notes(mended)
        with self.assertNumQueries(1):
            notes(mended)

    def test_a_refusal_is_remembered_and_made_anew_after_a_change(self):
        mended, asked = vehicle(owner()), []

        @by_revision(4)
        def told(of) -> str:
            asked.append(of)
            raise BadField(f"Refused {len(asked)}.", "steps")

        for words in ("Refused 1.", "Refused 1."):
            with self.assertRaisesMessage(BadField, words):
                told(mended)
        finding(mended)
        with self.assertRaisesMessage(BadField, "Refused 2."):
            told(mended)

    def test_a_change_in_another_room_leaves_what_is_remembered_of_this_one(self):
        mended, worked_out = vehicle(owner()), []

        @by_revision(4, "survey", "shells")
        def findings(of) -> int:
            worked_out.append(of)
            return of.findings.count()

        told = repair(mended, [finding(mended)])
        self.assertEqual(findings(mended), 1)
        add_note(told, written_on=DAY, text="rust", by="Wren")
        self.assertEqual((findings(mended), len(worked_out)), (1, 1), "the logbook is another room")
        finding(mended)
        self.assertEqual((findings(mended), len(worked_out)), (2, 2))
        take_back(mended, revision_of(mended.pk), by="Wren")
        self.assertEqual((findings(mended), len(worked_out)), (1, 3))
