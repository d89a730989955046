"""Values kept in the database as JSON, read quickly: hundreds of outlines a page; and messages, stored as their template and values."""

import json
from typing import TYPE_CHECKING, Any

from django.db import models
from django.db.models.fields.json import KeyTransform
from pydantic_core import from_json

from yellow_sill.core.said import Said, apart, together


class SaidField(models.TextField):
    """One message of the core; a plain text stays what it is."""

    if TYPE_CHECKING:

        def __get__(self, record: object, kind: object) -> str: ...

        def __set__(self, record: object, value: str) -> None: ...

    def get_prep_value(self, value: Any) -> Any:
        return json.dumps(apart(value), ensure_ascii=False) if isinstance(value, Said) else value

    def from_db_value(self, value: Any, expression, connection) -> Any:
        return together(json.loads(value)) if value and value.startswith('{"template": ') else value


class JSONField(models.JSONField):
    """Plain values; Django's own field but for the reader, which takes a third of the time."""

    if TYPE_CHECKING:

        def __get__(self, record: object, kind: object) -> Any: ...

        def __set__(self, record: object, value: Any) -> None: ...

    def from_db_value(self, value: Any, expression, connection) -> Any:
        if isinstance(value, str) and not isinstance(expression, KeyTransform):
            return from_json(value)
        return super().from_db_value(value, expression, connection)

    def deconstruct(self):
        name, _, args, kwargs = super().deconstruct()
        return name, "django.db.models.JSONField", args, kwargs


class _Reader(json.JSONDecoder):
    """Reads messages that lie anywhere in the values."""

    def __init__(self, **more: Any) -> None:
        super().__init__(object_hook=lambda found: together(found) if "template" in found else found, **more)


class SaidJSONField(models.JSONField):
    """Plain values with messages of the core among them."""

    if TYPE_CHECKING:

        def __get__(self, record: object, kind: object) -> list[Any]: ...

        def __set__(self, record: object, value: list[Any]) -> None: ...

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **{**kwargs, "decoder": _Reader})

    def deconstruct(self):
        name, path, args, kwargs = super().deconstruct()
        kwargs.pop("decoder", None)
        return name, path, args, kwargs

    def from_db_value(self, value: Any, expression, connection) -> Any:
        if isinstance(value, str) and '"template"' not in value and not isinstance(expression, KeyTransform):
            return from_json(value)
        return super().from_db_value(value, expression, connection)

    def get_db_prep_value(self, value: Any, connection, prepared: bool = False) -> Any:
        return super().get_db_prep_value(_apart(value), connection, prepared)


def _apart(value: Any) -> Any:
    if isinstance(value, Said):
        return apart(value)
    if isinstance(value, dict):
        return {key: _apart(item) for key, item in value.items()}
    return [_apart(item) for item in value] if isinstance(value, (list, tuple)) else value
