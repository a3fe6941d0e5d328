"""The checks behind the punch list: each looks at the results and yields what it finds."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from math import pi, sqrt

import numpy as np

from murvan.design import limits
from murvan.design.arithmetic import Quantity
from murvan.design.circuit.jump import jump_for
from murvan.design.circuit.situations import LOADED
from murvan.design.ducts import duct_sizes
from murvan.design.ducts import runs as ducts
from murvan.design.ducts.airflow import fresh_air_wanted
from murvan.design.ducts.terminals import filter_velocity_m_s
from murvan.design.finding import Hit, rule
from murvan.design.house.geometry import opening_line, wall_length_m
from murvan.design.house.levels import roof_shape
from murvan.design.house.passages import ways
from murvan.design.limits import ROUNDED, exceeds
from murvan.design.punch.saying import WRAP, changer, chosen, named, q
from murvan.design.results import Results
from murvan.design.study.balancing import balanced
from murvan.model.design_edit import with_ventilator
from murvan.model.edit import replace
from murvan.model.job import Exhaust, Job, Opening, Room
from murvan.model.record import Ref
from murvan.model.routes import LaidRun
from murvan.physics import air, heat
from murvan.units import CFM, R_IP

R_SO_JACKET = {True: 1.35 * R_IP, False: 0.68 * R_IP}
"""Outside film of a foil and of a plain jacket, m2K/W; ASHRAE, from memory."""
ATTIC_SUMMER_RISE_K = 17.0
"""Vented attic over outdoors on the design day until its heat balance is worked out; common practice."""


# ---- the checks -----------------------------------------------------------------------------------------------


def _height_at(o: Opening, room: Room, flat_m: float) -> float:
    """Ceiling height over an opening, the lower of both its ends under a slope."""
    shape = roof_shape(room)
    if shape is None:
        return flat_m
    return min(shape.height_at(p) for p in opening_line(o, room))


@rule("opening-fits", 1, "fails")
def overlap(results: Results) -> Iterator[Hit]:
    """Opening larger than its wall.

    Basis: geometry
    Why: A wrong opening makes wrong loads.
    Remedy: Correct its size or place.
    """
    rooms = {x.id: (x, h) for x, h in zip(results.job.rooms, results.geometry.height_m, strict=True)}
    for o in results.job.openings:
        if o.kind == "skylight":
            continue
        room, flat = rooms[o.room]
        length = wall_length_m(room.outline_m, o.wall)
        if o.offset_m + o.width_m > length + 0.02:
            yield Hit(
                Ref("opening", o.id),
                f"{room.name} {o.tag}",
                "is {0} wide but only {1} of wall is left for it",
                (q("feet", o.width_m), q("feet", length - o.offset_m)),
                q("feet", o.width_m),
                q("feet", length - o.offset_m),
            )
        height = _height_at(o, room, flat)
        if o.sill_m + o.height_m > height + 0.02:
            yield Hit(
                Ref("opening", o.id),
                f"{room.name} {o.tag}",
                "reaches {0}, above the ceiling at {1}",
                (q("feet", o.sill_m + o.height_m), q("feet", height)),
                q("feet", o.sill_m + o.height_m),
                q("feet", height),
            )


@rule("room-unserved", 4, "fails", Quantity("power", 60))
def unserved(results: Results, worth_w: float) -> Iterator[Hit]:
    """Room without a register.

    Basis: rooms that need more than {0}; common practice
    Why: Air does not go through walls.
    Remedy: Give it a register and a run.

    Rooms that need more than `worth_w` watts and have no register.
    """
    if not results.job.design.registers:
        return
    served = np.any([s.airflow.served for s in results.systems.values()], axis=0)
    for i, room in enumerate(results.job.rooms):
        if not served[i] and max(results.loads.heating_w[i], results.loads.sensible_w[i]) > worth_w:
            yield Hit(
                Ref("room", room.id),
                room.name,
                "needs {0} of heat and has no register",
                (q("power", float(results.loads.heating_w[i])),),
                q("power", float(results.loads.heating_w[i])),
                q("power", 0),
            )


@rule("network-open", 5, "fails")
def network_open(results: Results) -> Iterator[Hit]:
    """Air circuit without an answer.

    Basis: network solve
    Why: Something in it is far out of the ordinary, so its flows can't be worked out.
    Remedy: Look for a tiny duct, a shut damper or an odd fitting, and put it right.
    """
    if results.network_open:
        yield Hit(Ref("unit", "network"), "The air circuit", "has no answer; no flow or pressure of it is shown")


@rule("blower-static", 5, "fails")
def blower_static(results: Results) -> Iterator[Hit]:
    """Static over the blower's limit.

    Basis: maker's blower table
    Why: The blower starves or howls.
    Remedy: Larger filter, larger return, larger ducts.
    """
    for s, x in chosen(results):
        if s.blower is None or results.network is None:
            continue
        limit = x.unit.blower.limit_pa
        for name, label in ((0, "clean"), (results.network.layout.at(LOADED), "loaded")):
            static = float(s.blower.external_static_pa[name])
            if exceeds(static, limit, ROUNDED):
                yield Hit(
                    Ref("indoor_unit", s.design.id),
                    named(results, s, "Blower"),
                    f"works against {{0}} with a {label} filter, limit {{1}}",
                    (q("pressure", static), q("pressure", limit)),
                    q("pressure", static),
                    q("pressure", limit),
                    severity="fails" if label == "clean" else "look",
                )
                break


@rule("blower-flow", 5, "look", Quantity("percent", limits.BALANCE_SHARE))
def blower_flow(results: Results, most: float) -> Iterator[Hit]:
    """Blower off its design flow.

    Basis: network solve, {0}
    Why: Capacity and every room's air move with it.
    Remedy: Change the tap, or the ducts.

    Blowers more than the share `most` off their design flow.
    """
    for s in results.systems.values():
        if s.blower is None:
            continue
        flow, want = float(s.blower.flow_m3_s[0]), s.airflow.total_m3_s
        if abs(flow / want - 1) > most:
            yield Hit(
                Ref("indoor_unit", s.design.id),
                named(results, s, "Blower"),
                "moves {0} where {1} is wanted",
                (q("flow", flow), q("flow", want)),
                q("flow", flow),
                q("flow", want),
            )


@rule("filter-fast", 3, "look", Quantity("velocity", limits.FACE_LIMIT["filter"]))
def filter_fast(results: Results, limit: float) -> Iterator[Hit]:
    """Filter face too fast.

    Basis: filter face velocity up to {0}, common practice
    Why: A fast filter is loud, leaks dust and starves the blower.
    Remedy: Fit a larger filter or a second grille.

    Filters whose face runs faster than `limit` m/s.
    """
    for s in results.systems.values():
        speed = filter_velocity_m_s(s.design.indoor.filter, s.airflow.total_m3_s)
        if s.unit is not None and s.design.indoor.kind == "ducted" and exceeds(speed, limit):
            yield Hit(
                Ref("indoor_unit", s.design.id),
                named(results, s, "Filter"),
                "face runs at {0}, limit {1}",
                (q("velocity", speed), q("velocity", limit)),
                q("velocity", speed),
                q("velocity", limit),
            )


@rule("register-fast", 4, "look")
def register_fast(results: Results) -> Iterator[Hit]:
    """Register too fast.

    Basis: face velocity limits, common practice
    Why: Fast faces are heard.
    Remedy: Larger face or a second register.
    """
    for t in results.terminals.values():
        if exceeds(t.face_velocity_m_s, t.limit_m_s):
            yield Hit(
                Ref("register", t.register.id),
                f"{t.register.tag}",
                "face runs at {0}, limit {1}",
                (q("velocity", t.face_velocity_m_s), q("velocity", t.limit_m_s)),
                q("velocity", t.face_velocity_m_s),
                q("velocity", t.limit_m_s),
            )


@rule("duct-fast", 5, "look")
def duct_fast(results: Results) -> Iterator[Hit]:
    """Duct too fast.

    Basis: velocity limits, common practice
    Why: Fast air is loud and eats the static.
    Remedy: Take the next size up.
    """
    for x in results.runs.values():
        if exceeds(x.velocity_m_s, x.velocity_max_m_s):

            def fix(job: Job, result: ducts.RunResult = x) -> Job:
                sized = duct_sizes.size_for(result.run, result.flow_m3_s, 1.0, job.design.air.velocity_profile)
                return replace(job, "runs", result.run.id, diameter_m=sized.diameter_m, width_m=sized.width_m)

            yield Hit(
                Ref("run", x.run.id),
                f"Run {x.run.tag}",
                "runs at {0}, limit {1}",
                (q("velocity", x.velocity_m_s), q("velocity", x.velocity_max_m_s)),
                q("velocity", x.velocity_m_s),
                q("velocity", x.velocity_max_m_s),
                fix,
                "Take the next size up",
            )


def _size_up(run: LaidRun) -> tuple[Callable[[Job], Job] | None, str]:
    """The next size as a fix, with its words; none where there is none."""
    larger = duct_sizes.next_size(run)
    return (changer("runs", run.id, **larger), "Take the next size up") if larger else (None, "")


@rule("duct-brisk", 5, "look", profiles=("quiet",))
def duct_brisk(results: Results) -> Iterator[Hit]:
    """Duct faster than quiet practice.

    Basis: recommended velocities, less a fifth; common practice
    Why: It is heard in a quiet room at night.
    Remedy: Take the next size up, or choose a usual practice on the card of Ducts.
    """
    for x in results.runs.values():
        if exceeds(x.velocity_m_s, x.velocity_limit_m_s) and not exceeds(x.velocity_m_s, x.velocity_max_m_s):
            yield Hit(
                Ref("run", x.run.id),
                f"Run {x.run.tag}",
                "runs at {0}, hushed up to {1}",
                (q("velocity", x.velocity_m_s), q("velocity", x.velocity_limit_m_s)),
                q("velocity", x.velocity_m_s),
                q("velocity", x.velocity_limit_m_s),
                *_size_up(x.run),
            )


@rule("duct-friction", 5, "look", Quantity("friction", 0.18 * 249.08891 / 30.48))
def duct_friction(results: Results, most: float) -> Iterator[Hit]:
    """Duct too tight.

    Basis: up to {0}, common practice
    Why: It takes the pressure that other runs need.
    Remedy: Take the next size up.

    Runs that lose more than `most` Pa/m.
    """
    for x in results.runs.values():
        if x.run.side != "fresh" and exceeds(x.friction_pa_m, most):
            yield Hit(
                Ref("run", x.run.id),
                f"Run {x.run.tag}",
                "loses {0}, workable is up to {1}",
                (q("friction", x.friction_pa_m), q("friction", most)),
                q("friction", x.friction_pa_m),
                q("friction", most),
                *_size_up(x.run),
            )


@rule("room-air", 5, "fails", Quantity("percent", limits.BALANCE_SHARE), Quantity("flow", limits.BALANCE_M3_S))
def room_air(results: Results, share: float, least: float) -> Iterator[Hit]:
    """Room short of air.

    Basis: network solve, {0} and {1}
    Why: The room will not hold its temperature.
    Remedy: Open its damper, close the others, or enlarge the run.

    Rooms short of their air by more than `share` of it and `least` m3/s.
    """
    predicted = results.predicted_m3_s
    if predicted is None:
        return
    for i, room in enumerate(results.job.rooms):
        want, got = float(results.room_m3_s[i]), predicted[room.id]
        if want > least and got < (1 - share) * want and want - got > least:
            yield Hit(
                Ref("room", room.id),
                room.name,
                "is predicted to get {0} of {1}",
                (q("flow", got), q("flow", want)),
                q("flow", got),
                q("flow", want),
                lambda job: balanced(results, job),
                "Set the dampers to balance",
            )


BATH = Quantity("flow", 50 * CFM)
"""A bath's fan on demand, ASHRAE 62.2."""


