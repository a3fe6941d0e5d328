"""Design, predicted and measured, side by side, with a tolerance."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.circuit import Blower
from murvan.design.limits import BALANCE_M3_S, BALANCE_SHARE, LOOK_SHARE, within
from murvan.design.results import Results
from murvan.field.places import Place, holes, register_place
from murvan.model.job import Job, Reading, Ref

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
class Verdict:
    """The whole job's readings against its design."""

    registers: dict[str, RegisterVerdict]
    holes: tuple[HoleVerdict, ...]
    """Of every ducted unit."""
    read: int
    count: int
    good: int
    look: int
    fails: int
    externals: dict[str, External]
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


Latest = dict[tuple[Ref, str | None, str], Reading]


def latest(job: Job, phase: str = "after") -> Latest:
    """The last reading of each place and quantity of the ducts as they are laid. One real reading and simulated ones count
    no longer."""
    mine = [r for r in job.design.readings if r.phase == phase and r.layout == job.design.layout]
    real = any(not r.simulated for r in mine)
    return {(r.at, r.hole, r.quantity): r for r in mine if not (real and r.simulated)}


def counts(job: Job, reading: Reading) -> bool:
    """Whether a reading is of the ducts as they are laid, and not a simulated one beside real ones."""
    return latest(job, reading.phase).get((reading.at, reading.hole, reading.quantity)) is reading


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
    last, first = latest(job), latest(job, "before")
    rows = {}
    for x in job.design.registers:
        if x.side != "supply":
            continue
        place = register_place(x.id, x.tag)
        reading = last.get(place.key)
        measured = reading.value if reading else None
        design = r.airflow.register_m3_s.get(x.id, 0.0)
        predicted = r.network.register_m3_s.get(x.id) if r.network else None
        rows[x.id] = RegisterVerdict(
            x.id, x.tag, x.room, design, predicted, measured, judge(design, measured), reading, first.get(place.key)
        )
    marks = [v.mark for v in rows.values()]
    units = [x for x in job.design.indoor_units if x.kind == "ducted"]
    of_units = {x.id: tuple(_hole(p, r, last, first) for p in holes(job, x)) for x in units}
    return Verdict(
        rows,
        tuple(h for found in of_units.values() for h in found),
        sum(m != "none" for m in marks),
        len(marks),
        marks.count("good"),
        marks.count("look"),
        marks.count("fails"),
        {unit: _external(r, unit, found) for unit, found in of_units.items()},
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


def _hole(place: Place, r: Results, last: Latest, first: Latest) -> HoleVerdict:
    b, static = _blower(r, place.at.id), place.quantity == "static"
    predicted = b.statics_pa[place.hole] if b is not None and static and place.hole is not None else None
    reading, before = last.get(place.key), first.get(place.key)
    return HoleVerdict(
        place,
        "pressure3" if static else "temperature1",
        predicted,
        reading.value if reading else None,
        before.value if before else None,
        reading is not None and reading.simulated,
    )


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
