"""What would you put in: designs offered, taken up, kept as options."""

from __future__ import annotations

from collections.abc import Callable

from murvan.app.actions.base import CommandGroup
from murvan.app.desk import Desk
from murvan.app.searcher import Searcher
from murvan.design import propose as proposing
from murvan.model import Job


class Offering(CommandGroup):
    """Designs offered for the house as it stands."""

    def __init__(self, window: Desk) -> None:
        super().__init__(window)
        self.searcher = Searcher("murvan-propose")
        self.searcher.progress.connect(self._progress)
        self.searcher.done.connect(self._done)

    def commands(self) -> dict[str, Callable[[], object]]:
        return {"equipment.propose": self.propose}

    def propose(self) -> None:
        sheet, job = self.window.offers, self.window.document.job
        if sheet.isVisible():
            sheet.close_sheet()
        elif job is not None:
            self.window.leave_sheets()
            sheet.open_sheet()
            self.follow(job)

    def follow(self, job: Job | None) -> None:
        """Work out anew when the house has changed under the sheet."""
        sheet = self.window.offers
        if job is None:
            sheet.hide()
        elif job is not sheet.job or sheet.units != self.window.prefs.units:
            if job is sheet.job and sheet.found:
                sheet.show_found(job, sheet.found, self.window.prefs.units)
                return
            sheet.wait(job, "Working out designs …")
            self.searcher.ask(lambda step: proposing.proposals(job, step))

    def closed(self) -> None:
        """Esc: what is under way is dropped, what was found stays."""
        self.searcher.stop()
        if not self.window.offers.found:
            self.window.offers.job = None
        self.window.centralWidget().setFocus()  # type: ignore[union-attr]

    def _progress(self, number: int, k: int, of: int) -> None:
        sheet = self.window.offers
        if number == self.searcher.number and sheet.job is not None:
            sheet.wait(sheet.job, f"Working out designs, {k} of {of} · Esc stops")

    def _done(self, number: int, found: object) -> None:
        sheet = self.window.offers
        if not self.searcher.wanted(number) or sheet.job is None:
            return
        if isinstance(found, tuple):
            sheet.show_found(sheet.job, found, self.window.prefs.units)
        else:
            sheet.wait(sheet.job, f"No design could be worked out: {found}")

    def take(self, index: int) -> None:
        """One step to undo: the design is worked on, what was stays as an option."""
        p = self.window.offers.found[index]
        if self.window.edit(f"Take up {p.name}"[:80], lambda job: proposing.taken_up(job, p)):
            self.window.offers.close_sheet()
            self._select_picked()
            self.window.status.tell(f"{p.name} is worked on; what was stays under Designs (Ctrl+D)")

    def _select_picked(self) -> None:
        """The first unit of the design taken up is in hand, with its card."""
        job = self.window.document.job
        first = next((x for x in job.design.indoor_units if x.unit is not None), None) if job is not None else None
        if first is not None and first.unit is not None:
            self.window.unit = first.id
            self.window.select("unit", first.unit)

    def keep(self, index: int) -> None:
        """One step to undo: the design stands among those set aside."""
        p = self.window.offers.found[index]
        found = self.window.offers.found
        if self.window.edit(f"Keep {p.name} as an option"[:80], lambda job: proposing.as_option(job, p)):
            job = self.window.document.job
            assert job is not None
            self.window.offers.show_found(job, found, self.window.prefs.units)  # the house is the same
            self.window.status.tell(f"{p.name} stands under Designs (Ctrl+D)")