@rule("bath-exhaust", 4, "fails", BATH, Quantity("flow", 20 * CFM))
def bath_fan(results: Results, on_demand: float, all_day: float) -> Iterator[Hit]:
    """Bath without exhaust.

    Basis: ASHRAE 62.2, {0} on demand or {1} all day
    Why: Moisture rots the room and fails inspection.
    Remedy: Fit a fan with a hard pipe to the outside.

    Baths that exhaust less than `on_demand`, or `all_day` where the fan never stops, m3/s.
    """
    for room in results.job.rooms:
        if room.use == "bath":
            want = all_day if room.exhaust and room.exhaust.continuous else on_demand
            yield from _exhaust(room, want, "exhaust fan", "Add a {0} fan", on_demand)


@rule("toilet-air", 4, "look", BATH)
def toilet_air(results: Results, fan: float) -> Iterator[Hit]:
    """Toilet room without air.

    Basis: residential building code: a window that opens or a fan; the local code decides
    Why: Smells stay, and an inspector may want one or the other.
    Remedy: A window that opens, or a fan to the outside.
    """
    lit = {o.room for o in results.job.openings if o.kind in ("window", "skylight") and not o.inside}
    for room in results.job.rooms:
        if room.use == "powder" and room.exhaust is None and room.id not in lit:
            yield Hit(
                Ref("room", room.id),
                room.name,
                "has neither a window nor a fan",
                fix=changer("rooms", room.id, exhaust=Exhaust(flow_m3_s=fan)),
                fix_label="Add a {0} fan",
                fix_figures=(q("flow", fan),),
            )


