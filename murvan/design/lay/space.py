"""Where ducts may go in a house: a grid of places at every level, joined where a duct fits through, with what each way costs.

Levels are over a storey's ceiling, under its floor, and in soffits below the ceiling of halls and closets. Between joists a
duct goes along them; under the joists of a basement or crawl space, in trusses with open webs and in an attic it goes both
ways; over joists' heads only in a soffit. Chases join the levels.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Literal, NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from murvan.design.house.levels import next_storey
from murvan.design.lay.pieces import bay_middle
from murvan.design.space.duct_levels import levels, on_ground
from murvan.design.space.duct_spaces import IN_WALL_M, lies_at, under_roof
from murvan.design.space.duct_ways import HALF_M, gone_round, joists, standing_in
from murvan.design.space.obstacles import between
from murvan.design.space.wings import wings
from murvan.kinds.obstacles import OBSTACLES
from murvan.model.house import Storey, floor_heights
from murvan.model.job import Job, Point
from murvan.model.record import Id

if TYPE_CHECKING:
    from scipy.sparse import csr_matrix  # a fifth of a second; the window starts without it

Level = Literal["over", "under", "soffit", "dip"]
"""The last beneath a beam or pipe that hangs in the way of ducts under joists."""
STEP_M = 0.75
"""Between grid lines where no joists say otherwise."""
ALIGNED_M = 0.25
"""Faces whose lines are nearer than this share one."""
MERGE_M = 0.06
LEAST_CLEAR_M = 0.13
"""A duct of 4 in with room to hang it."""
BESIDE = {"soffit": 1.8, "outside": 1.25, "across": 1.1}
"""What a metre costs there against one inside: boxing in, heat lost, hangers under joists."""
CHASE_M = {"hall": 1.5, "landing": 1.5, "utility": 0.8, "other": 1.5}
CHASE_ELSEWHERE_M = 6.0
"""What the floor that a chase takes costs, as metres of duct; a place at the wall of a room that is lived in costs more."""
AT_WALL_M = 0.4
"""How far from a wall the middle of a chase stands at most where people live."""
SOFFIT_ROOMS = ("hall", "landing", "utility", "other")
ONE_SPACE_M = 0.3
"""Levels nearer to each other than this are one space."""
TURN_M, RISE_M = 1.2, 1.0
"""An elbow, and each end of a rise, as metres of duct."""


class Layer(NamedTuple):
    """One level of a storey."""

    storey: Id
    level: Level
    height_m: float
    """Of the ducts' middle over the storey's floor."""
    over_ground_m: float


@dataclass(frozen=True)
class Space:
    """The allowed space as a graph. Nodes are (layer, x, y, way) with way 0 along x and 1 along y."""

    layers: tuple[Layer, ...]
    xs: NDArray[np.float64]
    ys: NDArray[np.float64]
    graph: csr_matrix

    def node(self, layer: int, at: Point, way: int) -> int:
        """The node at a place that is on the grid."""
        i = int(np.argmin(np.abs(self.xs - at[0])))
        j = int(np.argmin(np.abs(self.ys - at[1])))
        return self._index(layer, j, i, way)

    def _index(self, layer: int, j: int, i: int, way: int) -> int:
        return ((layer * len(self.ys) + j) * len(self.xs) + i) * 2 + way

    def place(self, node: int) -> tuple[int, Point]:
        """The layer and the place of a node."""
        rest, _ = divmod(node, 2)
        rest, i = divmod(rest, len(self.xs))
        layer, j = divmod(rest, len(self.ys))
        return layer, (round(float(self.xs[i]), 3), round(float(self.ys[j]), 3))

    def leads_on(self, layer: int, at: Point) -> bool:
        """Whether a duct gets anywhere from a place."""
        a = self.node(layer, at, 0)
        return bool(self.graph.indptr[a + 2] > self.graph.indptr[a])

    def layer(self, storey: str, level: str) -> int:
        """Index of a level; -1 where the storey has none."""
        return next((k for k, x in enumerate(self.layers) if (x.storey, x.level) == (storey, level)), -1)


@dataclass
class _Edges:
    a: list[NDArray[np.intp]] = field(default_factory=list)
    b: list[NDArray[np.intp]] = field(default_factory=list)
    cost: list[NDArray[np.float64]] = field(default_factory=list)

    def add(self, a: NDArray[np.intp], b: NDArray[np.intp], cost: NDArray[np.float64]) -> None:
        self.a += [a, b]
        self.b += [b, a]
        self.cost += [cost, cost]


def allowed(
    job: Job, through: tuple[Point, ...], start: Point, start_storey: str, body: shapely.Polygon | None = None
) -> Space:
    """The space of a house through which ducts may go.

    Args:
        through: Places that the grid has to have: faces, the unit's outlet.
        start: The outlet, where the levels over its storey are joined by the plenum.
        body: Where the unit stands on its storey: nothing rises through it.
    """
    xs, ys = _lines(job, through)
    layers = tuple(_layers(job))
    at = np.stack(np.meshgrid(xs, ys), axis=-1)
    flat = at.reshape(-1, 2)
    free = np.zeros((len(layers), len(ys), len(xs)), bool)
    outside = np.zeros_like(free)
    for k, layer in enumerate(layers):
        ok, out = _free(job, layer, flat)
        free[k], outside[k] = ok.reshape(len(ys), len(xs)), out.reshape(len(ys), len(xs))
    for q in through:  # a face's own place is free on the levels it can be met at
        i, j = int(np.argmin(np.abs(xs - q[0]))), int(np.argmin(np.abs(ys - q[1])))
        for k, layer in enumerate(layers):
            if layer.level != "soffit":
                free[k, j, i] |= bool(free[k, max(j - 1, 0) : j + 2, max(i - 1, 0) : i + 2].any())
    edges = _Edges()
    index = np.arange(free.size * 2).reshape(*free.shape, 2)
    for k, layer in enumerate(layers):
        near = (abs(x.over_ground_m - layer.over_ground_m) < ONE_SPACE_M for x in layers[:k])
        twice = [n for n, is_near in enumerate(near) if is_near and layer.level != "dip"]
        # over a ceiling and under the floor above it is one space: ducts lie in it once
        alone = free[k] & ~np.logical_or.reduce([free[n] for n in twice]) if twice else free[k]
        _along(edges, job, layer, (xs, ys), alone, outside[k], index[k])
    _turns(edges, free, index)
    _chases(edges, job, layers, flat, free, index, (start, start_storey, body), (xs, ys))
    _between_wings(edges, job, layers, (xs, ys), flat, free, index)
    a, b, cost = np.concatenate(edges.a), np.concatenate(edges.b), np.concatenate(edges.cost)
    n = free.size * 2
    from scipy.sparse import coo_matrix

    graph = coo_matrix((cost, (a, b)), shape=(n, n)).tocsr()
    return Space(layers, xs, ys, graph)


def _lines(job: Job, through: tuple[Point, ...]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Grid lines through the places that are met, and between them where they are far apart."""
    corners = np.array([q for r in job.rooms for q in r.outline_m])
    out = []
    own = _shut_off(job, through) + [q for w in wings(job) for q in w.lines] + list(_beside_dips(job))
    for axis in (0, 1):
        wanted = _merged([round(q[axis], 3) for q in through], [round(q[axis], 3) for q in own])
        low, high = float(corners[:, axis].min()) + 0.15, float(corners[:, axis].max()) - 0.15
        n = max(int((high - low) / STEP_M), 1)
        between = [_bayed(job, axis, low + (high - low) * k / n) for k in range(n + 1)]
        lines = list(wanted)
        for v in between:
            if all(abs(v - w) > STEP_M / 2.2 for w in lines):
                lines.append(v)
        out.append(np.array(_apart(sorted(lines), wanted)))
    return out[0], out[1]


