"""`./run shots`: one current picture of each main view from demo data, into docs/screenshots."""

from __future__ import annotations

import os
import sys
import tempfile
import time
from pathlib import Path

VIEWS: tuple[tuple[str, int, dict[str, object]], ...] = (
    ("1-house", 1, {"select": ("wall", "living/3")}),
    ("2-loads", 2, {"select": ("room", "living")}),
    ("3-equipment", 3, {}),
    ("4-air", 4, {"select": ("room", "bed4")}),
    ("5-ducts", 5, {"select": ("run", "A5")}),
    ("5-ducts-upper", 5, {"select": ("run", "B4")}),
    ("6-build", 6, {"select": ("piece", "face-A1")}),
    ("7-readings", 7, {"select": ("register", "B4")}),
    ("8-handover", 8, {}),
    ("9-start", 0, {}),
    ("10-house-dark", 1, {"select": ("wall", "living/3"), "dark": True}),
    ("11-loads-si", 2, {"select": ("room", "bed1"), "units": "si"}),
    ("12-punch", 5, {"punch": True}),
)


def main(argv: list[str]) -> int:
    os.environ["MURVAN_HOME"] = tempfile.mkdtemp(prefix="murvan-shots-")
    from murvan.app.main import application
    from murvan.app.window import MainWindow

    app = application()
    folder = Path(argv[1]) if len(argv) > 1 else Path("docs/screenshots")
    wanted = argv[2:]
    folder.mkdir(parents=True, exist_ok=True)
    window = MainWindow()
    window.resize(1280, 800)
    window.show()

    def settle(seconds: float = 0.4) -> None:
        end = time.monotonic() + seconds
        while time.monotonic() < end or not window.document.settled:
            app.processEvents()
            time.sleep(0.005)

    for name, station, options in VIEWS:
        if wanted and name not in wanted:
            continue
        window.prefs.set(units=str(options.get("units", "ip")), dark=bool(options.get("dark", False)))
        if station == 0:
            window.document.close_job()
        else:
            if window.document.job is None:
                window.open_demo()
                settle()
            window.storey = str(options.get("storey", window.storey or "ground"))
            window.go(station)
            chosen = options.get("select")
            if isinstance(chosen, tuple):
                window.select(*chosen)
            if options.get("punch"):
                window.command("show.punch")
        settle(3.0 if station == 8 else 0.6)
        window.grab().save(str(folder / f"{name}.png"))
        window.punch.hide()
    window.document.stack.setClean()
    window.close()
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv))
