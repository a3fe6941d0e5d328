"""What lies over the plan for a moment: the punch list, the key sheet, find."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from murvan.app import paint
from murvan.app.commands import COMMANDS
from murvan.app.guard import painting
from murvan.app.theme import LIGHT, Theme
from murvan.design import Finding
from murvan.model import Job
from murvan.units import Units

SCROLLS = {Qt.Key.Key_Down: 60.0, Qt.Key.Key_Up: -60.0, Qt.Key.Key_PageDown: 300.0, Qt.Key.Key_PageUp: -300.0}


class OverSheet(QWidget):
    """Base: a framed page over the canvas; Escape closes it."""

    closed = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.theme: Theme = LIGHT
        self.offset = 0.0
        self.content = 0.0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.hide()

    def open_sheet(self) -> None:
        self.offset = 0.0
        self.show()
        self.raise_()
        self.setFocus()
        self.update()

    def close_sheet(self) -> None:
        self.hide()
        self.closed.emit()

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is not None and e.key() == Qt.Key.Key_Escape:
            self.close_sheet()
            return
        super().keyPressEvent(e)

    def wheelEvent(self, e: QWheelEvent | None) -> None:
        if e is not None:
            self.scroll_by(-e.angleDelta().y() / 3)

    def scroll_by(self, by: float) -> None:
        self.offset = max(0.0, min(self.offset + by, self.content - self.height() + 20))
        self.update()

    def thumb(self, p: QPainter) -> None:
        """How far down the page is, where it does not fit."""
        page = self.height() - 60.0
        if self.content <= self.height():
            return
        whole = self.content - 40.0
        r = QRectF(self.width() - 9, 50 + self.offset / whole * page, 5, page * page / whole)
        paint.rounded(p, r, self.theme("outline"), self.theme("outline"), 2.5)

    def frame(self, p: QPainter, title: str, note: str) -> None:
        t = self.theme
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), t("paper"))
        p.setPen(QPen(t("ink"), 1.6))
        p.drawRect(QRectF(0.8, 0.8, self.width() - 1.6, self.height() - 1.6))
        paint.text(p, 20, 34, title, 20, 700, t("ink"))
        w = paint.key_cap(p, self.width() - 20, 16, "Esc", t, "r")
        paint.text(p, self.width() - 30 - w, 29, note, 12.5, 500, t("ink2"), "r", self.width() * 0.5)
        p.setPen(QPen(t("outline"), 1))
        p.drawLine(QPointF(20, 46), QPointF(self.width() - 20, 46))
        p.setClipRect(QRectF(2, 47, self.width() - 4, self.height() - 49))


class ChoiceSheet(OverSheet):
    """Base: designs to choose among, each with buttons; a click takes one in hand or does what the button says."""

    whole = "row"
    """What the place of one of them is called among `_hits`."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.index = 0
        self._hits: list[tuple[QRectF, str, int]] = []

    def target(self, what: str, index: int) -> QRectF:
        """Where one of them, or one of its buttons, lies."""
        return next((r for r, k, i in self._hits if (k, i) == (what, index)), QRectF())

    def do(self, what: str) -> None:
        """One of the buttons of the chosen one."""
        raise NotImplementedError

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None or e.position().y() <= 47:
            return
        for rect, what, k in self._hits:
            if rect.contains(e.position()):
                self.index = k
                self.update()
                if what != self.whole:
                    self.do(what)
                return


class PunchSheet(OverSheet):
    """Findings with limit, why, basis and remedy. A click goes there; a fix is one click and can be undone."""

    goto = pyqtSignal(object)
    fix = pyqtSignal(object)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName("Punch list")
        self.units: Units = "ip"
        self.findings: tuple[Finding, ...] = ()
        self._hits: list[tuple[QRectF, str, Finding]] = []
        self.index = 0

    def show_findings(self, findings: tuple[Finding, ...], units: Units) -> None:
        self.findings, self.units = findings, units
        self.index = min(self.index, max(len(findings) - 1, 0))
        self.update()

    def target(self, kind: str, index: int) -> QRectF:
        """Where the row ('goto') or fix button ('fix') of a finding lies."""
        f = self.findings[index]
        return next((r for r, k, x in self._hits if k == kind and x is f), QRectF())

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        t = self.theme
        fails = sum(f.severity == "fails" for f in self.findings)
        self.frame(
            p, "Punch list", f"{len(self.findings)} to settle, {fails} fail" if self.findings else "nothing to settle"
        )
        self._hits = []
        y = 56 - self.offset
        width = self.width() - 40
        for k, f in enumerate(self.findings):
            reason = paint.wrap(
                f"{f.why} {f.rule.remedy_text(self.units)} Basis: {f.rule.basis_text(self.units)}.", 12, width - 210
            )
            said = paint.wrap(f.text(self.units), 14, width - 190, 700)
            more = 18 * (len(said) - 1)
            h = max(30 + more + 16 * len(reason) + 8, 68 + more if f.hit.fix is not None else 0)
            row = QRectF(14, y, self.width() - 28, h)
            if k == self.index:
                p.fillRect(row, t("select_soft"))
            paint.mark(p, f.severity, 30, y + 17, t)
            for n, line in enumerate(said):
                paint.text(p, 46, y + 22 + 18 * n, line, 14, 700, t("ink"))
            for n, line in enumerate(reason):
                paint.text(p, 46, y + 40 + more + 16 * n, line, 12, 500, t("ink2"))
            paint.text(p, self.width() - 24, y + 22, f"station {f.rule.station}", 12, 500, t("ink2"), "r")
            self._hits.append((row, "goto", f))
            if f.hit.fix is not None and f.hit.fix_label:
                label = f.fix_text(self.units)
                w = paint.text_width(label, 12.5, 600) + 22
                box = QRectF(self.width() - 24 - w, y + h - 32, w, 25)
                paint.rounded(p, box, t("ink"), None, 4)
                paint.text(p, box.center().x(), box.center().y() + 4.5, label, 12.5, 600, t("on_ink"), "c")
                self._hits.insert(0, (box, "fix", f))
            p.setPen(QPen(t("rule"), 1))
            p.drawLine(QPointF(20, y + h), QPointF(self.width() - 20, y + h))
            y += h + 1
        self.content = y + self.offset

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        for rect, kind, f in self._hits:
            if rect.contains(e.position()) and e.position().y() > 47:
                (self.fix if kind == "fix" else self.goto).emit(f)
                return

    def step(self, by: int) -> None:
        """Choose the next finding, or the one before."""
        self.index = max(0, min(self.index + by, len(self.findings) - 1))
        self.update()

    def take(self) -> None:
        """Go to the chosen finding."""
        if self.findings:
            self.goto.emit(self.findings[self.index])


