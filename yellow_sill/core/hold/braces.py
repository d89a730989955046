"""Where the next brace helps most: every sensible pair of anchors tried by a low-rank update, and one after the other until it holds."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..records import OneOf, as_key
from ..said import Listed, Mm, Said
from .access import crossed, rooms_wanted, through_box
from .asked import Brace, Coordinate, HoldRequest, Name, Part
from .checked import check_searchable
from .elements import ANCHORS, BOLT_N_MM, axes_of, brace, freedoms
from .pieces import lost_paths
from .section import E_MPA
from .state import Solved, free_compliance, held_compliance
from .twist_bend import balanced_loads
from .verdict import HELD_BELOW, LIMITS, Held, Judge, score, verdict_of

#: A brace shorter is no use, a longer one whips, mm.
SHORTEST_MM, LONGEST_MM = 300.0, 2200.0
#: An anchor whose every part has lost more than this is not sound.
SOUND_LOSS = 0.5
#: A tube may touch a panel's rim: so much of a triangle's edge does not count.
RIM = 0.02
#: Braces that differ less than this in J are near ties; then the mean give, then the length decides.
J_STEP, GIVE_STEP = 0.02, 0.03
OFFERED, MOST_BRACES = 5, 8
_WITH_IT = {"HELD": "held", "SOFT": "soft", "LOOSE": "still loose"}


Corner = Annotated[list[Coordinate], Field(min_length=3, max_length=3)]


class BraceRequest(HoldRequest):
    """A structure in one state and what braces may be: tubes, places to keep clear (two corners of a box), parts about to come out."""

    size_mm: Annotated[float, Field(gt=2, le=200)] = 25.0
    wall_mm: Annotated[float, Field(gt=0, le=20)] = 2.0
    ends: Literal["welded", "bolted"] = "welded"
    anchor: Annotated[str, OneOf(ANCHORS)] = "seam"
    keep_clear: Annotated[
        list[Annotated[list[Corner], Field(min_length=2, max_length=2)]], Field(max_length=20)
    ] = []
    doomed: list[Name] = []
    most: Annotated[int, Field(ge=1, le=MOST_BRACES)] = 6


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """One place for a brace: between two nodes, its length, J with it, the mean extra give, what it is in the way of, and in words."""

    start: str = as_key("from")
    end: str = as_key("to")
    length_mm: float
    j: float
    mean_give_mm: float
    access: list[str]
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BracePlan:
    """The best next places (near ties among them), and a sequence that goes on until the shell is held."""

    verdict: str
    j: float
    tried: int
    left_out: dict[str, int]
    offers: list[Offer]
    sequence: list[Offer]
    held_after: int | None
    sentences: list[str]
    limits: str


def braces(request: BraceRequest) -> BracePlan:
    """Find the next brace, and the ones after it until the shell is held.

    Args: request: see BraceRequest.
    Returns: offers, best first; a greedy sequence.
    Raises: BadField, as ``hold`` does.
    Source: Woodbury's update of the compliance, rank 6 (bolted 1); docs/methods.md section 9.
    """
    check_searchable(request)
    judge = Judge(request)
    return advise(judge, request.parts, list(request.braces), request)


def advise(
    judge: Judge, parts: Mapping[str, Part], fitted: Sequence[Brace], request: BraceRequest
) -> BracePlan:
    """The same for a judge that is there already."""
    now = judge.judge(parts, fitted, modes=False)
    pairs, left_out = candidates(judge, parts, request)
    offers: list[Offer] = []
    sequence: list[Offer] = []
    done, have = now.j <= HELD_BELOW and now.mechanisms == 0, list(fitted)
    while pairs and len(sequence) < request.most and (not done or not offers):
        ranked = _ranked(judge, parts, have, pairs, request)
        if not offers:
            offers = ranked[:OFFERED]
        if done or not ranked:
            break
        best = ranked[0]
        have.append(_brace(request, best.start, best.end))
        sequence.append(best)
        pairs = [pair for pair in pairs if set(pair) != {best.start, best.end}]
        done = best.j <= HELD_BELOW
    return BracePlan(
        verdict=now.verdict,
        j=now.j,
        tried=len(pairs) + len(sequence),
        left_out=left_out,
        offers=offers,
        sequence=sequence,
        held_after=len(sequence) if done else None,
        sentences=_sentences(now, sequence, done),
        limits=LIMITS,
    )


def _brace(request: BraceRequest, start: str, end: str) -> Brace:
    tube = {name: getattr(request, name) for name in ("size_mm", "wall_mm", "ends", "anchor")}
    return Brace.model_validate({"from": start, "to": end, **tube})


def candidates(
    judge: Judge, parts: Mapping[str, Part], request: BraceRequest
) -> tuple[list[tuple[str, str]], dict[str, int]]:
    """Pairs of sound anchors that a tube can join, and how many were left out for which reason."""
    structure = judge.structure
    alive = structure.assemble(parts, ()).alive
    names = [
        name for name, i in structure.index.items() if alive[i] and _sound(name, judge, parts, request.doomed)
    ]
    on_member: dict[str, set[str]] = {}
    for frame in request.frames:
        on_member.setdefault(frame.member or frame.id, set()).update((frame.start, frame.end))
    triangles = _triangles(judge, parts)
    left_out = {"length": 0, "one member": 0, "keep clear": 0, "a panel is in the way": 0}
    found = []
    for i, a in enumerate(names):
        for b in names[i + 1 :]:
            start, end = structure.places[structure.index[a]], structure.places[structure.index[b]]
            if not SHORTEST_MM <= np.linalg.norm(end - start) <= LONGEST_MM:
                left_out["length"] += 1
            elif any({a, b} <= nodes for nodes in on_member.values()):
                left_out["one member"] += 1
            elif any(through_box(start, end, np.array(box)) for box in request.keep_clear):
                left_out["keep clear"] += 1
            elif _through_panel(start, end, triangles):
                left_out["a panel is in the way"] += 1
            else:
                found.append((a, b))
    return found, left_out


def _sound(name: str, judge: Judge, parts: Mapping[str, Part], doomed: Iterable[str]) -> bool:
    home = judge.request.home.get(name)
    return home is None or any(
        parts[part].present and part not in doomed and parts[part].loss <= SOUND_LOSS for part in home
    )


def _triangles(judge: Judge, parts: Mapping[str, Part]) -> np.ndarray:
    out = []
    for each in judge.request.sheets:
        if parts[each.part].present:
            corners = [judge.structure.places[judge.structure.index[name]] for name in each.nodes]
            out += [corners[:3]] if len(corners) == 3 else [corners[:3], [corners[0], corners[2], corners[3]]]
    return np.array(out).reshape(-1, 3, 3)


def _cross(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    """Vector products of rows (n, 3), as many as either has; for few rows quicker than the library's."""
    (x, y, z), (u, v, w) = a.T, b.T
    return np.stack([y * w - z * v, z * u - x * w, x * v - y * u], axis=-1)


