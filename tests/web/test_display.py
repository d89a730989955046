import json
from datetime import date

from django.urls import reverse

from tests.builders import finding, repair
from tests.web.test_survey import SurveyCase
from yellow_sill.web.accounts.models import Preferences
from yellow_sill.web.survey.models import Finding


class Display(SurveyCase):
    def choose(self, **values):
        return self.client.post(reverse("accounts:display"), {"next": f"/v/{self.vehicle.pk}/survey/left/"} | values)

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
            {"findings": "1", "style": "rectangle", "margin_mm": '1/2"', "corner_radius_mm": "3/8", "web_mm": "40 mm", "opened_on": str(date.today())},
        )
        self.assertEqual(answer.status_code, 302)
        made = self.vehicle.repairs.get()
        self.assertEqual((made.margin_mm, made.corner_radius_mm, made.web_mm), (12.7, 9.525, 40))
        self.assertContains(self.draw(corners="27 1/2; x"), "Type two lengths a line", status_code=422)
        answer = self.client.post(reverse("repairs:new", args=[self.vehicle.pk]), {"findings": "1", "margin_mm": "99", "opened_on": "2026-02-14"})
        self.assertContains(answer, "99 in is out of range: 0 to 7.874 in", status_code=422)

    def test_american_terms_over_the_page_but_never_in_what_was_typed(self):
        found = finding(self.vehicle, title="Sill end", note="the sill")
        repair(self.vehicle, [found])
        self.choose(terms="american")
        page = self.client.get(found.get_absolute_url()).content.decode()
        self.assertIn("Outer rocker, left", page)
        self.assertIn("L-SILL", page)
        self.assertIn("Yellow<br>Sill", page)
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
