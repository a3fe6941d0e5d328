"""The loads the house is designed for: steady heating, cooling by the heat balance of the design days.

Every room, every zone and the whole house have their own highest hour among the months looked at; the house's is below
the sum of its rooms' because they do not peak together.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from murvan.arrays import Array, Index
from murvan.design.loads.balance import Balance
from murvan.design.loads.components import COLUMN, COMPONENTS
from murvan.design.loads.factors import Factors
from murvan.design.loads.gains import Gains
from murvan.design.loads.setback import recovery_w
from murvan.model.job import Job


@dataclass(frozen=True)
class Peak:
    """The highest sensible load of some rooms together, and when."""

    name: str
    sensible_w: float
    latent_w: float
    month: int
    hour: int
    """1..24."""
    parts_w: Array
    """Sensible by component at that hour."""
    latent_parts_w: Array

    @property
    def total_w(self) -> float:
        """Sensible and latent, W."""
        return self.sensible_w + self.latent_w


@dataclass(frozen=True, eq=False)
class Loads:
    """Loads in W. Component matrices are (room, component), columns in the order of COMPONENTS."""

    months: tuple[int, ...]
    parts_by_hour_w: Array
    """Sensible, (month, room, component, 24)."""
    latent_by_hour_w: Array
    """(room, component, 24)."""
    heating_parts: Array
    heating_w: Array
    sensible_parts: Array
    """At each room's own peak."""
    latent_parts: Array
    sensible_w: Array
    latent_w: Array
    peak_month: Index
    """Month 1..12 and hour 1..24 of each room's peak."""
    peak_hour: Index
    house: Peak
    zones: tuple[Peak, ...]
    """Rooms on one thermostat, together."""
    heat_share: float = 1.0
    """Of the heating, what is asked for here; other heat that is kept carries the rest."""

    @property
    def house_heating_w(self) -> float:
        """Heating of all rooms at design that is asked for here, W."""
        return self.heat_share * self.whole_heating_w

    @property
    def whole_heating_w(self) -> float:
        """Heating of all rooms at design, whoever carries it, W."""
        return float(self.heating_w.sum())

    @property
    def house_sensible_w(self) -> float:
        """At the house's own peak."""
        return self.house.sensible_w

    @property
    def house_latent_w(self) -> float:
        """Latent load at the house's hour, W."""
        return self.house.latent_w

    @property
    def house_cooling_w(self) -> float:
        """Sensible and latent load at the house's hour, W."""
        return self.house.total_w

    @property
    def cooling_w(self) -> Array:
        """Each room at its own peak; the sum is more than the house ever needs."""
        return self.sensible_w + self.latent_w

    @cached_property
    def rooms_by_hour_w(self) -> Array:
        """Sensible, (month, room, 24)."""
        return np.asarray(self.parts_by_hour_w.sum(axis=2))

    @cached_property
    def house_by_hour_w(self) -> Array:
        """Sensible, (month, 24)."""
        return np.asarray(self.rooms_by_hour_w.sum(axis=1))

    def of_rooms(self, share: Array, heat_share: float = 1.0) -> Loads:
        """The loads of some rooms together, each taken by its share 0..1, (room,); their own peak stands as `house`."""
        if bool((share == 1.0).all()):
            return self if heat_share == self.heat_share else replace(self, heat_share=heat_share)
        rooms = list(np.flatnonzero(share > 0))
        part = share[rooms]
        hours = self.parts_by_hour_w[:, rooms] * part[None, :, None, None]
        wet = self.latent_by_hour_w[rooms] * part[:, None, None]
        by_room = ("heating_parts", "heating_w", "sensible_parts", "latent_parts", "sensible_w", "latent_w")
        scaled = {k: (getattr(self, k)[rooms].T * part).T for k in by_room}
        return Loads(
            months=self.months,
            parts_by_hour_w=hours,
            latent_by_hour_w=wet,
            peak_month=self.peak_month[rooms],
            peak_hour=self.peak_hour[rooms],
            house=_peak("Together", list(range(len(rooms))), self.months, hours, wet),
            zones=(),
            heat_share=heat_share,
            **scaled,
        )

    def at(self, month: int) -> int:
        """Index of a month that was looked at; the design month otherwise."""
        return self.months.index(month) if month in self.months else 0


