"""The plug of a room in the bundle: what it puts into a vehicle's bundle, and how it stores that again.

A part of the bundle is put together from what every room tells of the same thing: the vehicle, a view, a panel, a repair, a
cut. Each hook gives the fields of that part that the room owns; the bundle itself goes over the rooms and knows none by name.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any


@dataclass(slots=True)
class Storing:
    """A vehicle that is being stored from a bundle: by whom, and what is there already.

    Attributes:
        names, sizes: by the photo's name in the bundle: its name here; its width and height, px.
        panels, findings, repairs: the stored records by (view, code) and by number.
    """

    vehicle: Any
    by: str
    names: dict[str, str]
    sizes: dict[str, tuple[int, int]]
    panels: dict[tuple[str, str], Any] = field(default_factory=dict)
    findings: dict[int, Any] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Section:
    """What one room owns of each part of a bundle, to gather (fields by name) and to store again.

    Attributes:
        vehicle, view, panel, repair, cut: fields of the part of that thing.
        store, store_view, store_panel, store_repair, store_cut: the same way back: what is stored so far, the stored thing, its part.
        noted: keys of the panels of which the room tells something.
        along: relations of repairs to read with them.
    """

    vehicle: Callable[[Any], dict[str, Any]] | None = None
    view: Callable[[Any], dict[str, Any]] | None = None
    panel: Callable[[Any], dict[str, Any]] | None = None
    repair: Callable[[Any], dict[str, Any]] | None = None
    cut: Callable[[Any], dict[str, Any]] | None = None
    store: Callable[[Storing, Any], None] | None = None
    store_view: Callable[[Storing, Any, Any], None] | None = None
    store_panel: Callable[[Storing, Any, Any], None] | None = None
    store_repair: Callable[[Storing, Any, Any], None] | None = None
    store_cut: Callable[[Storing, Any, Any], None] | None = None
    noted: Callable[[Any], set[int]] | None = None
    along: tuple[str, ...] = ()


def sections() -> list[Section]:
    """Those of all rooms, in working order."""
    from .stages import stages

    return [stage.bundle for stage in stages() if stage.bundle is not None]


def hooks(name: str) -> Iterator[Callable]:
    return (say for section in sections() if (say := getattr(section, name)) is not None)


def gathered(name: str, thing: Any) -> dict[str, Any]:
    """All that the rooms tell of one thing."""
    return {key: value for say in hooks(name) for key, value in say(thing).items()}


def part(kind: Any, record: Any, **more: Any) -> Any:
    """A part of the bundle from the record's fields of the same names."""
    return kind(**{name: getattr(record, name) for name in kind.model_fields if name not in more}, **more)


def in_panel(kind: Any, record: Any, **more: Any) -> Any:
    """A part of something that lies in a panel, which it names by view and code."""
    return part(kind, record, view=record.panel.view.name, panel=record.panel.code, **more)


def oldest_first(records: Any) -> list[Any]:
    return sorted(records, key=lambda record: record.pk)