def _shut_off(job: Job, through: tuple[Point, ...]) -> list[Point]:
    """Places that are met beside what ducts go round: a line off them might lie in that."""
    found = [o for s in job.storeys for level in ("over", "under", "soffit") for o in gone_round(job, s.id, level)]
    return [q for q in through if any(o.distance(shapely.Point(q)) < ALIGNED_M for o in found)]


def _beside_dips(job: Job) -> Iterator[Point]:
    """Where ducts go down and come up beside what they dip beneath."""
    for dip in (d for s in job.storeys if (d := _dip(job, s)) is not None):
        for part in getattr(dip.round, "geoms", [dip.round]):
            x0, y0, x1, y1 = part.buffer(-BESIDE_DIP_M / 2, join_style="mitre").bounds
            yield from ((round(x0, 3), round(y0, 3)), (round(x1, 3), round(y1, 3)))


def _merged(values: list[float], own: list[float]) -> list[float]:
    """Places that are met, those near each other on one line: two take-offs need room beside each other, and a branch reaches
    a face a hand's width off its line. The outlet, which stands first, keeps its own, and so do some others."""
    out = list(dict.fromkeys(own))
    for v in values:
        if all(abs(v - w) > ALIGNED_M for w in out):
            out.append(v)
    return sorted(out)


