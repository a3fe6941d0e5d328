"""Trees of duct through the allowed space: from the outlet to every face, sharing ways where that saves.

A tree grows by the cheapest way from what there is to the next face (Takahashi and Matsuyama 1980, a well-known
approximation of Steiner trees); SciPy finds the ways.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from murvan.design.lay.space import Space
from murvan.model.job import Point

if TYPE_CHECKING:
    from scipy.sparse import csr_matrix  # a fifth of a second; the window starts without it
    from shapely import Polygon

TAKEN = 2.0
"""What a metre costs against a free one where another duct lies."""
SHUT = 40.0
"""The same where a duct of the other side lies: it goes round if there is any way."""
SPEED_M_S, HIGH_M, LEAST_WIDE_M = 4.0, 0.2, 0.2
"""How wide a duct will be about: by its air at this speed in a height of 8 in."""
OTHER_M, LEVEL_M = 0.3, 0.3
"""What another one keeps off its side, and by level."""
BESIDE_M = 0.2
"""What a duct's middle keeps off a plenum."""
Spot = tuple[int, Point]
"""A layer and a place on it."""


@dataclass
class Branch:
    """A place of the tree with what goes on from it."""

    at: Spot
    onward: list[Branch] = field(default_factory=list)
    face: str = ""
    """Id of the register or grille that ends here."""


@dataclass(frozen=True)
class Terminal:
    """A face to be reached, on any of some levels."""

    id: str
    spots: tuple[Spot, ...]


@dataclass(frozen=True)
class Routed:
    """A tree, and the faces that no way leads to."""

    root: Branch
    unreached: tuple[str, ...]


class Lain(NamedTuple):
    """A straight part of a duct that lies somewhere already, m; upright where both ends are at one place."""

    a: Point
    b: Point
    low_m: float
    high_m: float
    half_m: float


def lain(space: Space, tree: Branch, flow_m3_s: float) -> list[Lain]:
    """The legs of a tree: the more of its faces are beyond one, the wider that will be."""
    every = list(_legs(tree))
    faces = max(sum(n for p, _, n in every if p is tree.at), 1)
    out = []
    for (k, p), (n, q), beyond in every:
        low, high = sorted((space.layers[k].over_ground_m, space.layers[n].over_ground_m))
        wide = max(flow_m3_s * beyond / faces / SPEED_M_S / HIGH_M, LEAST_WIDE_M)
        out.append(Lain(p, q, low, high, wide / 2))
    return out


def _legs(tree: Branch) -> Iterator[tuple[Spot, Spot, int]]:
    """Every leg from place to place, and how many faces are beyond."""
    for on in tree.onward:
        beyond = list(_legs(on))
        yield tree.at, on.at, bool(on.face) + sum(n for p, _, n in beyond if p is on.at)
        yield from beyond


def taken(space: Space, ducts: Iterable[Lain], boxes: Iterable[Polygon] = ()) -> NDArray[np.bool_]:
    """Nodes where a duct lies or a box stands, or so near that no other goes past it."""
    at = np.stack(np.meshgrid(space.xs, space.ys), axis=-1).reshape(-1, 2)
    high = np.array([x.over_ground_m for x in space.layers])
    out = np.zeros((len(space.layers), len(at)), bool)
    for x in ducts:
        along = np.subtract(x.b, x.a)
        share = np.clip((at - x.a) @ along / max(float(along @ along), 1e-12), 0, 1)
        near = np.hypot(*(at - x.a - share[:, None] * along).T) < x.half_m + OTHER_M
        out[np.ix_((high > x.low_m - LEVEL_M) & (high < x.high_m + LEVEL_M), near)] = True
    for box in boxes:
        out |= shapely.dwithin(box, shapely.points(at), BESIDE_M)
    return np.repeat(out.ravel(), 2)


