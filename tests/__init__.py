"""Murvan's tests. `./run test` runs them all; `./run test tests.design` runs one package."""
