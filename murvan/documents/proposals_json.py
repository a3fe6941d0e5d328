"""Proposals as JSON, the best first; see `docs/results.md`."""

from __future__ import annotations

from math import isfinite
from typing import Any

from murvan import __version__
from murvan.design.propose import Proposal
from murvan.design.study import DRAWS
from murvan.model.job import Job


def proposals_data(job: Job, found: tuple[Proposal, ...]) -> dict[str, Any]:
    """What `murvan propose` writes; powers in W, energies in kWh, money as the job's prices."""
    return {"murvan": __version__, "job": job.name, "proposals": [_proposal(job, p) for p in found]}


def _proposal(job: Job, p: Proposal) -> dict[str, Any]:
    rooms = []
    for room in job.rooms:
        k = p.serving(room.id)
        unit = None if k is None else p.chosen[k][1].unit.id
        rooms.append({"id": room.id, "unit": unit, "remedy": p.remedies.get(room.id)})
    outdoors = {o.id: o.unit for o in p.design.outdoor_units}
    return {
        "name": p.name,
        "kind": p.kind,
        "units": [
            {
                "unit": x.unit.id,
                "role": place.role,
                "serves": list(place.rooms),
                "outdoor": outdoors.get(u.outdoor or ""),
                "heater_w": x.heater_w,
            }
            for (place, x), u in zip(p.chosen, p.design.indoor_units, strict=True)
        ],
        "circuits": [{"unit": m.id, "mca_a": m.mca_a, "mop_a": m.mop_a} for m in p.circuits],
        "sound_dba": p.sound_dba,
        "bedroom_dba": p.heard.sound_dba if p.heard is not None else None,
        "rooms": rooms,
        "cooling_total_w": p.cooling_w,
        "cooling_total_share": _share(p.cooling_w, p.cooling_load_w),
        "cooling_sensible_w": p.sensible_w,
        "cooling_sensible_share": _share(p.sensible_w, p.sensible_load_w),
        "heating_w": p.heating_w,
        "heating_share": _share(p.heating_w, p.heating_load_w),
        "backup_w": p.backup_w,
        "kwh_year": p.kwh_year if isfinite(p.kwh_year) else None,
        "cost_year": p.cost_year,
        "cost_in": p.cost_in,
        "cost_units": p.units_money,
        "holds": {"houses": p.holds, "of": DRAWS},
        "rooms_drift": list(p.drifting),
        "fails": [{"rule": rule, "text": text} for rule, text in p.fails],
        "ties": list(p.ties),
        "reasons": list(p.reasons),
        "gives_up": list(p.gives_up),
    }


def _share(have: float, need: float) -> float | None:
    return have / need if need > 0 else None
