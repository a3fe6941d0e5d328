"""Pieces of duct as they are first drawn: level, material, size before it is worked out, and the plenum face they leave."""

from __future__ import annotations

from typing import Literal, Protocol, TypeVar

from murvan.design.space.duct_levels import levels, on_ground
from murvan.design.space.duct_places import run_below
from murvan.design.space.duct_ways import first_joist_m
from murvan.kinds.registers import REGISTERS
from murvan.model.design import Face, Register
from murvan.model.errors import JobValueError
from murvan.model.house import Storey, Structure, floor_heights
from murvan.model.job import Job, Point
from murvan.units import INCH, R_IP

Side = Literal["supply", "return"]
TRUNK_M = (14 * INCH, 8 * INCH)
"""Width and height of a trunk before it is sized."""
ROUND_M = 6 * INCH
WRAP = 8 * R_IP


class _HasId(Protocol):
    @property
    def id(self) -> str: ...


T = TypeVar("T", bound=_HasId)


def named(items: tuple[T, ...], item: str, what: str) -> T:
    """A record by its id. Raises JobValueError where it has gone meanwhile."""
    found = next((x for x in items if x.id == item), None)
    if found is None:
        raise JobValueError(f"That {what} is gone meanwhile; look again.")
    return found


def storey_of(job: Job, register: Register) -> Storey:
    """The storey of a register's room."""
    storey = next(r.storey for r in job.rooms if r.id == register.room)
    return next(s for s in job.storeys if s.id == storey)


def level_m(job: Job, register: Register, storey: Storey) -> float:
    """Height of the ducts to a face over its storey's floor: under the floor, over the ceiling, or in the wall's top."""
    at = levels(job, storey)
    return at.under if REGISTERS[register.kind].fed == "below" else at.over


def usual_level_m(job: Job, unit: str, storey: Storey, side: str) -> float:
    """Height of the ducts of a unit on a storey, as most of its faces there want it."""
    kinds = [
        level_m(job, x, storey)
        for x in job.design.registers
        if x.indoor == unit and x.side == side and storey_of(job, x).id == storey.id
    ]
    if kinds:
        return max(set(kinds), key=kinds.count)
    at = levels(job, storey)
    return at.under if run_below(job, storey) else at.over


def towards_m(job: Job, home: Storey, to: Storey) -> float:
    """Height over its own floor at which ducts leave a storey for another one."""
    floor = floor_heights(job.storeys)
    at = levels(job, home)
    return at.over if floor[to.id] > floor[home.id] else at.under


def levels_m(job: Job, storey: Storey) -> dict[str, float]:
    """The heights over its floor at which ducts of a storey can lie, by name; each once, none under a slab."""
    at = levels(job, storey)
    hung = abs(at.over - at.soffit) < SAME_LEVEL_M
    found = {"under the joists": at.over} if hung else {"over the ceiling": at.over, "in a soffit": at.soffit}
    if not on_ground(job, storey):
        found["under the floor"] = at.under
    return found


SAME_LEVEL_M = 0.02


def made_of(storey: Storey) -> dict[str, object]:
    """Flex in attics, metal elsewhere; wrapped outside the shell."""
    place = storey.duct_place
    outside = place != "inside"
    return {"material": "flex" if place == "attic" else "galvanised", "insulation_r_m2k_w": WRAP if outside else 0.0}


def face_towards(frm: Point, to: Point) -> Face:
    """The face of a plenum that looks from one point to another."""
    dx, dy = to[0] - frm[0], to[1] - frm[1]
    if abs(dx) >= abs(dy):
        return "east" if dx >= 0 else "west"
    return "south" if dy >= 0 else "north"


def bays(storey: Storey, height_m: float) -> Structure | None:
    """The joists among which a duct at a height over its storey's floor lies; none where there are none."""
    s = storey.floor_structure if height_m <= 0 else storey.ceiling_structure
    return s if s is not None and s.kind in ("joists", "i_joists", "trusses") else None


def bay_middle(job: Job, storey: Storey, s: Structure, value: float, step: int = 0) -> float:
    """The middle of the bay nearest to a place across the joists, or one `step` bays on; counted from the storey's upper
    left corner."""
    first = first_joist_m(job, storey.id, s)
    return first + (round((value - first) / s.spacing_m - 0.5) + step + 0.5) * s.spacing_m
