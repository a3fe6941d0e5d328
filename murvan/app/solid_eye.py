"""Where a piece is looked at from, turned by dragging."""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray

DEG_PER_PX = 0.6


@dataclass
class Eye:
    """Where a piece is looked at from."""

    turn_deg: float = 28.0
    tilt_deg: float = 24.0

    def drag(self, dx: float, dy: float) -> None:
        """Turned by a drag of so many px, as if the piece were held there; not over its top."""
        self.turn_deg = (self.turn_deg - dx * DEG_PER_PX) % 360
        self.tilt_deg = max(-80.0, min(80.0, self.tilt_deg + dy * DEG_PER_PX))

    def axes(self) -> NDArray[np.float64]:
        """To x right, y away, z up as it is seen, (3, 3)."""
        a, b = radians(self.turn_deg), radians(self.tilt_deg)
        about = np.array([[cos(a), sin(a), 0.0], [-sin(a), cos(a), 0.0], [0.0, 0.0, 1.0]])
        tilt = np.array([[1.0, 0.0, 0.0], [0.0, cos(b), -sin(b)], [0.0, sin(b), cos(b)]])
        return np.asarray(tilt @ about)
