"""Colours, fonts and texts of the printed sheets."""

from __future__ import annotations

from html import escape
from importlib import resources
from io import BytesIO
from math import inf
from typing import Any

from reportlab.lib.colors import Color, HexColor
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Paragraph

INK, INK2, RULE = HexColor("#10181B"), HexColor("#3D4A50"), HexColor("#C5CDCA")
SUPPLY, RETURN, FRESH = HexColor("#0B7A75"), HexColor("#8A3F86"), HexColor("#4B7A12")
STEEL, YELLOW, CHROME, STRIPE = HexColor("#2C3A41"), HexColor("#FFD60A"), HexColor("#E3E8E6"), HexColor("#F3F5F4")
MARKS = {
    "good": HexColor("#167A48"),
    "look": HexColor("#F5A300"),
    "fails": HexColor("#C4202B"),
    "none": HexColor("#98A4A2"),
    "to read": HexColor("#98A4A2"),
}
MARGIN = 40.0
LABEL_ROOM = 150.0


def fonts() -> None:
    """Register the shipped Inter with reportlab, once."""
    if "Inter" in pdfmetrics.getRegisteredFontNames():
        return
    for name, file in (("Inter", "400Regular"), ("Inter-Bold", "700Bold"), ("Inter-Semi", "600SemiBold")):
        pdfmetrics.registerFont(
            TTFont(name, BytesIO(resources.files("murvan.fonts").joinpath(f"Inter_{file}.ttf").read_bytes()))
        )


def width(s: str, size: float, font: str = "Inter") -> float:
    return float(pdfmetrics.stringWidth(s, font, size))


def flowing(s: str, size: float, font: str = "Inter", leading: float = 1.38, **style: Any) -> Paragraph:
    """Plain words that flow into lines; a word longer than a line is broken."""
    look = ParagraphStyle("", fontName=font, fontSize=size, leading=size * leading, splitLongWords=1, **style)
    return Paragraph(escape(s), look)


def wrap(s: str, size: float, room: float, font: str = "Inter") -> list[str]:
    """Lines no wider than `room`."""
    words = flowing(s, size, font)
    words.wrap(room, inf)
    return [" ".join(line) for _, line in words.blPara.lines] or [""]


def fit(c: Canvas, x: float, y: float, s: str, size: float, font: str, room: float, color: Color = INK) -> None:
    """One line, made smaller to fit."""
    while width(s, size, font) > room and size > 5:
        size -= 0.5
    c.setFont(font, size)
    c.setFillColor(color)
    c.drawString(x, y, s)


def paragraph(
    c: Canvas, x: float, y: float, s: str, size: float, room: float, font: str = "Inter", color: Color = INK
) -> float:
    """Wrapped text from baseline y down; returns the next baseline."""
    words = flowing(s, size, font, textColor=color)
    _, high = words.wrap(room, inf)
    words.drawOn(c, x, y + size - high)
    return float(y - high)


def heading(c: Canvas, x: float, y: float, words: str, size: float = 12.5) -> None:
    """A heading at a baseline."""
    c.setFont("Inter-Bold", size)
    c.setFillColor(INK)
    c.drawString(x, y, words)
