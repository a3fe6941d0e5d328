"""What is designed for a house: systems with their units, ducts, zones and ventilators. A job holds the one that is
worked on and any number set aside. The house itself, its weather and its survey stay outside.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain
from typing import Annotated, Any, Literal

from pydantic import Field, PrivateAttr, model_validator

from murvan.kinds.duct_materials import DUCT_MATERIALS, PLAIN, DuctMaterial
from murvan.kinds.fittings import FITTINGS
from murvan.kinds.readings import HOLES, QUANTITIES
from murvan.kinds.refrigerants import REFRIGERANTS
from murvan.kinds.registers import REGISTERS
from murvan.model.record import Fraction, Id, Name, Point, Record, Ref
from murvan.model.relations import broken


class System(Record):
    """Units that work together: what a customer buys."""

    id: Id
    name: Name
    candidates: tuple[Id, ...] = ()
    """Units of the catalogue weighed against each other."""
    lockout_c: float | None = Field(None, ge=-50, le=30)
    """Outdoor temperature below which the compressor is kept off."""
    heater_lockout_c: float | None = Field(None, ge=-50, le=30)
    """Outdoor temperature above which electric backup is kept off."""


class OutdoorUnit(Record):
    """A compressor outdoors with what hangs on its ports."""

    id: Id
    system: Id
    unit: Id | None = None
    """Of the catalogue, where several units hang on it; none: it came with its indoor unit."""
    position_m: Point | None = None
    stand_m: float = Field(0.1, ge=0, le=5)
    """Height of its feet over the ground."""
    neighbour_m: float | None = Field(None, gt=0, le=500)
    """To the neighbour's nearest window."""


class Filter(Record):
    """The air filter of a ducted unit."""

    width_m: float = Field(0.508, gt=0, le=3)
    height_m: float = Field(0.635, gt=0, le=3)
    clean_pa: float = Field(25.0, ge=0, le=400)
    """Pressure lost when clean at its rated face velocity of 1.5 m/s (about 300 fpm)."""
    load: float = Field(1.0, ge=1, le=10)
    """Pressure when it is due to be changed, against the clean one; below 2 it counts as 2."""


class Bypass(Record):
    """A duct from the supply plenum back to the return, with a damper that opens when the static there gets high."""

    kind: Literal["barometric", "modulating"] = "barometric"
    """A weighted blade, or a motor that holds the static until it is wide open."""
    diameter_m: float = Field(gt=0.05, le=1)
    opens_pa: float = Field(gt=0, le=500)
    """Of the supply plenum over the return, from which on it opens."""


class ChargePlate(Record):
    """What the outdoor unit's plate says of its charge."""

    refrigerant: Annotated[str, REFRIGERANTS] | None = None
    metering: Literal["valve", "orifice"] = "valve"
    subcooling_k: float | None = Field(None, ge=0, le=30)
    """Wanted of one with a valve."""


class IndoorUnit(Record):
    """What gives a room, or many through ducts, its heat and cold."""

    id: Id
    tag: Name
    system: Id
    kind: Literal["ducted", "wall", "floor", "ceiling"] = "ducted"
    unit: Id | None = None
    """Of the catalogue, with its outdoor unit where they come as a pair."""
    outdoor: Id | None = None
    """The outdoor unit it hangs on."""
    port: int | None = Field(None, ge=1, le=16)
    """Of the outdoor unit, or of the box that its line comes from."""
    storey: Id | None = None
    position_m: Point = (0.0, 0.0)
    way: Literal["upflow", "downflow", "left", "right"] = "upflow"
    """Which way the air goes through it: up, down, or lying, to the left or right of who stands before it."""
    turn_deg: Literal[0, 90, 180, 270] = 0
    """Where its front looks on the plan, clockwise from down the plan."""
    rooms: tuple[Id, ...] = Field((), max_length=200)
    """Rooms it serves; none named: those its registers are in, or the whole house when there is no other unit."""
    heat_share: Fraction = 1.0
    """Of the heat of its rooms; what is kept beside it, such as a boiler or a stove, carries the rest."""
    drain: Literal["gravity", "pump"] = "gravity"
    """How its water gets away."""
    heater_kw: float = Field(0.0, ge=0, le=60)
    """kW of electric heat behind the coil."""
    room_heat_w: float = Field(0.0, ge=0, le=60000)
    """Of electric heaters in its rooms, for what it does not heat by itself."""
    flow_m3_s: float | None = Field(None, gt=0, le=5)
    tap: int = Field(3, ge=1, le=9)
    filter: Filter = Field(default_factory=Filter)
    bypass: Bypass | None = None
    turns_down: bool = False
    """While only some of its zones call, its blower takes the lowest tap that gives them their air."""
    plate: ChargePlate = Field(default_factory=ChargePlate)


