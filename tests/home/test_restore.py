"""A restore works exactly when it is needed, and can be broken off at each of its steps."""

import shutil
import sqlite3
from contextlib import closing
from pathlib import Path
from unittest import mock

from tests.home.builders import KNOWN, NOW, HomeCase, database, picture
from yellow_sill.home.backup import BadBackup, NothingYet, make_backup
from yellow_sill.home.look_over import first_look, look_over
from yellow_sill.home.places import Busy, Home, in_use
from yellow_sill.home.restore import go_on, restore


class PowerCut(BaseException):
    """Nothing after it runs."""


class Restoring(HomeCase):
    def setUp(self):
        super().setUp()
        self.file = make_backup(
            self.moved_in(Home.at(self.folder / "before"), vehicle="Heron", photos=("h.jpg",)),
            self.folder / "kept.zip",
            KNOWN,
            now=NOW,
        )

    def has_come_back(self):
        self.assertEqual(self.model(), "Heron")
        self.assertEqual([path.name for path in self.home.photos.iterdir()], ["h.jpg"])
        self.assertFalse(self.home.restoring.exists())

    def test_what_was_here_is_kept_aside_whatever_it_is(self):
        for name, content in {"whole": None, "noise": b"noise", "nothing": b""}.items():
            with self.subTest(name):
                shutil.rmtree(self.home.folder, ignore_errors=True)
                self.moved_in()
                if content is not None:
                    self.home.database.write_bytes(content)
                    self.home.database.with_name(self.home.database.name + "-wal").write_bytes(
                        b"log of noise"
                    )
                aside = restore(self.home, self.file, KNOWN, now=NOW)
                self.has_come_back()
                self.assertEqual([path.name for path in (aside / "photos").iterdir()], ["a.jpg"])
                if content is None:
                    self.assertEqual(self.model(aside / self.home.database.name), "Dunlin")
                    self.assertEqual(len(list(self.home.backups.glob("*-before-restore.zip"))), 1)
                else:
                    self.assertEqual((aside / self.home.database.name).read_bytes(), content)
        shutil.rmtree(self.home.folder)
        self.assertIsNone(restore(self.home, self.file, KNOWN, now=NOW), "into a new house")
        self.has_come_back()

    def test_what_is_refused_moves_nothing(self):
        self.moved_in()
        (self.folder / "bad.zip").write_bytes(self.file.read_bytes()[:1000])
        self.assertRaises(BadBackup, restore, self.home, self.folder / "bad.zip", KNOWN, now=NOW)
        with in_use(self.home):
            self.assertRaisesRegex(Busy, "is running", restore, self.home, self.file, KNOWN, now=NOW)
        self.assertEqual(self.model(), "Dunlin")
        self.assertEqual(
            {path.name for path in self.home.folder.iterdir()}
            - {"yellow-sill.sqlite3-wal", "yellow-sill.sqlite3-shm"},
            {"yellow-sill.sqlite3", "photos", ".in-use"},
        )

    def test_broken_off_at_any_step_the_next_start_finishes_or_undoes_it(self):
        """Every change of the disk in turn is the last one that happens."""
        steps = 0
        while True:
            shutil.rmtree(self.home.folder, ignore_errors=True)
            self.moved_in()
            if not self.broken_off_after(steps):
                break
            finished = go_on(self.home)
            with self.subTest(steps=steps, finished=finished):
                self.assertFalse(self.home.restoring.exists())
                self.assertFalse(go_on(self.home))
                if finished:
                    self.has_come_back()
                    (aside,) = self.home.folder.glob("before-restore-*")
                    self.assertEqual(self.model(aside / self.home.database.name), "Dunlin")
                    self.assertEqual([path.name for path in (aside / "photos").iterdir()], ["a.jpg"])
                else:
                    self.assertIn(self.model(), ("Dunlin", "Heron"))
                    self.assertEqual(
                        [path.name for path in self.home.photos.iterdir()],
                        ["a.jpg"] if self.model() == "Dunlin" else ["h.jpg"],
                    )
            steps += 1
        self.assertGreater(steps, 9)

    def broken_off_after(self, steps: int) -> bool:
        """Restore until so many renames, unlinks, writes and folders were made. Returns: whether it was broken off."""
        left = [steps]

        def counted(work):
            def inner(*args, **kwargs):
                if left[0] == 0:
                    raise PowerCut
                left[0] -= 1
                return work(*args, **kwargs)

            return inner

        patched = [
            mock.patch.object(Path, name, counted(getattr(Path, name)))
            for name in ("rename", "replace", "unlink", "mkdir", "write_bytes")
        ]
        patched += [
            mock.patch("yellow_sill.home.restore.shutil.rmtree", counted(shutil.rmtree)),
            mock.patch("yellow_sill.home.restore._save_what_is_here"),
        ]
        try:
            for each in patched:
                each.start()
            restore(self.home, self.file, KNOWN, now=NOW)
        except PowerCut:
            return True
        finally:
            for each in patched:
                each.stop()
        return False


