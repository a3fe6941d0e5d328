"""`./run shots`: one current picture of each main view from demo data, into docs/screenshots."""

from __future__ import annotations

import os
import sys
import tempfile
import time
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from murvan.app.window import MainWindow

READINGS = 7
"""The station that waits for what its readings say."""
VIEWS: tuple[tuple[str, int, dict[str, object]], ...] = (
    ("1-house", 1, {"select": ("wall", "living/3")}),
    ("2-loads", 2, {"select": ("room", "living")}),
    ("3-equipment", 3, {}),
    ("4-air", 4, {"select": ("room", "bed4")}),
    ("5-ducts", 5, {"select": ("run", "A5")}),
    ("6-build", 6, {"select": ("piece", "plenum-plenum-supply")}),
    ("7-readings", 7, {"select": ("register", "B4")}),
    ("8-handover", 8, {}),
    ("9-start", 0, {}),
    ("10-loads-hour", 2, {"lens": 2, "select": ("room", "bed1"), "storey": "upper", "dark": True}),
    ("11-air-zones", 4, {"lens": 4, "select": ("zone_call", "2"), "units": "si", "storey": "ground"}),
    ("12-punch", 5, {"punch": True}),
    ("13-ducts-section", 5, {"lens": 4, "select": ("run", "A2"), "storey": "ground"}),
    ("14-ducts-plenums", 5, {"lens": 3, "select": ("run", "P1")}),
    ("15-house-survey", 1, {"demo": "bungalow", "lens": 3, "select": ("existing", "old1")}),
    ("16-ducts-ways", 5, {"demo": "narrow", "command": "ducts.ways", "units": "si"}),
    ("18-loads-whatif", 2, {"lens": 4, "select": ("alternative", "seal")}),
    ("19-equipment-rooms", 3, {"demo": "bungalow", "lens": 2, "take": "heads", "select": ("indoor_unit", "unit2")}),
    ("17-equipment-offers", 3, {"command": "equipment.propose", "dark": True}),
)


def _take(window: MainWindow, kind: str) -> None:
    """Take up the design of a kind that is offered."""
    from murvan.design.propose import proposals, taken_up

    job = window.document.job
    assert job is not None
    wanted = next(p for p in proposals(job) if p.kind == kind)
    window.edit("Take up", lambda j: taken_up(j, wanted))


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

    def searching() -> bool:
        offers = window.offers.isVisible() and not window.offers.found
        figures = window.document.figures
        doubting = window.station.number == READINGS and figures is not None and figures.diagnosis is None
        return offers or doubting or window.doing.laying.searcher.busy

    def settle(seconds: float = 0.4) -> None:
        end = time.monotonic() + seconds
        while time.monotonic() < end or not window.document.settled or searching():
            app.processEvents()
            time.sleep(0.005)

    for name, station, options in VIEWS:
        if wanted and name not in wanted:
            continue
        window.prefs.set(units=str(options.get("units", "ip")), dark=bool(options.get("dark", False)))
        if station == 0:
            window.document.close_job()
        else:
            demo = str(options.get("demo", "demo"))
            if window.document.job is None or window.document.label != demo:
                window.doing.files.open_demo(demo)
                settle()
            lens = options.get("lens", 0)
            window.stations[station - 1].lens_index = lens if isinstance(lens, int) else 0
            window.storey = str(options.get("storey", window.storey or "ground"))
            window.go(station)
            chosen = options.get("select")
            if isinstance(chosen, tuple):
                window.select(*chosen)
            if "take" in options:
                _take(window, str(options["take"]))
                settle()
                window.select(*chosen)  # type: ignore[misc]
            if "command" in options:
                window.command(str(options["command"]))
            if options.get("punch"):
                window.command("show.punch")
        settle(3.0 if station == 8 or options.get("lens") == 4 else 0.6)
        window.grab().save(str(folder / f"{name}.png"))
        window.punch.hide()
        window.pace.hide()
        window.own_unit.hide()
        window.offers.hide()
        window.layouts.hide()
    window.document.stack.setClean()
    window.close()
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv))
