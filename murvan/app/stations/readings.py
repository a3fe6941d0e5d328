"""Station 7, Readings: enter, import or simulate; verdict and suspects."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from murvan.app.document import Wanted
from murvan.app.plan.lens import Legend, Lens
from murvan.app.stations import readings_heads
from murvan.app.stations.base import (
    Arith,
    Button,
    Buttons,
    Card,
    Cell,
    Field_,
    Fields,
    Headline,
    Ledger,
    List_,
    ListRow,
    Row,
    Section,
    Station,
    Strip,
    View,
    room_of,
)
from murvan.app.stations.common import all_heads, on_storey
from murvan.app.stations.readings_drawn import COLOR, bullets, dock, dock_click, draw_statics
from murvan.app.stations.readings_lesson import lesson_sections
from murvan.app.stations.readings_places import draw_places
from murvan.app.stations.readings_proven import proven_sections
from murvan.app.stations.readings_suspects import suspect_sections
from murvan.app.stations.readings_targets import Target, after, short_name, statics_of, target, targets
from murvan.app.stations.readings_visit import VISIT, room_pressures, state_fields, step_list
from murvan.app.stations.readings_visit import strip as visit_strip
from murvan.app.stations.told import Rooms, Told, named, rooms_table, state
from murvan.design.limits import BALANCE_SHARE, DOOR_LIMIT_PA, LOOK_SHARE
from murvan.field.doubts import doubt
from murvan.field.places import Place, state_words
from murvan.field.readings import next_id
from murvan.field.traverse import Tool, Traverse
from murvan.field.verdict import MARKS, HoleVerdict, RegisterVerdict, explain_head, latest
from murvan.field.verdict import explain as explain_verdict
from murvan.kinds.readings import QUANTITIES, READS
from murvan.model import AS_FOUND, Job, Reading, insert, make
from murvan.model.routes import LaidRun


class ReadingsStation(Station):
    number, name = 7, "Readings"
    lenses = ("Flow", "Static", VISIT)
    tools = (("readings.take", "flow-hood"), ("readings.simulate", "sample-house"), ("readings.import", "open-job"))
    row_fields = "read."
    picks_units = True

    @property
    def wants(self) -> Wanted:
        return "visit" if self.lens_name == VISIT else ""

    def reached(self, view: View) -> bool:
        return view.v.read > 0

    def typed_into(self, view: View) -> str:
        x = target(view)
        return f"{self.row_fields}{x.place.word}" if x is not None else ""

    def onward(self, view: View, job: Job) -> tuple[str, str] | None:
        left = after(view, job)
        return left[0].key if left else None

    def keeps(self, view: View) -> bool:
        s = view.selection
        return s is None or s.kind in ("hole", "run") or room_of(view) is not None

    def mark(self, view: View) -> str:
        return view.v.mark

    def headline(self, view: View) -> Headline:
        v = view.v
        if not v.count:
            return Headline("none", "–", "", "nothing to read")
        second = (
            f"{v.fails} fail{'s' if v.fails == 1 else ''} · {v.look} to look at"
            if v.fails or v.look
            else f"{v.good} good"
            if v.read
            else "nothing read yet"
        )
        return Headline(self.mark(view), str(v.read), f"of {v.count} read", second)

    def steps(self, view: View) -> tuple[tuple[str, str], ...]:
        return tuple(x.key for x in targets(view))

    def default_selection(self, view: View) -> tuple[str, str] | None:
        if self.lens_name == VISIT and (first := next((x.key for x in targets(view) if x.measured is None), None)):
            return first
        worst = view.v.worst
        if worst is not None:
            return ("register", worst.register)
        if view.v.registers:
            return ("register", next(iter(view.v.registers)))
        first = next((x.key for x in targets(view)), None) if view.v.heads else None
        return first or super().default_selection(view)

    def lens(self, view: View) -> Lens:
        out = Lens(self.lenses[self.lens_index], ducts_faint=True, registers=True, text_at="row")
        storey = {r.id: r.storey for r in view.job.rooms}
        for s in view.job.storeys:
            mine = [x for x in view.v.registers.values() if storey[x.room] == s.id]
            out.storey_figures[s.id] = f"{sum(x.measured is not None for x in mine)} of {len(mine)}"
            if not mine and view.v.heads:
                own = [
                    view.v.heads[u.id]
                    for u in view.job.design.indoor_units
                    if u.storey == s.id and u.id in view.v.heads
                ]
                out.storey_figures[s.id] = f"{sum(v.share is not None for v in own)} of {len(own)}"
        out.storey_unit = "registers read" if view.v.registers or not view.v.heads else "heads read"
        pressures = room_pressures(view)
        for _, r in on_storey(view):
            out.room_text[r.id] = [(r.name, "", 13, 600, ""), *readings_heads.room_lines(view, r.id)]
            if r.id in pressures:
                said, mark = pressures[r.id]
                out.room_text[r.id].append((said, "", 14.0, 700, mark if mark == "look" else ""))
            marks = [x.mark for x in view.v.registers.values() if x.room == r.id]
            worst = max(marks, key=MARKS.index, default="none")
            if worst in ("fails", "look"):
                out.fills[r.id] = view.theme(f"{worst}_soft")
        out.legend_title = f"Bar, {view.unit('flow')}" if self.lens_name != "Static" else "Tint, flow read"
        out.legend = (
            Legend("mark", "good", f"within {BALANCE_SHARE * 100:.0f} %"),
            Legend("mark", "look", f"within {LOOK_SHARE * 100:.0f} %"),
            Legend("mark", "fails", "beyond"),
            Legend("mark", "none", "to read"),
        )
        here = target(view)
        if all_heads(view):
            out.text_at = "centre"
            return out
        if pressures:
            out.text_at, out.legend_title = "centre", "Over the hall, doors shut"
            limit = view.text("pressure3", DOOR_LIMIT_PA)
            out.legend = (
                Legend("mark", "good", f"within {limit}"),
                Legend("mark", "look", "beyond"),
                Legend("mark", "none", "to read"),
            )
        elif self.lens_name != "Static" and (here is None or here.place.at.kind == "register"):
            out.overlay = (lambda p, v: draw_places(p, v, view), lambda p, v: bullets(p, v, view))
        else:
            out.overlay = (lambda p, v: draw_statics(p, v, view),)
        return out

    def strip(self, view: View) -> Strip:
        if self.lens_name == VISIT:
            return visit_strip(view)
        if all_heads(view):
            return readings_heads.strip(view)
        return Strip("", "", (), lambda p, r: dock(p, r, view), click=lambda x, _, r: dock_click(x, r, view))

    def ledger(self, view: View) -> Ledger:
        if all_heads(view):
            return readings_heads.ledger(view)
        return rooms_table(view, _table(view), "Read so far", extra=_hole_rows(view))

    def card(self, view: View) -> Card:
        here = target(view)
        if here is not None and here.hole is not None:
            return self._hole(view, here, here.hole)
        x = here.register if here is not None else None
        if here is None or x is None:
            if not view.v.count:
                return Card(
                    "Readings", "Nothing to read yet", "none", hero_note="Readings needs a picked unit: press 3"
                )
            room = next((r.name for r in view.job.rooms if r.id == room_of(view)), "This")
            return Card("Readings", room, "none", hero_note="No register here: select one to read", unpicked=True)
        said = suspect_sections(view)
        sections: list[Section] = [Fields("Type a reading", (_field(view, here),)), *lesson_sections(view.lesson)]
        if self.lens_name == VISIT:
            sections += _of_visit(view, here)
        else:
            sections += said if said and x.mark in ("fails", "look") else [Arith(explain_verdict(x))]
        statics = tuple(
            ListRow(short_name(h), view.text(h.kind, h.measured), key=("hole", h.place.word))
            for h in statics_of(view)
        )
        if statics and self.lens_name != VISIT:
            sections.append(List_("At the unit", "", statics))
        sections.append(_history(view, here))
        sections.append(
            Buttons(
                (
                    Button("simulate", "Simulate it", "S", lambda: view.act.command("readings.simulate")),
                    Button("forget", "Forget last", "", lambda: view.act.command("readings.forget")),
                )
            )
        )
        share = f"{x.share * 100:.0f} %" if x.share is not None else "–"
        note = (
            f"{x.reading.instrument or 'typed'} {x.reading.taken}".strip()
            + (", simulated" if x.reading.simulated else "")
            if x.reading
            else "not read yet"
        )
        note = f"predicted {view.num('flow', x.predicted)} · {note}"
        return Card(
            f"Register · {view.storey_name(next(r.storey for r in view.job.rooms if r.id == x.room))} · {next(r.name for r in view.job.rooms if r.id == x.room)}",
            x.tag,
            x.mark,
            "",
            ((view.num("flow", x.measured), view.unit("flow"), "fails" if x.mark == "fails" else "ink"),),
            note,
            (
                (share, "of design", "fails" if x.mark == "fails" else "ink"),
                (view.num("flow", x.design), "design", "ink"),
            ),
            tuple(sections),
        )

    def _hole(self, view: View, here: Target, h: HoleVerdict) -> Card:
        rows = (
            ListRow("Predicted", view.num(h.kind, h.predicted), view.unit(h.kind)),
            ListRow("Measured", view.num(h.kind, h.measured), view.unit(h.kind)),
        )
        unit = next((x.tag for x in view.job.design.indoor_units if x.id == h.place.at.id), "")
        several = len(view.v.externals) > 1
        head = view.v.heads.get(h.place.at.id)
        more: tuple[Section, ...] = (Arith(explain_head(head)),) if head is not None else ()
        what, kind = ("Air of the head" if head is not None else "Test hole"), _quantity(here)
        if h.place.at.kind == "room":
            what, kind = "Room, doors shut", "pressure over the hall"
        elif h.place.at.kind == "run":
            what = "Duct, traversed"
        elif h.place.hole is None:
            what = "Return" if h.place.quantity == "flow" else "Unit"
        several = (several or head is not None) and bool(unit)
        return Card(
            f"{what} · {kind}" + (f" · {unit}" if several else ""),
            short_name(h),
            "none" if h.measured is None else "",
            "to read" if h.measured is None else "",
            ((view.num(h.kind, h.measured), view.unit(h.kind), "ink"),),
            f"predicted {view.text(h.kind, h.predicted)}" if h.predicted is not None else "",
            (),
            (
                Fields("Type a reading", (_field(view, here),)),
                *lesson_sections(view.lesson),
                *(
                    _of_visit(view, here)
                    if self.lens_name == VISIT
                    else (
                        List_(QUANTITIES[h.place.quantity].name, "", rows),
                        *more,
                        *proven_sections(view, h.place),
                        *suspect_sections(view),
                    )
                ),
                _history(view, here),
            ),
        )


def _of_visit(view: View, here: Target) -> list[Section]:
    """How the house stands, the step in hand, and what the next reading would tell."""
    step = step_list(view, here.place)
    return [state_fields(view), *([step] if step is not None else []), *proven_sections(view, here.place)]


def _quantity(x: Target) -> str:
    """'flow', 'wet bulb'."""
    return x.place.quantity.replace("_", " ")


def _field(view: View, x: Target) -> Field_:
    """Where the target's figure is typed; the one in place is shown, and replaced only after it was asked."""
    ask, old = "", x.reading
    invented = sum(r.simulated for r in latest(view.job).values())
    if invented:
        ask = f"{invented} readings here are simulated: Enter again keeps your {x.short}, and they count no longer"
    elif old is not None:
        ask = f"{x.short} reads {view.text(x.kind, x.measured)} already: Enter again counts yours instead, Esc leaves it"
    return Field_(
        f"read.{x.place.word}",
        ", ".join(y for y in (x.name, _quantity(x), state_words(view.job, x.place.state.of_air)) if y),
        x.kind,
        x.measured,
        lambda job, v: add_reading(job, x.place, float(v)),
        f"Keep reading of {x.short}",
        width=2,
        entry=True,
        ask=ask,
        doubts=lambda v: doubt(x.place, v, view.units, view.r if x.place.state.of_air == AS_FOUND else None),
    )


