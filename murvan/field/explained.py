"""How well a suspect explains the readings, step by step."""

from __future__ import annotations

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.field.fit import Fitted, Suspected


def explain(f: Fitted, s: Suspected) -> Arithmetic:
    """What readings are off as designed and with a fault, in what they scatter."""
    q, n = Quantity, len(f.residuals)
    before, after = q("number", f.plain, 2), q("number", s.chi2, 2)
    amount = s.spot.amount_words(s.amount)
    return Arithmetic(
        s.spot.title,
        (
            Line(f"(off ÷ scatter)², {n} readings, as designed", "", (), before),
            Line(f"same with it, {amount}" if amount else "same with it", "", (), after),
            Line("Explained", "1 − {0} ÷ {1}", (after, before), q("percent", s.explains, 0), True),
        ),
        (
            "Scatter: instruments, and what no two houses have alike: drag, leaks, filter, blower",
            "Share: fit, averaged over its usual amounts, × how often such a fault is met, common practice",
        ),
    )
