"""The plan widget: one storey at a time, pan, zoom, fit, pick. It draws with the layers and changes no job."""

from __future__ import annotations

from collections.abc import Callable
from math import hypot

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSizeF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from murvan.app import paint
from murvan.app.document import Selection
from murvan.app.guard import painting
from murvan.app.plan import duct_layers, ground, layers, texts, thing_layers
from murvan.app.plan.hand import Hand
from murvan.app.plan.labels import Labels
from murvan.app.stations.base import Lens
from murvan.app.theme import LIGHT, Theme
from murvan.design import Results
from murvan.design.house.geometry import Geometry, wall_points
from murvan.design.system.terminals import Terminal
from murvan.model import Job
from murvan.model.job import DuctRun, Opening, Register, Room, Underlay
from murvan.model.routes import LaidRun, laid_runs, parents
from murvan.units import Units, number, unit

MARGIN = QRectF(30, 26, 20, 26)
NOTE_ROOM = QSizeF(128, 66)
PICK_PX = 7.0
REST_MS = 70
FAR_PX = 1e6
"""Nothing is drawn farther from the sheet than this: Qt counts pixels in whole numbers."""
SHEET_M = (20.0, 11.0)
"""What an empty sheet shows at least: a house of 60 by 30 ft goes on it."""


def underlay_outline(u: Underlay) -> tuple[tuple[float, float], ...]:
    """The corners of a picture under the plan, not turned."""
    (x, y), w, h = u.position_m, u.width_px * u.m_per_px, u.height_px * u.m_per_px
    return ((x, y), (x + w, y), (x + w, y + h), (x, y + h))


