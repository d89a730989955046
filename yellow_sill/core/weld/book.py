"""The settings book: what was proved on a coupon on this machine, else a starting point, each shifted by what went wrong since, with the reason."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Count, Day, Listed, Mm, Quoted, Said
from .settings import MOST_MM, Figure, StartingSetting, starting_setting

#: A coupon is of the same sheets within this, mm; a shift for each note, and at most, as a share of the current or feed.
SAME_MM, SHIFT, MOST_SHIFT = 0.05, 0.06, 0.18
#: What each kind of result says.
RESULTS = {"held": "held", "failed": "tore out", "blew": "blew through", "cold": "lay cold"}
#: Which dials are turned down where it blows through and up where it lies cold.
TURNED = ("Current", "Feed", "Time")
_Thickness = Annotated[float, Field(gt=0, le=MOST_MM)]


class Coupon(Record):
    """A joint tried on scrap.

    Attributes:
        thicknesses_mm: the sheets from this side inwards, all of them; result: held (bent or peeled, the sheet tore first), failed, blew, cold.
        dials: what the machine was set to, by the names of the starting figures.
    """

    number: Annotated[int, Field(ge=1)]
    process: Literal["mig", "tig", "spot", "braze"]
    joint: Literal["butt", "lap", "joggle", "plug"]
    thicknesses_mm: Annotated[list[_Thickness], Field(min_length=1, max_length=5)]
    gap_mm: Annotated[float, Field(ge=0, le=10)] | None = None
    wire_mm: Annotated[float, Field(ge=0.3, le=3)] | None = None
    dials: dict[Annotated[str, Field(max_length=40)], Annotated[str, Field(max_length=40)]] = {}
    result: Literal["held", "failed", "blew", "cold"]
    made_on: date


class WentWrong(Record):
    """What happened on the vehicle with a setting since: blown through or cold."""

    what: Literal["blew", "cold"]
    on: date


class BookRequest(Record):
    """A joint to be made, the coupons of this machine, and what went wrong with this joint since."""

    process: Literal["mig", "tig", "spot", "braze"]
    joint: Literal["butt", "lap", "joggle", "plug"]
    thicknesses_mm: Annotated[list[_Thickness], Field(min_length=1, max_length=5)]
    coupons: Annotated[list[Coupon], Field(max_length=400)] = []
    since: Annotated[list[WentWrong], Field(max_length=2000)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class BookSetting:
    """What to set.

    Attributes:
        proved: the coupon's number, None where none is of these sheets; dials: as that coupon was set; start: the starting point, shifted.
        shift: of its current, as a share; reasons: for the shift; near: coupons of other sheets, which prove nothing here.
    """

    proved: int | None
    dials: dict[str, str]
    start: StartingSetting
    shift: float
    reasons: list[Said | str]
    near: list[int]
    words: Said


def book_setting(request: BookRequest) -> BookSetting:
    """The setting for a joint: proved on the same sheets, else a starting point.

    Args: request: see BookRequest.
    Returns: the last coupon of the same process, joint and sheets that held; a coupon of other sheets is never offered as proof.
    Raises: BadField: a process that cannot make the joint, a sheet out of range.
    Source: rules of thumb, docs/methods.md section 5.
    """
    start = starting_setting(request.process, request.joint, min(request.thicknesses_mm))
    alike = [
        each for each in request.coupons if (each.process, each.joint) == (request.process, request.joint)
    ]
    same = sorted(
        (each for each in alike if _same(each, request.thicknesses_mm)),
        key=lambda each: (each.made_on, each.number),
    )
    held = [each for each in same if each.result == "held"]
    proved = held[-1] if held and not _failed_since(held[-1], same) else None
    since = proved.made_on if proved else None
    wrong = [each.what for each in request.since if since is None or each.on >= since]
    wrong += [
        each.result
        for each in same
        if each.result in ("blew", "cold") and (since is None or each.made_on > since)
    ]
    shift, reasons = _shifted(wrong)
    near = sorted({each.number for each in alike if each not in same and each.result == "held"})
    return BookSetting(
        proved=proved.number if proved else None, dials=dict(proved.dials) if proved else {}, start=_turned(start, shift), shift=shift, reasons=reasons,
        near=near, words=_words(request, proved, near, shift),
    )  # fmt: skip


def _same(coupon: Coupon, thicknesses: Sequence[float]) -> bool:
    """Whether a coupon is of the same sheets, either side up."""
    if len(coupon.thicknesses_mm) != len(thicknesses):
        return False
    ways = (list(thicknesses), list(thicknesses)[::-1])
    return any(
        all(abs(a - b) <= SAME_MM for a, b in zip(coupon.thicknesses_mm, way, strict=True)) for way in ways
    )


def _failed_since(held: Coupon, same: Sequence[Coupon]) -> bool:
    """Whether a later coupon of the same sheets failed at the same setting."""
    return any(
        each.result != "held"
        and each.dials == held.dials
        and (each.made_on, each.number) > (held.made_on, held.number)
        for each in same
    )


def _shifted(wrong: Sequence[str]) -> tuple[float, list[Said | str]]:
    blew, cold = wrong.count("blew"), wrong.count("cold")
    shift = max(-MOST_SHIFT, min(MOST_SHIFT, SHIFT * (cold - blew)))
    reasons: list[Said | str] = []
    if blew:
        reasons.append(
            Said(
                "{count} blown through since: colder, or shorter.",
                count=Count(blew, "tack was", "tacks were"),
            )
        )
    if cold:
        reasons.append(Said("{count} cold since: hotter.", count=Count(cold, "tack lay", "tacks lay")))
    if abs(SHIFT * (cold - blew)) > MOST_SHIFT:
        reasons.append("More than that is another fault: gap, dirt, earth clamp, wire.")
    return round(shift, 3), reasons


def _turned(start: StartingSetting, shift: float) -> StartingSetting:
    """A starting point with its dials turned; the heat follows the current."""
    if not shift:
        return start
    figures = tuple(
        Figure(label=each.label, value=round(each.value * (1 + shift), each.digits), unit=each.unit, digits=each.digits) if each.label in TURNED else each
        for each in start.figures
    )  # fmt: skip
    return replace(start, figures=figures, tack_energy_j=round(start.tack_energy_j * (1 + shift)))


def _words(request: BookRequest, proved: Coupon | None, near: Sequence[int], shift: float) -> Said:
    sheets = Listed(
        tuple(Mm(t, bare=i < len(request.thicknesses_mm) - 1) for i, t in enumerate(request.thicknesses_mm)),
        " + ",
    )
    turned = (
        Said(" Turned by {share:+.0f} % for what went wrong since.", share=100 * shift) if shift else Said("")
    )
    if proved:
        return Said(
            "Proved on coupon {number}, {day}, {sheets}.{turned}",
            number=proved.number,
            day=Day(proved.made_on),
            sheets=sheets,
            turned=turned,
        )
    coupons = Said(
        "Coupon {names} is" if len(near) == 1 else "Coupons {names} are", names=Listed(tuple(near))
    )
    other = (
        Said(" {coupons} of other sheets or layers: no proof here.", coupons=coupons) if near else Said("")
    )
    return Said(
        "Not proved on {sheets}: a starting point only.{other}{turned}",
        sheets=sheets,
        other=other,
        turned=turned,
    )


class SpotWelder(Record):
    """A resistance welder: how far its arms reach in from the edge, how thick a stack and how many sheets it takes."""

    reach_mm: Annotated[float, Field(gt=0, le=2000)]
    most_mm: Annotated[float, Field(gt=0, le=12)] = 3.0
    most_layers: Annotated[int, Field(ge=2, le=5)] = 3
    timer_cycles: Annotated[int, Field(ge=1, le=200)] | None = None


class SpotPlace(Record):
    """A place of a row: its number; how far in from the edge that the arms come over; whether the arm behind has room (None: not known); gap between sheets."""

    number: Annotated[int, Field(ge=1)]
    in_mm: Annotated[float, Field(ge=0, le=5000)]
    behind_free: bool | None = None
    gap_mm: Annotated[float, Field(ge=0, le=20)] | None = None
    name: Annotated[str, Field(max_length=60)] = ""


class SpotRowRequest(Record):
    """A row for a resistance welder: the welder, the sheets, the places."""

    welder: SpotWelder
    thicknesses_mm: Annotated[list[_Thickness], Field(min_length=2, max_length=5)]
    places: Annotated[list[SpotPlace], Field(min_length=1, max_length=400)]


@dataclass(frozen=True, slots=True, kw_only=True)
class NotSpotted:
    """A place that cannot be spotted, why, and what to do there."""

    number: int
    why: Said | str
    do: Said | str


@dataclass(frozen=True, slots=True, kw_only=True)
class SpotRowTold:
    """Which places are spotted, which are not, which nobody can tell; the timer for the stack, cycles; contact gap allowed, mm."""

    spotted: list[int]
    refused: list[NotSpotted]
    unknown: list[int]
    timer_cycles: int
    most_gap_mm: float
    words: Said


#: Sheets that do not lie on each other within this share of the thinner one spit and make no nugget.
CONTACT_SHARE = 0.1


def spot_row(request: SpotRowRequest) -> SpotRowTold:
    """Which places of a row a resistance welder can make, and what to do at the others.

    Args: request: see SpotRowRequest.
    Raises: BadField: a place twice.
    Source: rules of thumb, docs/methods.md section 5.
    """
    numbers = [each.number for each in request.places]
    if len(set(numbers)) < len(numbers):
        raise BadField("A place of the row is there twice.", "places", "Number them along the row.")
    welder, thin = request.welder, min(request.thicknesses_mm)
    most_gap = round(max(0.1, CONTACT_SHARE * thin), 2)
    stack = _stack_fault(request)
    refused, unknown, spotted = [], [], []
    for place in request.places:
        why: Said | str = stack
        do: Said | str = "Drill the top sheet and plug it."
        if not why and place.in_mm > welder.reach_mm:
            why = Said(
                "it lies {deep} in, the arms reach {reach}", deep=Mm(place.in_mm), reach=Mm(welder.reach_mm)
            )
        elif not why and place.behind_free is False:
            why = "the arm behind has no room"
        elif not why and place.gap_mm is not None and place.gap_mm > most_gap:
            why = Said("the sheets stand {gap} apart", gap=Mm(place.gap_mm))
            do = Said("Clamp it to {most} or less, else plug it.", most=Mm(most_gap))
        if why:
            refused.append(NotSpotted(number=place.number, why=why, do=do))
        elif place.behind_free is None or place.gap_mm is None:
            unknown.append(place.number)
        else:
            spotted.append(place.number)
    cycles = round(8 * sum(request.thicknesses_mm) / 2)
    return SpotRowTold(
        spotted=spotted, refused=refused, unknown=unknown, timer_cycles=welder.timer_cycles or cycles, most_gap_mm=most_gap,
        words=_row_words(len(spotted), len(refused), len(unknown)),
    )  # fmt: skip


def _stack_fault(request: SpotRowRequest) -> Said | str:
    layers, total = len(request.thicknesses_mm), sum(request.thicknesses_mm)
    if layers > request.welder.most_layers:
        return Said("{layers} sheets: it takes {most}", layers=layers, most=request.welder.most_layers)
    if total > request.welder.most_mm + 1e-9:
        return Said(
            "{total} of steel: it takes {most}", total=Mm(round(total, 2)), most=Mm(request.welder.most_mm)
        )
    return ""


def _row_words(spotted: int, refused: int, unknown: int) -> Said:
    return Said(
        "{spotted} can be spotted, {refused} cannot, of {unknown} it is not known.", spotted=spotted, refused=refused, unknown=unknown
    )  # fmt: skip


def named(coupon: Coupon) -> Said:
    """A coupon in a line."""
    sheets = Listed(
        tuple(Mm(t, bare=i < len(coupon.thicknesses_mm) - 1) for i, t in enumerate(coupon.thicknesses_mm)),
        " + ",
    )
    return Said(
        "Coupon {number}: {sheets}, {result}",
        number=coupon.number,
        sheets=sheets,
        result=Said(RESULTS[coupon.result]) if coupon.result in RESULTS else Quoted(coupon.result),
    )
