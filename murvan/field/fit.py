"""What is wrong, by all readings at once: every fault that the house can have, singly and in pairs, against flows, statics, power and
temperatures; each with its share of belief, and what can't be told apart.

Readings y; a fault h of amount a predicts f(h, a) by the air circuit. Instruments scatter by R; what no two houses have alike (the drag
of each run, leaks, filter, blower, capacity, the hood's own gain) moves the predictions by J, each solved, so
C = R + J J'. Evidence of h: the mean over its usual amounts of exp(-(y - f)' C^-1 (y - f) / 2), times how often it is met.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from murvan.arrays import Array, Index
from murvan.field.built import Built
from murvan.field.places import Place
from murvan.field.spots import Spot, change
from murvan.field.tracks import IMPOSSIBLE, Tracks
from murvan.field.unlike import scatter
from murvan.kinds.faults import HOW_OFTEN_NOTHING, HOW_OFTEN_OTHER

LEAST_READINGS = 3
BROAD = 5.0
"""Times as far as a house as designed, what something that is not in the table may put readings off."""
BOTH = 0.12
"""How often a house with one fault has a second one."""
PAIRED = 10
"""So many of the likeliest faults are tried in pairs with all others,"""
REFINED = 12
"""and so many of the likeliest pairs are solved."""
FAR_BEHIND = 9.0
"""Logarithm of belief by which a pair falls behind the likeliest single fault and is not solved any more."""
AROUND = (-6, -3, 0, 3, 6)
"""Steps from its likeliest amount at which the first of a pair is tried."""
SEEN = 0.1
"""Standard deviations that a fault moves some reading by at least to be a suspect: what none of them can show is not judged."""
LEAST_SHARE = 0.01
"""Of belief, what a suspect has at least to be worth a word."""
MOST = 8
"""Suspects that are named."""
APART = 2.0
"""Standard deviations between what two faults predict from which readings tell them apart."""
BESIDE = 2
"""Faults that are named beside one that can't be told from it."""
LEAST_BESIDE = 0.02
"""Of a fault's belief, what another one has at least to be named beside it."""


class Said(NamedTuple):
    """One reading that is fitted."""

    place: Place
    value: float
    share: float
    """Its standard uncertainty, of its value."""


@dataclass(frozen=True)
class Suspected:
    """A fault with its part of belief."""

    spot: Spot
    share: float
    """Of belief that it is there, alone or with another."""
    amount: float
    """Likeliest, see `FaultKind.amount`."""
    chi2: float
    """Squared distance of readings from it at that amount, in what they scatter."""
    explains: float
    """Of what readings are off a house as designed, what it takes away; below zero where it makes them worse."""
    group: tuple[Spot, ...]
    """What these readings can't tell from it."""
    share_of_group: float
    """Of belief, its own and that of its group."""


class Group(NamedTuple):
    """Suspects that these readings can't tell apart, the likeliest first; most often one."""

    of: tuple[Suspected, ...]
    place: str
    """Of all of them; '' where they lie at several."""

    @property
    def share(self) -> float:
        """Of belief, all of theirs."""
        return min(sum(x.share for x in self.of), 1.0)


class Residual(NamedTuple):
    """A reading beside what the likeliest explanation predicts, SI."""

    place: Place
    read: float
    predicted: float
    off: float
    """Their difference in standard deviations."""
    designed: float
    """Of a house as designed."""
    off_designed: float


@dataclass(frozen=True)
class Belief:
    """What the next reading is chosen by: explanations with what they predict at every place."""

    share: Array
    """(explanations,), sums to 1."""
    predicted: Array
    """(explanations, places)"""
    spread: Array
    """What stays unknown of each place once the readings are in, a variance, (places,)."""
    noise: Array
    """Standard deviation of one more reading of each, (places,)."""
    spots: tuple[Spot | None, ...]
    """Of each explanation; None where nothing is wrong."""


