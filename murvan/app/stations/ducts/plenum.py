"""The faces of a plenum side by side: take-offs are dragged on them and catch the lines they should sit on."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.solid_eye import Eye
from murvan.app.solid_look import draw
from murvan.app.stations.base import (
    Arith,
    Button,
    Buttons,
    Canvas,
    Card,
    Cell,
    Field_,
    Fields,
    Ledger,
    List_,
    ListRow,
    Picture,
    View,
)
from murvan.app.stations.ducts.unfolded import RING, Spread, face_names, side_words
from murvan.app.stations.fields import of
from murvan.app.stations.told import Told, table
from murvan.design.ducts import (
    PlenumDesign,
    TakeOff,
    explain_plenum,
    freed_plenum,
    held_plenum,
    moved_take_off,
    sized_plenum,
)
from murvan.design.limits import CUSHION_M
from murvan.design.metal import plenum_solid
from murvan.design.space import FACES, FIRST_M, Side, Trouble, side_of, side_size
from murvan.model.errors import JobValueError
from murvan.model.job import Job
from murvan.units import INCH

CATCH_PX = 7.0
STEP_M = 0.5 * INCH
MARGINS = (72.0, 66.0, 48.0, 84.0)
"""Round the faces: left, over, right, under; px."""
STANDS_PX = 210.0
NAME = "Plenums"


def in_hand(view: View) -> PlenumDesign | None:
    """The plenum that is selected, or on which the run selected starts; else the supply plenum."""
    boxes = view.ducted.plenums
    s = view.selection
    if s is not None and s.kind == "plenum":
        found = next((x for x in boxes if x.plenum.side == s.id), None)
        if found is not None:
            return found
    if s is not None and s.kind == "run":
        found = next((x for x in boxes if any(t.run.id == s.id for t in x.take_offs)), None)
        if found is not None:
            return found
    return next((x for x in boxes if x.plenum.side == "supply"), boxes[0] if boxes else None)


def chosen(view: View, x: PlenumDesign) -> TakeOff | None:
    """The take-off that is selected."""
    return next((t for t in x.take_offs if view.selected("run") == t.run.id), None)


# ---- where things are on the page -----------------------------------------------------------------------------


class Carried(NamedTuple):
    """A take-off under the pointer: where it would go, and the lines that it has caught."""

    take_off: TakeOff
    grip: tuple[float, float]
    """From its middle to where it was taken, px."""
    moved: bool
    lines: tuple[tuple[str, float], ...]
    """'up' or 'along', m."""
    home: TakeOff
    """Where it was taken from."""


class PlenumHand:
    """Takes hold of take-offs on the page; lets go by an edit."""

    def __init__(self) -> None:
        self.view: View | None = None
        self.carried: Carried | None = None

    def press(self, at: QPointF, page: QRectF) -> bool:
        view = self.view
        x = in_hand(view) if view is not None else None
        if view is None or x is None:
            return False
        spread = Spread.of(x, page, MARGINS)
        for side, r in tabs(view, page):
            if r.contains(at):
                view.act.select("plenum", side)
                return False
        for t in reversed(x.take_offs):
            if spread.hole(t).contains(at):
                view.act.select("run", t.run.id)
                c = spread.hole(t).center()
                self.carried = Carried(t, (at.x() - c.x(), at.y() - c.y()), False, (), t)
                return True
        return False

    def move(self, at: QPointF, page: QRectF) -> None:
        x, c = self._of(), self.carried
        if x is None or c is None:
            return
        spread = Spread.of(x, page, MARGINS)
        place = spread.at(at - QPointF(*c.grip))
        if place is None or place[0] not in face_names(x):
            self.carried = c._replace(take_off=c.home, moved=False, lines=())
            return
        side, along, up = place
        along, up, lines = caught(x, c.take_off, side, along, up, CATCH_PX / spread.scale)
        t = c.take_off
        from_end = None if side == "cap" else x.plenum.height_m - up - t.height_m / 2
        moved = TakeOff(t.run, face_names(x)[side], side, along, up, t.width_m, t.height_m, t.flow_m3_s, from_end)
        self.carried = c._replace(take_off=moved, moved=True, lines=lines)

    def release(self) -> None:
        c, view, self.carried = self.carried, self.view, None
        if c is None or not c.moved or view is None:
            return
        t = c.take_off
        view.act.edit(
            f"Move take-off {t.run.tag}"[:80],
            lambda job: moved_take_off(job, t.run.start, t.face, max(t.along_m, 0.0), t.from_end_m),
        )

    def let_be(self) -> bool:
        held, self.carried = self.carried, None
        return held is not None

    def _of(self) -> PlenumDesign | None:
        return in_hand(self.view) if self.view is not None else None


def caught(
    x: PlenumDesign, t: TakeOff, side: Side, along: float, up: float, near_m: float
) -> tuple[float, float, tuple[tuple[str, float], ...]]:
    """Where a take-off goes near a place on a side: on the lines it should sit on, else by half inches; kept on the side."""
    wide, tall = side_size(x.plenum, side)
    others = [o for o in x.take_offs if o.run.id != t.run.id]
    alongs = [wide / 2, *(o.along_m for o in others if o.side == side)]
    ups = [o.up_m for o in others if o.side == side or (side != "cap" and o.side != "cap")]
    if side == "cap":
        ups.append(tall / 2)
    else:
        ups += [tall - CUSHION_M - t.height_m / 2, FIRST_M + t.height_m / 2]
    lines = []
    near = min(alongs, key=lambda v: abs(v - along))
    if abs(near - along) <= near_m:
        along = near
        lines.append(("along", near))
    else:
        along = round((along - t.width_m / 2) / STEP_M) * STEP_M + t.width_m / 2
    near = min(ups, key=lambda v: abs(v - up), default=up + 1)
    if abs(near - up) <= near_m:
        up = near
        lines.append(("up", near))
    else:
        foot = round((tall - up - t.height_m / 2) / STEP_M) * STEP_M
        up = tall - foot - t.height_m / 2
    along = min(max(along, min(t.width_m / 2, wide / 2)), max(wide - t.width_m / 2, wide / 2))
    up = min(max(up, min(t.height_m / 2, tall / 2)), max(tall - t.height_m / 2, tall / 2))
    return along, up, tuple(lines)


# ---- painting -------------------------------------------------------------------------------------------------


def canvas(view: View, hand: PlenumHand) -> Canvas | None:
    """The page; None without a plenum."""
    x = in_hand(view)
    hand.view = view
    if x is None:
        return None

    def draw_page(p: QPainter, r: QRectF) -> None:
        _page(p, r, view, x, hand.carried)

    return Canvas(draw_page, hand=hand)


def tabs(view: View, page: QRectF) -> Iterator[tuple[str, QRectF]]:
    """The plenums of the unit, to be clicked."""
    left = page.left() + 18
    for x in view.ducted.plenums:
        wide = paint.text_width(_tab_words(x), 13, 600) + 24
        yield x.plenum.side, QRectF(left, page.top() + 14, wide, 26)
        left += wide - 1


def _tab_words(x: PlenumDesign) -> str:
    return f"{x.plenum.side.capitalize()} plenum"


def _page(p: QPainter, r: QRectF, view: View, x: PlenumDesign, carried: Carried | None) -> None:
    t = view.theme
    by_side = {b.plenum.side: b for b in view.ducted.plenums}
    for side, tab in tabs(view, r):
        on = side == x.plenum.side
        p.setPen(QPen(t("ink") if on else t("outline"), 1))
        p.setBrush(t("select_soft") if on else t("paper"))
        p.drawRect(tab)
        words = _tab_words(by_side[side])  # type: ignore[index]
        paint.text(p, tab.center().x(), tab.top() + 17.5, words, 13, 600 if on else 500, t("ink"), "c")
    far = r.left() + 18 + sum(tab.width() for _, tab in tabs(view, r)) + 14
    note = f"seen from outside, {view.unit('size')}; the air goes up the faces"
    paint.text(p, far, r.top() + 31.5, note, 12.5, 500, t("ink2"), width=r.right() - far - 10)
    spread = Spread.of(x, r, MARGINS)
    for s in ("cap", *RING):
        _side(p, view, x, spread, s)  # type: ignore[arg-type]
    wrong = {tag for _, w in x.troubles if w.kind in ("edge", "overlap") for tag in w.tags}
    for o in x.take_offs:
        if carried is None or o.run.id != carried.take_off.run.id:
            _hole(p, view, spread, o, o.run.tag in wrong)
    if carried is not None:
        _carried(p, view, x, spread, carried)
    else:
        selected = chosen(view, x)
        if selected is not None:
            _chains(p, view, spread, selected, x.take_offs)


def _side(p: QPainter, view: View, x: PlenumDesign, spread: Spread, side: Side) -> None:
    """A side with its size, and the lines that take-offs should sit between."""
    t, r = view.theme, spread.rect(side)
    usable = side in face_names(x)
    p.setPen(QPen(t("ink"), 1.6))
    p.setBrush(t("paper") if usable else t("panel"))
    p.drawRect(r)
    wide, tall = spread.size[side]
    if side == "cap":
        paint.text(p, r.left() + 6, r.top() + 16, side_words(x, side), 12.5, 600, t("ink2"))
        return
    p.setPen(QPen(t("outline"), 1, Qt.PenStyle.DashLine))
    for up in (tall - CUSHION_M, FIRST_M):
        if 0 < up < tall:
            y = spread.px(side, 0, up).y()
            p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y))
    words = f"{side_words(x, side)}  {view.num('size', wide)}"
    paint.text(p, r.center().x(), r.bottom() + 20, words, 13, 600, t("ink"), "c", r.width())
    if side == "left":
        edge = r.left() - 12
        p.setPen(QPen(t("ink2"), 1))
        p.drawLine(QPointF(edge, r.top()), QPointF(edge, r.bottom()))
        for y in (r.top(), r.bottom()):
            p.drawLine(QPointF(edge - 4, y), QPointF(edge + 4, y))
        paint.text(p, edge - 6, r.center().y() + 5, view.num("size", tall), 13, 600, t("ink"), "r")
    if side == "back":
        for up, word in ((tall - CUSHION_M, "cushion"), (FIRST_M, "calm")):
            y = spread.px(side, 0, up).y()
            paint.text(p, r.right() + 5, y + 4, word, 11, 500, t("ink2"))


def _hole(p: QPainter, view: View, spread: Spread, o: TakeOff, wrong: bool, ghost: bool = False) -> None:
    t, r = view.theme, spread.hole(o)
    colour = "supply" if o.run.side == "supply" else "return"
    on = view.selected("run") == o.run.id
    p.setPen(QPen(t("fails") if wrong else t("ink"), 2.4 if on or wrong else 1.4))
    p.setBrush(t(colour) if on or ghost else t(f"{colour}_soft"))
    if o.run.shape == "round":
        p.drawEllipse(r)
    else:
        p.drawRect(r)
    if on:
        p.setPen(QPen(t("select"), 2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(r.adjusted(-4, -4, 4, 4))
    ink = t.on(t(colour)) if on or ghost else t("ink")
    size = (
        view.num("size", o.width_m)
        if o.run.shape == "round"
        else f"{view.num('size', o.width_m)} × {view.num('size', o.height_m)}"
    )
    if r.height() >= 34:
        paint.text(p, r.center().x(), r.center().y() - 1, o.run.tag, 13, 700, ink, "c", r.width())
        paint.text(p, r.center().x(), r.center().y() + 14, size, 12, 500, ink, "c", r.width())
    else:
        paint.text(p, r.center().x(), r.center().y() + 4.5, o.run.tag, 12, 700, ink, "c", r.width())


def _chains(p: QPainter, view: View, spread: Spread, o: TakeOff, others: tuple[TakeOff, ...]) -> None:
    """From the left edge and from the far end to its middle, and what is left beyond."""
    t, side, c = view.theme, spread.rect(o.side), spread.hole(o).center()
    wide, tall = spread.size[o.side]
    ink = t("ink")
    p.setPen(QPen(t("ink2"), 1, Qt.PenStyle.DotLine))
    hole = spread.hole(o)
    for a, b in ((side.left(), hole.left()), (hole.right(), side.right())):
        p.drawLine(QPointF(a, c.y()), QPointF(b, c.y()))
    for a, b in ((side.top(), hole.top()), (hole.bottom(), side.bottom())):
        p.drawLine(QPointF(c.x(), a), QPointF(c.x(), b))
    for a, b, m in ((side.left(), c.x(), o.along_m), (c.x(), side.right(), wide - o.along_m)):
        _figure(p, view, QPointF((a + b) / 2, side.bottom() - 8), m, ink)
    holes = [spread.hole(n) for n in others if n.side == o.side]
    for a, b, m in ((side.top(), c.y(), tall - o.up_m), (c.y(), side.bottom(), o.up_m)):
        y = (a + b) / 2 + 4
        places = [QPointF(x, y) for x in (c.x() - 5, side.left() + 38, side.right() - 5)]
        clear = (q for q in places if not any(h.intersects(QRectF(q.x() - 36, y - 12, 38, 16)) for h in holes))
        _figure(p, view, next(clear, places[0]), m, ink, "r")


def _figure(p: QPainter, view: View, at: QPointF, m: float, ink: object, align: str = "c") -> None:
    words = view.num("size1", m)
    wide = paint.text_width(words, 12, 600)
    left = at.x() - (wide / 2 if align == "c" else wide)
    p.fillRect(QRectF(left - 2, at.y() - 11, wide + 4, 14), view.theme("paper"))
    paint.text(p, at.x(), at.y(), words, 12, 600, ink, align)  # type: ignore[arg-type]


def _carried(p: QPainter, view: View, x: PlenumDesign, spread: Spread, c: Carried) -> None:
    """The take-off in hand with the lines that it has caught."""
    t, o, r = view.theme, c.take_off, spread.rect(c.take_off.side)
    p.setPen(QPen(t("select"), 2))
    for kind, m in c.lines:
        if kind == "along":
            px = spread.px(o.side, m, 0).x()
            p.drawLine(QPointF(px, r.top()), QPointF(px, r.bottom()))
        else:
            y = spread.px(o.side, 0, m).y()
            p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y))
    _hole(p, view, spread, o, bool(meets(x, o)), True)
    _chains(p, view, spread, o, x.take_offs)


def meets(x: PlenumDesign, o: TakeOff) -> tuple[str, ...]:
    """Tags of other take-offs on the same side that one would lie over."""
    return tuple(
        n.run.tag
        for n in x.take_offs
        if n.run.id != o.run.id
        and n.side == o.side
        and abs(n.along_m - o.along_m) < (n.width_m + o.width_m) / 2
        and abs(n.up_m - o.up_m) < (n.height_m + o.height_m) / 2
    )


# ---- ledger and card ------------------------------------------------------------------------------------------


def ledger(view: View) -> Ledger:
    """A row for every take-off of the unit's plenums."""

    def wrong(x: Taken) -> list[Trouble]:
        return [w for _, w in x[0].troubles if x[1].run.tag in w.tags]

    def size(x: Taken) -> str:
        across = view.num("size", x[1].width_m)
        return across if x[1].run.shape == "round" else f"{across} × {view.num('size', x[1].height_m)}"

    def placed(x: Taken) -> str:
        held = x[1].run.face_along_m is not None or x[1].run.face_from_end_m is not None
        return "by hand" if held else "by Murvan"

    columns: tuple[Told[Taken], ...] = (
        Told("Run", 84, lambda x: x[1].run.tag, align="l", bold=True),
        Told("Plenum", 84, lambda x: x[0].plenum.side, align="l"),
        Told("Face", 84, lambda x: side_words(x[0], x[1].side), align="l"),
        Told("Size", 92, size, "size"),
        Told("Air", 76, lambda x: x[1].flow_m3_s, "flow"),
        Told("From left", 92, lambda x: x[1].along_m, "size1", unit=view.unit("size")),
        Told("From end", 92, lambda x: x[1].from_end_m, "size1", unit=view.unit("size")),
        Told("Placed", 92, placed, align="l"),
        Told("What is wrong", 300, lambda x: wrong_words(view, wrong(x)[0]) if wrong(x) else "", align="l"),
        Told("", 28, lambda x: Cell(mark=_mark(wrong(x)))),
    )
    holes = ((x, o) for x in view.ducted.plenums for o in x.take_offs)
    return table(view, columns, ((("run", o.run.id), (x, o)) for x, o in holes))


