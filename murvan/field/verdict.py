"""Design, predicted and measured, side by side, with a tolerance."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.limits import BALANCE_M3_S, BALANCE_SHARE, LOOK_SHARE, within
from murvan.design.results import Results
from murvan.field.readings import HOLE_KEYS, HOLES, default_quantity
from murvan.model.job import Job, Reading

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

    place: str
    name: str
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
    read: int
    count: int
    good: int
    look: int
    fails: int
    external: External = External(None, None, False)

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


def latest(job: Job, phase: str = "after") -> dict[tuple[str, str], Reading]:
    """The last reading of each place and quantity."""
    return {(r.place, r.quantity): r for r in job.readings if r.phase == phase}


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
        reading = last.get((x.id, "flow"))
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
            first.get((x.id, "flow")),
        )
    marks = [v.mark for v in rows.values()]
    holes = _holes(r, last, first)
    return Verdict(
        rows,
        holes,
        sum(m != "none" for m in marks),
        len(marks),
        marks.count("good"),
        marks.count("look"),
        marks.count("fails"),
        _external(r, {h.place: h for h in holes}),
    )


def _external(r: Results, holes: dict[str, HoleVerdict]) -> External:
    b = r.main.blower
    predicted = float(b.external_static_pa[0]) if b is not None else None
    between = (
        predicted - (b.statics_pa["supply"] - b.statics_pa["after_filter"]) if b and predicted is not None else 0.0
    )
    over, under = holes["static-supply"], holes["static-after-filter"]
    read = over.measured is not None and under.measured is not None
    measured = (over.measured or 0.0) - (under.measured or 0.0) + between if read else None
    return External(predicted, measured, read and (over.simulated or under.simulated))


Latest = dict[tuple[str, str], Reading]


def _holes(r: Results, last: Latest, first: Latest) -> tuple[HoleVerdict, ...]:
    out = []
    for place, name in HOLES.items():
        predicted = None
        if r.main.blower and place in HOLE_KEYS:
            predicted = r.main.blower.statics_pa[HOLE_KEYS[place]]
        key = (place, default_quantity(place))
        reading, before = last.get(key), first.get(key)
        kind = "temperature1" if place.startswith("temp") else "pressure3"
        out.append(
            HoleVerdict(
                place,
                name,
                kind,
                predicted,
                reading.value if reading else None,
                before.value if before else None,
                reading is not None and reading.simulated,
            )
        )
    return tuple(out)


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
