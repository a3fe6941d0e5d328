"""Strokes for ducts: trunks and branches drawn, risers, dampers; joints, stretches and the unit moved."""

from __future__ import annotations

from collections.abc import Callable
from math import hypot
from typing import Any

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from murvan.app.plan import duct_layers
from murvan.app.plan.gestures.base import Gesture, Lengths, Stroke, caught_mark, dimension, ghost, grabs, pill, tool
from murvan.app.plan.sheet import Sheet
from murvan.design import lay
from murvan.design.drawing import Drawn, Guide, Snap
from murvan.design.limits import WORKABLE_PA_M
from murvan.design.space import Misfit, cabinet, footprint, misfits, place_here, stand, usual_way
from murvan.model.design import DuctRun, IndoorUnit
from murvan.model.errors import JobError
from murvan.model.job import Job, Point
from murvan.units import text

SIZE_PX = 20.0
NEAR_PX = 9.0


def field_of(v: Sheet, job: Job | None = None) -> lay.DuctField:
    """What can be met on the storey shown; kept while it stays the same."""
    at = job or v.present_job
    d = at.design
    key = (d.runs, d.joints, d.registers, d.plenums, at.rooms, v.storey, v.lens.takes_ducts)
    return v.kept["duct_field"].of(  # type: ignore[no-any-return]
        key, lambda: lay.DuctField(at, tuple(v.laid_of(at).values()), v.lens.takes_ducts, v.storey)
    )


def _snap(found: lay.Anchor) -> Snap:
    guides = tuple(Guide(q, found.at) for q in found.lined)
    return Snap(found.at, found.words, guides, found.kind != "")


