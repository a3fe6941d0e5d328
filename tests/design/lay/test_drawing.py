"""Ducts drawn and changed by hand: take-offs divide trunks, branches slide, pieces go and the trunk is mended."""

import random
import unittest
from math import dist, isfinite

import numpy as np

from murvan.design import solve
from murvan.design.lay.catching import Anchor, DuctField, nearest
from murvan.design.lay.drawing import (
    Wants,
    damper_in,
    divided,
    draw_duct,
    draw_riser,
    path_of,
    tidied,
    zone_damper_in,
)
from murvan.design.lay.moving import (
    alike_in,
    move_joint,
    move_stretch,
    set_level,
    slide_takeoff,
    slides,
    take_run_away,
)
from murvan.design.lay.place import place_unit, placed_unit
from murvan.design.space.duct_spaces import lay
from murvan.model.design import Zone
from murvan.model.edit import insert, with_design
from murvan.model.errors import JobValueError
from tests.design.lay.test_registers import laid


def bare(which="bungalow"):
    """A sample with registers, its unit placed, and no duct."""
    job = with_design(laid(which), runs=(), joints=(), plenums=())
    job = place_unit(job, "unit1")
    own = job.design.indoor_units[0]
    return placed_unit(job, "unit1", own.storey, own.position_m).job


def plenum(job, side="supply"):
    return next(p for p in job.design.plenums if p.side == side)


def run(job, tag):
    return next(r for r in job.design.runs if r.tag == tag)


def drawn(job, points, first, last=None, shape="branch", **wants):
    storey = job.design.indoor_units[0].storey
    ends = (first, last or Anchor(points[-1]))
    return draw_duct(job, "unit1", storey, tuple(points), ends, shape, Wants(**wants)).job


def trunk(job, length=6.0):
    """A trunk east from the supply plenum."""
    box = plenum(job)
    x, y = box.position_m
    return drawn(job, [(x, y), (x + length, y)], Anchor((x, y), "plenum", box.id), shape="trunk")


def branch(job, along, face=None, out=2.0):
    """A branch off T1, `along` it, down the plan or to a face."""
    x, y = plenum(job).position_m
    at = (x + along, y)
    on = next(r for r in job.design.runs if r.tag[0] == "T" and nearest(path_of(job, r), at)[1] < 1e-6)
    if face is None:
        return drawn(job, [at, (at[0], y + out)], Anchor(at, "run", on.id))
    end = Anchor(face.position_m, "register", face.id)
    return drawn(job, [at, (at[0], face.position_m[1]), face.position_m], Anchor(at, "run", on.id), end)


def free_face(job, side="supply", k=0):
    done = {r.register_id for r in job.design.runs}
    storey = {r.id: r.storey for r in job.rooms}
    own = job.design.indoor_units[0].storey
    return [x for x in job.design.registers if x.side == side and x.id not in done and storey[x.room] == own][k]


