"""Painting again only what differs from what a widget last showed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QRectF
from PyQt6.QtWidgets import QWidget


@dataclass(frozen=True)
class Shown:
    """What a widget shows: a frame that all of it depends on, and parts with what each depends on."""

    frame: object
    parts: Sequence[tuple[QRectF, object]] = ()


def repaint(widget: QWidget, before: Shown | None, now: Shown) -> Shown:
    """Ask for a paint of the parts that differ, of the whole when the frame or the places do; returns what is shown now."""
    if before is None or before.frame != now.frame or [r for r, _ in before.parts] != [r for r, _ in now.parts]:
        widget.update()
        return now
    for (rect, new), (_, old) in zip(now.parts, before.parts, strict=True):
        if new != old:
            widget.update(rect.toAlignedRect())
    return now
