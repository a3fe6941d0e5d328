"""What goes wrong inside Murvan is written down and told calmly, the job is kept, and Murvan goes on.

An exception in a slot, a paint or a thread comes here. Painters are opened in one context that always ends them, and
Python's cyclic collector runs in the window's thread only: Qt objects must not die in another.
"""

from __future__ import annotations

import gc
import logging
import logging.handlers
import platform
import sys
import threading
import time
import traceback
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from types import TracebackType

from PyQt6 import sip
from PyQt6.QtCore import QObject, QTimer, QtMsgType, pyqtSignal, qInstallMessageHandler, qVersion
from PyQt6.QtGui import QPaintDevice, QPainter

from murvan import __version__
from murvan.app.painters import drawing
from murvan.machine import home

COLLECT_MS = 250
BUSY_FACTOR = 40
"""While figures are awaited the collector stands back; garbage of that many times its usual measure it still takes."""
LOG_BYTES = 500_000
AGAIN_S = 30.0
"""The same trouble within this time is counted, not told again."""


class Guard(QObject):
    """The one place where trouble arrives."""

    told = pyqtSignal(str, str)
    """What happened in one line, and the report for the log. Emitted in the window's thread."""
    _came = pyqtSignal(str, str)

    def __init__(self) -> None:
        super().__init__()
        self.reports: list[str] = []
        self.warnings: list[str] = []
        """What Qt complained of; the tests look at it."""
        self._last: dict[str, float] = {}
        self._timer: QTimer | None = None
        self.busy: Callable[[], bool] = lambda: False
        """Whether somebody waits for figures."""
        self._came.connect(self._tell)

    def install(self) -> None:
        """Take over the hooks of this process; to be called once there is an application."""
        if self._timer is not None:
            return
        sys.excepthook = self._hook
        threading.excepthook = lambda a: self.report(
            a.exc_value, f"in the thread {a.thread.name if a.thread else '?'}"
        )
        qInstallMessageHandler(self._from_qt)
        gc.disable()
        gc.freeze()  # what the imports left stays for good; a full collection need not walk it each time
        self._timer = QTimer(self)
        self._timer.setInterval(COLLECT_MS)
        self._timer.timeout.connect(self._collect)
        self._timer.start()

    def _collect(self) -> None:
        collect(BUSY_FACTOR if self.busy() else 1)

    def _hook(self, kind: type[BaseException], value: BaseException, tb: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, value, tb)
            return
        self.report(value)

    def report(self, trouble: BaseException | None, where: str = "") -> None:
        """Write an exception down and tell it; from any thread."""
        if trouble is None:
            return
        text = "".join(traceback.format_exception(trouble))
        let_go(trouble)
        line = f"{type(trouble).__name__}: {trouble}".splitlines()[0][:200]
        now = time.monotonic()
        known = self._last.get(line)
        self._last[line] = now
        if known is not None and now - known < AGAIN_S:
            return
        self.reports.append(text)
        log().error("%s%s\n%s", line, f" ({where})" if where else "", text)
        if not sip.isdeleted(self):  # a thread may end after the window's world did
            self._came.emit(line, text)

    def _tell(self, line: str, text: str) -> None:
        self.told.emit(line, text)

    def _from_qt(self, kind: QtMsgType, _: object, message: str | None) -> None:
        said = message or ""
        if kind in (QtMsgType.QtWarningMsg, QtMsgType.QtCriticalMsg, QtMsgType.QtFatalMsg):
            self.warnings.append(said)
            log().warning("Qt: %s", said)


def collect(patience: int = 1) -> None:
    """The collector's own rule, in the thread that calls; `patience` times later than usual."""
    counts, limits = gc.get_count(), gc.get_threshold()
    for generation in (2, 1, 0):
        if counts[generation] > patience * max(limits[generation], 1):
            gc.collect(generation)
            return


def log_file() -> Path:
    return home() / "log" / "murvan.log"


def log() -> logging.Logger:
    """Murvan's log, under the home of the moment."""
    logger = logging.getLogger("murvan")
    wanted = str(log_file())
    if not any(getattr(h, "baseFilename", None) == wanted for h in logger.handlers):
        for h in list(logger.handlers):
            logger.removeHandler(h)
            h.close()
        logger.propagate = False
        logger.setLevel(logging.INFO)
        try:
            log_file().parent.mkdir(parents=True, exist_ok=True)
            handler: logging.Handler = logging.handlers.RotatingFileHandler(
                wanted, maxBytes=LOG_BYTES, backupCount=1, encoding="utf-8", delay=True
            )
        except OSError:  # a home that can't be written must not stop the work
            handler = logging.NullHandler()
        handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
        logger.addHandler(handler)
        logger.info(
            "Murvan %s, Python %s, Qt %s, %s", __version__, platform.python_version(), qVersion(), sys.platform
        )
    return logger


GUARD: Guard | None = None


def guard() -> Guard:
    """The guard of this process."""
    global GUARD
    if GUARD is None:
        GUARD = Guard()
    return GUARD


@contextmanager
def painting(widget: QPaintDevice, smooth: bool = True) -> Iterator[QPainter]:
    """A painter for a paint event; what goes wrong inside is reported and the widget stays as far as it got."""
    try:
        with drawing(widget, smooth) as p:
            yield p
    except Exception as trouble:
        guard().report(trouble, f"while {type(widget).__name__} was painted")


def let_go(trouble: BaseException) -> None:
    """Take the frames off an exception and those behind it: a frame keeps all that its callers hold, open painters among it,
    until the collector comes by."""
    seen: set[int] = set()
    todo: list[BaseException | None] = [trouble]
    while todo:
        x = todo.pop()
        if x is not None and id(x) not in seen:
            seen.add(id(x))
            x.__traceback__ = None
            todo += [x.__cause__, x.__context__]
            x.__cause__ = x.__context__ = None
