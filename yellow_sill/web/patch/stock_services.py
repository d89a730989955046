"""Steel in stock: sheets and offcuts, all open patterns laid on them, and what becomes of it once it is cut."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.formats.drawings import plan_sketch
from yellow_sill.core.formats.dxf import dxf_file
from yellow_sill.core.formats.plan_pdf import plan_pdf
from yellow_sill.core.formats.svg import svg_file
from yellow_sill.core.geometry import Xy, bounds_of
from yellow_sill.core.patch.nest_stock import NestPart, NestRequest
from yellow_sill.core.patch.stock import offcut_outline, require_stock
from yellow_sill.core.said import Said, together
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame import jobs
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.models import Job
from yellow_sill.web.frame.stages import told as said_by_stages
from yellow_sill.web.shells.models import Vehicle

from .models import CuttingPlan, Patch, StockSheet
from .services import developed, stored_values


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenPattern:
    """A stored pattern that waits for steel: its name, its outline in the hand that is wanted, the plans that have it; why it cannot be laid out."""

    name: str
    cut: Cut
    patch: Patch
    outline: list[list[float]]
    planned: str
    fault: str = ""

    @property
    def size(self) -> tuple[float, float]:
        u0, v0, u1, v1 = bounds_of(self.outline)
        return u1 - u0, v1 - v0


@dataclass(frozen=True, slots=True, kw_only=True)
class LaidSheet:
    """One piece of a layout as the page draws it. ``placed``: name, outline, place of the label, cost; ``rests``: number in the plan, outline, size."""

    name: str
    outline: list[Xy]
    bounds: list[float]
    placed: list[Mapping[str, Any]]
    rests: list[tuple[str, list[Xy], tuple[float, float]]]
    told: Mapping[str, Any]

    def type_mm(self, part: Mapping[str, Any]) -> float:
        """The size of a pattern's name: as large as the page wants it, smaller where the pattern is narrow."""
        wide = self.bounds[2] - self.bounds[0]
        fits = part["label_mm"] / (0.52 * len(part["part"]))
        return round(max(0.011 * wide, min(0.024 * wide, fits)), 1)

    @property
    def names(self) -> list[tuple[Mapping[str, Any], float]]:
        """Its patterns, each with the size of its name."""
        return [(part, self.type_mm(part)) for part in self.placed]


def sheets_of(vehicle: Vehicle) -> list[StockSheet]:
    """What lies in the garage."""
    return list(vehicle.stock_sheets.filter(cut_by_plan=0))


@one_change
def add_sheet(vehicle: Vehicle, values: Mapping[str, Any], *, by: str) -> StockSheet:
    """Put a sheet or an offcut into stock. Raises: BadOutline, BadField."""
    require_stock(values)
    return _new(vehicle, values, by)


def _new(vehicle: Vehicle, values: Mapping[str, Any], by: str) -> StockSheet:
    return StockSheet.objects.create(
        vehicle=vehicle, number=StockSheet.next_number(vehicle=vehicle), changed_by=by, **values
    )


@one_change
def change_sheet(sheet: StockSheet, values: Mapping[str, Any], *, version: int | None, by: str) -> None:
    """Raises: ChangedMeanwhile, BadOutline, BadField."""
    require_stock(values)
    sheet.save_as(version, by, **values)


@one_change
def drop_sheet(sheet: StockSheet, *, version: int | None) -> None:
    """Take a piece out of stock that is not there any more. Raises: ChangedMeanwhile."""
    sheet.require_version(version)
    sheet.delete()


def patterns_of(vehicle: Vehicle) -> list[OpenPattern]:
    """All stored patterns of a vehicle, in the order of their repairs."""
    patches = Patch.objects.filter(cut__repair__vehicle=vehicle).select_related("cut__repair", "cut__panel")
    plans: dict[tuple[int, int], list[str]] = {}
    for plan in vehicle.cutting_plans.all():
        for where in plan.patches.values():
            words = f"cut, plan {plan.number}" if plan.cut_on else f"in plan {plan.number}"
            plans.setdefault((where["repair"], where["cut"]), []).append(words)
    found = []
    for patch in patches.order_by("cut__repair__number", "cut__number"):
        cut = patch.cut
        name = f"{cut.repair.code}.{cut.number}"
        outline, fault = [], ""
        try:
            corners = developed(cut, stored_values(patch)).pattern.corners
            way = -1 if patch.mirror_hand else 1
            outline = [[round(way * u, 3), round(v, 3)] for u, v in corners]
        except CoreError as error:
            fault = error.message
        planned = ", ".join(plans.get((cut.repair.number, cut.number), []))
        found.append(
            OpenPattern(name=name, cut=cut, patch=patch, outline=outline, planned=planned, fault=fault)
        )
    return found


