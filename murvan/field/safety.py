"""Combustion, and the tightness and dryness of refrigerant lines: limits, and 'stop' in words.

Limits are common practice; the appliance's plate, the local code and licensed hands decide.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from murvan.design.results import Results
from murvan.field.verdict import Latest, latest
from murvan.model.job import IndoorUnit, Job, Reading

CO_FLUE = (100e-6, 400e-6)
"""Of undiluted flue gas, volume share: to look at from, stop from."""
CO_ROOM = (9e-6, 35e-6)
LEAST_DRAFT_PA = 1.0
"""A natural draft that carries, below the room."""
DEPRESSION_PA = (-3.0, -5.0)
"""The house against outdoors with all that draws air running: to look at from, stop from."""
VACUUM_PA = (66.7, 133.3, 266.6)
"""500, 1,000 and 2,000 microns of mercury: reached, dry and tight after ten minutes, wet."""
LEVELS = 0.35
"""Of what it rose in the first five minutes, below which the rise of the next five is levelling off: moisture, no leak."""
HELD = 0.01
"""Share of an absolute pressure that may be lost beside what temperature does: gauges read no nearer."""
STOP = "Stop: switch off, air out, call licensed help"


@dataclass(frozen=True)
class Record:
    """One judgement of one unit."""

    unit: str
    tag: str
    what: str
    figures: tuple[tuple[str, float], ...]
    """Kind and value, SI."""
    mark: str
    says: str
    simulated: bool


def records(job: Job, r: Results) -> tuple[Record, ...]:
    """Of every unit that has such readings."""
    last = latest(job)
    return tuple(x for u in job.design.indoor_units for x in _of_unit(r, u, last))


def _of_unit(r: Results, u: IndoorUnit, last: Latest) -> Iterator[Record]:
    own = {x.hole: x for x in last.values() if x.at.kind == "indoor_unit" and x.at.id == u.id and x.hole is not None}
    for hole, what, limits in (
        ("flue", "Carbon monoxide in the flue", CO_FLUE),
        ("room", "Carbon monoxide in the room", CO_ROOM),
    ):
        if (x := own.get(hole)) is not None and x.quantity == "co":
            look, stop = limits
            mark = "good" if x.value < look else "look" if x.value < stop else "fails"
            words = {
                "good": "within its limit",
                "look": "over its limit: find out why before you leave",
                "fails": STOP,
            }
            yield _record(u, what, (x,), "ppm", mark, words[mark])
    if (x := own.get("draft")) is not None:
        mark = "good" if x.value <= -LEAST_DRAFT_PA else "fails"
        yield _record(
            u,
            "Draft",
            (x,),
            "pascal",
            mark,
            "it draws" if mark == "good" else "Stop, it spills: switch off, call licensed help",
        )
    if (x := own.get("depression")) is not None:
        look, stop = DEPRESSION_PA
        mark = "good" if x.value > look else "look" if x.value > stop else "fails"
        words = {
            "good": "no back-draft",
            "look": "near back-draft: give it air of its own",
            "fails": "Stop, back-draft: switch off, call licensed help",
        }
        yield _record(u, "House, fans and dryer on", (x,), "pascal", mark, words[mark])
    yield from _held(r, u, own)
    yield from _vacuum(u, own)


def _held(r: Results, u: IndoorUnit, own: dict[str, Reading]) -> Iterator[Record]:
    """p2 = p1 T2 / T1, absolute, by the temperatures that were noted."""
    a, b = own.get("hold_start"), own.get("hold_end")
    if a is None or b is None:
        return
    if a.state.outdoor_c is None or b.state.outdoor_c is None:
        yield _record(u, "Pressure hold", (a, b), "psi", "none", "Note the temperature with both readings")
        return
    air = r.conditions.pressure_pa
    meant = (a.value + air) * (b.state.outdoor_c + 273.15) / (a.state.outdoor_c + 273.15)
    lost = 1 - (b.value + air) / meant
    mark = "good" if lost <= HELD else "fails"
    words = (
        "held, its temperature counted" if mark == "good" else f"lost {lost * 100:.1f} %, temperature counted: leaks"
    )
    yield _record(u, "Pressure hold", (a, b), "psi", mark, words)


def _vacuum(u: IndoorUnit, own: dict[str, Reading]) -> Iterator[Record]:
    """How it rises once the valve is shut: not at all, levelling off, or on and on."""
    shut, five, ten = (own.get(x) for x in ("vacuum_shut", "vacuum_5", "vacuum_10"))
    reached, dry, _ = VACUUM_PA
    if shut is None:
        return
    if shut.value > reached:
        yield _record(u, "Vacuum", (shut,), "microns", "fails", "not deep enough yet: pull on")
        return
    if ten is None:
        yield _record(u, "Vacuum", (shut,), "microns", "none", "read on, five and ten minutes after")
        return
    taken = tuple(x for x in (shut, five, ten) if x is not None)
    if ten.value <= dry:
        yield _record(u, "Vacuum", taken, "microns", "good", "dry and tight")
    elif five is None:
        yield _record(u, "Vacuum", taken, "microns", "look", "rises: read it after five minutes too")
    elif ten.value - five.value <= LEVELS * (five.value - shut.value):
        yield _record(u, "Vacuum", taken, "microns", "fails", "levels off, moisture: nitrogen, then pull again")
    else:
        yield _record(u, "Vacuum", taken, "microns", "fails", "rises on and on: leaks")


def _record(u: IndoorUnit, what: str, own: tuple[Reading, ...], kind: str, mark: str, says: str) -> Record:
    figures = tuple((kind, x.value) for x in own)
    return Record(u.id, u.tag, what, figures, mark, says, any(x.simulated for x in own))
