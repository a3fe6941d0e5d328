"""Take-offs that slide to where their branch meets its face square."""

import unittest

from murvan.design.lay.routing import Branch
from murvan.design.lay.squaring import square


def tree(*places, face="s"):
    """A way through places of one level."""
    made = [Branch((0, p)) for p in places]
    for a, b in zip(made, made[1:], strict=False):
        a.onward.append(b)
    made[-1].face = face
    return made


def ways(at, before=()):
    here = (*before, at.at[1])
    if not at.onward:
        yield here
    for on in at.onward:
        yield from ways(on, here)


class Square(unittest.TestCase):
    def with_trunk(self, goal, leaves_at=(3, 0)):
        """A trunk along x from 0 to 6 to a face there, and a branch along y off it to a face near (3, 2)."""
        root, mid, _ = tree((0, 0), leaves_at, (6, 0), face="end")
        mid.onward.append(Branch((0, (leaves_at[0], 2)), face="s"))
        square(root, {"s": goal, "end": (6, 0)})
        return {w[-1]: w for w in ways(root)}

    def test_the_take_off_slides_onward(self):
        found = self.with_trunk((3.2, 2.0))
        self.assertEqual(found[3.2, 2.0], ((0, 0), (3, 0), (3.2, 0), (3.2, 2.0)))
        self.assertEqual(found[6, 0], ((0, 0), (3, 0), (3.2, 0), (6, 0)))

    def test_and_back(self):
        found = self.with_trunk((2.8, 2.1))
        self.assertEqual(found[2.8, 2.1], ((0, 0), (2.8, 0), (2.8, 2.1)))

    def test_no_further_than_the_next(self):
        """A trunk that is too short to slide along: an elbow before the face."""
        found = self.with_trunk((-0.1, 2.0), leaves_at=(0.1, 0))
        self.assertEqual(found[-0.1, 2.0], ((0, 0), (0.1, 0), (0.1, 2.0), (-0.1, 2.0)))

    def test_a_hand_is_no_elbow(self):
        """10 cm in 2 m: it goes there a little aslant."""
        found = self.with_trunk((0.0, 2.0), leaves_at=(0.1, 0))
        self.assertEqual(found[0.0, 2.0], ((0, 0), (0.1, 0), (0.0, 2.0)))

    def test_no_stub_is_left_at_a_corner(self):
        """The trunk turns where the branch leaves: that stays one joint."""
        root, corner, _ = tree((0, 0), (3, 0), (3, 6), face="end")
        corner.onward.append(Branch((0, (5, 0)), face="s"))
        square(root, {"s": (5, 0.2), "end": (3, 6)})
        found = {w[-1]: w for w in ways(root)}
        self.assertEqual(found[5, 0.2], ((0, 0), (3, 0), (5, 0), (5, 0.2)))

    def test_a_trunk_goes_on_for_its_last_branch(self):
        root, *_ = tree((0, 0), (3, 0), (3, 2))
        square(root, {"s": (3.2, 2)})
        self.assertEqual(list(ways(root)), [((0, 0), (3, 0), (3.2, 0), (3.2, 2))])

    def test_along_the_leg_it_only_gets_longer(self):
        root, *_ = tree((0, 0), (3, 0), (3, 2))
        square(root, {"s": (3, 2.2)})
        self.assertEqual(list(ways(root)), [((0, 0), (3, 0), (3, 2.2))])

    def test_off_a_riser_an_elbow(self):
        root, *_ = tree((0, 0), (3, 0))
        root.onward[0].onward, root.onward[0].face = [Branch((1, (3, 0)), face="s")], ""
        square(root, {"s": (3.2, 0.15)})
        self.assertEqual(next(ways(root))[-1], (3.2, 0.15))
        a, b = next(ways(root))[-2:]
        self.assertLess(min(abs(a[0] - b[0]), abs(a[1] - b[1])), 1e-6)
