"""Checks on how the air gets along: friction rate, take-offs, throw, returns by storey, zones, leaks, what fans draw out."""

from __future__ import annotations

from collections.abc import Iterator
from math import hypot

from shapely.geometry import LineString, Polygon

from murvan.design.arithmetic import Quantity
from murvan.design.ducts.boxing import boxed
from murvan.design.finding import Hit, rule
from murvan.design.house.leakage import flow50_m3_s
from murvan.design.limits import ROUNDED, exceeds
from murvan.design.punch.saying import chosen, named, q
from murvan.design.results import Results
from murvan.design.space.duct_ways import blocked, joists
from murvan.kinds.registers import REGISTERS
from murvan.model.house import Structure
from murvan.model.job import Point
from murvan.model.record import Ref
from murvan.model.routes import LaidRun
from murvan.physics.heat import LEAK_EXPONENT
from murvan.units import CFM, FOOT

ACROSS_M = 0.6
"""A stretch across joists shorter than this goes between two of them."""


BAND_PA_M = (0.06 * 249.08891 / 30.48, 0.18 * 249.08891 / 30.48)
"""0.06 to 0.18 in wc/100 ft; common practice."""


@rule("friction-band", 5, "look", Quantity("friction", BAND_PA_M[0]), Quantity("friction", BAND_PA_M[1]))
def friction_band(results: Results, low: float, high: float) -> Iterator[Hit]:
    """Friction rate out of band.

    Basis: {0} to {1}, common practice
    Why: Below, the longest path has little pressure and wants large ducts; above, a lower tap or smaller ducts
        would do.
    Remedy: Another tap, larger filter or grille, a shorter longest path; or a lower tap.
    """
    for s in results.systems.values():
        d = s.ducts
        if (
            s.unit is None
            or not d.longest_supply
            or not d.longest_return
            or 0.97 * low <= d.friction_rate_pa_m <= 1.03 * high
        ):
            continue
        words = (
            "leaves {0} for its longest path, workable is {1} and more"
            if d.friction_rate_pa_m < low
            else "leaves {0} for its longest path, up to {1} is used well"
        )
        limit = low if d.friction_rate_pa_m < low else high
        rate, edge = q("friction", d.friction_rate_pa_m), q("friction", limit)
        yield Hit(Ref("indoor_unit", s.design.id), named(results, s, "The blower"), words, (rate, edge), rate, edge)


@rule("throw-short", 4, "look")
def throw_short(results: Results) -> Iterator[Hit]:
    """Short throw.

    Basis: a share of its way to 50 fpm, by the kind of register; common practice
    Why: The air drops before it has mixed: cold feet, stuffy corners.
    Remedy: A smaller register, fewer of them, or another place.
    """
    for t in results.terminals.values():
        x = t.register
        share = REGISTERS[x.kind].reach
        if share is None or x.side != "supply" or t.flow_m3_s <= 0 or t.wall_m <= 0:
            continue
        want = share * t.wall_m
        if t.throw_m < want:
            yield Hit(
                Ref("register", x.id),
                f"Register {x.tag}",
                "throws {0}; {1}, {2} of its way, reach far enough",
                (q("length", t.throw_m), q("length", want), q("percent", share)),
                q("length", t.throw_m),
                q("length", want),
            )


@rule("throw-long", 4, "look")
def throw_long(results: Results) -> Iterator[Hit]:
    """Draught from the wall across.

    Basis: a share of its way to 50 fpm, by the kind of register; common practice
    Why: Air that still moves turns back at the wall, on to whoever sits there.
    Remedy: A larger register, or two.
    """
    for t in results.terminals.values():
        share = REGISTERS[t.register.kind].most_reach or 0.0
        most = share * t.wall_m
        if t.register.side == "supply" and 0 < most < t.throw_m:
            yield Hit(
                Ref("register", t.register.id),
                f"Register {t.register.tag}",
                "throws {0}; more than {1}, {2} of its way, comes back as a draught",
                (q("length", t.throw_m), q("length", most), q("percent", share)),
                q("length", t.throw_m),
                q("length", most),
            )


QUIET_ROOMS = ("bedroom", "study")


