"""What ducts are made of."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, NamedTuple

from murvan.kinds.table import Table
from murvan.units import FOOT, INCH, R_IP

Shape = Literal["round", "rectangular", "oval"]
SHAPES: tuple[Shape, ...] = ("round", "rectangular", "oval")


class Gauge(NamedTuple):
    """A thickness of sheet and what it weighs."""

    gauge: int
    kg_m2: float


@dataclass(frozen=True)
class SheetStock:
    """Sheet of two thicknesses, the light one up to a side."""

    metal: str
    light: Gauge
    heavy: Gauge
    light_to_m: float | None = None
    """Largest side of the light one; None: as the shop has it."""

    def gauge(self, largest_m: float, shop_to_m: float) -> Gauge:
        """The thickness for a duct's largest side. [m]"""
        to = shop_to_m if self.light_to_m is None else self.light_to_m
        return self.light if largest_m <= to + NEAR_M else self.heavy


NEAR_M = 5e-4


class Hanger(NamedTuple):
    """A kind of hanger and how far apart it stands."""

    what: str
    spacing_m: float


BAND = Hanger("Band strap, 1 in", 3.05)
PAIR = Hanger("Strap pair, 1 in", 2.44)
UNDER = Hanger("Strap pair under the duct, 1½ in", 1.83)
CLAMP = Hanger("Riser clamp", 3.05)
SADDLE = Hanger("Saddle strap, 1½ in", 1.22)
CHANNEL = Hanger("Channel under the duct, 2 in", 1.22)
PIPE_STRAP = Hanger("Pipe strap, 1½ in", 1.22)
"""Round pipe every 10 ft, flat duct 8 ft and wide duct 6 ft, risers at each floor, flex, board and plastic every 4 ft; common
practice, the local code decides."""
WIDE_M = 18 * INCH


@dataclass(frozen=True)
class Hanging:
    """What holds a duct, by how it lies."""

    round: Hanger
    flat: Hanger
    wide: Hanger
    rises: Hanger

    def of(self, is_round: bool, largest_m: float, rises: bool) -> Hanger:
        """The hanger of a duct by shape, largest side and whether it goes up."""
        if rises:
            return self.rises
        return self.round if is_round else self.wide if largest_m > WIDE_M else self.flat


@dataclass(frozen=True)
class DuctMaterial:
    """A material of ducts: all that differs by what they are made of."""

    id: str
    name: str
    roughness_m: float
    """Absolute; with ASHRAE Fundamentals ch. 21 where nothing else is said."""
    section: str
    """Of the shopping list."""
    piece: str
    """A straight piece of it, on the cut list."""
    hanging: Hanging
    joint_m: float
    """Length it comes in."""
    sheet: SheetStock | None = None
    """None: it is not of sheet, and has no gauge, seam or pattern."""
    kg_m2: float = 0.0
    """By its surface, of what is not sheet."""
    fittings: str = ""
    """The material of its fittings; '': its own."""
    shapes: tuple[Shape, ...] = SHAPES
    screws_a_joint: int = 6
    sealed_by: str = "mastic"
    r_m2k_w: float = 0.0
    """Of its own, without a wrap."""
    wall_m: float = 0.0
    """Thickness, where it counts."""
    jackets_m: tuple[tuple[float, float], ...] = ()
    """What its insulation makes it wider, from a resistance up, where that is not wrapped round it."""
    lined: bool = False
    """Its lining stands inside: the sheet is cut larger by it."""
    ribs_px: float = 0.0
    """Lines across it on the plan, so far apart; 0: none."""
    thick: bool = False
    """Its walls are drawn."""
    bends: bool = False
    """It is laid in curves, and its friction goes by how far it is stretched."""
    longest_m: float | None = None
    """A run of it may be no longer."""
    not_in: tuple[str, ...] = ()
    """Places where it may not lie."""
    not_for: tuple[str, ...] = ()
    """Sides ('fresh') whose air it may not carry."""
    why_not: str = ""
    """Why it may not, in one sentence."""
    instead: str = "galvanised"
    """What takes its place where it may not lie, or has to be flat."""

    def gauge(self, largest_m: float, shop_to_m: float) -> int | None:
        """Of a piece by its largest side; None where it is not of sheet.

        Args:
            shop_to_m: largest side that the shop makes of its light sheet.
        """
        return self.sheet.gauge(largest_m, shop_to_m).gauge if self.sheet is not None else None

    def weighs_kg_m2(self, gauge: int | None) -> float:
        """By its surface. Raises ValueError for a gauge that it does not come in."""
        if self.sheet is None:
            return self.kg_m2
        for x in (self.sheet.light, self.sheet.heavy):
            if x.gauge == gauge:
                return x.kg_m2
        raise ValueError(f"{self.name} does not come in {gauge} gauge")

    def jacket_m(self, insulation_r_m2k_w: float) -> float:
        """What its walls and its insulation add to its outside. [m]"""
        if insulation_r_m2k_w <= 0:
            return 2 * self.wall_m
        wide = next((wide for least, wide in self.jackets_m if insulation_r_m2k_w >= least), WRAP_M)
        return 2 * self.wall_m + wide


