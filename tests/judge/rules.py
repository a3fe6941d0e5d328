"""What is wrong with a laid design, by rules of the trade (../shared knowledge, common practice) and geometry of its own: every
stretch of duct is a box, the house is prisms. Nothing here is taken from laying or from the punch list."""

from __future__ import annotations

from collections.abc import Iterator
from math import acos, degrees, hypot
from typing import NamedTuple

import numpy as np
from shapely.geometry import LineString, Point, Polygon
from shapely.ops import unary_union

from murvan.catalog import known_units
from murvan.design import Results
from murvan.model import Job
from murvan.model.routes import LaidRun

Spot = tuple[float, float, float]
NEAR_M, SHARED_M, AT_JOINT_M = 0.03, 0.02, 0.45
LIVED_IN = ("living", "dining", "kitchen", "bedroom", "study", "bath", "powder")
FRONT = {0: (0, 1), 90: (-1, 0), 180: (0, -1), 270: (1, 0)}


class Stretch(NamedTuple):
    """A straight part of a run with its half width and half height."""

    run: LaidRun
    a: Spot
    b: Spot
    half_w: float
    half_h: float
    turns_along_x: bool | None = None
    """Of a riser: which way it turns level, its width across that; None: nowhere."""

    @property
    def upright(self) -> bool:
        return hypot(self.b[0] - self.a[0], self.b[1] - self.a[1]) < 1e-3

    def box(self) -> tuple[np.ndarray, np.ndarray]:
        lo, hi = np.minimum(self.a, self.b), np.maximum(self.a, self.b)
        dx, dy = self.b[0] - self.a[0], self.b[1] - self.a[1]
        if self.upright:
            more = np.array([self.half_w, self.half_h, 0.0])
            if self.turns_along_x is None:
                more[:2] = max(self.half_w, self.half_h)
            elif self.turns_along_x:
                more = np.array([self.half_h, self.half_w, 0.0])
        else:
            across = np.array([abs(dy), abs(dx)]) / max(hypot(dx, dy), 1e-9) * self.half_w
            more = np.array([*across, self.half_h])
        return lo - more, hi + more


def floors(job: Job) -> dict[str, float]:
    """Height of every floor, from what the storeys say."""
    out: dict[str, float] = {}
    top = None
    for s in job.storeys:
        z = s.floor_m if s.floor_m is not None else (top if top is not None else 0.0)
        out[s.id] = z
        top = z + s.height_m + (s.ceiling_structure.depth_m if s.ceiling_structure else max(0.3, s.ceiling_space_m))
    return out


def stretches(r: Results) -> list[Stretch]:
    z = floors(r.job)
    joint = {j.id: j for j in r.job.design.joints}
    after: dict[str, list[LaidRun]] = {j: [] for j in joint}
    for run in r.laid:
        after[run.start].append(run)
    out = []
    for run in r.laid:
        if run.side == "fresh":
            continue
        a, b = joint[run.start], joint[run.end]
        z0, z1 = z[a.storey] + a.height_m, z[b.storey] + b.height_m
        flat = [a.position_m, *run.corners_m, b.position_m]
        w = (run.diameter_m or run.width_m or 0.1) / 2
        h = (run.diameter_m or run.height_m or 0.1) / 2
        points: list[Spot] = [(*flat[0], z0)]
        if abs(z1 - z0) > 0.05:
            points.append((*flat[0], z1))  # what changes its level does so where it starts
        points += [(x, y, z1) for x, y in flat[1:]]
        on = [flat, *([joint[x.start].position_m, *x.corners_m, joint[x.end].position_m] for x in after[run.end])]
        level = [(abs(q[0] - p[0]), abs(q[1] - p[1])) for way in on for p, q in zip(way, way[1:], strict=False)]
        along_x = next((dx >= dy for dx, dy in level if hypot(dx, dy) > 0.05), None)
        out += [Stretch(run, p, q, w, h, along_x) for p, q in zip(points, points[1:], strict=False) if p != q]
    return out


# ---- the unit ----


