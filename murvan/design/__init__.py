"""What a designer decides, one module a stage; `solve` runs them in order."""

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.finding import Finding, Rule
from murvan.design.rules import RULES
from murvan.design.solve import Demand, Results, demand, solve

__all__ = ["RULES", "Arithmetic", "Demand", "Finding", "Line", "Quantity", "Results", "Rule", "demand", "solve"]
