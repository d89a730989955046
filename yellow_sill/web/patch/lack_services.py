"""Sheet metal that the open repairs still take and the garage does not hold; what lies there is paid already."""

from collections.abc import Iterable

from yellow_sill.core.outlines import area_of
from yellow_sill.core.patch.stock import steel_lacking
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.web.cut.models import Cut, PanelChoice
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.frame.stages import Lack
from yellow_sill.web.shells.models import Vehicle

from .models import StockSheet
from .stock_services import sheets_of

_EARLY = STATES[: STATES.index("made")]


def _area(sheet: StockSheet) -> float:
    return area_of(sheet.outline) if sheet.outline else (sheet.length_mm or 0.0) * (sheet.width_mm or 0.0)


@by_revision(2, "patch", "cut", "repairs", "shells")
def lacking_steel(vehicle: Vehicle) -> list[Lack]:
    """Sheet by thickness: of the cuts of repairs for which nothing is made yet, but for panels that are bought; told once somebody keeps stock."""
    stock = [(sheet.thickness_mm, _area(sheet)) for sheet in sheets_of(vehicle)]
    if not vehicle.stock_sheets.exists():
        return []
    bought = set(
        PanelChoice.objects.filter(repair__vehicle=vehicle, chosen__in=("part", "whole")).values_list(
            "repair", "panel"
        )
    )
    rows = Cut.objects.filter(repair__vehicle=vehicle, repair__state__in=_EARLY).values_list(
        "repair", "panel", "panel__thickness_mm", "area_mm2"
    )
    cuts = [(thickness, area) for repair, panel, thickness, area in rows if (repair, panel) not in bought]
    return [
        Lack(key=f"steel-{thickness:g}", name=f"Sheet {thickness:g} mm, {area:.2f} m²", why="the open cuts take more than lies there", at=[])
        for thickness, area in steel_lacking(cuts, stock)
    ]  # fmt: skip


def worth_in_hand(vehicle: Vehicle) -> Iterable[tuple[str, object]]:
    """The kind of cost and the price of each sheet that lies there, where somebody has said it."""
    return [("steel", sheet.price) for sheet in sheets_of(vehicle) if sheet.price is not None]
