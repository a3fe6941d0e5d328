"""The catalogue of registers and grilles: an open form with free area, loss, throw and noise; how each shows in a design."""

import unittest
from math import log10

from murvan.catalog.registers import face_of, faces, usual_noise_nc
from murvan.design import solve
from murvan.design.ducts import runs as ducts
from murvan.kinds.registers import REGISTERS
from murvan.model import replace
from tests.design.lay.test_registers import laid
from tests.houses import demo, demo_results


class TestFaces(unittest.TestCase):
    def test_forty_and_more_of_every_kind(self):
        self.assertGreaterEqual(len(faces()), 40)
        self.assertEqual(
            {f.kind for f in faces().values()}, {"ceiling", "sidewall", "floor", "filter_grille", "grille"}
        )
        for f in faces().values():
            self.assertEqual(f.side == "return", f.throw_k is None, f.name)

    def test_registers_that_are_laid_are_of_the_catalogue(self):
        for which in ("demo", "bungalow", "narrow"):
            for x in laid(which).design.registers:
                f = faces()[x.item]
                self.assertEqual((x.kind, x.free_area, x.noise_nc), (f.kind, f.free_area, f.noise_nc))

    def test_a_size_that_is_not_made_has_no_face(self):
        self.assertIsNone(face_of("floor", 1.0, 1.0))


class TestFigures(unittest.TestCase):
    def setUp(self):
        self.x = next(r for r in demo().design.registers if r.side == "supply")

    def terminal(self, **changes):
        return solve(replace(demo(), "registers", self.x.id, **changes)).terminals[self.x.id]

    def test_its_loss_is_on_the_speed_in_its_free_area(self):
        t = self.terminal(loss=2.0)
        speed = t.flow_m3_s / (self.x.width_m * self.x.height_m * self.x.free_area)
        rho = solve(demo()).conditions.density_kg_m3
        self.assertAlmostEqual(t.pressure_pa, 2.0 * 0.5 * rho * speed**2, 9)
        self.assertAlmostEqual(
            ducts.register_k(t.register, 1.2) / ducts.register_k(self.x, 1.2), 2.0 / ducts.REGISTER_LOSS
        )

    def test_throw_goes_with_k(self):
        self.assertAlmostEqual(self.terminal(throw_k=7.6).throw_m / self.terminal(throw_k=3.8).throw_m, 2.0)

    def test_noise_rises_by_fifteen_where_the_speed_doubles(self):
        """50 lg 2 = 15; twice the face at the same speed adds 3."""
        one = self.terminal(noise_nc=30.0)
        half = self.terminal(noise_nc=30.0, free_area=self.x.free_area / 2)
        self.assertAlmostEqual(half.noise_nc - one.noise_nc, 50 * log10(2), 6)
        wide = self.terminal(noise_nc=30.0, width_m=2 * self.x.width_m, free_area=self.x.free_area / 2)
        self.assertAlmostEqual(wide.noise_nc - one.noise_nc, 10 * log10(2), 6)
        told = usual_noise_nc(self.x.kind, self.x.width_m, self.x.height_m)
        self.assertEqual(self.terminal(noise_nc=None).noise_nc, self.terminal(noise_nc=told).noise_nc)

    def test_every_register_of_the_demo_is_judged_by_its_noise(self):
        self.assertTrue(all(t.noise_nc is not None for t in demo_results().terminals.values()))
        for kind in REGISTERS:
            self.assertGreater(usual_noise_nc(kind, 0.123, 0.321), 0.0)


if __name__ == "__main__":
    unittest.main()
