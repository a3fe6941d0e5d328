"""Heating in figures: every piece of the shell, every opening, the leaks and the rest of one room's loss."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.components import COLUMN, COMPONENT_WORDS
from murvan.design.load_factors import glass_column
from murvan.design.setback import UP
from murvan.design.surfaces import Surface

if TYPE_CHECKING:
    from murvan.design.solve import Results

Q = Quantity


def explain_heating_part(r: Results, room: int, name: str) -> Arithmetic:
    """How one component of one room's heating came about."""
    total = float(r.loads.heating_parts[room, COLUMN[name]])
    lines = list(_lines(r, room, name))
    label = COMPONENT_WORDS[name]
    lines.append(Line(label, "", (), Q("power", total), True))
    return Arithmetic(f"{label}, heating", tuple(lines), _sources(r, name))


def _lines(r: Results, room: int, name: str) -> Iterator[Line]:
    if name in ("walls", "ceiling", "floor", "garage"):
        for s in r.factors.surfaces:
            if s.room == room and s.component == name and abs(s.heating_w) > 0.05:
                yield _piece(s)
    elif name.startswith("glass") or name == "doors":
        yield from _openings(r, room, name)
    elif name == "leakage":
        yield from _leaks(r, room)
    elif name == "fresh_air":
        yield from _fresh(r, room)
    elif name == "ducts":
        yield from _ducts(r, room)
    elif name == "recovery":
        plan = r.job.design_day
        operands = (Q("difference", plan.setback_k), Q("hours", plan.recovery_h))
        power = float(r.loads.heating_parts[room, COLUMN["recovery"]])
        yield Line("while it comes up", f"{{0}} back within {{1}} h from {UP}:00", operands, Q("power", power))


def _piece(s: Surface) -> Line:
    dt, watts = Q("difference", s.heat_k), Q("power", s.heating_w)
    if s.kind == "slab edge":
        return Line(s.label, "{0} × {1} × {2}", (Q("length", s.area_m2), Q("edge_f", s.u_w_m2k), dt), watts)
    return Line(s.label, "{0} × {1} × {2}", (Q("area", s.area_m2), Q("u_factor", s.u_w_m2k), dt), watts)


def _openings(r: Results, room: int, name: str) -> Iterator[Line]:
    c, job = r.conditions, r.job
    for f in r.geometry.openings:
        o = job.openings[f.index]
        door = o.kind == "door"
        if (
            f.room != room
            or o.kind == "archway"
            or door != (name == "doors")
            or (not door and glass_column(f) != name)
        ):
            continue
        u = float(r.factors.glass.u[f.index])
        to_garage = door and f.other == "garage"
        dt = c.indoor_heating.temperature_c - r.factors.garage_winter_c if to_garage else c.heating_difference_k
        operands = (Q("area", f.area_m2, 1), Q("u_factor", u, 2), Q("difference", dt))
        yield Line(o.tag, "{0} × {1} × {2}", operands, Q("power", f.area_m2 * u * dt))


def _leaks(r: Results, room: int) -> Iterator[Line]:
    c, air = r.conditions, r.factors.air
    total = float(r.factors.heating_parts[room, COLUMN["leakage"]])
    k, dt = c.sensible_factor, c.heating_difference_k
    flow = total / (k * dt) if dt else 0.0
    whole = float(r.factors.heating_parts[:, COLUMN["leakage"]].sum()) / (k * dt) if dt else 0.0
    yield Line(
        "leakage area",
        "of {0} at 50 Pa, taken at 4 Pa",
        (Q("per_hour", r.job.leakage.ach50),),
        Q("small_area", air.leakage_area_cm2 / 1e4),
    )
    yield Line(
        "house",
        "area × √(stack × {0} + wind × {1}²)",
        (Q("difference", dt), Q("wind", r.job.climate.wind_winter_m_s)),
        Q("flow", air.infiltration_winter_m3_s),
    )
    if whole > air.infiltration_winter_m3_s * 1.001:
        yield Line("with exhaust or supply", "larger of both, or leaks + half", (), Q("flow", whole))
    share = Q("percent", flow / whole if whole else 0.0)
    yield Line("this room, by outside wall", "{0} × {1}", (share, Q("flow", whole)), Q("flow", flow, 1))
    operands = (Q("air_factor", k), Q("flow", flow, 1), Q("difference", dt))
    yield Line("heat", "{0} × {1} × {2}", operands, Q("power", total))


def _fresh(r: Results, room: int) -> Iterator[Line]:
    c, total = r.conditions, float(r.factors.heating_parts[room, COLUMN["fresh_air"]])
    left = 1 - r.job.ventilation.sensible_recovery
    bottom = c.sensible_factor * c.heating_difference_k * left
    flow = total / bottom if bottom else 0.0
    operands = (Q("air_factor", c.sensible_factor), Q("flow", flow, 1), Q("difference", c.heating_difference_k))
    yield Line("heat", "{0} × {1} × {2} × {3}", (*operands, Q("decimal", left)), Q("power", total))


def _ducts(r: Results, room: int) -> Iterator[Line]:
    total = float(r.loads.heating_parts[room, COLUMN["ducts"]])
    before, share = float(r.loads.heating_parts[room].sum()) - total, float(r.duct_heat.heating[room])
    if not r.duct_heat.by_run[room]:
        yield Line("allowance", "{0} × {1}", (Q("power", before), Q("percent", share)), Q("power", total))
        return
    for x in r.job.registers:
        if x.room == r.job.rooms[room].id and x.id in r.duct_heat.delivered_warm_c:
            yield Line(f"air at {x.tag}", "", (), Q("temperature", r.duct_heat.delivered_warm_c[x.id], 1))
    reaches = Q("percent", 1 / (1 + share))
    yield Line("reaches the room", "of what the unit gives its air", (), reaches)
    yield Line("more", "{0} ÷ {1} − {0}", (Q("power", before), reaches), Q("power", total))


def _sources(r: Results, name: str) -> tuple[str, ...]:
    if name == "leakage":
        return (
            "Q = A √(Cs ΔT + Cw V²), ASHRAE ch. 16, coefficients from memory; "
            f"{r.job.site.shielding} shielding, {len({x.storey for x in r.job.rooms})} storeys",
        )
    if name == "fresh_air":
        kind = r.job.ventilation.kind.upper()
        return (f"{kind} recovers {r.job.ventilation.sensible_recovery * 100:.0f} %; shared by floor area",)
    if name == "recovery":
        return (
            "From the admittance of the room's own surfaces (ISO 13786); hours of going down and up common practice",
        )
    if name == "ducts":
        return ("T2 = Ta + (T1 − Ta) exp(−UPL ÷ m cp) along every run; ASHRAE 152",)
    return ("Area × U × (indoor − what lies beyond) on the winter design night; no sun, no gains",)
