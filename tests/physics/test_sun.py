"""The sun: symmetry, night, shading directions."""

import unittest

import numpy as np

from murvan.physics import sun

HOURS = np.arange(0.0, 24.0)


class TestSun(unittest.TestCase):
    def test_noon_is_in_the_south_and_highest(self):
        altitude, azimuth = sun.position(40, 202, HOURS)
        self.assertEqual(int(altitude.argmax()), 12)
        self.assertAlmostEqual(float(azimuth[12]), 180.0, places=6)

    def test_morning_mirrors_afternoon(self):
        altitude, azimuth = sun.position(40, 202, np.array([9.0, 15.0]))
        self.assertAlmostEqual(float(altitude[0]), float(altitude[1]))
        self.assertAlmostEqual(float(azimuth[0] + azimuth[1]), 360.0)

    def test_night_is_dark(self):
        altitude, _ = sun.position(40, 202, np.array([0.0, 2.0, 23.0]))
        beam, diffuse = sun.clear_sky(altitude, 202, 0.45, 2.0)
        self.assertTrue((beam == 0).all() and (diffuse == 0).all())

    def test_east_glass_peaks_in_the_morning_west_in_the_afternoon(self):
        altitude, azimuth = sun.position(40, 202, HOURS)
        beam, diffuse = sun.clear_sky(altitude, 202, 0.45, 2.0)
        faces = np.array([[0.0, 90.0, 180.0, 270.0]])
        on, _, _ = sun.plane_irradiance(
            altitude[:, None], azimuth[:, None], beam[:, None], diffuse[:, None], np.array(90.0), faces
        )
        peak = on.argmax(axis=0)
        self.assertLess(peak[1], 12)
        self.assertEqual(peak[2], 12)
        self.assertGreater(peak[3], 12)
        self.assertAlmostEqual(float(on[:, 1].max()), float(on[:, 3].max()), places=6)

    def test_horizontal_plane_gets_beam_times_sine_plus_diffuse(self):
        alt, az, beam, diffuse = (np.array([x]) for x in (50.0, 200.0, 800.0, 120.0))
        b, d, _ = sun.plane_irradiance(alt, az, beam, diffuse, np.array(0.0), np.array(0.0))
        self.assertAlmostEqual(float(b[0]), 800 * np.sin(np.deg2rad(50)))
        self.assertAlmostEqual(float(d[0]), 120.0)

    def test_incidence_ratio_table(self):
        cos = np.cos(np.deg2rad([0, 40, 60, 80, 90]))
        np.testing.assert_allclose(sun.incidence_ratio(cos), [1, 0.97, 0.84, 0.34, 0], atol=1e-6)
        self.assertEqual(float(sun.incidence_ratio(np.array([-0.5]))[0]), 0.0)
