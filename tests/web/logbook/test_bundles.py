"""Bundles out and in."""

import io
import json
import zipfile
from pathlib import Path

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from tests.builders import owner, picture, worked_out
from tests.web.logbook.test_logbook import DISCS, LogCase
from yellow_sill.core.cut.lost import LOST_KINDS
from yellow_sill.core.formats.bundle_base import BadBundle
from yellow_sill.web.frame import pictures
from yellow_sill.web.logbook.bundle import bundle_of, export_vehicle, import_vehicle
from yellow_sill.web.logbook.models import Photo
from yellow_sill.web.parts.services import add_cost
from yellow_sill.web.shells.models import Vehicle

#: Files that earlier versions wrote.
DATA = Path(__file__).resolve().parent.parent.parent / "data"


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
        self.vehicle.owner.delete()
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

    def test_bundles_of_the_first_builds_are_taken_in_with_their_findings_and_repairs(self):
        for name, photos in (("first-build", 0), ("before-datums", 1)):
            stored = import_vehicle((DATA / f"bundle-{name}.zip").read_bytes(), self.owner)
            found = stored.findings.get(number=1)
            look = found.inspections.get() if photos == 0 else found.inspections.first()
            self.assertEqual((look.outline, found.evidence.count() > 0), (found.outline, True))
            self.assertTrue(stored.repairs.filter(state="signed off").exists())
            self.assertEqual(stored.survey_photos.count() > 0, photos > 0)
            again = import_vehicle(export_vehicle(stored), self.owner)
            self.assertEqual(bundle_of(again).findings, bundle_of(stored).findings)

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
        notes = at | {"far_side": None, "items": [], "surroundings": []}
        reading = {
            "column": 0,
            "row": 0,
            "thickness_mm": 0.8,
            "by_gauge": False,
            "read_on": "2026-02-14",
            "by": "Wren",
        }
        mark = {
            "number": 1, "name": "Clip", "kind": next(iter(LOST_KINDS)), "first_name": "A", "second_name": "B", "first_at": [0, 0], "second_at": [9, 0],
            "apart_mm": 9, "way": "distances", "first_mm": 5, "second_mm": 6, "near": [4, 4], "at": [4, 4], "error_mm": 1, "remarks": [],
            "measured_on": "2026-02-14", "by": "Wren",
        }  # fmt: skip
        for words, changes in {
            "Two things round": {"panel_notes": [notes | {"surroundings": [thing, thing]}]},
            "Two repairs bear": {"repairs": [first, first]},
            "not in the bundle": {"repairs": [first | {"findings": [77]}]},
            "A cut of R-01": {"repairs": [first | {"cuts": [first["cuts"][0] | {"panel": "MAST"}]}]},
            "A plan of R-01": {"repairs": [first | {"own_plans": [plan | {"panel": "MAST"}]}]},
            "the same thing twice": {"repairs": [first | {"own_plans": [plan, plan]}]},
            "findings: Two findings": {"findings": whole["findings"] * 2},
            "lie in one cell": {"findings": [whole["findings"][0] | {"readings": [reading, reading]}]},
            "One panel has notes twice": {"panel_notes": [notes, notes]},
            "photos.1..file: Two photos": {"repairs": [first | {"photos": first["photos"] * 2}]},
            "Two cuts of R-01": {"repairs": [first | {"cuts": first["cuts"] * 2}]},
            "Two transfer marks": {
                "repairs": [first | {"cuts": [first["cuts"][0] | {"transfer_marks": [mark, mark]}]}]
            },
            "Two views": {
                "vehicle": whole["vehicle"]
                | {"views": [*whole["vehicle"]["views"], whole["vehicle"]["views"][0]]}
            },
            "Two datum points": {"datums": whole["datums"] | {"points": whole["datums"]["points"] * 2}},
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
