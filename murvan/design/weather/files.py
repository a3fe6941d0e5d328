"""Weather files by their ending."""

from __future__ import annotations

from pathlib import Path

from murvan.design.weather.days import parse_ddy
from murvan.design.weather.epw import parse_epw
from murvan.design.weather.place import Weather
from murvan.design.weather.stat import parse_stat
from murvan.model.errors import JobFileError

MAX_BYTES = 16 * 1024 * 1024
PARSERS = {".epw": parse_epw, ".ddy": parse_ddy, ".stat": parse_stat}
"""By the ending of the name; any other is taken for an hourly year."""


def read_weather(path: str | Path) -> Weather:
    """Read an hourly year (EPW), design days (DDY) or the statistics of a year (STAT) by the ending of the name.

    Raises:
        JobFileError: it can't be read; the text names the line.
    """
    file = Path(path)
    try:
        size = file.stat().st_size
        if size > MAX_BYTES:
            raise JobFileError(f"{file.name} is {size / 1e6:.0f} MB; a weather file has one year, about 2 MB.")
        text = _text(file.read_bytes())
    except OSError as exc:
        raise JobFileError(f"Can't read {file.name}: {exc.strerror}.") from None
    return PARSERS.get(file.suffix.lower(), parse_epw)(text, file.name)


def _text(raw: bytes) -> str:
    """Bytes as text: by their byte-order mark, else UTF-8, else the western code page of older programs."""
    if raw.startswith((b"\xff\xfe", b"\xfe\xff")):
        return raw.decode("utf-16", errors="replace")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        return raw.decode("cp1252", errors="replace")
