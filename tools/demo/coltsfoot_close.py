"""6 Coltsfoot Close, Brindlewick: an L-shaped bungalow of the 1960s on a crawl space, with small closed rooms.

What it tries: many short walls, closets and a powder room that no air is led to, a vaulted wing with skylights, an
assumed shell, north turned, floor over a vented crawl space. Feet in this file; all names are invented.
"""

from __future__ import annotations

from murvan.catalog import climates
from murvan.design.house import assume, set_role, with_glazing
from murvan.model import Design, Exhaust, Job, Leakage, Site, Slope, Storey, Structure, Zone
from tools.demo.hand import BTU_H, FT, INCH, Hand


def bungalow() -> Job:
    """The house drawn and surveyed, ready for its loads."""
    hand = Hand(_site(), "ground")
    _rooms(hand)
    _openings(hand)
    job = assume(hand.job, "1960s", "brick", "crawl")
    job = set_role(job, "ceiling", "ceiling-r19")
    job = set_role(job, "roof", "roof-2x6-r19")  # the wing came in 1988
    job = with_glazing(job, "sky-double")
    hand = Hand(job, "ground")
    hand.set(leakage=Leakage(ach50=11.5, measured=True))
    for x in (5, 11):
        hand.skylight(x, 31, sun_summer=0.8, glazing="sky-double")
    _things(hand)
    return hand.job


def _site() -> Job:
    climate = climates()["Brindlewick"]
    return Job(
        name="6 Coltsfoot Close",
        town="Brindlewick",
        number="2231",
        client="The Pimms",
        site=Site(
            place="Brindlewick",
            latitude_deg=40.0,
            longitude_deg=-90.0,
            altitude_m=90.0,
            north_deg=20.0,
            north_known=True,
            shielding="typical",
        ),
        climate=climate,
        bedrooms=3,
        typed_area_m2=1240 * FT * FT,
        existing_heat="gas furnace in the utility room, ducts in the crawl space",
        design=Design(zones=(Zone(id="1", name="House"),)),
        storeys=(
            Storey(
                id="ground",
                name="Ground",
                height_m=8 * FT,
                floor_m=2.5 * FT,
                duct_place="crawl",
                floor_structure=Structure(kind="joists", runs="y", depth_m=9.25 * INCH, spacing_m=16 * INCH),
                ceiling_structure=Structure(kind="trusses", runs="y", depth_m=3.5 * INCH, spacing_m=24 * INCH),
            ),
        ),
    )


def _rooms(h: Hand) -> None:
    h.room("Living", (0, 0), (16, 14), people=2.0)
    h.room("Kitchen", (0, 14), (16, 24), people=1.0)
    h.room("Bedroom 2", (16, 0), (25, 11))
    h.room("Bath", (25, 0), (30, 11), exhaust=Exhaust(flow_m3_s=0.0236))
    h.room("Bedroom 1", (30, 0), (42, 11), people=1.0)
    h.room("Hall", (16, 11), (42, 14))
    h.room("Powder", (16, 14), (21, 18))
    h.room("Utility", (24, 14), (32, 24))
    h.room("Bedroom 3", (32, 14), (42, 24), people=1.0)
    h.room("Study", (16, 14), (24, 24))
    h.room("Closet 1", (38, 8), (42, 11))
    h.room("Closet 3", (32, 14), (34, 18))
    slope = Slope(rises="x", low_side="both", low_m=8 * FT, high_m=12 * FT, pitch=0.5)
    h.room("Family", (0, 24), (16, 38), slope=slope, people=1.0)


def _openings(h: Hand) -> None:
    window, door = "window", "door"
    h.opening(window, 5, 0, 6, 5)
    h.opening(window, 0, 8, 4, 5, sun_summer=0.4)
    h.opening(door, 12, 0, 3, 6.67)
    h.opening(window, 0, 18.5, 3, 3)
    h.opening(window, 20.5, 0, 4, 4)
    h.opening(window, 27.5, 0, 2, 3)
    h.opening(window, 34, 0, 4, 4)
    h.opening(window, 42, 4, 3, 4)
    h.opening(window, 37, 24, 4, 4, overhang_m=2 * FT)
    h.opening(window, 42, 20, 3, 4)
    h.opening(window, 20, 24, 4, 4, overhang_m=2 * FT)
    h.opening(door, 28, 24, 3, 6.67)
    h.opening(window, 8, 38, 6, 6.67, overhang_m=1.5 * FT)
    h.opening(window, 16, 31, 5, 4)
    h.opening(window, 0, 31, 5, 4)
    for x, y, wide in (
        (20, 11, 2.5),
        (27.5, 11, 2.33),
        (36, 11, 2.5),
        (18, 14, 2.0),
        (22.5, 14, 2.33),
        (28, 14, 2.5),
        (36.5, 14, 2.5),
        (38, 9.5, 2.0),
        (34, 16, 2.0),
    ):
        h.opening(door, x, y, wide, 6.67)
    h.opening("archway", 16, 12.5, 2.6, 6.67)
    h.opening("archway", 8, 14, 4, 6.67)
    h.opening("archway", 8, 24, 5, 6.67)


def _things(h: Hand) -> None:
    h.furniture("bed", 33.5, 5.5, 90)
    h.furniture("single_bed", 18, 4, 0)
    h.furniture("single_bed", 40, 20.4, 180)
    h.furniture("sofa", 8, 11.5, 180)
    h.furniture("sofa", 3, 31, 270)
    h.furniture("desk", 20, 22, 180)
    h.area("place", 24.3, 18, 28, 23, name="Utility, furnace place", kind="closet", clear_m=8 * FT)
    h.area("place", 16.5, 0.5, 41.5, 10.5, name="Crawl space", kind="crawl", clear_m=2.2 * FT)
    h.area("keep", 28.5, 14.3, 31.7, 17.3, name="Panel", reason="panel")
    h.area("keep", 24.3, 15.5, 26.8, 18, name="Filter and front of unit", reason="filter")
    h.there(
        "furnace",
        26,
        20,
        name="Furnace, 80 %",
        nameplate="Input 80,000 Btu/h, output 64,000 Btu/h, rise 40-70 F",
        year=1994,
        fuel="gas",
        output_w=64000 * BTU_H,
        condition="worn",
        note="flame uneven on the left burner; flue shared with the water heater",
    )
    h.there(
        "water_heater",
        30,
        21.5,
        name="Water heater",
        nameplate="40 gal, 36,000 Btu/h",
        year=2011,
        fuel="gas",
        output_w=27000 * BTU_H,
        condition="good",
    )
    h.there("panel", 31.5, 15.8, name="Panel 100 A", nameplate="100 A, two free spaces", condition="good")
    h.there(
        "filter",
        25.5,
        17.5,
        name="Filter",
        width_m=16 * INCH,
        height_m=25 * INCH,
        depth_m=1 * INCH,
        condition="worn",
        note="bows inwards when the blower runs",
    )
    h.there("grille", 18.5, 12.5, name="Return", width_m=14 * INCH, height_m=20 * INCH, condition="worn")
    h.there("register", 5, 0.8, name="Floor 4×10", width_m=4 * INCH, height_m=10 * INCH, condition="unknown")
    h.there(
        "duct",
        20,
        8,
        name="Trunk in crawl",
        diameter_m=14 * INCH,
        condition="broken",
        note="tape let go at two joints; insulation on the ground",
    )
