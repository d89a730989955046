"""Edges and seams: what each stretch of a sheet's outline is, as its drawing shows it and as a person corrects it."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field
from shapely import (
    STRtree,
    contains_xy,
    distance,
    line_locate_point,
    linearrings,
    linestrings,
    points,
    polygons,
)
from shapely.geometry import LineString

from ..errors import BadField
from ..records import Point, Record
from ..said import Mm, Said
from .file import ViewPart
from .form import DrawnView, drawn_line
from .lie import stem

#: What a stretch can be.
KINDS = {
    "free": "Free edge",
    "return": "Folded return",
    "hem": "Hem",
    "flange": "Flange with spot welds",
    "butt": "Butted seam",
    "lead": "Leaded seam",
    "braze": "Brazed seam",
    "bolt": "Bolted joint",
}
Kind = Literal["free", "return", "hem", "flange", "butt", "lead", "braze", "bolt"]
#: The outline is read at steps of this, mm; a neighbour meets it within the second, a row of spot welds within the third, a pressed lip within the fourth.
STEP_MM, MEETS_MM, ROW_MM, LIP_MM = 12.0, 2.5, 25.0, 26.0
#: Shorter stretches go with what lies beside them; a person's word counts for the stretch that passes within the second, mm.
LEAST_MM, SAID_MM = 30.0, 6.0
#: Fewer spot welds than this are no row.
LEAST_ROW = 3
#: A side of an outline shorter than this is no stretch of its own beside one of the same kind, mm.
SCRAP_MM = 80.0
#: A row runs along an edge where the cosine between them is at least this; an outline that turns by more than this has a corner, degrees.
ALONG, CORNER_DEG = 0.75, 40.0
#: Sheets that hang on hinges or bolts: a gap lies round them, their rim is closed by a hem; by code without side.
HUNG = ("DOOR", "DOORW", "BONNET", "LID", "TGATE", "DOORR", "DOORRW")
#: Seams that makers filled with lead as a rule, by the two codes without side (rule of thumb; the person corrects it).
LEADED = (
    {"ROOF", "QTR"}, {"ROOF", "APOST"}, {"QTR", "TAIL"}, {"QTR", "DECK"}, {"SCUTTLE", "APOST"}, {"BPOST", "SILL"}, {"APOST", "SILL"},
)  # fmt: skip
#: Which way returns turn that everybody makes the same way; others are not known.
TURNS = {"WING": "in", "QTR": "in", "BEDS": "in", "DOOR": "in", "BONNET": "in", "LID": "in", "TGATE": "in"}


class EdgeSaid(Record):
    """What a person said of a stretch: a place on it, what it is, and how it is made there."""

    at: Point
    kind: Kind
    meets: Annotated[list[Annotated[str, Field(max_length=20)]], Field(max_length=4)] = []
    height_mm: Annotated[float, Field(gt=0, le=200)] | None = None
    inside_radius_mm: Annotated[float, Field(ge=0, le=100)] | None = None
    direction: Literal["", "in", "out"] = ""


class EdgeRequest(Record):
    """A view, the sheet by its code, and what a person said of its edge, in the view's plane, mm."""

    view: ViewPart
    code: Annotated[str, Field(max_length=20)]
    said: Annotated[list[EdgeSaid], Field(max_length=200)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class EdgeStretch:
    """A run of a sheet's outline that is one thing.

    Attributes:
        kind: see KINDS; meets: codes of the sheets that it is joined to there; path: its corners in the view's plane, mm; length_mm; middle.
        spots: spot welds of the row along it, 0 where there is none; pitch_mm: between them.
        height_mm, inside_radius_mm, direction: of a return, hem or flange; None and "" where nobody knows.
        by_hand: whether a person said so.
    """

    kind: str
    meets: list[str]
    path: list[list[float]]
    length_mm: float
    middle: list[float]
    spots: int
    pitch_mm: float | None
    height_mm: float | None
    inside_radius_mm: float | None
    direction: str
    by_hand: bool

    @property
    def words(self) -> str:
        """The stretch in one line."""
        what = Said(KINDS[self.kind])
        if self.meets:
            what = Said("{what} on {meets}", what=what, meets=", ".join(self.meets))
        if self.spots:
            what = Said("{what}, {count} spots", what=what, count=self.spots)
        if self.height_mm is not None:
            what = Said("{what}, {height} high", what=what, height=Mm(self.height_mm))
        return Said("{what}, {length}", what=what, length=Mm(self.length_mm, 0))


@dataclass(frozen=True, slots=True)
class _Told:
    """What one place of an outline is, and the sheets that it is joined to."""

    kind: str
    meets: tuple[str, ...] = ()


def edges(request: EdgeRequest) -> list[EdgeStretch]:
    """The stretches of one sheet's outline. Raises: BadField where the view has no such sheet."""
    return edges_of(request.view, request.code, request.said)


def edges_of(view: DrawnView, code: str, said: Iterable[EdgeSaid] = ()) -> list[EdgeStretch]:
    """Tell what each stretch of a sheet's outline is.

    Along a row of spot welds it is a flange on the sheets that lie there; against a neighbour of its own layer without a row a butted seam, or a
    leaded one where makers leaded; along a pressed lip a folded return, or a hem on a hung part; else free. What a person said goes before.

    Args: view: with its panels and lines; code: the sheet's; said: by hand, in the view's plane.
    Returns: the stretches in the order of the outline.
    Raises: BadField where the view has no such sheet.
    """
    panels = list(view.panels)
    mine = next((panel for panel in panels if panel.code == code), None)
    if mine is None:
        raise BadField(Said("This view has no sheet {code}.", code=code), "code", "Choose one that is drawn.")
    rim = _walked(mine.outline)
    around, words = _Around(view, mine, panels), list(said)
    told = _settled(_without_strays(_settled(around.tell(rim), rim), rim, around), rim)
    runs = _without_scraps(_runs(told, _corners(rim)), told, rim)
    return [_corrected(_stretch(around, rim, run, told[run[0]]), words) for run in runs]


def _walked(outline: Sequence[Sequence[float]]) -> np.ndarray:
    """Middles and ends of an outline's pieces, none longer than a step: (n, 4) u, v of start and end."""
    at = np.asarray(outline, float)
    after = np.roll(at, -1, axis=0)
    out = []
    for a, b in zip(at, after, strict=True):
        count = max(1, int(np.ceil(np.hypot(*(b - a)) / STEP_MM)))
        share = np.linspace(0, 1, count + 1)[:, None]
        line = a + share * (b - a)
        out.append(np.hstack([line[:-1], line[1:]]))
    walked = np.vstack(out)
    return walked[np.hypot(walked[:, 2] - walked[:, 0], walked[:, 3] - walked[:, 1]) > 1e-6]


def _ways(line: np.ndarray) -> np.ndarray:
    """Which way a row of spot welds runs at each of them: unit vectors."""
    way = np.gradient(line, axis=0)
    return way / np.maximum(1e-9, np.hypot(way[:, 0], way[:, 1]))[:, None]


class _Around:
    """What lies round one sheet of a view: neighbours of its layer, sheets over and under it, rows of spot welds, lips."""

    def __init__(self, view: DrawnView, mine: Any, panels: Sequence[Any]) -> None:
        self.mine, self.layered = mine, view.layered
        u0, v0 = np.min(mine.outline, axis=0) - ROW_MM
        u1, v1 = np.max(mine.outline, axis=0) + ROW_MM
        near = [
            each for each in panels
            if each.code != mine.code and np.all(np.max(each.outline, axis=0) >= (u0, v0)) and np.all(np.min(each.outline, axis=0) <= (u1, v1))
        ]  # fmt: skip
        same = [each for each in near if not view.layered or each.layer == mine.layer]
        self.beside = [(each.code, linearrings(np.asarray(each.outline, float))) for each in same]
        self.over = [
            (each.code, each.layer, polygons(np.asarray(each.outline, float)))
            for each in near
            if view.layered and each.layer != mine.layer
        ]
        layers = {0, mine.layer} if view.layered else {0, 1, 2, 3}
        told = [drawn_line(feature) for feature in view.features]
        rows = [
            (np.asarray(line, float), layer in layers)
            for kind, line, layer in told
            if kind == "weld" and len(line) > 1
        ]
        welds = np.vstack([line for line, _ in rows]) if rows else np.empty((0, 2))
        ways = np.vstack([_ways(line) for line, _ in rows]) if rows else np.empty((0, 2))
        own = (
            np.concatenate([np.full(len(line), mine_) for line, mine_ in rows]) if rows else np.empty(0, bool)
        )
        here = np.all((welds >= (u0, v0)) & (welds <= (u1, v1)), axis=1)
        self.welds, self.ways, self.own = welds[here], ways[here], own[here]
        self.tree = STRtree(points(self.welds)) if len(self.welds) else None
        self.lips = [
            linestrings(np.asarray([*line, line[0]] if len(line) > 2 else line, float))
            for kind, line, layer in told
            if kind == "lip" and len(line) > 1 and layer in layers
        ]

    def tell(self, rim: np.ndarray) -> list[_Told]:
        """What each piece of the outline is."""
        xy = (rim[:, :2] + rim[:, 2:]) / 2
        at = points(xy)
        count = len(rim)
        row, through = np.zeros(count, bool), np.zeros(count, bool)
        if self.tree is not None:
            piece, weld = self.tree.query(at, predicate="dwithin", distance=ROW_MM)
            run = rim[:, 2:] - rim[:, :2]
            run = run / np.hypot(run[:, 0], run[:, 1])[:, None]
            along = np.abs((run[piece] * self.ways[weld]).sum(axis=1)) >= ALONG
            piece, weld = piece[along], weld[along]
            row[piece[self.own[weld]]] = True
            through[piece] = True
        beside = np.array([distance(at, ring) <= MEETS_MM for _, ring in self.beside]).reshape(-1, count)
        over = [contains_xy(shape.buffer(MEETS_MM), xy[:, 0], xy[:, 1]) for _, _, shape in self.over]
        covered = np.array(over).reshape(-1, count)
        lip = np.zeros(count, bool)
        for line in self.lips:
            away = distance(at, line)
            lip |= (away <= LIP_MM) & (away > 1.0)
        flanged = row | (through & covered.any(axis=0)) if len(covered) else row
        return [self._one(i, bool(flanged[i]), beside, covered, bool(lip[i])) for i in range(count)]

    def spots(self, path: LineString) -> tuple[int, float | None]:
        """How many spot welds stand along a stretch, and their pitch, mm."""
        if self.tree is None:
            return 0, None
        near = self.tree.query(path, predicate="dwithin", distance=ROW_MM)
        if len(near) < 2:
            return len(near), None
        along = np.sort(line_locate_point(path, points(self.welds[near])))
        steps = np.diff(along)
        steps = steps[steps > 1.0]
        return len(near), round(float(np.median(steps)), 0) if len(steps) else None

    def lip_height(self, path: LineString) -> float | None:
        """How far inside the edge a drawn lip runs: how high the return is; None where none is drawn."""
        middles = [path.interpolate(share, normalized=True) for share in (0.2, 0.35, 0.5, 0.65, 0.8)]
        away = [min((float(distance(at, line)) for line in self.lips), default=np.inf) for at in middles]
        height = float(np.median(away))
        return round(height, 0) if 1.0 < height <= LIP_MM else None

    def without_row(self, told: _Told) -> _Told:
        """What a stretch is where no row runs: a seam on a neighbour of its own layer, else free."""
        beside = tuple(code for code in told.meets if code in {each for each, _ in self.beside})
        if not beside:
            return _Told("free")
        return _Told("lead" if {stem(self.mine.code), stem(beside[0])} in LEADED else "butt", beside[:1])

    def _one(self, i: int, row: bool, beside: np.ndarray, covered: np.ndarray, lip: bool) -> _Told:
        neighbours = tuple(code for (code, _), met in zip(self.beside, beside[:, i], strict=True) if met)
        under = sorted(
            (abs(layer - self.mine.layer), code) for (code, layer, _), met in zip(self.over, covered[:, i], strict=True) if met
        )  # fmt: skip
        hung = stem(self.mine.code) in HUNG
        neighbours = tuple(
            code for code in neighbours if (stem(code) in HUNG) == hung
        )  # a gap lies between the others
        if hung and not neighbours:
            return _Told("hem")
        if row:
            joined = neighbours + tuple(code for step, code in under if step == 1)[:2]
            return _Told("flange", joined[:3])
        if neighbours:
            pair = {stem(self.mine.code), stem(neighbours[0])}
            return _Told("lead" if pair in LEADED else "butt", neighbours[:1])
        return _Told("return" if lip else "free")


def _corners(rim: np.ndarray) -> np.ndarray:
    """Whether the outline turns sharply where each piece begins: a stretch ends there."""
    way = rim[:, 2:] - rim[:, :2]
    way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
    return (way * np.roll(way, 1, axis=0)).sum(axis=1) < np.cos(np.radians(CORNER_DEG))


def _runs(told: Sequence[_Told], sharp: np.ndarray) -> list[list[int]]:
    """Neighbouring pieces of one kind between sharp corners, as a ring: the first run may begin before the first piece."""
    runs: list[list[int]] = []
    for i, each in enumerate(told):
        if runs and told[runs[-1][0]] == each and not sharp[i]:
            runs[-1].append(i)
        else:
            runs.append([i])
    if len(runs) > 1 and told[runs[0][0]] == told[runs[-1][0]] and not sharp[0]:
        runs[0] = runs.pop() + runs[0]
    return runs


def _without_scraps(runs: list[list[int]], told: Sequence[_Told], rim: np.ndarray) -> list[list[int]]:
    """Runs in which no scrap round a corner stands by itself where its neighbour is of the same kind."""
    lengths = np.hypot(rim[:, 2] - rim[:, 0], rim[:, 3] - rim[:, 1])
    runs = [list(run) for run in runs]
    while len(runs) > 1:
        for k, run in enumerate(runs):
            after = (k + 1) % len(runs)
            scrap = min(lengths[run].sum(), lengths[runs[after]].sum()) < SCRAP_MM
            if scrap and told[run[0]] == told[runs[after][0]]:
                runs[k] = run + runs[after]
                runs.pop(after)
                break
        else:
            return runs
    return runs


def _settled(told: Sequence[_Told], rim: np.ndarray) -> list[_Told]:
    """What the pieces are once every run that is too short has gone with the longer of its neighbours."""
    lengths = np.hypot(rim[:, 2] - rim[:, 0], rim[:, 3] - rim[:, 1])
    out, sharp = list(told), _corners(rim)
    while len(runs := _runs(out, sharp)) > 1:
        sizes = [float(lengths[run].sum()) for run in runs]
        beside = [
            max(((k - 1) % len(runs), (k + 1) % len(runs)), key=lambda j: sizes[j]) for k in range(len(runs))
        ]
        short = [
            k for k in range(len(runs)) if sizes[k] < LEAST_MM and out[runs[k][0]] != out[runs[beside[k]][0]]
        ]
        if not short:
            break
        least = min(short, key=lambda k: sizes[k])
        for i in runs[least]:
            out[i] = out[runs[beside[least]][0]]
    return out


def _without_strays(told: Sequence[_Told], rim: np.ndarray, around: "_Around") -> list[_Told]:
    """A run by fewer spot welds than make a row is what it would be without them."""
    out = list(told)
    runs = _runs(told, _corners(rim))
    for k, run in enumerate(runs):
        beside = [told[runs[k - 1][0]].kind, told[runs[(k + 1) % len(runs)][0]].kind]
        if told[run[0]].kind != "flange" or (len(runs) > 1 and "flange" in beside):
            continue
        if around.spots(_path(rim, run))[0] < LEAST_ROW:
            for i in run:
                out[i] = around.without_row(told[i])
    return out


def _path(rim: np.ndarray, run: list[int]) -> LineString:
    return linestrings(np.array([*rim[run, :2].tolist(), rim[run[-1], 2:].tolist()]))


def _stretch(around: "_Around", rim: np.ndarray, run: list[int], told: _Told) -> EdgeStretch:
    """A run as a stretch, with the spot welds along it and how a drawn lip makes it."""
    length = float(np.hypot(rim[run, 2] - rim[run, 0], rim[run, 3] - rim[run, 1]).sum())
    path = _path(rim, run)
    middle = path.interpolate(0.5, normalized=True)
    spots, pitch = around.spots(path) if told.kind == "flange" else (0, None)
    folded = told.kind in ("return", "hem", "flange")
    return EdgeStretch(
        kind=told.kind, meets=list(told.meets), path=[[round(u, 1), round(v, 1)] for u, v in path.simplify(0.3).coords], length_mm=round(length, 1),
        middle=[round(float(middle.x), 1), round(float(middle.y), 1)], spots=spots, pitch_mm=pitch,
        height_mm=around.lip_height(path) if folded else None, inside_radius_mm=None,
        direction=TURNS.get(stem(around.mine.code), "") if told.kind in ("return", "hem") else "", by_hand=False,
    )  # fmt: skip


def _corrected(found: EdgeStretch, said: Sequence[EdgeSaid]) -> EdgeStretch:
    """A stretch as a person said it is; the last word counts."""
    mine = [each for each in said if runs_by(found, each.at)]
    if not mine:
        return found
    last = mine[-1]
    joined = last.kind in ("flange", "butt", "lead", "braze", "bolt")
    return replace(
        found, kind=last.kind, meets=list(last.meets) if last.meets else found.meets if joined else [], height_mm=last.height_mm,
        spots=found.spots if last.kind == "flange" else 0, pitch_mm=found.pitch_mm if last.kind == "flange" else None,
        inside_radius_mm=last.inside_radius_mm, direction=last.direction, by_hand=True,
    )  # fmt: skip


def runs_by(found: EdgeStretch, at: Sequence[float]) -> bool:
    """Whether a stretch runs by a place that a person spoke of."""
    return bool(distance(points(at), linestrings(np.array(found.path))) <= SAID_MM)


def lengths_of(found: Iterable[EdgeStretch]) -> dict[str, float]:
    """How much of an outline is of each kind, mm."""
    told = list(found)
    return {kind: round(sum(each.length_mm for each in told if each.kind == kind), 0) for kind in KINDS}
