"""Flat patterns: the facets of a sheet laid into one plane round their bends, with what is added at seams and ends.

Nothing is stretched: a facet keeps its shape, so every length on the pattern is that of the piece.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from math import atan2, cos, degrees, sin, sqrt
from typing import Literal, NamedTuple

import numpy as np
import shapely
import shapely.affinity
from shapely.geometry import Point, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from murvan.arrays import Array
from murvan.design.metal.solids import Edge, Hole, SheetOf, Solid, edge, loop_edges
from murvan.model.shop import Shop

SMALLEST_BEND_DEG = 1e-3
"""What bends less lies flat."""
NEAR_M = 1e-7


@dataclass(frozen=True)
class Bend:
    """A bend line: its ends on the pattern, and how far it is bent, away from who looks at the painted side above 0."""

    start_m: tuple[float, float]
    end_m: tuple[float, float]
    angle_deg: float
    between: tuple[int, int]
    """Places of the facets it joins, the one nearer to the first first; the second is -1 for a flange."""


@dataclass(frozen=True)
class FlatHole:
    """A hole on the pattern, with its distance from two edges of its facet."""

    at_m: tuple[float, float]
    size_m: tuple[float, ...]
    turn_deg: float
    from_edges_m: tuple[float, float]
    """From the left edge and from the foot of its facet to its middle, seen from the side that is drawn."""
    name: str
    wide_m: float
    """Of its facet."""


EdgeKind = Literal["slip", "drive", "flange", "end", "pocket", "lock", "hem"]


class Edging(NamedTuple):
    """What is added along an edge: its kind, and its outline on the pattern."""

    kind: EdgeKind
    outline_m: tuple[tuple[float, float], ...]


@dataclass(frozen=True, eq=False)
class Pattern:
    """One sheet laid flat, m, its lowest and leftmost point at 0."""

    name: str
    facets: tuple[Array, ...]
    """Each (k, 2), without what is added."""
    tree: tuple[int, ...]
    """Place of the facet each hangs on; -1: the first."""
    bends: tuple[Bend, ...]
    holes: tuple[FlatHole, ...]
    outline: Polygon
    """What is cut, seams and flanges with it and holes out of it."""
    names: tuple[tuple[str, tuple[float, float]], ...]
    """What facets are called, and where."""
    rolled: bool = False
    """Rolled, so that its bends between facets are not drawn."""
    count: int = 1
    """How many are cut; 0: it is scribed on another one."""
    edgings: tuple[Edging, ...] = ()
    inside_up: bool = False
    """Drawn as it is seen from inside."""

    @property
    def size_m(self) -> tuple[float, float]:
        """Width and height of the sheet it is cut from."""
        x0, y0, x1, y1 = self.outline.bounds
        return x1 - x0, y1 - y0


def patterns(solid: Solid, shop: Shop) -> tuple[Pattern, ...]:
    """Every sheet of a piece laid flat."""
    joined, planes = _partners(solid), Planes.of(solid)
    return tuple(_pattern(solid, sheet, shop, joined, planes) for sheet in solid.sheets)


def _partners(solid: Solid) -> dict[Edge, list[str]]:
    """Sheets that meet at an edge, by their names in order; a seam names its sheet twice."""
    found: dict[Edge, list[str]] = {}
    for sheet in solid.sheets:
        for k in sheet.facets:
            for e in loop_edges(solid.facets[k]):
                found.setdefault(e, []).append(sheet.name)
    return found


def _pattern(solid: Solid, sheet: SheetOf, shop: Shop, joined: dict[Edge, list[str]], planes: Planes) -> Pattern:
    laid = _laid_flat(solid, sheet, planes)
    chains = list(_chains(_boundary(solid, sheet, laid), _widths(solid, sheet, shop, joined)))
    net = Polygon([half.a for chain, _ in chains for half in chain])
    strips = [(_strip(chain, added.wide_m), chain, added.kind) for chain, added in chains if added.wide_m > 0]
    whole = unary_union([net.buffer(NEAR_M, join_style="mitre"), *(p for p, _, _ in strips)])
    whole = _largest(
        whole.buffer(NEAR_M, join_style="mitre").buffer(-2 * NEAR_M, join_style="mitre").simplify(NEAR_M)
    )
    strips = [x for x in strips if not x[0].is_empty]
    holes = [_hole(solid, h, laid.flat[h.facet]) for h in solid.holes if h.facet in laid.flat]
    for h in holes:
        whole = _largest(whole.difference(_shape(h)))
    x0, y0, _, _ = whole.bounds
    by = np.array([x0, y0])
    place = {k: n for n, k in enumerate(sheet.facets)}
    flanges = [Bend(h.a, h.b, 0.0, (h.facet, -1)) for _, chain, _ in strips for h in chain]
    hangs_on = [laid.tree[k] for k in sheet.facets]
    made = Pattern(
        sheet.name,
        tuple(laid.flat[k] - by for k in sheet.facets),
        tuple(-1 if k is None else place[k] for k in hangs_on),
        tuple(_moved(b, by, place) for b in (*laid.bends, *flanges)),
        tuple(replace(h, at_m=(h.at_m[0] - x0, h.at_m[1] - y0)) for h in holes),
        shapely.affinity.translate(whole, -x0, -y0),
        tuple(_named(solid, sheet, laid.flat, by, unary_union([_shape(h) for h in holes]))),
        sheet.rolled,
        sheet.count,
        tuple(Edging(kind, tuple((x - x0, y - y0) for x, y in p.exterior.coords)) for p, _, kind in strips),
    )
    return made if shop.painted == "outside" else mirrored(made)


def template(outline: Array) -> Pattern:
    """A hole as it is scribed on the sheet that it is cut into, (n, 2)."""
    low = outline.min(axis=0)
    flat = outline - low
    return Pattern("hole in the trunk", (flat,), (-1,), (), (), Polygon(flat), (), count=0)


def mirrored(p: Pattern) -> Pattern:
    """The same seen from inside: left is right, and what was bent down is bent up."""
    wide = p.size_m[0]

    def over(q: tuple[float, float]) -> tuple[float, float]:
        return wide - q[0], q[1]

    def turned(h: FlatHole) -> FlatHole:
        return replace(
            h, at_m=over(h.at_m), turn_deg=-h.turn_deg, from_edges_m=(h.wide_m - h.from_edges_m[0], h.from_edges_m[1])
        )

    outline = shapely.affinity.scale(p.outline, -1.0, 1.0, origin=(wide / 2, 0.0))
    return replace(
        p,
        inside_up=True,
        facets=tuple(np.column_stack([wide - f[:, 0], f[:, 1]]) for f in p.facets),
        bends=tuple(Bend(over(b.start_m), over(b.end_m), -b.angle_deg, b.between) for b in p.bends),
        holes=tuple(turned(h) for h in p.holes),
        outline=outline,
        names=tuple((name, over(at)) for name, at in p.names),
        edgings=tuple(Edging(e.kind, tuple(over(q) for q in e.outline_m)) for e in p.edgings),
    )


def _named(
    solid: Solid, sheet: SheetOf, flat: dict[int, Array], by: Array, cut: BaseGeometry
) -> Iterator[tuple[str, tuple[float, float]]]:
    """What facets are called, each once, where nothing is cut."""
    seen = set()
    for k in sheet.facets:
        name = solid.names.get(k)
        if name and name not in seen:
            seen.add(name)
            middle = _free_place(Polygon(flat[k]), cut)
            yield name, (middle.x - float(by[0]), middle.y - float(by[1]))


PLACES = ((0.5, 0.5), (0.5, 0.15), (0.5, 0.85), (0.2, 0.5), (0.8, 0.5), (0.2, 0.15), (0.8, 0.85))
"""Where a name is tried, as shares of the facet's box."""
NAME_M = (0.24, 0.06)
"""About what a name takes."""


