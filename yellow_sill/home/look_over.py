"""The data folder looked over before Yellow Sill starts on it: a fault is told in words with the way back, and nothing is changed."""

import shutil
from collections.abc import Set
from dataclasses import dataclass, field

from .backup import newest_whole
from .database import Examined, Migration, State, examined
from .places import FOLDER_MODE, FULL, Home, kept_files, tighten
from .restore import go_on

#: With less free than this it is told at the start, bytes.
LITTLE_BYTES = 200_000_000


@dataclass(frozen=True, slots=True, kw_only=True)
class LookedOver:
    """What was found: ``fault`` in words where it must not start, ``notes`` to be told all the same."""

    fault: str = ""
    notes: list[str] = field(default_factory=list)
    older: bool = False


def first_look(home: Home) -> LookedOver:
    """Whether the folder can be written at all, before anything is read from it; an empty key is told."""
    try:
        home.folder.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
        _try_to_write(home)
        empty_key = home.key.exists() and not home.key.read_bytes().strip()
    except OSError as error:
        if error.errno in FULL:
            return LookedOver(fault=f"The disk of {home.folder} is full. Make room on it, then start again.")
        return LookedOver(
            fault=f"{home.folder} cannot be written: {error.strerror}.\nGive yourself the right to write there, or name another folder: "
            "YELLOW_SILL_HOME=/path ./yellow-sill run"
        )
    new_key = "The key that signs the sessions was empty: a new one is made, and everybody signs in again."
    return LookedOver(notes=[new_key] if empty_key else [])


def look_over(home: Home, known: Set[Migration]) -> LookedOver:
    """Look at what lies in a data folder; finish a restore that was broken off, and take others' rights away."""
    finished = go_on(home)
    tighten(home)
    notes = (
        ["A backup that was being brought back when it broke off is in its place now."] if finished else []
    )
    free = shutil.disk_usage(home.folder).free
    if free < LITTLE_BYTES:
        notes.append(f"There are only {free / 1e6:.0f} MB free on the disk of {home.folder}.")
    told = examined(home.database, known)
    if told.usable:
        return LookedOver(notes=[*notes, *_photos(home, told)], older=told.state is State.OLDER)
    if told.state in (State.MISSING, State.EMPTY) and not _lived_in(home):
        return LookedOver(notes=notes)
    return LookedOver(fault=_fault(home, told, known), notes=notes)


def _try_to_write(home: Home) -> None:
    trial = home.folder / ".trial"
    trial.write_bytes(b"x")
    trial.unlink()
    if home.database.exists():
        with home.database.open("r+b"):
            pass


def _lived_in(home: Home) -> bool:
    """Whether something here says that there was a database once."""
    return bool(kept_files(home.photos)) or next(home.backups.glob("*.zip"), None) is not None


def _fault(home: Home, told: Examined, known: Set[Migration]) -> str:
    if told.state is State.NEWER:
        head = f"{home.database} cannot be opened: {told.why}, and this is an older one."
        return f"{head}\nNothing in it is changed. Start the newer release, or bring back a backup that this one made.{_way_back(home, known)}"
    if told.state is State.EARLIER:
        return (
            f"{home.database} was made by an earlier build and cannot be opened by this one. Nothing in it is changed.\nStart the earlier build, "
            "export each vehicle in its Logbook, move the file aside, and open the bundles here."
        )
    what = "is missing" if told.state is State.MISSING else "cannot be opened"
    beside = ""
    if told.state in (State.MISSING, State.EMPTY):
        photos = len(kept_files(home.photos))
        words = "a photo lies" if photos == 1 else f"{photos} photos lie"
        beside = ", but there are backups of it"
        if photos:
            beside = f", but {words} beside it: it is not a new house"
    why = "" if told.state is State.MISSING else f": {told.why}"
    return f"Your database {home.database} {what}{why}{beside}.\nNothing is changed.{_way_back(home, known)}"


def _way_back(home: Home, known: Set[Migration]) -> str:
    found = newest_whole(home, known)
    if found is None:
        return (
            f"\n\nThere is no whole backup in {home.backups}. If you have one elsewhere (a stick?), bring it back with\n\n"
            f"    ./yellow-sill restore /path/of/the/backup.zip\n\nTo begin with nothing, move {home.folder} aside."
        )
    path, told = found
    return (
        f"\n\nThe newest backup that is whole was made on {told.day}: {told.words}. Bring it back with\n\n"
        f"    ./yellow-sill restore {path}\n\nWhat is there now is kept aside by that, nothing is deleted."
    )


def _photos(home: Home, told: Examined) -> list[str]:
    """What is said of photos that their rows know and the folder lacks."""
    there = {path.name for path in kept_files(home.photos)}
    missing = len(told.photos - there)
    if not missing:
        return []
    words = "photo is" if missing == 1 else "photos are"
    return [f"{missing} {words} missing in {home.photos}; their places stay, and a backup may have them."]
