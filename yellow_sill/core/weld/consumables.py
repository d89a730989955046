"""What the welding that is planned takes: wire, gas, discs, drill bits, contact tips, primer; and in which repair each runs out."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Count, Metres, Quoted, Said
from ..steel import KG_PER_MM3

#: A bead is so wide and high for sheet t, as a share of t² (rule of thumb: 1 t wide gap, crowned both sides).
BEAD_SHARE = 2.5
#: Of the wire so much is lost (spatter, stubs); a plug takes its hole once over, and the bead on top.
WIRE_LOST, PLUG_SHARE = 1.1, 1.4
#: Arc time a tack and a plug, s, gas before and after each, s; gas in use, l/min.
TACK_S, PLUG_S, AROUND_S, GAS_L_MIN = 0.8, 1.5, 1.0, 9.0
TIG_S_PER_MM, TIG_GAS_L_MIN = 0.9, 7.0
#: One of each serves for so much (rules of thumb): metres of bead dressed, plugs ground, spot welds drilled, arc hours of a tip.
DISC_M, DISC_PLUGS, DRILL_SPOTS, TIP_H = 1.6, 40.0, 25.0, 2.5
#: Weld-through primer, ml for a metre of flange (both faces, 20 mm wide) and a plug.
PRIMER_ML_M, PRIMER_ML_PLUG = 9.0, 0.4
TACK_MM = 7.0
KINDS = ("wire", "gas", "discs", "drill bits", "contact tips", "primer")
UNITS = {"wire": "kg", "gas": "l", "discs": "", "drill bits": "", "contact tips": "", "primer": "ml"}
#: Decimals of each that count.
DIGITS = {"wire": 2, "gas": 0, "discs": 1, "drill bits": 1, "contact tips": 1, "primer": 0}
WORDS = {
    "wire": "Wire",
    "gas": "Gas",
    "discs": "Grinding discs",
    "drill bits": "Spot-weld drills",
    "contact tips": "Contact tips",
    "primer": "Weld-through primer",
}


class ToWeld(Record):
    """What a repair still has to weld: seam and row in mm, plugs, spot welds to drill out, by sheet; ``done``: share that is behind already."""

    repair: Annotated[str, Field(min_length=1, max_length=20)]
    thickness_mm: Annotated[float, Field(gt=0, le=6)]
    process: Literal["mig", "tig", "spot", "braze"] = "mig"
    seam_mm: Annotated[float, Field(ge=0, le=1e6)] = 0.0
    row_mm: Annotated[float, Field(ge=0, le=1e6)] = 0.0
    plugs: Annotated[int, Field(ge=0, le=100_000)] = 0
    hole_mm: Annotated[float, Field(ge=0, le=30)] = 8.0
    drill: Annotated[int, Field(ge=0, le=100_000)] = 0
    done: Annotated[float, Field(ge=0, le=1)] = 0.0


class InStock(Record):
    """What there is of a thing, in its own unit; None: nobody has looked."""

    kind: Literal["wire", "gas", "discs", "drill bits", "contact tips", "primer"]
    amount: Annotated[float, Field(ge=0, le=1e6)] | None = None


class ConsumablesRequest(Record):
    """The repairs in the order in which they will be welded, and the stock. ``used``: what was really taken, as a factor of the reckoned, by kind."""

    work: Annotated[list[ToWeld], Field(max_length=2000)] = []
    stock: Annotated[list[InStock], Field(max_length=12)] = []
    used: dict[
        Literal["wire", "gas", "discs", "drill bits", "contact tips", "primer"],
        Annotated[float, Field(gt=0, le=20)],
    ] = {}


@dataclass(frozen=True, slots=True, kw_only=True)
class Needed:
    """One thing: what all the work takes, what there is (None: not known), where it ends (None: it lasts, or nobody knows), what is lacking after all."""

    kind: str
    unit: str
    needed: float
    in_stock: float | None
    ends_in: str | None
    lacking: float
    by_repair: dict[str, float]
    words: Said


@dataclass(frozen=True, slots=True, kw_only=True)
class Consumables:
    """Every thing, and those that run out first."""

    things: list[Needed]
    words: Said


def consumables(request: ConsumablesRequest) -> Consumables:
    """What the welding that is planned takes, and where each thing ends.

    Args: request: see ConsumablesRequest.
    Raises: BadField: one kind of stock twice.
    Source: bead's volume, arc time and rules of thumb, docs/methods.md section 5.
    """
    kinds = [each.kind for each in request.stock]
    if len(set(kinds)) < len(kinds):
        raise BadField("One thing is in stock twice.", "stock", "Add both up.")
    stock = {each.kind: each.amount for each in request.stock}
    by_kind: dict[str, dict[str, float]] = {kind: {} for kind in KINDS}
    for work in request.work:
        for kind, amount in taken_by(work).items():
            share = amount * (1 - work.done) * request.used.get(kind, 1.0)  # type: ignore[call-overload]
            by_kind[kind][work.repair] = by_kind[kind].get(work.repair, 0.0) + share
    things = [_needed(kind, by_kind[kind], stock.get(kind)) for kind in KINDS]  # type: ignore[call-overload]
    ends = [each for each in things if each.ends_in]
    unknown = [each for each in things if each.in_stock is None and each.needed > 0]
    if ends:
        words = Said("{first}", first=ends[0].words)
    elif unknown:
        words = Said(
            "Of {count} nobody has looked how much there is.",
            count=Count(len(unknown), "thing", "things"),
        )
    else:
        words = Said("All of it lasts for what is planned.")
    return Consumables(things=things, words=words)


def taken_by(work: ToWeld) -> dict[str, float]:
    """What the whole of a repair's work takes, by kind, in the kind's unit."""
    t, metres = work.thickness_mm, work.seam_mm / 1000
    tacks = work.seam_mm / TACK_MM
    arc = tacks * TACK_S + work.plugs * PLUG_S
    gas = (arc + (tacks + work.plugs) * AROUND_S) / 60 * GAS_L_MIN
    bead = BEAD_SHARE * t * t * work.seam_mm
    plug = math.pi * work.hole_mm**2 / 4 * t * PLUG_SHARE * work.plugs
    wire = (bead + plug) * KG_PER_MM3 * WIRE_LOST
    if work.process == "tig":
        arc = work.seam_mm * TIG_S_PER_MM + work.plugs * PLUG_S
        gas = arc / 60 * TIG_GAS_L_MIN * 1.3
        wire *= 0.7
    electric = work.process in ("mig", "tig")
    return {
        "wire": wire if electric else 0.0, "gas": gas if electric else 0.0, "discs": metres / DISC_M + work.plugs / DISC_PLUGS,
        "drill bits": work.drill / DRILL_SPOTS, "contact tips": arc / 3600 / TIP_H if work.process == "mig" else 0.0,
        "primer": work.row_mm / 1000 * PRIMER_ML_M + work.plugs * PRIMER_ML_PLUG,
    }  # fmt: skip


def _needed(kind: str, by_repair: dict[str, float], amount: float | None) -> Needed:
    total = sum(by_repair.values())
    ends = None
    if amount is not None:
        left = amount
        for repair, taken in by_repair.items():
            left -= taken
            if left < -1e-9:
                ends = repair
                break
    return Needed(
        kind=kind, unit=UNITS[kind], needed=round(total, DIGITS[kind]), in_stock=amount, ends_in=ends,
        lacking=round(max(0.0, total - (amount or 0.0)), DIGITS[kind]) if amount is not None else 0.0,
        by_repair={repair: round(taken, 3) for repair, taken in by_repair.items()}, words=_words(kind, total, amount, ends),
    )  # fmt: skip


def _words(kind: str, total: float, amount: float | None, ends: str | None) -> Said:
    name = Said(WORDS[kind])
    if total <= 0:
        return Said("{name}: none of it is needed.", name=name)
    if amount is None:
        return Said("{name}: how much there is is not known.", name=name)
    if ends is not None:
        return Said("{name} ends in {repair}.", name=name, repair=Quoted(ends))
    return Said("{name} lasts for all of it.", name=name)


def seam_words(mm: float) -> Said:
    """A length of weld in a line."""
    return Said("{length} of seam", length=Metres(mm, 2))


def bottle_left(readings: Sequence[float], *, litres: float, full_bar: float) -> float:
    """What a bottle still holds, litres, by the last reading of its gauge.

    Args: readings: bar, in order; litres: of gas in a full one; full_bar: what its gauge shows then.
    Raises: BadField for a reading above a full bottle by a tenth.

    >>> bottle_left([200, 90], litres=2000, full_bar=200)
    900.0
    """
    if readings and readings[-1] > 1.1 * full_bar:
        raise BadField("The gauge shows more than a full bottle.", "bar", "Read it again, with the tap open.")
    share = readings[-1] / full_bar if readings else 1.0
    return round(litres * max(0.0, share), 1)
