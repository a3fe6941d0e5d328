"""Straights between fittings: take-up by hand, lengths that add up on every path, holes of taps clear of joints."""

import unittest
from math import radians, tan

from hypothesis import given, settings
from hypothesis import strategies as st

from murvan.design.ducts.runs import run_length_m
from murvan.design.ducts.straights import ZONE_DAMPER_M, Straight, Tap, fits, long_m, turn_m
from murvan.design.parts.cut_runs import ODD, STRAIGHT, run_cuts, seams
from murvan.design.solve import solve
from murvan.kinds.fittings import FITTINGS
from murvan.model.routes import LaidRun, Lie, derived
from tests.houses import INCH, demo_job

FOOT = 12 * INCH


def run(tag, path, parent=None, *, size=(14, 8), rise=0.0, material="galvanised", ends=False, **more):
    """A supply run in inches and feet: `size` one diameter or two sides, `path` in feet."""
    round_ = len(size) == 1
    made = {k: f.get_default() for k, f in LaidRun.model_fields.items()}
    made |= {"id": tag, "tag": tag, "side": "supply", "storey": "s", "parent": parent, "material": material}
    made |= {"shape": "round", "diameter_m": size[0] * INCH} if round_ else {"shape": "rectangular"}
    made |= {} if round_ else {"width_m": size[0] * INCH, "height_m": size[1] * INCH}
    made |= {"path_m": tuple((x * FOOT, y * FOOT) for x, y in path), "rise_m": rise * FOOT, "start": f"to {parent}"}
    return LaidRun.model_construct(**made | {"register_id": tag if ends else None} | more)


def with_fittings(*runs):
    """The runs with the fittings that follow from how they lie."""
    by_id, out = {r.id: r for r in runs}, []
    leave = {r.parent: sum(x.parent == r.parent for x in runs) for r in runs}

    def lie(r):
        size = (r.diameter_m,) if r.shape == "round" else (r.width_m, r.height_m)
        ends = r.register_id is not None
        last = all(x.parent != r.id for x in runs) and not ends
        return Lie(r.side, r.made_of.bends, size, r.path_m, r.rise_m, ends, last, leave[r.parent] == 1)

    for r in runs:
        over = by_id.get(r.parent)
        out.append(r.model_copy(update={"pieces": derived(lie(r), lie(over) if over else None)}))
    return tuple(out)


def lengths(fit, unit=INCH):
    return [round(x.length_m / unit, 3) for x in fit.straights]


