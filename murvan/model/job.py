"""The records of a job. SI throughout, the unit at the end of every field name.

Plan coordinates are metres, x to the east of the plan and y to its south, from the plan's north-west
corner; the plan's own north is turned by `Site.north_deg`. Nothing derived is stored here.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

FORMAT_VERSION = 1

Id = Annotated[str, Field(min_length=1, max_length=64, pattern=r"^[A-Za-z0-9_.-]+$")]
Name = Annotated[str, Field(min_length=1, max_length=200)]
Point = tuple[
    Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)],
    Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)],
]
Fraction = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class Record(BaseModel):
    """Base of all records: frozen, refuses unknown fields and not-a-number."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class Site(Record):
    """Where the house stands."""

    place: str = Field("", max_length=200)
    latitude_deg: float = Field(40.0, ge=-66, le=66)
    longitude_deg: float = Field(-90.0, ge=-180, le=180)
    altitude_m: float = Field(0.0, ge=-100, le=4500)
    north_deg: float = Field(0.0, ge=-360, le=360)
    """Clockwise turn of true north from the top of the plan."""
    shielding: Literal["exposed", "typical", "sheltered"] = "typical"


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
    taud: float = Field(2.0, ge=1.0, le=3.5)
    bin_start_c: float = Field(-30.0, ge=-60, le=40)
    bin_step_k: float = Field(2.5, gt=0, le=10)
    bin_hours: tuple[Annotated[float, Field(ge=0, le=8784)], ...] = ()

    @model_validator(mode="after")
    def _wet_bulb_below_dry(self) -> Climate:
        if self.summer_wet_bulb_c > self.summer_c:
            raise ValueError("the wet bulb can't be above the dry bulb")
        return self


class Indoor(Record):
    """What the people in the house want."""

    heating_c: float = Field(21.1111111, ge=5, le=32)
    cooling_c: float = Field(23.8888889, ge=10, le=35)
    cooling_rh: float = Field(0.5, ge=0.05, le=0.95)


class Layer(Record):
    """One layer of a construction. Either a thickness with a conductivity, or a resistance alone."""

    name: Name
    thickness_m: float = Field(0.0, ge=0, le=2)
    conductivity_w_mk: float | None = Field(None, gt=0, le=400)
    r_m2k_w: float | None = Field(None, ge=0, le=30)
    density_kg_m3: float = Field(0.0, ge=0, le=9000)
    specific_heat_j_kgk: float = Field(0.0, ge=0, le=5000)
    framing_r_m2k_w: float | None = Field(None, ge=0, le=30)
    """Resistance of the wood that stands in this layer at the framing, if any does."""
    look: Literal["siding", "wood", "batt", "gypsum", "gap", "concrete", "foam", "blown", "masonry"] = "gypsum"

    @model_validator(mode="after")
    def _has_resistance(self) -> Layer:
        if self.r_m2k_w is None and (self.conductivity_w_mk is None or self.thickness_m == 0):
            raise ValueError("give a resistance, or a thickness with a conductivity")
        return self


class Construction(Record):
    """Layers from outside to inside."""

    id: Id
    name: Name
    kind: Literal["wall", "partition", "ceiling", "roof", "floor", "slab", "door"]
    layers: tuple[Layer, ...] = Field(min_length=1)
    framing_fraction: float = Field(0.0, ge=0, le=0.6)
    absorptance: float = Field(0.6, ge=0, le=1)
    edge_f_w_mk: float | None = Field(None, ge=0, le=5)
    """Slab only: heat lost per metre of exposed edge and kelvin."""
    assumed: bool = False


class Glazing(Record):
    """A window make-up."""

    id: Id
    name: Name
    u_w_m2k: float = Field(gt=0, le=8)
    shgc: Fraction
    inside_shade: float = Field(1.0, ge=0, le=1)
    """Interior attenuation coefficient: 1 without blinds."""


