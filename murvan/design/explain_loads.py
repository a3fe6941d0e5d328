"""How heating, and cooling by load factors, came about: the arithmetic of a room's components, line by line."""

from __future__ import annotations

from dataclasses import replace

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.components import (
    COLUMN,
    COMPONENT_WORDS,
    COMPONENTS,
    GAIN_AREA_W_M2,
    GAIN_PERSON_W,
    LATENT_PERSON_W,
)
from murvan.design.conditions import Conditions
from murvan.design.geometry import Geometry
from murvan.design.load_factors import FENESTRATION_DAILY, RLF, Factors, ffs, glass_column
from murvan.design.loads import Loads
from murvan.design.makeups import assumptions
from murvan.design.second_opinion import ALIKE, Apart
from murvan.design.surfaces import Surface
from murvan.model.job import Job


def explain_factors(
    job: Job, g: Geometry, c: Conditions, r: Factors, room: int, name: str, apart: Apart | None = None
) -> Arithmetic:
    """How one component of one room's cooling by load factors came about, and why it differs from the balance."""
    a = _explain(job, g, c, r, room, name)
    if apart is None or abs(apart.share) <= ALIKE:
        return a
    side = "below" if apart.share > 0 else "above"
    told = Line(
        "",
        f"The room is {{0}} {side} the heat balance, {{1}} of it by {COMPONENT_WORDS[apart.component].lower()}. {apart.why}",
        (Quantity("percent", abs(apart.share)), Quantity("power", abs(apart.difference_w))),
        None,
    )
    return replace(a, title=f"{a.title}, by load factors", sources=(*a.sources, told))


def _explain(job: Job, g: Geometry, c: Conditions, r: Factors, room: int, name: str) -> Arithmetic:
    if name.startswith("glass_"):
        return _explain_glass(job, g, c, r, room, name)
    col = COLUMN[name]
    total = Quantity("power", float(r.sensible_parts[room, col]))
    label = COMPONENT_WORDS[name]
    q = Quantity
    if name in ("walls", "garage", "ceiling", "floor"):
        return _explain_surfaces(job, c, r, room, name, total)
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
        share = q("percent", total.value / before if before else 0.0)
        line = Line(label, "{0} × {1}", (q("power", before), share), total, True)
        return Arithmetic(
            label, (line,), ("What ducts add at the hottest hour, by run, or the allowance without runs",)
        )
    return Arithmetic(label, (Line(label, "", (), total, True),), (RLF,))


def _explain_surfaces(job: Job, c: Conditions, r: Factors, room: int, name: str, total: Quantity) -> Arithmetic:
    """Cooling through each opaque piece: area × U × the difference that acts on it."""
    mine = [x for x in r.surfaces if x.room == room and x.component == name and abs(x.cooling_w) > 0.05]
    lines = tuple(_surface_line(c, x) for x in mine)
    assumed = {x.name for x in job.constructions if x.assumed and x.id in {s.construction for s in mine}}
    sources = (RLF, *(f"Assumed by age, not looked at: {n}" for n in sorted(assumed)))
    return Arithmetic(COMPONENT_WORDS[name], (*lines, Line(COMPONENT_WORDS[name], "", (), total, True)), sources)


def _surface_line(c: Conditions, x: Surface) -> Line:
    q = Quantity
    result = q("power", x.cooling_w)
    if x.kind == "slab":
        return Line(x.label, "{0} × {1}", (q("area", x.area_m2), q("power_per_area", x.u_w_m2k)), result)
    area, u = q("area", x.area_m2), q("u_factor", x.u_w_m2k)
    if x.kind in ("garage", "garage floor"):
        return Line(x.label, "{0} × {1} × {2}", (area, u, q("difference", x.cool_k)), result)
    f = x.cool
    dt, dr = q("difference", c.cooling_difference_k), q("difference", c.daily_range_k)
    first = "{2}" if f.a == 1 else f"{f.a:g} × {{2}}"
    if f.b == 0:
        return Line(x.label, f"{{0}} × {{1}} × ({first} − {-f.c:g} × {{3}})", (area, u, dt, dr), result)
    words = f"{{0}} × {{1}} × ({first} + {{3}} − {-f.c:g} × {{4}})"
    return Line(x.label, words, (area, u, dt, q("difference", f.b), dr), result)


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
            f"area × sun at the peak × sun factor × blinds × load factor; sun: 21 July, {c.latitude_deg:.0f}° N, clear sky",
            RLF,
        ),
    )


def _explain_air(job: Job, c: Conditions, r: Factors, room: int, name: str, total: Quantity) -> Arithmetic:
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
        source = f"{job.ventilation.kind.upper()} recovers {job.ventilation.sensible_recovery * 100:.0f} %; shared by floor area"
    return Arithmetic(COMPONENT_WORDS[name], tuple(lines), (source,))


def explain_heating(job: Job, c: Conditions, r: Loads, room: int) -> Arithmetic:
    """The room's heating load, one line a component."""
    q = Quantity
    lines = []
    for i, name in enumerate(COMPONENTS):
        watts = float(r.heating_parts[room, i])
        if abs(watts) <= 0.5:
            continue
        result = q("power", watts)
        if name in ("ducts", "recovery"):
            lines.append(Line(COMPONENT_WORDS[name], "", (), result))
            continue
        dt = c.heating_difference_k
        operands = (q("ua", watts / dt if dt else 0.0), q("difference", dt))
        lines.append(Line(COMPONENT_WORDS[name], "{0} × {1}", operands, result))
    lines.append(Line("Heating", "", (), q("power", float(r.heating_w[room])), True))
    said = assumptions(job)
    return Arithmetic(
        "Heating",
        tuple(lines),
        (
            "Loss per degree × (indoor − winter design); no sun, no gains",
            *((f"{len(said)} parts of the shell are assumed, not looked at",) if said else ()),
        ),
    )
