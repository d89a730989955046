"""Heat in a patch that is an island: panel edges, holes and the open gap are barriers, and a tack bridges the gap.

The endless plate of ``heat`` lets heat run away where there is no steel. Here the plate is cut into square cells; heat goes from cell to cell where no
barrier lies between them, by alternating directions, stable for any step (Peaceman and Rachford 1955). Straight edges alone have image sources.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.linalg import solve_banded
from shapely import contains_xy
from shapely.geometry import LineString, Polygon

from ..cut.asked import Thickness
from ..errors import BadField
from ..geometry import Xy, bounds_of, outline_polygon
from ..records import Corners, Point, Record
from ..said import DegC, Said
from ..steel import HEAT_CAPACITY_J_PER_MM3K
from .heat import CONDUCTIVITY_W_PER_MMK, SURFACE_LOSS, Isotherm, Plate, contoured, plate_c
from .tacks import MOVE_S, TACK_S, TackPlan

#: Cells along the longer side of what is looked at; metal round the patch that takes part, mm.
CELLS, ROUND_MM = 90, 80.0
#: After a tack the steps begin so short and grow by this to the longest, s.
FIRST_S, GROWS, LONGEST_S = 0.2, 1.35, 6.0
#: A wait is told to this, s; longer than this nobody waits.
WAIT_STEP_S, LONGEST_WAIT_S = 2.0, 900.0
MOST_TACKS = 2000
#: Less than this above the garage's warmth only fades, K.
STILL_C = 0.05


class IslandTack(Record):
    """A tack: where, and when it was or will be made, s from the beginning."""

    at: Point
    start_s: Annotated[float, Field(ge=0, le=1e6)]


class IslandRequest(Record):
    """A patch in its panel.

    Attributes:
        patch: its outline: the gap runs along it and is open but for its tacks; panel: the sheet round it (None: endless); holes in both.
        backing: copper behind the seam takes heat as blown air does; waits: each tack waits until its place is below the limit, and all after it with it.
    """

    patch: Corners
    panel: Corners | None = None
    holes: Annotated[list[Corners], Field(max_length=60)] = []
    tacks: Annotated[list[IslandTack], Field(min_length=1, max_length=MOST_TACKS)]
    thickness_mm: Thickness
    energy_j: Annotated[float, Field(gt=0, le=20_000)]
    cooling: Literal["still", "blown"] = "still"
    backing: bool = False
    ambient_c: Annotated[float, Field(ge=-40, le=60)] = 20.0
    limit_c: Annotated[float, Field(gt=0, le=400)] = 90.0
    waits: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class IslandHeat:
    """The heat of a patch, tack by tack: at each place just before its tack, as an island and in an endless plate, °C.

    ``over``: numbers of the tacks before which the place is above the limit as an island; ``kept_j``: heat still in the steel after the last tack;
    ``start_s``: when each is made, later than asked where it waits.
    """

    before_c: list[float]
    endless_c: list[float]
    hottest_c: float
    over: list[int]
    kept_j: float
    start_s: list[float]
    words: Said


def island_heat(request: IslandRequest) -> IslandHeat:
    """How hot a patch is before each of its tacks, its gap a barrier until they bridge it.

    Args: request: see IslandRequest.
    Raises: BadOutline; BadField: tacks out of order, or one that lies off the gap.
    Source: heat equation with surface loss on a grid; docs/methods.md section 5.
    """
    patch = outline_polygon(request.patch, "patch")
    starts = [tack.start_s for tack in request.tacks]
    if any(b < a for a, b in zip(starts, starts[1:], strict=False)):
        raise BadField(
            "The tacks are not in the order of their times.", "tacks", "Give them as they are made."
        )
    for number, tack in enumerate(request.tacks):
        if patch.exterior.distance(LineString([tack.at, tack.at])) > 5:
            raise BadField(
                Said("Tack {n} lies off the gap.", n=number + 1),
                f"tacks[{number}].at",
                "Give its place on the patch's edge.",
            )
    field = Grid.of(request, patch)
    now, before, late = 0.0, [], 0.0
    for number, tack in enumerate(request.tacks):
        field.run(tack.start_s + late - now)
        now = tack.start_s + late
        if request.waits:
            waited = field.wait(tack.at, request.limit_c)
            late, now = late + waited, now + waited
        starts[number] = now
        before.append(field.at(tack.at))
        field.put(tack.at, request.energy_j)
        field.bridge(tack.at)
    plate = Plate(
        thickness_mm=request.thickness_mm,
        energy_j=request.energy_j,
        cooling=request.cooling,
        ambient_c=request.ambient_c,
    )
    places = np.array([tack.at for tack in request.tacks], float)
    endless = [
        float(plate_c(plate, places[k : k + 1], places[:k], np.array(starts[:k]), starts[k] + 1e-3)[0])
        if k
        else request.ambient_c
        for k in range(len(places))
    ]
    over = [number for number, c in enumerate(before, start=1) if c > request.limit_c]
    return IslandHeat(
        before_c=[round(c, 1) for c in before], endless_c=[round(c, 1) for c in endless], hottest_c=round(max(before), 1), over=over,
        kept_j=round(field.kept_j, 1), start_s=[round(each, 1) for each in starts], words=_words(max(before), max(endless), over, request.limit_c),
    )  # fmt: skip


def _words(island: float, endless: float, over: Sequence[int], limit: float) -> Said:
    what = Said(
        "As an island {island} at most before a tack; an endless plate would have {endless}.",
        island=DegC(island),
        endless=DegC(endless),
    )
    if not over:
        return what
    return Said(
        "{what} Before tack {first} it is above {limit}: wait longer there.",
        what=what,
        first=over[0],
        limit=DegC(limit),
    )


class Grid:
    """A plate in square cells: warmth above the garage's, where steel is, and what lets heat pass between neighbours."""

    def __init__(
        self,
        bounds: Sequence[float],
        cell_mm: float,
        thickness_mm: float,
        loss_per_s: float,
        ambient_c: float,
    ) -> None:
        self.u0, self.v0 = bounds[0], bounds[1]
        self.cell, self.thickness, self.ambient = cell_mm, thickness_mm, ambient_c
        rows, columns = (
            math.ceil((bounds[3] - bounds[1]) / cell_mm),
            math.ceil((bounds[2] - bounds[0]) / cell_mm),
        )
        self.rise = np.zeros((rows, columns))
        self.steel = np.ones((rows, columns), bool)
        #: Whether heat passes from a cell to the one at its right, and to the one above it.
        self.right, self.above = np.ones((rows, columns - 1), bool), np.ones((rows - 1, columns), bool)
        self.pace = CONDUCTIVITY_W_PER_MMK / HEAT_CAPACITY_J_PER_MM3K / cell_mm**2
        self.loss = loss_per_s
        self.inside = np.zeros((rows, columns), bool)

    @classmethod
    def of(cls, request: IslandRequest, patch: Polygon) -> "Grid":
        """The grid of a patch in its panel."""
        u0, v0, u1, v1 = bounds_of(request.patch)
        cell = max(u1 - u0, v1 - v0) / CELLS + 2 * ROUND_MM / CELLS
        loss = (
            2
            * SURFACE_LOSS["blown" if request.backing else request.cooling]
            / (HEAT_CAPACITY_J_PER_MM3K * request.thickness_mm)
        )
        grid = cls(
            (u0 - ROUND_MM, v0 - ROUND_MM, u1 + ROUND_MM, v1 + ROUND_MM),
            cell,
            request.thickness_mm,
            loss,
            request.ambient_c,
        )
        uu, vv = grid.middles
        grid.inside = contains_xy(patch, uu, vv)
        if request.panel is not None:
            panel = outline_polygon(request.panel, "panel")
            grid.steel &= contains_xy(panel, uu, vv) | grid.inside
        for number, hole in enumerate(request.holes):
            grid.steel &= ~contains_xy(outline_polygon(hole, f"holes[{number}]"), uu, vv)
        across = grid.inside
        grid.right &= grid.steel[:, 1:] & grid.steel[:, :-1] & (across[:, 1:] == across[:, :-1])
        grid.above &= grid.steel[1:] & grid.steel[:-1] & (across[1:] == across[:-1])
        return grid

    @property
    def middles(self) -> tuple[np.ndarray, np.ndarray]:
        """Where the middles of the cells are, mm."""
        rows, columns = self.rise.shape
        return np.meshgrid(
            self.u0 + (np.arange(columns) + 0.5) * self.cell, self.v0 + (np.arange(rows) + 0.5) * self.cell
        )

    @property
    def kept_j(self) -> float:
        """Heat in the steel above the garage's, J."""
        return float(self.rise[self.steel].sum()) * HEAT_CAPACITY_J_PER_MM3K * self.cell**2 * self.thickness

    def _cell(self, at: Xy) -> tuple[int, int]:
        rows, columns = self.rise.shape
        return (
            min(rows - 1, max(0, int((at[1] - self.v0) / self.cell))),
            min(columns - 1, max(0, int((at[0] - self.u0) / self.cell))),
        )

    def _near(self, at: Xy) -> list[tuple[int, int]]:
        """Cells with steel on both sides of a place: its own, and its neighbours."""
        i, j = self._cell(at)
        rows, columns = self.rise.shape
        return [
            (a, b)
            for a in range(max(0, i - 1), min(rows, i + 2))
            for b in range(max(0, j - 1), min(columns, j + 2))
            if self.steel[a, b]
        ]

    def at(self, place: Xy) -> float:
        """How warm it is round a place, °C: the warmer of both sides of the gap."""
        near = self._near(place)
        sides = [[self.rise[cell] for cell in near if self.inside[cell] == side] for side in (True, False)]
        return self.ambient + max((float(np.mean(side)) for side in sides if side), default=0.0)

    def put(self, place: Xy, energy_j: float) -> None:
        """A tack's heat into the cells round it, equally."""
        near = self._near(place)
        if near:
            share = energy_j / len(near) / (HEAT_CAPACITY_J_PER_MM3K * self.cell**2 * self.thickness)
            for cell in near:
                self.rise[cell] += share

    def bridge(self, place: Xy) -> None:
        """A tack lets heat pass over the gap round it."""
        cells = set(self._near(place))
        for i, j in cells:
            if (i, j + 1) in cells:
                self.right[i, j] = True
            if (i + 1, j) in cells:
                self.above[i, j] = True

    def run(self, seconds: float) -> None:
        """Let time go by."""
        step = FIRST_S
        while seconds > 1e-9:
            if float(np.abs(self.rise).max()) < STILL_C and self.loss > 0:
                self.rise *= math.exp(-self.loss * seconds)
                return
            now = min(step, seconds)
            self._step(now)
            seconds -= now
            step = min(step * GROWS, LONGEST_S)

    def wait(self, place: Xy, limit_c: float) -> float:
        """Let time go by until a place is below a limit; so long, s, LONGEST_WAIT_S at most."""
        waited = 0.0
        while self.at(place) > limit_c and waited < LONGEST_WAIT_S:
            self.run(WAIT_STEP_S)
            waited += WAIT_STEP_S
        return waited

    def _step(self, dt: float) -> None:
        """One step by alternating directions: half along the rows, half along the columns; the loss exactly."""
        half = self.pace * dt / 2
        middle = _swept(self.rise + half * self._flow(self.rise, across=True), self.right, half)
        self.rise = _swept(
            (middle + half * self._flow(middle, across=False)).T, self.above.T, half
        ).T * math.exp(-self.loss * dt)

    def _flow(self, rise: np.ndarray, *, across: bool) -> np.ndarray:
        """What flows into each cell from its neighbours, along the columns (``across``) or the rows."""
        flow = np.zeros_like(rise)
        if across:
            passed = np.diff(rise, axis=0) * self.above
            flow[:-1] += passed
            flow[1:] -= passed
        else:
            passed = np.diff(rise, axis=1) * self.right
            flow[:, :-1] += passed
            flow[:, 1:] -= passed
        return flow