def _free_place(facet: Polygon, cut: BaseGeometry) -> Point:
    """A place for a name on a facet, clear of holes where there is one."""
    x0, y0, x1, y1 = facet.bounds
    for a, b in PLACES:
        x, y = x0 + a * (x1 - x0), y0 + b * (y1 - y0)
        name = shapely.box(x - NAME_M[0] / 2, y - NAME_M[1] / 2, x + NAME_M[0] / 2, y + NAME_M[1] / 2)
        if facet.contains(Point(x, y)) and not cut.intersects(name):
            return Point(x, y)
    return facet.representative_point()


def _moved(b: Bend, by: Array, place: dict[int, int]) -> Bend:
    x, y = float(by[0]), float(by[1])
    between = (place[b.between[0]], place.get(b.between[1], -1))
    return Bend((b.start_m[0] - x, b.start_m[1] - y), (b.end_m[0] - x, b.end_m[1] - y), b.angle_deg, between)


# ---- laying flat ----------------------------------------------------------------------------------------------


class _Half(NamedTuple):
    """An edge of a facet as the facet runs through it, where it bounds the pattern."""

    facet: int
    edge: Edge
    a: tuple[float, float]
    b: tuple[float, float]


@dataclass(frozen=True)
class _Laid:
    """Facets of a sheet in the plane."""

    flat: dict[int, Array]
    """m, (corners, 2)."""
    tree: dict[int, int | None]
    """What each hangs on."""
    bends: list[Bend]
    across: dict[tuple[int, int], tuple[int, int]]
    """Facet and place of an edge in it to the same of the facet that is bent from it there."""


