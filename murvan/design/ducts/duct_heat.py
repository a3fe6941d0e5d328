"""What ducts outside the shell take: heat through every run by length, size, insulation and surroundings, and leaks.

Along a run the air goes from T1 to T2 = Ta + (T1 - Ta) exp(-U P L / (m cp)). A room's delivery effectiveness is what
reaches it over what the unit gives its air, leaks of both sides counted (ASHRAE 152); the room's load is divided by it.
Until there are runs, an allowance stands in.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from shapely import intersects_xy

from murvan.arrays import Array
from murvan.design.ducts.airflow import Airflow
from murvan.design.ducts.runs import RunTree
from murvan.design.house.geometry import shape_of
from murvan.design.loads.balance import Balance
from murvan.design.loads.factors import Factors
from murvan.design.loads.peaks import DuctShares
from murvan.design.units.unit_design import UnitDesign
from murvan.design.weather.conditions import Conditions
from murvan.model.design import AirSettings
from murvan.model.routes import LaidRun
from murvan.physics.constants import CFM_M3_S, CP_AIR_J_KGK
from murvan.physics.heat import temperature_kept
from murvan.units import R_IP

R_FILMS = 0.12
"""Air films inside and outside a duct, m2K/W (0.68 ft2 F h/Btu); ASHRAE, from memory."""
COLD_C = 12.8
"""Air leaving the coil on the design day, 55 F; common practice."""
WARM_C = {"furnace_coil": 54.0}
WARM_ELSE_C = 39.0
"""Air leaving a furnace (130 F) or a heat pump (102 F) on the design night; common practice."""
LEAST = 0.3
"""No duct is taken to deliver less than this; below it something is wrong with the drawing."""


@dataclass(frozen=True)
class RunHeat:
    """One run at its design flow, at the hour of the house's peak and on the design night."""

    place: str
    ua_w_k: float
    kept: float
    """exp(-U P L / (m cp)): share of the temperature difference to the surroundings that is left at its end."""
    cooling_w: float
    """Heat into the cold air of the run."""
    heating_w: float
    """Heat out of its warm air."""
    summer_c: float
    winter_c: float


@dataclass(frozen=True, eq=False)
class End:
    """Air at a register; arrays over all hours of all months, then the winter design night."""

    unit: str
    flow_m3_s: float
    left: float
    """Of its air what has not leaked, as a share."""
    air_c: Array
    supply_c: Array
    """Where it leaves the unit."""
    return_rise_k: Array


@dataclass(frozen=True, eq=False)
class DuctHeat(DuctShares):
    """Loads that ducts add; shares are of the room's own load."""

    by_run: NDArray[np.bool_]
    """Rooms whose ducts are worked out, (room,); the others have the allowance."""
    runs: dict[str, RunHeat] = field(default_factory=dict)
    return_rise_k: float = 0.0
    """What the return gains before the unit at the house's peak."""
    return_leak_m3_s: Array = field(default_factory=lambda: np.zeros(0))
    """Each room's part of the air that leaks into the return from outside, (room,)."""
    usual_cooling: Array = field(default_factory=lambda: np.zeros((0, 0, 0)))
    """What a usual run in the storey's place would add, typed or not, as a share: (month, room, 24)."""
    ends: dict[str, End] = field(default_factory=dict)
    """What arrives at each supply register."""


USUAL_M, USUAL_DIAMETER_M, USUAL_FLOW_M3_S = 6.1, 0.1524, 75 * CFM_M3_S
"""A usual run where none is drawn: 20 ft of 6 in with 75 cfm; common practice."""
USUAL_R = {"attic": 8 * R_IP}
USUAL_ELSE_R = 6 * R_IP
"""Its insulation: R-8 in an attic, R-6 in other places."""