@dataclass(frozen=True)
class _Read:
    """Registers of some rooms together; of one room only once all of them have been read."""

    all: list[RegisterVerdict]
    read: list[RegisterVerdict]
    whole: bool
    """The house: what has been read so far, against its own design."""
    room: bool

    @property
    def counted(self) -> list[RegisterVerdict]:
        return self.read if self.whole else self.all

    @property
    def design(self) -> float:
        return sum(x.design for x in self.counted)

    @property
    def predicted(self) -> float | None:
        if self.room and not (self.all and all(x.predicted is not None for x in self.all)):
            return None
        return sum(x.predicted or 0 for x in self.counted)

    @property
    def measured(self) -> float | None:
        if self.whole or (self.read and (not self.room or len(self.read) == len(self.all))):
            return sum(x.measured or 0 for x in self.read)
        return None

    @property
    def share(self) -> float | None:
        return self.measured / self.design if self.measured is not None and self.design else None

    @property
    def mark(self) -> str:
        return max((x.mark for x in self.all), key=MARKS.index, default="none")


def _read(view: View, x: Rooms) -> _Read:
    mine = [v for v in view.v.registers.values() if v.room in x.ids]
    return _Read(mine, [v for v in mine if v.measured is not None], x.whole, x.of == "room")


def _table(view: View) -> tuple[Told[Rooms], ...]:
    """Rooms by what their registers were to bring, and do."""

    def registers(x: Rooms) -> str:
        mine = _read(view, x)
        return _tags(view, mine.all) if mine.room else f"{len(mine.read)} of {len(mine.all)}"

    def share(x: Rooms) -> str:
        v = _read(view, x).share
        return f"{v * 100:.0f} %" if v and x.of != "storey" else "" if x.of == "storey" else "–"

    def bar(x: Rooms) -> Cell:
        v = _read(view, x)
        return Cell() if v.share is None else Cell(centre_bar=v.share - 1, bar_color=COLOR[v.mark])

    def says(x: Rooms) -> str:
        mine = _read(view, x)
        return _says(mine) if mine.room else _left(view, mine) if mine.whole else ""

    return (
        named(116),
        Told("Registers", 82, registers, align="l"),
        Told("Design", 80, lambda x: _read(view, x).design, "flow"),
        Told("Predicted", 78, lambda x: _read(view, x).predicted, "flow", unit=""),
        Told("Measured", 80, lambda x: _read(view, x).measured, "flow", bold=True, unit=""),
        Told("of design", 70, share, bold=True),
        Told("Measured against design", 222, bar, align="l", alone=True),
        Told("What it says", 196, says, align="l"),
        state(30, lambda x: _read(view, x).mark),
    )


