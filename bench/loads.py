"""Climate and loads: the heat balance, its rival marched in time, one edit, a weather file, the hour under the hand."""

from __future__ import annotations

import statistics
import time
from pathlib import Path

import numpy as np

from bench.timing import line, timed


def bench_balance() -> None:
    from murvan.demo import demo_job
    from murvan.design import solve
    from murvan.design.loads.answers import answers
    from murvan.design.loads.balance import balance
    from murvan.design.loads.gains import gains
    from murvan.model import replace
    from tests.houses import many_rooms
    from tests.march import March, plain

    job = demo_job()
    r = solve(job)
    who = gains(job, r.geometry)
    surfaces = (r.geometry, r.conditions)
    whole = timed(lambda: balance(answers(job, *surfaces), who), 60)
    line("heat balance, demo, 4 design days", f"{whole:.1f} ms", "under 10 ms", whole < 10)
    kept = answers(job, *surfaces)
    warmer = replace(job, "openings", job.openings[0].id, blinds=0.5)
    one = timed(lambda: balance(answers(warmer, *surfaces, kept), who), 60)
    line("  after an edit of one window", f"{one:.1f} ms, {whole / one:.1f}x", "less than the whole", one < whole)
    big = plain(many_rooms(20, 10))
    r = solve(big)
    who = gains(big, r.geometry)
    before = timed(lambda: balance(answers(big, r.geometry, r.conditions), who), 15)
    start = time.perf_counter()
    march = March(big, r.geometry, r.conditions, who, cells=12)
    loads, _ = march.run(24, 6)
    marched = (time.perf_counter() - start) * 1000
    # before and after its rival: the machine changes its pace
    ours = (before + timed(lambda: balance(answers(big, r.geometry, r.conditions), who), 15)) / 2
    line("heat balance, 200 rooms, 4 design days", f"{ours:.0f} ms", "under 100 ms", ours < 100)
    found = balance(answers(big, r.geometry, r.conditions), who).parts_w[0].sum(axis=1)
    off = float((np.abs(found - loads).max(axis=1) / np.abs(loads).max(axis=1)).max())
    line(
        f"  against a sparse march of one of the four ({len(march.capacity)} cells)",
        f"{marched / ours:.0f}x",
        ">= 50x",
        marched / ours >= 50,
    )
    line("  both agree, of a room's peak at every hour", f"{100 * off:.2f} %", "within 0.1 %", off < 1e-3)


def bench_weather() -> None:
    from murvan import demo
    from murvan.design.weather.files import read_weather

    path = Path(demo.__file__).with_name("brindlewick.epw")
    ms = timed(lambda: read_weather(path), 10)
    line("read a year of weather (EPW), all derived", f"{ms:.0f} ms", "under 500 ms", ms < 500)


def bench_study() -> None:
    from murvan.demo import demo_job
    from murvan.design import solve
    from murvan.design.propose.alternatives import study

    job = demo_job()
    results = solve(job)
    ms = timed(lambda: study(results), 5, 1)
    line("what to fix first and alternatives, demo", f"{ms:.0f} ms", "under 500 ms", ms < 500)


def bench_hour() -> None:
    """Scrubbing the hour through the lens Hour."""
    from murvan.app.main import application
    from murvan.app.window import MainWindow

    app = application()
    window = MainWindow()
    window.doing.files.open_demo()
    window.resize(1280, 800)
    window.show()
    while not window.document.settled:
        app.processEvents()
    window.go(2)
    window.set_lens(window.station.lenses.index("Hour"))
    time.sleep(1.5)  # what is got ready in the background after opening is done by then
    app.processEvents()
    times = []
    for k in range(96):
        start = time.perf_counter()
        window.set_hour(k % 24 + 1)
        app.processEvents()
        times.append((time.perf_counter() - start) * 1000)
        time.sleep(0.008)
    times.sort()
    p95 = times[int(len(times) * 0.95) - 1]
    line("scrub the hour, a frame, median", f"{statistics.median(times):.1f} ms", "under 16.7 ms (60/s)", p95 < 16.7)
    line("  p95", f"{p95:.1f} ms", "under 16.7 ms (60/s)", p95 < 16.7)
    window.document.stack.setClean()
    window.close()
