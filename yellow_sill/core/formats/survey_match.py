"""A table of findings laid beside those that are there: what is new, changed, the same, and what is gone from the table."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from ..said import Said
from .survey_tables import FindingRow, evidence_cell

#: Corners that lie this near are the same, mm.
SAME_CORNER_MM = 0.05


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownFinding:
    """A finding as it stands: what the table would say of it now."""

    number: int
    view: str
    panel: str
    name: str
    stage: str
    day: str
    corners: Sequence[Sequence[float]]
    evidence: str
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangedRow:
    """A row that tells something else of a finding than what is there: which, and in which of its columns."""

    row: FindingRow
    known: KnownFinding
    columns: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class Matched:
    """What a table brings. ``doubts`` are words on rows whose number belongs to something else here."""

    new: list[FindingRow] = field(default_factory=list)
    changed: list[ChangedRow] = field(default_factory=list)
    same: list[int] = field(default_factory=list)
    gone: list[KnownFinding] = field(default_factory=list)
    doubts: list[str] = field(default_factory=list)

    @property
    def asks(self) -> bool:
        """Whether a person must say what is to be done: something that the table tells of is there already."""
        return bool(self.changed or self.same or self.doubts)


def matched(rows: Sequence[FindingRow], known: Sequence[KnownFinding]) -> Matched:
    """Lay rows beside the findings that are there.

    A row is a finding's own by its number and its panel; without a number by panel, name and corners.

    Args: rows: as read; known: the vehicle's findings.
    """
    by_number = {each.number: each for each in known}
    told = Matched()
    seen: set[int] = set()
    for row in rows:
        mine = (
            by_number.get(row.number)
            if row.number is not None
            else next((each for each in known if _is(row, each)), None)
        )
        if mine is not None and mine.panel != row.panel:
            told.doubts.append(
                Said(
                    "Row {row}: finding {number} is on {panel} here, on {panel2} in the table. It would be taken in as a new one.",
                    row=row.row,
                    number=row.number,
                    panel=mine.panel,
                    panel2=row.panel,
                )
            )
            mine = None
        if mine is None or mine.number in seen:
            told.new.append(row)
            continue
        seen.add(mine.number)
        columns = _differs(row, mine)
        if columns:
            told.changed.append(ChangedRow(row=row, known=mine, columns=columns))
        else:
            told.same.append(mine.number)
    told.gone.extend(each for each in known if each.number not in seen)
    return told


def _is(row: FindingRow, known: KnownFinding) -> bool:
    return (row.view, row.panel, row.name) == (known.view, known.panel, known.name) and _same_corners(
        row, known
    )


def _differs(row: FindingRow, known: KnownFinding) -> list[str]:
    told = {
        "name": row.name != known.name,
        "note": row.note != known.note,
        "corners": not _same_corners(row, known),
    }
    told["stage"] = row.stage != known.stage
    told["day"] = row.day is not None and row.day.isoformat() != known.day
    told["evidence"] = bool(row.evidence) and evidence_cell(row.evidence) != known.evidence
    return [name for name, differs in told.items() if differs]


def _same_corners(row: FindingRow, known: KnownFinding) -> bool:
    return len(row.corners) == len(known.corners) and all(
        abs(a - b) <= SAME_CORNER_MM
        for mine, other in zip(row.corners, known.corners, strict=True)
        for a, b in zip(mine, other, strict=True)
    )
