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

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.conditions import Conditions, FaceSun, sun_on
from murvan.design.geometry import COMPASS, Geometry, compass
from murvan.model.job import Construction, Job
from murvan.physics import heat, sun
from murvan.physics.constants import CP_AIR_J_KGK

Array = NDArray[np.float64]

BTU_H = 0.29307107017
FT2 = 0.3048**2
RLF = "ASHRAE Handbook Fundamentals, residential load factors, from memory"
FENESTRATION_FACTOR = {"N": 0.44, "NE": 0.21, "E": 0.31, "SE": 0.37, "S": 0.47, "SW": 0.58, "W": 0.56, "NW": 0.46}
FENESTRATION_DAILY = 0.46
GAIN_FIXED_W, GAIN_AREA_W_M2, GAIN_PERSON_W = 464 * BTU_H, 0.7 * BTU_H / FT2, 75 * BTU_H
LATENT_FIXED_W, LATENT_AREA_W_M2, LATENT_PERSON_W = 68 * BTU_H, 0.07 * BTU_H / FT2, 41 * BTU_H

COMPONENTS = (
    *(f"glass_{c}" for c in COMPASS),
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
class Assembly:
    """A construction worked out."""

    u_w_m2k: float
    r_cavity: float
    r_framing: float
    films: float


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
    wall_heating_w: Array
    """Heat lost through each wall part, in the order of `Geometry.walls`."""
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


def assembly(construction: Construction) -> Assembly:
    """U-factor with films by parallel paths."""
    films = sum(assembly_films(construction))
    cavity = films + sum(layer_r(x) for x in construction.layers)
    framing = films + sum(
        x.framing_r_m2k_w if x.framing_r_m2k_w is not None else layer_r(x) for x in construction.layers
    )
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


def layer_r(layer: object) -> float:
    """Resistance of one layer, m2K/W."""
    r = getattr(layer, "r_m2k_w", None)
    if r is not None:
        return float(r)
    return float(layer.thickness_m / layer.conductivity_w_mk)  # type: ignore[attr-defined]


def loads(job: Job, g: Geometry, c: Conditions) -> Loads:
    """All room loads of the job."""
    n = len(job.rooms)
    table = {x.id: assembly(x) for x in job.constructions}
    constructions = {x.id: x for x in job.constructions}
    h, s, lat = (np.zeros((n, len(COMPONENTS))) for _ in range(3))
    garage_w, garage_s = _garage(job, g, c, table)
    wall_w = _opaque(job, g, c, table, constructions, h, s, garage_w, garage_s)
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
        wall_heating_w=wall_w,
        garage_winter_c=garage_w,
        garage_summer_c=garage_s,
        people=people,
        glass=glass,
        air=air,
    )


def _garage(job: Job, g: Geometry, c: Conditions, table: dict[str, Assembly]) -> tuple[float, float]:
    """Winter and summer air temperature of the unheated spaces by their heat balance."""
    to_house = sum(p.net_area_m2 * _u(table, p.construction, 0.5) for p in g.walls if p.other == "garage") + 1e-9
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


def _opaque(
    job: Job,
    g: Geometry,
    c: Conditions,
    table: dict[str, Assembly],
    constructions: dict[str, Construction],
    h: Array,
    s: Array,
    garage_w: float,
    garage_s: float,
) -> Array:
    dt, dr, dh = c.cooling_difference_k, c.daily_range_k, c.heating_difference_k
    wall_cf = dt + 14.8 / 1.8 - 0.36 * dr
    wall_w = np.zeros(len(g.walls))
    for i, p in enumerate(g.walls):
        if p.other == "heated":
            continue
        ua = p.net_area_m2 * _u(table, p.construction, 0.5)
        if p.other == "garage":
            wall_w[i] = ua * (c.indoor_heating.temperature_c - garage_w)
            h[p.room, COLUMN["garage"]] += wall_w[i]
            s[p.room, COLUMN["garage"]] += ua * (garage_s - c.indoor_cooling.temperature_c - 0.36 * dr)
        else:
            wall_w[i] = ua * dh
            h[p.room, COLUMN["walls"]] += wall_w[i]
            s[p.room, COLUMN["walls"]] += ua * wall_cf
    ceiling = constructions.get(job.ceiling_construction or "")
    u_up = _u(table, job.ceiling_construction, 0.3)
    alpha = ceiling.absorptance if ceiling else 0.85
    attic_cf = 0.62 * dt + (25.7 * alpha - 8.1) / 1.8 - 0.19 * dr
    roof_cf = dt + (68.9 * alpha - 12.6) / 1.8 - 0.36 * dr
    attic, roof = np.array(g.ceiling_attic_m2), np.array(g.ceiling_roof_m2)
    h[:, COLUMN["ceiling"]] = u_up * (attic + roof) * dh
    s[:, COLUMN["ceiling"]] = u_up * (attic * attic_cf + roof * roof_cf)
    floor = constructions.get(job.floor_construction or "")
    _floors(g, c, floor, _u(table, job.floor_construction, 0.4), h, s)
    return wall_w


