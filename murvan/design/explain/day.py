"""The heat balance in figures: what each component gives a room at an hour, as the mean of the day, its wave and its lag.

What acts on a surface repeats every day: its mean, a wave of 24 hours and shorter ones. Layers and the room's other faces let
a share of each through, damped and late; those shares come from the surfaces (`response`), and the lines add up to the
load of the balance.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.explain.leaks import leak_lines, leak_source
from murvan.design.loads.balance_rows import SHADE_TO_AIR
from murvan.design.loads.components import (
    COLUMN,
    COMPONENT_WORDS,
    GAIN_AREA_W_M2,
    GAIN_FIXED_W,
    GAIN_PERSON_W,
    LATENT_AREA_W_M2,
    LATENT_FIXED_W,
    LATENT_PERSON_W,
)
from murvan.design.loads.factors import glass_column, shade_of
from murvan.design.loads.gains import PEOPLE_RADIANT, on_hours
from murvan.design.loads.response import Piece, Response, Swing, Wave, response, wave_of
from murvan.design.results import Results
from murvan.design.weather.conditions import GROUND_SHARE, Day, clock_words, sun_on
from murvan.physics import sun
from murvan.physics.periodic import harmonics

MONTH_WORDS = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)
BALANCE = "Heat balance of the design day (harmonics of 24 hours, ISO 13786; ASHRAE Fundamentals ch. 18)"
Q = Quantity


def months_words(months: tuple[int, ...]) -> str:
    """'July, August and October'."""
    words = [MONTH_WORDS[m - 1] for m in sorted(months)]
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def day_words(month: int, hour: int) -> str:
    """'17:00 on 21 July'."""
    return f"{hour}:00 on 21 {MONTH_WORDS[month - 1]}"


def explain_at(results: Results, room: int, name: str, month: int, hour: int) -> Arithmetic:
    """How one component of one room's sensible load at an hour came about; lines that `adds` sum up to it.

    Args:
        month: index into `Loads.months`; hour: 1..24.
    """
    total = float(results.loads.parts_by_hour_w[month, room, COLUMN[name], hour - 1])
    day = results.conditions.days[month]
    if name == "ducts":
        return _ducts(results, room, total, month, hour)
    lines = list(_lines(results, room, name, day, month, hour))
    lines.extend(not_accounted(lines, total))
    label = COMPONENT_WORDS[name]
    lines.append(Line(label, "", (), Q("power", total), True))
    wet = float(results.loads.latent_by_hour_w[room, COLUMN[name], hour - 1])
    if wet > 0.5:
        lines.extend(_latent(results, room, name, hour, wet))
    return Arithmetic(f"{label}, {hour}:00", tuple(lines), tuple(_sources(results, name, day, hour)))


def not_accounted(lines: Sequence[Line], total_w: float) -> Iterator[Line]:
    """What the lines that add up leave of a component, if it is more than rounding of the machine."""
    rest = total_w - sum(x.result.value for x in lines if x.adds and x.result is not None)
    if abs(rest) > REST_W:
        yield Line("not accounted for", "", (), Q("power", rest))


REST_W = 1e-6
"""Lines that miss their sum by more than rounding of the machine say so."""


def _sources(r: Results, name: str, day: Day, hour: int) -> Iterator[str]:
    clock = clock_words(r.job.site, day.month)
    yield f"At {day_words(day.month, hour)}, clock time ({clock}); {_outside(r, day, hour)}"
    if name.startswith("glass"):
        yield (
            "Sun: area × irradiance (beam by its angle, less shadow, + 0.87 of diffuse) × SHGC × shade; what of it reaches "
            "the air, how damped and how late, by the room's own surfaces"
        )
    if name in ("floor", "walls"):
        credit = r.job.design_day.ground_credit
        yield (
            f"The ground takes heat as in winter, at the year's mean and {GROUND_SHARE * 100:.0f} % of its swing, a month "
            "late (ISO 13370)"
            if credit
            else "No credit for cool ground: it stores the day's heat and takes none away (Murvan default, editable)"
        )
    if name == "leakage":
        yield leak_source(r)
    if name in ("leakage", "fresh_air"):
        yield AIR_TOGETHER
    yield BALANCE


AIR_TOGETHER = (
    "Fans that only blow out or in change what leaks: together the larger of the fans' flow and leaks + half of it "
    "(ASHRAE Fundamentals ch. 17); the fans' flow counts as fresh air, the rest as leakage"
)


def _outside(r: Results, day: Day, hour: int) -> str:
    up = day.sun_altitude_deg[hour - 1]
    sun_words = f"sun {up:.0f}° up in the {_compass(float(day.sun_azimuth_deg[hour - 1]))}" if up > 0 else "sun down"
    return f"clear sky, latitude {latitude_words(r.conditions.latitude_deg)}, {sun_words}"


def latitude_words(latitude_deg: float) -> str:
    """'40° N'."""
    return f"{abs(latitude_deg):.0f}° {'N' if latitude_deg >= 0 else 'S'}"


def _compass(azimuth: float) -> str:
    names = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")
    return names[int(azimuth / 45 + 0.5) % 8]


def _lines(r: Results, room: int, name: str, day: Day, month: int, hour: int) -> Iterator[Line]:
    if name == "leakage":
        yield from leak_lines(r, room, False)
        yield _carried(r, "leaks", r.factors.air.leaks_m3_s(r.factors.air.summer)[room], day, hour)
        return
    if name == "fresh_air":
        yield from _fresh(r, room, day, hour)
        return
    answer = response(r.answers, room)
    if name.startswith("glass"):
        yield from _sun_lines(r, room, name, day, month, hour, answer)
    elif name == "people":
        yield from _people(r, room, hour, answer)
    elif name == "appliances":
        yield from _things(r, room, hour, answer)
    for piece in answer.pieces(r.balance, COLUMN[name], month, hour):
        yield from _piece(piece)


def _piece(x: Piece) -> Iterator[Line]:
    """Mean of the day through a surface, and its waves."""
    area, u, w = Q("area", x.area_m2, 1), Q("u_factor", x.wave.steady / x.area_m2, 4), x.wave
    yield Line(f"{x.label}, mean", "{0} × {1} × {2}", (area, u, Q("difference", w.mean)), Q("power", w.mean_w))
    yield from _swings(x.label, w, (area, u), "difference")


def _flow(label: str, w: Wave) -> Iterator[Line]:
    """Mean and waves of a gain in W."""
    share = Q("ratio3", w.steady)
    yield Line(f"{label}, mean", "{0} × {1}", (Q("power", w.mean), share), Q("power", w.mean_w))
    yield from _swings(label, w, (share,), "power")


def _swings(label: str, w: Wave, steady: tuple[Quantity, ...], kind: str) -> Iterator[Line]:
    """Every wave that counts with its amplitude, damping, hour of the highest and lag; the others together."""
    small = [x for x in w.swings if not _counts(x, w)]
    for x in w.swings:
        if x in small:
            continue
        n = len(steady)
        operands = (
            *steady,
            Q("ratio3", x.damping),
            Q(kind, x.swing),
            *(Q("number", w.hour), Q("decimal", x.top), Q("decimal", x.lag)),
        )
        words = (
            " × ".join(f"{{{k}}}" for k in range(n + 2))
            + f" × cos {15 * x.order}°({{{n + 2}}} − {{{n + 3}}} − {{{n + 4}}})"
        )
        yield Line(f"{label}, wave of {24 / x.order:.3g} h", words, operands, Q("power", x.gives_w))
    left = sum(x.gives_w for x in small)
    if abs(left) > REST_W:
        yield Line(f"{label}, smaller waves", "each under {0}", (Q("power", LEAST_WAVE_W),), Q("power", left))


LEAST_WAVE_W = 3.0
"""A wave that can give less is told with the other small ones."""


def _counts(x: Swing, w: Wave) -> bool:
    return abs(w.steady) * x.damping * x.swing >= LEAST_WAVE_W


def _sun_lines(r: Results, room: int, name: str, day: Day, month: int, hour: int, answer: Response) -> Iterator[Line]:
    """Sun through each pane at the hour, what goes straight to the air past blinds, and what the faces give."""
    job = r.job
    glazings = {x.id: x for x in job.glazings}
    for f in r.geometry.openings:
        o = job.openings[f.index]
        glazing = glazings.get(o.glazing or "")
        if f.room != room or glazing is None or o.kind not in ("window", "skylight") or glass_column(f) != name:
            continue
        x = sun_on(day, np.array([f.facing_deg]), np.array([f.tilt_deg]))
        beam = x.beam[:, 0] * (1 - shade_of(day, o, f))
        through = float(sun.glass_gain_factor(beam, x.diffuse[:, 0], x.cos_incidence[:, 0])[hour - 1])
        iac = glazing.inside_shade * o.blinds
        gain = f.area_m2 * through * glazing.shgc * iac
        yield Line(
            f"{o.tag} sun now",
            "{0} × {1} × {2} × {3}",
            (Q("area", f.area_m2, 1), Q("irradiance", through), Q("decimal", glazing.shgc), Q("decimal", iac)),
            Q("power", gain),
            adds=False,
        )
        straight = SHADE_TO_AIR * (1 - iac)
        mean = float(sun.glass_gain_factor(beam, x.diffuse[:, 0], x.cos_incidence[:, 0]).mean())
        onto = f.area_m2 * mean * glazing.shgc * iac * (1 - straight)
        operands = (Q("area", f.area_m2, 1), Q("irradiance", mean), *(Q("decimal", v) for v in (glazing.shgc, iac)))
        yield Line(
            f"{o.tag} onto the faces, mean",
            "{0} × {1} × {2} × {3} × {4}",
            (*operands, Q("ratio3", 1 - straight)),
            Q("power", onto),
            adds=False,
        )
        if iac < 1:
            operands = (Q("power", gain), Q("ratio3", straight))
            yield Line(f"{o.tag} by blinds to the air", "{0} × {1}", operands, Q("power", gain * straight))
    w = wave_of(harmonics(answer.rows.sun_in[COLUMN[name], month]), answer.sun, hour)
    yield from _flow("sun on the faces", w)


def _people(r: Results, room: int, hour: int, answer: Response) -> Iterator[Line]:
    there = float(r.gains.people[room, hour - 1])
    people = Q("people", there, 2)
    now = r.gains.people_w[room]
    watts = Q("power", GAIN_PERSON_W)
    yield Line("there now", "{0} × {1}", (people, watts), Q("power", float(now[hour - 1])), adds=False)
    yield _straight(float(now[hour - 1]), 1 - PEOPLE_RADIANT)
    w = wave_of(harmonics(PEOPLE_RADIANT * now), answer.radiant, hour)
    yield from _flow("radiation", w)


def _straight(now_w: float, share: float) -> Line:
    return Line(
        "straight to the air", "{0} × {1}", (Q("power", now_w), Q("decimal", share)), Q("power", now_w * share)
    )


def _things(r: Results, room: int, hour: int, answer: Response) -> Iterator[Line]:
    job, area = r.job, r.geometry.area_m2[room]
    operands = (Q("area", area, 1), Q("power_per_area", GAIN_AREA_W_M2))
    yield Line("by floor", "{0} × {1}", operands, Q("power", GAIN_AREA_W_M2 * area), adds=False)
    fixed = float(r.gains.kitchen_share[room])
    if fixed > 0:
        operands = (Q("power", GAIN_FIXED_W), Q("ratio3", fixed))
        yield Line("kitchen, shared", "{0} × {1}", operands, Q("power", GAIN_FIXED_W * fixed), adds=False)
    if job.rooms[room].appliances_w > 0:
        yield Line("set by the room", "", (), Q("power", job.rooms[room].appliances_w), adds=False)
    for x in job.appliances:
        if x.room == job.rooms[room].id:
            on = x.count * float(on_hours(x.from_hour, x.to_hour)[hour - 1])
            operands = (Q("number", on), Q("power", x.sensible_w))
            yield Line(x.name, "{0} × {1}", operands, Q("power", on * x.sensible_w), adds=False)
    now, radiant = r.gains.things_w[room], r.gains.things_radiant_w[room]
    operands = (Q("power", float(now[hour - 1])), Q("power", float(radiant[hour - 1])))
    straight = float(now[hour - 1] - radiant[hour - 1])
    yield Line("straight to the air", "{0} − {1} radiated", operands, Q("power", straight))
    w = wave_of(harmonics(radiant), answer.radiant, hour)
    yield from _flow("radiation", w)


def _carried(r: Results, label: str, flow_m3_s: float, day: Day, hour: int, left: float = 1.0) -> Line:
    """Heat of outdoor air at the hour."""
    k, over = r.conditions.sensible_factor, float(day.outdoor_c[hour - 1]) - r.conditions.indoor_cooling.temperature_c
    operands = [Q("air_factor", k), Q("flow", float(flow_m3_s), 1), Q("difference", over)]
    words = "{0} × {1} × {2}"
    if left != 1:
        operands.append(Q("decimal", left))
        words += " × {3} not recovered"
    return Line(label, words, tuple(operands), Q("power", k * float(flow_m3_s) * over * left))


def _fresh(r: Results, room: int, day: Day, hour: int) -> Iterator[Line]:
    air, left = r.factors.air, 1 - r.factors.air.exchanger.sensible
    if air.fans.recovered > 0:
        yield _carried(r, air.exchanger.word, air.recovered_m3_s[room], day, hour, left)
    if air.fans.blown_in > 0:
        yield _carried(r, "blown in", air.floor_share[room] * air.fans.blown_in, day, hour)
    if air.fans.through_shell > 0:
        yield _carried(r, "drawn in by exhaust", air.leak_share[room] * air.fans.through_shell, day, hour)


def _latent(r: Results, room: int, name: str, hour: int, wet: float) -> Iterator[Line]:
    """Moisture besides."""
    c = r.conditions
    if name == "people":
        there = float(r.gains.people[room, hour - 1])
        operands = (Q("people", there, 2), Q("power", LATENT_PERSON_W), Q("decimal", r.job.indoor.moisture_rate))
        yield Line("latent besides", "{0} × {1} × {2} moisture rate", operands, Q("power", wet), adds=False)
    elif name in ("leakage", "fresh_air"):
        air = r.factors.air
        flow = air.leaks_m3_s(air.summer)[room] if name == "leakage" else air.fresh_moist_m3_s[room]
        operands = (
            Q("latent_factor", c.latent_factor),
            Q("flow", float(flow), 1),
            Q("moisture", c.moisture_difference),
        )
        watts = c.latent_factor * float(flow) * c.moisture_difference
        yield Line("latent besides", "{0} × {1} × {2}", operands, Q("power", watts), adds=False)
    elif name == "appliances":
        yield from _moist_things(r, room, hour, wet)
    else:
        yield Line("latent besides", "", (), Q("power", wet), adds=False)


def _moist_things(r: Results, room: int, hour: int, wet: float) -> Iterator[Line]:
    """Moisture of the household by floor, of the kitchen and of every appliance, then all of it."""
    job, rate = r.job, Q("decimal", r.job.indoor.moisture_rate)
    parts = [("by floor, latent", Q("area", r.geometry.area_m2[room], 1), Q("power_per_area", LATENT_AREA_W_M2))]
    if r.gains.kitchen_share[room] > 0:
        fixed = Q("ratio3", float(r.gains.kitchen_share[room]))
        parts.append(("kitchen, shared, latent", fixed, Q("power", LATENT_FIXED_W)))
    for x in job.appliances:
        on = x.count * float(on_hours(x.from_hour, x.to_hour)[hour - 1])
        if x.room == job.rooms[room].id and on * x.latent_w > 0:
            parts.append((f"{x.name}, latent", Q("number", on), Q("power", x.latent_w)))
    watts = [a.value * b.value * rate.value for _, a, b in parts]
    for (label, a, b), each in zip(parts, watts, strict=True):
        yield Line(label, "{0} × {1} × {2} moisture rate", (a, b, rate), Q("power", each), adds=False)
    words = " + ".join(f"{{{k}}}" for k in range(len(watts)))
    yield Line("latent besides", words, tuple(Q("power", x) for x in watts), Q("power", wet), adds=False)


def _ducts(r: Results, room: int, total: float, month: int, hour: int) -> Arithmetic:
    """By run: what is left of the unit's work at the register; without runs an allowance."""
    before = float(np.delete(r.loads.parts_by_hour_w[month, room, :, hour - 1], COLUMN["ducts"]).sum())
    share = float(r.duct_heat.cooling[month, room, hour - 1])
    words = COMPONENT_WORDS["ducts"]
    wet = float(r.loads.latent_by_hour_w[room, COLUMN["ducts"], hour - 1])
    if not r.duct_heat.by_run[room]:
        operands = (Q("power", before), Q("percent", share, 2))
        line = Line(words, "{0} × {1}", operands, Q("power", total), True)
        moist = (_return_moisture(r, room, hour, wet),) if wet > 0.5 else ()
        return Arithmetic(
            words, (line, *moist), ("Allowance for ducts outside the shell, until they are worked out by run",)
        )
    at = month * 24 + hour - 1
    lines = list(reaches_lines(r, room, at))
    reaches = Q("percent", 1 / (1 + share), 2)
    lines.append(Line(words, "{0} ÷ {1} − {0}", (Q("power", before), reaches), Q("power", total), True))
    if wet > 0.5:
        lines.append(_return_moisture(r, room, hour, wet))
    return Arithmetic(
        words,
        tuple(lines),
        (
            "T2 = Ta + (T1 − Ta) exp(−UPL ÷ m cp) along every run, at this hour",
            "Delivery effectiveness after ASHRAE 152, leaks by surface, half of them on each side",
        ),
    )


