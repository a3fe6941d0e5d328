"""What a designer decides, one module a stage; `solve` runs them in order."""

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.rules import RULES, Finding, Rule
from murvan.design.solve import Results, solve

__all__ = ["RULES", "Arithmetic", "Finding", "Line", "Quantity", "Results", "Rule", "solve"]
