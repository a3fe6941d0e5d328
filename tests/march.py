"""The design day of a whole job marched in time: every surface a chain of cells, all zones in one sparse system.

Written against the surfaces of a job, not against the method under test: it takes from the balance only which layers,
areas and temperatures meet where. For the tests as the other way to the same answer, for the bench as its rival.
"""

from __future__ import annotations

from contextlib import ExitStack
from unittest import mock

import numpy as np
from scipy.sparse import coo_matrix, diags
from scipy.sparse.linalg import splu

from murvan.design.loads import balance_rows as b
from murvan.design.loads import balance_walls as w
from murvan.design.loads.gains import PEOPLE_RADIANT
from murvan.model.edit import changed
from murvan.physics import periodic
from murvan.physics.periodic import HARMONICS, HOURS, OMEGA, harmonics


def plain(job):
    """The job's constructions without studs, so that every stack is one path."""
    return changed(job, "", constructions=tuple(changed(c, framing_fraction=0.0) for c in job.constructions))


class Layers:
    """Remembers of every wall that the rows are made of the layers it was made from."""

    def __init__(self):
        self.of, self.keep = {}, []

    def __enter__(self):
        self.stack = ExitStack()
        cached = (w.wall_of, w.partition_of, w.between, w.both_sides, w.pane)
        for f in cached:
            f.cache_clear()
        self.keep_constants()
        for name in ("through", "half_of", "sealed", "massless"):
            for module in (x for x in (b, w) if hasattr(x, name)):
                make = self.remembering(name, getattr(periodic, name))
                self.stack.enter_context(mock.patch.object(module, name, make))
        for f in cached:
            self.stack.callback(f.cache_clear)
        return self

    def __exit__(self, *_):
        self.stack.close()

    def keep_constants(self):
        for wall, layers in ((w.ROOF_DECK, (*w.DECK, periodic.Slab(w.R_OUT_SUMMER))),):
            self.of[id(wall.inner)] = ("through", layers)
        for wall, r in ((w.UNKNOWN_WALL, 1.9), (w.UNKNOWN_DOOR, 0.4), (w.UNKNOWN_ROOF, 3.0), (w.UNKNOWN_FLOOR, 2.0)):
            self.of[id(wall.inner)] = ("massless", (periodic.Slab(r),))

    def remembering(self, name, make):
        def made(what):
            wall = make(what)
            self.keep.append(wall)
            self.of[id(wall.inner)] = (name, (periodic.Slab(what),) if name == "massless" else tuple(what))
            return wall

        return made


def halved(layers):
    total = sum(x.resistance_m2k_w for x in layers) / 2
    for x in layers:
        part = min(1.0, total / x.resistance_m2k_w)
        if part > 0:
            yield periodic.Slab(x.resistance_m2k_w * part, x.capacity_j_m2k * part)
        total -= part * x.resistance_m2k_w


