"""The list of findings, its tables and the report."""

import io
from datetime import timedelta
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from pypdf import PdfReader

from tests.builders import DAY, SILL_HOLE, finding, panel, repair
from tests.web.survey.test_known import KnownCase
from tests.web.survey.test_survey import CORNERS
from yellow_sill.core.errors import BadField
from yellow_sill.web.survey.models import Finding, SurveyImport
from yellow_sill.web.survey.table_services import import_findings, undo_import


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


class LargeTables(KnownCase):
    ROWS = "view,panel,name,corners\n" + "\n".join(
        f'left,L-QTR,spot {i},"{2850 + i} 600 | {2859 + i} 600 | {2859 + i} 609"' for i in range(120)
    )

    def test_many_rows_are_judged_first_stored_at_once_and_told_and_taken_back_as_one_change(self):
        asked = lambda queries: sum(
            not each["sql"].startswith(("SELECT", "SAVEPOINT", "RELEASE")) for each in queries
        )
        with CaptureQueriesContext(connection) as queries:
            made = import_findings(self.vehicle, self.ROWS, by="Wren", today=DAY)
        self.assertLess(asked(queries), 40, "few statements, however many rows")
        first = Finding.objects.get(number=1)
        self.assertEqual((made.made, first.inspections.count(), first.history.count()), (120, 1, 1))
        numbers = set(Finding.history.values_list("change_number", flat=True))
        self.assertEqual(len(numbers), 1)
        self.assertGreater(panel(self.vehicle, "L-QTR").cover.looked_mm2, 0)
        with CaptureQueriesContext(connection) as queries:
            undo_import(made.stored, by="Wren")
        self.assertLess(asked(queries), 40)
        self.assertEqual((Finding.objects.count(), panel(self.vehicle, "L-QTR").cover.looked_mm2), (0, 0))
        again = import_findings(self.vehicle, self.ROWS, by="Wren", today=DAY)
        self.assertEqual(Finding.objects.get(number=1).version, 2, "no page of the old one passes for it")
        self.assertEqual(again.made, 120)

    def test_one_bad_row_stores_none_and_a_shell_has_so_many_findings(self):
        bad = import_findings(
            self.vehicle, self.ROWS + '\nleft,MAST,x,"1 1 | 2 2 | 3 1"', by="Wren", today=DAY
        )
        self.assertEqual(
            (bad.made, [each.row for each in bad.refused], Finding.objects.count()), (0, [122], 0)
        )
        with (
            mock.patch("yellow_sill.web.survey.services.MOST_FINDINGS", 100),
            self.assertRaisesRegex(BadField, "120 findings"),
        ):
            import_findings(self.vehicle, self.ROWS, by="Wren", today=DAY)
        self.assertEqual(Finding.objects.count(), 0)
