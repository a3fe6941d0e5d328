"""What each run measured against a yardstick of the same moment: kept, and held to the last run on the same machine."""

from __future__ import annotations

import csv
import platform
import re
import statistics
import subprocess
import time
from pathlib import Path

import numpy as np

FILE = Path(__file__).with_name("history.csv")
COLUMNS = ("day", "commit", "machine", "what", "ratio")
FELL = 0.75
"""A figure that is less than this share of its last ratio is said, and the run ends with 1."""


def yardstick_ms() -> float:
    """A fixed piece of work, half Python and half NumPy; the machine's clock moves it as it moves what is measured."""
    rng = np.random.default_rng(1)
    a, b = rng.random((6, 44, 44)) + 9 * np.eye(44), rng.random(110) + 1
    times = []
    for _ in range(7):
        start = time.perf_counter()
        np.linalg.solve(a, a)
        for _ in range(60):
            np.log10(b * b + 1.0).max()
        sum(k * k for k in range(6000))
        times.append((time.perf_counter() - start) * 1000)
    return statistics.median(times)


def milliseconds(figure: str) -> float | None:
    """Of a printed figure such as '5.2 ms' or '1.40 s'; None where it is no time."""
    found = re.match(r"([\d.]+) (ms|s)\b", figure)
    return None if found is None else float(found[1]) * (1000 if found[2] == "s" else 1)


def machine() -> str:
    """What tells machines apart, without their names."""
    cpu = Path("/proc/cpuinfo")
    text = cpu.read_text("utf-8") if cpu.exists() else ""
    model = re.search(r"model name\s*:\s*(.+)", text)
    return f"{model[1].strip() if model else platform.machine()} x{text.count('processor') or 1}"


class History:
    """The ratios of this run, beside those of the last one on this machine."""

    def __init__(self, file: Path = FILE, here: str | None = None) -> None:
        self.file, self.machine = file, here or machine()
        self.ratios: dict[str, float] = {}

    def take(self, what: str, figure: str) -> None:
        """Remember a printed figure."""
        ms = milliseconds(figure)
        if ms:
            self.ratios[" ".join(what.split())] = yardstick_ms() / ms

    def last(self) -> dict[str, float]:
        """The latest ratio of each figure on this machine."""
        if not self.file.exists():
            return {}
        with self.file.open(newline="", encoding="utf-8") as rows:
            return {x["what"]: float(x["ratio"]) for x in csv.DictReader(rows) if x["machine"] == self.machine}

    def fallen(self) -> list[str]:
        """What fell by more than a quarter, in words."""
        before = self.last()
        return [
            f"{what}: {before[what] / now:.2f} times as long as at the last run on this machine, by the yardstick"
            for what, now in self.ratios.items()
            if what in before and now < FELL * before[what]
        ]

    def keep(self) -> None:
        """Write this run's ratios below those before."""
        new = not self.file.exists()
        with self.file.open("a", newline="", encoding="utf-8") as out:
            rows = csv.writer(out, lineterminator="\n")
            if new:
                rows.writerow(COLUMNS)
            for what, ratio in self.ratios.items():
                rows.writerow((time.strftime("%Y-%m-%d"), commit(), self.machine, what, f"{ratio:.4f}"))


def commit() -> str:
    """The commit that is checked out, shortened; '' outside a checkout."""
    done = subprocess.run(["git", "rev-parse", "--short", "HEAD"], capture_output=True, text=True, cwd=FILE.parent)
    return done.stdout.strip()


HISTORY = History()
