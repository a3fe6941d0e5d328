"""The surfaces of a job for the design-day heat balance: what each is made of, what lies beyond, what falls on it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array
from murvan.design.house import underfloor
from murvan.design.house.geometry import Geometry, OpeningFace, RoofPart, WallPart, compass
from murvan.design.house.surfaces import (
    SPACE_ROOF,
    assembly,
    assembly_films,
    below_floor_u,
    roof_absorptance,
    space_body,
)
from murvan.design.loads.balance_walls import (
    CONCRETE,
    HC_DOWN,
    HC_UP,
    HC_WALL,
    HR,
    R_OUT_SUMMER,
    ROOF_DECK,
    UNKNOWN_DOOR,
    UNKNOWN_FLOOR,
    UNKNOWN_ROOF,
    UNKNOWN_WALL,
    between,
    both_sides,
    on_soil,
    pane,
    partition_of,
    to_weather,
)
from murvan.design.loads.components import COLUMN, COMPONENTS
from murvan.design.loads.factors import glass_column, shade_of
from murvan.design.weather.conditions import Conditions, Day, ground_c, sun_on
from murvan.model.job import Construction, Job, Space
from murvan.physics import heat, sun
from murvan.physics.constants import CP_AIR_J_KGK
from murvan.physics.periodic import HOURS, Slab, Wall, massless

Complex = NDArray[np.complex128]
SKY_K = 4.0
"""Sol-air taken off a surface that sees the sky, horizontal, K; ASHRAE ch. 18."""
SUN_ON_FLOOR = 0.7
"""Share of the sun through glass that falls on the floor; the rest on the other faces by area. Common practice."""
SHADE_TO_AIR = 0.6
"""Of the sun that comes in past blinds this times what they keep off goes straight to the air; common practice."""
SPACE_EDGE_W_MK = 1.26
"""Slab edge of garages and porches, bare; as for slabs without a value of their own."""
ATTIC_CHANGES = 5.0
"""Air changes an hour of a vented attic, 1 m high on the mean; common practice."""
ATTIC_M, ROOF_OVER = 1.0, 1.12
GLASS = tuple(k for k, name in enumerate(COMPONENTS) if name.startswith("glass"))
"""Columns that let sun in; they come first."""


# ---- rows ----
class SurfaceFace(NamedTuple):
    """One side of a surface."""

    zone: int
    """-1 for the room, else the index of the space it faces."""
    area: float
    """m2."""
    wall: Wall
    hc: float
    """W/m2K."""
    component: int
    drive: int
    other: int
    """What lies beyond a link: the space seen from the room, -2 the room seen from the space; -1 no link."""
    other_hc: float
    """Of its other side, W/m2K."""
    floor: bool
    label: str


@dataclass(frozen=True, eq=False)
class Rows:
    """Surfaces of one room and their far sides."""

    faces: tuple[SurfaceFace, ...]
    sun_in: Array
    """Sun that falls on faces, W, (glass component, month, 24)."""
    sun_to_air: Array
    """Sun that goes straight to the air, W, (glass component, month, 24)."""


class RowList:
    """Rows as they come."""

    def __init__(self, months: int) -> None:
        self.rows: list[SurfaceFace] = []
        self.sun_in = np.zeros((len(GLASS), months, HOURS))
        self.sun_to_air = np.zeros((len(GLASS), months, HOURS))

    def add(
        self,
        area: float,
        wall: Wall,
        hc: float,
        component: str,
        drive: int,
        *,
        zone: int = -1,
        floor: bool = False,
        other: int = -1,
        other_hc: float = 0.0,
        label: str = "",
    ) -> None:
        """One more row: `area` m2 of a wall with `hc` W/m2K inside, driven by column `drive`; with the rooms and faces it touches."""
        if area > 1e-6:
            self.rows.append(
                SurfaceFace(zone, area, wall, hc, COLUMN[component], drive, other, other_hc, floor, label)
            )

    def link(
        self,
        space: int,
        area: float,
        sides: tuple[Wall, Wall],
        hc: float,
        component: str,
        floor: bool = False,
        *,
        label: str = "",
    ) -> None:
        """A surface between the room and an unheated space: one row on each side."""
        wall, back = sides
        self.add(area, wall, hc, component, NO_DRIVE, other=space, other_hc=HC_WALL, floor=floor, label=label)
        self.add(area, back, HC_WALL, component, NO_DRIVE, zone=space, other=-2, other_hc=hc)

    def rows_of(self) -> Rows:
        """All rows so far, with their sun."""
        return Rows(tuple(self.rows), self.sun_in, self.sun_to_air)


NO_DRIVE, OUTDOORS, GROUND = 0, 1, 2
"""First temperatures that act on surfaces; sol-air ones follow as they are met."""
SHELLS = {"attic": ("attic", "ceiling"), **{x.key: (x.name, "floor") for x in underfloor.KINDS}}
"""Unheated spaces that follow from the house: their name, and the component they count to."""


def _there(g: Geometry) -> tuple[str, ...]:
    """Which of SHELLS a house has."""
    attic = sum(g.ceilings_m2["attic"]) > 0 or any(w.other == "attic" for w in g.walls)
    under = (x.key for x in underfloor.KINDS if sum(g.floors_m2[x.key]) > 0)
    return (*(("attic",) if attic else ()), *under)


def _plane(facing_deg: float, tilt_deg: float) -> tuple[float, float]:
    return round(facing_deg, 4) % 360, round(tilt_deg, 3)


class RoomPlace:
    """What all rooms of a job share: days, sun on faces, temperatures beyond, constructions, unheated spaces."""

    def __init__(self, job: Job, g: Geometry, c: Conditions) -> None:
        self.job, self.c = job, c
        self.inside = c.indoor_cooling.temperature_c
        self.by_id = {x.id: x for x in job.constructions}
        self.glazings = {x.id: x for x in job.glazings}
        m = len(c.days)
        self.months = m
        outdoor_c, altitude, azimuth, beam, diffuse = (
            np.concatenate([getattr(d, k) for d in c.days]) for k in DAY_ARRAYS
        )
        self.whole = Day(0, outdoor_c, altitude, azimuth, beam, diffuse)
        """All days in a row."""
        outdoor = self.whole.outdoor_c.reshape(m, HOURS) - self.inside
        self.ground_c = np.array([ground_c(job.climate, d.month, c.days[0].month) for d in c.days])
        """Of each month."""
        self.drives = [np.zeros((m, HOURS)), outdoor, np.repeat(self.ground_c[:, None] - self.inside, HOURS, axis=1)]
        self.outdoor = outdoor
        self.k_air = c.density_kg_m3 * CP_AIR_J_KGK
        self._drive_of: dict[tuple[float, float, float], int] = {}
        self._faces: dict[tuple[float, float], tuple[Array, Array, Array]] = {}
        self._glass: dict[tuple[float, float], tuple[Array, Array]] = {}
        self._look(
            {(180.0, 0.0)}
            | {_plane(w.facing_deg, 90.0) for w in g.walls if w.other == "outdoors"}
            | {_plane(f.facing_deg, f.tilt_deg) for f in g.openings}
        )
        self._walls: dict[tuple[Callable[[Construction], Wall], str], Wall] = {}
        self._soils: dict[tuple[str, int, float | None], Wall] = {}
        self._sides: dict[tuple[str, float], tuple[Wall, Wall]] = {}
        there = _there(g)
        self.shells = {key: k for k, key in enumerate(there)}
        """Attic, crawl space and basement by their key, as far as there are any."""
        self.garages = {s.id: len(there) + k for k, s in enumerate(job.spaces)}
        self.keys = (*self.shells, *self.garages)
        self.names = (*(SHELLS[key][0] for key in there), *(s.name for s in job.spaces))

    def same_as(self, job: Job, geometry: Geometry, conditions: Conditions) -> bool:
        """Whether rows made here hold for another state of the job."""
        a, b = self.job, job
        fields = ("constructions", "glazings", "spaces", *(f"{k}_construction" for k in ROLES))
        return (
            conditions is self.c
            and all(getattr(a, f) is getattr(b, f) or getattr(a, f) == getattr(b, f) for f in fields)
            and a.climate.ground_c == b.climate.ground_c
            and a.climate.ground_swing_k == b.climate.ground_swing_k
            and a.design_day.ground_credit == b.design_day.ground_credit
            and tuple(self.shells) == _there(geometry)
        )

    def garage(self, space: str | None) -> int:
        """The garage or porch beyond a surface; the first where it is not known."""
        return self.garages.get(space or "", next(iter(self.garages.values())))

    def made(self, construction: str | None) -> Construction | None:
        """An assembly by its id; None where there is none."""
        return self.by_id.get(construction or "")

    def wall(self, make: Callable[[Construction], Wall], construction: Construction | None, otherwise: Wall) -> Wall:
        """`make` of a construction, kept by its id: a record is slow to hash."""
        if construction is None:
            return otherwise
        key = (make, construction.id)
        if key not in self._walls:
            self._walls[key] = make(construction)
        return self._walls[key]

    def soil(self, construction: Construction | None, otherwise: tuple[Slab, ...], u_w_m2k: float) -> Wall:
        """What stands against the ground; `u_w_m2k` is that of the heating load."""
        key = (
            construction.id if construction is not None else "",
            len(otherwise),
            u_w_m2k if self.job.design_day.ground_credit else None,
        )
        if key not in self._soils:
            self._soils[key] = on_soil(construction, otherwise, key[2])
        return self._soils[key]

    def both_sides(self, construction: Construction | None, hc: float) -> tuple[Wall, Wall]:
        """Response of an inside wall seen from either side, kept by assembly and film `hc`, W/m2K."""
        key = ("" if construction is None else construction.id, hc)
        if key not in self._sides:
            self._sides[key] = both_sides(construction, hc)
        return self._sides[key]

    def sol_air(self, facing: float, tilt: float, absorptance: float) -> int:
        """Sol-air temperature over the room's, K by hour: To + a E / ho - e dR / ho."""
        key = (*_plane(facing, tilt), absorptance)
        if key not in self._drive_of:
            beam, diffuse, _ = self._face(key[:2])
            sky = SKY_K * np.cos(np.deg2rad(tilt))
            self._drive_of[key] = len(self.drives)
            self.drives.append(self.outdoor + absorptance * (beam + diffuse) * R_OUT_SUMMER - sky)
        return self._drive_of[key]

    def _look(self, planes: set[tuple[float, float]]) -> None:
        """Work out the sun on planes, all at once."""
        new = sorted(planes - self._faces.keys())
        if not new:
            return
        x = sun_on(self.whole, np.array([f for f, _ in new]), np.array([t for _, t in new]))
        shape = (self.months, HOURS)
        for k, plane in enumerate(new):
            beam, diffuse, cos_i = (v[:, k].reshape(shape) for v in (x.beam, x.diffuse, x.cos_incidence))
            self._faces[plane] = (beam, diffuse, cos_i)

    def _face(self, plane: tuple[float, float]) -> tuple[Array, Array, Array]:
        """Beam, diffuse, cos of incidence on a plane, (month, 24)."""
        self._look({plane})
        return self._faces[plane]

    def through_glass(self, facing: float, tilt: float) -> tuple[Array, Array]:
        """Beam and diffuse that a plane's glass lets in per unit of SHGC, W/m2, (month, 24)."""
        key = _plane(facing, tilt)
        if key not in self._glass:
            beam, diffuse, cos_i = self._face(key)
            none = np.zeros_like(beam)
            self._glass[key] = (sun.glass_gain_factor(beam, none, cos_i), sun.glass_gain_factor(none, diffuse, cos_i))
        return self._glass[key]


