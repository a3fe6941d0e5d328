"""The guide in the window: the page of the station, with its pictures; a link turns the page."""

from __future__ import annotations

from functools import cached_property
from importlib import resources
from pathlib import Path

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QImage, QPaintEvent, QTextBlock, QTextBlockFormat, QTextCharFormat, QTextCursor, QTextDocument
from PyQt6.QtWidgets import QTextBrowser, QWidget

from murvan.app.guard import painting
from murvan.app.overlays import OverSheet
from murvan.app.theme import LIGHT, Theme

EDGE = 20
PROPORTIONAL: int = QTextBlockFormat.LineHeightTypes.ProportionalHeight.value  # type: ignore[assignment]


class _Pages(QTextBrowser):
    """Markdown pages; pictures as wide as the page."""

    theme: Theme = LIGHT

    def doSetSource(
        self, name: QUrl, type_: QTextDocument.ResourceType = QTextDocument.ResourceType.UnknownResource
    ) -> None:
        super().doSetSource(name, type_)
        self._dress()

    def reload(self) -> None:
        super().reload()
        self._dress()

    def _dress(self) -> None:
        """Room between paragraphs, and keys as caps in the window's own letters."""
        document = self.document()
        if document is None:
            return
        cursor = QTextCursor(document)
        block = document.begin()
        while block.isValid():
            look = block.blockFormat()
            look.setTopMargin(14 if look.headingLevel() > 1 else 0)
            look.setBottomMargin(7)
            look.setLineHeight(125, PROPORTIONAL)
            cursor.setPosition(block.position())
            cursor.setBlockFormat(look)
            self._caps(cursor, block)
            block = block.next()
        self.moveCursor(QTextCursor.MoveOperation.Start)

    def _caps(self, cursor: QTextCursor, block: QTextBlock) -> None:
        spans = []
        it = block.begin()
        while not it.atEnd():
            part = it.fragment()
            if part.charFormat().fontFixedPitch():
                spans.append((part.position(), part.length()))
            it += 1
        cap = QTextCharFormat()
        cap.setFontFamilies([self.font().family()])
        cap.setFontFixedPitch(False)
        cap.setFontWeight(700)
        cap.setBackground(self.theme("chrome"))
        for at, length in spans:
            cursor.setPosition(at)
            cursor.setPosition(at + length, QTextCursor.MoveMode.KeepAnchor)
            cursor.mergeCharFormat(cap)

    def loadResource(self, kind: int, url: QUrl) -> object:
        if kind != QTextDocument.ResourceType.ImageResource.value:
            return super().loadResource(kind, url)
        image = QImage(self.source().resolved(url).toLocalFile())
        wide = self.width() - 2 * EDGE
        return (
            image.scaledToWidth(wide, Qt.TransformationMode.SmoothTransformation) if image.width() > wide else image
        )


class GuideSheet(OverSheet):
    """A page a station; Esc closes it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName("Guide")

    @cached_property
    def pages(self) -> _Pages:
        """Made when first read."""
        pages = _Pages(self)
        pages.setFrameShape(QTextBrowser.Shape.NoFrame)
        pages.show()
        return pages

    def open_page(self, station: int) -> None:
        """The page of a station, 0 for the first walk."""
        folder = Path(str(resources.files("murvan.guide")))
        self.pages.setStyleSheet(
            f"QTextBrowser {{ background: {self.theme.name('paper')}; color: {self.theme.name('ink')}; border: none; font-weight: 500; }}"
        )
        self._place()
        page = next(folder.glob(f"{station}-*.md"))
        self.pages.theme = self.theme
        self.pages.setSource(QUrl.fromLocalFile(str(page)))
        self.pages.reload()
        self.open_sheet()
        self.pages.setFocus()

    def _place(self) -> None:
        self.pages.setGeometry(EDGE, 50, self.width() - 2 * EDGE, self.height() - 56)

    def resizeEvent(self, e: object) -> None:
        if "pages" in self.__dict__:
            self._place()

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self.frame(p, "Guide", "F1 opens the page of the station; ? all keys")
