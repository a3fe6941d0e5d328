"""Strokes for units: a head hung in a room, units moved, rooms given to a unit."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from murvan.app.plan import unit_layers
from murvan.app.plan.gestures.base import Gesture, Stroke, ghost, grabs, pill, place_m, tool
from murvan.app.plan.sheet import Sheet
from murvan.design.drawing import Drawn, room_at
from murvan.design.house import open_groups
from murvan.design.units import at_wall, hang_head
from murvan.model.design_edit import with_line
from murvan.model.edit import replace
from murvan.model.job import Job, Point
from murvan.model.linesets import laid_line
from murvan.model.unit_edit import give_rooms, outdoor_at, release_rooms, served_rooms


@tool(
    "head", "Press in a room: a head hangs at the wall nearest and serves the room; its kind is changed in the card"
)
class HangHead(Gesture):
    """A head in the room pressed."""

    stays_open = False
    at_once = True

    def stroke(self) -> Stroke | None:
        storey, at = self.storey, place_m(self.view, self.at_px)
        return Stroke("Hang a head", lambda job: hang_head(job, storey, at))

    def paint(self, p: QPainter) -> None:
        room = room_at(self.job, self.storey, place_m(self.view, self.at_px))
        at = self.at_px if room is None else self.view.to_px(*at_wall(room, place_m(self.view, self.at_px)))
        unit_layers.badge(p, self.view, unit_layers.Badge(at, "indoor_unit", "", "+"), room is not None)


@tool("outdoor", "Press where the outdoor unit of the unit in hand stands")
class PlaceOutdoor(Gesture):
    """The outdoor unit of the unit in hand."""

    stays_open = False
    at_once = True
    then = "select"

    def stroke(self) -> Stroke | None:
        unit, at = self.view.lens.unit, place_m(self.view, self.at_px)
        return Stroke("Place the outdoor unit", lambda job: Drawn(outdoor_at(job, unit, at), "indoor_unit", unit))

    def paint(self, p: QPainter) -> None:
        unit_layers.badge(p, self.view, unit_layers.Badge(self.at_px, "outdoor_unit", "", "+"), False)


class Rooms(Gesture):
    """Rooms that the pointer has passed."""

    stays_open = False

    def __init__(self, view: Sheet, at: QPointF) -> None:
        super().__init__(view, at)
        self.rooms: list[str] = []
        self.follow()

    def follow(self) -> None:
        room = self.view.room_at(self.at_px)
        if room is not None and room not in self.rooms:
            self.rooms.append(room)


@tool("serve", "Press or drag over rooms: they go to the unit in hand; rooms it has already are let go")
class ServeRooms(Rooms):
    """Rooms to the unit in hand, or away from it where it has the first one already."""

    at_once = True

    def _has(self) -> bool:
        unit = next((x for x in self.job.design.indoor_units if x.id == self.view.lens.unit), None)
        several = len(self.job.design.indoor_units) > 1 or (unit is not None and bool(unit.rooms))
        return unit is not None and several and self.rooms[0] in served_rooms(self.job, unit)

    def stroke(self) -> Stroke | None:
        if not self.rooms:
            return None
        unit, rooms = self.view.lens.unit, tuple(self.rooms)
        if self._has():
            return Stroke("Let rooms go", lambda job: Drawn(release_rooms(job, rooms), "indoor_unit", unit))
        return Stroke("Give rooms to the unit", lambda job: Drawn(give_rooms(job, unit, rooms), "indoor_unit", unit))

    def paint(self, p: QPainter) -> None:
        for room in self.rooms:
            if self.view.has_room(room):
                ghost(p, self.view, self.view.room(room).outline_m, not self._has())


@grabs
class RoomToUnit(Gesture):
    """A room dragged to the badge of a unit, or to a room of that unit."""

    stays_open = False
    moves = ("units",)

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> RoomToUnit | None:
        return cls(view, at, item) if kind == "room" else None

    def __init__(self, view: Sheet, at: QPointF, room: str) -> None:
        super().__init__(view, at)
        self.room = room

    def _to(self) -> str | None:
        """The unit under the pointer, by its badge or by the room it serves."""
        found = unit_layers.hit(self.view, self.at_px)
        if found is not None:
            return found[1] if found[0] == "indoor_unit" else None
        room = self.view.room_at(self.at_px)
        units = self.job.design.indoor_units
        return next((x.id for x in units if room in served_rooms(self.job, x)), None) if room != self.room else None

    def _rooms(self) -> tuple[str, ...]:
        """The room, with Alt those that are open to it too."""
        if not self.free:
            return (self.room,)
        return next(tuple(r.id for r in g) for g in open_groups(self.job) if self.room in {r.id for r in g})

    def stroke(self) -> Stroke | None:
        unit, room, rooms = self._to(), self.room, self._rooms()
        if not self.moved or unit is None:
            return None
        return Stroke("Give rooms to the unit", lambda job: Drawn(give_rooms(job, unit, rooms), "room", room))

    def paint(self, p: QPainter) -> None:
        t, unit = self.view.theme, self._to()
        p.setPen(QPen(t("ink"), 2, Qt.PenStyle.DashLine))
        p.drawLine(self.view.shape(self.room).centre, self.at_px)
        tag = next((x.tag for x in self.job.design.indoor_units if x.id == unit), "drop it on a unit")
        pill(p, self.view, self.at_px + QPointF(0, 24), tag, unit is not None)

    def hint(self) -> str:
        return "Drop the room on a unit's number, or on a room it serves; Alt takes rooms open to it along"


@grabs
class UnitDrag(Gesture):
    """An indoor or outdoor unit moved; rooms stay with it."""

    stays_open = False
    moves = ("units",)

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> UnitDrag | None:
        return cls(view, at, kind, item) if kind in ("indoor_unit", "outdoor_unit") else None

    def __init__(self, view: Sheet, at: QPointF, kind: str, item: str) -> None:
        super().__init__(view, at)
        self.kind, self.item = kind, item

    def _at(self, job: Job) -> Point:
        at = place_m(self.view, self.at_px)
        hangs = next((x.kind for x in job.design.indoor_units if x.id == self.item), "")
        room = room_at(job, self.storey, at)
        return at_wall(room, at) if hangs in ("wall", "floor") and room is not None and not self.free else at

    def stroke(self) -> Stroke | None:
        if not self.moved:
            return None
        kind, item, storey, at = self.kind, self.item, self.storey, self._at(self.job)
        if kind == "outdoor_unit":
            return Stroke(
                "Move the outdoor unit",
                lambda job: Drawn(replace(job, "outdoor_units", item, position_m=at), kind, item),
            )
        return Stroke(
            "Move the unit",
            lambda job: Drawn(replace(job, "indoor_units", item, position_m=at, storey=storey), kind, item),
        )

    def paint(self, p: QPainter) -> None:
        at = self.view.to_px(*self._at(self.job))
        b = next((b for b in unit_layers.badges(self.view) if b.id == self.item), None)
        unit_layers.badge(p, self.view, unit_layers.Badge(at, self.kind, self.item, b.text if b else ""), True)
        p.setPen(QPen(self.view.theme("ink"), 1))
        p.drawEllipse(QRectF(at.x() - 16, at.y() - 16, 32, 32))

    def hint(self) -> str:
        return "Wall and floor heads keep to the wall; Alt places freely"


@grabs
class LineDrag(Gesture):
    """A bend put into the refrigerant line of the unit in hand, or moved; dropped on the straight way it goes."""

    stays_open = False
    moves = ("units",)

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> LineDrag | None:
        return cls(view, at, item) if kind == "line" else None

    def __init__(self, view: Sheet, at: QPointF, unit: str) -> None:
        super().__init__(view, at)
        self.unit = unit
        line = next((x for x in self.job.design.lines if x.indoor == unit), None)
        self.bends = [(x, y, z) for x, y, z in line.route_m] if line is not None else []
        path = unit_layers.pipe(view, unit)
        near = [k for k, q in enumerate(path[1:-1]) if (q - at).manhattanLength() < unit_layers.REACH]
        self.held = near[0] if near and self.bends else None
        self.leg = unit_layers.leg_at(path, at)[0] if self.bends else 0

    def _route(self) -> list[tuple[float, float, float]]:
        """The bends as they would be now."""
        x, y = place_m(self.view, self.at_px)
        laid = laid_line(
            self.job.design, next(u for u in self.job.design.indoor_units if u.id == self.unit), self.job.storeys
        )
        bends = list(self.bends)
        z = bends[self.held][2] if self.held is not None else laid.path_m[-1][2]
        if self.held is not None:
            bends[self.held] = (x, y, z)
        else:
            bends.insert(self.leg, (x, y, z))
        at = self.leg if self.held is None else self.held
        ends = [laid.path_m[0], *bends, laid.path_m[-1]]
        straight = [self.view.to_px(*p[:2]) for p in (ends[at], ends[at + 2])]
        if unit_layers.leg_at(straight, self.at_px)[1] < unit_layers.NEAR_PIPE:
            del bends[at]
        return bends

    def stroke(self) -> Stroke | None:
        if not self.moved:
            return None
        unit, route = self.unit, tuple(self._route())
        return Stroke(
            "Lay the line",
            lambda job: Drawn(with_line(job, unit, route_m=route, length_m=None, lift_m=None), "indoor_unit", unit),
        )

    def paint(self, p: QPainter) -> None:
        path = unit_layers.pipe(self.view, self.unit)
        points = [path[0], *(self.view.to_px(x, y) for x, y, _ in self._route()), path[-1]]
        p.setPen(QPen(self.view.theme("cooling"), 3))
        p.drawPolyline(QPolygonF(points))

    def hint(self) -> str:
        return "Drag a bend into the line; drop it on the straight way to take it out"