@rule("kitchen-exhaust", 4, "look", Quantity("flow", 100 * CFM), Quantity("number", 5.0))
def kitchen_hood(results: Results, hood: float, changes_h: float) -> Iterator[Hit]:
    """Kitchen without exhaust.

    Basis: ASHRAE 62.2, {0} on demand or {1} changes of the kitchen's air an hour all day
    Why: Grease, moisture and fumes stay in the house.
    Remedy: Fit a hood that blows outside.

    Kitchens that exhaust less than `hood` m3/s, or `changes_h` changes an hour where the fan never stops.
    """
    for i, room in enumerate(results.job.rooms):
        if room.use == "kitchen":
            all_day = room.exhaust is not None and room.exhaust.continuous
            want = changes_h * results.geometry.volume_m3[i] / 3600 if all_day else hood
            yield from _exhaust(room, want, "hood to the outside", "Add a {0} hood", hood)


def _exhaust(room: Room, want: float, thing: str, remedy: str, fit: float) -> Iterator[Hit]:
    """A room that exhausts less than wanted; the remedy fits one of `fit`, m3/s."""
    flow = room.exhaust.flow_m3_s if room.exhaust else 0.0
    if flow >= 0.99 * want:
        return
    yield Hit(
        Ref("room", room.id),
        room.name,
        f"has no {thing}; {{0}} is wanted" if not room.exhaust else "exhausts {1}, {0} is wanted",
        (q("flow", want), q("flow", flow)),
        q("flow", flow),
        q("flow", want),
        changer("rooms", room.id, exhaust=Exhaust(flow_m3_s=fit)),
        remedy,
        (q("flow", fit),),
    )


