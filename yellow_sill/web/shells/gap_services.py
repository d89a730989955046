"""Hung parts and the gaps round them: which there are, rounds of gaps, what they say."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from yellow_sill.core.errors import BadField
from yellow_sill.core.said import Said
from yellow_sill.core.shell.gaps import (
    MOST_MM,
    Beside,
    GapsJudged,
    judge_gaps,
    left_beside_right,
    request_of,
    round_words,
)
from yellow_sill.core.shell.hung import HungPart, hung_parts
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.revision import by_revision

from .models import GapRound, HungWord, Vehicle
from .whole_services import body_of


@by_revision(2, "shells")
def parts_of(vehicle: Vehicle) -> list[HungPart]:
    """The vehicle's hung parts, hinged as a person said."""
    hinged = dict(vehicle.hung_words.exclude(hinged_at="").values_list("code", "hinged_at"))
    return hung_parts(body_of(vehicle), hinged)


@dataclass(frozen=True, slots=True, kw_only=True)
class PartGaps:
    """A hung part with its gaps in a round: whether it is off; its places with gap, nominal size and how it was before, mm; its judgement."""

    part: HungPart
    off: bool
    hinged_at: str
    rows: list["GapRow"]
    judged: GapsJudged


@dataclass(frozen=True, slots=True, kw_only=True)
class GapRow:
    """A place: its gap now and in the earlier round, what it should be, mm; as typed; whether it is out."""

    code: str
    name: str
    beside: str
    at: tuple[float, float]
    normal: tuple[float, float]
    gap_mm: float | None
    typed: str
    before_mm: float | None
    nominal_mm: float
    out: bool
    after_mm: float | None


def gaps_of(vehicle: Vehicle, round_: GapRound | None, before: GapRound | None = None) -> list[PartGaps]:
    """Every hung part with its gaps in a round, beside an earlier one."""
    words = {word.code: word for word in vehicle.hung_words.all()}
    gaps: Mapping[str, float] = round_.gaps_mm if round_ else {}
    typed = round_.typed if round_ else {}
    earlier: Mapping[str, float] = before.gaps_mm if before else {}
    found = []
    for part in parts_of(vehicle):
        word = words.get(part.code)
        own = word.nominal_mm if word else {}
        judged = judge_gaps(request_of(part, gaps, own))
        rows = [
            GapRow(
                code=place.code, name=place.name, beside=place.beside, at=place.at, normal=place.normal, gap_mm=gaps.get(place.code),
                typed=typed.get(place.code, ""), before_mm=earlier.get(place.code), nominal_mm=own.get(place.code, place.nominal_mm),
                out=place.code in judged.out, after_mm=judged.after_mm.get(place.code),
            )
            for place in part.places
        ]  # fmt: skip
        found.append(
            PartGaps(part=part, off=bool(word and word.off), hinged_at=word.hinged_at if word else "", rows=rows, judged=judged)
        )  # fmt: skip
    return found


def rounds_told(vehicle: Vehicle) -> list[tuple[GapRound, str]]:
    """Every round of gaps with what it says, beside the one before it."""
    found: list[tuple[GapRound, str]] = []
    for round_ in vehicle.gap_rounds.all():
        before = found[-1][0] if found else None
        judged = [(each.part, each.judged) for each in gaps_of(vehicle, round_)]
        words = round_words(judged, round_.gaps_mm, before and before.gaps_mm, before.name if before else "")
        found.append((round_, words))
    return found


def held_of(part: HungPart) -> list[tuple[str, str]]:
    """How a part may be held, each with its words; empty where nothing can be said."""
    return (
        [(value, words) for value, words in HungWord.HELD if value in ("", *part.held)] if part.held else []
    )


def measured_of(parts: list[PartGaps]) -> tuple[int, int]:
    """How many gaps are measured, and how many there are."""
    rows = [row for each in parts for row in each.rows]
    return sum(row.gap_mm is not None for row in rows), len(rows)


def sides_of(vehicle: Vehicle, round_: GapRound | None) -> list[Beside]:
    """Left doors beside right ones."""
    return left_beside_right(parts_of(vehicle), round_.gaps_mm if round_ else {})


@one_change
def start_round(vehicle: Vehicle, *, name: str, taken_on: date, note: str, by: str) -> GapRound:
    """A new round of gaps."""
    return GapRound.objects.create(
        vehicle=vehicle, name=name.strip(), taken_on=taken_on, note=note, changed_by=by
    )


@one_change
def keep_gaps(
    round_: GapRound,
    *,
    version: int | None,
    gaps_mm: Mapping[str, float | None],
    typed: Mapping[str, str],
    by: str,
) -> None:
    """Store the gaps of a round; a place left empty is not measured. Raises: ChangedMeanwhile, BadField."""
    kept = {code: gap for code, gap in gaps_mm.items() if gap is not None}
    for code, gap in kept.items():
        if not 0 <= gap <= MOST_MM:
            raise BadField(Said("A gap of {gap:g} mm is none.", gap=gap), code, "Read it again.")
    words = {code: text for code, text in typed.items() if code in kept}
    round_.save_as(version, by, gaps_mm=kept, typed=words)


@one_change
def drop_round(round_: GapRound, *, version: int | None, by: str) -> None:
    """Throw a round away. Raises: ChangedMeanwhile."""
    round_.require_version(version)
    round_.delete()


@one_change
def say_hung(vehicle: Vehicle, code: str, *, off: bool, hinged_at: str, by: str) -> None:
    """Whether a part is off, and how it is held. Raises: BadField for a part that this vehicle has not, a hinge where there is none."""
    part = next((part for part in parts_of(vehicle) if part.code == code), None)
    if part is None:
        raise BadField("There is no such part to hang.", "code", "Choose one that is drawn.")
    if hinged_at and hinged_at not in part.held:
        raise BadField(Said("{part} is not held that way.", part=part.name), "hinged_at", "Choose again.")
    word = vehicle.hung_words.filter(code=code).first() or HungWord(vehicle=vehicle, code=code)
    word.off, word.hinged_at = off, hinged_at
    word.save()