def plenum_boxes(r: Results) -> dict[tuple[str, str], tuple[np.ndarray, np.ndarray]]:
    """By unit and side, where its plenum stands."""
    z, out = floors(r.job), {}
    units = known_units(r.job.units, ())
    for u in r.job.design.indoor_units:
        made = units.get(u.unit or "")
        if made is None or u.storey is None:
            continue
        foot = z[u.storey]
        here = [p for p in r.job.places if p.storey == u.storey and p.kind not in ("soffit", "chase")]
        here = [p for p in here if Polygon(p.outline_m).contains(Point(u.position_m))]
        for place in sorted(here, key=lambda p: Polygon(p.outline_m).area)[:1]:
            over = next(s for s in r.job.storeys if s.id == u.storey)
            high = over.height_m + (over.ceiling_structure.depth_m if over.ceiling_structure else 0.0)
            cellar = 0.0 if foot < -0.5 else -place.clear_m
            foot += {"attic": high, "crawl": -place.clear_m, "basement": cellar}.get(place.kind, 0.0)
        for p in (p for p in r.job.design.plenums if p.indoor == u.id):
            x, y = p.position_m
            if u.way in ("upflow", "downflow"):
                half = np.array([p.width_m, p.depth_m]) / 2
                if p.side == "return":
                    lo, hi = foot, foot + p.height_m
                elif u.way == "upflow":
                    lo, hi = foot + made.height_m, foot + made.height_m + p.height_m
                else:
                    lo, hi = foot - p.height_m, foot
            else:
                f = FRONT[u.turn_deg]
                along_x = f[0] == 0
                half = np.array([p.height_m, p.width_m] if along_x else [p.width_m, p.height_m]) / 2
                middle = foot + made.width_m / 2
                if made.kind == "slim_ducted":  # hung under the ceiling of its storey
                    over = next(s for s in r.job.storeys if s.id == u.storey)
                    middle = z[u.storey] + over.height_m - made.height_m / 2
                    if over.duct_place == "crawl":  # or under the floor
                        joists = over.floor_structure.depth_m if over.floor_structure else 0.24
                        middle = z[u.storey] - joists - made.height_m / 2
                lo, hi = middle - p.depth_m / 2, middle + p.depth_m / 2
            out[u.id, p.side] = (np.array([x - half[0], y - half[1], lo]), np.array([x + half[0], y + half[1], hi]))
    return out


def starts(r: Results) -> Iterator[str]:
    """Every tree starts at its plenum."""
    boxes, z = plenum_boxes(r), floors(r.job)
    joint = {j.id: j for j in r.job.design.joints}
    for run in r.laid:
        if run.parent is not None or run.side == "fresh" or (run.indoor, run.side) not in boxes:
            continue
        j = joint[run.start]
        at = np.array([*j.position_m, z[j.storey] + j.height_m])
        lo, hi = boxes[run.indoor, run.side]
        off = float(np.linalg.norm(np.maximum(np.maximum(lo - at, at - hi), 0)))
        if off > NEAR_M:
            yield f"{run.tag} misses its plenum by {off:.2f} m"


def in_units(r: Results) -> Iterator[str]:
    """Through a cabinet, or a plenum that the run does not start from."""
    z, made = floors(r.job), known_units(r.job.units, ())
    boxes = [(u, f"{side} plenum", side, *b) for (u, side), b in plenum_boxes(r).items()]
    for u in r.job.design.indoor_units:
        model = made.get(u.unit or "")
        if model is None or u.storey is None or u.way not in ("upflow", "downflow"):
            continue
        x, y = u.position_m
        wide, deep = (model.width_m, model.depth_m) if u.turn_deg in (0, 180) else (model.depth_m, model.width_m)
        own = [b for (i, side), b in plenum_boxes(r).items() if i == u.id and side == "return"]
        foot = float(own[0][0][2]) if own else z[u.storey]
        lo = np.array([x - wide / 2, y - deep / 2, foot])
        boxes.append((u.id, "cabinet", "", lo, lo + np.array([wide, deep, model.height_m])))
    for s in stretches(r):
        low, high = s.box()
        for u, what, side, lo, hi in boxes:
            if (s.run.indoor, s.run.side) != (u, side) and (np.minimum(high, hi) - np.maximum(low, lo) > 0.04).all():
                yield f"{s.run.tag} goes through the {what} of {u}"
    for k, (_, what, _, lo, hi) in enumerate(boxes):
        for _, other, _, lo2, hi2 in boxes[k + 1 :]:
            if (np.minimum(hi, hi2) - np.maximum(lo, lo2) > 0.04).all():
                yield f"{what} and {other} stand in each other"


def stands(r: Results) -> Iterator[str]:
    """A unit in a room where people live, while a closet, utility room or hall is there; or where floor is kept clear."""
    for u in r.job.design.indoor_units:
        at = Point(u.position_m)
        if u.kind != "ducted" or u.storey is None:
            continue
        over = [p for p in r.job.places if p.storey == u.storey and Polygon(p.outline_m).buffer(0.01).contains(at)]
        room = next((x for x in r.job.rooms if x.storey == u.storey and Polygon(x.outline_m).contains(at)), None)
        better = any(x.use in ("utility", "hall", "landing", "other") for x in r.job.rooms) or r.job.places
        if room is not None and not over and room.use in LIVED_IN and better:
            yield f"{u.tag} stands in {room.name}"
        for k in r.job.keep_clear:
            aside = k.storey != u.storey or any(p.kind in ("attic", "crawl") for p in over)
            if not aside and Polygon(k.outline_m).contains(at):
                yield f"{u.tag} stands on {k.name}"


