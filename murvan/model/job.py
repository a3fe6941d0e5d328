"""The records of a job. SI throughout, the unit at the end of every field name.

Plan coordinates are metres, x to the east of the plan and y to its south, from the plan's north-west
corner; the plan's own north is turned by `Site.north_deg`. Nothing derived is stored here.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from murvan.model.design import (
    AS_FOUND,
    AirSettings,
    Box,
    Design,
    DuctRun,
    Filter,
    Fitting,
    HouseState,
    IndoorUnit,
    Joint,
    OutdoorUnit,
    Plenum,
    Reading,
    RefrigerantLine,
    Register,
    System,
    Tick,
    Ventilator,
    Zone,
    no_twice,
)
from murvan.model.equipment import MultiUnit, Unit
from murvan.model.house import (
    Appliance,
    Construction,
    Exhaust,
    Existing,
    Furniture,
    Glazing,
    KeepClear,
    Layer,
    MechanicalPlace,
    Obstacle,
    Opening,
    Patch,
    Room,
    RoomUse,
    Slope,
    Space,
    Storey,
    Structure,
    Transfer,
    Underlay,
    WallOverride,
)
from murvan.model.limits_set import SizeLimits
from murvan.model.prices import PriceBook
from murvan.model.record import Fraction, Id, Name, Point, Record, Ref, outline_crosses_itself, signed_area
from murvan.model.relations import broken, broken_designs

FORMAT_VERSION = 4

__all__ = [
    "AirSettings",
    "Box",
    "Design",
    "DuctRun",
    "Filter",
    "Fitting",
    "IndoorUnit",
    "Joint",
    "RefrigerantLine",
    "OutdoorUnit",
    "Plenum",
    "AS_FOUND",
    "HouseState",
    "Reading",
    "Ref",
    "Register",
    "System",
    "Tick",
    "Ventilator",
    "Zone",
    "Appliance",
    "Construction",
    "Exhaust",
    "Existing",
    "Fraction",
    "Furniture",
    "Glazing",
    "Id",
    "KeepClear",
    "Obstacle",
    "Layer",
    "MechanicalPlace",
    "Name",
    "Opening",
    "Patch",
    "Point",
    "Record",
    "Room",
    "RoomUse",
    "Slope",
    "Space",
    "Storey",
    "Structure",
    "Transfer",
    "Underlay",
    "WallOverride",
    "outline_crosses_itself",
    "signed_area",
]


class Site(Record):
    """Where the house stands."""

    place: str = Field("", max_length=200)
    latitude_deg: float = Field(40.0, ge=-72, le=72)
    longitude_deg: float = Field(-90.0, ge=-180, le=180)
    altitude_m: float = Field(0.0, ge=-100, le=4500)
    north_deg: float = Field(0.0, ge=-360, le=360)
    """Clockwise turn of true north from the top of the plan."""
    north_known: bool = False
    """Whether somebody has set north; until then it is a guess that faces and sun rest on."""
    shielding: Literal["exposed", "typical", "sheltered"] = "typical"
    time_zone_h: float | None = Field(None, ge=-12, le=14)
    """Standard time, hours ahead of Greenwich. None: by the longitude, to the full hour."""
    summer_time: bool = True
    """Clocks are an hour ahead in summer."""
    seismic: bool = False
    """Whether units are braced against earthquakes here."""


class DesignPoint(Record):
    """A design dry bulb that the record of a place offers."""

    share: Literal["99", "99.6", "1", "0.4"]
    """Share of the year's hours: 99 % are warmer (winter), 1 % are hotter (summer)."""
    dry_c: float = Field(ge=-70, le=60)
    wet_bulb_c: float | None = Field(None, ge=-70, le=45)
    """Mean coincident wet bulb, summer only."""


HourlyTemperature = Annotated[float, Field(ge=-40, le=60)]


