"""Draws the demo houses the way a user does: rooms, openings and things by the same strokes. Feet here."""

from __future__ import annotations

from typing import Any

from murvan.design.drawing import (
    Size,
    add_area,
    add_existing,
    add_furniture,
    add_skylight,
    bump_out,
    draw_room,
    place_opening,
    rename_room,
    set_offset,
    spot_at,
)
from murvan.model import Job
from murvan.model.design_edit import put_in_zone
from murvan.model.edit import changed, replace
from murvan.model.job import Point

FT, INCH, CFM, BTU_H = 0.3048, 0.0254, 0.3048**3 / 60, 0.29307107017
HEAD_FT = 6.8


def at(x: float, y: float) -> Point:
    return (round(x * FT, 5), round(y * FT, 5))


class Hand:
    """A job being drawn on one storey."""

    def __init__(self, job: Job, storey: str) -> None:
        self.job, self.storey = job, storey
        self.ids: dict[str, str] = {r.name: r.id for r in job.rooms}

    def on(self, storey: str) -> Hand:
        self.storey = storey
        return self

    def room(self, name: str, *corners: tuple[float, float], **fields: Any) -> None:
        """A room from its corners; two corners make a rectangle."""
        if len(corners) == 2:
            (x0, y0), (x1, y1) = corners
            corners = ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
        drawn = draw_room(self.job, self.storey, tuple(at(*c) for c in corners), name)
        self.ids[name] = drawn.id
        self.job = rename_room(drawn.job, drawn.id, name)
        if "zone" in fields:
            self.job = put_in_zone(self.job, (drawn.id,), fields.pop("zone"))
        if fields:
            self.job = replace(self.job, "rooms", drawn.id, **fields)

    def bump_out(self, name: str, x: float, y0: float, y1: float, depth: float) -> None:
        """A bay in a room's wall that runs up and down the plan at x."""
        spot = spot_at(self.job, self.storey, at(x - 0.1, (y0 + y1) / 2), 0.3)
        assert spot is not None and spot.room.id == self.ids[name], name
        start = spot.along_m - (y1 - y0) / 2 * FT
        self.job = bump_out(self.job, spot.room.id, spot.wall, start, start + (y1 - y0) * FT, depth * FT)

    def opening(self, kind: Any, x: float, y: float, width: float, height: float, **fields: Any) -> str:
        """An opening with its middle at a point on a wall."""
        spot = spot_at(self.job, self.storey, at(x, y), 0.3)
        assert spot is not None, (kind, x, y)
        sill = max(HEAD_FT - height, 0.0) if kind == "window" else 0.0
        size = Size(width * FT, height * FT, fields.pop("sill", sill) * FT)
        offset = spot.along_m - size.width_m / 2
        drawn = place_opening(self.job, spot, kind, size)
        self.job = set_offset(drawn.job, drawn.id, max(offset, 0.0))
        if fields:
            self.job = replace(self.job, "openings", drawn.id, **fields)
        return drawn.id

    def skylight(self, x: float, y: float, **fields: Any) -> None:
        drawn = add_skylight(self.job, self.storey, at(x, y))
        self.job = replace(drawn.job, "openings", drawn.id, **fields) if fields else drawn.job

    def area(self, kind: str, x0: float, y0: float, x1: float, y1: float, /, **fields: Any) -> None:
        drawn = add_area(self.job, kind, self.storey, (at(x0, y0), at(x1, y0), at(x1, y1), at(x0, y1)))
        collection = {"patch": "patches", "place": "places", "keep": "keep_clear"}[kind]
        self.job = replace(drawn.job, collection, drawn.id, **fields)

    def furniture(self, kind: str, x: float, y: float, turn: float = 0.0) -> None:
        self.job = add_furniture(self.job, self.storey, at(x, y), kind, turn).job

    def there(self, kind: str, x: float, y: float, **fields: Any) -> None:
        drawn = add_existing(self.job, self.storey, at(x, y), kind)
        self.job = replace(drawn.job, "existing", drawn.id, **fields)

    def set(self, **fields: Any) -> None:
        self.job = changed(self.job, self.job.name, **fields)
