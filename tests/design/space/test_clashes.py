"""Two ducts in one place: from their boxes in space, by hand."""

import unittest

from murvan.design import solve
from murvan.design.space.clashes import clashes, legs_of
from murvan.model import DuctRun, IndoorUnit, Joint, Register, System, with_design
from murvan.model.routes import laid_runs
from tests.houses import box

FAR = -0.15


def run(tag, start, end, side="supply", **more):
    size = {"shape": "rectangular", "width_m": 0.3, "height_m": 0.2} | more
    return DuctRun(id=tag, tag=tag, indoor="u", side=side, storey="g", start=start, end=end, **size)


def job(joints, runs, **more):
    """Ducts of one unit in a room 12 x 8 m: joints as id to x, y, height."""
    made = tuple(Joint(id=i, storey="g", position_m=(x, y), height_m=h) for i, (x, y, h) in joints.items())
    unit = IndoorUnit(id="u", tag="U", system="s", storey="g", position_m=(1, 1))
    return with_design(
        box(12.0, 8.0),
        systems=(System(id="s", name="S"),),
        indoor_units=(unit,),
        joints=made,
        runs=tuple(runs),
        **more,
    )


def found(of):
    return {
        frozenset((x.one.tag, x.other.tag)): x.at
        for x in clashes(legs_of(laid_runs(of.design, of.storeys), of.design.joints, of.storeys))
    }


class Clashes(unittest.TestCase):
    def test_a_supply_through_a_return(self):
        joints = {"a": (1, 4, FAR), "b": (9, 4, FAR), "c": (5, 1, FAR), "d": (5, 7, FAR)}
        of = job(joints, [run("T", "a", "b"), run("RT", "c", "d", "return")])
        self.assertEqual(set(found(of)), {frozenset(("T", "RT"))})
        x, y = found(of)[frozenset(("T", "RT"))]
        self.assertAlmostEqual(x, 5, 6)
        self.assertAlmostEqual(y, 4, 6)

    def test_one_over_the_other_and_beside_it_go_in(self):
        """20 cm high each: 25 cm between their middles is room, 15 is not; side by side 30 cm between middles is."""
        for more, clear in ((0.25, True), (0.15, False)):
            joints = {"a": (1, 4, FAR), "b": (9, 4, FAR), "c": (5, 1, FAR - more), "d": (5, 7, FAR - more)}
            of = job(joints, [run("T", "a", "b"), run("RT", "c", "d", "return")])
            self.assertEqual(not found(of), clear, more)
        for more, clear in ((0.31, True), (0.2, False)):
            joints = {"a": (1, 4, FAR), "b": (9, 4, FAR), "c": (1, 4 + more, FAR), "d": (9, 4 + more, FAR)}
            of = job(joints, [run("T", "a", "b"), run("RT", "c", "d", "return")])
            # at its plenum each has what its collar takes
            self.assertEqual(not found(of), clear, more)

    def test_what_meets_at_a_joint_may_touch_there(self):
        joints = {"a": (1, 4, FAR), "b": (5, 4, FAR), "c": (9, 4, FAR), "d": (5, 7, FAR)}
        of = job(joints, [run("T1", "a", "b"), run("T2", "b", "c"), run("B", "b", "d", width_m=0.15)])
        self.assertEqual(found(of), {})

    def test_a_branch_that_comes_back_into_its_trunk(self):
        joints = {"a": (1, 4, FAR), "b": (3, 4, FAR), "c": (9, 4, FAR), "d": (7, 4.1, FAR)}
        back = run("B", "b", "d", width_m=0.15, corners_m=((3, 6), (7, 6)))
        of = job(joints, [run("T1", "a", "b"), run("T2", "b", "c"), back])
        self.assertEqual(set(found(of)), {frozenset(("T2", "B"))})

    def test_a_riser_through_a_trunk(self):
        """It rises at the place where it starts, from under the floor to over it: through what lies between."""
        joints = {"a": (1, 4, FAR), "b": (9, 4, FAR), "c": (2, 2, -0.6), "e": (5, 4, -0.6), "d": (5, 4, 1.0)}
        of = job(joints, [run("T", "a", "b"), run("RT", "c", "e", "return"), run("V", "e", "d", "return")])
        self.assertEqual(set(found(of)), {frozenset(("T", "V"))})

    def test_the_punch_list_names_both(self):
        joints = {"a": (1, 4, FAR), "b": (9, 4, FAR), "c": (5, 1, FAR), "d": (5, 7, FAR)}
        faces = (
            Register(
                id="s", tag="S1", room="a", side="supply", indoor="u", position_m=(9, 4), width_m=0.3, height_m=0.15
            ),
            Register(
                id="t", tag="R1", room="a", side="return", indoor="u", position_m=(5, 7), width_m=0.3, height_m=0.15
            ),
        )
        runs = [run("T", "a", "b", register_id="s"), run("RT", "c", "d", "return", register_id="t")]
        of = job(joints, runs, registers=faces)
        named = [f for f in solve(of).findings if f.rule.id == "duct-clash"]
        self.assertEqual(len(named), 1)
        self.assertEqual(named[0].severity, "fails")
        self.assertIn("the same place", named[0].text("ip"))
