"""Texts of the plan: room names and figures, run labels, tags, dimensions; none covers another."""

from __future__ import annotations

from functools import lru_cache
from itertools import pairwise
from math import hypot

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSizeF
from PyQt6.QtGui import QColor, QPainter, QPen

from murvan.app import paint
from murvan.app.plan.duct_layers import run_path, run_points, run_width_px
from murvan.app.plan.labels import Corners, around, everywhere, roomy, within
from murvan.app.plan.sheet import Shape, Sheet
from murvan.design.ducts import run_kind
from murvan.design.parts import size_text
from murvan.model.job import DuctRun

OUTSIDE_COST = 500.0
COVERS = 2500.0
"""Cost of a place from which on it covers something that must be read: 25 px² of a tag."""
HIDES = 12000.0
"""Cost from which on a name covers, or is covered by, so much that a number stands for it."""
TextLine = tuple[str, str, float, int, str]
"""Value, unit, size, weight, colour role ('' for automatic)."""


def room_texts(p: QPainter, v: Sheet) -> None:
    """Name and figures of each room, where they cover nothing."""
    t = v.theme
    numbered: list[tuple[str, str]] = []
    may_number = _cut_names(v) * LIST_ROW < v.height() - 60
    for r in v.rooms():
        lines = v.lens.room_text.get(r.id)
        fill = v.lens.fills.get(r.id) or t("paper")
        auto = t.on(fill) if v.lens.fills else t("ink")
        lines = lines if lines is not None else [(r.name, "", 13.0, 600, "")]
        if not _block(p, v, r.id, v.shape(r.id), lines, auto, may_number):
            _number(p, v, v.shape(r.id), len(numbered) + 1)
            numbered.append((r.name, "  ".join(" ".join(x[:2]).strip() for x in lines[1:])))
    if numbered:
        _listed(p, v, numbered)


def _cut_names(v: Sheet) -> int:
    """Rooms in which a name would be cut."""
    boxes = [(r.name, v.shape(r.id).box) for r in v.rooms()]
    return sum(_fitted([(n, "", 13.0, 600, "")], b.width() - 8, b.height() - 8)[0][0] != n for n, b in boxes)


DISC = QSizeF(18, 18)


def _number(p: QPainter, v: Sheet, shape: Shape, number: int) -> None:
    """A room too small for its name: a number that the list beside the plan explains."""
    found = v.labels.place(DISC, _spots_inside(shape, DISC))
    if found is None:
        return
    p.setPen(QPen(v.theme("ink"), 1.2))
    p.setBrush(v.theme("paper"))
    p.drawEllipse(found.adjusted(1, 1, -1, -1))
    paint.text(p, found.center().x(), found.center().y() + 4, str(number), 11, 700, v.theme("ink"), "c")


LIST_ROW = 16.0


def _listed(p: QPainter, v: Sheet, rooms: list[tuple[str, str]]) -> None:
    """The rooms that are numbered on the plan, where the paper is free."""
    t = v.theme
    rows = [(f"{k}", name, figures) for k, (name, figures) in enumerate(rooms, 1)]
    wide = [min(paint.text_width(name, 12, 600), 170) for _, name, _ in rows]
    size = QSizeF(34 + max(w + paint.text_width(f, 12, 500) + 10 for w, (_, _, f) in zip(wide, rows, strict=True)), 0)
    size = QSizeF(min(size.width(), v.width() - 12), 8 + LIST_ROW * len(rows))
    corner = QPointF(v.labels.bounds.left(), v.labels.bounds.bottom())
    r = v.labels.place(size, everywhere(v.labels.bounds, size, corner))
    if r is None:
        return
    back = QColor(t("paper"))
    back.setAlpha(225)
    paint.rounded(p, r, back, t("outline"), 3)
    for k, (number, name, figures) in enumerate(rows):
        y = r.top() + 16 + LIST_ROW * k
        paint.text(p, r.left() + 18, y, number, 11.5, 700, t("ink"), "r")
        paint.text(p, r.left() + 25, y, name, 12, 600, t("ink"), width=wide[k] + 1)
        paint.text(
            p, r.left() + 33 + wide[k], y, figures, 12, 500, t("ink2"), width=r.right() - r.left() - wide[k] - 38
        )


