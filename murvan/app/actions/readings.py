"""Readings taken, simulated, imported and forgotten."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from murvan.app.actions.beside import Beside
from murvan.app.actions.papers import Papers
from murvan.app.actions.working import Working
from murvan.app.desk import Desk
from murvan.app.stations.base import View
from murvan.app.stations.readings_targets import Target, after, target
from murvan.design import Results
from murvan.field import Fault, VirtualHouse, import_csv
from murvan.field.readings import next_id
from murvan.field.verdict import counts
from murvan.model import Job, JobError, JobValueError, insert, with_design

FILTER = "Murvan jobs (*.murvan *.json)"


class Readings(Working):
    """Readings taken, simulated, imported and forgotten."""

    def __init__(self, window: Desk, beside: Beside, papers: Papers) -> None:
        super().__init__(window, beside, papers)
        self._virtual: VirtualHouse | None = None
        self._asked: tuple[str, str, str] | None = None

    def commands(self) -> dict[str, Callable[[], object]]:
        return {
            "readings.next": self.readings_next,
            "readings.simulate": self.readings_simulate,
            "readings.forget": self.readings_forget,
            "readings.import": self.readings_import,
        }

    def _may_invent(self, view: View, x: Target) -> bool:
        """Whether readings may be invented: asked once a job by the key pressed twice, and each time once it has real ones."""
        job = view.job
        real = any(not r.simulated for r in job.design.readings)
        asked = (job.name, job.number, str(len(job.design.readings)) + x.place.word if real else "")
        if (not real and job.design.readings) or self._asked == asked:
            return True
        self._asked = asked
        self.window.status.say(
            f"This job has real readings; a simulated one of {x.short} would be kept beside them and not count. Press again to do it."
            if real
            else "This would invent a reading of a virtual house, marked simulated everywhere. Press again to do it."
        )
        return False

    def _simulate(self, x: Target) -> None:
        view, beside = self.view, self.beside
        if view is None or not self.window.document.settled or beside.searcher.busy or not self._may_invent(view, x):
            return
        place, taken = x.place, datetime.now().strftime("%a %H:%M")

        def read(r: Results) -> Job:
            try:
                if self._virtual is None or self._virtual.results.network is not r.network:
                    self._virtual = virtual_house(r)
                return insert(r.job, "readings", self._virtual.take(place, next_id(r.job), taken))
            except (ValueError, KeyError):
                raise JobValueError("The virtual house needs a unit, a supply and a return.") from None

        beside.edit(f"Simulated reading of {x.short}", "Simulating a reading", read)

    def readings_next(self) -> None:
        if self.view is None:
            return
        here, left = target(self.view), after(self.view, self.view.job)
        x = here if here is not None and here.measured is None else left[0] if left else here
        if x is not None:
            self.window.select(*x.key)
            self._simulate(x)

    def readings_simulate(self) -> None:
        x = target(self.view) if self.view else None
        if x is not None:
            self._simulate(x)
        else:
            self.window.status.say("Select a register to read first")

    def readings_forget(self) -> None:
        x = target(self.view) if self.view else None
        if x is None or x.reading is None:
            self.window.status.say("There is no reading here to forget")
            return
        last = x.reading.id
        self.window.edit(
            f"Forget reading of {x.short}",
            lambda job: with_design(job, readings=tuple(r for r in job.design.readings if r.id != last)),
        )

    def readings_import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.window, "Import readings", str(Path.home()), "CSV (*.csv *.txt)")
        if name:
            self.import_readings(name)

    def import_readings(self, name: str) -> bool:
        """Readings from a CSV file as one undo step; all or none."""
        text = self._read_text(name)
        job = self.window.document.job
        if text is None or job is None:
            return False
        try:
            readings = import_csv(job, text, self.window.prefs.units)
        except JobError as exc:
            self.window.status.say(f"{Path(name).name}: {exc}")
            return False
        done = self.window.edit(f"Import {len(readings)} readings", lambda job: insert(job, "readings", *readings))
        if done:
            was = {(r.at, r.hole, r.quantity) for r in job.design.readings if counts(job, r)}
            n = len({(r.at, r.hole, r.quantity) for r in readings} & was)
            instead = f"; {n} of them count instead of what was read there" if n else ""
            self.window.status.tell(f"Took {len(readings)} readings from {Path(name).name}{instead}")
        return done


def virtual_house(r: Results) -> VirtualHouse:
    """A virtual installed house with one seeded fault: a kinked flex."""
    place = _fault_place(r)
    faults = (Fault("kinked_flex", place, 3.0),) if place else ()
    return VirtualHouse(r, faults, seed=42)


def _fault_place(r: Results) -> str:
    """The flex run that is hardest to lay: tightest under the roof, then the longest; '' without flex."""
    flex = [x for x in r.runs.values() if x.run.made_of.bends and x.ends_in and x.run.side == "supply"]
    return min(flex, key=lambda x: (x.run.under_roof_m or 9.0, -x.length_m)).run.id if flex else ""
