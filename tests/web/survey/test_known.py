"""Coverage, far side, thickness, photos, list, tables, corrections of the shell."""

from datetime import date
from threading import Thread

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from django.urls import reverse

from tests.builders import SILL_HOLE, finding, panel, picture
from tests.web.survey.test_survey import SurveyCase
from yellow_sill.devices.simulated import serve
from yellow_sill.web.frame import pictures
from yellow_sill.web.survey.coverage_services import cover_of
from yellow_sill.web.survey.models import FarSide, Finding, LookedRegion, SurveyPhoto

JSON = {"content_type": "application/json", "headers": {"Accept": "application/json"}}


class KnownCase(SurveyCase):
    def url(self, name, *args):
        return reverse(f"survey:{name}", args=[self.vehicle.pk, *args])

    def send(self, name, *args, **values):
        return self.client.post(self.url(name, *args), values, **JSON)


class Coverage(KnownCase):
    def test_a_region_counts_at_once_and_can_be_taken_back(self):
        before = cover_of(self.vehicle)
        self.assertEqual(before.whole, 0)
        self.assertIn("SILL", before.next_places[0][0].code)
        answer = self.send("looked", "left", corners=[[600, 200], [2000, 400]], method="probe").json()
        self.assertGreater(answer["shares"]["outer"], 0.02)
        self.assertTrue(answer["unknown"].startswith("M"))
        self.assertContains(self.client.get(self.url("board", "left")), "Look here next")
        self.client.post(self.url("looked_back"))
        self.assertEqual((LookedRegion.objects.count(), cover_of(self.vehicle).whole), (0, 0))
        self.assertContains(self.client.post(self.url("looked_back"), follow=True), "Nothing is marked")

    def test_a_whole_panel_without_a_pointer_and_a_finding_count_too(self):
        sill = panel(self.vehicle)
        self.client.post(
            self.url("looked_panel", sill.pk), {"method": "lamp", "next": self.url("panel", sill.pk)}
        )
        sill = panel(self.vehicle)
        self.assertAlmostEqual(sill.cover.looked_mm2, sill.cover.area_mm2, delta=1)
        self.assertNotIn("L-SILL", [place.code for place, _ in cover_of(self.vehicle, 99).next_places])
        finding(self.vehicle, "R-SILL", "right", corners=[(-u, v) for u, v in SILL_HOLE])
        self.assertGreater(panel(self.vehicle, "R-SILL", "right").cover.looked_mm2, 5000)

    def test_what_cannot_be_marked_is_refused(self):
        for values, words in (
            ({"corners": [[0, 5000], [9, 5009]], "method": "probe"}, "no metal"),
            ({"corners": [[600, 200], [2000, 400]], "method": "guess"}, "valid choice"),
            ({"corners": [[1, 1]], "method": "probe"}, "three corners"),
            ({"corners": "x", "method": "probe"}, "pair of numbers"),
        ):
            answer = self.send("looked", "left", **values)
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.json()["error"]["what"])
        self.assertEqual(LookedRegion.objects.count(), 0)

    def test_each_layer_and_view_has_its_own_unknown(self):
        self.send("looked", "left", corners=[[-900, 0], [4000, 2000]], method="seen")
        boards = {
            name: self.client.get(self.url("board", "left") + f"?layer={name}")
            for name in ("outer", "middle")
        }
        self.assertEqual(boards["outer"].context["unknown"], "")
        self.assertTrue(boards["middle"].context["unknown"])
        self.assertTrue(self.client.get(self.url("board", "front")).context["unknown"])
        shares = dict(cover_of(self.vehicle).layers)
        self.assertGreater(shares["outer"], 0.25)
        self.assertEqual(shares["middle"], 0)


