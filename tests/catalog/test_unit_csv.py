"""Units as CSV: there and back, in both measures; what is wrong is said by line and by cell."""

import unittest

from murvan.catalog import CatalogError, multi_units, units, units_csv, units_from_csv
from murvan.catalog.unit_csv import si_name

TYPED = """id,part,field,value,outdoor_f,wet_bulb_f,total_kbtu_h,sensible_btu_h,power_w,max_btu_h,min_btu_h,tap,static_in_wc,flow_cfm
{units}
own-24,cooling,,,82,63,24.6,"20,100",1500
own-24,cooling,,,95,63,23,19500,1800
own-24,cooling,,,82,67,26,18000,1520
own-24,cooling,,,95,67,24,17500,1830
own-24,heating,,,47,,,,1900,26000,9000
own-24,heating,,,17,,,,1700,17000,8000
own-24,blower,kind,psc
own-24,blower,limit_in_wc,0.5
own-24,blower,,,,,,,,,,1,0.1,800
own-24,blower,,,,,,,,,,1,0.3,740
own-24,blower,,,,,,,,,,1,0.5,650
"""
SINGLE = {
    "maker": "Own",
    "name": "Shed 24",
    "kind": "heat_pump",
    "stages": "single",
    "nominal_btu_h": "24,000",
    "rated_flow_cfm": "800",
    "mca_a": "18",
    "mop_a": "25",
    "width_in": "18",
    "depth_in": "21",
    "height_in": "45",
    "outlet_width_in": "16",
    "outlet_depth_in": "18",
    "wheel_diameter_in": "10",
    "weight_lb": "120",
    "sound_dba": "58",
    "price": "3900",
    "heater_kw": "5 10",
    "line_charge_oz_ft": "0.6",
}


def typed(**changes):
    lines = "\n".join(f'own-24,unit,{k},"{v}"' for k, v in {**SINGLE, **changes}.items() if v is not None)
    return TYPED.format(units=lines)


class TestThereAndBack(unittest.TestCase):
    def test_si_is_exact(self):
        every = tuple(units().values())
        self.assertEqual(units_from_csv(units_csv(every)), (every, ()))

    def test_outdoor_units_with_ports_there_and_back(self):
        every = tuple(multi_units().values())
        self.assertEqual(units_from_csv(units_csv(every)), ((), every))
        text = units_csv(every).replace("wexley-m18,unit,ports,2", "wexley-m18,unit,ports,1")
        with self.assertRaisesRegex(CatalogError, "M18 2-port, ports"):
            units_from_csv(text)
        with self.assertRaisesRegex(CatalogError, "has no blower"):
            units_from_csv(units_csv(every[:1]) + "wexley-m18,blower,limit_pa,100\n")

    def test_inch_pound_within_its_figures(self):
        every = tuple(units().values())
        for a, b in zip(units_from_csv(units_csv(every, "ip"))[0], every, strict=True):
            self.assertEqual(a.id, b.id)
            self.assertAlmostEqual(a.cooling.total_w[2][1], b.cooling.total_w[2][1], delta=0.02)
            self.assertAlmostEqual(a.cooling.outdoor_c[2], b.cooling.outdoor_c[2], delta=0.005)
            self.assertAlmostEqual(a.blower.taps_m3_s[0][1], b.blower.taps_m3_s[0][1], delta=5e-5)
        self.assertIn(",65.0,", units_csv(every, "ip"))

    def test_a_sheet_typed_in_inch_pound(self):
        ((u,), _) = units_from_csv(typed())
        self.assertEqual((u.maker, u.stages, u.heater_kw), ("Own", "single", (5.0, 10.0)))
        # 24,000 Btu/h = 7,033.7 W, 95 °F = 35 °C, 800 cfm = .37756 m3/s: conversions of the 1959 yard and pound
        self.assertAlmostEqual(u.nominal_w, 7033.7, delta=0.1)
        self.assertAlmostEqual(u.cooling.outdoor_c[1], 35, places=3)
        self.assertAlmostEqual(u.cooling.total_w[1][1], 7033.7, delta=0.1)
        self.assertAlmostEqual(u.cooling.sensible_w[0][0], 20100 * 0.293071, delta=0.1)
        self.assertAlmostEqual(u.heating.outdoor_c[0], -8.3333, places=3)
        self.assertAlmostEqual(u.blower.taps_m3_s[0][0], 0.37756, places=5)
        self.assertAlmostEqual(u.blower.limit_pa, 124.54, places=2)
        self.assertAlmostEqual(u.line_charge_kg_m, 0.0558, places=4)

    def test_names_of_other_measures(self):
        self.assertEqual(si_name("total_kbtu_h", ["total_w"])[0], "total_w")
        self.assertEqual(si_name("heater_kw", ["heater_kw", "heater_w"])[0], "heater_kw")
        self.assertIsNone(si_name("colour", ["total_w"]))


class TestRefusals(unittest.TestCase):
    def refused(self, text, words):
        with self.assertRaisesRegex(CatalogError, words):
            units_from_csv(text)

    def test_lines(self):
        t = typed()
        self.refused(
            t.replace("own-24,cooling,,,95,67,24,17500,1830\n", ""), "no line at outdoor_c 35, wet_bulb_c 19.4444"
        )
        self.refused(t.replace("95,67,24,", "95,67,abc,"), "Line 24, total_w: “abc” is not a number")
        self.refused(
            t.replace("95,67,24,", "82,67,24,"), "Line 24: outdoor_c 27.7778, wet_bulb_c 19.4444 stands twice"
        )
        self.refused(t.replace("95,67,24,", "95,67,,"), "Line 24: a line of the cooling table needs total_w")
        self.refused(t.replace("own-24,heating,,,17", ",heating,,,17"), "Line 26: each line needs an id and a part")
        self.refused(t.replace(",heating,,,17", ",warming,,,17"), "one of unit, cooling, heating, blower")

    def test_fields(self):
        self.refused(typed(colour="red"), "a unit has no field “colour”")
        self.refused(typed(mop_a="lots"), "mop_a: “lots” is not a number")
        self.refused(typed(mop_a=None), "Shed 24, MOP is missing")
        self.refused(typed(kind="boiler"), "Shed 24")
        self.refused(typed(nominal_w="7000"), "given twice")
        self.refused(typed(cooling="x"), "no field “cooling”")
        self.refused("id,part,field,value\nown-24,unit,,\n", "needs a field and a value")

    def test_columns(self):
        self.refused("", "no column “id”")
        self.refused("id,part,smell\n", "a column “smell” that Murvan doesn't know")
        self.refused("id,part,total_w,total_btu_h\n", "total_w in two columns")
        self.refused("id,part\n\n", "no units below its first line")

    def test_two_columns_swapped(self):
        head, rest = typed().split("\n", 1)
        swapped = head.replace("total_kbtu_h,sensible_btu_h", "sensible_kbtu_h,total_btu_h")
        self.refused(f"{swapped}\n{rest}", "sensible 24,600 Btu/h .* is above total 20,100 Btu/h")
