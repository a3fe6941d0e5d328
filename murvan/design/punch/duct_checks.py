"""Checks on how ducts are put together: ends, sizes that follow each other, flatness, units without ducts."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from murvan.design import limits
from murvan.design.arithmetic import Quantity
from murvan.design.ducts.runs import RunResult
from murvan.design.finding import Hit, rule
from murvan.design.limits import ROUNDED, exceeds
from murvan.design.punch.saying import changer, chosen, named, q
from murvan.design.results import Results
from murvan.design.space.duct_places import PLACE_WORDS, UNDER, beneath, lie_in
from murvan.design.study.balancing import balanced
from murvan.kinds.duct_materials import DUCT_MATERIALS
from murvan.kinds.fittings import FITTINGS
from murvan.kinds.registers import REGISTERS
from murvan.model.edit import changed, replace
from murvan.model.house import Storey, floor_heights
from murvan.model.job import Job
from murvan.model.record import Ref
from murvan.model.routes import LaidRun

SIDES = {"supply": "supply register", "return": "return grille"}


@rule("unit-unducted", 5, "fails")
def unducted(results: Results) -> Iterator[Hit]:
    """Ducted unit without ducts.

    Basis: geometry
    Why: No room gets any of what the unit makes.
    Remedy: Lay registers (Air, L), then ducts (Ducts, L).
    """
    for s, _ in chosen(results):
        own = s.design.indoor
        if own.kind == "ducted" and not any(x.side == "supply" and x.register_id for x in s.design.runs):
            yield Hit(Ref("indoor_unit", own.id), named(results, s, "The unit"), "has no supply run to a register")


@rule("flex-turn", 5, "look")
def flex_turn(results: Results) -> Iterator[Hit]:
    """Turn made in flex at a boot.

    Basis: fitting coefficients, ASHRAE Fundamentals, duct design
    Why: Flex folds at the boot and chokes the run.
    Remedy: Hard elbow, straight boot.
    """
    for x in results.runs.values():
        if any(f.kind == "boot_flex_turn" for f in x.run.pieces):
            hard = FITTINGS["elbow"].loss_at(1.0) + FITTINGS["boot"].loss_at()
            extra = (FITTINGS["boot_flex_turn"].loss_at() - hard) * x.velocity_pa

            def fix(job: Job, run: LaidRun = x.run) -> Job:
                pieces = []
                for f in run.pieces:
                    if f.kind == "boot_flex_turn":
                        pieces += [changed(f, kind="elbow", ratio=1.0), changed(f, kind="boot", ratio=1.0)]
                    else:
                        pieces.append(f)
                return replace(job, "runs", run.id, fittings=tuple(pieces))

            yield Hit(
                Ref("run", x.run.id),
                f"Run {x.run.tag}",
                "turns in flex at the boot; a hard elbow saves {0}",
                (q("pressure3", extra),),
                q("pressure3", extra),
                q("pressure3", 0),
                fix,
                "Fit a hard elbow",
            )


@rule("duct-material", 5, "fails")
def material(results: Results) -> Iterator[Hit]:
    """Material where it may not be.

    Basis: by the material, common practice; the local code decides
    Why: It is not made for the place, the air or the shape.
    Remedy: Another material, or another way for the run.
    """
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
        elif m.longest_m is not None and exceeds(x.length_m, m.longest_m):
            long, most = q("length", x.length_m), q("length", m.longest_m)
            words = f"is {{0}} of {m.name.lower()}, {{1}} at most"
            yield hit(words, (long, most), measured=long, limit=most, severity="look")


@rule("duct-dead-end", 5, "fails")
def dead_end(results: Results) -> Iterator[Hit]:
    """Run that ends in nothing.

    Basis: geometry
    Why: It blows into its own cap: metal without use.
    Remedy: Give it a register, or take the run away.
    """
    for s in results.systems.values():
        goes_on = {x.parent for x in s.design.runs}
        for x in s.design.runs:
            if x.side in SIDES and not x.register_id and x.id not in goes_on:
                yield Hit(
                    Ref("run", x.id), f"Run {x.tag}", f"ends without a {SIDES[x.side]}, and no run goes on from it"
                )


@rule("duct-wider", 5, "look")
def wider_than_its_trunk(results: Results) -> Iterator[Hit]:
    """Branch larger than its trunk.

    Basis: common practice
    Why: What the trunk can't carry the branch does not get.
    Remedy: Smaller branch, or a larger trunk.
    """
    for x in results.runs.values():
        if x.run.parent is None or x.run.side == "fresh":
            continue
        trunk = results.runs[x.run.parent]
        if exceeds(x.area_m2, trunk.area_m2, ROUNDED):
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


@rule("duct-flat", 5, "look", Quantity("decimal", limits.FLATTEST, 0))
def too_flat(results: Results, most: float) -> Iterator[Hit]:
    """Duct too flat.

    Basis: at most {0} to 1, common practice
    Why: More metal and more friction for the same air; wide sheets drum.
    Remedy: Less wide and higher, or two runs side by side.

    Rectangular and oval runs more than `most` times as wide as they are high.
    """
    for x in results.runs.values():
        sides = _sides(x)
        if sides is None or not exceeds(sides[1], most * sides[0], ROUNDED):
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


@rule("duct-place", 5, "look")
def place_said(results: Results) -> Iterator[Hit]:
    """Ducts elsewhere than said.

    Basis: geometry
    Why: Heat that ducts lose, their insulation and where registers go are worked out for the place that is said.
    Remedy: Say where they run (Ducts, the unit's card), or lay them there (L).
    """
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


@rule("register-run", 5, "fails")
def face_and_run(results: Results) -> Iterator[Hit]:
    """Register on the other side of its run.

    Basis: geometry
    Why: A boot in the floor does not meet a duct over the ceiling.
    Remedy: Another kind of register, or the run on the register's side.
    """
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


@rule("room-over", 5, "look", Quantity("percent", limits.LOOK_SHARE), Quantity("flow", limits.BALANCE_M3_S))
def room_over(results: Results, share: float, least: float) -> Iterator[Hit]:
    """Room with too much air.

    Basis: network solve, {0} and {1}
    Why: It overshoots and is noisy, and other rooms go short.
    Remedy: Close its damper a little.

    Rooms that get more than their air by `share` of it and `least` m3/s.
    """
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