def _laid_flat(solid: Solid, sheet: SheetOf, planes: Planes) -> _Laid:
    """Facets in the plane, what each hangs on, and the bends between them."""
    owners: dict[Edge, list[tuple[int, int]]] = {}
    for k in sheet.facets:
        for i, e in enumerate(loop_edges(solid.facets[k])):
            owners.setdefault(e, []).append((k, i))
    first = sheet.facets[0]
    out = _Laid({first: planes.flat[first]}, {first: None}, [], {})
    waiting, cut = [first], set(sheet.seam)
    while waiting:
        k = waiting.pop(0)
        for i, e in enumerate(loop_edges(solid.facets[k])):
            other = next((x for x in owners[e] if x[0] != k), None)
            if other is None or other[0] in out.flat or e in cut:
                continue
            out.across[k, i], out.across[other] = other, (k, i)
            out.flat[other[0]] = _hung(planes.flat[other[0]], other[1], i, out.flat[k])
            out.tree[other[0]] = k
            waiting.append(other[0])
            a, b = _ends(i, out.flat[k])
            turn = _turn_deg(solid, (k, i), planes.normal[k], planes.normal[other[0]])
            if abs(turn) > SMALLEST_BEND_DEG:
                out.bends.append(Bend(a, b, turn, (k, other[0])))
    return out


def _boundary(solid: Solid, sheet: SheetOf, laid: _Laid) -> Iterator[_Half]:
    """Edges round the pattern, against the clock."""
    k, i = next((k, i) for k in sheet.facets for i in range(len(solid.facets[k])) if (k, i) not in laid.across)
    start = (k, i)
    while True:
        loop = solid.facets[k]
        a, b = _ends(i, laid.flat[k])
        yield _Half(k, edge(loop[i], loop[(i + 1) % len(loop)]), a, b)
        i = (i + 1) % len(loop)
        while (k, i) in laid.across:
            k, i = laid.across[k, i]
            i = (i + 1) % len(solid.facets[k])
        if (k, i) == start:
            return


