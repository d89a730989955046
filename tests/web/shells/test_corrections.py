"""Corrections of the shell: panels, brackets, drawings, its own file, another body."""

import json
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from tests.builders import finding
from tests.web.survey.test_known import KnownCase
from yellow_sill.web.shells.models import Panel, Vehicle


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
            tight.json()["ranges"]["cab_rear"], "1690 to 1798 mm with the other sizes as they are"
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
