"""How runs of duct lie: where they go from joint to joint, which feeds which, and the fittings that follow from that.

A joint is where runs meet, turn off, change size, leave a plenum or end. Elbows, take-offs, wyes, reducers and boots
follow from the geometry and the sizes there; a run may name its own instead.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from functools import lru_cache
from itertools import groupby
from math import acos, degrees, hypot
from types import MappingProxyType
from typing import Any, NamedTuple

from murvan.kinds.duct_materials import DUCT_MATERIALS, PLAIN
from murvan.kinds.fittings import FITTINGS
from murvan.model.design import Design, DuctRun, Face, Fitting, Joint
from murvan.model.house import Storey, floor_heights
from murvan.model.record import Id, Point

Path = tuple[Point, ...]
STRAIGHT_DEG = 25.0
"""A run that turns off by less goes on straight."""
BEND_DEG, ELBOW_DEG = 20.0, 60.0
"""Below the first a corner is no fitting, up to the second a 45 bend."""
FLEX_TWICE_DEG = 70.0
"""Flex takes a sharper corner in two bends."""
RISER_M = 1.0
"""A rise of this much turns up, and off again at its end."""
SET_OVER_M = 0.1
"""A duct of this little length may rise as much and still only be set over."""


SOFFIT, CHASE = "soffit", "chase"
"""In words, what has to be framed round a duct that lies in a room."""


class Lies(NamedTuple):
    """What a joint lies in."""

    place: str
    """As the `place` of a run."""
    words: str
    """What is clear there, in words."""
    clear_m: float | None
    """Clear height; none: not known, or as much as anybody wants."""
    in_chase: bool = False
    """In the floor of a chase that is drawn, at whatever height."""


@lru_cache(maxsize=8192)
def path_length_m(path: Path, rise_m: float) -> float:
    """Along the plan and up."""
    return along_m(path) + abs(rise_m)


class LaidRun(DuctRun):
    """A run with what follows from its joints and the house round them."""

    lies_in: str = "inside"
    """Its own place where it names one, else that of its end."""
    clear: tuple[str, float] | None = None
    """What is clear where it is tightest, in words, and how much."""
    framed: str = ""
    """'soffit' or 'chase': what is framed round it where none is drawn."""
    parent: Id | None = None
    """The run it leaves (supply) or feeds (return); none: the unit's plenum."""
    path_m: Path = ()
    """On the plan, outwards from the unit, both joints included."""
    rise_m: float = 0.0
    level_m: float = 0.0
    """Of its end over its storey's floor."""
    face: Face | None = None
    """Plenum face it leaves."""
    face_from_end_m: float | None = None
    face_along_m: float | None = None
    pieces: tuple[Fitting, ...] = ()
    """Its fittings: its own where it names them, else those that follow."""


Way = tuple[float, float, float]


class Lie(NamedTuple):
    """What decides on the fittings of a run."""

    side: str
    flex: bool
    size: tuple[float, ...]
    """One diameter, or width and height."""
    path: Path
    rise_m: float
    ends: bool
    """In a register or grille."""
    closed: bool = False
    """With nothing that goes on from it: its end is shut by a cap."""
    alone: bool = False
    """Nothing else leaves the joint that it starts from."""

    def under(self, trunk_m: float) -> bool:
        """Whether it ends in a register that lies right under a trunk so wide, or over it."""
        return (
            self.ends and self.side != "fresh" and abs(self.rise_m) < SET_OVER_M and along_m(self.path) < trunk_m / 2
        )

    @property
    def first(self) -> Way:
        """Which way it starts; what climbs, climbs at once."""
        flat = _away(self.path[0], self.path[1])
        return (0.0, 0.0, self.rise_m) if self.upright or flat == (0.0, 0.0) else (*flat, 0.0)

    @property
    def upright(self) -> bool:
        """Whether it starts upright: it climbs by a storey, or by more than it goes along. What climbs less is set over on
        its way."""
        return upright(self.path, self.rise_m)

    @property
    def last(self) -> Way:
        """Which way it ends."""
        flat = _away(self.path[-2], self.path[-1])
        return (*flat, 0.0) if flat != (0.0, 0.0) else (0.0, 0.0, self.rise_m)