def _return_moisture(r: Results, room: int, hour: int, wet: float) -> Line:
    """Of the leaks, as long as the unit runs: this hour's need over the room's highest, the month that asks most."""
    c, leak = r.conditions, float(r.duct_heat.return_leak_m3_s[room])
    need = np.maximum(np.delete(r.loads.parts_by_hour_w[:, room], COLUMN["ducts"], axis=1).sum(axis=1), 0)
    operands = (
        *(Q("latent_factor", c.latent_factor), Q("flow", leak, 2), Q("moisture", c.moisture_difference)),
        *(Q("power", float(x)) for x in (need[:, hour - 1].max(), need.max())),
    )
    words = "{0} × {1} leaks of the return × {2} × {3} ÷ {4}"
    return Line("latent besides", words, operands, Q("power", wet), adds=False)


def reaches_lines(r: Results, room: int, at: int) -> Iterator[Line]:
    """By register what arrives, and what of the unit's work that is: at an hour of all months, or on the winter night (-1).

    Of one register: air that is left x (room - air that arrives) / (room + what the return gains - supply).
    """
    heat, job = r.duct_heat, r.job
    winter = at < 0
    inside = (r.conditions.indoor_heating if winter else r.conditions.indoor_cooling).temperature_c
    own = [x for x in job.design.registers if x.room == job.rooms[room].id and x.id in heat.ends]
    share = float(heat.heating[room] if winter else heat.cooling[at // 24, room, at % 24])
    reaches = Q("percent", 1 / (1 + share), 2)
    units = {heat.ends[x.id].unit for x in own}
    for x in own:
        e = heat.ends[x.id]
        arrives = Q("temperature1", float(e.air_c[at]))
        yield Line(
            f"air at {x.tag}",
            "leaves the unit at {0}",
            (Q("temperature1", float(e.supply_c[at])),),
            arrives,
            adds=False,
        )
    if len(units) != 1 or not own:
        yield Line("reaches the room", "by all its units together", (), reaches, adds=False)
        return
    whole = sum(heat.ends[x.id].flow_m3_s for x in own)
    first = heat.ends[own[0].id]
    supply, rise = float(first.supply_c[at]), float(first.return_rise_k[at])
    bring, given = 0.0, inside - supply + rise
    for x in own:
        e = heat.ends[x.id]
        part, fall = e.flow_m3_s / whole, inside - float(e.air_c[at])
        mine = part * e.left * fall
        bring += mine
        shares = (Q("ratio3", part), Q("ratio3", e.left), Q("difference", fall))
        words = "{0} of its air × {1} not leaked × {2}"
        yield Line(f"{x.tag} brings", words, shares, Q("difference", mine), adds=False)
    back = (Q("temperature1", inside), Q("temperature1", supply), Q("difference", rise))
    words = "{0} − {1} supply + {2} of the return"
    yield Line("the unit gives", words, back, Q("difference", given), adds=False)
    operands = (Q("difference", bring), Q("difference", given))
    free = abs(bring / given - 1 / (1 + share)) < 1e-6
    words = "{0} ÷ {1}" if free else "{0} of {1}, kept within bounds"
    yield Line("reaches the room", words, operands, reaches, adds=False)
