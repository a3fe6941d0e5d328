"""The window with its title bar inside what the desktop leaves of the screen."""

from __future__ import annotations

from PyQt6.QtCore import QMargins, QRect, QSize, QTimer
from PyQt6.QtWidgets import QWidget

USUAL_FRAME = QMargins(2, 38, 2, 2)
"""Title bar and borders of common desktops, until the real ones are known."""
SETTLED_MS = 150
"""After this the desktop has put its frame round the window."""


def inside(available: QRect, frame: QMargins, wanted: QSize, least: QSize) -> QRect:
    """The window's own area, without its frame: as wanted where that fits, else as large as fits, in the middle above.

    Args:
        available: What the desktop leaves, without panels.
        frame: Title bar and borders round the window.
        least: The window goes no smaller; on a smaller screen its upper left corner stays in sight.
    """
    room = available.marginsRemoved(frame)
    size = wanted.boundedTo(room.size()).expandedTo(least)
    left = room.left() + max((room.width() - size.width()) // 2, 0)
    top = room.top() + max((room.height() - size.height()) // 2, 0)
    return QRect(left, top, size.width(), size.height())


def frame_of(window: QWidget) -> QMargins:
    """Title bar and borders as the desktop has put them round a window that is shown."""
    outer, inner = window.frameGeometry(), window.geometry()
    return QMargins(
        inner.left() - outer.left(),
        inner.top() - outer.top(),
        outer.right() - inner.right(),
        outer.bottom() - inner.bottom(),
    )


def fit(window: QWidget) -> None:
    """Before the window is shown by a usual frame, then once more by the real one."""
    _place(window, USUAL_FRAME)
    QTimer.singleShot(SETTLED_MS, lambda: settle(window))


def settle(window: QWidget) -> None:
    """Shrink and move a window that sticks out of what the desktop leaves; nothing where it does not, or fills it."""
    screen = window.screen()
    if screen is None or window.isMaximized() or window.isFullScreen():
        return
    if not screen.availableGeometry().contains(window.frameGeometry()):
        _place(window, frame_of(window))


def _place(window: QWidget, frame: QMargins) -> None:
    screen = window.screen()
    if screen is not None:
        window.setGeometry(inside(screen.availableGeometry(), frame, window.size(), window.minimumSize()))
