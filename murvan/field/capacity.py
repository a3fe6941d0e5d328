"""Capacity proven at the air: its flow, and its temperatures before and after, against the maker's table at this weather and the load.

Sensible heat is flow x density x specific heat x difference; all of it is dry air's mass x the difference of enthalpy, by dry and wet bulb
(ASHRAE Standard 37, air enthalpy method, from memory). Doubts of flow and of both ends are carried through.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.results import Results, SystemResults
from murvan.design.units import cooling_capacity
from murvan.field.gives import sensible_w
from murvan.field.places import holes
from murvan.field.verdict import Latest, latest
from murvan.model.errors import JobError
from murvan.model.job import AS_FOUND, HouseState, Job, Reading
from murvan.physics import air
from murvan.physics.air import Air

GOOD, LOOK = 0.1, 0.2
"""Shares by which what is delivered may differ from the maker's table, beyond its doubt: common practice."""
BULB_K = 0.3
"""Standard doubt of a bulb in a duct."""
PREDICTED = 0.08
"""Standard doubt of a flow that is not read, a share."""
HOOD = 0.015
"""Of the hood's own gain, common to all that it reads."""


@dataclass(frozen=True)
class Flow:
    """The air of a unit."""

    m3_s: float
    sd_m3_s: float
    by: str
    """'15 registers', '2 returns', 'predicted, not read'."""
    read: bool


@dataclass(frozen=True)
class Proof:
    """What a unit was read to deliver in one season; W, positive either way."""

    unit: str
    tag: str
    state: HouseState
    flow: Flow
    per_k_w: float
    """Heat that its air carries a kelvin."""
    back_c: float
    out_c: float
    entering: Air | None
    """By dry and wet bulb, in cooling."""
    leaving: Air | None
    delivered_w: float
    """Sensible; all of it where both wet bulbs were read in cooling."""
    sd_w: float
    expected_w: float | None
    """By the maker's table at this weather and air; None where that takes the outdoor temperature, which nobody noted."""
    design_w: float
    """By the table at design, of the same sort."""
    load_w: float
    beside_w: float
    """Electric heat that is fitted, as rated: in winter it carries its part of the load."""
    simulated: bool
    dry_kg_s: float = 0.0
    """Of dry air."""

    @property
    def cools(self) -> bool:
        return self.state.mode == "cooling"

    @property
    def total(self) -> bool:
        """Whether its moisture counts."""
        return self.entering is not None

    @property
    def share(self) -> float | None:
        return self.delivered_w / self.expected_w if self.expected_w else None

    @property
    def sd(self) -> float:
        """Of the share."""
        return self.sd_w / self.expected_w if self.expected_w else 0.0

    @property
    def mark(self) -> str:
        share = self.share
        if share is None:
            return "none"
        short = 1 - share - self.sd  # too little counts, as far as it is sure
        return "good" if short <= GOOD else "look" if short <= LOOK else "fails"

    @property
    def at_design_w(self) -> float | None:
        """What it would give at design, short by the same share."""
        return self.design_w * self.share if self.share is not None else None

    @property
    def enough(self) -> float | None:
        """Of the load at design, with the electric heat that is fitted."""
        got = self.at_design_w
        return (got + self.beside_w) / self.load_w if got is not None and self.load_w > 0 else None


def proofs(job: Job, r: Results) -> tuple[Proof, ...]:
    """Of every ducted unit and each season in which both its temperatures were read, the last ones."""
    last = latest(job)
    return tuple(p for u in job.design.indoor_units if u.kind == "ducted" for p in _of_unit(job, r, u.id, last))


def _of_unit(job: Job, r: Results, unit: str, last: Latest) -> Iterator[Proof]:
    s = r.systems.get(unit)
    flow = unit_flow(r, unit, last)
    if s is None or s.unit is None or s.equipment.chosen is None or flow is None:
        return
    for cools in (False, True):
        found = _bulbs(job, unit, last, cools)
        if {("return", "temperature"), ("supply", "temperature")} <= found.keys():
            yield _proof(r, s, flow, found, cools)


