"""Strokes on the picture under the plan: put it to scale, push it about."""

from __future__ import annotations

from math import hypot
from typing import Any

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPen

from murvan.app.plan.gestures.base import Gesture, Stroke, dimension, tool
from murvan.app.plan.sheet import Sheet
from murvan.design.drawing import Drawn, rescale, shift_underlay
from murvan.model.job import Point, Underlay


def shown_underlay(view: Sheet) -> Underlay | None:
    """The picture shown under this storey."""
    return next((u for u in view.present_job.underlays if u.storey == view.storey and u.shown), None)


NO_PICTURE = "There is no picture under this storey; Ctrl+I takes one"


@tool("scale", "Press on a point of the picture, drag to another and type how far they are apart")
class ScaleLine(Gesture):
    """From one point of the picture to another; the length typed is what lies between them in truth."""

    fields = ("true length",)

    @classmethod
    def begin(cls, view: Sheet, at: QPointF, **more: Any) -> ScaleLine | str:
        return cls(view, at) if shown_underlay(view) is not None else NO_PICTURE

    def __init__(self, view: Sheet, at: QPointF) -> None:
        super().__init__(view, at)
        self.underlay = shown_underlay(view)
        self.a: Point = view.to_m(at)
        self.b: Point = self.a
        self.fixed = False

    def follow(self) -> None:
        if not self.fixed:
            self.b = self.view.to_m(self.at_px)

    def press_again(self) -> bool:
        """The second point is set; the length still has to be typed."""
        self.fixed = True
        return self.lengths.value(0) is not None

    def let_go(self) -> bool:
        """After a drag both points are set and the length is waited for."""
        self.fixed = hypot(self.b[0] - self.a[0], self.b[1] - self.a[1]) * self.view.scale > 12
        return self.lengths.value(0) is not None

    def stroke(self) -> Stroke | None:
        length = self.lengths.value(0)
        if self.underlay is None or length is None:
            return None
        a, b, under = self.a, self.b, self.underlay.id
        return Stroke(
            "Set the picture's scale", lambda job: Drawn(rescale(job, under, a, b, length), "underlay", under)
        )

    def paint(self, p: QPainter) -> None:
        v = self.view
        pa, pb = v.to_px(*self.a), v.to_px(*self.b)
        for color, width in ((v.theme("ink"), 4.0), (v.theme("select"), 2.0)):
            p.setPen(QPen(color, width))
            p.drawLine(pa, pb)
        for at in (pa, pb):
            p.setPen(QPen(v.theme("ink"), 1.6))
            p.setBrush(v.theme("select"))
            p.drawEllipse(at, 5, 5)
        p.setBrush(Qt.BrushStyle.NoBrush)
        dimension(p, v, self.a, self.b, 18, self.lengths.texts[0] or "?", True)

    def hint(self) -> str:
        return "Mark two points whose distance you know, then type it and press Enter"


@tool("underlay", "Drag the picture to where it belongs")
class PushUnderlay(Gesture):
    """The picture moved under the plan."""

    stays_open = False

    @classmethod
    def begin(cls, view: Sheet, at: QPointF, **more: Any) -> PushUnderlay | str:
        return cls(view, at) if shown_underlay(view) is not None else NO_PICTURE

    def __init__(self, view: Sheet, at: QPointF) -> None:
        super().__init__(view, at)
        self.underlay = shown_underlay(view)
        self.start = view.to_m(at)

    def stroke(self) -> Stroke | None:
        if self.underlay is None or not self.moved:
            return None
        x, y = self.view.to_m(self.at_px)
        dx, dy, under = x - self.start[0], y - self.start[1], self.underlay.id
        return Stroke("Move the picture", lambda job: Drawn(shift_underlay(job, under, dx, dy), "underlay", under))

    def paint(self, p: QPainter) -> None:
        p.setPen(QPen(self.view.theme("ink"), 1.6, Qt.PenStyle.DashLine))
        p.drawLine(self.pressed_px, self.at_px)
