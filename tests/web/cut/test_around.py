"""Sheets behind one another, what cuts meet, plans of one's own, the joint: on their pages."""

import io
import json
import re
from datetime import timedelta
from math import dist

import ezdxf
from django.test import TestCase
from django.urls import reverse
from shapely.geometry import Point, Polygon

from tests.builders import DAY, finding, owner, panel, picture, repair, repair_page, vehicle
from yellow_sill.web.cut.models import NuggetTick, PanelChoice, Surrounding
from yellow_sill.web.cut.release_services import release_list
from yellow_sill.web.cut.services import check
from yellow_sill.web.logbook.bundle import bundle_of, export_vehicle, import_vehicle
from yellow_sill.web.logbook.services import add_work
from yellow_sill.web.patch.services import patch_of, pattern_file
from yellow_sill.web.repairs.models import Repair, RibbonStep
from yellow_sill.web.survey.photo_services import add_survey_photo, keep_trace
from yellow_sill.web.survey.services import look_again

MEMBRANE = [(710, 236), (834, 236), (834, 258), (710, 258)]
INNER = [(700, 226), (800, 226), (800, 262), (700, 262)]
PLACED = {"kind": "keep-out", "name": "Jacking point", "points": "820, 240\n880, 240\n880, 280\n820, 280"}


