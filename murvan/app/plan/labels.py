"""Places for texts such that none covers another, nor what must stay visible."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QPointF, QRectF, QSizeF

GAP = 3.0


def overlap(a: QRectF, b: QRectF) -> float:
    """Area two rectangles share."""
    i = a.intersected(b)
    return max(i.width(), 0.0) * max(i.height(), 0.0)


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

    def cost(self, rect: QRectF) -> float:
        """Nothing when free; texts weigh a hundred times what lines weigh."""
        big = rect.adjusted(-GAP, -GAP, GAP, GAP)
        total = 100.0 * sum(overlap(big, r) for r in self.hard) + sum(overlap(big, r) for r in self.soft)
        inside = overlap(rect, self.bounds)
        return total + 100.0 * (rect.width() * rect.height() - inside)

    def place(self, size: QSizeF, centres: Iterable[QPointF], worst: float = float("inf")) -> QRectF | None:
        """The cheapest of the candidate centres, earlier ones first; None when even that costs more than `worst`."""
        best, best_cost = None, float("inf")
        for k, c in enumerate(centres):
            rect = QRectF(c.x() - size.width() / 2, c.y() - size.height() / 2, size.width(), size.height())
            cost = self.cost(rect) + 0.02 * k
            if cost < best_cost:
                best, best_cost = rect, cost
                if cost < 0.02 * (k + 1):
                    break
        if best is None or best_cost > worst:
            return None
        self.hard.append(best)
        return best


def around(at: QPointF, size: QSizeF, distance: float = 12.0) -> list[QPointF]:
    """Candidate centres about a point: beside, above, below, and the corners, then farther out."""
    out = []
    for d in (distance, distance + 10, distance + 24, distance + 44):
        w, h = size.width() / 2 + d, size.height() / 2 + d
        out += [QPointF(at.x() + dx, at.y() + dy) for dx, dy in (
            (w, 0), (-w, 0), (0, -h), (0, h), (w, -h * 0.8), (-w, -h * 0.8), (w, h * 0.8), (-w, h * 0.8))]
    return out
