"""How heating, and cooling by load factors, came about: the arithmetic of a room's components, line by line."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.explain.day import AIR_TOGETHER, MONTH_WORDS, latitude_words
from murvan.design.explain.leaks import leak_lines, leak_source
from murvan.design.explain.second_opinion import Apart
from murvan.design.house.assemblies import assumptions
from murvan.design.house.geometry import Geometry
from murvan.design.house.surfaces import WALL, Surface
from murvan.design.limits import METHODS_ALIKE
from murvan.design.loads.components import (
    COLUMN,
    COMPONENT_WORDS,
    COMPONENTS,
    GAIN_AREA_W_M2,
    GAIN_FIXED_W,
    GAIN_PERSON_W,
    LATENT_PERSON_W,
)
from murvan.design.loads.factors import FENESTRATION_DAILY, RLF, Factors, ffs, glass_column
from murvan.design.loads.gains import by_day, on_hours
from murvan.design.loads.peaks import Loads
from murvan.design.results import Results
from murvan.design.weather.conditions import Conditions
from murvan.model.job import Job


def explain_factors(results: Results, room: int, name: str, apart: Apart | None = None) -> Arithmetic:
    """How one component of one room's cooling by load factors came about, and why it differs from the balance."""
    a = _explain(results, room, name)
    if apart is None or abs(apart.share) <= METHODS_ALIKE:
        return a
    told = Line(
        "",
        f"The room is {{0}} {apart.side} the heat balance, {{1}} of it by {COMPONENT_WORDS[apart.component].lower()}. {apart.why}",
        (Quantity("percent", abs(apart.share)), Quantity("power", abs(apart.difference_w))),
        None,
    )
    return replace(a, title=f"{a.title}, by load factors", sources=(*a.sources, told))


def _explain(r: Results, room: int, name: str) -> Arithmetic:
    f, label = r.factors, COMPONENT_WORDS[name]
    total = Line(label, "", (), Quantity("power", float(f.sensible_parts[room, COLUMN[name]])), True)
    if name.startswith("glass_"):
        return _explain_glass(r.job, r.geometry, r.conditions, f, room, name)
    if name in ("walls", "garage", "ceiling", "floor"):
        return _explain_surfaces(r.job, r.conditions, f, room, name, total)
    lines: tuple[Line, ...] = ()
    sources: tuple[str, ...] = (RLF,)
    if name == "doors":
        lines = tuple(_doors(r, room))
    elif name in ("leakage", "fresh_air"):
        lines, sources = tuple(_air(r, room, name)), (leak_source(r), AIR_TOGETHER)
    elif name == "people":
        lines = tuple(_people(r, room))
    elif name == "appliances":
        lines = tuple(_things(r, room))
    elif name == "ducts":
        before = float(np.delete(f.sensible_parts[room], COLUMN["ducts"]).sum())
        share = float(f.duct_share[room])
        operands = (Quantity("power", before), Quantity("percent", share, 2))
        lines = (Line("of the room's own", "{0} × {1}", operands, Quantity("power", before * share)),)
        sources = ("What ducts add at the hottest hour, by run, or the allowance without runs",)
    return Arithmetic(label, (*lines, total), sources)


def _doors(r: Results, room: int) -> Iterator[Line]:
    q, c = Quantity, r.conditions
    for f in r.geometry.openings:
        o = r.job.openings[f.index]
        if f.room != room or o.kind != "door":
            continue
        area, u = q("area", f.area_m2, 1), q("u_factor", float(r.factors.glass.u[f.index]), 4)
        watts = q("power", float(r.factors.glass.sensible_w[f.index]))
        dr = q("difference", c.daily_range_k)
        if f.other == "garage":
            over = r.factors.spaces.summer(f.neighbour) - c.indoor_cooling.temperature_c
            yield Line(o.tag, "{0} × {1} × ({2} − 0.36 × {3})", (area, u, q("difference", over), dr), watts)
            continue
        operands = (area, u, q("difference", c.cooling_difference_k), q("difference", WALL.b, 2), dr)
        yield Line(o.tag, "{0} × {1} × ({2} + {3} − 0.36 × {4})", operands, watts)


def _people(r: Results, room: int) -> Iterator[Line]:
    q, n = Quantity, float(by_day(r.gains.people)[room])
    people = q("people", n, 2)
    operands = (people, q("power", LATENT_PERSON_W), q("decimal", r.job.indoor.moisture_rate))
    yield Line("sensible", "{0} × {1}", (people, q("power", GAIN_PERSON_W)), q("power", n * GAIN_PERSON_W))
    wet = n * LATENT_PERSON_W * r.job.indoor.moisture_rate
    yield Line("latent besides", "{0} × {1} × {2} moisture rate", operands, q("power", wet), adds=False)


def _things(r: Results, room: int) -> Iterator[Line]:
    q, g = Quantity, r.gains
    area, here = r.geometry.area_m2[room], r.job.rooms[room]
    operands = (q("area", area, 1), q("power_per_area", GAIN_AREA_W_M2))
    yield Line("by floor", "{0} × {1}", operands, q("power", GAIN_AREA_W_M2 * area))
    fixed = float(g.kitchen_share[room])
    if fixed > 0:
        operands = (q("power", GAIN_FIXED_W), q("ratio3", fixed))
        yield Line("kitchen, shared", "{0} × {1}", operands, q("power", GAIN_FIXED_W * fixed))
    if here.appliances_w > 0:
        yield Line("set by the room", "", (), q("power", here.appliances_w))
    hour = int(g.things_w[room].argmax())
    for x in r.job.appliances:
        on = x.count * float(on_hours(x.from_hour, x.to_hour)[hour])
        if x.room == here.id and on > 0:
            yield Line(
                x.name, "{0} × {1}", (q("number", on), q("power", x.sensible_w)), q("power", on * x.sensible_w)
            )


