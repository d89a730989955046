"""What has come apart in a state: load paths that are broken, pieces that nothing holds."""

from collections.abc import Sequence

import numpy as np

from .asked import Brace
from .structure import Assembled, Structure


def lost_paths(structure: Structure, state: Assembled, braces: Sequence[Brace]) -> list[str]:
    """Load paths of which a member carries nothing, by name; a brace from above the gap to below its middle stands in for it."""
    idle = {
        frozenset((frame.start, frame.end))
        for frame in structure.request.frames
        if frame.id in set(state.idle)
    }
    out = []
    for path in structure.request.paths:
        for k, (low, high) in enumerate(zip(path.nodes, path.nodes[1:], strict=False)):
            if frozenset((low, high)) in idle and not any(
                stands_in(structure, each, path.nodes[k + 1 :], low, high) for each in braces
            ):
                out.append(path.name)
                break
    return out


def stands_in(structure: Structure, each: Brace, above: Sequence[str], low: str, high: str) -> bool:
    """Whether a brace ties what lies above a gap in a load path to something below the gap's middle."""
    height = lambda name: structure.places[structure.index[name], 2]  # noqa: E731
    middle = (height(low) + height(high)) / 2
    return any(
        a in above and b not in above and height(b) <= middle
        for a, b in ((each.start, each.end), (each.end, each.start))
    )


def floating(structure: Structure, state: Assembled, stands: Sequence[str]) -> list[str]:
    """Living nodes of pieces that no stand reaches through metal or braces."""
    names = list(structure.index)
    if stands:
        reached = _reached(state.joined, [structure.index[name] for name in stands])
    else:
        reached = np.zeros(len(names), bool)
        pieces = [_reached(state.joined, [int(i)]) for i in np.flatnonzero(state.alive)]
        if pieces:
            reached = max(pieces, key=lambda piece: int((piece & state.alive).sum()))
    away = state.joined.any(axis=0) & ~reached
    return [names[i] for i in np.flatnonzero(away)]


def _reached(joined: np.ndarray, start: Sequence[int]) -> np.ndarray:
    """The nodes that are reached from some others. Args: joined: n square. Returns: n booleans, the start among them."""
    reached = np.zeros(len(joined), bool)
    reached[list(start)] = True
    while True:
        more = reached | joined[reached].any(axis=0)
        if more.sum() == reached.sum():
            return reached
        reached = more