STEPS = np.array(
    sorted(
        ((a * 0.07, b * 0.07) for a in range(-6, 7) for b in range(-6, 7)), key=lambda d: d[0] * d[0] + d[1] * d[1]
    )
)


def _spots_inside(shape: Shape, size: QSizeF) -> NDArray[np.float64]:
    """Centres at which a text of `size` lies wholly inside the room, the room's own centre first."""
    at, box = shape.centre, shape.box
    return _inside((at.x(), at.y()), (box.width(), box.height()), (size.width(), size.height()), shape.corners)


@lru_cache(maxsize=512)
def _inside(
    at: tuple[float, float], box: tuple[float, float], size: tuple[float, float], corners: Corners
) -> NDArray[np.float64]:
    centres = np.array(at) + STEPS * np.array(box)
    w, h = size[0] / 2 + 4, size[1] / 2
    inside = np.ones(len(centres), bool)
    for dx, dy in ((-w, -h), (w, -h), (-w, h), (w, h)):
        inside &= within(centres + np.array([dx, dy]), corners)
    return np.concatenate([np.array([at]), centres[inside]])


def _block(
    p: QPainter, v: Sheet, room: str, shape: Shape, lines: list[TextLine], auto: QColor, may_number: bool
) -> bool:
    """One room's lines: side by side or stacked, whichever finds the freer place. False where its name does not go in and a
    number may stand for it."""
    in_rows = v.lens.text_at in ("ducts", "row")
    name = lines[0][0]
    row = _row_size(lines) if in_rows else None
    if row is not None and row.width() > shape.box.width() - 10:
        row = None
    if row is None:
        lines = _within_shape(shape, _fitted(lines, shape.box.width() - 8, shape.box.height() - 8))
    stack = _stack_size(lines)
    place = v.labels.best(stack, _spots_inside(shape, stack))
    if not in_rows:
        lines, place = _freest(v, shape, lines, place)
    across = False
    if row is not None:
        beside = v.labels.best(row, _spots_inside(shape, row))
        if place is None or (beside is not None and beside[1] <= place[1] + 40):
            place, across = beside, True
    if may_number and (place is None or (not across and lines[0][0] != name) or place[1] > HIDES):
        return False
    if place is None:
        return True
    r = place[0]
    v.labels.block(r)
    _plate(p, v, room, r)
    _draw_row(p, v, r, lines, auto) if across else _draw_stack(p, v, r, lines, auto)
    return True


def _plate(p: QPainter, v: Sheet, room: str, r: QRectF) -> None:
    """A ground under a room's text where something lies there that would make it hard to read."""
    if v.lens.text_at == "ducts" or v.traced:
        back = QColor(v.theme("paper"))
        back.setAlpha(190)
        p.fillRect(r.adjusted(-2, 2, 2, -2), back)
    elif room in v.lens.plates and room in v.lens.fills:
        back = QColor(v.lens.fills[room])
        back.setAlpha(225)
        paint.rounded(p, r.adjusted(-5, 0, 5, 2), back, None, 4)


def _within_shape(shape: Shape, lines: list[TextLine]) -> list[TextLine]:
    """In a room with a corner cut out: the lines smaller, then fewer, until they lie wholly inside."""
    for count in range(len(lines), 0, -1):
        for scale in (1.0, 0.85, 0.72):
            fewer = [(a, b, max(c * scale, 9.0), d, e) for a, b, c, d, e in lines[:count]]
            if len(_spots_inside(shape, _stack_size(fewer))) > 1:
                return fewer
    return lines


