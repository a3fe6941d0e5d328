"""How the blower's air is shared among rooms and registers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array
from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.loads.peaks import Loads
from murvan.model.job import Job, Register, Room
from murvan.physics.heat import whole_house_ventilation_m3_s


@dataclass(frozen=True)
class Airflow:
    """Flows in m3/s; arrays by room, dictionary by register."""

    total_m3_s: float
    cooling_m3_s: Array
    heating_m3_s: Array
    design_m3_s: Array
    register_m3_s: dict[str, float]
    storey_return_m3_s: dict[str, float]
    served: NDArray[np.bool_]
    share: Array
    """Of each room's load that is carried, (room,)."""


def airflow(
    rooms: tuple[Room, ...],
    registers: tuple[Register, ...],
    loads: Loads,
    share: Array,
    total_m3_s: float,
    fresh_m3_s: float = 0.0,
) -> Airflow:
    """Share a unit's air by each season's need, then take the larger of the two, scaled to its blower.

    Args:
        share: of each room's load that the unit carries, (room,).
        fresh_m3_s: outdoor air that enters at the return plenum and does not come back through the grilles.
    """
    if registers:
        served = np.array([any(x.room == r.id and x.side == "supply" for x in registers) for r in rooms], bool)
    else:
        served = np.asarray(share > 0)
    cooling = _share(loads.sensible_w * share * served, total_m3_s)
    heating = _share(loads.heating_w * share * served, total_m3_s)
    larger = np.maximum(cooling, heating)
    design = _share(larger, total_m3_s)
    by_register: dict[str, float] = {}
    for i, room in enumerate(rooms):
        own = [x for x in registers if x.room == room.id and x.side == "supply"]
        parts = sum(x.share for x in own)
        for x in own:
            by_register[x.id] = float(design[i]) * x.share / parts
    kept = 1 - min(fresh_m3_s / total_m3_s, 1.0) if total_m3_s > 0 else 1.0
    back = _returns(rooms, registers, design * kept, by_register)
    return Airflow(total_m3_s, cooling, heating, design, by_register, back, served, share)


def together(parts: Sequence[Airflow]) -> Airflow:
    """What several units bring the rooms together."""
    if len(parts) == 1:
        return parts[0]

    def total(name: str) -> Array:
        return np.asarray(sum(getattr(x, name) for x in parts))

    storeys = {s for x in parts for s in x.storey_return_m3_s}
    return Airflow(
        float(total("total_m3_s")),
        total("cooling_m3_s"),
        total("heating_m3_s"),
        total("design_m3_s"),
        {k: v for x in parts for k, v in x.register_m3_s.items()},
        {s: sum(x.storey_return_m3_s.get(s, 0.0) for x in parts) for s in storeys},
        np.asarray(np.any([x.served for x in parts], axis=0)),
        total("share"),
    )


def _share(need: Array, total: float) -> Array:
    whole = float(need.sum())
    return need / whole * total if whole > 0 else np.zeros_like(need)


def _returns(
    rooms: tuple[Room, ...], registers: tuple[Register, ...], design: Array, by_register: dict[str, float]
) -> dict[str, float]:
    """Return flow of each storey goes to its own grilles; a storey without one sends its air to the others."""
    storey_of = {r.id: r.storey for r in rooms}
    grilles = [x for x in registers if x.side == "return"]
    supply: dict[str, float] = {}
    for room, flow in zip(rooms, design, strict=True):
        supply[room.storey] = supply.get(room.storey, 0.0) + float(flow)
    with_grille = {storey_of[x.room] for x in grilles}
    homeless = sum(f for s, f in supply.items() if s not in with_grille)
    kept = sum(f for s, f in supply.items() if s in with_grille)
    back = {s: (f + homeless * f / kept if s in with_grille and kept > 0 else 0.0) for s, f in supply.items()}
    for storey in with_grille:
        own = [x for x in grilles if storey_of[x.room] == storey]
        parts = sum(x.share for x in own)
        for x in own:
            by_register[x.id] = back[storey] * x.share / parts
    return back


def fresh_air_wanted(job: Job, floor_area_m2: float) -> float:
    """Whole-house ventilation by ASHRAE 62.2, or with the floor rate of codes that ask for a third of it, m3/s."""
    rate = 0.01 if job.indoor.fresh_air == "reduced" else 0.03
    return whole_house_ventilation_m3_s(floor_area_m2, job.bedrooms, rate)


def explain_room(a: Airflow, loads: Loads, room: int) -> Arithmetic:
    """One room's design air."""
    q = Quantity
    sensible, heating = (np.where(a.served, a.share * x, 0.0) for x in (loads.sensible_w, loads.heating_w))
    return Arithmetic(
        "Room air",
        (
            Line(
                "cooling",
                "{0} × {1} ÷ {2}",
                (q("flow", a.total_m3_s), q("power", float(sensible[room])), q("power", float(sensible.sum()))),
                q("flow", float(a.cooling_m3_s[room])),
            ),
            Line(
                "heating",
                "{0} × {1} ÷ {2}",
                (q("flow", a.total_m3_s), q("power", float(heating[room])), q("power", float(heating.sum()))),
                q("flow", float(a.heating_m3_s[room])),
            ),
            Line(
                "Chosen",
                "larger, {2} × {0} ÷ {1}",
                (
                    q("flow", a.total_m3_s),
                    q("flow", float(np.maximum(a.cooling_m3_s, a.heating_m3_s).sum())),
                    q("flow", float(max(a.cooling_m3_s[room], a.heating_m3_s[room])), 1),
                ),
                q("flow", float(a.design_m3_s[room])),
                True,
            ),
        ),
        ("Blower air × this room's need ÷ all rooms' need, both seasons; the larger, scaled to the blower",),
    )
