"""The design day as a heat balance: 24 hours that repeat, every room, every unheated space, every component.

For each harmonic the face of surface i is at T_i with (X_i + hc_i + hr) T_i = hr T_m + Y_i T_beyond + hc_i T_air + G_i, a
room has one mean-radiant node T_m with sum A hr (T_i - T_m) + radiant gains = 0, and what reaches its air is
sum A hc (T_i - T_air). All temperatures count from the room's set point, so room air is 0 and the balance is linear:
each component's share of the load at every hour is exact. Attic, crawl space, basement and garage float: their air temperature
is an unknown with an air-change rate; what comes from there counts to the component of the surface it comes through.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, fields
from typing import Any

import numpy as np

from murvan.design.house.geometry import Geometry
from murvan.design.loads.balance_rows import (
    GLASS,
    HR,
    SUN_ON_FLOOR,
    Array,
    Complex,
    Face,
    Index,
    Place,
    RoomKey,
    Rows,
    kept_rows,
    room_keys,
    shells_of,
)
from murvan.design.loads.components import COLUMN, COMPONENTS
from murvan.design.loads.gains import PEOPLE_RADIANT, Gains
from murvan.design.loads.outdoor_air import OutdoorAir
from murvan.design.weather.conditions import Conditions
from murvan.model.job import Job
from murvan.physics.periodic import HARMONICS, HOURS, Wall, harmonics, hourly

COMPS = len(COMPONENTS)
LINKED = ("walls", "garage", "doors", "ceiling", "floor")
"""Components whose surfaces may look into an unheated space, in the order of COMPONENTS."""
LINKED_COLUMNS = np.array([COLUMN[x] for x in LINKED])


@dataclass(frozen=True)
class Balance:
    """Design days worked out, W and deg C by hour 1..24."""

    months: tuple[int, ...]
    """Months looked at, the design month first."""
    parts_w: Array
    """Load on the air, (month, room, component, 24), components in the order of COMPONENTS."""
    buffers: tuple[str, ...]
    """Names of the unheated spaces."""
    buffer_keys: tuple[str, ...]
    """'attic', 'crawl', 'basement', and the ids of garages and porches."""
    buffers_c: Array
    """Air temperature of the unheated spaces, (month, space, 24)."""
    spaces_k: Complex
    """Radiant and air temperature of the unheated spaces over the rooms', (2, month, space, harmonic)."""
    radiant_c: Array
    """Mean radiant temperature of the rooms, (month, room, 24)."""
    admittance_w_k: Complex
    """Heat that each room's air takes per kelvin that it swings, (room, harmonic)."""
    kept: Kept | None = field(default=None, repr=False, compare=False)
    """What was worked out room by room, for the next solve."""

    def buffer_c(self, key: str) -> Array | None:
        """Air temperature of one unheated space, (month, 24); None where the house has none such."""
        return self.buffers_c[:, self.buffer_keys.index(key)] if key in self.buffer_keys else None


@dataclass(frozen=True)
class Own:
    """What each room does by itself with the unheated spaces at its set point, and what a kelvin there adds.

    The unknowns of the spaces are [radiant, air] temperature, 2 x space.
    """

    load_w: Array
    """On the air, outdoor air left out, (room, component, month, 24)."""
    radiant: Complex
    """Radiant temperature, (room, month, harmonic)."""
    admittance_w_k: Complex
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
class Kept:
    """What was worked out of each room, and where it holds."""

    place: Place
    rows: dict[str, tuple[RoomKey, Rows]]
    gains: Gains
    own: Own
    fresh: tuple[str, ...]
    """Rooms worked out anew the last time."""


def balance(
    job: Job, g: Geometry, c: Conditions, gains: Gains, air: OutdoorAir | None = None, previous: Balance | None = None
) -> Balance:
    """Solve the design days of a job.

    Args:
        air: outdoor air through leaks and by fans; None: the rooms are tight.
        previous: an earlier state of the job; only rooms that have changed since are solved again, then the small
            system of the unheated spaces that ties them together.
    """
    kept = previous.kept if previous is not None else None
    if kept is not None and not kept.place.same_as(job, g, c):
        kept = None
    place = kept.place if kept is not None else Place(job, g, c)
    old = kept.rows if kept is not None else {}
    rows = {r.id: kept_rows(place, job, g, i, key, old) for i, (r, key) in enumerate(room_keys(job, g))}
    now = _kept(place, rows, gains, kept)
    return _coupled(job, g, now, _outdoor_air(job, c, place, air))


def _kept(place: Place, rows: dict[str, tuple[RoomKey, Rows]], gains: Gains, kept: Kept | None) -> Kept:
    """Every room by itself; those whose surfaces and gains are the same as before are taken over."""
    before = {x: k for k, x in enumerate(kept.rows)} if kept is not None else {}
    take: list[int] = []
    touched: list[int] = []
    names: list[str] = []
    for i, (name, (_, faces)) in enumerate(rows.items()):
        k = before.get(name)
        if k is not None and kept is not None and kept.rows[name][1] is faces and _same(kept.gains, k, gains, i):
            take.append(k)
        else:
            take.append(len(before) + len(touched))
            touched.append(i)
            names.append(name)
    faces_of = [x for _, x in rows.values()]
    fresh = _own(place, [faces_of[i] for i in touched], gains, np.array(touched, np.intp))
    own = fresh if kept is None else kept.own.merged(fresh, np.array(take, np.intp))
    return Kept(place, rows, gains, own, tuple(names))


def _same(a: Gains, i: int, b: Gains, j: int) -> bool:
    names = ("people_w", "things_w", "things_radiant_w")
    return all(np.array_equal(getattr(a, n)[i], getattr(b, n)[j]) for n in names)


