"""The command line of the core: one JSON object in, one JSON object out. Starts without Django."""

import json
import sys
from collections.abc import Callable, Sequence
from dataclasses import fields, is_dataclass
from datetime import date
from decimal import Decimal
from enum import Enum
from functools import cache
from typing import Any, TextIO

from .commands import COMMANDS
from .errors import BadField, CoreError
from .records import once
from .said import Listed, Mm, Said, apart

#: Most bytes of one input.
MOST_BYTES = 8_000_000


#: The longest message and path that is answered, characters.
LONGEST_MESSAGE = 500


@cache
def _keys(kind: type) -> list[tuple[str, str]]:
    """Field names of a result with their names in JSON."""
    return [(field.name, field.metadata.get("json", field.name)) for field in fields(kind)]


def plain(value: Any) -> Any:
    """A core result as plain JSON values."""
    if isinstance(value, (float, int, str)) and not isinstance(value, Enum):
        return value
    if is_dataclass(value) and not isinstance(value, type):
        return {key: plain(getattr(value, name)) for name, key in _keys(type(value))}
    if isinstance(value, dict):
        return {key: plain(item) for key, item in value.items()}
    if isinstance(value, Enum):
        return value.value
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, Decimal):
        return f"{value:f}"  # money is exact: as text, to the last penny
    if (
        isinstance(value, list)
        and value
        and isinstance(value[0], list)
        and value[0]
        and isinstance(value[0][0], float)
    ):
        return value  # a ring of corners is plain already, and there are thousands of numbers in them
    if isinstance(value, (list, tuple)):
        return [plain(item) for item in value]
    return value


def printed(value: Any) -> Any:
    """Plain values for the command line: beside each message, under ``NAME_said``, its template and values."""
    if isinstance(value, dict):
        out = {}
        for key, item in value.items():
            out[key] = printed(item)
            if isinstance(item, Said):
                out[f"{key}_said"] = apart(item)
            elif isinstance(item, list) and any(isinstance(each, Said) for each in item):
                out[f"{key}_said"] = [apart(each) if isinstance(each, Said) else each for each in item]
        return out
    return (
        [printed(item) for item in value]
        if isinstance(value, list) and value and isinstance(value[0], dict)
        else value
    )


def calculate(name: str, values: Any, progress: Callable[[float], None] | None = None) -> Any:
    """Run one command on plain values.

    Args: name: a key of COMMANDS; values: the JSON object; progress: called with the share done by the commands that take long.
    Returns: plain JSON values.
    Raises: CoreError.
    """
    command = COMMANDS.get(name)
    if command is None:
        raise BadField(
            Said("There is no calculation '{name}'.", name=name),
            "$",
            Said("There are: {commands}.", commands=Listed(tuple(COMMANDS))),
        )
    if not isinstance(values, dict):
        raise BadField("The input must be one JSON object.", "$")
    request = command.request.read(values)
    return plain(command.run(request, progress) if progress and command.long else command.run(request))


def _no_constant(word: str) -> float:
    raise BadField(
        Said("{word} is not a number that can be cut.", word=word), "$", "Only finite numbers are taken."
    )


def _read(stream: TextIO) -> Any:
    try:
        text = stream.read(MOST_BYTES + 1)
    except UnicodeDecodeError:
        raise BadField("This is not text in UTF-8.", "$") from None
    if len(text) > MOST_BYTES:
        raise BadField(
            Said("The input is larger than {most_bytes} MB.", most_bytes=MOST_BYTES // 1_000_000), "$"
        )
    try:
        return json.loads(text, parse_constant=_no_constant, object_pairs_hook=once)
    except json.JSONDecodeError as error:
        raise BadField(
            Said(
                "This is not JSON: {msg} in line {lineno}, column {colno}.",
                msg=error.msg,
                lineno=error.lineno,
                colno=error.colno,
            ),
            "$",
        ) from None
    except ValueError:  # a whole number of thousands of digits
        raise BadField("A number in the input has too many digits.", "$") from None
    except RecursionError:
        raise BadField("The input is nested too deep.", "$") from None


def main(arguments: Sequence[str] | None = None) -> int:
    """``calc NAME [FILE]``, ``calc --list``, ``calc NAME --schema``. Returns the exit code: 0, or 2 for bad input.

    ``calc removal_order --progress`` also writes the share done to standard error, line by line.
    """
    words = list(sys.argv[1:] if arguments is None else arguments)
    try:
        print(json.dumps(printed(_answer(words)), ensure_ascii=False, allow_nan=False))
    except CoreError as error:
        near = Said(" Near {at:.1f}, {at2}.", at=error.at[0], at2=Mm(error.at[1], 1)) if error.at else ""
        message = (
            error.message if len(error.message) <= LONGEST_MESSAGE else f"{error.message[:LONGEST_MESSAGE]}…"
        )
        said = {
            "code": error.code,
            "message": (message + near).encode("utf-8", "replace").decode(),
            "where": (error.where or "$")[:LONGEST_MESSAGE],
        }
        print(json.dumps({"error": said}, ensure_ascii=False))
        return 2
    return 0


def _answer(words: list[str]) -> Any:
    if words == ["--list"]:
        return {name: command.summary for name, command in COMMANDS.items()}
    schema, shown = "--schema" in words, "--progress" in words
    names = [word for word in words if word not in ("--schema", "--progress")]
    if not names or len(names) > 2 or names[0].startswith("-"):
        raise BadField(
            "Say which calculation.", "$", "Type: calc NAME [FILE], calc NAME --schema, or calc --list."
        )
    if schema:
        if names[0] not in COMMANDS:
            raise BadField(
                Said("There is no calculation '{names}'.", names=names[0]),
                "$",
                Said("There are: {commands}.", commands=Listed(tuple(COMMANDS))),
            )
        return COMMANDS[names[0]].request.model_json_schema()
    if names[0] not in COMMANDS:
        return calculate(names[0], {})
    if len(names) == 1:
        return calculate(names[0], _read(sys.stdin), _tell if shown else None)
    try:
        with open(names[1], encoding="utf-8") as stream:
            values = _read(stream)
    except OSError:
        raise BadField(Said("The file '{names}' cannot be read.", names=names[1]), "$") from None
    return calculate(names[0], values, _tell if shown else None)


def _tell(share: float) -> None:
    print(f"{share:.3f}", file=sys.stderr, flush=True)


if __name__ == "__main__":
    sys.exit(main())
