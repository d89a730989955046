"""What a nest tells: the bound on what is begun, why a pattern is not placed, remarks, the summary."""

from collections.abc import Iterable

from ..remarks import Remark
from ..said import Count, Listed, Said, joined
from .nest_stock import SAME_MM, Nest, NestPart, NestRequest, StockPiece, Unplaced


def sheet_mm(thickness_mm: float) -> str:
    """A sheet's thickness: in millimetres whatever the reader's unit, as it is bought."""
    return f"{thickness_mm:.2f} mm"


def suits(part: NestPart, piece: StockPiece) -> bool:
    """Whether a piece is of a pattern's thickness and coated as it asks."""
    same = abs(part.thickness_mm - piece.thickness_mm) <= SAME_MM
    return same and (not part.coating or part.coating == piece.coating)


def least_begun(pieces: Iterable[tuple[float, float]], area_mm2: float) -> float:
    """The least area of pieces whose room takes some area: over all sets of pieces, those that another set beats in both left out.

    Args: pieces: room and area of each, mm2.
    """
    fronts: list[tuple[float, float]] = [(0.0, 0.0)]
    for room, begun in pieces:
        both = sorted(
            fronts + [(r + room, b + begun) for r, b in fronts], key=lambda each: (each[1], -each[0])
        )
        fronts, best = [], -1.0
        for r, b in both:
            if r > best + 1:
                fronts.append((r, b))
                best = r
    return min((b for r, b in fronts if r >= area_mm2 - 1), default=0.0)


def why_not(request: NestRequest, number: int, largest: str, fits_alone: bool) -> Unplaced:
    part = request.parts[number]
    name, thick = part.name, sheet_mm(part.thickness_mm)
    if fits_alone:
        return Unplaced(
            part=name, why=Said("No room is left for {name}.", name=name), mend="See what to buy, or begin another sheet."
        )  # fmt: skip
    if largest:
        return Unplaced(
            part=name,
            why=Said("{name} is larger than every piece in stock, {longest} too, as its grain may lie.", name=name, longest=largest),
            mend="Buy a larger sheet, let its grain lie freely, or make it of two pieces with a joint.",
        )  # fmt: skip
    other = sorted(
        {
            piece.thickness_mm
            for piece in request.stock
            if abs(piece.thickness_mm - part.thickness_mm) > SAME_MM
        }
    )
    if any(abs(piece.thickness_mm - part.thickness_mm) <= SAME_MM for piece in request.stock):
        why = Said("No {thick} sheet coated as {name} asks is in stock.", thick=thick, name=name)
        return Unplaced(part=name, why=why, mend="Buy one, or take the coating off what it asks.")
    why = Said("{name} wants {thick}; no such sheet is in stock.", name=name, thick=thick)
    if other:
        has = Listed(tuple(sheet_mm(each) for each in other))
        why = Said("{name} wants {thick}; in stock is {has}.", name=name, thick=thick, has=has)
    return Unplaced(
        part=name, why=why, mend="Buy a sheet of that thickness: another would not match its neighbours."
    )


def remarks_of(request: NestRequest, clocked: bool) -> list[Remark]:
    told = []
    if clocked:
        told.append(
            Remark(
                code="NEST-01",
                where="rounds",
                what="The packing engine was ended by the clock, so another run may lie a little differently.",
                mend="Keep this layout, or try again when the machine is quiet.",
            )
        )
    if request.margin_mm < request.kerf_mm / 2:
        told.append(
            Remark(
                code="NEST-02",
                where="margin_mm",
                what="The margin is less than half the kerf: the cut runs over the sheet's edge.",
                mend="Give the clamp a few millimetres.",
            )
        )
    return told


def words_of(told: Nest) -> Said | str:
    if not told.sheets:
        return joined(["Nothing fits.", *(each.why for each in told.unplaced[:3])])
    count = sum(len(sheet.placed) for sheet in told.sheets)
    first = Said(
        "{count} on {names}: {used:.0f} % of the steel begun.",
        count=Count(count, "pattern", "patterns"),
        names=Listed(tuple(sheet.stock for sheet in told.sheets)),
        used=told.used_percent,
    )
    lost = (
        Said("{count} not placed.", count=Count(len(told.unplaced), "pattern is", "patterns are"))
        if told.unplaced
        else ""
    )
    return joined([each for each in (first, lost) if each])
