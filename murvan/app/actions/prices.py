"""The book of prices: kept on this machine, taken from it, read from and written as CSV."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from murvan.app.actions.working import Working
from murvan.catalog import CatalogError, keep_prices, own_prices, prices_csv, prices_from_csv
from murvan.model import Job
from murvan.model.edit import changed
from murvan.model.prices import PriceBook


class Prices(Working):
    """What is done with the book of prices of a job."""

    def commands(self) -> dict[str, Callable[[], object]]:
        return {
            "build.keep_prices": self.keep,
            "build.own_prices": self.take_own,
            "build.read_prices": self.read,
            "build.write_prices": self.write,
        }

    def keep(self) -> None:
        """The prices of this job, for all jobs of this machine that take them."""
        job = self.window.document.job
        if job is None:
            return
        try:
            said = keep_prices(job.prices)
        except OSError as exc:
            self.window.status.say(f"Can't keep them: {exc.strerror or exc}")
            return
        kept = f"{job.prices.name} can be taken into every job on this machine now"
        (self.window.status.say if said else self.window.status.tell)(f"{said}. {kept}" if said else kept)

    def take_own(self) -> None:
        """The prices kept on this machine."""
        book = own_prices()
        if book is None:
            self.window.status.say("No prices are kept on this machine yet")
            return
        self._take(book, f"The prices are those of {book.name} now")

    def read(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.window, "Read prices", str(Path.home()), "CSV (*.csv *.txt)")
        if name:
            self.read_file(name)

    def read_file(self, name: str) -> bool:
        """A book from a CSV file; with a fault in it the last one stays."""
        text = self._read_text(name)
        if text is None:
            return False
        try:
            book = prices_from_csv(text, Path(name).stem)
        except CatalogError as exc:
            faults = str(exc).splitlines()
            more = f" (and {len(faults) - 3} more)" if len(faults) > 3 else ""
            self.window.status.say(f"{Path(name).name}: {'; '.join(faults[:3])}{more}. The prices stay as they were")
            return False
        return self._take(book, f"Took the prices of {Path(name).name}")

    def write(self) -> None:
        """The book as CSV."""
        job = self.window.document.job
        if job is not None:
            text = prices_csv(job.prices, self.window.prefs.units)
            self._write("Write prices", "csv", lambda p: p.write_text(text, "utf-8"))

    def _take(self, book: PriceBook, told: str) -> bool:
        def edit(job: Job) -> Job:
            return changed(job, job.name, prices=book)

        done = self.window.edit("Take prices", edit)
        if done:
            self.window.status.tell(told)
        return done
