"""HELD, SOFT or LOOSE: one state of a shell against the intact one, and what to do about it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr

from ..datum.compare import WAYS
from ..said import Listed, Mm, Said
from .asked import Brace, HoldRequest, Part
from .checked import check_braces, structure_of
from .state import EVEN, LEAN_N, Mode, Solved, solve_state
from .structure import Structure

#: Movement that counts as one: 1 mm HELD, 3 mm SOFT; twist and bend count as one at this share of the intact stiffness.
SCORE_MM, RATIO, RATIO_POWER = 1.0, 0.70, 2.5
HELD_BELOW, SOFT_BELOW = 1.0, 3.0
#: A load path that is lost counts so much: one makes the shell soft, two make it loose. A judgement; source: docs/methods.md section 9.
LOST_PATH = 1.6
#: Beyond this J says nothing more: the piece hangs on nothing.
MOST_J = 999.0
#: Plainly held below the first; between the two it is borderline between SOFT and LOOSE.
PLAIN_BELOW, BORDERLINE = 0.7, (2.2, 4.0)
#: Spread of ln J over what nobody knows exactly (joints, sheet, anchors, rust); source: docs/methods.md section 9.
SPREAD = 0.30
#: A stand that carries less than this may lift off: it wants a shim, N.
LIGHT_STAND_N = 100.0
LIMITS = (
    "Planning figures, not structural approval. Linear and elastic: no buckling, no welding shrinkage, no slip. Millimetres are right within a "
    "factor of 1.5 at best; trust the ratios, the order and which brace. Chassis, belt and suspension mounts: follow the maker and a qualified person."
)


@dataclass(frozen=True, slots=True, kw_only=True)
class NodeMove:
    """Movement of a node against the intact shell under the shell's own weight, mm, and its extra give when leant on."""

    dx_mm: float
    dy_mm: float
    dz_mm: float
    give_mm: float
    intact_give_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CheckChange:
    nodes: list[str]
    before_mm: float
    change_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Held:
    """The answer for one state.

    Attributes:
        verdict: HELD, SOFT or LOOSE; j: the number it follows from (1 and 3 divide them); sure: in words; shares: chance of each verdict.
        carries: share of each member, sheet (by part) and brace of the energy that own weight, a twist and a bend store; empty without modes.
        lost: load paths that are gone, by name; score_mm: extra give and the most it can have settled;
            twist_ratio, bend_ratio: against the intact shell.
    """

    verdict: str
    j: float
    sure: str
    shares: dict[str, float]
    score_mm: float
    extra_give_mm: float
    worst_node: str
    worst_way: str
    own_weight_mm: float
    twist_knm_per_deg: float
    twist_ratio: float
    bend_n_per_mm: float
    bend_ratio: float
    lost: list[str]
    softest: Mode | None
    mechanisms: int
    nodes: dict[str, NodeMove]
    checks: list[CheckChange]
    reactions_n: dict[str, float]
    floating: list[str]
    idle: list[str]
    carries: dict[str, list[float]]
    sentences: list[str]
    limits: str


