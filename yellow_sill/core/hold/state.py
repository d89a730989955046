"""What one state of a shell does: how far it settles and leans, how stiff it is, which way it goes; against the intact shell."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.linalg import cho_factor, cho_solve, eigh
from scipy.linalg.lapack import dpotrf, dpotri, dpotrs

from .asked import Brace, Part
from .elements import freedoms
from .ground import STAND_UP, ground_of, living_stands, softly
from .paths import carried_shares
from .pieces import floating, lost_paths
from .structure import HAIR, Assembled, Structure
from .twist_bend import chosen_pairs, stiffnesses

#: The lean test: somebody leans on a node, or hangs 20 kg on it, N.
LEAN_N = 200.0
#: A movement that 200 N makes larger than this is a mechanism, mm.
MECHANISM_MM = 50.0
#: How many of the softest modes are looked at for mechanisms.
LOOKED_AT = 12
#: Values that agree to so many decimals are even, and the first counts: rounding errors do not decide between left and right.
EVEN = 6


@dataclass(frozen=True, slots=True, kw_only=True)
class Mode:
    """The softest way the free shell goes: stiffness (N/mm), each living node's share of the movement, and how many nodes take part."""

    stiffness: float
    shape: dict[str, list[float]]
    taking_part: float
    most: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Solved:
    """One state solved.

    Attributes:
        moved: n x 6 movement under weight and braces' pull, mm and rad; alive: n.
        give: n x 3 x 3, how each node moves for 1 N on it, mm per N: its block of the compliance.
        settled: n x 6, movement under the steady load (the whole shell's weight, whatever of it is out), against ``rest``; released: the work
            that this does, N mm.
        lost: load paths of which a member carries nothing and which no brace stands in for, by name.
        twist_knm_deg, bend_n_mm: stiffnesses, taken at ``pairs``; reactions_n: by stand; dead_stands: those under nothing.
        floating: nodes of pieces that nothing holds; idle: members that carry nothing; carries: see ``carried_shares``, where modes were asked for.
    """

    moved: np.ndarray
    give: np.ndarray
    settled: np.ndarray
    released: float
    lost: list[str]
    alive: np.ndarray
    twist_knm_deg: float
    bend_n_mm: float
    pairs: dict[str, list[str]]
    reactions_n: dict[str, float]
    dead_stands: list[str]
    floating: list[str]
    idle: list[str]
    mode: Mode | None
    mechanisms: int
    carries: dict[str, list[float]]


def solve_state(
    structure: Structure,
    parts: Mapping[str, Part],
    braces: Sequence[Brace],
    *,
    base: np.ndarray | None = None,
    rest: np.ndarray | None = None,
    pairs: Mapping[str, list[str]] | None = None,
    modes: bool = True,
) -> Solved:
    """Solve one state.

    Args:
        base: n x 6 movement of the baseline, in which the braces were fitted free of stress; rest: the same under the steady load alone;
        pairs: see Solved, to compare like with like.
        modes: also the softest way it goes, and what each member carries.
    """
    state = structure.assemble(parts, braces)
    n = len(structure.index)
    stands = living_stands(structure, state)
    fitted = brace_elements(structure, braces)
    load = _own_weight(state, fitted, base)
    body = _Condensed(structure, state)
    compliance = inverse_of(body.stiffness + ground_of(structure, state))
    moved = body.moved(compliance, load)
    give = compliance.reshape(n, 3, n, 3)[np.arange(n), :, np.arange(n)]
    pull = structure.once("steady load", lambda: _steady_load(structure)).copy()
    settled, released = body.moved(compliance, pull), 0.0
    if rest is not None:
        for ends, k in fitted:
            pull[ends] += k @ rest.ravel()[ends]
        settled = body.moved(compliance, pull) - rest
        released = max(0.0, float(pull @ settled.ravel()))
    chosen = dict(pairs) if pairs else chosen_pairs(structure, state)
    twist, bend, flexed = stiffnesses(structure, body.stiffness, chosen)
    mode, mechanisms = _modes(body.stiffness, state, list(structure.index)) if modes else (None, 0)
    carries = {}
    if modes:
        cases = np.column_stack([moved.ravel(), body.turned(flexed)])
        before = np.zeros(6 * n) if base is None else base.ravel()
        carries = carried_shares(structure, parts, braces, fitted, cases, before)
    up = {name: -STAND_UP * float(moved[structure.index[name], 2]) for name in stands}
    return Solved(
        moved=moved,
        give=give,
        settled=settled,
        released=released,
        lost=lost_paths(structure, state, braces),
        alive=state.alive,
        twist_knm_deg=twist,
        bend_n_mm=bend,
        pairs=chosen,
        reactions_n={name: round(value, 1) for name, value in up.items()},
        dead_stands=[name for name in structure.request.stands if name not in stands],
        floating=floating(structure, state, stands),
        idle=state.idle,
        mode=mode,
        mechanisms=mechanisms,
        carries=carries,
    )


def _own_weight(state: Assembled, fitted: Sequence, base: np.ndarray | None) -> np.ndarray:
    """The shell's weight, and what braces pull that were fitted free of stress in the baseline's shape, 6 n."""
    load = np.zeros(6 * len(state.weight_n))
    load[2::6] = -state.weight_n
    if base is not None:
        for ends, k in fitted:
            load[ends] += k @ base.ravel()[ends]
    return load


def _steady_load(structure: Structure) -> np.ndarray:
    """The weight of the whole shell on the nodes that a verdict hangs on, 6 n: the same load for every state, so that states can be compared."""
    whole = {
        name: Part(thickness_mm=part.thickness_mm) for name, part in structure.request.parts.items()
    } | structure.request.baseline.parts
    load = np.zeros((len(structure.index), 6))
    load[:, 2] = -structure.assemble(whole).weight_n
    load[[structure.index[name] for name in structure.request.passing]] = 0
    return load.ravel()


