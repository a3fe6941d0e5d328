"""Ways to lay the ducts side by side, on a sheet over the plan."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.columns import ColumnSheet, SmallPlan
from murvan.design import lay
from murvan.model import Job
from murvan.units import text


class LayoutSheet(ColumnSheet["lay.Layout"]):
    """Each way a column: its ducts on the house, what they take, and why."""

    title = "Lay the ducts"
    note = "best first: nothing fails, every room its air, then price, heat and room"
    nothing = "No ducts could be laid"

    def name_of(self, x: lay.Layout) -> str:
        return x.name

    def figures(self, x: lay.Layout) -> list[tuple[str, str]]:
        units = self.units
        return [
            ("Static", text("pressure", x.static_pa, units)),
            ("limit", text("pressure", x.limit_pa, units)),
            ("Price", f"{x.price.money:,.0f}"),
            ("Metal", text("area", x.metal_m2, units)),
            ("Flex", text("length", x.flex_m, units)),
            ("Fittings", str(x.fittings)),
            ("Heat lost", text("power", x.heat_w, units)),
            ("Loudest", f"NC {x.loudest_nc:.0f}" if x.loudest_nc is not None else "–"),
            ("Room taken", text("area", x.taken_m2, units) if x.taken_m2 else "none"),
            ("Rooms short", str(len(x.short)) if x.short else "none"),
            ("Not reached", str(len(x.unreached)) if x.unreached else "none"),
            ("In each other", str(x.clashes) if x.clashes else "none"),
            ("Too deep", str(x.tight) if x.tight else "none"),
            ("Fails", str(x.fails) if x.fails else "nothing"),
        ]

    def words(self, p: QPainter, box: QRectF, y: float, x: lay.Layout) -> float:
        return self.lines(p, box, y, x.why)

    def plan(self, p: QPainter, r: QRectF, x: lay.Layout, job: Job) -> float:
        """Every storey small with its ducts, as wide as they are."""
        t, small = self.theme, SmallPlan(job, r)
        for n, s in enumerate(small.storeys):
            p.setPen(QPen(t("outline"), 1))
            p.setBrush(t("paper"))
            for room in job.rooms:
                if room.storey == s.id:
                    p.drawPolygon(small.polygon(n, room.outline_m))
            for run in x.job.design.runs:
                if run.storey != s.id or run.side == "fresh":
                    continue
                wide = (run.diameter_m if run.shape == "round" else run.width_m) or 0.15
                pen = QPen(t(run.side), max(wide * small.scale, 1.6))
                pen.setCapStyle(Qt.PenCapStyle.FlatCap)
                pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
                p.setPen(pen)
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawPolyline(QPolygonF([small.at(n, *q) for q in lay.path_of(x.job, run)]))
            p.setPen(QPen(t("ink"), 1))
            p.setBrush(t("paper"))
            rooms = {room.id for room in job.rooms if room.storey == s.id}
            for face in x.job.design.registers:
                if face.room in rooms:
                    c = small.at(n, *face.position_m)
                    p.drawRect(QRectF(c.x() - 2, c.y() - 2, 4, 4))
            at = small.name_at(n)
            paint.text(p, at.x(), at.y(), s.name, 11, 500, t("ink2"), width=small.each - 6)
        return small.height