@dataclass(frozen=True)
class DuctShares:
    """What ducts add: shares of each room's load, and moisture at full flow."""

    heating: Array
    """(room,)."""
    cooling: Array
    """(month, room, 24)."""
    latent_w: Array
    """(room,)."""


def loads(job: Job, gains: Gains, factors: Factors, day: Balance, ducts: DuctShares | None = None) -> Loads:
    """The design loads, from heating and latent parts and the heat balance; without `ducts` nothing is added for them."""
    n = len(job.rooms)
    parts = day.parts_w.copy()
    latent = np.repeat(factors.latent_parts[:, :, None], 24, axis=2)
    latent[:, COLUMN["people"]] = gains.people_latent_w
    latent[:, COLUMN["appliances"]] = gains.things_latent_w
    heating = factors.heating_parts.copy()
    heating[:, COLUMN["recovery"]] = recovery_w(job.design_day, day.admittance_w_k)
    if ducts is not None:
        heating = _with_ducts(heating, parts, latent, ducts)
    by_hour = parts.sum(axis=2)
    month, hour = _when(by_hour)
    room = np.arange(n)
    own = parts[month, room, :, hour]
    wet = latent[room, :, hour]
    zones = tuple(
        _peak(f"Zone {z.name}", [i for i, r in enumerate(job.rooms) if r.id in z.rooms], day.months, parts, latent)
        for z in job.design.zones
    )
    return Loads(
        months=day.months,
        parts_by_hour_w=parts,
        latent_by_hour_w=latent,
        heating_parts=heating,
        heating_w=np.maximum(heating.sum(axis=1), 0),
        sensible_parts=own,
        latent_parts=wet,
        sensible_w=np.maximum(own.sum(axis=1), 0),
        latent_w=np.maximum(wet.sum(axis=1), 0),
        peak_month=np.array(day.months, np.intp)[month],
        peak_hour=hour + 1,
        house=_peak("House", list(range(n)), day.months, parts, latent),
        zones=zones,
    )


def _with_ducts(heating: Array, parts: Array, latent: Array, ducts: DuctShares) -> Array:
    """Fill the ducts' column of sensible and latent parts, and return heating parts that have it."""
    k = COLUMN["ducts"]
    need = np.maximum(parts.sum(axis=2), 0)
    parts[:, :, k] = ducts.cooling * need
    top = need.max(axis=(0, 2))
    running = np.divide(need.max(axis=0), top[:, None], out=np.zeros(need.shape[1:]), where=top[:, None] > 0)
    latent[:, k] = ducts.latent_w[:, None] * running
    with_them = heating.copy()
    with_them[:, k] = ducts.heating * np.maximum(heating.sum(axis=1), 0)
    return with_them


def _when(by_hour: Array) -> tuple[Index, Index]:
    """Index of month and hour of the highest value of each column of (month, column, 24)."""
    columns = by_hour.shape[1]
    flat = by_hour.transpose(1, 0, 2).reshape(columns, by_hour.shape[0] * 24)
    at = flat.argmax(axis=1)
    return np.asarray(at // 24, np.intp), np.asarray(at % 24, np.intp)


def _peak(name: str, rooms: list[int], months: tuple[int, ...], parts: Array, latent: Array) -> Peak:
    """Highest hour of some rooms together."""
    if not rooms:
        none = np.zeros(len(COMPONENTS))
        return Peak(name, 0.0, 0.0, months[0], 15, none, none)
    mine = parts[:, rooms].sum(axis=1)
    (month,), (hour,) = _when(mine.sum(axis=1)[:, None])
    sensible, wet = mine[month, :, hour], latent[rooms, :, hour].sum(axis=0)
    return Peak(
        name,
        max(float(sensible.sum()), 0.0),
        max(float(wet.sum()), 0.0),
        months[int(month)],
        int(hour) + 1,
        sensible,
        wet,
    )
