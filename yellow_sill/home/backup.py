"""A backup: the database by SQLite's own online copy, and the photos, in one zip; made, examined, rehearsed."""

import hashlib
import io
import json
import shutil
import sqlite3
import tempfile
import zipfile
from collections.abc import Set
from contextlib import closing
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path, PurePosixPath

from PIL import Image

from .database import Examined, Migration, State, examined
from .places import FILE_MODE, FOLDER_MODE, KEPT_KINDS, Home, HomeError, kept_files, synced

FORMAT = "yellow-sill.backup/1"
DATABASE, TOLD = "yellow-sill.sqlite3", "backup.json"
#: No photo of ours is larger, no house has more of them, and what backup.json says is short.
MOST_PHOTO_BYTES, MOST_PHOTOS, MOST_TOLD_BYTES = 40_000_000, 100_000, 1_000_000
#: What is left free on the disk beside a copy.
SPARE_BYTES = 20_000_000
BROKEN = (zipfile.BadZipFile, EOFError, OSError, NotImplementedError, RuntimeError, ValueError, sqlite3.Error)


class NothingYet(HomeError):
    """There is nothing to back up."""


class BadBackup(HomeError):
    """A file that is no backup of ours, or not whole."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Inside:
    """What is in a backup: when it was made (None in those that do not say), its database, and its photos."""

    made_at: datetime | None
    database: Examined
    photos: int
    missing: int

    @property
    def day(self) -> str:
        return f"{self.made_at:%-d %B %Y, %H:%M}" if self.made_at else "a day it does not say"

    @property
    def words(self) -> str:
        gone = f"; {self.missing} of its photos were missing already" if self.missing else ""
        return f"{self.database.words}{gone}"


def make_backup(
    home: Home, target: Path | None, known: Set[Migration], *, now: datetime, why: str = ""
) -> Path:
    """Pack database and photos, also while the application runs; what was packed is opened and compared before it counts.

    Args: target: the file to write; by default in the backups folder, named by the time and by ``why``.
    Returns: the file.
    Raises: NothingYet; BadBackup where the database is not whole or the copy is not what it should be; OSError.
    """
    live = examined(home.database, known, thorough=True)
    if live.state in (State.MISSING, State.EMPTY) or (live.usable and not any(live.counts.values())):
        raise NothingYet(f"There is nothing to back up yet in {home.folder}.")
    if not live.usable:
        raise BadBackup(
            f"Not backed up: {home.database} cannot be trusted, {live.why}. Start Yellow Sill: it says what to do."
        )
    ending = f"-{why}" if why else ""
    target = target or home.backups / f"yellow-sill-{now:%Y%m%d-%H%M%S}{ending}.zip"
    target.parent.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
    unfinished = target.with_name(target.name + ".part")
    try:
        with tempfile.TemporaryDirectory(dir=target.parent, prefix=".backup-") as folder:
            copy = Path(folder) / DATABASE
            with closing(sqlite3.connect(home.database)) as source, closing(sqlite3.connect(copy)) as saved:
                source.backup(saved)
            told = examined(copy, known, thorough=True)
            if not told.usable:
                raise BadBackup(f"Not backed up: the copy of the database is not whole, {told.why}.")
            _pack(unfinished, copy, told, home.photos, now)
        packed = look_into(unfinished, known)
        if packed.database.counts != told.counts:
            raise BadBackup(
                "Not backed up: what was packed does not hold what the database holds. Try again."
            )
        unfinished.chmod(FILE_MODE)
        unfinished.replace(target)
        synced(target.parent)
    finally:
        unfinished.unlink(missing_ok=True)
    return target


def _pack(unfinished: Path, copy: Path, told: Examined, photos: Path, now: datetime) -> None:
    files = kept_files(photos)
    head = {
        "format": FORMAT,
        "made_at": now.isoformat(),
        "counts": told.counts,
        "photos": len(files),
        "database_sha256": _digest(copy),
    }
    with zipfile.ZipFile(unfinished, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(TOLD, json.dumps(head))
        archive.write(copy, DATABASE)
        for photo in files:
            archive.write(photo, f"photos/{photo.name}", zipfile.ZIP_STORED)
    synced(unfinished)


def _digest(path: Path) -> str:
    with path.open("rb") as stream:
        return hashlib.file_digest(stream, "sha256").hexdigest()


def look_into(source: Path, known: Set[Migration]) -> Inside:
    """What a backup holds, its database opened and checked.

    Raises: BadBackup: no backup of ours, not whole, made by a newer release, with nothing in it, or padded.
    """
    with tempfile.TemporaryDirectory(prefix="yellow-sill-") as folder:
        return unpacked(source, Path(folder), known, photos=False)


def unpacked(source: Path, folder: Path, known: Set[Migration], *, photos: bool = True) -> Inside:
    """Unpack a backup into an empty folder, and check it there.

    Args: photos: also the photos, not their names only.
    Raises: BadBackup: see ``look_into``; also where the disk has no room.
    """
    try:
        with zipfile.ZipFile(source) as archive:
            members = _members(archive, source)
            head = _head(archive, members, source)
            pictures = [member for name, member in members.items() if name.startswith("photos/")]
            wanted = members[DATABASE].file_size + (sum(each.file_size for each in pictures) if photos else 0)
            free = shutil.disk_usage(folder).free
            if wanted + SPARE_BYTES > free:
                raise BadBackup(
                    f"{source} needs {wanted / 1e6:.0f} MB and {folder} has {free / 1e6:.0f} MB free. Make room, then try again."
                )
            _extract(archive, members[DATABASE], folder / DATABASE)
            if photos:
                (folder / "photos").mkdir(mode=FOLDER_MODE)
                for picture in pictures:
                    _extract(archive, picture, folder / picture.filename)
    except BROKEN as error:
        raise BadBackup(f"{source} cannot be read: {error}") from None
    return _checked(source, folder / DATABASE, head, {each.filename[7:] for each in pictures}, known)


def _members(archive: zipfile.ZipFile, source: Path) -> dict[str, zipfile.ZipInfo]:
    """The files in a zip, by name. Raises: BadBackup for what a backup of ours never holds."""
    listed = archive.infolist()
    members = {member.filename: member for member in listed}
    if not {TOLD, DATABASE} <= members.keys():
        raise BadBackup(f"{source} is no backup of Yellow Sill.")
    strange = next((name for name in members if name not in (TOLD, DATABASE) and not _is_photo(name)), None)
    if strange is not None or len(members) < len(listed) or len(members) > MOST_PHOTOS:
        what = f"'{strange[:60]}'" if strange else "the same name twice or too many files"
        raise BadBackup(f"{source} was changed: it holds {what}. Nothing is brought back from it.")
    big = next(
        (name for name, each in members.items() if _is_photo(name) and each.file_size > MOST_PHOTO_BYTES),
        None,
    )
    with archive.open(DATABASE) as stream:
        header = stream.read(100)
    page = int.from_bytes(header[16:18], "big")
    declared = (65536 if page == 1 else page) * int.from_bytes(header[28:32], "big")
    if big or members[TOLD].file_size > MOST_TOLD_BYTES or declared != members[DATABASE].file_size:
        what = big or "its database"
        raise BadBackup(
            f"{source} was changed: {what} is larger than it can be. Nothing is brought back from it."
        )
    return members


def _is_photo(name: str) -> bool:
    path = PurePosixPath(name)
    return (
        len(path.parts) == 2
        and path.parts[0] == "photos"
        and name == str(path)
        and path.suffix in KEPT_KINDS
        and "\\" not in name
        and not path.name.startswith(".")
    )


def _head(archive: zipfile.ZipFile, members: dict[str, zipfile.ZipInfo], source: Path) -> dict:
    head = json.loads(archive.read(members[TOLD]))
    if not isinstance(head, dict) or head.get("format") != FORMAT:
        raise BadBackup(f"{source} is no backup of Yellow Sill, or a newer release made it.")
    return head


def _extract(archive: zipfile.ZipFile, member: zipfile.ZipInfo, target: Path) -> None:
    """One file to its place, no byte more than the zip says of it."""
    with archive.open(member) as packed, target.open("xb") as stream:
        shutil.copyfileobj(packed, stream)
        stream.flush()


def _checked(source: Path, database: Path, head: dict, photos: set[str], known: Set[Migration]) -> Inside:
    digest = head.get("database_sha256")
    told = examined(database, known, thorough=True)
    if told.state is State.DAMAGED or (digest is not None and digest != _digest(database)):
        raise BadBackup(
            f"The database in {source} is damaged: {told.why or 'it is not the one that was packed'}."
        )
    if not told.usable:
        raise BadBackup(f"The database in {source} cannot be brought back: {told.why}.")
    if not any(told.counts.values()):
        raise BadBackup(f"The database in {source} is empty: nothing would be left of what is here.")
    try:
        made_at = datetime.fromisoformat(str(head.get("made_at")))
    except ValueError:
        made_at = None
    return Inside(made_at=made_at, database=told, photos=len(photos), missing=len(told.photos - photos))


def newest_whole(home: Home, known: Set[Migration], *, most: int = 12) -> tuple[Path, Inside] | None:
    """The newest backup in the backups folder that passes, of the last so many."""
    try:
        files = sorted(home.backups.glob("*.zip"), key=lambda path: path.stat().st_mtime, reverse=True)
    except OSError:
        return None
    for path in files[:most]:
        try:
            return path, look_into(path, known)
        except BadBackup:
            continue
    return None


def _require_pdf(paper: Path) -> None:
    """Raises: ValueError for what is no whole PDF."""
    data = paper.read_bytes()
    if not data.startswith(b"%PDF-") or b"%%EOF" not in data[-2048:]:
        raise ValueError(paper.name)


def rehearse(home: Home, source: Path, known: Set[Migration]) -> Inside:
    """Bring a backup back into a scratch folder and compare: each photo that its database knows is there and can be decoded.

    Raises: BadBackup.
    """
    with tempfile.TemporaryDirectory(prefix="yellow-sill-rehearsal-") as scratch:
        folder = Path(scratch)
        told = unpacked(source, folder, known)
        for photo in kept_files(folder / "photos"):
            try:
                if photo.suffix == ".pdf":
                    _require_pdf(photo)
                    continue
                with Image.open(io.BytesIO(photo.read_bytes())) as picture:
                    picture.verify()
            except (OSError, SyntaxError, ValueError):
                raise BadBackup(f"Photo {photo.name} in {source} is damaged.") from None
        return told
