"""Readings on the plan and below it: bullets at registers, statics at the unit, instruments."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSizeF
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.plan.labels import Corners, around, everywhere, within
from murvan.app.plan.sheet import Sheet
from murvan.app.stations.base import View
from murvan.app.stations.readings_targets import Target, after, short_name, statics_of, target
from murvan.app.theme import Theme
from murvan.arrays import Array
from murvan.design.limits import BALANCE_SHARE
from murvan.field.verdict import RegisterVerdict
from murvan.model import Reading

COLOR = {"good": "good", "look": "look", "fails": "fails", "none": "outline"}


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


def bullets(p: QPainter, v: Sheet, view: View) -> None:
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


STATICS_W = 210.0


def draw_statics(p: QPainter, v: Sheet, view: View) -> None:
    """Test holes at the unit: one small table where the plan leaves room, measured and predicted."""
    t = view.theme
    if view.indoor.storey != v.storey:
        return
    c = v.to_px(*view.indoor.position_m)
    holes = statics_of(view)
    if all(h.predicted is None and h.measured is None for h in holes):
        return
    here = target(view)
    size = QSizeF(STATICS_W, 26.0 + 37 * len(holes))
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
        paint.text(p, left, y, short_name(h), 12, 500, t("ink2"))
        paint.text(p, left, y + 17, view.num(h.kind, h.measured), 14, 700, t("ink"))
        paint.text(p, right, y + 17, f"{view.num(h.kind, h.predicted)} predicted", 12, 500, t("ink2"), "r")


def dock(p: QPainter, r: QRectF, view: View) -> None:
    """Instruments: what the hood last read, the manometer, and what comes next."""
    t = view.theme
    here = target(view)
    x = here.register if here is not None else None
    if not view.v.count:
        paint.text(p, r.left() + 8, 40, "Nothing to read: lay out ducts first", 13, 500, t("ink2"))
        return
    box = QRectF(r.left(), 8, 258, 82)
    state = state_words(x.reading) if x is not None else "not in hand"
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
    title, note = next_words(view, here, bool(left))
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


def state_words(reading: Reading | None) -> str:
    return "no reading" if reading is None else "simulated" if reading.simulated else "typed"


def next_words(view: View, here: Target | None, more: bool) -> tuple[str, str]:
    """What the yellow card says: where a figure that is typed goes."""
    if here is None:
        return ("Select one", "this room has no register") if more else ("All read", "select one to correct it")
    if here.measured is None:
        return f"Next: {here.short}", f"{paint.elided(here.name, 12, 500, 84)}; type the figure"
    return (
        f"{here.short}: {view.num(here.kind, here.measured)}",
        f"{'read' if more else 'all read'}; type to correct it",
    )


def dock_click(x: float, r: QRectF, view: View) -> None:
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
