"""What a figure that is typed goes to: registers and test holes, in the order in which they are read."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from murvan.app.stations.base import View, room_of
from murvan.app.stations.readings_keys import place_key
from murvan.app.stations.readings_visit import VISIT, in_order
from murvan.field.places import Place, places, register_place, run_place, standing
from murvan.field.verdict import HoleVerdict, Latest, RegisterVerdict, latest
from murvan.kinds.readings import QUANTITIES
from murvan.model import AS_FOUND, Job, Reading


def statics_of(view: View) -> tuple[HoleVerdict, ...]:
    """The test holes for static of the unit in hand."""
    return tuple(h for h in view.v.holes_of(view.indoor.id) if h.place.quantity == "static")


def short_name(h: HoleVerdict) -> str:
    """'Return before the filter'."""
    return f"{h.place.short[:1].upper()}{h.place.short[1:]}"


@dataclass(frozen=True)
class Target:
    """What a figure that is typed now goes to: a register, or a test hole of the unit in hand."""

    key: tuple[str, str]
    place: Place
    kind: str
    measured: float | None
    reading: Reading | None
    register: RegisterVerdict | None = None
    hole: HoleVerdict | None = None

    @property
    def name(self) -> str:
        """'A1 Living', 'Supply plenum'."""
        return (
            self.register.tag if self.register is not None else short_name(self.hole) if self.hole is not None else ""
        )

    @property
    def short(self) -> str:
        return self.name.split()[0] if self.register is not None else self.name


def targets(view: View) -> tuple[Target, ...]:
    """All that can be read as the house stands: registers, this storey's first, then the test holes of the unit in hand, and the air of
    all heads; on a visit, what its steps read, in their order."""
    last = latest(view.job)
    if view.lens == VISIT:
        return tuple(_of_place(view, p, last) for p in in_order(view))
    stands = view.job.design.stands
    storey = {r.id: r.storey for r in view.job.rooms}
    faces = sorted(view.v.registers.values(), key=lambda x: storey[x.room] != view.storey)
    own = [register_place(x.register, x.tag) for x in faces]
    units = dict.fromkeys((view.indoor.id, *view.v.heads))
    drilled = (h.place for unit in units for h in view.v.holes_of(unit))
    every = (*own, *drilled, *_sections(view))
    return (*(_of_place(view, standing(p, stands, view.job), last) for p in every), *_in_ducts(view, last))


def _sections(view: View) -> Iterator[Place]:
    """The section of a trunk that is selected."""
    s = view.selection
    if s is not None and s.kind == "run":
        yield from (run_place(x) for x in view.job.design.runs if x.id == s.id and not x.register_id)


def _of_place(view: View, p: Place, last: Latest) -> Target:
    """What a figure goes to that is typed for a place; what counts is what was read while the house stood as now."""
    register = view.v.registers.get(p.at.id) if p.at.kind == "register" and p.hole is None else None
    reading, kind = last.get(p.key), QUANTITIES[p.quantity].shown_as
    measured = reading.value if reading is not None else None
    if register is not None:
        return Target(place_key(p), p, kind, measured, reading, register=register)
    known = next((h for h in view.v.holes if h.place.key[:3] == p.key[:3]), None)
    visit = view.figures.visit
    designed = visit.designed.get(p.key) if visit is not None else None
    predicted = (
        designed if known is None or p.state.of_air != AS_FOUND or known.predicted is None else known.predicted
    )
    before = known.before if known is not None else None
    simulated = reading is not None and reading.simulated
    return Target(
        place_key(p), p, kind, measured, reading, hole=HoleVerdict(p, kind, predicted, measured, before, simulated)
    )


def _in_ducts(view: View, last: Latest) -> Iterator[Target]:
    """Holes in ducts: those that were read, and those that would tell what is wrong."""
    d = view.figures.diagnosis
    asked = {n.place.word for n in (d.next, d.splits) if n is not None and n.place is not None} if d else set()
    for p in places(view.job).values():
        reading = last.get(p.key)
        if p.at.kind != "register" or p.hole is None or (reading is None and p.word not in asked):
            continue
        measured = reading.value if reading is not None else None
        predicted = d.designed.get(p.key) if d is not None else None
        kind = QUANTITIES[p.quantity].shown_as
        told = HoleVerdict(p, kind, predicted, measured, simulated=reading is not None and reading.simulated)
        yield Target(("hole", p.word), p, kind, measured, reading, hole=told)


def target(view: View) -> Target | None:
    """What the card, the plan, the table and the field are about: what is selected, of a room its first register that is not
    read yet; None where a room has none."""
    all_ = targets(view)
    s = view.selection
    if s is None:
        return None
    wanted = (s.kind, s.id)
    if s.kind == "run":
        face = next((x.register_id for x in view.job.design.runs if x.id == s.id), None)
        wanted = ("register", face) if face else wanted
    room = room_of(view)
    mine = [x for x in all_ if x.register is not None and x.register.room == room]
    if not mine:
        heads = {
            i for i in view.v.heads if (s.kind, s.id) == ("indoor_unit", i) or room in view.r.systems[i].design.serves
        }
        mine = [x for x in all_ if x.place.at.id in heads]
    return next((x for x in all_ if x.key == wanted), None) or next(
        (x for x in mine if x.measured is None), mine[0] if mine else None
    )


def after(view: View, job: Job) -> list[Target]:
    """What is not read yet in a job that may be newer than the figures, from the target on."""
    all_, here, read = list(targets(view)), target(view), latest(job)
    k = next((n for n, x in enumerate(all_) if here is not None and x.key == here.key), -1)
    return [x for x in (*all_[k + 1 :], *all_[: max(k, 0)]) if x.place.key not in read]