def _freest(
    v: Sheet, shape: Shape, lines: list[TextLine], place: tuple[QRectF, float] | None
) -> tuple[list[TextLine], tuple[QRectF, float] | None]:
    """Where a tag or a name would be covered: the lines smaller, then fewer of them, until one lies free."""
    best = (lines, place)
    if place is not None and place[1] < COVERS:
        return best
    for count, scale, least in ((len(lines), 0.8, 9.5), (2, 1.0, 0.0), (2, 0.75, 9.5), (1, 1.0, 0.0), (1, 0.8, 9.5)):
        fewer = [(a, b, max(c * scale, least), d, e) for a, b, c, d, e in lines[:count]]
        size = _stack_size(fewer)
        found = v.labels.best(size, _spots_inside(shape, size))
        if found is not None and (best[1] is None or found[1] < 0.6 * best[1][1]):
            best = (fewer, found)
        if best[1] is not None and best[1][1] < COVERS:
            break
    return best


def _width(line: TextLine) -> float:
    value, unit_, size, weight, _ = line
    return paint.text_width(value, size, weight) + (paint.text_width(" " + unit_, 12, 500) if unit_ else 0)


def _row_size(lines: list[TextLine]) -> QSizeF:
    return roomy(_row_width(lines), max(x[2] for x in lines) * 1.28)


def _row_width(lines: list[TextLine]) -> float:
    return sum(map(_width, lines)) + 8 * (len(lines) - 1)


def _stack_size(lines: list[TextLine]) -> QSizeF:
    return roomy(max(map(_width, lines)), sum(x[2] * 1.28 for x in lines))


SCALES = tuple(0.93**k for k in range(8))


def _fitted(lines: list[TextLine], room: float, height: float) -> list[TextLine]:
    """The lines made smaller to go into a room; at last the lower ones are left out and names are cut."""
    for count in range(len(lines), 0, -1):
        for scale in SCALES:
            small = [(a, b, max(c * scale, 9.5), d, e) for a, b, c, d, e in lines[:count]]
            size = _stack_size(small)
            if size.height() <= height and (size.width() <= room or scale < 0.75):
                return _cut(small, room)
    return _cut([(a, b, 9.5, d, e) for a, b, _, d, e in lines[:1]], room)


def _cut(lines: list[TextLine], room: float) -> list[TextLine]:
    """Names cut to the width; a figure is made smaller instead, and left out before any of its digits is lost."""
    out: list[TextLine] = []
    for line in lines:
        value, unit_, size, weight, role = line
        if _width(line) <= room or unit_:
            out.append(line)
        elif not value[:1].isdigit() and value[:1] != "−":
            out.append((paint.elided(value, size, weight, max(room, 12.0)), unit_, size, weight, role))
        elif _width((value, unit_, 9.0, weight, role)) <= room:
            out.append((value, unit_, max(size * room / _width(line) - 0.2, 9.0), weight, role))
    return out or [(paint.elided(lines[0][0], 9.5, 500, max(room, 12.0)), "", *lines[0][2:])]


def _draw_row(p: QPainter, v: Sheet, r: QRectF, lines: list[TextLine], auto: QColor) -> None:
    x, base = r.center().x() - _row_width(lines) / 2, r.bottom() - r.height() * 0.24
    for line in lines:
        value, unit_, size, weight, role = line
        used = paint.text(p, x, base, value, size, weight, v.theme(role) if role else auto)
        if unit_:
            paint.text(p, x + used + 3, base, unit_, 12, 500, auto)
        x += _width(line) + 8


def _draw_stack(p: QPainter, v: Sheet, r: QRectF, lines: list[TextLine], auto: QColor) -> None:
    y = r.top()
    for value, unit_, size, weight, role in lines:
        color = v.theme(role) if role else auto
        paint.value_unit(p, r.center().x(), y + size * 0.98, value, unit_, size, weight, color, color, "c", 12)
        y += size * 1.28