@dataclass(frozen=True)
class Fitted:
    """All that the readings say."""

    suspects: tuple[Suspected, ...]
    """By share."""
    both: tuple[Spot, Spot] | None
    """Two faults at once, where that is the likeliest of all."""
    nothing: float
    """Belief that all is as designed."""
    other: float
    """Belief that it is something that is not in the table."""
    plain: float
    """Squared distance of readings from a house as designed, in what they scatter."""
    misfit: float
    """Of the likeliest explanation, root mean square of readings off it over what they scatter."""
    residuals: tuple[Residual, ...]
    belief: Belief

    @property
    def nothing_wrong(self) -> bool:
        """Whether no fault is likelier than none."""
        return not self.suspects or self.nothing >= max(self.suspects[0].share, self.other)

    def groups(self) -> tuple[Group, ...]:
        """Suspects worth a word, each once, with those that can't be told from it."""
        by_key = {s.spot.key: s for s in self.suspects}
        out: list[Group] = []
        taken: set[tuple[str, str]] = set()
        for s in self.suspects:
            if s.share < LEAST_SHARE or s.spot.key in taken:
                continue
            beside = [by_key[x.key] for x in s.group if x.key in by_key and x.key not in taken]
            own = tuple(sorted((s, *beside), key=lambda x: -x.share))
            taken |= {x.spot.key for x in own}
            places = {x.spot.name for x in own}
            out.append(Group(own, next(iter(places)) if len(places) == 1 else ""))
        return tuple(out)

    @property
    def unknown(self) -> bool:
        """Whether something that is not in the table is likelier than all that is."""
        return self.other > self.nothing and self.other > sum(x.share for x in self.suspects[:3])


def fit(b: Built, every: Tracks, said: Sequence[Said]) -> Fitted | None:
    """What readings say of a house; None of fewer than three, or where none is of a place that is known.

    Args:
        every: its faults at all places, see `tracks`.
    """
    column = {p.key: k for k, p in enumerate(every.places)}
    own = [x for x in said if x.place.key in column]
    if len(own) < LEAST_READINGS:
        return None
    return _Fit(b, every, own, [column[x.place.key] for x in own]).all()


class _Single(NamedTuple):
    log: Array
    """Evidence of each fault, natural logarithm, (faults,)."""
    best: Index
    """Its likeliest amount."""
    chi2: Array
    """At that amount."""


class _Pair(NamedTuple):
    one: int
    two: int
    log: float
    predicted: Array
    """At every place."""


