"""What would be read at every place with every fault that a house can have, over its amounts.

Most faults change one branch, a few of them the same one. Over the branch's conductance all flows run smoothly, so each such branch is
solved on a few rungs, all in one batch, and its faults are interpolated between them.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from murvan.arrays import Array
from murvan.field.built import Built
from murvan.field.places import Place
from murvan.field.spots import Spot, change, kept_to, possible_steps, spots
from murvan.field.state import Change
from murvan.field.unlike import spread
from murvan.kinds.faults import FaultKind

AT_ONCE = 64
"""States that are solved between two looks whether it is still wanted."""
RUNGS = 7
"""States that are solved of each branch or fault."""
FINE = 25
"""Amounts that are looked at of each."""
WEIGHT_SPREAD = 0.35
"""Standard deviation of an amount about the middle of its usual range, of that range."""
BEYOND = 0.25
"""Of its usual range, by how much an amount may lie beyond it."""
STEP_LESS = 0.5
"""How often two steps off are met, of one step."""
IMPOSSIBLE = -1e6


@dataclass(frozen=True)
class Tracks:
    """All faults of a house over their amounts."""

    spots: tuple[Spot, ...]
    amounts: Array
    """(faults, fine)"""
    log_weight: Array
    """How often each amount is met, natural logarithm, (faults, fine); `IMPOSSIBLE` where there is none."""
    predicted: Array
    """(faults, fine, places)"""
    base: Array
    """As designed, (places,)."""
    spread: Array
    """(causes, places), see `unlike.spread`."""
    places: tuple[Place, ...]

    def beside(self, other: Tracks) -> Tracks:
        """The same faults at more places."""
        return Tracks(
            self.spots,
            self.amounts,
            np.minimum(self.log_weight, other.log_weight),
            np.concatenate([self.predicted, other.predicted], axis=2),
            np.concatenate([self.base, other.base]),
            np.concatenate([self.spread, other.spread], axis=1),
            (*self.places, *other.places),
        )

    def at(self, columns: Sequence[int]) -> Tracks:
        """Of some places alone."""
        own = list(columns)
        return Tracks(
            self.spots,
            self.amounts,
            self.log_weight,
            self.predicted[:, :, own],
            self.base[own],
            self.spread[:, own],
            tuple(self.places[k] for k in own),
        )


def tracks(b: Built, places: Sequence[Place], cancelled: Callable[[], bool] = lambda: False) -> Tracks | None:
    """Every fault of a house at every place; None when cancelled."""
    own = tuple(spots(b))
    amounts, weights = zip(*(_possible(b, s, *_amounts(b, s)) for s in own), strict=True)
    base = b.as_designed(places, [Change()])[0]
    predicted = np.empty((len(own), FINE, len(places)))
    changes = [[change(b, s, float(a)) for a in x[: _own(s.kind)]] for s, x in zip(own, amounts, strict=True)]
    _still(b, places, own, changes, predicted)
    if not _solve(b, places, own, _curves(b, own, changes), predicted, cancelled):
        return None
    weight = np.array(weights)
    bad = ~np.isfinite(predicted).all(axis=2)
    weight[bad], predicted[bad] = IMPOSSIBLE, np.broadcast_to(base, predicted.shape)[bad]
    return Tracks(own, np.array(amounts), weight, predicted, base, spread(b, places, base), tuple(places))


def _still(
    b: Built, places: Sequence[Place], own: Sequence[Spot], changes: list[list[Change]], predicted: Array
) -> None:
    """Faults that move no air, all read at once."""
    still = [k for k, s in enumerate(own) if not s.kind.moves_air]
    every = [x for k in still for x in changes[k]]
    rows = b.as_designed(places, every)
    start = 0
    for k in still:
        predicted[k] = _stretched(rows[start : start + len(changes[k])])
        start += len(changes[k])


# ---- amounts ----------------------------------------------------------------------------------------------------------


def _amounts(b: Built, spot: Spot) -> tuple[Array, Array]:
    """What is looked at of a fault, and the logarithm of how often each is met, both (fine,)."""
    k = spot.kind
    if k.steps:
        return _filled(np.array(possible_steps(b, spot)), lambda x: np.abs(x) * np.log(STEP_LESS))
    if k.low == k.high:
        return _filled(np.array([k.usual]), np.zeros_like)
    u = np.linspace(-BEYOND, 1 + BEYOND, FINE // 2 if k.both_ways else FINE)
    one = np.minimum(k.low * (k.high / k.low) ** u, k.most)
    log = -0.5 * ((u - 0.5) / WEIGHT_SPREAD) ** 2
    if not k.both_ways:
        return one, log - np.log(np.exp(log).sum())
    return _filled(np.concatenate([one, 2 - one]), lambda _: np.concatenate([log, log]))


def _possible(b: Built, spot: Spot, amounts: Array, log: Array) -> tuple[Array, Array]:
    """Without the amounts that are none of this fault: a damper that is shut is shut further than drawn."""
    if not spot.kind.than_drawn:
        return amounts, log
    fine = np.array([abs(kept_to(b, spot, float(x)) - x) < 1e-9 for x in amounts]) & (log > IMPOSSIBLE)
    if not fine.any():
        return amounts, np.full_like(log, IMPOSSIBLE)
    kept = np.where(fine, log, -np.inf)
    return amounts, np.where(fine, log - np.log(np.exp(kept).sum()), IMPOSSIBLE)


def _own(kind: FaultKind) -> int:
    """Amounts of a kind that may differ."""
    return len(kind.steps) or (1 if kind.low == kind.high else FINE)


def _stretched(rows: Array) -> Array:
    """The last one as often as amounts are lacking."""
    return rows[np.minimum(np.arange(FINE), len(rows) - 1)]


def _filled(amounts: Array, log: Callable[[Array], Array]) -> tuple[Array, Array]:
    """Fewer amounts than are looked at: the last one stands for the rest, without weight."""
    lacking = FINE - len(amounts)
    own = log(amounts)
    own = own - np.log(np.exp(own).sum())
    return np.append(amounts, np.full(lacking, amounts[-1])), np.append(own, np.full(lacking, IMPOSSIBLE))


# ---- solved on rungs --------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class _Curve:
    """States along one line: of a branch over its conductance, or of a fault over its amount."""

    changes: list[Change]
    members: tuple[int, ...]
    """Faults on it."""
    at: Array
    """Where each member's amounts lie on it, (members, fine), in rungs."""


