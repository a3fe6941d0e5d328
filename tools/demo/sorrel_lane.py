"""Makes the demo job 17 Sorrel Lane, Brindlewick, from the sample house's geometry.

`tools.demo.make` writes it to `sorrel_lane.json`; a test checks that it is up to date.
Feet in this file, metres in the job. All names are invented.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from murvan.catalog import assemblies, climates
from murvan.design import solve
from murvan.design.ducts import balance_dampers
from murvan.model import (
    AirSettings,
    Alternative,
    Design,
    DuctRun,
    Exhaust,
    Filter,
    Fitting,
    Glazing,
    IndoorUnit,
    Job,
    Joint,
    Leakage,
    Opening,
    OutdoorUnit,
    Plenum,
    RefrigerantLine,
    Register,
    Room,
    Site,
    Space,
    Storey,
    System,
    Transfer,
    Ventilator,
    Zone,
)
from murvan.model.routes import joined

FT, INCH, CFM = 0.3048, 0.0254, 0.3048**3 / 60
R_IP = 0.1761101838
UNIT = "unit1"
STOREYS = (
    Storey(
        id="ground",
        name="Ground",
        height_m=round(9 * FT, 4),
        ceiling_space_m=round(16 * INCH, 4),
        duct_place="inside",
    ),
    Storey(id="upper", name="Upper", height_m=round(8 * FT, 4), ceiling_space_m=0.9, duct_place="attic"),
)
USES = {
    "living": "living",
    "dining": "dining",
    "kitchen": "kitchen",
    "hall": "hall",
    "study": "study",
    "utility": "utility",
    "bed1": "bedroom",
    "bed2": "bedroom",
    "bed3": "bedroom",
    "bed4": "bedroom",
    "bath": "bath",
    "landing": "landing",
}
PEOPLE = {"living": 2.0, "bed1": 1.0, "bed2": 1.0, "kitchen": 1.0}
SILL_FT = {5.0: 2.0, 4.5: 2.5, 3.5: 3.5, 3.0: 4.0, 6.67: 0.2, 6.5: 0.2, 4.0: 3.0}
HOOD = Exhaust(flow_m3_s=round(100 * CFM, 6))
TRANSFERS = {
    "bed1": Transfer(kind="jump", area_m2=70 * INCH**2, undercut_m=0.75 * INCH),
    "bed2": Transfer(kind="grille", area_m2=80 * INCH**2, undercut_m=0.75 * INCH),
    "bed3": Transfer(kind="grille", area_m2=60 * INCH**2, undercut_m=0.75 * INCH),
    "bed4": Transfer(kind="jump", area_m2=60 * INCH**2, undercut_m=0.75 * INCH),
    "bath": Transfer(kind="undercut", undercut_m=0.75 * INCH),
    "study": Transfer(kind="grille", area_m2=60 * INCH**2, undercut_m=0.75 * INCH),
    "utility": Transfer(kind="grille", area_m2=60 * INCH**2, undercut_m=0.75 * INCH),
}
INSIDE_DOORS = (
    ("D3", "study", 3, 28.0, 7.7, 2.5),
    ("D4", "utility", 0, 30.3, 15.0, 2.67),
    ("D5", "bed2", 1, 17.0, 10.2, 2.5),
    ("D6", "bed1", 1, 17.0, 13.0, 2.0),
    ("D7", "bed3", 2, 28.7, 11.0, 2.5),
    ("D8", "bed4", 0, 28.9, 15.0, 2.5),
    ("D9", "bath", 0, 22.9, 15.0, 2.33),
)
ARCHWAYS = (
    ("W1", "living", 1, 17.0, 9.6, 3.6),
    ("W2", "dining", 0, 8.8, 15.0, 4.4),
    ("W3", "kitchen", 0, 20.2, 15.0, 4.6),
    ("W4", "kitchen", 3, 14.0, 18.4, 5.0),
)


def _pt(x: float, y: float) -> tuple[float, float]:
    return (round(x * FT, 4), round(y * FT, 4))


def _geometry() -> dict[str, Any]:
    raw: dict[str, Any] = json.loads(Path(__file__).with_name("sample-house.json").read_text("utf-8"))
    return raw


def _wall_of(outline: tuple[tuple[float, float], ...], side: str) -> int:
    """The outermost wall of a room that looks to N, E, S or W."""
    best, wall = None, 0
    for i, (a, b) in enumerate(zip(outline, outline[1:] + outline[:1], strict=True)):
        dx, dy = b[0] - a[0], b[1] - a[1]
        looks = {
            "N": dx > 0 and abs(dy) < 1e-9,
            "E": dy > 0 and abs(dx) < 1e-9,
            "S": dx < 0 and abs(dy) < 1e-9,
            "W": dy < 0 and abs(dx) < 1e-9,
        }
        out = {"N": -a[1], "S": a[1], "E": a[0], "W": -a[0]}[side]
        if looks[side] and (best is None or out > best):
            best, wall = out, i
    return wall


def _offset(outline: tuple[tuple[float, float], ...], wall: int, start_m: float, width_m: float) -> float:
    """Distance of the opening's nearer end from the wall's first vertex, from its absolute start on the plan."""
    a, b = outline[wall], outline[(wall + 1) % len(outline)]
    axis = 0 if abs(b[0] - a[0]) > abs(b[1] - a[1]) else 1
    return min(abs(start_m - a[axis]), abs(start_m + width_m - a[axis]))


def _house(raw: dict[str, Any]) -> dict[str, Any]:
    rooms = tuple(
        Room(
            id=r["id"],
            name=r["name"],
            storey=r["storey"],
            use=USES[r["id"]],
            outline_m=tuple(_pt(*p) for p in r["polygon_ft"]),
            people=PEOPLE.get(r["id"], 0.0),
            transfer=TRANSFERS.get(r["id"]),
            exhaust=HOOD if USES[r["id"]] == "kitchen" else None,
        )
        for r in raw["rooms"]
    )
    outlines = {r.id: r.outline_m for r in rooms}
    openings = []
    for w in raw["windows"]:
        outline = outlines[w["room"]]
        wall = _wall_of(outline, w["side"])
        openings.append(
            Opening(
                id=w["tag"],
                tag=w["tag"],
                kind="window",
                room=w["room"],
                wall=wall,
                width_m=w["width_ft"] * FT,
                height_m=w["height_ft"] * FT,
                offset_m=round(_offset(outline, wall, w["start_ft"] * FT, w["width_ft"] * FT), 4),
                sill_m=round(SILL_FT[w["height_ft"]] * FT, 4),
                glazing="glass-034",
                blinds=0.8,
            )
        )
    for k, d in enumerate(raw["outside_doors"], 1):
        outline = outlines[d["room"]]
        wall = _wall_of(outline, d["side"])
        openings.append(
            Opening(
                id=f"D{k}",
                tag=f"D{k}",
                kind="door",
                room=d["room"],
                wall=wall,
                width_m=d["width_ft"] * FT,
                height_m=6.67 * FT,
                offset_m=round(_offset(outline, wall, d["start_ft"] * FT, d["width_ft"] * FT), 4),
                construction="door-insulated" if d.get("to") else "door-wood",
            )
        )
    for tag, room, wall, x, y, width in INSIDE_DOORS + ARCHWAYS:
        outline = outlines[room]
        axis = 0 if wall in (0, 2) else 1
        openings.append(
            Opening(
                id=tag,
                tag=tag,
                kind="archway" if tag.startswith("W") else "door",
                room=room,
                wall=wall,
                width_m=width * FT,
                height_m=6.67 * FT,
                inside=True,
                offset_m=round(_offset(outline, wall, (x, y)[axis] * FT, width * FT), 4),
            )
        )
    gx, gy = raw["garage"]["x_ft"], raw["garage"]["y_ft"]
    garage = Space(
        id="garage",
        name="Garage",
        storey="ground",
        outline_m=(_pt(gx[0], gy[0]), _pt(gx[1], gy[0]), _pt(gx[1], gy[1]), _pt(gx[0], gy[1])),
    )
    constructions, glazings = assemblies()
    wanted = (
        "wall-2x4-r13",
        "wall-2x6-r21",
        "wall-2x6-r21-r5",
        "partition-2x4",
        "ceiling-r31",
        "ceiling-r49",
        "slab-r5",
        "door-wood",
        "door-insulated",
    )
    glass = raw["glass"]
    own = Glazing(
        id="glass-034", name="Double, low-e", u_w_m2k=round(glass["u_btu"] * 5.678263, 4), shgc=glass["shgc"]
    )
    return {
        "rooms": rooms,
        "openings": tuple(openings),
        "spaces": (garage,),
        "constructions": tuple(constructions[i] for i in wanted),
        "glazings": (own, glazings["glass-028"], glazings["glass-triple"], glazings["glass-double"]),
        "wall_construction": "wall-2x4-r13",
        "partition_construction": "partition-2x4",
        "ceiling_construction": "ceiling-r31",
        "floor_construction": "slab-r5",
        "door_construction": "door-wood",
    }


def _f(kind: str, ratio: float = 1.0, count: int = 1) -> Fitting:
    return Fitting(kind=kind, ratio=ratio, count=count)  # type: ignore[arg-type]


def _run(
    tag: str,
    side: str,
    parent: str | None,
    storey: str,
    path: list[tuple[float, float]],
    size: float | tuple[float, float],
    fittings: tuple[Fitting, ...],
    **more: Any,
) -> dict[str, Any]:
    """A run that names the one it leaves and its path; `joined` finds the joints."""
    sizes: dict[str, Any] = (
        {"shape": "round", "diameter_m": size * INCH}
        if isinstance(size, (int, float))
        else {"shape": "rectangular", "width_m": size[0] * INCH, "height_m": size[1] * INCH}
    )
    flex = more.pop("flex", False)
    r_wrap = (8.0 if flex else 12.0) if storey == "upper" else (6.0 if flex else 0.0)
    return {
        "id": tag,
        "tag": tag,
        "indoor": UNIT,
        "side": side,
        "parent": parent,
        "storey": storey,
        "path_m": [_pt(*p) for p in path],
        "material": "flex" if flex else "galvanised",
        "insulation_r_m2k_w": round(r_wrap * R_IP, 4),
        "fittings": [f.model_dump() for f in fittings],
        **sizes,
        **more,
    }


def _branch(
    tag: str, parent: str | None, storey: str, path: list[tuple[float, float]], size: int, **more: Any
) -> dict[str, Any]:
    """A flex branch from a trunk to its register, with a hand damper at the take-off."""
    start = more.pop("start", "takeoff45")
    turn = more.pop("turn", "elbow_boot")
    ends = (_f("boot_flex_turn"),) if turn == "flex" else (_f("elbow", 1.0), _f("boot"))
    bends = more.pop("bends", 0)
    pieces = (_f(start), *((_f("bend45", 1.0, bends),) if bends else ()), *ends)
    return _run(tag, "supply", parent, storey, path, size, pieces, flex=True, damper=1.0, register_id=tag, **more)


def _duct_runs() -> list[dict[str, Any]]:
    a, b = "ground", "upper"
    trunk_a = [
        _run(
            "SA1",
            "supply",
            None,
            a,
            [(36.1, 16.1), (36.1, 12.4), (25.2, 12.4)],
            (14, 8),
            (_f("plenum_exit"), _f("elbow_vanes")),
            zone_damper="1",
            face="north",
            face_from_end_m=7 * INCH,
        ),
        _run("SA2", "supply", "SA1", a, [(25.2, 12.4), (21.6, 12.4)], (14, 8), ()),
        _run("SA3", "supply", "SA2", a, [(21.6, 12.4), (13.3, 12.4)], (12, 8), (_f("reducer"),)),
        _run("SA4", "supply", "SA3", a, [(13.3, 12.4), (11.0, 12.4)], (10, 8), (_f("reducer"),)),
    ]
    branches_a = [
        _branch("A1", "SA1", a, [(25.2, 12.4), (25.2, 7.1)], 5),
        _branch("A2", "SA2", a, [(21.6, 12.4), (21.6, 21.4)], 6),
        _branch("A3", "SA3", a, [(13.3, 12.4), (13.3, 4.6)], 7),
        _branch("A4", "SA4", a, [(11.0, 12.4), (11.0, 16.4), (5.6, 20.8)], 8, bends=1),
        _branch("A5", "SA4", a, [(11.0, 12.4), (9.2, 12.4), (4.2, 8.4), (4.2, 6.6)], 7, start="reducer", bends=2),
        _branch(
            "P1",
            None,
            a,
            [(37.1, 16.7), (39.2, 16.7), (39.2, 5.2)],
            7,
            start="plenum_exit",
            bends=2,
            face="east",
            face_from_end_m=4 * INCH,
        ),
        _branch(
            "P2",
            None,
            a,
            [(37.1, 17.9), (39.4, 17.9), (40.6, 19.0), (40.6, 21.8)],
            6,
            start="plenum_exit",
            bends=2,
            face="east",
            face_from_end_m=14 * INCH,
        ),
    ]
    trunk_b = [
        _run(
            "SB1",
            "supply",
            None,
            b,
            [(36.1, 17.3), (36.1, 13.0), (34.6, 13.0)],
            (14, 8),
            (_f("plenum_exit"), _f("elbow_vanes", 1, 2)),
            zone_damper="2",
            face="top",
            rise_m=12 * FT,
        ),
        _run("SB2", "supply", "SB1", b, [(34.6, 13.0), (24.4, 13.0)], (14, 8), ()),
        _run("SB3", "supply", "SB2", b, [(24.4, 13.0), (21.5, 13.0)], (12, 8), (_f("reducer"),)),
        _run("SB4", "supply", "SB3", b, [(21.5, 13.0), (12.0, 13.0)], (12, 8), (_f("reducer"),)),
        _run("SB5", "supply", "SB4", b, [(12.0, 13.0), (10.6, 13.0)], (10, 8), ()),
        _run("SB6", "supply", "SB5", b, [(10.6, 13.0), (7.0, 13.0)], (8, 8), (_f("reducer"),)),
    ]
    branches_b = [
        _branch("B1", "SB6", b, [(7.0, 13.0), (4.0, 16.0), (4.0, 18.6)], 7, turn="flex", bends=1),
        _branch("B2", "SB4", b, [(12.0, 13.0), (12.0, 20.8)], 7),
        _branch("B3", "SB6", b, [(7.0, 13.0), (4.0, 10.0), (4.0, 7.2)], 6, bends=1),
        _branch("B4", "SB5", b, [(10.6, 13.0), (10.6, 3.2)], 6, under_roof_m=7 * INCH),
        _branch("B5", "SB2", b, [(24.4, 13.0), (24.4, 7.5)], 6),
        _branch("B6", "SB3", b, [(21.5, 13.0), (21.5, 19.6)], 5),
        _branch("B7", "SB1", b, [(34.6, 13.0), (34.6, 10.5), (38.6, 6.5), (38.6, 4.8)], 7, bends=2),
        _branch("B8", "SB1", b, [(34.6, 13.0), (34.6, 20.8)], 7),
    ]
    back = [
        _run(
            "RT1",
            "return",
            None,
            a,
            [(34.2, 16.1), (34.2, 14.1), (26.3, 14.1)],
            (20, 12),
            (_f("plenum_entry"), _f("elbow_vanes")),
            face="north",
        ),
        _run(
            "R1",
            "return",
            "RT1",
            a,
            [(26.3, 14.1), (23.6, 14.1)],
            (20, 10),
            (_f("reducer"), _f("elbow_vanes")),
            register_id="R1",
        ),
        _run(
            "R2",
            "return",
            "RT1",
            a,
            [(26.3, 14.1), (26.3, 14.5)],
            (18, 10),
            (_f("wye"), _f("elbow_vanes")),
            register_id="R2",
            rise_m=1.5 * FT,
        ),
    ]
    fresh = [_run("F1", "fresh", None, a, [(31.3, 22.3), (31.3, 17.4), (33.3, 17.4)], 6, (_f("elbow", 1.0),))]
    return trunk_a + branches_a + trunk_b + branches_b + back + fresh


FACES = {
    "A1": ("hall", 25.2, 7.1, 8, 8),
    "A2": ("kitchen", 21.6, 21.4, 10, 10),
    "A3": ("living", 13.3, 4.6, 10, 10),
    "A4": ("dining", 5.6, 20.8, 12, 12),
    "A5": ("living", 4.2, 6.6, 10, 10),
    "P1": ("study", 39.2, 5.2, 12, 12),
    "P2": ("utility", 40.6, 21.8, 10, 10),
    "B1": ("bed1", 4.0, 18.6, 10, 10),
    "B2": ("bed1", 12.0, 20.8, 10, 10),
    "B3": ("bed2", 4.0, 7.2, 10, 10),
    "B4": ("bed2", 10.6, 3.2, 10, 10),
    "B5": ("landing", 24.4, 7.5, 10, 10),
    "B6": ("bath", 21.5, 19.6, 8, 8),
    "B7": ("bed3", 38.6, 4.8, 12, 12),
    "B8": ("bed4", 34.6, 20.8, 12, 12),
}
NAMES = {
    "A1": "A1 Hall",
    "A2": "A2 Kitchen",
    "A3": "A3 Living north",
    "A4": "A4 Dining",
    "A5": "A5 Living west",
    "P1": "P1 Study",
    "P2": "P2 Utility",
    "B1": "B1 Bedroom 1 west",
    "B2": "B2 Bedroom 1 south",
    "B3": "B3 Bedroom 2 west",
    "B4": "B4 Bedroom 2 north",
    "B5": "B5 Landing",
    "B6": "B6 Bath",
    "B7": "B7 Bedroom 3",
    "B8": "B8 Bedroom 4",
}


def _registers() -> tuple[Register, ...]:
    supply = [
        Register(
            id=i, tag=NAMES[i], room=room, indoor=UNIT, position_m=_pt(x, y), width_m=w * INCH, height_m=h * INCH
        )
        for i, (room, x, y, w, h) in FACES.items()
    ]
    back = [
        Register(
            id="R1",
            tag="R1 Hall return",
            room="hall",
            indoor=UNIT,
            side="return",
            kind="grille",
            position_m=_pt(23.6, 14.1),
            width_m=24 * INCH,
            height_m=20 * INCH,
            free_area=0.75,
        ),
        Register(
            id="R2",
            tag="R2 Landing return",
            room="landing",
            indoor=UNIT,
            side="return",
            kind="grille",
            position_m=_pt(26.3, 14.4),
            width_m=24 * INCH,
            height_m=18 * INCH,
            free_area=0.75,
        ),
    ]
    return tuple(supply + back)


def _design(raw: dict[str, Any]) -> Design:
    """One heat pump with ducts to every room, two zones, an ERV."""
    rooms = {s: tuple(r["id"] for r in raw["rooms"] if r["storey"] == s) for s in ("ground", "upper")}
    joints, runs = joined(_duct_runs(), [s.model_dump() for s in STOREYS], "ground")
    return Design(
        air=AirSettings(duct_allowance=0.08, duct_leakage=0.03),
        systems=(
            System(
                id="system1",
                name="System",
                candidates=(
                    *("orvane-vh-30", "torrow-cx-36", "quellin-c3", "orvane-vh-36", "haddle-35-t"),
                    "torrow-cx-42",
                ),
            ),
        ),
        outdoor_units=(OutdoorUnit(id="outdoor1", system="system1", position_m=_pt(41.0, 27.4)),),
        indoor_units=(
            IndoorUnit(
                id=UNIT,
                tag="Unit",
                system="system1",
                unit="orvane-vh-30",
                outdoor="outdoor1",
                flow_m3_s=round(1035 * CFM, 5),
                heater_kw=8.0,
                tap=4,
                storey="ground",
                position_m=_pt(35.3, 17.4),
                filter=Filter(width_m=25 * INCH, height_m=20 * INCH, clean_pa=22.0),
            ),
        ),
        lines=(RefrigerantLine(id="line1", indoor=UNIT, length_m=round(26 * FT, 3), lift_m=round(3 * FT, 3)),),
        zones=(
            Zone(id="1", name="Ground", rooms=rooms["ground"], storey="ground", position_m=(2.682, 4.522)),
            Zone(id="2", name="Upper", rooms=rooms["upper"], storey="upper", position_m=(13.161, 4.522)),
        ),
        ventilators=(
            Ventilator(
                id="ventilator1",
                indoor=UNIT,
                kind="erv",
                flow_m3_s=round(110 * CFM, 5),
                sensible_recovery=0.72,
                latent_recovery=0.5,
                position_m=_pt(31.3, 23.3),
                storey="ground",
            ),
        ),
        plenums=tuple(
            Plenum(
                id=f"plenum-{side}",
                indoor=UNIT,
                side=side,
                width_m=21 * INCH,
                depth_m=24 * INCH,
                height_m=high * INCH,
                position_m=_pt(x, 17.4),
            )
            for side, high, x in (("supply", 71, 36.1), ("return", 123, 34.3))
        ),
        joints=tuple(Joint.model_validate(x) for x in joints),
        runs=tuple(DuctRun.model_validate(x) for x in runs),
        registers=_registers(),
    )


def design_job() -> Job:
    """The design, dampers set, nothing built or read yet."""
    raw = _geometry()
    job = Job(
        name="17 Sorrel Lane",
        town="Brindlewick",
        number="2214",
        client="Sample client",
        company="Fernside Heating & Air (sample)",
        site=Site(
            place="Brindlewick",
            latitude_deg=raw["climate"]["latitude"],
            longitude_deg=-90.0,
            altitude_m=90.0,
            shielding="sheltered",
            north_known=True,
        ),
        climate=climates()["Brindlewick"],
        leakage=Leakage(ach50=raw["leakage_ach50"], measured=True),
        bedrooms=4,
        existing_heat="Electric baseboard, 14 kW, to be taken out",
        storeys=STOREYS,
        alternatives=(
            Alternative(id="seal", name="Seal and insulate", ach50=3.0, attic_r_m2k_w=49 * R_IP),
            Alternative(id="glass", name="New windows", glass_u_w_m2k=1.42, glass_shgc=0.25),
        ),
        design=_design(raw),
        **_house(raw),
    )
    for _ in range(2):
        job = balance_dampers(job, solve(job).runs)
    return job
