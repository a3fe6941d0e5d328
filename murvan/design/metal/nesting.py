"""Patterns nested on stock sheets, by their bounding boxes (rectpack, maximal rectangles)."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from math import ceil

import rectpack
import shapely.affinity
from shapely.geometry import Polygon

from murvan.design.metal.develop import Pattern
from murvan.design.metal.pieces import STOCK_M, ShopPiece
from murvan.kinds.duct_materials import DUCT_MATERIALS

KERF_MM = 5
"""Between two pieces; common practice."""
GRID = 10_000.0
"""Tenths of a millimetre a metre: sheets in whole inches lie on them exactly."""


@dataclass(frozen=True, eq=False)
class Placed:
    """A pattern on a stock sheet, lower left corner of its box, m."""

    number: int
    what: str
    pattern: Pattern
    at_m: tuple[float, float]
    turned: bool
    """By a quarter, against the clock."""

    @property
    def outline(self) -> Polygon:
        """What is cut, where it lies on the sheet."""
        x, y = self.at_m
        if not self.turned:
            return shapely.affinity.translate(self.pattern.outline, x, y)
        _, high = self.pattern.size_m
        turned = shapely.affinity.rotate(self.pattern.outline, 90, origin=(0, 0))
        return shapely.affinity.translate(turned, x + high, y)


@dataclass(frozen=True, eq=False)
class NestedSheet:
    """One stock sheet with what is cut from it."""

    metal: str
    gauge: int
    size_m: tuple[float, float]
    placed: tuple[Placed, ...]

    @property
    def used(self) -> float:
        """Share of it that becomes pieces."""
        area = sum(x.pattern.outline.area for x in self.placed)
        return float(area / (self.size_m[0] * self.size_m[1]))


@dataclass(frozen=True, eq=False)
class Nested:
    """All stock sheets, and what goes on none."""

    sheets: tuple[NestedSheet, ...]
    too_large: tuple[tuple[int, str, Pattern], ...]
    """Number, piece and pattern."""

    @property
    def waste(self) -> float:
        """Share of the stock that is left over."""
        whole = sum(x.size_m[0] * x.size_m[1] for x in self.sheets)
        cut = sum(x.used * x.size_m[0] * x.size_m[1] for x in self.sheets)
        return 1 - cut / whole if whole else 0.0


def nested(pieces: Iterable[ShopPiece], stock: tuple[tuple[float, float], ...] = STOCK_M) -> Nested:
    """Every pattern of every piece on stock sheets, by gauge; on those of the size that leaves least over."""
    wanted: dict[tuple[str, int], list[tuple[int, str, Pattern]]] = {}
    for x in pieces:
        for p in x.patterns:
            wanted.setdefault(_stock(x), []).extend([(x.piece.number, x.piece.what, p)] * p.count)
    sheets: list[NestedSheet] = []
    large: list[tuple[int, str, Pattern]] = []
    for of, items in sorted(wanted.items()):
        fits = [x for x in items if any(_fits(x[2], size) for size in stock)]
        large += [x for x in items if x not in fits]
        sheets += _least(of, fits, stock)
    return Nested(tuple(sheets), tuple(large))


def _stock(x: ShopPiece) -> tuple[str, int]:
    """Metal and gauge that a piece with patterns is cut from."""
    sheet = DUCT_MATERIALS[x.piece.material].sheet
    if sheet is None or x.piece.gauge is None:
        raise ValueError(f"{x.piece.what} is not of sheet")
    return sheet.metal, x.piece.gauge


def _fits(p: Pattern, size: tuple[float, float]) -> bool:
    w, h = p.size_m
    (w, h), (a, b) = (_grid(w), _grid(h)), (_grid(size[0]), _grid(size[1]))
    return (w <= a and h <= b) or (h <= a and w <= b)


def _least(
    of: tuple[str, int], items: list[tuple[int, str, Pattern]], stock: tuple[tuple[float, float], ...]
) -> list[NestedSheet]:
    """On sheets of each size that all go on, and on all sizes together; the least stock."""
    if not items:
        return []
    alone = [(size,) for size in stock if all(_fits(p, size) for _, _, p in items)]
    tried = [_packed(of, items, sizes) for sizes in (*alone, stock)]
    whole = [x for x in tried if sum(len(s.placed) for s in x) == len(items)]
    return min(whole, key=lambda x: sum(s.size_m[0] * s.size_m[1] for s in x))


def _packed(
    of: tuple[str, int], items: list[tuple[int, str, Pattern]], sizes: tuple[tuple[float, float], ...]
) -> list[NestedSheet]:
    packer = rectpack.newPacker(rotation=True)
    for k, (_, _, p) in enumerate(items):
        w, h = p.size_m
        packer.add_rect(_grid(w), _grid(h), rid=k)
    for size in sizes:
        # the kerf of the last piece may hang over the edge
        packer.add_bin(_grid(size[0]), _grid(size[1]), count=len(items))
    packer.pack()
    out = []
    for held in packer:
        placed = []
        for rect in held:
            number, what, p = items[rect.rid]
            turned = rect.width != _grid(p.size_m[0])
            placed.append(Placed(number, what, p, (rect.x / GRID, rect.y / GRID), turned))
        size = min(sizes, key=lambda s: abs(_grid(s[0]) - held.width))
        out.append(NestedSheet(*of, size, tuple(placed)))
    return out


def _grid(metres: float) -> int:
    """On the grid, with the kerf; sheets and pieces alike, so that a piece as large as its sheet goes on it."""
    return ceil(metres * GRID - 1e-5) + round(KERF_MM * GRID / 1000)
