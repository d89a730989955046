"""Stock and bottles: what the welding that is planned takes, against what there is."""

from collections.abc import Mapping
from datetime import date
from typing import Any

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.core.repairs.sheets import SHEET_STATES
from yellow_sill.core.weld.consumables import (
    DIGITS,
    KINDS,
    UNITS,
    WORDS,
    Consumables,
    ConsumablesRequest,
    Needed,
    bottle_left,
    consumables,
)
from yellow_sill.core.weld.plan import amounts
from yellow_sill.web.cut.release_services import release_list
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.frame.stages import Lack
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .joint_services import joints_of
from .models import WeldPlan, WeldShop

_WELDED = SHEET_STATES.index("welded")


def shop_of(vehicle: Vehicle) -> WeldShop:
    """The stored stock of a vehicle's garage; unsaved where nobody has said anything."""
    return getattr(vehicle, "weld_shop", None) or WeldShop(vehicle=vehicle, version=0)


@one_change
def keep_shop(vehicle: Vehicle, values: Mapping[str, Any], *, version: int | None, by: str) -> WeldShop:
    """Raises: ChangedMeanwhile."""
    stored = WeldShop.objects.filter(vehicle=vehicle).first()
    if stored is None:
        return WeldShop.objects.create(vehicle=vehicle, changed_by=by, **values)
    stored.save_as(version, by, **values)
    return stored


@one_change
def read_bottle(vehicle: Vehicle, bar: float, *, on: date, today: date, by: str) -> None:
    """Write down what the bottle's gauge shows. Raises: BadField: a day to come, more than a full bottle, nothing said of the bottle."""
    shop = shop_of(vehicle)
    if on > today:
        raise BadField("That day has not come yet.", "on", "Give the day on which it was read.")
    if not shop.bottle_l or not shop.full_bar:
        raise BadField(
            "How large the bottle is was not said.", "bar", "Say its litres and its full pressure first."
        )
    bottle_left([bar], litres=shop.bottle_l, full_bar=shop.full_bar)
    shop.readings = [*shop.readings, {"bar": bar, "on": on.isoformat(), "by": by}]
    shop.save(update_fields=["readings"])


@one_change
def unread_bottle(vehicle: Vehicle) -> None:
    """Take back the last reading. Raises: BadField where there is none."""
    shop = shop_of(vehicle)
    if not shop.readings:
        raise BadField("Nothing was read yet.", "bar")
    shop.readings = shop.readings[:-1]
    shop.save(update_fields=["readings"])


def gas_left(shop: WeldShop) -> float | None:
    """Litres in the bottle by its last reading; None where nobody has read it."""
    if not shop.readings or not shop.bottle_l or not shop.full_bar:
        return None
    return bottle_left([each["bar"] for each in shop.readings], litres=shop.bottle_l, full_bar=shop.full_bar)


@by_revision(4, "weld", "cut", "patch", "repairs", "survey", "shells")
def work_ahead(vehicle: Vehicle) -> list[dict[str, Any]]:
    """What each open repair still has to weld, in the order of its number, the one farthest along first."""
    found = []
    for repair in sorted(
        vehicle.repairs.exclude(state__in=("welded", "dressed", "protected", "signed off")), key=_farthest
    ):
        repair.vehicle = vehicle
        try:
            joints = joints_of(repair)
        except CoreError:
            continue
        drill = _to_drill(repair)
        for sheet in joints.sheets:
            if SHEET_STATES.index(sheet.told.state) >= _WELDED:
                continue
            mine = [
                each.told
                for each in joints.joints
                if each.sheet is sheet and not (each.word and each.word.made_on)
            ]
            for process, much in amounts(mine).items():
                done = _share_done(sheet.cut) if process in ("mig", "tig") else 0.0
                thickness = sheet.cut.panel.thickness_mm
                found.append(
                    {
                        "repair": repair.code,
                        "thickness_mm": thickness,
                        "process": process,
                        "drill": drill,
                        "done": done,
                    }
                    | much
                )
                drill = 0
    return found


def _farthest(repair: Repair) -> tuple[int, int]:
    return -STATES.index(repair.state), repair.number


def _to_drill(repair: Repair) -> int:
    """Old spot welds that are still to be drilled."""
    if repair.state not in ("found", "opened"):
        return 0
    try:
        return sum(panel.count for panel in release_list(repair)) - repair.nugget_ticks.count()
    except CoreError:
        return 0


def _share_done(cut: Any) -> float:
    """The share of a sheet's tacks that were made."""
    weld = WeldPlan.objects.filter(cut=cut).first()
    planned = sum(len(plan["tacks"]) for plan in weld.tack_plans) if weld else 0
    made = (
        len({tuple(each["at"]) for each in weld.events if each["what"] in ("done", "again")}) if weld else 0
    )
    return min(1.0, made / planned) if planned else 0.0


def needed(vehicle: Vehicle) -> Consumables:
    """What the welding ahead takes, and where each thing ends. Raises: CoreError."""
    shop = shop_of(vehicle)
    amounts = dict(shop.stock)
    if (left := gas_left(shop)) is not None:
        amounts["gas"] = left
    stock = [{"kind": kind, "amount": amounts.get(kind)} for kind in KINDS]
    return consumables(ConsumablesRequest.read({"work": work_ahead(vehicle), "stock": stock}))


def short(vehicle: Vehicle) -> list[Lack]:
    """What the welding ahead takes and the stock does not hold; what nobody has counted is not told as short."""
    try:
        things = needed(vehicle).things
    except CoreError:
        return []
    return [
        Lack(
            key=f"weld-{each.kind}",
            name=f"{WORDS[each.kind]}, {each.lacking:.{DIGITS[each.kind]}f} {UNITS[each.kind]}".strip(),
            why=f"it ends in {each.ends_in}" if each.ends_in else "less there than all welding takes",
            at=[],
        )
        for each in things
        if each.in_stock is not None and each.lacking > 0
    ]


#: A bar of the stock is so wide at most, px.
WIDE = 560.0


def drawn_bar(each: Needed) -> dict[str, Any]:
    """A thing as a bar to scale: what each repair takes, one after the other, and where the stock ends."""
    most = max(each.needed, each.in_stock or 0.0) or 1.0
    parts: list[dict[str, Any]] = []
    x = 0.0
    for repair, taken in each.by_repair.items():
        wide = WIDE * taken / most
        if wide > 0:
            parts.append(
                {"repair": repair, "x": round(x, 1), "wide": round(wide, 1), "out": repair == each.ends_in}
            )
        x += wide
    stock = None if each.in_stock is None else round(WIDE * each.in_stock / most, 1)
    return {"told": each, "words": WORDS[each.kind], "unit": UNITS[each.kind], "parts": parts, "stock": stock}
