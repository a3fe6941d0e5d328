"""The hand on the plan: which tool it holds and the stroke under way. The view passes it pointer and keys."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QPointF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter

from murvan.app.plan.gestures import ducts, openings, registers, rooms, things, underlay, units, walls, zones
from murvan.app.plan.gestures.base import GRABS, TOOLS, Gesture, Stroke, pill
from murvan.app.plan.picking import hit
from murvan.app.plan.sheet import Sheet
from murvan.model.errors import JobError
from murvan.model.job import Job

LIVE_MS = 15
STROKES = (rooms, walls, openings, things, underlay, units, registers, ducts, zones)
"""Imported so that their strokes register."""


def words_of(tool: str) -> str:
    """What to do with a tool."""
    return TOOLS[tool].words if tool in TOOLS else ""


class Hand(QObject):
    """Turns pointer and keys into strokes; tells of the job as it would be, and of strokes to keep."""

    live = pyqtSignal(object)
    """The job as the stroke under way would make it; None when it is dropped."""
    says = pyqtSignal(str)
    moved = pyqtSignal()
    """What the hand shows has changed."""
    took = pyqtSignal(str)
    """Another tool is in hand."""

    def __init__(self, sheet: Sheet, parent: QObject) -> None:
        super().__init__(parent)
        self.sheet = sheet
        self.tool = "select"
        self.gesture: Gesture | None = None
        self.keep: Callable[[Stroke], bool] = lambda stroke: False
        self._at: QPointF | None = None
        self._free = self._down = False
        self._hover = rooms.Hover(sheet)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(LIVE_MS)
        self._timer.timeout.connect(self._tell)

    # ---- tools ----

    def take(self, tool: str) -> None:
        """Take a tool in hand; a stroke under way is dropped."""
        self.drop()
        self.tool = tool
        self.says.emit(words_of(tool))
        self.took.emit(tool)

    @property
    def trouble(self) -> str:
        """Why the stroke under way can't be, in words; empty while it can."""
        return self.gesture.trouble if self.gesture is not None else ""

    @property
    def drawing(self) -> bool:
        """Whether a tool that draws is in hand."""
        return self.tool in TOOLS

    @property
    def busy(self) -> bool:
        """Whether a stroke is under way, so that keys belong to it."""
        return self.gesture is not None and (self.gesture.moved or self.gesture.open or self.gesture.lengths.typed)

    # ---- the pointer ----

    def press(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> bool:
        """A press of the left button; True when it belongs to a stroke."""
        self._down = True
        if self.gesture is not None:
            self.gesture.move(at, modifiers)
            if self.gesture.press_again():
                self.finish()
            else:
                self._moved()
            return True
        if self.tool in TOOLS:
            begun = TOOLS[self.tool].begin(self.sheet, at)
            if isinstance(begun, str):
                self.says.emit(begun)
            else:
                self._begin(begun)
            return True
        if self.tool == "select" and self.sheet.moves:
            return self._grab(at)
        return False

    def _begin(self, gesture: Gesture) -> None:
        self.gesture = gesture
        gesture.follow()
        if gesture.hint():
            self.says.emit(gesture.hint())
        self.moved.emit()

    def _grab(self, at: QPointF) -> bool:
        """Take hold of what lies under the pointer; it moves once the pointer does."""
        caught = hit(self.sheet, at)
        if caught is None:
            return False
        kind, item = caught
        if kind == "opening" and self.sheet.opening_kind(item) == "skylight":
            kind = "skylight"
        for gesture in GRABS:
            if self.sheet.moves not in gesture.moves:
                continue
            held = gesture.grab(self.sheet, at, kind, item)
            if held is not None:
                self.gesture = held
                break
        return False

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier, pressed: bool) -> bool:
        """The pointer moved; True when it belongs to a stroke."""
        self._at, self._free = at, bool(modifiers & Qt.KeyboardModifier.AltModifier)
        g = self.gesture
        if g is None:
            if self.tool in TOOLS:
                self.moved.emit()
            return self.tool in TOOLS
        was = g.moved
        g.move(at, modifiers)
        if g.moved and not was and self.tool == "select":
            self.says.emit(g.hint())
        if g.moved or g.open:
            self._moved()
        return g.moved or g.open

    def release(self, at: QPointF, modifiers: Qt.KeyboardModifier) -> bool:
        """The button was let go; True when it belongs to a stroke."""
        self._down = False
        g = self.gesture
        if g is None:
            return False
        if g.open:
            return True
        g.move(at, modifiers)
        if g.by_clicks:
            g.open = True
            if g.moved and g.dragged():
                self.finish()
        elif g.moved or g.at_once:
            if g.let_go():
                self.finish()
            else:
                g.open = True
        elif g.stays_open:
            g.open = True
        else:
            self.gesture = None
        self.moved.emit()
        return True

    def double(self) -> bool:
        """A double click, such as closes a polygon; True when it was the stroke's."""
        ends = self.gesture.double() if self.gesture is not None else None
        if ends:
            self.finish()
        return ends is not None

    def leave(self) -> None:
        self._at = None
        self.moved.emit()

    # ---- keys ----

    def wants(self, e: QKeyEvent) -> bool:
        """Whether a key belongs to the stroke under way and not to a command."""
        if e.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.MetaModifier):
            return False
        if self.tool in TOOLS and (e.key() == Qt.Key.Key_Escape or e.text().isdigit()):
            return True
        if self.gesture is None:
            return False
        return not e.text().isalpha() or self.gesture.lengths.typed or self._down

    def key(self, e: QKeyEvent) -> bool:
        """A key; True when it was taken."""
        g = self.gesture
        key = e.key()
        if key == Qt.Key.Key_Escape:
            return self.escape()
        if g is None:
            self.says.emit("Press on the plan first, then type the length")
            return True
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._enter(g)
        elif key in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
            g.lengths.next(1 if key == Qt.Key.Key_Tab else -1)
            self._moved()
        elif key == Qt.Key.Key_Backspace:
            if not g.lengths.back() and not g.back():
                self.drop()
            self._moved()
        elif e.text() in ("x", "×", "*") and len(g.fields) > 1:
            g.lengths.next()
            self._moved()
        elif e.text() and g.lengths.type(e.text()):
            g.open = g.open or not self._down
            self._moved()
        elif e.text().isprintable() and e.text().strip() and g.lengths.typed:
            self.says.emit(f"'{e.text()}' is no part of a length")
        return True

    def _enter(self, g: Gesture) -> None:
        if g.lengths.trouble:
            self.says.emit(g.lengths.trouble)
            return
        if g.enter():
            self.finish()
        else:
            self._moved()

    def escape(self) -> bool:
        """Drop the stroke under way, or else the tool; True when there was one."""
        if self.gesture is not None:
            self.drop()
            self.says.emit("Dropped")
            return True
        if self.tool in TOOLS:
            self.take("select")
            return True
        return False

    # ---- the stroke ----

    def _moved(self) -> None:
        """Work out the job as it would be, soon; the ghost is drawn at once."""
        if not self._timer.isActive():
            self._timer.start()
        self.moved.emit()

    def _tell(self) -> None:
        if self.gesture is None:
            return
        try:
            drawn = self.gesture.live()
            self.gesture.trouble = ""
        except JobError as exc:
            drawn, self.gesture.trouble = None, str(exc)
        self.live.emit(drawn.job if drawn else self.gesture.job)
        self.moved.emit()

    def finish(self) -> None:
        """Keep the stroke as one step. A drawn one that is refused stays, to be mended; a dragged thing goes back."""
        g = self.gesture
        if g is None:
            return
        if g.lengths.trouble:
            self.says.emit(g.lengths.trouble)
            g.open = True
            return
        try:
            stroke = g.stroke()
        except JobError as exc:
            if not self.drawing:
                self.drop()
            self._refused(g, str(exc))
            return
        self._timer.stop()
        self.live.emit(None)
        if stroke is not None and self.keep(stroke):
            self.gesture = None
            if g.then:
                self.take(g.then)
            else:
                self.says.emit(words_of(self.tool))
        elif g.lengths.typed or (stroke is not None and self.drawing):
            self._refused(g, self.trouble)
        else:
            self.gesture = None
        self.moved.emit()

    def _refused(self, g: Gesture, why: str) -> None:
        """Leave the stroke where it is; the next press, a typed length or Esc goes on from there."""
        if self.gesture is g:
            g.open = True
            self._timer.stop()
            self._tell()
            why = why or self.trouble
        if why:
            self.says.emit(f"{why.rstrip('.')}. Esc drops the stroke" if self.gesture is g else why)

    def drop(self) -> None:
        """Forget the stroke under way; nothing has changed."""
        if self.gesture is not None:
            self.gesture = None
            self._timer.stop()
            self.live.emit(None)
            self.says.emit("")
            self.moved.emit()

    # ---- the look ----

    def paint(self, p: QPainter) -> None:
        """The stroke under way, or what a press would catch."""
        if self.gesture is not None and (self.gesture.moved or self.gesture.open):
            self.gesture.paint(p)
            if self.trouble and self.gesture.open:
                pill(p, self.sheet, self.gesture.at_px + QPointF(0, 30), self.trouble)
            return
        if self._at is None or self.gesture is not None:
            return
        if self.tool in TOOLS:
            at, held = self._at, TOOLS[self.tool]
            held.gesture.before(p, self.sheet, at, lambda: self._hover.at(at, self._free), **held.more)

    def present(self) -> Job | None:
        """The job the stroke began with."""
        return self.gesture.job if self.gesture else None
