"""Works out designs for a house beside the window's thread, with progress, and stops when nobody wants them any more."""

from __future__ import annotations

import threading

from PyQt6.QtCore import QObject, pyqtSignal

from murvan.design.propose import Proposal, proposals
from murvan.model import Job

Found = tuple[Proposal, ...]


class Proposer(QObject):
    """One search at a time; asking again drops the one under way."""

    progress = pyqtSignal(int, int, int)
    """The number of the search, how many ways are done, and of how many."""
    done = pyqtSignal(int, object)
    """The number of the search, and its proposals or what went wrong."""

    def __init__(self) -> None:
        super().__init__()
        self.number = 0
        """Of the search that is wanted; what comes of another one is stale."""
        self._thread: threading.Thread | None = None

    def ask(self, job: Job) -> None:
        """Begin; the answer comes by `done`."""
        self.stop()
        self._thread = threading.Thread(
            target=self._work, args=(job, self.number), name="murvan-propose", daemon=True
        )
        self._thread.start()

    def stop(self) -> None:
        """Drop what is under way."""
        self.number += 1
        if self._thread is not None:
            self._thread.join(timeout=5)
            self._thread = None

    def _work(self, job: Job, number: int) -> None:
        def step(k: int, of: int) -> bool:
            if self.number == number:
                self.progress.emit(number, k, of)
            return self.number == number

        try:
            found: object = proposals(job, step)
        except Exception as trouble:  # told in the window; the job stays
            found = trouble
        if self.number == number:
            self.done.emit(number, found)
