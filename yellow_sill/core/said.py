"""Messages: a template and its values, never finished English.

A message reads as a sentence in British words and millimetres wherever a text is wanted, and keeps its template
and its values beside it, so that whoever shows it can say it in another language and in another unit. What a person
wrote goes in as a value and comes out untouched.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, fields, is_dataclass
from datetime import date
from functools import lru_cache
from typing import Any, Self


@dataclass(frozen=True, slots=True)
class Mm:
    """A length.

    Args: value: mm; digits: decimals, as short as it is exact where None; bare: without its unit, where a range names it
        once at its end or a word such as ``left`` follows; sized: a size or gap, else a reading or what something is off.
    """

    value: float
    digits: int | None = None
    bare: bool = False
    sized: bool = True

    @property
    def figure(self) -> str:
        """The number alone, in mm."""
        return f"{self.value:g}" if self.digits is None else f"{self.value:.{self.digits}f}"

    def __str__(self) -> str:
        return self.figure if self.bare else f"{self.figure} mm"


@dataclass(frozen=True, slots=True)
class MmPerM:
    """A slope, mm over one metre."""

    value: float
    digits: int = 1

    def __str__(self) -> str:
        return f"{self.value:.{self.digits}f} mm per m"


@dataclass(frozen=True, slots=True)
class Metres:
    """A long length, such as one of weld: mm, said in metres."""

    value: float
    digits: int = 1

    def __str__(self) -> str:
        return f"{self.value / 1000:.{self.digits}f} m"


@dataclass(frozen=True, slots=True)
class Mm2:
    """An area, mm²; said in cm² where ``large``."""

    value: float
    digits: int = 0
    large: bool = False

    def __str__(self) -> str:
        return (
            f"{self.value / 100:,.{self.digits}f} cm²".replace(",", "\u202f")
            if self.large
            else f"{self.value:.{self.digits}f} mm²"
        )


@dataclass(frozen=True, slots=True)
class Deg:
    """An angle, degrees."""

    value: float
    digits: int | None = None

    def __str__(self) -> str:
        return f"{self.value:g}°" if self.digits is None else f"{self.value:.{self.digits}f}°"


@dataclass(frozen=True, slots=True)
class DegC:
    """A temperature, °C."""

    value: float

    def __str__(self) -> str:
        return f"{self.value:.0f} °C"


@dataclass(frozen=True, slots=True)
class Count:
    """So many of a thing, with the word for one and for several: ``3 spot welds``."""

    value: int
    one: str
    many: str

    @property
    def word(self) -> str:
        return self.one if self.value == 1 else self.many

    def __str__(self) -> str:
        return f"{self.value} {self.word}"


@dataclass(frozen=True, slots=True)
class Day:
    """A day of the calendar."""

    value: date

    def __str__(self) -> str:
        return f"{self.value.day} {self.value:%b %Y}"


@dataclass(frozen=True, slots=True)
class Quoted:
    """A name, a code or words of a person's: shown as they are, in every language."""

    value: str

    def __str__(self) -> str:
        return self.value


@dataclass(frozen=True, slots=True)
class Listed:
    """Several values in a row, with what stands between two of them."""

    values: tuple[Any, ...]
    between: str = ", "

    def __str__(self) -> str:
        return self.between.join(str(each) for each in self.values)


@dataclass(frozen=True, slots=True)
class Cased:
    """A message that begins with a capital, because it opens a sentence, or with a small letter, because it does not."""

    value: str
    upper: bool = True

    def of(self, words: str) -> str:
        """The words with their first letter so."""
        first = words[:1].upper() if self.upper else words[:1].lower()
        return first + words[1:]

    def __str__(self) -> str:
        return self.of(str(self.value))


#: The kinds of value that are said by whoever shows the message; all others are put in as they are.
MEASURES = (Mm, MmPerM, Metres, Mm2, Deg, DegC, Count, Day)


class Said(str):
    """A message: reads as its sentence, keeps ``template`` and ``values``.

    Args: template: the sentence with ``{name}`` or ``{name:.1f}`` where a value goes; values: numbers, the kinds of
        this module, other messages, or texts that are put in as they are.

    >>> gap = Said("Only {gap} stay beside {panel}.", gap=Mm(12.04, 1), panel="L-SILL {old}")
    >>> gap, gap.template, gap + " Move it."
    ('Only 12.0 mm stay beside L-SILL {old}.', 'Only {gap} stay beside {panel}.', 'Only 12.0 mm stay beside L-SILL {old}. Move it.')
    """

    template: str
    values: dict[str, Any]

    def __new__(cls, template: str, /, **values: Any) -> Self:
        made = super().__new__(cls, template.format(**values) if values else template)
        made.template, made.values = template, values
        return made

    def __getnewargs_ex__(self) -> tuple[tuple[str], dict[str, Any]]:  # type: ignore[override]
        return (self.template,), self.values

    def __copy__(self) -> Self:
        return self

    def __deepcopy__(self, memo: dict[int, Any]) -> Self:
        return self

    def __add__(self, other: str) -> "Said":
        return joined((self, other), "")

    def __radd__(self, other: str) -> "Said":
        return joined((other, self), "")


