"""What the states already solved say about one that is not: metal put in never makes a shell softer."""

from collections.abc import Callable, Sequence

import numpy as np

#: A job's parts: as they are, out, or in new; and how much of the metal that leaves, the more the stiffer.
OLD, OUT, NEW = 0, 1, 2
METAL = np.array([1, 0, 2])

State = tuple[int, ...]


class Solved:
    """J of states of the jobs, each solved once; of others, the least that it can be.

    Source: J only grows when metal comes out (docs/methods.md section 9), so a state with no more metal anywhere is no better.
    """

    def __init__(self, solve: Callable[[State], float]) -> None:
        self._solve = solve
        self._known: dict[State, float] = {}
        self._least: dict[State, tuple[int, float]] = {}
        self._metal: list[np.ndarray] = []
        self._js: list[float] = []

    def __len__(self) -> int:
        return len(self._known)

    def j(self, state: State) -> float:
        """J of a state, solved where it is not known yet."""
        if state not in self._known:
            self._known[state] = self._solve(state)
            self._metal.append(METAL[list(state)])
            self._js.append(self._known[state])
        return self._known[state]

    def least(self, state: State) -> float:
        """No less than this is J of a state: the worst of the known states that have as much metal everywhere, or more."""
        if state in self._known:
            return self._known[state]
        looked_at, least = self._least.get(state, (0, 0.0))
        if looked_at < len(self._js):
            better = (np.array(self._metal[looked_at:]) >= METAL[list(state)]).all(axis=1)
            least = max(least, float(np.array(self._js[looked_at:])[better].max(initial=0.0)))
            self._least[state] = len(self._js), least
        return least


def ranked(
    states: Sequence[State], key_of: Callable[[State, float], tuple], best: int, solved: Solved
) -> list:
    """The best so many states by a key that grows with J, solving no more of them than the bounds leave open.

    Args: key_of: the key of a state from its J, or from a bound of it.
    Returns: (key, state) of the best, in order; the same as if all had been solved.
    """
    waiting = sorted((key_of(state, solved.least(state)), state) for state in states)
    found: list[tuple[tuple, State]] = []
    for low, state in waiting:
        if len(found) >= best and low > found[best - 1][0]:
            break
        found = sorted([*found, (key_of(state, solved.j(state)), state)])
    return found[:best]