class Box(Record):
    """What shares the line of one outdoor unit out among indoor units."""

    id: Id
    outdoor: Id
    kind: Literal["branch_box", "header"] = "branch_box"
    ports: int = Field(4, ge=2, le=16)
    storey: Id | None = None
    position_m: Point | None = None
    height_m: float = Field(0.0, ge=-60, le=60)
    """Over its storey's floor."""


Bend = tuple[
    Annotated[float, Field(ge=-500, le=500)],
    Annotated[float, Field(ge=-500, le=500)],
    Annotated[float, Field(ge=-60, le=100)],
]
"""On the plan, and over the ground outside, m."""


class RefrigerantLine(Record):
    """Refrigerant line of an indoor unit, from its outdoor unit or a box. How it lies is worked out in `linesets`."""

    id: Id
    indoor: Id
    box: Id | None = None
    """The box it comes from."""
    route_m: tuple[Bend, ...] = Field((), max_length=98)
    """Where it turns between its ends, rises included."""
    length_m: float | None = Field(None, ge=0, le=200)
    """As measured; none: as it goes."""
    lift_m: float | None = Field(None, ge=0, le=100)
    """Between its highest and lowest place, as measured; none: as it goes."""


class Zone(Record):
    """Rooms that one thermostat serves."""

    id: Id
    name: Name
    rooms: tuple[Id, ...] = Field((), max_length=400)
    least: Fraction = 0.0
    """How far its dampers stay open while it does not call: a minimum stop, or as the zone that takes what others leave."""
    storey: Id | None = None
    position_m: Point | None = None
    """Of its thermostat."""


class Ventilator(Record):
    """Whole-house ventilation by a fan or a pair of fans."""

    id: Id
    kind: Literal["none", "erv", "hrv", "exhaust", "supply"] = "none"
    flow_m3_s: float = Field(0.0, ge=0, le=2)
    sensible_recovery: Fraction = 0.0
    latent_recovery: Fraction = 0.0
    position_m: Point | None = None
    storey: Id | None = None
    indoor: Id | None = None
    """The unit at whose return its outdoor air enters; none: the first ducted one."""


Profile = Literal["quiet", "balanced", "compact"]
"""Practice of sizing ducts: oversized and hushed, usual, or as small as will do."""


class AirSettings(Record):
    """How the air is shared out."""

    duct_allowance: float | None = Field(None, ge=0, le=1)
    """Share of a room's load added for ducts outside the heated shell, until they are worked out by run. None: by the
    place they lie in, its temperature, and a usual run."""
    duct_leakage: Fraction = 0.05
    """Share of the blower's air that leaks through ducts when they are tested at 25 Pa, both sides together; only what lies
    outside is lost."""
    friction_rate_pa_m: float | None = Field(None, gt=0, le=10)
    velocity_profile: Profile = "balanced"
    returns: Literal["central", "storey", "room"] = "storey"
    """Return grilles that are laid: one for the unit, one a storey, or one in every room with a door that may have one."""


class Fitting(Record):
    """A piece that turns or changes the air in a run."""

    kind: Annotated[str, FITTINGS]
    ratio: float = Field(1.0, gt=0, le=5)
    """Centre-line radius over diameter of an elbow."""
    count: int = Field(1, ge=1, le=20)


Face = Literal["north", "east", "south", "west", "top"]


class Joint(Record):
    """Where runs of duct meet, turn off, change size, leave a plenum or end."""

    id: Id
    storey: Id
    position_m: Point
    height_m: float = Field(ge=-60, le=60)
    """Over its storey's floor."""
    face: Face | None = None
    """Of the plenum, where a tree starts."""
    face_from_end_m: float | None = Field(None, ge=0, le=5)
    """Distance from the plenum's far end to the edge of the take-off; none: where it goes."""
    face_along_m: float | None = Field(None, ge=0, le=5)
    """Of the take-off's middle from the face's left edge, seen from outside with the air going up; none: where it goes."""


