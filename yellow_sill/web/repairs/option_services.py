"""A panel's ways to be renewed: put together from survey, drawing, log and hold; one chosen, with its reason, into the record."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from datetime import date
from itertools import count
from typing import Any

from django.db import transaction
from shapely.geometry import LineString, Polygon

from yellow_sill.core.cut.options import cut_options
from yellow_sill.core.cut.plans import Option, Options, OptionsRequest
from yellow_sill.core.cut.spots import SpotPlan, SpotRequest, spot_rows
from yellow_sill.core.errors import BadField
from yellow_sill.core.hold.condition import Opening, share_of_panel
from yellow_sill.web.hold.services import along, has_structure
from yellow_sill.web.shells.models import Panel, ShellView

from .models import Cut, PanelChoice, Repair
from .services import check

#: A row of spot welds on the drawing belongs to a panel with so many of its welds on it, this near.
LEAST_WELDS, NEAR_MM = 3, 12.0
#: Lines of the drawing that stiffen a panel.
STIFF = ("crease", "crease2", "rib", "lip")
#: Most welds of one row; a row that turns back is divided there.
MOST_RUN_MM = 120.0


def spot_request(panel: Panel, *, processes: Sequence[str] = ("mig",)) -> SpotRequest | None:
    """The panel's rows of spot welds as the drawing shows them: it goes, the sheet behind it stays. None where it has none."""
    outline = Polygon(panel.outline).buffer(NEAR_MM)
    view, rows = panel.view, []
    behind = _behind(view, panel)
    sheets = [{"name": panel.name, "thickness_mm": panel.thickness_mm, "stays": False}, behind]
    for feature in view.features:
        if feature["kind"] != "weld" or (view.layered and feature["layer"] not in (0, panel.layer)):
            continue
        for run in _runs(feature["points"], outline):
            rows.append({"id": f"Row {len(rows) + 1}", "path": run, "marks": run, "sheets": sheets})
    return SpotRequest.read({"rows": rows, "processes": list(processes)}) if rows else None


def _runs(points: Sequence[Sequence[float]], outline: Polygon) -> list[list[list[float]]]:
    """Neighbouring welds of a row that lie on a panel."""
    runs: list[list[list[float]]] = [[]]
    for point in points:
        last = runs[-1][-1] if runs[-1] else None
        inside = outline.contains(LineString([point, (point[0] + 1e-6, point[1])]))
        if not inside or (last and LineString([last, point]).length > MOST_RUN_MM):
            runs.append([])
        if inside:
            runs[-1].append([float(point[0]), float(point[1])])
    return [run for run in runs if len(run) >= LEAST_WELDS]


def _behind(view: ShellView, panel: Panel) -> dict[str, Any]:
    """The next sheet inwards under a panel's rim."""
    mine = Polygon(panel.outline)
    found = [
        (other.layer, -mine.intersection(Polygon(other.outline).buffer(NEAR_MM)).area, other)
        for other in view.panels.all()
        if other.layer > panel.layer and Polygon(other.outline).buffer(NEAR_MM).intersects(mine)
    ]
    if not found:
        return {"name": "the sheet behind", "thickness_mm": panel.thickness_mm, "stays": True}
    other = min(found, key=lambda each: each[:2])[2]
    return {"name": other.name, "thickness_mm": other.thickness_mm, "stays": True}


def spot_plan(panel: Panel) -> SpotPlan | None:
    """The panel's rows worked out. Raises: BadField."""
    request = spot_request(panel)
    return spot_rows(request) if request else None


def options_of(repair: Repair, panel: Panel, told: Mapping[str, Any]) -> Options:
    """The ways to renew a panel of a repair.

    Args: told: what the page says of prices, availability and weights, as ``OptionsRequest`` takes it.
    Raises: BadField, BadOutline.
    """
    findings = [finding for finding in repair.findings.select_related("panel") if finding.panel_id == panel.pk]
    if not findings:
        raise BadField("This repair has no finding on that panel.", "panel", "Choose another.")
    stiff = swages(panel)
    spots = spot_request(panel)
    request = {
        "panel": {"outline": panel.outline, "thickness_mm": panel.thickness_mm}, "margin_mm": repair.margin_mm, "corner_radius_mm": repair.corner_radius_mm,
        "web_mm": repair.web_mm, "style": repair.style, "findings": [{"id": f.number, "layer": 1, "outline": f.outline} for f in findings],
        "stiff": stiff, "seams": [line for line in stiff if len(line) == 2], "rows": [row.model_dump() for row in spots.rows] if spots else [],
    } | told  # fmt: skip
    options = cut_options(OptionsRequest.read(request))
    verdicts = {option.name: verdict for option in options.options if (verdict := _verdict(repair, panel, option))}
    return cut_options(OptionsRequest.read(request | {"hold": verdicts})) if verdicts else options


