"""The results of a solve as plain data in SI; documented in `docs/results.md`."""

from __future__ import annotations

from typing import Any

import numpy as np

from murvan import __version__
from murvan.design.circuit import LOADED
from murvan.design.ducts import RunResult
from murvan.design.loads import COMPONENTS
from murvan.design.results import Results, SystemResults
from murvan.design.units import Shared, yearly_cost
from murvan.field.verdict import Verdict
from murvan.model.job import Energy


def results_data(r: Results, v: Verdict) -> dict[str, Any]:
    """Everything `murvan solve --json` writes. Numbers are SI; None stands for what is not known yet."""
    return {
        "murvan": __version__,
        "format": 2,
        "job": {"name": r.job.name, "town": r.job.town, "number": r.job.number},
        "house": _house(r),
        "rooms": _rooms(r),
        "systems": [_system(r, s) for s in r.systems.values()],
        "outdoor_units": [_outdoor(x) for x in r.outdoors.values()],
        "registers": _registers(r, v),
        "duct_runs": [_run(r, x) for x in r.runs.values()],
        "findings": _findings(r),
    }


def _house(r: Results) -> dict[str, Any]:
    return {
        "heating_w": r.loads.house_heating_w,
        "cooling_sensible_w": r.loads.house_sensible_w,
        "cooling_latent_w": r.loads.house_latent_w,
        "floor_area_m2": r.geometry.total_area_m2,
        "volume_m3": r.geometry.total_volume_m3,
        "infiltration_winter_m3_s": r.factors.air.infiltration_winter_m3_s,
        "infiltration_summer_m3_s": r.factors.air.infiltration_summer_m3_s,
        "pressure_pa": r.network.house_pressure_pa if r.network else None,
        "hourly_sensible_w": _rounded(r.loads.house_by_hour_w[r.loads.at(r.loads.house.month)]),
        "peak_hour": r.loads.house.hour if r.job.rooms else None,
        "peak_month": r.loads.house.month if r.job.rooms else None,
        "sum_of_room_peaks_w": float(r.loads.sensible_w.sum()),
        "load_factor_sensible_w": r.factors.house_sensible_w,
        "spaces": [
            {"name": name, "hourly_c": _rounded(r.balance.buffers_c[r.loads.at(r.loads.house.month), k])}
            for k, name in enumerate(r.balance.buffers)
        ],
    }


def _rooms(r: Results) -> list[dict[str, Any]]:
    predicted = r.predicted_m3_s
    return [
        {
            "id": x.id,
            "name": x.name,
            "floor_area_m2": r.geometry.area_m2[i],
            "heating_w": float(r.loads.heating_w[i]),
            "cooling_sensible_w": float(r.loads.sensible_w[i]),
            "cooling_latent_w": float(r.loads.latent_w[i]),
            **_hours(r, i),
            "design_flow_m3_s": float(r.room_m3_s[i]),
            "predicted_flow_m3_s": predicted[x.id] if predicted else None,
            "door_shut_pa": r.network.room_pressure_pa[x.id] if r.network else None,
        }
        for i, x in enumerate(r.job.rooms)
    ]


def _hours(r: Results, i: int) -> dict[str, Any]:
    """The day of the room's own peak by the heat balance, and the load factors' figure beside it."""
    x = r.loads
    m = x.at(int(x.peak_month[i]))
    return {
        "hourly_sensible_w": _rounded(x.rooms_by_hour_w[m, i]),
        "hourly_latent_w": _rounded(x.latent_by_hour_w[i].sum(axis=0)),
        "peak_hour": int(x.peak_hour[i]),
        "peak_month": int(x.peak_month[i]),
        "load_factor_sensible_w": float(r.factors.sensible_w[i]),
        "components": [
            {
                "name": name,
                "heating_w": float(x.heating_parts[i, k]),
                "cooling_w": float(x.sensible_parts[i, k]),
                "latent_w": float(x.latent_parts[i, k]),
            }
            for k, name in enumerate(COMPONENTS)
            if max(abs(x.heating_parts[i, k]), np.abs(x.parts_by_hour_w[:, i, k]).max(), x.latent_parts[i, k]) > 1e-9
        ],
    }


def _rounded(values: Any) -> list[float]:
    return [round(float(x), 3) for x in values]


def _finite(value: float) -> float | None:
    return value if value == value and abs(value) != float("inf") else None


def _system(r: Results, s: SystemResults) -> dict[str, Any]:
    u = s.design
    return {
        "id": u.id,
        "tag": u.indoor.tag,
        "kind": u.indoor.kind,
        "rooms": list(u.serves),
        "heating_w": s.loads.house_heating_w,
        "cooling_sensible_w": s.loads.house_sensible_w,
        "cooling_latent_w": s.loads.house_latent_w,
        "equipment": _equipment(s, r.job.energy),
        "blower": _blower(r, s),
    }


