"""A backup is what it says, or it is not made."""

import json
import sqlite3
import zipfile
from contextlib import closing
from datetime import datetime, timedelta
from pathlib import Path
from unittest import TestCase, mock

from hypothesis import given
from hypothesis import strategies as st

from tests.home.builders import KNOWN, NOW, HomeCase, database, picture
from yellow_sill.home import retention
from yellow_sill.home.backup import BadBackup, NothingYet, look_into, make_backup, newest_whole, rehearse
from yellow_sill.home.copies import choose, copies_of, copy_newest
from yellow_sill.home.keeper import keep_up
from yellow_sill.home.places import HomeError


class Making(HomeCase):
    def test_what_is_packed_is_told_and_can_be_rehearsed(self):
        home = self.moved_in(photos=("a.jpg", "b.jpg"))
        made = make_backup(home, None, KNOWN, now=NOW)
        self.assertEqual((made.parent, made.stat().st_mode & 0o777), (home.backups, 0o600))
        told = rehearse(home, made, KNOWN)
        self.assertEqual((told.made_at, told.photos, told.missing), (NOW, 2, 0))
        self.assertIn("1 vehicle, 2 photos", told.words)
        self.assertEqual([path.name for path in home.backups.iterdir()], [made.name])

    def test_what_cannot_be_trusted_is_not_called_a_backup(self):
        self.assertRaisesRegex(
            NothingYet, "nothing to back up yet", make_backup, self.home, None, KNOWN, now=NOW
        )
        database(self.home.database, vehicle="", photos=())
        self.assertRaises(NothingYet, make_backup, self.home, None, KNOWN, now=NOW)
        self.home.database.unlink()
        whole = self.moved_in().database.read_bytes()
        for name, content in {
            "noise": b"\x07" * 5000,
            "half": whole[: len(whole) // 2],
            "a page of noise": whole[:20480] + b"\xff" * 4096 + whole[24576:],
        }.items():
            self.home.database.write_bytes(content)
            with self.subTest(name), self.assertRaisesRegex(BadBackup, "Not backed up"):
                make_backup(self.home, None, KNOWN, now=NOW)
        self.assertFalse(list(self.home.folder.glob("backups/*")))

    def test_what_is_no_backup_of_ours_is_refused_in_words(self):
        good = make_backup(self.moved_in(), None, KNOWN, now=NOW)
        with zipfile.ZipFile(good) as archive:
            parts = {name: archive.read(name) for name in archive.namelist()}
        other = database(self.folder / "other.sqlite3", migrations={*KNOWN, ("shells", "0009_later")})
        empty = database(self.folder / "empty.sqlite3", vehicle="", photos=())
        strange = self.folder / "strange.sqlite3"
        with closing(sqlite3.connect(strange)) as made:
            made.execute("CREATE TABLE songs (name TEXT)")
        db = "yellow-sill.sqlite3"
        plain = {"backup.json": json.dumps({"format": "yellow-sill.backup/1"}).encode()}
        for words, changes in {
            "newer release": plain | {db: other.read_bytes()},
            "is empty": plain | {db: empty.read_bytes()},
            "another program": plain | {db: strange.read_bytes()},
            "larger than it can be": plain | {db: parts[db] + bytes(50_000_000)},
            "it holds 'film.mp4'": parts | {"film.mp4": bytes(9)},
            "it holds 'photos/../../b.jpg'": parts | {"photos/../../b.jpg": picture()},
            "is damaged": parts
            | {db: database(self.folder / "another.sqlite3", vehicle="Heron").read_bytes()},
            "is no backup": {"x": b""},
            "cannot be read": {"backup.json": b"{", db: parts[db]},
        }.items():
            path = self.folder / "bad.zip"
            with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
                for name, content in changes.items():
                    archive.writestr(name, content)
            with self.subTest(words), self.assertRaisesRegex(BadBackup, words):
                look_into(path, KNOWN)
        for content in (good.read_bytes()[: good.stat().st_size // 2], b"noise"):
            (self.folder / "bad.zip").write_bytes(content)
            self.assertRaises(BadBackup, look_into, self.folder / "bad.zip", KNOWN)

    def test_a_photo_that_rotted_is_found_by_the_rehearsal(self):
        home = self.moved_in()
        (home.photos / "a.jpg").write_bytes(picture()[:300])
        made = make_backup(home, None, KNOWN, now=NOW)
        self.assertRaisesRegex(BadBackup, "a.jpg", rehearse, home, made, KNOWN)

    def test_a_receipt_that_came_as_pdf_is_in_it_and_looked_over(self):
        home = self.moved_in(photos=("a.jpg", "r.pdf"))
        (home.photos / "r.pdf").write_bytes(b"%PDF-1.4 a receipt %%EOF")
        made = make_backup(home, None, KNOWN, now=NOW)
        told = rehearse(home, made, KNOWN)
        self.assertEqual((told.photos, told.missing), (2, 0))
        (home.photos / "r.pdf").write_bytes(b"%PDF-1.4 cut sh")
        self.assertRaisesRegex(
            BadBackup,
            "r.pdf",
            rehearse,
            home,
            make_backup(home, home.folder / "again.zip", KNOWN, now=NOW),
            KNOWN,
        )

    def test_a_disk_without_room_is_told_before_anything_is_unpacked(self):
        made = make_backup(self.moved_in(), None, KNOWN, now=NOW)
        with mock.patch("shutil.disk_usage", return_value=mock.Mock(free=1000)):
            self.assertRaisesRegex(BadBackup, "MB free", look_into, made, KNOWN)


class ByThemselves(HomeCase):
    def test_one_a_day_and_what_a_person_made_stays(self):
        home = self.moved_in()
        mine = make_backup(home, None, KNOWN, now=NOW - timedelta(900))
        for day in range(40):
            for hour in (1, 9):
                self.assertEqual(keep_up(home, KNOWN, NOW + timedelta(days=day, hours=hour)), "")
        names = sorted(path.name for path in home.backups.glob("*.zip"))
        self.assertIn(mine.name, names)
        self.assertEqual(
            names[-1], f"yellow-sill-{NOW + timedelta(days=39, hours=1):%Y%m%d-%H%M%S}-daily.zip"
        )
        self.assertLessEqual(len(names) - 1, retention.DAYS + retention.WEEKS + retention.MONTHS)
        self.assertGreaterEqual(len(names) - 1, retention.DAYS + 3)

    def test_a_damaged_database_is_told_and_takes_no_good_backup_away(self):
        home = self.moved_in()
        keep_up(home, KNOWN, NOW)
        home.database.write_bytes(b"noise")
        self.assertIn("cannot be trusted", keep_up(home, KNOWN, NOW + timedelta(30)))
        self.assertIsNotNone(newest_whole(home, KNOWN))

    def test_a_stick_that_is_gone_is_told_since_when_and_caught_up_with(self):
        home, stick = self.moved_in(), self.folder / "stick"
        for typed, words in (
            ("stick", "no whole path"),
            (str(stick), "no folder"),
            (str(home.folder), "in the data folder itself"),
        ):
            self.assertRaisesRegex(HomeError, words, choose, home, typed)
        stick.mkdir()
        choose(home, f" {stick} ")
        keep_up(home, KNOWN, NOW)
        self.assertEqual(len(list(stick.glob("*.zip"))), 1)
        stick.rename(self.folder / "pulled")
        for days in (1, 2):
            keep_up(home, KNOWN, NOW + timedelta(days))
        self.assertEqual(copies_of(home).failing_since, f"{NOW + timedelta(1):%Y-%m-%dT%H:%M}+00:00")
        (self.folder / "pulled").rename(stick)
        self.assertEqual(copy_newest(home, NOW + timedelta(3)).failing_since, "")
        self.assertEqual(len(list(stick.glob("*-daily.zip"))), 2)
        self.assertEqual(choose(home, "").folder, "")


class Keeping(TestCase):
    @given(st.sets(st.integers(0, 800), min_size=1), st.integers(0, 800))
    def test_the_newest_stays_and_nothing_within_a_week_goes(self, days, today):
        start = datetime(2024, 1, 1, 12)
        now = start + timedelta(today)
        made = {start + timedelta(day) for day in days if day <= today} or {now}
        kept = retention.to_keep(made, now)
        self.assertIn(max(made), kept)
        self.assertLessEqual({at for at in made if (now - at).days < retention.DAYS}, kept)
        self.assertLessEqual(len(kept), retention.DAYS + retention.WEEKS + 1 + retention.MONTHS + 1)
        for at in made:  # what goes has a younger one of its month, or is older than the months that are kept
            younger = [
                other for other in kept if other >= at and (other.year, other.month) == (at.year, at.month)
            ]
            self.assertTrue(at in kept or younger or (now - at).days >= 330)

    def test_names_of_other_files_are_left_alone(self):
        for name in (
            "notes.zip",
            "yellow-sill-20261399-000000-daily.zip",
            "yellow-sill-20260214-093000.zip.part",
        ):
            self.assertIsNone(retention.of_name(name))
        self.assertEqual(retention.of_name(Path("yellow-sill-20260214-093000.zip").name)[1], "")