def _floors(g: Geometry, c: Conditions, floor: Construction | None, u: float, h: Array, s: Array) -> None:
    dt, dr, dh = c.cooling_difference_k, c.daily_range_k, c.heating_difference_k
    edge = floor.edge_f_w_mk if floor and floor.edge_f_w_mk is not None else 1.26
    crawl, outdoors = np.array(g.floor_crawl_m2), np.array(g.floor_outdoors_m2)
    slab = np.array(g.floor_slab_m2)
    column = COLUMN["floor"]
    u_open = u if floor and floor.kind == "floor" else 0.4
    h[:, column] = edge * np.array(g.edge_m) * dh + u_open * (crawl + outdoors) * dh
    s[:, column] = slab * slab_factor_w_m2(floor) + u_open * (
        crawl * (0.33 * dt - 0.28 * dr) + outdoors * (dt - 0.06 * dr)
    )


def slab_factor_w_m2(floor: Construction | None) -> float:
    """Cooling factor of a slab: .51 - 2.5/(R_cover + .68) Btu/h ft2; the same source, from memory."""
    cover = sum(layer_r(x) for x in floor.layers if x.look != "concrete") if floor else 0.0
    return (0.51 - 2.5 / (cover / 0.1761101838 + 0.68)) * BTU_H / FT2


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
    day: FaceSun = sun_on(c, facing)
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
        shaded = _overhang_shade(c, o.overhang_m, o.height_m, f.facing_deg)
        shade[i] = shaded[day.peak_hour[k]]
        pxi[i] = day.peak_diffuse[k] + (1 - shade[i]) * day.peak_beam[k]
        gain[i] = f.area_m2 * (
            u[i] * (dt - FENESTRATION_DAILY * dr) + pxi[i] * glazing.shgc * iac[i] * ffs(f.facing_deg)
        )
        column = COLUMN[f"glass_{compass(f.facing_deg)}"]
        s[f.room, column] += gain[i]
        h[f.room, column] += u[i] * f.area_m2 * dh
        sun_on_it[:, i] = day.diffuse[:, k] + (1 - shaded) * day.beam[:, k]
        through = sun.glass_gain_factor((1 - shaded) * day.beam[:, k], day.diffuse[:, k], day.cos_incidence[:, k])
        hourly[:, f.room] += f.area_m2 * (
            through * glazing.shgc * iac[i] + u[i] * (c.hourly_outdoor_c - c.indoor_cooling.temperature_c)
        )
    peak = np.where(hourly.max(axis=0, initial=0.0) > 0, hourly.argmax(axis=0) + 1, 0)
    return GlassLoads(u, pxi, iac, shade, gain, hourly, sun_on_it, peak)


def ffs(facing_deg: float) -> float:
    """Fenestration solar load factor between the eight tabulated directions."""
    values = [FENESTRATION_FACTOR[x] for x in COMPASS]
    at = (facing_deg % 360) / 45
    i = int(at) % 8
    return values[i] + (at - int(at)) * (values[(i + 1) % 8] - values[i])