@tool(
    "trunk",
    "Press on a plenum or a run, then where the trunk goes; lengths can be typed, Tab to its width",
    shape="trunk",
)
@tool(
    "branch", "Press on a run, a plenum or a register, then where the branch goes; a register ends it", shape="branch"
)
class DrawDuct(Gesture):
    """A run from click to click, or in one drag; a register, a run or Enter ends it."""

    fields = ("length", "size")
    by_clicks = True
    shape: lay.Shape = "branch"

    def __init__(self, view: Sheet, at: QPointF, shape: lay.Shape = "branch") -> None:
        super().__init__(view, at)
        self.shape = shape
        self.lengths = Lengths(self.fields, view.units, kinds=("feet", "size"))
        self.field = field_of(view, self.job)
        self.first = self.last = self.field.catch(view.to_m(at), self.reach_m, self.grid_m)
        self.points: list[Point] = [self.first.at]
        self.ended = False
        """Whether it ends in its last corner and not where the pointer is."""

    @classmethod
    def begin(cls, view: Sheet, at: QPointF, **more: Any) -> Gesture | str:
        if not view.lens.takes_ducts:
            return "Take a ducted unit in hand first (,)"
        return cls(view, at, **more)

    def follow(self) -> None:
        origin = self.points[-1]
        self.last = self.field.catch(self.view.to_m(self.at_px), self.reach_m, self.grid_m, origin, self.free)
        self.snap = _snap(self.last)

    def _next(self) -> lay.Anchor:
        """The corner a press would make: as typed, else what was caught."""
        typed, o = self.lengths.value(0), self.points[-1]
        if typed is None:
            return self.last
        dx, dy = self.last.at[0] - o[0], self.last.at[1] - o[1]
        length = hypot(dx, dy)
        if length < 1e-9:
            return lay.Anchor(o)
        at = (round(o[0] + dx / length * typed, 4), round(o[1] + dy / length * typed, 4))
        return self.last if hypot(at[0] - self.last.at[0], at[1] - self.last.at[1]) < 0.01 else lay.Anchor(at)

    def _path(self) -> tuple[Point, ...]:
        """Square to the last corner, by one more where what was caught lies aside."""
        end, o = self._next(), self.points[-1]
        aside = abs(end.at[0] - o[0]) > 0.02 and abs(end.at[1] - o[1]) > 0.02
        if not (end.kind and aside and not self.free):
            return (*self.points, end.at)
        before = self.points[-2] if len(self.points) > 1 else None
        level = before is not None and abs(before[0] - o[0]) < 1e-6
        if before is None:
            level = self.shape == "trunk" or self._starts_upright(o)
        corner: Point = (end.at[0], o[1]) if level else (o[0], end.at[1])
        return (*self.points, corner, end.at)

    def _starts_upright(self, at: Point) -> bool:
        """Whether what the stroke started on goes up and down there, so that it leaves level."""
        run = next((r for r in self.field.runs if lay.nearest(r.path_m, at)[1] < 0.02), None)
        if run is None:
            return True
        k = lay.leg_at(run.path_m, at)
        a, b = run.path_m[k], run.path_m[k + 1]
        return abs(a[0] - b[0]) < abs(a[1] - b[1])

    def press_again(self) -> bool:
        end = self._next()
        if end.kind and end != self.first:
            return True
        self._add(end)
        return False

    def _add(self, end: lay.Anchor) -> None:
        if hypot(end.at[0] - self.points[-1][0], end.at[1] - self.points[-1][1]) > 0.02:
            self.points = list(self._path())
        size = self.lengths.texts[1]
        self.lengths.clear()
        if size:
            self.lengths.put(1, size)

    def dragged(self) -> bool:
        return True

    def enter(self) -> bool:
        if self.lengths.texts[0].strip():
            self._add(self._next())
            return False
        self.ended = len(self.points) > 1
        return True

    def double(self) -> bool:
        return True

    def back(self) -> bool:
        if len(self.points) < 2:
            return False
        self.points.pop()
        return True

    def stroke(self) -> Stroke | None:
        path, end = self._path(), self._next()
        if self.ended or (self.points[-1] == end.at and len(self.points) > 1):
            path = tuple(self.points)
            end = end if path[-1] == end.at else lay.Anchor(path[-1])
        if len(path) == 2 and path[0] == path[1]:
            return None
        unit, storey, shape = self.view.lens.takes_ducts, self.storey, self.shape
        ends, wants = (self.first, end), self._wants(end)
        return Stroke(f"Draw a {shape}", lambda job: lay.draw_duct(job, unit, storey, path, ends, shape, wants))

    def _wants(self, end: lay.Anchor) -> lay.Wants:
        results = self.view.results
        system = results.systems.get(self.view.lens.takes_ducts) if results is not None else None
        face = next((a.id for a in (end, self.first) if a.kind == "register"), "")
        flow = system.airflow.register_m3_s.get(face, 0.0) if system is not None else 0.0
        rate = system.ducts.friction_rate_pa_m if system is not None else 0.0
        return lay.Wants(flow, rate if rate > 0 else WORKABLE_PA_M, self.lengths.value(1))

    def paint(self, p: QPainter) -> None:
        v, path = self.view, self._path()
        width = (self.lengths.value(1) or (0.36 if self.shape == "trunk" else 0.15)) * v.scale
        _ghost_run(p, v, path, width)
        for a, b in zip(path[:-2], path[1:-1], strict=True):
            dimension(p, v, a, b, _off(a, b))
        dimension(p, v, path[-2], path[-1], _off(path[-2], path[-1]), self.lengths.texts[0], self.lengths.at == 0)
        if self.lengths.at == 1 or self.lengths.texts[1]:
            text = f"{self.lengths.texts[1]}▏" if self.lengths.at == 1 else self.lengths.texts[1]
            pill(p, v, v.to_px(*path[-1]) + QPointF(0, 34), f"size {text}", True, self.lengths.at == 1)
        caught_mark(p, v, self.snap if not self.lengths.texts[0] else Snap(path[-1]))

    def hint(self) -> str:
        return "Click each corner, a register or run ends it; type a length, Tab its size; Enter ends, Backspace takes back"

    @classmethod
    def before(cls, p: QPainter, v: Sheet, at: QPointF, snap: Callable[[], Snap], **more: Any) -> None:
        if v.lens.takes_ducts:
            caught_mark(p, v, _snap(field_of(v).catch(v.to_m(at), NEAR_PX / v.scale, 0.01, None, True)))


