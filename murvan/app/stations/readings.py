"""Station 7, Readings: enter, import or simulate; verdict and suspects."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSizeF
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.plan.labels import Corners, around, everywhere, within
from murvan.app.plan.lens import Legend, Lens
from murvan.app.plan.sheet import Sheet
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
from murvan.app.theme import Theme
from murvan.arrays import Array
from murvan.design.limits import BALANCE_SHARE, LOOK_SHARE
from murvan.field import diagnosis
from murvan.field.places import Place, register_place
from murvan.field.readings import next_id
from murvan.field.verdict import MARKS, HoleVerdict, RegisterVerdict, latest
from murvan.field.verdict import explain as explain_verdict
from murvan.kinds.readings import QUANTITIES
from murvan.model import Job, Reading, insert, make

COLOR = {"good": "good", "look": "look", "fails": "fails", "none": "outline"}


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
            out.overlay = (lambda p, v: _bullets(p, v, view),)
        else:
            out.overlay = (lambda p, v: _statics(p, v, view),)
        return out

    def strip(self, view: View) -> Strip:
        return Strip("", "", (), lambda p, r: _dock(p, r, view), click=lambda x, _, r: _dock_click(x, r, view))

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
            ListRow(_short(h), view.text(h.kind, h.measured), key=("hole", h.place.word)) for h in _statics_of(view)
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
            _short(h),
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


def _statics_of(view: View) -> tuple[HoleVerdict, ...]:
    """The test holes for static of the unit in hand."""
    return tuple(h for h in view.v.holes_of(view.indoor.id) if h.place.quantity == "static")


def _short(h: HoleVerdict) -> str:
    """'Return before the filter'."""
    return h.place.short.capitalize()


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
        return self.register.tag if self.register is not None else _short(self.hole) if self.hole is not None else ""

    @property
    def short(self) -> str:
        return self.name.split()[0] if self.register is not None else self.name


def targets(view: View) -> tuple[Target, ...]:
    """All that can be read: registers, this storey's first, then the test holes of the unit in hand."""
    storey = {r.id: r.storey for r in view.job.rooms}
    faces = sorted(view.v.registers.values(), key=lambda x: storey[x.room] != view.storey)
    last = latest(view.job)
    places = [(register_place(x.register, x.tag), x) for x in faces]
    return (
        *(Target(("register", x.register), p, "flow", x.measured, x.reading, register=x) for p, x in places),
        *(
            Target(("hole", h.place.word), h.place, h.kind, h.measured, last.get(h.place.key), hole=h)
            for h in view.v.holes_of(view.indoor.id)
        ),
    )


def target(view: View) -> Target | None:
    """What the card, the plan, the table and the field are about: what is selected, of a room its first register that is not
    read yet; None where a room has none."""
    all_ = targets(view)
    s = view.selection
    if s is None:
        return None
    wanted = (s.kind, s.id)
    if s.kind == "run":
        wanted = ("register", next((x.register_id or "" for x in view.job.design.runs if x.id == s.id), ""))
    room = room_of(view)
    mine = [x for x in all_ if x.register is not None and x.register.room == room]
    return next((x for x in all_ if x.key == wanted), None) or next(
        (x for x in mine if x.measured is None), mine[0] if mine else None
    )


def after(view: View, job: Job) -> list[Target]:
    """What is not read yet in a job that may be newer than the figures, from the target on."""
    all_, here, read = list(targets(view)), target(view), latest(job)
    k = next((n for n, x in enumerate(all_) if here is not None and x.key == here.key), -1)
    return [x for x in (*all_[k + 1 :], *all_[: max(k, 0)]) if x.place.key not in read]


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


def bullet(p: QPainter, r: QRectF, x: RegisterVerdict, t: Theme) -> None:
    """Bar measured, tall tick design, green band what counts as good, hollow triangle predicted."""
    top = max(x.design * 1.35, (x.measured or 0) * 1.05, 1e-9)
    p.fillRect(r, t("track"))
    unit = r.width() * x.design / top
    band = QRectF(r.left() + unit * (1 - BALANCE_SHARE), r.top(), unit * 2 * BALANCE_SHARE, r.height())
    p.fillRect(band, t("band"))
    if x.measured is not None:
        p.fillRect(
            QRectF(r.left(), r.top() + r.height() * 0.28, r.width() * x.measured / top, r.height() * 0.44),
            t(COLOR[x.mark]),
        )
    dx = r.left() + r.width() * x.design / top
    p.fillRect(QRectF(dx - 1.2, r.top() - 2, 2.4, r.height() + 4), t("ink"))
    if x.predicted is not None:
        px = r.left() + r.width() * min(x.predicted / top, 1)
        p.setPen(QPen(t("ink"), 1.2))
        p.setBrush(t("paper"))
        p.drawPolygon(
            QPolygonF([QPointF(px - 4, r.top() - 8), QPointF(px + 4, r.top() - 8), QPointF(px, r.top() - 1)])
        )


