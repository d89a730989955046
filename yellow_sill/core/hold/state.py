"""What one state of a shell does: how far it settles and leans, how stiff it is, which way it goes; against the intact shell."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.linalg import cho_factor, cho_solve, eigh
from scipy.linalg.lapack import dpotrf, dpotri, dpotrs

from ..errors import BadField
from .asked import Brace, Part
from .elements import freedoms
from .paths import carried_shares
from .pieces import floating, lost_paths
from .structure import HAIR, Assembled, Structure

#: A stand: springs upwards, and sideways for all stands together, N/mm. Separate sideways springs would prop a folding body.
STAND_UP, STAND_SIDE = 5000.0, 5000.0
#: The lean test: somebody leans on a node, or hangs 20 kg on it, N.
LEAN_N = 200.0
#: Springs on the six rigid movements of the free body, for stiffness tests with balanced loads, N/mm.
GROUND = 1e3
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
    twist, bend, flexed = _stiffnesses(structure, body.stiffness, chosen)
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


def living_stands(structure: Structure, state: Assembled) -> list[str]:
    """The stands that stand under metal."""
    return [name for name in structure.request.stands if state.alive[structure.index[name]]]


def ground_of(structure: Structure, state: Assembled) -> np.ndarray:
    """What holds the shell from outside: its stands, at the translations, 3 n square."""
    stands = tuple(living_stands(structure, state))
    return structure.once(("ground", stands), lambda: _ground(structure, stands))


def whole_stiffness(structure: Structure, state: Assembled, ground: np.ndarray) -> np.ndarray:
    """All six freedoms of every node, with a ground at the translations and hair springs everywhere, 6 n square."""
    n = len(structure.index)
    whole = state.stiffness + np.diag(np.tile([HAIR[0]] * 3 + [HAIR[1]] * 3, n))
    whole.reshape(n, 6, n, 6)[:, :3, :, :3] += ground.reshape(n, 3, n, 3)
    return whole


def brace_elements(structure: Structure, braces: Sequence[Brace]) -> list[tuple[np.ndarray, np.ndarray]]:
    """Each brace's freedoms and its stiffness."""
    return [(freedoms(ends), k) for ends, k in map(structure.braced, braces)]


def _ground(structure: Structure, stands: Sequence[str]) -> np.ndarray:
    """What the stands hold: each upwards; all together the mean sideways movement and the turn about the upright.

    Without stands the six rigid movements are held softly, so that leaning can still be compared.
    Raises: BadField for stands that do not make a plane.
    """
    n = len(structure.index)
    if not stands:
        return _softly(structure)
    at = np.array([structure.index[name] for name in stands])
    flat = structure.places[at, :2] - structure.places[at, :2].mean(axis=0)
    if len(at) < 3 or np.linalg.svd(flat, compute_uv=False)[1] < 100:
        raise BadField(
            "The stands do not make a plane: the shell tips.",
            "stands",
            "Three or more, under metal that is in, not in one line.",
        )
    ground = np.zeros((3 * n, 3 * n))
    ground[3 * at + 2, 3 * at + 2] = STAND_UP
    ways = np.zeros((3, 3 * n))
    ways[0, 3 * at] = ways[1, 3 * at + 1] = 1 / len(at)
    around = float((flat**2).sum())
    ways[2, 3 * at], ways[2, 3 * at + 1] = -flat[:, 1] / around, flat[:, 0] / around
    strength = STAND_SIDE * np.array([len(at), len(at), around])
    return ground + (ways * strength[:, None]).T @ ways


def rigid_modes(places: np.ndarray) -> np.ndarray:
    """The six rigid movements, as translations of the nodes, orthonormal: 3 n x 6."""
    n = len(places)
    arm = (places - places.mean(axis=0)) / 1000
    modes = np.zeros((n, 3, 6))
    modes[:, [0, 1, 2], [0, 1, 2]] = 1
    modes[:, 1, 3], modes[:, 2, 3] = -arm[:, 2], arm[:, 1]
    modes[:, 0, 4], modes[:, 2, 4] = arm[:, 2], -arm[:, 0]
    modes[:, 0, 5], modes[:, 1, 5] = -arm[:, 1], arm[:, 0]
    return np.linalg.qr(modes.reshape(3 * n, 6))[0]