class TestDrawing(unittest.TestCase):
    def setUp(self):
        self.job = trunk(bare())

    def test_a_trunk_leaves_the_plenum_by_the_face_it_points_at(self):
        only = self.job.design.runs[0]
        self.assertEqual((only.tag, only.shape, only.side), ("T1", "rectangular", "supply"))
        start = next(j for j in self.job.design.joints if j.id == only.start)
        self.assertEqual(start.face, "east")
        self.assertEqual(start.position_m, plenum(self.job).position_m)

    def test_a_branch_divides_the_trunk_where_it_leaves(self):
        job = branch(self.job, 2.0)
        lies = {r.tag: r for r in lay(job)}
        self.assertEqual(lies["B1"].parent, lies["T1"].id)
        self.assertEqual(lies["T2"].parent, lies["T1"].id)
        self.assertAlmostEqual(dist(*lies["T1"].path_m), 2.0, 3)
        self.assertAlmostEqual(dist(*lies["T2"].path_m), 4.0, 3)
        self.assertIn("takeoff45", [f.kind for f in lies["B1"].pieces])

    def test_a_run_on_a_branch_makes_a_wye_and_each_face_keeps_its_damper(self):
        face, other = free_face(self.job, k=0), free_face(self.job, k=1)
        job = branch(self.job, 2.0, face)
        first = next(r for r in job.design.runs if r.register_id == face.id)
        path = path_of(job, first)
        at = ((path[0][0] + path[1][0]) / 2, (path[0][1] + path[1][1]) / 2)
        job = drawn(
            job, [at, other.position_m], Anchor(at, "run", first.id), Anchor(other.position_m, "register", other.id)
        )
        faces = {r.register_id: r for r in job.design.runs if r.register_id}
        self.assertEqual(faces[face.id].id, first.id)
        self.assertEqual([faces[x.id].damper for x in (face, other)], [1.0, 1.0])
        over = next(r for r in job.design.runs if r.end == first.start or r.end == faces[face.id].start)
        self.assertIsNone(over.damper)
        pieces = {r.register_id: [f.kind for f in r.pieces] for r in lay(job) if r.register_id}
        self.assertIn("wye", pieces[other.id])

    def test_it_may_be_drawn_from_the_register(self):
        face = free_face(self.job)
        x, y = plenum(self.job).position_m
        on = run(self.job, "T1")
        ends = (Anchor(face.position_m, "register", face.id), Anchor((x + 3, y), "run", on.id))
        storey = self.job.design.indoor_units[0].storey
        path = (face.position_m, (x + 3, face.position_m[1]), (x + 3, y))
        done = draw_duct(self.job, "unit1", storey, path, ends, "branch", Wants(0.04))
        made = next(r for r in done.job.design.runs if r.id == done.id)
        self.assertEqual(path_of(done.job, made)[-1], face.position_m)
        self.assertEqual(made.tag, face.tag.split()[0])

    def test_the_size_follows_the_air_and_a_typed_one_stays(self):
        box = plenum(self.job)
        line = [box.position_m, (box.position_m[0], box.position_m[1] - 3)]
        on = Anchor(box.position_m, "plenum", box.id)
        small, large = (drawn(self.job, line, on, flow_m3_s=q).design.runs[-1].diameter_m for q in (0.02, 0.1))
        self.assertLess(small, large)
        self.assertEqual(drawn(self.job, line, on, flow_m3_s=0.1, size_m=0.1778).design.runs[-1].diameter_m, 0.1778)

    def test_what_can_not_be_is_said(self):
        box, back = plenum(self.job), plenum(self.job, "return")
        x, y = box.position_m
        grille = free_face(self.job, "return")
        away = (x + 1, y + 2)
        cases = (
            (([away, (x, y + 3)], Anchor(away)), "starts or ends at a plenum"),
            (([(x, y), (x + 2, y)], Anchor((x, y), "plenum", box.id), Anchor((x + 2, y), "run", run(self.job, "T1").id)),
             "in a ring"),
            (([(x, y), grille.position_m], Anchor((x, y), "plenum", box.id), Anchor(grille.position_m, "register", grille.id)),
             "is a return face"),
            (([(x, y), (x, y)], Anchor((x, y), "plenum", box.id)), "has a length"),
        )  # fmt: skip
        for args, words in cases:
            with self.assertRaisesRegex(JobValueError, words):
                drawn(self.job, *args)
        done = drawn(
            self.job,
            [back.position_m, grille.position_m],
            Anchor(back.position_m, "plenum", back.id),
            Anchor(grille.position_m, "register", grille.id),
        )
        with self.assertRaisesRegex(JobValueError, "hangs on"):
            drawn(
                done,
                [back.position_m, grille.position_m],
                Anchor(back.position_m, "plenum", back.id),
                Anchor(grille.position_m, "register", grille.id),
            )

    def test_a_unit_without_a_plenum_says_so(self):
        job = with_design(self.job, plenums=(), runs=(), joints=())
        with self.assertRaisesRegex(JobValueError, "no plenum"):
            drawn(job, [(1, 1), (2, 1)], Anchor((1, 1)))

    def test_a_measured_length_is_shared_out(self):
        job = with_design(self.job, runs=tuple(r.model_copy(update={"length_m": 9.0}) for r in self.job.design.runs))
        job, _ = divided(job, run(job, "T1").id, (plenum(job).position_m[0] + 2, plenum(job).position_m[1]))
        self.assertEqual([round(r.length_m, 3) for r in job.design.runs], [3.0, 6.0])


