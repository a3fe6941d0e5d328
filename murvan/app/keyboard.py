"""Which key does what: a command, a step in a sheet, or a character for the field in hand."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit

from murvan.app.commands import BY_ID, COMMANDS
from murvan.app.desk import Desk
from murvan.app.field_edit import FieldEdit

KEEPS = ("Return", "Enter", "Tab")
"""Keys that keep a reading."""


class Keyboard:
    """Routes the keys of the window."""

    def __init__(self, window: Desk) -> None:
        self.window = window
        self.shortcuts: dict[str, list[QShortcut]] = {}
        by_key: dict[str, list[str]] = {}
        for c in COMMANDS:
            for key in c.keys:
                by_key.setdefault(key, []).append(c.id)
        for key, ids in by_key.items():
            s = QShortcut(QKeySequence(key), window)
            s.setContext(Qt.ShortcutContext.WindowShortcut)
            plain = not any(m in key for m in ("Ctrl+", "Alt+")) and key not in ("F1", "PgUp", "PgDown")
            s.activated.connect(lambda ids=ids, plain=plain, key=key: self._shortcut(self._fitting(ids), plain, key))
            for i in ids:
                self.shortcuts.setdefault(i, []).append(s)

    def _fitting(self, ids: list[str]) -> str:
        """Of commands with the same key, the one of the station shown."""
        return next((i for i in ids if BY_ID[i].station == self.window.station.key), ids[0])

    def _shortcut(self, command_id: str, plain: bool, key: str) -> None:
        """Run a command, unless a field or a sheet over the plan has the keys."""
        step = {"view.next": 1, "view.previous": -1}.get(command_id, 0)
        if plain and any(x.isVisible() for x in (self.window.asking, self.window.training, self.window.traverse)):
            return
        for over in (self.window.find_box, self.window.punch, self.window.designs):
            if plain and over.isVisible() and (step or command_id == "edit.card"):
                over.step(step) if step else over.take()
                return
        focus = QApplication.focusWidget()
        over_plan = any(x.isVisible() for x in (self.window.find_box, self.window.punch, self.window.designs))
        if (
            plain
            and command_id.startswith("go.")
            and not isinstance(focus, QLineEdit)
            and not over_plan
            and self.type_reading(command_id[3:])
        ):
            return
        if plain and isinstance(focus, QLineEdit):
            if command_id in ("view.next", "view.previous", "edit.card") and self._take_reading(
                focus, command_id, key
            ):
                return
            if command_id in ("view.next", "view.previous"):
                (self.window.focusNextChild if command_id == "view.next" else self.window.focusPreviousChild)()
            elif command_id == "edit.card":
                commit = getattr(focus, "commit", None)
                if commit is not None and commit():
                    focus.clearFocus()
            return
        if plain and isinstance(focus, QComboBox):
            if command_id in ("view.next", "view.previous"):
                (self.window.focusNextChild if command_id == "view.next" else self.window.focusPreviousChild)()
                return
            if command_id == "edit.card":
                focus.showPopup()
                return
            focus.clearFocus()  # a choice that was left must not swallow the keys
        if plain and self.window.find_box.isVisible():
            return
        self.window.command(command_id)

    def type_reading(self, digit: str) -> bool:
        """A digit begins to fill the field that the station says, such as a register's reading. True where digits are no
        stations."""
        view, station = self.window.shown, self.window.station
        if view is None or not station.row_fields or not self.window.card.has(station.row_fields):
            return False
        edit = self.window.card.field(station.typed_into(view))
        if not isinstance(edit, QLineEdit):
            self.window.status.say(
                "Digits type a reading here: select a register first. Alt with a digit goes to a station"
            )
            return True
        self.window.card.ensureWidgetVisible(edit)
        edit.setFocus()
        edit.selectAll()
        edit.insert(digit)
        return True

    def _take_reading(self, edit: QLineEdit, command_id: str, key: str) -> bool:
        """Enter and Tab keep what is typed for a row of the table and go on to the next that has none; other keys step and
        drop it."""
        rows = self.window.station.row_fields
        if not isinstance(edit, FieldEdit) or not rows or not edit.objectName().startswith(f"field.{rows}"):
            return False
        if key in KEEPS:
            if edit.commit():
                edit.clearFocus()
                self.window.go_on()
        else:
            edit.leave()
            edit.clearFocus()
            self.window.command(command_id)
        return True

    def leave_field(self) -> bool:
        """Apply what is typed in a field, or drop it, and say which; True unless it was dropped."""
        edit = QApplication.focusWidget()
        if not isinstance(edit, FieldEdit) or not edit.isModified():
            return True
        typed, label = edit.text(), edit.accessibleName()
        if not edit.leave():
            return False
        self.window.status.tell(f"{label}: kept {typed}")
        return True
