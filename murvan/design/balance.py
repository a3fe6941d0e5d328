"""The design day as a heat balance: 24 hours that repeat, every room, every unheated space, every component.

For each harmonic the face of surface i is at T_i with (X_i + hc_i + hr) T_i = hr T_m + Y_i T_beyond + hc_i T_air + G_i, a
room has one mean-radiant node T_m with sum A hr (T_i - T_m) + radiant gains = 0, and what reaches its air is
sum A hc (T_i - T_air). All temperatures count from the room's set point, so room air is 0 and the balance is linear:
each component's share of the load at every hour is exact. Attic, crawl space and garage float: their air temperature
is an unknown with an air-change rate.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from murvan.design.conditions import Conditions, sun_on
from murvan.design.geometry import Geometry
from murvan.design.loads import (
    COLUMN,
    COMPONENTS,
    GAIN_AREA_W_M2,
    GAIN_FIXED_W,
    GAIN_PERSON_W,
    glass_column,
    shade_of,
)
from murvan.design.surfaces import layer_r
from murvan.model.job import Construction, Job, Layer, signed_area
from murvan.physics import sun
from murvan.physics.constants import CP_AIR_J_KGK
from murvan.physics.periodic import (
    HARMONICS,
    HOURS,
    Slab,
    Wall,
    half_of,
    harmonics,
    hourly,
    massless,
    side_by_side,
    through,
)

Array = NDArray[np.float64]
Complex = NDArray[np.complex128]
Index = NDArray[np.intp]

HR = 5.1
"""Radiant coefficient inside, W/m2K."""
HC_WALL, HC_UP, HC_DOWN = 3.1, 4.0, 0.9
"""Convective coefficients inside: walls, heat flowing up (floors), heat flowing down (ceilings); ASHRAE, from memory."""
R_OUT_SUMMER = 0.25 * 0.1761101838
"""Outside film at 7.5 mph, m2K/W; ASHRAE ch. 26, from memory."""
SKY_K = 4.0
"""Sol-air taken off a surface that sees the sky, horizontal, K; ASHRAE ch. 18."""
SUN_ON_FLOOR = 0.7
"""Share of the sun through glass that falls on the floor; the rest on the other faces by area. Common practice."""
SHADE_TO_AIR = 0.6
"""Of the sun that comes in past blinds this times what they keep off goes straight to the air; common practice."""
RADIANT = {"people": 0.55, "appliances": 0.5}
"""Radiant share of internal gains; ASHRAE ch. 18, from memory."""
WOOD_DENSITY, WOOD_HEAT = 500.0, 1630.0
SOIL = Slab(0.5 / 1.4, 0.5 * 1900 * 1000)
"""Half a metre of soil. Under heated floors and beside basement walls what lies beyond it is taken at the set point: it
stores heat through the day and is given no credit for cooling; common practice."""
SUMMER_GROUND = 0.5
"""Share of the ground's yearly swing by which the soil of crawl space and garage is over its mean on the design day."""
DECK = (Slab(0.109, 0.0127 * 540 * 1210), Slab(0.0775, 0.0064 * 1100 * 1260))
"""Roof over an attic: half an inch of deck, shingles."""
FLOOR_BETWEEN = (Slab(0.0793, 0.0127 * 640 * 1150), Slab(0.16), Slab(0.165, 0.019 * 560 * 1300))
"""Between two storeys: gypsum, joist space, subfloor."""
ATTIC_CHANGES, CRAWL_CHANGES = 5.0, 2.0
"""Air changes an hour of a vented attic (1 m high on the mean) and crawl space (0.7 m); common practice."""
ATTIC_M, CRAWL_M, ROOF_OVER = 1.0, 0.7, 1.12


@dataclass(frozen=True)
class Balance:
    """A design day worked out, W and deg C by hour 1..24."""

    sensible_w: Array
    """Load on the air, (room, component, 24), components in the order of COMPONENTS."""
    buffers: tuple[str, ...]
    buffer_c: Array
    """Air temperature of the unheated spaces, (space, 24)."""
    radiant_c: Array
    """Mean radiant temperature of the rooms, (room, 24)."""

    @property
    def room_w(self) -> Array:
        """(room, 24)."""
        return np.asarray(self.sensible_w.sum(axis=1))

    @property
    def house_w(self) -> Array:
        return np.asarray(self.room_w.sum(axis=0))

    @property
    def room_peak_hour(self) -> Index:
        """Hour 1..24 at which each room needs most."""
        return np.asarray(self.room_w.argmax(axis=1) + 1, np.intp)

    @property
    def house_peak_hour(self) -> int:
        return int(self.house_w.argmax()) + 1


