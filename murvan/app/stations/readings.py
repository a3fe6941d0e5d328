"""Station 7, Readings: enter, import or simulate; verdict and suspects."""

from __future__ import annotations

from datetime import datetime

from murvan.app.plan.lens import Legend, Lens
from murvan.app.stations.base import (
    Arith,
    Button,
    Buttons,
    Card,
    Cell,
    Column,
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
from murvan.app.stations.common import on_storey, other_rows, room_rows
from murvan.app.stations.readings_drawn import COLOR, bullets, dock, dock_click, draw_statics
from murvan.app.stations.readings_targets import Target, after, short_name, statics_of, target, targets
from murvan.design.limits import BALANCE_SHARE, LOOK_SHARE
from murvan.field import diagnosis
from murvan.field.places import Place
from murvan.field.readings import next_id
from murvan.field.verdict import MARKS, HoleVerdict, RegisterVerdict, latest
from murvan.field.verdict import explain as explain_verdict
from murvan.kinds.readings import QUANTITIES
from murvan.model import Job, Reading, insert, make


class ReadingsStation(Station):
    number, name = 7, "Readings"
    lenses = ("Flow", "Static")
    tools = (("readings.simulate", "flow-hood"), ("readings.import", "open-job"))
    row_fields = "read."
    picks_units = True

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
        return s is None or s.kind == "hole" or room_of(view) is not None

    def mark(self, view: View) -> str:
        return view.v.mark

    def headline(self, view: View) -> Headline:
        v = view.v
        if not v.count:
            return Headline("none", "–", "", "no registers")
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
        worst = view.v.worst
        if worst is not None:
            return ("register", worst.register)
        return ("register", next(iter(view.v.registers))) if view.v.registers else super().default_selection(view)

    def lens(self, view: View) -> Lens:
        out = Lens(self.lenses[self.lens_index], ducts_faint=True, registers=True, text_at="row")
        storey = {r.id: r.storey for r in view.job.rooms}
        for s in view.job.storeys:
            mine = [x for x in view.v.registers.values() if storey[x.room] == s.id]
            out.storey_figures[s.id] = f"{sum(x.measured is not None for x in mine)} of {len(mine)}"
        out.storey_unit = "registers read"
        for _, r in on_storey(view):
            out.room_text[r.id] = [(r.name, "", 13, 600, "")]
            marks = [x.mark for x in view.v.registers.values() if x.room == r.id]
            worst = max(marks, key=MARKS.index, default="none")
            if worst in ("fails", "look"):
                out.fills[r.id] = view.theme(f"{worst}_soft")
        out.legend_title = f"Bar, {view.unit('flow')}" if self.lens_index == 0 else "Tint, flow read"
        out.legend = (
            Legend("mark", "good", f"within {BALANCE_SHARE * 100:.0f} %"),
            Legend("mark", "look", f"within {LOOK_SHARE * 100:.0f} %"),
            Legend("mark", "fails", "beyond"),
            Legend("mark", "none", "to read"),
        )
        here = target(view)
        if self.lens_index == 0 and (here is None or here.hole is None):
            out.overlay = (lambda p, v: bullets(p, v, view),)
        else:
            out.overlay = (lambda p, v: draw_statics(p, v, view),)
        return out

    def strip(self, view: View) -> Strip:
        return Strip("", "", (), lambda p, r: dock(p, r, view), click=lambda x, _, r: dock_click(x, r, view))

    def ledger(self, view: View) -> Ledger:
        return Ledger(
            _columns(view),
            (*room_rows(view, lambda i, _: _room_cells(view, i)), *_hole_rows(view)),
            other_rows(view, lambda idx: _other_cells(view, idx)),
            _total(view),
        )

    def card(self, view: View) -> Card:
        here = target(view)
        if here is not None and here.hole is not None:
            return self._hole(view, here, here.hole)
        x = here.register if here is not None else None
        if here is None or x is None:
            if not view.v.count:
                return Card("Readings", "Nothing to read yet", "none", hero_note="Readings needs ducts: press 5")
            room = next((r.name for r in view.job.rooms if r.id == room_of(view)), "This")
            return Card("Readings", room, "none", hero_note="No register here: select one to read", unpicked=True)
        found = view.figures.suspects
        rows = tuple(
            ListRow(f"{k}  {q.title}", f"{q.weight * 100:.0f} %", second=q.what_to_try, bar=q.weight, selected=k == 1)
            for k, q in enumerate(found, 1)
            if q.weight > 0.005
        )
        sections: list[Section] = [Fields("Type a reading", (_field(view, here),))]
        if rows and x.mark in ("fails", "look"):
            sections.append(List_(f"What would explain all {view.v.read} readings", "", rows))
            sections.append(Arith(diagnosis.explain(found[0])))
        else:
            sections.append(Arith(explain_verdict(x)))
        statics = tuple(
            ListRow(short_name(h), view.text(h.kind, h.measured), key=("hole", h.place.word))
            for h in statics_of(view)
        )
        if statics:
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
        unit = next(x.tag for x in view.job.design.indoor_units if x.id == h.place.at.id)
        several = len(view.v.externals) > 1
        return Card(
            f"Test hole · {h.place.quantity}" + (f" · {unit}" if several else ""),
            short_name(h),
            "none" if h.measured is None else "",
            "to read" if h.measured is None else "",
            ((view.num(h.kind, h.measured), view.unit(h.kind), "ink"),),
            f"predicted {view.text(h.kind, h.predicted)}",
            (),
            (
                Fields("Type a reading", (_field(view, here),)),
                List_(h.place.quantity.capitalize(), "", rows),
                _history(view, here),
            ),
        )


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
        f"{x.name}, {x.place.quantity}",
        x.kind,
        x.measured,
        lambda job, v: add_reading(job, x.place, float(v)),
        f"Keep reading of {x.short}",
        width=2,
        entry=True,
        ask=ask,
    )


