"""The metal map of a vehicle: its sheets, what repairs put in, what old repairs stay, what is on each face."""

from typing import Any

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.record.metal import RANKS, MapRequest, MetalMap, metal_map
from yellow_sill.core.survey.old_repairs import KINDS
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.sheet_services import sheets_of
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.patch.models import Patch
from yellow_sill.web.shells.models import Panel, Vehicle

from .models import PanelRank

READ = ("shells", "survey", "repairs", "cut", "patch", "protect", "record", "weld")


@by_revision(4, *READ)
def map_of(vehicle: Vehicle) -> tuple[MapRequest, MetalMap]:
    """What every sheet is today, with what it was told from. Raises: CoreError."""
    request = MapRequest.read({"sheets": _sheets(vehicle), "pieces": _pieces(vehicle), "old": _old(vehicle)})
    return request, metal_map(request)


def _sheets(vehicle: Vehicle) -> list[dict[str, Any]]:
    ranks = dict(PanelRank.objects.filter(vehicle=vehicle).values_list("code", "rank"))
    panels = (
        Panel.objects.filter(view__vehicle=vehicle)
        .select_related("view", "cover")
        .order_by("view__place", "layer", "code")
    )
    return [
        {
            "code": panel.code, "view": panel.view.name, "outline": panel.outline, "holes": panel.holes, "thickness_mm": panel.thickness_mm,
            "looked": _looked(panel), "rank": ranks.get(panel.code, ""),
        }
        for panel in panels
    ]  # fmt: skip


def _looked(panel: Panel) -> float:
    """How much of a panel was looked at, 0 to 1."""
    cover = getattr(panel, "cover", None)
    return min(1.0, cover.looked_mm2 / cover.area_mm2) if cover and cover.area_mm2 else 0.0


def _pieces(vehicle: Vehicle) -> list[dict[str, Any]]:
    found = []
    for repair in vehicle.repairs.all():
        try:
            sheets = sheets_of(repair)
        except CoreError:
            continue
        patches = {patch.cut_id: patch for patch in Patch.objects.filter(cut__repair=repair)}
        for sheet in sheets:
            cut, patch = sheet.cut, patches.get(sheet.cut.pk)
            last = sheet.steps[-1] if sheet.steps else repair.steps.last()
            found.append({
                "repair": repair.number, "code": cut.panel.code, "view": cut.panel.view.name, "outline": cut.outline, "state": sheet.told.state,
                "since": sheet.told.since, "by": last.by if last else "", "thickness_mm": patch.thickness_mm if patch else 0.0, "faces": _faces(cut),
            })  # fmt: skip
    return [each for each in found if each["state"] != "planned"]


def _faces(cut: Cut) -> dict[str, list[str]]:
    """What is on each face of a sheet, in the order in which it was put on."""
    return {
        face.key: [f"{coat}, {coat.put_on:%d.%m.%Y}" for coat in face.coats.order_by("put_on")] for face in cut.faces.all()
    }  # fmt: skip


def _old(vehicle: Vehicle) -> list[dict[str, Any]]:
    kept = vehicle.findings.filter(old_verdict="keep").select_related("panel__view")
    return [
        {"number": each.number, "code": each.panel.code, "view": each.panel.view.name, "outline": each.outline, "kind": str(KINDS.get(each.old_kind, ""))}
        for each in kept
    ]  # fmt: skip


@one_change
def rank_sheet(vehicle: Vehicle, code: str, rank: str, *, by: str) -> None:
    """Say how much a sheet's look counts; "" takes the word away. Raises: BadField."""
    if rank not in RANKS:
        raise BadField("Say whether it is on show, visible or hidden.", "rank")
    if not Panel.objects.filter(view__vehicle=vehicle, code=code).exists():
        raise BadField("There is no such sheet.", "code", "Tap it on the drawing.")
    stored = PanelRank.objects.filter(vehicle=vehicle, code=code).first()
    if stored is None:
        if rank:
            PanelRank.objects.create(vehicle=vehicle, code=code, rank=rank)
    elif rank:
        stored.rank = rank
        stored.save()
    else:
        stored.delete()
