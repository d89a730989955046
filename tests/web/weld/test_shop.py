"""The settings book, stock and bottles, hot work with its watch: stored, refused, taken back, in the bundle."""

from datetime import timedelta

from django.test import TestCase
from django.urls import reverse
from django.utils import timezone

from tests.builders import DAY, finding, owner, picture, repair, vehicle, worked_out
from yellow_sill.core.errors import BadField
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.shells.models import Access, Role, Vehicle
from yellow_sill.web.weld.book_services import setting_for
from yellow_sill.web.weld.hot_services import begin, end_watch, last_spark, running, to_move, watched_until
from yellow_sill.web.weld.models import Coupon, HotWork, WeldShop
from yellow_sill.web.weld.shop_services import needed

COUPON = {
    "what": "keep",
    "process": "mig",
    "joint": "butt",
    "sheets": "1,0",
    "gap_mm": "0.8",
    "wire_mm": "0.6",
    "result": "held",
    "made_on": DAY,
    "note": "bent flat",
    "dial-Current": "42 A",
}
CAUTIONS = ["watch", "extinguisher", "tank", "foam", "fume", "battery"]


class Shop(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)

    def setUp(self):
        self.client.force_login(self.owner)
        self.vehicle = Vehicle.objects.get(pk=self.vehicle.pk)

    def page(self, name):
        return reverse(f"weld:{name}", args=[self.vehicle.pk])

    def test_a_coupon_with_its_photo_proves_its_own_sheets_and_goes_with_the_bundle(self):
        answer = self.client.post(self.page("book"), COUPON | {"photo": picture()})
        self.assertEqual(answer.status_code, 302)
        coupon = Coupon.objects.get()
        self.assertEqual((coupon.thicknesses_mm, coupon.dials), ([1.0], {"Current": "42 A"}))
        self.assertEqual(setting_for(self.vehicle, "mig", "butt", [1.0]).proved, 1)
        self.assertIsNone(setting_for(self.vehicle, "mig", "butt", [1.2]).proved)
        photo = self.client.get(reverse("weld:coupon_photo", args=[self.vehicle.pk, 1]))
        self.assertEqual(photo["Content-Type"], "image/jpeg")
        again = import_vehicle(export_vehicle(self.vehicle), self.owner).coupons.get()
        self.assertTrue(again.file)
        self.assertEqual((again.note, again.result), ("bent flat", "held"))

    def test_a_coupon_is_changed_thrown_away_and_never_numbered_again(self):
        self.client.post(self.page("book"), COUPON)
        here = f"{self.page('book')}?coupon=1"
        self.client.post(here, COUPON | {"version": 1, "note": "cracked", "result": "failed"})
        self.assertEqual(Coupon.objects.get().result, "failed")
        self.assertContains(
            self.client.post(here, COUPON | {"version": 1, "note": "other"}), "cracked", status_code=409
        )
        self.client.post(here, {"what": "drop", "version": 2})
        self.assertEqual(self.client.get(here).status_code, 404)
        self.client.post(self.page("book"), COUPON)
        self.assertEqual(Coupon.objects.get().number, 2)

    def test_refusals_keep_what_was_typed(self):
        for change, words in (
            ({"sheets": ""}, "This field is required"),
            ({"sheets": "thick"}, "is not a number"),
            ({"sheets": "9"}, "0.3 to 4"),
            ({"result": ""}, "This field is required"),
            ({"photo": picture("x.jpg", kind="GIF")}, "not a photo"),
        ):
            with self.subTest(words):
                answer = self.client.post(self.page("book"), COUPON | change)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, "bent flat", status_code=422)
        self.assertFalse(Coupon.objects.exists())

    def test_stock_is_not_known_until_somebody_looks_and_a_bottle_ends_in_a_repair(self):
        first = repair(self.vehicle, [finding(self.vehicle)])
        worked_out(first.cuts.get())
        told = {each.kind: each for each in needed(self.vehicle).things}
        self.assertIsNone(told["gas"].in_stock)
        self.assertIsNone(told["gas"].ends_in)
        read = {"what": "read", "bar": "1", "on": DAY}
        self.assertContains(self.client.post(self.page("shop"), read), "was not said", status_code=422)
        kept = {"what": "keep", "version": 0, "bottle_l": "800", "full_bar": "200", "stock-wire": "0,6"}
        self.assertEqual(self.client.post(self.page("shop"), kept).status_code, 302)
        self.assertContains(
            self.client.post(self.page("shop"), read | {"bar": "240"}),
            "more than a full bottle",
            status_code=422,
        )
        self.client.post(self.page("shop"), read)
        page = self.client.get(self.page("shop"))
        self.assertContains(page, "ends in R-01")
        again = import_vehicle(export_vehicle(self.vehicle), self.owner)
        self.assertEqual(again.weld_shop.readings, WeldShop.objects.get(vehicle=self.vehicle).readings)
        self.client.post(self.page("shop"), {"what": "unread"})
        self.assertEqual(WeldShop.objects.get(vehicle=self.vehicle).readings, [])

    def test_two_people_say_the_stock(self):
        kept = {"what": "keep", "version": 0, "stock-wire": "0.6"}
        self.client.post(self.page("shop"), kept)
        stale = self.client.post(self.page("shop"), kept | {"stock-wire": "5"})
        self.assertEqual(stale.status_code, 409)
        self.assertEqual(WeldShop.objects.get().stock, {"wire": 0.6})


