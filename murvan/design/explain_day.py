"""The heat balance in figures: what comes into a room at an hour, and what floor, walls and furniture hold or give back.

Each component's load at an hour is exact in the balance. Its arithmetic shows what comes in at that hour, line by line;
the last line but one is what the mass of the room takes up or gives back, the difference of the two.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

import numpy as np

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.balance_rows import R_OUT_SUMMER, SKY_K
from murvan.design.components import COLUMN, COMPONENT_WORDS, GAIN_AREA_W_M2, GAIN_PERSON_W, LATENT_PERSON_W
from murvan.design.conditions import Day, sun_on
from murvan.design.duct_heat import COLD_C
from murvan.design.gains import on_hours
from murvan.design.load_factors import glass_column, shade_of
from murvan.design.surfaces import Surface
from murvan.physics import sun

if TYPE_CHECKING:
    from murvan.design.solve import Results

MONTH_WORDS = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)
BALANCE = "Heat balance of the design day (harmonics of 24 hours, ISO 13786; ASHRAE Fundamentals ch. 18)"
Q = Quantity


def months_words(months: tuple[int, ...]) -> str:
    """'July, August and October'."""
    words = [MONTH_WORDS[m - 1] for m in sorted(months)]
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def day_words(month: int, hour: int) -> str:
    """'17:00 on 21 July'."""
    return f"{hour}:00 on 21 {MONTH_WORDS[month - 1]}"


def explain_at(r: Results, room: int, name: str, month: int, hour: int) -> Arithmetic:
    """How one component of one room's sensible load at an hour came about.

    Args:
        month: index into `Loads.months`; hour: 1..24.
    """
    total = float(r.loads.parts_by_hour_w[month, room, COLUMN[name], hour - 1])
    day = r.conditions.days[month]
    lines = list(_lines(r, room, name, day, month, hour))
    if name == "ducts":
        return _ducts(r, room, total, month, hour)
    held = total - sum(x.result.value for x in lines if x.result is not None)
    outdoor_air = name in ("leakage", "fresh_air")
    if not outdoor_air and (abs(held) > 0.5 or not lines):
        lines.append(Line(_held_words(name, held), "", (), Q("power", held)))
    label = COMPONENT_WORDS[name]
    lines.append(Line(label, "", (), Q("power", total), True))
    wet = float(r.loads.latent_by_hour_w[room, COLUMN[name], hour - 1])
    if wet > 0.5:
        lines.append(_latent(r, room, name, wet))
    sources = [f"At {day_words(day.month, hour)}; {_outside(r, day, hour)}", BALANCE]
    if name.startswith("glass"):
        sources.insert(1, "area × sun (beam by its angle, less shadow, + 0.87 of diffuse) × sun factor × blinds")
    return Arithmetic(f"{label}, {hour}:00", tuple(lines), tuple(sources))


def _outside(r: Results, day: Day, hour: int) -> str:
    up = day.sun_altitude_deg[hour - 1]
    sun_words = f"sun {up:.0f}° up in the {_compass(float(day.sun_azimuth_deg[hour - 1]))}" if up > 0 else "sun down"
    return f"clear sky, {r.conditions.latitude_deg:.0f}° latitude, {sun_words}"


def _compass(azimuth: float) -> str:
    names = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")
    return names[int(azimuth / 45 + 0.5) % 8]


def _held_words(name: str, held: float) -> str:
    if name in ("walls", "doors", "garage", "ceiling", "floor"):
        return "the day's swing through the layers"
    return "given back by floor, walls" if held > 0 else "held by floor, walls"


def _lines(r: Results, room: int, name: str, day: Day, month: int, hour: int) -> Iterator[Line]:
    """What comes in at the hour."""
    if name.startswith("glass"):
        yield from _glass(r, room, name, day, hour)
    elif name in ("walls", "ceiling", "floor", "garage"):
        yield from _shell(r, room, name, day, month)
    elif name == "doors":
        yield from _doors(r, room, day)
    elif name in ("leakage", "fresh_air"):
        yield _air(r, room, name, day, month, hour)
    elif name == "people":
        there = r.gains.people[room] * on_hours(r.job.rooms[room].people_from, r.job.rooms[room].people_to)[hour - 1]
        operands = (Q("people", float(there)), Q("power", GAIN_PERSON_W))
        yield Line("there now", "{0} × {1}", operands, Q("power", float(there) * GAIN_PERSON_W))
    elif name == "appliances":
        yield from _things(r, room, hour)


def _glass(r: Results, room: int, name: str, day: Day, hour: int) -> Iterator[Line]:
    job, inside = r.job, r.conditions.indoor_cooling.temperature_c
    glazings = {x.id: x for x in job.glazings}
    out = float(day.outdoor_c[hour - 1]) - inside
    for f in r.geometry.openings:
        o = job.openings[f.index]
        glazing = glazings.get(o.glazing or "")
        if f.room != room or glazing is None or o.kind not in ("window", "skylight") or glass_column(f) != name:
            continue
        x = sun_on(day, np.array([f.facing_deg]), np.array([f.tilt_deg]))
        beam = x.beam[:, 0] * (1 - shade_of(day, o, f))
        through = float(sun.glass_gain_factor(beam, x.diffuse[:, 0], x.cos_incidence[:, 0])[hour - 1])
        iac = glazing.inside_shade * o.blinds
        area = Q("area", f.area_m2, 1)
        yield Line(
            f"{o.tag} sun",
            "{0} × {1} × {2} × {3}",
            (area, Q("irradiance", through), Q("decimal", glazing.shgc), Q("decimal", iac)),
            Q("power", f.area_m2 * through * glazing.shgc * iac),
        )
        yield Line(
            f"{o.tag} pane",
            "{0} × {1} × {2}",
            (area, Q("u_factor", glazing.u_w_m2k, 2), Q("difference", out)),
            Q("power", f.area_m2 * glazing.u_w_m2k * out),
        )


def _shell(r: Results, room: int, name: str, day: Day, month: int) -> Iterator[Line]:
    """Mean flow of the day through each piece: area × U × (mean beyond − indoor)."""
    for s in r.factors.surfaces:
        if s.room != room or s.component != name or s.area_m2 < 1e-6:
            continue
        beyond = _mean_beyond(r, s, day, month)
        if beyond is None or abs(s.area_m2 * s.u_w_m2k * beyond) < 0.3:
            continue
        yield Line(
            s.label,
            "{0} × {1} × {2}",
            (Q("area", s.area_m2), Q("u_factor", s.u_w_m2k), Q("difference", beyond)),
            Q("power", s.area_m2 * s.u_w_m2k * beyond),
        )


def _mean_beyond(r: Results, s: Surface, day: Day, month: int) -> float | None:
    """Mean temperature of the day beyond a surface over the room's, K; None where no heat is counted."""
    inside = r.conditions.indoor_cooling.temperature_c
    if s.kind in ("slab", "slab edge", "ground", "below"):
        return None
    space = s.kind
    if s.kind in ("garage", "garage floor"):
        space = r.job.spaces[0].id if r.job.spaces else ""
    beyond = r.balance.buffer_c(space)
    if beyond is not None:
        return float(beyond[month].mean()) - inside
    made = next((c for c in r.job.constructions if c.id == s.construction), None)
    alpha = made.absorptance if made is not None else 0.6
    air = float(day.outdoor_c.mean()) - inside
    if s.kind == "roof":
        return air + _sun_k(day, 180.0, 0.0, alpha) - SKY_K
    if s.kind == "outdoors" and s.part >= 0:
        return air + _sun_k(day, r.geometry.walls[s.part].facing_deg, 90.0, alpha)
    return air


