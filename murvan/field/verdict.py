"""Design, predicted and measured, side by side, with a tolerance."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.solve import Results
from murvan.field.readings import HOLE_KEYS, HOLES
from murvan.model.job import Job, Reading

CFM = 0.3048**3 / 60
TOLERANCE_SHARE, TOLERANCE_M3_S = 0.10, 5 * CFM
"""Within 10 % or 5 cfm of design; common practice of air balancing."""
LOOK_SHARE = 0.20
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


def latest(job: Job, phase: str = "after") -> dict[str, Reading]:
    """The last reading of each place."""
    return {r.place: r for r in job.readings if r.phase == phase}


def judge(design: float, measured: float | None) -> str:
    """'good', 'look', 'fails' or 'none'."""
    if measured is None:
        return "none"
    off = abs(measured - design)
    if off <= max(TOLERANCE_SHARE * design, TOLERANCE_M3_S) * 1.0001:
        return "good"
    return "look" if off <= max(LOOK_SHARE * design, 2 * TOLERANCE_M3_S) else "fails"


def verdict(job: Job, r: Results) -> Verdict:
    """Judge the latest readings after installation."""
    last = latest(job)
    rows = {}
    for x in job.registers:
        if x.side != "supply":
            continue
        reading = last.get(x.id)
        measured = reading.value if reading else None
        design = r.airflow.register_m3_s.get(x.id, 0.0)
        predicted = r.network.register_m3_s.get(x.id) if r.network else None
        rows[x.id] = RegisterVerdict(
            x.id, x.tag, x.room, design, predicted, measured, judge(design, measured), reading
        )
    marks = [v.mark for v in rows.values()]
    return Verdict(
        rows,
        _holes(r, last),
        sum(m != "none" for m in marks),
        len(marks),
        marks.count("good"),
        marks.count("look"),
        marks.count("fails"),
    )


def _holes(r: Results, last: dict[str, Reading]) -> tuple[HoleVerdict, ...]:
    out = []
    for place, name in HOLES.items():
        predicted = None
        if r.network and place in HOLE_KEYS:
            predicted = r.network.statics_pa[HOLE_KEYS[place]]
        reading = last.get(place)
        kind = "temperature1" if place.startswith("temp") else "pressure3"
        out.append(HoleVerdict(place, name, kind, predicted, reading.value if reading else None))
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
                "Read", "{0} ÷ {1}", (q("flow", v.measured), q("flow", v.design)), q("percent", v.share or 0.0), True
            )
        )
    return Arithmetic(
        "Verdict", tuple(lines), ("Good within 10 % or 5 cfm of design, to look at within 20 %: common practice",)
    )


def sensible_delivered(flow_m3_s: float, difference_k: float, factor: float) -> float:
    """Heat carried by measured air, W: q = 1.08 Q dT with the site's factor. `factor` in W per m3/s and K."""
    return factor * flow_m3_s * difference_k
