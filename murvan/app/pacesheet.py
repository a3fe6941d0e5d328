"""The room list over the plan: a plain table for a house that was paced out. Every cell is an edit of its own."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QModelIndex, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QAbstractItemView, QHBoxLayout, QHeaderView, QPushButton, QTableWidgetItem, QWidget

from murvan.app import paint
from murvan.app.guard import painting
from murvan.app.overlays import OverSheet
from murvan.app.sheet_table import SheetTable
from murvan.app.theme import font
from murvan.design.drawing import COLUMNS, Drawn, PaceRow, add_row, cell_text, heading, rows_of, set_row, with_cell
from murvan.model import Job
from murvan.model.errors import JobError
from murvan.units import Units, said, text

Edit = Callable[[Job], Drawn]
EMPTY = PaceRow("", 0.0, 0.0)
HINT = (
    "Length across the plan, width up and down it. Outside walls: N is the plan's top. "
    "The last line takes a new room: name, length and width make it."
)


class PaceSheet(OverSheet):
    """Rooms of the storey shown, one a line, and an empty line for the next."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName("Room list")
        self.units: Units = "ip"
        self.job: Job | None = None
        self.storey = ""
        self.rows: tuple[PaceRow, ...] = ()
        self.draft = EMPTY
        self.keep: Callable[[str, Edit], bool] = lambda name, edit: False
        self.says: Callable[[str], None] = lambda text: None
        self.table = SheetTable(1, len(COLUMNS), self)
        self.table.setObjectName("pace")
        self.table.setFont(font(13, 600))
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setEditTriggers(
            QAbstractItemView.EditTrigger.DoubleClicked
            | QAbstractItemView.EditTrigger.AnyKeyPressed
            | QAbstractItemView.EditTrigger.EditKeyPressed
        )
        header = self.table.horizontalHeader()
        if header is not None:
            header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
            header.setHighlightSections(False)
        side = self.table.verticalHeader()
        if side is not None:
            side.hide()
        self.table.itemChanged.connect(self._typed)
        self.buttons = QWidget(self)
        row = QHBoxLayout(self.buttons)
        row.setContentsMargins(0, 0, 0, 0)
        self.buttons_by_key: dict[str, QPushButton] = {}
        for key, label in (
            ("arrange", "Arrange the boxes"),
            ("import", "Take a CSV list"),
            ("export", "Write it as CSV"),
            ("close", "Done"),
        ):
            button = QPushButton(label)
            button.setObjectName(f"pace.{key}")
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self.buttons_by_key[key] = button
            row.addWidget(button)
        self.buttons_by_key["close"].setProperty("main", True)
        self.buttons_by_key["close"].clicked.connect(self.close_sheet)
        self.setFocusProxy(self.table)

    def open_sheet(self) -> None:
        self.draft = EMPTY
        super().open_sheet()
        self.table.setCurrentCell(len(self.rows), 0)

    def show_job(self, job: Job, storey: str, units: Units) -> None:
        """Show the storey's rooms; the cell in hand stays in hand."""
        if job is self.job and (storey, units) == (self.storey, self.units):
            return
        if storey != self.storey:
            self.draft = EMPTY
        self.job, self.storey, self.units = job, storey, units
        self.rows = rows_of(job, storey)
        self._fill()
        self.update()

    def _fill(self) -> None:
        table = self.table
        table.blockSignals(True)
        table.setRowCount(len(self.rows) + 1)
        table.setHorizontalHeaderLabels([heading(c, self.units) for c in COLUMNS])
        for i, row in enumerate((*self.rows, self.draft)):
            for k, column in enumerate(COLUMNS):
                self._put(i, k, "" if row is EMPTY else _shown(row, column, self.units), row)
        table.blockSignals(False)

    def _put(self, i: int, k: int, text: str, row: PaceRow) -> None:
        item = self.table.item(i, k)
        if item is None:
            item = QTableWidgetItem()
            self.table.setItem(i, k, item)
        if item.text() != text:
            item.setText(text)
        right = COLUMNS[k] not in ("name", "outside")
        side = Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft
        item.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
        free = row.box or COLUMNS[k] not in ("length", "width", "outside")
        flags = Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsEnabled
        item.setFlags(flags | Qt.ItemFlag.ItemIsEditable if free else flags)
        item.setToolTip("" if free else "No box: change its walls on the plan")

    def _typed(self, item: QTableWidgetItem) -> None:
        """A cell was typed into: one edit, or a part of the new room."""
        if self.job is None:
            return
        i, column = item.row(), COLUMNS[item.column()]
        new = i >= len(self.rows)
        old = self.draft if new else self.rows[i]
        try:
            row = with_cell(old, column, item.text(), self.units)
        except JobError as exc:
            self.says(said(exc, self.units))
            self._fill()
            return
        if not new:
            self.keep(f"{row.name or old.name}, {column.replace('_', ' ')}", lambda job: set_row(job, row))
        elif row.name and row.length_m > 0 and row.width_m > 0:
            storey = self.storey
            if self.keep(f"Pace {row.name}", lambda job: add_row(job, storey, row)):
                self.draft = EMPTY
            else:
                self.draft = old
        else:
            self.draft = row
        self._fill()

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        super().resizeEvent(e)
        self.table.setGeometry(14, 76, self.width() - 28, self.height() - 76 - 58)
        self.buttons.setGeometry(14, self.height() - 50, self.width() - 28, 40)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        area = sum(r.length_m * r.width_m for r in self.rows if r.box)
        note = f"{len(self.rows)} room{'s' if len(self.rows) != 1 else ''}"
        if area:
            note += f", boxes {text('area', area, self.units, 0)}"
        self.frame(p, "Room list", note)
        for k, line in enumerate(paint.wrap(HINT, 12, self.width() - 40)[:1]):
            paint.text(p, 20, 66 + 15 * k, line, 12, 500, self.theme("ink2"), width=self.width() - 40)

    def cell(self, row: int, column: str) -> QModelIndex:
        """Index of a cell, for whoever drives the table."""
        model = self.table.model()
        assert model is not None
        return model.index(row, COLUMNS.index(column))


def _shown(row: PaceRow, column: str, units: Units) -> str:
    if column in ("length", "width") and getattr(row, f"{column}_m") == 0:
        return ""
    return cell_text(row, column, units)
