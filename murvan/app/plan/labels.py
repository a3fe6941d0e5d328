"""Places for texts such that none covers another, nor what must stay visible."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSizeF

GAP = 3.0
Array = NDArray[np.float64]


class Labels:
    """Collects what is taken and finds the least bad place for the next text."""

    def __init__(self, bounds: QRectF) -> None:
        self.bounds = bounds
        self.hard: list[QRectF] = []
        """Texts: never covered."""
        self.soft: list[QRectF] = []
        """Lines and fills: covered only when nothing else is left."""

    def block(self, rect: QRectF) -> None:
        self.hard.append(rect)

    def avoid(self, rect: QRectF) -> None:
        self.soft.append(rect)

    def avoid_line(self, points: list[QPointF], width: float) -> None:
        """A thick polyline as a row of squares."""
        for a, b in zip(points, points[1:], strict=False):
            length = max(abs(b.x() - a.x()), abs(b.y() - a.y()))
            steps = max(1, int(length / max(width, 6.0)))
            for k in range(steps + 1):
                x, y = a.x() + (b.x() - a.x()) * k / steps, a.y() + (b.y() - a.y()) * k / steps
                self.soft.append(QRectF(x - width / 2, y - width / 2, width, width))

    def costs(self, rects: Array) -> Array:
        """Cost of each candidate (k, 4: left, top, right, bottom): texts weigh a hundred times what lines do."""
        inside = _overlaps(rects, np.array([_corners(self.bounds)]))[:, 0]
        area = (rects[:, 2] - rects[:, 0]) * (rects[:, 3] - rects[:, 1])
        total = 100.0 * (area - inside)
        big = rects + np.array([-GAP, -GAP, GAP, GAP])
        for blocks, weight in ((self.hard, 100.0), (self.soft, 1.0)):
            if blocks:
                total = total + weight * _overlaps(big, np.array([_corners(b) for b in blocks])).sum(axis=1)
        return total

    def place(self, size: QSizeF, centres: Iterable[QPointF], worst: float = float("inf")) -> QRectF | None:
        """The cheapest of the candidate centres, earlier ones first; None when even that costs more than `worst`."""
        spots = list(centres)
        if not spots:
            return None
        w, h = size.width() / 2, size.height() / 2
        rects = np.array([(c.x() - w, c.y() - h, c.x() + w, c.y() + h) for c in spots])
        costs = self.costs(rects) + 0.02 * np.arange(len(spots))
        k = int(np.argmin(costs))
        if costs[k] > worst:
            return None
        best = QRectF(rects[k, 0], rects[k, 1], size.width(), size.height())
        self.hard.append(best)
        return best


def _corners(r: QRectF) -> tuple[float, float, float, float]:
    return (r.left(), r.top(), r.right(), r.bottom())


def _overlaps(a: Array, b: Array) -> Array:
    """Shared area of every rectangle of `a` with every one of `b`."""
    w = np.minimum(a[:, None, 2], b[None, :, 2]) - np.maximum(a[:, None, 0], b[None, :, 0])
    h = np.minimum(a[:, None, 3], b[None, :, 3]) - np.maximum(a[:, None, 1], b[None, :, 1])
    return np.asarray(np.maximum(w, 0) * np.maximum(h, 0), float)


def around(at: QPointF, size: QSizeF, distance: float = 12.0) -> list[QPointF]:
    """Candidate centres about a point: beside, above, below, and the corners, then farther out."""
    out = []
    for d in (distance, distance + 10, distance + 24, distance + 44):
        w, h = size.width() / 2 + d, size.height() / 2 + d
        out += [
            QPointF(at.x() + dx, at.y() + dy)
            for dx, dy in (
                (w, 0),
                (-w, 0),
                (0, -h),
                (0, h),
                (w, -h * 0.8),
                (-w, -h * 0.8),
                (w, h * 0.8),
                (-w, h * 0.8),
            )
        ]
    return out
