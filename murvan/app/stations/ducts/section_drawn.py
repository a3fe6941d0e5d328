"""The page of the section as it is painted."""

from __future__ import annotations

from math import hypot

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from murvan.app import paint
from murvan.app.stations.base import View
from murvan.app.stations.ducts.section_page import (
    ROW_PX,
    SHARE,
    WALL_M,
    Page,
    PlanMap,
    ink_of,
    looks,
    mark_of,
    rows,
    size_of,
    table_rect,
)
from murvan.design.drawing import RISES_M
from murvan.design.space import Block, DeckCut, DuctCut, ObstacleCut, RoomCut, Section, blocks
from murvan.kinds.obstacles import OBSTACLES
from murvan.model.routes import LaidRun

BOARD_M, JOIST_M = 0.018, 0.038
VALUE_PX = 42.0
"""What the figure behind the words takes."""
Lifted = tuple[str, float]
"""A run that is dragged, and by how much, m."""


def draw_page(p: QPainter, r: QRectF, view: View, x: Section, lifted: Lifted | None) -> None:
    _plan(p, r, view, x)
    _table(p, r, view, x)
    t, top = view.theme, r.top() + r.height() * SHARE
    p.setPen(QPen(t("rule"), 1))
    p.drawLine(QPointF(r.left(), top), QPointF(r.right(), top))
    w = paint.text(p, r.left() + 16, top + 21, "Section S – S", 14, 700, t("ink"))
    note = f"looking {looks(x.ends)}, one scale both ways, heights over the ground"
    paint.text(p, r.left() + 26 + w, top + 21, note, 12.5, 500, t("ink2"), width=r.width() - w - 250)
    paint.text(p, r.right() - 12, top + 21, "drag a duct up or down", 12.5, 500, t("ink2"), "r")
    _section(p, r, view, x, lifted)


def _plan(p: QPainter, page: QRectF, view: View, x: Section) -> None:
    t, m = view.theme, PlanMap.of(view, page)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    for room in (r for r in view.job.rooms if r.storey == view.storey):
        outline = QPolygonF([m.px(q) for q in room.outline_m])
        p.setPen(QPen(t("inner"), 1.4))
        p.setBrush(t("paper"))
        p.drawPolygon(outline)
        box = outline.boundingRect()
        paint.text(p, box.left() + 6, box.top() + 15, room.name, 11.5, 500, t("ink3"), width=box.width() - 10)
    for b in blocks(view.r.job):
        _block_on_plan(p, view, m, b)
    joints = {j.id: j for j in view.r.job.design.joints}
    for run in view.r.laid:
        if run.storey == view.storey or joints[run.end].storey == view.storey:
            _run_on_plan(p, view, m, run)
    _line_on_plan(p, view, m, x)


def _block_on_plan(p: QPainter, view: View, m: PlanMap, b: Block) -> None:
    t = view.theme
    unit = next((u for u in view.r.job.design.indoor_units if u.id == b.owner), None)
    if unit is None or unit.storey != view.storey:
        return
    p.setPen(QPen(t("ink"), 1))
    p.setBrush(t("steel") if b.kind == "unit" else t(f"{b.kind}_soft"))
    p.drawRect(QRectF(m.px(b.low[:2]), m.px(b.high[:2])))


def _run_on_plan(p: QPainter, view: View, m: PlanMap, run: LaidRun) -> None:
    t, on = view.theme, view.selected("run") == run.id
    wide = max((run.diameter_m or run.width_m or 0.1) * m.scale, 3.0)
    path = [m.px(q) for q in run.path_m]
    for pen in ((t("ink"), wide + 4), (t("select"), wide + 1)) if on else ((t(ink_of(run)), wide),):
        p.setPen(QPen(*pen, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap, Qt.PenJoinStyle.MiterJoin))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolyline(QPolygonF(path))
    if abs(run.rise_m) > RISES_M:
        p.setPen(QPen(t("ink"), 1))
        p.setBrush(t(ink_of(run)))
        p.drawRect(QRectF(path[0].x() - wide / 2, path[0].y() - wide / 2, wide, wide))