BULLET, SMALL = (108.0, 46.0), (72.0, 19.0)
CROWDED = 0.16
"""Share of the plan that whole cards of registers may take; beyond, all but the one in hand are small."""


def _bullets(p: QPainter, v: Sheet, view: View) -> None:
    """A small card at every register."""
    t = view.theme
    here = target(view)
    many = len(v.registers()) * BULLET[0] * BULLET[1] > CROWDED * v.width() * v.height()
    for x in v.registers():
        q = view.v.registers.get(x.id)
        if q is None:
            continue
        c = v.to_px(*x.position_m)
        at = [v.to_px(*q) for q in v.room(x.room).outline_m]
        corners = tuple((q.x(), q.y()) for q in at)
        on = here is not None and here.key == ("register", x.id)
        size = SMALL if many and not on else BULLET
        r = v.labels.place(QSizeF(*size), _spots(corners, (c.x(), c.y()), size))
        if r is None:
            continue
        if not _inside(corners, ((r.center().x(), r.center().y()),), size)[0]:
            p.setPen(QPen(t("ink2"), 1.4))  # a card outside its room hangs on a leader
            p.drawLine(c, QPointF(min(max(c.x(), r.left()), r.right()), min(max(c.y(), r.top()), r.bottom())))
        v.tag_hits.append((r, "register", x.id))
        paint.rounded(
            p, r, t("select_soft") if on else t("paper"), t("ink") if on else t("outline"), 4, 1.8 if on else 1
        )
        figure = view.num("flow", q.measured)
        if size is SMALL:
            paint.mark(p, q.mark, r.left() + 10, r.center().y(), t, 5.5)
            w = paint.text(p, r.left() + 19, r.top() + 13.5, x.tag.split()[0], 11.5, 700, t("ink"), width=30)
            paint.text(p, r.left() + 23 + w, r.top() + 13.5, figure, 12, 600, t("ink"), width=r.width() - 26 - w)
            continue
        paint.mark(p, q.mark, r.left() + 13, r.top() + 14, t)
        w = paint.text(p, r.left() + 25, r.top() + 20, figure, 17, 700, t("ink"))
        paint.text(
            p,
            r.left() + 29 + w,
            r.top() + 20,
            f"of {view.num('flow', q.design)}",
            12,
            500,
            t("ink2"),
            width=r.width() - 32 - w,
        )
        bullet(p, QRectF(r.left() + 8, r.top() + 31, r.width() - 16, 9), q, t)


@lru_cache(maxsize=256)
def _inside(corners: Corners, spots: Corners, size: tuple[float, float]) -> NDArray[np.bool_]:
    """Which centres for a card keep it within its own room."""
    w, h = size[0] / 2 + 2, size[1] / 2 + 2
    centres = np.array(spots)
    inside = np.ones(len(spots), bool)
    for corner in ((-w, -h), (w, -h), (-w, h), (w, h)):
        inside &= within(centres + np.array(corner), corners)
    return inside


@lru_cache(maxsize=256)
def _spots(corners: Corners, at: tuple[float, float], size: tuple[float, float]) -> Array:
    """Centres for a card about a register, those first that keep it in the room, with space above for its mark."""
    spots = around(QPointF(*at), QSizeF(*size), 12)
    inside = _inside(corners, tuple(map(tuple, spots.tolist())), size)
    return np.concatenate([spots[inside], spots[~inside]])


def _statics(p: QPainter, v: Sheet, view: View) -> None:
    """Test holes at the unit: one small table where the plan leaves room, measured and predicted."""
    t = view.theme
    if view.indoor.storey != v.storey:
        return
    c = v.to_px(*view.indoor.position_m)
    holes = _statics_of(view)
    if all(h.predicted is None and h.measured is None for h in holes):
        return
    here = target(view)
    size = QSizeF(178.0, 26.0 + 37 * len(holes))
    anywhere = everywhere(v.labels.bounds, size, c)
    r = v.labels.place(size, np.concatenate([around(c, size, 26.0), anywhere]))
    if r is None:
        return
    paint.rounded(p, r, t("paper"), t("outline"), 3)
    left, right = r.left() + 10, r.right() - 10
    paint.text(p, left, r.top() + 17, f"At the unit, {view.unit(holes[0].kind)}", 11.5, 600, t("ink3"))
    for k, h in enumerate(holes):
        y = r.top() + 37 + 37 * k
        line = QRectF(r.left(), y - 13, r.width(), 34)
        v.tag_hits.append((line, "hole", h.place.word))
        if here is not None and here.key == ("hole", h.place.word):
            p.fillRect(line.adjusted(3, 0, -3, 0), t("select_soft"))
            p.fillRect(QRectF(line.left() + 1, line.top(), 4, line.height()), t("ink"))
        paint.text(p, left, y, _short(h), 12, 500, t("ink2"))
        paint.text(p, left, y + 17, view.num(h.kind, h.measured), 14, 700, t("ink"))
        paint.text(p, right, y + 17, f"{view.num(h.kind, h.predicted)} predicted", 12, 500, t("ink2"), "r")