def swages(panel: Panel) -> list[list[list[float]]]:
    """Folds, swages and ribs that the drawing shows on a panel."""
    outline = Polygon(panel.outline)
    lines = [feature["points"] for feature in panel.view.features if feature["kind"] in STIFF and (not panel.view.layered or feature["layer"] == panel.layer)]
    return [line for line in lines if len(line) > 1 and LineString(line).intersects(outline)]


def _verdict(repair: Repair, panel: Panel, option: Option) -> str:
    """What holds the shell while a plan's pieces are out; empty where nobody can tell."""
    if not has_structure(repair.vehicle):
        return ""
    view = panel.view
    openings = [
        Opening(
            panel=panel.code, u_axis=view.u_axis, v_axis=view.v_axis, outline=tuple((u, v) for u, v in outline),
            share=share_of_panel(Polygon(outline).area, panel.outline), why=repair.code,
        )
        for outline in option.outlines
    ]  # fmt: skip
    try:
        return along(repair.vehicle, repair.code, openings, [])[1].held.verdict
    except BadField:
        return ""


@transaction.atomic
def choose_option(repair: Repair, panel: Panel, name: str, told: Mapping[str, Any], *, why: str, version: int | None, by: str, today: date) -> PanelChoice:
    """Write down which way a panel is renewed and why; the other ways are kept beside it, and the repair's cuts follow while nothing is cut.

    Raises: ChangedMeanwhile; BadField: no such plan, one that cannot be done, no reason, a repair that is cut already.
    """
    options = options_of(repair, panel, told)
    chosen = next((option for option in options.options if option.name == name), None)
    if chosen is None or not chosen.possible:
        raise BadField(f"{chosen.words}: {chosen.why_not}" if chosen else "There is no such plan.", "name", "Choose one that can be done.")
    if not why.strip():
        raise BadField("Write in a few words why this way.", "why", "The next restorer reads it.")
    if repair.state not in ("found", "opened"):
        raise BadField(f"{repair.code} is {repair.state} already: its cuts stand.", "name", "Go back on the ribbon first, with a reason.")
    kept = {
        "chosen": name, "words": chosen.words, "why": why.strip()[:300], "tips": options.tips, "turns": options.turns, "decided_on": today,
        "options": [asdict(option) | {"outlines": [], "corners": []} for option in options.options],
    }  # fmt: skip
    stored = PanelChoice.objects.filter(repair=repair, panel=panel).first()
    if stored is None:
        stored = PanelChoice.objects.create(repair=repair, panel=panel, changed_by=by, **kept)
    else:
        stored.save_as(version, by, **kept)
    _cut_as(repair, panel, chosen, by)
    return stored


def _cut_as(repair: Repair, panel: Panel, option: Option, by: str) -> None:
    """Make a panel's cuts those of a plan; patterns and weld plans of the old ones go with them."""
    repair.cuts.filter(panel=panel).delete()
    findings = [finding for finding in repair.findings.all() if finding.panel_id == panel.pk]
    taken = set(repair.cuts.values_list("number", flat=True))
    free = (number for number in count(1) if number not in taken)
    made = []
    for number, corners, outline in zip(free, option.corners, option.outlines, strict=False):
        shape = Polygon(outline)
        cut = Cut.objects.create(
            repair=repair, number=number, panel=panel, proposed_corners=corners, corners=corners, outline=outline, weld_length_mm=0.0, area_mm2=shape.area,
            changed_by=by,
        )  # fmt: skip
        cut.findings.set([finding for finding in findings if shape.intersects(Polygon(finding.outline))])
        made.append(cut)
    for cut in made:
        checked = check(cut, cut.corners)
        cut.outline, cut.remarks = checked.outline, [asdict(remark) for remark in checked.remarks]
        cut.weld_length_mm, cut.area_mm2 = checked.weld_length_mm, checked.area_mm2
        cut.save(update_fields=["outline", "remarks", "weld_length_mm", "area_mm2"])
