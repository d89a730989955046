"""What came, held against the car before any old metal goes: does it fit, what must be done to it, or does it go back?"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field

from ..errors import BadField
from ..records import OneOf, Record
from ..said import Count, Day, Listed, Mm, Quoted, Said, joined
from .amount import CURRENCIES, Money
from .landed import Amount

#: What is on the metal as it comes, in words; "" is what nobody has tried.
COATINGS = {
    "": "nobody has tried", "bare": "bare", "weld-through": "weld-through primer", "transport": "transport paint", "electrocoat": "baked primer",
    "zinc": "zinc", "wax": "oil or wax",
}  # fmt: skip
#: Hours that each takes before it can be welded (rules of thumb), and what is done.
STRIP_H = {"bare": 0.0, "weld-through": 0.0, "transport": 1.5, "electrocoat": 0.3, "zinc": 0.3, "wax": 0.3}
STRIPPED = {
    "transport": "Take the transport paint off whole, inside too, and prime it: it protects nothing.",
    "electrocoat": "Grind the baked primer off where it is welded; elsewhere it stays.",
    "zinc": "Grind the zinc off where it is welded, with air and a mask: its smoke is harmful.",
    "wax": "Wash oil and wax off with a solvent, then look at what is beneath.",
}  # fmt: skip
#: How far it may be off and still fit; be made to fit; above that it goes back. mm; rules of thumb, docs/methods.md section 6.
SIZE_FITS, SIZE_LONG, SIZE_SHORT = 1.5, 25.0, 5.0
HOLE_FITS, HOLE_SLOT, HOLE_MOST = 1.0, 4.0, 25.0
RIB_FITS, RIB_MOST = 2.0, 6.0
BOW_FITS, BOW_MOST = 2.0, 8.0
#: Hours to trim a long one, to add to a short one, to slot a hole, to weld one up and drill it anew, to dress a rib, to straighten, to move a piece over.
HOURS = {
    "trim": 0.4,
    "add": 1.5,
    "slot": 0.2,
    "drill": 0.6,
    "rib": 2.0,
    "straighten": 1.5,
    "piece": 0.75,
}
ORDER = ("fits", "mend", "unknown", "back")
VERDICTS = {
    "fits": "it fits",
    "mend": "it can be made to fit",
    "unknown": "not everything is looked at",
    "back": "it goes back",
}

_Name = Annotated[str, Field(min_length=1, max_length=80)]
_Length = Annotated[float, Field(ge=0.1, le=20_000)]
_Place = Annotated[float, Field(ge=-20_000, le=20_000)]
_Off = Annotated[float, Field(ge=0, le=2000)]
#: "": nobody has said; "none": it fits either side, or there is only one.
Hand = Literal["", "left", "right", "none"]


class SizeChecked(Record):
    """A size that must fit, mm; ``came`` None: not measured."""

    what: _Name
    wanted: _Length
    came: _Length | None = None


class HoleChecked(Record):
    """A hole's place, mm: by tape from two marks that part and car have in common, or, without marks, along and up from a corner.

    ``came``: the same two on the part that came.
    """

    what: _Name
    wanted: Annotated[list[_Place], Field(min_length=2, max_length=2)]
    came: Annotated[list[_Place], Field(min_length=2, max_length=2)] | None = None


class ArrivalRequest(Record):
    """A part beside the car.

    Attributes:
        hand: the one that is wanted, came: the one that came ("" nobody has said);
        marks: distance of the two marks, mm, for holes by tape (None: places are typed).
        ribs: whether ribs and swages are asked, ribs_off: how far they are off at worst, mm; bow: how far it is from straight, mm. None: not looked at.
        missing: pieces that it should have and has not; None: not looked at. coating: see COATINGS.
        fit_factor: the own one on such hours; hour: worth of one; back, back_until: what sending it back costs, and the last day for it.
    """

    hand: Hand = ""
    came: Hand = ""
    sizes: Annotated[list[SizeChecked], Field(max_length=30)] = []
    marks: Annotated[float, Field(ge=10, le=20_000)] | None = None
    holes: Annotated[list[HoleChecked], Field(max_length=60)] = []
    ribs: bool = True
    ribs_off: _Off | None = None
    bow: _Off | None = None
    missing: Annotated[list[_Name], Field(max_length=30)] | None = None
    coating: Annotated[str, OneOf(COATINGS)] = ""
    fit_factor: Annotated[float, Field(gt=0, le=20)] = 1.0
    hour: Amount = Decimal(0)
    currency: Annotated[str, OneOf(CURRENCIES)] = "GBP"
    back: Amount | None = None
    back_until: date | None = None
    today: date


@dataclass(frozen=True, slots=True, kw_only=True)
class Difference:
    """One thing that was held against the car: what, its verdict (of ORDER), what to do about it in words, hours."""

    what: str
    verdict: str
    words: Said
    hours: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ArrivalTold:
    """The check: the worst verdict, what each thing showed, hours in all, what they are worth; ``days_left`` to send it back (None: no day is known)."""

    verdict: str
    differences: list[Difference]
    hours: float
    worth: Money
    days_left: int | None
    words: Said


def arrival(request: ArrivalRequest) -> ArrivalTold:
    """Whether what came fits.

    What was not looked at is unknown and never reads as fitting; more that is off never gives a better verdict.

    Args: request: see ArrivalRequest.
    Raises: BadField: distances from the marks that are not above 0 or do not meet.
    Source: rules of thumb, docs/methods.md section 6.
    """
    found = [*_told(request)]
    hours = round(sum(each.hours for each in found) * request.fit_factor, 2)
    verdict = max((each.verdict for each in found), key=ORDER.index)
    worth = Money(request.hour * Decimal(str(hours)), request.currency).rounded()
    left = (request.back_until - request.today).days if request.back_until else None
    return ArrivalTold(
        verdict=verdict,
        differences=found,
        hours=hours,
        worth=worth,
        days_left=left,
        words=_words(request, verdict, found, hours, worth, left),
    )


def _told(request: ArrivalRequest) -> Iterator[Difference]:
    yield _hand(request)
    if not request.sizes:
        yield _difference("Size", "unknown", Said("No size is measured: two at least, along and across."))
    for size in request.sizes:
        yield _size(size)
    for hole in request.holes:
        yield _hole(hole, request.marks)
    if request.ribs:
        yield _ribs(request.ribs_off)
    yield _bow(request.bow)
    yield from _missing(request.missing)
    yield _coating(request.coating)


def _difference(what: str, verdict: str, words: Said, hours: float = 0.0) -> Difference:
    return Difference(what=what, verdict=verdict, words=words, hours=hours)


def _hand(request: ArrivalRequest) -> Difference:
    if request.hand == "none":
        return _difference("Hand", "fits", Said("It has no hand."))
    if not request.came or not request.hand:
        missing = "which one came" if request.hand else "which one is wanted"
        return _difference("Hand", "unknown", Said("Nobody has said {what}.", what=missing))
    if request.came == request.hand:
        return _difference("Hand", "fits", Said("It is a {hand} one.", hand=request.hand))
    return _difference(
        "Hand",
        "back",
        Said("It is a {came} one; a {hand} one is wanted.", came=request.came, hand=request.hand),
    )


def _size(size: SizeChecked) -> Difference:
    if size.came is None:
        return _difference(size.what, "unknown", Said("Not measured; {wanted} is wanted.", wanted=Mm(size.wanted)))  # fmt: skip
    off = size.came - size.wanted
    if abs(off) <= SIZE_FITS:
        return _difference(size.what, "fits", Said("{off} off.", off=Mm(abs(off), 1)))
    if off > 0:
        if off <= SIZE_LONG:
            return _difference(
                size.what,
                "mend",
                Said("{off} too long: trim it on the car, last.", off=Mm(off, 1)),
                HOURS["trim"],
            )
        return _difference(
            size.what, "back", Said("{off} too long: likely for another body.", off=Mm(off, 1))
        )
    if -off <= SIZE_SHORT:
        return _difference(
            size.what,
            "mend",
            Said("{off} too short: weld a strip on, or move the joint.", off=Mm(-off, 1)),
            HOURS["add"],
        )
    return _difference(size.what, "back", Said("{off} too short.", off=Mm(-off, 1)))


def place_from(marks: float, distances: Sequence[float], where: str = "holes") -> tuple[float, float]:
    """A place from its distances to two marks: along the line from the first to the second, and square to it, mm.

    Raises: BadField where the two do not meet (by more than a tape's slip of 2 mm).
    """
    first, second = distances
    along = (first**2 - second**2 + marks**2) / (2 * marks)
    square = first**2 - along**2
    if square < 0:
        gap = max(abs(first - second) - marks, marks - first - second)
        if gap > 2.0:
            raise BadField(
                "The distances from the two marks do not meet.",
                where,
                "Measure them again, in the same order.",
            )
        square = 0.0
    return along, math.sqrt(square)


def _place(marks: float | None, figures: Sequence[float]) -> tuple[float, float]:
    if marks is None:
        return figures[0], figures[1]
    if min(figures) <= 0:
        raise BadField("A distance from a mark is above 0.", "holes", "Measure it again, from both marks.")
    return place_from(marks, figures)


def _hole(hole: HoleChecked, marks: float | None) -> Difference:
    wanted = _place(marks, hole.wanted)
    if hole.came is None:
        return _difference(hole.what, "unknown", Said("The place of this hole is not measured."))
    off = math.dist(wanted, _place(marks, hole.came))
    return _graded(hole.what, off, (
        (HOLE_FITS, "fits", Said("In its place, {off} off.", off=Mm(off, 1)), 0.0),
        (HOLE_SLOT, "mend", Said("{off} off: slot it, and cover the slot with a washer.", off=Mm(off, 1)), HOURS["slot"]),
        (HOLE_MOST, "mend", Said("{off} off: weld it up and drill it anew.", off=Mm(off, 1)), HOURS["drill"]),
    ), Said("{off} off: likely for another body or year.", off=Mm(off)))  # fmt: skip


def _graded(
    what: str, off: float, grades: Sequence[tuple[float, str, Said, float]], beyond: Said
) -> Difference:
    """How far something is off against what is still good. Args: grades: up to how far, verdict, words, hours; beyond: words where it goes back."""
    for most, verdict, words, hours in grades:
        if off <= most:
            return _difference(what, verdict, words, hours)
    return _difference(what, "back", beyond)


def _ribs(off: float | None) -> Difference:
    if off is None:
        return _difference("Ribs", "unknown", Said("Nobody has held its ribs and swages to the car's."))
    return _graded("Ribs", off, (
        (RIB_FITS, "fits", Said("They line up."), 0.0),
        (RIB_MOST, "mend", Said("{off} off at worst: dress them over a tool, slowly.", off=Mm(off, 1)), HOURS["rib"]),
    ), Said("{off} off: they will be seen for ever.", off=Mm(off, 1)))  # fmt: skip


def _bow(bow: float | None) -> Difference:
    if bow is None:
        return _difference(
            "Straightness", "unknown", Said("Nobody has laid it on a straight edge; new is not straight yet.")
        )
    return _graded("Straightness", bow, (
        (BOW_FITS, "fits", Said("{bow} from straight.", bow=Mm(bow, 1)), 0.0),
        (BOW_MOST, "mend", Said("{bow} from straight: straighten it before it is offered up.", bow=Mm(bow, 1)), HOURS["straighten"]),
    ), Said("{bow} from straight: it came bent.", bow=Mm(bow, 1)))  # fmt: skip


def _missing(missing: Sequence[str] | None) -> Iterator[Difference]:
    if missing is None:
        yield _difference("Missing", "unknown", Said("Nobody has looked what it comes without."))
        return
    if not missing:
        yield _difference("Missing", "fits", Said("Nothing is missing."))
    for each in missing:
        yield _difference(
            each,
            "mend",
            Said("Missing: save it from the old one before that is scrap, or make it."),
            HOURS["piece"],
        )


def _coating(coating: str) -> Difference:
    if not coating:
        return _difference(
            "Coating", "unknown", Said("Rub a hidden place with thinner: what comes off is transport paint.")
        )
    words = STRIPPED.get(coating)
    if words is None:
        return _difference("Coating", "fits", Said("{coating}.", coating=COATINGS[coating].capitalize()))
    return _difference("Coating", "mend", Said("{words}", words=words), STRIP_H[coating])


def _words(
    request: ArrivalRequest,
    verdict: str,
    found: Sequence[Difference],
    hours: float,
    worth: Money,
    left: int | None,
) -> Said:
    bad = tuple(Quoted(each.what) for each in found if each.verdict == verdict)
    begins = {
        "fits": Said("Nothing is off."),
        "mend": Said("{hours:.1f} h of work until it fits.", hours=hours),
        "unknown": Said("Still open: {what}.", what=Listed(bad)),
        "back": Said("Not to be mended: {what}.", what=Listed(bad)),
    }
    parts: list[str] = [begins[verdict]]
    if verdict == "mend" and request.back is not None and worth.amount > request.back:
        parts.append(
            Said("That is worth {worth}; sending it back costs {back}.", worth=str(worth), back=str(Money(request.back, request.currency)))
        )  # fmt: skip
    if verdict in ("mend", "back") and left is not None and request.back_until is not None:
        if left >= 0:
            parts.append(
                Said("It can go back until {day}: {left} left.", day=Day(request.back_until), left=Count(left, "day", "days"))
            )  # fmt: skip
        else:
            parts.append(Said("Since {day} it can no longer go back: make it fit, or sell it on.", day=Day(request.back_until)))  # fmt: skip
    elif verdict == "back":
        parts.append("Until when it can go back is not known: ask today.")
    return joined(parts)
