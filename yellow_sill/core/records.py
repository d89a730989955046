"""The base of every input record: frozen, finite numbers only, unknown keys refused by name.

One record serves the screens and the command line alike; its JSON Schema is published from it.
"""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import field
from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Self, get_args

from pydantic import BaseModel, ConfigDict, Field, GetCoreSchemaHandler, ValidationError
from pydantic_core import core_schema

from .errors import BadField
from .said import Said

#: The most corners one outline may have. A hole traced at 1 mm round a whole sill needs about 900.
MOST_CORNERS = 2000

#: Farthest place on the drawing board, mm either way from the front axle; the longest shell is below 6 m.
FARTHEST_MM = 20_000.0

#: No name or value of the input is repeated in a message beyond this many characters.
LONGEST_ECHO = 60

Coordinate = Annotated[float, Field(ge=-FARTHEST_MM, le=FARTHEST_MM)]
Point = tuple[Coordinate, Coordinate]
Corners = Annotated[list[Point], Field(min_length=3, max_length=MOST_CORNERS)]


def once(pairs: Sequence[tuple[str, Any]]) -> dict[str, Any]:
    """A JSON object whose every key is there once. Raises: BadField, as ``object_pairs_hook`` of the json module."""
    told = dict(pairs)
    if len(told) < len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for i, name in enumerate(names) if name in names[:i])
        raise BadField(
            Said("'{twice}' is there twice in one object.", twice=twice[:30]), "file", "Take one of them out."
        )
    return told


def as_key(name: str) -> Any:
    """A field of a result that bears another name in JSON, such as ``from``, which no Python field can have."""
    return field(metadata={"json": name})


class OneOf:
    """One of these words, as a literal in the published schema; for words that a module already has in a table."""

    def __init__(self, words: Iterable[str]) -> None:
        self.words = list(words)

    def __get_pydantic_core_schema__(
        self, source: type, handler: GetCoreSchemaHandler
    ) -> core_schema.CoreSchema:
        return core_schema.literal_schema(self.words)


#: pydantic's error types in the words of the garage; {name} comes from the error's own context.
_WORDS = {
    "missing": "This is missing.",
    "extra_forbidden": "Nobody knows this key.",
    "finite_number": "This must be a finite number.",
    "float_type": "This must be a number.",
    "float_parsing": "This must be a number.",
    "int_type": "This must be a whole number.",
    "int_parsing": "This must be a whole number.",
    "int_from_float": "This must be a whole number.",
    "string_type": "This must be a text.",
    "list_type": "This must be a list.",
    "tuple_type": "This must be a pair of numbers, [x, y].",
    "model_type": "This must be an object with named values.",
    "greater_than": "This must be above {gt}.",
    "greater_than_equal": "This must be {ge} or more.",
    "less_than": "This must be below {lt}.",
    "less_than_equal": "This must be {le} or less.",
    "too_short": "At least {min_length} are needed here; {actual_length} given.",
    "too_long": "At most {max_length} are taken here; {actual_length} given.",
    "literal_error": "This must be one of {expected}.",
    "string_too_short": "This must not be empty.",
    "decimal_max_digits": "This number has too many digits.",
    "decimal_whole_digits": "This number has too many digits.",
    "decimal_max_places": "This number has too many decimals.",
    "decimal_parsing": "This must be a number.",
    "decimal_type": "This must be a number.",
    "json_invalid": "This is not JSON: {error}.",
    "string_unicode": "This text has a broken character in it.",
    "bool_type": "This must be true or false.",
    "bool_parsing": "This must be true or false.",
    "dict_type": "This must be an object with named values.",
    "dataclass_type": "This must be an object with named values.",
    "int_parsing_size": "This number is too large.",
    "date_type": "This must be a day, such as 2026-02-14.",
    "date_parsing": "This must be a day, such as 2026-02-14.",
    "date_from_datetime_parsing": "This must be a day, such as 2026-02-14.",
    "date_from_datetime_inexact": "This must be a day, such as 2026-02-14.",
    "datetime_parsing": "This must be a day and time, such as 2026-02-14T09:30.",
    "string_pattern_mismatch": "This text is not of the form wanted here.",
    "union_tag_invalid": "This kind is not known here.",
    "string_too_long": "At most {max_length} characters are taken here.",
}


def json_path(parts: tuple[int | str, ...]) -> str:
    """``("findings", 2, "outline")`` as ``findings[2].outline``; the whole input is ``$``."""
    path = ""
    for part in parts:
        if isinstance(part, int):
            path += f"[{part}]"
        else:
            name = part if len(part) <= LONGEST_ECHO else f"{part[:LONGEST_ECHO]}…"
            path += f".{name}" if path else name
    return path or "$"


