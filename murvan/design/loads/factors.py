"""Room loads: steady heating, and cooling by the residential load-factor method.

Heating is steady, without sun or gains. Cooling follows the residential chapter of the ASHRAE Handbook
Fundamentals, factors from memory: opaque CF = U (OFt dT + OFb + OFr DR), glass CF = U (dT - .46 DR) +
PXI SHGC IAC FFs, gains 464 + .7 A + 75 N. Every figure is kept by room and component, so that any of them can
be shown with its arithmetic.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from murvan.arrays import Array
from murvan.design.house import underfloor
from murvan.design.house.geometry import COMPASS, Geometry, OpeningFace, compass
from murvan.design.house.surfaces import Assembly, Shell, Spaces, Surface, assembly, conduction, space_body
from murvan.design.loads.components import COLUMN, COMPONENTS
from murvan.design.loads.gains import Gains, by_day
from murvan.design.loads.outdoor_air import OutdoorAir, outdoor_air
from murvan.design.weather.conditions import Conditions, Day, FaceSun, sun_on
from murvan.model.job import Job, Opening
from murvan.physics.constants import CP_AIR_J_KGK

RLF = "ASHRAE Handbook Fundamentals, residential load factors"
FENESTRATION_FACTOR = {"N": 0.44, "NE": 0.21, "E": 0.31, "SE": 0.37, "S": 0.47, "SW": 0.58, "W": 0.56, "NW": 0.46}
FENESTRATION_LEVEL = 0.58
"""Skylights."""
STEEP_DEG = 60.0
"""Glass no steeper than this counts as a skylight."""
FENESTRATION_DAILY = 0.46


@dataclass(frozen=True)
class GlassLoads:
    """What comes through the openings; arrays by opening."""

    u: Array
    pxi: Array
    """Peak irradiance on the outside, shadow of the overhang taken off, W/m2."""
    iac: Array
    """Indoor shading, 0..1, (openings,)."""
    shade: Array
    """Outdoor shading, 0..1."""
    sensible_w: Array


@dataclass(frozen=True)
class Factors:
    """Steady heating and the cooling by load factors, W. Matrices are (room, component), in the order of COMPONENTS."""

    heating_parts: Array
    sensible_parts: Array
    latent_parts: Array
    heating_w: Array
    sensible_w: Array
    latent_w: Array
    glass: GlassLoads
    air: OutdoorAir
    assemblies: dict[str, Assembly]
    surfaces: tuple[Surface, ...]
    """The opaque shell piece by piece."""
    spaces: Spaces
    """Unheated spaces on the design days."""
    people: float
    duct_share: Array
    """What ducts add at the hottest hour as a share of the room's own, (room,); 0 before they are worked out."""

    def with_ducts(self, heating: Array, cooling: Array, latent_w: Array) -> Factors:
        """The same with what ducts add: shares of heating and sensible load, and moisture in W, all by room."""
        h, s, lat = self.heating_parts.copy(), self.sensible_parts.copy(), self.latent_parts.copy()
        k = COLUMN["ducts"]
        h[:, k], s[:, k] = heating * h.sum(axis=1), cooling * s.sum(axis=1)
        lat[:, k] = latent_w
        return replace(self._with(h, s, lat), duct_share=cooling)

    def with_gains(self, gains: Gains) -> Factors:
        """The same with people and things at their fullest."""
        s, lat = self.sensible_parts.copy(), self.latent_parts.copy()
        if len(s):
            s[:, COLUMN["people"]] = by_day(gains.people_w)
            s[:, COLUMN["appliances"]] = gains.things_w.max(axis=1)
            lat[:, COLUMN["people"]] = by_day(gains.people_latent_w)
            lat[:, COLUMN["appliances"]] = gains.things_latent_w.max(axis=1)
        return replace(self._with(self.heating_parts, s, lat), people=gains.count)

    def _with(self, h: Array, s: Array, lat: Array) -> Factors:
        sums = (np.maximum(x.sum(axis=1), 0) for x in (h, s, lat))
        return replace(
            self,
            heating_parts=h,
            sensible_parts=s,
            latent_parts=lat,
            **dict(zip(("heating_w", "sensible_w", "latent_w"), sums, strict=True)),
        )

    @property
    def house_sensible_w(self) -> float:
        """Sensible load of all rooms at their own peaks, W."""
        return float(self.sensible_w.sum())

    @property
    def house_latent_w(self) -> float:
        """Latent load of all rooms, W."""
        return float(self.latent_w.sum())


