"""An unheated basement under the lowest storey that is drawn: its size, and its temperature on the design night."""

from __future__ import annotations

from murvan.design.conditions import Conditions
from murvan.design.geometry import Geometry
from murvan.design.surfaces import Assembly, assembly_films
from murvan.model.job import Job
from murvan.physics import heat
from murvan.physics.constants import CP_AIR_J_KGK

HEIGHT_M, ABOVE_M = 2.2, 0.3
"""Clear height, and how much of it stands over the ground; common practice."""
CHANGES = 0.25
"""Outdoor air changes an hour, windows shut; common practice."""
WALL_R, WALL_U = 0.15, 2.5
"""Bare concrete where no make-up is chosen, m2K/W to its outer face and W/m2K in the open."""
SLAB_R = 0.22
"""Bare slab with the film on it, m2K/W."""


def air_w_k(g: Geometry, density_kg_m3: float) -> float:
    """What its air changes carry, W/K."""
    return sum(g.floors_m2["basement"]) * HEIGHT_M * CHANGES / 3600 * density_kg_m3 * CP_AIR_J_KGK


def winter_c(job: Job, g: Geometry, c: Conditions, table: dict[str, Assembly], floor_u_w_m2k: float) -> float:
    """Its air temperature on the design night: gains through the floor over it against walls, ground and air changes.

    Ground by Latta-Boileau as for a heated basement, ASHRAE ch. 18.
    """
    area, edge = sum(g.floors_m2["basement"]), sum(g.cellar_edge_m)
    indoor, outdoor = c.indoor_heating.temperature_c, c.outdoor_winter.temperature_c
    if area <= 0:
        return indoor
    made = next((x for x in job.constructions if x.id == job.basement_construction), None)
    u = table[made.id].u_w_m2k if made is not None else WALL_U
    bare = 1 / u - assembly_films(made)[0] if made is not None else WALL_R
    deep = HEIGHT_M - ABOVE_M
    up = area * floor_u_w_m2k
    out = edge * ABOVE_M * u + air_w_k(g, c.density_kg_m3)
    down = edge * deep * heat.below_grade_wall_u(0.0, deep, bare)
    down += area * heat.below_grade_floor_u(max(g.cellar_width_m, 1.0), deep, SLAB_R)
    ground = job.climate.ground_c - job.climate.ground_swing_k
    return (up * indoor + out * outdoor + down * ground) / (up + out + down)
