"""What every stroke on the plan has in common: snapping, lengths typed in the middle, ghosts and dimensions."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from math import hypot
from typing import Any, TypeVar

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.plan.sheet import Sheet
from murvan.design.drawing import Drawn, Outline, Snap, SnapField, grid_step_m
from murvan.model.job import Job, Point
from murvan.units import UnitError, Units, parse

REACH_PX = 9.0
TYPED = set("0123456789.,'\"′″ /-¼½¾ftinchmo")
"""Characters a length is typed with: figures, marks, and the letters of ft, foot, in, inch, m, cm and mm."""


@dataclass
class Lengths:
    """Lengths typed while a stroke is under way; an empty one follows the pointer."""

    names: tuple[str, ...]
    units: Units
    kinds: tuple[str, ...] = ()
    """What each is read as, such as 'size'; a length where none is named."""
    texts: list[str] = field(default_factory=list)
    at: int = 0
    _values: list[float | None] = field(default_factory=list)
    """m; None follows the pointer."""
    _troubles: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.clear()

    def _write(self, text: str) -> None:
        """Another text in the field at hand, read once: painting asks for it many times."""
        self.texts[self.at] = text
        self._values[self.at], self._troubles[self.at] = None, ""
        if text.strip():
            try:
                self._values[self.at] = parse(self.kinds[self.at] if self.kinds else "feet", text, self.units)
            except UnitError as exc:
                self._troubles[self.at] = str(exc)

    def put(self, k: int, text: str) -> None:
        """A field as it was typed before."""
        was, self.at = self.at, k
        self._write(text)
        self.at = was

    def type(self, character: str) -> bool:
        """Take a character; False when it can't belong to a length."""
        if not self.names or character.lower() not in TYPED:
            return False
        if character == " " and not self.texts[self.at]:
            return False
        self._write(self.texts[self.at] + character)
        return True

    def back(self) -> bool:
        """Take the last character off; False when there is none."""
        if not self.names or not self.texts[self.at]:
            return False
        self._write(self.texts[self.at][:-1])
        return True

    def next(self, step: int = 1) -> None:
        if self.names:
            self.at = (self.at + step) % len(self.names)

    def value(self, k: int) -> float | None:
        """The typed length in m; None while it is empty or can't be read."""
        return self._values[k] if self.names else None

    @property
    def trouble(self) -> str:
        """What can't be read, in words; empty when all is well."""
        return next((x for x in self._troubles if x), "")

    @property
    def typed(self) -> bool:
        return any(t.strip() for t in self.texts)

    def clear(self) -> None:
        self.texts = [""] * len(self.names)
        self._values, self._troubles = [None] * len(self.names), [""] * len(self.names)
        self.at = 0


@dataclass(frozen=True)
class Stroke:
    """A finished stroke: the name of its undo step and the edit."""

    name: str
    edit: Callable[[Job], Drawn]


@dataclass(frozen=True)
class Tool:
    """A tool of the plan: the stroke it draws, and what to do with it in words."""

    gesture: type[Gesture]
    words: str
    more: dict[str, Any]
    """Besides view and place, what the stroke is made with."""

    def begin(self, view: Sheet, at: QPointF) -> Gesture | str:
        return self.gesture.begin(view, at, **self.more)


TOOLS: dict[str, Tool] = {}
"""Every tool that draws: each stroke registers itself."""
GRABS: list[type[Gesture]] = []
"""Strokes of the select tool: each takes hold of what it can move."""
G = TypeVar("G", bound="type[Gesture]")


def place_m(v: Sheet, at: QPointF) -> Point:
    """A place on the plan, to the mm."""
    x, y = v.to_m(at)
    return (round(x, 3), round(y, 3))


def tool(name: str, words: str, **more: Any) -> Callable[[G], G]:
    """Register a stroke as a tool."""

    def register(gesture: G) -> G:
        TOOLS[name] = Tool(gesture, words, more)
        return gesture

    return register


def grabs(gesture: G) -> G:
    """Register a stroke that moves what is there."""
    GRABS.append(gesture)
    return gesture


