"""What readings prove of the units, as schedules: capacity at the air, and charge."""

from __future__ import annotations

from murvan.documents.schedules import Cell, Schedule
from murvan.field.charge import CAUTION
from murvan.field.proven import Proven
from murvan.units import Units, text

CAPACITY_NOTE = "Air enthalpy method; the doubt of flow and bulbs carried through. At design: short by the same share, with the electric heat that is fitted."
CHARGE_NOTE = f"{CAUTION} Superheat over the dew point, subcooling under the bubble point, by CoolProp."
STATES = {"good": "good", "look": "to look at", "fails": "fails", "none": "not judged"}


def capacity_schedule(x: Proven) -> Schedule:
    """By unit and season."""
    rows: list[tuple[Cell, ...]] = []
    for p in x.proofs:
        rows.append(
            (
                p.tag,
                "cooling" if p.cools else "heating",
                "total" if p.total else "sensible",
                p.state.outdoor_c,
                p.flow.m3_s,
                p.flow.by,
                p.back_c,
                p.out_c,
                p.delivered_w,
                p.expected_w,
                None if p.share is None else p.share,
                None if p.enough is None else p.enough,
                STATES[p.mark] + (", simulated" if p.simulated else ""),
            )
        )
    columns = (
        *(("Unit", "text"), ("Season", "text"), ("Heat", "text"), ("Outdoors", "temperature"), ("Air", "flow")),
        *(("Read at", "text"), ("Return", "temperature1"), ("Supply", "temperature1"), ("Delivers", "power")),
        *(("By its table", "power"), ("Of it", "percent"), ("Of the load", "percent"), ("It is", "text")),
    )
    return Schedule("capacity", "Capacity proven", columns, tuple(rows))


def charge_schedule(x: Proven) -> Schedule:
    """By unit."""
    rows: list[tuple[Cell, ...]] = []
    for c in x.charges:
        rows.append(
            (
                c.tag,
                c.refrigerant,
                "valve" if c.valve else "fixed orifice",
                c.saturated[0],
                c.lines_c[0],
                c.superheat_k,
                c.wanted_superheat_k,
                c.saturated[1],
                c.lines_c[1],
                c.subcooling_k,
                c.wanted_subcooling_k,
                c.says + (", simulated" if c.simulated else ""),
            )
        )
    columns = (
        *(("Unit", "text"), ("Refrigerant", "text"), ("Metering", "text"), ("Dew point", "temperature1")),
        *(("Vapour line", "temperature1"), ("Superheat", "difference"), ("wanted", "difference")),
        *(("Bubble point", "temperature1"), ("Liquid line", "temperature1"), ("Subcooling", "difference")),
        *(("wanted", "difference"), ("It says", "text")),
    )
    return Schedule("charge", "Charge", columns, tuple(rows))


def record_schedule(x: Proven, units: Units) -> Schedule:
    """Combustion, pressure hold and vacuum, as read."""
    rows = tuple(
        (
            c.tag,
            c.what,
            ", ".join(text(kind, v, units) for kind, v in c.figures),
            STATES[c.mark],
            c.says + (", simulated" if c.simulated else ""),
        )
        for c in x.records
    )
    columns = (("Unit", "text"), ("What", "text"), ("Read", "text"), ("It is", "text"), ("It says", "text"))
    return Schedule("start-up-records", "Combustion and lines", columns, rows)


RECORD_NOTE = "Limits are common practice; the plate, the local code and licensed hands decide. Carbon monoxide in a room: out first, then call."
