"""The records of the house itself: constructions, storeys, rooms, openings, and what stands or hangs in it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from murvan.kinds.obstacles import OBSTACLES
from murvan.model.record import Fraction, Id, Name, Point, Record, outline_crosses_itself, signed_area

Look = Literal["siding", "wood", "batt", "gypsum", "gap", "concrete", "foam", "blown", "masonry"]


def _encloses(least_m2: float) -> AfterValidator:
    """An outline that encloses an area and does not cross itself."""

    def check(outline: tuple[Point, ...]) -> tuple[Point, ...]:
        if abs(signed_area(outline)) < least_m2:
            raise ValueError("the outline encloses no area")
        if outline_crosses_itself(outline):
            raise ValueError("the outline crosses or touches itself")
        return outline

    return AfterValidator(check)


Outline = Annotated[tuple[Point, ...], Field(min_length=3, max_length=200), _encloses(0.05)]
Thin = Annotated[tuple[Point, ...], Field(min_length=3, max_length=200), _encloses(1e-4)]
"""An outline that may be as small as that of a pipe."""


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
    look: Look = "gypsum"

    @model_validator(mode="after")
    def _has_resistance(self) -> Layer:
        if self.r_m2k_w is None and (self.conductivity_w_mk is None or self.thickness_m == 0):
            raise ValueError("give a resistance, or a thickness with a conductivity")
        for name, value, least, unit in (
            ("thickness", self.thickness_m, 1e-5, "m"),
            ("density", self.density_kg_m3, 0.5, "kg/m³"),
            ("specific heat", self.specific_heat_j_kgk, 50.0, "J/kgK"),
            ("resistance", self.r_m2k_w, 1e-6, "m²K/W"),
            ("framing resistance", self.framing_r_m2k_w, 1e-6, "m²K/W"),
        ):
            if value is not None and 0 < value < least:
                raise ValueError(f"a {name} of {value:g} {unit} is of no material; it is 0 or at least {least:g}")
        if self.conductivity_w_mk is not None and self.conductivity_w_mk < 0.002:
            raise ValueError(f"a conductivity of {self.conductivity_w_mk:g} W/mK is of no material; at least 0.002")
        return self

    @property
    def resistance_m2k_w(self) -> float:
        """Of the layer, as given or by its thickness."""
        if self.r_m2k_w is not None:
            return self.r_m2k_w
        return self.thickness_m / (self.conductivity_w_mk or 1.0)

    @property
    def along_framing_m2k_w(self) -> float:
        """Its resistance where the framing stands."""
        return self.resistance_m2k_w if self.framing_r_m2k_w is None else self.framing_r_m2k_w


class Construction(Record):
    """Layers from outside to inside."""

    id: Id
    name: Name
    kind: Literal["wall", "partition", "ceiling", "roof", "floor", "slab", "door"]
    layers: tuple[Layer, ...] = Field(min_length=1)
    framing_fraction: float = Field(0.0, ge=0, le=0.6)
    absorptance: float = Field(0.6, ge=0, le=1)
    """Of its outside for sun, 0..1."""
    edge_f_w_mk: float | None = Field(None, ge=0, le=5)
    """Slab only: heat lost per metre of exposed edge and kelvin."""
    assumed: bool = False

    @model_validator(mode="after")
    def _resists(self) -> Construction:
        if sum(x.resistance_m2k_w for x in self.layers) < LEAST_R_M2K_W:
            raise ValueError(f"its layers together need a resistance of at least {LEAST_R_M2K_W:g} m²K/W")
        if self.framing_fraction and sum(x.along_framing_m2k_w for x in self.layers) < LEAST_R_M2K_W:
            raise ValueError(f"along its framing a resistance of at least {LEAST_R_M2K_W:g} m²K/W is needed")
        return self


LEAST_R_M2K_W = 0.002
"""A sheet of metal has next to none; less than this is no wall."""


class Glazing(Record):
    """A window assembly."""

    id: Id
    name: Name
    u_w_m2k: float = Field(gt=0, le=8)
    shgc: Fraction
    inside_shade: float = Field(1.0, ge=0, le=1)
    """Interior attenuation coefficient: 1 without blinds."""


class Structure(Record):
    """What carries a floor or a ceiling, and so where ducts can go in it."""

    kind: Literal["joists", "i_joists", "open_web", "trusses", "slab"] = "joists"
    runs: Literal["x", "y"] = "x"
    """Direction of the joists on the plan: x across it, y up and down."""
    depth_m: float = Field(0.235, gt=0.03, le=1.5)
    spacing_m: float = Field(0.4064, gt=0.1, le=3)


class Slope(Record):
    """A ceiling under a roof slope: a low wall, from there up at the roof's pitch to a ridge or a flat ceiling."""

    rises: Literal["x", "y"] = "y"
    """Direction on the plan in which the ceiling rises: across the ridge."""
    low_side: Literal["start", "end", "both"] = "both"
    """Side that is low: the one with the smaller coordinate, the larger one, or both."""
    low_m: float = Field(1.2, ge=0, le=8)
    """Height where the slope begins: of the knee wall, or of the wall under a vault."""
    high_m: float = Field(2.4, gt=0.5, le=12)
    """Height of the flat part, or no more than this at the ridge."""
    pitch: float = Field(1.0, ge=0.05, le=4)
    """Rise over run of the roof."""
    knee: bool = False
    """The low walls stand before an eaves space that belongs to the attic."""

    @model_validator(mode="after")
    def _rises(self) -> Slope:
        if self.high_m <= self.low_m:
            raise ValueError("the high side must be higher than the low side")
        return self


