"""Heat and leaks of ducts against the exponential by hand and ASHRAE 152's delivery effectiveness."""

from __future__ import annotations

import unittest
from math import exp, pi

import numpy as np

from murvan.design import solve
from murvan.design.ducts.duct_heat import COLD_C, LEAST, R_FILMS, WARM_ELSE_C
from murvan.design.explain.day import explain_at
from murvan.design.loads.components import COLUMN
from murvan.model import Register, remove, replace, replace_part, with_design
from murvan.physics.constants import CP_AIR_J_KGK
from tests.houses import box, demo, demo_results, lay, set_unit

R8 = 8 * 0.1761101838


def ducted(place: str = "attic", back: str = "attic", leak: float = 0.0, insulation: float = R8):
    """The box with one supply and one return run, 10 m long each, 0.12 m3/s."""

    def run(tag: str, side: str, where: str) -> dict:
        return {
            "indoor": "unit1",
            "id": tag,
            "tag": tag,
            "side": side,
            "storey": "g",
            "path_m": ((0.0, 0.0), (10.0, 0.0)),
            "place": where,
            "diameter_m": 0.25,
            "insulation_r_m2k_w": insulation,
            "register_id": f"r{tag}",
        }

    def register(tag: str, side: str) -> Register:
        return Register(
            indoor="unit1", id=f"r{tag}", tag=tag, room="a", side=side, position_m=(1, 1), width_m=0.3, height_m=0.3
        )

    job = with_design(
        box(),
        **lay(box().storeys, run("S", "supply", place), run("R", "return", back)),
        registers=(register("S", "supply"), register("R", "return")),
    )
    job = set_unit(job, flow_m3_s=0.12, storey="g")
    return replace_part(job, "air", duct_leakage=leak)


def at_peak(r, register):
    """Air at a register at the hour of the house's peak."""
    house = r.loads.house
    at = r.loads.months.index(house.month) * 24 + house.hour - 1
    return float(r.duct_heat.ends[register].air_c[at])


class ByHand(unittest.TestCase):
    def test_the_exponential(self):
        r = solve(ducted())
        ua = pi * 0.25 * 10 / (R8 + R_FILMS)
        kept = exp(-ua / (0.12 * r.conditions.density_kg_m3 * CP_AIR_J_KGK))
        found = r.duct_heat.runs["S"]
        self.assertAlmostEqual(found.ua_w_k, ua)
        self.assertAlmostEqual(found.kept, kept)
        air = r.duct_heat.ends["rS"].air_c[:-1]
        around = (air - COLD_C * kept) / (1 - kept)  # what stood round it at every hour
        self.assertAlmostEqual(float(abs(around - found.summer_c).min()), 0.0)
        self.assertGreater(float(around.max()), 45.0)  # an attic in the sun
        winter = r.conditions.outdoor_winter.temperature_c
        self.assertAlmostEqual(float(r.duct_heat.ends["rS"].air_c[-1]), winter + (WARM_ELSE_C - winter) * kept)

    def test_heating_against_the_delivery_effectiveness_of_ashrae_152(self):
        """DE = as Bs - as Bs (1 - ar Br) dtr/dte - as (1 - Bs) dts/dte, with the leaks of both sides outside."""
        for leak in (0.0, 0.1, 0.2):
            r = solve(ducted(leak=leak))
            c = r.conditions
            a = 1 - leak / 2
            b = r.duct_heat.runs["S"].kept
            inside, winter = c.indoor_heating.temperature_c, c.outdoor_winter.temperature_c
            mixed = inside + (1 - a * b) * (winter - inside)  # Br = Bs, both in the attic
            dte = WARM_ELSE_C - mixed
            dt = inside - winter
            de = a * b - a * b * (1 - a * b) * dt / dte - a * (1 - b) * dt / dte
            self.assertAlmostEqual(1 / (1 + float(r.duct_heat.heating[0])), max(de, LEAST), places=6)

    def test_the_room_needs_more_by_what_is_lost(self):
        r = solve(ducted(leak=0.06))
        ld, k = r.loads, COLUMN["ducts"]
        heat = float(ld.heating_parts[0].sum() - ld.heating_parts[0, k])
        self.assertAlmostEqual(float(ld.heating_parts[0, k]), heat * float(r.duct_heat.heating[0]))
        bare = ld.parts_by_hour_w[0, 0].sum(axis=0) - ld.parts_by_hour_w[0, 0, k]
        np.testing.assert_allclose(ld.parts_by_hour_w[0, 0, k], np.maximum(bare, 0) * r.duct_heat.cooling[0, 0])

    def test_leaks_of_the_return_bring_moisture(self):
        dry = solve(ducted(leak=0.0)).loads.latent_parts[0, COLUMN["ducts"]]
        r = solve(ducted(leak=0.1))
        wanted = 0.05 * 0.12 * r.conditions.latent_factor * r.conditions.moisture_difference
        self.assertEqual(float(dry), 0.0)
        self.assertAlmostEqual(float(r.duct_heat.latent_w[0]), wanted, places=6)


