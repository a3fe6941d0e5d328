"""How runs lie from joint to joint, and the fittings that follow from their geometry and sizes."""

import unittest
from math import hypot

from murvan.design import solve
from murvan.model import JobValueError, remove, replace
from murvan.model.routes import joined, laid_runs, parents
from tests.houses import box, demo, demo_results, lay

SUPPLY = {"side": "supply", "storey": "g", "indoor": "unit1"}
ROUND, WIDE = {"diameter_m": 0.2}, {"shape": "rectangular", "width_m": 0.4, "height_m": 0.2}


def pieces(*drafts, cap=False):
    """The fittings of the last of some runs, by kind and count; without the cap that shuts its end, unless asked."""
    job = box()
    d = lay(job.storeys, *({**SUPPLY, "tag": x["id"], **x} for x in drafts))
    design = job.design.model_copy(update=d)
    runs = [x.model_copy(update={"fittings": None}) for x in design.runs]
    laid = laid_runs(design.model_copy(update={"runs": tuple(runs)}), job.storeys)
    return [(f.kind, f.count) for f in laid[-1].pieces if cap or f.kind != "end_cap"]


TRUNK = {"id": "t", "path_m": [(0, 0), (4, 0)], **WIDE}


class Fittings(unittest.TestCase):
    def test_at_the_plenum(self):
        self.assertEqual(pieces(TRUNK), [("plenum_exit", 1)])
        self.assertEqual(pieces({**TRUNK, "side": "return"}), [("plenum_entry", 1)])
        self.assertEqual(pieces({**TRUNK, "side": "fresh"}), [])

    def test_an_end_with_nothing_beyond_is_shut(self):
        on = {"id": "u", "parent": "t", "path_m": [(4, 0), (8, 0)], **WIDE}
        self.assertEqual(pieces(TRUNK, cap=True), [("plenum_exit", 1), ("end_cap", 1)])
        self.assertEqual(pieces(on, TRUNK, cap=True), [("plenum_exit", 1)])  # it goes on
        self.assertEqual(pieces({**TRUNK, "side": "fresh"}, cap=True), [])
        by_id = {x.id: x for x in solve(demo()).laid}
        capped = [x.id for x in by_id.values() if "end_cap" in {f.kind for f in x.pieces}]
        self.assertEqual(capped, ["SB6"], "all that leaves its end are take-offs")
        job = demo()
        for beyond in [
            x.id for x in job.design.runs if x.start == next(r.end for r in job.design.runs if r.id == "SA4")
        ]:
            job = remove(job, "runs", beyond, with_dependents=True)
        shut = {x.id: x for x in solve(job).laid}
        self.assertEqual(shut["SA4"].pieces[-1].kind, "end_cap")

    def test_what_goes_straight_on_is_reduced_or_nothing(self):
        on = {"id": "u", "parent": "t", "path_m": [(4, 0), (8, 0)]}
        self.assertEqual(pieces(TRUNK, {**on, **WIDE}), [])
        self.assertEqual(pieces(TRUNK, {**on, **WIDE, "width_m": 0.3}), [("reducer", 1)])
        self.assertEqual(pieces(TRUNK, {**on, **ROUND}), [("reducer", 1)])

    def test_what_turns_off_is_taken_off(self):
        off = {"id": "b", "parent": "t", "path_m": [(4, 0), (4, 3)], **ROUND}
        self.assertEqual(pieces(TRUNK, off), [("takeoff45", 1)])
        back = [{**x, "side": "return"} for x in (TRUNK, off)]
        self.assertEqual(pieces(*back), [("wye", 1)])

    def test_what_only_turns_is_an_elbow_also_in_space(self):
        on = {"id": "b", "parent": "t", "path_m": [(4, 0), (4, 3)], **WIDE}
        self.assertEqual(pieces(TRUNK, on), [("elbow_vanes", 1)])
        up = {**on, "path_m": [(4, 0), (4, 0)], "rise_m": 3.0}
        self.assertEqual(pieces(TRUNK, up), [("elbow_vanes", 1)])
        beside = {**on, "id": "c", "path_m": [(4, 0), (8, 0)]}
        self.assertEqual(pieces(TRUNK, up, beside), [])
        self.assertEqual(pieces(TRUNK, beside, up)[:1], [("takeoff45", 1)])

    def test_corners(self):
        square, half = [(0, 0), (3, 0), (3, 3)], [(0, 0), (3, 0), (5, 2)]
        rigid = {"id": "x", **ROUND}
        for path, material, wanted in (
            (square, "galvanised", [("elbow", 1)]),
            (half, "galvanised", [("bend45", 1)]),
            (square, "flex", [("bend45", 2)]),
            (half, "flex", [("bend45", 1)]),
        ):
            with self.subTest(material=material, path=path):
                self.assertEqual(pieces({**rigid, "path_m": path, "material": material})[1:], wanted)
        self.assertEqual(pieces({**TRUNK, "path_m": square})[1:], [("elbow_vanes", 1)])

    def test_a_riser_turns_up(self):
        self.assertEqual(pieces({**TRUNK, "rise_m": 3.0}), [("plenum_exit", 1), ("elbow_vanes", 1)])
        self.assertEqual(pieces({**TRUNK, "rise_m": 0.5}), [("plenum_exit", 1)])

    def test_the_demo_names_only_what_does_not_follow(self):
        named = {r.id for r in demo().design.runs if r.fittings is not None}
        self.assertEqual(named, {"SB4", "SB5", "B1"})
        self.assertEqual(
            [f.kind for f in demo_results().runs["A4"].run.pieces], ["takeoff45", "bend45", "elbow", "boot"]
        )

    def test_named_fittings_win(self):
        job = replace(demo(), "runs", "A4", fittings=())
        self.assertEqual(solve(job).runs["A4"].run.pieces, ())
        self.assertLess(solve(job).runs["A4"].fitting_pa, demo_results().runs["A4"].fitting_pa)