def _off(a: Point, b: Point) -> float:
    """On which side a length stands: above and left of the way, clear of what is said below the pointer."""
    west = b[0] < a[0] - 1e-6
    level = abs(b[0] - a[0]) >= abs(b[1] - a[1])
    return -22.0 if (level and west) or (not level and b[1] > a[1]) else 22.0


def _ghost_run(p: QPainter, v: Sheet, path: tuple[Point, ...], width_px: float) -> None:
    """A run that is not there yet, as wide as it will be."""
    t = v.theme
    line = QPolygonF([v.to_px(*q) for q in path])
    for color, wide in ((t("ink"), max(width_px, 5.0) + 3), (t("select"), max(width_px, 5.0))):
        p.setPen(QPen(color, wide, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap, Qt.PenJoinStyle.MiterJoin))
        p.drawPolyline(line)


@tool("riser", "Press on a plenum or a run: a riser goes to the storey above; with Alt to the one below")
class Riser(Gesture):
    """A riser to the storey above or below."""

    stays_open = False
    at_once = True

    def _anchor(self) -> lay.Anchor:
        return field_of(self.view, self.job).catch(self.view.to_m(self.at_px), self.reach_m, self.grid_m, None, True)

    def _down(self) -> bool:
        """Down with Alt, and where nothing is above."""
        order = [s.id for s in self.job.storeys]
        return self.free or order.index(self.storey) + 1 >= len(order)

    def stroke(self) -> Stroke | None:
        unit, storey, first, down = self.view.lens.takes_ducts, self.storey, self._anchor(), self._down()
        return Stroke("Draw a riser", lambda job: lay.draw_riser(job, unit, storey, first, down))

    def paint(self, p: QPainter) -> None:
        found = self._anchor()
        caught_mark(p, self.view, _snap(found))
        words = ("down" if self._down() else "up") if found.on_duct else "press on a duct"
        pill(p, self.view, self.at_px + QPointF(0, 24), words)

    @classmethod
    def before(cls, p: QPainter, v: Sheet, at: QPointF, snap: Callable[[], Snap], **more: Any) -> None:
        DrawDuct.before(p, v, at, snap)


@tool("damper", "Press on a run: a balancing damper goes in, or the one that is there comes out", what="damper")
@tool("zone_damper", "Press on a run: the damper of its rooms' zone goes in, or comes out", what="zone")
@tool("level", "Press on a run: over the ceiling, in a soffit, under the floor, in turn", what="level")
class OnRun(Gesture):
    """What is done to a run where it is pressed: a damper in or out, another level."""

    stays_open = False
    at_once = True

    def __init__(self, view: Sheet, at: QPointF, what: str) -> None:
        super().__init__(view, at)
        self.what = what

    def _run(self) -> str:
        return duct_layers.run_at(self.view, self.at_px) or ""

    def stroke(self) -> Stroke | None:
        run = self._run()
        if self.what == "level":
            return Stroke("Change the level", lambda job: lay.next_level(job, run))
        if self.what == "zone":
            return Stroke("Zone damper", lambda job: lay.zone_damper_in(job, run, _beyond(job, run)))
        return Stroke("Balancing damper", lambda job: lay.damper_in(job, run))

    def paint(self, p: QPainter) -> None:
        run = next((r for r in self.job.design.runs if r.id == self._run()), None)
        pill(p, self.view, self.at_px + QPointF(0, 24), run.tag if run is not None else "no run here")


def _beyond(job: Job, run: str) -> set[str]:
    """Rooms whose air goes through a run."""
    if all(r.id != run for r in job.design.runs):
        return set()
    ids = set(lay.alike_in(job.design, run, "beyond"))
    faces = {r.register_id for r in job.design.runs if r.id in ids}
    return {x.room for x in job.design.registers if x.id in faces}


