"""Puts Murvan into the desktop's menu for this account: entry, icon, file type. `./run desktop`."""

from __future__ import annotations

import shutil
import subprocess
import sys
from importlib import resources
from pathlib import Path

import platformdirs


def install(command: str, data_home: Path | None = None) -> list[Path]:
    """Write the desktop entry, the icon and the MIME type below `data_home`; returns what was written."""
    home = data_home or Path(platformdirs.user_data_dir()).expanduser()
    here = resources.files("murvan.app.desktop")
    icon = resources.files("murvan.app.theme").joinpath("icons", "murvan.svg").read_text("utf-8")
    files = {
        home / "applications" / "murvan.desktop": here.joinpath("murvan.desktop")
        .read_text("utf-8")
        .replace("@EXEC@", command),
        home / "icons" / "hicolor" / "scalable" / "apps" / "murvan.svg": icon,
        home / "mime" / "packages" / "murvan.xml": here.joinpath("murvan.xml").read_text("utf-8"),
    }
    for path, text in files.items():
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text, "utf-8")
    for tool, folder in (("update-mime-database", home / "mime"), ("update-desktop-database", home / "applications")):
        if shutil.which(tool):
            subprocess.run([tool, str(folder)], check=False, capture_output=True)
    return list(files)


def quoted(argument: str) -> str:
    """One argument of an Exec line: in quotes, with all that means something there escaped, twice for backslashes.

    Source: the Desktop Entry Specification 1.5, "The Exec key" (from memory).
    """
    inner = "".join(f"\\{c}" if c in '\\"`$' else c for c in argument)
    return f'"{inner}"'.replace("\\", "\\\\").replace("%", "%%")


def command_of(run: Path | None) -> str:
    """What the entry starts: the `run` script of a checkout, or the installed command."""
    if run is not None:
        return f"{quoted(str(run))} murvan"
    beside = Path(sys.executable).with_name("murvan")
    if beside.is_file():
        return quoted(str(beside))
    return f"{quoted(sys.executable)} -m murvan"


def main() -> int:
    run = Path(sys.argv[1]) if len(sys.argv) > 1 else None
    for path in install(command_of(run)):
        print(path)
    return 0