ROLES = ("wall", "partition", "ceiling", "floor", "door", "roof", "raised", "basement", "knee")
DAY_ARRAYS = ("outdoor_c", "sun_altitude_deg", "sun_azimuth_deg", "beam_w_m2", "diffuse_w_m2")


@dataclass(frozen=True)
class RoomKey:
    """All that a room's rows come from; equal keys make equal rows."""

    room: str
    over: str | None
    """Its own ceiling assembly, if any."""
    under: str | None
    """Its own floor assembly."""
    sloped: bool
    walls: tuple[WallPart, ...]
    faces: tuple[OpeningFace, ...]
    openings: tuple[object, ...]
    areas: tuple[float, ...]
    """m2."""
    roofs: tuple[RoofPart, ...]


class RoomRows:
    """Fills the rows of one room."""

    def __init__(self, place: RoomPlace, key: RoomKey, job: Job, g: Geometry, index: int) -> None:
        self.p, self.key, self.job, self.g, self.i = place, key, job, g, index
        self.t = RowList(place.months)

    def rows(self) -> Rows:
        """Rows of all the room's surfaces."""
        for w in self.key.walls:
            self._wall(w)
        for f in self.key.faces:
            self._opening(f)
        self._over()
        self._under()
        return self.t.rows_of()

    def _wall(self, w: WallPart) -> None:
        p, t = self.p, self.t
        made, side = p.made(w.construction), f"{w.compass} wall"
        if w.other == "heated":
            t.add(w.net_area_m2, p.wall(partition_of, made, between("floor")), HC_WALL, "walls", NO_DRIVE)
        elif w.other == "ground":
            bare = 1 / heat.R_INSIDE_WALL if made is None else assembly(made).u_w_m2k
            u = heat.below_grade_wall_u(*w.depth_m, max(1 / bare - (assembly_films(made)[0] if made else 0.0), 0.01))
            t.add(w.net_area_m2, p.soil(made, (), u), HC_WALL, "walls", GROUND, label=f"{side}, below grade")
        elif w.other == "attic":
            sides = p.both_sides(made, HC_WALL)
            t.link(p.shells["attic"], w.net_area_m2, sides, HC_WALL, "walls", label=f"{w.compass} knee wall")
        elif w.other == "garage" and p.garages:
            space = p.garage(w.neighbour)
            t.link(space, w.net_area_m2, p.both_sides(made, HC_WALL), HC_WALL, "garage", label=side)
        else:
            wall = p.wall(to_weather, made, UNKNOWN_WALL)
            if w.other == "garage":
                t.add(w.net_area_m2, wall, HC_WALL, "garage", OUTDOORS, label=side)
            else:
                alpha = made.absorptance if made is not None else 0.6
                drive = p.sol_air(w.facing_deg, 90.0, alpha)
                t.add(w.net_area_m2, wall, HC_WALL, "walls", drive, label=side)

    def _opening(self, f: OpeningFace) -> None:
        p, t = self.p, self.t
        o = self.job.openings[f.index]
        if o.kind == "door":
            made = p.made(o.construction or self.job.door_construction)
            if f.other == "garage" and p.garages:
                sides = p.both_sides(made, HC_WALL)
                t.link(p.garage(f.neighbour), f.area_m2, sides, HC_WALL, "doors", label=o.tag)
            else:
                wall = p.wall(to_weather, made, UNKNOWN_DOOR)
                drive = p.sol_air(f.facing_deg, 90.0, made.absorptance if made is not None else 0.6)
                t.add(f.area_m2, wall, HC_WALL, "doors", drive, label=o.tag)
            return
        glazing = p.glazings.get(o.glazing or "")
        if glazing is None:
            return
        column = glass_column(f)
        hc = HC_WALL if f.tilt_deg > 60 else HC_DOWN
        t.add(f.area_m2, pane(glazing.u_w_m2k), hc, column, OUTDOORS, label=f"{o.tag} pane")
        beam, diffuse = p.through_glass(f.facing_deg, f.tilt_deg)
        lit = 1 - shade_of(p.whole, o, f).reshape(p.months, HOURS)
        iac = glazing.inside_shade * o.blinds
        gain = f.area_m2 * glazing.shgc * iac * (beam * lit + diffuse)
        straight = SHADE_TO_AIR * (1 - iac)
        t.sun_in[COLUMN[column]] += gain * (1 - straight)
        t.sun_to_air[COLUMN[column]] += gain * straight

    def _over(self) -> None:
        job, g, p, t, i = self.job, self.g, self.p, self.t, self.i
        over = p.made(self.key.over or job.ceiling_construction)
        roof = p.made(self.key.over or job.roof_construction or job.ceiling_construction)
        attic, open_ = g.ceilings_m2["attic"][i], g.ceilings_m2["roof"][i]
        if attic > 0:
            sides = p.both_sides(over, HC_DOWN)
            t.link(p.shells["attic"], attic, sides, HC_DOWN, "ceiling", label="ceiling under the attic")
        if open_ > 0:
            alpha = roof.absorptance if roof is not None else 0.85
            wall = p.wall(to_weather, roof, UNKNOWN_ROOF)
            for x in self.key.roofs:
                drive = p.sol_air(x.facing_deg, x.tilt_deg, alpha)
                label = "roof" if x.tilt_deg < 1 else f"{compass(x.facing_deg)} roof slope"
                t.add(x.area_m2, wall, HC_DOWN, "ceiling", drive, label=label)
        inner = max(g.area_m2[i] - attic - open_, 0.0) if not self.key.sloped else 0.0
        t.add(inner, between("ceiling"), HC_DOWN, "ceiling", NO_DRIVE)

    def _under(self) -> None:
        job, g, p, t, i = self.job, self.g, self.p, self.t, self.i
        ground = p.made(self.key.under or job.floor_construction)
        raised = p.made(self.key.under or job.raised_construction or job.floor_construction)
        raised = raised if raised is not None and raised.kind == "floor" else None
        f = {k: v[i] for k, v in g.floors_m2.items()}
        slab = ground if ground is not None and ground.kind == "slab" else None
        if f["slab"] > 0:
            edge = slab.edge_f_w_mk if slab is not None and slab.edge_f_w_mk is not None else SPACE_EDGE_W_MK
            made = p.soil(slab, (), edge * g.edge_m[i] / f["slab"])
            t.add(f["slab"], made, HC_UP, "floor", GROUND, floor=True, label="slab")
        if f["below"] > 0:
            made = p.soil(slab, (), below_floor_u(g, i, slab))
            t.add(f["below"], made, HC_UP, "floor", GROUND, floor=True, label="floor below grade")
        for kind in underfloor.KINDS:
            if f[kind.key] > 0:
                label, sides = f"floor over {kind.name}", p.both_sides(raised, HC_UP)
                t.link(p.shells[kind.key], f[kind.key], sides, HC_UP, "floor", True, label=label)
        for space, areas in g.over_space_m2.items():
            if areas[i] > 0:
                label, sides = f"floor over {p.names[p.garages[space]]}", p.both_sides(raised, HC_UP)
                t.link(p.garages[space], areas[i], sides, HC_UP, "garage", True, label=label)
        if not p.garages:
            t.add(
                f["garage"],
                p.wall(to_weather, raised, UNKNOWN_FLOOR),
                HC_UP,
                "garage",
                OUTDOORS,
                floor=True,
                label="floor over garage",
            )
        open_ = p.wall(to_weather, raised, UNKNOWN_FLOOR)
        t.add(f["outdoors"], open_, HC_UP, "floor", OUTDOORS, floor=True, label="floor over outdoors")
        inner = max(g.area_m2[i] - sum(f.values()), 0.0)
        t.add(inner, between("floor"), HC_UP, "floor", NO_DRIVE, floor=True)