def _sun_k(day: Day, facing: float, tilt: float, absorptance: float) -> float:
    x = sun_on(day, np.array([facing]), np.array([tilt]))
    return float(absorptance * R_OUT_SUMMER * (x.beam + x.diffuse).mean())


def _doors(r: Results, room: int, day: Day) -> Iterator[Line]:
    inside = r.conditions.indoor_cooling.temperature_c
    made = {c.id: c for c in r.job.constructions}
    for f in r.geometry.openings:
        o = r.job.openings[f.index]
        door = made.get(o.construction or r.job.door_construction or "")
        if f.room != room or o.kind != "door" or door is None or f.other == "garage":
            continue
        u = r.factors.assemblies[door.id].u_w_m2k
        k = float(day.outdoor_c.mean()) - inside + _sun_k(day, f.facing_deg, 90.0, door.absorptance)
        operands = (Q("area", f.area_m2, 1), Q("u_factor", u), Q("difference", k))
        yield Line(o.tag, "{0} × {1} × {2}", operands, Q("power", f.area_m2 * u * k))


def _air(r: Results, room: int, name: str, day: Day, month: int, hour: int) -> Line:
    k = r.conditions.sensible_factor
    over = float(day.outdoor_c[hour - 1]) - r.conditions.indoor_cooling.temperature_c
    left = 1 - r.job.ventilation.sensible_recovery if name == "fresh_air" else 1.0
    total = float(r.loads.parts_by_hour_w[month, room, COLUMN[name], hour - 1])
    flow = total / (k * over * left) if over * left else 0.0
    return Line(
        "sensible",
        "{0} × {1} × {2}" + (" × {3}" if left != 1 else ""),
        (Q("air_factor", k), Q("flow", flow, 1), Q("difference", over), Q("decimal", left)),
        Q("power", total),
    )


