"""One state of the house as it may be built: what is other than designed."""

from __future__ import annotations

from dataclasses import dataclass, field

from murvan.physics.circuit import FanCurve


@dataclass(frozen=True)
class Change:
    """What is other than designed in one state of the house."""

    k: dict[int, float] = field(default_factory=dict)
    """By branch, its quadratic coefficient, Pa per (m3/s)2, as the house is found."""
    stuck: frozenset[int] = frozenset()
    """Branches that stay so however the house stands."""
    shut: dict[int, float] = field(default_factory=dict)
    """By branch, what its zone damper resists with more while its zone does not call, Pa per (m3/s)2."""
    openings: dict[int, float] = field(default_factory=dict)
    """By branch that is shut as designed, the area that is open, m2."""
    dampers: dict[int, float] = field(default_factory=dict)
    """By branch, what its hand damper resists of that."""
    fans: dict[str, FanCurve] = field(default_factory=dict)
    """By unit, its blower."""
    flow_gain: float = 1.0
    """What the hood shows of a flow."""
    gauge_gain: float = 1.0
    swap: tuple[str, str] | None = None
    """Registers that were read for each other."""
    capacity: dict[str, float] = field(default_factory=dict)
    """By unit, the share of its capacity that is left."""
    heater: dict[str, float] = field(default_factory=dict)
    """By unit, the share of its electric heat that is on."""
    warmer_k: float = 0.0
    """Than the set temperature, in the rooms."""

    def __add__(self, other: Change) -> Change:
        """Both at once: of one branch what resists more; openings add up."""
        areas = {i: self.openings.get(i, 0.0) + other.openings.get(i, 0.0) for i in {*self.openings, *other.openings}}
        return Change(
            {**self.k, **{i: max(x, self.k.get(i, x)) for i, x in other.k.items()}},
            self.stuck | other.stuck,
            {**self.shut, **other.shut},
            areas,
            {**self.dampers, **other.dampers},
            {**self.fans, **other.fans},
            self.flow_gain * other.flow_gain,
            self.gauge_gain * other.gauge_gain,
            self.swap or other.swap,
            {**self.capacity, **other.capacity},
            {**self.heater, **other.heater},
            self.warmer_k + other.warmer_k,
        )


NOTHING = Change()
"""As designed."""
