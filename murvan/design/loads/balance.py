"""The design day as a heat balance: 24 hours that repeat, every room, every unheated space, every component.

All temperatures count from the room's set point, so room air is 0 and the balance is linear: each component's share of
the load at every hour is exact. Attic, crawl space, basement and garage float: their air temperature is an unknown with an
air-change rate; what comes from there counts to the component of the surface it comes through. What rooms and spaces do
with what acts on them comes from `answers`.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from murvan.arrays import Array
from murvan.design.loads.answers import LINKED, LINKED_COLUMNS, Answers
from murvan.design.loads.balance_rows import Complex, RoomPlace
from murvan.design.loads.components import COLUMN
from murvan.design.loads.gains import PEOPLE_RADIANT, Gains
from murvan.design.loads.outdoor_air import OutdoorAir
from murvan.physics.periodic import HARMONICS, HOURS, harmonics, hourly


@dataclass(frozen=True)
class Balance:
    """Design days worked out, W and deg C by hour 1..24."""

    months: tuple[int, ...]
    """Months looked at, the design month first."""
    parts_w: Array
    """Load on the air, (month, room, component, 24), components in the order of COMPONENTS."""
    buffers: tuple[str, ...]
    """Names of the unheated spaces."""
    buffer_keys: tuple[str, ...]
    """'attic', 'crawl', 'basement', and the ids of garages and porches."""
    buffers_c: Array
    """Air temperature of the unheated spaces, (month, space, 24)."""
    spaces_k: Complex
    """Radiant and air temperature of the unheated spaces over the rooms', (2, month, space, harmonic)."""
    radiant_c: Array
    """Mean radiant temperature of the rooms, (month, room, 24)."""
    admittance_w_k: Complex
    """Heat that each room's air takes per kelvin that it swings, (room, harmonic)."""

    def buffer_c(self, key: str) -> Array | None:
        """Air temperature of one unheated space, (month, 24); None where the house has none such."""
        return self.buffers_c[:, self.buffer_keys.index(key)] if key in self.buffer_keys else None


def balance(answers: Answers, gains: Gains, air: OutdoorAir | None = None) -> Balance:
    """Solve the design days: what surfaces, people and appliances give, rooms and unheated spaces together.

    Args:
        air: outdoor air through leaks and by fans; None: the rooms are tight.
    """
    own, p, b = answers.own, answers.place, answers.between
    parts, radiant = own.load_w.copy(), own.radiant.copy()
    n, months, spaces = len(parts), p.months, len(p.names)
    _add_gains(parts, radiant, answers, gains)
    spaces_k = np.zeros((2, months, spaces, HARMONICS), complex)
    if spaces:
        u = np.linalg.solve(b.matrix, b.right + b.from_rooms @ radiant[b.linked].transpose(2, 0, 1))
        more = (b.to_load @ u).reshape(HARMONICS, len(b.linked), len(LINKED), months)
        parts[np.ix_(b.linked, LINKED_COLUMNS)] += hourly(more.transpose(1, 2, 3, 0))
        radiant[b.linked] += (b.to_radiant @ u).transpose(1, 2, 0)
        spaces_k = u.reshape(HARMONICS, 2, spaces, months).transpose(1, 3, 2, 0)
    if air is not None:
        leaks, fresh = _outdoor_air(p, air)
        parts[:, COLUMN["leakage"]] += leaks
        parts[:, COLUMN["fresh_air"]] += fresh
    return Balance(
        months=tuple(d.month for d in p.c.days),
        parts_w=np.ascontiguousarray(parts.transpose(2, 0, 1, 3)),
        buffers=p.names,
        buffer_keys=p.keys,
        buffers_c=hourly(spaces_k[1]) + p.inside,
        spaces_k=spaces_k,
        radiant_c=hourly(radiant).transpose(1, 0, 2).reshape(months, n, HOURS) + p.inside,
        admittance_w_k=own.admittance_w_k,
    )


def _add_gains(parts: Array, radiant: Complex, a: Answers, gains: Gains) -> None:
    """What people and appliances give off: part of it to the air, part to the faces and with them later."""
    whole = np.array([gains.people_w, gains.things_w])
    shining = np.array([PEOPLE_RADIANT * gains.people_w, gains.things_radiant_w])
    waves = harmonics(shining)
    radiant += (a.own.radiant_k_w * waves.sum(axis=0))[:, None]
    load = hourly(a.own.radiant_to_air * waves) + whole - shining
    for k, component in enumerate(("people", "appliances")):
        parts[:, COLUMN[component]] += load[k][:, None]


def _outdoor_air(p: RoomPlace, air: OutdoorAir) -> Array:
    """Heat of the outdoor air by room, W, (2, room, month, 24): leaks, fresh air."""
    flows = np.array([air.leaks_m3_s(air.summer), air.fresh_m3_s])
    return np.asarray(flows[:, :, None, None] * p.c.sensible_factor * p.outdoor)