def upright(path: Path, rise_m: float) -> bool:
    """Whether what lies so starts upright; see `Lie.upright`."""
    return abs(rise_m) >= RISER_M or abs(rise_m) > max(along_m(path), SET_OVER_M)


def along_m(path: Path) -> float:
    """On the plan."""
    return sum(hypot(*_away(a, b)) for a, b in zip(path, path[1:], strict=False))


def parents(runs: tuple[DuctRun, ...]) -> dict[str, str | None]:
    """Which run each leaves or feeds: the one that ends where it starts."""
    ending = {r.end: r.id for r in runs}
    return {r.id: ending.get(r.start) for r in runs}


def laid_runs(
    design: Design,
    storeys: tuple[Storey, ...],
    before: tuple[LaidRun, ...] = (),
    spaces: Mapping[str, Lies] = MappingProxyType({}),
) -> tuple[LaidRun, ...]:
    """All runs of a design as they lie, in its order; one that lies as it did `before` is the same object again.

    `spaces` says what the joints lie in, by their id; one it does not know lies inside.
    """
    old = {x.id: x for x in before}
    joints = {j.id: j for j in design.joints}
    above = parents(design.runs)
    floor = floor_heights(storeys)
    leave = Counter(r.start for r in design.runs)
    lies = {r.id: _lie(r, joints, floor, leave) for r in design.runs}
    onward = {r.start for r in design.runs if not _leaves(r, lies, above)}
    out = []
    for r in design.runs:
        own, over, first = lies[r.id], lies.get(above[r.id] or ""), joints[r.start]
        own = own._replace(closed=not own.ends and r.end not in onward)
        fields: dict[str, Any] = {
            **r.__dict__,
            "lies_in": r.place or _lies(r.end, spaces).place,
            "clear": _tightest(r, spaces),
            "framed": _framed(r, own.rise_m, above[r.id] is None and first.storey == joints[r.end].storey, spaces),
            "parent": above[r.id],
            "path_m": own.path,
            "rise_m": own.rise_m,
            "level_m": joints[r.end].height_m,
            "face": first.face,
            "face_from_end_m": first.face_from_end_m,
            "face_along_m": first.face_along_m,
            "pieces": r.fittings if r.fittings is not None else derived(own, over),
        }
        was = old.get(r.id)
        out.append(was if was is not None and was.__dict__ == fields else LaidRun.model_construct(**fields))
    return tuple(out)


def _leaves(r: DuctRun, lies: Mapping[str, Lie], above: Mapping[str, str | None]) -> bool:
    """Whether a run is let off its trunk by a fitting of its own, so that the trunk may end there."""
    over = above[r.id]
    kinds = (
        [f.kind for f in r.fittings]
        if r.fittings is not None
        else [f.kind for f in derived(lies[r.id], lies.get(over or ""))]
    )
    return over is not None and any(FITTINGS[k].branch_deg is not None for k in kinds)


NOWHERE = Lies("inside", "space", None)


def _lies(joint: str, spaces: Mapping[str, Lies]) -> Lies:
    return spaces.get(joint, NOWHERE)


def _tightest(r: DuctRun, spaces: Mapping[str, Lies]) -> tuple[str, float] | None:
    """Where a run has the least height: as measured, else at that of its ends which lies where it does."""
    if r.under_roof_m is not None:
        return ("clear height under the roof", r.under_roof_m)
    start, end = _lies(r.start, spaces), _lies(r.end, spaces)
    nowhere = next((x for x in (end, start) if x.clear_m == 0), None)
    if nowhere is not None:
        return (nowhere.words, 0.0)
    known = [x.clear_m for x in (start, end) if x.clear_m is not None and x.place == end.place]
    return (end.words, min(known)) if known and r.place in (None, end.place) else None


