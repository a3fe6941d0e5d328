"""What it costs to put a design in, by the job's book of prices: units set, lines, circuits, heaters, and ducts in outline while
none are drawn."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from math import ceil

from murvan.design.parts import Cost, PriceLine, duct_cost
from murvan.design.results import Results, SystemResults
from murvan.kinds.prices import PRICES
from murvan.model.prices import PriceBook

PER_FACE = {
    "galvanised": 24.7,
    "flex": 1.3,
    "fitting": 4.6,
    "damper": 0.95,
    "register": 1.0,
    "wrap": 2.2,
    "hanger": 3.9,
    "sealer": 0.3,
    "screws": 0.7,
    "framing": 0.15,
}
"""What a register or grille takes with its part of the ducts: mean of the layouts of seven drawn houses; Murvan default."""
FACE_M3_S = 0.061
"""Air of a register; more is shared out. Common practice."""
PARTS = 5
"""Canvas, drain, switch, filter rack and stand of a ducted unit."""


def installed(r: Results) -> Cost:
    """Material and labour of a design beside the units themselves; a house in zones has a thermostat each, and dampers."""
    job, book = r.job, r.job.prices
    zones = len(job.design.zones) if len(job.design.zones) > 1 else 0
    counts: dict[str, float] = defaultdict(float)
    drawn: list[PriceLine] = []
    for s in (s for s in r.systems.values() if s.equipment.chosen is not None):
        ducted = s.design.indoor.kind == "ducted"
        counts["indoor" if ducted else "head"] += 1
        counts["line_set"] += s.design.line.length_m
        counts["heater"] += s.design.indoor.room_heat_w / 1000
        counts["circuit"] += (s.design.indoor.heater_kw > 0) + (s.design.indoor.room_heat_w > 0)
        if ducted:
            _add(counts, {"part": PARTS, "thermostat": max(zones, 1)})
            if s.design.runs:
                drawn += duct_cost(s.cuts.pieces, book).lines
            else:
                faces = _faces(s)
                _add(counts, {k: v * faces for k, v in PER_FACE.items()})
                _add(counts, {"zone_damper": zones + 1, "zone_panel": 1} if zones > 1 else {})
    outdoors = sum(u.unit is not None or bool(_hung(r, u.id)) for u in job.design.outdoor_units)
    _add(counts, {"outdoor": outdoors, "circuit": outdoors})
    if job.energy.present != "unknown" and all(u.heat_share == 1 for u in job.design.indoor_units):
        counts["removal"] += 1
    return _together(counts, drawn, book)


def _add(counts: dict[str, float], more: Mapping[str, float]) -> None:
    for kind, quantity in more.items():
        counts[kind] += quantity


def _hung(r: Results, outdoor: str) -> bool:
    return any(u.outdoor == outdoor for u in r.job.design.indoor_units)


def _faces(s: SystemResults) -> int:
    """Registers and grilles that a unit will have."""
    air = [float(q) for q, served in zip(s.airflow.design_m3_s, s.airflow.served, strict=True) if served]
    storeys = {room.storey for room, served in zip(s.design.rooms, s.airflow.served, strict=True) if served}
    return sum(max(ceil(q / FACE_M3_S), 1) for q in air if q > 0) + len(storeys)


def _together(counts: dict[str, float], drawn: list[PriceLine], book: PriceBook) -> Cost:
    for x in drawn:
        counts[x.price.id] += x.quantity
    return Cost(tuple(PriceLine(book.of(k), counts[k]) for k in PRICES if counts.get(k, 0.0) > 0), book.hour)
