"""The sheets as pictures: the PDF is made in the background and drawn page by page as it will print."""

from __future__ import annotations

import queue
import threading
from io import BytesIO

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QObject, QSize, QTimer, pyqtSignal
from PyQt6.QtGui import QImage
from PyQt6.QtPdf import QPdfDocument

from murvan.app.document import Figures
from murvan.app.painters import drawing
from murvan.units import Units

LOOK_MS = 30


def _make(figures: Figures, units: Units, made: queue.SimpleQueue[tuple[tuple[Figures, Units], object]]) -> None:
    """Make the sheets, in a thread of their own."""
    from murvan.documents.pages import sheet_size
    from murvan.documents.pdf import plan_pages, write_pdf

    try:
        out = BytesIO()
        write_pdf(figures.results, figures.verdict, out, units)
        titles = [p.title for p in plan_pages(figures.results, figures.verdict, units, sheet_size(units))]
        made.put(((figures, units), (out.getvalue(), titles)))
    except Exception as exc:  # shown in the preview's place
        made.put(((figures, units), exc))


class Preview(QObject):
    """Pages of the set for the figures last wanted."""

    ready = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.pages: list[QSize] = []
        self.titles: list[str] = []
        self.trouble = ""
        self._wanted: tuple[Figures, Units] | None = None
        self._busy = False
        self._document = QPdfDocument(self)
        self._buffer: QBuffer | None = None
        self._pictures: dict[tuple[int, int], QImage] = {}
        # the thread may outlive the window: it never touches a Qt object, the window looks for what it has made
        self._made: queue.SimpleQueue[tuple[tuple[Figures, Units], object]] = queue.SimpleQueue()
        self._look = QTimer(self)
        self._look.setInterval(LOOK_MS)
        self._look.timeout.connect(self._collect)

    def want(self, figures: Figures, units: Units) -> None:
        """Ask for the pages of these figures; `ready` tells when they are there."""
        key = (figures, units)
        if self._wanted is not None and self._wanted[0].results is figures.results and self._wanted[1] == units:
            return
        self._wanted = key
        if not self._busy:
            self._start()

    def forget(self) -> None:
        """Drop the sheets: another job is open."""
        self.pages, self.titles, self.trouble = [], [], ""
        self._wanted = None
        self._pictures.clear()

    def _start(self) -> None:
        assert self._wanted is not None
        self._busy = True
        figures, units = self._wanted
        threading.Thread(target=_make, args=(figures, units, self._made), name="murvan-preview", daemon=True).start()
        self._look.start()

    def _collect(self) -> None:
        try:
            key, outcome = self._made.get_nowait()
        except queue.Empty:
            return
        self._look.stop()
        self._take(key, outcome)

    def _take(self, key: tuple[Figures, Units], outcome: object) -> None:
        self._busy = False
        if self._wanted is None:
            return
        if self._wanted[0].results is not key[0].results or self._wanted[1] != key[1]:
            self._start()
            return
        if isinstance(outcome, Exception):
            self.trouble = f"The sheets could not be made: {outcome}"
            self.pages, self.titles = [], []
        elif isinstance(outcome, tuple):
            data, self.titles = outcome
            self.trouble = ""
            self._document.close()
            self._buffer = QBuffer(self)
            self._buffer.setData(QByteArray(data))
            self._buffer.open(QIODevice.OpenModeFlag.ReadOnly)
            self._document.load(self._buffer)
            self.pages = [self._document.pagePointSize(k).toSize() for k in range(self._document.pageCount())]
            self._pictures.clear()
        self.ready.emit()

    def ratio(self, page: int) -> float:
        return self.pages[page].width() / max(self.pages[page].height(), 1)

    def picture(self, page: int, width: int, device_ratio: float) -> QImage:
        """One page drawn `width` wide."""
        px = int(width * device_ratio)
        key = (page, px)
        if key not in self._pictures:
            image = self._document.render(page, QSize(px, int(px / self.ratio(page))))
            out = QImage(image.size(), QImage.Format.Format_RGB32)
            out.fill(0xFFFFFFFF)
            with drawing(out, False) as p:
                p.drawImage(0, 0, image)
            self._pictures[key] = out
        return self._pictures[key]
