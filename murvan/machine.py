"""Where Murvan keeps what belongs to this machine. `MURVAN_HOME` moves it (tests)."""

from __future__ import annotations

import os
from pathlib import Path

import platformdirs


def home() -> Path:
    """The folder for settings, autosaves, the user's own units and recent jobs."""
    override = os.environ.get("MURVAN_HOME")
    return Path(override) if override else Path(platformdirs.user_data_dir("murvan", appauthor=False))