def _framed(r: DuctRun, rise_m: float, at_unit: bool, spaces: Mapping[str, Lies]) -> str:
    """What has to be framed round a run: a soffit where it lies in the room at both ends, a chase where it rises through
    it. Nothing round a riser at the unit within its storey, nor where it lies out of the rooms."""
    start, end = _lies(r.start, spaces), _lies(r.end, spaces)
    if start.place != "inside" or end.place != "inside":
        return ""
    if abs(rise_m) >= RISER_M:
        return "" if start.in_chase or end.in_chase or at_unit else CHASE
    return SOFFIT if start.words == end.words == SOFFIT else ""


def _lie(r: DuctRun, joints: dict[str, Joint], floor: dict[str, float], leave: Counter[str]) -> Lie:
    a, b = joints[r.start], joints[r.end]
    rise = (floor[b.storey] + b.height_m) - (floor[a.storey] + a.height_m)
    size = (r.diameter_m or 0.0,) if r.shape == "round" else (r.width_m or 0.0, r.height_m or 0.0)
    path = (a.position_m, *r.corners_m, b.position_m)
    return Lie(r.side, r.made_of.bends, size, path, rise, r.register_id is not None, alone=leave[r.start] == 1)


# ---- fittings -------------------------------------------------------------------------------------------------


@lru_cache(maxsize=4096)
def derived(own: Lie, over: Lie | None) -> tuple[Fitting, ...]:
    """The fittings of a run from its start to its end; `over` is the run that it leaves or feeds."""
    kinds = (
        _hung(own) if over is not None and own.under(over.size[0]) else [*_start(own, over), *_turns(own), *_end(own)]
    )
    return tuple(Fitting(kind=kind, count=len(list(same))) for kind, same in groupby(kinds))


def _hung(own: Lie) -> list[str]:
    """Of a register or grille right on its trunk."""
    return ["takeoff", "boot"] if own.side == "supply" else ["takeoff"]


def _start(own: Lie, over: Lie | None) -> list[str]:
    if own.side == "fresh":
        return []
    if over is None:
        return ["plenum_exit" if own.side == "supply" else "plenum_entry"]
    angle = turn_deg(over.last, own.first)
    if angle <= STRAIGHT_DEG:
        return [] if own.size == over.size else ["reducer"]
    if own.alone and len(own.size) == len(over.size):
        return _bend(own, angle)
    # off a rectangular trunk a take-off is cut in; round pipe parts in a wye
    return ["takeoff45" if own.side == "supply" and len(over.size) > 1 else "wye"]


def _bend(own: Lie, angle: float) -> list[str]:
    """What turns a duct by an angle."""
    if own.flex:
        return ["bend45"] * (2 if angle > FLEX_TWICE_DEG else 1 if angle > BEND_DEG else 0)
    elbow = "elbow" if len(own.size) == 1 else "elbow_vanes"
    return [] if angle <= BEND_DEG else [elbow if angle > ELBOW_DEG else "bend45"]


def _turns(own: Lie) -> list[str]:
    # a riser that comes up beside its grille turns into it, once
    goes = along_m(own.path) > (max(own.size) / 2 if own.ends else 0.0)
    # from upright into its first level leg
    out = _bend(own._replace(flex=False), 90.0) if own.upright and goes else []
    for a, b, c in zip(own.path, own.path[1:], own.path[2:], strict=False):
        out += _bend(own, turn_deg((*_away(a, b), 0.0), (*_away(b, c), 0.0)))
    return out


def _end(own: Lie) -> list[str]:
    if own.side == "fresh":
        return []
    if not own.ends:
        return ["end_cap"] if own.closed else []
    if own.side == "supply":
        return ["elbow", "boot"] if len(own.size) == 1 else ["boot"]
    return ["elbow"] if len(own.size) == 1 else ["elbow_vanes"]


def _away(a: Point, b: Point) -> tuple[float, float]:
    return b[0] - a[0], b[1] - a[1]


def turn_deg(a: Way, b: Way) -> float:
    """Degrees between two directions; 0 where one has no length."""
    whole = hypot(*a) * hypot(*b)
    return (
        degrees(acos(max(-1.0, min(1.0, sum(x * y for x, y in zip(a, b, strict=True)) / whole))))
        if whole > 0
        else 0.0
    )


# ---- joints from runs that name no joints ---------------------------------------------------------------------