def allowance(
    unit_design: UnitDesign, air: Airflow, conditions: Conditions, around: dict[str, Array], kind: str
) -> DuctHeat:
    """A share of the load for rooms whose storey has its ducts outside the shell: as said, else of a usual run.

    `around` is that of `surroundings`; the return's share of the leaks brings moisture with the air of `air`.
    """
    n, months = len(unit_design.rooms), len(conditions.days)
    usual = {place: usual_share(unit_design.air, conditions, place, t, kind) for place, t in around.items()}
    place_of = {st.id: st.duct_place for st in unit_design.storeys}
    said = unit_design.air.duct_allowance
    rows = [usual[place_of[r.storey]] for r in unit_design.rooms]
    outside = np.array([place_of[r.storey] != "inside" for r in unit_design.rooms], bool)
    leaks = unit_design.air.duct_leakage / 2 * outside * air.design_m3_s
    wet = leaks * conditions.latent_factor * conditions.moisture_difference
    share = np.array(rows).reshape(n, months * 24 + 1)
    by_place = share[:, :-1].reshape(n, months, 24).transpose(1, 0, 2)
    if said is not None:
        share = np.where(share != 0, said, 0.0)
    cooling = share[:, :-1].reshape(n, months, 24).transpose(1, 0, 2)
    return DuctHeat(share[:, -1], cooling, wet, np.zeros(n, bool), return_leak_m3_s=leaks, usual_cooling=by_place)


def usual_share(air: AirSettings, conditions: Conditions, place: str, around: Array, kind: str) -> Array:
    """What a usual run in a place and its share of the leaks add, as a share of the load, in the order of `around`."""
    if place == "inside":
        return np.zeros(len(around))
    inside = np.full(len(around), conditions.indoor_cooling.temperature_c)
    inside[-1] = conditions.indoor_heating.temperature_c
    supply = np.full(len(around), COLD_C)
    supply[-1] = WARM_C.get(kind, WARM_ELSE_C)
    ua = np.pi * USUAL_DIAMETER_M * USUAL_M / (USUAL_R.get(place, USUAL_ELSE_R) + R_FILMS)
    kept = temperature_kept(ua, USUAL_FLOW_M3_S * conditions.density_kg_m3 * CP_AIR_J_KGK)
    leak = air.duct_leakage / 2
    end = around + (supply - around) * kept
    given = inside + leak * (around - inside) - supply
    return np.asarray(1 / np.clip((1 - leak) * (inside - end) / given, LEAST, 1.0) - 1)


def surroundings(unit_design: UnitDesign, conditions: Conditions, day: Balance, factors: Factors) -> dict[str, Array]:
    """Air temperature round ducts by place: all hours of all months, then the winter design night, (months * 24 + 1,)."""
    hours = len(day.months) * 24
    out = np.concatenate([d.outdoor_c for d in conditions.days])
    inside, winter_in = conditions.indoor_cooling.temperature_c, conditions.indoor_heating.temperature_c
    winter = conditions.outdoor_winter.temperature_c

    def buffer(key: str, fallback: Array) -> Array:
        found = day.buffer_c(key)
        return fallback if found is None else np.asarray(found.reshape(hours))

    spaces = unit_design.spaces
    first = next((s.id for s in spaces if s.kind == "garage"), spaces[0].id if spaces else "")
    rows = {
        "inside": (np.full(hours, inside), winter_in),
        "basement": (buffer("basement", np.full(hours, inside)), factors.spaces.under_winter_c["basement"]),
        "attic": (buffer("attic", out + 10.0), winter),
        "crawl": (buffer("crawl", (out + inside) / 2), factors.spaces.under_winter_c["crawl"]),
        "garage": (buffer(first, out), factors.spaces.winter(first)),
        **{IN_SPACE + s.id: (buffer(s.id, out), factors.spaces.winter(s.id)) for s in spaces},
    }
    return {place: np.append(summer, night) for place, (summer, night) in rows.items()}


