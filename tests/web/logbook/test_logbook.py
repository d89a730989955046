import io
import tempfile
from decimal import Decimal
from pathlib import Path
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import TestCase, override_settings
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from PIL import Image
from pypdf import PdfReader

from tests.builders import DAY, finding, owner, picture, repair, vehicle, worked_out
from yellow_sill.web.cut.services import move_cut
from yellow_sill.web.frame import pictures
from yellow_sill.web.logbook.services import add_note, add_work
from yellow_sill.web.parts.services import add_cost

DISCS = {
    "bought_on": DAY, "supplier": "=Fallow", "item": "Discs", "kind": "consumable", "quantity": Decimal(2), "unit_price": Decimal("9.45"), "tax_rate": Decimal(20), "tax_included": True,
}  # fmt: skip

#: Files that earlier versions wrote.
DATA = Path(__file__).resolve().parent.parent.parent / "data"


class LogCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.repair = repair(cls.vehicle, [finding(cls.vehicle)])

    def setUp(self):
        self.client.force_login(self.owner)
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        change = override_settings(MEDIA_ROOT=folder.name)
        change.enable()
        self.addCleanup(change.disable)

    def url(self, name="log", *more):
        return reverse(f"logbook:{name}", args=[self.vehicle.pk, self.repair.number, *more])

    def write(self, what, follow=False, **values):
        return self.client.post(
            self.url(),
            {"what": what} | {f"{what}-{name}": value for name, value in values.items()},
            follow=follow,
        )


class LongLog(LogCase):
    def test_a_long_log_comes_page_by_page_and_its_sums_count_all(self):
        for i in range(45):
            add_work(
                self.vehicle, self.repair, worked_on=DAY, kind="weld", typed="1h", note=f"seam {i}", by="Wren"
            )
            add_note(self.repair, written_on=DAY, text=f"note {i}", by="Wren")
        first, second = self.client.get(self.url()), self.client.get(self.url(), {"work": 2})
        self.assertContains(first, "45 h")
        self.assertContains(first, '?work=2#work">Older')
        self.assertContains(first, '?notes=2#note">Older')
        self.assertContains(first, "seam 44")
        self.assertNotContains(first, "seam 4<")
        self.assertContains(second, "seam 4<")
        self.assertContains(second, "note 44", msg_prefix="the other lists stay where they were")


