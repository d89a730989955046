"""Measuring rounds, read as far as they are: adjusted by the core, compared, and what to read next."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from django.db.models import Case, Exists, OuterRef, When

from yellow_sill.core.datum.adjust import adjust
from yellow_sill.core.datum.asked import AdjustRequest
from yellow_sill.core.datum.compare import Movement, compare
from yellow_sill.core.datum.next_reading import (
    NextReadingRequest,
    NextReadings,
    next_reading,
)
from yellow_sill.core.datum.results import Adjusted
from yellow_sill.core.datum.shape import Shape, ShapePoint, ShapeRequest, shape
from yellow_sill.core.datum.slips import averaged
from yellow_sill.core.datum.walk import (
    reading_key,
)
from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.shells.models import Vehicle

from .models import DatumPoint, Reading, Round
from .plan_services import asked_points, sheets_of, structure_in_sight
from .reading_services import sigma_of


@dataclass(frozen=True, slots=True, kw_only=True)
class Averaged:
    """One pair of a round with its repeats: their mean, its standard error, the values."""

    key: str
    kind: str
    codes: tuple[str, ...]
    value: float
    sigma_mm: float
    readings: tuple[Reading, ...]


def averages(round_: Round) -> list[Averaged]:
    """The round's readings in force, repeats averaged, in the order they were first taken."""
    groups: dict[str, list[Reading]] = {}
    for reading in round_.readings.filter(struck_why="").select_related("first", "second", "third"):
        groups.setdefault(reading_key(reading.kind, reading.codes), []).append(reading)
    out = []
    for key, group in groups.items():
        value, sigma = averaged([each.value for each in group], sigma_of(round_, group[0].kind))
        out.append(
            Averaged(
                key=key,
                kind=group[0].kind,
                codes=tuple(group[0].codes),
                value=value,
                sigma_mm=sigma,
                readings=tuple(group),
            )
        )
    return out


def request_of(round_: Round, points: Sequence[DatumPoint], read: Sequence[Averaged]) -> AdjustRequest:
    """What the core is asked about a round. Heights are always above a level plane: nobody finds the datum plane in a garage."""
    return AdjustRequest.read(
        {
            "points": asked_points(points),
            "readings": [
                {
                    "id": each.key,
                    "kind": each.kind,
                    "points": list(each.codes),
                    "value": each.value,
                    "sigma_mm": each.sigma_mm,
                }
                for each in read
            ],
            "heights_from": "level",
            "leave_out_undetermined": True,
        }
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Fit:
    """A round adjusted, or why it cannot be yet."""

    result: Adjusted | None
    error: CoreError | None


def fit_of(round_: Round) -> Fit:
    """Adjust a round as far as it is read. Only the points it touches take part."""
    return _fit_of(round_.vehicle, round_.pk)


@by_revision(128, "datums")
def _fit_of(vehicle: Vehicle, round_id: int) -> Fit:
    round_ = Round.objects.get(pk=round_id)
    read = averages(round_)
    touched = {code for each in read for code in each.codes}
    used = [point for point in vehicle.datum_points.all() if point.code in touched]
    if not used:
        return Fit(result=None, error=CoreError("Nothing is read yet.", "round", "Start with the heights."))
    try:
        return Fit(result=_adjusted(request_of(round_, used, read).model_dump_json()), error=None)
    except CoreError as error:
        return Fit(result=None, error=error)


@lru_cache(maxsize=128)
def _adjusted(asked: str) -> Adjusted:
    """The same readings of the same points are adjusted once. Raises: CoreError."""
    return adjust(AdjustRequest.model_validate_json(asked))


def read_counts(vehicle: Vehicle) -> dict[int, int]:
    """How many different readings each round has in force, by the round's key."""
    found: dict[int, set] = {}
    rows = Reading.objects.filter(round__vehicle=vehicle, struck_why="").values_list(
        "round_id", "kind", "first_id", "second_id", "third_id"
    )
    for round_id, kind, *ends in rows:
        found.setdefault(round_id, set()).add(
            reading_key(kind, [str(end) for end in ends if end is not None])
        )
    return {round_id: len(keys) for round_id, keys in found.items()}


def latest_round(vehicle: Vehicle) -> Round | None:
    """The last round of the whole shell that has readings, else the last of any repair."""
    rounds = vehicle.rounds.filter(Exists(Reading.objects.filter(round=OuterRef("pk"))))
    return rounds.order_by(Case(When(about="", then=1), default=0), "number").last()


def out_count(vehicle: Vehicle) -> str:
    """The few characters under the stage's name."""
    latest = latest_round(vehicle)
    if latest is None:
        return "not read"
    fit = fit_of(latest)
    if fit.result is None:
        return "reading"
    out = sum(point.verdict == "out" for point in fit.result.points)
    unsure = sum(point.verdict == "cannot tell yet" for point in fit.result.points)
    return f"{out} out" if out else f"{unsure} unsure" if unsure else "all in"


def movements(before: Round, after: Round) -> list[Movement]:
    """What moved between two rounds.

    Raises: CoreError where one of them cannot be adjusted.
    """
    return compare(_required(before), _required(after))


def _required(round_: Round) -> Adjusted:
    """A round adjusted. Raises: CoreError where it cannot be."""
    fit = fit_of(round_)
    if fit.result is not None:
        return fit.result
    what, mend = (fit.error.what, fit.error.mend) if fit.error else ("", "")
    raise CoreError(f"Round {round_.number} cannot be worked out: {what}", "round", mend)


def shape_of(result: Adjusted, points: Sequence[DatumPoint]) -> Shape | None:
    """The body's words of an adjusted round; None with fewer than three points."""
    book = {point.code: point for point in points}
    told = [point for point in result.points if point.id in book]
    if len(told) < 3:
        return None
    return _shape(
        ShapeRequest(
            points=[
                ShapePoint(
                    id=each.id,
                    nominal=book[each.id].nominal,
                    place=each.place,
                    covariance_mm2=each.covariance_mm2,
                )
                for each in told
            ]
        ).model_dump_json()
    )


@lru_cache(maxsize=32)
def _shape(asked: str) -> Shape:
    return shape(ShapeRequest.model_validate_json(asked))


def proposals(round_: Round) -> NextReadings | None:
    """What to read next in this round; None where nothing is read yet."""
    points = list(round_.vehicle.datum_points.all())
    wanted = {code for _, codes in round_.plan for code in codes} or {point.code for point in points}
    read = averages(round_)
    wanted |= {code for each in read for code in each.codes}
    used = [point for point in points if point.code in wanted]
    if not read or len(used) < 3:
        return None
    plates, bars = structure_in_sight(round_.vehicle)
    asked = NextReadingRequest.model_construct(
        points=request_of(round_, used, read).points,
        readings=request_of(round_, used, read).readings,
        candidates=None,
        sheets=sheets_of(round_.vehicle),
        plates=plates,
        bars=bars,
        tape_mm=3000.0,
        tape_sigma_mm=round_.tape_sigma_mm,
        height_sigma_mm=round_.height_sigma_mm,
        heights_from="level",
        wanted=5,
    )
    return next_reading(asked)
