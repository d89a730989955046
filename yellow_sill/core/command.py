"""What a calculation of the core is: what it takes, what works it out, what it is for."""

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from typing import Any

from .records import Record


@dataclass(frozen=True, slots=True)
class Command:
    """One calculation: what it takes and what works it out, each as "module:name", imported when it is asked for."""

    takes: str
    works: str
    summary: str
    long: bool = False

    @property
    def request(self) -> type[Record]:
        return _found(self.takes)

    @property
    def run(self) -> Callable[..., Any]:
        return _found(self.works)


def _found(place: str) -> Any:
    module, name = place.split(":")
    return getattr(import_module(f".{module}", __package__), name)
