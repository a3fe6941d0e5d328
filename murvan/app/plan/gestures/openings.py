"""Strokes that put openings on walls and slide them along."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPen

from murvan.app.plan.gestures.base import Gesture, Stroke, caught_mark, dimension, grabs, tool
from murvan.app.plan.sheet import Sheet
from murvan.design.drawing import (
    FIRST,
    INSIDE_DOOR,
    Drawn,
    OpeningKind,
    Size,
    Snap,
    Spot,
    free_offset,
    grid_step_m,
    last_like,
    place_opening,
    reads_from_start,
    set_offset,
    slide_opening,
    spot_at,
)
from murvan.design.house import wall_at, wall_length_m, wall_points
from murvan.model.errors import JobError
from murvan.model.job import Job, Opening, Point

WORDS = {"window": "window", "door": "door", "archway": "archway"}


@tool("window", "Press on an outside wall to put a window in", kind="window")
@tool("door", "Press on a wall to put a door in", kind="door")
@tool("archway", "Press on a wall between two rooms to open it", kind="archway")
class PlaceOpening(Gesture):
    """A new opening: it slides along the wall under the pointer until it is let go.

    A typed length is the distance of its near end from the wall's end.
    """

    fields = ("from the corner",)
    stays_open = False
    at_once = True

    @classmethod
    def before(cls, p: QPainter, v: Sheet, at: QPointF, snap: Callable[[], Snap], **more: Any) -> None:
        ghost_opening(p, v, at, more["kind"])

    def __init__(self, view: Sheet, at: QPointF, kind: OpeningKind) -> None:
        super().__init__(view, at)
        self.kind: OpeningKind = kind
        self.like = last_like(self.job, kind)
        self.spot = spot_at(self.job, self.storey, view.to_m(at))

    def follow(self) -> None:
        spot = spot_at(self.job, self.storey, self.view.to_m(self.at_px))
        self.spot = spot or self.spot

    def size(self) -> Size:
        return size_for(self.kind, self.spot, self.like)

    def offset(self) -> float:
        assert self.spot is not None
        typed = self.lengths.value(0)
        if typed is not None:
            return typed if self._from_start() else self.spot.length_m - self.size().width_m - typed
        return offset_at(self.job, self.spot, self.size().width_m, 0.0 if self.free else self.grid_m)

    def _from_start(self) -> bool:
        """Typed lengths count from the wall's left or upper end, as it is seen on the plan."""
        assert self.spot is not None
        return reads_from_start(self.spot.room.outline_m, self.spot.wall)

    def stroke(self) -> Stroke | None:
        if self.spot is None:
            return None
        spot, kind, size, like, offset = self.spot, self.kind, self.size(), self.like, self.offset()

        def edit(job: Job) -> Drawn:
            drawn = place_opening(job, spot, kind, size, like, offset)
            return Drawn(set_offset(drawn.job, drawn.id, offset), drawn.kind, drawn.id)

        return Stroke(f"Place {WORDS[kind]}", edit)

    def paint(self, p: QPainter) -> None:
        if self.spot is None:
            caught_mark(p, self.view, Snap(self.view.to_m(self.at_px), f"no wall here for the {WORDS[self.kind]}"))
            return
        try:
            offset = self.offset()
        except JobError:
            offset = 0.0
        width = min(self.size().width_m, self.spot.length_m)
        good = not self.trouble
        on_wall(p, self.view, self.spot.room.outline_m, self.spot.wall, offset, width, good, self.lengths.texts[0])

    def hint(self) -> str:
        return "Let go to place it; type its distance from the corner; Esc drops it"