def _line_on_plan(p: QPainter, view: View, m: PlanMap, x: Section) -> None:
    t = view.theme
    a, b = m.px(x.ends[0]), m.px(x.ends[1])
    p.setPen(QPen(t("ink"), 1.6, Qt.PenStyle.DashDotLine))
    p.drawLine(a, b)
    way = (b - a) / max(hypot((b - a).x(), (b - a).y()), 1e-6)
    look = QPointF(way.y(), -way.x())
    for d in x.ducts:
        c = a + way * d.at_m * m.scale
        bad = mark_of(x, d) == "fails"
        p.setPen(QPen(t("fails") if bad else t("ink"), 1.2))
        p.setBrush(t("fails") if bad else t("paper"))
        p.drawEllipse(c, 3.2, 3.2)
    for end in (a, b):
        p.setPen(QPen(t("ink"), 1.6))
        p.drawLine(end + look * 9, end + look * 20)
        tip = end + look * 23
        p.setBrush(t("ink"))
        p.drawPolygon(QPolygonF([tip, tip - look * 7 + way * 4, tip - look * 7 - way * 4]))
        p.setBrush(t("select"))
        p.drawEllipse(end, 9, 9)
        paint.text(p, end.x(), end.y() + 4.5, "S", 12, 700, t("on_select"), "c")


# ---- table ----------------------------------------------------------------------------------------------------


def _table(p: QPainter, page: QRectF, view: View, x: Section) -> None:
    t, r = view.theme, table_rect(page)
    listed, more = rows(x, page)
    paint.text(p, r.left() + 4, r.top() + 17, "Cut by S – S", 13.5, 700, t("ink"))
    paint.text(p, r.right() - 4, r.top() + 17, f"{view.unit('size1')}, with insulation", 12, 500, t("ink2"), "r")
    ends = [r.right() - 108, r.right() - 68, r.right() - 26]
    for word, at in zip(("needs", "free", "left"), ends, strict=True):
        paint.text(p, at, r.top() + 36, word, 11.5, 500, t("ink2"), "r")
    paint.text(p, r.left() + 4, r.top() + 36, "Duct", 11.5, 500, t("ink2"))
    most = max([d.free_m or 0 for d in listed] + [d.needs_m for d in listed] + [0.1])
    for k, d in enumerate(listed):
        box = QRectF(r.left(), r.top() + 42 + k * ROW_PX, r.width(), ROW_PX)
        _row(p, view, x, d, box, ends, most)
    if more:
        paint.text(p, r.left() + 4, r.bottom() - 2, f"and {more} more, no tighter", 11.5, 500, t("ink2"))
    elif not listed:
        paint.text(p, r.left() + 4, r.top() + 62, "no duct is cut here: drag the line", 12.5, 500, t("ink2"))


def _row(p: QPainter, view: View, x: Section, d: DuctCut, box: QRectF, ends: list[float], most: float) -> None:
    t, y = view.theme, box.top() + 14
    on, mark = view.selected("run") == d.run.id, mark_of(x, d)
    if on:
        p.fillRect(box, t("select_soft") if t.dark else t("select"))
    ink = t("on_select") if on and not t.dark else t("ink")
    w = paint.text(p, box.left() + 4, y, d.run.tag, 12.5, 700, ink)
    how = "" if d.how == "across" else f", {d.how}"
    words = f"{size_of(view, d.run)}{how}"
    paint.text(p, box.left() + 12 + w, y, words, 11.5, 500, ink, width=ends[0] - box.left() - w - VALUE_PX)
    left = d.left_m
    values = (
        view.num("size1", d.needs_m) if d.how != "upright" else "–",
        "any" if left is None and d.how != "upright" else view.num("size1", d.free_m) if left is not None else "–",
        view.num("size1", left) if left is not None else "",
    )
    for value, at in zip(values, ends, strict=True):
        paint.text(
            p, at, y, value, 12.5, 600, t("fails") if mark == "fails" and at == ends[-1] and not on else ink, "r"
        )
    if mark != "none":
        paint.mark(p, mark, box.right() - 11, y - 4, t, 6)
    bar = QRectF(box.left() + 4, box.top() + 20, box.width() - 34, 4)
    p.fillRect(bar, t("track"))
    if d.how != "upright":
        wide = bar.width() * min(d.needs_m / most, 1.0)
        p.fillRect(QRectF(bar.left(), bar.top(), wide, 4), t(ink_of(d.run)))
        if left is not None and left < 0 and d.free_m is not None:
            free = bar.width() * d.free_m / most
            p.fillRect(QRectF(bar.left() + free, bar.top(), wide - free, 4), t("fails"))
        if d.free_m is not None and left is not None:
            post = bar.left() + bar.width() * min(d.free_m / most, 1.0)
            p.fillRect(QRectF(post - 1, bar.top() - 3, 2, 10), ink)


# ---- the section ----------------------------------------------------------------------------------------------


