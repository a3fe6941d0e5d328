"""What each kind of fault changes in the house as it is built."""

from __future__ import annotations

from collections.abc import Callable

from murvan.design.ducts import run_area_m2
from murvan.design.units import fan_curve
from murvan.field.built import Built
from murvan.field.state import Change


def _damper(b: Built, where: str, amount: float) -> Change:
    run, at = b.runs[where], b.layout.run_branch[where]
    now = b.damper_k(run, run.damper if run.damper is not None else 1.0)
    own = b.damper_k(run, min(max(amount, 0.0), 1.0))
    return Change({at: float(b.circuit.k[at]) + own - now}, dampers={at: own})


def _zone_damper(b: Built, where: str, amount: float) -> Change:
    at = b.layout.run_branch[where]
    more = b.damper_k(b.runs[where], min(max(amount, 0.0), 1.0)) - b.damper_k(b.runs[where], 1.0)
    return Change({at: float(b.circuit.k[at]) + max(more, 0.0)}, frozenset((at,)))


def _zone_open(b: Built, where: str, amount: float) -> Change:
    at = b.layout.run_branch[where]
    more = b.damper_k(b.runs[where], min(max(amount, 0.0), 1.0)) - b.damper_k(b.runs[where], 1.0)
    return Change(shut={at: max(more, 0.0)})


def _flex(b: Built, where: str, amount: float) -> Change:
    own = [x for x in b.units[where].design.runs if x.made_of.bends and x.id in b.layout.run_branch]
    k: dict[int, float] = {}
    for run in own:
        k |= b.series(b.layout.run_branch[run.id], amount)
    return Change(k)


def _coil(b: Built, where: str, amount: float) -> Change:
    """The rated drop of the coil counts, whether the blower's table has it or not."""
    at, unit = b.layout.units[where], b.units[where].unit
    assert unit is not None
    return Change(
        {
            at.heater_branch: float(b.circuit.k[at.heater_branch])
            + (amount - 1) * unit.coil_pa / unit.rated_flow_m3_s**2
        }
    )


def _filter(b: Built, where: str, amount: float) -> Change:
    """Of the filter, whether the blower's table has it or not."""
    at, own = b.layout.units[where], b.units[where].design.indoor
    face = own.filter.width_m * own.filter.height_m
    clean = own.filter.clean_pa / (1.5 * face) ** 2
    now = float(b.circuit.k[at.filter_branch])
    return Change({at.filter_branch: max(now + (amount - 1) * max(now, clean), 0.02 * clean)})


def _slow(b: Built, where: str, amount: float) -> Change:
    curve = dict(b.circuit.fans)[b.layout.units[where].blower_branch]
    return Change(fans={where: curve.slowed(amount)})


def _tap(b: Built, where: str, amount: float) -> Change:
    s = b.units[where]
    assert s.unit is not None
    tap = min(max(s.design.indoor.tap + round(amount), 1), len(s.unit.blower.taps_m3_s))
    return Change(fans={where: fan_curve(s.unit, tap, b.density)})


def _bypass(b: Built, where: str, amount: float) -> Change:
    at, _, wide = b.layout.bypasses[where]
    return Change({at: wide / max(amount, 0.02) ** 2})


def _fresh(b: Built, where: str, amount: float) -> Change:
    own = [run_area_m2(x) for x in b.units[where].design.runs if x.side == "fresh"]
    branch, _ = b.openings["return", where]
    area = max(own, default=FRESH_M2)
    return Change(openings={branch: amount * area})


FRESH_M2 = 0.018
"""Of an outdoor-air duct of 6 in, where none is drawn."""


def _face(b: Built, where: str, amount: float) -> Change:
    register = b.runs[where].register_id or ""
    return Change(b.series(b.layout.register_branch[register], 1 / min(max(amount, 0.02), 1.0) ** 2))


def _off(b: Built, where: str, amount: float) -> Change:
    """A duct beside its boot: what blows past it goes where it lies, and little finds its way in."""
    register = b.runs[where].register_id or ""
    aside = b.series(b.layout.register_branch[register], 1 + ASIDE * amount)
    return Change(aside, openings=b.opened("run", where, amount))


ASIDE = 25.0
"""What a boot resists more with its duct wholly beside it, times; Murvan's estimate."""


def _pair(_: Built, where: str, __: float) -> Change:
    a, _plus, b = where.partition("+")
    return Change(swap=(a, b))


def _door(b: Built, where: str, _: float) -> Change:
    at = b.layout.door_branch[where]
    return Change({at: b.layout.shut_k[at]})


CHANGES: dict[str, Callable[[Built, str, float], Change]] = {
    "kink": lambda b, w, x: Change(b.series(b.layout.run_branch[w], x)),
    "return": lambda b, w, x: Change(b.series(b.layout.run_branch[w], x)),
    "boot": _face,
    "flex": _flex,
    "damper": _damper,
    "damper_open": _damper,
    "zone_damper": _zone_damper,
    "zone_open": _zone_open,
    "boot_off": _off,
    "joint_open": lambda b, w, x: Change(openings=b.opened("run", w, x)),
    "plenum_leak": lambda b, w, x: Change(openings=b.opened("supply", w, x)),
    "return_leak": lambda b, w, x: Change(openings=b.opened("return", w, x)),
    "swap": _pair,
    "filter": _filter,
    "filter_missing": _filter,
    "coil": _coil,
    "wheel": _slow,
    "reversed": _slow,
    "tap": _tap,
    "bypass": _bypass,
    "fresh": _fresh,
    "door": _door,
    "hood_bias": lambda b, w, x: Change(flow_gain=x),
    "gauge_bias": lambda b, w, x: Change(gauge_gain=x),
    "heater_on": lambda b, w, x: Change(heater={w: x}),
    "charge": lambda b, w, x: Change(capacity={w: x}),
}
"""How each kind of fault changes the house."""