class FarSideAndFittings(KnownCase):
    def test_the_question_is_answered_and_two_people_see_both(self):
        sill = panel(self.vehicle)
        url, answer = (
            self.url("panel", sill.pk),
            {"answer": "Nothing there", "method": "lamp", "answered_on": "2026-02-14", "where": "whole"},
        )
        self.assertContains(
            self.client.post(url, answer | {"where": ""}), "Say where you looked", status_code=422
        )
        self.assertContains(
            self.client.post(url, answer | {"where": "marked"}),
            "Nothing is marked on this panel yet",
            status_code=422,
        )
        self.assertContains(self.client.post(url, answer | {"answer": " "}), "nothing there", status_code=422)
        self.client.post(url, answer)
        stored = FarSide.objects.get()
        self.assertContains(
            self.client.post(url, answer | {"answer": "A bracket"}), "saved this while", status_code=409
        )
        self.client.post(url, answer | {"answer": "A bracket", "version": stored.version})
        self.assertEqual(FarSide.objects.get().answer, "A bracket")

    def test_what_goes_with_a_panel_is_listed_ticked_and_dropped(self):
        sill = panel(self.vehicle)
        url = self.url("item", sill.pk)
        self.client.post(url, {"kind": "salvage", "text": "Two rubber plugs"})
        self.assertContains(
            self.client.post(url, {"kind": "salvage", "text": ""}, follow=True), "Write what it is"
        )
        item = sill.items.get()
        self.client.post(url, {"tick": item.pk})
        self.assertContains(self.client.get(self.url("panel", sill.pk)), "<s>Two rubber plugs</s>")
        self.client.post(url, {"drop": item.pk})
        self.assertEqual(sill.items.count(), 0)
        self.assertEqual(self.client.post(url, {"drop": "x"}).status_code, 404)

    def test_an_old_repair_and_a_grade_of_ones_own(self):
        self.assertContains(
            self.draw(old_kind="over-plate", old_verdict="keep"), "cannot stay", status_code=422
        )
        self.draw(old_kind="brazed", old_test="passed", old_verdict="keep")
        kept = Finding.objects.get()
        self.assertEqual((kept.grade, kept.old_verdict), ("H", "keep"))
        self.draw(
            corners="1690, 280\n1840, 280\n1840, 330\n1690, 330",
            old_kind="filler",
            probe_result="holds",
            probe_hits="",
            probe_tries="",
        )
        self.assertEqual(Finding.objects.last().grade, "F")
        url = self.url("overrule", 1)
        self.assertContains(
            self.client.post(url, {"overruled_to": "T", "version": "1"}, follow=True), "needs a reason"
        )
        self.client.post(url, {"overruled_to": "T", "overruled_reason": "seen it myself", "version": "1"})
        self.assertContains(
            self.client.get(kept.get_absolute_url()), "overruled: seen it myself. The evidence says holed."
        )
        self.assertContains(
            self.client.post(
                url, {"overruled_to": "S", "overruled_reason": "x", "version": "1"}, follow=True
            ),
            "meanwhile: the grade is Thin now, you wanted Surface; the reason is seen it myself now, you wanted x",
        )
        self.client.post(url, {"overruled_to": "", "version": "2"})
        kept.refresh_from_db()
        self.assertEqual(kept.grade, "H")


class ThicknessGrid(KnownCase):
    def test_readings_speak_in_the_grade_and_can_be_taken_away(self):
        found = finding(
            self.vehicle, evidence=[{"method": "probe", "result": "holds", "made_on": date(2026, 2, 14)}]
        )
        self.assertContains(self.client.get(self.url("grid", 1)), "Thickness grid")
        answer = self.send("reading", 1, column=36, row=14, mm="0,62").json()
        self.assertEqual(
            (answer["summary"]["least"], answer["summary"]["worst"], answer["grade"]), ("0.62", "38", "Thin")
        )
        self.assertContains(self.client.get(found.get_absolute_url()), "38 % lost")
        for values, words in (
            ({"column": 999, "row": 0, "mm": "1"}, "no such cell"),
            ({"column": 36, "row": 14, "mm": "thick"}, "not a number"),
            ({"column": 36, "row": 14, "mm": "99"}, "no sheet"),
            ({}, "no such cell"),
        ):
            answer = self.send("reading", 1, **values)
            self.assertEqual(
                (answer.status_code, words in answer.json()["error"]["what"]), (422, True), values
            )
        self.assertContains(self.client.post(self.url("pitch", 1), {"pitch_mm": "10"}, follow=True), "")
        found.refresh_from_db()
        self.assertEqual(found.grid_pitch_mm, 20, "a grid with readings keeps its pitch")
        self.send("reading", 1, column=36, row=14, mm="")
        self.client.post(self.url("pitch", 1), {"pitch_mm": "10"})
        found.refresh_from_db()
        self.assertEqual((found.grade, found.readings.count(), found.grid_pitch_mm), ("S", 0, 10))

    def test_the_simulated_gauge_is_read_and_an_absent_one_is_told(self):
        finding(self.vehicle)
        with serve("gauge", 0, seed=1) as gauge:
            Thread(target=gauge.serve_forever, daemon=True).start()
            with override_settings(DEVICES={"gauge": f"127.0.0.1:{gauge.server_address[1]}"}):
                answers = [
                    self.send("reading", 1, column=column, row=14, gauge=True) for column in range(36, 41)
                ]
            gauge.shutdown()
        taken = [answer.json()["grid"] for answer in answers if answer.status_code == 200]
        self.assertGreaterEqual(len(taken), 3)
        self.assertTrue(all(0.5 < cell["mm"] < 1.1 for cell in taken[-1] if cell["mm"] is not None))
        for address in (f"127.0.0.1:{gauge.server_address[1]}", "nonsense", ""):
            with override_settings(DEVICES={"gauge": address}):
                answer = self.send("reading", 1, column=36, row=14, gauge=True)
            self.assertEqual(
                (answer.status_code, "No gauge answers" in answer.json()["error"]["what"]), (422, True)
            )