class Storey(Record):
    """One level of the house, from its finished floor to its ceiling."""

    id: Id
    name: Name
    height_m: float = Field(gt=1.5, le=12)
    ceiling_space_m: float = Field(0.0, ge=0, le=5)
    """Clear depth above the ceiling in which ducts of this storey run."""
    duct_place: Literal["inside", "attic", "crawl", "basement", "garage"] = "inside"


RoomUse = Literal[
    "living", "dining", "kitchen", "bedroom", "bath", "powder", "hall", "landing", "study", "utility", "other"
]


class Room(Record):
    """A room as a polygon on its storey's plan, vertices in order, wall i from vertex i to vertex i + 1."""

    id: Id
    name: Name
    storey: Id
    outline_m: tuple[Point, ...] = Field(min_length=3, max_length=200)
    use: RoomUse = "other"
    zone: Id | None = None
    height_m: float | None = Field(None, gt=1.0, le=12)
    ceiling: Literal["auto", "attic", "roof", "heated"] = "auto"
    floor: Literal["auto", "slab", "crawl", "basement", "outdoors", "garage", "heated"] = "auto"
    people: float = Field(0.0, ge=0, le=200)
    appliances_w: float = Field(0.0, ge=0, le=20000)
    exhaust: Exhaust | None = None
    transfer: Transfer | None = None

    @field_validator("outline_m")
    @classmethod
    def _closed_shape(cls, outline: tuple[Point, ...]) -> tuple[Point, ...]:
        if abs(signed_area(outline)) < 0.05:
            raise ValueError("the outline encloses no area")
        if outline_crosses_itself(outline):
            raise ValueError("the outline crosses itself")
        return outline


class Exhaust(Record):
    """An exhaust fan to the outside."""

    flow_m3_s: float = Field(gt=0, le=1)
    continuous: bool = False


class Transfer(Record):
    """How a room's air gets back when its door is shut."""

    kind: Literal["undercut", "grille", "jump"] = "undercut"
    area_m2: float = Field(0.0, ge=0, le=1)
    undercut_m: float = Field(0.0127, ge=0, le=0.2)


class Opening(Record):
    """A window, door or archway in wall `wall` of a room, `offset_m` from that wall's first vertex."""

    id: Id
    tag: Name
    kind: Literal["window", "door", "archway"]
    room: Id
    wall: int = Field(ge=0, le=199)
    offset_m: float = Field(ge=0, le=200)
    width_m: float = Field(gt=0, le=20)
    height_m: float = Field(gt=0, le=10)
    sill_m: float = Field(0.0, ge=0, le=10)
    glazing: Id | None = None
    construction: Id | None = None
    inside: bool = False
    """A door between two rooms: drawn, and closed for the room pressure, but no heat loss."""
    blinds: float = Field(1.0, ge=0, le=1)
    overhang_m: float = Field(0.0, ge=0, le=10)


class Space(Record):
    """An unheated space beside the rooms, such as a garage."""

    id: Id
    name: Name
    storey: Id
    outline_m: tuple[Point, ...] = Field(min_length=3, max_length=200)
    kind: Literal["garage", "porch"] = "garage"
    u_shell_w_m2k: float = Field(2.5, gt=0, le=8)
    air_changes_h: float = Field(1.5, ge=0, le=60)


class WallOverride(Record):
    """A wall that differs from the job's common one."""

    room: Id
    wall: int = Field(ge=0, le=199)
    construction: Id | None = None
    other_side: Literal["auto", "outdoors", "garage", "heated"] = "auto"


class Leakage(Record):
    """Air leakage of the shell."""

    ach50: float = Field(7.0, ge=0.1, le=60)
    measured: bool = False


class Ventilation(Record):
    """Whole-house ventilation."""

    kind: Literal["none", "erv", "hrv", "exhaust", "supply"] = "none"
    flow_m3_s: float = Field(0.0, ge=0, le=2)
    sensible_recovery: Fraction = 0.0
    latent_recovery: Fraction = 0.0
    position_m: Point | None = None
    storey: Id | None = None


