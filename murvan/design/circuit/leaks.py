"""Leaks in the air circuit: of ducts to where they lie, of the shell by storey and side, driven by stack and wind."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from murvan.arrays import Array
from murvan.design.circuit.situations import Situation
from murvan.design.ducts import runs as duct
from murvan.design.house.geometry import Geometry
from murvan.design.house.passages import halls
from murvan.design.units.unit_design import UnitDesign
from murvan.model.house import floor_heights
from murvan.model.job import Job
from murvan.model.routes import LaidRun
from murvan.physics.heat import LEAK_EXPONENT

OUTDOORS = -1
DUCT_TEST_PA = 25.0
"""Pressure at which the leakage of ducts is told; the usual duct test."""
GRAVITY = 9.80665
EVENLY = (0.2113, 0.7887)
"""Heights, as a share of the wall's, where two leaks carry what leaks evenly up it (Gauss)."""
SHELTER = {"exposed": 0.9, "typical": 0.6, "sheltered": 0.35}
"""Wind at the walls over that of the open country; common practice."""


class DuctLeak(NamedTuple):
    """A leak of a run."""

    run: LaidRun
    to: str | None
    """The room it leaks to or from; None: outside the heated shell."""
    c: float
    """m3/s at 1 Pa."""


def duct_leaks(job: Job, u: UnitDesign, total_m3_s: float) -> Iterator[DuctLeak]:
    """The leaks of a unit's runs: half of the share on each side, by surface, at the test pressure."""
    share = u.air.duct_leakage / 2
    if share <= 0:
        return
    hub = halls(job)
    first = {r.storey: r.id for r in reversed(job.rooms)}
    room_of = {x.id: x.room for x in u.registers}
    surface = {r.id: duct.run_perimeter_m(r) * max(duct.run_length_m(r), 0.05) for r in u.runs}
    for side in ("supply", "return"):
        own = [r for r in u.runs if r.side == side]
        whole = sum(surface[r.id] for r in own)
        for r in own:
            to = None
            if r.lies_in == "inside":
                to = room_of.get(r.register_id or "") or hub.get(r.storey) or first.get(r.storey)
            yield DuctLeak(r, to, share * total_m3_s * surface[r.id] / whole / DUCT_TEST_PA**LEAK_EXPONENT)


class ShellLeak(NamedTuple):
    """A leak of a room's shell."""

    room: str
    c: float
    """m3/s at 1 Pa."""
    height_m: float
    """Over the ground."""
    facing_deg: float | None
    """Where its wall looks; None: it stands for all of them."""


def shell_leaks(job: Job, g: Geometry, weather: bool) -> Iterator[ShellLeak]:
    """The leaks of all rooms, by exposed wall and a little by floor area.

    Args:
        weather: Whether stack and wind act, so that heights and sides count; else one leak a room.
    """
    flow50 = job.leakage.ach50 * g.total_volume_m3 / 3600
    wall = np.array(g.exposed_wall_m2) + 0.05 * np.array(g.area_m2)
    c = wall / wall.sum() * flow50 / 50**LEAK_EXPONENT
    floor = floor_heights(job.storeys)
    for i, r in enumerate(job.rooms):
        if not weather:
            yield ShellLeak(r.id, float(c[i]), floor[r.storey], None)
            continue
        sides: dict[float, float] = {}
        for part in g.walls:
            if part.room == i and part.other == "outdoors":
                sides[part.facing_deg] = sides.get(part.facing_deg, 0.0) + part.net_area_m2
        whole = sum(sides.values())
        for up in EVENLY:
            z = floor[r.storey] + up * float(g.height_m[i])
            if whole <= 0:
                yield ShellLeak(r.id, float(c[i]) / 2, z, None)
            for facing, area in sides.items():
                yield ShellLeak(r.id, float(c[i]) / 2 * area / whole, z, facing)


def weather_pa(job: Job, leaks: list[ShellLeak], state: Situation, density: float) -> Array:
    """What stack and wind press outwards along each leak, Pa: the room's air over the outdoors at the leak's height.

    The indoor column is the same for all rooms and falls out; the outdoor one is lighter or heavier by its temperature.
    """
    out = np.zeros(len(leaks))
    if state.outdoor_c is not None:
        inside = job.indoor.heating_c if state.outdoor_c < job.indoor.heating_c else job.indoor.cooling_c
        lighter = density * 293.15 * (1 / (273.15 + state.outdoor_c) - 1 / (273.15 + inside))
        out += lighter * GRAVITY * np.array([x.height_m for x in leaks])
    if state.wind_m_s > 0:
        at = state.wind_m_s * SHELTER.get(job.site.shielding, SHELTER["typical"])
        facing = np.array([np.nan if x.facing_deg is None else x.facing_deg for x in leaks])
        out -= 0.5 * density * at**2 * wind_coefficient(facing - state.wind_from_deg)
    return out


def wind_coefficient(off_deg: Array) -> Array:
    """Pressure coefficient of a low wall by the angle between its outward look and where the wind comes from, degrees; the
    mean over a wall about as long as the house is deep (Swami and Chandra, from memory). NaN: all walls together, -0.2."""
    a = np.radians(np.abs((np.asarray(off_deg, float) + 180) % 360 - 180))
    half = a / 2
    inner = 1.248 - 0.703 * np.sin(half) - 1.175 * np.sin(a) ** 2 + 0.769 * np.cos(half) + 0.717 * np.cos(half) ** 2
    return np.where(np.isnan(a), -0.2, 0.6 * np.log(np.where(np.isnan(a), 1.0, inner)))
