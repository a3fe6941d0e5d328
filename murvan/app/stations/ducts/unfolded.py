"""A plenum unfolded: four sides as the wrap has them and the end over the front, with its take-offs in place."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.stations.base import View
from murvan.design.ducts import PlenumDesign, TakeOff
from murvan.design.space import FACES, Side, side_of, side_size
from murvan.model.design import Face

WORDS_PX = 44.0
"""What a side and its width take under a narrow face."""
RING: tuple[Side, ...] = ("left", "front", "right", "back")
"""Sides as the wrap has them, seen from outside from left to right."""
IN_CARD = (2.0, 2.0, 34.0, 20.0)


def face_names(x: PlenumDesign) -> dict[Side, Face]:
    """The face that each side of the box is; a side that has none lies below or at the unit."""
    return {s: f for f in FACES if (s := side_of(f, x.air)) is not None}


def side_words(x: PlenumDesign, side: Side) -> str:
    """'South', 'End', 'Under'."""
    face = face_names(x).get(side)
    if side == "cap":
        return "End" if face is None or x.air[2] == 0 else "Top" if x.air[2] > 0 else "Bottom"
    return face.capitalize() if face is not None else "Under"


class Spread(NamedTuple):
    """The sides of a box on the page: px per m, and the lower left corner of each."""

    scale: float
    foot: dict[Side, QPointF]
    size: dict[Side, tuple[float, float]]

    @staticmethod
    def of(x: PlenumDesign, page: QRectF, margins: tuple[float, float, float, float]) -> Spread:
        """As large as it goes within margins: left, over, right, under."""
        size = {s: side_size(x.plenum, s) for s in (*RING, "cap")}
        wide, tall = sum(size[s][0] for s in RING), size["front"][1] + size["cap"][1]
        before, over, after, under = margins
        k = min((page.width() - before - after) / wide, (page.height() - over - under) / tall)
        left = page.left() + before + (page.width() - before - after - wide * k) / 2
        base = page.top() + over + (page.height() - over - under - tall * k) / 2 + tall * k
        foot: dict[Side, QPointF] = {}
        for s in RING:
            foot[s] = QPointF(left, base)
            left += size[s][0] * k
        foot["cap"] = QPointF(foot["front"].x(), base - size["front"][1] * k)
        return Spread(k, foot, size)

    def rect(self, side: Side) -> QRectF:
        """A side."""
        (w, h), at = self.size[side], self.foot[side]
        return QRectF(at.x(), at.y() - h * self.scale, w * self.scale, h * self.scale)

    def px(self, side: Side, along_m: float, up_m: float) -> QPointF:
        """A place on a side."""
        at = self.foot[side]
        return QPointF(at.x() + along_m * self.scale, at.y() - up_m * self.scale)

    def hole(self, t: TakeOff) -> QRectF:
        """A take-off."""
        c, w, h = self.px(t.side, t.along_m, t.up_m), t.width_m * self.scale, t.height_m * self.scale
        return QRectF(c.x() - w / 2, c.y() - h / 2, w, h)

    def at(self, p: QPointF) -> tuple[Side, float, float] | None:
        """The side at a place on the page, and where on it."""
        for s in (*RING, "cap"):
            side: Side = s  # type: ignore[assignment]
            if self.rect(side).contains(p):
                at = self.foot[side]
                return side, (p.x() - at.x()) / self.scale, (at.y() - p.y()) / self.scale
        return None


def shown_of(x: PlenumDesign) -> tuple[object, ...]:
    """What the picture on a card shows: not the air."""
    return (x.plenum, *((o.run, o.face, o.along_m, o.up_m, o.width_m, o.height_m) for o in x.take_offs))


def unfolded(p: QPainter, r: QRectF, view: View, x: PlenumDesign, chosen: str) -> None:
    """On a card, the face of one run lit."""
    t, spread = view.theme, Spread.of(x, r, IN_CARD)
    lit = {o.side for o in x.take_offs if o.run.id == chosen}
    for side in (*RING, "cap"):
        own = spread.rect(side)  # type: ignore[arg-type]
        p.setPen(QPen(t("ink"), 1.3))
        p.setBrush(t("select_soft") if side in lit else t("paper"))
        p.drawRect(own)
        if side == "cap":
            paint.text(p, own.right() + 5, own.top() + 12, side_words(x, side), 11.5, 500, t("ink2"))  # type: ignore[arg-type]
            continue
        words = f"{side_words(x, side)[:1]} {view.num('size', spread.size[side][0])}"  # type: ignore[arg-type, index]
        paint.text(p, own.center().x(), own.bottom() + 14, words, 11, 600, t("ink"), "c", max(own.width(), WORDS_PX))
    for o in x.take_offs:
        _hole(p, view, spread.hole(o), o, o.run.id == chosen)
    last = spread.rect("back")
    p.setPen(QPen(t("outline"), 1))
    p.drawLine(QPointF(last.right() + 8, last.top()), QPointF(last.right() + 8, last.bottom()))
    paint.text(p, last.right() + 12, last.center().y() + 4, view.num("size", x.plenum.height_m), 11.5, 600, t("ink"))


def _hole(p: QPainter, view: View, r: QRectF, o: TakeOff, on: bool) -> None:
    t, colour = view.theme, "supply" if o.run.side == "supply" else "return"
    p.setPen(QPen(t("ink"), 2.4 if on else 1.3))
    p.setBrush(t(colour) if on else t(f"{colour}_soft"))
    if o.run.shape == "round":
        p.drawEllipse(r)
    else:
        p.drawRect(r)
    if on:
        p.setPen(QPen(t("select"), 1.2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(r.adjusted(-3, -3, 3, 3))
    small = r.height() < 26
    ink = t("ink") if small or not on else t.on(t(colour))
    paint.text(p, r.center().x(), r.bottom() + 11 if small else r.center().y() + 4, o.run.tag, 11, 700, ink, "c")
