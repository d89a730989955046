"""Sessions in the database; where that cannot be written they live in memory, so that one can sign in and see what is wrong."""

from threading import Lock
from typing import Any

from django.contrib.sessions.backends.base import UpdateError
from django.contrib.sessions.backends.db import SessionStore as StoredSessions
from django.db import OperationalError

_lock = Lock()
#: What could not be stored, by key; gone when Yellow Sill ends.
_unstored: dict[str, dict[str, Any]] = {}
MOST_UNSTORED = 1000


class SessionStore(StoredSessions):
    @classmethod
    def get_model_class(cls):
        return StoredSessions.get_model_class()

    def load(self) -> dict[str, Any]:
        with _lock:
            kept = _unstored.get(self.session_key)
        return dict(kept) if kept is not None else super().load()

    def exists(self, session_key: str) -> bool:
        return session_key in _unstored or super().exists(session_key)

    def save(self, must_create: bool = False) -> None:
        data = dict(self._get_session(no_load=must_create))
        try:
            self._store(must_create)
        except OperationalError:
            with _lock:
                while len(_unstored) >= MOST_UNSTORED:
                    _unstored.pop(next(iter(_unstored)))
                _unstored[self._get_or_create_session_key()] = data
        else:
            with _lock:
                _unstored.pop(self.session_key, None)

    def _store(self, must_create: bool) -> None:
        """Write the row; one that lives in memory may have none yet, and is given one as soon as there is room.

        Raises OperationalError when the database cannot be written; Django hides it in an UpdateError.
        """
        try:
            super().save(must_create)
        except UpdateError as failure:
            if isinstance(failure.__context__, OperationalError):
                raise failure.__context__ from None
            with _lock:
                in_memory = self.session_key in _unstored
            if not in_memory:
                raise
            super().save(must_create=True)

    def delete(self, session_key: str | None = None) -> None:
        with _lock:
            _unstored.pop(session_key or self.session_key or "", None)
        try:
            super().delete(session_key)
        except OperationalError:
            return
