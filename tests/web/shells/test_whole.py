"""The whole shell on its pages: sections, sheets taken apart, edges and curves, cavities, gaps; what is said of them is kept and taken back."""

from django.test import TestCase
from django.urls import reverse

from tests.builders import finding, owner, panel, vehicle
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.shells.change_services import take_back
from yellow_sill.web.shells.models import CavityWord, CurveWord, EdgeWord, GapRound, HungWord
from yellow_sill.web.shells.services import create_vehicle
from yellow_sill.web.shells.whole_services import cavities_here, curves_of, stretches_of


class WholeCase(TestCase):
    def setUp(self):
        self.owner = owner()
        self.vehicle = vehicle(self.owner)
        self.client.force_login(self.owner)

    def url(self, name, *args):
        return reverse(f"shells:{name}", args=[self.vehicle.pk, *args])

    def back(self):
        self.vehicle.refresh_from_db()
        take_back(self.vehicle, self.vehicle.revision, by="Wren")


class Sections(WholeCase):
    def test_each_way_of_cutting_lists_its_sheets_and_refuses_what_misses(self):
        for axis, code in (("x", "L-SILL"), ("y", "BULK"), ("z", "L-DOOR")):
            page = self.client.get(self.url("section"), {"axis": axis})
            self.assertContains(page, code)
        self.assertContains(self.client.get(self.url("section"), {"at": "1300"}), "Section at x 1300")
        for typed, words in (("9000", "Nothing is cut at x 9000 mm"), ("here", "is not a number")):
            self.assertContains(self.client.get(self.url("section"), {"at": typed}), words, status_code=422)
        self.assertContains(self.client.get(self.url("apart", "left")), "Middle layer")
        self.assertEqual(self.client.get(self.url("apart", "top")).status_code, 404)

    def test_a_finding_of_the_gutter_shows_the_sheets_of_every_view_behind_it(self):
        corners = [(2214, -562), (2262, -552), (2300, -540), (2300, -532), (2262, -542), (2216, -552)]
        found = finding(self.vehicle, "L-CANT", "top", corners=corners)
        page = self.client.get(found.get_absolute_url())
        for code in ("ROOF", "L-CANT", "L-CANTM"):
            self.assertContains(page, code)


class Sheets(WholeCase):
    def test_what_is_said_of_an_edge_and_a_curve_goes_before_the_drawing_and_comes_back(self):
        page = self.url("sheet", "left", "L-QTR")
        quarter = panel(self.vehicle, "L-QTR")
        number = next(i for i, each in enumerate(stretches_of(self.vehicle, quarter)) if each.kind == "lead")
        said = {"what": "edge", "kind": "braze", "meets": "roof", "height_mm": "12,5", "direction": "in"}
        self.assertContains(self.client.post(f"{page}?edge={number}", said, follow=True), "said by hand")
        told = stretches_of(self.vehicle, quarter)[number]
        self.assertEqual((told.kind, told.meets, told.height_mm), ("braze", ["ROOF"], 12.5))
        self.back()
        self.assertEqual(
            (EdgeWord.objects.count(), stretches_of(self.vehicle, quarter)[number].kind), (0, "lead")
        )
        self.client.post(f"{page}?edge={number}", said)
        self.client.post(f"{page}?edge={number}", {"what": "drawn-edge"})
        self.assertFalse(EdgeWord.objects.exists())
        self.assertContains(
            self.client.post(f"{page}?edge={number}", said | {"height_mm": "900"}),
            "out of range",
            status_code=422,
        )
        self.assertContains(self.client.post(f"{page}?edge=77", said, follow=True), "Tap it again")
        self.client.post(
            page, {"what": "curve", "kind": "crowned", "radius_mm": "900", "other_radius_mm": "2400"}
        )
        self.assertEqual([zone.kind for zone in curves_of(self.vehicle, quarter)], ["crowned"])
        self.client.post(page, {"what": "drawn-curve"})
        self.assertFalse(CurveWord.objects.exists())
        self.assertEqual(self.client.get(self.url("sheet", "left", "MAST")).status_code, 404)


