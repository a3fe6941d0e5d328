"""Style, types and the import contract: `./run check`."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

BIN = Path(sys.executable).parent
COMMANDS = (
    ("ruff", [str(BIN / "ruff"), "check", "."]),
    ("ruff format", [str(BIN / "ruff"), "format", "--check", "-q", "."]),
    ("mypy", [str(BIN / "mypy")]),
    ("import contract", [str(BIN / "lint-imports"), "--no-cache"]),
)


def checks() -> Iterator[tuple[str, bool]]:
    """Each check's name and whether it passed; what it says goes to stderr when it did not."""
    root = Path(__file__).resolve().parent.parent
    for name, command in COMMANDS:
        done = subprocess.run(command, cwd=root, capture_output=True, text=True)
        if done.returncode:
            print(done.stdout[-4000:], done.stderr[-2000:], file=sys.stderr)
        yield name, done.returncode == 0


def main() -> int:
    bad = 0
    for name, ok in checks():
        print(f"{name}: {'ok' if ok else 'FAILED'}")
        bad += not ok
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())
