"""Checks of plenums: size, length, and where their take-offs sit."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

from murvan.design import limits
from murvan.design.arithmetic import Quantity
from murvan.design.ducts.plenums import PlenumDesign, TakeOff, sized_plenum
from murvan.design.finding import Hit, rule
from murvan.design.punch.saying import changer, q
from murvan.design.results import Results
from murvan.design.space.plenum_faces import FIRST_M, HANDLE_M, Trouble
from murvan.design.space.standing import plenum_span_m
from murvan.model.house import floor_heights
from murvan.model.job import Job
from murvan.model.record import Ref
from murvan.units import INCH


def _each(results: Results) -> Iterator[PlenumDesign]:
    for s in results.systems.values():
        yield from s.plenums


def _named(x: PlenumDesign) -> str:
    return f"{x.plenum.side.capitalize()} plenum"


def _sizing(results: Results, x: PlenumDesign) -> Callable[[Job], Job]:
    """Sizes a plenum to its air and its take-offs."""
    return lambda job: sized_plenum(job, x, results.laid)


@rule("plenum-small", 5, "look")
def plenum_small(results: Results) -> Iterator[Hit]:
    """Plenum too small.

    Basis: speed of its air, and the unit's own opening; common practice
    Why: Fast air passes the first take-offs by.
    Remedy: Wider plenum.
    """
    for x in _each(results):
        if x.plenum.side == "supply" and x.area_m2 < 0.95 * x.wanted_area_m2:
            have, want = q("small_area", x.area_m2), q("small_area", x.wanted_area_m2)
            words = (
                "is {0} where {1} keeps it calm"
                if x.by_air_m2 >= x.outlet_area_m2
                else "is {0}, the unit's own opening is {1}"
            )
            fix = (None, "") if len(x.plenum.held) == 3 else (_sizing(results, x), "Size the plenum")
            yield Hit(Ref("plenum", "supply"), _named(x), words, (have, want), have, want, *fix)


@rule("plenum-short", 5, "look")
def plenum_short(results: Results) -> Iterator[Hit]:
    """Plenum too short.

    Basis: 2.5 to 3 wheels of the blower, common practice
    Why: Air leaves the blower swirling; take-offs near it get too much or too little.
    Remedy: A longer plenum.
    """
    for s in results.systems.values():
        for x in s.plenums:
            least = x.wanted_depth_m[0]
            if x.plenum.side == "supply" and s.unit is not None and x.plenum.height_m < 0.9 * least:
                long, want = q("size", x.plenum.height_m), q("size", least)
                yield Hit(
                    Ref("plenum", "supply"), _named(x), "is {0} long, {1} keeps it calm", (long, want), long, want
                )


FITS = {
    ("edge", False): "{tags} is {{0}} from the edge of its face, at least {{1}}",
    ("edge", True): "{tags} sticks out over the edge of its face by {{0}}, {{1}} of metal belong beside it",
    ("overlap", False): "{tags} are {{0}} apart, at least {{1}} of metal between them",
    ("overlap", True): "{tags} lie over each other by {{0}}, {{1}} of metal belong between them",
}


@rule("takeoff-fit", 5, "fails")
def takeoff_fit(results: Results) -> Iterator[Hit]:
    """Take-offs that do not go on their face.

    Basis: size of the collars, half an inch of metal beside each; common practice
    Why: The holes meet, or cut the edge.
    Remedy: A wider plenum, a smaller duct, or another face.
    """
    for x in _each(results):
        for face, t in x.troubles:
            over = t.have_m < 0
            if (t.kind, over) in FITS:
                have, need = q("size1", abs(t.have_m)), q("size1", t.need_m)
                words = FITS[t.kind, over].format(tags=" and ".join(t.tags))
                yield Hit(
                    Ref("plenum", x.plenum.side),
                    f"{_named(x)}, {face} face",
                    words,
                    (have, need),
                    have,
                    need,
                    *_bigger(results, x),
                )
        for tag in x.blind:
            yield Hit(Ref("plenum", x.plenum.side), _named(x), f"{tag} leaves it where the unit is")


def _bigger(results: Results, x: PlenumDesign) -> tuple[Callable[[Job], Job] | None, str]:
    """Sizing the plenum, where no hole and no side is held."""
    held = x.plenum.held or any(t.run.face_along_m is not None for t in x.take_offs)
    return (None, "") if held else (_sizing(results, x), "Size the plenum to its take-offs")


@rule("takeoff-end", 5, "look", Quantity("size", limits.CUSHION_M), Quantity("size", 12 * INCH))
def takeoff_end(results: Results, least: float, _most: float) -> Iterator[Hit]:
    """Take-off too near the plenum's end.

    Basis: cushion of {0} to {1}, common practice
    Why: The last take-off then robs the others.
    Remedy: Move it back from the end.

    Take-offs nearer than `least` m to the plenum's end.
    """
    for x, take_off, t in _near(results, "end", least):
        hit = _sits(results, x, take_off, t, "sits {0} from the plenum's end, at least {1}", q("size", least))
        typed = take_off.run.face_from_end_m is not None
        move = changer("joints", take_off.run.start, face_from_end_m=least)
        yield replace(hit, fix=move, fix_label="Move it down") if typed else hit


@rule("takeoff-outlet", 5, "look", Quantity("size", FIRST_M))
def takeoff_outlet(results: Results, least: float) -> Iterator[Hit]:
    """Take-off too near the outlet.

    Basis: {0} from the unit, common practice
    Why: The unit's air shoots into it before it has calmed down; the others get less.
    Remedy: Farther along the plenum, or a longer plenum.
    """
    for x, take_off, t in _near(results, "outlet", least):
        if x.plenum.side == "supply":
            yield _sits(results, x, take_off, t, "sits {0} from the unit's outlet, at least {1}", q("size", least))


@rule("takeoff-handle", 5, "look", Quantity("size", HANDLE_M))
def takeoff_handle(results: Results, least: float) -> Iterator[Hit]:
    """No room for a damper's handle.

    Basis: {0} beside a collar with a damper, common practice
    Why: The damper can't be set once the next duct is on.
    Remedy: Collars farther apart, or the damper farther along its run.
    """
    for x, take_off, t in _near(results, "handle", least):
        words = f"leaves {{0}} to {t.tags[1]}, a damper's handle wants {{1}}"
        yield _sits(results, x, take_off, t, words, q("size1", least))


def _sits(results: Results, x: PlenumDesign, take_off: TakeOff, t: Trouble, words: str, need: Quantity) -> Hit:
    """A take-off too near something; sizing the plenum mends it."""
    have = q("size1", t.have_m)
    run = take_off.run
    return Hit(Ref("run", run.id), f"Take-off {run.tag}", words, (have, need), have, need, *_bigger(results, x))


def _near(results: Results, kind: str, least: float) -> Iterator[tuple[PlenumDesign, TakeOff, Trouble]]:
    """Troubles of a kind nearer than `least` m, with the take-off they are about."""
    for x in _each(results):
        by_tag = {t.run.tag: t for t in x.take_offs}
        for _, t in x.troubles:
            if t.kind == kind and t.have_m < 0.99 * least:
                yield x, by_tag[t.tags[0]], t


@rule("plenum-reach", 5, "fails", Quantity("size", 0.03))
def plenum_reach(results: Results, near_m: float) -> Iterator[Hit]:
    """Duct that starts beyond its plenum.

    Basis: geometry, as the plenum stands on the unit; within {0}
    Why: Nothing leads from one to the other.
    Remedy: A plenum up to the level of its ducts, or down to it.
    """
    job = results.job
    floor, joints = floor_heights(job.storeys), {j.id: j for j in job.design.joints}
    units = {u.id: u for u in job.design.indoor_units}
    for x in _each(results):
        unit = units[x.plenum.indoor]
        if unit.storey is None:
            continue
        low, high = plenum_span_m(job, unit, x.plenum)
        for t in x.take_offs:
            j = joints[t.run.start]
            level = floor[j.storey] + j.height_m - floor[unit.storey]
            off = max(low - level, level - high)
            if off > near_m:
                have, most = q("length", off), q("length", 0.0)
                words = f"{t.run.tag} starts {{0}} {'over' if level > high else 'under'} it"
                fix = (None, "") if "height_m" in x.plenum.held else (_sizing(results, x), "Size the plenum")
                yield Hit(Ref("plenum", x.plenum.side), _named(x), words, (have,), have, most, *fix)
                break
