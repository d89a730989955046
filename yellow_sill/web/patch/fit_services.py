"""The fit log of a patch: each offer-up with what was tapped, what it tells, the filler strips it asks for, and the step on the ribbon."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.formats.bench_drawings import filler_sketch
from yellow_sill.core.formats.dxf import dxf_file
from yellow_sill.core.formats.pdf import pattern_pdf
from yellow_sill.core.formats.svg import svg_file
from yellow_sill.core.patch.around import worst_gap_along
from yellow_sill.core.patch.fit import FitRequest, FitTold, fit
from yellow_sill.core.patch.tiles import tiling
from yellow_sill.core.said import Said
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.services import move_on_ribbon

from .models import FitOffer
from .services import developed_as_stored, patch_of

#: The ribbon's state before and after fitting.
BEFORE, AFTER = "made", "fitted"


@dataclass(frozen=True, slots=True, kw_only=True)
class Opening:
    """What a patch is offered up to: its outline, the edges that are butted, and those that are not judged by a gap."""

    outline: list[list[float]]
    edges: list[dict[str, Any]]
    others: list[dict[str, Any]]


def opening_of(cut: Cut) -> Opening:
    """Raises: CoreError."""
    result = developed_as_stored(cut)
    told: dict[bool, list[dict[str, Any]]] = {True: [], False: []}
    for edge in result.seen:
        butted = result.made[edge.name].treatment == "butt"
        told[butted].append({"name": edge.name, "path": [list(at) for at in edge.path]})
    return Opening(outline=result.opening, edges=told[True], others=told[False])


def offers_of(cut: Cut) -> list[FitOffer]:
    return list(cut.fit_offers.all())


def asked(cut: Cut, values: Mapping[str, Any]) -> FitRequest:
    """The judgement's input from an offer's fields. Raises: CoreError."""
    opening, patch = opening_of(cut), patch_of(cut)
    if not opening.edges:
        raise BadField(
            "No edge of this patch is butted: there is no gap to judge.",
            "gaps",
            "Lapped and flanged edges must lie on all along.",
        )
    gaps = [{"at": each["at"], "gap_mm": each["gap_mm"]} for each in values["gaps"]]
    return FitRequest.read(
        {
            "outline": opening.outline, "edges": opening.edges, "kept": opening.others, "gaps": gaps, "process": values["process"], "school": values["school"],
            "thickness_mm": patch.thickness_mm, "wanted_mm": patch.gap_mm if values["process"] == "mig" else 0.0,
        }
    )  # fmt: skip


def judged(cut: Cut, values: Mapping[str, Any]) -> FitTold:
    """Raises: CoreError."""
    return fit(asked(cut, values))


def gap_near(offer: FitOffer | None, path: Sequence[Sequence[float]]) -> float | None:
    """The worst gap that was tapped on an edge at an offer-up, mm; None where none was."""
    if offer is None:
        return None
    return worst_gap_along([(gap["at"], gap["gap_mm"]) for gap in offer.gaps], path)


def values_of(offer: FitOffer) -> dict[str, Any]:
    return {name: getattr(offer, name) for name in ("school", "process", "gaps", "note")}


@one_change
def keep_offer(
    cut: Cut, values: Mapping[str, Any], *, stored: FitOffer | None, version: int | None, today: date, by: str
) -> FitOffer:
    """Store an offer-up, a new one where ``stored`` is None. Raises: CoreError, ChangedMeanwhile."""
    judged(cut, values)
    if stored is not None:
        stored.save_as(version, by, **values)
        return stored
    number = FitOffer.next_number(cut=cut)
    return FitOffer.objects.create(cut=cut, number=number, offered_on=today, by=by, changed_by=by, **values)


@one_change
def drop_offer(offer: FitOffer, *, version: int | None) -> None:
    """Raises: ChangedMeanwhile."""
    offer.require_version(version)
    offer.delete()


def not_fitting(repair: Repair) -> list[str]:
    """Why a repair's patches are not known to fit, cut by cut; empty where the last offer-up of each fits."""
    found: list[str] = []
    for cut in repair.cuts.select_related("panel").order_by("number"):
        offer = cut.fit_offers.last()
        if offer is None:
            found.append(Said("Cut {number} was not offered up.", number=cut.number))
            continue
        try:
            told = judged(cut, values_of(offer))
        except CoreError as error:
            found.append(error.message)
            continue
        if not told.fits:
            found.append(Said("Cut {number}: {words}", number=cut.number, words=told.words))
    return found


def move_on(repair: Repair, *, version: int | None, today: date, by: str) -> None:
    """Record that the repair's patches are fitted. Raises: BadField where one is not known to fit; BadMove, ChangedMeanwhile."""
    if waiting := not_fitting(repair):
        raise BadField(waiting[0], "fit", "Offer it up until it fits; the ribbon's own page takes a reason.")
    move_on_ribbon(repair, AFTER, version=version, made_on=today, note="", by=by, today=today)


def strip_file(offer: FitOffer, name: str, form: str, paper: str) -> tuple[bytes, str, str]:
    """A filler strip's pattern: content, MIME type, file name. Raises: CoreError; KeyError for a strip that there is not."""
    told = judged(offer.cut, values_of(offer))
    strip = {each.name: each for each in told.fillers}[name]
    drawn, repair = filler_sketch(strip), offer.cut.repair
    file_name, title = (
        f"{repair.code}-{offer.cut.number}-strip-{name}.{form}",
        f"{repair.code}, cut {offer.cut.number}: filler strip {name}",
    )
    if form == "svg":
        return svg_file(drawn, title).encode(), "image/svg+xml", file_name
    if form == "dxf":
        return dxf_file(drawn).encode(), "application/dxf", file_name
    steel = patch_of(offer.cut).thickness_mm
    cells = [("Vehicle", str(repair.vehicle)), ("Steel, mm", f"{steel:g}"), ("Units", "mm")]
    notes = [str(strip.words), "Dots: the old edge, and the line to which the patch is cut back."]
    return (
        pattern_pdf(drawn, tiling(drawn.bounds(), paper), title, cells, notes),
        "application/pdf",
        file_name,
    )


def readings(at: Sequence[str], gaps: Sequence[str], lengths: Sequence[float | None]) -> list[dict[str, Any]]:
    """Tapped places with what was typed there. Args: at: "u v", mm. Raises: BadField for a place that is none."""
    found = []
    for place, typed, gap in zip(at, gaps, lengths, strict=True):
        if gap is None:
            continue
        try:
            u, v = (float(part) for part in place.split())
        except ValueError:
            raise BadField("A tapped place is not where it was.", "gaps", "Tap it again.") from None
        found.append({"at": [round(u, 2), round(v, 2)], "gap_mm": gap, "typed": typed.strip()})
    return found