def chosen_pairs(structure: Structure, state: Assembled) -> dict[str, list[str]]:
    """The pairs at which twist and bend are measured: the first of each group that is in; by default the outermost mirrored pairs."""
    alive = {name for name, i in structure.index.items() if state.alive[i]}
    groups = structure.request.twist
    if groups is None:
        pairs = [list(pair) for pair in _mirrored(structure) if set(pair) <= alive]
        groups = [pairs, pairs[::-1]]
    found: dict[str, list[str]] = {}
    for name, group in zip(("front", "rear"), groups, strict=False):
        pair = next(
            (list(pair) for pair in group if set(pair) <= alive and list(pair) not in found.values()), None
        )
        if pair:
            found[name] = pair
    middle = structure.request.bend
    if middle is None and len(found) == 2:
        taken = {*found["front"], *found["rear"]}
        between = [pair for pair in _mirrored(structure) if set(pair) <= alive and not set(pair) & taken]
        middle = list(between[len(between) // 2]) if between else []
    found["middle"] = [name for name in middle or () if name in alive]
    return found


def _mirrored(structure: Structure) -> list[tuple[str, str]]:
    """Pairs of nodes on both sides, left first, from the front back."""
    where = {
        tuple(np.round(place, 1)): name for name, place in zip(structure.index, structure.places, strict=True)
    }
    pairs = [(name, where[x, -y, z]) for (x, y, z), name in where.items() if y < 0 and (x, -y, z) in where]
    return sorted(pairs, key=lambda pair: (structure.places[structure.index[pair[0]], 0], pair))


def _stiffnesses(
    structure: Structure, free: np.ndarray, pairs: Mapping[str, list[str]]
) -> tuple[float, float, np.ndarray]:
    """Twist (kN m per degree) and bend (N/mm) of the free body (3 n square), with loads that balance, and how those move it (3 n x 2).

    All are 0 where the pairs are missing.
    """
    if "front" not in pairs or "rear" not in pairs:
        return 0.0, 0.0, np.zeros((len(free), 2))
    key = ("loads", *(tuple(pair) for pair in pairs.values()))
    loads, share, at, front, rear = structure.once(key, lambda: balanced_loads(structure, pairs))
    factor = cho_factor(free + _softly(structure), lower=True, check_finite=False, overwrite_a=True)
    flexed = cho_solve(factor, loads, check_finite=False)
    return *_from_loads(flexed[2::3], share, at, front, rear), flexed


def _softly(structure: Structure) -> np.ndarray:
    """Springs on the six rigid movements, 3 n square; loads that balance do not feel them."""

    def springs() -> np.ndarray:
        rigid = rigid_modes(structure.places)
        return GROUND * rigid @ rigid.T

    return structure.once("softly", springs)


def free_compliance(structure: Structure, state: Assembled) -> np.ndarray:
    """Compliance of the body without its stands, for loads that balance, 6 n square."""
    return inverse_of(whole_stiffness(structure, state, _softly(structure)))


def held_compliance(structure: Structure, state: Assembled) -> np.ndarray:
    """Compliance of the body on its stands, 6 n square."""
    return inverse_of(whole_stiffness(structure, state, ground_of(structure, state)))


def balanced_loads(
    structure: Structure, pairs: Mapping[str, list[str]]
) -> tuple[np.ndarray, float, dict[str, list[int]], float, float]:
    """The twisting couple and the bending load, 3 n x 2; the front's share of the latter; indices; widths at both pairs."""
    n = len(structure.index)
    at = {
        name: [structure.index[each] for each in pairs.get(name, ())] for name in ("front", "rear", "middle")
    }
    (fl, fr), (rl, rr) = at["front"], at["rear"]
    wide = lambda a, b: float(structure.places[b, 1] - structure.places[a, 1])  # noqa: E731
    front, rear = wide(fl, fr), wide(rl, rr)
    loads = np.zeros((3 * n, 2))
    loads[[3 * fl + 2, 3 * fr + 2], 0] = 1, -1
    loads[[3 * rl + 2, 3 * rr + 2], 0] = -front / rear, front / rear
    x = structure.places[:, 0]
    share = 0.0
    if at["middle"]:
        share = float(
            (x[[rl, rr]].mean() - x[at["middle"]].mean()) / (x[[rl, rr]].mean() - x[[fl, fr]].mean())
        )
        loads[[3 * i + 2 for i in at["middle"]], 1] -= 1 / len(at["middle"])
        loads[[3 * fl + 2, 3 * fr + 2], 1] += share / 2
        loads[[3 * rl + 2, 3 * rr + 2], 1] += (1 - share) / 2
    return loads, share, at, front, rear


def _from_loads(
    up: np.ndarray, share: float, at: Mapping[str, list[int]], front: float, rear: float
) -> tuple[float, float]:
    """Twist and bend from the upward movements under the two loads (n x 2)."""
    (fl, fr), (rl, rr) = at["front"], at["rear"]
    turned = (up[fl, 0] - up[fr, 0]) / front - (up[rl, 0] - up[rr, 0]) / rear
    twist = front / max(abs(float(turned)), 1e-15) * np.pi / 180 * 1e-6
    if not at["middle"]:
        return float(twist), 0.0
    sag = share * up[[fl, fr], 1].mean() + (1 - share) * up[[rl, rr], 1].mean() - up[at["middle"], 1].mean()
    return float(twist), float(1 / max(abs(float(sag)), 1e-15))


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
