"""Design, predicted and measured, side by side, with a tolerance."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.circuit import Blower
from murvan.design.limits import BALANCE_M3_S, BALANCE_SHARE, LOOK_SHARE, within
from murvan.design.results import Results
from murvan.field.gives import sensible_w
from murvan.field.places import Key, Place, head_holes, holes, key_of, power_place, register_place
from murvan.kinds.readings import QUANTITIES
from murvan.model.edit import changed
from murvan.model.job import AS_FOUND, Job, Reading, Ref

GOOD = f"Good within {{0}} or {{1}} of design, to look at within {LOOK_SHARE * 100:.0f} %: common practice"
MARKS = ("none", "good", "look", "fails")


@dataclass(frozen=True)
class RegisterVerdict:
    """One register; flows in m3/s, `measured` None while unread."""

    register: str
    tag: str
    room: str
    design: float
    predicted: float | None
    measured: float | None
    mark: str
    reading: Reading | None
    before: Reading | None = None
    """What it read before the work."""

    @property
    def simulated(self) -> bool:
        return self.reading is not None and self.reading.simulated

    @property
    def share(self) -> float | None:
        return self.measured / self.design if self.measured is not None and self.design > 0 else None


@dataclass(frozen=True)
class HoleVerdict:
    """A test hole: predicted and measured, Pa or degC."""

    place: Place
    kind: str
    predicted: float | None
    measured: float | None
    before: float | None = None
    simulated: bool = False


@dataclass(frozen=True)
class External:
    """Static across the unit, Pa: the same figure as the blower works against everywhere else."""

    predicted: float | None
    measured: float | None
    """Supply plenum less after the filter, and what heater and speeds take between those holes and the blower."""
    simulated: bool


@dataclass(frozen=True)
class HeadVerdict:
    """What a head delivers by the temperatures of its air, against its maker's table at design."""

    unit: str
    tag: str
    flow_m3_s: float
    """Rated."""
    per_k_w: float
    """Heat that its air carries a kelvin."""
    heating: bool
    """By what was read: it blows warmer than it draws in; until then the colder season is meant."""
    expected_w: float
    delta_k: float | None
    """Supply over return."""
    simulated: bool

    @property
    def delivered_w(self) -> float | None:
        return abs(self.delta_k) * self.per_k_w if self.delta_k is not None else None

    @property
    def expected_k(self) -> float:
        """Between its supply and its return, at design."""
        return self.expected_w / self.per_k_w if self.per_k_w > 0 else 0.0

    @property
    def share(self) -> float | None:
        d = self.delivered_w
        return d / self.expected_w if d is not None and self.expected_w > 0 else None

    @property
    def mark(self) -> str:
        share = self.share
        if share is None:
            return "none"
        off = abs(share - 1)
        return "good" if off <= HEAD_SHARE else "look" if off <= 2 * HEAD_SHARE else "fails"


HEAD_SHARE = 0.15
"""By how much what a head delivers may differ from its table: thermometers and rated air say no more; common practice."""


@dataclass(frozen=True)
class Verdict:
    """The whole job's readings against its design."""

    registers: dict[str, RegisterVerdict]
    holes: tuple[HoleVerdict, ...]
    """Of every unit; of heads the temperatures of their air."""
    read: int
    count: int
    """Registers, and heads."""
    good: int
    look: int
    fails: int
    externals: dict[str, External]
    """By unit."""
    heads: dict[str, HeadVerdict]
    """By unit."""

    def holes_of(self, unit: str) -> tuple[HoleVerdict, ...]:
        """The test holes of a unit; none where it has no ducts."""
        return tuple(h for h in self.holes if h.place.at.id == unit)

    def external_of(self, unit: str) -> External:
        """Static across a unit; nothing where it has no ducts."""
        return self.externals.get(unit, External(None, None, False))

    @property
    def simulated(self) -> bool:
        """Whether any reading behind it is."""
        return any(x.simulated for x in self.registers.values()) or any(h.simulated for h in self.holes)

    @property
    def mark(self) -> str:
        if self.fails:
            return "fails"
        if self.look:
            return "look"
        if self.count and self.read == self.count:
            return "good"
        return "half" if self.read else "none"

    @property
    def worst(self) -> RegisterVerdict | None:
        bad = [v for v in self.registers.values() if v.mark in ("fails", "look")]
        return min(bad, key=lambda v: v.share if v.share is not None else 9.0, default=None)


