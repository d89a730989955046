"""Coverage, far side, thickness, photos, list, tables, corrections of the shell."""

import io
import json
from datetime import date, timedelta
from threading import Thread
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from django.urls import reverse
from pypdf import PdfReader

from tests.builders import SILL_HOLE, finding, panel, picture, repair
from tests.web.survey.test_survey import CORNERS, SurveyCase
from yellow_sill.devices.simulated import serve
from yellow_sill.web.frame import pictures
from yellow_sill.web.shells.models import Panel, Vehicle
from yellow_sill.web.survey.coverage_services import cover_of
from yellow_sill.web.survey.models import FarSide, Finding, LookedRegion, SurveyImport, SurveyPhoto

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
        self.assertGreater(shares["outer"], 0.3)
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
        self.assertContains(self.add(photo=SimpleUploadedFile("x.jpg", b"nonsense")), "not a photo")
        self.assertContains(self.add(photo=""), "Choose a photo first")
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


class Lists(KnownCase):
    def test_filters_left_beside_right_forecast_and_report(self):
        mended, other = (
            finding(self.vehicle),
            finding(
                self.vehicle,
                "R-SILL",
                "right",
                corners=[(-u, v) for u, v in SILL_HOLE],
                title="Other side",
                evidence=[],
            ),
        )
        repair(self.vehicle, [mended])
        for query, numbers in (
            ("", 2),
            ("?side=L-", 1),
            ("?grade=H", 1),
            ("?method=probe", 1),
            ("?state=no repair", 1),
            ("?panel=R-SILL", 1),
            ("?layer=2", 0),
            ("?grade=nonsense", 2),
        ):
            with self.subTest(query):
                self.assertContains(self.client.get(self.url("list") + query), f"<h2>{numbers} finding")
        self.assertContains(self.client.get(self.url("list")), "1 in 5 above")
        page = self.client.get(self.url("compare"))
        self.assertContains(page, "2 Not graded")
        self.assertContains(page, "1 Holed")
        for name in ("report", "report_pdf", "take_in"):
            self.assertEqual(self.client.get(self.url(name)).status_code, 200)
        self.assertContains(self.client.get(self.url("report")), other.title)

    def test_a_table_goes_out_and_into_another_vehicle_whole_or_not_at_all(self):
        finding(self.vehicle)
        self.draw("right", panel="R-SILL", corners=CORNERS, title="=danger")
        table = self.client.get(self.url("table", "csv")).content
        text = self.client.get(self.url("table", "json")).content
        self.assertIn(b"'=danger", table)
        self.assertEqual(self.client.get(self.url("table", "xls")).status_code, 404)
        whole = sorted([("L-SILL", 7926.0, "H"), ("R-SILL", 7926.0, "H")])
        for data in (table, text):
            Finding.objects.all().delete()
            answer = self.client.post(
                self.url("take_in"), {"table": SimpleUploadedFile("t.csv", data)}, follow=True
            )
            self.assertContains(answer, "2 findings taken in")
            self.assertEqual(sorted(Finding.objects.values_list("panel__code", "area_mm2", "grade")), whole)
        for data in (table, text, table.decode("utf-8-sig").encode("utf-16")):
            asked = self.client.post(self.url("take_in"), {"table": SimpleUploadedFile("t.csv", data)})
            self.assertContains(asked, "Some of this is here already")
            self.client.post(self.url("take_in"), {"confirmed": "1", "text": asked.context["text"]})
            self.assertEqual(
                sorted(Finding.objects.values_list("panel__code", "area_mm2", "grade")),
                whole,
                "brought in again, nothing is doubled",
            )
        bad = "view;panel;corners\nleft;L-SILL;700 300 | 740 262 | 800 300\nleft;L-WINGS;1 2 | 3 4 | 9 9\nleft;L-SILL;700 300 | 740 262 | 800 900\nabove;ROOF;1 2 | 3 4 | 9 9\n"
        answer = self.client.post(self.url("take_in"), {"table": SimpleUploadedFile("t.csv", bad.encode())})
        for words in ("3 rows cannot be read", "no panel L-WINGS", "leaves the panel", "no view"):
            self.assertContains(answer, words, status_code=422)
        self.assertEqual(Finding.objects.count(), 2)
        for data, words in (
            (b"view;panel;panel;corners\nleft;a;b;1 2\n", "is there twice"), (b"view,panel,corners\nleft,L-SILL,1 2,3 4\n", "4 cells under 3 columns"),
            (b'{"findings": [{"view": "left", "view": "right"}]}', "is there twice in one object"), (b"finding;view;panel;corners\nx;left;L-SILL;1 2\n", "no number of a finding"),
        ):  # fmt: skip
            self.assertContains(
                self.client.post(self.url("take_in"), {"table": SimpleUploadedFile("t.csv", data)}),
                words,
                status_code=422,
            )
        for data, words in (
            (b"\x00\x01", "no text"),
            (b"hello", "neither a table"),
            (b"x" * (4 * 1024 * 1024 + 1), "4 MB"),
        ):
            self.assertContains(
                self.client.post(self.url("take_in"), {"table": SimpleUploadedFile("t.csv", data)}),
                words,
                status_code=422,
            )

    def test_a_table_brought_in_again_tells_what_is_new_changed_and_gone_and_can_be_taken_back(self):
        first, second = (
            finding(self.vehicle, title="Sill end"),
            finding(self.vehicle, "R-SILL", "right", corners=[[-u, v] for u, v in SILL_HOLE], title="Other"),
        )
        head = "finding;view;panel;corners;name;stage;day;evidence;note\n"
        corners = lambda found: " | ".join(
            f"{u:g} {v:g}" for u, v in found.panel.view.in_shell(found.outline)
        )
        table = f"{head}1;left;L-SILL;{corners(first)};Sill, front end;seen;;probe through 3/5;seen twice\n;left;L-SILL;1100 300 | 1140 262 | 1200 300;New one;seen;;tap dull;\n"
        asked = self.client.post(self.url("take_in"), {"table": SimpleUploadedFile("t.csv", table.encode())})
        for words in ("Take in 1 new, change 1", "1 on L-SILL: name, note", "They stay as they are"):
            self.assertContains(asked, words)
        self.assertEqual(Finding.objects.count(), 2, "nothing is stored before it was said")
        self.client.post(self.url("take_in"), {"confirmed": "1", "text": asked.context["text"]})
        first.refresh_from_db()
        self.assertEqual(
            (Finding.objects.count(), first.title, first.note, first.inspections.count()),
            (3, "Sill, front end", "seen twice", 1),
        )
        stored = SurveyImport.objects.get()
        self.client.post(reverse("survey:take_back", args=[self.vehicle.pk, stored.pk]))
        first.refresh_from_db()
        self.assertEqual((Finding.objects.count(), first.title, first.note), (2, "Sill end", ""))
        again = self.client.post(reverse("survey:take_back", args=[self.vehicle.pk, stored.pk]), follow=True)
        self.assertContains(again, "taken back already")
        worse = f"{head}1;left;L-SILL;{corners(first)};Sill end;opened;;probe through 3/5 | seen hole;\n2;left;L-SILL;{corners(first)};Moved;seen;;;\n"
        asked = self.client.post(self.url("take_in"), {"table": SimpleUploadedFile("t.csv", worse.encode())})
        self.assertContains(asked, "is on R-SILL here, on L-SILL in the table")
        self.client.post(self.url("take_in"), {"confirmed": "1", "text": asked.context["text"]})
        self.assertEqual((first.inspections.count(), first.inspections.last().stage), (2, "opened"))
        self.client.post(reverse("survey:take_back", args=[self.vehicle.pk, SurveyImport.objects.last().pk]))
        self.assertEqual(
            (
                first.inspections.count(),
                Finding.objects.count(),
                second.pk in Finding.objects.values_list("pk", flat=True),
            ),
            (1, 2, True),
        )

    def test_a_long_list_comes_in_pages_that_keep_their_filter(self):
        first = finding(self.vehicle)
        columns = {
            "vehicle": self.vehicle,
            "panel": first.panel,
            "outline": first.outline,
            "area_mm2": 1,
            "bounds_mm": first.bounds_mm,
            "found_on": first.found_on,
        }
        Finding.objects.bulk_create(
            Finding(number=number, grade="T", found_by="Wren", **columns) for number in range(2, 60)
        )
        page = self.client.get(self.url("list") + "?grade=T")
        self.assertContains(page, "Page 1 of 2")
        self.assertContains(page, "?grade=T&amp;page=2")
        self.assertContains(self.client.get(self.url("list") + "?grade=T&page=2"), ">59</a>")
        self.assertContains(self.client.get(self.url("list") + "?grade=T&page=nonsense"), "Page 1 of 2")

    def test_the_report_reads_as_its_receiver_needs_it(self):
        found = finding(self.vehicle)
        repair(self.vehicle, [found])
        self.client.post(self.url("item", found.panel_id), {"kind": "missing", "text": "Jack tube cap"})
        text = "".join(
            sheet.extract_text()
            for sheet in PdfReader(io.BytesIO(self.client.get(self.url("report_pdf")).content)).pages
        )
        self.assertRegex(text, r"Surveyed\s+\d+ \w{3} 20\d\d")
        page = self.client.get(self.url("report"))
        for words in (
            "Sill end, front",
            "went through at 3 of 5 places",
            "Jack tube cap",
            "Nothing recorded",
            "unknown",
        ):
            self.assertIn(words, text.replace("\n", " "))
            self.assertContains(page, words)
        self.assertContains(page, "R-01: opened.")

    def test_how_far_it_will_go_follows_what_was_opened(self):
        from yellow_sill.web.survey.listing import forecast
        from yellow_sill.web.survey.services import look_again

        found = finding(self.vehicle)
        before = forecast(self.vehicle)
        wide = [(690, 300), (700, 260), (746, 250), (840, 262), (856, 304), (800, 346), (700, 342)]
        look_again(
            found,
            version=None,
            stage="opened",
            made_on=found.found_on + timedelta(9),
            corners=wide,
            typed="",
            evidence=[],
            by="Wren",
        )
        after = forecast(self.vehicle)
        self.assertEqual((before.cases, after.cases), (0, 1))
        self.assertEqual(after.area_mm2.p50, after.area_mm2.now, "what is opened is known")


