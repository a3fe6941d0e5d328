"""What the stages of one indoor unit see: its own records of the design, and the house."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeVar

from murvan.model.design import AirSettings, Box, IndoorUnit, OutdoorUnit, Plenum, Register, System, Tick, Ventilator
from murvan.model.job import Climate, DesignDay, Job, Room, Space, Storey
from murvan.model.limits_set import SizeLimits
from murvan.model.linesets import LaidLine, laid_line
from murvan.model.routes import LaidRun
from murvan.model.unit_edit import served_rooms

T = TypeVar("T", Plenum, LaidRun, Register)


@dataclass(frozen=True)
class UnitDesign:
    """One indoor unit with what belongs to it."""

    indoor: IndoorUnit
    system: System
    outdoor: OutdoorUnit | None
    beside: tuple[str, ...]
    """Units of the catalogue that hang on the same outdoor unit."""
    first_on_outdoor: bool
    """No other before it hangs on its outdoor unit."""
    line: LaidLine
    boxes: tuple[Box, ...]
    """Of its outdoor unit, with the first unit that hangs on it."""
    serves: tuple[str, ...]
    """Ids of the rooms that it carries."""
    ventilators: tuple[Ventilator, ...]
    """Those whose outdoor air enters at its return."""
    plenums: tuple[Plenum, ...]
    runs: tuple[LaidRun, ...]
    """As they lie."""
    registers: tuple[Register, ...]
    air: AirSettings
    ticks: tuple[Tick, ...]
    """Of the whole design."""
    rooms: tuple[Room, ...]
    storeys: tuple[Storey, ...]
    spaces: tuple[Space, ...]
    climate: Climate
    sizing: SizeLimits
    design_day: DesignDay
    seismic: bool
    """Whether units are braced here."""

    @property
    def id(self) -> str:
        """Of the indoor unit."""
        return self.indoor.id

    @property
    def line_m(self) -> float:
        """How long its refrigerant line is."""
        return self.line.length_m

    @property
    def fresh_m3_s(self) -> float:
        """Outdoor air that fans bring to its return."""
        return sum(v.flow_m3_s for v in self.ventilators if v.kind in ("erv", "hrv", "supply"))


def unit_designs(job: Job, laid: tuple[LaidRun, ...]) -> tuple[UnitDesign, ...]:
    """The units of the design that is worked on, in its order; `laid` are its runs as they lie."""
    return tuple(unit_design(job, x, laid) for x in job.design.indoor_units)


def unit_design(job: Job, indoor: IndoorUnit, laid: tuple[LaidRun, ...]) -> UnitDesign:
    """One unit of the design that is worked on."""
    d = job.design

    def own(items: tuple[T, ...]) -> tuple[T, ...]:
        return tuple(x for x in items if x.indoor == indoor.id)

    registers = own(d.registers)
    return UnitDesign(
        indoor=indoor,
        system=next(x for x in d.systems if x.id == indoor.system),
        outdoor=next((x for x in d.outdoor_units if x.id == indoor.outdoor), None),
        beside=_beside(job, indoor),
        first_on_outdoor=_first_on(job, indoor),
        line=laid_line(d, indoor, job.storeys),
        boxes=_boxes(job, indoor),
        serves=served_rooms(job, indoor),
        ventilators=tuple(v for v in d.ventilators if (v.indoor or _first_ducted(job)) == indoor.id),
        plenums=own(d.plenums),
        runs=own(laid),
        registers=registers,
        air=d.air,
        ticks=d.ticks,
        rooms=job.rooms,
        storeys=job.storeys,
        spaces=job.spaces,
        climate=job.climate,
        sizing=job.sizing,
        design_day=job.design_day,
        seismic=job.site.seismic,
    )


def _beside(job: Job, indoor: IndoorUnit) -> tuple[str, ...]:
    if indoor.outdoor is None:
        return ()
    others = (x for x in job.design.indoor_units if x.outdoor == indoor.outdoor and x.id != indoor.id)
    return tuple(x.unit for x in others if x.unit is not None)


def _boxes(job: Job, indoor: IndoorUnit) -> tuple[Box, ...]:
    """What hangs with this unit: the boxes of its outdoor unit, where it is the first on it."""
    return tuple(b for b in job.design.boxes if b.outdoor == indoor.outdoor) if _first_on(job, indoor) else ()


def _first_on(job: Job, indoor: IndoorUnit) -> bool:
    return indoor.id == next(x.id for x in job.design.indoor_units if x.outdoor == indoor.outdoor)


def _first_ducted(job: Job) -> str:
    units = job.design.indoor_units
    return next((x.id for x in units if x.kind == "ducted"), units[0].id)
