"""Balancing by what was read: which damper next and what its register then reads, in as few moves
as there are runs. The house is the fitted one: the resistance of each run is what its reading says, not what was drawn."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from murvan.arrays import Array, Index
from murvan.field.built import Built
from murvan.field.state import Change
from murvan.model.routes import LaidRun

ROUNDS = 40
NEAR = 1e-3
"""Share of a flow within which a round of setting has come to rest."""
WITHIN = 0.1
"""Share that a register may be off its part of the air when nobody says one: common practice."""
MARGIN = 0.8
"""Of it, from which a damper is moved: readings scatter."""
LEAST_OPEN = 0.05
SHUT_MOST = 1e9


@dataclass(frozen=True)
class Move:
    """One damper, set until its register reads a flow."""

    register: str
    run: str
    tag: str
    closes: bool
    opening: float
    """Where it then stands if it stood as drawn, share open."""
    reads_m3_s: float
    """At its own register right after the move."""
    now_m3_s: float
    """At its own register before it."""


@dataclass(frozen=True)
class Balance:
    """What to move, in order, and what registers read in the end."""

    moves: tuple[Move, ...]
    wanted: dict[str, float]
    """By register, its part of the air there is, m3/s."""
    after: dict[str, float]
    """By register, m3/s."""
    out: tuple[str, ...]
    """Registers that no damper brings within tolerance."""
    share: float
    """Of the design's air, what registers get together."""

    @property
    def worst(self) -> float:
        """Farthest off its part of the air in the end, a share."""
        return max((abs(self.after[i] / w - 1) for i, w in self.wanted.items() if w > 0), default=0.0)


def balance(
    b: Built, design: Mapping[str, float], read: Mapping[str, float], within: float = WITHIN
) -> Balance | None:
    """Moves that give every register its part of the air there is; None where fewer than two registers of runs were read.

    Args:
        design: by register, m3/s.
        read: the same, measured; registers that were not read stay as they are.
        within: share that a register may be off its part in the end.
    """
    own = [
        x
        for i, x in b.run_to.items()
        if design.get(i, 0.0) > 0 and i in b.layout.register_branch and x.side == "supply"
    ]
    own = [x for x in own if (x.register_id or "") in design]
    if sum((x.register_id or "") in read for x in own) < 2:
        return None
    return _Balancing(b, own, design, read, within).plan()


