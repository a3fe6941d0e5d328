"""Every combination of zones that call, as JSON in SI."""

from __future__ import annotations

from typing import Any

from murvan.design.results import Results
from murvan.design.zones import ZoneCall


def zones_data(r: Results, calls: tuple[ZoneCall, ...]) -> dict[str, Any]:
    """One entry a combination, all zones first."""
    return {
        "format": "murvan-zones",
        "job": r.job.name,
        "zones": [{"id": z.id, "name": z.name, "rooms": list(z.rooms)} for z in r.job.design.zones],
        "calls": [_call(x) for x in calls],
    }


def _call(x: ZoneCall) -> dict[str, Any]:
    return {
        "zones": list(x.zones),
        "static_pa": x.static_pa,
        "flow_m3_s": x.flow_m3_s,
        "bypass_m3_s": x.bypass_m3_s,
        "tap": x.tap,
        "rooms": [{"id": i, "flow_m3_s": flow, "door_pa": x.door_pa.get(i)} for i, flow in x.rooms_m3_s.items()],
        "registers": [
            {"id": i, "flow_m3_s": t.flow_m3_s, "face_velocity_m_s": t.face_velocity_m_s, "noise_nc": t.noise_nc}
            for i, t in x.faces.items()
        ],
        "coil_leaving_c": x.coil.leaving_c if x.coil is not None else None,
        "coil_leaving_low_c": x.coil.leaving_low_c if x.coil is not None else None,
        "coil_surface_c": x.coil.surface_c if x.coil is not None else None,
        "rise_k": {w.what: w.rise_k for w in x.rises},
        "findings": list(x.findings),
    }
