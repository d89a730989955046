"""The measuring room in a bundle."""

from typing import Any

from django.db.models import Prefetch

from yellow_sill.core.formats.bundle_datums import (
    DatumPointPart,
    DatumReadingPart,
    DatumsPart,
    RoundPart,
    StandSetPart,
)
from yellow_sill.web.frame.bundles import Section, Storing, part
from yellow_sill.web.shells.models import Vehicle

from .models import DatumPoint, Reading, Round, StandSet


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    rounds = vehicle.rounds.prefetch_related(
        Prefetch("readings", Reading.objects.select_related("first", "second", "third"))
    )
    stands = StandSet.objects.filter(vehicle=vehicle).first()
    told = DatumsPart(
        points=[part(DatumPointPart, point) for point in vehicle.datum_points.all()],
        rounds=[
            part(
                RoundPart, each, readings=[part(DatumReadingPart, reading) for reading in each.readings.all()]
            )
            for each in rounds
        ],
        stand_set=part(StandSetPart, stands) if stands else None,
    )
    return {"datums": told}


def _store(storing: Storing, bundle: Any) -> None:
    """The datum book, the rounds and the stands."""
    vehicle, told = storing.vehicle, bundle.datums
    points = {
        point.code: DatumPoint.objects.create(
            vehicle=vehicle, place=place, changed_by=storing.by, **point.model_dump()
        )
        for place, point in enumerate(told.points)
    }
    for each in told.rounds:
        values = each.model_dump(exclude={"readings", "plan"})
        plan = [[kind, list(codes)] for kind, codes in each.plan]
        stored = Round.objects.create(vehicle=vehicle, plan=plan, changed_by=storing.by, **values)
        Reading.objects.bulk_create(_reading(stored, reading, points) for reading in each.readings)
    if told.stand_set:
        StandSet.objects.create(vehicle=vehicle, changed_by=storing.by, **told.stand_set.model_dump())


def _reading(round_: Round, told: DatumReadingPart, points: dict[str, DatumPoint]) -> Reading:
    ends = dict(zip(("first", "second", "third"), (points[code] for code in told.codes), strict=False))
    return Reading(round=round_, **ends, **told.model_dump(exclude={"codes"}))


SECTION = Section(vehicle=_vehicle, store=_store)
