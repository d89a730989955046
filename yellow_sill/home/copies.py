"""A second copy of each backup in a folder of the person's choice, such as a stick."""

import json
import shutil
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from pathlib import Path

from . import retention
from .places import FOLDER_MODE, Home, HomeError, synced, written


@dataclass(frozen=True, slots=True, kw_only=True)
class Copies:
    """Where copies go (empty: nowhere), when one last arrived and which, and since when the folder cannot be reached and why."""

    folder: str = ""
    arrived_at: str = ""
    file: str = ""
    failing_since: str = ""
    why: str = ""


def copies_of(home: Home) -> Copies:
    try:
        told = json.loads((home.backups / "copies.json").read_bytes())
        return Copies(**{name: str(told[name]) for name in asdict(Copies()) if name in told})
    except (OSError, ValueError, TypeError):
        return Copies()


def _keep(home: Home, copies: Copies) -> Copies:
    home.backups.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
    written(home.backups / "copies.json", json.dumps(asdict(copies)).encode())
    return copies


def choose(home: Home, typed: str) -> Copies:
    """Set where copies go; nothing typed: nowhere.

    Raises: HomeError for a folder that is none, cannot be written, or is the one of the backups themselves.
    """
    typed = typed.strip()
    if not typed:
        return _keep(home, Copies())
    folder = Path(typed).expanduser()
    if not folder.is_absolute():
        raise HomeError(f"{typed} is no whole path. Begin it with /, such as /media/stick/backups.")
    if not folder.is_dir():
        raise HomeError(f"There is no folder {folder}. Plug the stick in, or make the folder first.")
    if home.folder.resolve() in (folder.resolve(), *folder.resolve().parents):
        raise HomeError(
            f"{folder} lies in the data folder itself: a copy there is lost with it. Choose a stick or another disk."
        )
    try:
        trial = folder / ".yellow-sill-trial"
        trial.write_bytes(b"")
        trial.unlink()
    except OSError as error:
        raise HomeError(f"{folder} cannot be written: {error.strerror}.") from None
    return _keep(home, Copies(folder=str(folder)))


def copy_newest(home: Home, now: datetime) -> Copies:
    """Bring the newest backup to the copies' folder, if it is not there yet, and tell what came of it."""
    copies = copies_of(home)
    files = retention.dated(home.backups)
    if not copies.folder or not files:
        return copies
    newest = max(files, key=lambda path: path.name)
    target = Path(copies.folder) / newest.name
    try:
        if not Path(copies.folder).is_dir():
            raise FileNotFoundError(2, "the folder is not there")
        if not target.exists():
            unfinished = target.with_name(target.name + ".part")
            shutil.copyfile(newest, unfinished)
            synced(unfinished)
            unfinished.replace(target)
            synced(target.parent)
        retention.thin(Path(copies.folder), now.replace(tzinfo=None))
    except OSError as error:
        since = copies.failing_since or now.isoformat(timespec="minutes")
        return _keep(home, replace(copies, failing_since=since, why=error.strerror or "it cannot be reached"))
    if copies.file == newest.name and not copies.failing_since:
        return copies
    arrived = now.isoformat(timespec="minutes")
    return _keep(home, replace(copies, arrived_at=arrived, file=newest.name, failing_since="", why=""))
