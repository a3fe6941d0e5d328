"""A table on a sheet over the plan."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QAbstractItemView, QTableWidget


class SheetTable(QTableWidget):
    """A table whose letters and Enter belong to its cells and not to the window's commands."""

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
        if e is not None and e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if self.state() == QAbstractItemView.State.NoState:
                self.edit(self.currentIndex())
            return
        super().keyPressEvent(e)
