import io
import json
import tempfile
import zipfile
from datetime import date
from decimal import Decimal
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import TestCase, TransactionTestCase, override_settings
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from PIL import Image
from pypdf import PdfReader

from tests.builders import DAY, finding, owner, picture, repair, vehicle, worked_out
from yellow_sill.backup import BadBackup, make_backup, restore_backup
from yellow_sill.core.formats.bundle_base import BadBundle
from yellow_sill.web.cut.services import move_cut
from yellow_sill.web.frame import pictures
from yellow_sill.web.logbook.bundle import bundle_of, export_vehicle, import_vehicle
from yellow_sill.web.logbook.models import Photo
from yellow_sill.web.logbook.services import add_note, add_photo, add_work
from yellow_sill.web.parts.services import add_cost
from yellow_sill.web.shells.models import Vehicle

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
        "price in words": ("cost", COST | {"unit_price": "dear"}, "Type a number", 'value="Fallow"'),
        "infinite price": ("cost", COST | {"unit_price": "Infinity"}, "Type a number", 'value="Fallow"'),
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
            "JPEG, PNG or WebP",
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
        large = SimpleUploadedFile("x.jpg", b"x" * 60 * 1024 * 1024)
        self.assertContains(
            self.write("photo", photo=large, taken_on="2026-02-14"),
            "60 MB; a photo may have 25 MB",
            status_code=422,
        )
        torn = picture(size=(400, 400))
        torn = SimpleUploadedFile("x.jpg", torn.read()[:900])
        self.assertContains(
            self.write("photo", photo=torn, taken_on="2026-02-14"), "damaged", status_code=422
        )
        with mock.patch.object(pictures, "MOST_PIXELS", 100):
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


class Bundles(LogCase):
    def full(self):
        self.write("photo", photo=picture(), caption="as found", taken_on="2026-02-14")
        self.write("note", written_on="2026-02-14", text="=SUM(A1)")
        self.write("work", worked_on="2026-02-14", kind="cut", typed="1,5", note="")
        add_cost(self.vehicle, self.repair, DISCS, by="Wren")
        add_cost(self.vehicle, None, DISCS | {"item": "Stands"}, by="Wren")
        worked_out(self.repair.cuts.get())

    def test_out_and_into_an_empty_installation_nothing_is_lost(self):
        self.full()
        data = export_vehicle(self.vehicle)
        before = bundle_of(self.vehicle)
        photo = self.repair.photos.get()
        pixels = pictures.photo_path(photo.file).read_bytes()
        self.vehicle.repairs.all().delete()
        self.vehicle.findings.all().delete()
        self.vehicle.delete()
        pictures.photo_path(photo.file).unlink()
        stranger = owner("Robin")
        self.client.force_login(stranger)
        answer = self.client.post(
            reverse("logbook:import"), {"bundle": SimpleUploadedFile("x.zip", data)}, follow=True
        )
        self.assertContains(answer, "with all its findings and repairs")
        again = stranger.vehicles.get()
        self.assertEqual(bundle_of(again), before)
        self.assertEqual(export_vehicle(again), data)
        self.assertEqual(pictures.photo_path(Photo.objects.get().file).read_bytes(), pixels)

    def test_a_bundle_of_an_older_version_is_taken_in_whole(self):
        """A file that the program of an earlier month wrote: what it held is there, word for word."""
        stored = import_vehicle((DATA / "bundle-1.zip").read_bytes(), self.owner)
        mended = stored.repairs.get()
        self.assertEqual(stored.findings.get().note, "4 wing nuts and a rubber boot")
        self.assertEqual(
            (mended.work_entries.get().typed, mended.notes.get().text, mended.cost_lines.get().item),
            ("1 h 30", "It went well.", "Discs"),
        )
        cut = mended.cuts.get()
        self.assertTrue(cut.patch.thickness_mm and cut.weld.tack_plans and mended.photos.exists())
        self.assertFalse(any(panel.named_by_hand for panel in stored.views.first().panels.all()))

    def test_beside_the_first_it_is_a_second_vehicle(self):
        self.full()
        import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual((Vehicle.objects.count(), Photo.objects.count()), (2, 2))

    def test_tables_for_a_spreadsheet(self):
        self.full()
        costs = self.client.get(reverse("logbook:table", args=[self.vehicle.pk, "costs"])).content.decode(
            "utf-8-sig"
        )
        self.assertIn("'=Fallow", costs)
        self.assertIn(
            "R-01",
            self.client.get(reverse("logbook:table", args=[self.vehicle.pk, "findings"])).content.decode(),
        )
        self.assertEqual(
            self.client.get(reverse("logbook:table", args=[self.vehicle.pk, "wings"])).status_code, 404
        )
        self.assertEqual(self.client.get(reverse("logbook:schema")).json()["title"], "Bundle")

    def test_a_bad_bundle_brings_in_nothing(self):
        self.full()
        whole = export_vehicle(self.vehicle)
        with zipfile.ZipFile(io.BytesIO(whole)) as archive:
            parts = {name: archive.read(name) for name in archive.namelist()}
        photo = next(name for name in parts if name.startswith("photos/"))
        for name, changes, words in (
            ("photo missing", {photo: None}, "is missing"),
            ("photo is a page", {photo: b"<html>"}, "not a photo"),
            ("wrong kind", {"vehicle.json": b"[]"}, "object"),
        ):
            with self.subTest(name):
                stream = io.BytesIO()
                with zipfile.ZipFile(stream, "w") as archive:
                    for part, content in (parts | changes).items():
                        if content is not None:
                            archive.writestr(part, content)
                answer = self.client.post(
                    reverse("logbook:import"), {"bundle": SimpleUploadedFile("x.zip", stream.getvalue())}
                )
                self.assertContains(answer, words, status_code=422)
        self.assertContains(
            self.client.post(reverse("logbook:import"), {}), "Choose the .zip", status_code=422
        )
        self.assertEqual(Vehicle.objects.count(), 1)
        self.assertEqual(len(list(Path(settings.MEDIA_ROOT).iterdir())), 1)

    def test_a_bundle_that_contradicts_itself_is_refused(self):
        self.full()
        whole = bundle_of(self.vehicle).model_dump(mode="json")
        first = whole["repairs"][0]
        at = {name: first["cuts"][0][name] for name in ("view", "panel")}
        plan = at | {"name": "own", "outlines": [first["cuts"][0]["outline"]]}
        thing = {
            "kind": "seam",
            "name": "seam",
            "points": [[700, 300], [800, 300]],
            "marked": False,
            "pitch_mm": 40,
            "survives": "",
        }
        thing |= dict.fromkeys(("drill_here", "drill_behind", "both_sides"), True)
        for words, changes in {
            "Two things round": {
                "panel_notes": [at | {"far_side": None, "items": [], "surroundings": [thing, thing]}]
            },
            "Two repairs bear": {"repairs": [first, first]},
            "not in the bundle": {"repairs": [first | {"findings": [77]}]},
            "A cut of R-01": {"repairs": [first | {"cuts": [first["cuts"][0] | {"panel": "MAST"}]}]},
            "A plan of R-01": {"repairs": [first | {"own_plans": [plan | {"panel": "MAST"}]}]},
            "the same thing twice": {"repairs": [first | {"own_plans": [plan, plan]}]},
            "No currency": {"vehicle": whole["vehicle"] | {"currency": "XXZ"}},
        }.items():
            stream = io.BytesIO()
            with zipfile.ZipFile(stream, "w") as archive:
                archive.writestr("vehicle.json", json.dumps(whole | {"survey_photos": []} | changes))
                for photo in Path(settings.MEDIA_ROOT).iterdir():
                    archive.write(photo, f"photos/{photo.name}")
            with self.subTest(words), self.assertRaisesRegex(BadBundle, words):
                import_vehicle(stream.getvalue(), self.owner)
        self.assertEqual(Vehicle.objects.count(), 1)


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


