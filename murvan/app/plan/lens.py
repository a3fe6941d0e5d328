"""What a plan is shown through: the colours, texts and layers that a station asks for."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor

Overlay = Callable[..., None]
"""Draws with a painter on the plan's sheet, which knows its lens."""


@dataclass(frozen=True)
class Legend:
    kind: str
    """'fill', 'line', 'duct', 'mark', 'bar', 'hatch', or 'ramp' of five shades with values between them ('5|8|11|15')."""
    color: str
    label: str


@dataclass
class Lens:
    """What the plan shows."""

    name: str
    fills: dict[str, QColor] = field(default_factory=dict)
    room_text: dict[str, list[tuple[str, str, float, int, str]]] = field(default_factory=dict)
    """Room id to lines of (value, unit, size, weight, colour role or '' for automatic)."""
    text_at: str = "centre"
    note: tuple[str, ...] = ()
    legend_title: str = ""
    legend: tuple[Legend, ...] = ()
    storey_figures: dict[str, str] = field(default_factory=dict)
    storey_unit: str = ""
    ducts: bool = False
    ducts_faint: bool = False
    pieces: bool = False
    registers: bool = False
    takes_registers: str = ""
    """The ducted unit whose registers can be placed and moved here."""
    takes_ducts: str = ""
    """The ducted unit whose ducts can be drawn and moved here."""
    boxes: bool = False
    """Soffits and chases that are drawn, and what has to be framed round ducts."""
    throws: bool = False
    dimensions: bool = False
    tags: bool = False
    zones: bool = False
    """Thermostats are shown; they and rooms can be dragged to zones."""
    calling: frozenset[str] = frozenset()
    """Zones whose thermostat calls."""
    door_calls: dict[str, str] = field(default_factory=dict)
    """Opening id of a door to the key of its call, where a click shuts or opens it."""
    unit: str = ""
    """The indoor unit in hand: units are shown with their rooms, and can be moved and given rooms."""
    survey: bool = False
    """Equipment places, floor to keep clear, patches and what the survey found."""
    sun: dict[str, float] = field(default_factory=dict)
    """Opening id to the length of its sun bar, 0..1."""
    garage_walls: bool = False
    overlay: tuple[Overlay, ...] = ()
    keep_free: Callable[..., QRectF] | None = None
    """A part of the plan that labels stay out of."""
    plates: frozenset[str] = frozenset()
    """Rooms whose texts stand on a plate of their room's colour, over what the overlay draws."""
