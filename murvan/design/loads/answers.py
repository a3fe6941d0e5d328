"""What each room and unheated space does with what acts on it, worked out from surfaces alone.

For each harmonic the face of surface i is at T_i with (X_i + hc_i + hr) T_i = hr T_m + Y_i T_beyond + hc_i T_air + G_i, a
room has one mean-radiant node T_m with sum A hr (T_i - T_m) + radiant gains = 0, and what reaches its air is
sum A hc (T_i - T_air). People, appliances and outdoor air come on top, in `balance`: the balance is linear.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from typing import Any

import numpy as np

from murvan.arrays import Array, Index
from murvan.design.house.geometry import Geometry
from murvan.design.loads.balance_rows import (
    GLASS,
    SUN_ON_FLOOR,
    Complex,
    RoomKey,
    RoomPlace,
    Rows,
    SurfaceFace,
    kept_rows,
    room_keys,
    shells_of,
)
from murvan.design.loads.balance_walls import HR
from murvan.design.loads.components import COLUMN, COMPONENTS
from murvan.design.weather.conditions import Conditions
from murvan.model.job import Job
from murvan.physics.periodic import HARMONICS, Wall, harmonics, hourly

COMPS = len(COMPONENTS)
LINKED = ("walls", "garage", "doors", "ceiling", "floor")
"""Components whose surfaces may look into an unheated space, in the order of COMPONENTS."""
LINKED_COLUMNS = np.array([COLUMN[x] for x in LINKED])


@dataclass(frozen=True)
class Own:
    """What each room does by itself with the unheated spaces at its set point, and what a kelvin there adds.

    The unknowns of the spaces are [radiant, air] temperature, 2 x space.
    """

    load_w: Array
    """Of weather and sun on the air, (room, component, month, 24)."""
    radiant: Complex
    """Radiant temperature, (room, month, harmonic)."""
    radiant_k_w: Complex
    """Radiant temperature per watt that gains radiate, K/W, (room, harmonic)."""
    radiant_to_air: Complex
    """What of such a watt reaches the air, (room, harmonic)."""
    admittance_w_k: Complex
    """Heat that the room's air takes per kelvin that it swings."""
    mean_by_space: Complex
    """Radiant temperature per kelvin of a space, (room, unknown, harmonic)."""
    load_by_space: Complex
    """Load on the air likewise by the component of the surface, W/K, (room, component of LINKED, unknown, harmonic)."""
    into_space: Complex
    """What a kelvin of the room's radiant temperature sends into a space's balances, W/K."""
    sun: Complex
    """Sun on the room's faces, W, (room, month, harmonic)."""
    sun_into_space: Complex
    """Share of it that goes through a face into a space's balances, (room, unknown, harmonic)."""
    back: Complex
    """Share of the room's faces in the coefficients of the spaces, (room, 3, space, harmonic)."""

    def merged(self, fresh: Own, take: Index) -> Own:
        """Rooms of this and of `fresh` after it, in the order of `take`."""
        both = ((getattr(self, f.name), getattr(fresh, f.name)) for f in fields(self))
        return Own(*(np.concatenate(x)[take] for x in both))


@dataclass(frozen=True)
class Between:
    """The small system that ties the unheated spaces together once the rooms are eliminated: they see only spaces."""

    matrix: Complex
    """(harmonic, unknown, unknown)."""
    right: Complex
    """What weather and sun send in, (harmonic, unknown, month)."""
    linked: Index
    """Rooms that look into a space."""
    from_rooms: Complex
    """What a kelvin of their radiant temperature sends in, (harmonic, unknown, linked room)."""
    to_radiant: Complex
    """What a kelvin in a space adds to their radiant temperature, (harmonic, linked room, unknown)."""
    to_load: Complex
    """And to the load on their air, W/K, (harmonic, linked room x component of LINKED, unknown)."""


@dataclass(frozen=True, eq=False)
class Answers:
    """Rooms and spaces as their surfaces make them, and where that holds."""

    place: RoomPlace
    rows: dict[str, tuple[RoomKey, Rows]]
    own: Own
    between: Between
    fresh: tuple[str, ...]
    """Rooms worked out anew the last time."""


