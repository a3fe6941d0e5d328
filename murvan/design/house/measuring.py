"""Measures the house: puts levels, walls and openings together to the `Geometry`."""

from __future__ import annotations

from functools import lru_cache

import shapely
from shapely.geometry import Polygon

from murvan.design.house import levels, walls
from murvan.design.house.geometry import Geometry, room_height_m
from murvan.model.house import floor_heights
from murvan.model.job import Job, Room, signed_area


def measure(job: Job) -> Geometry:
    """Measure the house as it is drawn."""
    rooms, storeys, openings, spaces = job.rooms, job.storeys, job.openings, job.spaces
    by_id = {s.id: s for s in storeys}
    shapes = [levels.roof_shape(r) for r in rooms]
    areas = tuple(abs(signed_area(r.outline_m)) for r in rooms)
    flat = tuple(room_height_m(r, by_id) for r in rooms)
    volumes = tuple(s.volume_m3 if s else a * h for s, a, h in zip(shapes, areas, flat, strict=True))
    heights = tuple(v / a for v, a in zip(volumes, areas, strict=True))
    floor_z = floor_heights(storeys)
    below = tuple(max(-floor_z[r.storey], 0.0) for r in rooms)
    parts, faces = walls.walls(rooms, flat, openings, spaces, storeys, job)
    up = levels.ceilings(rooms, storeys, areas, shapes, job.patches)
    faces += levels.skylights(rooms, openings, up, job.site.north_deg)
    down = levels.floors(rooms, storeys, spaces, areas, job)
    edges = [0.0] * len(rooms)
    under = {k: [0.0] * len(rooms) for k in ("crawl", "basement")}
    for p in parts:
        if p.other == "outdoors":
            edges[p.room] += p.length_m if down["slab"][p.room] > 0 else 0.0
            for k, walls_over in under.items():
                walls_over[p.room] += p.length_m if down[k][p.room] > 0 else 0.0
    return Geometry(
        storeys=storeys,
        area_m2=areas,
        height_m=heights,
        volume_m3=volumes,
        walls=tuple(parts),
        openings=tuple(faces),
        ceilings_m2={k: tuple(v) for k, v in up.items()},
        floors_m2={k: tuple(v) for k, v in down.items()},
        edge_m=tuple(edges),
        under_edge_m={k: tuple(v) for k, v in under.items()},
        under_width_m={
            k: levels.footprint_width([r for r, a in zip(rooms, down[k], strict=True) if a > 0]) for k in under
        },
        centre_m=tuple(_label_point(r) for r in rooms),
        below_m=below,
        below_width_m=levels.footprint_width([r for r, z in zip(rooms, below, strict=True) if z > 0]),
        roofs=levels.roof_parts(shapes, up["roof"], job.site.north_deg),
        over_space_m2={k: tuple(v) for k, v in levels.over_spaces(rooms, storeys, spaces, down["garage"]).items()},
        stack_storeys=levels.stack_storeys(rooms, storeys),
    )


@lru_cache(maxsize=1024)
def _label_at(outline: tuple[tuple[float, float], ...]) -> tuple[float, float]:
    shape = Polygon(outline)
    c = shape.centroid
    box = shape.minimum_rotated_rectangle.area
    if shape.contains(c) and shape.area > 0.9 * box:
        return (c.x, c.y)
    p = shapely.maximum_inscribed_circle(shape).coords[0]
    return (float(p[0]), float(p[1]))


def _label_point(room: Room) -> tuple[float, float]:
    """A point well inside the room: its centroid, or a representative point for L and U shapes."""
    return _label_at(room.outline_m)
