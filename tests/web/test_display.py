import io
import json
from datetime import date

from django.http import HttpResponse, JsonResponse
from django.test import SimpleTestCase
from django.urls import reverse
from pypdf import PdfReader

from tests.builders import finding, picture, repair
from tests.web.test_survey import SurveyCase
from yellow_sill.web.accounts.models import Preferences
from yellow_sill.web.frame import units
from yellow_sill.web.frame.american import in_american, page
from yellow_sill.web.survey.models import Finding, SurveyPhoto


class Pages(SimpleTestCase):
    CASES = {
        "text between tags": ("<p>The sill</p>", "<p>The rocker</p>"),
        "labels": (
            '<b aria-label="Left wing" data-panel="L-WING">x</b>',
            '<b aria-label="Left fender" data-panel="L-WING">x</b>',
        ),
        "never values": (
            '<input value="sill" placeholder="Sill end">',
            '<input value="sill" placeholder="Rocker end">',
        ),
        "never addresses": ('<a href="/sill/">boot</a>', '<a href="/sill/">trunk</a>'),
        "never fields": ("<textarea>sill</textarea><i>bonnet</i>", "<textarea>sill</textarea><i>hood</i>"),
        "never scripts": ('<script>const sill = "wing";</script>', '<script>const sill = "wing";</script>'),
        "never the name": (
            '<a class="ys-brand" href="/"><span>Yellow<br>Sill</span></a> sill',
            '<a class="ys-brand" href="/"><span>Yellow<br>Sill</span></a> rocker',
        ),
        "names on the board": (
            '<script id="tags" type="application/json">["Sill"]</script>',
            '<script id="tags" type="application/json">["Rocker"]</script>',
        ),
    }

    def test_what_becomes_american(self):
        for name, (given, expected) in self.CASES.items():
            with self.subTest(name):
                self.assertEqual(page(given), expected)

    def test_answers_change_their_sentences_only(self):
        answer = JsonResponse(
            {"error": {"what": "The sill leaves.", "where": "sill"}, "grid": [1], "kept": True}
        )
        in_american(answer)
        self.assertEqual(
            json.loads(answer.content),
            {"error": {"what": "The rocker leaves.", "where": "sill"}, "grid": [1], "kept": True},
        )
        picture = HttpResponse(b"sill", content_type="image/jpeg")
        in_american(picture)
        self.assertEqual(picture.content, b"sill")


