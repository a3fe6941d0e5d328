"""What the commands share: jobs in, files out, wrong input in one line."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from murvan.model.atomic import write_atomic
from murvan.model.errors import JobError
from murvan.model.files import opened
from murvan.model.job import Job

if TYPE_CHECKING:
    from murvan.design import Results

T = TypeVar("T")


class InputError(Exception):
    """Wrong input; its text is the one line shown."""


def add_units(sub: argparse.ArgumentParser) -> None:
    """Units that figures are shown and taken in."""
    sub.add_argument("--units", choices=("ip", "si"), default="ip")


def open_job(name: str) -> Job:
    """A job by its file, or a demo by its word; what was mended on opening is said. Raises JobError."""
    from murvan.demo import BY_KEY, demo_job

    if name in BY_KEY:
        return demo_job(name)
    found = opened(name)
    for note in found.notes:
        print(f"murvan: {note}", file=sys.stderr)
    return found.job


def text_of(name: str) -> str:
    """What a file holds. Raises InputError where that is no text, OSError where it can't be read."""
    try:
        return Path(name).read_text("utf-8")
    except UnicodeDecodeError:
        raise InputError(f"{name} is not a text file") from None


def computed(job: Job) -> Results:
    """Raises InputError when Murvan can't compute the job."""
    from murvan.design import solve

    return guarded(job, lambda: solve(job))


def guarded(job: Job, work: Callable[[], T]) -> T:
    """What comes of working on a job. Raises InputError when Murvan can't compute it, JobError as it comes."""
    try:
        return work()
    except (JobError, InputError):
        raise
    except Exception as trouble:
        raise InputError(f"{job.name} can't be computed ({type(trouble).__name__}: {trouble})") from None


def put(file: str, whole: str) -> None:
    """Text into a file; - is standard output."""
    if file == "-":
        sys.stdout.write(whole)
        return
    write_whole(Path(named(file)), lambda p: p.write_text(whole, "utf-8"))
    print(f"Wrote {file}")


def named(name: str) -> str:
    """A name for an output. Raises InputError for an empty one."""
    if not name.strip():
        raise InputError("an output has an empty name")
    return name


def check_outputs(args: argparse.Namespace, *names: str) -> None:
    """Refuse outputs without a name, onto the job itself, or onto each other."""
    taken = {os.path.realpath(args.job): "the job itself"}
    for name in names:
        given = getattr(args, name)
        if given is None or given == "-":
            continue
        place = os.path.realpath(named(given))
        if place in taken:
            raise InputError(f"--{name} {given} is {taken[place]}; name another file")
        taken[place] = f"what --{name} names"


def write_whole(path: Path, write: Callable[[Path], object]) -> None:
    """A file as a whole or not at all. Raises InputError: there is no such folder."""
    if not path.parent.is_dir():
        raise InputError(f"there is no folder {path.parent}")
    write_atomic(path, write)
