"""Text, state marks, keys and bars, drawn the same way everywhere."""

from __future__ import annotations

from functools import lru_cache

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFontMetricsF, QPainter, QPen, QPixmap, QPolygonF, QStaticText, QTransform

from murvan.app.painters import drawing
from murvan.app.theme import Theme, font, icon

LEFT, RIGHT, CENTER = (
    Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
    Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
    Qt.AlignmentFlag.AlignCenter,
)


@lru_cache(maxsize=64)
def _metrics(size: float, weight: int) -> QFontMetricsF:
    return QFontMetricsF(font(size, weight))


@lru_cache(maxsize=8192)
def text_width(text: str, size: float, weight: int = 500) -> float:
    """Width of a text in pixels."""
    return _metrics(size, weight).horizontalAdvance(text)


_known: dict[tuple[str, float, int], QStaticText | None] = {}
MOST_KNOWN = 8192


def _laid_out(text: str, size: float, weight: int) -> QStaticText | None:
    """A text whose glyphs are placed once; None the first time, as most new figures are drawn but once."""
    key = (text, size, weight)
    if key not in _known:
        if len(_known) > MOST_KNOWN:
            _known.clear()
        _known[key] = None
        return None
    laid = _known[key]
    if laid is None:
        laid = _known[key] = _lay_out(text, size, weight)
    return laid


def _lay_out(text: str, size: float, weight: int) -> QStaticText:
    laid = QStaticText(text)
    laid.setTextFormat(Qt.TextFormat.PlainText)
    laid.setPerformanceHint(QStaticText.PerformanceHint.AggressiveCaching)
    laid.prepare(QTransform(), font(size, weight))
    return laid


@lru_cache(maxsize=4096)
def elided(text: str, size: float, weight: int, width: float) -> str:
    """The text cut with an ellipsis to fit; a number at its end stays, since names often differ by nothing else."""
    if text_width(text, size, weight) <= width:
        return text
    name, _, number = text.rpartition(" ")
    left = width - text_width(f" {number}", size, weight)
    if name and number.isdigit() and len(number) < 4 and left > 2.5 * size:
        return f"{elided(name, size, weight, left)} {number}"
    return _metrics(size, weight).elidedText(text, Qt.TextElideMode.ElideRight, max(width, 0))


def wrap(s: str, size: float, width: float, weight: int = 500) -> list[str]:
    """The text in lines no wider than `width`."""
    out: list[str] = []
    line = ""
    for word in s.split():
        trial = f"{line} {word}".strip()
        if line and text_width(trial, size, weight) > width:
            out.append(line)
            line = word
        else:
            line = trial
    return [*out, line] if line else out


def text(
    p: QPainter,
    x: float,
    baseline: float,
    s: str,
    size: float,
    weight: int,
    color: QColor,
    align: str = "l",
    width: float | None = None,
) -> float:
    """Draw at a baseline; `align` l, r or c about x; cut to `width`. Returns the drawn width."""
    if width is not None:
        s = elided(s, size, weight, width)
    w = text_width(s, size, weight)
    left = x - (w if align == "r" else w / 2 if align == "c" else 0)
    p.setFont(font(size, weight))
    p.setPen(color)
    laid = _laid_out(s, size, weight)
    if laid is None:
        p.drawText(QPointF(left, baseline), s)
    else:
        p.drawStaticText(QPointF(left, baseline - _metrics(size, weight).ascent()), laid)
    return w


def value_unit(
    p: QPainter,
    x: float,
    baseline: float,
    value: str,
    unit: str,
    size: float,
    weight: int,
    color: QColor,
    unit_color: QColor,
    align: str = "l",
    unit_size: float | None = None,
) -> float:
    """A figure with its unit smaller and lighter behind it. Returns the whole width."""
    us = unit_size or max(11.0, size * 0.76)
    gap = 4.0 if unit else 0.0
    wv, wu = text_width(value, size, weight), text_width(unit, us, 500) if unit else 0.0
    left = x - (wv + gap + wu) if align == "r" else x - (wv + gap + wu) / 2 if align == "c" else x
    text(p, left, baseline, value, size, weight, color)
    if unit:
        text(p, left + wv + gap, baseline, unit, us, 500, unit_color)
    return wv + gap + wu


