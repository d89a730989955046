import io
import json
import re
from datetime import date

from django.template import Context, Template
from django.test import SimpleTestCase
from django.urls import reverse
from django.utils import translation
from django.utils.html import escape
from pypdf import PdfReader

from tests.builders import finding, picture, repair
from tests.web.survey.test_survey import SurveyCase
from yellow_sill.core.datum.compare import way_words
from yellow_sill.core.said import (
    Count,
    DegC,
    Metres,
    Mm,
    Mm2,
    MmPerM,
    Quoted,
    Said,
    apart,
    drawn_name,
    first_up,
    joined,
    together,
)
from yellow_sill.core.terms import terms_in
from yellow_sill.demo.terms import CATALOGUE, PACKAGE, catalogue
from yellow_sill.web.accounts.models import Preferences
from yellow_sill.web.frame import units
from yellow_sill.web.survey.models import Finding, SurveyPhoto


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
        printed = "".join(sheet.extract_text() for sheet in PdfReader(io.BytesIO(paper)).pages)
        self.assertIn("Sill end", printed.replace("\n", " "), "a title is the person's own")
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
        self.assertEqual(str(Preferences.objects.get()), "mm, °C, British")
        self.assertContains(self.client.get(found.get_absolute_url()), "Outer sill, left")


class Spoken(SimpleTestCase):
    """Messages in inches, degrees Fahrenheit and American terms; what is no message stays as it is."""

    SAID = {
        Said("It stands {off} (± {unsure}) high, over {long}.", off=Mm(4.3, 1), unsure=Mm(1.5, 1, sized=False), long=Mm(953, 0)): "It stands 11/64 in (± 1/16 in) high, over 37 17/32 in.",
        Said("{slope} low at the right", slope=MmPerM(2.9)): "0.035 in per ft low at the right",
        Said("1L lies {off}.", off=way_words([0.2, -3.7, -3.5])): "1L lies 9/64 left, 9/64 low.",
        Said("An opening of {wide} × {high}.", wide=Mm(112, 0, bare=True), high=Mm(52, 0)): "An opening of 4 13/32 × 2 1/16 in.",
        Said("{area} of an outrigger", area=Mm2(10_700, large=True)): "16.59 in² of an outrigger",
        Said("Only {gap} of margin; {wanted} are wanted.", gap=Mm(12.7, 1), wanted=Mm(25.4)): "Only 1/2 in of margin; 1 in are wanted.",
        Said("{thin} of sheet", thin=Mm(0.8)): "0.031 in of sheet",
        Said("{weld} of weld at {heat}", weld=Metres(3048), heat=DegC(100)): "10.0 ft of weld at 212 °F",
        Said("It crosses {name} left of {part}.", name=Quoted("Row 2"), part=drawn_name("Outer sill, left")): "It crosses Row 2 left of Outer rocker, left.",
        Said("{note}", note=Quoted("4 wing nuts and a rubber boot, 5 mm")): "4 wing nuts and a rubber boot, 5 mm",
        first_up(Said("{count} of {name}", count=Count(1, "spot weld", "spot welds"), name="sill {old}")): "1 spot weld of sill {old}",
        joined((Said("Gone: {path}.", path=Said("Front wing")), "L-SILL")): "Gone: Front fender. L-SILL",
    }  # fmt: skip

    def test_messages_are_said_once_in_the_readers_units_and_terms(self):
        for message, shown in self.SAID.items():
            with self.subTest(message):
                self.assertEqual(units.said(message), str(message))
                self.assertEqual(together(json.loads(json.dumps(apart(message)))).values, message.values)
                held = units.unit.set("in"), units.degrees.set("F")
                try:
                    with translation.override("en-us"):
                        self.assertEqual(units.said(message), shown)
                        page = Template("{{ message }}").render(Context({"message": message}))
                        self.assertEqual(page, escape(shown))
                finally:
                    units.unit.reset(held[0])
                    units.degrees.reset(held[1])

    def test_the_catalogue_holds_every_message_with_a_term_and_nothing_else(self):
        for made, stored in zip(catalogue(), (".po", ".mo"), strict=True):
            self.assertEqual(
                made, CATALOGUE.with_suffix(stored).read_bytes(), "run: python -m yellow_sill terms"
            )

    def test_no_page_holds_a_term_outside_of_a_message(self):
        for path in sorted(PACKAGE.rglob("*.html")):
            text = re.sub(
                r"\{%.*?%\}|\{\{.*?\}\}|\{#.*?#\}", "", path.read_text(encoding="utf-8"), flags=re.DOTALL
            )
            labels = re.findall(r'(?:aria-label|placeholder|alt|title)="([^"]*)"', text)
            words = re.sub(r"<[^>]+>|Yellow\s*(<br>)?\s*Sill", " ", text, flags=re.DOTALL)
            with self.subTest(path.name):
                self.assertEqual(terms_in(" ".join([words, *labels])), [])