@dataclass(frozen=True)
class Planes:
    """Every facet in its own plane, seen from outside: its first edge along x."""

    normal: dict[int, Array]
    """Unit vectors, (3,)."""
    flat: dict[int, Array]
    """m, (corners, 2)."""

    @staticmethod
    def of(solid: Solid) -> Planes:
        """All facets of as many points at once."""
        by_size: dict[int, list[int]] = {}
        for k, facet in enumerate(solid.facets):
            by_size.setdefault(len(facet), []).append(k)
        out = Planes({}, {})
        for ids in by_size.values():
            p = solid.points[np.array([solid.facets[k] for k in ids])]
            away = p - p[:, :1]
            normal = _cross(away[:, 1:-1], away[:, 2:]).sum(axis=1)
            normal /= np.linalg.norm(normal, axis=1)[:, None]
            x = away[:, 1] / np.linalg.norm(away[:, 1], axis=1)[:, None]
            axes = np.stack([x, _cross(normal, x)], axis=-1)
            out.normal.update(zip(ids, normal, strict=True))
            out.flat.update(zip(ids, away @ axes, strict=True))
        return out


def _cross(a: Array, b: Array) -> Array:
    """Of vectors (..., 3): a quarter of the time that NumPy's own takes for few of them."""
    ax, ay, az = a[..., 0], a[..., 1], a[..., 2]
    bx, by, bz = b[..., 0], b[..., 1], b[..., 2]
    return np.stack([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx], axis=-1)


def _ends(i: int, at: Array) -> tuple[tuple[float, float], tuple[float, float]]:
    """Where the ends of a facet's edge lie on the pattern, as the facet runs through it."""
    a, b = at[i], at[(i + 1) % len(at)]
    return (float(a[0]), float(a[1])), (float(b[0]), float(b[1]))


def _hung(flat: Array, own: int, on: int, at: Array) -> Array:
    """A facet laid beside the one it is bent from: its own edge on that one's."""
    (ax, ay), (bx, by) = _ends(on, at)
    (cx, cy), (dx, dy) = _ends(own, flat)
    # it runs through the edge the other way: its first end comes to the other's last
    turn = atan2(ay - by, ax - bx) - atan2(dy - cy, dx - cx)
    c, s = cos(turn), sin(turn)
    return np.asarray((flat - [cx, cy]) @ np.array([[c, s], [-s, c]]) + [bx, by])


def _turn_deg(solid: Solid, on: tuple[int, int], n1: Array, n2: Array) -> float:
    """How far the second facet is bent from the first; above 0 away from who looks from outside."""
    k, i = on
    loop = solid.facets[k]
    along = solid.points[loop[(i + 1) % len(loop)]] - solid.points[loop[i]]
    return degrees(atan2(float(_cross(n1, n2) @ along) / sqrt(float(along @ along)), float(n1 @ n2)))


# ---- what is added --------------------------------------------------------------------------------------------


class _Added(NamedTuple):
    """What is added at an edge."""

    kind: EdgeKind
    wide_m: float


def _widths(solid: Solid, sheet: SheetOf, shop: Shop, joined: dict[Edge, list[str]]) -> Callable[[_Half], _Added]:
    """What is added at each edge round a sheet."""
    ends = {e: kind for ring in solid.ends for e, kind in _end_kinds(solid, ring, shop).items()}
    wide = {"slip": shop.slip_m, "drive": shop.drive_m, "flange": shop.flange_m, "end": shop.end_m}
    seam, pocketed = set(sheet.seam), set[Edge]()

    def added(half: _Half) -> _Added:
        e = half.edge
        if e in ends:
            return _Added(ends[e], wide[ends[e]])
        if e in seam:
            first = e not in pocketed
            pocketed.add(e)
        elif len(joined[e]) == 1:
            return _Added("hem", shop.hem_m)
        else:  # of two sheets the first one has the pocket
            first = joined[e][0] == sheet.name
        return _Added("pocket", shop.lock_pocket_m) if first else _Added("lock", shop.lock_flange_m)

    return added


ROUND_EDGES = 8
"""A ring of more edges is round."""


