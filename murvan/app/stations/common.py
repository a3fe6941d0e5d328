"""Small things several stations share."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from PyQt6.QtGui import QColor

from murvan.app.plan.lens import Legend
from murvan.app.stations.base import View
from murvan.app.theme import Theme
from murvan.model.design_edit import zone_of
from murvan.units import number

FT2_W = 3.154590745
"""W/m2 in one Btu/h ft2."""
COOL_STEPS = tuple(x * FT2_W for x in (5, 8, 11, 15))
HEAT_STEPS = tuple(x * FT2_W for x in (12, 17, 22, 27))


def on_storey(view: View) -> list[tuple[int, Any]]:
    """(index, room) of the storey shown."""
    return [(i, r) for i, r in enumerate(view.job.rooms) if r.storey == view.storey]


def step_fill(t: Theme, value: float, steps: Sequence[float], family: str) -> QColor:
    """One of five shades."""
    k = sum(value >= s for s in steps)
    return t(f"{family}{k}")


def step_legend(view: View, steps: Sequence[float], family: str) -> tuple[Legend, ...]:
    """Legend of the five shades with the values between them."""
    return (Legend("ramp", family, "|".join(number("flux", s, view.units, 0) for s in steps)),)


def per_kelvin(watts: float, difference_k: float) -> float:
    """Loss per degree; no number where indoors is as warm as the winter design."""
    return watts / difference_k if difference_k > 0.1 else math.nan


def zone_words(view: View, room_id: str) -> str:
    """'zone 1', or 'zone –'."""
    return f"zone {zone_of(view.job.design, room_id) or '–'}"


def all_heads(view: View) -> bool:
    """Whether the design has heads alone, and they are picked."""
    units = view.job.design.indoor_units
    return bool(units) and all(u.kind != "ducted" and u.unit is not None for u in units)


def room_mark(view: View, room_id: str, station: int) -> str:
    """The worst finding of a room at a station."""
    mine = (
        {x.id for x in view.job.design.registers if x.room == room_id}
        | {room_id}
        | {o.id for o in view.job.openings if o.room == room_id}
    )
    mine |= {r.id for r in view.job.design.runs if r.register_id in mine}
    severities = {f.severity for f in view.r.findings if f.rule.station == station and f.hit.at.id in mine}
    return "fails" if "fails" in severities else "look" if "look" in severities else "good"


def unjudged(mark: str) -> str:
    """The mark of what nothing was judged of: no pass."""
    return "none" if mark == "good" else mark
