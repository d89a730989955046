"""The index of a vehicle's words, kept in memory: made anew at first, then brought up to date by what the history says has changed."""

from collections import OrderedDict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import date
from threading import RLock
from typing import Any

from django.db.models import Model

from yellow_sill.core.record.finder import Entry, Finder
from yellow_sill.web.frame.revision import revision_of
from yellow_sill.web.shells.models import Vehicle

from .kinds import KINDS, Kind

#: So many vehicles are held; what is not looked at for long goes first.
MOST_VEHICLES = 4
#: A sheet that several views show is found once.
ONCE = "shells.Panel"
#: A change of one of these may change the heads of any others: all is read anew.
HEADS_ALL = ("shells.Panel", "shells.ShellView")


@dataclass(frozen=True, slots=True, kw_only=True)
class ByDay:
    """Everything that has a day and is told in the time line, the newest first; the kinds, panels and days there are."""

    entries: list[Entry]
    kinds: list[str]
    panels: list[str]
    days: list[date]


@dataclass(slots=True)
class Held:
    """The index of a vehicle, up to which change it is, and its entries by their days (None: not sorted yet)."""

    finder: Finder
    revision: int
    lock: Any = field(default_factory=RLock)
    by_day: ByDay | None = None


_held: OrderedDict[int, Held] = OrderedDict()
_lock = RLock()


def index_of(vehicle: Vehicle) -> Finder:
    """The index of a vehicle as it is now."""
    return _up_to_date(vehicle).finder


def by_day(vehicle: Vehicle) -> ByDay:
    """The time line of a vehicle as it is now."""
    held = _up_to_date(vehicle)
    with held.lock:
        if held.by_day is None:
            told = [
                each
                for each in held.finder.entries.values()
                if each.day and KINDS[each.key.partition(":")[0]].line
            ]
            told.sort(key=lambda each: (each.day, _place(each.key)), reverse=True)
            held.by_day = ByDay(
                entries=told, kinds=sorted({each.kind for each in told}), panels=sorted({each.panel for each in told if each.panel}),
                days=sorted({each.day for each in told if each.day}),
            )  # fmt: skip
        return held.by_day


def _place(key: str) -> tuple[str, int]:
    model, _, pk = key.partition(":")
    return model, int(pk)


def _up_to_date(vehicle: Vehicle) -> Held:
    now = revision_of(vehicle.pk)
    with _lock:
        held = _held.get(vehicle.pk)
        if held is None:
            held = _held[vehicle.pk] = Held(finder=Finder(), revision=-1)
        _held.move_to_end(vehicle.pk)
        while len(_held) > MOST_VEHICLES:
            _held.popitem(last=False)
    with held.lock:
        if held.revision != now:
            _bring(vehicle, held)
            held.revision, held.by_day = now, None
    return held


def _bring(vehicle: Vehicle, held: Held) -> None:
    changed = (
        {kind.model: _changed(kind, vehicle, held.revision) for kind in KINDS.values()}
        if held.revision >= 0
        else {}
    )
    if not changed or any(changed[model] for model in HEADS_ALL if model in changed):
        held.finder = Finder()
        held.finder.put(entry for kind in KINDS.values() for entry in _entries(kind, kind.of(vehicle.pk)))
        return
    for kind in KINDS.values():
        if keys := changed[kind.model]:
            held.finder.drop(f"{kind.model}:{pk}" for pk in keys)
            held.finder.put(_entries(kind, kind.of(vehicle.pk).filter(pk__in=keys)))


def _changed(kind: Kind, vehicle: Vehicle, since: int) -> set[int]:
    """The keys of the records of a kind that were changed after a change."""
    history = kind.record.history  # type: ignore[attr-defined]
    return set(history.filter(of_vehicle=vehicle.pk, change_number__gt=since).values_list("id", flat=True))


def _entries(kind: Kind, rows: Iterable[Model]) -> Iterator[Entry]:
    seen: set[str] = set()
    for row in rows:
        head = str(kind.head(row)).strip()
        if kind.model == ONCE and head in seen:
            continue
        seen.add(head)
        text = " ".join(words for name in kind.texts for words in _words(row, name))
        if head or text:
            repair, panel = kind.repair(row), kind.panel(row)
            yield Entry(
                key=f"{kind.model}:{row.pk}", kind=kind.name, head=head[:400], text=text[:20_000], day=kind.day(row),
                repair=repair.number if repair else 0, panel=panel.code if panel else "",
            )  # fmt: skip


def _words(row: Model, name: str) -> Iterator[str]:
    """The words of a field, those of a choice as they are shown."""
    value = getattr(row, name)
    if row._meta.get_field(name).choices:
        yield str(getattr(row, f"get_{name}_display")())
    else:
        yield from _strings(value)


def _strings(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for each in value.values():
            yield from _strings(each)
    elif isinstance(value, list | tuple):
        for each in value:
            yield from _strings(each)