class Record(BaseModel):
    """An input record of the core. Build it with ``Record.read(mapping)`` to get a BadField on a fault."""

    model_config = ConfigDict(
        frozen=True, extra="forbid", allow_inf_nan=False, strict=False, populate_by_name=True
    )

    @classmethod
    def read(cls, values: Mapping[str, Any]) -> Self:
        """Check and convert plain values.

        Args: values: what a JSON object or a form gives.
        Returns: the record.
        Raises: BadField, naming the path of the first fault.
        """
        flags = list(_flags(values, ()))
        try:
            made = cls.model_validate(values)
        except ValidationError as error:
            raise first_fault(error) from None
        for path in flags:
            if not _is_flag(made, path):
                raise BadField("This must be a number, not true or false.", json_path(path))
        return made


#: What needs no second look.
_PLAIN = frozenset({int, float, type(None), Decimal, date})


def _is_plain(value: Any) -> bool:
    kind = type(value)
    return kind in _PLAIN or (kind is str and value.isascii())


def _is_broken(text: str) -> bool:
    """Whether a text has half a character in it."""
    return not text.isascii() and any("\ud800" <= c <= "\udfff" for c in text)


def _flags(value: Any, path: tuple[int | str, ...]) -> Iterator[tuple[int | str, ...]]:
    """Paths of all that is true or false. Raises: BadField for a text with half a character in it, which no file can hold."""
    if value is True or value is False:
        yield path
    elif isinstance(value, str):
        if _is_broken(value):
            raise BadField("This text has a broken character in it.", json_path(path), "Type it again.")
    elif isinstance(value, Mapping):
        for key, item in value.items():
            if isinstance(key, str) and _is_broken(key):
                raise BadField("A name has a broken character in it.", json_path(path), "Type it again.")
            if not _is_plain(item):
                yield from _flags(item, (*path, key))
    elif isinstance(value, (list, tuple)):
        for i, item in enumerate(value):
            if not _is_plain(item):
                yield from _flags(item, (*path, i))


def _is_flag(made: Any, path: tuple[int | str, ...]) -> bool:
    """Whether what was true or false was taken as that, and not as the number 1 or 0."""
    for step in path:
        if isinstance(made, BaseModel):
            fields = type(made).model_fields
            made = getattr(
                made,
                next((name for name, field in fields.items() if step in (name, field.alias)), str(step)),
                None,
            )
        elif isinstance(made, Mapping):
            made = made.get(step)
        else:
            made = (
                made[step]
                if isinstance(step, int) and isinstance(made, (list, tuple)) and step < len(made)
                else None
            )
    return isinstance(made, (bool, str)) or made is None


def require_keys(kind: type[BaseModel], value: Any, path: tuple[str | int, ...] = ()) -> None:
    """That an object has the keys of its record, and so have those within: told before anything large is read for nothing.

    Args: kind: the record; value: plain JSON values; path: where it lies.
    Raises: BadField with the path of a key that is unknown or missing.
    """
    if not isinstance(value, dict):
        return  # its kind is told when it is read
    names = kind.model_fields
    for key in value:
        if key not in names:
            raise BadField(Said("Nobody knows '{key}' here.", key=key[:30]), json_path((*path, key[:30])))
    for name, about in names.items():
        if name not in value:
            if about.is_required():
                raise BadField("This is missing.", json_path((*path, name)))
            continue
        for record in _records_in(about.annotation):
            inside = value[name]
            for i, each in enumerate(inside if isinstance(inside, list) else [inside]):
                require_keys(record, each, (*path, name, i) if isinstance(inside, list) else (*path, name))


def _records_in(annotation: Any) -> list[type[BaseModel]]:
    """The record that a field holds, alone, optional or in a list; none for another kind."""
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return [annotation]
    return [record for part in get_args(annotation) for record in _records_in(part)][:1]


def first_fault(error: ValidationError) -> BadField:
    """The first fault of a validation as a BadField with the path of the value."""
    return next(faults(error))


def faults(error: ValidationError) -> Iterator[BadField]:
    """All faults of a validation, each as a BadField with the path of its value."""
    for fault in error.errors(include_url=False, include_input=False):
        words = _WORDS.get(fault["type"])
        context = fault.get("ctx", {})
        said = (
            str(context["error"])
            if fault["type"] == "value_error" and "error" in context
            else "This does not fit here."
        )
        yield BadField(words.format(**context) if words else said, json_path(fault["loc"]))