def _dock(p: QPainter, r: QRectF, view: View) -> None:
    """Instruments: what the hood last read, the manometer, and what comes next."""
    t = view.theme
    here = target(view)
    x = here.register if here is not None else None
    if not view.v.count:
        paint.text(p, r.left() + 8, 40, "Nothing to read: lay out ducts first", 13, 500, t("ink2"))
        return
    box = QRectF(r.left(), 8, 258, 82)
    state = _state(x.reading) if x is not None else "not in hand"
    measured = view.num("flow", x.measured if x is not None else None)
    _instrument(p, box, t, "Flow hood", state, measured, view.unit("flow"), x.tag if x is not None else "")
    if x is not None:
        bullet(p, QRectF(box.left() + 132, box.top() + 42, 114, 13), x, t)
    external = view.v.external_of(view.indoor.id)
    total, predicted = external.measured, external.predicted
    box2 = QRectF(box.right() + 8, 8, 220, 82)
    _instrument(
        p,
        box2,
        t,
        "Manometer",
        "simulated" if external.simulated else "typed" if total is not None else "no reading",
        view.num("pressure", total),
        view.unit("pressure"),
        f"predicted {view.num('pressure', predicted)} · limit {view.num('pressure', view.s.ducts.limit_pa)}",
    )
    box3 = QRectF(box2.right() + 8, 8, 190, 82)
    paint.rounded(p, box3, t("select"), t("ink"), 6, 1.6)
    left = after(view, view.job)
    title, note = _next_words(view, here, bool(left))
    paint.text(p, box3.left() + 14, 38, title, 19, 700, t("on_select"), width=165)
    paint.text(p, box3.left() + 14, 56, note, 12, 500, t("on_select"), width=172)
    w = paint.key_cap(p, box3.left() + 14, 65, "Space", t)
    what = (
        "simulates it"
        if here is not None and here.measured is None
        else "simulates the next"
        if left
        else "simulates"
    )
    paint.text(p, box3.left() + 22 + w, 78.5, what, 12, 500, t("on_select"))
    xx = box3.right() + 14
    if r.right() - xx > 60:
        paint.text(p, xx, 22, "Then" if left else "Type or import", 12, 500, t("ink2"))
        for k, q in enumerate(left[:3]):
            if q.register is None:
                paint.text(p, xx, 44 + 20 * k, q.name, 12.5, 500, t("ink"), width=r.right() - xx)
                continue
            w = paint.key_cap(p, xx, 31 + 20 * k, q.short, t)
            rest = q.name.partition(" ")[2]
            paint.text(p, xx + w + 6, 44 + 20 * k, rest, 12.5, 500, t("ink"), width=r.right() - xx - w - 6)
        if not left:
            paint.text(p, xx, 44, "CSV: Ctrl+I", 12.5, 500, t("ink"))


def _state(reading: Reading | None) -> str:
    return "no reading" if reading is None else "simulated" if reading.simulated else "typed"


def _next_words(view: View, here: Target | None, more: bool) -> tuple[str, str]:
    """What the yellow card says: where a figure that is typed goes."""
    if here is None:
        return ("Select one", "this room has no register") if more else ("All read", "select one to correct it")
    if here.measured is None:
        return f"Next: {here.short}", f"{paint.elided(here.name, 12, 500, 84)}; type the figure"
    return (
        f"{here.short}: {view.num(here.kind, here.measured)}",
        f"{'read' if more else 'all read'}; type to correct it",
    )


def _dock_click(x: float, r: QRectF, view: View) -> None:
    if r.left() + 258 + 8 + 220 + 8 < x < r.left() + 258 + 8 + 220 + 8 + 190:
        view.act.command("readings.next")


def _instrument(p: QPainter, box: QRectF, t: Theme, name: str, state: str, value: str, unit: str, note: str) -> None:
    paint.rounded(p, box, QColor("#10181B"), t("outline"), 6)
    white, grey, yellow = QColor("#FFFFFF"), QColor("#C3CED2"), QColor("#FFD60A")
    paint.text(p, box.left() + 12, box.top() + 20, name, 12.5, 600, white)
    paint.text(p, box.right() - 12, box.top() + 20, state, 12, 500, grey, "r")
    w = paint.text(p, box.left() + 12, box.top() + 55, value, 32, 700, yellow if name == "Flow hood" else white)
    paint.text(p, box.left() + 18 + w, box.top() + 55, unit, 12.5, 500, grey)
    paint.text(p, box.left() + 12, box.top() + 73, note, 12, 500, white, width=box.width() - 22)
