"""Readings of a round: kept as typed and at once, struck, asked about where they look wrong."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from django.db.models import QuerySet
from django.utils import timezone

from yellow_sill.core.datum.network import KIND_WORDS, POINTS_OF
from yellow_sill.core.datum.slips import doubt, likely_slip, spread_words
from yellow_sill.core.datum.walk import (
    by_the_book,
    reading_key,
)
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.units import parse_length
from yellow_sill.web.frame import units
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Vehicle

from .models import DatumPoint, Reading, Round

#: A point this far off the middle has a side, mm.
SIDE_MM = 20.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Kept:
    """A reading just stored: the question about it (empty where all is well), what may have been meant, and how repeats agree."""

    reading: Reading
    question: str
    meant: float | None
    spread: str


@one_change
def keep_reading(
    round_: Round,
    kind: str,
    codes: Sequence[str],
    typed: str,
    *,
    by: str,
    device: str = "",
    replaces: int | None = None,
    value: float | None = None,
) -> Kept:
    """Store one reading as typed, at once; what looks wrong is asked about afterwards.

    Args: value: mm, instead of a typed text, from a device; replaces: a reading of this round that was mistyped, struck by this one.
    Raises: BadField naming what cannot be.
    """
    points = _points(round_.vehicle, kind, codes)
    value = _value(kind, typed) if value is None else value
    if kind == "offset_y" and value > 0 and points[0].y_mm < -SIDE_MM and not typed.strip().startswith("+"):
        value = -value  # left is below 0, but nobody types the sign of a side
    if replaces is not None:
        strike(round_, replaces, "mistyped", by=by)
    question, meant = _doubted(round_, kind, points, value)
    same = [*same_values(round_, kind, points), value]
    number = {
        f"{name}_id": point.pk for name, point in zip(("first", "second", "third"), points, strict=False)
    }
    reading = Reading.objects.create(
        round=round_,
        kind=kind,
        value=value,
        typed=(typed or f"{value:g}")[:40],
        by=by,
        made_at=timezone.now(),
        device=device,
        **number,
    )
    return Kept(
        reading=reading, question=question, meant=meant, spread=spread_words(same, sigma_of(round_, kind))
    )


def _doubted(
    round_: Round, kind: str, points: Sequence[DatumPoint], value: float
) -> tuple[str, float | None]:
    """What is asked about a reading, and what was likely meant; nothing where nobody can say."""
    expected, last = expected_value(round_, kind, points)
    against = expected if last is None else last
    if against is None:
        return "", None
    unit = units.unit.get()
    question = doubt(value, against if expected is None else expected, last, unit)
    slip = likely_slip(value, against, 6.0) if question and unit == "mm" else None
    return question, slip.value if slip else None


def _points(vehicle: Vehicle, kind: str, codes: Sequence[str]) -> list[DatumPoint]:
    if kind not in POINTS_OF:
        raise BadField(
            "There is no such kind of reading.", "kind", f"Choose one of: {', '.join(KIND_WORDS.values())}."
        )
    if len(codes) != POINTS_OF[kind] or len(set(codes)) < len(codes):
        raise BadField(
            f"A {KIND_WORDS[kind].lower()} joins {POINTS_OF[kind]} different points.",
            "points",
            "Choose them on the board or in the list.",
        )
    found = {point.code: point for point in vehicle.datum_points.filter(code__in=codes)}
    for code in codes:
        if code not in found:
            raise BadField(
                f"There is no point {code} in the book.", "points", "Add it to the datum book first."
            )
    return [found[code] for code in codes]


def _value(kind: str, typed: str) -> float:
    text = str(typed).strip()
    if not text:
        raise BadField("Nothing is typed.", "value", "Type what the tape says.")
    if kind == "angle":
        try:
            value = float(text.removesuffix("°").replace(",", "."))
        except ValueError:
            raise BadField(f"'{text[:20]}' is no angle.", "value", "Type degrees, like 89.5.") from None
        if not 0 < value < 180:
            raise BadField(f"{value:g}° is no angle between two arms.", "value", "It lies between 0 and 180.")
        return value
    try:
        value = parse_length(text, units.unit.get())
    except CoreError as error:
        raise BadField(error.what, "value", error.mend) from None
    if kind in ("distance", "plumb") and not 0 < value <= 20_000:
        raise BadField(
            f"{text[:20]} is no distance on a shell.", "value", "Type what the tape says, in millimetres."
        )
    if abs(value) > 20_000:
        raise BadField(
            f"{text[:20]} lies off every shell.", "value", "Type what the rule says, in millimetres."
        )
    return value


def strike(round_: Round, pk: int, why: str, *, by: str) -> None:
    """Take a reading out of the reckoning, or back in with an empty reason; it stays in the record.

    Raises: BadField where the round has no such reading.
    """
    try:
        reading = round_.readings.get(pk=pk)
    except Reading.DoesNotExist:
        raise BadField("This round has no such reading.", "reading", "Reload the page.") from None
    reading.struck_why = (f"{why} ({by})" if why else "")[:200]
    reading.save(update_fields=["struck_why"])


def sigma_of(round_: Round, kind: str) -> float:
    return round_.height_sigma_mm if kind in ("height", "height_difference") else round_.tape_sigma_mm


def same_values(round_: Round, kind: str, points: Sequence[DatumPoint]) -> list[float]:
    """What is in force of one pair in a round, whichever way round it was taped."""
    return list(_between(round_.readings.filter(struck_why=""), kind, points))


def _between(readings: QuerySet[Reading], kind: str, points: Sequence[DatumPoint]) -> Iterator[float]:
    """The values of those readings that join the same points in the same way."""
    ends = ("first", "second", "third")[: len(points)]
    keys = [point.pk for point in points]
    wanted = reading_key(kind, [str(key) for key in keys])
    rows = readings.filter(kind=kind, **{f"{name}__in": keys for name in ends})
    for value, *held in rows.values_list("value", *(f"{name}_id" for name in ends)):
        if reading_key(kind, [str(key) for key in held]) == wanted:
            yield value


def expected_value(
    round_: Round, kind: str, points: Sequence[DatumPoint]
) -> tuple[float | None, float | None]:
    """What a reading should be by the book, and what it was last time; None where nobody can say.

    Heights are above a plane of unknown height: the book says nothing of them, and another round's set-up neither.
    """
    if kind in ("height", "angle", "height_difference"):
        return None, None
    expected = by_the_book(kind, [point.nominal for point in points])
    earlier = Reading.objects.filter(
        round__vehicle=round_.vehicle, round__number__lt=round_.number, struck_why=""
    )
    return expected, next(_between(earlier.order_by("-round__number", "-pk"), kind, points), None)
