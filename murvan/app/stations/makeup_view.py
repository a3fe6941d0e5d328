"""An assembly drawn in section."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from murvan.app import paint
from murvan.app.paint import wrap
from murvan.app.stations.base import View
from murvan.design.house import assembly_films
from murvan.model import Construction

LOOKS = {
    "siding": "#8FA3AB",
    "wood": "#C9A15E",
    "batt": "#F0D778",
    "gypsum": "#DDE1DF",
    "gap": "#FFFFFF",
    "concrete": "#A8AEB0",
    "foam": "#F2C6C0",
    "blown": "#F3E3A6",
    "masonry": "#B5694C",
}


def draw_layers(p: QPainter, r: QRectF, view: View, c: Construction, chosen: int | None = None) -> None:
    """The assembly in section, widths by thickness; the chosen layer stands on a yellow bar."""
    t = view.theme
    thick = [max(x.thickness_m, 0.008) ** 0.62 for x in c.layers]
    left, width = r.left() + 34, r.width() - 68
    x = left
    for n, (layer, w) in enumerate(zip(c.layers, thick, strict=True)):
        box = QRectF(x, r.top(), width * w / sum(thick), 46)
        p.setPen(QPen(t("ink"), 1.3))
        p.setBrush(QColor(LOOKS[layer.look]))
        p.drawRect(box)
        if layer.look in ("batt", "blown"):
            p.setPen(QPen(QColor("#B08E2A"), 1.2))
            k = box.left() + 10
            while k < box.right() - 6:
                p.drawLine(int(k), int(box.top() + 4), int(k + 5), int(box.bottom() - 4))
                k += 14
        if layer.framing_r_m2k_w is not None and box.width() > 34:
            stud = QRectF(box.center().x() - 13, box.top(), 26, 46)
            p.setPen(QPen(t("ink"), 1.1))
            p.setBrush(QColor("#A8743A"))
            p.drawRect(stud)
            p.drawLine(stud.topLeft(), stud.bottomRight())
            p.drawLine(stud.topRight(), stud.bottomLeft())
        if n == chosen:
            p.fillRect(QRectF(box.left(), box.bottom() + 2, box.width(), 4), t("select"))
            p.setPen(QPen(t("ink"), 2.2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(box)
        label = view.num("r_value", layer.resistance_m2k_w, 1 if len(c.layers) > 5 else None)
        paint.text(p, box.center().x(), r.top() + 62, label, 12, 600, t("ink"), "c")
        x += box.width()
    inside = assembly_films(c)
    for x_, align, word, value in ((r.left(), "l", "out", inside[0]), (r.right(), "r", "in", inside[1])):
        paint.text(p, x_, r.top() + 16, word, 12, 500, t("ink2"), align)
        paint.text(p, x_, r.top() + 32, view.num("r_value", value), 12, 600, t("ink"), align)
    for k, line in enumerate(wrap(", ".join(x.name for x in c.layers), 12, r.width())[:2]):
        paint.text(p, r.left(), r.top() + 80 + 15 * k, line, 12, 500, t("ink2"), width=r.width())
    p.setBrush(Qt.BrushStyle.NoBrush)