def factors(job: Job, geometry: Geometry, conditions: Conditions) -> Factors:
    """Heating, and the load factors' cooling, of all rooms, without people, things and ducts."""
    n = len(job.rooms)
    table = {x.id: assembly(x) for x in job.constructions}
    lat = np.zeros((n, len(COMPONENTS)))
    raised = job.raised_construction or job.floor_construction
    made = next((x.id for x in job.constructions if x.id == raised and x.kind == "floor"), None)
    floor_u = _u(table, made, 0.4)
    cold, hot = _spaces(job, geometry, conditions, table, made)
    under = {x.key: underfloor.winter_c(job, geometry, conditions, table, floor_u, x) for x in underfloor.KINDS}
    spaces = Spaces(
        cold, hot, under, conditions.outdoor_winter.temperature_c, conditions.outdoor_summer.temperature_c
    )
    shell = Shell(job, geometry, conditions, table, spaces).surfaces()
    h, s = conduction(shell, COLUMN, n)
    glass = _glass(job, geometry, conditions, table, h, s, spaces)
    air = outdoor_air(job, geometry, conditions.heating_difference_k, conditions.cooling_difference_k)
    _air(air, conditions, h, s, lat)
    return Factors(
        heating_parts=h,
        sensible_parts=s,
        latent_parts=lat,
        heating_w=np.maximum(h.sum(axis=1), 0),
        sensible_w=np.maximum(s.sum(axis=1), 0),
        latent_w=np.maximum(lat.sum(axis=1), 0),
        assemblies=table,
        surfaces=shell,
        spaces=spaces,
        people=0.0,
        duct_share=np.zeros(n),
        glass=glass,
        air=air,
    )


def _spaces(
    job: Job, g: Geometry, c: Conditions, table: dict[str, Assembly], raised: str | None
) -> tuple[dict[str, float], dict[str, float]]:
    """Winter and summer air temperature of each garage and porch by its heat balance, deg C by id."""
    winter, summer = c.outdoor_winter.temperature_c, c.outdoor_summer.temperature_c
    cold, hot = {}, {}
    for space in job.spaces:
        to_house = sum(
            p.net_area_m2 * _u(table, p.construction, 0.5)
            for p in g.walls
            if p.other == "garage" and p.neighbour == space.id
        )
        to_house += sum(
            f.area_m2 * _u(table, job.openings[f.index].construction or job.door_construction, 2.0)
            for f in g.openings
            if f.neighbour == space.id and job.openings[f.index].kind == "door"
        )
        to_house += sum(g.over_space_m2[space.id]) * _u(table, raised, 0.4)
        body = space_body(job, g, space)
        to_out = space.u_shell_w_m2k * (body.walls_m2 + body.roof_m2)
        to_out += space.air_changes_h * body.volume_m3 / 3600 * c.density_kg_m3 * CP_AIR_J_KGK
        whole = to_house + to_out
        share = to_house / whole if whole > 0 else 0.0
        cold[space.id] = winter + share * (c.indoor_heating.temperature_c - winter)
        hot[space.id] = summer + share * (c.indoor_cooling.temperature_c - summer)
    return cold, hot


def _u(table: dict[str, Assembly], construction: str | None, fallback: float) -> float:
    return table[construction].u_w_m2k if construction in table else fallback


def _glass(
    job: Job, g: Geometry, c: Conditions, table: dict[str, Assembly], h: Array, s: Array, spaces: Spaces
) -> GlassLoads:
    m = len(job.openings)
    dt, dr, dh = c.cooling_difference_k, c.daily_range_k, c.heating_difference_k
    u, pxi, iac, shade, gain = (np.zeros(m) for _ in range(5))
    faces = list(g.openings)
    glazings = {x.id: x for x in job.glazings}
    facing = np.array([f.facing_deg for f in faces]) if faces else np.zeros(0)
    tilt = np.array([f.tilt_deg for f in faces]) if faces else np.zeros(0)
    day: FaceSun = sun_on(c, facing, tilt)
    for k, f in enumerate(faces):
        o = job.openings[f.index]
        if o.kind == "door":
            u[f.index] = _u(table, o.construction or job.door_construction, 2.0)
            ua = u[f.index] * f.area_m2
            garage = f.other == "garage"
            h[f.room, COLUMN["doors"]] += ua * (
                c.indoor_heating.temperature_c - spaces.winter(f.neighbour) if garage else dh
            )
            gain[f.index] = ua * (
                spaces.summer(f.neighbour) - c.indoor_cooling.temperature_c - 0.36 * dr
                if garage
                else dt + 14.8 / 1.8 - 0.36 * dr
            )
            s[f.room, COLUMN["doors"]] += gain[f.index]
            continue
        glazing = glazings.get(o.glazing or "")
        if glazing is None:
            continue
        i = f.index
        u[i], iac[i] = glazing.u_w_m2k, glazing.inside_shade * o.blinds
        shaded = shade_of(c, o, f)
        shade[i] = shaded[day.peak_hour[k]]
        pxi[i] = day.peak_diffuse[k] + (1 - shade[i]) * day.peak_beam[k]
        gain[i] = f.area_m2 * (
            u[i] * (dt - FENESTRATION_DAILY * dr) + pxi[i] * glazing.shgc * iac[i] * ffs(f.facing_deg, f.tilt_deg)
        )
        column = COLUMN[glass_column(f)]
        s[f.room, column] += gain[i]
        h[f.room, column] += u[i] * f.area_m2 * dh
    return GlassLoads(u, pxi, iac, shade, gain)