def _through_panel(start: np.ndarray, end: np.ndarray, triangles: np.ndarray) -> bool:
    """Whether a segment pierces a triangle inside its rim (Moeller and Trumbore 1997)."""
    if not len(triangles):
        return False
    way = end - start
    first, second = triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0]
    p = _cross(way, second)
    det = (first * p).sum(axis=1)
    flat = np.abs(det) < 1e-6
    safe = np.where(flat, 1.0, det)
    t = start - triangles[:, 0]
    u = (t * p).sum(axis=1) / safe
    q = _cross(t, first)
    v, s = q @ way / safe, (second * q).sum(axis=1) / safe
    return bool((~flat & (u > RIM) & (v > RIM) & (u + v < 1 - RIM) & (s > RIM) & (s < 1 - RIM)).any())


def _ranked(
    judge: Judge,
    parts: Mapping[str, Part],
    fitted: Sequence[Brace],
    pairs: Sequence[tuple[str, str]],
    request: BraceRequest,
) -> list[Offer]:
    """Every pair as the next brace, best first."""
    state = judge.solved(parts, fitted)
    tried = _Tried(judge, parts, fitted, state)
    wanted = rooms_wanted(
        request, [name for name, part in parts.items() if not part.present or name in request.doomed]
    )
    told = []
    for a, b in pairs:
        j, give = tried.with_brace(_brace(request, a, b))
        start, end = (judge.structure.places[judge.structure.index[name]] for name in (a, b))
        blocked = crossed(start, end, wanted)
        told.append((j, give, float(np.linalg.norm(end - start)), a, b, blocked))
    near = lambda value, step: round(np.log(max(value, 1e-6)) / step)  # noqa: E731
    told.sort(key=lambda each: (near(each[0], J_STEP), len(each[5]), near(each[1], GIVE_STEP), *each[2:5]))
    return [
        Offer(
            start=a, end=b, length_mm=round(length, 1), j=round(j, 3), mean_give_mm=round(give, 3), access=blocked,
            words=_offered(a, b, length, verdict_of(j, 0)),
        )
        for j, give, length, a, b, blocked in told
    ]  # fmt: skip


