"""A round as it is walked: each reading of its plan with what was read of it so far, as pages and boards show it."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from yellow_sill.core.datum.network import KIND_WORDS
from yellow_sill.core.datum.slips import averaged, spread_words
from yellow_sill.core.datum.walk import reading_key
from yellow_sill.core.said import Said
from yellow_sill.web.frame import units

from .models import DatumPoint, Reading, Round
from .reading_services import sigma_of


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadValue:
    """One value that was read: as shown with its unit, and who read it with what, and why it was struck."""

    pk: int
    mm: float
    shown: str
    told: str
    struck: str

    @classmethod
    def of(cls, reading: Reading) -> "ReadValue":
        struck = f"struck: {reading.struck_why}" if reading.struck_why else ""
        return cls(
            pk=reading.pk,
            mm=reading.value,
            shown=f"{shown(reading.kind, reading.value)} {unit_of(reading.kind)}",
            told=", ".join(word for word in (reading.by, reading.device, struck) if word),
            struck=reading.struck_why,
        )


@dataclass(slots=True, kw_only=True)
class Step:
    """One reading of a walk: what is measured between which points, and what was read of it.

    Attributes:
        mean: of the values in force, as shown; empty where nothing is read.
        mean_told: the same in words where there are repeats.
        spread: what is to be said of repeats that do not agree.
        text, fault, question: of a sheet that is typed in: what was typed and refused, why, and what is asked about.
    """

    key: str
    kind: str
    word: str
    points: list[str]
    names: list[str]
    how: list[str]
    values: list[ReadValue] = field(default_factory=list)
    mean: str = ""
    mean_told: str = ""
    spread: str = ""
    text: str = ""
    fault: str = ""
    question: str = ""

    @classmethod
    def of(
        cls, round_: Round, kind: str, points: Sequence[DatumPoint], readings: Sequence[Reading]
    ) -> "Step":
        codes = [point.code for point in points]
        step = cls(
            key=reading_key(kind, codes),
            kind=kind,
            word=KIND_WORDS[kind],
            points=codes,
            names=[point.name for point in points],
            how=[point.how for point in points],
            values=[ReadValue.of(each) for each in readings],
        )
        in_force = [each.value for each in readings if not each.struck_why]
        if in_force:
            sigma = sigma_of(round_, kind)
            step.mean = shown(kind, averaged(in_force, sigma)[0])
            step.spread = spread_words(in_force, sigma)
        if len(in_force) > 1:
            step.mean_told = Said(
                "{count} readings, mean {mean}.",
                count=str(len(in_force)),
                mean=f"{step.mean} {unit_of(kind)}",
            )
        return step


def shown(kind: str, value: float) -> str:
    """A reading as the person reads it off, without its unit."""
    if kind == "angle":
        return f"{round(value, 2):g}"
    return units.reading(value) if units.unit.get() == "in" else f"{round(value, 1):.10g}"


def unit_of(kind: str) -> str:
    return "°" if kind == "angle" else units.unit.get()


def steps_of(round_: Round) -> list[Step]:
    """The plan in walking order, then what was read beside it."""
    points = {point.code: point for point in round_.vehicle.datum_points.all()}
    read: dict[str, list[Reading]] = {}
    for reading in round_.readings.select_related("first", "second", "third"):
        read.setdefault(reading_key(reading.kind, reading.codes), []).append(reading)
    steps: dict[str, Step] = {}
    for kind, codes in [*round_.plan, *([r[0].kind, r[0].codes] for r in read.values())]:
        key = reading_key(kind, codes)
        if key not in steps and set(codes) <= points.keys():
            steps[key] = Step.of(round_, kind, [points[code] for code in codes], read.get(key, []))
    return list(steps.values())


def step_of(round_: Round, kind: str, codes: Sequence[str]) -> Step:
    """One step, as it is now."""
    points = {point.code: point for point in round_.vehicle.datum_points.filter(code__in=codes)}
    rows = round_.readings.filter(kind=kind, first__code__in=codes).select_related("first", "second", "third")
    key = reading_key(kind, codes)
    read = [each for each in rows if reading_key(each.kind, each.codes) == key]
    return Step.of(round_, kind, [points[code] for code in codes], read)
