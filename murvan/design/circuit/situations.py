"""States in which the air circuit of a house is solved: doors, zones, filters, fans, blowers and the weather outside."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Situation:
    """A state of the house."""

    key: str
    doors_shut: bool = False
    """Every door."""
    shut: frozenset[str] = frozenset()
    """Rooms whose own door is shut."""
    loaded: bool = False
    """Every filter is due to be changed."""
    closed: frozenset[str] = frozenset()
    """Zones that don't call: their dampers are shut."""
    fans: frozenset[str] = frozenset()
    """Rooms whose exhaust fan, hood or dryer runs, besides those that always do."""
    still: frozenset[str] = frozenset()
    """Units whose blower stands still."""
    outdoor_c: float | None = None
    """What it is outside, for the stack's draught; None: no stack."""
    wind_m_s: float = 0.0
    wind_from_deg: float = 270.0
    """Clockwise from north."""

    @property
    def weather(self) -> bool:
        """Whether stack or wind act on the shell."""
        return self.outdoor_c is not None or self.wind_m_s > 0


CLEAN = Situation("clean")
DOORS_SHUT, LOADED = "doors_shut", "loaded_filter"


USUAL = (CLEAN, Situation(DOORS_SHUT, doors_shut=True), Situation(LOADED, loaded=True))
"""Those in which a job is always solved, doors open and filters clean first."""


def alone(zones: tuple[str, ...]) -> tuple[Situation, ...]:
    """Each zone of several with dampers calling alone; by their ids."""
    every = frozenset(zones)
    return tuple(Situation(calls_alone(z), closed=every - {z}) for z in zones) if len(zones) > 1 else ()


def calls_alone(zone: str) -> str:
    """The state in which one zone calls and all others are shut."""
    return f"alone {zone}"
