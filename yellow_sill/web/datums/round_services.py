"""Measuring rounds: opened with a plan, read one by one, adjusted by the core, compared."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache

from django.db.models import Case, Exists, Max, OuterRef, When
from django.utils import timezone

from yellow_sill.core.datum.adjust import AdjustRequest, adjust
from yellow_sill.core.datum.compare import Movement, compare
from yellow_sill.core.datum.network import KIND_WORDS, POINTS_OF
from yellow_sill.core.datum.next_reading import (
    HEIGHT_SIGMA_MM,
    TAPE_SIGMA_MM,
    NextReadingRequest,
    NextReadings,
    next_reading,
)
from yellow_sill.core.datum.results import Adjusted
from yellow_sill.core.datum.shape import Shape, ShapeRequest, shape
from yellow_sill.core.datum.sight import Bar, Plate, Sheet, in_reach
from yellow_sill.core.datum.slips import averaged, doubt, likely_slip, spread_words
from yellow_sill.core.datum.starting_set import floor_height_mm
from yellow_sill.core.datum.walk import (
    STAGES,
    by_the_book,
    places_of,
    planned_round,
    points_near,
    reading_key,
    with_ties,
)
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.hold.bodies import vehicle_structure
from yellow_sill.core.hold.sight import plates_and_bars
from yellow_sill.core.units import parse_length
from yellow_sill.web.frame import units
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Panel, Vehicle

from .models import DatumPoint, Reading, Round
from .subjects import subject

#: A point this far off the middle has a side, mm.
SIDE_MM = 20.0
#: A plan adds distances until every point is this sure (one standard error, mm; a tolerance of 3 mm is told at 1.5), at most so many.
SURE_ENOUGH_MM, MOST_MORE = 1.5, 20
#: Panels that hang below the floor and hide nothing, by what their code begins with.
BELOW = ("LEG", "RAIL", "OUT", "HANG", "JACK", "XM", "CH", "MOUNT", "NOSE", "WING", "TAIL", "IWING", "SILL")


def sheets_of(vehicle: Vehicle) -> list[Sheet]:
    """The shell's floor, which no tape goes through, as far as the underside shows it."""
    panels = [
        panel
        for panel in Panel.objects.filter(view__vehicle=vehicle, view__name="underside").only(
            "code", "outline", "holes"
        )
        if not panel.code.removeprefix("L-").removeprefix("R-").startswith(BELOW)
    ]
    if not panels:
        return []
    turned = lambda ring: [(float(u), -float(v)) for u, v in ring]  # noqa: E731 - the underside's v is -y
    height = floor_height_mm(vehicle.body_type, vehicle.dimensions_mm)
    return [
        Sheet.model_construct(
            axis="z", at_mm=height, outlines=[turned(panel.outline) for panel in panels], holes=[]
        )
    ]


def structure_in_sight(vehicle: Vehicle) -> tuple[list[Plate], list[Bar]]:
    """Sheets, rails and posts of the vehicle's structure that stand in the way of a tape; none where its body type has no structure."""
    return _in_sight(vehicle.body_type, tuple(sorted(vehicle.dimensions_mm.items())))


@lru_cache(maxsize=16)
def _in_sight(body_type: str, sizes: tuple[tuple[str, float], ...]) -> tuple[list[Plate], list[Bar]]:
    try:
        structure = vehicle_structure(body_type, dict(sizes))
    except CoreError:
        return [], []
    return plates_and_bars(structure) if structure else ([], [])


def _what_more(vehicle: Vehicle, points: Sequence[DatumPoint], plan: Sequence) -> list:
    """Distances beyond a plan's own, for points that it would leave less sure than a verdict needs."""
    plates, bars = structure_in_sight(vehicle)
    sigma = {"height": HEIGHT_SIGMA_MM}
    readings = [
        {
            "id": str(i),
            "kind": kind,
            "points": codes,
            "value": 1.0,
            "sigma_mm": sigma.get(kind, TAPE_SIGMA_MM),
        }
        for i, (kind, codes) in enumerate(plan)
    ]
    asked = {"points": _asked(points), "readings": readings, "heights_from": "level", "wanted": MOST_MORE}
    told = next_reading(
        NextReadingRequest.read(asked | {"sheets": sheets_of(vehicle), "plates": plates, "bars": bars})
    )
    needed = [
        each
        for each, before in zip(
            told.readings, [told.worst_before_mm, *(r.worst_after_mm for r in told.readings)], strict=False
        )
        if before > SURE_ENOUGH_MM
    ]
    return [[each.kind, each.points] for each in needed]


def _asked(points: Sequence[DatumPoint]) -> list[dict]:
    """Points of the book as the core takes them."""
    names = ("trusted", "trust_sigma_mm", "tolerance_mm")
    return [
        {"id": p.code, "nominal": p.nominal, **{name: getattr(p, name) for name in names}} for p in points
    ]