Latest = dict[Key, Reading]


def latest(job: Job, phase: str = "after") -> Latest:
    """The last reading of each place and state of the ducts as they are laid. One real reading and simulated ones count
    no longer."""
    mine = [r for r in job.design.readings if r.phase == phase and r.layout == job.design.layout]
    real = any(not r.simulated for r in mine)
    return {key_of(r): r for r in mine if not (real and r.simulated)}


Found = dict[tuple[Ref, str | None, str], Reading]


def as_found(job: Job, phase: str = "after") -> Found:
    """The last reading of each place with doors open, filters in and all zones calling, whatever the units did."""
    own = (r for r in latest(job, phase).values() if r.state.of_air == AS_FOUND)
    order = {r.id: k for k, r in enumerate(job.design.readings)}
    return {(r.at, r.hole, r.quantity): r for r in sorted(own, key=lambda r: order[r.id])}


def counts(job: Job, reading: Reading) -> bool:
    """Whether a reading is of the ducts as they are laid, and not a simulated one beside real ones."""
    return latest(job, reading.phase).get(key_of(reading)) is reading


def judge(design: float, measured: float | None) -> str:
    """'good', 'look', 'fails' or 'none'."""
    if measured is None:
        return "none"
    off = abs(measured - design)
    if off <= max(BALANCE_SHARE * design, BALANCE_M3_S) * 1.0001:
        return "good"
    return "look" if off <= max(LOOK_SHARE * design, 2 * BALANCE_M3_S) else "fails"


def verdict(job: Job, r: Results) -> Verdict:
    """Judge the latest readings after installation."""
    last, first = as_found(job), as_found(job, "before")
    rows = {}
    for x in job.design.registers:
        if x.side != "supply":
            continue
        place = register_place(x.id, x.tag)
        reading = last.get(place.key[:3])
        measured = reading.value if reading else None
        design = r.airflow.register_m3_s.get(x.id, 0.0)
        predicted = r.network.register_m3_s.get(x.id) if r.network else None
        rows[x.id] = RegisterVerdict(
            x.id,
            x.tag,
            x.room,
            design,
            predicted,
            measured,
            judge(design, measured),
            reading,
            first.get(place.key[:3]),
        )
    heads = {x.unit: x for x in _heads(job, r, last)}
    marks = [v.mark for v in rows.values()] + [v.mark for v in heads.values()]
    units = [x for x in job.design.indoor_units if x.kind == "ducted"]
    of_units = {x.id: tuple(_hole(p, r, last, first) for p in (*holes(job, x), power_place(x))) for x in units}
    of_heads = (
        _hole(p, r, last, first) for x in job.design.indoor_units if x.id in heads for p in head_holes(job, x)
    )
    return Verdict(
        rows,
        (*(h for found in of_units.values() for h in found), *of_heads),
        sum(m != "none" for m in marks),
        len(marks),
        marks.count("good"),
        marks.count("look"),
        marks.count("fails"),
        {unit: _external(r, unit, found) for unit, found in of_units.items()},
        heads,
    )


def _heads(job: Job, r: Results, last: Found) -> Iterator[HeadVerdict]:
    """Heads that are picked, by the last temperatures read at them."""
    for x in (x for x in job.design.indoor_units if x.kind != "ducted"):
        s = r.systems.get(x.id)
        chosen = s.equipment.chosen if s is not None else None
        if s is None or s.unit is None or chosen is None:
            continue
        at = {p.hole: last.get(p.key[:3]) for p in head_holes(job, x)}
        drawn, blown = at["return"], at["supply"]
        delta = blown.value - drawn.value if drawn is not None and blown is not None else None
        heating = delta > 0 if delta is not None else chosen.heating_w > 0
        state = blown.state if blown is not None else AS_FOUND
        meant = changed(state, "", mode="heating" if heating else "cooling")
        yield HeadVerdict(
            x.id,
            x.tag,
            s.unit.rated_flow_m3_s,
            r.conditions.sensible_factor * s.unit.rated_flow_m3_s,
            heating,
            abs(sensible_w(r, x.id, meant)),
            delta,
            any(v is not None and v.simulated for v in (drawn, blown)),
        )


