"""Figures that are asked about before they are kept: out of what an instrument reads, of the wrong sign, in another unit."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from murvan.design.results import Results
from murvan.field.places import Place, places
from murvan.kinds.readings import HOLES, QUANTITIES, READS
from murvan.model.job import AS_FOUND, Job, Reading
from murvan.units import CFM, Units, text

LEAST_PA = 2.0
"""A static so small may lie on either side by how the tube is held."""
FLOW_UNITS = {"cfm": CFM, "L/s": 0.001, "m³/h": 1 / 3600}
"""m3/s of each that hoods show."""
NEAR, LEAST_FLOWS = 0.1, 4
"""So near the flows of a file lie to another unit, in the middle of so many at least."""
FAR = 50.0
"""Times what is predicted, from which a static is in another unit."""


def doubt(place: Place, value: float, units: Units, r: Results | None = None) -> str:
    """What is odd about a figure at a place, in words with the place; '' where nothing is."""
    said = text(QUANTITIES[place.quantity].shown_as, value, units)
    own = READS.get(place.quantity)
    if own is not None and not own.least <= value <= own.most:
        return f"{place.name}: {said} is out of what a {own.name.rstrip(' 1').lower()} reads"
    if place.quantity == "static" and place.hole is not None:
        side = HOLES[place.hole].side
        if value * side < -LEAST_PA:
            meant = "above" if side > 0 else "below"
            return f"{place.name}: {said}; with the blower on it lies {meant} the room's pressure. Is the tube on the other port?"
        known = _static(place, r)
        if (
            known is not None
            and abs(known) > LEAST_PA
            and not 1 / FAR < abs(value / known) < FAR
            and abs(value) > LEAST_PA
        ):
            return f"{place.name}: {said}, {text('pressure3', known, units)} is predicted. Is it in another unit?"
    if place.quantity == "temperature" and not -20 <= value <= 75:
        return f"{place.name}: {said} is no air of a house. Is it in another unit?"
    return ""


def doubts(job: Job, readings: Sequence[Reading], r: Results | None, units: Units) -> dict[str, str]:
    """By reading, what is odd about it; a file whose flows all lie off by one unit is asked about at its first flow."""
    by_place = {x.key[:3]: x for x in places(job).values()}
    out = {}
    for x in readings:
        place = by_place.get((x.at, x.hole, x.quantity))
        words = doubt(place, x.value, units, r if x.state.of_air == AS_FOUND else None) if place is not None else ""
        if words:
            out[x.id] = words
    flows = [x for x in readings if x.quantity == "flow" and x.at.kind == "register" and x.state.of_air == AS_FOUND]
    taken = "L/s" if units == "si" else "cfm"
    unit = _flows_unit(flows, r, taken)
    if unit:
        words = f"{by_place[flows[0].at, None, 'flow'].name} and the other flows: all read as if they were {unit} and not {taken}"
        out.setdefault(flows[0].id, words)
    return out


def _static(place: Place, r: Results | None) -> float | None:
    own = r.systems.get(place.at.id) if r is not None else None
    return own.blower.statics_pa.get(place.hole or "") if own is not None and own.blower is not None else None


def _flows_unit(flows: Sequence[Reading], r: Results | None, taken: str) -> str:
    """The unit that the flows of a file are in where they were taken in another; ''."""
    if r is None or r.network is None:
        return ""
    predicted = r.network.register_m3_s
    ratios = [x.value / predicted[x.at.id] for x in flows if predicted.get(x.at.id, 0.0) > 0]
    if len(ratios) < LEAST_FLOWS:
        return ""
    middle = float(np.median(ratios))
    others = (x for x in FLOW_UNITS if x != taken)
    return next((x for x in others if abs(middle * FLOW_UNITS[x] / FLOW_UNITS[taken] - 1) < NEAR), "")