def note(p: QPainter, v: Sheet) -> None:
    """Two or three lines at the top right, on paper where the plan reaches there."""
    if not v.lens.note:
        return
    w = max(paint.text_width(x, 12, 600) for x in v.lens.note)
    back = QColor(v.theme("paper"))
    back.setAlpha(225)
    p.fillRect(QRectF(v.width() - 12 - w, 15, w + 12, 15 * len(v.lens.note) + 6), back)
    for k, line in enumerate(v.lens.note):
        color, weight = (v.theme("ink"), 600) if k == 0 else (v.theme("ink2"), 500)
        paint.text(p, v.width() - 6, 30 + 15 * k, line, 12, weight, color, "r")


def reserve_note(v: Sheet) -> None:
    if v.lens.keep_free is not None:
        v.labels.block(v.lens.keep_free(v))
    if v.lens.note:
        w = max(paint.text_width(x, 12, 600) for x in v.lens.note)
        v.labels.block(QRectF(v.width() - 10 - w, 16, w + 10, 15 * len(v.lens.note) + 4))


def tags(p: QPainter, v: Sheet) -> None:
    """Window tags inside the wall."""
    t = v.theme
    for o in v.openings():
        if o.kind != "window":
            continue
        a, b, inward = v.ends(o)
        w = paint.text_width(o.tag, 11.5, 600) + 10
        c = (a + b) / 2 + QPointF(inward.x() * (w / 2 + 10), inward.y() * 17)
        r = QRectF(c.x() - w / 2, c.y() - 8, w, 16)
        paint.rounded(p, r, t("paper"), t("cooling"), 3, 1.2)
        paint.text(p, c.x(), c.y() + 4, o.tag, 11.5, 600, t("cooling"), "c")
        v.labels.block(r)
        v.tag_hits.append((r, "opening", o.id))


def reserve_dimensions(v: Sheet) -> None:
    """Keep the strips along the north and west sides free for the tape."""
    outlines = [r.outline_m for r in v.rooms()]
    if not outlines:
        return
    xs, ys = [x for o in outlines for x, _ in o], [y for o in outlines for _, y in o]
    a, b = v.to_px(min(xs), min(ys)), v.to_px(max(xs), max(ys))
    v.labels.block(QRectF(a.x(), a.y() - 24, b.x() - a.x(), 16))
    v.labels.block(QRectF(a.x() - 24, a.y(), 16, b.y() - a.y()))


def dimensions(p: QPainter, v: Sheet) -> None:
    """Wall lengths along the north and west sides, where a tape would be read."""
    t = v.theme
    outlines = [r.outline_m for r in v.rooms()]
    if not outlines:
        return
    xs = [x for o in outlines for x, _ in o]
    ys = [y for o in outlines for _, y in o]
    north = sorted({round(x, 3) for o in outlines for x, y in o if abs(y - min(ys)) < 0.05})
    west = sorted({round(y, 3) for o in outlines for x, y in o if abs(x - min(xs)) < 0.05})
    p.setPen(QPen(t("outline"), 1))
    y = v.to_px(0, min(ys)).y() - 14
    for a, b in zip(north, north[1:], strict=False):
        _dimension(p, v, QPointF(v.to_px(a, 0).x(), y), QPointF(v.to_px(b, 0).x(), y), b - a)
    x = v.to_px(min(xs), 0).x() - 14
    for a, b in zip(west, west[1:], strict=False):
        _dimension(p, v, QPointF(x, v.to_px(0, a).y()), QPointF(x, v.to_px(0, b).y()), b - a)


def _dimension(p: QPainter, v: Sheet, a: QPointF, b: QPointF, length_m: float) -> None:
    t = v.theme
    label = v.number("feet", length_m)
    w = paint.text_width(label, 12, 600) + 8
    across = abs(b.x() - a.x()) > abs(b.y() - a.y())
    room = (b.x() - a.x()) if across else (b.y() - a.y())
    p.setPen(QPen(t("outline"), 1))
    p.drawLine(a, b)
    for e in (a, b):
        p.drawLine(e + QPointF(-3, 3), e + QPointF(3, -3))
    if room < w:
        return
    c = (a + b) / 2
    p.save()
    p.translate(c)
    if not across:
        p.rotate(-90)
    p.fillRect(QRectF(-w / 2, -8, w, 16), t("paper"))
    paint.text(p, 0, 4.4, label, 12, 600, t("ink"), "c")
    p.restore()


