"""The open job: edits with undo, solving in the background, saving, autosave and recovery."""

from __future__ import annotations

import fcntl
import hashlib
import json
import os
import secrets
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, replace
from pathlib import Path
from typing import IO, Literal

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from murvan.app import pictures
from murvan.design import Results, propose, solve
from murvan.field import Diagnosis, House, Protocol, Verdict, diagnose, house, verdict, visit_to
from murvan.field.diagnosing import enough, sections, states
from murvan.field.proven import Proven, proven
from murvan.machine import home
from murvan.model import Job, JobError, save_job
from murvan.model.atomic import write_atomic
from murvan.model.files import job_from_raw, job_text, load_pictures, opened, pictures_of
from murvan.model.record import Ref

AUTOSAVE_MS = 1500
STALE_AFTER_MS = 150
SUSPECTS_AFTER_S = 0.25


Wanted = Literal["", "study", "zones", "visit"]


@dataclass(frozen=True)
class Figures:
    """Everything shown of one state of the job."""

    results: Results
    verdict: Verdict
    diagnosis: Diagnosis | None
    """What the readings say; None with too few of them, or not worked out yet."""
    seconds: float
    study: propose.Study | None = None
    """What if; of an earlier state of the job until it is worked out anew."""
    zones: propose.ZoneStudy | None = None
    """The same of zones."""
    visit: Protocol | None = None
    """What a visit reads, the same."""
    proven: Proven = Proven()


def _known(figures: Figures, wanted: Wanted, job: Job) -> bool:
    """Whether what is wanted is worked out to its end for a job."""
    if wanted == "zones":
        return figures.zones is not None and figures.zones.job is job and figures.zones.schools is not None
    if wanted == "visit":
        return figures.visit is not None and figures.visit.job is job
    return figures.study is not None and figures.study.job is job


class _Edit(QUndoCommand):
    def __init__(self, document: JobDocument, name: str, before: Job, after: Job) -> None:
        super().__init__(name)
        self._document, self.before, self.after = document, before, after

    def redo(self) -> None:
        self._document._take(self.after)

    def undo(self) -> None:
        self._document._take(self.before)


class _Worker(QObject):
    """One background thread; a newer job replaces one that waits, and old answers are dropped."""

    done = pyqtSignal(object, object)

    def __init__(self) -> None:
        super().__init__()
        self._wake = threading.Condition()
        self._waiting: Job | None = None
        self._stop = False
        self._last: Figures | None = None
        self._house: tuple[tuple[object, ...], House] | None = None
        self._stood: tuple[object, ...] = ()
        """States of the house that it is solved in, and sections that were traversed."""
        self.wants: Wanted = ""
        self.learning = False
        self._thread = threading.Thread(target=self._loop, name="murvan-solve", daemon=True)
        self._thread.start()

    def ask(self, job: Job) -> None:
        with self._wake:
            self._waiting = job
            self._wake.notify()

    def stop(self) -> None:
        with self._wake:
            self._stop = True
            self._wake.notify()
        self._thread.join(timeout=5)

    def _loop(self) -> None:
        while True:
            with self._wake:
                while self._waiting is None and not self._stop:
                    self._wake.wait()
                if self._stop:
                    return
                job = self._waiting
                self._waiting = None
            assert job is not None
            try:
                start = time.perf_counter()
                figures = self._figures(job, start)
                self._last = figures
                self._tell(job, figures)
                if figures.diagnosis is None and not self.learning and enough(job) and self._quiet():
                    self._diagnose(job)
                if self.wants and not _known(self._last, self.wants, job):
                    self._study(job, self._last, self.wants)
            except Exception as exc:  # a job Murvan can't compute must not end the thread
                self._tell(job, exc)

    def _diagnose(self, job: Job) -> None:
        """What the readings say; the house with all its faults is kept while its ducts are."""
        assert self._last is not None
        r = self._last.results
        key = (r.network, job.design.runs, job.design.registers, job.design.indoor_units)
        stood = (*states(job), *sorted(sections(job)))
        same = self._house is not None and all(a is b for a, b in zip(self._house[0], key, strict=True))
        if self._house is None or not same or self._stood != stood:
            kept = self._house[1] if self._house is not None and same else None
            found = house(r, self._interrupted, kept)
            if found is None:
                return
            self._house, self._stood = (key, found), stood
        said = diagnose(self._house[1], job)
        if said is not None and not self._interrupted():
            self._last = replace(self._last, diagnosis=said)
            self._tell(job, self._last)

    def _study(self, job: Job, figures: Figures, wanted: Wanted) -> None:
        """What the station shown wants besides figures."""
        if wanted == "zones":
            for zones in propose.zone_study(figures.results, cancelled=self._interrupted):
                self._last = replace(self._last or figures, zones=zones)
                self._tell(job, self._last)
            return
        if wanted == "visit":
            self._last = replace(self._last or figures, visit=visit_to(figures.results))
            self._tell(job, self._last)
            return
        if not self._quiet():
            return
        found = propose.study(figures.results, cancelled=self._interrupted)
        if found is not None:
            self._last = replace(figures, study=found)
            self._tell(job, self._last)

    def _interrupted(self) -> bool:
        return self._waiting is not None or self._stop

    def _quiet(self) -> bool:
        """Whether no new job comes in for a moment: suspects cost more than figures and can wait."""
        with self._wake:
            self._wake.wait_for(self._interrupted, timeout=SUSPECTS_AFTER_S)
        return not self._interrupted()

    def _figures(self, job: Job, start: float) -> Figures:
        previous = self._last.results if self._last else None
        results = solve(job, previous, watch=True).complete()
        same = previous is not None and previous.network is results.network and self._last is not None
        old = (
            self._last.diagnosis
            if same and self._last and self._last.results.job.design.readings == job.design.readings
            else None
        )
        last = self._last
        study, zones, visit = (last.study, last.zones, last.visit) if last is not None else (None, None, None)
        told, shown = verdict(job, results), proven(job, results)
        return Figures(results, told, old, time.perf_counter() - start, study, zones, visit, shown)

    def _tell(self, job: Job, outcome: object) -> None:
        if not self._stop:
            self.done.emit(job, outcome)