class Judge:
    """A structure with its baseline solved once; judges one state after the other."""

    def __init__(self, request: HoldRequest) -> None:
        self.request = request
        self.structure: Structure = structure_of(request)
        whole = {name: Part(thickness_mm=part.thickness_mm) for name, part in request.parts.items()}
        self.base_parts = whole | request.baseline.parts
        self.base = solve_state(self.structure, self.base_parts, request.baseline.braces, modes=False)
        passing = set(request.passing)
        self.judged = np.array(
            [i for name, i in self.structure.index.items() if self.base.alive[i] and name not in passing], int
        )
        self.base_softest = (
            np.linalg.eigvalsh(self.base.give[self.judged])[:, -1] if len(self.judged) else np.zeros(0)
        )

    def solved(self, parts: Mapping[str, Part], braces: Sequence[Brace], *, modes: bool = False) -> Solved:
        """One state, its twist and bend taken at the intact shell's own pairs, dead or alive."""
        return solve_state(
            self.structure,
            parts,
            braces,
            base=self.base.moved,
            rest=self.base.settled,
            pairs=self.base.pairs,
            modes=modes,
        )

    def number(self, state: Solved) -> tuple[float, float, float, float, float]:
        """J of a state, and what it is made of: extra give, own weight (mm), twist and bend ratio.

        Every part of it can only grow when metal comes out and only shrink when a brace goes in; docs/methods.md section 9.
        """
        extra = max(0.0, float(self.more_give(state.give).max(initial=0.0)))
        own = self.settling(state.give, state.released)
        ratios = [
            self.ratio(now, then)
            for now, then in (
                (state.twist_knm_deg, self.base.twist_knm_deg),
                (state.bend_n_mm, self.base.bend_n_mm),
            )
        ]
        return score(extra, own, ratios, len(state.lost)), extra, own, ratios[0], ratios[1]

    @staticmethod
    def ratio(now: float, then: float) -> float:
        return now / then if then > 0 else 1.0

    def more_give(self, give: np.ndarray) -> np.ndarray:
        """How much farther than in the intact shell a push of 200 N moves each judged node the way it gives most, mm. Args: give: n x 3 x 3, mm per N."""
        return LEAN_N * (np.linalg.eigvalsh(give[self.judged])[:, -1] - self.base_softest)

    def settling(self, give: np.ndarray, released: float) -> float:
        """The most that a judged node can have settled under the shell's own weight, mm: by Cauchy and Schwarz, from the work that was released."""
        if not len(self.judged):
            return 0.0
        softer = np.linalg.eigvalsh(give[self.judged] - self.base.give[self.judged])[:, -1]
        return float(np.sqrt(max(0.0, float(softer.max())) * released))

    def judge(self, parts: Mapping[str, Part], braces: Sequence[Brace], *, modes: bool = True) -> Held:
        """The whole answer for one state. Raises: BadField for a brace that cannot be."""
        check_braces(braces, self.structure.index, self.structure.places)
        state = self.solved(parts, braces, modes=modes)
        return _held(self, state)


def hold(request: HoldRequest) -> Held:
    """What still holds the shell in one state.

    Args: request: see HoldRequest.
    Returns: the verdict, with everything it follows from.
    Raises: BadField, naming the node, part, member, brace or stand.
    Source: docs/methods.md section 9.
    """
    judge = Judge(request)
    return judge.judge(request.parts, request.braces, modes=request.modes)


def score(extra_mm: float, own_mm: float, ratios: Sequence[float], lost: int) -> float:
    """J from extra give, settling, what is left of twist and bend, and how many load paths are lost."""
    return min(
        MOST_J,
        max(
            [
                (extra_mm + own_mm) / SCORE_MM,
                *((RATIO / max(ratio, 1e-6)) ** RATIO_POWER for ratio in ratios),
                LOST_PATH * lost,
            ]
        ),
    )


def verdict_of(j: float, mechanisms: int) -> str:
    if mechanisms or j > SOFT_BELOW:
        return "LOOSE"
    return "HELD" if j <= HELD_BELOW else "SOFT"


def shares_of(j: float) -> dict[str, float]:
    """How likely each verdict is, with what nobody knows exactly spread over J (lognormal)."""
    below = [float(ndtr(np.log(limit / max(j, 1e-9)) / SPREAD)) for limit in (HELD_BELOW, SOFT_BELOW)]
    return {
        "HELD": round(below[0], 2),
        "SOFT": round(below[1] - below[0], 2),
        "LOOSE": round(1 - below[1], 2),
    }


def _sure(j: float, mechanisms: int) -> str:
    if mechanisms:
        return "plainly: a piece can swing freely"
    if PLAIN_BELOW < j <= HELD_BELOW:
        return "narrowly"
    if BORDERLINE[0] <= j <= BORDERLINE[1]:
        return "borderline between soft and loose"
    return "plainly"