def shells_of(place: RoomPlace, job: Job, geometry: Geometry) -> tuple[Rows, Array]:
    """Shells of the unheated spaces, and what their air changes carry, W/K by space."""
    t = RowList(place.months)
    air = np.zeros(len(place.names))
    if "attic" in place.shells:
        zone = place.shells["attic"]
        up = max(sum(geometry.ceilings_m2["attic"]), 1.0)
        air[zone] = up * ATTIC_M * ATTIC_CHANGES / 3600 * place.k_air
        drive = place.sol_air(180.0, 0.0, roof_absorptance(job))
        t.add(up * ROOF_OVER, ROOF_DECK, HC_WALL, "ceiling", drive, zone=zone)
    for kind in underfloor.KINDS:
        if kind.key in place.shells:
            air[place.shells[kind.key]] = _under(t, place, job, geometry, kind, place.shells[kind.key])
    for s in job.spaces:
        air[place.garages[s.id]] = _garage(t, place, job, geometry, s)
    return t.rows_of(), air


def _under(t: RowList, p: RoomPlace, job: Job, g: Geometry, kind: underfloor.SpaceBelow, zone: int) -> float:
    """Walls over and in the ground and the floor of what lies under the house; returns what its air changes carry."""
    edge, wall = sum(g.under_edge_m[kind.key]), p.made(job.basement_construction)
    bare, slab = massless(1 / underfloor.WALL_U), kind is underfloor.BASEMENT
    t.add(edge * kind.above_m, p.wall(to_weather, wall, bare), HC_WALL, "floor", OUTDOORS, zone=zone)
    u_wall, u_floor = underfloor.ground_u(job, g, kind)
    layers = (CONCRETE,) if slab else ()
    t.add(edge * kind.deep_m, p.soil(wall, (CONCRETE,), u_wall), HC_WALL, "floor", GROUND, zone=zone)
    floor, hc = p.soil(None, layers, u_floor), HC_DOWN if slab else HC_WALL
    t.add(sum(g.floors_m2[kind.key]), floor, hc, "floor", GROUND, zone=zone, floor=True)
    return underfloor.air_w_k(g, kind, p.c.density_kg_m3)