class Gesture:
    """One stroke from press to release. Subclasses answer what it would do now and how it looks.

    A press that is let go at the same place stays open: the stroke then follows the pointer until the next press,
    so that both lengths can be typed.
    """

    fields: tuple[str, ...] = ()
    stays_open = True
    """A press without a drag leaves it open for typed lengths."""
    by_clicks = False
    """Goes on from click to click until it is closed."""
    at_once = False
    """A press without a drag is enough."""
    moves: tuple[str, ...] = ("house",)
    """What a stroke of the select tool moves: of the house, 'units', 'registers', 'ducts', 'zones'; as the sheet's `moves`."""
    then = ""
    """The tool that is taken once it is kept; '' for the same again."""

    def __init__(self, view: Sheet, at: QPointF) -> None:
        self.view = view
        self.job: Job = view.present_job
        self.storey = view.storey
        self.pressed_px = at
        self.at_px = at
        self.free = False
        self.lengths = Lengths(self.fields, view.units)
        self.snap = Snap(view.to_m(at))
        self.open = False
        self.trouble = ""
        """Why it can't be, in words, as far as it was worked out."""

    @classmethod
    def begin(cls, view: Sheet, at: QPointF, **more: Any) -> Gesture | str:
        """A stroke from where the pointer is pressed; or in words why there is none."""
        return cls(view, at, **more)

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> Gesture | None:
        """A stroke that moves a thing of the plan, where it is of a kind that it can move."""
        return None

    # ---- the pointer ----

    @property
    def moved(self) -> bool:
        d = self.at_px - self.pressed_px
        return hypot(d.x(), d.y()) > 4

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> None:
        self.at_px = at
        self.free = bool(modifiers & Qt.KeyboardModifier.AltModifier)
        self.follow()

    def follow(self) -> None:
        """Take the pointer's place into account."""

    def press_again(self) -> bool:
        """A press while the stroke is open; True when it ends the stroke."""
        return True

    def let_go(self) -> bool:
        """The button was let go after a drag; True when that ends the stroke."""
        return True

    def dragged(self) -> bool:
        """The button was let go after a drag of a stroke that goes by clicks; True when that ends it."""
        return False

    def enter(self) -> bool:
        """Enter was pressed; True when it ends the stroke."""
        return True

    def double(self) -> bool | None:
        """A double click; True when it ends the stroke, None when it is none of its business."""
        return None

    def back(self) -> bool:
        """Backspace with no length typed; False when nothing of the stroke is left."""
        return True

    @classmethod
    def before(cls, p: QPainter, v: Sheet, at: QPointF, snap: Callable[[], Snap], **more: Any) -> None:
        """What a press here would begin with; `snap` is the point it would catch."""

    # ---- what it does ----

    def stroke(self) -> Stroke | None:
        """What it would do now; None while it is nothing yet."""
        raise NotImplementedError

    def live(self) -> Drawn | None:
        """The job as it would be now. Raises JobError."""
        stroke = self.stroke()
        return stroke.edit(self.job) if stroke else None

    # ---- the look ----

    def paint(self, p: QPainter) -> None:
        raise NotImplementedError

    def hint(self) -> str:
        """What can be done now, for the status line."""
        return ""

    # ---- helpers ----

    @property
    def reach_m(self) -> float:
        return REACH_PX / self.view.scale

    @property
    def grid_m(self) -> float:
        return grid_step_m(self.view.scale, self.view.units == "si")

    def caught(
        self, field: SnapField, at: QPointF, origin: Point | None = None, extra: tuple[Point, ...] = ()
    ) -> Snap:
        """The point meant by a place on the screen; with Alt just that place."""
        x, y = self.view.to_m(at)
        if self.free:
            return Snap((round(x, 3), round(y, 3)))
        return field.snap((x, y), self.reach_m, self.grid_m, origin, extra)


