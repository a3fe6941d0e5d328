"""Outdoor air that a house takes in: leaks, what fans draw through the shell, what comes in by a ventilator.

Fans that only blow out, or only in, change the pressure that leaks see: together the air is
max(Qu, Qi + Qu/2) with Qu the unbalanced flow and Qi what leaks without it (ASHRAE Fundamentals ch. 17). Ventilation keeps
its whole flow here and the leaks what is left, so the same flow by any kind of fan counts alike but for that.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from murvan.arrays import Array
from murvan.design.house.geometry import Geometry
from murvan.model.job import Job, Ventilator
from murvan.physics import heat


@dataclass(frozen=True)
class Fans:
    """Whole-house ventilation as fans, m3/s."""

    recovered: float
    """In and out through an exchanger."""
    blown_in: float
    drawn_out: float
    """By exhaust ventilation and the rooms' continuous fans."""

    @property
    def whole_house(self) -> float:
        """What counts as whole-house ventilation, m3/s: the larger of what comes in and what goes out by fans."""
        return self.recovered + max(self.blown_in, self.drawn_out)

    @property
    def unbalanced(self) -> float:
        """What fans draw out or blow in more than the other way, m3/s."""
        return abs(self.drawn_out - self.blown_in)

    @property
    def through_shell(self) -> float:
        """Air that comes in through the shell because fans draw it, m3/s."""
        return max(self.drawn_out - self.blown_in, 0.0)


@dataclass(frozen=True)
class Exchanger:
    """What recovers heat and moisture from the air that leaves; effectiveness 0..1."""

    word: str
    """'ERV', 'HRV', or both."""
    sensible: float = 0.0
    latent: float = 0.0


@dataclass(frozen=True)
class Stream:
    """Outdoor air of one season, m3/s."""

    alone: float
    """What would leak without fans."""
    leaks: float
    """What leaks besides the fans' air."""


@dataclass(frozen=True, eq=False)
class OutdoorAir:
    """Outdoor air of the house and its rooms, m3/s; arrays are by room."""

    leakage_area_cm2: float
    """cm2 at 4 Pa."""
    fans: Fans
    exchanger: Exchanger
    winter: Stream
    summer: Stream
    leak_share: Array
    """Each room's part of what comes through the shell."""
    floor_share: Array
    """Each room's part of what a ventilator shares out."""

    @property
    def infiltration_winter_m3_s(self) -> float:
        """Leaks at winter design without any fan, m3/s."""
        return self.winter.alone

    @property
    def infiltration_summer_m3_s(self) -> float:
        """Leaks at summer design without any fan, m3/s."""
        return self.summer.alone

    def leaks_m3_s(self, stream: Stream) -> Array:
        """Leaks by room beside the fans, m3/s, shape (rooms,)."""
        return self.leak_share * stream.leaks

    @property
    def plain_m3_s(self) -> Array:
        """Fresh air that comes as it is outdoors."""
        return self.floor_share * self.fans.blown_in + self.leak_share * self.fans.through_shell

    @property
    def recovered_m3_s(self) -> Array:
        """Fresh air through the exchanger, before recovery."""
        return self.floor_share * self.fans.recovered

    @property
    def fresh_m3_s(self) -> Array:
        """Fresh air as outdoor air that carries the same heat after recovery."""
        return self.plain_m3_s + (1 - self.exchanger.sensible) * self.recovered_m3_s

    @property
    def fresh_moist_m3_s(self) -> Array:
        """Fresh air as outdoor air that carries the same moisture."""
        return self.plain_m3_s + (1 - self.exchanger.latent) * self.recovered_m3_s


def continuous_exhaust_m3_s(job: Job) -> float:
    """Fans of rooms that run all day."""
    return sum(r.exhaust.flow_m3_s for r in job.rooms if r.exhaust is not None and r.exhaust.continuous)


def fans_of(job: Job) -> Fans:
    """What the job's fans move."""
    found = job.design.ventilators
    return Fans(
        recovered=sum(v.flow_m3_s for v in found if v.kind in RECOVERING),
        blown_in=sum(v.flow_m3_s for v in found if v.kind == "supply"),
        drawn_out=sum(v.flow_m3_s for v in found if v.kind == "exhaust") + continuous_exhaust_m3_s(job),
    )


RECOVERING = ("erv", "hrv")


def exchanger_of(ventilators: tuple[Ventilator, ...]) -> Exchanger:
    """All that recover, by their flows."""
    found = [v for v in ventilators if v.kind in RECOVERING]
    flow = sum(v.flow_m3_s for v in found)
    word = " and ".join(dict.fromkeys(v.kind.upper() for v in found))
    if len(found) == 1 or flow <= 0:
        return Exchanger(word, found[0].sensible_recovery, found[0].latent_recovery) if found else Exchanger(word)
    sensible, latent = (
        sum(v.flow_m3_s * getattr(v, k) for v in found) / flow for k in ("sensible_recovery", "latent_recovery")
    )
    return Exchanger(word, sensible, latent)


def outdoor_air(job: Job, geometry: Geometry, heating_difference_k: float, cooling_difference_k: float) -> OutdoorAir:
    """Outdoor air of both seasons."""
    area = heat.leakage_area_cm2(job.leakage.ach50 * geometry.total_volume_m3 / 3600)
    fans, climate = fans_of(job), job.climate

    def stream(difference_k: float, wind_m_s: float) -> Stream:
        alone = heat.leakage_flow_m3_s(area, difference_k, wind_m_s, geometry.stack_storeys, job.site.shielding)
        together = heat.combined_air_m3_s(alone, fans.unbalanced, 0.0)
        return Stream(alone, max(together - fans.unbalanced, 0.0))

    floor = np.array(geometry.area_m2, float)
    return OutdoorAir(
        area,
        fans,
        exchanger_of(job.design.ventilators),
        stream(heating_difference_k, climate.wind_winter_m_s),
        stream(cooling_difference_k, climate.wind_summer_m_s),
        np.array(geometry.leak_shares, float),
        floor / floor.sum() if len(floor) else floor,
    )
