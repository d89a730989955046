"""Photos: a heap taken in and sorted by its days, what is said of each, two of them laid over one another; what is bad is refused and nothing is lost."""

import io
import json
from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from tests.builders import DAY
from tests.web.record.test_record import RecordCase
from yellow_sill.core.formats.bundle import read_bundle
from yellow_sill.web.frame.pictures import camera_of, cleaned_picture, photo_path
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.logbook.models import Photo
from yellow_sill.web.logbook.services import add_work
from yellow_sill.web.record.models import PhotoPair


def shot(name="a.jpg", at=None, *, kind="JPEG", size=(120, 90), where=False, colour="gray"):
    """A photo as a camera writes it. Args: at: what its clock said; where: it wrote down the place."""
    image, stream = Image.new("RGB", size, colour), io.BytesIO()
    exif = image.getexif()
    if at:
        exif.get_ifd(0x8769)[0x9003] = f"{at:%Y:%m:%d %H:%M:%S}" if not isinstance(at, str) else at
    if where:
        exif.get_ifd(0x8825)[1] = "N"
    image.save(stream, kind, exif=exif)
    return SimpleUploadedFile(name, stream.getvalue(), "image/jpeg")


def evening(days=0, minute=0):
    from datetime import datetime, time

    return datetime.combine(DAY + timedelta(days), time(19, minute))


class PhotoCase(RecordCase):
    def setUp(self):
        super().setUp()
        self.page = reverse("record:photos", args=[self.vehicle.pk])
        work = {"worked_on": DAY + timedelta(2), "kind": "cut", "typed": "90 min", "note": "", "by": "Wren"}
        add_work(self.vehicle, self.repair, **work)

    def send(self, *files, script=False):
        headers = {"HTTP_ACCEPT": "application/json"} if script else {}
        return self.client.post(
            self.page, {"what": "heap", "photos": list(files)}, follow=not script, **headers
        )


