"""Units at the edge: typing and reading, both systems."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from murvan.units import DIMENSION, FOOT, FORMS, UnitError, feet_inches, number, parse, shown, text, unit


class TestTyping(unittest.TestCase):
    def test_two_numbers_on_a_tape_are_feet_and_inches(self):
        for typed, feet in (
            ("17 6", 17.5),
            ("17' 6", 17.5),
            ("3'6", 3.5),
            ("8 6 1/2", 8 + 6.5 / 12),
            ("6 1/2 in", 6.5 / 12),
        ):
            with self.subTest(typed):
                self.assertAlmostEqual(parse("feet", typed, "ip") / FOOT, feet)
        with self.assertRaises(UnitError):
            parse("feet", "4 20", "si")

    def test_lengths_typed_freely(self):
        for typed in ("8 ft", "96 in", "8' 0\"", "8'", "2.4384 m", "8′ 0″", "8ft 0in", "243.84 cm"):
            with self.subTest(typed):
                self.assertAlmostEqual(parse("feet", typed, "ip"), 2.4384, places=9)

    def test_feet_inches_and_fractions(self):
        self.assertAlmostEqual(parse("feet", "14' 3 1/2\"", "ip"), (14 * 12 + 3.5) * 0.0254)
        self.assertAlmostEqual(parse("feet", "6' 4¼\"", "ip"), (6 * 12 + 4.25) * 0.0254)
        self.assertAlmostEqual(parse("size", '6 1/2"', "si"), 6.5 * 0.0254)

    def test_bare_number_takes_the_display_unit(self):
        self.assertAlmostEqual(parse("feet", "8", "ip"), 2.4384)
        self.assertAlmostEqual(parse("feet", "8", "si"), 8.0)
        self.assertAlmostEqual(parse("size", "7", "ip"), 0.1778)
        self.assertAlmostEqual(parse("size", "180", "si"), 0.18)
        self.assertAlmostEqual(parse("temperature", "70", "ip"), 21.1111, places=4)
        self.assertAlmostEqual(parse("flow", "1,200", "ip"), 1200 * 0.3048**3 / 60)

    def test_other_system_typed_in(self):
        self.assertAlmostEqual(parse("pressure", "20 Pa", "ip"), 20)
        self.assertAlmostEqual(parse("pressure", "0.08 inwc", "si"), 19.927, places=3)
        self.assertAlmostEqual(parse("pressure", "0.08 in wc", "si"), 19.927, places=3)
        self.assertAlmostEqual(parse("tons", "3 ton", "si"), 10550.56, places=1)
        self.assertAlmostEqual(parse("power", "1.2 kW", "ip"), 1200)
        self.assertAlmostEqual(parse("power", "12000 Btu/h", "si"), 3516.85, places=1)
        self.assertAlmostEqual(parse("flow", "50 L/s", "ip"), 0.05)
        self.assertAlmostEqual(parse("flow", "100 cfm", "si"), 0.0471947, places=6)
        self.assertAlmostEqual(parse("temperature", "20 C", "ip"), 20)
        self.assertAlmostEqual(parse("temperature", "-5 °F", "si"), -20.5556, places=3)
        self.assertAlmostEqual(parse("velocity", "700 fpm", "si"), 3.556)
        self.assertAlmostEqual(parse("percent", "85 %", "ip"), 0.85)
        self.assertAlmostEqual(parse("difference", "18 degF", "si"), 10)

    def test_nonsense_is_refused_with_an_example(self):
        for kind, typed in (
            ("feet", "abc"),
            ("flow", "3 ft"),
            ("feet", "1e400"),
            ("tons", "--3"),
            ("feet", '3 1/0"'),
            ("percent", "lots"),
            ("feet", "8 ft**9**9**9"),
            ("feet", "2 9999999 ft"),
            ("feet", "e7"),
            ("feet", ".e7"),
        ):
            with self.subTest(typed), self.assertRaises(UnitError):
                parse(kind, typed, "ip")
        with self.assertRaisesRegex(UnitError, "like"):
            parse("feet", "tall", "ip")
        with self.assertRaisesRegex(UnitError, "Type a number"):
            parse("feet", "  ", "ip")

    def test_units_as_people_write_them(self):
        """Exact by definition; W and Btu by the international table."""
        for kind, typed, want in (
            ("velocity", "60 km/h", 60 / 3.6),
            ("wind", "10 mph", 4.4704),
            ("pressure", "1 kPa", 1000.0),
            ("barometer", "29.92 inHg", 101320.76),
            ("friction", "0.1 in wc/100 ft", 0.81723),
            ("flow", "170 m³/h", 170 / 3600),
            ("area", "120 sq ft", 120 * FOOT**2),
            ("area", "120 ft**2", 120 * FOOT**2),
            ("power", "36 kBtu/h", 10550.559),
            ("power", "2 hp", 1491.4),
            ("u_factor", "0.3 Btu/h·ft²·°F", 0.3 * 5.678263337),
            ("r_value", "49 h·ft²·°F/Btu", 49 / 5.678263337),
            ("r_value", "3.5 m²K/W", 3.5),
            ("temperature", "300 K", 26.85),
            ("temperature", "68 degrees F", 20.0),
            ("difference", "10 K", 10.0),
            ("volume", "1,000 gallons", 3.785412),
            ("sheet", "0.906 lb/ft²", 4.4235),
            ("length", "2 yd", 1.8288),
            ("size", "18 cm", 0.18),
        ):
            with self.subTest(typed):
                self.assertAlmostEqual(parse(kind, typed, "ip") / want, 1.0, 4)

    def test_what_a_field_shows_can_be_typed_there(self):
        for kind in DIMENSION:
            for units in ("ip", "si"):
                if (kind, units) != ("feet", "ip"):
                    with self.subTest(kind):
                        self.assertAlmostEqual(
                            shown(kind, parse(kind, f"7 {unit(kind, units)}", units), units), 7.0, 6
                        )


class TestReading(unittest.TestCase):
    def test_feet_inches(self):
        self.assertEqual(feet_inches(2.4384), "8′ 0″")
        self.assertEqual(feet_inches(1.9367), "6′ 4¼″")
        self.assertEqual(feet_inches(0.3047), "1′ 0″")

    def test_numbers(self):
        self.assertEqual(text("flow", 0.0471947, "ip"), "100 cfm")
        self.assertEqual(text("flow", 0.0471947, "si"), "47 L/s")
        self.assertEqual(number("power", 12647.75, "ip"), "43,156")
        self.assertEqual(number("temperature", -12.78, "ip"), "9")
        self.assertEqual(number("power", -60.0, "ip"), "−205")

    def test_nothing_is_a_dash_and_never_zero(self):
        for value in (None, float("nan"), float("inf")):
            self.assertEqual(text("flow", value, "ip"), "–")

    def test_no_negative_zero(self):
        self.assertEqual(number("flow", -1e-9, "ip"), "0")

    def test_every_kind_has_both_forms(self):
        for kind in FORMS:
            for units in ("ip", "si"):
                self.assertIsInstance(unit(kind, units), str)
                self.assertTrue(text(kind, 1.0, units))

    @settings(max_examples=150, deadline=None)
    @given(
        st.sampled_from(
            ["length", "size1", "flow", "pressure", "power", "temperature", "velocity", "u_factor", "area"]
        ),
        st.floats(-50, 5000),
        st.sampled_from(["ip", "si"]),
    )
    def test_what_is_shown_reads_back(self, kind, value, units):
        typed = f"{shown(kind, value, units):.9f}"
        self.assertAlmostEqual(parse(kind, typed, units), value, delta=1e-6 * max(1, abs(value)))
        with_unit = f"{typed} {unit(kind, units)}"
        self.assertAlmostEqual(parse(kind, with_unit, units), value, delta=1e-6 * max(1, abs(value)))
