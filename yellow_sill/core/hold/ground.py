"""What holds a shell from outside: its stands; or the six rigid movements softly."""

from collections.abc import Sequence

import numpy as np

from ..errors import BadField
from .structure import Assembled, Structure

#: A stand: springs upwards, and sideways for all stands together, N/mm. Separate sideways springs would prop a folding body.
STAND_UP, STAND_SIDE = 5000.0, 5000.0
#: Springs on the six rigid movements of the free body, for stiffness tests with balanced loads, N/mm.
GROUND = 1e3


def living_stands(structure: Structure, state: Assembled) -> list[str]:
    """The stands that stand under metal."""
    return [name for name in structure.request.stands if state.alive[structure.index[name]]]


def ground_of(structure: Structure, state: Assembled) -> np.ndarray:
    """What holds the shell from outside: its stands, at the translations, 3 n square."""
    stands = tuple(living_stands(structure, state))
    return structure.once(("ground", stands), lambda: _ground(structure, stands))


def _ground(structure: Structure, stands: Sequence[str]) -> np.ndarray:
    """What the stands hold: each upwards; all together the mean sideways movement and the turn about the upright.

    Without stands the six rigid movements are held softly, so that leaning can still be compared.
    Raises: BadField for stands that do not make a plane.
    """
    n = len(structure.index)
    if not stands:
        return softly(structure)
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


def softly(structure: Structure) -> np.ndarray:
    """Springs on the six rigid movements, 3 n square; loads that balance do not feel them."""

    def springs() -> np.ndarray:
        rigid = rigid_modes(structure.places)
        return GROUND * rigid @ rigid.T

    return structure.once("softly", springs)
