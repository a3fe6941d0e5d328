"""Works out designs for a house beside the window's thread, with progress, and stops when nobody wants them any more."""

from __future__ import annotations

import threading

from PyQt6.QtCore import QObject, pyqtSignal

from murvan.design.propose import Proposal, proposals
from murvan.model import Job

Found = tuple[Proposal, ...]


class Proposer(QObject):
    """One search at a time; asking again drops the one under way."""

    progress = pyqtSignal(object, int, int)
    done = pyqtSignal(object, object)
    """The job, and its proposals or what went wrong."""

    def __init__(self) -> None:
        super().__init__()
        self._wanted: Job | None = None
        self._thread: threading.Thread | None = None

    def ask(self, job: Job) -> None:
        """Begin; the answer comes by `done`."""
        if job is self._wanted:
            return
        self.stop()
        self._wanted = job
        self._thread = threading.Thread(target=self._work, args=(job,), name="murvan-propose", daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """Drop what is under way."""
        self._wanted = None
        if self._thread is not None:
            self._thread.join(timeout=5)
            self._thread = None

    def _work(self, job: Job) -> None:
        def step(k: int, of: int) -> bool:
            if self._wanted is job:
                self.progress.emit(job, k, of)
            return self._wanted is job

        try:
            found: object = proposals(job, step)
        except Exception as trouble:  # told in the window; the job stays
            found = trouble
        if self._wanted is job:
            self.done.emit(job, found)
