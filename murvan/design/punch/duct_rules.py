"""The rules of how ducts are put together."""

from __future__ import annotations

from murvan.design import limits
from murvan.design.arithmetic import Quantity
from murvan.design.finding import Rule
from murvan.design.punch import duct_checks

DUCT_RULES: tuple[Rule, ...] = (
    Rule(
        "unit-unducted",
        5,
        "fails",
        "Ducted unit without ducts",
        "geometry",
        "No room gets any of what the unit makes.",
        "Lay registers (Air, L), then ducts (Ducts, L).",
        duct_checks.unducted,
    ),
    Rule(
        "duct-dead-end",
        5,
        "fails",
        "Run that ends in nothing",
        "geometry",
        "It blows into its own cap: metal without use.",
        "Give it a register, or take the run away.",
        duct_checks.dead_end,
    ),
    Rule(
        "duct-material",
        5,
        "fails",
        "Material where it may not be",
        "by the material, common practice; the local code decides",
        "It is not made for the place, the air or the shape.",
        "Another material, or another way for the run.",
        duct_checks.material,
    ),
    Rule(
        "duct-wider",
        5,
        "look",
        "Branch larger than its trunk",
        "common practice",
        "What the trunk can't carry the branch does not get.",
        "Smaller branch, or a larger trunk.",
        duct_checks.wider_than_its_trunk,
    ),
    Rule(
        "duct-flat",
        5,
        "look",
        "Duct too flat",
        "at most {0} to 1, common practice",
        "More metal and more friction for the same air; wide sheets drum.",
        "Less wide and higher, or two runs side by side.",
        duct_checks.too_flat,
        (Quantity("decimal", limits.FLATTEST, 0),),
    ),
    Rule(
        "duct-place",
        5,
        "look",
        "Ducts elsewhere than said",
        "geometry",
        "Heat that ducts lose, their insulation and where registers go are worked out for the place that is said.",
        "Say where they run (Ducts, the unit's card), or lay them there (L).",
        duct_checks.place_said,
    ),
    Rule(
        "register-run",
        5,
        "fails",
        "Register on the other side of its run",
        "geometry",
        "A boot in the floor does not meet a duct over the ceiling.",
        "Another kind of register, or the run on the register's side.",
        duct_checks.face_and_run,
    ),
    Rule(
        "room-over",
        5,
        "look",
        "Room with too much air",
        "network solve, {0} and {1}",
        "It overshoots and is noisy, and other rooms go short.",
        "Close its damper a little.",
        duct_checks.room_over,
        (Quantity("percent", limits.LOOK_SHARE), Quantity("flow", limits.BALANCE_M3_S)),
    ),
)