Taken = tuple[PlenumDesign, TakeOff]


def _mark(own: list[Trouble]) -> str:
    if any(w.kind in ("edge", "overlap") for w in own):
        return "fails"
    return "look" if own else "good"


def wrong_words(view: View, w: Trouble) -> str:
    """'2 in from the end, 6 wanted'."""
    have, need = view.text("size1", abs(w.have_m)), view.num("size", w.need_m, 1)
    if w.kind == "edge":
        return f"{have} over the edge" if w.have_m < 0 else f"{have} from the edge, {need} wanted"
    if w.kind == "end":
        return f"{have} from the end, {need} wanted"
    if w.kind == "outlet":
        return f"{have} from the unit's outlet, {need} wanted"
    apart = f"lies over {w.tags[1]}" if w.have_m < 0 else f"{have} from {w.tags[1]}"
    return f"{apart}, {need} wanted" + (" for a handle" if w.kind == "handle" else "")


SPANS = (("width_m", "Width"), ("depth_m", "Depth"), ("height_m", "Length"))


def card(view: View, x: PlenumDesign, eye: Eye) -> Card:
    """A plenum: its sides, its take-off in hand, how it stands, and why it is as large as it is."""
    box, on = x.plenum, chosen(view, x)
    wrong = [w for _, w in x.troubles]
    small = x.area_m2 < 0.95 * x.wanted_area_m2 and box.side == "supply"
    mark = _mark(wrong) if wrong else "look" if small or x.blind else "good"
    fields = [_span(view, x, name, label) for name, label in SPANS]
    fields += [of("plenums", box, "school"), of("plenums", box, "canvas")]
    solid = plenum_solid(x)

    stands = Picture(
        "As it stands",
        f"{view.unit('size')}, drag to turn",
        STANDS_PX,
        lambda p, r: draw(p, r, view.theme, solid, eye, lambda m: view.num("size", m)),
        (solid, eye.turn_deg, eye.tilt_deg),
        eye.drag,
    )
    blind = tuple(ListRow(f"{tag} leaves it where the unit is", "", mark="fails") for tag in x.blind)
    rows = (*blind, *(ListRow(wrong_words(view, w), w.tags[0], mark=_mark([w])) for w in wrong[:6]))
    return Card(
        f"Plenum · {view.storey_name(view.ducted.design.indoor.storey)}",
        f"{box.side.capitalize()} plenum",
        mark,
        "",
        ((view.num("velocity", x.velocity_m_s), view.unit("velocity"), "ink"),),
        f"for {view.text('flow', x.flow_m3_s)}; typed sides are held, others follow",
        (),
        (
            Fields("Change it", tuple(fields)),
            *((Fields(f"Take-off {on.run.tag}", _take_off_fields(x, on)),) if on is not None else ()),
            stands,
            *((List_("What is wrong", "", rows),) if rows else ()),
            Arith(explain_plenum(x)),
            Buttons(
                (
                    Button("size_plenum", "Size it", "⇧Z", lambda: view.act.command("ducts.plenum_size"), True),
                    Button("place_plenum", "Place take-offs", "⇧T", lambda: view.act.command("ducts.plenum_place")),
                )
            ),
        ),
    )