class Zone(Record):
    """Rooms that one thermostat serves."""

    id: Id
    name: Name


class System(Record):
    """The chosen unit and how it is set."""

    unit: Id | None = None
    candidates: tuple[Id, ...] = ()
    heater_kw: float = Field(0.0, ge=0, le=60)
    lockout_c: float | None = Field(None, ge=-50, le=30)
    flow_m3_s: float | None = Field(None, gt=0, le=5)
    tap: int = Field(3, ge=1, le=9)
    storey: Id | None = None
    position_m: Point = (0.0, 0.0)
    outdoor_position_m: Point | None = None
    line_length_m: float = Field(8.0, ge=0, le=200)
    line_lift_m: float = Field(1.0, ge=0, le=100)
    filter_width_m: float = Field(0.508, gt=0, le=3)
    filter_height_m: float = Field(0.635, gt=0, le=3)
    filter_pa: float = Field(25.0, ge=0, le=400)
    """Pressure lost in the clean filter at its rated face velocity of 1.5 m/s (about 300 fpm)."""
    filter_load: float = Field(1.0, ge=1, le=10)


class Air(Record):
    """How the air is shared out."""

    duct_allowance: float = Field(0.1, ge=0, le=0.6)
    """Share of a room's load added for ducts outside the heated shell, until they are worked out by run."""
    friction_rate_pa_m: float | None = Field(None, gt=0, le=10)
    velocity_profile: Literal["quiet", "balanced", "compact"] = "balanced"
    moisture_rate: float = Field(1.0, ge=0, le=5)


class Fitting(Record):
    """A piece that turns or changes the air in a run."""

    kind: Literal[
        "takeoff",
        "takeoff45",
        "elbow",
        "elbow_gored",
        "elbow_square",
        "elbow_vanes",
        "bend45",
        "reducer",
        "boot",
        "boot_flex_turn",
        "wye",
        "plenum_exit",
        "plenum_entry",
        "end_cap",
        "riser",
    ]
    ratio: float = Field(1.0, gt=0, le=5)
    """Centre-line radius over diameter of an elbow."""
    count: int = Field(1, ge=1, le=20)


class DuctRun(Record):
    """A length of duct without branches. A trunk is a chain of runs."""

    id: Id
    tag: Name
    side: Literal["supply", "return", "fresh"]
    parent: Id | None = None
    """The run it leaves (supply) or feeds (return); none: the unit's plenum."""
    storey: Id
    path_m: tuple[Point, ...] = Field(min_length=2, max_length=100)
    rise_m: float = Field(0.0, ge=-30, le=30)
    place: Literal["inside", "attic", "crawl", "basement", "garage"] = "inside"
    shape: Literal["round", "rectangular", "oval"] = "round"
    diameter_m: float | None = Field(None, gt=0.02, le=2)
    width_m: float | None = Field(None, gt=0.02, le=3)
    height_m: float | None = Field(None, gt=0.02, le=3)
    material: Literal["galvanised", "flex", "lined", "plastic"] = "galvanised"
    stretched: float = Field(0.96, ge=0.5, le=1)
    insulation_r_m2k_w: float = Field(0.0, ge=0, le=10)
    fittings: tuple[Fitting, ...] = ()
    damper: float | None = Field(None, ge=0.02, le=1)
    """Opening of the balancing damper, 1 open; none: no damper is fitted."""
    zone_damper: Id | None = None
    register_id: Id | None = None
    under_roof_m: float | None = Field(None, gt=0, le=10)
    """Clear height under the roof slope where the run is tightest."""
    face: Literal["north", "east", "south", "west", "top"] | None = None
    """Plenum face it leaves, for runs without a parent."""
    face_from_end_m: float | None = Field(None, ge=0, le=5)
    """Distance from the plenum's far end to the edge of the take-off."""

    @model_validator(mode="after")
    def _sized(self) -> DuctRun:
        if self.shape == "round" and self.diameter_m is None:
            raise ValueError("a round run needs a diameter")
        if self.shape != "round" and (self.width_m is None or self.height_m is None):
            raise ValueError("a rectangular or oval run needs a width and a height")
        return self


