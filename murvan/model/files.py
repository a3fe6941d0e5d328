"""Opening and saving jobs: a `.murvan` zip with `job.json`, or that JSON alone.

Saving writes beside the target, flushes to disk and renames, and keeps the previous copy. Opening checks
every member's name and size before anything is read.
"""

from __future__ import annotations

import json
import os
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from typing import Any

from pydantic import ValidationError

from murvan.model.atomic import keep_copy, write_atomic
from murvan.model.errors import JobFileError, JobValueError
from murvan.model.job import FORMAT_VERSION, Job
from murvan.model.migrations import MIGRATIONS, OLDEST, renamed, without_old_default
from murvan.model.old_ticks import lifted
from murvan.model.words import first_problem

MAX_JSON_BYTES = 64 * 1024 * 1024
MAX_MEMBER_BYTES = 256 * 1024 * 1024
MAX_TOTAL_BYTES = 1024 * 1024 * 1024
MAX_MEMBERS = 5000
PICTURE_FOLDERS = ("plans/", "photos/")
MAX_RATIO = 400
"""A JSON job packs about tenfold; far beyond that the member is not a job."""


@dataclass(frozen=True)
class Opened:
    """A job as it was read, with what of it means something else now, in words."""

    job: Job
    notes: tuple[str, ...] = ()


def load_job(path: str | os.PathLike[str]) -> Job:
    """Open a `.murvan` or `.json` job. Raises as `opened`."""
    return opened(path).job


def opened(path: str | os.PathLike[str]) -> Opened:
    """Open a `.murvan` or `.json` job, with a word on what became of an older one.

    Raises:
        JobFileError: no such file, empty, truncated, not a job, or unsafe members.
        JobValueError: a value in it is refused.
    """
    file = Path(path)
    text = _read_text(file)
    try:
        raw = json.loads(text, parse_constant=_no_constant)
    except (ValueError, RecursionError) as exc:
        why = "a number of thousands of digits" if "int_max_str_digits" in str(exc) else exc
        raise JobFileError(f"{file.name} is not a Murvan job: its job.json is not JSON ({why}).") from None
    return opened_raw(raw, file.name)


def job_from_raw(raw: Any, label: str = "The file") -> Job:
    """A job from parsed JSON. Raises as `opened_raw`."""
    return opened_raw(raw, label).job


def opened_raw(raw: Any, label: str = "The file") -> Opened:
    """A job from parsed JSON, lifted to the present format. Raises JobFileError or JobValueError."""
    if not isinstance(raw, dict) or "format_version" not in raw or "rooms" not in raw:
        raise JobFileError(f"{label} is not a Murvan job: it has no format version and rooms.")
    version = raw["format_version"]
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise JobFileError(f"{label} is not a Murvan job: its format version is not a whole number.")
    if version > FORMAT_VERSION:
        raise JobFileError(
            f"{label} was written by a newer Murvan (format {version}; this one reads up to {FORMAT_VERSION})."
        )
    if version < OLDEST:
        raise JobFileError(
            f"{label} is of format {version}, which was never released; this Murvan reads {OLDEST} to {FORMAT_VERSION}."
        )
    for old in range(version, FORMAT_VERSION):
        raw = MIGRATIONS[old](raw)
    notes: tuple[str, ...] = ()
    if version < 4:
        raw, notes = without_old_default(raw)
    try:
        job, ticked = lifted(Job.model_validate(renamed(raw)))
        return Opened(job, (*notes, *ticked))
    except ValidationError as exc:
        raise JobValueError(first_problem(exc, raw, label)) from None
    except OverflowError:
        raise JobFileError(f"{label}: a number in it is too large to be of a house.") from None


def job_text(job: Job) -> str:
    """The job as JSON text."""
    return json.dumps(job.model_dump(mode="json"), indent=1, ensure_ascii=False, allow_nan=False) + "\n"


def pictures_of(job: Job) -> set[str]:
    """Names of the plans and photographs a job refers to, as they stand in its file."""
    return {u.file for u in job.underlays} | {p for e in job.existing for p in e.photos}


def load_pictures(path: str | os.PathLike[str], names: set[str]) -> dict[str, bytes]:
    """The plans and photographs of those names in a job file, as far as they can be read; none in a plain `.json`."""
    file = Path(path)
    if not names or not _is_zip(file):
        return {}
    out: dict[str, bytes] = {}
    with zipfile.ZipFile(file) as pack:
        _check_members(file.name, pack)
        for info in pack.infolist():
            if info.filename in names and info.filename.startswith(PICTURE_FOLDERS):
                try:
                    out[info.filename] = pack.read(info)
                except Exception:  # damaged, encrypted or packed by an unknown method: the picture is missing then
                    continue
    return out


def _is_zip(file: Path) -> bool:
    try:
        return file.is_file() and zipfile.is_zipfile(file)
    except (OSError, ValueError):
        return False