WRAP_M = 2 * INCH
"""What wrap adds to a duct."""
FLEX_JACKETS_M = ((1.3, 4.5 * INCH), (0.9, 3.0 * INCH))
"""Of flex: about 4 to 5 in at R-8, 3 in at R-6."""
METAL = Hanging(BAND, PAIR, UNDER, CLAMP)
SHOP = 5 * FOOT
"""Sheet metal comes in 5 ft lengths; common practice."""

DUCT_MATERIALS = Table(
    "duct material",
    DuctMaterial(
        "flex",
        "Flex",
        0.9e-3,
        "Flex",
        "Flex",
        Hanging(SADDLE, SADDLE, SADDLE, SADDLE),
        25 * FOOT,
        fittings="galvanised",
        jackets_m=FLEX_JACKETS_M,
        ribs_px=4.0,
        bends=True,
        longest_m=25 * FOOT,
        why_not="A run of flex is one box of it at most: a joint inside its jacket is not seen and not sealed.",
    ),
    DuctMaterial(
        "galvanised",
        "Galvanised",
        0.09e-3,
        "Sheet metal",
        "Duct",
        METAL,
        SHOP,
        # 26 and 24 gauge; handbook sheet weights, from memory
        sheet=SheetStock("galvanised steel", Gauge(26, 4.42), Gauge(24, 5.64)),
    ),
    DuctMaterial(
        "lined",
        "Lined",
        0.9e-3,
        "Sheet metal",
        "Lined duct",
        METAL,
        SHOP,
        sheet=SheetStock("galvanised steel", Gauge(26, 4.42), Gauge(24, 5.64)),
        lined=True,
    ),
    DuctMaterial(
        "aluminium",
        "Aluminium",
        0.06e-3,
        "Sheet metal",
        "Aluminium duct",
        METAL,
        SHOP,
        # .020 and .025 in; 2,700 kg/m3, from memory
        sheet=SheetStock("aluminium", Gauge(24, 1.38), Gauge(22, 1.73)),
    ),
    DuctMaterial(
        "spiral",
        "Spiral pipe",
        0.09e-3,
        "Pipe",
        "Spiral pipe",
        METAL,
        10 * FOOT,
        sheet=SheetStock("galvanised steel", Gauge(26, 4.42), Gauge(24, 5.64), 14 * INCH),
        shapes=("round", "oval"),
        ribs_px=12.0,
    ),
    DuctMaterial(
        "snap_lock",
        "Snap-lock pipe",
        0.09e-3,
        "Pipe",
        "Snap-lock pipe",
        METAL,
        SHOP,
        # 30 gauge to 14 in; house code table of round ducts, from memory
        sheet=SheetStock("galvanised steel", Gauge(30, 3.20), Gauge(28, 3.81), 14 * INCH),
        shapes=("round",),
    ),
    DuctMaterial(
        "board",
        "Duct board",
        0.9e-3,
        "Duct board",
        "Board duct",
        Hanging(CHANNEL, CHANNEL, CHANNEL, CLAMP),
        4 * FOOT,
        # an inch of glass fibre at 72 kg/m3 and its foil, R-4.3; common practice
        kg_m2=1.9,
        shapes=("rectangular",),
        screws_a_joint=0,
        sealed_by="closure tape",
        r_m2k_w=4.3 * R_IP,
        wall_m=1 * INCH,
        thick=True,
        not_in=("crawl",),
        not_for=("fresh",),
        why_not="Board that gets wet falls apart and feeds mould.",
    ),
    DuctMaterial(
        "plastic",
        "Plastic",
        0.03e-3,
        "Pipe",
        "Plastic pipe",
        Hanging(PIPE_STRAP, PIPE_STRAP, PIPE_STRAP, CLAMP),
        10 * FOOT,
        # 3 mm of rigid PVC, from memory
        kg_m2=4.2,
        screws_a_joint=0,
        sealed_by="solvent cement",
        not_in=("attic",),
        why_not="Plastic softens in the heat of an attic; codes keep it to what is buried.",
    ),
)
PLAIN = DUCT_MATERIALS["galvanised"]
"""What plenums, and ducts that nobody said anything of, are made of."""
SECTIONS = tuple(dict.fromkeys(m.section for m in DUCT_MATERIALS.values()))
"""Of the shopping list, for straight duct."""