class Sense(unittest.TestCase):
    def test_inside_the_shell_nothing_is_lost(self):
        r = solve(ducted("inside", "inside", leak=0.2))
        self.assertEqual(float(r.duct_heat.heating[0]), 0.0)
        self.assertEqual(float(np.abs(r.duct_heat.cooling).max()), 0.0)
        self.assertEqual(at_peak(r, "rS"), COLD_C)

    def test_more_insulation_and_less_leak_lose_less(self):
        shares = [float(solve(ducted(insulation=x)).duct_heat.cooling[0, 0, 15]) for x in (0.0, R8 / 2, R8, 2 * R8)]
        self.assertEqual(shares, sorted(shares, reverse=True))
        leaks = [float(solve(ducted(leak=x)).duct_heat.heating[0]) for x in (0.3, 0.1, 0.0)]
        self.assertEqual(leaks, sorted(leaks, reverse=True))

    def test_a_cooler_place_takes_less(self):
        hot, mild = solve(ducted("attic")), solve(ducted("crawl"))
        self.assertLess(float(mild.duct_heat.cooling[0, 0, 15]), float(hot.duct_heat.cooling[0, 0, 15]))

    def test_without_runs_the_allowance_stands(self):
        r = solve(box())
        self.assertFalse(r.duct_heat.by_run.any())
        up = replace(box(), "storeys", "g", duct_place="attic")
        said = replace_part(up, "air", duct_allowance=0.12)
        self.assertAlmostEqual(float(solve(said).duct_heat.heating[0]), 0.12)

    def test_by_default_the_allowance_goes_by_place(self):
        """Within a few hundredths of what the demo's own attic runs take; nothing inside; more leaks take more."""
        found = {}
        for place in ("inside", "attic", "crawl", "basement", "garage"):
            r = solve(replace(box(), "storeys", "g", duct_place=place))
            m, h = r.loads.at(r.loads.house.month), r.loads.house.hour
            found[place] = float(r.duct_heat.cooling[m, 0, h - 1])
        self.assertEqual(found["inside"], 0.0)
        self.assertTrue(0.2 < found["attic"] < 0.3, found)
        self.assertGreater(found["attic"], found["garage"])
        leaky = replace_part(replace(box(), "storeys", "g", duct_place="attic"), "air", duct_leakage=0.2)
        self.assertGreater(float(solve(leaky).duct_heat.cooling[0, 0, 15]), found["attic"])

    def test_a_room_without_a_run_keeps_the_allowance(self):
        job = remove(demo(), "runs", "B6", with_dependents=True)

        r = solve(job)
        i = [x.name for x in job.rooms].index("Bath")
        self.assertFalse(r.duct_heat.by_run[i])
        self.assertAlmostEqual(float(r.duct_heat.heating[i]), job.design.air.duct_allowance)

    def test_a_hopeless_duct_is_bounded(self):
        job = ducted(leak=1.0, insulation=0.0)
        job = replace(job, "runs", "S", length_m=150.0)
        r = solve(job)
        self.assertLessEqual(float(r.duct_heat.heating.max()), 1 / LEAST - 1 + 1e-9)
        self.assertTrue(np.isfinite(r.loads.sensible_w).all())

    def test_the_demos_upper_rooms_lose_and_its_ground_floor_does_not(self):
        r = demo_results()
        for i, room in enumerate(demo().rooms):
            self.assertEqual(float(r.duct_heat.cooling[0, i, 15]) > 0, room.storey == "upper", room.name)
        self.assertGreater(at_peak(r, "B2"), at_peak(r, "B8"))  # the far end of the trunk is warmer


class Told(unittest.TestCase):
    def test_the_arithmetic_of_a_rooms_ducts(self):
        r = demo_results()
        i = [x.name for x in demo().rooms].index("Bedroom 1")
        a = explain_at(r, i, "ducts", 0, 16)
        total = next(x for x in a.lines if x.bold)
        before, reach = (x.value for x in total.operands)
        self.assertAlmostEqual(before / reach - before, total.result.value, places=6)
        self.assertEqual(sum("leaves the unit" in x.expression for x in a.lines), 2)
        self.assertIn("152", " ".join(a.source_texts("ip")))


if __name__ == "__main__":
    unittest.main()
