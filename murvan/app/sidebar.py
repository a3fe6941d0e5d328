"""The left edge: the tool column, and the rail with storeys, lens, legend, north and scale."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from murvan.app import paint
from murvan.app.commands import HELP
from murvan.app.guard import painting
from murvan.app.plan.lens import Legend, Lens
from murvan.app.repaint import Shown, repaint
from murvan.app.stations.base import Tool
from murvan.app.theme import LIGHT, Theme
from murvan.units import FOOT

TOOLS_WIDTH, RAIL_WIDTH = 56, 137
LIST_HEAD = 34.0
"""What the heading of a list takes."""


class ToolColumn(QWidget):
    """Buttons with an icon and a letter."""

    picked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedWidth(TOOLS_WIDTH)
        self.setAccessibleName("Tools")
        self.theme: Theme = LIGHT
        self.tools: tuple[Tool, ...] = ()
        self.active = "select"
        self.glove = False
        self._shown: Shown | None = None
        self.setMouseTracking(True)

    def set_glove(self, on: bool) -> None:
        """Larger buttons."""
        self.glove = on
        self.setFixedWidth(TOOLS_WIDTH + (8 if on else 0))

    def refresh(self) -> None:
        """Paint again if anything shown has changed."""
        tools = tuple((x.key, x.icon, x.letter) for x in self.tools)
        now = Shown((self.theme, self.glove, self.active, tools))
        self._shown = repaint(self, self._shown, now)

    def button_rect(self, index: int) -> QRectF:
        n = len(self.tools)
        wide = 52.0 if self.glove else 44.0
        most = 60.0 if self.glove else 52.0 if n <= 9 else 48.0
        step = min(most, max((self.height() - 14) / max(n, 1), 20.0))
        return QRectF(6, 10 + index * step, wide, min(most - 6.0, step - 3))

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        t = self.theme
        p.fillRect(self.rect(), t("chrome"))
        p.setPen(QPen(t("rule"), 1))
        p.drawLine(self.width() - 1, 0, self.width() - 1, self.height())
        for k, tool in enumerate(self.tools):
            r = self.button_rect(k)
            on = tool.key == self.active
            if on:
                paint.rounded(p, r, t("select"), t("ink"), 6, 1.6)
            color = t("on_select") if on else t("ink")
            if r.height() < 40:  # many tools: the letter stands beside the icon
                paint.draw_icon(p, tool.icon, r.left() + 4, r.center().y() - 10, 20, color)
                right = r.right() - 5
                paint.text(p, right, r.center().y() + 4, tool.letter, 11.5, 600, color if on else t("ink2"), "r")
                continue
            paint.draw_icon(p, tool.icon, r.center().x() - 10, r.top() + 5, 20, color)
            paint.text(p, r.center().x(), r.bottom() - 5, tool.letter, 11.5, 600, color if on else t("ink2"), "c")

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        for k, tool in enumerate(self.tools):
            if self.button_rect(k).contains(e.position()):
                self.picked.emit(tool.key)

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        if e is not None:
            k = next((k for k in range(len(self.tools)) if self.button_rect(k).contains(e.position())), None)
            self.setToolTip(tool_tip(self.tools[k]) if k is not None else "")


def tool_tip(tool: Tool) -> str:
    """Name and key, and a line of help."""
    more = HELP.get(tool.key, "")
    return f"<b>{tool.name}</b>" + (f"<br>{more}" if more else "")


SCALE_LEFT, SCALE_PX = 58.0, 71.0
"""Where the scale bar begins, and how long it is at most."""


def scale_bar(px_per_m: float, si: bool) -> tuple[float, tuple[str, str, str]]:
    """Half the length of the longest round scale bar that goes into the rail, in metres, and its three labels."""
    inch, unit = FOOT / 12, "m" if si else "ft"
    rounds = [(n * (1.0 if si else FOOT), f"{n:g}", f"{2 * n:g} {unit}") for n in (50, 25, 20, 10, 5, 2, 1)]
    rounds += (
        [(n, f"{n:g}", f"{2 * n:g} m") for n in (0.5, 0.25, 0.1, 0.05, 0.02)]
        if si
        else [(n * inch, f"{n}", f"{2 * n} in") for n in (6, 3, 2, 1)]
    )
    half, middle, end = next((x for x in rounds if 2 * x[0] * px_per_m <= SCALE_PX), rounds[-1])
    return half, ("0", middle, end)


class Rail(QWidget):
    """Storeys stacked as they stand, the lens, its legend, north and scale."""

    storey_picked = pyqtSignal(str)
    lens_picked = pyqtSignal(int)
    unit_picked = pyqtSignal(str)
    design_picked = pyqtSignal(str)
    """'' for the list of designs."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedWidth(RAIL_WIDTH)
        self.setAccessibleName("Rail")
        self.theme: Theme = LIGHT
        self.storeys: list[tuple[str, str, str]] = []
        self.storey = ""
        self.lenses: tuple[str, ...] = ()
        self.lens_index = 0
        self.lens: Lens | None = None
        self.units: tuple[tuple[str, str], ...] = ()
        """Indoor units by id and tag, where there are several to pick from."""
        self.unit = ""
        self.designs: tuple[tuple[str, str], ...] = ()
        """The design worked on and those set aside, by id and name; none: not shown."""
        self.north_deg = 0.0
        self.px_per_m = 46.0
        self.si = False
        self.bare = False
        """Beside a page: storeys and lenses, no legend and no scale."""
        self._hits: list[tuple[QRectF, str, str]] = []
        self._shown: Shown | None = None
        self._storeys_end = 0.0
        """How far down the storeys reach, as they were painted."""

    def refresh(self) -> None:
        """Paint again if anything shown has changed."""
        lens = self.lens
        legend = (lens.storey_unit, lens.legend_title, lens.legend) if lens is not None else ()
        place = (self.north_deg, self.px_per_m, self.si, self.bare, self.storey, self.lens_index)
        lists = (self.units, self.unit, self.designs)
        frame = (self.theme, self.size(), len(self.storeys), self.lenses, legend, place, lists)
        now = Shown(frame, [(QRectF(0, 0, RAIL_WIDTH, self._storeys_end), tuple(self.storeys))])
        self._shown = repaint(self, self._shown, now)

    def target(self, kind: str, item: str) -> QRectF:
        """Where a storey ('storey', id) or a lens ('lens', index) is drawn."""
        return next((r for r, k, i in self._hits if (k, i) == (kind, item)), QRectF())

    def paintEvent(self, e: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p, e.rect() if e is not None else self.rect())

    def _paint_all(self, p: QPainter, part: QRect) -> None:
        t = self.theme
        p.fillRect(self.rect(), t("panel"))
        self._hits = [x for x in self._hits if x[1] != "storey"]
        self._storeys_end = self._storeys(p, t)
        if part.bottom() < self._storeys_end:
            return
        self._hits = [x for x in self._hits if x[1] == "storey"]
        y = self._storeys_end + 8
        y = self._lens(p, t, y)
        if self.units:
            y = self._list(p, t, y, "Unit", ",", "unit", self._few_units(y), self.unit)
        if self.designs and y + LIST_HEAD + 22 * (len(self.designs) > 1) < self.height() - 46:
            y = self._list(p, t, y, "Design", "^D", "design", self._designs(y), self.designs[0][0])
        if self.bare:
            return
        if self.lens is not None:
            self._legend(p, t, y)
        if y < self.height() - 44:  # a short window has no room for both
            self._north_and_scale(p, t)

    def _storeys(self, p: QPainter, t: Theme) -> float:
        paint.text(p, 9, 20, "Storey", 12, 500, t("ink2"))
        paint.key_cap(p, 66, 8, "PgUp", t)
        y, w = 38.0, RAIL_WIDTH - 19.0
        height = 33.0 if len(self.storeys) <= 2 else 22.0
        p.setPen(QPen(t("outline"), 1.2))
        p.drawPolyline(QPolygonF([QPointF(9, y), QPointF(9 + w / 2, y - 10), QPointF(9 + w, y)]))
        for sid, name, figure in self.storeys:
            r = QRectF(9, y, w, height)
            on = sid == self.storey
            p.setPen(QPen(t("ink"), 1.8) if on else QPen(t("outline"), 1))
            p.setBrush(t("select") if on else t("paper"))
            p.drawRect(r)
            color = t("on_select") if on else t("ink")
            wf = paint.text_width(figure, 13, 700)
            paint.text(p, r.left() + 8, r.center().y() + 4.5, name, 13, 700 if on else 500, color, width=w - wf - 20)
            paint.text(p, r.right() - 8, r.center().y() + 4.5, figure, 13, 700, color, "r")
            self._hits.append((r, "storey", sid))
            y += height
        if self.lens and self.lens.storey_unit:
            paint.text(p, RAIL_WIDTH - 10, y + 14, self.lens.storey_unit, 11.5, 500, t("ink2"), "r", RAIL_WIDTH - 18)
        return y + 14

    def _lens(self, p: QPainter, t: Theme, y: float) -> float:
        if not self.lenses:
            return y
        paint.text(p, 9, y + 10, "Lens", 12, 500, t("ink2"))
        paint.key_cap(p, RAIL_WIDTH - 10, y - 2, ".", t, "r")
        y += 18
        w = RAIL_WIDTH - 19.0
        for k, name in enumerate(self.lenses):
            r = QRectF(9, y, w, 24)
            on = k == self.lens_index
            p.setPen(QPen(t("ink") if on else t("outline"), 1))
            p.setBrush(t("ink") if on else t("paper"))
            p.drawRect(r)
            if on:
                p.setPen(Qt.PenStyle.NoPen)
                p.setBrush(t("select") if not t.dark else t("on_ink"))
                p.drawPolygon(QPolygonF([QPointF(18, y + 7.5), QPointF(25, y + 12), QPointF(18, y + 16.5)]))
            paint.text(p, 30, y + 16.5, name, 13, 600 if on else 500, t("on_ink") if on else t("ink"), width=w - 26)
            self._hits.append((r, "lens", str(k)))
            y += 24
        return y + 8

    def _few_units(self, y: float) -> tuple[tuple[str, str], ...]:
        """The units that the rail has room for, about the one in hand; the last row leads on to the next ones."""
        below = LIST_HEAD + 22 if len(self.designs) > 1 else 0
        n, room = len(self.units), max(int((self.height() - 52 - below - y - 28) // 22), 2)
        if n <= room:
            return self.units
        at = next((k for k, (i, _) in enumerate(self.units) if i == self.unit), 0)
        first = min(max(at - (room - 1) // 2, 0), n - (room - 1))
        few = self.units[first : first + room - 1]
        return (*few, (self.units[(first + room - 1) % n][0], f"{n - len(few)} more"))

    def _designs(self, y: float) -> tuple[tuple[str, str], ...]:
        """What the rail has room for above its legend; the rest is in the list. One alone needs no naming."""
        if len(self.designs) == 1:
            return ()
        legend = 18 + 18 * len(self.lens.legend) if self.lens is not None and not self.bare else 0
        room = max(int((self.height() - 52 - legend - y - 28) // 22), 1)
        few = self.designs[: room if room >= len(self.designs) else max(room - 1, 1)]
        left = len(self.designs) - len(few)
        if not left:
            return few
        if room == 1:
            return ((few[0][0], f"{few[0][1]}  +{left}"),)
        return (*few, ("", f"{left} more"))

    def _list(
        self,
        p: QPainter,
        t: Theme,
        y: float,
        title: str,
        key: str,
        kind: str,
        rows: tuple[tuple[str, str], ...],
        on: str,
    ) -> float:
        """A few things to pick from, the one in hand marked."""
        paint.text(p, 9, y + 10, title, 12, 500, t("ink2"))
        paint.key_cap(p, RAIL_WIDTH - 10, y - 2, key, t, "r")
        if kind == "design":
            self._hits.append((QRectF(0, y - 3, RAIL_WIDTH, 19), kind, ""))
        y += 18
        w = RAIL_WIDTH - 19.0
        for item, name in rows:
            r = QRectF(9, y, w, 22)
            picked = item == on
            p.setPen(QPen(t("ink") if picked else t("outline"), 1))
            p.setBrush(t("select_soft") if picked else t("paper"))
            p.drawRect(r)
            paint.text(p, 17, y + 15.5, name, 13, 600 if picked else 500, t("ink"), width=w - 16)
            self._hits.append((r, kind, item))
            y += 22
        return y + (10 if rows else 2)

    def _legend(self, p: QPainter, t: Theme, y: float) -> None:
        lens = self.lens
        assert lens is not None
        floor = self.height() - 52
        first = 34.0 if lens.legend and lens.legend[0].kind == "ramp" else 17.0
        if lens.legend_title and y + 18 + first <= floor:
            paint.text(p, 9, y + 11, lens.legend_title, 12, 500, t("ink2"), width=RAIL_WIDTH - 14)
            y += 18
        for item in lens.legend:
            if y + (34 if item.kind == "ramp" else 17) > floor:
                break
            if item.kind == "ramp":
                y = self._ramp(p, t, y, item)
                continue
            color = t("ink3" if item.color == "none" else item.color)
            if item.kind == "fill":
                p.setPen(QPen(t("outline"), 1))
                p.setBrush(color)
                p.drawRect(QRectF(9, y, 32, 17))
            elif item.kind == "mark":
                paint.mark(p, item.color if item.color in ("good", "look", "fails") else "none", 25, y + 8.5, t, 6)
            elif item.kind == "hatch":
                p.setPen(QPen(color, 1.2, Qt.PenStyle.DashLine))
                p.setBrush(QBrush(color, Qt.BrushStyle.BDiagPattern))
                p.drawRect(QRectF(9, y + 2, 32, 12))
            elif item.kind == "duct":
                p.setPen(QPen(t("ink"), 1))
                p.setBrush(color)
                p.drawRect(QRectF(9, y + 3, 32, 10))
            elif item.kind == "wall":
                p.fillRect(QRectF(9, y + 5.5, 32, 6), color)
            else:
                p.setPen(QPen(color, 3))
                p.drawLine(QPointF(9, y + 8.5), QPointF(41, y + 8.5))
            paint.text(p, 48, y + 12.5, item.label, 12, 500, t("ink"), width=RAIL_WIDTH - 50)
            y += 17.5

    def _ramp(self, p: QPainter, t: Theme, y: float, item: Legend) -> float:
        """Five shades side by side, with the values between them."""
        w = (RAIL_WIDTH - 19.0) / 5
        for k in range(5):
            p.setPen(QPen(t("outline"), 1))
            p.setBrush(t(f"{item.color}{k}"))
            p.drawRect(QRectF(9 + k * w, y, w, 16))
        for k, value in enumerate(item.label.split("|")):
            paint.text(p, 9 + (k + 1) * w, y + 29, value, 11.5, 600, t("ink"), "c")
        return y + 36

    def _north_and_scale(self, p: QPainter, t: Theme) -> None:
        cx, cy = 31.0, self.height() - 26.0
        p.setPen(QPen(t("outline"), 1.2))
        p.setBrush(t("paper"))
        p.drawEllipse(QPointF(cx, cy), 18, 18)
        p.save()
        p.translate(cx, cy)
        p.rotate(self.north_deg)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t("ink"))
        p.drawPolygon(QPolygonF([QPointF(0, -14), QPointF(5, 1), QPointF(0, -2), QPointF(-5, 1)]))
        paint.text(p, 0, 13, "N", 11, 700, t("ink"), "c")
        p.restore()
        x, y = SCALE_LEFT, cy - 2
        half_m, labels = scale_bar(self.px_per_m, self.si)
        w = half_m * self.px_per_m
        p.fillRect(QRectF(x, y - 5, w, 6), t("ink"))
        p.setPen(QPen(t("ink"), 1))
        p.setBrush(t("paper"))
        p.drawRect(QRectF(x + w, y - 4.5, w, 5))
        left = x
        for k, label in enumerate(labels):
            wide = paint.text_width(label, 11, 500)
            at = min(max(x + k * w - wide / 2, left), RAIL_WIDTH - 3 - wide)
            if at < left:  # two labels do not go: the end says all
                continue
            paint.text(p, at, y + 14, label, 11, 500, t("ink2"))
            left = at + wide + 4

    def scale_rect(self) -> QRectF:
        """Where the scale bar lies, as long as its last label says."""
        return QRectF(SCALE_LEFT, self.height() - 33.0, 2 * scale_bar(self.px_per_m, self.si)[0] * self.px_per_m, 6)

    def take_scale(self, px_per_m: float) -> None:
        """The plan is larger or smaller now."""
        self.px_per_m = px_per_m
        self.refresh()

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        for r, kind, item in self._hits:
            if r.contains(e.position()):
                if kind == "lens":
                    self.lens_picked.emit(int(item))
                else:
                    {"storey": self.storey_picked, "unit": self.unit_picked, "design": self.design_picked}[kind].emit(
                        item
                    )
                return
