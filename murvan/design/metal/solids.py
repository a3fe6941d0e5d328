"""Pieces of sheet metal as they stand in space: flat facets, the sheets they are bent from, how their edges are finished.

Lengths in m. A piece stands on its inlet at z = 0 and goes up to its outlet; sides are named by where they look: the front
down the plan (y = 0), the right, the back, the left. What is round is made of so many facets as bend smoothly, on a polygon
that is as long around as the circle.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from math import cos, pi, radians, sin

import numpy as np

from murvan.arrays import Array

Edge = tuple[int, int]
"""Two points, the lower index first."""

ROUND = 48
"""Facets of a circle; a multiple of four."""
ARC = 12
"""Facets of a quarter bend of a cheek."""


@dataclass(frozen=True)
class Hole:
    """A hole in a facet: its middle from the facet's first point along its first edge and across, m."""

    facet: int
    along_m: float
    across_m: float
    size_m: tuple[float, ...]
    """One diameter, or width along and height across."""
    name: str = ""


@dataclass(frozen=True)
class SheetOf:
    """Facets that are bent from one piece of sheet; the first one stays where it is when it is laid flat."""

    name: str
    facets: tuple[int, ...]
    seam: tuple[Edge, ...] = ()
    """Edges between its facets that are cut and locked, not bent."""
    rolled: bool = False
    """Whether it is rolled over its facets."""
    count: int = 1
    """How many of it are in the piece; it stands there once."""


@dataclass(frozen=True, eq=False)
class Solid:
    """A piece in space."""

    points: Array
    """(p, 3)."""
    facets: tuple[tuple[int, ...], ...]
    """Points of each in turn, seen from outside against the clock."""
    sheets: tuple[SheetOf, ...]
    ends: tuple[tuple[Edge, ...], ...] = ()
    """Edges at which it joins the next piece: of its inlet, of its outlet."""
    holes: tuple[Hole, ...] = ()
    names: dict[int, str] = field(default_factory=dict)
    """What facets are called: 'front', 'top'."""


def edge(a: int, b: int) -> Edge:
    """Between two points."""
    return (a, b) if a < b else (b, a)


def loop_edges(loop: Sequence[int]) -> tuple[Edge, ...]:
    """Of a closed ring of points."""
    return tuple(edge(a, b) for a, b in zip(loop, (*loop[1:], loop[0]), strict=True))


def _rectangle(w: float, h: float, z: float, at: tuple[float, float] = (0.0, 0.0)) -> Array:
    """Corners from the front left against the clock, seen from above."""
    x, y = at
    return np.array([[x, y, z], [x + w, y, z], [x + w, y + h, z], [x, y + h, z]])


SIDES = ("front", "right", "back", "left")


def _wrap(points: Array, low: Sequence[int], high: Sequence[int]) -> list[tuple[int, ...]]:
    """Facets between two rings of as many points."""
    n = len(low)
    return [(low[k], low[(k + 1) % n], high[(k + 1) % n], high[k]) for k in range(n)]


def transition(
    inlet_m: tuple[float, float],
    outlet_m: tuple[float, float],
    length_m: float,
    offset_m: tuple[float, float] = (0, 0),
) -> Solid:
    """A rectangular transition, offset where its outlet's middle stands off its inlet's; a straight duct where both are alike."""
    (w, h), (v, g) = inlet_m, outlet_m
    at = ((w - v) / 2 + offset_m[0], (h - g) / 2 + offset_m[1])
    points = np.vstack([_rectangle(w, h, 0.0), _rectangle(v, g, length_m, at)])
    facets = tuple(_wrap(points, range(4), range(4, 8)))
    wrap = SheetOf("wrap", (0, 1, 2, 3), (edge(0, 4),))
    return Solid(
        points, facets, (wrap,), (loop_edges(range(4)), loop_edges(range(4, 8))), names=dict(enumerate(SIDES))
    )


def lying_duct(width_m: float, height_m: float, length_m: float, holes: Iterable[tuple[str, Hole]] = ()) -> Solid:
    """A straight flat duct that lies on its front, its inlet towards the reader. Holes come with the side they are in, as one
    looks along it: left, right, top, bottom; a hole's own facet is set here."""
    size = (width_m, height_m)
    facet = {"bottom": 0, "left": 1, "top": 2, "right": 3}
    cut = tuple(replace(h, facet=facet[side]) for side, h in holes)
    return replace(transition(size, size, length_m), holes=cut)


def box(width_m: float, depth_m: float, height_m: float, holes: Iterable[tuple[str, Hole]] = ()) -> Solid:
    """A plenum: four sides and a cap, open below. Holes come with the side they are in; a hole's own facet is set here."""
    points = np.vstack([_rectangle(width_m, depth_m, 0.0), _rectangle(width_m, depth_m, height_m)])
    facets = (*_wrap(points, range(4), range(4, 8)), (4, 5, 6, 7))
    names = {**dict(enumerate(SIDES)), 4: "cap"}
    place = {name: k for k, name in names.items()}
    cut = tuple(Hole(place[side], h.along_m, h.across_m, h.size_m, h.name) for side, h in holes)
    sheets = (SheetOf("wrap", (0, 1, 2, 3), (edge(0, 4),)), SheetOf("cap", (4,)))
    return Solid(points, facets, sheets, (loop_edges(range(4)),), cut, names)


