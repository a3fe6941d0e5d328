"""Unheated spaces: garages under rooms, two of them, the colour of the roof, the lie of a slope."""

import unittest

import numpy as np

from murvan.design import solve
from murvan.design.explain.day import explain_at
from murvan.design.loads.components import COLUMN
from murvan.design.units import equipment
from murvan.model import Opening, Room, Site, Slope, Space, Storey
from murvan.model.edit import changed, replace, replace_part
from murvan.physics.heat import burner_share
from tests.houses import box, set_unit


def rect(x, y, w, d):
    return ((x, y), (x + w, y), (x + w, y + d), (x, y + d))


def over_a_garage():
    job = box(9, 4)
    storeys = (*job.storeys, Storey(id="u", name="Upper", height_m=2.4))
    bonus = Room(id="bonus", name="Bonus", storey="u", outline_m=rect(9, 0, 4, 4))
    garage = Space(id="garage", name="Garage", storey="g", outline_m=rect(9, 0, 4, 4))
    return changed(job, "", storeys=storeys, rooms=(*job.rooms, bonus), spaces=(garage,))


class Garages(unittest.TestCase):
    def test_a_garage_under_a_room_has_no_sunlit_roof(self):
        """Its own roof is what no room covers: none here, so it stays near the outdoor air."""
        r = solve(over_a_garage())
        free = solve(changed(over_a_garage(), "", rooms=over_a_garage().rooms[:1]))
        under, open_ = (float(x.balance.buffer_c("garage")[0].max()) for x in (r, free))
        self.assertLess(under, open_ - 3)
        self.assertLess(under, r.conditions.outdoor_summer.temperature_c)

    def test_the_floor_over_it_has_one_name_in_both_seasons(self):
        r = solve(over_a_garage())
        k, floor = COLUMN["garage"], COLUMN["floor"]
        self.assertGreater(float(r.loads.heating_parts[1, k]), 1)
        self.assertNotEqual(float(np.abs(r.loads.parts_by_hour_w[0, 1, k]).max()), 0.0)
        self.assertEqual(float(r.loads.heating_parts[1, floor]), 0.0)
        self.assertLess(float(np.abs(r.loads.parts_by_hour_w[0, 1, floor]).max()), 1e-9)
        labels = [x.label for x in explain_at(r, 1, "garage", 0, 16).lines]
        self.assertTrue(any("floor over Garage" in x for x in labels), labels)

    def test_doors_and_floors_belong_to_the_space_they_touch(self):
        """A warm porch and a draughty garage: the door to the porch and the floor over it see the porch."""
        job = over_a_garage()
        porch = Space(id="porch", name="Porch", storey="g", outline_m=rect(-3, 0, 3, 4), air_changes_h=0.1)
        draughty = changed(job.spaces[0], air_changes_h=50.0)
        door = Opening(id="d", tag="D9", kind="door", room="a", wall=3, offset_m=1.0, width_m=0.9, height_m=2.0)
        loft = Room(id="loft", name="Loft", storey="u", outline_m=rect(-3, 0, 3, 4))
        job = changed(job, "", spaces=(draughty, porch), openings=(*job.openings, door), rooms=(*job.rooms, loft))
        r = solve(job)
        self.assertEqual(next(f.neighbour for f in r.geometry.openings if job.openings[f.index].id == "d"), "porch")
        self.assertAlmostEqual(r.geometry.over_space_m2["porch"][2], 12.0)
        self.assertAlmostEqual(r.geometry.over_space_m2["garage"][1], 16.0)
        inside = r.conditions.indoor_heating.temperature_c
        doors = float(r.loads.heating_parts[0, COLUMN["doors"]])
        u = float(r.factors.glass.u[[o.id for o in job.openings].index("d")])
        self.assertAlmostEqual(doors, 0.9 * 2.0 * u * (inside - r.factors.spaces.winter("porch")), places=6)
        self.assertGreater(r.factors.spaces.winter("porch"), r.factors.spaces.winter("garage") + 2)