class Starting(HomeCase):
    def test_a_sound_house_a_new_one_and_an_older_one_start(self):
        self.assertEqual(first_look(self.home).fault + look_over(self.home, KNOWN).fault, "")
        self.moved_in(photos=("a.jpg", "b.jpg"))
        (self.home.photos / "b.jpg").unlink()
        self.home.folder.chmod(0o755)
        self.home.database.chmod(0o644)
        told = look_over(self.home, KNOWN)
        self.assertEqual((told.fault, told.older), ("", False))
        self.assertIn("1 photo is missing", " ".join(told.notes))
        self.assertEqual(self.home.folder.stat().st_mode & 0o777, 0o700)
        self.assertEqual(self.home.database.stat().st_mode & 0o777, 0o600)
        self.assertTrue(look_over(self.home, KNOWN | {("shells", "0002_more")}).older)
        half = Home.at(self.folder / "half")
        half.folder.mkdir()
        with closing(sqlite3.connect(half.database)) as made:  # a first start that was broken off
            made.execute("CREATE TABLE django_migrations (app TEXT, name TEXT)")
        told = look_over(half, KNOWN)
        self.assertEqual((told.fault, told.older), ("", True))
        self.assertRaises(NothingYet, make_backup, half, None, KNOWN, now=NOW)

    def test_what_is_broken_is_told_with_the_way_back_and_nothing_is_changed(self):
        whole = self.moved_in().database.read_bytes()
        kept = make_backup(self.home, None, KNOWN, now=NOW)
        (self.home.backups / "yellow-sill-20270101-000000.zip").write_bytes(b"broken")
        with_newer = database(self.folder / "newer.sqlite3", migrations={*KNOWN, ("shells", "0009_later")})
        for words, content in {
            "it is no database any more": b"noise" * 99,
            "malformed|contradict": whole[: len(whole) // 2],
            "a photo lies beside it": b"",
            "is missing, but a photo": None,
            "newer release": with_newer.read_bytes(),
        }.items():
            self.home.database.unlink(missing_ok=True)
            if content is not None:
                self.home.database.write_bytes(content)
            told = look_over(self.home, KNOWN).fault
            with self.subTest(words):
                self.assertRegex(told, words)
                self.assertIn(f"./yellow-sill restore {kept}", told)
                self.assertIn("14 February 2026", told)
                self.assertEqual(self.home.database.read_bytes() if content is not None else None, content)
        kept.unlink()
        self.assertIn("There is no whole backup", look_over(self.home, KNOWN).fault)

    def test_a_folder_that_cannot_be_written_and_an_empty_key_are_told(self):
        self.home.folder.mkdir()
        (self.home.folder / "secret-key").write_text("\n")
        self.assertIn("everybody signs in again", first_look(self.home).notes[0])
        for number, words in ((30, "cannot be written"), (28, "is full")):
            with mock.patch.object(Path, "write_bytes", side_effect=OSError(number, "no")):
                self.assertIn(words, first_look(self.home).fault)
        blocked = Home.at(self.folder / "file/house")
        (self.folder / "file").write_bytes(picture())
        self.assertIn("cannot be written", first_look(blocked).fault)
