"""Edits that take a solve or more: worked out beside the window's thread, kept as one step if the job is still the same."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from murvan.app.actions.base import CommandGroup
from murvan.app.desk import Desk
from murvan.app.searcher import Searcher
from murvan.design import Results, solve
from murvan.model import Job, JobError


@dataclass(frozen=True)
class Wanted:
    """An edit under way."""

    name: str
    """Of the step to undo."""
    doing: str
    make: Callable[[Results], Job]
    told: Callable[[Job, Job], str]
    """What is said of the job before and the job made; '' for nothing."""
    job: Job


class Beside(CommandGroup):
    """One such edit at a time; another one takes its place."""

    def __init__(self, window: Desk) -> None:
        super().__init__(window)
        self.searcher = Searcher("murvan-edit")
        self.searcher.done.connect(self._done)
        self._wanted: Wanted | None = None

    def commands(self) -> dict[str, Callable[[], object]]:
        return {}

    def edit(
        self,
        name: str,
        doing: str,
        make: Callable[[Results], Job],
        told: Callable[[Job, Job], str] = lambda before, after: "",
    ) -> None:
        """Begin an edit that needs figures; a house that changes meanwhile is worked out anew."""
        job, view = self.window.document.job, self.view
        if job is None or view is None:
            return
        figures = view.r
        self._wanted = Wanted(name, doing, make, told, job)
        self.window.status.hint(f"{doing} · Esc stops")
        self.searcher.ask(lambda _: make(solve(job, figures)))

    def stop(self) -> bool:
        """Esc: drop it; True when there was one."""
        if not self.searcher.busy:
            return False
        self.searcher.stop()
        self.window.status.tell("Stopped; nothing was changed")
        return True

    def _done(self, number: int, found: object) -> None:
        w = self._wanted
        if not self.searcher.wanted(number) or w is None:
            return
        if self.window.document.job is not w.job:
            self.edit(w.name, w.doing, w.make, w.told)
            return
        self.window.status.hint("")
        if isinstance(found, JobError):
            self.window.say_refusal(found)
        elif isinstance(found, Exception):
            raise found
        elif isinstance(found, Job) and self.window.edit(w.name, lambda _: found):
            words = w.told(w.job, found)
            if words:
                self.window.status.tell(words)
