"""Faces and coats over the wire, clocks on every page, rules overruled in writing, the closing check as a gate, all in the bundle."""

from datetime import timedelta

from django.test import TestCase
from django.urls import reverse
from django.utils import timezone

from tests.builders import DAY, finding, owner, panel, repair, vehicle
from yellow_sill.core.errors import BadField
from yellow_sill.web.frame.revision import forget
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.protect.clock_services import alerts, running_today
from yellow_sill.web.protect.closing_services import box_of, closing_gate
from yellow_sill.web.protect.face_services import face_at, faces_of, overrule, put_coat
from yellow_sill.web.protect.models import BoxWord, Coat, Face
from yellow_sill.web.protect.product_services import own_products, say_warmth
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.services import asked_before
from yellow_sill.web.weld.models import WeldPlan

TIN = {
    "what": "keep", "name": "Red epoxy", "kind": "epoxy primer", "over": ["bare", "converter"], "opens": "10: 8; 20: 3", "closes": "20: 96", "cured": "20: 168",
    "least_c": "8", "litre_m2": "7", "burns_c": "200", "shelf_months": "24", "bought_on": "", "litres": "",
}  # fmt: skip


class Protected(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.repair = repair(cls.vehicle, [finding(cls.vehicle), finding(cls.vehicle, "L-SILLI")])
        cls.now = timezone.now()

    def setUp(self):
        forget()
        self.client.force_login(self.owner)
        self.repair = Repair.objects.select_related("vehicle").get(pk=self.repair.pk)
        self.skin = self.repair.cuts.get(panel=panel(self.vehicle))

    def page(self, name="protect", room="repair"):
        args = [self.vehicle.pk, self.repair.number] if room == "repair" else [self.vehicle.pk]
        return reverse(f"protect:{name}", args=args)

    def face(self, key="inner"):
        return face_at(faces_of(self.repair, self.now), f"{self.skin.number}-{key}")

    def put(self, name, hours_ago, *keys):
        put_coat(
            self.repair,
            self.skin,
            keys or ["inner"],
            name,
            put_on=self.now - timedelta(hours=hours_ago),
            note="",
            now=self.now,
            by="Wren",
        )

    def test_nothing_is_known_until_somebody_says_so(self):
        faces = faces_of(self.repair, self.now)
        self.assertEqual({each.told.state for each in faces}, {"unknown"})
        self.assertEqual({each.told.finished for each in faces}, {None})
        self.assertFalse(Face.objects.exists(), "looking stores nothing")
        self.assertContains(self.client.get(self.page()), "Nobody has said what is on it.")

    def test_a_coat_is_put_on_over_the_page_runs_by_the_garage_and_is_taken_off(self):
        here = f"{self.page()}?face={self.skin.number}-inner"
        put_on = timezone.localtime(self.now - timedelta(hours=2)).strftime("%Y-%m-%dT%H:%M")
        sent = {
            "what": "coat",
            "product": "Rust converter",
            "faces": ["inner"],
            "put_on": put_on,
            "at_c": "",
            "note": "thin",
        }
        self.client.post(here, sent)
        self.assertContains(self.client.get(here), "how warm it has been is not known")
        self.client.post(here, {"what": "off"})
        self.assertFalse(Coat.objects.exists())
        self.client.post(here, sent | {"at_c": "20"})
        self.assertContains(self.client.get(here), "Rust converter: the next coat may go on in 22 h")
        self.assertIn("converter", str(list(alerts(self.vehicle, self.now))[0].words))

    def test_refusals_keep_what_was_typed(self):
        here = f"{self.page()}?face={self.skin.number}-inner"
        coat = {
            "what": "coat",
            "product": "Rust converter",
            "faces": ["inner"],
            "put_on": "2026-02-14T10:00",
            "note": "thin",
        }
        for change, words in (
            ({"product": "Nothing"}, "Select a valid choice"),
            ({"faces": []}, "This field is required"),
            ({"put_on": "soon"}, "Type the day and time"),
            ({"put_on": "2099-01-01T10:00"}, "has not come yet"),
            ({"at_c": "200"}, "out of range"),
        ):
            with self.subTest(words):
                answer = self.client.post(here, coat | change)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, 'value="thin"', status_code=422)
        self.assertFalse(Coat.objects.exists())
        self.put("Rust converter", 3)
        with self.assertRaisesRegex(BadField, "A later coat lies"):
            self.put("Epoxy primer, two-part", 9)
        self.assertContains(
            self.client.post(here, {"what": "overrule", "rule": "PROT-99", "why": "x"}),
            "no such rule",
            status_code=422,
        )

    def test_a_rule_is_told_and_overruled_in_writing_only(self):
        say_warmth(self.vehicle, 20, since=self.now - timedelta(days=9), now=self.now, by="Wren")
        self.put("Rust converter", 30)
        self.put("Epoxy primer, two-part", 1)
        (broken,) = [one for one in self.face().broken if one.code == "PROT-05"]
        self.assertIn("had not cured", str(broken.what))
        overrule(self.skin, "inner", "PROT-05", "The tin says two hours", by="Wren")
        self.assertEqual(
            [one.overruled for one in self.face().broken if one.code == "PROT-05"], ["The tin says two hours"]
        )
        overrule(self.skin, "inner", "PROT-05", " ", by="Wren")
        self.assertEqual([one.overruled for one in self.face().broken if one.code == "PROT-05"], [""])

    def test_paint_before_a_weld_is_burnt_back_and_paint_after_it_is_not(self):
        say_warmth(self.vehicle, 20, since=self.now - timedelta(days=9), now=self.now, by="Wren")
        self.put("Epoxy primer, two-part", 40)
        weld = WeldPlan.objects.create(
            cut=self.skin,
            events=[
                {
                    "seam": 0,
                    "at": [700, 300],
                    "what": "done",
                    "when": timezone.localtime(self.now - timedelta(hours=20))
                    .replace(tzinfo=None)
                    .isoformat(),
                    "by": "W",
                }
            ],
            tack_plans=[
                {
                    "tacks": [{"at": [700, 300], "n": 1, "pass": 1}],
                    "hottest_before_tack_C": 15,
                    "path": [[700, 300], [800, 300]],
                    "closed": False,
                }
            ],
        )
        self.assertIn("PROT-10", [one.code for one in self.face().broken])
        weld.events = []
        weld.save()
        self.assertNotIn("PROT-10", [one.code for one in self.face().broken])

    def test_the_closing_check_is_a_gate_and_more_said_never_hides_what_is_open(self):
        Repair.objects.filter(pk=self.repair.pk).update(state="fitted")
        self.repair.refresh_from_db()
        self.repair.steps.create(state="fitted", made_on=DAY, by="Wren")
        lines, gate = asked_before(self.repair, "welded", DAY)
        self.assertEqual({line.key for line in lines}, {"tacked", "closing"})
        self.assertFalse(gate.open)
        log = self.client.get(reverse("logbook:log", args=[self.vehicle.pk, self.repair.number]))
        self.assertContains(log, "not ready to close")
        step = {
            "what": "step",
            "step-state": "welded",
            "step-made_on": DAY,
            "step-version": self.repair.version,
        }
        refused = self.client.post(
            log.wsgi_request.path, step | {"step-despite-closing": "seen with a mirror"}
        )
        self.assertEqual(refused.status_code, 422)
        self.assertContains(refused, "seen with a mirror", status_code=422)
        self.client.post(
            log.wsgi_request.path,
            step | {"step-despite-closing": "seen with a mirror", "step-despite-tacked": "no datum near"},
        )
        kept = self.repair.steps.last()
        self.assertEqual(kept.state, "welded")
        self.assertIn("closing check: seen with a mirror", kept.despite)

    def test_the_box_is_corrected_by_hand_refused_where_it_contradicts_itself_and_told_by_two(self):
        here = self.page("box")
        self.assertContains(self.client.get(here), "Before the box closes")
        rows = {
            "version": 0,
            "cavity": "",
            "pocket": ["front", "rear", ""],
            "to": ["outside", "front", ""],
            "litres": ["", "0,3", ""],
            "what_still": ["Dress it", ""],
            "tool": ["dolly", ""],
            "reaches": ["no", ""],
        }
        self.client.post(here, rows)
        word = BoxWord.objects.get()
        self.assertEqual(word.pockets[1], {"name": "rear", "to": ["front"], "litres": 0.3})
        told = box_of(self.repair, self.now).told
        self.assertEqual(told.water["rear"], ["rear", "front", "outside"])
        self.assertFalse(told.ready)
        for change, words in (
            ({"to": ["nowhere", "", ""]}, "which is no pocket here"),
            ({"litres": ["much", "", ""]}, "is not a number"),
        ):
            answer = self.client.post(here, rows | {"version": 1} | change)
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, 'value="rear"', status_code=422)
        self.assertEqual(
            self.client.post(
                here, rows | {"pocket": ["other", "", ""], "to": ["outside", "", ""]}
            ).status_code,
            409,
        )

    def test_a_repair_that_closes_no_box_asks_nothing(self):
        self.repair.state = "fitted"
        self.assertIsNotNone(closing_gate(self.repair, "welded", DAY))
        self.assertIsNone(closing_gate(self.repair, "made", DAY))
        self.repair.cuts.all().delete()
        self.assertIsNone(closing_gate(self.repair, "welded", DAY))

    def test_products_are_kept_changed_and_refused(self):
        here = self.page("products", "vehicle")
        self.client.post(here, TIN)
        (tin,) = own_products(self.vehicle)
        self.assertEqual([(each.at_c, each.hours) for each in tin.opens], [(10.0, 8.0), (20.0, 3.0)])
        for change, words in (
            ({"closes": "20: 2"}, "recoat window of Red epoxy ends before it opens"),
            ({"over": ["epoxy primer"]}, "goes over itself only"),
            ({"opens": "warm: 3"}, "is not a number"),
            ({"opens": "20: -3"}, "Type degrees and hours"),
        ):
            with self.subTest(words):
                answer = self.client.post(here, TIN | change)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, "Red epoxy", status_code=422)
        self.client.post(f"{here}?product=1", TIN | {"version": 1, "litres": "0,4"})
        self.assertEqual(self.vehicle.products.get().litres, 0.4)
        future = self.client.post(here, {"what": "warm", "at_c": "20", "since": "2099-01-01T10:00"})
        self.assertContains(future, "has not come yet", status_code=422)
        self.client.post(here, {"what": "warm", "at_c": "-3", "since": "2026-01-01T10:00"})
        self.client.post(here, {"what": "cold", "line": self.vehicle.warmths.get().pk})
        self.assertFalse(self.vehicle.warmths.exists())

    def test_clocks_tell_what_runs_out_within_the_day_and_what_is_not_known(self):
        self.put("Epoxy primer, two-part", 60)
        self.assertIn("not known", str([each.words for each in running_today(self.vehicle, self.now)]))
        say_warmth(self.vehicle, 20, since=self.now - timedelta(days=9), now=self.now, by="Wren")
        forget()
        (alert,) = alerts(self.vehicle, self.now)
        self.assertEqual((alert.until, alert.urgent), (self.now + timedelta(hours=12), True))
        today = self.client.get(reverse("today:today", args=[self.vehicle.pk]))
        self.assertContains(today, "<h2>Meanwhile</h2>")

    def test_all_of_it_goes_with_the_bundle_and_into_the_record(self):
        self.client.post(self.page("products", "vehicle"), TIN)
        say_warmth(self.vehicle, 18, since=self.now - timedelta(days=3), now=self.now, by="Wren")
        self.put("Red epoxy", 20)
        overrule(self.skin, "inner", "PROT-11", "seen", by="Wren")
        self.client.post(
            self.page("box"), {"version": 0, "cavity": "", "pocket": ["a"], "to": ["outside"], "litres": [""]}
        )
        record = self.client.get(reverse("logbook:record", args=[self.vehicle.pk, self.repair.number]))
        self.assertContains(record, "Red epoxy")
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        coat = Coat.objects.get(face__cut__repair__vehicle=again)
        self.assertEqual(
            (coat.product["name"], coat.put_on), ("Red epoxy", Coat.objects.get(face__cut=self.skin).put_on)
        )
        self.assertEqual(coat.face.overruled, {"PROT-11": "seen"})
        self.assertEqual(again.products.get().name, "Red epoxy")
        self.assertEqual(again.warmths.get().at_c, 18)
        self.assertEqual(BoxWord.objects.get(repair__vehicle=again).pockets[0]["name"], "a")
