"""Registers and grilles by where they are mounted, how they are fed and how they blow."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from murvan.kinds.table import Table
from murvan.units import FPM

Fed = Literal["below", "above", "wall"]
Blows = Literal["up", "across", "round"]
Sizes = tuple[tuple[float, float], ...]
GRILLE_SIZES: Sizes = ((14, 6), (14, 10), (16, 12), (20, 14), (20, 20), (24, 20), (30, 20), (30, 24))
WALL_SIZES: Sizes = ((8, 4), (10, 4), (10, 6), (12, 6), (14, 6), (16, 6), (14, 8))
GRILLE_M_S = 400 * FPM


@dataclass(frozen=True)
class RegisterKind:
    """A kind of register or grille. Throws are to 50 fpm, sizes are in inches as they are stocked; common practice."""

    id: str
    name: str
    fed: Fed
    """From under the floor, from over the ceiling, or from either inside the wall."""
    sizes_in: Sizes
    off_wall_m: float
    """Of its middle from the wall."""
    noise_nc: float
    """NC at 500 fpm in the free area of a 10 by 4 in face, where none is typed and none of its kind is in the catalogue."""
    laid: Fed | Literal["return", ""] = ""
    """Murvan takes it where ducts are below, above or in the wall alone, or for the way back."""
    blows: Blows = "round"
    """Up, at the wall across, or round about."""
    throw_k: float = 3.8
    """K of the jet equation."""
    ways: int = 1
    """Jets that its air parts into."""
    reach: float | None = None
    """Share of the way to what it blows at that its air has to reach."""
    most_reach: float | None = None
    """Share of that way beyond which it is a draught."""
    sized_m_s: float | None = None
    """Face velocity that it is sized for; None: by practice."""
    filters: bool = False
    """It holds a filter, which wants slow air."""
    inner_wall: bool = False
    """It stands at the wall nearest the unit and not under the glass."""


REGISTERS = Table(
    "kind of register",
    RegisterKind(
        "ceiling",
        "Ceiling",
        "above",
        ((8, 4), (10, 4), (10, 6), (12, 6), (14, 6), (12, 8), (12, 12)),
        0.6,
        22,
        "above",
        ways=4,
        reach=0.4,
    ),
    RegisterKind(
        "sidewall",
        "High in the wall",
        "wall",
        WALL_SIZES,
        0.03,
        22,
        "wall",
        "across",
        5.7,
        reach=0.6,
        most_reach=1.5,
        inner_wall=True,
    ),
    RegisterKind(
        "floor",
        "Floor",
        "below",
        ((10, 2.25), (10, 4), (12, 4), (10, 6), (12, 6), (14, 6)),
        0.15,
        22,
        "below",
        "up",
        4.7,
        reach=0.6,
    ),
    RegisterKind("baseboard", "Baseboard", "below", ((15, 2), (18, 3), (24, 3)), 0.04, 22, "", "up", 3.9, reach=0.6),
    RegisterKind(
        "low_wall", "Low in the wall", "below", WALL_SIZES, 0.03, 22, "", "across", 4.7, reach=0.6, most_reach=1.2
    ),
    RegisterKind(
        "slot", "Slot in the ceiling", "above", ((24, 2), (36, 2), (48, 2)), 0.3, 27, "", "across", 3.9, reach=0.6
    ),
    RegisterKind(
        "jet",
        "Jet",
        "wall",
        ((4, 4), (5, 5), (6, 6)),
        0.03,
        30,
        "",
        "across",
        5.7,
        reach=0.6,
        most_reach=1.2,
        inner_wall=True,
    ),
    RegisterKind(
        "displacement", "Displacement, floor", "below", ((12, 4), (14, 6), (24, 6)), 0.15, 15, "", "up", 3.0
    ),
    RegisterKind("grille", "Return grille", "wall", GRILLE_SIZES, 0.03, 24, "return", sized_m_s=GRILLE_M_S),
    RegisterKind(
        "filter_grille", "Filter grille", "wall", GRILLE_SIZES, 0.15, 23, sized_m_s=GRILLE_M_S, filters=True
    ),
)
"""K: sidewall 5.7, floor 4.7, four-way ceiling 3.8, slots 3.9, free openings 5.7, perforated faces 3.0; ASHRAE space air diffusion, from memory."""
LAID = {f.laid: f.id for f in REGISTERS.values() if f.laid}
"""The kind that Murvan takes, by where ducts are."""