@rule("whole-house-air", 4, "look")
def ventilation(results: Results) -> Iterator[Hit]:
    """Whole-house ventilation.

    Basis: ASHRAE 62.2
    Why: Stale air, failed inspection.
    Remedy: Plan a ventilator or raise its flow.
    """
    if not results.job.rooms:
        return
    want = fresh_air_wanted(results.job, results.geometry.total_area_m2)
    have = results.factors.air.fans.whole_house
    if have < 0.99 * want:
        text = "no fresh air is planned; {0} is wanted" if have == 0 else "brings {1} of fresh air, {0} is wanted"

        def fix(job: Job) -> Job:
            running = next((v for v in job.design.ventilators if v.kind != "none"), None)
            if running is not None:
                return replace(job, "ventilators", running.id, flow_m3_s=running.flow_m3_s + want - have)
            new = {"kind": "erv", "flow_m3_s": want - have, "sensible_recovery": 0.7, "latent_recovery": 0.5}
            return with_ventilator(job, **new)

        yield Hit(
            Ref("house", "ventilation"),
            "House:" if have == 0 else "The house",
            text,
            (q("flow", want), q("flow", have)),
            q("flow", have),
            q("flow", want),
            fix,
            "Bring it up to the standard",
            severity="fails" if have == 0 else "look",
        )


@rule("door-pressure", 4, "look", Quantity("pascal", limits.DOOR_LIMIT_PA, 0))
def door_pressure(results: Results, most: float) -> Iterator[Hit]:
    """Room pressure with the door shut.

    Basis: {0}, common practice
    Why: The room loses its supply and the house pulls in outdoor air.
    Remedy: Undercut, transfer grille or jump duct.

    Rooms over `most` Pa with the door shut.
    """
    if results.network is None:
        return
    pressure = results.network.room_pressure_pa
    over = [x for x in results.job.rooms if exceeds(abs(pressure[x.id]), most)]
    home = ways(results.job).home if over else {}
    for room in over:
        p, way = pressure[room.id], home.get(room.id)
        jump = jump_for(results.network, way, most) if way is not None and way.door else None
        yield Hit(
            Ref("room", room.id),
            room.name,
            "stands at {0} with the door shut, limit {1}",
            (q("pascal", p), q("pascal", most, 0)),
            q("pascal", p),
            q("pascal", most),
            changer("rooms", room.id, transfer=jump) if jump else None,
            "Fit a jump duct, {0} round" if jump else "",
            (q("size", sqrt(4 * jump.area_m2 / pi)),) if jump else (),
        )