def _swept(rise: np.ndarray, passes: np.ndarray, half: float) -> np.ndarray:
    """Solve (1 - half * flow) x = rise along every row at once: the rows in one chain, nothing passing from one to the next."""
    rows, columns = rise.shape
    joined = np.zeros((rows, columns))
    joined[:, :-1] = passes * half
    link = joined.ravel()
    left = np.concatenate([[0.0], link[:-1]])
    bands = np.zeros((3, link.size))
    bands[0, 1:] = -link[:-1]
    bands[1] = 1 + link + left
    bands[2, :-1] = -link[:-1]
    return solve_banded((1, 1), bands, rise.ravel(), check_finite=False).reshape(rows, columns)


def imaged_c(
    plate: Plate,
    at: Xy,
    tacks: Sequence[Xy],
    started_s: Sequence[float],
    now_s: float,
    edges: Sequence[tuple[Xy, Xy]],
) -> float:
    """How warm a place of a plate with one straight edge, or two that stand square on each other, is, °C: by image sources.

    Args: edges: each by two of its places; heat does not pass.
    Raises: BadField for more than two edges.
    Source: method of images (Carslaw and Jaeger, section 10.10).
    """
    if len(edges) > 2:
        raise BadField(
            "Images are told for one edge, or for two that stand square.",
            "edges",
            "Take the grid for the rest.",
        )
    sources = [(*place, start) for place, start in zip(tacks, started_s, strict=True)]
    for a, b in edges:
        sources += [(*_mirrored((u, v), a, b), start) for u, v, start in sources]
    places, starts = (
        np.array([source[:2] for source in sources], float),
        np.array([source[2] for source in sources]),
    )
    return float(plate_c(plate, np.array([at], float), places, starts, now_s)[0])


