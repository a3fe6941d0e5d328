"""Every fault that a house can have, and where."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations
from typing import NamedTuple

from murvan.design.results import SystemResults
from murvan.field.built import Built
from murvan.field.changes import CHANGES
from murvan.field.state import Change
from murvan.kinds.faults import FAULTS, FaultKind
from murvan.model.routes import LaidRun

LEAST_SLIP = 0.85
"""A damper that stands wider open than this can't slip open by anything that is read."""


class Spot(NamedTuple):
    """Where a fault may be."""

    kind: FaultKind
    where: str
    """Id of the run, unit or room; two registers with a + between; '' for an instrument."""
    name: str
    """As it is called in words."""

    @property
    def key(self) -> tuple[str, str]:
        return self.kind.id, self.where

    @property
    def title(self) -> str:
        """'Kinked or crushed flex, B4'."""
        return self.kind.name.format(self.name)

    @property
    def brief(self) -> str:
        """'B4 kinked flex'."""
        return f"{self.name} {self.kind.brief}".strip()

    def amount_words(self, amount: float) -> str:
        """'resistance of the run 3.1 times', 'share left open 40 %'; '' where there is no amount."""
        k = self.kind
        if k.steps:
            return f"{amount:+.0f} steps"
        if k.amount.endswith(", times"):
            return f"{k.amount[:-7]} {amount:.1f} times"
        return f"{k.amount} {amount * 100:.0f} %" if k.amount else ""


def spots(b: Built) -> Iterator[Spot]:
    """Every fault that this house can have."""
    feeds = {x.parent for x in b.runs.values()}
    shut = {room for room, at in b.layout.door_branch.items() if at in b.layout.shut_k}
    tags = {x.id: x.tag for x in b.job.design.registers}
    sides = {x.id: x.side for x in b.job.design.registers}
    names = {x.id: x.name for x in b.job.rooms}
    for i, run in b.runs.items():
        for kind in _of_run(run, i in feeds):
            yield Spot(FAULTS[kind], i, run.tag)
    for i, s in b.units.items():
        for kind in _of_unit(b, i, s):
            yield Spot(FAULTS[kind], i, s.design.indoor.tag)
    faces = [x for x in b.layout.register_branch if x in tags]
    for one, other in combinations(sorted(faces), 2):
        if sides[one] == sides[other]:
            yield Spot(FAULTS["swap"], f"{one}+{other}", f"{tags[one]} and {tags[other]}")
    for room in sorted(shut):
        yield Spot(FAULTS["door"], room, names[room])
    yield Spot(FAULTS["hood_bias"], "", "")
    yield Spot(FAULTS["gauge_bias"], "", "")


def _of_run(run: LaidRun, feeds: bool) -> Iterator[str]:
    if run.register_id and run.side == "supply":
        if run.made_of.bends:
            yield "kink"
        yield from ("boot", "boot_off")
        if run.damper is not None:
            yield "damper"
            if run.damper < LEAST_SLIP:
                yield "damper_open"
    if run.side == "return" and (run.register_id or not run.parent):
        yield "return"
    if feeds and run.side == "supply":
        yield "joint_open"
    if run.zone_damper:
        yield from ("zone_damper", "zone_open")


def _of_unit(b: Built, i: str, s: SystemResults) -> Iterator[str]:
    assert s.unit is not None
    yield from ("filter", "filter_missing", "coil", "wheel", "reversed", "return_leak", "plenum_leak")
    if len(s.unit.blower.taps_m3_s) > 1:
        yield "tap"
    if any(x.made_of.bends for x in s.design.runs):
        yield "flex"
    if i in b.layout.bypasses:
        yield "bypass"
    if any(x.side == "fresh" for x in s.design.runs) or s.design.ventilators:
        yield "fresh"
    if s.design.indoor.heater_kw > 0:
        yield "heater_on"
    if s.equipment.chosen is not None and s.equipment.chosen.heating_w > 0:
        yield "charge"


def change(b: Built, spot: Spot, amount: float) -> Change:
    """A fault of an amount, see `FaultKind.amount`. Raises KeyError: the house has no such place."""
    return CHANGES[spot.kind.id](b, spot.where, amount)


NEAR = 0.95
"""Of its opening as drawn, from which a damper is no other."""


def kept_to(b: Built, spot: Spot, amount: float) -> float:
    """An amount of a damper brought to the side of its drawn opening on which its fault lies; any other as it is."""
    now = b.runs[spot.where].damper if spot.kind.than_drawn else None
    if now is None:
        return amount
    return min(amount, NEAR * now) if spot.kind.than_drawn == "less" else max(amount, min(now / NEAR, 1.0))


def possible_steps(b: Built, spot: Spot) -> list[float]:
    """Of a fault that goes by steps, those that its unit has; none of another one."""
    if not spot.kind.steps:
        return []
    s = b.units[spot.where]
    assert s.unit is not None
    now, most = s.design.indoor.tap, len(s.unit.blower.taps_m3_s)
    return [x for x in spot.kind.steps if 1 <= now + x <= most]
