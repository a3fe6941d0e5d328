"""A small house worked by hand in the trade's units, every load on paper.

One room 20 ft by 15 ft, 8 ft high, on a slab with R-5 edge, under a vented attic with R-31; 2x4 walls R-13; a west
window 5 by 4 ft and a wooden door 3 ft by 80 in on the north. Winter 9 F, summer 92 F, range 20 F, indoors 70 and
75 F. The method and its factors: ASHRAE Handbook Fundamentals, residential chapter, from memory. The peak sun on the
west glass is taken from Murvan (checked against pvlib elsewhere); everything else here is plain arithmetic.
"""

import math
import unittest

from murvan.catalog import assemblies
from murvan.design import solve
from murvan.design.loads.components import COLUMN
from murvan.model import Climate, Indoor, Job, Leakage, Opening, Room, Site, Storey

FT, BTU_H = 0.3048, 0.29307107017


def f_to_c(f):
    return (f - 32) / 1.8


def house():
    constructions, glazings = assemblies()
    outline = ((0, 0), (20 * FT, 0), (20 * FT, 15 * FT), (0, 15 * FT))
    window = Opening(
        id="g",
        tag="G1",
        kind="window",
        room="r",
        wall=3,
        offset_m=1.5,
        width_m=5 * FT,
        height_m=4 * FT,
        glazing="glass-034",
    )
    door = Opening(
        id="d", tag="D1", kind="door", room="r", wall=0, offset_m=1.0, width_m=3 * FT, height_m=80 / 12 * FT
    )
    return Job(
        name="By hand",
        site=Site(latitude_deg=40, shielding="typical"),
        climate=Climate(
            winter_c=f_to_c(9),
            summer_c=f_to_c(92),
            summer_wet_bulb_c=f_to_c(75),
            daily_range_k=20 / 1.8,
            wind_winter_m_s=6.7,
            wind_summer_m_s=3.4,
        ),
        indoor=Indoor(heating_c=f_to_c(70), cooling_c=f_to_c(75), cooling_rh=0.5),
        leakage=Leakage(ach50=6.0),
        bedrooms=1,
        storeys=(Storey(id="g", name="Ground", height_m=8 * FT),),
        rooms=(Room(id="r", name="Room", storey="g", outline_m=outline),),
        openings=(window, door),
        constructions=tuple(constructions.values()),
        glazings=tuple(glazings.values()),
        wall_construction="wall-2x4-r13",
        partition_construction="partition-2x4",
        ceiling_construction="ceiling-r31",
        floor_construction="slab-r5",
        door_construction="door-wood",
    )


