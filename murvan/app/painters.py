"""A painter that is ended whatever happens."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from PyQt6.QtGui import QPaintDevice, QPainter


@contextmanager
def drawing(device: QPaintDevice, smooth: bool = True) -> Iterator[QPainter]:
    """A painter on a device; what goes wrong inside goes on, with the painter ended."""
    p = QPainter(device)
    try:
        if smooth:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
        yield p
    finally:
        if p.isActive():  # a device without size opens none
            p.end()
