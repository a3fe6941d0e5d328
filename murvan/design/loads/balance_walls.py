"""Constructions as walls that store heat, seen from the room, for the design-day heat balance."""

from __future__ import annotations

from functools import lru_cache

from murvan.model.job import Construction, Layer
from murvan.physics.periodic import Slab, Wall, half_of, massless, sealed, side_by_side, through

HR = 5.1
"""Radiant coefficient inside, W/m2K."""
HC_WALL, HC_UP, HC_DOWN = 3.1, 4.0, 0.9
"""Convective coefficients inside: walls, heat flowing up (floors), heat flowing down (ceilings); ASHRAE, from memory."""
R_OUT_SUMMER = 0.25 * 0.1761101838
"""Outside film at 7.5 mph, m2K/W; ASHRAE ch. 26, from memory."""
WOOD_DENSITY, WOOD_HEAT = 500.0, 1630.0
SOIL = Slab(0.5 / 1.4, 0.5 * 1900 * 1000)
"""Half a metre of soil, which stores the day's heat. Nothing passes beyond it unless the job takes credit for the ground:
then the rest of the resistance that the winter's loss has (slab edge, Latta-Boileau) lies between it and the ground of the
month; the way of ISO 13370 for dynamic calculations, with the conductances of the heating load."""
DECK = (Slab(0.109, 0.0127 * 540 * 1210), Slab(0.0775, 0.0064 * 1100 * 1260))
"""Roof over an attic: half an inch of deck, shingles."""
FLOOR_BETWEEN = (Slab(0.0793, 0.0127 * 640 * 1150), Slab(0.16), Slab(0.165, 0.019 * 560 * 1300))
"""Between two storeys: gypsum, joist space, subfloor."""
CONCRETE = Slab(0.056, 0.1016 * 2300 * 900)
"""Four inches of concrete."""


def slabs_of(construction: Construction, stud: bool = False) -> tuple[Slab, ...]:
    """A construction's layers from inside to outside, at the bay or at the stud."""
    return tuple(_slab(x, stud) for x in reversed(construction.layers))


def _slab(x: Layer, stud: bool) -> Slab:
    if stud and x.framing_r_m2k_w is not None:
        return Slab(x.framing_r_m2k_w, x.thickness_m * WOOD_DENSITY * WOOD_HEAT)
    return Slab(x.resistance_m2k_w, x.thickness_m * x.density_kg_m3 * x.specific_heat_j_kgk)


@lru_cache(maxsize=512)
def wall_of(construction: Construction, film: float) -> Wall:
    """The construction with the film beyond it; bay and stud side by side."""
    beyond = (Slab(film),) if film > 0 else ()
    bay = through((*slabs_of(construction), *beyond))
    if not construction.framing_fraction:
        return bay
    stud = through((*slabs_of(construction, True), *beyond))
    return side_by_side((bay, stud), (1 - construction.framing_fraction, construction.framing_fraction))


@lru_cache(maxsize=256)
def partition_of(construction: Construction) -> Wall:
    """Half of a partition."""
    bay = half_of(slabs_of(construction))
    if not construction.framing_fraction:
        return bay
    return side_by_side(
        (bay, half_of(slabs_of(construction, True))),
        (1 - construction.framing_fraction, construction.framing_fraction),
    )


def to_weather(construction: Construction) -> Wall:
    """The construction with the outside film."""
    return wall_of(construction, R_OUT_SUMMER)


def on_soil(construction: Construction | None, otherwise: tuple[Slab, ...], ground_u_w_m2k: float | None) -> Wall:
    """The construction with soil beyond it, and the ground where it counts.

    Args:
        otherwise: layers where no construction is chosen.
        ground_u_w_m2k: from inside to the ground as in winter; None: nothing passes beyond the soil.
    """
    bay = otherwise if construction is None else slabs_of(construction)
    if construction is None or not construction.framing_fraction:
        return _to_ground(bay, ground_u_w_m2k)
    shares = (1 - construction.framing_fraction, construction.framing_fraction)
    return side_by_side(
        (_to_ground(bay, ground_u_w_m2k), _to_ground(slabs_of(construction, True), ground_u_w_m2k)), shares
    )


def _to_ground(layers: tuple[Slab, ...], u_w_m2k: float | None) -> Wall:
    if u_w_m2k is None:
        return sealed((*layers, SOIL))
    inside = 1 / (HC_WALL + HR) + sum(x.resistance_m2k_w for x in layers) + SOIL.resistance_m2k_w
    return through((*layers, SOIL, Slab(max(1 / max(u_w_m2k, 1e-3) - inside, 0.01))))


@lru_cache(maxsize=256)
def pane(u_w_m2k: float) -> Wall:
    """Glass without the film inside."""
    return massless(max(1 / u_w_m2k - 1 / (HC_WALL + HR), 0.01))


@lru_cache(maxsize=8)
def between(kind: str) -> Wall:
    return half_of(FLOOR_BETWEEN if kind == "floor" else tuple(reversed(FLOOR_BETWEEN)))


@lru_cache(maxsize=256)
def both_sides(c: Construction | None, hc: float) -> tuple[Wall, Wall]:
    """A wall to an unheated space seen from the room, and seen from there."""
    wall = wall_of(c, 1 / (HC_WALL + HR)) if c is not None else massless(2.0)
    mirrored = wall_of(c, 0.0) if c is not None else massless(2.0 - 1 / (HC_WALL + HR))
    return wall, seen_from_beyond(mirrored, hc)


def seen_from_beyond(wall: Wall, hc: float) -> Wall:
    """A wall without films, turned round, with the room's film on its far side."""
    # [T q] inside = [A B; C D] beyond; X = D/B, Y = 1/B, X' = A/B. Add a film R on the room's side:
    r = 1 / (hc + HR)
    b = 1 / wall.across
    a, d = wall.outer * b, wall.inner * b
    c = (a * d - 1) / b
    a2, b2, d2 = a + r * c, b + r * d, d
    return Wall(a2 / b2, 1 / b2, d2 / b2)


ROOF_DECK = through((*DECK, Slab(R_OUT_SUMMER)))
UNKNOWN_WALL, UNKNOWN_DOOR, UNKNOWN_ROOF, UNKNOWN_FLOOR = massless(1.9), massless(0.4), massless(3.0), massless(2.0)
"""Where a construction is not chosen: its resistance, m2K/W; common practice."""