def save_job(
    job: Job, path: str | os.PathLike[str], *, keep_previous: bool = True, pictures: Mapping[str, bytes] | None = None
) -> None:
    """Write a job, `.json` plain and anything else as a zip; the old file survives any failure.

    `pictures` go into the file beside what is in it already; plans the job no longer refers to go.

    Raises:
        JobFileError: the place can't be written.
    """
    file = Path(path)
    plain = file.suffix.lower() == ".json"
    wanted = pictures_of(job)
    try:
        file = Path(os.path.realpath(file))
        known = set(pictures or {})
        carried = {} if plain else {**_other_members(file, wanted - known), **(pictures or {})}
        carried = {k: v for k, v in carried.items() if k in wanted or not k.startswith("plans/")}

        def write(temporary: Path) -> None:
            if plain:
                temporary.write_text(job_text(job), "utf-8")
                return
            with zipfile.ZipFile(temporary, "w", zipfile.ZIP_DEFLATED) as pack:
                pack.writestr("job.json", job_text(job))
                for name, data in carried.items():
                    pack.writestr(name, data)

        if keep_previous and file.is_file():
            keep_copy(file, file.with_name(file.name + ".previous"))
        write_atomic(file, write)
    except OSError as exc:
        raise JobFileError(f"Can't save to {path}: {exc.strerror or exc}.") from None
    except ValueError as exc:
        if isinstance(exc, JobValueError):
            raise
        raise JobFileError(f"Can't save to {str(path)!r}: that is no name for a file.") from None


def _read_text(file: Path) -> str:
    try:
        size = file.stat().st_size
        if file.is_dir():
            raise JobFileError(f"{file.name} is a folder, not a Murvan job.")
        if size == 0:
            raise JobFileError(f"{file.name} is empty.")
        with file.open("rb") as handle:
            head = handle.read(4)
        if head[:2] == b"PK":
            return _read_zip(file)
        if size > MAX_JSON_BYTES:
            raise JobFileError(f"{file.name} is too large for a job ({size / 1e6:.0f} MB).")
        return file.read_bytes().decode("utf-8")
    except UnicodeDecodeError:
        raise JobFileError(f"{file.name} is not a Murvan job.") from None
    except FileNotFoundError:
        raise JobFileError(f"There is no file {file}.") from None
    except OSError as exc:
        raise JobFileError(f"Can't read {file}: {exc.strerror}.") from None
    except ValueError:
        raise JobFileError(f"{str(file)!r} is no name for a file.") from None


def _read_zip(file: Path) -> str:
    try:
        with zipfile.ZipFile(file) as pack:
            _check_members(file.name, pack)
            try:
                info = pack.getinfo("job.json")
            except KeyError:
                raise JobFileError(f"{file.name} is not a Murvan job: there is no job.json in it.") from None
            if info.file_size > MAX_JSON_BYTES:
                raise JobFileError(f"{file.name}: its job.json is too large ({info.file_size / 1e6:.0f} MB).")
            with pack.open(info) as member:
                data = member.read(MAX_JSON_BYTES + 1)
            if len(data) > MAX_JSON_BYTES:
                raise JobFileError(f"{file.name}: its job.json is too large.")
            return data.decode("utf-8")
    except (zipfile.BadZipFile, EOFError, NotImplementedError, RuntimeError, ValueError) as exc:
        if isinstance(exc, UnicodeDecodeError):
            raise JobFileError(f"{file.name} is not a Murvan job: its job.json is not text.") from None
        raise JobFileError(f"{file.name} is damaged or cut short: {exc}.") from None
    except Exception as exc:  # zlib.error and lzma errors share no base class
        if isinstance(exc, (JobFileError, OSError)):
            raise
        raise JobFileError(f"{file.name} is damaged: {exc}.") from None


def _check_members(label: str, pack: zipfile.ZipFile) -> None:
    infos = pack.infolist()
    if len(infos) > MAX_MEMBERS:
        raise JobFileError(f"{label} holds {len(infos)} files; a job has at most {MAX_MEMBERS}.")
    if sum(i.file_size for i in infos) > MAX_TOTAL_BYTES:
        raise JobFileError(f"{label} unpacks to more than {MAX_TOTAL_BYTES / 1e9:.0f} GB; a job does not.")
    seen: set[str] = set()
    for info in infos:
        name = info.filename
        path = PurePosixPath(name)
        bad = (
            path.is_absolute()
            or ".." in path.parts
            or "\\" in name
            or ":" in name
            or name in seen
            or any(ord(c) < 32 for c in name)
            or (info.external_attr >> 28) == 0xA
        )
        if bad:
            raise JobFileError(f"{label} holds a file with the unsafe name {name!r}; nothing was read.")
        seen.add(name)
        if info.file_size > MAX_MEMBER_BYTES:
            raise JobFileError(f"{label}: {name} is too large ({info.file_size / 1e6:.0f} MB).")
        if info.file_size > 1e6 and info.file_size > MAX_RATIO * max(info.compress_size, 1):
            raise JobFileError(
                f"{label}: {name} unpacks to {info.file_size / 1e6:.0f} MB, far more than a job would."
            )


def _other_members(file: Path, wanted: set[str]) -> dict[str, bytes]:
    """Photos and anything else an existing job file carries, to be kept when it is written anew; plans only as wanted.

    Raises:
        JobFileError: a member that would have to be kept can't be read.
    """
    if not _is_zip(file):
        return {}
    out: dict[str, bytes] = {}
    try:
        with zipfile.ZipFile(file) as pack:
            _check_members(file.name, pack)
            for i in pack.infolist():
                name = i.filename
                if name == "job.json" or i.is_dir() or (name.startswith("plans/") and name not in wanted):
                    continue
                try:
                    out[name] = pack.read(i)
                except Exception:
                    raise JobFileError(
                        f"{file.name} holds {name}, which can't be read and would be lost; save under another name."
                    ) from None
    except (zipfile.BadZipFile, OSError):
        return {}
    return out


def _no_constant(name: str) -> Any:
    raise ValueError(f"{name} is not a number")
