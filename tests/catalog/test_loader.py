"""The shipped catalogue is whole, and a bad file is refused in words."""

import json
import tempfile
import unittest
from importlib import resources
from pathlib import Path

import numpy as np
import psychrolib

from murvan.catalog import CatalogError, assemblies, climates, load_units, units
from murvan.model.equipment import KIND_WORDS


class TestShipped(unittest.TestCase):
    def test_kinds_and_sizes(self):
        found = list(units().values())
        self.assertGreaterEqual(len(found), 60)
        pumps = [u for u in found if u.kind == "heat_pump"]
        tons = {round(u.nominal_w / 3516.85, 1) for u in pumps}
        self.assertTrue({1.5, 2.0, 2.5, 3.0, 3.5, 4.0, 5.0} <= tons)
        self.assertTrue({"single", "two", "variable"} <= {u.stages for u in pumps})
        self.assertTrue({"furnace_coil", "slim_ducted", "wall"} <= {u.kind for u in found})

    def test_no_table_leaves_its_air_beyond_saturation(self):
        """At rated air of standard density, by PsychroLib: what is left of water goes into the air that leaves."""
        psychrolib.SetUnitSystem(psychrolib.SI)
        points = 0
        for u in units().values():
            c, mass = u.cooling, u.rated_flow_m3_s * 1.2
            for i, j in np.ndindex(len(c.outdoor_c), len(c.wet_bulb_c)):
                ratio = psychrolib.GetHumRatioFromTWetBulb(c.dry_bulb_c, c.wet_bulb_c[j], 101325)
                dry = mass / (1 + ratio)
                left = psychrolib.GetMoistAirEnthalpy(c.dry_bulb_c, ratio) - c.total_w[i][j] / dry
                leaving = c.dry_bulb_c - c.sensible_w[i][j] / (dry * (1006 + 1860 * ratio))
                wet = (left - 1006 * leaving) / (2501000 + 1860 * leaving)
                most = psychrolib.GetSatHumRatio(leaving, 101325)
                self.assertLessEqual(wet, 1.02 * most, (u.id, c.outdoor_c[i], c.wet_bulb_c[j]))
                points += 1
        self.assertGreater(points, 3000)

    def test_each_kind_has_neighbours_in_size_and_every_fuel_is_there(self):
        found = list(units().values())
        for kind in KIND_WORDS:
            sizes = sorted({u.nominal_w for u in found if u.kind == kind})
            self.assertGreaterEqual(len(sizes), 4, kind)
            for small, big in zip(sizes, sizes[1:], strict=False):
                self.assertLessEqual(big / small, 1.55, kind)
        self.assertLess(min(u.nominal_w for u in found), 6100 * 0.29307)
        self.assertGreater(max(u.nominal_w for u in found), 59900 * 0.29307)
        furnaces = [u for u in found if u.kind == "furnace_coil"]
        self.assertEqual({u.fuel for u in furnaces}, {"gas", "propane", "oil", "electric"})
        self.assertTrue(all(u.furnace_output_w and u.furnace_efficiency for u in furnaces))
        self.assertTrue(any(u.furnace_efficiency < 0.9 for u in furnaces))
        self.assertTrue(any(u.furnace_min_fraction < 0.5 for u in furnaces))
        self.assertTrue(all(u.heating is None and u.heater_kw for u in found if u.kind == "air_conditioner"))

    def test_tables_behave(self):
        for u in units().values():
            for rows in (u.cooling.total_w, u.cooling.sensible_w):
                for row, hotter in zip(rows, rows[1:], strict=False):
                    self.assertTrue(all(a >= b for a, b in zip(row, hotter, strict=True)), u.name)
            for total, sensible in zip(u.cooling.total_w, u.cooling.sensible_w, strict=True):
                self.assertTrue(all(s <= t for t, s in zip(total, sensible, strict=True)), u.name)
            if u.heating:
                self.assertTrue(all(a <= b for a, b in zip(u.heating.min_w, u.heating.max_w, strict=True)), u.name)

    def test_a_blower_makes_its_units_air_at_half_its_limit(self):
        """Common practice: rated air is made with ducts on, not in the open room."""
        for u in units().values():
            if u.kind in ("wall", "floor", "ceiling1", "ceiling4"):
                continue
            flow, static = np.array(u.blower.taps_m3_s[-1]), np.array(u.blower.static_pa)
            made = float(np.interp(0.5 * u.blower.limit_pa, static, flow))
            self.assertGreaterEqual(made, u.rated_flow_m3_s, u.id)

    def test_climates_fill_the_year(self):
        self.assertEqual(len(climates()), 9)  # eight types and the invented town
        for name, c in climates().items():
            self.assertAlmostEqual(sum(c.bin_hours), 8760, delta=10)
            self.assertEqual([p.share for p in c.points], ["99", "99.6", "1", "0.4"])
            words = "Invented year" if name == "Brindlewick" else "replace by your local design data"
            self.assertIn(words, c.source)

    def test_climate_types_differ_as_they_should(self):
        c = climates()
        self.assertLess(c["Very cold"].winter_c, c["Cold, dry"].winter_c)
        self.assertLess(c["Hot, dry"].summer_wet_bulb_c, c["Hot, humid"].summer_wet_bulb_c)
        self.assertGreater(c["Mixed, dry"].daily_range_k, c["Mixed, humid"].daily_range_k)
        self.assertEqual(min(c.values(), key=lambda x: x.summer_c).name, "Mild coast")

    def test_assemblies(self):
        constructions, glazings = assemblies()
        self.assertTrue(
            {"wall", "partition", "ceiling", "slab", "floor", "door"} <= {c.kind for c in constructions.values()}
        )
        self.assertGreaterEqual(len(glazings), 4)


class TestRefusals(unittest.TestCase):
    def load(self, change):
        raw = json.loads(resources.files("murvan.catalog").joinpath("data", "equipment.json").read_text("utf-8"))
        change(raw)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "units.json"
            path.write_text(json.dumps(raw))
            return load_units(path)

    def test_own_file_loads(self):
        self.assertEqual(len(self.load(lambda raw: raw["units"].__delitem__(slice(2, None)))), 2)

    def test_missing_column(self):
        with self.assertRaisesRegex(CatalogError, "VH-24"):
            self.load(lambda raw: raw["units"][0]["cooling"]["total_w"].pop())

    def test_blower_that_rises(self):
        with self.assertRaisesRegex(CatalogError, "falling flow"):
            self.load(lambda raw: raw["units"][0]["blower"]["taps_m3_s"][0].reverse())

    def test_unknown_field(self):
        with self.assertRaisesRegex(CatalogError, "VH-24, colour"):
            self.load(lambda raw: raw["units"][0].update(colour="red"))

    def test_no_list(self):
        with self.assertRaisesRegex(CatalogError, "no list of units"):
            self.load(lambda raw: (raw.pop("units"), raw.pop("multi_units")))

    def test_not_json(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "x.json"
            path.write_text("{")
            with self.assertRaises(CatalogError):
                load_units(path)