class JobDocument(QObject):
    """The open job and what is known of it. Emits `changed` for any new job or figures."""

    changed = pyqtSignal()
    selected = pyqtSignal()
    opened = pyqtSignal()
    """Another job is open, or none."""
    message = pyqtSignal(str)
    refused = pyqtSignal(object)
    saved = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.job: Job | None = None
        self.figures: Figures | None = None
        self.path: Path | None = None
        self.label = ""
        self.selection: Ref | None = None
        self.stale = False
        self.trouble = ""
        self.edit_started = 0.0
        self.last_edit_seconds = 0.0
        self.stack = QUndoStack(self)
        self.stack.setUndoLimit(500)
        self._recovered = False
        self._stamp = ""
        """Of the file as it was opened or saved last; '' where that is not known."""
        self._kept: Job | None = None
        self._aside = Aside()
        self._worker = _Worker()
        self._worker.done.connect(self._landed)
        self._autosave = QTimer(self)
        self._autosave.setSingleShot(True)
        self._autosave.setInterval(AUTOSAVE_MS)
        self._autosave.timeout.connect(self.autosave)
        self._stale_timer = QTimer(self)
        self._stale_timer.setSingleShot(True)
        self._stale_timer.setInterval(STALE_AFTER_MS)
        self._stale_timer.timeout.connect(self._mark_stale)

    # ---- the job ----

    @property
    def modified(self) -> bool:
        return self.job is not None and (self._recovered or not self.stack.isClean())

    @property
    def learning(self) -> bool:
        """Somebody is to find what is wrong: suspects stay hidden."""
        return self._worker.learning

    @learning.setter
    def learning(self, on: bool) -> None:
        self._worker.learning = on

    def open_job(self, job: Job, path: Path | None, label: str = "", recovered: bool = False) -> None:
        """Take a job that has been read completely; the old one is let go only now."""
        self._drop_autosave()
        self._kept = None
        self.job, self.path, self.label, self._recovered = job, path, label, recovered
        self._stamp = ""
        self.figures, self.selection, self.trouble = None, None, ""
        self.stack.clear()
        self.opened.emit()
        self._ask()
        self.changed.emit()

    def open_path(self, path: str | Path) -> tuple[str, ...]:
        """Open a job file; what of it means something else now, in words. Raises JobError; the open job is then untouched."""
        file = Path(path)
        stamp = stamp_of(file)
        found = opened(file)
        job = found.job
        self.open_job(pictures.keep_all(job, load_pictures(file, pictures_of(job))), file)
        self._stamp = stamp
        return found.notes

    def close_job(self) -> None:
        self._drop_autosave()
        self._kept = None
        self.job, self.figures, self.path, self.selection = None, None, None, None
        self._recovered = False
        self.stack.clear()
        self.opened.emit()
        self.changed.emit()

    def edit(self, name: str, change: Callable[[Job], Job]) -> bool:
        """Apply a pure edit as one undo step. A refused value says so and changes nothing."""
        self.try_out(None)
        if self.job is None:
            return False
        before = self.job
        try:
            after = change(before)
        except JobError as exc:
            self.refused.emit(exc)
            return False
        if after == before:
            return True
        self.stack.push(_Edit(self, name, before, after))
        return True

    # ---- a stroke under way ----

    @property
    def trying(self) -> bool:
        """Whether the job shown is only tried out by a stroke on the plan."""
        return self._kept is not None

    def try_out(self, job: Job | None) -> None:
        """Show the job a stroke would make, without a step to undo; None goes back to the job itself."""
        if self.job is None or (job is None and self._kept is None):
            return
        if self._kept is None:
            self._kept = self.job
        before, self.job = self.job, self._kept if job is None else job
        if job is None:
            self._kept = None
        if self.job is not before:
            self._ask()
            self.changed.emit()

    def _take(self, job: Job) -> None:
        self.job = job
        self._ask()
        self._autosave.start()
        self.changed.emit()

    def _ask(self) -> None:
        if self.job is not None:
            self.edit_started = time.perf_counter()
            self.trouble = ""
            self._worker.ask(self.job)
            self._stale_timer.start()

    def work_out_again(self) -> None:
        """Compute the same job anew, when the user's own units have changed."""
        self._ask()

    def want(self, wanted: Wanted) -> None:
        """What is worked out after each edit besides figures: it costs more than they do and comes after them."""
        fresh = bool(wanted) and wanted != self._worker.wants
        self._worker.wants = wanted
        if fresh and self.job is not None and (self.figures is None or not _known(self.figures, wanted, self.job)):
            self._worker.ask(self.job)

    def _mark_stale(self) -> None:
        self.stale = True
        self.changed.emit()

    def _landed(self, job: Job, outcome: object) -> None:
        if job is not self.job:
            return
        self._stale_timer.stop()
        self.stale = False
        if isinstance(outcome, Figures):
            self.figures, self.trouble = outcome, ""
            self.last_edit_seconds = time.perf_counter() - self.edit_started
        else:
            self.trouble = f"Murvan could not compute this job: {outcome}"
            self.message.emit(self.trouble)
        self.changed.emit()

    @property
    def settled(self) -> bool:
        """Whether the figures belong to the present job."""
        return (
            self.job is None
            or bool(self.trouble)
            or (self.figures is not None and self.figures.results.job is self.job)
        )

    # ---- selection ----

    def select(self, kind: str, item_id: str) -> None:
        chosen = Ref(kind, item_id)
        if chosen != self.selection:
            self.selection = chosen
            self.selected.emit()

    # ---- files ----

    def save(self, path: str | Path | None = None) -> None:
        """A file that another window or program has changed since it was opened stays as it is: the job goes beside it.

        Raises:
            JobError: it can't be written.
            ValueError: there is no path.
        """
        self.try_out(None)
        target = Path(path) if path else self.path
        if target is None or self.job is None:
            raise ValueError("no place to save to")
        theirs = target if self._changed_since(target) else None
        if theirs is not None:
            target = beside(theirs)
        save_job(self.job, target, pictures=pictures.of_job(self.job))
        self._stamp = stamp_of(target)
        if theirs is not None:
            self.message.emit(
                f"{theirs.name} has changed on disk since: it is kept, and yours is saved as {target.name}"
            )
        if target.suffix.lower() == ".json" and pictures_of(self.job):
            self.message.emit("Pictures are kept only in .murvan files; this .json has none")
        self._drop_autosave()
        self.path, self.label, self._recovered = target, "", False
        self.stack.setClean()
        self.saved.emit()
        self.changed.emit()

    def _changed_since(self, target: Path) -> bool:
        """Whether the open job's own file is another one than was opened or saved last."""
        if self.path is None or not self._stamp or os.path.realpath(target) != os.path.realpath(self.path):
            return False
        now = stamp_of(target)
        return bool(now) and now != self._stamp

    def autosave(self) -> str:
        """Write the unsaved job aside, so that a crash loses nothing; returns the time of day, '' when nothing was."""
        job = self._kept or self.job
        if job is None or not self.modified:
            return ""
        envelope = {
            "path": str(self.path) if self.path else "",
            "label": self.label,
            "when": time.time(),
            "job": json.loads(job_text(job)),
        }
        try:
            self._aside.write(json.dumps(envelope))
        except OSError as exc:
            self.message.emit(f"Autosave did not work: {exc.strerror}")
            return ""
        return time.strftime("%H:%M")

    def _drop_autosave(self) -> None:
        self._autosave.stop()
        self._aside.drop()

    def shut_down(self) -> None:
        self._autosave.stop()
        self._stale_timer.stop()
        self._worker.stop()
        self._aside.let_go()