# ---- walls of constructions -----------------------------------------------------------------------------------


def slabs_of(c: Construction, stud: bool = False) -> tuple[Slab, ...]:
    """A construction's layers from inside to outside, at the bay or at the stud."""
    return tuple(_slab(x, stud) for x in reversed(c.layers))


def _slab(x: Layer, stud: bool) -> Slab:
    if stud and x.framing_r_m2k_w is not None:
        return Slab(x.framing_r_m2k_w, x.thickness_m * WOOD_DENSITY * WOOD_HEAT)
    return Slab(layer_r(x), x.thickness_m * x.density_kg_m3 * x.specific_heat_j_kgk)


@lru_cache(maxsize=512)
def wall_of(c: Construction, film: float, more: tuple[Slab, ...] = ()) -> Wall:
    """The construction with what lies beyond it (soil) and the film there; bay and stud side by side."""
    beyond = (*more, Slab(film)) if film > 0 else more
    bay = through((*slabs_of(c), *beyond))
    if not c.framing_fraction:
        return bay
    stud = through((*slabs_of(c, True), *beyond))
    return side_by_side((bay, stud), (1 - c.framing_fraction, c.framing_fraction))


@lru_cache(maxsize=256)
def partition_of(c: Construction) -> Wall:
    """Half of a partition."""
    bay = half_of(slabs_of(c))
    if not c.framing_fraction:
        return bay
    return side_by_side((bay, half_of(slabs_of(c, True))), (1 - c.framing_fraction, c.framing_fraction))


@lru_cache(maxsize=8)
def _between(kind: str) -> Wall:
    return half_of(FLOOR_BETWEEN if kind == "floor" else tuple(reversed(FLOOR_BETWEEN)))


# ---- the table of surfaces ------------------------------------------------------------------------------------


class _Table:
    """Surfaces as growing lists; zones 0..n-1 are rooms, then the unheated spaces."""

    def __init__(self, rooms: int) -> None:
        self.rooms = rooms
        self.zone: list[int] = []
        self.area: list[float] = []
        self.wall: list[Wall] = []
        self.reverse: list[bool] = []
        self.hc: list[float] = []
        self.component: list[int] = []
        self.drive: list[Array] = []
        self.other: list[int] = []
        self.other_hc: list[float] = []
        self.floor: list[bool] = []
        self.names: list[str] = []
        self.air_w_k: list[float] = []

    def space(self, name: str, air_w_k: float) -> int:
        self.names.append(name)
        self.air_w_k.append(air_w_k)
        return self.rooms + len(self.names) - 1

    def add(
        self,
        zone: int,
        area: float,
        wall: Wall,
        hc: float,
        component: str,
        drive: Array,
        *,
        floor: bool = False,
        other: int = -1,
        other_hc: float = 0.0,
        reverse: bool = False,
    ) -> None:
        if area <= 1e-6:
            return
        self.zone.append(zone)
        self.area.append(area)
        self.wall.append(wall)
        self.reverse.append(reverse)
        self.hc.append(hc)
        self.component.append(COLUMN[component])
        self.drive.append(drive)
        self.other.append(other)
        self.other_hc.append(other_hc)
        self.floor.append(floor)

    def link(self, room: int, space: int, area: float, c: Construction | None, hc: float, component: str) -> None:
        """A surface between a room and an unheated space: one row on each side."""
        wall = wall_of(c, 1 / (HC_WALL + HR)) if c is not None else massless(2.0)
        self.add(room, area, wall, hc, component, NO_DRIVE, other=space, other_hc=HC_WALL)
        mirrored = wall_of(c, 0.0) if c is not None else massless(2.0 - 1 / (HC_WALL + HR))
        back = _seen_from_beyond(mirrored, hc)
        self.add(space, area, back, HC_WALL, component, NO_DRIVE, other=room, other_hc=hc)


