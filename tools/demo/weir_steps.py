"""31 Weir Steps, Brindlewick: a narrow house with a basement partly below grade and a half storey under the roof.

What it tries: a party wall along the whole west side, walls half in the ground and a walk-out, knee walls with eaves
behind them, rooms under a slope, a skylight, a bay over the outdoors. Feet in this file; all names are invented.
"""

from __future__ import annotations

from typing import Any

from murvan.catalog import climates
from murvan.design.house import assume, set_role, wall_facing_deg, wall_points, with_glazing
from murvan.model import Design, Exhaust, Job, Leakage, Site, Slope, Storey, Structure, WallOverride, Zone
from murvan.model.edit import changed
from tools.demo.hand import BTU_H, FT, INCH, Hand

WIDE, DEEP = 18.0, 40.0
KNEE, FLAT = 4 * FT, 7.5 * FT


def narrow_house() -> Job:
    """The house drawn and surveyed, ready for its loads."""
    hand = Hand(_site(), "basement")
    _basement(hand)
    _ground(hand.on("ground"))
    _half_storey(hand.on("half"))
    job = assume(hand.job, "before-1940", "masonry", "basement")
    for role, made in (("roof", "roof-2x6-r19"), ("ceiling", "ceiling-r19"), ("knee", "wall-2x4-r11")):
        job = set_role(job, role, made)
    job = with_glazing(job, "sky-double")
    hand = Hand(changed(job, job.name, leakage=Leakage(ach50=12.0)), "half")
    hand.skylight(12.5, 20, glazing="sky-double")
    _things(hand)
    return _against_the_neighbour(hand.job)


def _site() -> Job:
    climate = climates()["Brindlewick"]
    return Job(
        name="31 Weir Steps",
        town="Brindlewick",
        number="2240",
        client="O. Tamblyn",
        site=Site(
            place="Brindlewick",
            latitude_deg=40.0,
            longitude_deg=-90.0,
            altitude_m=90.0,
            north_deg=-15.0,
            north_known=True,
            shielding="sheltered",
        ),
        climate=climate,
        bedrooms=2,
        existing_heat="gas boiler in the basement, radiators",
        design=Design(zones=(Zone(id="1", name="Below"), Zone(id="2", name="Under the roof"))),
        storeys=(
            Storey(
                id="basement",
                name="Basement",
                height_m=7.25 * FT,
                floor_m=-4.5 * FT,
                duct_place="basement",
                ceiling_structure=Structure(kind="joists", runs="x", depth_m=9.25 * INCH, spacing_m=16 * INCH),
            ),
            Storey(
                id="ground",
                name="Ground",
                height_m=8.5 * FT,
                ceiling_structure=Structure(kind="joists", runs="x", depth_m=7.25 * INCH, spacing_m=16 * INCH),
            ),
            Storey(
                id="half",
                name="Half storey",
                height_m=FLAT,
                duct_place="attic",
                ceiling_structure=Structure(kind="joists", runs="x", depth_m=5.5 * INCH, spacing_m=24 * INCH),
            ),
        ),
    )


def _basement(h: Hand) -> None:
    h.room("Workroom", (0, 0), (WIDE, 16), zone="1")
    h.room("Boiler and laundry", (9, 16), (WIDE, 28), zone="1")
    h.room("Stair down", (0, 16), (9, 28), zone="1", use="hall")
    h.room("Garden room", (0, 28), (WIDE, DEEP), zone="1", use="living", people=1.0)
    h.opening("window", 9, 0, 3, 1.5, sill=5.2)
    h.opening("window", WIDE, 8, 3, 1.5, sill=5.2)
    h.opening("window", WIDE, 22, 2.5, 1.5, sill=5.2)
    h.opening("door", 5, DEEP, 3, 6.67)
    h.opening("window", 12, DEEP, 6, 5)
    for x, y in ((9, 20), (4.5, 16), (4.5, 28)):
        h.opening("door", x, y, 2.5, 6.5)


