"""Hours are those of the clock: the sun stands where pvlib has it at that time of that place."""

import unittest

import numpy as np
import pandas as pd
import pvlib

from murvan.design import solve
from murvan.design.explain.day import explain_at
from murvan.design.weather.conditions import clock_words, design_days, is_summer_time, time_zone_h
from murvan.model import Climate, Site
from murvan.model.edit import changed, replace_part
from murvan.physics import sun
from tests.houses import demo, demo_results


def pvlib_sun(site, month):
    zone = time_zone_h(site) + (1 if is_summer_time(site, month) else 0)
    times = pd.date_range(f"2025-{month:02d}-21 01:00", periods=24, freq="h") - pd.Timedelta(hours=zone)
    return pvlib.solarposition.get_solarposition(times.tz_localize("UTC"), site.latitude_deg, site.longitude_deg)


class Clock(unittest.TestCase):
    def test_sun_at_clock_time_against_pvlib(self):
        """Half a degree near the equinoxes, where years differ by a quarter of a day; elsewhere nearer."""
        for site in (
            Site(latitude_deg=40, longitude_deg=-90),
            Site(latitude_deg=33, longitude_deg=-84.4, time_zone_h=-5),
            Site(latitude_deg=47, longitude_deg=-122.3, summer_time=False),
            Site(latitude_deg=-34, longitude_deg=151.2, time_zone_h=10),
            Site(latitude_deg=52, longitude_deg=-2.0, time_zone_h=0),
        ):
            for day in design_days(site, Climate(), tuple(range(1, 13))):
                theirs = pvlib_sun(site, day.month)
                up = theirs["elevation"].to_numpy() > 3
                np.testing.assert_allclose(day.sun_altitude_deg[up], theirs["elevation"][up], atol=0.5)
                turn = (day.sun_azimuth_deg[up] - theirs["azimuth"].to_numpy()[up] + 180) % 360 - 180
                self.assertLess(np.abs(turn * np.cos(np.deg2rad(day.sun_altitude_deg[up]))).max(), 0.6)

    def test_equation_of_time_and_declination_against_pvlib(self):
        times = pd.DatetimeIndex([f"{y}-{m:02d}-21 18:00" for y in range(2021, 2025) for m in range(1, 13)], tz="UTC")
        theirs = pvlib.solarposition.get_solarposition(times, 40.0, -90.0, method="nrel_numpy")
        minutes = theirs["equation_of_time"].to_numpy().reshape(4, 12).mean(axis=0)
        for m in range(12):
            day = (21, 52, 80, 111, 141, 172, 202, 233, 264, 294, 325, 355)[m]
            self.assertAlmostEqual(sun.equation_of_time_min(day), minutes[m], delta=0.6)
        # equinoxes and solstices of these years, mean noon: .37 and 23.44 degrees; pvlib's SPA, from memory
        self.assertAlmostEqual(sun.declination_deg(80), 0.37, delta=0.06)
        self.assertAlmostEqual(sun.declination_deg(264), 0.58, delta=0.08)
        self.assertAlmostEqual(sun.declination_deg(172), 23.44, delta=0.03)

    def test_summer_time_by_month_and_half_of_the_earth(self):
        north, south = Site(latitude_deg=40), Site(latitude_deg=-34)
        self.assertEqual([m for m in range(1, 13) if is_summer_time(north, m)], list(range(3, 11)))
        self.assertEqual([m for m in range(1, 13) if is_summer_time(south, m)], [1, 2, 3, 10, 11, 12])
        self.assertFalse(is_summer_time(changed(north, "", summer_time=False), 7))
        self.assertEqual(clock_words(Site(longitude_deg=-90), 7), "summer time, UTC−5")
        self.assertEqual(clock_words(Site(longitude_deg=-90, summer_time=False), 7), "standard time, UTC−6")

    def test_peaks_come_later_by_the_clock(self):
        early = solve(replace_part(demo(), "site", summer_time=False))
        west = [o.room for o in demo().openings if o.kind == "window"][0]
        i = [r.id for r in demo().rooms].index(west)
        self.assertEqual(int(demo_results().loads.peak_hour[i]), int(early.loads.peak_hour[i]) + 1)

    def test_the_arithmetic_says_which_clock(self):
        said = explain_at(demo_results(), 0, "glass_W", 0, 17).source_texts("ip")[0]
        self.assertIn("17:00 on 21 July, clock time (summer time, UTC−5)", said)


if __name__ == "__main__":
    unittest.main()
