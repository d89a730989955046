"""The number of a vehicle's last change: what was worked out at one number holds until the next.

It only counts up and never follows the clock, so a remembered answer cannot go stale when the clock is set back.
"""

from collections import OrderedDict
from collections.abc import Callable
from functools import wraps
from threading import Lock, RLock
from typing import Concatenate, ParamSpec, TypeVar

from django.apps import apps
from django.db.models import Model

from yellow_sill.core.errors import CoreError

from .changes import is_open
from .once import once

P = ParamSpec("P")
R = TypeVar("R")
Of = TypeVar("Of", bound=Model)

_memories: list[OrderedDict] = []


@once
def revision_of(vehicle_id: int) -> int:
    """The number of a vehicle's last change, as it is stored now; 0 for none and for no such vehicle."""
    vehicles = apps.get_model("shells", "Vehicle")._base_manager.filter(pk=vehicle_id)
    return vehicles.values_list("revision", flat=True).first() or 0


@once
def _of_rooms(vehicle_id: int) -> dict[str, int]:
    rows = apps.get_model("frame", "RoomRevision").objects.filter(of_vehicle=vehicle_id)
    return dict(rows.values_list("room", "number"))


def by_revision(
    most: int, *rooms: str
) -> Callable[[Callable[Concatenate[Of, P], R]], Callable[Concatenate[Of, P], R]]:
    """A reading of a vehicle that is remembered until the next change of what it reads, ``most`` answers of it; a refusal is one too.

    While a change is under way nothing is remembered: what is stored half has the number of what will be stored whole. Who asks
    while another works the same out waits for that answer.

    Args: rooms: the apps whose records it reads, where it does not read all of the vehicle.
    """

    def remembering(read: Callable[Concatenate[Of, P], R]) -> Callable[Concatenate[Of, P], R]:
        memory: OrderedDict = OrderedDict()
        lock, at_work = Lock(), RLock()
        _memories.append(memory)

        def recalled(key: tuple) -> tuple[R | CoreError] | None:
            with lock:
                if key not in memory:
                    return None
                memory.move_to_end(key)
                return (memory[key],)

        @wraps(read)
        def inner(vehicle: Of, /, *args: P.args, **kwargs: P.kwargs) -> R:
            if is_open():
                return read(vehicle, *args, **kwargs)
            numbers = _of_rooms(vehicle.pk) if rooms else {}
            last = tuple(numbers.get(room, 0) for room in rooms) if rooms else revision_of(vehicle.pk)
            key = (vehicle.pk, last, args, tuple(kwargs.items()))
            if known := recalled(key):
                return _answer(known[0])
            with at_work:
                if known := recalled(key):
                    return _answer(known[0])
                try:
                    found: R | CoreError = read(vehicle, *args, **kwargs)
                except CoreError as refused:
                    found = refused
                with lock:
                    memory[key] = found
                    while len(memory) > most:
                        memory.popitem(last=False)
            return _answer(found)

        inner.rooms = rooms  # type: ignore[attr-defined]
        return inner

    return remembering


def _answer(found: R | CoreError) -> R:
    """What was found out. Raises: CoreError, where that was a refusal."""
    if isinstance(found, CoreError):
        raise found.with_traceback(None)
    return found


def forget() -> None:
    """Forget all that is remembered: for tests, whose rolled-back changes give their numbers again."""
    for memory in _memories:
        memory.clear()