def _outdoor(x: Shared) -> dict[str, Any]:
    """An outdoor unit with several ports."""
    return {
        "id": x.outdoor.id,
        "unit": x.unit.id,
        "indoor": [u.id for u, _ in x.hung],
        "ports": x.ports,
        "connected_share": x.connected_share,
        "cooling_total_w": x.cooling_w,
        "cooling_load_w": x.coincident_w,
        "peaks_w": x.peaks_w,
        "heating_w": x.heating_w,
        "heating_load_w": x.heating_load_w,
        "line_m": x.line_m,
        "extra_charge_kg": x.extra_charge_kg,
    }


def _equipment(s: SystemResults, energy: Energy) -> dict[str, Any] | None:
    x = s.equipment.chosen
    if x is None:
        return None
    return {
        "id": x.unit.id,
        "maker": x.unit.maker,
        "name": x.unit.name,
        "kind": x.unit.kind,
        "cooling_total_w": x.total_w,
        "cooling_sensible_w": x.sensible_w,
        "cooling_latent_w": x.latent_w,
        "heating_w": x.heating_w,
        "total_share": _finite(x.total_share),
        "sensible_share": _finite(x.sensible_share),
        "latent_share": _finite(x.latent_share),
        "heating_share": _finite(x.heating_share),
        "balance_c": x.balance_c,
        "backup_w": x.backup_w,
        "backup_hours": _finite(x.backup_hours),
        "kwh_year": _finite(x.season.electric_kwh),
        "fuel_kwh_year": _finite(x.season.year("fuel_kwh")),
        "cost_year": cost.year if (cost := yearly_cost(x, energy)) is not None else None,
        "verdict": x.verdict,
    }


def _blower(r: Results, s: SystemResults) -> dict[str, Any] | None:
    b = s.blower
    if b is None or s.unit is None or r.network is None:
        return None
    loaded = r.network.layout.at(LOADED)
    return {
        "flow_m3_s": float(b.flow_m3_s[0]),
        "external_static_pa": float(b.external_static_pa[0]),
        "limit_pa": s.unit.blower.limit_pa,
        "power_w": b.power_w,
        "tap": s.design.indoor.tap,
        "design_flow_m3_s": s.airflow.total_m3_s,
        "loaded_filter_flow_m3_s": float(b.flow_m3_s[loaded]),
        "loaded_filter_static_pa": float(b.external_static_pa[loaded]),
        "statics_pa": dict(b.statics_pa),
    }


def _registers(r: Results, v: Verdict) -> list[dict[str, Any]]:
    out = []
    for t in r.terminals.values():
        x = t.register
        mine = v.registers.get(x.id)
        out.append(
            {
                "id": x.id,
                "tag": x.tag,
                "room": x.room,
                "side": x.side,
                "design_flow_m3_s": t.flow_m3_s,
                "predicted_flow_m3_s": r.network.register_m3_s.get(x.id) if r.network else None,
                "measured_flow_m3_s": mine.measured if mine else None,
                "verdict": mine.mark if mine else "none",
                "face_velocity_m_s": t.face_velocity_m_s,
                "throw_m": t.throw_m,
                "pressure_drop_pa": t.pressure_pa,
            }
        )
    return out


def _run(r: Results, x: RunResult) -> dict[str, Any]:
    return {
        "id": x.run.id,
        "tag": x.run.tag,
        "side": x.run.side,
        "parent": x.run.parent,
        "shape": x.run.shape,
        "diameter_m": x.run.diameter_m,
        "width_m": x.run.width_m,
        "height_m": x.run.height_m,
        "material": x.run.material,
        "length_m": x.length_m,
        "flow_m3_s": x.flow_m3_s,
        "predicted_flow_m3_s": r.network.run_m3_s.get(x.run.id) if r.network else None,
        "velocity_m_s": x.velocity_m_s,
        "friction_pa_m": x.friction_pa_m,
        "pressure_drop_pa": x.pressure_drop_pa,
        "path_pa": x.path_pa,
        "damper": x.run.damper,
        "balanced_damper": x.balanced_damper,
    }


def _findings(r: Results) -> list[dict[str, Any]]:
    return [
        {
            "rule": f.rule.id,
            "severity": f.severity,
            "station": f.rule.station,
            "where": {"kind": f.hit.at.kind, "id": f.hit.at.id},
            "text": f.text("si"),
            "measured": f.hit.measured.value if f.hit.measured else None,
            "limit": f.hit.limit.value if f.hit.limit else None,
            "why": f.why,
            "basis": f.rule.basis_text("si"),
            "remedy": f.rule.remedy_text("si"),
        }
        for f in r.findings
    ]