class Register(Record):
    """A supply register or a return grille."""

    id: Id
    tag: Name
    room: Id
    side: Literal["supply", "return"] = "supply"
    kind: Literal["ceiling", "sidewall", "floor", "filter_grille", "grille"] = "ceiling"
    position_m: Point
    width_m: float = Field(gt=0.02, le=3)
    height_m: float = Field(gt=0.02, le=3)
    free_area: float = Field(0.7, gt=0.05, le=1)
    share: float = Field(1.0, gt=0, le=100)
    """Its part of the room's air, against the room's other registers."""


class Plenum(Record):
    """The box on the unit that the runs leave or enter."""

    side: Literal["supply", "return"]
    width_m: float = Field(gt=0.05, le=4)
    depth_m: float = Field(gt=0.05, le=4)
    height_m: float = Field(gt=0.05, le=4)
    position_m: Point
    school: Literal["central", "fan_coil"] = "central"


class Build(Record):
    """What has been hung so far: piece id to the day it went up."""

    done: dict[str, str] = Field(default_factory=dict)


class Reading(Record):
    """One measured value in SI: flow m3/s, pressure Pa, temperature degrees Celsius."""

    id: Id
    place: Id
    quantity: Literal["flow", "static", "temperature", "power", "leakage"]
    value: float = Field(ge=-5000, le=100000)
    phase: Literal["before", "after"] = "after"
    instrument: str = Field("", max_length=200)
    simulated: bool = False
    taken: str = Field("", max_length=40)
    person: str = Field("", max_length=40)
    uncertainty: float = Field(0.05, ge=0, le=1)
    note: str = Field("", max_length=1000)

    @model_validator(mode="after")
    def _possible(self) -> Reading:
        low, high = {"flow": (0, 20), "leakage": (0, 20), "static": (-3000, 3000), "temperature": (-60, 120)}.get(
            self.quantity, (0, 100000)
        )
        if not low <= self.value <= high:
            raise ValueError(f"a {self.quantity} of {self.value:g} can't be read; allowed are {low} to {high} in SI")
        return self


