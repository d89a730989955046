"""What the cuts of a panel meet: read off the drawing, and added by the person; rows of spot welds among them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from yellow_sill.core.cut.around import Around, panel_edges
from yellow_sill.core.cut.drawn import (
    LEAST_LINE_MM,
    DrawnSheet,
    Sheets,
    Xy,
    behind_of,
    lines_on,
    off_panel_mm,
    row_pitch,
    rows_on,
    sheets_of_row,
)
from yellow_sill.core.cut.shared_rows import SheetRows
from yellow_sill.core.cut.spots import RowPlan, SpotRequest, spot_rows
from yellow_sill.core.cut.surroundings import Surroundings
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.geometry import bounds_of, outline_polygon
from yellow_sill.core.outlines import length_of
from yellow_sill.core.said import Mm, Said
from yellow_sill.core.survey.rectify import picture_points, placed
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.once import once
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.repairs.rule_services import rules_of
from yellow_sill.web.shells.models import Panel, ShellView, Vehicle
from yellow_sill.web.survey.models import SurveyPhoto

from .models import Surrounding, TransferMark

#: Lines of the drawing that stiffen a panel, and what a cut calls them when it ends on one.
STIFF = {"crease": "swage", "crease2": "swage", "rib": "swage", "lip": "flange"}
#: What a person draws may lie this far off the panel, mm.
OFF_PANEL_MM = 150.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Drawn:
    """A panel's lines with their kinds, its rows of spot welds with their sheets, the panels behind it, its own edges."""

    lines: list[tuple[str, list[Xy]]]
    rows: list[list[Xy]]
    sheets: list[Sheets]
    behind: list[Panel]
    edges: list[dict[str, Any]]


@lru_cache(maxsize=256)
def _drawn(panel_id: int, _drawing: tuple) -> Drawn:
    """What the drawing of that day shows of a panel."""
    panel = Panel.objects.select_related("view").get(pk=panel_id)
    view = panel.view
    mine = [f for f in view.features if not view.layered or f["layer"] in (0, panel.layer)]
    stiff = [(STIFF[f["kind"]], f["points"]) for f in mine if f["kind"] in STIFF and len(f["points"]) > 1]
    rows = rows_on(panel.outline, [f["points"] for f in mine if f["kind"] == "weld"])
    others = list(view.panels.all())
    behind = [others[i] for i in behind_of(_sheet(panel), [_sheet(other) for other in others])]
    return Drawn(
        lines=lines_on(panel.outline, stiff),
        rows=rows,
        sheets=[_sheets(panel, row, behind) for row in rows],
        behind=behind,
        edges=[edge.model_dump() for edge in panel_edges(panel.outline)],
    )


def _sheet(panel: Panel) -> DrawnSheet:
    return DrawnSheet(
        code=panel.code,
        name=str(panel.name),
        layer=panel.layer,
        thickness_mm=panel.thickness_mm,
        outline=panel.outline,
    )


def _sheets(panel: Panel, row: Sequence[Xy], behind: Sequence[Panel]) -> Sheets:
    return sheets_of_row(_sheet(panel), row, [_sheet(other) for other in behind])


def _of(panel: Panel) -> Drawn:
    return _drawn(panel.pk, panel.view.drawing)


@once
def own_of(panel: Panel) -> list[Surrounding]:
    """What a person has said lies round a panel."""
    return list(panel.surroundings.all())


def swages(panel: Panel) -> list[list[Xy]]:
    """Folds, swages and ribs that the drawing shows on a panel, and lines that the person added."""
    return [points for _, points in _of(panel).lines] + [
        own.points for own in own_of(panel) if own.kind in ("seam", "swage", "flange")
    ]


def seams(panel: Panel) -> list[list[Xy]]:
    """Lines a part panel may end on: straight ones of the drawing, and the person's seams."""
    straight = [points for _, points in _of(panel).lines if len(points) == 2]
    return straight + [own.points for own in own_of(panel) if own.kind == "seam"]