class Storey(Record):
    """One level of the house, from its finished floor to its ceiling."""

    id: Id
    name: Name
    height_m: float = Field(gt=1.5, le=12)
    ceiling_space_m: float = Field(0.0, ge=0, le=5)
    """Clear depth above the ceiling in which ducts of this storey run."""
    duct_place: Literal["inside", "attic", "crawl", "basement", "garage"] = "inside"
    floor_m: float | None = Field(None, ge=-10, le=60)
    """Height of the finished floor over the ground outside; below 0 partly below grade. None: on top of the storey
    below, the lowest at 0."""
    floor_structure: Structure | None = None
    ceiling_structure: Structure | None = None


STRUCTURE_M = 0.3
"""Floor structure between two storeys until it is given."""


def floor_heights(storeys: tuple[Storey, ...]) -> dict[str, float]:
    """Height of each storey's floor over the ground outside, m: as given, or on top of the storey below."""
    out: dict[str, float] = {}
    top: float | None = None
    for s in storeys:
        z = s.floor_m if s.floor_m is not None else (0.0 if top is None else top)
        out[s.id] = z
        depth = s.ceiling_structure.depth_m if s.ceiling_structure else max(STRUCTURE_M, s.ceiling_space_m)
        top = z + s.height_m + depth
    return out


RoomUse = Literal[
    "living", "dining", "kitchen", "bedroom", "bath", "powder", "hall", "landing", "study", "utility", "other"
]


class Room(Record):
    """A room as a polygon on its storey's plan, vertices in order, wall i from vertex i to vertex i + 1."""

    id: Id
    name: Name
    storey: Id
    outline_m: Outline
    use: RoomUse = "other"
    height_m: float | None = Field(None, gt=1.0, le=12)
    ceiling: Literal["auto", "attic", "roof", "heated"] = "auto"
    floor: Literal["auto", "slab", "crawl", "basement", "outdoors", "garage", "heated"] = "auto"
    slope: Slope | None = None
    floor_construction: Id | None = None
    ceiling_construction: Id | None = None
    people: float = Field(0.0, ge=0, le=200)
    """At the design hour."""
    people_from: int = Field(0, ge=0, le=24)
    """Hours of the day in which they are there: from the end of this hour to that of `people_to`, over midnight too."""
    people_to: int = Field(24, ge=0, le=24)
    appliances_w: float = Field(0.0, ge=0, le=20000)
    exhaust: Exhaust | None = None
    transfer: Transfer | None = None


class Exhaust(Record):
    """An exhaust fan to the outside."""

    flow_m3_s: float = Field(gt=0, le=1)
    continuous: bool = False


class Appliance(Record):
    """Things that give off heat or moisture in a room: a fridge, an aquarium, plants, showers."""

    id: Id
    name: Name
    room: Id
    count: int = Field(1, ge=1, le=200)
    sensible_w: float = Field(0.0, ge=0, le=20000)
    """Each, while on."""
    latent_w: float = Field(0.0, ge=0, le=20000)
    radiant: Fraction = 0.5
    from_hour: int = Field(0, ge=0, le=24)
    to_hour: int = Field(24, ge=0, le=24)


class Transfer(Record):
    """How a room's air gets back when its door is shut."""

    kind: Literal["undercut", "grille", "jump"] = "undercut"
    area_m2: float = Field(0.0, ge=0, le=1)
    undercut_m: float = Field(0.0127, ge=0, le=0.2)


class Opening(Record):
    """A window, door or archway in wall `wall` of a room, `offset_m` from that wall's first vertex.

    A skylight lies in the ceiling at `position_m` instead; its wall and offset count for nothing.
    """

    id: Id
    tag: Name
    kind: Literal["window", "door", "archway", "skylight"]
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
    """What drawn blinds let in, times that of the glazing itself, 0..1."""
    overhang_m: float = Field(0.0, ge=0, le=10)
    overhang_gap_m: float = Field(0.0, ge=0, le=10)
    """From the head of the glass up to the overhang."""
    sun_summer: Fraction = 1.0
    """Share of the sun that trees and neighbours let through."""
    position_m: Point | None = None
    tilt_deg: float = Field(0.0, ge=0, le=90)
    """Skylight only: slope of the glass, 0 flat; a room's roof slope goes before it."""

    @model_validator(mode="after")
    def _lies_somewhere(self) -> Opening:
        if self.kind == "skylight" and self.position_m is None:
            raise ValueError("a skylight needs a place in the ceiling")
        return self