LABEL_PX2 = (3100.0, 1700.0)
"""What a run's label takes, in full and with its size alone."""
CROWDED = 0.28
"""Share of the plan that labels may take."""


def _terse(labels: int, area_px2: float) -> int:
    """How much labels leave out where there are many: 0 nothing, 1 the air, 2 all but the tag."""
    return next((k for k, each in enumerate(LABEL_PX2) if labels * each <= CROWDED * area_px2), 2)


APART = 0.05
"""Share of its air from which on a run's label, and a room's text, tell what it gets instead."""


def duct_labels(p: QPainter, v: Sheet) -> None:
    """Tag, size and flow of each run; on the duct where it is long and wide enough, else beside it."""
    t = v.theme
    chosen = v.selection.id if v.selection and v.selection.kind == "run" else None
    beside = []
    for run in v.runs():
        if run.side == "fresh":
            continue
        flow = v.run_flow(run)
        sizes = size_text(
            (run.diameter_m or 0,) if run.shape == "round" else (run.width_m or 0, run.height_m or 0), v.units
        )
        trunk = run_kind(run) == "trunk" or run.side == "return"
        if trunk and _label_on_duct(p, v, run, f"{sizes} · {v.number('flow', flow)}"):
            continue
        if trunk and not run.register_id:
            continue
        body = f"{sizes} {v.unit('size')} · {v.number('flow', flow)}"
        got = v.run_predicted(run)
        if got is not None and abs(got - flow) > APART * max(flow, 1e-6):
            body += f", gets {v.number('flow', got)}"
        beside.append((run, body, v.unit("flow")))
    short = _terse(len(beside), v.width() * v.height())
    for run, body, unit_ in beside:
        if short and run.id != chosen:
            body, unit_ = body.split(" · ")[0] if short == 1 else "", ""
        tag_w = paint.text_width(run.tag, 11.5, 700) + 12
        body_w = paint.text_width(body, 12, 600) + paint.text_width(unit_, 11, 500) + 16 if body else 0
        size = roomy(tag_w + body_w, 18)
        beside_duct = run_width_px(v, run) / 2 - 2
        centres, extra = _beside(_xy(run_points(v, run)), (size.width(), size.height()), beside_duct, _served(v, run))
        found = v.labels.best(size, centres, extra)
        if found is not None and found[1] >= OUTSIDE_COST and run.id != chosen and body:
            # rather its number alone where it belongs than all of it a room away
            less = roomy(tag_w, 18)
            centres, extra = _beside(_xy(run_points(v, run)), (less.width(), 18), beside_duct, _served(v, run))
            near = v.labels.best(less, centres, extra)
            if near is not None and near[1] < found[1] - OUTSIDE_COST / 2:
                found, size, body, body_w, unit_ = near, less, "", 0, ""
        if found is None:
            continue
        r = found[0]
        v.labels.block(r)
        _leader(p, v, r, run_points(v, run), run_width_px(v, run) / 2)
        spare = (size.width() - tag_w - body_w) / 2
        r.adjust(spare, 0, -spare, 0)
        v.tag_hits.append((r, "run", run.id))
        on = run.id == chosen
        paint.rounded(p, r, t("select") if on else t("paper"), t("ink") if on else t("outline"), 3)
        p.fillRect(
            QRectF(r.left() + 1, r.top() + 1, tag_w - 1, r.height() - 2), t("on_select") if on else t("chrome")
        )
        paint.text(p, r.left() + tag_w / 2, r.top() + 13, run.tag, 11.5, 700, t("select") if on else t("ink"), "c")
        color = t("on_select") if on else t("ink")
        w = paint.text(p, r.left() + tag_w + 6, r.top() + 13, body, 12, 600, color)
        paint.text(p, r.left() + tag_w + 10 + w, r.top() + 13, unit_, 11, 500, color if on else t("ink2"))