class TestMoving(unittest.TestCase):
    def setUp(self):
        self.job = branch(branch(trunk(bare()), 2.0), 4.0, out=-2.0)

    def test_a_branch_slides_along_its_trunk_and_the_trunk_is_mended(self):
        done = move_stretch(self.job, run(self.job, "B1").id, 0, (0.7, 0.1)).job
        x, y = plenum(done).position_m
        np.testing.assert_allclose(path_of(done, run(done, "B1")), ((x + 2.7, y), (x + 2.7, y + 2.0)), atol=1e-9)
        self.assertEqual(len([r for r in done.design.runs if r.tag[0] == "T"]), 3)
        self.assertEqual(len(done.design.joints), len(self.job.design.joints))
        np.testing.assert_allclose(path_of(done, run(done, "T1")), ((x, y), (x + 2.7, y)), atol=1e-9)

    def test_past_the_next_take_off_it_leaves_the_next_piece(self):
        x, y = plenum(self.job).position_m
        done = slide_takeoff(self.job, run(self.job, "B1").id, (x + 5, y))
        lies = {r.tag: r for r in lay(done)}
        self.assertAlmostEqual(lies["B1"].path_m[0][0], x + 5, 3)
        self.assertAlmostEqual(sum(dist(*r.path_m) for t, r in lies.items() if t[0] == "T"), 6.0, 3)
        with self.assertRaisesRegex(JobValueError, "not on it"):
            slide_takeoff(self.job, run(self.job, "B1").id, (x + 5, y + 1))

    def test_a_trunk_moves_whole_and_its_branches_stretch(self):
        for tag in ("T1", "T2", "T3"):
            done = move_stretch(self.job, run(self.job, tag).id, 0, (0.4, 0.5)).job
            y = plenum(done).position_m[1]
            for piece in ("T2", "T3"):
                self.assertEqual({round(q[1] - y, 4) for q in path_of(done, run(done, piece))}, {0.5}, tag)
            before, after = path_of(self.job, run(self.job, "B1")), path_of(done, run(done, "B1"))
            self.assertEqual(after[-1], before[-1] if len(after) == 2 else after[-1])
            self.assertAlmostEqual(after[0][1] - y, 0.5, 4)
            self.assertEqual(path_of(done, run(done, "T1"))[0], plenum(done).position_m)

    def test_within_the_plenum_s_width_it_stays_straight(self):
        done = move_stretch(self.job, run(self.job, "T2").id, 0, (0, 0.1)).job
        self.assertEqual(run(done, "T1").corners_m, ())

    def test_a_joint_keeps_its_runs_square(self):
        end = run(self.job, "B1").end
        x, y = plenum(self.job).position_m
        done = move_joint(self.job, end, (x + 3, y + 3))
        for a, b in zip(path_of(done, run(done, "B1")), path_of(done, run(done, "B1"))[1:], strict=False):
            self.assertTrue(abs(a[0] - b[0]) < 1e-6 or abs(a[1] - b[1]) < 1e-6)
        for have, want in zip(path_of(done, run(done, "B1"))[-1], (x + 3, y + 3), strict=True):
            self.assertAlmostEqual(have, want)

    def test_a_joint_in_the_trunk_slides_on_it(self):
        x, y = plenum(self.job).position_m
        way = slides(self.job, run(self.job, "T1").end)
        self.assertTrue(np.allclose(way, ((x, y), (x + 4, y))), way)
        self.assertIsNone(slides(self.job, run(self.job, "B1").end))

    def test_a_face_s_run_is_moved_by_its_register(self):
        job = branch(self.job, 5.0, free_face(self.job))
        with self.assertRaisesRegex(JobValueError, "move that"):
            move_joint(job, next(r for r in job.design.runs if r.register_id).end, (1, 1))

    def test_a_branch_taken_away_leaves_the_trunk_whole(self):
        done = take_run_away(self.job, run(self.job, "B1").id)
        self.assertEqual(done.say, "B1 is taken away")
        self.assertEqual(sorted(r.tag for r in done.job.design.runs), ["B2", "T1", "T3"])
        done = take_run_away(done.job, run(done.job, "B2").id)
        self.assertEqual([r.tag for r in done.job.design.runs], ["T1"])
        self.assertEqual(path_of(done.job, run(done.job, "T1")), path_of(trunk(bare()), run(trunk(bare()), "T1")))
        self.assertEqual(len(done.job.design.joints), 2)

    def test_a_trunk_taken_away_takes_what_is_beyond(self):
        done = take_run_away(self.job, run(self.job, "T2").id)
        self.assertEqual(done.say, "T2 is taken away, and 2 runs beyond it")
        self.assertEqual(sorted(r.tag for r in done.job.design.runs), ["B1", "T1"])

    def test_levels(self):
        done = set_level(self.job, [run(self.job, "B1").id], 2.0)
        lies = {r.tag: r for r in lay(done)}
        was = next(j for j in self.job.design.joints if j.id == run(self.job, "T1").end).height_m
        self.assertAlmostEqual(lies["B1"].rise_m, 2.0 - was, 4)
        self.assertEqual(lies["T2"].rise_m, 0.0)
        whole = set_level(self.job, alike_in(self.job.design, run(self.job, "T1").id, "side"), 2.0)
        self.assertEqual({j.height_m for j in whole.design.joints}, {2.0})

    def test_which_runs_a_change_is_for(self):
        d = self.job.design
        tags = {r.id: r.tag for r in d.runs}

        def of(tag, scope):
            return sorted(tags[i] for i in alike_in(d, run(self.job, tag).id, scope))

        self.assertEqual(of("B1", "run"), ["B1"])
        self.assertEqual(of("T2", "beyond"), ["B2", "T2", "T3"])
        self.assertEqual(of("T1", "side"), ["B1", "B2", "T1", "T2", "T3"])
        self.assertIn("T3", of("T1", "trunk"))