def _left(view: View, x: _Read) -> str:
    left = sum(v.design for v in x.all if v.measured is None)
    if left > 1e-6:
        return f"{view.text('flow', left)} still to read"
    return "all read" if x.all else "no register"


def _tags(view: View, rows: list[RegisterVerdict]) -> str:
    """The registers of a room, the one in hand pointed out."""
    here = target(view)
    mine = here.register.register if here is not None and here.register is not None else ""
    return ", ".join(("▸" if x.register == mine else "") + x.tag.split()[0] for x in rows)


def _hole_rows(view: View) -> tuple[Row, ...]:
    """The test holes of the unit in hand, the target or the first unread one to be selected."""
    mine = [x for x in targets(view) if x.hole is not None and (x.place.hole or x.place.quantity == "power")]
    here = target(view)
    if not mine:
        return ()
    read = [x for x in mine if x.measured is not None]
    at = (
        here if here is not None and here.hole is not None else next((x for x in mine if x.measured is None), mine[0])
    )
    cells = (
        Cell("Test holes", True),
        Cell(f"{len(read)} of {len(mine)}"),
        Cell(),
        Cell(view.num(at.kind, at.hole.predicted if at.hole is not None else None)),
        Cell(view.num(at.kind, at.measured), True),
        Cell(view.unit(at.kind)),
        Cell(f"{'▸' if at is here else ''}{at.name}, {_quantity(at)}"),
        Cell("to read" if at.measured is None else "read"),
        Cell(),
    )
    return (Row(at.key, cells),)


