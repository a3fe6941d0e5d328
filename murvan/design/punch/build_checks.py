"""Checks of building it: whether what goes beyond a hatch goes through."""

from __future__ import annotations

from collections.abc import Iterator

from murvan.design.arithmetic import Quantity
from murvan.design.finding import Hit, rule
from murvan.design.parts.cut_runs import STRAIGHT
from murvan.design.punch.saying import q
from murvan.design.results import Results
from murvan.design.space.standing import place_here
from murvan.model.design import IndoorUnit
from murvan.model.house import KeepClear
from murvan.model.record import Ref
from murvan.units import INCH

BEYOND = ("attic", "crawl")
"""Places that one gets to by a hatch."""
SLACK_M = 3 * INCH
"""What a fitter gains on a leg with two elbows by cutting their throats shorter; common practice."""
Body = tuple[Ref, str, tuple[float, float, float]]


@rule("carry", 6, "look")
def carry(results: Results) -> Iterator[Hit]:
    """Does not go through the hatch.

    Basis: sizes of the piece and of the hatch as measured
    Why: It stands in the hall on the day.
    Remedy: Carry it in halves and lock it there, shorter joints, or a larger hatch.
    """
    hatch = _largest(results)
    if hatch is None or hatch.open_wide_m is None or hatch.open_long_m is None:
        return
    small, large = sorted((hatch.open_wide_m, hatch.open_long_m))
    seen: set[tuple[str, tuple[float, ...]]] = set()
    for at, name, body in _bodies(results):
        a, b, _ = sorted(body)
        key = (name, tuple(round(x, 3) for x in body))
        if (a > small or b > large) and key not in seen:
            seen.add(key)
            words = f"is {{0}} × {{1}} where it is least, {hatch.name} opens {{2}} × {{3}}"
            have, need = q("size", b), q("size", large)
            yield Hit(at, name, words, (q("size", a), have, q("size", small), need), have, need)


@rule("fitting-room", 6, "look", Quantity("size", SLACK_M))
def fitting_room(results: Results, slack_m: float) -> Iterator[Hit]:
    """Fittings have no room.

    Basis: what each fitting takes of the legs it stands on, against how long they are; {0} is gained by shorter throats
    Why: The piece between them would be shorter than nothing: on the day another fitting is looked for.
    Remedy: A boot with a collar in its side, a tap in the end of the trunk, or a register a little farther off.
    """
    laid = {x.id: x for x in results.laid}
    for s in results.systems.values():
        for i, lacks in s.cuts.lacks_m:
            if lacks > slack_m:
                want = q("size", lacks)
                yield Hit(Ref("run", i), laid[i].tag, "wants {0} more than its legs have", (want,), want)


def _largest(r: Results) -> KeepClear | None:
    """The hatch that lets most through."""
    own = [k for k in r.job.keep_clear if k.reason == "hatch" and k.open_wide_m and k.open_long_m]
    return max(own, key=lambda k: (k.open_wide_m or 0.0) * (k.open_long_m or 0.0), default=None)


def _bodies(r: Results) -> Iterator[Body]:
    """What is carried whole beyond a hatch: units, plenums, joints of duct, by width, depth and length."""
    for s in r.systems.values():
        if s.unit is not None and _beyond(r, s.design.indoor):
            unit = s.unit
            yield Ref("indoor_unit", s.design.id), unit.name, (unit.width_m, unit.depth_m, unit.height_m)
            for box in s.design.plenums:
                body = (box.width_m, box.depth_m, box.height_m)
                yield Ref("plenum", box.side), f"{box.side.capitalize()} plenum", body
    laid = {x.id: x for x in r.laid}
    for p in r.cuts.pieces:
        run = laid.get(p.run or "")
        if run is not None and run.lies_in in BEYOND and p.form == STRAIGHT and p.gauge is not None:
            wide, high = (p.size[0], p.size[0]) if len(p.size) == 1 else (p.size[0], p.size[1])
            yield Ref("run", run.id), f"Duct of {run.tag}", (wide, high, p.length_m)


def _beyond(r: Results, indoor: IndoorUnit) -> bool:
    place = place_here(r.job, indoor.storey, indoor.position_m)
    return place is not None and place.kind in BEYOND
