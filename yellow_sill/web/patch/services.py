"""The patch of a cut: its edges, how each is made, the flat pattern, the part folding, files to download."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from yellow_sill.core.cut.crossed import hole_words, openings_within
from yellow_sill.core.cut.lost import on_pattern
from yellow_sill.core.errors import CoreError
from yellow_sill.core.formats.drawings import pattern_sketch
from yellow_sill.core.formats.dxf import dxf_file
from yellow_sill.core.formats.pdf import pattern_pdf
from yellow_sill.core.formats.sketch import Sketch
from yellow_sill.core.formats.svg import svg_file
from yellow_sill.core.patch.around import card_part, lines_near, within
from yellow_sill.core.patch.opening import (
    EdgeMade,
    EdgeSaid,
    Seen,
    by_name,
    edges_seen,
    of_sides,
    part_of,
    usual,
)
from yellow_sill.core.patch.own_line import kinds_along
from yellow_sill.core.patch.part import Hole, PartRequest, shown
from yellow_sill.core.patch.pattern import FlatPart, pattern
from yellow_sill.core.patch.play import Play, play
from yellow_sill.core.patch.rim_marks import CurvedRim, curved_rims
from yellow_sill.core.patch.tiles import tiling
from yellow_sill.core.shell.duties import patch_remarks
from yellow_sill.web.cut.layer_services import holes_in
from yellow_sill.web.cut.models import Cut, TransferMark
from yellow_sill.web.cut.release_services import release_list
from yellow_sill.web.cut.stretch_services import stretches_of
from yellow_sill.web.frame.changes import is_open, one_change
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.shells.models import Vehicle

from .models import Patch


@dataclass(frozen=True, slots=True, kw_only=True)
class Developed:
    """A patch with everything worked out; ``lost``: what was said of edges that the line has no more."""

    seen: list[Seen]
    made: dict[str, EdgeMade]
    lost: list[EdgeSaid]
    part: PartRequest
    pattern: FlatPart
    rims: list[CurvedRim]
    opening: list[list[float]]
    holes: list[list[list[float]]]

    @property
    def bends(self) -> list[tuple[str, Any]]:
        """Every bend with its name; the pieces of one curved edge once."""
        told: dict[str, Any] = {}
        for bend in self.pattern.bends:
            told.setdefault(shown(bend.name), bend)
        return list(told.items())


def patch_of(cut: Cut) -> Patch:
    """The stored patch of a cut; unsaved, in the panel's own thickness, where nobody has stored one yet."""
    try:
        return cut.patch
    except Patch.DoesNotExist:
        thickness = cut.panel.thickness_mm
        return Patch(cut=cut, version=0, thickness_mm=thickness, gap_mm=min(1.0, thickness))


def kinds_of(cut: Cut) -> dict[int, str]:
    """What the cut says of each edge of its outline, by number."""
    return {edge: each.kind for each in stretches_of(cut) for edge in each.edges}


def line_of(cut: Cut, values: Mapping[str, Any]) -> tuple[list[list[float]], dict[int, str]]:
    """The opening that a patch fills, as templated or as cut, and what each of its edges is, by number."""
    own = values.get("opening")
    if not own:
        return cut.outline, kinds_of(cut)
    return own, kinds_along(own, cut.outline, kinds_of(cut))


def edges_of(cut: Cut, values: Mapping[str, Any] | None = None) -> list[Seen]:
    """The edges of a cut's opening as a person sees them. Args: values: the fields of Patch. Raises: BadOutline."""
    return edges_seen(*line_of(cut, values or {}))[0]


def said_of(cut: Cut, values: Mapping[str, Any]) -> list[EdgeSaid]:
    """How edges are made, by place, from the fields of Patch; patterns stored by sides are read as they were."""
    if values.get("made") or not values.get("sides"):
        return [EdgeSaid.read(each) for each in values.get("made") or []]
    return of_sides(line_of(cut, values)[0], values["sides"])