def _says(x: _Read) -> str:
    """What the readings of a room come to, in words."""
    if not x.all:
        return "no register"
    if not x.read:
        return "to read"
    if x.mark in ("look", "fails"):
        return ", ".join(f"{v.tag.split()[0]} {v.share * 100:.0f} %" for v in x.read if v.share is not None)
    return f"within {max(1.0, max(abs((v.share or 1) - 1) for v in x.read) * 100):.0f} %"


def _history(view: View, x: Target) -> List_:
    """The readings kept of a place, the last one first, and after them those of registers that have gone."""
    design, real = view.job.design, any(not r.simulated for r in latest(view.job).values())
    mine = [r for r in design.readings if (r.at, r.hole) == (x.place.at, x.place.hole)]
    gone = [r for r in design.readings if r.hole is None and r.quantity == "flow" and r.at.kind == "indoor_unit"]

    def row(r: Reading, place: str = "") -> ListRow:
        notes = ["simulated"] if r.simulated else [r.person] if r.person else []
        notes += [words] if (words := state_words(view.job, r.state)) else []
        if r.layout != design.layout:
            notes.append("of earlier ducts")
        elif r.simulated and real and r.phase == "after":
            notes.append("not counted")
        return ListRow(
            place or f"{r.taken or 'kept'}  {r.instrument or 'typed'}{', before' if r.phase == 'before' else ''}",
            view.text(QUANTITIES[r.quantity].shown_as, r.value),
            second=" · ".join(notes),
        )

    rows = [row(r) for r in reversed(mine)]
    rows += [row(r, r.note.rpartition("Read at ")[2].partition(", which")[0] or "elsewhere") for r in reversed(gone)]
    return List_(f"Readings of {x.short}", "", tuple(rows) or (ListRow("none yet", "–"),))


