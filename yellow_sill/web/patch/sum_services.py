"""Sums of the bench that stand by themselves: a panel's shape, something pressed, a jig, a gauge number; kept with what was typed."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.formats.bench_drawings import jig_sketch, pressed_sketch, strain_sketch, template_sketch
from yellow_sill.core.formats.dxf import dxf_file
from yellow_sill.core.formats.pdf import pattern_pdf
from yellow_sill.core.formats.sketch import Sketch
from yellow_sill.core.formats.svg import svg_file, svg_parts
from yellow_sill.core.patch.gauges import GaugeRequest, GaugeTold, gauge
from yellow_sill.core.patch.jig import JigRequest, jig
from yellow_sill.core.patch.pressed import PressedRequest, bead_and_recess
from yellow_sill.core.patch.shape import shape_check
from yellow_sill.core.patch.shape_read import ShapeRequest
from yellow_sill.core.patch.tiles import tiling
from yellow_sill.core.patch.typed import (
    distances_typed,
    heights_typed,
    marks_typed,
    ribs_typed,
    sections_typed,
)
from yellow_sill.core.units import exact_length
from yellow_sill.web.datums.round_services import fit_of, latest_round
from yellow_sill.web.frame import units
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Vehicle

from .models import BenchSum


@dataclass(frozen=True, slots=True, kw_only=True)
class Worked:
    """A sum worked out: what the core tells, its drawings by name (view box, body), what may be taken as files."""

    told: Any
    drawings: list[tuple[str, str, str]]
    sheets: dict[str, Sketch]


def _shape(typed: Mapping[str, Any]) -> ShapeRequest:
    unit = typed.get("unit", "mm")
    values: dict[str, Any] = {"reading_mm": typed["reading_mm"], "strain_limit": typed["limit_percent"] / 100}
    if typed.get("sections"):
        values["sections"] = sections_typed(typed["sections"], unit=unit)
    if typed.get("heights"):
        values["heights"] = heights_typed(typed["heights"], unit=unit)
        values["step_mm"] = [
            typed.get("step_u_mm") or 50,
            typed.get("step_v_mm") or typed.get("step_u_mm") or 50,
        ]
    if typed.get("radius_mm"):
        sizes = {
            "length_mm": typed.get("length_mm"),
            "width_mm": typed.get("width_mm"),
            "radius_mm": typed["radius_mm"],
        }
        if not sizes["length_mm"] or not sizes["width_mm"]:
            raise BadField("Radii need the panel's length and width.", "length_mm", "Type both.")
        values["radii"] = sizes | {"other_mm": typed.get("other_mm"), "saddle": bool(typed.get("saddle"))}
    return ShapeRequest.read(values)


def _pressed(typed: Mapping[str, Any]) -> PressedRequest:
    values: dict[str, Any] = {"thickness_mm": typed["thickness_mm"]}
    recess = {
        key: typed.get(f"recess_{key}")
        for key in ("length_mm", "width_mm", "corner_mm", "depth_mm", "wall_deg", "bottom_mm", "top_mm")
    }
    if recess["depth_mm"]:
        for key in ("length_mm", "width_mm", "corner_mm"):
            if not recess[key]:
                raise BadField(
                    "A recess needs its length, width, corner and depth.", f"recess_{key}", "Type it."
                )
        given = {key: value for key, value in recess.items() if value is not None}
        values["recess"] = given | {"draws_in": not typed.get("held")}
    beads = {key: typed.get(f"beads_{key}") for key in ("count", "width_mm", "height_mm", "pitch_mm")}
    if beads["count"]:
        for key in ("width_mm", "height_mm", "pitch_mm"):
            if not beads[key]:
                raise BadField("A row of beads needs width, height and pitch.", f"beads_{key}", "Type it.")
        values["beads"] = beads | {"count": int(beads["count"])}
    if typed.get("ribs"):
        values["ribs"] = ribs_typed(typed["ribs"], unit=typed.get("unit", "mm"))
    return PressedRequest.read(values)


def _jig(typed: Mapping[str, Any]) -> JigRequest:
    unit = typed.get("unit", "mm")
    marks, measured = (
        marks_typed(typed["marks"], unit=unit),
        distances_typed(typed.get("measured") or "", unit=unit),
    )
    return JigRequest.read(
        {"marks": marks, "measured": measured, "made_of": typed["made_of"], "foot_mm": typed["foot_mm"]}
    )


def _shape_worked(typed: Mapping[str, Any]) -> Worked:
    told = shape_check(_shape(typed))
    strain, templates = strain_sketch(told), template_sketch(told)
    drawings = [
        ("What to gain or lose, from above", *svg_parts(strain)),
        ("Section templates", *svg_parts(templates)),
    ]
    return Worked(told=told, drawings=drawings, sheets={"templates": templates})


def _pressed_worked(typed: Mapping[str, Any]) -> Worked:
    told = bead_and_recess(_pressed(typed))
    sketch = pressed_sketch(told)
    if sketch is None:
        return Worked(told=told, drawings=[], sheets={})
    name = "formers" if told.recess else "beads"
    return Worked(told=told, drawings=[(name.capitalize(), *svg_parts(sketch))], sheets={name: sketch})


def _jig_worked(typed: Mapping[str, Any]) -> Worked:
    request = _jig(typed)
    told = jig(request)
    sketch = jig_sketch(told, request.marks)
    title = "Drill template" if told.holes else "The frame, holes to holes"
    return Worked(told=told, drawings=[(title, *svg_parts(sketch))], sheets={"jig": sketch})


_KINDS: dict[str, Callable[[Mapping[str, Any]], Worked]] = {
    "shape": _shape_worked,
    "pressed": _pressed_worked,
    "jig": _jig_worked,
}


def worked(kind: str, typed: Mapping[str, Any]) -> Worked:
    """Work a sum out from what was typed. Raises: CoreError, its place the field's name."""
    try:
        return _KINDS[kind](typed)
    except CoreError as error:
        error.where = _field(kind, error.where)
        raise