def _columns(view: View) -> tuple[Column, ...]:
    return (
        Column("Room", "", 116, "l"),
        Column("Registers", "", 82, "l"),
        Column("Design", view.unit("flow"), 80),
        Column("Predicted", "", 78),
        Column("Measured", "", 80),
        Column("of design", "", 70),
        Column("Measured against design", "", 222, "l"),
        Column("What it says", "", 196, "l"),
        Column("", "", 30),
    )


def _verdicts_of(view: View, i: int) -> list[RegisterVerdict]:
    return [x for x in view.v.registers.values() if x.room == view.job.rooms[i].id]


def _tags(view: View, rows: list[RegisterVerdict]) -> str:
    """The registers of a room, the one in hand pointed out."""
    here = target(view)
    mine = here.register.register if here is not None and here.register is not None else ""
    return ", ".join(("▸" if x.register == mine else "") + x.tag.split()[0] for x in rows)


def _hole_rows(view: View) -> tuple[Row, ...]:
    """The test holes of the unit in hand, the target or the first unread one to be selected."""
    mine, here = [x for x in targets(view) if x.hole is not None], target(view)
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
        Cell(f"{'▸' if at is here else ''}{at.name}, {at.place.quantity}"),
        Cell("to read" if at.measured is None else "read"),
        Cell(),
    )
    return (Row(at.key, cells),)


def _room_cells(view: View, i: int) -> list[Cell]:
    """A room's registers together; measured only once all of them have been read."""
    rows = _verdicts_of(view, i)
    design = sum(x.design for x in rows)
    foretold = rows and all(x.predicted is not None for x in rows)
    read = [x for x in rows if x.measured is not None]
    measured = sum(x.measured or 0 for x in read) if rows and len(read) == len(rows) else None
    share = measured / design if measured is not None and design else None
    mark = max((x.mark for x in rows), key=MARKS.index, default="none")
    return [
        Cell(view.job.rooms[i].name, True),
        Cell(_tags(view, rows)),
        Cell(view.num("flow", design)),
        Cell(view.num("flow", sum(x.predicted or 0 for x in rows) if foretold else None)),
        Cell(view.num("flow", measured), True),
        Cell(f"{share * 100:.0f} %" if share else "–", True),
        Cell(centre_bar=share - 1, bar_color=COLOR[mark]) if share is not None else Cell(),
        Cell(_says(rows, read, mark)),
        Cell(mark=mark),
    ]


def _says(rows: list[RegisterVerdict], read: list[RegisterVerdict], mark: str) -> str:
    """What the readings of a room come to, in words."""
    if not rows:
        return "no register"
    if not read:
        return "to read"
    if mark in ("look", "fails"):
        return ", ".join(f"{x.tag.split()[0]} {x.share * 100:.0f} %" for x in read if x.share is not None)
    return f"within {max(1.0, max(abs((x.share or 1) - 1) for x in read) * 100):.0f} %"


def _other_cells(view: View, idx: list[int]) -> list[Cell]:
    """The rooms of another storey in one row."""
    rows = [x for i in idx for x in _verdicts_of(view, i)]
    read = [x for x in rows if x.measured is not None]
    return [
        Cell(f"{len(read)} of {len(rows)}"),
        Cell(view.num("flow", sum(x.design for x in rows))),
        Cell(view.num("flow", sum(x.predicted or 0 for x in rows))),
        Cell(view.num("flow", sum(x.measured or 0 for x in read)) if read else "–"),
        Cell(),
        Cell(),
        Cell(),
        Cell("▸"),
    ]


def _total(view: View) -> Row:
    """What has been read, and what is left."""
    v = view.v
    read = [x for x in v.registers.values() if x.measured is not None]
    design = sum(x.design for x in read)
    got = sum(x.measured or 0 for x in read)
    left = sum(x.design for x in v.registers.values()) - design
    return Row(
        None,
        (
            Cell("Read so far"),
            Cell(f"{v.read} of {v.count}"),
            Cell(view.num("flow", design)),
            Cell(view.num("flow", sum(x.predicted or 0 for x in read))),
            Cell(view.num("flow", got)),
            Cell(f"{got / design * 100:.0f} %" if design else "–"),
            Cell(),
            Cell(
                f"{view.text('flow', left)} still to read"
                if left > 1e-6
                else "all read"
                if v.count
                else "no register"
            ),
            Cell(),
        ),
    )


def _history(view: View, x: Target) -> List_:
    """The readings kept of a place, the last one first, and after them those of registers that have gone."""
    design, real = view.job.design, any(not r.simulated for r in latest(view.job).values())
    mine = [r for r in design.readings if (r.at, r.hole) == (x.place.at, x.place.hole)]
    gone = [r for r in design.readings if r.hole is None and r.quantity == "flow" and r.at.kind == "indoor_unit"]

    def row(r: Reading, place: str = "") -> ListRow:
        notes = ["simulated"] if r.simulated else [r.person] if r.person else []
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
            instrument="typed",
            layout=job.design.layout,
            taken=datetime.now().strftime("%a %H:%M"),
        ),
    )