def _held(judge: Judge, state: Solved) -> Held:
    j, extra, bound, twist, bend = judge.number(state)
    names = list(judge.structure.index)
    alive = state.alive & judge.base.alive
    verdict = verdict_of(j, state.mechanisms)
    moved = state.moved[:, :3] - judge.base.moved[:, :3]
    own = min(bound, float(np.linalg.norm(moved[alive], axis=1).max(initial=0.0)))
    give, intact = (LEAN_N * np.linalg.eigvalsh(each.give)[:, -1] for each in (state, judge.base))
    nodes = {
        name: NodeMove(
            dx_mm=round(float(moved[i, 0]), 2), dy_mm=round(float(moved[i, 1]), 2), dz_mm=round(float(moved[i, 2]), 2), give_mm=round(float(give[i]), 2),
            intact_give_mm=round(float(intact[i]), 2),
        )
        for i, name in enumerate(names)
        if alive[i]
    }  # fmt: skip
    shares = shares_of(j) if not state.mechanisms else {"HELD": 0.0, "SOFT": 0.0, "LOOSE": 1.0}
    worst, way = _softest_place(judge, state, names)
    if state.lost and extra < SCORE_MM:  # what hangs above the gap is what to look at
        worst, way = next(path.nodes[-1] for path in judge.request.paths if path.name in state.lost), "z"
    return Held(
        verdict=verdict,
        j=round(j, 3),
        sure=_sure(j, state.mechanisms),
        shares=shares,
        score_mm=round(extra + bound, 2),
        extra_give_mm=round(extra, 2),
        worst_node=worst,
        worst_way=way,
        own_weight_mm=round(own, 2),
        twist_knm_per_deg=round(state.twist_knm_deg, 3),
        twist_ratio=round(twist, 3),
        bend_n_per_mm=round(state.bend_n_mm, 1),
        bend_ratio=round(bend, 3),
        lost=state.lost,
        softest=state.mode,
        mechanisms=state.mechanisms,
        nodes=nodes,
        checks=[
            _check(judge, state, pair) for pair in judge.request.checks if all(name in nodes for name in pair)
        ],
        reactions_n=state.reactions_n,
        floating=state.floating,
        idle=state.idle,
        carries=state.carries,
        sentences=_sentences(verdict, state, worst, way, extra, own, twist, bend, moved, names, alive),
        limits=LIMITS,
    )


def _softest_place(judge: Judge, state: Solved, names: Sequence[str]) -> tuple[str, str]:
    """The judged node that gives most more than in the intact shell, and which way."""
    if not len(judge.judged):
        return names[0], "x"
    at = int(judge.judged[int(np.round(judge.more_give(state.give), EVEN).argmax())])
    way = np.abs(np.linalg.eigh(state.give[at])[1][:, -1])
    return names[at], "xyz"[int(np.round(way, EVEN).argmax())]


def _check(judge: Judge, state: Solved, pair: Sequence[str]) -> CheckChange:
    """A checking dimension: its length when intact, and what the state adds to it."""
    length, change = judge.structure.stretch(state.moved[:, :3] - judge.base.moved[:, :3], pair)
    return CheckChange(nodes=list(pair), before_mm=round(length, 1), change_mm=round(change, 2))


def _sentences(verdict, state, worst, way, extra, own, twist, bend, moved, names, alive) -> list[str]:
    said: list[str] = []
    axis = {"x": "along the shell", "y": "sideways", "z": "up and down"}[way]
    if state.floating:
        said.append(
            Said(
                "{floating} hang on nothing: that piece is free.", floating=Listed(tuple(state.floating[:4]))
            )
        )
    for path in state.lost:
        said.append(Said("A load path is gone: {path}.", path=Said(path)))
    if verdict == "HELD":
        said.append("What is still in holds the shape.")
    elif extra >= SCORE_MM:
        said.append(
            Said(
                "A push of {lean_n:.0f} kg on {worst} moves it {extra} {axis} more than in the whole shell.",
                lean_n=LEAN_N / 9.81,
                worst=worst,
                extra=Mm(extra, 1),
                axis=axis,
            )
        )
    if own >= 0.3:
        at = int(np.round(np.where(alive, np.linalg.norm(moved, axis=1), 0), EVEN).argmax())
        big = int(np.abs(moved[at]).argmax())
        said.append(
            Said(
                "Under its own weight {place} moves {own}, mostly {way}.",
                place=names[at],
                own=Mm(own, 1),
                way=Said(WAYS[big][int(moved[at][big] > 0)]),
            )
        )
    for ratio, what in ((twist, "twist"), (bend, "bend")):
        if ratio < RATIO:
            said.append(
                Said("In {what} it has {ratio:.0f} % of its stiffness left.", what=what, ratio=ratio * 100)
            )
    if state.mechanisms:
        said.append("A piece can swing freely: put a part back or brace it before anybody leans on it.")
    elif verdict != "HELD":
        cure = (
            Said("Tie {worst} {axis}", worst=worst, axis=axis)
            if extra >= SCORE_MM
            else Said("Brace across the openings, from corner to corner")
        )
        said.append(Said("{cure}, or put a part back first.", cure=cure))
    for name in state.dead_stands:
        said.append(Said("The stand at {name} stands under nothing now: move it.", name=name))
    for name, force in state.reactions_n.items():
        if force < LIGHT_STAND_N:
            said.append(
                Said(
                    "The stand at {name} carries {force:.0f} N only: shim it.", name=name, force=max(force, 0)
                )
            )
    return said
