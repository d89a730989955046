"""The strip register over the wire: kept with photo and place, found, boxed, labelled, refitted, told to who makes sparks, in the bundle."""

import io

from django.test import TestCase
from django.urls import reverse
from pypdf import PdfReader

from tests.builders import DAY, finding, owner, picture, repair, vehicle
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.shells.models import Access, Role
from yellow_sill.web.strip.models import StripPart
from yellow_sill.web.weld.hot_services import to_move

PART = {
    "what": "keep",
    "name": "Door card, left",
    "removed_on": DAY,
    "box": "B5",
    "shelf": "shelf 2",
    "state": "good",
    "burns": "trim",
    "fastenings": "trim clip; 14\nscrew",
    "ends": "lamp plug; L1; L2",
    "hinge_marked": "no",
    "at": "1200 600",
    "note": "two clips broken",
}


class Strip(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.repair = repair(cls.vehicle, [finding(cls.vehicle)])
        cls.page = reverse("strip:register", args=[cls.vehicle.pk])

    def setUp(self):
        self.client.force_login(self.owner)

    def test_a_part_with_its_photo_goes_into_the_register_and_the_bundle(self):
        cut = self.repair.cuts.get()
        self.assertEqual(
            self.client.post(self.page, PART | {"photo": picture(), "cut": cut.pk}).status_code, 302
        )
        part = StripPart.objects.get()
        self.assertEqual((part.at, part.view.name, part.hinge_marked), ([1200.0, 600.0], "left", False))
        self.assertEqual(
            part.fastenings, [{"what": "trim clip", "count": "14"}, {"what": "screw", "count": ""}]
        )
        self.assertEqual(part.ends, [{"what": "lamp plug", "first": "L1", "second": "L2"}])
        again = import_vehicle(export_vehicle(self.vehicle), self.owner).strip_parts.get()
        self.assertEqual(
            (again.name, again.at, again.cut.repair.number, again.by), (part.name, part.at, 1, part.by)
        )
        self.assertTrue(again.file)
        shown = self.client.get(reverse("strip:photo", args=[self.vehicle.pk, 1]))
        self.assertEqual(shown["Content-Type"], "image/jpeg")

    def test_it_is_found_boxed_labelled_and_refitted(self):
        self.client.post(self.page, PART)
        self.client.post(self.page, PART | {"name": "Seat, front left", "box": "B6", "at": "", "after": [1]})
        self.assertContains(self.client.get(self.page, {"q": "where is the dor card"}), "Door card, left")
        self.assertContains(
            self.client.get(self.page, {"q": "gearbox"}), "Nothing in the register is like that"
        )
        boxes = reverse("strip:boxes", args=[self.vehicle.pk])
        self.assertContains(self.client.get(boxes, {"box": "B6"}), "Seat, front left")
        self.assertContains(self.client.get(boxes, {"box": "B9"}), "There is no box B9")
        pdf = self.client.get(reverse("strip:labels", args=[self.vehicle.pk]))
        text = "".join(page.extract_text() for page in PdfReader(io.BytesIO(pdf.content)).pages)
        self.assertIn("B5", text)
        self.assertIn("Seat, front left", text)
        self.assertEqual(
            self.client.get(reverse("strip:labels", args=[self.vehicle.pk]), {"box": "no"}).status_code, 404
        )
        refit = reverse("strip:refit", args=[self.vehicle.pk])
        self.assertContains(self.client.get(refit), "First Door card, left.")
        self.client.post(f"{self.page}?part=1", {"what": "refit"})
        self.assertNotContains(self.client.get(refit), "First Door card, left.")
        self.client.post(f"{self.page}?part=1", {"what": "refit", "undo": "1"})
        self.assertIsNone(StripPart.objects.get(number=1).refitted_on)

    def test_what_burns_is_told_before_hot_work(self):
        self.client.post(self.page, PART)
        self.assertIn("Door card, left: trim", [each.text for each in to_move(self.vehicle)])

    def test_refusals_keep_what_was_typed(self):
        self.client.post(self.page, PART)
        self.client.post(self.page, PART | {"name": "Seat", "after": [1]})
        for change, words in (
            ({"name": ""}, "This field is required"),
            ({"at": "here"}, "not on the drawing"),
            ({"photo": picture("x.jpg", kind="GIF")}, "not a photo"),
            ({"removed_on": "2099-01-01"}, "has not come yet"),
        ):
            with self.subTest(words):
                answer = self.client.post(self.page, PART | change)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, "two clips broken", status_code=422)
        circle = self.client.post(f"{self.page}?part=1", PART | {"version": 1, "after": [2]})
        self.assertContains(circle, "These wait for each other", status_code=422)
        kept = self.client.post(f"{self.page}?part=1", {"what": "drop", "version": 1})
        self.assertContains(kept, "Seat goes on after it", status_code=422)
        self.client.post(f"{self.page}?part=2", {"what": "drop", "version": 1})
        self.assertEqual(StripPart.objects.count(), 1)
        StripPart.objects.update(state="missing")
        gone = self.client.post(f"{self.page}?part=1", {"what": "refit"})
        self.assertContains(gone, "not there to go back on", status_code=422)

    def test_two_writers_and_who_may(self):
        self.client.post(self.page, PART)
        here = f"{self.page}?part=1"
        self.client.post(here, PART | {"version": 1, "box": "B7"})
        self.assertContains(self.client.post(here, PART | {"version": 1, "box": "B8"}), "B7", status_code=409)
        for role, status in ((Role.HELPER, 302), (Role.VIEWER, 403)):
            somebody = owner(f"Somebody {role}")
            Access.objects.create(vehicle=self.vehicle, user=somebody, role=role)
            self.client.force_login(somebody)
            self.assertEqual(self.client.post(self.page, PART).status_code, status)