def _field(kind: str, where: str) -> str:
    """The form's field for a place in a request: ``recess.depth_mm`` is typed in ``recess_depth_mm``, a mark among ``marks``."""
    name = where.split("[")[0]
    if kind == "shape":
        name = (
            name.removeprefix("radii.")
            .replace("step_mm", "step_u_mm")
            .replace("strain_limit", "limit_percent")
        )
    return name.replace(".", "_")


def asked_gauge(text: str) -> GaugeTold:
    """Raises: BadField."""
    return gauge(GaugeRequest.read({"text": text}))


def datum_marks(vehicle: Vehicle) -> str:
    """The points of the latest round where they were found, as marks are typed; empty where there is none."""
    round_ = latest_round(vehicle)
    result = fit_of(round_).result if round_ else None
    if result is None:
        return ""
    lines = []
    for point in result.points:
        at = ", ".join(exact_length(value, units.unit.get()) for value in point.place)
        lines.append(f"{point.id}: {at}")
    return "\n".join(lines)


@one_change
def keep_sum(
    vehicle: Vehicle,
    kind: str,
    title: str,
    typed: Mapping[str, Any],
    *,
    stored: BenchSum | None,
    version: int | None,
    by: str,
) -> BenchSum:
    """Keep a sum that can be worked out. Raises: CoreError, ChangedMeanwhile."""
    worked(kind, typed)
    if stored is not None:
        stored.save_as(version, by, title=title, typed=dict(typed))
        return stored
    number = BenchSum.next_number(vehicle=vehicle)
    return BenchSum.objects.create(
        vehicle=vehicle, number=number, kind=kind, title=title, typed=dict(typed), changed_by=by
    )


@one_change
def drop_sum(stored: BenchSum, *, version: int | None) -> None:
    """Raises: ChangedMeanwhile."""
    stored.require_version(version)
    stored.delete()


def sum_file(stored: BenchSum, sheet: str, form: str, paper: str) -> tuple[bytes, str, str]:
    """A drawing of a sum at full size: content, MIME type, name. Raises: CoreError, KeyError for a drawing it has not."""
    drawn = worked(stored.kind, stored.typed).sheets[sheet]
    name, title = f"{sheet}-{stored.number}.{form}", f"{stored.title}: {sheet}"
    if form == "svg":
        return svg_file(drawn, title).encode(), "image/svg+xml", name
    if form == "dxf":
        return dxf_file(drawn).encode(), "application/dxf", name
    cells = [("Vehicle", str(stored.vehicle)), ("Body no.", stored.vehicle.body_no or "–"), ("Units", "mm")]
    notes = ["Solid: cut. Print at 100 %, measure the square, glue by the marks."]
    return pattern_pdf(drawn, tiling(drawn.bounds(), paper), title, cells, notes), "application/pdf", name
