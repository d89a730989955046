"""Staged work: what stays bent when parts are cut and welded while the shell is out of shape, and the braces go at the end."""

from collections.abc import Mapping, Sequence

import numpy as np

from .asked import Brace, Part
from .elements import freedoms
from .ground import ground_of
from .state import brace_elements, whole_stiffness
from .structure import HAIR, Structure


class Staged:
    """A shell on its way through a sequence of states.

    Every element keeps the shape in which it is free of stress. Cutting leaves it; metal that is fitted to a shell out of shape is born in
    that shape: u0 becomes K_new^+ (K_old u0 + dK u).
    """

    def __init__(
        self, structure: Structure, parts: Mapping[str, Part], base: np.ndarray, braces: Sequence[Brace] = ()
    ) -> None:
        """Args: base: n x 6, the intact shell's shape, in which the braces are fitted."""
        self.structure, self.braces = structure, list(braces)
        self.elements = {name: (nodes, k) for name, nodes, k, _ in structure.elements(parts)}
        self.free = {name: np.zeros(6 * len(nodes)) for name, (nodes, _) in self.elements.items()}
        self.base = base
        self.shape = self._shape(parts, self.braces)

    def go(self, parts: Mapping[str, Part]) -> np.ndarray:
        """Take the next state; the movement in it, n x 6."""
        fresh = {name: (nodes, k) for name, nodes, k, _ in self.structure.elements(parts)}
        here = self._placed(fresh)
        for name, (nodes, k) in fresh.items():
            before = self.elements[name][1]
            if k is None or before is k:
                continue
            size = len(k)
            old = np.zeros((size, size)) if before is None else before
            if np.trace(k) <= np.trace(old):
                continue  # metal went: the rest keeps the shape it was born in
            u = here[nodes].ravel()
            self.free[name] = np.linalg.lstsq(k, old @ self.free[name] + (k - old) @ u, rcond=1e-12)[0]
        self.elements = fresh
        self.shape = self._shape(parts, self.braces)
        return self.shape

    def finish(self, parts: Mapping[str, Part]) -> np.ndarray:
        """The braces come off: what is left is locked in; n x 6 movement."""
        self.go(parts)
        self.shape = self._shape(parts, ())
        return self.shape

    def _placed(self, fresh: Mapping[str, tuple[list[int], np.ndarray | None]]) -> np.ndarray:
        """The shape before new metal goes in; nodes that hung on nothing are first put where the new metal wants them."""
        n = len(self.structure.index)
        had, has, k = np.zeros(n, bool), np.zeros(n, bool), np.zeros((6 * n, 6 * n))
        for _, (nodes, stiff) in self.elements.items():
            had[nodes] |= stiff is not None
        for _, (nodes, stiff) in fresh.items():
            if stiff is not None:
                has[nodes] = True
                rows = freedoms(nodes)
                k[np.ix_(rows, rows)] += stiff
        back = np.repeat(has & ~had, 6)
        shape = self.shape.ravel().copy()
        if back.any():
            k += np.diag(np.tile([HAIR[0]] * 3 + [HAIR[1]] * 3, n))
            shape[back] = -np.linalg.solve(k[np.ix_(back, back)], k[np.ix_(back, ~back)] @ shape[~back])
        return shape.reshape(-1, 6)

    def _shape(self, parts: Mapping[str, Part], braces: Sequence[Brace]) -> np.ndarray:
        structure = self.structure
        state = structure.assemble(parts, braces)
        n = len(structure.index)
        load = np.zeros(6 * n)
        load[2::6] = -state.weight_n
        for name, (nodes, k) in self.elements.items():
            if k is not None and self.free[name].any():
                rows = freedoms(nodes)
                load[rows] += k @ self.free[name]
        for rows, k in brace_elements(structure, braces):
            load[rows] += k @ self.base.ravel()[rows]
        return np.linalg.solve(whole_stiffness(structure, state, ground_of(structure, state)), load).reshape(
            n, 6
        )
