"""What a service was given, as it was: one that is done again after somebody else stored begins from the same records."""

import pickle
from collections.abc import Callable, Iterable, Mapping
from typing import Any

from django.db.models import Model
from django.db.models.query import QuerySet


class Given:
    """The records that a service was given, with those that hang on them in memory, as they were before it began.

    A service that was begun and could not store has often changed them already: done again on those it would say the
    same thing twice.
    """

    def __init__(self, given: Iterable[Any]) -> None:
        self._back: list[Callable[[], object]] = []
        self._seen: set[int] = set()
        for each in given:
            self._keep(each)

    def put_back(self) -> None:
        """Make every record what it was; what was read meanwhile is read anew when it is asked for."""
        for back in self._back:
            back()

    def _keep(self, thing: Any) -> None:
        if isinstance(thing, Model):
            self._keep_record(thing)
        elif isinstance(thing, list | tuple):
            for each in thing:
                self._keep(each)
        elif isinstance(thing, Mapping):
            for each in thing.values():
                self._keep(each)
        elif isinstance(thing, QuerySet) and thing._result_cache is not None:
            self._keep(thing._result_cache)
        elif isinstance(getattr(thing, "instance", None), Model):
            self._keep(thing.instance)

    def _keep_record(self, record: Model) -> None:
        if id(record) in self._seen:
            return
        self._seen.add(id(record))
        held, state = dict(record.__dict__), dict(record._state.__dict__)
        cache = dict(state.get("fields_cache", {}))
        fetched = dict(held.get("_prefetched_objects_cache", {}))
        nested = {
            field.attname: pickle.dumps(value)
            for field in record._meta.concrete_fields
            if isinstance(value := held.get(field.attname), list | dict)
        }

        def back() -> None:
            record.__dict__.clear()
            record.__dict__.update(held)
            # Its own, of a moment ago; five times as quick as a deep copy.
            record.__dict__.update({name: pickle.loads(value) for name, value in nested.items()})  # noqa: S301
            if "_prefetched_objects_cache" in held:
                record.__dict__["_prefetched_objects_cache"] = fetched
            record._state.__dict__.clear()
            record._state.__dict__.update(state)
            if "fields_cache" in state:
                record._state.__dict__["fields_cache"] = cache

        self._back.append(back)
        for each in (*cache.values(), *fetched.values()):
            self._keep(each)