@one_change
def open_round(
    vehicle: Vehicle,
    *,
    stage: str,
    about: str = "",
    taken_on: date,
    by: str,
    note: str = "",
    tape_sigma_mm: float | None = None,
    height_sigma_mm: float | None = None,
) -> Round:
    """A new round with its plan: all of the shell, or what is near a repair.

    Raises: BadField where the book is empty or the stage or repair unknown.
    """
    points = list(vehicle.datum_points.all())
    if stage not in STAGES:
        raise BadField("There is no such stage.", "stage", f"Choose one of: {', '.join(STAGES.values())}.")
    if len(points) < 3:
        raise BadField(
            "The datum book has fewer than three points.",
            "about",
            "Bring in the starting set, or add points.",
        )
    ids, nominal = [point.code for point in points], places_of([point.nominal for point in points])
    wanted = None
    plates, bars = structure_in_sight(vehicle)
    if about:
        chosen = subject(vehicle, about)
        if chosen is None:
            raise BadField(f"There is no {about} on this vehicle.", "about", "Choose one of the list.")
        wanted = points_near(ids, nominal, chosen.box, [point.code for point in points if point.trusted])
        wanted = with_ties(
            ids, nominal, wanted, in_reach(nominal, sheets_of(vehicle), plates=plates, bars=bars)
        )
    plan = [
        [each.kind, list(each.points)]
        for each in planned_round(ids, nominal, sheets_of(vehicle), wanted=wanted, plates=plates, bars=bars)
    ]
    plan += _what_more(vehicle, [point for point in points if wanted is None or point.code in wanted], plan)
    number = (vehicle.rounds.aggregate(last=Max("number"))["last"] or 0) + 1
    sigmas = {
        name: value
        for name, value in (("tape_sigma_mm", tape_sigma_mm), ("height_sigma_mm", height_sigma_mm))
        if value
    }
    return Round.objects.create(
        vehicle=vehicle,
        number=number,
        stage=stage,
        about=about,
        taken_on=taken_on,
        by=by,
        changed_by=by,
        note=note,
        plan=plan,
        **sigmas,
    )


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
    expected, last = expected_value(round_, kind, points)
    question, meant = "", None
    if expected is not None or last is not None:
        unit = units.unit.get()
        question = doubt(value, last if expected is None else expected, last, unit)
        slip = (
            likely_slip(value, expected if last is None else last, 6.0) if question and unit == "mm" else None
        )
        meant = slip.value if slip else None
    same = [each.value for each in same_readings(round_, kind, codes)]
    return Kept(
        reading=reading, question=question, meant=meant, spread=spread_words(same, sigma_of(round_, kind))
    )


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


def same_readings(round_: Round, kind: str, codes: Sequence[str]) -> list[Reading]:
    """All readings in force of one pair, whichever way round it was taped."""
    key = reading_key(kind, codes)
    rows = round_.readings.filter(kind=kind, struck_why="").select_related("first", "second", "third")
    return [each for each in rows if reading_key(each.kind, each.codes) == key]


def expected_value(
    round_: Round, kind: str, points: Sequence[DatumPoint]
) -> tuple[float | None, float | None]:
    """What a reading should be by the book, and what it was last time; None where nobody can say.

    Heights are above a plane of unknown height: the book says nothing of them, and another round's set-up neither.
    """
    if kind in ("height", "angle", "height_difference"):
        return None, None
    expected = by_the_book(kind, [point.nominal for point in points])
    key = reading_key(kind, [point.code for point in points])
    earlier = Reading.objects.filter(
        round__vehicle=round_.vehicle,
        round__number__lt=round_.number,
        kind=kind,
        struck_why="",
        first__in=points,
    )
    for each in earlier.select_related("first", "second", "third").order_by("-round__number", "-pk"):
        if reading_key(each.kind, each.codes) == key:
            return expected, each.value
    return expected, None


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
            "points": _asked(points),
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
    read = averages(round_)
    touched = {code for each in read for code in each.codes}
    used = [point for point in round_.vehicle.datum_points.all() if point.code in touched]
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
    fits = [fit_of(each) for each in (before, after)]
    for each, fit in zip((before, after), fits, strict=True):
        if fit.result is None:
            raise CoreError(
                f"Round {each.number} cannot be worked out: {fit.error.what}", "round", fit.error.mend
            )
    return compare(fits[0].result, fits[1].result)


def shape_of(result: Adjusted, points: Sequence[DatumPoint]) -> Shape | None:
    """The body's words of an adjusted round; None with fewer than three points."""
    book = {point.code: point for point in points}
    told = [point for point in result.points if point.id in book]
    if len(told) < 3:
        return None
    return _shape(
        ShapeRequest(
            points=[
                {
                    "id": each.id,
                    "nominal": book[each.id].nominal,
                    "place": each.place,
                    "covariance_mm2": each.covariance_mm2,
                }
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
