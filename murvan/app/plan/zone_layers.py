"""Thermostats on the plan: a plate with the number of the zone, as its dampers bear it."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.plan.sheet import Sheet
from murvan.model.design import Zone

WIDE, HIGH = 30.0, 20.0


def placed(v: Sheet) -> Iterator[tuple[Zone, QPointF]]:
    """Thermostats of the storey shown, px."""
    for z in v.job.design.zones:
        if z.position_m is not None and z.storey == v.storey:
            yield z, v.to_px(*z.position_m)


def hit(v: Sheet, at: QPointF) -> str | None:
    """The zone whose thermostat is under a point."""
    return next((z.id for z, c in placed(v) if _plate(c).contains(at)), None)


def thermostats(p: QPainter, v: Sheet) -> None:
    """All of the storey; labels keep clear of them."""
    for z, c in placed(v):
        badge(p, v, c, z.id, True, z.id in v.lens.calling)
        v.labels.block(_plate(c))


def badge(p: QPainter, v: Sheet, at: QPointF, words: str, good: bool, calls: bool = False) -> None:
    """One thermostat: a dial beside its zone's number; lit while it calls."""
    t, r = v.theme, _plate(at)
    p.setPen(QPen(t("ink") if good else t("fails"), 1.5))
    p.setBrush(t("select") if calls else t("paper"))
    p.drawRect(r)
    ink = t("on_select") if calls else t("ink")
    p.setPen(QPen(ink, 1.5))
    p.drawEllipse(QPointF(r.left() + 9, r.center().y()), 5, 5)
    p.drawLine(QPointF(r.left() + 9, r.center().y()), QPointF(r.left() + 12, r.center().y() - 3))
    paint.text(p, r.right() - 7, r.center().y() + 4.5, words, 12, 700, ink, "c", 16)


def _plate(c: QPointF) -> QRectF:
    return QRectF(c.x() - WIDE / 2, c.y() - HIGH / 2, WIDE, HIGH)