class ByHand(unittest.TestCase):
    """Take-up as a fitter measures it; all figures in inches."""

    def test_a_square_elbow_takes_half_its_width_and_its_throat(self):
        f = fits(with_fittings(run("T", ((0, 0), (10, 0), (10, 6)))))["T"]
        # collar 4; elbow 14/2 + 2 on each leg
        self.assertEqual(lengths(f), [120 - 4 - 9, 72 - 9])

    def test_a_riser_turns_in_its_height(self):
        f = fits(with_fittings(run("T", ((0, 0), (10, 0)), rise=8)))["T"]
        self.assertEqual(lengths(f), [96 - 4 - (8 / 2 + 2), 120 - 6])
        self.assertEqual([x.upright for x in f.fittings if x.kind == "elbow_vanes"], [True])

    def test_a_smooth_elbow_takes_its_radius(self):
        kind = FITTINGS["elbow"]
        self.assertAlmostEqual(turn_m(kind, 1.5, 8 * INCH), 12 * INCH)
        self.assertAlmostEqual(turn_m(FITTINGS["bend45"], 1.5, 8 * INCH), 12 * INCH * tan(radians(22.5)))

    def test_a_straight_goes_through_taps_and_joints(self):
        trunk = run("T1", ((0, 0), (5, 0))), run("T2", ((5, 0), (12, 0)), "T1")
        branch = run("B", ((5, 0), (5, 6)), "T1", size=(6,), ends=True)
        f = fits(with_fittings(*trunk, branch))
        self.assertEqual(lengths(f["T1"]), [144 - 4])
        self.assertEqual(f["T2"].straights, ())
        (tap,) = f["T1"].straights[0].taps
        # cut 6 + 4 long, its middle 2 in nearer to the unit
        self.assertEqual((tap.tag, tap.side, round(tap.at_m / INCH, 6)), ("B", "right", 60 - 4 - 2))
        self.assertEqual([round(x / INCH, 6) for x in tap.size_m], [6, 10])
        # 14/2 to the trunk's side, collar 4; its elbow into the boot
        self.assertEqual(lengths(f["B"]), [72 - 7 - 4 - 6])

    def test_a_transition_stands_beyond_the_last_tap(self):
        trunk = run("T1", ((0, 0), (5, 0))), run("T2", ((5, 0), (12, 0)), "T1", size=(10, 8))
        branch = run("B", ((5, 0), (5, -6)), "T1", size=(6,), ends=True)
        f = fits(with_fittings(*trunk, branch))
        self.assertEqual(lengths(f["T1"]), [60 - 4 + (3 + 2)])
        self.assertEqual(lengths(f["T2"]), [84 - 5 - 12], "12 in at least: sides come in by 2")
        self.assertEqual(f["T1"].straights[0].taps[0].side, "left")

    def test_a_trunk_goes_on_past_the_holes_at_its_end(self):
        trunk = run("T", ((0, 0), (8, 0)))
        branches = [run(f"B{k}", ((8, 0), (8, y)), "T", size=(6,), ends=True) for k, y in enumerate((5, -5))]
        f = fits(with_fittings(trunk, *branches))
        # holes 10 long, their middle 2 before the joint: 3 beyond it, and 2 in more
        self.assertEqual(lengths(f["T"]), [96 - 4 + 3 + 2])
        self.assertEqual(round(f["T"].past_m / INCH, 6), 5)
        for t in f["T"].straights[0].taps:
            self.assertLess(t.at_m + t.half_m, f["T"].straights[0].length_m)

    def test_air_that_spreads_wants_a_longer_transition(self):
        a, b = run("T1", ((0, 0), (5, 0)), size=(24, 8)), run("T2", ((5, 0), (12, 0)), size=(8, 8))
        self.assertAlmostEqual(long_m(a, b), 16 * INCH)
        back = {"side": "return"}
        self.assertAlmostEqual(long_m(a.model_copy(update=back), b.model_copy(update=back)), 32 * INCH)

    def test_flex_slips_over_its_collars(self):
        trunk = run("T1", ((0, 0), (5, 0)))
        branch = run("B", ((5, 0), (5, 6)), "T1", size=(6,), material="flex", ends=True)
        self.assertEqual(lengths(fits(with_fittings(trunk, branch))["B"]), [72 - 7])

    def test_what_is_short_makes_its_fitting_longer(self):
        f = fits(with_fittings(run("T", ((0, 0), (10, 0), (10, 1)))))["T"]
        self.assertEqual(lengths(f), [107])
        self.assertAlmostEqual(next(x.longer_m for x in f.fittings if x.kind == "elbow_vanes"), 3 * INCH)

    def test_fittings_without_room_say_so(self):
        f = fits(with_fittings(run("T", ((0, 0), (10, 0), (10, 0.5)))))["T"]
        self.assertAlmostEqual(f.lacks_m, 3 * INCH)


