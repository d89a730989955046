"""A tablet without signal: what is written waits in the browser and is stored once when it is back."""

import re

from django.urls import reverse

from tests.browser.base import BrowserCase
from tests.builders import DAY, finding, picture, repair, vehicle
from yellow_sill.web.logbook.services import add_note


class WithoutSignal(BrowserCase):
    viewport = {"width": 820, "height": 1180}
    touch = True

    def setUp(self):
        super().setUp()
        self.repair = repair(vehicle(self.owner), [finding(self.owner.vehicles.get())])
        self.log = reverse("logbook:log", args=[self.repair.vehicle_id, self.repair.number])
        self.open(self.log)
        self.page.evaluate("navigator.serviceWorker.ready.then(() => true)")

    def tearDown(self):
        """Without signal, and with what was deleted, a browser complains by itself."""
        self.faults[:] = [each for each in self.faults if not re.search("ERR_INTERNET|ERR_FAILED|^404", each)]
        super().tearDown()

    def off(self):
        self.context.set_offline(True)

    def on(self):
        self.context.set_offline(False)

    def test_a_note_in_the_middle_of_which_the_signal_goes_is_stored_once_when_it_is_back(self):
        note = self.page.locator("form[data-kind=note]")
        note.locator("textarea").fill("Drain in the sill was shut by sealer; opened with a 6 mm drill.")
        self.off()
        note.locator("button").click()
        self.page.wait_for_selector("text=waits in this browser")
        self.assertEqual(note.locator("textarea").input_value(), "")
        self.assertEqual(self.page.locator(".ys-waits").inner_text(), "One entry waits here to be stored")

        self.page.reload()  # nothing answers: the page of what waits comes from the browser
        self.page.wait_for_selector("text=does not answer just now")
        self.assertIn("opened with a 6 mm drill", self.page.inner_text("#waiting"))
        self.page.fill("#text", "Rear seam is leaded")
        self.page.set_input_files(
            "#photo", {"name": "seam.jpg", "mimeType": "image/jpeg", "buffer": picture(size=(90, 60)).read()}
        )
        self.page.click("text=Keep it")
        self.page.wait_for_selector("#waiting img")
        self.assertEqual((self.repair.notes.count(), self.repair.photos.count()), (0, 0))

        self.on()
        self.page.wait_for_selector("text=Nothing waits")
        for _ in range(2):
            self.open(self.log)
        self.assertEqual(
            [each.text for each in self.repair.notes.all()],
            ["Drain in the sill was shut by sealer; opened with a 6 mm drill."],
        )
        self.assertEqual([each.caption for each in self.repair.photos.all()], ["Rear seam is leaded"])
        self.assertTrue(self.page.locator(".ys-waits").is_hidden())

    def test_an_answer_lost_on_the_way_doubles_nothing(self):
        lost = []

        def lose(route):
            answer = route.fetch()
            lost.append(answer.status)
            route.abort()

        self.context.route("**/log/waited/", lose, times=1)
        self.page.locator("form[data-kind=note] textarea").fill("Filler on brass")
        self.page.locator("form[data-kind=note] button").click()
        self.page.wait_for_selector("text=waits in this browser")
        self.assertEqual(
            (lost, self.repair.notes.count()), ([200], 1), "it is stored, and the tablet does not know"
        )
        self.open(self.log)
        self.page.wait_for_selector(".ys-waits", state="hidden")
        self.assertEqual(self.repair.notes.count(), 1)

    def test_a_note_that_somebody_else_changed_meanwhile_is_shown_beside_theirs(self):
        note = add_note(self.repair, written_on=DAY, text="Sill is single skin", by="Wren Askew")
        page = reverse("logbook:note", args=[self.repair.vehicle_id, note.pk])
        self.open(page)
        self.page.fill("textarea", "Sill has a membrane")
        self.off()
        self.page.click("text=Store it")
        self.page.wait_for_selector("text=waits in this browser")
        note.text = "Sill is double"
        note.save()
        self.on()
        self.open("/waiting/")
        self.page.wait_for_selector("text=Somebody changed this note")
        self.assertIn("Sill is double", self.page.inner_text("#waiting"))
        self.page.click("text=Store both")
        self.page.wait_for_selector("text=Nothing waits")
        note.refresh_from_db()
        self.assertEqual(note.text, "Sill is double\r\n\r\nSill has a membrane")

    def test_a_note_for_a_repair_that_is_gone_stays_until_its_author_lets_it_go(self):
        self.page.locator("form[data-kind=note] textarea").fill("Keep me")
        self.off()
        self.page.locator("form[data-kind=note] button").click()
        self.page.wait_for_selector("text=waits in this browser")
        self.repair.delete()
        self.on()
        self.open("/waiting/")
        self.page.wait_for_selector("text=was deleted while you had it open")
        self.assertEqual(self.page.input_value("#waiting textarea"), "Keep me")
        self.page.click("text=Throw it away")
        self.page.click("text=for good")
        self.page.wait_for_selector("text=Nothing waits")
