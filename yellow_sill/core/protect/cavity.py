"""Wax for a closed box: how much, with which lance, from which openings, and what a bent brush reaches."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Listed, Mm, Quoted, Said, joined
from .closing import WAX_L_PER_M2

#: A lance throws so far past its tip, mm; a wire brush bent by hand reaches so far round a corner; tools that are usual, mm.
THROW_MM, BRUSH_MM, ROUND_CORNER_MM = 150.0, 250.0, 80.0
_Name = Annotated[str, Field(min_length=1, max_length=60)]


class CavityOpening(Record):
    """A way in: how far along the cavity from its beginning, its size across, mm."""

    name: _Name
    at_mm: Annotated[float, Field(ge=0, le=20_000)]
    across_mm: Annotated[float, Field(gt=0, le=2000)]
    round_corner: bool = False


class Lance(Record):
    """A lance or brush that the person owns: its length and thickness, mm."""

    name: _Name
    length_mm: Annotated[float, Field(gt=0, le=5000)]
    across_mm: Annotated[float, Field(gt=0, le=100)] = 8.0


class WaxRequest(Record):
    """A cavity: length, inner face, openings, and the lances there are."""

    name: _Name
    length_mm: Annotated[float, Field(gt=0, le=20_000)]
    area_m2: Annotated[float, Field(gt=0, le=100)]
    openings: Annotated[list[CavityOpening], Field(max_length=60)] = []
    lances: Annotated[list[Lance], Field(max_length=20)] = [
        Lance(name="hook nozzle", length_mm=150),
        Lance(name="lance", length_mm=900),
    ]


@dataclass(frozen=True, slots=True, kw_only=True)
class WaxStep:
    """From an opening with a lance, from where to where along the cavity, mm."""

    opening: str
    lance: str
    first_mm: float
    last_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WaxPlan:
    """Litres in all; the lance passes; stretches that nothing reaches; how far a bent brush reaches from each opening."""

    litres: float
    steps: list[WaxStep]
    missed_mm: list[list[float]]
    brush: dict[str, list[float]]
    words: Said


def cavity_wax(request: WaxRequest) -> WaxPlan:
    """How to wax a cavity, and what of it nothing reaches.

    Args: request: see WaxRequest.
    Raises: BadField: an opening beyond the cavity's end, or there twice.
    Source: a tenth of a millimetre on every face, half of it lost (rule of thumb); docs/methods.md section 10.
    """
    for number, opening in enumerate(request.openings):
        if opening.at_mm > request.length_mm + 1e-6:
            raise BadField(
                Said("{name} lies beyond the end of {cavity}.", name=Quoted(opening.name), cavity=Quoted(request.name)), f"openings[{number}].at_mm",
                Said("It is {length} long.", length=Mm(request.length_mm)),
            )  # fmt: skip
        if opening.name in [other.name for other in request.openings[:number]]:
            raise BadField(
                Said("'{name}' is there twice.", name=Quoted(opening.name)), f"openings[{number}].name"
            )
    steps, covered = [], []
    for opening in request.openings:
        fits = [each for each in request.lances if each.across_mm <= opening.across_mm]
        if not fits:
            continue
        lance = max(fits, key=lambda each: each.length_mm)
        reach = lance.length_mm + THROW_MM - (ROUND_CORNER_MM if opening.round_corner else 0.0)
        first, last = max(0.0, opening.at_mm - reach), min(request.length_mm, opening.at_mm + reach)
        steps.append(
            WaxStep(opening=opening.name, lance=lance.name, first_mm=round(first, 1), last_mm=round(last, 1))
        )
        covered.append((first, last))
    missed = _missed(covered, request.length_mm)
    brush = {
        each.name: [round(max(0.0, each.at_mm - BRUSH_MM), 1), round(min(request.length_mm, each.at_mm + BRUSH_MM), 1)]
        for each in request.openings
    }  # fmt: skip
    litres = round(WAX_L_PER_M2 * request.area_m2, 2)
    return WaxPlan(
        litres=litres,
        steps=steps,
        missed_mm=missed,
        brush=brush,
        words=_words(request, litres, steps, missed),
    )


def _missed(covered: Sequence[tuple[float, float]], length: float) -> list[list[float]]:
    """The stretches of a length that no pass covers, mm."""
    found, at = [], 0.0
    for first, last in sorted(covered):
        if first > at + 1:
            found.append([round(at, 1), round(first, 1)])
        at = max(at, last)
    if at < length - 1:
        found.append([round(at, 1), round(length, 1)])
    return found


def _words(request: WaxRequest, litres: float, steps: Sequence[WaxStep], missed: list[list[float]]) -> Said:
    name = Quoted(request.name)
    if not request.openings:
        return Said(
            "{name}: no opening is known. Find a bung, or drill one where the maker would.", name=name
        )
    if not steps:
        return Said("{name}: no lance goes through its openings.", name=name)
    start = Said(
        "{name}: {litres:g} l of wax, from {openings}.",
        name=name,
        litres=litres,
        openings=Listed(tuple(Quoted(each.opening) for each in steps)),
    )
    if not missed:
        return start
    spans = Listed(tuple(Said("{first} to {last}", first=Mm(a, bare=True), last=Mm(b)) for a, b in missed))
    return joined([start, Said("Nothing reaches {spans} from its beginning.", spans=spans)])