class KeySheet(OverSheet):
    """All keys, by group, from the command table."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName("Keys")

    def event(self, e: QEvent | None) -> bool:
        """Up, Down and the page keys scroll what does not fit, before the window takes them."""
        if isinstance(e, QKeyEvent) and e.key() in SCROLLS and self.content > self.height():
            if e.type() == QEvent.Type.ShortcutOverride:
                e.accept()
                return True
            if e.type() == QEvent.Type.KeyPress:
                self.scroll_by(SCROLLS[Qt.Key(e.key())])
                return True
        return super().event(e)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        t = self.theme
        self.frame(p, "Keys", "letters are off inside fields")
        groups: dict[str, list[tuple[str, tuple[str, ...]]]] = {}
        for c in COMMANDS:
            groups.setdefault(c.group, []).append((c.name, c.keys))
        column = (self.width() - 40) / 3
        heights = [60.0 - self.offset] * 3
        for name, rows in sorted(groups.items(), key=lambda g: -len(g[1])):
            k = heights.index(min(heights))
            x, y = 20 + k * column, heights[k] + 14
            note = " · Alt with its digit everywhere, also on Readings and in a field" if name == "Stations" else ""
            paint.text(p, x, y, name + note, 13, 700, t("ink"), width=column - 24)
            y += 8
            for label, keys in rows:
                y += 17.5
                kx = x + column - 24
                for key in reversed(keys[:2]):
                    kx -= paint.key_cap(p, kx, y - 13, key, t, "r") + 4
                paint.text(p, x, y, label, 12.5, 500, t("ink"), width=kx - x - 6)
            heights[k] = y + 14
        self.content = max(heights) + self.offset
        self.thumb(p)


def findable(job: Job | None) -> list[tuple[str, str, str]]:
    """All that can be found, as (words, kind, id): of a job, and the commands."""
    if job is None:
        return [(c.name, "command", c.id) for c in COMMANDS if c.when == "always"]
    out = [(r.name, "room", r.id) for r in job.rooms]
    out += [(f"{x.tag}, register" if x.side == "supply" else x.tag, "register", x.id) for x in job.design.registers]
    out += [(f"Run {x.tag}", "run", x.id) for x in job.design.runs]
    names = {r.id: r.name for r in job.rooms}
    out += [
        (f"{o.kind.capitalize()} {o.tag}, {names.get(o.room, '')}", "opening", o.id)
        for o in job.openings
        if o.kind != "archway"
    ]
    return out + [(c.name, "command", c.id) for c in COMMANDS]


class FindBox(QWidget):
    """Type a few letters of a room, register, run, window or command; Enter goes there."""

    chosen = pyqtSignal(str, str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.source: Callable[[], list[tuple[str, str, str]]] = list
        self.setAccessibleName("Find")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 8, 8, 8)
        self.edit = QLineEdit()
        self.edit.setObjectName("find.edit")
        self.edit.setPlaceholderText("Room, register, run, window, command")
        self.list = QListWidget()
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        layout.addWidget(self.edit)
        layout.addWidget(self.list)
        self.edit.textChanged.connect(self._fill)
        self.edit.returnPressed.connect(self.take)
        self.list.itemClicked.connect(lambda _: self.take())
        self.hide()

    def open_box(self, theme: Theme) -> None:
        self.setStyleSheet(
            f"FindBox {{ background: {theme.name('panel')}; border: 2px solid {theme.name('ink')}; }} QListWidget {{ background: {theme.name('paper')}; border: 1px solid {theme.name('outline')}; }}"
            f" QListWidget::item:selected {{ background: {theme.name('select')}; color: {theme.name('on_select')}; }}"
        )
        self.edit.clear()
        self._fill("")
        self.show()
        self.raise_()
        self.edit.setFocus()

    def _fill(self, typed: str) -> None:
        self.list.clear()
        words = typed.lower().split()
        for label, kind, item_id in self.source():
            if all(w in label.lower() for w in words):
                item = QListWidgetItem(label)
                item.setData(Qt.ItemDataRole.UserRole, (kind, item_id))
                self.list.addItem(item)
        self.list.setCurrentRow(0)

    def step(self, by: int) -> None:
        """Choose the next entry, or the one before, round and round."""
        n = self.list.count()
        if n:
            self.list.setCurrentRow((self.list.currentRow() + by) % n)

    def take(self) -> None:
        """Go to the chosen entry."""
        item = self.list.currentItem()
        self.hide()
        if item is not None:
            kind, item_id = item.data(Qt.ItemDataRole.UserRole)
            self.chosen.emit(kind, item_id)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is None:
            return
        if e.key() == Qt.Key.Key_Escape:
            self.hide()
            parent = self.parentWidget()
            if parent is not None:
                parent.setFocus()
        else:
            super().keyPressEvent(e)
