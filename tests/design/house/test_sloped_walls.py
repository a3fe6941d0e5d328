"""Walls beside and under sloped ceilings: what lies beyond goes by the height along the wall, against hand sums."""

import unittest

from murvan.design import solve
from murvan.model import Room, Storey
from murvan.model.edit import changed
from murvan.model.house import Slope
from tests.houses import box

STOREYS = (Storey(id="g", name="Ground", height_m=2.5), Storey(id="u", name="Upper", height_m=2.5))
"""The upper floor lies 2.8 m up: 2.5 m and the usual structure between."""
BLOCK = ((0.0, 0.0), (4.0, 0.0), (4.0, 4.0), (0.0, 4.0))


def house(lean: Room, *more: Room):
    rooms = (
        Room(id="a", name="Below", storey="g", outline_m=BLOCK),
        Room(id="b", name="Bedroom", storey="u", outline_m=BLOCK),
        lean,
        *more,
    )
    return solve(changed(box(), "house", storeys=STOREYS, rooms=rooms, openings=()))


def area(r, room, wall, other):
    ids = [x.id for x in r.job.rooms]
    return sum(w.gross_area_m2 for w in r.geometry.walls if (ids[w.room], w.wall, w.other) == (room, wall, other))


class LeanTo(unittest.TestCase):
    def test_against_the_wall_of_an_upper_bedroom(self):
        """2.2 m low, at 0.7 to 1 over 3 m: 4.3 m at the house, 1.5 m of the bedroom's 2.5 m: 6 of 10 m2 inside."""
        slope = Slope(rises="x", low_side="start", low_m=2.2, high_m=4.3, pitch=0.7)
        r = house(Room(id="l", name="Lean-to", storey="g", outline_m=((-3, 0), (0, 0), (0, 4), (-3, 4)), slope=slope))
        self.assertAlmostEqual(area(r, "b", 3, "heated"), 6.0, places=6)
        self.assertAlmostEqual(area(r, "b", 3, "outdoors"), 4.0, places=6)

    def test_its_low_side_against_the_house_leaves_the_bedroom_outside(self):
        """The same turned: 2.2 m at the house, all of the bedroom's wall is outside."""
        slope = Slope(rises="x", low_side="end", low_m=2.2, high_m=4.3, pitch=0.7)
        r = house(Room(id="l", name="Lean-to", storey="g", outline_m=((-3, 0), (0, 0), (0, 4), (-3, 4)), slope=slope))
        self.assertEqual(area(r, "b", 3, "heated"), 0.0)
        self.assertAlmostEqual(area(r, "b", 3, "outdoors"), 10.0, places=6)
        self.assertGreater(area(r, "a", 3, "heated"), 0.8 * 10.0)

    def test_its_side_along_the_house_rises_past_the_upper_floor(self):
        """Rising 2.2 to 4.3 m over 3 m of the bedroom's wall: 0.35 (3 - 0.857)^2 = 1.607 of 7.5 m2 beside it."""
        slope = Slope(rises="x", low_side="start", low_m=2.2, high_m=4.3, pitch=0.7)
        outline = ((0.5, 4.0), (3.5, 4.0), (3.5, 7.0), (0.5, 7.0))
        r = house(Room(id="l", name="Lean-to", storey="g", outline_m=outline, slope=slope))
        self.assertAlmostEqual(area(r, "b", 2, "heated"), 0.35 * (3 - 0.6 / 0.7) ** 2, places=3)
        self.assertAlmostEqual(area(r, "b", 2, "heated") + area(r, "b", 2, "outdoors"), 10.0, places=6)


class Gable(unittest.TestCase):
    SLOPE = Slope(rises="y", low_side="both", low_m=1.2, high_m=3.2, pitch=1.0)

    def test_a_gable_beside_a_lower_room_keeps_its_own_triangle(self):
        """An attic room 4 m deep, 1.2 m walls at 45 degrees to a 3.2 m ridge: gable 1.2 x 4 + 2 x 2 = 8.8 m2. A tall room of
        the ground floor, 4.6 m, reaches 1.8 m over its floor: 1.2 x 4 + (4 + 2.8) / 2 x 0.6 = 6.84 m2 of it inside."""
        attic = Room(id="t", name="Attic room", storey="u", outline_m=BLOCK, slope=self.SLOPE)
        tall = Room(id="h", name="Hall", storey="g", outline_m=((4, 0), (8, 0), (8, 4), (4, 4)), height_m=4.6)
        below = Room(id="a", name="Below", storey="g", outline_m=BLOCK)
        job = changed(box(), "house", storeys=STOREYS, rooms=(below, attic, tall), openings=())
        r = solve(job)
        inside, out = area(r, "t", 1, "heated"), area(r, "t", 1, "outdoors")
        self.assertAlmostEqual(inside + out, 8.8, places=6)
        self.assertAlmostEqual(inside, 6.84, places=6)

    def test_a_gable_with_nothing_beside_it_is_all_outside(self):
        attic = Room(id="t", name="Attic room", storey="u", outline_m=BLOCK, slope=self.SLOPE)
        below = Room(id="a", name="Below", storey="g", outline_m=BLOCK)
        r = solve(changed(box(), "house", storeys=STOREYS, rooms=(below, attic), openings=()))
        self.assertAlmostEqual(area(r, "t", 1, "outdoors"), 8.8, places=6)


class SameStorey(unittest.TestCase):
    def test_a_vault_over_a_flat_neighbour_sees_its_attic(self):
        """A vault that is 4 m high at a wall shared with a room of 2.5 m: 1.5 m of it stands in the attic."""
        slope = Slope(rises="x", low_side="start", low_m=2.5, high_m=4.0, pitch=0.5)
        vault = Room(id="v", name="Vault", storey="g", outline_m=((0, 0), (4, 0), (4, 4), (0, 4)), slope=slope)
        flat = Room(id="f", name="Flat", storey="g", outline_m=((4, 0), (8, 0), (8, 4), (4, 4)))
        r = solve(changed(box(), "house", rooms=(vault, flat), openings=()))
        self.assertAlmostEqual(area(r, "v", 1, "heated"), 10.0, places=6)
        self.assertAlmostEqual(area(r, "v", 1, "attic"), 6.0, places=6)
        self.assertAlmostEqual(area(r, "f", 3, "heated"), 10.0, places=6)


if __name__ == "__main__":
    unittest.main()