class _Condensed:
    """The free body's stiffness at its nodes' translations; the rotations, which nothing outside holds, follow from them."""

    def __init__(self, structure: Structure, state: Assembled) -> None:
        n = len(structure.index)
        whole = state.stiffness.reshape(n, 6, n, 6)
        block = lambda a, b: whole[:, a, :, b].reshape(3 * n, 3 * n)  # noqa: E731
        shift, turn = slice(0, 3), slice(3, 6)
        turns = block(turn, turn)
        turns[np.diag_indices(3 * n)] += HAIR[1]
        self.factor, fault = dpotrf(
            turns.T, lower=1, overwrite_a=1
        )  # LAPACK itself: hundreds of states are solved
        if fault:
            raise np.linalg.LinAlgError("the stiffness against turning is not positive definite")
        self.mixed = block(turn, shift)
        self.follow = dpotrs(self.factor, self.mixed, lower=1)[0]
        self.stiffness = block(shift, shift) - self.mixed.T @ self.follow
        self.stiffness[np.diag_indices(3 * n)] += HAIR[0]

    def moved(self, compliance: np.ndarray, load: np.ndarray) -> np.ndarray:
        """Movement under a load (6 n), n x 6. Args: compliance: 3 n square, of the body on its ground."""
        forces, couples = load.reshape(-1, 6)[:, :3].ravel(), load.reshape(-1, 6)[:, 3:].ravel()
        shifted = compliance @ (forces - self.follow.T @ couples)
        turned = dpotrs(self.factor, couples - self.mixed @ shifted, lower=1)[0]
        return np.hstack([shifted.reshape(-1, 3), turned.reshape(-1, 3)])

    def turned(self, shifted: np.ndarray) -> np.ndarray:
        """Movements of all freedoms (6 n x k) from those of the translations (3 n x k) under loads without couples."""
        both = np.stack([shifted, -self.follow @ shifted]).reshape(2, -1, 3, shifted.shape[1])
        return both.transpose(1, 0, 2, 3).reshape(-1, shifted.shape[1])


def inverse_of(stiffness: np.ndarray) -> np.ndarray:
    """The inverse of a symmetric positive definite matrix, by its Cholesky factor."""
    factor, fault = dpotrf(
        stiffness.T, lower=1, clean=1
    )  # symmetric: turned round it lies as LAPACK wants it
    if fault:
        raise np.linalg.LinAlgError("the stiffness is not positive definite")
    half, _ = dpotri(factor, lower=1)
    whole = half + half.T
    np.fill_diagonal(whole, half.diagonal())
    return whole


def whole_stiffness(structure: Structure, state: Assembled, ground: np.ndarray) -> np.ndarray:
    """All six freedoms of every node, with a ground at the translations and hair springs everywhere, 6 n square."""
    n = len(structure.index)
    whole = state.stiffness + np.diag(np.tile([HAIR[0]] * 3 + [HAIR[1]] * 3, n))
    whole.reshape(n, 6, n, 6)[:, :3, :, :3] += ground.reshape(n, 3, n, 3)
    return whole


def brace_elements(structure: Structure, braces: Sequence[Brace]) -> list[tuple[np.ndarray, np.ndarray]]:
    """Each brace's freedoms and its stiffness."""
    return [(freedoms(ends), k) for ends, k in map(structure.braced, braces)]


def free_compliance(structure: Structure, state: Assembled) -> np.ndarray:
    """Compliance of the body without its stands, for loads that balance, 6 n square."""
    return inverse_of(whole_stiffness(structure, state, softly(structure)))


def held_compliance(structure: Structure, state: Assembled) -> np.ndarray:
    """Compliance of the body on its stands, 6 n square."""
    return inverse_of(whole_stiffness(structure, state, ground_of(structure, state)))


def _modes(free: np.ndarray, state: Assembled, names: Sequence[str]) -> tuple[Mode | None, int]:
    """The softest elastic mode of the free body (3 n square) over its living nodes, and how many mechanisms there are."""
    living = np.flatnonzero(state.alive)
    kept = np.array([3 * i + k for i in living for k in range(3)], int)
    if len(kept) < 9:
        return None, 0
    rest = np.setdiff1d(np.arange(len(free)), kept)
    condensed = free[np.ix_(kept, kept)]
    if len(rest):
        factor = cho_factor(free[np.ix_(rest, rest)], lower=True, check_finite=False)
        condensed = condensed - free[np.ix_(kept, rest)] @ cho_solve(
            factor, free[np.ix_(rest, kept)], check_finite=False
        )
    values, shapes = eigh(
        (condensed + condensed.T) / 2, subset_by_index=[0, min(LOOKED_AT, len(kept)) - 1], check_finite=False
    )
    mechanisms = 0
    for k in range(6, len(values)):
        size = np.linalg.norm(shapes[:, k].reshape(-1, 3), axis=1)
        mechanisms += bool(LEAN_N * size.max() ** 2 / max(values[k], 1e-9) > MECHANISM_MM)
    shape = shapes[:, 6].reshape(-1, 3)
    size = np.linalg.norm(shape, axis=1)
    most = int(np.round(size, EVEN).argmax())
    shape = shape / size[most] * np.sign(shape[most][np.round(np.abs(shape[most]), EVEN).argmax()])
    told = {
        names[i]: [round(float(v), 4) for v in row] for i, row in zip(living.tolist(), shape, strict=True)
    }
    part = float(size.sum() ** 2 / (size**2).sum())
    return Mode(
        stiffness=round(float(values[6]), 2), shape=told, taking_part=round(part, 1), most=names[living[most]]
    ), mechanisms