def glass_column(face: OpeningFace) -> str:
    """The component a pane belongs to."""
    return f"glass_{compass(face.facing_deg)}" if face.tilt_deg > STEEP_DEG else "glass_sky"


def ffs(facing_deg: float, tilt_deg: float = 90.0) -> float:
    """Fenestration solar load factor between the eight tabulated directions; skylights have their own."""
    if tilt_deg <= STEEP_DEG:
        return FENESTRATION_LEVEL
    values = [FENESTRATION_FACTOR[x] for x in COMPASS]
    at = (facing_deg % 360) / 45
    i = int(at) % 8
    return values[i] + (at - int(at)) * (values[(i + 1) % 8] - values[i])


def sun_on_openings(job: Job, geometry: Geometry, day: Day) -> Array:
    """Irradiance on each opening past overhang and trees, W/m2, (24, opening)."""
    out = np.zeros((24, len(job.openings)))
    faces = [f for f in geometry.openings if job.openings[f.index].kind in ("window", "skylight")]
    if faces:
        x = sun_on(day, np.array([f.facing_deg for f in faces]), np.array([f.tilt_deg for f in faces]))
        for k, f in enumerate(faces):
            out[:, f.index] = x.diffuse[:, k] + (1 - shade_of(day, job.openings[f.index], f)) * x.beam[:, k]
    return out


def shade_of(conditions: Conditions | Day, opening: Opening, face: OpeningFace) -> Array:
    """Share of the glass the sun's beam does not reach, by hour: overhang, trees and neighbours."""
    return np.asarray(1 - (1 - overhang_shade(conditions, opening, face)) * opening.sun_summer)


def overhang_shade(conditions: Conditions | Day, opening: Opening, face: OpeningFace) -> Array:
    """Share of the glass in the shadow of its overhang, by hour."""
    return _overhang_shade(conditions, opening.overhang_m, opening.overhang_gap_m, opening.height_m, face.facing_deg)


def _overhang_shade(
    c: Conditions | Day, overhang_m: float, gap_m: float, height_m: float, facing_deg: float
) -> Array:
    """Share of the glass in the shadow of an overhang, by hour."""
    if overhang_m <= 0:
        return np.zeros(len(c.sun_azimuth_deg))
    away = np.deg2rad(c.sun_azimuth_deg - facing_deg)
    front = np.cos(away)
    depth = overhang_m * np.tan(np.deg2rad(np.maximum(c.sun_altitude_deg, 0))) / np.maximum(front, 1e-6) - gap_m
    return np.where(front > 1e-6, np.clip(depth / height_m, 0, 1), 0.0)


def _air(air: OutdoorAir, c: Conditions, h: Array, s: Array, lat: Array) -> None:
    """Heat and moisture of the outdoor air by room."""
    k = c.sensible_factor
    summer = air.leaks_m3_s(air.summer)
    h[:, COLUMN["leakage"]] = k * air.leaks_m3_s(air.winter) * c.heating_difference_k
    s[:, COLUMN["leakage"]] = k * summer * c.cooling_difference_k
    lat[:, COLUMN["leakage"]] = c.latent_factor * summer * c.moisture_difference
    fresh = air.fresh_m3_s
    h[:, COLUMN["fresh_air"]] = k * fresh * c.heating_difference_k
    s[:, COLUMN["fresh_air"]] = k * fresh * c.cooling_difference_k
    lat[:, COLUMN["fresh_air"]] = c.latent_factor * air.fresh_moist_m3_s * c.moisture_difference