class DuctRun(Record):
    """A length of duct without branches, from joint to joint. A trunk is a chain of runs."""

    id: Id
    tag: Name
    indoor: Id
    side: Literal["supply", "return", "fresh"]
    start: Id
    """The joint nearer to the unit. It leaves (supply) or feeds (return) the run that ends there, or the plenum."""
    end: Id
    corners_m: tuple[Point, ...] = Field((), max_length=98)
    """Where it turns between its joints."""
    length_m: float | None = Field(None, ge=0, le=300)
    """As measured; none: as drawn."""
    storey: Id
    place: Literal["inside", "attic", "crawl", "basement", "garage"] | None = None
    """What it lies in; none: what its end lies in."""
    shape: Literal["round", "rectangular", "oval"] = "round"
    diameter_m: float | None = Field(None, gt=0.02, le=2)
    width_m: float | None = Field(None, gt=0.02, le=3)
    height_m: float | None = Field(None, gt=0.02, le=3)
    material: Annotated[str, DUCT_MATERIALS] = PLAIN.id
    stretched: float = Field(0.96, ge=0.5, le=1)
    """Flex as hung, against pulled tight, 0..1."""
    insulation_r_m2k_w: float = Field(0.0, ge=0, le=10)
    fittings: tuple[Fitting, ...] | None = None
    """Its own; none: those that follow from how it lies."""
    held: bool = False
    """Its size was chosen by hand: sizing leaves it."""
    damper: float | None = Field(None, ge=0, le=1)
    """Opening of the balancing damper, 1 open, 0 shut; none: no damper is fitted."""
    zone_damper: Id | None = None
    register_id: Id | None = None
    under_roof_m: float | None = Field(None, gt=0, le=10)
    """Clear height under the roof slope where the run is tightest, as measured; none: by the place it lies in."""

    @model_validator(mode="after")
    def _sized(self) -> DuctRun:
        if self.shape == "round" and self.diameter_m is None:
            raise ValueError("a round run needs a diameter")
        if self.shape != "round" and (self.width_m is None or self.height_m is None):
            raise ValueError("a rectangular or oval run needs a width and a height")
        return self

    @property
    def made_of(self) -> DuctMaterial:
        """The record of its material."""
        return DUCT_MATERIALS[self.material]

    @property
    def has_damper(self) -> bool:
        """A balancing damper is fitted, however far it is open."""
        return self.damper is not None

    @property
    def r_m2k_w(self) -> float:
        """Resistance of its wrap and of what it is made of."""
        return self.insulation_r_m2k_w + self.made_of.r_m2k_w


class Register(Record):
    """A supply register or a return grille."""

    id: Id
    tag: Name
    room: Id
    indoor: Id
    side: Literal["supply", "return"] = "supply"
    kind: Annotated[str, REGISTERS] = "ceiling"
    position_m: Point
    width_m: float = Field(gt=0.02, le=3)
    height_m: float = Field(gt=0.02, le=3)
    free_area: float = Field(0.7, gt=0.05, le=1)
    """Free part of the gross face, 0..1."""
    item: Id | None = None
    """Of the catalogue, where its figures come from."""
    loss: float | None = Field(None, gt=0, le=20)
    """Loss coefficient on the speed in its free area; none: usual."""
    throw_k: float | None = Field(None, gt=0, le=20)
    """K of the jet equation; none: usual for its kind."""
    noise_nc: float | None = Field(None, ge=0, le=80)
    """NC at 500 fpm in the free area of a 10 by 4 in face; none: usual for its kind."""
    share: float = Field(1.0, gt=0, le=100)
    """Its part of the room's air, against the room's other registers."""


Span = Literal["width_m", "depth_m", "height_m"]


class Plenum(Record):
    """The box on the unit that the runs leave or enter. Width and depth are across the air, height is along it: upright on an
    upright unit, away from one that lies, where its depth is upright."""

    id: Id
    indoor: Id
    side: Literal["supply", "return"]
    width_m: float = Field(gt=0.05, le=4)
    depth_m: float = Field(gt=0.05, le=4)
    height_m: float = Field(gt=0.05, le=4)
    position_m: Point
    school: Literal["central", "fan_coil"] = "central"
    held: tuple[Span, ...] = Field((), max_length=3)
    """Sides that were chosen by hand: sizing leaves them."""
    canvas: bool = True
    """A canvas connector joins it to the unit."""


class Tick(Record):
    """A piece that has been hung: what it belongs to, which of its pieces, and when it went up."""

    at: Ref
    """Of a run, a register, a plenum or an indoor unit."""
    part: str = Field("", max_length=20)
    """Which piece of it, where it has several."""
    day: str = Field("", max_length=40)

    @property
    def id(self) -> str:
        return piece_id(self.at, self.part)


