"""What can be wrong with a system that is built, and how often it is."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from murvan.kinds.table import Table

At = Literal["run", "trunk", "unit", "pair", "room", "instrument"]
"""What a fault is of: a run that ends in a register or grille, one that feeds others, a unit, two registers, a room, what is
read with."""


@dataclass(frozen=True)
class FaultKind:
    """A kind of fault with its usual range."""

    id: str
    name: str
    """With {0} for where it is."""
    brief: str
    """Beside the name of its place."""
    at: At
    often: float
    """How often it is met beside the others, in a house; shared by all places where it may be. Common practice."""
    usual: float
    """Its amount when nobody says one."""
    low: float
    high: float
    """What its amount lies between, nine times in ten: the weaker end first."""
    amount: str
    """What its amount says, in words."""
    to_try: str
    minutes: float
    """What it takes to look."""
    most: float = math.inf
    """No amount is more."""
    steps: tuple[float, ...] = ()
    """The only amounts that there are, where it goes by steps."""
    both_ways: bool = False
    """Whether it is met as far above one as below."""
    moves_air: bool = True
    """Whether air goes otherwise by it."""
    than_drawn: Literal["", "less", "more"] = ""
    """Of a damper: open less, or more, than it is drawn."""
    thing: str = ""
    """What it is of, where others may be of it too: at one place such faults are no pair."""
    along: float | None = None
    """How far along its run it is, a share."""


FAULTS = Table(
    "fault",
    FaultKind("kink", "Kinked or crushed flex, {0}", "kinked flex", "run", 0.14, 4.0, 1.6, 12.0, "resistance of the run, times", "Feel for a fold or a tight strap", 6, thing="branch", along=0.5),
    FaultKind("flex", "Flex not stretched throughout, {0}", "flex not stretched", "unit", 0.06, 1.8, 1.25, 3.0, "resistance of all flex, times", "Pull a run straight and read it again", 10),
    FaultKind("damper", "Hand damper of {0} partly shut", "damper partly shut", "run", 0.12, 0.4, 0.75, 0.12, "share left open", "Look at its handle at the take-off", 3, most=1.0, than_drawn="less", thing="branch", along=0.12),
    FaultKind("damper_open", "Hand damper of {0} slipped open", "damper slipped open", "run", 0.05, 1.0, 0.9, 1.0, "share left open", "Look at its handle at the take-off", 3, most=1.0, than_drawn="more", thing="branch", along=0.12),
    FaultKind("boot", "Boot or register of {0} blocked or shut", "boot shut", "run", 0.08, 0.15, 0.5, 0.05, "share left open", "Look into boot and blades", 2, most=1.0, thing="branch", along=0.95),
    FaultKind("boot_off", "{0} off its boot", "off its boot", "run", 0.09, 1.0, 0.4, 1.6, "open, share of the duct's area", "Look at the boot from above or below", 8, thing="branch", along=0.85),
    FaultKind("joint_open", "Joint of {0} open", "joint open", "trunk", 0.06, 0.3, 0.1, 0.9, "open, share of the duct's area", "Feel along its joints with the blower on", 10, along=0.95),
    FaultKind("plenum_leak", "Supply plenum of {0} leaks", "supply plenum leaks", "unit", 0.04, 0.06, 0.02, 0.2, "open, share of the plenum's area", "Feel round the plenum and the coil's box", 5),
    FaultKind("swap", "Readings of {0} taken for each other", "readings swapped", "pair", 0.03, 1.0, 1.0, 1.0, "", "Read both again, tag in hand", 3, moves_air=False),
    FaultKind("filter", "Filter of {0} loaded or too dense", "filter loaded", "unit", 0.16, 3.0, 1.6, 8.0, "resistance of the filter, times", "Take it out and read again", 3, thing="filter"),
    FaultKind("filter_missing", "Filter of {0} missing or passed by", "filter missing", "unit", 0.03, 0.05, 0.3, 0.02, "resistance of the filter, times", "Look whether it stands in its rack", 2, thing="filter"),
    FaultKind("coil", "Coil of {0} fouled", "coil fouled", "unit", 0.06, 3.0, 1.5, 8.0, "resistance of the coil, times", "Look at its face with a mirror", 12),
    FaultKind("wheel", "Blower wheel of {0} dirty or turned down", "blower wheel dirty", "unit", 0.05, 0.82, 0.93, 0.6, "share of its air left", "Look at the wheel's blades and the board", 12, most=1.0, thing="blower"),
    FaultKind("reversed", "Blower of {0} turns backwards", "blower backwards", "unit", 0.01, 0.4, 0.5, 0.3, "share of its air left", "Look which way the wheel turns", 8, most=1.0, thing="blower"),
    FaultKind("tap", "Blower of {0} on another tap", "another tap", "unit", 0.1, -1.0, -1.0, -3.0, "steps up", "Read the blower's tap at its board", 4, steps=(-3.0, -2.0, -1.0, 1.0, 2.0), thing="blower"),
    FaultKind("return", "Return {0} too small or blocked", "too small or blocked", "run", 0.08, 4.0, 1.7, 12.0, "resistance of the run, times", "Look into the return and its grille", 8),
    FaultKind("return_leak", "Return of {0} leaks from outside the rooms", "return leaks", "unit", 0.06, 0.1, 0.03, 0.3, "open, share of the plenum's area", "Feel round the return in attic, crawl space or garage", 8),
    FaultKind("bypass", "Bypass of {0} stuck open", "bypass open", "unit", 0.03, 0.5, 0.15, 1.0, "share open", "Look at its blade", 4, most=1.0),
    FaultKind("fresh", "Outdoor-air damper of {0} stuck open", "outdoor air open", "unit", 0.03, 1.2, 0.4, 3.0, "open, share of its duct's area", "Look at the damper and its motor", 5),
    FaultKind("zone_damper", "Zone damper of {0} stuck", "zone damper stuck", "trunk", 0.04, 0.25, 0.7, 0.05, "share left open", "Call its zone and look at the shaft", 5, most=1.0),
    FaultKind("zone_open", "Zone damper of {0} does not shut", "zone damper open", "trunk", 0.04, 0.7, 0.2, 1.0, "share that stays open", "Stop its zone and look at the shaft", 5, most=1.0),
    FaultKind("door", "Door of {0} was shut", "door was shut", "room", 0.03, 1.0, 1.0, 1.0, "", "Open it and read again", 1),
    FaultKind("hood_bias", "Hood reads off", "Hood reads off", "instrument", 0.1, 0.92, 0.96, 0.84, "what it shows of the true flow", "Check it against a second hood or a traverse", 10, both_ways=True, moves_air=False),
    FaultKind("gauge_bias", "Manometer reads off", "Manometer reads off", "instrument", 0.05, 0.8, 0.93, 0.65, "what it shows of the true pressure", "Zero it, or check it against another", 3, both_ways=True, moves_air=False),
    FaultKind("heater_on", "Electric heat of {0} is on", "heater on", "unit", 0.02, 1.0, 0.3, 1.0, "share of its kit", "Look at the heater's contactors", 3, most=1.0, moves_air=False),
    FaultKind("charge", "Charge of {0} low, or its circuit restricted", "low charge", "unit", 0.06, 0.65, 0.85, 0.4, "share of its capacity left", "Superheat and subcooling, by licensed hands", 25, most=1.0, moves_air=False),
)  # fmt: skip
"""How often each is met: common practice, editable here alone."""
NOTHING, OTHER = "nothing", "other"
"""The explanations that are no fault of the table: as designed, and something that is not in it."""
HOW_OFTEN_NOTHING, HOW_OFTEN_OTHER = 0.3, 0.005