@tool(
    "unit", "Press where the unit in hand stands; its plenums and the ducts at them come along. Turn it with Shift+U"
)
class PlaceUnit(Gesture):
    """The ducted unit in hand put in its place."""

    stays_open = False
    at_once = True
    then = "select"

    def _at(self) -> Point:
        x, y = self.view.to_m(self.at_px)
        return (round(x, 3), round(y, 3))

    def stroke(self) -> Stroke | None:
        unit, storey, at = self.view.lens.takes_ducts, self.storey, self._at()
        return Stroke("Place the unit", lambda job: lay.placed_unit(job, unit, storey, at))

    def paint(self, p: QPainter) -> None:
        ghost_unit(p, self.view, self.job, self._at())

    @classmethod
    def before(cls, p: QPainter, v: Sheet, at: QPointF, snap: Callable[[], Snap], **more: Any) -> None:
        x, y = v.to_m(at)
        ghost_unit(p, v, v.present_job, (x, y))


def ghost_unit(p: QPainter, v: Sheet, job: Job, at: Point) -> None:
    """The unit in hand as it would stand, with the room to work before it, and whether it goes in."""
    own = next((x for x in job.design.indoor_units if x.id == v.lens.takes_ducts), None)
    if own is None:
        return
    way = own.way if own.storey is not None else usual_way(job, v.storey, at, cabinet(job, own))
    # not checked: the pointer may be far off the plan
    there = own.model_copy(update={"storey": v.storey, "position_m": at, "way": way})
    unit = cabinet(job, own)
    x = stand(there, unit)
    trouble = next(misfits(job, there, unit), None)
    place = place_here(job, v.storey, at)
    if place is not None:
        ghost(p, v, place.outline_m)
    duct_layers.work_space(p, v, x)
    ghost(p, v, tuple(footprint(x).exterior.coords)[:-1], trouble is None)
    words = said_misfit(trouble, v) if trouble else ""
    pill(p, v, v.to_px(*at) + QPointF(0, 34), f"{own.tag} {words}" if words else f"{own.tag}, {WAYS[way]}")


def said_misfit(trouble: Misfit, v: Sheet) -> str:
    """By how much a unit does not go in, in the user's units."""
    return trouble.words.format(text("size", trouble.need_m, v.units), text("size", trouble.has_m, v.units))


WAYS = {
    "upflow": "air upwards",
    "downflow": "air downwards",
    "left": "lying, air to the left",
    "right": "lying, air to the right",
}


class Drag(Gesture):
    """Something of the ducts that is dragged."""

    stays_open = False
    moves = ("ducts",)

    def _at(self) -> Point:
        x, y = self.view.to_m(self.at_px)
        return (round(x, 3), round(y, 3))


@grabs
class ZoneDamperDrag(Drag):
    """A zone damper taken to another run."""

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> ZoneDamperDrag | None:
        run = next((r for r in view.present_job.design.runs if (kind, r.id) == ("run", item)), None)
        if run is None or not run.zone_damper:
            return None
        off = duct_layers.zone_damper_at(view, run) - at
        return cls(view, at, run) if max(abs(off.x()), abs(off.y())) <= DAMPER_PX else None

    def __init__(self, view: Sheet, at: QPointF, run: DuctRun) -> None:
        super().__init__(view, at)
        self.run = run

    def _to(self) -> str:
        return duct_layers.run_at(self.view, self.at_px) or ""

    def stroke(self) -> Stroke | None:
        to, run = self._to(), self.run.id
        if not self.moved or not to or to == run:
            return None
        return Stroke("Move the zone damper", lambda job: lay.zone_damper_moved(job, run, to, _beyond(job, to)))

    def paint(self, p: QPainter) -> None:
        to = next((r for r in self.job.design.runs if r.id == self._to()), None)
        pill(p, self.view, self.at_px + QPointF(0, 24), f"to {to.tag}" if to is not None else "drag it to a run")


DAMPER_PX = 10.0


