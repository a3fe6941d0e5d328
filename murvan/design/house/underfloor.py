"""Unheated spaces under the lowest storey that is drawn, a crawl space or a basement: their size and winter temperature."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.design.house.geometry import Geometry
from murvan.design.house.surfaces import Assembly, assembly, assembly_films
from murvan.design.weather.conditions import Conditions
from murvan.model.job import Job
from murvan.physics import heat
from murvan.physics.constants import CP_AIR_J_KGK


@dataclass(frozen=True)
class SpaceBelow:
    """What such spaces usually are; common practice."""

    key: str
    """Among `Geometry.floors_m2`."""
    name: str
    height_m: float
    above_m: float
    """How much of it stands over the ground."""
    changes_h: float
    """Outdoor air changes an hour."""
    floor_r: float
    """From its air to its floor's underside, m2K/W: a film on soil, or on a bare slab."""

    @property
    def deep_m(self) -> float:
        """Wall in the ground, m."""
        return self.height_m - self.above_m


CRAWL = SpaceBelow("crawl", "crawl space", 0.7, 0.4, 2.0, 0.16)
"""Vented."""
BASEMENT = SpaceBelow("basement", "basement", 2.2, 0.3, 0.25, 0.22)
"""Windows shut."""
KINDS = (CRAWL, BASEMENT)
WALL_R, WALL_U = 0.15, 2.5
"""Bare concrete where no assembly is chosen, m2K/W to its outer face and W/m2K in the open; common practice."""


def air_w_k(geometry: Geometry, kind: SpaceBelow, density_kg_m3: float) -> float:
    """What its air changes carry, W/K."""
    volume = sum(geometry.floors_m2[kind.key]) * kind.height_m
    return volume * kind.changes_h / 3600 * density_kg_m3 * CP_AIR_J_KGK


def ground_u(job: Job, geometry: Geometry, kind: SpaceBelow) -> tuple[float, float]:
    """From its air to the ground through its walls in the ground and through its floor, W/m2K; Latta-Boileau."""
    made = next((x for x in job.constructions if x.id == job.basement_construction), None)
    bare = 1 / assembly(made).u_w_m2k - assembly_films(made)[0] if made is not None else WALL_R
    wall = heat.below_grade_wall_u(0.0, kind.deep_m, bare)
    return wall, heat.below_grade_floor_u(max(geometry.under_width_m[kind.key], 1.0), kind.deep_m, kind.floor_r)


def winter_c(
    job: Job,
    geometry: Geometry,
    conditions: Conditions,
    table: dict[str, Assembly],
    floor_u_w_m2k: float,
    kind: SpaceBelow,
) -> float:
    """Its air temperature on the design night: gains through the floor over it against walls, ground and air changes.

    Ground by Latta-Boileau as for a heated basement, ASHRAE ch. 18. Never colder than outdoors.
    """
    area, edge = sum(geometry.floors_m2[kind.key]), sum(geometry.under_edge_m[kind.key])
    indoor, outdoor = conditions.indoor_heating.temperature_c, conditions.outdoor_winter.temperature_c
    if area <= 0:
        return indoor
    made = next((x for x in job.constructions if x.id == job.basement_construction), None)
    u = table[made.id].u_w_m2k if made is not None else WALL_U
    up = area * floor_u_w_m2k
    out = edge * kind.above_m * u + air_w_k(geometry, kind, conditions.density_kg_m3)
    u_wall, u_floor = ground_u(job, geometry, kind)
    down = edge * kind.deep_m * u_wall + area * u_floor
    ground = job.climate.ground_c - job.climate.ground_swing_k
    return (up * indoor + out * outdoor + down * ground) / (up + out + down)