class Joints(unittest.TestCase):
    def test_moving_a_joint_moves_all_that_meet_in_it(self):
        joint = next(r.end for r in demo().design.runs if r.id == "SA1")
        meet = {r.id for r in demo().design.runs if joint in (r.start, r.end)}
        self.assertEqual(meet, {"SA1", "SA2", "A1"})
        job = replace(demo(), "joints", joint, position_m=(8.2, 3.7795))
        before, after = demo_results().runs, solve(job, demo_results()).runs
        for i in before:
            same = before[i].run is after[i].run
            self.assertEqual(same, i not in meet, i)
        a, b = after["SA2"].run.path_m
        self.assertAlmostEqual(after["SA2"].length_m, hypot(b[0] - a[0], b[1] - a[1]))

    def test_a_higher_joint_makes_a_rise(self):
        joint = next(
            x for x in demo().design.joints if x.id == next(r.end for r in demo().design.runs if r.id == "A1")
        )
        job = replace(demo(), "joints", joint.id, height_m=joint.height_m + 1.5)
        run = solve(job).runs["A1"]
        self.assertAlmostEqual(run.run.rise_m, 1.5)
        self.assertAlmostEqual(run.length_m - demo_results().runs["A1"].length_m, 1.5)
        self.assertEqual([(f.kind, f.count) for f in run.run.pieces], [("takeoff45", 1), ("elbow", 2), ("boot", 1)])

    def test_a_measured_length_wins(self):
        self.assertEqual(solve(replace(demo(), "runs", "A1", length_m=7.0)).runs["A1"].length_m, 7.0)

    def test_parents_follow_from_the_joints(self):
        above = parents(demo().design.runs)
        self.assertEqual((above["SA1"], above["SA2"], above["A1"], above["R2"]), (None, "SA1", "SA1", "RT1"))

    def test_a_run_takes_along_what_it_feeds(self):
        job = remove(demo(), "runs", "SA3", with_dependents=True)
        gone = {r.id for r in demo().design.runs} - {r.id for r in job.design.runs}
        self.assertEqual(gone, {"SA3", "SA4", "A3", "A4", "A5"})
        with self.assertRaisesRegex(JobValueError, "end in the same joint"):
            run = demo().design.runs[1]
            replace(demo(), "runs", "A2", end=run.end)


class Drafts(unittest.TestCase):
    def test_a_run_that_starts_beside_its_parents_end_keeps_its_length(self):
        beside = {"id": "b", "parent": "t", "path_m": [(4, 0.3), (4, 3)], **ROUND}
        job = box()
        runs = lay(job.storeys, *({**SUPPLY, "tag": x["id"], **x} for x in (TRUNK, beside)))["runs"]
        self.assertAlmostEqual(runs[1].length_m, 2.7)
        self.assertEqual(runs[1].start, runs[0].end)
        self.assertIsNone(runs[0].length_m)

    def test_rings_and_strangers_are_no_drafts(self):
        storeys = [s.model_dump() for s in box().storeys]
        ring = [
            {**SUPPLY, "id": a, "parent": b, "path_m": [(0, 0), (1, 0)], **ROUND} for a, b in (("a", "b"), ("b", "a"))
        ]
        with self.assertRaises(ValueError):
            joined(ring, storeys, None)
        with self.assertRaises(KeyError):
            joined(ring[:1], storeys, None)


if __name__ == "__main__":
    unittest.main()