def stamp_of(file: Path) -> str:
    """What tells a file's contents from others; '' where there is none to read."""
    try:
        return hashlib.sha256(file.read_bytes()).hexdigest()
    except OSError:
        return ""


def beside(file: Path) -> Path:
    """A name beside a file that none has yet: 'house, yours.murvan'."""
    names = (file.with_name(f"{file.stem}, yours{k}{file.suffix}") for k in ("", *(f" {n}" for n in range(2, 1000))))
    return next(x for x in names if not x.exists())


class Aside:
    """The autosave of one window, its own from the first one to the last; held by a lock as long as the window lives."""

    def __init__(self) -> None:
        self.file: Path | None = None
        self._lock: IO[bytes] | None = None

    def write(self, text: str) -> None:
        """Raises OSError."""
        if self.file is None:
            folder = home() / "autosave"
            folder.mkdir(parents=True, exist_ok=True)
            file = folder / f"{secrets.token_hex(8)}.json"
            lock = lock_of(file).open("ab")
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            self.file, self._lock = file, lock
        write_atomic(self.file, lambda p: p.write_text(text, "utf-8"), private=True)

    def drop(self) -> None:
        """The job is safe elsewhere, or gone."""
        if self.file is not None:
            with suppress(OSError):
                self.file.unlink(missing_ok=True)

    def let_go(self) -> None:
        """The window closes; what it put aside, if anything, may be brought back by another."""
        if self.file is not None and self._lock is not None:
            with suppress(OSError):
                lock_of(self.file).unlink(missing_ok=True)
            self._lock.close()
        self.file, self._lock = None, None


