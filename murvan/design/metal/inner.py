"""Pieces that sit in or on others: turning vanes with their rails, filter racks, saddles of a wye with the hole they cover."""

from __future__ import annotations

from math import acos, cos, hypot, pi, radians, sin

import numpy as np

from murvan.arrays import Array
from murvan.design.metal.solids import ROUND, Hole, SheetOf, Solid, edge, elbow, loop_edges, transition
from murvan.design.parts.cut_unit import RACK_M
from murvan.units import INCH

VANE_RADIUS_M, VANE_APART_M = 2.0 * INCH, 1.5 * INCH
"""Of single vanes, and how far apart they stand along the rail; common practice."""
VANE_ARC = 6
"""Facets of a vane."""
RAIL_M = 1.5 * INCH
SLOT_M = 4.25 * INCH


def vanes(width_m: float) -> int:
    """How many stand in a square elbow that turns in its width."""
    return max(2, round(hypot(width_m, width_m) / VANE_APART_M) - 1)


def vaned(width_m: float, height_m: float, legs_m: tuple[float, float] = (0.0, 0.0)) -> Solid:
    """A square elbow with its vanes and the two rails that hold them; one of each stands in it.

    Args:
        legs_m: straight before and after the turn.
    """
    shell, w = elbow(width_m, height_m, 0.0, legs_m=legs_m), width_m
    n = len(shell.points)
    turn = np.linspace(0.0, pi / 2, VANE_ARC + 1)
    radius = VANE_RADIUS_M * (pi / 4 / VANE_ARC) / sin(pi / 4 / VANE_ARC)
    middle = np.array([w / 2, w / 2]) + VANE_RADIUS_M * np.array([0.5, -0.5])
    arc = np.column_stack([middle[0] - radius * np.cos(turn), middle[1] + radius * np.sin(turn)])
    sides = [np.column_stack([arc[:, 0], np.full(len(arc), y), arc[:, 1]]) for y in (0.0, height_m)]
    # from corner to corner, so far within them that the rail stays in the elbow
    half = RAIL_M / 2 / 2**0.5
    ends = np.array([[w - 2 * half, 0.0], [w, 2 * half], [2 * half, w], [0.0, w - 2 * half]])
    rails = [np.column_stack([ends[:, 0], np.full(4, y), ends[:, 1]]) for y in (0.002, height_m - 0.002)]
    inside = np.vstack([*sides, *rails]) + [0.0, 0.0, legs_m[0]]
    points = np.vstack([shell.points, inside])
    k, first = VANE_ARC + 1, len(shell.facets)
    vane = [(n + i, n + i + 1, n + k + i + 1, n + k + i) for i in range(VANE_ARC)]
    at = n + 2 * k
    rail = [(at, at + 1, at + 2, at + 3)]
    sheets = (
        SheetOf("vane", tuple(range(first, first + VANE_ARC)), rolled=True, count=vanes(width_m)),
        SheetOf("vane rail", (first + VANE_ARC,), count=2),
    )
    names = {**shell.names, first + VANE_ARC: "rail"}
    facets = (*shell.facets, *vane, *rail)
    return Solid(points, facets, (*shell.sheets, *sheets), shell.ends, shell.holes, names)


def rack(width_m: float, height_m: float) -> Solid:
    """A filter rack: a frame as wide and high as the filter, with the slot through which it is changed."""
    frame = transition((width_m, height_m), (width_m, height_m), RACK_M)
    slot = Hole(
        1, height_m / 2, RACK_M / 2, (max(height_m - 2 * INCH, height_m / 2), min(SLOT_M, RACK_M * 0.9)), "slot"
    )
    return Solid(frame.points, frame.facets, frame.sheets, frame.ends, (slot,), frame.names)


def _drop(across: Array, of_m: float) -> Array:
    """How far a pipe's wall lies under its highest line, so far across it."""
    r = of_m / 2
    return np.asarray(r - np.sqrt(np.maximum(r * r - across * across, 0.0)))


def saddle(diameter_m: float, trunk_m: float, angle_deg: float, length_m: float) -> Solid:
    """The branch of a wye: a pipe that is cut to lie on the trunk's wall, its seam at its shortest line.

    Args:
        diameter_m: Of the branch, no larger than the trunk.
        angle_deg: Between branch and trunk, 90: straight off.
        length_m: Along the branch's middle from the trunk's highest line.
    """
    turn, lean = 2 * pi * np.arange(ROUND) / ROUND, radians(angle_deg)
    r = diameter_m / 2 * (pi / ROUND) / sin(pi / ROUND)
    x, y = -r * np.cos(turn), r * np.sin(turn)
    # along the branch from a plane through its middle at right angles: down to the trunk's wall
    foot = (-_drop(y, max(trunk_m, diameter_m)) - x * cos(lean)) / sin(lean)
    points = np.vstack([np.column_stack([x, y, foot]), np.column_stack([x, y, np.full(ROUND, length_m)])])
    low, high = list(range(ROUND)), list(range(ROUND, 2 * ROUND))
    # the ring goes with the clock, so that facets run down it to go against the clock seen from outside
    facets = tuple((high[k], high[(k + 1) % ROUND], low[(k + 1) % ROUND], low[k]) for k in range(ROUND))
    wrap = SheetOf("saddle", tuple(range(ROUND)), (edge(low[0], high[0]),), True)
    return Solid(points, facets, (wrap,), (loop_edges(high),))


def saddle_hole(diameter_m: float, trunk_m: float, angle_deg: float) -> Array:
    """The hole under a saddle on the trunk's sheet laid flat, (n, 2): along the trunk and around it from its highest line."""
    turn, lean = 2 * pi * np.arange(ROUND * 2) / (ROUND * 2), radians(angle_deg)
    trunk = max(trunk_m, diameter_m)
    r, radius = diameter_m / 2, trunk / 2
    x, y = -r * np.cos(turn), r * np.sin(turn)
    along = (x + _drop(y, trunk) * cos(lean)) / sin(lean)
    around = np.array([radius * (pi / 2 - acos(max(-1.0, min(1.0, v / radius)))) for v in y.tolist()])
    return np.column_stack([along, around])