def add_reading(job: Job, place: Place, value: float) -> Job:
    """Keep a typed reading."""
    return insert(
        job,
        "readings",
        make(
            Reading,
            f"Reading of {place.word}",
            id=next_id(job),
            at=place.at,
            hole=place.hole,
            quantity=place.quantity,
            value=value,
            uncertainty=READS[place.quantity].uncertainty,
            instrument="typed",
            layout=job.design.layout,
            state=place.state,
            taken=datetime.now().strftime("%a %H:%M"),
        ),
    )


def traversed(view: View) -> LaidRun | None:
    """The duct that a traverse is of: the selected one, or that of the selected register."""
    s = view.selection
    if s is not None and s.kind == "run":
        return view.r.runs[s.id].run if s.id in view.r.runs else None
    here = target(view)
    face = here.place.at.id if here is not None and here.place.at.kind == "register" else ""
    return next((x.run for x in view.r.runs.values() if face and x.run.register_id == face), None)


def add_traverse(job: Job, place: Place, found: Traverse, points: list[float], tool: Tool) -> Job:
    """Keep what the points come to."""
    reading = make(
        Reading,
        place.name,
        id=next_id(job),
        at=place.at,
        quantity="flow",
        value=max(found.flow_m3_s, 0.0),
        uncertainty=found.share,
        instrument=tool.name,
        layout=job.design.layout,
        state=job.design.stands,
        points=tuple(points),
        taken=datetime.now().strftime("%a %H:%M"),
    )
    return insert(job, "readings", reading)
