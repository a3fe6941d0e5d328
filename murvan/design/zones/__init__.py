"""Zones: what happens as they call, and how a house is parted."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