@rule("duct-depth", 5, "fails")
def too_deep(results: Results) -> Iterator[Hit]:
    """Duct deeper than its space.

    Basis: geometry
    Why: It does not go in.
    Remedy: Flatter duct, two runs, or another way round.
    """
    for x in results.runs.values():
        run = x.run
        if run.clear is None or not run.clear[1]:
            continue
        what, limit = run.clear
        deep = (run.diameter_m if run.shape == "round" else run.height_m) or 0.0
        wrap = duct_sizes.jacket_m(run)
        if deep + wrap > limit and abs(run.rise_m) < 0.1:
            flat = duct_sizes.goes_through(run, limit)
            size = (flat.width_m or 0.0, flat.height_m or 0.0) if flat is not None else ()
            shape = ("shape", "diameter_m", "width_m", "height_m", "material")
            yield Hit(
                Ref("run", run.id),
                f"Run {run.tag}",
                f"needs {{0}} with its insulation where the {what} is {{1}}",
                (q("size1", deep + wrap), q("size1", limit)),
                q("size1", deep + wrap),
                q("size1", limit),
                changer("runs", run.id, **{k: getattr(flat, k) for k in shape}) if flat is not None else None,
                "Take a duct {0} by {1}, which goes through" if flat is not None else "",
                tuple(q("size", v) for v in size),
            )


@rule("duct-sweats", 5, "look", WRAP)
def sweats(results: Results, wrap: float) -> Iterator[Hit]:
    """Supply duct that sweats.

    Basis: jacket at the dew point
    Why: Water drips on the ceiling.
    Remedy: Wrap it to {0} with a sealed jacket.

    Cold runs outside the shell whose jacket falls below the dew point; `wrap` m2K/W mends it.
    """
    for x in results.runs.values():
        run = x.run
        if run.side != "supply" or run.lies_in == "inside":
            continue
        have = run.r_m2k_w
        ambient, dew = _surroundings(results, run.lies_in)
        need = heat.sweat_resistance(12.8, ambient, dew, R_SO_JACKET[True])
        if have < need:
            yield Hit(
                Ref("run", run.id),
                f"Run {run.tag}",
                "sweats: {0} where {1} keeps it dry",
                (q("r_value", have, 1), q("r_value", need, 1)),
                q("r_value", have),
                q("r_value", need),
                changer("runs", run.id, insulation_r_m2k_w=wrap),
                "Wrap it to {0}",
                (q("r_value", wrap, 0),),
            )


def _surroundings(r: Results, place: str) -> tuple[float, float]:
    """Air temperature and dew point around a duct on a damp design day."""
    c = r.conditions
    if place == "attic":
        return c.outdoor_summer.temperature_c + ATTIC_SUMMER_RISE_K, c.outdoor_summer.dew_point_c
    if place in ("crawl", "basement"):
        damp = air.from_relative_humidity(24.0, 0.8, c.pressure_pa)
        return 24.0, damp.dew_point_c
    return r.factors.spaces.summer(None), c.outdoor_summer.dew_point_c


@rule("attic-wrap", 5, "look", WRAP)
def attic_r(results: Results, want: float) -> Iterator[Hit]:
    """Thin wrap in the attic.

    Basis: energy code, ducts in attics; the local code decides
    Why: Heat lost, heat gained.
    Remedy: Wrap to {0}.

    Runs in the attic with less than `want` m2K/W round them.
    """
    for x in results.runs.values():
        run = x.run
        if run.lies_in == "attic" and run.side != "fresh" and run.r_m2k_w < want * 0.97:
            yield Hit(
                Ref("run", run.id),
                f"Run {run.tag}",
                "is wrapped {0} in the attic, the energy code wants {1}",
                (q("r_value", run.r_m2k_w, 1), q("r_value", want, 0)),
                q("r_value", run.r_m2k_w),
                q("r_value", want),
                changer("runs", run.id, insulation_r_m2k_w=want),
                "Wrap it to {0}",
                (q("r_value", want, 0),),
            )


@rule("return-missing", 5, "fails")
def return_missing(results: Results) -> Iterator[Hit]:
    """No return.

    Basis: common practice
    Why: What does not come back can't go out.
    Remedy: Lay a return.
    """
    for s in results.systems.values():
        sides = {x.side for x in s.design.runs if x.register_id}
        if "supply" in sides and "return" not in sides:
            yield Hit(Ref("house", "return"), named(results, s, "The house"), "has supply runs and no return")
