"""What a designer decides, one module a stage; `solve` runs them in order."""

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.finding import Finding, Rule
from murvan.design.rules import RULES
from murvan.design.solve import Results, solve

__all__ = ["RULES", "Arithmetic", "Finding", "Line", "Quantity", "Results", "Rule", "solve"]