@grabs
class JointDrag(Drag):
    """A joint moved; in a straight trunk it slides along it."""

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> JointDrag | None:
        if kind != "run":
            return None
        field = field_of(view)
        found = field.catch(view.to_m(at), NEAR_PX / view.scale, 0.01, None, True)
        return cls(view, at, found.id) if found.kind == "joint" else None

    def __init__(self, view: Sheet, at: QPointF, joint: str) -> None:
        super().__init__(view, at)
        self.joint = joint
        self.line = lay.slides(self.job, joint)

    def _to(self) -> Point:
        at = self._at()
        if self.line is not None and not self.free:
            return lay.nearest(self.line, at)[0]
        return at if self.free else _on_grid(at, self.grid_m)

    def stroke(self) -> Stroke | None:
        if not self.moved:
            return None
        joint, to = self.joint, self._to()
        run = next((r.id for r in self.job.design.runs if joint in (r.end, r.start)), "")
        return Stroke("Move the joint", lambda job: Drawn(lay.move_joint(job, joint, to), "run", run))

    def paint(self, p: QPainter) -> None:
        caught_mark(p, self.view, Snap(self._to()))
        _ghost_runs(p, self)

    def hint(self) -> str:
        return "It slides along a straight trunk; with Alt it goes anywhere"


@grabs
class StretchDrag(Drag):
    """A stretch of run moved sideways; a trunk moves whole, a branch along its trunk."""

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> StretchDrag | None:
        run = next((r for r in view.present_job.design.runs if (kind, r.id) == ("run", item)), None)
        return cls(view, at, run) if run is not None else None

    def __init__(self, view: Sheet, at: QPointF, run: DuctRun) -> None:
        super().__init__(view, at)
        self.run = run
        self.start: Point = view.to_m(at)
        self.leg = lay.leg_at(lay.path_of(self.job, self.run), self.start)

    def stroke(self) -> Stroke | None:
        if not self.moved or self.run.side == "fresh":
            return None
        at = self._at()
        step = 0.001 if self.free else self.grid_m
        by: Point = (_stepped(at[0] - self.start[0], step), _stepped(at[1] - self.start[1], step))
        run, leg = self.run.id, self.leg
        return Stroke(f"Move {self.run.tag}"[:80], lambda job: lay.move_stretch(job, run, leg, by))

    def paint(self, p: QPainter) -> None:
        _ghost_runs(p, self)

    def hint(self) -> str:
        return "A trunk moves whole with its branches; a branch slides along its trunk"


def _ghost_runs(p: QPainter, g: Gesture) -> None:
    """Every run that the drag would change, as it would lie."""
    try:
        drawn = g.live()
    except JobError:  # told beside the pointer
        return
    if drawn is None:
        return
    was = {r.id: (r, lay.path_of(g.job, r)) for r in g.job.design.runs}
    for r in drawn.job.design.runs:
        path = lay.path_of(drawn.job, r)
        if r.storey == g.storey and (r.id not in was or was[r.id][1] != path):
            _ghost_run(p, g.view, path, _width_m(r) * g.view.scale)


def _width_m(run: DuctRun) -> float:
    return (run.diameter_m if run.shape == "round" else run.width_m) or 0.15


@grabs
class DuctedUnitDrag(Drag):
    """The unit moved; plenums and ducts at them follow."""

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> DuctedUnitDrag | None:
        own = next((x for x in view.present_job.design.indoor_units if (kind, x.id) == ("indoor_unit", item)), None)
        return cls(view, at, own) if own is not None else None

    def __init__(self, view: Sheet, at: QPointF, unit: IndoorUnit) -> None:
        super().__init__(view, at)
        self.unit = unit
        self.start: Point = view.to_m(at)

    def _to(self) -> Point:
        at, o = self._at(), self.unit.position_m
        to: Point = (o[0] + at[0] - self.start[0], o[1] + at[1] - self.start[1])
        return to if self.free else _on_grid(to, self.grid_m)

    def stroke(self) -> Stroke | None:
        if not self.moved:
            return None
        unit, storey, to = self.unit.id, self.storey, self._to()
        return Stroke("Move the unit", lambda job: lay.placed_unit(job, unit, storey, to))

    def paint(self, p: QPainter) -> None:
        _ghost_runs(p, self)
        ghost_unit(p, self.view, self.job, self._to())

    def hint(self) -> str:
        return "Its plenums and the ducts at them come along; Shift+U turns it"


def _stepped(value: float, step: float) -> float:
    return round(value / step) * step


def _on_grid(at: Point, step: float) -> Point:
    return (round(_stepped(at[0], step), 4), round(_stepped(at[1], step), 4))
