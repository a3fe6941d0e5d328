"""What a designer decides, a package a stage; `solve` runs them in order.

    house     what the plan encloses and is made of
    weather   the place, its air and sun
    loads     what every room needs
    system    the unit, its ducts, the air circuit, what has to be built
    punch     what is to settle

Beside them: `arithmetic`, in which every figure explains itself, and `alternatives`, the house as it could be.
"""

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.finding import Finding, Rule
from murvan.design.punch.rules import RULES
from murvan.design.results import Results, SystemResults
from murvan.design.solve import solve

__all__ = ["RULES", "Arithmetic", "Finding", "Line", "Quantity", "Results", "Rule", "SystemResults", "solve"]