def duct_heat(
    unit_design: UnitDesign,
    tree: RunTree,
    flows: dict[str, float],
    air: Airflow,
    conditions: Conditions,
    day: Balance,
    factors: Factors,
    peak: tuple[int, int],
    kind: str,
) -> DuctHeat:
    """Shares by the runs of a unit.

    Args:
        tree: how its runs hang together.
        flows: design flow of every run, m3/s.
        peak: index of month and hour 1..24 of the house's peak, for the figures shown.
        kind: of the unit, for the temperature of its warm air.
    """
    around = surroundings(unit_design, conditions, day, factors)
    base = allowance(unit_design, air, conditions, around, kind)
    if not unit_design.runs or not unit_design.rooms or air.total_m3_s <= 0:
        return base
    return _Along(
        unit_design, tree, flows, air, conditions, around, peak, kind, "basement" in day.buffer_keys
    ).solved(base)


IN_SPACE = "space "
"""Before the id of an unheated space, where a duct's surroundings are told by it."""


def space_round(u: UnitDesign, run: LaidRun) -> str:
    """What `surroundings` tells a run's air round it by: its kind of place, or the very garage its end lies in or over."""
    if run.lies_in != "garage" or not run.path_m:
        return run.lies_in
    own = (s for s in u.spaces if intersects_xy(shape_of(s.outline_m), *run.path_m[-1]))
    found = next(own, None)
    return "garage" if found is None else IN_SPACE + found.id


def without_ducts(unit_design: UnitDesign, conditions: Conditions) -> DuctHeat:
    """Of a unit that stands in the room it serves."""
    n = len(unit_design.rooms)
    none, cooling = np.zeros(n), np.zeros((len(conditions.days), n, 24))
    return DuctHeat(none, cooling, none, np.zeros(n, bool), return_leak_m3_s=none, usual_cooling=cooling)


def together(parts: Sequence[DuctHeat], weights: Array) -> DuctHeat:
    """All units' ducts as shares of the rooms' loads; `weights` is each unit's part of a room, (unit, room)."""
    if len(parts) == 1:
        return parts[0]
    rooms = [(x, w) for x, w in zip(parts, weights, strict=True)]
    return DuctHeat(
        np.asarray(sum(w * x.heating for x, w in rooms)),
        np.asarray(sum(w[None, :, None] * x.cooling for x, w in rooms)),
        np.asarray(sum(x.latent_w for x in parts)),
        np.asarray(np.any([x.by_run & (w > 0) for x, w in rooms], axis=0)),
        {k: v for x in parts for k, v in x.runs.items()},
        max(x.return_rise_k for x in parts),
        np.asarray(sum(x.return_leak_m3_s for x in parts)),
        np.asarray(sum(w[None, :, None] * x.usual_cooling for x, w in rooms)),
        {k: v for x in parts for k, v in x.ends.items()},
    )


