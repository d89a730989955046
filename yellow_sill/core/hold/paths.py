"""Which members carry the shell now: where its own weight, a twist and a bend store their work."""

from collections.abc import Mapping, Sequence

import numpy as np

from .asked import Brace, Part
from .elements import freedoms
from .structure import Structure

#: What the shell is asked to carry, in the order of the figures.
CASES = ("its own weight", "a twist", "a bend")


def carried_shares(
    structure: Structure,
    parts: Mapping[str, Part],
    braces: Sequence[Brace],
    fitted: Sequence[tuple[np.ndarray, np.ndarray]],
    moved: np.ndarray,
    born: np.ndarray,
) -> dict[str, list[float]]:
    """Each member's share of what is carried.

    Args:
        parts, braces: the state; fitted: freedoms and stiffness of each brace; moved: 6 n x 3, the movement under each of CASES (mm and rad);
        born: 6 n, the shape in which braces were fitted free of stress, for the first case.
    Returns: by member (its id), sheet (its part) and brace (FROM-TO): its share of the strain energy that each case stores in all of them, 0 to 1;
        0 for a case that moves nothing, and left out what carries nothing at all.
    Source: strain energy of an element, u' K u / 2; where it is stored is the load path.
    """
    now = list(structure.elements(parts))
    owners, owner, rows = structure.once("owners", lambda: _owners(now))
    stored = np.zeros((len(owners), len(CASES)))
    for size in (12, 18):
        alike = [i for i, (_, nodes, k, _) in enumerate(now) if k is not None and 6 * len(nodes) == size]
        if alike:
            np.add.at(
                stored,
                owner[alike],
                _energies(np.array([now[i][2] for i in alike]), moved[np.array([rows[i] for i in alike])]),
            )
    if braces:
        ends, stiff = zip(*fitted, strict=True)
        bent = moved[np.array(ends)]
        bent[:, :, 0] -= born[np.array(ends)]
        owners = owners + [f"{each.start}-{each.end}" for each in braces]
        stored = np.vstack([stored, _energies(np.array(stiff), bent)])
    whole = stored.sum(axis=0)
    shares = np.round(stored / np.where(whole > 0, whole, 1.0), 4).tolist()
    return {name: each for name, each in zip(owners, shares, strict=True) if any(each)}


def _owners(elements: Sequence[tuple]) -> tuple[list[str], np.ndarray, list[np.ndarray]]:
    """Members by id and sheets by part; which of them each element is of (a triangle bears its part's name and a number); its freedoms."""
    told = [name if len(nodes) == 2 else name.rpartition(" ")[0] for name, nodes, *_ in elements]
    owners = list(dict.fromkeys(told))
    return (
        owners,
        np.array([owners.index(name) for name in told]),
        [freedoms(nodes) for _, nodes, *_ in elements],
    )


def _energies(stiff: np.ndarray, moved: np.ndarray) -> np.ndarray:
    """Strain energy of elements (n x m x m) under movements (n x m x cases)."""
    return np.maximum((moved * (stiff @ moved)).sum(axis=1) / 2, 0.0)