def _bayed(job: Job, axis: int, value: float) -> float:
    """A line in the middle of a bay where joists lie along it on some storey."""
    for storey in job.storeys:
        for s in (storey.ceiling_structure, storey.floor_structure):
            lies = s is not None and s.kind in ("joists", "i_joists") and (s.runs == "x") == (axis == 1)
            if s is not None and lies and any(r.storey == storey.id for r in job.rooms):
                return bay_middle(job, storey, s, value)
    return value


def _apart(lines: list[float], wanted: list[float]) -> list[float]:
    """Lines that are not nearer to each other than a thumb's width; those that are wanted stay."""
    keep = set(wanted)
    out: list[float] = []
    for v in lines:
        if v in keep or all(abs(v - w) > MERGE_M for w in lines if w in keep):
            out.append(v)
    return out


def _layers(job: Job) -> list[Layer]:
    floor = floor_heights(job.storeys)
    out = []
    for s in job.storeys:
        if not any(r.storey == s.id for r in job.rooms):
            continue
        at = levels(job, s)
        for level, height in (("under", at.under), ("over", at.over), ("soffit", at.soffit)):
            out.append(Layer(s.id, level, height, floor[s.id] + height))  # type: ignore[arg-type]
        dip = _dip(job, s)
        if dip is not None:
            out.append(Layer(s.id, "dip", dip.height_m, floor[s.id] + dip.height_m))
    return out


class _Dip(NamedTuple):
    """Where ducts that hang under joists go beneath what hangs in their way."""

    of: Level
    """The level that they dip from."""
    height_m: float
    round: shapely.Polygon
    """On the plan: what is in the way, and the way down and up beside it."""


def _dip(job: Job, storey: Storey) -> _Dip | None:
    """The dip of a storey; None where nothing hangs in the way, or its ducts do not hang under joists in an open place."""
    hangs: Level = (
        "over" if storey.duct_place == "basement" and next_storey(job, storey.id, +1) is not None else "under"
    )
    if hangs == "under" and (next_storey(job, storey.id, -1) is not None or on_ground(job, storey)):
        return None
    found = [x for x in standing_in(job, storey.id, hangs) if not OBSTACLES[x.obstacle.kind].upright]
    if not found:
        return None
    low = min(x.low_m for x in found) - floor_heights(job.storeys)[storey.id]
    wide = [x.shape.buffer(HALF_M + BESIDE_DIP_M, join_style="mitre") for x in found]
    return _Dip(hangs, round(low - HALF_M - GAP_M, 3), shapely.union_all(wide))


BESIDE_DIP_M = 0.6
"""How far beside what is in the way a duct goes down and comes up again."""
GAP_M = 0.02


def _outlines(job: Job, layer: Layer) -> list[shapely.Polygon]:
    """What is gone round on a level."""
    if layer.level != "dip":
        return gone_round(job, layer.storey, layer.level)
    low, high = layer.height_m - HALF_M, layer.height_m + HALF_M
    return [x.shape.buffer(HALF_M, join_style="mitre") for x in between(job, layer.storey, low, high)]


def _free(job: Job, layer: Layer, at: NDArray[np.float64]) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Where a level is free, and where it lies outside the heated shell; both (n,)."""
    inside = np.zeros(len(at), bool)
    for r in job.rooms:
        if r.storey == layer.storey and (layer.level != "soffit" or r.use in SOFFIT_ROOMS):
            inside |= shapely.intersects_xy(shapely.polygons(r.outline_m), at[:, 0], at[:, 1])
    if layer.level == "soffit":
        inside |= _drawn(job, layer.storey, "soffit", at)
    elif layer.level == "dip":
        dip = _dip(job, next(s for s in job.storeys if s.id == layer.storey))
        if dip is not None:
            inside &= shapely.intersects_xy(dip.round, at[:, 0], at[:, 1])
    else:
        kinds = ("attic",) if layer.level == "over" else ("crawl", "basement")
        for p in job.places:
            if p.kind in kinds and p.storey == layer.storey:
                inside |= shapely.intersects_xy(shapely.polygons(p.outline_m), at[:, 0], at[:, 1])
    for outline in _outlines(job, layer):
        inside &= ~shapely.contains_xy(outline, at[:, 0], at[:, 1])
    places, clear = lies_at(job, layer.storey, at, layer.height_m)
    inside &= np.isnan(clear) | (clear >= LEAST_CLEAR_M)
    return inside, ~np.isin(places, ("inside", "basement"))


def _drawn(job: Job, storey: str, kind: str, at: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which places (n, 2) lie in a soffit or chase that is drawn, (n,)."""
    found = [x.outline_m for x in job.places if x.kind == kind and x.storey == storey]
    out = np.zeros(len(at), bool)
    for outline in found:
        out |= shapely.intersects_xy(shapely.polygons(outline), at[:, 0], at[:, 1])
    return out


