"""The card: a title with figures, components, editable fields, arithmetic. Fields accept units typed freely."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QComboBox, QFrame, QPushButton, QScrollArea, QWidget

from murvan.app import paint
from murvan.app.card_paper import FOLD, PAD, WIDTH, Paper, button_rows, button_width
from murvan.app.card_paper import button_text as _said
from murvan.app.field_edit import Apply, FieldEdit
from murvan.app.guard import painting
from murvan.app.repaint import Shown, repaint
from murvan.app.stations.base import Arith, Button, Buttons, Card, Field_, Fields, Fold, List_, Picture, Section
from murvan.app.theme import LIGHT, Theme, font
from murvan.units import Units


class _Body(QWidget):
    """Paints the card and holds its widgets."""

    def __init__(self, card: CardView) -> None:
        super().__init__(card)
        self.card = card
        self._drag: tuple[QRectF, Picture] | None = None
        self._from = QPointF()
        self.setMouseTracking(True)

    def paintEvent(self, e: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p, e)

    def _paint_all(self, p: QPainter, e: QPaintEvent | None) -> None:
        self.card.paint_body(p, QRectF(e.rect() if e is not None else self.rect()))

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and e.button() == Qt.MouseButton.LeftButton:
            self.setFocus()
            self._drag = self.card.picture_at(e.position())
            self._from = e.position()
            if self._drag is None:
                self.card.press(e.position())

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and self._drag is not None and self._drag[1].drag is not None:
            by, self._from = e.position() - self._from, e.position()
            self._drag[1].drag(by.x(), by.y())
            self.update(self._drag[0].toAlignedRect())

    def mouseReleaseEvent(self, e: QMouseEvent | None) -> None:
        self._drag = None


class _Foot(QWidget):
    """Holds what can be done, below all that scrolls."""

    def __init__(self, card: CardView) -> None:
        super().__init__(card)
        self.card = card

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            t = self.card.theme
            p.fillRect(self.rect(), t("panel"))
            p.setPen(QPen(t("outline"), 1))
            p.drawLine(QPointF(0.5, 0), QPointF(0.5, self.height()))
            p.drawLine(QPointF(0, 0.5), QPointF(self.width(), 0.5))


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
        self.paper = Paper(self)
        self.body = _Body(self)
        self.setWidget(self.body)
        self.foot = _Foot(self)
        self.unfolded = False
        """Whether what lies behind `=` is shown although the card is full."""
        self._edits: dict[str, FieldEdit] = {}
        self._combos: dict[str, QComboBox] = {}
        self._buttons: dict[str, QPushButton] = {}
        self._layout: list[tuple[float, float, Section]] = []
        self._shown: Shown | None = None
        self._hits_of: dict[int, list[tuple[QRectF, tuple[str, str]]]] = {}
        """Section to what can be picked in it, as it was painted."""

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
            self.paper.forget()
        self.spec = spec
        self._place()
        self._shown = repaint(self.body, self._shown, self._now())

    def _now(self) -> Shown:
        """Header and sections, and what all of them depend on."""
        s = self.spec
        kinds = tuple(type(x) for _, _, x in self._layout)
        self.foot.update()
        frame = (self.theme, self.units, self.glove, self.stale, self.body.size(), kinds, s is None)
        if s is None:
            return Shown(frame)
        header = (s.kicker, s.title, s.mark, s.mark_text, s.hero, s.hero_note, s.side)
        top = (QRectF(0, 0, WIDTH, self.paper.header_height()), header)
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

    def has(self, prefix: str) -> bool:
        """Whether fields whose names begin so are shown, or one is wanted that nothing is selected for."""
        return any(k.startswith(prefix) for k in self._edits) or (self.spec is not None and self.spec.unpicked)

    def hits(self) -> list[tuple[QRectF, tuple[str, str]]]:
        """What can be picked in the sections that have been seen."""
        return [x for found in self._hits_of.values() for x in found]

    def _place(self) -> None:
        wanted: set[str] = set()
        before, self._layout = [(y, h) for y, h, _ in self._layout], []
        y = self.paper.header_height()
        self._place_foot(wanted)
        height = self.viewport_height()
        for section in self._sections(y, height):
            h = self.paper.section_height(section)
            self._layout.append((y, h, section))
            if isinstance(section, Fields):
                self._place_fields(section, y + 22, wanted)
            if isinstance(section, Buttons):
                self._place_buttons(section.buttons, y + 6, wanted, self.body)
            y += h + 8
        if before != [(y, h) for y, h, _ in self._layout]:
            self._hits_of = {}
        self.body.setFixedSize(WIDTH - (10 if y > height + 1 else 0), int(max(y, height)))
        for pool in (self._edits, self._combos, self._buttons):
            for key in [k for k in pool if k not in wanted]:
                gone = pool.pop(key)
                gone.hide()
                gone.deleteLater()

    def _place_foot(self, wanted: set[str]) -> None:
        """What can be done stays in sight however long the card is."""
        last = self.spec.sections[-1] if self.spec is not None and self.spec.sections else None
        h = int(self.paper.section_height(last)) if isinstance(last, Buttons) else 0
        self.setViewportMargins(0, 0, 0, h)
        self.foot.setGeometry(0, self.height() - h, self.width(), h)
        self.foot.setVisible(bool(h))
        if isinstance(last, Buttons):
            self._place_buttons(last.buttons, 7, wanted, self.foot)

    def _sections(self, top: float, height: float) -> list[Section]:
        """What is shown above the foot: where it does not fit, what no decision needs lies behind `=`, after all else."""
        if self.spec is None:
            return []
        found = list(self.spec.sections)
        if found and isinstance(found[-1], Buttons):
            found.pop()
        if top + sum(self.paper.section_height(x) + 8 for x in found) <= height:
            return found
        first = [x for x in found if not getattr(x, "behind", False)]
        behind = [x for x in found if getattr(x, "behind", False)]
        if not behind:
            return found
        if self.unfolded:
            return [*first, *behind]
        names = [x.title.lower() if isinstance(x, (Fields, List_)) else "arithmetic" for x in behind]
        words = ", ".join(dict.fromkeys(names))
        return [*first, Fold(words[:1].upper() + words[1:])]

    def viewport_height(self) -> float:
        viewport = self.viewport()
        return float(viewport.height()) if viewport is not None else 600.0

    def _place_fields(self, section: Fields, y: float, wanted: set[str]) -> None:
        column = (WIDTH - 2 * PAD - 13) / 2
        at = 0
        for f in section.fields:
            if f.width == 2 and at % 2:
                at += 1
            x = PAD + (at % 2) * (column + 13)
            w = column if f.width == 1 else 2 * column + 13
            top = y + (at // 2) * (self.paper.field_height + 22) + 17
            wanted.add(f.key)
            widget = self._combo(f) if f.options else self._edit(f)
            widget.setGeometry(int(x), int(top), int(w), self.paper.field_height)
            widget.show()
            at += f.width

    def _edit(self, f: Field_) -> QWidget:
        edit = self._edits.get(f.key)
        if edit is None:
            edit = FieldEdit(self.body)
            edit.apply = self._apply
            edit.refused.connect(self.refused)
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
        combo.setEnabled(f.apply is not None or f.pick is not None)
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
            if f.pick is not None:
                f.pick(str(combo.currentData()))
            else:
                self._apply(f, str(combo.currentData()))
        combo.clearFocus()

    def _apply(self, f: Field_, value: float | str) -> bool:
        return self.apply(f, value) if self.apply else False

    def _place_buttons(self, buttons: tuple[Button, ...], y: float, wanted: set[str], parent: QWidget) -> None:
        rows = button_rows(buttons)
        places = [(row, x, w) for row, found in enumerate(rows) for x, w in _spread(found)]
        step = self.paper.field_height + 12
        for b, (row, x, w) in zip(buttons, places, strict=True):
            button = self._buttons.get(b.key)
            if button is None:
                button = QPushButton(parent)
                button.setObjectName(f"button.{b.key}")
                button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
                self._buttons[b.key] = button
            else:
                button.clicked.disconnect()
            if button.parent() is not parent:
                button.setParent(parent)
            button.clicked.connect(lambda _=False, run=b.run: run())
            button.setText(_said(b))
            if button.property("main") != b.main:
                button.setProperty("main", b.main)
                style = button.style()
                if style is not None:
                    style.unpolish(button)
                    style.polish(button)
            button.setGeometry(int(x), int(y + row * step), int(w), self.paper.field_height + 6)
            button.show()
            wanted.add(b.key)

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        super().resizeEvent(e)
        self._place()

    # ---- painting ----

    def paint_body(self, p: QPainter, part: QRectF) -> None:
        """Paint the sections that lie in a part of the body."""
        t = self.theme
        p.fillRect(self.body.rect(), t("panel"))
        p.setPen(QPen(t("outline"), 1))
        p.drawLine(QPointF(0.5, 0), QPointF(0.5, self.body.height()))
        if self.spec is None:
            return
        if part.top() < self.paper.header_height():
            self.paper.paint_header(p, t, self.spec)
        for k, (y, h, section) in enumerate(self._layout):
            if y + h + 8 < part.top() or y - 8 > part.bottom():
                continue
            self.paper.hits = self._hits_of[k] = []
            if not isinstance(section, Buttons) and not (isinstance(section, Arith) and not section.main):
                p.setPen(QPen(t("outline"), 1))
                p.drawLine(QPointF(PAD, y - 4), QPointF(WIDTH - PAD, y - 4))
            self.paper.paint_section(p, t, section, y)

    def press(self, at: QPointF) -> None:
        for rect, key in self.hits():
            if rect.contains(at):
                if key == FOLD:
                    self.show_arithmetic()
                else:
                    self.picked.emit(*key)
                return

    def picture_at(self, at: QPointF) -> tuple[QRectF, Picture] | None:
        """A picture there that can be dragged, with where it is."""
        for y, h, s in self._layout:
            r = QRectF(0, y, WIDTH, h)
            if isinstance(s, Picture) and s.drag is not None and r.contains(at):
                return r, s
        return None

    def show_arithmetic(self) -> None:
        """Show what lies behind `=` and scroll to it; once more folds it again."""
        bar, was = self.verticalScrollBar(), self.unfolded
        self.unfolded = not was
        self._place()
        self.body.update()
        at = next((y for y, _, s in self._layout if isinstance(s, Arith)), None)
        if bar is not None:
            bar.setValue(int(at) - 12 if at is not None and self.unfolded else 0)


def _spread(buttons: list[Button]) -> list[tuple[float, float]]:
    """Left edge and width of each button of a row: what is over is shared."""
    wide = [button_width(b) for b in buttons]
    over = (WIDTH - 2 * PAD - 8 * (len(buttons) - 1) - sum(wide)) / len(buttons)
    out, x = [], float(PAD)
    for w in wide:
        out.append((x, w + over))
        x += w + over + 8
    return out


def _looks(f: Field_) -> tuple[object, ...]:
    return (f.label, f.value, f.options, f.apply is None)


def _content(s: Section) -> object:
    """What the painting of a section depends on; a picture's can't be told."""
    if isinstance(s, Fields):
        return (s.title, *((f.label, f.width) for f in s.fields))
    if isinstance(s, Picture):
        return (s.title, s.note, s.shows) if s.shows is not None else object()
    return () if isinstance(s, Buttons) else s
