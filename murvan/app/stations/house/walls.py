"""The card of a wall."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from murvan.app.stations.base import Arith, Card, Field_, Fields, List_, ListRow, Picture, Section, View
from murvan.app.stations.fields import of
from murvan.app.stations.makeup_view import draw_layers
from murvan.design.drawing import set_wall_length
from murvan.design.explain import explain_u
from murvan.design.house import (
    WallPart,
    choices_of,
    compass,
    wall_facing_deg,
    wall_length_m,
    wall_points,
    with_construction,
)
from murvan.model import Construction, Job, Room, WallOverride
from murvan.model.edit import changed


@dataclass(frozen=True)
class _Wall:
    """One wall of a room as its card needs it: the parts it falls into by what lies beyond."""

    id: str
    i: int
    room: Room
    wall: int
    parts: tuple[WallPart, ...]
    override: WallOverride | None

    @property
    def outside(self) -> tuple[WallPart, ...]:
        return tuple(w for w in self.parts if w.other != "heated")

    @property
    def told(self) -> tuple[WallPart, ...]:
        """The parts outdoors, or all of an inside wall."""
        return self.outside or self.parts

    @property
    def main(self) -> WallPart:
        return max(self.told, key=lambda w: w.length_m)

    @property
    def net_m2(self) -> float:
        return sum(w.net_area_m2 for w in self.told)

    @property
    def gross_m2(self) -> float:
        return sum(w.gross_area_m2 for w in self.told)


def _wall(view: View, wall_id: str) -> _Wall | None:
    job = view.job
    room_id, _, n = wall_id.rpartition("/")
    wall = int(n)
    i = next((k for k, r in enumerate(job.rooms) if r.id == room_id), None)
    if i is None or wall >= len(job.rooms[i].outline_m):
        return None
    parts = tuple(w for w in view.r.geometry.walls if w.room == i and w.wall == wall)
    override = next((o for o in job.wall_overrides if (o.room, o.wall) == (room_id, wall)), None)
    return _Wall(wall_id, i, job.rooms[i], wall, parts, override)


def wall_card(view: View, wall_id: str) -> Card | None:
    x = _wall(view, wall_id)
    if x is None:
        return None
    construction = next((c for c in view.job.constructions if c.id == x.main.construction), None)
    u = view.r.factors.assemblies[construction.id].u_w_m2k if construction else 0.0
    r_value = view.num("r_value", 1 / u if u else None, 1 if view.units == "ip" else 2)
    return Card(
        f"Wall · {view.storey_name(x.room.storey)} · {x.room.name}",
        f"{side(view, x.room.outline_m, x.wall)} wall",
        "good",
        x.main.other.capitalize(),
        ((view.num("area", x.net_m2, 0), f"{view.unit('area')} net", "ink"),),
        _wall_note(view, x),
        ((view.num("u_factor", u), "U", "ink"), (("R-" if view.units == "ip" else "R ") + r_value, "", "ink")),
        (_wall_fields(view, x), *(_wall_assembly(view, x, construction) if construction else ())),
    )


def _wall_note(view: View, x: _Wall) -> str:
    """The openings taken off its area, or its length where there are none."""
    tags = [
        o.tag
        for o in view.job.openings
        if o.room == x.room.id and o.wall == x.wall and not o.inside and o.kind not in ("skylight", "archway")
    ]
    off = x.gross_m2 - x.net_m2
    if not tags or off <= 0.01:
        return f"{view.text('feet', wall_length_m(x.room.outline_m, x.wall))} long"
    return f"{view.num('area', x.gross_m2, 0)} less {view.num('area', off, 0)} of openings, {' and '.join(tags)}"


def _wall_fields(view: View, x: _Wall) -> Fields:
    room, wall = x.room.id, x.wall
    beyond = (
        ("auto", f"Plan: {x.main.other}"),
        ("outdoors", "Outdoors"),
        ("garage", "Garage"),
        ("heated", "Heated room"),
        ("attic", "Attic, knee wall"),
        ("party", "Neighbour's house"),
    )
    fields = [
        Field_(
            f"{x.id}.length",
            "Length",
            "feet",
            wall_length_m(x.room.outline_m, wall),
            lambda job, v: set_wall_length(job, room, wall, float(v)),
            "Change wall length",
        ),
        of("rooms", x.room, "height_m", key=f"{x.id}.height", label="Height", value=view.r.geometry.height_m[x.i]),
        Field_(
            f"{x.id}.make",
            "Assembly",
            "text",
            x.main.construction or "",
            lambda job, v: _override(with_construction(job, str(v)), room, wall, construction=str(v)),
            "Change wall assembly",
            choices_of(view.job, ("wall", "partition")),
        ),
        Field_(
            f"{x.id}.other",
            "Other side",
            "text",
            x.override.other_side if x.override else "auto",
            lambda job, v: _override(job, room, wall, other_side=str(v)),
            "Change other side",
            beyond,
        ),
    ]
    below = view.r.geometry.below_m[x.i]
    typed = x.override.grade_m if x.override is not None else None
    if below > 0 or typed is not None:
        fields.append(
            Field_(
                f"{x.id}.grade",
                "Ground over its floor",
                "feet",
                typed if typed is not None else below,
                lambda job, v: _override(job, room, wall, grade_m=float(v)),
                "Set the ground at the wall",
            )
        )
    return Fields("Change it", tuple(fields))


def _wall_assembly(view: View, x: _Wall, c: Construction) -> tuple[Section, ...]:
    """What the wall is made of, and what it loses."""
    factors, walls = view.r.factors, view.r.geometry.walls
    mine = [s for s in factors.surfaces if s.part >= 0 and walls[s.part] in x.outside]
    plain = len(mine) <= 1 and x.main.other != "ground"
    sections: list[Section] = [
        Picture("Assembly", "outside to inside", 106, lambda p, r: draw_layers(p, r, view, c)),
        Arith(explain_u(c, (x.net_m2, _colder_k(view, x.main)) if plain and x.outside else None)),
    ]
    if not plain:
        rows = tuple(
            ListRow(
                f"{walls[s.part].other.capitalize()}, {view.text('area', s.area_m2, 0)}",
                view.num("power", s.heating_w),
                view.unit("power"),
                second=f"U {view.num('u_factor', s.u_w_m2k)}, {view.text('difference', s.heat_k, 0)} colder",
            )
            for s in mine
        )
        sections.append(List_("Loses at design, by what lies beyond", "", rows))
    row = ListRow(c.name, "", "assumed" if c.assumed else "", key=("construction", c.id))
    return (*sections, List_("Open it to change its layers", "", (row,)))


def _colder_k(view: View, part: WallPart) -> float:
    """How much colder it is beyond the wall at winter design."""
    c = view.r.conditions
    if part.other != "garage":
        return c.heating_difference_k
    return c.indoor_heating.temperature_c - view.r.factors.spaces.winter(part.neighbour)


def level(room: Room, wall: int) -> bool:
    """Whether a wall runs across the plan rather than up and down it."""
    (x0, y0), (x1, y1) = wall_points(room.outline_m, wall)
    return abs(x1 - x0) >= abs(y1 - y0)


def side(view: View, outline: tuple[tuple[float, float], ...], wall: int) -> str:
    words = {
        "N": "North",
        "NE": "North-east",
        "E": "East",
        "SE": "South-east",
        "S": "South",
        "SW": "South-west",
        "W": "West",
        "NW": "North-west",
    }
    return words[compass(wall_facing_deg(outline, wall, view.job.site.north_deg))]


def _override(job: Job, room: str, wall: int, **changes: Any) -> Job:
    """Give one wall its own assembly or other side."""
    rest = tuple(o for o in job.wall_overrides if (o.room, o.wall) != (room, wall))
    old = next(
        (o for o in job.wall_overrides if (o.room, o.wall) == (room, wall)), WallOverride(room=room, wall=wall)
    )
    return changed(job, job.name, wall_overrides=(*rest, changed(old, **changes)))


CARDS: dict[str, Callable[[View, str], Card | None]] = {"wall": wall_card}