def lock_of(file: Path) -> Path:
    return file.with_suffix(".lock")


def _held(file: Path) -> bool:
    """Whether a window that lives has put this aside."""
    try:
        with lock_of(file).open("rb") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except FileNotFoundError:
        return False
    except OSError:
        return True
    return False


@dataclass(frozen=True)
class Recoverable:
    """An autosaved job whose window closed without saving."""

    file: Path
    job: Job
    path: Path | None
    label: str
    when: float

    @property
    def outdated(self) -> bool:
        """Whether its file has been saved since."""
        try:
            return self.path is not None and self.path.stat().st_mtime > self.when
        except OSError:
            return False

    def drop(self) -> None:
        """Take it off the disk."""
        with suppress(OSError):
            self.file.unlink(missing_ok=True)
            lock_of(self.file).unlink(missing_ok=True)


def recoverable() -> list[Recoverable]:
    """Autosaved jobs of windows that ended without closing, newest first; unreadable ones are passed over."""
    out = []
    for file in sorted((home() / "autosave").glob("*.json")):
        if file.name.startswith(".") or _held(file):
            continue
        try:
            raw = json.loads(file.read_text("utf-8"))
            job = job_from_raw(raw["job"], file.name)
            out.append(
                Recoverable(
                    file, job, Path(raw["path"]) if raw["path"] else None, str(raw["label"]), float(raw["when"])
                )
            )
        except (OSError, ValueError, KeyError, TypeError, JobError):
            continue
    return sorted(out, key=lambda r: -r.when)