class Cavities(WholeCase):
    def page(self, code="L-SILL"):
        return f"{self.url('cavities')}?cavity={code}"

    def of(self, code="L-SILL"):
        return next(each for each in cavities_here(self.vehicle) if each.code == code)

    def test_drains_stopped_holes_and_volumes_are_said_and_count(self):
        self.assertContains(self.client.get(self.page()), "Drain in")
        openings = len(self.of().openings)
        self.assertContains(
            self.client.post(self.page(), {"what": "drain", "at": "1200, 206"}, follow=True), "marked by"
        )
        self.client.post(self.page(), {"what": "stop", "place": "0"})
        self.assertEqual((len(self.of().openings), self.of().pockets), (openings, []))
        self.client.post(self.page(), {"what": "open", "place": "0"})
        self.client.post(self.page(), {"what": "volume", "volume_l": "18,5"})
        self.assertEqual(
            (len(self.of().openings), self.of().volume_l, self.of().by_hand), (openings + 1, 18.5, True)
        )
        for sent, words in (
            ({"what": "drain", "at": "0, 0"}, "is not on Sill, left"),
            ({"what": "drain", "at": ""}, "Say where the drain is"),
            ({"what": "stop", "place": "99"}, "no such opening"),
            ({"what": "open", "place": "9"}, "no such opening"),
            ({"what": "x"}, "Nothing was asked"),
            ({"what": "volume", "volume_l": "-2"}, "out of range"),
        ):
            self.assertContains(self.client.post(self.page(), sent), words, status_code=422)
        self.assertContains(
            self.client.post(self.url("cavities"), {"what": "drain"}, follow=True), "Choose a cavity"
        )

    def test_a_cavity_of_ones_own_must_be_closed(self):
        sent = {"what": "own", "name": "Behind the lamp", "outer": "l-wing", "inner": "l-iwing"}
        self.assertContains(
            self.client.post(self.url("cavities"), sent, follow=True), "Behind the lamp is a cavity now"
        )
        self.assertGreater(self.of("OWN1").volume_l, 1)
        for change, words in (
            ({"inner": "L-BSIDE"}, "is open"),
            ({"outer": "MAST"}, "no sheet MAST"),
            ({"name": ""}, "Write what it is"),
        ):
            self.assertContains(self.client.post(self.url("cavities"), sent | change), words, status_code=422)
        self.client.post(self.page("OWN1"), {"what": "drop"})
        self.assertFalse(CavityWord.objects.exists())
        self.client.post(self.url("correct", "left") + "?panel=L-SILLI&layer=inner", {"what": "delete"})
        self.assertContains(self.client.get(self.page()), "Open: no sheet L-SILLI closes it")


class Gaps(WholeCase):
    def begin(self, name="Before cutting"):
        self.client.post(
            self.url("gaps"), {"what": "round", "name": name, "taken_on": "2026-02-14", "note": ""}
        )
        return GapRound.objects.last()

    def test_a_round_is_typed_judged_and_compared(self):
        self.assertContains(self.client.get(self.url("gaps")), "Begin a")
        first = self.begin()
        page = f"{self.url('gaps')}?round={first.pk}&part=L-DOOR"
        self.assertContains(self.client.get(page), "Nobody has measured here yet")
        typed = {
            "L-DOOR/front-top": "6,9",
            "L-DOOR/front-bottom": "4.5",
            "L-DOOR/rear-top": "2.2",
            "L-DOOR/rear-bottom": "4.4",
        }
        told = self.client.post(page, {"what": "gaps", "version": first.version, **typed}, follow=True)
        self.assertContains(told, "Move: Upper hinge")
        self.assertContains(told, "2 are not measured")
        first.refresh_from_db()
        self.assertEqual((first.gaps_mm["L-DOOR/front-top"], first.typed["L-DOOR/front-top"]), (6.9, "6,9"))
        self.client.post(reverse("accounts:display"), {"unit": "in", "next": "/"})
        self.assertNotContains(self.client.get(page), 'value="6,9"')
        self.client.post(reverse("accounts:display"), {"unit": "mm", "next": "/"})
        stale = self.client.post(page, {"what": "gaps", "version": 1, "L-DOOR/front-top": "5"})
        self.assertContains(stale, "saved this while you had it open", status_code=409)
        self.assertContains(stale, 'value="5"', status_code=409)
        wrong = self.client.post(page, {"what": "gaps", "version": first.version, "L-DOOR/front-top": "wide"})
        self.assertContains(wrong, "is not a", status_code=422)
        second = self.begin("After welding")
        self.assertContains(self.client.get(f"{self.url('gaps')}?round={second.pk}"), "beside Before cutting")
        self.assertContains(
            self.client.post(self.url("gaps"), {"what": "round"}),
            "Write what it is taken for",
            status_code=422,
        )
        self.client.post(f"{self.url('gaps')}?round={second.pk}", {"what": "drop", "version": second.version})
        self.assertEqual(GapRound.objects.count(), 1)
        self.back()
        self.assertContains(
            self.client.get(reverse("datums:rounds", args=[self.vehicle.pk])), f"round={second.pk}"
        )
        self.assertEqual(GapRound.objects.count(), 2)

    def test_a_part_is_off_or_hinged_elsewhere_and_none_is_hung_without_a_door(self):
        self.client.post(
            self.url("gaps"), {"what": "hung", "code": "BONNET", "off": "on", "hinged_at": "front"}
        )
        word = HungWord.objects.get()
        self.assertEqual((word.off, word.hinged_at), (True, "front"))
        self.assertContains(self.client.get(self.url("gaps") + "?part=BONNET"), "(off)")
        self.assertContains(
            self.client.post(self.url("gaps"), {"what": "hung", "code": "MAST"}),
            "no such part to hang",
            status_code=422,
        )
        wing = {"what": "hung", "code": "L-WING", "hinged_at": "bolts"}
        self.client.post(self.url("gaps"), wing)
        self.assertContains(
            self.client.get(self.url("gaps") + "?part=L-WING"), '<option value="bolts" selected>bolted on'
        )
        self.assertContains(
            self.client.post(self.url("gaps"), wing | {"code": "L-DOOR"}), "not held", status_code=422
        )


