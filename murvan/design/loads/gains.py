"""Heat and moisture that people and things give off, by room and hour.

Base: 464 + .7 A + 75 N Btu/h sensible, 68 + .07 A + 41 N latent (ASHRAE Fundamentals, residential, from memory), the
fixed part in the kitchen, the rest by floor and where people are; what the user lists is added.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from murvan.arrays import Array
from murvan.design.house.geometry import Geometry
from murvan.design.loads.components import (
    GAIN_AREA_W_M2,
    GAIN_FIXED_W,
    GAIN_PERSON_W,
    LATENT_AREA_W_M2,
    LATENT_FIXED_W,
    LATENT_PERSON_W,
)
from murvan.model.job import Job

HOURS = 24
PEOPLE_RADIANT, THINGS_RADIANT = 0.55, 0.5
"""Radiant shares; ASHRAE ch. 18, from memory."""


@dataclass(frozen=True)
class Gains:
    """Gains of a summer day, W, (room, 24) unless said otherwise."""

    count: float
    """People in the house."""
    people: Array
    """In each room by hour."""
    people_w: Array
    people_latent_w: Array
    things_w: Array
    things_radiant_w: Array
    """Part of `things_w` that is given off as radiation."""
    things_latent_w: Array
    kitchen_share: Array
    """Each room's part of the fixed gain, (room,)."""


def on_hours(start: int, end: int) -> Array:
    """1 in the hours 1..24 that end after `start` and not after `end`, over midnight if need be."""
    hour = np.arange(1, HOURS + 1)
    inside = (hour > start) & (hour <= end) if start < end else (hour > start) | (hour <= end)
    return inside.astype(float)


def gains(job: Job, geometry: Geometry) -> Gains:
    """All gains of the job."""
    n = len(job.rooms)
    if not n:
        none = np.zeros((0, HOURS))
        return Gains(0.0, none, none, none, none, none, none, np.zeros(0))
    area = np.array(geometry.area_m2)
    count, people = _people(job, area)
    kitchen = np.array([1.0 if r.use == "kitchen" else 0.0 for r in job.rooms])
    fixed = kitchen / kitchen.sum() if kitchen.sum() else area / area.sum()
    own = np.array([r.appliances_w for r in job.rooms])
    flat = np.ones(HOURS)
    things = (GAIN_FIXED_W * fixed + GAIN_AREA_W_M2 * area + own)[:, None] * flat
    radiant = THINGS_RADIANT * things
    wet = (LATENT_FIXED_W * fixed + LATENT_AREA_W_M2 * area)[:, None] * flat
    index = {r.id: i for i, r in enumerate(job.rooms)}
    for x in job.appliances:
        i, on = index[x.room], x.count * on_hours(x.from_hour, x.to_hour)
        things[i] += x.sensible_w * on
        radiant[i] += x.radiant * x.sensible_w * on
        wet[i] += x.latent_w * on
    rate = job.indoor.moisture_rate
    return Gains(
        count, people, GAIN_PERSON_W * people, LATENT_PERSON_W * people * rate, things, radiant, wet * rate, fixed
    )


def people_said(job: Job) -> bool:
    """Whether somebody has said where people are."""
    return any(r.people > 0 for r in job.rooms)


def _people(job: Job, area: Array) -> tuple[float, Array]:
    """People in each room by hour, (room, 24): as said, or bedrooms + 1 in the living room by day and the bedrooms by
    night."""
    if people_said(job):
        people = np.array([r.people for r in job.rooms])
        there = np.array([on_hours(r.people_from, r.people_to) for r in job.rooms])
        return float(people.sum()), people[:, None] * there
    count = float(job.bedrooms + 1)
    night = on_hours(*NIGHT)
    return count, count * (_asleep(job, area)[:, None] * night + _awake(job, area)[:, None] * (1 - night))


NIGHT = (22, 7)
"""Hours in bed; common practice."""
LIVING = (("living",), ("dining", "kitchen", "study"), ())
"""Where people are by day: the first uses of which the house has a room, else everywhere by floor."""


def _asleep(job: Job, area: Array) -> Array:
    """Share of the people in each room at night: two in the largest bedroom (bedrooms alike share that), one in each other."""
    bedroom = np.array([r.use == "bedroom" for r in job.rooms])
    if not bedroom.any():
        return np.asarray(area / area.sum())
    largest = bedroom & (area >= (1 - 1e-6) * area[bedroom].max())
    beds = bedroom + largest / largest.sum()
    return np.asarray(beds / beds.sum())


def _awake(job: Job, area: Array) -> Array:
    """Share of the people in each room by day."""
    for uses in LIVING:
        here = np.array([float(r.use in uses or not uses) for r in job.rooms]) * area
        if here.sum() > 0:
            return np.asarray(here / here.sum())
    raise AssertionError("rooms have floor")


def by_day(hourly: Array) -> Array:
    """The most of the hours when the house is hottest, (room,): what load factors take."""
    return np.asarray(hourly[:, 11:21].max(axis=1))
