"""`./run judge [N] [SEED]`: every proposal and every automatic layout of the drawn houses and of N random ones, and what
fails."""

from __future__ import annotations

import sys
import time
from collections import Counter

from murvan.design import solve
from murvan.design.lay import whole_layouts
from murvan.design.propose import proposals, taken_up
from murvan.model.errors import JobError
from tests.judge.houses import DRAWN, at_random
from tests.judge.offers import OFFER_RULES, offer_judged
from tests.judge.rules import RULES, judged


def main(random_houses: int = 0, seed: int = 1, words: bool = False) -> int:
    """Prints a line a house and a line a rule; returns how many designs fail."""
    by_rule: Counter[str] = Counter()
    designs = failing = offers = 0
    jobs = [(n, f) for n, f in DRAWN.items()] + [
        (f"random {seed + k}", lambda k=k: at_random(seed + k)) for k in range(random_houses)
    ]
    for name, make in jobs:
        start = time.perf_counter()
        job = make()
        for p in proposals(job):
            bad = offer_judged(solve(taken_up(job, p)))
            offers, failing = offers + 1, failing + bool(bad)
            by_rule.update(bad.keys())
            if bad:
                print(f"{name:14} {p.kind:24} {', '.join(f'{k} {len(v)}' for k, v in bad.items())}")
            if words:
                print("".join(f"    {s}\n" for said in bad.values() for s in said[:4]), end="")
        try:
            found = whole_layouts(job)
        except JobError as refused:
            print(f"{name:14} refused: {refused}")
            continue
        for x in found:
            bad = judged(x.results)
            designs, failing = designs + 1, failing + bool(bad)
            by_rule.update(bad.keys())
            what = ", ".join(f"{k} {len(v)}" for k, v in bad.items()) or "clean"
            print(f"{name:14} {x.name[:24]:24} {what}")
            if words:
                for said in bad.values():
                    print("".join(f"    {s}\n" for s in said[:4]), end="")
        print(f"{'':14} {time.perf_counter() - start:.1f} s")
    print(f"\n{offers} proposals, {designs} laid designs; {failing} of them fail")
    for rule in (*OFFER_RULES, *RULES):
        print(f"  {rule:16} {by_rule[rule]}")
    return failing


if __name__ == "__main__":
    numbers = [int(x) for x in sys.argv[1:] if x.isdigit()]
    main(*numbers[:2], words="words" in sys.argv)
