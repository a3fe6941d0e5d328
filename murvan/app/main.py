"""Starts the application."""

from __future__ import annotations

import sys
import threading
from functools import lru_cache
from importlib import import_module

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from murvan.app.fit_screen import fit
from murvan.app.guard import guard
from murvan.app.screen_scale import follow_screen
from murvan.app.theme import load_fonts
from murvan.demo import BY_KEY


@lru_cache(maxsize=1)
def application() -> QApplication:
    """The one QApplication, with fonts; kept, since laid-out texts live no longer than it does."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(sys.argv[:1])
        app.setApplicationName("Murvan")
        app.setDesktopFileName("murvan")
        app.setStyle("Fusion")
        load_fonts()
    guard().install()
    return app


READY_AFTER_MS = 1500
LATER = ("lay", "propose", "study", "metal")
"""Packages of design that the window starts without."""


def get_ready_aside() -> threading.Thread:
    """Load, once the window stands, what the first stroke or key may want: no press waits for it."""

    def load() -> None:
        for name in LATER:
            face = import_module(f"murvan.design.{name}")
            for x in face.__all__:
                getattr(face, x)

    thread = threading.Thread(target=load, name="murvan-ready", daemon=True)
    thread.start()
    return thread


def run(job: str | None) -> int:
    """Open the window, with a job file, the word of a demo, or the start page; returns the exit status."""
    from murvan.app.window import MainWindow

    app = application()
    follow_screen(app)
    # Python holds the interpreter in the solving thread; short turns keep the window fluid
    sys.setswitchinterval(0.001)
    window = MainWindow()
    if job in BY_KEY:
        window.doing.files.open_demo(job)
    elif job is not None:
        window.doing.files.open_path(job)
    fit(window)
    window.show()
    QTimer.singleShot(0, window.plan.setFocus)
    QTimer.singleShot(READY_AFTER_MS, get_ready_aside)
    return app.exec()
