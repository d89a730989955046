"""A garage: somebody is let in with a link, does what their role allows, and is kept out again."""

import re

from django.test import Client, TestCase
from django.urls import reverse

from tests.builders import DAY, finding, owner, repair, vehicle
from yellow_sill.web.logbook.services import add_note
from yellow_sill.web.shells.models import Access, Role

PAGE = "/people/"
PASSWORDS = {"new_password1": "lap-and-joggle-9", "new_password2": "lap-and-joggle-9"}


class Garage(TestCase):
    def setUp(self):
        self.owner = owner()
        self.vehicle = vehicle(self.owner)
        self.repair = repair(self.vehicle, [finding(self.vehicle)])
        self.log = reverse("logbook:log", args=[self.vehicle.pk, self.repair.number])
        self.client.force_login(self.owner)

    def link(self, answer) -> str:
        return re.search(r"/join/[^<\s]+", answer.content.decode())[0]

    def let_in(self, role: int, name: str = "Juno Vale"):
        """A person with a role, and their own browser, signed in."""
        browser = Client()
        link = self.link(self.client.post(PAGE, {"what": "new", "name": name}))
        person = self.owner.__class__.objects.get(username=name)
        self.client.post(PAGE, {"what": "roles", "user": person.pk, f"role-{self.vehicle.pk}": role})
        browser.post(link, PASSWORDS)
        return person, browser

    def test_a_link_works_once_and_a_password_is_the_persons_own(self):
        link = self.link(self.client.post(PAGE, {"what": "new", "name": "  Juno   Vale "}))
        juno = Client()
        self.assertContains(juno.get(link), "Welcome, Juno Vale")
        refused = juno.post(link, {"new_password1": "short", "new_password2": "short"})
        self.assertContains(refused, "too short", status_code=422)
        self.assertRedirects(juno.post(link, PASSWORDS), "/", fetch_redirect_response=False)
        self.assertContains(juno.get("/", follow=True), "None is opened to you yet")
        self.assertContains(Client().get(link), "worn out", status_code=410)
        for odd in ("/join/MQ/none/", "/join/%C2%B2/x/", f"/join/{'9' * 40}/x/"):
            self.assertEqual(Client().get(odd).status_code, 410)
        self.assertContains(
            self.client.post(PAGE, {"what": "new", "name": "juno vale"}), "already", status_code=422
        )
        self.assertContains(
            self.client.post(PAGE, {"what": "new", "name": " "}), "Write the name", status_code=422
        )

    def test_a_helper_logs_under_their_name_and_changes_only_what_is_theirs(self):
        _, juno = self.let_in(Role.HELPER)
        page = juno.get(self.log)
        self.assertContains(page, "you log hours, notes and photos")
        self.assertContains(page, 'id="ys-openings"')
        juno.post(self.log, {"what": "note", "note-written_on": DAY, "note-text": "Drain was shut by sealer"})
        note = self.repair.notes.get()
        self.assertEqual(note.by, "Juno Vale")
        typed = {"what": "cost", "cost-item": "Discs", "cost-bought_on": DAY}
        refused = juno.post(self.log, typed)
        self.assertContains(refused, "Ask Wren Askew, who owns it", status_code=403)
        self.assertContains(refused, "Discs", status_code=403, msg_prefix="what was typed is shown")
        of_wren = add_note(self.repair, written_on=DAY, text="Order the membrane", by="Wren Askew")
        for entry, status in ((note, 302), (of_wren, 403)):
            path = reverse("logbook:note", args=[self.vehicle.pk, entry.pk])
            self.assertEqual(juno.post(path, {"delete": "1"}).status_code, status)
        self.vehicle.refresh_from_db()
        changes, number = reverse("shells:changes", args=[self.vehicle.pk]), self.vehicle.revision
        self.assertRedirects(juno.post(changes, {"revision": number}), changes, fetch_redirect_response=False)
        self.assertEqual(self.repair.notes.count(), 2, "their own deletion is taken back")
        self.assertEqual(
            juno.post(changes, {"revision": number - 1}).status_code, 403, "Wren's is not theirs"
        )

    def test_helpers_bring_no_vehicles_in_and_see_no_people(self):
        _, juno = self.let_in(Role.VIEWER)
        for path in ("/vehicles/new/", PAGE, reverse("logbook:import")):
            self.assertEqual(juno.get(path).status_code, 403)
        self.assertNotContains(juno.get("/vehicles/"), "Add a vehicle")
        self.assertContains(juno.get("/vehicles/"), "Viewer: looks")

    def test_a_role_given_and_withdrawn_counts_at_the_next_page(self):
        person, juno = self.let_in(Role.VIEWER)
        seen = juno.get(self.log)
        again = lambda: juno.get(self.log, headers={"If-None-Match": seen.headers["ETag"]}).status_code
        self.assertEqual(again(), 304)
        Access.objects.update(role=Role.HELPER)
        self.assertEqual(again(), 200)
        self.client.post(PAGE, {"what": "roles", "user": person.pk, f"role-{self.vehicle.pk}": 0})
        self.assertEqual(again(), 404)
        stranger = vehicle(owner("Robin"))
        self.client.post(PAGE, {"what": "roles", "user": person.pk, f"role-{stranger.pk}": Role.OWNER})
        self.assertFalse(Access.objects.exists(), "nobody opens a vehicle that is not theirs")

    def test_somebody_kept_out_is_out_at_once_and_comes_back_with_the_old_password(self):
        person, juno = self.let_in(Role.HELPER)
        self.client.post(PAGE, {"what": "shut", "user": person.pk})
        self.assertIn("/sign-in/", juno.get(self.log).url)
        self.client.post(PAGE, {"what": "let-in", "user": person.pk})
        self.assertIn("/sign-in/", juno.get(self.log).url, "the old session stays ended")
        juno.post(reverse("accounts:sign_in"), {"username": "Juno Vale", "password": "lap-and-joggle-9"})
        self.assertEqual(juno.get(self.log).status_code, 200)
        self.assertEqual(self.client.post(PAGE, {"what": "shut", "user": self.owner.pk}).status_code, 404)

    def test_only_who_made_the_house_makes_accounts(self):
        robin = Client()
        other = owner("Robin")
        vehicle(other)
        robin.force_login(other)
        self.assertNotContains(robin.get(PAGE), "Somebody new")
        self.assertEqual(robin.post(PAGE, {"what": "new", "name": "Ivo"}).status_code, 404)
        self.assertEqual(robin.post(PAGE, {"what": "shut", "user": self.owner.pk}).status_code, 404)
