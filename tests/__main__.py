"""Runs the checks and every test. The core's tests run while Qt can't be imported."""

from __future__ import annotations

import faulthandler
import os
import subprocess
import sys
import tempfile
import time
import unittest
import warnings
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

CORE = ("kinds", "model", "physics", "catalog", "design", "field", "documents", "demo", "validation", "judge")

HANGS_S = 900.0


def suite(names: list[str]) -> unittest.TestSuite:
    out = unittest.TestSuite()
    for name in names:
        out.addTests(unittest.defaultTestLoader.loadTestsFromName(name))
    return out


def modules(package: str) -> list[str]:
    """Test modules of a package folder below tests/, and of the folders in it; '' gives those of tests/ itself."""
    folder = os.path.join(os.path.dirname(__file__), *package.split("."))
    dotted = f"tests.{package}" if package else "tests"
    entries = sorted(os.listdir(folder))
    out = [f"{dotted}.{f[:-3]}" for f in entries if f.startswith("test_") and f.endswith(".py")]
    inner = [f for f in entries if package and os.path.isfile(os.path.join(folder, f, "__init__.py"))]
    return out + [m for f in inner for m in modules(f"{package}.{f}")]


@dataclass
class Count:
    """How many tests passed, failed and were skipped."""

    passed: int = 0
    failed: int = 0
    skipped: int = 0

    def add(self, passed: int, failed: int, skipped: int = 0) -> None:
        self.passed, self.failed, self.skipped = self.passed + passed, self.failed + failed, self.skipped + skipped


class Watched(unittest.TextTestResult):
    """Ends the process, saying where it stands, when a test hangs; tells the slowest modules."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.took: dict[str, float] = {}
        self._last = time.monotonic()

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        faulthandler.dump_traceback_later(HANGS_S, exit=True)
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        super().stopTest(test)
        now, name = time.monotonic(), type(test).__module__
        self.took[name] = self.took.get(name, 0.0) + now - self._last
        self._last = now

    def stopTestRun(self) -> None:  # noqa: N802
        faulthandler.cancel_dump_traceback_later()
        super().stopTestRun()
        slowest = sorted(self.took.items(), key=lambda x: -x[1])[:5]
        self.stream.writeln("\nslowest: " + ", ".join(f"{name} {s:.0f} s" for name, s in slowest))


def run(names: list[str], block_qt: bool) -> tuple[int, int, int]:
    """Run test modules here; (passed, failed, skipped)."""
    if block_qt:
        sys.modules["PyQt6"] = None  # type: ignore[assignment]
    result = unittest.TextTestRunner(verbosity=1, stream=sys.stderr, resultclass=Watched).run(suite(names))
    bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    return result.testsRun - bad - len(result.skipped), bad, len(result.skipped)


def parted(names: list[str], parts: int) -> list[list[str]]:
    """Lists of modules of about the same length of text."""
    out: list[list[str]] = [[] for _ in range(parts)]
    weight = [0] * parts
    for name in sorted(names, key=lambda n: -os.path.getsize(n.replace(".", "/") + ".py")):
        k = weight.index(min(weight))
        out[k].append(name)
        weight[k] += os.path.getsize(name.replace(".", "/") + ".py")
    return out


def run_all(count: Count) -> None:
    """The window's tests and the core's, each part in a process of its own, two at a time, and the checks."""
    core = [m for package in CORE for m in modules(package)] + modules("")
    waiting = [["@app", *part] for part in parted(modules("app"), 4)]
    waiting += [["@core", *part] for part in parted(core, 6)]
    with ThreadPoolExecutor(max_workers=min(max(os.cpu_count() or 1, 1), 2)) as pool:
        for done in pool.map(_child, waiting):
            sys.stderr.write(done.stderr)
            last = done.stdout.strip().rpartition("\n")[2].split()
            sys.stderr.write(done.stdout[: done.stdout.rfind(" ".join(last))] if last else done.stdout)
            if len(last) == 4 and last[0] == COUNTS:
                count.add(*(int(x) for x in last[1:]))
            else:
                sys.stderr.write("a group of tests ended without a count\n")
                count.add(0, 1)
    from tests.check import checks

    for name, ok in checks():
        count.add(int(ok), int(not ok))
        print(f"{name}: {'ok' if ok else 'FAILED'}", file=sys.stderr)


def _child(arguments: list[str]) -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-m", "tests", *arguments], capture_output=True, text=True, check=False)


COUNTS = "@counts"


def main(argv: list[str]) -> int:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    os.environ["MURVAN_HOME"] = tempfile.mkdtemp(prefix="murvan-test-")
    warnings.simplefilter("error", ResourceWarning)
    if argv and argv[0] in ("@core", "@app"):
        print(COUNTS, *run(argv[1:], argv[0] == "@core"))
        return 0
    started, count = time.monotonic(), Count()
    if argv:
        names = [m for a in argv for m in (modules(a[6:]) if os.path.isdir(a.replace(".", "/")) else [a])]
        count.add(*run(names, False))
    else:
        run_all(count)
    print(f"in {time.monotonic() - started:.0f} s", file=sys.stderr)
    sys.stderr.flush()
    print(f"{count.passed} passed, {count.failed} failed" + (f", {count.skipped} skipped" if count.skipped else ""))
    return 1 if count.failed or not count.passed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
