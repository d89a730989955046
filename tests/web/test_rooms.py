"""What a strict reader tries next: layers, axes, edges, pages of pages, doors that must stay shut."""

import gzip
import tempfile
from datetime import date, timedelta
from decimal import Decimal

from django.templatetags.static import static
from django.test import Client, TestCase, override_settings
from django.urls import reverse

from tests.builders import DAY, finding, owner, picture, repair, vehicle
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.patch.sides import sides_of
from yellow_sill.web.logbook.services import add_photo, add_work
from yellow_sill.web.parts.services import add_cost, spent_over_time, sums
from yellow_sill.web.patch.services import developed, patch_of, stored_values
from yellow_sill.web.survey.models import Finding
from yellow_sill.web.today.services import chart

LINE = {
    "bought_on": DAY,
    "supplier": "Depot",
    "item": "Sheet",
    "kind": "steel",
    "quantity": Decimal(1),
    "tax_rate": Decimal(20),
    "tax_included": True,
}


class RoomCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)

    def setUp(self):
        self.client.force_login(self.owner)

    def page(self, name, *more, query=""):
        return self.client.get(reverse(name, args=[self.vehicle.pk, *more]) + query)


class Layers(RoomCase):
    def test_a_finding_behind_shows_as_a_ghost_in_front(self):
        finding(
            self.vehicle,
            "L-SILLM",
            corners=[(710, 236), (834, 236), (834, 258), (710, 258)],
            title="Membrane",
        )
        self.assertContains(self.page("survey:board", "left"), 'class="fd-ghost"', count=1)
        middle = self.page("survey:board", "left", query="?layer=middle")
        self.assertContains(middle, "1 found here")
        self.assertNotContains(middle, 'class="fd-ghost"')
        self.assertContains(
            self.page("survey:board", "left", query="?layer=nonsense"), "Left side, outer layer"
        )
        self.assertEqual(self.page("survey:board", "roof").status_code, 404)

    def test_only_the_layers_own_panels_are_offered(self):
        offered = self.page("survey:new", "left", query="?layer=inner")
        self.assertContains(offered, "L-SILLI")
        self.assertNotContains(offered, 'value="L-SILL"')

    def test_the_underside_is_typed_with_y_to_the_right(self):
        typed = {"panel": "L-FLOOR", "corners": "760, -540\n900, -540\n900, -640", "found_on": "2026-02-14"}
        self.client.post(reverse("survey:new", args=[self.vehicle.pk, "underside"]), typed)
        found = Finding.objects.get()
        self.assertEqual(found.outline[0], [760, 540], "the drawing has v up, seen from below")
        shown = self.page("survey:finding", found.number)
        self.assertContains(shown, "Left of centre")
        self.assertContains(shown, "540 to 640")

    def test_the_other_side_and_the_centre(self):
        left = finding(self.vehicle)
        right = finding(
            self.vehicle,
            "R-SILL",
            "right",
            corners=[(-u, v) for u, v in ((698, 300), (830, 276), (794, 334))],
            title="Right sill",
        )
        self.assertContains(self.page("survey:finding", left.number), f"Finding {right.number}, Holed")
        boot = finding(self.vehicle, "BOOT", "underside", corners=[(2900, 0), (3000, 0), (3000, 60)])
        self.assertContains(self.page("survey:finding", boot.number), "centre line")


class Money_(RoomCase):
    def test_sums_by_kind_and_month(self):
        for days, kind, price in ((0, "steel", "10"), (1, "steel", "5"), (40, "part", "128")):
            add_cost(
                self.vehicle,
                None,
                LINE | {"bought_on": DAY + timedelta(days), "kind": kind, "unit_price": Decimal(price)},
                by="Wren",
            )
        facts = sums(self.vehicle, self.vehicle.cost_lines.all())
        self.assertEqual(facts.total.gross.amount, Decimal("143.00"))
        self.assertEqual([word for word, _ in facts.by_kind], ["Part", "Steel"])
        steps = spent_over_time(self.vehicle)
        self.assertEqual(
            [(day, str(amount)) for day, amount in steps],
            [(DAY + timedelta(1), "£\u00a015.00"), (DAY + timedelta(40), "£\u00a0143.00")],
        )
        drawn = chart(steps, DAY + timedelta(60))
        self.assertEqual([label for _, label in drawn.levels], ["0", "100", "200"])
        self.assertIsNone(chart([], DAY))

    def test_the_first_day_of_spending_can_be_drawn(self):
        drawn = chart([(DAY, Money(Decimal("0.00"), "GBP"))], DAY)
        self.assertTrue(drawn.d.startswith("M0 190"))

    def test_long_lists_come_in_pages(self):
        for i in range(45):
            add_cost(self.vehicle, None, LINE | {"item": f"Item {i}", "unit_price": Decimal(1)}, by="Wren")
        first = self.page("logbook:logbook")
        self.assertContains(first, "1 of 2")
        self.assertNotContains(first, ">Item 2<")
        self.assertContains(self.page("logbook:logbook", query="?costs=2"), ">Item 2<")
        self.assertEqual(self.page("logbook:logbook", query="?costs=nonsense").status_code, 200)


