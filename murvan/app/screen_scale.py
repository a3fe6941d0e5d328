"""Text and targets grow with a large screen that the desktop itself does not scale."""

from __future__ import annotations

import os
import sys

from PyQt6.QtWidgets import QApplication

VARIABLE = "QT_SCALE_FACTOR"
STEPS = ((3600, 2000, 1.75), (2400, 1350, 1.25))
"""From a screen's width and height in pixels on, the factor."""


def factor_for(width: int, height: int, ratio: float) -> float:
    """How much larger everything is drawn on a screen of so many pixels; 1 where the desktop scales already."""
    if ratio != 1.0:
        return 1.0
    return next((k for w, h, k in STEPS if width >= w and height >= h), 1.0)


def follow_screen(app: QApplication) -> None:
    """Start again with the screen's factor: Qt reads it once, before there is a screen to ask.

    Whoever sets QT_SCALE_FACTOR decides alone.
    """
    screen = app.primaryScreen()
    if VARIABLE in os.environ or screen is None or not sys.orig_argv[1:]:
        return
    size = screen.size()
    factor = factor_for(size.width(), size.height(), screen.devicePixelRatio())
    if factor != 1.0:
        os.environ[VARIABLE] = f"{factor:g}"
        os.execv(sys.executable, [sys.executable, *sys.orig_argv[1:]])