def _section(p: QPainter, page: QRectF, view: View, x: Section, lifted: Lifted | None) -> None:
    t, g = view.theme, Page.of(x, page, view.selected("run"))
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setClipRect(
        QRectF(
            g.rect.left() - 8, top := g.up.px(g.up.kept[-1][1]), g.rect.width() + 16, g.up.px(g.up.kept[0][0]) - top
        )
    )
    wood = QColor(t("garage"))
    _rooms(p, view, x, g)
    for deck in x.decks:
        _deck(p, t("ink3"), wood, g, deck)
    for roof in x.roofs:
        p.setPen(QPen(wood, 3))
        p.drawPolyline(QPolygonF([QPointF(g.along.px(s), g.up.px(z)) for s, z in roof]))
    for b in x.blocks:
        box = g.rect_of(*b.span, b.block.low[2], b.block.high[2])
        p.setPen(QPen(t("ink"), 1.4))
        p.setBrush(t("steel") if b.block.kind == "unit" else t(f"{b.block.kind}_soft"))
        p.drawRect(box)
    for o in x.obstacles:
        _obstacle(p, view, g, o)
    for d in sorted(x.ducts, key=lambda d: (d.how != "along", view.selected("run") == d.run.id)):
        moved = lifted[1] if lifted is not None and d.run.id == lifted[0] else 0.0
        _duct(p, view, x, g, d, moved)
    p.restore()
    _breaks(p, view, g)
    _names(p, view, x, g)
    _heights(p, view, x, g)
    chosen = next((d for d in x.ducts if view.selected("run") == d.run.id and d.how == "across"), None)
    if chosen is not None:
        _measured(p, view, g, chosen, lifted[1] if lifted is not None else 0.0)
    _scale_bar(p, view, g)


def _rooms(p: QPainter, view: View, x: Section, g: Page) -> None:
    t = view.theme
    for r in x.rooms:
        top = [QPointF(g.along.px(s), g.up.px(z)) for s, z in r.ceiling]
        foot = [
            QPointF(g.along.px(r.span[1]), g.up.px(r.floor_m)),
            QPointF(g.along.px(r.span[0]), g.up.px(r.floor_m)),
        ]
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t("panel"))
        p.drawPolygon(QPolygonF([*top, *foot]))
        p.setPen(QPen(t("ink2"), 1.6))
        p.drawPolyline(QPolygonF(top))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t("inner"))
        for s, z in (r.ceiling[0], r.ceiling[-1]):
            p.drawRect(g.rect_of(s - WALL_M / 2, s + WALL_M / 2, r.floor_m, z))