# ---- ducts against the house ----


def buried(r: Results) -> Iterator[str]:
    """In or under a slab or in the soil."""
    z = floors(r.job)
    lowest = min(z.values())
    for s in stretches(r):
        lo, hi = s.box()
        for room in r.job.rooms:
            kind = room.floor if room.floor != "auto" else r.job.foundation
            below = any(
                q.storey != room.storey
                and z[q.storey] < z[room.storey]
                and Polygon(q.outline_m).intersection(Polygon(room.outline_m)).area > 0.5
                for q in r.job.rooms
            )
            if below or (kind != "slab" and z[room.storey] > lowest):
                continue
            if kind not in ("slab", "basement") and z[room.storey] >= 0:
                continue
            middle = ((lo + hi) / 2)[:2]
            if (s.a[2] + s.b[2]) / 2 < z[room.storey] - 0.02 and Polygon(room.outline_m).contains(Point(middle)):
                yield f"{s.run.tag} lies under the slab of {room.name}"
                break


def in_rooms(r: Results) -> Iterator[str]:
    """Level ducts through the air of a room that is lived in; risers in the middle of one."""
    z = floors(r.job)
    storey = {s.id: s for s in r.job.storeys}
    soffits = [p for p in r.job.places if p.kind in ("soffit", "chase")]
    for s in stretches(r):
        lo, hi = s.box()
        middle = Point(*((lo + hi) / 2)[:2])
        for room in r.job.rooms:
            foot = z[room.storey]
            top = foot + (room.height_m or storey[room.storey].height_m)
            through = min(hi[2], top) - max(lo[2], foot)
            if through < 0.1 or not Polygon(room.outline_m).contains(middle):
                continue
            if any(p.storey == room.storey and Polygon(p.outline_m).contains(middle) for p in soffits):
                continue
            if s.upright and through > 0.5:
                ring = Polygon(room.outline_m).exterior
                if room.use in LIVED_IN and ring.distance(middle) > 0.45:
                    yield f"{s.run.tag} rises through the middle of {room.name}"
            elif not s.upright and room.use in LIVED_IN and (s.a[2] + s.b[2]) / 2 < top - 0.02:
                yield f"{s.run.tag} hangs in {room.name}"
            break


def outdoors(r: Results) -> Iterator[str]:
    """Beyond the house's outline."""
    every = unary_union([Polygon(x.outline_m).buffer(0.3) for x in (*r.job.rooms, *r.job.spaces, *r.job.places)])
    for s in stretches(r):
        if not every.covers(LineString([s.a[:2], s.b[:2]]) if not s.upright else Point(s.a[:2])):
            yield f"{s.run.tag} leaves the house"


def in_beams(r: Results) -> Iterator[str]:
    """A duct, a cabinet or a plenum where a beam, post or pipe is."""
    z = floors(r.job)
    for o in r.job.obstacles:
        ring = np.array(o.outline_m)
        foot = z[o.storey] + o.low_m
        lo, hi = np.array([*ring.min(axis=0), foot]), np.array([*ring.max(axis=0), foot + o.high_m])
        for s in stretches(r):
            low, high = s.box()
            if (np.minimum(high, hi) - np.maximum(low, lo) > NEAR_M).all():
                yield f"{s.run.tag} goes through {o.name}"
        for (u, side), (low, high) in plenum_boxes(r).items():
            if (np.minimum(high, hi) - np.maximum(low, lo) > NEAR_M).all():
                yield f"the {side} plenum of {u} stands in {o.name}"


def over_vaults(r: Results) -> Iterator[str]:
    """Over a sloped ceiling, where there is no attic."""
    z = floors(r.job)
    storey = {s.id: s for s in r.job.storeys}
    for s in stretches(r):
        middle = Point(*((np.array(s.a) + np.array(s.b)) / 2)[:2])
        for room in r.job.rooms:
            if room.slope is None or room.slope.knee or not Polygon(room.outline_m).contains(middle):
                continue
            if z[room.storey] + storey[room.storey].height_m < (s.a[2] + s.b[2]) / 2 < z[room.storey] + 6:
                yield f"{s.run.tag} lies over the vault of {room.name}"


# ---- ducts against ducts ----