class Bundled(WholeCase):
    def test_all_of_it_goes_through_a_bundle(self):
        quarter = self.url("sheet", "left", "L-QTR")
        self.client.post(f"{quarter}?edge=0", {"what": "edge", "kind": "lead"})
        self.client.post(quarter, {"what": "curve", "kind": "bent", "radius_mm": "700"})
        self.client.post(f"{self.url('cavities')}?cavity=L-SILL", {"what": "drain", "at": "1200, 206"})
        self.client.post(self.url("gaps"), {"what": "hung", "code": "L-DOOR", "hinged_at": "rear"})
        self.client.post(self.url("gaps"), {"what": "round", "name": "First", "taken_on": "2026-02-14"})
        there = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual(export_vehicle(there), export_vehicle(self.vehicle))
        self.assertEqual(
            (there.cavity_words.get().drains, there.gap_rounds.get().name), ([[1200.0, 206.0]], "First")
        )
        self.assertEqual(EdgeWord.objects.filter(panel__view__vehicle=there).count(), 1)


class FromPhoto(WholeCase):
    def test_places_on_a_photo_become_a_new_vehicles_sizes(self):
        page = reverse("shells:from_photo")
        self.assertContains(self.client.get(page), "Choose a photo")
        sent = {
            "at-front-axle": "400, 700", "at-rear-axle": "1480, 704", "at-nose": "110;560", "at-tail": "1900, 540", "at-ground": "401, 832",
            "at-roof": "980, 226", "length-1": "wheelbase", "mm-1": "2400", "length-2": "height", "mm-2": "1345",
        }  # fmt: skip
        told = self.client.post(page, sent)
        self.assertContains(told, "not traced")
        address = told.context["address"]
        self.assertContains(self.client.get(address), 'value="2400 mm"')
        one = self.client.post(page, sent | {"mm-2": ""})
        self.assertContains(one, "One length gives a scale one way only", status_code=422)
        self.assertContains(one, 'value="110;560"', status_code=422)
        wrong = self.client.post(page, sent | {"at-roof": "up there"})
        self.assertContains(wrong, "Tap it on the photo", status_code=422)
        far = self.client.post(page, sent | {"at-roof": ""})
        self.assertContains(far, "is not traced", status_code=422)

    def test_a_vehicle_is_driven_from_where_it_was_said(self):
        for side, count in (("left", 1), ("", 0)):
            made = create_vehicle(
                owner=self.owner, body_type="saloon-2-door-unitary", dimensions_mm={}, make="A", model="B", steering=side
            )  # fmt: skip
            view = made.views.get(name="bulkhead")
            self.assertEqual(view.panels.filter(code="PEDALM").count(), count)