def _bulbs(job: Job, unit: str, last: Latest, cools: bool) -> dict[tuple[str, str], Reading]:
    """The last dry and wet bulbs of a season at both plenums, all of one state; by hole and quantity."""
    own = next(u for u in job.design.indoor_units if u.id == unit)
    at = {(p.at, p.hole, p.quantity) for which in ("air", "capacity") for p in holes(job, own, which)}  # type: ignore[arg-type]
    by_state: dict[HouseState, dict[tuple[str, str], Reading]] = {}
    for x in last.values():
        if (
            (x.at, x.hole, x.quantity) in at
            and x.quantity in ("temperature", "wet_bulb")
            and _season(x.state) == cools
        ):
            by_state.setdefault(x.state, {})[x.hole or "", x.quantity] = x
    whole = [v for v in by_state.values() if {("return", "temperature"), ("supply", "temperature")} <= v.keys()]
    return whole[-1] if whole else {}


def _season(state: HouseState) -> bool | None:
    """Whether it cools; None where the blower runs alone."""
    return None if state.mode == "fan" else state.mode == "cooling"


def unit_flow(r: Results, unit: str, last: Latest) -> Flow | None:
    """Its air as found: by all its registers, else by all its returns, else as the circuit predicts it."""
    faces = [x for x in r.job.design.registers if x.indoor == unit]
    read = {
        x.at.id: x for x in last.values() if x.quantity == "flow" and x.hole is None and x.state.of_air == AS_FOUND
    }
    for side, word in (("supply", "register"), ("return", "return")):
        own = [x.id for x in faces if x.side == side]
        if own and all(i in read for i in own):
            total = sum(read[i].value for i in own)
            sd = sum((read[i].uncertainty * read[i].value) ** 2 for i in own) + (HOOD * total) ** 2
            return Flow(total, sd**0.5, f"{len(own)} {word}{'s' if len(own) > 1 else ''}", True)
    blower = r.systems[unit].blower if unit in r.systems else None
    if blower is None:
        return None
    q = float(blower.flow_m3_s[0])
    return Flow(q, PREDICTED * q, "predicted, not read", False)


def _proof(r: Results, s: SystemResults, flow: Flow, found: dict[tuple[str, str], Reading], cools: bool) -> Proof:
    chosen, c = s.equipment.chosen, r.conditions
    assert chosen is not None and s.unit is not None
    back, out = found["return", "temperature"], found["supply", "temperature"]
    state = back.state if back.state.mode else HouseState(mode="heating", outdoor_c=back.state.outdoor_c)
    per_k = c.sensible_factor * flow.m3_s
    sensible = per_k * (back.value - out.value) * (1 if cools else -1)
    sd = ((flow.sd_m3_s / flow.m3_s * sensible) ** 2 + 2 * (BULB_K * per_k) ** 2) ** 0.5
    entering, leaving = (_air(found, hole, c.pressure_pa) for hole in ("return", "supply"))
    needs = state.outdoor_c is None and (cools or s.unit.heating is not None)
    seen = any(x.simulated for x in found.values())
    base = (s.design.id, s.design.indoor.tag, state, flow, per_k, back.value, out.value)
    if not cools or entering is None or leaving is None:
        expected = None if needs else abs(sensible_w(r, s.design.id, state, flow.m3_s))
        load = s.loads.house_sensible_w if cools else s.loads.house_heating_w
        design = chosen.sensible_w if cools else chosen.heating_w
        return Proof(*base, None, None, sensible, sd, expected, design, load, 0.0 if cools else chosen.heater_w, seen)
    dry = flow.m3_s * c.density_kg_m3 / (1 + entering.humidity_ratio)
    total = dry * (entering.enthalpy_j_kg - leaving.enthalpy_j_kg)
    sd = ((flow.sd_m3_s / flow.m3_s * total) ** 2 + (dry * _enthalpy_sd(entering, leaving)) ** 2) ** 0.5
    table = None
    if state.outdoor_c is not None:
        table = cooling_capacity(chosen.unit, state.outdoor_c, entering, flow.m3_s, c.density_kg_m3)[0]
    load = s.loads.house_cooling_w
    return Proof(*base, entering, leaving, total, sd, table, chosen.total_w, load, 0.0, seen, dry)


