"""Size-limit sets: those that ship, and the user's own kept on this machine."""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path

from pydantic import TypeAdapter, ValidationError

from murvan.catalog.aside import set_aside
from murvan.catalog.loader import CatalogError
from murvan.machine import home
from murvan.model.atomic import write_atomic
from murvan.model.limits_set import SHIPPED, SizeLimits

_LIST = TypeAdapter(tuple[SizeLimits, ...])


def limits_file() -> Path:
    """Where the user's own sets are kept."""
    return home() / "size_limits.json"


def own_limits() -> tuple[SizeLimits, ...]:
    """The user's own sets; none while there is no file, or where it can't be read: a slip in it must not stop a job."""
    file = limits_file()
    try:
        stamp = file.stat()
    except OSError:
        return ()
    return _read(file, stamp.st_mtime_ns, stamp.st_size)


@lru_cache(maxsize=2)
def _read(file: Path, _when: int, _size: int) -> tuple[SizeLimits, ...]:
    try:
        return _LIST.validate_json(file.read_bytes())
    except (OSError, ValidationError):
        return ()


def limit_sets(of_job: SizeLimits) -> tuple[SizeLimits, ...]:
    """Those that ship, the user's own, and that of a job where it is another."""
    known = {x.id: x for x in (*SHIPPED, *own_limits())}
    return (*known.values(), *((of_job,) if known.get(of_job.id) != of_job else ()))


def keep_limits(new: SizeLimits) -> str:
    """Keep a set with the user's own; one of its id is replaced. Returns a word where the sets kept before can't be read: they
    are set aside, not written over.

    Raises:
        CatalogError: it has the id or the name of one that ships.
        OSError: it can't be written.
    """
    if any(new.id == x.id or new.name == x.name for x in SHIPPED):
        raise CatalogError(f"{new.name} is a set that ships; change a figure or give yours a name of its own.")
    said = _unreadable()
    every = (*(x for x in own_limits() if x.id != new.id), new)
    text = json.dumps([x.model_dump(mode="json") for x in every], indent=1, ensure_ascii=False) + "\n"
    limits_file().parent.mkdir(parents=True, exist_ok=True)
    write_atomic(limits_file(), lambda p: p.write_text(text, "utf-8"))
    return said


def _unreadable() -> str:
    """The file of sets set aside where it can't be read, in words; '' where it can, or there is none."""
    file = limits_file()
    try:
        _LIST.validate_json(file.read_bytes())
    except OSError:
        return ""
    except ValidationError as trouble:
        return set_aside(file, trouble)
    return ""
