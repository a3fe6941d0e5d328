"""What ducts lie in and how high it is clear there, from the house alone."""

import unittest

from murvan.design import solve
from murvan.design.space.duct_spaces import OPEN_AIR, SLAB, VAULT, duct_spaces, lay
from murvan.model import (
    Joint,
    MechanicalPlace,
    Room,
    Slope,
    Space,
    Storey,
    Structure,
    insert,
    remove,
    replace,
    with_design,
)
from murvan.model.edit import changed
from murvan.model.routes import Lies
from tests.houses import box, demo

TALL = box().storeys[0].height_m


def two_storeys():
    """A room 6 x 4 m with a smaller one over its west half, a garage beside it, joists over the lower storey."""
    job = box()
    g = changed(job.storeys[0], "", ceiling_structure=Structure(depth_m=0.24))
    job = changed(job, "", storeys=(g, Storey(id="u", name="Upper", height_m=TALL, ceiling_space_m=0.7)))
    job = insert(job, "rooms", Room(id="b", name="Loft", storey="u", outline_m=((0, 0), (3, 0), (3, 4), (0, 4))))
    return insert(
        job, "spaces", Space(id="s", name="Garage", storey="g", outline_m=((6, 0), (10, 0), (10, 4), (6, 4)))
    )


def at(job, storey, x, y, height):
    """What a joint there lies in."""
    return duct_spaces(with_design(job, joints=(Joint(id="j", storey=storey, position_m=(x, y), height_m=height),)))[
        "j"
    ]


class Spaces(unittest.TestCase):
    def test_over_a_ceiling_with_a_room_above(self):
        self.assertEqual(at(two_storeys(), "g", 1, 2, TALL), Lies("inside", "space", 0.24))
        job = replace(two_storeys(), "storeys", "g", ceiling_space_m=0.4)
        self.assertEqual(at(job, "g", 1, 2, TALL).clear_m, 0.4)

    def test_over_a_ceiling_with_nothing_above(self):
        self.assertEqual(at(two_storeys(), "g", 5, 2, TALL).place, "attic")
        self.assertEqual(at(two_storeys(), "u", 1, 2, TALL + 0.2), Lies("attic", "clear height in the attic", 0.7))

    def test_under_a_roof_slope(self):
        """1 in 2 from .5 m at the west wall: 1 m at x = 1."""
        eaves = MechanicalPlace(
            id="e",
            name="Eaves",
            storey="u",
            outline_m=((0, 0), (3, 0), (3, 4), (0, 4)),
            kind="attic",
            slope=Slope(rises="x", low_side="start", low_m=0.5, high_m=2.0, pitch=0.5),
        )
        job = insert(two_storeys(), "places", eaves)
        self.assertAlmostEqual(at(job, "u", 1, 2, TALL).clear_m, 1.0)
        self.assertAlmostEqual(at(job, "u", 2, 2, TALL).clear_m, 1.5)

    def test_under_the_floor(self):
        for foundation, words in (
            ("crawl", "clear height in the crawl space"),
            ("basement", "clear height in the basement"),
        ):
            job = changed(two_storeys(), "", foundation=foundation)
            self.assertEqual(at(job, "g", 1, 2, -0.1), Lies(foundation, words, None))
            low = MechanicalPlace(
                id="c", name="Low", storey="g", outline_m=job.rooms[0].outline_m, kind=foundation, clear_m=0.6
            )
            self.assertEqual(at(insert(job, "places", low), "g", 1, 2, -0.1).clear_m, 0.6)

    def test_under_a_slab_in_the_ground_and_out_in_the_air_there_is_no_room(self):
        slab = changed(two_storeys(), "", foundation="slab")
        self.assertEqual(at(slab, "g", 1, 2, -0.1), SLAB)
        crawl = changed(slab, "", foundation="crawl")
        sunk = replace(crawl, "storeys", "g", floor_m=-1.5)
        self.assertEqual(at(sunk, "g", 1, 2, -0.1), SLAB, "a floor in the ground stands on no crawl space")
        hung = remove(replace(crawl, "storeys", "u", floor_m=3.0), "rooms", "a", with_dependents=True)
        self.assertEqual(at(hung, "u", 1, 2, -0.1), OPEN_AIR)
        self.assertEqual(at(crawl, "u", 1, 2, -0.1), Lies("inside", "space", None))

    def test_over_a_vault_there_is_no_room_but_in_its_walls_and_over_its_flat_part(self):
        vault = Slope(rises="x", low_side="start", low_m=1.2, high_m=2.2, pitch=1.0)
        job = replace(two_storeys(), "rooms", "b", slope=vault)
        self.assertEqual(at(job, "u", 0.6, 2, TALL), VAULT)
        self.assertEqual(at(job, "u", 2.0, 2, TALL).place, "attic")
        self.assertEqual(at(job, "u", 0.1, 2, TALL).place, "attic")

    def test_a_run_that_lies_nowhere_is_found(self):
        """The rule "duct-buried": at either end, whatever its other one lies in."""
        job = replace(demo(), "joints", next(r for r in demo().design.runs if r.tag == "A4").end, height_m=-0.15)
        job = changed(job, "", foundation="slab")
        hits = [f for f in solve(job).findings if f.rule.id == "duct-buried"]
        self.assertEqual(len(hits), 1)
        self.assertIn("Run A4", hits[0].text("ip"))
        self.assertIn("slab", hits[0].text("ip"))
        self.assertEqual(at(two_storeys(), "u", 1, 2, 0.0).place, "inside")  # over the room below

    def test_a_room_says_what_its_floor_stands_on(self):
        job = replace(two_storeys(), "rooms", "a", floor="crawl")
        self.assertEqual(at(job, "g", 1, 2, -0.3).place, "crawl")

    def test_in_the_room(self):
        self.assertEqual(at(two_storeys(), "g", 1, 2, TALL - 0.4), Lies("inside", "soffit", None))
        self.assertEqual(at(two_storeys(), "g", 1, 2, 1.0), Lies("inside", "chase", None))

    def test_in_a_soffit_or_chase_that_is_drawn(self):
        outline = ((0.5, 1.5), (2.5, 1.5), (2.5, 2.5), (0.5, 2.5))
        job = insert(
            two_storeys(),
            "places",
            MechanicalPlace(id="f", name="Hall soffit", storey="g", outline_m=outline, kind="soffit", clear_m=0.3),
        )
        self.assertEqual(at(job, "g", 1, 2, TALL - 0.2), Lies("inside", "clear height in Hall soffit", 0.3))
        self.assertEqual(at(job, "g", 1, 2, TALL - 0.4), Lies("inside", "soffit", None), "below it")
        job = replace(job, "places", "f", kind="chase")
        for height in (-0.1, 1.0, TALL + 0.1):
            self.assertTrue(at(job, "g", 1, 2, height).in_chase)
        self.assertFalse(at(job, "g", 3, 3, 1.0).in_chase)

    def test_in_the_garage(self):
        self.assertEqual(at(two_storeys(), "g", 8, 2, 2.0).place, "garage")
        self.assertEqual(at(two_storeys(), "g", 8, 2, TALL).place, "garage")

    def test_a_room_of_its_own_height(self):
        job = replace(two_storeys(), "rooms", "a", height_m=3.0)
        self.assertEqual(at(job, "g", 5, 2, TALL), Lies("inside", "soffit", None))
        self.assertEqual(at(job, "g", 5, 2, 3.0).place, "attic")

    def test_no_joints(self):
        self.assertEqual(duct_spaces(box()), {})