class AddUp(unittest.TestCase):
    def check(self, runs):
        found = fits(runs)
        straight = sum(x.length_m for f in found.values() for x in f.straights)
        taken = sum(x.takes_m + x.longer_m for f in found.values() for x in f.fittings)
        lacks = sum(f.lacks_m + f.past_m for f in found.values())
        zones = sum(ZONE_DAMPER_M for r in runs if r.zone_damper)
        self.assertAlmostEqual(straight + taken + zones - lacks, sum(map(run_length_m, runs)), 6)

    def test_the_samples(self):
        for name in ("demo", "bungalow", "narrow"):
            for s in solve(demo_job(name)).systems.values():
                self.check(s.design.runs)

    @settings(max_examples=60, deadline=None)
    @given(
        legs=st.lists(st.tuples(st.sampled_from("NESW"), st.floats(0.5, 20)), min_size=1, max_size=5),
        rise=st.sampled_from((0.0, 3.0, 8.0, -9.0)),
        size=st.sampled_from(((14, 8), (8, 8), (6,), (12,))),
        material=st.sampled_from(("galvanised", "flex")),
        branches=st.integers(0, 3),
    )
    def test_any_trunk(self, legs, rise, size, material, branches):
        step = {"N": (0, -1), "E": (1, 0), "S": (0, 1), "W": (-1, 0)}
        path = [(0.0, 0.0)]
        for way, long in legs:
            (x, y), (dx, dy) = path[-1], step[way]
            path.append((x + dx * long, y + dy * long))
        x, y = path[-1]
        more = [
            run(f"B{k}", ((x, y), (x + 5, y + k)), "T", size=(6,), material=material, ends=True)
            for k in range(branches)
        ]
        self.check(with_fittings(run("T", tuple(path), size=size, rise=rise), *more))


class Seams(unittest.TestCase):
    def test_whole_joints_and_what_is_left(self):
        self.assertEqual([round(x / FOOT, 6) for x in seams(Straight(12 * FOOT), 5 * FOOT, 0.15)], [5, 10])

    def test_what_is_left_is_no_splinter(self):
        got = [round(x / INCH, 6) for x in seams(Straight(124 * INCH), 60 * INCH, 6 * INCH)]
        self.assertEqual(got, [60, 118])

    @settings(max_examples=200, deadline=None)
    @given(length=st.floats(0.2, 15), taps=st.lists(st.tuples(st.floats(0.1, 14), st.floats(0.05, 0.2)), max_size=4))
    def test_any(self, length, taps):
        holes = tuple(Tap(str(k), at, "left", (0.1, 2 * half)) for k, (at, half) in enumerate(taps) if at < length)
        cut = [0.0, *seams(Straight(length, holes), 1.524, 0.1524), length]
        pieces = [b - a for a, b in zip(cut, cut[1:], strict=False)]
        self.assertAlmostEqual(sum(pieces), length)
        self.assertTrue(all(x <= 1.524 * (1 + ODD) + 1e-9 for x in pieces))
        if length > 0.1524:
            self.assertTrue(all(x >= 0.1524 - 1e-9 for x in pieces))

    def test_no_seam_in_a_hole(self):
        for at in (4.8, 5.0, 5.2):
            hole = Tap("B", at * FOOT, "left", (6 * INCH, 10 * INCH))
            for seam in seams(Straight(14 * FOOT, (hole,)), 5 * FOOT, 6 * INCH):
                self.assertGreaterEqual(abs(seam - hole.at_m), hole.half_m)


class OnTheList(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.r = solve(demo_job("demo"))

    def test_every_straight_is_cut_once(self):
        for s in self.r.systems.values():
            found = fits(s.design.runs)
            for r in s.design.runs:
                cut = sum(p.length_m for p in s.cuts.pieces if p.run == r.id and p.form == STRAIGHT)
                share = r.stretched if r.made_of.bends else 1.0
                self.assertAlmostEqual(cut * share, sum(x.length_m for x in found[r.id].straights))

    def test_every_branch_off_a_flat_trunk_has_its_hole(self):
        holes = sorted(t.tag for p in self.r.cuts.pieces for t in p.taps)
        runs = {x.id: x for x in self.r.laid}
        off = [x for x in runs.values() if x.parent and any(FITTINGS[f.kind].branch_deg for f in x.pieces)]
        self.assertEqual(holes, sorted(x.tag for x in off))

    def test_names_of_pieces_stay_when_a_run_grows(self):
        r = next(x for x in self.r.laid if x.tag == "SA1")
        long = r.model_copy(update={"path_m": tuple((2 * x, 2 * y) for x, y in r.path_m)})
        before = {x.part for x in run_cuts(r, fits((r,))["SA1"], True)}
        after = {x.part for x in run_cuts(long, fits((long,))["SA1"], True)}
        self.assertLessEqual(before, after)
