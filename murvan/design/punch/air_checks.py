"""Checks on how the air gets along: friction rate, take-offs, throw, returns by storey, zones, leaks, what fans draw out."""

from __future__ import annotations

from collections.abc import Iterator
from math import hypot

from shapely.geometry import LineString, Polygon

from murvan.design.ducts.boxing import boxed
from murvan.design.finding import Hit
from murvan.design.house.leakage import flow50_m3_s
from murvan.design.punch.saying import chosen, named, q
from murvan.design.results import Results
from murvan.design.space.duct_ways import blocked, joists
from murvan.kinds.registers import REGISTERS
from murvan.model.house import Structure
from murvan.model.job import Point
from murvan.model.record import Ref
from murvan.model.routes import LaidRun
from murvan.physics.heat import LEAK_EXPONENT

ACROSS_M = 0.6
"""A stretch across joists shorter than this goes between two of them."""


def friction_band(results: Results, low: float, high: float) -> Iterator[Hit]:
    """Units whose longest path leaves a friction rate outside a workable band."""
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


def throw_short(results: Results) -> Iterator[Hit]:
    """Supply registers whose air does not reach far enough, by the share of the way that their kind has to reach."""
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


def throw_long(results: Results) -> Iterator[Hit]:
    """Supply registers in a wall whose air still moves when it meets the wall across."""
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


def register_loud(results: Results, quiet_nc: float, most_nc: float) -> Iterator[Hit]:
    """Registers and grilles that are heard; by the use of their room."""
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


def storey_return(results: Results, share: float, least_m3_s: float) -> Iterator[Hit]:
    """Storeys whose return is far from what is supplied there."""
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


def ducts_leak(results: Results, most_m3_s: float, floor_m2: float) -> Iterator[Hit]:
    """Units with ducts outside the shell that leak more than a code allows for so much floor, at 25 Pa."""
    for s, _ in chosen(results):
        if all(r.lies_in == "inside" for r in s.design.runs):
            continue
        leak = s.design.air.duct_leakage * s.airflow.total_m3_s
        allowed = most_m3_s * results.geometry.total_area_m2 / floor_m2
        if leak > allowed * 1.001:
            yield Hit(
                Ref("indoor_unit", s.design.id),
                named(results, s, "Ducts"),
                "leak {0} when tested at 25 Pa, {1} are allowed",
                (q("flow", leak), q("flow", allowed)),
                q("flow", leak),
                q("flow", allowed),
            )


def hood_large(results: Results, most: float) -> Iterator[Hit]:
    """Fans so large that air has to be brought in for them."""
    for r in results.job.rooms:
        if r.exhaust is not None and r.exhaust.flow_m3_s > most:
            got, limit = q("flow", r.exhaust.flow_m3_s), q("flow", most)
            yield Hit(
                Ref("room", r.id), r.name, "blows {0} out, over {1} air has to be let in", (got, limit), got, limit
            )


def depressurised(results: Results, most_pa: float) -> Iterator[Hit]:
    """Houses with something that burns, which all fans together draw below the outdoors by too much."""
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


def no_unit(results: Results) -> Iterator[Hit]:
    """Houses with ducts or registers and no unit picked for them."""
    d = results.job.design
    for x in d.indoor_units:
        mine = any(r.indoor == x.id for r in d.registers) or any(r.indoor == x.id for r in d.runs)
        if x.unit is None and mine:
            yield Hit(Ref("indoor_unit", x.id), x.tag, "has ducts or registers, and no unit is picked")


# ---- where runs lie ----


def through_keep_clear(results: Results) -> Iterator[Hit]:
    """Runs through what is kept clear at their level: over a panel, round a flue, over a hatch."""
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


def box_tight(results: Results) -> Iterator[Hit]:
    """Soffits and chases that are drawn and too small for the ducts in them."""
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


def across_joists(results: Results) -> Iterator[Hit]:
    """Runs between joists that lie across them."""
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