class Runs(unittest.TestCase):
    def test_a_run_lies_where_it_ends_unless_it_says_so(self):
        by_id = {x.id: x for x in lay(demo())}
        self.assertEqual({by_id[i].lies_in for i in ("SB1", "SB2", "B4")}, {"attic"})
        self.assertEqual({by_id[i].lies_in for i in ("SA1", "A4", "R1")}, {"inside"})
        said = {x.id: x for x in lay(replace(demo(), "runs", "A4", place="garage"))}
        self.assertEqual((said["A4"].lies_in, said["A4"].clear), ("garage", None))

    def test_the_tightest_height(self):
        by_id = {x.id: x for x in lay(demo())}
        self.assertEqual(by_id["A4"].clear, ("space", demo().storeys[0].ceiling_space_m))
        self.assertEqual(by_id["B3"].clear, ("clear height in the attic", demo().storeys[1].ceiling_space_m))
        self.assertEqual(by_id["B4"].clear[0], "clear height under the roof")  # measured

    def test_the_upper_storey_taken_away_leaves_an_attic(self):
        """Ducts over the ground floor's ceiling then lie in the attic: they lose heat, and must be wrapped."""
        job = demo()
        gone = {x.id for x in job.rooms if x.storey == "upper"}
        for room in gone:
            job = remove(job, "rooms", room, with_dependents=True)
        self.assertEqual({x.lies_in for x in lay(job) if x.id == "A4"}, {"attic"})
        self.assertIn("A4", {f.hit.at.id for f in solve(job).findings if f.rule.id == "attic-wrap"})

    def test_a_duct_too_deep_for_the_attic_is_said(self):
        sb2 = next(r for r in demo().design.runs if r.id == "SB2")
        deep = replace(demo(), "runs", "SB2", height_m=0.35, width_m=max(sb2.width_m, 0.35))
        job = replace(deep, "storeys", "upper", ceiling_space_m=0.32)
        (found,) = (f for f in solve(job).findings if f.rule.id == "duct-depth" and f.hit.at.id == "SB2")
        self.assertIn("clear height in the attic", found.text("ip"))

    def test_what_was_measured_between_joists_limits_no_duct_over_them(self):
        job = replace(demo(), "storeys", "upper", ceiling_space_m=0.2)
        self.assertIsNone(next(x for x in lay(job) if x.id == "SB2").clear)


if __name__ == "__main__":
    unittest.main()