def joined(parts: Iterable[str], between: str = " ") -> Said:
    """Several messages or fixed sentences as one, empty ones left out."""
    kept = [part if isinstance(part, Said) else Said(part) for part in parts if part]
    if len(kept) == 1:
        return kept[0]
    names = [f"part{i}" for i in range(len(kept))]
    return Said(between.join(f"{{{name}}}" for name in names), **dict(zip(names, kept, strict=True)))


@lru_cache(maxsize=2048)
def drawn_name(name: str) -> Said:
    """The name of a sheet of our drawings as a message: the sheet and its side are said apart.

    >>> drawn_name("Outer sill, left").values
    {'part': 'Outer sill', 'side': 'left'}
    """
    part, _, side = name.rpartition(", ")
    if side in ("left", "right"):
        return Said("{part}, {side}", part=Said(part), side=Said(side))
    return Said(name)


def first_up(words: str) -> Said:
    """A message whose first letter is a capital."""
    return Said("{words}", words=Cased(words))


def first_low(words: str) -> Said:
    """A message whose first letter is a small one."""
    return Said("{words}", words=Cased(words, upper=False))


def told(message: str, translate: Callable[[str], str] = str, measure: Callable[[Any], str] = str) -> str:
    """A message in other words and units.

    Args: message: a message, or a fixed sentence of ours; never words of a person's;
        translate: a template, or a fixed sentence, in the reader's language; measure: one of ``MEASURES`` in the reader's unit.
    Returns: the sentence.
    """
    if not isinstance(message, Said):
        return translate(message)
    if not message.values:
        return translate(message.template)
    values = {name: _value(value, translate, measure) for name, value in message.values.items()}
    return translate(message.template).format(**values)


def _value(value: Any, translate: Callable[[str], str], measure: Callable[[Any], str]) -> Any:
    if isinstance(value, Said):
        return told(value, translate, measure)
    if isinstance(value, Listed):
        return value.between.join(str(_value(each, translate, measure)) for each in value.values)
    if isinstance(value, Cased):
        return value.of(
            told(value.value, translate, measure) if isinstance(value.value, Said) else value.value
        )
    return measure(value) if isinstance(value, MEASURES) else value


def apart(message: Said) -> dict[str, Any]:
    """A message as plain JSON values, to be kept or printed: its template, and each value with its kind.

    >>> apart(Said("Only {gap} stay.", gap=Mm(12.04, 1)))
    {'template': 'Only {gap} stay.', 'values': {'gap': {'kind': 'Mm', 'value': 12.04, 'digits': 1}}}
    """
    return {
        "template": message.template,
        "values": {name: _apart(value) for name, value in message.values.items()},
    }


def _apart(value: Any) -> Any:
    if isinstance(value, Said):
        return apart(value)
    if isinstance(value, Listed):
        return {"kind": "Listed", "values": [_apart(each) for each in value.values], "between": value.between}
    if is_dataclass(value):
        told_of = {
            field.name: getattr(value, field.name)
            for field in fields(value)
            if getattr(value, field.name) != field.default
        }
        return {"kind": type(value).__name__} | {name: _apart(each) for name, each in told_of.items()}
    if isinstance(value, date):
        return value.isoformat()
    return value if isinstance(value, (str, int, float, bool)) or value is None else str(value)


_KINDS: dict[str, Any] = {kind.__name__: kind for kind in (*MEASURES, Quoted, Cased)}


def together(kept: Any) -> Any:
    """What ``apart`` made, as the message again; anything else comes back as it is.

    >>> together(apart(Said("Only {gap} stay.", gap=Mm(12.04, 1)))).values["gap"]
    Mm(value=12.04, digits=1, bare=False, sized=True)
    """
    if not isinstance(kept, dict):
        return kept
    if "template" in kept:
        return Said(kept["template"], **{name: together(each) for name, each in kept["values"].items()})
    values = {name: each for name, each in kept.items() if name != "kind"}
    if kept["kind"] == "Listed":
        return Listed(tuple(together(each) for each in values["values"]), values["between"])
    if kept["kind"] == "Day":
        return Day(date.fromisoformat(values["value"]))
    return _KINDS[kept["kind"]](**{name: together(each) for name, each in values.items()})