def _overhang_shade(c: Conditions, overhang_m: float, height_m: float, facing_deg: float) -> Array:
    """Share of the glass in the shadow of an overhang at its head, by hour."""
    if overhang_m <= 0:
        return np.zeros(24)
    away = np.deg2rad(c.sun_azimuth_deg - facing_deg)
    front = np.cos(away)
    depth = overhang_m * np.tan(np.deg2rad(np.maximum(c.sun_altitude_deg, 0))) / np.maximum(front, 1e-6)
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


# ---- the arithmetic -------------------------------------------------------------------------------------------


def explain_component(job: Job, g: Geometry, c: Conditions, r: Loads, room: int, name: str) -> Arithmetic:
    """How one component of one room's cooling load came about."""
    if name.startswith("glass_"):
        return _explain_glass(job, g, c, r, room, name)
    col = COLUMN[name]
    total = Quantity("power", float(r.sensible_parts[room, col]))
    label = COMPONENT_WORDS[name]
    q = Quantity
    dt, dr = c.cooling_difference_k, c.daily_range_k
    if name == "walls":
        lines = []
        for p in g.walls:
            if p.room == room and p.other == "outdoors" and p.net_area_m2 > 0:
                u = _u(r.assemblies, p.construction, 0.5)
                value = p.net_area_m2 * u * (dt + 14.8 / 1.8 - 0.36 * dr)
                lines.append(
                    Line(
                        f"{p.compass} wall",
                        "{0} × {1} × ({2} + {3} − 0.36 × {4})",
                        (
                            q("area", p.net_area_m2),
                            q("u_factor", u),
                            q("difference", dt),
                            q("difference", 14.8 / 1.8),
                            q("difference", dr),
                        ),
                        q("power", value),
                    )
                )
        return Arithmetic(label, (*lines, Line(label, "", (), total, True)), (RLF,))
    if name == "ceiling":
        area = g.ceiling_attic_m2[room]
        u = _u(r.assemblies, job.ceiling_construction, 0.3)
        alpha = next((x.absorptance for x in job.constructions if x.id == job.ceiling_construction), 0.85)
        line = Line(
            "ceiling",
            "{0} × {1} × (0.62 × {2} + {3} − 0.19 × {4})",
            (
                q("area", area),
                q("u_factor", u),
                q("difference", dt),
                q("difference", (25.7 * alpha - 8.1) / 1.8),
                q("difference", dr),
            ),
            total,
            True,
        )
        return Arithmetic(label, (line,), (RLF, f"Roof absorbs {alpha:.2f} of the sun"))
    if name in ("leakage", "fresh_air"):
        return _explain_air(job, c, r, room, name, total)
    if name == "people":
        n = job.rooms[room].people or r.people * g.area_m2[room] / g.total_area_m2
        lines = [
            Line("sensible", "{0} × {1}", (q("people", n), q("power", GAIN_PERSON_W)), total),
            Line(
                "latent",
                "{0} × {1}",
                (q("people", n), q("power", LATENT_PERSON_W)),
                q("power", float(r.latent_parts[room, col])),
            ),
        ]
        return Arithmetic(label, tuple(lines), (RLF,))
    if name == "appliances":
        fixed = float(r.sensible_parts[room, col]) - GAIN_AREA_W_M2 * g.area_m2[room]
        return Arithmetic(
            label,
            (
                Line(
                    "by floor",
                    "{0} × {1}",
                    (q("area", g.area_m2[room]), q("power_per_area", GAIN_AREA_W_M2)),
                    q("power", GAIN_AREA_W_M2 * g.area_m2[room]),
                ),
                Line("kitchen share and own", "", (), q("power", fixed)),
                Line(label, "", (), total, True),
            ),
            (RLF,),
        )
    if name == "ducts":
        before = float(r.sensible_parts[room].sum()) - total.value
        line = Line(label, "{0} × {1}", (q("power", before), q("percent", job.air.duct_allowance)), total, True)
        return Arithmetic(
            label, (line,), ("Allowance for ducts outside the shell, until they are worked out by run",)
        )
    return Arithmetic(label, (Line(label, "", (), total, True),), (RLF,))