def mark(p: QPainter, kind: str, cx: float, cy: float, t: Theme, r: float = 7.0) -> None:
    """State mark: none ring, half, good, look, fails, stale."""
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    if kind == "none":
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(t("ink3"), 1.6))
        p.drawEllipse(QPointF(cx, cy), r - 1.2, r - 1.2)
    elif kind == "half":
        p.setPen(QPen(t("ink"), 1.6))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(QPointF(cx, cy), r - 0.9, r - 0.9)
        p.setBrush(t("ink"))
        p.drawPie(QRectF(cx - r + 1, cy - r + 1, 2 * r - 2, 2 * r - 2), 90 * 16, 180 * 16)
    elif kind == "good":
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t("good"))
        p.drawEllipse(QPointF(cx, cy), r, r)
        p.setPen(QPen(t("on_ink"), 1.8, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
        p.drawPolyline(
            QPolygonF(
                [
                    QPointF(cx - r * 0.45, cy + r * 0.02),
                    QPointF(cx - r * 0.1, cy + r * 0.4),
                    QPointF(cx + r * 0.48, cy - r * 0.36),
                ]
            )
        )
    elif kind == "look":
        p.setPen(QPen(t("ink") if not t.dark else t("look"), 1))
        p.setBrush(t("look"))
        p.drawPolygon(
            QPolygonF(
                [QPointF(cx, cy - r), QPointF(cx + r * 1.08, cy + r * 0.86), QPointF(cx - r * 1.08, cy + r * 0.86)]
            )
        )
        p.setPen(QPen(QColor("#10181B"), 1.8, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        p.drawLine(QPointF(cx, cy - r * 0.38), QPointF(cx, cy + r * 0.16))
        p.drawPoint(QPointF(cx, cy + r * 0.55))
    elif kind == "fails":
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t("fails"))
        p.drawRect(QRectF(cx - r * 0.9, cy - r * 0.9, r * 1.8, r * 1.8))
        p.setPen(QPen(t("on_ink"), 1.9, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        s = r * 0.42
        p.drawLine(QPointF(cx - s, cy - s), QPointF(cx + s, cy + s))
        p.drawLine(QPointF(cx - s, cy + s), QPointF(cx + s, cy - s))
    elif kind == "stale":
        p.setPen(QPen(t("stale"), 1.8))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolygon(QPolygonF([QPointF(cx, cy - r), QPointF(cx + r, cy), QPointF(cx, cy + r), QPointF(cx - r, cy)]))
        p.drawLine(QPointF(cx - r * 0.3, cy), QPointF(cx + r * 0.35, cy))
    p.restore()


def numbered(p: QPainter, at: QPointF, number: int, t: Theme, r: float = 8.5) -> None:
    """A number in a full circle."""
    p.setPen(QPen(t("paper"), 1.5))
    p.setBrush(t("ink"))
    p.drawEllipse(at, r, r)
    text(p, at.x(), at.y() + 4.2, str(number), 11.5, 700, t("paper"), "c")


def key_cap(p: QPainter, x: float, y: float, label: str, t: Theme, align: str = "l", h: float = 16.0) -> float:
    """A key in a small box with its top left at (x, y). Returns its width."""
    w = max(h, text_width(label, 11, 600) + 10)
    left = x - w if align == "r" else x
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setPen(QPen(t("outline"), 1))
    p.setBrush(t("paper"))
    p.drawRoundedRect(QRectF(left + 0.5, y + 0.5, w - 1, h - 1), 3, 3)
    p.restore()
    text(p, left + w / 2, y + h / 2 + 4, label, 11, 600, t("ink2"), "c")
    return w


def hatch(p: QPainter, rect: QRectF, color: QColor, gap: int = 5, width: float = 1.2) -> None:
    """Slanting lines clipped to a rectangle."""
    p.save()
    p.setBrushOrigin(rect.bottomLeft())
    p.fillRect(rect, QBrush(_slants(color.rgba(), gap, width, device_ratio(p))))
    p.restore()


@lru_cache(maxsize=64)
def _slants(rgba: int, gap: int, width: float, ratio: float) -> QPixmap:
    """One tile of slanting lines."""
    tile = QPixmap(round(gap * ratio), round(gap * ratio))
    tile.setDevicePixelRatio(ratio)
    tile.fill(Qt.GlobalColor.transparent)
    with drawing(tile) as q:
        q.setRenderHint(QPainter.RenderHint.Antialiasing)
        q.setPen(QPen(QColor.fromRgba(rgba), width))
        for x in (-gap, 0, gap):
            q.drawLine(QPointF(x, gap), QPointF(x + gap, 0))
    return tile


def bar(
    p: QPainter,
    rect: QRectF,
    fraction: float,
    color: QColor,
    t: Theme,
    tick: float | None = None,
    band: tuple[float, float] | None = None,
) -> None:
    """A filled bar on its track, with an optional limit post and band, all as fractions of the width."""
    p.fillRect(rect, t("track"))
    if band:
        p.fillRect(
            QRectF(
                rect.left() + rect.width() * band[0], rect.top(), rect.width() * (band[1] - band[0]), rect.height()
            ),
            t("band"),
        )
    w = rect.width() * min(max(fraction, 0.0), 1.0)
    p.fillRect(QRectF(rect.left(), rect.top(), w, rect.height()), color)
    if tick is not None:
        x = rect.left() + rect.width() * min(max(tick, 0.0), 1.0)
        p.fillRect(QRectF(x - 1, rect.top() - 3, 2, rect.height() + 6), t("ink"))


def draw_icon(p: QPainter, name: str, x: float, y: float, size: int, color: QColor) -> None:
    """An icon with its top left at (x, y)."""
    p.drawPixmap(QPointF(x, y), icon(name, size, color.name(), device_ratio(p)))


def device_ratio(p: QPainter) -> float:
    """Device pixels in one of the painter's."""
    device = p.device()
    return device.devicePixelRatioF() if device is not None else 1.0


def rounded(
    p: QPainter, rect: QRectF, fill: QColor | None, edge: QColor | None, radius: float = 4.0, width: float = 1.0
) -> None:
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setPen(QPen(edge, width) if edge is not None else Qt.PenStyle.NoPen)
    p.setBrush(QBrush(fill) if fill is not None else Qt.BrushStyle.NoBrush)
    half = width / 2
    p.drawRoundedRect(rect.adjusted(half, half, -half, -half), radius, radius)
    p.restore()
