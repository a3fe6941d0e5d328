"""What every room needs: gains, outdoor air, the heat balance of the design days, load factors as second opinion.

What the next stages call: `gains.gains`, `factors.factors`, `balance.balance` and last `peaks.loads`, the `peaks.Loads`
that equipment and ducts are designed for. The `explain_*` modules give the arithmetic of each.
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