def _outdoor_air(job: Job, c: Conditions, p: Place, air: OutdoorAir | None) -> Array:
    """Heat of the outdoor air by room, W, (2, room, month, 24): leaks, fresh air."""
    if air is None:
        return np.zeros((2, len(job.rooms), p.months, HOURS))
    flows = np.array([air.leaks_m3_s(air.summer), air.fresh_m3_s(job.ventilation.sensible_recovery)])
    return np.asarray(flows[:, :, None, None] * c.sensible_factor * p.outdoor)


class Faces:
    """Rows of several rooms (or of the shells of the spaces) as arrays, with the index of their owner."""

    def __init__(self, every: list[Rows]) -> None:
        faces = [x for rows in every for x in rows.faces]
        self.owner = np.repeat(np.arange(len(every)), [len(x.faces) for x in every])
        columns = list(zip(*faces, strict=True)) if faces else [()] * len(Face._fields)
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

    def weather(self, group: Index, count: int, at: Index, place: Place) -> tuple[Complex, Complex]:
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


def _own(place: Place, rooms: list[Rows], gains: Gains, index: Index) -> Own:
    """Rooms by themselves; `index` are their places in the gains."""
    n, spaces, months = len(rooms), len(place.names), place.months
    f = Faces(rooms)
    front, back = np.flatnonzero(f.zone < 0), np.flatnonzero(f.zone >= 0)
    room = f.owner[front]
    by_room = Groups(room, n)
    mean_rhs, load = f.weather(room, n, front, place)
    share, sun = sun_shares(f, front, by_room), _sun(rooms, months)
    for rhs, h in ((mean_rhs, HR), (load, f.hc[front, None])):
        rhs[:, : len(GLASS)] += by_room(h / f.bottom[front] * share[:, None])[:, None, None] * sun
    things = gains.things_radiant_w[index]
    mean_rhs[:, COLUMN["people"]] += harmonics(PEOPLE_RADIANT * gains.people_w[index])[:, None]
    mean_rhs[:, COLUMN["appliances"]] += harmonics(things)[:, None]
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
    load_w[:, COLUMN["people"]] += ((1 - PEOPLE_RADIANT) * gains.people_w[index])[:, None]
    load_w[:, COLUMN["appliances"]] += (gains.things_w[index] - things)[:, None]
    every = np.zeros(len(f.area))
    every[front] = share
    return Own(
        load_w=load_w,
        sun=sun.sum(axis=1),
        sun_into_space=_sun_through(f, back, every, n, spaces),
        radiant=mean.sum(axis=1),
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


def sun_shares(f: Faces, at: Index, sums: Groups) -> Array:
    """Share of its room's sun that falls on each of the faces `at`; a room without floor takes it by area."""
    area, floor, room = f.area[at], f.floor[at], f.owner[at]
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


def _coupled(job: Job, g: Geometry, kept: Kept, outdoor_air: Array) -> Balance:
    """Rooms and unheated spaces together."""
    own, p = kept.own, kept.place
    parts, radiant = own.load_w.copy(), own.radiant.copy()
    n, months, spaces = len(parts), p.months, len(p.names)
    spaces_k = np.zeros((2, months, spaces, HARMONICS), complex)
    if spaces:
        u = _spaces(job, g, p, own)
        linked = np.flatnonzero(own.mean_by_space[:, :, 0].any(axis=1))
        kinds = len(LINKED)
        by_space = own.load_by_space[linked].reshape(len(linked) * kinds, 2 * spaces, HARMONICS)
        more = (by_space.transpose(2, 0, 1) @ u).reshape(HARMONICS, len(linked), kinds, months)
        parts[np.ix_(linked, LINKED_COLUMNS)] += hourly(more.transpose(1, 2, 3, 0))
        radiant[linked] += (own.mean_by_space[linked].transpose(2, 0, 1) @ u).transpose(1, 2, 0)
        spaces_k = u.reshape(HARMONICS, 2, spaces, months).transpose(1, 3, 2, 0)
    parts[:, COLUMN["leakage"]] += outdoor_air[0]
    parts[:, COLUMN["fresh_air"]] += outdoor_air[1]
    return Balance(
        months=tuple(d.month for d in p.c.days),
        parts_w=np.ascontiguousarray(parts.transpose(2, 0, 1, 3)),
        buffers=p.names,
        buffer_keys=p.keys,
        buffers_c=hourly(spaces_k[1]) + p.inside,
        spaces_k=spaces_k,
        radiant_c=hourly(radiant).transpose(1, 0, 2).reshape(months, n, HOURS) + p.inside,
        admittance_w_k=own.admittance_w_k,
        kept=kept,
    )


def _spaces(job: Job, g: Geometry, p: Place, own: Own) -> Complex:
    """Radiant and air temperatures of the unheated spaces, (harmonic, 2 x space, month).

    Rooms see only spaces, so they are eliminated first; what is left is this small system.
    """
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
    linked = np.flatnonzero(own.into_space[:, :, 0].any(axis=1))
    m -= np.einsum("rih,rjh->hij", own.into_space[linked], own.mean_by_space[linked])
    right = np.concatenate([x.sum(axis=1) for x in f.weather(f.zone, spaces, every, p)])
    right[spaces:] += air_w_k[:, None, None] * harmonics(p.outdoor)
    right = right.transpose(2, 0, 1)
    right = right + own.into_space[linked].transpose(2, 1, 0) @ own.radiant[linked].transpose(2, 0, 1)
    right = right + own.sun_into_space[linked].transpose(2, 1, 0) @ own.sun[linked].transpose(2, 0, 1)
    return np.asarray(np.linalg.solve(m, right), np.complex128)
