"""Checks on how ducts are put together: ends, sizes that follow each other, flatness, units without ducts."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from murvan.design.ducts.runs import RunResult
from murvan.design.finding import Hit
from murvan.design.punch.saying import changer, chosen, named, q
from murvan.design.results import Results
from murvan.design.space.duct_places import PLACE_WORDS, UNDER, beneath, lie_in
from murvan.design.study.balancing import balanced
from murvan.kinds.duct_materials import DUCT_MATERIALS
from murvan.kinds.registers import REGISTERS
from murvan.model.edit import replace
from murvan.model.house import Storey, floor_heights
from murvan.model.job import Job
from murvan.model.record import Ref

SIDES = {"supply": "supply register", "return": "return grille"}


def unducted(results: Results) -> Iterator[Hit]:
    """Ducted units that are chosen and from which no run goes to a register."""
    for s, _ in chosen(results):
        own = s.design.indoor
        if own.kind == "ducted" and not any(x.side == "supply" and x.register_id for x in s.design.runs):
            yield Hit(Ref("indoor_unit", own.id), named(results, s, "The unit"), "has no supply run to a register")


def material(results: Results) -> Iterator[Hit]:
    """Runs of a material that may not lie there, carry that air, be so long, or be had in that shape."""
    for x in results.runs.values():
        run, m = x.run, x.run.made_of
        hit = partial(Hit, Ref("run", run.id), f"Run {run.tag}", why=m.why_not)
        other = DUCT_MATERIALS[m.instead]
        remake = partial(
            hit, fix=changer("runs", run.id, material=other.id), fix_label=f"Make it {other.name.lower()}"
        )
        if run.shape not in m.shapes:
            shapes = " or ".join(m.shapes)
            yield hit(
                f"is {run.shape}; {m.name.lower()} is to be had {shapes}", why="Nobody sells it, nobody makes it."
            )
        elif run.lies_in in m.not_in:
            yield remake(f"is {m.name.lower()} {PLACE_WORDS[run.lies_in]}")
        elif run.side in m.not_for:
            yield remake(f"is {m.name.lower()} and carries {run.side} air")
        elif m.longest_m is not None and x.length_m > m.longest_m * (1 + CLOSE):
            long, most = q("length", x.length_m), q("length", m.longest_m)
            words = f"is {{0}} of {m.name.lower()}, {{1}} at most"
            yield hit(words, (long, most), measured=long, limit=most, severity="look")


CLOSE = 0.005
"""What a length may be over, which is no more than it is drawn by."""


def dead_end(results: Results) -> Iterator[Hit]:
    """Runs that end in no register and from which none goes on."""
    for s in results.systems.values():
        goes_on = {x.parent for x in s.design.runs}
        for x in s.design.runs:
            if x.side in SIDES and not x.register_id and x.id not in goes_on:
                yield Hit(
                    Ref("run", x.id), f"Run {x.tag}", f"ends without a {SIDES[x.side]}, and no run goes on from it"
                )


def wider_than_its_trunk(results: Results) -> Iterator[Hit]:
    """Runs of more area than the one they come off."""
    for x in results.runs.values():
        if x.run.parent is None or x.run.side == "fresh":
            continue
        trunk = results.runs[x.run.parent]
        if x.area_m2 > trunk.area_m2 * 1.001:
            yield Hit(
                Ref("run", x.run.id),
                f"Run {x.run.tag}",
                f"is larger than {trunk.run.tag} that feeds it: {{0}} against {{1}}"
                if x.run.side == "supply"
                else f"is larger than {trunk.run.tag} that it feeds: {{0}} against {{1}}",
                (q("small_area", x.area_m2), q("small_area", trunk.area_m2)),
                q("small_area", x.area_m2),
                q("small_area", trunk.area_m2),
            )


def too_flat(results: Results, most: float) -> Iterator[Hit]:
    """Rectangular and oval runs more than `most` times as wide as they are high."""
    for x in results.runs.values():
        sides = _sides(x)
        if sides is None or sides[1] <= most * sides[0] * 1.001:
            continue
        low, wide = sides
        yield Hit(
            Ref("run", x.run.id),
            f"Run {x.run.tag}",
            f"is {{0}} by {{1}}, {wide / low:.1f} to 1",
            (q("size", wide), q("size", low)),
            q("decimal", wide / low),
            q("decimal", most),
        )


def _sides(x: RunResult) -> tuple[float, float] | None:
    run = x.run
    if run.shape == "round" or not run.width_m or not run.height_m:
        return None
    return min(run.width_m, run.height_m), max(run.width_m, run.height_m)


def place_said(results: Results) -> Iterator[Hit]:
    """Storeys whose ducts are said to run where there is no such place, or lie elsewhere for the most part."""
    job = results.job
    for s in job.storeys:
        said, under = s.duct_place, beneath(job, s.id)
        at = Ref("storey", s.id)
        if said in UNDER and said != under and not any(r.storey == s.id and r.floor == said for r in job.rooms):
            words = {"slab": "a slab", "crawl": "a crawl space", "basement": "a basement", "rooms": "the rooms below"}
            yield Hit(
                at,
                f"Ducts of {s.name}",
                f"are said to run {PLACE_WORDS[said]}, and {s.name} stands on {words[under]}",
                fix=_says(s, "inside"),
                fix_label="They run inside the shell",
            )
            continue
        lies = lie_in(s.id, results.laid)
        if lies is not None and lies != said and (lies in UNDER or said in UNDER or "attic" in (lies, said)):
            yield Hit(
                at,
                f"Ducts of {s.name}",
                f"lie {PLACE_WORDS[lies]} for the most part, and are said to run {PLACE_WORDS[said]}",
                fix=_says(s, lies),
                fix_label=f"They run {PLACE_WORDS[lies]}",
            )


def _says(storey: Storey, place: str) -> Callable[[Job], Job]:
    return lambda job: replace(job, "storeys", storey.id, duct_place=place)


def face_and_run(results: Results) -> Iterator[Hit]:
    """Registers in a floor whose run comes from above, and in a ceiling whose run comes from below."""
    faces = {x.id: x for x in results.job.design.registers}
    storeys = {s.id: s for s in results.job.storeys}
    rooms = {r.id: r for r in results.job.rooms}
    for run in results.laid:
        face = faces.get(run.register_id or "")
        if face is None or REGISTERS[face.kind].fed == "wall":
            continue
        storey = storeys[rooms[face.room].storey]
        below = run.level_m + _floor_of(results, run.storey) <= _floor_of(results, storey.id) + storey.height_m / 2
        kind = REGISTERS[face.kind]
        if below != (kind.fed == "below"):
            yield Hit(
                Ref("register", face.id),
                face.tag,
                f"is a {kind.name.lower()} register, and its run {run.tag} ends {'under the floor' if below else 'over the ceiling'}",
            )


def _floor_of(results: Results, storey: str) -> float:
    return floor_heights(results.job.storeys)[storey]


def room_over(results: Results, share: float, least: float) -> Iterator[Hit]:
    """Rooms that get more than their air by `share` of it and `least` m3/s."""
    predicted = results.predicted_m3_s
    if predicted is None:
        return
    for i, room in enumerate(results.job.rooms):
        want, got = float(results.room_m3_s[i]), predicted[room.id]
        if want > least and got - want > max(share * want, least):
            yield Hit(
                Ref("room", room.id),
                room.name,
                "is predicted to get {0}, more than its {1}",
                (q("flow", got), q("flow", want)),
                q("flow", got),
                q("flow", want),
                lambda job: balanced(results, job),
                "Set the dampers to balance",
            )
