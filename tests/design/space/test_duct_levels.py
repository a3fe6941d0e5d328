"""Levels at which ducts usually lie, by hand."""

import unittest

from murvan.design.space.duct_levels import HANG_M, JOISTS_M, levels
from murvan.model import Room, Storey, Structure
from murvan.model.edit import changed, insert
from tests.houses import box

TALL = 2.5


def house(ground=None, **lower):
    """One storey, or two where the lower one is said."""
    job = box()
    if ground is not None:
        job = changed(job, "", foundation=ground)
    if lower:
        g = changed(job.storeys[0], "", **lower)
        job = changed(job, "", storeys=(g, Storey(id="u", name="Upper", height_m=TALL)))
        job = insert(job, "rooms", Room(id="b", name="Above", storey="u", outline_m=((0, 0), (6, 0), (6, 4), (0, 4))))
    return job


class Levels(unittest.TestCase):
    def test_over_an_attic_floor_on_its_joists(self):
        self.assertAlmostEqual(levels(house(), house().storeys[0]).over, TALL + HANG_M)
        job = house()
        s = changed(job.storeys[0], "", ceiling_structure=Structure(depth_m=0.14))
        job = changed(job, "", storeys=(s,))
        self.assertAlmostEqual(levels(job, s).over, TALL + 0.14 + HANG_M)

    def test_in_the_middle_of_joists_and_of_webs(self):
        for kind in ("joists", "open_web"):
            job = house(ceiling_structure=Structure(kind=kind, depth_m=0.3))
            low, high = job.storeys
            self.assertAlmostEqual(levels(job, low).over, TALL + 0.15, msg=kind)
            # one space, said from both storeys
            self.assertAlmostEqual(levels(job, high).under, -0.15, msg=kind)

    def test_hung_under_the_joists_of_a_basement(self):
        job = house(ceiling_structure=Structure(depth_m=0.24), duct_place="basement")
        self.assertAlmostEqual(levels(job, job.storeys[0]).over, TALL - HANG_M)

    def test_in_the_room_over_a_dropped_ceiling(self):
        """A floor 70 cm over the ceiling, joists of 24: 46 cm to lie in."""
        job = house(ceiling_structure=Structure(depth_m=0.24))
        job = changed(job, "", storeys=(job.storeys[0], changed(job.storeys[1], "", floor_m=TALL + 0.7)))
        self.assertAlmostEqual(levels(job, job.storeys[0]).over, TALL + 0.23)

    def test_under_the_joists_of_a_crawl_space(self):
        job = house("crawl")
        self.assertAlmostEqual(levels(job, job.storeys[0]).under, -JOISTS_M - HANG_M)
        s = changed(job.storeys[0], "", floor_structure=Structure(depth_m=0.3))
        self.assertAlmostEqual(levels(changed(job, "", storeys=(s,)), s).under, -0.3 - HANG_M)