class Photos(KnownCase):
    BOARD = {
        "reference": [[10, 10], [50, 10], [50, 30], [10, 30]],
        "trace": [[20, 32], [40, 32], [40, 38], [20, 38]],
        "marks": [],
        "by": "size",
        "size": ["80", "40"],
        "on_panel": [],
    }

    def add(self, **changes):
        url = self.url("photo_add", panel(self.vehicle).pk)
        return self.client.post(
            url,
            {"photo": picture(), "caption": "card", "taken_on": "2026-02-14", "finding": "1"} | changes,
            follow=True,
        )

    def test_a_traced_hole_becomes_the_outline(self):
        finding(self.vehicle)
        self.assertContains(self.add(), "The card in the picture")
        photo = SurveyPhoto.objects.get()
        self.assertEqual(self.client.get(self.url("photo_file", photo.pk))["Content-Type"], "image/jpeg")
        told = self.send("photo_check", photo.pk, **self.BOARD).json()
        self.assertEqual((told["size"], told["placed"]), ("40 × 12", False))
        board = self.BOARD | {"marks": [[20, 38], [40, 38]], "on_panel": ["720", "260", "760", "260"]}
        self.assertFalse(
            self.send("photo_check", photo.pk, **board).json()["placed"],
            "nobody said which side the photo shows",
        )
        board["seen_from"] = "drawn"
        self.assertTrue(self.send("photo_check", photo.pk, **board).json()["placed"])
        self.assertTrue(self.send("photo", photo.pk, **board).json()["kept"])
        page = self.client.get(f"/v/{self.vehicle.pk}/survey/finding/1/?again&photo={photo.pk}")
        self.assertContains(page, "720, 272")
        self.assertContains(self.client.get(self.url("photo", photo.pk)), 'value="720"')
        self.client.post(self.url("photo_delete", photo.pk))
        self.assertEqual(SurveyPhoto.objects.count(), 0)

    def test_a_photo_of_a_panel_begins_a_finding_and_goes_with_it(self):
        answer = self.add(finding="")
        photo = SurveyPhoto.objects.get()
        self.assertContains(answer, f"new/?layer=outer&amp;panel=L-SILL&amp;photo={photo.pk}")
        self.assertContains(self.client.get(self.url("panel", photo.panel_id)), "picture.jpg")
        finding(self.vehicle)
        self.add()
        kept = pictures.photo_path(SurveyPhoto.objects.last().file)
        self.assertTrue(kept.exists())
        with self.captureOnCommitCallbacks(execute=True):
            self.client.post(self.url("delete", 1))
        self.assertTrue(kept.exists(), "a deleted photo can be taken back for a month")
        self.assertEqual(SurveyPhoto.objects.count(), 1)

    def test_what_is_wrong_is_told(self):
        finding(self.vehicle)
        answer = self.add(photo=SimpleUploadedFile("x.jpg", b"nonsense"), caption="The lip")
        self.assertContains(answer, "not a photo", status_code=422)
        self.assertContains(answer, "The lip", status_code=422)
        self.assertContains(self.add(photo=""), "Choose a photo first", status_code=422)
        self.add()
        photo = SurveyPhoto.objects.get()
        self.assertEqual(self.send("photo", photo.pk, **self.BOARD).status_code, 200)
        for broken in ({}, {"trace": [[1, 1]]}, self.BOARD | {"trace": [[1e999, 1]] * 3}):
            self.assertEqual(
                self.send("photo", photo.pk, **broken).status_code, 422, "what was traced is not lost"
            )
        photo.refresh_from_db()
        self.assertEqual(photo.trace, self.BOARD["trace"])
        for changes, words in (({"reference": [[1, 1]]}, "1 of 4 corners"), ({"trace": []}, "not traced yet"), ({"size": ["a", "2"]}, "not a number"), ({"by": "distances", "distances": ["1", "1", "1", "1", "9"]}, "triangle"),
                               ({"marks": [[1, 1], [1, 1]], "on_panel": ["1", "1", "9", "9"], "seen_from": "behind"}, "same spot")):  # fmt: skip
            answer = self.send("photo_check", photo.pk, **self.BOARD | changes)
            self.assertEqual(
                (
                    answer.status_code,
                    words in answer.json()["error"]["what"] + answer.json()["error"]["mend"],
                ),
                (422, True),
                changes,
            )
