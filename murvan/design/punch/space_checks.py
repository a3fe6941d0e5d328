"""Judgements of where ducts lie in the house: in each other, through units, where none goes in, in bays, through rooms, under ceilings that are walked under, in garages."""

from __future__ import annotations

from collections.abc import Iterator

import shapely
from shapely.geometry import box

from murvan.design.arithmetic import Quantity
from murvan.design.ducts.boxing import frame_m, outside_m
from murvan.design.finding import Hit, rule
from murvan.design.house.geometry import shape_of
from murvan.design.house.open_rooms import LIVED_IN
from murvan.design.punch.saying import q
from murvan.design.results import Results
from murvan.design.space.clashes import TOUCH_M, TOUCH_M2, clashes, legs_of, pierced
from murvan.design.space.duct_ways import bay_of
from murvan.design.space.obstacles import called, prisms, struck
from murvan.design.space.solids import blocks
from murvan.model.job import Room
from murvan.model.record import Ref
from murvan.model.routes import CHASE, SOFFIT, LaidRun
from murvan.units import INCH

JOIST_M = 1.5 * INCH
"""Of two-by lumber."""
DRYWALL_M = 1 * INCH
"""Frame and board under a soffit; common practice."""


@rule("duct-clash", 5, "fails")
def in_each_other(results: Results) -> Iterator[Hit]:
    """Two ducts in one place.

    Basis: geometry, as the ducts lie in space
    Why: Only one of them goes in.
    Remedy: Another level or way for one of them, or lay them anew (L).
    """
    job = results.job
    for x in clashes(legs_of(results.laid, job.design.joints, job.storeys)):
        yield Hit(Ref("run", x.other.id), f"Run {x.other.tag}", f"and run {x.one.tag} want the same place")


@rule("duct-unit", 5, "fails")
def through_unit(results: Results) -> Iterator[Hit]:
    """Duct through a unit or a plenum.

    Basis: geometry, as the ducts lie in space
    Why: It does not go in.
    Remedy: Another level or way for it, another face of its plenum, or the unit moved or turned.
    """
    job = results.job
    for x in pierced(legs_of(results.laid, job.design.joints, job.storeys), blocks(job)):
        yield Hit(Ref("run", x.run.id), f"Run {x.run.tag}", f"goes through {x.block.name}")


@rule("duct-beam", 5, "fails")
def through_obstacle(results: Results) -> Iterator[Hit]:
    """Duct through a beam, a post or a pipe.

    Basis: the survey
    Why: What carries the house is not cut; a pipe is moved by a plumber, if at all.
    Remedy: Beneath it, round it, or lay the ducts anew (L).
    """
    job = results.job
    for x in struck(legs_of(results.laid, job.design.joints, job.storeys), prisms(job)):
        yield Hit(Ref("run", x.run.id), f"Run {x.run.tag}", f"goes through {called(x.obstacle)}")


@rule("unit-beam", 3, "fails")
def unit_in_obstacle(results: Results) -> Iterator[Hit]:
    """Unit where something else stands.

    Basis: the survey
    Why: A beam, post or pipe is there already.
    Remedy: Move or turn the unit (U).
    """
    solids = tuple(prisms(results.job))
    for b in blocks(results.job) if solids else ():
        on_plan = box(*b.low[:2], *b.high[:2])
        for x in solids:
            meets = on_plan.intersection(x.shape).area > TOUCH_M2
            if meets and min(b.high[2], x.high_m) - max(b.low[2], x.low_m) > TOUCH_M:
                yield Hit(b.of, b.name, f"stands in {called(x.obstacle)}")


@rule("duct-buried", 5, "fails")
def buried(results: Results) -> Iterator[Hit]:
    """Duct where there is no room for any.

    Basis: geometry
    Why: A slab, the soil under it and a roof that is the ceiling too hold no duct.
    Remedy: Another way round: over a ceiling, in a soffit or a chase, or in a form that is cast in by a design of its own.
    """
    for run in results.laid:
        if run.clear is not None and not run.clear[1]:
            yield Hit(Ref("run", run.id), f"Run {run.tag}", f"lies in {run.clear[0]}")