class Heap(PhotoCase):
    def test_a_heap_is_sorted_by_what_was_done_and_asked_about_where_that_is_not_sure(self):
        told = self.send(
            shot("a.jpg", evening(2), where=True),
            shot("b.jpg", evening(9), colour="red"),
            shot("c.jpg", colour="blue"),
        )
        self.assertContains(told, "3 photos taken in, where it was taken stood in 1 and was thrown away.")
        self.assertContains(told, "1 put to what was done on their day; 2 to be asked about.")
        sure = Photo.objects.get(repair=self.repair)
        self.assertEqual(
            (sure.sorted_by, sure.taken_on, sure.taken_at),
            ("day", DAY + timedelta(2), evening(2).isoformat()),
        )
        self.assertFalse(camera_of(photo_path(sure.file).read_bytes()).knew_where)
        page = self.client.get(self.page)
        self.assertContains(page, "Nothing is written down for")
        self.assertContains(page, "The camera wrote no day into it.")
        asked = Photo.objects.get(sorted_by="", taken_on=DAY + timedelta(9))
        self.client.post(self.page, {"what": "to", "photo": asked.pk, "repair": "1", "stage": ""})
        asked.refresh_from_db()
        self.assertEqual((asked.repair, asked.sorted_by), (self.repair, "hand"))
        unknown = Photo.objects.get(sorted_by="")
        self.client.post(self.page, {"what": "to", "photo": unknown.pk, "repair": ""})
        unknown.refresh_from_db()
        self.assertEqual((unknown.repair, unknown.taken_on, unknown.sorted_by), (None, None, "hand"))
        self.assertContains(self.client.get(self.page), "day")

    def test_a_folder_begun_again_takes_nothing_twice_and_a_bad_file_stops_nothing(self):
        first = [shot(f"{n}.jpg", evening(2, n), colour=(n, 0, 0)) for n in range(4)]
        self.send(*first[:2])
        for each in first:
            each.seek(0)
        whole = shot("cut.jpg", evening(2), size=(400, 300), colour="green").read()
        told = self.send(
            *first,
            SimpleUploadedFile("cut.jpg", whole[: len(whole) // 2]),
            SimpleUploadedFile("x.jpg", b"no photo"),
            script=True,
        ).json()
        self.assertEqual(
            (told["new"], told["known"], [each["name"] for each in told["refused"]]),
            (2, 2, ["cut.jpg", "x.jpg"]),
        )
        self.assertIn("damaged", told["refused"][0]["what"])
        self.assertEqual(Photo.objects.count(), 4)
        marks = [*Photo.objects.values_list("came_as", flat=True)[:1], "0" * 40]
        known = self.client.post(
            reverse("record:photos_known", args=[self.vehicle.pk]),
            json.dumps({"marks": marks}),
            content_type="application/json",
        )
        self.assertEqual(known.json()["known"], marks[:1])

    def test_heic_is_read_a_clock_that_was_not_set_is_told_and_sixty_megapixels_are_taken(self):
        self.send(
            shot("a.heic", evening(2), kind="HEIF"),
            shot("b.jpg", "1980:01:01 00:00:00"),
            shot("c.jpg", evening(900), colour="red"),
        )
        self.assertEqual(Photo.objects.filter(sorted_by="day").count(), 1)
        page = self.client.get(self.page)
        self.assertContains(page, "was not set: it says 1 Jan 1980")
        self.assertContains(page, "is still to come")
        self.assertEqual(
            list(Photo.objects.filter(sorted_by="").values_list("taken_on", flat=True)), [None, None]
        )
        large = shot(size=(9504, 6336)).read()
        self.assertEqual(max(cleaned_picture(large)[1:]), 2400)
        for told in ("2026:13:40 99:00:00", "  ", "\0\0"):
            self.assertIsNone(camera_of(shot("d.jpg", told).read()).at)


class Said(PhotoCase):
    def setUp(self):
        super().setUp()
        self.send(shot(at=evening(2)))
        self.photo = Photo.objects.get()
        self.one = f"{self.page}?photo={self.photo.pk}"

    def say(self, **values):
        was = self.client.get(self.one).context["form"].initial["was"]
        return self.client.post(self.one, {"what": "say", "was": was, "repair": "1"} | values)

    def test_what_it_shows_is_kept_found_and_taken_back(self):
        answer = self.say(
            caption="Behind the membrane",
            at="700.0 300.0",
            stage="cut",
            seen_from="left",
            subject="panel",
            subject_of="L-SILL",
            taken_on=DAY.isoformat(),
        )
        self.assertRedirects(answer, self.one)
        self.photo.refresh_from_db()
        self.assertEqual(
            (self.photo.at, self.photo.view.name, self.photo.stage, self.photo.sorted_by),
            ([700.0, 300.0], "left", "cut", "hand"),
        )
        self.assertContains(
            self.client.get(reverse("record:find", args=[self.vehicle.pk]), {"q": "membrane"}),
            f"?photo={self.photo.pk}",
        )
        self.assertContains(self.client.get(self.page, {"stage": "cut"}), f"photo={self.photo.pk}")
        self.assertNotContains(self.client.get(self.page, {"stage": "welded"}), f"photo={self.photo.pk}")
        other = self.client.get(f"{self.one}&view=right").context["form"].initial
        self.assertEqual(other["at"], [], "its place is in another drawing")
        values = {
            "what": "say",
            "was": other["was"],
            "repair": "1",
            "caption": "Behind the membrane",
            "stage": "cut",
        }
        values["taken_on"] = DAY.isoformat()
        self.client.post(f"{self.one}&view=right", values)
        self.photo.refresh_from_db()
        self.assertEqual((self.photo.at, self.photo.view.name), ([700.0, 300.0], "left"), "and stays there")
        line = lambda at: self.client.get(
            reverse("record:line", args=[self.vehicle.pk]), {"view": "left", "at": at}
        )
        self.assertContains(line("700 300"), "Behind the membrane")
        self.assertContains(line("700 300"), "Only what happened at the ringed place")
        self.assertNotContains(line("3300 900"), "Behind the membrane")
        self.assertNotContains(line("nowhere"), "Only what happened")
        self.client.post(self.one, {"what": "drop"})
        self.assertFalse(Photo.objects.exists())
        self.assertTrue(photo_path(self.photo.file).is_file(), "so that it can be taken back")
        self.assertEqual(self.client.get(self.one).status_code, 404)

    def test_what_does_not_go_together_is_refused_beside_its_field_and_a_second_writer_is_told(self):
        self.assertContains(self.say(subject="panel"), "Say which.", status_code=422)
        self.assertContains(self.say(repair="", stage="cut"), "A stage is of a repair.", status_code=422)
        self.assertContains(self.say(at="nowhere"), "not on the drawing", status_code=422)
        was = self.client.get(self.one).context["form"].initial["was"]
        self.say(caption="Theirs")
        late = self.client.post(self.one, {"what": "say", "was": was, "caption": "Mine", "repair": "1"})
        self.assertContains(late, "Somebody changed what is said of this photo", status_code=409)
        self.assertContains(late, "Theirs", status_code=409)
        self.assertContains(late, "Mine", status_code=409)


class Pairs(PhotoCase):
    def setUp(self):
        super().setUp()
        self.send(shot("a.jpg", evening(2)), shot("b.jpg", evening(2, 30), colour="red"))
        self.before, self.after = Photo.objects.order_by("taken_at")
        self.there = f"{reverse('record:pairs', args=[self.vehicle.pk])}?repair=1&before={self.before.pk}&after={self.after.pk}"

    def test_two_photos_are_laid_over_one_another_kept_and_travel_with_the_bundle(self):
        sent = {
            "before": self.before.pk,
            "after": self.after.pk,
            "points": [[10, 10, 20, 12], [100, 80, 110, 82]],
        }
        lay = lambda values: self.client.post(
            reverse("record:lay", args=[self.vehicle.pk]), json.dumps(values), content_type="application/json"
        )
        told = lay(sent).json()
        self.assertAlmostEqual(told["matrix"][0][2], -10, delta=0.01)
        for bad, words in (
            ({"points": [[1, 1, 1, 1], [2, 2, 2, 2]]}, "lie on one another"),
            ({"points": "x"}, "cannot be read"),
            ({"after": self.before.pk}, "same photo"),
        ):
            self.assertIn(words, lay(sent | bad).json()["error"]["what"])
        self.assertContains(
            self.client.post(self.there, {"what": "keep", "points": "1,2,3"}),
            "cannot be read",
            status_code=422,
        )
        self.client.post(self.there, {"what": "keep", "points": "10,10,20,12,100,80,110,82"})
        self.assertEqual(PhotoPair.objects.get().points, [[10, 10, 20, 12], [100, 80, 110, 82]])
        self.assertContains(
            self.client.get(reverse("record:pairs", args=[self.vehicle.pk])), "Laid over by 2 points."
        )
        data = export_vehicle(self.vehicle)
        self.assertEqual(len(read_bundle(io.BytesIO(data))[0].photo_pairs), 1)
        copy = import_vehicle(data, self.vehicle.owner)
        pair = copy.photo_pairs.get()
        self.assertEqual(
            (pair.before.vehicle, pair.before.taken_at, pair.after.came_as),
            (copy, self.before.taken_at, self.after.came_as),
        )

    def test_nothing_to_lay_over_is_said(self):
        Photo.objects.all().delete()
        self.assertContains(
            self.client.get(reverse("record:pairs", args=[self.vehicle.pk])), "No repair has two photos yet."
        )
