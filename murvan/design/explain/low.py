"""What keeps a house's loads low without anyone having looked: air that is not entered, a share of ducts that was typed."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from murvan.design.arithmetic import Line, Quantity
from murvan.design.ducts.airflow import fresh_air_wanted
from murvan.design.results import Results

Q = Quantity
LEAST_SHARE = 0.03
"""A share of ducts nearer to the usual one than this is not worth a word; Murvan default."""


def keeps_low(r: Results) -> tuple[Line, ...]:
    """Each with its figures, and what the sensible cooling would be more; nothing where nothing does."""
    return (*_no_fresh_air(r), *_typed_ducts(r))


def _no_fresh_air(r: Results) -> Iterator[Line]:
    job, c = r.job, r.conditions
    if not job.rooms or any(v.kind != "none" and v.flow_m3_s > 0 for v in job.design.ventilators):
        return
    want = fresh_air_wanted(job, r.geometry.total_area_m2)
    over = max(c.outdoor_summer.temperature_c - c.indoor_cooling.temperature_c, 0.0)
    operands = (Q("air_factor", c.sensible_factor), Q("flow", want), Q("difference", over))
    yield Line(
        "No ventilation entered", "{0} × {1} wanted × {2}", operands, Q("power", c.sensible_factor * want * over)
    )


def _typed_ducts(r: Results) -> Iterator[Line]:
    said, ld, heat = r.job.design.air.duct_allowance, r.loads, r.duct_heat
    if said is None or not r.job.rooms:
        return
    m, h = ld.at(ld.house.month), ld.house.hour - 1
    without = ~heat.by_run & (heat.usual_cooling[m, :, h] > said + LEAST_SHARE)
    if not without.any():
        return
    before = float(ld.parts_by_hour_w[m, without, :, h].sum()) / (1 + said)
    usual = float(np.average(heat.usual_cooling[m, without, h]))
    operands = (Q("power", before), Q("percent", usual, 1), Q("percent", said, 1))
    words = "{0} × ({1} usual here − {2} typed)"
    yield Line("Typed allowance for ducts", words, operands, Q("power", before * (usual - said)))
