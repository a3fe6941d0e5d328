"""Outdoor air in figures, from the blower door's flow to a room's share, in both seasons."""

from __future__ import annotations

from collections.abc import Iterator

from murvan.design.arithmetic import Line, Quantity
from murvan.design.results import Results
from murvan.physics import heat

Q = Quantity
LEAK_SOURCE = "Q = A √(Cs ΔT + Cw V²), ASHRAE Fundamentals ch. 16"


def leak_lines(results: Results, room: int, winter: bool) -> Iterator[Line]:
    """How the leaks of one room came about, as flows; none of them adds to its heat."""
    air, c, climate = results.factors.air, results.conditions, results.job.climate
    stream = air.winter if winter else air.summer
    difference = c.heating_difference_k if winter else c.cooling_difference_k
    wind = climate.wind_winter_m_s if winter else climate.wind_summer_m_s
    ach, volume = results.job.leakage.ach50, results.geometry.total_volume_m3
    flow50 = ach * volume / 3600
    yield _note(
        "at 50 Pa",
        "{0} × {1} ÷ {2}",
        Q("per_hour", ach),
        Q("volume", volume),
        Q("hour_of_flow", 3600.0),
        to=Q("flow", flow50),
    )
    per_flow = heat.leakage_area_cm2(1.0) / 1e4
    area = Q("small_area", air.leakage_area_cm2 / 1e4, 1)
    yield _note("leakage area at 4 Pa", "{0} × {1}", Q("flow", flow50), Q("leak_area", per_flow), to=area)
    stack, gusts = heat.leak_coefficients(results.geometry.stack_storeys, results.job.site.shielding)
    yield _note(
        "house",
        "{0} × √({1} × {2} + {3} × {4}²)",
        *(area, Q("stack", stack), Q("difference", abs(difference)), Q("wind_leak", gusts), Q("wind", wind)),
        to=Q("flow", stream.alone, 1),
    )
    fans = air.fans.unbalanced
    if fans > 0:
        alone, left = Q("flow", stream.alone, 1), Q("flow", stream.leaks, 1)
        if stream.leaks > 0:
            yield _note("besides the fans", "{0} − {1} ÷ 2", alone, Q("flow", fans, 1), to=left)
        else:
            yield _note("besides the fans", "fans draw {0}, more than twice {1}", Q("flow", fans, 1), alone, to=left)
    share = Q("percent", float(air.leak_share[room]), 2)
    by = "outside wall" if sum(results.geometry.exposed_wall_m2) > 0 else "floor"
    flow = float(air.leaks_m3_s(stream)[room])
    yield _note(f"this room, by {by}", "{0} × {1}", share, Q("flow", stream.leaks, 1), to=Q("flow", flow, 2))


def _note(label: str, words: str, *operands: Quantity, to: Quantity) -> Line:
    return Line(label, words, operands, to, adds=False)


def leak_source(results: Results) -> str:
    """Where the leaks come from."""
    n = results.geometry.stack_storeys
    return f"{LEAK_SOURCE}; {results.job.site.shielding} shielding, {n} {'storey' if n == 1 else 'storeys'} over the ground"
