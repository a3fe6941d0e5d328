"""Murvan's tests. `./run test` runs them all; `./run test tests.design` runs one package."""

import murvan  # first: it settles how NumPy counts, before any test brings NumPy

__all__ = ["murvan"]