def _mirrored(place: Xy, a: Xy, b: Xy) -> Xy:
    """A place on the other side of a line."""
    du, dv = b[0] - a[0], b[1] - a[1]
    share = ((place[0] - a[0]) * du + (place[1] - a[1]) * dv) / (du * du + dv * dv)
    foot = (a[0] + share * du, a[1] + share * dv)
    return 2 * foot[0] - place[0], 2 * foot[1] - place[1]


def edged(plan: TackPlan, request: IslandRequest, move_s: float = MOVE_S) -> TackPlan:
    """A plan of tacks with the gap, edges and holes counted: the same order, later where a place is hotter than in an endless plate.

    Args: plan: as ``tack_order`` found it; request: the patch, its ``tacks`` those of the plan; move_s: to find the next place.
    Raises: as ``island_heat``.
    """
    told = island_heat(request.model_copy(update={"waits": True}))
    last, tacks = None, []
    for tack, start, before in zip(plan.tacks, told.start_s, told.before_c, strict=True):
        wait = 0.0 if last is None else max(0.0, start - last - TACK_S - move_s)
        tacks.append(replace(tack, start_s=start, wait_s=round(wait, 1), plate_C_before=before))
        last = start
    total = round(((last or 0.0) + TACK_S) / 60, 1)
    return replace(plan, tacks=tacks, total_min=total, hottest_before_tack_C=told.hottest_c)


def field_after(request: IslandRequest, after_s: float, bridged: Sequence[Xy] = ()) -> Grid:
    """The patch and the panel round it so long after its last tack. Args: bridged: tacks made long before, cold by now. Raises: as ``island_heat``."""
    patch = outline_polygon(request.patch, "patch")
    field, now = Grid.of(request, patch), 0.0
    for at in bridged:
        field.bridge(at)
    for tack in request.tacks:
        field.run(tack.start_s - now)
        now = tack.start_s
        field.put(tack.at, request.energy_j)
        field.bridge(tack.at)
    field.run(after_s)
    return field


def rings_above(field: Grid, levels_c: Mapping[str, float]) -> list[Isotherm]:
    """Contours of a field's temperature, coolest level first; where there is no steel there is no heat."""
    rows, columns = field.rise.shape
    us, vs = (
        field.u0 + (np.arange(columns) + 0.5) * field.cell,
        field.v0 + (np.arange(rows) + 0.5) * field.cell,
    )
    warm = np.where(field.steel, field.ambient + field.rise, field.ambient)
    return contoured(us, vs, warm, levels_c)