@grabs
class SlideOpening(Gesture):
    """An opening moved along its wall."""

    fields = ("from the corner",)
    stays_open = False

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> SlideOpening | None:
        return cls(view, at, item) if kind == "opening" else None

    def __init__(self, view: Sheet, at: QPointF, opening: str) -> None:
        super().__init__(view, at)
        self.opening = next(o for o in self.job.openings if o.id == opening)
        self.room = next(r for r in self.job.rooms if r.id == self.opening.room)
        a, b = self._middle()
        x, y = view.to_m(at)
        self.grip = (a - x, b - y)

    def _middle(self) -> Point:
        return wall_at(self.room.outline_m, self.opening.wall, self.opening.offset_m + self.opening.width_m / 2)[0]

    def offset(self) -> float:
        length = wall_length_m(self.room.outline_m, self.opening.wall)
        typed = self.lengths.value(0)
        if typed is not None:
            start = reads_from_start(self.room.outline_m, self.opening.wall)
            return typed if start else length - self.opening.width_m - typed
        x, y = self.view.to_m(self.at_px)
        job = slide_opening(self.job, self.opening.id, (x + self.grip[0], y + self.grip[1]))
        offset = next(o.offset_m for o in job.openings if o.id == self.opening.id)
        if self.free:
            return offset
        grid = self.grid_m
        near = round(offset / grid) * grid
        return near if 0 <= near <= length - self.opening.width_m else offset

    def stroke(self) -> Stroke | None:
        if not self.moved and not self.lengths.typed:
            return None
        opening, offset, tag = self.opening.id, self.offset(), self.opening.tag
        if abs(offset - self.opening.offset_m) < 1e-6:
            return None
        return Stroke(f"Move {tag}", lambda job: Drawn(set_offset(job, opening, offset), "opening", opening))

    def paint(self, p: QPainter) -> None:
        o = self.opening
        good = not self.trouble
        on_wall(p, self.view, self.room.outline_m, o.wall, self.offset(), o.width_m, good, self.lengths.texts[0])

    def hint(self) -> str:
        return "Slide it along its wall; type its distance from the corner"


def size_for(kind: OpeningKind, spot: Spot | None, like: Opening | None) -> Size:
    """What the next opening measures: like the last of its kind, an inside door by itself."""
    inside = spot is not None and spot.beyond == "heated"
    if like is not None and (kind != "door" or like.inside == inside):
        return Size(like.width_m, like.height_m, like.sill_m)
    return INSIDE_DOOR if kind == "door" and inside else FIRST[kind]


def on_wall(
    p: QPainter,
    v: Sheet,
    outline: tuple[Point, ...],
    wall: int,
    offset: float,
    width: float,
    good: bool,
    typed: str = "",
) -> None:
    """The ghost of an opening with the tape to both ends of its wall."""
    a, b = wall_points(outline, wall)
    t = v.theme
    s, e = wall_at(outline, wall, offset, offset + width)
    for color, thick in ((t("ink") if good else t("fails"), 13.0), (t("select") if good else t("paper"), 9.0)):
        p.setPen(QPen(color, thick, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        p.drawLine(v.to_px(*s), v.to_px(*e))
    from murvan.model.job import signed_area

    out = 20.0 if signed_area(outline) > 0 else -20.0
    first = reads_from_start(outline, wall)
    dimension(p, v, a, s, out, typed if first else None, first)
    dimension(p, v, e, b, out, None if first else typed, not first)
    dimension(p, v, s, e, -out)


def offset_at(job: Job, spot: Spot, width_m: float, grid_m: float) -> float:
    """Where on its wall an opening comes to lie: on the grid nearest to the pointer (0: free), clear of others. The ghost
    shows it, and a press puts it there.

    Raises:
        JobValueError: the wall has no such place.
    """
    width = min(width_m, spot.length_m)
    raw = spot.along_m - width / 2
    on_grid = round(raw / grid_m) * grid_m if grid_m else raw
    return free_offset(job, replace(spot, along_m=on_grid + width / 2), width)


def ghost_opening(p: QPainter, v: Sheet, at: QPointF, kind: OpeningKind) -> None:
    """Where a press would put an opening."""
    job = v.present_job
    spot = spot_at(job, v.storey, v.to_m(at))
    if spot is None:
        return
    size = size_for(kind, spot, last_like(job, kind))
    wrong = (kind == "window" and spot.beyond == "heated") or (kind == "archway" and spot.beyond != "heated")
    width = min(size.width_m, spot.length_m)
    try:
        offset = offset_at(job, spot, width, grid_step_m(v.scale, v.units == "si"))
    except JobError:
        return
    p.setOpacity(0.75)
    on_wall(p, v, spot.room.outline_m, spot.wall, offset, width, not wrong)
    p.setOpacity(1.0)