def _along(
    edges: _Edges,
    job: Job,
    layer: Layer,
    lines: tuple[NDArray[np.float64], NDArray[np.float64]],
    free: NDArray[np.bool_],
    outside: NDArray[np.bool_],
    index: NDArray[np.intp],
) -> None:
    """Ways along both axes of a level, without the one that joists shut."""
    xs, ys = lines
    s = joists(job, layer.storey, layer.level)
    dearer = np.ones(free.shape)
    if layer.level == "soffit":  # one that is there, or will be, costs no more than any way inside
        flat = np.stack(np.meshgrid(xs, ys), axis=-1).reshape(-1, 2)
        dearer[~_drawn(job, layer.storey, "soffit", flat).reshape(free.shape)] = BESIDE["soffit"]
    for axis in (0, 1):
        if s is not None and (s.runs == "x") != (axis == 0):
            continue
        step = np.diff(xs) if axis == 0 else np.diff(ys)
        a = (slice(None), slice(None, -1)) if axis == 0 else (slice(None, -1), slice(None))
        b = (slice(None), slice(1, None)) if axis == 0 else (slice(1, None), slice(None))
        length = np.broadcast_to(step[None, :] if axis == 0 else step[:, None], free[a].shape)
        cost = length * np.maximum(dearer[a], dearer[b]) * np.where(outside[a] | outside[b], BESIDE["outside"], 1.0)
        ok = free[a] & free[b]
        ok &= _clear(job, layer, (np.broadcast_to(xs, free.shape), np.broadcast_to(ys[:, None], free.shape)), (a, b))
        edges.add(index[a][..., axis][ok], index[b][..., axis][ok], cost[ok])


def _clear(
    job: Job,
    layer: Layer,
    grid: tuple[NDArray[np.float64], NDArray[np.float64]],
    ends: tuple[tuple[slice, slice], tuple[slice, slice]],
) -> NDArray[np.bool_]:
    """Whether each way between two places keeps out of what is blocked."""
    outlines = _outlines(job, layer)
    vaults = [r for r in job.rooms if layer.level == "over" and r.storey == layer.storey and r.slope is not None]
    x, y = grid
    a, b = ends
    ok = np.ones(x[a].shape, bool)
    if outlines or vaults:
        ways = shapely.linestrings(np.stack([np.stack([x[a], y[a]], -1), np.stack([x[b], y[b]], -1)], -2))
        for outline in outlines:
            ok &= ~shapely.intersects(ways, outline.buffer(-0.01))
        for room in vaults:  # across a wall it comes down in it; along one it would stand out of it
            inside = shapely.intersection(ways, shapely.polygons(room.outline_m))
            for at in np.argwhere(ok & (shapely.length(inside) > IN_WALL_M)):
                middle = inside[tuple(at)].interpolate(0.5, normalized=True)
                ok[tuple(at)] = not under_roof(room, (middle.x, middle.y), layer.height_m)
    return ok


def _turns(edges: _Edges, free: NDArray[np.bool_], index: NDArray[np.intp]) -> None:
    ok = free
    edges.add(index[..., 0][ok], index[..., 1][ok], np.full(int(ok.sum()), TURN_M))