def halved(solid: Solid) -> Solid:
    """The same with its wrap of four sides in two sheets, bent once each and locked at two corners; others as they are."""
    sheets: list[SheetOf] = []
    for x in solid.sheets:
        if x.name == "wrap" and len(x.facets) == 4:
            sheets += [SheetOf("half 1", x.facets[:2]), SheetOf("half 2", x.facets[2:])]
        else:
            sheets.append(x)
    return replace(solid, sheets=tuple(sheets))


def cap(width_m: float, height_m: float) -> Solid:
    """An end cap."""
    points = _rectangle(width_m, height_m, 0.0)
    return Solid(points, ((0, 1, 2, 3),), (SheetOf("cap", (0,)),), names={0: "cap"})


def _circle(diameter_m: float, z: float, at: tuple[float, float], n: int = ROUND) -> Array:
    """A ring of points from the front left eighth on against the clock, as long around as the circle."""
    r = diameter_m / 2 * (pi / n) / sin(pi / n)
    turn = -3 * pi / 4 + 2 * pi * np.arange(n) / n
    return np.column_stack([at[0] + r * np.cos(turn), at[1] + r * np.sin(turn), np.full(n, z)])


def pipe(diameter_m: float, length_m: float) -> Solid:
    """A straight round duct."""
    points = np.vstack([_circle(diameter_m, 0.0, (0, 0)), _circle(diameter_m, length_m, (0, 0))])
    low, high = list(range(ROUND)), list(range(ROUND, 2 * ROUND))
    wrap = SheetOf("wrap", tuple(range(ROUND)), (edge(low[0], high[0]),), True)
    return Solid(points, tuple(_wrap(points, low, high)), (wrap,), (loop_edges(low), loop_edges(high)))


