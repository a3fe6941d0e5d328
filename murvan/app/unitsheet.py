"""A unit of the user's own over the plan: its data, and its tables that take a paste from a spreadsheet."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QColor, QGuiApplication, QKeyEvent, QKeySequence, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QTableWidgetItem,
    QWidget,
)

from murvan.app import paint
from murvan.app.guard import painting
from murvan.app.overlays import OverSheet
from murvan.app.sheet_table import SheetTable
from murvan.app.theme import font
from murvan.catalog.draft import FIELDS, TablePart, UnitDraft, draft_of, headings
from murvan.catalog.draft_check import Problem, problems, unit_of
from murvan.catalog.draft_paste import pasted
from murvan.model.equipment import Unit
from murvan.units import Units

TABLES: tuple[TablePart, ...] = ("cooling", "heating", "blower")
HINTS: dict[TablePart, str] = {
    "cooling": "Ctrl+V pastes a maker's table: a list with headings; or outdoors down the side and wet bulbs along the top, "
    "into Total, then Sensible, then Power.",
    "heating": "Ctrl+V pastes a maker's table, with headings or from the first cell. A furnace needs none.",
    "blower": "Ctrl+V pastes a blower table: static pressure, then the air of each tap. A line has to fall from static to "
    "static.",
}
MOST_STEPS = 200
LEFT = 366
PLAIN_BOX = "QComboBox { min-height: 22px; max-height: 22px; border: 0; border-radius: 0; padding: 0 2px; }"
BUTTONS = (
    ("keep", "Keep the unit"),
    ("restart", "Start from the unit shown"),
    ("forget", "Forget it"),
    ("import", "Take a file"),
    ("export", "Write as CSV"),
    ("close", "Close"),
)


class UnitTable(SheetTable):
    """One part of the draft: typing, paste, copy and undo go to the sheet."""

    def __init__(self, part: TablePart, sheet: UnitSheet) -> None:
        super().__init__(0, 2, sheet)
        self.part, self.sheet = part, sheet
        self.setObjectName(f"unit.{part}")
        self.setAccessibleName(f"{part.capitalize()} of the unit")
        self.setFont(font(13, 600))
        self.setSelectionMode(QAbstractItemView.SelectionMode.ContiguousSelection)
        self.setEditTriggers(
            QAbstractItemView.EditTrigger.DoubleClicked
            | QAbstractItemView.EditTrigger.AnyKeyPressed
            | QAbstractItemView.EditTrigger.EditKeyPressed
        )
        header, side = self.horizontalHeader(), self.verticalHeader()
        if header is not None and side is not None:
            header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
            header.setHighlightSections(False)
            side.hide()
            side.setDefaultSectionSize(25)
        if header is not None and part == "data":
            header.hide()
            header.setSectionResizeMode(0, QHeaderView.ResizeMode.Fixed)
            header.resizeSection(0, 205)
        self.itemChanged.connect(lambda item: sheet.typed(part, item.row(), item.column(), item.text()))

    def event(self, e: QEvent | None) -> bool:
        if isinstance(e, QKeyEvent) and e.type() == QEvent.Type.ShortcutOverride and self._own_key(e) is not None:
            e.accept()
            return True
        return super().event(e)

    def _own_key(self, e: QKeyEvent) -> Callable[[], None] | None:
        own = (
            (QKeySequence.StandardKey.Paste, self.paste),
            (QKeySequence.StandardKey.Copy, self.copy),
            (QKeySequence.StandardKey.Undo, self.sheet.undo),
        )
        for key, do in own:
            if e.matches(key):
                return do
        if e.key() == Qt.Key.Key_Delete and self.state() == QAbstractItemView.State.NoState:
            return self.clear_selected
        return None

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        do = self._own_key(e) if e is not None else None
        if do is not None:
            do()
            return
        super().keyPressEvent(e)

    def paste(self) -> None:
        board = QGuiApplication.clipboard()
        if board is not None:
            self.sheet.paste(self.part, max(self.currentRow(), 0), max(self.currentColumn(), 0), board.text())

    def copy(self) -> None:
        """The selected cells to the clipboard, as a spreadsheet takes them."""
        board, chosen = QGuiApplication.clipboard(), self.selectedRanges()
        if board is None or not chosen:
            return
        r = chosen[0]
        lines = []
        for i in range(r.topRow(), r.bottomRow() + 1):
            items = (self.item(i, k) for k in range(r.leftColumn(), r.rightColumn() + 1))
            lines.append("\t".join(x.text() if x is not None else "" for x in items))
        board.setText("\n".join(lines))

    def clear_selected(self) -> None:
        chosen = self.selectedRanges()
        if not chosen:
            return
        r = chosen[0]
        first = 1 if self.part == "data" else r.leftColumn()
        cells = [(i, k) for i in range(r.topRow(), r.bottomRow() + 1) for k in range(first, r.rightColumn() + 1)]
        self.sheet.clear_cells(self.part, cells)


class UnitSheet(OverSheet):
    """Data on the left, one of the tables on the right, what is wrong below. The draft outlives closing."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName("Your own unit")
        self.draft: UnitDraft | None = None
        self.began: UnitDraft | None = None
        """The draft as it was started or kept: what differs from it has not been kept."""
        self.wrong: tuple[Problem, ...] = ()
        self.part: TablePart = "cooling"
        self._steps: list[UnitDraft] = []
        self.tables = {part: UnitTable(part, self) for part in ("data", *TABLES)}
        self.tabs: dict[TablePart, QPushButton] = {}
        self.buttons = QWidget(self)
        self._lay_out()
        self.setFocusProxy(self.tables["data"])

    def _lay_out(self) -> None:
        self.tab_row = QWidget(self)
        tabs, row = QHBoxLayout(self.tab_row), QHBoxLayout(self.buttons)
        for layout in (tabs, row):
            layout.setContentsMargins(0, 0, 0, 0)
        for part in TABLES:
            button = QPushButton(part.capitalize())
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.setObjectName(f"unit.tab.{part}")
            button.clicked.connect(lambda _=False, part=part: self.show_part(part))
            self.tabs[part] = button
            tabs.addWidget(button)
        self.buttons_by_key: dict[str, QPushButton] = {}
        for key, label in BUTTONS:
            button = QPushButton(label)
            button.setObjectName(f"unit.{key}")
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self.buttons_by_key[key] = button
            row.addWidget(button)
        self.buttons_by_key["keep"].setProperty("main", True)
        self.buttons_by_key["close"].clicked.connect(self.close_sheet)

    @property
    def unkept(self) -> bool:
        """Whether something was typed that has not been kept."""
        return self.draft is not None and self.began is not None and _texts(self.draft) != _texts(self.began)

    def start(self, unit: Unit, units: Units, shipped: frozenset[str]) -> None:
        """Begin with a unit: an own one is edited, of a shipped one a copy."""
        self.began = self.draft = draft_of(unit, units, shipped)
        self._steps = []
        self.show_part("cooling")

    def kept(self) -> None:
        """What is typed has been kept."""
        self.began = self.draft
        self.refill()

    def unit(self) -> Unit | None:
        """The unit the texts make; None while something is wrong."""
        return unit_of(self.draft) if self.draft is not None and not self.wrong else None

    def show_part(self, part: TablePart) -> None:
        """Show one of the tables."""
        self.part = part
        for name, button in self.tabs.items():
            button.setProperty("main", name == part)
            style = button.style()
            if style is not None:
                style.polish(button)
            self.tables[name].setVisible(name == part)
        self.refill()

    # ---- edits of the draft ----

    def _take(self, draft: UnitDraft) -> None:
        if self.draft is not None and _texts(draft) != _texts(self.draft):
            self._steps = [*self._steps[-MOST_STEPS:], self.draft]
        self.draft = draft
        self.refill()

    def typed(self, part: TablePart, row: int, column: int, text: str) -> None:
        """A cell was typed into."""
        if self.draft is not None:
            self._take(self.draft.with_cell(part, row, column, text))

    def paste(self, part: TablePart, row: int, column: int, text: str) -> None:
        """A block from the clipboard, at a cell."""
        if self.draft is not None:
            self._take(pasted(self.draft, part, row, column, text))

    def clear_cells(self, part: TablePart, cells: list[tuple[int, int]]) -> None:
        """Empty cells; lines that have none left go."""
        if self.draft is None:
            return
        rows = [list(r) for r in self.draft.cells(part)]
        for i, k in cells:
            if i < len(rows):
                rows[i][k] = ""
        self._take(self.draft.with_cells(part, tuple(tuple(r) for r in rows if part == "data" or any(r))))

    def undo(self) -> None:
        """Take the last edit of the draft back."""
        if self._steps:
            self.draft = self._steps.pop()
            self.refill()

    # ---- what is shown ----

    def refill(self) -> None:
        """Show the draft and what is wrong with it."""
        if self.draft is None:
            return
        self.wrong = problems(self.draft)
        for part, table in self.tables.items():
            if part in ("data", self.part):
                self._fill(part, table)
            elif part in self.tabs:
                table.hide()
        for part, tab in self.tabs.items():
            n = sum(p.part == part for p in self.wrong)
            tab.setText(part.capitalize() + (f" · {n} to mend" if n else ""))
        self.buttons_by_key["keep"].setEnabled(not self.wrong)
        self.update()

    def _fill(self, part: TablePart, table: UnitTable) -> None:
        assert self.draft is not None
        rows = self.draft.cells(part)
        names = headings(self.draft, part)
        bad = {(p.row, p.column): p.text for p in self.wrong if p.part == part}
        table.blockSignals(True)
        table.setRowCount(len(rows) + (part != "data"))
        table.setColumnCount(len(names))
        table.setHorizontalHeaderLabels(names)
        for i in range(table.rowCount()):
            for k in range(len(names)):
                text = rows[i][k] if i < len(rows) else ""
                self._put(table, i, k, text, bad.get((i, k), ""))
        table.blockSignals(False)

    def _put(self, table: UnitTable, i: int, k: int, text: str, wrong: str) -> None:
        item = table.item(i, k)
        if item is None:
            item = QTableWidgetItem()
            table.setItem(i, k, item)
        label = table.part == "data" and k == 0
        if item.text() != text:
            item.setText(text)
        item.setBackground(self.theme("fails_soft") if wrong else QColor(0, 0, 0, 0))
        item.setForeground(self.theme("ink2") if label else self.theme("ink"))
        item.setToolTip(wrong)
        left = table.part == "data"
        side = Qt.AlignmentFlag.AlignLeft if left else Qt.AlignmentFlag.AlignRight
        item.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
        flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        item.setFlags(Qt.ItemFlag.ItemIsEnabled if label else flags | Qt.ItemFlag.ItemIsEditable)
        if table.part == "data" and k == 1 and FIELDS[i].kind == "choice":
            self._choice(table, i, text)

    def _choice(self, table: UnitTable, row: int, text: str) -> None:
        box = table.cellWidget(row, 1)
        if not isinstance(box, QComboBox):
            box = QComboBox()
            box.setStyleSheet(PLAIN_BOX)
            box.setFont(font(13, 600))
            box.addItems([words for _, words in FIELDS[row].words])
            box.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
            box.textActivated.connect(lambda words: self.typed("data", row, 1, words))
            table.setCellWidget(row, 1, box)
        box.blockSignals(True)
        box.setCurrentIndex(box.findText(text))
        box.blockSignals(False)

    def go_wrong(self) -> None:
        """Bring the first thing to mend into view."""
        if not self.wrong:
            return
        p = self.wrong[0]
        if p.part != "data":
            self.show_part(p.part)
        table = self.tables[p.part]
        table.setCurrentCell(max(p.row, 0), p.column)
        table.setFocus()

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        super().resizeEvent(e)
        top, low = 56, self.height() - 56
        self.tables["data"].setGeometry(14, top, LEFT, low - top - 34)
        right = 14 + LEFT + 12
        width = self.width() - right - 14
        self.tab_row.setGeometry(right, top, min(width, 480), 36)
        for part in TABLES:
            self.tables[part].setGeometry(right, top + 80, width, low - top - 80 - 34)
        self.buttons.setGeometry(14, self.height() - 48, self.width() - 28, 38)

    def mousePressEvent(self, e: object) -> None:
        self.go_wrong()

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        t = self.theme
        name = self.draft.data[1][1] if self.draft is not None else ""
        note = "kept on this computer; a job that picks it carries it along"
        self.frame(p, f"Your own unit: {name}" if name else "Your own unit", note)
        right = 14 + LEFT + 12
        for k, line in enumerate(paint.wrap(HINTS[self.part], 12, self.width() - right - 16)[:2]):
            paint.text(p, right, 108 + 15 * k, line, 12, 500, t("ink2"))
        y = self.height() - 56 - 12
        if self.wrong:
            paint.mark(p, "fails", 24, y - 5, t)
            more = f"  ({len(self.wrong) - 1} more)" if len(self.wrong) > 1 else ""
            paint.text(p, 40, y, self.wrong[0].text + more, 13, 600, t("ink"), width=self.width() - 60)
        elif self.draft is not None:
            paint.mark(p, "good", 24, y - 5, t)
            words = self.draft.said or ("Not kept yet." if self.unkept else "Every cell can be read.")
            paint.text(p, 40, y, words, 13, 600, t("ink"), width=self.width() - 60)


def _texts(draft: UnitDraft) -> tuple[object, ...]:
    return draft.id, draft.data, draft.cooling, draft.heating, draft.blower
