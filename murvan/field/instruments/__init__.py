"""Instruments over an open line protocol, and simulated ones that speak it."""

from murvan.field.instruments.client import Instrument, InstrumentError
from murvan.field.instruments.server import Faulty, served

__all__ = ["Faulty", "Instrument", "InstrumentError", "served"]
