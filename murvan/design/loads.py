"""Room loads: steady heating, and cooling by the residential load-factor method.

Heating is steady, without sun or gains. Cooling follows the residential chapter of the ASHRAE Handbook
Fundamentals, factors from memory: opaque CF = U (OFt dT + OFb + OFr DR), glass CF = U (dT - .46 DR) +
PXI SHGC IAC FFs, gains 464 + .7 A + 75 N. Every figure is kept by room and component, so that any of them can
be shown with its arithmetic.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from murvan.design.conditions import Conditions, FaceSun, sun_on
from murvan.design.geometry import COMPASS, Geometry, OpeningFace, compass
from murvan.design.surfaces import Assembly, Shell, Spaces, Surface, assembly, conduction
from murvan.model.job import Job, Opening
from murvan.physics import heat, sun
from murvan.physics.constants import CP_AIR_J_KGK

Array = NDArray[np.float64]

BTU_H = 0.29307107017
FT2 = 0.3048**2
RLF = "ASHRAE Handbook Fundamentals, residential load factors, from memory"
FENESTRATION_FACTOR = {"N": 0.44, "NE": 0.21, "E": 0.31, "SE": 0.37, "S": 0.47, "SW": 0.58, "W": 0.56, "NW": 0.46}
FENESTRATION_LEVEL = 0.58
"""Skylights."""
STEEP_DEG = 60.0
"""Glass no steeper than this counts as a skylight."""
FENESTRATION_DAILY = 0.46
GAIN_FIXED_W, GAIN_AREA_W_M2, GAIN_PERSON_W = 464 * BTU_H, 0.7 * BTU_H / FT2, 75 * BTU_H
LATENT_FIXED_W, LATENT_AREA_W_M2, LATENT_PERSON_W = 68 * BTU_H, 0.07 * BTU_H / FT2, 41 * BTU_H

COMPONENTS = (
    *(f"glass_{c}" for c in COMPASS),
    "glass_sky",
    "walls",
    "garage",
    "doors",
    "ceiling",
    "floor",
    "leakage",
    "fresh_air",
    "people",
    "appliances",
    "ducts",
)
COMPONENT_WORDS = {
    **{
        f"glass_{c}": f"Glass, {w}"
        for c, w in zip(
            COMPASS,
            ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"),
            strict=True,
        )
    },
    "glass_sky": "Glass, skylights",
    "walls": "Walls",
    "garage": "Garage side",
    "doors": "Doors",
    "ceiling": "Ceiling",
    "floor": "Floor",
    "leakage": "Air leakage",
    "fresh_air": "Fresh air",
    "people": "People",
    "appliances": "Lights, appliances",
    "ducts": "Ducts, allowance",
}
COLUMN = {name: i for i, name in enumerate(COMPONENTS)}


@dataclass(frozen=True)
class GlassLoads:
    """What comes through the openings; arrays by opening, or (24, ...) by hour."""

    u: Array
    pxi: Array
    """Peak irradiance on the outside, shadow of the overhang taken off, W/m2."""
    iac: Array
    shade: Array
    sensible_w: Array
    hourly_w: Array
    """Instantaneous sun and heat through the glass, (24, room)."""
    sun_w_m2: Array
    """Irradiance on each opening, (24, opening)."""
    peak_hour: NDArray[np.intp]
    """Hour at which each room's glass gains most, 0 without glass."""


@dataclass(frozen=True)
class AirLoads:
    """Air through the leaks."""

    leakage_area_cm2: float
    infiltration_winter_m3_s: float
    infiltration_summer_m3_s: float


@dataclass(frozen=True)
class Loads:
    """Loads in W. Component matrices are (room, component), columns in the order of COMPONENTS."""

    heating_parts: Array
    sensible_parts: Array
    latent_parts: Array
    heating_w: Array
    sensible_w: Array
    latent_w: Array
    glass: GlassLoads
    air: AirLoads
    assemblies: dict[str, Assembly]
    surfaces: tuple[Surface, ...]
    """The opaque shell piece by piece."""
    garage_winter_c: float
    garage_summer_c: float
    people: float

    @property
    def house_heating_w(self) -> float:
        return float(self.heating_w.sum())

    @property
    def house_sensible_w(self) -> float:
        return float(self.sensible_w.sum())

    @property
    def house_latent_w(self) -> float:
        return float(self.latent_w.sum())

    @property
    def house_cooling_w(self) -> float:
        return self.house_sensible_w + self.house_latent_w

    @property
    def cooling_w(self) -> Array:
        return self.sensible_w + self.latent_w