def _place_word(view: ShellView, points: Sequence[Sequence[float]]) -> str:
    """Where a line runs, as the rulers say it."""
    box = bounds_of(view.in_shell(points))
    level = box[2] - box[0] >= box[3] - box[1]
    return f"{view.plane.axes[1 if level else 0]} {(box[1] + box[3] if level else box[0] + box[2]) / 2:.0f}"


def around_of(panel: Panel, marks: Sequence[TransferMark] = ()) -> Around:
    """Everything round the cuts of a panel, with the vehicle's clearances."""
    rules, own = rules_of(panel.view.vehicle), own_of(panel)
    drawn = _of(panel)
    named: dict[str, int] = {}

    def name(words: str) -> str:
        named[words] = named.get(words, 0) + 1
        return words if named[words] == 1 else f"{words} ({named[words]})"

    lines = [
        {"name": name(f"the {kind} at {_place_word(panel.view, points)}"), "kind": kind, "path": points}
        for kind, points in drawn.lines
        if length_of(points) >= LEAST_LINE_MM
    ]
    of_kind = lambda *kinds: [each for each in own if each.kind in kinds]  # noqa: E731
    weld_rows = [
        {"name": f"row {i}", "path": run, "pitch_mm": row_pitch(run), "survives": sheets[1][1]["name"]}
        for i, (run, sheets) in enumerate(zip(drawn.rows, drawn.sheets, strict=True), start=1)
    ] + [
        {"name": each.name, "path": each.points, "pitch_mm": _own_pitch(each), "survives": each.survives}
        for each in of_kind("row")
    ]
    lines = drawn.edges + lines
    lines += [
        {"name": each.name, "kind": each.kind, "path": each.points}
        for each in of_kind("seam", "swage", "flange")
    ]
    return Around.read(
        {
            "lines": lines,
            "rows": weld_rows,
            "keep_outs": [{"name": each.name, "outline": each.points} for each in of_kind("keep-out")],
            "fittings": [{"name": each.name, "outline": each.points} for each in of_kind("fitting")],
            "curves": [{"name": each.name, "path": each.points} for each in of_kind("curve")],
            "transfer_marks": [{"name": str(mark)[:60], "at": mark.at} for mark in marks],
            "snap_mm": rules.snap_mm, "row_clear_mm": rules.row_clear_mm,
        }
    )  # fmt: skip


def _own_pitch(own: Surrounding) -> float:
    return row_pitch(own.points) if own.marked else own.pitch_mm


def spot_request(panel: Panel, processes: Sequence[str] = ("mig",)) -> SpotRequest | None:
    """The panel's rows of spot welds, the drawing's and the person's: the panel goes, the sheets behind stay. None where it has none."""
    drawn = _of(panel)
    rows = [
        {"id": f"Row {i}", "path": run, "marks": run, "sheets": _told(sheets)}
        for i, (run, sheets) in enumerate(zip(drawn.rows, drawn.sheets, strict=True), start=1)
    ]
    for own in own_of(panel):
        if own.kind == "row":
            sheets = _told(_sheets(panel, own.points, drawn.behind))
            sheets[1] |= {"name": own.survives, "code": ""} if own.survives else {}
            reach = {name: getattr(own, name) for name in ("drill_here", "drill_behind", "both_sides")}
            places = {"marks": own.points} if own.marked else {"pitch_mm": own.pitch_mm}
            rows.append({"id": own.name[:40], "path": own.points, "sheets": sheets} | places | reach)
    return SpotRequest.read({"rows": rows, "processes": list(processes)}) if rows else None


def _told(sheets: Sheets) -> list[dict[str, Any]]:
    """The sheets of a row as the core takes them, each with its panel's code."""
    return [sheet | {"code": code} for code, sheet in sheets]


def sheet_rows(panel: Panel, processes: Sequence[str] = ("mig",)) -> SheetRows:
    """The panel's rows, worked out. Raises: BadField."""
    request = spot_request(panel, processes)
    return (
        SheetRows(code=panel.code, rows=request.rows, plans=_planned(request.model_dump_json()))
        if request
        else SheetRows(code=panel.code, rows=[], plans=[])
    )


