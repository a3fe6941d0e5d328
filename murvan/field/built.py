"""The house as it may be built: the design's air circuit with any fault of the table in it, and what instruments would read there.

All faults but those of the blower are a resistance that changes: leaks and open boots are openings that the circuit has from the start,
shut. So whole sets of faults are solved as one batch.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from murvan.arrays import Array
from murvan.design.circuit import (
    CLEAN,
    OUTDOORS,
    AirSystem,
    Layout,
    Situation,
    build,
    opening_k,
    past_shut,
    situation_k,
)
from murvan.design.ducts import run_area_m2
from murvan.design.results import Results, SystemResults
from murvan.field.gives import sensible_w
from murvan.field.places import Place
from murvan.field.state import Change
from murvan.kinds.readings import HOLES
from murvan.model.job import AS_FOUND, HouseState
from murvan.model.routes import LaidRun
from murvan.physics import ductflow
from murvan.physics.circuit import Circuit, FanCurve
from murvan.physics.constants import FLOAT_TINY
from murvan.physics.network import branch_loss, solve

IN_DUCTS = frozenset(x.id for x in HOLES.values() if x.of == "register")
"""Holes in ducts to registers."""
LEAST_M2 = 1.3e-5
"""Of an opening that is shut: the circuit has it all the same."""
NEAR_PA = 1e-4
Drawing = Callable[[Circuit], Circuit]


def has_ducts(r: Results) -> bool:
    """Whether any unit has ducts that a blower drives."""
    return any(s.unit is not None and s.blower is not None for s in r.systems.values())


class Built:
    """A house with its openings in one state, solved as designed; others of its states by `of`. Raises ValueError for a house without a
    ducted unit."""

    def __init__(self, r: Results, state: HouseState = AS_FOUND) -> None:
        self.r, self.job, self.state = r, r.job, state
        self._states: dict[HouseState, Built] = {}
        self.units: dict[str, SystemResults] = {
            k: s for k, s in r.systems.items() if s.unit is not None and s.blower is not None
        }
        parts = [AirSystem(s.design, s.unit, {}, {}, s.airflow.total_m3_s) for s in self.units.values() if s.unit]
        if not parts:
            raise ValueError("no unit with ducts has supply and return")
        self.density = r.conditions.density_kg_m3
        self.layout: Layout
        closed = frozenset(z.id for z in r.job.design.zones) - set(
            state.calling or (z.id for z in r.job.design.zones)
        )
        stands = Situation("stands", doors_shut=state.doors == "shut", closed=closed)
        bare, self.layout = build(r.job, r.geometry, parts, self.density, (CLEAN, stands))
        self.runs: dict[str, LaidRun] = {
            x.id: x for s in self.units.values() for x in s.design.runs if x.id in self.layout.run_branch
        }
        self.run_to = {x.register_id: x for x in self.runs.values() if x.register_id}
        self.openings: dict[tuple[str, str], tuple[int, float]] = {}
        """By what is open and where, its branch and the area that counts as one, m2."""
        found, now = situation_k(bare, self.layout)
        self.circuit = self._with_openings(bare, now)
        self._raised: dict[int, float] = dict(enumerate((now - found).tolist()))
        self._take_out_filters()
        self.injection = self.layout.injection[0]
        self.base = self._first()
        self.loss = branch_loss(replace(self.circuit, junctions=None), self.base.copy())[0]
        """What each branch loses by itself, without the way air takes where ducts part, Pa."""

    # ---- its states -----------------------------------------------------------------------------------------------

    def of(self, state: HouseState) -> Built:
        """The same house while it stands otherwise."""
        air = state.of_air
        if air == self.state:
            return self
        if air not in self._states:
            self._states[air] = Built(self.r, air)
        return self._states[air]

    def can_stand(self, state: HouseState) -> bool:
        """Whether its air can be told in a state: its zones are there, and no bypass opens by its own spring."""
        known = {z.id for z in self.job.design.zones}
        return set(state.calling) <= known and not (state.calling and self.layout.bypasses)

    def _take_out_filters(self) -> None:
        if self.state.filter == "out":
            for u in self.layout.units.values():
                self.circuit.k[u.filter_branch] = FLOAT_TINY

    def _k(self, branch: int, value: float, change: Change) -> float:
        """What a branch resists in this state that resists `value` as the house is found."""
        if self.state.filter == "out" and any(u.filter_branch == branch for u in self.layout.units.values()):
            return float(FLOAT_TINY)
        if branch in change.stuck:
            return value
        if branch in self.layout.shut_k:
            return float(max(value, self.circuit.k[branch]))
        return float(value + self._raised.get(branch, 0.0))

    # ---- the circuit ----------------------------------------------------------------------------------------------

    def _with_openings(self, c: Circuit, k: Array) -> Circuit:
        ends: list[tuple[int, int]] = []

        def opening(key: tuple[str, str], start: int, end: int, area: float) -> None:
            self.openings[key] = (len(c.start) + len(ends), area)
            ends.append((start, end))

        for i, run in self.runs.items():
            branch = self.layout.run_branch[i]
            beyond = self._beyond(run)
            outer = int(c.end[branch] if run.side == "supply" else c.start[branch])
            way = (outer, beyond) if run.side == "supply" else (beyond, outer)
            opening(("run", i), *way, run_area_m2(run))
        for i, s in self.units.items():
            at = self.layout.units[i]
            boxes = {p.side: p.width_m * p.depth_m for p in s.design.plenums}
            opening(("supply", i), at.supply_node, OUTDOORS, boxes.get("supply", 0.2))
            opening(("return", i), OUTDOORS, at.return_node, boxes.get("return", 0.2))
        start, end = np.array(ends, np.intp).T
        n = len(ends)

        def more(old: Array, value: float) -> Array:
            return np.concatenate([old, np.full(n, value)])

        return replace(
            c,
            start=np.concatenate([c.start, start]),
            end=np.concatenate([c.end, end]),
            length_m=more(c.length_m, 0.0),
            area_m2=more(c.area_m2, 1.0),
            hydraulic_m=more(c.hydraulic_m, 1.0),
            roughness_m=more(c.roughness_m, 1e-4),
            friction_scale=more(c.friction_scale, 1.0),
            k=np.concatenate([k, np.full(n, opening_k(LEAST_M2, self.density))]),
            power_c=more(c.power_c, 0.0),
        )

    def _beyond(self, run: LaidRun) -> int:
        """What lies round a run: the room it ends in, or any on its storey; outdoors where it lies beyond the shell."""
        if run.lies_in != "inside":
            return OUTDOORS
        own = {x.id: x.room for x in self.job.design.registers}.get(run.register_id or "")
        room = own or next((x.id for x in self.job.rooms if x.storey == run.storey), self.job.rooms[0].id)
        return self.layout.room[room]

    def _first(self) -> Array:
        n, own = self.r.network, self.circuit
        first = np.full(len(own.start), 1e-4)
        if n is not None:
            for mine, theirs in (
                (self.layout.run_branch, n.layout.run_branch),
                (self.layout.register_branch, n.layout.register_branch),
            ):
                for i, at in mine.items():
                    if i in theirs:
                        first[at] = n.solution.flow_m3_s[0, theirs[i]]
            for i, at_unit in self.layout.units.items():
                flow = float(n.blowers[i].flow_m3_s[0]) if i in n.blowers else 0.3
                first[[at_unit.filter_branch, at_unit.blower_branch, at_unit.heater_branch]] = flow
        stands = self.layout.situations[1]
        first = past_shut(first, [stands.closed], self.layout.closed_k, self.layout.closed_beyond).reshape(-1)
        found = solve(own, first_flow=first, injection=self.injection)
        self.pressure = found.pressure_pa
        return found.flow_m3_s

    def solved(self, changes: Sequence[Change], circuit: Circuit | None = None) -> tuple[Array, Array]:
        """Flows (states, m) and pressures (states, n) of each state; NaN where a circuit did not close."""
        c = circuit or self.circuit
        flow = np.full((len(changes), len(c.start)), np.nan)
        pressure = np.full((len(changes), c.nodes), np.nan)
        by_fans: dict[tuple[tuple[str, int], ...], list[int]] = {}
        for n, x in enumerate(changes):
            by_fans.setdefault(tuple((i, id(curve)) for i, curve in x.fans.items()), []).append(n)
        for rows in by_fans.values():
            own = c if not changes[rows[0]].fans else replace(c, fans=self._swapped(c, changes[rows[0]]))
            k = np.repeat(c.k[None], len(rows), 0)
            for row, n in enumerate(rows):
                for branch, value in changes[n].k.items():
                    k[row, branch] = self._k(branch, value, changes[n])
                for branch, more in changes[n].shut.items():
                    if self._raised.get(branch, 0.0) > 0:
                        k[row, branch] += more - self._raised[branch]
                for branch, area in changes[n].openings.items():
                    k[row, branch] = opening_k(max(area, LEAST_M2), self.density)
            first = np.repeat(self.base[None], len(rows), 0)
            flow[rows], pressure[rows] = self._closed(own, k, first)
        return flow, pressure

    def _closed(self, c: Circuit, k: Array, first: Array) -> tuple[Array, Array]:
        """A batch; where it does not close, by halves, and NaN for a state that does not close alone."""
        found = solve(c, k=k, first_flow=first, injection=self.injection, tolerance_pa=NEAR_PA)
        if found.converged:
            return found.flow_m3_s, found.pressure_pa
        if len(k) == 1:
            return np.full_like(found.flow_m3_s, np.nan), np.full_like(found.pressure_pa, np.nan)
        half = len(k) // 2
        parts = [self._closed(c, k[x], first[x]) for x in (slice(half), slice(half, None))]
        return np.vstack([p[0] for p in parts]), np.vstack([p[1] for p in parts])

    def _swapped(self, c: Circuit, change: Change) -> tuple[tuple[int, FanCurve], ...]:
        at = {self.layout.units[i].blower_branch: curve for i, curve in change.fans.items()}
        return tuple((b, at.get(b, curve)) for b, curve in c.fans)

    # ---- what instruments read ------------------------------------------------------------------------------------

    def read(self, places: Sequence[Place], changes: Sequence[Change], flow: Array, pressure: Array) -> Array:
        """What true instruments, but for their gains, show in each state, (states, places), SI."""
        out = np.empty((len(changes), len(places)))
        register = {x.id: k for k, x in enumerate(self.job.design.registers)}
        column = {p.at.id: n for n, p in enumerate(places) if p.hole is None and p.at.id in register}
        for n, p in enumerate(places):
            out[:, n] = self._one(p, changes, flow, pressure)
        for k, x in enumerate(changes):
            if x.swap is not None and x.swap[0] in column and x.swap[1] in column:
                a, b = column[x.swap[0]], column[x.swap[1]]
                out[k, [a, b]] = out[k, [b, a]]
        return out

    def _one(self, p: Place, changes: Sequence[Change], flow: Array, pressure: Array) -> Array:
        if p.hole in IN_DUCTS:
            return self._in_duct(p, changes, flow, pressure)
        if p.at.kind == "register":
            gain = np.array([x.flow_gain for x in changes])
            return np.asarray(flow[:, self.layout.register_branch[p.at.id]] * gain)
        if p.at.kind == "run":
            return np.asarray(np.abs(flow[:, self.layout.run_branch[p.at.id]]))
        if p.at.kind == "room":
            door, own = self.layout.door_branch[p.at.id], self.layout.room[p.at.id]
            ends = (int(self.circuit.start[door]), int(self.circuit.end[door]))
            beyond = ends[1] if ends[0] == own else ends[0]
            return np.asarray((pressure[:, own] - pressure[:, beyond]) * np.array([x.gauge_gain for x in changes]))
        s, at = self.units[p.at.id], self.layout.units[p.at.id]
        through = flow[:, at.blower_branch]
        heater_w = np.array([x.heater.get(p.at.id, 0.0) for x in changes]) * s.design.indoor.heater_kw * 1000
        if p.quantity == "power":
            return np.asarray(self._power_w(s, at.blower_branch, changes, flow, pressure) + heater_w)
        if p.quantity == "static":
            gain = np.array([x.gauge_gain for x in changes])
            side = "return" if p.hole in ("return", "after_filter") else "supply"
            node = {"return": at.return_node, "after_filter": at.after_filter, "before_heater": at.outlet_node}.get(
                p.hole or "", at.supply_node
            )
            box = next((x for x in s.design.plenums if x.side == side), None)
            speed = 0.5 * self.density * (through / (box.width_m * box.depth_m)) ** 2 if box else 0.0
            return np.asarray((pressure[:, node] - speed) * gain)
        room = self.indoor_c(p.state) + np.array([x.warmer_k for x in changes])
        # what a return draws from beyond the rooms is as cold as that
        drawn = np.clip(flow[:, self.openings["return", p.at.id][0]] / np.maximum(through, 1e-3), 0.0, 1.0)
        back = room + drawn * (self.outdoor_c(p.state) - room)
        if p.hole != "supply":
            return np.asarray(back)
        left = np.array([x.capacity.get(p.at.id, 1.0) for x in changes])
        gives = left * sensible_w(self.r, p.at.id, p.state) + heater_w
        return np.asarray(back + gives / (self.r.conditions.sensible_factor * np.maximum(through, 1e-3)))

    def outdoor_c(self, state: HouseState) -> float:
        """What was noted; of design where nobody did."""
        climate = self.job.climate
        usual = climate.summer_c if state.mode == "cooling" else climate.winter_c
        return usual if state.outdoor_c is None else state.outdoor_c

    def indoor_c(self, state: HouseState) -> float:
        """What the rooms are set to."""
        return self.job.indoor.cooling_c if state.mode == "cooling" else self.job.indoor.heating_c

    def _in_duct(self, p: Place, changes: Sequence[Change], flow: Array, pressure: Array) -> Array:
        """Static in the duct to a register: at its boot, or past its damper, before all else that it loses."""
        run = self.run_to[p.at.id]
        at, c = self.layout.run_branch[run.id], self.circuit
        q = flow[:, at]
        static = pressure[:, c.end[at]] - 0.5 * self.density * (q / run_area_m2(run)) ** 2
        if p.hole == "damper":
            drawn = self.damper_k(run, run.damper if run.damper is not None else 1.0)
            k = np.array([x.k.get(at, c.k[at]) - x.dampers.get(at, drawn) for x in changes])
            by_length = self.loss[at] - c.k[at] * self.base[at] ** 2
            static = static + np.maximum(k, 0.0) * q * np.abs(q) + by_length * (q / self.base[at]) ** 2
        return np.asarray(static * np.array([x.gauge_gain for x in changes]))

    def _power_w(
        self, s: SystemResults, blower: int, changes: Sequence[Change], flow: Array, pressure: Array
    ) -> Array:
        assert s.unit is not None
        at = self.layout.units[s.design.id]
        through = flow[:, blower]
        rise = pressure[:, at.outlet_node] - pressure[:, at.after_filter]
        return np.asarray(through * (rise + at.losses.inside_k * through**2) / s.unit.blower.efficiency)

    def predicted(self, places: Sequence[Place], changes: Sequence[Change], drawn: Drawing | None = None) -> Array:
        """What is read with each change, every place in its own state of the house, (changes, places); NaN where a circuit did not
        close.

        Args:
            drawn: what it makes of the circuit of each state.
        """
        out = np.empty((len(changes), len(places)))
        for b, columns in self._by_state(places):
            circuit = drawn(b.circuit) if drawn is not None else None
            own = [places[k] for k in columns]
            out[:, columns] = b.read(own, changes, *b.solved(changes, circuit))
        return out

    def as_designed(self, places: Sequence[Place], changes: Sequence[Change]) -> Array:
        """What is read with changes that move no air, (changes, places)."""
        out = np.empty((len(changes), len(places)))
        for b, columns in self._by_state(places):
            still = (np.broadcast_to(x, (len(changes), len(x))) for x in (b.base, b.pressure))
            out[:, columns] = b.read([places[k] for k in columns], changes, *still)
        return out

    def _by_state(self, places: Sequence[Place]) -> list[tuple[Built, list[int]]]:
        found: dict[HouseState, list[int]] = {}
        for k, p in enumerate(places):
            found.setdefault(p.state.of_air, []).append(k)
        return [(self.of(state), columns) for state, columns in found.items()]

    # ---- what a fault does to a branch --------------------------------------------------------------------------------

    def series(self, branch: int, times: float) -> dict[int, float]:
        """A branch that resists so many times what it does."""
        q = max(abs(float(self.base[branch])), 1e-4)
        return {branch: float(self.circuit.k[branch]) + (times - 1) * abs(float(self.loss[branch])) / q**2}

    def opened(self, what: str, where: str, share: float) -> dict[int, float]:
        """An opening of a share of its area, m2 by branch."""
        branch, area = self.openings[what, where]
        return {branch: share * area}

    def damper_k(self, run: LaidRun, opening: float) -> float:
        """What a hand damper so far open resists, Pa per (m3/s)2."""
        return float(ductflow.damper_coefficient(np.asarray(opening))) * 0.5 * self.density / run_area_m2(run) ** 2
