"""Ways through a house: along bays, round what is kept clear, by chases; short against bounds known from outside."""

import unittest
from math import dist

import numpy as np
from scipy.sparse.csgraph import minimum_spanning_tree
from shapely.geometry import LineString

from murvan.design.lay.drawing import path_of
from murvan.design.lay.ducts import draw
from murvan.design.lay.place import place_unit
from murvan.design.lay.routing import Terminal, grown
from murvan.design.lay.space import allowed
from murvan.design.lay.squaring import ASLANT_M
from murvan.design.space.duct_ways import blocked
from murvan.model.edit import changed, replace
from murvan.model.house import KeepClear, Structure
from tests.design.lay.test_registers import laid
from tests.houses import box

JOISTS_X = Structure(kind="joists", runs="x", depth_m=0.24, spacing_m=0.4)


def upstairs(structure):
    """One large room under another, so that ducts over the lower one lie in its ceiling."""
    job = box(10.0, 8.0)
    low = job.storeys[0]
    storeys = (changed(low, ceiling_structure=structure), changed(low, id="u", name="Upper", floor_m=None))
    above = changed(job.rooms[0], id="b", name="Room B", storey="u")
    return changed(job, storeys=storeys, rooms=(*job.rooms, above))


def way(job, start, end, level="over"):
    space = allowed(job, (start, end), start, "g")
    k = space.layer("g", level)
    return space, grown(space, [(k, start)], (Terminal("t", ((k, end),)),), True, None)


def length(branch):
    """Metres on the plan of all that goes on from a place of a tree."""
    return sum(dist(branch.at[1], on.at[1]) + length(on) for on in branch.onward)


def spots(branch):
    yield branch.at
    for on in branch.onward:
        yield from spots(on)


class TestSpace(unittest.TestCase):
    def test_along_the_joists_it_goes_straight(self):
        _, found = way(upstairs(JOISTS_X), (1.0, 4.0), (9.0, 4.0))
        self.assertEqual(found.unreached, ())
        self.assertAlmostEqual(length(found.root), 8.0, 6)

    def test_across_the_joists_it_goes_round_by_a_soffit_or_not_at_all(self):
        """The room is one that is lived in: no soffit there, so nothing leads across."""
        job = replace(upstairs(JOISTS_X), "rooms", "a", use="living")
        _, found = way(job, (1.0, 1.0), (1.0, 7.0))
        space, _ = way(job, (1.0, 1.0), (1.0, 7.0))
        crossing = [
            (a, b)
            for a, b in zip(list(spots(found.root)), list(spots(found.root))[1:], strict=False)
            if a[0] == b[0] == space.layer("g", "over") and abs(a[1][1] - b[1][1]) > 1e-6
        ]
        self.assertEqual(crossing, [])

    def test_open_webs_let_it_across(self):
        open_web = changed(JOISTS_X, kind="open_web")
        _, found = way(upstairs(open_web), (1.0, 1.0), (1.0, 7.0))
        self.assertAlmostEqual(length(found.root), 6.0, 6)

    def test_it_goes_round_a_flue(self):
        flue = KeepClear(id="k", name="Flue", storey="g", outline_m=((4, 3), (6, 3), (6, 5), (4, 5)), reason="flue")
        job = changed(box(10.0, 8.0), keep_clear=(flue,))
        free = way(box(10.0, 8.0), (1.0, 4.0), (9.0, 4.0))[1]
        _, found = way(job, (1.0, 4.0), (9.0, 4.0))
        self.assertGreater(length(found.root), length(free.root) + 2.0)
        for _, (x, y) in spots(found.root):
            self.assertFalse(4 < x < 6 and 3 < y < 5, (x, y))

    def test_stairs_shut_the_ceiling_they_go_up_through(self):
        well = KeepClear(
            id="k", name="Stairs", storey="g", outline_m=((4, 3), (6, 3), (6, 5), (4, 5)), reason="stairs"
        )
        alone = changed(box(10.0, 8.0), keep_clear=(well,))
        self.assertEqual(blocked(alone, "g", "over"), [], "the attic over the top of the stairs")
        job = changed(upstairs(changed(JOISTS_X, kind="open_web")), keep_clear=(well,))
        _, found = way(job, (1.0, 4.0), (9.0, 4.0))
        self.assertGreater(length(found.root), 10.0)
        self.assertEqual([name for name, _ in blocked(job, "g", "soffit")], ["Stairs"])

    def test_a_panel_stops_a_chase_but_not_the_attic(self):
        panel = KeepClear(
            id="k", name="Panel", storey="g", outline_m=((4, 3), (6, 3), (6, 5), (4, 5)), reason="panel"
        )
        job = changed(box(10.0, 8.0), keep_clear=(panel,))
        _, found = way(job, (1.0, 4.0), (9.0, 4.0))
        self.assertAlmostEqual(length(found.root), length(way(box(10.0, 8.0), (1.0, 4.0), (9.0, 4.0))[1].root), 6)