def piece_id(at: Ref, part: str) -> str:
    """What tells a piece from all others of a design."""
    return f"{at.kind}-{at.id}" + (f"-{part}" if part else "")


class HouseState(Record):
    """How the house stands while something is read."""

    doors: Literal["open", "shut"] = "open"
    """Those between rooms, all of them."""
    filter: Literal["in", "out"] = "in"
    calling: tuple[Id, ...] = ()
    """Zones that call; none named: all."""
    mode: Literal["", "heating", "cooling", "fan"] = ""
    """What the units do, at full output; '' where nobody noted it."""
    outdoor_c: float | None = Field(None, ge=-60, le=60)

    @property
    def of_air(self) -> HouseState:
        """What of it moves air otherwise."""
        return HouseState(doors=self.doors, filter=self.filter, calling=self.calling)


AS_FOUND = HouseState()
"""Doors open, filters in, all zones calling."""


class Reading(Record):
    """One measured value in SI: flow m3/s, pressure Pa, temperature degrees Celsius."""

    id: Id
    at: Ref
    """A register, an indoor unit, a room for its pressure, or a run whose section was traversed."""
    hole: Annotated[str, HOLES] | None = None
    """The test hole of the unit, or of the duct to the register."""
    quantity: Annotated[str, QUANTITIES]
    value: float = Field(ge=-5000, le=5_000_000)
    phase: Literal["before", "after"] = "after"
    instrument: str = Field("", max_length=200)
    simulated: bool = False
    taken: str = Field("", max_length=40)
    person: str = Field("", max_length=40)
    uncertainty: float = Field(0.05, ge=0, le=1)
    """Standard uncertainty, a share of the value."""
    layout: int = Field(0, ge=0, le=1_000_000)
    """The design's `layout` that it was taken of; a reading of an earlier one is history."""
    note: str = Field("", max_length=1000)
    state: HouseState = AS_FOUND
    """How the house stood."""
    points: tuple[Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)], ...] = Field((), max_length=200)
    """Velocities of a traverse, m/s, in the order of its grid."""

    @model_validator(mode="after")
    def _possible(self) -> Reading:
        of = QUANTITIES[self.quantity]
        if not of.least <= self.value <= of.most:
            raise ValueError(
                f"a {of.id} of {self.value:g} can't be read; allowed are {of.least:g} to {of.most:g} in SI"
            )
        if self.hole is not None and self.at.kind != HOLES[self.hole].of:
            raise ValueError(f"no {self.at.kind} has a test hole “{self.hole}”")
        return self


class Design(Record):
    """One way to heat and cool the house."""

    id: Id = "design1"
    name: Name = "Design"
    note: str = Field("", max_length=2000)
    air: AirSettings = Field(default_factory=AirSettings)
    systems: tuple[System, ...] = (System(id="system1", name="System"),)
    outdoor_units: tuple[OutdoorUnit, ...] = ()
    indoor_units: tuple[IndoorUnit, ...] = (IndoorUnit(id="unit1", tag="Unit", system="system1"),)
    boxes: tuple[Box, ...] = ()
    lines: tuple[RefrigerantLine, ...] = ()
    zones: tuple[Zone, ...] = ()
    ventilators: tuple[Ventilator, ...] = ()
    plenums: tuple[Plenum, ...] = ()
    joints: tuple[Joint, ...] = ()
    runs: tuple[DuctRun, ...] = ()
    registers: tuple[Register, ...] = ()
    layout: int = Field(0, ge=0, le=1_000_000)
    """How often ducts have been laid anew over laid ones."""
    ticks: tuple[Tick, ...] = ()
    """What has been hung so far."""
    readings: tuple[Reading, ...] = ()
    """What has been measured of it."""
    stands: HouseState = AS_FOUND
    """How the house stands now, for readings to come."""
    skipped: tuple[Annotated[str, Field(max_length=200)], ...] = Field((), max_length=400)
    """Steps of the visit that are left out."""

    _checked: bool = PrivateAttr(False)
    """A job validates its designs again at every edit; one that has passed need not pass again."""

    @model_validator(mode="after")
    def _hangs_together(self) -> Design:
        if self._checked:
            return self
        if not self.indoor_units:
            raise ValueError("a design has at least one indoor unit; it may be one that is not chosen yet")
        for kind in COLLECTIONS:
            no_twice(kind, getattr(self, kind))
        _one_zone_a_room(self.zones)
        for indoor in self.indoor_units:
            sides = [x.side for x in self.plenums if x.indoor == indoor.id]
            if len(sides) != len(set(sides)):
                raise ValueError(f"{indoor.tag} has two plenums on one side")
        # one after the other: what comes later rests on references that are whole
        for trouble in chain(broken(self), _tree_troubles(self), _line_troubles(self)):
            raise ValueError(trouble)
        self._checked = True
        return self