@rule("bay-narrow", 5, "look")
def in_a_bay(results: Results) -> Iterator[Hit]:
    """Duct wider than the bay it lies in.

    Basis: the survey, joists of an inch and a half
    Why: It does not go in without cutting what carries the floor.
    Remedy: A deeper and narrower duct, two of them in two bays, or one in a soffit.
    """
    for r in results.laid:
        s = bay_of(results.job, r)
        wide = outside_m(r)[0]
        if s is not None and len(set(r.path_m)) > 1 and wide > s.spacing_m - JOIST_M:
            clear = q("size1", s.spacing_m - JOIST_M)
            words = "is {0} wide with its insulation where the bay is {1}"
            yield Hit(Ref("run", r.id), f"Run {r.tag}", words, (q("size1", wide), clear), q("size1", wide), clear)


@rule("riser-room", 5, "look", Quantity("length", 0.5))
def rises_through_room(results: Results, near_m: float) -> Iterator[Hit]:
    """Riser in the middle of a room.

    Basis: {0} from a wall, common practice
    Why: Its chase stands in the way of whoever lives there.
    Remedy: Up at a wall, in a corner or through a closet.
    """
    for r in (r for r in results.laid if r.framed == CHASE):
        room = _room_of(results, r)
        if room is not None and room.use in LIVED_IN:
            off = float(shape_of(room.outline_m).exterior.distance(shapely.Point(r.path_m[0])))
            if off > near_m:
                words = f"goes up through {room.name}, {{0}} from its walls"
                have, most = q("length", off), q("length", near_m)
                yield Hit(Ref("run", r.id), f"Run {r.tag}", words, (have,), have, most)


@rule("soffit-low", 5, "look", Quantity("feet", 80 * INCH))
def low_soffit(results: Results, least_m: float) -> Iterator[Hit]:
    """Soffit that heads meet.

    Basis: {0} under it, common practice; the local code decides
    Why: People walk under it.
    Remedy: Flatter duct, another room, or the duct over the ceiling.
    """
    job = results.job
    tall = {s.id: s.height_m for s in job.storeys}
    drawn = ((p.name, Ref("place", p.id), tall[p.storey] - p.clear_m) for p in job.places if p.kind == "soffit")
    framed = (
        (f"Run {r.tag}", Ref("run", r.id), tall[r.storey] - frame_m(r)[1]) for r in results.laid if r.framed == SOFFIT
    )
    for name, at, under in (*drawn, *framed):
        left = under - DRYWALL_M
        if left < least_m:
            have, least = q("feet", left), q("feet", least_m)
            yield Hit(at, name, "leaves {0} to walk under, at least {1}", (have, least), have, least)


@rule("duct-garage", 5, "look")
def in_garage(results: Results) -> Iterator[Hit]:
    """Duct in a garage.

    Basis: the separation of garage and house; the local code decides
    Why: Fumes and fire must not get into the house by it.
    Remedy: Steel of 26 gauge or heavier without any opening there, sealed where it goes through; or another way round.
    """
    tags = [r for r in results.laid if r.lies_in == "garage"]
    if tags:
        names = ", ".join(r.tag for r in tags[:4]) + (" and more" if len(tags) > 4 else "")
        yield Hit(Ref("run", tags[0].id), "Garage", f"{names} {'lie' if len(tags) > 1 else 'lies'} in it")


def _room_of(results: Results, r: LaidRun) -> Room | None:
    """The room through which a run rises."""
    at = shapely.Point(r.path_m[0])
    here = (x for x in results.job.rooms if shape_of(x.outline_m).buffer(1e-6).contains(at))
    return next((x for x in here if x.storey == r.storey), None)