def _air(found: dict[tuple[str, str], Reading], hole: str, pressure_pa: float) -> Air | None:
    """By dry and wet bulb; None where the wet one is not read, or can't be."""
    dry, wet = found[hole, "temperature"], found.get((hole, "wet_bulb"))
    if wet is None:
        return None
    try:
        return air.from_wet_bulb(dry.value, min(wet.value, dry.value), pressure_pa)
    except (ValueError, JobError):
        return None


def _enthalpy_sd(a: Air, b: Air) -> float:
    """Standard doubt of the difference of enthalpy, J/kg, by that of the wet bulbs: the dry ones hardly count."""
    slopes = [
        (air.from_wet_bulb(x.temperature_c + 1, x.wet_bulb_c + 1, x.pressure_pa).enthalpy_j_kg - x.enthalpy_j_kg)
        for x in (a, b)
    ]
    return float(BULB_K * (slopes[0] ** 2 + slopes[1] ** 2) ** 0.5)


def _at_design(x: Proof) -> tuple[str, tuple[Quantity, ...]]:
    q = Quantity
    got, load = q("power", x.at_design_w or 0.0), q("power", x.load_w)
    if x.beside_w > 0:
        return "({0} + {1}) ÷ {2}", (got, q("power", x.beside_w), load)
    return "{0} ÷ {1}", (got, load)


def explain_proof(x: Proof, r: Results) -> Arithmetic:
    """Step by step; every line multiplies out."""
    q = Quantity
    lines = [Line(f"air, {x.flow.by}", "", (), q("flow", x.flow.m3_s))]
    if x.entering is not None and x.leaving is not None:
        lines += [
            Line("dry air", "", (), q("mass_flow", x.dry_kg_s)),
            Line(
                "drop of enthalpy",
                "{0} − {1}",
                (q("enthalpy", x.entering.enthalpy_j_kg), q("enthalpy", x.leaving.enthalpy_j_kg)),
                q("enthalpy", x.entering.enthalpy_j_kg - x.leaving.enthalpy_j_kg),
            ),
            Line(
                "delivers, all of it",
                "{0} × {1}",
                (q("mass_flow", x.dry_kg_s), q("enthalpy", x.entering.enthalpy_j_kg - x.leaving.enthalpy_j_kg)),
                q("power", x.delivered_w),
            ),
        ]
    else:
        difference = abs(x.out_c - x.back_c)
        lines += [
            Line(
                "carries a degree",
                "{0} × {1}",
                (q("flow", x.flow.m3_s), q("air_factor", r.conditions.sensible_factor)),
                q("ua", x.per_k_w),
            ),
            Line(
                "delivers, sensible",
                "{0} × {1}",
                (q("difference", difference), q("ua", x.per_k_w)),
                q("power", x.per_k_w * difference),
            ),
        ]
    if x.expected_w is not None and x.share is not None:
        got, table = q("power", x.delivered_w), q("power", x.expected_w)
        lines += [
            Line("maker's table, this weather", "", (), table),
            Line("of it", "{0} ÷ {1}", (got, table), q("percent", x.share), True),
        ]
    doubt = f"Give or take {x.sd_w / abs(x.delivered_w) * 100:.0f} % (standard)" if x.delivered_w else ""
    words = (
        f"Good down to {100 - GOOD * 100:.0f} % beyond its doubt: common practice; quarter of an hour at full output"
    )
    return Arithmetic("Capacity at the air", tuple(lines), tuple(w for w in (doubt, words) if w))
