"""The opaque shell as one table of surfaces: area, U-factor, and the temperature differences that act on each.

Heating: steady, U A dT. Cooling: the load-factor method, U A (a dT + b + c DR) with a, b, c by the kind of surface;
ASHRAE Handbook Fundamentals, residential load factors, from memory. Below grade: Latta-Boileau, no cooling load.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from murvan.arrays import Array
from murvan.design.house.geometry import Geometry
from murvan.design.weather.conditions import Conditions
from murvan.model.job import Construction, Job, Space, signed_area
from murvan.physics import heat

BTU_H = 0.29307107017
FT2 = 0.3048**2


@dataclass(frozen=True)
class Assembly:
    """A construction worked out."""

    u_w_m2k: float
    r_cavity: float
    """m2K/W."""
    r_framing: float
    """m2K/W."""
    films: float
    """Both surface films, m2K/W."""


def assembly(construction: Construction) -> Assembly:
    """U-factor with films by parallel paths."""
    films = sum(assembly_films(construction))
    cavity = films + sum(x.resistance_m2k_w for x in construction.layers)
    framing = films + sum(x.along_framing_m2k_w for x in construction.layers)
    return Assembly(heat.parallel_path_u(cavity, framing, construction.framing_fraction), cavity, framing, films)


def assembly_films(construction: Construction) -> tuple[float, float]:
    """Outside and inside surface resistance, m2K/W."""
    inside = {
        "wall": heat.R_INSIDE_WALL,
        "partition": heat.R_INSIDE_WALL,
        "door": heat.R_INSIDE_WALL,
        "ceiling": heat.R_INSIDE_CEILING_UP,
        "roof": heat.R_INSIDE_CEILING_UP,
        "floor": heat.R_INSIDE_FLOOR_DOWN,
        "slab": heat.R_INSIDE_FLOOR_DOWN,
    }[construction.kind]
    outside = (
        heat.R_INSIDE_WALL
        if construction.kind == "partition"
        else (inside if construction.kind == "ceiling" else heat.R_OUTSIDE_WINTER)
    )
    if construction.kind == "slab":
        outside = 0.0
    return outside, inside


@dataclass(frozen=True)
class Factor:
    """Cooling temperature difference of a kind of surface: a dT + b + c DR, K."""

    a: float
    b: float
    c: float

    def difference_k(self, dt: float, dr: float) -> float:
        """Equivalent temperature difference, K, of the cooling design difference `dt` and the daily range `dr`, K."""
        return self.a * dt + self.b + self.c * dr


WALL = Factor(1.0, 14.8 / 1.8, -0.36)
SHADED = Factor(1.0, 0.0, -0.36)
CRAWL = Factor(0.33, 0.0, -0.28)
OPEN_FLOOR = Factor(1.0, 0.0, -0.06)
NONE = Factor(0.0, 0.0, 0.0)


SIDES = {
    "outdoors": ("walls", "{} wall", WALL),
    "garage": ("garage", "{} wall", SHADED),
    "attic": ("walls", "{} knee wall", WALL),
}
"""What lies beyond a wall to its component, its label and its cooling factor."""


def attic_factor(absorptance: float) -> Factor:
    """A ceiling, or a knee wall, to a vented attic under a roof of that absorptance."""
    return Factor(0.62, (25.7 * absorptance - 8.1) / 1.8, -0.19)


def roof_factor(absorptance: float) -> Factor:
    """A ceiling that is the roof itself."""
    return Factor(1.0, (68.9 * absorptance - 12.6) / 1.8, -0.36)


@dataclass(frozen=True)
class Surface:
    """One opaque piece of the shell, or a slab's edge (`area` then is its length, `u` its F-factor)."""

    room: int
    component: str
    label: str
    kind: str
    """'outdoors', 'garage', 'attic', 'roof', 'ground', 'crawl', 'basement', 'open floor', 'slab edge', 'slab', 'below'."""
    area_m2: float
    u_w_m2k: float
    heat_k: float
    cool: Factor
    cool_k: float
    construction: str | None = None
    part: int = -1
    """Index into `Geometry.walls`, for walls."""
    space: str | None = None
    """The garage or porch beyond it."""

    @property
    def heating_w(self) -> float:
        """Heat lost at winter design, W."""
        return self.area_m2 * self.u_w_m2k * self.heat_k

    @property
    def cooling_w(self) -> float:
        """Heat gained by load factors, W."""
        return self.area_m2 * self.u_w_m2k * self.cool_k


@dataclass(frozen=True)
class Spaces:
    """Air temperature of the unheated spaces on the design days, deg C."""

    winter_c: dict[str, float]
    summer_c: dict[str, float]
    """Of garages and porches by their id."""
    under_winter_c: dict[str, float]
    """What lies under the lowest floor, 'crawl' and 'basement', indoors where there is none; the basement is given no
    cooling load here."""
    outdoor_winter_c: float
    outdoor_summer_c: float

    def winter(self, space: str | None) -> float:
        """Of the garage or porch beyond a surface; of the only one, or the outdoors, where it is not known."""
        return _of_space(self.winter_c, space, self.outdoor_winter_c)

    def summer(self, space: str | None) -> float:
        """Air of an unheated space on the summer design day, degC; None is outdoors."""
        return _of_space(self.summer_c, space, self.outdoor_summer_c)