def _offered(start: str, end: str, length_mm: float, verdict: str) -> str:
    return Said(
        "{start} to {end}, {length} between the anchors: {with_it} with it.",
        start=start,
        end=end,
        length=Mm(length_mm, 0),
        with_it=Said(_WITH_IT[verdict]),
    )


class _Tried:
    """One state made ready for trying braces: compliances, the movement so far, twist and bend."""

    def __init__(
        self, judge: Judge, parts: Mapping[str, Part], fitted: Sequence[Brace], state: Solved
    ) -> None:
        structure = judge.structure
        self.judge, self.structure, self.state = judge, structure, state
        n = len(structure.index)
        self.off = state.settled.ravel()
        assembled = structure.assemble(parts, fitted)
        self.assembled, self.fitted = assembled, list(fitted)
        self.held, self.free = held_compliance(structure, assembled), free_compliance(structure, assembled)
        self.loads = np.zeros((6 * n, 2))
        if {"front", "rear"} <= state.pairs.keys():
            self.loads.reshape(n, 6, 2)[:, :3] = balanced_loads(structure, state.pairs)[0].reshape(n, 3, 2)
        self.answer = self.free @ self.loads
        self.flex = (self.loads * self.answer).sum(axis=0)
        self.rows = (6 * judge.judged[:, None] + np.arange(3)).ravel()

    def with_brace(self, each: Brace) -> tuple[float, float]:
        """J and the mean extra give with one more brace, by update."""
        ends = [self.structure.index[each.start], self.structure.index[each.end]]
        at = freedoms(ends)
        ways, springs = _modes_of(self.structure.places[ends[0]], self.structure.places[ends[1]], each)
        compliance = self.held[:, at] @ ways
        inverse = np.linalg.inv(np.diag(1 / springs) + ways.T @ compliance[at])
        pulled = ways.T @ self.off[at]
        released = max(0.0, self.state.released - float(pulled @ inverse @ pulled))
        thin = compliance[self.rows].reshape(len(self.judge.judged), 3, -1)
        give = self.state.give.copy()
        give[self.judge.judged] -= thin @ inverse @ thin.transpose(0, 2, 1)
        more = np.maximum(self.judge.more_give(give), 0)
        reach = ways.T @ self.free[at]
        solved = np.linalg.inv(np.diag(1 / springs) + reach[:, at] @ ways)
        bent = ways.T @ self.answer[at]
        flex = self.flex - (bent * (solved @ bent)).sum(axis=0)
        ratios = [self._ratio(k, flex) for k in (0, 1)]
        lost = len(lost_paths(self.structure, self.assembled, [*self.fitted, each]))
        j = score(float(more.max(initial=0.0)), self.judge.settling(give, released), ratios, lost)
        return float(j), float(more.mean()) if len(more) else 0.0

    def _ratio(self, k: int, flex: np.ndarray) -> float:
        """Twist or bend against the intact shell: what is flexed now scales the stiffness known."""
        now = (self.state.twist_knm_deg, self.state.bend_n_mm)[k]
        then = (self.judge.base.twist_knm_deg, self.judge.base.bend_n_mm)[k]
        if then <= 0 or self.flex[k] <= 0:
            return 1.0
        return now / then * self.flex[k] / max(float(flex[k]), 1e-15)


def _modes_of(start: np.ndarray, end: np.ndarray, each: Brace) -> tuple[np.ndarray, np.ndarray]:
    """A brace's stiffness as directions and springs: K = ways diag(springs) ways'."""
    axes, length = axes_of(start, end)
    if each.ends == "bolted":
        inner = each.size_mm - 2 * each.wall_mm
        along = np.concatenate([-axes[0], np.zeros(3), axes[0], np.zeros(3)])
        return along[:, None], np.array(
            [1 / (length / (E_MPA * (each.size_mm**2 - inner**2)) + 2 / BOLT_N_MM)]
        )
    values, ways = np.linalg.eigh(brace(start, end, each.size_mm, each.wall_mm, each.ends, each.anchor))
    kept = values > 1e-6 * values.max()
    return ways[:, kept], values[kept]


def _sentences(now: Held, sequence: Sequence[Offer], done: bool) -> list[str]:
    if now.j <= HELD_BELOW and not now.mechanisms:
        return ["It is held as it is; a brace makes it stiffer still."]
    if done:
        one = len(sequence) == 1
        return [
            Said(
                "{words} it: {sequence}.",
                words=Said("One brace holds")
                if one
                else Said("{sequence} braces hold", sequence=len(sequence)),
                sequence=Listed(
                    tuple(Said("{start} to {end}", start=each.start, end=each.end) for each in sequence), "; "
                ),
            )
        ]
    return ["No few braces hold it in this state: put a part back first."]
