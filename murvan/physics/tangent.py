"""The circuit with losses that are linear in the flows: what a step of Newton solves, by size and kind of the circuit."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from murvan.arrays import Array
from murvan.physics.circuit import Circuit
from murvan.physics.orders import Order


class Tangent:
    """The circuit with losses that are linear in the flows: what a step solves. It may stand for more steps than one."""

    dear = True
    """Whether it costs more than the losses themselves."""

    def __init__(self, c: Circuit) -> None:
        self.c = c

    def step(self, flow: Array, lost: Array, forced: Array | None) -> tuple[Array, Array]:
        """Node pressures (..., n) and how far every flow moves (..., m). `lost` is without what acts from outside."""
        raise NotImplementedError


def tangent_of(c: Circuit, d: Array, cross: Array | None) -> Tangent:
    """With slopes 1/`d` (..., m), and `cross` by the flow of its trunk in a way through a junction."""
    if cross is None and d.ndim == 1 and c.banded is not None:
        return _Banded(c, d, c.banded)
    if isinstance(c.incidence, np.ndarray):
        return _Dense(c, d, cross)
    if d.ndim > 1:
        return _Each([_Sparse(c, row, None if cross is None else cross[k]) for k, row in enumerate(d)], c)
    return _Sparse(c, d, cross)


class _Dense(Tangent):
    """Small circuits, any number of scenarios."""

    def __init__(self, c: Circuit, d: Array, cross: Array | None) -> None:
        super().__init__(c)
        self.d = d
        # J^-1 beside its diagonal: what reaches a branch from its trunk
        self._through: Array | None = None
        self._matrix = c.stamped(d)
        if cross is not None and c.junctions is not None:
            self._through = c.junctions.through(d[..., c.junctions.own] * cross)
            alone = d[..., c.junctions.met, None] * c.met_incidence.T
            self._matrix += c.met_incidence @ (self._through @ alone - alone)
        self._inverse: Array | None = None
        self._times = 0
        self._factors: Any = None

    def _back(self, values: Array) -> Array:
        """J^-1 D of values that are scaled already, (..., m)."""
        if self._through is not None and self.c.junctions is not None:
            met = self.c.junctions.met
            values[..., met] = (self._through @ values[..., met, None])[..., 0]
        return values

    def step(self, flow: Array, lost: Array, forced: Array | None) -> tuple[Array, Array]:
        back = self._back(self.d * lost)
        pressure = self._solved(wanted_at(self.c.incidence, flow - back, forced))
        return pressure, self._back(self.d * self.c.dropped(pressure)) - back

    def _solved(self, wanted: Array) -> Array:
        if self._matrix.ndim == 2:
            from scipy.linalg.lapack import (  # a quarter of a second to import; the window needs only batches
                dgetrf,
                dgetrs,
            )

            if self._factors is None:
                self._factors = dgetrf(self._matrix)
            lu, pivots, info = self._factors
            if info == 0:
                return np.asarray(dgetrs(lu, pivots, wanted)[0])
            return np.asarray(np.linalg.solve(self._matrix, wanted))
        self._times += 1
        if self._times == 1:
            return np.asarray(np.linalg.solve(self._matrix, wanted[..., None])[..., 0])
        if self._inverse is None:
            self._inverse = np.asarray(np.linalg.inv(self._matrix))
        return np.asarray((self._inverse @ wanted[..., None])[..., 0])


class _Banded(Tangent):
    """One scenario without splits, its nodes in an order in which neighbours stand near each other."""

    dear = False

    def __init__(self, c: Circuit, d: Array, order: Order) -> None:
        super().__init__(c)
        self.d, self.order = d, order
        self._band = order.band(d)
        self._factor: Array | None = None

    def step(self, flow: Array, lost: Array, forced: Array | None) -> tuple[Array, Array]:
        from scipy.linalg.lapack import dpbtrf, dpbtrs

        if self._factor is None:
            self._factor, info = dpbtrf(self._band, lower=1)
            if info != 0:
                raise np.linalg.LinAlgError("a node of the circuit is tied to nothing")
        c, back = self.c, self.d * lost
        wanted = c.gathered(back - flow)
        if forced is not None:
            wanted = wanted + forced
        pressure = np.empty(c.nodes)
        pressure[self.order.nodes] = dpbtrs(self._factor, wanted[self.order.nodes], lower=1)[0]
        return pressure, self.d * c.dropped(pressure) - back


class _Each(Tangent):
    """Scenarios of a large circuit one after the other."""

    def __init__(self, rows: list[_Sparse], c: Circuit) -> None:
        super().__init__(c)
        self.rows = rows

    def step(self, flow: Array, lost: Array, forced: Array | None) -> tuple[Array, Array]:
        each = [None] * len(self.rows) if forced is None else np.broadcast_to(forced, (len(self.rows), self.c.nodes))
        found = [t.step(*row) for t, *row in zip(self.rows, flow, lost, each, strict=True)]
        return np.stack([p for p, _ in found]), np.stack([move for _, move in found])


class _Sparse(Tangent):
    """One scenario of a large circuit. Without splits the pressures alone, from a symmetric system. With them flows and
    pressures together: each way then has its trunk's flow beside its own in one row, and nothing fills in, however long the
    chain."""

    def __init__(self, c: Circuit, d: Array, cross: Array | None) -> None:
        super().__init__(c)
        self.d = d
        self._solve: Callable[[Array], Array]
        if cross is None or c.junctions is None:
            from scipy.sparse.linalg import splu

            self._solve = splu((c.incidence.multiply(d) @ c.incidence.T).tocsc(), permc_spec="MMD_AT_PLUS_A").solve
        else:
            self._solve = c.together.solver(d, d[c.junctions.own] * cross)
        self._split = cross is not None and c.junctions is not None

    def step(self, flow: Array, lost: Array, forced: Array | None) -> tuple[Array, Array]:
        c, back = self.c, self.d * lost
        if not self._split:
            pressure = np.asarray(self._solve(wanted_at(c.incidence, flow - back, forced)))
            return pressure, np.asarray(self.d * (c.incidence.T @ pressure)) - back
        m = len(c.start)
        found = self._solve(np.concatenate([-back, wanted_at(c.incidence, flow, forced)]))
        return np.asarray(found[m:]), np.asarray(found[:m])


def wanted_at(incidence: Any, flow: Array, forced: Array | None) -> Array:
    """What is brought into each node less what leaves it, m3/s, (..., n)."""
    out = -np.asarray((incidence @ flow.T).T)
    return out if forced is None else out + forced
