"""The house cut along a line, against a house whose every height is known by hand."""

import unittest

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.space import busiest, section
from murvan.model import DuctRun, IndoorUnit, Joint, MechanicalPlace, Room, Slope, Storey, Structure, System
from murvan.model.edit import changed, insert, replace, with_design
from murvan.model.routes import laid_runs
from tests.houses import box

DEPTH, TALL = 0.24, 2.5


def two_storeys():
    """Rooms of 6 x 4 m over each other, joists of 24 cm along x every 40 cm between them, on a slab."""
    job = box(6.0, 4.0)
    g = changed(job.storeys[0], "", ceiling_structure=Structure(depth_m=DEPTH, spacing_m=0.4, runs="x"))
    job = changed(job, "", storeys=(g, Storey(id="u", name="Upper", height_m=TALL)))
    return insert(job, "rooms", Room(id="b", name="Above", storey="u", outline_m=((0, 0), (6, 0), (6, 4), (0, 4))))


def with_runs(job, joints, *runs):
    made = tuple(Joint(id=i, storey="g", position_m=(x, y), height_m=z) for i, (x, y, z) in joints.items())
    unit = IndoorUnit(id="unit", tag="U", system="s", storey="g", position_m=(1, 1))
    job = with_design(
        job, systems=(System(id="s", name="S"),), indoor_units=(unit,), joints=made, runs=tuple(runs), plenums=()
    )
    return job, laid_runs(job.design, job.storeys)


def run(tag, start, end, **more):
    size = {"shape": "rectangular", "width_m": 0.3, "height_m": 0.2} | more
    return DuctRun(id=tag, tag=tag, indoor="unit", side="supply", storey="g", start=start, end=end, **size)


class House(unittest.TestCase):
    def test_rooms_decks_and_joists(self):
        x = section(two_storeys(), (), ((2.0, -1.0), (2.0, 5.0)))
        self.assertEqual(
            [(r.name, r.span, r.floor_m) for r in x.rooms], [("Room A", (1, 5), 0), ("Above", (1, 5), TALL + DEPTH)]
        )
        between = next(d for d in x.decks if d.kind == "between")
        self.assertAlmostEqual(between.low_m, TALL)
        self.assertAlmostEqual(between.high_m, TALL + DEPTH)
        # joists along x: cut at y = 0, .4, ..., 4, a metre later along the line
        self.assertEqual([round(m, 6) for m in between.members], [round(1 + 0.4 * k, 6) for k in range(11)])
        slab = next(d for d in x.decks if d.kind == "slab")
        self.assertEqual((slab.span, slab.high_m), ((1, 5), 0))
        over = next(d for d in x.decks if d.kind == "ceiling")
        self.assertAlmostEqual(over.low_m, TALL + DEPTH + TALL)

    def test_along_the_joists_none_is_cut(self):
        x = section(two_storeys(), (), ((-1.0, 2.0), (7.0, 2.0)))
        self.assertEqual(next(d for d in x.decks if d.kind == "between").members, ())

    def test_a_line_turned_round_is_mirrored(self):
        job, runs = with_runs(two_storeys(), {"a": (1, 1, 2.6), "b": (5, 1, 2.6)}, run("T", "a", "b"))
        one = section(job, runs, ((2.0, -1.0), (2.0, 5.0)))
        other = section(job, runs, ((2.0, 5.0), (2.0, -1.0)))
        self.assertAlmostEqual(one.ducts[0].at_m + other.ducts[0].at_m, 6.0)
        self.assertEqual(one.ducts[0].left_m, other.ducts[0].left_m)

    def test_half_a_storey_above_leaves_an_attic_beside_it(self):
        job = replace(two_storeys(), "rooms", "b", outline_m=((0, 0), (3, 0), (3, 4), (0, 4)))
        decks = section(job, (), ((0.0, 2.0), (6.0, 2.0))).decks
        self.assertEqual(
            [(d.kind, d.span) for d in decks if d.low_m == TALL], [("between", (0, 3)), ("ceiling", (3, 6))]
        )

    def test_a_sloped_ceiling_turns_at_its_ridge(self):
        job = box(6.0, 4.0)
        job = replace(job, "rooms", "a", slope=Slope(rises="y", low_m=2.0, high_m=3.0, pitch=0.5))
        (room,) = section(job, (), ((3.0, 0.0), (3.0, 4.0))).rooms
        self.assertEqual([(round(s, 6), round(z, 6)) for s, z in room.ceiling], [(0, 2), (2, 3), (4, 2)])

    def test_the_roof_over_an_attic(self):
        """1 in 2 from 30 cm at the south and north walls of a house 4 m deep: 1.3 m in the middle."""
        job = box(6.0, 4.0)
        slope = Slope(rises="y", low_m=0.3, high_m=1.3, pitch=0.5)
        place = MechanicalPlace(
            id="p", name="Attic", storey="g", outline_m=job.rooms[0].outline_m, kind="attic", clear_m=1.3, slope=slope
        )
        (roof,) = section(insert(job, "places", place), (), ((3.0, 0.0), (3.0, 4.0))).roofs
        self.assertAlmostEqual(max(z for _, z in roof), TALL + 1.3)
        self.assertAlmostEqual(roof[0][1], TALL + 0.3)

    def test_no_line_no_section(self):
        with self.assertRaises(ValueError):
            section(box(), (), ((1.0, 1.0), (1.0, 1.0)))