def answers(job: Job, geometry: Geometry, conditions: Conditions, previous: Answers | None = None) -> Answers:
    """Work out every room; with `previous`, an earlier state of the job, only those that have changed since."""
    kept = previous if previous is not None and previous.place.same_as(job, geometry, conditions) else None
    place = kept.place if kept is not None else RoomPlace(job, geometry, conditions)
    old = kept.rows if kept is not None else {}
    rows = {key.room: kept_rows(place, job, geometry, i, key, old) for i, key in enumerate(room_keys(job, geometry))}
    own, fresh = _kept(place, rows, kept)
    return Answers(place, rows, own, _between(job, geometry, place, own), fresh)


def _kept(
    place: RoomPlace, rows: dict[str, tuple[RoomKey, Rows]], kept: Answers | None
) -> tuple[Own, tuple[str, ...]]:
    """Every room by itself; those whose surfaces are the same as before are taken over."""
    before = {x: k for k, x in enumerate(kept.rows)} if kept is not None else {}
    take: list[int] = []
    touched: list[str] = []
    for name, (_, faces) in rows.items():
        k = before.get(name)
        if k is not None and kept is not None and kept.rows[name][1] is faces:
            take.append(k)
        else:
            take.append(len(before) + len(touched))
            touched.append(name)
    if kept is not None and not touched and take == list(range(len(before))):
        return kept.own, ()
    fresh = _own(place, [rows[x][1] for x in touched])
    return fresh if kept is None else kept.own.merged(fresh, np.array(take, np.intp)), tuple(touched)


class Faces:
    """Rows of several rooms (or of the shells of the spaces) as arrays, with the index of their owner."""

    def __init__(self, every: list[Rows]) -> None:
        faces = [x for rows in every for x in rows.faces]
        self.owner = np.repeat(np.arange(len(every)), [len(x.faces) for x in every])
        columns = list(zip(*faces, strict=True)) if faces else [()] * len(SurfaceFace._fields)
        zone, area, walls, hc, component, drive, other, other_hc, floor, _ = columns
        self.zone, self.component, self.drive, self.other = (
            np.array(x, np.intp) for x in (zone, component, drive, other)
        )
        self.area, self.hc, self.other_hc = (np.array(x, float) for x in (area, hc, other_hc))
        self.floor = np.array(floor, bool)
        self.inner, self.across = _stacked(walls)
        self.bottom = self.inner + self.hc[:, None] + HR
        self.to_mean = self.area[:, None] * HR / self.bottom
        self.to_air = self.area[:, None] * self.hc[:, None] / self.bottom

    def coefficients(self, sums: Groups, at: Index) -> Complex:
        """Radiant by radiant, radiant by air, air by air of the faces `at`, W/K, (3, group, harmonic)."""
        area, hc, bottom = self.area[at, None], self.hc[at, None], self.bottom[at]
        return np.array(
            [sums(area * HR * (1 - HR / bottom)), sums(area * HR * hc / bottom), sums(area * hc * (1 - hc / bottom))]
        )

    def weather(self, group: Index, count: int, at: Index, place: RoomPlace) -> tuple[Complex, Complex]:
        """What the temperatures beyond send to the radiant node and the air, W, (group, component, month, harmonic)."""
        drive = harmonics(np.array(place.drives))[self.drive[at]]
        sums = Groups(group * COMPS + self.component[at], count * COMPS)
        shape = (count, COMPS, place.months, HARMONICS)
        mean, air = (
            sums((x[at] * self.across[at])[:, None] * drive).reshape(shape) for x in (self.to_mean, self.to_air)
        )
        return mean, air


def _stacked(walls: Sequence[Wall]) -> tuple[Complex, Complex]:
    """`inner` and `across` of each wall, (row, harmonic); most rows share a few assemblies."""
    index: dict[int, int] = {}
    at = [index.setdefault(id(w), len(index)) for w in walls]
    each = list({id(w): w for w in walls}.values())
    shape = (len(each), HARMONICS)
    inner, across = (np.array([getattr(w, k) for w in each], complex).reshape(shape) for k in ("inner", "across"))
    return inner[at], across[at]


