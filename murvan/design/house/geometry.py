"""What the plan encloses: floor areas, volumes, walls by what lies beyond them, openings, ceilings and floors.

Walls are found by laying every room's sides against those of the other rooms and spaces at the same height; where
two run along each other within 0.25 m they are one wall. What is left over faces the outdoors, or the ground where
the storey lies below it.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from math import atan2, degrees, hypot

from shapely import Polygon

from murvan.model.job import Opening, Room, Storey, signed_area

Point = tuple[float, float]
Outline = tuple[Point, ...]

TOUCH_M = 0.25
SHORT_M = 0.02
COMPASS = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")


@dataclass(frozen=True)
class WallPart:
    """A stretch of one room's wall with a single thing beyond it."""

    room: int
    wall: int
    start_m: float
    length_m: float
    other: str
    """'outdoors', 'garage', 'heated', 'attic' (a knee wall) or 'ground'."""
    neighbour: str | None
    facing_deg: float
    gross_area_m2: float
    net_area_m2: float
    construction: str | None
    depth_m: tuple[float, float] = (0.0, 0.0)
    """Ground only: its top and bottom below grade."""

    @property
    def compass(self) -> str:
        """'N', 'NE' and so on: where it looks."""
        return compass(self.facing_deg)


@dataclass(frozen=True)
class OpeningFace:
    """An opening with the room it belongs to and where it looks."""

    index: int
    room: int
    facing_deg: float
    area_m2: float
    other: str
    tilt_deg: float = 90.0
    neighbour: str | None = None
    """The unheated space beyond it, for doors into one."""


@dataclass(frozen=True)
class RoofPart:
    """A piece of ceiling that is the roof itself, true area along the slope."""

    room: int
    facing_deg: float
    tilt_deg: float
    """0 is level."""
    area_m2: float


@dataclass(frozen=True)
class Geometry:
    """Measures of the house; tuples are indexed by the order of `job.rooms`."""

    storeys: tuple[Storey, ...]
    area_m2: tuple[float, ...]
    height_m: tuple[float, ...]
    volume_m3: tuple[float, ...]
    walls: tuple[WallPart, ...]
    openings: tuple[OpeningFace, ...]
    ceilings_m2: dict[str, tuple[float, ...]]
    """Ceiling by what lies over it: 'attic', 'roof' (true area along slopes)."""
    floors_m2: dict[str, tuple[float, ...]]
    """Floor by what lies under it: 'slab', 'crawl', 'basement' (an unheated one), 'outdoors', 'garage', 'below' (a floor below grade)."""
    edge_m: tuple[float, ...]
    """Exposed slab edge."""
    under_edge_m: dict[str, tuple[float, ...]]
    """Outside walls over an unheated space, 'crawl' or 'basement', by room."""
    under_width_m: dict[str, float]
    """Shorter side of that space, 0 without one."""
    centre_m: tuple[tuple[float, float], ...]
    below_m: tuple[float, ...]
    """Depth of each room's floor below the ground outside, 0 where it is not."""
    below_width_m: float
    """Shorter side of the floor below grade."""
    roofs: tuple[RoofPart, ...] = ()
    """Together `ceilings_m2['roof']`."""
    over_space_m2: dict[str, tuple[float, ...]] = field(default_factory=dict)
    """Floor over each garage or porch by its id; together `floors_m2['garage']`."""
    stack_storeys: int = 1
    """Storeys with rooms that stand more over the ground than in it: the height of the stack."""

    @property
    def total_area_m2(self) -> float:
        """Floor of all rooms, m2."""
        return sum(self.area_m2)

    @property
    def total_volume_m3(self) -> float:
        """Air of all rooms, m3."""
        return sum(self.volume_m3)

    @cached_property
    def exposed_wall_m2(self) -> tuple[float, ...]:
        """Gross wall to the outdoors, a garage or an attic, by room."""
        out = [0.0] * len(self.area_m2)
        for w in self.walls:
            if w.other not in ("heated", "ground"):
                out[w.room] += w.gross_area_m2
        return tuple(out)

    @cached_property
    def leak_shares(self) -> tuple[float, ...]:
        """Each room's part of the air through the shell: by outside wall, in a house without any by floor."""
        share = self.exposed_wall_m2 if sum(self.exposed_wall_m2) > 0 else self.area_m2
        whole = sum(share)
        return tuple(x / whole for x in share) if whole > 0 else tuple(0.0 for _ in share)


def compass(facing_deg: float) -> str:
    """The nearest of eight directions."""
    return COMPASS[int((facing_deg % 360) / 45 + 0.5) % 8]


@lru_cache(maxsize=8192)
def shape_of(outline: Outline) -> Polygon:
    """The area that an outline encloses."""
    return Polygon(outline)


def wall_points(outline: Outline, wall: int) -> tuple[Point, Point]:
    """Both ends of a wall, in outline order."""
    return outline[wall], outline[(wall + 1) % len(outline)]


def wall_at(outline: Outline, wall: int, *along_m: float) -> tuple[Point, ...]:
    """Places on the line of a wall, by their distance from its first corner."""
    (x0, y0), (x1, y1) = wall_points(outline, wall)
    length = max(hypot(x1 - x0, y1 - y0), 1e-9)
    ux, uy = (x1 - x0) / length, (y1 - y0) / length
    return tuple((x0 + ux * s, y0 + uy * s) for s in along_m)


def inward(outline: Outline, wall: int) -> Point:
    """Unit vector from a wall into its room."""
    (x0, y0), (x1, y1) = wall_at(outline, wall, 0.0, 1.0)
    turn = 1 if signed_area(outline) > 0 else -1
    return -(y1 - y0) * turn, (x1 - x0) * turn


def opening_line(opening: Opening, room: Room) -> tuple[Point, ...]:
    """Both ends of an opening on the plan, in the order of its wall."""
    return wall_at(room.outline_m, opening.wall, opening.offset_m, opening.offset_m + opening.width_m)


def wall_length_m(outline: Outline, wall: int) -> float:
    """Length of one wall of an outline, m."""
    (x0, y0), (x1, y1) = wall_points(outline, wall)
    return hypot(x1 - x0, y1 - y0)


def wall_facing_deg(outline: Outline, wall: int, north_deg: float = 0.0) -> float:
    """Compass direction of the wall's outward side, clockwise from north."""
    (x0, y0), (x1, y1) = wall_points(outline, wall)
    dx, dy = x1 - x0, y1 - y0
    nx, ny = (dy, -dx) if signed_area(outline) > 0 else (-dy, dx)
    return (degrees(atan2(nx, -ny)) - north_deg) % 360


def room_height_m(room: Room, storeys: dict[str, Storey]) -> float:
    """The room's ceiling height, of the flat part where it slopes."""
    if room.slope is not None:
        return room.slope.high_m
    return room.height_m if room.height_m is not None else storeys[room.storey].height_m
