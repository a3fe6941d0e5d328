"""Strokes for zones: rooms dragged together, a room dragged to another zone, thermostats placed and moved."""

from __future__ import annotations

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter

from murvan.app.plan.gestures.base import Gesture, Stroke, ghost, grabs, pill, place_m, tool
from murvan.app.plan.gestures.units import Rooms
from murvan.app.plan.sheet import Sheet
from murvan.app.plan.zone_layers import badge
from murvan.design.drawing import room_at
from murvan.design.zones import join_zone, thermostat_at
from murvan.model.design_edit import zone_of


@tool("zone", "Press in a room and drag over others: they join its zone; with Alt they make a zone of their own")
class ZoneRooms(Rooms):
    """Rooms of one zone."""

    at_once = True

    def stroke(self) -> Stroke | None:
        rooms, alone = tuple(self.rooms), self.free
        if not rooms:
            return None
        return Stroke("Put rooms in a zone", lambda job: join_zone(job, rooms, alone))

    def paint(self, p: QPainter) -> None:
        for room in self.rooms:
            if self.view.has_room(room):
                ghost(p, self.view, self.view.room(room).outline_m, True)
        pill(p, self.view, self.at_px + QPointF(0, 24), self._words())

    def _words(self) -> str:
        own = zone_of(self.job.design, self.rooms[0]) if self.rooms else None
        name = next((z.name for z in self.job.design.zones if z.id == own), None)
        return "a zone of their own" if self.free or name is None else name


@tool("thermostat", "Press where the thermostat of the room's zone hangs")
class PlaceThermostat(Gesture):
    """The thermostat of the zone of the room pressed."""

    stays_open = False
    at_once = True

    def stroke(self) -> Stroke | None:
        storey, at = self.storey, place_m(self.view, self.at_px)
        return Stroke("Place the thermostat", lambda job: thermostat_at(job, storey, at))

    def paint(self, p: QPainter) -> None:
        room = room_at(self.job, self.storey, place_m(self.view, self.at_px))
        own = zone_of(self.job.design, room.id) if room is not None else None
        badge(p, self.view, self.at_px, own or "–", own is not None)


@grabs
class ThermostatDrag(Gesture):
    """A thermostat moved within its zone."""

    stays_open = False
    moves = ("zones",)

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> ThermostatDrag | None:
        return cls(view, at, item) if kind == "thermostat" else None

    def __init__(self, view: Sheet, at: QPointF, item: str) -> None:
        super().__init__(view, at)
        self.item = item

    def stroke(self) -> Stroke | None:
        if not self.moved:
            return None
        item, storey, at = self.item, self.storey, place_m(self.view, self.at_px)
        return Stroke("Move the thermostat", lambda job: thermostat_at(job, storey, at, item))

    def paint(self, p: QPainter) -> None:
        room = room_at(self.job, self.storey, place_m(self.view, self.at_px))
        badge(
            p, self.view, self.at_px, self.item, room is not None and zone_of(self.job.design, room.id) == self.item
        )


@grabs
class RoomToZone(Gesture):
    """A room dragged onto a room of another zone."""

    stays_open = False
    moves = ("zones",)

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> RoomToZone | None:
        return cls(view, at, item) if kind == "room" else None

    def __init__(self, view: Sheet, at: QPointF, room: str) -> None:
        super().__init__(view, at)
        self.room = room

    def _to(self) -> str | None:
        """The room under the pointer, where it is in another zone."""
        room = self.view.room_at(self.at_px)
        if room is None or zone_of(self.job.design, room) in (None, zone_of(self.job.design, self.room)):
            return None
        return room

    def stroke(self) -> Stroke | None:
        to, room = self._to(), self.room
        if not self.moved or to is None:
            return None
        return Stroke("Put the room in a zone", lambda job: join_zone(job, (to, room), False))

    def paint(self, p: QPainter) -> None:
        to = self._to()
        ghost(p, self.view, self.view.room(self.room).outline_m, to is not None)
        name = next((z.name for z in self.job.design.zones if to is not None and to in z.rooms), None)
        pill(p, self.view, self.at_px + QPointF(0, 24), f"to {name}" if name else "drag it to another zone")