class Groups:
    """Sums over rows of the same group: (row, ...) to (count, ...)."""

    def __init__(self, group: Index, count: int) -> None:
        self.count = count
        self.order = np.argsort(group, kind="stable")
        sorted_ = group[self.order]
        new = np.ones(len(group), bool)
        new[1:] = sorted_[1:] != sorted_[:-1]
        self.starts = np.flatnonzero(new)
        self.groups = sorted_[self.starts]

    def __call__(self, values: Array | Complex) -> Any:
        out = np.zeros((self.count, *values.shape[1:]), values.dtype)
        if len(self.starts):
            out[self.groups] = np.add.reduceat(values[self.order], self.starts, axis=0)
        return out


def _own(place: RoomPlace, rooms: list[Rows]) -> Own:
    """Rooms by themselves."""
    n, spaces, months = len(rooms), len(place.names), place.months
    f = Faces(rooms)
    front, back = np.flatnonzero(f.zone < 0), np.flatnonzero(f.zone >= 0)
    room = f.owner[front]
    by_room = Groups(room, n)
    mean_rhs, load = f.weather(room, n, front, place)
    share, sun = sun_shares(f, front, by_room), _sun(rooms, months)
    for rhs, h in ((mean_rhs, HR), (load, f.hc[front, None])):
        rhs[:, : len(GLASS)] += by_room(h / f.bottom[front] * share[:, None])[:, None, None] * sun
    mean_mean, mean_air, air_air = f.coefficients(by_room, front)
    safe = np.where(mean_mean == 0, 1.0, mean_mean)
    mean = mean_rhs / safe[:, None, None]
    load += mean_air[:, None, None] * mean
    by_mean, by_air = _into_room(f, front[f.other[front] >= 0], n, spaces)
    by_mean /= safe[:, None, None]
    groups = Groups(f.owner[back] * spaces + f.zone[back], n * spaces)
    load_w = hourly(load)
    if rooms:
        load_w[:, : len(rooms[0].sun_to_air)] += np.array([x.sun_to_air for x in rooms])
    every = np.zeros(len(f.area))
    every[front] = share
    return Own(
        load_w=load_w,
        sun=sun.sum(axis=1),
        sun_into_space=_sun_through(f, back, every, n, spaces),
        radiant=mean.sum(axis=1),
        radiant_k_w=np.divide(1, mean_mean, out=np.zeros_like(mean_mean), where=mean_mean != 0),
        radiant_to_air=mean_air / safe,
        admittance_w_k=air_air - mean_air**2 / safe,
        mean_by_space=by_mean.sum(axis=1),
        load_by_space=by_air + mean_air[:, None, None] * by_mean,
        into_space=_into_space(f, back, n, spaces),
        back=f.coefficients(groups, back).reshape(3, n, spaces, HARMONICS).transpose(1, 0, 2, 3),
    )


def _sun(rooms: list[Rows], months: int) -> Complex:
    """Sun that falls on the faces of rooms, (room, glass component, month, harmonic)."""
    none = np.zeros((0, len(GLASS), months, HARMONICS), complex)
    return harmonics(np.array([x.sun_in for x in rooms])) if rooms else none


def sun_shares(faces: Faces, at: Index, sums: Groups) -> Array:
    """Share of its room's sun that falls on each of the faces `at`; a room without floor takes it by area."""
    area, floor, room = faces.area[at], faces.floor[at], faces.owner[at]
    on_floor, rest = sums(area * floor), sums(area * ~floor)
    part = np.where(on_floor > 0, np.where(rest > 0, SUN_ON_FLOOR, 1.0), 0.0)
    lower = np.where(on_floor > 0, on_floor, 1.0)[room]
    upper = np.where(rest > 0, rest, 1.0)[room]
    return np.asarray(area * np.where(floor, part[room] / lower, (1 - part[room]) / upper))


