"""Ducts laid for the unit in hand: the best way by one key, or all ways side by side."""

from __future__ import annotations

from collections.abc import Callable

from murvan.app.actions.base import CommandGroup
from murvan.app.desk import Desk
from murvan.app.searcher import Searcher, Step
from murvan.app.stations.ducts.cards import ducted_in_hand
from murvan.design import lay as laying_out
from murvan.design import solve
from murvan.model import Job
from murvan.model.errors import JobError
from murvan.units import said


class Laying(CommandGroup):
    """Layouts for the house as it stands."""

    def __init__(self, window: Desk) -> None:
        super().__init__(window)
        self.searcher = Searcher("murvan-lay")
        self.searcher.progress.connect(self._progress)
        self.searcher.done.connect(self._done)
        self.at_once = False
        """Whether the best one is taken up without being asked."""
        self._job: Job | None = None

    def commands(self) -> dict[str, Callable[[], object]]:
        return {"ducts.lay": self.lay, "ducts.ways": self.ways}

    def lay(self) -> None:
        """The best way, taken up when it is found."""
        self.window.layouts.hide()
        view, job = self.view, self.window.document.job
        if view is None or job is None:
            return
        lines = laying_out.replaced_by_laying(job, ducted_in_hand(view))
        self.window.asking.ask("Laying the ducts anew replaces", "Lay the ducts", lines, lambda: self._ask(True))

    def ways(self) -> None:
        """All ways on the sheet."""
        sheet, job = self.window.layouts, self.window.document.job
        if sheet.isVisible():
            sheet.close_sheet()
        elif job is not None:
            self.window.leave_sheets()
            sheet.open_sheet()
            sheet.wait(job, "Laying ducts …")
            self._ask(False)

    def _ask(self, at_once: bool) -> None:
        view, job = self.view, self.window.document.job
        if view is None or job is None:
            return
        unit, figures = ducted_in_hand(view), view.r
        self.at_once, self._job = at_once, job

        def work(step: Step) -> object:
            return laying_out.layouts(solve(job, figures), unit, step)

        self.window.status.hint("Laying ducts · Esc stops")
        self.searcher.ask(work)

    def stop(self) -> bool:
        """Drop a search for the best way; True when there was one."""
        if not self.searcher.busy or not self.at_once:
            return False
        self.searcher.stop()
        self.window.status.tell("No ducts were laid")
        return True

    def closed(self) -> None:
        """Esc on the sheet."""
        self.searcher.stop()
        self.window.centralWidget().setFocus()  # type: ignore[union-attr]

    def _progress(self, number: int, k: int, of: int) -> None:
        if number != self.searcher.number or not self.searcher.busy or self._job is None:
            return
        words = f"Laying ducts, {k} of {of} · Esc stops"
        if self.at_once:
            self.window.status.hint(words)
        else:
            self.window.layouts.wait(self._job, words)

    def _done(self, number: int, found: object) -> None:
        if not self.searcher.wanted(number):
            return
        if self.window.document.job is not self._job:
            self._ask(self.at_once)  # the house has changed meanwhile
            return
        self.window.status.hint("")
        if not isinstance(found, tuple):
            self._refused(found)
        elif self.at_once:
            self._take(found[0])
        elif self._job is not None:
            self.window.layouts.show_found(self._job, found, self.window.prefs.units)

    def _refused(self, trouble: object) -> None:
        known = isinstance(trouble, JobError)
        words = said(trouble, self.window.prefs.units) if isinstance(trouble, JobError) else f"No ducts: {trouble}"
        if self.at_once or known:
            self.window.status.say(words)
        if not self.at_once and self._job is not None:
            self.window.layouts.wait(self._job, words)

    def _take(self, x: laying_out.Layout) -> None:
        if self.window.edit("Lay the ducts", lambda job: x.job):
            self.window.status.tell(f"{x.name}: {x.why}")

    def take(self, index: int) -> None:
        """One step to undo."""
        x, view, job = self.window.layouts.found[index], self.view, self.window.document.job
        if view is None or job is None or job is not self._job:
            return

        def go() -> None:
            self._take(x)
            self.window.layouts.close_sheet()

        lines = laying_out.replaced_by_laying(job, ducted_in_hand(view))
        self.window.asking.ask(f"{x.name} replaces", "Take it up", lines, go)

    def keep(self, index: int) -> None:
        """One step to undo: a design with these ducts stands among those set aside."""
        x = self.window.layouts.found[index]
        found = self.window.layouts.found
        if self.window.edit(f"Keep {x.name} as an option"[:80], lambda job: laying_out.kept_layout(job, x)):
            self._job = self.window.document.job
            assert self._job is not None
            self.window.layouts.show_found(self._job, found, self.window.prefs.units)
            self.window.status.tell(f"{x.name} stands under Designs (Ctrl+D)")
