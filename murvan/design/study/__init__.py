"""What follows from results: dampers, air off a unit, noise at bedrooms, the house in another state."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
