"""Strokes for what stands in the house: areas by rectangle, furniture turned by the drag, things and skylights placed."""

from __future__ import annotations

from math import atan2, copysign, degrees

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter

from murvan.app.plan import thing_layers
from murvan.app.plan.gestures.base import Gesture, Stroke, dimension, ghost, grabs, pill, tool
from murvan.app.plan.gestures.rooms import Rectangle
from murvan.app.plan.sheet import Sheet
from murvan.design.drawing import (
    AREAS,
    FURNITURE_M,
    Drawn,
    Outline,
    add_area,
    add_boxing,
    add_existing,
    add_furniture,
    add_obstacle,
    add_skylight,
    boxed,
    move_thing,
    room_at,
)
from murvan.model.job import Point

OBSTACLE_M = 0.1016
"""Width of what is drawn as a line, 4 in."""


class AreaRectangle(Rectangle):
    """A patch, a mechanical place or floor to keep clear."""

    kind = "patch"

    def stroke(self) -> Stroke | None:
        if super().stroke() is None:
            return None
        outline, storey, kind = self.outline(), self.storey, self.kind
        return Stroke(f"Draw {AREAS[kind][2].lower()}", lambda job: add_area(job, kind, storey, outline))


@tool("patch", "Drag over the part that has something else under or over it")
class PatchRectangle(AreaRectangle):
    kind = "patch"


@tool("place", "Drag the place for equipment from corner to corner")
class PlaceRectangle(AreaRectangle):
    kind = "place"


@tool("box", "Drag over the soffit or chase from corner to corner")
class BoxRectangle(AreaRectangle):
    """What ducts are boxed in: long a soffit, short a chase."""

    kind = "place"

    def stroke(self) -> Stroke | None:
        if super().stroke() is None:
            return None
        outline, storey = self.outline(), self.storey
        return Stroke("Draw soffit or chase", lambda job: add_boxing(job, storey, outline))


@tool("keep", "Drag over the floor that must stay free")
class KeepRectangle(AreaRectangle):
    kind = "keep"


@tool("obstacle", "Drag over the beam, post, pipe or drain; its size is typed in the card")
class ObstacleRectangle(Rectangle):
    """What ducts go round: short a post, thin a drain, else a beam."""

    def outline(self) -> Outline:
        """What is drawn as a line is as wide as a pipe."""
        (x0, y0), corner = self.first.at, self.corner()
        x1, y1 = (
            a + copysign(max(abs(b - a), OBSTACLE_M), b - a) for a, b in zip(self.first.at, corner, strict=True)
        )
        return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))

    def stroke(self) -> Stroke | None:
        if not self.moved and not self.lengths.typed:
            return None
        outline, storey = self.outline(), self.storey
        return Stroke("Draw a beam or pipe", lambda job: add_obstacle(job, storey, outline))


@tool("furniture", "Press where the bed stands and drag towards its foot")
class PlaceFurniture(Gesture):
    """A bed where it is pressed, its head turned away from where the drag goes."""

    stays_open = False
    at_once = True
    kind = "bed"

    def turn(self) -> float:
        d = self.at_px - self.pressed_px
        if not self.moved:
            return 0.0
        angle = degrees(atan2(d.y(), d.x())) - 90
        return round(angle / 15) * 15.0 if not self.free else round(angle, 1)

    def _at(self) -> Point:
        x, y = self.view.to_m(self.pressed_px)
        return (round(x, 3), round(y, 3))

    def stroke(self) -> Stroke | None:
        at, storey, kind, turn = self._at(), self.storey, self.kind, (self.turn() + 180) % 360 - 180
        return Stroke("Place a bed", lambda job: add_furniture(job, storey, at, kind, turn))

    def paint(self, p: QPainter) -> None:
        w, d = FURNITURE_M[self.kind]
        good = room_at(self.job, self.storey, self._at()) is not None
        ghost(p, self.view, boxed(self._at(), w, d, self.turn()), good)

    def hint(self) -> str:
        return "Drag towards the foot of the bed; its kind is changed in the card"


@tool("existing", "Press where the thing is")
class PlaceExisting(Gesture):
    """A thing that is in the house already."""

    stays_open = False
    at_once = True

    def stroke(self) -> Stroke | None:
        x, y = self.view.to_m(self.at_px)
        storey = self.storey
        return Stroke("Note what is there", lambda job: add_existing(job, storey, (round(x, 3), round(y, 3))))

    def paint(self, p: QPainter) -> None:
        pill(p, self.view, self.at_px, "there")


@tool("skylight", "Press where the skylight lies in the ceiling")
class PlaceSkylight(Gesture):
    """A skylight in the ceiling over the place pressed."""

    stays_open = False
    at_once = True

    def stroke(self) -> Stroke | None:
        x, y = self.view.to_m(self.at_px)
        storey = self.storey
        return Stroke("Place skylight", lambda job: add_skylight(job, storey, (round(x, 3), round(y, 3))))

    def paint(self, p: QPainter) -> None:
        at = self.view.to_m(self.at_px)
        ghost(p, self.view, boxed(at, 0.6, 1.2, 0.0), room_at(self.job, self.storey, at) is not None)


@grabs
class ThingDrag(Gesture):
    """A thing of the plan moved."""

    stays_open = False
    moves = ("house", "ducts")

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> ThingDrag | None:
        if view.moves == "ducts" and kind not in ("place", "obstacle"):
            return None
        outline = thing_layers.outline_of(view, kind, item)
        return cls(view, at, kind, item, outline) if outline is not None else None

    def __init__(self, view: Sheet, at: QPointF, kind: str, item: str, outline: Outline) -> None:
        super().__init__(view, at)
        self.kind, self.item, self.shape = kind, item, outline
        self.start = view.to_m(at)

    def shift(self) -> Point:
        x, y = self.view.to_m(self.at_px)
        g = 0.001 if self.free else self.grid_m
        return (round((x - self.start[0]) / g) * g, round((y - self.start[1]) / g) * g)

    def stroke(self) -> Stroke | None:
        dx, dy = self.shift()
        if not self.moved or (abs(dx) < 1e-4 and abs(dy) < 1e-4):
            return None
        kind, item = self.kind, self.item
        chosen = "opening" if kind == "skylight" else kind
        return Stroke(f"Move {WORDS[kind]}", lambda job: Drawn(move_thing(job, kind, item, dx, dy), chosen, item))

    def paint(self, p: QPainter) -> None:
        dx, dy = self.shift()
        moved = tuple((x + dx, y + dy) for x, y in self.shape)
        ghost(p, self.view, moved, not self.trouble)
        dimension(p, self.view, self.start, (self.start[0] + dx, self.start[1] + dy), 0)


WORDS = {
    "furniture": "furniture",
    "existing": "what is there",
    "patch": "patch",
    "place": "equipment place",
    "keep": "keep-clear floor",
    "obstacle": "beam or pipe",
    "space": "garage",
    "skylight": "skylight",
}
