"""The card: a title with figures, components, editable fields, arithmetic. Fields accept units typed freely."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QComboBox, QFrame, QLabel, QLineEdit, QPushButton, QScrollArea, QWidget

from murvan.app import paint
from murvan.app.guard import painting
from murvan.app.repaint import Shown, repaint
from murvan.app.stations.base import Arith, Bars, Button, Buttons, Card, Field_, Fields, List_, Picture, Section
from murvan.app.theme import LIGHT, Theme, font
from murvan.app.worked import Laid, lay
from murvan.units import UnitError, Units, number, parse, unit

WIDTH, PAD = 330, 17
Apply = Callable[[Field_, float | str], bool]
# how a section is measured, and how it is painted from a height on
_Kind = tuple[Callable[[Any], float], Callable[[QPainter, Theme, Any, float], None]]


class FieldEdit(QLineEdit):
    """A number with its unit; Enter or leaving it applies, Escape brings the old value back."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.spec: Field_ | None = None
        self.units: Units = "ip"
        self.apply: Apply | None = None
        self._looks: tuple[object, ...] = ()
        self._label = QLabel(self)
        self._label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.returnPressed.connect(self.commit)

    def show_spec(self, spec: Field_, units: Units, theme: Theme) -> None:
        self.spec, self.units = spec, units
        looks = (spec.key, spec.label, spec.kind, spec.value, spec.apply is None, units, theme)
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
            self.parent_card().refused.emit(f"{self.spec.label}: {exc}")
            return False
        self.setModified(False)
        if not self.apply(self.spec, value):
            self.set_bad("refused")
            self.setModified(True)
            return False
        self.set_bad("")
        return True

    def drop(self) -> None:
        """Forget what is typed."""
        self._put(self.shown())
        self.set_bad("")

    def parent_card(self) -> CardView:
        at: QObject | None = self
        while at is not None and not isinstance(at, CardView):
            at = at.parent()
        assert isinstance(at, CardView)
        return at

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is not None and e.key() == Qt.Key.Key_Escape:
            self._put(self.shown())
            self.set_bad("")
            self.clearFocus()
            return
        super().keyPressEvent(e)

    def focusOutEvent(self, e: object) -> None:
        super().focusOutEvent(e)  # type: ignore[arg-type]
        if self.isModified() and not self.commit():
            self._put(self.shown())
            self.set_bad("")

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        super().resizeEvent(e)
        self._place_label()

    def _place_label(self) -> None:
        self._label.move(self.width() - self._label.width() - 9, (self.height() - self._label.height()) // 2)


class _Body(QWidget):
    """Paints the card and holds its widgets."""

    def __init__(self, card: CardView) -> None:
        super().__init__(card)
        self.card = card
        self.setMouseTracking(True)

    def paintEvent(self, e: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p, e)

    def _paint_all(self, p: QPainter, e: QPaintEvent | None) -> None:
        self.card.paint_body(p, QRectF(e.rect() if e is not None else self.rect()))

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and e.button() == Qt.MouseButton.LeftButton:
            self.setFocus()
            self.card.press(e.position())


class CardView(QScrollArea):
    """Shows a `Card` and edits through its fields."""

    picked = pyqtSignal(str, str)
    refused = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedWidth(WIDTH)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Card")
        self.theme: Theme = LIGHT
        self.units: Units = "ip"
        self.glove = False
        self.spec: Card | None = None
        self.apply: Apply | None = None
        self.stale = False
        self.body = _Body(self)
        self.setWidget(self.body)
        self._edits: dict[str, FieldEdit] = {}
        self._combos: dict[str, QComboBox] = {}
        self._buttons: dict[str, QPushButton] = {}
        self._layout: list[tuple[float, float, Section]] = []
        self._shown: Shown | None = None
        self._arith: dict[tuple[int, Units], Laid] = {}
        self._hits_of: dict[int, list[tuple[QRectF, tuple[str, str]]]] = {}
        """Section to what can be picked in it, as it was painted."""
        self._hits: list[tuple[QRectF, tuple[str, str]]] = []
        """Those of the section being painted."""

    # ---- building ----

    def show_card(self, spec: Card | None) -> None:
        """Show another card; a field being typed in keeps what is typed."""
        if (
            spec is not None
            and self.spec is not None
            and spec.kicker + spec.title != self.spec.kicker + self.spec.title
        ):
            bar = self.verticalScrollBar()
            if bar is not None:
                bar.setValue(0)
        if spec is not self.spec:
            self._arith = {}
        self.spec = spec
        self._place()
        self._shown = repaint(self.body, self._shown, self._now())

    def _now(self) -> Shown:
        """Header and sections, and what all of them depend on."""
        s = self.spec
        kinds = tuple(type(x) for _, _, x in self._layout)
        frame = (self.theme, self.units, self.glove, self.stale, self.body.size(), kinds, s is None)
        if s is None:
            return Shown(frame)
        header = (s.kicker, s.title, s.mark, s.mark_text, s.hero, s.hero_note, s.side)
        top = (QRectF(0, 0, WIDTH, self._header_height()), header)
        return Shown(frame, [top, *((QRectF(0, y - 7, WIDTH, h + 14), _content(x)) for y, h, x in self._layout)])

    def first_field(self) -> QWidget | None:
        """The field that Enter goes to."""
        if self.spec is None:
            return None
        for section in self.spec.sections:
            if isinstance(section, Fields):
                for f in section.fields:
                    w = self._combos.get(f.key) if f.options else self._edits.get(f.key)
                    if w is not None:
                        return w
        return None

    def field(self, key: str) -> QWidget | None:
        """The widget of a field that is shown."""
        return self._edits.get(key) or self._combos.get(key)

    def hits(self) -> list[tuple[QRectF, tuple[str, str]]]:
        """What can be picked in the sections that have been seen."""
        return [x for found in self._hits_of.values() for x in found]

    def _place(self) -> None:
        wanted: set[str] = set()
        before, self._layout = [(y, h) for y, h, _ in self._layout], []
        y = self._header_height()
        spec = self.spec
        height = self.viewport_height()
        if spec is not None:
            for section in spec.sections:
                h = self._section_height(section)
                if isinstance(section, Buttons):
                    y = max(y, height - h - 9)
                self._layout.append((y, h, section))
                if isinstance(section, Fields):
                    self._place_fields(section, y + 22, wanted)
                if isinstance(section, Buttons):
                    self._place_buttons(section.buttons, y + 6, wanted)
                y += h + 8
        if before != [(y, h) for y, h, _ in self._layout]:
            self._hits_of = {}
        self.body.setFixedSize(WIDTH - (10 if y > height + 1 else 0), int(max(y, height)))
        for pool in (self._edits, self._combos, self._buttons):
            for key in [k for k in pool if k not in wanted]:
                gone = pool.pop(key)
                gone.hide()
                gone.deleteLater()

    def viewport_height(self) -> float:
        viewport = self.viewport()
        return float(viewport.height()) if viewport is not None else 600.0

    def _field_height(self) -> int:
        return 40 if self.glove else 30

    def _place_fields(self, section: Fields, y: float, wanted: set[str]) -> None:
        column = (WIDTH - 2 * PAD - 13) / 2
        at = 0
        for f in section.fields:
            if f.width == 2 and at % 2:
                at += 1
            x = PAD + (at % 2) * (column + 13)
            w = column if f.width == 1 else 2 * column + 13
            top = y + (at // 2) * (self._field_height() + 22) + 17
            wanted.add(f.key)
            widget = self._combo(f) if f.options else self._edit(f)
            widget.setGeometry(int(x), int(top), int(w), self._field_height())
            widget.show()
            at += f.width

    def _edit(self, f: Field_) -> QWidget:
        edit = self._edits.get(f.key)
        if edit is None:
            edit = FieldEdit(self.body)
            edit.apply = self._apply
            self._edits[f.key] = edit
        edit.setFont(font(13, 600))
        edit.show_spec(f, self.units, self.theme)
        return edit

    def _combo(self, f: Field_) -> QWidget:
        combo = self._combos.get(f.key)
        if combo is None:
            combo = QComboBox(self.body)
            combo.setObjectName(f"field.{f.key}")
            combo.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
            combo.installEventFilter(self)
            combo.activated.connect(lambda _i, c=combo: self._chosen(c))
            self._combos[f.key] = combo
        before = combo.property("spec")
        combo.setProperty("spec", f)
        if isinstance(before, Field_) and _looks(before) == _looks(f) and combo.currentData() == f.value:
            return combo
        combo.setAccessibleName(f.label)
        if not isinstance(before, Field_) or f.options != before.options:
            combo.blockSignals(True)
            combo.clear()
            for value, shown in f.options:
                combo.addItem(shown, value)
            combo.blockSignals(False)
        combo.setCurrentIndex(next((k for k, (v, _) in enumerate(f.options) if v == f.value), -1))
        combo.setToolTip(combo.currentText())
        view = combo.view()
        if view is not None:  # the list is as wide as its longest text, the box is not
            longest = max((paint.text_width(shown, 13, 500) for _, shown in f.options), default=0.0)
            view.setMinimumWidth(int(min(longest + 40, 700)))
        combo.setEnabled(f.apply is not None)
        return combo

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """A wheel over a choice scrolls the card and never changes the choice."""
        if event is not None and event.type() == QEvent.Type.Wheel and isinstance(watched, QComboBox):
            event.ignore()
            return True
        return super().eventFilter(watched, event)

    def _chosen(self, combo: QComboBox) -> None:
        f = combo.property("spec")
        if isinstance(f, Field_):
            self._apply(f, str(combo.currentData()))
        combo.clearFocus()

    def _apply(self, f: Field_, value: float | str) -> bool:
        return self.apply(f, value) if self.apply else False

    def _place_buttons(self, buttons: tuple[Button, ...], y: float, wanted: set[str]) -> None:
        n = len(buttons)
        w = (WIDTH - 2 * PAD - 8 * (n - 1)) / max(n, 1)
        for k, b in enumerate(buttons):
            button = self._buttons.get(b.key)
            if button is None:
                button = QPushButton(self.body)
                button.setObjectName(f"button.{b.key}")
                button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
                self._buttons[b.key] = button
            else:
                button.clicked.disconnect()
            button.clicked.connect(lambda _=False, run=b.run: run())
            button.setText(f"{b.label}   {b.letter}" if b.letter else b.label)
            if button.property("main") != b.main:
                button.setProperty("main", b.main)
                style = button.style()
                if style is not None:
                    style.unpolish(button)
                    style.polish(button)
            button.setGeometry(int(PAD + k * (w + 8)), int(y), int(w), self._field_height() + 6)
            button.show()
            wanted.add(b.key)

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        super().resizeEvent(e)
        self._place()

    # ---- measuring ----

    def _header_height(self) -> float:
        s = self.spec
        if s is None:
            return 0.0
        lines = len(self._note_lines(s))
        return 68.0 + (58.0 if s.hero else 10.0 if lines else 0.0) + 15.0 * max(lines - 1, 0)

    def _note_lines(self, s: Card) -> list[str]:
        """The note below the title, in as many lines as it needs."""
        return paint.wrap(s.hero_note, 12, WIDTH - 2 * PAD) if s.hero_note else []

    def _kind(self, s: Section) -> _Kind:
        """How a section is measured and painted. Raises TypeError for one that a card does not know."""
        kinds: dict[type, _Kind] = {
            Bars: (self._bars_height, self._paint_bars),
            Fields: (self._fields_height, self._paint_fields),
            Arith: (self._arith_height, self._paint_arith),
            List_: (self._list_height, self._paint_list),
            Picture: (self._picture_height, self._paint_picture),
            Buttons: (self._buttons_height, self._paint_buttons),
        }
        if type(s) not in kinds:
            raise TypeError(f"a card knows no section of the kind {type(s).__name__}")
        return kinds[type(s)]

    def _section_height(self, s: Section) -> float:
        return self._kind(s)[0](s)

    def _bars_height(self, s: Bars) -> float:
        return 26 + 21 * len(s.rows) + (26 if s.total else 0)

    def _fields_height(self, s: Fields) -> float:
        rows = 0.0
        for f in s.fields:
            rows += 1 if f.width == 1 else (2 if rows % 2 == 0 else 3)
        return 22 + ((rows + 1) // 2) * (self._field_height() + 22)

    def _arith_height(self, s: Arith) -> float:
        return (26 if s.main else 6) + self._arith_box(s)

    def _list_height(self, s: List_) -> float:
        return 26 + sum(36 if r.second else 22 for r in s.rows)

    def _picture_height(self, s: Picture) -> float:
        return 26 + s.height

    def _buttons_height(self, s: Buttons) -> float:
        return self._field_height() + 20

    def _arith_box(self, s: Arith) -> float:
        laid = self._laid(s)
        sources = len(laid.sources)
        return 14 + sum(17 * len(rows) for _, _, rows in laid.lines) + (8 + 15 * sources if sources else 0)

    def _laid(self, s: Arith) -> Laid:
        """An arithmetic in rows and wrapped sources; kept while it is shown, as it is measured and painted."""
        key = (id(s.arithmetic), self.units)
        if key not in self._arith:
            self._arith[key] = lay(s.arithmetic, self.units, WIDTH - 2 * PAD - 28)
        return self._arith[key]

    # ---- painting ----

    def paint_body(self, p: QPainter, part: QRectF) -> None:
        """Paint the sections that lie in a part of the body."""
        t = self.theme
        p.fillRect(self.body.rect(), t("panel"))
        p.setPen(QPen(t("outline"), 1))
        p.drawLine(QPointF(0.5, 0), QPointF(0.5, self.body.height()))
        if self.spec is None:
            return
        if part.top() < self._header_height():
            self._paint_header(p, t, self.spec)
        for k, (y, h, section) in enumerate(self._layout):
            if y + h + 8 < part.top() or y - 8 > part.bottom():
                continue
            self._hits = self._hits_of[k] = []
            if not isinstance(section, Buttons) and not (isinstance(section, Arith) and not section.main):
                p.setPen(QPen(t("outline"), 1))
                p.drawLine(QPointF(PAD, y - 4), QPointF(WIDTH - PAD, y - 4))
            self._paint_section(p, t, section, y)

    def _paint_header(self, p: QPainter, t: Theme, s: Card) -> None:
        right = WIDTH - PAD
        paint.text(p, PAD, 24, s.kicker, 12, 500, t("ink2"), width=right - PAD)
        mark_w = 0.0
        if s.mark:
            w = paint.text_width(s.mark_text, 12.5, 600) if s.mark_text else 0.0
            paint.mark(p, s.mark, right - w - 10 - (8 if w else 0), 43, t)
            if s.mark_text:
                paint.text(p, right, 47.5, s.mark_text, 12.5, 600, t("ink"), "r")
            mark_w = w + 34
        paint.text(p, PAD, 50, s.title, 23, 700, t("ink"), width=right - PAD - mark_w)
        if s.hero:
            self._paint_hero(p, t, s, right)
        elif s.hero_note:
            for k, line in enumerate(self._note_lines(s)):
                paint.text(p, PAD, 68 + 15 * k, line, 12, 500, t("ink2"))

    def _paint_hero(self, p: QPainter, t: Theme, s: Card, right: float) -> None:
        x = float(PAD)
        widest = max([paint.text_width(v, 17, 700) + paint.text_width(u, 12, 500) + 5 for v, u, _ in s.side] or [0.0])
        size = 34.0
        while (
            size > 18
            and sum(paint.text_width(v, size, 700) + paint.text_width(u, 12.5, 500) + 14 for v, u, _ in s.hero)
            > right - PAD - widest - 10
        ):
            size -= 1
        for value, unit_, role in s.hero:
            color = t("ink3") if self.stale else t(role)
            x += paint.value_unit(p, x, 91, value, unit_, size, 700, color, t("ink2"), unit_size=12.5) + 10
        for k, (value, unit_, role) in enumerate(s.side[:2]):
            color = t("ink3") if self.stale else t(role)
            paint.value_unit(p, right, 74 + 21 * k, value, unit_, 17, 700, color, t("ink2"), "r", 12)
        if s.hero_note:
            for k, line in enumerate(self._note_lines(s)):
                paint.text(p, PAD, 113 + 15 * k, line, 12, 500, t("ink2"))

    def _title(self, p: QPainter, t: Theme, y: float, title: str, note: str, key: str = "") -> None:
        right = WIDTH - PAD
        kw = paint.key_cap(p, right, y, key, t, "r") + 6 if key else 0.0
        room = right - PAD - kw
        if note:
            paint.text(
                p, right - kw, y + 13, note, 12, 500, t("ink2"), "r", room - paint.text_width(title, 13, 600) - 8
            )
        paint.text(p, PAD, y + 13, title, 13, 600, t("ink"), width=room - (8 if note else 0))

    def _paint_section(self, p: QPainter, t: Theme, s: Section, y: float) -> None:
        self._kind(s)[1](p, t, s, y)

    def _paint_fields(self, p: QPainter, t: Theme, s: Fields, y: float) -> None:
        first = self.spec is not None and next(x for x in self.spec.sections if isinstance(x, Fields)) is s
        self._title(p, t, y, s.title, "", "Enter" if first else "")
        self._paint_field_labels(p, t, s, y + 22)

    def _paint_picture(self, p: QPainter, t: Theme, s: Picture, y: float) -> None:
        self._title(p, t, y, s.title, s.note)
        p.save()
        s.paint(p, QRectF(PAD, y + 24, WIDTH - 2 * PAD, s.height - 4))
        p.restore()

    def _paint_buttons(self, p: QPainter, t: Theme, s: Buttons, y: float) -> None:
        """Buttons are widgets of their own."""

    def _paint_bars(self, p: QPainter, t: Theme, s: Bars, y: float) -> None:
        right = WIDTH - PAD
        self._title(p, t, y, s.title, s.note)
        y += 22
        values = max([paint.text_width(r.value, 13, 600) for r in s.rows] or [0])
        left, span = PAD + 122.0, right - values - 12 - (PAD + 122.0)
        for r in s.rows:
            rect = QRectF(PAD - 9, y, WIDTH - 2 * PAD + 18, 21)
            if r.selected:
                p.fillRect(rect, t("select"))
            color = t("on_select") if r.selected else t("ink")
            paint.text(p, PAD, y + 15, r.label, 13, 600 if r.selected else 500, color, width=118)
            w = span * max(0.0, min(r.fraction, 1.0))
            p.fillRect(QRectF(left, y + 5, w, 11), t(r.color))
            if r.hatched > 0:
                box = QRectF(left + w, y + 5, span * min(r.hatched, 1.0), 11)
                p.fillRect(box, t("load2"))
                paint.hatch(p, box, t("paper"), 5, 1.6)
            paint.text(p, right, y + 15, r.value, 13, 600, color, "r")
            if r.key:
                self._hits.append((rect, r.key))
            y += 21
        if s.total:
            p.setPen(QPen(t("ink"), 2))
            p.drawLine(QPointF(PAD, y + 3), QPointF(right, y + 3))
            name, note, value = s.total
            paint.text(p, PAD, y + 20, name, 13, 700, t("ink"), width=110)
            w = paint.text(p, right, y + 20, value, 13.5, 700, t("ink"), "r")
            paint.text(p, right - w - 12, y + 20, note, 12, 500, t("ink2"), "r", 170)

    def _paint_field_labels(self, p: QPainter, t: Theme, s: Fields, y: float) -> None:
        column = (WIDTH - 2 * PAD - 13) / 2
        at = 0
        for f in s.fields:
            if f.width == 2 and at % 2:
                at += 1
            x = PAD + (at % 2) * (column + 13)
            paint.text(
                p,
                x,
                y + (at // 2) * (self._field_height() + 22) + 12,
                f.label,
                12,
                500,
                t("ink2"),
                width=column * f.width,
            )
            at += f.width

    def _paint_arith(self, p: QPainter, t: Theme, s: Arith, y: float) -> None:
        if s.main:
            self._title(p, t, y, "The arithmetic", s.arithmetic.title, "=")
            y += 24
        h = self._arith_box(s)
        box = QRectF(PAD, y, WIDTH - 2 * PAD, h)
        paint.rounded(p, box, t("paper"), t("outline"), 3)
        p.fillRect(QRectF(PAD, y + 1, 4, h - 2), t("select") if s.main else t("outline"))
        x, right = PAD + 14.0, WIDTH - PAD - 9.0
        y += 6
        laid = self._laid(s)
        for line, result, rows in laid.lines:
            weight = 700 if line.bold else 500
            figures = t("ink") if line.adds else t("ink3")
            for k, (label, body) in enumerate(rows):
                y += 17
                last = k == len(rows) - 1
                lw = (
                    paint.text(p, x, y - 4, label, 12, weight, t("ink") if line.bold else t("ink2"))
                    if label
                    else -8.0
                )
                if body:
                    paint.text(p, x + lw + 8, y - 4, body, 12, weight, figures)
                if last and result:
                    paint.text(p, right, y - 4, result, 12, 700 if line.bold else 500, figures, "r")
        if s.arithmetic.sources:
            p.setPen(QPen(t("rule"), 1))
            p.drawLine(QPointF(x, y + 5), QPointF(right, y + 5))
            y += 8
            for part in laid.sources:
                y += 15
                paint.text(p, x, y - 3, part, 11, 500, t("ink3"))

    def _paint_list(self, p: QPainter, t: Theme, s: List_, y: float) -> None:
        right = WIDTH - PAD
        self._title(p, t, y, s.title, s.note)
        y += 22
        for r in s.rows:
            h = 36 if r.second else 22
            rect = QRectF(PAD - 9, y, WIDTH - 2 * PAD + 18, h)
            if r.selected:
                p.fillRect(rect, t("select"))
            color = t("on_select") if r.selected else t("ink")
            soft = t("on_select") if r.selected else t("ink2")
            x = float(PAD)
            if r.mark:
                paint.mark(p, r.mark, PAD + 7, y + 11, t, 6.5)
                x += 21
            nw = paint.text(p, right, y + 15.5, r.note, 12, 500, soft, "r") + 10 if r.note else 0.0
            vw = paint.text_width(r.value, 13, 700)
            paint.text(p, right - nw, y + 15.5, r.value, 13, 700, color, "r")
            paint.text(
                p,
                x,
                y + 15.5,
                r.label,
                13,
                700 if r.bold else 600 if r.second else 500,
                color,
                width=right - nw - vw - x - 8,
            )
            if r.second:
                sw = 70 if r.bar is not None else 0
                paint.text(p, x, y + 30.5, r.second, 12, 500, soft, width=right - x - sw - 4)
            if r.bar is not None:
                p.fillRect(QRectF(right - 58, y + 23, 58, 6), t("track") if not r.selected else t("select_soft"))
                p.fillRect(QRectF(right - 58, y + 23, 58 * min(max(r.bar, 0), 1), 6), color)
            if not r.selected and r.second:
                p.setPen(QPen(t("rule"), 1))
                p.drawLine(QPointF(PAD, y + h - 0.5), QPointF(right, y + h - 0.5))
            if r.key:
                self._hits.append((rect, r.key))
            y += h

    def press(self, at: QPointF) -> None:
        for rect, key in self.hits():
            if rect.contains(at):
                self.picked.emit(*key)
                return

    def show_arithmetic(self) -> None:
        """Scroll to the arithmetic."""
        bar = self.verticalScrollBar()
        at = next((y for y, _, s in self._layout if isinstance(s, Arith)), None)
        if bar is not None and at is not None:
            bar.setValue(int(at) - 12)


def _looks(f: Field_) -> tuple[object, ...]:
    return (f.label, f.value, f.options, f.apply is None)


def _content(s: Section) -> object:
    """What the painting of a section depends on; a picture's can't be told."""
    if isinstance(s, Fields):
        return (s.title, *((f.label, f.width) for f in s.fields))
    if isinstance(s, Picture):
        return (s.title, s.note, s.shows) if s.shows is not None else object()
    return () if isinstance(s, Buttons) else s