class March:
    """A job's first design month as nodes, conductances and sources."""

    def __init__(self, job, geometry, conditions, gains, cells=4):
        self.cells, self.capacity = cells, []
        self.i, self.j, self.k = [], [], []
        self.forced = []
        with Layers() as layers, mock.patch.object(b.RowList, "rows_of", lambda t: t):
            place = b.RoomPlace(job, geometry, conditions)
            lists = [
                b.RoomRows(place, key, job, geometry, i).rows() for i, key in enumerate(b.room_keys(job, geometry))
            ]
            shells, air = b.shells_of(place, job, geometry)
            self.build(place, lists, shells, air, gains, layers.of)

    def nodes(self, count):
        first = len(self.capacity)
        self.capacity += [0.0] * count
        return first

    def join(self, a, c, g):
        self.i += [a, c, a, c]
        self.j += [a, c, c, a]
        self.k += [g, g, -g, -g]

    def hold(self, node, g, signal=None):
        """To a known temperature; none is the set point."""
        self.i.append(node)
        self.j.append(node)
        self.k.append(g)
        if signal is not None:
            self.forced.append((node, g * signal))

    def chain(self, layers, area):
        first = at = self.nodes(1)
        for x in layers:
            n = self.cells if x.capacity_j_m2k > 0 else 1
            for _ in range(n):
                after = self.nodes(1)
                self.capacity[at] += area * x.capacity_j_m2k / n / 2
                self.capacity[after] += area * x.capacity_j_m2k / n / 2
                self.join(at, after, area * n / x.resistance_m2k_w)
                at = after
        return first, at

    def build(self, place, lists, shells, air, gains, layers_of):
        n = len(lists)
        mean = self.nodes(n + len(place.names))
        space_air = self.nodes(len(place.names))
        drives = [d[0] for d in place.drives]
        self.faces, straight = [], []
        for room, t in enumerate([*lists, shells]):
            faces = []
            for zone, area, wall, hc, _, drive, other, other_hc, floor, _ in t.rows:
                if other == -2:
                    continue
                kind, layers = layers_of[id(wall.inner)]
                layers = tuple(halved(layers)) if kind == "half_of" else layers
                film = layers[-1] if kind == "through" and layers[-1].capacity_j_m2k <= 0 else None
                first, last = self.chain(layers[:-1] if film and len(layers) > 1 else layers, area)
                if zone < 0:
                    self.hold(first, area * hc)
                    self.join(first, mean + room, area * w.HR)
                    faces.append((first, area, hc, floor))
                else:
                    self.join(first, space_air + zone, area * hc)
                    self.join(first, mean + n + zone, area * w.HR)
                if other >= 0:
                    self.join(last, space_air + other, area * other_hc)
                    self.join(last, mean + n + other, area * w.HR)
                elif kind not in ("half_of", "sealed"):
                    g = area / film.resistance_m2k_w if film and len(layers) > 1 else area * 1e6
                    self.hold(last, g, drives[drive] if drive else None)
            if room < n:
                self.faces.append(faces)
                self.sun(faces, t.sun_in[:, 0].sum(axis=0))
                straight.append(t.sun_to_air[:, 0].sum(axis=0))
                radiant = PEOPLE_RADIANT * gains.people_w[room] + gains.things_radiant_w[room]
                self.forced.append((mean + room, radiant))
        for s, g in enumerate(air):
            self.hold(space_air + s, g, place.outdoor[0])
        self.straight = np.array(straight) + (1 - PEOPLE_RADIANT) * gains.people_w
        self.straight += gains.things_w - gains.things_radiant_w
        self.space_air, self.spaces, self.inside = space_air, len(place.names), place.inside

    def sun(self, faces, sun):
        on = sum(a for _, a, _, floor in faces if floor)
        rest = sum(a for _, a, _, floor in faces if not floor)
        share = (b.SUN_ON_FLOOR if rest > 0 else 1.0) if on > 0 else 0.0
        for node, a, _, floor in faces:
            self.forced.append((node, sun * (share * a / on if floor else (1 - share) * a / rest)))

    def run(self, steps_an_hour=10, days=8, closed=1e-4):
        """Crank-Nicolson until a day repeats; (loads on the air W (room, 24), air of the spaces deg C (space, 24))."""
        n = len(self.capacity)
        dt = 3600 / steps_an_hour
        k = coo_matrix((self.k, (self.i, self.j)), (n, n)).tocsc()
        c = np.array(self.capacity) / dt
        heavy = c > 0
        # what stores nothing is in balance at every step's end, what stores at its middle
        left = (diags(c) + diags(np.where(heavy, 0.5, 1.0)) @ k).tocsc()
        right = (diags(c) - diags(np.where(heavy, 0.5, 0.0)) @ k).tocsr()
        solver = splu(left)
        steps = steps_an_hour * HOURS
        rows = np.array([node for node, _ in self.forced])
        signals = between(np.array([s for _, s in self.forced]), np.arange(steps + 1) * dt)
        force = np.zeros((steps + 1, n))
        np.add.at(force.T, rows, signals)
        push = np.where(heavy, 0.5 * (force[:-1] + force[1:]), force[1:])
        t = splu(k).solve(force[:-1].mean(axis=0))
        read = np.concatenate([np.array([f[0] for x in self.faces for f in x], int), self._air()])
        before, self.days = None, 0
        for _ in range(days):
            found = np.zeros((HOURS, len(read)))
            for s in range(steps):
                if s % steps_an_hour == 0:
                    found[s // steps_an_hour] = t[read]
                t = solver.solve(right @ t + push[s])
            self.days += 1
            if before is not None and np.abs(found - before).max() < closed * np.ptp(found, axis=0).max():
                break
            before = found
        return self._loads(found), found[:, len(read) - self.spaces :].T + self.inside

    def _air(self):
        return self.space_air + np.arange(self.spaces)

    def _loads(self, found):
        out, at = self.straight.copy(), 0
        for room, faces in enumerate(self.faces):
            for _, area, hc, _ in faces:
                out[room] += area * hc * found[:, at]
                at += 1
        return out


def between(signals, times):
    """Sums of the harmonics of hourly signals (n, 24) at any time, s after the first value: (n, time)."""
    c = harmonics(signals)
    weight = np.where((np.arange(HARMONICS) == 0) | (np.arange(HARMONICS) == HARMONICS - 1), 1.0, 2.0)
    return np.real((c * weight) @ np.exp(1j * np.outer(OMEGA, times)))
