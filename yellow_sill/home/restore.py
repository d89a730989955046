"""Bringing a backup back. It is unpacked and checked first; then every move can be broken off and the next start goes on with it."""

import json
import shutil
import sqlite3
from collections.abc import Set
from datetime import datetime
from pathlib import Path

from .backup import DATABASE, make_backup, unpacked
from .database import Migration
from .places import FOLDER_MODE, Home, HomeError, in_use, synced, written

#: Written once everything is unpacked and checked: from here on a restore is finished, before it is undone.
READY = "ready.json"


def restore(home: Home, source: Path, known: Set[Migration], *, now: datetime) -> Path | None:
    """Bring a backup back. What is here now is moved aside first, whatever it is; nothing is deleted.

    Where what is here is whole, it is backed up as well.

    Returns: the folder with what was here before, or None where there was nothing.
    Raises: Busy while Yellow Sill runs here; BadBackup before anything is moved; OSError.
    """
    with in_use(home, alone=True):
        go_on(home)
        if not source.is_file():
            raise HomeError(f"There is no file {source}.")
        home.restoring.mkdir(mode=FOLDER_MODE)
        try:
            unpacked(source, home.restoring, known)
            for path in [home.restoring / DATABASE, *(home.restoring / "photos").iterdir()]:
                synced(path)
            synced(home.restoring / "photos")
            _save_what_is_here(home, known, now)
        except BaseException:
            shutil.rmtree(home.restoring, ignore_errors=True)
            raise
        aside = home.folder / f"before-restore-{now:%Y%m%d-%H%M%S}"
        here = any(path.exists() for path in (*home.beside_database, home.photos))
        written(home.restoring / READY, json.dumps({"aside": aside.name}).encode())
        _move(home, aside)
        return aside if here else None


def _save_what_is_here(home: Home, known: Set[Migration], now: datetime) -> None:
    """A backup of what is here, where it is whole; a damaged one is kept aside as it is."""
    try:
        make_backup(home, None, known, now=now, why="before-restore")
    except (HomeError, OSError, sqlite3.Error):
        return  # it is kept aside as it is all the same


def go_on(home: Home) -> bool:
    """Finish a restore that was broken off while it moved, or clear away one that was still unpacking.

    Returns: whether one was finished.
    """
    if not home.restoring.exists():
        return False
    ready = home.restoring / READY
    if not ready.exists():
        shutil.rmtree(home.restoring)
        return False
    name = json.loads(ready.read_bytes())["aside"]
    _move(home, home.folder / Path(name).name)
    return True


def _move(home: Home, aside: Path) -> None:
    """Move what is here aside and what was unpacked into its place, each once: what is still unpacked has not been moved yet."""
    fresh = home.restoring / DATABASE
    if fresh.exists():
        for path in reversed(home.beside_database):
            _aside(path, aside)
        fresh.rename(home.database)
        synced(home.folder)
    photos = home.restoring / "photos"
    if photos.exists():
        _aside(home.photos, aside)
        photos.rename(home.photos)
    synced(home.folder)
    (home.restoring / READY).unlink()
    shutil.rmtree(home.restoring)


def _aside(path: Path, aside: Path) -> None:
    if path.exists():
        aside.mkdir(exist_ok=True, mode=FOLDER_MODE)
        path.rename(aside / path.name)
        synced(aside)