@rule("register-loud", 4, "look", Quantity("decimal", 30, 0), Quantity("decimal", 35, 0))
def register_loud(results: Results, quiet_nc: float, most_nc: float) -> Iterator[Hit]:
    """Register that is heard.

    Basis: NC {0} in bedrooms and studies, NC {1} elsewhere; common practice
    Why: It hisses; people shut it, and the air goes elsewhere.
    Remedy: A larger one, one with more free area, or two.
    """
    use = {r.id: r.use for r in results.job.rooms}
    for t in results.terminals.values():
        most = quiet_nc if use.get(t.register.room) in QUIET_ROOMS else most_nc
        if t.noise_nc is not None and t.noise_nc > most + 0.5:
            got, limit = q("decimal", t.noise_nc, 0), q("decimal", most, 0)
            yield Hit(
                Ref("register", t.register.id),
                f"{'Register' if t.register.side == 'supply' else 'Grille'} {t.register.tag}",
                "makes NC {0}, NC {1} is quiet there",
                (got, limit),
                got,
                limit,
            )


@rule("storey-return", 4, "look", Quantity("percent", 0.35), Quantity("flow", 80 * CFM))
def storey_return(results: Results, share: float, least_m3_s: float) -> Iterator[Hit]:
    """Return far from the supply.

    Basis: within {0} of a storey's supply and {1}, common practice
    Why: The rest goes by the stairs: draughts there, rooms above and below at odds.
    Remedy: A larger return there, or one more.
    """
    n = results.network
    if n is None:
        return
    storey = {r.id: r.storey for r in results.job.rooms}
    for s in results.job.storeys:
        own = [x for x in results.job.design.registers if storey[x.room] == s.id and x.id in n.register_m3_s]
        given = sum(n.register_m3_s[x.id] for x in own if x.side == "supply")
        back = sum(n.register_m3_s[x.id] for x in own if x.side == "return")
        if abs(given - back) > max(share * given, least_m3_s):
            yield Hit(
                Ref("storey", s.id),
                s.name,
                "gets {0} and gives {1} back through its returns",
                (q("flow", given), q("flow", back)),
                q("flow", abs(given - back)),
                q("flow", max(share * given, least_m3_s)),
            )


@rule("ducts-leak", 5, "look", Quantity("flow", 4 * CFM, 1), Quantity("area", 100 * FOOT**2))
def ducts_leak(results: Results, most_m3_s: float, floor_m2: float) -> Iterator[Hit]:
    """Ducts leak too much.

    Basis: {0} for {1} of floor at 25 Pa with ducts outside the shell; energy code; the local one decides
    Why: What leaks outside is paid for twice: as heat, and as outdoor air drawn in.
    Remedy: Seal joints with mastic and test; bring the ducts inside.
    """
    for s, _ in chosen(results):
        if all(r.lies_in == "inside" for r in s.design.runs):
            continue
        leak = s.design.air.duct_leakage * s.airflow.total_m3_s
        allowed = most_m3_s * results.geometry.total_area_m2 / floor_m2
        if exceeds(leak, allowed, ROUNDED):
            yield Hit(
                Ref("indoor_unit", s.design.id),
                named(results, s, "Ducts"),
                "leak {0} when tested at 25 Pa, {1} are allowed",
                (q("flow", leak), q("flow", allowed)),
                q("flow", leak),
                q("flow", allowed),
            )


@rule("hood-large", 4, "look", Quantity("flow", 400 * CFM))
def hood_large(results: Results, most: float) -> Iterator[Hit]:
    """Hood that wants make-up air.

    Basis: over {0}, residential code; the local one decides
    Why: It draws its air down flues and through every crack.
    Remedy: A make-up air damper that opens with it, or a smaller hood.
    """
    for r in results.job.rooms:
        if r.exhaust is not None and r.exhaust.flow_m3_s > most:
            got, limit = q("flow", r.exhaust.flow_m3_s), q("flow", most)
            yield Hit(
                Ref("room", r.id), r.name, "blows {0} out, over {1} air has to be let in", (got, limit), got, limit
            )


@rule("depressurised", 4, "fails", Quantity("pascal", 5.0))
def depressurised(results: Results, most_pa: float) -> Iterator[Hit]:
    """House drawn down beside a flame.

    Basis: {0}, common practice; a licensed person checks the draught
    Why: Flue gas may come into the rooms. Carbon monoxide kills: have the draught checked by a licensed person.
    Remedy: Make-up air, smaller fans, or equipment that takes its air from outdoors.
    """
    job = results.job
    burns = [s for s, x in chosen(results) if x.unit.fuel is not None and x.unit.fuel != "electric"]
    heated = [x for x in job.existing if x.kind in BURNS]
    out = sum(r.exhaust.flow_m3_s for r in job.rooms if r.exhaust is not None)
    out += sum(v.flow_m3_s for v in job.design.ventilators if v.kind == "exhaust")
    out -= sum(v.flow_m3_s for v in job.design.ventilators if v.kind == "supply")
    c = flow50_m3_s(job, results.geometry) / 50**LEAK_EXPONENT
    if not (burns or heated) or out <= 0 or c <= 0:
        return
    under = (out / c) ** (1 / LEAK_EXPONENT)
    if under > most_pa:
        what = burns[0].design.indoor.tag if burns else heated[0].name
        at = Ref("indoor_unit", burns[0].design.id) if burns else Ref("house", "house")
        yield Hit(
            at,
            "The house",
            f"is drawn {{0}} below the outdoors by its fans, with {what} burning in it; {{1}} are allowed",
            (q("pascal", under), q("pascal", most_pa)),
            q("pascal", under),
            q("pascal", most_pa),
        )


