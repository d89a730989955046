"""The backups that are made by themselves: one a day while Yellow Sill runs, copied on, the old ones thinned out."""

import sqlite3
from collections.abc import Callable, Set
from datetime import datetime
from threading import Event, Thread

from . import retention
from .backup import NothingYet, make_backup
from .copies import copy_newest
from .database import Migration
from .places import Home, HomeError

#: How long after the start the first look is, and how far apart the looks are, s.
FIRST_S, EVERY_S = 20.0, 600.0


def keep_up(home: Home, known: Set[Migration], now: datetime) -> str:
    """Make today's backup if there is none yet, copy the newest on, thin the old ones out.

    Returns: what went wrong, in words; empty where all is well.
    """
    try:
        if now.date() not in {at.date() for at, _ in retention.dated(home.backups).values()}:
            make_backup(home, None, known, now=now, why="daily")
        retention.thin(home.backups, now.replace(tzinfo=None))
    except NothingYet:
        return ""
    except HomeError as error:
        return str(error)
    except (OSError, sqlite3.Error) as error:
        return f"Today's backup could not be made: {getattr(error, 'strerror', None) or error}."
    copy_newest(home, now)
    return ""


#: The one that works here, if one does.
at_work: "Keeper | None" = None


class Keeper:
    """Looks after the backups beside the pages; ``fault`` is what went wrong last."""

    def __init__(self, home: Home, known: Set[Migration], clock: Callable[[], datetime]) -> None:
        self.home, self.known, self.clock = home, known, clock
        self.fault = ""
        self._ended = Event()

    def begin(self) -> None:
        global at_work
        at_work = self
        Thread(target=self._look, name="backups", daemon=True).start()

    def end(self) -> None:
        self._ended.set()

    def _look(self) -> None:
        wait = FIRST_S
        while not self._ended.wait(wait):
            self.fault = keep_up(self.home, self.known, self.clock())
            wait = EVERY_S
