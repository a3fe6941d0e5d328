"""What no two houses have alike that are built as designed, nor two instruments of one make: drawn for a virtual house, and as a
covariance for the fit."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal, NamedTuple

import numpy as np

from murvan.arrays import Array
from murvan.field.built import Built
from murvan.field.places import Place
from murvan.field.state import Change
from murvan.kinds.readings import READS
from murvan.physics.circuit import Circuit
from murvan.physics.constants import FLOAT_TINY

DRAG, FACE, FILTER, COIL, LEAKS, BLOWER, CAPACITY, POWER = 0.06, 0.05, 0.1, 0.08, 0.3, 0.02, 0.06, 0.05
"""Standard, a share: resistance of a run, of a face, filter, coil; leaks; air of the blower, capacity, power; common practice."""
UNNOTED = 0.2
"""Of capacity, where it goes by the weather and nobody noted that."""
WARMER_K = 1.0
"""Standard, by how much rooms are warmer than they are set."""
GAIN = {"flow": 0.01, "static": 0.01}
"""Standard error of an instrument's own gain within its makers' limits, common to all it reads."""
LEAST = {"flow": 0.0005, "static": 0.6, "temperature": 0.3, "power": 3.0, "wet_bulb": 0.3, "line_pressure": 7000.0}
"""What of a reading scatters however small it is, SI."""


class Cause(NamedTuple):
    """One thing that differs from house to house."""

    of: Literal["drag", "leak", "fan", "gain", "capacity", "power", "room"]
    sd: float
    """Standard deviation of its logarithm; of a room's warmth, K."""
    branches: tuple[int, ...] = ()
    where: str = ""
    """The unit, or the quantity."""


def causes(b: Built) -> Iterator[Cause]:
    """All of a house."""
    layout = b.layout
    for at in layout.run_branch.values():
        yield Cause("drag", DRAG, (at,))
    for at in layout.register_branch.values():
        yield Cause("drag", FACE, (at,))
    leaks = tuple(x for found in layout.duct_leaks.values() for x, _ in found)
    if leaks:
        yield Cause("leak", LEAKS, leaks)
    for i, u in layout.units.items():
        yield Cause("drag", FILTER, (u.filter_branch,))
        yield Cause("drag", COIL, (u.heater_branch,))
        yield Cause("fan", BLOWER, (u.blower_branch,), i)
        yield Cause("capacity", CAPACITY, (), i)
        yield Cause("power", POWER, (), i)
    for quantity, share in GAIN.items():
        yield Cause("gain", share, (), quantity)
    yield Cause("room", WARMER_K)


def scatter(places: Sequence[Place], values: Array, shares: dict[int, float] | None = None) -> Array:
    """Standard deviation of each reading by its instrument, SI; `shares` by place where it is another one's."""
    out = np.empty(len(places))
    for k, p in enumerate(places):
        own = READS[p.quantity]
        share = (shares or {}).get(k, own.uncertainty)
        out[k] = np.sqrt((share * values[k]) ** 2 + LEAST[p.quantity] ** 2 + own.step**2 / 12)
    return out


# ---- as a covariance --------------------------------------------------------------------------------------------------


def spread(b: Built, places: Sequence[Place], base: Array) -> Array:
    """How far each reading moves at a standard deviation of each cause, (causes, readings), solved to both sides.

    Args:
        base: what is read as designed, (readings,).
    """
    own = list(causes(b))
    moving = [x for x in own if x.of in ("drag", "fan")]
    both = [b.predicted(places, [_moved(b, x, way) for x in moving]) for way in (1, -1)]
    rows = [(both[0] - both[1]) / 2]
    for x in own:
        if x.of == "leak":
            rows.append(b.predicted(places, [Change()], lambda c, x=x: _leaking(c, x)) - base)  # type: ignore[misc]
        elif x not in moving:
            rows.append(_shown(b, x, places, base)[None])
    return np.vstack(rows)


