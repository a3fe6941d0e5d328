"""One storey on paper: what is shown, at which scale, through which lens. Layers, strokes and the hand know no more."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor, QPolygonF

from murvan.app.latest import Latest
from murvan.app.plan.labels import Corners, Labels
from murvan.app.plan.lens import Lens
from murvan.app.theme import LIGHT, Theme
from murvan.design import Results
from murvan.design.drawing import Outline
from murvan.design.ducts import Terminal
from murvan.design.house import Geometry, inward, opening_line
from murvan.design.space import lay
from murvan.model import Job
from murvan.model.job import DuctRun, Opening, Register, Room, Underlay
from murvan.model.record import Ref
from murvan.model.routes import LaidRun, parents
from murvan.units import Units, number, unit

MARGIN = QRectF(30, 26, 20, 26)
NOTE_ROOM = QSizeF(128, 66)
FAR_PX = 1e6
"""Nothing is drawn farther from the sheet than this: Qt counts pixels in whole numbers."""
SHEET_M = (20.0, 11.0)
"""What an empty sheet shows at least: a house of 60 by 30 ft goes on it."""
Ends = tuple[QPointF, QPointF, QPointF]
"""Both ends of an opening in px and the unit vector into its room."""


@dataclass(frozen=True)
class Shape:
    """A room in px."""

    polygon: QPolygonF
    box: QRectF
    corners: Corners
    centre: QPointF
    """Where its name stands when nothing is in the way."""


class Sheet:
    """A job's storey through a lens, and where each metre of it lies on the screen. It changes no job."""

    def __init__(self) -> None:
        self.theme: Theme = LIGHT
        self.units: Units = "ip"
        self.job = Job(name="none")
        self.results: Results | None = None
        self.storey = ""
        self.lens = Lens("")
        self.selection: Ref | None = None
        self.selected_room: str | None = None
        self.size = QSizeF(640, 480)
        self.scale = 46.0
        self.origin = QPointF(40, 40)
        self.fitted = True
        self.latest: Callable[[], Job | None] = lambda: None
        """The job as edited so far; the one shown may wait for its figures."""
        self.labels = Labels(QRectF())
        self.tag_hits: list[tuple[QRectF, str, str]] = []
        """What is written on the plan and selects what it names: where, kind, id."""
        self.drawn_at = (QPointF(), 1.0)
        """Origin and scale of the latest drawing; the view may have moved on."""
        self.places: dict[tuple[object, ...], tuple[int, float]] = {}
        """Places of texts found at earlier drawings."""
        self.hanging: set[Ref] = set()
        """What has pieces still to hang."""
        self.kept: defaultdict[str, Latest[Any]] = defaultdict(Latest)
        """What a layer keeps from one drawing to the next, by its name."""
        self._laid: Latest[dict[str, LaidRun]] = Latest()
        self._shapes: Latest[dict[str, Shape]] = Latest()
        self._ends: Latest[dict[int, tuple[Opening, Ends]]] = Latest()
        self._beyond: Latest[dict[str, str | None]] = Latest()
        self._by_id: dict[str, Room] = {}

    # ---- what is shown ----

    def show(
        self,
        job: Job,
        results: Results | None,
        storey: str,
        lens: Lens,
        selection: Ref | None,
        selected_room: str | None,
    ) -> None:
        """Show a job's storey; where it lies on the screen stays as it is."""
        if job is not self.job:
            self._by_id = {r.id: r for r in job.rooms}
        self.job, self.results, self.storey, self.lens = job, results, storey, lens
        self.selection, self.selected_room = selection, selected_room
        self.hanging = (
            {p.at for p in results.cuts.pieces if p.at and not p.hung} if results and lens.pieces else set()
        )

    def clear(self) -> None:
        """An empty sheet for a new job."""
        self.job, self.results = Job(name="none"), None

    @property
    def present_job(self) -> Job:
        """What strokes begin with: the job with every edit so far."""
        return self.latest() or self.job

    @property
    def editable(self) -> bool:
        """Whether walls, openings and rooms may be dragged: where their dimensions are shown."""
        return self.lens.dimensions

    @property
    def moves(self) -> str:
        """What may be dragged here: 'house', 'units', 'ducts', 'registers', 'zones', or '' for nothing."""
        if self.lens.zones:
            return "zones"
        if self.lens.unit:
            return "units"
        if self.lens.takes_ducts:
            return "ducts"
        return "house" if self.editable else "registers" if self.lens.takes_registers else ""

    @property
    def traced(self) -> bool:
        """Whether a picture lies under this storey, so that texts need a ground."""
        return self.editable and any(u.storey == self.storey and u.shown for u in self.job.underlays)

    @property
    def measures(self) -> Geometry | None:
        """The geometry, once it belongs to the rooms shown."""
        return self.results.geometry if self.results and self.results.job.rooms == self.job.rooms else None

    # ---- the house ----

    def rooms(self) -> list[Room]:
        return self.rooms_of(self.job)

    def rooms_of(self, job: Job) -> list[Room]:
        return [r for r in job.rooms if r.storey == self.storey]

    def room(self, room_id: str) -> Room:
        return self._by_id[room_id]

    def has_room(self, room_id: str) -> bool:
        return room_id in self._by_id

    def shape(self, room_id: str) -> Shape:
        """A room of the job shown, in px."""
        kept = self._shapes.of((self._by_id, self.measures, *self._where()), dict)
        if room_id not in kept:
            polygon = self.polygon(self.room(room_id).outline_m)
            corners = tuple((q.x(), q.y()) for q in (polygon.at(k) for k in range(polygon.count())))
            kept[room_id] = Shape(polygon, polygon.boundingRect(), corners, self._centre(room_id))
        return kept[room_id]

    def _centre(self, room_id: str) -> QPointF:
        if self.measures is not None:
            return self.to_px(*self.measures.centre_m[list(self._by_id).index(room_id)])
        points = self.room(room_id).outline_m
        return self.to_px(sum(x for x, _ in points) / len(points), sum(y for _, y in points) / len(points))

    def inside(self, room: Room, at: QPointF) -> bool:
        return self.polygon(room.outline_m).containsPoint(at, Qt.FillRule.OddEvenFill)

    def room_at(self, at: QPointF) -> str | None:
        even = Qt.FillRule.OddEvenFill
        return next((r.id for r in self.rooms() if self.shape(r.id).polygon.containsPoint(at, even)), None)

    def openings(self) -> list[Opening]:
        return [o for o in self.job.openings if self.has_room(o.room) and self.room(o.room).storey == self.storey]

    def opening_kind(self, opening: str) -> str:
        return next((o.kind for o in self.job.openings if o.id == opening), "")

    def ends(self, o: Opening) -> Ends:
        """Both ends of an opening on the plan in px and the unit vector into the room."""
        kept = self._ends.of((self._by_id, *self._where()), dict)
        if id(o) not in kept:
            kept[id(o)] = (o, self._opening_ends(o))
        return kept[id(o)][1]

    def _opening_ends(self, o: Opening) -> Ends:
        room = self.room(o.room)
        a, b = (self.to_px(*q) for q in opening_line(o, room))
        return a, b, QPointF(*inward(room.outline_m, o.wall))

    def neighbour_fill(self, o: Opening) -> QColor | None:
        """Fill of the room on the other side of an inside door."""
        g = self.measures
        if g is None:
            return None
        beyond = self._beyond.of((g, self.job.openings), dict)
        if o.id not in beyond:
            beyond[o.id] = self._room_beyond(g, o)
        return self.lens.fills.get(beyond[o.id] or "")

    def _room_beyond(self, g: Geometry, o: Opening) -> str | None:
        at = o.offset_m + o.width_m / 2
        for part in g.walls:
            if (
                self.job.rooms[part.room].id == o.room
                and part.wall == o.wall
                and part.start_m <= at <= part.start_m + part.length_m
            ):
                return part.neighbour
        return None

    # ---- the ducts ----

    @property
    def terminals(self) -> dict[str, Terminal]:
        return self.results.terminals if self.results else {}

    def registers(self) -> list[Register]:
        if not self.lens.registers:
            return []
        every = self.job.design.registers
        return [x for x in every if self.has_room(x.room) and self.room(x.room).storey == self.storey]

    def runs(self) -> list[DuctRun]:
        return [r for r in self.job.design.runs if r.storey == self.storey]

    def laid(self, run: DuctRun) -> LaidRun:
        """A run of the job as it lies."""
        return self.laid_of(self.job)[run.id]

    def laid_of(self, job: Job) -> dict[str, LaidRun]:
        """All runs of a job as they lie, by id."""
        solved = self.results.laid if self.results is not None and self.results.job is job else None
        key = (solved,) if solved is not None else (job,)
        return self._laid.of(key, lambda: {x.id: x for x in (solved if solved is not None else lay(job))})

    def run_flow(self, run: DuctRun) -> float:
        x = self.results.runs.get(run.id) if self.results else None
        return x.flow_m3_s if x else 0.0

    def run_predicted(self, run: DuctRun) -> float | None:
        """Air of a run by the air circuit."""
        n = self.results.network if self.results else None
        return n.run_m3_s.get(run.id) if n is not None else None

    def run_color(self, run: DuctRun) -> QColor:
        return self.lens.fills.get(f"run:{run.id}") or self.theme(run.side)

    def run_hanging(self, run: DuctRun) -> bool:
        """Whether any of the run's duct is still to hang."""
        return Ref("run", run.id) in self.hanging

    def face_hanging(self, register: str) -> bool:
        return Ref("register", register) in self.hanging

    def selected_path(self) -> set[str]:
        """The selected run and what feeds it; a selected register's or room's runs likewise."""
        s, design = self.selection, self.job.design
        if s is None:
            return set()
        wanted: set[str] = set()
        if s.kind == "run":
            wanted = {s.id}
        elif s.kind == "register":
            wanted = {r.id for r in design.runs if r.register_id == s.id}
        elif s.kind == "room" and self.lens.ducts:
            mine = {x.id for x in design.registers if x.room == s.id and x.side == "supply"}
            wanted = {r.id for r in design.runs if r.register_id in mine}
        parent = parents(design.runs)
        out = set()
        for i in wanted:
            at: str | None = i
            while at is not None and at not in out:
                out.add(at)
                at = parent.get(at)
        return out

    # ---- figures ----

    def number(self, kind: str, value: float) -> str:
        return number(kind, value, self.units)

    def unit(self, kind: str) -> str:
        return unit(kind, self.units)

    # ---- where it lies ----

    def width(self) -> float:
        return self.size.width()

    def height(self) -> float:
        return self.size.height()

    def _where(self) -> tuple[float, float, float]:
        return (self.scale, self.origin.x(), self.origin.y())

    @property
    def as_drawn(self) -> bool:
        """Whether the latest drawing lies where the sheet lies now."""
        return self.drawn_at == (self.origin, self.scale)

    def to_px(self, x: float, y: float) -> QPointF:
        return QPointF(
            min(max(self.origin.x() + x * self.scale, -FAR_PX), FAR_PX),
            min(max(self.origin.y() + y * self.scale, -FAR_PX), FAR_PX),
        )

    def to_m(self, at: QPointF) -> tuple[float, float]:
        return ((at.x() - self.origin.x()) / self.scale, (at.y() - self.origin.y()) / self.scale)

    def polygon(self, outline: Outline) -> QPolygonF:
        return QPolygonF([self.to_px(*pt) for pt in outline])

    def outlines(self) -> list[Outline]:
        """What has to be in view: rooms and spaces, or else the pictures to trace."""
        outlines = [*(r.outline_m for r in self.job.rooms), *(s.outline_m for s in self.job.spaces)]
        return outlines or [underlay_outline(u) for u in self.job.underlays if u.shown]

    def outgrown(self) -> bool:
        """Whether a part of the house has come to lie outside the view; what is drawn inside moves nothing."""
        sheet = QRectF(QPointF(0, 0), self.size).adjusted(6, 6, -6, -6)
        return self.fitted and not all(
            sheet.contains(self.to_px(*pt)) for outline in self.outlines() for pt in outline
        )

    def fit(self) -> None:
        """The whole house in view, the same on every storey, clear of the note at the top right."""
        self.fitted = True
        self._fit_below(MARGIN.top())
        corner = self.width() - NOTE_ROOM.width()
        for outline in self.outlines():
            right, top = max(x for x, _ in outline), min(y for _, y in outline)
            at = self.to_px(right, top)
            if at.x() > corner and at.y() < NOTE_ROOM.height():
                self._fit_below(NOTE_ROOM.height() + 6)
                break

    def _fit_below(self, margin_top: float) -> None:
        points = [pt for o in self.outlines() for pt in o]
        if not points:
            self.scale = max(min(self.width() / SHEET_M[0], self.height() / SHEET_M[1]), 8.0)
            self.origin = QPointF(0.06 * self.width(), 0.1 * self.height())
            return
        x0, x1 = min(x for x, _ in points), max(x for x, _ in points)
        y0, y1 = min(y for _, y in points), max(y for _, y in points)
        w = max(self.width() - MARGIN.left() - MARGIN.width(), 50)
        h = max(self.height() - margin_top - MARGIN.height(), 50)
        self.scale = min(w / max(x1 - x0, 0.5), h / max(y1 - y0, 0.5))
        left = MARGIN.left() + max(0.0, (w - self.scale * (x1 - x0)) / 2)
        top = margin_top + (h - self.scale * (y1 - y0)) / 2
        self.origin = QPointF(left - x0 * self.scale, top - y0 * self.scale)

    def zoom(self, factor: float, about: QPointF) -> None:
        """Larger or smaller, with the point under the pointer where it is."""
        new = min(max(self.scale * factor, 4.0), 800.0)
        x, y = self.to_m(about)
        self.scale = new
        self.origin = QPointF(about.x() - x * new, about.y() - y * new)
        self.fitted = False

    def pan(self, by: QPointF) -> None:
        self.origin += by
        self.fitted = False


def underlay_outline(u: Underlay) -> Outline:
    """The corners of a picture under the plan, not turned."""
    (x, y), w, h = u.position_m, u.width_px * u.m_per_px, u.height_px * u.m_per_px
    return ((x, y), (x + w, y), (x + w, y + h), (x, y + h))
