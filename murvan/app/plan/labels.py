"""Places for texts such that none covers another, nor what must stay visible."""

from __future__ import annotations

from math import ceil

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSizeF

from murvan.arrays import Array

GAP = 3.0
RANK = 0.5
"""What each later candidate costs, in px² of covered line: near places win over slightly freer ones far off."""
MOST_KNOWN = 400
STEP = 4.0
Corners = tuple[tuple[float, float], ...]


class _Blocks:
    """Rectangles in one growing array (n, 4: left, top, right, bottom)."""

    def __init__(self) -> None:
        self._rows = np.empty((64, 4))
        self._n = 0

    @property
    def array(self) -> Array:
        return self._rows[: self._n]

    def add(self, left: float, top: float, right: float, bottom: float) -> None:
        if self._n == len(self._rows):
            self._rows = np.concatenate([self._rows, np.empty_like(self._rows)])
        self._rows[self._n] = (left, top, right, bottom)
        self._n += 1

    def extend(self, rows: Array) -> None:
        need = self._n + len(rows)
        if need > len(self._rows):
            self._rows = np.concatenate([self._rows, np.empty((need, 4))])
        self._rows[self._n : need] = rows
        self._n = need


class Labels:
    """Collects what is taken and finds the least bad place for the next text."""

    def __init__(self, bounds: QRectF, known: dict[tuple[object, ...], tuple[int, float]] | None = None) -> None:
        self.bounds = bounds
        self.known = {} if known is None else known
        """Answers to the same question at an earlier drawing; most figures change without changing their width."""
        self._hard, self._soft = _Blocks(), _Blocks()

    @property
    def texts(self) -> list[QRectF]:
        """Every place taken by a text."""
        return [QRectF(a, b, c - a, d - b) for a, b, c, d in self._hard.array.tolist()]

    def block(self, rect: QRectF) -> None:
        """Keep a text's place: it is never covered."""
        self._hard.add(*_corners(rect))

    def avoid(self, rect: QRectF) -> None:
        """A line or fill, covered only when nothing else is left."""
        self._soft.add(*_corners(rect))

    @property
    def hard_count(self) -> int:
        return len(self._hard.array)

    @property
    def soft_count(self) -> int:
        return len(self._soft.array)

    def hard_rows(self, first: int) -> Array:
        """The places taken from the `first` on."""
        return self._hard.array[first:].copy()

    def soft_rows(self, first: int) -> Array:
        """What was to be avoided from the `first` on, to be given again at the next drawing."""
        return self._soft.array[first:].copy()

    def avoid_rows(self, rows: Array) -> None:
        self._soft.extend(rows)

    def extend(self, taken: Array, lines: Array) -> None:
        """What an earlier drawing took and left lines at."""
        self._hard.extend(taken)
        self._soft.extend(lines)

    def avoid_line(self, points: list[QPointF], width: float) -> None:
        """A thick polyline: one rectangle a straight piece, a row of squares along a slanting one."""
        half = width / 2
        for a, b in zip(points, points[1:], strict=False):
            if abs(b.x() - a.x()) < 1 or abs(b.y() - a.y()) < 1:
                self._soft.add(
                    min(a.x(), b.x()) - half,
                    min(a.y(), b.y()) - half,
                    max(a.x(), b.x()) + half,
                    max(a.y(), b.y()) + half,
                )
                continue
            length = max(abs(b.x() - a.x()), abs(b.y() - a.y()))
            steps = max(1, int(length / max(width, 6.0)))
            for k in range(steps + 1):
                x, y = a.x() + (b.x() - a.x()) * k / steps, a.y() + (b.y() - a.y()) * k / steps
                self._soft.add(x - half, y - half, x + half, y + half)

    def costs(self, rects: Array) -> Array:
        """Cost of each candidate (k, 4: left, top, right, bottom): texts weigh a hundred times what lines do."""
        inside = _overlaps(rects, np.array([_corners(self.bounds)]))[:, 0]
        area = (rects[:, 2] - rects[:, 0]) * (rects[:, 3] - rects[:, 1])
        total = 100.0 * (area - inside)
        big = rects + np.array([-GAP, -GAP, GAP, GAP])
        left, top = big[:, :2].min(axis=0)
        right, bottom = big[:, 2:].max(axis=0)
        for blocks, weight in ((self._hard, 100.0), (self._soft, 1.0)):
            x = blocks.array
            near = x[(x[:, 0] < right) & (x[:, 2] > left) & (x[:, 1] < bottom) & (x[:, 3] > top)]
            total = total + weight * _overlaps(big, near).sum(axis=1)
        return np.asarray(total)

    def best(self, size: QSizeF, centres: Array, extra: Array | float = 0.0) -> tuple[QRectF, float] | None:
        """The cheapest of the candidate centres (k, 2), earlier first, and its cost; nothing is taken yet.

        `extra` is added to the candidates' own costs.
        """
        if len(centres) == 0:
            return None
        question = (
            size.width(),
            size.height(),
            centres.tobytes(),
            self._hard.array.tobytes(),
            self._soft.array.tobytes(),
            extra.tobytes() if isinstance(extra, np.ndarray) else extra,
        )
        if question not in self.known:
            half = np.array([size.width() / 2, size.height() / 2])
            rects = np.concatenate([centres - half, centres + half], axis=1)
            costs = self.costs(rects) + RANK * np.arange(len(centres)) + extra
            if len(self.known) > MOST_KNOWN:
                self.known.clear()
            self.known[question] = (int(np.argmin(costs)), float(costs.min()))
        k, cost = self.known[question]
        left, top = centres[k, 0] - size.width() / 2, centres[k, 1] - size.height() / 2
        return QRectF(left, top, size.width(), size.height()), cost

    def place(
        self, size: QSizeF, centres: Array, worst: float = float("inf"), extra: Array | float = 0.0
    ) -> QRectF | None:
        """Take the best place; None when even that costs more than `worst`."""
        found = self.best(size, centres, extra)
        if found is None or found[1] > worst:
            return None
        self.block(found[0])
        return found[0]