def _one_branch(x: Change) -> int | None:
    """Where a fault changes one branch alone."""
    own = (*x.k, *x.openings)
    return own[0] if len(own) == 1 and not x.fans else None


def _curves(b: Built, own: Sequence[Spot], changes: list[list[Change]]) -> list[_Curve]:
    by_branch: dict[tuple[int, bool, bool, bool], list[int]] = {}
    out = []
    for k, s in enumerate(own):
        if not s.kind.moves_air:
            continue
        branch = _one_branch(changes[k][0])
        if branch is not None:
            first = changes[k][0]
            eases = first.k.get(branch, np.inf) < b.circuit.k[branch]
            by_branch.setdefault((branch, bool(eases), bool(first.dampers), bool(first.stuck)), []).append(k)
        elif s.kind.low == s.kind.high or s.kind.steps:
            out.append(_by_step(k, s.kind, changes[k]))
        else:
            rungs = np.linspace(0, FINE - 1, RUNGS).round().astype(int)
            at = np.interp(np.arange(FINE), rungs, np.arange(RUNGS))
            out.append(_Curve([changes[k][i] for i in rungs], (k,), at[None]))
    return out + [_over(b, branch, found, changes) for (branch, *_), found in by_branch.items()]


def _by_step(k: int, kind: FaultKind, changes: list[Change]) -> _Curve:
    n = _own(kind)
    return _Curve(changes, (k,), np.minimum(np.arange(FINE), n - 1.0)[None])


def _over(b: Built, branch: int, found: list[int], changes: list[list[Change]]) -> _Curve:
    """A branch over its conductance, (Pa per (m3/s)2)^-1/2; an opening over its area."""
    if branch in changes[found[0]][0].openings:
        areas = np.array([[x.openings[branch] for x in changes[i]] for i in found])
        grid, at = _rungs(areas)
        return _Curve([Change(openings={branch: float(x)}) for x in grid], tuple(found), at)
    base_k = float(b.circuit.k[branch])
    whole = abs(float(b.loss[branch])) / max(float(b.base[branch]) ** 2, 1e-12)
    rest = whole - base_k + _around(b, branch)
    k = np.array([[x.k[branch] for x in changes[i]] for i in found])
    eased = 1 / np.sqrt(np.maximum(k + rest, 1e-3 * whole + 1e-9))
    grid, at = _rungs(eased)
    rungs = 1 / grid**2 - rest
    first = changes[found[0]][0]
    besides = first.k[branch] - first.dampers[branch] if first.dampers else 0.0
    return _Curve(
        [
            Change({branch: float(x)}, first.stuck, dampers={branch: float(x) - besides} if first.dampers else {})
            for x in rungs
        ],
        tuple(found),
        at,
    )


def _rungs(values: Array) -> tuple[Array, Array]:
    """Rungs over all values, and where on them each value lies."""
    low, high = float(values.min()), float(values.max())
    at = (values - low) / max(high - low, 1e-300) * (RUNGS - 1)
    return np.linspace(low, high, RUNGS), np.asarray(at)


def _around(b: Built, branch: int) -> float:
    """What all else resists that is in line with a part of a unit, Pa per (m3/s)2."""
    for u in b.layout.units.values():
        if branch in (u.filter_branch, u.heater_branch):
            return abs(float(b.pressure[u.outlet_node] - b.pressure[u.return_node])) / float(b.base[branch]) ** 2
    return 0.0


def _solve(
    b: Built,
    places: Sequence[Place],
    own: Sequence[Spot],
    curves: list[_Curve],
    predicted: Array,
    cancelled: Callable[[], bool],
) -> bool:
    """All rungs in a few batches, and the faults between them by cubics; False when cancelled between two batches."""
    from scipy.interpolate import CubicSpline

    states = [x for c in curves for x in c.changes]
    parts = []
    for start in range(0, len(states), AT_ONCE):
        if cancelled():
            return False
        parts.append(b.predicted(places, states[start : start + AT_ONCE]))
    solved = np.vstack(parts) if parts else np.empty((0, len(places)))
    between = CubicSpline(np.arange(RUNGS), np.eye(RUNGS))
    start = 0
    for c in curves:
        rows = solved[start : start + len(c.changes)]
        start += len(c.changes)
        stepped = own[c.members[0]].kind.steps or len(rows) == 1
        for k, at in zip(c.members, c.at, strict=True):
            predicted[k] = rows[at.astype(int)] if stepped else between(at) @ rows
    return True