class TestDampers(unittest.TestCase):
    def test_in_and_out(self):
        job = branch(trunk(bare()), 2.0)
        one = run(job, "B1").id
        inside = damper_in(job, one).job
        self.assertEqual(run(inside, "B1").damper, 1.0)
        self.assertIsNone(run(damper_in(inside, one).job, "B1").damper)

    def test_zone_dampers_know_their_zone(self):
        job = bare()
        face = free_face(job)
        job = branch(trunk(job), 2.0, face)
        mine = next(r for r in job.design.runs if r.register_id).id
        with self.assertRaisesRegex(JobValueError, "in a zone"):
            zone_damper_in(job, mine, {face.room})
        job = insert(job, "zones", Zone(id="z1", name="Day", rooms=(face.room,)))
        done = zone_damper_in(job, mine, {face.room}).job
        self.assertEqual(next(r for r in done.design.runs if r.id == mine).zone_damper, "z1")
        again = zone_damper_in(done, mine, {face.room}).job
        self.assertIsNone(next(r for r in again.design.runs if r.id == mine).zone_damper)


class TestRisers(unittest.TestCase):
    def test_up_and_on(self):
        job = trunk(bare("demo"))
        box = plenum(job)
        order = [s.id for s in job.storeys]
        own = job.design.indoor_units[0].storey
        down = own != order[0]
        riser = draw_riser(job, "unit1", own, Anchor(box.position_m, "plenum", box.id), down)
        lies = {r.id: r for r in lay(riser.job)}[riser.id]
        self.assertNotEqual(lies.storey, own)
        self.assertEqual(lies.path_m[0], lies.path_m[-1])
        self.assertTrue(isfinite(lies.rise_m))
        with self.assertRaisesRegex(JobValueError, "no storey"):
            draw_riser(job, "unit1", own, Anchor(box.position_m, "plenum", box.id), not down)