def square_to_round(
    inlet_m: tuple[float, float], diameter_m: float, length_m: float, offset_m: tuple[float, float] = (0, 0)
) -> Solid:
    """From a rectangle to a circle: four flat triangles, and a part of a cone at each corner. The seam goes up the middle of
    the front triangle."""
    (w, h), n = inlet_m, ROUND // 4
    ring = _circle(diameter_m, length_m, (w / 2 + offset_m[0], h / 2 + offset_m[1]))
    foot = np.array([[w / 2, 0.0, 0.0]])
    points = np.vstack([_rectangle(w, h, 0.0), ring, foot])
    middle = 4 + ROUND
    # each corner stands before the quarter of the ring that looks its way; between them the flat triangles
    start = [4 + (k * n) for k in range(4)]
    quarter = [[4 + (s - 4 - n // 2 + i) % ROUND for i in range(n + 1)] for s in start]
    facets: list[tuple[int, ...]] = []
    for corner in range(4):
        arc = quarter[corner]
        facets += [(corner, b, a) for a, b in zip(arc, arc[1:], strict=False)]
    at = len(facets)
    tops = [quarter[k][-1] for k in range(4)]
    facets += [(1, tops[0], middle), (middle, tops[0], 0), (2, tops[1], 1), (3, tops[2], 2), (0, tops[3], 3)]
    # from the right half of the front triangle round to its left half
    order = [
        at,
        *range(n, 2 * n),
        at + 2,
        *range(2 * n, 3 * n),
        at + 3,
        *range(3 * n, 4 * n),
        at + 4,
        *range(n),
        at + 1,
    ]
    wrap = SheetOf("wrap", tuple(order), (edge(tops[0], middle),))
    base = (edge(0, middle), edge(middle, 1), edge(1, 2), edge(2, 3), edge(3, 0))
    names = {at: "front", at + 1: "front", at + 2: "right", at + 3: "back", at + 4: "left"}
    return Solid(points, tuple(facets), (wrap,), (base, loop_edges(range(4, 4 + ROUND))), names=names)


def elbow(
    width_m: float,
    height_m: float,
    throat_m: float,
    angle_deg: float = 90.0,
    legs_m: tuple[float, float] = (0.0, 0.0),
) -> Solid:
    """A rectangular elbow: two cheeks, a throat and a heel. It turns in its width, round an axis beside its inlet; with a throat
    of no radius the heel is square, as for vanes.

    Args:
        throat_m: radius of the inner bend; 0: a square elbow of 90 degrees.
        legs_m: straight before and after the turn.
    """
    inner, outer = _square_bend(width_m, legs_m) if throat_m <= 0 else _bends(width_m, throat_m, angle_deg, legs_m)
    k, m = len(inner), len(outer)
    points = np.vstack(
        [
            *(
                np.column_stack([bend[:, 0], np.full(len(bend), y), bend[:, 1]])
                for y in (0.0, height_m)
                for bend in (inner, outer)
            )
        ]
    )
    near_in, near_out = list(range(k)), list(range(k, k + m))
    far_in, far_out = [k + m + i for i in range(k)], [2 * k + m + i for i in range(m)]
    facets: list[tuple[int, ...]] = [(*near_in, *reversed(near_out)), (*far_out, *reversed(far_in))]
    names = {0: "cheek", 1: "cheek"}
    throat = [(near_in[i + 1], near_in[i], far_in[i], far_in[i + 1]) for i in range(k - 1)]
    heel = [(near_out[i], near_out[i + 1], far_out[i + 1], far_out[i]) for i in range(m - 1)]
    sheets = [SheetOf("near cheek", (0,)), SheetOf("far cheek", (1,))]
    for name, strip in (("throat", throat), ("heel", heel)):
        if strip:
            facets_of = tuple(range(len(facets), len(facets) + len(strip)))
            sheets.append(SheetOf(name, facets_of, rolled=throat_m > 0))
            names |= {len(facets) + i: name for i in range(len(strip))}
            facets += strip
    ends = tuple(loop_edges((near_in[e], near_out[e], far_out[e], far_in[e])) for e in (0, -1))
    return Solid(points, tuple(facets), tuple(sheets), ends, names=names)


def _square_bend(width_m: float, legs_m: tuple[float, float]) -> tuple[Array, Array]:
    """Inner and outer line of a square elbow with a leg as long as it is wide, in its plane (x, z)."""
    w, (a, b) = width_m, legs_m
    inner = [*([[w, 0.0]] if a else []), [w, a], *([[w + b, a]] if b else [])]
    return np.array(inner), np.array([[0.0, 0.0], [0.0, a + w], [w + b, a + w]])


def _with_legs(bend: Array, turn: float, legs_m: tuple[float, float]) -> Array:
    """A bend's line with straight before and after it."""
    before, after = legs_m
    first = [bend[:1] - [0.0, before]] if before else []
    last = [bend[-1:] + after * np.array([sin(turn), cos(turn)])] if after else []
    return np.vstack([*first, bend, *last]) + [0.0, before]


def _bends(
    width_m: float, throat_m: float, angle_deg: float, legs_m: tuple[float, float] = (0.0, 0.0)
) -> tuple[Array, Array]:
    """Inner and outer bend in the plane of the elbow, (k, 2) x and z; as long as their arcs."""
    n = max(2, round(ARC * angle_deg / 90))
    turn = np.radians(angle_deg) * np.arange(n + 1) / n
    half = radians(angle_deg) / n / 2
    centre = width_m + throat_m
    out = []
    for radius in (throat_m, throat_m + width_m):
        r = radius * half / sin(half)
        # the ends stand on the true radius, so that they join the next piece; those between make up the length
        bend = np.column_stack([centre - r * np.cos(turn), r * np.sin(turn)])
        bend[0], bend[-1] = ([centre - radius, 0.0], [centre - radius * cos(turn[-1]), radius * sin(turn[-1])])
        out.append(_with_legs(bend, radians(angle_deg), legs_m))
    return out[0], out[1]


def gored(diameter_m: float, radius_m: float, pieces: int = 4, angle_deg: float = 90.0) -> Solid:
    """A round elbow of mitred gores about an axis: half ones at its ends, whole ones between. Each gore is a sheet with its
    seam at the throat."""
    step = radians(angle_deg) / (pieces - 1)
    mitres = [0.0, *(step / 2 + step * k for k in range(pieces - 1)), radians(angle_deg)]
    around = 2 * pi * np.arange(ROUND) / ROUND  # from the throat on
    r = diameter_m / 2 * (pi / ROUND) / sin(pi / ROUND)
    across, along = radius_m - r * np.cos(around), r * np.sin(around)
    rings = [
        np.column_stack([x, along, z])
        for x, z in (_on_mitre(across, radius_m, turn, step, k, len(mitres)) for k, turn in enumerate(mitres))
    ]
    points = np.vstack(rings)
    facets: list[tuple[int, ...]] = []
    sheets = []
    for k in range(pieces):
        low = [k * ROUND + i for i in range(ROUND)]
        high = [(k + 1) * ROUND + i for i in range(ROUND)]
        made = [tuple(reversed(f)) for f in _wrap(points, low, high)]
        mine = tuple(range(len(facets), len(facets) + ROUND))
        sheets.append(SheetOf(f"gore {k + 1}", mine, (edge(low[0], high[0]),), True))
        facets += made
    last = [pieces * ROUND + i for i in range(ROUND)]
    return Solid(points, tuple(facets), tuple(sheets), (loop_edges(range(ROUND)), loop_edges(last)))


def _on_mitre(across: Array, radius_m: float, turn: float, step: float, k: int, of: int) -> tuple[Array, Array]:
    """Where the lines of a gore meet a mitre plane through the axis at x = 0: x and z.

    The pipe of a gore goes at right angles to the plane in its middle; what stands `across` from the axis there meets the
    mitre farther out by the half of its turn.
    """
    lean = 0.0 if k in (0, of - 1) else step / 2
    out = across / cos(lean)
    return out * cos(turn), out * sin(turn)
