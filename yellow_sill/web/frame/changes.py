"""The one door for writes: a change of a vehicle is one transaction, one number, and what every record was before and after.

``with changing(vehicle, by=...)`` opens it; ``one_change`` does so for a service whose vehicle follows from what it stores.
A record that is stored outside of it opens one of its own, so that nothing goes untold. While a vehicle is built (a new one,
an import) nothing is told: there is nothing before it to go back to.
"""

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, field
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from django.apps import apps
from django.db import IntegrityError, OperationalError, connection, models, transaction
from django.db.models import F
from django.db.models.signals import m2m_changed, pre_delete, pre_save
from django.dispatch import receiver
from django.utils import timezone
from simple_history.models import HistoricalRecords
from simple_history.signals import pre_create_historical_record

from .again import Given

P = ParamSpec("P")
R = TypeVar("R")

#: Who is asking now; for records that do not say themselves who changed them.
asking: ContextVar[str] = ContextVar("asking", default="")


#: The key of what a browser sends, which may come twice when an answer is lost on the way; empty for all else.
sent_as: ContextVar[str] = ContextVar("sent_as", default="")


class StoredBefore(Exception):
    """What is being stored came before under the same key; nothing of it is stored again."""


@dataclass(slots=True)
class Change:
    """A change under way: its vehicle and its number once it has one (0 is what was before all changes), who makes it, how many
    records it has told of, what it takes back, the rooms whose records it touched."""

    by: str
    vehicle_id: int | None = None
    revision: int | None = None
    steps: int = 0
    silent: bool = False
    back_of: int = 0
    rooms: set[str] = field(default_factory=set)


_current: ContextVar[Change | None] = ContextVar("change", default=None)


class Told(models.Model):
    """What every row of a history says besides the record: of which vehicle, in which change, as its how manyeth, by whom; what it takes back."""

    of_vehicle = models.PositiveBigIntegerField(db_index=True, default=0)
    change_number = models.PositiveIntegerField(default=0)
    change_step = models.PositiveIntegerField(default=0)
    change_by = models.CharField(max_length=150, blank=True)
    change_back_of = models.PositiveIntegerField(default=0)

    class Meta:
        abstract = True