class TestCatching(unittest.TestCase):
    def setUp(self):
        self.job = branch(trunk(bare()), 2.0)
        own = self.job.design.indoor_units[0].storey
        self.field = DuctField(self.job, lay(self.job), "unit1", own)

    def test_what_is_there_is_caught_first(self):
        x, y = plenum(self.job).position_m
        face = free_face(self.job)
        for at, kind in (
            ((x + 0.03, y), "plenum"),
            ((x + 2.02, y + 0.03), "joint"),
            ((x + 3.0, y + 0.05), "run"),
            ((face.position_m[0] + 0.05, face.position_m[1]), "register"),
            ((x - 3.3, y - 0.7), ""),
        ):
            self.assertEqual(self.field.catch(at, 0.1, 0.05).kind, kind, at)

    def test_in_the_open_it_goes_square_and_lines_up(self):
        face = free_face(self.job)
        origin = (face.position_m[0] - 1.7, face.position_m[1] - 1.37)
        found = self.field.catch((face.position_m[0] - 0.05, origin[1] + 0.2), 0.08, 0.05, origin)
        self.assertEqual(found.at, (round(face.position_m[0], 4), round(origin[1], 4)))
        free = self.field.catch((origin[0] + 0.31, origin[1] + 0.27), 0.01, 0.05, origin, True)
        self.assertEqual(free.at, (origin[0] + 0.31, origin[1] + 0.27))

    def test_a_corner_that_is_none_goes(self):
        self.assertEqual(tidied(((0, 0), (1, 0), (2, 0), (2, 0), (2, 2))), ((0, 0), (2, 0), (2, 2)))
        self.assertEqual(tidied(((0, 0), (2, 0), (1, 0))), ((0, 0), (2, 0), (1, 0)))


class TestAnyStrokes(unittest.TestCase):
    """Many strokes in a row, whatever they hit: each is done or refused in words, and the whole still solves."""

    def test_two_hundred_strokes(self):
        for seed in range(3):
            rng = random.Random(seed)
            job = trunk(bare(("demo", "bungalow", "narrow")[seed]))
            done = 0
            for _ in range(70):
                try:
                    job = self.stroke(job, rng)
                    done += 1
                except JobValueError as exc:
                    self.assertTrue(str(exc)[0].isupper() or str(exc)[0].isdigit(), str(exc))
                self.assertGreater(len(job.design.plenums), 0)
            self.assertGreater(done, 30)
            flows = solve(job).predicted_m3_s
            for q in (flows or {}).values():
                self.assertTrue(isfinite(q))

    def stroke(self, job, rng):
        own = job.design.indoor_units[0].storey
        field = DuctField(job, lay(job), "unit1", own)
        lines = [q for r in job.rooms if r.storey == own for q in r.outline_m]
        x0, x1 = min(q[0] for q in lines), max(q[0] for q in lines)
        y0, y1 = min(q[1] for q in lines), max(q[1] for q in lines)

        def somewhere():
            return (rng.uniform(x0, x1), rng.uniform(y0, y1))

        runs = job.design.runs
        kind = rng.choice(("draw", "draw", "draw", "stretch", "joint", "away", "slide", "damper", "level"))
        if kind == "draw" or not runs:
            start = rng.choice(field.runs) if field.runs and rng.random() < 0.8 else None
            first = field.catch(start.path_m[-1] if start else plenum(job).position_m, 0.1, 0.05)
            face = rng.choice(field.registers) if field.registers and rng.random() < 0.6 else None
            last = field.catch(face.position_m if face else somewhere(), 0.1, 0.05, first.at)
            shape = rng.choice(("trunk", "branch"))
            return draw_duct(job, "unit1", own, (first.at, last.at), (first, last), shape, Wants(0.04)).job
        one = rng.choice(runs)
        path = path_of(job, one)
        if kind == "stretch":
            by = (rng.uniform(-1, 1), rng.uniform(-1, 1))
            return move_stretch(job, one.id, rng.randrange(len(path) - 1), by).job
        if kind == "joint":
            return move_joint(job, one.end, somewhere())
        if kind == "slide":
            other = rng.choice(runs)
            return slide_takeoff(job, one.id, path_of(job, other)[0])
        if kind == "damper":
            return damper_in(job, one.id).job
        if kind == "level":
            return set_level(job, alike_in(job.design, one.id, rng.choice(("run", "trunk", "beyond"))), 2.2)
        return take_run_away(job, one.id).job if rng.random() < 0.3 else job


if __name__ == "__main__":
    unittest.main()