class Sheets(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.findings = [
            finding(cls.vehicle),
            finding(cls.vehicle, "L-SILLM", corners=MEMBRANE),
            finding(cls.vehicle, "L-SILLI", corners=INNER),
        ]
        cls.repair = repair(cls.vehicle, cls.findings)

    def setUp(self):
        self.client.force_login(self.owner)

    def url(self, name, *more):
        return repair_page(self.repair, name, *more)

    def outline(self, code):
        return Polygon(self.repair.cuts.get(panel__code=code).outline)

    def steps_kept(self):
        for near, far in (("L-SILL", "L-SILLM"), ("L-SILLM", "L-SILLI")):
            reached = self.outline(far).buffer(19).intersection(Polygon(panel(self.vehicle, near).outline))
            self.assertLess(reached.difference(self.outline(near).buffer(1)).area, 1, near)

    def test_the_outer_sheets_are_opened_for_the_inner_ones_and_grow_with_them(self):
        self.assertEqual([cut.panel.code for cut in self.repair.cuts.all()], ["L-SILL", "L-SILLM", "L-SILLI"])
        self.steps_kept()
        page = self.client.get(self.url("cut"))
        self.assertContains(page, 'class="cut-window"', count=2)
        self.assertContains(page, "Ends on the panel&#x27;s edge.")
        look_again(
            self.findings[2],
            version=None,
            stage="opened",
            made_on=DAY,
            corners=[(u + (90 if u > 750 else 0), v) for u, v in INNER],
            typed="",
            evidence=[],
            by="Wren",
        )
        for number in (3, 2, 1):
            self.assertContains(self.client.get(f"{self.url('cut')}?cut={number}"), "It has grown.")
            self.client.post(self.url("redraw", number), {"version": ""})
            self.assertNotContains(self.client.get(f"{self.url('cut')}?cut={number}"), "It has grown.")
        self.steps_kept()
        self.assertIn("its window here is too small", self.repair.growths.get(cut_number=1).words)

    def test_a_closed_panel_in_front_of_a_cut_behind_is_told(self):
        cut = self.repair.cuts.get(panel__code="L-SILLM")
        wider = [(560, 206), (860, 206), (860, 290), (560, 290)]
        told = [remark for remark in check(cut, wider).remarks if remark.code == "CUT-14"]
        self.assertEqual(
            {re.search("behind (.*),", remark.what)[1].partition(",")[0] for remark in told},
            {"Front wing", "Sill weld flange"},
        )
        self.assertLess(next(r.at[0] for r in told if "wing" in r.what), 656, "where the wing lies over it")
        outer = self.repair.cuts.get(panel__code="L-SILL")
        self.assertNotIn(
            "CUT-14",
            [
                remark.code
                for remark in check(outer, [(600, 224), (860, 224), (860, 330), (600, 330)]).remarks
            ],
        )

    def test_other_panels_of_the_layer_and_holes_are_told_and_holes_come_to_the_pattern(self):
        cut = self.repair.cuts.get(panel__code="L-SILL")
        u0, v0, u1, v1 = Polygon(cut.outline).bounds
        middle = ((u0 + u1) / 2, (v0 + v1) / 2)
        round_hole = lambda u, v: [list(at) for at in Point(u, v).buffer(12).exterior.coords[:-1]]
        sill = cut.panel
        sill.holes = [*sill.holes, round_hole(*middle)]
        sill.save()
        other = panel(self.vehicle, "L-WING")
        type(other).objects.filter(pk=other.pk).update(
            outline=[[u1 - 40, v0], [u1 + 80, v0], [u1 + 80, v1], [u1 - 40, v1]]
        )
        remarks = [
            (remark.code, remark.what)
            for remark in check(self.repair.cuts.get(pk=cut.pk), cut.corners).remarks
        ]
        told = dict(remarks)["CUT-17"]
        self.assertIn("1 × 24 mm", told)
        self.assertTrue(any(code == "CUT-15" and other.name in what for code, what in remarks))
        pattern = self.client.get(f"{self.url('patch')}?cut={cut.number}")
        self.assertEqual(len(pattern.context["board"].holes), int(told.split(" ")[0]))
        content, _, _ = pattern_file(
            self.repair.cuts.get(pk=cut.pk), patch_of(cut), "dxf", paper="A4", mirror_hand=False
        )
        holes = ezdxf.read(io.StringIO(content.decode())).modelspace().query('LWPOLYLINE[layer=="CUT"]')
        self.assertGreater(len(holes), 1)

    def test_every_way_is_worked_out_through_all_sheets_and_the_chosen_one_drawn_in_them(self):
        page = self.client.get(self.url("options"))
        self.assertContains(page, "With what lies behind it: Sill membrane, left, Inner sill, left")
        self.assertTrue(all(len(row["option"].inner) == 2 for row in page.context["rows"]))
        told = {field.html_name: field.value() or "" for field in page.context["form"]} | {
            "panel": panel(self.vehicle).pk,
            "whole_price": "95",
            "whole_days": "3",
        }
        self.client.post(self.url("options"), told | {"name": "whole", "why": "Three sheets", "version": ""})
        self.assertEqual([cut.panel.code for cut in self.repair.cuts.all()], ["L-SILL", "L-SILLM", "L-SILLI"])
        self.steps_kept()
        again = self.client.get(self.url("options"))
        self.assertEqual(
            (again.context["form"]["whole_price"].value(), again.context["form"]["whole_days"].value()),
            ("95", "3"),
        )
        self.assertContains(self.client.get(self.url("release")), "Inner sill, left")
        for name in ("patches", "merged", "part", "whole"):
            way = next(row["option"] for row in again.context["rows"] if row["option"].name == name)
            if not way.possible:
                continue
            stored = PanelChoice.objects.get(repair=self.repair)
            self.client.post(
                self.url("options"), told | {"name": name, "why": "To count", "version": stored.version}
            )
            listed = release_list(self.repair)
            places = [nugget.at for each in listed for row in each.rows for nugget in row.nuggets]
            self.assertEqual(
                (sum(each.count for each in listed), sum(each.unseen for each in listed)),
                (sum(way.release.values()), way.unseen),
                name,
            )
            self.assertFalse(
                [1 for i, a in enumerate(places) for b in places[:i] if dist(a, b) < 4], "a nugget twice"
            )

    def test_the_cuts_as_drawn_are_a_plan_of_ones_own(self):
        keep = lambda **values: self.client.post(
            self.url("own"), {"panel": panel(self.vehicle).pk} | values, follow=True
        )
        for name, words in (
            ("", "Give your plan a name"),
            ("Whole panel", "is a plan called"),
            ("Up to the jack", "is compared with the others"),
            ("Up to the jack", "is a plan called"),
        ):
            self.assertContains(keep(own_name=name), words)
        plan = self.repair.own_plans.get()
        rows = self.client.get(self.url("options")).context["rows"]
        mine = next(row["option"] for row in rows if row["own"] == plan)
        self.assertEqual((mine.name, mine.possible, mine.pieces), ("Up to the jack", True, 3))
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual(bundle_of(again).repairs[0].own_plans, bundle_of(self.vehicle).repairs[0].own_plans)
        keep(remove=plan.pk)
        self.assertFalse(self.repair.own_plans.exists())

    def test_what_a_person_draws_is_minded_by_the_lines_from_then_on(self):
        url = f"{self.url('around')}?panel={panel(self.vehicle).pk}"
        self.assertContains(self.client.get(url), "row 1: ")
        for changes, words in (
            ({"points": "here"}, "is not a corner"), ({"points": "820, 240\n880, 240"}, "needs three corners"), ({"kind": "seam", "points": "820, 240"}, "two places"),
            ({"points": "5000, 240\n5060, 240\n5060, 280"}, "mm off L-SILL"), ({"name": " "}, "required"), ({"kind": "row", "points": "820, 240\n821, 240"}, "shorter than its two end margins"),
        ):  # fmt: skip
            refused = self.client.post(url, PLACED | changes)
            self.assertContains(refused, words, status_code=422)
            self.assertContains(refused, changes.get("points", PLACED["points"]), status_code=422)
        self.assertRedirects(self.client.post(url, PLACED), url)
        self.assertContains(self.client.post(url, PLACED), "has a Jacking point already", status_code=422)
        cut = self.repair.cuts.get(number=1)
        told = self.client.post(
            self.url("check", 1), json.dumps({"corners": cut.corners}), content_type="application/json"
        ).json()
        self.assertIn("takes metal of Jacking point", " ".join(remark["what"] for remark in told["remarks"]))
        self.assertEqual(len(told["set_out"]), 4)
        self.assertContains(self.client.get(self.url("cut")), 'class="th-keep"')
        stored = Surrounding.objects.get()
        moved = PLACED | {"points": "900, 240\n940, 240\n940, 280", "version": stored.version}
        self.client.post(f"{url}&own={stored.pk}", moved)
        self.assertContains(
            self.client.post(f"{url}&own={stored.pk}", moved | {"name": "Mine"}), "Mine", status_code=409
        )
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual(bundle_of(again).panel_notes, bundle_of(self.vehicle).panel_notes)
        self.client.post(self.url("delete_surrounding", stored.pk))
        self.assertFalse(Surrounding.objects.filter(panel__view__vehicle=self.vehicle).exists())

    def test_spot_welds_clicked_on_a_photo_become_a_row_and_are_ticked_by_place(self):
        sill = panel(self.vehicle)
        photo = add_survey_photo(sill, None, picture(), caption="Flange", taken_on=DAY, by="Wren")
        url = f"{self.url('around')}?panel={sill.pk}&photo={photo.pk}"
        self.assertContains(self.client.get(url), "does not say yet where", status_code=422)
        traced = {
            "reference": [[0, 0], [200, 0], [200, 100], [0, 100]],
            "size_mm": [100, 50],
            "trace": [[100 + 80 * i, 300] for i in range(5)],
            "marks": [[100, 200], [500, 200]],
            "on_panel": [[700, 290], [900, 290]],
            "seen_from": "drawn",
        }
        keep_trace(photo, traced)
        form = self.client.get(url).context["form"]
        self.assertEqual(form["points"].value().splitlines()[:2], ["700, 240", "740, 240"])
        row = {
            "kind": "row",
            "name": "On the photo",
            "points": form["points"].value(),
            "marked": "on",
            "survives": "Floor",
        }
        self.client.post(f"{self.url('around')}?panel={sill.pk}", row)
        page = self.client.get(self.url("release"))
        self.assertContains(page, "No drill reaches: grind the nugget")
        numbers = [
            each.number
            for row in page.context["panels"][0].rows
            for each in row.nuggets
            if row.row.id == "On the photo"
        ]
        tick = lambda number, **data: self.client.post(
            self.url("tick", sill.pk, number), data, headers={"accept": "application/json"}
        )
        self.assertEqual(tick(numbers[0]).json(), {"done": True})
        self.assertEqual(tick(9999).status_code, 422)
        at = NuggetTick.objects.get().at
        cut = self.repair.cuts.get(number=1)
        corners = "\n".join(f"{u + (60 if u < 750 else 0)}, {v}" for u, v in cut.corners)
        self.client.post(self.url("move", 1), {"corners": corners, "version": ""})
        ticked = [
            each.at
            for row in self.client.get(self.url("release")).context["panels"][0].rows
            for each in row.nuggets
            if each.tick
        ]
        self.assertEqual(
            ticked,
            [at]
            if Polygon(self.repair.cuts.get(number=1).outline)
            .buffer(10)
            .contains(Polygon([at, [at[0] + 0.1, at[1]], at]))
            else [],
        )

    def test_the_joint_follows_from_where_it_is(self):
        url = f"{self.url('weld')}?cut=1"
        self.assertContains(self.client.get(url), "Which joint: butt joint, MIG")
        self.assertContains(
            self.client.get(f"{url}&layers=2&on_flange=on"),
            "Which joint: row of plug welds on the flange, MIG",
        )
        self.assertContains(self.client.get(f"{url}&layers=9"), "less than or equal to 5")


class LoggedHours(TestCase):
    def test_the_log_corrects_the_rates_from_the_first_job_on_and_never_twice(self):
        mine = vehicle(owner())
        first = finding(mine)
        for number in range(3):
            made = repair(mine, [first])
            PanelChoice.objects.create(
                repair=made, panel=first.panel, chosen="patches", words="Small patches", why="–", tips="–", decided_on=DAY,
                options=[{"name": "patches", "minutes": {"make": 75.0, "weld": 30.0}, "thumb": {"make": 60.0, "weld": 30.0}}],
            )  # fmt: skip
            RibbonStep.objects.create(repair=made, state="made", made_on=DAY, by="Wren")
            Repair.objects.filter(pk=made.pk).update(state="made")
            add_work(mine, made, worked_on=DAY - timedelta(1), kind="make", typed="1:30", note="", by="Wren")
            add_work(mine, made, worked_on=DAY - timedelta(1), kind="weld", typed="5", note="", by="Wren")
            self.client.force_login(mine.owner)
            options = reverse("cut:options", args=[mine.pk, made.number])
            if number == 0:
                self.assertEqual(self.client.get(options).context["worked"].corrected, {}, "asked first")
                asked = reverse("record:taught", args=[mine.pk])
                self.assertContains(self.client.get(asked), "Nobody has said.")
                self.assertContains(
                    self.client.post(asked, {"kind": "wood", "counts": "yes"}, follow=True),
                    "no pace of that kind",
                )
                self.client.post(asked, {"kind": "make", "counts": "yes"})
            page = self.client.get(options)
            self.assertEqual(
                page.context["worked"].corrected, {"make": round(1.5 ** ((number + 1) / (number + 2)), 3)}
            )
        self.assertContains(page, "make × 1.35")
        log = self.client.get(reverse("logbook:log", args=[mine.pk, 1]))
        self.assertContains(log, "1.2 times as long")
        self.assertContains(log, "10.0 times as long")
        self.assertContains(self.client.get(reverse("logbook:logbook", args=[mine.pk])), "3.7 times as long")
