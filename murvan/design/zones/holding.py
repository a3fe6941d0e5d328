"""How rooms hold their temperature with one thermostat a zone: a hot and a cold design day, hour by hour.

Each zone gets as much of its design air as keeps the room of its thermostat at its set temperature; the other rooms get it in the same
measure, and drift by what they need more or less. They balance with the outdoors, with the rooms round them by partitions, floors and
doorways (as open as people leave them), and with what of the house warms and cools within a day.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array
from murvan.design.house.between import doorway_w_k, joined, partitions
from murvan.design.house.geometry import shape_of
from murvan.design.house.passages import ways
from murvan.design.results import Results

HOLDS_K = {"cooling": 5.0 / 3, "heating": 10.0 / 9}
"""From its thermostat's set temperature, 3 °F in cooling and 2 °F in heating; common practice of comfort."""
STORES_J_M2K = 60e3
"""What of a house of light wood warms and cools with its air within a day, by its floor; from memory."""
AT_DOOR_K = 1.0
"""Difference that the air through an open doorway goes by."""
DAYS = 2
"""Run one after the other until the day repeats; the last counts."""
STEP_S = 3600.0
FULL = 1.5
"""Of its design air, what a zone gets at most: what the others leave comes on top of its own."""


class Held(NamedTuple):
    """How rooms do, over both days."""

    most_k: Array
    """Farthest from the set temperature, warmer positive, (season, rooms)."""
    out_kh: float
    """Kelvin beyond what holds times hours, all rooms of both days."""

    @property
    def out(self) -> NDArray[np.bool_]:
        """Rooms that don't hold, (rooms,)."""
        limit = np.array([[HOLDS_K["cooling"]], [HOLDS_K["heating"]]])
        return np.asarray((np.abs(self.most_k) > limit).any(axis=0))


@dataclass(frozen=True)
class Season:
    """One of the days."""

    name: str
    inverse: Array
    """Of the rooms' balance over a step, K/W, (rooms, rooms)."""
    store_w_k: Array
    """(rooms,)"""
    gains_w: Array
    """What each room gains at its set temperature, sensible, (hours, rooms): 24 that repeat, or one that lasts; negative: it
    loses."""
    air_w: Array
    """What each room's design air takes out of it, (rooms,); negative: brings."""


@dataclass(frozen=True)
class House:
    """All that does not depend on zones and thermostats."""

    seasons: tuple[Season, ...]


def house_of(r: Results) -> House:
    """The two days of a house. Rooms without air of their own follow the others."""
    job, c = r.job, r.conditions
    g, doorways = joined(job, partitions(job), (*(w := ways(job)).home.values(), *w.others), False)
    for i, k, size in doorways:
        g[i, k] += doorway_w_k(size, AT_DOOR_K, c.density_kg_m3)
        g[k, i] = g[i, k]
    difference = max(c.heating_difference_k, 0.1)
    heating = np.asarray(r.loads.heating_w, float)
    floor = np.array([shape_of(x.outline_m).area for x in job.rooms])
    store = STORES_J_M2K * floor / STEP_S
    balance = np.diag(g.sum(axis=1) + heating / difference) - g
    hot = r.loads.rooms_by_hour_w
    month = int(np.argmax(hot.sum(axis=1).max(axis=1)))
    gains = hot[month].T
    cool, heat = _air_w(r, np.maximum(gains.max(axis=0), 0.0), heating)
    hot_day = Season("cooling", _inverse(balance + np.diag(store)), store, gains, cool)
    cold_day = Season("heating", _inverse(balance), np.zeros(len(floor)), -heating[None], -heat)
    return House((hot_day, cold_day))


def _inverse(balance: Array) -> Array:
    return np.linalg.inv(balance).astype(float)


