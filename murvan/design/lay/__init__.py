"""Laying out the air side of a ducted unit: registers, grilles and ducts, by one key or by hand."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
