"""Orders of unknowns in which large circuits are soon solved."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from murvan.arrays import Array, Index
from murvan.physics.junctions import Junctions

WIDEST = 24
"""Band of a circuit beyond which its pressures are not solved as one."""


class Order:
    """Nodes in the reverse Cuthill-McKee order, and where each branch stands in the band of the pressures' matrix."""

    def __init__(self, start: Index, end: Index, nodes: int) -> None:
        self.nodes = _near_each_other(start, end, nodes)
        place = np.full(nodes + 1, -1)
        place[self.nodes] = np.arange(nodes)
        a, b = place[start], place[end]  # the outdoors, -1, is the last one
        joined = np.flatnonzero((a >= 0) & (b >= 0) & (a != b))
        low, high = np.minimum(a, b)[joined], np.maximum(a, b)[joined]
        self.width = int((high - low).max(initial=0))
        self._ends = [(np.flatnonzero((x >= 0) & (a != b)), x[(x >= 0) & (a != b)]) for x in (a, b)]
        self._joined, self._at = joined, (high - low) * nodes + low
        self._shape = (self.width + 1, nodes)

    def band(self, d: Array) -> Array:
        """Lower band of A D A^T, (width + 1, n)."""
        size = self._shape[0] * self._shape[1]
        out: Array = np.bincount(self._at, -d[self._joined], size).astype(float).reshape(self._shape)
        for branches, nodes in self._ends:
            out[0] += np.bincount(nodes, d[branches], self._shape[1])
        return out


def _near_each_other(start: Index, end: Index, nodes: int) -> Index:
    """Reverse Cuthill-McKee order of the nodes."""
    near: list[set[int]] = [set() for _ in range(nodes)]
    for a, b in zip(start.tolist(), end.tolist(), strict=True):
        if a >= 0 and b >= 0 and a != b:
            near[a].add(b)
            near[b].add(a)
    out: list[int] = []
    seen = [False] * nodes
    for first in sorted(range(nodes), key=lambda n: len(near[n])):
        if seen[first]:
            continue
        queue, seen[first] = [first], True
        for n in queue:
            for other in sorted((x for x in near[n] if not seen[x]), key=lambda x: len(near[x])):
                seen[other] = True
                queue.append(other)
        out += queue
    return np.array(out[::-1], np.intp)


class Together:
    """The matrix [1 + S, -D A^T; A, 0] of flows and pressures: its pattern and the order of its elimination once, its values
    at every step."""

    def __init__(self, m: int, incidence: Any, junctions: Junctions) -> None:
        nodes, branches = (x.astype(np.intp) for x in incidence.nonzero())
        self._ties = (branches, np.asarray(incidence[nodes, branches]).ravel())
        self._rows = np.concatenate([np.arange(m), junctions.own, branches, m + nodes])
        self._columns = np.concatenate([np.arange(m), junctions.common, m + nodes, branches])
        self._size, self._ones = m + incidence.shape[0], np.ones(m)
        self._order: tuple[Index, Index] | None = None
        """Of rows and of columns, in which hardly anything fills in."""
        self._symmetric = bool(np.bincount(nodes).max() > CROWD)
        self._matrix: Any = None
        self._place: Index = np.arange(len(self._rows))

    def solver(self, d: Array, share: Array) -> Callable[[Array], Array]:
        """Gives flows and pressures for a right side: `d` (m,) one over the slopes, `share` (w,) of the ways through
        junctions."""
        branches, signs = self._ties
        values = np.concatenate([self._ones, share, -d[branches] * signs, signs])
        rows, columns = self._order or self._ordered(values)
        self._matrix.data = values[self._place]
        factor = self._factor("NATURAL", self._symmetric)

        def solve(right: Array) -> Array:
            out = np.empty(self._size)
            out[columns] = factor.solve(right[rows])
            return out

        return solve

    def _factor(self, order: Any, symmetric: bool) -> Any:
        from scipy.sparse.linalg import splu

        if not symmetric:
            return splu(self._matrix, permc_spec=order)
        return splu(self._matrix, permc_spec=order, diag_pivot_thresh=0.01, options={"SymmetricMode": True})

    def _ordered(self, values: Array) -> tuple[Index, Index]:
        """Find the order that fills in least, and put the matrix into it: along long chains columns alone are put in order,
        where many branches meet rows with them."""
        same = np.arange(self._size)
        self._compressed(same, same)
        self._matrix.data = values[self._place]
        place = self._factor("MMD_AT_PLUS_A" if self._symmetric else "COLAMD", self._symmetric).perm_c.astype(np.intp)
        self._compressed(place if self._symmetric else same, place)
        self._order = (np.argsort(place) if self._symmetric else same, np.argsort(place))
        return self._order

    def _compressed(self, rows: Index, columns: Index) -> None:
        """The pattern in compressed columns with every unknown at a place of its own."""
        from scipy.sparse import csc_matrix

        # which value comes where: the matrix of their numbers tells
        numbers = np.arange(1.0, len(self._rows) + 1)
        found = csc_matrix((numbers, (rows[self._rows], columns[self._columns])), shape=(self._size, self._size))
        self._matrix, self._place = found, found.data.astype(np.intp) - 1


CROWD = 40
"""Branches that meet in a node from which on rows are ordered with columns."""