NO_DRIVE = np.zeros(HOURS)


def _seen_from_beyond(wall: Wall, hc: float) -> Wall:
    """A wall without films, turned round, with the room's film on its far side."""
    # [T q] inside = [A B; C D] beyond; X = D/B, Y = 1/B, X' = A/B. Add a film R on the room's side:
    r = 1 / (hc + HR)
    b = 1 / wall.across
    a, d = wall.outer * b, wall.inner * b
    c = (a * d - 1) / b
    a2, b2, d2 = a + r * c, b + r * d, d
    return Wall(a2 / b2, 1 / b2, d2 / b2)


class _Builder:
    """Fills the table from a job."""

    def __init__(self, job: Job, g: Geometry, c: Conditions) -> None:
        self.job, self.g, self.c = job, g, c
        self.inside = c.indoor_cooling.temperature_c
        self.by_id = {x.id: x for x in job.constructions}
        self.t = _Table(len(job.rooms))
        self.outdoor = c.hourly_outdoor_c - self.inside
        summer = job.climate.ground_c + SUMMER_GROUND * job.climate.ground_swing_k
        self.ground = np.full(HOURS, summer - self.inside)
        self.k_air = c.density_kg_m3 * CP_AIR_J_KGK
        self.sun_in = np.zeros((len(job.rooms), len(COMPONENTS), HOURS))
        """Sun that falls on faces, W."""
        self.to_air = np.zeros((len(job.rooms), len(COMPONENTS), HOURS))
        """What goes straight to the air, W."""
        self.radiant = np.zeros((len(job.rooms), len(COMPONENTS), HOURS))
        self._faces: dict[tuple[float, float], tuple[Array, Array, Array]] = {}

    def made(self, construction: str | None) -> Construction | None:
        return self.by_id.get(construction or "")

    def sol_air(self, facing: float, tilt: float, absorptance: float) -> Array:
        """Sol-air temperature over the room's, K by hour: To + a E / ho - e dR / ho."""
        beam, diffuse, _ = self.face(facing, tilt)
        sky = SKY_K * np.cos(np.deg2rad(tilt))
        return np.asarray(self.outdoor + absorptance * (beam + diffuse) * R_OUT_SUMMER - sky)

    def face(self, facing: float, tilt: float) -> tuple[Array, Array, Array]:
        key = (round(facing, 4) % 360, round(tilt, 3))
        if key not in self._faces:
            x = sun_on(self.c, np.array([facing]), np.array([tilt]))
            self._faces[key] = (x.beam[:, 0], x.diffuse[:, 0], x.cos_incidence[:, 0])
        return self._faces[key]

    # -- the parts

    def build(self) -> None:
        self._spaces()
        self._walls()
        self._openings()
        self._over()
        self._under()
        self._gains()

    def _spaces(self) -> None:
        g, job, t = self.g, self.job, self.t
        up = sum(g.ceilings_m2["attic"])
        knee = any(w.other == "attic" for w in g.walls)
        self.attic = self.crawl = -1
        if up > 0 or knee:
            self.attic = t.space("attic", max(up, 1.0) * ATTIC_M * ATTIC_CHANGES / 3600 * self.k_air)
            roof = through((*DECK, Slab(R_OUT_SUMMER)))
            ceiling = self.made(job.ceiling_construction)
            alpha = ceiling.absorptance if ceiling is not None else 0.85
            drive = self.sol_air(180.0, 0.0, alpha)
            t.add(self.attic, max(up, 1.0) * ROOF_OVER, roof, HC_WALL, "ceiling", drive)
        under = sum(g.floors_m2["crawl"])
        if under > 0:
            self.crawl = t.space("crawl space", under * CRAWL_M * CRAWL_CHANGES / 3600 * self.k_air)
            t.add(self.crawl, under, through((SOIL,)), HC_WALL, "floor", self.ground, floor=True)
        self.garages: dict[str, int] = {}
        for s in job.spaces:
            self.garages[s.id] = self._garage(s.id)

    def _garage(self, space_id: str) -> int:
        job, t = self.job, self.t
        s = next(x for x in job.spaces if x.id == space_id)
        height = next(x.height_m for x in job.storeys if x.id == s.storey)
        area = abs(signed_area(s.outline_m))
        pts = s.outline_m
        around = sum(
            float(np.hypot(x1 - x0, y1 - y0)) for (x0, y0), (x1, y1) in zip(pts, pts[1:] + pts[:1], strict=True)
        )
        shared = sum(p.length_m for p in self.g.walls if p.neighbour == s.id)
        zone = t.space(s.name, s.air_changes_h * area * height / 3600 * self.k_air)
        film = 1 / (HC_WALL + HR)
        shell = massless(max(1 / s.u_shell_w_m2k - film, 0.02))
        t.add(zone, max(around - shared, 0.0) * height, shell, HC_WALL, "garage", self.outdoor)
        t.add(zone, area, shell, HC_WALL, "garage", self.sol_air(180.0, 0.0, 0.85))
        concrete = Slab(0.056, 0.1016 * 2300 * 900)
        t.add(zone, area, through((concrete, SOIL)), HC_WALL, "garage", self.ground, floor=True)
        return zone

    def _walls(self) -> None:
        t = self.t
        for p in self.g.walls:
            made = self.made(p.construction)
            if p.other == "outdoors":
                alpha = made.absorptance if made is not None else 0.6
                wall = wall_of(made, R_OUT_SUMMER) if made is not None else massless(1.9)
                t.add(p.room, p.net_area_m2, wall, HC_WALL, "walls", self.sol_air(p.facing_deg, 90.0, alpha))
            elif p.other == "heated":
                wall = partition_of(made) if made is not None else _between("floor")
                t.add(p.room, p.net_area_m2, wall, HC_WALL, "walls", NO_DRIVE)
            elif p.other == "ground":
                wall = wall_of(made, 0.0, (SOIL,)) if made is not None else through((SOIL,))
                t.add(p.room, p.net_area_m2, wall, HC_WALL, "walls", NO_DRIVE)
            elif p.other == "attic" and self.attic >= 0:
                t.link(p.room, self.attic, p.net_area_m2, made, HC_WALL, "walls")
            elif p.other == "garage":
                space = self.garages.get(p.neighbour or "", next(iter(self.garages.values()), -1))
                if space >= 0:
                    t.link(p.room, space, p.net_area_m2, made, HC_WALL, "garage")
                else:
                    wall = wall_of(made, R_OUT_SUMMER) if made is not None else massless(1.9)
                    t.add(p.room, p.net_area_m2, wall, HC_WALL, "garage", self.outdoor)

    def _openings(self) -> None:
        job, t = self.job, self.t
        glazings = {x.id: x for x in job.glazings}
        for f in self.g.openings:
            o = job.openings[f.index]
            if o.kind == "door":
                made = self.made(o.construction or job.door_construction)
                wall = wall_of(made, R_OUT_SUMMER) if made is not None else massless(0.4)
                if f.other == "garage" and self.garages:
                    t.link(f.room, next(iter(self.garages.values())), f.area_m2, made, HC_WALL, "doors")
                else:
                    drive = self.sol_air(f.facing_deg, 90.0, made.absorptance if made is not None else 0.6)
                    t.add(f.room, f.area_m2, wall, HC_WALL, "doors", drive)
                continue
            glazing = glazings.get(o.glazing or "")
            if glazing is None:
                continue
            column = glass_column(f)
            hc = HC_WALL if f.tilt_deg > 60 else HC_DOWN
            pane = massless(max(1 / glazing.u_w_m2k - 1 / (HC_WALL + HR), 0.01))
            t.add(f.room, f.area_m2, pane, hc, column, self.outdoor)
            beam, diffuse, cos_i = self.face(f.facing_deg, f.tilt_deg)
            beam = beam * (1 - shade_of(self.c, o, f))
            iac = glazing.inside_shade * o.blinds
            gain = f.area_m2 * glazing.shgc * iac * sun.glass_gain_factor(beam, diffuse, cos_i)
            straight = SHADE_TO_AIR * (1 - iac)
            self.sun_in[f.room, COLUMN[column]] += gain * (1 - straight)
            self.to_air[f.room, COLUMN[column]] += gain * straight

    def _over(self) -> None:
        job, g, t = self.job, self.g, self.t
        for i, room in enumerate(job.rooms):
            over = self.made(room.ceiling_construction or job.ceiling_construction)
            roof = self.made(room.ceiling_construction or job.roof_construction or job.ceiling_construction)
            attic, open_ = g.ceilings_m2["attic"][i], g.ceilings_m2["roof"][i]
            if self.attic >= 0:
                t.link(i, self.attic, attic, over, HC_DOWN, "ceiling")
            alpha = roof.absorptance if roof is not None else 0.85
            wall = wall_of(roof, R_OUT_SUMMER) if roof is not None else massless(3.0)
            t.add(i, open_, wall, HC_DOWN, "ceiling", self.sol_air(180.0, 0.0, alpha))
            inner = max(g.area_m2[i] - attic - open_, 0.0) if room.slope is None else 0.0
            t.add(i, inner, _between("ceiling"), HC_DOWN, "ceiling", NO_DRIVE)

    def _under(self) -> None:
        job, g, t = self.job, self.g, self.t
        for i, room in enumerate(job.rooms):
            ground = self.made(room.floor_construction or job.floor_construction)
            raised = self.made(room.floor_construction or job.raised_construction or job.floor_construction)
            raised = raised if raised is not None and raised.kind == "floor" else None
            f = {k: v[i] for k, v in g.floors_m2.items()}
            slab = wall_of(ground, 0.0, (SOIL,)) if ground is not None and ground.kind == "slab" else through((SOIL,))
            t.add(i, f["slab"], slab, HC_UP, "floor", NO_DRIVE, floor=True)
            t.add(i, f["below"], slab, HC_UP, "floor", NO_DRIVE, floor=True)
            if self.crawl >= 0:
                self._floor_link(i, self.crawl, f["crawl"], raised)
            if self.garages:
                self._floor_link(i, next(iter(self.garages.values())), f["garage"], raised)
            open_ = wall_of(raised, R_OUT_SUMMER) if raised is not None else massless(2.0)
            t.add(i, f["outdoors"], open_, HC_UP, "floor", self.outdoor, floor=True)
            inner = max(g.area_m2[i] - sum(f.values()), 0.0)
            t.add(i, inner, _between("floor"), HC_UP, "floor", NO_DRIVE, floor=True)

    def _floor_link(self, room: int, space: int, area: float, made: Construction | None) -> None:
        before = len(self.t.zone)
        self.t.link(room, space, area, made, HC_UP, "floor")
        if len(self.t.zone) > before:
            self.t.floor[before] = True

    def _gains(self) -> None:
        job, g = self.job, self.g
        if not job.rooms:
            return
        area = np.array(g.area_m2)
        people = np.array([r.people for r in job.rooms])
        if people.sum() == 0:
            people = (job.bedrooms + 1) * area / area.sum()
        kitchen = np.array([1.0 if r.use == "kitchen" else 0.0 for r in job.rooms])
        fixed = kitchen / kitchen.sum() if kitchen.sum() else area / area.sum()
        own = np.array([r.appliances_w for r in job.rooms])
        for name, watts in (
            ("people", GAIN_PERSON_W * people),
            ("appliances", GAIN_FIXED_W * fixed + GAIN_AREA_W_M2 * area + own),
        ):
            self.radiant[:, COLUMN[name]] += (RADIANT[name] * watts)[:, None]
            self.to_air[:, COLUMN[name]] += ((1 - RADIANT[name]) * watts)[:, None]


