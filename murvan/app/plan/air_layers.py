"""Air as it moves: runs of the storey as thin lines, with chevrons that grow with the air in them; still ones grey."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPen

from murvan.app.plan.duct_layers import chevron, run_path, run_points
from murvan.app.plan.sheet import Sheet
from murvan.model.design import DuctRun

STILL = 0.05
"""Share of its usual air below which a run stands still."""
APART_PX, LEAST_PX, MOST_PX = 30.0, 2.5, 7.5


def moving(flows: Mapping[str, float], usual: Mapping[str, float]) -> Callable[[QPainter, Sheet], None]:
    """An overlay of the runs with their air.

    Args:
        flows: By run, m3/s.
        usual: The same as usual; the size of a chevron is by the share of it.
    """

    def paint(p: QPainter, v: Sheet) -> None:
        for run in v.runs():
            if run.id in flows and run.side != "fresh":
                _run(p, v, run, flows[run.id] / max(usual.get(run.id, 0.0), 1e-6))

    def _run(p: QPainter, v: Sheet, run: DuctRun, share: float) -> None:
        still = share < STILL
        colour = v.theme("outline" if still else "supply" if run.side == "supply" else "return")
        path = run_path(run_points(v, run), 8.0)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(colour, 1.2 if still else 2.2, Qt.PenStyle.DotLine if still else Qt.PenStyle.SolidLine))
        p.drawPath(path)
        if still or path.length() < APART_PX / 2:
            return
        size = min(LEAST_PX + 3.0 * share, MOST_PX)
        n = max(int(path.length() / APART_PX), 1)
        p.setPen(QPen(colour, 2.0))
        for k in range(n):
            chevron(p, path, (k + 0.5) / n, size, run.side == "return")

    return paint


def shut_doors(openings: frozenset[str]) -> Callable[[QPainter, Sheet], None]:
    """An overlay with a bar across every door that is tried shut."""

    def paint(p: QPainter, v: Sheet) -> None:
        p.setPen(QPen(v.theme("fails"), 5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        for o in v.openings():
            if o.id in openings:
                a, b = list(v.ends(o)[:2])
                p.drawLine(a, b)

    return paint
