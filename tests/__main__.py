"""Runs the checks and every test. The core's tests run while Qt can't be imported."""

from __future__ import annotations

import os
import sys
import tempfile
import time
import unittest
import warnings

CORE = ("model", "physics", "catalog", "design", "field", "documents", "demo", "validation")


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


def main(argv: list[str]) -> int:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    os.environ["MURVAN_HOME"] = tempfile.mkdtemp(prefix="murvan-test-")
    warnings.simplefilter("error", ResourceWarning)
    started = time.monotonic()
    passed = failed = skipped = 0
    if argv:
        groups = [(False, [m for a in argv for m in (modules(a[6:]) if os.path.isdir(a.replace(".", "/")) else [a])])]
    else:
        core = [m for package in CORE for m in modules(package)] + modules("")
        groups = [(True, core), (False, modules("app"))]
    for block_qt, names in groups:
        if block_qt:
            sys.modules["PyQt6"] = None  # type: ignore[assignment]
        result = unittest.TextTestRunner(verbosity=1, stream=sys.stderr).run(suite(names))
        if block_qt:
            del sys.modules["PyQt6"]
        bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        passed += result.testsRun - bad - len(result.skipped)
        failed += bad
        skipped += len(result.skipped)
    if not argv:
        from tests.check import checks

        for name, ok in checks():
            passed, failed = passed + ok, failed + (not ok)
            print(f"{name}: {'ok' if ok else 'FAILED'}", file=sys.stderr)
    print(f"in {time.monotonic() - started:.0f} s", file=sys.stderr)
    sys.stderr.flush()
    print(f"{passed} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
