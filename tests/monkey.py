"""A monkey at the real window: keys, clicks, drags, wheels, resizes, all stations, seeded: `./run monkey SECONDS SEED`.

It looks for crashes, exceptions, complaints of Qt, and turns that hold the window for more than two seconds. Each seed runs
in a process of its own, so that a native crash is seen too.
"""

from __future__ import annotations

import faulthandler
import os
import random
import subprocess
import sys
import tempfile
import time
import traceback
from pathlib import Path

SLOW_S = 2.0
SEED_S = 60
TEXT = "1234567890'\" ./-ftmxckg½abcHVWRDNGOPU[]=?!.,"
DIALOGS = ("Ctrl+O", "Ctrl+S", "Ctrl+Shift+S", "Ctrl+I", "Ctrl+P", "Ctrl+Q")


class Monkey:
    """Plays with one window until its time is over."""

    def __init__(self, seed: int) -> None:
        from PyQt6.QtWidgets import QDialog, QFileDialog, QInputDialog, QMenu, QMessageBox

        from murvan.app.guard import guard
        from murvan.app.main import application
        from murvan.app.window import MainWindow

        self.chance = random.Random(seed)
        self.app = application()
        self.guard = guard()
        # a dialog of the desktop would wait for somebody
        for name in ("getOpenFileName", "getSaveFileName"):
            setattr(QFileDialog, name, staticmethod(lambda *_a, **_k: ("", "")))
        QFileDialog.getExistingDirectory = staticmethod(lambda *_a, **_k: "")  # type: ignore[method-assign]
        QInputDialog.getText = staticmethod(lambda *_a, **_k: ("", False))  # type: ignore[method-assign]
        QMessageBox.exec = lambda *_a, **_k: QMessageBox.StandardButton.Cancel  # type: ignore[method-assign,assignment]
        for name in ("question", "warning", "information", "critical"):
            setattr(QMessageBox, name, staticmethod(lambda *_a, **_k: QMessageBox.StandardButton.Cancel))
        QMenu.exec = lambda *_a, **_k: None  # type: ignore[method-assign,assignment]
        QDialog.exec = lambda *_a, **_k: 0  # type: ignore[method-assign,assignment]
        self.window = MainWindow()
        self.window.show()
        self.open_one()
        self.done: list[str] = []
        self.slow: list[str] = []

    def open_one(self) -> None:
        """One of the samples, or the house with several units in it."""
        from tests.design.test_several_units import house

        key = self.chance.choice(("demo", "bungalow", "narrow", "several"))
        if key == "several":
            self.window.document.open_job(house(), None, key)
        else:
            self.window.doing.files.open_demo(key)

    def run(self, seconds: float, turns: int | None = None) -> None:
        end = time.monotonic() + seconds
        self.rest(0.5)
        while time.monotonic() < end and (turns is None or len(self.done) < turns):
            act = self.chance.choice(self.acts)
            start = time.monotonic()
            said = act(self)
            self.turn()
            took = time.monotonic() - start
            self.done.append(said)
            if took > SLOW_S:
                self.slow.append(f"{said}: {took:.1f} s")
            if self.window.trouble.isVisible():
                self.window.trouble.close_sheet()
            if self.window.document.job is None:
                self.open_one()
                self.rest(0.3)

    def rest(self, seconds: float) -> None:
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            self.turn()
            time.sleep(0.003)

    def turn(self) -> None:
        """One turn of the loop, with what it would delete at its end."""
        from PyQt6.QtCore import QCoreApplication, QEvent

        self.app.processEvents()
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)

    def anywhere(self):
        from PyQt6.QtCore import QPoint

        widget = self.chance.choice([self.window.plan] * 5 + self.others())
        w, h = max(widget.width(), 1), max(widget.height(), 1)
        return widget, QPoint(self.chance.randrange(w), self.chance.randrange(h))

    def others(self):
        w = self.window
        return [w.jobline, w.tools, w.rail, w.strip, w.ledger, w.card.body, w.status, w.page]

    def station(self):
        k = self.chance.randint(1, 8)
        self.window.go(k)
        return f"station {k}"

    def click(self):
        from PyQt6.QtCore import Qt
        from PyQt6.QtTest import QTest

        widget, at = self.anywhere()
        if not widget.isVisible():
            return "nothing"
        press = QTest.mouseDClick if self.chance.random() < 0.1 else QTest.mouseClick
        press(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
        popup = self.app.activePopupWidget()
        if popup is not None:
            popup.close()
        return f"click {type(widget).__name__} {at.x()},{at.y()}"

    def drag(self):
        from PyQt6.QtCore import QPoint, Qt
        from PyQt6.QtTest import QTest

        plan = self.window.plan
        if not plan.isVisible():
            return "nothing"
        held = self.chance.choice([Qt.KeyboardModifier.NoModifier] * 4 + [Qt.KeyboardModifier.AltModifier])
        points = [
            QPoint(self.chance.randrange(-50, plan.width() + 50), self.chance.randrange(-50, plan.height() + 50))
            for _ in range(4)
        ]
        QTest.mousePress(plan, Qt.MouseButton.LeftButton, held, points[0])
        for p in points:
            QTest.mouseMove(plan, p)
            self.app.processEvents()
            if self.chance.random() < 0.3:
                QTest.keyClicks(plan, "".join(self.chance.choice(TEXT) for _ in range(self.chance.randint(1, 4))))
                plan.repaint()
        if self.chance.random() < 0.15:
            self.resize()
        if self.chance.random() < 0.85:
            QTest.mouseRelease(plan, Qt.MouseButton.LeftButton, held, points[-1])
        if self.chance.random() < 0.3:
            QTest.keyClick(plan, Qt.Key.Key_Return)
        return f"drag {points[0].x()},{points[0].y()} {points[-1].x()},{points[-1].y()} tool {plan.tool}"

    def keys(self):
        from PyQt6.QtTest import QTest

        target = self.app.focusWidget() or self.window
        text = "".join(self.chance.choice(TEXT) for _ in range(self.chance.randint(1, 6)))
        QTest.keyClicks(target, "".join(c for c in text if c.isascii()))
        return f"keys {text!r}"

    def special(self):
        from PyQt6.QtCore import Qt
        from PyQt6.QtTest import QTest

        key = self.chance.choice(
            [Qt.Key.Key_Escape, Qt.Key.Key_Tab, Qt.Key.Key_Return, Qt.Key.Key_Delete, Qt.Key.Key_Backspace]
            + [Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_PageUp]
            + [Qt.Key.Key_PageDown, Qt.Key.Key_Space]
        )
        QTest.keyClick(self.app.focusWidget() or self.window, key)
        return f"key {key.name}"

    def command(self):
        from murvan.app.commands import COMMANDS

        c = self.chance.choice([c for c in COMMANDS if not set(c.keys) & set(DIALOGS) and "quit" not in c.id])
        self.window.command(c.id)
        popup = self.app.activePopupWidget()
        if popup is not None:
            popup.close()
        return f"command {c.id}"

    def wheel(self):
        from PyQt6.QtCore import QPoint, QPointF, Qt
        from PyQt6.QtGui import QWheelEvent

        widget, at = self.anywhere()
        by = QPoint(0, self.chance.choice((-960, -120, 120, 960)))
        held = self.chance.choice([Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ControlModifier])
        event = QWheelEvent(
            QPointF(at),
            QPointF(widget.mapToGlobal(at)),
            QPoint(),
            by,
            Qt.MouseButton.NoButton,
            held,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        self.app.sendEvent(widget, event)
        return f"wheel {type(widget).__name__}"

    def resize(self):
        self.window.resize(self.chance.randint(1000, 2000), self.chance.randint(600, 1200))
        return "resize"

    def field(self):
        from PyQt6.QtTest import QTest

        from murvan.app.field_edit import FieldEdit

        edits = [w for w in self.window.card.body.findChildren(FieldEdit) if w.isVisible() and not w.isReadOnly()]
        if not edits:
            return "nothing"
        edit = self.chance.choice(edits)
        edit.setFocus()
        edit.selectAll()
        typed = self.chance.choice(("", "0", "1", "7", "-3", "1e9", "12' 6\"", "420 c", "nan", "35", "250", "x"))
        QTest.keyClicks(edit, typed)
        if self.chance.random() < 0.7:
            edit.commit()
        return f"field {edit.objectName()} {typed!r}"

    acts = (station, click, click, click, drag, drag, drag, keys, keys, special, command, wheel, resize, field, field)

    def close(self) -> None:
        self.window.document.stack.setClean()
        self.window.document._recovered = False
        self.window.close()
        self.window.deleteLater()
        self.app.processEvents()


def play(seed: int, seconds: float, turns: int | None = None) -> list[str]:
    """What a monkey of that seed found; empty when all was well."""
    monkey = Monkey(seed)
    monkey.guard.reports.clear()
    monkey.guard.warnings.clear()
    monkey.guard._last.clear()
    own = ""
    try:
        monkey.run(seconds, turns)
    except Exception:  # in an act of the monkey's own: the hooks of the product would not print it
        own = traceback.format_exc()
    finally:
        monkey.close()
    last = "; ".join(monkey.done[-4:])
    found = [f"seed {seed}, after {last}: {x}" for x in (*monkey.guard.reports, *((own,) if own else ()))]
    # what the offscreen screen can't do is said by Qt whenever a list opens
    offscreen = ("propagateSizeHints", "This plugin does not support")
    said = [x for x in dict.fromkeys(monkey.guard.warnings) if not any(w in x for w in offscreen)]
    found += [f"seed {seed}, Qt: {x}" for x in said]
    return found + [f"seed {seed}, slow: {x}" for x in monkey.slow]


def main(args: list[str]) -> int:
    if args[:1] == ["one"]:
        faulthandler.enable()
        faulthandler.dump_traceback_later(float(args[2]) + 90, exit=True)  # a hang says where
        with tempfile.TemporaryDirectory() as home:
            os.environ["MURVAN_HOME"] = home
            found = play(int(args[1]), float(args[2]))
        print("\n".join(found))
        return 1 if found else 0
    seconds, seed = float(args[0]) if args else 60.0, int(args[1]) if len(args) > 1 else 1
    bad, end, played = 0, time.monotonic() + seconds, 0
    while time.monotonic() < end:
        left = min(SEED_S, end - time.monotonic())
        command = [sys.executable, "-m", "tests.monkey", "one", str(seed), f"{left:.1f}"]
        done = subprocess.run(command, cwd=Path(__file__).parents[1], capture_output=True, text=True)
        if done.returncode:
            bad += 1
            print(f"seed {seed}: exit {done.returncode}\n{done.stdout[-3000:]}{done.stderr[-3000:]}", flush=True)
        seed, played = seed + 1, played + 1
    print(f"{played} seeds, {bad} with trouble")
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