def nest_request(
    vehicle: Vehicle,
    chosen: Mapping[str, Mapping[str, Any]],
    stock: Iterable[StockSheet],
    how: Mapping[str, Any],
) -> NestRequest:
    """What is asked of the core.

    Args: chosen: by the pattern's name its ``grain``, ``both_faces`` and ``coating``; stock: pieces that may be begun; how: kerf, margin, turn, keep.
    Raises: BadField, CoreError.
    """
    known = {each.name: each for each in patterns_of(vehicle) if not each.fault}
    if not chosen:
        raise BadField("No pattern is ticked.", "parts", "Tick those to be cut.")
    if gone := [name for name in chosen if name not in known]:
        raise BadField(
            Said("{name} has no pattern any more.", name=gone[0]), "parts", "Look at the list again."
        )
    parts = [
        {"name": name, "outline": known[name].outline, "thickness_mm": known[name].patch.thickness_mm, **more}
        for name, more in chosen.items()
    ]
    return NestRequest.read({"parts": parts, "stock": [_piece(sheet) for sheet in stock], **how})


def lay_out(vehicle: Vehicle, asked: NestRequest) -> Job:
    """Have patterns laid on stock by the worker."""
    return jobs.ask("nest", vehicle.pk, asked.model_dump(mode="json"))


def _piece(sheet: StockSheet) -> dict[str, Any]:
    price = None if sheet.price is None else float(sheet.price)
    size = (
        {"outline": sheet.outline}
        if sheet.outline
        else {"length_mm": sheet.length_mm, "width_mm": sheet.width_mm}
    )
    return {
        "name": sheet.name,
        "thickness_mm": sheet.thickness_mm,
        "coating": sheet.coating,
        "price": price,
        **size,
    }


def asked_of(job: Job) -> NestRequest:
    """What a layout was asked for."""
    return NestRequest.model_validate_json(job.asked)


def words_of(told: Mapping[str, Any]) -> dict[str, Any]:
    """What a nest tells in words, as messages that take the reader's units: summary, what is not placed and why, what to buy, remarks."""
    return {
        "words": _message(told, "words"),
        "unplaced": [(_message(each, "why"), _message(each, "mend")) for each in told.get("unplaced", [])],
        "buy": [
            together(each) if isinstance(each, dict) else each
            for each in told.get("buy_said") or told.get("buy", [])
        ],
        "remarks": [(_message(each, "what"), _message(each, "mend")) for each in told.get("remarks", [])],
    }


def _message(told: Mapping[str, Any], name: str) -> str:
    """A message as the command line tells it: with its template and values where it has any."""
    said = told.get(f"{name}_said")
    return together(said) if said else told[name]


def laid(told: Mapping[str, Any]) -> list[LaidSheet]:
    """The pieces of a layout as the page draws them."""
    found = []
    for k, sheet in enumerate(told.get("sheets", [])):
        rests = []
        for i, rest in enumerate(sheet["rests"]):
            u0, v0, u1, v1 = bounds_of(rest)
            rests.append((f"{k}.{i}", rest, (u1 - u0, v1 - v0)))
        found.append(
            LaidSheet(
                name=sheet["stock"],
                outline=sheet["outline"],
                bounds=bounds_of(sheet["outline"]),
                placed=sheet["placed"],
                rests=rests,
                told=sheet,
            )
        )
    return found


@one_change
def keep_plan(
    vehicle: Vehicle, asked: NestRequest, told: Mapping[str, Any], *, today: date, by: str
) -> CuttingPlan:
    """Keep a layout as it was found. Args: told: the nest as ``calc`` tells it. Raises: BadField where nothing of it is laid."""
    if not told.get("sheets"):
        raise BadField("Nothing of it is laid: there is no plan to keep.", "plan")
    known = {each.name: each.cut for each in patterns_of(vehicle)}
    placed = {each["part"] for sheet in told["sheets"] for each in sheet["placed"]}
    patches = {
        name: {"repair": known[name].repair.number, "cut": known[name].number}
        for name in sorted(placed)
        if name in known
    }
    values = {
        "asked": asked.model_dump(mode="json"),
        "told": dict(told),
        "patches": patches,
        "made_on": today,
    }
    return CuttingPlan.objects.create(
        vehicle=vehicle, number=CuttingPlan.next_number(vehicle=vehicle), changed_by=by, **values
    )


