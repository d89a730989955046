"""The quick log: a word, minutes, a photo go where they belong, all or none of them, and back to where one came from."""

from unittest.mock import Mock, patch

from django.urls import reverse
from django.utils import timezone

from tests.builders import DAY, owner, picture
from tests.web.record.test_record import RecordCase
from yellow_sill.web.frame import days
from yellow_sill.web.logbook.models import Note, Photo, WorkEntry
from yellow_sill.web.order.models import WorkTime
from yellow_sill.web.order.step_services import steps_of
from yellow_sill.web.record import quick_services
from yellow_sill.web.shells.models import Access, Role


class Quick(RecordCase):
    def setUp(self):
        super().setUp()
        self.there = reverse("record:quick", args=[self.vehicle.pk])

    def keep(self, back="", **values):
        return self.client.post(f"{self.there}?from={back}" if back else self.there, values)

    def test_what_is_in_hand_is_known_and_told(self):
        page = self.client.get(self.there, {"from": f"/v/{self.vehicle.pk}/repairs/1/log/"})
        self.assertContains(page, "R-01, you were on its page")
        self.assertContains(page, 'value="1" selected')
        self.assertContains(self.client.get(self.there), "nobody knows which is in hand")
        self.assertContains(self.client.get(self.there), "No step is planned for the slot that is next")
        first = Mock(step=steps_of(self.vehicle, days.today()).steps[0])
        with patch.object(quick_services, "quiet_day", lambda *_: Mock(steps=[first])):
            page = self.client.get(self.there)
        self.assertContains(page, "Start its time")
        self.client.post(
            page.context["hand"].next and reverse("order:work", args=[self.vehicle.pk]),
            {"what": "start", "step": first.step.key},
        )
        self.assertEqual(WorkTime.objects.get().key, first.step.key)
        WorkTime.objects.all().delete()
        WorkTime.objects.create(
            vehicle=self.vehicle,
            key="R1:mark",
            name="R-01 Marks",
            repair=1,
            kind="survey",
            begun_at=timezone.now(),
            by="Wren",
        )
        page = self.client.get(self.there)
        self.assertContains(page, "its time runs: R-01 Marks")
        self.assertContains(page, "Pause it")

    def test_each_goes_where_it_belongs(self):
        back = f"/v/{self.vehicle.pk}/repairs/1/log/"
        with patch.object(days, "today", lambda: DAY):
            answer = self.keep(
                back,
                repair="1",
                text="Seam sealer under the flange",
                minutes="40",
                kind="clean",
                photo=picture(),
            )
        self.assertRedirects(answer, back)
        entry, photo = WorkEntry.objects.get(), Photo.objects.get()
        self.assertEqual(
            (entry.minutes, entry.kind, entry.note, entry.worked_on),
            (40, "clean", "Seam sealer under the flange", DAY),
        )
        self.assertEqual((photo.caption, Note.objects.count()), ("Seam sealer under the flange", 0))
        self.keep(repair="1", text="Trimmed too far", about="mistake", minutes="1:30", kind="fit")
        self.assertEqual(
            [(note.text, note.about) for note in Note.objects.all()], [("Trimmed too far", "mistake")]
        )
        long = "word " * 70
        self.keep(repair="1", text=long, photo=picture("b.jpg", (50, 40)))
        self.assertEqual(
            Note.objects.first().text, long.strip(), "what a photo cannot bear is a note besides"
        )
        self.keep(minutes="20 min", kind="clean", text="swept")
        self.assertIsNone(WorkEntry.objects.first().repair, "hours may be of the whole vehicle")
        self.keep(text="The delivery", photo=picture("c.jpg", (60, 40)))
        photo = Photo.objects.get(caption="The delivery")
        self.assertEqual((photo.vehicle, photo.repair), (self.vehicle, None), "and so may a photo")

    def test_what_cannot_be_kept_stays_typed_and_nothing_of_it_is_stored(self):
        for values, words in (
            ({}, "Nothing is there to write down"), ({"text": "by itself"}, "belongs to a repair"), ({"repair": "1", "minutes": "soon", "kind": "fit"}, "is not a time"),
            ({"repair": "1", "minutes": "40"}, "what kind of work"),
        ):  # fmt: skip
            answer = self.keep(**values)
            self.assertContains(answer, words, status_code=422)
            for typed in (values.get("text"), values.get("minutes")):
                if typed:
                    self.assertContains(answer, typed, status_code=422)
        broken = picture()
        broken.file.truncate(40)
        answer = self.keep(repair="1", text="kept in the field", minutes="40", kind="fit", photo=broken)
        self.assertContains(answer, "kept in the field", status_code=422)
        self.assertFalse(WorkEntry.objects.exists() or Note.objects.exists() or Photo.objects.exists())
        self.assertRedirects(
            self.keep("https://elsewhere.invalid/", repair="1", text="home"),
            reverse("logbook:logbook", args=[self.vehicle.pk]),
        )

    def test_a_viewer_writes_nothing_down(self):
        viewer = owner("Sorrel")
        Access.objects.create(vehicle=self.vehicle, user=viewer, role=Role.VIEWER)
        self.client.force_login(viewer)
        self.assertEqual(self.keep(repair="1", text="x").status_code, 403)
