"""The datum book: points brought in, typed, mirrored, taken in from a table."""

from collections.abc import Collection, Mapping

from django.db.models import Max, Q, RestrictedError

from yellow_sill.core.datum.starting_set import starting_points
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.formats.datum_table import DatumRow, read_datums, write_datums
from yellow_sill.core.formats.survey_tables import RefusedRow
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Vehicle

from .models import DatumPoint, Reading

#: What a row of the table sets in a point, beside its nominal place.
FROM_TABLE = (
    "code",
    "name",
    "kind",
    "how",
    "source",
    "source_note",
    "tolerance_mm",
    "trusted",
    "trust_sigma_mm",
    "mirror_code",
)


class PointInUse(CoreError):
    """Readings hang on a point: it keeps its name and stays."""

    code = "POINT-IN-USE"


@one_change
def bring_starting_set(vehicle: Vehicle, *, by: str) -> int:
    """Add the points of the vehicle's body type that are not in the book yet; a body type without a set brings none.

    Returns: how many were added.
    """
    try:
        points = starting_points(vehicle.body_type, vehicle.dimensions_mm)
    except BadField:
        return 0
    known = set(vehicle.datum_points.values_list("code", flat=True))
    first = _next_place(vehicle)
    fresh = [point for point in points if point.code not in known]
    for place, point in enumerate(fresh, start=first):
        x, y, z = point.nominal
        DatumPoint.objects.create(
            vehicle=vehicle,
            place=place,
            code=point.code,
            name=point.name,
            kind=point.kind,
            how=point.how,
            x_mm=x,
            y_mm=y,
            z_mm=z,
            source="body",
            tolerance_mm=point.tolerance_mm,
            mirror_code=point.mirror_code,
            changed_by=by,
        )
    return len(fresh)


def _next_place(vehicle: Vehicle) -> int:
    last = vehicle.datum_points.aggregate(last=Max("place"))["last"]
    return 0 if last is None else last + 1


@one_change
def add_point(vehicle: Vehicle, values: Mapping, *, by: str) -> DatumPoint:
    """Raises: BadField where the code is taken."""
    if vehicle.datum_points.filter(code__iexact=values["code"]).exists():
        raise BadField(f"There is a point {values['code']} already.", "code", "Choose another name.")
    return DatumPoint.objects.create(vehicle=vehicle, place=_next_place(vehicle), changed_by=by, **values)


@one_change
def change_point(point: DatumPoint, values: Mapping, *, version: int | None, by: str) -> None:
    """Raises: ChangedMeanwhile; BadField where the code is taken; PointInUse where readings hang on the old one."""
    if values["code"] != point.code:
        if point.vehicle.datum_points.filter(code__iexact=values["code"]).exists():
            raise BadField(f"There is a point {values['code']} already.", "code", "Choose another name.")
        if in_use(point):
            raise PointInUse(
                f"Rounds name {point.code} already: it keeps its name.", "code", "Add a new point instead."
            )
    point.save_as(version, by, **values)


def in_use(point: DatumPoint) -> bool:
    """Whether a round plans or has a reading of this point."""
    planned = any(
        point.code in codes
        for plan in point.vehicle.rounds.values_list("plan", flat=True)
        for _, codes in plan
    )
    return planned or Reading.objects.filter(Q(first=point) | Q(second=point) | Q(third=point)).exists()


@one_change
def trust_points(vehicle: Vehicle, codes: Collection[str], *, by: str) -> int:
    """Trust these points and no others; nothing else of a point is touched. Returns how many changed."""
    changed = [point for point in vehicle.datum_points.all() if point.trusted != (point.code in codes)]
    for point in changed:
        point.set_fields(by, trusted=point.code in codes)
    return len(changed)


@one_change
def delete_point(point: DatumPoint) -> None:
    """Raises: PointInUse where rounds have readings of it."""
    try:
        code = point.code
        for each in point.vehicle.rounds.all():
            each.plan = [[kind, codes] for kind, codes in each.plan if code not in codes]
            each.save(update_fields=["plan"])
        point.delete()
    except RestrictedError:
        raise PointInUse(
            f"Readings hang on {point.code}: it stays in the book.",
            "code",
            "Strike the readings, or leave the point out of new rounds.",
        ) from None


def measured_nominal(place: list[float]) -> list[float]:
    """Where a point belongs by a round taken before anything was cut."""
    return [round(value, 1) for value in place]


def mirrored_nominal(place: list[float]) -> list[float]:
    """Where a point belongs by the good side: the other point's measured place, turned over the centre line."""
    return [round(place[0], 1), round(-place[1], 1) + 0.0, round(place[2], 1)]


def book_csv(vehicle: Vehicle) -> str:
    return write_datums(
        DatumRow(
            row=0,
            code=p.code,
            name=p.name,
            kind=p.kind,
            how=p.how,
            nominal=(p.x_mm, p.y_mm, p.z_mm),
            source=p.source,
            source_note=p.source_note,
            tolerance_mm=p.tolerance_mm,
            trusted=p.trusted,
            trust_sigma_mm=p.trust_sigma_mm,
            mirror_code=p.mirror_code,
        )
        for p in vehicle.datum_points.all()
    )


@one_change
def import_book(vehicle: Vehicle, text: str, *, by: str) -> tuple[int, int, list[RefusedRow]]:
    """Take in a table of points: known codes are changed, others added; all rows or none.

    Returns: how many were added, how many changed, the refused rows with their reasons.
    Raises: BadField where the whole cannot be read.
    """
    rows, refused = read_datums(text)
    if refused:
        return 0, 0, refused
    known = {point.code: point for point in vehicle.datum_points.all()}
    added = 0
    for row in rows:
        x, y, z = row.nominal
        values = {name: getattr(row, name) for name in FROM_TABLE}
        values |= {"x_mm": x, "y_mm": y, "z_mm": z}
        if row.code in known:
            known[row.code].save_as(None, by, **values)
        else:
            add_point(vehicle, values, by=by)
            added += 1
    return added, len(rows) - added, []