class Climate(Record):
    """Design weather of the place."""

    name: str = Field("Entered by hand", max_length=200)
    source: str = Field("", max_length=300)
    winter_c: float = Field(-12.0, ge=-60, le=30)
    summer_c: float = Field(33.0, ge=10, le=55)
    summer_wet_bulb_c: float = Field(23.5, ge=0, le=40)
    daily_range_k: float = Field(11.0, ge=0, le=30)
    wind_winter_m_s: float = Field(6.7, ge=0, le=30)
    wind_summer_m_s: float = Field(3.4, ge=0, le=30)
    ground_c: float = Field(11.0, ge=-10, le=35)
    ground_swing_k: float = Field(12.0, ge=0, le=30)
    taub: float = Field(0.45, ge=0.1, le=1.5)
    """Clear-sky optical depth, beam."""
    taud: float = Field(2.0, ge=1.0, le=3.5)
    """Clear-sky optical depth, diffuse."""
    bin_start_c: float = Field(-30.0, ge=-150, le=60)
    bin_step_k: float = Field(2.5, gt=0, le=10)
    bin_hours: tuple[Annotated[float, Field(ge=0, le=8784)], ...] = ()
    """h a year in each bin."""
    points: tuple[DesignPoint, ...] = Field((), max_length=4)
    """What the place offers to choose from: 99 or 99.6 % in winter, 1 or 0.4 % in summer."""
    hourly_c: tuple[HourlyTemperature, ...] = ()
    """Dry bulb of the summer design day by hour 1..24; none: by maximum and daily range."""
    month_summer_c: tuple[HourlyTemperature, ...] = ()
    """Highest design dry bulb of each month, January first; none: estimated from the yearly swing."""

    moved: bool = False
    """Hours, months and ground have been shifted and scaled to design values that were typed."""
    month_mean_c: tuple[HourlyTemperature, ...] = ()
    """Mean and mean daily range of each month, to be looked at; none: not known."""
    month_range_k: tuple[Annotated[float, Field(ge=0, le=40)], ...] = ()

    @model_validator(mode="after")
    def _possible(self) -> Climate:
        if self.summer_wet_bulb_c > self.summer_c:
            raise ValueError("the wet bulb can't be above the dry bulb")
        if len(self.hourly_c) not in (0, 24):
            raise ValueError(f"a design day has 24 hourly temperatures, here are {len(self.hourly_c)}")
        for months in (self.month_summer_c, self.month_mean_c, self.month_range_k):
            if len(months) not in (0, 12):
                raise ValueError(f"a year has 12 monthly temperatures, here are {len(months)}")
        if self.hourly_c and abs(max(self.hourly_c) - self.summer_c) > 0.1:
            raise ValueError(
                f"the hottest of the 24 hours, {max(self.hourly_c):.1f} °C, is not the summer design "
                f"temperature, {self.summer_c:.1f} °C"
            )
        return self


class Indoor(Record):
    """What the people in the house want."""

    heating_c: float = Field(21.1111111, ge=5, le=32)
    cooling_c: float = Field(23.8888889, ge=10, le=35)
    cooling_rh: float = Field(0.5, ge=0.05, le=0.95)
    """0..1."""
    fresh_air: Literal["standard", "reduced"] = "standard"
    """Fresh air wanted by floor: .03 cfm/ft2 as ASHRAE 62.2 has it, or .01 as some codes do."""
    moisture_rate: float = Field(1.0, ge=0, le=5)
    """Moisture that people and their doings give off, against the usual."""


class Leakage(Record):
    """Air leakage of the shell."""

    ach50: float = Field(7.0, ge=0.1, le=60)
    """1/h at 50 Pa."""
    measured: bool = False


class DesignDay(Record):
    """How the loads are worked out."""

    months: tuple[Annotated[int, Field(ge=1, le=12)], ...] = Field((), max_length=12)
    """Months whose 21st is looked at for the highest cooling load; none: the hottest and the three after it."""
    ground_credit: bool = False
    """Whether the ground takes heat out of floors and walls against it in summer. Without, it only stores the day's."""
    setback_k: float = Field(0.0, ge=0, le=12)
    """Degrees the heating is set back at night; 0: no power to recover is added."""
    recovery_h: float = Field(2.0, ge=1, le=8)
    """Hours in which the rooms come back up."""


class Alternative(Record):
    """What if: a named set of changes to the house, none of them made. What is not set stays as it is."""

    id: Id
    name: Name
    attic_r_m2k_w: float | None = Field(None, gt=0, le=30)
    """Ceilings and roofs brought up to this resistance; those that have more stay."""
    wall_add_r_m2k_w: float | None = Field(None, gt=0, le=15)
    """Insulation added over the outside walls."""
    floor_add_r_m2k_w: float | None = Field(None, gt=0, le=15)
    """Insulation added under floors over crawl space, unheated basement, garage and outdoors."""
    glass_u_w_m2k: float | None = Field(None, gt=0, le=8)
    glass_shgc: Fraction | None = None
    blinds: Fraction | None = None
    """Share of the sun that blinds let in, all windows."""
    overhang_m: float | None = Field(None, ge=0, le=5)
    """Overhang over every window that has less."""
    ach50: float | None = Field(None, ge=0.1, le=60)
    """1/h at 50 Pa."""
    duct_r_m2k_w: float | None = Field(None, ge=0, le=10)
    """Insulation of ducts outside the shell; those that have more keep it."""
    duct_leakage: Fraction | None = None
    recovery: Fraction | None = None
    """Sensible recovery of the ventilation."""
    cooling_c: float | None = Field(None, ge=10, le=35)
    heating_c: float | None = Field(None, ge=5, le=32)


Price = Annotated[float, Field(ge=0, le=100)]


