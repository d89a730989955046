"""Orders over the wire: the basket worked out and taken, a simulated supplier that answers, is dearer, wrong, silent or talks nonsense; what is lacking becomes a need."""

import threading
import time
from contextlib import contextmanager
from datetime import timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

from django.test import TestCase
from django.urls import reverse

from tests.builders import finding, owner, panel, repair, vehicle
from yellow_sill.devices.supplier import MOODS, serve
from yellow_sill.web.frame import days, jobs
from yellow_sill.web.frame.models import Job
from yellow_sill.web.logbook.bundle import export_vehicle, import_vehicle
from yellow_sill.web.parts import catalogue
from yellow_sill.web.parts.models import PartOrder
from yellow_sill.web.survey.panel_services import add_item
from yellow_sill.web.weld.shop_services import shop_of

QUOTE = {"what": "quote", "source": "reproduction", "currency": "GBP", "rate": "1", "tax_rate": "20", "tax_in": "yes", "carriage": "5", "days": "4", "hours": "0"}  # fmt: skip


class Nonsense(BaseHTTPRequestHandler):
    """A supplier that answers with what is none."""

    says = b"<html>We moved!</html>"

    def do_GET(self):
        self.send_response(200)
        self.end_headers()
        self.wfile.write(self.says)

    def log_message(self, *_told):
        """It says nothing."""


@contextmanager
def answering(server):
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{server.server_address[1]}"
    finally:
        server.shutdown()
        server.server_close()