class History(HistoricalRecords):
    """The history of a kind of record; its first row is what the record was before anybody changed it here."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(bases=[Told], user_db_constraint=False, **kwargs)

    def finalize(self, sender, **kwargs):
        super().finalize(sender, **kwargs)
        if hasattr(sender._meta, "simple_history_manager_attribute") and not hasattr(sender, "told_in"):
            sender.told_in = self
            pre_save.connect(_remember, sender=sender, weak=False)
            pre_delete.connect(_remember, sender=sender, weak=False)
            for each in self.get_m2m_fields_from_model(sender):
                m2m_changed.connect(_remember_related, sender=each.remote_field.through, weak=False)

    def create_historical_record(self, instance, history_type, using=None):
        change = _current.get()
        if change is None or not change.silent:
            super().create_historical_record(instance, history_type, using)


class Kept(models.Model):
    """A record whose changes are kept, so that its history can be seen and its last change taken back."""

    history = History(inherit=True)

    class Meta:
        abstract = True


def _remember(sender, instance, raw: bool = False, **_more) -> None:
    """Keep what a record is before its first change here, so that this can be taken back."""
    change = _current.get()
    if raw or instance.pk is None or instance._state.adding or (change is not None and change.silent):
        return
    if sender.history.filter(**{sender._meta.pk.attname: instance.pk}).exists():
        return
    stored = sender._base_manager.filter(pk=instance.pk).first()
    if stored is not None:
        with _as(Change(by="", vehicle_id=vehicle_id_of(stored), revision=0)):
            sender.told_in.create_historical_record(stored, "+")


def _remember_related(sender, instance, action: str, **_more) -> None:
    if action.startswith("pre_") and isinstance(instance, Kept):
        _remember(type(instance), instance)


@contextmanager
def _as(change: Change) -> Iterator[Change]:
    token = _current.set(change)
    try:
        yield change
    finally:
        _current.reset(token)


def is_open() -> bool:
    """Whether a change is under way, which others wait for."""
    return _current.get() is not None


def is_storing() -> bool:
    """Whether the change under way has stored something, so that others wait for it."""
    change = _current.get()
    return change is not None and change.steps > 0


@contextmanager
def changing(vehicle: models.Model | None = None, *, by: str = "", back_of: int = 0) -> Iterator[Change]:
    """Open a change: all that is stored inside is stored together or not at all, and is told as one.

    Args: vehicle: whose change it is; found from the first record that is stored where it is left out;
        by: who; back_of: the number of the change that it takes back.
    """
    under_way = _current.get()
    with transaction.atomic():
        if under_way is not None:
            yield under_way
            return
        change = Change(by=by, vehicle_id=vehicle and vehicle.pk, back_of=back_of)
        with _as(change):
            yield change


def one_change(service: Callable[P, R]) -> Callable[P, R]:
    """A service that stores: what it stores is one change, by its ``by``.

    It reads and works out first and keeps nobody waiting until it stores its first record. Where somebody else stored in
    between, what it read is old: it is done again from the start, and the others wait for it then.
    """

    @wraps(service)
    def inner(*args, **kwargs):
        by = str(kwargs.get("by", ""))
        if not connection.in_atomic_block:
            given = Given([*args, *kwargs.values()])
            try:
                with _reading_first(), changing(by=by):
                    return service(*args, **kwargs)
            except OperationalError as busy:
                if "locked" not in str(busy):
                    raise
            given.put_back()
        with changing(by=by):
            return service(*args, **kwargs)

    return inner


@contextmanager
def _reading_first() -> Iterator[None]:
    """A transaction begun inside takes the lock for writing when it first writes, not when it begins."""
    connection.ensure_connection()
    usual = connection.transaction_mode
    connection.transaction_mode = "DEFERRED"
    try:
        yield
    finally:
        connection.transaction_mode = usual


def create_all(records: Sequence[models.Model]) -> None:
    """Store many new records of one kind at once, and tell each as ``save`` would; within a change."""
    if records:
        type(records[0])._default_manager.bulk_create(records)
        _tell_all(records, "+")


def delete_all(records: Sequence[models.Model]) -> None:
    """Delete many records of one kind at once, and tell each as ``delete`` would; within a change. Nothing may hang on them any more."""
    if records:
        _tell_all(records, "-")
        kind = type(records[0])
        keys = [record.pk for record in records]
        for at in range(0, len(keys), 500):
            some = kind._base_manager.filter(pk__in=keys[at : at + 500])
            some._raw_delete(some.db)


def _tell_all(records: Sequence[models.Model], sign: str) -> None:
    """A row of the history for each of many records of one kind: + made, - deleted."""
    kind, change = type(records[0]), _current.get() or Change(by="")
    if change.silent or not issubclass(kind, Kept):
        return
    if change.revision is None and (found := change.vehicle_id or vehicle_id_of(records[0])):
        _number(change, found)
    _touch(change, kind)
    told = {"history_type": sign, "history_date": timezone.now(), "of_vehicle": change.vehicle_id or 0}
    told |= {"change_number": change.revision or 0, "change_back_of": change.back_of}
    told |= {"change_by": (change.by or asking.get())[:150]}
    fields = [field.attname for field in kind.history.model.tracked_fields]
    rows = []
    for record in records:
        change.steps += 1
        values = {name: getattr(record, name) for name in fields}
        rows.append(kind.history.model(**values, **told, change_step=change.steps))
    kind.history.model.objects.bulk_create(rows)


@contextmanager
def building() -> Iterator[None]:
    """While a vehicle is built, from its body type or from a file, nothing is told: there is nothing before it."""
    with transaction.atomic(), _as(Change(by="", silent=True)):
        yield


def vehicle_id_of(record: Any) -> int | None:
    """The vehicle that a record belongs to, by its own key or that of what it hangs on."""
    if record._meta.model_name == "vehicle":
        return record.pk
    if hasattr(record, "vehicle_id"):
        return record.vehicle_id
    for key in record._meta.concrete_fields:
        if not (isinstance(key, models.ForeignKey) and key.remote_field.on_delete is models.CASCADE):
            continue
        if getattr(record, key.attname) is not None and (found := vehicle_id_of(getattr(record, key.name))):
            return found
    return None


def _number(change: Change, vehicle_id: int) -> None:
    """Give a change the vehicle's next number; it only counts up and never follows the clock.

    What a browser sent with a key is stored together with it. Raises: StoredBefore where that key was stored.
    """
    if key := sent_as.get():
        try:
            apps.get_model("frame", "Waited").objects.create(key=key)
        except IntegrityError:
            raise StoredBefore from None
    vehicles = apps.get_model("shells", "Vehicle")._base_manager.filter(pk=vehicle_id)
    vehicles.update(revision=F("revision") + 1)
    change.vehicle_id = vehicle_id
    change.revision = vehicles.values_list("revision", flat=True).first() or 1


def _touch(change: Change, kind: type[models.Model]) -> None:
    """Keep the number of a change as the last one of the room that a record is of."""
    if change.vehicle_id and change.revision and (room := kind._meta.app_label) not in change.rooms:
        change.rooms.add(room)
        numbers = apps.get_model("frame", "RoomRevision").objects
        numbers.update_or_create(
            of_vehicle=change.vehicle_id, room=room, defaults={"number": change.revision}
        )


@receiver(pre_create_historical_record)
def _tell(instance, history_instance, **_more) -> None:
    """Write down of which change a row is."""
    change = _current.get() or Change(by="")
    if change.revision is None and (found := change.vehicle_id or vehicle_id_of(instance)):
        _number(change, found)
    _touch(change, type(instance))
    change.steps += 1
    history_instance.of_vehicle = change.vehicle_id or 0
    history_instance.change_number, history_instance.change_step = change.revision or 0, change.steps
    history_instance.change_back_of = change.back_of
    history_instance.change_by = (
        change.by or asking.get() or getattr(instance, "changed_by", "") or getattr(instance, "by", "") or ""
    )[:150]