class _Fit:
    """One fit: readings, their covariance, and all faults at their places."""

    def __init__(self, b: Built, every: Tracks, said: Sequence[Said], columns: list[int]) -> None:
        self.b, self.every, self.said, self.columns = b, every, said, columns
        self.own = every.at(columns)
        self.y = np.array([x.value for x in said])
        sd = scatter(self.own.places, self.own.base, {k: x.share for k, x in enumerate(said)})
        self.whole: Array = np.diag(sd**2) + self.own.spread.T @ self.own.spread
        self.weight = np.asarray(np.linalg.inv(self.whole))
        self.off = self.y - self.own.base
        self.moved = self.own.predicted - self.own.base
        self.weighed: Array = self.moved @ self.weight
        self.norm: Array = np.einsum("kfi,kfi->kf", self.weighed, self.moved)
        count: dict[str, int] = {}
        for s in every.spots:
            count[s.kind.id] = count.get(s.kind.id, 0) + 1
        # how often each is met: that of its kind, shared by its places
        self.log_prior = np.log([s.kind.often / count[s.kind.id] for s in every.spots])
        self.log_prior[np.abs(self.moved / sd).max(axis=(1, 2)) < SEEN] = IMPOSSIBLE

    def chi2(self, off: Array) -> float:
        return float(off @ self.weight @ off)

    def all(self) -> Fitted:
        plain, n, count = self.chi2(self.off), len(self.y), len(self.every.spots)
        singles = self._singles()
        pairs = self._pairs(singles)
        logs = np.concatenate(
            [
                singles.log + self.log_prior,
                [p.log for p in pairs],
                [-plain / 2 + np.log(HOW_OFTEN_NOTHING)],
                [-plain / 2 / BROAD**2 - n * np.log(BROAD) + np.log(HOW_OFTEN_OTHER)],
            ]
        )
        belief = np.asarray(np.exp(logs - logs.max()))
        belief /= belief.sum()
        share = belief[:count].copy()
        for p, mass in zip(pairs, belief[count:-2], strict=True):
            share[[p.one, p.two]] += mass
        best = int(np.argmax(belief))
        pair = pairs[best - count] if count <= best < count + len(pairs) else None
        everywhere = pair.predicted if pair else self._of(best, singles) if best < count else self.every.base
        likeliest = everywhere[self.columns]
        return Fitted(
            self._suspects(share, singles, plain),
            (self.every.spots[pair.one], self.every.spots[pair.two]) if pair else None,
            float(belief[-2]),
            float(belief[-1]),
            plain,
            float(np.sqrt(self.chi2(self.y - likeliest) / n)),
            self._residuals(likeliest),
            self._belief(belief, singles, pairs),
        )

    def _of(self, k: int, singles: _Single) -> Array:
        return np.asarray(self.every.predicted[k, singles.best[k]])

    # ---- evidence -----------------------------------------------------------------------------------------------------

    def _singles(self) -> _Single:
        chi2 = self.chi2(self.off) - 2 * self.weighed @ self.off + self.norm
        logs = -chi2 / 2 + self.own.log_weight
        best = np.argmax(logs, axis=1)
        return _Single(_log_sum(logs), best, np.take_along_axis(chi2, best[:, None], 1)[:, 0])

    def _pairs(self, singles: _Single) -> list[_Pair]:
        """Pairs of the likeliest faults with all others: first as if what they do added up, the best then solved."""
        found: dict[tuple[int, int], tuple[float, int, int, int, int]] = {}
        spots = self.every.spots
        for k in np.argsort(-(singles.log + self.log_prior))[:PAIRED].tolist():
            fine = self.moved.shape[1]
            tried = sorted({min(max(int(singles.best[k]) + d, 0), fine - 1) for d in AROUND})
            # the second one is tried on what the first leaves
            left = self.off - self.moved[k, tried]
            rest = np.einsum("ki,ij,kj->k", left, self.weight, left)
            chi2 = rest[:, None, None] - 2 * np.moveaxis(self.weighed @ left.T, 2, 0) + self.norm
            logs = -chi2 / 2 + self.own.log_weight + self.own.log_weight[k, tried][:, None, None]
            at = logs.reshape(len(tried), len(spots), -1)
            worth = at.max(axis=(0, 2)) + self.log_prior + self.log_prior[k]
            for m in np.argsort(-worth)[: 2 * REFINED].tolist():
                key = (min(k, m), max(k, m))
                if not _same_thing(spots[k], spots[m]) and worth[m] > found.get(key, (-np.inf,))[0]:
                    i, j = np.unravel_index(int(np.argmax(at[:, m])), at[:, m].shape)
                    found[key] = (float(worth[m]), k, m, tried[int(i)], int(j))
        likely = max(
            float((singles.log + self.log_prior).max()), -self.chi2(self.off) / 2 + np.log(HOW_OFTEN_NOTHING)
        )
        worth_it = [x for x in found.values() if x[0] + np.log(BOTH) > likely - FAR_BEHIND]
        return self._refined(sorted(worth_it, reverse=True)[:REFINED])

    def _refined(self, chosen: list[tuple[float, int, int, int, int]]) -> list[_Pair]:
        """Pairs solved as they are; what they do beyond the sum of both is kept while amounts are looked over."""
        every, out = self.every, []
        spots, amounts = every.spots, every.amounts
        changes = [
            change(self.b, spots[k], float(amounts[k, i])) + change(self.b, spots[m], float(amounts[m, j]))
            for _, k, m, i, j in chosen
        ]
        solved = self.b.predicted(every.places, changes) if changes else ()
        for (_, k, m, i, j), row in zip(chosen, solved, strict=True):
            if not np.isfinite(row).all():
                continue
            beyond = row - (every.predicted[k, i] + every.predicted[m, j] - every.base)
            left = self.off - beyond[self.columns]
            chi2 = (
                self.chi2(left)
                + (self.norm[k] - 2 * self.weighed[k] @ left)[:, None]
                + (self.norm[m] - 2 * self.weighed[m] @ left)[None, :]
                + 2 * self.weighed[k] @ self.moved[m].T
            )
            logs = -chi2 / 2 + every.log_weight[k][:, None] + every.log_weight[m][None, :]
            p, q = np.unravel_index(int(np.argmax(logs)), logs.shape)
            log = float(_log_sum(logs.reshape(1, -1))[0]) + self.log_prior[k] + self.log_prior[m] + np.log(BOTH)
            predicted = beyond + every.predicted[k, p] + every.predicted[m, q] - every.base
            out.append(_Pair(k, m, float(log), predicted))
        return out

    # ---- what is said -------------------------------------------------------------------------------------------------

    def _suspects(self, share: Array, singles: _Single, plain: float) -> tuple[Suspected, ...]:
        order = np.argsort(-share)
        out = []
        for k in order[:MOST].tolist():
            beside = self._beside(k, order, singles, share)
            gained = 1 - float(singles.chi2[k]) / plain if plain > 0 else 0.0
            out.append(
                Suspected(
                    self.every.spots[k],
                    float(share[k]),
                    float(self.every.amounts[k, singles.best[k]]),
                    float(singles.chi2[k]),
                    gained,
                    tuple(self.every.spots[m] for m in beside),
                    float(min(share[[k, *beside]].sum(), 1.0)),
                )
            )
        return tuple(out)

    def _beside(self, k: int, order: Index, singles: _Single, share: Array) -> list[int]:
        """Faults whose prediction lies nearer to that of another one at its likeliest than readings scatter."""
        mine = self.moved[k, singles.best[k]]
        near = []
        for m in order[: 3 * MOST].tolist():
            if m == k or share[m] < LEAST_BESIDE * share[k]:
                continue
            off = (self.moved[m] - mine)[self.own.log_weight[m] > np.log(1e-4)]
            if np.einsum("ki,ij,kj->k", off, self.weight, off).min(initial=np.inf) < APART**2:
                near.append(m)
        return near[:BESIDE]

    def _residuals(self, likeliest: Array) -> tuple[Residual, ...]:
        scale = np.sqrt(np.diag(self.whole))
        columns = (self.y, likeliest, (self.y - likeliest) / scale, self.own.base, self.off / scale)
        rows = zip(self.own.places, *(x.tolist() for x in columns), strict=True)
        return tuple(Residual(*row) for row in rows)

    def _belief(self, belief: Array, singles: _Single, pairs: list[_Pair]) -> Belief:
        every, count = self.every, len(self.every.spots)
        order = [k for k in np.argsort(-belief).tolist() if k != len(belief) - 1][: 2 * MOST]
        predicted, spots = [], []
        for k in order:
            pair = pairs[k - count] if count <= k < count + len(pairs) else None
            single = k < count
            predicted.append(pair.predicted if pair else self._of(k, singles) if single else every.base)
            spots.append(every.spots[pair.one] if pair else every.spots[k] if single else None)
        share = belief[order] / max(float(belief[order].sum()), 1e-300)
        noise = scatter(every.places, every.base)
        # what the readings leave open of the house's own scatter
        across = every.spread.T @ self.own.spread
        open_ = np.einsum("ki,ki->i", every.spread, every.spread) - np.einsum(
            "ij,jk,ik->i", across, self.weight, across
        )
        return Belief(share, np.array(predicted), np.maximum(open_, 0.0), noise, tuple(spots))


def _log_sum(logs: Array) -> Array:
    """Logarithm of the sum of exponentials along the last axis."""
    top = logs.max(axis=-1)
    return np.asarray(top + np.log(np.exp(logs - top[..., None]).sum(axis=-1)))


def _same_thing(a: Spot, b: Spot) -> bool:
    """Whether two faults are of one thing at one place, so that they are no pair."""
    return a.where == b.where and (a.kind.thing or a.kind.id) == (b.kind.thing or b.kind.id)
