"""Where things stand on the page of the section: the plan with its line, the table of what is cut, and the section's two scales,
with empty stretches taken out."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from math import atan2, degrees
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF

from murvan.app.stations.base import View
from murvan.design.parts import size_text
from murvan.design.space import DuctCut, Ends, Section
from murvan.model.design import DuctRun
from murvan.model.job import Point
from murvan.model.routes import LaidRun

SHARE = 0.47
"""Of the page that plan and table take."""
PLAN_SHARE = 0.6
BREAK_PX = 30.0
MOST_PX_PER_M = 230.0
ROUND_DUCT_M, ROUND_UP_M, MOST_EMPTY_M = 0.18, 0.1, 0.5
"""What is shown beside what is cut, over and under it, and the longest empty stretch that is not taken out."""
NAME_M = 0.28
"""What of a room is shown under its ceiling, so that its name goes there."""
WALL_M = 0.11
ROW_PX = 30.0


def bounds(view: View) -> tuple[Point, Point]:
    """The corners of the house with a hand's width round it."""
    xs, ys = zip(*(q for r in view.job.rooms for q in r.outline_m), strict=True)
    return (min(xs) - 0.4, min(ys) - 0.4), (max(xs) + 0.4, max(ys) + 0.4)


class PlanMap(NamedTuple):
    """The plan at the upper left: px per m, and where its origin lies."""

    scale: float
    x: float
    y: float

    @staticmethod
    def of(view: View, page: QRectF) -> PlanMap:
        low, high = bounds(view)
        r = plan_rect(page)
        k = min(r.width() / (high[0] - low[0]), r.height() / (high[1] - low[1]))
        cx, cy = (low[0] + high[0]) / 2, (low[1] + high[1]) / 2
        return PlanMap(k, r.center().x() - cx * k, r.center().y() - cy * k)

    def px(self, p: Point) -> QPointF:
        return QPointF(self.x + p[0] * self.scale, self.y + p[1] * self.scale)

    def at(self, q: QPointF) -> Point:
        return round((q.x() - self.x) / self.scale, 3), round((q.y() - self.y) / self.scale, 3)


def plan_rect(page: QRectF) -> QRectF:
    return QRectF(page.left() + 26, page.top() + 14, page.width() * PLAN_SHARE - 40, page.height() * SHARE - 28)


def table_rect(page: QRectF) -> QRectF:
    left = page.left() + page.width() * PLAN_SHARE + 6
    return QRectF(left, page.top() + 6, page.right() - left - 12, page.height() * SHARE - 12)


def section_rect(page: QRectF) -> QRectF:
    top = page.top() + page.height() * SHARE + 34
    return QRectF(page.left() + 74, top, page.width() - 94, page.bottom() - top - 30)


@dataclass(frozen=True)
class Folded:
    """A scale with empty stretches taken out."""

    kept: tuple[tuple[float, float], ...]
    """What is shown, m, in order."""
    px_per_m: float
    start: float
    """Where the first stretch begins, px."""
    sign: int = 1

    def px(self, m: float) -> float:
        """Where a place lies; within what is taken out, in its break."""
        at = self.start
        last = self.kept[0][0]
        if m < last:
            return at + self.sign * (m - last) * self.px_per_m
        for low, high in self.kept:
            if m < low:
                return at - self.sign * BREAK_PX * (low - m) / max(low - last, 1e-9)
            if m <= high:
                return at + self.sign * (m - low) * self.px_per_m
            at += self.sign * ((high - low) * self.px_per_m + BREAK_PX)
            last = high
        return at - self.sign * BREAK_PX + self.sign * (m - last) * self.px_per_m

    @property
    def breaks(self) -> Iterator[tuple[float, float]]:
        """Where each break lies, px, and what it takes out, m."""
        for (_, a), (b, _) in zip(self.kept, self.kept[1:], strict=False):
            yield (self.px(a) + self.px(b)) / 2, b - a


class Page(NamedTuple):
    """The section's two scales: along the line, and up."""

    along: Folded
    up: Folded
    rect: QRectF

    @staticmethod
    def of(x: Section, page: QRectF, run: str | None) -> Page:
        """As large as it goes; one level of ducts is shown, that of the run in hand."""
        r, shown = section_rect(page), at_level(x, run)
        xs, zs = tuple(_kept_along(x, shown)), tuple(_kept_up(x, shown))
        wide, tall = sum(b - a for a, b in xs), sum(b - a for a, b in zs)
        k = min(
            (r.width() - BREAK_PX * (len(xs) - 1)) / max(wide, 1e-6),
            (r.height() - BREAK_PX * (len(zs) - 1)) / max(tall, 1e-6),
            MOST_PX_PER_M,
        )
        left = r.left() + (r.width() - wide * k - BREAK_PX * (len(xs) - 1)) / 2
        foot = r.bottom() - (r.height() - tall * k - BREAK_PX * (len(zs) - 1)) / 2
        return Page(Folded(xs, k, left), Folded(zs, k, foot, -1), r)

    def rect_of(self, s0: float, s1: float, z0: float, z1: float) -> QRectF:
        x0, x1, y0, y1 = self.along.px(s0), self.along.px(s1), self.up.px(z1), self.up.px(z0)
        return QRectF(x0, y0, x1 - x0, y1 - y0)

    def duct(self, d: DuctCut) -> QRectF:
        """Its metal."""
        return self.rect_of(d.at_m - d.width_m / 2, d.at_m + d.width_m / 2, d.low_m, d.high_m)