def developed(cut: Cut, values: Mapping[str, Any]) -> Developed:
    """Develop a cut's patch from the fields of Patch (stored or just typed).

    Raises: CoreError.
    """
    outline, kinds = line_of(cut, values)
    seen, _ = edges_seen(outline, kinds)
    made, lost = by_name(seen, said_of(cut, values))
    part = part_of(
        outline, made, kinds=kinds, thickness_mm=values["thickness_mm"], gap_mm=values["gap_mm"], trim_mm=values["trim_allowance_mm"],
        k_factor=values["k_factor"], holes=[Hole.read(each) for each in values.get("holes") or []],
    )  # fmt: skip
    flat, plan = pattern(part), usual(seen) | made
    borne = patch_remarks(
        cut.panel.code, {each.treatment for each in plan.values()}, values["thickness_mm"], cut.panel.thickness_mm
    )  # fmt: skip
    return Developed(
        seen=seen,
        made=plan,
        lost=lost,
        part=part,
        rims=curved_rims(part, seen, plan),
        pattern=replace(flat, warnings=[*flat.warnings, *borne]),
        opening=outline,
        holes=openings_within(outline, holes_in(cut.panel)),
    )


def developed_as_stored(cut: Cut) -> Developed:
    """Develop a cut's patch as it is stored, or in the panel's own thickness where nobody has stored one; worked out once for all pages.

    While a change is under way the cut counts as it is given: its line may be about to be stored. Raises: CoreError.
    """
    if is_open():
        return developed(cut, stored_values(patch_of(cut)))
    return _as_stored(cut.repair.vehicle, cut.pk)


@by_revision(48, "patch", "cut", "repairs", "survey", "shells")
def _as_stored(vehicle: Vehicle, cut_pk: int) -> Developed:
    """Raises: CoreError."""
    cut = Cut.objects.select_related("repair", "panel__view").get(pk=cut_pk)
    cut.repair.vehicle = cut.panel.view.vehicle = vehicle
    return developed(cut, stored_values(patch_of(cut)))


def folding(result: Developed, mirror_hand: bool) -> Play:
    """The part folding bend by bend, in the order that can be made. Raises: CoreError."""
    return play(result.part, mirror_hand=mirror_hand)


#: The fields of Patch that say how it is made.
FIELDS = (
    "thickness_mm",
    "gap_mm",
    "k_factor",
    "trim_allowance_mm",
    "made",
    "sides",
    "mirror_hand",
    "opening",
    "holes",
)


def how_words(value: Any) -> Any:
    """How edges are made, in a line; holes and corners by their number; anything else as it is."""
    if not isinstance(value, list):
        return value
    if value and not isinstance(value[0], dict):
        return f"{len(value)} corners"
    if value and "treatment" not in value[0]:
        return "1 hole" if len(value) == 1 else f"{len(value)} holes"
    told = [(each["treatment"], " + ".join(f"{leg:g}" for leg in each["legs_mm"])) for each in value]
    return ", ".join(f"{how} {legs}".strip() for how, legs in told)


def stored_values(patch: Patch) -> dict[str, Any]:
    return {name: getattr(patch, name) for name in FIELDS}


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


def ribs_of(cut: Cut, opening: list[list[float]]) -> list[list[tuple[float, float]]]:
    """Ribs and creases of the panel and its neighbours round the opening."""
    layer = cut.panel.layer
    lines = [
        each["points"]
        for each in cut.panel.view.features
        if each["kind"] in ("rib", "crease") and each["layer"] in (0, layer)
    ]
    return lines_near(lines, opening)


@dataclass(frozen=True, slots=True, kw_only=True)
class NewWeld:
    """A weld of the new row on the patch: its place, and the hole to punch for it, mm (None: the sheet beneath has it, or it is spotted)."""

    at: tuple[float, float]
    hole_mm: float | None


def new_welds(cut: Cut, opening: list[list[float]]) -> list[NewWeld]:
    """The welds that take the place of the old row, where they lie on the patch."""
    try:
        rows = [
            row for panel in release_list(cut.repair) if panel.panel.pk == cut.panel_id for row in panel.rows
        ]
    except CoreError:
        return []
    return [
        NewWeld(
            at=at,
            hole_mm=row.new_welds.hole_mm
            if row.new_welds.hole_in in (cut.panel.code, cut.panel.name)
            else None,
        )
        for row in rows
        for at in within(row.new_welds.at, opening)
    ]


