"""Medians, ratios in one run. Yardsticks: docs in each line; machines are noisy, so ratios count more than figures."""

from __future__ import annotations

import os
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable

import numpy as np

from bench.ducts import bench_drag, bench_layouts, bench_patterns, bench_situations, bench_zones
from bench.field import bench_fit, bench_shares
from bench.history import HISTORY
from bench.loads import bench_balance, bench_hour, bench_study, bench_weather
from bench.pipes import bench_pipes
from bench.timing import line, timed
from tests.houses import many_rooms


def bench_solve() -> None:
    from murvan.demo import demo_job
    from murvan.design import solve
    from murvan.model import replace

    job = demo_job()
    whole = timed(lambda: solve(job).complete(), 20)
    line("whole solve from nothing, demo", f"{whole:.1f} ms", "under 30 ms", whole < 30)
    base = solve(job, watch=True).complete()
    flip = [replace(job, "runs", "A4", damper=0.4), replace(job, "runs", "A4", damper=0.5)]
    state = {"r": base, "k": 0}

    def edit() -> None:
        state["k"] += 1
        state["r"] = solve(flip[state["k"] % 2], state["r"], watch=True).complete()

    one = timed(edit, 40)
    line("solve after one damper edit", f"{one:.1f} ms, {whole / one:.1f}x", "under 10 ms", one < 10)


def residual_of(c: object) -> Callable[[np.ndarray], np.ndarray]:
    """The same equations as a plain residual, for a solver without derivatives."""
    from murvan.physics.network import branch_loss

    m = len(c.start)

    def residual(x: np.ndarray) -> np.ndarray:
        q, p = x[:m], np.append(x[m:], 0.0)
        loss, _ = branch_loss(c, q.copy())
        balance = np.zeros(c.nodes + 1)
        np.add.at(balance, c.start, q)
        np.add.at(balance, c.end, -q)
        return np.concatenate([loss - (p[c.start] - p[c.end]), 100 * balance[:-1]])

    return residual


def bench_network() -> None:
    from scipy.optimize import root

    from murvan.demo import demo_job
    from murvan.design import solve as solve_job
    from murvan.design.circuit.network import TOLERANCE_PA
    from murvan.physics.network import solve

    n = solve_job(demo_job()).network
    assert n is not None
    c, forced = n.circuit, n.layout.injection[0]
    first = np.full(len(c.start), 0.02)
    ours = timed(lambda: solve(c, first_flow=first, injection=forced, tolerance_pa=TOLERANCE_PA), 100)
    line(f"network solve, demo ({len(c.start)} branches), cold", f"{ours:.2f} ms", "under 2 ms", ours < 2)
    warm = timed(lambda: solve(c, first_flow=n.solution.flow_m3_s[0] * 1.02, injection=forced), 100)
    line("network solve, demo, from a near guess", f"{warm:.2f} ms", "under 2 ms", warm < 2)
    residual = residual_of(c)
    offset = np.concatenate([np.zeros(len(c.start)), 100 * forced])
    x0 = np.concatenate([n.solution.flow_m3_s[0] * 1.05 + 0.002, n.solution.pressure_pa[0] * 0.95])
    theirs = timed(lambda: root(lambda x: residual(x) - offset, x0, method="hybr"), 5, 1)
    line(
        "  against scipy.optimize.root, same start, no derivatives",
        f"{theirs / warm:.0f}x",
        ">= 20x",
        theirs / warm >= 20,
    )
    for branches in (100, 1000):
        big = big_circuit(branches)
        t = timed(lambda big=big: solve(big), 10, 2)
        reach = 30 if branches == 1000 else 10
        line(f"network solve, {branches} branches", f"{t:.1f} ms", f"under {reach} ms", t < reach)

    from tests.physics.test_network_random import chain

    t = timed(lambda: solve(chain(1000)), 5, 1)
    line("network solve, 1000 runs in a chain", f"{t:.0f} ms", "under 100 ms", t < 100)


def big_circuit(branches: int) -> object:
    """A comb: a trunk with a register at every step, back through the rooms to one return."""
    from murvan.physics.circuit import Circuit, FanCurve

    n = branches // 2
    curve = FanCurve.through(np.array([0.02, 0.035, 0.045]) * n, np.array([300.0, 200.0, 50.0]))
    start, end, length, area, k = [0], [1], [0.0], [1.0], [0.0]
    for j in range(n):
        start.append(1 + j)
        end.append(2 + j)
        length.append(1.0)
        area.append(0.02 * (n - j) ** 0.9 + 0.01)
        k.append(0.0)
        start.append(2 + j)
        end.append(0)
        length.append(4.0)
        area.append(0.018)
        k.append(4000.0)
    m = len(start) + 1
    start.append(0)
    end.append(-1)
    size = np.sqrt(4 * np.array([*area, 1.0]) / np.pi)
    leak = np.zeros(m)
    leak[-1] = 0.05
    return Circuit(
        start=np.array(start),
        end=np.array(end),
        nodes=n + 2,
        length_m=np.array([*length, 0.0]),
        area_m2=np.array([*area, 1.0]),
        hydraulic_m=size,
        roughness_m=np.full(m, 9e-5),
        friction_scale=np.ones(m),
        k=np.array([*k, 0.0]),
        power_c=leak,
        fans=((0, curve),),
    )


