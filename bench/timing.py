"""A median and a printed line."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

from bench.history import HISTORY


def timed(function: Callable[[], object], repeats: int = 30, warm: int = 3) -> float:
    """Median milliseconds."""
    for _ in range(warm):
        function()
    times = []
    for _ in range(repeats):
        start = time.perf_counter()
        function()
        times.append((time.perf_counter() - start) * 1000)
    return statistics.median(times)


def line(what: str, figure: str, reach: str, ok: bool) -> None:
    """Print a figure and keep it for the history."""
    HISTORY.take(what, figure)
    print(f"{what:<58} {figure:>18}   reach {reach:<22} {'ok' if ok else 'SHORT'}")
