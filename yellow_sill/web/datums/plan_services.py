"""The plan of a measuring round: what is read, what stands in the way of a tape; a round opened with it."""

from collections.abc import Sequence
from datetime import date
from functools import lru_cache

from django.db.models import Max

from yellow_sill.core.datum.next_reading import (
    HEIGHT_SIGMA_MM,
    TAPE_SIGMA_MM,
    NextReadingRequest,
    next_reading,
)
from yellow_sill.core.datum.sight import Bar, Plate, Sheet, in_reach
from yellow_sill.core.datum.starting_set import floor_height_mm
from yellow_sill.core.datum.walk import (
    STAGES,
    places_of,
    planned_round,
    points_near,
    with_ties,
)
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.hold.bodies import vehicle_structure
from yellow_sill.core.hold.sight import plates_and_bars
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Panel, Vehicle

from .models import DatumPoint, Round
from .subjects import subject

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
    height = floor_height_mm(vehicle.dimensions_mm)
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
    asked = {
        "points": asked_points(points),
        "readings": readings,
        "heights_from": "level",
        "wanted": MOST_MORE,
    }
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


def asked_points(points: Sequence[DatumPoint]) -> list[dict]:
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