def sketch(
    result: Developed,
    mirror_hand: bool,
    marks: Iterable[tuple[str, tuple[float, float]]] = (),
    welds: Iterable[NewWeld] = (),
) -> Sketch:
    drawn = pattern_sketch(result.pattern, result.opening, marks, result.holes)
    for weld in welds:
        if weld.hole_mm is None:
            drawn.disc("mark", weld.at, 1.5)
        else:
            drawn.disc("hole", weld.at, weld.hole_mm / 2)
    return drawn.mirrored() if mirror_hand else drawn


def pattern_marks(cut: Cut) -> list[tuple[str, tuple[float, float]]]:
    """Transfer marks for the pattern's drawing: names and places."""
    return [(f"T{mark.number}", (float(mark.at[0]), float(mark.at[1]))) for mark in cut.transfer_marks.all()]


def pattern_file(
    cut: Cut, patch: Patch, form: str, *, paper: str, mirror_hand: bool, card: bool = False
) -> tuple[bytes, str, str]:
    """The pattern as a file: content, MIME type, file name. ``form`` is svg, dxf or pdf; ``card``: to be folded of card, without bend allowances.

    Raises: CoreError.
    """
    result = developed(cut, stored_values(patch))
    if card:
        result = replace(result, pattern=pattern(card_part(result.part)))
    drawn = sketch(result, mirror_hand, pattern_marks(cut), new_welds(cut, result.opening))
    repair = cut.repair
    hand = "mirror hand" if mirror_hand else "as drawn"
    kind = "card" if card else "pattern"
    name = f"{repair.code}-{cut.number}-{kind}{'-mirror' if mirror_hand else ''}.{form}"
    title = f"{repair.code}, cut {cut.number}: {'card template' if card else repair.title}"
    if form == "svg":
        return svg_file(drawn, f"{title} ({hand})").encode(), "image/svg+xml", name
    if form == "dxf":
        return dxf_file(drawn).encode(), "application/dxf", name
    vehicle = repair.vehicle
    cells = [
        ("Vehicle", str(vehicle)),
        ("Body no.", vehicle.body_no or "–"),
        ("Card", "no allowances") if card else ("Steel, mm", f"{patch.thickness_mm:g}"),
        ("Hand", hand),
        ("Units", "mm"),
    ]
    notes = (CARD_NOTES if card else _notes(result)) + [
        _mark_note(mark, result, mirror_hand) for mark in cut.transfer_marks.all()
    ]
    return pattern_pdf(drawn, tiling(drawn.bounds(), paper), title, cells, notes), "application/pdf", name


#: What stands on the cover of a card template.
CARD_NOTES = [
    "Cut it of card, fold it on the dashed lines and try it on the car. No bend takes any of the card: do not cut steel by it.",
    "What does not fit: cut and tape the card until it does, measure it, and put the sizes into the pattern.",
]


def _mark_note(mark: TransferMark, result: Developed, mirror_hand: bool) -> str:
    """How to mark a lost thing out again: on the pattern, and from the marks on the shell."""
    place = on_pattern(mark.at, result.pattern.corners, mirror_hand)
    ways = ("from", "from") if mark.way == "distances" else ("along from", "across towards")
    shell = f"{mark.first_mm:g} {ways[0]} {mark.first_name}, {mark.second_mm:g} {ways[1]} {mark.second_name}"
    return f"T{mark.number} {mark.name}: {place.right_mm:.1f} right, {place.up_mm:.1f} up from the pattern's lower left corner; {shell}."


def _notes(result: Developed) -> list[str]:
    notes = [
        f"Area {result.pattern.area_mm2 / 100:.1f} cm², mass {result.pattern.mass_kg:.3f} kg. Solid: cut. Long dashes: bend up. Dash and dots: bend down. "
        "Dots: the opening."
    ]
    for name, bend in result.bends:
        figures = f"allowance {bend.allowance_mm:.2f}, setback {bend.setback_mm:.2f}, deduction {bend.deduction_mm:.2f} mm"
        notes.append(
            f"Bend {name}: {bend.angle_deg:g}° {bend.direction}, inside radius {bend.inside_radius_mm:g} mm; {figures}."
        )
    notes += [f"Make again: {hole_words(hole)} (fine line)." for hole in result.holes]
    notes += [remark.what for remark in result.pattern.warnings]
    notes += [
        "Cut a card template first and try it on the car. Cut steel oversize and trim a little at a time."
    ]
    return notes