def _of_space(by_id: dict[str, float], space: str | None, outdoor_c: float) -> float:
    if space in by_id:
        return by_id[space or ""]
    return next(iter(by_id.values())) if len(by_id) == 1 else outdoor_c


@dataclass(frozen=True)
class Body:
    """Faces of a garage or porch that look outdoors."""

    walls_m2: float
    roof_m2: float
    """What no room covers."""
    floor_m2: float
    edge_m: float
    """Floor edge along the outside walls."""
    volume_m3: float


SPACE_ROOF = 0.85
"""Absorptance of the roof of garages and porches; common practice."""


def roof_absorptance(job: Job) -> float:
    """Colour of the roof over an attic: the roof's own, else as said of the ceiling."""
    made = next((x for x in job.constructions if x.id == (job.roof_construction or job.ceiling_construction)), None)
    return made.absorptance if made is not None else SPACE_ROOF


def slab_r(slab: Construction | None) -> float:
    """Inside film and layers of a slab, m2K/W."""
    layers = sum(x.resistance_m2k_w for x in slab.layers) if slab is not None and slab.kind == "slab" else 0.1
    return heat.R_INSIDE_FLOOR_DOWN + layers


def below_floor_u(geometry: Geometry, room: int, slab: Construction | None) -> float:
    """From inside to the ground through a floor below grade, W/m2K; Latta-Boileau."""
    return heat.below_grade_floor_u(max(geometry.below_width_m, 1.0), geometry.below_m[room], slab_r(slab))


def space_body(job: Job, geometry: Geometry, space: Space) -> Body:
    """Measures of a garage or porch: walls beside rooms and the roof under rooms are left out."""
    height = next(s.height_m for s in job.storeys if s.id == space.storey)
    pts = space.outline_m
    around = sum(float(np.hypot(x1 - x0, y1 - y0)) for (x0, y0), (x1, y1) in zip(pts, pts[1:] + pts[:1], strict=True))
    area = abs(signed_area(pts))
    shared = sum(p.length_m for p in geometry.walls if p.neighbour == space.id and p.other == "garage")
    covered = sum(geometry.over_space_m2.get(space.id, ()))
    edge = max(around - shared, 0.0)
    return Body(edge * height, max(area - covered, 0.0), area, edge, area * height)


