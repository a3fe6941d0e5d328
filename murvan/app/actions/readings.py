"""Readings taken, simulated, imported and forgotten."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QInputDialog

from murvan.app.actions.beside import Beside
from murvan.app.actions.papers import Papers
from murvan.app.actions.training import Train
from murvan.app.actions.working import Working
from murvan.app.desk import Desk
from murvan.app.stations.base import View
from murvan.app.stations.readings import add_traverse, traversed
from murvan.app.stations.readings_targets import Target, after, target
from murvan.app.stations.readings_visit import VISIT, go_to, now, skip, unskip
from murvan.app.traversesheet import Section
from murvan.design import Results
from murvan.field import Visit, read_csv, virtual_house, visit_to
from murvan.field.instruments import Instrument
from murvan.field.places import key_of, run_place
from murvan.field.protocol import stands_for
from murvan.field.readings import Taken, next_id, sheet_csv
from murvan.field.training import Training
from murvan.field.traverse import Tool, Traverse, grid_of
from murvan.field.verdict import counts
from murvan.model import Job, JobError, JobValueError, Reading, insert, replace, with_design
from murvan.units import Units, text

SEED = 42
FILTER = "Murvan jobs (*.murvan *.json)"


class Readings(Working):
    """Readings taken, simulated, imported and forgotten."""

    def __init__(self, window: Desk, beside: Beside, papers: Papers) -> None:
        super().__init__(window, beside, papers)
        self._virtual: Visit | None = None
        self.training: Train | None = None
        self._asked: tuple[str, str, str] | None = None

    def commands(self) -> dict[str, Callable[[], object]]:
        return {
            "readings.next": self.readings_next,
            "readings.simulate": self.readings_simulate,
            "readings.take": self.readings_take,
            "readings.line": self.readings_line,
            "readings.damper": self.readings_damper,
            "readings.forget": self.readings_forget,
            "readings.import": self.readings_import,
            "readings.skip": self.readings_skip,
            "readings.unskip": self.readings_unskip,
            "readings.sheet": self.readings_sheet,
            "readings.traverse": self.readings_traverse,
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
        if view is None or not self.window.document.settled or beside.searcher.busy:
            return
        if self.training is not None and self.training.under_way is not None:
            self._learn(x, self.training.under_way)
            return
        if not self._may_invent(view, x):
            return
        place, taken = x.place, datetime.now().strftime("%a %H:%M")

        def read(r: Results) -> Job:
            try:
                if self._virtual is None or self._virtual.r.network is not r.network:
                    self._virtual = kinked_house(r)
                return insert(r.job, "readings", self._virtual.take(place, next_id(r.job), taken))
            except ValueError:
                raise JobValueError("The virtual house needs a unit, a supply and a return.") from None
            except KeyError:
                raise JobValueError(
                    f"Nothing shows at {x.short} as the house stands, or its plate is not known."
                ) from None

        beside.edit(f"Simulated reading of {x.short}", "Simulating a reading", read)

    def _learn(self, x: Target, t: Training) -> None:
        """The house of a case answers, and its clock goes on."""
        job, taken = self.window.document.job, datetime.now().strftime("%a %H:%M")
        if job is None:
            return

        def read(r: Results) -> Job:
            try:
                return insert(r.job, "readings", t.read(r.job, x.place, next_id(r.job), taken))
            except KeyError:
                raise JobValueError(f"Nothing can be read at {x.short} as the house stands.") from None

        def told(_: Job, __: Job) -> str:
            return f"{x.short}: {t.taken[-1][1]:.1f} min; {t.minutes:.0f} min on site"

        self.beside.edit(f"Reading of {x.short}", f"Reading {x.short}", read, told)

    def readings_next(self) -> None:
        if self.view is None:
            return
        stage = now(self.view) if self.view.lens == VISIT else None
        if stage is not None and not stands_for(stage.step, self.view.job.design.stands):
            go_to(self.view, stage)
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

    def readings_skip(self) -> None:
        """The next step of the visit is left out."""
        stage = now(self.view) if self.view is not None and self.view.lens == VISIT else None
        if stage is None:
            self.window.status.say("Steps are left out on the lens Visit, while one is next")
        else:
            self.window.edit(f"Leave out {stage.step.name.lower()}", lambda job: skip(job, stage.step))

    def readings_unskip(self) -> None:
        """The step that was left out last comes back."""
        job = self.window.document.job
        if job is None or not job.design.skipped:
            self.window.status.say("No step of the visit is left out")
        else:
            self.window.edit("Bring a step back", unskip)

    def readings_traverse(self) -> None:
        """The section of the selected duct, or of the one to the selected register, point by point."""
        view = self.view
        run = traversed(view) if view is not None else None
        if view is None or run is None:
            self.window.status.say("Select a duct, or a register with one, to traverse it")
            return
        place, unit = run_place(run), view.r.systems[run.indoor]
        x = unit.ducts.runs.get(run.id)
        section = Section(
            run.tag, grid_of(run), x.flow_m3_s if x is not None else None, view.r.conditions.density_kg_m3
        )

        def keep(found: Traverse, points: list[float], tool: Tool) -> None:
            self.window.edit(f"Traverse of {run.tag}", lambda job: add_traverse(job, place, found, points, tool))
            said = text("flow", found.flow_m3_s, self.window.prefs.units)
            self.window.status.tell(f"{run.tag}: {said} ± {found.share * 100:.1f} % by {found.count} points")

        self.window.traverse.begin(section, self.window.prefs.units, keep)

    def readings_sheet(self) -> None:
        """The field sheet of the visit, to print or to fill and read back."""
        view = self.view
        if view is None or view.v.count == 0:
            self.window.status.say("Nothing to read yet: no unit is picked")
            return
        suggested = f"{view.job.name or 'Job'} field sheet.pdf"
        filters = "Field sheet to print (*.pdf);;Sheet to fill and read back (*.csv)"
        name, _ = QFileDialog.getSaveFileName(None, "Write the field sheet", suggested, filters)
        if not name:
            return
        r, units, skipped = view.r, self.window.prefs.units, set(view.job.design.skipped)

        def work() -> object:
            from murvan.documents.field_sheet import write_field_sheet

            visit = visit_to(r)
            steps = [x for x in visit.steps if x.id not in skipped]
            if name.lower().endswith(".csv"):
                Path(name).write_text(sheet_csv(steps, r.job.design.stands, units), "utf-8")
                return None
            return write_field_sheet(r, visit, steps, Path(name), units)

        self.papers.write(name, work)

    def readings_line(self) -> None:
        """Ask where instruments listen; the settings keep it."""
        prefs = self.window.prefs
        words = "Host and port, or a serial line such as /dev/ttyUSB0"
        said, ok = QInputDialog.getText(self.window, "Instruments", words, text=prefs.instruments or "127.0.0.1:7215")
        if ok:
            prefs.set(instruments=said.strip()[:200])

    def readings_take(self) -> None:
        """What the instrument reads at the target now."""
        x = target(self.view) if self.view else None
        if x is None:
            self.window.status.say("Select a register or a test hole to read first")
            return
        if not self.window.prefs.instruments:
            self.readings_line()
        address, place = self.window.prefs.instruments, x.place
        if not address or not self.window.document.settled:
            return
        taken = datetime.now().strftime("%a %H:%M")

        def read(r: Results) -> Job:
            with Instrument(address) as line:
                return insert(r.job, "readings", line.read(r.job, place, next_id(r.job), taken))

        self.beside.edit(
            f"Reading of {x.short} by instrument",
            f"Asking the instrument for {x.short}",
            read,
            lambda _, made: _told(x, made, self.window.prefs.units),
        )

    def readings_damper(self) -> None:
        """The move that the card says is made: the drawing knows where the damper stands now, and its register is read next."""
        d = self.view.figures.diagnosis if self.view is not None else None
        if d is None or d.balance is None or not d.balance.moves:
            self.window.status.say("Nothing to balance: no damper is to be moved by these readings")
            return
        m = d.balance.moves[0]
        opening = round(m.opening, 2)
        if self.window.edit(
            f"Damper of {m.tag} to {opening * 100:.0f} %", lambda job: replace(job, "runs", m.run, damper=opening)
        ):
            self.window.select("register", m.register)
            told = text("flow", m.reads_m3_s, self.window.prefs.units)
            self.window.status.tell(f"Damper of {m.tag} at {opening * 100:.0f} %; read it now, {told} is expected")

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
            taken = read_csv(job, text, self.window.prefs.units, self.view.r if self.view is not None else None)
        except JobError as exc:
            self.window.status.say(f"{Path(name).name}: {exc}")
            return False
        if not taken.told:
            return self._keep(taken.readings, Path(name).name)
        self._ask(taken, Path(name).name)
        return False

    def _ask(self, taken: Taken, name: str) -> None:
        """All that has to be settled in a file; nothing of it is taken before."""
        n, left = len(taken.plain), len(taken.faults) + len(taken.asked)
        if n == 0:
            self.window.status.say(f"{name}: {taken.told[0]}" + (f", and {left - 1} more" if left > 1 else ""))
            return
        title = f"{name}: {left} line{'s' if left > 1 else ''} to settle"
        does = f"Leave {'them' if left > 1 else 'it'} out, take the other {n}"

        def go() -> None:
            self._keep(taken.plain, name)

        self.window.asking.ask(title, does, taken.told, go)

    def _keep(self, readings: tuple[Reading, ...], name: str) -> bool:
        job = self.window.document.job
        if job is None:
            return False
        done = self.window.edit(f"Import {len(readings)} readings", lambda job: insert(job, "readings", *readings))
        if done:
            was = {key_of(r) for r in job.design.readings if counts(job, r)}
            n = len({key_of(r) for r in readings} & was)
            instead = f"; {n} of them count instead of what was read there" if n else ""
            self.window.status.tell(f"Took {len(readings)} readings from {name}{instead}")
        return done


def _told(x: Target, made: Job, units: Units) -> str:
    """'B4: 35 cfm, Flow hood 1, simulated'."""
    last = made.design.readings[-1]
    words = f"{x.short}: {text(x.kind, last.value, units)}, {last.instrument or 'instrument'}"
    return words + (", simulated" if last.simulated else "")


def kinked_house(r: Results) -> Visit:
    """A virtual installed house with one seeded fault: a kinked flex. Raises ValueError as `Visit`."""
    place = _fault_place(r)
    return virtual_house(r, (f"kink:{place}:3",) if place else (), SEED)


def _fault_place(r: Results) -> str:
    """The flex run that is hardest to lay: tightest under the roof, then the longest; '' without flex."""
    flex = [x for x in r.runs.values() if x.run.made_of.bends and x.ends_in and x.run.side == "supply"]
    return min(flex, key=lambda x: (x.run.under_roof_m or 9.0, -x.length_m)).run.id if flex else ""
