"""The base of every input record: frozen, finite numbers only, unknown keys refused by name.

One record serves the screens and the command line alike; its JSON Schema is published from it.
"""

from collections.abc import Mapping
from typing import Annotated, Any, Self

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from .errors import BadField

#: The most corners one outline may have. A hole traced at 1 mm round a whole sill needs about 900.
MOST_CORNERS = 2000

#: Farthest place on the drawing board, mm either way from the front axle; the longest shell is below 6 m.
FARTHEST_MM = 20_000.0

Coordinate = Annotated[float, Field(ge=-FARTHEST_MM, le=FARTHEST_MM)]
Point = tuple[Coordinate, Coordinate]
Corners = Annotated[list[Point], Field(min_length=3, max_length=MOST_CORNERS)]

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
    "string_too_long": "At most {max_length} characters are taken here.",
}


def json_path(parts: tuple[int | str, ...]) -> str:
    """``("findings", 2, "outline")`` as ``findings[2].outline``; the whole input is ``$``."""
    path = ""
    for part in parts:
        path += f"[{part}]" if isinstance(part, int) else (f".{part}" if path else part)
    return path or "$"


class Record(BaseModel):
    """An input record of the core. Build it with ``Record.read(mapping)`` to get a BadField on a fault."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, strict=False, populate_by_name=True)

    @classmethod
    def read(cls, values: Mapping[str, Any]) -> Self:
        """Check and convert plain values.

        Args: values: what a JSON object or a form gives.
        Returns: the record.
        Raises: BadField, naming the path of the first fault.
        """
        try:
            return cls.model_validate(values)
        except ValidationError as error:
            raise first_fault(error) from None


def first_fault(error: ValidationError) -> BadField:
    """The first fault of a validation as a BadField with the path of the value."""
    fault = error.errors(include_url=False, include_input=False)[0]
    words = _WORDS.get(fault["type"])
    message = words.format(**fault.get("ctx", {})) if words else fault["msg"] + "."
    return BadField(message, json_path(fault["loc"]))