class Orders(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = owner()
        cls.vehicle = vehicle(cls.owner)

    def setUp(self):
        self.client.force_login(self.owner)
        self.page = reverse("parts:orders", args=[self.vehicle.pk])

    def need(self, name, **more):
        self.client.post(
            reverse("parts:wanted", args=[self.vehicle.pk]),
            {"what": "keep", "name": name, "quantity": "1", **more},
        )
        return self.vehicle.needs.get(name=name)

    def quote(self, need, name, price, **more):
        page = reverse("parts:need", args=[self.vehicle.pk, need.number])
        self.assertEqual(
            self.client.post(page, QUOTE | {"name": name, "price": price, **more}).status_code, 302
        )

    def supplier(self, name="Lantern Panels", **more):
        sent = {"what": "supplier", "name": name, "carriage": "8", "carriage_kg": "0", "minimum": "0", **more}
        return self.client.post(self.page, sent)

    def state(self, need):
        return need.steps.last().state

    def test_a_basket_is_worked_out_and_ordered(self):
        self.assertContains(
            self.client.post(self.page, {"what": "basket"}), "no open need has a quote", status_code=422
        )
        by = (days.today() + timedelta(60)).isoformat()
        sill, seal = self.need("Sill", needed_by=by, kg="4,5"), self.need("Seal")
        self.quote(sill, "Lantern Panels", "100")
        self.quote(sill, "Old Tin Barn", "104")
        self.quote(seal, "Lantern Panels", "20")
        first, last = (f"{days.today() + timedelta(each):%Y-%m-%d}" for each in (5, 9))
        for bad, words in (
            ("5 Jan, x", "not a first day"),
            (f"{last}, {first}, 25", "end before they begin"),
            (f"{first}, {last}, 120", "out of range"),
        ):
            self.assertContains(self.supplier(discounts=bad), words, status_code=422)
        self.assertRedirects(self.supplier(discounts=f"{first}, {last}, 25"), self.page)
        self.assertContains(self.supplier(), "supplier of that name", status_code=422)
        found = self.client.post(self.page, {"what": "basket"})
        self.assertContains(self.client.get(found.url), "data-progress")
        jobs.work_off()
        shown = self.client.get(found.url)
        self.assertNotIn("ETag", shown)  # it goes on while nothing is stored
        self.assertContains(shown, "Waiting saves £\u00a030.00")
        self.assertContains(shown, "£\u00a090.00")
        self.assertNotContains(shown, 'name="need" value="1 Sill" checked')
        self.assertEqual(self.state(sill), "wanted")
        self.assertContains(
            self.client.post(self.page, {"what": "place", "from": "Lantern Panels"}),
            "Nothing is ticked",
            status_code=422,
        )
        self.client.post(
            self.page,
            {"what": "place", "from": "Lantern Panels", "need": ["1 Sill", "2 Seal"], "why": "as worked out"},
        )
        order = PartOrder.objects.get()
        self.assertEqual((self.state(sill), self.state(seal), order.needs.count()), ("ordered", "ordered", 2))
        again = self.client.post(self.page, {"what": "place", "from": "Lantern Panels", "need": ["1 Sill"]})
        self.assertContains(again, "not to be ordered", status_code=422)
        self.assertContains(self.client.get(found.url), "have changed since")
        paper = self.client.get(reverse("parts:order_pdf", args=[self.vehicle.pk, order.number]))
        self.assertTrue(paper.content.startswith(b"%PDF"))
        brought = import_vehicle(export_vehicle(self.vehicle), owner("Somebody else"))
        self.assertEqual(
            (brought.part_orders.get().needs.count(), brought.suppliers.get().discounts[0]["percent"]),
            (2, "25"),
        )

    def in_catalogue(self, mood, day_s=60.0):
        """A shop, the left outer sill of which is in that mood."""
        shop = serve("Lantern Panels", port=0, day_s=day_s)
        item = next(
            each
            for each in shop.RequestHandlerClass.shop.items
            if each["name"] == "Outer sill" and each["hand"] == "left"
        )
        item["mood"] = mood
        self.shop = shop.RequestHandlerClass.shop
        return shop, item

    def quoted(self, address, item):
        self.supplier(address=address)
        need = self.need("Outer sill", hand="left")
        page = reverse("parts:need", args=[self.vehicle.pk, need.number])
        number = self.vehicle.suppliers.get().number
        self.assertContains(self.client.get(page, {"look": number, "words": "sill"}), item["ref"])
        other = next(
            each["ref"]
            for each in self.shop.items
            if each["name"] == item["name"] and each["hand"] == "right"
        )
        self.assertContains(
            self.client.post(page, {"what": "offer", "look": number, "ref": other}),
            "a left one is wanted",
            status_code=422,
        )
        self.client.post(page, {"what": "offer", "look": number, "ref": item["ref"]})
        self.assertEqual(need.quotes.get().ref, item["ref"])
        return need

    def order(self, need):
        return self.client.post(
            self.page,
            {"what": "place", "from": "Lantern Panels", "need": [f"{need.number} Outer sill"], "wire": "yes"},
        )

    def test_an_order_goes_to_the_catalogue_once_and_is_followed(self):
        shop, item = self.in_catalogue("wrong", day_s=0.01)
        with answering(shop) as address:
            need = self.quoted(address, item)
            self.assertRedirects(self.order(need), self.page)
            stored = PartOrder.objects.get()
            self.assertEqual((self.state(need), len(shop.RequestHandlerClass.shop.orders)), ("ordered", 1))
            sent = {
                "ref": item["ref"],
                "quantity": 1,
                "price": need.quotes.get().price,
                "mine": f"{self.vehicle.pk}-1-{need.number}-1",
            }
            catalogue.place(address, **sent)  # the same again
            self.assertEqual(len(shop.RequestHandlerClass.shop.orders), 1)
            time.sleep(0.02 * item["days"])
            self.client.post(self.page, {"what": "ask", "order": stored.number})
        stored.refresh_from_db()
        self.assertEqual(stored.state, "delivered")
        self.assertIn("which was not ordered", stored.told)

    def test_a_price_that_changed_is_told_and_nothing_is_ordered(self):
        shop, item = self.in_catalogue("dearer")
        with answering(shop) as address:
            need = self.quoted(address, item)
            need.quotes.update(price=item["price"])
            answer = self.order(need)
        self.assertContains(answer, "was quoted", status_code=422)
        self.assertFalse(PartOrder.objects.exists())
        self.assertEqual(self.state(need), "wanted")

    def test_what_the_supplier_took_is_ordered_though_it_refuses_the_next(self):
        shop, item = self.in_catalogue("steady")
        with answering(shop) as address:
            need = self.quoted(address, item)
            flap = self.need("Mud flap")
            self.quote(flap, "Lantern Panels", "9")
            flap.quotes.update(
                ref=next(each["ref"] for each in self.shop.items if each["name"] == "Mud flap")
            )
            for each in self.shop.items:  # it is dearer by the time it is ordered
                each.update({"price": "9.00", "mood": "dearer"} if each["name"] == "Mud flap" else {})
            self.shop.seen[flap.quotes.get().ref] = 1
            answer = self.client.post(
                self.page,
                {
                    "what": "place",
                    "from": "Lantern Panels",
                    "need": [f"{need.number} Outer sill", f"{flap.number} Mud flap"],
                    "wire": "yes",
                },
            )
            self.assertRedirects(answer, self.page)
        stored = PartOrder.objects.get()
        self.assertEqual((self.state(need), self.state(flap), stored.needs.count()), ("ordered", "wanted", 1))
        self.assertIn("Mud flap was not taken", stored.told)

    def test_silence_and_nonsense_are_told_and_nothing_is_lost(self):
        shop, item = self.in_catalogue("steady")
        with answering(shop) as address:
            need = self.quoted(address, item)
        page = reverse("parts:need", args=[self.vehicle.pk, need.number])
        number = self.vehicle.suppliers.get().number
        self.assertContains(self.client.get(page, {"look": number}), "does not answer")
        self.assertContains(self.order(need), "does not answer", status_code=422)
        with answering(ThreadingHTTPServer(("127.0.0.1", 0), Nonsense)) as address:
            self.vehicle.suppliers.update(address=address)
            for says in (
                b"<html>",
                b'{"firm": 5}',
                b'{"firm": "X", "items": [{"ref": "a", "price": "-3"}]}',
                b"[" * 100,
                b"x" * 1_100_000,
            ):
                Nonsense.says = says
                self.assertContains(self.client.get(page, {"look": number}), "makes no sense")
        self.assertContains(
            self.supplier(name="Other", address="file:///etc/passwd"),
            "no address of a catalogue",
            status_code=422,
        )
        self.assertEqual((need.quotes.count(), self.state(need)), (1, "wanted"))

    def test_every_mood_of_the_shop_is_there(self):
        shop = serve("Harbour Breakers", port=0)
        try:
            self.assertEqual(
                {each["mood"] for each in shop.RequestHandlerClass.shop.items} | {"steady"}, set(MOODS)
            )
        finally:
            shop.server_close()

    def test_what_is_lacking_is_wanted_by_a_tap(self):
        wing = panel(self.vehicle, "L-WING")
        add_item(wing, kind="missing", text="Splash plate", by="W")
        add_item(wing, kind="behind", text="Loom", by="W")
        repair(self.vehicle, [finding(self.vehicle)])
        shop = shop_of(self.vehicle)
        shop.stock = {"discs": 0.0}
        shop.save()
        page = reverse("parts:wanted", args=[self.vehicle.pk])
        shown = self.client.get(page)
        self.assertContains(shown, "Splash plate")
        self.assertNotContains(shown, "Loom")
        self.assertContains(shown, "Grinding discs")
        key = f"item-{wing.items.get(kind='missing').pk}"
        self.client.post(page, {"what": "missing", "key": key})
        self.assertEqual(self.vehicle.needs.get().view.name, wing.view.name)
        self.assertTrue(
            self.client.get(reverse("parts:wanted_pdf", args=[self.vehicle.pk])).content.startswith(b"%PDF")
        )
        self.assertFalse(Job.objects.exists())
