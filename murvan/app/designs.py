"""The list of designs: the one that is worked on and those set aside."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QLineEdit, QWidget

from murvan.app import paint
from murvan.app.guard import painting
from murvan.app.overlays import ChoiceSheet
from murvan.catalog import known_units, readable_own_units
from murvan.model import Job
from murvan.model.design import Design
from murvan.model.equipment import Unit

ROW = 86.0
TOP = 56.0
BUTTONS = {
    "aside": ("Set a copy aside", "A"),
    "take_up": ("Take up", "Enter"),
    "duplicate": ("Duplicate", "D"),
    "rename": ("Rename", "R"),
    "note": ("Note", "N"),
    "delete": ("Delete", "Del"),
}
KEYS = {
    Qt.Key.Key_A: "aside",
    Qt.Key.Key_D: "duplicate",
    Qt.Key.Key_R: "rename",
    Qt.Key.Key_N: "note",
    Qt.Key.Key_Delete: "delete",
}


class DesignSheet(ChoiceSheet):
    """Every design with what is in it; a button or a letter sets it aside, takes it up, copies, renames, deletes it."""

    wanted = pyqtSignal(str, str, str)
    """What, the design's id, and the text typed for it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName("Designs")
        self.job: Job | None = None
        self.area = QRect()
        self._typing = ("", "")
        self.edit = QLineEdit(self)
        self.edit.setObjectName("designs.edit")
        self.edit.returnPressed.connect(self._typed)
        self.edit.hide()

    @property
    def designs(self) -> tuple[Design, ...]:
        return (self.job.design, *self.job.options) if self.job is not None else ()

    def show_designs(self, job: Job) -> None:
        self.job = job
        self.index = min(self.index, len(self.designs) - 1)
        self.place(self.area)
        self.update()

    def place(self, area: QRect) -> None:
        """Lie at the top of an area, no taller than the designs need."""
        self.area = area
        needed = TOP + (ROW + 1) * max(len(self.designs), 1) + 14
        self.setGeometry(area.x(), area.y(), area.width(), min(area.height(), round(needed)))

    def buttons(self, index: int) -> tuple[str, ...]:
        """What can be done with a design."""
        return ("aside", "rename", "note") if index == 0 else ("take_up", "duplicate", "rename", "note", "delete")

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        t, n = self.theme, len(self.designs) - 1
        aside = "none set aside" if n == 0 else f"{n} set aside"
        self.frame(p, "Designs", f"{aside}; the house, its weather and its survey are of all of them")
        self._hits = []
        y = TOP - self.offset
        for k, d in enumerate(self.designs):
            row = QRectF(14, y, self.width() - 28, ROW)
            if k == self.index:
                p.fillRect(row, t("select_soft"))
            self._hits.append((row, "row", k))
            self._row(p, row, k, d)
            p.setPen(QPen(t("rule"), 1))
            p.drawLine(QPointF(20, row.bottom()), QPointF(self.width() - 20, row.bottom()))
            y += ROW + 1
        self.content = y + self.offset
        self.thumb(p)

    def _row(self, p: QPainter, row: QRectF, k: int, d: Design) -> None:
        t = self.theme
        x, right = row.left() + 16, row.right() - 12
        tag = "worked on" if k == 0 else "set aside"
        tw = paint.text_width(tag, 12, 600)
        paint.text(p, right, row.top() + 22, tag, 12, 600, t("ink") if k == 0 else t("ink2"), "r")
        paint.text(p, x, row.top() + 22, d.name, 15, 700, t("ink"), width=right - x - tw - 20)
        paint.text(
            p,
            x,
            row.top() + 41,
            contents(d, self.job.units if self.job else ()),
            12.5,
            500,
            t("ink2"),
            width=right - x,
        )
        note_end = right
        for what in reversed(self.buttons(k)):
            label, key = BUTTONS[what]
            w = paint.text_width(label, 12.5, 600) + paint.text_width(key, 11, 600) + 36
            box = QRectF(note_end - w, row.bottom() - 32, w - 6, 25)
            first = what in ("aside", "take_up")
            paint.rounded(p, box, t("ink") if first else t("paper"), t("ink") if first else t("outline"), 4)
            ink = t("on_ink") if first else t("ink")
            paint.text(p, box.left() + 9, box.center().y() + 4.5, label, 12.5, 600, ink)
            paint.text(p, box.right() - 9, box.center().y() + 4.2, key, 11, 600, ink if first else t("ink2"), "r")
            self._hits.insert(0, (box, what, k))
            note_end -= w
        if d.note:
            paint.text(p, x, row.bottom() - 14, d.note, 12.5, 500, t("ink"), width=note_end - x - 12)

    def event(self, e: QEvent | None) -> bool:
        """The letters of the buttons, before the window takes them for tools."""
        if (
            isinstance(e, QKeyEvent)
            and e.type() == QEvent.Type.ShortcutOverride
            and e.key() in KEYS
            and not e.modifiers()
            and not self.edit.isVisible()
        ):
            e.accept()
            return True
        return super().event(e)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        what = KEYS.get(Qt.Key(e.key())) if e is not None and not self.edit.isVisible() else None
        if what is not None:
            self.do(what)
            return
        if e is not None and e.key() == Qt.Key.Key_Escape and self.edit.isVisible():
            self._leave()
            return
        super().keyPressEvent(e)

    def step(self, by: int) -> None:
        """Choose the next design, or the one before."""
        self.index = max(0, min(self.index + by, len(self.designs) - 1))
        self.update()

    def take(self) -> None:
        """Enter: take the chosen design up, or finish what is typed."""
        if self.edit.isVisible():
            self._typed()
        elif self.index:
            self.do("take_up")

    def do(self, what: str) -> None:
        """One of the buttons of the chosen design."""
        if not self.designs or what not in self.buttons(self.index):
            return
        d = self.designs[self.index]
        if what in ("rename", "note"):
            self._type(what, d)
            return
        if what == "take_up":
            self.index = 0
        self.wanted.emit(what, d.id, "")

    def _type(self, what: str, d: Design) -> None:
        row = self.target("row", self.index)
        self._typing = (what, d.id)
        self.edit.setMaxLength(200)
        self.edit.setText(d.name if what == "rename" else d.note)
        top = row.top() + 4 if what == "rename" else row.bottom() - 33
        self.edit.setGeometry(int(row.left() + 10), int(top), int(row.width() - 120), 27)
        self.edit.show()
        self.edit.setFocus()
        self.edit.selectAll()

    def _typed(self) -> None:
        what, design = self._typing
        text = self.edit.text().strip()
        self._leave()
        if text or what == "note":
            self.wanted.emit(what, design, text)

    def _leave(self) -> None:
        self.edit.hide()
        self.setFocus()

    def close_sheet(self) -> None:
        self.edit.hide()
        super().close_sheet()


def contents(d: Design, carried: tuple[Unit, ...] = ()) -> str:
    """'Orvane VH-30 · 29 runs, 17 registers · 2 zones'."""
    known = known_units(carried, readable_own_units())
    named = [f"{known[x.unit].maker} {known[x.unit].name}" if x.unit in known else "" for x in d.indoor_units]
    chosen = [x for x in named if x]
    none = "no unit yet" if len(named) == 1 else f"{len(named)} units, none chosen yet"
    parts = [", ".join(dict.fromkeys(chosen)) or none]
    if d.runs or d.registers:
        parts.append(f"{len(d.runs)} runs, {len(d.registers)} registers and grilles")
    if d.zones:
        parts.append(f"{len(d.zones)} zone{'s' if len(d.zones) != 1 else ''}")
    return " · ".join(parts)
