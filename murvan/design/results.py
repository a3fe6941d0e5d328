"""What a solve gives: the house's demand, then every unit that serves it, then the house as a whole."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from murvan.design.circuit.network import Blower, Network
from murvan.design.ducts.airflow import Airflow, together
from murvan.design.ducts.duct_heat import DuctHeat
from murvan.design.ducts.plenums import PlenumDesign
from murvan.design.ducts.runs import Ducts, RunResult
from murvan.design.ducts.terminals import Terminal
from murvan.design.finding import Finding
from murvan.design.house.geometry import Geometry
from murvan.design.loads.answers import Answers
from murvan.design.loads.balance import Balance
from murvan.design.loads.factors import Factors
from murvan.design.loads.gains import Gains
from murvan.design.loads.peaks import Loads
from murvan.design.memo import Cache, Late
from murvan.design.parts.cut_list import CutList
from murvan.design.parts.cut_piece import STAGES
from murvan.design.units.equipment import Equipment
from murvan.design.units.outdoor import Shared
from murvan.design.units.unit_design import UnitDesign
from murvan.design.weather.conditions import Conditions
from murvan.model.equipment import Unit
from murvan.model.job import Job, Zone
from murvan.model.routes import LaidRun


@dataclass(frozen=True)
class Demand:
    """What a house asks for at its rooms, whatever serves it."""

    job: Job
    geometry: Geometry
    conditions: Conditions
    gains: Gains
    bare: Factors
    """Heating, and cooling by load factors, before ducts."""
    answers: Answers
    """What surfaces do with what acts on them."""
    balance: Balance


@dataclass(frozen=True)
class Need(Demand):
    """What the units have to give: the demand and what their ducts take."""

    factors: Factors
    """As `bare` with ducts: the second opinion."""
    laid: tuple[LaidRun, ...]
    """Runs as they lie, with the fittings that follow."""
    duct_heat: DuctHeat
    """Of all units together, by each one's part of a room."""
    loads: Loads


@dataclass(frozen=True)
class SystemResults:
    """One indoor unit with its air and its ducts."""

    design: UnitDesign
    unit: Unit | None
    """Of the catalogue."""
    loads: Loads
    """Of the rooms it serves, as far as it carries them."""
    duct_heat: DuctHeat
    equipment: Equipment
    airflow: Airflow
    """Arrays by room of the house; 0 where it serves none."""
    terminals: dict[str, Terminal]
    ducts: Ducts
    plenums: tuple[PlenumDesign, ...]
    late_cuts: Late[CutList]
    blower: Blower | None
    """What the air circuit gives it; None without a unit, supply and return."""

    @property
    def cuts(self) -> CutList:
        """Its pieces."""
        return self.late_cuts.value


@dataclass(frozen=True)
class Results(Need):
    """Everything Murvan computes of a job."""

    systems: dict[str, SystemResults]
    """By indoor unit, in the order of the design; there is always one."""
    outdoors: dict[str, Shared]
    """Outdoor units with several ports, by their id in the design."""
    network: Network | None
    """None without a unit, supply and return, and where it could not be solved."""
    late_alone: Late[Network | None]
    network_open: bool
    """The air circuit was solved as far as it goes and does not close: no figure of it may be shown."""
    judge: Callable[[Results], tuple[Finding, ...]] = field(repr=False, compare=False)
    cache: Cache = field(repr=False, compare=False, default_factory=dict)

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """The punch list; judged when it is first asked for."""
        return self.judge(self)

    @property
    def alone(self) -> Network | None:
        """Each zone of several with dampers calling alone; None where there are none."""
        return self.late_alone.value

    def complete(self) -> Results:
        """The same with all that is worked out late, so that nobody waits for it."""
        _ = self.findings, self.alone, self.cuts
        return self

    @property
    def main(self) -> SystemResults:
        """The first unit, where only one can be shown."""
        return next(iter(self.systems.values()))

    @cached_property
    def runs(self) -> dict[str, RunResult]:
        """Of all units."""
        return {i: x for s in self.systems.values() for i, x in s.ducts.runs.items()}

    @cached_property
    def damped_zones(self) -> tuple[Zone, ...]:
        """Zones that have a damper in the ducts."""
        dampers = {x.zone_damper for x in self.job.design.runs}
        return tuple(z for z in self.job.design.zones if z.id in dampers)

    @cached_property
    def terminals(self) -> dict[str, Terminal]:
        """Registers and grilles of all units, by id."""
        return {i: x for s in self.systems.values() for i, x in s.terminals.items()}

    @cached_property
    def cuts(self) -> CutList:
        """Pieces of all units in the order in which they go up, numbered through."""
        if len(self.systems) == 1:
            return self.main.cuts
        every = [p for s in self.systems.values() for p in s.cuts.pieces]
        pieces = sorted(every, key=lambda p: STAGES.index(p.stage))
        numbered = tuple(p._replace(number=k) for k, p in enumerate(pieces, 1))
        return CutList(numbered, sum(s.cuts.done for s in self.systems.values()))

    @cached_property
    def airflow(self) -> Airflow:
        """What all units bring the rooms together."""
        return together([s.airflow for s in self.systems.values()])

    @property
    def room_m3_s(self) -> NDArray[np.float64]:
        """Design air of every room, (room,)."""
        return self.airflow.design_m3_s

    @cached_property
    def predicted_m3_s(self) -> dict[str, float] | None:
        """What every room gets by the air circuit, and what a unit in the room moves; None while nothing is predicted."""
        if self.network is None:
            return None
        found = dict(self.network.room_m3_s)
        for s in self.systems.values():
            if s.design.indoor.kind != "ducted":
                for room, flow in zip(self.job.rooms, s.airflow.design_m3_s, strict=True):
                    found[room.id] += float(flow)
        return found

    @cached_property
    def fresh_m3_s(self) -> NDArray[np.float64]:
        """Ventilators' air by room, shared as the air of the unit that takes it in, (room,)."""
        out = np.zeros(len(self.job.rooms))
        for s in self.systems.values():
            if s.airflow.total_m3_s > 0:
                flow = sum(v.flow_m3_s for v in s.design.ventilators)
                out += flow * s.airflow.design_m3_s / s.airflow.total_m3_s
        return out

    def serving(self, room: int) -> SystemResults:
        """The unit that brings a room most of its air; the first where none does."""
        return max(self.systems.values(), key=lambda s: float(s.airflow.design_m3_s[room]))