LEADER_PX = 9.0
"""A tag farther from its duct hangs on a leader."""


def _leader(p: QPainter, v: Sheet, r: QRectF, points: list[QPointF], half: float) -> None:
    """A line from a tag to the nearest place of what it names, with a dot there."""
    found = [(_nearest(r, a, b), k) for k, (a, b) in enumerate(pairwise(points))]
    if not found:
        return
    (q, at), _ = min(found, key=lambda x: hypot(x[0][0].x() - x[0][1].x(), x[0][0].y() - x[0][1].y()))
    if hypot(q.x() - at.x(), q.y() - at.y()) <= LEADER_PX + half:
        return
    p.setPen(QPen(v.theme("ink2"), 1.2))
    p.drawLine(q, at)
    p.setBrush(v.theme("ink2"))
    p.drawEllipse(at, 2.2, 2.2)


def _nearest(r: QRectF, a: QPointF, b: QPointF) -> tuple[QPointF, QPointF]:
    """The place of a stretch nearest to a rectangle's middle, and the rectangle's own nearest to that."""
    along, c = b - a, r.center() - a
    length2 = along.x() ** 2 + along.y() ** 2
    t = 0.0 if length2 <= 0 else min(max((c.x() * along.x() + c.y() * along.y()) / length2, 0.0), 1.0)
    at = a + along * t
    return QPointF(min(max(at.x(), r.left()), r.right()), min(max(at.y(), r.top()), r.bottom())), at


def _xy(points: list[QPointF]) -> Corners:
    return tuple((q.x(), q.y()) for q in points)


def _served(v: Sheet, run: DuctRun) -> Corners:
    """Corners of the room that a run serves, none for a trunk."""
    register = next((x for x in v.job.design.registers if x.id == run.register_id), None)
    return _xy([v.to_px(*pt) for pt in v.room(register.room).outline_m]) if register is not None else ()


@lru_cache(maxsize=512)
def _beside(
    points: Corners, size: tuple[float, float], beside: float, room: Corners
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Centres beside a run for a label, and what each costs for lying outside the room that the run serves."""
    path, box = run_path([QPointF(*xy) for xy in points], 0), QSizeF(*size)
    spots = [around(path.pointAtPercent(at), box, beside, 1) for at in (0.5, 0.65, 0.35, 0.8, 0.2)]
    centres = np.concatenate([*spots, around(path.pointAtPercent(1.0), box)])
    outside = np.where(within(centres, room), 0.0, OUTSIDE_COST) if room else np.zeros(len(centres))
    return centres, outside


def _label_on_duct(p: QPainter, v: Sheet, run: DuctRun, label: str) -> bool:
    width = run_width_px(v, run)
    points = run_points(v, run)
    w = paint.text_width(label, 12, 700)
    if width < 13:
        return False
    best = None
    for a, b in zip(points, points[1:], strict=False):
        flat = abs(b.y() - a.y()) < 2
        if (
            flat
            and abs(b.x() - a.x()) > w + 16
            and (best is None or abs(b.x() - a.x()) > abs(best[1].x() - best[0].x()))
        ):
            best = (a, b)
    if best is None:
        return False
    c = (best[0] + best[1]) / 2
    color = v.run_color(run)
    r = QRectF(c.x() - w / 2 - 4, c.y() - 8, w + 8, 16)
    p.fillRect(QRectF(r.left(), c.y() - width / 2 + 1, r.width(), width - 2), color)
    paint.text(p, c.x(), c.y() + 4.4, label, 12, 700, v.theme.on(color), "c")
    wide = roomy(w + 8, 16)
    v.labels.block(QRectF(c.x() - wide.width() / 2, c.y() - 8, wide.width(), 16))
    return True
