"""The field of a card that a figure or a word is typed into."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QLabel, QLineEdit, QWidget

from murvan.app.stations.base import Field_
from murvan.app.theme import Theme
from murvan.units import UnitError, Units, number, parse, unit

Apply = Callable[[Field_, float | str], bool]


class FieldEdit(QLineEdit):
    """A number with its unit; Enter or leaving it applies, Escape brings the old value back."""

    refused = pyqtSignal(str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.spec: Field_ | None = None
        self.units: Units = "ip"
        self.apply: Apply | None = None
        self._asked = ""
        """What was typed when it was asked whether it replaces the figure in place."""
        self._looks: tuple[object, ...] = ()
        self._label = QLabel(self)
        self._label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.returnPressed.connect(self.commit)

    def show_spec(self, spec: Field_, units: Units, theme: Theme) -> None:
        self.spec, self.units = spec, units
        looks = (spec.key, spec.label, spec.kind, spec.value, spec.apply is None, spec.ask, units, theme)
        if looks == self._looks and not self.isModified() and not self.property("bad"):
            return
        self._looks = looks
        self.setObjectName(f"field.{spec.key}")
        self.setAccessibleName(spec.label)
        self.setReadOnly(spec.apply is None)
        name = (
            "" if spec.kind in ("feet", "text") and units == "ip" or spec.kind == "text" else unit(spec.kind, units)
        )
        style = f"color: {theme.name('ink3')}; font-size: 12px; font-weight: 500; background: transparent; border: 0;"
        if self._label.text() == name and self._label.styleSheet() == style:
            self._refill()
            return
        self._label.setText(name)
        self._label.setStyleSheet(style)
        self._label.adjustSize()
        self.setTextMargins(0, 0, self._label.width() + 4 if name else 0, 0)
        self._place_label()
        self._refill()

    def _refill(self) -> None:
        """Show the value anew, unless something is being typed."""
        if not (self.hasFocus() and self.isModified()):
            self._put(self.shown())
            self.set_bad("")

    def shown(self) -> str:
        assert self.spec is not None
        value = self.spec.value
        if isinstance(value, str) or value is None:
            return value or ""
        return number(self.spec.kind, value, self.units).replace("−", "-").replace("–", "")

    def _put(self, text: str) -> None:
        if text != self.text():
            self.setText(text)
            self.setCursorPosition(0)
        self.setModified(False)

    def set_bad(self, message: str) -> None:
        if bool(self.property("bad")) == bool(message):
            self.setToolTip(message)
            return
        self.setProperty("bad", bool(message))
        self.setToolTip(message)
        style = self.style()
        if style is not None:
            style.unpolish(self)
            style.polish(self)

    def commit(self) -> bool:
        """Apply what is typed; True unless it was refused."""
        if self.spec is None or self.apply is None or self.spec.apply is None or not self.isModified():
            return True
        typed = self.text()
        if typed.strip() == self.shown().strip():
            self.setModified(False)
            return True
        try:
            plain = self.spec.kind == "text" or (self.spec.optional and not typed.strip())
            value: float | str = typed.strip() if plain else parse(self.spec.kind, typed, self.units)
        except UnitError as exc:
            self.set_bad(str(exc))
            self.refused.emit(f"{self.spec.label}: {exc}")
            return False
        odd = self.spec.doubts(value) if self.spec.doubts is not None and isinstance(value, float) else ""
        stop = "" if odd.endswith(("?", ".")) else "."
        ask = " ".join(x for x in (f"{odd}{stop} Enter again keeps it." if odd else "", self.spec.ask) if x)
        if ask and self._asked != typed:
            self._asked = typed
            self.set_bad(ask)
            self.refused.emit(ask)
            return False
        self._asked = ""
        self.setModified(False)
        if not self.apply(self.spec, value):
            self.set_bad("refused")
            self.setModified(True)
            return False
        self.set_bad("")
        return True

    def drop(self) -> None:
        """Forget what is typed."""
        self._asked = ""
        self._put(self.shown())
        self.set_bad("")

    def leave(self) -> bool:
        """Another thing gets the keys: what is typed is taken, or dropped and said; True unless it was dropped."""
        if not self.isModified():
            return True
        typed, entry = self.text(), self.spec is not None and self.spec.entry
        if not entry and self.commit():
            return True
        why = "Enter or Tab keeps a reading" if entry else "it can't be read there"
        self.drop()
        self.refused.emit(f"{self.accessibleName()}: “{typed}” was dropped, {why}")
        return False

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is not None and e.key() == Qt.Key.Key_Escape:
            self.drop()
            self.clearFocus()
            return
        super().keyPressEvent(e)

    def focusOutEvent(self, e: QFocusEvent | None) -> None:
        super().focusOutEvent(e)
        if e is None or e.reason() != Qt.FocusReason.PopupFocusReason:
            self.leave()

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        super().resizeEvent(e)
        self._place_label()

    def _place_label(self) -> None:
        self._label.move(self.width() - self._label.width() - 9, (self.height() - self._label.height()) // 2)
