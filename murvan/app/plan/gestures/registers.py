"""Strokes for registers and return grilles: placed, moved."""

from __future__ import annotations

from typing import Literal

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from murvan.app.plan.gestures.base import Gesture, Stroke, grabs, pill, place_m, tool
from murvan.app.plan.picking import opening_at
from murvan.app.plan.sheet import Sheet
from murvan.design import lay
from murvan.design.circuit import next_transfer
from murvan.design.drawing import Drawn, room_at
from murvan.design.limits import DOOR_LIMIT_PA
from murvan.model.job import Point

HALF_PX = 9.0


@tool("register", "Press where the air comes into a room; kind and size follow from the house and the room's air")
class PlaceRegister(Gesture):
    """A supply register of the unit in hand."""

    stays_open = False
    at_once = True
    side: Literal["supply", "return"] = "supply"

    def stroke(self) -> Stroke | None:
        storey, at, unit, side = (
            self.storey,
            place_m(self.view, self.at_px),
            self.view.lens.takes_registers,
            self.side,
        )
        flow = self._flow(at)
        words = "Place a register" if side == "supply" else "Place a return grille"
        return Stroke(words, lambda job: lay.add_register(job, storey, at, side, unit, flow))

    def _flow(self, at: Point) -> float:
        """The room's air, shared with the registers that it has."""
        room, results = room_at(self.job, self.storey, at), self.view.results
        system = results.systems.get(self.view.lens.takes_registers) if results is not None else None
        if room is None or system is None or results is None or results.job.rooms != self.job.rooms:
            return 0.0
        if self.side == "return":
            return system.airflow.total_m3_s / 2
        k = [r.id for r in self.job.rooms].index(room.id)
        here = sum(x.room == room.id and x.side == "supply" for x in self.job.design.registers)
        return float(system.airflow.design_m3_s[k]) / (here + 1)

    def paint(self, p: QPainter) -> None:
        good = room_at(self.job, self.storey, place_m(self.view, self.at_px)) is not None
        _face(p, self.view, self.at_px, good)


@tool("grille", "Press where the air goes back; not in a bath, a kitchen or a laundry")
class PlaceGrille(PlaceRegister):
    """A return grille of the unit in hand."""

    side = "return"


@tool(
    "transfer",
    "Press on an inside door: transfer grille, jump duct, undercut alone, in turn; sized for the shut door",
)
class PlaceTransfer(Gesture):
    """Another way back for the air of the room behind a door."""

    stays_open = False
    at_once = True

    def _door(self) -> str:
        found = opening_at(self.view, self.at_px)
        return found[1] if found is not None else ""

    def stroke(self) -> Stroke | None:
        door, results = self._door(), self.view.results
        network = results.network if results is not None else None
        return Stroke("Change the way back", lambda job: next_transfer(job, network, door, DOOR_LIMIT_PA))

    def paint(self, p: QPainter) -> None:
        pill(p, self.view, self.at_px + QPointF(0, 24), "its way back" if self._door() else "no door here")


def _face(p: QPainter, v: Sheet, at: QPointF, good: bool) -> None:
    t = v.theme
    p.setPen(QPen(t("ink") if good else t("fails"), 2))
    p.setBrush(t("select") if good else t("paper"))
    p.drawRect(QRectF(at.x() - HALF_PX, at.y() - HALF_PX, 2 * HALF_PX, 2 * HALF_PX))


@grabs
class RegisterDrag(Gesture):
    """A register or grille moved; the end of its run goes with it."""

    stays_open = False
    moves = ("registers", "ducts")

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> RegisterDrag | None:
        return cls(view, at, item) if kind == "register" else None

    def __init__(self, view: Sheet, at: QPointF, item: str) -> None:
        super().__init__(view, at)
        self.item = item

    def stroke(self) -> Stroke | None:
        if not self.moved:
            return None
        item, storey, at = self.item, self.storey, place_m(self.view, self.at_px)
        return Stroke(
            "Move the register", lambda job: Drawn(lay.move_register(job, item, storey, at), "register", item)
        )

    def paint(self, p: QPainter) -> None:
        room = room_at(self.job, self.storey, place_m(self.view, self.at_px))
        _face(p, self.view, self.at_px, room is not None)
        pill(p, self.view, self.at_px + QPointF(0, 24), room.name if room is not None else "no room here")

    def hint(self) -> str:
        return "Drop it in a room; the end of its run goes with it"