class Hot(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)
        cls.repair = repair(cls.vehicle, [finding(cls.vehicle)])
        cls.panel = cls.repair.cuts.get().panel
        cls.panel.items.create(kind="behind", text="Foam behind the membrane", by="Wren")
        cls.now = timezone.now()

    def setUp(self):
        self.client.force_login(self.owner)
        self.page = reverse("weld:hot", args=[self.vehicle.pk])

    def begun(self):
        moved = [each.key for each in to_move(self.vehicle)]
        return begin(self.vehicle, CAUTIONS, moved, now=self.now, by="Wren")

    def test_nothing_begins_before_all_is_seen_to_and_moved(self):
        self.assertContains(
            self.client.post(self.page, {"what": "begin", "tick": CAUTIONS[:2]}),
            "Not seen to yet: Fuel out",
            status_code=422,
        )
        refused = self.client.post(self.page, {"what": "begin", "tick": CAUTIONS})
        self.assertContains(refused, "Foam behind the membrane", status_code=422)
        self.assertContains(refused, "checked", count=len(CAUTIONS), status_code=422)
        moved = [each.key for each in to_move(self.vehicle)]
        self.assertEqual(
            self.client.post(self.page, {"what": "begin", "tick": CAUTIONS, "moved": moved}).status_code, 302
        )
        self.assertEqual(HotWork.objects.get().moved, [f"{self.panel.code}: Foam behind the membrane"])

    def test_the_watch_shows_on_every_page_and_ends_by_a_name(self):
        work = self.begun()
        self.assertContains(
            self.client.get(reverse("today:today", args=[self.vehicle.pk])), "say the last spark"
        )
        last_spark(work, now=self.now + timedelta(minutes=30), by="Wren")
        self.assertEqual(watched_until(work), self.now + timedelta(minutes=90))
        self.assertContains(
            self.client.get(reverse("survey:survey", args=[self.vehicle.pk]), follow=True), "Fire watch until"
        )
        early = self.now + timedelta(minutes=40)
        for by, note, at, words in (
            ("", "", early, "Who watched"),
            ("Kit", "", early, "minutes of the watch are left"),
        ):
            with self.subTest(words), self.assertRaisesRegex(BadField, words):
                end_watch(work, watched_by=by, note=note, now=at, by="Wren")
        end_watch(work, watched_by="Kit", note="", now=self.now + timedelta(minutes=90), by="Wren")
        self.assertIsNone(running(self.vehicle, self.now))
        again = import_vehicle(export_vehicle(self.vehicle), self.owner).hot_works.get()
        self.assertEqual((again.watched_by, again.last_spark_at), ("Kit", work.last_spark_at))

    def test_refusals(self):
        work = self.begun()
        with self.assertRaisesRegex(BadField, "under way already"):
            self.begun()
        with self.assertRaisesRegex(BadField, "not said yet"):
            end_watch(work, watched_by="Kit", note="", now=self.now, by="Wren")
        last_spark(work, now=self.now, by="Wren")
        with self.assertRaisesRegex(BadField, "clock was set back"):
            last_spark(work, now=self.now - timedelta(minutes=5), by="Wren")
        end_watch(work, watched_by="Kit", note="rain", now=self.now, by="Wren")
        with self.assertRaisesRegex(BadField, "is over"):
            last_spark(work, now=self.now, by="Wren")

    def test_who_may(self):
        for role, status in ((Role.HELPER, 422), (Role.VIEWER, 403)):
            somebody = owner(f"Somebody {role}")
            Access.objects.create(vehicle=self.vehicle, user=somebody, role=role)
            self.client.force_login(somebody)
            self.assertEqual(self.client.post(self.page, {"what": "begin"}).status_code, status)