# ---- the solution ---------------------------------------------------------------------------------------------


def balance(job: Job, g: Geometry, c: Conditions, leak_m3_s: float = 0.0, fresh_m3_s: float = 0.0) -> Balance:
    """Solve the design day of a job.

    Args:
        leak_m3_s, fresh_m3_s: outdoor air through leaks (shared by outside wall) and balanced ventilation, before
            recovery (shared by floor).
    """
    b = _Builder(job, g, c)
    b.build()
    _outdoor_air(b, leak_m3_s, fresh_m3_s)
    return _solve(b)


def _outdoor_air(b: _Builder, leak: float, fresh: float) -> None:
    wall = np.array(b.g.exposed_wall_m2)
    area = np.array(b.g.area_m2)
    if not len(area):
        return
    by_wall = wall / wall.sum() if wall.sum() > 0 else area / area.sum()
    left = 1 - b.job.ventilation.sensible_recovery
    drive = b.c.sensible_factor * b.outdoor
    b.to_air[:, COLUMN["leakage"]] += by_wall[:, None] * leak * drive
    b.to_air[:, COLUMN["fresh_air"]] += (area / area.sum())[:, None] * fresh * left * drive


def _solve(b: _Builder) -> Balance:
    t = b.t
    n, spaces, comps = t.rooms, len(t.names), len(COMPONENTS)
    if not t.zone:
        none = np.zeros((n, comps, HOURS))
        return Balance(none, tuple(t.names), np.zeros((spaces, HOURS)), np.zeros((n, HOURS)))
    zone, comp, other = (np.array(x, np.intp) for x in (t.zone, t.component, t.other))
    area, hc, other_hc = (np.array(x, float) for x in (t.area, t.hc, t.other_hc))
    inner = np.array([w.inner for w in t.wall])
    across = np.array([w.across for w in t.wall])
    drive = harmonics(np.array(t.drive))
    bottom = inner + hc[:, None] + HR
    to_mean, to_air = area[:, None] * HR / bottom, area[:, None] * hc[:, None] / bottom
    zones = n + spaces

    def by_zone(values: Complex) -> Complex:
        out = np.zeros((zones, HARMONICS), complex)
        np.add.at(out, zone, values)
        return out

    def by_zone_and_part(values: Complex) -> Complex:
        out = np.zeros((zones * comps, HARMONICS), complex)
        np.add.at(out, zone * comps + comp, values)
        return out.reshape(zones, comps, HARMONICS)

    # right-hand sides: weather through each surface, sun on the faces, gains
    mean_rhs = by_zone_and_part(to_mean * across * drive)
    air_rhs = by_zone_and_part(to_air * across * drive)
    share = _sun_shares(t, zone, area)
    spread_mean = by_zone(HR / bottom * share[:, None])
    spread_air = by_zone(hc[:, None] / bottom * share[:, None])
    sun_in, radiant = harmonics(b.sun_in), harmonics(b.radiant)
    mean_rhs[:n] += spread_mean[:n, None, :] * sun_in + radiant
    air_rhs[:n] += spread_air[:n, None, :] * sun_in
    # coefficients
    mean_mean = by_zone(area[:, None] * HR * (1 - HR / bottom))
    mean_air = by_zone(to_mean * hc[:, None])
    air_air = by_zone(area[:, None] * hc[:, None] * (1 - hc[:, None] / bottom))
    linked = np.flatnonzero(other >= 0)
    weights = _link_weights(zone, other, other_hc, n, linked)
    temperatures = _unknowns(
        n,
        spaces,
        mean_mean,
        mean_air,
        air_air,
        mean_rhs,
        air_rhs,
        linked,
        zone,
        other,
        weights,
        to_mean * across,
        to_air * across,
        b,
    )
    mean_t, space_air = temperatures
    load = air_rhs[:n] + (by_zone(to_air * HR)[:n])[:, None, :] * mean_t[:n]
    for i in linked.tolist():
        k = t.zone[i]
        if k < n:
            load[k] += (to_air[i] * across[i])[None, :] * _environment(i, other, weights, mean_t, space_air, n)
    sensible = hourly(load) + b.to_air
    inside = b.inside
    return Balance(
        sensible_w=sensible,
        buffers=tuple(t.names),
        buffer_c=hourly(space_air.sum(axis=1)) + inside if spaces else np.zeros((0, HOURS)),
        radiant_c=hourly(mean_t[:n].sum(axis=1)) + inside,
    )


