"""Limits stand once, and are told in the user's units."""

import unittest

from murvan.design.limits import BALANCE_M3_S, BALANCE_SHARE, LOOK_SHARE, SHORT_OF_AIR, within
from murvan.design.punch.rules import RULES
from murvan.field.verdict import GOOD, judge


class TestLimits(unittest.TestCase):
    def test_the_tolerance_of_air_is_told_in_both_units(self):
        line = within(GOOD)
        self.assertEqual(
            line.worked_with_units("ip"),
            "Good within 10 % or 5 cfm of design, to look at within 20 %: common practice",
        )
        self.assertIn("or 2 L/s of design", line.worked_with_units("si"))

    def test_a_register_is_judged_by_them(self):
        for design in (10 * BALANCE_M3_S, 100 * BALANCE_M3_S):
            good = max(BALANCE_SHARE * design, BALANCE_M3_S)
            look = max(LOOK_SHARE * design, 2 * BALANCE_M3_S)
            self.assertEqual(judge(design, design - good), "good")
            self.assertEqual(judge(design, design - 1.01 * good), "look")
            self.assertEqual(judge(design, design + 1.01 * look), "fails")

    def test_a_room_short_of_air_is_one_out_of_balance(self):
        self.assertAlmostEqual(SHORT_OF_AIR, 1 - BALANCE_SHARE)
        rule = next(x for x in RULES if x.id == "room-air")
        self.assertEqual([q.value for q in rule.limits], [BALANCE_SHARE, BALANCE_M3_S])


if __name__ == "__main__":
    unittest.main()