def _moved(b: Built, cause: Cause, way: int) -> Change:
    """The house a standard deviation off."""
    times = float(np.exp(way * cause.sd))
    if cause.of == "fan":
        return Change(fans={cause.where: dict(b.circuit.fans)[cause.branches[0]].slowed(times)})
    return Change(b.series(cause.branches[0], times))


def _leaking(c: Circuit, cause: Cause) -> Circuit:
    wide = c.power_c.copy()
    wide[list(cause.branches)] *= np.exp(cause.sd)
    return replace(c, power_c=wide)


def _shown(b: Built, cause: Cause, places: Sequence[Place], base: Array) -> Array:
    """By how much readings are off at a standard deviation of what moves no air."""
    row = np.zeros(len(places))
    for k, p in enumerate(places):
        if (
            cause.of == "gain"
            and p.quantity == cause.where
            or (cause.of, p.quantity, cause.where) == ("power", "power", p.at.id)
        ):
            row[k] = cause.sd * base[k]
        elif (cause.of, p.quantity, cause.where) == ("capacity", "temperature", p.at.id):
            row[k] = (cause.sd if _noted(b, p) else UNNOTED) * (base[k] - b.indoor_c(p.state))
        elif cause.of == "room" and p.quantity == "temperature":
            row[k] = cause.sd
    return row


def _noted(b: Built, p: Place) -> bool:
    """Whether the weather is known by which a unit gives what it gives."""
    unit = b.units[p.at.id].unit
    return p.state.outdoor_c is not None or (unit is not None and unit.heating is None and p.state.mode != "cooling")


# ---- drawn ------------------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Drawn:
    """One house of all that are built to a design."""

    more: Array
    """By branch, what it resists more than designed, Pa per (m3/s)2."""
    air: dict[str, float]
    """By unit, times the air of its blower."""
    capacity: dict[str, float]
    power: dict[str, float]
    gain: dict[str, float]
    """By quantity, what its instrument shows times the truth."""
    leaks: Array
    """By branch, times its leak."""
    warmer_k: float

    def built(self, c: Circuit) -> Circuit:
        """The circuit of a state of this house; what is out of it stays out."""
        k = np.where(c.k <= FLOAT_TINY, c.k, c.k + self.more)
        return replace(c, k=k, power_c=c.power_c * self.leaks)

    def of(self, b: Built, x: Change) -> Change:
        """A change in this house."""
        curves = {i: dict(b.circuit.fans)[u.blower_branch] for i, u in b.layout.units.items()}
        own = {at: float(b.circuit.k[at] + self.more[at]) for at in b.layout.run_branch.values()}
        fans = {i: x.fans.get(i, curve).slowed(self.air[i]) for i, curve in curves.items()}
        return replace(
            x,
            k=own | {at: max(k + float(self.more[at]), 0.0) for at, k in x.k.items()},
            fans=fans,
            capacity={i: x.capacity.get(i, 1.0) * share for i, share in self.capacity.items()},
            flow_gain=x.flow_gain * self.gain["flow"],
            gauge_gain=x.gauge_gain * self.gain["static"],
            warmer_k=x.warmer_k + self.warmer_k,
        )


def drawn(b: Built, chance: np.random.Generator) -> Drawn:
    """A house as designed, give or take what no two have alike."""
    c = b.circuit
    more, leaks, warmer = np.zeros(len(c.start)), np.ones(len(c.start)), 0.0
    by_kind: dict[str, dict[str, float]] = {"fan": {}, "capacity": {}, "power": {}, "gain": {}}
    for x in causes(b):
        drawn_ = float(x.sd * chance.standard_normal())
        times = float(np.exp(drawn_))
        if x.of == "room":
            warmer = drawn_
        elif x.of == "drag":
            at = x.branches[0]
            more[at] = b.series(at, times)[at] - c.k[at]
        elif x.of == "leak":
            leaks[list(x.branches)] *= times
        else:
            by_kind[x.of][x.where] = times
    return Drawn(more, by_kind["fan"], by_kind["capacity"], by_kind["power"], by_kind["gain"], leaks, warmer)
