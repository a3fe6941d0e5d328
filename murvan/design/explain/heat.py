"""Heating in figures: every piece of the shell, every opening, the leaks and the rest of one room's loss."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.explain.day import AIR_TOGETHER, REST_W, not_accounted, reaches_lines
from murvan.design.explain.leaks import leak_lines, leak_source
from murvan.design.house.surfaces import Surface
from murvan.design.loads.components import COLUMN, COMPONENT_WORDS
from murvan.design.loads.factors import glass_column
from murvan.design.loads.setback import UP
from murvan.design.results import Results

Q = Quantity


def explain_heating_part(results: Results, room: int, name: str) -> Arithmetic:
    """How one component of one room's heating came about."""
    total = float(results.loads.heating_parts[room, COLUMN[name]])
    lines = list(_lines(results, room, name))
    label = COMPONENT_WORDS[name]
    lines.extend(not_accounted(lines, total))
    lines.append(Line(label, "", (), Q("power", total), True))
    return Arithmetic(f"{label}, heating", tuple(lines), _sources(results, name))


def _lines(r: Results, room: int, name: str) -> Iterator[Line]:
    if name in ("walls", "ceiling", "floor", "garage"):
        for s in r.factors.surfaces:
            if s.room == room and s.component == name and abs(s.heating_w) > REST_W:
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
        dt = (
            c.indoor_heating.temperature_c - r.factors.spaces.winter(f.neighbour)
            if to_garage
            else c.heating_difference_k
        )
        operands = (Q("area", f.area_m2, 1), Q("u_factor", u, 2), Q("difference", dt))
        yield Line(o.tag, "{0} × {1} × {2}", operands, Q("power", f.area_m2 * u * dt))


def _leaks(r: Results, room: int) -> Iterator[Line]:
    yield from leak_lines(r, room, True)
    air = r.factors.air
    yield _carried(r, "heat", float(air.leaks_m3_s(air.winter)[room]))


def _carried(r: Results, label: str, flow_m3_s: float, left: float = 1.0) -> Line:
    k, dt = r.conditions.sensible_factor, r.conditions.heating_difference_k
    operands = (Q("air_factor", k), Q("flow", flow_m3_s, 2), Q("difference", dt), Q("decimal", left))
    words = "{0} × {1} × {2}" + (" × {3} not recovered" if left != 1 else "")
    return Line(label, words, operands[: 3 if left == 1 else 4], Q("power", k * flow_m3_s * dt * left))


def _fresh(r: Results, room: int) -> Iterator[Line]:
    air = r.factors.air
    if air.fans.recovered > 0:
        left = 1 - air.exchanger.sensible
        yield _carried(r, air.exchanger.word, float(air.recovered_m3_s[room]), left)
    if air.fans.blown_in > 0:
        yield _carried(r, "blown in", float(air.floor_share[room] * air.fans.blown_in))
    if air.fans.through_shell > 0:
        yield _carried(r, "drawn in by exhaust", float(air.leak_share[room] * air.fans.through_shell))


def _ducts(r: Results, room: int) -> Iterator[Line]:
    share = float(r.duct_heat.heating[room])
    before = float(np.delete(r.loads.heating_parts[room], COLUMN["ducts"]).sum())
    total = float(r.loads.heating_parts[room, COLUMN["ducts"]])
    if not r.duct_heat.by_run[room]:
        yield Line("allowance", "{0} × {1}", (Q("power", before), Q("percent", share, 2)), Q("power", total))
        return
    yield from reaches_lines(r, room, -1)
    reaches = Q("percent", 1 / (1 + share), 2)
    yield Line("more", "{0} ÷ {1} − {0}", (Q("power", before), reaches), Q("power", total))


def _sources(r: Results, name: str) -> tuple[str, ...]:
    if name == "leakage":
        return (leak_source(r), AIR_TOGETHER)
    if name == "fresh_air":
        back = r.factors.air.exchanger
        recovers = f"{back.word} recovers {back.sensible * 100:.0f} %; shared by floor area"
        return (*((recovers,) if r.factors.air.fans.recovered > 0 else ()), AIR_TOGETHER)
    if name == "recovery":
        return (
            "From the admittance of the room's own surfaces (ISO 13786); hours of going down and up common practice",
        )
    if name == "ducts":
        return ("T2 = Ta + (T1 − Ta) exp(−UPL ÷ m cp) along every run; ASHRAE 152",)
    return ("Area × U × (indoor − what lies beyond) on the winter design night; no sun, no gains",)
