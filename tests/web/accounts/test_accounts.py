from datetime import timedelta
from threading import Barrier, Thread
from unittest import mock

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.cache import cache
from django.db import connection
from django.test import Client, TestCase, TransactionTestCase, override_settings
from django.urls import reverse

from tests.builders import finding, owner, vehicle


class Door(TestCase):
    def test_a_first_visit_makes_the_owner_and_then_the_vehicle(self):
        answer = self.client.get("/", follow=True)
        self.assertEqual(answer.redirect_chain[-1][0], reverse("accounts:welcome"))
        typed = {"username": "Wren", "password1": "brazing-rod-77", "password2": "brazing-rod-77"}
        answer = self.client.post(reverse("accounts:welcome"), typed, follow=True)
        self.assertEqual(answer.request["PATH_INFO"], reverse("shells:new"))
        plate = {
            "make": "Marrick",
            "model": "Dunlin",
            "year": "1967",
            "body_no": "D2",
            "currency": "EUR",
            "body_type": "saloon-2-door-unitary",
        }
        sizes = {
            "wheelbase": "2400",
            "overall_length": "3980",
            "front_overhang": "650",
            "width": "1564,0",
            "height": "1345 mm",
            "waist_height": "888",
            "tyre_height": "588",
        }
        answer = self.client.post(
            reverse("shells:new"), plate | sizes | {"sill_length": "1392", "door_length": "1600"}
        )
        self.assertContains(answer, "out of range", status_code=422)
        self.assertContains(answer, 'value="1345 mm"', status_code=422, msg_prefix="nothing typed is lost")
        answer = self.client.post(
            reverse("shells:new"), plate | sizes | {"sill_length": "1392", "door_length": "1300"}
        )
        self.assertContains(answer, "does not fit", status_code=422)
        answer = self.client.post(
            reverse("shells:new"), plate | sizes | {"sill_length": "1392", "door_length": "1066"}, follow=True
        )
        self.assertContains(answer, "Draw the first finding")
        made = get_user_model().objects.get().vehicles.get()
        self.assertEqual((made.dimensions_mm["width"], made.dimensions_typed["width"]), (1564, "1564,0"))
        self.client.logout()
        self.assertRedirects(self.client.get(reverse("accounts:welcome")), "/", fetch_redirect_response=False)
        self.assertIn("/sign-in/", self.client.get("/").url)

    def test_a_name_as_people_have_them_and_a_refused_form_keeps_all(self):
        url, typed = (
            reverse("accounts:welcome"),
            {
                "username": "Wren  O'Askew-Hale",
                "password1": "three long words",
                "password2": "three lnog words",
            },
        )
        refused = self.client.post(url, typed)
        self.assertContains(refused, "Askew-Hale", status_code=422)
        self.assertNotContains(refused, "three long", status_code=422, msg_prefix="no password is sent back")
        self.assertContains(
            self.client.post(url, typed | {"username": "W" * 41}), "at most 40 characters", status_code=422
        )
        self.assertContains(
            self.client.post(url, typed | {"username": "Wr\u200ben"}), "cannot be seen", status_code=422
        )
        self.client.post(url, typed | {"password2": "three long words"})
        self.client.logout()
        known = {"username": "Wren O'Askew-Hale", "password": "three long words"}
        self.assertRedirects(
            self.client.post(reverse("accounts:sign_in"), known), "/", fetch_redirect_response=False
        )

    def test_a_stranger_sees_nothing(self):
        mine = vehicle(owner())
        found = finding(mine)
        stranger = Client()
        stranger.force_login(owner("Robin"))
        for url in (
            reverse("today:today", args=[mine.pk]),
            found.get_absolute_url(),
            reverse("logbook:export", args=[mine.pk]),
        ):
            self.assertEqual(stranger.get(url).status_code, 404)
            self.assertEqual(Client().get(url).status_code, 302)

    def test_wrong_password_is_told_in_words(self):
        owner()
        answer = self.client.post(
            reverse("accounts:sign_in"), {"username": "Wren Askew", "password": "guess"}
        )
        self.assertContains(answer, "do not go together")

    def test_too_many_wrong_passwords_shut_the_door_for_that_name_and_machine_only(self):
        owner(), owner("Robin")
        cache.clear()
        self.addCleanup(cache.clear)
        url, right = reverse("accounts:sign_in"), {"username": "Wren Askew", "password": "brazing-rod-77"}
        for _ in range(settings.AXES_FAILURE_LIMIT - 1):
            self.assertContains(self.client.post(url, right | {"password": "guess"}), "do not go together")
        self.assertContains(
            self.client.post(url, right | {"password": "guess"}), "wait 5 minutes", status_code=429
        )
        shut = self.client.post(url, right)
        self.assertContains(shut, 'value="Wren Askew"', status_code=429)
        self.assertNotContains(shut, "brazing", status_code=429)
        elsewhere = Client(REMOTE_ADDR="10.0.0.9")
        self.assertEqual(elsewhere.post(url, right).status_code, 302)
        self.assertEqual(self.client.post(url, right | {"username": "Robin"}).status_code, 302)
        with mock.patch("axes.helpers.get_cool_off", return_value=timedelta(0)):
            cache.clear()
            self.assertEqual(self.client.post(url, right).status_code, 302)

    def test_where_others_can_reach_it_the_first_account_needs_the_code_of_the_terminal(self):
        url = reverse("accounts:welcome")
        typed = {"username": "Wren", "password1": "brazing-rod-77", "password2": "brazing-rod-77"}
        with override_settings(WELCOME_CODE="1A2B3C4D"):
            self.assertContains(self.client.get(url), "terminal")
            self.assertContains(self.client.post(url, typed), "required", status_code=422)
            self.assertContains(
                self.client.post(url, typed | {"code": "1A2B"}), "not the code", status_code=422
            )
            self.assertEqual(self.client.post(url, typed | {"code": " 1a2b3c4d "}).status_code, 302)
        self.assertEqual(get_user_model().objects.count(), 1)

    def test_a_browser_that_was_left_signed_in_is_ended_from_another(self):
        wren, robin = owner(), owner("Robin")
        url, right = reverse("accounts:sign_in"), {"username": "Wren Askew", "password": "brazing-rod-77"}
        here, tablet, third, other = (
            Client(),
            Client(headers={"User-Agent": "Some Tablet"}),
            Client(),
            Client(),
        )
        for client in (here, tablet, third):
            self.assertEqual(client.post(url, right).status_code, 302)
        other.force_login(robin)
        long_ago = tablet.session
        long_ago["door"] |= {"at": "2026-01-02T08:00+00:00"}
        long_ago.save()
        door = reverse("accounts:door")
        page = here.get(door)
        rows = page.context["rows"]
        self.assertEqual([row.this for row in rows], [True, False, False])
        self.assertIn("2 Jan 2026", rows[2].since, "the latest comes first")
        self.assertContains(page, "A tablet or phone")
        self.assertNotContains(page, tablet.session.session_key)
        self.assertContains(page, "Only this machine can reach")
        mark = next(row.mark for row in page.context["rows"] if row.kind.startswith("a tablet"))
        other.post(door, {"end": mark})
        self.assertEqual(tablet.get(door).status_code, 200, "nobody ends another's")
        self.assertContains(here.post(door, {"end": mark}, follow=True), "Signed out of 1 browser.")
        self.assertEqual(tablet.get(door).status_code, 302)
        here.post(door, {"end": "all"})
        self.assertEqual([client.get(door).status_code for client in (here, third, other)], [200, 302, 200])
        with override_settings(SHARED="https"):
            self.assertContains(here.get(door), "<svg")
        self.assertEqual(wren.vehicles.count(), 0)

    def test_an_expired_form_comes_back_with_what_was_typed(self):
        of = owner()
        mine = vehicle(of)
        strict = Client(enforce_csrf_checks=True, headers={"Origin": "http://testserver"})
        strict.force_login(of)
        url = reverse("survey:new", args=[mine.pk, "left"])
        answer = strict.post(url, {"title": "Sill end <3", "corners": "1, 2"})
        self.assertContains(answer, 'value="Sill end &lt;3"', status_code=403)
        self.assertContains(answer, f'action="{url}"', status_code=403)
        foreign = Client(enforce_csrf_checks=True, headers={"Origin": "http://elsewhere.example"})
        foreign.force_login(of)
        self.assertNotContains(foreign.post(url, {"title": "Sill end"}), "Sill end", status_code=403)
        asked = strict.post(
            reverse("survey:check", args=[mine.pk]),
            "{}",
            content_type="application/json",
            headers={"Accept": "application/json"},
        )
        self.assertEqual(
            (asked.status_code, asked.json()["error"]["what"]), (403, "This page was open too long.")
        )

    def test_a_page_that_is_not_there(self):
        self.client.force_login(owner())
        self.assertContains(self.client.get("/v/1/nowhere/"), "nothing under this address", status_code=404)


class FirstVisits(TransactionTestCase):
    def test_of_eight_at_once_one_makes_the_account(self):
        together, codes = Barrier(8), []

        def visit(i):
            typed = {"username": f"Wren {i}", "password1": "brazing-rod-77", "password2": "brazing-rod-77"}
            together.wait()
            try:
                codes.append(Client().post(reverse("accounts:welcome"), typed).status_code)
            finally:
                connection.close()

        visits = [Thread(target=visit, args=(i,)) for i in range(8)]
        for each in visits:
            each.start()
        for each in visits:
            each.join()
        self.assertEqual((get_user_model().objects.count(), codes), (1, [302] * 8))