class Backups(TransactionTestCase):
    def test_backup_and_restore(self):
        mine = vehicle(owner())
        with (
            tempfile.TemporaryDirectory() as folder,
            override_settings(DATA=Path(folder) / "data", MEDIA_ROOT=Path(folder) / "data/photos"),
        ):
            database = Path(folder) / "data/live.sqlite3"
            database.parent.mkdir()
            live = {"default": {**settings.DATABASES["default"], "NAME": connection.settings_dict["NAME"]}}
            with mock.patch.object(settings, "DATABASES", live):
                add_photo(
                    repair(mine, [finding(mine)]),
                    picture(),
                    caption="",
                    taken_on=date(2026, 2, 14),
                    by="Wren",
                )
                file = make_backup(Path(folder) / "kept.zip")
            fresh = {"default": {**settings.DATABASES["default"], "NAME": database}}
            with (
                mock.patch.object(settings, "DATABASES", fresh),
                override_settings(MEDIA_ROOT=Path(folder) / "data/fresh"),
            ):
                restore_backup(file)
                self.assertIn(b"Dunlin", database.read_bytes())
                self.assertEqual(len(list((Path(folder) / "data/fresh").glob("*.jpg"))), 1)
                kept = restore_backup(file)
                self.assertTrue((kept / "live.sqlite3").exists(), "what was there before is kept")
                with self.assertRaises(BadBackup):
                    restore_backup(Path(__file__))
                whole = file.read_bytes()
                for name, content in {
                    "cut short": whole[: len(whole) // 2],
                    "scrambled": whole[:300] + bytes(200) + whole[500:],
                    "another zip": self.zip_of("x"),
                }.items():
                    other = Path(folder) / "other.zip"
                    other.write_bytes(content)
                    with self.subTest(name), self.assertRaises(BadBackup):
                        restore_backup(other)
                    self.assertIn(b"Dunlin", database.read_bytes(), "what is here now stays")

    def zip_of(self, name):
        stream = io.BytesIO()
        with zipfile.ZipFile(stream, "w") as archive:
            archive.writestr(name, "{}")
        return stream.getvalue()