def loads(job: Job, g: Geometry, c: Conditions) -> Loads:
    """All room loads of the job."""
    n = len(job.rooms)
    table = {x.id: assembly(x) for x in job.constructions}
    lat = np.zeros((n, len(COMPONENTS)))
    garage_w, garage_s = _garage(job, g, c, table)
    shell = Shell(job, g, c, table, Spaces(garage_w, garage_s)).surfaces()
    h, s = conduction(shell, COLUMN, n)
    glass = _glass(job, g, c, table, h, s, garage_w, garage_s)
    air = _air(job, g, c, h, s, lat)
    people = _gains(job, g, s, lat)
    _duct_allowance(job, g, h, s, lat)
    return Loads(
        heating_parts=h,
        sensible_parts=s,
        latent_parts=lat,
        heating_w=np.maximum(h.sum(axis=1), 0),
        sensible_w=np.maximum(s.sum(axis=1), 0),
        latent_w=np.maximum(lat.sum(axis=1), 0),
        assemblies=table,
        surfaces=shell,
        garage_winter_c=garage_w,
        garage_summer_c=garage_s,
        people=people,
        glass=glass,
        air=air,
    )


def _garage(job: Job, g: Geometry, c: Conditions, table: dict[str, Assembly]) -> tuple[float, float]:
    """Winter and summer air temperature of the unheated spaces by their heat balance."""
    to_house = sum(p.net_area_m2 * _u(table, p.construction, 0.5) for p in g.walls if p.other == "garage") + 1e-9
    raised = next((x.id for x in job.constructions if x.id == job.raised_construction), None)
    to_house += sum(g.floors_m2["garage"]) * _u(table, raised, 0.4)
    to_out = 1e-9
    for space in job.spaces:
        height = next(s.height_m for s in job.storeys if s.id == space.storey)
        pts = space.outline_m
        area = abs(sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(pts, pts[1:] + pts[:1], strict=True))) / 2
        around = sum(np.hypot(x1 - x0, y1 - y0) for (x0, y0), (x1, y1) in zip(pts, pts[1:] + pts[:1], strict=True))
        shared = sum(p.length_m for p in g.walls if p.neighbour == space.id)
        to_out += space.u_shell_w_m2k * (max(around - shared, 0) * height + area)
        to_out += space.air_changes_h * area * height / 3600 * c.density_kg_m3 * CP_AIR_J_KGK
    share = to_house / (to_house + to_out)
    winter, summer = c.outdoor_winter.temperature_c, c.outdoor_summer.temperature_c
    return (
        winter + share * (c.indoor_heating.temperature_c - winter),
        summer + share * (c.indoor_cooling.temperature_c - summer),
    )


def _u(table: dict[str, Assembly], construction: str | None, fallback: float) -> float:
    return table[construction].u_w_m2k if construction in table else fallback


