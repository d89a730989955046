"""Ways to renew a panel on their page: compared, chosen into the record; the release list ticked off."""

from django.test import TestCase
from django.urls import reverse
from shapely.geometry import Polygon

from tests.builders import DAY, SILL_HOLE, finding, owner, repair, vehicle
from yellow_sill.web.cut.models import NuggetTick, PanelChoice
from yellow_sill.web.logbook.bundle import bundle_of, export_vehicle, import_vehicle
from yellow_sill.web.survey.services import look_again

PRICED = {
    "whole_price": "95",
    "whole_days": "14",
    "hour": "20",
    "steel_kg": "4",
    "money": "3",
    "hours": "3",
    "originality": "2",
    "looks": "2",
}


class Ways(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.repair = repair(cls.vehicle, [finding(cls.vehicle)])

    def setUp(self):
        self.client.force_login(self.owner)
        self.url = reverse("cut:options", args=[self.vehicle.pk, self.repair.number])
        self.release = reverse("cut:release", args=[self.vehicle.pk, self.repair.number])

    def choose(self, name="whole", **changes):
        panel = self.repair.findings.get().panel
        return self.client.post(
            self.url,
            PRICED | {"panel": panel.pk, "name": name, "why": "Rust at both ends", "version": ""} | changes,
        )

    def by_name(self, **query):
        return {row["option"].name: row["option"] for row in self.client.get(self.url, query).context["rows"]}

    def test_four_ways_are_compared_and_a_price_makes_the_whole_panel_possible(self):
        plain, priced = self.by_name(), self.by_name(**PRICED)
        self.assertEqual(set(plain), {"patches", "merged", "part", "whole"})
        self.assertEqual((plain["whole"].possible, priced["whole"].possible), (False, True))
        self.assertGreater(sum(priced["whole"].release.values()), 20)
        self.assertEqual({option.hold for option in priced.values()}, {"HELD"})
        self.assertGreater(priced["patches"].money, plain["patches"].money)
        self.assertContains(
            self.client.get(self.url, PRICED | {"hour": "many"}), "is not a number", status_code=422
        )

    def test_a_sheet_that_bears_more_than_itself_says_so_before_it_is_cut(self):
        self.assertNotContains(self.client.get(self.url), "It carries")
        inner = repair(self.vehicle, [finding(self.vehicle, "L-SILLI")])
        for page in ("cut:options", "cut:cut", "patch:patch", "weld:weld"):
            told = self.client.get(reverse(page, args=[self.vehicle.pk, inner.number]))
            self.assertContains(told, "<b>L-SILLI.</b> It carries: seat belt.", msg_prefix=page)

    def test_the_chosen_way_goes_into_the_record_and_the_cuts_follow(self):
        for changes, words in (
            ({"why": " "}, "why this way"),
            ({"name": "magic"}, "no such plan"),
            ({"name": "whole", "whole_price": ""}, "Nobody sells it"),
        ):
            refused = self.choose(**changes)
            self.assertContains(refused, words, status_code=422)
        self.assertContains(
            self.choose(name="magic", why="Because of the seams"), "Because of the seams", status_code=422
        )
        self.assertFalse(PanelChoice.objects.exists())
        self.assertEqual(self.choose().status_code, 302)
        cut = self.repair.cuts.get()
        self.assertGreater(cut.area_mm2, 0.98 * Polygon(cut.panel.outline).area)
        self.assertEqual(
            {remark["code"] for remark in cut.remarks}, {"CUT-17"}
        )  # its slots and holes, to be made again
        self.assertEqual(self.choose(name="patches", version="7").status_code, 409)
        record = self.client.get(reverse("logbook:record", args=[self.vehicle.pk, self.repair.number]))
        self.assertContains(record, "Rust at both ends")
        self.assertContains(record, "Small patches: ")
        pdf = self.client.get(reverse("logbook:record_pdf", args=[self.vehicle.pk, self.repair.number]))
        self.assertEqual(pdf.status_code, 200)
        type(self.repair).objects.update(state="cut")
        self.assertContains(self.choose(name="patches", version="1"), "its cuts stand", status_code=422)

    def test_old_spot_welds_are_numbered_and_ticked_off_one_by_one(self):
        self.choose()
        page = self.client.get(self.release)
        [panel] = page.context["panels"]
        self.assertGreater(panel.count, 20)
        self.assertContains(page, "Drill 1 mm deep from this side")
        tick = lambda n, **data: self.client.post(
            reverse("cut:tick", args=[self.vehicle.pk, self.repair.number, panel.panel.pk, n]),
            data,
            follow=True,
        )
        tick(3)
        tick(3)
        self.assertEqual(NuggetTick.objects.get().number, 3)
        self.assertContains(self.client.get(self.release), "1 of ")
        self.assertContains(tick(9999), "no such nugget")
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual(bundle_of(again).repairs[0].nuggets, bundle_of(self.vehicle).repairs[0].nuggets)
        self.assertEqual(bundle_of(again).repairs[0].choices[0].why, "Rust at both ends")
        tick(3, undo="1")
        self.assertFalse(NuggetTick.objects.filter(repair=self.repair).exists())

    def test_a_stranger_sees_nothing_and_a_repair_without_spot_welds_says_so(self):
        self.assertContains(self.client.get(self.release), "shows no spot welds")
        self.client.force_login(owner("Tam Oakes"))
        for url in (self.url, self.release):
            self.assertEqual(self.client.get(url).status_code, 404)


class Grown(TestCase):
    def setUp(self):
        self.owner = owner()
        self.vehicle = vehicle(self.owner)
        self.client.force_login(self.owner)
        self.finding = finding(self.vehicle)
        self.repair = repair(self.vehicle, [self.finding])
        self.url = reverse("cut:cut", args=[self.vehicle.pk, self.repair.number])
        self.redraw = reverse("cut:redraw", args=[self.vehicle.pk, self.repair.number, 1])

    def test_a_cut_that_opening_outgrows_is_drawn_anew_and_the_difference_kept(self):
        self.assertNotContains(self.client.get(self.url), "It has grown")
        self.assertContains(self.client.post(self.redraw, follow=True), "still holds all rust")
        wider = [(u + (60 if u > 800 else 0), v) for u, v in SILL_HOLE]
        look_again(
            self.finding,
            version=None,
            stage="opened",
            made_on=DAY,
            corners=wider,
            typed="",
            evidence=[],
            by="Wren",
        )
        page = self.client.get(self.url)
        self.assertContains(page, "It has grown.")
        self.assertContains(page, 'class="cut-grown"')
        for tab in ("cut:release", "cut:around", "logbook:log"):
            self.assertContains(self.client.get(reverse(tab, args=[self.vehicle.pk, 1])), "Cut 1 has grown")
        before = self.repair.cuts.get()
        self.assertContains(
            self.client.post(self.redraw, {"version": "99"}, follow=True), "changed this line meanwhile"
        )
        self.client.post(self.redraw, {"version": str(before.version)})
        growth = self.repair.growths.get()
        self.assertGreater(growth.added_weld_mm, 80)
        self.assertEqual(growth.planned, before.outline)
        self.assertNotContains(self.client.get(self.url), "It has grown")
        self.assertContains(
            self.client.get(reverse("logbook:record", args=[self.vehicle.pk, 1])), "Planned and found"
        )
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual(bundle_of(again).repairs[0].growths, bundle_of(self.vehicle).repairs[0].growths)
        type(self.repair).objects.update(state="fitted")
        look_again(
            self.finding,
            version=None,
            stage="opened",
            made_on=DAY,
            corners=[(u + (120 if u > 800 else 0), v) for u, v in SILL_HOLE],
            typed="",
            evidence=[],
            by="Wren",
        )
        self.assertNotContains(self.client.get(self.url), "It has grown")


class Rules(TestCase):
    def setUp(self):
        self.owner = owner()
        self.vehicle = vehicle(self.owner)
        self.client.force_login(self.owner)
        self.url = reverse("repairs:rules", args=[self.vehicle.pk])
        shown = self.client.get(self.url).context["form"]
        self.shown = {field.html_name: field.value() for field in shown}

    def test_what_is_kept_is_what_planning_counts_with_from_then_on(self):
        self.assertEqual(
            (
                self.shown["margin_mm"],
                self.shown["rates-weld_m"],
                self.shown["processes"],
                self.shown["version"],
            ),
            ("12", "30", ["mig"], 0),
        )
        kept = self.client.post(
            self.url,
            self.shown
            | {
                "margin_mm": "15",
                "rates-weld_m": "60",
                "prices-hour": "18",
                "weights-looks": "9",
                "processes": ["mig", "spot"],
            },
        )
        self.assertRedirects(kept, self.url)
        made = repair(self.vehicle, [finding(self.vehicle)])
        page = self.client.get(reverse("cut:options", args=[self.vehicle.pk, made.number]))
        self.assertEqual(
            (page.context["form"]["hour"].value(), page.context["form"]["looks"].value()), ("18", "9")
        )
        patches = next(row["option"] for row in page.context["rows"] if row["option"].name == "patches")
        self.assertAlmostEqual(
            patches.minutes["weld"], patches.weld_mm["butt"] * 0.06 + 1.5 * patches.plugs, delta=0.2
        )
        self.assertEqual(
            self.client.get(reverse("repairs:new", args=[self.vehicle.pk]))
            .context["form"]["margin_mm"]
            .value(),
            "15",
        )
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual(bundle_of(again).plan_rules, bundle_of(self.vehicle).plan_rules)

    def test_bad_rates_are_refused_and_a_second_tab_is_told(self):
        for changes, words in (
            ({"rates-weld_m": "slow"}, "is not a number"),
            ({"margin_mm": "-3"}, "0"),
            ({"processes": []}, "required"),
        ):
            refused = self.client.post(self.url, self.shown | {"web_mm": "37"} | changes)
            self.assertContains(refused, words, status_code=422)
            self.assertContains(refused, 'value="37"', status_code=422)
        self.client.post(self.url, self.shown | {"web_mm": "50"})
        stale = self.client.post(self.url, self.shown | {"web_mm": "60"})
        self.assertContains(stale, "<td>60 mm</td> <td>50 mm</td>", status_code=409)
        self.assertContains(stale, 'value="60"', status_code=409)
