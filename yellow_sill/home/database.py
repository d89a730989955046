"""A database file looked at before anybody trusts it: whose it is, whether it is whole, which release made it."""

import sqlite3
from collections.abc import Set
from contextlib import closing
from dataclasses import dataclass, field
from enum import StrEnum
from pathlib import Path
from urllib.parse import quote

from .places import KEPT_KINDS

HEADER = b"SQLite format 3\x00"
#: A table that only ours has, one of the first builds that no migration reaches, and the tables that hold rows worth counting.
OURS, EARLIEST = "shells_vehicle", "repairs_cut"
COUNTED = {
    "vehicles": "shells_vehicle",
    "accounts": "auth_user",
    "findings": "survey_finding",
    "repairs": "repairs_repair",
}
#: A migration by app and name.
Migration = tuple[str, str]


class State(StrEnum):
    MISSING = "missing"
    EMPTY = "empty"
    DAMAGED = "damaged"
    FOREIGN = "foreign"
    EARLIER = "earlier build"
    NEWER = "newer"
    OLDER = "older"
    SOUND = "sound"


@dataclass(frozen=True, slots=True, kw_only=True)
class Examined:
    """What a database file is. ``why``: what is wrong, in words; ``counts``: rows by kind; ``photos``: file names its rows hold."""

    state: State
    why: str = ""
    counts: dict[str, int] = field(default_factory=dict)
    photos: frozenset[str] = frozenset()

    @property
    def usable(self) -> bool:
        """Whether this build can open it, after migrations where it is older."""
        return self.state in (State.SOUND, State.OLDER)

    @property
    def words(self) -> str:
        """What is in it, in words."""
        told = [
            f"{count} {name if count != 1 else name.removesuffix('s')}"
            for name, count in self.counts.items()
            if name in ("vehicles", "findings", "repairs")
        ]
        return ", ".join([*told, f"{len(self.photos)} photo{'s' * (len(self.photos) != 1)}"])


def examined(path: Path, known: Set[Migration], *, thorough: bool = False) -> Examined:
    """Look at a database file without changing it.

    Args: known: the migrations of this build; thorough: SQLite's full check of every page and index, not the quick one.
    """
    try:
        size = path.stat().st_size
        if size == 0:
            return Examined(state=State.EMPTY, why="it has no content")
        with path.open("rb") as stream:
            if stream.read(len(HEADER)) != HEADER:
                return Examined(state=State.DAMAGED, why="it is no database any more")
    except FileNotFoundError:
        return Examined(state=State.MISSING, why="it is not there")
    except OSError as error:
        return Examined(state=State.DAMAGED, why=f"it cannot be read ({error.strerror})")
    try:
        with closing(sqlite3.connect(f"file:{quote(str(path))}?mode=ro", uri=True, timeout=10)) as opened:
            return _inside(opened, known, thorough)
    except sqlite3.DatabaseError as error:
        return Examined(state=State.DAMAGED, why=f"SQLite says: {error}")


def _inside(opened: sqlite3.Connection, known: Set[Migration], thorough: bool) -> Examined:
    found = opened.execute(f"PRAGMA {'integrity' if thorough else 'quick'}_check(1)").fetchone()[0]
    if found != "ok":
        return Examined(state=State.DAMAGED, why=f"its pages contradict each other ({str(found)[:120]})")
    tables = {name for (name,) in opened.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    if not tables:
        return Examined(state=State.EMPTY, why="it has no tables")
    if EARLIEST in tables:
        return Examined(state=State.EARLIER, why="an earlier build made it")
    applied = (
        set(opened.execute("SELECT app, name FROM django_migrations"))
        if "django_migrations" in tables
        else None
    )
    half_made = applied is not None and {app for app, _ in applied} <= {app for app, _ in known}
    if applied is None or (OURS not in tables and not half_made):
        return Examined(state=State.FOREIGN, why="another program made it")
    counts = {
        name: opened.execute(f"SELECT count(*) FROM {table}").fetchone()[0]  # noqa: S608 - names of ours
        for name, table in COUNTED.items()
        if table in tables
    }
    photos = frozenset(
        name
        for table in sorted(tables)
        if not table.rpartition("_")[2].startswith("historical") and _has_file(opened, table)
        for (name,) in opened.execute(f'SELECT file FROM "{table}"')  # noqa: S608 - names of ours
        if isinstance(name, str) and name.endswith(KEPT_KINDS)
    )
    state, why = State.SOUND, ""
    apps = {app for app, _ in known}
    beyond = sorted(f"{app} {name}" for app, name in applied - known if app in apps)
    if beyond or {app for app, _ in applied} - apps:
        state, why = (
            State.NEWER,
            f"a newer release of Yellow Sill made it ({(beyond or ['another room'])[0]})",
        )
    elif known - applied:
        state, why = State.OLDER, "an older release made it"
    return Examined(state=state, why=why, counts=counts, photos=photos)


def _has_file(opened: sqlite3.Connection, table: str) -> bool:
    return any(row[1] == "file" for row in opened.execute(f'PRAGMA table_info("{table}")'))
