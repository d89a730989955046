"""What was changed in a vehicle, newest first, and how to take a change back."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from functools import cache
from typing import Any

from django.apps import apps
from django.db import IntegrityError, models
from django.db.models import OuterRef, ProtectedError, Subquery

from yellow_sill.core.errors import BadField
from yellow_sill.core.said import Day, Listed, Mm, Quoted, Said, first_low
from yellow_sill.web.frame.changes import Told, changing

from .models import Vehicle

#: How many changes one page tells, how many records of each, and how long a value may be in words.
MOST_CHANGES, MOST_RECORDS, LONGEST_VALUE = 40, 40, 60
#: Fields that say nothing of the record itself.
BESIDE = {"id", "version", "changed_at", "changed_by"}
VERBS = {"+": "Added", "~": "Changed", "-": "Deleted"}


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordChange:
    """One record in a change: what was done to it, its kind and name, and what of it differs: field, before, after."""

    verb: str
    kind: str
    name: str
    fields: tuple[tuple[str, str, str], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class MadeChange:
    """One change: its number, who made it and when, the first of its records and how many ``more`` there are."""

    revision: int
    by: str
    made_at: datetime
    records: tuple[RecordChange, ...]
    undone: bool = False
    back_of: int = 0
    more: int = 0


@cache
def _histories() -> tuple[type[models.Model], ...]:
    return tuple(model for model in apps.get_models() if issubclass(model, Told))


def _rows(vehicle: Vehicle, revisions: Sequence[int], first: int | None = None) -> dict[int, list[Any]]:
    """The rows of changes by their number, each change's in the order they were stored, each with the row ``before`` it of its record.

    Args: first: only so many of each change.
    """
    found: dict[int, list[Any]] = {number: [] for number in revisions}
    for history in _histories():
        earlier = history.objects.filter(id=OuterRef("id"), history_id__lt=OuterRef("history_id"))
        last = Subquery(earlier.order_by("-history_id").values("history_id")[:1])
        rows = list(
            history.objects.filter(of_vehicle=vehicle.pk, change_number__in=revisions)
            .filter(*([] if first is None else [models.Q(change_step__lte=first)]))
            .annotate(last=last)
        )
        before = history.objects.in_bulk({row.last for row in rows if row.last})
        for row in rows:
            row.before = before.get(row.last)
            found[row.change_number].append(row)
    for changed in found.values():
        changed.sort(key=lambda row: row.change_step)
    return found


def taken_back(vehicle: Vehicle) -> tuple[set[int], set[int]]:
    """The numbers of changes that are taken back, and of those that took them back; what takes such a one back counts again."""
    pairs: set[tuple[int, int]] = set()
    for history in _histories():
        rows = history.objects.filter(of_vehicle=vehicle.pk, change_back_of__gt=0)
        pairs |= set(rows.values_list("change_number", "change_back_of").distinct())
    gone: set[int] = set()
    took: set[int] = set()
    for number, of in sorted(pairs, reverse=True):
        if number not in gone:
            gone.add(of)
            took.add(number)
    return gone, took


def changes(vehicle: Vehicle, of: tuple[type[models.Model], int] | None = None) -> list[MadeChange]:
    """The last changes, newest first. Args: of: only those that touch one record: its model and key."""
    numbers: set[int] = set()
    for history in _histories() if of is None else [of[0].history.model]:
        rows = history.objects.filter(of_vehicle=vehicle.pk, change_number__gt=0)
        if of is not None:
            rows = rows.filter(**{of[0]._meta.pk.attname: of[1]})
        numbers |= set(
            rows.order_by("-change_number").values_list("change_number", flat=True).distinct()[:MOST_CHANGES]
        )
    gone, _ = taken_back(vehicle)
    shown = sorted(numbers, reverse=True)[:MOST_CHANGES]
    found, steps = _rows(vehicle, shown, MOST_RECORDS), _steps(vehicle, shown)
    return [
        _made(number, rows, number in gone, steps[number] - len(rows))
        for number, rows in found.items()
        if rows
    ]


def _steps(vehicle: Vehicle, revisions: Sequence[int]) -> dict[int, int]:
    """How many records each change touched."""
    found = dict.fromkeys(revisions, 0)
    for history in _histories():
        rows = history.objects.filter(of_vehicle=vehicle.pk, change_number__in=revisions).order_by()
        for number, count in rows.values_list("change_number").annotate(models.Count("history_id")):
            found[number] += count
    return found


def made_by(vehicle: Vehicle, revision: int) -> str:
    """Who made a change; empty where nobody is known or there is no such change."""
    told = (row.change_by for rows in _rows(vehicle, [revision], 1).values() for row in rows)
    return next((by for by in told if by), "")


def _made(revision: int, rows: Sequence[Any], undone: bool, more: int) -> MadeChange:
    return MadeChange(
        more=more,
        revision=revision,
        by=next((row.change_by for row in rows if row.change_by), ""),
        made_at=rows[0].history_date,
        undone=undone,
        back_of=rows[0].change_back_of,
        records=tuple(record for row in rows if (record := _told(row)).fields or row.history_type != "~"),
    )


def _told(row: Any) -> RecordChange:
    model = type(row).instance_type
    return RecordChange(
        verb=VERBS[row.history_type],
        kind=str(model._meta.verbose_name),
        name=_name(row),
        fields=_fields(row) if row.history_type == "~" else (),
    )


def _name(row: Any) -> str:
    try:
        return str(row.instance)
    except (AttributeError, models.ObjectDoesNotExist):  # what it hung on is gone too
        return f"{row.id}"


def _fields(row: Any) -> tuple[tuple[str, str, str], ...]:
    before = row.before
    if before is None:
        return ()
    found = []
    for field in type(row).instance_type._meta.concrete_fields:
        was, now = getattr(before, field.attname), getattr(row, field.attname)
        if field.name not in BESIDE and was != now:
            found.append((str(field.verbose_name), _value(field, was), _value(field, now)))
    for many in getattr(type(row).instance_type, "_history_m2m_fields", ()):
        was, now = (_related(each, many) for each in (before, row))
        if was != now:
            found.append((many.name, f"{len(was)}", f"{len(now)}"))
    return tuple(found)


def _related(row: Any, many: models.ManyToManyField) -> set[int]:
    return set(getattr(row, many.name).values_list(many.m2m_reverse_field_name(), flat=True))


def _value(field: models.Field, value: Any) -> str:
    """A value in words; drawings and lists by how much is in them."""
    if value in (None, "", [], {}):
        return Said("nothing")
    if isinstance(value, bool):
        return Said("yes") if value else Said("no")
    if isinstance(value, float) and field.name.endswith("_mm"):
        return Said("{value}", value=Mm(round(value, 3)))
    if isinstance(value, datetime):
        return str(value)
    if isinstance(value, date):
        return Said("{day}", day=Day(value))
    if isinstance(value, (list, dict)):
        return Said("{count} values", count=len(value))
    text = str(value)
    return text if len(text) <= LONGEST_VALUE else f"{text[:LONGEST_VALUE]}…"


def take_back(vehicle: Vehicle, revision: int, *, by: str) -> Said:
    """Take one change back: what it added goes, what it changed is as before, what it deleted is there again.

    This is a change like any other, and can be taken back itself.
    Returns: what was done, in words.
    Raises: BadField: no such change, a record of it was changed since, or something hangs on what it added.
    """
    rows, (gone, took) = _rows(vehicle, [revision])[revision], taken_back(vehicle)
    if revision in gone:
        raise BadField("This change is taken back already.", "change", "Reload the page.")
    if not rows:
        raise BadField("There is no such change.", "change", "Reload the page.")
    for row in rows:
        later = type(row).objects.filter(id=row.id, change_number__gt=revision).order_by("change_number")
        since = later.exclude(change_number__in=gone | took).first()
        if since is not None:
            raise BadField(
                Said(
                    "{kind} '{name}' was changed again since, by {by}.",
                    kind=Said(str(type(row).instance_type._meta.verbose_name).capitalize()),
                    name=Quoted(_name(row)),
                    by=Quoted(since.change_by or "somebody"),
                ),
                "change",
                "Take that change back first.",
            )
    try:
        with changing(vehicle, by=by, back_of=revision):
            for row in reversed(rows):
                _take_back(row, by)
    except IntegrityError:
        raise BadField(
            Said("Something else stands in the place of '{name}' by now.", name=Quoted(_name(rows[-1]))),
            "change",
            "Look at the changes since: take back what came in its place, or what it hung on.",
        ) from None
    names = dict.fromkeys(_name(row) for row in rows)
    return Said(
        "Taken back: {verb} {names}.",
        verb=first_low(VERBS[rows[0].history_type]),
        names=Listed(tuple(list(names)[:3])),
    )


def _take_back(row: Any, by: str) -> None:
    model = type(row).instance_type
    stored = model._base_manager.filter(pk=row.id).first()
    if row.history_type == "+":
        if stored is not None:
            try:
                stored.delete()
            except ProtectedError:
                raise BadField(
                    Said("Something hangs on '{name}' by now.", name=Quoted(_name(row))),
                    "change",
                    "Take that away first.",
                ) from None
        return
    source = row if row.history_type == "-" else row.before
    if source is None:
        return
    record = source.instance
    for field in model._meta.concrete_fields:
        key = getattr(record, field.attname) if field.is_relation else None
        if key is not None and not field.related_model._base_manager.filter(pk=key).exists():
            raise BadField(
                Said("What '{name}' hung on is gone by now.", name=Quoted(_name(row))),
                "change",
                "Take that back first: it stands among the changes since.",
            )
    if hasattr(record, "version"):
        record.version = max(row.version, stored.version if stored else 0) + 1
        record.changed_by = by
    record._state.adding = stored is None
    record.save(force_insert=stored is None)
    held = source if row.history_type == "~" else row.before
    for many in getattr(model, "_history_m2m_fields", ()) if held is not None else ():
        there = set(many.related_model._base_manager.values_list("pk", flat=True))
        getattr(record, many.name).set(_related(held, many) & there)


def record_asked(vehicle: Vehicle, asked: str) -> tuple[type[models.Model], int] | None:
    """The record that an address names as ``cut.cut.12``; None where it names none of this vehicle."""
    parts = asked.split(".")
    if len(parts) != 3 or not parts[2].isdecimal():
        return None
    try:
        model = apps.get_model(parts[0], parts[1])
    except LookupError:
        return None
    history = getattr(model, "history", None)
    if history is None or not history.model.objects.filter(of_vehicle=vehicle.pk, id=int(parts[2])).exists():
        return None
    return model, int(parts[2])
