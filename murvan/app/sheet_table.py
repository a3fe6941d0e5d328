"""A table on a sheet over the plan."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QAbstractItemDelegate, QAbstractItemView, QTableWidget, QWidget


class SheetTable(QTableWidget):
    """A table whose letters and Enter belong to its cells and not to the window's commands. Enter keeps a cell and goes on to
    the next one of its line, from the last one to the line below; Delete empties a cell."""

    def event(self, e: QEvent | None) -> bool:
        if isinstance(e, QKeyEvent) and e.type() == QEvent.Type.ShortcutOverride:
            plain = not e.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
            if plain and e.key() not in (Qt.Key.Key_Escape, Qt.Key.Key_F1):
                e.accept()
                return True
        return super().event(e)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is not None and e.key() == Qt.Key.Key_Escape:
            e.ignore()
            return
        resting = self.state() == QAbstractItemView.State.NoState
        if e is not None and e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if resting:
                self.edit(self.currentIndex())
            return
        item = self.currentItem()
        if e is not None and resting and e.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and item is not None:
            if item.flags() & Qt.ItemFlag.ItemIsEditable and item.text():
                item.setText("")
            return
        super().keyPressEvent(e)

    def closeEditor(self, editor: QWidget | None, hint: QAbstractItemDelegate.EndEditHint) -> None:
        at = self.currentIndex()
        super().closeEditor(editor, hint)
        if hint == QAbstractItemDelegate.EndEditHint.SubmitModelCache:
            self._go_on(at.row(), at.column())

    def _go_on(self, row: int, column: int) -> None:
        """The next cell that can be typed into."""
        columns = self.columnCount()
        for k in range(row * columns + column + 1, self.rowCount() * columns):
            item = self.item(*divmod(k, columns))
            if item is not None and item.flags() & Qt.ItemFlag.ItemIsEditable:
                self.setCurrentItem(item)
                return
