"""Which backups that were made by themselves are kept: 7 days, 4 weeks, 12 months. What a person made is never taken away."""

import re
from collections.abc import Iterable
from datetime import datetime, timedelta
from pathlib import Path

DAYS, WEEKS, MONTHS = 7, 4, 12
#: Why a backup was made by itself; the name of its file says so.
WHY = {
    "daily": "by itself, daily",
    "before-upgrade": "by itself, before an upgrade",
    "before-restore": "by itself, before a restore",
}
_NAME = re.compile(r"yellow-sill-(\d{8}-\d{6})(?:-([a-z-]+))?\.zip")


def of_name(name: str) -> tuple[datetime, str] | None:
    """When a backup was made and why, from its file's name; None for another file.

    >>> of_name("yellow-sill-20260214-093000-daily.zip")
    (datetime.datetime(2026, 2, 14, 9, 30), 'daily')
    """
    found = _NAME.fullmatch(name)
    try:
        return (datetime.strptime(found[1], "%Y%m%d-%H%M%S"), found[2] or "") if found else None  # noqa: DTZ007 - the garage's own clock
    except ValueError:
        return None


def dated(folder: Path) -> dict[Path, tuple[datetime, str]]:
    """The backups in a folder whose names say when they were made, and why; none where there is no folder."""
    return {path: told for path in folder.glob("*.zip") if (told := of_name(path.name))}


def to_keep(made: Iterable[datetime], now: datetime) -> set[datetime]:
    """Which of those times are kept: the last of each of the last days, weeks and months, and the newest of all.

    Args: made, now: the garage's own clock, without a zone.
    """
    newest_first = sorted(made, reverse=True)
    kept = set(newest_first[:1])
    today = now.date()
    for length, name in (
        (timedelta(DAYS), lambda at: at.date()),
        (timedelta(7 * WEEKS), lambda at: at.isocalendar()[:2]),
        (timedelta(366 * MONTHS / 12), lambda at: (at.year, at.month)),
    ):
        seen = set()
        for at in newest_first:
            if today - at.date() < length and name(at) not in seen:
                seen.add(name(at))
                kept.add(at)
    return kept


def thin(folder: Path, now: datetime) -> list[Path]:
    """Take away the backups made by themselves that are kept no longer. Returns: those."""
    found = {path: at for path, (at, why) in dated(folder).items() if why in WHY}
    kept = to_keep(found.values(), now)
    gone = [path for path, at in found.items() if at not in kept]
    for path in gone:
        path.unlink(missing_ok=True)
    return gone