def _air_w(r: Results, peak_w: Array, heating_w: Array) -> tuple[Array, Array]:
    """What each room's design air takes out of it on the hot day, and brings on the cold one, (rooms,).

    Ducts give a room the same part of a unit's air all year: as laid out, else by its own peak in summer. Heads give each room what
    it needs.
    """
    flow, index = np.asarray(r.room_m3_s, float), {x.id: k for k, x in enumerate(r.job.rooms)}
    cool, heat = peak_w.copy(), heating_w.copy()
    ducted = [s.design.serves for s in r.systems.values() if s.design.indoor.kind == "ducted"]
    for rooms in [x for x in ducted if x] or ([] if r.systems else [tuple(index)]):
        own = np.array([index[i] for i in rooms])
        by = flow[own] if flow[own].sum() > 0 else peak_w[own]
        share = by / max(float(by.sum()), 1e-12)
        cool[own], heat[own] = share * peak_w[own].sum(), share * heating_w[own].sum()
    return cool, heat


def held(house: House, zone: NDArray[np.intp], thermostats: NDArray[np.intp]) -> list[Held]:
    """How all rooms do, by each of some ways to part the house and to hang the thermostats.

    Args:
        zone: of each room, from 0; -1: none, it gets no air of a zone, (ways, rooms).
        thermostats: rooms of the zones' thermostats, (ways, zones).
    """
    found = [_day(s, zone, thermostats) for s in house.seasons]
    limits = [HOLDS_K[s.name] for s in house.seasons]
    out = []
    for k in range(len(thermostats)):
        drift = [f[k] for f in found]  # (hours, rooms)
        at = [np.abs(x).argmax(axis=0) for x in drift]
        most = np.array([np.take_along_axis(x, i[None], 0)[0] for x, i in zip(drift, at, strict=True)])
        beyond = sum(
            24 * float(np.maximum(np.abs(x) - h, 0.0).sum(axis=1).mean()) for x, h in zip(drift, limits, strict=True)
        )
        out.append(Held(most, beyond))
    return out


def _day(s: Season, zone: NDArray[np.intp], thermostats: NDArray[np.intp]) -> Array:
    """Drift of every room from its set temperature, K, (ways, hours, rooms)."""
    (ways_, zones), rooms = thermostats.shape, zone.shape[1]
    # K of each room for each zone's air, (ways, rooms, zones)
    by_zone = s.inverse @ np.where(zone[:, :, None] == np.arange(zones), s.air_w[:, None], 0.0)
    at = np.take_along_axis(by_zone, thermostats[:, :, None], 1)  # at each thermostat, by each zone
    ways_back = np.linalg.inv(np.where(_dead(at)[:, :, None], np.eye(zones), at))
    t = np.zeros((ways_, rooms))
    hours = len(s.gains_w)
    out = np.empty((ways_, hours, rooms))
    for step in range(hours * DAYS if s.store_w_k.any() else hours):
        free = (s.gains_w[step % hours] + s.store_w_k * t) @ s.inverse.T
        u = _called(at, ways_back, np.take_along_axis(free, thermostats, 1))
        t = free - np.einsum("wrz,wz->wr", by_zone, u)
        out[:, step % hours] = t
    return out


def _called(at: Array, ways_back: Array, want_k: Array) -> Array:
    """How much of its air each zone gets, (ways, zones): what brings its thermostat back, within none and all of it; one that
    stands at an end stays there, and the others are found again.

    Args:
        ways_back: inverse of `at` with ones for zones that get no air, (ways, zones, zones).
    """
    u = np.einsum("wij,wj->wi", ways_back, want_k)
    fixed = _dead(at)
    u[fixed] = 0.0
    eye, stands = np.eye(want_k.shape[1]), np.zeros_like(u)
    for _ in range(want_k.shape[1]):
        ends = np.clip(u, 0.0, FULL)
        beyond = (ends != u) & ~fixed
        if not beyond.any():
            break
        stands, fixed = np.where(beyond, ends, stands), fixed | beyond
        a = np.where(fixed[:, :, None], eye, at)
        u = np.linalg.solve(a, np.where(fixed, stands, want_k)[:, :, None])[:, :, 0]
    return np.asarray(np.clip(u, 0.0, FULL))


def _dead(at: Array) -> NDArray[np.bool_]:
    """Zones that get no air, (ways, zones)."""
    return np.asarray(np.abs(np.diagonal(at, axis1=1, axis2=2)) < 1e-12)