def _glass(
    job: Job,
    g: Geometry,
    c: Conditions,
    table: dict[str, Assembly],
    h: Array,
    s: Array,
    garage_w: float,
    garage_s: float,
) -> GlassLoads:
    n, m = len(job.rooms), len(job.openings)
    dt, dr, dh = c.cooling_difference_k, c.daily_range_k, c.heating_difference_k
    u, pxi, iac, shade, gain = (np.zeros(m) for _ in range(5))
    hourly, sun_on_it = np.zeros((24, n)), np.zeros((24, m))
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
            h[f.room, COLUMN["doors"]] += ua * (c.indoor_heating.temperature_c - garage_w if garage else dh)
            gain[f.index] = ua * (
                garage_s - c.indoor_cooling.temperature_c - 0.36 * dr if garage else dt + 14.8 / 1.8 - 0.36 * dr
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
        sun_on_it[:, i] = day.diffuse[:, k] + (1 - shaded) * day.beam[:, k]
        through = sun.glass_gain_factor((1 - shaded) * day.beam[:, k], day.diffuse[:, k], day.cos_incidence[:, k])
        hourly[:, f.room] += f.area_m2 * (
            through * glazing.shgc * iac[i] + u[i] * (c.hourly_outdoor_c - c.indoor_cooling.temperature_c)
        )
    peak = np.where(hourly.max(axis=0, initial=0.0) > 0, hourly.argmax(axis=0) + 1, 0)
    return GlassLoads(u, pxi, iac, shade, gain, hourly, sun_on_it, peak)


def glass_column(f: OpeningFace) -> str:
    """The component a pane belongs to."""
    return f"glass_{compass(f.facing_deg)}" if f.tilt_deg > STEEP_DEG else "glass_sky"


def ffs(facing_deg: float, tilt_deg: float = 90.0) -> float:
    """Fenestration solar load factor between the eight tabulated directions; skylights have their own."""
    if tilt_deg <= STEEP_DEG:
        return FENESTRATION_LEVEL
    values = [FENESTRATION_FACTOR[x] for x in COMPASS]
    at = (facing_deg % 360) / 45
    i = int(at) % 8
    return values[i] + (at - int(at)) * (values[(i + 1) % 8] - values[i])


def shade_of(c: Conditions, o: Opening, f: OpeningFace) -> Array:
    """Share of the glass the sun's beam does not reach, by hour: overhang, trees and neighbours."""
    under = _overhang_shade(c, o.overhang_m, o.overhang_gap_m, o.height_m, f.facing_deg)
    return np.asarray(1 - (1 - under) * o.sun_summer)


def _overhang_shade(c: Conditions, overhang_m: float, gap_m: float, height_m: float, facing_deg: float) -> Array:
    """Share of the glass in the shadow of an overhang, by hour."""
    if overhang_m <= 0:
        return np.zeros(24)
    away = np.deg2rad(c.sun_azimuth_deg - facing_deg)
    front = np.cos(away)
    depth = overhang_m * np.tan(np.deg2rad(np.maximum(c.sun_altitude_deg, 0))) / np.maximum(front, 1e-6) - gap_m
    return np.where(front > 1e-6, np.clip(depth / height_m, 0, 1), 0.0)


def _air(job: Job, g: Geometry, c: Conditions, h: Array, s: Array, lat: Array) -> AirLoads:
    flow50 = job.leakage.ach50 * g.total_volume_m3 / 3600
    area = heat.leakage_area_cm2(flow50)
    shielding = job.site.shielding
    levels = len({r.storey for r in job.rooms}) or 1
    winter = heat.leakage_flow_m3_s(area, c.heating_difference_k, job.climate.wind_winter_m_s, levels, shielding)
    summer = heat.leakage_flow_m3_s(area, c.cooling_difference_k, job.climate.wind_summer_m_s, levels, shielding)
    v = job.ventilation
    unbalanced = v.flow_m3_s if v.kind in ("exhaust", "supply") else 0.0
    balanced = v.flow_m3_s if v.kind in ("erv", "hrv") else 0.0
    winter_all = heat.combined_air_m3_s(winter, unbalanced, 0.0)
    summer_all = heat.combined_air_m3_s(summer, unbalanced, 0.0)
    wall = np.array(g.exposed_wall_m2) + 0.0
    share = wall / wall.sum() if wall.sum() > 0 else np.full(len(job.rooms), 1 / max(len(job.rooms), 1))
    floor = np.array(g.area_m2)
    by_area = floor / floor.sum() if len(floor) else floor
    k = c.sensible_factor
    h[:, COLUMN["leakage"]] = share * k * winter_all * c.heating_difference_k
    s[:, COLUMN["leakage"]] = share * k * summer_all * c.cooling_difference_k
    lat[:, COLUMN["leakage"]] = share * c.latent_factor * summer_all * c.moisture_difference
    left = 1 - v.sensible_recovery
    h[:, COLUMN["fresh_air"]] = by_area * k * balanced * c.heating_difference_k * left
    s[:, COLUMN["fresh_air"]] = by_area * k * balanced * c.cooling_difference_k * left
    lat[:, COLUMN["fresh_air"]] = (
        by_area * c.latent_factor * balanced * c.moisture_difference * (1 - v.latent_recovery)
    )
    return AirLoads(area, winter, summer)


def _gains(job: Job, g: Geometry, s: Array, lat: Array) -> float:
    """Internal gains: the fixed part to the kitchen, the rest by floor area and by where people sit."""
    if not job.rooms:
        return 0.0
    area = np.array(g.area_m2)
    people = np.array([r.people for r in job.rooms])
    count = float(people.sum())
    if count == 0:
        count = float(job.bedrooms + 1)
        people = count * area / area.sum()
    kitchen = np.array([1.0 if r.use == "kitchen" else 0.0 for r in job.rooms])
    fixed = kitchen / kitchen.sum() if kitchen.sum() else area / area.sum()
    own = np.array([r.appliances_w for r in job.rooms])
    s[:, COLUMN["people"]] = GAIN_PERSON_W * people
    s[:, COLUMN["appliances"]] = GAIN_FIXED_W * fixed + GAIN_AREA_W_M2 * area + own
    rate = job.air.moisture_rate
    lat[:, COLUMN["people"]] = LATENT_PERSON_W * people * rate
    lat[:, COLUMN["appliances"]] = (LATENT_FIXED_W * fixed + LATENT_AREA_W_M2 * area) * rate
    return count


def _duct_allowance(job: Job, g: Geometry, h: Array, s: Array, lat: Array) -> None:
    outside = {st.id for st in g.storeys if st.duct_place != "inside"}
    mask = np.array([job.air.duct_allowance if r.storey in outside else 0.0 for r in job.rooms])
    for parts in (h, s, lat):
        parts[:, COLUMN["ducts"]] = mask * parts.sum(axis=1)