def _sun_shares(t: _Table, zone: Index, area: Array) -> Array:
    """Share of its room's sun that falls on each surface; a room without floor gets it by area."""
    floor = np.array(t.floor)
    zones = int(zone.max()) + 1
    on_floor = np.bincount(zone, area * floor, zones)
    rest = np.bincount(zone, area * ~floor, zones)
    part = np.where(on_floor > 0, np.where(rest > 0, SUN_ON_FLOOR, 1.0), 0.0)
    with np.errstate(divide="ignore", invalid="ignore"):
        a = np.where(floor, part[zone] * area / on_floor[zone], (1 - part[zone]) * area / rest[zone])
    return np.nan_to_num(a)


def _link_weights(zone: Index, other: Index, other_hc: Array, n: int, linked: Index) -> Array:
    """(air, radiant) weight of the temperature that a link sees beyond: hc T_air + hr T_m over both."""
    out = np.zeros((len(zone), 2))
    total = other_hc[linked] + HR
    out[linked, 0] = np.where(other[linked] >= n, other_hc[linked] / total, 0.0)
    out[linked, 1] = HR / total
    return out


def _environment(i: int, other: Index, weights: Array, mean_t: Complex, space_air: Complex, n: int) -> Complex:
    """What lies beyond a link, (component, harmonic); room air is 0."""
    o = other[i]
    seen = weights[i, 1] * mean_t[o]
    return np.asarray(seen + weights[i, 0] * space_air[o - n] if o >= n else seen)


