"""Files of the machine that can't be read are kept aside, never written over."""

from __future__ import annotations

import contextlib
import os
from pathlib import Path

from pydantic import ValidationError


def set_aside(file: Path, why: object) -> str:
    """Keep a file under a name of its own and say so: 'shop.json can't be read (…); it is kept as shop.json.unreadable'."""
    names = (file.with_name(f"{file.name}.unreadable{k}") for k in ("", *range(2, 1000)))
    kept = next(x for x in names if not x.exists())
    with contextlib.suppress(OSError):
        os.replace(file, kept)
    return f"{file.name} can't be read ({_short(why)}); it is kept as {kept.name}"


def _short(why: object) -> str:
    if isinstance(why, ValidationError):
        first = why.errors()[0]
        return f"{'.'.join(map(str, first['loc']))}: {first['msg']}".strip(": ")[:160]
    return str(why)[:160]
