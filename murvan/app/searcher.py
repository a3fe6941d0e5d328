"""Works something out beside the window's thread, with progress, and stops when nobody wants it any more."""

from __future__ import annotations

import threading
from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

Step = Callable[[int, int], bool]
"""Told how many ways are done, and of how many; False: nobody waits any more."""
Work = Callable[[Step], object]


class Searcher(QObject):
    """One search at a time; asking again drops the one under way."""

    progress = pyqtSignal(int, int, int)
    """The number of the search, how many ways are done, and of how many."""
    done = pyqtSignal(int, object)
    """The number of the search, and what it found or what went wrong."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.name = name
        self.number = 0
        """Of the search that is wanted; what comes of another one is stale."""
        self.busy = False
        """Whether an answer is still awaited."""
        self._thread: threading.Thread | None = None

    def ask(self, work: Work) -> None:
        """Begin; the answer comes by `done`."""
        self.stop()
        self.busy = True
        args = (work, self.number, self._thread)
        self._thread = threading.Thread(target=self._work, args=args, name=self.name, daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """Drop what is under way; it ends by itself, and nothing waits for it."""
        self.number += 1
        self.busy = False

    def end(self) -> None:
        """The window has gone: let the thread come to its end."""
        self.stop()
        if self._thread is not None:
            self._thread.join(timeout=5)
            self._thread = None

    def wanted(self, number: int) -> bool:
        """Whether an answer is the one that is waited for; it is waited for no more."""
        if number != self.number:
            return False
        self.busy = False
        return True

    def _work(self, work: Work, number: int, before: threading.Thread | None) -> None:
        if before is not None:
            before.join()
        if self.number != number:
            return

        def step(k: int, of: int) -> bool:
            if self.number == number:
                self.progress.emit(number, k, of)
            return self.number == number

        try:
            found: object = work(step)
        except Exception as trouble:  # told in the window; the job stays
            found = trouble
        if self.number == number:
            self.done.emit(number, found)
