"""The backups as their page shows them: which there are, where a copy goes, what went wrong."""

from dataclasses import dataclass
from functools import cache
from pathlib import Path

from django.conf import settings
from django.contrib.auth import get_user_model
from django.db.migrations.loader import MigrationLoader

from yellow_sill.core.days import day_words
from yellow_sill.home import keeper, retention
from yellow_sill.home.copies import Copies, copies_of
from yellow_sill.home.places import Home
from yellow_sill.web.frame.days import moment_words


@dataclass(frozen=True, slots=True, kw_only=True)
class Kept:
    """A backup: its file, when and why it was made, how large it is."""

    path: Path
    day: str
    time: str
    why: str
    megabytes: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """What the page says of the copies: where they go, the last that arrived, and since when the folder is out of reach."""

    folder: str
    arrived: str
    failing: str
    why: str


def home() -> Home | None:
    """The data folder of whoever runs this; None in the demo."""
    return settings.HOME


@cache
def known() -> frozenset[tuple[str, str]]:
    """The migrations of this build."""
    return frozenset(MigrationLoader(None, ignore_no_migrations=True).disk_migrations)


def is_householder(user) -> bool:
    """Whether somebody made this house: the first account. The others do not see where it lies."""
    return get_user_model().objects.order_by("pk").values_list("pk", flat=True).first() == user.pk


def kept(home: Home) -> list[Kept]:
    """The backups in the data folder, newest first."""
    return [
        Kept(
            path=path,
            day=day_words(at.date()),
            time=f"{at:%H:%M}",
            why=retention.WHY.get(why, "by you"),
            megabytes=f"{path.stat().st_size / 1e6:.1f}",
        )
        for path, (at, why) in sorted(
            retention.dated(home.backups).items(), key=lambda each: each[1], reverse=True
        )
    ]


def told(home: Home) -> Told:
    copies: Copies = copies_of(home)
    return Told(
        folder=copies.folder,
        arrived=moment_words(copies.arrived_at),
        failing=moment_words(copies.failing_since),
        why=copies.why,
    )


def keeper_fault() -> str:
    """What went wrong when a backup was last made by itself; empty where all is well."""
    return keeper.at_work.fault if keeper.at_work else ""


def worry(user) -> str:
    """What whoever made this house is told of its backups where something is amiss; empty where all is well."""
    place = home()
    if place is None or not is_householder(user):
        return ""
    if fault := keeper_fault():
        return fault
    copies = told(place)
    if copies.failing:
        return f"No copy of your backups has reached {copies.folder} since {copies.failing}."
    return ""
