"""Where things lie in the data folder, and who may read them."""

import errno
import fcntl
import os
import secrets
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

#: Nobody but the owner of the account looks into the folder or reads a file of it.
FOLDER_MODE, FILE_MODE = 0o700, 0o600
#: What the system says where a disk, or somebody's share of it, has no room left.
FULL = (errno.ENOSPC, errno.EDQUOT)


#: What is kept beside the database: photos, and receipts that came as PDF.
KEPT_KINDS = (".jpg", ".pdf")


def kept_files(folder: Path) -> list[Path]:
    """The photos and papers in a folder, by name; none where there is no such folder."""
    return sorted(path for path in folder.glob("*") if path.suffix in KEPT_KINDS) if folder.is_dir() else []


class HomeError(Exception):
    """Something about the data folder that a person must see to; its text says what and how."""


class Busy(HomeError):
    """The folder is in use by a Yellow Sill that runs."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Home:
    """A data folder and what lies in it."""

    folder: Path
    database: Path
    photos: Path

    @classmethod
    def at(cls, folder: Path) -> "Home":
        return cls(folder=folder, database=folder / "yellow-sill.sqlite3", photos=folder / "photos")

    @property
    def backups(self) -> Path:
        return self.folder / "backups"

    @property
    def key(self) -> Path:
        return self.folder / "secret-key"

    @property
    def restoring(self) -> Path:
        """Where a restore unpacks before anything here is moved."""
        return self.folder / ".restore"

    @property
    def beside_database(self) -> tuple[Path, ...]:
        """The database and what SQLite keeps beside it."""
        return tuple(self.database.with_name(self.database.name + end) for end in ("", "-wal", "-shm"))


def data_folder() -> Path:
    """Where this person's data lives: YELLOW_SILL_HOME, else the desktop's data folder."""
    share = Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local/share")
    return Path(os.environ.get("YELLOW_SILL_HOME") or share / "yellow-sill")


def secret_key(folder: Path) -> str:
    """The key that signs sessions, made once a data folder and readable by its owner only; an empty one is made anew.

    Raises: OSError where the folder cannot be written and has none.
    """
    path = folder / "secret-key"
    kept = path.read_text(errors="replace").strip() if path.exists() else ""
    if not kept:
        folder.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
        kept = secrets.token_urlsafe(50)
        written(path, kept.encode())
    return kept


def tighten(home: Home) -> None:
    """Take everybody else's rights away from the folder and its files; what is not ours to change stays."""
    found = [(home.folder, FOLDER_MODE), (home.photos, FOLDER_MODE), (home.backups, FOLDER_MODE)]
    found += [(path, FILE_MODE) for path in (*home.beside_database, home.key)]
    found += [(path, FILE_MODE) for path in home.backups.glob("*.zip")]
    for path, mode in found:
        try:
            if path.exists() and path.stat().st_mode & 0o077:
                path.chmod(mode)
        except OSError:
            continue


def synced(path: Path) -> None:
    """Wait until a file, or the names in a folder, are on the disk itself."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def written(path: Path, data: bytes) -> None:
    """Write a file whole or not at all, and on the disk when this returns."""
    unfinished = path.with_name(path.name + ".part")
    try:
        unfinished.touch(mode=FILE_MODE)
        with unfinished.open("wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        unfinished.replace(path)
    except OSError:
        unfinished.unlink(missing_ok=True)
        raise
    synced(path.parent)


@contextmanager
def in_use(home: Home, *, alone: bool = False) -> Iterator[None]:
    """Hold the folder while Yellow Sill runs on it; ``alone``: nobody else may.

    Raises: Busy; OSError.
    """
    home.folder.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
    handle = os.open(home.folder / ".in-use", os.O_RDWR | os.O_CREAT, FILE_MODE)
    try:
        try:
            fcntl.flock(handle, (fcntl.LOCK_EX if alone else fcntl.LOCK_SH) | fcntl.LOCK_NB)
        except OSError:
            raise Busy(
                f"Yellow Sill is running on {home.folder}. End it there (Ctrl-C), then try again."
                if alone
                else f"A backup is being brought back into {home.folder}. Wait until it is done, then start again."
            ) from None
        yield
    finally:
        os.close(handle)
