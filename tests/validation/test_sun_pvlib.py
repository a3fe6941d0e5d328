"""Sun position and plane irradiance against pvlib."""

import unittest

import numpy as np
import pandas as pd
import pvlib

from murvan.physics import sun


class TestSun(unittest.TestCase):
    def test_position(self):
        """Against pvlib's ephemeris at the same solar time; ours takes one declination a day, and near the
        equinoxes that moves by 0.4 degrees in a day."""
        for latitude in (25.0, 40.0, 55.0):
            for day in (21, 111, 202, 294):
                times = pd.date_range("2025-01-01", periods=24, freq="h", tz="Etc/GMT+6") + pd.Timedelta(days=day - 1)
                theirs = pvlib.solarposition.get_solarposition(times, latitude, -90.0, method="nrel_numpy")
                solar = times.hour + theirs["equation_of_time"].to_numpy() / 60
                altitude, azimuth = sun.position(latitude, day, np.asarray(solar, float))
                up = theirs["elevation"].to_numpy() > 5
                np.testing.assert_allclose(altitude[up], theirs["elevation"].to_numpy()[up], atol=0.4)
                turn = (azimuth[up] - theirs["azimuth"].to_numpy()[up] + 180) % 360 - 180
                self.assertLess(np.abs(turn * np.cos(np.deg2rad(altitude[up]))).max(), 0.5)

    def test_sun_at_midnight(self):
        """At 71 degrees on the longest day, when the declination stands still, round the whole clock."""
        times = pd.date_range("2025-06-21", periods=24, freq="h", tz="Etc/GMT+6")
        theirs = pvlib.solarposition.get_solarposition(times, 71.0, -90.0, method="nrel_numpy")
        solar = times.hour + theirs["equation_of_time"].to_numpy() / 60
        altitude, azimuth = sun.position(71.0, 172, np.asarray(solar, float))
        self.assertGreater(altitude.min(), 0)
        np.testing.assert_allclose(altitude, theirs["elevation"].to_numpy(), atol=0.1)
        turn = (azimuth - theirs["azimuth"].to_numpy() + 180) % 360 - 180
        self.assertLess(np.abs(turn).max(), 0.2)

    def test_beam_on_a_plane(self):
        altitude, azimuth = sun.position(40, 202, np.arange(6.0, 19.0))
        for tilt in (0.0, 30.0, 90.0):
            for facing in (0.0, 135.0, 270.0):
                theirs = pvlib.irradiance.beam_component(tilt, facing, 90 - altitude, azimuth, 800.0)
                ours, _, _ = sun.plane_irradiance(
                    altitude, azimuth, np.full(13, 800.0), np.zeros(13), np.array(tilt), np.array(facing)
                )
                np.testing.assert_allclose(ours, theirs, atol=1e-6)

    def test_air_mass_behind_the_clear_sky(self):
        """Our air mass is Kasten's; pvlib has the same formula."""
        for zenith in (0.0, 45.0, 70.0, 80.0):
            alt = 90 - zenith
            ours = 1 / (np.sin(np.deg2rad(alt)) + 0.50572 * (6.07995 + alt) ** -1.6364)
            self.assertAlmostEqual(
                ours, float(pvlib.atmosphere.get_relative_airmass(zenith, "kastenyoung1989")), places=4
            )

    def test_extraterrestrial(self):
        for day in (3, 100, 202, 300):
            theirs = float(pvlib.irradiance.get_extra_radiation(day, solar_constant=1367.0))
            self.assertAlmostEqual(sun.extraterrestrial_w_m2(day) / theirs, 1, delta=0.003)

    def test_clear_sky_is_plausible_beside_another_model(self):
        """Noon beam of the tau model and of pvlib's simplified Solis within 20 %."""
        altitude, _ = sun.position(40, 202, np.array([12.0]))
        beam, _ = sun.clear_sky(altitude, 202, 0.45, 2.0)
        solis = pvlib.clearsky.simplified_solis(float(altitude[0]), aod700=0.2, precipitable_water=2.0)
        self.assertAlmostEqual(float(beam[0]) / float(solis["dni"]), 1, delta=0.2)
