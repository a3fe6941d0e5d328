"""The command line."""

from murvan.cli.main import main

__all__ = ["main"]
