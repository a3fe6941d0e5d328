"""Soffits and chases: what lies in them, what they want, what has to be framed, and what L makes of those that are drawn."""

import unittest

from murvan.design import solve
from murvan.design.drawing.things import add_boxing
from murvan.design.ducts.boxing import boxed, frame_m
from murvan.design.ducts.duct_sizes import jacket_m
from murvan.design.lay.catching import Anchor
from murvan.design.lay.moving import set_level
from murvan.design.lay.registers import lay_registers
from murvan.design.lay.routing import Terminal, grown
from murvan.design.lay.space import allowed
from murvan.model.edit import changed, remove, replace
from murvan.model.errors import JobValueError
from tests.design.lay.test_drawing import bare, drawn, plenum, run, trunk
from tests.design.lay.test_routing import JOISTS_X, length, spots, upstairs, way
from tests.houses import INCH, demo, demo_results


def in_soffit(width_m=0.6, clear_m=0.36):
    """The bungalow with a trunk that lies 4 m east of the plenum, in a soffit that is drawn round it."""
    job = trunk(bare(), 5.0)
    ids = tuple(r.id for r in job.design.runs)
    storey = job.storeys[0]
    job = set_level(job, ids, storey.height_m - 0.2)
    x, y = plenum(job).position_m
    half = width_m / 2
    made = add_boxing(job, storey.id, ((x, y - half), (x + 6, y - half), (x + 6, y + half), (x, y + half)))
    return replace(made.job, "places", made.id, clear_m=clear_m), made.id


class Drawn(unittest.TestCase):
    def test_long_is_a_soffit_and_short_a_chase(self):
        job = demo()
        long = add_boxing(job, "ground", ((1, 1), (4, 1), (4, 1.6), (1, 1.6)))
        short = add_boxing(long.job, "ground", ((6, 1), (6.5, 1), (6.5, 1.6), (6, 1.6)))
        places = {p.id: p for p in short.job.places}
        self.assertEqual((places[long.id].kind, places[long.id].name), ("soffit", "Soffit"))
        self.assertEqual((places[short.id].kind, places[short.id].name), ("chase", "Chase"))
        self.assertEqual(places[short.id].clear_m, job.storeys[0].height_m)

    def test_beside_the_house_is_refused(self):
        with self.assertRaisesRegex(JobValueError, "lies in a room"):
            add_boxing(demo(), "ground", ((90, 90), (94, 90), (94, 91), (90, 91)))

    def test_a_unit_does_not_stand_in_one(self):
        job = add_boxing(demo(), "ground", ((1, 1), (11, 1), (11, 9), (1, 9))).job
        was = {f.rule.id for f in demo_results().findings}
        self.assertEqual({f.rule.id for f in solve(job).findings} - was, set())


class Fits(unittest.TestCase):
    def test_the_trunk_lies_in_the_soffit_and_its_height_counts(self):
        job, place = in_soffit()
        (x,) = boxed(job, solve(job).laid)
        self.assertEqual(x.place.id, place)
        self.assertTrue(x.runs)
        wide, high = frame_m(x.runs[0])
        self.assertAlmostEqual(x.want_m[0], wide)
        self.assertAlmostEqual(high, x.runs[0].height_m + jacket_m(x.runs[0]) + 2 * INCH)
        self.assertTrue(x.fits)
        self.assertEqual(
            [r.framed for r in x.runs], [""] * len(x.runs), "it is drawn, so nothing is framed beside it"
        )

    def test_too_low_or_too_narrow_is_said(self):
        job, place = in_soffit(width_m=0.3)
        found = [f for f in solve(job).findings if f.rule.id == "box-tight"]
        self.assertEqual([f.hit.at.id for f in found], [place])
        self.assertRegex(found[0].text("ip"), r"^Soffit is 12 in by 14 in inside; T1 wants \d+ in by \d+ in$")
        self.assertEqual([f for f in solve(in_soffit()[0]).findings if f.rule.id == "box-tight"], [])
        low = [f for f in solve(in_soffit(clear_m=0.21)[0]).findings if f.rule.id == "box-tight"]
        self.assertEqual(len(low), 1)

    def test_one_that_is_not_drawn_is_framed_and_bought(self):
        job, place = in_soffit()
        bare_of_it = remove(job, "places", place)
        laid = [r for r in solve(bare_of_it).laid if r.framed]
        self.assertTrue(laid)
        self.assertEqual({r.framed for r in laid}, {"soffit"})
        pieces = [p for p in solve(bare_of_it).cuts.pieces if p.section == "Framing"]
        self.assertEqual({p.what for p in pieces}, {"Soffit to frame"})
        self.assertEqual(pieces[0].size, frame_m(laid[0]))
        self.assertEqual([p for p in solve(job).cuts.pieces if p.section == "Framing"], [])


class Led(unittest.TestCase):
    def test_ducts_cross_the_joists_in_a_soffit_that_is_drawn(self):
        """In a room that is lived in nothing else leads across."""
        job = replace(upstairs(JOISTS_X), "rooms", "a", use="living")
        made = add_boxing(job, "g", ((0.6, 0.6), (1.4, 0.6), (1.4, 7.4), (0.6, 7.4)))
        space, found = way(made.job, (1.0, 1.0), (1.0, 7.0))
        self.assertEqual(found.unreached, ())
        soffit = space.layer("g", "soffit")
        self.assertIn(soffit, {layer for layer, _ in spots(found.root)})
        self.assertLess(length(found.root), 7.0)

    def test_risers_go_by_the_chase_that_is_drawn(self):
        """From under the floor to over the ceiling, in a room where a chase would else cost 6 m wherever it is."""
        job = changed(replace(upstairs(JOISTS_X), "rooms", "a", use="living"), "On a crawl space", foundation="crawl")
        chase = ((7.0, 3.4), (7.6, 3.4), (7.6, 4.6), (7.0, 4.6))
        made = add_boxing(job, "g", chase)
        (x0, y0), (x1, y1) = chase[0], chase[2]

        def up(job):
            at = ((7.3, 1.0), (7.3, 4.0))
            space = allowed(job, at, at[0], "u")
            low, high = space.layer("g", "under"), space.layer("g", "over")
            found = grown(space, [(low, at[0])], (Terminal("t", ((high, at[1]),)),), True, None)
            places = list(spots(found.root))
            return next((b for a, b in zip(places, places[1:], strict=False) if a[0] != b[0]), None)

        _, (x, y) = up(made.job)
        self.assertTrue(x0 <= x <= x1 and y0 <= y <= y1, (x, y))


class Sample(unittest.TestCase):
    def test_the_demo_has_none_and_registers_go_on_being_laid(self):
        self.assertEqual(list(boxed(demo(), demo_results().laid)), [])
        job, _ = in_soffit()
        self.assertTrue(lay_registers(solve(job), "unit1").design.registers)
        self.assertTrue(run(drawn(job, [(3.0, 3.0), (5.0, 3.0)], _start(job)), "B1"))


def _start(job):
    first = next(r for r in job.design.runs if r.tag.startswith("T"))
    joint = next(j for j in job.design.joints if j.id == first.end)
    return Anchor(joint.position_m, "joint", joint.id)


if __name__ == "__main__":
    unittest.main()
