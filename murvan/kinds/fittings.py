"""Fittings of ducts."""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass
from typing import Literal

from murvan.kinds.table import Table
from murvan.units import INCH

Curve = tuple[tuple[float, float], ...]
Form = Literal["square", "vanes", "gored", "bend", "cap", "collar", "transition", "boot", "wye", "takeoff", "riser"]
SMOOTH: Curve = ((0.75, 0.33), (1.0, 0.22), (1.5, 0.15), (2.0, 0.13))
GORED: Curve = ((0.75, 0.50), (1.0, 0.37), (1.5, 0.27), (2.0, 0.24))
"""Round 90-degree elbows by r/D, smooth and four-piece gored; ASHRAE duct fitting data, from memory."""
COLLAR_M = 4 * INCH
"""Length of a collar, and of the tap of a take-off; common practice."""
BOOT_M = 6 * INCH
"""Height of a boot; common practice."""


@dataclass(frozen=True)
class FittingKind:
    """A kind of fitting."""

    id: str
    name: str
    form: Form
    """How it is made where it is of sheet."""
    loss: float | Curve | None
    """On the velocity pressure of its own run, by r/D where it goes by that; None: by how the air parts, at `branch_deg`."""
    branch_deg: float | None = None
    """Angle at which it lets a branch off its trunk."""
    first: bool = False
    """It stands at the start of its run."""
    at_end: bool = False
    """It stands along its run or at its end."""
    turns: bool = False
    """Its sheet is as long as the quarter turn it makes."""
    neck_m: float = 0.0
    """Length along the run that it takes up."""
    bought_round: str = ""
    """What it is bought as where its run is round; '': it is made."""

    def loss_at(self, ratio: float = 1.5) -> float:
        """Loss coefficient on its own run's velocity pressure; 0 of what parts the air, see `physics.junctions`.

        Args:
            ratio: r/D, centre-line radius over diameter.
        """
        if self.loss is None:
            return 0.0
        return _between(self.loss, ratio) if isinstance(self.loss, tuple) else self.loss


def _between(curve: Curve, at: float) -> float:
    """Linear, level beyond the ends."""
    k = bisect_left(curve, (at,))
    if k == 0 or k == len(curve):
        return curve[min(k, len(curve) - 1)][1]
    (x0, y0), (x1, y1) = curve[k - 1], curve[k]
    return y0 + (y1 - y0) / (x1 - x0) * (at - x0)


FITTINGS = Table(
    "fitting",
    FittingKind(
        "takeoff", "Take-off, straight", "collar", None, 90.0, first=True, neck_m=COLLAR_M, bought_round="collar"
    ),
    FittingKind("takeoff45", "Take-off, 45°", "takeoff", None, 45.0, first=True, neck_m=COLLAR_M),
    FittingKind("elbow", "Elbow, smooth", "bend", SMOOTH, at_end=True, turns=True, bought_round="elbow"),
    FittingKind("elbow_gored", "Elbow, 4-piece", "gored", GORED, at_end=True, turns=True),
    FittingKind("elbow_square", "Elbow, square", "square", 1.2, at_end=True, turns=True, bought_round="elbow"),
    FittingKind("elbow_vanes", "Elbow with vanes", "vanes", 0.2, at_end=True, turns=True, bought_round="elbow"),
    FittingKind("bend45", "Bend, 45°", "bend", 0.12, at_end=True, bought_round="elbow"),
    FittingKind("reducer", "Transition", "transition", 0.06, first=True, bought_round="reducer"),
    FittingKind("boot", "Boot", "boot", 0.75, at_end=True, neck_m=BOOT_M),
    # flex bent into the boot; a hard elbow with a straight boot is 0.22 + 0.75
    FittingKind("boot_flex_turn", "Boot, flex bent into it", "boot", 2.0, at_end=True, neck_m=BOOT_M),
    FittingKind("wye", "Wye", "wye", None, 45.0, first=True, neck_m=COLLAR_M),
    FittingKind("plenum_exit", "Plenum collar", "collar", 0.35, first=True, neck_m=COLLAR_M, bought_round="collar"),
    FittingKind("plenum_entry", "Return collar", "collar", 0.9, first=True, neck_m=COLLAR_M, bought_round="collar"),
    FittingKind("end_cap", "End cap", "cap", 0.0, at_end=True, bought_round="cap"),
    FittingKind("riser", "Riser boot", "riser", 0.4, first=True),
)
"""Loss coefficients from memory. What parts or joins: see `physics.junctions`."""