class TestTrees(unittest.TestCase):
    def test_between_the_bounds_of_rectilinear_steiner_trees(self):
        """No tree is shorter than two thirds of the rectilinear spanning tree (Hwang 1976); grown ones stay near the latter.

        Turns and sinks cost nothing in length; lengths only are compared.
        """
        job = box(12.0, 9.0)
        rng = np.random.default_rng(3)
        for _ in range(12):
            at = [tuple(np.round(rng.uniform((0.5, 0.5), (11.5, 8.5)), 2)) for _ in range(9)]
            space = allowed(job, tuple(at), at[0], "g")
            k = space.layer("g", "over")
            ends = tuple(Terminal(str(n), ((k, q),)) for n, q in enumerate(at[1:]))
            found = grown(space, [(k, at[0])], ends, True, None)
            self.assertEqual(found.unreached, ())
            apart = np.abs(np.array(at)[:, None] - np.array(at)[None]).sum(-1)
            span = float(minimum_spanning_tree(apart).sum())
            whole = length(found.root)
            self.assertGreater(whole, 2 / 3 * span)
            self.assertLess(whole, 1.35 * span)

    def test_ways_of_their_own_are_each_the_shortest(self):
        job = box(12.0, 9.0)
        at = [(6.0, 4.0), (1.0, 1.0), (11.0, 8.0), (1.0, 8.0)]
        space = allowed(job, tuple(at), at[0], "g")
        k = space.layer("g", "over")
        found = grown(
            space, [(k, at[0])], tuple(Terminal(str(n), ((k, q),)) for n, q in enumerate(at[1:])), False, None
        )
        for chain in found.root.onward:
            end = list(spots(chain))[-1][1]
            straight = abs(end[0] - at[0][0]) + abs(end[1] - at[0][1])
            self.assertAlmostEqual(length(chain) + dist(found.root.at[1], chain.at[1]), straight, 6)


class TestDrawn(unittest.TestCase):
    def test_every_run_goes_level_or_upright(self):
        for which in ("demo", "bungalow", "narrow"):
            job = place_unit(laid(which), "unit1")
            for scheme in ("trunk", "tree", "twin", "radial"):
                made, missed = draw(job, "unit1", scheme, 0.45)
                self.assertEqual(missed, (), (which, scheme))
                for run in made.design.runs:
                    path = path_of(made, run)
                    if all(r.end != run.start for r in made.design.runs):
                        path = path[1:]  # the start goes to the plenum's side, where the leg wants it
                    for a, b in zip(path, path[1:], strict=False):
                        self.assertLessEqual(
                            min(abs(a[0] - b[0]), abs(a[1] - b[1])), ASLANT_M + 1e-6, (which, run.tag)
                        )

    def test_trees_are_whole(self):
        for which in ("demo", "bungalow", "narrow"):
            job = place_unit(laid(which), "unit1")
            for scheme in ("trunk", "tree", "twin", "radial"):
                made, _ = draw(job, "unit1", scheme, 0.45)
                ends = {r.end for r in made.design.runs}
                for run in made.design.runs:
                    over = [r for r in made.design.runs if r.end == run.start]
                    self.assertLessEqual(len(over), 1)
                    if not over:
                        joint = next(j for j in made.design.joints if j.id == run.start)
                        box_ = next(p for p in made.design.plenums if p.side == run.side)
                        self.assertLess(dist(joint.position_m, box_.position_m), 1e-6, (which, scheme, run.tag))
                    if run.register_id is None:
                        self.assertIn(run.end, {r.start for r in made.design.runs}, (which, scheme, run.tag))
                self.assertEqual(len(ends), len(made.design.runs))

    def test_ways_of_their_own_lie_beside_each_other(self):
        """Four faces in one corner: a grid line for each, so that they share little but where they leave the outlet."""
        job = box(12.0, 9.0)
        at = [(1.0, 1.0), (11.0, 8.0), (11.0, 7.0), (10.0, 8.0), (9.0, 8.0)]
        space = allowed(job, tuple(at), at[0], "g")
        k = space.layer("g", "over")
        ends = tuple(Terminal(str(n), ((k, q),)) for n, q in enumerate(at[1:]))
        found = grown(space, [(k, at[0])], ends, False, None)
        ways = [LineString([found.root.at[1], *(q for _, q in spots(chain))]) for chain in found.root.onward]
        whole = sum(x.length for x in ways)
        shared = sum(a.intersection(b).length for i, a in enumerate(ways) for b in ways[i + 1 :])
        self.assertEqual(len(ways), 4)
        self.assertLess(shared, 0.1 * whole)
        self.assertLess(whole, 1.05 * sum(abs(x - 1) + abs(y - 1) for x, y in at[1:]))


if __name__ == "__main__":
    unittest.main()