def _end_kinds(solid: Solid, ring: tuple[Edge, ...], shop: Shop) -> dict[Edge, EdgeKind]:
    """How the edges of an end are joined: slips on the long sides of a flat one, drives on the short ones."""
    if len(ring) > ROUND_EDGES:
        return dict.fromkeys(ring, "end")
    if shop.joint == "flange":
        return dict.fromkeys(ring, "flange")
    ways = {e: solid.points[e[1]] - solid.points[e[0]] for e in ring}
    first = next(iter(ways.values()))
    along = {
        e: abs(float(w @ first)) > 0.5 * float(np.linalg.norm(w) * np.linalg.norm(first)) for e, w in ways.items()
    }
    long = sum(float(np.linalg.norm(w)) * (1 if along[e] else -1) for e, w in ways.items()) >= 0
    return {e: "slip" if along[e] == long else "drive" for e in ring}


def _chains(halves: Iterable[_Half], added: Callable[[_Half], _Added]) -> Iterator[tuple[list[_Half], _Added]]:
    """Edges that follow one another without a corner and get the same."""
    chain: list[_Half] = []
    before: _Added | None = None
    for half in halves:
        own = added(half)
        if chain and before is not None and (own != before or _corner_deg(chain[-1], half) > CORNER_DEG):
            yield chain, before
            chain = []
        chain.append(half)
        before = own
    if before is not None:
        yield chain, before


def _corner_deg(before: _Half, after: _Half) -> float:
    ux, uy = before.b[0] - before.a[0], before.b[1] - before.a[1]
    vx, vy = after.b[0] - after.a[0], after.b[1] - after.a[1]
    return abs(degrees(atan2(ux * vy - uy * vx, ux * vx + uy * vy)))


CORNER_DEG = 25.0
NOTCH = 0.49
"""Of an edge, what a notch at its end takes at most."""


def _strip(chain: list[_Half], wide_m: float) -> Polygon:
    """Along a chain of edges, outside of it, notched at 45 degrees at both ends."""
    line = np.array([chain[0].a, *(h.b for h in chain)])
    legs = np.diff(line, axis=0)
    long = np.linalg.norm(legs, axis=1)
    along = legs / long[:, None]
    out = np.column_stack([along[:, 1], -along[:, 0]])
    mitre = np.vstack([out[:1], out[:-1] + out[1:], out[-1:]])
    mitre = mitre / np.maximum((mitre * np.vstack([out[:1], out])).sum(axis=1), 0.2)[:, None]
    beside = line + mitre * wide_m
    notch = min(wide_m, NOTCH * float(long.sum()))
    if len(chain) == 1 or notch < min(long[0], long[-1]):
        beside[0] += along[0] * notch
        beside[-1] -= along[-1] * notch
    return _largest(Polygon(np.vstack([line, beside[::-1]])).buffer(0))


def _largest(shape: BaseGeometry) -> Polygon:
    """A strip that its notches or a tight bend cut in two is what is left of it in one piece."""
    parts = [x for x in getattr(shape, "geoms", (shape,)) if isinstance(x, Polygon)]
    return max(parts, key=lambda x: x.area, default=Polygon())


def _hole(solid: Solid, hole: Hole, at: Array) -> FlatHole:
    """A hole where its facet lies."""
    x = at[1] - at[0]
    wide = float(np.linalg.norm(x))
    x = x / wide
    y = np.array([-x[1], x[0]])
    middle = at[0] + x * hole.along_m + y * hole.across_m
    turn = degrees(atan2(float(x[1]), float(x[0])))
    return FlatHole(
        (float(middle[0]), float(middle[1])), hole.size_m, turn, (hole.along_m, hole.across_m), hole.name, wide
    )


def _shape(h: FlatHole) -> Polygon:
    """What is cut for a hole; a round one of as many sides as are drawn."""
    if len(h.size_m) == 1:
        return Point(h.at_m).buffer(h.size_m[0] / 2, 64)
    w, d = h.size_m
    flat = shapely.box(h.at_m[0] - w / 2, h.at_m[1] - d / 2, h.at_m[0] + w / 2, h.at_m[1] + d / 2)
    return shapely.affinity.rotate(flat, h.turn_deg, origin=h.at_m)