@lru_cache(maxsize=64)
def _planned(asked: str) -> list[RowPlan]:
    """Rows are looked at again and again: the same question is worked out once. Raises: BadField."""
    return spot_rows(SpotRequest.model_validate_json(asked)).rows


def on_drawing(panel: Panel) -> list[str]:
    """What the drawing itself tells of a panel, in words."""
    lines, rows = _of(panel).lines, _of(panel).rows
    told = [f"{len(lines)} line{'s' if len(lines) > 1 else ''} to end on"] if lines else []
    return told + [
        Said(
            "row {i}: {welds} spot welds, about {pitch} apart",
            i=i,
            welds=len(run),
            pitch=Mm(row_pitch(run), 0),
        )
        for i, run in enumerate(rows, start=1)
    ]


@one_change
def keep_surrounding(
    panel: Panel, values: Mapping[str, Any], *, own: Surrounding | None, version: int | None, by: str
) -> Surrounding:
    """Store something that cuts of a panel meet, new or changed.

    Raises: ChangedMeanwhile; BadField, BadOutline: a name taken, no such shape, off the panel, a row that cannot be.
    """
    values = dict(values) | {
        "name": values["name"].strip(),
        "points": [[float(u), float(v)] for u, v in values["points"]],
    }
    if panel.surroundings.filter(name=values["name"]).exclude(pk=own.pk if own else None).exists():
        raise BadField(f"{panel.code} has a {values['name']} already.", "name", "Give it another name.")
    points = values["points"]
    if values["kind"] in Surrounding.OUTLINES:
        outline_polygon(points, "points")
    elif len(points) < 2:
        raise BadField(
            "A line needs two places at least.", "points", "Tap where it begins and where it ends."
        )
    away = off_panel_mm(points, values["kind"] in Surrounding.OUTLINES, panel.outline)
    if away > OFF_PANEL_MM:
        raise BadField(
            Said("It lies {away} off {panel}.", away=Mm(away, 0), panel=panel.code),
            "points",
            "Tap it on this panel, or choose the panel that it is on.",
        )
    made = Surrounding(panel=panel, **values)
    try:
        if made.kind == "row":
            sheets = _told(_sheets(panel, points, _of(panel).behind))
            spot = {"marks": points} if made.marked else {"pitch_mm": made.pitch_mm}
            spot_rows(
                SpotRequest.read({"rows": [{"id": made.name[:40], "path": points, "sheets": sheets} | spot]})
            )
        Surroundings(Around.read(_alone(made)))
    except CoreError as error:
        raise BadField(error.what, "points", error.mend) from None
    if own is None:
        made.changed_by = by
        made.save()
        return made
    own.save_as(version, by, **values)
    return own


def _alone(own: Surrounding) -> dict[str, Any]:
    """One thing as the core takes it, to be checked."""
    if own.kind in own.OUTLINES:
        return {"keep_outs": [{"name": own.name, "outline": own.points}]}
    if own.kind in ("row", "curve"):
        return {f"{own.kind}s": [{"name": own.name, "path": own.points}]}
    return {"lines": [{"name": own.name, "kind": own.kind, "path": own.points}]}


def nuggets_from(vehicle: Vehicle, panel: Panel, key: str) -> list[Xy]:
    """The places of old spot welds that were clicked round on a photo of a panel, in its plane.

    Raises: BadField where the photo has no card, no clicks, or no two known places.
    """
    photo = SurveyPhoto.objects.filter(vehicle=vehicle, panel=panel, pk=whole_number(key)).first()
    if photo is None:
        raise BadField("There is no such photo of this panel.", "photo", "Choose one of the list.")
    if len(photo.reference) != 4 or len(photo.trace) < 2 or len(photo.marks) < 2 or len(photo.on_panel) < 2:
        raise BadField(
            "This photo does not say yet where its spot welds are.",
            "photo",
            "Click on it the card, each spot weld, and two known places.",
        )
    told = lambda points: picture_points(photo.reference, photo.size_mm, photo.distances_mm, points)  # noqa: E731
    places, _ = placed(told(photo.trace), told(photo.marks[:2]), photo.on_panel[:2], photo.seen_from)
    return places