class Shell:
    """Collects the surfaces of a job."""

    def __init__(self, job: Job, g: Geometry, c: Conditions, table: dict[str, Assembly], spaces: Spaces) -> None:
        self.job, self.g, self.c, self.table, self.spaces = job, g, c, table, spaces
        self.by_id = {x.id: x for x in job.constructions}
        self.rows: list[Surface] = []
        self.ground_c = job.climate.ground_c - job.climate.ground_swing_k

    def u(self, construction: str | None, fallback: float) -> float:
        """U of an assembly, W/m2K, or `fallback` where there is none."""
        return self.table[construction].u_w_m2k if construction in self.table else fallback

    def surfaces(self) -> tuple[Surface, ...]:
        """Every opaque surface of the house, walls first, then ceilings and floors."""
        self._walls()
        self._ceilings()
        self._floors()
        return tuple(self.rows)

    def _add(
        self,
        room: int,
        component: str,
        label: str,
        kind: str,
        area: float,
        u: float,
        cool: Factor,
        construction: str | None,
        heat_k: float | None = None,
        part: int = -1,
        space: str | None = None,
    ) -> None:
        if area <= 1e-9:
            return
        c = self.c
        dh = c.heating_difference_k if heat_k is None else heat_k
        cool_k = cool.difference_k(c.cooling_difference_k, c.daily_range_k)
        if kind in ("garage", "garage floor"):
            dh = c.indoor_heating.temperature_c - self.spaces.winter(space)
            cool_k = self.spaces.summer(space) - c.indoor_cooling.temperature_c + cool.c * c.daily_range_k
        self.rows.append(Surface(room, component, label, kind, area, u, dh, cool, cool_k, construction, part, space))

    @property
    def _ground_k(self) -> float:
        """Indoors less the coldest ground: mean less surface amplitude; ASHRAE, Latta-Boileau."""
        return self.c.indoor_heating.temperature_c - self.ground_c

    def _walls(self) -> None:
        over = attic_factor(roof_absorptance(self.job))
        for k, p in enumerate(self.g.walls):
            side, made = f"{p.compass} wall", p.construction
            if p.other == "ground":
                u = heat.below_grade_wall_u(*p.depth_m, self.bare_r(made, 1.0))
                label = f"{side}, below grade"
                self._add(p.room, "walls", label, "ground", p.net_area_m2, u, NONE, made, self._ground_k, k)
            elif p.other in SIDES:
                component, label, factor = SIDES[p.other]
                cool = over if p.other == "attic" else factor
                name = label.format(p.compass)
                u = self.u(made, 0.5)
                self._add(p.room, component, name, p.other, p.net_area_m2, u, cool, made, part=k, space=p.neighbour)

    def bare_r(self, construction: str | None, fallback: float) -> float:
        """Resistance from the room's air to the construction's outer face, m2K/W, no outside film."""
        x = self.by_id.get(construction or "")
        if x is None:
            return fallback
        return 1 / self.table[x.id].u_w_m2k - assembly_films(x)[0]

    def _absorptance(self, construction: str | None) -> float:
        x = self.by_id.get(construction or "")
        return x.absorptance if x is not None else 0.85

    def _ceilings(self) -> None:
        job = self.job
        for i, room in enumerate(job.rooms):
            over = room.ceiling_construction or job.ceiling_construction
            roof = room.ceiling_construction or job.roof_construction or job.ceiling_construction
            for kind, made, factor in (
                ("attic", over, attic_factor(roof_absorptance(job))),
                ("roof", roof, roof_factor(self._absorptance(roof))),
            ):
                label = "ceiling under the attic" if kind == "attic" else "roof"
                self._add(i, "ceiling", label, kind, self.g.ceilings_m2[kind][i], self.u(made, 0.3), factor, made)

    def _floors(self) -> None:
        job, g = self.job, self.g
        for i, room in enumerate(job.rooms):
            made = room.floor_construction or job.floor_construction
            slab = self.by_id.get(made or "")
            raised = room.floor_construction or job.raised_construction or job.floor_construction
            open_u = self.u(raised, 0.4) if raised in self.by_id and self.by_id[raised].kind == "floor" else 0.4
            edge = slab.edge_f_w_mk if slab is not None and slab.edge_f_w_mk is not None else 1.26
            self._add(i, "floor", "slab edge", "slab edge", g.edge_m[i], edge, NONE, made)
            self._slab(i, g.floors_m2["slab"][i], slab, made)
            for key, words, cool in (("crawl", "crawl space", CRAWL), ("basement", "basement", NONE)):
                over = self.c.indoor_heating.temperature_c - self.spaces.under_winter_c[key]
                self._add(i, "floor", f"floor over {words}", key, g.floors_m2[key][i], open_u, cool, raised, over)
            self._add(
                i,
                "floor",
                "floor over outdoors",
                "open floor",
                g.floors_m2["outdoors"][i],
                open_u,
                OPEN_FLOOR,
                raised,
            )
            for space in job.spaces:
                area = g.over_space_m2[space.id][i]
                name = f"floor over {space.name}"
                self._add(i, "garage", name, "garage floor", area, open_u, OPEN_FLOOR, raised, space=space.id)
            if not job.spaces:
                area = g.floors_m2["garage"][i]
                self._add(i, "garage", "floor over garage", "garage floor", area, open_u, OPEN_FLOOR, raised)
            if g.floors_m2["below"][i] > 0:
                u = below_floor_u(g, i, slab)
                self._add(
                    i, "floor", "floor below grade", "below", g.floors_m2["below"][i], u, NONE, made, self._ground_k
                )

    def _slab(self, room: int, area: float, slab: Construction | None, made: str | None) -> None:
        """A slab's own cooling, W/m2 rather than U dT."""
        if area > 1e-9:
            factor = slab_factor_w_m2(slab)
            self.rows.append(Surface(room, "floor", "slab", "slab", area, factor, 0.0, NONE, 1.0, made))


def slab_factor_w_m2(floor: Construction | None) -> float:
    """Cooling factor of a slab: .51 - 2.5/(R_cover + .68) Btu/h ft2; the same source, from memory."""
    cover = sum(x.resistance_m2k_w for x in floor.layers if x.look != "concrete") if floor else 0.0
    return (0.51 - 2.5 / (cover / 0.1761101838 + 0.68)) * BTU_H / FT2


def conduction(surfaces: tuple[Surface, ...], column: dict[str, int], rooms: int) -> tuple[Array, Array]:
    """Heating and cooling through the opaque shell, W, each (room, component)."""
    n = len(column)
    if not surfaces:
        return np.zeros((rooms, n)), np.zeros((rooms, n))
    at = np.array([s.room * n + column[s.component] for s in surfaces])
    ua = np.array([s.area_m2 * s.u_w_m2k for s in surfaces])
    heat_k, cool_k = np.array([s.heat_k for s in surfaces]), np.array([s.cool_k for s in surfaces])
    shape = (rooms, n)
    return (
        np.bincount(at, ua * heat_k, rooms * n).astype(float).reshape(shape),
        np.bincount(at, ua * cool_k, rooms * n).astype(float).reshape(shape),
    )
