"""Rooms without a unit of their own: how warm and how cool they are at design, with their doors open and shut.

Every room with a head, or with ducts of a unit that carries it, is at its set temperature; the others balance what they lose to the
outdoors, or gain, with what comes by doors, archways and the partitions and floors between. Air through an open doorway goes both ways
at once and follows from the difference in temperature: V = C W/3 (g dT/T)^.5 H^1.5 (Brown and Solvason 1962, from memory).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array
from murvan.design.drawing.things import room_at
from murvan.design.house.between import Doorway, doorway_w_k, joined, partitions
from murvan.design.house.passages import ways
from murvan.design.results import Results


@dataclass(frozen=True)
class Bare:
    """A room without a unit of its own, temperatures at design in C."""

    room: str
    heating_open_c: float
    heating_shut_c: float
    cooling_open_c: float
    cooling_shut_c: float
    loses_w_k: float
    """To the outdoors a kelvin."""
    between_w_k: float
    """Through partitions, floors and shut doors to the rooms round it a kelvin."""
    gains_w: float
    """Sensible, at its own peak."""


def bare_rooms(r: Results) -> tuple[Bare, ...]:
    """All rooms without a head or ducts of a picked unit; none in a house without units."""
    job = r.job
    kept = _kept(r)
    if not kept.any() or kept.all():
        return ()
    c = r.conditions
    difference = max(c.heating_difference_k, 0.1)
    lost = np.asarray(r.loads.heating_w, float) / difference
    gains = np.asarray(r.loads.sensible_w, float)
    still, doors = partitions(job), ways(job)
    passages = (*doors.home.values(), *doors.others)
    found = {}
    for season, inside, rest in (
        ("heating", job.indoor.heating_c, -lost * difference),
        ("cooling", job.indoor.cooling_c, gains),
    ):
        for shut in (False, True):
            g, open_ways = joined(job, still, passages, shut)
            found[season, shut] = _balanced(kept, inside, rest, lost, g, open_ways, c.density_kg_m3)
    between = joined(job, still, passages, True)[0].sum(axis=1)
    return tuple(
        Bare(
            room.id,
            float(found["heating", False][k]),
            float(found["heating", True][k]),
            float(found["cooling", False][k]),
            float(found["cooling", True][k]),
            float(lost[k]),
            float(between[k]),
            float(gains[k]),
        )
        for k, room in enumerate(job.rooms)
        if not kept[k]
    )


def _kept(r: Results) -> NDArray[np.bool_]:
    """Rooms that a unit keeps at their set temperature."""
    job, out = r.job, np.zeros(len(r.job.rooms), bool)
    index = {x.id: k for k, x in enumerate(job.rooms)}
    for s in r.systems.values():
        own = s.design.indoor
        if s.unit is None or own.storey is None:
            continue
        here = room_at(job, own.storey, own.position_m)
        for i in s.design.serves if own.kind == "ducted" else (here.id,) if here is not None else ():
            out[index[i]] = True
    return out


ROUNDS = 60


def _balanced(
    kept: NDArray[np.bool_],
    inside_c: float,
    rest_w: Array,
    lost_w_k: Array,
    g: Array,
    open_ways: tuple[Doorway, ...],
    density: float,
) -> Array:
    """Temperature of every room. The flow through doorways goes by the differences of the round before, half of the way at a
    time.

    Args:
        rest_w: Heat that a room at its set temperature gets from outdoors, sun and people, (rooms,).
    """
    t = np.where(kept, inside_c, inside_c + 0.5 * np.sign(rest_w))
    free = np.flatnonzero(~kept)
    for _ in range(ROUNDS):
        a = g.copy()
        for i, k, size in open_ways:
            a[i, k] += doorway_w_k(size, abs(t[i] - t[k]), density)
            a[k, i] = a[i, k]
        full = np.diag(a.sum(axis=1) + lost_w_k) - a
        right = rest_w + lost_w_k * inside_c - full[:, kept].sum(axis=1) * inside_c
        new = t.copy()
        new[free] = np.linalg.solve(full[np.ix_(free, free)], right[free])
        if np.abs(new - t).max() < 1e-4:
            return new
        t = t + 0.5 * (new - t)
    return np.asarray(t)
