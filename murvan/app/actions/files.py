"""Jobs opened, saved and closed, and what is written of them."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox

from murvan.app.actions.beside import Beside
from murvan.app.actions.papers import Papers
from murvan.app.actions.working import Working
from murvan.app.desk import Desk
from murvan.app.document import Recoverable, recoverable
from murvan.app.stations import start
from murvan.model import JobError
from murvan.model.edit import changed

FILTER = "Murvan jobs (*.murvan *.json)"


class Files(Working):
    """Jobs opened, saved and closed, and what is written of them."""

    def __init__(self, window: Desk, beside: Beside, papers: Papers) -> None:
        super().__init__(window, beside, papers)
        self.lost: list[Recoverable] = []

    def commands(self) -> dict[str, Callable[[], object]]:
        return {
            "file.new": self.file_new,
            "file.open": self.file_open,
            "file.demo": self.file_demo,
            "file.bungalow": self.file_bungalow,
            "file.narrow": self.file_narrow,
            "file.recover": self.file_recover,
            "file.save": self.file_save,
            "file.save_as": self.file_save_as,
            "file.close": self.file_close,
            "file.pdf": self.file_pdf,
            "file.xlsx": self.file_xlsx,
            "file.csv": self.file_csv,
            "file.quit": self.file_quit,
            "loads.report": self.loads_report,
        }

    def file_new(self) -> None:
        if not self.may_close():
            return
        job = self.window.draft
        if not job.company:  # typed on a sheet since the draft was begun
            job = changed(job, job.name, company=self.window.prefs.company)
        self.window.draft = start.draft_job(self.window.prefs.company)
        self.window.station_number, self.window.storey = 1, ""
        self.window.document.open_job(job, None)
        self.window.plan.clear()
        self.window.status.hint("Press R and drag the first room; lengths can be typed while you drag")

    def file_open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.window, "Open a job", str(Path.home()), FILTER)
        if name:
            self.open_path(name)

    def file_demo(self) -> None:
        if self.may_close():
            self.open_demo()

    def file_bungalow(self) -> None:
        if self.may_close():
            self.open_demo("bungalow")

    def file_narrow(self) -> None:
        if self.may_close():
            self.open_demo("narrow")

    def file_recover(self) -> None:
        self.refresh_lost()
        if self.lost:
            self.recover(self.lost[0])
        else:
            self.window.status.say("Nothing to recover")

    def file_save(self) -> None:
        self.save()

    def file_save_as(self) -> None:
        self.save(ask=True)

    def file_close(self) -> None:
        if self.may_close():
            self.window.document.close_job()
            self.refresh_lost()
            self.window.refresh()

    def file_pdf(self) -> None:
        from murvan.documents.pdf import write_pdf

        view, units = self.view, self.window.prefs.units
        if view is not None:
            self._write("Write the PDF set", "pdf", lambda p: write_pdf(view.r, view.v, p, units))

    def loads_report(self) -> None:
        from murvan.documents.load_report import write_load_report

        view, units = self.view, self.window.prefs.units
        if view is not None:
            self._write("Write the load report", "pdf", lambda p: write_load_report(view.r, p, units))

    def file_xlsx(self) -> None:
        view, units = self.view, self.window.prefs.units
        if view is not None:
            from murvan.documents.schedules import all_schedules, write_xlsx

            self._write(
                "Write the schedules", "xlsx", lambda p: write_xlsx(all_schedules(view.r, view.v, units), p, units)
            )

    def file_csv(self) -> None:
        name = QFileDialog.getExistingDirectory(self.window, "Folder for the schedules", str(Path.home()))
        view, units = self.view, self.window.prefs.units
        if name and view is not None:
            from murvan.documents.schedules import all_schedules, write_csv

            self.papers.write(
                name,
                lambda: write_csv(all_schedules(view.r, view.v, units), Path(name), units),
                lambda _: f"Wrote the schedules to {name}",
            )

    def file_quit(self) -> None:
        self.window.close()

    def open_path(self, path: str | Path) -> bool:
        """Open a job file; a broken one is refused and the open job stays."""
        if not self.may_close():
            return False
        try:
            notes = self.window.document.open_path(path)
        except JobError as exc:
            self.window.say_refusal(exc)
            return False
        self._opened()
        self.window.prefs.add_recent(str(path))
        for note in notes:
            self.window.status.say(note)
        return True

    def open_demo(self, key: str = "demo") -> None:
        from murvan.demo import demo_job

        self.window.document.open_job(demo_job(key), None, key)
        self._opened()
        self.window.document.select(
            "room",
            self.window.document.job.rooms[0].id
            if self.window.document.job and self.window.document.job.rooms
            else "",
        )

    def open_again(self, path: Path | None, label: str) -> None:
        """The job that was open before; none where it had no file."""
        station = self.window.station_number
        if path is not None:
            self.open_path(str(path))
        elif label:
            self.open_demo(label)
        else:
            self.window.document.close_job()
            return
        self.window.go(station)

    def _opened(self) -> None:
        self.window.station_number, self.window.storey = 1, ""
        self.window.status.clear()
        self.window.punch.hide()
        self.window.keys.hide()
        self.window.plan.fit_next()

    def recover(self, lost: Recoverable) -> None:
        if not self.may_close():
            return
        self.window.document.open_job(lost.job, lost.path, lost.label, recovered=True)
        self.window.document.autosave()
        lost.drop()  # only once it has been put aside again
        self._opened()
        self.window.status.tell("Brought back what was not saved; save it to keep it")

    def refresh_lost(self) -> None:
        self.lost = recoverable()

    def save(self, ask: bool = False) -> bool:
        """Save, asking for a place when there is none. False when it was not saved."""
        kept = self.window.leave_field()
        path = self.window.document.path
        if path is None or ask:
            name = self.ask_path()
            if not name:
                return False
            path = Path(name)
            if path.suffix.lower() not in (".murvan", ".json"):
                path = path.with_name(path.name + ".murvan")
        try:
            self.window.document.save(path)
        except JobError as exc:
            self.window.say_refusal(exc)
            return False
        saved = self.window.document.path or path
        self.window.prefs.add_recent(str(saved))
        if kept and saved == path:
            self.window.status.tell(f"Saved {path.name}")
        return True

    def ask_path(self) -> str:
        job = self.window.document.job
        stem = "".join(ch if ch.isalnum() or ch in " -" else "" for ch in job.name).strip() if job else "job"
        name, _ = QFileDialog.getSaveFileName(
            self.window, "Save the job", str(Path.home() / f"{stem or 'job'}.murvan"), FILTER
        )
        return name

    def may_close(self) -> bool:
        """Whether the open job may go; asks when it is not saved."""
        if not self.window.document.modified:
            return True
        answer = self.ask_save()
        if answer == "save":
            return self.save()
        return answer == "discard"

    def ask_save(self) -> str:
        """'save', 'discard' or 'stay'."""
        job = self.window.document.job
        box = QMessageBox(self.window)
        box.setWindowTitle("Murvan")
        box.setText(f"{job.name if job else 'The job'} has changes that are not saved.")
        keep = box.addButton("Save", QMessageBox.ButtonRole.AcceptRole)
        drop = box.addButton("Close without saving", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Stay", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        return "save" if box.clickedButton() is keep else "discard" if box.clickedButton() is drop else "stay"
