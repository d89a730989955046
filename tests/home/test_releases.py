"""A database that each release left behind is brought up, and its pages open. From release 1 on migrations are only added."""

import gzip
import os
import sqlite3
import subprocess
import sys
from contextlib import closing
from pathlib import Path

from tests.home.builders import HomeCase
from yellow_sill.home.database import State, examined

ROOT = Path(__file__).resolve().parent.parent.parent
KEPT = sorted((ROOT / "tests/data").glob("release-*.sqlite3.gz"))
BRING_UP = """
import django; django.setup()
from django.conf import settings
from django.core.management import call_command
call_command("migrate", verbosity=0)
settings.ALLOWED_HOSTS = ["testserver"]
from django.contrib.auth import get_user_model
from django.test import Client
client = Client()
client.force_login(get_user_model().objects.get())
for page in ("", "survey/left/", "survey/finding/1/", "repairs/1/cut/", "repairs/1/log/", "datums/underside/", "hold/", "changes/"):
    answer = client.get(f"/v/1/{page}")
    assert answer.status_code == 200, (page, answer.status_code)
assert b"Kept since release 1." in client.get("/v/1/repairs/1/log/").content
"""


#: What a start of this build makes of an empty folder.
ANEW = 'import django; django.setup(); from django.core.management import call_command; call_command("migrate", verbosity=0)'


def tables_of(path: Path) -> dict[str, tuple[list, ...]]:
    """Every table's columns, indexes and references, in no order."""
    with closing(sqlite3.connect(path)) as opened:

        def told(what, of):
            return opened.execute(f"PRAGMA {what}('{of}')").fetchall()

        names = opened.execute("SELECT name FROM sqlite_master WHERE type = 'table'").fetchall()
        return {
            name: (
                sorted(column[1:] for column in told("table_info", name)),
                sorted(
                    (made[2], *(column[2] for column in told("index_info", made[1])))
                    for made in told("index_list", name)
                ),
                sorted(reference[2:] for reference in told("foreign_key_list", name)),
            )
            for (name,) in names
        }


class Releases(HomeCase):
    def test_each_kept_database_is_brought_up(self):
        self.assertTrue(KEPT)
        for kept in KEPT:
            self.home.folder.mkdir(exist_ok=True)
            self.home.database.write_bytes(gzip.decompress(kept.read_bytes()))
            found = examined(self.home.database, frozenset({("shells", "0001_initial")}))
            self.assertEqual((found.state is not State.DAMAGED, found.counts["vehicles"]), (True, 1))
            with self.subTest(kept.name):
                self.run_there(BRING_UP)
                brought_up = tables_of(self.home.database)
                self.home.database.unlink()
                self.run_there(ANEW)
                self.assertEqual(brought_up, tables_of(self.home.database), "a first start takes no steps")

    def run_there(self, program: str) -> None:
        there = {
            "YELLOW_SILL_HOME": str(self.home.folder),
            "DJANGO_SETTINGS_MODULE": "yellow_sill.settings.base",
        }
        told = subprocess.run(
            [sys.executable, "-c", program],
            cwd=ROOT,
            env=os.environ | there,
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertEqual(told.returncode, 0, told.stderr[-2000:])

    def test_the_migrations_of_a_release_stay_as_they_were(self):
        first = {
            path.parent.parent.name for path in ROOT.glob("yellow_sill/web/*/migrations/0001_initial.py")
        }
        self.assertLessEqual(
            {"shells", "survey", "datums", "hold", "repairs", "cut", "patch", "weld", "parts", "logbook"},
            first,
        )