COLLECTIONS = (
    "systems",
    "outdoor_units",
    "indoor_units",
    "boxes",
    "lines",
    "zones",
    "ventilators",
    "plenums",
    "joints",
    "runs",
    "registers",
    "ticks",
    "readings",
)
"""The tuples of records of a design, by their field name."""


def no_twice(kind: str, items: tuple[Any, ...]) -> None:
    """Refuse an id that stands twice in a collection."""
    seen: set[str] = set()
    for item in items:
        if item.id in seen:
            raise ValueError(f"{kind}: the id '{item.id}' stands twice")
        seen.add(item.id)


def _one_zone_a_room(zones: tuple[Zone, ...]) -> None:
    zone_of: dict[str, str] = {}
    for zone in zones:
        for room in zone.rooms:
            if room in zone_of:
                raise ValueError(f"room '{room}' stands in the zones {zone_of[room]} and {zone.name}")
            zone_of[room] = zone.name


def _line_troubles(design: Design) -> Iterator[str]:
    """One line a unit, a box of the unit's own outdoor unit, one unit a port."""
    boxes, units = {b.id: b for b in design.boxes}, {x.id: x for x in design.indoor_units}
    lines: dict[str, RefrigerantLine] = {}
    for line in design.lines:
        unit = units[line.indoor]
        if line.indoor in lines:
            yield f"{unit.tag} has two refrigerant lines, {lines[line.indoor].id} and {line.id}"
        lines[line.indoor] = line
        if line.box is not None and boxes[line.box].outdoor != unit.outdoor:
            yield f"the line of {unit.tag} comes from a box of another outdoor unit"
    taken: dict[tuple[str, int], str] = {}
    for unit in design.indoor_units:
        if unit.port is None:
            continue
        of = lines[unit.id].box if unit.id in lines and lines[unit.id].box else unit.outdoor
        if of is None:
            yield f"{unit.tag} has a port but no outdoor unit"
            continue
        if of in boxes and unit.port > boxes[of].ports:
            yield f"{unit.tag} is on port {unit.port} of a box with {boxes[of].ports}"
        if (of, unit.port) in taken:
            yield f"{unit.tag} and {taken[of, unit.port]} are on the same port {unit.port}"
        taken[of, unit.port] = unit.tag


def _tree_troubles(design: Design) -> Iterator[str]:
    """One unit and one side from the plenum to the register, every register on one run, every joint the end of one, no
    loop."""
    by_end: dict[str, DuctRun] = {}
    for run in design.runs:
        if run.end in by_end:
            yield f"run {run.tag} and {by_end[run.end].tag} end in the same joint; one of them has to start there"
        if run.end == run.start:
            yield f"run {run.tag} starts and ends in the same joint"
        by_end[run.end] = run
    registers = {r.id: r for r in design.registers}
    hangs: dict[str, str] = {}
    for run in design.runs:
        over = by_end.get(run.start)
        if over is not None and over.side != run.side:
            yield f"run {run.tag} is a {run.side} run and can't join {over.tag}, which is {over.side}"
        if over is not None and over.indoor != run.indoor:
            yield f"run {run.tag} is of '{run.indoor}' and can't join {over.tag} of '{over.indoor}'"
        face = registers.get(run.register_id or "")
        if face is None:
            continue
        if face.side != run.side:
            yield f"run {run.tag} is a {run.side} run and can't end in {face.tag}, which is {face.side}"
        if face.indoor != run.indoor:
            yield f"run {run.tag} is of '{run.indoor}' and can't end in {face.tag} of '{face.indoor}'"
        if face.id in hangs:
            yield f"{face.tag} can't hang on two runs, {hangs[face.id]} and {run.tag}"
        hangs[face.id] = run.tag
    leads: dict[str, bool] = {}
    for run in design.runs:
        way: list[str] = []
        at: DuctRun | None = run
        while at is not None and at.id not in leads:
            leads[at.id] = False  # under way: met again, the tree is a ring
            way.append(at.id)
            at = by_end.get(at.start)
        ends = at is None or leads[at.id]
        leads |= dict.fromkeys(way, ends)
        if not ends:
            yield f"run {run.tag} leads back to itself"