def _external(r: Results, unit: str, found: tuple[HoleVerdict, ...]) -> External:
    b = _blower(r, unit)
    predicted = float(b.external_static_pa[0]) if b is not None else None
    between = (
        predicted - (b.statics_pa["supply"] - b.statics_pa["after_filter"]) if b and predicted is not None else 0.0
    )
    static = {h.place.hole: h for h in found if h.place.quantity == "static"}
    over, under = static["supply"], static["after_filter"]
    read = over.measured is not None and under.measured is not None
    measured = (over.measured or 0.0) - (under.measured or 0.0) + between if read else None
    return External(predicted, measured, read and (over.simulated or under.simulated))


def _blower(r: Results, unit: str) -> Blower | None:
    own = r.systems.get(unit)
    return own.blower if own is not None else None


def _hole(place: Place, r: Results, last: Found, first: Found) -> HoleVerdict:
    b, static = _blower(r, place.at.id), place.quantity == "static"
    predicted = b.statics_pa[place.hole] if b is not None and static and place.hole is not None else None
    if place.quantity == "temperature" and place.at.id in r.systems:
        predicted = head_air_c(place, r)
    reading, before = last.get(place.key[:3]), first.get(place.key[:3])
    return HoleVerdict(
        place,
        QUANTITIES[place.quantity].shown_as,
        predicted,
        reading.value if reading else None,
        before.value if before else None,
        reading is not None and reading.simulated,
    )


def head_air_c(place: Place, r: Results) -> float | None:
    """Air of a head on the design night; None of a unit with ducts."""
    s, inside = r.systems[place.at.id], r.job.indoor.heating_c
    if s.design.indoor.kind == "ducted" or s.unit is None or s.equipment.chosen is None:
        return None
    gain = s.equipment.chosen.heating_w / (r.conditions.sensible_factor * s.unit.rated_flow_m3_s)
    return inside + gain if place.hole == "supply" else inside


def explain_head(v: HeadVerdict) -> Arithmetic:
    """What a head delivers."""
    q = Quantity
    season = "heating" if v.heating else "cooling"
    lines = [Line(f"expected, {season}", "maker's table at design", (), q("power", v.expected_w))]
    if v.delta_k is not None and v.delivered_w is not None:
        lines += [
            Line(
                "delivers",
                "{0} × {1}",
                (q("difference", abs(v.delta_k)), q("ua", v.per_k_w)),
                q("power", v.delivered_w),
            ),
            Line(
                "of it",
                "{0} ÷ {1}",
                (q("power", v.delivered_w), q("power", v.expected_w)),
                q("percent", v.share or 0.0),
                True,
            ),
        ]
    words = f"Air at its rated flow; run it at full output. Good within {HEAD_SHARE * 100:.0f} %: common practice"
    return Arithmetic("Delivered", tuple(lines), (words,))


def explain(v: RegisterVerdict) -> Arithmetic:
    """One register's verdict."""
    q = Quantity
    lines = [Line("design", "", (), q("flow", v.design))]
    if v.predicted is not None:
        lines.append(Line("predicted", "network, as drawn", (), q("flow", v.predicted)))
    if v.measured is not None:
        lines.append(
            Line(
                "Read, simulated" if v.simulated else "Read",
                "{0} ÷ {1}",
                (q("flow", v.measured), q("flow", v.design)),
                q("percent", v.share or 0.0),
                True,
            )
        )
    return Arithmetic("Verdict", tuple(lines), (within(GOOD),))
