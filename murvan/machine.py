"""Where Murvan keeps what belongs to this machine. `MURVAN_HOME` moves it (tests)."""

from __future__ import annotations

import os
from functools import lru_cache
from pathlib import Path

import platformdirs


def home() -> Path:
    """The folder for settings, autosaves, the user's own units and recent jobs."""
    return _home(os.environ.get("MURVAN_HOME"), os.environ.get("XDG_DATA_HOME"), os.environ.get("HOME"))


@lru_cache(maxsize=4)
def _home(override: str | None, *_whose: str | None) -> Path:
    return Path(override) if override else Path(platformdirs.user_data_dir("murvan", appauthor=False))
