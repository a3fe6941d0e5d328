"""What to read or to look at next: the greatest expected drop in doubt for its minutes, walking and ladder counted."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from murvan.arrays import Array
from murvan.field.built import IN_DUCTS
from murvan.field.fit import Belief, Fitted, Suspected
from murvan.field.places import Place
from murvan.field.spots import Spot

DRILLED = 4.0
"""Minutes that a hole in a duct takes more, with its plug."""
TRAVERSED = 18.0
"""Minutes of a traverse with its holes."""
MINUTES = {
    "flow": 2.5,
    "static": 2.0,
    "temperature": 1.5,
    "power": 2.0,
    "wet_bulb": 2.0,
    "line_pressure": 6.0,
    "co": 4.0,
    "pressure": 3.0,
    "vacuum": 5.0,
}
"""By quantity, with the walk there; common practice."""
ENOUGH = 0.9
"""Share of belief in a suspect from which looking at it is better than reading on."""
SOUND = 0.6
"""Of belief that nothing is wrong, from which nobody reads on: what is left is spread over every fault there is."""
LEAST_LOOK = 0.1
"""Share of belief in a suspect from which anybody goes and looks."""
NODES = 161
LEAST_BITS = 0.02
"""What a reading has to tell to be worth its minutes."""


@dataclass(frozen=True)
class Next:
    """A reading, or a look at a suspect."""

    place: Place | None
    look: Suspected | None
    bits: float
    """Doubt that it is expected to take away, bits."""
    minutes: float
    enough: bool
    """Whether what is known is enough: look there and repair it."""
    parts: tuple[tuple[Spot | None, float], ...] = ()
    """Of a reading, two explanations that it tells apart and what each predicts there, SI."""

    @property
    def words(self) -> str:
        """What to do."""
        if self.look is not None:
            spot = self.look.spot
            return f"{spot.kind.to_try.format(spot.name)} ({spot.title})"
        assert self.place is not None
        return f"Read {self.place.name}"


def next_reading(f: Fitted, places: Sequence[Place], read: Iterable[Place]) -> Next | None:
    """The best next step; None where nothing would tell more.

    Args:
        places: of `f.belief`.
        read: read already; they may be read once more, at half the worth of their noise.
    """
    if f.nothing_wrong and f.nothing >= SOUND:
        return None
    top = f.suspects[0] if f.suspects else None
    if top is not None and not f.nothing_wrong and top.share >= ENOUGH:
        return Next(None, top, doubt(f.belief.share), top.spot.kind.minutes, True)
    found = [*_readings(f.belief, places, read)]
    found += [
        Next(None, s, bits, s.spot.kind.minutes, False)
        for s in f.suspects[:4]
        if s.share >= LEAST_LOOK and (bits := _binary(s.share)) >= LEAST_BITS
    ]
    return max(found, key=lambda n: n.bits / n.minutes, default=None)


def splitting(f: Fitted, s: Suspected, places: Sequence[Place], read: Iterable[Place]) -> Next | None:
    """The reading that tells a suspect best from its group; None where it has none, or none does."""
    keys = {s.spot.key, *(x.key for x in s.group)}
    own = [k for k, x in enumerate(f.belief.spots) if x is not None and x.key in keys]
    if len(own) < 2:
        return None
    total = float(f.belief.share[own].sum())
    if total <= 0.0:
        return None
    share = f.belief.share[own] / total
    alone = replace(
        f.belief, share=share, predicted=f.belief.predicted[own], spots=tuple(f.belief.spots[k] for k in own)
    )
    return max(_readings(alone, places, read), key=lambda n: n.bits / n.minutes, default=None)


def _readings(b: Belief, places: Sequence[Place], read: Iterable[Place]) -> Iterator[Next]:
    done = {p.key for p in read}
    for k, p in enumerate(places):
        bits = _told(b, k, p.key in done)
        if bits >= LEAST_BITS:
            yield Next(p, None, bits, minutes(p), False, _apart(b, k))


def minutes(p: Place) -> float:
    """What a reading takes."""
    if p.at.kind == "run":
        return TRAVERSED
    return MINUTES[p.quantity] + (DRILLED if p.hole in IN_DUCTS else 0.0)


def doubt(share: Array) -> float:
    """Entropy of what may be, bits."""
    p = share[share > 0]
    return float(-(p * np.log2(p)).sum())


def _binary(p: float) -> float:
    return doubt(np.array([p, 1 - p])) if 0 < p < 1 else 0.0


def _told(b: Belief, k: int, again: bool) -> float:
    """Mutual information of a reading and what is wrong, bits: of a mixture of normals over a grid."""
    known = b.spread[k] if not again else 0.0
    sd = float(np.sqrt(known + b.noise[k] ** 2))
    means = b.predicted[:, k]
    if np.ptp(means) < 0.05 * sd:
        return 0.0
    grid = np.linspace(means.min() - 4 * sd, means.max() + 4 * sd, NODES)
    density = np.exp(-0.5 * ((grid - means[:, None]) / sd) ** 2)
    total = density.sum(axis=1, keepdims=True)
    density = density / np.where(total > 0, total, 1.0)
    mixed = np.maximum(b.share @ density, 1e-300)
    with np.errstate(divide="ignore", invalid="ignore"):
        parts = np.where(density > 0, density * np.log2(density / mixed), 0.0)
    return float(max(b.share @ parts.sum(axis=1), 0.0))


def _apart(b: Belief, k: int) -> tuple[tuple[Spot | None, float], ...]:
    """The likeliest explanation, and the likeliest other one that predicts something else there."""
    sd = float(np.sqrt(b.spread[k] + b.noise[k] ** 2))
    predicted = b.predicted[:, k].tolist()
    other = next((n for n, x in enumerate(predicted) if abs(x - predicted[0]) > sd), None)
    return tuple((b.spots[n], predicted[n]) for n in ((0,) if other is None else (0, other)))