BURNS = ("furnace", "boiler", "water_heater")


@rule("no-unit", 3, "fails")
def no_unit(results: Results) -> Iterator[Hit]:
    """No unit.

    Basis: geometry
    Why: Without its blower no flow can be predicted.
    Remedy: Pick a unit (Equipment, K), or take a proposal (P).
    """
    d = results.job.design
    for x in d.indoor_units:
        mine = any(r.indoor == x.id for r in d.registers) or any(r.indoor == x.id for r in d.runs)
        if x.unit is None and mine:
            yield Hit(Ref("indoor_unit", x.id), x.tag, "has ducts or registers, and no unit is picked")


# ---- where runs lie ----


@rule("duct-clear", 5, "fails")
def through_keep_clear(results: Results) -> Iterator[Hit]:
    """Duct through what is kept clear.

    Basis: the survey
    Why: The panel, flue, hatch or stairs can't be used or is not safe.
    Remedy: Lead it round.
    """
    job = results.job
    known: dict[tuple[str, str], list[tuple[str, Polygon]]] = {}
    for r, level in _levels(results):
        here = known.get((r.storey, level))
        if here is None:
            found = blocked(job, r.storey, level)
            here = known[r.storey, level] = [(name, shape.buffer(-0.02)) for name, shape in found]
        name = next((n for n, shape in here if any(shape.intersects(LineString(leg)) for leg in _legs(r))), None)
        if name is not None:
            yield Hit(Ref("run", r.id), f"Run {r.tag}", f"goes through {name}")


@rule("box-tight", 5, "fails")
def box_tight(results: Results) -> Iterator[Hit]:
    """Soffit or chase too small.

    Basis: the ducts with their insulation and an inch round each, common practice
    Why: They do not go in, or are squeezed, and the drywall is up by then.
    Remedy: Draw it larger, or take flatter ducts.
    """
    for x in boxed(results.job, results.laid):
        if not x.runs or x.fits:
            continue
        tags = ", ".join(r.tag for r in x.runs)
        yield Hit(
            Ref("place", x.place.id),
            x.place.name,
            f"is {{0}} by {{1}} inside; {tags} {'want' if len(x.runs) > 1 else 'wants'} {{2}} by {{3}}",
            (*(q("size", v) for v in x.clear_m), *(q("size", v) for v in x.want_m)),
            q("size", min(x.clear_m)),
            q("size", min(x.want_m)),
        )


@rule("duct-across", 5, "fails")
def across_joists(results: Results) -> Iterator[Hit]:
    """Duct across joists.

    Basis: the survey
    Why: It does not go through without cutting what carries the floor.
    Remedy: Lead it along the bay; cross in a soffit, under the joists, or in trusses with open webs.
    """
    known: dict[tuple[str, str], Structure | None] = {}
    for r, level in _levels(results):
        if (r.storey, level) not in known:
            known[r.storey, level] = joists(results.job, r.storey, level)
        s = known[r.storey, level]
        if s is None:
            continue
        axis = 1 if s.runs == "x" else 0
        across = max((abs(b[axis] - a[axis]) for a, b in _legs(r)), default=0.0)
        if across > ACROSS_M:
            yield Hit(
                Ref("run", r.id),
                f"Run {r.tag}",
                "lies {0} across the joists, {1} goes between two",
                (q("length", across), q("length", ACROSS_M)),
                q("length", across),
                q("length", ACROSS_M),
            )


def _legs(r: LaidRun) -> list[tuple[Point, Point]]:
    pairs = zip(r.path_m, r.path_m[1:], strict=False)
    return [(a, b) for a, b in pairs if hypot(b[0] - a[0], b[1] - a[1]) > 0.05]


def _levels(results: Results) -> Iterator[tuple[LaidRun, str]]:
    """Supply and return runs with their level: over the ceiling, under the floor, or between, by their ends."""
    ceiling = {s.id: s.height_m for s in results.job.storeys}
    for r in results.laid:
        if r.side != "fresh":
            over = r.level_m >= ceiling[r.storey] - 0.05
            yield r, "over" if over else "under" if r.level_m <= 0.05 else "soffit"