class _Balancing:
    def __init__(
        self, b: Built, runs: list[LaidRun], design: Mapping[str, float], read: Mapping[str, float], within: float
    ) -> None:
        self.b, self.runs, self.within = b, runs, within
        self.ids = [x.register_id or "" for x in runs]
        self.at = np.array([b.layout.run_branch[x.id] for x in runs])
        self.faces = np.array([b.layout.register_branch[i] for i in self.ids])
        self.design = np.array([design[i] for i in self.ids])
        self.read = np.array([read.get(i, np.nan) for i in self.ids])
        self.movable = np.array([x.damper is not None and x.register_id in read for x in runs])
        self.drawn = np.array([b.damper_k(x, x.damper if x.damper is not None else 1.0) for x in runs])
        self.open = np.array([b.damper_k(x, 1.0) for x in runs])
        # with its damper open a run keeps no less than half of what its fittings were drawn with
        self.floor = self.open + 0.5 * np.maximum(b.circuit.k[self.at] - self.drawn, 0.0)

    def flows(self, k: Array) -> Array:
        """At registers, for each row of what runs resist, (rows, registers)."""
        states = [Change({int(a): float(v) for a, v in zip(self.at, row, strict=True)}) for row in np.atleast_2d(k)]
        return np.asarray(self.b.solved(states)[0][:, self.faces])

    def plan(self) -> Balance:
        k = self._fitted()
        now = self.flows(k)[0]
        # what a register reads beyond what its run can bring, it reads in the end too
        self.shown = np.where(np.isfinite(self.read) & (now > 0), self.read / np.where(now > 0, now, 1.0), 1.0)
        now = now * self.shown
        wanted = self.design * now.sum() / self.design.sum()
        least = np.where(self.movable, self.open + np.maximum(k - self.drawn, self.floor - self.open), k)
        most = np.where(self.movable, SHUT_MOST, k)
        aim, free = k, self.movable & (np.abs(now / wanted - 1) > MARGIN * self.within)
        for _ in self.ids:  # what goes out by the others' moves moves too
            aim = self._settled(k, wanted, least, most, free)
            q = self.flows(aim)[0] * self.shown
            out = self.movable & (np.abs(q / (wanted / wanted.sum() * q.sum()) - 1) > MARGIN * self.within)
            if not (out & ~free).any():
                break
            free = free | out
        return self._moves(k, aim, now)

    def _fitted(self) -> Array:
        """What runs resist so that registers read what was read."""
        k = self.b.circuit.k[self.at].copy()
        known = np.isfinite(self.read) & (self.read > 0)
        floor = np.where(known, self.floor, k)
        return self._towards(k, np.where(known, self.read, 1.0), floor, np.where(known, SHUT_MOST, k), known)

    def _settled(self, k: Array, wanted: Array, least: Array, most: Array, free: Index) -> Array:
        """What runs that are free have to resist for their parts of the air."""
        before = k
        for _ in range(ROUNDS):
            q = self.flows(k)[0]
            if not np.isfinite(q).all():  # too far at once
                k = np.sqrt(k * before)
                continue
            target = wanted / wanted.sum() * (q * self.shown).sum() / self.shown
            aim = self._step(k, q, target, least, most, free)
            if np.abs(aim / k - 1).max() < NEAR:
                return aim
            before, k = k, aim
        return k

    def _towards(self, k: Array, target: Array, least: Array, most: Array, free: Index) -> Array:
        for _ in range(ROUNDS):
            q = self.flows(k)[0]
            if np.abs(np.where(free, q / target - 1, 0.0)).max() < NEAR:
                break
            k = self._step(k, q, target, least, most, free)
        return k

    def _step(self, k: Array, q: Array, target: Array, least: Array, most: Array, free: Index) -> Array:
        """Each run's resistance for its target at the pressure that now stands over it."""
        rest = np.abs(self.b.loss[self.at]) / self.b.base[self.at] ** 2 - self.b.circuit.k[self.at]
        whole = k + rest + self.b.circuit.k[self.faces]
        aim = k + whole * (np.square(np.maximum(q, 1e-6) / np.maximum(target, 1e-6)) - 1)
        return np.where(free, np.clip(aim, least, most), k)

    def _moves(self, k: Array, aim: Array, now: Array) -> Balance:
        """Those that move farthest first; each with what its register then reads."""
        order = [int(i) for i in np.argsort(-np.abs(np.log(aim / k))) if aim[i] != k[i]]
        rows, state = [], k.copy()
        for i in order:
            state = state.copy()
            state[i] = aim[i]
            rows.append(state)
        flows = self.flows(np.array(rows)) * self.shown if rows else np.empty((0, len(self.ids)))
        before = np.vstack([now, flows])
        moves = tuple(
            Move(
                self.ids[i],
                self.runs[i].id,
                self.runs[i].tag,
                bool(aim[i] > k[i]),
                self._opening(i, k, aim),
                float(flows[n, i]),
                float(before[n, i]),
            )
            for n, i in enumerate(order)
            if flows[n, i] > 0
        )
        last = before[-1]
        wanted = self.design * last.sum() / self.design.sum()
        out = tuple(i for i, q, w in zip(self.ids, last, wanted, strict=True) if abs(q / w - 1) > self.within)
        return Balance(
            moves,
            dict(zip(self.ids, wanted.tolist(), strict=True)),
            dict(zip(self.ids, last.tolist(), strict=True)),
            out,
            float(last.sum() / self.design.sum()),
        )

    def _opening(self, i: int, k: Array, aim: Array) -> float:
        """Where a damper stands that resists so much more than drawn, by bisection of its curve."""
        wanted = self.drawn[i] + aim[i] - k[i]
        low, high = LEAST_OPEN, 1.0
        for _ in range(30):
            middle = (low + high) / 2
            if self.b.damper_k(self.runs[i], middle) > wanted:
                low = middle
            else:
                high = middle
        return (low + high) / 2