class Roofs(unittest.TestCase):
    def test_the_roofs_own_colour_counts_under_an_attic(self):
        job = box(6, 4)
        ceiling = next(c for c in job.constructions if c.kind == "ceiling")
        roof = changed(ceiling, id="pale", absorptance=0.25)
        dark = solve(job)
        pale = solve(changed(job, "", constructions=(*job.constructions, roof), roof_construction="pale"))
        k = COLUMN["ceiling"]
        self.assertLess(pale.loads.parts_by_hour_w[0, 0, k].max(), 0.8 * dark.loads.parts_by_hour_w[0, 0, k].max())
        self.assertLess(float(pale.factors.sensible_parts[0, k]), float(dark.factors.sensible_parts[0, k]))

    def sloped(self, side, north=0.0):
        base = box(6, 4, openings=())
        slope = Slope(rises="y", low_side=side, low_m=2.0, high_m=6.0, pitch=0.8)
        job = changed(base, "", rooms=(changed(base.rooms[0], slope=slope, ceiling="roof"),))
        return solve(replace_part(job, "site", north_deg=north))

    def test_a_slope_takes_the_sun_of_its_own_lie(self):
        north, south, both = self.sloped("start"), self.sloped("end"), self.sloped("both")
        k = COLUMN["ceiling"]
        loads = [float(x.loads.parts_by_hour_w[0, 0, k].max()) for x in (north, south, both)]
        self.assertLess(loads[0], loads[1])
        self.assertEqual(sorted(round(p.facing_deg) for p in both.geometry.roofs), [0, 180])
        self.assertAlmostEqual(sum(p.area_m2 for p in both.geometry.roofs), both.geometry.ceilings_m2["roof"][0])
        self.assertEqual(round(self.sloped("end", 90.0).geometry.roofs[0].facing_deg), 90)


class Altitude(unittest.TestCase):
    def test_a_burner_gives_less_in_thin_air(self):
        """4 % less for every 1,000 ft of height, from 2,000 ft up; fuel-gas code, from memory."""
        self.assertEqual(burner_share(600.0), 1.0)
        self.assertAlmostEqual(burner_share(5000 * 0.3048), 0.80)
        from murvan.catalog import units

        furnace = next(u for u in units().values() if u.kind == "furnace_coil")
        job = set_unit(box(6, 4), unit=furnace.id)
        low = solve(job).main.equipment.chosen.heating_w
        high = solve(changed(job, "", site=changed(Site(), altitude_m=1524.0))).main.equipment.chosen.heating_w
        self.assertAlmostEqual(high / low, 0.80)
        self.assertEqual(float(equipment.heating_capacity(furnace, -5.0)[0][0]), low)


class People(unittest.TestCase):
    def test_by_default_they_sleep_in_the_bedrooms_and_live_in_the_living_room(self):
        from tests.houses import demo

        r = solve(changed(demo(), "", rooms=tuple(changed(x, "", people=0.0) for x in demo().rooms)))
        people, use = r.gains.people, np.array([x.use for x in r.job.rooms])
        self.assertAlmostEqual(float(people[use == "living", 15].sum()), r.job.bedrooms + 1)
        self.assertAlmostEqual(float(people[use == "bedroom", 2].sum()), r.job.bedrooms + 1)
        # the two largest bedrooms of the sample house are of one size and share the second sleeper
        np.testing.assert_allclose(sorted(people[use == "bedroom", 2]), [1, 1, 1.5, 1.5])
        np.testing.assert_allclose(people.sum(axis=0), r.job.bedrooms + 1)
        said = solve(replace(r.job, "rooms", r.job.rooms[0].id, people=3.0)).gains
        self.assertEqual((said.count, float(said.people[1:].max())), (3.0, 0.0))


if __name__ == "__main__":
    unittest.main()
