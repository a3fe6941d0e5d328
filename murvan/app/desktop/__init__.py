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


def main() -> int:
    run = Path(sys.argv[1]) if len(sys.argv) > 1 else Path("murvan")
    quoted = '"' + str(run).replace('"', '\\"') + '" murvan'
    for path in install(quoted):
        print(path)
    return 0
