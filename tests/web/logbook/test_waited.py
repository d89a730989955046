"""What waited in a browser: refused in words, stored once, and only by whoever wrote it."""

import json

from django.test import Client, TestCase
from django.urls import reverse

from tests.builders import DAY, finding, owner, repair, vehicle
from yellow_sill.web.frame.models import Waited
from yellow_sill.web.logbook.models import Note
from yellow_sill.web.logbook.services import add_note, as_written

KEY = "0123456789abcdef" * 2


class Waiting(TestCase):
    def setUp(self):
        self.owner = owner()
        self.repair = repair(vehicle(self.owner), [finding(self.owner.vehicles.get())])
        self.url = reverse("logbook:waited", args=[self.repair.vehicle_id, self.repair.number])
        self.client.force_login(self.owner)

    def sent(self, **changes):
        values = {"key": KEY, "what": "note", "note-text": "Sill is double", "note-written_on": DAY} | changes
        return self.client.post(self.url, values, headers={"Accept": "application/json"})

    def test_one_key_is_stored_once_however_often_it_comes(self):
        for _ in range(3):
            self.assertEqual(self.sent().json(), {"stored": True})
        self.sent(
            key="f" * 32, what="work", **{"work-worked_on": DAY, "work-kind": "cut", "work-typed": "1:30"}
        )
        self.assertEqual((Note.objects.count(), Waited.objects.count()), (1, 2))
        self.assertEqual(self.repair.work_entries.get().minutes, 90)

    def test_a_correction_that_was_stored_and_comes_again_is_no_conflict_with_itself(self):
        note = add_note(self.repair, written_on=DAY, text="Sill is single", by="Wren Askew")
        sent = {"key": KEY, "text": "Sill is double", "written_on": DAY, "was": as_written(note)}
        url = reverse("logbook:note_waited", args=[self.repair.vehicle_id, note.pk])
        for _ in range(2):
            self.assertEqual(self.client.post(url, sent).json(), {"stored": True})
        other = self.client.post(url, sent | {"key": "e" * 32, "text": "Sill has a membrane"})
        self.assertEqual((other.status_code, other.json()["stored"]["text"]), (409, "Sill is double"))

    def test_what_is_wrong_is_said_and_leaves_the_key_unused(self):
        for changes, said in (
            ({"note-text": ""}, "Note: This field is required."),
            ({"note-text": "x" * 4001}, "at most 4000 characters"),
            ({"what": "work", "work-worked_on": DAY, "work-kind": "cut", "work-typed": "soon"}, "soon"),
            ({"what": "photo", "photo-taken_on": DAY}, "Choose a photo first."),
            ({"key": "1"}, "without its key"),
        ):
            with self.subTest(said):
                answer = self.sent(**changes)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(said, answer.json()["error"]["what"])
        self.assertEqual(self.sent().json(), {"stored": True})

    def test_a_stranger_stores_nothing_and_is_told_who_is_signed_in(self):
        self.assertEqual(self.client.get("/waiting/who/").json()["user"], "Wren Askew")
        stranger = Client()
        self.assertEqual(stranger.get("/waiting/who/").json(), {"user": "", "token": ""})
        self.assertContains(stranger.get("/waiting/"), "Waiting to be stored")
        self.assertNotContains(
            self.client.get("/waiting/"), "Wren", msg_prefix="a browser keeps this page for anybody"
        )
        stranger.force_login(owner("Robin"))
        self.assertEqual(stranger.post(self.url, {"key": KEY}).status_code, 404)

    def test_the_worker_keeps_only_what_is_there(self):
        answer = self.client.get("/worker.js")
        self.assertEqual(answer.headers["Content-Type"], "text/javascript")
        kept = json.loads(answer.content.decode().split("self.yellowSill = ")[1].split(";\n")[0])["kept"]
        self.assertGreater(len(kept), 12)
        for path in kept:
            self.assertEqual(self.client.get(path).status_code, 200, path)
