"""Writing a file so that it is there whole or not at all, with respect for what stands at its place."""

from __future__ import annotations

import contextlib
import errno
import os
import re
import secrets
import shutil
import stat
import tempfile
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path

PREFIX = ".murvan-"
LEFT = re.compile(r"\.murvan-(\d+)-[0-9a-f]{8}-")
"""A temporary file of a process, by its number."""


def write_atomic(path: Path, write: Callable[[Path], object], *, private: bool = False) -> None:
    """Let `write` fill a temporary file beside `path`, flush it to disk, and rename it into place; flush the folder.

    A link is followed to its target. Mode and owner of a file that is there are kept; a new one has the usual mode, or
    is the user's alone when `private`. What is no plain file (a device, a pipe) is written into.

    Raises:
        OSError: the folder can't be written, or the file is read-only; an old file at `path` is untouched.
    """
    target = Path(os.path.realpath(path))
    old = _stat(target)
    if old is not None and not stat.S_ISREG(old.st_mode):
        _write_through(target, old, write)
        return
    if old is not None and not old.st_mode & 0o222:
        raise PermissionError(errno.EACCES, "it is read-only", str(path))
    clean(target)
    temporary = target.with_name(f"{PREFIX}{os.getpid()}-{secrets.token_hex(4)}-{target.name[:60]}")
    with _named_after(path), contextlib.ExitStack() as after:
        after.callback(_unlink, temporary)
        os.close(os.open(temporary, os.O_CREAT | os.O_EXCL | os.O_RDWR, 0o600))
        write(temporary)
        with temporary.open("rb") as out:
            os.fsync(out.fileno())
        _as_before(temporary, old, private)
        os.replace(temporary, target)
        sync_folder(target.parent)


@contextlib.contextmanager
def _named_after(path: Path) -> Iterator[None]:
    """Troubles with a temporary file are told of the file that was asked for."""
    try:
        yield
    except OSError as exc:
        raise OSError(exc.errno or errno.EIO, exc.strerror or str(exc), str(path)) from exc


def _unlink(file: Path) -> None:
    with contextlib.suppress(OSError):
        file.unlink(missing_ok=True)


def write_set(
    folder: Path, kind: str, write: Callable[[Path], object], last: str = "", before: Iterable[str] = ()
) -> list[Path]:
    """Let `write` fill a folder of its own beside `folder`'s files, then swap all of them in; those of an earlier set of the
    same kind go. A set that can't be written whole leaves the old one as it is.

    Args:
        kind: Word for what it is a set of; its files are listed under it, so that the next set knows them.
        last: The file that is swapped in last: who reads it finds all that it lists.
        before: Names of an earlier set that was written without a list.

    Raises:
        OSError: as of `write_atomic`, named after the folder.
    """
    folder.mkdir(parents=True, exist_ok=True)
    listing = folder / f"{PREFIX}set-{kind}"
    made = folder / f"{PREFIX}{os.getpid()}-{secrets.token_hex(4)}-set"
    with _named_after(folder), contextlib.ExitStack() as after:
        after.callback(shutil.rmtree, made, True)
        made.mkdir()
        write(made)
        names = sorted(x.name for x in made.iterdir())
        for name in names:
            with (made / name).open("rb") as out:
                os.fsync(out.fileno())
        old = {*_listed(listing), *before} - set(names)
        for name in sorted(names, key=lambda n: n == last):
            if name == last:
                _gone(folder, old)
            os.replace(made / name, folder / name)
        _gone(folder, old)
        write_atomic(listing, lambda p: p.write_text("\n".join(names), "utf-8"))
        sync_folder(folder)
    return [folder / name for name in names]


def _listed(listing: Path) -> list[str]:
    """Names of an earlier set; none that leads out of its folder."""
    try:
        return [x for x in listing.read_text("utf-8").splitlines() if x and x == os.path.basename(x)]
    except (OSError, UnicodeDecodeError):
        return []


def _gone(folder: Path, names: Iterable[str]) -> None:
    for name in names:
        _unlink(folder / name)


def _stat(path: Path) -> os.stat_result | None:
    try:
        return path.stat()
    except FileNotFoundError:
        return None


def _write_through(target: Path, old: os.stat_result, write: Callable[[Path], object]) -> None:
    if stat.S_ISDIR(old.st_mode):
        raise IsADirectoryError(errno.EISDIR, "it is a folder", str(target))
    with tempfile.TemporaryDirectory() as folder:
        whole = Path(folder) / "whole"
        write(whole)
        with whole.open("rb") as source, target.open("wb") as out:
            shutil.copyfileobj(source, out)


def _as_before(temporary: Path, old: os.stat_result | None, private: bool) -> None:
    if old is None:
        mask = os.umask(0)
        os.umask(mask)
        temporary.chmod(0o600 if private else 0o666 & ~mask)
        return
    with contextlib.suppress(OSError):  # only root may give a file away
        if (old.st_uid, old.st_gid) != (os.getuid(), os.getgid()):
            os.chown(temporary, old.st_uid, old.st_gid)
    temporary.chmod(0o600 if private else stat.S_IMODE(old.st_mode))


def sync_folder(folder: Path) -> None:
    """Flush a folder, so that a rename in it outlives a power cut."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY | getattr(os, "O_DIRECTORY", 0))
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def clean(target: Path) -> None:
    """Take away temporary files of this name that processes left which are gone."""
    with contextlib.suppress(OSError):
        for name in os.listdir(target.parent):
            found = LEFT.match(name)
            if found and name.endswith(target.name[:60]) and not alive(int(found[1])):
                with contextlib.suppress(OSError):
                    target.with_name(name).unlink()


def alive(process: int) -> bool:
    """Whether a process of that number runs."""
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except (PermissionError, OverflowError):
        return True
    return True


def keep_copy(file: Path, copy: Path) -> None:
    """Keep a file's present content under another name, whole or not at all."""
    beside = copy.with_name(f"{PREFIX}{os.getpid()}-{secrets.token_hex(4)}-{copy.name[:60]}")
    clean(copy)
    try:
        try:
            os.link(file, beside)  # the old content stays under this name when the file is replaced
        except OSError:
            shutil.copy2(file, beside)
            with beside.open("rb") as out:
                os.fsync(out.fileno())
        os.replace(beside, copy)
    finally:
        with contextlib.suppress(OSError):
            beside.unlink(missing_ok=True)