def _ground(h: Hand) -> None:
    h.room("Living", (0, 0), (WIDE, 14), zone="1", people=2.0)
    h.room("Stair hall", (0, 14), (6, 26), zone="1")
    h.room("Dining", (6, 14), (WIDE, 26), zone="1")
    h.room("Powder", (0, 26), (6, 31), zone="1")
    h.room("Kitchen", (0, 26), (WIDE, DEEP), zone="1", people=1.0)
    h.bump_out("Dining", WIDE, 17, 23, 2)
    h.opening("window", 5, 0, 3.5, 5.5)
    h.opening("window", 13, 0, 3.5, 5.5)
    h.opening("window", WIDE, 7, 3, 5)
    h.opening("window", WIDE + 2, 20, 4.5, 5)
    h.opening("window", WIDE, 36, 3, 4)
    h.opening("window", 13, DEEP, 5, 4)
    h.opening("door", 4, DEEP, 3, 6.67)
    h.opening("door", 9.2, 0, 3, 6.67)
    h.opening("door", 3, 26, 2.33, 6.67)
    h.opening("archway", 3, 14, 3, 6.67)
    h.opening("archway", 12, 14, 6, 6.67)
    h.opening("archway", 12, 26, 4, 6.67)
    h.area("patch", WIDE, 17, WIDE + 2, 23, name="Bay over outdoors", face="floor", beyond="outdoors")


def _half_storey(h: Hand) -> None:
    def under_roof(side: Any) -> Slope:
        return Slope(rises="x", low_side=side, low_m=KNEE, high_m=FLAT, pitch=1.0, knee=True)

    h.room("Bedroom 1", (0, 0), (WIDE, 15), zone="2", slope=under_roof("both"), people=1.0)
    h.room("Landing", (0, 15), (7, 25), zone="2", slope=under_roof("start"))
    fan = Exhaust(flow_m3_s=0.0236)
    h.room("Bath", (7, 15), (WIDE, 25), zone="2", slope=under_roof("end"), exhaust=fan)
    h.room("Bedroom 2", (0, 25), (WIDE, DEEP), zone="2", slope=under_roof("both"), people=1.0)
    h.opening("window", 9, 0, 5, 4)
    h.opening("window", 9, DEEP, 5, 4)
    for x, y in ((4, 15), (7, 18), (4, 25)):
        h.opening("door", x, y, 2.5, 6.5)


def _things(h: Hand) -> None:
    h.on("half")
    h.furniture("bed", 9, 6, 0)
    h.furniture("bed", 9, 33, 180)
    knee = Slope(rises="x", low_side="start", low_m=0.3, high_m=KNEE, pitch=1.0)
    h.area("place", 0.2, 26, 3.5, 39, name="Eaves behind the knee wall", kind="attic", clear_m=KNEE, slope=knee)
    h.area("keep", 3, 18, 5.5, 20.5, name="Attic hatch over the landing", reason="hatch")
    h.on("ground")
    h.furniture("sofa", 9, 11, 180)
    h.furniture("table", 11, 20, 90)
    h.on("basement")
    h.area("place", 9.5, 16.5, 17.5, 23, name="Boiler room", kind="basement", clear_m=6.9 * FT)
    h.area("keep", 14, 24, 17.5, 27.5, name="Panel", reason="panel")
    h.there(
        "boiler",
        16,
        18,
        name="Boiler",
        nameplate="Input 110,000 Btu/h, output 88,000 Btu/h",
        year=1988,
        fuel="gas",
        output_w=88000 * BTU_H,
        condition="worn",
        note="brick chimney, liner not seen",
    )
    h.there("panel", 17, 26, name="Panel 60 A", nameplate="60 A fused", condition="worn")
    h.there("thermostat", 2, 20, name="Round thermostat", condition="good")


def _against_the_neighbour(job: Job) -> Job:
    """The whole west side is a party wall; the garden side of the basement is free of ground."""
    said = []
    for r in job.rooms:
        for k in range(len(r.outline_m)):
            (x0, y0), (x1, y1) = wall_points(r.outline_m, k)
            if abs(x0) < 1e-6 and abs(x1) < 1e-6:
                said.append(WallOverride(room=r.id, wall=k, other_side="party"))
            elif r.storey == "basement" and abs(wall_facing_deg(r.outline_m, k) - 180) < 1 and y0 > 39 * FT:
                said.append(WallOverride(room=r.id, wall=k, grade_m=0.0))
    return changed(job, job.name, wall_overrides=tuple(said))
