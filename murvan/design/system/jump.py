"""The jump duct that lets a shut room's air back."""

from __future__ import annotations

from math import pi, sqrt

from murvan.design.system.network import DOOR_CRACKS_M2, Network
from murvan.design.system.passages import Passage, ways
from murvan.design.system.situations import CLEAN
from murvan.model.edit import replace
from murvan.model.house import Transfer
from murvan.model.job import Job
from murvan.physics.ductflow import orifice_constant
from murvan.units import INCH

JUMPS_M = tuple(d * INCH for d in (6, 7, 8, 9, 10, 12, 14, 16, 18, 20))
"""Diameters that are stocked, common practice."""


def jump_for(network: Network, way: Passage, limit_pa: float) -> Transfer | None:
    """A stocked jump duct that keeps a room below `limit_pa` with its door shut; None where none is so large.

    Undercut, cracks and duct side by side at the limit, for the air that comes by with the door open, which is no less
    than comes at the limit: Q = 1.07 A sqrt(dP), cfm and in2, common practice.
    """
    door = way.door
    assert door is not None
    flow = abs(float(network.solution.flow_m3_s[network.layout.at(CLEAN.key), network.layout.door_branch[way.room]]))
    whole = flow / (orifice_constant(1.0) * sqrt(limit_pa))
    extra = whole - way.transfer.undercut_m * door.width_m - DOOR_CRACKS_M2
    area = next((a for d in JUMPS_M if (a := pi * d**2 / 4) >= extra), None)
    return Transfer(kind="jump", area_m2=area, undercut_m=way.transfer.undercut_m) if area is not None else None


def with_jumps(job: Job, network: Network, limit_pa: float) -> tuple[Job, tuple[str, ...]]:
    """The job with a jump duct for every room that stands over `limit_pa` with its door shut, and those rooms' names."""
    home = ways(job).home
    fitted = {
        i: jump
        for i, way in home.items()
        if way.door and abs(network.room_pressure_pa[i]) > limit_pa and (jump := jump_for(network, way, limit_pa))
    }
    for i, jump in fitted.items():
        job = replace(job, "rooms", i, transfer=jump)
    return job, tuple(r.name for r in job.rooms if r.id in fitted)