def _deck(p: QPainter, ink: QColor, wood: QColor, g: Page, deck: DeckCut) -> None:
    whole = g.rect_of(*deck.span, deck.low_m, deck.high_m)
    soft = QColor(wood)
    soft.setAlpha(70)
    if deck.kind == "slab":
        paint.hatch(p, whole, ink, 5, 1)
        p.setPen(QPen(ink, 1.2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(whole)
        return
    p.setPen(QPen(wood, 1))
    p.setBrush(soft)
    board = max(BOARD_M * g.up.px_per_m, 2.0)
    if deck.kind != "ceiling":
        p.drawRect(QRectF(whole.left(), whole.top(), whole.width(), board))
    if deck.kind != "floor":
        p.drawRect(QRectF(whole.left(), whole.bottom() - board, whole.width(), board))
    if deck.structure is None:
        if deck.kind == "between":
            paint.hatch(p, whole, soft, 9, 1)
        return
    low, high = deck.members_m
    for m in deck.members:
        box = g.rect_of(m - JOIST_M / 2, m + JOIST_M / 2, low, high)
        if box.width() < 2:
            box = QRectF(box.center().x() - 1, box.top(), 2, box.height())
        p.drawRect(box)
        if box.width() > 5:
            p.drawLine(box.topLeft(), box.bottomRight())
            p.drawLine(box.topRight(), box.bottomLeft())
    if not deck.members:
        p.setPen(QPen(wood, 1, Qt.PenStyle.DashLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(g.rect_of(*deck.span, low, high))


def _obstacle(p: QPainter, view: View, g: Page, o: ObstacleCut) -> None:
    """A beam or pipe with its name, where there is room for one."""
    t, box = view.theme, g.rect_of(*o.span, o.solid.low_m, o.solid.high_m)
    on = view.selected("obstacle") == o.solid.obstacle.id
    p.setPen(QPen(t("ink"), 1.2))
    p.setBrush(t("select") if on else t("rule"))
    pipe = OBSTACLES[o.solid.obstacle.kind].round and abs(box.width() - box.height()) < 0.5 * box.height()
    (p.drawEllipse if pipe else p.drawRect)(box)
    name, ink = o.solid.obstacle.name, t("on_select") if on else t("ink")
    if box.height() > 14 and box.width() > paint.text_width(name, 11.5, 600) + 6:
        paint.text(p, box.center().x(), box.center().y() + 4, name, 11.5, 600, ink, "c")
    else:
        paint.text(p, box.right() + 4, box.center().y() + 4, name, 11.5, 600, t("ink"))


def _duct(p: QPainter, view: View, x: Section, g: Page, d: DuctCut, moved_m: float) -> None:
    t, on = view.theme, view.selected("run") == d.run.id
    box = g.duct(d).translated(0, -moved_m * g.up.px_per_m)
    wrap = d.wrap_m * g.up.px_per_m
    colour = t(ink_of(d.run))
    soft = t(f"{ink_of(d.run)}_soft") if ink_of(d.run) != "fresh" else t("good_soft")
    round_ = d.run.shape == "round" and d.how == "across"
    shape = p.drawEllipse if round_ else p.drawRect
    if on:
        p.setPen(QPen(t("ink"), 1))
        p.setBrush(t("select"))
        shape(box.adjusted(-wrap - 5, -wrap - 5, wrap + 5, wrap + 5))
    if wrap > 0.5:
        p.setPen(QPen(colour, 0.8))
        p.setBrush(soft)
        shape(box.adjusted(-wrap, -wrap, wrap, wrap))
    bad = mark_of(x, d) == "fails"
    p.setPen(QPen(t("fails") if bad else t("ink"), 2.0 if bad else 1.2))
    fill = QColor(colour)
    if d.how != "across":
        fill = soft
    p.setBrush(fill)
    shape(box)
    ink = t.on(fill)
    if box.height() > 17 and box.width() > paint.text_width(d.run.tag, 12, 700) + 4:
        low = box.center().y() + (4 if box.height() < 40 else -1)
        paint.text(p, box.center().x(), low, d.run.tag, 12, 700, ink, "c")
        if box.height() >= 40 and box.width() > paint.text_width(size_of(view, d.run), 11) + 4:
            paint.text(p, box.center().x(), low + 14, size_of(view, d.run), 11, 500, ink, "c")
    else:
        paint.text(p, box.center().x(), box.top() - wrap - 4, d.run.tag, 11.5, 700, t("ink"), "c")
    if bad:
        paint.mark(p, "fails", box.right() + wrap, box.top() - wrap, t, 7)


def _measured(p: QPainter, view: View, g: Page, d: DuctCut, moved_m: float) -> None:
    """What the duct in hand needs and has, beside it, and the grip of its level."""
    t = view.theme
    box = g.duct(d).translated(0, -moved_m * g.up.px_per_m)
    wrap = d.wrap_m * g.up.px_per_m
    x = box.left() - wrap - 20
    grip = QRectF(x - 8, box.center().y() - 15, 16, 30)
    p.setPen(QPen(t("ink"), 1.2))
    p.setBrush(t("select"))
    p.drawRoundedRect(grip, 3, 3)
    for sign in (-1, 1):
        tip = QPointF(x, grip.center().y() + sign * 11)
        p.setBrush(t("on_select"))
        p.drawPolygon(QPolygonF([tip, tip + QPointF(4, -sign * 6), tip + QPointF(-4, -sign * 6)]))
    if moved_m:
        words = f"{'+' if moved_m > 0 else '–'}{view.text('size1', abs(moved_m))}"
    elif d.left_m is not None:
        words = f"{view.text('size1', d.free_m)} free"
    else:
        return
    ink = t("fails") if d.left_m is not None and d.left_m < 0 else t("ink")
    wide = paint.text_width(words, 12.5, 700) + 12
    tag = QRectF(box.right() + wrap + 10, box.center().y() - 10, wide, 20)
    if tag.right() > g.rect.right() + 8:
        tag.moveRight(grip.left() - 6)
    p.setPen(QPen(ink, 1.4))
    p.setBrush(t("paper"))
    p.drawRect(tag)
    paint.text(p, tag.center().x(), tag.center().y() + 4.5, words, 12.5, 700, ink, "c")


def _breaks(p: QPainter, view: View, g: Page) -> None:
    """What is taken out, along and up, with its length."""
    t = view.theme
    top, foot = g.up.px(g.up.kept[-1][1]), g.up.px(g.up.kept[0][0])
    for at, taken in g.along.breaks:
        p.fillRect(QRectF(at - 6, top - 2, 12, foot - top + 4), t("paper"))
        _zigzag(p, t("ink3"), [QPointF(at, top - 4), QPointF(at, foot + 4)])
        paint.text(p, at, foot + 18, view.text("length", taken), 11.5, 500, t("ink2"), "c")
    for at, taken in g.up.breaks:
        p.fillRect(QRectF(g.rect.left() - 8, at - 6, g.rect.width() + 16, 12), t("paper"))
        _zigzag(p, t("ink3"), [QPointF(g.rect.left() - 8, at), QPointF(g.rect.right() + 8, at)])
        paint.text(p, g.rect.left() - 14, at + 4, view.text("length", taken), 11.5, 500, t("ink2"), "r")


def _zigzag(p: QPainter, ink: QColor, ends: list[QPointF]) -> None:
    a, b = ends
    way = (b - a) / max(hypot((b - a).x(), (b - a).y()), 1e-6)
    side, mid = QPointF(-way.y(), way.x()), (a + b) / 2
    path = QPainterPath(a)
    for point in (mid - way * 7, mid - way * 3 + side * 5, mid + way * 3 - side * 5, mid + way * 7, b):
        path.lineTo(point)
    p.setPen(QPen(ink, 1))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(path)


def _names(p: QPainter, view: View, x: Section, g: Page) -> None:
    """Rooms by their names where they are seen: under their ceiling, else over their floor."""
    t = view.theme
    taken: list[tuple[float, float, float]] = []
    for r in x.rooms:
        place = _name_place(r, g)
        if place is None:
            continue
        left, right, y = place
        words = f"{r.name}  {view.text('length', r.ceiling[0][1] - r.floor_m)} high"
        if paint.text_width(words, 11.5) > right - left:
            words = r.name
        if right - left < 24 or any(abs(y - v) < 12 and left < b and right > a for a, b, v in taken):
            continue
        taken.append((left, right, y))
        paint.text(p, left, y, words, 11.5, 600, t("ink2"), width=right - left)


def _name_place(r: RoomCut, g: Page) -> tuple[float, float, float] | None:
    """From where to where on a line a room's name goes; None where it is not seen."""
    low, high = g.along.kept[0][0], g.along.kept[-1][1]
    a, b = max(r.span[0] + WALL_M, low), min(r.span[1] - WALL_M, high)
    shown = max(
        ((max(a, s), min(b, e)) for s, e in g.along.kept if min(b, e) > max(a, s)),
        key=lambda q: q[1] - q[0],
        default=None,
    )
    if shown is None:
        return None
    left, right = g.along.px(shown[0]) + 4, g.along.px(shown[1]) - 2
    ceiling = r.ceiling[0][1]
    for z0, z1 in g.up.kept:
        if z0 < ceiling - 0.03 and ceiling <= z1 + 0.01:
            return left, right, g.up.px(z0) - 6
        if z0 <= r.floor_m < z1 - 0.03:
            return left, right, g.up.px(r.floor_m) - 5
    return None


def _heights(p: QPainter, view: View, x: Section, g: Page) -> None:
    """Floors and ceilings at the left edge."""
    t, last = view.theme, 1e9
    levels = sorted({round(z, 3) for r in x.rooms for z in (r.floor_m, r.ceiling[0][1])})
    for z in levels:
        if not any(a - 0.01 <= z <= b + 0.01 for a, b in g.up.kept):
            continue
        y = g.up.px(z)
        p.setPen(QPen(t("ink2"), 1))
        p.drawLine(QPointF(g.rect.left() - 12, y), QPointF(g.rect.left() - 6, y))
        if last - y > 13:
            paint.text(p, g.rect.left() - 15, y + 4, view.text("length", z, 2), 11.5, 600, t("ink2"), "r")
            last = y


def _scale_bar(p: QPainter, view: View, g: Page) -> None:
    t = view.theme
    long = 0.3048 if view.units == "ip" else 0.5
    wide = long * g.along.px_per_m
    y = g.rect.bottom() + 20
    left = g.rect.right() - wide
    words = "1 ft" if view.units == "ip" else "0.5 m"
    paint.text(p, left - 6, y + 4, words, 11.5, 500, t("ink2"), "r")
    p.fillRect(QRectF(left, y - 2, wide / 2, 5), t("ink"))
    p.setPen(QPen(t("ink"), 1))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(QRectF(left, y - 2, wide, 5))