def _air(r: Results, room: int, name: str) -> Iterator[Line]:
    q, c, air = Quantity, r.conditions, r.factors.air
    back = air.exchanger
    if name == "leakage":
        yield from leak_lines(r, room, False)
        flows = [("sensible", float(air.leaks_m3_s(air.summer)[room]), 1.0)]
    else:
        flows = [
            (back.word, float(air.recovered_m3_s[room]), 1 - back.sensible),
            ("as it is outdoors", float(air.plain_m3_s[room]), 1.0),
        ]
    k, dt = q("air_factor", c.sensible_factor), c.cooling_difference_k
    for label, flow, left in flows:
        if flow > 0:
            operands = (k, q("flow", flow, 2), q("difference", dt), q("decimal", left))
            words = "{0} × {1} × {2}" + (" × {3} not recovered" if left != 1 else "")
            yield Line(label, words, operands, q("power", c.sensible_factor * flow * dt * left))
    wet = flows[0][1] if name == "leakage" else float(air.fresh_moist_m3_s[room])
    operands3 = (q("latent_factor", c.latent_factor), q("flow", wet, 2), q("moisture", c.moisture_difference))
    watts = q("power", c.latent_factor * wet * c.moisture_difference)
    yield Line("latent besides", "{0} × {1} × {2}", operands3, watts, adds=False)


def _explain_surfaces(job: Job, c: Conditions, r: Factors, room: int, name: str, total: Line) -> Arithmetic:
    """Cooling through each opaque piece: area × U × the difference that acts on it."""
    mine = [x for x in r.surfaces if x.room == room and x.component == name and abs(x.cooling_w) > 0.05]
    lines = tuple(_surface_line(c, x) for x in mine)
    assumed = {x.name for x in job.constructions if x.assumed and x.id in {s.construction for s in mine}}
    sources = (RLF, *(f"Assumed by age, not looked at: {n}" for n in sorted(assumed)))
    return Arithmetic(COMPONENT_WORDS[name], (*lines, total), sources)


def _surface_line(c: Conditions, x: Surface) -> Line:
    q = Quantity
    result = q("power", x.cooling_w)
    if x.kind == "slab":
        return Line(x.label, "{0} × {1}", (q("area", x.area_m2), q("power_per_area", x.u_w_m2k)), result)
    area, u = q("area", x.area_m2, 1), q("u_factor", x.u_w_m2k, 4)
    if x.kind in ("garage", "garage floor"):
        return Line(x.label, "{0} × {1} × {2}", (area, u, q("difference", x.cool_k)), result)
    f = x.cool
    dt, dr = q("difference", c.cooling_difference_k), q("difference", c.daily_range_k)
    first = "{2}" if f.a == 1 else f"{f.a:g} × {{2}}"
    if f.b == 0:
        return Line(x.label, f"{{0}} × {{1}} × ({first} − {-f.c:g} × {{3}})", (area, u, dt, dr), result)
    words = f"{{0}} × {{1}} × ({first} + {{3}} − {-f.c:g} × {{4}})"
    return Line(x.label, words, (area, u, dt, q("difference", f.b, 2), dr), result)


def _explain_glass(job: Job, g: Geometry, c: Conditions, r: Factors, room: int, name: str) -> Arithmetic:
    q = Quantity
    lines: list[Line] = []
    tags = []
    dt, dr = c.cooling_difference_k, c.daily_range_k
    total = 0.0
    for f in g.openings:
        o = job.openings[f.index]
        if f.room != room or o.kind not in ("window", "skylight") or glass_column(f) != name:
            continue
        glazing = next((x for x in job.glazings if x.id == o.glazing), None)
        if glazing is None:
            continue
        i = f.index
        factor = ffs(f.facing_deg, f.tilt_deg)
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
                f"{o.tag} pane",
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
            "area × sun at the peak × SHGC × shade × load factor; sun: "
            f"21 {MONTH_WORDS[c.days[0].month - 1]}, {latitude_words(c.latitude_deg)}, clear sky",
            RLF,
        ),
    )


def explain_heating(job: Job, loads: Loads, room: int) -> Arithmetic:
    """The room's heating load, one line a component."""
    q = Quantity
    lines = []
    for i, name in enumerate(COMPONENTS):
        watts = float(loads.heating_parts[room, i])
        if abs(watts) <= 0.5:
            continue
        result = q("power", watts)
        lines.append(Line(COMPONENT_WORDS[name], "", (), result))
    lines.append(Line("Heating", "", (), q("power", float(loads.heating_w[room])), True))
    said = assumptions(job)
    return Arithmetic(
        "Heating",
        tuple(lines),
        (
            "Each part has its own lines: area × U × (indoor − what lies beyond) on the winter design night; no sun, no gains",
            *((f"{len(said)} parts of the shell are assumed, not looked at",) if said else ()),
        ),
    )