class Corrections(KnownCase):
    def correct(self, opened="", /, view="left", **values):
        url = reverse("shells:correct", args=[self.vehicle.pk, view]) + f"?layer=outer&panel={opened}"
        return self.client.post(
            url, {"version": self.vehicle.views.get(name=view).version} | values, follow=True
        )

    TRAY = {
        "what": "panel",
        "code": "L-TRAY",
        "name": "Battery tray",
        "layer": "1",
        "thickness_mm": "1,2",
        "corners": "-300, 500\n-100, 500\n-100, 620\n-300, 620",
    }

    def test_a_panel_is_added_holed_moved_and_deleted(self):
        self.assertContains(self.correct(**self.TRAY), "The panel is stored")
        self.assertContains(self.client.get(self.url("board", "left")), 'data-panel="L-TRAY"')
        self.assertContains(
            self.correct("L-TRAY", what="hole", corners="-250, 540\n-200, 540\n-200, 580"), "The hole is cut"
        )
        self.assertEqual(len(Panel.objects.get(code="L-TRAY").holes), 1)
        self.assertContains(
            self.correct("L-TRAY", what="hole", corners="-350, 540\n-200, 540\n-200, 580"),
            "reaches the panel",
            status_code=422,
        )
        self.correct("L-TRAY", what="drop-hole", place="0")
        self.correct("L-TRAY", **self.TRAY | {"corners": "-300, 500\n-90, 500\n-90, 620\n-300, 620"})
        self.assertEqual(
            (
                Panel.objects.get(code="L-TRAY").holes,
                max(u for u, _ in Panel.objects.get(code="L-TRAY").outline),
            ),
            ([], -90),
        )
        self.assertContains(self.correct("L-TRAY", what="delete"), "gone from this view")
        self.assertFalse(Panel.objects.filter(code="L-TRAY").exists())

    def test_brackets_and_outlines_from_drawings(self):
        self.assertContains(self.correct(what="bracket", corners="800, 260\n840, 260\n840, 300"), "Bracket 1")
        self.assertContains(self.client.get(self.url("board", "left")), "sh-bracket")
        self.assertContains(self.correct(what="drop-bracket", place="0"), "The bracket is gone")
        svg = b'<svg xmlns="http://www.w3.org/2000/svg" width="50mm" height="50mm" viewBox="0 0 50 50"><rect x="5" y="5" width="40" height="20"/></svg>'
        page = self.correct(what="drawing", drawing=SimpleUploadedFile("tray.svg", svg), at="100, 200")
        self.assertContains(page, "140, 220")
        bare = svg.replace(b' width="50mm" height="50mm"', b"")
        asked = self.correct(what="drawing", drawing=SimpleUploadedFile("tray.svg", bare), at="100, 200")
        self.assertContains(asked, "does not say in which unit", status_code=422)
        self.assertContains(
            self.correct(
                what="drawing", drawing=SimpleUploadedFile("tray.svg", bare), at="100, 200", unit="cm"
            ),
            "500, 400",
        )
        self.assertContains(
            self.correct(what="drawing", drawing=SimpleUploadedFile("tray.svg", b"<svg")),
            "cannot be read",
            status_code=422,
        )

    def test_a_corrected_panel_is_looked_at_anew(self):
        self.correct(**self.TRAY)
        tray = Panel.objects.get(code="L-TRAY")
        self.client.post(self.url("looked_panel", tray.pk), {"method": "seen"})
        self.assertEqual(round(Panel.objects.get(code="L-TRAY").cover.looked_mm2), 24_000)
        self.correct("L-TRAY", **self.TRAY | {"corners": "-300, 500\n-100, 500\n-100, 740\n-300, 740"})
        self.assertContains(self.client.get(self.url("board", "left")), "L-TRAY")
        cover = Panel.objects.get(code="L-TRAY").cover
        self.assertEqual((round(cover.area_mm2), round(cover.looked_mm2)), (48_000, 24_000))
        left = self.client.get(self.url("board", "left")).context["unknown"]
        self.assertTrue(left.startswith("M"))

    def test_what_may_not_be_corrected_is_refused_and_kept(self):
        found = finding(self.vehicle)
        sill = {
            "what": "panel",
            "code": "L-SILL",
            "name": "Outer sill, left",
            "layer": "1",
            "thickness_mm": "1",
        }
        for code, values, words in (
            ("L-SILL", {"what": "delete"}, "lie on L-SILL"),
            ("L-SILL", sill | {"corners": "1500, 240\n1900, 240\n1900, 300"}, "outside the panel"),
            ("", self.TRAY | {"code": "L-SILL"}, "already"),
            ("", self.TRAY | {"corners": "1, 1\n9, 9\n9, 1\n1, 9"}, "crosses itself"),
            ("", self.TRAY | {"thickness_mm": "40"}, "no sheet"),
            ("", {"what": "hole", "corners": "1, 1\n9, 9\n9, 1"}, "Choose a panel first"),
            ("", {"what": "nonsense"}, "Choose a panel first"),
            ("L-SILL", {"what": "drop-hole", "place": "9"}, "no such hole"),
        ):
            with self.subTest(words):
                self.assertContains(self.correct(code, **values), words, status_code=422)
        self.correct("", **self.TRAY)
        self.assertContains(
            self.correct("L-TRAY", **self.TRAY | {"version": "1", "name": "Mine"}),
            "saved this while",
            status_code=409,
        )
        found.refresh_from_db()
        self.assertEqual(found.panel.code, "L-SILL")

    def test_a_shell_is_saved_and_begins_another_vehicle(self):
        self.correct(**self.TRAY)
        data = self.client.get(reverse("shells:file", args=[self.vehicle.pk])).content
        plate = {"make": "Marrick", "model": "Twin"}
        answer = self.client.post(
            reverse("shells:from_file"), plate | {"shell": SimpleUploadedFile("s.json", data)}, follow=True
        )
        self.assertContains(answer, "has the shell of the file")
        twin = Vehicle.objects.get(model="Twin")
        self.assertTrue(Panel.objects.filter(view__vehicle=twin, code="L-TRAY").exists())
        broken = json.loads(data) | {"format": "other"}
        answer = self.client.post(
            reverse("shells:from_file"),
            plate | {"shell": SimpleUploadedFile("s.json", json.dumps(broken).encode())},
        )
        self.assertContains(answer, "one of", status_code=422)
        self.assertEqual(self.client.get(reverse("shells:schema")).json()["title"], "ShellFile")

    def test_another_body_type_keeps_what_was_typed(self):
        for kind in (
            "tourer-ladder-chassis",
            "cab-ladder-chassis",
            "estate-3-door-unitary",
        ):  # another body is chosen with the form as it stands
            page = self.client.get(
                reverse("shells:new"),
                {
                    "body_type": ["saloon-2-door-unitary", kind],
                    "height": "1345",
                    "wheelbase": "2412",
                    "make": "Otter",
                },
            )
            form = page.context["form"]
            self.assertEqual(
                (form["height"].value() == "1345", form["wheelbase"].value(), form["make"].value()),
                (False, "2412", "Otter"),
                kind,
            )
            drawn = self.client.post(
                reverse("shells:preview"),
                {"body_type": form.body.name}
                | form.usual()
                | {"wheelbase": form.body.dimensions[0].usual_mm},
            )
            self.assertEqual(drawn.status_code, 200, kind)
        wrong = self.client.post(
            reverse("shells:preview"),
            {"body_type": "saloon-2-door-unitary"} | form.usual() | {"height": "99"},
        )
        self.assertIn("Height: ", wrong.json()["error"]["what"])
        tight = self.client.post(
            reverse("shells:preview"), {"body_type": "cab-ladder-chassis", "wheelbase": "2200"}
        )
        self.assertEqual(
            tight.json()["error"]["where"], "overall_length"
        )  # nothing typed there: asked for, the ranges told all the same
        self.assertEqual(
            tight.json()["ranges"]["cab_rear"], "1620 to 1798 mm with the other sizes as they are"
        )
        page = self.client.get(reverse("shells:new") + "?body_type=tourer-ladder-chassis&make=Otter")
        self.assertContains(page, 'value="Otter"')
        self.assertContains(page, "Rail width")
        with mock.patch("yellow_sill.web.shells.services.store_shell"):
            self.client.post(
                reverse("shells:new"),
                {
                    "body_type": "tourer-ladder-chassis",
                    "make": "Otter",
                    "model": "Reed",
                    "currency": "GBP",
                    **dict.fromkeys((), ""),
                }
                | DIMENSIONS,
            )
        self.assertEqual(Vehicle.objects.get(make="Otter").body_type, "tourer-ladder-chassis")


DIMENSIONS = {"wheelbase": "2340", "overall_length": "3660", "front_overhang": "500", "width": "1420", "height": "1270", "scuttle_height": "920", "sill_height": "540",
              "door_front": "960", "door_length": "720", "rail_width": "760"}  # fmt: skip
