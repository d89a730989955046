"""Houses to break: a data folder with a small database and photos."""

import io
import sqlite3
import tempfile
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path
from unittest import TestCase

from PIL import Image

from yellow_sill.home.places import Home

NOW = datetime(2026, 2, 14, 9, 30, tzinfo=UTC)
KNOWN = frozenset({("shells", "0001_initial"), ("logbook", "0001_initial")})


def picture() -> bytes:
    stream = io.BytesIO()
    Image.new("RGB", (30, 20), "grey").save(stream, "JPEG")
    return stream.getvalue()


def database(path: Path, *, vehicle: str = "Dunlin", photos=("a.jpg",), migrations=KNOWN) -> Path:
    """A database as ours is, with one vehicle; an empty name makes a house that nobody has moved into."""
    path.parent.mkdir(parents=True, exist_ok=True)
    with closing(sqlite3.connect(path)) as made:
        made.execute("PRAGMA journal_mode=WAL")
        made.execute("CREATE TABLE django_migrations (app TEXT, name TEXT)")
        made.executemany("INSERT INTO django_migrations VALUES (?, ?)", sorted(migrations))
        made.execute("CREATE TABLE shells_vehicle (model TEXT)")
        made.execute("CREATE TABLE auth_user (username TEXT)")
        made.execute("CREATE TABLE logbook_photo (file TEXT)")
        made.execute("CREATE TABLE logbook_historicalphoto (file TEXT)")
        made.execute("CREATE TABLE padding (text TEXT)")
        if vehicle:
            made.execute("INSERT INTO shells_vehicle VALUES (?)", [vehicle])
            made.executemany("INSERT INTO padding VALUES (?)", [["x" * 900]] * 60)
        made.executemany("INSERT INTO logbook_photo VALUES (?)", [[name] for name in photos])
        made.commit()
    return path


class HomeCase(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.home = Home.at(self.folder / "house")

    def moved_in(self, home: Home | None = None, **changes) -> Home:
        """A house somebody lives in."""
        home = home or self.home
        database(home.database, **changes)
        home.photos.mkdir(parents=True, exist_ok=True)
        for name in changes.get("photos", ("a.jpg",)):
            (home.photos / name).write_bytes(picture())
        return home

    def model(self, path: Path | None = None) -> str:
        with closing(sqlite3.connect(path or self.home.database)) as opened:
            return opened.execute("SELECT model FROM shells_vehicle").fetchone()[0]
