"""Backup and restore of one person's data: the database by SQLite's own online backup, and the photos, in one zip."""

import json
import shutil
import sqlite3
import tempfile
import zipfile
from contextlib import closing
from datetime import datetime
from pathlib import Path

from django.conf import settings

from yellow_sill.core.formats.bundle import DAMAGED

FORMAT = "yellow-sill.backup/1"
DATABASE = "yellow-sill.sqlite3"


class BadBackup(Exception):
    """A file that is no backup of ours."""


def _database() -> Path:
    return Path(settings.DATABASES["default"]["NAME"])


def make_backup(target: Path | None = None) -> Path:
    """Pack database and photos, also while the application runs.

    Args: target: the file to write; by default backups/ in the data folder, named by the time.
    Returns: the file.
    """
    now = datetime.now().astimezone()
    target = target or Path(settings.DATA) / "backups" / f"yellow-sill-{now:%Y%m%d-%H%M%S}.zip"
    target.parent.mkdir(parents=True, exist_ok=True)
    unfinished = target.with_name(target.name + ".part")
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / DATABASE
        with closing(sqlite3.connect(_database())) as live, closing(sqlite3.connect(copy)) as saved:
            live.backup(saved)
        with zipfile.ZipFile(unfinished, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("backup.json", json.dumps({"format": FORMAT, "made_at": now.isoformat()}))
            archive.write(copy, DATABASE)
            for photo in sorted(Path(settings.MEDIA_ROOT).glob("*.jpg")):
                archive.write(photo, f"photos/{photo.name}", zipfile.ZIP_STORED)
    unfinished.replace(target)
    return target


def restore_backup(source: Path) -> Path | None:
    """Bring a backup back. What is here now is moved aside first, nothing is deleted.

    Returns: the folder with what was here before, or None where there was nothing.
    Raises: BadBackup.
    """
    try:
        with (
            zipfile.ZipFile(source) as archive,
            tempfile.TemporaryDirectory(dir=_made(Path(settings.DATA))) as folder,
        ):
            names = archive.namelist()
            if (
                "backup.json" not in names
                or json.loads(archive.read("backup.json")).get("format") != FORMAT
                or DATABASE not in names
            ):
                raise BadBackup(f"{source} is no backup of Yellow Sill.")
            for name in names:
                if name == DATABASE or (
                    name.startswith("photos/")
                    and name.endswith(".jpg")
                    and name.count("/") == 1
                    and ".." not in name
                ):
                    archive.extract(name, folder)
            fresh = Path(folder)
            with closing(sqlite3.connect(fresh / DATABASE)) as database:
                if database.execute("PRAGMA integrity_check").fetchone()[0] != "ok":
                    raise BadBackup(f"The database in {source} is damaged.")
            kept = _move_aside()
            shutil.move(fresh / DATABASE, _database())
            photos = Path(settings.MEDIA_ROOT)
            if (fresh / "photos").is_dir():
                shutil.move(fresh / "photos", photos)
            return kept
    except (*DAMAGED, ValueError, AttributeError, sqlite3.DatabaseError) as error:
        raise BadBackup(f"{source} cannot be read: {error}") from None


def _made(folder: Path) -> Path:
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def _move_aside() -> Path | None:
    database, photos = _database(), Path(settings.MEDIA_ROOT)
    present = [
        path
        for path in (
            database,
            database.with_name(database.name + "-wal"),
            database.with_name(database.name + "-shm"),
            photos,
        )
        if path.exists()
    ]
    if not present:
        return None
    if database.exists():
        with closing(sqlite3.connect(database)) as live:
            live.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    aside = _made(Path(settings.DATA) / f"before-restore-{datetime.now().astimezone():%Y%m%d-%H%M%S}")
    for path in present:
        if path.exists():
            shutil.move(path, aside / path.name)
    return aside