class Job(Record):
    """Everything that is known and decided about one house."""

    format_version: int = FORMAT_VERSION
    name: Name
    town: str = Field("", max_length=200)
    number: str = Field("", max_length=60)
    client: str = Field("", max_length=200)
    company: str = Field("", max_length=200)
    site: Site = Site()
    climate: Climate = Climate()
    indoor: Indoor = Indoor()
    leakage: Leakage = Leakage()
    bedrooms: int = Field(3, ge=0, le=60)
    existing_heat: str = Field("", max_length=300)
    wall_construction: Id | None = None
    partition_construction: Id | None = None
    ceiling_construction: Id | None = None
    floor_construction: Id | None = None
    door_construction: Id | None = None
    constructions: tuple[Construction, ...] = ()
    glazings: tuple[Glazing, ...] = ()
    storeys: tuple[Storey, ...] = ()
    rooms: tuple[Room, ...] = ()
    openings: tuple[Opening, ...] = ()
    spaces: tuple[Space, ...] = ()
    wall_overrides: tuple[WallOverride, ...] = ()
    zones: tuple[Zone, ...] = ()
    ventilation: Ventilation = Ventilation()
    system: System = System()
    air: Air = Air()
    plenums: tuple[Plenum, ...] = ()
    runs: tuple[DuctRun, ...] = ()
    registers: tuple[Register, ...] = ()
    build: Build = Build()
    readings: tuple[Reading, ...] = ()

    @model_validator(mode="after")
    def _hangs_together(self) -> Job:
        for kind, items in self.collections().items():
            seen: set[str] = set()
            for item in items:
                if item.id in seen:
                    raise ValueError(f"{kind}: the id '{item.id}' stands twice")
                seen.add(item.id)
        for what, wanted, known in self._references():
            if wanted is not None and wanted not in known:
                raise ValueError(f"{what} refers to '{wanted}', which is not in the job")
        self._runs_form_trees()
        return self

    def collections(self) -> dict[str, tuple[Any, ...]]:
        """Every tuple of records that carry an id, by its field name."""
        return {k: getattr(self, k) for k in COLLECTIONS}

    def _references(self) -> Iterable[tuple[str, str | None, set[str]]]:
        rooms = {r.id: r for r in self.rooms}
        storeys = {s.id for s in self.storeys}
        constructions = {c.id for c in self.constructions}
        glazings = {g.id for g in self.glazings}
        zones = {z.id for z in self.zones}
        registers = {r.id for r in self.registers}
        runs = {r.id for r in self.runs}
        room_ids = set(rooms)
        for role in ("wall", "partition", "ceiling", "floor", "door"):
            yield f"the common {role}", getattr(self, f"{role}_construction"), constructions
        for room in self.rooms:
            yield f"{room.name}, storey", room.storey, storeys
            yield f"{room.name}, zone", room.zone, zones
        for o in self.openings:
            yield f"{o.tag}, room", o.room, room_ids
            yield f"{o.tag}, glazing", o.glazing, glazings
            yield f"{o.tag}, construction", o.construction, constructions
            if o.room in rooms and o.wall >= len(rooms[o.room].outline_m):
                raise ValueError(f"{o.tag}: {rooms[o.room].name} has no wall {o.wall}")
        for s in self.spaces:
            yield f"{s.name}, storey", s.storey, storeys
        for w in self.wall_overrides:
            yield f"wall {w.wall}, room", w.room, room_ids
            yield f"wall {w.wall} of {w.room}, construction", w.construction, constructions
        for register in self.registers:
            yield f"register {register.tag}, room", register.room, room_ids
        for run in self.runs:
            yield f"run {run.tag}, storey", run.storey, storeys
            yield f"run {run.tag}, parent", run.parent, runs
            yield f"run {run.tag}, register", run.register_id, registers
            yield f"run {run.tag}, zone damper", run.zone_damper, zones
        yield "the unit, storey", self.system.storey, storeys
        yield "ventilation, storey", self.ventilation.storey, storeys

    def _runs_form_trees(self) -> None:
        parent = {r.id: r.parent for r in self.runs}
        for run in self.runs:
            steps, at = 0, run.parent
            while at is not None:
                steps += 1
                if steps > len(parent):
                    raise ValueError(f"run {run.tag} leads back to itself")
                at = parent.get(at)


COLLECTIONS = (
    "constructions",
    "glazings",
    "storeys",
    "rooms",
    "openings",
    "spaces",
    "zones",
    "runs",
    "registers",
    "readings",
)

Room.model_rebuild()
Job.model_rebuild()


def signed_area(outline: tuple[Point, ...]) -> float:
    """Shoelace area of an outline, m2, positive when it runs clockwise on the screen (y down)."""
    total = 0.0
    for (x0, y0), (x1, y1) in zip(outline, outline[1:] + outline[:1], strict=True):
        total += x0 * y1 - x1 * y0
    return total / 2


def outline_crosses_itself(outline: tuple[Point, ...]) -> bool:
    """Whether two walls that are not neighbours cut each other."""
    n = len(outline)
    walls = [(outline[i], outline[(i + 1) % n]) for i in range(n)]
    for i in range(n):
        for j in range(i + 2, n):
            if i == 0 and j == n - 1:
                continue
            if _cut(*walls[i], *walls[j]):
                return True
    return False


def _cut(a: Point, b: Point, c: Point, d: Point) -> bool:
    def side(p: Point, q: Point, r: Point) -> float:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    return side(a, b, c) * side(a, b, d) < -1e-12 and side(c, d, a) * side(c, d, b) < -1e-12