class AtTheEdge(RoomCase):
    def test_a_patch_that_ends_at_the_panels_edge_may_carry_a_flange_there(self):
        found = finding(self.vehicle, corners=[(900, 224), (960, 224), (960, 260), (900, 260)])
        cut = repair(self.vehicle, [found]).cuts.get()
        self.assertEqual(min(v for _, v in cut.outline), 222)
        values = stored_values(patch_of(cut))
        bottom = next(
            edge for edge in developed(cut, values).seen if not edge.curved and edge.middle[1] < 223
        )
        self.assertAlmostEqual(bottom.length_mm, 84, delta=1)
        old = next(side for side in sides_of(cut.outline) if not side.curved and side.middle[1] < 223)
        values["sides"] = {
            old.name: {"treatment": "flange", "width_mm": 18.0, "angle_deg": 90.0, "inside_radius_mm": 1.0}
        }
        stored_by_sides = developed(cut, values).pattern
        values["made"] = [{"at": bottom.middle, "treatment": "flange", "legs_mm": [18.0], "angle_deg": 90.0, "inside_radius_mm": 1.0}]  # fmt: skip
        pattern = developed(cut, values).pattern
        self.assertEqual(pattern, stored_by_sides, "what was stored by sides is read as it was")
        self.assertLess(pattern.bounding_box_mm[1], 222 - 15)
        self.assertEqual([bend.angle_deg for bend in pattern.bends], [90.0])

    def test_two_panels_in_one_repair_are_cut_apart(self):
        quarter = finding(
            self.vehicle, "L-QTR", corners=[(2800, 500), (2860, 500), (2860, 560)], title="Quarter"
        )
        made = repair(self.vehicle, [finding(self.vehicle), quarter], style="hull")
        self.assertEqual(
            [(cut.number, cut.panel.code) for cut in made.cuts.all()], [(1, "L-QTR"), (2, "L-SILL")]
        )
        shown = self.client.get(reverse("patch:patch", args=[self.vehicle.pk, 1]) + "?cut=2")
        self.assertContains(shown, "cut 2")
        self.assertContains(
            self.client.get(reverse("cut:cut", args=[self.vehicle.pk, 1]) + "?cut=99"), "1 of 2"
        )


class Doors(RoomCase):
    def test_what_changes_something_takes_no_visit(self):
        repair(self.vehicle, [finding(self.vehicle)])
        for name, more in (
            ("survey:delete", (1,)),
            ("survey:check", ()),
            ("cut:move", (1, 1)),
            ("cut:propose", (1,)),
            ("weld:cautions", (1, 1)),
            ("patch:preview", (1, 1)),
        ):
            with self.subTest(name):
                self.assertEqual(self.page(name, *more).status_code, 405)

    def test_pages_and_scripts_go_compressed_and_what_is_packed_stays(self):
        asked = {"HTTP_ACCEPT_ENCODING": "gzip"}
        page = reverse("survey:board", args=[self.vehicle.pk, "left"])
        plain, packed = self.client.get(page), self.client.get(page, **asked)
        self.assertEqual(packed["Content-Encoding"], "gzip")
        self.assertLess(len(packed.content) * 3, len(plain.content))
        self.assertEqual(len(gzip.decompress(packed.content)), len(plain.content))
        script = self.client.get(static("frame/board/svg.js"), **asked)
        self.assertIn(b"export", gzip.decompress(b"".join(script.streaming_content)))
        self.assertIn("max-age=315360000, public, immutable", script["Cache-Control"])
        self.assertRegex(
            static("frame/board/svg.js"), r"^/static/[0-9a-f]{10}/", "a changed file has another address"
        )
        font = self.client.get(static("vendor/fonts/barlow-latin-500-normal.woff2"), **asked)
        self.assertNotIn("Content-Encoding", font)
        b"".join(font.streaming_content)

    def test_a_photo_is_its_owners_alone(self):
        with tempfile.TemporaryDirectory() as folder, override_settings(MEDIA_ROOT=folder):
            photo = add_photo(
                repair(self.vehicle, [finding(self.vehicle)]), picture(), caption="", taken_on=DAY, by="Wren"
            )
            url = reverse("logbook:photo", args=[self.vehicle.pk, photo.pk])
            answer = self.client.get(url)
            self.assertEqual((answer.status_code, answer["X-Content-Type-Options"]), (200, "nosniff"))
            b"".join(answer.streaming_content)
            stranger = Client()
            stranger.force_login(owner("Robin"))
            self.assertEqual(stranger.get(url).status_code, 404)

    def test_signing_in_leads_nowhere_else(self):
        door = Client()
        typed = {"username": "Wren Askew", "password": "brazing-rod-77", "next": "https://elsewhere.example/"}
        self.assertEqual(door.post(reverse("accounts:sign_in"), typed).url, "/")
        self.assertEqual(door.post(reverse("accounts:sign_out")).url, reverse("accounts:sign_in"))

    def test_hours_without_a_repair_belong_to_the_vehicle(self):
        add_work(
            self.vehicle,
            None,
            worked_on=date(2026, 2, 14),
            kind="survey",
            typed="5",
            note="Left side",
            by="Wren",
        )
        self.assertContains(self.page("logbook:logbook"), "5 h 00")
        self.assertContains(self.page("today:today"), "5 h 00 of work so far")
