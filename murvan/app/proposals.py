"""What would you put in? Complete designs side by side, on a sheet over the plan."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.columns import ColumnSheet, SmallPlan
from murvan.design import propose
from murvan.model import Job

FILLS = ("supply", "cooling", "return", "sun", "fresh", "heating", "stale", "garage")
"""One a unit, in turn."""


class ProposalSheet(ColumnSheet["propose.Proposal"]):
    """Each design a column: what serves which room, what it gives, what it costs and gives up."""

    title = "What would you put in?"
    in_hand = 0.24
    note = "the best first: nothing fails, then least to put in over 15 years and to run"
    nothing = "Nothing to offer: the house has no rooms"

    def name_of(self, x: propose.Proposal) -> str:
        return x.name

    def figures(self, x: propose.Proposal) -> list[tuple[str, str]]:
        return list(propose.figures(x, self.units))

    def words(self, p: QPainter, box: QRectF, y: float, x: propose.Proposal) -> float:
        t = self.theme
        for n, (place, chosen) in enumerate(x.chosen):
            p.setBrush(t(FILLS[n % len(FILLS)]))
            p.setPen(QPen(t("outline"), 1))
            p.drawRect(QRectF(box.left(), y - 9, 10, 10))
            words = f"{chosen.unit.name}, {place.role}"
            paint.text(p, box.left() + 16, y, words, 12, 600, t("ink"), width=box.width() - 16)
            y += 17
        for m in x.outdoors:
            paint.text(p, box.left() + 16, y, f"outdoors {m.name}", 12, 600, t("ink"), width=box.width() - 16)
            y += 17
        tied = (f"{', '.join(x.ties)}: a tenth of what things or energy cost turns the order",) if x.ties else ()
        fails = tuple(words for _, words in x.fails)
        told = (("Fails", fails), ("For it", x.reasons), ("Gives up", x.gives_up), ("As good as", tied))
        for head, lines in ((h, w) for h, w in told if w):
            y += 8
            paint.text(p, box.left(), y, head, 12, 700, t("ink"))
            y += 16
            for words in lines:
                y = self.lines(p, box, y, words)
        return y

    def plan(self, p: QPainter, r: QRectF, x: propose.Proposal, job: Job) -> float:
        """Every storey small, each room in the colour of its unit, a room without one grey."""
        t, small = self.theme, SmallPlan(job, r)
        for n, s in enumerate(small.storeys):
            for room in job.rooms:
                if room.storey != s.id:
                    continue
                k = x.serving(room.id)
                p.setPen(QPen(t("paper"), 1.4))
                p.setBrush(t("track") if k is None else t(FILLS[k % len(FILLS)]))
                p.drawPolygon(small.polygon(n, room.outline_m))
            at = small.name_at(n)
            paint.text(p, at.x(), at.y(), s.name, 11, 500, t("ink2"), width=small.each - 6)
        return small.height
