"""The look in space: every facet faces outwards, and boxes are as large as what they stand for."""

import unittest

import numpy as np

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.space import blocks, faces
from tests.houses import box


def area(q):
    """Of a facet of four corners in a plane, by its diagonals."""
    return float(np.linalg.norm(np.cross(q[2] - q[0], q[3] - q[1])) / 2)


class Facets(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.r = solve(demo_job("demo"))
        cls.x = faces(cls.r.job, cls.r.laid)

    def test_outwards(self):
        """Seen from the middle of a box its facets look away."""
        x = self.x
        np.testing.assert_allclose(np.linalg.norm(x.normals, axis=1), 1.0, atol=1e-9)
        for k, (kind, _) in enumerate(x.things):
            mine = x.of == k
            if kind in ("unit", "supply plenum", "return plenum"):
                middle = x.corners[mine].reshape(-1, 3).mean(axis=0)
                away = ((x.corners[mine].mean(axis=1) - middle) * x.normals[mine]).sum(axis=1)
                self.assertTrue((away > 0).all(), kind)

    def test_a_straight_duct_closes(self):
        """Facets times their normals sum to nothing over a closed body, whatever it is (divergence)."""
        x = self.x
        for k, (kind, ref) in enumerate(x.things):
            mine = np.flatnonzero(x.of == k)
            total = sum((area(x.corners[i]) * x.normals[i] for i in mine), np.zeros(3))
            np.testing.assert_allclose(total, 0, atol=1e-9, err_msg=f"{kind} {ref.id}")

    def test_boxes_are_as_large_as_what_they_stand_for(self):
        for k, b in enumerate(blocks(self.r.job)):
            (dx, dy, dz) = np.subtract(b.high, b.low)
            whole = sum(area(q) for q in self.x.corners[self.x.of == k])
            self.assertAlmostEqual(whole, 2 * (dx * dy + dy * dz + dz * dx), 9)

    def test_every_run_is_there_and_rooms_are_lines(self):
        self.assertLessEqual({r.id for r in self.r.laid}, {ref.id for _, ref in self.x.things})
        corners = sum(len(r.outline_m) for r in self.r.job.rooms)
        self.assertEqual(self.x.lines.shape, (3 * corners, 2, 3))
        self.assertEqual(len(self.x.storeys), 3 * corners)

    def test_a_house_without_ducts(self):
        x = faces(box(), ())
        self.assertEqual((len(x.corners), len(x.lines)), (0, 12))
