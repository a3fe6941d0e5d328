"""Limits that more than one judgement goes by, each once; SI."""

from __future__ import annotations

from murvan.design.arithmetic import Line, Quantity
from murvan.units import CFM, FPM, INCH, R_IP

BALANCE_SHARE, BALANCE_M3_S = 0.10, 5 * CFM
"""Air is balanced within 10 % or 5 cfm of design; common practice of air balancing."""
LOOK_SHARE = 0.20
"""Up to here an air reading is to be looked at; beyond, it fails. Common practice."""
SHORT_OF_AIR = 1 - BALANCE_SHARE
"""Share of its design air below which a room is short."""
AT_LIMIT = 0.02
"""A share beyond its limit by no more is to be looked at and fails nothing: the load moves by as much when ducts alone are
laid otherwise. Common practice."""


def near(share: float, limit: float) -> bool:
    """Whether a share beyond its limit is but a little beyond."""
    return abs(share - limit) <= AT_LIMIT


SEEN, ROUNDED = 0.005, 0.001
"""Shares of a limit that nobody can tell from it: of what is measured on site, and of what is worked out alone."""


def exceeds(value: float, limit: float, spare: float = SEEN) -> bool:
    """Whether a value is over its limit by what can be told apart."""
    return value > limit * (1 + spare)


def carries(have: float, need: float) -> bool:
    """Whether what there is covers what is needed, but for rounding."""
    return have >= need * (1 - ROUNDED)


DOOR_LIMIT_PA = 3.0
"""Pressure of a room over what is beyond its door, shut; common practice."""


FACE_LIMIT = {"supply": 700 * FPM, "return": 500 * FPM, "filter": 300 * FPM}
"""Highest face velocity of registers, grilles and filters, m/s; common practice."""
CUSHION_M = 6 * INCH
"""Between the last take-off and a plenum's end; common practice."""
METHODS_ALIKE = 0.15
"""Two methods of the loads that differ by no more agree; common practice."""
FLATTEST = 4.0
"""Widest a duct may be for its height; common practice."""
ATTIC_R = 8 * R_IP
"""Wrap of ducts in an attic; energy code, from memory."""


def within(words: str) -> Line:
    """A source that names the tolerance of air in the user's units: `words` with {0} for the share and {1} for the flow."""
    return Line("", words, (Quantity("percent", BALANCE_SHARE), Quantity("flow", BALANCE_M3_S)), None)


QUIET_DBA = 45.0
"""An outdoor unit at a bedroom window by night; common practice, the local bylaw decides."""
SLOWEST_M_S = 200 * FPM
"""Air in a duct that was made larger is no slower: it would lose its heat on the way. Common practice."""
WORKABLE_PA_M = 0.08 * 249.08891 / 30.48
"""Friction rate that ducts are sized to where nothing else says: 0.08 in wc/100 ft; common practice."""
SERVICE_M = 24 * INCH
"""Room to work before a unit; common practice, the maker's plate decides."""