class Writing(LogCase):
    COST = {
        "bought_on": "2026-02-14",
        "supplier": "Fallow",
        "item": "Discs",
        "kind": "consumable",
        "quantity": "2",
        "unit_price": "9,45",
        "tax_rate": "20",
        "tax_included": "no",
    }

    def test_hours_costs_notes_and_photos(self):
        self.write("work", worked_on="2026-02-14", kind="cut", typed="1:45", note="filler off")
        self.write("cost", **self.COST)
        self.write("note", written_on="2026-02-14", text="Wrong hand first.")
        self.write("photo", photo=picture(exif=True), caption="as found", taken_on="2026-02-14")
        page = self.client.get(self.url())
        for words in (
            "1 h 45",
            "£\u00a018.90",
            "£\u00a03.78",
            "£\u00a022.68",
            "Wrong hand first.",
            "as found",
        ):
            self.assertContains(page, words)
        photo = self.repair.photos.get()
        served = self.client.get(reverse("logbook:photo", args=[self.vehicle.pk, photo.pk]))
        self.assertEqual(served["Content-Type"], "image/jpeg")
        image = Image.open(io.BytesIO(b"".join(served.streaming_content)))
        self.assertEqual(len(image.getexif()), 0, "the camera's metadata is gone")
        with self.captureOnCommitCallbacks(execute=True):
            self.client.post(self.url("delete_photo", photo.pk))
        self.assertTrue(pictures.photo_path(photo.file).exists(), "it can be taken back for a month")

    REFUSED = {
        "hours": (
            "work",
            {"worked_on": "2026-02-14", "kind": "cut", "typed": "all day", "note": "kept words"},
            "is not a time",
            "kept words",
        ),
        "price in words": ("cost", COST | {"unit_price": "dear"}, "is no amount", 'value="Fallow"'),
        "infinite price": ("cost", COST | {"unit_price": "Infinity"}, "is no amount", 'value="Fallow"'),
        "negative quantity": ("cost", COST | {"quantity": "-1"}, "greater than or equal", 'value="Fallow"'),
        "no note": ("note", {"written_on": "2026-02-14", "text": ""}, "required", "note-text"),
        "future": ("note", {"written_on": "2126-02-14", "text": "kept words"}, "not come yet", "kept words"),
        "no photo": (
            "photo",
            {"caption": "kept words", "taken_on": "2026-02-14"},
            "Choose a photo",
            "kept words",
        ),
        "not a photo": (
            "photo",
            {
                "photo": SimpleUploadedFile("x.jpg", b"<script>"),
                "caption": "kept words",
                "taken_on": "2026-02-14",
            },
            "not a photo",
            "kept words",
        ),
        "wrong kind": (
            "photo",
            {"photo": picture("x.gif", kind="GIF"), "caption": "kept words", "taken_on": "2026-02-14"},
            "JPEG, PNG, WebP or HEIC",
            "kept words",
        ),
        "skipping": (
            "step",
            {"state": "welded", "made_on": "2026-03-01", "version": "1"},
            "skips",
            "Next: cut",
        ),
    }

    def test_bad_input_is_answered_beside_the_field_and_nothing_is_lost(self):
        for name, (what, values, words, kept) in self.REFUSED.items():
            with self.subTest(name):
                answer = self.write(what, **values)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, kept, status_code=422)
        self.assertEqual(
            (self.repair.work_entries.count(), self.repair.cost_lines.count(), self.repair.photos.count()),
            (0, 0, 0),
        )

    def test_uploads_too_large_or_damaged(self):
        large = SimpleUploadedFile("x.jpg", b"x" * 61 * 1024 * 1024)
        self.assertContains(
            self.write("photo", photo=large, taken_on="2026-02-14"),
            "61 MB; a photo may have 60 MB",
            status_code=422,
        )
        torn = picture(size=(400, 400))
        torn = SimpleUploadedFile("x.jpg", torn.read()[:900])
        self.assertContains(
            self.write("photo", photo=torn, taken_on="2026-02-14"), "damaged", status_code=422
        )
        with mock.patch.object(pictures, "MOST_JPEG_PIXELS", 100):
            self.assertContains(
                self.write("photo", photo=picture(), taken_on="2026-02-14"), "million pixels", status_code=422
            )

    def test_the_ribbon_goes_forward_and_back(self):
        answer = self.write("step", state="cut", made_on="2026-03-01", version="1")
        self.assertContains(answer, "What is fixed behind L-SILL?", status_code=422)
        url = reverse("survey:panel", args=[self.vehicle.pk, self.repair.cuts.get().panel_id])
        looked = {"answer": "Nothing there", "method": "lamp", "answered_on": "2026-02-20", "where": "marked"}
        self.client.post(url, looked | {"answer": ""})
        self.assertContains(self.client.get(self.url()), "not answered yet")
        self.client.post(url, looked)
        self.assertContains(self.client.get(self.url()), "round what was marked")
        shut = self.write("step", state="cut", made_on="2026-03-01", version="1")
        self.assertContains(
            shut,
            "Not so yet: what is lost is listed; transfer marks taken; datum check taken; hot work ready",
            status_code=422,
        )
        self.assertContains(shut, "No measuring round yet", status_code=422)
        self.write("lost")
        self.assertContains(self.client.get(self.url()), "Nothing goes with these pieces: ")
        one = self.write(
            "step",
            state="cut",
            made_on="2026-03-01",
            version="1",
            **{"despite-datum": "A trial cut on the scrap corner"},
        )
        self.assertContains(one, "beside each line: hot work ready", status_code=422)
        self.assertContains(one, 'value="A trial cut on the scrap corner"', status_code=422)
        self.write(
            "step",
            state="cut",
            made_on="2026-03-01",
            version="1",
            **{"despite-datum": "A trial cut", "despite-hot-work": "Hand saw, no sparks"},
        )
        self.assertEqual(
            self.repair.steps.last().despite,
            "datum check taken: A trial cut; hot work ready: Hand saw, no sparks",
        )
        self.repair.refresh_from_db()
        self.assertEqual(self.repair.state, "cut")
        self.assertContains(
            self.write("step", state="opened", made_on="2026-03-02", version="2"),
            "needs a reason",
            status_code=422,
        )
        self.write("step", state="opened", made_on="2026-03-02", note="membrane worse", version="2")
        page = self.client.get(self.url())
        self.assertContains(page, "membrane worse")
        cut = self.repair.cuts.get()
        move_cut(cut, [(u + 120, v) for u, v in cut.corners], version=None, by="Wren")
        self.assertContains(self.client.get(self.url()), "the cut reaches beyond what was looked at")
        self.assertContains(
            self.client.get(self.url()), "nobody has said that nothing is lost"
        )  # it was said of the cut as it was
        self.assertContains(
            self.write("step", state="cut", made_on="2026-03-03", version="1"),
            "saved this while",
            status_code=409,
        )

    def test_a_cost_can_be_changed_by_one_person_at_a_time(self):
        line = add_cost(self.vehicle, self.repair, DISCS, by="Wren")
        url = reverse("parts:cost", args=[self.vehicle.pk, self.repair.number, line.pk])
        self.assertContains(self.client.get(url), 'value="9.45"')
        self.client.post(url, self.COST | {"version": "1", "quantity": "3"})
        line.refresh_from_db()
        self.assertEqual(line.gross_minor, 3402)
        self.assertContains(
            self.client.post(url, self.COST | {"version": "1", "quantity": "5"}),
            "saved this while",
            status_code=409,
        )
        self.client.post(url, {"delete": "yes"})
        self.assertEqual(self.repair.cost_lines.count(), 0)

    def test_hours_and_notes_are_corrected_and_taken_out_and_hours_go_to_the_whole_vehicle(self):
        self.write("work", worked_on="2026-02-14", kind="weld", typed="15", note="floor")
        self.write("note", written_on="2026-02-14", text="Wrong hand")
        entry, note = self.repair.work_entries.get(), self.repair.notes.get()
        work, noted = (
            reverse("logbook:work", args=[self.vehicle.pk, entry.pk]),
            reverse("logbook:note", args=[self.vehicle.pk, note.pk]),
        )
        page = self.client.get(work)
        self.assertContains(page, 'value="15"')
        typed = {
            "worked_on": "2026-02-14",
            "kind": "weld",
            "typed": "1:30",
            "note": "floor",
            "was": page.context["was"],
        }
        self.assertContains(
            self.client.post(work, typed | {"typed": "long"}), "is not a time", status_code=422
        )
        self.client.post(work, typed)
        entry.refresh_from_db()
        self.assertEqual((entry.minutes, entry.note), (90, "floor"))
        self.assertContains(
            self.client.post(work, typed | {"typed": "4"}), "saved this while", status_code=409
        )
        self.client.post(
            noted,
            {"written_on": "2026-02-14", "text": "Right hand", "was": self.client.get(noted).context["was"]},
        )
        self.assertContains(self.client.get(self.url()), "Right hand")
        for url in (work, noted):
            self.client.post(url, {"delete": "yes"})
        self.assertEqual((self.repair.work_entries.count(), self.repair.notes.count()), (0, 0))
        whole = reverse("logbook:hours", args=[self.vehicle.pk])
        refused = self.client.post(
            whole, {"worked_on": "2026-02-14", "kind": "survey", "typed": "x", "note": "left side"}
        )
        self.assertContains(refused, "left side", status_code=422)
        self.client.post(
            whole, {"worked_on": "2026-02-14", "kind": "survey", "typed": "3", "note": "left side"}
        )
        self.assertEqual(
            (self.vehicle.work_entries.get().minutes, self.vehicle.work_entries.get().repair), (180, None)
        )
        self.client.force_login(owner("Tam Oakes"))
        self.assertEqual(
            self.client.get(
                reverse("logbook:work", args=[self.vehicle.pk, self.vehicle.work_entries.get().pk])
            ).status_code,
            404,
        )

    def test_the_record_on_screen_and_paper_also_without_its_photo(self):
        add_cost(self.vehicle, self.repair, DISCS, by="Wren")
        self.write("photo", photo=picture(), caption="as found", taken_on="2026-02-14")
        worked_out(self.repair.cuts.get())
        pictures.photo_path(self.repair.photos.get().file).unlink()
        page = self.client.get(self.url("record"))
        for words in (
            "Sill end, front",
            "Cut line with the rust",
            "Flat pattern",
            "Tacks of the first two passes",
            "£\u00a018.90",
            "missing",
            "Not signed off",
        ):
            self.assertContains(page, words)
        text = "".join(
            part.extract_text()
            for part in PdfReader(io.BytesIO(self.client.get(self.url("record_pdf")).content)).pages
        )
        for words in ("R-01", "went through", "18.90", "missing", "scale 1:"):
            self.assertIn(words, text)
        self.assertContains(self.client.get(self.url()), "Restore the latest backup")
        answer = self.client.get(reverse("logbook:export", args=[self.vehicle.pk]), follow=True)
        self.assertContains(answer, "missing on this machine")


