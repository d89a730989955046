"""The rail: each stage that is built puts itself here when its app starts."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, slots=True, kw_only=True)
class Stage:
    """One stage of work. ``tally`` gives the few characters under its name from the vehicle."""

    place: int
    key: str
    label: str
    url_name: str
    tally: Callable[[Any], str]


_stages: dict[str, Stage] = {}


def add_stage(stage: Stage) -> None:
    _stages[stage.key] = stage


def stages() -> list[Stage]:
    """All built stages in working order."""
    return sorted(_stages.values(), key=lambda stage: stage.place)