def bench_window() -> None:
    os.environ["MURVAN_HOME"] = tempfile.mkdtemp(prefix="murvan-bench-")
    from murvan.app.main import application
    from murvan.app.window import MainWindow
    from murvan.model import replace

    app = application()
    sys.setswitchinterval(0.001)
    window = MainWindow()
    window.doing.files.open_demo()
    window.show()

    def settle() -> float:
        """Process events until the figures are there and drawn; returns the longest single turn, ms."""
        longest = 0.0
        while not window.document.settled:
            start = time.perf_counter()
            app.processEvents()
            longest = max(longest, (time.perf_counter() - start) * 1000)
            time.sleep(0.0005)
        app.processEvents()
        return longest

    settle()
    for station in (2, 5, 7):
        window.go(station)
        settle()
        times, turns = [], []
        for k in range(40):
            start = time.perf_counter()
            window.edit("People", lambda job, k=k: replace(job, "rooms", "living", people=float(k % 7)))
            push = (time.perf_counter() - start) * 1000
            turns.append(max(push, settle()))
            app.processEvents()  # paints what changed
            times.append((time.perf_counter() - start) * 1000)
        times.sort()
        p95 = times[int(len(times) * 0.95) - 1]
        line(f"edit to new figures on screen, station {station}, p95", f"{p95:.0f} ms", "under 40 ms", p95 < 40)
        line(
            "  longest turn of the window meanwhile, median",
            f"{statistics.median(turns):.0f} ms",
            "under 12 ms",
            statistics.median(turns) < 12,
        )
    window.document.stack.setClean()
    window.close()


def bench_drawing() -> None:
    """A house of 60 rooms under the hand: pan, zoom, a wall dragged, and what a drag solves anew."""
    from PyQt6.QtCore import QPointF, Qt

    from murvan.app.main import application
    from murvan.app.window import MainWindow
    from murvan.design import solve
    from murvan.design.drawing.walls import move_wall

    job = many_rooms(10, 6)
    base = solve(job)
    whole = timed(lambda: solve(job), 8, 1)
    moved = [move_wall(job, "room15", 1, 0.1 + 0.01 * k) for k in range(8)]
    state = {"r": base, "k": 0}

    def drag() -> None:
        state["k"] += 1
        state["r"] = solve(moved[state["k"] % 8], state["r"])

    one = timed(drag, 16, 2)
    line(
        "60 rooms: solve after a dragged wall",
        f"{one:.0f} ms, {whole / one:.1f}x",
        "less than the whole",
        one < whole,
    )
    app = application()
    window = MainWindow()
    window.document.open_job(job, None)
    window.plan.fit_next()
    window.show()
    while not window.document.settled:
        app.processEvents()
    plan = window.plan

    def frames(step: Callable[[int], object], n: int = 60) -> list[float]:
        out = []
        for k in range(n):
            start = time.perf_counter()
            step(k)
            app.processEvents()
            out.append((time.perf_counter() - start) * 1000)
            time.sleep(0.008)
        return sorted(out)

    at, none = plan.sheet.to_px(3.4, 2.0), Qt.KeyboardModifier.NoModifier
    plan.hand.press(at, none)
    wall = frames(lambda k: plan.hand.move(at + QPointF(6 + 0.7 * k, 0), none, True))
    plan.hand.drop()
    for what, times in (
        ("pan", frames(lambda k: plan.pan(QPointF(2, 1)))),
        ("zoom", frames(lambda k: plan.zoom(1.01, QPointF(300, 200)))),
        ("drag a wall", wall),
    ):
        p95 = times[int(len(times) * 0.95) - 1]
        line(f"60 rooms: {what}, a frame, p95", f"{p95:.1f} ms", "under 16.7 ms (60/s)", p95 < 16.7)
    window.document.stack.setClean()
    window.close()


START = """
import time, sys
t = time.perf_counter()
import os, tempfile
os.environ["MURVAN_HOME"] = tempfile.mkdtemp()
from murvan.app.main import application
app = application()
from murvan.app.window import MainWindow
w = MainWindow(); w.doing.files.open_demo(); w.show()
while not w.document.settled or w.document.figures is None:
    app.processEvents()
w.repaint()
import resource
print(time.perf_counter() - t, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
w.document.stack.setClean(); w.close()
"""


def bench_start(times: int = 4) -> None:
    seconds, memory = [], []
    for _ in range(times):
        done = subprocess.run([sys.executable, "-c", START], capture_output=True, text=True)
        a, b = done.stdout.split()
        seconds.append(float(a))
        memory.append(float(b))
    start = statistics.median(seconds[1:])
    line("start to a usable window with the demo, warm", f"{start:.2f} s", "under 1.0 s", start < 1.0)
    line("resident memory then", f"{max(memory):.0f} MB", "under 200 MB", max(memory) < 200)


def main() -> int:
    bench_start()  # first: a child's largest memory starts from its parent's
    bench_solve()
    bench_network()
    bench_pipes()
    bench_situations()
    bench_zones()
    bench_patterns()
    bench_drag()
    bench_layouts()
    bench_balance()
    bench_weather()
    bench_study()
    bench_fit()
    bench_shares()
    bench_window()
    bench_hour()
    bench_drawing()
    print(f"this process at its largest: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")
    fallen = HISTORY.fallen()
    HISTORY.keep()
    for words in fallen:
        print(f"SLOWER  {words}")
    return 1 if fallen else 0


if __name__ == "__main__":
    sys.exit(main())
