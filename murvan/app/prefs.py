"""What is set once on this machine: units, theme, glove mode, recent jobs. `MURVAN_HOME` moves it (tests)."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from murvan.app.theme import DARK, LIGHT, Theme
from murvan.machine import home
from murvan.units import Units

MOST_RECENT = 12


class Prefs(QObject):
    """Settings with one signal for any change."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._file = home() / "settings.json"
        self._data: dict[str, Any] = {
            "units": "ip",
            "dark": False,
            "glove": False,
            "recent": [],
            "company": "",
            "instruments": "",
        }
        try:
            raw = json.loads(self._file.read_text("utf-8"))
            if isinstance(raw, dict):
                self._data.update({k: v for k, v in raw.items() if type(v) is type(self._data.get(k))})
        except (OSError, ValueError):
            pass

    @property
    def units(self) -> Units:
        return "si" if self._data["units"] == "si" else "ip"

    @property
    def theme(self) -> Theme:
        return DARK if self._data["dark"] else LIGHT

    @property
    def glove(self) -> bool:
        return bool(self._data["glove"])

    @property
    def company(self) -> str:
        """What stands on the sheets of new jobs."""
        return str(self._data["company"])[:200]

    @property
    def instruments(self) -> str:
        """Where they listen, see `field.instruments.Instrument`."""
        return str(self._data["instruments"])[:200]

    @property
    def recent(self) -> list[str]:
        return [str(x) for x in self._data["recent"]]

    def set(self, **values: Any) -> None:
        """Change settings, keep them, tell everyone."""
        if all(self._data.get(k) == v for k, v in values.items()):
            return
        self._data.update(values)
        self._save()
        self.changed.emit()

    def add_recent(self, path: str) -> None:
        full = str(Path(path).resolve())
        self.set(recent=[full, *(r for r in self.recent if r != full)][:MOST_RECENT])

    def _save(self) -> None:
        try:
            self._file.parent.mkdir(parents=True, exist_ok=True)
            self._file.write_text(json.dumps(self._data, indent=1), "utf-8")
        except OSError:
            pass  # a read-only home must not stop the work