class Space(Record):
    """An unheated space beside the rooms, such as a garage."""

    id: Id
    name: Name
    storey: Id
    outline_m: Outline
    kind: Literal["garage", "porch"] = "garage"
    u_shell_w_m2k: float = Field(2.5, gt=0, le=8)
    air_changes_h: float = Field(1.5, ge=0, le=60)


class WallOverride(Record):
    """A wall that differs from the job's common one."""

    room: Id
    wall: int = Field(ge=0, le=199)
    construction: Id | None = None
    other_side: Literal["auto", "outdoors", "garage", "heated", "attic", "party"] = "auto"
    """'party': a neighbour's heated house."""
    grade_m: float | None = Field(None, ge=-10, le=10)
    """Height of the ground outside over this wall's floor: 0 a walk-out. None: as for the storey."""


class Patch(Record):
    """A part of a storey where something else lies under the floor or over the ceiling than the plan tells."""

    id: Id
    name: Name = "Patch"
    storey: Id
    outline_m: Outline
    face: Literal["floor", "ceiling"] = "floor"
    beyond: Literal["outdoors", "garage", "crawl", "basement", "slab", "attic", "roof", "heated"] = "outdoors"


class MechanicalPlace(Record):
    """A place for equipment or ducts, with the height to work in it; a soffit or chase is for ducts alone."""

    id: Id
    name: Name
    storey: Id
    outline_m: Outline
    kind: Literal["attic", "basement", "crawl", "closet", "garage", "room", "soffit", "chase"] = "closet"
    clear_m: float = Field(2.4, gt=0, le=12)
    """Clear height; under a slope the greatest one; inside a soffit its own."""
    slope: Slope | None = None

    @property
    def boxes_ducts(self) -> bool:
        """It is a soffit or a chase: nothing stands in it."""
        return self.kind in ("soffit", "chase")


class KeepClear(Record):
    """Floor that must stay free: before a panel, a filter, under a hatch, round a flue."""

    id: Id
    name: Name
    storey: Id
    outline_m: Outline
    reason: Literal["panel", "filter", "hatch", "flue", "stairs", "other"] = "other"
    open_wide_m: float | None = Field(None, gt=0.1, le=5)
    open_long_m: float | None = Field(None, gt=0.1, le=5)
    """Of a hatch: its clear opening, and what has to be carried through goes by that; none: not measured."""


class Obstacle(Record):
    """A beam, a post, a pipe or a drain: ducts go round it."""

    id: Id
    name: Name
    storey: Id
    outline_m: Thin
    kind: Annotated[str, OBSTACLES] = "beam"
    low_m: float = Field(ge=-5, le=20)
    """Of its underside over its storey's floor."""
    high_m: float = Field(gt=0.005, le=20)
    """From its underside to its top."""


class Furniture(Record):
    """Where people sit and lie: air must not blow on them."""

    id: Id
    kind: Literal["bed", "single_bed", "crib", "sofa", "chair", "desk", "table"] = "bed"
    room: Id
    position_m: Point
    turn_deg: float = Field(0.0, ge=-360, le=360)


ExistingKind = Literal[
    "furnace",
    "boiler",
    "air_handler",
    "heat_pump",
    "condenser",
    "water_heater",
    "filter",
    "duct",
    "register",
    "grille",
    "thermostat",
    "panel",
    "other",
]


class Existing(Record):
    """A thing the survey found in the house."""

    id: Id
    kind: ExistingKind = "other"
    name: Name
    room: Id | None = None
    storey: Id | None = None
    position_m: Point | None = None
    nameplate: str = Field("", max_length=1000)
    """What the plate says, word for word."""
    year: int | None = Field(None, ge=1850, le=2200)
    fuel: Literal["", "gas", "oil", "propane", "electric", "wood"] = ""
    output_w: float | None = Field(None, gt=0, le=200000)
    flow_m3_s: float | None = Field(None, gt=0, le=10)
    width_m: float | None = Field(None, gt=0, le=5)
    height_m: float | None = Field(None, gt=0, le=5)
    depth_m: float | None = Field(None, gt=0, le=5)
    diameter_m: float | None = Field(None, gt=0, le=3)
    condition: Literal["unknown", "good", "worn", "broken"] = "unknown"
    note: str = Field("", max_length=2000)
    photos: tuple[Name, ...] = Field((), max_length=50)
    """Names of pictures in the job file."""


class Underlay(Record):
    """A drawing or picture under the plan to trace."""

    id: Id
    name: Name
    storey: Id
    file: Name
    """Name of the picture in the job file."""
    page: int = Field(1, ge=1, le=2000)
    width_px: int = Field(ge=1, le=40000)
    height_px: int = Field(ge=1, le=40000)
    position_m: Point = (0.0, 0.0)
    """Where its upper left corner lies."""
    m_per_px: float = Field(0.01, gt=0, le=10)
    turn_deg: float = Field(0.0, ge=-360, le=360)
    opacity: float = Field(0.5, ge=0.05, le=1)
    """0..1."""
    shown: bool = True


Room.model_rebuild()
