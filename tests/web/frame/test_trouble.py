"""A full disk, a folder that may not be written, a busy database: told in words, and nothing typed is lost."""

import errno
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.db import OperationalError, connection
from django.urls import reverse

from tests.builders import DAY, finding, picture, repair
from tests.web.logbook.test_logbook import LogCase
from yellow_sill.web.accounts import sessions
from yellow_sill.web.logbook.models import Note, Photo
from yellow_sill.web.parts.models import CostLine

JSON = {"content_type": "application/json", "headers": {"Accept": "application/json"}}


class FullDisk(LogCase):
    """SQLite itself takes no more pages: the disk is full, as far as it can tell."""

    def fill(self):
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA page_count")
            pages = cursor.fetchone()[0]
            cursor.execute("PRAGMA freelist_count")
            self.assertLess(cursor.fetchone()[0], 200)
            cursor.execute(f"PRAGMA max_page_count = {pages}")
        self.addCleanup(self.make_room)

    def make_room(self):
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA max_page_count = 1073741823")

    def test_the_change_is_refused_with_what_is_missing_and_what_was_typed(self):
        self.fill()
        text = "A long note. " * 120  # more than the free pages hold
        for _ in range(400):
            answer = self.write("note", text=text, written_on=DAY)
            if answer.status_code != 302:
                break
        self.assertContains(answer, "The disk is full", status_code=507)
        self.assertContains(answer, "MB are free", status_code=507)
        self.assertContains(answer, text, status_code=507)
        before = Note.objects.count()
        self.assertEqual(self.client.get(self.url()).status_code, 200, "it can be read")
        self.client.logout()
        signed_in = {"username": "Wren Askew", "password": "brazing-rod-77"}
        full = OperationalError("database or disk is full")
        with mock.patch.object(sessions.StoredSessions, "save", side_effect=full):
            self.assertEqual(self.client.post(reverse("accounts:sign_in"), signed_in).status_code, 302)
            self.assertEqual(self.client.get(self.url()).status_code, 200, "sign-in works")
            self.assertTrue(sessions._unstored)
        key = self.client.session.session_key
        moving = sessions.SessionStore(key)
        with mock.patch.object(sessions.StoredSessions, "save", side_effect=full):
            moving["shell"] = "seen while full"
            moving.save()
        moving = sessions.SessionStore(key)
        moving["panel"] = "stored when there is room"
        self.make_room()
        moving.save()
        self.assertNotIn(key, sessions._unstored)
        kept = sessions.SessionStore(key)
        self.assertEqual((kept["shell"], kept["panel"]), ("seen while full", "stored when there is room"))
        self.assertEqual(self.write("note", text=text, written_on=DAY).status_code, 302)
        self.assertEqual(Note.objects.count(), before + 1)
        self.client.logout()
        self.assertFalse(sessions._unstored)


class NoRoomForFiles(LogCase):
    def send(self):
        return self.write("photo", photo=picture(), caption="Sill", taken_on=DAY)

    def test_no_half_photo_is_left_and_the_caption_is_kept(self):
        for number, words in (
            (errno.ENOSPC, "disk is full"),
            (errno.EROFS, "may not be written"),
            (errno.EACCES, "may not be written"),
        ):
            with mock.patch("yellow_sill.home.places.os.fsync", side_effect=OSError(number, "no")):
                answer = self.send()
            self.assertContains(answer, words, status_code=507)
            self.assertContains(answer, "Sill", status_code=507)
            self.assertContains(answer, "Only the file must be chosen again", status_code=507)
        self.assertEqual(Photo.objects.count(), 0)
        self.assertEqual(list(Path(settings.MEDIA_ROOT).glob("*")), [])
        with mock.patch(
            "yellow_sill.web.logbook.services.Photo.objects.create",
            side_effect=OperationalError("database is locked"),
        ):
            self.assertContains(self.send(), "Others are storing", status_code=503)
        self.assertEqual(list(Path(settings.MEDIA_ROOT).glob("*")), [])
        self.assertEqual(self.send().status_code, 302)

    def test_a_script_is_told_too_and_another_fault_stays_one(self):
        url = reverse("survey:looked", args=[self.vehicle.pk, "left"])
        values = {"corners": [[600, 200], [2000, 400]], "method": "probe"}
        work = "yellow_sill.web.survey.views.board.mark_looked"
        for said, status in (
            ("attempt to write a readonly database", 507),
            ("disk I/O error", 507),
            ("database is locked", 503),
        ):
            with mock.patch(work, side_effect=OperationalError(said)):
                answer = self.client.post(url, values, **JSON)
            self.assertEqual(answer.status_code, status)
            self.assertTrue(answer.json()["error"]["mend"])
        with (
            mock.patch(work, side_effect=OperationalError("no such table: x")),
            self.assertRaises(OperationalError),
        ):
            self.client.post(url, values, **JSON)
        self.assertEqual(CostLine.objects.count(), 0)
        self.assertIsNotNone(repair(self.vehicle, [finding(self.vehicle)]))


class HostileBoards(LogCase):
    def test_figures_and_signs_that_no_page_sends_are_refused_as_what_cannot_be_read(self):
        url = reverse("survey:looked", args=[self.vehicle.pk, "left"])
        for body in (
            '{"corners": [[1e400, 1], [2, 2], [3, 1]], "method": "probe"}',
            '{"corners": [[NaN, 1], [2, 2], [3, 1]], "method": "probe"}',
            '{"corners": [[1' + "0" * 400 + ', 1], [2, 2], [3, 1]], "method": "probe"}',
            '{"corners": [[600, 200], [2000, 400]], "method": "\\ud800"}',
            '{"corners": [[600, 200], [2000, 400]], "method": "a\\u0000"}',
            "[" * 100_000,
        ):
            answer = self.client.post(url, body, **JSON)
            self.assertEqual(answer.status_code, 422)
            self.assertIn("cannot be read", answer.json()["error"]["what"])