def _unknowns(
    n: int,
    spaces: int,
    mean_mean: Complex,
    mean_air: Complex,
    air_air: Complex,
    mean_rhs: Complex,
    air_rhs: Complex,
    linked: Index,
    zone: Index,
    other: Index,
    weights: Array,
    link_mean: Complex,
    link_air: Complex,
    b: _Builder,
) -> tuple[Complex, Complex]:
    """Mean radiant temperatures of all zones and air temperatures of the spaces, by component and harmonic.

    Rooms see only spaces, so they are eliminated first; what is left is a small system of the spaces.
    """
    comps = mean_rhs.shape[1]
    if spaces == 0:
        return mean_rhs / mean_mean[:, None, :], np.zeros((0, comps, HARMONICS), complex)
    size = 2 * spaces
    # unknowns of the spaces: [T_m, T_air]; f is first everywhere for the batched solve
    m = np.zeros((HARMONICS, size, size), complex)
    to_rooms = np.zeros((HARMONICS, n, size), complex)
    from_rooms = np.zeros((HARMONICS, size, n), complex)
    for s in range(spaces):
        z = n + s
        m[:, s, s] += mean_mean[z]
        m[:, s, spaces + s] -= mean_air[z]
        m[:, spaces + s, s] -= mean_air[z]
        m[:, spaces + s, spaces + s] += air_air[z] + b.t.air_w_k[s]
    for i in linked:
        z, o = zone[i], other[i]
        if z < n:
            s = o - n
            to_rooms[:, z, s] += link_mean[i] * weights[i, 1]
            to_rooms[:, z, spaces + s] += link_mean[i] * weights[i, 0]
        else:
            s = z - n
            from_rooms[:, s, o] += link_mean[i] * weights[i, 1]
            from_rooms[:, spaces + s, o] += link_air[i] * weights[i, 1]
    rhs = np.zeros((HARMONICS, size, comps), complex)
    rhs[:, :spaces] = np.moveaxis(mean_rhs[n:], -1, 0)
    rhs[:, spaces:] = np.moveaxis(air_rhs[n:], -1, 0)
    outdoors = harmonics(b.outdoor)
    for s, name in enumerate(b.t.names):
        column = (
            COLUMN["floor"] if name == "crawl space" else COLUMN["ceiling"] if name == "attic" else COLUMN["garage"]
        )
        rhs[:, spaces + s, column] += b.t.air_w_k[s] * outdoors
    room_rhs = np.moveaxis(mean_rhs[:n], -1, 0)
    room_bottom: Complex = np.moveaxis(mean_mean[:n], -1, 0)[..., None]
    whole = m - from_rooms @ (to_rooms / room_bottom)
    u = np.linalg.solve(whole, rhs + from_rooms @ (room_rhs / room_bottom))
    rooms = (room_rhs + to_rooms @ u) / room_bottom
    mean_t = np.concatenate([rooms.transpose(1, 2, 0), u[:, :spaces].transpose(1, 2, 0)])
    return np.asarray(mean_t, np.complex128), np.asarray(u[:, spaces:].transpose(1, 2, 0), np.complex128)