def ghost(p: QPainter, v: Sheet, outline: Outline, good: bool = True, closed: bool = True) -> None:
    """An outline that is not drawn yet."""
    t = v.theme
    points = QPolygonF([v.to_px(*pt) for pt in outline])
    fill = QColor(t("select" if good else "fails"))
    fill.setAlpha(50)
    p.setBrush(fill if closed else Qt.BrushStyle.NoBrush)
    edge = t("ink") if good else t("fails")
    for color, width in ((edge, 5.0), (t("select") if good else t("paper"), 2.4)):
        p.setPen(QPen(color, width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.SquareCap, Qt.PenJoinStyle.MiterJoin))
        p.drawPolygon(points) if closed else p.drawPolyline(points)
        p.setBrush(Qt.BrushStyle.NoBrush)


def dimension(
    p: QPainter, v: Sheet, a: Point, b: Point, off_px: float, typed: str | None = None, active: bool = False
) -> None:
    """The length from a to b, standing `off_px` to the left of that direction as a tape would be read.

    `typed` is shown in place of the measured length; the active one has the caret.
    """
    t = v.theme
    pa, pb = v.to_px(*a), v.to_px(*b)
    d = pb - pa
    length = hypot(d.x(), d.y())
    if length < 2:
        return
    n = QPointF(d.y(), -d.x()) / length * off_px
    qa, qb = pa + n, pb + n
    p.setPen(QPen(t("ink2"), 1))
    p.drawLine(qa, qb)
    for q in (qa, qb):
        tick = QPointF(d.x() + d.y(), d.y() - d.x()) / length * 4
        p.drawLine(q - tick, q + tick)
    shown = typed if typed else length_text(v, hypot(b[0] - a[0], b[1] - a[1]))
    caret = "▏" if active and typed else ""
    pill(p, v, (qa + qb) / 2, shown + caret, typed is not None and bool(typed), active)


def length_text(v: Sheet, metres: float) -> str:
    return v.number("feet", metres) + ("" if v.units == "ip" else " m")


def pill(p: QPainter, v: Sheet, at: QPointF, s: str, typed: bool = False, active: bool = False) -> None:
    """A length on its own ground: yellow while it is typed, framed when typing would change it."""
    t = v.theme
    w = paint.text_width(s, 13, 700) + 12
    x = min(max(at.x() - w / 2, 2.0), v.width() - w - 2)
    y = min(max(at.y() - 10, 2.0), v.height() - 22.0)
    r = QRectF(x, y, w, 20)
    fill = t("select") if typed else t("paper")
    paint.rounded(p, r, fill, t("ink") if active or typed else t("rule"), 3, 1.5 if active else 1.0)
    paint.text(p, r.center().x(), r.bottom() - 5, s, 13, 700, t("on_select") if typed else t("ink"), "c")


def caught_mark(p: QPainter, v: Sheet, snap: Snap) -> None:
    """A ring on what was caught, its guides, and its name beside the pointer."""
    t = v.theme
    at = v.to_px(*snap.at)
    p.setBrush(Qt.BrushStyle.NoBrush)
    for guide in snap.guides:
        p.setPen(QPen(t("cooling"), 1.2, Qt.PenStyle.DashLine))
        p.drawLine(v.to_px(*guide.start), v.to_px(*guide.end))
        p.setPen(QPen(t("cooling"), 1.4))
        p.drawEllipse(v.to_px(*guide.start), 4.5, 4.5)
    p.setPen(QPen(t("ink"), 1.6))
    p.setBrush(t("select"))
    if snap.corner:
        p.drawRect(QRectF(at.x() - 5.5, at.y() - 5.5, 11, 11))
    else:
        p.drawEllipse(at, 4.0, 4.0)
    if snap.words:
        w = paint.text_width(snap.words, 12, 600) + 12
        x = at.x() + 14 if at.x() + 14 + w < v.width() else at.x() - 14 - w
        y = at.y() + 12 if at.y() + 34 < v.height() else at.y() - 32
        r = QRectF(x, y, w, 19)
        paint.rounded(p, r, t("ink"), t("ink"), 3)
        paint.text(p, r.left() + 6, r.bottom() - 5.5, snap.words, 12, 600, t("on_ink"))