class TestByHand(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.r = solve(house())
        cls.net_wall = 2 * (20 + 15) * 8 - 5 * 4 - 3 * 80 / 12
        # .17 + .80 + .62 + 13 + .45 + .68; 4.38 in place of 13 at 23 % of wood
        cls.u_wall = 0.77 / 15.72 + 0.23 / 7.10
        # .61 + 31 + .45 + .61; 16 in place of 31 at 7 % of joists
        cls.u_ceiling = 0.93 / 32.67 + 0.07 / 17.67
        # .17 + 1.65 + .68
        cls.u_door = 1 / 2.50

    def heating(self, name):
        return float(self.r.loads.heating_parts[0, COLUMN[name]]) / BTU_H

    def sensible(self, name):
        return float(self.r.factors.sensible_parts[0, COLUMN[name]]) / BTU_H

    def latent(self, name):
        return float(self.r.factors.latent_parts[0, COLUMN[name]]) / BTU_H

    # ---- heating, 61 F ----

    def test_heating_walls(self):
        self.assertAlmostEqual(self.heating("walls"), self.net_wall * self.u_wall * 61, delta=1)

    def test_heating_glass(self):
        self.assertAlmostEqual(self.heating("glass_W"), 20 * 0.34 * 61, delta=0.5)

    def test_heating_door(self):
        self.assertAlmostEqual(self.heating("doors"), 20 * self.u_door * 61, delta=0.5)

    def test_heating_ceiling(self):
        self.assertAlmostEqual(self.heating("ceiling"), 300 * self.u_ceiling * 61, delta=0.5)

    def test_heating_slab_edge(self):
        # F .50 Btu/h ft F, 70 ft of edge
        self.assertAlmostEqual(self.heating("floor"), 0.50 * 70 * 61, delta=1)

    def leak_cfm(self, difference_f, wind_mph, cs=0.000145, cw=0.000174):
        """6 changes of 2,400 ft3: 240 cfm at 50 Pa; at 4 Pa by the 0.65 power; then stack and wind, one storey, class 3."""
        q50 = 6 * 2400 / 60 * 0.0004719474
        q4 = q50 * (4 / 50) ** 0.65
        area = 1e4 * q4 * math.sqrt(1.2 / 8)
        litres = area * math.sqrt(cs * difference_f / 1.8 + cw * (wind_mph * 0.44704) ** 2)
        return litres / 1000 / 0.0004719474

    def test_heating_leakage(self):
        cfm = self.leak_cfm(61, 6.7 / 0.44704)
        # 1.08 rests on .24 Btu/lb F; Murvan's 1006 J/kgK is .2403
        self.assertAlmostEqual(self.heating("leakage"), 1.0815 * cfm * 61, delta=6)

    def test_heating_total(self):
        parts = ("walls", "glass_W", "doors", "ceiling", "floor", "leakage")
        self.assertAlmostEqual(self.r.loads.house_heating_w / BTU_H, sum(self.heating(p) for p in parts), places=6)

    # ---- cooling, dT 17 F, DR 20 F ----

    def test_cooling_walls(self):
        self.assertAlmostEqual(
            self.sensible("walls"), self.net_wall * self.u_wall * (17 + 14.8 - 0.36 * 20), delta=0.5
        )

    def test_cooling_ceiling(self):
        cf = self.u_ceiling * (0.62 * 17 + (25.7 * 0.85 - 8.1) - 0.19 * 20)
        self.assertAlmostEqual(self.sensible("ceiling"), 300 * cf, delta=0.5)

    def test_cooling_door(self):
        self.assertAlmostEqual(self.sensible("doors"), 20 * self.u_door * (17 + 14.8 - 7.2), delta=0.5)

    def test_cooling_slab(self):
        self.assertAlmostEqual(self.sensible("floor"), 300 * (0.51 - 2.5 / (1.2 + 0.68)), delta=0.5)

    def test_cooling_glass(self):
        pxi = float(self.r.factors.glass.pxi[0]) * FT**2 / BTU_H
        by_hand = 20 * (0.34 * (17 - 0.46 * 20) + pxi * 0.34 * 1.0 * 0.56)
        self.assertAlmostEqual(self.sensible("glass_W"), by_hand, delta=0.5)
        # the handbook's July peak on west glass at 40 N lies near 220 to 240 Btu/h ft2 (from memory)
        self.assertTrue(210 < pxi < 250)

    def test_cooling_gains(self):
        self.assertAlmostEqual(
            self.sensible("appliances") + self.sensible("people"), 464 + 0.7 * 300 + 75 * 2, delta=0.5
        )
        self.assertAlmostEqual(self.latent("appliances") + self.latent("people"), 68 + 0.07 * 300 + 41 * 2, delta=0.5)

    def test_cooling_leakage(self):
        cfm = self.leak_cfm(17, 3.4 / 0.44704)
        self.assertAlmostEqual(self.sensible("leakage"), 1.0815 * cfm * 17, delta=2)
        grains = self.r.conditions.moisture_difference * 7000
        # outdoors 92/75 F has about 104 gr/lb, indoors 65 (handbook chart, from memory)
        self.assertAlmostEqual(grains, 39, delta=2)
        self.assertAlmostEqual(self.latent("leakage"), 0.69 * cfm * grains, delta=8)

    def test_whole(self):
        total = (self.r.factors.house_sensible_w + self.r.factors.house_latent_w) / BTU_H
        names = ("walls", "ceiling", "doors", "floor", "glass_W", "appliances", "people", "leakage")
        self.assertAlmostEqual(total, sum(self.sensible(n) + self.latent(n) for n in names), places=6)
