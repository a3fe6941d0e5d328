"""From a routed tree to joints and runs: trunks where several faces are beyond, branches to each face, risers between levels."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import count

from murvan.design.lay.drawing import tidied
from murvan.design.lay.pieces import ROUND_M, TRUNK_M, Side, face_towards, level_m, made_of, storey_of
from murvan.design.lay.routing import Branch, Routed
from murvan.design.lay.space import Layer, Space
from murvan.kinds.registers import REGISTERS
from murvan.model.design import DuctRun, Face, IndoorUnit, Joint, Register
from murvan.model.edit import free_id, id_of
from murvan.model.job import Job, Point
from murvan.model.routes import RISER_M
from murvan.units import INCH

RETURN_M = (16 * INCH, 10 * INCH)
"""Width and height of a return before it is sized."""
LEVEL_M = 0.25
"""Levels nearer to each other than this are one: what is over a ceiling and under the floor above it."""


@dataclass
class DuctSheet:
    """What has been laid so far."""

    job: Job
    unit: IndoorUnit
    joints: list[Joint] = field(default_factory=list)
    runs: list[DuctRun] = field(default_factory=list)
    number: Iterator[int] = field(default_factory=lambda: count(1))

    def joint(self, storey: str, at: Point, height_m: float, face: Face | None = None) -> str:
        new = f"{self.unit.id}-j{next(self.number)}"
        where = (round(at[0], 3), round(at[1], 3))
        self.joints.append(Joint(id=new, storey=storey, position_m=where, height_m=round(height_m, 3), face=face))
        return new

    def tags(self) -> set[str]:
        """Those of what is laid so far, and of other units."""
        return {r.tag for r in (*self.runs, *(x for x in self.job.design.runs if x.indoor != self.unit.id))}

    def trunk_tag(self, side: Side) -> str:
        """The next that no run has."""
        tags, letter = self.tags(), "T" if side == "supply" else "RT"
        return next(f"{letter}{k}" for k in count(1) if f"{letter}{k}" not in tags)

    def run(self, tag: str, side: Side, ends: tuple[str, str], storey: str, **more: object) -> None:
        tags = self.tags()
        k = 2
        unique = tag
        while unique in tags:
            unique, k = f"{tag}.{k}", k + 1
        new = f"{self.unit.id}-{id_of(unique)}"
        ids = {r.id for r in self.runs}
        fields = {
            "id": new if new not in ids else free_id(f"{new}-", ids),
            "tag": unique,
            "indoor": self.unit.id,
            "side": side,
            "storey": storey,
        }
        self.runs.append(DuctRun.model_validate({**fields, "start": ends[0], "end": ends[1], **more}))


def lay_tree(sheet: DuctSheet, space: Space, routed: Routed, side: Side, faces: dict[str, Register]) -> None:
    """All runs of a routed tree, from the unit outwards."""
    _Layer(sheet, space, side, faces).from_root(routed.root)


class _Layer:
    """Lays one tree."""

    def __init__(self, sheet: DuctSheet, space: Space, side: Side, faces: dict[str, Register]) -> None:
        self.sheet, self.space, self.side, self.faces = sheet, space, side, faces

    def layer(self, b: Branch) -> Layer:
        return self.space.layers[b.at[0]]

    def from_root(self, root: Branch) -> None:
        for first in root.onward:
            self._chain(root, first, None)

    def _level(self, b: Branch) -> float:
        return self.layer(b).over_ground_m

    def _chain(self, start: Branch, first: Branch, joint: str | None) -> None:
        """The run from a place of the tree to where it parts, ends, or changes its level."""
        path, at = [start, first], first
        while len(at.onward) == 1 and not at.face and not self._turns_level(path, at.onward[0]):
            at = at.onward[0]
            path.append(at)
        if joint is None:
            joint = self._root(path)
        end = self._run(path, at, joint)
        for on in at.onward:
            self._chain(at, on, end)

    def _turns_level(self, path: list[Branch], following: Branch) -> bool:
        """Whether the way goes up or down here after it has gone along, or along after it has gone up or down."""
        was, now = path[-1], following
        dips = (self.layer(now).level == "dip") != (self.layer(was).level == "dip")
        upright = dips or abs(self._level(now) - self._level(was)) > LEVEL_M
        has_risen = abs(self._level(path[0]) - self._level(was)) > LEVEL_M
        has_gone = any(b.at[1] != path[0].at[1] for b in path)
        return (upright and has_gone) or (has_risen and not upright)

    def _root(self, path: list[Branch]) -> str:
        """The joint at the plenum, at the level the run leaves it."""
        start, first = path[0], path[1]
        unit = self.sheet.unit
        # what goes up or down at once leaves at the unit's own storey
        at = next((b for b in path if b.at[1] != start.at[1]), first)
        layer = self.layer(first)
        if layer.storey != unit.storey and unit.storey is not None:
            layer = min(
                (x for x in self.space.layers if x.storey == unit.storey),
                key=lambda x: abs(x.over_ground_m - self.layer(first).over_ground_m),
            )
        face = face_towards(start.at[1], at.at[1])
        up = self._level(at) - layer.over_ground_m
        if abs(up) > RISER_M and unit.way in ("upflow", "downflow"):
            face = "top"  # a riser stands on its end: others leave by the sides
        return self.sheet.joint(layer.storey, start.at[1], layer.height_m, face)

    def _run(self, path: list[Branch], end: Branch, start: str) -> str:
        face = self.faces.get(end.face)
        layer = self.layer(end)
        storey = storey_of(self.sheet.job, face) if face is not None else None
        if face is not None and storey is not None:
            in_wall = REGISTERS[face.kind].fed == "wall" and layer.storey == storey.id
            height = layer.height_m if in_wall else level_m(self.sheet.job, face, storey)
            joint = self.sheet.joint(storey.id, face.position_m, height)
        else:
            joint = self.sheet.joint(layer.storey, end.at[1], layer.height_m)
        storey = storey or next(s for s in self.sheet.job.storeys if s.id == layer.storey)
        points = tidied(tuple(b.at[1] for b in path))
        made = made_of(storey)
        if face is not None:
            tag = face.tag.split()[0][:20]
        else:
            tag = self.sheet.trunk_tag(self.side)
        rect = self.side == "return" or face is None
        if rect:
            wide, high = RETURN_M if self.side == "return" else TRUNK_M
            made |= {"material": "galvanised", "shape": "rectangular", "width_m": wide, "height_m": high}
        else:
            made |= {"shape": "round", "diameter_m": ROUND_M}
        self.sheet.run(
            tag,
            self.side,
            (start, joint),
            storey.id,
            corners_m=points[1:-1],
            register_id=face.id if face is not None else None,
            damper=1.0 if face is not None and (self.side == "supply" or len(self.faces) > 1) else None,
            **made,
        )
        return joint
