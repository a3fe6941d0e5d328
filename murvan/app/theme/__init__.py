"""Colours, fonts and icons; named roles only. Fonts and icons ship with their licences."""

from __future__ import annotations

from functools import lru_cache
from importlib import resources

from PyQt6.QtCore import QByteArray, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette, QPixmap
from PyQt6.QtSvg import QSvgRenderer

from murvan.app.painters import drawing

ROLES: dict[str, tuple[str, str]] = {
    "paper": ("#FFFFFF", "#0D1417"),
    "panel": ("#F3F5F4", "#151E22"),
    "chrome": ("#E3E8E6", "#1D282D"),
    "rule": ("#C5CDCA", "#33424A"),
    "outline": ("#98A4A2", "#5A6B73"),
    "ink": ("#10181B", "#F4F7F5"),
    "ink2": ("#3D4A50", "#C3CED2"),
    "ink3": ("#5F6C72", "#93A2A9"),
    "steel": ("#2C3A41", "#A9B8BB"),
    "plenum": ("#2C3A41", "#2C3A41"),
    "wall": ("#10181B", "#F4F7F5"),
    "inner": ("#66747A", "#7F9098"),
    "garage": ("#A47643", "#A47643"),
    "select": ("#FFD60A", "#FFD60A"),
    "on_select": ("#10181B", "#10181B"),
    "select_soft": ("#FFF3B0", "#2B2A12"),
    "cooling": ("#1565A8", "#5DB4F5"),
    "heating": ("#C8401A", "#FF8E66"),
    "sun": ("#E08600", "#FFB020"),
    "supply": ("#0B7A75", "#3CC9BD"),
    "return": ("#8A3F86", "#D58BD0"),
    "fresh": ("#4B7A12", "#9CCB5A"),
    "good": ("#167A48", "#3FC583"),
    "look": ("#F5A300", "#FFB020"),
    "fails": ("#C4202B", "#FF6B70"),
    "stale": ("#6941C6", "#B59BFF"),
    "stripe": ("#F7F9F8", "#121B1F"),
    "track": ("#E8ECEA", "#223037"),
    "band": ("#D5E8C8", "#24412F"),
    "on_ink": ("#FFFFFF", "#0D1417"),
    "load0": ("#EEF3F7", "#162026"),
    "load1": ("#CFE1F0", "#1B3446"),
    "load2": ("#9CC6E4", "#20506F"),
    "load3": ("#5FA3D3", "#2B77A8"),
    "load4": ("#1F6FB2", "#5DB4F5"),
    "heat0": ("#FBF1EC", "#211815"),
    "heat1": ("#F6D9CB", "#44251B"),
    "heat2": ("#EFB196", "#6E3620"),
    "heat3": ("#DF7B52", "#A8502B"),
    "heat4": ("#C8401A", "#FF8E66"),
    "fails_soft": ("#FBE3E3", "#3A1C20"),
    "look_soft": ("#FDF0D4", "#3A2E14"),
    "good_soft": ("#E2F1E8", "#15301F"),
    "glass": ("#2F7FBF", "#2F7FBF"),
    "supply_soft": ("#BFE2DE", "#12403D"),
    "return_soft": ("#EBD3EA", "#42263F"),
}


