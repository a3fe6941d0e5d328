"""People where nobody has typed any."""

import unittest

import numpy as np

from murvan.design.house.measuring import measure
from murvan.design.loads.gains import gains
from murvan.model.edit import changed
from murvan.model.job import Room
from tests.houses import box


def house(*rooms, bedrooms=2):
    """Rooms (use, width) beside each other, 4 m deep."""
    made, x = [], 0.0
    for k, (use, width) in enumerate(rooms):
        outline = ((x, 0.0), (x + width, 0.0), (x + width, 4.0), (x, 4.0))
        made.append(Room(id=f"r{k}", name=f"r{k}", storey="g", outline_m=outline, use=use))
        x += width
    return changed(box(), "People", rooms=tuple(made), openings=(), bedrooms=bedrooms)


def people(job):
    return gains(job, measure(job)).people


class People(unittest.TestCase):
    def test_bedrooms_and_one_more_live_by_day_and_sleep_by_night(self):
        p = people(house(("living", 6.0), ("bedroom", 4.0), ("bedroom", 3.0)))
        np.testing.assert_allclose(p[:, 13], [3, 0, 0])
        np.testing.assert_allclose(p[:, 1], [0, 2, 1])

    def test_bedrooms_alike_share_the_second_sleeper(self):
        p = people(house(("living", 6.0), ("bedroom", 4.0), ("bedroom", 4.0 + 1e-9)))
        np.testing.assert_allclose(p[:, 1], [0, 1.5, 1.5])

    def test_without_a_living_room_they_are_in_the_kitchen_and_without_that_everywhere(self):
        np.testing.assert_allclose(people(house(("kitchen", 5.0), ("bedroom", 4.0), bedrooms=1))[:, 13], [2, 0])
        np.testing.assert_allclose(people(house(("other", 3.0), ("other", 1.0), bedrooms=1))[:, 13], [1.5, 0.5])