def _merged(spans: Iterable[tuple[float, float]], gap: float) -> Iterator[tuple[float, float]]:
    at: tuple[float, float] | None = None
    for low, high in sorted(spans):
        if at is None:
            at = (low, high)
        elif low - at[1] <= gap:
            at = (at[0], max(at[1], high))
        else:
            yield at
            at = (low, high)
    if at is not None:
        yield at


def at_level(x: Section, run: str | None) -> list[DuctCut]:
    """The ducts that lie level where the run in hand does, or where most do; all of them where none lies level."""
    level = [d for d in x.ducts if d.how != "upright"]
    if not level:
        return list(x.ducts)
    bands = list(_merged(((d.low_m, d.high_m) for d in level), MOST_EMPTY_M))

    def within(band: tuple[float, float]) -> list[DuctCut]:
        return [d for d in level if band[0] <= d.low_m and d.high_m <= band[1]]

    return max((within(b) for b in bands), key=lambda ds: (any(d.run.id == run for d in ds), len(ds)))


def _kept_along(x: Section, shown: list[DuctCut]) -> Iterator[tuple[float, float]]:
    low, high = min((d.low_m for d in shown), default=0.0), max((d.high_m for d in shown), default=0.0)
    spans = [
        (b.span[0] - ROUND_UP_M, b.span[1] + ROUND_UP_M)
        for b in x.blocks
        if b.block.low[2] < high and b.block.high[2] > low
    ]
    spans += [
        (max(o.span[0], 0.0) - ROUND_DUCT_M, o.span[1] + ROUND_DUCT_M)
        for o in x.obstacles
        if o.solid.low_m < high and o.solid.high_m > low and o.span[1] - o.span[0] < 2 * MOST_EMPTY_M
    ]
    for d in (d for d in x.ducts if d in shown or (d.low_m < high and d.high_m > low)):
        half = d.width_m / 2 + d.wrap_m + ROUND_DUCT_M
        if d.how == "along" and d.width_m > 2 * MOST_EMPTY_M:
            ends = (d.at_m - d.width_m / 2, d.at_m + d.width_m / 2)
            spans += [(e - ROUND_DUCT_M, e + ROUND_DUCT_M) for e in ends]
        else:
            spans.append((d.at_m - half, d.at_m + half))
    return _merged(spans or [(0.0, x.length_m)], MOST_EMPTY_M)


def _kept_up(x: Section, shown: list[DuctCut]) -> Iterator[tuple[float, float]]:
    spans = [(d.low_m - d.wrap_m - ROUND_UP_M, d.high_m + d.wrap_m + ROUND_UP_M) for d in shown]
    for deck in x.decks:
        low, high = deck.low_m - ROUND_UP_M, deck.high_m + ROUND_UP_M
        if not shown or any(low < b and high > a for a, b in spans[: len(shown)]):
            spans.append((low if deck.kind in ("floor", "slab") else deck.low_m - NAME_M, high))
    if not spans:
        spans = [(r.floor_m - ROUND_UP_M, r.ceiling[0][1] + ROUND_UP_M) for r in x.rooms] or [(0.0, 3.0)]
    return _merged(spans, MOST_EMPTY_M / 2)


# ---- words and rows -------------------------------------------------------------------------------------------


COMPASS = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")


def looks(ends: Ends) -> str:
    """Where one looks with the first end at the left, as the plan is turned."""
    (ax, ay), (bx, by) = ends
    turn = degrees(atan2(by - ay, bx - ax)) % 360
    return COMPASS[round(turn / 45) % 8]


def clear_words(d: DuctCut) -> str:
    """'joist or ceiling space', 'clear height in the attic'."""
    return "joist or ceiling space" if d.words == "space" else d.words


def ink_of(d: DuctRun) -> str:
    return {"supply": "supply", "return": "return"}.get(d.side, "fresh")


def mark_of(x: Section, d: DuctCut) -> str:
    """'fails' where it does not go in or shares its place with another, else 'good'; 'none' where nothing says."""
    if d.run.id in x.in_each_other or (d.left_m is not None and d.left_m < 0):
        return "fails"
    return "none" if d.left_m is None else "good"


def rows(x: Section, page: QRectF) -> tuple[list[DuctCut], int]:
    """What the table lists, once a run, tightest first where not all go in; and how many do not."""
    once: dict[str, DuctCut] = {}
    for d in x.ducts:
        was = once.get(d.run.id)
        if was is None or (was.how == "upright" and d.how != "upright"):
            once[d.run.id] = d
    every = list(once.values())
    room = max(int((table_rect(page).height() - 62) / ROW_PX), 1)
    if len(every) > room:
        every.sort(key=lambda d: d.left_m if d.left_m is not None else 1e9)
    return every[:room], max(len(every) - room, 0)


def row_at(view: View, x: Section, at: QPointF, page: QRectF) -> DuctCut | None:
    r = table_rect(page)
    listed, _ = rows(x, page)
    k = int((at.y() - r.top() - 42) // ROW_PX)
    return listed[k] if r.contains(at) and 0 <= k < len(listed) and at.y() > r.top() + 42 else None


def size_of(view: View, run: LaidRun) -> str:
    """'6', '14 × 8'."""
    size = (run.diameter_m or 0.0,) if run.shape == "round" else (run.width_m or 0.0, run.height_m or 0.0)
    return size_text(size, view.units)