class Energy(Record):
    """What energy costs, a kWh of heat content, and what heats and cools the house today."""

    electric_per_kwh: Price = 0.16
    gas_per_kwh: Price = 0.048
    propane_per_kwh: Price = 0.105
    oil_per_kwh: Price = 0.1
    present: Literal["unknown", "electric", "heat_pump", "gas", "propane", "oil"] = "unknown"
    present_efficiency: float | None = Field(None, gt=0, le=8)
    """Heat given over energy taken; none: usual for its kind."""
    present_cooling: float | None = Field(None, gt=0, le=12)
    """Cold given over electricity taken; none: there is no cooling today."""
    cost_in: float | None = Field(None, ge=0, le=10000000)
    """What the new system costs, installed; none: the unit's price alone stands for it."""
    rebate: float = Field(0.0, ge=0, le=10000000)
    """Money that comes back from it."""
    present_volts: float | None = Field(None, gt=0, le=1000)
    """V."""
    present_amps: float | None = Field(None, ge=0, le=1000)
    """Measured at what heats the house today, while it runs."""
    power_factor: float = Field(1.0, gt=0, le=1)
    """Of that reading: 1 for resistance heat, about 0.9 for a compressor."""


class Services(Record):
    """What the place and the house offer the equipment."""

    snow_m: float = Field(0.0, ge=0, le=5)
    """Snow or flood water over the ground that is to be reckoned with."""
    panel_spaces: int | None = Field(None, ge=0, le=100)
    """Free spaces for double-pole breakers in the panel; none: not looked at."""


class Job(Record):
    """Everything that is known and decided about one house."""

    format_version: int = FORMAT_VERSION
    name: Name
    town: str = Field("", max_length=200)
    number: str = Field("", max_length=60)
    client: str = Field("", max_length=200)
    company: str = Field("", max_length=200)
    site: Site = Field(default_factory=Site)
    climate: Climate = Field(default_factory=Climate)
    indoor: Indoor = Field(default_factory=Indoor)
    leakage: Leakage = Field(default_factory=Leakage)
    design_day: DesignDay = Field(default_factory=DesignDay)
    energy: Energy = Field(default_factory=Energy)
    sizing: SizeLimits = Field(default_factory=SizeLimits)
    prices: PriceBook = Field(default_factory=PriceBook)
    """What things cost whoever puts them in."""
    services: Services = Field(default_factory=Services)
    bedrooms: int = Field(3, ge=0, le=60)
    existing_heat: str = Field("", max_length=300)
    wall_construction: Id | None = None
    partition_construction: Id | None = None
    ceiling_construction: Id | None = None
    floor_construction: Id | None = None
    door_construction: Id | None = None
    roof_construction: Id | None = None
    """Slopes and vaults; none: like the ceiling."""
    raised_construction: Id | None = None
    """Floors over outdoors, a garage or a crawl space; none: like the common floor."""
    basement_construction: Id | None = None
    """Walls below grade; none: like the common wall."""
    foundation: Literal["auto", "slab", "crawl", "basement"] = "auto"
    """What floors at grade stand on where no storey is drawn below; 'auto': a crawl space when the common floor is raised.
    'basement' is an unheated one."""
    knee_construction: Id | None = None
    """Walls to an attic; none: like the common wall."""
    typed_area_m2: float | None = Field(None, gt=0, le=5000)
    """Heated floor by the papers, to hold the plan against."""
    constructions: tuple[Construction, ...] = ()
    glazings: tuple[Glazing, ...] = ()
    storeys: tuple[Storey, ...] = ()
    rooms: tuple[Room, ...] = ()
    openings: tuple[Opening, ...] = ()
    spaces: tuple[Space, ...] = ()
    wall_overrides: tuple[WallOverride, ...] = ()
    patches: tuple[Patch, ...] = ()
    places: tuple[MechanicalPlace, ...] = ()
    keep_clear: tuple[KeepClear, ...] = ()
    obstacles: tuple[Obstacle, ...] = ()
    furniture: tuple[Furniture, ...] = ()
    existing: tuple[Existing, ...] = ()
    underlays: tuple[Underlay, ...] = ()
    appliances: tuple[Appliance, ...] = ()
    alternatives: tuple[Alternative, ...] = Field((), max_length=12)
    units: tuple[Unit, ...] = Field((), max_length=200)
    """The user's own units that designs of this job use or weigh."""
    multi_units: tuple[MultiUnit, ...] = Field((), max_length=50)
    """The user's own outdoor units with several ports."""
    design: Design = Field(default_factory=Design)
    """What is worked on."""
    options: tuple[Design, ...] = Field((), max_length=40)
    """Complete designs set aside."""

    @model_validator(mode="after")
    def _hangs_together(self) -> Job:
        for kind in COLLECTIONS:
            no_twice(kind, getattr(self, kind))
        no_twice("options", (self.design, *self.options))
        for trouble in (*broken(self), *broken_designs(self)):
            raise ValueError(trouble)
        self._walls_are_there()
        return self

    def _walls_are_there(self) -> None:
        rooms = {r.id: r for r in self.rooms}
        for o in self.openings:
            if o.wall >= len(rooms[o.room].outline_m):
                raise ValueError(f"{o.tag}: {rooms[o.room].name} has no wall {o.wall}")


COLLECTIONS = (
    "constructions",
    "glazings",
    "storeys",
    "rooms",
    "openings",
    "spaces",
    "patches",
    "places",
    "keep_clear",
    "obstacles",
    "furniture",
    "existing",
    "underlays",
    "appliances",
    "alternatives",
    "units",
    "multi_units",
)

Job.model_rebuild()