def _span(view: View, x: PlenumDesign, name: str, label: str) -> Field_:
    """A side of the box; typed, it is held and the others follow; emptied, it is free again."""
    box, laid = x.plenum, view.r.laid

    def put(job: Job, typed: float | str) -> Job:
        made = freed_plenum(job, box.id, name) if typed == "" else held_plenum(job, box.id, name, float(typed))
        return sized_plenum(made, x, laid)

    return Field_(
        f"{box.id}.{name}",
        f"{label}, held" if name in box.held else label,
        "size",
        getattr(box, name),
        put,
        f"{label} of the plenum",
        optional=True,
    )


def _take_off_fields(x: PlenumDesign, o: TakeOff) -> tuple[Field_, ...]:
    joint, wide = o.run.start, side_size(x.plenum, o.side)[0]
    names = face_names(x)

    def put_face(job: Job, value: float | str) -> Job:
        face = next(f for f in FACES if f == value)
        along = side_size(x.plenum, side_of(face, x.air) or "front")[0] / 2
        return moved_take_off(job, joint, face, along, None if face == names.get("cap") else o.from_end_m)

    def put_along(job: Job, value: float | str) -> Job:
        if value == "":
            return moved_take_off(job, joint, o.face, None, o.run.face_from_end_m)
        along = float(value)
        if not 0 < along < wide:
            raise JobValueError(f"Take-off {o.run.tag}: its middle has to lie on its face.")
        return moved_take_off(job, joint, o.face, along, o.run.face_from_end_m)

    def put_end(job: Job, value: float | str) -> Job:
        if value != "" and not 0 <= float(value) <= x.plenum.height_m - o.height_m:
            raise JobValueError(f"Take-off {o.run.tag} does not lie on its face there.")
        return moved_take_off(job, joint, o.face, o.run.face_along_m, None if value == "" else float(value))

    name = f"Move take-off {o.run.tag}"[:80]
    options = tuple((f, side_words(x, s)) for s, f in names.items())
    out = [
        Field_(f"{joint}.face", "Face", "text", o.face, put_face, name, options),
        Field_(f"{joint}.along", "Middle from left", "size1", o.along_m, put_along, name, optional=True),
    ]
    if o.from_end_m is not None:
        out.append(Field_(f"{joint}.end", "Edge from end", "size1", o.from_end_m, put_end, name, optional=True))
    return tuple(out)