def _explain_glass(job: Job, g: Geometry, c: Conditions, r: Loads, room: int, name: str) -> Arithmetic:
    q = Quantity
    lines: list[Line] = []
    tags = []
    dt, dr = c.cooling_difference_k, c.daily_range_k
    total = 0.0
    for f in g.openings:
        o = job.openings[f.index]
        if f.room != room or o.kind != "window" or f"glass_{compass(f.facing_deg)}" != name:
            continue
        glazing = next((x for x in job.glazings if x.id == o.glazing), None)
        if glazing is None:
            continue
        i = f.index
        factor = ffs(f.facing_deg)
        tags.append(o.tag)
        sun_w = f.area_m2 * r.glass.pxi[i] * glazing.shgc * r.glass.iac[i] * factor
        skin_w = f.area_m2 * glazing.u_w_m2k * (dt - FENESTRATION_DAILY * dr)
        total += float(sun_w + skin_w)
        lines.append(
            Line(
                f"{o.tag} sun",
                "{0} × {1} × {2} × {3} × {4}",
                (
                    q("area", f.area_m2, 1),
                    q("irradiance", float(r.glass.pxi[i])),
                    q("decimal", glazing.shgc),
                    q("decimal", float(r.glass.iac[i])),
                    q("decimal", factor),
                ),
                q("power", float(sun_w)),
            )
        )
        lines.append(
            Line(
                f"{o.tag} skin",
                "{0} × {1} × ({2} − 0.46 × {3})",
                (
                    q("area", f.area_m2, 1),
                    q("u_factor", glazing.u_w_m2k, 2),
                    q("difference", dt),
                    q("difference", dr),
                ),
                q("power", skin_w),
            )
        )
    lines.append(Line(COMPONENT_WORDS[name], "", (), q("power", total), True))
    return Arithmetic(
        COMPONENT_WORDS[name],
        tuple(lines),
        (
            f"area × sun at the peak × sun factor × blinds × load factor; sun: 21 July, {c.latitude_deg:.0f}° N, clear sky",
            RLF,
        ),
    )


def _explain_air(job: Job, c: Conditions, r: Loads, room: int, name: str, total: Quantity) -> Arithmetic:
    q = Quantity
    col = COLUMN[name]
    k, dt = c.sensible_factor, c.cooling_difference_k
    left = 1 - job.ventilation.sensible_recovery if name == "fresh_air" else 1.0
    flow = total.value / (k * dt * left) if dt * left else 0.0
    lines = [
        Line(
            "sensible",
            "{0} × {1} × {2}" + (" × {3}" if left != 1 else ""),
            (q("air_factor", k), q("flow", flow, 1), q("difference", dt), q("decimal", left)),
            total,
        ),
        Line(
            "latent",
            "moisture {0} over indoors",
            (q("moisture", c.moisture_difference),),
            q("power", float(r.latent_parts[room, col])),
        ),
    ]
    if name == "leakage":
        source = (
            f"{job.leakage.ach50:g} air changes at 50 Pa; leakage area by stack and wind, ASHRAE ch. 16, from memory"
        )
    else:
        source = (
            f"{job.ventilation.kind.upper()} recovers {job.ventilation.sensible_recovery:.0%}; shared by floor area"
        )
    return Arithmetic(COMPONENT_WORDS[name], tuple(lines), (source,))


def explain_heating(job: Job, g: Geometry, c: Conditions, r: Loads, room: int) -> Arithmetic:
    """The room's heating load, one line a component."""
    q = Quantity
    lines = [
        Line(
            COMPONENT_WORDS[name],
            "{0} × {1}",
            (
                q("ua", float(r.heating_parts[room, i]) / c.heating_difference_k),
                q("difference", c.heating_difference_k),
            ),
            q("power", float(r.heating_parts[room, i])),
        )
        for i, name in enumerate(COMPONENTS)
        if abs(r.heating_parts[room, i]) > 0.5
    ]
    lines.append(Line("Heating", "", (), q("power", float(r.heating_w[room])), True))
    return Arithmetic("Heating", tuple(lines), ("Loss per degree × (indoor − winter design); no sun, no gains",))
