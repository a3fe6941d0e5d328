"""The hand on the plan: which tool it holds and the stroke under way. The view passes it pointer and keys."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QPointF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPen

from murvan.app.plan import layers, thing_layers
from murvan.app.plan.gestures.base import Gesture, Stroke, caught_mark, pill
from murvan.app.plan.gestures.openings import PlaceOpening, SlideOpening, ghost_opening
from murvan.app.plan.gestures.rooms import (
    BumpOut,
    GarageRectangle,
    Hover,
    NewWall,
    Polygon,
    Rectangle,
    RoomDrag,
    WallDrag,
    cross_hair,
)
from murvan.app.plan.gestures.things import (
    KeepRectangle,
    PatchRectangle,
    PlaceExisting,
    PlaceFurniture,
    PlaceRectangle,
    PlaceSkylight,
    ThingDrag,
)
from murvan.app.plan.gestures.underlay import PushUnderlay, ScaleLine, shown_underlay
from murvan.design.house.drawing.openings import spot_at
from murvan.design.house.drawing.rooms import join_rooms
from murvan.model.errors import JobError
from murvan.model.job import Job

if TYPE_CHECKING:
    from murvan.app.plan.view import PlanView

LIVE_MS = 15
STROKES: dict[str, Callable[[PlanView, QPointF], Gesture]] = {
    "room": Rectangle,
    "polygon": Polygon,
    "garage": GarageRectangle,
    "split": NewWall,
    "window": lambda v, at: PlaceOpening(v, at, "window"),
    "door": lambda v, at: PlaceOpening(v, at, "door"),
    "skylight": PlaceSkylight,
    "patch": PatchRectangle,
    "place": PlaceRectangle,
    "keep": KeepRectangle,
    "furniture": PlaceFurniture,
    "existing": PlaceExisting,
    "scale": ScaleLine,
    "underlay": PushUnderlay,
    "archway": lambda v, at: PlaceOpening(v, at, "archway"),
}
TOOL_WORDS = {
    "room": "Drag a room from corner to corner; over another room it takes what is free",
    "polygon": "Click the first corner of the room",
    "garage": "Drag the garage from corner to corner",
    "split": "Drag a new wall across a room",
    "window": "Press on an outside wall to put a window in",
    "door": "Press on a wall to put a door in",
    "archway": "Press on a wall between two rooms to open it",
    "scale": "Press on a point of the picture, drag to another and type how far they are apart",
    "underlay": "Drag the picture to where it belongs",
    "skylight": "Press where the skylight lies in the ceiling",
    "patch": "Drag over the part that has something else under or over it",
    "place": "Drag the place for equipment from corner to corner",
    "keep": "Drag over the floor that must stay free",
    "furniture": "Press where the bed stands and drag towards its foot",
    "existing": "Press where the thing is",
    "bump": "Drag along a wall and away from it",
    "join": "Click the room to join to the selected one",
}
DRAWING = frozenset(TOOL_WORDS)


class Hand(QObject):
    """Turns pointer and keys into strokes; tells of the job as it would be, and of strokes to keep."""

    live = pyqtSignal(object)
    """The job as the stroke under way would make it; None when it is dropped."""
    says = pyqtSignal(str)

    def __init__(self, view: PlanView) -> None:
        super().__init__(view)
        self.view = view
        self.tool = "select"
        self.gesture: Gesture | None = None
        self.trouble = ""
        self.keep: Callable[[Stroke], bool] = lambda stroke: False
        self._at: QPointF | None = None
        self._free = self._down = False
        self._hover = Hover(view)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(LIVE_MS)
        self._timer.timeout.connect(self._tell)

    # ---- tools ----

    def take(self, tool: str) -> None:
        """Take a tool in hand; a stroke under way is dropped."""
        self.drop()
        self.tool = tool
        self.view.setCursor(Qt.CursorShape.CrossCursor if tool in DRAWING else Qt.CursorShape.ArrowCursor)
        self.says.emit(TOOL_WORDS.get(tool, ""))
        self.view.redraw()

    @property
    def drawing(self) -> bool:
        """Whether a tool that draws is in hand."""
        return self.tool in DRAWING

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
        if self.tool == "join":
            self._join(at)
            return True
        if self.tool == "bump":
            spot = spot_at(self.view.present_job, self.view.storey, self.view.to_m(at), 12 / self.view.scale)
            if spot is None:
                self.says.emit("Press on a wall to bump it out")
            else:
                self._begin(BumpOut(self.view, at, spot.room.id, spot.wall))
            return True
        if self.tool in ("scale", "underlay") and shown_underlay(self.view) is None:
            self.says.emit("There is no picture under this storey; Ctrl+I takes one")
            return True
        make = STROKES.get(self.tool)
        if make is not None:
            self._begin(make(self.view, at))
            return True
        if self.tool == "select" and self.view.editable:
            return self._grab(at)
        return False

    def _begin(self, gesture: Gesture) -> None:
        self.gesture = gesture
        self.trouble = ""
        gesture.follow()
        if gesture.hint():
            self.says.emit(gesture.hint())
        self.view.update()

    def _grab(self, at: QPointF) -> bool:
        """Take hold of what lies under the pointer; it moves once the pointer does."""
        hit = self.view.hit(at)
        if hit is not None and hit[0] == "opening" and self.view.opening_kind(hit[1]) == "skylight":
            hit = ("skylight", hit[1])
        if hit is None:
            return False
        kind, item = hit
        if kind == "opening":
            self.gesture = SlideOpening(self.view, at, item)
        elif kind == "wall":
            room, _, wall = item.rpartition("/")
            self.gesture = WallDrag(self.view, at, room, int(wall))
        elif (outline := thing_layers.outline_of(self.view, kind, item)) is not None:
            self.gesture = ThingDrag(self.view, at, kind, item, outline)
        elif kind == "room" and self.view.selection is not None and self.view.selection.id == item:
            self.gesture = RoomDrag(self.view, at, item)
        return False

    def move(self, at: QPointF, modifiers: Qt.KeyboardModifier, pressed: bool) -> bool:
        """The pointer moved; True when it belongs to a stroke."""
        self._at, self._free = at, bool(modifiers & Qt.KeyboardModifier.AltModifier)
        g = self.gesture
        if g is None:
            if self.tool in DRAWING:
                self.view.update()
            return self.tool in DRAWING
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
        if isinstance(g, Polygon):
            g.open = True
        elif g.moved or isinstance(g, PlaceOpening | PlaceSkylight | PlaceFurniture | PlaceExisting):
            if g.let_go():
                self.finish()
            else:
                g.open = True
        elif g.stays_open:
            g.open = True
        else:
            self.gesture = None
        self.view.update()
        return True

    def double(self) -> bool:
        """A double click closes a polygon."""
        if isinstance(self.gesture, Polygon):
            if len(self.gesture.points) > 2:
                self.finish()
            return True
        return False

    def leave(self) -> None:
        self._at = None
        self.view.update()

    # ---- keys ----

    def wants(self, e: QKeyEvent) -> bool:
        """Whether a key belongs to the stroke under way and not to a command."""
        if e.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.MetaModifier):
            return False
        if self.tool in DRAWING and (e.key() == Qt.Key.Key_Escape or e.text().isdigit()):
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
            if not g.lengths.back() and isinstance(g, Polygon) and not g.drop_last():
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
        if self.tool in DRAWING:
            self.take("select")
            return True
        return False

    # ---- the stroke ----

    def _moved(self) -> None:
        """Work out the job as it would be, soon; the ghost is drawn at once."""
        if not self._timer.isActive():
            self._timer.start()
        self.view.update()

    def _tell(self) -> None:
        if self.gesture is None:
            return
        try:
            drawn = self.gesture.live()
            self.trouble = ""
        except JobError as exc:
            drawn, self.trouble = None, str(exc)
        self.live.emit(drawn.job if drawn else self.gesture.job)
        self.view.update()

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
            self.gesture, self.trouble = None, ""
            self.says.emit(TOOL_WORDS.get(self.tool, ""))
        elif g.lengths.typed or (stroke is not None and self.drawing):
            self._refused(g, self.trouble)
        else:
            self.gesture, self.trouble = None, ""
        self.view.update()

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
            self.gesture, self.trouble = None, ""
            self._timer.stop()
            self.live.emit(None)
            self.says.emit("")
            self.view.update()

    def _join(self, at: QPointF) -> None:
        hit = self.view.room_at(at)
        chosen = self.view.selected_room
        if hit is None or chosen is None:
            self.says.emit("Select a room first, then click the one to join to it")
            return
        if self.keep(Stroke("Join rooms", lambda job: join_rooms(job, chosen, hit))):
            self.take("select")

    # ---- the look ----

    def paint(self, p: QPainter) -> None:
        """The stroke under way, or what a press would catch."""
        if self.gesture is not None and (self.gesture.moved or self.gesture.open):
            self.gesture.paint(p)
            if self.trouble and self.gesture.open:
                pill(p, self.view, self.gesture.at_px + QPointF(0, 30), self.trouble)
            return
        if self._at is None or self.gesture is not None:
            return
        v = self.view
        if self.tool in ("window", "door", "archway"):
            ghost_opening(p, v, self._at, self.tool)  # type: ignore[arg-type]
        elif self.tool in ("room", "polygon", "garage", "split", "patch", "place", "keep"):
            snap = self._hover.at(self._at, self._free)
            cross_hair(p, v, v.to_px(*snap.at))
            caught_mark(p, v, snap)
        elif self.tool == "join":
            room = v.room_at(self._at)
            if room is not None and room != v.selected_room:
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.setPen(QPen(v.theme("ink"), 3, Qt.PenStyle.DashLine))
                p.drawPolygon(layers.polygon(v, v.room(room).outline_m))

    def present(self) -> Job | None:
        """The job the stroke began with."""
        return self.gesture.job if self.gesture else None
