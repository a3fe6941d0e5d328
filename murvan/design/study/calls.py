"""What the air does when the house is in another state: doors shut, zones that don't call, fans, a still blower, weather."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.design.circuit.frame import AirSystem
from murvan.design.circuit.network import Network, network
from murvan.design.circuit.situations import Situation
from murvan.design.house.passages import ways
from murvan.design.results import Results


@dataclass(frozen=True)
class Call:
    """Something of the house that can be one way or the other."""

    kind: str
    """'door', 'zone', 'fan', 'filter', 'blower', 'winter' or 'wind'."""
    id: str
    name: str
    off: str
    """What it is like as the house is always solved, in a word, and what else."""
    on: str


WIND_M_S = 6.7
"""15 mph; the usual winter wind of load tables."""


def calls_of(r: Results) -> tuple[Call, ...]:
    """Everything of a house that can be tried."""
    job = r.job
    names = {x.id: x.name for x in job.rooms}
    found = ways(job)
    out = [Call("door", i, f"Door of {names[i]}", "open", "shut") for i, way in found.home.items() if way.door]
    dampers = {x.zone_damper for x in job.design.runs} - {None}
    out += [Call("zone", z.id, f"Zone {z.name}", "calls", "shut") for z in job.design.zones if z.id in dampers]
    out += [
        Call("fan", x.id, f"Fan of {x.name}", "off", "runs")
        for x in job.rooms
        if x.exhaust is not None and not x.exhaust.continuous
    ]
    out.append(Call("filter", "filter", "Filter", "clean", "loaded"))
    several = sum(s.unit is not None and bool(s.design.runs) for s in r.systems.values()) > 1
    for s in r.systems.values():
        if s.unit is not None and s.design.runs:
            out.append(
                Call(
                    "blower", s.design.id, f"Blower of {s.design.indoor.tag}" if several else "Blower", "runs", "off"
                )
            )
    out.append(Call("winter", "winter", "Cold outside", "still air", "winter design"))
    out.append(Call("wind", "wind", "Wind from the west", "none", "blows"))
    return tuple(out)


def situation(r: Results, tried: frozenset[tuple[str, str]]) -> Situation:
    """The state in which the calls that are tried, (kind, id), are the other way."""

    def of(kind: str) -> frozenset[str]:
        return frozenset(i for k, i in tried if k == kind)

    return Situation(
        "tried",
        shut=of("door"),
        loaded=bool(of("filter")),
        closed=of("zone"),
        fans=of("fan"),
        still=of("blower"),
        outdoor_c=r.job.climate.winter_c if of("winter") else None,
        wind_m_s=WIND_M_S if of("wind") else 0.0,
    )


def answered(r: Results, state: Situation) -> Network | None:
    """The air circuit in one state; None while no unit has supply and return, or where it does not close."""
    parts = [
        AirSystem.of(s.design, s.unit, s.ducts, s.airflow)
        for s in r.systems.values()
        if s.unit is not None and s.design.runs
    ]
    found = network(r.job, r.geometry, parts, r.conditions.density_kg_m3, r.network, (state,))
    return found if found is not None and found.converged else None


def over_outdoors_pa(n: Network) -> dict[str, float]:
    """Pressure of each room over the outdoors at ground level, Pa."""
    return {i: float(n.solution.pressure_pa[0, k]) for i, k in n.layout.room.items()}