def in_each_other(r: Results) -> Iterator[str]:
    """Two ducts in one place. Those that meet at a joint or follow each other in a tree may touch there."""
    every = stretches(r)
    parent = {x.id: x.parent for x in r.laid}
    boxes = [s.box() for s in every]
    stretch_starts: dict[str, np.ndarray] = {}
    for s in every:
        stretch_starts.setdefault(s.run.id, np.array(s.a))
    lo, hi = np.array([b[0] for b in boxes]).reshape(-1, 3), np.array([b[1] for b in boxes]).reshape(-1, 3)
    seen = set()
    for i, s in enumerate(every):
        deep = np.minimum(hi[i], hi) - np.maximum(lo[i], lo)
        for k in np.flatnonzero((deep > SHARED_M).all(axis=1)):
            o = every[int(k)]
            if k <= i or o.run.id == s.run.id:
                continue
            if parent[o.run.id] == s.run.id or parent[s.run.id] == o.run.id:
                continue
            if parent[o.run.id] == parent[s.run.id] and o.run.start == s.run.start:
                ends = {s.a, s.b} & {o.a, o.b}
                low, high = np.maximum(lo[i], lo[k]), np.minimum(hi[i], hi[k])
                joint = stretch_starts[s.run.id]
                if ends or parent[s.run.id] is None or np.linalg.norm((low + high) / 2 - joint) < AT_JOINT_M:
                    continue
            pair = tuple(sorted((s.run.tag, o.run.tag)))
            if pair not in seen:
                seen.add(pair)
                what = "of the other side" if o.run.side != s.run.side else "of its own side"
                yield f"{pair[0]} and {pair[1]}, {what}, share a place"


def takeoffs(r: Results) -> Iterator[str]:
    """What leaves a trunk that goes on has a take-off or wye; what turns, an elbow."""
    by_run: dict[str, list[Stretch]] = {}
    for s in stretches(r):
        by_run.setdefault(s.run.id, []).append(s)
    children: dict[str, list[LaidRun]] = {}
    for x in r.laid:
        if x.parent:
            children.setdefault(x.parent, []).append(x)
    for trunk, off in children.items():
        if trunk not in by_run or len(off) < 2:
            continue
        last = by_run[trunk][-1]
        for x in off:
            if x.id not in by_run:
                continue
            mine = by_run[x.id]
            # what is set over by less than a foot on its way goes on straight: an offset, no branch
            first = (
                mine[1] if mine[0].upright and len(mine) > 1 and abs(mine[0].b[2] - mine[0].a[2]) < 0.3 else mine[0]
            )
            u, v = np.subtract(last.b, last.a), np.subtract(first.b, first.a)
            turn = degrees(acos(float(np.clip(u @ v / (np.linalg.norm(u) * np.linalg.norm(v)), -1, 1))))
            if turn > 30 and not any(f.kind.startswith(("takeoff", "wye", "tee", "tap")) for f in x.pieces):
                yield f"{x.tag} leaves its trunk without a take-off"


# ---- the air ----


def air(r: Results) -> Iterator[str]:
    """Every room within a twentieth, one damper of each unit open, static within its limit, mass and pressure closed."""
    n = r.network
    if n is None:
        yield "no air circuit"
        return
    q, inc = n.solution.flow_m3_s, n.circuit.incidence
    missing = np.abs(np.asarray((inc @ q.T).T) - n.layout.injection).max()
    if missing > 1e-6:
        yield f"{missing:.1e} m3/s are lost at a node"
    want, got = r.room_m3_s, r.predicted_m3_s or {}
    for room, w in zip(r.job.rooms, want, strict=True):
        if w > 1e-4 and abs(got[room.id] / w - 1) > 0.0505:
            yield f"{room.name} gets {got[room.id] / w * 100:.0f} %"
    for s in r.systems.values():
        open_ = [x.damper for x in s.design.runs if x.damper is not None and x.side == "supply"]
        if open_ and max(open_) < 0.995:
            yield "no damper stands open"
        if s.blower is not None and s.unit is not None:
            static = float(s.blower.external_static_pa[0])
            if static > s.unit.blower.limit_pa * 1.005:
                yield f"static {static:.0f} of {s.unit.blower.limit_pa:.0f} Pa"


def served(r: Results) -> Iterator[str]:
    """Lived-in rooms of a unit with a load have air."""
    faces = {x.room for x in r.job.design.registers if x.side == "supply"}
    for k, room in enumerate(r.job.rooms):
        if room.use in LIVED_IN and room.id not in faces and r.loads.heating_w[k] > 300:
            yield f"{room.name} has no register"


RULES = {
    "misses plenum": starts,
    "in a unit": in_units,
    "stands badly": stands,
    "in a slab": buried,
    "in a room": in_rooms,
    "outdoors": outdoors,
    "in a beam": in_beams,
    "over a vault": over_vaults,
    "duct in duct": in_each_other,
    "no take-off": takeoffs,
    "air": air,
    "no register": served,
}


def judged(r: Results) -> dict[str, list[str]]:
    """By rule what is wrong."""
    found = {name: list(dict.fromkeys(rule(r))) for name, rule in RULES.items()}
    return {k: v for k, v in found.items() if v}
