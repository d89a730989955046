"""Old spot welds over all sheets: one nugget is one thing with its sheets, whichever panel's row it is read from."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from shapely import STRtree, contains_xy, points, prepare
from shapely.geometry import LineString, MultiLineString, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from .release import Release, release_of
from .rows import SpotRow
from .spots import REACH_MM, RowPlan
from .stretches import MEETS_MM, ROW_REACH_MM, flange_welds

#: Nuggets of two rows this near to each other are one, mm.
SAME_MM = 4.0


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetRows:
    """A sheet by its code, with its rows (the sheets of each from this one inwards, by their codes) and what was planned of them."""

    code: str
    rows: Sequence[SpotRow]
    plans: Sequence[RowPlan]


@dataclass(frozen=True, slots=True, kw_only=True)
class Released:
    """Nuggets of one row that come apart in one way.

    Attributes:
        code: the outermost sheet that goes; row: the row of the outermost sheet they join; plan: what was planned of all of it.
        at: places, mm; release: how they come apart, by which of their sheets go just there; new: welds to make there.
        share: their share of the row.
    """

    code: str
    row: SpotRow
    plan: RowPlan
    at: list[list[float]]
    release: Release
    new: int
    share: float


class SharedRows:
    """The nuggets of several sheets, the outermost sheet first, each once."""

    def __init__(self, sheets: Sequence[SheetRows]) -> None:
        self.codes = [sheet.code for sheet in sheets]
        places: list[list[float]] = []
        self._rows: list[tuple[SpotRow, RowPlan]] = []
        self._row_of: list[int] = []
        self._joins: list[set[str]] = []
        for sheet in sheets:
            for row, plan in zip(sheet.rows, sheet.plans, strict=True):
                known = self._known(places, [nugget.at for nugget in plan.nuggets])
                for k, nugget in enumerate(plan.nuggets):
                    if k in known:  # the same weld, read from a sheet further in
                        self._joins[known[k]].add(sheet.code)
                        continue
                    places.append(nugget.at)
                    self._row_of.append(len(self._rows))
                    self._joins.append({sheet.code} | {each.code for each in row.sheets if each.code})
                self._rows.append((row, plan))
        self._at = np.array(places, float).reshape(-1, 2)
        self._member = np.array(
            [[code in joins for code in self.codes] for joins in self._joins], bool
        ).reshape(-1, len(self.codes))

    @staticmethod
    def _known(places: Sequence[Sequence[float]], more: Sequence[Sequence[float]]) -> dict[int, int]:
        if not places:
            return {}
        new, old = STRtree(points(np.array(places, float))).query(
            points(np.array(more, float)), predicate="dwithin", distance=SAME_MM
        )
        return dict(zip(new.tolist(), old.tolist(), strict=True))

    def released(self, gone: Mapping[str, BaseGeometry]) -> list[Released]:
        """What comes apart with pieces cut out.

        Args: gone: by sheet's code, the region whose nuggets let go there, mm.
        Returns: groups in the order of their outermost sheets and rows, along each row; every nugget in one group only.
        """
        goes = np.zeros_like(self._member)
        for column, code in enumerate(self.codes):
            if code in gone and len(self._at):
                prepare(gone[code])
                goes[:, column] = self._member[:, column] & contains_xy(gone[code], self._at)
        groups: dict[tuple[int, int, tuple[bool, ...]], list[int]] = {}
        for k in np.flatnonzero(goes.any(axis=1)).tolist():
            row, _ = self._rows[self._row_of[k]]
            off = {code for code, out in zip(self.codes, goes[k], strict=True) if out}
            pattern = tuple(each.code not in off if each.code else each.stays for each in row.sheets)
            groups.setdefault((int(np.argmax(goes[k])), self._row_of[k], pattern), []).append(k)
        return [
            self._group(*key, members)
            for key, members in sorted(groups.items(), key=lambda item: (item[0][0], item[1][0]))
        ]

    def _group(self, column: int, row_at: int, pattern: tuple[bool, ...], members: list[int]) -> Released:
        row, plan = self._rows[row_at]
        share = len(members) / len(plan.nuggets)
        sheets = [
            sheet.model_copy(update={"stays": stays})
            for sheet, stays in zip(row.sheets, pattern, strict=True)
        ]
        release = release_of(row.model_copy(update={"sheets": sheets}), len(members))
        return Released(
            code=self.codes[column], row=row, plan=plan, at=self._at[members].tolist(), release=release,
            new=max(len(members), round(plan.new.count * share)), share=share,
        )  # fmt: skip


def taken_out(outlines: Sequence[Sequence[Sequence[float]]]) -> BaseGeometry:
    """What cuts take out of a panel, as one shape."""
    return unary_union([Polygon(outline) for outline in outlines])


def reach_of(taken: BaseGeometry) -> BaseGeometry:
    """Where spot welds let go with what is taken out: a row this near is released too."""
    return taken.buffer(REACH_MM)


def met_edge(
    panel: Sequence[Sequence[float]],
    meets: Sequence[Sequence[Sequence[float]]],
    rows: Sequence[Sequence[Sequence[float]]],
) -> BaseGeometry:
    """A panel's edge as far as it is a flange on a neighbour that no known row of spot welds joins."""
    rim = Polygon(panel).exterior
    near = [line for line in map(LineString, meets) if line.dwithin(rim, MEETS_MM)]
    if not near:
        return MultiLineString()
    taken = unary_union([LineString(path).buffer(ROW_REACH_MM) for path in rows])
    return unary_union([rim.intersection(line.buffer(MEETS_MM)) for line in near]).difference(taken)


def unseen_welds(sheets: Sequence[tuple[BaseGeometry, BaseGeometry]]) -> list[tuple[int, float]]:
    """Spot welds that nobody has seen but that a flange must have: for each sheet about how many, and over how long, mm.

    Args: sheets: what is cut out of each, and its ``met_edge``, the outermost first; a flange that two sheets share counts once.
    """
    told: list[tuple[int, float]] = []
    counted: BaseGeometry = MultiLineString()
    for cut, met in sheets:
        here = (
            met.intersection(cut.buffer(MEETS_MM))
            if not met.is_empty and not cut.is_empty
            else MultiLineString()
        )
        if not counted.is_empty:
            here = here.difference(counted.buffer(ROW_REACH_MM))
        length = float(here.length)
        told.append((flange_welds(length) if length else 0, length))
        counted = counted.union(here)
    return told
