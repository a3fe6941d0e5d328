"""Walls of random houses against shapely: what is outside is the outline of the whole, what is shared is shared twice."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon
from shapely.ops import unary_union

from murvan.design.drawing.rooms import split_room
from murvan.design.drawing.turning import rotate_house
from murvan.design.house.measuring import measure
from murvan.design.house.walls import all_stretches, stretches
from murvan.model import JobValueError, Room, Space, Storey
from murvan.model.edit import changed
from tests.houses import box, demo, two_rooms


def measured(job):
    return measure(job)


def cut_up(width, depth, cuts):
    """A box cut by a row of strokes, each right across the largest room."""
    job = changed(box(width, depth), "", openings=())
    for across, where in cuts:
        largest = max(job.rooms, key=lambda r: Polygon(r.outline_m).area)
        x0, y0, x1, y1 = Polygon(largest.outline_m).bounds
        if across:
            y = y0 + (y1 - y0) * where
            a, b = (x0, y), (x1, y)
        else:
            x = x0 + (x1 - x0) * where
            a, b = (x, y0), (x, y1)
        try:
            job = split_room(job, "g", a, b).job
        except JobValueError:
            continue
    return job


CUTS = st.lists(st.tuples(st.booleans(), st.floats(0.2, 0.8)), max_size=7)


class Properties(unittest.TestCase):
    @given(st.floats(6, 16), st.floats(6, 14), CUTS)
    @settings(max_examples=60, deadline=None)
    def test_outside_walls_are_the_outline_of_the_house(self, width, depth, cuts):
        job = cut_up(width, depth, cuts)
        g = measured(job)
        outside = sum(w.length_m for w in g.walls if w.other == "outdoors")
        whole = unary_union([Polygon(r.outline_m) for r in job.rooms])
        self.assertAlmostEqual(outside, whole.length, delta=0.02 * len(job.rooms) + 0.02)

    @given(st.floats(6, 16), st.floats(6, 14), CUTS)
    @settings(max_examples=60, deadline=None)
    def test_every_shared_wall_is_seen_from_both_sides(self, width, depth, cuts):
        g = measured(cut_up(width, depth, cuts))
        seen: dict[tuple[str, str], float] = {}
        ids = [r.id for r in cut_up(width, depth, cuts).rooms]
        for w in g.walls:
            if w.other == "heated":
                seen[(ids[w.room], w.neighbour)] = seen.get((ids[w.room], w.neighbour), 0.0) + w.length_m
        for (a, b), length in seen.items():
            self.assertAlmostEqual(length, seen.get((b, a), 0.0), delta=0.05)

    @given(CUTS)
    @settings(max_examples=40, deadline=None)
    def test_cutting_changes_no_total(self, cuts):
        whole, parts = measured(cut_up(10, 8, [])), measured(cut_up(10, 8, cuts))
        self.assertAlmostEqual(whole.total_area_m2, parts.total_area_m2, places=3)
        self.assertAlmostEqual(sum(whole.exposed_wall_m2), sum(parts.exposed_wall_m2), delta=0.5)

    @given(st.integers(1, 3))
    @settings(max_examples=3, deadline=None)
    def test_turning_changes_no_length(self, quarters):
        a, b = measured(demo()), measured(rotate_house(demo(), quarters))
        for x, y in zip(a.walls, b.walls, strict=True):
            self.assertEqual((x.room, x.wall, x.other), (y.room, y.wall, y.other))
            self.assertAlmostEqual(x.length_m, y.length_m, places=3)


class Edges(unittest.TestCase):
    def test_no_rooms_no_walls(self):
        self.assertEqual(all_stretches((), (), (), ()), {})

    def test_lengths_of_a_wall_add_up(self):
        for (i, wall), parts in all_stretches(
            demo().rooms, (2.5,) * len(demo().rooms), demo().spaces, demo().storeys
        ).items():
            outline = demo().rooms[i].outline_m
            a, b = outline[wall], outline[(wall + 1) % len(outline)]
            length = ((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2) ** 0.5
            self.assertAlmostEqual(sum(p.length_m for p in parts), length, delta=0.06)

    def test_one_wall_alone_is_as_in_the_whole(self):
        room = demo().rooms[0]
        whole = all_stretches(demo().rooms, (2.7,) * len(demo().rooms), demo().spaces, demo().storeys)
        for wall in range(4):
            alone = [(p.other, round(p.length_m, 6)) for p in stretches(room, wall, demo())]
            self.assertEqual(alone, [(p.other, round(p.length_m, 6)) for p in whole[(0, wall)]])

    def test_rooms_of_another_storey_do_not_touch(self):
        job = two_rooms()
        storeys = (*job.storeys, Storey(id="u", name="Upper", height_m=2.4))
        rooms = (job.rooms[0], changed(job.rooms[1], storey="u"))
        g = measured(changed(job, "", storeys=storeys, rooms=rooms))
        self.assertFalse([w for w in g.walls if w.other == "heated"])

    def test_a_slanting_wall_is_shared_too(self):
        a = Room(id="a", name="A", storey="g", outline_m=((0, 0), (6, 0), (4, 4), (0, 4)))
        b = Room(id="b", name="B", storey="g", outline_m=((6, 0), (9, 0), (9, 4), (4, 4)))
        g = measured(changed(two_rooms(), "", rooms=(a, b)))
        shared = [w for w in g.walls if w.other == "heated"]
        self.assertEqual(len(shared), 2)
        self.assertAlmostEqual(shared[0].length_m, 20**0.5)

    def test_a_house_beside_a_garage_of_the_same_storey_only(self):
        job = two_rooms()
        garage = Space(id="s", name="Garage", storey="g", outline_m=((9, 1), (12, 1), (12, 3), (9, 3)))
        parts = [w for w in measured(changed(job, "", spaces=(garage,))).walls if w.room == 1 and w.wall == 1]
        self.assertEqual(
            [(p.other, round(p.length_m, 3)) for p in parts], [("outdoors", 1), ("garage", 2), ("outdoors", 1)]
        )


if __name__ == "__main__":
    unittest.main()