class Theme:
    """The colours of one theme by role."""

    def __init__(self, dark: bool) -> None:
        self.dark = dark
        self._colors = {name: QColor(pair[1 if dark else 0]) for name, pair in ROLES.items()}

    def __call__(self, role: str) -> QColor:
        """A role's colour. Raises KeyError for an unknown role."""
        return self._colors[role]

    def name(self, role: str) -> str:
        return self._colors[role].name()

    def on(self, fill: QColor) -> QColor:
        """Black or white text, whichever reads better on `fill`."""
        return QColor(_readable_on(fill.rgb()))

    def palette(self) -> QPalette:
        p = QPalette()
        for role, name in (
            (QPalette.ColorRole.Window, "panel"),
            (QPalette.ColorRole.Base, "paper"),
            (QPalette.ColorRole.Text, "ink"),
            (QPalette.ColorRole.WindowText, "ink"),
            (QPalette.ColorRole.Button, "paper"),
            (QPalette.ColorRole.ButtonText, "ink"),
            (QPalette.ColorRole.Highlight, "select"),
            (QPalette.ColorRole.HighlightedText, "on_select"),
            (QPalette.ColorRole.ToolTipBase, "paper"),
            (QPalette.ColorRole.ToolTipText, "ink"),
            (QPalette.ColorRole.PlaceholderText, "ink3"),
            (QPalette.ColorRole.AlternateBase, "stripe"),
        ):
            p.setColor(role, self(name))
        return p

    def style_sheet(self, glove: bool = False) -> str:
        c = self.name
        height = 40 if glove else 30
        arrow = str(
            resources.files("murvan.app.theme").joinpath("icons", f"chevron-down{'-dark' if self.dark else ''}.svg")
        ).replace("\\", "/")
        return f"""
* {{ font-family: Inter; font-size: 13px; color: {c("ink")}; }}
QMainWindow, QDialog {{ background: {c("panel")}; }}
QLineEdit, QComboBox, QTextEdit {{ background: {c("paper")}; border: 1px solid {c("outline")}; border-radius: 4px;
  padding: 0 8px; min-height: {height - 2}px; font-weight: 600; selection-background-color: {c("select")}; selection-color: {c("on_select")}; }}
QLineEdit:focus, QComboBox:focus {{ border: 2px solid {c("ink")}; padding: 0 7px; min-height: {height - 4}px; }}
QLineEdit[bad="true"] {{ border: 2px solid {c("fails")}; }}
QLineEdit:read-only {{ background: {c("panel")}; color: {c("ink3")}; }}
QComboBox {{ padding-right: 2px; }} QComboBox::drop-down {{ border: 0; width: 20px; }}
QComboBox::down-arrow {{ image: url({arrow}); width: 14px; height: 14px; }}
QComboBox QAbstractItemView, QMenu {{ background: {c("paper")}; border: 1px solid {c("outline")}; selection-background-color: {c("select")};
  selection-color: {c("on_select")}; outline: 0; }}
QMenu::item {{ padding: 6px 26px 6px 14px; }} QMenu::item:selected {{ background: {c("select")}; color: {c("on_select")}; }}
QMenu::separator {{ height: 1px; background: {c("rule")}; margin: 4px 8px; }} QMenu::item:disabled {{ color: {c("ink3")}; }}
QPushButton {{ background: {c("paper")}; border: 1px solid {c("ink")}; border-radius: 5px; padding: 0 12px; min-height: {height + 2}px; font-weight: 600; text-align: left; }}
QPushButton[main="true"] {{ background: {c("ink")}; color: {c("on_ink")}; }}
QPushButton:focus {{ border: 2px solid {c("outline")}; }} QPushButton:disabled {{ color: {c("ink3")}; border-color: {c("rule")}; }}
QTableWidget {{ background: {c("paper")}; alternate-background-color: {c("stripe")}; gridline-color: {c("rule")}; border: 1px solid {c("outline")};
  selection-background-color: {c("select")}; selection-color: {c("on_select")}; }}
QTableWidget QLineEdit {{ border: 2px solid {c("ink")}; border-radius: 0; min-height: 0; padding: 0 3px; }}
QHeaderView {{ background: {c("panel")}; }} QHeaderView::section {{ background: {c("panel")}; color: {c("ink2")}; border: 0; border-bottom: 1px solid {c("outline")}; padding: 3px 4px; font-size: 12px; }}
QTableCornerButton::section {{ background: {c("panel")}; border: 0; }}
QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }} QScrollBar::handle:vertical {{ background: {c("outline")}; border-radius: 4px; min-height: 24px; margin: 1px 2px; }}
QScrollBar:horizontal {{ height: 0; }} QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }} QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QToolTip {{ background: {c("ink")}; color: {c("on_ink")}; border: 0; padding: 4px 6px; }}
"""


@lru_cache(maxsize=256)
def _readable_on(rgb: int) -> str:
    fill, black, white = QColor(rgb), "#10181B", "#FFFFFF"
    return black if contrast(QColor(black), fill) >= contrast(QColor(white), fill) else white


def contrast(a: QColor, b: QColor) -> float:
    """Contrast ratio of two colours (WCAG 2)."""

    def luminance(c: QColor) -> float:
        def part(v: float) -> float:
            return v / 12.92 if v <= 0.03928 else ((v + 0.055) / 1.055) ** 2.4

        return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF())

    la, lb = luminance(a), luminance(b)
    return (max(la, lb) + 0.05) / (min(la, lb) + 0.05)


LIGHT, DARK = Theme(False), Theme(True)


def load_fonts() -> None:
    """Register the shipped Inter."""
    for name in ("400Regular", "500Medium", "600SemiBold", "700Bold"):
        data = resources.files("murvan.fonts").joinpath(f"Inter_{name}.ttf").read_bytes()
        QFontDatabase.addApplicationFontFromData(QByteArray(data))


@lru_cache(maxsize=256)
def font(size: float, weight: int = 500) -> QFont:
    """Inter in pixels with tabular numerals."""
    f = QFont("Inter")
    f.setPixelSize(max(1, round(size)))
    f.setWeight(QFont.Weight(weight))
    f.setFeature(QFont.Tag("tnum"), 1)
    f.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    return f


@lru_cache(maxsize=1024)
def icon(name: str, size: int, color: str, ratio: float = 1.0) -> QPixmap:
    """A shipped icon drawn in a colour; an unknown name gives an empty picture."""
    side = round(size * ratio)
    out = QPixmap(side, side)
    out.fill(Qt.GlobalColor.transparent)
    file = resources.files("murvan.app.theme").joinpath("icons", f"{name}.svg")
    if file.is_file():
        svg = file.read_text("utf-8")
        if name != "murvan":
            svg = svg.replace("#10181B", color)
        with drawing(out, False) as painter:
            QSvgRenderer(QByteArray(svg.encode())).render(painter, QRectF(0, 0, side, side))
    out.setDevicePixelRatio(ratio)
    return out
