"""A surveyed sample house made a whole design by Murvan's own tools: unit, registers, ducts, dampers, fresh air."""

from __future__ import annotations

from murvan.design.lay import whole_layouts
from murvan.model import Exhaust, replace, replace_part
from murvan.model.design_edit import with_ventilator
from murvan.model.edit import changed
from murvan.model.job import Job
from murvan.units import CFM


def designed(job: Job, fresh_cfm: float, fans_cfm: dict[str, float]) -> Job:
    """The best layout for the best ducted design that is offered, with fresh air to its return and fans by room."""
    for room, flow in fans_cfm.items():
        job = replace(
            job, "rooms", next(r.id for r in job.rooms if r.name == room), exhaust=Exhaust(flow_m3_s=flow * CFM)
        )
    # joints are sealed with mastic: tight enough for any code
    job = replace_part(job, "air", duct_leakage=0.04)
    job = with_ventilator(job, kind="supply", flow_m3_s=fresh_cfm * CFM)
    done = whole_layouts(job)[0].job
    return changed(done, done.name, options=())