def grown(
    space: Space,
    root: Iterable[Spot],
    terminals: tuple[Terminal, ...],
    share: bool,
    cheap: NDArray[np.bool_] | None,
    shut: NDArray[np.bool_] | None = None,
) -> Routed:
    """The tree from a root to terminals.

    Args:
        root: The outlet, on all its levels.
        share: Whether ways go on from the tree that there is; else each face has its own from the root, beside those
            there are where that is not far about.
        cheap: Nodes that a trunk is wanted along, whose ways cost a third; None: nowhere.
        shut: Nodes where other ducts lie: only a way that has no other goes through them.
    """
    graph = _with_sinks(space, terminals)
    if shut is not None and shut.any():
        graph = _priced(graph, shut, SHUT)
    if cheap is not None:
        graph = _priced(graph, cheap, 1 / 3)
    start = [space.node(k, at, way) for k, at in root for way in (0, 1)]
    tree = Branch(next(iter(root)))
    nodes: dict[int, Branch] = dict.fromkeys(start, tree)
    goals = {t.id: [space.node(k, at, way) for k, at in t.spots for way in (0, 1)] for t in terminals}
    missed = []
    left = dict(goals)
    way, before = _ways(graph, list(nodes))
    while left:
        best = min(left, key=lambda i: min(way[n] for n in left[i]))
        goal = min(left.pop(best), key=lambda n: way[n])
        if not np.isfinite(way[goal]):
            missed.append(best)
            continue
        path = _attach(space, nodes, goal, before, best, share)
        if not share:
            _take(graph, path)
        if left:
            way, before = _ways(graph, list(nodes))
    return Routed(tree, tuple(missed))


def _ways(graph: csr_matrix, sources: list[int]) -> tuple[NDArray[np.float64], NDArray[np.int32]]:
    """Cost from the nearest source to every node, and the node before it."""
    from scipy.sparse.csgraph import dijkstra

    way, before, _ = dijkstra(graph, indices=sources, min_only=True, return_predecessors=True)
    return way, before


def _attach(
    space: Space, nodes: dict[int, Branch], goal: int, before: NDArray[np.int32], face: str, share: bool
) -> list[int]:
    """Add the way to a goal to the tree; its nodes from the goal back."""
    path = [goal]
    while path[-1] not in nodes:
        path.append(int(before[path[-1]]))
    at = nodes[path[-1]]
    for node in reversed(path[:-1]):
        spot = space.place(node)
        if spot != at.at:
            new = Branch(spot)
            at.onward.append(new)
            at = new
        if share:
            nodes[node] = at
            nodes.setdefault(node ^ 1, at)
    if at.face or len(path) == 1:
        # where the tree is already: a piece of its own to each face, none by way of another
        if at.face:
            at.onward.append(Branch(at.at, face=at.face))
            at.face = ""
        at.onward.append(Branch(at.at))
        at = at.onward[-1]
    at.face = face
    return path


def _take(graph: csr_matrix, path: list[int]) -> None:
    """What a way costs more where a duct lies already."""
    for a, b in zip(path, path[1:], strict=False):
        for i, j in ((a, b), (b, a)):
            at = graph.indptr[i] + np.flatnonzero(graph.indices[graph.indptr[i] : graph.indptr[i + 1]] == j)
            graph.data[at] *= TAKEN


def _with_sinks(space: Space, terminals: tuple[Terminal, ...]) -> csr_matrix:
    """The graph in which no way goes on from a terminal, so that each ends a way of its own."""
    sinks = [space.node(k, at, way) for t in terminals for k, at in t.spots for way in (0, 1)]
    coo = space.graph.tocoo()
    on = ~np.isin(coo.row, sinks)
    from scipy.sparse import csr_matrix

    return csr_matrix((coo.data[on], (coo.row[on], coo.col[on])), shape=space.graph.shape)


def _priced(graph: csr_matrix, nodes: NDArray[np.bool_], factor: float) -> csr_matrix:
    """The graph with other costs of ways between some nodes, or, where they cost more, of all that touch them."""
    coo = graph.tocoo()
    mine = nodes[coo.row] & nodes[coo.col] if factor < 1 else nodes[coo.row] | nodes[coo.col]
    from scipy.sparse import csr_matrix

    return csr_matrix((np.where(mine, coo.data * factor, coo.data), (coo.row, coo.col)), shape=graph.shape)
