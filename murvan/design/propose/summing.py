"""What a design comes to: units with the rooms they serve, both seasons, electricity, cost, sound."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.design.house.open_rooms import remedy
from murvan.design.parts import Cost as PutIn
from murvan.design.propose.installing import installed
from murvan.design.propose.schemes import ServedPlace
from murvan.design.results import Results
from murvan.design.study.heard import loudest
from murvan.design.study.how_sure import sure
from murvan.design.units.cost import Cost, yearly_cost
from murvan.design.units.equipment import Candidate
from murvan.design.units.siting import Heard
from murvan.design.zones.plans import rooms_that_drift
from murvan.model.design import Design
from murvan.model.equipment import Machine, MultiUnit


@dataclass(frozen=True)
class Summary:
    """A design with its sums. Powers in W."""

    name: str
    design: Design
    chosen: tuple[tuple[ServedPlace, Candidate], ...]
    outdoors: tuple[MultiUnit, ...]
    """Outdoor units that several share."""
    remedies: dict[str, str]
    """Rooms that no unit serves, and what to do about each."""
    cooling_load_w: float
    sensible_load_w: float
    heating_load_w: float
    """Of the rooms served, each unit's together."""
    unserved_w: float
    """Heat of the rooms that no unit serves."""
    unserved_kwh: float
    """Their heat in a year, counted as electric; nan without hours by temperature."""
    cost_year: float | None
    saves_year: float | None
    """Against what heats and cools the house today; None where that is not known or a room is not served."""
    rebate: float
    """Money that comes back after it is put in, as typed."""
    work: PutIn
    """What it takes to put it in beside the units."""
    holds: int
    """In how many of `DRAWS` houses that are each as this one may be every unit carries its rooms."""
    drifting: tuple[str, ...]
    """Names of rooms that its thermostats don't hold on the design days."""
    heard: Heard | None
    """At the bedroom window that hears its outdoor units most; None without one, or without a place for them."""

    @property
    def cooling_w(self) -> float:
        """Total capacity at the cooling design day."""
        return sum(x.total_w for _, x in self.chosen)

    @property
    def sensible_w(self) -> float:
        """Sensible capacity at the cooling design day."""
        return sum(x.sensible_w for _, x in self.chosen)

    @property
    def heating_w(self) -> float:
        """Capacity at the heating design temperature, backup left out."""
        return sum(x.heating_w for _, x in self.chosen)

    @property
    def backup_w(self) -> float:
        """What electric heat has to carry there, rooms without a unit with it."""
        return sum(x.backup_w for _, x in self.chosen) + self.unserved_w

    @property
    def kwh_year(self) -> float:
        """Electricity; nan without hours by temperature."""
        return sum(x.season.electric_kwh for _, x in self.chosen) + self.unserved_kwh

    @property
    def units_money(self) -> float:
        """Price of the units alone."""
        return sum(x.unit.price for _, x in self.chosen) + sum(m.price for m in self.outdoors)

    @property
    def cost_in(self) -> float:
        """Units with what it takes to put them in, ducts too; as typed where that is."""
        return self.units_money + self.work.money

    @property
    def payback_years(self) -> float | None:
        """What it costs to put in less the rebate over what is saved a year; None where nothing is saved."""
        saved = self.saves_year
        return max(self.cost_in - self.rebate, 0.0) / saved if saved is not None and saved > 1 else None

    @property
    def circuits(self) -> tuple[Machine, ...]:
        """What has an electrical circuit of its own outdoors, or indoors where nothing is shared."""
        shared = {x.id for x in self.design.outdoor_units if x.unit is not None}
        hung = [i.outdoor for i in self.design.indoor_units if i.unit is not None]
        alone = [x.unit for (_, x), o in zip(self.chosen, hung, strict=False) if o not in shared]
        return (*self.outdoors, *alone)

    @property
    def circuit_words(self) -> str:
        """'2 × 12, 20 A': the circuits by their current (MCA)."""
        found = [f"{m.mca_a:.0f}" for m in self.circuits]
        each = [f"{found.count(k)} × {k}" if found.count(k) > 1 else k for k in dict.fromkeys(found)]
        return f"{', '.join(each)} A" if each else "–"

    @property
    def sound_dba(self) -> float:
        """The loudest outdoors, by its maker."""
        return max((x.sound_dba for x in self.circuits), default=0.0)

    def serving(self, room: str) -> int | None:
        """The number of the unit that serves a room; None for none."""
        return next((k for k, (place, _) in enumerate(self.chosen) if room in place.rooms), None)


def summary(r: Results, places: tuple[ServedPlace, ...] = ()) -> Summary:
    """What the design of these results comes to.

    Args:
        places: Roles of its indoor units in their order; none: as they are called.
    """
    job, systems = r.job, [s for s in r.systems.values() if s.equipment.chosen is not None]
    roles = places or tuple(
        ServedPlace(s.design.indoor.tag, s.design.indoor.kind, (), s.design.serves, s.design.indoor.tag)
        for s in systems
    )
    chosen = tuple(x for s in systems if (x := s.equipment.chosen) is not None)
    served = {i for s in systems for i in s.design.serves}
    left = {room.id: remedy(room) for room in job.rooms if room.id not in served}
    left_w = sum(float(w) for w, room in zip(r.loads.heating_w, job.rooms, strict=True) if room.id in left)
    heating_w = sum(s.loads.house_heating_w for s in systems)
    heat_kwh = sum(x.season.year("heat_kwh") for x in chosen)
    left_kwh = left_w * heat_kwh / heating_w if heating_w > 0 else 0.0
    costs = [c for x in chosen if (c := yearly_cost(x, job.energy)) is not None]
    known = len(costs) == len(chosen) > 0
    return Summary(
        job.design.name,
        job.design,
        tuple(zip(roles, chosen, strict=True)),
        tuple(x.unit for x in r.outdoors.values()),
        left,
        sum(s.loads.house_cooling_w for s in systems),
        sum(s.loads.house_sensible_w for s in systems),
        heating_w,
        left_w,
        left_kwh,
        sum(c.year for c in costs) + left_kwh * job.energy.electric_per_kwh if known else None,
        _saves(costs) if known and not left else None,
        job.energy.rebate,
        installed(r),
        sure(r).holds,
        rooms_that_drift(r),
        loudest(job, r),
    )


def _saves(costs: list[Cost]) -> float | None:
    known = [c.saved for c in costs if c.saved is not None]
    return sum(known) if len(known) == len(costs) else None