def _chases(
    edges: _Edges,
    job: Job,
    layers: tuple[Layer, ...],
    flat: NDArray[np.float64],
    free: NDArray[np.bool_],
    index: NDArray[np.intp],
    root: tuple[Point, str, shapely.Polygon | None],
    lines: tuple[NDArray[np.float64], NDArray[np.float64]],
) -> None:
    """Ways up and down: into a soffit, through one joist space to the storey above, by a chase through a room's height, and
    by the plenum at the outlet."""
    xs, ys = lines
    order = [s.id for s in job.storeys]
    by = {(x.storey, x.level): k for k, x in enumerate(layers)}
    toll = _chase_toll(job, flat).reshape(len(order), len(ys), len(xs))
    (x0, y0), home, body = root
    if body is not None and home in order:
        within = shapely.contains_xy(body, flat[:, 0], flat[:, 1]).reshape(len(ys), len(xs))
        toll[order.index(home)][within] = np.inf
    i, j = int(np.argmin(np.abs(xs - x0))), int(np.argmin(np.abs(ys - y0)))
    for n, storey in enumerate(order):
        over, under, soffit = (by.get((storey, level), -1) for level in ("over", "under", "soffit"))
        if over < 0:
            continue
        rise = layers[over].over_ground_m - layers[under].over_ground_m
        for a, b, more in ((over, soffit, 0.35), (under, over, rise), (under, soffit, rise - 0.35)):
            price = np.full(toll[n].shape, more + 2 * RISE_M)
            if under in (a, b):
                price = price + toll[n]
            _upright(edges, free, index, a, b, price)
        dip = by.get((storey, "dip"), -1)
        if dip >= 0:
            near = over if job.storeys[n].duct_place == "basement" else under
            fall = abs(layers[near].over_ground_m - layers[dip].over_ground_m)
            _upright(edges, free, index, near, dip, np.full(toll[n].shape, fall + 2 * RISE_M))
        if storey == home and free[over, j, i] and free[soffit, j, i]:
            edges.add(index[over, j, i], index[soffit, j, i], np.full(2, rise / 2 + RISE_M))
        upper = next_storey(job, storey, +1)
        beneath = by.get((upper.id, "under"), -1) if upper is not None else -1
        if beneath >= 0:
            _upright(edges, free, index, over, beneath, np.full(toll[n].shape, 0.3))


def _over(layers: tuple[Layer, ...], storey: str) -> int:
    return next(k for k, x in enumerate(layers) if (x.storey, x.level) == (storey, "over"))


def _between_wings(
    edges: _Edges,
    job: Job,
    layers: tuple[Layer, ...],
    lines: tuple[NDArray[np.float64], NDArray[np.float64]],
    flat: NDArray[np.float64],
    free: NDArray[np.bool_],
    index: NDArray[np.intp],
) -> None:
    """From attic to attic of wings of unlike height: down a chase at the wall they share, and straight through it."""
    toll = _chase_toll(job, flat).reshape(len(job.storeys), *free.shape[1:])
    order = [s.id for s in job.storeys]
    for w in wings(job):
        low, high = _over(layers, w.low), _over(layers, w.high)
        fall = layers[high].over_ground_m - layers[low].over_ground_m
        strip = shapely.intersects_xy(w.strip, flat[:, 0], flat[:, 1]).reshape(free.shape[1:])
        price = toll[order.index(w.high)] + fall + 2 * RISE_M
        down = strip & free[high] & np.isfinite(price)
        for way in (0, 1):
            edges.add(index[high][..., way][down], index[low][..., way][down], price[down])
            step = np.diff(lines[way])
            a = (slice(None), slice(None, -1)) if way == 0 else (slice(None, -1), slice(None))
            b = (slice(None), slice(1, None)) if way == 0 else (slice(1, None), slice(None))
            long = np.broadcast_to(step[None, :] if way == 0 else step[:, None], free[low][a].shape)
            ok = (down[a] & free[low][b]) | (down[b] & free[low][a])
            ok &= ~(strip[a] & strip[b])  # straight through the wall, never along it in the room
            edges.add(index[low][a][..., way][ok], index[low][b][..., way][ok], long[ok])


def _upright(
    edges: _Edges, free: NDArray[np.bool_], index: NDArray[np.intp], a: int, b: int, price: NDArray[np.float64]
) -> None:
    ok = free[a] & free[b] & np.isfinite(price)
    for way in (0, 1):
        edges.add(index[a][..., way][ok], index[b][..., way][ok], price[ok])


def _chase_toll(job: Job, at: NDArray[np.float64]) -> NDArray[np.float64]:
    """What a chase costs by storey and place, (storey, n), m; infinite where floor has to stay clear or no room is."""
    out = np.full((len(job.storeys), len(at)), np.inf)
    order = {s.id: k for k, s in enumerate(job.storeys)}
    for r in job.rooms:
        outline = shapely.polygons(r.outline_m)
        here = shapely.intersects_xy(outline, at[:, 0], at[:, 1])
        cost = CHASE_M.get(r.use, CHASE_ELSEWHERE_M)
        row = out[order[r.storey]]
        if r.use not in CHASE_M:  # along a wall or in a corner, never in the middle of a room that is lived in
            here &= shapely.dwithin(outline.boundary, shapely.points(at), AT_WALL_M)
        row[here] = np.minimum(row[here], cost)
    for storey, k in order.items():
        out[k][_drawn(job, storey, "chase", at)] = 0.0
        for outline in gone_round(job, storey, "chase"):
            out[k][shapely.contains_xy(outline, at[:, 0], at[:, 1])] = np.inf
    return out