class Ducts(unittest.TestCase):
    def test_needs_and_free(self):
        """20 cm high between joists of 24, with 5 cm of wrap it is short by what the walls and the wrap add."""
        joints = {"a": (1, 1, TALL + DEPTH / 2), "b": (5, 1, TALL + DEPTH / 2)}
        job, runs = with_runs(two_storeys(), joints, run("T", "a", "b", material="galvanised"))
        (d,) = section(job, runs, ((2.0, 0.0), (2.0, 4.0))).ducts
        self.assertEqual((d.how, round(d.at_m, 6), round(d.width_m, 6)), ("across", 1.0, 0.3))
        self.assertAlmostEqual(d.low_m, TALL + 0.02)
        self.assertAlmostEqual(d.free_m, DEPTH)
        self.assertAlmostEqual(d.left_m, DEPTH - d.needs_m)
        wrapped = changed(job.design.runs[0], "", insulation_r_m2k_w=1.4)
        more = laid_runs(with_design(job, runs=(wrapped,)).design, job.storeys)
        (w,) = section(job, more, ((2.0, 0.0), (2.0, 4.0))).ducts
        self.assertAlmostEqual(w.needs_m - d.needs_m, wrapped.made_of.jacket_m(1.4) - wrapped.made_of.jacket_m(0.0))
        self.assertLess(w.left_m, 0)

    def test_aslant_it_is_seen_wider(self):
        """At 45 degrees by the root of two."""
        job, runs = with_runs(two_storeys(), {"a": (1, 1, 2.6), "b": (3, 3, 2.6)}, run("T", "a", "b"))
        (d,) = section(job, runs, ((0.0, 2.0), (6.0, 2.0))).ducts
        self.assertAlmostEqual(d.width_m, 0.3 * 2**0.5)
        self.assertAlmostEqual(d.at_m, 2.0)

    def test_along_and_upright(self):
        joints = {"a": (1, 2, 2.6), "b": (5, 2, 2.6), "c": (5, 2, 0.5)}
        job, runs = with_runs(two_storeys(), joints, run("T", "a", "b"), run("V", "b", "c"))
        ducts = {d.run.tag: d for d in section(job, runs, ((0.0, 2.05), (6.0, 2.05))).ducts}
        self.assertEqual((ducts["T"].how, ducts["V"].how), ("along", "upright"))
        self.assertAlmostEqual(ducts["T"].width_m, 4.0)
        self.assertIsNone(ducts["V"].left_m)
        self.assertEqual(section(job, runs, ((0.0, 2.4), (6.0, 2.4))).ducts, ())

    def test_what_shares_a_place_is_named(self):
        joints = {"a": (1, 2, 2.6), "b": (5, 2, 2.6), "c": (3, 0.5, 2.6), "d": (3, 3.5, 2.6)}
        job, runs = with_runs(two_storeys(), joints, run("T", "a", "b"), run("B", "c", "d"))
        self.assertEqual(section(job, runs, ((0.0, 1.0), (6.0, 1.0))).in_each_other, {"T", "B"})


class Busiest(unittest.TestCase):
    def test_it_cuts_more_than_any_other_line(self):
        for which in ("demo", "bungalow", "narrow"):
            r = solve(demo_job(which))
            best = busiest(r.job, r.laid)
            level = lambda ends, r=r: sum(d.how == "across" for d in section(r.job, r.laid, ends).ducts)  # noqa: E731
            xs = [q[0] for room in r.job.rooms for q in room.outline_m]
            ys = [q[1] for room in r.job.rooms for q in room.outline_m]
            middle = (sum(xs) / len(xs), sum(ys) / len(ys))
            through = [((min(xs), middle[1]), (max(xs), middle[1])), ((middle[0], min(ys)), (middle[0], max(ys)))]
            self.assertGreaterEqual(level(best), max(map(level, through)), which)

    def test_without_ducts_there_is_none(self):
        self.assertIsNone(busiest(box(), ()))