def _corners(r: QRectF) -> tuple[float, float, float, float]:
    return (r.left(), r.top(), r.right(), r.bottom())


def _overlaps(a: Array, b: Array) -> Array:
    """Shared area of every rectangle of `a` with every one of `b`."""
    w = np.minimum(a[:, None, 2], b[None, :, 2]) - np.maximum(a[:, None, 0], b[None, :, 0])
    h = np.minimum(a[:, None, 3], b[None, :, 3]) - np.maximum(a[:, None, 1], b[None, :, 1])
    return np.asarray(np.maximum(w, 0) * np.maximum(h, 0), float)


DIRECTIONS = np.array([(1, 0), (-1, 0), (0, -1), (0, 1), (1, -0.8), (-1, -0.8), (1, 0.8), (-1, 0.8)], float)
RINGS = np.array([0.0, 10.0, 24.0, 44.0])


def roomy(width: float, height: float) -> QSizeF:
    """A text's size with its width rounded up: most figures then change without asking for another place."""
    return QSizeF(ceil(width / STEP) * STEP, height)


def around(at: QPointF, size: QSizeF, distance: float = 12.0, rings: int = 4) -> Array:
    """Candidate centres (k, 2) about a point: beside, above, below, and the corners, then farther out."""
    half = np.array([size.width() / 2, size.height() / 2])
    reach = half + distance + RINGS[:rings, None]
    offsets = DIRECTIONS[None, :, :] * reach[:, None, :]
    return np.asarray(offsets.reshape(-1, 2) + np.array([at.x(), at.y()]))


def everywhere(bounds: QRectF, size: QSizeF, at: QPointF, step: float = 16.0) -> Array:
    """Candidate centres (k, 2) over the whole of `bounds`, nearest to `at` first: for what must find free ground."""
    x = np.arange(bounds.left() + size.width() / 2 + GAP, bounds.right() - size.width() / 2, step)
    y = np.arange(bounds.top() + size.height() / 2 + GAP, bounds.bottom() - size.height() / 2, step)
    spots = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    far = np.hypot(spots[:, 0] - at.x(), spots[:, 1] - at.y())
    return np.asarray(spots[np.argsort(far, kind="stable")])


def within(points: Array, corners: Corners) -> NDArray[np.bool_]:
    """Which points lie inside a polygon (even-odd)."""
    x, y = points[:, 0], points[:, 1]
    out = np.zeros(len(points), bool)
    for (x0, y0), (x1, y1) in zip(corners, corners[1:] + corners[:1], strict=True):
        if y0 != y1:
            out ^= ((y0 > y) != (y1 > y)) & (x < (x1 - x0) * (y - y0) / (y1 - y0) + x0)
    return out
