"""The patch of a cut: sides, treatments, flat pattern, files to download."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from yellow_sill.core.cut.crossed import hole_words, openings_within
from yellow_sill.core.cut.lost import on_pattern
from yellow_sill.core.formats.drawings import pattern_sketch
from yellow_sill.core.formats.dxf import dxf_file
from yellow_sill.core.formats.pdf import pattern_pdf
from yellow_sill.core.formats.sketch import Sketch
from yellow_sill.core.formats.svg import svg_file
from yellow_sill.core.patch.edges import PatchRequest
from yellow_sill.core.patch.flat import BendLine, FlatPattern, develop
from yellow_sill.core.patch.sides import Side, sides_of, treatments
from yellow_sill.core.patch.tiles import tiling
from yellow_sill.web.cut.layer_services import holes_in
from yellow_sill.web.cut.models import Cut, TransferMark
from yellow_sill.web.cut.stretch_services import unset_edges
from yellow_sill.web.frame.changes import one_change

from .models import Patch


@dataclass(frozen=True, slots=True, kw_only=True)
class Developed:
    """A patch with everything worked out."""

    sides: list[Side]
    pattern: FlatPattern
    opening: list[list[float]]
    holes: list[list[list[float]]]

    def side_of(self, edge: int) -> str:
        """The name of the side that an edge belongs to, as the person chose it."""
        return next(side.name for side in self.sides if edge in side.edges)

    @property
    def bends(self) -> list[tuple[str, BendLine]]:
        return [(self.side_of(bend.edge), bend) for bend in self.pattern.bend_lines]


def patch_of(cut: Cut) -> Patch:
    """The stored patch of a cut; unsaved, in the panel's own thickness, where nobody has stored one yet."""
    try:
        return cut.patch
    except Patch.DoesNotExist:
        thickness = cut.panel.thickness_mm
        return Patch(cut=cut, version=0, thickness_mm=thickness, gap_mm=min(1.0, thickness))


def developed(cut: Cut, values: Mapping[str, Any]) -> Developed:
    """Develop a cut's patch from the fields of Patch (stored or just typed).

    Raises: CoreError.
    """
    sides, free = sides_of(cut.outline), unset_edges(cut)
    pattern = develop(
        PatchRequest.read(
            {
                "outline": cut.outline,
                "thickness_mm": values["thickness_mm"],
                "gap_mm": values["gap_mm"],
                "k_factor": values["k_factor"],
                "trim_allowance_mm": values["trim_allowance_mm"],
                "edges": treatments(sides, values["sides"], free),
            }
        )
    )
    return Developed(
        sides=sides,
        pattern=pattern,
        opening=cut.outline,
        holes=openings_within(cut.outline, holes_in(cut.panel)),
    )


def stored_values(patch: Patch) -> dict[str, Any]:
    return {
        name: getattr(patch, name)
        for name in ("thickness_mm", "gap_mm", "k_factor", "trim_allowance_mm", "sides", "mirror_hand")
    }


@one_change
def save_patch(patch: Patch, values: Mapping[str, Any], *, version: int | None, by: str) -> None:
    """Store a patch after the core has agreed that it can be made.

    Raises: ChangedMeanwhile, CoreError.
    """
    developed(patch.cut, values)
    stored = Patch.objects.filter(cut=patch.cut).first()
    if stored is None:
        Patch.objects.create(cut=patch.cut, changed_by=by, **values)
    else:
        stored.save_as(version, by, **values)


def sketch(
    result: Developed, mirror_hand: bool, marks: Iterable[tuple[str, tuple[float, float]]] = ()
) -> Sketch:
    drawn = pattern_sketch(result.pattern, result.opening, marks, result.holes)
    return drawn.mirrored() if mirror_hand else drawn


def pattern_marks(cut: Cut) -> list[tuple[str, tuple[float, float]]]:
    """Transfer marks for the pattern's drawing: names and places."""
    return [(f"T{mark.number}", (float(mark.at[0]), float(mark.at[1]))) for mark in cut.transfer_marks.all()]


def pattern_file(
    cut: Cut, patch: Patch, form: str, *, paper: str, mirror_hand: bool
) -> tuple[bytes, str, str]:
    """The pattern as a file: content, MIME type, file name. ``form`` is svg, dxf or pdf.

    Raises: CoreError.
    """
    result = developed(cut, stored_values(patch))
    drawn = sketch(result, mirror_hand, pattern_marks(cut))
    repair = cut.repair
    hand = "mirror hand" if mirror_hand else "as drawn"
    name = f"{repair.code}-{cut.number}-pattern{'-mirror' if mirror_hand else ''}.{form}"
    title = f"{repair.code}, cut {cut.number}: {repair.title}"
    if form == "svg":
        return svg_file(drawn, f"{title} ({hand})").encode(), "image/svg+xml", name
    if form == "dxf":
        return dxf_file(drawn).encode(), "application/dxf", name
    vehicle = repair.vehicle
    cells = [
        ("Vehicle", str(vehicle)),
        ("Body no.", vehicle.body_no or "–"),
        ("Steel, mm", f"{patch.thickness_mm:g}"),
        ("Hand", hand),
        ("Units", "mm"),
    ]
    notes = _notes(result) + [_mark_note(mark, result, mirror_hand) for mark in cut.transfer_marks.all()]
    return pattern_pdf(drawn, tiling(drawn.bounds(), paper), title, cells, notes), "application/pdf", name


def _mark_note(mark: TransferMark, result: Developed, mirror_hand: bool) -> str:
    """How to mark a lost thing out again: on the pattern, and from the marks on the shell."""
    place = on_pattern(mark.at, result.pattern.flat_outline, mirror_hand)
    ways = ("from", "from") if mark.way == "distances" else ("along from", "across towards")
    shell = f"{mark.first_mm:g} {ways[0]} {mark.first_name}, {mark.second_mm:g} {ways[1]} {mark.second_name}"
    return f"T{mark.number} {mark.name}: {place.right_mm:.1f} right, {place.up_mm:.1f} up from the pattern's lower left corner; {shell}."


def _notes(result: Developed) -> list[str]:
    notes = [
        f"Area {result.pattern.area_mm2 / 100:.1f} cm², mass {result.pattern.mass_kg:.3f} kg. Solid: cut. Long dashes: bend. Dots: the opening."
    ]
    for side, bend in result.bends:
        figures = f"allowance {bend.allowance_mm:.2f}, setback {bend.setback_mm:.2f}, deduction {bend.deduction_mm:.2f} mm"
        notes.append(
            f"Bend on side {side}: {bend.angle_deg:g}° {bend.direction}, inside radius {bend.inside_radius_mm:g} mm; {figures}."
        )
    notes += [
        f"Joggle on side {result.side_of(step.edge)}: the step eats {step.lost_mm:.2f} mm, already added."
        for step in result.pattern.step_lines[:3]
    ]
    notes += [f"Make again: {hole_words(hole)} (fine line)." for hole in result.holes]
    notes += [remark.what for remark in result.pattern.warnings]
    notes += [
        "Cut a card template first and try it on the car. Cut steel oversize and trim a little at a time."
    ]
    return notes