class _Along:
    """Temperatures along the runs at every hour and on the design night; arrays by run."""

    def __init__(
        self,
        u: UnitDesign,
        tree: RunTree,
        flows: dict[str, float],
        air: Airflow,
        c: Conditions,
        around: dict[str, Array],
        peak: tuple[int, int],
        kind: str,
        cellar: bool,
    ) -> None:
        self.u, self.tree, self.air, self.c = u, tree, air, c
        self.at = peak[0] * 24 + peak[1] - 1
        """Column of the house's peak; the last one is winter."""
        width = len(around["attic"])
        self.inside = np.full(width, c.indoor_cooling.temperature_c)
        self.inside[-1] = c.indoor_heating.temperature_c
        self.supply = np.full(width, COLD_C)
        self.supply[-1] = WARM_C.get(kind, WARM_ELSE_C)
        self.around = np.array([around[space_round(u, r)] for r in u.runs])
        self.flow = np.array([flows.get(r.id, 0.0) for r in u.runs])
        self.heat_per_flow = c.density_kg_m3 * CP_AIR_J_KGK
        within = ("inside",) if cellar else ("inside", "basement")  # a basement that is drawn is heated
        outside = np.array([r.lies_in not in within for r in u.runs])
        insulation = np.array([r.r_m2k_w for r in u.runs])
        self.ua = outside * tree.surface_m2 / (insulation + R_FILMS)
        moving = self.flow > 1e-9
        still = np.where(moving, self.flow, 1.0)
        self.kept = moving * temperature_kept(self.ua, still * self.heat_per_flow)
        """Share of the difference to the surroundings that is left at the end of a run."""
        of_side = tree.surface_m2 / np.maximum(tree.side_m2, 1e-12)
        leak = u.air.duct_leakage / 2 * air.total_m3_s * of_side / still
        self.lost = np.where(outside & moving, np.minimum(leak, 0.9), 0.0)
        """Leak to the outside as a share of a run's own flow: leaks go by surface, half of them on each side."""

    def solved(self, base: DuctHeat) -> DuctHeat:
        rise, leaks = self._return()
        ends, left, runs = self._along()
        given = self.inside + rise - self.supply
        """What the unit changes the air by; negative in winter."""
        n, months = len(self.u.rooms), base.cooling.shape[0]
        index = {r.id: i for i, r in enumerate(self.u.rooms)}
        room_of = {x.id: index[x.room] for x in self.u.registers if x.side == "supply"}
        at = [k for k, r in enumerate(self.u.runs) if r.side == "supply" and r.register_id in room_of]
        rooms = np.array([room_of[self.u.runs[k].register_id or ""] for k in at], np.intp)
        share, by_run = np.zeros((n, len(self.inside))), np.zeros(n, bool)
        flow_of, delivered = np.zeros(n), np.zeros((n, len(self.inside)))
        by_run[rooms] = True
        np.add.at(flow_of, rooms, self.flow[at])
        np.add.at(delivered, rooms, (self.flow * left)[at, None] * (self.inside - ends[at]))
        on = by_run & (flow_of > 1e-9)
        reach = np.clip(delivered[on] / (flow_of[on, None] * given), LEAST, 1.0)
        share[on] = 1 / reach - 1
        summer = share[:, :-1].reshape(n, months, 24).transpose(1, 0, 2)
        cooling = np.where(on[None, :, None], summer, base.cooling)
        heating = np.where(on, share[:, -1], base.heating)
        leaked = leaks * flow_of / max(float(flow_of.sum()), 1e-9)
        latent = leaked * self.c.latent_factor * self.c.moisture_difference
        found = {
            self.u.runs[k].register_id or "": End(
                self.u.id, float(self.flow[k]), float(left[k]), ends[k], self.supply, rise
            )
            for k in at
        }
        return DuctHeat(heating, cooling, latent, on, runs, float(rise[self.at]), leaked, base.usual_cooling, found)

    def _return(self) -> tuple[Array, float]:
        """Temperature the return gains by conduction and leaks, K, and what leaks into it, m3/s."""
        back = np.array([r.side == "return" for r in self.u.runs])
        part = back * self.flow / self.air.total_m3_s
        rise = (part * ((1 - self.kept) + self.kept * self.lost)) @ (self.around - self.inside)
        return rise, float((back * self.lost * self.flow).sum())

    def _along(self) -> tuple[Array, Array, dict[str, RunHeat]]:
        """Air at the end of every run, (run, hour), the share of its air that is left, and the heat of each run."""
        u, around, kept = self.u, self.around, self.kept
        start = np.array([self.supply if r.side == "supply" else self.inside for r in u.runs])
        ends, left = np.empty_like(start), 1 - self.lost
        for k in self.tree.order:
            parent = self.tree.parent[k]
            if parent >= 0 and u.runs[k].side == "supply":
                start[k] = ends[parent]
                left[k] *= left[parent]
            ends[k] = around[k] + (start[k] - around[k]) * kept[k]
        hours = [self.at, -1]
        change = (around - start)[:, hours] * ((1 - kept) * self.flow * self.heat_per_flow)[:, None] * (1.0, -1.0)
        figures = np.column_stack((self.ua, kept, change, around[:, hours])).tolist()
        runs = {r.id: RunHeat(r.lies_in, *x) for r, x in zip(u.runs, figures, strict=True) if r.side in SIDES}
        return ends, left, runs


SIDES = ("supply", "return")
