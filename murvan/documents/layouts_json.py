"""Duct layouts as JSON, the best first; see `docs/results.md`."""

from __future__ import annotations

from math import isfinite
from typing import Any

from murvan import __version__
from murvan.design.lay import OPEN, Layout
from murvan.design.parts import Cost
from murvan.model.job import Job


def layouts_data(job: Job, found: tuple[Layout, ...], seconds: float) -> dict[str, Any]:
    """What `murvan layout` writes."""
    return {"murvan": __version__, "job": job.name, "layouts": [_layout(x, seconds) for x in found]}


def _layout(x: Layout, seconds: float) -> dict[str, Any]:
    air = x.results.airflow
    predicted = x.results.predicted_m3_s or {}
    served = {r.room for r in x.job.design.registers if r.side == "supply"}
    rooms = [
        {"id": room.id, "design_flow_m3_s": float(air.design_m3_s[k]), "predicted_flow_m3_s": predicted.get(room.id)}
        for k, room in enumerate(x.job.rooms)
    ]
    return {
        "name": x.name,
        "scheme": x.scheme,
        "why": x.why,
        "static_pa": x.static_pa if isfinite(x.static_pa) else None,
        "limit_pa": x.limit_pa,
        "metal_m2": x.metal_m2,
        "flex_m": x.flex_m,
        "fittings": x.fittings,
        "heat_w": x.heat_w,
        "loudest_nc": x.loudest_nc,
        "taken_m2": x.taken_m2,
        "price": x.price.money,
        "priced": priced_data(x.price),
        "clashes": x.clashes,
        "dampers_open": sum(
            r.damper is not None and r.damper >= OPEN for r in x.job.design.runs if r.side == "supply"
        ),
        "findings": [{"rule": f.rule.id, "severity": f.severity, "text": f.text("si")} for f in x.results.findings],
        "systems": [_system(x, s.id) for s in x.job.design.indoor_units if s.kind == "ducted"],
        "rooms": rooms,
        "unreached": [
            *({"room": room, "reason": reason} for room, reason in x.unreached),
            *(
                {"room": r.id, "reason": "needs so little air that the rooms beside it serve it"}
                for r in x.job.rooms
                if r.id not in served
            ),
        ],
        "seconds": seconds,
    }


def priced_data(x: Cost) -> dict[str, Any]:
    """What is paid for, a line a price: quantity by `per`, material in money, labour in hours."""
    lines = [
        {"id": p.price.id, "per": p.price.per, "quantity": p.quantity, "material": p.material, "hours": p.hours}
        for p in x.lines
    ]
    return {"material": x.material, "hours": x.hours, "money_per_hour": x.hour, "lines": lines}


def _system(x: Layout, unit: str) -> dict[str, Any]:
    """One ducted unit of a layout."""
    s = x.results.systems[unit]
    static = float(s.blower.external_static_pa[0]) if s.blower is not None else None
    supplies = [r for r in x.job.design.runs if r.indoor == unit and r.side == "supply"]
    return {
        "id": unit,
        "tag": s.design.indoor.tag,
        "static_pa": static,
        "limit_pa": s.unit.blower.limit_pa if s.unit is not None else None,
        "dampers_open": sum(r.damper is not None and r.damper >= OPEN for r in supplies),
        "registers": sum(r.register_id is not None for r in supplies),
    }