class PlanView(QWidget):
    """Shows a job's storey through a `Lens`."""

    picked = pyqtSignal(str, str)
    measured = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Plan")
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.theme: Theme = LIGHT
        self.units: Units = "ip"
        self.job = Job(name="none")
        self.results: Results | None = None
        self.storey = ""
        self.lens = Lens("")
        self.selection: Selection | None = None
        self.selected_room: str | None = None
        self.scale = 46.0
        self.origin = QPointF(40, 40)
        self.latest: Callable[[], Job | None] = lambda: None
        """The job as edited so far; the one shown may wait for its figures."""
        self.hand = Hand(self)
        self.labels = Labels(QRectF())
        self.tag_hits: list[tuple[QRectF, str, str]] = []
        """What is written on the plan and selects what it names: where, kind, id."""
        self._picture: QPixmap | None = None
        self._picture_at = (QPointF(), 1.0)
        """Origin and scale the picture was drawn with; the view may have moved on."""
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(self.redraw)
        self._laid: tuple[tuple[object, ...], dict[str, LaidRun]] = ((), {})
        self.kept_walls: layers.Kept | None = None
        self.kept_windows: layers.Kept | None = None
        self.kept_ducts: tuple[tuple[object, ...], QPixmap] | None = None
        self.kept_ground: ground.Ground | None = None
        self._places: dict[tuple[object, ...], tuple[int, float]] = {}
        self._fitted = True
        self._fit_next = True
        self._drag: QPointF | None = None
        self._hover: tuple[str, str] | None = None
        self._tape: tuple[QPointF, QPointF] | None = None
        self._by_id: dict[str, Room] = {}
        self.hanging: set[str] = set()

    # ---- the hand ----

    @property
    def tool(self) -> str:
        return self.hand.tool

    @tool.setter
    def tool(self, name: str) -> None:
        self.hand.take(name)

    @property
    def present_job(self) -> Job:
        """What strokes begin with: the job with every edit so far."""
        return self.latest() or self.job

    @property
    def editable(self) -> bool:
        """Whether walls, openings and rooms may be dragged: where their dimensions are shown."""
        return self.lens.dimensions

    @property
    def stroke_trouble(self) -> str:
        return self.hand.trouble

    @property
    def traced(self) -> bool:
        """Whether a picture lies under this storey, so that texts need a ground."""
        return self.editable and any(u.storey == self.storey and u.shown for u in self.job.underlays)

    def opening_kind(self, opening: str) -> str:
        return next((o.kind for o in self.job.openings if o.id == opening), "")

    def rooms_of(self, job: Job) -> list[Room]:
        return [r for r in job.rooms if r.storey == self.storey]

    def inside(self, room: Room, at: QPointF) -> bool:
        return layers.polygon(self, room.outline_m).containsPoint(at, Qt.FillRule.OddEvenFill)

    def room_at(self, at: QPointF) -> str | None:
        return next((r.id for r in self.rooms() if self.inside(r, at)), None)

    # ---- what is shown ----

    def show_job(
        self,
        job: Job,
        results: Results | None,
        storey: str,
        lens: Lens,
        selection: Selection | None,
        selected_room: str | None,
    ) -> None:
        if job is not self.job:
            self._by_id = {r.id: r for r in job.rooms}
        new_shape = job.rooms != self.job.rooms or job.spaces != self.job.spaces
        self.job, self.results, self.storey, self.lens = job, results, storey, lens
        self.selection, self.selected_room = selection, selected_room
        self.hanging = {p.id for p in results.cuts.pieces if not p.hung} if results and lens.pieces else set()
        if self._fit_next and self.job_outlines():
            self.fit()
            self._fit_next = False
        elif new_shape and not self.hand.busy and self._outgrown():
            self.fit()
        if self.hand.busy and self._picture is not None:
            self._glide()  # the stroke's ghost shows the new walls meanwhile
        else:
            self.redraw()

    @property
    def measures(self) -> Geometry | None:
        """The geometry, once it belongs to the rooms shown."""
        return self.results.geometry if self.results and self.results.job.rooms == self.job.rooms else None

    @property
    def terminals(self) -> dict[str, Terminal]:
        return self.results.terminals if self.results else {}

    def rooms(self) -> list[Room]:
        return [r for r in self.job.rooms if r.storey == self.storey]

    def room(self, room_id: str) -> Room:
        return self._by_id[room_id]

    def has_room(self, room_id: str) -> bool:
        return room_id in self._by_id

    def openings(self) -> list[Opening]:
        return [o for o in self.job.openings if self.has_room(o.room) and self.room(o.room).storey == self.storey]

    def registers(self) -> list[Register]:
        return (
            [
                x
                for x in self.job.design.registers
                if self.has_room(x.room) and self.room(x.room).storey == self.storey
            ]
            if self.lens.registers
            else []
        )

    def runs(self) -> list[DuctRun]:
        return [r for r in self.job.design.runs if r.storey == self.storey]

    def laid(self, run: DuctRun) -> LaidRun:
        """A run of the job as it lies."""
        solved = self.results.laid if self.results is not None and self.results.job is self.job else None
        key = (solved,) if solved is not None else (self.job.design, self.job.storeys)
        if len(key) != len(self._laid[0]) or any(a is not b for a, b in zip(key, self._laid[0], strict=True)):
            runs = solved if solved is not None else laid_runs(self.job.design, self.job.storeys)
            self._laid = (key, {x.id: x for x in runs})
        return self._laid[1][run.id]

    def run_flow(self, run: DuctRun) -> float:
        x = self.results.runs.get(run.id) if self.results else None
        return x.flow_m3_s if x else 0.0

    def run_color(self, run: DuctRun) -> QColor:
        return self.lens.fills.get(f"run:{run.id}") or self.theme(run.side)

    def run_hanging(self, run: DuctRun) -> bool:
        """Whether any of the run's duct is still to hang."""
        return any(h.rpartition("-")[0] == run.id for h in self.hanging)

    def face_hanging(self, register: str) -> bool:
        return f"face-{register}" in self.hanging

    def selected_path(self) -> set[str]:
        """The selected run and what feeds it; a selected register's or room's runs likewise."""
        s = self.selection
        if s is None:
            return set()
        wanted: set[str] = set()
        if s.kind == "run":
            wanted = {s.id}
        elif s.kind == "register":
            wanted = {r.id for r in self.job.design.runs if r.register_id == s.id}
        elif s.kind == "room" and self.lens.ducts:
            mine = {x.id for x in self.job.design.registers if x.room == s.id and x.side == "supply"}
            wanted = {r.id for r in self.job.design.runs if r.register_id in mine}
        parent = parents(self.job.design.runs)
        out = set()
        for i in wanted:
            at: str | None = i
            while at is not None and at not in out:
                out.add(at)
                at = parent.get(at)
        return out

    def room_centre(self, room_id: str) -> QPointF:
        if self.measures is not None:
            i = next(k for k, r in enumerate(self.job.rooms) if r.id == room_id)
            return self.to_px(*self.measures.centre_m[i])
        pts = self.room(room_id).outline_m
        return self.to_px(sum(x for x, _ in pts) / len(pts), sum(y for _, y in pts) / len(pts))

    def neighbour_fill(self, o: Opening) -> QColor | None:
        """Fill of the room on the other side of an inside door."""
        g = self.measures
        if g is None:
            return None
        at = o.offset_m + o.width_m / 2
        for part in g.walls:
            if (
                self.job.rooms[part.room].id == o.room
                and part.wall == o.wall
                and part.start_m <= at <= part.start_m + part.length_m
            ):
                return self.lens.fills.get(part.neighbour or "")
        return None

    def number(self, kind: str, value: float) -> str:
        return number(kind, value, self.units)

    def unit(self, kind: str) -> str:
        return unit(kind, self.units)

    # ---- the view ----

    def to_px(self, x: float, y: float) -> QPointF:
        return QPointF(
            min(max(self.origin.x() + x * self.scale, -FAR_PX), FAR_PX),
            min(max(self.origin.y() + y * self.scale, -FAR_PX), FAR_PX),
        )

    def to_m(self, at: QPointF) -> tuple[float, float]:
        return ((at.x() - self.origin.x()) / self.scale, (at.y() - self.origin.y()) / self.scale)

    def job_outlines(self) -> list[tuple[tuple[float, float], ...]]:
        outlines = [*(r.outline_m for r in self.job.rooms), *(s.outline_m for s in self.job.spaces)]
        return outlines or [underlay_outline(u) for u in self.job.underlays if u.shown]

    def fit_next(self) -> None:
        """Fit as soon as there is something on the plan; until then an empty sheet a house goes on."""
        self._fit_next = True
        self.fit()

    def clear(self) -> None:
        """An empty sheet for a new job; the first room does not make it jump."""
        self.job, self.results = Job(name="none"), None
        self.fit()
        self._fit_next = False

    def _outgrown(self) -> bool:
        """Whether a part of the house has come to lie outside the view; what is drawn inside moves nothing."""
        sheet = QRectF(self.rect()).adjusted(6, 6, -6, -6)
        return self._fitted and not all(
            sheet.contains(self.to_px(*pt)) for outline in self.job_outlines() for pt in outline
        )

    def fit(self) -> None:
        """The whole house in view, the same on every storey, clear of the note at the top right."""
        self._fitted = True
        self._fit_below(MARGIN.top())
        corner = self.width() - NOTE_ROOM.width()
        for outline in self.job_outlines():
            right, top = max(x for x, _ in outline), min(y for _, y in outline)
            at = self.to_px(right, top)
            if at.x() > corner and at.y() < NOTE_ROOM.height():
                self._fit_below(NOTE_ROOM.height() + 6)
                break
        self.redraw()

    def _fit_below(self, margin_top: float) -> None:
        points = [pt for o in self.job_outlines() for pt in o]
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
        new = min(max(self.scale * factor, 4.0), 800.0)
        x, y = self.to_m(about)
        self.scale = new
        self.origin = QPointF(about.x() - x * new, about.y() - y * new)
        self._fitted = False
        self._glide()

    def pan(self, by: QPointF) -> None:
        self.origin += by
        self._fitted = False
        self._glide()

    def _glide(self) -> None:
        """While the view moves the last picture moves with it; it is drawn anew once the hand rests."""
        self._rest.start()
        self.update()

    # ---- events ----

    def paintEvent(self, _: QPaintEvent | None) -> None:
        ratio = self.devicePixelRatioF()
        if self._picture is None or self._picture.devicePixelRatioF() != ratio:
            self._picture = QPixmap(self.size() * ratio)
            self._picture.setDevicePixelRatio(ratio)
            self._picture.fill(self.theme("paper"))
            with painting(self._picture) as inner:
                self._draw(inner)
            self._picture_at = (QPointF(self.origin), self.scale)
        with painting(self) as p:
            self._draw_picture(p, self._picture)
            self._draw_hover(p)
            self._draw_tape(p)
            self.hand.paint(p)

    def _draw_picture(self, p: QPainter, picture: QPixmap) -> None:
        at, scale = self._picture_at
        if at == self.origin and scale == self.scale:
            p.drawPixmap(0, 0, picture)
            return
        p.fillRect(self.rect(), self.theme("paper"))
        k = self.scale / scale
        p.save()
        p.translate(self.origin - at * k)
        p.scale(k, k)
        p.drawPixmap(0, 0, picture)
        p.restore()

    def redraw(self) -> None:
        """Draw the plan anew at the next paint; the pointer's marks alone need only `update`."""
        self._picture = None
        self.update()

    def _draw(self, p: QPainter) -> None:
        """All layers of the plan."""
        self.tag_hits = []
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), self.theme("paper"))
        if self.lens.dimensions:
            layers.underlays(p, self)
        if not self.job.rooms:
            if not self.job.underlays:
                layers.grid(p, self)
            p.end()
            return
        self.labels = Labels(QRectF(4, 4, self.width() - 8, self.height() - 8), self._places)
        texts.reserve_note(self)
        if self.lens.dimensions:
            texts.reserve_dimensions(self)
        lens = self.lens
        if lens.dimensions or lens.survey:
            self._draw_under(p)
        else:
            ground.draw(p, self, self._draw_under)
        layers.sun_bars(p, self)
        duct_layers.throws(p, self)
        for draw in lens.overlay:
            p.save()
            draw(p, self)
            p.restore()
        if lens.survey:
            thing_layers.existing(p, self)
        texts.room_texts(p, self)
        if lens.survey:
            thing_layers.area_names(p, self)
        if lens.ducts:
            texts.duct_labels(p, self)
        if lens.dimensions and not self.hand.busy:
            texts.dimensions(p, self)
        texts.note(p, self)
        p.end()

    def _draw_under(self, p: QPainter) -> None:
        """What lies under the overlays and the texts."""
        lens = self.lens
        layers.spaces(p, self)
        if self.editable and not self.rooms() and not self.hand.busy:
            layers.empty_storey(p, self)
        if self.editable and self.hand.drawing:
            layers.storey_below(p, self)
        layers.rooms(p, self)
        layers.walls(p, self)
        layers.openings(p, self)
        if lens.dimensions:
            thing_layers.furniture(p, self)
            thing_layers.skylights(p, self)
        if lens.survey:
            thing_layers.areas(p, self)
        layers.selection(p, self)
        if lens.ducts or lens.ducts_faint:
            duct_layers.ducts(p, self)
            duct_layers.units(p, self)
            for run in self.runs():
                self.labels.avoid_line(duct_layers.run_points(self, run), duct_layers.run_width_px(self, run))
        if lens.tags:
            texts.tags(p, self)
        duct_layers.registers(p, self)

    def _draw_hover(self, p: QPainter) -> None:
        if self._hover is None or self._hover[0] != "room" or not self.has_room(self._hover[1]):
            return
        p.setPen(QPen(self.theme("outline"), 1.5, Qt.PenStyle.DotLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolygon(layers.polygon(self, self.room(self._hover[1]).outline_m))

    def _draw_tape(self, p: QPainter) -> None:
        if self._tape is None:
            return
        a, b = self._tape
        p.setPen(QPen(self.theme("on_select"), 4))
        p.drawLine(a, b)
        p.setPen(QPen(self.theme("select"), 2))
        p.drawLine(a, b)
        label = self.number("feet", hypot(b.x() - a.x(), b.y() - a.y()) / self.scale) + (
            "" if self.units == "ip" else " m"
        )
        c = (a + b) / 2
        w = paint.text_width(label, 13, 700) + 14
        r = QRectF(c.x() - w / 2, c.y() - 24, w, 20)
        paint.rounded(p, r, self.theme("select"), self.theme("on_select"), 3)
        paint.text(p, c.x(), r.bottom() - 5, label, 13, 700, self.theme("on_select"), "c")

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        super().resizeEvent(e)
        self.redraw()
        if self._fitted:
            self.fit()

    def wheelEvent(self, e: QWheelEvent | None) -> None:
        if e is not None:
            self.zoom(1.15 ** (e.angleDelta().y() / 120), e.position())

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        if e.button() == Qt.MouseButton.RightButton:
            self.hand.escape()
            return
        if e.button() == Qt.MouseButton.MiddleButton or (
            e.button() == Qt.MouseButton.LeftButton and e.modifiers() & Qt.KeyboardModifier.ShiftModifier
        ):
            self._drag = e.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        elif e.button() == Qt.MouseButton.LeftButton and self.tool == "measure":
            self._tape = (e.position(), e.position())
            self.update()
        elif e.button() == Qt.MouseButton.LeftButton and not self.hand.press(e.position(), e.modifiers()):
            hit = self.hit(e.position())
            if hit:
                self.picked.emit(*hit)
            if self.hand.gesture is None:
                self._drag = e.position()

    def mouseDoubleClickEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and not self.hand.double():
            self.mousePressEvent(e)

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        if self._drag is not None:
            self.pan(e.position() - self._drag)
            self._drag = e.position()
        elif self._tape is not None and e.buttons() & Qt.MouseButton.LeftButton:
            a, b = self._tape[0], e.position()
            if not e.modifiers() & Qt.KeyboardModifier.AltModifier:  # straight along the plan unless Alt is held
                b = QPointF(b.x(), a.y()) if abs(b.x() - a.x()) > abs(b.y() - a.y()) else QPointF(a.x(), b.y())
            self._tape = (a, b)
            self.update()
        elif self.hand.move(e.position(), e.modifiers(), bool(e.buttons() & Qt.MouseButton.LeftButton)):
            self._hover = None
        else:
            hit = self.hit(e.position())
            if hit != self._hover:
                self._hover = hit
                self.update()

    def mouseReleaseEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and e.button() == Qt.MouseButton.LeftButton and self._drag is None:
            self.hand.release(e.position(), e.modifiers())
        if self._drag is not None:
            self._drag = None
            self.setCursor(Qt.CursorShape.ArrowCursor)
        if self._tape is not None:
            a, b = self._tape
            self.measured.emit(self.number("feet", hypot(b.x() - a.x(), b.y() - a.y()) / self.scale))

    def leaveEvent(self, _: object) -> None:
        self._hover = None
        self.hand.leave()

    def event(self, e: QEvent | None) -> bool:
        """Keys that belong to a stroke come before the window's shortcuts."""
        if isinstance(e, QKeyEvent) and e.type() == QEvent.Type.ShortcutOverride and self.hand.wants(e):
            e.accept()
            return True
        if isinstance(e, QKeyEvent) and e.type() == QEvent.Type.KeyPress and self.hand.wants(e) and self.hand.key(e):
            e.accept()
            return True
        return super().event(e)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is not None and e.key() == Qt.Key.Key_Escape and self._tape is not None:
            self.clear_tape()
            return
        super().keyPressEvent(e)

    def clear_tape(self) -> None:
        self._tape = None
        self.update()

    # ---- picking ----

    def hit(self, at: QPointF) -> tuple[str, str] | None:
        """The topmost thing under a point: tag, register, run, opening, wall, room."""
        tagged = next(((kind, i) for r, kind, i in reversed(self.tag_hits) if r.contains(at)), None)
        if tagged is not None and self._picture_at == (self.origin, self.scale):
            return tagged
        for x in self.registers():
            c = self.to_px(*x.position_m)
            if abs(c.x() - at.x()) < 10 and abs(c.y() - at.y()) < 10:
                return ("register", x.id)
        if self.lens.ducts:
            best = min(
                (
                    (self._to_line(at, duct_layers.run_points(self, r)) - duct_layers.run_width_px(self, r) / 2, r.id)
                    for r in self.runs()
                ),
                default=None,
            )
            if best and best[0] < 3:
                return ("run", best[1])
        thing = thing_layers.hit(self, at, self.lens.survey) if self.lens.dimensions else None
        if thing is not None:
            return thing
        for o in self.openings():
            if o.kind in ("archway", "skylight"):
                continue
            a, b, _ = layers.opening_ends(self, o)
            if self._to_line(at, [a, b]) < PICK_PX:
                return ("opening", o.id)
        if self.lens.dimensions:
            for r in self.rooms():
                for k in range(len(r.outline_m)):
                    a_m, b_m = wall_points(r.outline_m, k)
                    if self._to_line(at, [self.to_px(*a_m), self.to_px(*b_m)]) < PICK_PX and self._inside_side(r, at):
                        return ("wall", f"{r.id}/{k}")
        for r in self.rooms():
            if layers.polygon(self, r.outline_m).containsPoint(at, Qt.FillRule.OddEvenFill):
                return ("room", r.id)
        return self._hit_beside(at) if self.lens.dimensions else None

    def _hit_beside(self, at: QPointF) -> tuple[str, str] | None:
        """What lies outside the rooms: a garage, or the picture under the plan."""
        for s in self.job.spaces:
            if s.storey == self.storey and layers.polygon(self, s.outline_m).containsPoint(
                at, Qt.FillRule.OddEvenFill
            ):
                return ("space", s.id)
        for u in self.job.underlays:
            inside = layers.polygon(self, underlay_outline(u)).containsPoint(at, Qt.FillRule.OddEvenFill)
            if u.storey == self.storey and u.shown and inside:
                return ("underlay", u.id)
        return None

    def _inside_side(self, room: Room, at: QPointF) -> bool:
        """On a shared wall the room under the pointer wins; outside the house any does."""
        inside = next(
            (r for r in self.rooms() if layers.polygon(self, r.outline_m).containsPoint(at, Qt.FillRule.OddEvenFill)),
            None,
        )
        return inside is None or inside.id == room.id

    @staticmethod
    def _to_line(at: QPointF, points: list[QPointF]) -> float:
        """Distance from a point to a polyline, px."""
        best = float("inf")
        for a, b in zip(points, points[1:], strict=False):
            d = b - a
            length = d.x() ** 2 + d.y() ** 2
            u = 0.0 if length == 0 else min(max(((at.x() - a.x()) * d.x() + (at.y() - a.y()) * d.y()) / length, 0), 1)
            q = a + d * u
            best = min(best, hypot(at.x() - q.x(), at.y() - q.y()))
        return best