class Pages(LogCase):
    def pages(self):
        for name in ("today:today", "survey:survey", "repairs:repairs", "repairs:new", "logbook:logbook"):
            yield reverse(name, args=[self.vehicle.pk])
        for view in ("left", "right", "underside"):
            yield reverse("survey:board", args=[self.vehicle.pk, view])
        yield reverse("survey:board", args=[self.vehicle.pk, "left"]) + "?layer=inner"
        yield from (
            self.url(),
            self.url("record"),
            reverse("shells:vehicles"),
            reverse("shells:new"),
            reverse("logbook:import"),
        )

    def test_every_page_opens_with_a_strict_policy_and_no_style_of_its_own(self):
        for url in self.pages():
            with self.subTest(url):
                answer = self.client.get(url, follow=True)
                self.assertEqual(answer.status_code, 200)
                self.assertIn("default-src 'none'", answer["Content-Security-Policy"])
                self.assertNotContains(answer, " style=")
                self.assertNotContains(answer, " onclick=")

    def test_ten_times_as_much_asks_no_more_of_the_database(self):
        def counts():
            asked = {}
            for url in self.pages():
                self.client.get(url)
                with CaptureQueriesContext(connection) as queries:
                    self.client.get(url)
                asked[url] = len(queries)
            return asked

        add_cost(self.vehicle, None, DISCS, by="Wren")
        finding(self.vehicle)
        before = counts()
        for i in range(8):
            found = finding(self.vehicle, note="x")
            if i < 4:
                repair(self.vehicle, [found])
            add_cost(self.vehicle, None, DISCS, by="Wren")
        after = counts()
        self.assertEqual({url: n for url, n in after.items() if n > before[url] + 3}, {})

    def test_today_says_what_is_next(self):
        finding(self.vehicle, title="Loose one")
        page = self.client.get(reverse("today:today", args=[self.vehicle.pk]))
        for words in ("Cut it out", "R-01", "Loose one", "Money so far"):
            self.assertContains(page, words)
        self.assertEqual(self.client.get("/").url, reverse("today:today", args=[self.vehicle.pk]))