def _garage(t: RowList, p: RoomPlace, job: Job, g: Geometry, s: Space) -> float:
    """A garage's walls, roof and floor; returns what its air change carries."""
    zone = p.garages[s.id]
    body = space_body(job, g, s)
    shell = massless(max(1 / s.u_shell_w_m2k - 1 / (HC_WALL + HR), 0.02))
    t.add(body.walls_m2, shell, HC_WALL, "garage", OUTDOORS, zone=zone)
    t.add(body.roof_m2, shell, HC_WALL, "garage", p.sol_air(180.0, 0.0, SPACE_ROOF), zone=zone)
    edge_u = SPACE_EDGE_W_MK * body.edge_m / body.floor_m2
    t.add(body.floor_m2, p.soil(None, (CONCRETE,), edge_u), HC_WALL, "garage", GROUND, zone=zone, floor=True)
    return s.air_changes_h * body.volume_m3 / 3600 * p.k_air


def room_keys(job: Job, geometry: Geometry) -> list[RoomKey]:
    """What the rows of every room come from."""
    walls: list[list[WallPart]] = [[] for _ in job.rooms]
    faces: list[list[OpeningFace]] = [[] for _ in job.rooms]
    for w in geometry.walls:
        walls[w.room].append(w)
    for f in geometry.openings:
        faces[f.room].append(f)
    roofs: list[list[RoofPart]] = [[] for _ in job.rooms]
    for x in geometry.roofs:
        roofs[x.room].append(x)
    return [
        RoomKey(
            r.id,
            r.ceiling_construction,
            r.floor_construction,
            r.slope is not None,
            tuple(walls[i]),
            tuple(faces[i]),
            tuple(job.openings[f.index] for f in faces[i]),
            (
                *(geometry.area_m2[i], geometry.edge_m[i], geometry.below_m[i], geometry.below_width_m),
                *(
                    v[i]
                    for x in (geometry.ceilings_m2, geometry.floors_m2, geometry.over_space_m2)
                    for v in x.values()
                ),
            ),
            tuple(roofs[i]),
        )
        for i, r in enumerate(job.rooms)
    ]


def kept_rows(
    place: RoomPlace, job: Job, geometry: Geometry, i: int, key: RoomKey, old: dict[str, tuple[RoomKey, Rows]]
) -> tuple[RoomKey, Rows]:
    """Rows of room `i`: the old ones while what they were made of is the same."""
    before = old.get(key.room)
    if before is not None and before[0] == key:
        return before
    return key, RoomRows(place, key, job, geometry, i).rows()