@one_change
def drop_plan(plan: CuttingPlan, *, version: int | None) -> None:
    """Throw a plan away that was not cut. Raises: ChangedMeanwhile, BadField."""
    plan.require_version(version)
    if plan.cut_on:
        raise BadField("This plan was cut: it stays in the record.", "plan", "Take the cutting back first.")
    plan.delete()


def changed_since(plan: CuttingPlan) -> list[str]:
    """Names of the plan's patterns that are not any more what they were when it was laid out."""
    now = {each.name: each for each in patterns_of(plan.vehicle)}
    found = []
    for part in (NestPart.model_validate(each) for each in plan.asked["parts"]):
        if part.name in plan.patches:
            other = now.get(part.name)
            if other is None or [tuple(at) for at in other.outline] != [tuple(at) for at in part.outline]:
                found.append(part.name)
    return found


@one_change
def cut_plan(plan: CuttingPlan, rests: Sequence[str], *, version: int | None, today: date, by: str) -> None:
    """Say that a plan was cut: its pieces leave the stock, the chosen rests go into it, each repair bears its patterns' cost.

    Args: rests: of those that are kept, "piece.rest".
    Raises: ChangedMeanwhile, BadField for a piece that is not there any more.
    """
    plan.require_version(version)
    if plan.cut_on:
        raise BadField("This plan was cut already.", "plan")
    sheets = {sheet.name: sheet for sheet in sheets_of(plan.vehicle)}
    begun = [each["stock"] for each in plan.told["sheets"]]
    if gone := [name for name in begun if name not in sheets]:
        raise BadField(
            Said("{name} is not in stock any more.", name=gone[0]),
            "plan",
            "Lay the patterns out again on what there is.",
        )
    for k, laid_sheet in enumerate(plan.told["sheets"]):
        old = sheets[laid_sheet["stock"]]
        old.set_fields(by, cut_by_plan=plan.number)
        for i, rest in enumerate(laid_sheet["rests"]):
            if f"{k}.{i}" in rests:
                outline, price = offcut_outline(rest, laid_sheet["outline"], old.price)
                values = {
                    "thickness_mm": old.thickness_mm, "outline": outline, "coating": old.coating, "price": price, "supplier": old.supplier,
                    "place": old.place, "from_plan": plan.number,
                }  # fmt: skip
                _new(plan.vehicle, values, by)
        _book(plan, laid_sheet, old, today, by)
    plan.set_fields(by, cut_on=today)


def _book(plan: CuttingPlan, laid_sheet: Mapping[str, Any], sheet: StockSheet, today: date, by: str) -> None:
    """Each pattern's share of the piece goes to its repair, where a price is known."""
    for placed in laid_sheet["placed"]:
        where = plan.patches.get(placed["part"])
        if where is None or placed["cost"] is None:
            continue
        repair = plan.vehicle.repairs.filter(number=where["repair"]).first()
        for book in said_by_stages("books"):
            item = f"{placed['part']} from {sheet.name}, cutting plan {plan.number}"
            book(
                plan.vehicle, repair, item, Decimal(str(placed["cost"])), sheet.supplier or "stock", today, by
            )


def plan_file(plan: CuttingPlan, form: str, paper: str) -> tuple[bytes, str, str]:
    """The cutting plan as a file: content, MIME type, name. ``form`` is svg, dxf or pdf. Raises: CoreError."""
    name, title = f"cutting-plan-{plan.number}.{form}", f"Cutting plan {plan.number}"
    sheets = plan.told["sheets"]
    if form == "svg":
        return svg_file(plan_sketch(sheets), title).encode(), "image/svg+xml", name
    if form == "dxf":
        return dxf_file(plan_sketch(sheets)).encode(), "application/dxf", name
    vehicle = plan.vehicle
    cells = [
        ("Vehicle", str(vehicle)),
        ("Kerf, mm", f"{plan.asked['kerf_mm']:g}"),
        ("Margin, mm", f"{plan.asked['margin_mm']:g}"),
        ("Units", "mm"),
    ]
    return plan_pdf(sheets, title, cells, paper), "application/pdf", name