def _sun_through(f: Faces, back: Index, share: Array, rooms: int, spaces: int) -> Complex:
    """What a watt of sun in a room sends into a space, (room, unknown, harmonic): it warms the face that it falls on.

    `share` is of all faces; that of a face towards a space stands just before its far side.
    """
    sums = Groups(f.owner[back] * spaces + f.zone[back], rooms * spaces)
    per_w = (share[back - 1] / (f.area[back] * (f.other_hc[back] + HR)))[:, None] * f.across[back]
    parts = (sums(x[back] * per_w).reshape(rooms, spaces, HARMONICS) for x in (f.to_mean, f.to_air))
    return np.concatenate(list(parts), axis=1)


def _seen(f: Faces, at: Index) -> tuple[Array, Array]:
    """Weights of the radiant and of the air temperature in what faces `at` see beyond them: hc T_air + hr T_radiant over
    both."""
    total = f.other_hc[at] + HR
    return (HR / total)[:, None], (f.other_hc[at] / total)[:, None]


def _into_room(f: Faces, at: Index, rooms: int, spaces: int) -> tuple[Complex, Complex]:
    """What faces carry from the spaces into a room's radiant node and air, W/K, each (room, component of LINKED,
    2 x space, harmonic) by the space's radiant and air temperature."""
    kinds = len(LINKED)
    kind = np.searchsorted(LINKED_COLUMNS, f.component[at])
    sums = Groups((f.owner[at] * kinds + kind) * spaces + f.other[at], rooms * kinds * spaces)
    shape = (rooms, kinds, spaces, HARMONICS)
    mean, air = (
        np.concatenate([sums(x[at] * f.across[at] * s).reshape(shape) for s in _seen(f, at)], axis=2)
        for x in (f.to_mean, f.to_air)
    )
    return mean, air


def _into_space(f: Faces, at: Index, rooms: int, spaces: int) -> Complex:
    """What a kelvin of a room's radiant temperature sends into the spaces' radiant nodes and air, W/K, (room,
    2 x space, harmonic); the room's air is at the set point."""
    sums = Groups(f.owner[at] * spaces + f.zone[at], rooms * spaces)
    by_radiant, _ = _seen(f, at)
    shape = (rooms, spaces, HARMONICS)
    return np.concatenate(
        [sums(x[at] * f.across[at] * by_radiant).reshape(shape) for x in (f.to_mean, f.to_air)], axis=1
    )


def _between(job: Job, g: Geometry, p: RoomPlace, own: Own) -> Between:
    """The spaces' coefficients, rooms eliminated."""
    shells, air_w_k = shells_of(p, job, g)
    spaces = len(p.names)
    f = Faces([shells])
    every = np.arange(len(f.area))
    mean_mean, mean_air, air_air = f.coefficients(Groups(f.zone, spaces), every) + own.back.sum(axis=0)
    k = np.arange(spaces)
    m = np.zeros((HARMONICS, 2 * spaces, 2 * spaces), complex)
    m[:, k, k] = mean_mean.T
    m[:, k, spaces + k] = m[:, spaces + k, k] = -mean_air.T
    m[:, spaces + k, spaces + k] = air_air.T + air_w_k
    linked = np.flatnonzero(own.into_space[:, :, :1].any(axis=(1, 2)) | own.mean_by_space[:, :, :1].any(axis=(1, 2)))
    m -= np.einsum("rih,rjh->hij", own.into_space[linked], own.mean_by_space[linked])
    right = np.concatenate([x.sum(axis=1) for x in f.weather(f.zone, spaces, every, p)])
    right[spaces:] += air_w_k[:, None, None] * harmonics(p.outdoor)
    sun = own.sun_into_space[linked].transpose(2, 1, 0) @ own.sun[linked].transpose(2, 0, 1)
    by_space = own.load_by_space[linked].reshape(len(linked) * len(LINKED), 2 * spaces, HARMONICS)
    return Between(
        matrix=m,
        right=right.transpose(2, 0, 1) + sun,
        linked=linked,
        from_rooms=own.into_space[linked].transpose(2, 1, 0),
        to_radiant=own.mean_by_space[linked].transpose(2, 0, 1),
        to_load=by_space.transpose(2, 0, 1),
    )