class Display(SurveyCase):
    def choose(self, **values):
        return self.client.post(
            reverse("accounts:display"), {"next": f"/v/{self.vehicle.pk}/survey/left/"} | values
        )

    def test_inches_in_fields_figures_and_corners(self):
        self.assertRedirects(self.choose(unit="in"), f"/v/{self.vehicle.pk}/survey/left/")
        corners = '27 1/2"; 11 3/4\n28; 10 1/4\n32.5; 10.5\n700 mm; 330 mm'
        self.draw(corners=corners)
        found = Finding.objects.get()
        self.assertAlmostEqual(found.outline[0][0], 698.5, places=2)
        self.assertEqual(found.outline_typed, corners, "what was typed is kept")
        page = self.client.get(found.get_absolute_url())
        self.assertContains(page, "5.00×2.74<small>in</small>")
        self.assertContains(page, "27 1/2 to 32 1/2")
        self.assertContains(page, 'data-unit="in"')
        page = self.client.get(reverse("repairs:new", args=[self.vehicle.pk]))
        self.assertContains(page, "Margin to sound metal, in")
        self.assertContains(page, 'value="0.4724"')
        answer = self.client.post(
            reverse("repairs:new", args=[self.vehicle.pk]),
            {
                "findings": "1",
                "style": "rectangle",
                "margin_mm": '1/2"',
                "corner_radius_mm": "3/8",
                "web_mm": "40 mm",
                "opened_on": str(date.today()),
            },
        )
        self.assertEqual(answer.status_code, 302)
        made = self.vehicle.repairs.get()
        self.assertEqual((made.margin_mm, made.corner_radius_mm, made.web_mm), (12.7, 9.525, 40))
        self.assertContains(self.draw(corners="27 1/2; x"), "Type two lengths a line", status_code=422)
        answer = self.client.post(
            reverse("repairs:new", args=[self.vehicle.pk]),
            {"findings": "1", "margin_mm": "99", "opened_on": "2026-02-14"},
        )
        self.assertContains(answer, "99 in is out of range: 0 to 7.874 in", status_code=422)

    def test_a_photo_is_measured_in_inches_and_a_sheet_in_millimetres(self):
        found = finding(self.vehicle)
        self.choose(unit="in")
        url = reverse("survey:photo_add", args=[self.vehicle.pk, found.panel_id])
        self.assertContains(
            self.client.post(
                url, {"photo": picture(), "taken_on": "2026-02-14", "finding": "1"}, follow=True
            ),
            "First side, in",
        )
        values = {
            "reference": [[10, 10], [50, 10], [50, 30], [10, 30]],
            "trace": [[20, 12], [40, 12], [40, 20], [20, 20]],
            "marks": [],
            "by": "size",
            "size": ['4"', "50.8 mm"],
        }
        told = self.client.post(
            reverse("survey:photo_check", args=[self.vehicle.pk, SurveyPhoto.objects.get().pk]), values, content_type="application/json", headers={"Accept": "application/json"}
        )  # fmt: skip
        self.assertEqual((told.json()["size"], told.json()["area"]), ("2.00 × 0.80", "1.6"))
        self.client.post(
            reverse("survey:reading", args=[self.vehicle.pk, 1]),
            {"column": 36, "row": 14, "mm": '1/32"'},
            content_type="application/json",
        )
        self.assertAlmostEqual(found.readings.get().thickness_mm, 0.79375)
        self.client.post(
            reverse("survey:reading", args=[self.vehicle.pk, 1]),
            {"column": 36, "row": 14, "mm": "0.7"},
            content_type="application/json",
        )
        self.assertEqual(found.readings.get().thickness_mm, 0.7, "a bare number of a sheet is in millimetres")

    def test_american_terms_over_the_page_but_never_in_what_was_typed(self):
        found = finding(self.vehicle, title="Sill end", note="the sill")
        repair(self.vehicle, [found])
        self.choose(terms="american")
        page = self.client.get(found.get_absolute_url()).content.decode()
        self.assertIn("Outer rocker, left", page)
        self.assertIn("L-SILL", page)
        self.assertIn("Yellow<br>Sill", page)
        paper = self.client.get(reverse("survey:report_pdf", args=[self.vehicle.pk])).content
        self.assertIn(
            "Rocker end",
            "".join(sheet.extract_text() for sheet in PdfReader(io.BytesIO(paper)).pages).replace("\n", " "),
        )
        edit = self.client.get(found.get_absolute_url() + "?edit").content.decode()
        self.assertIn('value="Sill end"', edit)
        self.assertIn(">\nthe sill</textarea>", edit)
        said = self.client.post(
            reverse("survey:check", args=[self.vehicle.pk]), json.dumps({"view": "left", "panel": "L-SILL", "corners": [[1, 2], [3, 4], [9, 9]]}), content_type="application/json",
            headers={"Accept": "application/json"},
        )  # fmt: skip
        self.assertEqual(said.status_code, 422)
        self.assertEqual(Finding.objects.get().title, "Sill end")
        self.choose(terms="british", unit="nonsense", next="https://example.org/")
        self.assertEqual(str(Preferences.objects.get()), "mm, British")
        self.assertContains(self.client.get(found.get_absolute_url()), "Outer sill, left")


class Inches(SimpleTestCase):
    SAID = {
        "It stands 4.3 mm (± 1.5 mm) high against the tail, over 953 mm.": "It stands 11/64 in (± 1/16 in) high against the tail, over 37 17/32 in.",
        "2.9 mm per m low at the right": "0.035 in per ft low at the right",
        "the worst, 1L, lies 3.7 left, 3.5 low.": "the worst, 1L, lies 9/64 left, 9/64 low.",
        "An opening of 112 × 52 mm goes with it.": "An opening of 4 13/32 × 2 1/16 in goes with it.",
        "107 cm² of an outrigger": "16.59 in² of an outrigger",
    }

    def test_sentences_are_in_one_unit(self):
        for said, shown in self.SAID.items():
            self.assertEqual(units.said(said), said)
            token = units.unit.set("in")
            self.assertEqual(units.said(said), shown)
            units.unit.reset(token)