OVER_M = 0.2
"""From a ceiling to the middle of a duct that lies over it, where nobody said how high."""


def joined(
    drafts: list[dict[str, Any]], storeys: list[dict[str, Any]], unit_storey: str | None
) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    """Joints and runs, both raw, of runs that name a parent and a path instead.

    Where a tree starts it hangs so that its first run ends over the ceiling. A run that does not start where its parent
    ends keeps its length as measured. Raises KeyError, TypeError, ValueError on drafts that are not whole.
    """
    floor = floor_heights(tuple(Storey.model_validate(s) for s in storeys))
    ceiling = {s["id"]: floor[s["id"]] + s["height_m"] + OVER_M for s in storeys}
    by_id = {d["id"]: d for d in drafts}
    joints: list[dict[str, Any]] = []
    start: dict[str, dict[str, Any]] = {}
    end: dict[str, dict[str, Any]] = {}
    level: dict[str, float] = {}

    def joint(storey: str, at: Any, z: float, **more: Any) -> dict[str, Any]:
        made = {
            "id": f"j{len(joints) + 1}",
            "storey": storey,
            "position_m": (float(at[0]), float(at[1])),
            "height_m": z - floor[storey],
            **more,
        }
        joints.append(made)
        level[made["id"]] = z
        return made

    def lay(d: dict[str, Any], depth: int = 0) -> None:
        if d["id"] in end:
            return
        if depth > len(drafts):
            raise ValueError("runs in a ring")
        rise, over = float(d.get("rise_m", 0.0)), d.get("parent")
        if over is None:
            of = unit_storey if unit_storey in floor else d["storey"]
            more = {k: d[k] for k in ("face", "face_from_end_m") if d.get(k) is not None}
            start[d["id"]] = joint(of, d["path_m"][0], ceiling[d["storey"]] - rise, **more)
        else:
            lay(by_id[over], depth + 1)
            start[d["id"]] = end[over]
        end[d["id"]] = joint(d["storey"], d["path_m"][-1], level[start[d["id"]]["id"]] + rise)

    for d in drafts:
        lay(d)
    goes_on = {d.get("parent") for d in drafts}
    lies = {d["id"]: _draft_lie(d, start[d["id"]], d["id"] not in goes_on) for d in drafts}
    return joints, [_run(d, start, end, lies) for d in drafts]


GONE = ("parent", "path_m", "rise_m", "face", "face_from_end_m", "fittings")
HALF_MM = 5e-4


def _run(d: dict[str, Any], start: dict[str, Any], end: dict[str, Any], lies: dict[str, Lie]) -> dict[str, Any]:
    own, over = lies[d["id"]], lies.get(d.get("parent") or "")
    out = {k: v for k, v in d.items() if k not in GONE}
    out |= {"start": start[d["id"]]["id"], "end": end[d["id"]]["id"]}
    corners = [tuple(p) for p in d["path_m"][1:-1]]
    if corners:
        out["corners_m"] = corners
    first, wanted = start[d["id"]]["position_m"], d["path_m"][0]
    if hypot(first[0] - wanted[0], first[1] - wanted[1]) > HALF_MM:
        path = [tuple(p) for p in d["path_m"]]
        out["length_m"] = sum(hypot(*_away(a, b)) for a, b in zip(path, path[1:], strict=False)) + abs(own.rise_m)
    typed = tuple(Fitting.model_validate(f) for f in d.get("fittings", ()))
    if typed != derived(own, over):
        out["fittings"] = list(d.get("fittings", ()))
    return out


def _draft_lie(d: dict[str, Any], first: dict[str, Any], last: bool) -> Lie:
    round_ = d.get("shape", "round") == "round"
    size = (d.get("diameter_m") or 0.0,) if round_ else (d.get("width_m") or 0.0, d.get("height_m") or 0.0)
    path = (first["position_m"], *(tuple(p) for p in d["path_m"][1:]))
    return Lie(
        d["side"],
        DUCT_MATERIALS[d.get("material", PLAIN.id)].bends,
        size,
        path,
        float(d.get("rise_m", 0.0)),
        d.get("register_id") is not None,
        last and d.get("register_id") is None,
    )
