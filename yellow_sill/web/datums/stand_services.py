"""Stands and packers: kept per vehicle, worked out by the core from a round's heights."""

from collections.abc import Mapping, Sequence
from typing import Any

from yellow_sill.core.datum.level import Levelled, LevelRequest, level
from yellow_sill.core.errors import BadField
from yellow_sill.core.said import Said
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import ShellView, Vehicle

from .board_page import DrawnStand
from .models import DatumPoint, Round, StandSet
from .round_services import averages

#: What a garage has lying about, mm.
USUAL_PACKERS_MM = (1.0, 2.0, 3.0, 5.0, 10.0, 20.0)
#: Where stands usually go: shares of the way between the foremost and rearmost low points, and their names.
USUAL_PLACES = (("LF", 0.32, -1), ("RF", 0.32, 1), ("LR", 0.68, -1), ("RR", 0.68, 1))


def stand_set(vehicle: Vehicle) -> StandSet:
    """The vehicle's stands; unsaved usual ones where it has none yet."""
    found = StandSet.objects.filter(vehicle=vehicle).first()
    return found or StandSet(
        vehicle=vehicle, stands=_usual(vehicle), packers_mm=list(USUAL_PACKERS_MM), version=0
    )


def _usual(vehicle: Vehicle) -> list[dict[str, Any]]:
    low = sorted((p for p in vehicle.datum_points.all() if p.z_mm < 480), key=lambda p: p.x_mm)
    if len(low) < 4:
        return []
    front, rear = low[0].x_mm, low[-1].x_mm
    half = sorted(abs(p.y_mm) for p in low)[len(low) // 2]
    return [
        {
            "id": name,
            "x_mm": round(front + share * (rear - front)),
            "y_mm": round(side * half),
            "packed_mm": 0.0,
            "most_mm": 100.0,
        }
        for name, share, side in USUAL_PLACES
    ]


@one_change
def keep_stands(vehicle: Vehicle, values: Mapping[str, Any], *, version: int | None, by: str) -> StandSet:
    """Store the stands. Raises: ChangedMeanwhile."""
    found = StandSet.objects.filter(vehicle=vehicle).first()
    if found is None:
        return StandSet.objects.create(vehicle=vehicle, changed_by=by, **values)
    found.save_as(version, by, **values)
    return found


def flats_of(round_: Round, points: Sequence[DatumPoint]) -> list[tuple[DatumPoint, float]]:
    """The points whose heights a round has, with the height less what the book says: that should be the same for all."""
    book = {point.code: point for point in points}
    return [
        (book[each.codes[0]], each.value - book[each.codes[0]].z_mm)
        for each in averages(round_)
        if each.kind == "height" and each.codes[0] in book
    ]


def levelled(stands: StandSet, flats: Sequence[tuple[DatumPoint, float]], chosen: Sequence[str]) -> Levelled:
    """Packers for the chosen flats.

    Raises: BadField: fewer than three flats, stands in one line, out of reach.
    """
    wanted = [(point, height) for point, height in flats if point.code in chosen]
    if len(wanted) < 3:
        raise BadField(
            "Three flats or more are needed, not in one line.",
            "flats",
            "Tick points that nobody has ever touched, and whose heights were read.",
        )
    return level(
        LevelRequest.read(
            {
                "flats": [
                    {"id": point.code, "xy": [point.x_mm, point.y_mm], "height_mm": height}
                    for point, height in wanted
                ],
                "stands": [
                    {
                        "id": s["id"],
                        "xy": [s["x_mm"], s["y_mm"]],
                        "packed_mm": s["packed_mm"],
                        "most_mm": s["most_mm"],
                    }
                    for s in stands.stands
                ],
                "packers_mm": stands.packers_mm,
                "rigid": stands.rigid,
            }
        )
    )


@one_change
def packers_in(stands: StandSet, result: Levelled, round_: Round, *, version: int | None, by: str) -> None:
    """Record that the packers are in: what lies on each stand now, and by which round. Raises: ChangedMeanwhile."""
    after = {each.stand: each.height_mm for each in result.stands}
    entry = {
        "round": round_.number,
        "by": by,
        "before": {each["id"]: each["packed_mm"] for each in stands.stands},
        "after": after,
    }
    stands.save_as(
        version,
        by,
        stands=[each | {"packed_mm": after[each["id"]]} for each in stands.stands],
        log=[*stands.log, entry],
    )


def log_entry(stands: StandSet, round_: Round) -> dict[str, Any] | None:
    """What went onto the stands by a round's heights, if anything did."""
    return next((entry for entry in reversed(stands.log) if entry["round"] == round_.number), None)


def as_they_were(stands: StandSet, entry: Mapping[str, Any]) -> StandSet:
    """The stands before the packers of a log entry went in, for showing what was worked out then. Not to be saved."""
    before = [
        each | {"packed_mm": entry["before"].get(each["id"], each["packed_mm"])} for each in stands.stands
    ]
    return StandSet(vehicle=stands.vehicle, stands=before, packers_mm=stands.packers_mm, rigid=stands.rigid)


def require_fresh(stands: StandSet, round_: Round) -> None:
    """A round taken before packers went in says nothing of how the shell stands now.

    Raises: BadField naming the round.
    """
    last = max((entry["round"] for entry in stands.log), default=0)
    if round_.number < last or (round_.number == last and log_entry(stands, round_)):
        raise BadField(
            Said("Packers went in after round {round}.", round=round_.number),
            "round",
            "Take the heights again in a new round, then work it out.",
        )


def stands_drawn(found: StandSet | None, view: ShellView, result: Levelled | None = None) -> list[DrawnStand]:
    """The stands in a view's plane, with what is to be added."""
    add = {each.stand: each for each in result.stands} if result else {}
    return [
        DrawnStand(
            id=each["id"],
            at=view.plane.drawn([each["x_mm"], each["y_mm"], 0.0]),
            left=each["y_mm"] < 0,
            packed=each["packed_mm"],
            add=add[each["id"]].add_mm if each["id"] in add else 0.0,
            light=each["id"] in add and not add[each["id"]].carries,
        )
        for each in (found.stands if found else [])
        if view.name not in ("left", "right") or (each["y_mm"] < 0) == (view.name == "left")
    ]