def _things(r: Results, room: int, hour: int) -> Iterator[Line]:
    job, area = r.job, r.geometry.area_m2[room]
    operands = (Q("area", area), Q("power_per_area", GAIN_AREA_W_M2))
    yield Line("by floor", "{0} × {1}", operands, Q("power", GAIN_AREA_W_M2 * area))
    listed = 0.0
    for x in job.appliances:
        if x.room == job.rooms[room].id:
            watts = x.count * x.sensible_w * float(on_hours(x.from_hour, x.to_hour)[hour - 1])
            listed += watts
            yield Line(x.name, "{0} × {1}", (Q("number", x.count), Q("power", x.sensible_w)), Q("power", watts))
    rest = float(r.gains.things_w[room, hour - 1]) - GAIN_AREA_W_M2 * area - listed
    if rest > 0.5:
        yield Line("kitchen share and own", "", (), Q("power", rest))


def _latent(r: Results, room: int, name: str, wet: float) -> Line:
    if name == "people":
        people = wet / (LATENT_PERSON_W * r.job.air.moisture_rate) if r.job.air.moisture_rate else 0.0
        operands = (Q("people", people), Q("power", LATENT_PERSON_W * r.job.air.moisture_rate))
        return Line("latent besides", "{0} × {1}", operands, Q("power", wet))
    if name in ("leakage", "fresh_air"):
        moisture = (Q("moisture", r.conditions.moisture_difference),)
        return Line("latent besides", "{0} over indoors", moisture, Q("power", wet))
    return Line("latent besides", "", (), Q("power", wet))


def _ducts(r: Results, room: int, total: float, month: int, hour: int) -> Arithmetic:
    """By run: what is left of the unit's work at the register; without runs an allowance."""
    before = float(r.loads.rooms_by_hour_w[month, room, hour - 1]) - total
    share = float(r.duct_heat.cooling[month, room, hour - 1])
    words = COMPONENT_WORDS["ducts"]
    if not r.duct_heat.by_run[room]:
        operands = (Q("power", before), Q("percent", share))
        line = Line(words, "{0} × {1}", operands, Q("power", total), True)
        return Arithmetic(
            words, (line,), ("Allowance for ducts outside the shell, until they are worked out by run",)
        )
    lines = []
    for x in r.job.registers:
        if x.room == r.job.rooms[room].id and x.id in r.duct_heat.delivered_cold_c:
            arrives = Q("temperature", r.duct_heat.delivered_cold_c[x.id], 1)
            lines.append(Line(f"air at {x.tag}", "leaves the unit at {0}", (Q("temperature", COLD_C, 1),), arrives))
    reaches = Q("percent", 1 / (1 + share))
    lines.append(Line("reaches the room", "of what the unit gives its air", (), reaches))
    lines.append(Line(words, "{0} ÷ {1} − {0}", (Q("power", before), reaches), Q("power", total), True))
    wet = float(r.loads.latent_by_hour_w[room, COLUMN["ducts"], hour - 1])
    if wet > 0.5:
        lines.append(Line("latent besides", "leaks of the return", (), Q("power", wet)))
    return Arithmetic(
        words,
        tuple(lines),
        (
            "T2 = Ta + (T1 − Ta) exp(−UPL ÷ m cp) along every run; air at the house's peak hour",
            "Delivery effectiveness after ASHRAE 152, leaks by surface, half of them on each side",
        ),
    )


def explain_peak(r: Results, room: int) -> Arithmetic:
    """The room's highest hour as the sum of its components, beside the house's hour and the load factors."""
    x = r.loads
    m, h = x.at(int(x.peak_month[room])), int(x.peak_hour[room])
    parts = x.sensible_parts[room]
    lines = [
        Line(COMPONENT_WORDS[n], "", (), Q("power", float(parts[k])))
        for n, k in COLUMN.items()
        if abs(parts[k]) > 0.5
    ]
    lines.append(Line("Sensible", "", (), Q("power", float(x.sensible_w[room])), True))
    return Arithmetic(f"Peak, {day_words(x.months[m], h)}", tuple(lines), (BALANCE,))
